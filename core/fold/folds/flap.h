// What the named folds ask of a flap: the layer a point lies in as far as it is flat, its rim, and the parts of lines
// that run in it.
#pragma once

#include "fold/scene.h"
#include "form/refolding.h"

#include <vector>

namespace uc {

/// The half of the plane where side * line.distance is positive, as the paper lies.
struct HalfPlane {
  Line line;
  double side = 1;
  [[nodiscard]] double depth(const Point& p) const { return side * line.distance(p); }
};
HalfPlane beside(const Line& line, const Point& inside);

/// The faces that lie in one plane with this one, joined by creases that are open; with `within`, only as far as they
/// are joined inside of it. Ascending.
std::vector<FaceId> flat_part(const PieceForm& form, FaceId face, const HalfPlane* within = nullptr);

/// A piece of the rim of such a part: an edge of the pattern with the part on one side only.
struct RimEdge {
  CreaseId edge;
  FaceId inside;
  int outside = -1; // the face beyond a fold; -1 at the edge of the paper
  Segment lies;     // as the paper lies
};
std::vector<RimEdge> rim_of(const PieceForm& form, const std::vector<FaceId>& part);

/// Of these faces the one the folder sees: no other of them lies over it.
FaceId uppermost(const Scene& scene, const std::vector<FaceId>& faces);

/// The pieces of a line in these faces that lie in all of the half planes, on the bare sheet.
std::vector<std::pair<FaceId, Segment>> pieces_in(const PieceForm& form, const Line& line,
                                                  const std::vector<FaceId>& faces,
                                                  const std::vector<HalfPlane>& within);

/// A line that a crease in these faces runs on already, as a record that folds along it; null where there is none.
std::optional<FoldRecord> old_crease_on(const Scene& scene, const Line& line, const std::vector<FaceId>& faces);

/// The old crease or edge that a fold is made along; it may be the edge of the packet.
FoldRecord along_line(const Scene& scene, const StepAlignment& wish);

/// The record of a line that is new, aligned by these things.
FoldRecord aligned_by(Alignment op, std::vector<AlignedThing> things, const Line& line);

/// A point well inside a face, as the paper lies.
Point inside_as_it_lies(const PieceForm& form, FaceId face);

/// All that moves lies above all that stays, as the folder sees it. Throws NotMade when other paper lies on it before.
std::vector<std::array<FaceId, 2>> on_top(const Scene& scene, const PieceForm& creased,
                                          const std::vector<Isometry>& place);

} // namespace uc
