#include "device/scan_maker.h"

#include "divide/plan.h"

#include <fmt/format.h>
#include <opencv2/imgproc.hpp>

#include <algorithm>
#include <cmath>
#include <numbers>
#include <random>

namespace uc {
namespace {

constexpr double page_white = 0.97;
constexpr double band_grey = 0.5;
constexpr double ink = 0.08;
constexpr double lid = 0.9; // of the scanner, beyond the page
constexpr double rim_mm = 6;

// A crease: a nick a tenth of a mm to each side, and the roof's two slopes that die away within a mm.
constexpr double nick_depth = 0.10;
constexpr double nick_mm = 0.11;
constexpr double slope_shade = 0.03;
constexpr double slope_mm = 0.5;

Polygon moved(const Polygon& outline, const Isometry& by) {
  Polygon out;
  for (const Point& p : outline) out.push_back(by * p);
  return out;
}

/// `depth_inside` for very many points.
class ConvexRim {
public:
  ConvexRim() = default;
  explicit ConvexRim(const Polygon& convex) {
    for (std::size_t i = 0; i < convex.size(); ++i) {
      const Line side = Line::through(convex[i], convex[(i + 1) % convex.size()]);
      const bool inward = side.distance(bounding_box(convex).centre()) > 0;
      sides_.push_back(inward ? side : Line{-side.normal, -side.c});
    }
  }
  [[nodiscard]] double depth(const Point& p) const {
    double least = 1e300;
    for (const Line& side : sides_) least = std::min(least, side.distance(p));
    return least;
  }

private:
  std::vector<Line> sides_;
};

/// Part of a pixel of this size that lies inside, for a straight rim at this distance.
double covered(double depth, double pixel) { return std::clamp(0.5 + depth / pixel, 0.0, 1.0); }

double mark_at(double r, double pixel, bool hole) {
  const auto within = [&](double radius) { return covered(radius - r, pixel); };
  double dark = within(mark_ring_mm) - within(mark_inner_mm) + within(mark_disc_mm);
  if (hole) dark -= within(mark_hole_mm);
  return dark;
}

class Maker {
public:
  Maker(const Polygon& sheet, const ScanMaking& making)
      : making_(making), frame_(scan_frame(sheet)), scale_(making.dpi / 25.4), random_(making.seed) {
    const Point page = frame_.page;
    // The upper side is shortened about the middle; then all is turned, and moved into the picture.
    const double k = making.perspective_pct / 100;
    std::vector<Point> from{{0, 0}, {page.x(), 0}, page, {0, page.y()}};
    std::vector<Point> to = from;
    to[2].x() -= k / 2 * page.x();
    to[3].x() += k / 2 * page.x();
    const double turn = -making.skew_deg * std::numbers::pi / 180; // the picture's y runs down
    for (Point& p : to) p = scale_ * (Isometry::rotation_about(Point::Zero(), turn) * Point(p.x(), -p.y()));
    const Box box = bounding_box(to);
    const Point rim{rim_mm * scale_, rim_mm * scale_};
    for (Point& p : to) p = p - box.low + rim;
    size_ = box.size() + 2 * rim;
    to_image_ = *Homography::fitted(from, to);
    std::uniform_real_distribution<double> even(-1, 1);
    // Laid by hand: a mm off, a quarter of a degree askew.
    const Point shift{even(random_), even(random_)};
    const double askew = 0.25 * even(random_) * std::numbers::pi / 180;
    lay_ = Isometry::rotation_about(bounding_box(frame_.sheet).centre(), askew);
    lay_.shift += shift;
    sheet_ = moved(frame_.sheet, lay_);
    // The sheet's own coordinates begin at its box's corner.
    origin_ = bounding_box(frame_.sheet).low;
    rim_ = ConvexRim(frame_.sheet);
    sheet_rim_ = ConvexRim(sheet_);
  }

  [[nodiscard]] Status fits() const {
    if (size_.x() * size_.y() > static_cast<double>(most_pixels))
      return Error{
          fmt::format("A picture of {:.0f} x {:.0f} pixels is too large; ask for fewer dpi or a smaller sheet.",
                      size_.x(), size_.y())};
    return Done{};
  }

  Result<GreyImage> make(const std::vector<ScanLine>& creases, Progress* progress) {
    const int width = static_cast<int>(std::ceil(size_.x()));
    const int height = static_cast<int>(std::ceil(size_.y()));
    bright_ = cv::Mat(height, width, CV_32F);
    const Homography back = to_image_.inverse();
    parallel_for(
        static_cast<std::size_t>(height),
        [&](std::size_t y) {
          float* row = bright_.ptr<float>(static_cast<int>(y));
          for (int x = 0; x < width; ++x)
            row[x] = static_cast<float>(ground(back({x + 0.5, static_cast<double>(y) + 0.5})));
        },
        progress);
    if (progress && progress->stopped()) return Error{"Stopped."};
    if (progress) progress->set(0.4);
    draw_texture();
    for (const ScanLine& l : creases) {
      for (const Segment& s : l.pieces) draw_crease(s);
    }
    if (progress) progress->set(0.7);
    const double blur = std::max(0.4, making_.blur_mm * scale_);
    cv::GaussianBlur(bright_, bright_, {}, blur);
    return finished();
  }

private:
  [[nodiscard]] double ground(const Point& p) const {
    const double pixel = 1 / scale_;
    const double from_edge = rim_.depth(p);
    if (from_edge > band_mm + 2) return making_.paper; // laid a mm off at most
    if (p.x() < 0 || p.y() < 0 || p.x() > frame_.page.x() || p.y() > frame_.page.y()) return lid;
    for (std::size_t i = 0; i < frame_.marks.size(); ++i) {
      const double r = (p - frame_.marks[i]).norm();
      if (r > mark_ring_mm + 1) continue;
      const double dark = mark_at(r, pixel, i == 0);
      return page_white + dark * (ink - page_white);
    }
    const double on_sheet = covered(sheet_rim_.depth(p), pixel);
    const double band = covered(from_edge + band_mm, pixel) * (1 - covered(from_edge - band_mm, pixel));
    const double page = page_white + band * (band_grey - page_white);
    return page + on_sheet * (making_.paper - page);
  }

  void draw_texture() {
    if (making_.texture_pct <= 0) return;
    cv::Mat rough(bright_.size(), CV_32F);
    cv::RNG random(making_.seed);
    random.fill(rough, cv::RNG::NORMAL, 0, 1);
    const double grain = 0.12 * scale_; // fibres
    cv::GaussianBlur(rough, rough, {}, grain);
    // The blur has made it weaker by 1 / (2 sqrt(pi) grain).
    rough *= making_.texture_pct / 100 * 2 * std::sqrt(std::numbers::pi) * grain;
    bright_ = bright_.mul(1 + rough);
  }

  /// Along the piece, pixel by pixel of the box about it.
  void draw_crease(const Segment& piece) {
    const auto on_page = [&](const Point& p) { return Point(lay_ * Point(p + origin_)); };
    const Point from = on_page(piece.from);
    const Point to = on_page(piece.to);
    const double length = (to - from).norm();
    if (!(length > 0)) return;
    const Point along = (to - from) / length;
    const Point across{-along.y(), along.x()};
    // The light comes from the lower left; a crease along it shows its slopes least.
    // Mountains and valleys in turn.
    flip_ = !flip_;
    const double shade = (flip_ ? slope_shade : -slope_shade) * across.dot(Point(-0.6, -0.8));
    constexpr double reach = 4 * slope_mm;
    const Homography back = to_image_.inverse();
    const double step = 0.5 / scale_;
    const int steps = std::max(1, static_cast<int>(length / 4));
    for (int i = 0; i < steps; ++i) {
      // Short stretches keep the boxes of slanting creases small.
      const Point a = from + length * i / steps * along;
      const Point b = from + length * (i + 1) / steps * along;
      Polygon corners;
      for (const Point& p : {a, b}) {
        for (const double side : {-reach, reach}) corners.push_back(to_image_(p + side * across));
      }
      const Box box = bounding_box(corners);
      for (int y = std::max(0, static_cast<int>(box.low.y()));
           y <= std::min(bright_.rows - 1, static_cast<int>(box.high.y()) + 1); ++y) {
        float* row = bright_.ptr<float>(y);
        for (int x = std::max(0, static_cast<int>(box.low.x()));
             x <= std::min(bright_.cols - 1, static_cast<int>(box.high.x()) + 1); ++x) {
          const Point p = back({x + 0.5, y + 0.5});
          const double t = along.dot(p - a);
          const double off = across.dot(p - from);
          if (t < 0 || t >= length / steps || std::abs(off) > reach || sheet_rim_.depth(p) < step) continue;
          const double nick = -nick_depth * std::exp(-off * off / (2 * nick_mm * nick_mm));
          const double slope = shade * (off > 0 ? 1 : -1) * std::exp(-std::abs(off) / slope_mm);
          row[x] *= static_cast<float>(1 + nick + slope);
        }
      }
    }
  }

  GreyImage finished() {
    GreyImage out;
    out.width = bright_.cols;
    out.height = bright_.rows;
    out.pixels.resize(static_cast<std::size_t>(out.width) * static_cast<std::size_t>(out.height));
    std::normal_distribution<double> noise(0, making_.noise_pct / 100);
    const double diagonal = std::hypot(out.width, out.height);
    for (int y = 0; y < out.height; ++y) {
      const float* row = bright_.ptr<float>(y);
      for (int x = 0; x < out.width; ++x) {
        // From the lower left to the upper right, and a little towards all rims.
        const double way = (x + (out.height - y)) / (1.0 * out.width + out.height);
        const double rim = std::pow(std::hypot(x - out.width / 2.0, y - out.height / 2.0) / (diagonal / 2), 2);
        const double light = 1 - making_.light_pct / 100 * (0.7 * way + 0.3 * rim);
        const double value = row[x] * light + noise(random_);
        out.pixels[static_cast<std::size_t>(y) * static_cast<std::size_t>(out.width) + static_cast<std::size_t>(x)] =
            static_cast<std::uint8_t>(std::lround(255 * std::clamp(value, 0.0, 1.0)));
      }
    }
    return out;
  }

  ScanMaking making_;
  ScanFrame frame_;
  double scale_;
  std::mt19937_64 random_;
  Point size_ = Point::Zero();
  Point origin_ = Point::Zero();
  Homography to_image_;
  Isometry lay_;
  Polygon sheet_; // where it lies on the page
  ConvexRim rim_; // where it should
  ConvexRim sheet_rim_;
  cv::Mat bright_;
  bool flip_ = false;
};

} // namespace

Status check(const ScanMaking& m) {
  if (!(m.dpi >= 50 && m.dpi <= 2400)) return Error{fmt::format("{:g} dpi cannot be drawn; type 50 to 2400", m.dpi)};
  if (!(m.noise_pct >= 0 && m.noise_pct <= 50))
    return Error{fmt::format("{:g} % of noise cannot be drawn; type 0 to 50", m.noise_pct)};
  if (!(m.light_pct >= 0 && m.light_pct <= 95))
    return Error{fmt::format("The light cannot fall by {:g} %; type 0 to 95", m.light_pct)};
  if (!(std::abs(m.skew_deg) <= 180))
    return Error{fmt::format("{:g} degrees cannot be turned by; type -180 to 180", m.skew_deg)};
  if (!(m.perspective_pct >= 0 && m.perspective_pct <= 50))
    return Error{fmt::format("{:g} % of perspective cannot be drawn; type 0 to 50", m.perspective_pct)};
  return Done{};
}

std::vector<ScanLine> folded_grid(std::vector<ScanLine> lines, int parts, double sigma_mm, std::uint64_t seed) {
  DivideTask task;
  task.parts = parts;
  if (sigma_mm > 0) task.sigma_mm = sigma_mm;
  const std::vector<GridStep> steps = plan_division(task, Method::best).steps;
  std::mt19937_64 random(seed);
  std::normal_distribution<double> normal;
  for (const std::string axis : {"x", "y"}) {
    std::array<std::vector<double>, 2> off; // at the two ends, per line
    for (auto& end : off) {
      end.assign(static_cast<std::size_t>(parts) + 1, 0);
      for (const GridStep& s : steps) {
        const auto at = [&](int line) { return end[static_cast<std::size_t>(line)]; };
        double made = 0;
        switch (s.kind) {
        case StepKind::guess:
          made = task.guess_sigma_mm * normal(random);
          break;
        case StepKind::bring:
          made = (at(s.a) + at(s.b)) / 2 + sigma_mm * normal(random);
          break;
        case StepKind::through:
          made = 2 * at(s.a) - at(s.b) + sigma_mm * normal(random);
          break;
        }
        end[static_cast<std::size_t>(s.makes)] = made;
      }
    }
    for (ScanLine& l : lines) {
      if (l.axis != axis) continue;
      const Point across = axis == "x" ? Point{1, 0} : Point{0, 1};
      l.at.from += off[0][static_cast<std::size_t>(l.line)] * across;
      l.at.to += off[1][static_cast<std::size_t>(l.line)] * across;
      l.pieces = {l.at};
      l.position_mm = position_of(axis, l.at);
    }
  }
  return lines;
}

std::vector<ScanLine> with_errors(std::vector<ScanLine> lines, double sigma_mm, std::uint64_t seed) {
  std::mt19937_64 random(seed);
  std::normal_distribution<double> off(0, sigma_mm);
  for (ScanLine& l : lines) {
    const double length = l.at.length();
    const Point along = (l.at.to - l.at.from) / length;
    const Point across{-along.y(), along.x()};
    const double first = off(random);
    const double second = off(random);
    const auto put = [&](Point& p) {
      const double t = along.dot(p - l.at.from) / length;
      p += ((1 - t) * first + t * second) * across;
    };
    const Segment old = l.at;
    for (Segment& s : l.pieces) {
      for (Point* p : {&s.from, &s.to}) {
        const double t = along.dot(*p - old.from) / length;
        *p += ((1 - t) * first + t * second) * across;
      }
    }
    put(l.at.from);
    l.at.to += second * across;
    l.position_mm = position_of(l.axis, l.at);
  }
  return lines;
}

Result<GreyImage> made_scan(const Polygon& sheet, const std::vector<ScanLine>& creases, const ScanMaking& making,
                            Progress* progress) {
  if (const auto ok = check(making); !ok) return Error{ok.error()};
  Maker maker(sheet, making);
  if (const auto ok = maker.fits(); !ok) return Error{ok.error()};
  return maker.make(creases, progress);
}

} // namespace uc
