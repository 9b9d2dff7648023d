// Between the core's values and JSON: one pair of functions per value, shared by the project file, the log and the
// command line. Reading is strict about types and lenient about what is absent.
#pragma once

#include "divide/division.h"
#include "paper/stock.h"
#include "paper/trueness.h"
#include "pattern/precrease.h"
#include "programme/programme.h"
#include "record/hand_fit.h"
#include "record/run.h"

#include <nlohmann/json.hpp>

namespace uc {

using Json = nlohmann::json;

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

// These throw nlohmann::json::exception on a wrong type; callers turn that into a Result.
Stock stock_from(const Json& j);
TruenessMeasure trueness_from(const Json& j);
HandProfile hand_from(const Json& j);
GridSpec grid_spec_from(const Json& j);
Programme programme_from(const Json& j);
RunDetail run_detail_from(const Json& j);

struct StoredPlan {
  std::string family;
  double extent_mm = 0;
  DivideTask task;
  std::vector<GridStep> steps;
};
std::vector<StoredPlan> plans_from(const Json& j);

/// What a run measured, per family, ready for fitting and diagnosing; families without measurements are left out.
Result<std::vector<MeasuredFamily>> measured_families(const RunDetail& run);

/// Parses text; the error names source and line.
Result<Json> parse_json(const std::string& text, const std::string& source);
/// The programme stored in text, or an error naming `source`.
Result<Programme> parse_programme(const std::string& text, const std::string& source);

/// `update` laid over `base`: objects merge key by key and arrays of equal length element by element, so that fields
/// this version does not know survive.
Json merged(const Json& base, const Json& update);

} // namespace uc
