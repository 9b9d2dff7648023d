// A box of four parts without glue. Each part is a wall w x h with a hem of height h folded in behind it, a flap of the
// floor below, and a tab of width t that turns the corner and slides between the next wall and its hem. The flaps close
// like those of a carton, each over the next and the last under the first: they hold from half the box's other side on
// and end at that side. Between tab and flap the paper is folded in two on the corner's bisector, as in a tray, and
// lies under the flap. A part is cut (w + t) x (2h + f). Walls of two sizes take turns; the tab is no longer than the
// wall it slides behind.
#include "pattern/crease_lines.h"
#include "pattern/families/all.h"

#include <fmt/format.h>

#include <algorithm>

namespace uc {
namespace {

Result<FamilyDrawing> draw_part(const ParameterValues& values, const Polygon& /*sheet*/) {
  const bool of_depth = values.at("part") == 1;
  const double w = of_depth ? values.at("depth") : values.at("width");
  const double across = of_depth ? values.at("width") : values.at("depth");
  const double h = values.at("height");
  const double tab = values.at("tab");
  const double flap = values.at("floor") * across;
  if (tab > across)
    return Error{
        fmt::format("tab: {} mm is longer than the wall it slides behind, {} mm; type up to {}", tab, across, across)};
  const double width = w + tab;
  const double height = flap + 2 * h;
  CreaseLines lines(Polygon{{0, 0}, {width, 0}, {width, height}, {0, height}});
  const Point corner{w, flap};
  lines.stage(1);
  lines.add({0, flap + h}, {width, flap + h}, EdgeKind::valley); // the rim
  lines.stage(2);
  lines.add({0, flap}, {width, flap}, EdgeKind::valley, 90);     // the floor
  lines.add(corner, {w, flap + h}, EdgeKind::valley, 90);        // the box's corner
  lines.add({w, flap + h}, {w, height}, EdgeKind::mountain, 90); // in the hem, turned with it
  lines.add(corner, {w, 0}, EdgeKind::mountain);                 // under the flap
  const double bisector = std::min(tab, flap);
  lines.add(corner, corner + bisector * Point{1, -1}, EdgeKind::valley);
  FamilyDrawing out{lines.design(), {}, {{"wall", {{0, flap}, {w, flap}, {w, flap + h}, {0, flap + h}}}}};
  out.figures.inside_mm = {{values.at("width"), values.at("depth"), h}};
  out.figures.pleat_mm = std::min({h, tab, flap});
  out.figures.more = {{"parts", 4}, {"floor_overlap_mm", 2 * flap - across}};
  return out;
}

ParameterValues part_for(ParameterValues values, const std::array<double, 3>& inside) {
  values["width"] = inside[0];
  values["depth"] = inside[1];
  values["height"] = inside[2];
  return values;
}

} // namespace

PatternFamily four_part_box_family() {
  return {
      "four-part-box",
      "Box of four parts",
      FamilyGroup::box,
      false,
      {{"width", "Inside width", ParameterType::mm, 10, 2000, 60, "Of two of the parts."},
       {"depth", "Inside depth", ParameterType::mm, 10, 2000, 60, "Of the other two."},
       {"height", "Height", ParameterType::mm, 5, 2000, 40, "Of the walls; the hem behind them is as high."},
       {"tab", "Tab", ParameterType::mm, 5, 2000, 30, "Slides between the next wall and its hem."},
       {"floor", "Floor flap", ParameterType::number, 0.55, 1, 0.75,
        "Part of the box it reaches across: above a half the four hold each other."},
       {"part", "Part", ParameterType::choice, 0, 1, 0, "Which one is drawn: fold two of each.", {"width", "depth"}}},
      draw_part,
      true,
      part_for};
}

} // namespace uc
