// How a folder wants the sheet closed: the order of the creases in stages, when each stage begins and ends, and where
// clips hold. What it means for the creases of one sheet follows from it.
#pragma once

#include "collapse/stages.h"

#include <optional>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

namespace uc {

struct ClosingWish;

/// When a stage runs, in parts of the whole, and how far it drives its creases.
struct StageSpan {
  double from = 0;
  double to = 1;
  double percent = 100;
  bool operator==(const StageSpan&) const = default;
};

/// A clip holds the creases near a place of the bare sheet as they are when it is put on, until it is taken off.
struct ClipPlace {
  double x_mm = 0;
  double y_mm = 0;
  double radius_mm = 15;
  double from = 0.5; // of the whole
  double to = 1;
  bool operator==(const ClipPlace&) const = default;
};

/// Reads "60,40,15:30-80": a place and how far round it in mm on the bare sheet, then from and to in percent.
Result<ClipPlace> parse_clip(std::string_view text);
/// The text that parse_clip reads back.
std::string clip_text(const ClipPlace& clip);

/// A state the folder holds on to: a part of the way, corners pushed over there one after another, and hands let go.
struct HeldState {
  double part = 0;
  std::vector<std::pair<double, double>> pushed_mm; // places on the bare sheet
  bool let_go = false;
  bool operator==(const HeldState&) const = default;
};
constexpr std::size_t most_pushes = 24;

struct ClosingPlan {
  CollapseOrder order = CollapseOrder::family;
  int groups = 4;               // stages; not counted for all at once and for the family's own
  bool other_way = false;       // where there are two, as for a saddle
  bool apart = true;            // layers do not pass through each other
  int finer = 0;                // how often each facet is divided into four, so that it can curve
  std::vector<StageSpan> spans; // in place of the even ones, one per stage; empty for those
  std::vector<ClipPlace> clips;
  std::optional<HeldState> held; // what is shown; the way does not depend on it
  std::optional<HeldState> end;  // what the programme's moves come to; none: as far as the family is usually closed
  bool operator==(const ClosingPlan&) const = default;
};
constexpr int most_closing_groups = 16;
constexpr int most_clips = 12;
constexpr int most_finer = 2;

/// What the way itself depends on: neither what is held nor how far the moves go along it.
ClosingPlan way_of(ClosingPlan plan);

/// Whether it is the folder who says in how many stages: not for all at once, nor for the family's own.
constexpr bool counts_groups(CollapseOrder order) {
  return order != CollapseOrder::all_at_once && order != CollapseOrder::family;
}
/// Whether two plans drive the creases in the same stages; spans and clips aside.
bool same_stages(const FoldMesh& mesh, const ClosingPlan& a, const ClosingPlan& b);

/// The stages as they run: spans of the plan where there is one for each, else the even ones.
std::vector<DriveStage> stages_of(const FoldMesh& mesh, const ClosingPlan& plan);

ClosingWish wish_for(const FoldMesh& mesh, const ClosingPlan& plan);

/// Fails for spans that run backwards and clips that hold nothing; the sentence says which, from 1.
Status check_plan(const FoldMesh& mesh, const ClosingPlan& plan);

} // namespace uc
