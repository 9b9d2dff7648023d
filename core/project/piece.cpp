#include "project/piece.h"

#include "reference/recipe.h"
#include "reference/shape.h"

#include <algorithm>
#include <cmath>
#include <optional>

namespace uc {
namespace {

constexpr double regular_within = 0.05; // of a side: what is further off was not meant to be regular

/// A rectangle whose lower left corner is the sheet's own.
std::optional<Piece> rectangle(const Polygon& outline) {
  if (outline.size() != 4) return std::nullopt;
  const Box box = bounding_box(outline);
  const double tolerance = 0.02 * box.size().norm(); // the trim's own error is in its figures
  if (box.low.norm() > tolerance) return std::nullopt;
  for (const Point& p : outline) {
    const bool corner = std::min(std::abs(p.x() - box.low.x()), std::abs(p.x() - box.high.x())) < tolerance &&
                        std::min(std::abs(p.y() - box.low.y()), std::abs(p.y() - box.high.y())) < tolerance;
    if (!corner) return std::nullopt;
  }
  return Piece{Sheet::rectangle(Millimetres{box.size().x()}, Millimetres{box.size().y()}), Isometry::identity(), false};
}

/// The regular polygon nearest to the vertices, which run counter-clockwise.
std::optional<Piece> regular(const Polygon& outline) {
  const auto n = static_cast<int>(outline.size());
  if (n < 3) return std::nullopt;
  double side = 0;
  Point centre = Point::Zero();
  for (int i = 0; i < n; ++i) {
    const auto k = static_cast<std::size_t>(i);
    side += (outline[(k + 1) % outline.size()] - outline[k]).norm() / n;
    centre += outline[k] / n;
  }
  if (shape_distance_mm(outline, regular_polygon(n)) > regular_within * side) return std::nullopt;
  Piece piece{n == 4 ? Sheet::square(Millimetres{side}) : Sheet::regular(n, Millimetres{side}), {}, false};
  // Laid on the vertices as it fits best: the turn that takes its corners to them, about both middles.
  const Polygon& own = piece.sheet.outline();
  Point middle = Point::Zero();
  for (const Point& p : own) middle += p / n;
  double along = 0;
  double across = 0;
  for (std::size_t i = 0; i < own.size(); ++i) {
    const Point a = own[i] - middle;
    const Point b = outline[i] - centre;
    along += a.dot(b);
    across += a.x() * b.y() - a.y() * b.x();
  }
  const Isometry turn = Isometry::rotation_about(Point::Zero(), std::atan2(across, along));
  piece.place = turn;
  piece.place.shift = centre - turn * middle;
  return piece;
}

} // namespace

Piece piece_of(const Project& project, std::size_t references) {
  Piece piece{planned_sheet(project), Isometry::identity(), true};
  const Piece whole = piece;
  for (std::size_t i = 0; i < std::min(references, project.references.size()); ++i) {
    const PlannedReference& r = project.references[i];
    if (!r.cut) continue;
    if (!r.of_piece) piece = whole;
    const auto recipe = parse_recipe(piece.sheet.outline(), r.recipe);
    if (!recipe) continue;
    Polygon outline;
    for (const int vertex : recipe->results) {
      if (recipe->construction[vertex].is_line()) continue;
      outline.push_back(recipe->construction[vertex].point);
    }
    if (outline.size() < 3) continue;
    if (signed_area(outline) < 0) std::reverse(outline.begin(), outline.end());
    auto next = rectangle(outline);
    if (!next) next = regular(outline);
    if (!next) continue;
    next->place = piece.place * next->place;
    piece = *std::move(next);
  }
  return piece;
}

Sheet worked_sheet(const Project& project) { return piece_of(project).sheet; }

Sheet drawn_sheet(const Project& project) {
  const Piece piece = piece_of(project);
  return piece.whole ? project.sheet : piece.sheet.scaled(1 / true_scale(project.sheet, project.trueness));
}

namespace {

template <typename... Case> EffectCases<Case...> cases(Case... all) { return {all...}; }

} // namespace

Programme placed(Programme programme, const Isometry& place) {
  const auto move = [&](std::vector<Segment>& spans) {
    for (Segment& s : spans) s = {place * s.from, place * s.to};
  };
  for (Point& p : programme.sheet) p = place * p;
  for (Element& e : programme.elements) move(e.spans);
  const auto places = cases([&](MakeCreases& made) { move(made.spans); },
                            [&](Refold& fold) { move(fold.creases.spans); }, [&](Cut& cut) { move(cut.along); },
                            [&](Work& work) {
                              if (!work.place_mm) return;
                              const Point at = place * Point((*work.place_mm)[0], (*work.place_mm)[1]);
                              work.place_mm = {at.x(), at.y()};
                            },
                            [](Collapse&) {}, [](FoldUnit&) {}, [](Join&) {}, [](Handle&) {});
  for (Move& m : programme.moves) std::visit(places, m.effect);
  if (programme.space) {
    auto space = std::make_shared<SpaceStates>(*programme.space);
    for (Point& p : space->on_sheet) p = place * p;
    programme.space = std::move(space);
  }
  return programme;
}

} // namespace uc
