// Where the division of an odd count starts: folded starts land on their line, and what they miss is carried on.
#include "runner.h"
#include "support.h"

#include "divide/starts.h"
#include "divide/steps.h"
#include "io/project_file.h"
#include "programme/text.h"
#include "reference/recipe.h"

#include <set>

using namespace uc;
using uc::testing::near;

namespace {

GridSpec spec_of(int parts, GridAxis axis) {
  GridSpec spec;
  spec.parts = parts;
  spec.axis = axis;
  return spec;
}

/// Position of a folded start along its direction, from its recipe alone; NaN when it is no line square to the edge.
double landed(const Sheet& sheet, const std::string& recipe, bool level) {
  const auto r = parse_recipe(sheet.outline(), recipe);
  if (!r) return NAN;
  const Line line = r->construction[r->results[0]].line;
  const double along = level ? line.normal.y() : line.normal.x();
  return std::abs(std::abs(along) - 1) < 1e-9 ? line.c / along : NAN;
}

} // namespace

class StartsTest : public QObject {
  Q_OBJECT

private slots:
  void folded_starts_land_on_their_line() {
    const Sheet square = Sheet::square(Millimetres{240});
    const Sheet sheet = Sheet::rectangle(Millimetres{210}, Millimetres{297});
    for (int odd = 3; odd <= 63; odd += 2) {
      for (const int parts : {odd, 2 * odd, 4 * odd}) {
        if (parts > greatest_parts) continue;
        for (const GridAxis axis : {GridAxis::x, GridAxis::y}) {
          const bool level = axis == GridAxis::y;
          const auto diagonals = start_of(sheet, spec_of(parts, axis), HandProfile{}, StartKind::diagonals);
          QVERIFY2(diagonals, diagonals ? "" : diagonals.error().c_str());
          const double extent = level ? 297 : 210;
          QVERIFY(near(landed(sheet, diagonals->recipes[0], level), extent * diagonals->line / parts, 1e-8));
          const auto corner = start_of(square, spec_of(parts, axis), HandProfile{}, StartKind::corner_fold);
          QVERIFY2(corner, corner ? "" : corner.error().c_str());
          QVERIFY(near(landed(square, corner->recipes[0], level), 240.0 * corner->line / parts, 1e-8));
          QVERIFY(corner->sigma_mm > 0 && diagonals->sigma_mm > 0);
        }
      }
    }
  }

  void binary_approximation_is_near_enough() {
    const Sheet sheet = Sheet::square(Millimetres{240});
    for (const int parts : {3, 5, 7, 11, 13, 21, 100}) {
      const auto start = start_of(sheet, spec_of(parts, GridAxis::x), HandProfile{}, StartKind::binary);
      QVERIFY2(start, start ? "" : start.error().c_str());
      const double off = std::abs(landed(sheet, start->recipes[0], false) - 240.0 * start->line / parts);
      QVERIFY2(off < 0.5, qPrintable(QString("%1: %2 mm").arg(parts).arg(off)));
      // Bringing edges to creases leaves less than 4/3 s²; the rest is what the halving misses.
      QVERIFY(start->sigma_mm >= off && std::pow(start->sigma_mm, 2) - off * off < 4.0 / 3 * 0.0625 + 1e-9);
    }
  }

  void searched_starts_are_at_least_as_good() {
    const Sheet sheet = Sheet::square(Millimetres{240});
    IndexLimits limits;
    limits.third = 1000;
    limits.all = 60000;
    const auto index = SheetIndex::build(sheet.outline(), limits);
    const auto found = start_of(sheet, spec_of(7, GridAxis::both), HandProfile{}, StartKind::route, &*index);
    QVERIFY2(found, found ? "" : found.error().c_str());
    QCOMPARE(found->recipes.size(), std::size_t{2});
    QVERIFY(near(landed(sheet, found->recipes[1], true), 240.0 * found->line / 7, 0.5));
    const auto diagonals = start_of(sheet, spec_of(7, GridAxis::both), HandProfile{}, StartKind::diagonals);
    QVERIFY(found->sigma_mm <= diagonals->sigma_mm);
  }

  void the_error_is_carried_into_every_line() {
    const Sheet sheet = Sheet::square(Millimetres{240});
    GridSpec spec = spec_of(12, GridAxis::x);
    spec.method = Method::edges;
    spec.start = *start_of(sheet, spec, HandProfile{}, StartKind::diagonals);
    const auto coarse = divide(sheet, spec, HandProfile{});
    const GridPlan& plan = coarse->plans[0];
    const LineErrors errors = replay(plan.task, plan.steps);
    QVERIFY(near(plan.task.start->sigma_mm, spec.start->sigma_mm, 1e-12));
    for (int k = 1; k < 12; ++k)
      QVERIFY(near(plan.line_sigma_mm[static_cast<std::size_t>(k)], std::sqrt(errors.variance(k)), 1e-9));
    // A steadier hand makes the same start more exact, and with it every line.
    HandProfile steady;
    steady.sigma_mm = 0.1;
    const auto fine = divide(sheet, spec, steady);
    QVERIFY(near(fine->spec.start->sigma_mm, 0.4 * spec.start->sigma_mm, 1e-9));
    QVERIFY(near(fine->worst_sigma_mm, 0.4 * coarse->worst_sigma_mm, 1e-9));
  }

  void start_moves_come_first_and_make_the_line() {
    const Sheet sheet = Sheet::square(Millimetres{240});
    for (const StartKind kind : all_starts) {
      if (kind == StartKind::route) continue;
      for (const GridAxis axis : {GridAxis::x, GridAxis::both}) {
        GridSpec spec = spec_of(14, axis);
        spec.start = *start_of(sheet, spec, HandProfile{}, kind);
        const auto d = divide(sheet, spec, HandProfile{});
        QVERIFY(d->start_fits && d->start_moves > 0);
        std::set<ElementId> there;
        for (const Element& e : d->programme.elements) {
          if (e.existing || e.role != Role::crease) there.insert(e.id);
          QVERIFY2(!(e.existing && e.index == spec.start->line), "the start is folded, not found");
        }
        const ProgrammeTeller teller(d->programme);
        for (std::size_t i = 0; i < d->programme.moves.size(); ++i) {
          const Move& m = d->programme.moves[i];
          for (const auto* ids : {&m.aligned.moving, &m.aligned.onto, &m.aligned.through}) {
            for (const ElementId id : *ids) {
              QVERIFY2(d->programme.find(id), "every move names things that exist");
              const Element* e = d->programme.find(id);
              QVERIFY2(e->role == Role::point || there.count(id), teller.text(i).c_str());
            }
          }
          if (m.creases().makes) there.insert(*m.creases().makes);
          QVERIFY(teller.text(i).find('?') == std::string::npos);
        }
        for (std::size_t f = 0; f < d->plans.size(); ++f) QVERIFY(there.count(line_element_id(f, spec.start->line)));
      }
    }
  }

  void a_ruler_mark_says_where() {
    const Sheet sheet = Sheet::square(Millimetres{240});
    GridSpec spec = spec_of(3, GridAxis::x);
    spec.start = *start_of(sheet, spec, HandProfile{}, StartKind::ruler);
    const auto d = divide(sheet, spec, HandProfile{});
    const std::string text = move_text(d->programme, 0);
    QVERIFY2(text.find("80") != std::string::npos && text.find("left edge") != std::string::npos, text.c_str());
  }

  void a_start_that_no_longer_fits_is_left_out() {
    GridSpec spec = spec_of(7, GridAxis::x);
    spec.start = *start_of(Sheet::square(Millimetres{240}), spec, HandProfile{}, StartKind::corner_fold);
    const auto d = divide(Sheet::rectangle(Millimetres{100}, Millimetres{300}), spec, HandProfile{});
    QVERIFY(d);
    QVERIFY(!d->start_fits && !d->spec.start);
  }

  void no_start_where_none_is_of_use() {
    const Sheet sheet = Sheet::square(Millimetres{240});
    QVERIFY(!start_of(sheet, spec_of(8, GridAxis::x), HandProfile{}, StartKind::diagonals));
    QVERIFY(!start_of(sheet, spec_of(9, GridAxis::diagonal), HandProfile{}, StartKind::diagonals));
    QVERIFY(!start_of(sheet, spec_of(9, GridAxis::x), HandProfile{}, StartKind::route));
    QVERIFY(!start_of(Sheet::rectangle(Millimetres{210}, Millimetres{297}), spec_of(9, GridAxis::x), HandProfile{},
                      StartKind::corner_fold));
    QVERIFY(compare_starts(sheet, spec_of(16, GridAxis::both), HandProfile{}).empty());
    QCOMPARE(compare_starts(sheet, spec_of(9, GridAxis::both), HandProfile{}).size(), std::size_t{5});
  }

  void rounds_of_a_guess() {
    for (const int parts : {3, 5, 7, 9, 11, 15}) {
      DivideTask task;
      task.parts = parts;
      const GridPlan plan = plan_division(task, Method::iterated);
      const int rounds = rounds_of(plan);
      QVERIFY2(rounds >= 1 && rounds < 9, qPrintable(QString("%1: %2").arg(parts).arg(rounds)));
      // Twice as good a guess never takes more rounds.
      task.guess_sigma_mm = 0.5;
      QVERIFY(rounds_of(plan_division(task, Method::iterated)) <= rounds);
    }
  }

  void references_of_a_project_are_folded_first() {
    Project p;
    p.stock = generic_stocks().front();
    p.grid = spec_of(4, GridAxis::x);
    p.references = {
        {"One third", "bottom:1/3",
         "c1 = O3 left right\nc2 = O1 bl tr\np1 = cross c1 top\nc3 = O1 br p1\np2 = cross c2 c3\nresult p2\n", false},
        {"Triangle", "",
         "c1 = O3 left right\nc2 = O3 bottom top\nc3 = O5 tl bl c2\np1 = cross c3 c1\n"
         "result bl br p1\n",
         true}};
    const Division d = *division_of(p);
    p.programme = planned_programme(p, d);
    QCOMPARE(p.programme.moves.size(), std::size_t{3 + 1 + 3 + 1} + d.programme.moves.size());
    QCOMPARE(p.programme.count<Cut>(), 1);
    std::set<ElementId> ids;
    for (const Element& e : p.programme.elements) QVERIFY2(ids.insert(e.id).second, "ids are used once");
    const auto again = project_from_text(project_text(p), "test");
    QVERIFY2(again, again ? "" : again.error().c_str());
    QVERIFY(again->references == p.references);
    QVERIFY(json_of(again->programme) == json_of(p.programme));
    p.folded = FoldedWork::references;
    QCOMPARE(planned_programme(p, d).moves.size(), std::size_t{8});
    p.references[0].recipe = "c1 = O3 bottom roof";
    QCOMPARE(planned_programme(p, d).moves.size(), std::size_t{4});
  }
};

UC_TEST(StartsTest)
#include "starts_test.moc"
