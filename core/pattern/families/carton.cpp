// Cartons: a sheet divided in n sides and one to overlap, wound to a tube round an n-gon of side w, and closed below,
// or at both ends, by a twist: at each corner of the end the paper has 90 + 90 degrees where the floor has 180 - 360 /
// n, so a pleat of twice 180 / n takes the rest away: the upright is a mountain, and a valley leaves the same corner at
// 180 / n from it. Panels of height w / tan(180 / n) have it from corner to corner (four sides: squares with
// diagonals). With the side left over inside the first, each panel of the end lies upon the next, so it closes without
// strain, from the innermost corner on; outside, they go round in a circle, each over the next, and close over a ridge.
#include "pattern/crease_lines.h"
#include "pattern/families/all.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace uc {
namespace {

/// With an odd number of sides, corner to corner would reach beyond the opposite side; three always do.
double end_height(int n, double w) {
  const double half = std::numbers::pi / n;
  const double corner_to_corner = w / std::tan(half);
  if (n % 2 == 0 || n == 3) return corner_to_corner;
  const double radius = w / 2 / std::sin(half);
  return (radius * (1 + std::cos(half)) - w * std::sin(half)) / std::cos(half);
}

/// How a hand closes a carton: which part of a crease's angle in which stage.
class CartonClosing {
public:
  /// A hem is folded before all else.
  CartonClosing(int sides, bool inside, bool hem) : n_(sides), inside_(inside), winding_(hem ? 2 : 1) {}

  /// An upright between walls, from 1.
  [[nodiscard]] CreaseGoals wall(int upright) const {
    if (!inside_) return {{upright < n_ ? winding_ : winding_ + 1, round()}};
    CreaseGoals out{{winding_, loosely * round()}};
    for (int k = 1; k <= turns; ++k) out.push_back({winding_ + k, (loosely + (1 - loosely) * k / turns) * round()});
    return out;
  }
  /// The same upright in an end, where it is the mountain of a pleat.
  [[nodiscard]] CreaseGoals pleat(int upright, bool top) const {
    if (!inside_) return {wall(upright).back(), {end(top), 180}};
    CreaseGoals out{{winding_, loosely * round()}};
    for (const CreaseGoal& g : at_corner(upright, 0, 180 - out.front().deg))
      out.push_back({g.stage, out.front().deg + g.deg});
    return out;
  }
  /// The valley of the pleat at an upright; that at the edge of the sheet, which nothing holds, is folded at once.
  [[nodiscard]] CreaseGoals valley(int upright, bool top) const {
    if (!inside_) return {{end(top), 180}};
    if (upright == 0) return {{1, 180}};
    return at_corner(upright, 0, 180);
  }
  /// Between a wall and its end.
  [[nodiscard]] CreaseGoals edge(int wall, bool top) const {
    if (!inside_) return {{end(top), 90}};
    return at_corner(wall, -ahead, 90);
  }

private:
  static constexpr double loosely = 2.0 / 3;
  static constexpr int turns = 5;       // stages in which the ends close
  static constexpr double length = 0.4; // of a corner's closing, over that of all
  static constexpr double ahead = 0.15; // by which an edge begins before its corner

  [[nodiscard]] double round() const { return 360.0 / n_; } // at which the sides meet
  [[nodiscard]] int end(bool top) const { return winding_ + (top ? 3 : 2); }
  /// Corner after corner, from the innermost.
  [[nodiscard]] CreaseGoals at_corner(int corner, double later, double deg) const {
    const double from = std::clamp((1 - length) * (n_ - corner) / n_ + later, 0.0, 1 - length);
    CreaseGoals out;
    double last = 0;
    for (int k = 1; k <= turns; ++k) {
      const double part = std::clamp((static_cast<double>(k) / turns - from) / length, 0.0, 1.0);
      if (part > last) out.push_back({winding_ + k, deg * part});
      last = part;
    }
    return out;
  }

  int n_;
  bool inside_;
  int winding_;
};

Result<FamilyDrawing> draw_carton(const ParameterValues& values, const Polygon& /*sheet*/) {
  const int n = static_cast<int>(values.at("sides"));
  const double w = values.at("width");
  const double h = values.at("height");
  const double end = end_height(n, w);
  const double across = end * std::tan(std::numbers::pi / n);
  const bool twisted_top = values.at("top") == 0;
  const bool hem_top = values.at("top") == 1;
  const double top = twisted_top ? end : !hem_top ? 0 : values.at("rim") > 0 ? values.at("rim") : w / 2;
  if (hem_top && top > h)
    return Error{
        fmt::format("rim: {} mm of hem reach below the floor; type up to the height of the walls, {} mm", top, h)};
  const double width = (n + 1) * w;
  const double height = end + h + top;
  CreaseLines lines(Polygon{{0, 0}, {width, 0}, {width, height}, {0, height}});
  // A hem is folded in before the tube is wound, so there the uprights are seen from their other side.
  const bool hem = top > 0 && !twisted_top;
  const CartonClosing closing(n, values.at("overlap") == 0 && n > 3, hem);
  const auto end_of = [&](double fold, double rim) {
    const bool above = rim > fold;
    for (int i = 0; i <= n; ++i) {
      const double x = i * w;
      if (i > 0) lines.add_by_stages({x, fold}, {x, rim}, EdgeKind::mountain, closing.pleat(i, above));
      lines.add_by_stages({x, fold}, {x + across, rim}, EdgeKind::valley, closing.valley(i, above));
      lines.add_by_stages({x, fold}, {x + w, fold}, EdgeKind::mountain, closing.edge(i, above));
    }
  };
  end_of(end, 0);
  if (twisted_top) end_of(end + h, height);
  if (hem) lines.add_by_stages({0, end + h}, {width, end + h}, EdgeKind::mountain, {{1, 180}});
  for (int i = 1; i <= n; ++i) {
    lines.add_by_stages({i * w, end}, {i * w, end + h}, EdgeKind::mountain, closing.wall(i));
    if (hem) lines.add_by_stages({i * w, end + h}, {i * w, height}, EdgeKind::valley, closing.wall(i));
  }
  FamilyDrawing out{lines.design(), {}, {{"first wall", {{0, end}, {w, end}, {w, end + h}, {0, end + h}}}}};
  const double inside = n % 2 == 0 ? w / std::tan(std::numbers::pi / n)
                                   : w / 2 / std::sin(std::numbers::pi / n) * (1 + std::cos(std::numbers::pi / n));
  out.figures.inside_mm = {{inside, inside, h}};
  out.figures.pleat_mm = std::min(w, end);
  out.figures.more = {{"divisions", n + 1.0}, {"end_mm", end}};
  return out;
}

ParameterValues carton_for(ParameterValues values, const std::array<double, 3>& inside) {
  const double n = values.at("sides");
  const double half = std::numbers::pi / n;
  const double wanted = std::max(inside[0], inside[1]);
  const bool even = static_cast<int>(n) % 2 == 0;
  values["width"] = even ? wanted * std::tan(half) : wanted * 2 * std::sin(half) / (1 + std::cos(half));
  values["height"] = inside[2];
  return values;
}

} // namespace

PatternFamily carton_family() {
  return {
      "carton",
      "Carton with a twisted floor",
      FamilyGroup::box,
      false,
      {{"sides", "Sides", ParameterType::integer, 3, 12, 4, "The sheet is divided in one more: 4 sides make fifths."},
       {"width", "Width of a side", ParameterType::mm, 5, 1000, 50, "Between two upright creases."},
       {"height", "Height", ParameterType::mm, 5, 2000, 80, "Of the walls."},
       {"top",
        "Top",
        ParameterType::choice,
        0,
        2,
        0,
        "Twisted shut, folded in as a hem, or open.",
        {"twist", "fold", "open"}},
       {"rim", "Depth of the hem", ParameterType::mm, 0, 2000, 0, "Of a top that is folded in; 0: half a side."},
       {"overlap",
        "Side left over",
        ParameterType::choice,
        0,
        1,
        0,
        "Inside the first, the ends close corner by corner; outside, as with 3 sides, they lock, and the paper gives.",
        {"inside", "outside"}}},
      draw_carton,
      true,
      carton_for};
}

} // namespace uc
