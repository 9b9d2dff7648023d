#include "fold/repeating.h"

#include "base/index.h"
#include "reference/construction.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace uc {
namespace {

double near_of(const Polygon& sheet) { return 1e-6 * bounding_box(sheet).size().norm(); }

bool onto_itself(const Polygon& sheet, const Isometry& by) {
  return std::all_of(sheet.begin(), sheet.end(), [&](const Point& p) {
    const Point q = by * p;
    return std::any_of(sheet.begin(), sheet.end(), [&](const Point& c) { return (c - q).norm() < near_of(sheet); });
  });
}

/// The names a move reads, as they can be written again.
std::vector<std::string*> names_read(StepLine& step) {
  StepAlignment& a = step.alignment;
  std::vector<std::string*> names{&a.moved, &a.target,  &a.second_moved, &a.second_target, &a.square_to,
                                  &a.along, &step.flap, &step.moving,    &step.at};
  for (std::string& n : a.through) names.push_back(&n);
  for (std::string& n : step.names) names.push_back(&n);
  for (StepCrease& c : step.creases) {
    names.push_back(&c.name);
    names.push_back(&c.from);
    names.push_back(&c.to);
  }
  std::erase_if(names, [](const std::string* n) { return n->empty(); });
  return names;
}

} // namespace

std::vector<Isometry> symmetries_of(const Polygon& sheet) {
  Point centre = Point::Zero();
  for (const Point& p : sheet) centre += p / static_cast<double>(sheet.size());
  std::vector<Isometry> out;
  const Point first = sheet.front() - centre;
  const double start = std::atan2(first.y(), first.x());
  std::vector<double> turns;
  for (const Point& p : sheet) {
    const Point d = p - centre;
    turns.push_back(std::fmod(std::atan2(d.y(), d.x()) - start + 4 * std::numbers::pi, 2 * std::numbers::pi));
  }
  std::sort(turns.begin(), turns.end());
  for (const double turn : turns) {
    const Isometry by = Isometry::rotation_about(centre, turn);
    if (onto_itself(sheet, by)) out.push_back(by);
  }
  for (const double turn : turns) { // the mirror line lies half-way between a corner and where it comes to lie
    const double angle = start + turn / 2;
    const Isometry by =
        Isometry::reflection_in(Line::through(centre, centre + Point{std::cos(angle), std::sin(angle)}));
    if (onto_itself(sheet, by)) out.push_back(by);
  }
  return out;
}

std::optional<Point> sheet_point(const FoldSequence& sequence, const std::string& name) {
  const Polygon& sheet = sequence.file.sheet.outline();
  for (std::size_t i = 0; i < sheet.size(); ++i) {
    if (corner_id(sheet, static_cast<int>(i)) == name) return sheet[i];
    if (edge_id(sheet, static_cast<int>(i)) == name) return (sheet[i] + sheet[(i + 1) % sheet.size()]) / 2;
  }
  const auto point = sequence.points.find(name);
  return point == sequence.points.end() ? std::nullopt : std::optional<Point>(point->second);
}

std::string first_name(const std::vector<StepLine>& moves) {
  for (StepLine step : moves) {
    if (const auto names = names_read(step); !names.empty()) return *names.front();
  }
  return {};
}

Result<StepLine> CarriedNames::carried(const StepLine& step) const {
  StepLine out = step;
  for (std::string* n : names_read(out)) {
    auto there = name(*n);
    if (!there) return Error{there.error()};
    *n = *there;
  }
  return out;
}

Result<std::string> CarriedNames::name(const std::string& name) const {
  if (const auto made = made_.find(name); made != made_.end()) return made->second;
  if (const auto crease = sequence_.creases.find(name); crease != sequence_.creases.end())
    return this->crease(name, crease->second);
  const auto lies = sheet_point(sequence_, name);
  if (!lies) return Error{fmt::format("{} is not known there", name)};
  const Point there = by_ * *lies;
  const Polygon& sheet = sequence_.file.sheet.outline();
  const double near = near_of(sheet);
  bool edge = false;
  for (std::size_t i = 0; i < sheet.size(); ++i) edge = edge || edge_id(sheet, static_cast<int>(i)) == name;
  for (std::size_t i = 0; i < sheet.size(); ++i) {
    const std::string id = edge ? edge_id(sheet, static_cast<int>(i)) : corner_id(sheet, static_cast<int>(i));
    if ((*sheet_point(sequence_, id) - there).norm() < near) return id;
  }
  for (const auto& [id, p] : sequence_.points) {
    if (!edge && (p - there).norm() < near) return id;
  }
  return Error{fmt::format("{} has no counterpart there; name the point it would be first", name)};
}

Result<std::string> CarriedNames::crease(const std::string& name, int crease) const {
  const CreasePattern& pattern = form_.pattern;
  const double near = 2 * snap_tolerance(pattern);
  std::optional<int> there;
  for (std::size_t e = 0; e < pattern.edges.size(); ++e) {
    if (form_.line_of[e] < 0 || sequence_.lines[at(form_.line_of[e])].crease != crease) continue;
    const Point middle = by_ * pattern.segment(CreaseId(e)).middle();
    std::optional<int> found;
    for (std::size_t k = 0; k < pattern.edges.size() && !found; ++k) {
      if (form_.line_of[k] < 0) continue;
      const Segment s = pattern.segment(CreaseId(k));
      const Line line = Line::through(s.from, s.to);
      const double along = line.direction().dot(middle - s.middle());
      if (std::abs(line.distance(middle)) < near && std::abs(along) < s.length() / 2 + near)
        found = sequence_.lines[at(form_.line_of[k])].crease;
    }
    if (!found || (there && *there != *found))
      return Error{fmt::format("{} has no counterpart there; make the crease it would be first", name)};
    there = found;
  }
  for (const auto& [id, c] : sequence_.creases) {
    if (there && c == *there) return id;
  }
  return Error{fmt::format("{} has no counterpart there; make the crease it would be first", name)};
}

} // namespace uc
