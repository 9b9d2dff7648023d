// What must be done before what: hands out whatever is ready, in the order its user chooses (Kahn 1962).
#pragma once

#include <cstddef>
#include <vector>

namespace uc {

class Dependencies {
public:
  explicit Dependencies(std::size_t count) : after_(count), waits_(count, 0) {}

  void require(std::size_t first, std::size_t then) {
    after_[first].push_back(then);
    ++waits_[then];
  }
  [[nodiscard]] const std::vector<std::size_t>& after(std::size_t item) const { return after_[item]; }
  [[nodiscard]] bool free(std::size_t item) const { return waits_[item] == 0; }

  /// Does all it can: `choose` picks one of the items that are ready, by its place among them, and `done` is told.
  /// Items in a circle, and what waits for them, are left. Only items for which `counts` says so are looked at.
  template <typename Counts, typename Choose, typename Done> void run(Counts counts, Choose choose, Done done) {
    std::vector<std::size_t> ready;
    for (std::size_t i = 0; i < waits_.size(); ++i) {
      if (free(i) && counts(i)) ready.push_back(i);
    }
    while (!ready.empty()) {
      const auto at = static_cast<std::ptrdiff_t>(choose(ready));
      const std::size_t item = ready[static_cast<std::size_t>(at)];
      ready.erase(ready.begin() + at);
      done(item);
      for (const std::size_t next : after_[item]) {
        if (--waits_[next] == 0 && counts(next)) ready.push_back(next);
      }
    }
  }

private:
  std::vector<std::vector<std::size_t>> after_;
  std::vector<int> waits_;
};

} // namespace uc
