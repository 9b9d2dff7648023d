// Units as they stand in space: the facets each shows on the finished solid, so that a view can draw those that are
// there and files can hold the whole.
#pragma once

#include "unit/unit_plan.h"

namespace uc {

struct UnitShape {
  std::vector<Point3> vertices;
  struct Facet {
    std::array<int, 3> corners{}; // counter-clockwise seen from outside
    UnitId unit{0};
  };
  std::vector<Facet> facets;
  struct Rim {
    std::array<int, 2> ends{};
    UnitId unit{0};
  };
  std::vector<Rim> rims; // what bounds a unit
};

/// Edge units of pyramids are the two facets that meet at their edge, up to the apexes; other edge units a band along
/// it; face units their face, vertex units a quarter of each face about their corner, clips a narrow band across their
/// edge. mm, as the plan's solid.
UnitShape unit_shape(const UnitPlan& plan);

/// The middle of a unit, from the middle of the solid.
Point3 unit_direction(const UnitPlan& plan, UnitId unit);

} // namespace uc
