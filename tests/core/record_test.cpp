// The log and what is learned from it.
#include "runner.h"
#include "support.h"

#include "divide/division.h"
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
};

UC_TEST(RecordTest)
#include "record_test.moc"
