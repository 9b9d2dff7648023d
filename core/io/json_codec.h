// Between the core's values and JSON: one pair of functions per value, shared by the project file, the log and the
// command line. Reading is strict about what is there and lenient about what is absent (json_reader.h).
#pragma once

#include "crease/precrease.h"
#include "divide/division.h"
#include "measure/measured.h"
#include "measure/pace.h"
#include "paper/stock.h"
#include "paper/trueness.h"
#include "programme/programme.h"
#include "record/run.h"

#include <nlohmann/json.hpp>

namespace uc {

using Json = nlohmann::json;
class JsonReader;

Json json_of(const Stock& stock);
Json json_of(const TruenessMeasure& measure);
Json json_of(const HandProfile& hand);
Json json_of(const GridSpec& spec);
Json json_of(const Programme& programme);
Json json_of(const RunSummary& run);
Json json_of(const RunDetail& run);
/// Task and steps of each family, enough to replay the error budget later.
Json plans_json(const Division& division);
/// The same of the families of a pre-crease programme.
Json plans_json(const Precrease& precrease);

// These throw FieldError with the path of the key that is wrong; callers turn that into a Result.
Stock stock_from(const JsonReader& r);
TruenessMeasure trueness_from(const JsonReader& r);
HandProfile hand_from(const JsonReader& r);
GridSpec grid_spec_from(const JsonReader& r);
Programme programme_from(const JsonReader& r);
RunDetail run_detail_from(const JsonReader& r);

struct StoredPlan {
  std::string family;
  double extent_mm = 0;
  DivideTask task;
  std::vector<GridStep> steps;
};
std::vector<StoredPlan> plans_from(const JsonReader& r);
/// The plans stored with a run, or an error that says what is wrong with them.
Result<std::vector<StoredPlan>> stored_plans(const RunDetail& run);

/// Of each step of a plan the move of the programme that does it; none where the programme has no such move.
std::vector<std::optional<int>> moves_of_steps(const StoredPlan& plan, std::size_t family, const Programme& programme);
/// The steps whose moves are done, without those that were skipped and without what could not be made without them.
std::vector<GridStep> steps_done(const StoredPlan& plan, std::size_t family, const Programme& programme,
                                 const RunProgress& progress);

/// What a run measured, per family, judged by the moves that were done;
/// families without measurements are left out.
Result<std::vector<MeasuredFamily>> measured_families(const RunDetail& run);
/// The creases of a run that were made and timed; none where its programme cannot be read.
std::vector<TimedMove> timed_moves(const RunDetail& run);

/// Parses text; the error names source and line.
Result<Json> parse_json(const std::string& text, const std::string& source);
/// The programme stored in text, or an error naming `source`.
Result<Programme> parse_programme(const std::string& text, const std::string& source);

} // namespace uc
