// Pairs of faces that overlap, by stacks, against the plain set of all of them.
#include "runner.h"

#include "form/pair_index.h"

#include <QtTest>

#include <algorithm>
#include <random>
#include <set>

using namespace uc;

namespace {

std::vector<std::vector<FaceId>> any_stacks(std::mt19937& random, int faces) {
  std::vector<std::vector<FaceId>> out;
  const int count = std::uniform_int_distribution<int>(0, 12)(random);
  for (int s = 0; s < count; ++s) {
    std::vector<FaceId> stack;
    for (int f = 0; f < faces; ++f)
      if (std::uniform_int_distribution<int>(0, 3)(random) == 0) stack.emplace_back(f);
    out.push_back(std::move(stack));
  }
  return out;
}

} // namespace

class PairIndexTest : public QObject {
  Q_OBJECT
private slots:
  void pairs_are_those_of_the_stacks() {
    std::mt19937 random(31);
    for (int round = 0; round < 200; ++round) {
      const int faces = std::uniform_int_distribution<int>(0, 40)(random);
      const auto stacks = any_stacks(random, faces);
      std::set<std::pair<int, int>> wanted;
      for (const auto& stack : stacks)
        for (std::size_t i = 0; i < stack.size(); ++i)
          for (std::size_t k = i + 1; k < stack.size(); ++k) wanted.insert({stack[i], stack[k]});
      const PairIndex pairs(faces, stacks);
      QCOMPARE(pairs.size(), wanted.size() + 1);
      QCOMPARE(PairIndex::count(faces, stacks), wanted.size());
      for (FaceId a(0); a < faces; ++a) {
        for (FaceId b(0); b < faces; ++b) {
          if (a == b) continue;
          const Literal above = pairs.above(a, b);
          QCOMPARE(above != 0, wanted.count({std::min(a, b), std::max(a, b)}) > 0);
          QCOMPARE(above, -pairs.above(b, a));
          if (above == 0) continue;
          QVERIFY((above > 0) == (a < b));
          QVERIFY((pairs[static_cast<std::size_t>(std::abs(above))] == std::array{std::min(a, b), std::max(a, b)}));
        }
      }
    }
  }

  void tables_say_the_same() {
    std::mt19937 random(32);
    for (int round = 0; round < 100; ++round) {
      const int faces = std::uniform_int_distribution<int>(1, 30)(random);
      const auto stacks = any_stacks(random, faces);
      const PairIndex pairs(faces, stacks);
      StackTable table; // one after another in the same table
      for (const auto& stack : stacks) {
        table.lay_out(pairs, stack);
        for (std::size_t i = 0; i < stack.size(); ++i)
          for (std::size_t k = 0; k < stack.size(); ++k)
            if (i != k) QCOMPARE(table.above(i, k), pairs.above(stack[i], stack[k]));
        for (FaceId a(0); a < faces; ++a) {
          for (FaceId b(0); b < faces; ++b) {
            if (a == b) continue;
            const bool both =
                std::binary_search(stack.begin(), stack.end(), a) && std::binary_search(stack.begin(), stack.end(), b);
            QCOMPARE(table.above_face(a, b), both ? pairs.above(a, b) : 0);
          }
        }
      }
    }
  }
};

UC_TEST(PairIndexTest)
#include "pair_index_test.moc"
