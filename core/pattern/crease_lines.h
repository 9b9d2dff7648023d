// A pattern drawn line by line on a sheet: what families use whose creases do not lie on the points of a grid. Lines
// are cut off at the sheet; where they cross they are split when the pattern is drawn.
#pragma once

#include "pattern/design.h"

namespace uc {

class CreaseLines {
public:
  /// The outline becomes the sheet; counter-clockwise, in mm.
  explicit CreaseLines(Polygon outline);

  [[nodiscard]] const Polygon& outline() const { return outline_; }
  /// The part of a crease within a convex outline; the crease as it is where the outline is not convex. In the end it
  /// is folded by `full_deg`: 180 lies flat, 90 stands square.
  void add(const Point& from, const Point& to, EdgeKind kind, double full_deg = 180);
  /// One that is folded in several stages, as far as the last of them says.
  void add_by_stages(const Point& from, const Point& to, EdgeKind kind, CreaseGoals goals);
  /// What is added from here on closes in this stage; 0: with the whole.
  void stage(int number) { stage_ = number; }
  /// From a point in a direction, to the outline.
  void ray(const Point& from, const Point& direction, EdgeKind kind, double full_deg = 180);
  /// A closed walk of creases.
  void ring(const Polygon& corners, EdgeKind kind);
  /// An opening in the sheet.
  void hole(const Polygon& corners);

  /// The lines as a design without rules.
  [[nodiscard]] PatternDesign design() const;

private:
  void put(const Point& from, const Point& to, EdgeKind kind, double full_deg = 180);
  std::vector<double> full_deg_;
  std::vector<CreaseGoals> goals_;
  CreaseGoals next_; // of the line that is being added
  int stage_ = 0;
  Polygon outline_;
  bool convex_ = true;
  double size_ = 0;
  CreasePattern pattern_;
};

/// Mountain for valley.
constexpr EdgeKind opposite(EdgeKind k) {
  return k == EdgeKind::mountain ? EdgeKind::valley : k == EdgeKind::valley ? EdgeKind::mountain : k;
}
/// The largest square in the middle of the sheet's box, or the sheet itself when it is one.
Polygon largest_square(const Polygon& sheet);
/// The regular polygon whose box is the largest in the middle of the sheet's box, one side along the bottom.
Polygon largest_regular(int sides, const Polygon& sheet);

} // namespace uc
