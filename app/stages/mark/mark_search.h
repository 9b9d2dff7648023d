// What the Mark stage asks for and what it finds, worked out off the interface thread.
#pragma once

#include "project/project.h"
#include "reference/polygon.h"
#include "reference/proportion.h"
#include "reference/recipe.h"

namespace uc::app {

enum class Wish { reference, polygon, proportion, recipe };

struct MarkRequest {
  Wish wish = Wish::reference;
  Polygon sheet;
  HandProfile hand;
  LengthUnit unit = LengthUnit::mm;
  std::string target; // reference and recipe; a recipe may do without
  int sides = 5;
  std::string ratio;
  std::string recipe;
  SearchOptions options;
};

/// One way to what was wished for.
struct Finding {
  std::optional<Route> route; // of references and recipes with a target
  std::optional<PolygonMethod> polygon;
  std::optional<Trim> trim;
  std::optional<Recipe> bare; // a recipe judged without a target
  Programme programme;

  [[nodiscard]] const Construction& construction() const;
  [[nodiscard]] std::vector<int> results() const;
  [[nodiscard]] int creases() const { return construction().creases(); }
  [[nodiscard]] bool exact() const;
  /// What its geometry misses, and the expected error of the hand, mm.
  [[nodiscard]] double error_mm() const;
  [[nodiscard]] double sigma_mm(double hand_sigma_mm) const;
  /// The one figure ways are compared by: geometry and hand together, mm; of polygons by their shape.
  [[nodiscard]] double miss_mm(double hand_sigma_mm) const;
  /// Length of all that is creased, mm.
  [[nodiscard]] double scar_mm() const;
};

struct Findings {
  std::string error; // one sentence when there is nothing
  std::vector<Finding> list;
  LargestPolygon largest; // of polygons
  std::optional<Target> target;
  std::string asked; // the target as it was typed
};

Findings find(const MarkRequest& request, IndexStore& indexes, Progress& progress);

} // namespace uc::app
