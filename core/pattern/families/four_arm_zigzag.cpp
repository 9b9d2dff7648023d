// A square raised on walls, with four arms that run off from its corners along the diagonals, each a zigzag of a
// mountain and a valley. The square has n units a side, the walls h. About its corner C the paper beside one wall moves
// in by (-h, 0), beside the next by (0, -h), so across the arm between them by (-h, h): a pleat along the diagonal that
// takes 2h / sqrt 2 away, creases h / sqrt 2 apart, through C and through the foot of one wall, a grid step h from C.
// The corner square h x h folds on its diagonal to a fin in the plane of the other wall: its halves are C, C + (0, h),
// C + (h, h) and C, C + (h, 0), C + (h, h), and with both walls up their third corners meet. Copied by quarter turns;
// the neighbour at (p, p) is the mirror image, whose arm then is this arm, mountain on mountain. A cell of p shrinks to
// p - h, and there is room for p > n + 2h.
#include "pattern/crease_lines.h"
#include "pattern/families/all.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <utility>

namespace uc {
namespace {

struct ZigzagArms {
  Point origin = Point::Zero(); // middle of the square in the middle
  double unit = 1;
  int side = 4;
  int height = 1;

  /// From the frame of a square, in units, to the sheet: `turns` quarter turns, about `middle`; mirrored in the
  /// diagonal first.
  [[nodiscard]] Point at(Point p, int turns, bool mirrored, const Point& middle) const {
    if (mirrored) std::swap(p.x(), p.y());
    for (int i = 0; i < turns; ++i) p = Point{-p.y(), p.x()};
    return origin + unit * (middle + p);
  }

  /// A corner with the wall that leads up to it and its arm: to the next square when `reach` (in units along an axis)
  /// is given, to the edge of the sheet otherwise.
  void draw_corner(CreaseLines& lines, int turns, bool mirrored, const Point& middle, double reach) const {
    const double c = side / 2.0;
    const double h = height;
    const auto place = [&](double x, double y) { return at({x, y}, turns, mirrored, middle); };
    const auto crease = [&](const Point& a, const Point& b, EdgeKind kind, double full) {
      lines.add(a, b, kind, full);
    };
    crease(place(c, -c), place(c, c), EdgeKind::mountain, 90);               // the square's side
    crease(place(c + h, -c - h), place(c + h, c), EdgeKind::valley, 90);     // the wall's foot, from the fin before
    crease(place(c, c), place(c + h, c), EdgeKind::valley, 90);              // wall and fin
    crease(place(c, c), place(c + h, c + h), EdgeKind::mountain, 180);       // the fin's rim
    crease(place(c + h, c), place(c + h, c + h), EdgeKind::mountain, 90);    // the fin's foot, under the arm
    const Point along = at({1, 1}, turns, mirrored, Point::Zero()) - origin; // the arm
    if (reach <= 0) {
      lines.ray(place(c + h, c + h), along, EdgeKind::mountain);
      lines.ray(place(c + h, c), along, EdgeKind::valley);
    } else if (turns < 2) { // drawn once, by the lower of its ends
      crease(place(c + h, c + h), place(reach - c - h, reach - c - h), EdgeKind::mountain, 180);
      crease(place(c + h, c), place(reach - c, reach - c - h), EdgeKind::valley, 180);
    }
  }
};

Result<FamilyDrawing> draw_arms(const ParameterValues& values, const Polygon& sheet) {
  const Box box = bounding_box(sheet);
  const int count = static_cast<int>(values.at("count"));
  ZigzagArms arms;
  arms.side = static_cast<int>(values.at("side"));
  arms.height = static_cast<int>(values.at("height"));
  const int apart = static_cast<int>(values.at("apart"));
  const bool tiled = values.at("group") == 1;
  const double c = arms.side / 2.0;
  const int across = arms.side + 2 * arms.height;
  const int room = static_cast<int>(std::floor(count * std::min(1.0, box.size().y() / box.size().x()) + 1e-9));
  if (across >= room) // the foot of a wall needs paper beyond it
    return Error{fmt::format("height: a square of {} on walls of {} needs more than {} units, and there are {}; type "
                             "side + 2 height up to {}",
                             arms.side, arms.height, across, room, room - 1)};
  if (tiled && apart <= across)
    return Error{fmt::format("apart: squares of {} on walls of {} stand at least {} units apart; type {} or more",
                             arms.side, arms.height, across + 1, across + 1)};
  arms.unit = box.size().x() / count;
  // The corner of the middle square stands on a point of the grid, counted from the sheet's lower left corner.
  const auto snapped = [&](double middle, double low) {
    return low + (std::round((middle - low) / arms.unit - c) + c) * arms.unit;
  };
  arms.origin = {snapped(box.centre().x(), box.low.x()), snapped(box.centre().y(), box.low.y())};
  CreaseLines lines(sheet);
  int squares = 0;
  const int reach =
      tiled ? static_cast<int>(std::ceil(std::max(box.size().x(), box.size().y()) / arms.unit / 2 / apart)) + 2 : 0;
  for (int i = -reach; i <= reach; ++i) {
    for (int j = -reach; j <= reach; ++j) {
      if ((i + j) % 2 != 0) continue;
      const Point middle{static_cast<double>(i) * apart, static_cast<double>(j) * apart};
      const bool mirrored = i % 2 != 0;
      const Point at = arms.origin + arms.unit * middle;
      const double half = arms.unit * (c + arms.height);
      if (at.x() + half > box.low.x() && at.x() - half < box.high.x() && at.y() + half > box.low.y() &&
          at.y() - half < box.high.y())
        ++squares;
      for (int turns = 0; turns < 4; ++turns) arms.draw_corner(lines, turns, mirrored, middle, tiled ? apart : 0);
    }
  }
  const auto corner = [&](double x, double y) -> Point { return arms.origin + arms.unit * c * Point{x, y}; };
  FamilyDrawing out{lines.design(), {}, {{"square", {corner(-1, -1), corner(1, -1), corner(1, 1), corner(-1, 1)}}}};
  out.figures.pleat_mm = arms.unit * arms.height / std::sqrt(2.0);
  out.figures.more = {{"unit_mm", arms.unit},
                      {"side_mm", arms.unit * arms.side},
                      {"height_mm", arms.unit * arms.height},
                      {"squares", static_cast<double>(squares)}};
  if (tiled)
    out.figures.more.insert(out.figures.more.end(),
                            {{"cell_mm", arms.unit * apart}, {"cell_closed_mm", arms.unit * (apart - arms.height)}});
  return out;
}

} // namespace

PatternFamily four_arm_zigzag_family() {
  return {"four-arm-zigzag",
          "Raised squares with four arms",
          FamilyGroup::relief,
          false,
          {{"count", "Units across", ParameterType::integer, 4, 96, 24, "The square grid over the sheet's width."},
           {"side", "Side", ParameterType::integer, 1, 48, 4, "Of the raised square, in units."},
           {"height", "Height", ParameterType::integer, 1, 24, 2, "Of its walls, in units."},
           {"group",
            "Group",
            ParameterType::choice,
            0,
            1,
            0,
            "One square, or squares over the whole sheet, left- and right-handed in turn.",
            {"single", "tiled"}},
           {"apart", "Apart", ParameterType::integer, 4, 96, 9,
            "From square to square along the arms, in units to the side and up; more than side + 2 height."}},
          draw_arms};
}

} // namespace uc
