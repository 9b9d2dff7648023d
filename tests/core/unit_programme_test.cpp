// Units as a programme: the flat map has no crossings, every joint is told once with whose tab goes where, times follow
// the learning curve, and all of it survives a file.
#include "runner.h"
#include "support.h"

#include "io/exports.h"
#include "io/json_codec.h"
#include "io/project_file.h"
#include "io/tables.h"
#include "programme/figure.h"
#include "programme/text.h"
#include "solid/expression.h"
#include "solid/named.h"
#include "unit/colour_ties.h"
#include "unit/flat_map.h"
#include "unit/learning.h"
#include "unit/unit_programme.h"

#include <Eigen/Geometry>
#include <QtTest>

#include <cmath>
#include <map>
#include <random>
#include <set>

using namespace uc;

namespace {

UnitPlan planned(const std::string& family, const std::string& solid, const std::string& sheet, int colours) {
  UnitWish wish;
  wish.family = family;
  wish.solid = solid;
  wish.sheet = std::move(unit_sheet(family, sheet)).value();
  wish.colours = colours;
  auto plan = unit_plan(wish);
  if (!plan) qFatal("%s", plan.error().c_str());
  return std::move(plan).value();
}

double side(const Point& a, const Point& b, const Point& c) {
  return (b.x() - a.x()) * (c.y() - a.y()) - (b.y() - a.y()) * (c.x() - a.x());
}

/// Linear light, as a dichromat would see it (Vienot, Brettel and Mollon 1999), then CIE Lab distance.
Eigen::Vector3d linear(const std::string& css) {
  Eigen::Vector3d out;
  for (int i = 0; i < 3; ++i) {
    const double v = std::stoi(css.substr(1 + 2 * static_cast<std::size_t>(i), 2), nullptr, 16) / 255.0;
    out[i] = v <= 0.04045 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4);
  }
  return out;
}
Eigen::Vector3d lab(const Eigen::Vector3d& rgb) {
  Eigen::Matrix3d m;
  m << 0.4124, 0.3576, 0.1805, 0.2126, 0.7152, 0.0722, 0.0193, 0.1192, 0.9505;
  Eigen::Vector3d xyz = m * rgb;
  xyz = xyz.cwiseQuotient(Eigen::Vector3d(0.9505, 1, 1.089));
  for (int i = 0; i < 3; ++i) xyz[i] = xyz[i] > 0.008856 ? std::cbrt(xyz[i]) : 7.787 * xyz[i] + 16.0 / 116;
  return {116 * xyz[1] - 16, 500 * (xyz[0] - xyz[1]), 200 * (xyz[1] - xyz[2])};
}
Eigen::Matrix3d seen_by(int kind) { // 0: all cones, 1: protan, 2: deutan
  Eigen::Matrix3d m = Eigen::Matrix3d::Identity();
  if (kind == 1) m << 0.11238, 0.88762, 0, 0.11238, 0.88762, 0, 0.00401, -0.00401, 1;
  if (kind == 2) m << 0.29275, 0.70725, 0, 0.29275, 0.70725, 0, -0.02234, 0.02234, 1;
  return m;
}

} // namespace

class UnitProgrammeTest : public QObject {
  Q_OBJECT
private slots:
  void the_flat_map_has_no_crossings() {
    for (const std::string& name : named_solids()) {
      const auto solid = parse_solid(name);
      QVERIFY2(bool(solid), name.c_str());
      const auto places = flat_vertices(*solid, solid->vertices[0] + 0.3 * solid->vertices[1]);
      const auto edges = solid->edges();
      for (std::size_t i = 0; i < edges.size(); ++i) {
        for (std::size_t k = 0; k < i; ++k) {
          const auto [a, b] = edges[i];
          const auto [c, d] = edges[k];
          if (a == c || a == d || b == c || b == d) continue;
          const auto at = [&](int v) { return places[static_cast<std::size_t>(v)]; };
          const bool crossing = side(at(a), at(b), at(c)) * side(at(a), at(b), at(d)) < 0 &&
                                side(at(c), at(d), at(a)) * side(at(c), at(d), at(b)) < 0;
          QVERIFY2(!crossing, name.c_str());
        }
      }
    }
  }

  void every_joint_is_made_once() {
    for (const auto& [family, solid, sheet] : {std::tuple{"parallelogram", "icosahedron", "75mm"},
                                               {"half-square-star", "cuboctahedron", "square:80mm"},
                                               {"zigzag-strip", "truncated-icosahedron", "60mm"},
                                               {"strip-and-clip", "cube", "strip:300x20mm"},
                                               {"rhombic", "rhombic-dodecahedron", "70mm"}}) {
      const UnitPlan plan = planned(family, solid, sheet, 3);
      const Programme programme = unit_programme(plan, {}, {});
      std::set<std::array<int, 2>> joints;
      std::map<int, std::array<int, 2>> tabs; // of each unit: tabs out, tabs in
      std::set<int> folded;
      std::set<int> joined;
      int rings = 0;
      for (const Move& move : programme.moves) {
        if (const auto* fold = std::get_if<FoldUnit>(&move.effect)) QVERIFY(folded.insert(fold->unit).second);
        const auto* join = std::get_if<Join>(&move.effect);
        if (!join) continue;
        QVERIFY(folded.contains(join->unit));
        for (const Join::Partner& p : join->to) {
          QVERIFY(joined.contains(p.unit));
          QVERIFY(joints.insert({std::min(p.unit, join->unit), std::max(p.unit, join->unit)}).second);
          if (p.tab == TabWay::any) continue;
          ++tabs[p.tab == TabWay::out ? join->unit : p.unit][0];
          ++tabs[p.tab == TabWay::out ? p.unit : join->unit][1];
        }
        QVERIFY(joined.insert(join->unit).second);
        rings += static_cast<int>(join->closes.size());
        QCOMPARE(join->rings_closed, rings);
      }
      QCOMPARE(joints.size(), plan.graph.joints.size());
      QCOMPARE(folded.size(), plan.graph.units.size());
      QCOMPARE(joined.size(), plan.graph.units.size());
      QCOMPARE(rings, static_cast<int>(plan.graph.rings.size()));
      // Edge units have a tab and a pocket for each of their two faces.
      // Tabs are told of pockets only; where the folded unit has none, each joint is glued.
      const bool pockets = plan.hold == Hold::pocket;
      QCOMPARE(pockets, std::string(family) == "parallelogram" || std::string(family) == "zigzag-strip");
      for (const Move& move : programme.moves)
        if (const auto* join = std::get_if<Join>(&move.effect)) {
          QCOMPARE(join->glued, plan.hold == Hold::glue);
          QCOMPARE(move.caution == Caution::glue, join->glued && !join->to.empty());
        }
      QCOMPARE(tabs.size(), pockets ? plan.graph.units.size() : std::size_t{0});
      for (const auto& [unit, count] : tabs) QVERIFY(count[0] == 2 && count[1] == 2);
    }
  }

  void cuts_leave_the_pieces() {
    // Half squares: one cut across the middle of each sheet. Strips: a cut after every piece but a last one that ends
    // with the strip.
    const Programme halves = unit_programme(planned("half-square-star", "octahedron", "square:80mm", 3), {}, {});
    QCOMPARE(halves.count<Cut>(), 6);
    const Cut& cut = std::get<Cut>(halves.moves[0].effect);
    QCOMPARE(cut.along.size(), std::size_t{1});
    QCOMPARE(cut.along[0].from, Point(0, 40));
    QCOMPARE(cut.along[0].to, Point(80, 40));
    QCOMPARE(halves.moves[0].caution, Caution::blade);
    const UnitPlan strips = planned("strip-and-clip", "cube", "strip:300x20mm", 1);
    int cuts = 0;
    for (const Move& move : unit_programme(strips, {}, {}).moves)
      if (const auto* c = std::get_if<Cut>(&move.effect)) cuts += static_cast<int>(c->along.size());
    QCOMPARE(cuts, strips.cutting.cuts);
  }

  void words_name_tabs_and_rings() {
    const UnitPlan plan = planned("parallelogram", "tetrahedron", "75mm", 3);
    const Programme programme = unit_programme(plan, {}, {});
    const ProgrammeTeller teller(programme);
    QCOMPARE(programme.moves.size(), std::size_t{12});
    QVERIFY(teller.text(0).starts_with("Fold unit 1 (amber) of 6."));
    QVERIFY(teller.text(6).starts_with("Lay unit 1 (amber) before you."));
    QVERIFY(teller.text(7).find("Its ") != std::string::npos);
    QCOMPARE(teller.short_text(7).substr(0, 5), std::string("join "));
    // The last unit closes the rings that are left: all eight of 4 faces and 4 corners.
    QVERIFY(teller.check(11).find("8 of 8 are closed now.") != std::string::npos);
    const Figure figure = move_figure(programme, 11);
    QCOMPARE(figure.patches.size(), std::size_t{6});
    int pale = 0;
    for (const FigurePatch& p : figure.patches) pale += p.colour.empty();
    QCOMPARE(pale, 0);
    QCOMPARE(static_cast<int>(move_figure(programme, 6).labels.size()), 1);
    QVERIFY(!may_reorder(programme, 7, 8));
  }

  void a_file_keeps_units() {
    Project p;
    p.title = "Moon lamp";
    p.sheet = std::move(parse_sheet("square:75mm")).value();
    p.sheet_name = "square:75mm";
    p.stock = generic_stocks().front();
    OwnFamily mine;
    mine.name = "my-own";
    mine.title = "Mine";
    p.units = {"cuboctahedron",
               "half-square-star",
               "square:90mm",
               0,
               4,
               {},
               true,
               "a4",
               5,
               true,
               3,
               1,
               {{"dusk", "#203040"}},
               {-1, 1},
               {mine}};
    p.folded = FoldedWork::units;
    const auto division = division_of(p);
    QVERIFY(bool(division));
    p.programme = planned_programme(p, *division);
    QCOMPARE(p.programme.count<FoldUnit>(), 24);
    const auto back = project_from_text(project_text(p), "p");
    QVERIFY2(bool(back), back ? "" : back.error().c_str());
    QVERIFY(back->units == p.units);
    QCOMPARE(json_of(back->programme).dump(), json_of(p.programme).dump());
    QCOMPARE(QString::fromStdString(move_text(back->programme, 40)),
             QString::fromStdString(move_text(p.programme, 40)));
  }

  void every_export_is_of_the_units() {
    Project p;
    p.sheet = std::move(parse_sheet("square:75mm")).value();
    p.stock = generic_stocks().front();
    p.units.solid = "octahedron";
    p.units.palette = {{"=dusk", "#203040"}};
    p.folded = FoldedWork::units;
    p.programme = planned_programme(p, std::move(division_of(p)).value());
    ExportOptions options;
    options.session_start = "2026-12-01T19:00:00";
    options.sessions = 3;
    const auto csv = export_bytes(p, "a.csv", options);
    QVERIFY(csv && csv->starts_with("unit,stands_for,colour"));
    QCOMPARE(QString::fromStdString(*csv).count("\r\n"), 13);
    QVERIFY(csv->find("'=dusk") != std::string::npos); // no formula
    options.fonts.folder = std::string(UC_SOURCE_DIR "/data/fonts");
    QCOMPARE(export_pages(p, options).size(), export_page_count(p, options));
    const auto svg = export_bytes(p, "a.svg", options);
    QVERIFY(svg && svg->find("#203040") != std::string::npos);
    const auto html = export_bytes(p, "a.html", options);
    QVERIFY(html && html->find("Its tab goes into") != std::string::npos);
    QVERIFY(html->find("Fold unit") == std::string::npos); // told once, for all
    const auto ics = export_bytes(p, "a.ics", options);
    QVERIFY(bool(ics));
    QCOMPARE(QString::fromStdString(*ics).count("BEGIN:VEVENT"), 3);
    const auto ends = shared_out(p.programme, 3);
    QCOMPARE(ends.back(), p.programme.moves.size());
    QVERIFY(ends[0] < ends[1] && ends[1] < ends[2]);
  }

  void bad_units_are_refused_data() {
    QTest::addColumn<QString>("key");
    QTest::addColumn<QString>("value");
    QTest::addColumn<QString>("wrong");
    QTest::newRow("colours") << "colours"
                             << "0"
                             << "units.colours: 0 cannot be used";
    QTest::newRow("variant") << "variant"
                             << "-3"
                             << "units.variant";
    QTest::newRow("palette") << "palette"
                             << R"([{"name":"x","css":"red"}])"
                             << "units.palette[0].css: must be a colour";
    QTest::newRow("solid") << "solid"
                           << "7"
                           << "units.solid";
    QTest::newRow("hand") << "by_hand"
                          << "[99]"
                          << "units.by_hand[0]";
  }
  void bad_units_are_refused() {
    QFETCH(QString, key);
    QFETCH(QString, value);
    QFETCH(QString, wrong);
    Json j = {{"format", "under-crease/project"}, {"version", 3}, {"sheet", {{"code", "square:75mm"}}}};
    j["units"][key.toStdString()] = testing::parsed(value.toStdString());
    const auto read = project_from_text(j.dump(), "p");
    QVERIFY(!read);
    QVERIFY2(QString::fromStdString(read.error()).contains(wrong), read.error().c_str());
  }

  void colours_put_by_hand_are_told_where_alike_meet() {
    UnitWish wish;
    wish.family = "parallelogram";
    wish.solid = "octahedron";
    wish.colours = 3;
    const auto before = unit_plan(wish);
    QVERIFY(before && before->alike.empty());
    const auto [a, b] = before->graph.joints[5];
    wish.by_hand.assign(before->graph.units.size(), -1);
    wish.by_hand[static_cast<std::size_t>(a)] = before->colours.colour[static_cast<std::size_t>(b)];
    const auto after = unit_plan(wish);
    QVERIFY(bool(after));
    bool found = false;
    for (const auto& joint : after->alike) {
      found = found || (joint[0] == a && joint[1] == b);
      QCOMPARE(after->colours.colour[static_cast<std::size_t>(joint[0])],
               after->colours.colour[static_cast<std::size_t>(joint[1])]);
    }
    QVERIFY(found);
    QVERIFY(after->warnings.back().find("one colour on both sides") != std::string::npos);
  }

  void rotations_are_those_of_the_group() {
    for (const auto& [name, count] : {std::pair{"tetrahedron", 12},
                                      {"cube", 24},
                                      {"icosahedron", 60},
                                      {"snub-cube", 24},
                                      {"prism:7", 14},
                                      {"rhombic-triacontahedron", 60},
                                      {"antiprism:5", 10}})
      QCOMPARE(static_cast<int>(rotations_of(std::move(parse_solid(name)).value()).size()), count);
  }

  void colours_keep_their_symmetry() {
    for (const auto& [solid, family, order, colours] : {std::tuple{"icosahedron", "half-square-star", 5, 5},
                                                        {"icosahedron", "parallelogram", 3, 3},
                                                        {"truncated-icosahedron", "zigzag-strip", 2, 3},
                                                        {"octahedron", "parallelogram", 0, 6}}) {
      UnitWish wish;
      wish.solid = solid;
      wish.family = family;
      wish.colours = colours;
      wish.symmetry = order;
      const auto plan = unit_plan(wish);
      QVERIFY2(bool(plan), plan ? "" : plan.error().c_str());
      for (const auto& [a, b] : plan->graph.joints)
        QVERIFY(plan->colours.colour[static_cast<std::size_t>(a)] != plan->colours.colour[static_cast<std::size_t>(b)]);
      // Some rotation of that order takes the units of one colour to those of one colour.
      bool kept = false;
      const auto corners = [&](const Unit& v) {
        const auto& faces = plan->solid.faces;
        return v.kind == Unit::Kind::edge ? std::multiset<int>(v.vertices.begin(), v.vertices.end())
                                          : std::multiset<int>(faces[static_cast<std::size_t>(v.index)].begin(),
                                                               faces[static_cast<std::size_t>(v.index)].end());
      };
      for (const VertexTurn& turn : rotations_of(plan->solid)) {
        if (order > 0 && order_of(turn) != order) continue;
        std::set<std::pair<int, int>> taken;
        for (std::size_t u = 0; u < plan->graph.units.size(); ++u) {
          std::multiset<int> image;
          for (const int c : corners(plan->graph.units[u])) image.insert(turn[static_cast<std::size_t>(c)]);
          for (std::size_t i = 0; i < plan->graph.units.size(); ++i)
            if (corners(plan->graph.units[i]) == image) taken.emplace(plan->colours.colour[u], plan->colours.colour[i]);
        }
        kept = kept || static_cast<int>(taken.size()) == colours;
        if (order == 0) QCOMPARE(static_cast<int>(taken.size()), colours); // all of them do
      }
      QVERIFY(kept);
    }
  }

  void bands_run_straight_on() {
    UnitWish wish;
    wish.solid = "icosidodecahedron";
    wish.family = "zigzag-strip";
    QVERIFY(!unit_plan(wish)); // four edges at a corner
    wish.family = "parallelogram";
    wish.solid = "cuboctahedron";
    wish.colours = 4;
    wish.bands = true;
    const auto plan = unit_plan(wish);
    QVERIFY2(bool(plan), plan ? "" : plan.error().c_str());
    // Four hexagons round the cuboctahedron, each of six edges in a plane through the middle, one colour each.
    std::map<int, std::vector<std::size_t>> bands;
    for (std::size_t u = 0; u < plan->graph.units.size(); ++u) bands[plan->colours.colour[u]].push_back(u);
    QCOMPARE(bands.size(), std::size_t{4});
    for (const auto& [colour, units] : bands) {
      QCOMPARE(units.size(), std::size_t{6});
      std::vector<Point3> on;
      for (const std::size_t u : units)
        for (const int v : plan->graph.units[u].vertices)
          on.push_back(plan->solid.vertices[static_cast<std::size_t>(v)]);
      Point3 normal = on[0].cross(on[1]).normalized();
      for (const Point3& p : on) QVERIFY(std::abs(normal.dot(p)) < 1e-9 * p.norm());
    }
    wish.solid = "icosahedron";
    const auto odd = unit_plan(wish);
    QVERIFY(!odd && odd.error().find("5 edges meet at a corner") != std::string::npos);
    wish.bands = false;
    wish.symmetry = 4;
    const auto none = unit_plan(wish);
    QVERIFY(!none && none.error().find("it has those of order 2, 3, 5") != std::string::npos);
    wish.symmetry = 0; // four colours of thirty edges cannot be taken to each other by all sixty
    const auto all = unit_plan(wish);
    QVERIFY(!all && all.error().find("4 colours are not enough") != std::string::npos);
  }

  void the_first_colours_stay_apart() {
    const auto& palette = usual_palette();
    double least = 1e9;
    for (int kind = 0; kind < 3; ++kind) {
      for (std::size_t i = 0; i < 8; ++i) {
        for (std::size_t k = 0; k < i; ++k) {
          const double d =
              (lab(seen_by(kind) * linear(palette[i].css)) - lab(seen_by(kind) * linear(palette[k].css))).norm();
          if (d < 25) qWarning("%s and %s: %.1f (%d)", palette[i].name.c_str(), palette[k].name.c_str(), d, kind);
          least = std::min(least, d);
        }
      }
    }
    QVERIFY2(least >= 25, qPrintable(QString("the nearest pair is %1 apart").arg(least)));
  }

  void the_learning_curve_is_found_again() {
    std::vector<double> exact;
    for (int n = 1; n <= 30; ++n) exact.push_back(300 * std::pow(n, -0.32));
    const auto fit = learned(exact);
    QVERIFY(fit.has_value());
    QVERIFY(std::abs(fit->rate - 0.32) < 1e-9 && std::abs(fit->first_seconds - 300) < 1e-6 && fit->spread < 1e-9);
    double sum = 0;
    for (int n = 11; n <= 30; ++n) sum += exact[static_cast<std::size_t>(n - 1)];
    QVERIFY(std::abs(fit->total(10, 20).seconds - sum) < 1e-6);
    // With a spread, the sum of many draws comes out as told.
    std::mt19937 random(7);
    std::normal_distribution<double> noise(0, 0.25);
    const Learning curve{300, 0.2, 0.25, 30};
    double mean = 0;
    double square = 0;
    constexpr int draws = 4000;
    for (int i = 0; i < draws; ++i) {
      double all = 0;
      for (int n = 1; n <= 30; ++n) all += curve.seconds(n) * std::exp(noise(random));
      mean += all / draws;
      square += all * all / draws;
    }
    const auto told = curve.total(0, 30);
    QVERIFY(std::abs(told.seconds / mean - 1) < 0.01);
    QVERIFY(std::abs(told.deviation / std::sqrt(square - mean * mean) - 1) < 0.05);
    QVERIFY(!learned({100, 90, 80}).has_value());
    QVERIFY(learned({10, 20, 30, 40, 50})->rate == 0);
  }
};

UC_TEST(UnitProgrammeTest)
#include "unit_programme_test.moc"
