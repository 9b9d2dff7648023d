#include "stages/mark/mark_pick.h"

#include "project/piece.h"
#include "reference/recipe.h"
#include "reference/target.h"

#include <algorithm>
#include <cmath>

namespace uc::app {
namespace {

/// In the project's unit: as written when it is a known mark, rounded to what a pointer can mean when it is not.
QString place(const Project& project, const Point& at, bool known) {
  const double unit = mm_per(project.unit);
  const int digits = known ? 9 : project.unit == LengthUnit::mm ? 1 : 3;
  return QString::fromStdString(format_number(at.x() / unit, digits) + "," + format_number(at.y() / unit, digits));
}

bool is_known(const Project& project, const Point& at) {
  const auto marks = known_marks(project);
  return std::any_of(marks.begin(), marks.end(), [&](const Point& m) { return (m - at).norm() < 1e-9; });
}

/// The simplest fraction within `reach` of `along`, with a denominator that is folded at once; empty when there is
/// none.
QString simple_fraction(double along, double reach) {
  for (const int below : {2, 3, 4, 5, 6, 8, 12, 16}) {
    const int above = static_cast<int>(std::lround(along * below));
    if (above > 0 && above < below && std::abs(along - static_cast<double>(above) / below) < reach)
      return QStringLiteral("%1/%2").arg(above).arg(below);
  }
  return {};
}

/// A place on an edge as it would be said: 1/3 of the bottom edge, 61.5 mm from the left.
QString place_on_edge(const Project& project, const Polygon& sheet, int edge, double along, double reach_mm) {
  const double length = edge_in_reading_order(sheet, edge).length();
  const QString name = QString::fromStdString(edge_id(sheet, edge));
  const QString part = simple_fraction(along, reach_mm / 2 / length);
  if (!is_box(sheet)) return QStringLiteral("%1:%2").arg(name, part.isEmpty() ? QString::number(along, 'f', 3) : part);
  if (!part.isEmpty()) return QStringLiteral("%1 of the %2 edge").arg(part, name);
  if (name == "bottom" || name == "left") {
    const double unit = mm_per(project.unit);
    const auto figure = format_number(along * length / unit, project.unit == LengthUnit::mm ? 1 : 2);
    return QStringLiteral("%1 %2 from the %3")
        .arg(QString::fromStdString(figure), QString::fromStdString(symbol(project.unit)),
             name == "bottom" ? "left" : "bottom");
  }
  return QStringLiteral("%1 of the %2 edge").arg(QString::number(along, 'f', 3), name);
}

/// The line through two marks by the name it has; empty when it has none.
QString line_in_words(const Polygon& sheet, const Point& from, const Point& to) {
  if (!is_box(sheet)) return {};
  const Box box = bounding_box(sheet);
  const auto joins = [&](const Point& p, const Point& q) {
    return ((from - p).norm() < 1e-9 && (to - q).norm() < 1e-9) || ((from - q).norm() < 1e-9 && (to - p).norm() < 1e-9);
  };
  if (joins(box.low, box.high)) return QStringLiteral("diagonal");
  if (joins({box.low.x(), box.high.y()}, {box.high.x(), box.low.y()})) return QStringLiteral("falling diagonal");
  return {};
}

} // namespace

std::vector<Point> known_marks(const Project& project) {
  const Piece now = piece_of(project);
  std::vector<Point> marks = now.sheet.outline();
  const Box box = bounding_box(marks);
  for (std::size_t i = 0; i < project.references.size(); ++i) {
    const PlannedReference& r = project.references[i];
    const Piece then = piece_of(project, r.of_piece ? i : 0);
    const auto recipe = parse_recipe(then.sheet.outline(), r.recipe);
    if (!recipe || r.cut) continue;
    for (const int result : recipe->results) {
      if (recipe->construction[result].is_line()) continue;
      const Point at = now.place.inverse() * (then.place * recipe->construction[result].point);
      const bool left = (at.array() >= box.low.array() - 1e-6).all() && (at.array() <= box.high.array() + 1e-6).all();
      if (left) marks.push_back(at); // else it was cut off
    }
  }
  return marks;
}

Point snapped(const Project& project, const Point& at, double reach_mm) {
  Point best = at;
  double least = reach_mm;
  for (const Point& mark : known_marks(project)) {
    if ((mark - at).norm() > least) continue;
    least = (mark - at).norm();
    best = mark;
  }
  return best;
}

QString picked_target(const Project& project, const Point& at, double reach_mm, const std::optional<Point>& from) {
  const Polygon sheet = worked_sheet(project).outline();
  const Point to = snapped(project, at, reach_mm);
  if (from) {
    if ((to - *from).norm() < reach_mm) return {};
    if (const QString said = line_in_words(sheet, *from, to); !said.isEmpty()) return said;
    return QStringLiteral("line %1 %2")
        .arg(place(project, *from, is_known(project, *from)), place(project, to, is_known(project, to)));
  }
  const bool corner = std::any_of(sheet.begin(), sheet.end(), [&](const Point& c) { return (c - to).norm() < 1e-9; });
  if (corner) return {};
  for (int e = 0; e < static_cast<int>(sheet.size()); ++e) {
    const Segment edge = edge_in_reading_order(sheet, e);
    const double along = (at - edge.from).dot(edge.to - edge.from) / edge.length() / edge.length();
    if (std::abs(Line::through(edge.from, edge.to).distance(at)) > reach_mm || along <= 0 || along >= 1) continue;
    return place_on_edge(project, sheet, e, along, reach_mm);
  }
  if (is_box(sheet) && (bounding_box(sheet).centre() - at).norm() < reach_mm) return QStringLiteral("middle");
  return wanted_point(sheet, to) ? place(project, to, is_known(project, to)) : QString();
}

} // namespace uc::app
