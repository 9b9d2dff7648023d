#include "form/layer_count.h"

#include "base/index.h"
#include "form/layer_propagation.h"
#include "form/order_solver.h"

#include <boost/multiprecision/cpp_int.hpp>
#include <fmt/format.h>

#include <algorithm>
#include <set>
#include <unordered_map>

namespace uc {
namespace {

using Number = boost::multiprecision::cpp_int;
using Clause = std::vector<int>;

class ModelCounter {
public:
  ModelCounter(int variables, std::vector<Clause> clauses, const Deadline& deadline)
      : clauses_(std::move(clauses)), true_(clauses_.size(), 0), open_(clauses_.size(), 0),
        value_(at(variables) + 1, 0), with_(2 * (at(variables) + 1)), mark_(at(variables) + 1, 0),
        clause_mark_(clauses_.size(), 0), deadline_(deadline) {
    for (std::size_t c = 0; c < clauses_.size(); ++c) {
      open_[c] = static_cast<int>(clauses_[c].size());
      for (const int l : clauses_[c]) with_[slot(l)].push_back(static_cast<int>(c));
    }
  }

  /// Nothing when time is up.
  std::optional<Number> count() {
    std::vector<int> all;
    for (int v = 1; v < static_cast<int>(value_.size()); ++v) all.push_back(v);
    std::vector<int> units;
    for (const Clause& c : clauses_) {
      if (c.empty()) return Number(0);
      if (c.size() == 1) units.push_back(c[0]);
    }
    for (const int l : units) {
      if (!assign(l)) return Number(0);
    }
    Number out = product(all);
    if (late_) return std::nullopt;
    return out;
  }

private:
  static std::size_t slot(int l) { return 2 * at(std::abs(l)) + (l < 0 ? 1 : 0); }
  [[nodiscard]] bool free(int v) const { return value_[at(v)] == 0; }

  /// Sets a literal and what follows; false on a contradiction. Everything stays on the trail.
  bool assign(int literal) {
    std::vector<int> todo{literal};
    while (!todo.empty()) {
      const int l = todo.back();
      todo.pop_back();
      signed char& value = value_[at(std::abs(l))];
      if (value != 0) {
        if ((value > 0) != (l > 0)) return false;
        continue;
      }
      value = l > 0 ? 1 : -1;
      trail_.push_back(l);
      for (const int c : with_[slot(l)]) {
        ++true_[at(c)];
        --open_[at(c)];
      }
      bool fits = true;
      for (const int c : with_[slot(-l)]) {
        --open_[at(c)];
        if (true_[at(c)] != 0) continue;
        if (open_[at(c)] == 0) fits = false;
        if (open_[at(c)] != 1) continue;
        for (const int k : clauses_[at(c)]) {
          if (free(std::abs(k))) todo.push_back(k);
        }
      }
      if (!fits) return false;
    }
    return true;
  }
  void undo_to(std::size_t length) {
    while (trail_.size() > length) {
      const int l = trail_.back();
      trail_.pop_back();
      value_[at(std::abs(l))] = 0;
      for (const int c : with_[slot(l)]) {
        --true_[at(c)];
        ++open_[at(c)];
      }
      for (const int c : with_[slot(-l)]) ++open_[at(c)];
    }
  }

  struct Part {
    std::vector<int> variables;
    std::vector<int> clauses;
  };

  /// The free variables among some, in parts that share no clause still open.
  std::vector<Part> parts_of(const std::vector<int>& variables) {
    ++epoch_;
    std::vector<Part> out;
    for (const int start : variables) {
      if (!free(start) || mark_[at(start)] == epoch_) continue;
      Part part;
      mark_[at(start)] = epoch_;
      part.variables.push_back(start);
      for (std::size_t i = 0; i < part.variables.size(); ++i) {
        const int v = part.variables[i];
        for (const int l : {v, -v}) {
          for (const int c : with_[slot(l)]) {
            if (true_[at(c)] != 0 || clause_mark_[at(c)] == epoch_) continue;
            clause_mark_[at(c)] = epoch_;
            part.clauses.push_back(c);
            for (const int k : clauses_[at(c)]) {
              const int w = std::abs(k);
              if (!free(w) || mark_[at(w)] == epoch_) continue;
              mark_[at(w)] = epoch_;
              part.variables.push_back(w);
            }
          }
        }
      }
      out.push_back(std::move(part));
    }
    return out;
  }

  Number product(const std::vector<int>& variables) {
    Number out = 1;
    for (Part& part : parts_of(variables)) {
      out *= part.clauses.empty() ? Number(2) : cases(part);
      if (out == 0 || late_) break;
    }
    return out;
  }

  Number cases(Part& part) {
    if (++nodes_ % 256 == 0 && deadline_.passed()) late_ = true;
    if (late_) return 0;
    std::sort(part.variables.begin(), part.variables.end());
    std::sort(part.clauses.begin(), part.clauses.end());
    std::string key;
    const auto put = [&](const std::vector<int>& list) {
      key.append(reinterpret_cast<const char*>(list.data()), list.size() * sizeof(int));
      key.append("\xFF\xFF\xFF\xFF", 4);
    };
    put(part.variables);
    put(part.clauses);
    if (const auto found = remembered_.find(key); found != remembered_.end()) return found->second;

    std::unordered_map<int, int> uses;
    for (const int c : part.clauses) {
      for (const int k : clauses_[at(c)]) {
        if (free(std::abs(k))) uses[std::abs(k)] += open_[at(c)] == 2 ? 4 : 1;
      }
    }
    int chosen = part.variables.front();
    for (const int v : part.variables) {
      if (uses[v] > uses[chosen]) chosen = v;
    }
    Number out = 0;
    for (const int l : {chosen, -chosen}) {
      const std::size_t before = trail_.size();
      if (assign(l)) out += product(part.variables);
      undo_to(before);
      if (late_) return 0;
    }
    if (remembered_.size() > 500'000) remembered_.clear();
    remembered_.emplace(std::move(key), out);
    return out;
  }

  std::vector<Clause> clauses_;
  std::vector<int> true_;
  std::vector<int> open_;
  std::vector<signed char> value_;
  std::vector<std::vector<int>> with_;
  std::vector<int> mark_;
  std::vector<int> clause_mark_;
  std::vector<int> trail_;
  std::unordered_map<std::string, Number> remembered_;
  const Deadline& deadline_;
  int epoch_ = 0;
  std::size_t nodes_ = 0;
  bool late_ = false;
};

} // namespace

Result<std::string> counted_states(const LayerConstraints& constraints, const LayerOptions& options) {
  const Deadline deadline = Deadline::in(options.seconds, options.progress);
  std::size_t triples = 0;
  for (const auto& s : constraints.stacks) triples += s.size() * (s.size() - 1) * (s.size() - 2) / 6;
  if (triples > most_counted_triples)
    return Error{fmt::format("The stacks of layers are too high to count ({} triples of faces); count a part of the "
                             "pattern instead.",
                             triples)};
  LayerPropagation propagated(constraints);
  if (!propagated.run(true, options.progress)) return std::string("0");

  std::unordered_map<int, int> number;
  const auto variable = [&](Literal root) {
    const int n = number.try_emplace(std::abs(root), static_cast<int>(number.size()) + 1).first->second;
    return root > 0 ? n : -n;
  };
  const Literal yes = propagated.constant_true();
  for (std::size_t p = 1; p < constraints.pairs.size(); ++p) {
    const Literal r = propagated.root(static_cast<Literal>(p));
    if (std::abs(r) != yes) variable(r);
  }
  std::set<Clause> clauses;
  /// Not all of these are true; literals that are known or double are taken out.
  const auto not_all = [&](const std::array<Literal, 3>& literals) {
    Clause c;
    for (const Literal l : literals) {
      const Literal r = propagated.root(l);
      if (r == -yes) return;
      if (r != yes) c.push_back(-variable(r));
    }
    std::sort(c.begin(), c.end());
    c.erase(std::unique(c.begin(), c.end()), c.end());
    for (const int l : c) {
      if (std::find(c.begin(), c.end(), -l) != c.end()) return;
    }
    clauses.insert(std::move(c));
  };
  for (const auto& s : constraints.stacks) {
    if (deadline.passed()) return Error{"Counting took too long; allow more seconds."};
    for (std::size_t i = 0; i < s.size(); ++i) {
      for (std::size_t k = i + 1; k < s.size(); ++k) {
        const Literal ik = constraints.above(s[i], s[k]);
        for (std::size_t m = k + 1; m < s.size(); ++m) {
          const Literal km = constraints.above(s[k], s[m]);
          const Literal mi = constraints.above(s[m], s[i]);
          not_all({ik, km, mi});
          not_all({-ik, -km, -mi});
        }
      }
    }
  }
  for (const auto& p : propagated.parities()) {
    const std::size_t n = p.roots().size();
    for (unsigned mask = 0; mask < 1U << n; ++mask) {
      if ((__builtin_popcount(mask) % 2 != 0) == p.odd) continue;
      Clause c;
      for (std::size_t i = 0; i < n; ++i)
        c.push_back((mask >> i) & 1U ? -variable(p.roots()[i]) : variable(p.roots()[i]));
      std::sort(c.begin(), c.end());
      clauses.insert(std::move(c));
    }
  }
  ModelCounter counter(static_cast<int>(number.size()), {clauses.begin(), clauses.end()}, deadline);
  const auto states = counter.count();
  if (!states) return Error{"Counting took too long; allow more seconds."};
  return states->str();
}

} // namespace uc
