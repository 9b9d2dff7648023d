#include "unit/tried_joint.h"

#include "base/index.h"
#include "unit/unit_steps.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>
#include <set>

namespace uc {
namespace {

constexpr double alike_mm = 0.01; // facet and tab, side by side, of a unit of any size

/// Where a named corner or point of the sheet lies on the folded unit.
std::optional<Point> place_of(const FoldSequence& unit, const PieceForm& form, const std::string& name) {
  static constexpr std::array<const char*, 4> corners{"bl", "br", "tr", "tl"};
  std::optional<Point> on_sheet;
  for (std::size_t i = 0; i < corners.size(); ++i)
    if (name == corners[i]) on_sheet = unit.file.sheet.outline()[i];
  if (const auto it = unit.points.find(name); it != unit.points.end()) on_sheet = it->second;
  if (!on_sheet) return std::nullopt;
  const auto faces = faces_at(form, *on_sheet);
  if (faces.empty()) return std::nullopt;
  return form.form.place[at(faces.front())] * *on_sheet;
}

/// What of a polygon lies in a convex one.
Polygon part_in(Polygon polygon, const Polygon& convex) {
  const Point middle = bounding_box(convex).centre();
  for (std::size_t i = 0; i < convex.size() && polygon.size() > 2; ++i) {
    Line side = Line::through(convex[i], convex[(i + 1) % convex.size()]);
    if (side.distance(middle) > 0) side = Line::with_normal(-side.normal, -side.c);
    polygon = clip_to_side(polygon, side);
  }
  return polygon;
}

/// A flat tab laid into the folded unit: in each cell it has so many layers above it. Neighbouring cells agree where no
/// fold of the unit lies in its way.
class Laying {
public:
  Laying(const PieceForm& form, Polygon tab) : form_(form), tab_(std::move(tab)), area_(std::abs(signed_area(tab_))) {
    for (std::size_t c = 0; c < form.overlap.cells.size(); ++c) {
      const FoldedCell& cell = form.overlap.cells[c];
      layers_.push_back(form.layers_of(cell));
      Polygon outline;
      for (const VertexId v : cell.cycle) outline.push_back(form.overlap.vertices[at(v)]);
      Polygon inside = part_in(std::move(outline), tab_);
      const double area = inside.size() > 2 ? std::abs(signed_area(inside)) : 0;
      if (cell.sliver || area < 1e-6 * area_) inside.clear();
      parts_.push_back(std::move(inside));
      areas_.push_back(parts_.back().empty() ? 0 : area);
    }
    const double reach = 1e-6 * std::sqrt(area_);
    entrance_ = Line::through(tab_[0], tab_[1]);
    for (std::size_t p = 0; p < form.overlap.pieces.size(); ++p) {
      const FoldedPiece& piece = form.overlap.pieces[p];
      const Segment s = segment(piece);
      const bool left = has_tab(piece.left_cell);
      const bool right = has_tab(piece.right_cell);
      if (left && right && crosses(s, reach)) inner_.push_back(p);
      if (left != right && on_entrance(s, reach)) doors_.push_back(p);
    }
    order_cells();
  }

  TriedJoint best() {
    level_.assign(layers_.size(), -1);
    tried_ = TriedJoint{area_, 0, 0, {}};
    try_from(0, 0);
    return tried_;
  }

private:
  [[nodiscard]] bool has_tab(int cell) const { return cell >= 0 && !parts_[at(cell)].empty(); }
  [[nodiscard]] Segment segment(const FoldedPiece& p) const {
    return {form_.overlap.vertices[at(p.from)], form_.overlap.vertices[at(p.to)]};
  }
  [[nodiscard]] bool on_entrance(const Segment& s, double reach) const {
    if (std::abs(entrance_.distance(s.from)) > reach || std::abs(entrance_.distance(s.to)) > reach) return false;
    const double along = (s.middle() - tab_[0]).dot(tab_[1] - tab_[0]) / (tab_[1] - tab_[0]).squaredNorm();
    return along > 0 && along < 1;
  }
  /// Whether part of it lies inside the tab, not only along its rim.
  [[nodiscard]] bool crosses(const Segment& s, double reach) const {
    double from = 0;
    double to = 1;
    const Point middle = bounding_box(tab_).centre();
    for (std::size_t i = 0; i < tab_.size(); ++i) {
      const Line side = Line::through(tab_[i], tab_[(i + 1) % tab_.size()]);
      const double sense = side.distance(middle) > 0 ? 1 : -1;
      const double a = sense * side.distance(s.from) - reach;
      const double b = sense * side.distance(s.to) - reach;
      if (a < 0 && b < 0) return false;
      if (a < 0) from = std::max(from, a / (a - b));
      if (b < 0) to = std::min(to, a / (a - b));
    }
    return to > from;
  }

  /// Each next to one before it, from the entrance on.
  void order_cells() {
    std::set<int> seen;
    for (const std::size_t d : doors_) {
      const FoldedPiece& p = form_.overlap.pieces[d];
      seen.insert(has_tab(p.left_cell) ? p.left_cell : p.right_cell);
    }
    order_.assign(seen.begin(), seen.end());
    for (std::size_t i = 0; i < order_.size(); ++i)
      for (const std::size_t k : inner_) {
        const FoldedPiece& p = form_.overlap.pieces[k];
        if (p.left_cell != order_[i] && p.right_cell != order_[i]) continue;
        const int other = p.left_cell == order_[i] ? p.right_cell : p.left_cell;
        if (seen.insert(other).second) order_.push_back(other);
      }
  }

  [[nodiscard]] int count(int cell) const { return cell < 0 ? 0 : static_cast<int>(layers_[at(cell)].size()); }
  [[nodiscard]] bool above(int cell, int level, FaceId face) const {
    const auto& stack = layers_[at(cell)];
    return std::find(stack.begin(), stack.begin() + level, face) != stack.begin() + level;
  }
  /// Whether a sheet below so many layers of the one cell goes on below so many of the other.
  [[nodiscard]] bool passes(const FoldedPiece& p, int left, int right) const {
    for (const auto& [f, g] : p.left)
      if (above(p.left_cell, left, f) != above(p.left_cell, left, g)) return false;
    for (const auto& [f, g] : p.right)
      if (above(p.right_cell, right, f) != above(p.right_cell, right, g)) return false;
    return std::all_of(p.across.begin(), p.across.end(), [&](const auto& pair) {
      return above(p.left_cell, left, pair[0]) == above(p.right_cell, right, pair[1]);
    });
  }
  /// From outside the facet, where the tab's own unit lies over or under everything.
  [[nodiscard]] bool enters(const FoldedPiece& p) const {
    const bool left = has_tab(p.left_cell);
    const int outside = left ? p.right_cell : p.left_cell;
    for (const int free : {0, count(outside)})
      if (left ? passes(p, level_[at(p.left_cell)], free) : passes(p, free, level_[at(p.right_cell)])) return true;
    return false;
  }
  [[nodiscard]] bool agrees(int cell) const {
    for (const std::size_t k : inner_) {
      const FoldedPiece& p = form_.overlap.pieces[k];
      if (p.left_cell != cell && p.right_cell != cell) continue;
      if (level_[at(p.left_cell)] < 0 || level_[at(p.right_cell)] < 0) continue;
      if (!passes(p, level_[at(p.left_cell)], level_[at(p.right_cell)])) return false;
    }
    return std::all_of(doors_.begin(), doors_.end(), [&](std::size_t d) {
      const FoldedPiece& p = form_.overlap.pieces[d];
      return (p.left_cell != cell && p.right_cell != cell) || enters(p);
    });
  }
  [[nodiscard]] bool held(int cell) const { return level_[at(cell)] > 0 && level_[at(cell)] < count(cell); }

  void try_from(std::size_t next, double held_mm2) {
    if (++trials_ > most_trials) return;
    double more = 0;
    for (std::size_t i = next; i < order_.size(); ++i) more += areas_[at(order_[i])];
    if (held_mm2 + more <= tried_.held_mm2 + 1e-9 * area_) return;
    if (next == order_.size()) return keep(held_mm2);
    const int cell = order_[next];
    for (int level = 0; level <= count(cell); ++level) {
      level_[at(cell)] = level;
      if (agrees(cell)) try_from(next + 1, held_mm2 + (held(cell) ? areas_[at(cell)] : 0));
    }
    level_[at(cell)] = -1;
  }

  void keep(double held_mm2) {
    tried_.held_mm2 = held_mm2;
    tried_.mouth.clear();
    const auto inward = [&](const Point& p) { return std::abs(entrance_.distance(p)); };
    double mouth = std::numeric_limits<double>::max();
    const auto take = [&](const Segment& s) {
      tried_.mouth.push_back(s);
      mouth = std::min({mouth, inward(s.from), inward(s.to)});
    };
    for (const std::size_t k : inner_) {
      const FoldedPiece& p = form_.overlap.pieces[k];
      if (held(p.left_cell) != held(p.right_cell)) take(segment(p));
    }
    for (const std::size_t d : doors_) {
      const FoldedPiece& p = form_.overlap.pieces[d];
      if (held(has_tab(p.left_cell) ? p.left_cell : p.right_cell)) take(segment(p));
    }
    double deepest = 0;
    for (const int cell : order_)
      if (held(cell))
        for (const Point& p : parts_[at(cell)]) deepest = std::max(deepest, inward(p));
    tried_.depth_mm = std::max(0.0, deepest - mouth);
  }

  static constexpr int most_trials = 200'000;
  const PieceForm& form_;
  Polygon tab_;
  double area_;
  Line entrance_;
  std::vector<std::vector<FaceId>> layers_; // per cell, topmost first
  std::vector<Polygon> parts_;              // per cell, what of the tab lies there
  std::vector<double> areas_;
  std::vector<std::size_t> inner_; // pieces that the tab lies across
  std::vector<std::size_t> doors_; // pieces on the edge by which it enters
  std::vector<int> order_;         // of the cells
  std::vector<int> level_;         // per cell, layers above the tab; -1 while not known
  TriedJoint tried_;
  int trials_ = 0;
};

/// Whether the unit has paper over the whole polygon.
bool has_paper(const PieceForm& form, const Polygon& polygon) {
  double covered = 0;
  for (const FoldedCell& cell : form.overlap.cells) {
    Polygon outline;
    for (const VertexId v : cell.cycle) outline.push_back(form.overlap.vertices[at(v)]);
    const Polygon inside = part_in(std::move(outline), polygon);
    if (inside.size() > 2) covered += std::abs(signed_area(inside));
  }
  return covered > 0.999 * std::abs(signed_area(polygon));
}

} // namespace

Result<TriedJoint> tried_joint(const FoldSequence& unit, const JointPlaces& places) {
  const PieceForm& form = *unit.states.back().form;
  Polygon facet;
  Polygon tab;
  for (const auto& [names, out] : {std::pair(&places.facet, &facet), std::pair(&places.tab, &tab)})
    for (const std::string& name : *names) {
      const auto place = place_of(unit, form, name);
      if (!place) return Error{fmt::format("{} is not a point of the unit", name)};
      out->push_back(*place);
    }
  if (facet.size() < 3 || facet.size() != tab.size())
    return Error{"facet and tab have as many corners, three at least"};
  for (std::size_t i = 0; i < facet.size(); ++i)
    for (std::size_t j = 0; j < i; ++j)
      if (std::abs((facet[i] - facet[j]).norm() - (tab[i] - tab[j]).norm()) > alike_mm)
        return Error{fmt::format("the tab is not as large as the facet: {} to {} is not {} to {}", places.tab[i],
                                 places.tab[j], places.facet[i], places.facet[j])};
  if ((signed_area(facet) > 0) != (signed_area(tab) > 0))
    return Error{"the tab would lie on the facet with its wrong side up; the corners run the other way round"};
  if (!has_paper(form, tab)) return Error{"the unit has no paper where its tab is said to be"};
  TriedJoint out = Laying(form, facet).best();
  out.lies_on = std::move(facet);
  out.own_tab = std::move(tab);
  return out;
}

Result<std::vector<TriedJoint>> tried_joints(const UnitFamily& family, const Point& piece_mm) {
  std::vector<TriedJoint> out;
  if (family.joints.empty()) return out;
  const auto folded = folded_unit(family, piece_mm);
  if (!folded) return Error{fmt::format("{} has no steps to try its joints on", family.name)};
  if (folded->refused) return Error{fmt::format("{}: {}", family.name, folded->refused->sentence())};
  for (const JointPlaces& places : family.joints) {
    auto tried = tried_joint(folded->made, places);
    if (!tried) return Error{fmt::format("{}: {}", family.name, tried.error())};
    out.push_back(std::move(tried).value());
  }
  return out;
}

Hold hold_of(const UnitFamily& family) {
  if (family.glued) return Hold::glue;
  if (family.wraps) return Hold::wrap;
  if (family.told) return Hold::told;
  const double width = 80;
  const auto tried = tried_joints(family, {width, width * family.ratio});
  const bool holds = tried && !tried->empty() &&
                     std::all_of(tried->begin(), tried->end(), [](const TriedJoint& j) { return j.holds(); });
  return holds ? Hold::pocket : Hold::glue;
}

} // namespace uc
