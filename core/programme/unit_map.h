// The units of a solid laid flat: where each is drawn, what colour it has, so that any programme that folds and joins
// them can be drawn and told by their numbers.
#pragma once

#include "geometry/polygon.h"

#include <string>
#include <vector>

namespace uc {

struct UnitMap {
  struct Place {
    Polygon outline; // mm
    int colour = 0;  // of `colours`
  };
  struct Colour {
    std::string name;
    std::string css; // #RRGGBB
    friend bool operator==(const Colour&, const Colour&) = default;
  };
  std::vector<Place> units;
  std::vector<Colour> colours;
  bool handed = false; // left and right units do not join
  int rings = 0;       // that close in all
};

} // namespace uc
