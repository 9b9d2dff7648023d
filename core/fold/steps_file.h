// A steps file: one move a line, read by people and programs.
//   let side = 150mm                       a number to re-dimension by: layers n, turn 360/n, sheet square:side
//   sheet square:side
//   crease bl onto tr                      fold and unfold
//   c2 = valley bottom onto top            stays folded, through all layers
//   valley br onto c2 through p1 layers 1  mountain tl onto br flap tl
//   fold lines: A onto B · P onto l through Q · P onto l, Q onto m · P onto l square to m · through P Q ·
//   through P square to l · along c; then layers N, flap P, moving P, way K
//   reverse tr along c3 · reverse tr along c3 outside · sink p1 along c2: the tip that is turned, and any fold line
//   squash br along c4 · petal tl · rabbit br along c5 to tr: the tip, and the line it comes onto
//   pleat c7 c8 moving br · crimp tr along c3 c4: to and fro on two creases, as a sheet or as a flap turned inside out
//   collapse valley c1 c2 mountain c3, c4 from p1 to p2 hold bl: these creases at once
//   cut along c9 keep bl, or on any other fold line: through all layers
//   repeat 4-7 at tr, tl, br · repeat 4-7 mirrored · repeat 4-7 behind: moves of these lines made again elsewhere
//   pinch left onto right at bottom        p1 = cross c1 c2
//   tuck c2 under c1                       the flap of one fold goes under that of another
//   unfold c2 · unfold all · over · turn 90 · say "Let the middle stand up."
// A hash begins a remark; the first remark is the title.
#pragma once

#include "base/names.h"

#include "fold/step_parameters.h"
#include "paper/sheet.h"

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace uc {

enum class StepVerb {
  valley,
  mountain,
  crease,
  pinch,
  reverse,
  sink,
  squash,
  petal,
  rabbit,
  pleat,
  crimp,
  collapse,
  cut,
  repeat,
  cross,
  tuck,
  unfold,
  over,
  turn,
  say
};
template <>
inline constexpr auto enum_words<StepVerb> =
    std::to_array<Word<StepVerb>>({{StepVerb::valley, "valley"},   {StepVerb::mountain, "mountain"},
                                   {StepVerb::crease, "crease"},   {StepVerb::pinch, "pinch"},
                                   {StepVerb::reverse, "reverse"}, {StepVerb::sink, "sink"},
                                   {StepVerb::squash, "squash"},   {StepVerb::petal, "petal"},
                                   {StepVerb::rabbit, "rabbit"},   {StepVerb::pleat, "pleat"},
                                   {StepVerb::crimp, "crimp"},     {StepVerb::collapse, "collapse"},
                                   {StepVerb::cut, "cut"},         {StepVerb::repeat, "repeat"},
                                   {StepVerb::cross, "cross"},     {StepVerb::tuck, "tuck"},
                                   {StepVerb::unfold, "unfold"},   {StepVerb::over, "over"},
                                   {StepVerb::turn, "turn"},       {StepVerb::say, "say"}});

/// What is brought where, by names. Which of the seven alignments it is follows from what the names stand for.
struct StepAlignment {
  enum class Form { onto, through, along };
  Form form = Form::onto;
  std::string moved, target;               // A onto B
  std::string second_moved, second_target; // , Q onto m
  std::vector<std::string> through;        // points on the crease
  std::string square_to;                   // a line the crease is square to
  std::string along;                       // an old crease
  int way = 0;                             // which of several that fit, from 1; 0: the one that suits best
};

/// A crease to collapse on: as a whole or between two points, and the way it is folded as the folder sees it.
enum class FoldWay { either, valley, mountain };
struct StepCrease {
  std::string name;
  std::string from, to;
  FoldWay way = FoldWay::either;
};

/// Where moves are made again: at other corners, mirrored, behind.
enum class CarryWay { at, mirrored, behind };
struct StepRepeat {
  int first = 0, last = 0; // lines of the file
  CarryWay way = CarryWay::at;
  std::vector<std::string> places; // at: where to; behind: none or one
};

struct StepLine {
  int number = 0; // in the file, from 1
  StepVerb kind = StepVerb::say;
  std::string name; // given to the crease or point that is made
  StepAlignment alignment;
  int layers = 0;                  // 0: all
  std::string flap;                // only what holds this point; the tip of a named fold; collapse, cut: what stays
  bool outside = false;            // reverse: round the layers, not between them
  std::vector<StepCrease> creases; // collapse
  StepRepeat repeat;
  std::string moving;             // the side of this point moves
  std::string at;                 // pinch: where
  std::vector<std::string> names; // cross: two lines; tuck: two creases; unfold: creases, none for all; pleat and
                                  // crimp: the two creases; rabbit: the end
                                  // the ear is laid to
  double degrees = 0;             // turn, counter-clockwise
  std::string remark;             // say
};

struct StepsFile {
  std::string title;
  Sheet sheet;
  StepParameters parameters;
  std::vector<StepLine> lines;
};

constexpr std::size_t most_step_lines = 2000;

/// Errors begin with "line N: ". `sheet` and `values`, when given, replace those of the file; values of parameters that
/// it does not have change nothing.
Result<StepsFile> parse_steps(std::string_view text, const std::optional<Sheet>& sheet = std::nullopt,
                              const StepValues& values = {});

} // namespace uc
