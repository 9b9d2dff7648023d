// Units of every solid: which join and which rings they close, the order that closes them, and solids as such, all
// counted again by code of its own.
#include "runner.h"

#include "solid/expression.h"
#include "solid/named.h"
#include "unit/assembly.h"
#include "unit/colouring.h"
#include "unit/joints.h"

#include <QtTest>

#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>
#include <random>
#include <set>

using namespace uc;

namespace {

const std::vector<std::string>& solids() {
  static const std::vector<std::string> all = [] {
    std::vector<std::string> out = named_solids();
    for (const char* more :
         {"prism:5", "antiprism:7", "geodesic:2,1", "kis(cube,0.4)", "dual(snub-cube)", "ambo(prism:6)"})
      out.emplace_back(more);
    return out;
  }();
  return all;
}

Polyhedron named_polyhedron(const std::string& name) {
  auto p = parse_solid(name);
  if (!p) qFatal("%s: %s", name.c_str(), p.error().c_str());
  return std::move(p).value();
}

std::set<std::pair<int, int>> joint_set(const UnitGraph& graph) {
  std::set<std::pair<int, int>> out;
  for (const auto& [a, b] : graph.joints) out.insert({a, b});
  return out;
}

bool joined(const std::set<std::pair<int, int>>& joints, int a, int b) {
  return joints.count({std::min(a, b), std::max(a, b)}) > 0;
}

void add_solids() {
  QTest::addColumn<QString>("name");
  for (const std::string& name : solids()) QTest::newRow(name.c_str()) << QString::fromStdString(name);
}

} // namespace

class UnitGraphTest : public QObject {
  Q_OBJECT
private slots:
  void edge_units_join_round_every_face_data() { add_solids(); }
  void edge_units_join_round_every_face() {
    QFETCH(QString, name);
    const Polyhedron p = named_polyhedron(name.toStdString());
    const auto edges = p.edges();
    const UnitGraph graph = unit_graph(p, *find_unit_family("parallelogram"), {75, 75});
    QCOMPARE(graph.units.size(), edges.size());
    for (std::size_t u = 0; u < graph.units.size(); ++u) {
      QVERIFY(graph.units[u].kind == Unit::Kind::edge);
      QVERIFY((graph.units[u].vertices == edges[static_cast<std::size_t>(graph.units[u].index)]));
    }
    // Joints counted face by face: neighbours round a face, each pair once.
    std::map<std::pair<int, int>, int> unit_of;
    for (std::size_t u = 0; u < graph.units.size(); ++u)
      unit_of[{graph.units[u].vertices[0], graph.units[u].vertices[1]}] = static_cast<int>(u);
    std::set<std::pair<int, int>> wanted;
    for (const auto& f : p.faces) {
      std::vector<int> round;
      for (std::size_t i = 0; i < f.size(); ++i) {
        const int a = f[i];
        const int b = f[(i + 1) % f.size()];
        round.push_back(unit_of.at({std::min(a, b), std::max(a, b)}));
      }
      for (std::size_t i = 0; i < round.size(); ++i) {
        const int a = round[i];
        const int b = round[(i + 1) % round.size()];
        wanted.insert({std::min(a, b), std::max(a, b)});
      }
    }
    QCOMPARE(joint_set(graph), wanted);
    QVERIFY(std::is_sorted(graph.joints.begin(), graph.joints.end()));
    QVERIFY(graph.tab_from.empty() || graph.tab_from.size() == graph.joints.size());
    // A ring for each vertex and face, of units that join one after another.
    QCOMPARE(graph.rings.size(), p.vertices.size() + p.faces.size());
    std::vector<int> in_rings(graph.units.size(), 0);
    for (const UnitRing& ring : graph.rings) {
      for (std::size_t i = 0; i < ring.units.size(); ++i) {
        ++in_rings[static_cast<std::size_t>(ring.units[i])];
        if (ring.units.size() > 2) QVERIFY(joined(wanted, ring.units[i], ring.units[(i + 1) % ring.units.size()]));
      }
      QCOMPARE(std::set<int>(ring.units.begin(), ring.units.end()).size(), ring.units.size());
    }
    for (const int n : in_rings) QCOMPARE(n, 4); // two vertices, two faces
  }

  void the_order_joins_each_and_counts_its_rings_data() { add_solids(); }
  void the_order_joins_each_and_counts_its_rings() {
    QFETCH(QString, name);
    const UnitGraph graph =
        unit_graph(named_polyhedron(name.toStdString()), *find_unit_family("parallelogram"), {75, 75});
    const auto joints = joint_set(graph);
    const auto order = assembly_order(graph);
    QCOMPARE(order.size(), graph.units.size());
    std::set<int> there;
    std::set<int> closed;
    for (const AssemblyStep& step : order) {
      if (!there.empty())
        QVERIFY(std::any_of(there.begin(), there.end(), [&](int u) { return joined(joints, u, step.add); }));
      QVERIFY(there.insert(step.add).second);
      std::set<int> now;
      for (int r = 0; r < static_cast<int>(graph.rings.size()); ++r) {
        const auto& units = graph.rings[static_cast<std::size_t>(r)].units;
        if (std::all_of(units.begin(), units.end(), [&](int u) { return there.count(u) > 0; })) now.insert(r);
      }
      std::set<int> fresh;
      std::set_difference(now.begin(), now.end(), closed.begin(), closed.end(), std::inserter(fresh, fresh.end()));
      QCOMPARE(std::set<int>(step.closes.begin(), step.closes.end()), fresh);
      QCOMPARE(step.rings_closed, static_cast<int>(now.size()));
      closed = now;
    }
    QCOMPARE(closed.size(), graph.rings.size());
  }

  /// Against all colourings of small random graphs and stars: equal shares are found whenever there are any.
  void equal_shares_are_found_whenever_they_exist() {
    std::mt19937 random(12);
    int equal = 0;
    int unequal = 0;
    for (int round = 0; round < 150; ++round) {
      UnitGraph graph;
      const int n = 3 + static_cast<int>(random() % 6);
      graph.units.resize(static_cast<std::size_t>(n));
      for (int a = 0; a < n; ++a)
        for (int b = a + 1; b < n; ++b)
          if (round % 4 == 1 ? a == 0 : random() % (1 + static_cast<unsigned>(round) % 4) == 0)
            graph.joints.push_back({UnitId(a), UnitId(b)});
      const int colours = 2 + round % 3;
      bool any = false;
      bool even = false;
      std::vector<int> colour(static_cast<std::size_t>(n), 0);
      for (int code = 0, codes = static_cast<int>(std::lround(std::pow(colours, n))); code < codes && !even; ++code) {
        std::vector<int> share(static_cast<std::size_t>(colours), 0);
        for (int u = 0, left = code; u < n; ++u, left /= colours) {
          colour[static_cast<std::size_t>(u)] = left % colours;
          ++share[static_cast<std::size_t>(left % colours)];
        }
        const bool proper = std::none_of(graph.joints.begin(), graph.joints.end(), [&](const auto& j) {
          return colour[static_cast<std::size_t>(j[0])] == colour[static_cast<std::size_t>(j[1])];
        });
        any = any || proper;
        const auto [least, most] = std::minmax_element(share.begin(), share.end());
        even = even || (proper && *most - *least <= 1);
      }
      const Colouring found = coloured(graph, {colours, round % 4});
      QCOMPARE(!found.colour.empty(), any);
      if (!any) continue;
      QCOMPARE(found.equal_shares, even);
      (even ? equal : unequal) += 1;
      for (const auto& [a, b] : graph.joints)
        QVERIFY(found.colour[static_cast<std::size_t>(a)] != found.colour[static_cast<std::size_t>(b)]);
    }
    QVERIFY2(equal > 40 && unequal > 4, qPrintable(QStringLiteral("%1 %2").arg(equal).arg(unequal)));
  }

  void strips_and_clips_of_a_prism_are_shared_out_evenly() {
    for (const int sides : {3, 4, 5, 6, 7, 8}) {
      const UnitGraph graph = unit_graph(named_polyhedron("prism:" + std::to_string(sides)),
                                         *find_unit_family("strip-and-clip"), {200, 20});
      const Colouring found = coloured(graph, {3});
      std::vector<int> share(3, 0);
      for (const int c : found.colour) ++share[static_cast<std::size_t>(c)];
      const auto [least, most] = std::minmax_element(share.begin(), share.end());
      QVERIFY2(*most - *least <= 1, qPrintable(QString::number(sides)));
    }
  }

  /// Right-angled pyramids stand on regular triangles; what refuses says which solids it takes, and takes them.
  void rhombs_carry_no_pyramids_and_advice_is_taken() {
    for (const char* family : {"parallelogram", "half-square-star"}) {
      for (const char* name : {"rhombic-dodecahedron", "rhombic-triacontahedron", "geodesic:2,0", "geodesic:3,1"}) {
        const UnitFit fit = find_unit_family(family)->fit(named_polyhedron(name), {75, 75});
        QVERIFY2(fit.refusal.find("take a Platonic or Archimedean solid of triangles and squares") != std::string::npos,
                 name);
      }
      for (const char* name : {"tetrahedron", "octahedron", "icosahedron", "cube", "cuboctahedron", "snub-cube"})
        QVERIFY2(find_unit_family(family)->fit(named_polyhedron(name), {75, 75}).refusal.empty(), name);
    }
    const UnitFit tabs = find_unit_family("triangle-tabs")->fit(named_polyhedron("geodesic:2,0"), {75, 75});
    QVERIFY(tabs.refusal.find("tetrahedron, octahedron or icosahedron") != std::string::npos);
    for (const char* name : {"tetrahedron", "octahedron", "icosahedron"})
      QVERIFY(find_unit_family("triangle-tabs")->fit(named_polyhedron(name), {75, 75}).refusal.empty());
  }

  void ties_and_turns_are_kept_by_colours() {
    const UnitGraph graph = unit_graph(named_polyhedron("icosahedron"), *find_unit_family("parallelogram"), {75, 75});
    const auto joints = joint_set(graph);
    std::mt19937 random(41);
    int tied = 0;
    for (int round = 0; round < 20; ++round) {
      ColourWish wish{3, round};
      std::uniform_int_distribution<int> any(0, static_cast<int>(graph.units.size()) - 1);
      for (int t = 0; t < 2; ++t) {
        const int a = any(random);
        const int b = any(random);
        if (a != b && !joined(joints, a, b)) wish.ties.push_back({UnitId(a), UnitId(b)});
      }
      if (tied_joint(graph, wish.ties)) continue; // by way of a third
      const Colouring c = coloured(graph, wish);
      if (c.colour.empty()) continue;
      ++tied;
      std::vector<int> shares(3, 0);
      for (const int colour : c.colour) ++shares.at(static_cast<std::size_t>(colour));
      for (const auto& [a, b] : joints)
        QVERIFY(c.colour[static_cast<std::size_t>(a)] != c.colour[static_cast<std::size_t>(b)]);
      for (const auto& [a, b] : wish.ties)
        QCOMPARE(c.colour[static_cast<std::size_t>(a)], c.colour[static_cast<std::size_t>(b)]);
      const auto [least, most] = std::minmax_element(shares.begin(), shares.end());
      if (c.equal_shares) QVERIFY(*most - *least <= 1);
      QCOMPARE(coloured(graph, wish).colour, c.colour); // the same numbers, the same answer
    }
    QVERIFY(tied >= 10);
    const auto clash = tied_joint(graph, {{graph.joints[0][0], graph.joints[0][1]}});
    QVERIFY(clash && *clash == graph.joints[0]);
    QVERIFY(!fewest_colours(graph, {2, 0, 10, {{graph.joints[0][0], graph.joints[0][1]}}, {}}));
  }

  void solids_are_walked_round_alike_data() { add_solids(); }
  void solids_are_walked_round_alike() {
    QFETCH(QString, name);
    const Polyhedron p = named_polyhedron(name.toStdString());
    const auto edges = p.edges();
    const auto beside = faces_beside(p);
    const auto rings = rings_of(p);
    QCOMPARE(static_cast<int>(p.vertices.size() + p.faces.size()) - static_cast<int>(edges.size()), 2);
    std::size_t ends = 0;
    for (std::size_t v = 0; v < rings.size(); ++v) {
      ends += rings[v].size();
      // Seen from outside they run counter-clockwise: the turns add up to one round.
      double turned = 0;
      const Point3 out = p.vertices[v].normalized();
      for (std::size_t i = 0; i < rings[v].size(); ++i) {
        const Point3 a = p.vertices[static_cast<std::size_t>(rings[v][i])] - p.vertices[v];
        const Point3 b = p.vertices[static_cast<std::size_t>(rings[v][(i + 1) % rings[v].size()])] - p.vertices[v];
        const Point3 flat_a = a - a.dot(out) * out;
        const Point3 flat_b = b - b.dot(out) * out;
        const Point3 across{out.y() * flat_a.z() - out.z() * flat_a.y(), out.z() * flat_a.x() - out.x() * flat_a.z(),
                            out.x() * flat_a.y() - out.y() * flat_a.x()};
        turned += std::atan2(across.dot(flat_b), flat_a.dot(flat_b));
      }
      QVERIFY(std::abs(turned - 2 * std::numbers::pi) < 1e-6);
    }
    QCOMPARE(ends, 2 * edges.size());
    for (std::size_t e = 0; e < edges.size(); ++e) {
      for (const FaceId f : beside[e]) {
        QVERIFY(f >= 0);
        const auto& face = p.faces[static_cast<std::size_t>(f)];
        for (const int v : edges[e]) QVERIFY(std::find(face.begin(), face.end(), v) != face.end());
        QVERIFY(p.normal_of(f).dot(p.centre_of(f)) > 0);
        QVERIFY(std::abs(p.normal_of(f).norm() - 1) < 1e-12);
      }
    }
    const Polyhedron larger = with_edge(p, 42);
    QVERIFY(std::abs(shortest_edge(larger) - 42) < 1e-9);
    QVERIFY(std::abs(diameter(larger) / diameter(p) - 42 / shortest_edge(p)) < 1e-9);
    const auto angles = dihedral_degrees(p);
    const auto the_same = dihedral_degrees(larger);
    for (std::size_t e = 0; e < edges.size(); ++e) {
      const auto& [f, g] = beside[e];
      const double between = std::acos(std::clamp(p.normal_of(f).dot(p.normal_of(g)), -1.0, 1.0));
      QVERIFY(angles[e] < 180 && std::abs(angles[e] - (180 - between * 180 / std::numbers::pi)) < 1e-6);
      QVERIFY(std::abs(the_same[e] - angles[e]) < 1e-6);
    }
  }

  void a_hull_holds_all_its_points() {
    std::mt19937 random(42);
    std::normal_distribution<double> normal;
    for (const int n : {4, 7, 30, 120}) {
      std::vector<Point3> points;
      for (int i = 0; i < n; ++i) points.push_back(Point3(normal(random), normal(random), normal(random)).normalized());
      const auto hull = triangulated_hull(points);
      QVERIFY(hull);
      QCOMPARE(static_cast<int>(hull->faces.size()), 2 * n - 4); // on a sphere every point is a corner
      for (FaceId f(0); at(f) < hull->faces.size(); ++f) {
        QCOMPARE(hull->faces[static_cast<std::size_t>(f)].size(), std::size_t{3});
        for (const Point3& q : points) QVERIFY(hull->normal_of(f).dot(q - hull->centre_of(f)) < 1e-9);
      }
    }
  }
};

UC_TEST(UnitGraphTest)
#include "unit_graph_test.moc"
