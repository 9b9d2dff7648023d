#include "unit/piece_layout.h"

#include "base/index.h"

#include <algorithm>
#include <cmath>
#include <cstdint>

namespace uc {
namespace {

constexpr double layout_slack = 1e-9; // of lengths in mm
constexpr double most_work = 2e8;     // of cuts compared; smaller pieces than that lie well enough in rows

int whole_in(double room, double size) { return std::max(0, static_cast<int>(std::floor(room / size + 1e-9))); }

/// Rows of pieces from the bottom up, then rows of turned ones, in a room that begins at the origin.
PieceLayout rows_of(const Point& piece, const Point& room, int rows, bool may_turn) {
  PieceLayout out;
  double low = 0;
  const auto block = [&](const Point& size, int count, bool turned) {
    const int across = whole_in(room.x(), size.x());
    if (across == 0 || count == 0) return;
    for (int r = 0; r < count; ++r) {
      for (int c = 0; c < across; ++c) {
        out.at_mm.emplace_back(c * size.x(), low + r * size.y());
        out.turned.push_back(turned);
      }
      const double top = low + (r + 1) * size.y();
      if (top < room.y() - layout_slack) out.lines.push_back({{0, top}, {room.x(), top}});
    }
    for (int c = 1; c <= across; ++c)
      if (c * size.x() < room.x() - layout_slack)
        out.lines.push_back({{c * size.x(), low}, {c * size.x(), low + count * size.y()}});
    low += count * size.y();
  };
  block(piece, rows, false);
  const Point turned{piece.y(), piece.x()};
  if (may_turn) block(turned, whole_in(room.y() - low, turned.y()), true);
  return out;
}

PieceLayout transposed(PieceLayout layout) {
  for (Point& p : layout.at_mm) std::swap(p.x(), p.y());
  for (char& t : layout.turned) t = !t;
  for (Segment& s : layout.lines) {
    std::swap(s.from.x(), s.from.y());
    std::swap(s.to.x(), s.to.y());
  }
  return layout;
}

/// Sums of widths and heights up to a length, ascending from 0.
std::vector<double> sums(double length, double width, double height) {
  std::vector<double> out;
  for (int i = 0; i <= whole_in(length, width); ++i)
    for (int k = 0; k <= whole_in(length - i * width, height); ++k) out.push_back(i * width + k * height);
  std::sort(out.begin(), out.end());
  out.erase(std::unique(out.begin(), out.end(), [](double a, double b) { return b - a < layout_slack; }), out.end());
  return out;
}

/// The best nest of cuts for every size of room that matters.
class CutNest {
public:
  CutNest(const Point& piece, const Point& room, bool may_turn)
      : piece_(piece), may_turn_(may_turn), xs_(sums(room.x(), piece.x(), may_turn ? piece.y() : piece.x())),
        ys_(sums(room.y(), piece.y(), may_turn ? piece.x() : piece.y())) {}
  [[nodiscard]] double work() const {
    const auto n = static_cast<double>(xs_.size());
    const auto m = static_cast<double>(ys_.size());
    return n * m * (n + m) / 2;
  }
  PieceLayout solved() {
    best_.assign(xs_.size() * ys_.size(), {});
    for (std::size_t j = 0; j < ys_.size(); ++j)
      for (std::size_t i = 0; i < xs_.size(); ++i) best_[j * xs_.size() + i] = best_of(i, j);
    PieceLayout out;
    lay(xs_.size() - 1, ys_.size() - 1, {0, 0}, out);
    return out;
  }

private:
  struct Nest {
    int pieces = 0;
    int cuts = 0;
    enum class Way : std::uint8_t { none, piece, turned, upright, level } way = Way::none;
    std::size_t at = 0; // of the cut
  };
  [[nodiscard]] const Nest& nest(std::size_t i, std::size_t j) const { return best_[j * xs_.size() + i]; }
  static std::size_t floor_in(const std::vector<double>& all, double length) {
    return static_cast<std::size_t>(std::upper_bound(all.begin(), all.end(), length + layout_slack) - all.begin()) - 1;
  }
  static int left_over(double room, double used) { return room - used > layout_slack ? 1 : 0; }
  [[nodiscard]] Nest best_of(std::size_t i, std::size_t j) const {
    Nest best;
    const auto consider = [&](const Nest& n) {
      if (n.pieces > best.pieces || (n.pieces == best.pieces && n.pieces > 0 && n.cuts < best.cuts)) best = n;
    };
    const auto holds = [&](double w, double h) { return w <= xs_[i] + layout_slack && h <= ys_[j] + layout_slack; };
    const auto trims = [&](double w, double h) {
      return (xs_[i] - w > layout_slack ? 1 : 0) + (ys_[j] - h > layout_slack ? 1 : 0);
    };
    if (holds(piece_.x(), piece_.y())) consider({1, trims(piece_.x(), piece_.y()), Nest::Way::piece, 0});
    if (may_turn_ && holds(piece_.y(), piece_.x())) consider({1, trims(piece_.y(), piece_.x()), Nest::Way::turned, 0});
    for (std::size_t k = 1; k < i && xs_[k] <= xs_[i] / 2 + layout_slack; ++k) {
      const Nest& a = nest(k, j);
      const std::size_t rest = floor_in(xs_, xs_[i] - xs_[k]);
      const Nest& b = nest(rest, j);
      consider(
          {a.pieces + b.pieces, a.cuts + b.cuts + 1 + left_over(xs_[i] - xs_[k], xs_[rest]), Nest::Way::upright, k});
    }
    for (std::size_t k = 1; k < j && ys_[k] <= ys_[j] / 2 + layout_slack; ++k) {
      const Nest& a = nest(i, k);
      const std::size_t rest = floor_in(ys_, ys_[j] - ys_[k]);
      const Nest& b = nest(i, rest);
      consider({a.pieces + b.pieces, a.cuts + b.cuts + 1 + left_over(ys_[j] - ys_[k], ys_[rest]), Nest::Way::level, k});
    }
    return best;
  }
  void lay(std::size_t i, std::size_t j, const Point& low, PieceLayout& out) const {
    const Nest& n = nest(i, j);
    const Point high = low + Point{xs_[i], ys_[j]};
    const auto cut = [&](const Point& from, const Point& to) { out.lines.push_back({from, to}); };
    switch (n.way) {
    case Nest::Way::none:
      return;
    case Nest::Way::piece:
    case Nest::Way::turned: {
      const bool turned = n.way == Nest::Way::turned;
      const Point far = low + (turned ? Point{piece_.y(), piece_.x()} : piece_);
      if (high.x() - far.x() > layout_slack) cut({far.x(), low.y()}, {far.x(), high.y()});
      if (high.y() - far.y() > layout_slack) cut({low.x(), far.y()}, {far.x(), far.y()});
      out.at_mm.push_back(low);
      out.turned.push_back(turned);
      return;
    }
    case Nest::Way::upright: {
      const double x = low.x() + xs_[n.at];
      const std::size_t rest = floor_in(xs_, xs_[i] - xs_[n.at]);
      cut({x, low.y()}, {x, high.y()});
      if (left_over(high.x() - x, xs_[rest])) cut({x + xs_[rest], low.y()}, {x + xs_[rest], high.y()});
      lay(n.at, j, low, out);
      lay(rest, j, {x, low.y()}, out);
      return;
    }
    case Nest::Way::level: {
      const double y = low.y() + ys_[n.at];
      const std::size_t rest = floor_in(ys_, ys_[j] - ys_[n.at]);
      cut({low.x(), y}, {high.x(), y});
      if (left_over(high.y() - y, ys_[rest])) cut({low.x(), y + ys_[rest]}, {high.x(), y + ys_[rest]});
      lay(i, n.at, low, out);
      lay(i, rest, {low.x(), y}, out);
      return;
    }
    }
  }

  Point piece_;
  bool may_turn_;
  std::vector<double> xs_, ys_;
  std::vector<Nest> best_;
};

/// A nest's cuts with what is left over at the rim of the room cut off first.
PieceLayout trimmed(PieceLayout layout, const Point& piece, const Point& room) {
  Point far = Point::Zero();
  for (std::size_t i = 0; i < layout.at_mm.size(); ++i)
    far = far.cwiseMax(layout.at_mm[i] + (layout.turned[i] ? Point{piece.y(), piece.x()} : piece));
  std::vector<Segment> rim;
  if (room.x() - far.x() > layout_slack) rim.push_back({{far.x(), 0}, {far.x(), room.y()}});
  if (room.y() - far.y() > layout_slack) rim.push_back({{0, far.y()}, {far.x(), far.y()}});
  layout.lines.insert(layout.lines.begin(), rim.begin(), rim.end());
  return layout;
}

} // namespace

PieceLayout best_layout(const Point& piece, const Point& sheet, double margin, bool may_turn) {
  const Point room = sheet - Point{2 * margin, 2 * margin};
  PieceLayout best;
  const auto consider = [&](PieceLayout layout) {
    const bool more = layout.at_mm.size() > best.at_mm.size();
    if (more || (layout.at_mm.size() == best.at_mm.size() && layout.lines.size() < best.lines.size()))
      best = std::move(layout);
  };
  for (int rows = whole_in(room.y(), piece.y()); rows >= 0; --rows) consider(rows_of(piece, room, rows, may_turn));
  if (may_turn) {
    const Point other{room.y(), room.x()};
    for (int rows = whole_in(other.y(), piece.y()); rows >= 0; --rows)
      consider(transposed(rows_of(piece, other, rows, true)));
  }
  if (static_cast<int>(best.at_mm.size()) < most_on_sheet(piece, sheet, margin, may_turn)) {
    CutNest nest(piece, room, may_turn);
    if (nest.work() <= most_work) {
      PieceLayout nested = nest.solved();
      if (nested.at_mm.size() > best.at_mm.size()) best = trimmed(std::move(nested), piece, room);
    }
  }
  for (Point& p : best.at_mm) p += Point{margin, margin};
  for (Segment& s : best.lines) s = {s.from + Point{margin, margin}, s.to + Point{margin, margin}};
  if (margin > 0 && !best.at_mm.empty()) {
    const Point low{margin, margin};
    const Point high = sheet - low;
    best.lines.insert(best.lines.begin(), {{{low.x(), 0}, {low.x(), sheet.y()}},
                                           {{high.x(), 0}, {high.x(), sheet.y()}},
                                           {{low.x(), low.y()}, {high.x(), low.y()}},
                                           {{low.x(), high.y()}, {high.x(), high.y()}}});
  }
  return best;
}

int most_on_sheet(const Point& piece, const Point& sheet, double margin, bool may_turn) {
  const Point room = sheet - Point{2 * margin, 2 * margin};
  if (room.minCoeff() <= 0) return 0;
  const double x = sums(room.x(), piece.x(), may_turn ? piece.y() : piece.x()).back();
  const double y = sums(room.y(), piece.y(), may_turn ? piece.x() : piece.y()).back();
  return static_cast<int>(std::floor(x * y / (piece.x() * piece.y()) + 1e-9));
}

} // namespace uc
