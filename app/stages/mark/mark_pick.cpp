#include "stages/mark/mark_pick.h"

#include "project/piece.h"
#include "reference/recipe.h"
#include "reference/target.h"

#include <algorithm>

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
    return QStringLiteral("line %1 %2")
        .arg(place(project, *from, is_known(project, *from)), place(project, to, is_known(project, to)));
  }
  const bool corner = std::any_of(sheet.begin(), sheet.end(), [&](const Point& c) { return (c - to).norm() < 1e-9; });
  if (corner) return {};
  for (int e = 0; e < static_cast<int>(sheet.size()); ++e) {
    const Segment edge = edge_in_reading_order(sheet, e);
    const double along = (at - edge.from).dot(edge.to - edge.from) / edge.length() / edge.length();
    if (std::abs(Line::through(edge.from, edge.to).distance(at)) > reach_mm || along <= 0 || along >= 1) continue;
    return QStringLiteral("%1:%2").arg(QString::fromStdString(edge_id(sheet, e))).arg(along, 0, 'f', 3);
  }
  return wanted_point(sheet, to) ? place(project, to, is_known(project, to)) : QString();
}

} // namespace uc::app
