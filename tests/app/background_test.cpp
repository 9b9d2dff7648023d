// Work off the interface thread, and what the document does with it: answers kept by key, worked out once, and never
// those of another state shown.
#include "runner.h"

#include "app/window.h"
#include "support.h"

#include "base/background.h"
#include "output/printing.h"
#include "pattern/family.h"

#include <QtTest>

#include <atomic>
#include <thread>

using namespace uc;
using namespace uc::app;
using uc::testing::Window;

namespace {

/// Works until it is cancelled or let go.
struct Gate {
  std::atomic<bool> open{false};
  std::atomic<int> begun{0};
  Background<int>::Work work(int answer) {
    return [this, answer](Progress& progress) {
      ++begun;
      while (!open && !progress.cancelled()) std::this_thread::sleep_for(std::chrono::milliseconds(1));
      return progress.cancelled() ? -1 : answer;
    };
  }
};

} // namespace

class BackgroundTest : public QObject {
  Q_OBJECT

private slots:
  void the_answer_is_told_on_this_thread() {
    int told = 0;
    std::thread::id where;
    Background<int> work([&](int answer) { told = answer, where = std::this_thread::get_id(); });
    work.begin([](Progress&) { return 42; });
    QVERIFY(work.busy());
    QCOMPARE(told, 0); // never from within begin
    QTRY_COMPARE(told, 42);
    QVERIFY(!work.busy() && where == std::this_thread::get_id());
  }

  void the_latest_wish_counts() {
    Gate gate;
    std::vector<int> told;
    int ended = 0;
    Background<int> work([&](int answer) { told.push_back(answer); }, [&] { ++ended; });
    for (int i = 1; i <= 5; ++i) work.begin(gate.work(i));
    gate.open = true;
    QTRY_VERIFY(!work.busy());
    QCOMPARE(told, std::vector<int>{5});
    QVERIFY(gate.begun <= 2); // those in between are not even begun
    work.begin(gate.work(6));
    work.give_up();
    QTRY_COMPARE(ended, 1);
    QCOMPARE(told, std::vector<int>{5});
  }

  void waiting_tells_at_once_or_not_at_all() {
    Gate gate;
    int told = 0;
    Background<int> work([&](int answer) { told = answer; });
    QVERIFY(work.wait(0)); // nothing to wait for
    work.begin(gate.work(7));
    QVERIFY(!work.wait(20));
    QCOMPARE(told, 0);
    gate.open = true;
    QVERIFY(work.wait(5000));
    QCOMPARE(told, 7);
    told = 0;
    QCoreApplication::processEvents(); // it is not told twice
    QCOMPARE(told, 0);
  }

  void it_goes_with_its_owner_and_waits_for_its_work() {
    Gate gate;
    int told = 0;
    {
      Background<int> work([&](int answer) { told = answer; });
      work.begin(gate.work(1));
      work.begin(gate.work(2));
      while (gate.begun == 0) std::this_thread::yield();
    }
    QCoreApplication::processEvents();
    QCOMPARE(told, 0);
    QCOMPARE(gate.begun.load(), 1);
  }

  void failures_come_out_where_the_answer_would() {
    Background<int> work([](int) {});
    work.begin([](Progress&) -> int { throw std::runtime_error("broken"); });
    QVERIFY_THROWS_EXCEPTION(std::runtime_error, work.wait(5000));
    QVERIFY(!work.busy());
  }

  void answers_are_kept_and_worked_out_once() {
    Window w;
    Document& document = w.workspace->document;
    document.change("8", [](Project& p) { p.grid.parts = 8; });
    QTRY_VERIFY(!document.planning() && !document.dividing());
    const Division* eight = &document.division();
    const auto drawn = document.pattern();
    document.change("10", [](Project& p) { p.grid.parts = 10; });
    QTRY_VERIFY(!document.planning() && !document.dividing());
    QVERIFY(&document.division() != eight);
    QCOMPARE(document.pattern(), drawn); // what does not depend on the grid is the same object
    document.undo_stack().undo();
    QTRY_VERIFY(!document.planning());
    QCOMPARE(&document.division(), eight);
    // An edit that no part depends on plans nothing.
    document.change("note", [](Project& p) { p.note = "thin paper"; });
    QVERIFY(!document.planning() && &document.division() == eight && document.pattern() == drawn);
  }

  void nothing_of_another_state_is_shown_or_printed() {
    Window w;
    Document& document = w.workspace->document;
    const QString file = w.dir.filePath("early.pdf");
    // The window waits for nothing now, so that what is planned comes later than the edit.
    document.set_patience(0);
    app::WorkersHeld held;
    document.change("large", [](Project& p) {
      p.grid.parts = 255;
      p.grid.axis = GridAxis::both;
      p.pattern = family_design("square-twists", {{"count", 96}});
    });
    QVERIFY(document.planning() && document.dividing() && document.drawing());
    QVERIFY(w.workspace->strip_programme().empty());
    QVERIFY(export_project(*w.workspace, file).contains("still being planned"));
    QVERIFY(!QFile::exists(file));
    w.go_to("divide");
    QVERIFY(w.ledger().contains("being planned"));
    auto* plot = w.find<QWidget>("error-plot");
    QVERIFY(plot->accessibleDescription().isEmpty()); // nor the errors of the former plan
    w.go_to("pattern");
    QVERIFY(w.ledger().contains("being drawn"));
    w.go_to("fold");
    QVERIFY(w.fold()->sentence().contains("being planned"));
    w.key(Qt::Key_Space);
    QVERIFY(!w.fold()->session().active());
    held.release();
    QTRY_VERIFY_WITH_TIMEOUT(!document.planning() && !document.dividing() && !document.drawing(), 60000);
    QCOMPARE(document.division().spec.parts, 255);
    QVERIFY(plot->accessibleDescription().contains("worst"));
    QCOMPARE(document.pattern()->design.count, 96);
    QVERIFY(!w.workspace->strip_programme().empty());
    QVERIFY(!w.fold()->sentence().isEmpty() && !w.fold()->sentence().contains("planned"));
  }

  void an_order_given_by_hand_is_not_dropped_without_a_word() {
    Window w;
    Document& document = w.workspace->document;
    document.change("grid", [](Project& p) {
      p.grid.parts = 8;
      p.grid.axis = GridAxis::x;
      p.hand.either_side = true; // no rotations between the moves
    });
    QTRY_VERIFY(!document.planning());
    QSignalSpy dropped(&document, &Document::order_dropped);
    int from = -1;
    int to = -1;
    const auto& programme = w.project().programme;
    for (int i = 0; i < static_cast<int>(programme.moves.size()) && from < 0; ++i) {
      for (int j = 0; j < i; ++j) {
        if (may_reorder(programme, i, j)) from = i, to = j;
      }
    }
    QVERIFY(from >= 0);
    const Programme changed = reordered(programme, from, to);
    document.change("reorder", [&](Project& p) { p.programme = changed; });
    document.change("note", [](Project& p) { p.note = "x"; });
    QCOMPARE(dropped.count(), 0);
    document.change("more parts", [](Project& p) { p.grid.parts = 5; });
    QCOMPARE(dropped.count(), 1);
    QVERIFY(w.window->notice().contains("planned anew"));
    document.undo_stack().undo();
    QTRY_VERIFY(!document.planning());
    QVERIFY(json_of(w.project().programme) == json_of(changed)); // Undo brings it back
  }

  void a_pattern_that_cannot_be_pre_creased_is_said() {
    Window w;
    Document& document = w.workspace->document;
    document.change("impossible", [](Project& p) {
      p.pattern = {};
      p.pattern.rules = {"line 0,4 along 1,0 valley"};
      p.folded = FoldedWork::creases;
    });
    QTRY_VERIFY_WITH_TIMEOUT(!document.planning(), 20000);
    document.change("nothing to crease", [](Project& p) { p.pattern.rules = {"nothing at all"}; });
    QTRY_VERIFY_WITH_TIMEOUT(!document.planning(), 20000);
    QVERIFY2(w.window->notice().contains("lacks what was asked for"), qPrintable(w.window->notice()));
    QVERIFY(w.project().programme.empty()); // nothing takes its place
  }
};

UC_TEST(BackgroundTest)
#include "background_test.moc"
