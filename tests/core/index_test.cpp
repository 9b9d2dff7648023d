// The index of what can be folded: every entry is made again from its makers, every look-up is checked by brute force.
#include "alignments.h"
#include "runner.h"
#include "support.h"

#include "reference/construction.h"
#include "reference/sheet_index.h"

#include <QTemporaryDir>

#include <atomic>
#include <map>
#include <random>
#include <set>
#include <stdexcept>

using namespace uc;
using uc::testing::gap;
using uc::testing::misfit;
using uc::testing::near;

namespace {

IndexLimits small_limits() {
  IndexLimits limits;
  limits.third = 600;
  limits.all = 60000;
  return limits;
}

const Polygon& letter() {
  static const Polygon sheet = Sheet::rectangle(Millimetres{215.9}, Millimetres{279.4}).outline();
  return sheet;
}
const SheetIndex& letter_index() {
  static const SheetIndex index = std::move(SheetIndex::build(letter(), small_limits())).value();
  return index;
}

AlignmentInputs inputs_of(const SheetIndex& index, const IndexLine& l) {
  AlignmentInputs in;
  for (std::size_t i = 0; i < 2; ++i) {
    if (l.points[i] != no_entry) in.points[i] = index.points()[l.points[i]].at;
    if (l.lines[i] != no_entry) in.lines[i] = index.lines()[l.lines[i]].line;
  }
  return in;
}

/// Everything an index line needs, as a construction on the unit sheet; the item of the line itself.
struct Rebuilt {
  explicit Rebuilt(const SheetIndex& from) : index(from), c(from.outline()) {}
  const SheetIndex& index;
  Construction c;
  std::map<std::uint32_t, int> made;

  int line(std::uint32_t id) {
    if (id < static_cast<std::uint32_t>(index.edges())) return c.edge(static_cast<int>(id));
    if (const auto at = made.find(id); at != made.end()) return at->second;
    const IndexLine& l = index.lines()[id];
    std::array<int, 2> points{-1, -1};
    std::array<int, 2> lines{-1, -1};
    for (std::size_t i = 0; i < 2; ++i) {
      if (l.points[i] != no_entry) {
        const IndexPoint& p = index.points()[l.points[i]];
        points[i] = p.lines[0] == no_entry ? c.corner(static_cast<int>(l.points[i]))
                                           : c.cross(line(p.lines[0]), line(p.lines[1])).value();
      }
      if (l.lines[i] != no_entry) lines[i] = line(l.lines[i]);
    }
    const auto folded = c.fold(static_cast<Alignment>(l.op), points, lines, l.line);
    return made[id] = folded ? *folded : -1;
  }
};

} // namespace

class IndexTest : public QObject {
  Q_OBJECT

private slots:
  void every_line_meets_its_alignment() {
    const SheetIndex& index = letter_index();
    QVERIFY(index.lines().size() > 10000);
    std::mt19937_64 random(1);
    for (int i = 0; i < 3000; ++i) {
      const auto id = static_cast<std::uint32_t>(random() % index.lines().size());
      const IndexLine& l = index.lines()[id];
      if (l.op == 0) continue;
      const auto op = static_cast<Alignment>(l.op);
      QVERIFY(misfit(op, inputs_of(index, l), l.line) < 1e-9);
      QVERIFY(contact(op, inputs_of(index, l), l.line, index.outline()).has_value());
      for (const std::uint32_t maker : l.lines) QVERIFY(maker == no_entry || maker < id);
    }
  }

  void counts_and_needs_are_what_making_it_takes() {
    const SheetIndex& index = letter_index();
    std::mt19937_64 random(2);
    for (int i = 0; i < 400; ++i) {
      const auto id = static_cast<std::uint32_t>(random() % index.lines().size());
      const IndexLine& l = index.lines()[id];
      if (l.op == 0) continue;
      Rebuilt rebuilt(index);
      const int item = rebuilt.line(id);
      QVERIFY(item >= 0);
      QCOMPARE(rebuilt.c.creases(), static_cast<int>(l.creases));
      QVERIFY(gap(rebuilt.c[item].line, l.line) < 1e-8);
      std::set<std::uint32_t> needs(l.needs.begin(), l.needs.end());
      needs.erase(no_entry);
      QCOMPARE(needs.size() + 1, static_cast<std::size_t>(l.creases));
    }
  }

  void variances_are_those_of_the_construction() {
    const SheetIndex& index = letter_index();
    std::mt19937_64 random(3);
    for (int i = 0; i < 300; ++i) {
      const auto id = static_cast<std::uint32_t>(random() % index.lines().size());
      const IndexLine& l = index.lines()[id];
      if (l.op == 0) continue;
      Rebuilt rebuilt(index);
      const int item = rebuilt.line(id);
      const ConstructionErrors errors(rebuilt.c, 1);
      const Segment seen = rebuilt.c[item].chord;
      for (const Point& p : {seen.from, seen.to}) {
        const double exact = errors.distances(item, rebuilt.c[item].line, {p}).squaredNorm();
        const double kept = l.variance.at(quarter_turned(l.line.normal).dot(p));
        QVERIFY2(std::abs(kept - exact) < 1e-3 * exact + 1e-4, qPrintable(QString("%1 %2").arg(kept).arg(exact)));
      }
    }
  }

  void levels_are_in_order_and_complete() {
    const SheetIndex& index = letter_index();
    std::uint32_t end = 0;
    for (int level = 0; level <= 4; ++level) {
      const auto [begin, next] = index.level(level);
      QCOMPARE(begin, end);
      end = next;
      for (std::uint32_t i = begin; i < next; i += 97) QCOMPARE(static_cast<int>(index.lines()[i].creases), level);
    }
    QCOMPARE(static_cast<std::size_t>(end), index.lines().size());
    QCOMPARE(index.level(0).second, 4u);
  }

  void one_fold_gives_what_can_be_counted() {
    // A rectangle: two diagonals, two middles, the bisectors of four corners, and the folds that bring corners together
    // (two middles again, two across), corners to edges through corners, and so on; each once.
    const auto [begin, end] = letter_index().level(1);
    for (std::uint32_t i = begin; i < end; ++i) {
      for (std::uint32_t k = begin; k < i; ++k)
        QVERIFY(gap(letter_index().lines()[i].line, letter_index().lines()[k].line) > 1e-7);
    }
    const auto has = [begin = begin, end = end](const Point& p, const Point& q) {
      const Line wanted = Line::through(p, q);
      for (std::uint32_t i = begin; i < end; ++i) {
        if (gap(letter_index().lines()[i].line, wanted) < 1e-9) return true;
      }
      return false;
    };
    const Point size = bounding_box(letter_index().outline()).high;
    QVERIFY(has({0, 0}, size));
    QVERIFY(has({0, size.y()}, {size.x(), 0}));
    QVERIFY(has({size.x() / 2, 0}, {size.x() / 2, 1}));
    QVERIFY(has({0, size.y() / 2}, {1, size.y() / 2}));
    QVERIFY(has({0, 0}, {0.1, 0.1}));
  }

  void distances_and_nearest_points_by_brute_force() {
    const SheetIndex& index = letter_index();
    std::mt19937_64 random(4);
    std::uniform_real_distribution<double> u(0, 1);
    std::vector<float> out;
    for (int i = 0; i < 20; ++i) {
      const Point p{u(random) * 0.77, u(random)};
      const auto found = index.nearest_point(p);
      double least = 1e9;
      for (const IndexPoint& q : index.points()) least = std::min(least, (q.at - p).norm());
      QVERIFY(near(found.second, least, 1e-12));
      QVERIFY(near((index.points()[found.first].at - p).norm(), least, 1e-12));
      index.distances(2, p, out);
      const auto begin = index.level(2).first;
      for (std::uint32_t k = 0; k < out.size(); k += 13)
        QVERIFY(near(out[k], index.lines()[begin + k].line.distance(p), 1e-5));
    }
  }

  void shared_creases_count_once() {
    const SheetIndex& index = letter_index();
    std::mt19937_64 random(5);
    for (int i = 0; i < 500; ++i) {
      const auto a = static_cast<std::uint32_t>(random() % index.lines().size());
      const auto b = static_cast<std::uint32_t>(random() % index.lines().size());
      std::set<std::uint32_t> all;
      for (const std::uint32_t id : {a, b}) {
        const IndexLine& l = index.lines()[id];
        if (l.op != 0) all.insert(id);
        all.insert(l.needs.begin(), l.needs.end());
      }
      all.erase(no_entry);
      QCOMPARE(index.creases_together(a, b), static_cast<int>(all.size()));
    }
  }

  void marks_are_crossings_on_the_paper() {
    const SheetIndex& index = letter_index();
    const Box box = bounding_box(index.outline());
    for (std::size_t i = 0; i < index.points().size(); i += 7) {
      const IndexPoint& p = index.points()[i];
      QVERIFY((p.at - box.low).minCoeff() > -1e-9 && (box.high - p.at).minCoeff() > -1e-9);
      if (p.lines[0] == no_entry) continue;
      for (const std::uint32_t l : p.lines) QVERIFY(std::abs(index.lines()[l].line.distance(p.at)) < 1e-9);
    }
  }

  void marks_know_their_creases_and_errors() {
    const SheetIndex& index = letter_index();
    std::mt19937_64 random(6);
    for (int i = 0; i < 300; ++i) {
      const IndexPoint& p = index.points()[random() % index.points().size()];
      if (p.lines[0] == no_entry) continue;
      QCOMPARE(static_cast<int>(p.creases), index.creases_together(p.lines[0], p.lines[1]));
      Rebuilt rebuilt(index);
      const int a = rebuilt.line(p.lines[0]);
      const auto mark = rebuilt.c.cross(a, rebuilt.line(p.lines[1]));
      QVERIFY(mark);
      const double exact = ConstructionErrors(rebuilt.c, 1).of(*mark).squaredNorm();
      QVERIFY2(std::abs(p.variance - exact) < 1e-3 * exact, qPrintable(QString("%1 %2").arg(p.variance).arg(exact)));
    }
  }

  void twins_are_other_ways_to_the_same_place() {
    const SheetIndex& index = letter_index();
    std::map<std::array<long long, 3>, std::vector<std::uint32_t>> by_place;
    std::size_t twins = 0;
    for (std::uint32_t i = 0; i < index.level(4).first; ++i) {
      const Line l = index.lines()[i].line.in_one_sense();
      const auto rounded = [](double v) { return std::llround(v * 1e7); };
      by_place[{rounded(l.normal.x()), rounded(l.normal.y()), rounded(l.c)}].push_back(i);
      twins += index.lines()[i].twin;
    }
    QVERIFY(twins > 0);
    for (const auto& [place, ways] : by_place) {
      std::set<std::array<std::uint32_t, 3>> needs;
      for (std::size_t k = 0; k < ways.size(); ++k) {
        const IndexLine& l = index.lines()[ways[k]];
        QCOMPARE(l.twin, k > 0); // the first stands for the place
        QCOMPARE(l.creases, index.lines()[ways[0]].creases);
        needs.insert(l.needs);
      }
      QCOMPARE(needs.size(), ways.size());
    }
    // Of twin marks the best way is the one that look-ups find.
    std::map<std::array<long long, 2>, float> least;
    const auto place = [](const IndexPoint& p) {
      return std::array<long long, 2>{std::llround(p.at.x() * 1e7), std::llround(p.at.y() * 1e7)};
    };
    for (const IndexPoint& p : index.points()) {
      if (p.twin || p.creases == 0) continue;
      const auto [at, fresh] = least.try_emplace(place(p), p.variance);
      at->second = std::min(at->second, p.variance);
    }
    std::size_t twin_marks = 0;
    for (const IndexPoint& p : index.points()) {
      if (!p.twin) continue;
      ++twin_marks;
      QVERIFY(least.count(place(p)) == 1);
      QVERIFY(least[place(p)] <= p.variance);
    }
    QVERIFY(twin_marks > 0);
  }

  void marks_are_in_order_on_any_sheet() {
    for (const int corners : {3, 5, 6, 8}) {
      const Polygon sheet = Sheet::regular(corners, Millimetres{100}).outline();
      const auto index = SheetIndex::build(sheet, small_limits());
      QVERIFY(index);
      QVERIFY(std::is_sorted(index->points().begin(), index->points().end(),
                             [](const IndexPoint& a, const IndexPoint& b) { return a.creases < b.creases; }));
      const auto again = SheetIndex::from_bytes(index->bytes(), sheet);
      QVERIFY(again);
      QCOMPARE(again->has_all_marks(), index->has_all_marks());
      QCOMPARE(again->points().back().variance, index->points().back().variance);
    }
  }

  void marks_near_a_place_by_brute_force() {
    const SheetIndex& index = letter_index();
    std::mt19937_64 random(8);
    std::uniform_real_distribution<double> u(0, 1);
    std::vector<PointHit> hits;
    for (int i = 0; i < 60; ++i) {
      const int creases = 1 + i % 3;
      const Point p{u(random) * 0.77, u(random)};
      std::vector<double> all;
      for (const IndexPoint& q : index.points()) {
        if (static_cast<int>(q.creases) <= creases && !q.twin) all.push_back((q.at - p).squaredNorm());
      }
      std::sort(all.begin(), all.end());
      const std::size_t most = 1 + random() % 40;
      index.nearest_points(p, creases, most, hits);
      QCOMPARE(hits.size(), std::min(most, all.size()));
      for (std::size_t k = 0; k < hits.size(); ++k) {
        QVERIFY(near(hits[k].squared, all[k], 1e-12));
        QVERIFY(near((index.points()[hits[k].id].at - p).squaredNorm(), hits[k].squared, 1e-12));
      }
      const double radius = 0.3 * u(random) / creases;
      index.points_within(p, creases, radius, hits);
      QCOMPARE(hits.size(),
               static_cast<std::size_t>(std::lower_bound(all.begin(), all.end(), radius * radius) - all.begin()));
    }
  }

  void size_does_not_matter_but_shape_does() {
    const Polygon larger = Sheet::rectangle(Millimetres{431.8}, Millimetres{558.8}).outline();
    const auto twice = SheetIndex::build(larger, small_limits());
    QVERIFY(twice);
    QVERIFY(twice->bytes() == letter_index().bytes());
    const auto turned =
        SheetIndex::build(Sheet::rectangle(Millimetres{279.4}, Millimetres{215.9}).outline(), small_limits());
    QVERIFY(turned->bytes() != letter_index().bytes());
    QVERIFY(SheetIndex::from_bytes(letter_index().bytes(), larger));
  }

  void the_store_keeps_what_was_used_last() {
    QTemporaryDir folder;
    IndexStore store(folder.path().toStdString());
    const Polygon triangle = Sheet::regular(3, Millimetres{100}).outline();
    QVERIFY(!store.known(triangle));
    const auto first = store.get(triangle);
    QVERIFY(first);
    QCOMPARE(store.known(triangle).get(), first->get());
    QCOMPARE(store.get(triangle)->get(), first->get());
    // A second store reads the file that the first has written.
    IndexStore other(folder.path().toStdString());
    QVERIFY(other.get(triangle)->get()->bytes() == first->get()->bytes());
    Progress stopped;
    stopped.cancel();
    QVERIFY(!store.get(Sheet::regular(5, Millimetres{80}).outline(), &stopped));
  }

  void parallel_work_is_done_once_each_and_stops() {
    std::vector<std::atomic<int>> done(5000);
    parallel_for(done.size(), [&](std::size_t i) { ++done[i]; });
    QVERIFY(std::all_of(done.begin(), done.end(), [](const auto& n) { return n == 1; }));
    parallel_for(0, [](std::size_t) { QFAIL("nothing to do"); });
    Progress progress;
    std::atomic<int> begun{0};
    parallel_for(
        1000000,
        [&](std::size_t) {
          if (++begun == 100) progress.cancel();
        },
        &progress);
    QVERIFY(begun < 1000000);
    bool caught = false;
    try {
      parallel_for(100, [](std::size_t i) {
        if (i == 42) throw std::runtime_error("forty-two");
      });
    } catch (const std::runtime_error& e) {
      caught = std::string(e.what()) == "forty-two";
    }
    QVERIFY(caught);
  }
};

UC_TEST(IndexTest)
#include "index_test.moc"
