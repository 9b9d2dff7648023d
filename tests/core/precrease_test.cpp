// Pre-creasing: the lines of a pattern, how they are made, and the programme that makes them, replayed move by move.
#include "base/quantity.h"
#include "crease/precrease.h"
#include "io/exports.h"
#include "io/tables.h"
#include "paper/sheet.h"
#include "pattern/family.h"
#include "pattern/twists.h"
#include "programme/text.h"

#include "creased_paper.h"
#include "patterns.h"
#include "runner.h"
#include "support.h"

#include <QTest>

#include <cmath>
#include <map>
#include <random>
#include <set>

using namespace uc;
using testing::CreasedPaper;
using testing::length_of;
using testing::on_any;

namespace {

const HandProfile hand;

CreasePattern drawn(const char* name, int count, const Polygon& sheet = {{0, 0}, {240, 0}, {240, 240}, {0, 240}}) {
  return drawn_pattern(family_design(name, {{"count", count}}), sheet).healed.pattern;
}

struct Sample {
  const char* name;
  CreasePattern pattern;
  int grid;
};
std::vector<Sample> samples() {
  return {{"chevron 8", drawn("chevron", 8), 8},
          {"chevron 12", drawn("chevron", 12), 12},
          {"twists", drawn("square-twists", 12), 12},
          {"turned pleats", drawn("turned-pleats", 16), 16},
          {"map", drawn("map", 5), 5},
          {"map of another form", drawn("map", 4, {{0, 0}, {200, 0}, {200, 130}, {0, 130}}), 4},
          {"sinks", drawn("triangle-sink", 8), 0},
          {"net", drawn_pattern(family_design("net"), Sheet().outline()).healed.pattern, 0},
          {"vertex off any grid", testing::vertex_pattern({90, 80, 50, 45, 40, 55}, "VMMMVM"), 0}};
}

} // namespace

class PrecreaseTest : public QObject {
  Q_OBJECT
private slots:
  void segments_are_taken_away_from_segments() {
    std::mt19937 random(5);
    std::uniform_real_distribution<double> place(0, 100);
    const Point along = Point{3, 4} / 5;
    const Point base{7, -2};
    for (int round = 0; round < 300; ++round) {
      std::vector<Segment> whole{{base, base + 100 * along}};
      std::vector<Segment> taken;
      for (int i = 0; i < round % 6; ++i) taken.push_back({base + place(random) * along, base + place(random) * along});
      const auto left = without(whole, taken);
      for (int k = 0; k < 200; ++k) {
        const double t = place(random);
        const Point p = base + t * along;
        const bool away = on_any(taken, p, 1e-9);
        QCOMPARE(on_any(left, p, 1e-9), !away);
      }
    }
  }

  void lines_carry_every_crease_once() {
    for (const Sample& s : samples()) {
      double all = 0;
      std::map<EdgeKind, double> by_kind;
      for (std::size_t i = 0; i < s.pattern.edges.size(); ++i) {
        if (!folds(s.pattern.edges[i].kind)) continue;
        const double length = s.pattern.segment(CreaseId(i)).length();
        all += length;
        by_kind[s.pattern.edges[i].kind] += length;
      }
      const auto lines = carrier_lines(s.pattern);
      std::set<std::array<long, 3>> different;
      for (const CarrierLine& line : lines) {
        all -= line.length();
        for (const auto kind : {EdgeKind::mountain, EdgeKind::valley, EdgeKind::undirected})
          by_kind[kind] -= length_of(line.spans(kind));
        for (const Segment& span : line.spans()) {
          QVERIFY(std::abs(line.line.distance(span.from)) < 1e-6);
          QVERIFY(std::abs(line.line.distance(span.to)) < 1e-6);
        }
        different.insert({std::lround(line.line.normal.x() * 1e5), std::lround(line.line.normal.y() * 1e5),
                          std::lround(line.line.c * 1e4)});
      }
      QVERIFY2(std::abs(all) < 1e-6, s.name);
      for (const auto& [kind, rest] : by_kind) QVERIFY2(std::abs(rest) < 1e-6, s.name);
      QCOMPARE(different.size(), lines.size());
    }
    QCOMPARE(carrier_lines(drawn("map", 5)).size(), std::size_t{8});
  }

  void outlines_are_found_or_refused() {
    const Polygon square = convex_outline(drawn("chevron", 6));
    QCOMPARE(square.size(), std::size_t{4});
    QVERIFY(std::abs(signed_area(square) - 240 * 240) < 1e-6);
    QVERIFY(square[0].norm() < 1e-9);
    CreasePattern dent{{{0, 0}, {100, 0}, {100, 100}, {50, 30}, {0, 100}}, {}};
    for (int i = 0; i < 5; ++i) dent.edges.push_back({i, (i + 1) % 5, EdgeKind::raw});
    dent.edges.push_back({0, 3, EdgeKind::mountain});
    QVERIFY(convex_outline(dent).empty());
    const auto cut = precrease(dent, hand, {});
    QVERIFY(cut && cut->programme.moves.back().is<Cut>());
    CreasePattern bare = dent;
    bare.vertices[3] = {50, 100};
    QVERIFY(!convex_outline(bare).empty());
    bare.edges.pop_back();
    QVERIFY(precrease(bare, hand, {}).error().find("no creases") != std::string::npos);
  }

  void grid_lines_are_as_exact_as_the_division() {
    for (const int parts : {4, 5, 8, 12, 16}) {
      const auto plan = precrease(drawn("map", parts), hand, {CreaseSchool::needed, false});
      QVERIFY(plan);
      DivideTask task;
      task.parts = parts;
      const GridPlan division = plan_division(task, Method::best);
      int lines = 0;
      for (std::size_t i = 0; i < plan->making.lines.size(); ++i) {
        const LineInMaking& l = plan->making.lines[i];
        if (l.carrier < 0) continue;
        QVERIFY(l.family >= 0);
        const double expected = division.line_sigma_mm[static_cast<std::size_t>(l.index)];
        // The same folds in two dimensions: both ends of a line err alike and independently.
        QVERIFY2(std::abs(plan->making.sigma_mm[i] - expected) < 1e-6 * expected,
                 qPrintable(QString("%1: %2 %3").arg(parts).arg(plan->making.sigma_mm[i]).arg(expected)));
        ++lines;
      }
      QCOMPARE(lines, 2 * (parts - 1));
      QCOMPARE(plan->measured, 0);
    }
  }

  void every_move_can_be_made_when_it_comes() {
    for (const Sample& s : samples()) {
      for (const CreaseSchool school : all_schools) {
        for (const bool both : {false, true}) {
          const auto plan = precrease(s.pattern, hand, {school, both}, s.grid);
          if (school == CreaseSchool::as_you_go && twists_of(s.pattern).empty()) {
            QVERIFY2(!plan && plan.error().find("twist") != std::string::npos, s.name);
            continue;
          }
          QVERIFY2(plan, s.name);
          CreasedPaper paper(plan->programme);
          for (std::size_t i = 0; i < plan->programme.moves.size(); ++i) {
            const QString wrong = paper.follow(i);
            const std::string text = move_text(plan->programme, i);
            QVERIFY2(wrong.isEmpty(), qPrintable(QString("%1, %2, move %3: %4 (%5)")
                                                     .arg(s.name)
                                                     .arg(QString::fromStdString(name_of(school)))
                                                     .arg(i + 1)
                                                     .arg(wrong, QString::fromStdString(text))));
            if (text.find("Pinch at the raw edges only") != std::string::npos) {
              const Box sheet = bounding_box(plan->programme.sheet);
              for (const Segment& span : plan->programme.moves[i].creases().spans) {
                double off = 1e300;
                for (const Point& end : {span.from, span.to})
                  off = std::min({off, (end - sheet.low).minCoeff(), (sheet.high - end).minCoeff()});
                QVERIFY2(off < 1e-3, text.c_str());
              }
            }
            QVERIFY(text.find('?') == std::string::npos && text.find('{') == std::string::npos);
          }
          QVERIFY(plan->turn_overs <= 1 || school == CreaseSchool::as_you_go);
        }
      }
    }
  }

  void in_the_end_the_creases_are_those_of_the_pattern() {
    for (const Sample& s : samples()) {
      for (const CreaseSchool school : all_schools) {
        const auto plan = precrease(s.pattern, hand, {school, false}, s.grid);
        if (school == CreaseSchool::as_you_go && twists_of(s.pattern).empty()) continue;
        QVERIFY(plan);
        const SheetState state = state_after(plan->programme, static_cast<int>(plan->programme.moves.size()));
        std::vector<Segment> mountains;
        std::vector<Segment> valleys;
        double made = 0;
        for (const auto& crease : state.creases) {
          const bool mountain = crease.fold == Fold::mountain;
          auto& own = mountain ? mountains : valleys;
          auto& other = mountain ? valleys : mountains;
          own.insert(own.end(), crease.spans.begin(), crease.spans.end());
          other.insert(other.end(), crease.reversed.begin(), crease.reversed.end());
          made += length_of(crease.all());
        }
        double wanted = 0;
        int places = 0;
        int twice = 0;
        for (std::size_t i = 0; i < s.pattern.edges.size(); ++i) {
          const EdgeKind kind = s.pattern.edges[i].kind;
          if (!folds(kind)) continue;
          const Segment seg = s.pattern.segment(CreaseId(i));
          wanted += seg.length();
          for (const double t : {0.1, 0.5, 0.9}) {
            const Point p = seg.at(t);
            if (kind == EdgeKind::undirected) {
              QVERIFY(on_any(mountains, p, 0.02) || on_any(valleys, p, 0.02));
              continue;
            }
            QVERIFY2(on_any(kind == EdgeKind::mountain ? mountains : valleys, p, 0.02),
                     qPrintable(QString("%1, %2, %3 at %4 %5")
                                    .arg(s.name)
                                    .arg(QString::fromStdString(name_of(school)))
                                    .arg(name_of(kind).c_str())
                                    .arg(p.x())
                                    .arg(p.y())));
            // Where later folds look at a piece before it gets its own direction, it is folded both ways.
            ++places;
            twice += on_any(kind == EdgeKind::mountain ? valleys : mountains, p, 0.02);
          }
        }
        if (school == CreaseSchool::scored) QVERIFY2(std::abs(made - wanted) < 1e-3 * wanted, s.name);
        if (school == CreaseSchool::needed) {
          QVERIFY(plan->scar_mm < 0.6 * wanted);
          qInfo("%s: %d of %d places folded both ways", s.name, twice, places);
          QVERIFY2(twice <= 0.02 * places, s.name);
        }
      }
      const auto needed = precrease(s.pattern, hand, {CreaseSchool::needed, false}, s.grid);
      const auto everything = precrease(s.pattern, hand, {CreaseSchool::everything, false}, s.grid);
      QVERIFY2(needed->scar_mm <= everything->scar_mm + 1e-6, s.name);
    }
  }

  /// Whatever the library draws comes onto a sheet, and out of it.
  void every_family_can_be_pre_creased_data() {
    QTest::addColumn<QString>("family");
    int n = 0;
    for (const PatternFamily& f : pattern_families())
      if (!testing::sanitized || n++ % 4 == 0) QTest::newRow(f.name.c_str()) << QString::fromStdString(f.name);
  }
  void every_family_can_be_pre_creased() {
    QFETCH(QString, family);
    const DrawnPattern d = drawn_pattern(family_design(family.toStdString()), Sheet().outline());
    const CreasePattern& pattern = d.healed.pattern;
    for (const CreaseSchool school : {CreaseSchool::needed, CreaseSchool::scored}) {
      const auto plan = precrease(pattern, hand, {school, false});
      QVERIFY2(plan, plan ? "" : plan.error().c_str());
      QVERIFY(!plan->programme.moves.empty() && plan->minutes > 0);
      double wanted = 0;
      for (std::size_t e = 0; e < pattern.edges.size(); ++e)
        if (folds(pattern.edges[e].kind)) wanted += pattern.segment(CreaseId(e)).length();
      QVERIFY2(plan->crease_mm > 0.999 * wanted, qPrintable(QString("%1 %2").arg(plan->crease_mm).arg(wanted)));
      const Move& last = plan->programme.moves.back();
      if (convex_outline(pattern).empty()) {
        QVERIFY(last.is<Cut>() && last.caution == Caution::blade);
        double raw = 0;
        for (std::size_t e = 0; e < pattern.edges.size(); ++e)
          if (pattern.edges[e].kind == EdgeKind::raw) raw += pattern.segment(CreaseId(e)).length();
        const Cut& cut = std::get<Cut>(last.effect);
        if (keeps_outline(cut)) QVERIFY(std::abs(length_of(cut.along) - raw) < 1e-6 * raw);
      } else {
        QVERIFY(!last.is<Cut>());
      }
    }
  }

  void slits_and_openings_are_cut_in_the_end() {
    // A square of 100 with a crease, a slit and a square opening.
    CreasePattern p{{{0, 0},
                     {100, 0},
                     {100, 100},
                     {0, 100},
                     {20, 20},
                     {40, 20},
                     {40, 40},
                     {20, 40},
                     {60, 60},
                     {90, 60},
                     {0, 50},
                     {100, 50}},
                    {{0, 1, EdgeKind::raw},
                     {1, 11, EdgeKind::raw},
                     {11, 2, EdgeKind::raw},
                     {2, 3, EdgeKind::raw},
                     {3, 10, EdgeKind::raw},
                     {10, 0, EdgeKind::raw},
                     {4, 5, EdgeKind::raw},
                     {5, 6, EdgeKind::raw},
                     {6, 7, EdgeKind::raw},
                     {7, 4, EdgeKind::raw},
                     {8, 9, EdgeKind::cut},
                     {10, 11, EdgeKind::valley}}};
    const auto plan = precrease(p, hand, {});
    QVERIFY2(plan, plan ? "" : plan.error().c_str());
    const auto& moves = plan->programme.moves;
    QVERIFY(moves.size() >= 3);
    const auto cut_mm = [&](std::size_t back) {
      return length_of(std::get<Cut>(moves[moves.size() - back].effect).along);
    };
    QVERIFY(std::abs(cut_mm(2) - 80) < 1e-9); // the opening; the square's own edges are those of the sheet
    QVERIFY(std::abs(cut_mm(1) - 30) < 1e-9);
    p.edges.erase(p.edges.begin(), p.edges.begin() + 10);
    QVERIFY(precrease(p, hand, {}).error().find("outline") != std::string::npos);
  }

  void whole_lines_come_before_partial_ones_that_do_not_serve_them() {
    const auto plan = precrease(drawn("square-twists", 12), hand, {CreaseSchool::needed, false}, 12);
    QVERIFY(plan);
    // After the first crease made in part, a whole one follows only when it rests on a partial one.
    std::set<ElementId> partial;
    const auto rests_on_partial = [&](const Move& m) {
      for (const auto* ids : {&m.aligned.moving, &m.aligned.onto, &m.aligned.through}) {
        for (const ElementId id : *ids) {
          if (partial.contains(id)) return true;
          for (const ElementId line : plan->programme.find(id)->made_of) {
            if (partial.contains(line)) return true;
          }
        }
      }
      return false;
    };
    int partial_count = 0;
    for (const Move& m : plan->programme.moves) {
      if (!m.creases().makes || m.is(CreaseWay::both_ways)) continue;
      if (m.creases().extent == Extent::between) partial.insert(*m.creases().makes), ++partial_count;
      if (m.creases().extent == Extent::full && !partial.empty() && m.creases().fold == Fold::valley)
        QVERIFY(rests_on_partial(m));
    }
    QVERIFY(partial_count > 0);
  }

  void errors_agree_with_folding_many_times() {
    for (const char* name : {"chevron", "square-twists"}) {
      const CreasePattern pattern = drawn(name, 12);
      const auto lines = carrier_lines(pattern);
      const LineMaking made = made_by_folding(lines, convex_outline(pattern), hand, {});
      constexpr int runs = 3000;
      std::vector<std::array<double, 2>> squares(made.lines.size(), {0, 0});
      std::mt19937_64 random(11);
      for (int run = 0; run < runs; ++run) {
        const auto items = sampled(made.construction, hand.sigma_mm, random);
        QVERIFY(items);
        for (std::size_t i = 0; i < made.lines.size(); ++i) {
          if (made.lines[i].carrier < 0) continue;
          const CarrierLine& w = lines[static_cast<std::size_t>(made.lines[i].carrier)];
          const Line& line = (*items)[static_cast<std::size_t>(made.lines[i].items.back())].line;
          squares[i][0] += std::pow(line.distance(w.at(w.low())), 2);
          squares[i][1] += std::pow(line.distance(w.at(w.high())), 2);
        }
      }
      for (std::size_t i = 0; i < made.lines.size(); ++i) {
        if (made.lines[i].carrier < 0) continue;
        const double seen = std::sqrt(std::max(squares[i][0], squares[i][1]) / runs);
        QVERIFY2(std::abs(seen / made.sigma_mm[i] - 1) < 0.06,
                 qPrintable(QString("%1 line %2: %3 %4").arg(name).arg(i).arg(seen).arg(made.sigma_mm[i])));
      }
    }
  }

  void lines_that_nothing_makes_are_measured() {
    const auto plan = precrease(testing::vertex_pattern({90, 80, 50, 45, 40, 55}, "VMMMVM"), hand, {});
    QVERIFY(plan);
    QVERIFY(plan->measured >= 2);
    QVERIFY(plan->programme.moves.front().is(CreaseWay::mark));
    QVERIFY(move_text(plan->programme, 0).find("with a ruler") != std::string::npos);
    // Nothing worse than ruler marks at both ends and one fold through them.
    QVERIFY(plan->worst_sigma_mm < 4 * std::hypot(0.3, hand.sigma_mm));
  }

  void a_hexagon_is_divided_three_ways() {
    Polygon hexagon = regular_polygon(6, 120);
    CreasePattern p;
    p.vertices.assign(hexagon.begin(), hexagon.end());
    for (int i = 0; i < 6; ++i) p.edges.push_back({i, (i + 1) % 6, EdgeKind::raw});
    for (const Segment& s : grid_lines(PatternGrid::equilateral, 16, hexagon)) {
      // The grid's lines through the hexagon's corners and on its edges are left out.
      const Line l = Line::through(s.from, s.to);
      if (support(hexagon, l.normal).second - l.c < 1 || l.c - support(hexagon, l.normal).first < 1) continue;
      const int v = static_cast<int>(p.vertices.size());
      p.vertices.push_back(s.from);
      p.vertices.push_back(s.to);
      p.edges.push_back({v, v + 1, EdgeKind::valley});
    }
    const CreasePattern pattern = healed(p, {.tolerance_mm = 0, .split_crossings = true}).pattern;
    const auto plan = precrease(pattern, hand, {});
    QVERIFY(plan);
    QCOMPARE(plan->making.families.size(), std::size_t{3});
    QCOMPARE(plan->measured, 0);
    QVERIFY(plan->wanted.size() > 20);
    for (const LineInMaking& l : plan->making.lines) QVERIFY(l.family >= 0);
    QVERIFY(plan->rotations > 0); // to bring all three directions before the hand
    for (const GraduatedFamily& f : plan->making.families) QVERIFY(!f.plan.steps.empty());
  }

  void either_side_spares_the_half_turns() {
    for (const char* name : {"square-twists", "chevron"}) {
      const CreasePattern pattern = drawn(name, 12);
      HandProfile either = hand;
      either.either_side = true;
      const auto turned = precrease(pattern, hand, {});
      const auto plan = precrease(pattern, either, {});
      QVERIFY(plan && turned);
      QVERIFY(plan->rotations < turned->rotations);
      QCOMPARE(plan->folds, turned->folds);
      QVERIFY(std::abs(plan->worst_sigma_mm - turned->worst_sigma_mm) < 1e-9);
      for (const Move& m : plan->programme.moves) QVERIFY(std::abs(m.turn_deg()) <= 90 + 1e-9);
    }
  }

  /// Where the sheet lies and how large it is changes nothing but the scale of the errors.
  void turned_shifted_and_scaled_patterns_are_made_alike() {
    for (const char* name : {"chevron", "square-twists", "map"}) {
      const CreasePattern pattern = drawn(name, name[0] == 'm' ? 6 : 12);
      const auto plan = precrease(pattern, hand, {});
      CreasePattern turned = pattern;
      const Isometry turn = Isometry::rotation_about({13, 4}, 0.7);
      for (Point& v : turned.vertices) v = 2.5 * (turn * v) + Point{40, -7};
      HandProfile scaled = hand;
      scaled.sigma_mm *= 2.5;
      scaled.guess_sigma_mm *= 2.5;
      const auto other = precrease(turned, scaled, {});
      QVERIFY(plan && other);
      QCOMPARE(other->wanted.size(), plan->wanted.size());
      QCOMPARE(other->measured, plan->measured);
      QVERIFY2(std::abs(other->worst_sigma_mm - 2.5 * plan->worst_sigma_mm) < 0.02 * plan->worst_sigma_mm, name);
      QCOMPARE(other->turn_overs, plan->turn_overs);
    }
  }

  void projects_keep_and_fold_it() {
    Project p;
    p.sheet_name = "square:240mm";
    p.pattern = family_design("square-twists", {{"count", 12}});
    const auto division = division_of(p);
    const std::size_t grid = planned_programme(p, *division).moves.size();
    p.folded = FoldedWork::creases;
    p.pre_crease = {CreaseSchool::scored, true};
    const DrawnPattern pattern = drawn_pattern(p.pattern, p.sheet.outline());
    const auto plan = creases_of(p, pattern);
    QVERIFY(plan);
    p.programme = planned_moves(p, *division, &*plan).programme;
    QCOMPARE(p.programme.moves.size(), plan->programme.moves.size());
    QCOMPARE(planned_programme(p, *division).moves.size(), p.programme.moves.size()); // draws it itself
    QVERIFY(p.programme.moves.size() != grid);
    const auto back = project_from_text(project_text(p), "p");
    QVERIFY(back);
    QVERIFY(back->pre_crease == p.pre_crease);
    QCOMPARE(back->programme.moves.size(), p.programme.moves.size());
    for (std::size_t i = 0; i < p.programme.moves.size(); ++i)
      QCOMPARE(move_text(back->programme, i), move_text(p.programme, i));
    QVERIFY(project_subtitle(p, {}).find("scored") != std::string::npos);
    QVERIFY(references_csv(p.programme).find("crease") != std::string::npos);
    // A pattern that cannot be pre-creased is left out, and that is said; no other work takes its place.
    p.pattern = {};
    p.pattern.rules = {"nothing to draw"};
    const PlannedMoves nothing = planned_moves(p, *division);
    QVERIFY(nothing.programme.moves.empty());
    QCOMPARE(nothing.left_out.size(), std::size_t{1});
    QVERIFY(!creases_of(p, drawn_pattern(p.pattern, p.sheet.outline())));
  }

  void long_instructions_end_before_the_next_move() {
    const auto plan = precrease(drawn("square-twists", 12), hand, {CreaseSchool::needed, false}, 12);
    QVERIFY(plan);
    int moves = 0;
    PrintOptions small;
    small.small = true;
    const std::size_t all = plan->programme.moves.size();
    QCOMPARE(handout_pages(plan->programme, "twists", "", {}).size(), (all + 5) / 6);
    QCOMPARE(handout_pages(plan->programme, "twists", "", small).size(), (all + 11) / 12);
    for (const Page& page : handout_pages(plan->programme, "twists", "", {})) {
      Point began{-1, -1};
      for (const auto& item : page.items) {
        const auto* text = std::get_if<PageText>(&item);
        if (!text) continue;
        if (text->bold && text->size_mm == 7) {
          began = text->at;
          ++moves;
        } else if (text->at.x() == began.x()) {                        // the drawings' own labels stand elsewhere
          QVERIFY2(text->at.y() - began.y() < 77, text->text.c_str()); // rows stand 84 mm apart, numbers 7 mm below
        }
      }
    }
    QCOMPARE(moves, static_cast<int>(plan->programme.moves.size()));
  }

  void lines_are_named_as_the_sheet_lies() {
    Element e;
    e.role = Role::crease;
    e.index = 2;
    e.parts = 8;
    e.by_direction = true;
    e.spans = {{{60, 0}, {60, 240}}};
    QCOMPARE(element_name(e), std::string("the upright crease at 1/4"));
    SheetState turned;
    turned.turned_deg = 90;
    QCOMPARE(element_name(e, {}, turned), std::string("the level crease at 1/4"));
    e.spans = {{{0, 0}, {100, 100}}};
    QCOMPARE(element_name(e), std::string("the rising crease at 1/4"));
    SheetState over;
    over.underside_up = true;
    QCOMPARE(element_name(e, {}, over), std::string("the falling crease at 1/4"));
  }

  void plans_do_not_vary() {
    const CreasePattern pattern = drawn("square-twists", 12);
    const auto once = precrease(pattern, hand, {});
    const auto twice = precrease(pattern, hand, {});
    QCOMPARE(once->programme.moves.size(), twice->programme.moves.size());
    for (std::size_t i = 0; i < once->programme.moves.size(); ++i)
      QCOMPARE(move_text(once->programme, i), move_text(twice->programme, i));
  }
};

UC_TEST(PrecreaseTest)
#include "precrease_test.moc"
