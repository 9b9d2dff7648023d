// A collapse as moves: states at the ends of the stages, what stocks ask for, the drawings, and files with mistakes.
#include "runner.h"

#include "collapse/closing.h"
#include "collapse/closing_programme.h"
#include "collapse/finer.h"
#include "io/json_codec.h"
#include "io/json_reader.h"
#include "io/space_json.h"
#include "paper/sheet.h"
#include "pattern/family.h"
#include "programme/figure.h"
#include "programme/text.h"

#include <QtTest>

#include <algorithm>
#include <cmath>
#include <set>

using namespace uc;

namespace {

ClosingPlan plan_of(CollapseOrder order, int groups) {
  ClosingPlan plan;
  plan.order = order;
  plan.groups = groups;
  plan.apart = false; // what layers do is tested for itself
  return plan;
}

DrawnPattern drawn(const char* family, ParameterValues values = {}) {
  return drawn_pattern(family_design(family, std::move(values)), Sheet().outline());
}

Programme closing_of(const char* family, CollapseOrder order, int groups, const Stock& stock = {}) {
  auto made = closing_programme(drawn(family), plan_of(order, groups), stock);
  if (!made) qFatal("%s", made.error().c_str());
  Programme p = std::move(made).value();
  p.sheet = Sheet().outline();
  return p;
}

} // namespace

class ClosingProgrammeTest : public QObject {
  Q_OBJECT
private slots:
  void stages_end_in_their_states() {
    const Programme p = closing_of("tray", CollapseOrder::outside_in, 3);
    const FoldMesh mesh = fold_mesh(drawn("tray").healed, drawn("tray").full_deg).value();
    const int stages = p.count<Collapse>();
    QVERIFY(stages >= 2);
    QCOMPARE(static_cast<int>(p.space->states.size()), stages + 1);
    std::set<int> driven;
    double before = 0;
    for (int i = 0; i < stages; ++i) {
      const Collapse& c = std::get<Collapse>(p.moves[static_cast<std::size_t>(i)].effect);
      QCOMPARE(c.from_percent, before);
      QVERIFY(c.to_percent > before && c.state == i + 1 && c.stage == i + 1 && c.stages == stages);
      before = c.to_percent;
      for (const int e : c.creases) QVERIFY(driven.insert(e).second);
    }
    QCOMPARE(before, 100.0);
    std::size_t creases = 0;
    for (const auto& h : mesh.hinges) creases += h.kind == EdgeKind::mountain || h.kind == EdgeKind::valley;
    QCOMPARE(driven.size(), creases);
    // The last state is the tray: every bar as long as on the flat sheet, as high as its walls.
    const auto& last = p.space->states.back();
    double low = 1e9;
    double high = -1e9;
    for (const auto& bar : mesh.bars) {
      const double l = (last[static_cast<std::size_t>(bar.a)] - last[static_cast<std::size_t>(bar.b)]).norm();
      QVERIFY(std::abs(l / bar.rest_mm - 1) < 1e-4);
    }
    for (const auto& v : last) low = std::min(low, v.z()), high = std::max(high, v.z());
    QVERIFY2(std::abs(high - low - 25) < 0.1, qPrintable(QString::number(high - low)));
  }

  void families_close_in_their_own_stages_data() {
    QTest::addColumn<QString>("family");
    QTest::addColumn<QString>("but"); // a parameter of another value
    QTest::addColumn<int>("stages");
    QTest::addColumn<QString>("held");
    QTest::newRow("loose tube, corners") << "carton"
                                         << "top=0" << 6 << "first wall";
    QTest::newRow("hem, loose tube, corners") << "carton"
                                              << "top=1" << 7 << "first wall";
    QTest::newRow("tube, side, floor, top") << "carton"
                                            << "overlap=1" << 4 << "first wall";
    QTest::newRow("hem, tube, side, floor") << "carton"
                                            << "overlap=1,top=1" << 4 << "first wall";
    QTest::newRow("tube, side, floor") << "carton"
                                       << "overlap=1,top=2" << 3 << "first wall";
    QTest::newRow("three sides") << "carton"
                                 << "sides=3" << 4 << "first wall";
    QTest::newRow("walls") << "tray"
                           << "hem=0" << 1 << "floor";
    QTest::newRow("hems, hems, walls") << "tray"
                                       << "hem=8" << 3 << "floor";
    QTest::newRow("hem, wall") << "four-part-box"
                               << "part=0" << 2 << "wall";
    QTest::newRow("hems, pockets, middle") << "card-sleeve"
                                           << "pockets=2" << 3 << "back";
    QTest::newRow("tabs, faces") << "prism"
                                 << "sides=5" << 2 << "base face";
    QTest::newRow("twist, tips") << "twisted-star"
                                 << "tips=0.5" << 2 << "middle";
    QTest::newRow("level, upright") << "map"
                                    << "count=4" << 2 << "";
    QTest::newRow("as one") << "wrap"
                            << "rings=3" << 1 << "hub";
  }
  void families_close_in_their_own_stages() {
    QFETCH(QString, family);
    QFETCH(QString, but);
    QFETCH(int, stages);
    QFETCH(QString, held);
    ParameterValues values;
    for (const QString& value : but.split(','))
      values[value.section('=', 0, 0).toStdString()] = value.section('=', 1).toDouble();
    const DrawnPattern d = drawn(qPrintable(family), values);
    ClosingPlan plan; // as a new project has it
    plan.apart = false;
    const auto made = closing_programme(d, plan, {});
    QVERIFY2(made, made ? "" : made.error().c_str());
    QCOMPARE(made->count<Collapse>(), stages);
    const SpaceStates& space = *made->space;
    QCOMPARE(space.held, held.toStdString());
    // What is held lies where it lay on the flat sheet, in every state.
    const auto is_held = [](const SpaceStates::Face& f) { return f.held; };
    QCOMPARE(std::any_of(space.faces.begin(), space.faces.end(), is_held), !held.isEmpty());
    for (const SpaceStates::Face& f : space.faces)
      for (std::size_t s = 0; f.held && s < space.states.size(); ++s)
        for (const VertexId v : f.cycle) {
          const Point flat = d.healed.pattern.vertices[static_cast<std::size_t>(v)];
          const auto& now = space.states[s][static_cast<std::size_t>(v)];
          QVERIFY((now - Eigen::Vector3d(flat.x(), flat.y(), 0)).norm() < 0.5);
        }
    Programme whole = *made;
    whole.sheet = Sheet().outline();
    const std::string words = ProgrammeTeller(whole).text(0);
    QCOMPARE(words.find("Keep the " + held.toStdString() + ", marked with a dot, flat") != std::string::npos,
             !held.isEmpty());
    const SpaceStates again = space_states_from(JsonReader(json_of(space)));
    QVERIFY(again.held == space.held && std::count_if(again.faces.begin(), again.faces.end(), is_held) ==
                                            std::count_if(space.faces.begin(), space.faces.end(), is_held));
  }

  /// Divided facets curve; the programme has the corners of the pattern, where the finer sheet takes them.
  void divided_facets_are_in_the_programme_too() {
    const DrawnPattern d = drawn("concentric-pleats", {{"rings", 4}});
    ClosingPlan plan;
    plan.apart = false;
    plan.end = HeldState{1, {}, false}; // further than it is usually closed
    const auto rough = closing_programme(d, plan, {});
    plan.finer = 1;
    const auto made = closing_programme(d, plan, {});
    QVERIFY(rough && made);
    QCOMPARE(made->count<Collapse>(), rough->count<Collapse>());
    const auto fine = finer(d.healed, d.full_deg, 1, d.goals);
    const FoldMesh mesh = fold_mesh(fine->pattern, fine->full_deg, fine->goals).value();
    Closing closing(mesh);
    QVERIFY(closing.go_to(1));
    const auto wanted = closing.state().vertices;
    const auto& now = made->space->states.back();
    const auto& before = rough->space->states.back();
    QCOMPARE(now.size(), d.healed.pattern.vertices.size());
    double off = 0;
    double other = 0;
    for (std::size_t a = 0; a < now.size(); ++a) {
      const double length = (now[a] - now[0]).norm();
      off = std::max(off, std::abs(length - (wanted[a] - wanted[0]).norm()));
      other = std::max(other, std::abs(length - (before[a] - before[0]).norm()));
    }
    QVERIFY2(off < 1e-6, qPrintable(QString::number(off)));
    QVERIFY2(other > 1, qPrintable(QString::number(other)));
  }

  /// Of a carton that locks stands a tube after the second stage: the side left over lies on the first, and has come
  /// there from outside, through nothing.
  void a_carton_that_locks_is_wound_before_its_floor_is_twisted() {
    for (const int n : {4, 6}) {
      const DrawnPattern d = drawn("carton", {{"sides", n}, {"width", 40}, {"height", 60}, {"overlap", 1}});
      ClosingPlan plan;
      plan.apart = false;
      const auto made = closing_programme(d, plan, {});
      QVERIFY(made);
      const auto& open = made->space->states[1];
      const auto& tube = made->space->states[2];
      const auto& flat = d.healed.pattern.vertices;
      int met = 0;
      for (std::size_t a = 0; a < flat.size(); ++a)
        for (std::size_t b = 0; b < flat.size(); ++b) {
          if (flat[a].x() > 41 || (flat[b] - flat[a] - Point{40.0 * n, 0}).norm() > 1e-6) continue;
          QVERIFY2((tube[a] - tube[b]).norm() < 0.5, qPrintable(QString::number((tube[a] - tube[b]).norm())));
          if (flat[a].x() > 1) QVERIFY((open[a] - open[b]).norm() > 20);
          ++met;
        }
      QVERIFY(met >= 6);
      const FoldMesh mesh = fold_mesh(d.healed, d.full_deg, d.goals).value();
      Closing closing(mesh, {family_stages(mesh), {}, false, true});
      QVERIFY(closing.go_to(2.0 / static_cast<double>(made->count<Collapse>())));
      QVERIFY(!closing.layers_pass());
      QVERIFY(closing.state().rms_error_deg < 0.1);
    }
  }

  void faces_are_those_of_the_pattern() {
    for (const char* family : {"chevron", "four-arm-zigzag", "net"}) {
      const DrawnPattern d = drawn(family);
      const Programme p = closing_of(family, CollapseOrder::all_at_once, 1);
      const PatternGraph graph = graph_of(d.healed.pattern);
      QCOMPARE(p.space->faces.size(), graph.faces.size());
      double area = 0;
      for (const auto& f : p.space->faces) {
        Polygon outline;
        for (const VertexId v : f.cycle) outline.push_back(d.healed.pattern.vertices[static_cast<std::size_t>(v)]);
        QVERIFY(signed_area(outline) > 0);
        area += signed_area(outline);
        for (std::size_t i = 0; i < f.cycle.size(); ++i) {
          const PatternEdge& e = d.healed.pattern.edges[static_cast<std::size_t>(f.edges[i])];
          QVERIFY(e.kind == f.sides[i]);
          QVERIFY((std::set<int>{e.from, e.to} == std::set<int>{f.cycle[i], f.cycle[(i + 1) % f.cycle.size()]}));
        }
      }
      double whole = 0;
      for (const auto& f : graph.faces) {
        Polygon outline;
        for (const VertexId v : f.cycle) outline.push_back(d.healed.pattern.vertices[static_cast<std::size_t>(v)]);
        whole += signed_area(outline);
      }
      QVERIFY(std::abs(area / whole - 1) < 1e-9);
    }
  }

  void stocks_ask_for_clips_and_time() {
    Stock stock;
    stock.memory = CreaseMemory::strong;
    stock.stiffness = Stiffness::medium;
    QVERIFY(setting_moves(stock).empty());
    stock.stiffness = Stiffness::stiff;
    QCOMPARE(setting_moves(stock).size(), std::size_t{2});
    QVERIFY(setting_moves(stock)[0].is(WorkWay::clip) && setting_moves(stock)[1].is(WorkWay::wait));
    stock.damp_shaping = true;
    const auto damp = setting_moves(stock);
    QCOMPARE(damp.size(), std::size_t{3});
    QVERIFY(damp[0].is(WorkWay::damp) && damp[0].caution == Caution::damp);
    stock.stiffness = Stiffness::soft;
    QVERIFY(setting_moves(stock).empty());
    stock.memory = CreaseMemory::weak;
    QCOMPARE(setting_moves(stock).size(), std::size_t{3});
    QCOMPARE(closing_of("map", CollapseOrder::all_at_once, 1, stock).moves.size(), std::size_t{4});
  }

  /// Whoever is told to glue is told the caution with it, in that move and no other.
  void gluing_has_its_caution() {
    for (const char* family : {"net", "prism", "dipyramid", "carton", "map"}) {
      const Programme p = closing_of(family, CollapseOrder::family, 1);
      const ProgrammeTeller teller(p);
      int glued = 0;
      for (std::size_t i = 0; i < p.moves.size(); ++i) {
        if (!p.moves[i].is<Collapse>()) continue;
        const bool says = teller.text(i).find("glue") != std::string::npos;
        QVERIFY2((p.moves[i].caution == Caution::glue) == says, family);
        glued += says;
      }
      QCOMPARE(glued > 0, std::string(family) != "map");
    }
  }

  void drawings_and_words_follow_the_states() {
    const Programme p = closing_of("waterbomb", CollapseOrder::inside_out, 2);
    const ProgrammeTeller teller(p);
    const int stages = p.count<Collapse>();
    QVERIFY(stages == 2);
    QVERIFY(teller.text(0).starts_with("Stage 1 of 2: close the creases drawn heavy"));
    QVERIFY(teller.check(0).starts_with("It just fits into a box of"));
    QCOMPARE(teller.short_text(1), std::string("close 2/2"));
    const Figure first = move_figure(p, 0);
    const Figure second = move_figure(p, 1);
    QVERIFY(!first.to_scale && first.patches.size() == p.space->faces.size());
    QVERIFY(first.bounds().size().norm() > second.bounds().size().norm()); // it closes
    int heavy = 0;
    for (const auto& patch : first.patches)
      heavy += static_cast<int>(std::count(patch.sides.begin(), patch.sides.end(), LineStyle::fresh));
    const auto& driven = std::get<Collapse>(p.moves[0].effect).creases;
    QCOMPARE(heavy, 2 * static_cast<int>(driven.size())); // each is a side of two faces
  }

  void files_keep_states_and_refuse_mistakes() {
    const Programme p = closing_of("map", CollapseOrder::outside_in, 2);
    const Json whole = json_of(p);
    const Programme back = programme_from(JsonReader(whole));
    QCOMPARE(back.space->states.size(), p.space->states.size());
    QCOMPARE(move_text(back, 0), move_text(p, 0));
    for (const auto& [change, says] :
         {std::pair<std::function<void(Json&)>, const char*>{[](Json& j) { j["moves"][0]["state"] = 99; },
                                                             "99: there are"},
          {[](Json& j) { j["space"]["states"][1].erase(0); }, "same vertices"},
          {[](Json& j) { j["space"]["faces"][0]["cycle"][0] = 9999; }, "space.faces[0].cycle[0]"},
          {[](Json& j) { j["space"]["faces"][0]["sides"][0] = "dented"; }, "space.faces[0].sides[0]"},
          {[](Json& j) {
             j["space"]["states"][0][0] = {0, 0};
           },
           "space.states[0][0]"},
          {[](Json& j) { j["moves"][0]["strain"] = -1; }, "moves[0].strain"}}) {
      Json bad = whole;
      change(bad);
      try {
        (void)programme_from(JsonReader(bad));
        QFAIL(says);
      } catch (const FieldError& e) {
        QVERIFY2(std::string(e.what()).find(says) != std::string::npos, e.what());
      }
    }
  }

  void what_cannot_close_is_said() {
    PatternDesign lines;
    lines.count = 4;
    lines.rules = {"line 2,0 along 0,1 undirected"};
    const auto none =
        closing_programme(drawn_pattern(lines, Sheet().outline()), plan_of(CollapseOrder::all_at_once, 1), {});
    QVERIFY(!none && none.error().find("direct them first") != std::string::npos);
    Progress progress;
    progress.cancel();
    const auto stopped = closing_programme(drawn("chevron"), plan_of(CollapseOrder::all_at_once, 1), {}, &progress);
    QVERIFY(!stopped && stopped.error().find("stopped") != std::string::npos);
  }
};

UC_TEST(ClosingProgrammeTest)
#include "closing_programme_test.moc"
