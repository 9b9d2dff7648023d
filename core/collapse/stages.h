// In which order the creases of a sheet are driven: each stage moves some of them to a part of their full angle while
// the whole goes from 0 to 1. Without stages all creases close together.
#pragma once

#include "collapse/fold_mesh.h"

#include <optional>
#include <string>
#include <vector>

namespace uc {

struct DriveStage {
  std::vector<CreaseId> creases;
  double from = 0; // of the whole, 0 to 1
  double to = 1;
  double percent = 100;       // of the full angle, which the stage ends at
  std::vector<double> shares; // per crease, the part of that it goes to; empty: all of it
};

/// Holds creases as they are driven at `from`, until `to`.
struct Clip {
  std::vector<CreaseId> creases;
  double from = 0;
  double to = 1;
  /// One that is on to the end still holds there.
  [[nodiscard]] bool holds(double part) const { return part >= from && (part < to || to >= 1); }
};

/// `family` is as the pattern's family closes it by hand.
enum class CollapseOrder { family, all_at_once, outside_in, inside_out, one_side_first };
template <>
inline constexpr auto
    enum_words<CollapseOrder> = std::to_array<Word<CollapseOrder>>({{CollapseOrder::family, "family"},
                                                                    {CollapseOrder::all_at_once, "all-at-once"},
                                                                    {CollapseOrder::outside_in, "outside-in"},
                                                                    {CollapseOrder::inside_out, "inside-out"},
                                                                    {CollapseOrder::one_side_first, "one-side-first"}});

/// The stages that the mesh's creases bring from their family, one after another; none where it has none.
std::vector<DriveStage> family_stages(const FoldMesh& mesh);

/// The same for whoever takes every crease to close at 180 degrees, with one percentage for a stage, as a stages file
/// does: one of several angles becomes several that run side by side. A family without stages has one.
std::vector<DriveStage> stages_by_angle(const FoldMesh& mesh);

/// Groups of creases by their distance from the middle, or from the left edge, driven one after another, each
/// overlapping the next by half; one stage for all at once. By the family, its stages, or one where it has none.
std::vector<DriveStage> stages_in_order(const FoldMesh& mesh, CollapseOrder order, int groups);

/// Fails for stages that name what is no crease, run backwards, or drive one crease in two stages at one time; the
/// sentence names the stage, from 1.
Status check_stages(const FoldMesh& mesh, const std::vector<DriveStage>& stages);

/// The targets at a part of the whole, 0 to 1, in degrees per hinge: full angles are 180 for valleys and -180 for
/// mountains. Creases in no stage stay flat; undirected ones move freely; with no stages at all each closes with the
/// whole. Creases under a clip stay as they were when it was put on.
std::vector<std::optional<double>> targets_at(const FoldMesh& mesh, const std::vector<DriveStage>& stages, double part,
                                              const std::vector<Clip>& clips = {});

} // namespace uc
