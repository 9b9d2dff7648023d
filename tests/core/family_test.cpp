// Families of patterns: what is promised of every one is asked of every one in the list, at the ends of its ranges and
// at random values between.
#include "runner.h"
#include "support.h"

#include "form/proof.h"
#include "io/project_file.h"
#include "pattern/family.h"

#include <map>
#include <random>
#include <set>
#include <tuple>

using namespace uc;

namespace {

/// Values from the whole range of each parameter, whole where they must be.
ParameterValues random_values(const PatternFamily& family, std::mt19937& random) {
  ParameterValues values;
  for (const Parameter& p : family.parameters) {
    const bool whole = p.type == ParameterType::integer || p.type == ParameterType::choice;
    // Large counts cost seconds in the proof and show nothing new.
    const double most = p.type == ParameterType::integer ? std::min(p.most, 24.0) : p.most;
    const double v = std::uniform_real_distribution<double>(p.least, most)(random);
    values[p.name] = whole ? std::round(v) : v;
  }
  return values;
}

/// The layers of a pattern can be ordered; where that is not found within seconds, every vertex at least keeps the
/// rules.
void folds_flat(const HealedPattern& pattern, const QString& what, bool for_certain) {
  const auto proof = proved(pattern, {.seconds = for_certain ? 60.0 : 0.3});
  QVERIFY2(proof && proof->locally_flat(), qPrintable(what));
  QVERIFY2(proof->folds_flat() || (!for_certain && proof->status == LayerStatus::out_of_time), qPrintable(what));
}

/// The greatest alternating sum of angles at a vertex inside the paper, in degrees, summed here once more.
double worst_kawasaki(const CreasePattern& pattern) {
  const PatternGraph graph = graph_of(pattern);
  std::vector<std::vector<double>> angles(pattern.vertices.size());
  for (const PatternEdge& e : pattern.edges) {
    if (!folds(e.kind)) continue;
    const Point d =
        pattern.vertices[static_cast<std::size_t>(e.to)] - pattern.vertices[static_cast<std::size_t>(e.from)];
    angles[static_cast<std::size_t>(e.from)].push_back(std::atan2(d.y(), d.x()));
    angles[static_cast<std::size_t>(e.to)].push_back(std::atan2(-d.y(), -d.x()));
  }
  double worst = 0;
  for (std::size_t v = 0; v < angles.size(); ++v) {
    if (!graph.interior[v]) continue;
    std::sort(angles[v].begin(), angles[v].end());
    double sum = 0;
    for (std::size_t i = 0; i < angles[v].size(); ++i) sum += (i % 2 == 0 ? 2 : -2) * angles[v][i];
    // a1 - a2 + ... of the sectors is twice the alternating sum of the directions, but for a full turn.
    worst = std::max(worst, std::abs(std::remainder(sum, 2 * 3.14159265358979323846)) * 57.29577951308232);
  }
  return worst;
}

Polygon square_sheet(double side) { return Sheet::square(Millimetres{side}).outline(); }

} // namespace

class FamilyTest : public QObject {
  Q_OBJECT
private slots:
  void every_family_data() {
    QTest::addColumn<QString>("name");
    for (const PatternFamily& f : pattern_families()) QTest::newRow(f.name.c_str()) << QString::fromStdString(f.name);
  }
  void every_family() {
    QFETCH(QString, name);
    const PatternFamily* family = find_pattern_family(name.toStdString());
    QVERIFY(family && !family->title.empty() && !family->parameters.empty());
    std::mt19937 random(11);
    std::vector<ParameterValues> all = {normal_choice(*family).values};
    for (int i = 0; i < 3; ++i) all.push_back(random_values(*family, random));
    ParameterValues least;
    for (const Parameter& p : family->parameters) least[p.name] = p.least;
    all.push_back(least);
    int drawn_well = 0;
    for (const ParameterValues& values : all) {
      QString what;
      for (const auto& [n, v] : values) what += QString("%1=%2 ").arg(QString::fromStdString(n)).arg(v);
      const DrawnPattern drawn = drawn_pattern(family_design(family->name, values), square_sheet(240));
      if (!drawn.wrong.empty()) { // values in conflict: one sentence, and never at the normal ones
        QVERIFY2(drawn_well > 0 && drawn.wrong.size() == 1 && drawn.wrong[0].sentence.size() > 30, qPrintable(what));
        continue;
      }
      ++drawn_well;
      QVERIFY2(drawn.healed.crossings.empty(), qPrintable(what));
      const auto& edges = drawn.healed.pattern.edges;
      const auto is = [&](EdgeKind k) {
        return std::any_of(edges.begin(), edges.end(), [&](const PatternEdge& e) { return e.kind == k; });
      };
      QVERIFY2(!is(EdgeKind::undirected) && (is(EdgeKind::mountain) || is(EdgeKind::valley)), qPrintable(what));
      const PatternGraph graph = graph_of(drawn.healed.pattern);
      for (const LocalViolation& v : local_violations(drawn.healed.pattern, graph))
        QVERIFY2(v.rule != LocalRule::dangling && v.rule != LocalRule::crossing, qPrintable(what));
      if (!family->flat_foldable) continue;
      folds_flat(drawn.healed, what, drawn_well == 1);
      if (family->own_sheet) continue;
      // The sheet need not be a square: what is drawn goes on to its edges.
      for (const char* code : {"200x310mm", "310x200mm"}) {
        const DrawnPattern other = drawn_pattern(family_design(family->name, values), parse_sheet(code)->outline());
        const Point size = bounding_box(parse_sheet(code)->outline()).size();
        if (2 * size.x() / other.design.count > size.y()) continue; // not two cells high: rules say what finds no room
        QVERIFY2(other.wrong.empty(), qPrintable(what + code));
        folds_flat(other.healed, what + code, false);
      }
    }
    QVERIFY(drawn_well > 0);
  }

  /// Square twists are laid out from the middle of the sheet: a quarter turn about it changes nothing where a square
  /// stands there, and all directions where four stand about it.
  void square_twists_look_the_same_after_a_quarter_turn() {
    for (const int count : {13, 18, 20, 25, 32}) {
      const bool four = count % 2 == 1;
      const CreasePattern p =
          drawn_pattern(family_design("square-twists", {{"count", count}}), square_sheet(240)).healed.pattern;
      const auto key = [](const Point& at) { return std::pair(std::lround(at.x() * 1e4), std::lround(at.y() * 1e4)); };
      std::set<std::tuple<std::pair<long, long>, EdgeKind>> middles;
      for (std::size_t e = 0; e < p.edges.size(); ++e)
        middles.emplace(key(p.segment(CreaseId(e)).middle()), p.edges[e].kind);
      QVERIFY(middles.size() == p.edges.size());
      for (std::size_t e = 0; e < p.edges.size(); ++e) {
        const Point at = p.segment(CreaseId(e)).middle();
        EdgeKind kind = p.edges[e].kind;
        if (four && folds(kind)) kind = kind == EdgeKind::mountain ? EdgeKind::valley : EdgeKind::mountain;
        QVERIFY(middles.contains({key({240 - at.y(), at.x()}), kind}));
      }
    }
  }

  /// Rows of triangles that are folded: every level crease lies right across, so do the slants once the rows lie on
  /// each other, and all triangles come to lie on one, whichever way the slants go.
  void rows_of_triangles_come_to_lie_on_one() {
    for (const double slants : {0, 1}) {
      const DrawnPattern d =
          drawn_pattern(family_design("triangle-row", {{"count", 4}, {"slants", slants}}), square_sheet(240));
      const auto form = folded_form(d.healed.pattern, graph_of(d.healed.pattern));
      if (!form) QFAIL(form.error().c_str());
      const Point size = bounding_box(form->vertices).size();
      QVERIFY(std::abs(size.maxCoeff() - 60) < 1e-6 && std::abs(size.minCoeff() - 60 * std::sqrt(0.75)) < 1e-6);
      std::map<long, std::set<EdgeKind>> of_row; // level creases by their height, at stage 1
      int later = 0;
      for (std::size_t e = 0; e < d.goals.size(); ++e) {
        if (d.goals[e].empty()) continue;
        const Segment s = d.healed.pattern.segment(CreaseId(e));
        const bool level = std::abs(s.from.y() - s.to.y()) < 1e-6;
        QCOMPARE(d.goals[e][0].stage, level ? 1 : 2);
        later += !level;
        if (level) of_row[std::lround(s.from.y() * 100)].insert(d.healed.pattern.edges[e].kind);
      }
      QCOMPARE(later > 0, slants == 0);
      for (const auto& [height, kinds] : of_row) QCOMPARE(kinds.size(), std::size_t{1});
    }
  }

  /// Random values of each (UC_FAMILY_ROUNDS of them): every vertex keeps the rules, to far less than the proof asks
  /// for.
  void random_values_keep_the_local_rules_data() { every_family_data(); }
  void random_values_keep_the_local_rules() {
    QFETCH(QString, name);
    const PatternFamily* family = find_pattern_family(name.toStdString());
    std::mt19937 random(29);
    const int rounds =
        qEnvironmentVariableIntValue("UC_FAMILY_ROUNDS") > 0 ? qEnvironmentVariableIntValue("UC_FAMILY_ROUNDS") : 12;
    int drawn_well = 0;
    for (int i = 0; i < rounds; ++i) {
      const ParameterValues values = random_values(*family, random);
      QString what;
      for (const auto& [n, v] : values) what += QString("%1=%2 ").arg(QString::fromStdString(n)).arg(v, 0, 'g', 12);
      const DrawnPattern drawn = drawn_pattern(family_design(family->name, values), square_sheet(240));
      if (!drawn.wrong.empty()) continue;
      ++drawn_well;
      QVERIFY2(drawn.healed.crossings.empty(), qPrintable(what));
      for (const LocalViolation& v : local_violations(drawn.healed.pattern, graph_of(drawn.healed.pattern))) {
        QVERIFY2(v.rule != LocalRule::dangling, qPrintable(what));
        QVERIFY2(!family->flat_foldable, qPrintable(what + QString("at %1, %2").arg(v.at.x()).arg(v.at.y())));
      }
      if (family->flat_foldable) QVERIFY2(worst_kawasaki(drawn.healed.pattern) < 1e-7, qPrintable(what));
    }
    QVERIFY(rounds < 100 || drawn_well > 0);
  }

  /// Sizes that are told against their closed forms.
  void figures_agree_with_closed_forms() {
    const auto figures = [](const char* name, ParameterValues values, double side = 240) {
      const DrawnPattern d = drawn_pattern(family_design(name, std::move(values)), square_sheet(side));
      if (!d.wrong.empty()) qFatal("%s", d.wrong[0].sentence.c_str());
      return d.figures;
    };
    const auto more = [](const FamilyFigures& f, const std::string& field) {
      for (const auto& [n, v] : f.more)
        if (n == field) return v;
      return std::nan("");
    };
    const auto near = [](double a, double b) { return std::abs(a - b) < 1e-9 * std::max(1.0, std::abs(b)); };
    for (const double s : {150.0, 240.0}) {
      const auto quarters = *figures("blintz-tray", {{"division", 0}}, s).inside_mm;
      QVERIFY(near(quarters[0], s / (2 * std::sqrt(2.0))) && near(quarters[2], s / (4 * std::sqrt(2.0))));
      const auto thirds = *figures("blintz-tray", {{"division", 1}}, s).inside_mm;
      QVERIFY(near(thirds[0], s / (3 * std::sqrt(2.0))) && near(thirds[2], thirds[0]));
    }
    // Groups of sinks are drawn whole: every side of every triangle is there.
    const std::vector<std::pair<double, int>> groups{{0, 1}, {1, 2}, {2, 4}};
    for (const auto& [group, sinks] : groups) {
      for (const double apart : {2.0, 5.0, 9.0}) {
        const ParameterValues values{{"group", group}, {"apart", apart}};
        QCOMPARE(more(figures("triangle-sink", values), "sinks"), double(sinks));
        const DrawnPattern d =
            drawn_pattern(family_design("triangle-sink", values), Sheet::square(Millimetres{240}).outline());
        const double side = 10 * std::sqrt(3.0); // 24 triangles over 240 mm
        int sides = 0;
        for (std::size_t e = 0; e < d.healed.pattern.edges.size(); ++e)
          sides += std::abs(d.healed.pattern.segment(CreaseId(e)).length() - side) < 1e-6;
        QVERIFY2(sides >= 3 * sinks, qPrintable(QString("%1 %2 %3").arg(group).arg(apart).arg(sides)));
      }
    }
    const DrawnPattern too_far = drawn_pattern(family_design("triangle-sink", {{"group", 2}, {"apart", 12}}),
                                               Sheet::square(Millimetres{240}).outline());
    QVERIFY(!too_far.wrong.empty() && too_far.wrong[0].sentence.find("type up to 11") != std::string::npos);
    const auto strip = figures("accordion-strip", {{"part", 17}, {"height", 61}, {"parts", 9}, {"cone_parts", 7}});
    const double closing = 3.14159265358979323846 / std::atan2(17, 61);
    QVERIFY(near(more(strip, "closing_parts"), closing));
    QVERIFY(near(more(strip, "disc_radius_mm"), std::sqrt(17.0 * 17 + 61 * 61) / 2));
    QVERIFY(near(std::sin(strip.cone->half_angle_deg * 3.14159265358979323846 / 180), 7 / closing));
    QVERIFY(near(std::hypot(strip.cone->base_radius_mm, strip.cone->height_mm), more(strip, "disc_radius_mm")));
    const auto closed =
        figures("accordion-strip", {{"part", 17}, {"height", 17 / std::tan(0.3490658503988659)}, {"parts", 9}});
    QVERIFY(near(more(closed, "closing_parts"), 9));
    // The pleat of a twist is as wide as the gap between shrunk tiles, seen along it: k sin f, and the tiles' sides
    // with the pleats' creases span the old distance of the centres.
    const double a = 35 * 3.14159265358979323846 / 180;
    const double f = 15 * 3.14159265358979323846 / 180;
    const auto twist = figures("twist-tiling", {{"edges", 5}, {"turn", 35}, {"slant", 15}});
    const double k = more(twist, "shrunk_to");
    QVERIFY(near(std::tan(f), (std::cos(a) - k) / std::sin(a)));
    QVERIFY(near(twist.pleat_mm, k * 48 * std::sin(f)));
    const auto tray = figures("tray", {{"width", 90}, {"depth", 70}, {"height", 30}, {"hem", 10}});
    QVERIFY((*tray.inside_mm == std::array<double, 3>{90, 70, 30}));
    const DrawnPattern drawn = drawn_pattern(
        family_design("tray", {{"width", 90}, {"depth", 70}, {"height", 30}, {"hem", 10}}), square_sheet(240));
    QVERIFY((bounding_box(drawn.healed.pattern.vertices).size() - Point(170, 150)).norm() < 1e-9);
    // Every net of a Platonic solid has all its faces, each edge folded once or tabbed once.
    const auto net = figures("net", {{"solid", 4}, {"tab", 0.1}});
    QVERIFY(near(more(net, "tabs") + more(net, "edges_without_tab"), 30 - 19));
    QVERIFY(near(more(net, "diameter_mm") / more(net, "edge_mm"), 2 * std::sin(2 * 3.14159265358979323846 / 5)));
  }

  /// A wrap folds flat everywhere but at its hub, and each of its creases is where the mirror image of its neighbours
  /// needs it: gores agree in height along the major creases.
  void wraps_close_everywhere_but_at_the_hub() {
    for (int sides = 3; sides <= 12; ++sides) {
      const DrawnPattern d = drawn_pattern(
          family_design("wrap", {{"sides", sides}, {"hub", 0.3}, {"rings", 3}, {"thickness", 0.1}}), square_sheet(240));
      QVERIFY(d.wrong.empty());
      int at_hub = 0;
      for (const LocalViolation& v : local_violations(d.healed.pattern, graph_of(d.healed.pattern))) {
        QVERIFY(v.vertex && v.rule != LocalRule::even_degree && v.rule != LocalRule::dangling);
        if (v.rule != LocalRule::kawasaki) continue;
        QVERIFY(std::abs(v.defect_deg - 360.0 / sides) < 1e-6);
        ++at_hub;
      }
      QCOMPARE(at_hub, sides);
    }
  }

  /// The same family on a sheet twice as large is the same drawing, twice as large.
  void every_family_grows_with_its_sheet() {
    for (const PatternFamily& f : pattern_families()) {
      if (f.own_sheet) continue;
      const auto small = drawn_pattern(family_design(f.name), square_sheet(120)).healed.pattern;
      const auto large = drawn_pattern(family_design(f.name), square_sheet(240)).healed.pattern;
      QCOMPARE(small.vertices.size(), large.vertices.size());
      QCOMPARE(small.edges.size(), large.edges.size());
      for (std::size_t v = 0; v < small.vertices.size(); ++v)
        QVERIFY((2 * small.vertices[v] - large.vertices[v]).norm() < 1e-9);
      for (std::size_t e = 0; e < small.edges.size(); ++e) QVERIFY(small.edges[e].kind == large.edges[e].kind);
    }
  }

  void every_parameter_reads_what_it_writes_and_refuses_the_rest() {
    std::mt19937 random(5);
    for (const PatternFamily& f : pattern_families()) {
      std::set<std::string> names;
      for (const Parameter& p : f.parameters) {
        QVERIFY2(names.insert(p.name).second, p.name.c_str());
        QVERIFY(!p.title.empty() && p.why.ends_with('.'));
        QVERIFY(p.least <= p.normal && p.normal <= p.most);
        for (int i = 0; i < 50; ++i) {
          const double v = random_values(f, random).at(p.name);
          const auto back = parse_parameter(p, parameter_text(p, v));
          QVERIFY(back && std::abs(*back - v) < 1e-5);
        }
        for (const double off : {p.least - 1, p.most + 1, std::nan("")}) {
          QVERIFY(!check_parameter(p, off));
          QVERIFY(!completed({f.name, {{p.name, off}}}));
          const DrawnPattern drawn = drawn_pattern(family_design(f.name, {{p.name, off}}), square_sheet(240));
          QVERIFY(drawn.wrong.size() == 1 && drawn.wrong[0].rule == 0);
          QVERIFY(QString::fromStdString(drawn.wrong[0].sentence).contains(QString::fromStdString(p.name)));
        }
        QVERIFY(!parse_parameter(p, "") && !parse_parameter(p, "many") && !parse_parameter(p, "1e400"));
      }
    }
    const Parameter length{"height", "Height", ParameterType::mm, 5, 500, 20, "How high it stands.", {}};
    QCOMPARE(parse_parameter(length, "2.5cm").value(), 25.0);
    QVERIFY(!parse_parameter(length, "4"));
    const Parameter choice{"centre", "Centre", ParameterType::choice, 0, 1, 0, "What lies inside.", {"open", "closed"}};
    QCOMPARE(parse_parameter(choice, "closed").value(), 1.0);
    QCOMPARE(parameter_text(choice, 1), std::string("closed"));
    const auto refused = parse_parameter(choice, "ajar");
    QVERIFY(!refused && refused.error() == "centre: \"ajar\" cannot be used; type open or closed");
  }

  void a_family_becomes_rules_without_a_crease_changing() {
    for (const PatternFamily& f : pattern_families()) {
      const DrawnPattern live = drawn_pattern(family_design(f.name), square_sheet(240));
      QVERIFY(!live.design.family && (live.design.base || !live.design.rules.empty()));
      const DrawnPattern rules = drawn_pattern(live.design, square_sheet(240));
      const PatternChange change = change_between(live, rules);
      QVERIFY(change.added == 0 && change.gone == 0 && change.turned == 0);
    }
  }

  void projects_keep_their_family() {
    Project project;
    project.stock = generic_stocks().front();
    project.sheet_name = "square:240mm";
    project.pattern = family_design("square-twists", {{"count", 24}});
    const std::string text = project_text(project);
    const auto back = project_from_text(text, "test");
    QVERIFY(back && back->pattern == project.pattern);
    for (const auto& [from, to, says] : {std::tuple{"square-twists", "round-twists", "pattern.family.name"},
                                         std::tuple{"24.0", "2400", "pattern.family.parameters.count"},
                                         std::tuple{"24.0", "\"some\"", "pattern.family.parameters.count"}}) {
      std::string broken = text;
      const auto at = broken.find(from, broken.find("\"family\""));
      broken.replace(at, std::string(from).size(), to);
      const auto read = project_from_text(broken, "test");
      QVERIFY2(!read && QString::fromStdString(read.error()).contains(says), read ? "read" : read.error().c_str());
    }
  }
};

UC_TEST(FamilyTest)
#include "family_test.moc"
