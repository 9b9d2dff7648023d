// From numbers in the index to a construction on the folder's own sheet, in mm.
#pragma once

#include "reference/route.h"
#include "reference/sheet_index.h"

namespace uc {

/// How the index's unit sheet lies on the real one.
struct Frame {
  explicit Frame(const Polygon& sheet);
  Point low;
  double size; // mm per unit
  [[nodiscard]] Point in(const Point& mm) const { return (mm - low) / size; }
  [[nodiscard]] Point out(const Point& p) const { return low + size * p; }
  [[nodiscard]] Line out(const Line& l) const { return {l.normal, size * l.c + l.normal.dot(low)}; }
};

/// A crossing of two index lines, or a corner.
struct PointRef {
  std::uint32_t a = no_entry;
  std::uint32_t b = no_entry;
  static PointRef corner(std::uint32_t index) { return {index, no_entry}; }
  [[nodiscard]] bool is_corner() const { return b == no_entry; }
  [[nodiscard]] std::uint64_t packed() const { return (static_cast<std::uint64_t>(a) << 32) | b; }
  bool operator<(const PointRef& o) const { return packed() < o.packed(); }
};

struct Candidate {
  enum class Kind {
    crossing, // `first` itself
    line,     // `line` itself
    halved,   // `first` brought to `second`, met with `line`
    squared,  // from `first` square to `line`
    through,  // the crease through `first` and `second`
    brought   // the crease that brings `first` to `second`
  };
  static constexpr std::uint32_t carrier = 0xfffffffeu; // stands for the target's own line
  Kind kind = Kind::crossing;
  PointRef first;
  PointRef second;
  std::uint32_t line = no_entry;
  std::uint32_t extra = no_entry;
  int creases = 0;
  double residual2 = 0; // squared, in units of the index
  double variance = 0;
  [[nodiscard]] double score() const { return residual2 + variance; }
};

class RouteMaker {
public:
  RouteMaker(const SheetIndex& index, const Polygon& sheet, const Target& target);
  /// Empty when the paper does not allow it after all.
  [[nodiscard]] std::optional<RouteDraft> draft(const Candidate& candidate, double sigma_mm) const;

private:
  class Build;
  [[nodiscard]] bool on_sheet(const Point& p) const;
  const SheetIndex& index_;
  const Target& target_;
  Frame frame_;
  Construction bare_;
  int carrier_ = -1;
};

} // namespace uc
