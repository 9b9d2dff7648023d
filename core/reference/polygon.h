// Regular polygons from a sheet: how large they can be, and ways to fold them, each judged by what it really gives.
#pragma once

#include "reference/construction_programme.h"
#include "reference/rosette.h"
#include "reference/search.h"

namespace uc {

constexpr int least_sides = 3;
constexpr int most_sides = 24;

struct LargestPolygon {
  double side_mm = 0;
  double turn_deg = 0; // least angle between a side and an edge of the sheet
  Polygon vertices;    // one such polygon, counter-clockwise
};
/// The largest regular polygon in a convex sheet. For each turn it is a linear programme in its centre and radius; the
/// best turn is found to 1e-12 rad.
LargestPolygon largest_polygon(const Polygon& sheet, int sides);

struct PolygonMethod {
  std::string name;
  bool exact = false; // to 1e-9 of the sheet
  bool largest = false;
  Construction construction;
  std::vector<int> vertices; // items, counter-clockwise
  std::vector<CreaseNeed> needs;
  double side_min_mm = 0;
  double side_max_mm = 0;
  double angle_error_deg = 0; // largest deviation of an interior angle
  double sigma_mm = 0;        // expected hand error of the worst vertex
  double shape_mm = 0;        // rms distance from the nearest regular polygon, geometry and hand together
  double leftover = 0;        // share of the sheet that is cut off
  int creases = 0;
  [[nodiscard]] Polygon outline() const;
  /// Whether a vertex is marked where an edge or a crease lands.
  [[nodiscard]] bool lands() const;
};

/// Judges any construction whose items `vertices` are the corners of the polygon, in either sense. Fails when a vertex
/// lies off the sheet or two coincide.
Result<PolygonMethod> judged_polygon(std::string name, const Construction& construction, std::vector<int> vertices,
                                     double sigma_mm);

/// All known ways to fold the polygon from this sheet, the most regular ones first: by `shape_mm`. Left out is what
/// nobody can fold, whose shape is off by more than a quarter of a side. Recipes stand twice where marking vertices by
/// landings makes a difference. With an index, the largest polygon is also made from references found in it.
Result<std::vector<PolygonMethod>> polygon_methods(const Polygon& sheet, int sides, double sigma_mm,
                                                   const SheetIndex* index);

/// The largest polygon from the best references for its centre and for one or two of its vertices.
Result<PolygonMethod> polygon_by_references(const Polygon& sheet, const LargestPolygon& largest,
                                            Rosette::Marking marking, double sigma_mm, const SheetIndex& index);

/// Its moves, ended by the cut along its sides.
Programme programme_of(const PolygonMethod& method, const HandProfile& hand, ElementId plan = reference_plan());

/// The angle of a regular polygon, degrees.
inline double interior_angle(int sides) { return 180.0 * (sides - 2) / sides; }

} // namespace uc
