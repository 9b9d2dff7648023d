// Families redrawn, sheets closing in space, solids coloured and put in order: each figure beside its bound.
#include "collapse/closing.h"
#include "collapse/dissected_cholesky.h"
#include "paper/sheet.h"
#include "pattern/family.h"
#include "solid/expression.h"
#include "solid/named.h"
#include "unit/assembly.h"
#include "unit/colouring.h"
#include "unit/unit_plan.h"

#include <benchmark/benchmark.h>

#include <algorithm>
#include <chrono>
#include <cmath>
#include <cstdint>
#include <map>
#include <numeric>
#include <string>
#include <vector>

namespace {

using namespace uc;
using Clock = std::chrono::steady_clock;

double ms_since(Clock::time_point start) {
  return std::chrono::duration<double, std::milli>(Clock::now() - start).count();
}

/// Every family at its normal parameters; the slowest counts.
void family_redraw(benchmark::State& state) {
  double worst = 0;
  std::string slowest;
  for (auto _ : state) {
    for (const PatternFamily& f : pattern_families()) {
      double best = 1e300;
      for (int i = 0; i < 3; ++i) {
        const auto start = Clock::now();
        benchmark::DoNotOptimize(drawn_pattern(family_design(f.name), Sheet().outline()));
        best = std::min(best, ms_since(start));
      }
      if (best > worst) worst = best, slowest = f.name;
    }
  }
  state.SetLabel(slowest);
  state.counters["ms"] = worst;
  state.counters["bound_ms"] = 16;
}
BENCHMARK(family_redraw)->Iterations(1)->Unit(benchmark::kMillisecond);

void family_of_ten_thousand_creases(benchmark::State& state) {
  double best = 1e300;
  std::size_t edges = 0;
  for (auto _ : state) {
    const auto start = Clock::now();
    edges = drawn_pattern(family_design("chevron", {{"count", 70}}), Sheet().outline()).healed.pattern.edges.size();
    best = std::min(best, ms_since(start));
  }
  state.counters["edges"] = static_cast<double>(edges);
  state.counters["ms"] = best;
  state.counters["bound_ms"] = 100;
}
BENCHMARK(family_of_ten_thousand_creases)->Iterations(5)->Unit(benchmark::kMillisecond);

FoldMesh chevron_mesh(double count) {
  return fold_mesh(drawn_pattern(family_design("chevron", {{"count", count}}), Sheet().outline()).healed).value();
}

/// What no step can do without: a back-substitution in a matrix of the same places, and a pass over the elements.
double bare_ms(const FoldMesh& mesh, const FoldSolver& solver) {
  std::vector<Eigen::Triplet<double>> places;
  for (const auto& h : mesh.hinges) {
    const std::array v{h.a, h.b, h.left, h.right};
    for (int i = 0; i < 12; ++i)
      for (int k = 0; k < 12; ++k) {
        const int r = 3 * v[static_cast<std::size_t>(i / 3)] + i % 3;
        const int c = 3 * v[static_cast<std::size_t>(k / 3)] + k % 3;
        if (r >= c) places.emplace_back(r, c, r == c ? 100.0 : 0.01);
      }
  }
  const auto n = 3 * static_cast<Eigen::Index>(mesh.flat.size());
  for (Eigen::Index i = 0; i < n; ++i) places.emplace_back(i, i, 100.0);
  Eigen::SparseMatrix<double> matrix(n, n);
  matrix.setFromTriplets(places.begin(), places.end());
  matrix.makeCompressed();
  DissectedCholesky factor(matrix, mesh.flat);
  if (!factor.factorize(matrix.valuePtr())) return std::nan("");
  const Eigen::VectorXd force = Eigen::VectorXd::Ones(n);
  double best = 1e300;
  for (int i = 0; i < 20; ++i) {
    const auto start = Clock::now();
    benchmark::DoNotOptimize(factor.solve(force));
    benchmark::DoNotOptimize(solver.energy());
    best = std::min(best, ms_since(start));
  }
  return best;
}

/// Steps of a sheet on its way to rest, of about `range` triangles: the mean of all, and of those by a factor that was
/// made before, which are held to the bound.
void collapse_step(benchmark::State& state) {
  const FoldMesh mesh = chevron_mesh(std::sqrt(static_cast<double>(state.range(0)) / 2));
  FoldSolver solver(mesh, {});
  double part = 0.05;
  double sum = 0;
  std::vector<double> by_old_factor;
  std::size_t steps = 0;
  for (auto _ : state) {
    solver.drive(targets_at(mesh, {}, part));
    part += 0.02;
    for (int i = 0; i < 12; ++i) {
      const int factors = solver.factors();
      const auto start = Clock::now();
      benchmark::DoNotOptimize(solver.step());
      const double ms = ms_since(start);
      if (solver.factors() == factors) by_old_factor.push_back(ms);
      sum += ms;
      ++steps;
    }
  }
  const double old_ms = std::accumulate(by_old_factor.begin(), by_old_factor.end(), 0.0) /
                        static_cast<double>(std::max<std::size_t>(by_old_factor.size(), 1));
  const double bare = bare_ms(mesh, solver);
  state.counters["triangles"] = static_cast<double>(mesh.triangles.size());
  state.counters["ms"] = sum / static_cast<double>(steps);
  state.counters["new_factors_percent"] =
      100 - 100.0 * static_cast<double>(by_old_factor.size()) / static_cast<double>(steps);
  state.counters["old_factor_ms"] = old_ms;
  state.counters["bare_ms"] = bare;
  state.counters["times_bare"] = old_ms / bare;
  state.counters["bound_times_bare"] = 2;
  if (state.range(0) == 4050) state.counters["bound_ms"] = 1000.0 / 60;
}
BENCHMARK(collapse_step)
    ->Arg(128)
    ->Arg(512)
    ->Arg(2048)
    ->Arg(4050)
    ->Arg(8192)
    ->Iterations(20)
    ->Unit(benchmark::kMillisecond);

/// From flat to closed.
void collapse_closing(benchmark::State& state) {
  const FoldMesh mesh = chevron_mesh(static_cast<double>(state.range(0)));
  double seconds = 0;
  double strain = 0;
  for (auto _ : state) {
    const auto start = Clock::now();
    Closing closing(mesh);
    closing.go_to(1);
    seconds = ms_since(start) / 1000;
    strain = closing.state().max_strain;
  }
  state.counters["strain"] = strain;
  state.counters["s"] = seconds;
  static std::map<std::int64_t, double> sizes; // of this run, seconds by divisions
  sizes[state.range(0)] = seconds;
  if (sizes.size() > 1) {
    const auto& [least, fast] = *sizes.begin();
    const auto& [most, slow] = *sizes.rbegin();
    state.counters["growth_exponent"] =
        std::log(slow / fast) / std::log(static_cast<double>(most) / static_cast<double>(least));
  }
  if (state.range(0) == 64) state.counters["bound_s"] = 20;
}
BENCHMARK(collapse_closing)->Arg(8)->Arg(16)->Arg(32)->Arg(64)->Iterations(1)->Unit(benchmark::kSecond);

/// Every family that is meant to close, its layers kept apart: looked at at every fiftieth of the way.
void family_closing_apart(benchmark::State& state) {
  std::vector<const PatternFamily*> closing_ones;
  for (const PatternFamily& f : pattern_families())
    if (f.group != FamilyGroup::grid && f.name != "relief" && f.name != "concentric-pleats") closing_ones.push_back(&f);
  const auto own = static_cast<std::size_t>(state.range(0));
  if (own >= closing_ones.size()) {
    state.SkipWithError("there are fewer families");
    return;
  }
  const PatternFamily& family = *closing_ones[own];
  const DrawnPattern drawn = drawn_pattern(family_design(family.name), Sheet().outline());
  const FoldMesh mesh = fold_mesh(drawn.healed, drawn.full_deg, drawn.goals).value();
  double seconds = 0;
  double strain = 0;
  int passing = 0;
  double off_deg = 0;
  for (auto _ : state) {
    const auto start = Clock::now();
    Closing closing(mesh, {family_stages(mesh), {}, false, true});
    std::vector<double> parts = even_parts(50);
    parts.push_back(1);
    const auto states = states_at(closing, parts);
    seconds = ms_since(start) / 1000;
    for (const CollapseState& s : states) {
      strain = std::max(strain, s.max_strain);
      passing += s.passed_through > 0;
    }
    off_deg = states.back().rms_error_deg;
  }
  state.SetLabel(family.name);
  state.counters["strain"] = strain;
  state.counters["bound_strain"] = 0.01;
  state.counters["states_passing"] = passing;
  state.counters["off_deg"] = off_deg;
  state.counters["s"] = seconds;
}
BENCHMARK(family_closing_apart)->DenseRange(0, 25)->Iterations(1)->Unit(benchmark::kSecond);

/// Three colours, or as many as it takes, on the edges of every named solid with up to 200 joints; the slowest counts.
void colours_of_named_solids(benchmark::State& state) {
  double worst = 0;
  int solids = 0;
  for (auto _ : state) {
    for (const std::string& name : named_solids()) {
      const UnitGraph graph = unit_graph(parse_solid(name).value(), *find_unit_family("parallelogram"), {75, 75});
      if (graph.joints.size() > 200) continue;
      const auto start = Clock::now();
      const auto least = fewest_colours(graph);
      benchmark::DoNotOptimize(coloured(graph, {**least}));
      worst = std::max(worst, ms_since(start));
      ++solids;
    }
  }
  state.counters["solids"] = solids;
  state.counters["ms"] = worst;
  state.counters["bound_ms"] = 1000;
}
BENCHMARK(colours_of_named_solids)->Iterations(1)->Unit(benchmark::kMillisecond);

void colours_of_a_thousand_edges(benchmark::State& state) {
  const UnitGraph graph = unit_graph(parse_solid("geodesic:6,0").value(), *find_unit_family("parallelogram"), {75, 75});
  double ms = 0;
  for (auto _ : state) {
    const auto start = Clock::now();
    benchmark::DoNotOptimize(coloured(graph, {3}));
    ms = ms_since(start);
  }
  state.counters["units"] = static_cast<double>(graph.units.size());
  state.counters["ms"] = ms;
  state.counters["bound_ms"] = 10'000;
}
BENCHMARK(colours_of_a_thousand_edges)->Iterations(1)->Unit(benchmark::kMillisecond);

void order_of_a_thousand_units(benchmark::State& state) {
  const UnitGraph graph = unit_graph(parse_solid("geodesic:6,0").value(), *find_unit_family("parallelogram"), {75, 75});
  double ms = 0;
  for (auto _ : state) {
    const auto start = Clock::now();
    benchmark::DoNotOptimize(assembly_order(graph));
    ms = ms_since(start);
  }
  state.counters["units"] = static_cast<double>(graph.units.size());
  state.counters["ms"] = ms;
  state.counters["bound_ms"] = 1000;
}
BENCHMARK(order_of_a_thousand_units)->Iterations(1)->Unit(benchmark::kMillisecond);

/// Twenty cut lists against the fewest sheets any way of cutting could do with; 2 % over it is the bound.
void cut_lists(benchmark::State& state) {
  struct Case {
    const char* family;
    const char* solid;
    UnitSheet sheet;
    UnitSheet from;
  };
  std::vector<Case> cases;
  for (const UnitSheet& from : {UnitSheet{210, 297}, {297, 420}, {320, 450}, {500, 700}})
    for (const auto& [family, solid, sheet] : {std::tuple{"half-square-star", "icosahedron", UnitSheet{75, 75}},
                                               {"parallelogram", "snub-cube", {60, 60}},
                                               {"rhombic", "rhombic-triacontahedron", {50, 81}},
                                               {"strip-and-clip", "dodecahedron", {200, 20}},
                                               {"strip-and-clip", "truncated-octahedron", {200, 15}}})
      cases.push_back({family, solid, sheet, from});
  double over = 0;
  int sheets = 0;
  int bound = 0;
  for (auto _ : state) {
    for (const Case& c : cases) {
      UnitWish wish;
      wish.family = c.family;
      wish.solid = c.solid;
      wish.sheet = c.sheet;
      wish.from = c.from;
      const auto plan = unit_plan(wish);
      if (!plan) continue;
      sheets += plan->cutting.sheets;
      bound += plan->cutting.bound;
      over = std::max(over, 100.0 * plan->cutting.sheets / plan->cutting.bound - 100);
    }
  }
  state.counters["cases"] = static_cast<double>(cases.size());
  state.counters["sheets"] = sheets;
  state.counters["least"] = bound;
  state.counters["worst_over_percent"] = over;
  state.counters["over_percent"] = 100.0 * sheets / bound - 100;
  state.counters["bound_over_percent"] = 2;
}
BENCHMARK(cut_lists)->Iterations(1)->Unit(benchmark::kMillisecond);

} // namespace

BENCHMARK_MAIN();
