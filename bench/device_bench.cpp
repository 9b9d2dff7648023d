// Plotters and scans: the order of many strokes, and 254 creases measured in one scan, each beside its bound.
#include "device/scan_maker.h"
#include "device/scan_reader.h"
#include "device/stroke_order.h"
#include "size.h"

#include <benchmark/benchmark.h>

#include <chrono>
#include <cmath>
#include <functional>
#include <map>
#include <random>
#include <stdexcept>

namespace {

using namespace uc;

double seconds_of(const std::function<void()>& work) {
  const auto start = std::chrono::steady_clock::now();
  work();
  return std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
}

/// 50 000 strokes that lie anyhow.
void order_of_many_strokes(benchmark::State& state) {
  std::mt19937 random(5);
  std::uniform_real_distribution<double> place(0, 1000);
  std::vector<Segment> strokes;
  for (int i = 0; i < bench::sized(50'000); ++i) {
    const Point a{place(random), place(random)};
    strokes.push_back({a, a + Point(place(random) - 500, place(random) - 500) / 100});
  }
  double seconds = 0;
  for (auto _ : state) seconds = seconds_of([&] { benchmark::DoNotOptimize(in_short_order(strokes, Point::Zero())); });
  state.counters["s"] = seconds;
  state.counters["bound_s"] = 2;
}
BENCHMARK(order_of_many_strokes)->Iterations(1)->Unit(benchmark::kMillisecond);

/// A square of 240 mm in 128 parts both ways, scanned at 300 dots an inch.
void scan_of_254_lines(benchmark::State& state) {
  const auto sheet = Sheet::square(Millimetres{240}).outline();
  const int parts = bench::sized(128);
  const auto lines = scan_lines({240, 240}, parts, GridAxis::both);
  const auto folded = folded_grid(lines, parts, 0.25, 2);
  ScanMaking making;
  making.skew_deg = 2;
  making.light_pct = 30;
  const auto image = made_scan(sheet, folded, making);
  if (!image) throw std::runtime_error(image.error());
  Result<ScanReading> reading = Error{""};
  double seconds = 0;
  for (auto _ : state) seconds = seconds_of([&] { reading = read_scan(*image, sheet, lines); });
  if (!reading) throw std::runtime_error(reading.error());
  std::map<std::pair<std::string, int>, double> truth;
  for (const ScanLine& l : folded) truth[{l.axis, l.line}] = l.position_mm;
  int far = 0;
  int uncovered = 0;
  int unmarked = 0;
  for (const ReadLine& l : reading->lines) {
    const double off = std::abs(l.position_mm - truth.at({l.line.axis, l.line.line}));
    far += off > 0.1;
    uncovered += off > 1.96 * l.sigma_mm;
    unmarked += off > 0.3 && !l.doubtful;
  }
  const double all = static_cast<double>(reading->lines.size());
  state.counters["s"] = seconds;
  state.counters["bound_s"] = 3;
  state.counters["percent_over_0.1mm"] = 100 * far / all;
  state.counters["bound_percent_over_0.1mm"] = 5;
  state.counters["percent_beyond_2se"] = 100 * uncovered / all;
  state.counters["bound_percent_beyond_2se"] = 7;
  state.counters["unmarked"] = unmarked;
  state.counters["bound_unmarked"] = 0;
}
BENCHMARK(scan_of_254_lines)->Iterations(1)->Unit(benchmark::kMillisecond);

} // namespace

BENCHMARK_MAIN();
