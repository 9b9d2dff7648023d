// A net: the faces of a convex solid laid flat, joined along a tree of edges, with a tab for each edge that is cut.
#pragma once

#include "geometry/polygon.h"
#include "solid/polyhedron.h"

namespace uc {

struct Net {
  std::vector<Polygon> faces;     // in the order of the solid's; counter-clockwise, outside up
  std::vector<Segment> folds;     // edges between two faces
  std::vector<Segment> seams;     // edges that are cut, on the side that has no tab
  std::vector<Segment> tabbed;    // edges at which a tab is folded
  std::vector<Polygon> tabs;      // by tabbed edge: its two ends, then back along the tab's outer side
  std::vector<double> fold_deg;   // per fold how far it is folded back: 180 less the dihedral angle
  std::vector<double> tabbed_deg; // the same for the tabs
  int without_tab = 0;            // cut edges that had no room for one
};

/// The faces in breadth from each face in turn until none overlap. Tabs are `tab` wide, with ends at 45 degrees, or as
/// wide as a face's room allows; an edge gets its tab on that side where nothing lies in its way. Fails when every net
/// tried overlaps itself.
Result<Net> net_of(const Polyhedron& solid, double tab);

} // namespace uc
