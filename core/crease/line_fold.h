// The fold that makes one wanted line from what is on the sheet, with the least error.
#pragma once

#include "reference/construction.h"

#include <unordered_map>

namespace uc {

/// A place that can be seen: a corner, or where two lines cross.
struct SeenPlace {
  Point at = Point::Zero();
  int corner = -1;
  std::array<int, 2> lines{-1, -1};
};

struct LineFold {
  Alignment op = Alignment::O1;
  std::vector<SeenPlace> points; // in the order of AlignmentInputs
  std::array<int, 2> lines{-1, -1};
  bool landing = false; // where lines[0] lands when the sheet is folded on lines[1]
  double sigma_mm = 0;  // at the worse end of what is wanted
};

class LineFoldFinder {
public:
  /// `present` are the lines that may be used, edges among them. Lines closer than `tolerance` at the ends of the sheet
  /// are one.
  LineFoldFinder(const Construction& construction, std::vector<int> present, double sigma_mm, double tolerance);

  /// The most exact fold of those tried: O1, O3 and O4 from all present lines, O2 and O5 with the sheet's corners, and
  /// where a line lands when the sheet is folded on another. Empty when none of them makes the line.
  [[nodiscard]] std::optional<LineFold> best(const Line& target, const Segment& wanted) const;

private:
  struct Place { // on the target
    double along = 0;
    std::vector<SeenPlace> ways; // pairs of lines that cross there, or the corner alone
    SeenPlace best;
    double variance = -1; // across the target, of the best; negative until it is known
  };
  using Rows = Eigen::Matrix<double, 2, Eigen::Dynamic>;

  [[nodiscard]] std::vector<Place> places_on(const Line& target, const Segment& chord) const;
  [[nodiscard]] std::optional<SeenPlace> place_at(const Point& p) const;
  [[nodiscard]] Rows rows_of(const SeenPlace& place) const;
  void settle(Place& place, const Line& target) const;
  [[nodiscard]] int line_at(const Line& line) const;
  [[nodiscard]] AlignmentInputs inputs_of(const LineFold& fold) const;
  void consider(LineFold fold, const Line& target, const Segment& wanted, std::optional<LineFold>& best) const;
  void try_two_points(std::vector<Place>& places, const Line& target, const Segment& wanted,
                      std::optional<LineFold>& best) const;
  void try_lines(const Line& target, const Segment& wanted, std::optional<LineFold>& best) const;
  void try_landings(const Line& target, const Segment& chord, const Segment& wanted,
                    std::optional<LineFold>& best) const;
  [[nodiscard]] double worst_of(const Rows& rows, const Eigen::Matrix2d& own, const Line& target,
                                const Segment& wanted) const;
  static void keep_better(LineFold fold, std::optional<LineFold>& best);
  void try_square(const std::vector<Place>& places, const Line& target, const Segment& wanted,
                  std::optional<LineFold>& best) const;
  void try_corners(const std::vector<Place>& places, const Line& target, const Segment& wanted,
                   std::optional<LineFold>& best) const;

  const Construction& c_;
  std::vector<int> present_;
  double sigma_;
  double tolerance_;
  double extent_;
  ConstructionErrors errors_;
  std::unordered_multimap<long long, int> by_place_;
};

} // namespace uc
