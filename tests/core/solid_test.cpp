// Solids: counts by Euler's formula, plane faces, published angles, and operators against the solids they are known to
// make.
#include "runner.h"

#include "solid/expression.h"
#include "solid/named.h"
#include "solid/net.h"
#include "solid/operators.h"

#include <QtTest>

#include <algorithm>
#include <cmath>

using namespace uc;

namespace {

constexpr double degrees = 180 / 3.14159265358979323846;

Polyhedron solid(const std::string& name) {
  auto made = parse_solid(name);
  if (!made) qFatal("%s", made.error().c_str());
  return std::move(made).value();
}

} // namespace

class SolidTest : public QObject {
  Q_OBJECT
private slots:
  void every_solid_is_convex_and_plane_data() {
    QTest::addColumn<QString>("name");
    for (const auto* list : {&named_solids(), &numbered_solids()})
      for (const std::string& n : *list) QTest::newRow(n.c_str()) << QString::fromStdString(n);
    for (const char* n :
         {"prism:3", "prism:200", "antiprism:3", "antiprism:11", "trapezohedron:3", "geodesic:1,0", "geodesic:5,2",
          "geodesic:0,4", "ambo(truncate(cube))", "snub(truncated-tetrahedron)", "expand(expand(tetrahedron))",
          "dual(truncate(antiprism:4))", "truncate(truncate(octahedron))"})
      QTest::newRow(n) << QString(n);
  }
  void every_solid_is_convex_and_plane() {
    QFETCH(QString, name);
    const Polyhedron p = solid(name.toStdString());
    QCOMPARE(p.vertices.size() + p.faces.size(), p.edges().size() + 2);
    QVERIFY(planarity_error(p) < 1e-9);
    QVERIFY(std::abs(shortest_edge(p) - 1) < 1e-12);
    for (FaceId f(0); at(f) < p.faces.size(); ++f)
      for (const Point3& v : p.vertices) QVERIFY(p.normal_of(f).dot(v - p.centre_of(f)) < 1e-9);
    for (const double d : dihedral_degrees(p)) QVERIFY(d > 0 && d < 180);
    for (const auto& [left, right] : faces_beside(p)) QVERIFY(left >= 0 && right >= 0);
  }

  void angles_are_the_published_ones() {
    const auto angles = [](const char* name) {
      std::vector<double> out = dihedral_degrees(solid(name));
      std::sort(out.begin(), out.end());
      return std::pair{out.front(), out.back()};
    };
    const double tetra = std::acos(1.0 / 3) * degrees;
    const double dodeca = std::acos(-1 / std::sqrt(5.0)) * degrees;
    const double icosa = std::acos(-std::sqrt(5.0) / 3) * degrees;
    for (const auto& [name, least, most] :
         {std::tuple{"tetrahedron", tetra, tetra}, std::tuple{"octahedron", 180 - tetra, 180 - tetra},
          std::tuple{"dodecahedron", dodeca, dodeca}, std::tuple{"icosahedron", icosa, icosa},
          std::tuple{"rhombic-dodecahedron", 120.0, 120.0}, std::tuple{"rhombic-triacontahedron", 144.0, 144.0},
          std::tuple{"cuboctahedron", std::acos(-1 / std::sqrt(3.0)) * degrees,
                     std::acos(-1 / std::sqrt(3.0)) * degrees},
          std::tuple{"snub-cube", 142.98343004, 153.23458764},
          std::tuple{"snub-dodecahedron", 152.92992021, 164.17536639}}) {
      QVERIFY2(std::abs(angles(name).first - least) < 2e-6, name);
      QVERIFY2(std::abs(angles(name).second - most) < 2e-6, name);
    }
    // Closed forms to the last digits.
    QVERIFY(std::abs(angles("icosahedron").first - icosa) < 1e-9);
    QVERIFY(std::abs(diameter(solid("icosahedron")) - 2 * std::sin(72 / degrees)) < 1e-12);
    QVERIFY(std::abs(diameter(solid("rhombic-dodecahedron")) - 4 / std::sqrt(3.0)) < 1e-12);
  }

  void counts_are_known_data() {
    QTest::addColumn<QString>("name");
    QTest::addColumn<int>("vertices");
    QTest::addColumn<int>("edges");
    for (const auto& [n, v, e] :
         {std::tuple{"snub-dodecahedron", 60, 150}, std::tuple{"truncated-icosidodecahedron", 120, 180},
          std::tuple{"pentagonal-hexecontahedron", 92, 150}, std::tuple{"prism:9", 18, 27},
          std::tuple{"trapezohedron:7", 16, 28}, std::tuple{"geodesic:3,1", 132, 390},
          std::tuple{"geodesic:6,0", 362, 1080}, std::tuple{"kis(dodecahedron,0.3)", 32, 90}})
      QTest::newRow(n) << QString(n) << v << e;
  }
  void counts_are_known() {
    QFETCH(QString, name);
    QFETCH(int, vertices);
    QFETCH(int, edges);
    const Polyhedron p = solid(name.toStdString());
    QCOMPARE(static_cast<int>(p.vertices.size()), vertices);
    QCOMPARE(static_cast<int>(p.edges().size()), edges);
  }

  /// Canonical forms of what has one are the solids that are known: same numbers, same angles, same diameter.
  void operators_make_the_solids_they_should_data() {
    QTest::addColumn<QString>("made");
    QTest::addColumn<QString>("known");
    for (const auto& [a, b] :
         {std::pair{"ambo(cube)", "cuboctahedron"}, std::pair{"ambo(octahedron)", "cuboctahedron"},
          std::pair{"truncate(cube)", "truncated-cube"}, std::pair{"truncate(icosahedron)", "truncated-icosahedron"},
          std::pair{"expand(dodecahedron)", "rhombicosidodecahedron"}, std::pair{"snub(cube)", "snub-cube"},
          std::pair{"snub(dodecahedron)", "snub-dodecahedron"}, std::pair{"snub(tetrahedron)", "icosahedron"},
          std::pair{"dual(dual(snub-cube))", "snub-cube"}, std::pair{"dual(ambo(cube))", "rhombic-dodecahedron"},
          std::pair{"ambo(ambo(cube))", "rhombicuboctahedron"}, std::pair{"kis(tetrahedron)", "triakis-tetrahedron"}})
      QTest::newRow(a) << QString(a) << QString(b);
  }
  void operators_make_the_solids_they_should() {
    QFETCH(QString, made);
    QFETCH(QString, known);
    const Polyhedron a = solid(made.toStdString());
    const Polyhedron b = solid(known.toStdString());
    QCOMPARE(a.vertices.size(), b.vertices.size());
    QCOMPARE(a.faces.size(), b.faces.size());
    QVERIFY(std::abs(diameter(a) - diameter(b)) < 1e-9);
    auto x = dihedral_degrees(a);
    auto y = dihedral_degrees(b);
    std::sort(x.begin(), x.end());
    std::sort(y.begin(), y.end());
    for (std::size_t i = 0; i < x.size(); ++i) QVERIFY(std::abs(x[i] - y[i]) < 1e-6);
  }

  void kis_raises_by_base_edges() {
    const Polyhedron base = solid("dodecahedron");
    const Polyhedron p = kis(base, 0.3);
    for (FaceId f(0); f < 12; ++f)
      QVERIFY(std::abs((p.vertices[20 + static_cast<std::size_t>(f)] - base.centre_of(f)).norm() - 0.3) < 1e-12);
  }

  void geodesic_corners_lie_on_a_sphere() {
    const Polyhedron p = solid("geodesic:4,2");
    for (const Point3& v : p.vertices) QVERIFY(std::abs(v.norm() - p.vertices[0].norm()) < 1e-12);
    std::vector<int> degree(p.vertices.size());
    for (const auto& [a, b] : p.edges()) ++degree[static_cast<std::size_t>(a)], ++degree[static_cast<std::size_t>(b)];
    QCOMPARE(std::count(degree.begin(), degree.end(), 5), 12);
    QCOMPARE(static_cast<std::size_t>(std::count(degree.begin(), degree.end(), 6)), degree.size() - 12);
  }

  void nonsense_is_refused_with_a_place_data() {
    QTest::addColumn<QString>("text");
    QTest::addColumn<QString>("says");
    for (const auto& [t, s] :
         {std::pair{"", "type the name"}, std::pair{"blob", "not a solid"}, std::pair{"prism", "takes its sides"},
          std::pair{"prism:2", "3 to"}, std::pair{"prism:7.5", "whole number"}, std::pair{"cube:3", "no numbers"},
          std::pair{"kis", "brackets"}, std::pair{"kis(cube", "close the bracket"}, std::pair{"kis(cube,99)", "height"},
          std::pair{"kis(cube,)", "height"}, std::pair{"dual(cube))", "nothing should follow"},
          std::pair{"geodesic:0,0", "sum"}, std::pair{"geodesic:99,1", "sum"},
          std::pair{"truncate(prism:500)", "too large"}, std::pair{"ambo()", "type the name"}})
      QTest::newRow(t) << QString(t) << QString(s);
  }
  void nonsense_is_refused_with_a_place() {
    QFETCH(QString, text);
    QFETCH(QString, says);
    const auto made = parse_solid(text.toStdString());
    QVERIFY(!made);
    QVERIFY2(QString::fromStdString(made.error()).contains(says), made.error().c_str());
    QVERIFY(!parse_solid(std::string(1000, 'x')) && !parse_solid(std::string(60, '(')));
  }

  /// Faces keep their sides and never overlap; area is what the solid's faces have together.
  void nets_are_true_data() {
    QTest::addColumn<QString>("name");
    for (std::size_t i = 0; i < 18; ++i)
      QTest::newRow(named_solids()[i].c_str()) << QString::fromStdString(named_solids()[i]);
    QTest::newRow("prism:12") << QString("prism:12");
  }
  void nets_are_true() {
    QFETCH(QString, name);
    const Polyhedron p = solid(name.toStdString());
    const auto net = net_of(p, 0.2);
    QVERIFY(net);
    QCOMPARE(net->folds.size(), p.faces.size() - 1);
    QCOMPARE(net->tabs.size() + static_cast<std::size_t>(net->without_tab), p.edges().size() - p.faces.size() + 1);
    for (std::size_t f = 0; f < p.faces.size(); ++f) {
      const auto& face = p.faces[f];
      QCOMPARE(net->faces[f].size(), face.size());
      for (std::size_t i = 0; i < face.size(); ++i)
        for (std::size_t k = 0; k < i; ++k)
          QVERIFY(
              std::abs((net->faces[f][i] - net->faces[f][k]).norm() -
                       (p.vertices[static_cast<std::size_t>(face[i])] - p.vertices[static_cast<std::size_t>(face[k])])
                           .norm()) < 1e-9);
      QVERIFY(signed_area(net->faces[f]) > 0);
      // No corner of a face lies inside another.
      for (std::size_t g = 0; g < p.faces.size(); ++g) {
        if (g == f) continue;
        for (const Point& c : net->faces[g]) {
          double least = 1e300;
          for (std::size_t i = 0; i < face.size(); ++i)
            least = std::min(least, -Line::through(net->faces[f][i], net->faces[f][(i + 1) % face.size()]).distance(c));
          QVERIFY(least < 1e-6);
        }
      }
    }
  }
};

UC_TEST(SolidTest)
#include "solid_test.moc"
