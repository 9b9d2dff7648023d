#include "reference/shape.h"

#include "geometry/least_squares.h"

#include <cmath>
#include <numbers>

namespace uc {
namespace {

/// What is left of coordinates (x, y, x, y ..., one column or many) when the nearest copy of `kind` is taken away.
Eigen::MatrixXd beside_copies(const Polygon& kind, const Eigen::MatrixXd& coordinates) {
  const auto n = static_cast<Eigen::Index>(kind.size());
  Eigen::MatrixXd copies(2 * n, 4);
  for (Eigen::Index k = 0; k < n; ++k) {
    const Point& p = kind[static_cast<std::size_t>(k)];
    copies.row(2 * k) << 1, 0, p.x(), -p.y();
    copies.row(2 * k + 1) << 0, 1, p.y(), p.x();
  }
  const Eigen::MatrixXd base = orthonormal_base(copies);
  return coordinates - base * (base.transpose() * coordinates);
}

Eigen::VectorXd coordinates_of(const Polygon& points) {
  Eigen::VectorXd all(2 * static_cast<Eigen::Index>(points.size()));
  for (std::size_t k = 0; k < points.size(); ++k) all.segment<2>(2 * static_cast<Eigen::Index>(k)) = points[k];
  return all;
}

} // namespace

Polygon regular_polygon(int sides) {
  Polygon out;
  for (int k = 0; k < sides; ++k) {
    const double angle = 2 * std::numbers::pi * k / sides;
    out.push_back({std::cos(angle), std::sin(angle)});
  }
  return out;
}

double shape_error_mm(const Construction& construction, const std::vector<int>& vertices,
                      const ConstructionErrors& errors, const Polygon& kind) {
  Polygon places;
  for (const int v : vertices) places.push_back(construction[v].point);
  const auto n = static_cast<Eigen::Index>(vertices.size());
  Eigen::MatrixXd hand(2 * n, errors.of(vertices.front()).cols());
  for (Eigen::Index k = 0; k < n; ++k) hand.middleRows(2 * k, 2) = errors.of(vertices[static_cast<std::size_t>(k)]);
  const double geometry = beside_copies(kind, coordinates_of(places)).squaredNorm();
  return std::sqrt((geometry + beside_copies(kind, hand).squaredNorm()) / static_cast<double>(n));
}

double shape_distance_mm(const Polygon& vertices, const Polygon& kind) {
  return std::sqrt(beside_copies(kind, coordinates_of(vertices)).squaredNorm() / static_cast<double>(vertices.size()));
}

} // namespace uc
