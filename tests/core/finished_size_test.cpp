// One finished size: the box about the closed piece, worked out here from the closed sheet by turning it about, and
// from what is known of the pieces by plain geometry.
#include "runner.h"
#include "support.h"

#include "collapse/closed_size.h"
#include "form/rigid_form.h"
#include "pattern/sizing.h"
#include "solid/expression.h"

#include <Eigen/Geometry>

#include <random>

using namespace uc;
using uc::testing::near;

namespace {

DrawnPattern drawn_on_240(const std::string& family, ParameterValues values = {}) {
  return drawn_pattern(family_design(family, std::move(values)), Sheet::square(Millimetres{240}).outline());
}

Eigen::Vector3d sorted(double a, double b, double c) {
  Eigen::Vector3d out{a, b, c};
  std::sort(out.data(), out.data() + 3, std::greater<>());
  return out;
}

} // namespace

class FinishedSizeTest : public QObject {
  Q_OBJECT
private slots:
  void boxes_have_their_sides() {
    const auto is = [](const DrawnPattern& d, const Eigen::Vector3d& wanted, const char* what) {
      const auto box = finished_box(d);
      QVERIFY2(box, what);
      QVERIFY2((*box - wanted).norm() < 1e-6, qPrintable(QString("%1: %2 %3 %4 for %5 %6 %7")
                                                             .arg(what)
                                                             .arg(box->x())
                                                             .arg(box->y())
                                                             .arg(box->z())
                                                             .arg(wanted.x())
                                                             .arg(wanted.y())
                                                             .arg(wanted.z())));
    };
    is(drawn_on_240("tray", {{"width", 83}, {"depth", 61}, {"height", 27}}), sorted(83, 61, 27), "tray");
    is(drawn_on_240("blintz-tray"),
       sorted(240 / (2 * std::sqrt(2.0)), 240 / (2 * std::sqrt(2.0)), 240 / (4 * std::sqrt(2.0))), "blintz tray");
  }

  /// The net of a cube closes to a cube, that of an octahedron to one between two parallel faces.
  void nets_have_the_size_of_their_solids() {
    const PatternFamily* net = find_pattern_family("net");
    const Parameter* which = net->parameter("solid");
    QVERIFY(which);
    for (std::size_t i = 0; i < which->choices.size(); ++i) {
      const DrawnPattern d = drawn_on_240("net", {{"solid", static_cast<double>(i)}});
      QVERIFY2(d.wrong.empty(), which->choices[i].c_str());
      const auto form = rigid_form(d.healed.pattern, d.full_deg);
      QVERIFY2(form, which->choices[i].c_str());
      const auto box = finished_box(d);
      const auto solid = parse_solid(which->choices[i]);
      if (!solid) continue; // of another name
      // As large as the solid, whose edge is the net's: the farthest pair of vertices is as far apart.
      double edge = 1e300;
      for (const auto& [name, value] : d.figures.more)
        if (name == "edge_mm") edge = value;
      double far = 0;
      double of_net = 0;
      for (const auto& a : solid->vertices)
        for (const auto& b : solid->vertices) far = std::max(far, (a - b).norm());
      for (const auto& a : form->vertices)
        for (const auto& b : form->vertices) of_net = std::max(of_net, (a - b).norm());
      QVERIFY2(edge < 1e300, "a net says its edge");
      QVERIFY2(std::abs(of_net - far * edge) < 0.35 * edge && of_net > far * edge - 1e-6,
               qPrintable(QString("%1: %2 for %3").arg(which->choices[i].c_str()).arg(of_net).arg(far * edge)));
      QVERIFY(box->x() <= of_net + 1e-6 && box->norm() >= far * edge - 1e-6);
    }
  }

  /// No turn of the closed piece that is tried at random fits into a smaller box.
  void no_other_box_is_smaller_data() {
    QTest::addColumn<QString>("family");
    for (const char* name : {"tray", "carton", "four-part-box", "net", "prism", "dipyramid", "petal-bowl"})
      QTest::newRow(name) << QString(name);
  }
  void no_other_box_is_smaller() {
    QFETCH(QString, family);
    const DrawnPattern d = drawn_on_240(family.toStdString());
    const auto form = rigid_form(d.healed.pattern, d.full_deg);
    QVERIFY2(form, "its facets stay flat");
    const Eigen::Vector3d box = *finished_box(d);
    std::mt19937 random(5);
    std::normal_distribution<double> g;
    for (int i = 0; i < 4000; ++i) {
      const Eigen::Quaterniond turn = Eigen::Quaterniond(g(random), g(random), g(random), g(random)).normalized();
      Eigen::Vector3d low = Eigen::Vector3d::Constant(1e300);
      Eigen::Vector3d high = -low;
      for (const auto& v : form->vertices) {
        const Eigen::Vector3d p = turn * v;
        low = low.cwiseMin(p);
        high = high.cwiseMax(p);
      }
      QVERIFY2((high - low).prod() > 0.999 * box.prod(),
               qPrintable(QString("%1 < %2").arg((high - low).prod()).arg(box.prod())));
    }
  }

  /// Lengths of the sheet stay: the closed piece is the sheet folded, and nothing stretched.
  void rigid_forms_stretch_nothing() {
    for (const char* name : {"tray", "carton", "blintz-tray", "net", "four-part-box"}) {
      const DrawnPattern d = drawn_on_240(name);
      const auto form = rigid_form(d.healed.pattern, d.full_deg);
      QVERIFY2(form, name);
      for (const PatternEdge& e : d.healed.pattern.edges) {
        const double flat = (d.healed.pattern.vertices[static_cast<std::size_t>(e.from)] -
                             d.healed.pattern.vertices[static_cast<std::size_t>(e.to)])
                                .norm();
        const double now =
            (form->vertices[static_cast<std::size_t>(e.from)] - form->vertices[static_cast<std::size_t>(e.to)]).norm();
        QVERIFY2(near(now, flat, 1e-9), name);
      }
    }
    // What cannot close with flat facets is no rigid form.
    QVERIFY(!rigid_form(drawn_on_240("concentric-pleats").healed.pattern, std::vector<double>(400, 90)));
  }

  void what_stays_open_is_measured_open() {
    const DrawnPattern saddle = drawn_on_240("concentric-pleats", {{"rings", 3}});
    QVERIFY(saddle.usual_part < 1 && !saddle.lies_flat && !finished_box(saddle));
    FinishedMeasure measure;
    const auto box = measure(saddle);
    QVERIFY(box && measure.by_collapse());
    DrawnPattern shut = saddle;
    shut.usual_part = 1;
    const auto closed = closed_size(shut);
    QVERIFY(closed && closed->prod() < box->prod()); // more closed, smaller
  }
};

UC_TEST(FinishedSizeTest)
#include "finished_size_test.moc"
