#include "crease/cut_from.h"

#include "base/quantity.h"
#include "crease/carrier_lines.h"
#include "crease/cut_out.h"
#include "divide/starts.h"
#include "reference/construction.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>
#include <optional>

namespace uc {
namespace {

constexpr double rim_mark_seconds = 8;

ElementId corner_id(std::size_t i) { return {ElementSource::pattern, 3, static_cast<std::int32_t>(i)}; }
ElementId edge_id_of(std::size_t i) { return {ElementSource::pattern, 4, static_cast<std::int32_t>(i)}; }
ElementId mark_id(std::size_t i) { return {ElementSource::pattern, 5, static_cast<std::int32_t>(i)}; }

double tolerance_on(const Polygon& sheet) { return 1e-6 * bounding_box(sheet).size().norm(); }

/// Of convex sheets.
bool holds(const Polygon& sheet, const Polygon& piece, double tolerance) {
  for (std::size_t i = 0; i < sheet.size(); ++i) {
    const Line side = Line::through(sheet[i], sheet[(i + 1) % sheet.size()]);
    const double inside = side.distance(bounding_box(sheet).centre()) < 0 ? -1 : 1;
    for (const Point& p : piece)
      if (inside * side.distance(p) < -tolerance) return false;
  }
  return true;
}

Polygon moved(Polygon piece, const Isometry& place) {
  for (Point& p : piece) p = place * p;
  return piece;
}

/// Into the lower left corner, else about the sheet's middle; as it is or turned by a quarter.
std::optional<Isometry> place_on(const Polygon& sheet, const Polygon& piece) {
  const Box of_sheet = bounding_box(sheet);
  for (const bool quarter : {false, true}) {
    const Isometry turn =
        quarter ? Isometry::rotation_about(Point::Zero(), std::numbers::pi / 2) : Isometry::identity();
    const Box of_piece = bounding_box(moved(piece, turn));
    for (const bool middle : {false, true}) {
      Isometry place = turn;
      place.shift = middle ? Point(of_sheet.centre() - of_piece.centre()) : Point(of_sheet.low - of_piece.low);
      if (holds(sheet, moved(piece, place), tolerance_on(sheet))) return place;
    }
  }
  return std::nullopt;
}

/// What of the pattern is cut before it is creased; empty where that is the sheet itself.
Polygon piece_of(const CreasePattern& pattern, bool movable) {
  CreasePattern whole = pattern;
  std::erase_if(whole.edges, [](const PatternEdge& e) { return e.kind == EdgeKind::cut; });
  if (Polygon outline = convex_outline(whole); !outline.empty() || !movable) return outline;
  const Box box = bounding_box(pattern.vertices);
  return {box.low, {box.high.x(), box.low.y()}, box.high, {box.low.x(), box.high.y()}};
}

class Cutting {
public:
  Cutting(const Polygon& sheet, const Polygon& piece) : sheet_(sheet), piece_(piece), tolerance_(tolerance_on(sheet)) {}

  Programme told() {
    out_.sheet = sheet_;
    name_sheet();
    const auto n = piece_.size();
    Move cut = Move::cutting(piece_, mat_seconds);
    for (std::size_t i = 0; i < n; ++i) {
      const Line side = Line::through(piece_[i], piece_[(i + 1) % n]);
      if (on_the_rim(piece_[i], piece_[(i + 1) % n])) continue;
      const auto whole = chord(side, sheet_, tolerance_);
      if (!whole) continue;
      cut.aligned.through.push_back(end_at(whole->from));
      cut.aligned.through.push_back(end_at(whole->to));
      cut.seconds += cut_seconds;
    }
    if (cut.aligned.through.empty()) return std::move(out_);
    mark();
    cut.sigma_mm = cut.hand_sigma_mm = ruler_sigma_mm;
    out_.moves.push_back(std::move(cut));
    return std::move(out_);
  }

private:
  void name_sheet() {
    static constexpr const char* edges[] = {"bottom", "right", "top", "left"};
    static constexpr const char* corners[] = {"lower-left", "lower-right", "upper-right", "upper-left"};
    const bool box = edge_id(sheet_, 0) == "bottom";
    for (std::size_t i = 0; i < sheet_.size(); ++i) {
      const Point& next = sheet_[(i + 1) % sheet_.size()];
      for (const bool corner : {true, false}) {
        Element e;
        e.id = corner ? corner_id(i) : edge_id_of(i);
        e.role = corner ? Role::corner : Role::raw_edge;
        if (box)
          e.place = corner ? corners[i] : edges[i];
        else
          e.label = std::to_string(i + 1);
        e.spans = {corner ? Segment{sheet_[i], sheet_[i]} : Segment{sheet_[i], next}};
        e.sigma_mm = 0;
        out_.elements.push_back(std::move(e));
      }
    }
  }

  [[nodiscard]] bool on_edge(std::size_t i, const Point& p) const {
    return std::abs(Line::through(sheet_[i], sheet_[(i + 1) % sheet_.size()]).distance(p)) < tolerance_;
  }
  [[nodiscard]] bool on_the_rim(const Point& from, const Point& to) const {
    for (std::size_t i = 0; i < sheet_.size(); ++i)
      if (on_edge(i, from) && on_edge(i, to)) return true;
    return false;
  }

  /// A corner of the sheet, or a mark on one of its edges; lines that end there share it.
  ElementId end_at(const Point& p) {
    for (std::size_t i = 0; i < sheet_.size(); ++i)
      if ((sheet_[i] - p).norm() < tolerance_) return corner_id(i);
    for (std::size_t k = 0; k < marks_.size(); ++k)
      if ((marks_[k].first - p).norm() < tolerance_) return mark_id(k);
    std::size_t edge = 0;
    while (edge + 1 < sheet_.size() && !on_edge(edge, p)) ++edge;
    marks_.emplace_back(p, edge);
    return mark_id(marks_.size() - 1);
  }

  /// All marks of one edge in one move, in the order in which the ruler meets them.
  void mark() {
    std::size_t named = 0;
    for (std::size_t edge = 0; edge < sheet_.size(); ++edge) {
      std::vector<std::pair<double, std::size_t>> along;
      for (std::size_t k = 0; k < marks_.size(); ++k)
        if (marks_[k].second == edge) along.emplace_back((marks_[k].first - sheet_[edge]).norm(), k);
      if (along.empty()) continue;
      std::sort(along.begin(), along.end());
      Move move;
      MakeCreases marks;
      marks.way = CreaseWay::mark;
      move.effect = marks;
      move.aligned.onto = {edge_id_of(edge)};
      move.aligned.through = {corner_id(edge)};
      for (const auto& [mm, k] : along) {
        Element e;
        e.id = mark_id(k);
        e.role = Role::point;
        e.label = "P" + std::to_string(++named);
        e.spans = {{marks_[k].first, marks_[k].first}};
        e.sigma_mm = ruler_sigma_mm;
        out_.elements.push_back(std::move(e));
        move.aligned.moving.push_back(mark_id(k));
      }
      move.sigma_mm = move.hand_sigma_mm = ruler_sigma_mm;
      move.seconds = rim_mark_seconds * static_cast<double>(along.size());
      out_.moves.push_back(std::move(move));
    }
  }

  const Polygon& sheet_;
  const Polygon& piece_;
  double tolerance_;
  std::vector<std::pair<Point, std::size_t>> marks_; // each with its edge
  Programme out_;
};

std::string size_text(const Polygon& polygon) {
  const Point size = bounding_box(polygon).size();
  return fmt::format("{} x {}", format_number(size.x(), 1), format_number(size.y(), 1));
}

} // namespace

Result<CutFrom> cut_from(const Polygon& sheet, const CreasePattern& pattern, bool movable) {
  CutFrom out;
  out.place = Isometry::identity();
  const Polygon piece = piece_of(pattern, movable);
  const Polygon asked = piece.empty() ? Polygon(pattern.vertices) : piece;
  if (movable) {
    const auto place = place_on(sheet, asked);
    if (!place)
      return Error{fmt::format("The pattern needs a piece of {} mm, and the sheet is {} mm; choose a larger sheet or "
                               "smaller values.",
                               size_text(asked), size_text(sheet))};
    out.place = *place;
  } else if (!holds(sheet, asked, tolerance_on(sheet))) {
    return Error{"The pattern reaches over the edge of the sheet as it is cut now; draw it anew on this sheet, or take "
                 "the cut out."};
  }
  out.piece = piece.empty() ? sheet : moved(piece, out.place);
  if (!piece.empty()) out.moves = Cutting(sheet, out.piece).told();
  if (out.moves.moves.empty()) out.piece = sheet;
  return out;
}

} // namespace uc
