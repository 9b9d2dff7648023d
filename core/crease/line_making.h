// How the lines of a pattern come onto the sheet: each by one fold from lines that are there already, the most exact
// first. What this finds is a construction, so the error of every line is known with all that it inherits.
#pragma once

#include "base/parallel.h"
#include "crease/carrier_lines.h"
#include "divide/plan.h"
#include "precision/hand_profile.h"
#include "reference/construction.h"

namespace uc {

/// Lines at k/parts of the sheet between two opposite raw edges.
struct GraduatedFamily {
  std::string name; // x and y on a level rectangle, else the direction of the lines in degrees
  Point normal{1, 0};
  double low = 0;
  double extent_mm = 0;
  int parts = 1;
  int low_edge = 0; // items of the construction
  int high_edge = 0;
  GridPlan plan; // its steps; empty when no line of the family is made
};

/// One line of the sheet and the folds that make it, the last one being the line; earlier ones only serve its
/// exactness.
struct LineInMaking {
  int carrier = -1; // index of the wanted line, -1 when it only helps others
  int family = -1;  // of a graduated family: which, and which line
  int index = 0;
  bool guessed = false;   // the first of `items` goes through marks placed by eye
  bool measured = false;  // it goes through marks from a ruler
  std::vector<int> items; // creases of the construction
};

struct LineMaking {
  Construction construction;
  std::vector<GraduatedFamily> families;
  std::vector<LineInMaking> lines; // in an order in which they can be made
  double worst_sigma_mm = 0;       // of wanted lines, at the worse end of what is wanted of them
  std::vector<double> sigma_mm;    // per line of `lines`, likewise; helpers at the worse end of the sheet
};

struct LineMakingOptions {
  bool whole_grid = false; // all lines of the families, not only the wanted ones
  int grid_parts = 0;      // the count of the grid a pattern was drawn on, when known
  Progress* progress = nullptr;
};

/// Straight division planned for the families of parallel lines (see divide/plan.h), the other lines by the
/// alignment O1 to O5, or the landing of another line, that leaves the least error, where nothing fits through two
/// pinches at the edges on a finer division, and as the last resort through two marks measured with a ruler. The sheet
/// is convex. When cancelled, lines are missing.
LineMaking made_by_folding(const std::vector<CarrierLine>& wanted, const Polygon& sheet, const HandProfile& hand,
                           const LineMakingOptions& options);

/// Every line through two marks that are measured along the raw edges.
LineMaking made_by_scoring(const std::vector<CarrierLine>& wanted, const Polygon& sheet);

/// Assumed standard error at each end of a line scored along a ruler that lies on two marks.
constexpr double score_sigma_mm = 0.15;

} // namespace uc
