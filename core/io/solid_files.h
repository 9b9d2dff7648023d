// What stands in space as a file other programs read: OBJ, STL, and glTF binary with the colours of the paper.
#pragma once

#include "collapse/fold_mesh.h"
#include "programme/unit_map.h"
#include "unit/unit_shape.h"

#include <string>
#include <string_view>
#include <vector>

namespace uc {

struct SpatialModel {
  std::string title;
  std::vector<Point3> vertices; // mm
  std::vector<std::array<int, 3>> triangles;
  std::vector<std::string> colours; // #RRGGBB
  std::vector<int> colour_of;       // per triangle; all of the first when empty
  std::string underside;            // the back of every triangle; none when empty
  /// The same vertices at even steps of time, for a film that ends with `vertices`; glTF alone keeps it.
  std::vector<std::vector<Point3>> film;
  double film_seconds = 4;
};

SpatialModel model_of(const FoldMesh& mesh, std::vector<Point3> vertices, std::string title, std::string face_colour,
                      std::string underside_colour);
/// The units of a plan in their colours.
SpatialModel model_of(const UnitPlan& plan, std::string title, const std::vector<UnitMap::Colour>& palette);
/// The solid itself, in mm.
SpatialModel model_of(const Polyhedron& solid, std::string title);

/// By the ending of the name; fails for others. OBJ in mm, faces as triangles in their order; STL binary, in mm;
/// glTF 2.0 binary in metres, y up, one primitive for each colour, and for the back of all triangles.
Result<std::string> solid_file(std::string_view file_name, const SpatialModel& model);

} // namespace uc
