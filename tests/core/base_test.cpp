// Work over the cores and in the order of what needs what.
#include "runner.h"
#include "support.h"

#include "base/dependencies.h"
#include "base/frontier.h"
#include "base/parallel.h"

#include <atomic>
#include <numeric>
#include <random>
#include <stdexcept>

using namespace uc;

class BaseTest : public QObject {
  Q_OBJECT
private slots:
  void every_item_is_done_once() {
    for (const std::size_t count : {0, 1, 2, 7, 1000}) {
      std::vector<std::atomic<int>> done(count);
      parallel_for(count, [&](std::size_t i) { ++done[i]; });
      QVERIFY(std::all_of(done.begin(), done.end(), [](const auto& n) { return n == 1; }));
    }
  }
  void the_first_exception_comes_out() {
    std::atomic<int> done = 0;
    QVERIFY_THROWS_EXCEPTION(std::runtime_error, parallel_for(500, [&](std::size_t i) {
                               if (i == 250) throw std::runtime_error("here");
                               ++done;
                             }));
    QVERIFY(done < 500);
    parallel_for(10, [&](std::size_t) { ++done; }); // and the next one is none the worse
  }
  void stopped_work_begins_nothing_more() {
    Progress progress;
    std::atomic<int> done = 0;
    parallel_for(
        1000,
        [&](std::size_t) {
          ++done;
          progress.cancel();
        },
        &progress);
    QVERIFY(done >= 1 && done <= 64); // at most one for each thread
    done = 0;
    parallel_for(
        1000, [&](std::size_t) { ++done; }, &progress);
    QCOMPARE(done.load(), 0);
    Progress late;
    late.end_by(std::chrono::steady_clock::now() - std::chrono::seconds(1));
    parallel_for(
        1000, [&](std::size_t) { ++done; }, &late);
    QCOMPARE(done.load(), 0);
  }
  void work_within_work_comes_to_an_end() {
    std::atomic<int> sum = 0;
    parallel_for(8, [&](std::size_t) { parallel_for(8, [&](std::size_t i) { sum += static_cast<int>(i); }); });
    QCOMPARE(sum.load(), 8 * 28);
  }

  void the_frontier_is_what_nothing_beats() {
    std::mt19937 random(9);
    for (int round = 0; round < 300; ++round) {
      std::vector<std::array<double, 2>> ways(random() % 40);
      for (auto& w : ways) w = {static_cast<double>(random() % 8), static_cast<double>(random() % 8)};
      const auto front = frontier_of(ways);
      std::vector<std::array<double, 2>> kept;
      for (const std::size_t i : front) kept.push_back(ways[i]);
      QVERIFY(std::is_sorted(kept.begin(), kept.end()));
      const auto beats = [](const std::array<double, 2>& a, const std::array<double, 2>& b) {
        return a[0] <= b[0] && a[1] <= b[1] && a != b;
      };
      for (std::size_t i = 0; i < ways.size(); ++i) {
        const bool beaten =
            std::any_of(ways.begin(), ways.end(), [&](const auto& other) { return beats(other, ways[i]); });
        const bool there = std::find(kept.begin(), kept.end(), ways[i]) != kept.end();
        QCOMPARE(there, !beaten);
      }
    }
    QVERIFY((frontier_of({{1, 2}, {1, 2}, {0, 3}}) == std::vector<std::size_t>{2, 0})); // of equals the first
  }

  void nothing_comes_before_what_it_needs() {
    std::mt19937 random(3);
    for (int round = 0; round < 200; ++round) {
      const std::size_t count = 1 + random() % 30;
      Dependencies needs(count);
      std::vector<std::size_t> rank(count); // a secret order that all requirements follow
      std::iota(rank.begin(), rank.end(), std::size_t{0});
      std::shuffle(rank.begin(), rank.end(), random);
      std::vector<std::pair<std::size_t, std::size_t>> required;
      for (std::size_t k = 0; k < 2 * count; ++k) {
        std::size_t a = random() % count;
        std::size_t b = random() % count;
        if (rank[a] == rank[b]) continue;
        if (rank[a] > rank[b]) std::swap(a, b);
        needs.require(a, b);
        required.emplace_back(a, b);
      }
      std::vector<std::size_t> place(count, count);
      std::size_t at = 0;
      needs.run([](std::size_t) { return true; },
                [&](const std::vector<std::size_t>& ready) { return random() % ready.size(); },
                [&](std::size_t item) { place[item] = at++; });
      QCOMPARE(at, count);
      for (const auto& [first, then] : required) QVERIFY(place[first] < place[then]);
    }
  }
  void what_runs_in_a_circle_is_left() {
    Dependencies needs(5); // 0 -> 1 -> 2 -> 1, 2 -> 3; 4 is free
    needs.require(0, 1);
    needs.require(1, 2);
    needs.require(2, 1);
    needs.require(2, 3);
    std::vector<std::size_t> done;
    needs.run([](std::size_t) { return true; }, [](const std::vector<std::size_t>&) { return 0; },
              [&](std::size_t item) { done.push_back(item); });
    QVERIFY((done == std::vector<std::size_t>{0, 4}));
  }
  void a_second_run_takes_what_the_first_left_out() {
    Dependencies needs(4);
    needs.require(0, 2);
    needs.require(1, 3);
    std::vector<std::size_t> done;
    const auto even = [](std::size_t i) { return i % 2 == 0; };
    const auto first = [](const std::vector<std::size_t>&) { return 0; };
    const auto note = [&](std::size_t item) { done.push_back(item); };
    needs.run(even, first, note);
    QVERIFY((done == std::vector<std::size_t>{0, 2}));
    needs.run([&](std::size_t i) { return !even(i); }, first, note);
    QVERIFY((done == std::vector<std::size_t>{0, 2, 1, 3}));
  }
};

UC_TEST(BaseTest)
#include "base_test.moc"
