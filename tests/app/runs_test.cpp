// Runs that wait: put aside when another project is begun, found again under their own, and taken up from the log.
#include "runner.h"
#include "window.h"

#include <QAction>
#include <QCheckBox>
#include <QComboBox>
#include <QPushButton>
#include <QSlider>
#include <QSpinBox>
#include <QTableView>
#include <QUndoStack>

using namespace uc;
using namespace uc::app;
using uc::testing::answer_next;
using uc::testing::Window;

class RunsTest : public QObject {
  Q_OBJECT

  static void plan(Window& w, const char* title, int parts) {
    w.workspace->document.change("plan", [&](Project& p) {
      p.title = title;
      p.grid.parts = parts;
    });
    QTRY_VERIFY(!w.workspace->document.planning());
  }
  static void answer_notice(Window& w, const QString& with) {
    for (QPushButton* b : w.window->findChild<QWidget*>("notices")->findChildren<QPushButton*>())
      if (b->isVisible() && b->text() == with) return QTest::mouseClick(b, Qt::LeftButton);
    QFAIL(qPrintable("no button " + with));
  }
  static void new_project(Window& w) {
    for (QAction* action : w.window->findChildren<QAction*>())
      if (action->shortcut() == QKeySequence(QKeySequence::New)) return action->trigger();
    QFAIL("no action for a new project");
  }
  static RunSession& run(Window& w) { return w.fold()->session(); }

private slots:
  void each_run_is_found_again_under_its_project() {
    Window w;
    plan(w, "Crater panel", 8);
    const QString crater = w.dir.filePath("crater.undercrease");
    QVERIFY(w.window->save_project_as(crater));
    w.go_to("fold");
    for (int i = 0; i < 4; ++i) w.key(Qt::Key_Space);
    const auto first = run(w).id();
    QCOMPARE(run(w).next_move(), 3);
    // Another project: the run is put aside, and a new one begins.
    answer_next("leave-run");
    new_project(w);
    QVERIFY(!run(w).active());
    QCOMPARE(w.workspace->log()->load(first)->summary.status, RunStatus::waiting);
    QVERIFY2(!w.window->notice().contains("goes on where it was left"), qPrintable(w.window->notice()));
    plan(w, "Moon lamp", 6);
    const QString moon = w.dir.filePath("moon.undercrease");
    QVERIFY(w.window->save_project_as(moon));
    w.go_to("fold");
    w.key(Qt::Key_Space);
    w.key(Qt::Key_Space);
    const auto second = run(w).id();
    QVERIFY(second != first && run(w).next_move() == 1);
    // Back to the first: its run is here again where it was left, the clock standing still.
    answer_next("leave-run");
    w.workspace->document.save(moon);
    QAction* open = nullptr;
    for (QAction* action : w.window->findChildren<QAction*>())
      if (action->shortcut() == QKeySequence(QKeySequence::New)) open = action;
    QVERIFY(open);
    open->trigger();
    QVERIFY(w.window->open_project(crater));
    QTRY_COMPARE(run(w).id(), first);
    QVERIFY(run(w).paused() && run(w).next_move() == 3);
    QVERIFY2(w.window->notice().contains("goes on where it was left"), qPrintable(w.window->notice()));
    QCOMPARE(w.workspace->log()->load(second)->summary.status, RunStatus::waiting);
    // From the log the other cannot be taken up while this one is under way.
    w.go_to("log");
    auto* table = w.find<QTableView>("runs");
    const auto choose = [&](const QString& title) {
      for (int row = 0; row < table->model()->rowCount(); ++row)
        if (table->model()->index(row, 1).data().toString().startsWith(title)) return table->selectRow(row);
      QFAIL(qPrintable(title));
    };
    choose("Moon lamp");
    QVERIFY(table->model()->index(table->currentIndex().row(), 1).data().toString().contains("waiting"));
    w.press("take-up");
    QVERIFY2(w.window->notice().contains("Leave it waiting and go on with the other run?"),
             qPrintable(w.window->notice()));
    QCOMPARE(run(w).id(), first);
    answer_notice(w, "Leave it waiting");
    QTRY_COMPARE(run(w).id(), second);
    QCOMPARE(w.workspace->log()->load(first)->summary.status, RunStatus::waiting);
    QCOMPARE(w.stage(), QString("fold"));
    QCOMPARE(run(w).next_move(), 1);
  }

  void a_project_saved_under_a_name_takes_its_run_along() {
    Window w;
    plan(w, "Rock tray", 4);
    w.go_to("fold");
    w.key(Qt::Key_Space);
    const auto id = run(w).id();
    QVERIFY(w.workspace->log()->load(id)->project.empty());
    const QString file = w.dir.filePath("tray.undercrease");
    QVERIFY(w.window->save_project_as(file));
    QCOMPARE(w.workspace->log()->load(id)->project, file.toStdString());
    w.press("wait");
    w.reopen();
    QVERIFY(!run(w).active());
    QVERIFY(w.window->open_project(file));
    QTRY_COMPARE(run(w).id(), id);
  }

  void after_a_run_the_programme_is_shown_from_its_first_move() {
    Window w;
    plan(w, "Panel", 4);
    w.go_to("fold");
    const QString first = w.fold()->sentence();
    for (int i = 0; i < 3; ++i) w.key(Qt::Key_PageDown);
    const QString looked_at = w.fold()->sentence();
    QVERIFY(looked_at != first);
    w.press("begin");
    QVERIFY(run(w).active());
    w.press("wait");
    QVERIFY(!run(w).active());
    QCOMPARE(w.fold()->sentence(), first);
  }

  void a_run_with_steps_is_read_beside_the_window() {
    Window w;
    const auto text = read_file(UC_SOURCE_DIR "/data/steps/blintz-base.steps");
    QVERIFY(text.ok());
    QVERIFY(w.window->begin_steps(*text, "blintz"));
    QTRY_VERIFY(!w.workspace->document.planning());
    w.key(Qt::Key_Space);
    w.key(Qt::Key_Space);
    const auto id = run(w).id();
    w.go_to("log");
    const auto* ended = w.find<QComboBox>("run-ended");
    QVERIFY(ended->currentText() == "Under way" && !ended->isEnabled());
    w.go_to("fold");
    w.workspace->document.save(w.dir.filePath("b.undercrease"));
    {
      WorkersHeld held;
      w.reopen();
      QTest::qWait(120);
      QVERIFY(run(w).reading() && !run(w).active());
      w.key(Qt::Key_Space); // begins no other beside it
      QVERIFY(!run(w).active());
    }
    QTRY_COMPARE(run(w).id(), id);
    QCOMPARE(run(w).next_move(), 1);
    QVERIFY(run(w).programme().folding);
  }

  void after_finish_the_log_chooses_that_run() {
    Window w;
    plan(w, "Older", 2);
    w.go_to("fold");
    for (int i = 0; i < 30 && !run(w).all_done(); ++i) w.key(Qt::Key_Space);
    const auto older = run(w).id();
    w.press("finish");
    plan(w, "Newer", 4);
    w.go_to("fold");
    for (int i = 0; i < 30 && !run(w).all_done(); ++i) w.key(Qt::Key_Space);
    const auto newer = run(w).id();
    QVERIFY(newer != older);
    // Even where what is searched for would hide it.
    w.find<QLineEdit>("search")->setText("Older");
    w.press("finish");
    QCOMPARE(w.stage(), QString("log"));
    auto* table = w.find<QTableView>("runs");
    QCOMPARE(table->selectionModel()->selectedRows().size(), 1);
    QVERIFY(w.ledger().startsWith("Newer"));
  }

  void what_is_sent_to_the_programme_is_folded() {
    Window w;
    QVERIFY(w.window->begin_steps("sheet square:240mm\nvalley bl onto tr\n", "a"));
    QTRY_VERIFY(!w.workspace->document.planning());
    QVERIFY(w.project().programme.folding);
    w.go_to("mark");
    w.type("target", "bottom:1/2");
    QTRY_VERIFY_WITH_TIMEOUT(w.ledger().contains("Send it to the programme"), 60000);
    w.press("send");
    QVERIFY2(w.window->notice().contains("in place of the steps"), qPrintable(w.window->notice()));
    QTRY_VERIFY(!w.workspace->document.planning());
    QVERIFY(!w.project().programme.folding && folded_work(w.project()) == FoldedWork::grid);
    w.workspace->document.undo_stack().undo();
    QTRY_VERIFY(!w.workspace->document.planning());
    QVERIFY(w.project().programme.folding);
  }

  void a_changed_sheet_keeps_the_items_and_names_what_does_not_fit() {
    Window w;
    w.workspace->document.change("reference", [](Project& p) {
      p.references.push_back({"One half", "bottom:1/2", "c1 = O2 bl br\nresult c1", false, true});
      p.references.push_back({"To the third corner", "", "c1 = O2 bl v3\nresult c1", false, true});
    });
    QVERIFY2(w.window->notices()->sentences().join(' ').contains("To the third corner"),
             qPrintable(w.window->notices()->sentences().join(' ')));
    QCOMPARE(w.project().references.size(), std::size_t{2});
    w.type("sheet-size", "ngon:6:100mm");
    QCOMPARE(w.project().references.size(), std::size_t{2});
    QVERIFY2(w.window->notices()->sentences().join(' ').contains("One half"),
             qPrintable(w.window->notices()->sentences().join(' ')));
    w.workspace->document.undo_stack().undo();
    QVERIFY2(!w.window->notices()->sentences().join(' ').contains("One half"),
             qPrintable(w.window->notices()->sentences().join('|')));
  }

  void a_new_project_carries_nothing_over() {
    const auto state = [](Window& w) {
      QStringList out;
      for (int i = 0; i < w.window->stage_count(); ++i) {
        w.window->show_stage(i);
        QCoreApplication::processEvents();
        QWidget* choices = w.window->stage_at(i)->choices();
        const QString key = w.window->stage_at(i)->key();
        for (const auto* edit : choices->findChildren<QLineEdit*>())
          out << key + "/" + edit->objectName() + ": " + edit->text();
        for (const auto* box : choices->findChildren<QComboBox*>())
          out << key + "/" + box->objectName() + ": " + box->currentText();
        for (const auto* box : choices->findChildren<QCheckBox*>())
          out << key + "/" + box->objectName() + ": " + QString::number(box->isChecked());
        for (const auto* box : choices->findChildren<QSpinBox*>())
          out << key + "/" + box->objectName() + ": " + box->text();
        out << key + ": " + w.window->stage_at(i)->fact();
      }
      w.window->show_stage(0);
      return out;
    };
    Window w;
    // What stages work out when they are seen is there before it is looked at.
    const auto seen = [&] {
      (void)state(w);
      QTest::qWait(300);
      while (w.mark()->busy()) QTest::qWait(20);
      QTest::qWait(300);
      return state(w);
    };
    const QStringList fresh = seen();
    QVERIFY(w.window->open_project(UC_SOURCE_DIR "/data/demo/open-night.undercrease"));
    QTRY_VERIFY_WITH_TIMEOUT(!w.workspace->document.planning(), 60000);
    w.workspace->turn_over();
    w.go_to("mark");
    w.type("target", "bottom:2/7");
    w.go_to("collapse");
    w.find<QSlider>("scrubber")->setValue(20);
    w.find<QLineEdit>("clip")->setText("1,2,3:4-5");
    w.find<QComboBox>("collapse-shown")->setCurrentIndex(1);
    emit w.find<QComboBox>("collapse-shown")->activated(1);
    for (int i = 0; i + 2 < w.window->stage_count(); ++i) { // whatever can be typed, typed, all but fold and log
      QWidget* choices = w.window->stage_at(i)->choices();
      w.window->show_stage(i);
      for (auto* edit : choices->findChildren<QLineEdit*>())
        if (edit->isVisible() && edit->isEnabled() && !edit->objectName().startsWith("qt_")) {
          edit->setFocus();
          QTest::keyClicks(edit, "x");
        }
    }
    w.go_to("divide");
    const QStringList worked = state(w);
    QVERIFY(worked != fresh);
    w.workspace->document.save(w.dir.filePath("worked.undercrease")); // nothing is asked then
    new_project(w);
    QTRY_VERIFY(!w.workspace->document.planning());
    const QStringList now = seen();
    QCOMPARE(now.size(), fresh.size());
    QStringList others;
    for (int i = 0; i < now.size(); ++i)
      if (now[i] != fresh[i]) others << now[i] + " in place of " + fresh[i];
    QVERIFY2(others.isEmpty(), qPrintable(others.join("; ")));
    QVERIFY(!w.workspace->underside());
    QCOMPARE(w.find<QSlider>("scrubber")->value(), 60);
  }
};

UC_TEST(RunsTest)
#include "runs_test.moc"
