// Relief pleats: level pleats right across the sheet, mirrored at every closed outline they meet (Kawasaki: where the
// two halves of the outline are one line, what goes on beyond it is a mirror image). The outlines are squares on their
// corners, one within the other, so pleats are level and upright in turn. All is symmetric about the middle, and a
// pleat keeps its direction; of the outline the piece towards the corner a pleat does not pass is like the pleat, the
// other opposite to it: the two arms enclose the latter between equal lesser angles (big-little-big). Corners lie
// half-way between two pleats; there alone the paper cannot lie flat.
#include "pattern/crease_lines.h"
#include "pattern/families/all.h"

#include <fmt/format.h>

#include <cmath>

namespace uc {
namespace {

/// A quarter of the relief in cells from the middle; `level` regions have their pleats along the first coordinate.
class Relief {
public:
  Relief(std::vector<double> radii, CreaseLines& lines, const Point& middle, double cell)
      : radii_(std::move(radii)), lines_(lines), middle_(middle), cell_(cell) {}

  /// Pleats of the region within outline `region` - 1 (0: the sheet itself), out to `far` where it has no outline.
  void pleats(int region, double far) {
    const double outer = region == 0 ? 2 * far : radii_[static_cast<std::size_t>(region) - 1];
    const bool innermost = static_cast<std::size_t>(region) == radii_.size();
    const double inner = innermost ? 0 : radii_[static_cast<std::size_t>(region)];
    for (double b = 0.5; b < (region == 0 ? far : outer); ++b)
      put(region, {std::max(0.0, inner - b), b}, {outer - b, b}, kind(region, b));
  }
  void outline(int region) { // the outline within this region
    const double r = radii_[static_cast<std::size_t>(region)];
    const auto on = [&](double b) { return Point{r - b, b}; };
    put(region, on(0), on(0.5), opposite(kind(region, 0.5)));
    for (double b = 0.5; b < r; ++b) put(region, on(b), on(std::min(b + 1, r)), kind(region, b));
  }

private:
  /// The direction of the pleat at a distance from the middle line of its region.
  [[nodiscard]] EdgeKind kind(int region, double b) const {
    for (; region > 0; --region) b = radii_[static_cast<std::size_t>(region) - 1] - b;
    return static_cast<long>(std::floor(b)) % 2 == 0 ? EdgeKind::mountain : EdgeKind::valley;
  }
  void put(int region, Point from, Point to, EdgeKind kind) {
    if (region % 2 == 1) {
      std::swap(from.x(), from.y());
      std::swap(to.x(), to.y());
    }
    for (const double x : {1.0, -1.0}) {
      for (const double y : {1.0, -1.0}) {
        const Eigen::DiagonalMatrix<double, 2> side(x, y);
        lines_.add(middle_ + cell_ * (side * from), middle_ + cell_ * (side * to), kind);
      }
    }
  }
  std::vector<double> radii_;
  CreaseLines& lines_;
  Point middle_;
  double cell_;
};

Result<FamilyDrawing> draw_relief(const ParameterValues& values, const Polygon& sheet) {
  const double count = values.at("count");
  const int nested = static_cast<int>(values.at("outlines"));
  const double size = values.at("radius");
  const double step = values.at("step");
  const Box box = bounding_box(sheet);
  const double cell = box.size().x() / count;
  const double room = box.size().minCoeff() / cell / 2;
  if (size >= room)
    return Error{fmt::format("radius: {} cells from the middle to a corner do not fit on the sheet; type up to {}",
                             size, std::ceil(room) - 1)};
  if (size - (nested - 1) * step < 1)
    return Error{fmt::format("outlines: {} within each other, {} apart, need a radius of {} or more", nested, step,
                             (nested - 1) * step + 1)};
  std::vector<double> radii;
  radii.reserve(static_cast<std::size_t>(nested));
  for (int i = 0; i < nested; ++i) radii.push_back(size - i * step);
  CreaseLines lines(sheet);
  Relief relief(radii, lines, box.centre(), cell);
  const double far = box.size().maxCoeff() / cell;
  for (int region = 0; region <= nested; ++region) {
    relief.pleats(region, far);
    if (region < nested) relief.outline(region);
  }
  FamilyDrawing out{lines.design(), {}};
  out.figures.finished_mm = box.size(); // while the pleats stand
  out.figures.pleat_mm = cell;
  return out;
}

} // namespace

PatternFamily relief_family() {
  return {
      "relief",
      "Relief of pleats",
      FamilyGroup::relief,
      false,
      {{"count", "Pleats", ParameterType::integer, 8, 96, 24, "Each is as wide as the sheet over this count."},
       {"radius", "Size of the outline", ParameterType::integer, 2, 40, 8, "Cells from its middle to a corner."},
       {"outlines", "Outlines", ParameterType::integer, 1, 8, 2, "One within the other; each turns the pleats again."},
       {"step", "Apart", ParameterType::integer, 1, 8, 3, "Cells between an outline and the next."}},
      draw_relief};
}

} // namespace uc
