// The window while work goes on beside it: it is painted, heeds keys and can be quit, whatever its workers do; progress
// is told and can be cancelled, and after Cancel everything shows one state.
#include "runner.h"
#include "watchdog.h"
#include "window.h"

#include "pattern/family.h"
#include "stages/collapse/collapse_stage.h"
#include "widgets/spatial_bench.h"

#include <QLabel>
#include <QProcess>
#include <QProgressBar>
#include <QSlider>
#include <QThreadPool>

#include <algorithm>
#include <thread>

using namespace uc;
using namespace uc::app;
using uc::testing::WatchedApplication;
using uc::testing::Window;

class ResponsiveTest : public QObject {
  Q_OBJECT

  static CollapseStage* collapse(Window& w) { return static_cast<CollapseStage*>(w.window->stage("collapse")); }
  static void draw(Window& w, const char* family, ParameterValues values = {}) {
    w.workspace->document.change("family", [&](Project& p) { p.pattern = family_design(family, std::move(values)); });
  }

private slots:
  void it_is_painted_heeds_keys_and_closes_while_every_worker_is_held() {
    Window w;
    w.workspace->document.set_patience(20);
    WorkersHeld held;
    w.go_to("collapse");
    draw(w, "chevron", {{"count", 6}});
    w.go_to("mark");
    w.go_to("units");
    w.go_to("prove");
    w.go_to("divide");
    w.set_parts(11);
    QVERIFY(w.workspace->document.planning());
    QCOMPARE(w.stage(), QString("divide"));
    // Qt paints with the threads of its own pool, of which nobody here takes any.
    QCOMPARE(QThreadPool::globalInstance()->activeThreadCount(), 0);
    const QImage shown = w.window->grab().toImage();
    QVERIFY(shown.width() > 900 && shown != QImage(shown.size(), shown.format()));
    w.go_to("log");
    QCOMPARE(w.stage(), QString("log"));
    testing::answer_next("");
    w.workspace->document.save(w.dir.filePath("job.undercrease"));
    QVERIFY(w.window->close());
    held.release();
  }

  void the_program_ends_within_a_second_whatever_its_workers_do() {
    // Workers that never look whether they are wanted, beside programs that keep the machine busy (UC_LOAD of them).
    std::vector<std::unique_ptr<QProcess>> load;
    for (int i = 0; i < qEnvironmentVariableIntValue("UC_LOAD"); ++i) {
      load.push_back(std::make_unique<QProcess>());
      load.back()->start("sh", {"-c", "while :; do :; done"});
      QVERIFY(load.back()->waitForStarted());
    }
    const int quits = std::max(3, qEnvironmentVariableIntValue("UC_QUITS"));
    double longest = 0;
    for (int i = 0; i < quits; ++i) {
      QProcess p;
      p.start(QStringLiteral(UC_RUN_WORKER), {"--quit-with-stubborn-workers"});
      QVERIFY(p.waitForStarted());
      QVERIFY(p.waitForReadyRead(20000)); // it says when it has been asked to quit
      QElapsedTimer since;
      since.start();
      QVERIFY(p.waitForFinished(20000));
      longest = std::max(longest, static_cast<double>(since.elapsed()));
      QCOMPARE(p.exitStatus(), QProcess::NormalExit);
      QCOMPARE(p.exitCode(), 7);
    }
    for (auto& busy : load) busy->kill(), busy->waitForFinished();
    qInfo("longest of %d quits with stubborn workers, %zu programs beside: %.0f ms (bound 1000)", quits, load.size(),
          longest);
  }

  void events_are_short_while_two_jobs_run() {
    Window w;
    w.workspace->document.set_patience(50); // as for folders
    // One: a collapse with layers apart. Two: the index of a shape of sheet nobody has asked for before.
    w.workspace->document.change("sheet", [](Project& p) {
      p.sheet = parse_sheet("211x297mm").value();
      p.sheet_name = "211x297mm";
    });
    w.go_to("collapse");
    draw(w, "waterbomb", {{"count", 8}});
    QTRY_VERIFY(collapse(w)->busy());
    QTest::qWait(400);
    w.go_to("mark");
    WatchedApplication::begin();
    for (int round = 0; round < 6; ++round) {
      w.go_to("divide");
      QTest::qWait(30);
      w.set_parts(7 + round);
      QTest::qWait(60);
      w.key(Qt::Key_U);
      w.go_to("pattern");
      QTest::qWait(60);
      w.go_to("collapse");
      QTest::qWait(120);
      w.go_to("sheet");
      QTest::qWait(30);
    }
    qInfo("longest event while two jobs run: %.1f ms (bound 100), %s; of %d", WatchedApplication::longest_ms(),
          WatchedApplication::where().c_str(), WatchedApplication::events());
    QVERIFY(WatchedApplication::events() > 100);
  }

  /// What is not seen is made when it is first seen: that is an event like any other.
  void first_visits_are_short_while_two_jobs_run() {
    Window w;
    w.workspace->document.set_patience(50);
    w.workspace->document.change("sheet", [](Project& p) {
      p.sheet = parse_sheet("213x297mm").value();
      p.sheet_name = "213x297mm";
    });
    draw(w, "waterbomb", {{"count", 8}});
    // A plan of units is drawn by the processor here, with the driver's shaders made for the first picture.
    const auto shows_space = [](Window& in) {
      const auto all = in.window->findChildren<SpatialBench*>();
      return std::any_of(all.begin(), all.end(), [](SpatialBench* b) { return b->isVisible() && b->draws_scene(); }) &&
             std::all_of(all.begin(), all.end(), [](SpatialBench* b) { return !b->isVisible() || b->up_to_date(); });
    };
    QString told;
    for (int i = 0; i < w.window->stage_count(); ++i) {
      WatchedApplication::begin();
      w.key(static_cast<Qt::Key>(Qt::Key_0 + (i + 1) % 10));
      QCOMPARE(w.window->current_stage(), i);
      QTest::qWait(150);
      if (w.stage() == "units") QTRY_VERIFY_WITH_TIMEOUT(shows_space(w), 30000);
      told += QString("%1 %2 ms (%3), ")
                  .arg(w.stage())
                  .arg(WatchedApplication::longest_ms(), 0, 'f', 0)
                  .arg(QString::fromStdString(WatchedApplication::where()));
    }
    qInfo("first visits while two jobs run, longest events (bound 100): %s", qPrintable(told));
  }

  void progress_never_runs_back_and_tells_attempts() {
    Progress progress;
    progress.set(0.4);
    progress.set(0.2);
    QCOMPARE(progress.fraction(), 0.4);
    QCOMPARE(progress.pass(), 1);
    progress.begin_pass();
    QCOMPARE(progress.fraction(), 0.0);
    QCOMPARE(progress.pass(), 2);
    // A sheet that has to be driven in another way: what is told rises within each attempt.
    const auto drawn =
        drawn_pattern(family_design("concentric-pleats", {{"rings", 6}}), Sheet::square(Millimetres{240}).outline());
    Progress told;
    ClosingSoFar so_far;
    std::atomic<bool> ended{false};
    std::vector<std::pair<int, double>> seen;
    std::thread watching([&] {
      while (!ended) {
        const int pass = told.pass();
        const double fraction = told.fraction();
        if (pass == told.pass()) seen.emplace_back(pass, fraction);
        std::this_thread::sleep_for(std::chrono::milliseconds(1));
      }
    });
    const auto frames = closed_by({}, std::make_shared<const DrawnPattern>(drawn), told, so_far);
    ended = true;
    watching.join();
    QVERIFY(frames.whole());
    QVERIFY(!seen.empty());
    for (std::size_t i = 1; i < seen.size(); ++i) QVERIFY(seen[i] >= seen[i - 1]);
    QVERIFY2(told.pass() > 1, "facets of concentric pleats have to bend, so it is begun again");
  }

  void planning_has_progress_and_cancel() {
    Window w;
    Document& document = w.workspace->document;
    document.set_patience(20);
    auto* cancel = w.find<QPushButton>("cancel-moves");
    auto* again = w.find<QPushButton>("plan-again");
    QVERIFY(!again->isVisible());
    document.change("its creases", [](Project& p) {
      p.pattern = family_design("chevron", {{"count", 4}});
      p.folded = FoldedWork::creases;
    });
    QTRY_VERIFY_WITH_TIMEOUT(!document.planning(), 60000);
    {
      WorkersHeld held;
      document.change("fold it", [](Project& p) { p.folded = FoldedWork::closed; });
      QVERIFY(document.planning());
      QTRY_VERIFY(cancel->isVisible());
      QTest::mouseClick(cancel, Qt::LeftButton);
    }
    QTRY_VERIFY(document.planning_stopped());
    QVERIFY(document.planning() && w.workspace->strip_programme().empty());
    QTRY_VERIFY(again->isVisible() && !cancel->isVisible());
    QTest::mouseClick(again, Qt::LeftButton);
    QTRY_VERIFY_WITH_TIMEOUT(!document.planning(), 60000);
    QVERIFY(!again->isVisible());
    // The whole of it: the collapse is there.
    QVERIFY(std::any_of(w.project().programme.moves.begin(), w.project().programme.moves.end(),
                        [](const Move& m) { return m.is<Collapse>(); }));
  }

  void after_cancel_slider_ribbon_and_ledger_show_one_state() {
    Window w;
    w.go_to("collapse");
    w.find<QSlider>("scrubber")->setValue(100);
    draw(w, "square-twists", {{"count", 12}});
    auto* cancel = w.find<QPushButton>("cancel-collapse");
    QTRY_VERIFY_WITH_TIMEOUT(collapse(w)->closing_at().value_or(0) > 0.05, 60000);
    cancel->click();
    QTRY_VERIFY_WITH_TIMEOUT(!collapse(w)->busy(), 30000);
    const CollapseState* state = collapse(w)->state();
    QVERIFY(state && !collapse(w)->frames().whole());
    const int percent = static_cast<int>(std::lround(100 * state->part));
    QVERIFY(percent < 100);
    QCOMPARE(w.find<QSlider>("scrubber")->value(), percent);
    QCOMPARE(w.find<QLabel>("percent")->text(), QString("%1 %").arg(percent));
    QCOMPARE(collapse(w)->fact(), QString("%1 %").arg(percent));
    QVERIFY(w.ledger().contains(QString("\n%1 %\n").arg(percent)));
    // What is not known cannot be gone to; it can be closed again.
    w.find<QSlider>("scrubber")->setValue(100);
    QCOMPARE(w.find<QSlider>("scrubber")->value(), percent);
    QVERIFY(w.find<QPushButton>("play")->text().contains("ose it again"));
    w.press("play");
    QTRY_VERIFY(collapse(w)->busy());
    draw(w, "chevron", {{"count", 4}}); // which is quicker
    QTRY_VERIFY_WITH_TIMEOUT(!collapse(w)->busy() && collapse(w)->frames().whole(), 60000);
  }

  void what_is_pushed_and_let_go_is_saved() {
    const auto stage = [](Window& w) { return collapse(w); };
    Window w;
    w.workspace->document.change("layers", [](Project& p) { p.closing.apart = false; });
    w.go_to("collapse");
    draw(w, "concentric-pleats", {{"rings", 5}});
    const auto wait = [&] { QTRY_VERIFY_WITH_TIMEOUT(!stage(w)->busy(), 150000); };
    wait();
    stage(w)->set_percent(60);
    w.press("push");
    wait();
    QVERIFY(stage(w)->pushed_over() && stage(w)->pushed_over()->gone_over);
    w.find<QCheckBox>("let-go")->click();
    wait();
    QVERIFY(w.ledger().contains("Let go of"));
    const auto before = stage(w)->state()->vertices;
    const QString file = w.dir.filePath("pushed.undercrease");
    QVERIFY(w.window->save_project_as(file));
    QVERIFY2(w.window->notice().contains(file), qPrintable(w.window->notice())); // what was written where
    w.reopen();
    w.go_to("collapse");
    QVERIFY(w.window->open_project(file));
    QTRY_VERIFY(!w.workspace->document.drawing());
    wait();
    QCOMPARE(w.find<QSlider>("scrubber")->value(), 60);
    QVERIFY(w.find<QCheckBox>("let-go")->isChecked());
    QVERIFY(stage(w)->pushed_over());
    const auto after = stage(w)->state()->vertices;
    QCOMPARE(after.size(), before.size());
    for (std::size_t i = 0; i < after.size(); ++i) QVERIFY((after[i] - before[i]).norm() < 0.05);
    // Undo goes back through it.
    w.find<QCheckBox>("let-go")->click();
    QVERIFY(w.project().closing.held && !w.project().closing.held->let_go);
    wait();
    w.workspace->document.undo_stack().undo();
    QVERIFY(w.find<QCheckBox>("let-go")->isChecked());
    stage(w)->set_percent(40);
    QVERIFY(!w.project().closing.held && !stage(w)->pushed_over());
  }
};

UC_TEST(ResponsiveTest)
#include "responsive_test.moc"
