// The accordion strip with diagonals: n parts of length p on a strip of height H, upright mountains and one valley
// diagonal in each part, all parallel. Each part turns the strip by 2 atan(p / H), so N = pi / atan(p /
// H) parts close a circle: N is whole for H = p / tan(pi / N). Gathered it lies in a disc of radius
// sqrt(p^2 + H^2) / 2; with other than N parts a gap is left, or they overlap. Cut along the middle, k < N parts lock
// to a cone of that slant whose half angle between axis and slant is asin(k / N), or, with flat facets, asin(sin(pi /
// N) / sin(pi / k)).
//
// Half the strip is drawn for a cone. A half diagonal is as long as the slant: gathered, they all run from the apex.
// Two of them bound a facet with the angle 2 pi / N at the apex, and the triangle between a half diagonal and the next
// upright lies double on the facet, as a fin in its plane that reaches over the next one. So uprights are closed, and
// diagonals stand at the pyramid's interior dihedral angle d, sin(d / 2) = cos(pi / k) / cos(pi / N): 180 in the disc.
// The last fin lies on the first facet, under which its end is slipped.
#include "pattern/crease_lines.h"
#include "pattern/families/all.h"

#include <fmt/format.h>

#include <cmath>
#include <numbers>

namespace uc {
namespace {

constexpr double degrees = 180 / std::numbers::pi;

Result<FamilyDrawing> draw_accordion(const ParameterValues& values, const Polygon& /*sheet*/) {
  const double part = values.at("part");
  const double height = values.at("height");
  const int parts = static_cast<int>(values.at("parts"));
  const int cone = static_cast<int>(values.at("cone_parts"));
  const double closing = std::numbers::pi / std::atan(part / height);
  if (cone > 0 && cone >= closing)
    return Error{
        fmt::format("cone_parts: a cone needs fewer parts than the {:.2f} that close a circle; type up to {}, or 0 "
                    "for no cone",
                    closing, static_cast<int>(std::ceil(closing)) - 1)};
  if (cone > 0 && cone < 3)
    return Error{"cone_parts: a cone with flat facets needs three parts at least; type 3 or more, or 0 for no cone"};
  const int drawn = cone > 0 ? cone : parts;
  const double high = cone > 0 ? height / 2 : height;
  const double dihedral =
      cone > 0 ? 2 * degrees * std::asin(std::cos(std::numbers::pi / cone) / std::cos(std::numbers::pi / closing))
               : 180;
  CreaseLines lines(Polygon{{0, 0}, {drawn * part, 0}, {drawn * part, high}, {0, high}});
  for (int i = 0; i < drawn; ++i) {
    if (i > 0) lines.add({i * part, 0}, {i * part, high}, EdgeKind::mountain);
    lines.add({(i + (cone > 0 ? 0.5 : 0)) * part, 0}, {(i + 1) * part, high}, EdgeKind::valley, dihedral);
  }
  FamilyDrawing out{lines.design(), {}};
  FamilyFigures& f = out.figures;
  const double slant = std::hypot(part, height) / 2;
  f.pleat_mm = part * height / (2 * slant); // across a triangle, from its diagonal to its corner
  // Laid round flat, what is left open of the whole turn; less than nothing where the parts overlap.
  const double gap_deg = 360 * (1 - drawn / closing);
  f.more = {{"closing_parts", closing},
            {"disc_radius_mm", slant},
            {"gap_deg", gap_deg},
            {"closing_height_mm", part / std::tan(std::numbers::pi / drawn)}};
  if (cone > 0) {
    const double sine = cone / closing;
    const double faceted = std::sin(std::numbers::pi / closing) / std::sin(std::numbers::pi / cone);
    f.more.emplace_back("ridge_deg", dihedral);
    out.hands = "accordion-cone";
    f.cone = FamilyFigures::Cone{std::asin(sine) * degrees, std::asin(std::min(1.0, faceted)) * degrees, slant * sine,
                                 slant * std::sqrt(1 - sine * sine)};
  }
  return out;
}

} // namespace

PatternFamily accordion_strip_family() {
  return {"accordion-strip",
          "Accordion strip with diagonals",
          FamilyGroup::strip,
          true,
          {{"part", "Length of a part", ParameterType::mm, 2, 1000, 20, "Between two upright creases."},
           {"parts", "Parts", ParameterType::integer, 3, 200, 12, "Those over the closing number make a spiral stack."},
           {"height", "Height of the strip", ParameterType::mm, 2, 2000, 74.641016,
            "Part / tan(180 degrees / parts) closes exactly; see closing_height_mm."},
           {"cone_parts", "Parts of the cone", ParameterType::integer, 0, 199, 0,
            "So many of those that close, on half the strip's height, lock to a cone; 0: none."}},
          draw_accordion,
          true};
}

} // namespace uc
