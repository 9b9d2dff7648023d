// Division plans: the facts of the error model, the optimum against exhaustive search, the model against a simulation
// of the folding itself, and what extents and forbidden areas leave possible.
#include "runner.h"
#include "support.h"

#include "divide/division.h"

#include <functional>
#include <random>

using namespace uc;
using uc::testing::near;

namespace {

double worst_variance(const GridPlan& plan) { return std::pow(plan.worst_sigma_mm / plan.task.sigma_mm, 2); }

DivideTask task_of(int parts) {
  DivideTask task;
  task.parts = parts;
  return task;
}

/// Least worst-line variance (s = 1) over all sequences of at most `moves` folds and guesses, by trying them all.
/// `bound` cuts branches whose finished lines are already worse and were not made again.
class Exhaustive {
public:
  Exhaustive(int parts, double guess_variance) : parts_(parts), guess_(guess_variance) {}

  double search(int moves, std::optional<StartMark> start = std::nullopt) {
    LineErrors errors(parts_ + 1);
    errors.set_exact(0);
    errors.set_exact(parts_);
    std::vector<char> folded(static_cast<std::size_t>(parts_) + 1, 0);
    if (start) {
      errors.set_independent(start->line, start->sigma_mm * start->sigma_mm);
      folded[static_cast<std::size_t>(start->line)] = 1;
    }
    best_ = 1e300;
    go(errors, folded, moves);
    return best_;
  }

private:
  void go(const LineErrors& errors, const std::vector<char>& folded, int left) {
    int missing = 0;
    double worst = 0;
    for (int k = 1; k < parts_; ++k) {
      if (!errors.known(k) || !folded[static_cast<std::size_t>(k)])
        ++missing;
      else
        worst = std::max(worst, errors.variance(k));
    }
    if (missing == 0) best_ = std::min(best_, worst);
    int bad = missing;
    for (int k = 1; k < parts_; ++k)
      bad += errors.known(k) && folded[static_cast<std::size_t>(k)] && errors.variance(k) >= best_;
    if (left == 0 || bad > left) return;
    const auto with = [&](const std::function<void(LineErrors&)>& move, int makes, bool fold) {
      LineErrors next = errors;
      move(next);
      auto now = folded;
      now[static_cast<std::size_t>(makes)] = fold;
      go(next, now, left - 1);
    };
    for (int a = 0; a <= parts_; ++a) {
      if (!errors.known(a)) continue;
      for (int b = 0; b <= parts_; ++b) {
        if (a == b || !errors.known(b)) continue;
        if (a < b && (a + b) % 2 == 0) with([&](LineErrors& e) { e.bring(a, b, (a + b) / 2, 1); }, (a + b) / 2, true);
        const int m = 2 * a - b;
        if (a > 0 && a < parts_ && m > 0 && m < parts_) with([&](LineErrors& e) { e.through(a, b, m, 1); }, m, true);
      }
    }
    if (guess_ > 0) {
      for (int k = 1; k < parts_; ++k) {
        if (!errors.known(k)) with([&](LineErrors& e) { e.set_independent(k, guess_); }, k, false);
      }
    }
  }

  int parts_;
  double guess_;
  double best_ = 0;
};

} // namespace

class DivideTest : public QObject {
  Q_OBJECT
private slots:
  void facts_data() { testing::add_rows(testing::cases("divide_facts.json")); }
  void facts() {
    const Json c = testing::row();
    const GridPlan plan = plan_division(task_of(c["parts"]), *named<Method>(c["method"].get<std::string>()));
    double v = worst_variance(plan);
    if (c.value("rounded", false)) v = std::round(v);
    QVERIFY(near(v, c["worst_variance"], 1e-9));
    QCOMPARE(plan.creases, c["creases"].get<int>());
  }

  void every_method_makes_every_line_from_known_ones() {
    for (int parts = least_parts; parts <= greatest_parts; parts = parts < 40 ? parts + 1 : parts + 23) {
      for (const Method method : all_methods) {
        const GridPlan plan = plan_division(task_of(parts), method);
        std::vector<char> known(static_cast<std::size_t>(parts) + 1, 0);
        known.front() = known.back() = 1;
        std::vector<char> full(known.size(), 0);
        for (const GridStep& s : plan.steps) {
          if (s.kind != StepKind::guess) {
            QVERIFY(known[static_cast<std::size_t>(s.a)] && known[static_cast<std::size_t>(s.b)]);
            QCOMPARE(s.kind == StepKind::bring ? 2 * s.makes : s.makes,
                     s.kind == StepKind::bring ? s.a + s.b : 2 * s.a - s.b);
          }
          known[static_cast<std::size_t>(s.makes)] = 1;
          full[static_cast<std::size_t>(s.makes)] = !s.pinch;
        }
        for (int k = 1; k < parts; ++k)
          QVERIFY2(full[static_cast<std::size_t>(k)],
                   qPrintable(QString("%1 %2 line %3").arg(parts).arg(QString::fromStdString(name_of(method))).arg(k)));
        const LineErrors errors = replay(plan.task, plan.steps);
        for (int k = 1; k < parts; ++k)
          QVERIFY(near(std::sqrt(errors.variance(k)), plan.line_sigma_mm[static_cast<std::size_t>(k)], 1e-12));
      }
    }
  }

  void best_is_near_the_limit_for_every_count_and_never_above_another_method() {
    for (int parts = least_parts; parts <= greatest_parts; ++parts) {
      const GridPlan best = plan_division(task_of(parts), Method::best);
      const bool power = (parts & (parts - 1)) == 0;
      const double optimum = 4.0 / 3 * (power ? 1 - 1.0 / (double(parts) * parts) : 1);
      QVERIFY(worst_variance(best) >= optimum * (1 - 1e-12));
      QVERIFY(worst_variance(best) <= optimum * (power ? 1 + 1e-12 : 1.01 * 1.01));
      if (power) QCOMPARE(best.creases, parts - 1);
      for (const Method other : {Method::edges, Method::neighbours, Method::stepping, Method::iterated}) {
        QVERIFY(best.worst_sigma_mm <= plan_division(task_of(parts), other).worst_sigma_mm + 1e-12);
      }
    }
  }

  void no_sequence_of_moves_beats_best() {
    // Powers of two: exactly the optimum, and spare moves do not help.
    QVERIFY(near(Exhaustive(2, 0).search(3), worst_variance(plan_division(task_of(2), Method::best)), 1e-12));
    QVERIFY(near(Exhaustive(4, 0).search(5), worst_variance(plan_division(task_of(4), Method::best)), 1e-12));
    QVERIFY(near(Exhaustive(8, 0).search(7), worst_variance(plan_division(task_of(8), Method::best)), 1e-12));
    // Others: more folds than best takes never get under its error by more than one per cent.
    for (const auto& [parts, moves] : {std::pair{3, 8}, {5, 6}, {6, 6}}) {
      const double found = Exhaustive(parts, 64).search(moves);
      const double best = worst_variance(plan_division(task_of(parts), Method::best));
      QVERIFY2(std::sqrt(best) <= 1.01 * std::sqrt(found),
               qPrintable(QString("%1: %2 against %3").arg(parts).arg(best).arg(found)));
    }
  }

  void no_sequence_from_a_start_mark_beats_best() {
    for (const auto& [parts, line] : {std::pair{3, 1}, {5, 2}, {6, 2}, {7, 3}, {4, 1}, {8, 3}}) {
      for (const double sigma : {0.0, 0.1, 0.25}) {
        DivideTask task = task_of(parts);
        task.start = StartMark{line, sigma};
        const GridPlan best = plan_division(task, Method::best);
        const double found = Exhaustive(parts, 0).search(parts, StartMark{line, sigma / task.sigma_mm});
        QVERIFY2(std::sqrt(worst_variance(best)) <= 1.01 * std::sqrt(found),
                 qPrintable(QString("%1 parts from %2 at %3: %4 against %5")
                                .arg(parts)
                                .arg(line)
                                .arg(sigma)
                                .arg(worst_variance(best))
                                .arg(found)));
      }
    }
  }

  void a_coarse_start_mark_is_worked_off() {
    DivideTask task = task_of(7);
    task.start = StartMark{3, 5};
    task.guess_sigma_mm = 10;
    const GridPlan plan = plan_division(task, Method::best);
    QVERIFY(std::sqrt(worst_variance(plan)) <= 1.01 * std::sqrt(4.0 / 3));
    QCOMPARE(plan.guesses, 0);
  }

  void a_round_trip_divides_the_guess_by_two_to_the_orbit() {
    DivideTask task = task_of(9);
    std::vector<GridStep> steps = {{StepKind::guess, 1, 1, 1}};
    int line = 1;
    int orbit = 0;
    do {
      const int edge = line % 2 == 0 ? 0 : 9;
      steps.push_back({StepKind::bring, edge, line, (edge + line) / 2});
      line = (edge + line) / 2;
      ++orbit;
    } while (line != 1);
    QCOMPARE(orbit, 6);
    const LineErrors errors = replay(task, steps);
    const double left = errors.coefficients(1)[0];
    QVERIFY(near(std::abs(left), std::pow(2.0, -orbit), 1e-15));
    QVERIFY(near(errors.variance(1), 4 * left * left + 0.0625 * 4 / 3 * (1 - std::pow(4.0, -orbit)), 1e-12));
  }

  void covariances_agree_with_the_coefficients() {
    std::mt19937 random(3);
    LineErrors e(13);
    e.set_exact(0);
    e.set_exact(12);
    e.set_independent(4, 2.5);
    std::vector<int> known = {0, 4, 12};
    for (int i = 0; i < 200; ++i) {
      const int a = known[random() % known.size()];
      const int b = known[random() % known.size()];
      if (a == b || (a + b) % 2 != 0) continue;
      const int m = (a + b) / 2;
      if (m == 0 || m == 12) continue;
      e.bring(a, b, m, 0.3);
      if (std::find(known.begin(), known.end(), m) == known.end()) known.push_back(m);
    }
    Eigen::VectorXd v(e.error_count());
    for (int i = 0; i < e.error_count(); ++i) v[i] = e.error_variance(i);
    for (const int a : known) {
      for (const int b : known) {
        const double c = e.coefficients(a).dot(v.asDiagonal() * e.coefficients(b));
        QVERIFY(near(c, e.covariance(a, b), 1e-10));
      }
    }
  }

  void the_model_agrees_with_folding_simulated_in_the_plane() {
    // Every fold is done with real lines: both ends of the aligned stretch miss by a normal error, the crease is the
    // bisector shifted at its two ends. The spread of the worse end must be what the budget says.
    for (const Method method : {Method::best, Method::neighbours}) {
      const GridPlan plan = plan_division(task_of(6), method);
      const double side = 240;
      std::mt19937 random(17);
      std::normal_distribution<double> hand(0, plan.task.sigma_mm);
      std::normal_distribution<double> eye(0, plan.task.guess_sigma_mm);
      constexpr int trials = 20000;
      std::vector<std::array<double, 2>> squares(7, {0, 0});
      for (int t = 0; t < trials; ++t) {
        std::vector<Line> lines(7, Line::with_normal({1, 0}, 0));
        lines[6] = Line::with_normal({1, 0}, side);
        const auto at = [&](const Line& l, double y) { return (l.c - l.normal.y() * y) / l.normal.x(); };
        for (const GridStep& s : plan.steps) {
          if (s.kind == StepKind::guess) {
            const double ideal = side * s.makes / 6;
            lines[static_cast<std::size_t>(s.makes)] =
                Line::through({ideal + eye(random), 0}, {ideal + eye(random), side});
          } else {
            const Line middle =
                Line::bisecting(lines[static_cast<std::size_t>(s.a)], lines[static_cast<std::size_t>(s.b)]);
            lines[static_cast<std::size_t>(s.makes)] =
                Line::through({at(middle, 0) + hand(random), 0}, {at(middle, side) + hand(random), side});
          }
          Line& made = lines[static_cast<std::size_t>(s.makes)];
          if (made.normal.x() < 0) made = Line::with_normal(-made.normal, -made.c);
        }
        for (int k = 1; k < 6; ++k) {
          const double ideal = side * k / 6;
          const Line& l = lines[static_cast<std::size_t>(k)];
          squares[static_cast<std::size_t>(k)][0] += std::pow(at(l, 0) - ideal, 2) / trials;
          squares[static_cast<std::size_t>(k)][1] += std::pow(at(l, side) - ideal, 2) / trials;
        }
      }
      for (int k = 1; k < 6; ++k) {
        const double want = plan.line_sigma_mm[static_cast<std::size_t>(k)];
        for (const double square : squares[static_cast<std::size_t>(k)])
          QVERIFY(near(std::sqrt(square) / want, 1, 0.04));
      }
    }
  }

  void handling_keeps_what_folds_are_made_from() {
    for (const int parts : {8, 12, 15, 24, 31}) {
      DivideTask task = task_of(parts);
      task.directions.assign(static_cast<std::size_t>(parts) + 1, Fold::valley);
      const GridPlan valley = plan_division(task, Method::best);
      QCOMPARE(valley.turn_overs, 0);
      for (int k = 2; k < parts; k += 2) task.directions[static_cast<std::size_t>(k)] = Fold::mountain;
      const GridPlan turned = plan_division(task, Method::best);
      QVERIFY(turned.turn_overs >= 1 && turned.turn_overs < parts / 2);
      QVERIFY(near(turned.worst_sigma_mm, valley.worst_sigma_mm, 1e-12));
    }
  }

  void a_left_out_line_is_pinched_only_where_needed() {
    DivideTask task = task_of(8);
    task.left_out = {4};
    const GridPlan plan = plan_division(task, Method::best);
    QVERIFY(std::isnan(plan.line_sigma_mm[4]));
    QVERIFY(plan.missing.empty());
    int pinches = 0;
    for (const GridStep& s : plan.steps) pinches += s.makes == 4 && s.pinch;
    QCOMPARE(pinches, 1);
    task.left_out = {1, 3, 5, 7};
    const GridPlan quarter = plan_division(task, Method::best);
    QCOMPARE(quarter.creases, 3);
  }

  void an_untouchable_line_leaves_others_without_reference() {
    DivideTask task = task_of(8);
    task.left_out = {4};
    task.untouchable = {4};
    const GridPlan plan = plan_division(task, Method::edges);
    QCOMPARE(plan.missing.size(), std::size_t{6});
    for (const MissingLine& m : plan.missing) QCOMPARE(m.needs, 4);
    task.untouchable = {1};
    task.left_out = {1};
    const GridPlan rest = plan_division(task, Method::best);
    QVERIFY(rest.missing.empty());
    for (int k = 2; k < 8; ++k) QVERIFY(std::isfinite(rest.line_sigma_mm[static_cast<std::size_t>(k)]));
  }

  void layers_push_a_crease_outward() {
    HandProfile hand;
    QCOMPARE(creep_mm(hand, 1, 0.1), 0.0);
    QVERIFY(near(creep_mm(hand, 5, 0.1), 0.2, 1e-12));
    hand.creep = 0.7;
    QVERIFY(near(creep_mm(hand, 2, 0.07), 0.049, 1e-12));
  }

  void wrong_tasks_get_a_sentence() {
    for (const int parts : {0, 1, 257, -3}) {
      const auto ok = check_task(task_of(parts));
      QVERIFY(!ok);
      QVERIFY(ok.error().find("2 to 256") != std::string::npos);
    }
    DivideTask task = task_of(8);
    task.sigma_mm = 0;
    QVERIFY(!check_task(task));
    task.sigma_mm = std::nan("");
    QVERIFY(!check_task(task));
    task = task_of(8);
    task.start = StartMark{8, 0.1};
    QVERIFY(!check_task(task));
    task.start.reset();
    task.left_out = {9};
    QVERIFY(!check_task(task));
  }
};

UC_TEST(DivideTest)
#include "divide_test.moc"
