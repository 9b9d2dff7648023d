// The number theory behind uneven counts, and the variance of every single line against figures derived elsewhere with
// exact fractions (tests/data/line_variances.json).
#include "runner.h"
#include "support.h"

#include "divide/plan.h"

#include <numeric>
#include <set>

using namespace uc;
using uc::testing::near;

namespace {

/// Halving orbits modulo an odd count, by doubling: every line's parent is twice its index modulo the count.
std::vector<std::set<int>> orbits(int parts) {
  std::vector<std::set<int>> all;
  std::set<int> seen;
  for (int first = 1; first < parts; ++first) {
    if (seen.count(first)) continue;
    std::set<int> orbit;
    for (int line = first; orbit.insert(line).second;) line = 2 * line % parts;
    seen.insert(orbit.begin(), orbit.end());
    all.push_back(orbit);
  }
  return all;
}

GridPlan plan_of(int parts, Method method, double guess = 2) {
  DivideTask task;
  task.parts = parts;
  task.guess_sigma_mm = guess;
  return plan_division(task, method);
}

int guesses(const GridPlan& plan) {
  return static_cast<int>(
      std::count_if(plan.steps.begin(), plan.steps.end(), [](const GridStep& s) { return s.kind == StepKind::guess; }));
}

} // namespace

class OrbitsTest : public QObject {
  Q_OBJECT
private slots:
  void every_line_has_the_variance_derived_elsewhere_data() {
    testing::add_rows(testing::cases("line_variances.json"));
  }
  void every_line_has_the_variance_derived_elsewhere() {
    const Json c = testing::row();
    const GridPlan plan = plan_of(c["parts"], *named<Method>(c["method"].get<std::string>()));
    const auto want = c["variances"].get<std::vector<double>>();
    for (std::size_t line = 0; line < want.size(); ++line) {
      const double v = std::pow(plan.line_sigma_mm[line] / plan.task.sigma_mm, 2);
      QVERIFY(near(v, want[line], 1e-9 * (1 + want[line])));
    }
  }

  void counts_have_the_orbits_that_are_known() {
    QCOMPARE(orbits(7).size(), std::size_t{2});
    QCOMPARE(orbits(9).size(), std::size_t{2});
    QCOMPARE(orbits(15).size(), std::size_t{4});
    QCOMPARE(orbits(11).size(), std::size_t{1});
    QCOMPARE(orbits(31).size(), std::size_t{6});
  }

  void folding_by_edges_guesses_once_per_orbit() {
    for (int parts = 3; parts < 64; parts += 2)
      QCOMPARE(guesses(plan_of(parts, Method::edges)), static_cast<int>(orbits(parts).size()));
  }

  void best_guesses_only_once() {
    for (int parts = 3; parts < 130; ++parts) {
      const bool power = (parts & (parts - 1)) == 0;
      QCOMPARE(guesses(plan_of(parts, Method::best)), power ? 0 : 1);
    }
  }

  void a_line_seeded_from_two_others_starts_near_two() {
    // Seven parts: one orbit is brought to its limit, then line 3 is folded halfway between lines 2 and 4.
    DivideTask task;
    task.parts = 7;
    std::vector<GridStep> steps = {{StepKind::guess, 1, 1, 1}};
    int line = 1;
    for (int i = 0; i < 30; ++i) {
      const int edge = line % 2 == 0 ? 0 : 7;
      steps.push_back({StepKind::bring, edge, line, (edge + line) / 2});
      line = (edge + line) / 2;
    }
    steps.push_back({StepKind::bring, 2, 4, 3});
    const LineErrors errors = replay(task, steps);
    const double s2 = task.sigma_mm * task.sigma_mm;
    for (const int k : {1, 2, 4}) QVERIFY(near(errors.variance(k) / s2, 4.0 / 3, 1e-6));
    const double seeded = errors.variance(3) / s2;
    QVERIFY2(seeded > 1.66 && seeded < 2.1, qPrintable(QString::number(seeded)));
    QVERIFY(near(seeded, 1 + (errors.variance(2) + errors.variance(4) + 2 * errors.covariance(2, 4)) / s2 / 4, 1e-9));
  }

  void a_worse_eye_costs_folds_but_no_accuracy() {
    int before = 0;
    for (const double guess : {0.5, 2.0, 8.0, 32.0, 128.0}) {
      const GridPlan plan = plan_of(11, Method::best, guess);
      QVERIFY(plan.worst_sigma_mm <= 1.01 * std::sqrt(4.0 / 3) * plan.task.sigma_mm);
      QVERIFY(plan.creases >= before);
      before = plan.creases;
    }
    // Four times the guess is one halving more, twice over.
    QCOMPARE(plan_of(11, Method::best, 32).creases - plan_of(11, Method::best, 2).creases, 4);
  }

  void errors_scale_with_the_hand() {
    for (const int parts : {5, 8, 12}) {
      DivideTask task;
      task.parts = parts;
      const GridPlan fine = plan_division(task, Method::best);
      task.sigma_mm *= 3;
      task.guess_sigma_mm *= 3;
      const GridPlan coarse = plan_division(task, Method::best);
      QVERIFY(near(coarse.worst_sigma_mm, 3 * fine.worst_sigma_mm, 1e-9));
      QVERIFY(near(coarse.mean_sigma_mm, 3 * fine.mean_sigma_mm, 1e-9));
      QVERIFY(coarse.steps == fine.steps);
    }
  }

  void the_mean_is_the_mean_of_the_lines() {
    for (const Method method : all_methods) {
      const GridPlan plan = plan_of(10, method);
      double sum = 0;
      double worst = 0;
      for (int k = 1; k < 10; ++k) {
        sum += plan.line_sigma_mm[static_cast<std::size_t>(k)];
        worst = std::max(worst, plan.line_sigma_mm[static_cast<std::size_t>(k)]);
      }
      QVERIFY(near(plan.mean_sigma_mm, sum / 9, 1e-9 * sum));
      QVERIFY(near(plan.worst_sigma_mm, worst, 1e-12 * worst));
      QVERIFY(near(plan.line_sigma_mm[static_cast<std::size_t>(plan.worst_line)], worst, 1e-12 * worst));
    }
  }

  void minutes_are_the_sum_of_what_is_done() {
    HandProfile hand;
    hand.fold_seconds = 100;
    hand.pinch_seconds = 10;
    hand.turn_seconds = 7;
    hand.rotate_seconds = 3;
    for (const int parts : {8, 9}) {
      DivideTask task;
      task.parts = parts;
      const GridPlan plan = plan_division(task, Method::best, hand);
      double seconds = 7.0 * plan.turn_overs + 3.0 * plan.rotations;
      int pinches = 0;
      for (const GridStep& s : plan.steps) {
        seconds += s.pinch ? 10 : 100;
        pinches += s.pinch;
      }
      QVERIFY(near(plan.minutes, seconds / 60, 1e-9));
      QCOMPARE(pinches == 0, parts == 8);
      QCOMPARE(static_cast<int>(plan.steps.size()), plan.creases + plan.guesses);
    }
  }
};

UC_TEST(OrbitsTest)
#include "orbits_test.moc"
