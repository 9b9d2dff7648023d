#include "reference/proportion.h"

#include "base/expression.h"
#include "base/quantity.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace uc {
namespace {

constexpr double greatest_ratio = 40;
constexpr double measured_sigma_mm = 0.3; // of a mark made with a ruler

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

namespace {

constexpr double thinnest_cut_mm = 0.3;  // no scissors take off less
constexpr double crease_worth_mm = 0.05; // of error, by which a crease more must be better
constexpr double furthest_off = 0.01;    // of the longer side: what misses by more is another ratio
constexpr int obvious_creases = 2;       // one to the mark, one for the cut
constexpr std::size_t marks_paired = 6;  // routes to each edge that are tried together

/// Where the cut of a trim must lie, and the edge it is measured along.
struct TrimLine {
  bool upright = false;
  double keep = 0;
  double share = 1;
  Line line; // of the exact cut
  [[nodiscard]] int near_edge() const { return upright ? 0 : 3; }
  [[nodiscard]] int far_edge() const { return upright ? 2 : 1; }
};

TrimLine cut_for(const Polygon& sheet, double ratio) {
  const Box box = bounding_box(sheet);
  const Point size = box.size();
  const double longer = size.maxCoeff();
  const double shorter = size.minCoeff();
  // Too long: cut from the long side. Too short: cut from the short one.
  const bool cut_long = longer / shorter > ratio;
  TrimLine cut;
  cut.keep = cut_long ? shorter * ratio : longer / ratio;
  cut.share = cut.keep / (cut_long ? longer : shorter);
  cut.upright = cut_long == (size.x() >= size.y());
  cut.line = cut.upright ? Line::with_normal(Point{1, 0}, box.low.x() + cut.keep)
                         : Line::with_normal(Point{0, 1}, box.low.y() + cut.keep);
  return cut;
}

/// Judges a construction that ends in the crease of the cut.
std::optional<Trim> trim_of(const TrimLine& cut, double ratio, const Route& route, Construction construction,
                            int crease, double sigma_mm) {
  Trim t;
  t.ratio = ratio;
  t.upright = cut.upright;
  t.keep_mm = cut.keep;
  t.share = cut.share;
  t.route = route;
  std::vector<int> results{crease};
  t.construction = construction.reduced_to(results);
  t.cut = results.front();
  const ConstructionErrors errors(t.construction, sigma_mm);
  if (!errors.determined()) return std::nullopt;
  const Segment chord = t.construction[t.cut].chord;
  t.sigma_mm = errors.distances(t.cut, t.construction[t.cut].line, {chord.from, chord.to}).rowwise().norm().maxCoeff();
  t.error_mm = std::max(std::abs(cut.line.distance(chord.from)), std::abs(cut.line.distance(chord.to)));
  t.exact = t.error_mm < exact_share * bounding_box(construction.sheet()).size().norm() * 10;
  return t;
}

/// Neither worse in all that counts than another, nor as good as one that comes earlier.
void keep_worthwhile(std::vector<Trim>& trims) {
  const auto rank = [](const Trim& t) { return t.total_mm() + crease_worth_mm * t.construction.creases(); };
  std::stable_sort(trims.begin(), trims.end(), [&](const Trim& a, const Trim& b) { return rank(a) < rank(b); });
  std::vector<Trim> kept;
  for (Trim& t : trims) {
    const bool worse = std::any_of(kept.begin(), kept.end(), [&](const Trim& k) {
      return k.total_mm() <= t.total_mm() + 1e-9 && k.construction.creases() <= t.construction.creases();
    });
    if (!worse) kept.push_back(std::move(t));
  }
  trims = std::move(kept);
  // The obvious fold, an edge brought to an edge and the cut, comes first where its geometry is exact.
  const auto obvious = std::find_if(
      trims.begin(), trims.end(), [](const Trim& t) { return t.exact && t.construction.creases() <= obvious_creases; });
  if (obvious != trims.end()) std::rotate(trims.begin(), obvious, obvious + 1);
}

} // namespace

Result<std::vector<Trim>> trims_to(const SheetIndex& index, const Polygon& sheet, double ratio,
                                   const SearchOptions& options, int most_creases) {
  if (!is_box(sheet)) return Error{"Only rectangles are trimmed to a ratio; choose a square, a rectangle or a strip."};
  const TrimLine cut = cut_for(sheet, ratio);
  const double longer = bounding_box(sheet).size().maxCoeff();
  const double off = cut.keep / cut.share - cut.keep;
  if (off < thinnest_cut_mm)
    return Error{off < 1e-6 ? std::string("The sheet has this ratio already; nothing has to be cut.")
                            : fmt::format("The sheet has this ratio already, to {} mm; nothing has to be cut.",
                                          format_number(off, 3))};
  const auto near = mark_on_edge(sheet, cut.near_edge(), cut.share);
  if (!near) return Error{near.error()};
  const auto far = mark_on_edge(sheet, cut.far_edge(), cut.share);
  if (!far) return Error{far.error()};
  SearchOptions wide = options;
  wide.top = std::max(options.top, 12);
  wide.max_creases = std::clamp(most_creases - 1, 1, options.max_creases);
  const auto to_near = find_routes(index, sheet, *near, wide);
  if (!to_near) return Error{to_near.error()};
  const auto to_far = find_routes(index, sheet, *far, wide);
  std::vector<Trim> trims;
  const auto add = [&](std::optional<Trim> t, bool two_marks) {
    if (!t || t->construction.creases() > most_creases) return;
    t->two_marks = two_marks;
    trims.push_back(std::move(*t));
  };
  for (const Route& route : *to_near) {
    Construction square = route.construction;
    if (const auto crease = square.fold(Alignment::O4, {route.result, -1}, {square.edge(cut.near_edge()), -1}))
      add(trim_of(cut, ratio, route, square, *crease, options.sigma_mm), false);
  }
  for (std::size_t i = 0; to_far && i < std::min(marks_paired, to_near->size()); ++i) {
    for (std::size_t k = 0; k < std::min(marks_paired, to_far->size()); ++k) {
      Construction both = (*to_near)[i].construction;
      const int second = made_again(both, (*to_far)[k]);
      if (second < 0) continue;
      if (const auto crease = both.fold(Alignment::O1, {(*to_near)[i].result, second}, {-1, -1}))
        add(trim_of(cut, ratio, (*to_near)[i], both, *crease, options.sigma_mm), true);
    }
  }
  const auto nearest = std::min_element(trims.begin(), trims.end(),
                                        [](const Trim& a, const Trim& b) { return a.error_mm < b.error_mm; });
  if (nearest == trims.end())
    return Error{fmt::format("No way to fold this cut with at most {} creases was found; allow more.", most_creases)};
  const double best_mm = nearest->error_mm;
  std::erase_if(trims, [&](const Trim& t) { return t.error_mm > furthest_off * longer; });
  if (trims.empty())
    return Error{fmt::format("With at most {} creases the cut comes no nearer than {} mm; allow more creases.",
                             most_creases, format_number(best_mm, 2))};
  keep_worthwhile(trims);
  if (trims.size() > static_cast<std::size_t>(options.top)) trims.resize(static_cast<std::size_t>(options.top));
  return trims;
}

std::optional<double> trim_miss_mm(const Construction& c, const ConstructionErrors& errors,
                                   const std::vector<int>& corners, double ratio) {
  if (!is_box(c.sheet())) return std::nullopt;
  const TrimLine cut = cut_for(c.sheet(), ratio);
  const double longer = bounding_box(c.sheet()).size().maxCoeff();
  std::optional<double> worst;
  for (const int corner : corners) {
    if (c[corner].is_line() || c[corner].kind == ConstructionItem::Kind::corner) continue;
    const double off = cut.line.distance(c[corner].point);
    if (std::abs(off) > furthest_off * longer) continue;
    const double sigma = (cut.line.normal.transpose() * errors.of(corner)).norm();
    worst = std::max(worst.value_or(0), std::hypot(off, sigma));
  }
  return worst;
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
  Move cut = Move::cutting(trim.piece(), 60);
  cut.sigma_mm = trim.sigma_mm;
  p.moves.push_back(std::move(cut));
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
    ways.push_back({count, width_mm, length, std::max(0.0, across - count * width_mm), measured_sigma_mm});
    if (size.maxCoeff() - size.minCoeff() < 1e-9) break;
  }
  return ways;
}

} // namespace uc
