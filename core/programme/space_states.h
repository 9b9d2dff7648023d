// A sheet in space at the stages of its collapse: where its vertices are after each, so that a programme can be drawn
// without working the collapse out again.
#pragma once

#include "form/crease_pattern.h"

#include <Eigen/Core>

#include <string>
#include <vector>

namespace uc {

struct SpaceStates {
  struct Face {
    std::vector<VertexId> cycle; // counter-clockwise on the flat sheet
    std::vector<EdgeKind> sides; // from each corner to the next
    std::vector<CreaseId> edges; // of the pattern, the same way
    bool held = false;           // stays flat on the table
  };
  std::vector<Face> faces;
  std::string held;                                 // what stays flat, in a word; empty when nothing does
  std::vector<std::vector<Eigen::Vector3d>> states; // mm; the flat sheet first
  std::vector<std::string> hands;                   // how hands close it: one sentence for each stage, or all together
  std::vector<Point> on_sheet; // of each vertex, mm on the bare sheet; empty in programmes of earlier versions
};

} // namespace uc
