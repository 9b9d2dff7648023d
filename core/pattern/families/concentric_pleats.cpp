// Concentric pleats: rings at equal distances inside a regular polygon or rectangle, mountains and valleys in turn, and
// creases from the corners to the middle. At a ring's corner the crease inside the ring lies between two equal lesser
// angles, so it is opposite to the ring (big-little-big), the one outside is like it (Maekawa). Every vertex could lie
// flat, but the trapezoids between cannot stay flat on the way (Demaine, Demaine, Hart, Price and Tachi 2011): they
// bend, or fold on the facet diagonals, which are drawn where asked for.
#include "pattern/crease_lines.h"
#include "pattern/families/all.h"

#include <algorithm>
#include <cmath>

namespace uc {
namespace {

enum Centre { closed, plain, open };

/// The rings from the middle (0: a point, or a ridge in a rectangle) to the outline itself.
std::vector<Polygon> concentric_rings(const Polygon& outline, int rings, bool rectangle) {
  Point middle = Point::Zero(); // of the corners, which in an odd polygon is not that of the box
  for (const Point& p : outline) middle += p / static_cast<double>(outline.size());
  const double inset = bounding_box(outline).size().minCoeff() / 2;
  std::vector<Polygon> out;
  for (int i = 0; i <= rings; ++i) {
    const double part = static_cast<double>(i) / rings;
    Polygon ring;
    for (const Point& corner : outline) {
      const Point arm = corner - middle;
      if (rectangle)
        ring.emplace_back(corner - (1 - part) * inset * Point{arm.x() > 0 ? 1 : -1, arm.y() > 0 ? 1 : -1});
      else
        ring.emplace_back(middle + part * arm);
    }
    out.push_back(std::move(ring));
  }
  return out;
}

Result<FamilyDrawing> draw_concentric(const ParameterValues& values, const Polygon& sheet) {
  const bool rectangle = values.at("shape") == 1;
  const int count = static_cast<int>(values.at("rings"));
  const int sides = static_cast<int>(values.at("sides"));
  const Box box = bounding_box(sheet);
  const Polygon outline = rectangle
                              ? Polygon{box.low, {box.high.x(), box.low.y()}, box.high, {box.low.x(), box.high.y()}}
                              : largest_regular(sides, sheet);
  const std::vector<Polygon> rings = concentric_rings(outline, count, rectangle);
  const int centre = static_cast<int>(values.at("centre"));
  const int first = centre == closed ? 0 : 1; // the innermost ring that creases run to
  const auto kind_of = [](int ring) { return ring % 2 == 1 ? EdgeKind::mountain : EdgeKind::valley; };
  CreaseLines lines(outline);
  if (centre == open) lines.hole(rings[1]);
  for (int i = 1; i < count; ++i)
    if (i > 1 || centre != open) lines.ring(rings[static_cast<std::size_t>(i)], kind_of(i));
  for (int i = first; i < count; ++i) {
    const Polygon& inner = rings[static_cast<std::size_t>(i)];
    const Polygon& outer = rings[static_cast<std::size_t>(i) + 1];
    for (std::size_t c = 0; c < inner.size(); ++c) {
      lines.add(inner[c], outer[c], opposite(kind_of(i + 1)));
      if (values.at("diagonals") == 1 && (inner[c] - inner[(c + 1) % inner.size()]).norm() > 1e-9)
        lines.add(inner[c], outer[(c + 1) % inner.size()], EdgeKind::unfolded);
    }
  }
  if (rectangle && centre == closed) { // the ridge
    const auto far = [&](std::size_t a, std::size_t b) { return (rings[0][a] - rings[0][b]).norm(); };
    const std::size_t other = far(0, 1) > far(0, 2) / 2 ? 1 : 2;
    lines.add(rings[0][0], rings[0][other], opposite(kind_of(1)));
  }
  FamilyDrawing out{lines.design(), {}};
  out.usual_part = 0.6; // the pleats of a saddle stand up
  if (centre == plain) out.held.push_back({"middle", rings[1]});
  const Polygon& innermost = rings[1];
  const Line side = Line::through(innermost[0], innermost[1]);
  out.figures.pleat_mm = std::abs(side.distance(rings[0][0]));
  return out;
}

} // namespace

PatternFamily concentric_pleats_family() {
  return {"concentric-pleats",
          "Concentric pleats",
          FamilyGroup::relief,
          false,
          {{"shape",
            "Shape",
            ParameterType::choice,
            0,
            1,
            0,
            "A regular polygon, or the sheet's own rectangle.",
            {"polygon", "rectangle"}},
           {"sides", "Sides", ParameterType::integer, 3, 12, 4, "Of the polygon; 4 gives the pleated saddle."},
           {"rings", "Pleats", ParameterType::integer, 2, 64, 8,
            "Counted from the middle to the edge; more make a deeper saddle and narrower pleats."},
           {"centre",
            "Middle",
            ParameterType::choice,
            0,
            2,
            0,
            "Creased to the centre, left without creases, or cut out.",
            {"closed", "plain", "open"}},
           {"diagonals",
            "Facet diagonals",
            ParameterType::choice,
            0,
            1,
            0,
            "Where the facets may bend; without them they curve.",
            {"no", "yes"}}},
          draw_concentric};
}

} // namespace uc
