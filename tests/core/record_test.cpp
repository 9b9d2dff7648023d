// The log and what is learned from it.
#include "runner.h"
#include "support.h"

#include "divide/division.h"
#include "divide/hand_fit.h"
#include "record/run_log.h"

#include <QTemporaryDir>

#include <filesystem>
#include <fstream>
#include <random>
#include <set>

using namespace uc;
using uc::testing::near;

namespace {

RunDetail sample(const std::string& title, int parts) {
  RunDetail run;
  run.summary.title = title;
  run.summary.sheet = "square:240mm";
  run.summary.stock = "Copy paper";
  run.summary.kind = "division";
  run.summary.way = "both, best";
  run.summary.size = parts;
  run.summary.started = "2026-10-0" + std::to_string(1 + parts % 9) + "T18:00:00Z";
  run.summary.moves_planned = 10;
  run.summary.planned_minutes = 5;
  run.summary.planned_sigma_mm = 0.28;
  run.summary.planned_worst_mm = 0.29;
  run.programme_json = "{}";
  run.plans_json = "[]";
  return run;
}

/// Positions of a simulated folding of a plan by a hand of standard error s, read off a ruler.
MeasuredFamily folded(int parts, double s, double ruler, std::mt19937& random) {
  MeasuredFamily m;
  m.task.parts = parts;
  const GridPlan plan = plan_division(m.task, Method::best);
  m.steps = plan.steps;
  m.ruler_sigma_mm = ruler;
  std::normal_distribution<double> hand(0, s);
  std::normal_distribution<double> eye(0, m.task.guess_sigma_mm);
  std::normal_distribution<double> reading(0, ruler);
  std::vector<double> off(static_cast<std::size_t>(parts) + 1, 0);
  for (const GridStep& step : m.steps) {
    const double a = off[static_cast<std::size_t>(step.a)];
    const double b = off[static_cast<std::size_t>(step.b)];
    off[static_cast<std::size_t>(step.makes)] =
        step.kind == StepKind::guess ? eye(random)
                                     : (step.kind == StepKind::bring ? (a + b) / 2 : 2 * a - b) + hand(random);
  }
  for (int k = 1; k < parts; ++k) {
    m.lines.push_back(k);
    m.deviation_mm.push_back(off[static_cast<std::size_t>(k)] + reading(random));
  }
  return m;
}

} // namespace

class RecordTest : public QObject {
  Q_OBJECT
  QTemporaryDir dir_;
  [[nodiscard]] std::string path(const char* name) const { return (dir_.path() + "/" + name).toStdString(); }

private slots:
  void a_run_is_found_again_with_all_that_happened() {
    auto log = RunLog::open(path("a.sqlite"));
    QVERIFY(log.ok());
    RunLog db = std::move(log).value();
    const auto id = db.begin(sample("Panel", 8));
    QVERIFY(id.ok());
    QCOMPARE(db.active_run().value().value(), *id);
    QVERIFY(db.add_event(*id, {EventKind::done, 0, 20, "", "2026-10-01T18:01:00Z"}).ok());
    QVERIFY(db.add_event(*id, {EventKind::fault, 1, 0, "slipped", "2026-10-01T18:02:00Z"}).ok());
    QVERIFY(db.add_event(*id, {EventKind::skipped, 1, 10, "no need", "2026-10-01T18:02:00Z"}).ok());
    QVERIFY(db.add_event(*id, {EventKind::idle, 2, 600, "", "2026-10-01T18:12:00Z"}).ok());
    QVERIFY(db.set_measured(*id, {{"x", 4, 120.3, 120, 0.25, 0.15}, {"x", 2, 59.9, 60, 0.28, 0.15}}).ok());
    QVERIFY(db.set_note(*id, "good light").ok());
    QVERIFY(db.add_photo(*id, "/tmp/panel.jpg").ok());
    QVERIFY(db.end(*id, RunStatus::finished, "2026-10-01T18:20:00Z").ok());
    QVERIFY(!db.active_run().value());
    auto again = RunLog::open(path("a.sqlite"));
    const RunDetail run = again->load(*id).value();
    QCOMPARE(run.summary.moves_done, 1);
    QCOMPARE(run.summary.faults, 1);
    QVERIFY(near(run.summary.minutes, 0.5, 1e-9));
    QCOMPARE(run.events.size(), std::size_t{4});
    QCOMPARE(run.events[1].text, std::string("slipped"));
    QCOMPARE(run.photos, std::vector<std::string>{"/tmp/panel.jpg"});
    QVERIFY(near(*run.summary.measured_rms_mm, std::sqrt((0.09 + 0.01) / 2), 1e-9));
    QVERIFY(near(*run.summary.measured_worst_mm, 0.3, 1e-9));
    QVERIFY(!again->load(99));
  }

  void runs_wait_and_are_found_under_their_project() {
    RunLog db = std::move(RunLog::open(path("waiting.sqlite"))).value();
    RunDetail crater = sample("Crater", 8);
    crater.project = "/home/fold/crater.undercrease";
    const auto first = *db.begin(crater);
    QVERIFY(!db.waiting_run(crater.project)->has_value());
    QVERIFY(db.put_aside(first).ok());
    QVERIFY(!db.put_aside(first)); // it is not under way any more
    QVERIFY(!db.active_run()->has_value());
    QCOMPARE(**db.waiting_run(crater.project), first);
    QVERIFY(!db.waiting_run("/home/fold/other.undercrease")->has_value());
    RunQuery waiting;
    waiting.status = RunStatus::waiting;
    QCOMPARE(db.list(waiting)->size(), std::size_t{1});
    // One run is under way at a time.
    const auto second = *db.begin(sample("Lamp", 4));
    const auto refused = db.take_up(first);
    QVERIFY(!refused && refused.error().find("leave it waiting first") != std::string::npos);
    QVERIFY(db.set_project(second, crater.project).ok());
    QVERIFY(db.put_aside(second).ok());
    QCOMPARE(**db.waiting_run(crater.project), second); // the latest
    QVERIFY(db.take_up(first).ok());
    QVERIFY(!db.take_up(first));
    QCOMPARE(db.load(first)->summary.status, RunStatus::active);
    QCOMPARE(db.load(first)->project, crater.project);
    // Where it belongs is not lost by taking it out and putting it back.
    const RunDetail whole = *db.load(second);
    QVERIFY(db.remove(second).ok() && db.restore(whole).ok());
    QCOMPARE(**db.waiting_run(crater.project), second);
  }

  void runs_are_searched_and_sorted() {
    RunLog db = std::move(RunLog::open(path("b.sqlite"))).value();
    for (const auto& [title, parts] : {std::pair{"Crater panel", 16}, {"Moon lamp", 8}, {"crater test", 4}})
      QVERIFY(db.begin(sample(title, parts)).ok());
    RunQuery query;
    query.text = "crater";
    QCOMPARE(db.list(query)->size(), std::size_t{2});
    query.text = "100%_'";
    QVERIFY(db.list(query)->empty());
    query.text.clear();
    query.order = RunOrder::size;
    QCOMPARE(db.list(query)->front().size, 4);
    query.descending = true;
    QCOMPARE(db.list(query)->front().size, 16);
    query.order = RunOrder::title, query.descending = false;
    QCOMPARE(db.list(query)->front().title, std::string("Crater panel"));
    query.status = RunStatus::finished;
    QVERIFY(db.list(query)->empty());
    query.status.reset(), query.limit = 2;
    QCOMPARE(db.list(query)->size(), std::size_t{2});
    QVERIFY(db.remove(1).ok());
    QCOMPARE(db.list()->size(), std::size_t{2});
  }

  void the_cause_is_the_largest_contribution_or_none() {
    // One line made by one fold: of its deviation d the fold has d·s²/(s² + r²), the rest is the ruler's.
    MeasuredFamily m;
    m.task.parts = 2;
    m.task.sigma_mm = 0.25;
    m.ruler_sigma_mm = 0.15;
    m.steps = {{StepKind::bring, 0, 2, 1, false}};
    m.lines = {1};
    m.deviation_mm = {1.3};
    Diagnosis d = diagnose(m);
    QVERIFY(d.cause && d.cause->kind == Cause::Kind::fold && d.cause->step == 0);
    QVERIFY(near(d.cause->contribution_mm, 1.3 * 0.0625 / (0.0625 + 0.0225), 1e-12));
    QVERIFY(d.lines[0].refold && d.lines[0].refold_from == (std::array<int, 2>{0, 2}));
    QVERIFY(near(d.lines[0].after_refold_mm, 0.25, 1e-12));
    // A ruler that errs more than the hand explains most of it: then no fold is named.
    m.ruler_sigma_mm = 0.5;
    QVERIFY(!diagnose(m).lines[0].within);
    QVERIFY(!diagnose(m).cause);
    m.ruler_sigma_mm = 0.15;
    m.deviation_mm = {0.2};
    QVERIFY(diagnose(m).lines[0].within && !diagnose(m).cause);
    // A guess of 2 mm outweighs the fold after it: line 1 is half of line 2 and one fold.
    m.task.parts = 3;
    m.steps = {{StepKind::guess, 2, 2, 2, false}, {StepKind::bring, 0, 2, 1, false}};
    m.deviation_mm = {3.0};
    d = diagnose(m);
    QVERIFY(d.cause && d.cause->kind == Cause::Kind::guess && d.cause->step == 0);
    const double variance = 0.25 * 4 + 0.0625 + 0.0225;
    QVERIFY(near(d.cause->contribution_mm, 3.0 * (0.25 * 4) / variance, 1e-12));
    // The same from a start that is given.
    m.task.start = StartMark{2, 2.0, StartKind::given, {}};
    m.steps = {{StepKind::bring, 0, 2, 1, false}};
    d = diagnose(m);
    QVERIFY(d.cause && d.cause->kind == Cause::Kind::start);
    QVERIFY(near(d.cause->contribution_mm, 3.0 * (0.25 * 4) / variance, 1e-12));
  }

  void only_what_was_done_is_judged() {
    const auto division = divide(parse_sheet("square:240mm").value(), GridSpec{}, HandProfile{});
    RunDetail run = sample("Crater panel", 8);
    run.programme_json = json_of(division->programme).dump();
    run.plans_json = plans_json(*division).dump();
    const auto plans = *stored_plans(run);
    for (std::size_t f = 0; f < plans.size(); ++f) {
      const auto moves = moves_of_steps(plans[f], f, division->programme);
      QCOMPARE(moves.size(), plans[f].steps.size());
      for (std::size_t i = 0; i < moves.size(); ++i) {
        QVERIFY(moves[i].has_value());
        QCOMPARE(*division->programme.moves[static_cast<std::size_t>(*moves[i])].creases().makes,
                 line_element_id(f, plans[f].steps[i].makes));
      }
      for (int line = 1; line < 8; ++line)
        run.measured.push_back({plans[f].family, line, 30.0 * line, 30.0 * line, 0.3, 0.15});
    }
    const int count = static_cast<int>(division->programme.moves.size());
    for (int done = 0; done <= count; done += 3) {
      run.events.clear();
      for (int i = 0; i < done; ++i)
        run.events.push_back({i == 1 ? EventKind::skipped : EventKind::done, i, 1, "", ""});
      if (run.events.empty()) continue;
      std::set<ElementId> there;
      for (int i = 0; i < done; ++i) {
        const Move& m = division->programme.moves[static_cast<std::size_t>(i)];
        if (m.creases().makes && i != 1) there.insert(*m.creases().makes);
      }
      const auto families = *measured_families(run);
      for (const MeasuredFamily& family : families) {
        for (const GridStep& s : family.steps) {
          QVERIFY(there.contains(line_element_id(0, s.makes)) || there.contains(line_element_id(1, s.makes)));
        }
        for (const int line : family.lines)
          QVERIFY(there.contains(line_element_id(0, line)) || there.contains(line_element_id(1, line)));
      }
    }
  }

  void progress_follows_the_events() {
    std::vector<RunEvent> e = {
        {EventKind::done, 0, 5, "", ""}, {EventKind::done, 1, 6, "", ""}, {EventKind::back, 2, 1, "", ""}};
    QCOMPARE(progress_of(e, 5).next_move, 1);
    e.push_back({EventKind::skipped, 1, 2, "", ""});
    e.push_back({EventKind::paused, 2, 3, "", ""});
    RunProgress p = progress_of(e, 5);
    QCOMPARE(p.next_move, 2);
    QVERIFY(p.paused && p.skipped == std::vector<int>{1});
    QVERIFY(near(p.worked_seconds, 17, 1e-9) && near(p.move_seconds[1], 8, 1e-9));
    e.push_back({EventKind::resumed, 2, 0, "", ""});
    e.push_back({EventKind::back, 2, 0, "", ""});
    e.push_back({EventKind::done, 1, 4, "", ""});
    p = progress_of(e, 5);
    QVERIFY(!p.paused && p.skipped.empty());
    QCOMPARE(progress_of({{EventKind::done, 40, 1, "", ""}}, 5).next_move, 5);
  }

  void damaged_newer_and_locked_logs_say_so() {
    { std::ofstream(path("bad.sqlite")) << std::string(4096, 'x'); }
    const auto bad = RunLog::open(path("bad.sqlite"));
    QVERIFY(!bad);
    QVERIFY2(bad.error().find("damaged") != std::string::npos, bad.error().c_str());
    const auto aside = set_log_aside(path("bad.sqlite"));
    QVERIFY(aside.ok() && std::filesystem::exists(*aside) && !std::filesystem::exists(path("bad.sqlite")));
    QVERIFY(RunLog::open(path("bad.sqlite")).ok());
    const auto nowhere = RunLog::open(path("no/such/folder.sqlite"));
    QVERIFY(!nowhere);
    QVERIFY(nowhere.error().find("cannot be written") != std::string::npos);
    { std::ofstream(path("empty.sqlite")); }
    LogFailure failure;
    QVERIFY(!RunLog::open(path("empty.sqlite"), &failure));
    QCOMPARE(failure.trouble, LogTrouble::empty);
    QCOMPARE(std::filesystem::file_size(path("empty.sqlite")), std::uintmax_t{0});
  }

  void two_programs_may_write_to_one_log() {
    RunLog a = std::move(RunLog::open(path("two.sqlite"))).value();
    RunLog b = std::move(RunLog::open(path("two.sqlite"))).value();
    const auto run = a.begin(sample("A", 8));
    for (int i = 0; i < 20; ++i) {
      QVERIFY(a.add_event(*run, {EventKind::done, i, 1, "", ""}).ok());
      QVERIFY(b.begin(sample("B", 4)).ok());
    }
    QCOMPARE(a.list()->size(), std::size_t{21});
  }

  void the_fit_recovers_the_hand_that_folded() {
    std::mt19937 random(23);
    int covered = 0;
    constexpr int trials = 40;
    for (int t = 0; t < trials; ++t) {
      const double s = t % 2 == 0 ? 0.22 : 0.4;
      std::vector<MeasuredFamily> runs;
      for (int i = 0; i < 6; ++i) runs.push_back(folded(i % 2 == 0 ? 8 : 12, s, 0.1, random));
      const auto fit = fit_hand(runs);
      QVERIFY2(fit.ok(), fit ? "" : fit.error().c_str());
      QVERIFY(near(fit->sigma_mm / s, 1, 0.35));
      covered += std::abs(fit->sigma_mm - s) <= 1.96 * fit->standard_error_mm;
      QCOMPARE(fit->measurements, 3 * 7 + 3 * 11);
    }
    QVERIFY2(covered >= trials * 0.8, qPrintable(QString::number(covered)));
  }

  void one_line_made_by_one_fold_has_a_closed_form() {
    // Halves only: deviations are independent N(0, s² + r²), so s² is their mean square less r².
    std::vector<MeasuredFamily> runs;
    double square = 0;
    for (const double d : {0.3, -0.2, 0.5, 0.1, -0.4}) {
      MeasuredFamily m;
      m.task.parts = 2;
      m.steps = {{StepKind::bring, 0, 2, 1}};
      m.lines = {1};
      m.deviation_mm = {d};
      m.ruler_sigma_mm = 0.1;
      runs.push_back(m);
      square += d * d / 5;
    }
    const auto fit = fit_hand(runs);
    QVERIFY(fit.ok());
    const double s2 = square - 0.01;
    QVERIFY(near(fit->sigma_mm, std::sqrt(s2), 1e-6));
    // Observed information in s: n · 2 s² / (s²+r²)² at the maximum.
    QVERIFY(near(fit->standard_error_mm, (s2 + 0.01) / std::sqrt(5 * 2 * s2), 1e-3));
    QVERIFY(!fit_hand({runs[0]}));
    for (MeasuredFamily& m : runs) m.deviation_mm = {0};
    QVERIFY(!fit_hand(runs));
  }

  void the_diagnosis_finds_the_bad_fold() {
    std::mt19937 random(4);
    MeasuredFamily m = folded(8, 0.05, 0.05, random);
    // The half line was creased 2 mm off, and all that came from it followed.
    std::size_t half = 0;
    for (std::size_t i = 0; i < m.steps.size(); ++i) {
      if (m.steps[i].makes == 4) half = i;
    }
    DivideTask unit = m.task;
    const LineErrors errors = replay(unit, m.steps);
    for (std::size_t i = 0; i < m.lines.size(); ++i)
      m.deviation_mm[i] += 2 * errors.coefficients(m.lines[i])[static_cast<Eigen::Index>(half)];
    const Diagnosis d = diagnose(m);
    QCOMPARE(d.blame[0].step, half);
    QVERIFY(near(d.blame[0].error_mm, 2, 0.25));
    QCOMPARE(d.lines[static_cast<std::size_t>(d.worst)].line, 4);
    QVERIFY(!d.lines[3].within && d.lines[3].refold);
    QVERIFY(d.lines[3].after_refold_mm < 0.6);
    QVERIFY(diagnose({}).lines.empty());
  }
};

UC_TEST(RecordTest)
#include "record_test.moc"
