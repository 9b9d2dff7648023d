// Proofs of crease patterns: time beside its bound, the share of the solver, and how time grows with size.
#include "form/layer_components.h"
#include "form/layer_count.h"
#include "form/proof.h"
#include "io/pattern_json.h"
#include "paper/sheet.h"
#include "pattern/family.h"
#include "patterns.h"
#include "size.h"

#include <benchmark/benchmark.h>

#include <sys/resource.h>

#include <chrono>
#include <cmath>
#include <cstdio>
#include <map>
#include <random>
#include <string>
#include <vector>

namespace {

using namespace uc;
using Clock = std::chrono::steady_clock;

double ms_since(Clock::time_point start) {
  return std::chrono::duration<double, std::milli>(Clock::now() - start).count();
}

double peak_mb() {
  rusage usage{};
  getrusage(RUSAGE_SELF, &usage);
  return static_cast<double>(usage.ru_maxrss) / 1024;
}

/// Parsing a file of a chevron with about `edges` edges against healing it and proving its vertices.
void local_proof(benchmark::State& state) {
  const int side = static_cast<int>(std::lround(std::sqrt(static_cast<double>(state.range(0)) / 2)));
  const std::string text = pattern_json(testing::chevron_pattern(side, side));
  double parsing = 0;
  double proving = 0;
  std::size_t edges = 0;
  std::size_t violations = 0;
  int rounds = 0;
  for (auto _ : state) {
    auto start = Clock::now();
    const auto pattern = parse_pattern_json(text);
    parsing += ms_since(start);
    start = Clock::now();
    const auto proof = proved(healed(*pattern), {.layers = false});
    proving += ms_since(start);
    edges = pattern->edges.size();
    violations = proof->violations.size();
    ++rounds;
  }
  state.counters["edges"] = static_cast<double>(edges);
  state.counters["violations"] = static_cast<double>(violations);
  state.counters["parsing_ms"] = parsing / rounds;
  state.counters["proof_ms"] = proving / rounds;
  state.counters["factor"] = proving / parsing;
  state.counters["bound_factor"] = 2;
}

/// Exponents of growth between the smallest and the largest size of a row of runs.
struct Growth {
  std::vector<std::pair<double, double>> runs; // faces, ms
  void print(const char* name) const {
    double sx = 0, sy = 0, sxx = 0, sxy = 0;
    for (const auto& [n, ms] : runs) {
      const double x = std::log(n);
      const double y = std::log(ms);
      sx += x, sy += y, sxx += x * x, sxy += x * y;
    }
    const auto k = static_cast<double>(runs.size());
    if (k > 1)
      std::printf("growth of %s with faces: exponent %.2f over %d sizes\n", name,
                  (k * sxy - sx * sy) / (k * sxx - sx * sx), static_cast<int>(k));
  }
};
Growth chevrons, twists;

void layers(benchmark::State& state, const CreasePattern& pattern, Growth* growth) {
  double all = 0;
  double solver = 0;
  int rounds = 0;
  std::optional<PatternProof> proof;
  for (auto _ : state) {
    const auto start = Clock::now();
    auto made = proved(healed(pattern), {.simple_folds = false});
    all += ms_since(start);
    solver += 1000 * made->order.solver_seconds;
    proof = std::move(made).value();
    ++rounds;
  }
  state.counters["faces"] = static_cast<double>(proof->graph->faces.size());
  state.counters["found"] = proof->status == LayerStatus::found;
  state.counters["layers"] = proof->overlap ? proof->overlap->layers_max : 0;
  state.counters["ms"] = all / rounds;
  // Chevrons and twists are promised within a time, hard cases within a share of what the solver takes.
  if (growth) state.counters["bound_ms"] = 5000;
  if (solver > all / 2) state.counters["bound_over_solver"] = 2;
  state.counters["solver_ms"] = solver / rounds;
  state.counters["over_solver"] = solver > 0 ? all / solver : 0;
  state.counters["components"] = proof->order.components;
  state.counters["peak_MB"] = peak_mb();
  state.counters["bound_peak_MB"] = 2048;
  if (growth) growth->runs.emplace_back(static_cast<double>(proof->graph->faces.size()), all / rounds);
}

/// A strip with pleats of four undirected creases, far apart; then one pleat is made wider.
CreasePattern pleated_strip(int pleats, double wider) {
  std::vector<double> creases;
  for (int i = 0; i < pleats; ++i) {
    for (const double x : {40.0, 55.0, 62.0, 75.0})
      creases.push_back(120 * i + x + (i == pleats / 2 && x > 50 ? wider : 0));
  }
  return testing::strip_pattern(120 * pleats + 40, creases);
}

void after_edit(benchmark::State& state, int pleats) {
  LayerCache cache;
  double first = 0;
  double again = 0;
  std::optional<PatternProof> proof;
  for (auto _ : state) {
    auto start = Clock::now();
    proof = proved(healed(pleated_strip(pleats, 0)), {.cache = &cache, .simple_folds = false}).value();
    first += ms_since(start);
    start = Clock::now();
    proof = proved(healed(pleated_strip(pleats, 3)), {.cache = &cache, .simple_folds = false}).value();
    again += ms_since(start);
  }
  state.counters["first_ms"] = first;
  state.counters["again_ms"] = again;
  state.counters["components"] = proof->order.components;
  state.counters["reused"] = proof->order.reused;
}

void count(benchmark::State& state, int columns, int rows) {
  std::string states;
  for (auto _ : state) {
    const auto proof = proved(healed(testing::map_pattern(columns, rows)), {.simple_folds = false});
    states = *counted_states(*proof->constraints);
  }
  state.counters["states"] = std::stod(states);
  state.counters["bound_ms"] = 10000;
}

/// Rows of triangles, which come flat by simple folds: reading aside, what `check` does.
void simple_folds(benchmark::State& state, int divisions) {
  const HealedPattern pattern =
      drawn_pattern(family_design("triangle-row", {{"count", divisions}}), Sheet().outline()).healed;
  double seconds = 0;
  for (auto _ : state) {
    const auto start = std::chrono::steady_clock::now();
    const auto proof = proved(pattern);
    seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
    if (!proof || !proof->simple) return state.SkipWithError("no simple folds were found");
    state.counters["layers"] = proof->overlap->layers_max;
  }
  static std::map<int, double> sizes; // of this run, seconds by divisions
  sizes[divisions] = seconds;
  if (sizes.contains(divisions / 2)) state.counters["growth_exponent"] = std::log2(seconds / sizes[divisions / 2]);
  state.counters["bound_ms"] = 2000;
}

} // namespace

int main(int argc, char** argv) {
  const auto timed = [](benchmark::internal::Benchmark* b) { b->Unit(benchmark::kMillisecond)->UseRealTime(); };
  for (const int edges : bench::sized({1000, 3000, 10000, 30000, 100000}))
    timed(benchmark::RegisterBenchmark("local_proof", local_proof)->Arg(edges));
  for (const int n : bench::sized({4, 8, 16, 24, 32}, 3))
    timed(benchmark::RegisterBenchmark(("layers/chevron/" + std::to_string(n)).c_str(), layers,
                                       testing::chevron_pattern(n, n), &chevrons)
              ->Iterations(3));
  for (const int n : bench::sized({2, 3, 4, 6, 8}, 2))
    timed(benchmark::RegisterBenchmark(("layers/square_twists/" + std::to_string(n)).c_str(), layers,
                                       testing::twist_pattern(n), &twists)
              ->Iterations(3));
  for (const int n : bench::sized({3, 5, 7, 10, 14, 20}, 4))
    timed(benchmark::RegisterBenchmark(("layers/undirected_map/" + std::to_string(n)).c_str(), layers,
                                       testing::map_pattern(n, n), nullptr)
              ->Iterations(1));
  // Hard cases: maps most of whose directions are left open, the others drawn at random.
  for (const int n : bench::sized({8, 9, 10, 11}, 10)) {
    std::mt19937 random(static_cast<unsigned>(n));
    CreasePattern p = testing::map_pattern(n, n);
    for (PatternEdge& e : p.edges) {
      if (e.kind == EdgeKind::undirected && random() % 6 == 0)
        e.kind = random() % 2 ? EdgeKind::mountain : EdgeKind::valley;
    }
    timed(benchmark::RegisterBenchmark(("layers/partly_directed_map/" + std::to_string(n)).c_str(), layers, p, nullptr)
              ->Iterations(1));
  }
  for (const int n : bench::sized({10, 100})) {
    timed(benchmark::RegisterBenchmark(("layers/after_an_edit/" + std::to_string(n)).c_str(), after_edit, n)
              ->Iterations(1));
  }
  for (const int n : bench::sized({4, 8, 16, 32, 64}, 2))
    timed(benchmark::RegisterBenchmark(("simple_folds/rows_of_triangles/" + std::to_string(n)).c_str(), simple_folds, n)
              ->Iterations(1));
  for (const auto& [c, r] : {std::pair{2, 2}, {2, 3}, {3, 3}, {3, 4}})
    timed(
        benchmark::RegisterBenchmark(("count/map/" + std::to_string(c) + "x" + std::to_string(r)).c_str(), count, c, r)
            ->Iterations(1));
  benchmark::Initialize(&argc, argv);
  benchmark::RunSpecifiedBenchmarks();
  chevrons.print("chevrons");
  twists.print("square twists");
  benchmark::Shutdown();
}
