// Cartons: a sheet divided in n sides and one to overlap, wound to a tube round an n-gon of side w, and closed below,
// or at both ends, by a twist: at each corner of the end the paper has 90 + 90 degrees where the floor has 180 - 360 /
// n, so a pleat of twice 180 / n takes the rest away: the upright is a mountain, and a valley leaves the same corner at
// 180 / n from it. Panels of height w / tan(180 / n) have it from corner to corner and lock (four sides: squares with
// diagonals).
#include "pattern/crease_lines.h"
#include "pattern/families/all.h"

#include <cmath>
#include <numbers>

namespace uc {
namespace {

Result<FamilyDrawing> draw_carton(const ParameterValues& values, const Polygon& /*sheet*/) {
  const int n = static_cast<int>(values.at("sides"));
  const double w = values.at("width");
  const double h = values.at("height");
  const double end = w / std::tan(std::numbers::pi / n);
  const bool twisted_top = values.at("top") == 0;
  const double top = twisted_top ? end : values.at("top") == 1 ? w / 2 : 0;
  const double width = (n + 1) * w;
  const double height = end + h + top;
  CreaseLines lines(Polygon{{0, 0}, {width, 0}, {width, height}, {0, height}});
  // A hem is folded in before the tube is wound, so there the uprights are seen from their other side.
  const bool hem = top > 0 && !twisted_top;
  // The side that overlaps is laid on last: wound with the others it would go through the first.
  const int winding = hem ? 2 : 1;
  const auto wound = [&](int upright) { return upright < n ? winding : winding + 1; };
  const int floor = winding + 2;
  const double round = 360.0 / n; // at which the sides meet; in the twists the pleats lie flat
  const auto end_of = [&](double low, double high, int stage) {
    for (int i = 0; i <= n; ++i) {
      if (i > 0)
        lines.add_by_stages({i * w, low}, {i * w, high}, EdgeKind::mountain, {{wound(i), round}, {stage, 180}});
      lines.stage(stage);
      const bool below = low == 0;
      lines.add({i * w, below ? end : low}, {(i + 1) * w, below ? 0 : high}, EdgeKind::valley);
    }
  };
  lines.stage(floor);
  lines.add({0, end}, {width, end}, EdgeKind::mountain, 90);
  end_of(0, end, floor);
  if (top > 0) {
    lines.stage(hem ? 1 : floor + 1);
    lines.add({0, end + h}, {width, end + h}, EdgeKind::mountain, hem ? 180 : 90);
  }
  if (twisted_top) end_of(end + h, height, floor + 1);
  for (int i = 1; i <= n; ++i) {
    lines.stage(wound(i));
    lines.add({i * w, end}, {i * w, end + h}, EdgeKind::mountain, round);
    if (hem) lines.add({i * w, end + h}, {i * w, height}, EdgeKind::valley, round);
  }
  FamilyDrawing out{lines.design(), {}, {{"first wall", {{0, end}, {w, end}, {w, end + h}, {0, end + h}}}}};
  const double across = n % 2 == 0 ? w / std::tan(std::numbers::pi / n)
                                   : w / 2 / std::sin(std::numbers::pi / n) * (1 + std::cos(std::numbers::pi / n));
  out.figures.inside_mm = {{n == 4 ? w : across, n == 4 ? w : across, h}};
  out.figures.finished_mm = Point{n == 4 ? w : across, h};
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
        {"twist", "fold", "open"}}},
      draw_carton,
      true,
      carton_for};
}

} // namespace uc
