#include "record/run.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace uc {

RunProgress progress_of(const std::vector<RunEvent>& events, int move_count) {
  RunProgress p;
  p.move_seconds.assign(static_cast<std::size_t>(std::max(0, move_count)), 0);
  for (const RunEvent& e : events) {
    if (e.kind != EventKind::idle) {
      p.worked_seconds += e.seconds;
      if (e.move >= 0 && e.move < move_count) p.move_seconds[static_cast<std::size_t>(e.move)] += e.seconds;
    }
    switch (e.kind) {
    case EventKind::done:
      p.next_move = e.move + 1;
      std::erase(p.skipped, e.move);
      break;
    case EventKind::skipped:
      p.next_move = e.move + 1;
      if (std::find(p.skipped.begin(), p.skipped.end(), e.move) == p.skipped.end()) p.skipped.push_back(e.move);
      break;
    case EventKind::back:
      p.next_move = std::max(0, e.move - 1);
      break;
    case EventKind::fault:
      ++p.faults;
      break;
    case EventKind::paused:
      p.paused = true;
      break;
    case EventKind::resumed:
      p.paused = false;
      break;
    default:
      break;
    }
  }
  p.next_move = std::clamp(p.next_move, 0, std::max(0, move_count));
  return p;
}

std::optional<MeasuredError> measured_error(const std::vector<MeasuredLine>& measured) {
  if (measured.empty()) return std::nullopt;
  MeasuredError e;
  for (const MeasuredLine& m : measured) {
    const double d = m.position_mm - m.expected_mm;
    e.rms_mm += d * d / static_cast<double>(measured.size());
    e.worst_mm = std::max(e.worst_mm, std::abs(d));
  }
  e.rms_mm = std::sqrt(e.rms_mm);
  return e;
}

} // namespace uc
