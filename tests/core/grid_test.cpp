// Grids on sheets: families, extents and areas, the programme of moves, its sentences and figures.
#include "runner.h"
#include "support.h"

#include "divide/division.h"
#include "programme/figure.h"
#include "programme/holding.h"
#include "programme/text.h"

#include <cctype>
#include <map>
#include <numbers>
#include <optional>
#include <random>
#include <set>

using namespace uc;
using uc::testing::near;

namespace {

Sheet sheet(const char* text) { return parse_sheet(text).value(); }

GridSpec grid(int parts, GridAxis axis) {
  GridSpec spec;
  spec.parts = parts;
  spec.axis = axis;
  return spec;
}

double length_of(const std::vector<Segment>& spans) {
  double sum = 0;
  for (const Segment& s : spans) sum += s.length();
  return sum;
}

std::vector<Segment> spans(const char* text, const GridSpec& spec, std::size_t family, int index) {
  const GridLayout layout = lay_out(sheet(text), spec);
  return crease_spans(layout, layout.families[family], index, spec);
}

} // namespace

class GridTest : public QObject {
  Q_OBJECT
private slots:
  void families_span_the_sheet() {
    const GridLayout both = lay_out(sheet("210x297mm"), grid(8, GridAxis::both));
    QCOMPARE(both.families.size(), std::size_t{2});
    QVERIFY(near(both.families[0].extent_mm, 210, 1e-9) && near(both.families[1].extent_mm, 297, 1e-9));
    QCOMPARE(both.families[0].low_place, std::string("left"));
    QCOMPARE(both.families[1].high_place, std::string("top"));
    const GridLayout diagonal = lay_out(sheet("square:200mm"), grid(8, GridAxis::diagonal));
    QVERIFY(near(diagonal.families[0].extent_mm, 200 * std::sqrt(2.0), 1e-9));
    QVERIFY(diagonal.families[0].low_is_corner && diagonal.families[1].high_is_corner);
    QCOMPARE(diagonal.families[1].low_place, std::string("lower-left"));
  }

  void lines_of_a_grid_lie_at_equal_steps_and_on_the_paper() {
    for (const char* text :
         {"square:240mm", "a4", "strip:300x40mm", "ngon:3:200mm", "ngon:5:120mm", "ngon:6:100mm", "ngon:8:60mm"}) {
      for (const GridAxis axis :
           {GridAxis::x, GridAxis::y, GridAxis::both, GridAxis::diagonal, GridAxis::equilateral}) {
        const GridSpec spec = grid(6, axis);
        const GridLayout layout = lay_out(sheet(text), spec);
        for (const Family& f : layout.families) {
          for (int k = 0; k <= 6; ++k) {
            const Line line = line_at(f, k, 6);
            QVERIFY(near(line.c - line_at(f, 0, 6).c, f.extent_mm * k / 6, 1e-9));
            for (const Segment& s : crease_spans(layout, f, k, spec)) {
              QVERIFY(std::abs(line.distance(s.from)) < 1e-6 && std::abs(line.distance(s.to)) < 1e-6);
              for (const Point& p : {s.from, s.to, s.middle()}) {
                for (std::size_t i = 0; i < layout.area.size(); ++i) {
                  const Line edge = Line::through(layout.area[i], layout.area[(i + 1) % layout.area.size()]);
                  QVERIFY(edge.distance(p) < 1e-6);
                }
              }
            }
            if (k > 0 && k < 6) QVERIFY(length_of(crease_spans(layout, f, k, spec)) > 1);
          }
        }
      }
    }
  }

  void an_equilateral_grid_is_equilateral() {
    for (const char* text : {"ngon:6:100mm", "ngon:3:180mm", "square:240mm", "a4"}) {
      const GridLayout layout = lay_out(sheet(text), grid(8, GridAxis::equilateral));
      QVERIFY(layout.meets);
      QCOMPARE(layout.cut_first, std::string(text).find("ngon") == std::string::npos);
      for (const Family& f : layout.families) QVERIFY(near(f.extent_mm, layout.families[0].extent_mm, 1e-6));
      // Every crossing of lines of the first two directions lies on a line of the third.
      for (int i = 0; i <= 8; ++i) {
        for (int j = 0; j <= 8; ++j) {
          const Point p = *line_at(layout.families[0], i, 8).crossing(line_at(layout.families[1], j, 8));
          const double steps =
              (layout.families[2].normal.dot(p) - layout.families[2].low) / (layout.families[2].extent_mm / 8);
          QVERIFY(near(steps, std::round(steps), 1e-6));
        }
      }
    }
    QVERIFY(!lay_out(sheet("ngon:6:100mm"), grid(7, GridAxis::equilateral)).meets);
    QVERIFY(lay_out(sheet("ngon:3:100mm"), grid(7, GridAxis::equilateral)).meets);
  }

  void only_to_the_diagonals_gives_nested_squares() {
    GridSpec spec = grid(8, GridAxis::both);
    spec.extent = ExtentRule::to_diagonals;
    for (int k = 1; k < 8; ++k)
      QVERIFY(near(length_of(spans("square:160mm", spec, 0, k)), std::abs(160 - 40 * k), 1e-6));
    QVERIFY(near(spans("square:160mm", spec, 0, 1)[0].from.y(), 20, 1e-6) ||
            near(spans("square:160mm", spec, 0, 1)[0].to.y(), 20, 1e-6));
    const auto division = divide(sheet("square:160mm"), spec, HandProfile{});
    QVERIFY(division.ok());
    bool pinched_middle = false;
    for (const Move& m : division->programme.moves)
      pinched_middle =
          pinched_middle || (m.creases().makes == line_element_id(0, 4) && m.creases().extent == Extent::pinch);
    QVERIFY(pinched_middle);
    spec.pinches_allowed = false;
    const auto without = divide(sheet("square:160mm"), spec, HandProfile{});
    QVERIFY(without.ok());
    QVERIFY(!without->plans[0].missing.empty());
    QCOMPARE(without->plans[0].missing[0].needs, 4);
  }

  void creases_stop_units_in_from_both_sides() {
    GridSpec spec = grid(10, GridAxis::both);
    spec.extent = ExtentRule::inset;
    spec.inset = 2;
    QVERIFY(near(length_of(spans("square:200mm", spec, 0, 3)), 120, 1e-6));
    spec.inset = 5;
    QVERIFY(!check_spec(spec, HandProfile{}));
  }

  void areas_stay_clean() {
    GridSpec spec = grid(8, GridAxis::both);
    spec.keep_clean = {{{50, 50}, {110, 110}}};
    const auto division = divide(sheet("square:160mm"), spec, HandProfile{});
    QVERIFY(division.ok());
    for (const Move& m : division->programme.moves) {
      for (const Segment& s : m.creases().spans) {
        for (double t = 0.01; t < 1; t += 0.02) {
          const Point p = s.at(t);
          QVERIFY(!(p.x() > 50.01 && p.x() < 109.99 && p.y() > 50.01 && p.y() < 109.99));
        }
      }
    }
    QVERIFY(near(length_of(spans("square:160mm", spec, 0, 4)), 100, 1e-6));
    QVERIFY(near(length_of(spans("square:160mm", spec, 0, 1)), 160, 1e-6));
    // An area over a whole line forbids even the pinch at its ends.
    spec.axis = GridAxis::x;
    spec.keep_clean = {{{70, -1}, {90, 161}}};
    const auto cut = divide(sheet("square:160mm"), spec, HandProfile{});
    QVERIFY(!cut->plans[0].missing.empty());
  }

  void the_programme_makes_each_crease_after_what_it_needs() {
    for (const GridAxis axis : {GridAxis::both, GridAxis::diagonal, GridAxis::equilateral}) {
      for (const DirectionRule direction :
           {DirectionRule::valley, DirectionRule::alternating, DirectionRule::both_ways}) {
        GridSpec spec = grid(9, axis);
        spec.direction = direction;
        const auto d = divide(sheet("ngon:6:120mm"), spec, HandProfile{});
        QVERIFY(d.ok());
        std::set<ElementId> made;
        bool underside = false;
        for (const Move& m : d->programme.moves) {
          if (m.is(HandleWay::turn_over)) underside = !underside;
          for (const auto* ids : {&m.aligned.moving, &m.aligned.onto}) {
            for (const ElementId id : *ids) {
              const Element* e = d->programme.find(id);
              QVERIFY(e);
              QVERIFY(e->role != Role::crease || made.count(id) == 1);
            }
          }
          if (m.creases().makes) made.insert(*m.creases().makes);
          // A mountain of the face is folded as a valley from the underside.
          if (m.is(CreaseWay::align) && m.creases().extent != Extent::pinch && direction == DirectionRule::alternating)
            QCOMPARE(m.creases().fold == Fold::mountain, underside);
          if (m.is(CreaseWay::both_ways)) QVERIFY(underside);
        }
        QCOMPARE(d->turn_overs, d->programme.count(HandleWay::turn_over));
        QCOMPARE(d->rotations, d->programme.count(HandleWay::rotate));
        QVERIFY(near(d->minutes, d->programme.planned_seconds() / 60, 1e-9));
        const SheetState end = state_after(d->programme, static_cast<int>(d->programme.moves.size()));
        QCOMPARE(end.creases.size(), d->plans.size() * 8 + static_cast<std::size_t>(d->guides));
        for (const auto& c : end.creases) QCOMPARE(c.both_ways, direction == DirectionRule::both_ways);
      }
    }
  }

  void the_moving_edge_is_always_on_the_same_hand() {
    // After the rotations, whatever is brought over comes from the left as the sheet lies (face up).
    const auto d = divide(sheet("square:240mm"), grid(12, GridAxis::both), HandProfile{});
    for (std::size_t i = 0; i < d->programme.moves.size(); ++i) {
      const Figure f = move_figure(d->programme, static_cast<int>(i));
      for (const auto& arrow : f.arrows)
        QVERIFY2(arrow.from.x() < arrow.to.x() + 1e-6, qPrintable(QString("move %1").arg(i + 1)));
    }
  }

  void who_folds_from_either_side_needs_no_half_turns() {
    for (const char* text : {"square:240mm", "ngon:6:100mm"}) {
      for (const int parts : {7, 12, 16}) {
        const GridSpec spec = grid(parts, text[0] == 's' ? GridAxis::both : GridAxis::equilateral);
        HandProfile hand;
        const auto turned = divide(sheet(text), spec, hand);
        hand.either_side = true;
        const auto d = divide(sheet(text), spec, hand);
        QVERIFY(d);
        // The sheet is rotated only from one direction of lines to the next, and nothing else is lost or gained.
        QCOMPARE(d->rotations, static_cast<int>(d->plans.size()) - 1);
        QCOMPARE(d->programme.count(HandleWay::rotate), d->rotations);
        QVERIFY(turned->rotations > d->rotations);
        QVERIFY(d->minutes < turned->minutes);
        QVERIFY(near(d->worst_sigma_mm, turned->worst_sigma_mm, 1e-12));
        QCOMPARE(d->programme.moves.size() - static_cast<std::size_t>(d->rotations),
                 turned->programme.moves.size() - static_cast<std::size_t>(turned->rotations));
        // Paper always comes over the same way or against it; on a square from the left or from the right.
        std::optional<Point> way;
        for (std::size_t i = 0; i < d->programme.moves.size(); ++i) {
          const Move& m = d->programme.moves[i];
          if (m.is(HandleWay::rotate)) QVERIFY(std::abs(m.turn_deg()) <= 90 + 1e-9);
          for (const auto& arrow : move_figure(d->programme, static_cast<int>(i)).arrows) {
            const Point d1 = (arrow.to - arrow.from).normalized();
            if (!way) way = d1;
            QVERIFY(std::abs(way->x() * d1.y() - way->y() * d1.x()) < 1e-6);
          }
        }
        QVERIFY(way && (text[0] == 'n' || std::abs(way->y()) < 1e-6));
      }
    }
  }

  void the_sheet_is_turned_to_the_hand() {
    std::mt19937_64 random(12);
    std::uniform_real_distribution<double> turn(0, 360);
    for (const bool either : {false, true}) {
      HandProfile hand;
      hand.either_side = either;
      hand.rotate_seconds = 5;
      Holding holding(hand);
      const auto way_at = [](double degrees) {
        return Point(std::cos(degrees * std::numbers::pi / 180), std::sin(degrees * std::numbers::pi / 180));
      };
      const double first = turn(random);
      QVERIFY(!holding.lies_along(way_at(first)));
      QVERIFY(!holding.take(way_at(first), false)); // taken up as it suits
      QVERIFY(holding.lies_along(way_at(first)) && holding.lies_along(-way_at(first)));
      double lies = 0; // how far the sheet has been rotated as the folder sees it
      for (int i = 0; i < 60; ++i) {
        const double wanted = i % 5 == 4 ? first + 180 : turn(random);
        const bool needed = holding.needs_turn(way_at(wanted));
        const auto move = holding.take(way_at(wanted), false);
        QCOMPARE(move.has_value(), needed);
        if (move) {
          QVERIFY(move->is(HandleWay::rotate));
          QCOMPARE(move->seconds, 5.0);
          QVERIFY(std::abs(move->turn_deg()) <= (either ? 90 : 180) + 1e-9);
          lies += move->turn_deg();
        }
        const double off = std::remainder(wanted + lies - first, either ? 180 : 360);
        QVERIFY2(std::abs(off) < 1e-6, qPrintable(QString::number(off)));
        QVERIFY(!holding.needs_turn(way_at(wanted)));
      }
      // Seen from the underside the same rotation runs the other way.
      Holding above(hand);
      Holding below(hand);
      (void)above.take(way_at(10), false), (void)below.take(way_at(10), true);
      QVERIFY(near(above.take(way_at(50), false)->turn_deg(), -below.take(way_at(50), true)->turn_deg(), 1e-9));
    }
  }

  void rays_meet_segments_where_lines_cross() {
    std::mt19937_64 random(13);
    std::uniform_real_distribution<double> u(-100, 100);
    const auto any = [&] { return Point(u(random), u(random)); };
    for (int i = 0; i < 500; ++i) {
      const Point from = any();
      const Point direction = any();
      const Segment s{any(), any()};
      const auto hit = ray_hit(from, direction, s);
      const auto at = Line::through(from, from + direction).crossing(Line::through(s.from, s.to));
      QVERIFY(hit && at);
      QVERIFY((from + hit->along * direction - *at).norm() < 1e-6 * (1 + at->norm()));
      QVERIFY((s.at(hit->at) - *at).norm() < 1e-6 * (1 + at->norm()));
      QVERIFY(!ray_hit(from, direction, {s.from, s.from + 0.3 * direction}));
    }
  }

  void what_is_brought_together_meets() {
    for (const char* text : {"square:240mm", "ngon:6:100mm"}) {
      const auto d = divide(sheet(text), grid(10, GridAxis::diagonal), HandProfile{});
      for (std::size_t i = 0; i < d->programme.moves.size(); ++i) {
        const Move& m = d->programme.moves[i];
        if (!m.is(CreaseWay::align)) continue;
        const auto line = [&](ElementId id) {
          const Element* e = d->programme.find(id);
          return line_at(d->layout.families[static_cast<std::size_t>(id.plan)], e->index, e->parts);
        };
        const Isometry fold = Isometry::reflection_in(line(*m.creases().makes));
        const Line from = line(m.aligned.moving[0]);
        QVERIFY(std::abs(line(m.aligned.onto[0]).distance(fold * Point(from.normal * from.c))) < 1e-9 * 240);
      }
    }
  }

  void sentences_name_what_the_folder_sees() {
    const auto d = divide(sheet("square:240mm"), grid(8, GridAxis::x), HandProfile{});
    const Programme& p = d->programme;
    QCOMPARE(move_text(p, 0), std::string("Bring the left edge to the right edge. Crease from edge to edge. Unfold."));
    // After a half turn the right edge lies on the left.
    bool turned = false;
    for (std::size_t i = 0; i < p.moves.size(); ++i) {
      const Move& m = p.moves[i];
      if (m.is(HandleWay::rotate)) turned = !turned;
      if (!m.is(CreaseWay::align)) continue;
      QVERIFY2(move_text(p, i).find("Bring the left edge") == 0, move_text(p, i).c_str());
      TextStyle bare;
      bare.as_it_lies = false;
      const bool low = p.find(m.aligned.moving[0])->index == 0;
      QCOMPARE(move_text(p, i, bare).find(low ? "Bring the left edge" : "Bring the right edge"), std::size_t{0});
    }
    QVERIFY(ProgrammeTeller(p).check(0).find("0.41 mm") != std::string::npos);
    TextStyle shout;
    shout.translate = [](const char* phrase) { return "<" + std::string(phrase) + ">"; };
    QCOMPARE(move_text(p, 0, shout).substr(0, 7), std::string("<Bring "));
    GridSpec cut = grid(6, GridAxis::equilateral);
    const auto hexagon = divide(sheet("square:240mm"), cut, HandProfile{});
    QVERIFY(hexagon->programme.moves[0].is<Cut>());
    QVERIFY(caution_text(hexagon->programme.moves[0].caution).find("maker's instructions") != std::string::npos);
  }

  void every_kind_of_move_has_words() {
    Programme p;
    p.sheet = sheet("square:100mm").outline();
    Element crease;
    crease.id = {ElementSource::grid, 0, 2};
    crease.index = 2;
    crease.parts = 8;
    p.elements = {crease};
    std::map<std::string, std::string> told;
    for (const char* word :
         {"align", "crease-through", "crease-between", "guess",     "score",    "mark", "work-both-ways",
          "pinch", "fold",           "unfold",         "turn-over", "rotate",   "wait", "damp",
          "clip",  "glue",           "curl",           "check",     "collapse", "join", "cut"}) {
      Move m;
      m.effect = effect_named(word).value();
      QCOMPARE(kind_name(m), std::string(word));
      m.aligned.moving = m.aligned.onto = {crease.id};
      if (auto* made = std::get_if<MakeCreases>(&m.effect)) made->makes = crease.id;
      p.moves = {m};
      const std::string text = move_text(p, 0);
      QVERIFY2(text.size() > 6 && text.back() == '.', text.c_str());
      QVERIFY2(std::isupper(static_cast<unsigned char>(text.front())) && text.find('{') == std::string::npos &&
                   text.find('?') == std::string::npos && text.find("  ") == std::string::npos,
               text.c_str());
      const auto [other, fresh] = told.emplace(text, word); // no two kinds read alike
      QVERIFY2(fresh, (text + " " + other->second + " " + word).c_str());
      QVERIFY(!ProgrammeTeller(p).short_text(0).empty());
      // What a move does decides what is left of it, and that is drawn.
      const SheetState after = state_after(p, 1);
      QCOMPARE(after.creases.size(), std::size_t(m.is<MakeCreases>() && !m.is(CreaseWay::both_ways)));
      QCOMPARE(after.underside_up, m.is(HandleWay::turn_over));
      QCOMPARE(move_figure(p, 0).turns_over, m.is(HandleWay::turn_over));
    }
    for (const char* word : {"", "pinched", "Align", "fold ", "none"}) QVERIFY(!effect_named(word));
    for (const Extent e : {Extent::full, Extent::pinch, Extent::to_diagonals, Extent::inset, Extent::partial})
      QCOMPARE(named<Extent>(name_of(e)), std::optional(e));
    for (const Caution c : {Caution::blade, Caution::glue, Caution::damp, Caution::heat, Caution::small_parts})
      QVERIFY(!caution_text(c).empty());
  }

  void turning_over_mirrors_and_swaps() {
    GridSpec spec = grid(4, GridAxis::x);
    spec.direction = DirectionRule::alternating;
    const auto d = divide(sheet("square:100mm"), spec, HandProfile{});
    const Figure face = crease_figure(d->programme, false);
    const Figure under = crease_figure(d->programme, true);
    QCOMPARE(face.lines.size(), under.lines.size());
    for (std::size_t i = 0; i < face.lines.size(); ++i) {
      QVERIFY(near(under.lines[i].segment.from.x(), 100 - face.lines[i].segment.from.x(), 1e-9));
      QVERIFY((face.lines[i].style == LineStyle::valley) == (under.lines[i].style == LineStyle::mountain));
    }
    SheetState state;
    state.turned_deg = 90;
    const Isometry turned = view_of(state, {50, 50});
    QVERIFY((turned * Point(100, 50) - Point(50, 100)).norm() < 1e-9);
    state.underside_up = true;
    QVERIFY((view_of(state, {50, 50}) * Point(100, 50) - Point(50, 0)).norm() < 1e-9);
  }

  void moves_may_be_reordered_only_where_nothing_depends() {
    const auto d = divide(sheet("square:240mm"), grid(8, GridAxis::x), HandProfile{});
    const Programme& p = d->programme;
    QVERIFY(!may_reorder(p, 0, 1));
    int allowed = 0;
    for (int from = 0; from < static_cast<int>(p.moves.size()); ++from) {
      for (int to = 0; to < static_cast<int>(p.moves.size()); ++to) {
        if (!may_reorder(p, from, to)) continue;
        ++allowed;
        const Programme changed = reordered(p, from, to);
        std::set<ElementId> made;
        for (const Move& m : changed.moves) {
          for (const auto* ids : {&m.aligned.moving, &m.aligned.onto}) {
            for (const ElementId id : *ids) QVERIFY(changed.find(id)->role != Role::crease || made.count(id));
          }
          if (m.creases().makes) made.insert(*m.creases().makes);
        }
      }
    }
    QVERIFY(allowed > 0);
    QVERIFY(!may_reorder(p, -1, 0) && !may_reorder(p, 0, 99) && !may_reorder(p, 2, 2));
  }

  void skipped_moves_leave_no_mark() {
    const auto d = divide(sheet("square:240mm"), grid(4, GridAxis::x), HandProfile{});
    QCOMPARE(state_after(d->programme, 99).creases.size(), std::size_t{3});
    QCOMPARE(state_after(d->programme, 99, {0}).creases.size(), std::size_t{2});
    QCOMPARE(state_after(d->programme, 0).creases.size(), std::size_t{0});
  }
};

UC_TEST(GridTest)
#include "grid_test.moc"
