// A steps file in the window: opened, folded with the space bar, interrupted, logged, saved, left again.
#include "runner.h"
#include "support.h"

#include "window.h"

#include "programme/folding.h"
#include "shell/notice_list.h"

#include <QAction>

using namespace uc;
using uc::testing::near;
using uc::testing::Window;

class StepsTest : public QObject {
  Q_OBJECT
  static QString library(const char* name) { return QStringLiteral(UC_SOURCE_DIR) + "/data/steps/" + name + ".steps"; }

private slots:
  void a_steps_file_is_folded_and_logged() {
    Window w;
    QVERIFY(w.window->open_project(library("kite-base")));
    QCOMPARE(w.project().title, std::string("Kite base"));
    QCOMPARE(w.project().sheet.code(), std::string("square:150mm"));
    QCOMPARE(w.project().programme.moves.size(), std::size_t{3});
    QVERIFY(w.workspace->document.is_modified()); // it is in no project file yet
    w.go_to("fold");
    QVERIFY2(w.fold()->sentence().contains("bottom right corner onto the top left corner"),
             qPrintable(w.fold()->sentence()));
    w.press("begin");
    w.key(Qt::Key_Space);
    QVERIFY(w.fold()->sentence().contains("Bring the bottom edge onto crease middle"));
    QCOMPARE(w.fold()->paper()->figure().patches.size(), std::size_t{2}); // creased once
    QVERIFY(!w.find<QPushButton>("skip")->isEnabled());
    w.key(Qt::Key_Space);
    QCOMPARE(w.fold()->paper()->figure().patches.size(), std::size_t{3});
    QVERIFY2(w.ledger().contains("Layers"), qPrintable(w.ledger()));

    // Interrupted: the next start goes on at the same move, with the paper as it lay.
    w.reopen();
    w.go_to("fold");
    QVERIFY(w.fold()->session().active());
    QCOMPARE(w.fold()->session().next_move(), 2);
    QCOMPARE(w.fold()->paper()->figure().patches.size(), std::size_t{3});
    QVERIFY(w.fold()->sentence().contains("left edge"));
    if (w.fold()->session().paused()) w.key(Qt::Key_Space);
    w.key(Qt::Key_Space);
    QVERIFY(w.fold()->session().all_done());
    QCOMPARE(w.fold()->session().end(RunStatus::finished), QString());
    w.go_to("log");
    QCOMPARE(w.log()->runs().run(0)->status, RunStatus::finished);
    QCOMPARE(w.log()->runs().run(0)->moves_planned, 3);
    QVERIFY(QString::fromStdString(w.log()->runs().run(0)->title).contains("Kite base"));
  }

  void a_project_keeps_its_steps() {
    Window w;
    QVERIFY(w.window->open_steps(library("blintz-base")));
    const QString file = w.dir.path() + "/blintz.undercrease";
    QCOMPARE(w.workspace->document.save(file), QString());
    const Json before = json_of(w.project().programme);
    QCOMPARE(w.workspace->document.open(file), QString());
    QVERIFY(json_of(w.project().programme) == before);
    QVERIFY(w.project().programme.folding != nullptr);
    QCOMPARE(w.project().programme.folding->form_before(6).overlap.layers_max, 2);
    // On a larger sheet the same steps are folded anew.
    w.go_to("sheet");
    w.type("sheet-size", "square:300mm");
    const auto& folding = w.project().programme.folding;
    QVERIFY(near(folding->form_before(6).form.box.size().x(), 300, 1e-9));
    w.workspace->document.undo_stack().undo();
    QVERIFY(near(w.project().programme.folding->form_before(6).form.box.size().x(), 150, 1e-9));
  }

  void the_plan_can_be_folded_instead() {
    Window w;
    QVERIFY(w.window->open_steps(library("gate")));
    auto* grid = w.window->findChild<QAction*>("fold-grid");
    auto* steps = w.window->findChild<QAction*>("fold-steps");
    QVERIFY(grid->isEnabled() && steps->isChecked());
    QVERIFY(!w.window->findChild<QAction*>("fold-closed")->isEnabled()); // there is no pattern
    grid->trigger();
    QVERIFY(w.project().folded == FoldedWork::grid && grid->isChecked());
    QVERIFY(w.project().programme.folding == nullptr);
    QVERIFY(w.project().programme.moves.size() > 4);
    QVERIFY(steps->isEnabled());
    steps->trigger(); // the steps are still there
    QCOMPARE(w.project().programme.moves.size(), std::size_t{4});
    w.workspace->document.undo_stack().undo();
    QVERIFY(w.project().programme.folding == nullptr && grid->isChecked());
  }

  void what_cannot_be_read_or_folded_is_said() {
    Window w;
    const std::string before = w.project().sheet.code();
    const QString bad = w.dir.path() + "/bad.steps";
    QVERIFY(write_atomically(bad.toStdString(), "sheet square:90mm\nfrob\n").ok());
    QVERIFY(!w.window->open_steps(bad));
    QCOMPARE(w.project().sheet.code(), before);
    QVERIFY(w.window->notices()->sentences().join(' ').contains("\"frob\" is not a move"));
    QVERIFY(
        write_atomically(bad.toStdString(), "sheet square:90mm\nvalley left onto right\nvalley br onto tr layers 1\n")
            .ok());
    QVERIFY(w.window->open_steps(bad));
    QCOMPARE(w.project().programme.moves.size(), std::size_t{1});
    QVERIFY(w.window->notices()->sentences().join(' ').contains("would tear"));
    QVERIFY2(w.ledger().contains("would tear"), qPrintable(w.ledger())); // for as long as it is so
    QVERIFY(!w.window->open_steps(w.dir.path() + "/none.steps"));
  }
};

UC_TEST(StepsTest)
#include "steps_test.moc"
