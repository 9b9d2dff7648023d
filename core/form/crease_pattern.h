// The crease pattern: a planar graph of creases and edges on a sheet, with its faces. Everything that is proved, folded
// or drawn of a pattern starts from the two types here. Lengths are mm on the bare sheet, face side up.
#pragma once

#include "base/names.h"

#include "base/result.h"
#include "geometry/planar_graph.h"

#include <optional>
#include <string>
#include <vector>

namespace uc {

enum class EdgeKind { raw, mountain, valley, undirected, unfolded, cut };
template <>
inline constexpr auto enum_words<EdgeKind> = std::to_array<Word<EdgeKind>>({{EdgeKind::raw, "raw"},
                                                                            {EdgeKind::mountain, "mountain"},
                                                                            {EdgeKind::valley, "valley"},
                                                                            {EdgeKind::undirected, "undirected"},
                                                                            {EdgeKind::unfolded, "unfolded"},
                                                                            {EdgeKind::cut, "cut"}});

/// Whether paper is folded here, in a known direction or not.
constexpr bool folds(EdgeKind k) {
  return k == EdgeKind::mountain || k == EdgeKind::valley || k == EdgeKind::undirected;
}
/// Whether the paper goes on across this edge.
constexpr bool joins(EdgeKind k) { return k != EdgeKind::raw && k != EdgeKind::cut; }
/// The kind seen from the other side of the sheet.
EdgeKind turned_over(EdgeKind kind);

struct PatternEdge {
  VertexId from;
  VertexId to;
  EdgeKind kind = EdgeKind::undirected;
  PatternEdge() = default;
  PatternEdge(VertexId a, VertexId b, EdgeKind k) : from(a), to(b), kind(k) {}
  /// By numbers, where a pattern is written down.
  template <std::integral A, std::integral B> PatternEdge(A a, B b, EdgeKind k) : from(a), to(b), kind(k) {}
  [[nodiscard]] VertexId other(VertexId vertex) const { return vertex == from ? to : from; }
};

struct CreasePattern {
  std::vector<Point> vertices;
  std::vector<PatternEdge> edges;

  [[nodiscard]] Segment segment(CreaseId edge) const {
    const PatternEdge& e = edges[static_cast<std::size_t>(edge)];
    return {vertices[static_cast<std::size_t>(e.from)], vertices[static_cast<std::size_t>(e.to)]};
  }
};

/// Vertices closer than this are one: a millionth of the pattern's diagonal, in mm.
double snap_tolerance(const CreasePattern& pattern);

struct PatternRepair { // what reading a pattern had to mend
  int merged_vertices = 0;
  int dropped_edges = 0; // of no length
  int split_edges = 0;   // at vertices that lie on them
  int split_crossings = 0;
  int doubled_edges = 0; // that lay on another edge; the kind named first in `strength` stays
  [[nodiscard]] bool empty() const {
    return merged_vertices + dropped_edges + split_edges + split_crossings + doubled_edges == 0;
  }
  /// One sentence for each thing that was mended.
  [[nodiscard]] std::vector<std::string> sentences() const;
};

struct HealedPattern {
  CreasePattern pattern;
  PatternRepair repair;
  std::vector<SegmentCrossing> crossings; // edges that cross and were left so; sources are edges of `pattern`
  std::size_t too_many = 0;               // crossings, when there are more than allowed; then the pattern is empty
};

/// Lines of a drawing that cross in more places than this are refused: mending them would take minutes.
constexpr std::size_t most_crossings = 200'000;

struct HealOptions {
  double tolerance_mm = 0; // 0: snap_tolerance
  bool split_crossings = false;
  SplitLimits limits = {};
};

/// A pattern in which edges meet only at vertices, or cross where `crossings` says. Vertices keep their order; of edges
/// that lie on each other one stays, raw before cut before mountain or valley before undirected before unfolded.
/// `source`, when given, gets for every edge the edge of `rough` it is a part of.
HealedPattern healed(const CreasePattern& rough, const HealOptions& options = {},
                     std::vector<CreaseId>* source = nullptr);

/// Faces, the paper among them, and the stars of the vertices, of a pattern without crossings.
struct PatternGraph {
  std::vector<GraphFace> faces;             // of paper, in lexicographic order
  std::vector<std::array<FaceId, 2>> sides; // per edge: faces to the left and right, -1 where there is no paper
  VertexStars stars;
  std::vector<char> interior; // per vertex: surrounded by paper, not on a raw edge or a cut
};
PatternGraph graph_of(const CreasePattern& pattern);

/// Corners of a face, counter-clockwise.
Polygon outline_of(const CreasePattern& pattern, const GraphFace& face);

} // namespace uc
