// The search for routes: which creases of the index, alone, in pairs or with one more fold, come nearest to a target,
// counting both what the geometry misses and what the hand adds.
#pragma once

#include "reference/route.h"
#include "reference/sheet_index.h"

namespace uc {

/// What counts, in mm of error: a crease more is worth `effort` mm, a mm of crease `scar` mm. With both 0 routes are
/// ranked by sqrt(error² + sigma²), then by creases.
struct RouteWeights {
  double effort_mm = 0;
  double scar = 0;
  double exact_mm = 0; // what an exact route may be worse and still come first
};

constexpr int most_route_creases = 6;

struct SearchOptions {
  int max_creases = 4;
  int top = 5;
  double sigma_mm = 0.25;
  std::vector<Box> keep_clean;
  RouteWeights weights;
};

/// Where the time goes, for the benchmark.
struct SearchFigures {
  double look_up_seconds = 0; // finding what lies near: without pairing it up and without judging
  double picked_seconds = 0;  // until it is known which ones are shown
  double all_seconds = 0;     // until those are routes
  std::size_t judged = 0;     // made into constructions
  std::size_t failed = 0;     // picked by the index's figures, yet could not be made as they are
};

/// Routes in rank order; the route of least error and one of fewest creases are always among them. Routes that differ
/// by a mirror image only, or make the same lines otherwise, are merged. Fails with the nearest thing that can be had
/// when nothing is found within the limits.
Result<std::vector<Route>> find_routes(const SheetIndex& index, const Polygon& sheet, const Target& target,
                                       const SearchOptions& options, SearchFigures* figures = nullptr);

/// Checks the limits and areas against the target.
Status check_search(const Polygon& sheet, const Target& target, const SearchOptions& options);

double rank_of(const Route& route, const RouteWeights& weights);

} // namespace uc
