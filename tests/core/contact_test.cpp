// What acts on a closing sheet beside its creases: layers that may not pass through each other, clips, facets divided
// so that they curve, weight and ground, hands that hold and let go.
#include "patterns.h"
#include "runner.h"
#include "support.h"

#include "collapse/closing_plan.h"
#include "collapse/closing_programme.h"
#include "collapse/contact.h"
#include "collapse/finer.h"
#include "collapse/settling.h"
#include "io/stages_json.h"
#include "paper/sheet.h"
#include "pattern/family.h"
#include "programme/text.h"

#include <Eigen/Geometry>
#include <QtTest>

#include <cmath>
#include <random>

using namespace uc;

namespace {

using Vector = Eigen::Vector3d;
std::size_t at_(int i) { return static_cast<std::size_t>(i); }

/// A strip of equal panels, a crease of this kind between any two.
CreasePattern strip(int panels, double length, double width, EdgeKind kind) {
  CreasePattern p;
  for (int i = 0; i <= panels; ++i) {
    p.vertices.emplace_back(length * i / panels, 0);
    p.vertices.emplace_back(length * i / panels, width);
  }
  for (int i = 0; i <= panels; ++i) p.edges.push_back({2 * i, 2 * i + 1, i == 0 || i == panels ? EdgeKind::raw : kind});
  for (int i = 0; i < panels; ++i)
    for (const int side : {0, 1}) p.edges.push_back({2 * i + side, 2 * i + 2 + side, EdgeKind::raw});
  return p;
}

FoldMesh mesh_of(const HealedPattern& healed) {
  auto mesh = fold_mesh(healed);
  if (!mesh) qFatal("%s", mesh.error().c_str());
  return std::move(mesh).value();
}

/// How many sides of triangles pierce another triangle well inside it, with a corner at least `deep` beyond: worked out
/// from the shape alone.
int pierced(const FoldMesh& mesh, const std::vector<Vector>& x, double deep) {
  int count = 0;
  for (const auto& bar : mesh.bars) {
    for (const auto& t : mesh.triangles) {
      if (std::any_of(t.begin(), t.end(), [&](int v) { return v == bar.a || v == bar.b; })) continue;
      const Vector& a = x[at_(t[0])];
      const Vector u = x[at_(t[1])] - a;
      const Vector w = x[at_(t[2])] - a;
      const Vector n = u.cross(w).normalized();
      const double from = (x[at_(bar.a)] - a).dot(n);
      const double to = (x[at_(bar.b)] - a).dot(n);
      if (!(from * to < 0) || std::min(std::abs(from), std::abs(to)) < deep) continue;
      const Vector p = x[at_(bar.a)] + (x[at_(bar.b)] - x[at_(bar.a)]) * from / (from - to) - a;
      const double area = u.cross(w).norm();
      const double b = p.cross(w).dot(n) / area;
      const double c = u.cross(p).dot(n) / area;
      if (std::min({b, c, 1 - b - c}) > 0.05) ++count;
    }
  }
  return count;
}

FoldMesh family_mesh(std::string_view name, const ParameterValues& values = {}) {
  const DrawnPattern drawn = drawn_pattern(family_design(name, values), Sheet().outline());
  return fold_mesh(drawn.healed, drawn.full_deg, drawn.goals).value();
}

double mean_bar(const FoldMesh& mesh) {
  double sum = 0;
  for (const auto& bar : mesh.bars) sum += bar.rest_mm;
  return sum / static_cast<double>(mesh.bars.size());
}

} // namespace

class ContactTest : public QObject {
  Q_OBJECT
private slots:
  /// A strip rolled up by creases of one direction at one time would run through itself.
  void layers_do_not_pass_through_each_other() {
    const FoldMesh mesh = mesh_of(healed(strip(5, 100, 17, EdgeKind::valley)));
    int passed = 0;
    for (const bool apart : {false, true}) {
      ClosingWish wish;
      wish.apart = apart;
      Closing closing(mesh, wish);
      int through = 0;
      for (const double part : {0.7, 0.8, 0.85, 0.9, 0.95}) {
        QVERIFY(closing.go_to(part));
        through += pierced(mesh, closing.state().vertices, 0.6);
        QVERIFY(closing.state().max_strain < 0.01);
      }
      if (apart)
        QCOMPARE(through, 0);
      else
        passed = through;
    }
    QVERIFY2(passed > 0, "without pushing it does");
  }

  /// An edge that comes over another stays on its side: what pushes it back is the slope of the energy, moves the whole
  /// nowhere, and is no stiffer than the blocks say.
  void crossing_edges_push_each_other_apart() {
    FoldMesh mesh; // two facets apart, of which only two edges cross
    mesh.flat = {{-1, 0}, {1, 0}, {0, -1}, {0, 0.1}, {0, -2}, {0.1, -2}};
    mesh.triangles = {{VertexId(0), VertexId(1), VertexId(2)}, {VertexId(3), VertexId(4), VertexId(5)}};
    for (const auto& t : mesh.triangles)
      for (std::size_t i = 0; i < 3; ++i) mesh.bars.push_back({t[i], t[(i + 1) % 3], 1});
    const auto shape = [](double height, double side) {
      return std::vector<Vector>{{-1, 0, 0},        {1, 0, 0},        {0, -1, -4 * side},
                                 {0.2, -1, height}, {0.2, 1, height}, {0.2, 0.2, height + 2 * side}};
    };
    std::mt19937 random(12);
    std::normal_distribution<double> normal;
    for (const double side : {1.0, -1.0}) {
      Contacts contacts(mesh, 0, side > 0 ? LayerContact::soft : LayerContact::firm);
      contacts.find(shape(0.4 * side, side));
      QVERIFY(contacts.near() > 0);
      QCOMPARE(contacts.energy(shape(0.1 * side, side)), 0.0);
      const auto through = shape(-0.1 * side, side);
      QVERIFY(contacts.energy(through) > 0 && contacts.passed_through(through) > 0);
      Eigen::VectorXd force = Eigen::VectorXd::Zero(18);
      std::vector<Eigen::Matrix3d> blocks(6, Eigen::Matrix3d::Zero());
      const std::vector<Push> pushes = contacts.pushes(through);
      add_pushes(pushes, force, blocks);
      QVERIFY(force[3 * 3 + 2] * side > 0 && force[2] * side < 0);
      Vector sum = Vector::Zero();
      for (Eigen::Index v = 0; v < 6; ++v) sum += force.segment<3>(3 * v);
      QVERIFY(sum.norm() < 1e-15);
      for (int i = 0; i < 20; ++i) {
        Eigen::VectorXd way(18);
        for (double& w : way) w = 1e-5 * normal(random);
        auto there = through;
        auto back = through;
        double bound = 0;
        for (std::size_t v = 0; v < 6; ++v) {
          const Vector d = way.segment<3>(3 * static_cast<Eigen::Index>(v));
          there[v] += d, back[v] -= d;
          bound += d.dot(blocks[v] * d);
        }
        const double rise = contacts.energy(there) - contacts.energy(back);
        QVERIFY(std::abs(rise / 2 + force.dot(way)) < 1e-3 * force.norm() * way.norm());
        // What does not turn with the edges is what Gauss and Newton keep: exactly so in the resistance, and no more
        // than the blocks.
        QCOMPARE(pushes.size(), std::size_t{1});
        const double along = std::pow(force.dot(way), 2) / (2 * contacts.energy(through));
        QVERIFY(along <= bound * (1 + 1e-9));
        Eigen::VectorXd resisted = Eigen::VectorXd::Zero(18);
        add_resistance(pushes, way, resisted);
        QVERIFY(std::abs(way.dot(resisted) - along) < 1e-9 * along);
      }
    }
  }

  /// What passes on the way from one shape to the next is on the side of the first, what comes round from beside on
  /// its own.
  void a_long_step_does_not_change_sides() {
    FoldMesh mesh;
    mesh.flat = {{0, 0}, {4, 0}, {0, 4}, {9, 9}, {9, 8}, {8, 9}};
    mesh.triangles = {{VertexId(0), VertexId(1), VertexId(2)}, {VertexId(3), VertexId(4), VertexId(5)}};
    for (const auto& t : mesh.triangles)
      for (std::size_t i = 0; i < 3; ++i) mesh.bars.push_back({t[i], t[(i + 1) % 3], 1});
    const auto shape = [](const Vector& corner, double up) {
      return std::vector<Vector>{
          {0, 0, 0}, {4, 0, 0}, {0, 4, 0}, corner, corner + Vector(-1, 0, up), corner + Vector(-1, 1, up)};
    };
    Contacts through(mesh, 0); // too high to be known before
    through.find(shape({1, 1, 0.8}, 9));
    QCOMPARE(through.near(), std::size_t{0});
    through.find(shape({1, 1, -0.2}, 9));
    QVERIFY(through.energy(shape({1, 1, -0.2}, 9)) > 0);
    Contacts round(mesh, 0);
    round.find(shape({-0.5, 1, 0.8}, -9));
    round.find(shape({-0.5, 1, -0.3}, -9)); // beside it
    round.find(shape({0.3, 1, -0.2}, -9));
    QVERIFY(round.near() > 0);
    QCOMPARE(round.energy(shape({0.3, 1, -0.2}, -9)), 0.0);
    // Through a rim, where what fits exactly slides past when it may.
    for (const LayerContact how : {LayerContact::soft, LayerContact::firm, LayerContact::sliding}) {
      Contacts rim(mesh, 0, how);
      rim.find(shape({0.01, 1, 0.3}, 9));
      QVERIFY(rim.near() > 0);
      rim.find(shape({0.01, 1, -0.2}, 9));
      QCOMPARE(rim.energy(shape({0.01, 1, -0.2}, 9)) > 0, how != LayerContact::sliding);
    }
  }

  /// Families whose layers find their way round each other still close, and none passes; that no edge goes through a
  /// facet is seen from the shapes alone. Of those that take long at their normal size a smaller one.
  void families_close_with_their_layers_apart_data() {
    QTest::addColumn<QString>("name");
    QTest::addColumn<QString>("but");
    QTest::addColumn<double>("strain");
    const auto row = [](const char* name, const char* but = "", double strain = 0.01) {
      QTest::newRow(name) << QString(name) << QString(but) << strain;
    };
    for (const char* name : {"accordion-strip", "tray", "card-sleeve", "blintz-tray"}) row(name);
    row("triangle-row", "count=4");
    if (testing::sanitized) return;
    for (const char* name : {"twisted-star", "chevron", "zigzag-row", "turned-pleats", "twist-tiling", "prism", "net",
                             "petal-bowl", "four-part-box", "wrap"})
      row(name);
    // Not unless layers push as hard as paper.
    row("square-twists", "count=10");
    row("triangle-sink", "count=16");
    row("carton", "sides=3", 0.05);
    // Corner by corner, without strain.
    for (const char* but : {"", "sides=5", "sides=6", "top=1", "top=2"}) row("carton", but, 1e-3);
  }
  void families_close_with_their_layers_apart() {
    QFETCH(QString, name);
    QFETCH(QString, but);
    QFETCH(double, strain);
    ParameterValues values;
    if (!but.isEmpty()) values[but.section('=', 0, 0).toStdString()] = but.section('=', 1).toDouble();
    const FoldMesh mesh = family_mesh(name.toStdString(), values);
    Closing closing(mesh, {family_stages(mesh), {}, false, true});
    const double unit = mean_bar(mesh);
    std::vector<double> parts = even_parts(50);
    parts.push_back(1);
    const auto states = states_at(closing, parts);
    QCOMPARE(states.size(), std::size_t{51});
    for (const CollapseState& s : states) {
      QVERIFY2(pierced(mesh, s.vertices, 0.04 * unit) == 0, qPrintable(QString::number(s.part)));
      QVERIFY2(s.max_strain < strain, qPrintable(QString::number(s.max_strain)));
      QCOMPARE(s.passed_through, 0);
    }
    QVERIFY(states.back().rms_error_deg < 3 && states.back().max_strain < 1e-3);
    QVERIFY(!closing.layers_pass());
    // Whoever goes back comes to the same places.
    QVERIFY(closing.go_to(states[30].part));
    QVERIFY(closing.state().vertices == states[30].vertices);
  }

  /// Where a sheet does not close so, layers pass, and that is said.
  void where_layers_pass_it_is_said() {
    CreasePattern rolled = strip(3, 90, 40, EdgeKind::valley); // the last panel does not fit in
    for (const int v : {2, 3}) rolled.vertices[at_(v)].x() = 31;
    for (const int v : {4, 5}) rolled.vertices[at_(v)].x() = 58;
    const FoldMesh mesh = mesh_of(healed(rolled));
    Closing closing(mesh, {{}, {}, false, true});
    const auto states = states_at(closing, {0.5, 0.7, 0.8, 0.9, 1});
    QVERIFY(closing.layers_pass() && states.back().rms_error_deg < 1);
    int through = 0;
    for (const CollapseState& s : states) through += pierced(mesh, s.vertices, 0.02 * mean_bar(mesh));
    QVERIFY(through > 0);
  }

  /// Layers that touch everywhere move together as freely as one: a packet is at rest after a few steps.
  void a_packet_of_many_layers_comes_to_rest() {
    const FoldMesh mesh = family_mesh("map");
    Closing closing(mesh, {family_stages(mesh), {}, false, true});
    QVERIFY(closing.go_to(1));
    const CollapseState packet = closing.state();
    QVERIFY2(packet.rms_error_deg < 0.01, qPrintable(QString::number(packet.rms_error_deg)));
    QVERIFY(!closing.layers_pass() && !closing.facets_bend());
    QVERIFY2(closing.steps() < 1500, qPrintable(QString::number(closing.steps())));
  }

  void a_clip_holds_its_creases_until_it_comes_off() {
    const HealedPattern pattern = healed(strip(4, 80, 20, EdgeKind::mountain));
    const FoldMesh mesh = mesh_of(pattern);
    ClosingPlan plan;
    plan.apart = false;
    plan.clips = {{20, 10, 5, 0.3, 0.7}}; // the first crease, at 20 mm
    QVERIFY(check_plan(mesh, plan).ok());
    Closing closing(mesh, wish_for(mesh, plan));
    const auto angles = [&](double part) {
      closing.go_to(part);
      const CollapseState s = closing.state();
      std::vector<double> out;
      for (std::size_t e = 1; e <= 3; ++e) out.push_back(s.angle_deg[e]);
      return out;
    };
    QVERIFY(std::abs(angles(0.2)[0] + 36) < 0.1);
    const auto held = angles(0.6);
    QVERIFY2(std::abs(held[0] + 54) < 0.1, qPrintable(QString::number(held[0])));
    QVERIFY(std::abs(held[1] + 108) < 0.1 && std::abs(held[2] + 108) < 0.1);
    QVERIFY(std::abs(angles(0.8)[0] + 144) < 0.1);
    // One that is on to the end holds there, also where another on the same crease has come off.
    plan.clips = {{20, 10, 5, 0.5, 1}, {20, 10, 5, 0.1, 0.2}};
    Closing held_on(mesh, wish_for(mesh, plan));
    QVERIFY(held_on.go_to(1));
    QVERIFY2(std::abs(held_on.state().angle_deg[1] + 90) < 0.1,
             qPrintable(QString::number(held_on.state().angle_deg[1])));
    QVERIFY(std::abs(held_on.state().angle_deg[2] + 180) < 0.1);
    plan.clips = {{20, 300, 5, 0.3, 0.7}};
    QVERIFY(!check_plan(mesh, plan));
    plan.clips.clear();
    plan.spans = {{0.5, 0.2, 100}};
    QVERIFY(!check_plan(mesh, plan));
  }

  void clips_are_read_as_they_are_told() {
    std::mt19937 random(2);
    std::uniform_real_distribution<double> u(0, 1);
    for (int i = 0; i < 200; ++i) {
      const double from = std::round(90 * u(random)) / 100;
      const ClipPlace clip{std::round(1e4 * u(random)) / 100, std::round(1e4 * u(random)) / 100,
                           1 + std::round(u(random) * 20), from, std::min(1.0, from + 0.05)};
      const auto read = parse_clip(clip_text(clip));
      QVERIFY2(read, clip_text(clip).c_str());
      QVERIFY(std::abs(read->x_mm - clip.x_mm) < 1e-9 && std::abs(read->to - clip.to) < 1e-9);
      QVERIFY(std::abs(read->radius_mm - clip.radius_mm) < 1e-9 && std::abs(read->from - clip.from) < 1e-9);
    }
    for (const char* text : {"", "60", "60,40:30-80", "60,40,15", "60,40,15:30", "60,40,0:30-80", "60,40,15:80-30",
                             "60,40,15:30-180", "a,b,c:d-e", "1,2,3,4:5-6", "1,2,3:4-5-6"})
      QVERIFY2(!parse_clip(text), text);
    ClosingPlan plan;
    plan.order = CollapseOrder::inside_out;
    plan.finer = 1;
    plan.apart = false;
    plan.spans = {{0, 0.4, 100}, {0.3, 1, 90}};
    plan.clips = {{1, 2, 3, 0.1, 0.9}};
    const nlohmann::json j = json_of(plan);
    QVERIFY(closing_from(JsonReader(j)) == plan);
    QVERIFY(closing_from(JsonReader(nlohmann::json::object())) == ClosingPlan{});
  }

  /// Each facet in four: the sheet as large as before, edges in halves, and the closed form of a vertex still met.
  void divided_facets_are_the_same_sheet() {
    const HealedPattern whole = healed(strip(3, 60, 25, EdgeKind::valley));
    for (const int times : {0, 1, 2}) {
      const auto fine = finer(whole, {}, times);
      QVERIFY(fine.ok());
      const FoldMesh mesh = mesh_of(fine->pattern);
      QCOMPARE(mesh.triangles.size(), std::size_t{6} << (2 * times));
      double area = 0;
      for (const auto& t : mesh.triangles) {
        const Point u = mesh.flat[at_(t[1])] - mesh.flat[at_(t[0])];
        const Point v = mesh.flat[at_(t[2])] - mesh.flat[at_(t[0])];
        area += (u.x() * v.y() - u.y() * v.x()) / 2;
      }
      QVERIFY(std::abs(area - 60 * 25) < 1e-9);
      for (std::size_t e = 0; e < whole.pattern.edges.size(); ++e) {
        QCOMPARE(fine->parts_of[e].size(), std::size_t{1} << times);
        double length = 0;
        for (const CreaseId part : fine->parts_of[e]) {
          length += fine->pattern.pattern.segment(part).length();
          QVERIFY(fine->pattern.pattern.edges[at_(part)].kind == whole.pattern.edges[e].kind);
        }
        QVERIFY(std::abs(length - whole.pattern.segment(CreaseId(e)).length()) < 1e-9);
      }
      Closing closing(mesh);
      QVERIFY(closing.go_to(0.5));
      QVERIFY(closing.state().rms_error_deg < 0.05);
    }
  }

  /// A strip held at one end sags as a row of hinges does: each turns by the moment of what hangs beyond it over its
  /// stiffness.
  void a_held_strip_sags_under_its_weight() {
    constexpr int panels = 8;
    const FoldMesh mesh = mesh_of(healed(strip(panels, 80, 10, EdgeKind::unfolded)));
    const FoldStiffness soft{1e-3, 1e-3};
    FoldSolver solver(mesh, soft);
    solver.drive(std::vector<std::optional<double>>(mesh.hinges.size(), 0.0));
    constexpr double weight = 1e-7;
    solver.load({weight, std::nullopt});
    for (VertexId v(0); v < 4; ++v) solver.hold(v, Vector(mesh.flat[at_(v)].x(), mesh.flat[at_(v)].y(), 0));
    QVERIFY(solver.rest(1e-9, 4000));
    double unit = 0;
    for (const auto& b : mesh.bars) unit += b.rest_mm / static_cast<double>(mesh.bars.size());
    // Hinges across at 10, 20 ...; the diagonals of the panels bend as well, by less. Bounds from the crossings alone
    // and from crossings and diagonals as if they lay across.
    double crossings = 0;
    double both = 0;
    for (int h = 1; h < panels; ++h) {
      const double at = 10.0 * h;
      double moment = 0; // weight times length, in units
      for (int i = h + 1; i <= panels; ++i) {
        const double share = i == panels ? 0.5 : 1; // of a whole panel, which weighs as two mean vertices
        moment += share * weight * (panels + 1) * 2.0 / panels * (10.0 * i - at) / unit;
      }
      const double turn = moment / (soft.facet * 10 / unit);
      crossings += turn * (80 - at);
      both += turn * (80 - at) + turn * (80 - at + 5) * std::sqrt(2.0) / 2;
    }
    const double sag = -solver.vertices().back().z();
    QVERIFY2(sag > 0.8 * crossings && sag < 1.1 * both,
             qPrintable(QString("%1: between %2 and %3").arg(sag).arg(crossings).arg(both)));
    // On the ground nothing sinks below it.
    solver.load({weight, -0.5 * sag});
    QVERIFY(solver.rest(1e-9, 4000));
    for (const Vector& v : solver.vertices()) QVERIFY(v.z() > -0.5 * sag - 0.02 * sag);
  }

  void what_is_let_go_springs_back_and_stands_on_the_table() {
    const FoldMesh mesh = mesh_of(healed(strip(2, 40, 20, EdgeKind::valley)));
    Closing closing(mesh);
    QVERIFY(closing.go_to(0.5));
    double before = 1;
    for (const char* name : {"Two-coloured square paper", "Copy paper", "Hand-made mulberry"}) {
      const auto stock = std::find_if(generic_stocks().begin(), generic_stocks().end(),
                                      [&](const Stock& s) { return s.name == name; });
      const auto rested = let_go(mesh, closing.state(), *stock);
      QVERIFY(rested);
      const double share = rested->angle_deg[1] / 90;
      QVERIFY2(std::abs(share - kept_angle(*stock)) < 0.08, qPrintable(QString("%1 %2").arg(name).arg(share)));
      QVERIFY(share < before); // the weaker its memory, the wider it opens
      before = share;
      double lowest = 1e9;
      for (const Vector& v : closing.state().vertices) lowest = std::min(lowest, v.z());
      for (const Vector& v : rested->vertices) QVERIFY(v.z() > lowest - 0.05);
    }
    Progress stopped;
    stopped.cancel();
    QVERIFY(!let_go(mesh, closing.state(), generic_stocks()[0], &stopped));
  }

  void clips_and_moved_stages_become_moves() {
    const DrawnPattern drawn = drawn_pattern(family_design("chevron", {{"count", 6}}), Sheet().outline());
    ClosingPlan plan;
    plan.order = CollapseOrder::one_side_first;
    plan.groups = 2;
    plan.apart = false;
    plan.spans = {{0, 0.5, 100}, {0.5, 1, 100}};
    plan.clips = {{40, 120, 60, 0.5, 0.8}};
    const auto made = closing_programme(drawn, plan, generic_stocks()[0]);
    QVERIFY2(made, made ? "" : made.error().c_str());
    QVERIFY(made->moves.size() >= 4);
    QVERIFY(std::holds_alternative<Collapse>(made->moves[0].effect));
    QVERIFY(made->moves[1].is(WorkWay::clip) && made->moves[1].caution == Caution::small_parts);
    QVERIFY(made->moves[2].is(WorkWay::unclip));
    QVERIFY(std::holds_alternative<Collapse>(made->moves[3].effect));
    QVERIFY(std::abs(std::get<Collapse>(made->moves[3].effect).from_percent - 50) < 1e-9);
    const ProgrammeTeller teller(*made);
    QVERIFY(teller.text(1).find("Put a clip on what lies 40 mm from the left and 120 mm") == 0);
    QVERIFY(teller.text(2).find("Take the clip off") == 0);
    plan.clips[0].x_mm = 4000;
    QVERIFY(!closing_programme(drawn, plan, generic_stocks()[0]));
  }
};

UC_TEST(ContactTest)
#include "contact_test.moc"
