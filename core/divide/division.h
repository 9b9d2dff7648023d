// A whole division: the layout of the grid, one plan per direction, and the programme of moves they make together.
#pragma once

#include "divide/grid.h"
#include "programme/programme.h"

namespace uc {

struct Division {
  GridSpec spec;
  HandProfile hand;
  GridLayout layout;
  std::vector<GridPlan> plans; // one per family of the layout
  Programme programme;
  double worst_sigma_mm = 0;
  double mean_sigma_mm = 0;
  int creases = 0;        // folds that make lines, guesses not counted
  int guides = 0;         // creases that corners are led along or that others stop at, beside those of the grid
  int start_creases = 0;  // folds in front of them that make the start
  int start_moves = 0;    // moves in front that make the start
  bool start_fits = true; // false when the start's recipe does not fit this sheet, and is left out
  int turn_overs = 0;
  int rotations = 0;
  double minutes = 0;
};

/// Plans the grid with the method of the spec. Fails with a sentence when a figure of the spec is out of range.
Result<Division> divide(const Sheet& sheet, const GridSpec& spec, const HandProfile& hand);

/// The same grid by every method, in the order of all_methods.
Result<std::vector<Division>> compare_methods(const Sheet& sheet, const GridSpec& spec, const HandProfile& hand);

/// Id of the element that stands for line `index` of a family, edges included.
ElementId line_element_id(std::size_t family, int index);

} // namespace uc
