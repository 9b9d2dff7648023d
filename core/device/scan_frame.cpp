#include "device/scan_frame.h"

namespace uc {

ScanFrame scan_frame(const Polygon& outline) {
  constexpr double margin = 2 * (mark_ring_mm + quiet_mm);
  const Box box = bounding_box(outline);
  ScanFrame out;
  const Point corner{margin + band_mm, margin + band_mm};
  out.page = box.size() + 2 * corner;
  for (const Point& p : outline) out.sheet.push_back(p - box.low + corner);
  const double w = out.page.x();
  const double h = out.page.y();
  const double in = margin / 2;
  out.marks = {Point{in, in},    Point{w - in, in},    Point{w - in, h - in}, Point{in, h - in},
               Point{w / 2, in}, Point{w - in, h / 2}, Point{w / 2, h - in},  Point{in, h / 2}};
  return out;
}

} // namespace uc
