// A move is one thing the hands do: what is aligned with what, how far the crease runs, what it makes. Moves are data;
// sentences are generated from them (programme/text.h), so they can be translated and re-dimensioned.
#pragma once

#include "base/names.h"

#include "geometry/plane.h"
#include "programme/element_id.h"

#include <optional>
#include <string>
#include <vector>

namespace uc {

enum class MoveKind {
  align,          // bring `moving` onto `onto` and crease
  crease_through, // fold on the existing crease `onto`, crease where `moving` lands
  crease_between, // crease through the points of `through`
  pinch,          // as align, but only a mark
  guess,          // a mark placed by eye
  score,
  cut,
  turn_over,
  rotate,
  work_both_ways, // fold an existing crease the other way as well
  collapse,
  join,
  wait,
  damp,
  clip,
  glue,
  curl,
  check,
  mark,  // a mark that is measured: with a ruler or a printed template
  fold,  // paper is brought over and stays there
  unfold // what was folded lies open again
};
template <>
inline constexpr auto
    enum_words<MoveKind> = std::to_array<Word<MoveKind>>({{MoveKind::align, "align"},
                                                          {MoveKind::crease_through, "crease-through"},
                                                          {MoveKind::crease_between, "crease-between"},
                                                          {MoveKind::pinch, "pinch"},
                                                          {MoveKind::guess, "guess"},
                                                          {MoveKind::score, "score"},
                                                          {MoveKind::cut, "cut"},
                                                          {MoveKind::turn_over, "turn-over"},
                                                          {MoveKind::rotate, "rotate"},
                                                          {MoveKind::work_both_ways, "work-both-ways"},
                                                          {MoveKind::collapse, "collapse"},
                                                          {MoveKind::join, "join"},
                                                          {MoveKind::wait, "wait"},
                                                          {MoveKind::damp, "damp"},
                                                          {MoveKind::clip, "clip"},
                                                          {MoveKind::glue, "glue"},
                                                          {MoveKind::curl, "curl"},
                                                          {MoveKind::check, "check"},
                                                          {MoveKind::mark, "mark"},
                                                          {MoveKind::fold, "fold"},
                                                          {MoveKind::unfold, "unfold"}});

/// What a move does to the paper: a closed set. Whoever works out states, drawings or words has a case for each, so a
/// new one does not compile until it has them.
enum class Effect {
  make_creases, // the sheet lies open again after it
  refold,       // paper lies in other layers after it
  collapse,
  join,
  handle, // it is turned over or rotated
  cut,
  work // wait, damp, clip, glue, curl, look
};
Effect effect_of(MoveKind kind);

enum class Fold { undirected, valley, mountain };
template <>
inline constexpr auto enum_words<Fold> = std::to_array<Word<Fold>>({{Fold::undirected, "undirected"},
                                                                    {Fold::valley, "valley"},
                                                                    {Fold::mountain, "mountain"}});

enum class Caution { none, blade, glue, damp, heat, small_parts };
template <>
inline constexpr auto enum_words<Caution> = std::to_array<Word<Caution>>({{Caution::none, "none"},
                                                                          {Caution::blade, "blade"},
                                                                          {Caution::glue, "glue"},
                                                                          {Caution::damp, "damp"},
                                                                          {Caution::heat, "heat"},
                                                                          {Caution::small_parts, "small-parts"}});

enum class Role { raw_edge, corner, crease, point };
template <>
inline constexpr auto enum_words<Role> = std::to_array<Word<Role>>(
    {{Role::raw_edge, "raw-edge"}, {Role::corner, "corner"}, {Role::crease, "crease"}, {Role::point, "point"}});

/// Something on the sheet that moves refer to: an edge, a corner, a crease. Creases are numbered within a family of
/// parallel lines, at index/parts from its low side.
struct Element {
  ElementId id;
  Role role = Role::crease;
  std::string label; // its own short name, "2" of crease 2 or "A" of mark A; empty for edges and lines of grids
  std::vector<ElementId> made_of; // of marks: the two lines that cross there
  std::string place;              // of edges and corners: left, right, bottom, top, lower-left, ...
  std::string family;             // of creases: x, y, rising, falling, 0, 60, 120
  int index = 0;
  int parts = 1;
  bool by_direction = false;  // several families on one sheet: named with the way it runs, "the upright crease at 3/8"
  std::vector<Segment> spans; // where it runs on the sheet, mm
  std::optional<double> sigma_mm; // expected standard error at its worse end
  bool existing = false;          // on the sheet before the first move
};

enum class Extent { full, pinch, to_diagonals, inset, partial, between };
template <>
inline constexpr auto enum_words<Extent> = std::to_array<Word<Extent>>({{Extent::full, "full"},
                                                                        {Extent::pinch, "pinch"},
                                                                        {Extent::to_diagonals, "to-diagonals"},
                                                                        {Extent::inset, "inset"},
                                                                        {Extent::partial, "partial"},
                                                                        {Extent::between, "between"}});

struct Move {
  MoveKind kind = MoveKind::check;
  // What is aligned, by element ids: moving[i] comes onto onto[i]; a line that comes onto itself is creased square to
  // it. The crease goes through every element of `through`.
  std::vector<ElementId> moving;
  std::vector<ElementId> onto;
  std::vector<ElementId> through;
  std::optional<ElementId> makes;
  Extent extent = Extent::full;
  std::vector<Segment> spans;  // where paper is creased by this move, mm
  std::vector<ElementId> ends; // elements at both ends of the first spans, none where nothing has a name
  Fold fold = Fold::undirected;
  int layers = 1;
  double degrees = 0;      // rotate: counter-clockwise as the folder sees the sheet
  double wait_minutes = 0; // wait, damp, clip, glue
  Caution caution = Caution::none;
  double sigma_mm = 0;      // expected standard error of what it makes, at the worse end
  double hand_sigma_mm = 0; // error this one alignment adds
  double seconds = 0;       // planned
  int repeat = 0;           // 1-based position in a repeated group, 0 when none: "side 2 of 4"
  int repeats = 0;
  bool choice = false;   // other creases would bring the same together; the sentence says which is meant
  bool replaces = false; // makes an element again, more exactly
  bool settles = false;  // work_both_ways: the crease is meant to stay as this move folds it
};

} // namespace uc
