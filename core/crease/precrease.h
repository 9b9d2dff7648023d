// Pre-creasing a pattern: the moves that put its creases on the sheet before it is collapsed. Folders differ here, so
// there are several schools, each with what it costs.
#pragma once

#include "base/names.h"

#include "crease/line_making.h"
#include "programme/programme.h"

namespace uc {

enum class CreaseSchool {
  everything, // the whole grid and every crease from edge to edge
  needed,     // nothing but the pattern's creases, helping lines as pinches
  scored,     // along a ruler with a blunt point, each from the side it bulges away from
  as_you_go,  // twist after twist, each formed before the creases of the next are made
  usual       // needed, but scored where that takes less than two thirds of the moves
};
template <>
inline constexpr auto
    enum_words<CreaseSchool> = std::to_array<Word<CreaseSchool>>({{CreaseSchool::everything, "everything"},
                                                                  {CreaseSchool::needed, "needed"},
                                                                  {CreaseSchool::scored, "scored"},
                                                                  {CreaseSchool::as_you_go, "as-you-go"},
                                                                  {CreaseSchool::usual, "usual"}});
/// Those that differ; what is usual is one of them.
constexpr CreaseSchool all_schools[] = {CreaseSchool::everything, CreaseSchool::needed, CreaseSchool::scored,
                                        CreaseSchool::as_you_go};

struct PrecreaseSpec {
  CreaseSchool school = CreaseSchool::needed;
  bool both_ways = false; // every crease is worked to both sides, not only those that need it
  bool operator==(const PrecreaseSpec&) const = default;
};

struct Precrease {
  PrecreaseSpec spec; // never the usual one, but what that comes to
  std::vector<CarrierLine> wanted;
  LineMaking making;
  Programme programme;
  double worst_sigma_mm = 0; // of the pattern's lines
  double mean_sigma_mm = 0;
  int folds = 0;        // moves that crease, pinches included
  int pinches = 0;      // of them
  int measured = 0;     // lines that go through ruler marks
  int worked_again = 0; // creases folded once more from the other side
  int turn_overs = 0;
  int rotations = 0;
  double minutes = 0;
  double crease_mm = 0; // creased in all
  double scar_mm = 0;   // of it, where the pattern has no crease
};

/// More lines than these nobody pre-creases one by one.
constexpr std::size_t most_precrease_lines = 600;

/// `grid_parts` is the count of the grid the pattern was drawn on, 0 when unknown; the school `everything` folds that
/// grid. The school `as_you_go` needs twists, see twists.h. What is not convex, or has slits, is creased on a larger
/// sheet, `on` where it is given, and cut in the end, see cut_out.h. Fails for patterns with crossings, without creases
/// or an outline, or with too many lines; and when it was cancelled.
Result<Precrease> precrease(const CreasePattern& pattern, const HandProfile& hand, const PrecreaseSpec& spec,
                            int grid_parts = 0, Progress* progress = nullptr, const Polygon& on = {});

} // namespace uc
