#include "form/layer_components.h"

#include "base/index.h"

#include <algorithm>
#include <numeric>

namespace uc {
namespace {

class Parts {
public:
  explicit Parts(std::size_t n) : parent_(n) { std::iota(parent_.begin(), parent_.end(), 0); }
  int find(int i) {
    while (parent_[at(i)] != i) i = parent_[at(i)] = parent_[at(parent_[at(i)])];
    return i;
  }
  void join(int a, int b) { parent_[at(find(a))] = find(b); }

private:
  std::vector<int> parent_;
};

void put(std::string& text, int number) { text.append(reinterpret_cast<const char*>(&number), sizeof number); }

} // namespace

std::vector<LayerComponent> components_of(const LayerConstraints& constraints, const LayerPropagation& propagated,
                                          const Progress* progress) {
  const int yes = propagated.constant_true();
  Parts parts(at(yes) + 1);
  const auto unknown = [&](Literal root) { return std::abs(root) != yes; };
  const auto& parities = propagated.parities();
  for (const auto& p : parities) {
    for (const Literal r : p.roots()) parts.join(std::abs(r), std::abs(p.roots().front()));
  }
  std::vector<std::pair<int, const std::vector<FaceId>*>> open; // an unknown of each stack that has one
  StackTable table;
  for (const auto& stack : constraints.stacks) {
    if (progress && progress->stopped()) return {};
    int first = 0;
    table.lay_out(constraints.pairs, stack);
    for (std::size_t i = 0; i < stack.size(); ++i) {
      for (std::size_t k = i + 1; k < stack.size(); ++k) {
        const int v = std::abs(propagated.root(table.above(i, k)));
        if (!unknown(v)) continue;
        if (first == 0) first = v;
        parts.join(v, first);
      }
    }
    if (first != 0) open.emplace_back(first, &stack);
  }

  std::vector<LayerComponent> out;
  std::unordered_map<int, std::size_t> of;
  const auto component = [&](int v) -> LayerComponent& {
    const auto [it, fresh] = of.emplace(parts.find(v), out.size());
    if (fresh) out.emplace_back();
    return out[it->second];
  };
  for (const auto& [first, stack] : open) component(first).stacks.push_back(*stack);
  for (std::size_t p = 0; p < parities.size(); ++p)
    component(std::abs(parities[p].roots().front())).parities.push_back(p);
  // Unknowns that stand in no stack of three and no parity are free; each is a component of its own.
  for (int p = 1; p < static_cast<int>(constraints.pairs.size()); ++p) {
    const Literal r = propagated.root(p);
    if (unknown(r)) component(std::abs(r));
  }

  // Roots are numbered as they are met, stack by stack, so that equal parts of different patterns read the same.
  std::unordered_map<int, int> number; // signed: the sense in which a root was met first
  for (LayerComponent& c : out) {
    const auto told = [&](Literal root) {
      if (!unknown(root)) return root > 0 ? 1 : -1;
      const int v = std::abs(root);
      auto it = number.find(v);
      if (it == number.end()) {
        c.roots.push_back(root);
        it = number.emplace(v, (static_cast<int>(c.roots.size()) + 1) * (root > 0 ? 1 : -1)).first;
      }
      return root > 0 ? it->second : -it->second;
    };
    for (const auto& stack : c.stacks) {
      put(c.text, static_cast<int>(stack.size()));
      table.lay_out(constraints.pairs, stack);
      for (std::size_t i = 0; i < stack.size(); ++i) {
        for (std::size_t k = i + 1; k < stack.size(); ++k) put(c.text, told(propagated.root(table.above(i, k))));
      }
    }
    for (const std::size_t p : c.parities) {
      put(c.text, -static_cast<int>(parities[p].roots().size()));
      bool odd = parities[p].odd;
      for (const Literal r : parities[p].roots()) {
        const int n = told(r);
        odd = odd != (n < 0); // told in the canonical sense
        put(c.text, std::abs(n));
      }
      put(c.text, odd ? 1 : 0);
    }
  }
  for (const auto& [v, index] : of) {
    LayerComponent& c = out[index];
    if (c.roots.empty()) c.roots.push_back(v);
  }
  return out;
}

const std::vector<char>* LayerCache::find(const LayerComponent& component) const {
  const auto it = answers_.find(component.text);
  return it == answers_.end() ? nullptr : &it->second;
}

void LayerCache::keep(const LayerComponent& component, std::vector<char> answer) {
  bytes_ += component.text.size() + answer.size() + 64;
  if (bytes_ > most_cached_bytes) {
    answers_.clear();
    bytes_ = component.text.size() + answer.size();
  }
  answers_[component.text] = std::move(answer);
}

} // namespace uc
