#include "unit/colouring.h"

#include "base/index.h"
#include "base/sat_solver.h"

#include <fmt/format.h>

#include <algorithm>
#include <chrono>
#include <memory>
#include <numeric>

namespace uc {
namespace {

using Clock = std::chrono::steady_clock;

/// One variable for each unit and colour; further ones count.
class Colours {
public:
  Colours(const UnitGraph& graph, const ColourWish& wish) : graph_(graph), colours_(wish.colours) {
    if (wish.variant > 0) solver_.seed(wish.variant);
    const int colours = colours_;
    next_ = static_cast<int>(graph.units.size()) * colours + 1;
    for (int u = 0; u < static_cast<int>(graph.units.size()); ++u) {
      for (int c = 0; c < colours; ++c) solver_.add(is(u, c));
      solver_.add(0);
      for (int c = 0; c < colours; ++c)
        for (int d = 0; d < c; ++d) clause({-is(u, c), -is(u, d)});
    }
    for (const auto& [a, b] : graph.joints)
      for (int c = 0; c < colours; ++c) clause({-is(a, c), -is(b, c)});
    for (const auto& [a, b] : wish.ties) {
      for (int c = 0; c < colours; ++c) {
        clause({-is(a, c), is(b, c)});
        clause({is(a, c), -is(b, c)});
      }
    }
    for (const auto& turn : wish.turns) keep(turn);
  }
  [[nodiscard]] int is(int unit, int colour) const { return unit * colours_ + colour + 1; }
  /// Names of colours do not matter: those of units that all join each other are given.
  void break_symmetry(int variant) {
    const int n = static_cast<int>(graph_.units.size());
    const auto joined = [&](int a, int b) {
      return std::binary_search(graph_.joints.begin(), graph_.joints.end(),
                                std::array{UnitId(std::min(a, b)), UnitId(std::max(a, b))});
    };
    std::vector<int> clique;
    for (int i = 0; i < n && static_cast<int>(clique.size()) < colours_; ++i) {
      const int u = (i + 7 * variant) % n;
      if (std::all_of(clique.begin(), clique.end(), [&](int v) { return joined(u, v); })) clique.push_back(u);
    }
    for (std::size_t c = 0; c < clique.size(); ++c) clause({is(clique[c], (static_cast<int>(c) + variant) % colours_)});
  }
  /// No colour on more than `most` units.
  void at_most(int most) {
    for (int c = 0; c < colours_; ++c) forbid_more(units_of(c), most);
  }
  /// Every colour on as many units as any other, or one more. Where the units cannot be shared out evenly, no more
  /// colours than the rest have one unit more, so that none of the others is short of one.
  void shares_equal() {
    const int n = static_cast<int>(graph_.units.size());
    const int least = n / colours_;
    const int rest = n % colours_;
    std::vector<int> larger;
    for (int c = 0; c < colours_; ++c) {
      forbid_more(units_of(c), least + (rest > 0));
      if (rest > 0) larger.push_back(counted(units_of(c), least + 1).back());
    }
    if (rest > 0) forbid_more(larger, rest);
  }
  std::optional<bool> solve(const std::function<bool()>& stop) { return solver_.solve(stop); }
  [[nodiscard]] std::vector<int> answer() {
    std::vector<int> out(graph_.units.size(), 0);
    for (int u = 0; u < static_cast<int>(out.size()); ++u)
      for (int c = 0; c < colours_; ++c)
        if (solver_.is_true(is(u, c))) out[at(u)] = c;
    return out;
  }

private:
  [[nodiscard]] std::vector<int> units_of(int colour) const {
    std::vector<int> out(graph_.units.size());
    for (int u = 0; u < static_cast<int>(out.size()); ++u) out[at(u)] = is(u, colour);
    return out;
  }
  /// Variables that are true where more than 0, 1, ... `limit` - 1 of the literals are (Sinz 2005).
  std::vector<int> counted(const std::vector<int>& literals, int limit) {
    std::vector<int> before;
    for (const int x : literals) {
      std::vector<int> count(at(limit));
      for (int& v : count) v = next_++;
      for (int j = 0; j < limit; ++j) {
        if (!before.empty()) clause({-before[at(j)], count[at(j)]});
        if (j == 0)
          clause({-x, count[0]});
        else if (!before.empty())
          clause({-x, -before[at(j - 1)], count[at(j)]});
      }
      before = std::move(count);
    }
    return before;
  }
  void forbid_more(const std::vector<int>& literals, int most) {
    if (most < static_cast<int>(literals.size())) clause({-counted(literals, most + 1).back()});
  }
  /// The rotation takes colour c to colour d wherever it is so at all: one variable for each such pair.
  void keep(const std::vector<UnitId>& turn) {
    const int first = next_;
    next_ += colours_ * colours_;
    const auto takes = [&](int c, int d) { return first + c * colours_ + d; };
    for (int c = 0; c < colours_; ++c)
      for (int d = 0; d < colours_; ++d)
        for (int e = 0; e < d; ++e) {
          clause({-takes(c, d), -takes(c, e)});
          clause({-takes(d, c), -takes(e, c)});
        }
    for (int u = 0; u < static_cast<int>(turn.size()); ++u)
      for (int c = 0; c < colours_; ++c)
        for (int d = 0; d < colours_; ++d) clause({-is(u, c), -is(turn[at(u)], d), takes(c, d)});
  }
  void clause(std::initializer_list<int> literals) {
    for (const int l : literals) solver_.add(l);
    solver_.add(0);
  }
  const UnitGraph& graph_;
  int colours_;
  int next_ = 1;
  SatSolver solver_;
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

std::vector<int> shares_of(const std::vector<int>& colour, int colours) {
  std::vector<int> share(at(colours), 0);
  for (const int c : colour) ++share[at(c)];
  return share;
}

bool equal(const std::vector<int>& colour, int colours) {
  const auto share = shares_of(colour, colours);
  const auto [low, high] = std::minmax_element(share.begin(), share.end());
  return *high - *low <= 1;
}

} // namespace

Colouring coloured(const UnitGraph& graph, const ColourWish& wish, const Progress* progress) {
  Colouring out;
  const auto end =
      Clock::now() + std::chrono::duration_cast<Clock::duration>(std::chrono::duration<double>(wish.seconds));
  const auto stop = [&] { return Clock::now() > end || (progress && progress->stopped()); };
  const int n = static_cast<int>(graph.units.size());
  if (wish.colours == 1) {
    if (graph.joints.empty()) out.colour.assign(at(n), 0);
    return out;
  }
  Colours plain(graph, wish);
  plain.break_symmetry(wish.variant);
  const auto any = plain.solve(stop);
  out.out_of_time = !any;
  if (!any || !*any) return out;
  out.colour = plain.answer();
  if (wish.ties.empty() && wish.turns.empty()) even_out(graph, wish.colours, out.colour);
  // Where chains do not reach equal shares, whether any colouring has them is a question of its own; then the least
  // largest share is looked for.
  const auto counted = [&](const auto& bound) {
    Colours colours(graph, wish);
    colours.break_symmetry(wish.variant);
    bound(colours);
    const auto found = colours.solve(stop);
    if (found && *found) out.colour = colours.answer();
    return found;
  };
  if (!equal(out.colour, wish.colours)) {
    auto found = counted([](Colours& c) { c.shares_equal(); });
    const auto share = shares_of(out.colour, wish.colours);
    const int largest = *std::max_element(share.begin(), share.end());
    for (int most = (n + wish.colours - 1) / wish.colours; found == false && most < largest; ++most) {
      found = counted([&](Colours& c) { c.at_most(most); });
      if (found == true && wish.ties.empty() && wish.turns.empty()) even_out(graph, wish.colours, out.colour);
    }
  }
  out.equal_shares = equal(out.colour, wish.colours);
  return out;
}

std::optional<std::array<UnitId, 2>> tied_joint(const UnitGraph& graph,
                                                const std::vector<std::array<UnitId, 2>>& ties) {
  std::vector<int> root(graph.units.size());
  std::iota(root.begin(), root.end(), 0);
  const auto find = [&](int u) {
    while (root[at(u)] != u) u = root[at(u)] = root[at(root[at(u)])];
    return u;
  };
  for (const auto& [a, b] : ties) root[at(find(a))] = find(b);
  for (const auto& joint : graph.joints)
    if (find(joint[0]) == find(joint[1])) return joint;
  return std::nullopt;
}

Result<std::optional<int>> fewest_colours(const UnitGraph& graph, ColourWish wish) {
  const auto end =
      Clock::now() + std::chrono::duration_cast<Clock::duration>(std::chrono::duration<double>(wish.seconds));
  if (graph.joints.empty()) return std::optional<int>(1);
  if (const auto joint = tied_joint(graph, wish.ties))
    return Error{fmt::format("units {} and {} join and would have one colour", (*joint)[0] + 1, (*joint)[1] + 1)};
  constexpr int most = 24;
  for (wish.colours = 2; wish.colours <= most; ++wish.colours) {
    const auto stop = [&] { return Clock::now() > end; };
    Colours plain(graph, wish);
    plain.break_symmetry(0);
    const auto any = plain.solve(stop);
    if (!any) return std::optional<int>();
    if (*any) return std::optional<int>(wish.colours);
  }
  return std::optional<int>();
}

} // namespace uc
