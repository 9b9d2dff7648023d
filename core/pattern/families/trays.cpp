// Trays from a rectangle: a floor w x d and walls of height h, with a hem of height e that is folded in along all four
// edges first, so the sheet is (w + 2h + 2e) x (d + 2h + 2e). Each corner square folds on its diagonal to a gusset that
// lies along the inside of an end wall. A lid is a tray whose inside is the box's outside and a clearance: the outside
// is the inside and two layers of wall on each side (at the ends three, with the gusset).
#include "pattern/crease_lines.h"
#include "pattern/families/all.h"

#include <fmt/format.h>

namespace uc {
namespace {

constexpr EdgeKind mountain = EdgeKind::mountain;
constexpr EdgeKind valley = EdgeKind::valley;

FamilyDrawing tray_of(double w, double d, double h, double hem) {
  const double edge = h + hem;
  CreaseLines lines(Polygon{{0, 0}, {w + 2 * edge, 0}, {w + 2 * edge, d + 2 * edge}, {0, d + 2 * edge}});
  const double x[] = {edge, edge + w};
  const double y[] = {edge, edge + d};
  const double width = w + 2 * edge;
  const double depth = d + 2 * edge;
  for (const double y_hem : {hem, depth - hem}) {
    lines.stage(1);
    if (hem > 0) lines.add({0, y_hem}, {width, y_hem}, valley);
  }
  for (const double x_hem : {hem, width - hem}) { // through the first two, where it is seen from the other side
    if (hem == 0) continue;
    lines.stage(2);
    lines.add({x_hem, 0}, {x_hem, hem}, mountain);
    lines.add({x_hem, hem}, {x_hem, depth - hem}, valley);
    lines.add({x_hem, depth - hem}, {x_hem, depth}, mountain);
  }
  lines.stage(hem > 0 ? 3 : 0);
  for (const int i : {0, 1}) {
    const double out = i == 0 ? -1 : 1;
    lines.add({x[0], y[i]}, {x[1], y[i]}, valley, 90); // the floor
    lines.add({x[i], y[0]}, {x[i], y[1]}, valley, 90);
    for (const int j : {0, 1}) {
      const double up = j == 0 ? -1 : 1;
      const Point corner{x[i], y[j]};
      const Point rim = corner + h * Point{out, up};
      lines.add(corner, corner + Point{0, up * h}, valley, 180); // the gusset lies along the end wall
      lines.add(corner, corner + Point{out * h, 0}, valley, 90);
      lines.add(corner, rim, mountain);
      if (hem > 0) { // the same through the hems, by mirror images in them
        lines.add(corner + Point{0, up * h}, corner + Point{0, up * edge}, mountain, 180);
        lines.add(corner + Point{out * h, 0}, corner + Point{out * edge, 0}, mountain, 90);
        lines.add(rim, rim + hem * Point{-out, up}, valley);
        lines.add(rim, rim + hem * Point{out, -up}, valley);
        lines.add(rim, rim + hem * Point{out, up}, mountain);
      }
    }
  }
  FamilyDrawing drawing{lines.design(), {}, {{"floor", {{x[0], y[0]}, {x[1], y[0]}, {x[1], y[1]}, {x[0], y[1]}}}}};
  drawing.figures.inside_mm = {{w, d, h}};
  drawing.figures.pleat_mm = hem > 0 ? std::min(hem, h) : h;
  return drawing;
}

Result<FamilyDrawing> draw_tray(const ParameterValues& values, const Polygon& /*sheet*/) {
  const double h = values.at("height");
  const double hem = values.at("hem");
  if (hem > h) return Error{fmt::format("hem: {} mm is more than the wall's {} mm; type up to {}", hem, h, h)};
  return tray_of(values.at("width"), values.at("depth"), h, hem);
}

Result<FamilyDrawing> draw_lid(const ParameterValues& values, const Polygon& /*sheet*/) {
  const double t = values.at("thickness");
  const double clearance = values.at("clearance");
  if (clearance < t)
    return Error{
        fmt::format("clearance: {} mm is less than the paper's thickness, {} mm; type {} or more", clearance, t, t)};
  FamilyDrawing out =
      tray_of(values.at("width") + 4 * t + clearance, values.at("depth") + 6 * t + clearance, values.at("height"), 0);
  out.figures.more = {{"box_width_mm", values.at("width")}, {"box_depth_mm", values.at("depth")}};
  return out;
}

ParameterValues tray_for(ParameterValues values, const std::array<double, 3>& inside) {
  values["width"] = inside[0];
  values["depth"] = inside[1];
  values["height"] = inside[2];
  return values;
}
ParameterValues lid_for(ParameterValues values, const std::array<double, 3>& inside) {
  const double t = values.at("thickness");
  values["width"] = inside[0] - 4 * t - values.at("clearance");
  values["depth"] = inside[1] - 6 * t - values.at("clearance");
  values["height"] = inside[2];
  return values;
}

Parameter length(const char* name, const char* title, double least, double normal, const char* why) {
  return {name, title, ParameterType::mm, least, 2000, normal, why};
}

} // namespace

PatternFamily tray_family() {
  return {"tray",
          "Tray of any size",
          FamilyGroup::box,
          false,
          {length("width", "Inside width", 5, 80, "Between the walls."),
           length("depth", "Inside depth", 5, 60, "Between the walls with the gussets."),
           length("height", "Height", 3, 25, "Of the walls."),
           length("hem", "Hem", 0, 0, "Folded in along all edges first; it doubles the rims. 0: none.")},
          draw_tray,
          true,
          tray_for};
}

PatternFamily box_lid_family() {
  return {"box-lid",
          "Lid for a tray",
          FamilyGroup::box,
          false,
          {length("width", "Width of the box", 5, 80, "Inside, as typed for its tray."),
           length("depth", "Depth of the box", 5, 60, "Inside, as typed for its tray."),
           length("height", "Height of the lid", 3, 12, "Of its walls."),
           {"clearance", "Clearance", ParameterType::mm, 0, 20, 0.5, "Room between lid and box, both sides together."},
           {"thickness", "Paper thickness", ParameterType::mm, 0, 2, 0.1, "The box has two layers more a side."}},
          draw_lid,
          true,
          lid_for};
}

} // namespace uc
