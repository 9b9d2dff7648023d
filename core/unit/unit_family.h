// Families of units: many pieces folded alike that lock to a planned solid. Each states what it stands for, what it
// takes and how long the solid's edges come out for a sheet; each in a file of its own in families/, and one line in
// the list.
#pragma once

#include "base/names.h"
#include "geometry/polygon.h"
#include "solid/polyhedron.h"

#include <functional>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace uc {

enum class StandsFor { edge, face, vertex, corner };
template <>
inline constexpr auto enum_words<StandsFor> = std::to_array<Word<StandsFor>>({{StandsFor::edge, "edge"},
                                                                              {StandsFor::face, "face"},
                                                                              {StandsFor::vertex, "vertex"},
                                                                              {StandsFor::corner, "corner"}});

/// A sheet of one unit, or of two halves, or a strip: width and height in mm.
struct UnitSheet {
  double width_mm = 75;
  double height_mm = 75;
};

/// How a family suits a solid.
struct UnitFit {
  std::string refusal;               // why it cannot be; empty when it can
  std::vector<std::string> warnings; // by how much it misses, and where
  double worst_miss_deg = 0;
};

/// What holds two units together.
enum class Hold {
  pocket, // a tab between layers of the other
  wrap,   // a piece that goes round both and is folded back
  glue,
  told // whoever described the unit says that it locks; nothing was tried
};
template <>
inline constexpr auto enum_words<Hold> = std::to_array<Word<Hold>>(
    {{Hold::pocket, "pocket"}, {Hold::wrap, "wrap"}, {Hold::glue, "glue"}, {Hold::told, "told"}});

/// A unit that is cut out of its piece by a template, in mm from the piece's lower left corner.
struct UnitCutOut {
  Polygon outline;
  std::vector<Segment> creases;
};

/// Where a family's units meet, by names of its steps: the tab comes over one edge of the facet and lies on it.
struct JointPlaces {
  std::vector<std::string> facet; // corners of what the tab comes to lie on, the first two at the edge it enters by
  std::vector<std::string> tab;   // of the unit's own tab, each as it comes to lie on the other's corner above
};

struct UnitFamily {
  std::string name;  // as typed
  std::string title; // as shown
  StandsFor stands_for = StandsFor::edge;
  std::string mathematics;              // what the figures follow from, one sentence
  double ratio = 1;                     // height over width of a unit's piece
  int units_per_sheet = 1;              // strips: 0, as many as its length gives
  bool strips = false;                  // faces and clips from strips as wide as an edge
  bool handed = false;                  // left and right pieces do not join
  int folds = 8;                        // creases a unit takes, to plan the time
  int joint_layers = 4;                 // of paper where a tab lies in a pocket
  bool glued = false;                   // whatever its pockets
  bool told = false;                    // to lock, by whoever described it
  bool wraps = false;                   // its clips go round what they join
  std::vector<JointPlaces> joints = {}; // tabs and pockets, to be tried on the folded unit
  std::vector<std::string> how = {};    // a unit in words, one or two sentences each
  std::string steps = {};               // a steps file, as far as simple folds carry; empty where words alone tell it
  /// Of units that are cut out rather than folded from the whole piece; else null.
  std::function<UnitCutOut(const UnitSheet& sheet)> cut_out = nullptr;
  double thickest_mm = 0.2;
  double least_edge_mm = 10;
  /// Whether it can make this solid, whose shortest edge is 1, from sheets like this one.
  std::function<UnitFit(const Polyhedron& solid, const UnitSheet& sheet)> fit = nullptr;
  /// The solid's edge for a sheet.
  std::function<double(const UnitSheet& sheet)> edge_mm = nullptr;
  /// The apexes it raises over the faces, for edges of 1; null where faces stay as they are.
  std::function<std::vector<Point3>(const Polyhedron& solid)> tips = nullptr;
};

const std::vector<UnitFamily>& unit_families();
const UnitFamily* find_unit_family(std::string_view name);

/// Whether all edges are equally long, as with_equal_edges makes them.
bool equal_edges(const Polyhedron& solid);
/// Whether all edges are equally long and, in each face, all angles alike, as nearly.
bool regular_faces(const Polyhedron& solid);
/// Numbers of sides of the faces, of edges at the vertices: each once, ascending.
std::vector<int> face_sizes(const Polyhedron& solid);
std::vector<int> valences(const Polyhedron& solid);

} // namespace uc
