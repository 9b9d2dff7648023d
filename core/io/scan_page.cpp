#include "io/scan_page.h"

#include "base/quantity.h"

#include <fmt/format.h>

#include <cmath>
#include <numbers>

namespace uc {
namespace {

constexpr const char* mark_black = "#101010";
constexpr const char* band_shade = "#808080";

} // namespace

Page scan_page(const ScanFrame& frame) {
  Page page;
  page.width_mm = frame.page.x();
  page.height_mm = frame.page.y();
  const auto down = [&](const Point& p) { return Point{p.x(), frame.page.y() - p.y()}; };
  const auto area = [&](const Polygon& corners, const std::string& fill) {
    PagePath path;
    path.closed = true;
    path.fill = fill;
    for (const Point& p : corners) path.points.push_back(down(p));
    page.items.emplace_back(path);
  };
  const auto disc = [&](const Point& middle, double radius, const std::string& fill) {
    Polygon rim;
    for (int i = 0; i < 96; ++i) {
      const double radians = 2 * std::numbers::pi * i / 96;
      rim.push_back(middle + radius * Point(std::cos(radians), std::sin(radians)));
    }
    area(rim, fill);
  };
  // Grey about the edges, on both their sides.
  const Point centre = bounding_box(frame.sheet).centre();
  const auto grown = [&](double by) {
    Polygon out;
    const std::size_t n = frame.sheet.size();
    for (std::size_t i = 0; i < n; ++i) {
      const Line before = Line::through(frame.sheet[(i + n - 1) % n], frame.sheet[i]);
      const Line after = Line::through(frame.sheet[i], frame.sheet[(i + 1) % n]);
      const auto moved = [&](Line l) { return Line{l.normal, l.c + (l.distance(centre) > 0 ? -by : by)}; };
      out.push_back(moved(before).crossing(moved(after)).value_or(frame.sheet[i]));
    }
    return out;
  };
  area(grown(band_mm), band_shade);
  area(grown(-band_mm), "#ffffff");
  for (std::size_t i = 0; i < frame.marks.size(); ++i) {
    disc(frame.marks[i], mark_ring_mm, mark_black);
    disc(frame.marks[i], mark_inner_mm, "#ffffff");
    disc(frame.marks[i], mark_disc_mm, mark_black);
    if (i == 0) disc(frame.marks[i], mark_hole_mm, "#ffffff");
  }
  const Point size = bounding_box(frame.sheet).size();
  const Point middle = down(centre);
  page.text({middle.x(), middle.y() - 12},
            fmt::format("For a sheet of {} x {} mm", format_number(size.x(), 1), format_number(size.y(), 1)), 4, true,
            Align::centre);
  page.text({middle.x(), middle.y() - 5},
            "Lay it face up on the grey band, its lower left corner by the mark with the white middle.", 2.6, false,
            Align::centre);
  page.text({middle.x(), middle.y() + 1}, "Let all eight marks be seen. Print at true size:", 2.6, false,
            Align::centre);
  page.line({middle.x() - 25, middle.y() + 7}, {middle.x() + 25, middle.y() + 7}, mark_black, 0.3);
  for (const double end : {-25.0, 25.0})
    page.line({middle.x() + end, middle.y() + 5.5}, {middle.x() + end, middle.y() + 8.5}, mark_black, 0.3);
  page.text({middle.x(), middle.y() + 12}, "50 mm", 2.6, false, Align::centre);
  return page;
}

} // namespace uc
