#include "fold/names.h"

#include "base/clean_text.h"
#include "base/index.h"
#include "fold/sequence.h"
#include "reference/construction.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace uc {
namespace {

int corner_named(const Polygon& sheet, const std::string& name) {
  for (int i = 0; i < static_cast<int>(sheet.size()); ++i) {
    if (corner_id(sheet, i) == name) return i;
  }
  return -1;
}
int side_named(const Polygon& sheet, const std::string& name) {
  for (int i = 0; i < static_cast<int>(sheet.size()); ++i) {
    if (edge_id(sheet, i) == name) return i;
  }
  return -1;
}

double distance_to(const Segment& s, const Point& p) {
  const Point d = s.to - s.from;
  const double t = std::clamp(d.dot(p - s.from) / d.squaredNorm(), 0.0, 1.0);
  return (s.at(t) - p).norm();
}

double near(const PieceForm& form) { return 2 * snap_tolerance(form.pattern); }

} // namespace

FoldPaths::FoldPaths(const PieceForm& form) : from_(form.graph.faces.size(), -2), by_(form.graph.faces.size(), -1) {
  std::vector<std::vector<std::pair<int, int>>> beside(from_.size()); // the other face, the edge between
  for (std::size_t e = 0; e < form.pattern.edges.size(); ++e) {
    const auto [l, r] = form.graph.sides[e];
    if (!joins(form.pattern.edges[e].kind) || l < 0 || r < 0) continue;
    beside[at(l)].emplace_back(r, static_cast<int>(e));
    beside[at(r)].emplace_back(l, static_cast<int>(e));
  }
  std::vector<int> queue{0};
  from_[0] = -1;
  for (std::size_t i = 0; i < queue.size(); ++i) {
    for (const auto& [next, e] : beside[at(queue[i])]) {
      if (from_[at(next)] != -2) continue;
      from_[at(next)] = queue[i];
      by_[at(next)] = folds(form.pattern.edges[at(e)].kind) ? form.line_of[at(e)] : -1;
      queue.push_back(next);
    }
  }
}

std::vector<int> FoldPaths::to(FaceId face) const {
  std::vector<int> path;
  for (int f = face; f > 0; f = from_[at(f)]) {
    if (by_[at(f)] >= 0) path.push_back(by_[at(f)]);
  }
  std::reverse(path.begin(), path.end());
  return path;
}

bool StepNames::known(const std::string& name) const {
  const Polygon& sheet = sequence_.file.sheet.outline();
  return corner_named(sheet, name) >= 0 || side_named(sheet, name) >= 0 || sequence_.points.count(name) ||
         sequence_.creases.count(name);
}

std::string StepNames::unknown(const std::string& name) const {
  const Polygon& sheet = sequence_.file.sheet.outline();
  std::string given;
  for (int i = 0; i < static_cast<int>(sheet.size()) && i < 4; ++i)
    given += fmt::format("{}{}, {}", i ? ", " : "", corner_id(sheet, i), edge_id(sheet, i));
  return fmt::format("{} is not known here; there are {}{} and what earlier lines have made", clipped(name, 60), given,
                     sheet.size() > 4 ? ", ..." : "");
}

std::optional<int> StepNames::crease_named(const std::string& name) const {
  const auto found = sequence_.creases.find(name);
  if (found == sequence_.creases.end()) return std::nullopt;
  return found->second;
}

int StepNames::crease_of(int line) const { return sequence_.lines[at(line)].crease; }

int StepNames::line_number(const PieceForm& form, CreaseId edge) const {
  if (form.line_of[at(edge)] >= 0) return form.line_of[at(edge)];
  const Polygon& sheet = sequence_.file.sheet.outline();
  const Point middle = form.pattern.segment(edge).middle();
  std::size_t nearest = 0;
  for (std::size_t i = 0; i < sheet.size(); ++i) {
    const auto away = [&](std::size_t k) { return distance_to({sheet[k], sheet[(k + 1) % sheet.size()]}, middle); };
    if (away(i) < away(nearest)) nearest = i;
  }
  return -1 - static_cast<int>(nearest);
}

AlignedThing StepNames::thing_of(const PieceForm& form, CreaseId edge, FaceId face) const {
  AlignedThing thing;
  const int line = line_number(form, edge);
  thing.kind = line < 0 ? AlignedThing::Kind::edge : AlignedThing::Kind::crease;
  thing.index = line < 0 ? -1 - line : line;
  thing.folded_at = folds_to(form, face);
  return thing;
}

std::string StepNames::name_crease(const std::string& wanted, int crease) {
  if (!wanted.empty()) {
    ++made_;
    if (known(wanted)) return {};
    sequence_.creases[wanted] = crease;
    return wanted;
  }
  std::string name;
  do {
    name = fmt::format("c{}", ++made_);
  } while (known(name));
  sequence_.creases[name] = crease;
  return name;
}

std::string StepNames::name_of_crease(int crease) const {
  for (const auto& [name, id] : sequence_.creases) {
    if (id == crease) return name;
  }
  return {};
}

std::string StepNames::free_name(const std::string& name) const {
  for (int i = 2;; ++i) {
    std::string next = fmt::format("{}{}", name, i);
    if (!known(next)) return next;
  }
}

StepNames::Kept StepNames::kept() const { return {pinches_, made_}; }
void StepNames::restore(Kept kept) {
  pinches_ = std::move(kept.pinches);
  made_ = kept.made;
}

bool StepNames::name_point(const std::string& name, const Crossing& crossing) {
  if (known(name)) return false;
  sequence_.points[name] = crossing.on_sheet;
  sequence_.crossings[name] = crossing.lines;
  return true;
}

std::vector<SeenThing::Piece> StepNames::pieces_of(const std::string& name, const PieceForm& form) const {
  std::vector<SeenThing::Piece> pieces;
  const Polygon& sheet = sequence_.file.sheet.outline();
  const int side = side_named(sheet, name);
  const auto crease = crease_named(name);
  for (std::size_t e = 0; e < form.pattern.edges.size(); ++e) {
    const Segment s = form.pattern.segment(CreaseId(e));
    const int line = form.line_of[e];
    SeenThing::Piece piece{line, s, {}};
    if (side >= 0) {
      const Segment whole{sheet[at(side)], sheet[(at(side) + 1) % sheet.size()]};
      if (line >= 0 || distance_to(whole, s.from) > near(form) || distance_to(whole, s.to) > near(form)) continue;
      piece.line = -1 - side;
    } else if (line < 0 || sequence_.lines[at(line)].crease != *crease) {
      continue;
    }
    for (const FaceId f : form.graph.sides[e]) {
      if (f >= 0) piece.faces.push_back(f);
    }
    pieces.push_back(std::move(piece));
  }
  for (const Pinch& p : pinches_) {
    if (crease && sequence_.lines[at(p.line)].crease == *crease)
      pieces.push_back({p.line, p.mark, faces_at(form, p.mark.middle())});
  }
  return pieces;
}

Result<SeenThing> StepNames::seen(const std::string& name, const PieceForm& form, bool bent) const {
  SeenThing out;
  const Polygon& sheet = sequence_.file.sheet.outline();
  const int corner = corner_named(sheet, name);
  const auto point = sequence_.points.find(name);
  if (corner >= 0 || point != sequence_.points.end()) {
    out.on_sheet = corner >= 0 ? sheet[at(corner)] : point->second;
    const auto faces = faces_at(form, out.on_sheet);
    if (faces.empty()) return Error{fmt::format("{} was cut off", name)};
    const FaceId face = faces.front();
    out.at = form.form.place[at(face)] * out.on_sheet;
    out.thing.kind = corner >= 0 ? AlignedThing::Kind::corner : AlignedThing::Kind::crossing;
    out.thing.index = corner;
    if (corner < 0) out.thing.lines = sequence_.crossings.at(name);
    out.thing.folded_at = folds_to(form, face);
    return out;
  }
  if (!known(name)) return Error{unknown(name)};
  out.is_line = true;
  out.on_paper = pieces_of(name, form);
  std::vector<Line> lines;
  for (const auto& piece : out.on_paper) {
    const Segment s = form.form.place[at(piece.faces.front())] * piece.on_sheet;
    const Line l = Line::through(s.from, s.to).in_one_sense();
    const bool seen_before = std::any_of(lines.begin(), lines.end(), [&](const Line& other) {
      return std::abs(other.distance(s.from)) < near(form) && std::abs(other.distance(s.to)) < near(form);
    });
    if (!seen_before) lines.push_back(l);
    out.pieces.push_back(s);
  }
  if (lines.empty()) return Error{fmt::format("{} cannot be found on the paper: it was cut off", name)};
  if (lines.size() > 1 && !bent)
    return Error{fmt::format("{} is bent now and lies on {} lines; name one that is straight", name, lines.size())};
  out.line = lines.front();
  const auto& first = out.on_paper.front();
  out.thing.kind = first.line < 0 ? AlignedThing::Kind::edge : AlignedThing::Kind::crease;
  out.thing.index = first.line < 0 ? -1 - first.line : first.line;
  out.thing.folded_at = folds_to(form, first.faces.front());
  return out;
}

Result<StepNames::Crossing> StepNames::crossing(const SeenThing& a, const SeenThing& b, const PieceForm& form,
                                                bool from_behind) const {
  struct Found {
    Crossing crossing;
    std::vector<FaceId> faces;
  };
  std::vector<Found> found;
  for (const auto& p : a.on_paper) {
    for (const auto& q : b.on_paper) {
      const auto meeting =
          Line::through(p.on_sheet.from, p.on_sheet.to).crossing(Line::through(q.on_sheet.from, q.on_sheet.to));
      if (!meeting) continue;
      const auto faces = faces_at(form, *meeting);
      // Both creases reach the place, or run on to it in one layer.
      const bool there =
          distance_to(p.on_sheet, *meeting) < near(form) && distance_to(q.on_sheet, *meeting) < near(form);
      const auto in = [](const std::vector<FaceId>& all, FaceId f) {
        return std::find(all.begin(), all.end(), f) != all.end();
      };
      const bool in_one_layer =
          std::any_of(faces.begin(), faces.end(), [&](FaceId f) { return in(p.faces, f) && in(q.faces, f); });
      if (faces.empty() || !(there || in_one_layer)) continue;
      const bool again = std::any_of(found.begin(), found.end(), [&](const Found& f) {
        return (f.crossing.on_sheet - *meeting).norm() < near(form);
      });
      if (!again) found.push_back({{*meeting, {p.line, q.line}}, faces});
    }
  }
  if (found.empty()) return Error{"do not cross on the paper"};
  const auto lies = [&](const Found& f) { return Point(form.form.place[at(f.faces.front())] * f.crossing.on_sheet); };
  for (const Found& f : found) {
    if ((lies(f) - lies(found.front())).norm() > near(form)) return Error{"cross in several places; name other lines"};
  }
  // The highest layer at that place, as the folder looks at it.
  const auto lower = [&](const Found& x, const Found& y) {
    for (const FaceId f : x.faces) {
      for (const FaceId g : y.faces) {
        if (f != g && form.overlapping(f, g)) return form.above(f, g) == from_behind;
      }
    }
    return false;
  };
  return std::max_element(found.begin(), found.end(), lower)->crossing;
}

} // namespace uc
