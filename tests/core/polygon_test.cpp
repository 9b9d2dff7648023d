// Regular polygons: the largest against closed forms, every recipe by its own vertices, the quick pentagon against its
// known figures; recipes typed by hand; sheets trimmed and cut into strips.
#include "alignments.h"
#include "runner.h"
#include "support.h"

#include "programme/text.h"
#include "reference/polygon.h"
#include "reference/proportion.h"
#include "reference/recipe.h"
#include "reference/shape.h"

#include <complex>
#include <numbers>
#include <random>

using namespace uc;
using uc::testing::misfit;
using uc::testing::near;

namespace {

constexpr double pi = std::numbers::pi;

Polygon square(double side) { return Sheet::square(Millimetres{side}).outline(); }

const SheetIndex& index() {
  static const SheetIndex built = [] {
    IndexLimits limits;
    limits.third = 2000;
    limits.all = 150000;
    return std::move(SheetIndex::build(square(240), limits)).value();
  }();
  return built;
}

void replay(const Construction& c) {
  const double size = bounding_box(c.sheet()).size().norm();
  for (int i = 2 * c.corners(); i < c.size(); ++i) {
    const ConstructionItem& item = c[i];
    if (item.landing) { // two points of the line that moved, folded over, lie on it
      const Line& moved = c[item.lines[0]].line;
      const Isometry fold = Isometry::reflection_in(c[item.lines[1]].line);
      const Point foot = moved.distance(Point::Zero()) * -moved.normal;
      const Point along{-moved.normal.y(), moved.normal.x()};
      for (const double t : {-size, size})
        QVERIFY2(std::abs(item.line.distance(fold * Point(foot + t * along))) < 1e-8 * size, item.id.c_str());
    } else if (item.kind == ConstructionItem::Kind::crease) {
      QVERIFY2(misfit(item.op, c.inputs_of(item), item.line) < 1e-8 * size, item.id.c_str());
      QVERIFY2(contact(item.op, c.inputs_of(item), item.line, c.sheet(), 1e-9 * size).has_value(), item.id.c_str());
    }
    if (item.kind == ConstructionItem::Kind::crossing) {
      for (const int l : item.lines) QVERIFY(std::abs(c[l].line.distance(item.point)) < 1e-8 * size);
    }
  }
}

} // namespace

class PolygonTest : public QObject {
  Q_OBJECT

private slots:
  void the_largest_in_a_square_data() { testing::add_rows(testing::cases("largest_polygons.json")); }
  void the_largest_in_a_square() {
    const Json c = testing::row();
    const int sides = c["sides"];
    const LargestPolygon found = largest_polygon(square(1000), sides);
    QVERIFY(near(found.side_mm / 1000, c["side"], 5e-7, "side"));
    QVERIFY(near(found.turn_deg, c["turn"], 5e-5, "turn"));
    for (int k = 0; k < sides; ++k) {
      const Point& p = found.vertices[static_cast<std::size_t>(k)];
      QVERIFY(near((found.vertices[static_cast<std::size_t>((k + 1) % sides)] - p).norm(), found.side_mm, 1e-6));
      QVERIFY(p.minCoeff() > -1e-6 && p.maxCoeff() < 1000 + 1e-6);
    }
  }

  void the_largest_in_other_sheets() {
    // A hexagon in itself; a triangle standing in a long strip; a square in a triangle of side 1: 2·sqrt 3 - 3.
    QVERIFY(near(largest_polygon(Sheet::regular(6, Millimetres{80}).outline(), 6).side_mm, 80, 1e-6));
    QVERIFY(near(largest_polygon(parse_sheet("strip:300x40mm")->outline(), 3).side_mm, 80 / std::sqrt(3.0), 1e-6));
    QVERIFY(near(largest_polygon(Sheet::regular(3, Millimetres{100}).outline(), 4).side_mm,
                 100 * (2 * std::sqrt(3.0) - 3), 1e-6));
    // Nothing larger fits: random turns of it, a hair larger, stick out wherever they are put.
    const double r = largest_polygon(square(1), 7).side_mm / 2 / std::sin(pi / 7) * 1.0001;
    std::mt19937_64 random(1);
    std::uniform_real_distribution<double> turn(0, 2 * pi);
    for (int i = 0; i < 500; ++i) {
      std::vector<Point> ring;
      const double a = turn(random);
      for (int k = 0; k < 7; ++k) ring.push_back(r * Point{std::cos(a + 2 * pi * k / 7), std::sin(a + 2 * pi * k / 7)});
      QVERIFY(bounding_box(ring).size().maxCoeff() > 1);
    }
  }

  void every_recipe_gives_what_it_says_data() {
    QTest::addColumn<QString>("sheet");
    QTest::addColumn<int>("sides");
    for (const char* sheet : {"square:240mm", "a4", "100x180mm", "strip:280x40mm"}) {
      for (const int n : {3, 4, 5, 6, 7, 8, 9, 10, 12, 15, 16})
        QTest::newRow(qPrintable(QString("%1 %2").arg(sheet).arg(n))) << QString(sheet) << n;
    }
  }
  void every_recipe_gives_what_it_says() {
    QFETCH(QString, sheet);
    QFETCH(int, sides);
    const Polygon outline = parse_sheet(sheet.toStdString())->outline();
    const auto methods = polygon_methods(outline, sides, 0.25, sheet == "square:240mm" ? &index() : nullptr);
    const LargestPolygon largest = largest_polygon(outline, sides);
    if (!methods) { // only where errors are as large as the sides: a quarter of 8 mm
      QVERIFY2(largest.side_mm < 10 && methods.error().find("printed template") != std::string::npos,
               methods.error().c_str());
      return;
    }
    bool exact = false;
    for (const PolygonMethod& m : *methods) {
      replay(m.construction);
      const Polygon p = m.outline();
      QCOMPARE(p.size(), static_cast<std::size_t>(sides));
      QVERIFY(signed_area(p) > 0);
      double least = 1e9;
      double most = 0;
      double off = 0;
      for (std::size_t i = 0; i < p.size(); ++i) {
        const Point a = p[(i + 1) % p.size()] - p[i];
        const Point b = p[(i + p.size() - 1) % p.size()] - p[i];
        least = std::min(least, a.norm());
        most = std::max(most, a.norm());
        off = std::max(off, std::abs(std::acos(std::clamp(a.dot(b) / a.norm() / b.norm(), -1.0, 1.0)) * 180 / pi -
                                     180.0 * (sides - 2) / sides));
        const ConstructionItem& v = m.construction[m.vertices[i]];
        QVERIFY(v.kind == ConstructionItem::Kind::corner || v.kind == ConstructionItem::Kind::crossing);
      }
      QVERIFY(near(m.side_min_mm, least, 1e-9) && near(m.side_max_mm, most, 1e-9));
      QVERIFY(near(m.angle_error_deg, off, 1e-5));
      QVERIFY(m.angle_error_deg < 2);
      QVERIFY2(m.side_min_mm <= largest.side_mm * (1 + 1e-9), "no recipe beats the largest");
      QVERIFY(m.leftover >= 0 && m.leftover < 1);
      if (sides != 4 || m.creases > 0) QVERIFY(m.sigma_mm > 0);
      exact = exact || m.exact;
      QVERIFY(!m.exact || near(least, most, 1e-7));
      const Programme moves = programme_of(m, HandProfile{});
      QCOMPARE(moves.count<Cut>(), 1);
      QVERIFY(moves.moves.back().caution == Caution::blade);
      QCOMPARE(moves.count(CreaseWay::align) + moves.count(CreaseWay::between) + moves.count(CreaseWay::through),
               m.creases);
    }
    QVERIFY(exact);
    const bool reached = std::any_of(methods->begin(), methods->end(), [](const auto& m) { return m.largest; });
    if (sheet == "square:240mm" && sides != 15 && sides != 16) QVERIFY2(reached, "the largest can be folded");
  }

  void the_largest_is_folded_from_any_rectangle() {
    IndexLimits limits;
    limits.third = 2000;
    limits.all = 150000;
    const Polygon sheet = parse_sheet("a4")->outline();
    const auto marks = SheetIndex::build(sheet, limits);
    QVERIFY(marks);
    for (const int sides : {3, 5, 6, 7, 9, 10, 11, 12}) {
      const auto methods = polygon_methods(sheet, sides, 0.25, &*marks);
      QVERIFY2(methods, methods ? "" : methods.error().c_str());
      const auto found = std::find_if(methods->begin(), methods->end(), [](const auto& m) { return m.largest; });
      QVERIFY2(found != methods->end(), qPrintable(QString("%1 sides").arg(sides)));
      replay(found->construction);
      QVERIFY(near(found->side_max_mm, largest_polygon(sheet, sides).side_mm, 0.02));
      QVERIFY2(found->angle_error_deg < 0.05, qPrintable(QString::number(found->angle_error_deg)));
    }
  }

  void quick_pentagon_has_its_known_figures() {
    const auto methods = *polygon_methods(square(1), 5, 0.001, nullptr);
    const auto quick = std::find_if(methods.begin(), methods.end(), [](const auto& m) { return !m.exact; });
    QVERIFY(quick != methods.end());
    const Point centre{7.0 / 12, 0.5};
    std::vector<double> at;
    for (const Point& p : quick->outline()) {
      QVERIFY(near((p - centre).norm(), 5.0 / 12, 1e-12, "equal distance from (7/12, 1/2)"));
      at.push_back(std::atan2(p.y() - centre.y(), p.x() - centre.x()) * 180 / pi);
    }
    std::sort(at.begin(), at.end());
    std::vector<double> central;
    for (std::size_t i = 0; i < at.size(); ++i)
      central.push_back(i + 1 < at.size() ? at[i + 1] - at[i] : at[0] + 360 - at[i]);
    std::sort(central.begin(), central.end());
    for (std::size_t i = 0; i < 4; ++i) QVERIFY(near(central[i], 2 * 35.7825, 1e-3));
    QVERIFY(near(central[4], 2 * std::atan(0.75) * 180 / pi, 1e-9));
    QVERIFY(near(quick->side_max_mm / quick->side_min_mm - 1, 0.026, 5e-4));
  }

  void polygons_that_cannot_be_had() {
    QVERIFY(!polygon_methods(square(240), 2, 0.25, nullptr));
    QVERIFY(!polygon_methods(square(240), 25, 0.25, nullptr));
    const auto none = polygon_methods(Sheet::regular(5, Millimetres{80}).outline(), 7, 0.25, nullptr);
    QVERIFY(!none);
    QVERIFY(none.error().find("take a square") != std::string::npos);
  }

  void own_recipes_are_read_and_judged() {
    const std::string text = "c1 = O3 left right\np1 = cross c1 top\nc2 = O2 br p1\np2 = cross c2 right\nresult p2\n";
    const auto recipe = parse_recipe(square(240), text);
    QVERIFY2(recipe, recipe ? "" : recipe.error().c_str());
    const auto target = *mark_on_edge(square(240), 1, 5.0 / 8);
    const auto route = judged(recipe->construction, recipe->results[0], target, {});
    QVERIFY(route && route->exact); // the corner-to-midpoint fold leaves 3/8 of the side above
    QCOMPARE(route->creases, 2);
    const auto again = parse_recipe(square(240), recipe_text(recipe->construction, recipe->results));
    QVERIFY(again);
    QVERIFY(near((again->construction[again->results[0]].point - Point{240, 150}).norm(), 0, 1e-9));
  }

  void recipes_in_words_and_in_codes_are_the_same() {
    const auto worded =
        parse_recipe(square(240), "c1 = crease left onto right\np1 = cross c1 top\n"
                                  "c2 = crease br onto p1\nt = where bottom lands on left, folding c2\n"
                                  "c3 = crease bl onto c1 through br\nc4 = crease through bl tr\n"
                                  "c5 = crease through p1 square to c4\nc6 = crease bl onto c1 square to c4\n"
                                  "c7 = crease bl onto c1, p1 onto left way 2\nresult t c3 c4 c5 c6 c7\n");
    QVERIFY2(worded, worded ? "" : worded.error().c_str());
    const auto coded = parse_recipe(square(240), "c1 = O3 left right\np1 = cross c1 top\nc2 = O2 br p1\n"
                                                 "l = landing bottom c2\nt = cross l left\nc3 = O5 bl br c1\n"
                                                 "c4 = O1 bl tr\nc5 = O4 p1 c4\nc6 = O7 bl c1 c4\n"
                                                 "c7 = O6/2 bl p1 c1 left\nresult t c3 c4 c5 c6 c7\n");
    QVERIFY2(coded, coded ? "" : coded.error().c_str());
    QCOMPARE(worded->results.size(), coded->results.size());
    for (std::size_t i = 0; i < worded->results.size(); ++i) {
      const ConstructionItem& a = worded->construction[worded->results[i]];
      const ConstructionItem& b = coded->construction[coded->results[i]];
      QCOMPARE(a.is_line(), b.is_line());
      if (a.is_line())
        QVERIFY(near((a.line.normal - b.line.normal).norm() + std::abs(a.line.c - b.line.c), 0, 1e-9));
      else
        QVERIFY(near((a.point - b.point).norm(), 0, 1e-9));
    }
    // The bottom edge, folded along with its right end, meets the left edge at a third of it.
    QVERIFY(near(worded->construction[worded->results[0]].point.y(), 80, 1e-9));
    // What is written is in words, and reads as the same.
    const std::string text = recipe_text(coded->construction, coded->results);
    QVERIFY2(text.find(" O") == std::string::npos && text.find(" square to ") != std::string::npos, text.c_str());
    QVERIFY(parse_recipe(square(240), text).ok());
  }

  void every_route_survives_as_typed_recipe() {
    for (const char* text : {"bottom:1/7", "left:0.713", "100,60", "line 0,0 240,101"}) {
      const auto routes = find_routes(index(), square(240), *parse_target(square(240), text), {});
      for (const Route& r : *routes) {
        const auto again = parse_recipe(square(240), recipe_text(r.construction, {r.result}));
        QVERIFY2(again, again ? "" : again.error().c_str());
        QVERIFY(near(error_of(again->construction, again->results[0], r.target), r.error_mm, 1e-7));
      }
    }
  }

  void bad_recipes_name_the_line_data() { testing::add_rows(testing::cases("bad_recipes.json")); }
  void bad_recipes_name_the_line() {
    const Json c = testing::row();
    const auto recipe = parse_recipe(square(240), c["text"].get<std::string>());
    QVERIFY(!recipe);
    QVERIFY2(recipe.error().rfind(c["says"].get<std::string>(), 0) == 0 ||
                 recipe.error().find(c["says"].get<std::string>()) != std::string::npos,
             recipe.error().c_str());
    QVERIFY(recipe.error().rfind("Line ", 0) == 0);
  }

  /// The figure by which polygons are judged, against an independent derivation (the regular n-gons are the Fourier
  /// coefficients 0 and 1 of the vertices, so all others are the distance) and against the hand's own runs.
  void the_shape_of_a_polygon_is_what_hands_fold() {
    const auto by_fourier = [](const Polygon& v) {
      const auto n = static_cast<double>(v.size());
      double rest = 0;
      for (std::size_t k = 2; k < v.size(); ++k) {
        std::complex<double> sum = 0;
        for (std::size_t i = 0; i < v.size(); ++i)
          sum += std::complex<double>(v[i].x(), v[i].y()) *
                 std::polar(1.0, -2 * std::numbers::pi * static_cast<double>(k * i) / n);
        rest += std::norm(sum / n);
      }
      return std::sqrt(rest);
    };
    std::mt19937_64 random(31);
    for (const int sides : {3, 5, 6, 7}) {
      const auto methods = polygon_methods(square(240), sides, 0.25, nullptr);
      QVERIFY(methods.ok());
      for (const PolygonMethod& m : *methods) {
        const Polygon kind = regular_polygon(sides);
        QVERIFY(near(shape_distance_mm(m.outline(), kind), by_fourier(m.outline()), 1e-9));
        double sum = 0;
        int runs = 0;
        for (int i = 0; i < 1500; ++i) {
          const auto items = sampled(m.construction, 0.25, random);
          if (!items) continue;
          Polygon folded;
          for (const int v : m.vertices) folded.push_back((*items)[static_cast<std::size_t>(v)].point);
          const double d = by_fourier(folded);
          sum += d * d;
          ++runs;
        }
        const double seen = std::sqrt(sum / runs);
        qInfo("%d sides, %s: %.3f mm told, %.3f folded", sides, m.name.c_str(), m.shape_mm, seen);
        QVERIFY2(runs > 1400 && near(m.shape_mm, seen, 0.06 * seen), m.name.c_str());
      }
    }
    // Vertices of a pentagon marked where an edge lands err by less than half as much as those of creases.
    const auto worst = [](bool lands) {
      const auto methods = *polygon_methods(square(240), 5, 0.25, nullptr);
      const auto m = std::find_if(methods.begin(), methods.end(),
                                  [&](const PolygonMethod& way) { return way.exact && way.lands() == lands; });
      return m == methods.end() ? 1e9 : m->sigma_mm;
    };
    QVERIFY(near(worst(false), 2.56, 0.005));
    QVERIFY(worst(true) < worst(false) / 2);
    // Moved, turned and scaled copies have no distance, whatever the figure.
    const Polygon kind = {{0, 0}, {3, 0}, {3, 1}, {1, 2}};
    Polygon copy;
    for (const Point& p : kind) copy.push_back(Isometry::rotation_about({5, 7}, 0.7) * Point(2.5 * p + Point{10, -4}));
    QVERIFY(near(shape_distance_mm(copy, kind), 0, 1e-9));
    copy[1] += Point{0.4, 0};
    QVERIFY(shape_distance_mm(copy, kind) > 0.05);
  }

  /// Over many wishes: what stands first is not beaten in all that counts, nothing misses by more than it says, nothing
  /// that nobody can fold is offered.
  void no_worse_way_comes_first() {
    int ways = 0;
    for (const char* code : {"square:150mm", "a4", "strip:200x60mm", "300x250mm", "b5"}) {
      const auto sheet = parse_sheet(code);
      if (!sheet || (testing::sanitized && ways > 0)) continue;
      const Polygon outline = sheet->outline();
      for (int sides = least_sides; sides <= most_sides; ++sides) {
        const auto methods = polygon_methods(outline, sides, 0.25, nullptr);
        if (!methods) continue;
        const PolygonMethod& first = methods->front();
        for (const PolygonMethod& m : *methods) {
          ++ways;
          QVERIFY(m.shape_mm <= m.side_min_mm / 4);
          QVERIFY2(m.shape_mm >= first.shape_mm - 1e-9, m.name.c_str());
          QVERIFY2(shape_distance_mm(m.outline(), regular_polygon(sides)) <= m.shape_mm + 1e-9, m.name.c_str());
        }
      }
      const auto index = SheetIndex::build(outline, {40, 400, 400, 40000});
      if (!index) continue;
      SearchOptions options;
      options.top = 8;
      for (int k = 0; k < 40; ++k) {
        const double ratio = 1.02 + 0.07 * k;
        const auto trims = trims_to(*index, outline, ratio, options);
        if (!trims) continue;
        const Trim& first = trims->front();
        for (const Trim& t : *trims) {
          ++ways;
          const bool beaten =
              t.total_mm() < first.total_mm() - 1e-9 && t.construction.creases() < first.construction.creases();
          QVERIFY2(!beaten, code);
          // Folded again, the cut lies as far off as it says.
          std::vector<int> corners;
          const Construction whole = with_corners(t, corners);
          const Polygon piece = t.piece();
          double off = 0;
          for (std::size_t i = 0; i < piece.size(); ++i) {
            const Point d = whole[corners[i]].point - piece[i];
            off = std::max(off, t.upright ? std::abs(d.x()) : std::abs(d.y()));
          }
          QVERIFY2(near(off, t.error_mm, 1e-9 + 0.01 * t.error_mm), code);
        }
      }
    }
    qInfo("%d ways", ways);
    QVERIFY(ways > (testing::sanitized ? 50 : 300));
  }

  void sheets_are_trimmed_to_a_ratio() {
    SearchOptions options;
    for (const char* text : {"sqrt2", "golden", "4/3", "2", "1.9"}) {
      const double ratio = *parse_ratio(text);
      const auto trims = trims_to(index(), square(240), ratio, options);
      QVERIFY2(trims, trims ? "" : trims.error().c_str());
      const Trim& t = trims->front();
      const Point size = bounding_box(t.piece()).size();
      QVERIFY(near(size.maxCoeff() / size.minCoeff(), ratio, 1e-9));
      QVERIFY(near(t.share, size.x() * size.y() / 240 / 240, 1e-9));
      replay(t.construction);
      const Line& cut = t.construction[t.cut].line;
      if (!t.two_marks) QVERIFY(near(std::abs(cut.normal.y()), 1, 1e-9, "square to the side"));
      QVERIFY(near(cut.distance({0, t.keep_mm}), 0, t.error_mm + 1e-9));
      QVERIFY(near(cut.distance({240, t.keep_mm}), 0, t.error_mm + 1e-9));
      QVERIFY(t.sigma_mm > 0 && t.sigma_mm < 2);
      QCOMPARE(programme_of(t, HandProfile{}).count<Cut>(), 1);
      std::vector<int> corners;
      const Construction whole = with_corners(t, corners);
      const Polygon piece = t.piece();
      QCOMPARE(corners.size(), piece.size());
      for (std::size_t i = 0; i < piece.size(); ++i)
        QVERIFY(near((whole[corners[i]].point - piece[i]).norm(), 0, t.error_mm * 1.01 + 1e-9));
    }
    for (int most = 1; most <= 6; ++most) {
      const auto few = trims_to(index(), square(240), 1.3, options, most);
      QVERIFY(most > 1 || !few);
      for (const Trim& t : few ? *few : std::vector<Trim>{}) QVERIFY(t.construction.creases() <= most);
    }
    QVERIFY(!trims_to(index(), square(240), 1, options)); // a square already
    // The obvious fold comes first where it is exact: half a square, edge to edge.
    const auto half = trims_to(index(), square(240), 2, options);
    QVERIFY(half && half->front().exact && half->front().construction.creases() <= 2);
    QVERIFY(!parse_ratio("0"));
    QVERIFY(!parse_ratio("60"));
    QVERIFY(near(*parse_ratio("3/4"), 4.0 / 3, 1e-12));
  }

  void strips_are_counted() {
    const auto ways = *strips_of(parse_sheet("210x297mm")->outline(), 40);
    QCOMPARE(ways.size(), std::size_t{2});
    QCOMPARE(ways[0].count, 5);
    QVERIFY(near(ways[0].length_mm, 297, 1e-9) && near(ways[0].offcut_mm, 10, 1e-9));
    QCOMPARE(ways[1].count, 7);
    QVERIFY(near(ways[1].length_mm, 210, 1e-9) && near(ways[1].offcut_mm, 17, 1e-9));
    QCOMPARE((*strips_of(square(240), 240.0 / 7))[0].count, 7);
    QVERIFY(!strips_of(square(240), 0.2));
    QVERIFY(!strips_of(square(240), 241));
  }
};

UC_TEST(PolygonTest)
#include "polygon_test.moc"
