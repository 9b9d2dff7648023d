// Folding through layers: one more fold of a packet, and a steps file of thirty folds, each beside its bound.
#include "fold/sequence.h"

#include <benchmark/benchmark.h>

#include <chrono>
#include <string>

namespace {

using namespace uc;

/// A strip folded in half again and again: the sixth fold leads from 32 faces to 64.
constexpr const char* packet =
    "sheet square:240mm\nvalley left onto right\nvalley bottom onto top\nvalley left onto c1\n"
    "valley bottom onto c2\nvalley left onto c3\n";
constexpr const char* sixth = "valley bottom onto c4\n";

FoldSequence made(const std::string& text) {
  auto all = fold_sequence(parse_steps(text).value());
  if (all.refused) throw std::logic_error(all.refused->sentence());
  return std::move(all.made);
}

double best_of(int rounds, const std::string& text) {
  double best = 1e300;
  for (int i = 0; i < rounds; ++i) {
    const auto start = std::chrono::steady_clock::now();
    benchmark::DoNotOptimize(made(text));
    best = std::min(best, std::chrono::duration<double, std::milli>(std::chrono::steady_clock::now() - start).count());
  }
  return best;
}

void one_fold_of_64_faces(benchmark::State& state) {
  double ms = 0;
  for (auto _ : state) ms = best_of(10, std::string(packet) + sixth) - best_of(10, packet);
  state.counters["faces"] =
      static_cast<double>(made(std::string(packet) + sixth).states.back().form->graph.faces.size());
  state.counters["ms"] = ms;
  state.counters["bound_ms"] = 5;
}
BENCHMARK(one_fold_of_64_faces)->Unit(benchmark::kMillisecond)->Iterations(3);

/// Halved two times more: from 128 faces to 256.
void one_fold_of_256_faces(benchmark::State& state) {
  const std::string before = std::string(packet) + sixth + "valley left onto c5\n";
  const std::string eighth = "valley bottom onto c6\n";
  double ms = 0;
  for (auto _ : state) ms = best_of(5, before + eighth) - best_of(5, before);
  state.counters["faces"] = static_cast<double>(made(before + eighth).states.back().form->graph.faces.size());
  state.counters["ms"] = ms;
  state.counters["bound_ms"] = 20;
}
BENCHMARK(one_fold_of_256_faces)->Unit(benchmark::kMillisecond)->Iterations(3);

/// Both petal folds of a bird base, proofs and turning over included.
void two_petals(benchmark::State& state) {
  const std::string before = "sheet square:150mm\nr = crease br onto tl\nf = crease bl onto tr\n"
                             "u = crease left onto right\nl = crease bottom onto top\ncollapse valley u l mountain r\n";
  double ms = 0;
  for (auto _ : state) ms = best_of(10, before + "petal tl\nover\npetal br\n") - best_of(10, before);
  state.counters["ms"] = ms;
  state.counters["bound_ms"] = 20;
}
BENCHMARK(two_petals)->Unit(benchmark::kMillisecond)->Iterations(3);

/// A blintz with all its corners out and in again, sixty moves.
void sixty_moves(benchmark::State& state) {
  std::string text = "sheet square:240mm\nr = crease br onto tl\nf = crease bl onto tr\np = cross r f\n";
  for (int i = 0; i < 11; ++i)
    text += i == 0 ? "valley bl onto p\nrepeat 5 at br, tr, tl\nunfold all\n"
                   : "valley along c3\nvalley along c4\nvalley along c5\nvalley along c6\nunfold all\n";
  text += "valley along r moving br\nreverse bl onto p\nover\n";
  double ms = 0;
  for (auto _ : state) ms = best_of(3, text);
  state.counters["moves"] = static_cast<double>(made(text).states.size() - 1);
  state.counters["ms"] = ms;
  state.counters["bound_ms"] = 500;
}
BENCHMARK(sixty_moves)->Unit(benchmark::kMillisecond)->Iterations(3);

void thirty_folds(benchmark::State& state) {
  std::string text = "sheet square:240mm\nc1 = crease left onto right\nc2 = crease bottom onto top\n";
  text += "c3 = crease left onto c1\nc4 = crease right onto c1\nc5 = crease bottom onto c2\nc6 = crease top onto c2\n";
  text += "crease bl onto tr\ncrease br onto tl\np = cross c1 c2\n";
  for (const char* corner : {"bl", "br", "tr", "tl"}) text += std::string("valley ") + corner + " onto p\n";
  text += "unfold all\n";
  for (int i = 0; i < 5; ++i) text += "valley along c3\nmountain along c4\nunfold all\n";
  text += "valley along c1 moving bl\n";
  double ms = 0;
  for (auto _ : state) ms = best_of(1, text);
  const FoldSequence all = made(text);
  state.counters["moves"] = static_cast<double>(all.states.size() - 1);
  state.counters["faces"] = static_cast<double>(all.states.back().form->graph.faces.size());
  state.counters["ms"] = ms;
  state.counters["bound_ms"] = 200;
}
BENCHMARK(thirty_folds)->Unit(benchmark::kMillisecond)->Iterations(5);

} // namespace

BENCHMARK_MAIN();
