#include "device/mark_finder.h"

#include <Eigen/Dense>
#include <fmt/format.h>
#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <cmath>

namespace uc {
namespace {

struct Blob {
  Point middle;
  double width, height, area;
};

struct Mark {
  Point at;
  double radius; // of its ring, in pixels
};

/// Dark spots of a picture that is small enough, evened against the light about them.
std::vector<Blob> dark_blobs(const cv::Mat& image, int block) {
  cv::Mat dark;
  cv::adaptiveThreshold(image, dark, 255, cv::ADAPTIVE_THRESH_MEAN_C, cv::THRESH_BINARY_INV, block | 1, 25);
  cv::Mat labels, stats, middles;
  const int count = cv::connectedComponentsWithStats(dark, labels, stats, middles, 8);
  std::vector<Blob> out;
  for (int i = 1; i < count; ++i) {
    const double width = stats.at<int>(i, cv::CC_STAT_WIDTH);
    const double height = stats.at<int>(i, cv::CC_STAT_HEIGHT);
    if (width < 3 || height < 3 || width > 2.5 * height || height > 2.5 * width) continue;
    // The middle of the box: what is open in a ring counts for nothing.
    out.push_back({{stats.at<int>(i, cv::CC_STAT_LEFT) + width / 2, stats.at<int>(i, cv::CC_STAT_TOP) + height / 2},
                   width,
                   height,
                   static_cast<double>(stats.at<int>(i, cv::CC_STAT_AREA))});
  }
  return out;
}

/// A disc in the middle of a ring of the right thickness.
std::vector<Mark> ring_marks(const std::vector<Blob>& blobs) {
  constexpr double full = 3.14159265358979 / 4;
  const double ring_fill = full * (1 - std::pow(mark_inner_mm / mark_ring_mm, 2));
  std::vector<Mark> out;
  for (const Blob& ring : blobs) {
    const double size = (ring.width + ring.height) / 2;
    const double fill = ring.area / (ring.width * ring.height);
    if (size < 9 || fill < 0.6 * ring_fill || fill > 1.45 * ring_fill) continue;
    for (const Blob& disc : blobs) {
      const double part = (disc.width + disc.height) / 2 / size;
      if (std::abs(part - mark_disc_mm / mark_ring_mm) > 0.12) continue;
      if ((disc.middle - ring.middle).norm() > 0.08 * size) continue;
      out.push_back({ring.middle, size / 2});
      break;
    }
  }
  return out;
}

double turn(const Point& a, const Point& b, const Point& c) {
  return (b.x() - a.x()) * (c.y() - a.y()) - (b.y() - a.y()) * (c.x() - a.x());
}

/// The four marks that span the most, one after the other round them as they follow on the page (the picture's y runs
/// down).
std::vector<Mark> corners_of(const std::vector<Mark>& marks) {
  std::vector<Mark> best;
  double most = 0;
  const std::size_t n = marks.size();
  for (std::size_t a = 0; a < n; ++a) {
    for (std::size_t b = a + 1; b < n; ++b) {
      for (std::size_t c = b + 1; c < n; ++c) {
        for (std::size_t d = c + 1; d < n; ++d) {
          std::vector<Mark> four{marks[a], marks[b], marks[c], marks[d]};
          Point middle = Point::Zero();
          for (const Mark& m : four) middle += m.at / 4;
          std::sort(four.begin(), four.end(), [&](const Mark& p, const Mark& q) {
            const Point u = p.at - middle;
            const Point v = q.at - middle;
            return std::atan2(u.y(), u.x()) > std::atan2(v.y(), v.x());
          });
          double area = 0;
          bool convex = true;
          for (std::size_t i = 0; i < 4; ++i) {
            const double t = turn(four[i].at, four[(i + 1) % 4].at, four[(i + 2) % 4].at);
            convex = convex && t < 0;
            area -= t;
          }
          if (convex && area > most) most = area, best = four;
        }
      }
    }
  }
  return best;
}

/// The middle of a mark to a part of a pixel: the middle of all that is dark within its ring. The paper's white and the
/// ink's black are taken from the same spot.
std::optional<Point> refined(const GreyImage& image, Point at, double radius) {
  const double reach = radius * (mark_ring_mm + 0.7 * quiet_mm) / mark_ring_mm;
  for (int step = 0; step < 4; ++step) {
    const int low_x = static_cast<int>(std::floor(at.x() - reach));
    const int low_y = static_cast<int>(std::floor(at.y() - reach));
    const int high_x = static_cast<int>(std::ceil(at.x() + reach));
    const int high_y = static_cast<int>(std::ceil(at.y() + reach));
    if (low_x < 0 || low_y < 0 || high_x >= image.width || high_y >= image.height) return std::nullopt;
    std::vector<std::uint8_t> values;
    for (int y = low_y; y <= high_y; ++y) {
      for (int x = low_x; x <= high_x; ++x) values.push_back(image.at(x, y));
    }
    const auto part = [&](double share) {
      const auto nth = values.begin() + static_cast<std::ptrdiff_t>(share * static_cast<double>(values.size() - 1));
      std::nth_element(values.begin(), nth, values.end());
      return static_cast<double>(*nth);
    };
    const double black = part(0.08);
    const double white = part(0.85);
    if (white - black < 20) return std::nullopt;
    // The outer 15 % of the contrast count as white or black: noise of white paper would pull the middle about.
    Point sum = Point::Zero();
    double weight = 0;
    for (int y = low_y; y <= high_y; ++y) {
      for (int x = low_x; x <= high_x; ++x) {
        const Point p{x + 0.5, y + 0.5};
        if ((p - at).norm() > reach) continue;
        const double w = std::clamp((0.85 * white + 0.15 * black - image.at(x, y)) / (0.7 * (white - black)), 0.0, 1.0);
        sum += w * p;
        weight += w;
      }
    }
    if (!(weight > 0)) return std::nullopt;
    const Point next = sum / weight;
    const double moved = (next - at).norm();
    at = next;
    if (moved < 0.005) break;
  }
  return at;
}

/// How much brighter the middle of a mark is than its disc, of the picture's range.
double brightness(const GreyImage& image, const Mark& m) {
  const auto mean = [&](double mm) {
    double sum = 0;
    for (int i = 0; i < 16; ++i) {
      const double radians = i * 0.3926990817;
      const double r = m.radius * mm / mark_ring_mm;
      sum += image.sample(m.at.x() + r * std::cos(radians), m.at.y() + r * std::sin(radians)) / 16;
    }
    return sum;
  };
  return mean(0.2 * mark_hole_mm) - mean((mark_hole_mm + mark_disc_mm) / 2);
}

std::vector<Mark> marks_in(const GreyImage& image, const ScanFrame& frame) {
  // A picture of about 1500 pixels shows a mark by some twenty pixels at least.
  const int size = std::max(image.width, image.height);
  const int step = std::max(1, size / 1500);
  const cv::Mat whole(image.height, image.width, CV_8UC1, const_cast<std::uint8_t*>(image.pixels.data()));
  cv::Mat small;
  if (step > 1)
    cv::resize(whole, small, {}, 1.0 / step, 1.0 / step, cv::INTER_AREA);
  else
    small = whole;
  std::vector<Mark> best;
  // The page may fill the picture, or half of it.
  for (const double part : {1.0, 0.5, 0.25}) {
    const double px_per_mm = part * size / step / frame.page.maxCoeff();
    const int block = std::max(9, static_cast<int>(5 * mark_ring_mm * px_per_mm));
    auto marks = ring_marks(dark_blobs(small, block));
    if (marks.size() > 24) marks.resize(24);
    if (marks.size() > best.size()) best = marks;
    if (best.size() >= 8) break;
  }
  for (Mark& m : best) {
    // Of cells of `step` pixels.
    m.at = m.at * step;
    m.radius *= step;
  }
  return best;
}

} // namespace

Result<SeenPage> seen_page(const GreyImage& image, const ScanFrame& frame) {
  const std::vector<Mark> marks = marks_in(image, frame);
  auto corners = marks.size() < 4 ? std::vector<Mark>{} : corners_of(marks);
  if (corners.size() < 4)
    return Error{fmt::format("{} of the eight ring marks {} seen; lay the sheet on a print-out with corner marks and "
                             "let the picture show all of it",
                             marks.size(), marks.size() == 1 ? "is" : "are")};
  std::array<double, 4> bright{};
  for (std::size_t i = 0; i < 4; ++i) bright[i] = brightness(image, corners[i]);
  const auto first = std::max_element(bright.begin(), bright.end()) - bright.begin();
  std::array<double, 4> sorted = bright;
  std::sort(sorted.begin(), sorted.end());
  if (!(sorted[3] > 30 && sorted[3] > 2 * std::abs(sorted[2]) + 10))
    return Error{
        "The mark with the white middle, at the lower left of the print-out, is not seen; take a sharper picture "
        "that shows all corners"};
  std::rotate(corners.begin(), corners.begin() + first, corners.end());
  std::vector<Point> page(frame.marks.begin(), frame.marks.begin() + 4);
  std::vector<Point> seen;
  for (const Mark& m : corners) {
    const auto at = refined(image, m.at, m.radius);
    if (!at) return Error{"A ring mark lies at the rim of the picture; show all of the print-out"};
    seen.push_back(*at);
  }
  auto rough = Homography::fitted(page, seen);
  if (!rough) return Error{"The ring marks do not lie as on a print-out; take the picture from above"};
  for (std::size_t i = 4; i < frame.marks.size(); ++i) {
    const Point expected = (*rough)(frame.marks[i]);
    const double radius = mark_ring_mm * std::sqrt(std::abs(rough->derivative(frame.marks[i]).determinant()));
    const auto at = refined(image, expected, radius);
    if (!at || (*at - expected).norm() > 0.5 * radius)
      return Error{
          fmt::format("The ring marks do not lie as on the print-out for this sheet (number {} of 8); say with "
                      "--sheet which one it was made for, and lay it flat",
                      i + 1)};
    page.push_back(frame.marks[i]);
    seen.push_back(*at);
  }
  const auto fitted = Homography::fitted(page, seen);
  if (!fitted) return Error{fitted.error()};
  const Eigen::Matrix2d middle = fitted->derivative(frame.page / 2);
  const double scale = std::sqrt(std::abs(middle.determinant()));
  // Seen straight from above a page is as large along as across; leaning, its far side is smaller too.
  const Eigen::Vector2d sizes = middle.jacobiSvd().singularValues();
  double lean = 0;
  for (std::size_t i = 0; i < 4; ++i)
    lean = std::max(lean, std::abs(std::sqrt(std::abs(fitted->derivative(frame.marks[i]).determinant())) / scale - 1));
  if (sizes(1) < 0.985 * sizes(0) && sizes(1) < (1 - 4 * lean) * sizes(0))
    return Error{
        "The print-out in the picture has another shape than that of this sheet; say with --sheet which one it was "
        "made for"};
  SeenPage out{*fitted, fitted->rms() / scale, 25.4 * scale};
  if (out.dpi < least_dpi)
    return Error{fmt::format("The picture has {:.0f} dots an inch; scan at 150 at least, better 300", out.dpi)};
  return out;
}

} // namespace uc
