// A move is one thing the hands do: what is aligned with what, how far the crease runs, what it makes. Moves are data;
// sentences are generated from them (programme/text.h), so they can be translated and re-dimensioned. A move is what is
// aligned and one effect of a closed set.
#pragma once

#include "base/index.h"
#include "base/names.h"

#include "geometry/plane.h"
#include "geometry/polygon.h"
#include "programme/element_id.h"

#include <optional>
#include <string>
#include <variant>
#include <vector>

namespace uc {

/// How a crease is made on a sheet that lies open again afterwards.
enum class CreaseWay {
  align,     // bring `moving` onto `onto` and crease
  through,   // fold on the existing crease `onto`, crease where `moving` lands
  between,   // crease through the points of `through`
  guess,     // a mark placed by eye
  score,     // drawn with a blunt point along a ruler
  mark,      // measured: with a ruler or a printed template
  crease_on, // on an existing crease, further along its line
  both_ways  // fold an existing crease the other way as well
};
template <>
inline constexpr auto
    enum_words<CreaseWay> = std::to_array<Word<CreaseWay>>({{CreaseWay::align, "align"},
                                                            {CreaseWay::through, "crease-through"},
                                                            {CreaseWay::between, "crease-between"},
                                                            {CreaseWay::guess, "guess"},
                                                            {CreaseWay::score, "score"},
                                                            {CreaseWay::mark, "mark"},
                                                            {CreaseWay::crease_on, "crease-on"},
                                                            {CreaseWay::both_ways, "work-both-ways"}});

enum class RefoldWay { fold, tuck, unfold };
template <>
inline constexpr auto enum_words<RefoldWay> = std::to_array<Word<RefoldWay>>({{RefoldWay::fold, "fold"},
                                                                              {RefoldWay::tuck, "tuck"},
                                                                              {RefoldWay::unfold, "unfold"}});

enum class HandleWay { turn_over, rotate };
template <>
inline constexpr auto enum_words<HandleWay> = std::to_array<Word<HandleWay>>({{HandleWay::turn_over, "turn-over"},
                                                                              {HandleWay::rotate, "rotate"}});

enum class WorkWay { wait, damp, clip, unclip, form, push, let_go, glue, curl, check };
template <>
inline constexpr auto enum_words<WorkWay> = std::to_array<Word<WorkWay>>({{WorkWay::wait, "wait"},
                                                                          {WorkWay::damp, "damp"},
                                                                          {WorkWay::clip, "clip"},
                                                                          {WorkWay::unclip, "unclip"},
                                                                          {WorkWay::form, "form"},
                                                                          {WorkWay::push, "push-over"},
                                                                          {WorkWay::let_go, "let-go"},
                                                                          {WorkWay::glue, "glue"},
                                                                          {WorkWay::curl, "curl"},
                                                                          {WorkWay::check, "check"}});

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

/// What comes together, by element ids: moving[i] comes onto onto[i]; a line that comes onto itself is creased square
/// to it. The crease goes through every element of `through`.
struct Aligned {
  std::vector<ElementId> moving;
  std::vector<ElementId> onto;
  std::vector<ElementId> through;
  std::vector<Segment> others =
      {}; // further creases that would bring the same together; the sentence says which is meant
  friend bool operator==(const Aligned&, const Aligned&) = default;
};

/// The sheet lies open again after it.
struct MakeCreases {
  CreaseWay way = CreaseWay::align;
  std::optional<ElementId> makes;
  Extent extent = Extent::full;
  std::vector<Segment> spans;  // where paper is creased, mm on the bare sheet
  std::vector<ElementId> ends; // elements at both ends of the first spans, none where nothing has a name
  Fold fold = Fold::undirected;
  int layers = 1;
  bool replaces = false; // makes an element again, more exactly
  bool settles = false;  // both_ways: the crease is meant to stay as this move folds it
  friend bool operator==(const MakeCreases&, const MakeCreases&) = default;
};

/// Paper lies in other layers after it.
struct Refold {
  RefoldWay way = RefoldWay::fold;
  MakeCreases creases;
  friend bool operator==(const Refold&, const Refold&) = default;
};

/// Creases driven from one fold to another, in percent of closed.
struct Collapse {
  double from_percent = 0;
  double to_percent = 100;
  int stage = 1; // of so many
  int stages = 1;
  std::vector<CreaseId> creases; // of the pattern that are driven
  int state = 0;                 // of the programme's states in space, afterwards
  double strain = 0;             // the greatest in the paper then
  friend bool operator==(const Collapse&, const Collapse&) = default;
};

/// One of many units is folded after its own steps.
struct FoldUnit {
  UnitId unit{0}; // of the programme's map
  friend bool operator==(const FoldUnit&, const FoldUnit&) = default;
};

/// Whose tab goes into whose pocket where two units meet.
enum class TabWay { any, out, in };
template <>
inline constexpr auto
    enum_words<TabWay> = std::to_array<Word<TabWay>>({{TabWay::any, "any"}, {TabWay::out, "out"}, {TabWay::in, "in"}});

/// A unit is put to those it meets: a tab goes into a pocket.
struct Join {
  struct Partner {
    UnitId unit{0};
    TabWay tab = TabWay::any; // out: the new unit's tab goes into this one's pocket
    friend bool operator==(const Partner&, const Partner&) = default;
  };
  UnitId unit{0}; // of the programme's map
  std::vector<Partner> to;
  std::vector<int> closes; // of each ring it closes, how many units it has
  int rings_closed = 0;    // in all, with these
  bool glued = false;      // else paper holds paper
  friend bool operator==(const Join&, const Join&) = default;
};

struct Handle {
  HandleWay way = HandleWay::turn_over;
  double degrees = 0; // rotate: counter-clockwise as the folder sees the sheet
  friend bool operator==(const Handle&, const Handle&) = default;
};

struct Cut {
  std::vector<Segment> along; // mm on the bare sheet; a closed outline is what is kept
  friend bool operator==(const Cut&, const Cut&) = default;
};

/// Whether a cut is a closed outline, of which the inside is kept.
bool keeps_outline(const Cut& cut);

struct Work {
  WorkWay way = WorkWay::check;
  double minutes = 0;                                           // wait, damp, clip, glue
  std::optional<std::array<double, 2>> place_mm = std::nullopt; // of a clip, a twist or a corner, on the flat sheet
  std::optional<int> state = std::nullopt; // of the programme's states in space, afterwards; none: as before
  friend bool operator==(const Work&, const Work&) = default;
};

/// What a move does to the paper: a closed set. Whoever works out states, drawings or words has a case for each, so a
/// new one does not compile until it has them.
using Effect = std::variant<MakeCreases, Refold, Collapse, FoldUnit, Join, Handle, Cut, Work>;

/// Which repeat of its programme a move belongs to, and at which time, from 1.
struct RepeatPlace {
  int repeat = 0;
  int time = 1;
  friend bool operator==(const RepeatPlace&, const RepeatPlace&) = default;
};

struct Move {
  Aligned aligned;
  Effect effect = Work{};
  Caution caution = Caution::none;
  double sigma_mm = 0;      // expected standard error of what it makes, at the worse end
  double hand_sigma_mm = 0; // error this one alignment adds
  double seconds = 0;       // planned
  std::optional<RepeatPlace> repeat;

  /// What it creases; empty for moves that crease nothing.
  [[nodiscard]] const MakeCreases& creases() const;
  /// How far it rotates the sheet, counter-clockwise as the folder sees it; 0 for other moves.
  [[nodiscard]] double turn_deg() const;
  [[nodiscard]] bool is(CreaseWay way) const;
  [[nodiscard]] bool is(RefoldWay way) const;
  [[nodiscard]] bool is(HandleWay way) const;
  [[nodiscard]] bool is(WorkWay way) const;
  template <typename E> [[nodiscard]] bool is() const { return std::holds_alternative<E>(effect); }

  static Move turning_over(double seconds);
  static Move rotating(double degrees, double seconds);
  /// What is kept is cut out along its outline.
  static Move cutting(const Polygon& outline, double seconds);
};

/// The word for what a move does, as files and tables have it: "align", "pinch", "turn-over", "cut".
std::string kind_name(const Move& move);
/// The effect such a word stands for; none for others.
std::optional<Effect> effect_named(const std::string& word);

/// Calls the case for an effect; every kind must have one.
template <typename... Case> struct EffectCases : Case... { using Case::operator()...; };
template <typename... Case> decltype(auto) by_effect(const Move& move, Case... cases) {
  return std::visit(EffectCases<Case...>{cases...}, move.effect);
}

} // namespace uc
