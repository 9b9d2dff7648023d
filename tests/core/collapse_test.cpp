// The sheet closing in space against closed forms: degree-4 vertices in both modes, the chevron, patterns that fold
// flat against their proved folded form; and what cannot move is refused with its place.
#include "patterns.h"
#include "runner.h"
#include "support.h"

#include "collapse/closing.h"
#include "collapse/pushing.h"
#include "collapse/rigid_motion.h"
#include "form/proof.h"
#include "io/solid_files.h"
#include "io/stages_json.h"
#include "paper/sheet.h"
#include "pattern/family.h"

#include <Eigen/Geometry>
#include <QtTest>

#include <cmath>
#include <cstring>
#include <random>
#include <set>

using namespace uc;

namespace {

constexpr double degree = 3.14159265358979323846 / 180;
double tan_half(double deg) { return std::tan(deg * degree / 2); }

FoldMesh mesh_of(const CreasePattern& pattern) {
  auto mesh = fold_mesh(healed(pattern));
  if (!mesh) qFatal("%s", mesh.error().c_str());
  return std::move(mesh).value();
}
CreasePattern family(const char* name, ParameterValues values) {
  const DrawnPattern d = drawn_pattern(family_design(name, std::move(values)), Sheet().outline());
  if (!d.wrong.empty()) qFatal("%s", d.wrong[0].sentence.c_str());
  return d.healed.pattern;
}
/// Sectors a, b, 180 - a, 180 - b; crease i follows sector i.
CreasePattern four_creases(double a, double b, const char* kinds) {
  CreasePattern p;
  p.vertices.emplace_back(0, 0);
  const double at[] = {a, a + b, 180 + b, 360};
  for (const double deg : at) p.vertices.emplace_back(100 * std::cos(deg * degree), 100 * std::sin(deg * degree));
  for (int i = 0; i < 4; ++i) p.edges.push_back({0, i + 1, kinds[i] == 'M' ? EdgeKind::mountain : EdgeKind::valley});
  for (int i = 0; i < 4; ++i) p.edges.push_back({i + 1, (i + 1) % 4 + 1, EdgeKind::raw});
  return p;
}

} // namespace

class CollapseTest : public QObject {
  Q_OBJECT
private slots:
  void degree_four_vertices_follow_their_closed_forms_data() {
    QTest::addColumn<double>("a");
    QTest::addColumn<double>("b");
    QTest::addColumn<QString>("kinds");
    QTest::addColumn<int>("mode");
    // Mode 1: creases 1 and 3 opposite, 2 and 4 alike; mode 2 the other way round.
    for (const auto& [a, b, kinds, mode] :
         {std::tuple{60.0, 80.0, "MVVV", 1}, std::tuple{60.0, 80.0, "MMMV", 2}, std::tuple{50.0, 75.0, "VMMM", 1},
          std::tuple{75.0, 50.0, "VVVM", 2}, std::tuple{70.0, 65.0, "VMMM", 1}, std::tuple{100.0, 70.0, "VVVM", 2}})
      QTest::addRow("%g %g %s", a, b, kinds) << a << b << QString(kinds) << mode;
  }
  void degree_four_vertices_follow_their_closed_forms() {
    QFETCH(double, a);
    QFETCH(double, b);
    QFETCH(QString, kinds);
    QFETCH(int, mode);
    Closing closing(mesh_of(four_creases(a, b, kinds.toLatin1().constData())));
    for (int i = 1; i <= 10; ++i) {
      QVERIFY(closing.go_to(i / 10.5));
      const CollapseState s = closing.state();
      QVERIFY2(s.max_strain < 1e-3, qPrintable(QString::number(s.max_strain)));
      const auto& g = s.angle_deg;
      const double ratio = mode == 1 ? -std::cos((a + b) / 2 * degree) / std::cos((a - b) / 2 * degree)
                                     : -std::sin((a + b) / 2 * degree) / std::sin((a - b) / 2 * degree);
      const QString what = QString("%1 %2 %3 %4").arg(g[0]).arg(g[1]).arg(g[2]).arg(g[3]);
      QVERIFY2(std::abs(g[2] - (mode == 1 ? -g[0] : g[0])) < 0.5, qPrintable(what));
      QVERIFY2(std::abs(g[3] - (mode == 1 ? g[1] : -g[1])) < 0.5, qPrintable(what));
      const double wanted = 2 * std::atan(tan_half(g[1]) * ratio) / degree;
      QVERIFY2(std::abs(g[0] - wanted) < 0.5, qPrintable(what + QString(": %1").arg(wanted)));
    }
  }

  /// tan(zigzag / 2) = tan(straight / 2) / cos(a), in size, all over the panel.
  void the_chevron_follows_its_closed_form() {
    const CreasePattern p = family("zigzag-row", {{"columns", 4}, {"rows", 4}, {"angle", 60}});
    const PatternGraph graph = graph_of(p);
    Closing closing(mesh_of(p));
    for (int i = 1; i <= 10; ++i) {
      QVERIFY(closing.go_to(i / 10.5));
      const CollapseState s = closing.state();
      QVERIFY(s.max_strain < 1e-3);
      double zigzag = 0;
      double straight = 0;
      for (std::size_t e = 0; e < p.edges.size(); ++e) {
        // What has no vertex inside the paper moves by itself.
        const auto inside = [&](int v) { return graph.interior[static_cast<std::size_t>(v)] != 0; };
        if (!folds(p.edges[e].kind) || (!inside(p.edges[e].from) && !inside(p.edges[e].to))) continue;
        const Segment at = p.segment(CreaseId(e));
        double& angle = std::abs(at.to.x() - at.from.x()) < 1e-6 ? straight : zigzag;
        if (angle == 0) angle = std::abs(s.angle_deg[e]);
        QVERIFY(std::abs(angle - std::abs(s.angle_deg[e])) < 0.5);
      }
      const double wanted = 2 * std::atan(tan_half(straight) / std::cos(60 * degree)) / degree;
      QVERIFY2(std::abs(zigzag - wanted) < 0.5, qPrintable(QString("%1 %2 %3").arg(zigzag).arg(straight).arg(wanted)));
    }
  }

  /// Fully closed, what folds flat is as large as its proved folded form, and no paper is strained.
  void what_folds_flat_closes_to_its_folded_form_data() {
    QTest::addColumn<QString>("name");
    QTest::addColumn<double>("count");
    for (const auto& [n, c] : {std::pair{"map", 4.0}, std::pair{"chevron", 6.0}, std::pair{"turned-pleats", 6.0}})
      QTest::newRow(n) << QString(n) << c;
  }
  void what_folds_flat_closes_to_its_folded_form() {
    QFETCH(QString, name);
    QFETCH(double, count);
    const CreasePattern p = family(name.toUtf8().constData(), {{"count", count}});
    const auto form = folded_form(p, graph_of(p));
    Closing closing(mesh_of(p));
    QVERIFY(closing.go_to(1));
    const CollapseState s = closing.state();
    QVERIFY(s.max_strain < 1e-6 && s.rms_error_deg < 1e-3);
    // Distances do not depend on how the piece lies.
    for (std::size_t i = 0; i < p.vertices.size(); i += 3)
      for (std::size_t k = 0; k < i; k += 2)
        QVERIFY(std::abs((s.vertices[i] - s.vertices[k]).norm() - (form->vertices[i] - form->vertices[k]).norm()) <
                0.01);
  }

  void the_saddle_stands_on_two_corners() {
    Closing closing(mesh_of(family("concentric-pleats", {{"rings", 16}})));
    QVERIFY(closing.go_to(0.6));
    const CollapseState s = closing.state();
    QVERIFY(closing.facets_bend());
    QVERIFY2(s.max_strain < 0.01, qPrintable(QString::number(s.max_strain)));
    // Corner heights over their common plane, which alternate.
    const auto& flat = closing.mesh().flat;
    std::vector<Eigen::Vector3d> corners;
    for (const Point& c : {Point{0, 0}, Point{240, 0}, Point{240, 240}, Point{0, 240}})
      for (std::size_t v = 0; v < flat.size(); ++v)
        if ((flat[v] - c).norm() < 1e-6) corners.push_back(s.vertices[v]);
    QCOMPARE(corners.size(), std::size_t{4});
    const Eigen::Vector3d apart = (corners[0] + corners[2]) / 2 - (corners[1] + corners[3]) / 2;
    const Eigen::Vector3d up = apart.normalized();
    Eigen::Vector3d middle = Eigen::Vector3d::Zero();
    for (std::size_t v = 0; v < flat.size(); ++v)
      if ((flat[v] - Point(120, 120)).norm() < 1e-6) middle = s.vertices[v];
    const auto height = [&](std::size_t i) { return up.dot(corners[i] - middle); };
    QVERIFY(height(0) > 0 && height(2) > 0 && height(1) < 0 && height(3) < 0);
    QVERIFY2(std::abs(height(0) - height(2)) < 0.01 * apart.norm(), qPrintable(QString::number(height(0) - height(2))));
    QVERIFY2(std::abs(height(1) - height(3)) < 0.01 * apart.norm(), qPrintable(QString::number(height(1) - height(3))));
    QVERIFY(std::abs((corners[0] - corners[2]).norm() - (corners[1] - corners[3]).norm()) < 5);
    QVERIFY(apart.norm() > 40);
  }

  void the_same_again_is_the_same() {
    const FoldMesh mesh = mesh_of(family("waterbomb", {{"across", 2}}));
    const auto end = [&] {
      Closing closing(mesh);
      closing.go_to(0.5);
      return closing.state().vertices;
    };
    const auto one = end();
    const auto two = end();
    for (std::size_t v = 0; v < one.size(); ++v) QVERIFY(one[v] == two[v]);
  }

  void undirected_creases_stand_in_no_stage() {
    const FoldMesh mesh = mesh_of(testing::map_pattern(3, 3)); // none has a direction
    for (const CollapseOrder order : {CollapseOrder::outside_in, CollapseOrder::all_at_once}) {
      const auto stages = stages_in_order(mesh, order, 3);
      QVERIFY(stages.empty() && check_stages(mesh, stages));
    }
    Closing closing(mesh);
    QVERIFY(closing.go_to(0.5));
    QVERIFY(closing.state().max_strain < 1e-9);
  }

  void cancel_is_obeyed_within_a_step() {
    Progress progress;
    progress.cancel();
    Closing closing(mesh_of(family("chevron", {{"count", 8}})));
    QVERIFY(!closing.go_to(1, &progress));
    QVERIFY(closing.steps() == 0);
  }

  void stages_drive_creases_in_their_order() {
    const FoldMesh mesh = mesh_of(family("map", {{"count", 4}}));
    for (const CollapseOrder order : {CollapseOrder::outside_in, CollapseOrder::inside_out,
                                      CollapseOrder::one_side_first, CollapseOrder::all_at_once}) {
      const auto stages = stages_in_order(mesh, order, 4);
      QVERIFY(check_stages(mesh, stages));
      QVERIFY(std::abs(stages.back().to - 1) < 1e-12 && stages.front().from == 0);
      std::size_t creases = 0;
      for (const auto& s : stages) creases += s.creases.size();
      QCOMPARE(creases, static_cast<std::size_t>(std::count_if(mesh.hinges.begin(), mesh.hinges.end(),
                                                               [](const auto& h) { return folds(h.kind); })));
      const auto end = targets_at(mesh, stages, 1);
      for (std::size_t h = 0; h < end.size(); ++h)
        QVERIFY(std::abs(std::abs(*end[h]) - (folds(mesh.hinges[h].kind) ? 180 : 0)) < 1e-9);
      const auto back = parse_stages(stages_json(stages));
      QVERIFY(back && back->size() == stages.size() && (*back)[0].creases == stages[0].creases);
    }
    // A second stage goes on from where the first one ended.
    CreaseId crease(0);
    while (mesh.hinge_of[static_cast<std::size_t>(crease)] < 0) ++crease;
    const std::vector<DriveStage> two{{{crease}, 0, 0.5, 50, {}}, {{crease}, 0.5, 1, 90, {}}};
    const auto h = static_cast<std::size_t>(mesh.hinge_of[static_cast<std::size_t>(crease)]);
    QVERIFY(std::abs(std::abs(*targets_at(mesh, two, 0.25)[h]) - 45) < 1e-9);
    QVERIFY(std::abs(std::abs(*targets_at(mesh, two, 0.75)[h]) - 126) < 1e-9);
    QVERIFY(std::abs(std::abs(*targets_at(mesh, two, 1)[h]) - 162) < 1e-9);
    for (const auto& [bad, says] :
         {std::pair{std::vector<DriveStage>{{{crease}, 0.5, 0.5, 100, {}}}, "from must be less"},
          std::pair{std::vector<DriveStage>{{{CreaseId(99999)}, 0, 1, 100, {}}}, "not a crease"},
          std::pair{std::vector<DriveStage>{{{}, 0, 1, 100, {}}}, "no creases"},
          std::pair{std::vector<DriveStage>{{{crease}, 0, 0.6, 50, {}}, {{crease}, 0.5, 1, 90, {}}}, "same time"}}) {
      const auto ok = check_stages(mesh, bad);
      QVERIFY2(!ok && QString::fromStdString(ok.error()).contains(says), says);
    }
  }

  void what_cannot_move_is_refused_with_its_place() {
    const auto refused = [](const CreasePattern& p) {
      const auto mesh = fold_mesh(healed(p));
      return mesh ? QString() : QString::fromStdString(mesh.error());
    };
    CreasePattern square;
    square.vertices = {{0, 0}, {100, 0}, {100, 100}, {0, 100}, {30, 40}, {70, 40}};
    for (int i = 0; i < 4; ++i) square.edges.push_back({i, (i + 1) % 4, EdgeKind::raw});
    CreasePattern cut = square;
    cut.edges.push_back({0, 4, EdgeKind::valley});
    cut.edges.push_back({4, 5, EdgeKind::cut});
    cut.edges.push_back({5, 2, EdgeKind::valley});
    QVERIFY2(refused(cut).contains("open cut lies at 50, 40"), qPrintable(refused(cut)));
    CreasePattern crossed = testing::map_pattern(1, 1);
    crossed.edges.push_back({0, 3, EdgeKind::valley});
    crossed.edges.push_back({1, 2, EdgeKind::valley});
    QVERIFY(refused(crossed).contains("cross at 5, 5"));
    CreasePattern apart = square;
    for (int i = 0; i < 4; ++i)
      apart.vertices.emplace_back(square.vertices[static_cast<std::size_t>(i)] + Point(300, 0));
    for (int i = 0; i < 4; ++i) apart.edges.push_back({6 + i, 6 + (i + 1) % 4, EdgeKind::raw});
    QVERIFY2(refused(apart).contains("nowhere"), qPrintable(refused(apart)));
    QVERIFY(refused(CreasePattern{}).contains("no paper"));
  }

  void a_saddle_pushed_through_rests_in_its_mirror_image() {
    const FoldMesh mesh = mesh_of(family("concentric-pleats", {{"rings", 16}}));
    Closing one(mesh);
    ClosingWish through;
    through.other_way = true;
    Closing other(mesh, through);
    QVERIFY(one.go_to(0.6) && other.go_to(0.6));
    QVERIFY2(std::abs(one.energy() / other.energy() - 1) < 0.01,
             qPrintable(QString("%1 %2").arg(one.energy()).arg(other.energy())));
    const auto rise =
        [&](const CollapseState& s) { // of two opposite corners over the other two, along the middle's normal
          std::vector<Eigen::Vector3d> corners;
          for (const Point& c : {Point{0, 0}, Point{240, 0}, Point{240, 240}, Point{0, 240}})
            for (std::size_t v = 0; v < mesh.flat.size(); ++v)
              if ((mesh.flat[v] - c).norm() < 1e-6) corners.push_back(s.vertices[v]);
          const Eigen::Vector3d along = corners[2] - corners[0];
          const Eigen::Vector3d across = corners[3] - corners[1];
          return along.cross(across).normalized().dot(corners[0] + corners[2] - corners[1] - corners[3]) / 2;
        };
    const double first = rise(one.state());
    const double second = rise(other.state());
    QVERIFY2(first * second < 0 && std::abs(first / second + 1) < 0.01 && std::abs(first) > 5,
             qPrintable(QString("%1 %2").arg(first).arg(second)));
  }

  /// One corner is pushed; the sheet goes over by itself and rests as its mirror image. Pushed again it comes back, and
  /// a corner pushed a little springs back.
  void a_corner_pushed_over_flips_the_saddle() {
    const FoldMesh mesh = mesh_of(family("concentric-pleats", {{"rings", 8}}));
    Closing closing(mesh);
    QVERIFY(closing.go_to(0.6));
    const CollapseState first = closing.state();
    // Six times the volume that the middle makes with three corners: of the other sign in a mirror image.
    const auto volume = [&](const CollapseState& s) {
      std::vector<Eigen::Vector3d> at;
      for (const Point& c : {Point{0, 0}, Point{240, 0}, Point{240, 240}, Point{0, 240}})
        for (std::size_t v = 0; v < mesh.flat.size(); ++v)
          if ((mesh.flat[v] - c).norm() < 1e-6) at.push_back(s.vertices[v]);
      return (at[1] - at[0]).cross(at[2] - at[0]).dot(at[3] - at[0]);
    };
    for (const Point& corner : {Point{240, 240}, Point{240, 0}}) { // one that stands up, one that hangs down
      const auto over = pushed(mesh, first, closing.stiffness(), {corner, std::nullopt});
      QVERIFY2(over, over ? "" : over.error().c_str());
      QVERIFY2(over->gone_over, qPrintable(QString::number(over->moved_mm)));
      QVERIFY2(std::abs(over->energy_after / over->energy_before - 1) < 0.01,
               qPrintable(QString("%1 %2").arg(over->energy_before).arg(over->energy_after)));
      QVERIFY2(std::abs(volume(over->after) / volume(first) + 1) < 0.01,
               qPrintable(QString("%1 %2").arg(volume(first)).arg(volume(over->after))));
      for (const CollapseState& s : over->way) QVERIFY(s.max_strain < 0.02);
      const auto back = pushed(mesh, over->after, closing.stiffness(), {corner, std::nullopt});
      QVERIFY(back && back->gone_over && std::abs(volume(back->after) / volume(first) - 1) < 0.01);
    }
    const auto a_little = pushed(mesh, first, closing.stiffness(), {{240, 240}, -3});
    QVERIFY(a_little && !a_little->gone_over && a_little->moved_mm < 0.1);
    const auto middle = pushed(mesh, first, closing.stiffness(), {{121, 119}, 10});
    QVERIFY(!middle && middle.error().find("middle of the sheet, which is held") != std::string::npos);
    const auto far = pushed(mesh, first, closing.stiffness(), {{240, 240}, 1e5});
    QVERIFY(!far && far.error().find("type up to 679 either way") != std::string::npos);
    Progress stopped;
    stopped.cancel();
    QVERIFY(!pushed(mesh, first, closing.stiffness(), {{240, 240}, std::nullopt}, &stopped));
  }

  /// What moves as a mechanism has one shape at a part of the whole, wherever it is pushed.
  void a_panel_springs_back() {
    const FoldMesh mesh = mesh_of(family("chevron", {{"count", 6}}));
    Closing closing(mesh);
    QVERIFY(closing.go_to(0.5));
    const auto over = pushed(mesh, closing.state(), closing.stiffness(), {{240, 240}, 15});
    QVERIFY2(over, over ? "" : over.error().c_str());
    QVERIFY2(!over->gone_over, qPrintable(QString::number(over->moved_mm)));
    QVERIFY(std::abs(over->energy_after - over->energy_before) <= 1e-6 * (over->energy_before + 1e-9));
  }

  void points_are_laid_on_points() {
    std::mt19937 random(5);
    std::normal_distribution<double> any;
    for (int round = 0; round < 50; ++round) {
      std::vector<Eigen::Vector3d> points(7);
      for (auto& p : points) p = Eigen::Vector3d(any(random), any(random), any(random));
      const Eigen::Matrix3d turn =
          Eigen::Quaterniond(any(random), any(random), any(random), any(random)).normalized().toRotationMatrix();
      std::vector<Eigen::Vector3d> places;
      std::vector<Eigen::Vector3d> mirrored;
      for (const auto& p : points) {
        places.emplace_back(turn * p + Eigen::Vector3d(3, -1, 2));
        mirrored.emplace_back(p.x(), p.y(), -p.z());
      }
      const RigidMotion onto = motion_onto(points, places);
      QVERIFY((onto.turn - turn).norm() < 1e-9);
      for (std::size_t i = 0; i < points.size(); ++i) QVERIFY((onto * points[i] - places[i]).norm() < 1e-9);
      const RigidMotion over = motion_onto(points, mirrored); // which no motion does
      QVERIFY(std::abs(over.turn.determinant() - 1) < 1e-9);
    }
  }

  /// Every family that is meant to close comes to its closed form without strain left, and with little on the way.
  void families_close_data() {
    QTest::addColumn<QString>("name");
    QTest::addColumn<QString>("but"); // a parameter of another value
    // Grids are for further work; a relief lies flat but for its corners, the saddle is never closed.
    const std::set<std::string> not_closing = {"relief", "concentric-pleats"};
    int n = 0;
    for (const PatternFamily& f : pattern_families())
      if (f.group != FamilyGroup::grid && !not_closing.contains(f.name) && (!testing::sanitized || n++ % 3 == 0))
        QTest::newRow(f.name.c_str()) << QString::fromStdString(f.name) << QString();
    for (const auto& [name, but] : {std::pair{"tray", "hem=10"},
                                    {"carton", "top=1"},
                                    {"carton", "sides=7"},
                                    {"card-sleeve", "pockets=2"},
                                    {"four-part-box", "part=1"}})
      QTest::newRow(qPrintable(QString("%1 %2").arg(name, but))) << name << but;
  }
  void families_close() {
    QFETCH(QString, name);
    QFETCH(QString, but);
    ParameterValues values;
    if (!but.isEmpty()) values[but.section('=', 0, 0).toStdString()] = but.section('=', 1).toDouble();
    const DrawnPattern drawn = drawn_pattern(family_design(name.toStdString(), values), Sheet().outline());
    const FoldMesh mesh = fold_mesh(drawn.healed, drawn.full_deg, drawn.goals).value();
    Closing closing(mesh, {family_stages(mesh), {}, false, false});
    double peak = 0;
    std::vector<double> parts = even_parts(20);
    parts.push_back(1);
    const auto states = states_at(closing, parts);
    QCOMPARE(states.size(), std::size_t{21});
    for (std::size_t i = 0; i < states.size(); ++i) {
      QCOMPARE(states[i].part, parts[i]);
      peak = std::max(peak, states[i].max_strain);
    }
    const CollapseState& closed = states.back();
    // Whoever goes back and on again comes to the same.
    if (name == "square-twists" || name == "triangle-sink") {
      QVERIFY(closing.go_to(0.4) && closing.go_to(1));
      QVERIFY(closing.state().rms_error_deg < 0.1);
    }
    QVERIFY2(closed.rms_error_deg < 0.1, qPrintable(QString::number(closed.rms_error_deg)));
    QVERIFY2(closed.max_strain < 1e-5, qPrintable(QString::number(closed.max_strain)));
    QVERIFY2(peak < 0.01, qPrintable(QString::number(100 * peak)));
    if (!find_pattern_family(name.toStdString())->flat_foldable) return;
    // As large as the folded form that is proved.
    const auto form = folded_form(drawn.healed.pattern, graph_of(drawn.healed.pattern));
    double folded = 0;
    double stands = 0;
    for (std::size_t i = 0; i < closed.vertices.size(); ++i)
      for (std::size_t k = 0; k < i; ++k) {
        folded = std::max(folded, (form->vertices[i] - form->vertices[k]).norm());
        stands = std::max(stands, (closed.vertices[i] - closed.vertices[k]).norm());
      }
    QVERIFY2(std::abs(stands / folded - 1) < 0.02, qPrintable(QString("%1 %2").arg(stands).arg(folded)));
  }

  /// The square stands on its walls, the corners are fins, the arms lie flat: every edge keeps its length there, and
  /// the collapse ends there.
  void raised_squares_stand_as_derived() {
    const DrawnPattern drawn =
        drawn_pattern(family_design("four-arm-zigzag", {{"count", 24}, {"side", 4}, {"height", 2}}), Sheet().outline());
    const double unit = drawn.figures.more[0].second;
    const FoldMesh mesh = fold_mesh(drawn.healed, drawn.full_deg).value();
    const Point middle = bounding_box(mesh.flat).centre();
    const double c = 2;
    const double h = 2;
    std::vector<Eigen::Vector3d> stands;
    for (const Point& flat : mesh.flat) {
      const Point q = (flat - middle) / unit;
      std::optional<Eigen::Vector3d> at;
      for (int turns = 0; turns < 4 && !at; ++turns) {
        Point p = q;
        for (int i = 0; i < turns; ++i) p = Point{p.y(), -p.x()}; // the arm to the upper right
        const auto is = [&](double x, double y) { return (p - Point{x, y}).norm() < 1e-6; };
        Point to;
        double z = -h;
        if (is(c, c)) // the square's corner
          to = p, z = 0;
        else if (is(c + h, c) || is(12, 12 - h)) // beside the right wall: moved in by h
          to = p - Point{h, 0};
        else if (is(c + h, c + h) || is(12, 12)) // beside the upper one
          to = p - Point{0, h};
        else
          continue;
        for (int i = 0; i < turns; ++i) to = Point{-to.y(), to.x()};
        at = Eigen::Vector3d(to.x(), to.y(), z) * unit;
      }
      QVERIFY2(at, qPrintable(QString("%1, %2").arg(q.x()).arg(q.y())));
      stands.push_back(*at);
    }
    Eigen::Vector3d low = stands[0];
    Eigen::Vector3d high = stands[0];
    for (const auto& v : stands) low = low.cwiseMin(v), high = high.cwiseMax(v);
    QVERIFY(std::abs((high - low).z() - h * unit) < 1e-9);
    for (const auto& bar : mesh.bars) {
      const double l = (stands[static_cast<std::size_t>(bar.a)] - stands[static_cast<std::size_t>(bar.b)]).norm();
      QVERIFY2(std::abs(l - bar.rest_mm) < 1e-9 * unit, qPrintable(QString::number(l / bar.rest_mm)));
    }
  }

  /// A net folds to its solid: the seams meet.
  void nets_close_to_their_solids() {
    for (const double solid : {0.0, 1.0, 3.0, 4.0}) { // tetrahedron, cube, dodecahedron, icosahedron
      const DrawnPattern drawn = drawn_pattern(family_design("net", {{"solid", solid}}), Sheet().outline());
      const FoldMesh mesh = fold_mesh(drawn.healed, drawn.full_deg).value();
      Closing closing(mesh);
      QVERIFY(closing.go_to(1));
      const CollapseState state = closing.state();
      QVERIFY2(state.max_strain < 1e-4 && state.rms_error_deg < 0.1, qPrintable(QString::number(state.rms_error_deg)));
      // The farthest corners are as far apart as those of the solid (the tetrahedron's sphere is wider than it is).
      double diameter = 0;
      for (const auto& [name, value] : drawn.figures.more)
        if (name == "diameter_mm") diameter = value;
      double farthest = 0;
      for (const auto& a : state.vertices)
        for (const auto& b : state.vertices) farthest = std::max(farthest, (a - b).norm());
      QVERIFY2(solid == 0 || std::abs(farthest / diameter - 1) < 2e-3,
               qPrintable(QString("%1: %2 of %3").arg(solid).arg(farthest).arg(diameter)));
    }
  }

  /// Read back by code of its own: counts, bounds, both colours.
  void models_are_what_they_say() {
    const FoldMesh mesh = mesh_of(family("chevron", {{"count", 4}}));
    Closing closing(mesh);
    closing.go_to(0.4);
    const auto vertices = closing.state().vertices;
    const SpatialModel sheet = model_of(mesh, vertices, "panel", Stock{}.face, Stock{}.underside);
    QVERIFY(!solid_file("panel.ply", sheet));
    const std::string obj = solid_file("panel.obj", sheet).value();
    QCOMPARE(QString::fromStdString(obj).count("\nv "), static_cast<int>(vertices.size()));
    QCOMPARE(QString::fromStdString(obj).count("\nf "), static_cast<int>(mesh.triangles.size()));
    const std::string stl = solid_file("panel.stl", sheet).value();
    QCOMPARE(stl.size(), 84 + 50 * mesh.triangles.size());
    const std::string glb = solid_file("panel.glb", sheet).value();
    const auto word = [&](std::size_t at) {
      std::uint32_t v = 0;
      std::memcpy(&v, glb.data() + at, 4);
      return v;
    };
    QCOMPARE(static_cast<std::size_t>(word(8)), glb.size());
    const auto document = testing::parsed(glb.substr(20, word(12)));
    QCOMPARE(document["materials"].size(), std::size_t{2});
    QCOMPARE(document["meshes"][0]["primitives"].size(), std::size_t{2});
    QCOMPARE(document["accessors"][0]["count"].get<std::size_t>(), 3 * mesh.triangles.size());
    QCOMPARE(document["buffers"][0]["byteLength"].get<std::size_t>(), static_cast<std::size_t>(word(20 + word(12))));
  }
};

UC_TEST(CollapseTest)
#include "collapse_test.moc"
