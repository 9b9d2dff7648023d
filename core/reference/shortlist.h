// The few of a search's many candidates that are worth making into constructions.
#pragma once

#include "reference/route_maker.h"
#include "reference/search.h"

#include <algorithm>
#include <array>
#include <tuple>
#include <utility>
#include <vector>

namespace uc {

/// The candidates worth a closer look: the best by rank, by geometry alone, and by rank for each number of creases.
class Shortlist {
public:
  /// Some of what is kept falls away when it is made or turns out to be a mirror image, so twice what is shown is kept.
  explicit Shortlist(int top) : best_(std::max<std::size_t>(140, 2 * static_cast<std::size_t>(top))) {}
  void offer(const Candidate& c) {
    if (c.creases < 1) return;
    knows_all_ = knows_all_ && (c.kind == Candidate::Kind::crossing || c.kind == Candidate::Kind::line);
    best_.offer(c.score(), c);
    nearest_.offer(c.residual2, c);
    by_creases_[static_cast<std::size_t>(std::min(c.creases, most_route_creases))].offer(c.score(), c);
  }
  /// Whether a candidate with these figures could be taken at all.
  [[nodiscard]] bool might_take(double residual2, double score) const {
    return score < best_.worst() || residual2 < nearest_.worst();
  }
  [[nodiscard]] bool might_take(double residual2, double score, int creases) const {
    return might_take(residual2, score) ||
           score < by_creases_[static_cast<std::size_t>(std::min(creases, most_route_creases))].worst();
  }

  /// Whether all that was offered tells its own figures: lines and marks of the index do, what a further fold would
  /// make of them is an estimate.
  [[nodiscard]] bool knows_all() const { return knows_all_; }
  /// Each in order, the best first.
  [[nodiscard]] std::vector<Candidate> best() const { return best_.sorted(); }
  [[nodiscard]] std::vector<Candidate> nearest() const { return nearest_.sorted(); }
  [[nodiscard]] std::vector<Candidate> of(int creases) const {
    return by_creases_[static_cast<std::size_t>(creases)].sorted();
  }

private:
  class Few {
  public:
    explicit Few(std::size_t most = 4) : most_(most) { kept_.reserve(std::min<std::size_t>(2 * most, 32)); }
    void offer(double value, const Candidate& c) {
      if (value >= worst_) return;
      kept_.emplace_back(value, c);
      if (kept_.size() < 2 * most_) return;
      shrink();
    }
    [[nodiscard]] double worst() const { return worst_; }
    [[nodiscard]] std::vector<Candidate> sorted() const {
      auto all = kept_;
      std::sort(all.begin(), all.end(), before);
      if (all.size() > most_) all.resize(most_);
      std::vector<Candidate> out;
      out.reserve(all.size());
      for (const auto& [value, c] : all) out.push_back(c);
      return out;
    }

  private:
    using Entry = std::pair<double, Candidate>;
    static bool before(const Entry& a, const Entry& b) {
      return std::tie(a.first, a.second.creases, a.second.first, a.second.second) <
             std::tie(b.first, b.second.creases, b.second.first, b.second.second);
    }
    void shrink() {
      std::sort(kept_.begin(), kept_.end(), before);
      kept_.resize(most_);
      worst_ = kept_.back().first;
    }
    std::size_t most_;
    double worst_ = 1e300;
    std::vector<Entry> kept_;
  };

  bool knows_all_ = true;
  Few best_;
  Few nearest_{16};
  std::array<Few, most_route_creases + 1> by_creases_;
};

} // namespace uc
