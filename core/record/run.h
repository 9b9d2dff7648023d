// A run is one time that a programme is folded: what was done, when, how long each move took, what was measured.
// Everything that happens is an event that is written before it counts, so a run survives the end of the program.
#pragma once

#include "base/names.h"

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

namespace uc {

enum class EventKind { done, skipped, back, note, fault, idle, paused, resumed, finished, abandoned };
template <>
inline constexpr auto enum_words<EventKind> = std::to_array<Word<EventKind>>({{EventKind::done, "done"},
                                                                              {EventKind::skipped, "skipped"},
                                                                              {EventKind::back, "back"},
                                                                              {EventKind::note, "note"},
                                                                              {EventKind::fault, "fault"},
                                                                              {EventKind::idle, "idle"},
                                                                              {EventKind::paused, "paused"},
                                                                              {EventKind::resumed, "resumed"},
                                                                              {EventKind::finished, "finished"},
                                                                              {EventKind::abandoned, "abandoned"}});

struct RunEvent {
  EventKind kind = EventKind::done;
  int move = 0;       // index in the programme
  double seconds = 0; // worked on this move since the last event
  std::string text;   // note, fault or reason
  std::string at;     // ISO 8601, UTC
};

/// Of all runs at most one is active; those that wait were put aside and can be taken up again.
/// `unreadable` stands for a word in the log that this version does not know; it is never written.
enum class RunStatus { active, waiting, finished, abandoned, unreadable };
template <>
inline constexpr auto enum_words<RunStatus> = std::to_array<Word<RunStatus>>({{RunStatus::active, "active"},
                                                                              {RunStatus::waiting, "waiting"},
                                                                              {RunStatus::finished, "finished"},
                                                                              {RunStatus::abandoned, "abandoned"}});
/// As it is shown; `unreadable` is a word of reports only and is never read.
inline std::string name_of(RunStatus status) {
  return status == RunStatus::unreadable ? "unreadable" : name_of<RunStatus>(status);
}

/// A crease measured with a ruler along its family's direction, in mm from line 0.
struct MeasuredLine {
  std::string family;
  int line = 0;
  double position_mm = 0;
  double expected_mm = 0;
  double plan_sigma_mm = 0;
  double ruler_sigma_mm = 0.15;
};

struct RunSummary {
  std::int64_t id = 0;
  std::string title;
  std::string sheet; // code
  std::string stock;
  std::string kind;    // of work: division, pre-crease, references, steps
  std::string way;     // how it is done, in words: "both, best"
  int size = 0;        // of the work, by its own measure: parts, cells, moves
  std::string started; // ISO 8601, UTC
  std::string ended;
  RunStatus status = RunStatus::active;
  int moves_planned = 0;
  int moves_done = 0;
  double planned_minutes = 0;
  double minutes = 0;
  double planned_sigma_mm = 0; // expected mean error over the lines
  double planned_worst_mm = 0;
  std::optional<double> measured_rms_mm;
  std::optional<double> measured_worst_mm;
  int faults = 0;
  std::string note;
};

struct RunDetail {
  RunSummary summary;
  std::string programme_json;
  std::string project;    // the file it belongs to; empty where that was never saved
  std::string plans_json; // steps per family, for fitting the hand
  std::vector<RunEvent> events;
  std::vector<MeasuredLine> measured;
  std::vector<std::string> photos; // paths, by reference
};

/// Where a run stands after its events.
struct RunProgress {
  int next_move = 0;
  double worked_seconds = 0;
  bool paused = false;
  std::vector<int> skipped;
  std::vector<double> move_seconds; // per move, worked
  int faults = 0;
};
RunProgress progress_of(const std::vector<RunEvent>& events, int move_count);

/// Root mean square and largest absolute deviation of measured positions from the expected ones.
struct MeasuredError {
  double rms_mm = 0;
  double worst_mm = 0;
};
std::optional<MeasuredError> measured_error(const std::vector<MeasuredLine>& measured);

} // namespace uc
