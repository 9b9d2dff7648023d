// Simple folds found in patterns: paper folded at random through all its layers must be found to fold so, what is found
// must be an order that another program allows, and it must be there for every size in which hands fold such patterns.
#include "base/index.h"
#include "fold_checker.h"
#include "form/proof.h"
#include "io/folded.h"
#include "pattern/sizing.h"
#include "patterns.h"
#include "runner.h"

#include <QtTest>

#include <numbers>
#include <random>

using namespace uc;
using uc::testing::map_pattern;
using uc::testing::strip_pattern;

namespace {

const ProofOptions by_search{.simple_folds = false};

/// A square of paper that is folded and then laid open again, with what has been creased.
class Paper {
public:
  explicit Paper(double side) { pieces_.push_back({{{0, 0}, {side, 0}, {side, side}, {0, side}}, {}, false}); }

  /// Folds all that lies to the left of the line over or under the rest. Nothing when a piece would become too small.
  bool fold(const Line& line, bool over) {
    std::vector<Piece> next;
    std::vector<PatternCrease> creases;
    for (const Piece& p : pieces_) {
      Polygon left, right;
      std::vector<Point> on; // of the bare sheet
      for (std::size_t i = 0; i < p.bare.size(); ++i) {
        const Point a = p.bare[i];
        const Point b = p.bare[(i + 1) % p.bare.size()];
        const double da = line.distance(p.where * a);
        const double db = line.distance(p.where * b);
        (da < 0 ? left : right).push_back(a);
        if ((da < 0) == (db < 0)) continue;
        const Point cut = a + (b - a) * (da / (da - db));
        left.push_back(cut);
        right.push_back(cut);
        on.push_back(cut);
      }
      for (const Polygon* half : {&left, &right}) {
        if (half->empty()) continue;
        if (area(*half) < 30) return false;
        for (std::size_t i = 0; i < half->size(); ++i) {
          if (((*half)[i] - (*half)[(i + 1) % half->size()]).norm() < 2) return false;
        }
      }
      if (!right.empty()) next.push_back({right, p.where, p.flipped});
      if (!left.empty()) next.push_back({left, Isometry::reflection_in(line) * p.where, !p.flipped});
      if (on.size() == 2) creases.push_back({on[0], on[1], over != p.flipped ? EdgeKind::valley : EdgeKind::mountain});
    }
    if (creases.empty()) return false;
    pieces_ = next;
    creases_.insert(creases_.end(), creases.begin(), creases.end());
    return true;
  }

  [[nodiscard]] CreasePattern pattern(double side) const {
    CreasePattern out;
    const auto add = [&](const Point& a, const Point& b, EdgeKind kind) {
      const auto n = static_cast<int>(out.vertices.size());
      out.vertices.insert(out.vertices.end(), {a, b});
      out.edges.push_back({n, n + 1, kind});
    };
    const Polygon sheet{{0, 0}, {side, 0}, {side, side}, {0, side}};
    for (std::size_t i = 0; i < 4; ++i) add(sheet[i], sheet[(i + 1) % 4], EdgeKind::raw);
    for (const PatternCrease& c : creases_) add(c.from, c.to, c.kind);
    return out;
  }

private:
  struct Piece {
    Polygon bare;
    Isometry where;
    bool flipped = false;
  };
  struct PatternCrease {
    Point from, to;
    EdgeKind kind;
  };
  static double area(const Polygon& p) {
    double sum = 0;
    for (std::size_t i = 0; i < p.size(); ++i) {
      const Point& a = p[i];
      const Point& b = p[(i + 1) % p.size()];
      sum += (a.x() * b.y() - a.y() * b.x()) / 2;
    }
    return std::abs(sum);
  }
  std::vector<Piece> pieces_;
  std::vector<PatternCrease> creases_;
};

/// What another program says is wrong with the order; empty when nothing is.
std::string wrong(const PatternProof& proof, double sheet_area) {
  nlohmann::json state = nlohmann::json::parse(folded_json(proof));
  for (const PatternEdge& e : proof.pattern.edges) {
    const bool flat = e.kind == EdgeKind::unfolded;
    state["edges"].push_back({e.from, e.to, flat ? "flat" : std::string(name_of(e.kind))});
  }
  return uc::testing::FoldChecker(state).wrong(sheet_area);
}

} // namespace

class SimpleFoldingTest : public QObject {
  Q_OBJECT

private slots:
  void paper_folded_at_random_is_found_to_fold_so() {
    std::mt19937 random(17);
    std::uniform_real_distribution<double> turn(0, std::numbers::pi);
    std::uniform_real_distribution<double> off(-25, 25);
    constexpr double side = 100;
    int found = 0;
    constexpr int papers = 60;
    for (int n = 0; n < papers; ++n) {
      Paper paper(side);
      for (int folds = 0, tries = 0; folds < 2 + n % 4 && tries < 200; ++tries) {
        const double t = turn(random);
        const Point normal{std::cos(t), std::sin(t)};
        folds += paper.fold(Line::with_normal(normal, normal.dot(Point{50, 50}) + off(random)), random() % 2 == 0);
      }
      const auto proof = proved(healed(paper.pattern(side)));
      QVERIFY(proof);
      QVERIFY2(proof->folds_flat(), qPrintable(QString::number(n)));
      found += proof->simple.has_value();
      const std::string fault = wrong(*proof, side * side);
      QVERIFY2(fault.empty(), fault.c_str());
    }
    qInfo("%d of %d found", found, papers);
    QVERIFY(found >= papers * 9 / 10);
  }

  void strips_agree_with_the_search() {
    std::mt19937 random(3);
    int simple = 0;
    for (int n = 0; n < 60; ++n) {
      std::vector<double> creases;
      for (double x = 10; x < 95; x += n % 2 == 0 ? 10 : 7 + static_cast<double>(random() % 12)) creases.push_back(x);
      CreasePattern p = strip_pattern(110, creases);
      for (PatternEdge& e : p.edges) {
        if (e.kind == EdgeKind::undirected) e.kind = random() % 2 == 0 ? EdgeKind::mountain : EdgeKind::valley;
      }
      const auto proof = proved(healed(p));
      const auto searched = proved(healed(p), by_search);
      QVERIFY(proof && searched && !searched->simple);
      QCOMPARE(proof->status, searched->status);
      if (!proof->simple) continue;
      ++simple;
      const std::string fault = wrong(*proof, 1100);
      QVERIFY2(fault.empty(), fault.c_str());
    }
    QVERIFY(simple > 10);
  }

  void undirected_creases_get_directions_that_fold() {
    const auto made = directed(healed(map_pattern(6, 5)));
    QVERIFY(made && made->pattern);
    const auto proof = proved(healed(*made->pattern), by_search);
    QVERIFY(proof && proof->folds_flat());
    for (const PatternEdge& e : made->pattern->edges) QVERIFY(e.kind != EdgeKind::undirected);
  }

  /// A crease that is not to be folded stays flat, and lines that do not go through to the rim are no simple folds.
  void what_is_no_simple_fold_is_left_to_the_search() {
    const auto chevrons = proved(healed(uc::testing::chevron_pattern(4, 4)));
    QVERIFY(chevrons && chevrons->folds_flat() && !chevrons->simple);
    CreasePattern p = map_pattern(4, 1);
    for (PatternEdge& e : p.edges) {
      if (e.kind == EdgeKind::undirected) e.kind = EdgeKind::unfolded;
    }
    const auto flat = proved(healed(p));
    QVERIFY(flat && flat->folds_flat() && flat->simple);
    QCOMPARE(flat->overlap->layers_max, 1);
    QCOMPARE(flat->simple->folds, 0);
  }

  void rows_of_triangles_of_any_size_data() {
    QTest::addColumn<int>("count");
    for (const int count : {2, 3, 6, 7, 8, 11, 16, 40}) QTest::addRow("%d", count) << count;
  }
  void rows_of_triangles_of_any_size() {
    QFETCH(int, count);
    const CreasePattern pattern =
        drawn_pattern(SizedFamily{{"triangle-row", {{"count", static_cast<double>(count)}}}, Sheet()}).healed.pattern;
    const auto proof = proved(healed(pattern));
    QVERIFY(proof && proof->folds_flat());
    QVERIFY(proof->simple);
    // Every triangle lies on one: the packet is as large as a triangle of the grid.
    const Point size = proof->form->box.size();
    const double edge = 240.0 / count;
    QVERIFY(size.x() < edge + 1e-6 && size.y() < edge * std::sqrt(0.75) + 1e-6);
    if (count > 8) return;
    const std::string fault = wrong(*proof, 240.0 * 240.0);
    QVERIFY2(fault.empty(), fault.c_str());
  }
};

UC_TEST(SimpleFoldingTest)
#include "simple_folding_test.moc"
