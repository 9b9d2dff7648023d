// The figures the application is held to, each printed beside its bound. Nothing is asserted: machines differ.
#include "demo/demo.h"
#include "divide/division.h"
#include "pattern/family.h"
#include "pattern/pattern_figure.h"
#include "patterns.h"
#include "record/run_log.h"
#include "shell/main_window.h"
#include "size.h"
#include "stages/collapse/collapse_stage.h"
#include "widgets/paper_view.h"
#include "widgets/way_plot.h"

#include <QApplication>
#include <QDir>
#include <QElapsedTimer>
#include <QPainter>
#include <QTemporaryDir>
#include <benchmark/benchmark.h>

#include <cmath>
#include <random>

using namespace uc;

namespace {

void bound(benchmark::State& state, double milliseconds) { state.counters["bound_ms"] = milliseconds; }

void best_for_128(benchmark::State& state) {
  DivideTask task;
  task.parts = 128;
  for (auto _ : state) benchmark::DoNotOptimize(plan_division(task, Method::best).worst_sigma_mm);
  bound(state, 100);
}
BENCHMARK(best_for_128)->Unit(benchmark::kMillisecond);

void best_for_255(benchmark::State& state) {
  DivideTask task;
  task.parts = 255;
  for (auto _ : state) benchmark::DoNotOptimize(plan_division(task, Method::best).worst_sigma_mm);
}
BENCHMARK(best_for_255)->Unit(benchmark::kMillisecond);

/// Worst standard error of `best` over the least possible, largest over all counts; the bound is 1.01.
void best_over_optimum(benchmark::State& state) {
  double worst = 0;
  for (auto _ : state) {
    worst = 0;
    for (int parts = least_parts; parts <= greatest_parts; ++parts) {
      DivideTask task;
      task.parts = parts;
      const bool power = (parts & (parts - 1)) == 0;
      const double optimum = std::sqrt(4.0 / 3 * (power ? 1 - 1.0 / (double(parts) * parts) : 1));
      worst = std::max(worst, plan_division(task, Method::best).worst_sigma_mm / task.sigma_mm / optimum);
    }
  }
  state.counters["ratio"] = worst;
  state.counters["bound_ratio"] = 1.01;
}
BENCHMARK(best_over_optimum)->Unit(benchmark::kMillisecond)->Iterations(1);

void redraw_256_grid(benchmark::State& state) {
  GridSpec spec;
  spec.parts = bench::sized(256);
  const auto division = divide(Sheet::square(Millimetres{240}), spec, HandProfile{});
  app::PaperView view;
  view.resize(754, 414);
  QHash<int, QColor> tints;
  int place = 0;
  for (const Element& e : division->programme.elements) {
    ++place;
    if (e.sigma_mm) tints[place] = app::error_colour(*e.sigma_mm, 0.25, app::current_theme());
  }
  view.set_tints(tints);
  view.show_figure(crease_figure(division->programme));
  QImage image(view.size(), QImage::Format_ARGB32_Premultiplied);
  for (auto _ : state) view.render(&image);
  bound(state, 8);
}
BENCHMARK(redraw_256_grid)->Unit(benchmark::kMillisecond);

/// The plot of 200 ways, drawn anew as when a slider narrows it.
void redraw_200_ways(benchmark::State& state) {
  app::WayPlot plot;
  plot.resize(740, 172);
  std::mt19937 random(4);
  std::vector<app::PlottedWay> ways;
  for (int i = 0; i < bench::sized(200); ++i)
    ways.push_back({1.0 + static_cast<double>(random() % 6), 0.2 + static_cast<double>(random() % 1000) / 300, 0.5,
                    random() % 7 == 0, QStringLiteral("a way")});
  plot.show_ways(ways);
  QImage image(plot.size(), QImage::Format_ARGB32_Premultiplied);
  for (auto _ : state) plot.render(&image);
  bound(state, 4);
}
BENCHMARK(redraw_200_ways)->Unit(benchmark::kMillisecond);

/// 50 000 creases: one frame while panning, one while zooming, and the frame that is drawn anew when the view rests.
void pan_50_000_creases(benchmark::State& state) {
  app::PaperView view;
  view.resize(754, 520);
  view.show_figure(pattern_figure(testing::chevron_pattern(bench::sized(158), 158)));
  QImage image(view.size(), QImage::Format_ARGB32_Premultiplied);
  view.render(&image);
  double factor = 1.02;
  for (auto _ : state) {
    view.zoom(factor, QPointF(300, 200));
    factor = 1 / factor;
    view.render(&image);
  }
  state.counters["creases"] = static_cast<double>(view.figure().lines.size());
  bound(state, 16);
}
BENCHMARK(pan_50_000_creases)->Unit(benchmark::kMillisecond);

void redraw_50_000_creases_at_rest(benchmark::State& state) {
  app::PaperView view;
  view.resize(754, 520);
  const Figure figure = pattern_figure(testing::chevron_pattern(bench::sized(158), 158));
  QImage image(view.size(), QImage::Format_ARGB32_Premultiplied);
  for (auto _ : state) {
    state.PauseTiming();
    view.show_figure(figure);
    state.ResumeTiming();
    view.render(&image);
  }
}
BENCHMARK(redraw_50_000_creases_at_rest)->Unit(benchmark::kMillisecond);

void first_window_with_the_demo(benchmark::State& state) {
  QTemporaryDir dir;
  app::prepare_demo(dir.path());
  double all_ms = 0; // until the stages that are not seen are there as well
  for (auto _ : state) {
    QElapsedTimer timer;
    timer.start();
    app::Workspace workspace(dir.path());
    app::MainWindow window(workspace);
    window.open_project(dir.path() + "/open-night.undercrease");
    window.show();
    QImage image(window.size(), QImage::Format_ARGB32_Premultiplied);
    window.render(&image);
    QApplication::processEvents();
    state.PauseTiming();
    for (int i = 0; i < window.stage_count(); ++i) (void)window.stage_at(i);
    all_ms = std::max(all_ms, static_cast<double>(timer.nsecsElapsed()) / 1e6);
    state.ResumeTiming();
  }
  state.counters["all_stages_ms"] = all_ms;
  bound(state, 400);
}
BENCHMARK(first_window_with_the_demo)->Unit(benchmark::kMillisecond)->Iterations(5);

/// The whole window at 1280 x 800 while a sheet closes in it, the sheet spun by a little each frame. 0: drawn into a
/// picture, as where the processor stands in for a graphics card; 1: drawn into the window.
void frame_while_a_sheet_closes(benchmark::State& state) {
  QTemporaryDir dir;
  app::Workspace workspace(dir.path());
  app::MainWindow window(workspace);
  window.resize(1280, 800);
  window.show();
  window.show_stage(QStringLiteral("collapse"));
  auto* stage = static_cast<app::CollapseStage*>(window.stage("collapse"));
  workspace.document.change("family", [](Project& p) { p.pattern = family_design("chevron", {{"count", 32}}); });
  while (!stage->closing_at()) QApplication::processEvents();
  stage->bench()->draw_in_window(state.range(0) == 1);
  QApplication::processEvents();
  double longest = 0;
  for (auto _ : state) {
    if (!stage->closing_at()) {
      state.SkipWithError("the sheet has closed before the frames were counted");
      break;
    }
    QElapsedTimer timer;
    timer.start();
    stage->bench()->spin(2, 0);
    stage->bench()->repaint();
    QApplication::processEvents();
    longest = std::max(longest, static_cast<double>(timer.nsecsElapsed()) / 1e6);
  }
  state.counters["longest_ms"] = longest;
  if (state.range(0) == 0) bound(state, 33.3);
}
BENCHMARK(frame_while_a_sheet_closes)->Arg(0)->Arg(1)->Unit(benchmark::kMillisecond)->Iterations(60)->UseRealTime();

void log_of_10000_opens(benchmark::State& state) {
  QTemporaryDir dir;
  const std::string path = (dir.path() + "/log.sqlite").toStdString();
  {
    RunLog log = std::move(RunLog::open(path)).value(); // filled once, outside the timing
    RunDetail run;
    run.summary.title = "Crater panel";
    run.summary.sheet = "square:240mm";
    run.summary.stock = "Copy paper";
    run.summary.kind = "division";
    run.summary.way = "both, best";
    run.summary.size = 16;
    run.summary.started = "2026-10-01T18:00:00Z";
    run.summary.status = RunStatus::finished;
    run.programme_json = std::string(20000, ' ');
    run.plans_json = "[]";
    run.measured = {{"x", 8, 120.2, 120, 0.25, 0.15}};
    for (int i = 0; i < bench::sized(10000); ++i) (void)log.add_whole(run);
  }
  for (auto _ : state) {
    const auto log = RunLog::open(path);
    benchmark::DoNotOptimize(log->list()->size());
  }
  bound(state, 300);
}
BENCHMARK(log_of_10000_opens)->Unit(benchmark::kMillisecond)->Iterations(5);

void one_move_acknowledged(benchmark::State& state) {
  QTemporaryDir dir;
  RunLog log = std::move(RunLog::open((dir.path() + "/log.sqlite").toStdString())).value();
  RunDetail run;
  run.programme_json = "{}";
  run.plans_json = "[]";
  const auto id = log.begin(run);
  int move = 0;
  for (auto _ : state) (void)log.add_event(*id, {EventKind::done, move++, 1, "", ""});
}
BENCHMARK(one_move_acknowledged)->Unit(benchmark::kMillisecond)->Iterations(200);

} // namespace

int main(int argc, char** argv) {
  QApplication application(argc, argv);
  uc::app::load_fonts();
  uc::app::apply_theme(uc::app::make_theme(uc::app::ThemeChoice::light));
  benchmark::Initialize(&argc, argv);
  benchmark::RunSpecifiedBenchmarks();
  benchmark::Shutdown();
}
