#include "pattern/sweep.h"

#include "base/parallel.h"
#include "form/folded_form.h"

#include <fmt/format.h>

#include <algorithm>
#include <atomic>
#include <cmath>

namespace uc {
namespace {

constexpr double reach = 3;                             // of values above and below the one there is
constexpr std::size_t memory_per_value = 512UL << 20UL; // for counting layers

int layers_of(const DrawnPattern& drawn, const Progress* progress) {
  const CreasePattern& pattern = drawn.healed.pattern;
  const PatternGraph graph = graph_of(pattern);
  const auto form = folded_form(pattern, graph);
  if (!form || !form->open_loop.empty()) return 0;
  const auto overlap = overlap_of(pattern, graph, *form, {memory_per_value, progress});
  return overlap ? overlap->layers_max : 0;
}

} // namespace

TriedValue figures_of(const SizedFamily& sized, const DrawnPattern& drawn, const Progress* progress) {
  TriedValue out;
  const PatternFamily* family = find_pattern_family(sized.choice.name);
  if (!drawn.wrong.empty()) {
    out.refused = drawn.wrong.front().sentence;
    return out;
  }
  const CreasePattern& pattern = drawn.healed.pattern;
  if (!family || pattern.vertices.empty()) return out;
  if (const auto box = finished_box(drawn)) out.finished_mm = Point(box->head<2>());
  out.sheet_mm = bounding_box(pattern.vertices).size();
  out.pleat_mm = narrowest_pleat(drawn, sized.sheet.outline());
  out.creases = static_cast<int>(
      std::count_if(pattern.edges.begin(), pattern.edges.end(), [](const PatternEdge& e) { return folds(e.kind); }));
  if (family->flat_foldable) out.layers = layers_of(drawn, progress);
  return out;
}

std::vector<double> values_to_try(const Parameter& parameter, double now, int most) {
  const bool whole = parameter.type == ParameterType::integer || parameter.type == ParameterType::choice;
  double low = parameter.least;
  double high = parameter.most;
  const bool few = whole ? high - low < most : low <= 0 || high <= low * reach * reach;
  if (!few) {
    low = std::max(low, std::min(now, now / reach));
    high = std::min(high, std::max(now, now * reach));
  }
  std::vector<double> values{now};
  const int steps = whole ? std::min(most - 1, static_cast<int>(std::floor(high) - std::ceil(low))) : most - 1;
  for (int i = 0; i <= steps; ++i) {
    const double value = steps == 0 ? low : low + (high - low) * i / steps;
    values.push_back(whole ? std::round(value) : value);
  }
  std::sort(values.begin(), values.end());
  values.erase(std::unique(values.begin(), values.end(), [](double a, double b) { return std::abs(a - b) < 1e-9; }),
               values.end());
  return values;
}

Result<std::vector<TriedValue>> tried(const SizedFamily& sized, const std::string& parameter, Progress* progress) {
  const PatternFamily* family = find_pattern_family(sized.choice.name);
  if (!family) return no_such_family(sized.choice.name);
  const Parameter* varied = family->parameter(parameter);
  if (!varied) return Error{fmt::format("{} has no parameter {}.", sized.choice.name, parameter)};
  const auto given = sized.choice.values.find(parameter);
  const std::vector<double> values =
      values_to_try(*varied, given == sized.choice.values.end() ? varied->normal : given->second);
  std::vector<TriedValue> out(values.size());
  std::atomic<int> done{0};
  parallel_for(
      values.size(),
      [&](std::size_t i) {
        SizedFamily other = sized;
        other.choice.values[parameter] = values[i];
        out[i] = figures_of(other, drawn_pattern(other), progress);
        out[i].value = values[i];
        if (progress) progress->set(static_cast<double>(++done) / static_cast<double>(values.size()));
      },
      progress);
  if (progress && progress->stopped()) return Error{"It was stopped."};
  return out;
}

} // namespace uc
