#include "programme/holding.h"

#include <cmath>
#include <numbers>

namespace uc {

double Holding::degrees_to(const Point& way) const {
  if (!way_) return 0;
  const auto angle = [](const Point& p) { return std::atan2(p.y(), p.x()) * 180 / std::numbers::pi; };
  const double turn = std::remainder(angle(*way_) - angle(way), 360);
  return hand_.either_side ? std::remainder(turn, 180) : turn;
}

bool Holding::needs_turn(const Point& way) const { return std::abs(degrees_to(way)) > 1e-9; }

bool Holding::lies_along(const Point& way) const {
  return way_ && std::abs(way_->x() * way.y() - way_->y() * way.x()) < 1e-9;
}

std::optional<Move> Holding::take(const Point& way, bool underside) {
  const double turn = degrees_to(way);
  if (!way_) way_ = way;
  if (std::abs(turn) < 1e-9) return std::nullopt;
  const double radians = -turn * std::numbers::pi / 180;
  way_ = Isometry::rotation_about(Point::Zero(), radians) * *way_;
  return Move::rotating(underside ? -turn : turn, hand_.rotate_seconds);
}

} // namespace uc
