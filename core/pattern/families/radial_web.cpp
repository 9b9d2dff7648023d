// Radial webs: a regular polygon of m sides is folded into 2m wedges, and the packet is pleated by lines that run
// square to the middle of a side. Unfolded these are rings like the outline, so the tiles of three, four and six sides
// meet edge to edge. A line through all layers is a mountain in one wedge and a valley in the next; the wedges' own
// creases keep their directions, m + 1 of one and m - 1 of the other (Maekawa at the middle).
#include "pattern/crease_lines.h"
#include "pattern/families/all.h"

namespace uc {
namespace {

Result<FamilyDrawing> draw_web(const ParameterValues& values, const Polygon& sheet) {
  const int m = static_cast<int>(values.at("sides"));
  const int bands = static_cast<int>(values.at("bands"));
  const Polygon outline = largest_regular(m, sheet);
  Point middle = Point::Zero();
  for (const Point& p : outline) middle += p / m;
  const auto corner = [&](int i) { return outline[static_cast<std::size_t>((i + m) % m)]; };
  const double apothem = std::abs(Line::through(corner(0), corner(1)).distance(middle));
  std::vector<double> rings;
  for (int j = 1; j < bands; ++j) rings.push_back(static_cast<double>(j) / bands);
  if (values.at("rim") == 1) rings.push_back(1 - 0.5 / bands);

  CreaseLines lines(outline);
  const auto up = [](bool mountain) { return mountain ? EdgeKind::mountain : EdgeKind::valley; };
  for (int i = 0; i < m; ++i) {
    const Point side_middle = (corner(i) + corner(i + 1)) / 2;
    lines.add(middle, corner(i), up(true));
    lines.add(middle, side_middle, up(i == 0));
    for (std::size_t j = 0; j < rings.size(); ++j) {
      const bool mountain = j % 2 == 0;
      const auto at = [&](const Point& p) -> Point { return middle + rings[j] * (p - middle); };
      lines.add(at(corner(i)), at(side_middle), up(mountain));
      lines.add(at(side_middle), at(corner(i + 1)), up(!mountain));
    }
  }
  FamilyDrawing out{lines.design(), {}};
  out.usual_part = 0.6; // it hangs half open
  out.figures.pleat_mm = apothem / bands / (values.at("rim") == 1 ? 2 : 1);
  return out;
}

} // namespace

PatternFamily radial_web_family() {
  return {"radial-web",
          "Radial web",
          FamilyGroup::web,
          true,
          {{"sides", "Sides", ParameterType::integer, 3, 12, 6,
            "The sheet is folded into twice as many wedges; tiles of 3, 4 and 6 sides meet edge to edge."},
           {"bands", "Bands", ParameterType::integer, 2, 32, 6, "Pleats from the middle to the rim."},
           {"rim", "Rim", ParameterType::choice, 0, 1, 0, "Hemmed by half a band it locks.", {"plain", "hemmed"}}},
          draw_web};
}

} // namespace uc
