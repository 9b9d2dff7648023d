// Balls of equal edges, and the way their ridges go.
#include "runner.h"
#include "support.h"

#include "solid/equal_edges.h"
#include "solid/expression.h"
#include "unit/ridges.h"
#include "unit/unit_plan.h"
#include "unit/unit_steps.h"

#include <Eigen/Geometry>

#include <algorithm>
#include <cmath>

using namespace uc;
using uc::testing::near;

namespace {

double unevenness_of(const Polyhedron& p) {
  double least = 1e300;
  double most = 0;
  for (const auto& f : p.faces)
    for (std::size_t i = 0; i < f.size(); ++i) {
      const double l =
          (p.vertices[static_cast<std::size_t>(f[i])] - p.vertices[static_cast<std::size_t>(f[(i + 1) % f.size()])])
              .norm();
      least = std::min(least, l);
      most = std::max(most, l);
    }
  return most / least - 1;
}

} // namespace

class EqualEdgesTest : public QObject {
  Q_OBJECT
private slots:
  void edges_are_equal_and_the_map_stays_data() {
    QTest::addColumn<QString>("name");
    for (const char* name : {"geodesic:2,0", "geodesic:1,1", "geodesic:2,1", "geodesic:3,1", "dual(geodesic:2,0)",
                             "dual(geodesic:2,1)", "dual(geodesic:3,0)"})
      QTest::newRow(name) << QString(name);
  }
  void edges_are_equal_and_the_map_stays() {
    QFETCH(QString, name);
    const auto before = parse_solid(name.toStdString());
    const auto after = parse_solid("equal(" + name.toStdString() + ")");
    QVERIFY2(after, after ? "" : after.error().c_str());
    QVERIFY2(unevenness_of(*after) < 1e-3, qPrintable(QString::number(unevenness_of(*after))));
    QVERIFY(unevenness_of(*before) > 0.05);
    QVERIFY(after->faces == before->faces);
    QCOMPARE(static_cast<int>(after->vertices.size()) - static_cast<int>(after->edges().size()) +
                 static_cast<int>(after->faces.size()),
             2);
    QVERIFY(near(shortest_edge(*after), 1, 1e-9));
    // It is a ball still: no vertex has come in far, and all faces look outward.
    for (const Point3& v : after->vertices) QVERIFY(v.norm() > 0.4 * diameter(*after) * 0.8);
    for (FaceId f(0); static_cast<std::size_t>(f) < after->faces.size(); f = FaceId(f + 1))
      QVERIFY(after->normal_of(f).dot(after->centre_of(f)) > 0);
  }

  /// With equal edges a triangle is regular, and of maps whose triangles lie along an icosahedron's the shape is that:
  /// its corners are as far out as those of an icosahedron with edges m times as long.
  void triangles_are_regular_and_fill_an_icosahedron() {
    for (const int m : {2, 3, 4}) {
      const auto ball = parse_solid("equal(geodesic:" + std::to_string(m) + ",0)");
      QVERIFY2(ball, ball ? "" : ball.error().c_str());
      QVERIFY(bend_of_faces(*ball).worst_deg < 0.1);
      double far = 0;
      for (const Point3& v : ball->vertices) far = std::max(far, v.norm());
      const double icosahedron = m * std::sin(2 * 3.14159265358979 / 5);
      QVERIFY2(std::abs(far / icosahedron - 1) < 0.01, qPrintable(QString("%1 %2").arg(far).arg(icosahedron)));
    }
  }

  void other_maps_are_refused() {
    for (const char* name : {"equal(cube)", "equal(prism:5)", "equal(snub-cube)"}) {
      const auto no = parse_solid(name);
      QVERIFY2(!no && no.error().find("geodesic") != std::string::npos, name);
    }
    // These are such maps, and equal already.
    for (const char* name : {"icosahedron", "dodecahedron", "truncated-icosahedron"}) {
      const auto same = parse_solid("equal(" + std::string(name) + ")");
      QVERIFY2(same && near(diameter(*same), diameter(with_edge(parse_solid(name).value(), 1)), 2e-3), name);
    }
  }

  void plans_say_how_far_joints_give() {
    UnitWish wish;
    wish.family = "zigzag-strip";
    wish.solid = "equal(dual(geodesic:2,1))";
    const auto plan = unit_plan(wish);
    QVERIFY2(plan, plan ? "" : plan.error().c_str());
    QCOMPARE(plan->graph.units.size(), std::size_t{210});
    QVERIFY(plan->bend && plan->bend->worst_deg > 1 && plan->bend->worst_deg < most_bend_deg);
    QVERIFY(plan->bend->mean_deg < plan->bend->worst_deg);
    // The corners' angles once more, from the sides of the triangles they make.
    double worst = 0;
    for (const auto& f : plan->solid.faces)
      for (std::size_t i = 0; i < f.size(); ++i) {
        const auto p = [&](std::size_t k) { return plan->solid.vertices[static_cast<std::size_t>(f[k % f.size()])]; };
        const double a = (p(i + 1) - p(i)).norm();
        const double b = (p(i + 2) - p(i + 1)).norm();
        const double c = (p(i + 2) - p(i)).norm();
        const double deg = std::acos((a * a + b * b - c * c) / (2 * a * b)) * 57.29577951308232;
        worst = std::max(worst, std::abs(deg - (180 - 360.0 / static_cast<double>(f.size()))));
      }
    QVERIFY(worst <= plan->bend->worst_deg + 1e-6);
    wish.solid = "dual(geodesic:2,1)"; // its edges are not equal
    QVERIFY(!unit_plan(wish));
    wish.family = "parallelogram";
    wish.solid = "equal(geodesic:2,0)";
    const auto triangles = unit_plan(wish);
    QVERIFY2(triangles, triangles ? "" : triangles.error().c_str());
    QVERIFY(triangles->bend->worst_deg < 0.2);
  }

  /// Right-angled pyramids rise by atan(sqrt 2) = 54.74 degrees over their triangles.
  void ridges_go_the_way_of_their_angle() {
    const UnitFamily& family = *find_unit_family("parallelogram");
    const auto angle = [&](const char* solid) { return ridges_of(parse_solid(solid).value(), family); };
    const double rise = std::atan(std::sqrt(2.0)) * 57.29577951308232;
    const auto octahedron = angle("octahedron");
    QVERIFY(octahedron.size() == 1 && near(octahedron[0].angle_deg, 109.4712206 + 2 * rise, 1e-6));
    QVERIFY(octahedron[0].fold() == Fold::valley && octahedron[0].units == 12);
    QVERIFY(angle("icosahedron")[0].fold() == Fold::valley);
    // A cube of six units stands on a tetrahedron: three facets in a plane, no ridge.
    const auto cube = angle("tetrahedron");
    QVERIFY(cube.size() == 1 && near(cube[0].angle_deg, 180, 1e-6) && cube[0].fold() == Fold::undirected);
    // On squares the facets lie flat: of the rhombicuboctahedron's edges some stand out, some in.
    const auto both = angle("rhombicuboctahedron");
    QCOMPARE(both.size(), std::size_t{2});
    QVERIFY(both[0].fold() == Fold::mountain && near(both[0].angle_deg, 135, 1e-6) && both[0].units == 24);
    QVERIFY(both[1].fold() == Fold::valley && near(both[1].angle_deg, 144.7356103 + rise, 1e-6));
    const auto texts = ridge_texts(both);
    QCOMPARE(texts.size(), std::size_t{2});
    QVERIFY(texts[0].find("24 units as a mountain") != std::string::npos && texts[0].find("135°") != std::string::npos);
    QVERIFY(ridge_texts(cube)[0].find("each unit flat") != std::string::npos);
    QVERIFY(ridges_of(parse_solid("cube").value(), *find_unit_family("box-corner")).empty());
  }

  /// What is seen of a folded unit from outside is the coloured side: the lowest layer, for all are begun with the
  /// underside up and their pockets open towards the folder.
  void the_coloured_side_ends_outside() {
    for (const UnitFamily& family : unit_families()) {
      const auto unit = folded_unit(family, {80, 80 * family.ratio});
      if (!unit) continue;
      const PieceForm& form = *unit->made.states.back().form;
      double inside_out[2] = {0, 0};
      double all = 0;
      for (const FoldedCell& cell : form.overlap.cells) {
        const auto layers = form.layers_of(cell);
        all += cell.area;
        if (form.form.flipped[static_cast<std::size_t>(layers.front())]) inside_out[0] += cell.area; // from the ceiling
        if (!form.form.flipped[static_cast<std::size_t>(layers.back())]) inside_out[1] += cell.area;
      }
      QVERIFY2(std::min(inside_out[0], inside_out[1]) < 1e-6 * all, family.name.c_str());
      if (!family.joints.empty()) QVERIFY2(inside_out[1] < 1e-6 * all, family.name.c_str());
    }
  }
};

UC_TEST(EqualEdgesTest)
#include "equal_edges_test.moc"
