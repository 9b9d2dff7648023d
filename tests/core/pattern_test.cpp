// Crease patterns as graphs: what is mended, how faces are numbered, the rules at a vertex, and the pattern file.
#include "form/proof.h"
#include "io/pattern_json.h"
#include "pattern/repair.h"
#include "patterns.h"
#include "runner.h"
#include "support.h"

#include <nlohmann/json.hpp>

#include <QtTest>

#include <algorithm>
#include <random>
#include <set>

using namespace uc;

namespace {

CreasePattern square_with(std::vector<Point> more, std::vector<PatternEdge> edges) {
  CreasePattern p;
  p.vertices = {Point{0, 0}, Point{100, 0}, Point{100, 100}, Point{0, 100}};
  p.edges = {{0, 1, EdgeKind::raw}, {1, 2, EdgeKind::raw}, {2, 3, EdgeKind::raw}, {3, 0, EdgeKind::raw}};
  p.vertices.insert(p.vertices.end(), more.begin(), more.end());
  p.edges.insert(p.edges.end(), edges.begin(), edges.end());
  return p;
}

std::set<std::string> rules(const std::vector<LocalViolation>& violations) {
  std::set<std::string> out;
  for (const auto& v : violations) out.insert(name_of(v.rule));
  return out;
}

} // namespace

class PatternTest : public QObject {
  Q_OBJECT

private slots:
  void points_in_one_place_are_one() {
    // All in one place, far out: nothing to take a tolerance from.
    for (const double far : {0.0, 5.0, 1e300}) {
      CreasePattern p{{{far, 0}, {far, 0}, {far, 0}}, {{0, 1, EdgeKind::raw}, {1, 2, EdgeKind::mountain}}};
      const HealedPattern h = healed(p);
      QCOMPARE(h.pattern.vertices.size(), std::size_t{1});
      QCOMPARE(h.repair.merged_vertices, 2);
      QVERIFY(h.pattern.edges.empty());
    }
  }

  void what_meets_is_joined() {
    // A crease whose end stops a hair short of the edge, a doubled vertex, an edge of no length, a doubled edge.
    const CreasePattern rough =
        square_with({Point{40, 1e-5}, Point{40, 100}, Point{40, 100 - 1e-5}, Point{70, 50}},
                    {{4, 5, EdgeKind::undirected}, {4, 6, EdgeKind::mountain}, {7, 7, EdgeKind::valley}});
    const HealedPattern h = healed(rough);
    QCOMPARE(h.repair.merged_vertices, 1);
    QCOMPARE(h.repair.dropped_edges, 1);
    QCOMPARE(h.repair.split_edges, 2);
    QCOMPARE(h.repair.doubled_edges, 1);
    QCOMPARE(h.repair.sentences().size(), std::size_t{4});
    QCOMPARE(h.pattern.edges.size(), std::size_t{7});
    const auto& kept = h.pattern.edges.back();
    QCOMPARE(kept.kind, EdgeKind::mountain); // stronger than undirected
    QCOMPARE(graph_of(h.pattern).faces.size(), std::size_t{2});
  }

  void lines_drawn_many_times_count_once() {
    std::mt19937 random(5);
    const CreasePattern once =
        square_with({Point{40, 0}, Point{40, 100}, Point{0, 50}, Point{100, 50}},
                    {{4, 5, EdgeKind::mountain}, {6, 7, EdgeKind::valley}, {4, 5, EdgeKind::undirected}});
    std::vector<CreaseId> source;
    const HealedPattern want = healed(once, {}, &source);
    // The same drawing as a careless program leaves it: each line often, with ends of its own, some the other way
    // round.
    CreasePattern rough;
    const int times = testing::sanitized ? 50 : 20'000;
    for (const PatternEdge& e : once.edges) {
      for (int i = 0; i < times; ++i) {
        const auto first = static_cast<int>(rough.vertices.size());
        rough.vertices.push_back(once.vertices[static_cast<std::size_t>(e.from)]);
        rough.vertices.push_back(once.vertices[static_cast<std::size_t>(e.to)]);
        const int turned = i > 0 && random() % 2 ? 1 : 0;
        rough.edges.push_back({first + turned, first + 1 - turned, e.kind});
      }
    }
    std::vector<CreaseId> from;
    const HealedPattern got = healed(rough, {}, &from);
    const auto segments = [](const CreasePattern& p) {
      std::multiset<std::tuple<double, double, double, double, int>> out;
      for (const PatternEdge& e : p.edges) {
        Point a = p.vertices[static_cast<std::size_t>(e.from)];
        Point b = p.vertices[static_cast<std::size_t>(e.to)];
        if (std::pair(b.x(), b.y()) < std::pair(a.x(), a.y())) std::swap(a, b);
        out.emplace(a.x(), a.y(), b.x(), b.y(), static_cast<int>(e.kind));
      }
      return out;
    };
    QVERIFY(segments(got.pattern) == segments(want.pattern));
    QCOMPARE(got.pattern.vertices.size(), want.pattern.vertices.size());
    QCOMPARE(got.repair.doubled_edges, want.repair.doubled_edges + static_cast<int>(once.edges.size()) * (times - 1));
    QCOMPARE(from.size(), got.pattern.edges.size());
    for (std::size_t e = 0; e < from.size(); ++e)
      QCOMPARE(rough.edges[static_cast<std::size_t>(from[e])].kind, got.pattern.edges[e].kind);
  }

  void crossings_are_told_or_split() {
    const CreasePattern rough = square_with({}, {{0, 2, EdgeKind::valley}, {1, 3, EdgeKind::mountain}});
    const HealedPattern told = healed(rough);
    QCOMPARE(told.crossings.size(), std::size_t{1});
    QVERIFY((told.crossings[0].at - Point{50, 50}).norm() < 1e-12);
    const auto proof = proved(told);
    QVERIFY(proof);
    QVERIFY(rules(proof->violations) == std::set<std::string>{"crossing"});
    QVERIFY(!proof->violations[0].vertex);
    const HealedPattern split = healed(rough, {.split_crossings = true});
    QCOMPARE(split.repair.split_crossings, 1);
    QCOMPARE(split.pattern.edges.size(), std::size_t{8});
    QCOMPARE(graph_of(split.pattern).faces.size(), std::size_t{4});
  }

  void random_lines_make_a_planar_graph() {
    std::mt19937 random(7);
    std::uniform_real_distribution<double> side(0, 100);
    for (int round = 0; round < 20; ++round) {
      CreasePattern p = square_with({}, {});
      for (int i = 0; i < 25; ++i) {
        const int v = static_cast<int>(p.vertices.size());
        p.vertices.emplace_back(0, side(random));
        p.vertices.emplace_back(100, side(random));
        p.edges.push_back({v, v + 1, EdgeKind::undirected});
      }
      const HealedPattern h = healed(p, {.split_crossings = true});
      const PatternGraph g = graph_of(h.pattern);
      // Euler: V - E + F = 2 with the outside.
      QCOMPARE(h.pattern.vertices.size() + g.faces.size() + 1, h.pattern.edges.size() + 2);
      double area = 0;
      for (const GraphFace& f : g.faces) area += signed_area(outline_of(h.pattern, f));
      QVERIFY(std::abs(area - 10000) < 1e-6);
      QVERIFY(healed(h.pattern).crossings.empty());
      QVERIFY(healed(h.pattern).repair.empty());
    }
  }

  void faces_are_numbered_by_their_vertices() {
    const PatternGraph g = graph_of(healed(uc::testing::map_pattern(3, 2)).pattern);
    std::vector<std::vector<int>> cycles;
    for (const GraphFace& f : g.faces) cycles.push_back(numbers_of(f.cycle));
    QVERIFY(std::is_sorted(cycles.begin(), cycles.end()));
    QVERIFY((cycles[0] == std::vector<int>{0, 1, 5, 4}));
    for (const auto& c : cycles) QCOMPARE(*std::min_element(c.begin(), c.end()), c[0]);
  }

  void a_hole_is_no_paper() {
    CreasePattern p =
        square_with({Point{40, 40}, Point{60, 40}, Point{60, 60}, Point{40, 60}},
                    {{4, 5, EdgeKind::raw}, {5, 6, EdgeKind::raw}, {6, 7, EdgeKind::raw}, {7, 4, EdgeKind::raw}});
    const PatternGraph g = graph_of(p);
    QCOMPARE(g.faces.size(), std::size_t{1});
    QCOMPARE(g.faces[0].holes.size(), std::size_t{1});
    for (auto& e : p.edges) {
      if (e.from >= 4) e.kind = EdgeKind::unfolded;
    }
    QCOMPARE(graph_of(p).faces.size(), std::size_t{2}); // a square that lies in paper
  }

  void vertices_data() {
    QTest::addColumn<QString>("text");
    const Json list = uc::testing::cases("vertices.json");
    for (const Json& j : list) QTest::newRow(j["name"].get<std::string>().c_str()) << QString::fromStdString(j.dump());
  }
  void vertices() {
    QFETCH(QString, text);
    const Json j = testing::parsed(text.toStdString());
    const CreasePattern p =
        uc::testing::vertex_pattern(j["sectors"].get<std::vector<double>>(), j["kinds"].get<std::string>());
    const HealedPattern h = healed(p);
    QVERIFY(h.repair.empty());
    const auto proof = proved(h);
    QVERIFY(proof);
    const auto wanted = j["rules"].get<std::set<std::string>>();
    QVERIFY(rules(proof->violations) == wanted);
    for (const auto& v : proof->violations) {
      QCOMPARE(*v.vertex, 0);
      if (v.rule == LocalRule::kawasaki) QVERIFY(std::abs(v.defect_deg - j["defect_deg"].get<double>()) < 1e-9);
    }
    if (wanted.empty())
      QCOMPARE(std::string(name_of(proof->status)), j.value("layers", std::string("found")));
    else
      QCOMPARE(proof->status, LayerStatus::not_tried);
  }

  void vertices_on_raw_edges_and_cuts_are_free() {
    CreasePattern p = square_with({Point{50, 50}, Point{50, 0}}, {{4, 5, EdgeKind::cut}, {4, 2, EdgeKind::mountain}});
    const auto proof = proved(healed(p));
    QVERIFY(proof);
    QVERIFY(proof->violations.empty());          // the only vertex inside ends a cut
    QCOMPARE(proof->status, LayerStatus::found); // one part turns over beside the slit
  }

  void repairs_mend_what_they_promise() {
    int kinds = 0;
    const Json list = uc::testing::cases("vertices.json");
    for (const Json& j : list) {
      const CreasePattern p =
          testing::vertex_pattern(j["sectors"].get<std::vector<double>>(), j["kinds"].get<std::string>());
      const PatternGraph g = graph_of(p);
      for (const LocalViolation& v : local_violations(p, g)) {
        const auto repairs = repairs_of(p, g, v);
        QVERIFY2(!repairs.empty(), j["name"].get<std::string>().c_str());
        for (const VertexRepair& r : repairs) {
          kinds |= 1 << static_cast<int>(r.kind);
          const CreasePattern after = repaired(p, r);
          QCOMPARE(static_cast<int>(local_violations(after, graph_of(after)).size()), r.left_over);
        }
        for (std::size_t i = 1; i < repairs.size(); ++i) QVERIFY(repairs[i - 1].left_over <= repairs[i].left_over);
      }
    }
    QCOMPARE(kinds, 0b11111); // turned, swung, moved, added, left out
    // A vertex that was moved is moved back: by its own distance at most.
    CreasePattern p = testing::chevron_pattern(4, 4);
    const Point was = p.vertices[12];
    p.vertices[12] += Point{0.3, 0.2};
    const PatternGraph g = graph_of(p);
    const auto broken = local_violations(p, g);
    QVERIFY(!broken.empty());
    for (const LocalViolation& v : broken) {
      if (v.vertex != 12) continue;
      for (const VertexRepair& r : repairs_of(p, g, v)) {
        if (r.kind == VertexRepair::Kind::move) QVERIFY(r.shift_mm <= (was - p.vertices[12]).norm() + 1e-9);
      }
    }
  }

  void files_keep_every_coordinate() {
    std::mt19937 random(3);
    std::uniform_real_distribution<double> any(-1e4, 1e4);
    CreasePattern p;
    for (int i = 0; i < 200; ++i) p.vertices.emplace_back(any(random), any(random) * 1e-7);
    for (int i = 0; i + 1 < 200; ++i) p.edges.push_back({i, i + 1, static_cast<EdgeKind>(i % 6)});
    const auto back = parse_pattern_json(pattern_json(p));
    QVERIFY(back);
    QVERIFY(back->vertices == p.vertices);
    for (std::size_t i = 0; i < p.edges.size(); ++i) {
      QCOMPARE(back->edges[i].from, p.edges[i].from);
      QCOMPARE(back->edges[i].kind, p.edges[i].kind);
    }
  }

  void bad_files_data() {
    QTest::addColumn<QString>("text");
    QTest::addColumn<QString>("says");
    const Json list = uc::testing::cases("bad_patterns.json");
    for (const Json& j : list)
      QTest::newRow(j["name"].get<std::string>().c_str()) << QString::fromStdString(j["text"].get<std::string>())
                                                          << QString::fromStdString(j["says"].get<std::string>());
  }
  void bad_files() {
    QFETCH(QString, text);
    QFETCH(QString, says);
    const auto p = parse_pattern_json(text.toStdString());
    QVERIFY(!p);
    QVERIFY2(QString::fromStdString(p.error()).contains(says), p.error().c_str());
  }

  void deep_nesting_is_no_trouble() {
    const auto p = parse_pattern_json(std::string(200000, '['));
    QVERIFY(!p);
    QVERIFY(p.error().starts_with("line 1:"));
  }
};

UC_TEST(PatternTest)
#include "pattern_test.moc"
