#include "io/measured_file.h"

#include "divide/division.h"
#include "divide/typed.h"
#include "io/json_codec.h"
#include "io/json_reader.h"

#include <fmt/format.h>

#include <algorithm>
#include <map>

namespace uc {
namespace {

constexpr std::size_t most_runs = 100'000;
constexpr std::size_t most_readings = 1000; // of a run
/// A ruler's zero may lie anywhere; what is read farther than this beyond the sheet was not read on it.
constexpr double beyond_mm = 50;

struct Planned {
  GridPlan plan;
  double extent_mm = 0;
};

Planned planned(const JsonReader& r, GridSpec spec) {
  const auto sheet = parse_sheet(r.at("sheet").text());
  if (!sheet) r.fail(sheet.error());
  auto division = divide(*sheet, spec, HandProfile{});
  if (!division) r.fail(division.error());
  return {division->plans[0], division->layout.families[0].extent_mm};
}

MeasuredRun run_from(const JsonReader& r, double guess_sigma_mm, std::map<std::string, Planned>& plans) {
  GridSpec spec;
  spec.parts = static_cast<int>(r.at("parts").whole(least_parts, greatest_parts));
  spec.axis = r.word("axis", GridAxis::x);
  if (spec.axis != GridAxis::x && spec.axis != GridAxis::y) r.fail("axis: one direction is measured; write x or y");
  spec.method = r.word("method", Method::best);
  const std::string start = r.text("start", "");
  if (!start.empty()) {
    const auto mark = parse_start_mark(start, spec.parts);
    if (!mark) r.fail("start: " + mark.error());
    spec.start = *mark;
  }
  const std::string key =
      fmt::format("{} {} {} {} {}", r.at("sheet").text(), spec.parts, name_of(spec.axis), name_of(spec.method), start);
  auto at = plans.find(key);
  if (at == plans.end()) at = plans.emplace(key, planned(r, spec)).first;
  const Planned& p = at->second;
  MeasuredRun run;
  run.extent_mm = p.extent_mm;
  run.family.task = p.plan.task;
  run.family.task.guess_sigma_mm = guess_sigma_mm;
  run.family.ruler_sigma_mm = r.number("ruler_mm", least_sigma_mm, 10, 0.15);
  const int all = static_cast<int>(p.plan.steps.size());
  const int done = r.whole("done", 0, all, all);
  std::vector<char> skipped(p.plan.steps.size() + 1, 0);
  if (const auto list = r.find("skipped"))
    for (const JsonReader& n : list->list(0, p.plan.steps.size()))
      skipped[static_cast<std::size_t>(n.whole(1, all))] = 1;
  std::vector<std::size_t> made;
  for (std::size_t i = 0; i < static_cast<std::size_t>(done); ++i)
    if (!skipped[i + 1]) made.push_back(i);
  run.family.steps = possible_steps(p.plan.task, p.plan.steps, made, run.planned_steps);
  const LineErrors errors = replay(run.family.task, run.family.steps);
  for (const JsonReader& entry : r.at("lines").list(0, most_readings)) {
    const auto pair = entry.list(2, 2);
    const int line = static_cast<int>(pair[0].whole(0, spec.parts));
    const double position = pair[1].number(-beyond_mm, p.extent_mm + beyond_mm);
    if (!errors.known(line))
      entry.fail(fmt::format("line {} is measured, but none of the moves that were made creases it", line));
    run.family.lines.push_back(line);
    run.position_mm.push_back(position);
    run.family.deviation_mm.push_back(position - p.extent_mm * line / spec.parts);
  }
  return run;
}

} // namespace

Result<std::vector<MeasuredRun>> parse_measured(const std::string& text, double guess_sigma_mm) {
  const auto json = parse_json(text, "the measured runs");
  if (!json) return Error{json.error()};
  try {
    const JsonReader r(*json);
    if (r.at("format").text() != "under-crease/measured")
      r.fail("these are not measured runs; \"format\" must be \"under-crease/measured\"");
    if (r.at("version").whole(0, 1'000'000) != 1) r.fail("only version 1 of measured runs can be read");
    std::map<std::string, Planned> plans;
    std::vector<MeasuredRun> out;
    for (const JsonReader& run : r.at("runs").list(0, most_runs)) out.push_back(run_from(run, guess_sigma_mm, plans));
    return out;
  } catch (const FieldError& e) {
    return Error{e.what()};
  }
}

} // namespace uc
