#include "collapse/dissected_cholesky.h"

#include "base/index.h"
#include "base/parallel.h"
#include "geometry/lapack.h"

#include <Eigen/Core>

#include <algorithm>
#include <array>
#include <atomic>

namespace uc {

/// A part of the sheet: its own vertices, which are worked out here, and those after them that they are tied to.
struct DissectedCholesky::Front {
  std::vector<int> own;
  std::vector<int> rim; // ascending in the order of elimination
  std::vector<int> children;
  /// Value of the matrix and where it goes in the front, column by column.
  std::vector<std::pair<int, int>> entries;
  std::vector<std::vector<int>> child_rows; // per child, where each vertex of its rim stands in this front
  std::ptrdiff_t passed_on = 0;             // where what it passes on to its parent stands while solving
  Eigen::MatrixXd factor;                   // lower half of the own part, and the rows of the rim below it
  Eigen::MatrixXd rest;                     // lower half: what is left for the parent
};

struct DissectedCholesky::State {
  std::vector<std::vector<int>> beside; // vertices tied to each vertex
  std::vector<Front> fronts;            // children before parents
  std::vector<int> rank;                // of a vertex in the order of elimination
  std::vector<int> front_of;
  /// Runs of fronts that do not touch one another, from the first to one past the last; what is in none comes after
  /// them.
  std::vector<std::array<std::size_t, 2>> apart;
  std::vector<std::size_t> together; // those in none
  std::ptrdiff_t passed_on = 0;      // by all fronts, while solving

  int dissect(std::vector<int> vertices, const std::vector<Point>& places);
  int add(std::vector<int> own, std::vector<int> children);
  void tie();
  void place(const Eigen::SparseMatrix<double>& lower);
  void share_out();
  bool work_out(Front& f, const double* values);
  void forward(const Front& f, Eigen::VectorXd& x, Eigen::VectorXd& passed) const;
  void backward(const Front& f, Eigen::VectorXd& x) const;
};

namespace {

constexpr std::size_t smallest_part = 16; // vertices that are not cut in two again

/// Factors a front's own part in place and takes it out of the rest.
bool eliminate(Eigen::MatrixXd& factor, Eigen::MatrixXd& rest) {
  const int n = static_cast<int>(factor.cols());
  const int m = static_cast<int>(rest.rows());
  const int stride = static_cast<int>(factor.rows());
  if (n == 0) return true;
  int wrong = 0;
  dpotrf_("L", &n, factor.data(), &stride, &wrong);
  if (wrong != 0) return false;
  if (m == 0) return true;
  const double one = 1;
  const double minus = -1;
  double* below = factor.data() + n;
  dtrsm_("R", "L", "T", "N", &m, &n, &one, factor.data(), &stride, below, &stride);
  dsyrk_("L", "N", &m, &n, &minus, below, &stride, &one, rest.data(), &m);
  return true;
}

void gather(const std::vector<int>& vertices, const Eigen::VectorXd& x, Eigen::Ref<Eigen::VectorXd> out) {
  for (std::size_t i = 0; i < vertices.size(); ++i)
    out.segment<3>(3 * static_cast<Eigen::Index>(i)) = x.segment<3>(3 * static_cast<Eigen::Index>(vertices[i]));
}
void scatter(const std::vector<int>& vertices, const Eigen::VectorXd& from, Eigen::VectorXd& x) {
  for (std::size_t i = 0; i < vertices.size(); ++i)
    x.segment<3>(3 * static_cast<Eigen::Index>(vertices[i])) = from.segment<3>(3 * static_cast<Eigen::Index>(i));
}

} // namespace

int DissectedCholesky::State::add(std::vector<int> own, std::vector<int> children) {
  const int here = static_cast<int>(fronts.size());
  for (const int v : own) front_of[at(v)] = here;
  fronts.emplace_back();
  fronts.back().own = std::move(own);
  fronts.back().children = std::move(children);
  return here;
}

/// The front that is worked out last among those of these vertices.
int DissectedCholesky::State::dissect(std::vector<int> vertices, const std::vector<Point>& places) {
  if (vertices.size() <= smallest_part) return add(std::move(vertices), {});
  Point low = places[at(vertices[0])];
  Point high = low;
  for (const int v : vertices) {
    low = low.cwiseMin(places[at(v)]);
    high = high.cwiseMax(places[at(v)]);
  }
  const int axis = high.x() - low.x() >= high.y() - low.y() ? 0 : 1;
  const auto before = [&](int a, int b) {
    const double x = places[at(a)][axis];
    const double y = places[at(b)][axis];
    return x != y ? x < y : a < b;
  };
  const auto middle = vertices.begin() + static_cast<std::ptrdiff_t>(vertices.size() / 2);
  std::nth_element(vertices.begin(), middle, vertices.end(), before);
  // Those of the lower half that are tied to the upper one stand between both.
  constexpr int lower_side = -2;
  constexpr int upper_side = -3;
  for (auto it = vertices.begin(); it != vertices.end(); ++it)
    front_of[at(*it)] = it < middle ? lower_side : upper_side;
  std::vector<int> lower;
  std::vector<int> between;
  for (auto it = vertices.begin(); it != middle; ++it) {
    const auto& tied = beside[at(*it)];
    const bool cut = std::any_of(tied.begin(), tied.end(), [&](int w) { return front_of[at(w)] == upper_side; });
    (cut ? between : lower).push_back(*it);
  }
  std::vector<int> upper(middle, vertices.end());
  for (const int v : vertices) front_of[at(v)] = -1;
  if (lower.empty() || upper.empty()) return add(std::move(vertices), {});
  const int a = dissect(std::move(lower), places);
  const int b = dissect(std::move(upper), places);
  return add(std::move(between), {a, b});
}

/// What each front is tied to beyond itself, its children's ties with its own.
void DissectedCholesky::State::tie() {
  rank.assign(beside.size(), 0);
  int next = 0;
  for (const Front& f : fronts)
    for (const int v : f.own) rank[at(v)] = next++;
  const auto earlier = [&](int a, int b) { return rank[at(a)] < rank[at(b)]; };
  for (int here = 0; here < static_cast<int>(fronts.size()); ++here) {
    Front& f = fronts[at(here)];
    const auto later = [&](int v) { return front_of[at(v)] > here; };
    for (const int v : f.own)
      std::copy_if(beside[at(v)].begin(), beside[at(v)].end(), std::back_inserter(f.rim), later);
    for (const int c : f.children)
      std::copy_if(fronts[at(c)].rim.begin(), fronts[at(c)].rim.end(), std::back_inserter(f.rim), later);
    std::sort(f.rim.begin(), f.rim.end(), earlier);
    f.rim.erase(std::unique(f.rim.begin(), f.rim.end()), f.rim.end());
  }
}

/// Where each number of the matrix, and of each child's rest, goes.
void DissectedCholesky::State::place(const Eigen::SparseMatrix<double>& lower) {
  std::vector<int> row(beside.size(), -1); // of a vertex in the front at hand
  std::vector<std::vector<std::array<int, 3>>> own_entries(fronts.size());
  for (int column = 0; column < lower.outerSize(); ++column) {
    for (int k = lower.outerIndexPtr()[column]; k < lower.outerIndexPtr()[column + 1]; ++k) {
      const int r = lower.innerIndexPtr()[k];
      const bool column_first = rank[at(column / 3)] <= rank[at(r / 3)];
      own_entries[at(front_of[at((column_first ? column : r) / 3)])].push_back({k, r, column});
    }
  }
  for (std::size_t here = 0; here < fronts.size(); ++here) {
    Front& f = fronts[here];
    int next = 0;
    for (const int v : f.own) row[at(v)] = next++;
    for (const int v : f.rim) row[at(v)] = next++;
    const int size = 3 * next;
    for (const auto& [k, r, c] : own_entries[here]) {
      const int a = 3 * row[at(r / 3)] + r % 3;
      const int b = 3 * row[at(c / 3)] + c % 3;
      f.entries.emplace_back(k, std::max(a, b) + std::min(a, b) * size);
    }
    for (const int c : f.children) {
      std::vector<int> rows;
      for (const int v : fronts[at(c)].rim) rows.push_back(row[at(v)]);
      f.child_rows.push_back(std::move(rows));
    }
    f.passed_on = passed_on;
    passed_on += 3 * static_cast<std::ptrdiff_t>(f.rim.size());
  }
}

DissectedCholesky::DissectedCholesky(const Eigen::SparseMatrix<double>& lower, const std::vector<Point>& places)
    : state_(std::make_unique<State>()) {
  one_thread_each();
  State& s = *state_;
  const std::size_t n = places.size();
  s.beside.resize(n);
  for (int column = 0; column < lower.outerSize(); column += 3) {
    for (int k = lower.outerIndexPtr()[column]; k < lower.outerIndexPtr()[column + 1]; ++k) {
      const int a = column / 3;
      const int b = lower.innerIndexPtr()[k] / 3;
      if (a == b || (!s.beside[at(a)].empty() && s.beside[at(a)].back() == b)) continue;
      s.beside[at(a)].push_back(b);
      s.beside[at(b)].push_back(a);
    }
  }
  s.front_of.assign(n, -1);
  std::vector<int> all(n);
  for (std::size_t v = 0; v < n; ++v) all[v] = static_cast<int>(v);
  if (n > 0) s.dissect(std::move(all), places);
  s.tie();
  s.place(lower);
  s.share_out();
}
DissectedCholesky::~DissectedCholesky() = default;
DissectedCholesky::DissectedCholesky(DissectedCholesky&&) noexcept = default;
DissectedCholesky& DissectedCholesky::operator=(DissectedCholesky&&) noexcept = default;

/// The largest subtrees are cut apart until there are enough for the cores; small sheets stay whole, where threads cost
/// more than they bring.
void DissectedCholesky::State::share_out() {
  constexpr std::size_t parts = 4;
  constexpr std::size_t worth_it = 500; // vertices
  std::vector<std::size_t> first(fronts.size());
  for (std::size_t f = 0; f < fronts.size(); ++f)
    first[f] = fronts[f].children.empty() ? f : first[at(fronts[f].children[0])];
  std::vector<std::size_t> roots;
  if (beside.size() >= worth_it) roots.push_back(fronts.size() - 1);
  const auto fewer = [&](std::size_t a, std::size_t b) { return a - first[a] < b - first[b]; };
  while (!roots.empty() && roots.size() < parts) {
    const auto largest = std::max_element(roots.begin(), roots.end(), fewer);
    const std::vector<int> children = fronts[*largest].children;
    if (children.empty()) break;
    roots.erase(largest);
    for (const int c : children) roots.push_back(at(c));
  }
  std::sort(roots.begin(), roots.end());
  for (const std::size_t r : roots) apart.push_back({first[r], r + 1});
  for (std::size_t f = 0, part = 0; f < fronts.size(); ++f) {
    while (part < apart.size() && f >= apart[part][1]) ++part;
    if (part == apart.size() || f < apart[part][0]) together.push_back(f);
  }
}

bool DissectedCholesky::factorize(const double* values) {
  State& s = *state_;
  std::atomic<bool> fine{true};
  parallel_for(s.apart.size(), [&](std::size_t part) {
    for (std::size_t f = s.apart[part][0]; f < s.apart[part][1] && fine; ++f)
      if (!s.work_out(s.fronts[f], values)) fine = false;
  });
  for (std::size_t i = 0; i < s.together.size() && fine; ++i)
    if (!s.work_out(s.fronts[s.together[i]], values)) fine = false;
  return fine;
}

bool DissectedCholesky::State::work_out(Front& f, const double* values) {
  const Eigen::Index own = 3 * static_cast<Eigen::Index>(f.own.size());
  const Eigen::Index rim = 3 * static_cast<Eigen::Index>(f.rim.size());
  f.factor.setZero(own + rim, own);
  f.rest.setZero(rim, rim);
  for (const auto& [k, where] : f.entries) f.factor.data()[where] += values[k];
  for (std::size_t c = 0; c < f.children.size(); ++c) {
    const Front& child = fronts[at(f.children[c])];
    const std::vector<int>& rows = f.child_rows[c];
    // Ranks ascend in both, so the lower half goes to the lower half.
    for (std::size_t j = 0; j < 3 * rows.size(); ++j) {
      const double* from = &child.rest(0, static_cast<Eigen::Index>(j));
      const Eigen::Index column = 3 * rows[j / 3] + static_cast<Eigen::Index>(j % 3);
      double* to = column < own ? &f.factor(0, column) : &f.rest(0, column - own);
      const Eigen::Index above = column < own ? 0 : own;
      for (std::size_t i = j / 3; i < rows.size(); ++i)
        for (std::size_t k = 0; k < 3; ++k) to[3 * rows[i] - above + static_cast<Eigen::Index>(k)] += from[3 * i + k];
    }
  }
  return eliminate(f.factor, f.rest);
}

/// What children pass on is added, and what is left for the rim is passed on: no front writes where another does.
void DissectedCholesky::State::forward(const Front& f, Eigen::VectorXd& x, Eigen::VectorXd& passed) const {
  const Eigen::Index own = f.factor.cols();
  const Eigen::Index rim = f.factor.rows() - own;
  Eigen::VectorXd all = Eigen::VectorXd::Zero(own + rim);
  gather(f.own, x, all.head(own));
  for (std::size_t c = 0; c < f.children.size(); ++c) {
    const double* from = passed.data() + fronts[at(f.children[c])].passed_on;
    for (const int row : f.child_rows[c]) {
      all.segment<3>(3 * row) += Eigen::Map<const Eigen::Vector3d>(from);
      from += 3;
    }
  }
  Eigen::VectorXd solved = all.head(own);
  f.factor.topRows(own).triangularView<Eigen::Lower>().solveInPlace(solved);
  scatter(f.own, solved, x);
  if (rim == 0) return;
  auto out = passed.segment(f.passed_on, rim);
  out = all.tail(rim);
  out.noalias() -= f.factor.bottomRows(rim) * solved;
}

void DissectedCholesky::State::backward(const Front& f, Eigen::VectorXd& x) const {
  const Eigen::Index own = f.factor.cols();
  const Eigen::Index rim = f.factor.rows() - own;
  Eigen::VectorXd solved(own);
  gather(f.own, x, solved);
  if (rim > 0) {
    Eigen::VectorXd after(rim);
    gather(f.rim, x, after);
    solved.noalias() -= f.factor.bottomRows(rim).transpose() * after;
  }
  f.factor.topRows(own).triangularView<Eigen::Lower>().transpose().solveInPlace(solved);
  scatter(f.own, solved, x);
}

Eigen::VectorXd DissectedCholesky::solve(const Eigen::VectorXd& right) const {
  const State& s = *state_;
  Eigen::VectorXd x = right;
  Eigen::VectorXd passed(s.passed_on);
  parallel_for(s.apart.size(), [&](std::size_t part) {
    for (std::size_t f = s.apart[part][0]; f < s.apart[part][1]; ++f) s.forward(s.fronts[f], x, passed);
  });
  for (const std::size_t f : s.together) s.forward(s.fronts[f], x, passed);
  for (auto f = s.together.rbegin(); f != s.together.rend(); ++f) s.backward(s.fronts[*f], x);
  parallel_for(s.apart.size(), [&](std::size_t part) {
    for (std::size_t f = s.apart[part][1]; f-- > s.apart[part][0];) s.backward(s.fronts[f], x);
  });
  return x;
}

std::size_t DissectedCholesky::kept() const {
  std::size_t sum = 0;
  for (const Front& f : state_->fronts) {
    const std::size_t own = 3 * f.own.size();
    sum += own * (own + 1) / 2 + own * 3 * f.rim.size();
  }
  return sum;
}

} // namespace uc
