#include "unit/colouring.h"

#include "base/index.h"

#include <cadical.hpp>

#include <algorithm>
#include <chrono>
#include <memory>
#include <numeric>

namespace uc {
namespace {

using Clock = std::chrono::steady_clock;

class Stop : public CaDiCaL::Terminator {
public:
  Stop(Clock::time_point end, const Progress* progress) : end_(end), progress_(progress) {}
  bool terminate() override { return Clock::now() > end_ || (progress_ && progress_->stopped()); }

private:
  Clock::time_point end_;
  const Progress* progress_;
};

/// One variable for each unit and colour; further ones count (Sinz 2005).
class Colours {
public:
  Colours(const UnitGraph& graph, int colours) : graph_(graph), colours_(colours) {
    next_ = static_cast<int>(graph.units.size()) * colours + 1;
    for (int u = 0; u < static_cast<int>(graph.units.size()); ++u) {
      for (int c = 0; c < colours; ++c) solver_.add(is(u, c));
      solver_.add(0);
      for (int c = 0; c < colours; ++c)
        for (int d = 0; d < c; ++d) clause({-is(u, c), -is(u, d)});
    }
    for (const auto& [a, b] : graph.joints)
      for (int c = 0; c < colours; ++c) clause({-is(a, c), -is(b, c)});
  }
  [[nodiscard]] int is(int unit, int colour) const { return unit * colours_ + colour + 1; }
  /// Names of colours do not matter: those of units that all join each other are given.
  void break_symmetry(int variant) {
    const int n = static_cast<int>(graph_.units.size());
    const auto joined = [&](int a, int b) {
      return std::binary_search(graph_.joints.begin(), graph_.joints.end(), std::array{std::min(a, b), std::max(a, b)});
    };
    std::vector<int> clique;
    for (int i = 0; i < n && static_cast<int>(clique.size()) < colours_; ++i) {
      const int u = (i + 7 * variant) % n;
      if (std::all_of(clique.begin(), clique.end(), [&](int v) { return joined(u, v); })) clique.push_back(u);
    }
    for (std::size_t c = 0; c < clique.size(); ++c) clause({is(clique[c], (static_cast<int>(c) + variant) % colours_)});
  }
  void at_most(int colour, int most) {
    const int n = static_cast<int>(graph_.units.size());
    std::vector<int> before; // before[j]: more than j of the units so far have the colour
    for (int u = 0; u < n; ++u) {
      std::vector<int> count(at(most));
      for (int& v : count) v = next_++;
      const int x = is(u, colour);
      for (int j = 0; j < most; ++j) {
        if (!before.empty()) clause({-before[at(j)], count[at(j)]});
        if (j == 0)
          clause({-x, count[0]});
        else if (!before.empty())
          clause({-x, -before[at(j - 1)], count[at(j)]});
      }
      if (!before.empty()) clause({-x, -before[at(most - 1)]});
      before = std::move(count);
    }
  }
  std::optional<bool> solve(Stop& stop, int variant) {
    if (variant > 0) solver_.set("seed", variant % 1'000'000);
    solver_.connect_terminator(&stop);
    const int answer = solver_.solve();
    solver_.disconnect_terminator();
    if (answer == 0) return std::nullopt;
    return answer == 10;
  }
  [[nodiscard]] std::vector<int> answer() {
    std::vector<int> out(graph_.units.size(), 0);
    for (int u = 0; u < static_cast<int>(out.size()); ++u)
      for (int c = 0; c < colours_; ++c)
        if (solver_.val(is(u, c)) > 0) out[at(u)] = c;
    return out;
  }

private:
  void clause(std::initializer_list<int> literals) {
    for (const int l : literals) solver_.add(l);
    solver_.add(0);
  }
  const UnitGraph& graph_;
  int colours_;
  int next_ = 1;
  CaDiCaL::Solver solver_;
};

/// Shares brought nearer to each other by exchanging two colours along a chain of units that join (Kempe 1879).
void even_out(const UnitGraph& graph, int colours, std::vector<int>& colour) {
  std::vector<std::vector<int>> beside(graph.units.size());
  for (const auto& [a, b] : graph.joints) {
    beside[at(a)].push_back(b);
    beside[at(b)].push_back(a);
  }
  std::vector<int> share(at(colours), 0);
  for (const int c : colour) ++share[at(c)];
  for (bool better = true; better;) {
    better = false;
    for (int u = 0; u < static_cast<int>(colour.size()); ++u) {
      for (int d = 0; d < colours; ++d) {
        const int c = colour[at(u)];
        if (share[at(c)] <= share[at(d)] + 1) continue;
        std::vector<int> chain{u};
        std::vector<char> in(colour.size(), 0);
        in[at(u)] = 1;
        int gain = 0; // of c over d in the chain
        for (std::size_t i = 0; i < chain.size(); ++i) {
          gain += colour[at(chain[i])] == c ? 1 : -1;
          for (const int v : beside[at(chain[i])])
            if (!in[at(v)] && (colour[at(v)] == c || colour[at(v)] == d)) in[at(v)] = 1, chain.push_back(v);
        }
        const int apart = share[at(c)] - share[at(d)];
        if (gain <= 0 || std::abs(apart - 2 * gain) >= apart) continue;
        for (const int v : chain) colour[at(v)] = colour[at(v)] == c ? d : c;
        share[at(c)] -= gain;
        share[at(d)] += gain;
        better = true;
      }
    }
  }
}

bool equal(const std::vector<int>& colour, int colours) {
  std::vector<int> share(at(colours), 0);
  for (const int c : colour) ++share[at(c)];
  const auto [low, high] = std::minmax_element(share.begin(), share.end());
  return *high - *low <= 1;
}

} // namespace

Colouring coloured(const UnitGraph& graph, int colours, int variant, double seconds, const Progress* progress) {
  Colouring out;
  const auto end = Clock::now() + std::chrono::duration_cast<Clock::duration>(std::chrono::duration<double>(seconds));
  Stop stop(end, progress);
  const int n = static_cast<int>(graph.units.size());
  if (colours == 1) {
    if (graph.joints.empty()) out.colour.assign(at(n), 0);
    return out;
  }
  Colours plain(graph, colours);
  plain.break_symmetry(variant);
  const auto any = plain.solve(stop, variant);
  out.out_of_time = !any;
  if (!any || !*any) return out;
  out.colour = plain.answer();
  even_out(graph, colours, out.colour);
  if (equal(out.colour, colours)) return out;
  // Chains did not reach equal shares; whether any colouring has them is a question of its own.
  Colours counted(graph, colours);
  counted.break_symmetry(variant);
  const int most = (n + colours - 1) / colours;
  for (int c = 0; c < colours; ++c) counted.at_most(c, most);
  const auto even = counted.solve(stop, variant);
  if (even && *even) {
    out.colour = counted.answer();
    even_out(graph, colours, out.colour);
  }
  out.equal_shares = equal(out.colour, colours);
  return out;
}

std::optional<int> fewest_colours(const UnitGraph& graph, double seconds) {
  const auto end = Clock::now() + std::chrono::duration_cast<Clock::duration>(std::chrono::duration<double>(seconds));
  if (graph.joints.empty()) return 1;
  for (int colours = 2;; ++colours) {
    Stop stop(end, nullptr);
    Colours plain(graph, colours);
    plain.break_symmetry(0);
    const auto any = plain.solve(stop, 0);
    if (!any) return std::nullopt;
    if (*any) return colours;
  }
}

} // namespace uc
