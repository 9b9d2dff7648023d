// How near the search comes to random targets, and how long that takes, printed beside the promised figures.
// Errors are those of the route of least error, in percent of the longer side of the sheet. A query ends when it is
// known which routes are the best; "told" is the time until those are written out as routes, with what to crease of
// each line.
#include "reference/search.h"

#include <benchmark/benchmark.h>

#include <algorithm>
#include <chrono>
#include <cstdlib>
#include <fstream>
#include <map>
#include <numbers>
#include <random>

using namespace uc;

namespace {

struct Shape {
  const char* name;
  Polygon outline;
};
const std::vector<Shape>& shapes() {
  static const std::vector<Shape> all = {
      {"square", Sheet::square(Millimetres{240}).outline()},
      {"1:sqrt2", Sheet::rectangle(Millimetres{240}, Millimetres{240 / std::numbers::sqrt2}).outline()},
      {"letter", Sheet::rectangle(Millimetres{279.4}, Millimetres{215.9}).outline()},
      {"1:7", Sheet::strip(Millimetres{280}, Millimetres{40}).outline()}};
  return all;
}

const SheetIndex& index_of(std::size_t shape) {
  static std::map<std::size_t, SheetIndex> known;
  auto at = known.find(shape);
  if (at == known.end()) at = known.emplace(shape, *SheetIndex::build(shapes()[shape].outline)).first;
  return at->second;
}

Target random_target(Target::Kind kind, const Polygon& sheet, std::mt19937_64& random) {
  const Box box = bounding_box(sheet);
  std::uniform_real_distribution<double> share(0, 1);
  const auto inside = [&] { return Point(box.low + Point{share(random), share(random)}.cwiseProduct(box.size())); };
  for (;;) {
    Result<Target> t = Error{""};
    switch (kind) {
    case Target::Kind::mark:
      t = mark_on_edge(sheet, static_cast<int>(random() % sheet.size()), share(random));
      break;
    case Target::Kind::point:
      t = wanted_point(sheet, inside());
      break;
    case Target::Kind::line:
      t = wanted_line(sheet, inside(), inside());
      break;
    case Target::Kind::angle:
      t = wanted_angle(180 * share(random));
      break;
    }
    if (t) return *t;
  }
}

double quantile(std::vector<double> values, double q) {
  std::sort(values.begin(), values.end());
  const auto at = static_cast<std::size_t>(std::ceil(q * static_cast<double>(values.size()))) - 1;
  return values[std::min(at, values.size() - 1)];
}

int targets_per_row() {
  const char* text = std::getenv("UC_BENCH_TARGETS");
  return text ? std::max(20, std::atoi(text)) : 200;
}

void accuracy(benchmark::State& state, Target::Kind kind, std::size_t shape, int creases, int count) {
  const Polygon& sheet = shapes()[shape].outline;
  const SheetIndex& index = index_of(shape);
  const double side = bounding_box(sheet).size().maxCoeff();
  SearchOptions options;
  options.max_creases = creases;
  std::vector<double> errors;
  std::vector<double> seconds;
  std::vector<double> factors;
  std::vector<double> told;
  std::vector<double> told_factors;
  std::size_t failed = 0;
  int nothing = 0;
  for (auto _ : state) {
    std::mt19937_64 random(20261125);
    for (int i = 0; i < count; ++i) {
      const Target target = random_target(kind, sheet, random);
      SearchFigures figures;
      const auto routes = find_routes(index, sheet, target, options, &figures);
      if (!routes) {
        ++nothing;
        errors.push_back(side);
        continue;
      }
      double least = side;
      for (const Route& r : *routes) least = std::min(least, r.error_mm);
      errors.push_back(100 * least / side);
      seconds.push_back(figures.picked_seconds);
      factors.push_back(figures.picked_seconds / figures.look_up_seconds);
      told.push_back(figures.all_seconds);
      told_factors.push_back(figures.all_seconds / figures.look_up_seconds);
      failed += figures.failed;
    }
  }
  auto& out = state.counters;
  out["median_%"] = quantile(errors, 0.5);
  out["95_%"] = quantile(errors, 0.95);
  out["99_%"] = quantile(errors, 0.99);
  out["worst_%"] = quantile(errors, 1);
  out["none"] = nothing;
  out["query_ms"] = 1000 * quantile(seconds, 0.5);
  out["query_99_ms"] = 1000 * quantile(seconds, 0.99);
  out["query_bound_ms"] = 50;
  out["over_look_up"] = quantile(factors, 0.5);
  out["over_look_up_bound"] = 3;
  out["told_ms"] = 1000 * quantile(told, 0.5);
  out["told_99_ms"] = 1000 * quantile(told, 0.99);
  out["told_over_look_up"] = quantile(told_factors, 0.5);
  out["picked_again"] = static_cast<double>(failed);
  if (shape == 0 && kind == Target::Kind::mark && creases == 4) out["99_bound_%"] = 0.005;
  if (shape == 0 && kind == Target::Kind::point && creases == 5) {
    out["median_bound_%"] = 0.05;
    out["99_bound_%"] = 0.3;
  }
}

/// The most memory this process has held since `reset_peak`, and what it holds now, in MB.
double status_mb(const std::string& field) {
  std::ifstream file("/proc/self/status");
  for (std::string word; file >> word;) {
    if (word != field) continue;
    double kb = 0;
    file >> kb;
    return kb / 1024;
  }
  return 0;
}
void reset_peak() { std::ofstream("/proc/self/clear_refs") << "5"; }

void build(benchmark::State& state, std::size_t shape) {
  double mb = 0;
  double disk = 0;
  for (auto _ : state) {
    reset_peak();
    const double before = status_mb("VmRSS:");
    const auto index = SheetIndex::build(shapes()[shape].outline);
    mb = status_mb("VmHWM:") - before;
    state.PauseTiming();
    disk = static_cast<double>(index->bytes().size()) / 1e6;
    state.ResumeTiming();
  }
  state.counters["bound_ms"] = 5000;
  state.counters["memory_MB"] = mb;
  state.counters["bound_memory_MB"] = 400;
  state.counters["disk_MB"] = disk;
  state.counters["bound_disk_MB"] = 100;
}

} // namespace

int main(int argc, char** argv) {
  static const std::pair<const char*, Target::Kind> kinds[] = {{"mark", Target::Kind::mark},
                                                               {"point", Target::Kind::point},
                                                               {"line", Target::Kind::line},
                                                               {"angle", Target::Kind::angle}};
  for (std::size_t s = 0; s < shapes().size(); ++s) {
    benchmark::RegisterBenchmark((std::string("build/") + shapes()[s].name).c_str(), build, s)
        ->Unit(benchmark::kMillisecond)
        ->MeasureProcessCPUTime()
        ->UseRealTime()
        ->Iterations(1);
  }
  for (std::size_t s = 0; s < shapes().size(); ++s) {
    for (const auto& [name, kind] : kinds) {
      for (int creases = 2; creases <= most_route_creases; ++creases) {
        const std::string title =
            std::string("error/") + name + "/" + shapes()[s].name + "/" + std::to_string(creases) + "_creases";
        benchmark::RegisterBenchmark(title.c_str(), accuracy, kind, s, creases, targets_per_row())
            ->Unit(benchmark::kMillisecond)
            ->Iterations(1);
      }
    }
  }
  benchmark::Initialize(&argc, argv);
  benchmark::RunSpecifiedBenchmarks();
  benchmark::Shutdown();
}
