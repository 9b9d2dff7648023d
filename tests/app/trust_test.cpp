// What a folder must be able to count on: nothing typed, folded or saved is lost, nothing is replaced unasked, and
// every window knows what the others do.
#include "runner.h"
#include "support.h"

#include "window.h"

#include "base/file_name.h"
#include "stages/fold/measure_table.h"
#include "widgets/ask_file.h"

#include <SQLiteCpp/SQLiteCpp.h>

#include <QElapsedTimer>
#include <QLabel>
#include <QMessageBox>
#include <QRegularExpression>

#include <set>

using namespace uc;
using uc::testing::answer_next;
using uc::testing::near;
using uc::testing::Window;

namespace {

QPushButton* shown_button(const QWidget* in, const QString& text) {
  for (QPushButton* b : in->findChildren<QPushButton*>()) {
    if (b->isVisible() && b->text() == text) return b;
  }
  return nullptr;
}

int parts_in(const QString& file) {
  const auto text = read_file(app::bytes_of(file));
  return text ? testing::parsed(*text)["grid"]["parts"].get<int>() : -1;
}

QString own_copy(const Window& w) {
  const QString folder = w.dir.path() + "/data/recovery";
  const QStringList names = QDir(folder).entryList({"*.undercrease"});
  return names.isEmpty() ? QString() : folder + "/" + names.first();
}

} // namespace

class TrustTest : public QObject {
  Q_OBJECT
private slots:
  void steady_changes_are_kept_aside_within_a_second() {
    Window w;
    QElapsedTimer clock;
    clock.start();
    int last = 2;
    while (clock.elapsed() < 4000) {
      last = last % 60 + 2;
      w.set_parts(last);
      QTest::qWait(90); // quicker than the pause a copy once waited for
      const QString copy = own_copy(w);
      if (clock.elapsed() > 2000) QVERIFY2(!copy.isEmpty(), qPrintable(QString::number(clock.elapsed())));
    }
    const QDateTime before = QFileInfo(own_copy(w)).lastModified();
    w.set_parts(70);
    QTRY_COMPARE_WITH_TIMEOUT(parts_in(own_copy(w)), 70, 5000);
    QVERIFY(QFileInfo(own_copy(w)).lastModified() >= before);
  }

  void a_file_changed_by_others_is_noticed_before_it_is_replaced() {
    Window w;
    const QString file = w.dir.path() + "/job.undercrease";
    QVERIFY(w.window->save_project_as(file));
    const auto theirs = [&](int parts) {
      Project p = w.project();
      p.grid.parts = parts;
      p.programme = planned_programme(p, *division_of(p));
      QVERIFY(save_project(p, file.toStdString()).ok());
    };
    // Touched only: nobody is asked.
    w.set_parts(9);
    QVERIFY(write_atomically(file.toStdString(), *read_file(file.toStdString())).ok());
    QVERIFY(w.window->save_project_as(file));
    QCOMPARE(parts_in(file), 9);

    w.set_parts(10);
    theirs(33);
    answer_next("take-theirs");
    (void)w.window->save_project_as(file);
    QCOMPARE(w.project().grid.parts, 33);
    QCOMPARE(parts_in(file), 33);
    w.key(Qt::Key_Z, Qt::ControlModifier);
    QCOMPARE(w.project().grid.parts, 10); // mine is not lost either

    theirs(34);
    answer_next("save-beside");
    (void)w.window->save_project_as(file);
    QCOMPARE(parts_in(file), 34);
    QCOMPARE(parts_in(w.dir.path() + "/job-2.undercrease"), 10);
    QCOMPARE(w.workspace->document.path(), w.dir.path() + "/job-2.undercrease");

    QVERIFY(w.window->open_project(file));
    w.set_parts(11);
    theirs(35);
    answer_next("keep-mine");
    QVERIFY(w.window->save_project_as(file));
    QCOMPARE(parts_in(file), 11);

    w.set_parts(12);
    QVERIFY(QFile::remove(file));
    QCOMPARE(w.workspace->document.file_change(), app::Document::FileChange::removed);
    answer_next("keep-mine");
    QVERIFY(w.window->save_project_as(file));
    QCOMPARE(parts_in(file), 12);
  }

  void two_windows_on_one_project_know_of_each_other() {
    Window w;
    const QString file = w.dir.path() + "/job.undercrease";
    QVERIFY(w.window->save_project_as(file));
    auto workspace = std::make_unique<app::Workspace>(w.dir.path() + "/data");
    auto other = std::make_unique<app::MainWindow>(*workspace);
    QVERIFY(QFile::link(file, w.dir.path() + "/alias.undercrease"));
    QVERIFY(other->open_project(w.dir.path() + "/alias.undercrease"));
    QTRY_VERIFY_WITH_TIMEOUT(other->notices()->sentences().join('|').contains("open in another window"), 3000);
    QTRY_VERIFY_WITH_TIMEOUT(w.window->notices()->sentences().join('|').contains("open in another window"), 3000);
    other.reset();
    workspace.reset();
    QTRY_VERIFY_WITH_TIMEOUT(!w.window->notices()->sentences().join('|').contains("open in another window"), 3000);
  }

  void names_keep_their_endings_and_nothing_is_replaced_unasked() {
    const QString filters = "Table (*.csv);;JSON (*.json)";
    QCOMPARE(app::endings_of(filters), QStringList({"csv", "json"}));
    QCOMPARE(app::with_ending("runs", filters, ""), QString("runs.csv"));
    QCOMPARE(app::with_ending("runs", filters, "JSON (*.json)"), QString("runs.json"));
    QCOMPARE(app::with_ending("runs.JSON", filters, "Table (*.csv)"), QString("runs.JSON"));
    QCOMPARE(app::with_ending("runs.1", filters, ""), QString("runs.1.csv"));
    Window w;
    const QString file = w.dir.path() + "/there.csv";
    QVERIFY(app::may_write(w.window.get(), file));
    QVERIFY(write_atomically(file.toStdString(), "x").ok());
    answer_next("replace-file");
    QVERIFY(app::may_write(w.window.get(), file));
    answer_next();
    QVERIFY(!app::may_write(w.window.get(), file));
  }

  void names_that_are_not_text_come_back_byte_by_byte() {
    for (const std::string& bytes :
         {std::string("plain"), std::string("caf\xc3\xa9"), std::string("caf\xe9"), std::string("\xff\xfe\x80"),
          std::string("\xe2\x82"), std::string("\xed\xb2\x80x"), std::string("\xf0\x9f\x8c\x93")})
      QCOMPARE(app::bytes_of(app::name_of_bytes(bytes)), bytes);
    Window w;
    const QString file = w.dir.path() + "/" + app::name_of_bytes("gitter-\xe4.undercrease");
    QVERIFY(w.window->save_project_as(file));
    w.set_parts(15);
    QVERIFY(w.window->save_project_as(file));
    QVERIFY(w.window->open_project(file));
    QCOMPARE(w.project().grid.parts, 15);
    w.set_parts(16);
    QCOMPARE(w.workspace->document.autosave(), QString());
    w.crash();
    w.window->offer_recovery();
    QCOMPARE(w.workspace->document.recover(w.workspace->document.recoverable().front().file), QString());
    QCOMPARE(app::bytes_of(w.workspace->document.path()), app::bytes_of(file));
  }

  void notices_stand_in_a_list_and_move_nothing() {
    Window w;
    w.go_to("divide");
    const QRect page = w.window->centralWidget()->geometry();
    const QPoint paper = w.divide()->paper()->mapToGlobal(QPoint(0, 0));
    const QSize size = w.divide()->paper()->size();
    int done = 0;
    w.window->notify("first", {{"Do it", [&] { ++done; }}}, "a");
    w.window->notify("second", {{"Do that", [&] { done += 10; }}}, "b");
    w.window->notify("third");
    QTest::qWait(30);
    QCOMPARE(w.window->centralWidget()->geometry(), page);
    QCOMPARE(w.divide()->paper()->mapToGlobal(QPoint(0, 0)), paper);
    QCOMPARE(w.divide()->paper()->size(), size);
    QCOMPARE(w.window->notices()->sentences(), QStringList({"third", "second", "first"}));
    w.go_to("sheet"); // what asks nothing leaves
    QCOMPARE(w.window->notices()->sentences(), QStringList({"second", "first"}));
    w.window->notices()->set_open(true);
    QTest::mouseClick(shown_button(w.window.get(), "Do it"), Qt::LeftButton);
    QCOMPARE(done, 1);
    QCOMPARE(w.window->notices()->sentences(), QStringList({"second"}));
    w.window->notify("second again", {{"Do that", [&] { done += 100; }}}, "b");
    QTest::mouseClick(shown_button(w.window.get(), "Do that"), Qt::LeftButton);
    QCOMPARE(done, 101);
    QVERIFY(w.window->notices()->sentences().isEmpty());
  }

  void a_figure_typed_into_a_cell_goes_into_the_cell() {
    Window w;
    w.type("sheet-size", "square:150mm");
    w.set_parts(8);
    w.go_to("fold");
    w.press("begin");
    const int moves = static_cast<int>(w.project().programme.moves.size());
    for (int i = 0; i < moves; ++i) w.key(Qt::Key_Space);
    w.press("measure");
    auto* table = static_cast<app::MeasureTable*>(w.find<QTableWidget>("measure-table"));
    QCOMPARE(table->item(0, 1)->text(), QString("18.75 mm"));
    QCOMPARE(table->item(6, 1)->text(), QString("131.25 mm"));
    QCOMPARE(QApplication::focusWidget(), static_cast<QWidget*>(table));
    // Digits, one of them the key of a stage; a decimal comma; Enter goes on.
    for (const char* figure : {"18.9", "37,6", "x", "75.1"}) {
      for (const char* c = figure; *c; ++c)
        QTest::keyClick(QApplication::focusWidget(), *c == 'x' ? Qt::Key_X : Qt::Key(*c), Qt::NoModifier);
      QTest::keyClick(QApplication::focusWidget(), Qt::Key_Return);
      QTest::qWait(10); // the editor closes a moment later
    }
    QCOMPARE(w.stage(), QString("fold"));
    QCOMPARE(table->item(0, 2)->text(), QString("18.9"));
    QCOMPARE(table->item(1, 2)->text(), QString("37,6"));
    QCOMPARE(table->item(3, 2)->text(), QString("75.1"));
    QCOMPARE(table->currentRow(), 4);
    // What cannot be read is said and blanks nothing else.
    QVERIFY(table->item(2, 5)->text().contains("cannot be read"));
    // 0.15, 0.1 and 0.1 mm off: most of that is where the ruler's zero lay.
    const auto taken = QRegularExpression("Taken out first: (\\S+) mm .*, (\\S+) mm for the size")
                           .match(w.fold()->measure_panel()->verdict());
    QVERIFY2(taken.hasMatch(), qPrintable(w.fold()->measure_panel()->verdict()));
    const double zero = taken.captured(1).toDouble();
    const double size = taken.captured(2).toDouble();
    QVERIFY(zero > 0.05 && std::abs(size) < 0.1);
    for (const auto& [row, off] : {std::pair{0, 0.15}, {1, 0.1}, {3, 0.1}}) {
      const double shown = table->item(row, 3)->text().split(' ').front().toDouble();
      QVERIFY2(std::abs(shown + zero + size * (row + 1) / 8 - off) < 0.02, qPrintable(table->item(row, 3)->text()));
    }
    QVERIFY(table->item(3, 5)->text().contains("normal"));
    QCOMPARE(w.fold()->session().detail().measured.size(), std::size_t{3});
    // The edge the ruler starts from is drawn, on the other side when the sheet is seen from behind.
    const auto* guide = w.fold()->measure_panel()->guide();
    QVERIFY(guide->isVisible());
    const bool left = guide->start_at().x() < guide->end_at().x();
    w.workspace->turn_over();
    w.press("measure");
    w.press("measure");
    QCOMPARE(guide->start_at().x() < guide->end_at().x(), !left);
  }

  void measuring_in_mid_run_judges_only_what_is_folded() {
    Window w;
    w.set_parts(8);
    w.go_to("fold");
    w.press("begin");
    w.find<QLineEdit>("words")->setText("creased already");
    w.press("skip");
    for (int i = 0; i < 3; ++i) w.key(Qt::Key_Space);
    const auto& session = w.fold()->session();
    std::set<ElementId> there;
    for (int i = 0; i < session.next_move(); ++i) {
      const Move& m = session.programme().moves[static_cast<std::size_t>(i)];
      if (m.creases().makes && i != 0) there.insert(*m.creases().makes);
    }
    w.press("measure");
    auto* table = w.find<QTableWidget>("measure-table");
    QVERIFY(table->rowCount() <= static_cast<int>(there.size()));
    const auto plans = *stored_plans(session.detail());
    for (std::size_t f = 0; f < plans.size(); ++f) {
      for (const GridStep& s : steps_done(plans[f], f, session.programme(), session.progress()))
        QVERIFY(there.contains(line_element_id(f, s.makes)));
    }
  }

  void a_run_is_asked_about_before_it_ends_early() {
    Window w;
    w.set_parts(4);
    w.go_to("fold");
    w.press("begin");
    w.key(Qt::Key_Space);
    answer_next();
    w.press("finish");
    QVERIFY(w.fold()->session().active());
    w.press_and_confirm("finish", "confirm-end");
    QVERIFY(!w.fold()->session().active());
    const RunSummary* run = w.log()->runs().run(0);
    QCOMPARE(run->status, RunStatus::finished);
    QCOMPARE(run->moves_done, 1);
  }

  void the_strip_shows_the_run_and_a_changed_plan_asks() {
    Window w;
    w.set_parts(4);
    w.go_to("fold");
    w.press("begin");
    const int moves = static_cast<int>(w.project().programme.moves.size());
    w.set_parts(16);
    QVERIFY(static_cast<int>(w.project().programme.moves.size()) > moves);
    QCOMPARE(w.window->strip()->moves()->rowCount(), moves);
    QVERIFY2(w.window->notice().contains("plan has changed"), qPrintable(w.window->notice()));
    QVERIFY(!w.window->strip()->moves()->reorder(0, 1));
    w.press_and_confirm("abandon", "confirm-end");
    QVERIFY(w.window->strip()->moves()->rowCount() > moves);
    QVERIFY(!w.window->notices()->sentences().join('|').contains("plan has changed")); // that is done with
  }

  void a_run_is_held_by_one_window_and_another_looks_on() {
    Window w;
    w.set_parts(4);
    w.go_to("fold");
    w.press("begin");
    w.key(Qt::Key_Space);
    app::Workspace other(w.dir.path() + "/data");
    app::RunSession session(other);
    QCOMPARE(session.resume_stored(), QString());
    QVERIFY(session.looking_on());
    QCOMPARE(session.next_move(), 1);
    QVERIFY(session.done().contains("only look on"));
    QVERIFY(!session.start().isEmpty());
    w.key(Qt::Key_Space);
    session.look_again();
    QCOMPARE(session.next_move(), 2);
    // When the first window is gone the run can be gone on with.
    w.window.reset();
    w.workspace.reset();
    session.look_again();
    QVERIFY(!session.looking_on());
    QVERIFY(session.paused());
    QCOMPARE(session.take_up(), QString());
    QCOMPARE(session.done(), QString());
    QCOMPARE(session.next_move(), 3);
  }

  void a_run_that_cannot_be_read_is_kept_and_none_is_begun_beside_it() {
    Window w;
    w.set_parts(4);
    w.go_to("fold");
    w.press("begin");
    w.window.reset();
    const std::string log = w.workspace->log_path().toStdString();
    w.workspace.reset();
    { SQLite::Database(log, SQLite::OPEN_READWRITE).exec("UPDATE payloads SET programme='{\"moves\":3}'"); }
    w.reopen();
    QTRY_VERIFY_WITH_TIMEOUT(w.window->notice().contains("cannot be read"), 2000);
    QVERIFY(!w.fold()->session().active());
    QVERIFY(w.fold()->session().start().contains("cannot be read"));
    QCOMPARE(w.workspace->log()->list()->size(), std::size_t{1});
    QTest::mouseClick(shown_button(w.window.get(), "Close it as abandoned"), Qt::LeftButton);
    QCOMPARE(w.fold()->session().start(), QString());
    QCOMPARE(w.workspace->log()->list()->size(), std::size_t{2}); // it stays in the log
  }

  void a_log_taken_away_stops_the_run_and_gets_it_whole_when_begun_anew() {
    Window w;
    w.set_parts(4);
    w.go_to("fold");
    w.press("begin");
    w.key(Qt::Key_Space);
    const QString log = w.workspace->log_path();
    for (const char* suffix : {"", "-wal", "-shm"}) QFile::rename(log + suffix, log + ".away" + suffix);
    const QString wrong = w.fold()->session().done();
    QVERIFY2(wrong.contains("removed"), qPrintable(wrong));
    QCOMPARE(w.fold()->session().next_move(), 1); // not acknowledged
    QVERIFY(!w.workspace->log());
    QVERIFY(!shown_button(w.window.get(), "Set the log aside")); // there is nothing to set aside
    QTest::mouseClick(shown_button(w.window.get(), "Begin a new log"), Qt::LeftButton);
    QVERIFY(w.workspace->log());
    QCOMPARE(w.fold()->session().done(), QString());
    const auto run = w.workspace->log()->load(w.fold()->session().id());
    QVERIFY(run.ok());
    QCOMPARE(run->events.size(), std::size_t{2});
    QCOMPARE(run->summary.status, RunStatus::active);
  }

  void set_aside_is_offered_only_for_logs_that_are_no_use() {
    Window w;
    const QString log = w.workspace->log_path();
    w.window.reset();
    w.workspace.reset();
    { SQLite::Database(log.toStdString(), SQLite::OPEN_READWRITE).exec("PRAGMA user_version=99"); }
    w.reopen();
    QVERIFY(!w.workspace->log() && w.window->notice().contains("newer"));
    QVERIFY(shown_button(w.window.get(), "Try again") && !shown_button(w.window.get(), "Set the log aside"));
    QString refused;
    QVERIFY(w.workspace->set_log_aside(refused).isEmpty() && !refused.isEmpty());
    { SQLite::Database(log.toStdString(), SQLite::OPEN_READWRITE).exec("PRAGMA user_version=1"); }
    QTest::mouseClick(shown_button(w.window.get(), "Try again"), Qt::LeftButton);
    QVERIFY(w.workspace->log());
  }

  void runs_are_corrected_and_removed_and_both_are_undone() {
    Window w;
    w.set_parts(4);
    w.go_to("fold");
    w.press("begin");
    w.key(Qt::Key_Space);
    w.press_and_confirm("abandon", "confirm-end");
    w.go_to("log");
    const std::int64_t id = w.log()->runs().run(0)->id;
    QTest::mouseClick(w.find<QTableView>("runs")->viewport(), Qt::LeftButton, {},
                      w.find<QTableView>("runs")->visualRect(w.log()->runs().index(0, 0)).center());
    const std::string before = w.workspace->log()->load(id)->summary.title;
    w.type("run-title", "Crater panel, first try");
    QCOMPARE(w.workspace->log()->load(id)->summary.title, std::string("Crater panel, first try"));
    w.key(Qt::Key_Z, Qt::ControlModifier);
    QCOMPARE(w.workspace->log()->load(id)->summary.title, before);
    const Json whole = json_of(*w.workspace->log()->load(id));
    w.press("remove-run");
    QVERIFY(!w.workspace->log()->load(id));
    w.key(Qt::Key_Z, Qt::ControlModifier);
    QVERIFY(json_of(*w.workspace->log()->load(id)) == whole);
  }

  void a_new_project_starts_clean_in_every_stage() {
    Window w;
    w.go_to("mark");
    w.type("target", "bottom:1/7");
    w.go_to("fold");
    w.key(Qt::Key_PageDown);
    w.workspace->turn_over();
    w.workspace->document.reset(Project{w.project()}, {});
    QVERIFY(!w.workspace->underside());
    QCOMPARE(w.find<QLineEdit>("target")->text(), QString("bottom:1/3"));
    QVERIFY(!w.prove()->findings().proof);
  }
};

UC_TEST(TrustTest)
#include "trust_test.moc"
