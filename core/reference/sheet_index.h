// The lines that up to four folds can make on one shape of sheet, and the marks of up to three: what a search looks
// among. Lines of three folds are all there on sheets with few corners; of four, those made from the more exact ones.
// Built once per shape, the longer side of its box taken as 1, then kept in a file.
#pragma once

#include "align/alignment.h"
#include "base/parallel.h"
#include "base/result.h"

#include <array>
#include <cstdint>
#include <memory>
#include <mutex>
#include <string>
#include <vector>

namespace uc {

constexpr std::uint32_t no_entry = 0xffffffffu;

/// Errors of a line for s = 1: variances and covariance of its turn (about the origin) and its offset.
struct LineVariance {
  float turn = 0;
  float both = 0;
  float offset = 0;
  /// Variance of the line's distance from a point on it; `t` is the quarter-turned normal.
  [[nodiscard]] double at(double t_dot_p) const { return (turn * t_dot_p - 2 * both) * t_dot_p + offset; }
};

struct IndexLine {
  Line line;
  LineVariance variance;
  std::uint8_t op = 0; // 0: an edge of the sheet
  std::uint8_t creases = 0;
  bool twin = false; // another way to a line that is there already, with as many creases, from other ones
  std::array<std::uint32_t, 2> points{no_entry, no_entry};          // index points it is made from
  std::array<std::uint32_t, 2> lines{no_entry, no_entry};           // index lines it is made from
  std::array<std::uint32_t, 3> needs{no_entry, no_entry, no_entry}; // creases that come before it, ascending
};

struct IndexPoint {
  Point at = Point::Zero();
  std::array<std::uint32_t, 2> lines{no_entry, no_entry}; // it is their crossing; none for a corner
  float variance = 0;                                     // of its place, both directions together, for s = 1
  std::uint16_t creases = 0;                              // it takes
  bool twin = false; // the same two lines cross here as at another mark, made in a better way
};

struct PointHit {
  std::uint32_t id = no_entry;
  double squared = 0; // distance
};

constexpr int most_point_creases = 3;

struct IndexLimits {
  int first = 40;             // lines of one crease that are built on
  int second = 400;           // of two
  int third = 40000;          // of three
  std::size_t all = 800000;   // lines in all
  double worst_variance = 36; // at the worse end, in s²; more is not worth folding
  double least_chord = 0.12;
};

class SheetIndex {
public:
  /// Shape of the sheet: convex, counter-clockwise. Fails when it is no convex polygon or its sides are too unlike
  /// (more than 1 to 40); when cancelled, says so.
  static Result<SheetIndex> build(const Polygon& sheet, const IndexLimits& limits = {}, Progress* progress = nullptr);

  [[nodiscard]] const Polygon& outline() const { return outline_; }
  [[nodiscard]] const std::vector<IndexLine>& lines() const { return lines_; }
  [[nodiscard]] int edges() const { return static_cast<int>(outline_.size()); }
  /// Whether the marks hold every crossing of lines of one and two creases.
  [[nodiscard]] bool has_all_marks() const { return has_all_marks_; }
  /// Creases of a pair of lines, those shared counted once.
  [[nodiscard]] int creases_together(std::uint32_t a, std::uint32_t b) const;

  /// Lines with this many creases, as a range of numbers [first, second).
  [[nodiscard]] std::pair<std::uint32_t, std::uint32_t> level(int creases) const;
  /// Distances of a point from all lines of a level, signed.
  void distances(int creases, const Point& from, std::vector<float>& out) const;

  /// Marks in order of their creases.
  [[nodiscard]] const std::vector<IndexPoint>& points() const { return points_; }
  /// The mark nearest to a point, and how far it is. Like all look-ups of marks it leaves out twins.
  [[nodiscard]] std::pair<std::uint32_t, double> nearest_point(const Point& to) const;
  /// The nearest marks of at most so many creases, corners among them, at most 64; the nearest first.
  void nearest_points(const Point& to, int creases, std::size_t most, std::vector<PointHit>& out) const;
  /// All marks of at most so many creases that are nearer than `radius`.
  void points_within(const Point& to, int creases, double radius, std::vector<PointHit>& out) const;

  /// The file's bytes: magic, version, shape, entries, checksum.
  [[nodiscard]] std::string bytes() const;
  /// Fails for anything but an undamaged index of this version for this shape.
  static Result<SheetIndex> from_bytes(const std::string& bytes, const Polygon& sheet);

private:
  friend class IndexBuilder;
  void finish();
  Polygon outline_;
  std::vector<IndexLine> lines_;
  std::vector<IndexPoint> points_;
  bool has_all_marks_ = false;
  // The lines once more, side by side, so that all are looked through at the speed of memory.
  std::vector<float> x_;
  std::vector<float> y_;
  std::vector<float> c_;
  std::vector<std::uint32_t> level_begin_;
  struct PointTree;
  [[nodiscard]] const PointTree* tree_of(int creases) const;
  std::array<std::shared_ptr<const PointTree>, most_point_creases> trees_; // by the most creases their marks take
};

/// Moved to the origin and scaled so that the longer side of its box is 1.
Polygon normalised(const Polygon& sheet);

/// All indexes of one cache folder together stay below this.
constexpr std::uintmax_t most_cache_bytes = 500'000'000;
/// Removes indexes, those unused for longest first, until at most `most_bytes` are left.
void prune_cache(const std::string& folder, std::uintmax_t most_bytes);

/// The index for a sheet from the cache folder, or built and put there. A file that is damaged or of another version is
/// replaced. A cache that cannot be written is no error.
Result<std::shared_ptr<const SheetIndex>> cached_index(const Polygon& sheet, const std::string& folder,
                                                       Progress* progress = nullptr, const IndexLimits& limits = {});
/// The indexes last used, shared between threads. One thread at a time reads or builds; the others wait for it,
/// or until they are stopped.
class IndexStore {
public:
  explicit IndexStore(std::string folder) : folder_(std::move(folder)) {}
  Result<std::shared_ptr<const SheetIndex>> get(const Polygon& sheet, Progress* progress = nullptr);
  /// The index when it is in memory already, else null.
  [[nodiscard]] std::shared_ptr<const SheetIndex> known(const Polygon& sheet) const;

private:
  std::string folder_;
  std::timed_mutex building_;
  mutable std::mutex guard_;
  std::vector<std::shared_ptr<const SheetIndex>> kept_; // the latest last
};

/// $XDG_CACHE_HOME/under-crease, else ~/.cache/under-crease.
std::string default_cache_folder();

} // namespace uc
