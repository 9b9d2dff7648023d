// Families redrawn, sheets closing in space, solids coloured and put in order: each figure beside its bound.
#include "collapse/closing.h"
#include "collapse/dissected_cholesky.h"
#include "collapse/sheet_elements.h"
#include "paper/sheet.h"
#include "pattern/family.h"
#include "size.h"
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
#include <stdexcept>
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
    edges = drawn_pattern(family_design("chevron", {{"count", bench::share() < 1 ? 22.0 : 70.0}}), Sheet().outline())
                .healed.pattern.edges.size();
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

/// What no step can do without: a back-substitution in a matrix of the same places, and a pass over the elements, which
/// gives the forces.
class Bare {
public:
  explicit Bare(const FoldMesh& mesh) : elements_(mesh, {}), matrix_(elements_.layout()), factor_(matrix_, mesh.flat) {
    for (int column = 0; column < matrix_.outerSize(); ++column)
      for (decltype(matrix_)::InnerIterator it(matrix_, column); it; ++it)
        it.valueRef() = it.row() == column ? 100 : 0.01;
    if (!factor_.factorize(matrix_.valuePtr())) throw std::runtime_error("the matrix of the benchmark has no factor");
    elements_.aim(SheetElements::Angles(mesh.hinges.size(), 1.0));
    angles_.assign(mesh.hinges.size(), 0);
    for (const Point& p : mesh.flat) shape_.emplace_back(p.x() / elements_.unit(), p.y() / elements_.unit(), 0);
  }
  double ms() {
    const auto start = Clock::now();
    Eigen::VectorXd force = Eigen::VectorXd::Zero(matrix_.rows());
    benchmark::DoNotOptimize(elements_.energy(shape_, angles_, force));
    benchmark::DoNotOptimize(factor_.solve(force));
    return ms_since(start);
  }

private:
  SheetElements elements_;
  Eigen::SparseMatrix<double> matrix_;
  DissectedCholesky factor_;
  SheetElements::Shape shape_;
  SheetElements::Angles angles_;
};

/// All steps of a sheet of about `range` triangles on its way, those that make a factor too, and what is bare, by
/// turns.
void collapse_step(benchmark::State& state) {
  const FoldMesh mesh = chevron_mesh(std::sqrt(static_cast<double>(state.range(0)) / 2));
  FoldSolver solver(mesh, {});
  Bare bare(mesh);
  double part = 0.05;
  double sum = 0;
  double bare_sum = 0;
  int bare_count = 0;
  for (auto _ : state) {
    solver.drive(targets_at(mesh, {}, part));
    part += 0.02;
    const auto start = Clock::now();
    solver.come_near();
    sum += ms_since(start);
    for (int i = 0; i < 20; ++i, ++bare_count) bare_sum += bare.ms();
  }
  const double ms = sum / solver.steps();
  const double bare_ms = bare_sum / bare_count;
  state.counters["triangles"] = static_cast<double>(mesh.triangles.size());
  state.counters["ms"] = ms;
  state.counters["new_factors_percent"] = 100.0 * solver.factors() / solver.steps();
  state.counters["bare_ms"] = bare_ms;
  state.counters["times_bare"] = ms / bare_ms;
  state.counters["bound_times_bare"] = 2;
  if (state.range(0) == 4050) state.counters["bound_ms"] = 1000.0 / 60;
}
BENCHMARK(collapse_step)
    ->Apply([](auto* b) {
      for (const int triangles : bench::sized({128, 512, 2048, 4050, 8192})) b->Arg(triangles);
    }) -> Iterations(40) -> Unit(benchmark::kMillisecond);

/// From flat to closed.
void collapse_closing(benchmark::State& state) {
  const FoldMesh mesh = chevron_mesh(static_cast<double>(state.range(0)));
  double seconds = 0;
  for (auto _ : state) {
    const auto start = Clock::now();
    Closing closing(mesh);
    closing.go_to(1);
    seconds = ms_since(start) / 1000;
    state.counters["steps"] = closing.steps();
    state.counters["new_factors_percent"] = 100.0 * closing.factors() / closing.steps();
    state.counters["strain"] = closing.state().max_strain;
  }
  Bare bare(mesh);
  double bare_ms = 0;
  constexpr int bare_count = 200;
  for (int i = 0; i < bare_count; ++i) bare_ms += bare.ms() / bare_count;
  state.counters["times_bare"] = 1000 * seconds / state.counters["steps"] / bare_ms;
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
BENCHMARK(collapse_closing)
    ->Apply([](auto* b) {
      for (const int divisions : bench::sized({8, 16, 32, 64}, 2)) b->Arg(divisions);
    }) -> Iterations(1) -> Unit(benchmark::kSecond);

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
BENCHMARK(family_closing_apart)->DenseRange(0, bench::sized(26) - 1)->Iterations(1)->Unit(benchmark::kSecond);

/// Three colours, or as many as it takes, on the edges of every named solid with up to 200 joints; the slowest counts.
void colours_of_named_solids(benchmark::State& state) {
  double worst = 0;
  int solids = 0;
  for (auto _ : state) {
    for (const std::string& name : named_solids()) {
      const UnitGraph graph = unit_graph(parse_solid(name).value(), *find_unit_family("parallelogram"), {75, 75});
      if (static_cast<int>(graph.joints.size()) > bench::sized(200)) continue;
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
  const UnitGraph graph = unit_graph(parse_solid(bench::share() < 1 ? "geodesic:2,0" : "geodesic:6,0").value(),
                                     *find_unit_family("parallelogram"), {75, 75});
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
  const UnitGraph graph = unit_graph(parse_solid(bench::share() < 1 ? "geodesic:2,0" : "geodesic:6,0").value(),
                                     *find_unit_family("parallelogram"), {75, 75});
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
