// Whole programmes, from the sheet that is there to the closed piece: nothing is used before it is on the paper, the
// pattern's own piece is cut first, and it ends as it was asked for.
#include "runner.h"
#include "support.h"

#include "geometry/least_box.h"
#include "io/json_codec.h"
#include "io/project_file.h"
#include "pattern/family.h"
#include "pattern/sizing.h"
#include "programme/presence.h"
#include "programme/text.h"
#include "project/parts.h"
#include "project/piece.h"

#include <Eigen/Geometry>

#include <random>
#include <set>

using namespace uc;

namespace {

QString told(const Programme& p, const std::vector<Absence>& missing) {
  QString out;
  for (std::size_t i = 0; i < std::min<std::size_t>(missing.size(), 3); ++i) {
    const Absence& a = missing[i];
    out +=
        QString("move %1 of %2, %3: %4\n")
            .arg(a.move + 1)
            .arg(p.moves.size())
            .arg(a.element ? QString::fromStdString(text_of(*a.element)) : QString("%1 creases").arg(a.creases.size()))
            .arg(QString::fromStdString(move_text(p, a.move)));
  }
  return out;
}

Project with_family(const std::string& family, ParameterValues values, FoldedWork folded) {
  Project p;
  p.sheet_name = "square:420mm";
  p.sheet = parse_sheet(p.sheet_name).value();
  p.pattern = family_design(family, std::move(values));
  p.folded = folded;
  p.closing.apart = false;
  return p;
}

ParameterValues values_at_random(const PatternFamily& family, std::mt19937& random) {
  ParameterValues values;
  for (const Parameter& p : family.parameters) {
    const bool whole = p.type == ParameterType::integer || p.type == ParameterType::choice;
    const double most = p.type == ParameterType::integer ? std::min(p.most, 12.0) : p.most;
    const double v = std::uniform_real_distribution<double>(p.least, std::max(p.least, most))(random);
    values[p.name] = whole ? std::round(v) : v;
  }
  return values;
}

} // namespace

class WholeProgrammeTest : public QObject {
  Q_OBJECT
private slots:
  void no_move_uses_what_is_not_there_data() {
    QTest::addColumn<QString>("family");
    int n = 0; // each takes minutes under the sanitizers
    for (const PatternFamily& f : pattern_families())
      if (!testing::sanitized || n++ % 6 == 0) QTest::newRow(f.name.c_str()) << QString::fromStdString(f.name);
  }
  void no_move_uses_what_is_not_there() {
    QFETCH(QString, family);
    const PatternFamily* f = find_pattern_family(family.toStdString());
    std::mt19937 random(7);
    int planned = 0;
    const int settings = testing::sanitized ? 1 : 3;
    for (int setting = 0; setting < settings; ++setting) {
      const ParameterValues values = setting == 0 ? ParameterValues{} : values_at_random(*f, random);
      for (const CreaseSchool school : all_schools) {
        Project p = with_family(f->name, values, FoldedWork::creases);
        p.pre_crease.school = school;
        const PlannedMoves moves = planned_moves(p, division_of(p).value());
        if (!moves.left_out.empty()) {
          QVERIFY(moves.programme.moves.empty()); // nothing in its place
          continue;
        }
        ++planned;
        const auto missing = absences(moves.programme);
        QVERIFY2(missing.empty(), qPrintable(QString(name_of(school).c_str()) + "\n" + told(moves.programme, missing)));
      }
    }
    QVERIFY(planned >= settings);
  }

  /// What is set first takes at most one and a half times the moves of the fewest.
  void the_usual_way_takes_few_moves() {
    for (const PatternFamily& f : pattern_families()) {
      if (testing::sanitized && f.group != FamilyGroup::box) continue;
      Project p = with_family(f.name, {}, FoldedWork::creases);
      const Division division = division_of(p).value();
      std::size_t fewest = std::numeric_limits<std::size_t>::max();
      for (const CreaseSchool school : {CreaseSchool::needed, CreaseSchool::scored}) {
        p.pre_crease.school = school;
        fewest = std::min(fewest, planned_moves(p, division).programme.moves.size());
      }
      p.pre_crease = Project{}.pre_crease;
      const std::size_t usual = planned_moves(p, division).programme.moves.size();
      QVERIFY2(usual > 0 && 2 * usual <= 3 * fewest,
               qPrintable(QString("%1: %2 for %3").arg(f.name.c_str()).arg(usual).arg(fewest)));
    }
  }

  void a_piece_is_closed_after_its_creases_are_made_data() { no_move_uses_what_is_not_there_data(); }
  void a_piece_is_closed_after_its_creases_are_made() {
    QFETCH(QString, family);
    Project p = with_family(family.toStdString(), {}, FoldedWork::closed);
    const PlannedMoves moves = planned_moves(p, division_of(p).value());
    const DrawnPattern drawn = drawn_pattern(p.pattern, drawn_sheet(p).outline());
    if (drawn.usual_part == 0) { // a bare grid: that is said, and its creases are folded
      QCOMPARE(moves.left_out.size(), std::size_t{1});
      QVERIFY(!moves.programme.empty() && moves.programme.count<Collapse>() == 0);
      return;
    }
    QVERIFY2(moves.left_out.empty(), moves.left_out.empty() ? "" : moves.left_out.front().c_str());
    const auto missing = absences(moves.programme);
    QVERIFY2(missing.empty(), qPrintable(told(moves.programme, missing)));
    QVERIFY(moves.programme.count<Collapse>() >= 1);
    // It is told as hands do it, not by a count of creases alone.
    for (std::size_t i = 0; i < moves.programme.moves.size(); ++i)
      if (const auto* c = std::get_if<Collapse>(&moves.programme.moves[i].effect); c && c->stage == 1) {
        const std::string text = move_text(moves.programme, i);
        QVERIFY2(text.find("lose all creases") == std::string::npos && text.find("Go on until") != std::string::npos,
                 text.c_str());
      }
    // Every crease that folds is driven, and the last stage comes to where the family is usually closed.
    std::set<CreaseId> driven;
    double to = 0;
    for (const Move& m : moves.programme.moves)
      if (const auto* c = std::get_if<Collapse>(&m.effect)) {
        driven.insert(c->creases.begin(), c->creases.end());
        to = std::max(to, c->to_percent);
      }
    QCOMPARE(to, 100 * drawn.usual_part);
    // It ends as large as Pattern says, to a tenth of a millimetre, where a formula gives that; and the text says so.
    const auto box = finished_box(drawn);
    if (box && !drawn.lies_flat && !drawn.figures.packed_mm) {
      const auto& end = moves.programme.space->states.back();
      std::vector<Eigen::Vector3d> normals;
      for (const SpaceStates::Face& face : moves.programme.space->faces) {
        const auto corner = [&](std::size_t i) { return end[static_cast<std::size_t>(face.cycle[i])]; };
        normals.emplace_back((corner(1) - corner(0)).cross(corner(2) - corner(0)));
      }
      const Eigen::Vector3d now = least_box(end, normals);
      QVERIFY2((now - *box).cwiseAbs().maxCoeff() < 0.1, qPrintable(QString("%1 %2 %3 for %4 %5 %6")
                                                                        .arg(now.x())
                                                                        .arg(now.y())
                                                                        .arg(now.z())
                                                                        .arg(box->x())
                                                                        .arg(box->y())
                                                                        .arg(box->z())));
    }
    // What was taken out of the pre-crease is missed: the check sees it.
    Programme less = moves.programme;
    std::erase_if(less.moves, [](const Move& m) { return m.is<MakeCreases>() && !m.is(CreaseWay::mark); });
    QVERIFY(!absences(less).empty());
  }

  void it_ends_as_it_was_shown() {
    Project p = with_family("concentric-pleats", {}, FoldedWork::closed);
    const Division division = division_of(p).value();
    const DrawnPattern drawn = drawn_pattern(p.pattern, p.sheet.outline());
    QVERIFY(drawn.usual_part < 1); // a saddle is left half open
    p.closing.end = HeldState{0.4, {{0, 0}}, true};
    const PlannedMoves moves = planned_moves(p, division);
    QVERIFY2(moves.left_out.empty(), moves.left_out.empty() ? "" : moves.left_out.front().c_str());
    const auto& all = moves.programme.moves;
    const auto last = [&](std::size_t back) -> const Move& { return all[all.size() - back]; };
    std::size_t end = 1;
    while (!last(end).is(WorkWay::let_go)) ++end; // clips and waiting follow
    QVERIFY(last(end + 1).is(WorkWay::push));
    const auto* close = std::get_if<Collapse>(&last(end + 2).effect);
    QVERIFY(close && close->to_percent == 40);
    QVERIFY(move_text(moves.programme, all.size() - end - 1).find("push the corner over") != std::string::npos);
    // Each has a state of its own in space, and comes back from a file.
    const int states = static_cast<int>(moves.programme.space->states.size());
    QCOMPARE(std::get<Work>(last(end).effect).state.value(), states - 1);
    QCOMPARE(std::get<Work>(last(end + 1).effect).state.value(), states - 2);
    QVERIFY(moves.programme.space->states[static_cast<std::size_t>(states) - 2] !=
            moves.programme.space->states[static_cast<std::size_t>(states) - 3]);
    p.programme = moves.programme;
    const auto back = project_from_text(project_text(p), "p");
    QVERIFY2(back, back ? "" : back.error().c_str());
    QVERIFY(back->closing == p.closing && back->folded == FoldedWork::closed);
    QVERIFY(json_of(back->programme) == json_of(p.programme));
    // A place that is no corner, or a sheet that lies flat, is said and not passed over.
    p.closing.end = HeldState{0, {}, false};
    const PlannedMoves flat = planned_moves(p, division);
    QCOMPARE(flat.left_out.size(), std::size_t{1});
    QCOMPARE(flat.programme.count<Collapse>(), 0);
  }

  /// A sheet that was measured to be larger has its creases further apart, and those are closed.
  void a_measured_sheet_is_closed_on_its_own_creases() {
    Project p = with_family("chevron", {{"count", 6}}, FoldedWork::closed);
    p.trueness = TruenessMeasure{426, 426, 426, 426, 426 * std::sqrt(2.0), 426 * std::sqrt(2.0)};
    p.closing.end = HeldState{0.5, {}, false};
    const PlannedMoves moves = planned_moves(p, division_of(p).value());
    QVERIFY2(moves.left_out.empty(), moves.left_out.empty() ? "" : moves.left_out.front().c_str());
    QVERIFY(absences(moves.programme).empty());
    QVERIFY(std::abs(bounding_box(moves.programme.space->on_sheet).size().x() - 426) < 1e-6);
    // Nor can the closing be dragged before its creases, or a crease of the piece before the cut.
    const auto count = static_cast<int>(moves.programme.moves.size());
    for (int i = 0; i < count; ++i)
      if (moves.programme.moves[static_cast<std::size_t>(i)].is<Collapse>())
        QVERIFY(!may_reorder(moves.programme, i, 0) && !may_reorder(moves.programme, i, i - 1));
  }

  void steps_that_cannot_be_read_are_said() {
    Project p;
    p.folded = FoldedWork::steps;
    p.steps = "sheet square:90mm\nfrob\n";
    const PlannedMoves moves = planned_moves(p, division_of(p).value());
    QVERIFY(moves.programme.moves.empty() && moves.left_out.size() == 1);
  }

  void what_does_not_fit_on_the_sheet_is_refused() {
    Project p = with_family("carton", {}, FoldedWork::closed); // 250 x 180 mm
    p.sheet = parse_sheet("square:240mm").value();
    const PlannedMoves moves = planned_moves(p, division_of(p).value());
    QVERIFY(moves.programme.moves.empty());
    QVERIFY2(moves.left_out.size() == 1 && moves.left_out[0].find("250 x 180") != std::string::npos,
             moves.left_out.empty() ? "nothing said" : moves.left_out[0].c_str());
    // Turned by a quarter it fits on a sheet that stands upright.
    p.sheet = parse_sheet("190x260mm").value();
    const PlannedMoves turned = planned_moves(p, division_of(p).value());
    QVERIFY2(turned.left_out.empty(), turned.left_out.empty() ? "" : turned.left_out[0].c_str());
    QVERIFY(turned.programme.count<Cut>() >= 1);
    QVERIFY(turned.programme.moves.front().is(CreaseWay::mark));
  }

  void the_family_s_own_piece_is_cut_first() {
    Project p = with_family("card-sleeve", {}, FoldedWork::creases);
    const Programme moves = planned_moves(p, division_of(p).value()).programme;
    std::size_t cut = 0;
    while (cut < moves.moves.size() && !moves.moves[cut].is<Cut>()) ++cut;
    QVERIFY(cut > 0 && cut < moves.moves.size());
    QVERIFY(moves.moves[cut].caution == Caution::blade);
    for (std::size_t i = 0; i < cut; ++i) QVERIFY(moves.moves[i].is(CreaseWay::mark));
    const Box piece = bounding_box(outline_before(moves, cut + 1));
    const DrawnPattern drawn = drawn_pattern(p.pattern, p.sheet.outline());
    const Box wanted = bounding_box(drawn.healed.pattern.vertices);
    QVERIFY((piece.size() - wanted.size()).norm() < 1e-6);
    QVERIFY(move_text(moves, cut).find("Lay the ruler on") == 0);
    QVERIFY(move_text(moves, cut).find("mark A") != std::string::npos);
    // On a sheet of just that size nothing is cut off.
    p.sheet = Sheet::rectangle(Millimetres{wanted.size().x()}, Millimetres{wanted.size().y()});
    const Programme own = planned_moves(p, division_of(p).value()).programme;
    QVERIFY(!own.moves.front().is<Cut>() && own.moves.size() < moves.moves.size());
  }
};

UC_TEST(WholeProgrammeTest)
#include "whole_programme_test.moc"
