// A crease pattern as a mesh that can move in space: triangles, bars along all their edges, and hinges at the edges
// between two of them. Faces of more than three corners get diagonals, at which they may bend.
#pragma once

#include "form/crease_pattern.h"
#include "pattern/hand_closing.h"

#include <Eigen/Core>

#include <array>
#include <vector>

namespace uc {

struct FoldMesh {
  struct Bar {
    VertexId a;
    VertexId b;
    double rest_mm = 0;
  };
  struct Hinge {
    VertexId a; // the axis, from a to b
    VertexId b;
    VertexId left; // the third corners of the triangles beside it
    VertexId right;
    CreaseId edge; // none for a diagonal of a face
    EdgeKind kind = EdgeKind::unfolded;
    double length_mm = 0;
    double full_deg = 180; // of its fold when all is closed
    CreaseGoals goals;     // the stages of its family; none: it closes with the whole
  };
  std::vector<Point> flat; // vertices, mm, numbered as in the pattern
  std::vector<std::array<VertexId, 3>> triangles;
  std::vector<FaceId> face_of; // per triangle
  std::vector<Bar> bars;       // those of the pattern's edges first, in their order
  std::vector<Hinge> hinges;
  std::vector<int> hinge_of; // per edge of the pattern; -1 at raw edges
};

/// Fails for what cannot move as one sheet, with what is wrong and where: no paper, loose parts, holes in a face, open
/// cuts, edges that cross.
/// `full_deg` and `goals` are per edge of the pattern; empty for 180 everywhere, and for no stages.
Result<FoldMesh> fold_mesh(const HealedPattern& pattern, const std::vector<double>& full_deg = {},
                           const std::vector<CreaseGoals>& goals = {});

} // namespace uc
