// Units in files: the flat map a programme carries, its joins, and what a project asks of its units.
#pragma once

#include "io/json_codec.h"
#include "io/json_reader.h"
#include "project/project.h"
#include "record/run.h"

namespace uc {

Json json_of(const UnitMap& map);
UnitMap unit_map_from(const JsonReader& r);
Join join_from(const JsonReader& move);
/// Fails where a move names a unit that the map does not have; null where there is no map.
void check_units(const JsonReader& at, const Move& move, const UnitMap* map);

/// Seconds each unit of a run took to fold, in the order in which they were folded; empty for runs of other work.
std::vector<double> unit_times(const RunDetail& run);

/// A unit that was described: as the project keeps it, and as a file of its own.
Json json_of(const OwnFamily& family);
OwnFamily own_family_from(const JsonReader& r);
Result<OwnFamily> parse_own_family(const std::string& text);

Json json_of(const UnitJob& job);
UnitJob unit_job_from(const JsonReader& r);

} // namespace uc
