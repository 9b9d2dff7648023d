#include "io/still.h"

#include "base/index.h"
#include "io/cairo_page.h"

#include <Eigen/Geometry>
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <limits>
#include <numbers>

namespace uc {
namespace {

constexpr int finer = 2;               // so many pixels are worked out along each side of one that is shown
constexpr int shadow_pixels = 1024;    // of each side of the lamp's map of depths
constexpr double line_lift = 0.0015;   // of the reach: lines stand out from the paper they are on
constexpr double shadow_slack = 0.004; // of the reach of the map: paper does not shade itself
constexpr double margin = 1.25;
constexpr int most_pixels = 4096;
constexpr double farthest_mm = 1e9;
using Rgb = Eigen::Vector3d; // red, green, blue from 0 to 1

Rgb rgb_of(const std::string& hex) {
  if (hex.size() != 7) return Rgb::Zero();
  const auto channel = [&](std::size_t from) { return std::stoi(hex.substr(from, 2), nullptr, 16) / 255.0; };
  return {channel(1), channel(3), channel(5)};
}

/// Depths, the greatest the nearest, of `side` times `side` pixels.
struct Depths {
  int side;
  std::vector<float> nearest = std::vector<float>(at(side) * at(side), -std::numeric_limits<float>::infinity());

  float& operator()(int x, int y) { return nearest[at(y) * at(side) + at(x)]; }
  [[nodiscard]] float operator()(int x, int y) const { return nearest[at(y) * at(side) + at(x)]; }
};

/// Each pixel whose middle lies in a triangle, with the weights of its corners; corners in pixels and depth.
template <class Use> void each_pixel(const std::array<Point3, 3>& corners, int side, Use use) {
  const auto& [a, b, c] = corners;
  const auto cross = [](const Point3& from, const Point3& to, double x, double y) {
    return (to.x() - from.x()) * (y - from.y()) - (to.y() - from.y()) * (x - from.x());
  };
  const double area = cross(a, b, c.x(), c.y());
  if (std::abs(area) < 1e-9) return;
  const auto [left, right] = std::minmax({a.x(), b.x(), c.x()});
  const auto [top, bottom] = std::minmax({a.y(), b.y(), c.y()});
  const auto first = [&](double low) {
    return std::max(0, static_cast<int>(std::floor(std::clamp(low, -1.0, static_cast<double>(side)))));
  };
  const auto last = [&](double high) { return static_cast<int>(std::clamp(std::ceil(high), -1.0, side - 1.0)); };
  for (int y = first(top); y <= last(bottom); ++y)
    for (int x = first(left); x <= last(right); ++x) {
      const double wa = cross(b, c, x + 0.5, y + 0.5) / area;
      const double wb = cross(c, a, x + 0.5, y + 0.5) / area;
      const double wc = 1 - wa - wb;
      if (std::min({wa, wb, wc}) >= 0) use(x, y, Eigen::Vector3d(wa, wb, wc));
    }
}

/// What the lamp sees first, from far away or as a spot.
class Shadows {
public:
  Shadows(const SpatialModel& model, const Lamp& lamp, const Lit& lit) : lamp_(lamp), lit_(lit) {
    const Point3 up = std::abs(lamp.direction().z()) > 0.99 ? Point3(0, 1, 0) : Point3(0, 0, 1);
    across_ = up.cross(lamp.direction()).normalized();
    along_ = lamp.direction().cross(across_);
    for (const auto& t : model.triangles) {
      std::array<Point3, 3> corners;
      for (std::size_t i = 0; i < 3; ++i) corners[i] = seen(model.vertices[at(t[i])]);
      each_pixel(corners, shadow_pixels, [&](int x, int y, const Eigen::Vector3d& w) {
        const double depth = w[0] * corners[0].z() + w[1] * corners[1].z() + w[2] * corners[2].z();
        depths_(x, y) = std::max(depths_(x, y), static_cast<float>(depth));
      });
    }
  }

  /// The share of the nine nearest rays that reach a place; `steep` is the cosine at which they come.
  [[nodiscard]] double free(const Point3& place, double steep) const {
    const Point3 here = seen(place);
    // What is seen slantwise changes its depth from one pixel of the map to the next.
    const double slack = shadow_slack * (1 + std::sqrt(1 - steep * steep) / std::max(steep, 0.05));
    int reached = 0;
    for (int i = -1; i <= 1; ++i)
      for (int j = -1; j <= 1; ++j) {
        const int x =
            std::clamp(static_cast<int>(std::clamp(here.x(), -1.0, shadow_pixels + 1.0)) + i, 0, shadow_pixels - 1);
        const int y =
            std::clamp(static_cast<int>(std::clamp(here.y(), -1.0, shadow_pixels + 1.0)) + j, 0, shadow_pixels - 1);
        reached += here.z() + slack >= depths_(x, y);
      }
    return reached / 9.0;
  }

private:
  [[nodiscard]] Point3 seen(const Point3& place) const {
    const Point3 from = place - lit_.middle;
    const double round = Lit::scene_reaches * lit_.reach_mm;
    const double spot = Lit::spot_reaches * lit_.reach_mm;
    const double depth = from.dot(lamp_.direction());
    // A spot's rays part from it; its map is as wide as those that reach the middle's plane.
    const double wider = lamp_.spread_deg > 0 ? spot / std::max(1e-3 * spot, spot - depth) : 1;
    const double half = shadow_pixels / 2.0;
    return {half * (1 + wider * from.dot(across_) / (2 * round)), half * (1 + wider * from.dot(along_) / (2 * round)),
            depth / round};
  }

  Lamp lamp_;
  Lit lit_;
  Point3 across_, along_;
  Depths depths_{shadow_pixels};
};

class Picture {
public:
  Picture(const SpatialModel& model, const StillWish& wish)
      : model_(model), wish_(wish), depths_{finer * wish.pixels}, dots_(depths_.nearest.size()) {
    const double degree = std::numbers::pi / 180;
    lamp_ = wish.lamp;
    spun_ = Eigen::AngleAxisd(wish.tilt_deg * degree, Point3::UnitX()) *
            Eigen::AngleAxisd(wish.turn_deg * degree, Point3::UnitZ());
    if (wish.from_behind) spun_ = Eigen::AngleAxisd(std::numbers::pi, Point3::UnitY()) * spun_;
    if (wish.lamp_at_eye) lamp_ = at_eye(lamp_, spun_.transpose() * Point3::UnitZ());
    for (const Point3& v : model.vertices) lit_.middle += v / static_cast<double>(model.vertices.size());
    double size = wish.size_mm;
    if (size <= 0)
      for (const Point3& v : model.vertices) size = std::max(size, 2 * (v - lit_.middle).norm());
    scale_ = depths_.side / (margin * std::max(size, 1e-9));
    lit_.reach_mm = 1.5 * size;
    for (const Point3& v : model.vertices) seen_.push_back(seen(v));
  }

  void draw() {
    std::optional<Shadows> shadows;
    if (lamp_.shadows) shadows.emplace(model_, lamp_, lit_);
    for (std::size_t t = 0; t < model_.triangles.size(); ++t) paper(t, shadows ? &*shadows : nullptr);
    for (const StillLine& l : wish_.lines) line(l);
  }

  /// Premultiplied, blue first, as Cairo keeps it; each pixel is the mean of those worked out for it.
  void put(unsigned char* data, int stride) const {
    for (int y = 0; y < wish_.pixels; ++y)
      for (int x = 0; x < wish_.pixels; ++x) {
        std::array<int, 4> sum{};
        for (int i = 0; i < finer * finer; ++i) {
          const Dot& dot = dots_[at(finer * y + i / finer) * at(depths_.side) + at(finer * x + i % finer)];
          for (std::size_t channel = 0; channel < 4; ++channel) sum[channel] += dot[channel];
        }
        unsigned char* out = data + static_cast<std::ptrdiff_t>(y) * stride + 4 * static_cast<std::ptrdiff_t>(x);
        for (const std::size_t channel : {2, 1, 0, 3})
          *out++ = static_cast<unsigned char>((sum[channel] + finer * finer / 2) / (finer * finer));
      }
  }

private:
  static unsigned char byte(double part) { return static_cast<unsigned char>(std::lround(255 * std::min(part, 1.0))); }

  [[nodiscard]] Point3 seen(const Point3& place) const {
    const Point3 turned = spun_ * (place - lit_.middle);
    return {depths_.side / 2.0 + scale_ * turned.x(), depths_.side / 2.0 - scale_ * turned.y(), turned.z()};
  }

  void paper(std::size_t triangle, const Shadows* shadows) {
    const auto& t = model_.triangles[triangle];
    const std::array<Point3, 3> places{model_.vertices[at(t[0])], model_.vertices[at(t[1])], model_.vertices[at(t[2])]};
    Point3 normal = (places[1] - places[0]).cross(places[2] - places[0]).normalized();
    const bool face = (spun_ * normal).z() > 0;
    if (!face) normal = -normal;
    const int own = model_.colour_of.empty() ? 0 : model_.colour_of[triangle];
    const std::string front = model_.colours.empty() ? "#D8D2C4" : model_.colours[at(own)];
    const Rgb colour = rgb_of(face || model_.underside.empty() ? front : model_.underside);
    each_pixel(
        {seen_[at(t[0])], seen_[at(t[1])], seen_[at(t[2])]}, depths_.side, [&](int x, int y, const Eigen::Vector3d& w) {
          const double depth = w[0] * seen_[at(t[0])].z() + w[1] * seen_[at(t[1])].z() + w[2] * seen_[at(t[2])].z();
          if (depth <= depths_(x, y)) return;
          const Point3 place = w[0] * places[0] + w[1] * places[1] + w[2] * places[2];
          set(x, y, depth, lit(colour, normal, place, shadows));
        });
  }

  /// Papers are matt: Lambert's law, with what comes from everywhere added.
  [[nodiscard]] Rgb lit(const Rgb& colour, const Point3& normal, const Point3& place, const Shadows* shadows) const {
    const auto [way, share] = light_at(lamp_, lit_, place);
    double light = std::min(std::max(normal.dot(way), 0.0) * share, 1.5);
    if (shadows && light > 0) light *= shadows->free(place, std::min(normal.dot(way), 1.0));
    return (colour * (lamp_.ambient + (1 - lamp_.ambient) * light)).cwiseMin(1.0);
  }

  void line(const StillLine& l) {
    const Point3 from = seen_[at(l.from)];
    const Point3 to = seen_[at(l.to)];
    const Rgb colour = rgb_of(l.colour);
    const int steps = static_cast<int>(std::clamp((to - from).head<2>().norm(), 1.0, 4.0 * depths_.side));
    for (int i = 0; i <= steps; ++i) {
      const Point3 p = from + static_cast<double>(i) / steps * (to - from);
      for (int k = 0; k < finer * finer; ++k) {
        const int x = static_cast<int>(std::floor(std::clamp(p.x(), -9.0, depths_.side + 9.0))) + k % finer;
        const int y = static_cast<int>(std::floor(std::clamp(p.y(), -9.0, depths_.side + 9.0))) + k / finer;
        if (std::min(x, y) < 0 || std::max(x, y) >= depths_.side) continue;
        const double depth = p.z() + line_lift * lit_.reach_mm;
        if (depth > depths_(x, y)) set(x, y, depths_(x, y), colour);
      }
    }
  }

  void set(int x, int y, double depth, const Rgb& colour) {
    depths_(x, y) = static_cast<float>(depth);
    dots_[at(y) * at(depths_.side) + at(x)] = {byte(colour[0]), byte(colour[1]), byte(colour[2]), 255};
  }

  using Dot = std::array<unsigned char, 4>; // red, green, blue, and whether there is anything

  const SpatialModel& model_;
  const StillWish& wish_;
  Lamp lamp_;
  Depths depths_;
  std::vector<Dot> dots_;
  Eigen::Matrix3d spun_;
  Lit lit_;
  double scale_ = 1;
  std::vector<Point3> seen_;
};

Status can_be_drawn(const SpatialModel& model, const StillWish& wish) {
  if (wish.pixels < 16 || wish.pixels > most_pixels)
    return Error{fmt::format("a picture of {} pixels cannot be made; type 16 to {}", wish.pixels, most_pixels)};
  for (const Point3& v : model.vertices)
    if (!(v.cwiseAbs().maxCoeff() < farthest_mm)) return Error{"a place of the model is not a number, or too far away"};
  if (model.triangles.empty()) return Error{"there is nothing to draw"};
  return Done{};
}

/// A surface of Cairo that ends with it.
struct Surface {
  cairo_surface_t* it;
  Surface(int width, int height) : it(cairo_image_surface_create(CAIRO_FORMAT_ARGB32, width, height)) {}
  ~Surface() { cairo_surface_destroy(it); }
  Surface(const Surface&) = delete;
  Surface& operator=(const Surface&) = delete;

  void draw(const SpatialModel& model, const StillWish& wish) const {
    Picture picture(model, wish);
    picture.draw();
    cairo_surface_flush(it);
    picture.put(cairo_image_surface_get_data(it), cairo_image_surface_get_stride(it));
    cairo_surface_mark_dirty(it);
  }
  [[nodiscard]] Result<std::string> png() const {
    std::string bytes;
    const cairo_status_t status = cairo_surface_write_to_png_stream(it, append_bytes, &bytes);
    if (status != CAIRO_STATUS_SUCCESS)
      return Error{fmt::format("the picture could not be made ({})", cairo_status_to_string(status))};
    return bytes;
  }
};

} // namespace

Result<std::string> still_png(const SpatialModel& model, const StillWish& wish) {
  if (const auto ok = can_be_drawn(model, wish); !ok) return Error{ok.error()};
  const Surface surface(wish.pixels, wish.pixels);
  surface.draw(model, wish);
  return surface.png();
}

Result<std::string> lamp_sweep_png(const SpatialModel& model, StillWish wish, const PageFonts& fonts) {
  if (const auto ok = can_be_drawn(model, wish); !ok) return Error{ok.error()};
  const Surface sheet(sweep_across * wish.pixels, sweep_rows * wish.pixels);
  const Surface one(wish.pixels, wish.pixels);
  const PageFaces faces(fonts.folder);
  cairo_t* cr = cairo_create(sheet.it);
  cairo_set_source_rgb(cr, 1, 1, 1);
  cairo_paint(cr);
  wish.lamp.shadows = true;
  const double line = wish.pixels / 25.0;
  Page words;
  for (int i = 0; i < sweep_across * sweep_rows; ++i) {
    wish.lamp.azimuth_deg = i * 360.0 / (sweep_across * sweep_rows);
    one.draw(model, wish);
    const int x = i % sweep_across * wish.pixels;
    const int y = i / sweep_across * wish.pixels;
    cairo_set_source_surface(cr, one.it, x, y);
    cairo_paint(cr);
    words.text({x + wish.pixels / 2.0, y + 1.5 * line},
               fmt::format("lamp from {:.0f}°, {:.0f}° high", wish.lamp.azimuth_deg, wish.lamp.height_deg), line, false,
               Align::centre);
  }
  draw_page(cr, words, faces);
  cairo_destroy(cr);
  return sheet.png();
}

} // namespace uc
