// Sheets of other proportions from the one at hand: trimmed by folding alone, halved, cut into strips.
#pragma once

#include "reference/construction_programme.h"
#include "reference/search.h"

#include <cmath>

namespace uc {

/// Long side over short side, by name (sqrt2, golden) or as a number or fraction such as 4/3; at least 1.
Result<double> parse_ratio(std::string_view text);

/// Four to each of two marks and the one of the cut.
constexpr int most_trim_creases = 9;

struct Trim {
  double ratio = 1;          // long over short
  bool upright = false;      // the cut runs up the sheet, the piece is its left part; else the lower part
  double keep_mm = 0;        // length kept along the trimmed side
  double share = 1;          // of the sheet that is kept
  Route route;               // to the mark on the trimmed edge
  bool two_marks = false;    // a mark on each of the two long edges, and the cut through both; else square to the edge
  Construction construction; // the route or routes and the crease of the cut
  int cut = -1;              // its item
  double error_mm = 0;       // how far the geometry leaves the cut from where the ratio asks for it, at its worse end
  double sigma_mm = 0;       // expected error of the hand there
  bool exact = false;
  [[nodiscard]] double total_mm() const { return std::hypot(error_mm, sigma_mm); }
  [[nodiscard]] Polygon piece() const;
};

/// The largest rectangle of this ratio that keeps two neighbouring edges of a rectangle, and the ways to fold its cut,
/// those of least error first, where a crease more must be worth its while. Fails for sheets that have the ratio
/// already, as near as scissors can tell, or are not rectangles, and when nothing comes near enough to be called the
/// ratio. The options hold for each mark; `most_creases` counts all there are, the crease of the cut included.
Result<std::vector<Trim>> trims_to(const SheetIndex& index, const Polygon& sheet, double ratio,
                                   const SearchOptions& options, int most_creases = most_trim_creases);

/// How far the worse end of the cut is expected to lie from where the ratio asks for it, mm, geometry and hand
/// together; `corners` are the items of the piece. None where the sheet is not cut to it.
std::optional<double> trim_miss_mm(const Construction& construction, const ConstructionErrors& errors,
                                   const std::vector<int>& corners, double ratio);

/// The construction with the corners of the piece as marks; `corners` are their items, counter-clockwise.
Construction with_corners(const Trim& trim, std::vector<int>& corners);

/// Its moves, ended by the cut along the last crease.
Programme programme_of(const Trim& trim, const HandProfile& hand, ElementId plan = reference_plan());

struct Strips {
  int count = 0;
  double width_mm = 0;
  double length_mm = 0;
  double offcut_mm = 0; // left over across the strips
  double sigma_mm = 0;  // standard error of a width, measured with a ruler
};
/// Strips of this width cut from a rectangle, along its longer or its shorter side.
Result<std::vector<Strips>> strips_of(const Polygon& sheet, double width_mm);

} // namespace uc
