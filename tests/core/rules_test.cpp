// Rules: read and written back, drawn on grids, redrawn when the grid changes, and wrong ones explained.
#include "form/proof.h"
#include "pattern/design.h"
#include "patterns.h"
#include "runner.h"
#include "support.h"

#include <QtTest>

#include <numbers>
#include <set>

using namespace uc;

namespace {

const Polygon outline{Point{0, 0}, Point{160, 0}, Point{160, 160}, Point{0, 160}};

PatternDesign design(std::vector<std::string> rules, int count = 16, PatternGrid grid = PatternGrid::square) {
  PatternDesign d;
  d.grid = grid;
  d.count = count;
  d.rules = std::move(rules);
  return d;
}

double length_of(const CreasePattern& p, EdgeKind kind) {
  double sum = 0;
  for (std::size_t e = 0; e < p.edges.size(); ++e) {
    if (p.edges[e].kind == kind) sum += p.segment(CreaseId(e)).length();
  }
  return sum;
}

} // namespace

class RulesTest : public QObject {
  Q_OBJECT

private slots:
  void texts_data() { testing::add_rows(testing::cases("rules.json")); }
  void texts() {
    const Json j = testing::row();
    const auto rule = parse_rule(j["text"].get<std::string>());
    if (j.contains("says")) {
      QVERIFY(!rule);
      QVERIFY2(QString::fromStdString(rule.error()).contains(QString::fromStdString(j["says"].get<std::string>())),
               rule.error().c_str());
      return;
    }
    QVERIFY2(rule.ok(), rule.ok() ? "" : rule.error().c_str());
    const std::string again = rule_text(*rule);
    QCOMPARE(again, j.value("again", j["text"].get<std::string>()));
    QCOMPARE(rule_text(*parse_rule(again)), again);
  }

  void lines_are_cut_off_at_the_sheet() {
    const auto d = drawn_pattern(
        design({"line 0,4 along 1,0 mountain", "crease -4,8 30,8 valley", "run 8,0 step 0,1 repeat 99"}), outline);
    QVERIFY(d.wrong.empty());
    QVERIFY(testing::near(length_of(d.healed.pattern, EdgeKind::mountain), 160, 1e-9));
    QVERIFY(testing::near(length_of(d.healed.pattern, EdgeKind::valley), 160, 1e-9));
    QVERIFY(testing::near(length_of(d.healed.pattern, EdgeKind::undirected), 160, 1e-9));
    for (std::size_t e = 0; e < d.rule_of.size(); ++e) {
      if (d.healed.pattern.edges[e].kind == EdgeKind::mountain) QCOMPARE(d.rule_of[e], 1);
      if (d.healed.pattern.edges[e].kind == EdgeKind::raw) QCOMPARE(d.rule_of[e], 0);
    }
  }

  void a_chevron_by_rule_folds_on_any_grid() {
    for (const int count : {8, 12, 16}) {
      // Straight creases change sides at every row; zigzags keep theirs.
      const std::string n = std::to_string(count);
      const auto d = drawn_pattern(
          design({"run 0,0 step 1,0.5 step 1,-0.5 repeat " + n + " mountain", "copy 0,1 times " + n + " alternating",
                  "run 1,-0.5 step 0,1 repeat 40 valley alternating", "copy 1,-0.5 times 1 alternating of 3",
                  "copy 2,0 times 20 of 3-4"},
                 count),
          outline);
      QVERIFY(d.wrong.empty());
      const auto proof = proved(d.healed);
      QVERIFY(proof);
      for (const auto& v : proof->violations) qWarning("%s at %g, %g", name_of(v.rule).c_str(), v.at.x(), v.at.y());
      QVERIFY(proof->locally_flat());
      QVERIFY(proof->folds_flat());
    }
  }

  void copies_turn_and_mirror() {
    const auto d =
        drawn_pattern(design({"crease 8,8 12,9 mountain", "turn 8,8 into 4", "mirror 8,0 8,16 of 1-2"}), outline);
    QVERIFY(d.wrong.empty());
    QVERIFY(testing::near(length_of(d.healed.pattern, EdgeKind::mountain), 8 * 10 * std::sqrt(17.0), 1e-9));
    const PatternGraph g = graph_of(d.healed.pattern);
    QCOMPARE(g.faces.size(), std::size_t{1}); // spokes enclose nothing
    const auto alternating =
        drawn_pattern(design({"crease 8,8 12,9 mountain", "turn 8,8 into 4 alternating"}), outline);
    QVERIFY(testing::near(length_of(alternating.healed.pattern, EdgeKind::valley), 2 * 10 * std::sqrt(17.0), 1e-9));
  }

  void tiles_cover_the_sheet() {
    // By tile and by two copies from a corner: the same creases.
    const std::string molecule = "run 0,1 step 1,1 step 1,-1 repeat 4 valley";
    for (const PatternGrid grid : {PatternGrid::square, PatternGrid::equilateral}) {
      const auto tiled = drawn_pattern(design({molecule, "tile 4,0 0,4"}, 16, grid), outline);
      const auto copied = drawn_pattern(
          design({molecule, "copy -4,0 times 8", "copy 4,0 times 8", "copy 0,4 times 6", "copy 0,-4 times 2"}, 16,
                 grid),
          outline);
      QVERIFY(tiled.wrong.empty());
      QVERIFY(length_of(tiled.healed.pattern, EdgeKind::valley) > 500);
      QVERIFY(std::abs(length_of(tiled.healed.pattern, EdgeKind::valley) -
                       length_of(copied.healed.pattern, EdgeKind::valley)) < 1e-6);
    }
    // Every second copy is turned over, in both directions.
    const auto squares = drawn_pattern(design({"crease 1,1 3,3 mountain", "tile 4,0 0,4 alternating"}), outline);
    QVERIFY(std::abs(length_of(squares.healed.pattern, EdgeKind::mountain) -
                     length_of(squares.healed.pattern, EdgeKind::valley)) < 1e-6);
    const auto tiny = drawn_pattern(design({"crease 1,1 3,3 mountain", "tile 0.001,0 0,0.001"}), outline);
    QCOMPARE(tiny.wrong.size(), std::size_t{1});
    QVERIFY(tiny.wrong[0].sentence.find("too short") != std::string::npos);
  }

  void edges_keep_their_ids_when_other_rules_change() {
    const std::vector<std::string> rules{"line 0,4 along 1,0 mountain", "line 4,0 along 0,1 valley",
                                         "line 0,8 along 1,0 mountain"};
    const auto before = drawn_pattern(design(rules), outline);
    QCOMPARE(std::set<EdgeId>(before.ids.begin(), before.ids.end()).size(), before.healed.pattern.edges.size());
    const auto same = [&](const std::vector<std::string>& changed) {
      return change_between(before, drawn_pattern(design(changed), outline));
    };
    // Rules may change places, and the grid its count: nothing came, went or turned.
    const auto moved = same({rules[2], rules[1], rules[0]});
    QCOMPARE(moved.added + moved.gone + moved.turned, 0);
    const auto finer = change_between(before, drawn_pattern(design(rules, 32), outline));
    QCOMPARE(finer.added + finer.gone + finer.turned, 0);
    const auto directed = same({rules[0], rules[1], rules[2], "direct 2,4 valley"});
    QCOMPARE(directed.turned, 1);
    QCOMPARE(directed.added + directed.gone, 0);
    const auto less = same({rules[0], rules[2]});
    QVERIFY(less.gone >= 3); // its three pieces, and what it cut the others into
    QCOMPARE(less.turned, 0);
    const auto twice = drawn_pattern(design({rules[0], rules[0]}), outline);
    QCOMPARE(std::set<EdgeId>(twice.ids.begin(), twice.ids.end()).size(), twice.ids.size());
  }

  void a_straight_run_is_reflected_as_a_whole() {
    const auto whole = drawn_pattern(design({"crease 0,4 16,4 valley", "reflect 8,-1 17,-1 17,17"}), outline);
    const auto pieces =
        drawn_pattern(design({"run 0,4 step 1,0 repeat 16 valley", "reflect 8,-1 17,-1 17,17"}), outline);
    QVERIFY(whole.wrong.empty() && pieces.wrong.empty());
    QVERIFY(length_of(whole.healed.pattern, EdgeKind::valley) > 100);
    QVERIFY(std::abs(length_of(whole.healed.pattern, EdgeKind::valley) -
                     length_of(pieces.healed.pattern, EdgeKind::valley)) < 1e-6);
  }

  void a_ray_ends_at_the_next_crease() {
    const auto d = drawn_pattern(design({"line 0,8 along 1,0 valley", "ray 4,2 along 0,1 mountain"}), outline);
    QVERIFY(testing::near(length_of(d.healed.pattern, EdgeKind::mountain), 60, 1e-9));
    const auto free = drawn_pattern(design({"ray 4,2 along 0,-1 mountain"}), outline);
    QVERIFY(testing::near(length_of(free.healed.pattern, EdgeKind::mountain), 20, 1e-9));
  }

  void reflected_pleats_keep_every_vertex_flat() {
    const auto d =
        drawn_pattern(design({"line 0,2 along 1,0", "copy 0,1 times 12", "reflect 8,-1 24,8.5 8,18"}), outline);
    QVERIFY(d.wrong.empty());
    const auto proof = proved(d.healed, {.layers = false});
    QVERIFY(proof);
    int fours = 0;
    for (VertexId v(0); at(v) < proof->pattern.vertices.size(); ++v) {
      if (proof->graph->interior[static_cast<std::size_t>(v)] && proof->graph->stars.degree(v) == 4) ++fours;
    }
    QVERIFY(fours > 10);
    QVERIFY(proof->violations.empty());
  }

  void single_creases_are_directed_and_removed() {
    PatternDesign d = design({"line 0,8 along 1,0", "line 8,0 along 0,1", "direct 4,8 valley", "remove 8,12"});
    const auto drawn = drawn_pattern(d, outline);
    QVERIFY(drawn.wrong.empty());
    QVERIFY(testing::near(length_of(drawn.healed.pattern, EdgeKind::valley), 80, 1e-9));
    QVERIFY(testing::near(length_of(drawn.healed.pattern, EdgeKind::undirected), 160, 1e-9));
    d.count = 32; // everything moves with the grid
    d.rules[2] = "direct 2,8 valley";
    d.rules[3] = "remove 8,20";
    const auto finer = drawn_pattern(d, outline);
    QVERIFY(finer.wrong.empty());
    QVERIFY(testing::near(length_of(finer.healed.pattern, EdgeKind::valley), 40, 1e-9));
  }

  void wrong_rules_are_named_and_the_rest_is_drawn() {
    const auto d = drawn_pattern(
        design({"line 0,8 along 1,0 valley", "squiggle", "copy 1,0 times 2 of 7", "crease 40,40 50,50", "remove 2,2"}),
        outline);
    QCOMPARE(d.wrong.size(), std::size_t{4});
    QCOMPARE(d.wrong[0].rule, 2);
    QCOMPARE(d.wrong[1].rule, 3);
    QCOMPARE(d.wrong[3].rule, 5);
    QVERIFY(testing::near(length_of(d.healed.pattern, EdgeKind::valley), 160, 1e-9));
    const auto many =
        drawn_pattern(design({"run 0,0 step 1,1 step -1,1 repeat 1000", "copy 0.001,0 times 1000"}), outline);
    QCOMPARE(many.wrong.size(), std::size_t{1});
    QVERIFY(many.wrong[0].sentence.find("more than") != std::string::npos);
  }

  void grids_have_their_lines() {
    QCOMPARE(grid_lines(PatternGrid::square, 16, outline).size(), std::size_t{34});
    QCOMPARE(grid_lines(PatternGrid::equilateral, 8, outline).size() > 20, true);
    const GridFrame f = grid_frame(PatternGrid::equilateral, 8, outline);
    QVERIFY(testing::near((f.at({1, 0}) - f.at({0, 1})).norm(), 20, 1e-12));
    for (int i = -3; i < 6; ++i) {
      for (int j = -3; j < 6; ++j) QVERIFY((f.nearest(f.at({i, j}) + Point{4, -3}) - Point{i, j}).norm() < 1e-9);
    }
    const GridFrame d = grid_frame(PatternGrid::diagonal, 8, outline);
    QVERIFY(testing::near(d.step.col(0).dot(d.step.col(1)), 0, 1e-12));
  }
};

UC_TEST(RulesTest)
#include "rules_test.moc"
