#include "device/scan_sheet.h"

#include "paper/sheet.h"

#include <Eigen/Dense>
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace uc {
namespace {

constexpr double searched_mm = band_mm - 0.7; // to each side of where the edge should be
constexpr double step_mm = 0.05;
constexpr double smooth_mm = 0.12;
constexpr double clear_of_corners_mm = 7;
constexpr double least_contrast = 18; // of 255, across the edge
constexpr double most_blur_mm = 0.6;  // of the edge, as the standard deviation of a normal curve

struct Step {
  double at;
  double contrast;
  double width;
};

/// The strongest step of a profile, where its smoothed slope is steepest.
std::optional<Step> strongest_step(const std::vector<double>& profile) {
  const int n = static_cast<int>(profile.size());
  const int reach = static_cast<int>(std::ceil(3 * smooth_mm / step_mm));
  std::vector<double> slope(profile.size(), 0);
  for (int i = reach; i + reach < n; ++i) {
    double sum = 0;
    double norm = 0;
    for (std::ptrdiff_t k = -reach; k <= reach; ++k) {
      const double x = static_cast<double>(k) * step_mm;
      const double w = x * std::exp(-x * x / (2 * smooth_mm * smooth_mm));
      sum += w * profile[static_cast<std::size_t>(i + k)];
      norm += w * x;
    }
    slope[static_cast<std::size_t>(i)] = sum / norm;
  }
  int best = reach;
  for (int i = reach; i + reach < n; ++i) {
    if (std::abs(slope[static_cast<std::size_t>(i)]) > std::abs(slope[static_cast<std::size_t>(best)])) best = i;
  }
  if (best <= reach || best + reach + 1 >= n) return std::nullopt;
  const auto high = [&](int i) { return std::abs(slope[static_cast<std::size_t>(i)]); };
  const double left = high(best - 1);
  const double right = high(best + 1);
  const double bend = left - 2 * high(best) + right;
  const double shift = bend < 0 ? std::clamp((left - right) / (2 * bend), -1.0, 1.0) : 0;
  const auto mean = [&](int from, int to) {
    double sum = 0;
    int count = 0;
    for (int i = std::max(0, from); i <= std::min(n - 1, to); ++i) sum += profile[static_cast<std::size_t>(i)], ++count;
    return count ? sum / count : 0;
  };
  const int near = static_cast<int>(0.4 / step_mm);
  const int far = static_cast<int>(1.0 / step_mm);
  const double contrast = std::abs(mean(best + near, best + far) - mean(best - far, best - near));
  // A step blurred by a normal curve rises by contrast / (sqrt(2 pi) width) where it is steepest.
  const double width = contrast / (std::sqrt(2 * 3.14159265358979) * std::max(1e-9, high(best)));
  return Step{(best + shift) * step_mm, contrast, width};
}

double middle_value(std::vector<double> values) {
  std::sort(values.begin(), values.end());
  return values[values.size() / 2];
}

} // namespace

Result<SeenSheet> seen_sheet(const GreyImage& image, const ScanFrame& frame, const SeenPage& page) {
  SeenSheet out;
  const std::size_t sides = frame.sheet.size();
  std::vector<double> widths;
  for (std::size_t i = 0; i < sides; ++i) {
    SeenEdge edge;
    const Point to = frame.sheet[(i + 1) % sides];
    edge.from = frame.sheet[i];
    edge.along = (to - edge.from).normalized();
    edge.outward = {edge.along.y(), -edge.along.x()};
    const double length = (to - edge.from).norm();
    const double clear = std::min(clear_of_corners_mm, length / 4);
    const int stations = std::clamp(static_cast<int>((length - 2 * clear) / 2), 12, 120);
    std::vector<double> at;
    std::vector<double> off;
    for (int s = 0; s < stations; ++s) {
      const double t = clear + (length - 2 * clear) * (s + 0.5) / stations;
      std::vector<double> profile;
      for (double u = -searched_mm; u <= searched_mm; u += step_mm) {
        double sum = 0;
        for (const double d : {-0.4, -0.2, 0.0, 0.2, 0.4}) {
          const Point p = page.to_image(edge.from + (t + d) * edge.along + u * edge.outward);
          sum += image.sample(p.x(), p.y()) / 5;
        }
        profile.push_back(sum);
      }
      if (!std::all_of(profile.begin(), profile.end(), [](double v) { return std::isfinite(v); })) continue;
      const auto step = strongest_step(profile);
      if (!step || step->contrast < least_contrast) continue;
      at.push_back(t);
      off.push_back(step->at - searched_mm);
      widths.push_back(step->width);
    }
    const auto fit = 2 * static_cast<int>(at.size()) < stations ? std::nullopt : straight_fit(at, off, 0.004);
    if (!fit || fit->scatter > 0.5) {
      const char* box_edges[] = {"bottom", "right", "top", "left"};
      const std::string name =
          sides == 4 ? fmt::format("The {} edge", box_edges[i]) : fmt::format("Edge {} from the lower left", i + 1);
      return Error{
          fmt::format("{} of the sheet is not seen within {:g} mm of where it should lie; is it the sheet that "
                      "--sheet says, on its own print-out?",
                      name, searched_mm)};
    }
    edge.off = *fit;
    out.edges.push_back(edge);
  }
  // The slope was smoothed before it was measured, and values between pixels spread it by a sixth of a pixel squared.
  const double pixel = 25.4 / page.dpi;
  out.blur_mm = std::sqrt(std::max(0.0, std::pow(middle_value(widths), 2) - smooth_mm * smooth_mm - pixel * pixel / 6));
  if (out.blur_mm > most_blur_mm)
    return Error{
        "The picture is blurred: an edge of the sheet is spread over more than a millimetre; hold still or focus "
        "anew"};
  // The pose that comes nearest to all edges: shift and small turn by least squares over both ends of each.
  Eigen::Matrix3d normal = Eigen::Matrix3d::Zero();
  Eigen::Vector3d right = Eigen::Vector3d::Zero();
  const Point centre = bounding_box(frame.sheet).centre();
  for (std::size_t i = 0; i < sides; ++i) {
    const SeenEdge& e = out.edges[i];
    const double length = (frame.sheet[(i + 1) % sides] - e.from).norm();
    for (const double t : {0.0, length}) {
      const Point p = e.from + t * e.along - centre;
      const Eigen::Vector3d row(e.outward.x(), e.outward.y(), e.outward.dot(Point(-p.y(), p.x())));
      normal += row * row.transpose();
      right += e.off.at(t) * row;
    }
  }
  const Eigen::Vector3d pose = normal.ldlt().solve(right);
  Isometry lay = Isometry::rotation_about(centre, pose.z());
  lay.shift += pose.head<2>();
  Isometry from_origin;
  from_origin.shift = bounding_box(frame.sheet).low;
  out.to_page = lay * from_origin;
  return out;
}

} // namespace uc
