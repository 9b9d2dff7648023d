// The whole job in a real window: describe the sheet, plan the grid, fold along, measure, find it in the log.
#include "runner.h"
#include "support.h"

#include "window.h"

#include "stages/sheet/shelf_dialog.h"

#include <QAction>
#include <QCheckBox>
#include <QComboBox>
#include <QHeaderView>
#include <QLabel>
#include <QMenu>
#include <QMenuBar>
#include <QTableView>
#include <QTableWidget>

using namespace uc;
using uc::testing::Window;

class WorkflowTest : public QObject {
  Q_OBJECT

private slots:
  void a_sheet_becomes_a_logged_grid() {
    Window w;
    w.type("sheet-size", "square:20cm");
    QCOMPARE(w.project().sheet.code(), std::string("square:200mm"));
    QVERIFY(w.window->ribbon()->panel(0)->fact().contains("200 mm"));
    w.go_to("divide");
    QCOMPARE(w.stage(), QString("divide"));
    w.set_parts(8);
    w.find<QComboBox>("axis")->setCurrentIndex(0);
    emit w.find<QComboBox>("axis")->activated(0);
    w.wait_for_comparison();
    auto* table = w.find<QTableWidget>("methods");
    QCOMPARE(table->item(0, 4)->text(), QString("0.29 mm"));
    QCOMPARE(table->item(2, 4)->text(), QString("0.34 mm"));
    QVERIFY(w.ledger().contains("25 mm"));
    w.press("fold-this");
    QCOMPARE(w.stage(), QString("fold"));
    w.key(Qt::Key_PageDown); // looking on begins nothing
    QVERIFY(!w.fold()->session().active());
    w.key(Qt::Key_PageUp);
    QVERIFY(w.fold()->sentence().startsWith("Bring the left edge to the right edge."));
    w.key(Qt::Key_Space);
    QVERIFY(w.fold()->session().active());
    const int moves = static_cast<int>(w.project().programme.moves.size());
    for (int i = 0; i < moves; ++i) {
      QCOMPARE(w.fold()->session().next_move(), i);
      w.key(i % 2 == 0 ? Qt::Key_Space : Qt::Key_PageDown);
    }
    QVERIFY(w.fold()->session().all_done());
    w.key(Qt::Key_Space);
    QCOMPARE(w.fold()->session().next_move(), moves);
    w.press("measure");
    auto* measure = w.find<QTableWidget>("measure-table");
    QCOMPARE(measure->rowCount(), 7);
    measure->item(3, 2)->setText("100.2");
    measure->item(1, 2)->setText("48.4");
    QVERIFY(measure->item(3, 5)->text().contains("normal"));
    QVERIFY2(measure->item(1, 5)->text().contains("fold it again"), qPrintable(measure->item(1, 5)->text()));
    QVERIFY(w.fold()->measure_panel()->verdict().contains("line 2 is the worst"));
    QVERIFY(w.fold()->measure_panel()->verdict().contains("Fold line 2 again: bring line 0 onto line 4"));
    // A half line that is off while all that was folded onto it is in its place was misread.
    const QString second = measure->item(1, 2)->text();
    for (const auto& [row, mm] : {std::pair{0, "25.1"}, {1, "50"}, {2, "74.9"}, {3, "102.4"}, {4, "125"}, {5, "150.1"}})
      measure->item(row, 2)->setText(mm);
    QVERIFY2(measure->item(3, 5)->text().contains("measure it again"), qPrintable(measure->item(3, 5)->text()));
    QVERIFY(w.fold()->measure_panel()->verdict().contains("measure line 4 again"));
    for (const int row : {0, 2, 4, 5}) measure->item(row, 2)->setText({});
    measure->item(3, 2)->setText("100.2");
    measure->item(1, 2)->setText(second);
    w.press("finish");
    QCOMPARE(w.stage(), QString("log"));
    QCOMPARE(w.log()->runs().rowCount(), 1);
    const RunSummary run = *w.log()->runs().run(0);
    QCOMPARE(run.status, RunStatus::finished);
    QCOMPARE(run.moves_done, moves);
    QVERIFY(testing::near(*run.measured_worst_mm, 1.6, 1e-9));
    QVERIFY(w.ledger().contains("Less exact than planned"));
  }

  void wrong_sheets_are_told_beside_the_field() {
    Window w;
    for (const auto& [text, says] : {std::pair{"square:0mm", "at least 1 mm"},
                                     {"-5", "at least 1 mm"},
                                     {"square:1e9", "at most 100 m"},
                                     {"banana", "names no sheet"}}) {
      w.type("sheet-size", text);
      bool told = false;
      for (const QLabel* label : w.window->stage("sheet")->choices()->findChildren<QLabel*>())
        told = told || (label->isVisible() && label->text().contains(says));
      QVERIFY2(told, text);
      QCOMPARE(w.project().sheet.code(), std::string("square:240mm"));
    }
  }

  void wrong_counts_are_told_beside_the_field() {
    Window w;
    w.go_to("divide");
    for (const int n : {0, 1, 257}) {
      w.set_parts(n);
      bool told = false;
      for (const QLabel* label : w.divide()->choices()->findChildren<QLabel*>())
        told = told || (label->isVisible() && label->text().contains("2 to 256"));
      QVERIFY2(told, qPrintable(QString::number(n)));
      QCOMPARE(w.project().grid.parts, 8);
    }
    w.type("left-out", "99");
    w.type("sigma", "0");
    w.type("start", "1/3:0.1");
    int errors = 0;
    for (const QLabel* label : w.divide()->choices()->findChildren<QLabel*>())
      errors += label->isVisible() && label->text().startsWith(QStringLiteral("▲!"));
    QVERIFY(errors >= 3);
  }

  void everything_can_be_undone() {
    Window w;
    const std::string before = project_text(w.project());
    w.type("sheet-size", "a4");
    w.go_to("divide");
    w.set_parts(12);
    w.type("left-out", "3, 5");
    w.type("sigma", "0.4 mm");
    w.find<QComboBox>("extent")->setCurrentIndex(2);
    emit w.find<QComboBox>("extent")->activated(2);
    const std::string after = project_text(w.project());
    QVERIFY(before != after);
    QVERIFY(w.window->windowTitle().contains('*'));
    int steps = 0;
    while (w.workspace->document.undo_stack().canUndo()) {
      w.key(Qt::Key_Z, Qt::ControlModifier);
      ++steps;
    }
    QCOMPARE(steps, 5);
    QCOMPARE(project_text(w.project()), before);
    QCOMPARE(w.find<QSpinBox>("parts")->value(), 8);
    while (w.workspace->document.undo_stack().canRedo()) w.key(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
    QCOMPARE(project_text(w.project()), after);
  }

  void the_table_chooses_the_method() {
    Window w;
    w.go_to("divide");
    w.set_parts(9);
    w.wait_for_comparison();
    auto* table = w.find<QTableWidget>("methods");
    table->setFocus();
    QTest::keyClick(table, Qt::Key_Down);
    QCOMPARE(w.project().grid.method, Method::edges);
    QTest::keyClick(table, Qt::Key_Down);
    QCOMPARE(w.project().grid.method, Method::neighbours);
    w.wait_for_comparison();
    QCOMPARE(table->currentRow(), 2);
    QCOMPARE(w.workspace->document.division().plans[0].method, Method::neighbours);
  }

  void trueness_is_measured_and_explained() {
    Window w;
    auto* measured = w.window->stage("sheet")->choices()->findChild<QCheckBox*>();
    QTest::mouseClick(measured, Qt::LeftButton, {}, QPoint(8, measured->height() / 2));
    QVERIFY(w.project().trueness.has_value());
    w.type("measure-1", "242");
    w.type("measure-4", "341.2");
    QVERIFY2(w.ledger().contains("Out of square"), qPrintable(w.ledger()));
    QVERIFY(w.ledger().contains("Trim it square first"));
    QVERIFY2(w.ledger().contains("240.5"), qPrintable(w.ledger())); // (3 x 240 + 242) / 4
    QVERIFY(testing::near(w.workspace->document.division().layout.families[0].extent_mm, 240.5, 1e-9));
    QVERIFY(testing::near(bounding_box(w.project().programme.sheet).size().x(), 240.5, 1e-9));
    w.workspace->document.undo_stack().undo();
    w.workspace->document.undo_stack().undo();
    QVERIFY(testing::near(w.workspace->document.division().layout.families[0].extent_mm, 240, 1e-9));
    w.workspace->document.undo_stack().redo();
    w.workspace->document.undo_stack().redo();
    w.type("measure-4", "600");
    bool told = false;
    for (const QLabel* label : w.window->stage("sheet")->choices()->findChildren<QLabel*>())
      told = told || label->text().contains("is not shorter than");
    QVERIFY(told);
  }

  void the_shelf_is_edited_and_kept() {
    Window w;
    app::ShelfDialog dialog(*w.workspace);
    dialog.table()->item(0, 8)->setText("123");
    dialog.table()->item(0, 7)->setText("300 x");
    QVERIFY(!dialog.store());
    dialog.table()->item(0, 7)->setText("300 x 420");
    dialog.table()->item(1, 1)->setText("no number");
    QVERIFY(!dialog.store());
    bool told = false;
    for (const QLabel* label : dialog.findChildren<QLabel*>()) told = told || label->text().contains("Row 2");
    QVERIFY(told);
    dialog.table()->item(1, 1)->setText("0.08");
    QVERIFY(dialog.store());
    w.reopen();
    QCOMPARE(w.workspace->shelf[0].sheets, 123);
    QCOMPARE(w.workspace->shelf[0].width_mm, 300.0);
    QVERIFY(testing::near(w.workspace->shelf[1].caliper_mm, 0.08, 1e-12));
    auto* stock = w.find<QComboBox>("stock");
    emit stock->activated(0);
    QCOMPARE(w.project().stock.sheets, 123);
  }

  void a_run_keeps_notes_faults_and_skips() {
    Window w;
    w.set_parts(4);
    w.go_to("fold");
    w.press("begin");
    w.press("fault");
    QVERIFY(w.fold()->session().progress().faults == 0);
    w.find<QLineEdit>("words")->setText("edge slipped");
    w.press("fault");
    w.find<QLineEdit>("words")->setText("lamp on the left");
    w.press("note");
    w.key(Qt::Key_Space);
    w.find<QLineEdit>("words")->setText("already creased");
    w.press("skip");
    QCOMPARE(w.fold()->session().next_move(), 2);
    w.key(Qt::Key_PageUp);
    QCOMPARE(w.fold()->session().next_move(), 1);
    w.press("pause");
    QVERIFY(w.fold()->session().paused());
    const double worked = w.fold()->session().worked_seconds();
    QTest::qWait(60);
    QCOMPARE(w.fold()->session().worked_seconds(), worked);
    w.key(Qt::Key_Space);
    QVERIFY(!w.fold()->session().paused());
    QCOMPARE(w.fold()->session().next_move(), 1);
    w.press_and_confirm("abandon", "confirm-end");
    w.go_to("log");
    QCOMPARE(w.log()->runs().run(0)->status, RunStatus::abandoned);
    QCOMPARE(w.log()->runs().run(0)->faults, 1);
    QVERIFY(w.ledger().contains("edge slipped") && w.ledger().contains("lamp on the left") &&
            w.ledger().contains("already creased"));
  }

  void idle_time_is_not_counted() {
    Window w;
    app::RunSession& s = w.fold()->session();
    QCOMPARE(s.start(), QString());
    QTest::qWait(20);
    QVERIFY(s.worked_seconds() > 0);
    // All the time since the move began was idle, however slow this machine is: none of it counts as work.
    QCOMPARE(s.declare_idle(1000), QString());
    QVERIFY(s.paused());
    QCOMPARE(s.worked_seconds(), 0.0);
    QCOMPARE(s.detail().events.back().kind, EventKind::idle);
    QCOMPARE(s.take_up(), QString());
    QVERIFY(!s.paused());
  }

  void a_run_is_resumed_after_closing() {
    Window w;
    w.set_parts(8);
    w.go_to("fold");
    w.press("begin");
    for (int i = 0; i < 5; ++i) w.key(Qt::Key_Space);
    const QString sentence = w.fold()->sentence();
    w.reopen();
    w.go_to("fold");
    QVERIFY(w.fold()->session().active() && w.fold()->session().paused());
    QCOMPARE(w.fold()->session().next_move(), 5);
    QCOMPARE(w.fold()->sentence(), sentence);
    w.key(Qt::Key_Space);
    w.key(Qt::Key_Space);
    QCOMPARE(w.fold()->session().next_move(), 6);
  }

  void the_hand_is_fitted_and_used_in_the_next_plan() {
    Window w;
    w.set_parts(8);
    const double offs[] = {0.5, -0.7, 0.4, -0.5, 0.8, -0.4, 0.6};
    for (int run = 0; run < 2; ++run) {
      w.go_to("fold");
      w.press("begin");
      const int moves = static_cast<int>(w.project().programme.moves.size());
      for (int i = 0; i < moves; ++i) w.key(Qt::Key_Space);
      w.press("measure");
      auto* table = w.find<QTableWidget>("measure-table");
      for (int r = 0; r < 7; ++r) table->item(r, 2)->setText(QString::number(30 * (r + 1) + offs[(r + run) % 7]));
      w.press("finish");
    }
    const double before = w.workspace->document.division().worst_sigma_mm;
    w.press("fit");
    QVERIFY2(w.find<QLabel>("fit-text")->text().startsWith("One crease errs by 0."),
             qPrintable(w.find<QLabel>("fit-text")->text()));
    w.press("use-fit");
    QVERIFY(w.project().hand.sigma_mm > 0.4);
    QCOMPARE(w.project().hand.measured_runs, 2);
    QVERIFY(w.workspace->document.division().worst_sigma_mm > 1.5 * before);
    w.key(Qt::Key_Z, Qt::ControlModifier);
    QVERIFY(testing::near(w.project().hand.sigma_mm, 0.25, 1e-12));
  }

  void the_log_is_searched_sorted_compared_and_exported() {
    Window w;
    for (int i = 0; i < 12; ++i) {
      RunDetail run;
      run.summary.title = i % 3 == 0 ? "Crater panel" : "Moon lamp";
      run.summary.sheet = "square:240mm";
      run.summary.size = 4 + i;
      run.summary.started = QStringLiteral("2026-09-%1T18:00:00Z").arg(i + 1, 2, 10, QLatin1Char('0')).toStdString();
      run.summary.status = RunStatus::finished;
      run.summary.planned_sigma_mm = 0.28;
      run.plans_json = "[]";
      run.events = {{EventKind::done, 0, 60.0 * (12 - i), "", ""}};
      run.summary.moves_planned = 1;
      run.measured = {{"x", 1, 60 + 0.1 * i, 60, 0.25, 0.15}};
      QVERIFY(w.workspace->log()->add_whole(run).ok());
    }
    w.go_to("log");
    QCOMPARE(w.log()->runs().rowCount(), 12);
    w.find<QLineEdit>("search")->setText("crater");
    QCOMPARE(w.log()->runs().rowCount(), 4);
    w.find<QLineEdit>("search")->setText("nothing like it");
    QCOMPARE(w.log()->runs().rowCount(), 0);
    w.find<QLineEdit>("search")->clear();
    auto* table = w.find<QTableView>("runs");
    table->sortByColumn(5, Qt::AscendingOrder);
    QCOMPARE(w.log()->runs().run(0)->size, 15);
    table->clearSelection();
    table->selectRow(0);
    table->selectionModel()->select(w.log()->runs().index(3, 0),
                                    QItemSelectionModel::Select | QItemSelectionModel::Rows);
    QVERIFY2(w.ledger().contains("Two runs compared") && w.ledger().contains("more exact"), qPrintable(w.ledger()));
    const QString csv = w.dir.path() + "/runs.csv";
    QCOMPARE(w.log()->export_to(csv), QString());
    const std::string written = read_file(csv.toStdString()).value();
    QCOMPARE(std::count(written.begin(), written.end(), '\n'), std::ptrdiff_t{13}); // the head and twelve runs
    QVERIFY(read_file(csv.toStdString()).value().find("Crater panel") != std::string::npos);
    QCOMPARE(w.log()->export_to(w.dir.path() + "/runs.json"), QString());
    QVERIFY(!w.log()->export_to(w.dir.path() + "/runs.txt").isEmpty());
  }

  void every_action_has_a_key_or_a_mnemonic_and_every_control_a_name() {
    Window w;
    for (const QAction* top : w.window->menuBar()->actions()) {
      QVERIFY(top->text().contains('&'));
      for (const QAction* action : top->menu()->actions()) {
        if (action->isSeparator()) continue;
        QVERIFY2(!action->shortcut().isEmpty() || action->text().contains('&'), qPrintable(action->text()));
      }
    }
    for (int i = 0; i < w.window->stage_count(); ++i) {
      w.window->show_stage(i);
      for (QWidget* control : w.window->findChildren<QWidget*>()) {
        const bool input = qobject_cast<QLineEdit*>(control) || qobject_cast<QComboBox*>(control) ||
                           qobject_cast<QAbstractSpinBox*>(control) || qobject_cast<QAbstractItemView*>(control) ||
                           qobject_cast<app::PaperView*>(control);
        if (!input || qobject_cast<QHeaderView*>(control) || !control->isVisible() ||
            control->objectName().startsWith("qt_"))
          continue;
        QVERIFY2(!control->accessibleName().isEmpty(),
                 qPrintable(QString("%1 %2").arg(control->metaObject()->className(), control->objectName())));
      }
    }
  }
};

UC_TEST(WorkflowTest)
#include "workflow_test.moc"
