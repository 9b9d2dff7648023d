#include "reference/proportion.h"

#include "base/expression.h"

#include <fmt/format.h>

#include <cmath>
#include <numbers>

namespace uc {
namespace {

constexpr double greatest_ratio = 40;

} // namespace

Result<double> parse_ratio(std::string_view text) {
  if (text == "sqrt2") return std::numbers::sqrt2;
  if (text == "golden") return std::numbers::phi;
  const auto number = parse_number(text);
  if (!number) return Error{number.error()};
  const double ratio = *number < 1 && *number > 0 ? 1 / *number : *number;
  if (!(ratio >= 1 && ratio <= greatest_ratio))
    return Error{fmt::format("A ratio of 1 to {} cannot be used; type 1 to {}, such as 4/3, sqrt2 or golden.",
                             format_number(*number, 4), greatest_ratio)};
  return ratio;
}

Polygon Trim::piece() const {
  const Box box = bounding_box(construction.sheet());
  const Point high = upright ? Point{box.low.x() + keep_mm, box.high.y()} : Point{box.high.x(), box.low.y() + keep_mm};
  return {box.low, {high.x(), box.low.y()}, high, {box.low.x(), high.y()}};
}

Result<std::vector<Trim>> trims_to(const SheetIndex& index, const Polygon& sheet, double ratio,
                                   const SearchOptions& options) {
  if (!is_box(sheet)) return Error{"Only rectangles are trimmed to a ratio; choose a square, a rectangle or a strip."};
  const Point size = bounding_box(sheet).size();
  const double longer = size.maxCoeff();
  const double shorter = size.minCoeff();
  if (std::abs(longer / shorter - ratio) < 1e-9 * ratio)
    return Error{"The sheet has this ratio already; nothing has to be cut."};
  // Too long: cut from the long side. Too short: cut from the short one.
  const bool cut_long = longer / shorter > ratio;
  const double keep = cut_long ? shorter * ratio : longer / ratio;
  const bool wide = size.x() >= size.y();
  const bool upright = cut_long == wide;
  const auto target = mark_on_edge(sheet, upright ? 0 : 3, keep / (cut_long ? longer : shorter));
  if (!target) return Error{target.error()};
  const auto routes = find_routes(index, sheet, *target, options);
  if (!routes) return Error{routes.error()};
  std::vector<Trim> trims;
  for (const Route& route : *routes) {
    Trim t;
    t.ratio = ratio;
    t.upright = upright;
    t.keep_mm = keep;
    t.share = keep / (cut_long ? longer : shorter);
    t.route = route;
    t.construction = route.construction;
    const auto cut = t.construction.fold(Alignment::O4, {route.result, -1}, {t.construction.edge(upright ? 0 : 3), -1});
    if (!cut) continue;
    t.cut = *cut;
    const ConstructionErrors errors(t.construction, options.sigma_mm);
    const Segment chord = t.construction[t.cut].chord;
    t.sigma_mm =
        errors.distances(t.cut, t.construction[t.cut].line, {chord.from, chord.to}).rowwise().norm().maxCoeff();
    trims.push_back(std::move(t));
  }
  if (trims.empty()) return Error{"No way to fold this cut was found; allow more creases."};
  return trims;
}

Construction with_corners(const Trim& trim, std::vector<int>& corners) {
  Construction c = trim.construction;
  const int near = c.cross(trim.cut, c.edge(trim.upright ? 0 : 1)).value();
  const int far = c.cross(trim.cut, c.edge(trim.upright ? 2 : 3)).value();
  corners = trim.upright ? std::vector<int>{c.corner(0), near, far, c.corner(3)}
                         : std::vector<int>{c.corner(0), c.corner(1), near, far};
  return c;
}

Programme programme_of(const Trim& trim, const HandProfile& hand, ElementId plan) {
  const ConstructionErrors errors(trim.construction, hand.sigma_mm);
  Programme p =
      programme_of(trim.construction, needs_of(trim.construction, {trim.cut}, errors), {trim.cut}, hand, plan);
  Move cut;
  cut.kind = MoveKind::cut;
  cut.caution = Caution::blade;
  cut.seconds = 60;
  const Polygon piece = trim.piece();
  for (std::size_t i = 0; i < piece.size(); ++i) cut.spans.push_back({piece[i], piece[(i + 1) % piece.size()]});
  cut.sigma_mm = trim.sigma_mm;
  p.moves.push_back(cut);
  return p;
}

Result<std::vector<Strips>> strips_of(const Polygon& sheet, double width_mm) {
  if (!is_box(sheet)) return Error{"Strips are cut from rectangles only; choose a square, a rectangle or a strip."};
  const Point size = bounding_box(sheet).size();
  if (!(width_mm >= 1)) return Error{"A strip must be at least 1 mm wide; type more."};
  if (width_mm > size.maxCoeff() + 1e-9)
    return Error{fmt::format("A strip of {} mm is wider than the sheet; type at most {}.", format_number(width_mm, 3),
                             format_number(size.maxCoeff(), 3))};
  std::vector<Strips> ways;
  for (const bool along_longer : {true, false}) {
    const double across = along_longer ? size.minCoeff() : size.maxCoeff();
    const double length = along_longer ? size.maxCoeff() : size.minCoeff();
    const int count = static_cast<int>(std::floor(across / width_mm + 1e-9));
    if (count == 0) continue;
    ways.push_back({count, width_mm, length, std::max(0.0, across - count * width_mm)});
    if (size.maxCoeff() - size.minCoeff() < 1e-9) break;
  }
  return ways;
}

} // namespace uc
