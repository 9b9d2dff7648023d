// A pattern's creases as strokes of a scoring plotter: every crease once, those that fold away from the face from the
// underside, in an order that keeps the sheet flat and lifts the tool for short ways only. Which commands a machine is
// given for them is io's business.
#pragma once

#include "base/names.h"
#include "form/crease_pattern.h"

#include <optional>
#include <vector>

namespace uc {

/// The side that is up while strokes are scored.
enum class ScoredSide { face, underside };
template <>
inline constexpr auto enum_words<ScoredSide> = std::to_array<Word<ScoredSide>>({{ScoredSide::face, "face"},
                                                                                {ScoredSide::underside, "underside"}});

/// What is scored without touching the sheet. The sheet lies with its box at the origin; for the underside it has been
/// turned over left to right and lies there again, so strokes are as the machine sees them, mm.
struct ScorePass {
  ScoredSide side = ScoredSide::face;
  std::vector<Segment> strokes;
};

/// How the machine is set. The pressure is passed on; nothing is computed from it.
struct ScoreSettings {
  double feed_mm_s = 50;
  double pressure_g = 80;
  std::optional<Point> bed_mm; // width and depth; as large as the sheet when not said
};
Status check(const ScoreSettings& settings);

/// Rules of thumb for the time: the lifted tool's speed, one lift or drop, turning the sheet over and laying it again.
constexpr double lifted_mm_s = 100;
constexpr double lift_seconds = 0.15;
constexpr double turn_over_seconds = 30;
/// How far a stroke may lie off the sheet unnoticed: two steps of a coarse machine.
constexpr double scoring_tolerance_mm = 0.05;

struct ScorePlan {
  Polygon sheet; // with its box at the origin, face up
  std::vector<ScorePass> passes;
  double travel_mm = 0; // lifted, the way back to the origin included
  double scored_mm = 0;
  double minutes = 0;
  [[nodiscard]] std::size_t strokes() const;
};

/// How a segment of a pass lies on the sheet, face up.
Segment on_face(const Segment& stroke, ScoredSide side, double sheet_width);
/// Lengths, travel and minutes of passes.
void measure(ScorePlan& plan, double feed_mm_s);
/// Whether a stroke leaves the sheet, given as `ScorePlan::sheet`, face up.
bool leaves_sheet(const Segment& stroke, const Polygon& sheet);

/// Fails when the pattern has no creases, or when some lie off the sheet or the bed: the sentence says how many, and
/// `outside`, when given, gets the number.
Result<ScorePlan> score_plan(const CreasePattern& pattern, const Polygon& sheet, const ScoreSettings& settings,
                             int* outside = nullptr);

} // namespace uc
