// Tables and calendars: the lines of a grid and the runs of the log as CSV (RFC 4180), a folding session as iCalendar.
#pragma once

#include "divide/division.h"
#include "record/run.h"
#include "unit/unit_plan.h"

namespace uc {

/// family, line, position_mm, expected sigma, direction, first and last point of each crease
std::string grid_csv(const Division& division);
/// name, kind, expected sigma, first and last point of every crease and mark of the references
std::string references_csv(const Programme& programme);
/// unit, what it stands for, colour, its place on its sheet, and as which it is joined
std::string units_csv(const UnitPlan& plan, const std::vector<UnitMap::Colour>& palette);
std::string log_csv(const std::vector<RunSummary>& runs);
/// One event of the planned length that begins at `start` (ISO 8601, local time "2026-11-28T18:00:00"); with several
/// sessions one on each following day at the same time, the moves shared out evenly by their planned times.
Result<std::string> session_ics(const Programme& programme, const std::string& title, const std::string& start,
                                int sessions = 1);
/// Where each of so many sessions ends: the index of the move after its last.
std::vector<std::size_t> shared_out(const Programme& programme, int sessions);

} // namespace uc
