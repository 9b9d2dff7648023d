#include "device/scan_lines.h"

#include "base/quantity.h"
#include "crease/carrier_lines.h"

#include <cmath>
#include <map>
#include <numbers>

namespace uc {

std::vector<ScanLine> scan_lines(const Point& size, int parts, GridAxis axis) {
  std::vector<ScanLine> out;
  for (const bool upright : {true, false}) {
    if (axis == (upright ? GridAxis::y : GridAxis::x)) continue;
    for (int k = 1; k < parts; ++k) {
      ScanLine l;
      l.axis = upright ? "x" : "y";
      l.line = k;
      l.position_mm = (upright ? size.x() : size.y()) * k / parts;
      l.at = upright ? Segment{{l.position_mm, 0}, {l.position_mm, size.y()}}
                     : Segment{{0, l.position_mm}, {size.x(), l.position_mm}};
      l.pieces = {l.at};
      out.push_back(l);
    }
  }
  return out;
}

double position_of(const std::string& axis, const Segment& at) {
  const Point d = at.to - at.from;
  if (axis == "x") return at.from.x() - d.x() / d.y() * at.from.y();
  if (axis == "y") return at.from.y() - d.y() / d.x() * at.from.x();
  const double radians = std::stod(axis) * std::numbers::pi / 180;
  const double left = Point(-std::sin(radians), std::cos(radians)).dot((at.from + at.to) / 2);
  return counts_to_the_right(axis) ? -left : left;
}

bool counts_to_the_right(const std::string& axis) {
  return axis == "x" || (axis != "y" && std::stod(axis) > 90); // so that all are above zero
}

std::vector<ScanLine> scan_lines(const CreasePattern& pattern, const Polygon& sheet) {
  const Point low = bounding_box(sheet).low;
  std::vector<ScanLine> out;
  std::map<std::string, int> counted;
  for (const CarrierLine& carrier : carrier_lines(pattern)) {
    if (carrier.length() < least_scanned_mm) continue;
    ScanLine l;
    for (const Segment& s : carrier.spans()) l.pieces.push_back({s.from - low, s.to - low});
    l.at = {l.pieces.front().from, l.pieces.back().to};
    Point d = l.at.to - l.at.from;
    if (d.y() < -1e-9 || (std::abs(d.y()) <= 1e-9 && d.x() < 0)) {
      std::swap(l.at.from, l.at.to);
      d = -d;
    }
    const double degrees = std::atan2(d.y(), d.x()) * 180 / std::numbers::pi;
    l.axis = std::abs(degrees - 90) < 1e-4                                ? "x"
             : std::abs(degrees) < 1e-4 || std::abs(degrees - 180) < 1e-4 ? "y"
                                                                          : format_number(degrees, 2);
    l.position_mm = position_of(l.axis, l.at);
    out.push_back(l);
  }
  std::stable_sort(out.begin(), out.end(), [](const ScanLine& a, const ScanLine& b) {
    return a.axis != b.axis ? a.axis < b.axis : a.position_mm < b.position_mm;
  });
  for (ScanLine& l : out) l.line = ++counted[l.axis];
  return out;
}

} // namespace uc
