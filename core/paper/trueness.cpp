#include "paper/trueness.h"

#include "geometry/least_squares.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace uc {
namespace {

constexpr std::array<std::pair<int, int>, 6> pairs = {{{0, 1}, {1, 2}, {3, 2}, {0, 3}, {0, 2}, {1, 3}}};
constexpr std::array names = {"bottom side", "right side",           "top side",
                              "left side",   "bottom-left diagonal", "bottom-right diagonal"};

std::array<double, 6> figures(const TruenessMeasure& m) {
  return {m.bottom, m.right, m.top, m.left, m.rising, m.falling};
}

Polygon corners_of(const Eigen::VectorXd& x) { return {{0, 0}, {x[0], 0}, {x[1], x[2]}, {x[3], x[4]}}; }

} // namespace

Result<Trueness> fit_trueness(const TruenessMeasure& measure) {
  const auto want = figures(measure);
  for (std::size_t i = 0; i < 6; ++i) {
    if (!std::isfinite(want[i]) || want[i] < 1 || want[i] > 100'000) {
      return Error{fmt::format("The {} is {} mm; type a length from 1 mm to 100 m.", names[i], want[i])};
    }
  }
  const auto triangle = [&](int a, int b, int c) -> std::string {
    const std::array t = {want[static_cast<std::size_t>(a)], want[static_cast<std::size_t>(b)],
                          want[static_cast<std::size_t>(c)]};
    const std::array at = {a, b, c};
    for (std::size_t i = 0; i < 3; ++i) {
      const double others = t[(i + 1) % 3] + t[(i + 2) % 3];
      if (t[i] >= others) {
        return fmt::format("The {} of {} mm is not shorter than the {} and the {} together ({} mm); measure the three "
                           "again.",
                           names[static_cast<std::size_t>(at[i])], t[i],
                           names[static_cast<std::size_t>(at[(i + 1) % 3])],
                           names[static_cast<std::size_t>(at[(i + 2) % 3])], others);
      }
    }
    return {};
  };
  for (const auto& t : {std::array{0, 1, 4}, std::array{2, 3, 4}, std::array{1, 2, 5}, std::array{0, 3, 5}}) {
    if (std::string broken = triangle(t[0], t[1], t[2]); !broken.empty()) return Error{broken};
  }

  const double b = want[0];
  const double cos_bl = std::clamp((b * b + want[3] * want[3] - want[5] * want[5]) / (2 * b * want[3]), -1.0, 1.0);
  const double cos_br = std::clamp((b * b + want[1] * want[1] - want[4] * want[4]) / (2 * b * want[1]), -1.0, 1.0);
  Eigen::VectorXd x(5);
  x << b, b - want[1] * cos_br, want[1] * std::sqrt(1 - cos_br * cos_br), want[3] * cos_bl,
      want[3] * std::sqrt(1 - cos_bl * cos_bl);
  for (int round = 0; round < 50; ++round) {
    Eigen::MatrixXd jacobian = Eigen::MatrixXd::Zero(6, 5);
    Eigen::VectorXd miss(6);
    const Polygon p = corners_of(x);
    for (int i = 0; i < 6; ++i) {
      const auto [from, to] = pairs[static_cast<std::size_t>(i)];
      const Point d = p[static_cast<std::size_t>(to)] - p[static_cast<std::size_t>(from)];
      const double length = d.norm();
      miss[i] = want[static_cast<std::size_t>(i)] - length;
      const auto add = [&](int corner, double sign) {
        if (corner == 1) jacobian(i, 0) += sign * d.x() / length;
        if (corner == 2) jacobian(i, 1) += sign * d.x() / length, jacobian(i, 2) += sign * d.y() / length;
        if (corner == 3) jacobian(i, 3) += sign * d.x() / length, jacobian(i, 4) += sign * d.y() / length;
      };
      add(from, -1);
      add(to, 1);
    }
    const Eigen::VectorXd step = least_squares(jacobian, miss);
    x += step;
    if (step.norm() < 1e-12 * b) break;
  }

  Trueness result;
  result.corners = corners_of(x);
  double squares = 0;
  for (std::size_t i = 0; i < 6; ++i) {
    const auto [from, to] = pairs[i];
    result.misfit_mm[i] =
        want[i] -
        (result.corners[static_cast<std::size_t>(to)] - result.corners[static_cast<std::size_t>(from)]).norm();
    squares += result.misfit_mm[i] * result.misfit_mm[i];
  }
  result.residual_mm = std::sqrt(squares / 6);
  const double longest = *std::max_element(want.begin(), want.begin() + 4);
  if (result.residual_mm > 0.02 * longest) {
    // Six lengths of four corners have one degree of freedom for error: that one is wrong shows, which one does not.
    return Error{
        fmt::format("The six figures contradict each other by {:.1f} mm: one of them is wrong, and the figures "
                    "cannot say which; measure all six again.",
                    result.residual_mm)};
  }
  for (std::size_t i = 0; i < 4; ++i) {
    const Point u = result.corners[(i + 1) % 4] - result.corners[i];
    const Point v = result.corners[(i + 3) % 4] - result.corners[i];
    result.corner_deg[i] = std::acos(std::clamp(u.dot(v) / (u.norm() * v.norm()), -1.0, 1.0)) * 180 / std::numbers::pi;
    result.out_of_square_deg = std::max(result.out_of_square_deg, std::abs(result.corner_deg[i] - 90));
  }
  return result;
}

double true_scale(const Sheet& sheet, const std::optional<TruenessMeasure>& measure) {
  if (!measure || !sheet.has_right_corners() || !fit_trueness(*measure)) return 1;
  const double scale =
      (measure->bottom + measure->right + measure->top + measure->left) / (2 * (sheet.width() + sheet.height()));
  return scale < most_scale && scale > 1 / most_scale ? scale : 1;
}

std::vector<LineEffect> effect_on_lines(const Trueness& trueness, double width, double height, int parts,
                                        bool along_x) {
  const Polygon nominal = {{0, 0}, {width, 0}, {width, height}, {0, height}};
  Point mean_real = Point::Zero();
  Point mean_nominal = Point::Zero();
  for (std::size_t i = 0; i < 4; ++i) {
    mean_real += trueness.corners[i] / 4;
    mean_nominal += nominal[i] / 4;
  }
  double dot = 0;
  double cross = 0;
  for (std::size_t i = 0; i < 4; ++i) {
    const Point r = trueness.corners[i] - mean_real;
    const Point n = nominal[i] - mean_nominal;
    dot += r.dot(n);
    cross += r.x() * n.y() - r.y() * n.x();
  }
  const Isometry turn = Isometry::rotation_about(Point::Zero(), std::atan2(cross, dot));
  Polygon real;
  for (const Point& p : trueness.corners) real.push_back(turn * Point(p - mean_real) + mean_nominal);

  std::vector<LineEffect> effects;
  for (int k = 0; k <= parts; ++k) {
    const double t = static_cast<double>(k) / parts;
    if (along_x) {
      const Point low = real[0] + t * (real[1] - real[0]);
      const Point high = real[3] + t * (real[2] - real[3]);
      effects.push_back({low.x() - t * width, high.x() - t * width});
    } else {
      const Point low = real[0] + t * (real[3] - real[0]);
      const Point high = real[1] + t * (real[2] - real[1]);
      effects.push_back({low.y() - t * height, high.y() - t * height});
    }
  }
  return effects;
}

} // namespace uc
