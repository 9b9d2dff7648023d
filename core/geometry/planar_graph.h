// Straight segments as a planar graph: what meets is joined, what crosses is found or split, and the faces between the
// segments are walked. Crease patterns and the layers of their folded forms both stand on this.
#pragma once

#include "base/index.h"
#include "base/parallel.h"
#include "geometry/polygon.h"

#include <algorithm>
#include <array>
#include <cstdint>
#include <vector>

namespace uc {

struct SplitPiece {
  VertexId from;
  VertexId to;
  int source = 0; // index of the segment it is a part of
  /// The same for pieces that coincide, whichever way they run.
  [[nodiscard]] std::uint64_t key() const {
    return static_cast<std::uint64_t>(std::min<int>(from, to)) << 32 |
           static_cast<std::uint64_t>(std::max<int>(from, to));
  }
};

struct SegmentCrossing {
  Point at = Point::Zero();
  std::array<int, 2> sources{};
};

struct SplitSegments {
  std::vector<Point> vertices;            // those of the input that were kept, in their order, then crossings
  std::vector<VertexId> vertex_of;        // per vertex of the input: where it went
  std::vector<SplitPiece> pieces;         // by source, along the source; pieces of overlapping sources coincide
  std::vector<SegmentCrossing> crossings; // those left, or those that were split
  int merged_vertices = 0;
  int dropped_segments = 0; // shorter than the tolerance
  int split_segments = 0;   // by vertices that lie on them
  std::size_t too_many =
      0; // crossings found, when they are more than allowed: it is given up there, with nothing split
};

struct SplitLimits {
  std::size_t most_crossings = static_cast<std::size_t>(-1);
  const Progress* progress = nullptr; // stopping it leaves the work where it is
};

/// Merges vertices closer than `tolerance`, splits segments at the vertices that lie on them and, if asked for, where
/// two of them cross. Linear in the number of segments for segments of similar length.
SplitSegments split_segments(const std::vector<Point>& vertices, const std::vector<std::array<VertexId, 2>>& segments,
                             double tolerance, bool split_crossings, const SplitLimits& limits = {});

struct GraphFace {
  std::vector<VertexId> cycle;              // counter-clockwise, begun with its least rotation
  std::vector<std::vector<VertexId>> holes; // clockwise walks round what lies inside
};

struct GraphFaces {
  std::vector<GraphFace> faces;             // in lexicographic order of their cycles
  std::vector<std::array<FaceId, 2>> sides; // per edge: the face to its left and to its right, -1 outside
};

/// The outgoing edges of every vertex in counter-clockwise order, as half-edges: 2·edge, plus 1 against its sense.
class VertexStars {
public:
  VertexStars() = default;
  VertexStars(const std::vector<Point>& vertices, const std::vector<std::array<VertexId, 2>>& edges);
  [[nodiscard]] int degree(VertexId vertex) const { return first_[index(vertex) + 1] - first_[index(vertex)]; }
  [[nodiscard]] const int* begin(VertexId vertex) const { return half_edges_.data() + first_[index(vertex)]; }
  [[nodiscard]] const int* end(VertexId vertex) const { return half_edges_.data() + first_[index(vertex) + 1]; }
  /// Direction of an outgoing half-edge in degrees, -180 to 180.
  [[nodiscard]] double degrees(int half_edge) const { return degrees_[index(half_edge)]; }
  /// The half-edge that follows on the same face, which lies to the left.
  [[nodiscard]] int next(int half_edge) const { return next_[index(half_edge)]; }

private:
  static std::size_t index(int i) { return static_cast<std::size_t>(i); }
  std::vector<int> first_;
  std::vector<int> half_edges_;
  std::vector<double> degrees_;
  std::vector<int> next_;
};

/// Faces of a graph without crossings. Edges are pairs of different vertices, each pair at most once.
GraphFaces graph_faces(const std::vector<Point>& vertices, const std::vector<std::array<VertexId, 2>>& edges,
                       const VertexStars& stars);

bool contains(const std::vector<Point>& vertices, const std::vector<VertexId>& cycle, const Point& p);

} // namespace uc
