// The window's own behaviour: the paper's view, the strip, files, recovery, trouble with the log, themes and sizes.
#include "runner.h"
#include "support.h"

#include "window.h"

#include "base/page_painter.h"
#include "io/exports.h"
#include "output/printing.h"
#include "shell/startup.h"

#include <QAbstractButton>
#include <QFile>
#include <QMessageBox>
#include <QPainter>
#include <QPlainTextEdit>
#include <QPointer>
#include <QPrinter>
#include <QSignalSpy>

#include <fstream>
#include <unistd.h>

using namespace uc;
using uc::testing::near;
using uc::testing::Window;

namespace {

QString button_text(const Window& w) {
  QStringList all;
  (void)w.window->ledger();
  for (const QPushButton* b : w.window->findChildren<QPushButton*>()) {
    if (b->isVisible()) all << b->text();
  }
  return all.join('|');
}

void press_text(const Window& w, const QString& text) {
  (void)w.window->ledger();
  for (QPushButton* b : w.window->findChildren<QPushButton*>()) {
    if (b->isVisible() && b->text() == text) {
      QTest::mouseClick(b, Qt::LeftButton);
      return;
    }
  }
  QFAIL(qPrintable("no button " + text + " in " + button_text(w)));
}

} // namespace

class ShellTest : public QObject {
  Q_OBJECT

private slots:
  void turning_over_mirrors_the_whole_application() {
    Window w;
    w.set_parts(4);
    w.go_to("divide");
    app::PaperView* paper = w.divide()->paper();
    const Point corner{0, 0};
    const QPointF before = paper->place(corner);
    QVERIFY(!paper->underside_up());
    w.key(Qt::Key_U);
    QVERIFY(paper->underside_up());
    QVERIFY(w.fold()->paper()->underside_up() && w.paper_of("sheet")->underside_up());
    const QPointF after = paper->place(corner);
    QVERIFY(near(after.y(), before.y(), 1e-6));
    QVERIFY(near(after.x() + before.x(), 2 * paper->place({120, 0}).x(), 1e-6));
    w.key(Qt::Key_U);
    w.key(Qt::Key_BracketLeft);
    // A quarter turn to the left about the middle of the sheet, on a screen whose y runs down.
    const QPointF turned = paper->place(corner);
    const QPointF from_middle = before - paper->place({120, 120});
    const QPointF then = paper->place({120, 120}) + QPointF(from_middle.y(), -from_middle.x());
    QVERIFY2((turned - then).manhattanLength() < 1e-6, qPrintable(QString::number((turned - then).manhattanLength())));
    w.key(Qt::Key_BracketRight);
    QVERIFY((paper->place(corner) - before).manhattanLength() < 1e-6);
  }

  void zoom_keeps_the_point_under_the_pointer() {
    Window w;
    app::PaperView* paper = w.paper_of("sheet");
    const QPointF at = paper->place({200, 200});
    paper->zoom(2.5, at);
    QVERIFY((paper->place({200, 200}) - at).manhattanLength() < 1e-6);
    w.key(Qt::Key_Home);
    QVERIFY((paper->place({200, 200}) - at).manhattanLength() < 1e-6);
    w.key(Qt::Key_Plus);
    QVERIFY(near(paper->zoom_factor(), 1.25, 1e-9));
    w.key(Qt::Key_Minus);
    QVERIFY(near(paper->zoom_factor(), 1, 1e-9));
    const QPointF before = paper->place({0, 0});
    QTest::mousePress(paper, Qt::LeftButton, {}, QPoint(60, 60));
    QMouseEvent move(QEvent::MouseMove, QPointF(90, 85), paper->mapToGlobal(QPointF(90, 85)), Qt::LeftButton,
                     Qt::LeftButton, {});
    QApplication::sendEvent(paper, &move);
    QTest::mouseRelease(paper, Qt::LeftButton, {}, QPoint(90, 85));
    QVERIFY((paper->place({0, 0}) - before - QPointF(30, 25)).manhattanLength() < 1e-6);
  }

  void a_crease_is_found_under_the_pointer() {
    Window w;
    w.set_parts(8);
    w.go_to("divide");
    app::PaperView* paper = w.divide()->paper();
    const int element = paper->element_at(paper->place({90, 37}));
    QVERIFY(w.project().programme.elements[static_cast<std::size_t>(element) - 1].id == line_element_id(0, 3));
    QCOMPARE(paper->element_at(paper->place({103, 45 - 30 + 2})), 0);
    QSignalSpy clicked(paper, &app::PaperView::element_clicked);
    QTest::mouseClick(paper, Qt::LeftButton, {}, paper->place({90, 37}).toPoint());
    QCOMPARE(clicked.count(), 1);
  }

  void the_paper_is_drawn_in_its_colours_and_lines_where_they_belong() {
    Window w;
    w.find<QSpinBox>("parts")->setValue(2);
    w.go_to("sheet");
    app::PaperView* paper = w.paper_of("sheet");
    QImage image(paper->size(), QImage::Format_RGB32);
    paper->render(&image);
    const QColor face(QString::fromStdString(w.project().stock.face));
    QCOMPARE(image.pixelColor(paper->place({60, 60}).toPoint()), face);
    QCOMPARE(image.pixelColor(5, paper->height() / 2), app::current_theme().bench);
    w.key(Qt::Key_U);
    paper->render(&image);
    QCOMPARE(image.pixelColor(paper->place({60, 60}).toPoint()),
             QColor(QString::fromStdString(w.project().stock.underside)));
  }

  void the_strip_reorders_only_what_may_move() {
    Window w;
    w.set_parts(8);
    app::ProgrammeModel* moves = w.window->strip()->moves();
    const Programme before = w.project().programme;
    QVERIFY(!moves->reorder(0, 1));
    QVERIFY2(w.window->notice().contains("cannot go there"), qPrintable(w.window->notice()));
    int from = -1, to = -1;
    for (int i = 0; i < moves->rowCount() && from < 0; ++i) {
      if (may_reorder(before, i, i + 1)) from = i, to = i + 1;
    }
    QVERIFY(from >= 0);
    w.window->strip()->set_current_move(from);
    w.window->strip()->setFocus();
    QTest::keyClick(w.window->strip(), Qt::Key_Right, Qt::ControlModifier);
    QVERIFY(json_of(w.project().programme) == json_of(reordered(before, from, to)));
    w.key(Qt::Key_Z, Qt::ControlModifier);
    QVERIFY(json_of(w.project().programme) == json_of(before));
    QTest::mouseClick(w.window->strip()->viewport(), Qt::LeftButton, {},
                      w.window->strip()->visualRect(moves->index(2)).center());
    QCOMPARE(w.stage(), QString("fold"));
  }

  void projects_are_saved_opened_and_refused() {
    Window w;
    w.type("sheet-size", "a4");
    const QString file = w.dir.path() + "/job.undercrease";
    QVERIFY(w.window->save_project_as(file));
    QVERIFY(!w.workspace->document.is_modified());
    w.type("sheet-size", "a5");
    QVERIFY(w.window->open_project(file));
    QCOMPARE(w.project().sheet_name, std::string("a4"));
    { std::ofstream((w.dir.path() + "/cut.undercrease").toStdString()) << "{\"format\": \"under-crease/pro"; }
    QVERIFY(!w.window->open_project(w.dir.path() + "/cut.undercrease"));
    QVERIFY(w.window->notice().contains("cut short"));
    QCOMPARE(w.project().sheet_name, std::string("a4"));
    QVERIFY(!w.window->open_project(w.dir.path() + "/gone.undercrease"));
    QVERIFY(w.window->notice().contains("no such file"));
    QVERIFY(!w.window->save_project_as("/no/such/folder/x.undercrease"));
    QVERIFY(w.window->notice().contains("folder does not exist"));
    QVERIFY(!w.window->save_project_as("/dev/full"));
    QVERIFY2(w.window->notice().contains("disk is full"), qPrintable(w.window->notice()));
  }

  void unsaved_work_is_offered_again() {
    Window w;
    const QString file = w.dir.path() + "/job.undercrease";
    QVERIFY(w.window->save_project_as(file));
    w.set_parts(20);
    QCOMPARE(w.workspace->document.autosave(), QString());
    QVERIFY(w.workspace->document.recoverable().empty()); // it belongs to a program that is alive
    w.crash();
    QCOMPARE(w.project().grid.parts, 8);
    w.window->offer_recovery();
    QVERIFY2(w.window->notice().contains("not saved") && w.window->notice().contains("job.undercrease"),
             qPrintable(w.window->notice()));
    const QString copy = w.workspace->document.recoverable().front().file;
    press_text(w, "Restore it");
    QCOMPARE(w.project().grid.parts, 20);
    QCOMPARE(w.workspace->document.path(), file);
    QVERIFY(w.workspace->document.is_modified());
    QVERIFY(QFile::exists(copy)); // this window goes on in it, so that no second copy stands for the same work
    QVERIFY(w.workspace->document.recoverable().empty());
    // Undo brings back what was there, and what was recovered is laid aside again.
    w.key(Qt::Key_Z, Qt::ControlModifier);
    QCOMPARE(w.project().grid.parts, 8);
    QCOMPARE(w.workspace->document.path(), QString());
    QCOMPARE(w.workspace->document.recoverable().size(), std::size_t{1});
    w.key(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
    QCOMPARE(w.project().grid.parts, 20);
    QVERIFY(w.workspace->document.recoverable().empty());
  }

  void every_recoverable_project_is_listed_and_a_damaged_one_hides_none() {
    Window w;
    const QString folder = w.dir.path() + "/data/recovery/";
    for (const char* title : {"Crater panel", "Moon lamp"}) {
      Project p = w.project();
      p.title = title;
      QVERIFY(write_atomically((folder + title + ".undercrease").toStdString(), project_text(p)));
    }
    QVERIFY(write_atomically((folder + "zz.undercrease").toStdString(), "{\"format\": \"under-cr"));
    const auto found = w.workspace->document.recoverable();
    QCOMPARE(found.size(), std::size_t{3});
    w.window->offer_recovery();
    const QString all = w.window->notices()->sentences().join('|');
    for (const char* said : {"Crater panel", "Moon lamp", "cannot be read"})
      QVERIFY2(all.contains(said), qPrintable(all));
    // Work that is not saved is asked about before another takes its place.
    w.set_parts(5);
    testing::answer_next();
    w.window->notices()->set_open(true);
    press_text(w, "Restore it");
    QCOMPARE(w.project().grid.parts, 5);
    QCOMPARE(w.workspace->document.recoverable().size(), std::size_t{3});
  }

  void a_damaged_log_is_set_aside_not_lost() {
    Window w;
    const QString log = w.workspace->log_path();
    w.window.reset();
    w.workspace.reset();
    for (const char* suffix : {"", "-wal", "-shm"}) QFile::remove(log + suffix);
    { std::ofstream(log.toStdString()) << std::string(5000, '#'); }
    w.reopen();
    QVERIFY(!w.workspace->log());
    QVERIFY2(w.window->notice().contains("damaged"), qPrintable(w.window->notice()));
    QVERIFY(w.fold()->session().start().contains("damaged"));
    press_text(w, "Set the log aside");
    QVERIFY(w.workspace->log());
    QVERIFY(QFile::exists(log + ".damaged-1"));
    QCOMPARE(w.fold()->session().start(), QString());
  }

  void a_damaged_shelf_shows_the_stocks_that_ship() {
    Window w;
    const QString shelf = w.dir.path() + "/data/shelf.json";
    { std::ofstream(shelf.toStdString()) << "{"; }
    w.reopen();
    QVERIFY(w.window->notice().contains("shelf"));
    QVERIFY(w.workspace->shelf == generic_stocks());
    QVERIFY(QFile::exists(shelf));
  }

  void a_second_program_is_told_so_and_keeps_its_hands_off_the_first_one_s_copy() {
    Window w;
    w.set_parts(20);
    QCOMPARE(w.workspace->document.autosave(), QString());
    app::Workspace second(w.dir.path() + "/data");
    QCOMPARE(second.folder_state(), app::Workspace::Folder::shared);
    QVERIFY(second.document.recoverable().empty());
    app::MainWindow other(second);
    app::greet(other, second, "The demo could not be copied.");
    const QString all = other.notices()->sentences().join('|');
    QVERIFY2(all.contains("Another Under Crease is open") && all.contains("The demo could not"), qPrintable(all));
  }

  void a_read_only_project_opens_and_says_why_it_is_not_saved() {
    Window w;
    w.set_parts(12);
    const QString file = w.dir.path() + "/kept.undercrease";
    QVERIFY(w.window->save_project_as(file));
    QVERIFY(QFile::setPermissions(file, QFile::ReadOwner | QFile::ReadGroup | QFile::ReadOther));
    QVERIFY(w.window->open_project(file));
    w.set_parts(13);
    const uid_t self = ::geteuid();
    if (self == 0) { // whatever is read-only for everybody else is not so for the superuser
      QVERIFY(QFile::setPermissions(w.dir.path(), QFile::Permissions(0x7777)));
      QCOMPARE(::seteuid(65534), 0);
    }
    const bool saved = w.window->save_project_as(file);
    if (self == 0) QCOMPARE(::seteuid(self), 0);
    QVERIFY(!saved);
    QVERIFY2(w.window->notice().contains("cannot be written"), qPrintable(w.window->notice()));
    QVERIFY(w.workspace->document.is_modified());
    QCOMPARE(load_project(file.toStdString())->grid.parts, 12);
  }

  void the_shelf_notes_and_photos_are_undone_and_the_project_stays_clean() {
    Window w;
    QVERIFY(w.window->save_project_as(w.dir.path() + "/a.undercrease"));
    auto stocks = w.workspace->shelf;
    const auto before = stocks;
    stocks[0].caliper_mm = 0.42;
    QCOMPARE(w.workspace->store_shelf(stocks), QString());
    w.key(Qt::Key_Z, Qt::ControlModifier);
    QVERIFY(w.workspace->shelf == before);
    QVERIFY(load_shelf((w.dir.path() + "/data/shelf.json").toStdString()).value() == before);
    w.key(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
    QCOMPARE(load_shelf((w.dir.path() + "/data/shelf.json").toStdString()).value()[0].caliper_mm, 0.42);

    QCOMPARE(w.fold()->session().start(), QString());
    QCOMPARE(w.fold()->session().end(RunStatus::abandoned), QString());
    w.window->show_stage("log");
    const std::int64_t id = w.log()->runs().run(0)->id;
    const auto note = [&] { return w.workspace->log()->load(id)->summary.note; };
    auto* field = w.log()->choices()->findChild<QPlainTextEdit*>();
    field->setPlainText("too dry a day");
    w.press("keep-note");
    QCOMPARE(note(), std::string("too dry a day"));
    QCOMPARE(w.log()->attach(id, "/photos/panel.jpg"), QString());
    QCOMPARE(w.log()->attach(id, "/photos/panel.jpg"), QString());
    QCOMPARE(w.workspace->log()->load(id)->photos.size(), std::size_t{2});
    w.key(Qt::Key_Z, Qt::ControlModifier);
    QCOMPARE(w.workspace->log()->load(id)->photos, std::vector<std::string>{"/photos/panel.jpg"});
    w.key(Qt::Key_Z, Qt::ControlModifier);
    w.key(Qt::Key_Z, Qt::ControlModifier);
    QCOMPARE(note(), std::string());
    w.key(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
    QCOMPARE(note(), std::string("too dry a day"));
    QVERIFY(!w.workspace->document.is_modified());
  }

  void several_changes_write_the_ledger_once() {
    Window w;
    const auto content = [&] { return QPointer<QWidget>(w.window->findChild<QScrollArea*>("ledger")->widget()); };
    (void)w.window->ledger();
    const QPointer<QWidget> before = content();
    for (int parts = 5; parts < 9; ++parts)
      w.workspace->document.change("parts", [=](Project& p) { p.grid.parts = parts; });
    QTRY_VERIFY(!before); // by itself, at the next turn
    const QPointer<QWidget> after = content();
    w.workspace->document.change("parts", [](Project& p) { p.grid.parts = 11; });
    QVERIFY(after);                     // not yet written anew
    QVERIFY(w.ledger().contains("11")); // who asks gets it as it is now
    QVERIFY(!after);
  }

  void a_project_is_clean_again_when_its_edits_are_undone() {
    Window w;
    w.set_parts(9);
    QVERIFY(w.workspace->document.is_modified());
    w.key(Qt::Key_Z, Qt::ControlModifier);
    QVERIFY(!w.workspace->document.is_modified());
    QVERIFY(!w.window->windowTitle().contains('*'));
    w.key(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
    QVERIFY(w.window->windowTitle().contains('*'));
    QVERIFY(w.window->save_project_as(w.dir.path() + "/b.undercrease"));
    w.key(Qt::Key_Z, Qt::ControlModifier);
    QVERIFY(w.workspace->document.is_modified());
  }

  void units_change_everywhere_at_once() {
    Window w;
    w.workspace->document.change("units", [](Project& p) { p.unit = LengthUnit::inch; });
    QVERIFY(w.window->ribbon()->panel(0)->fact().contains("in"));
    w.go_to("divide");
    QVERIFY2(w.ledger().contains(" in"), qPrintable(w.ledger()));
    w.type("sigma", "0.01 in");
    QVERIFY(near(w.project().hand.sigma_mm, 0.254, 1e-9));
    w.workspace->document.change("units", [](Project& p) { p.unit = LengthUnit::cm; });
    w.go_to("sheet");
    w.type("sheet-size", "square:15");
    QCOMPARE(w.project().sheet.code(), std::string("square:150mm"));
  }

  /// The window is there before the stages that nobody sees; they come by themselves, or when they are asked for, and
  /// start from the project as it is then, the paper turned as it is.
  void stages_that_are_not_seen_come_later() {
    Window w;
    app::Workspace& workspace = *w.workspace;
    const auto made = [](app::MainWindow& window) {
      int n = 0;
      for (const char* name : {"parts", "search", "begin", "units-solid"})
        n += window.findChild<QWidget*>(name) != nullptr;
      return n;
    };
    app::MainWindow window(workspace);
    QCOMPARE(made(window), 0);
    workspace.document.change("parts", [](Project& p) { p.grid.parts = 11; });
    workspace.turn_over();
    auto* divide = static_cast<app::DivideStage*>(window.stage("divide"));
    QCOMPARE(window.findChild<QSpinBox*>("parts")->value(), 11);
    QVERIFY(divide->paper()->underside_up());
    QCOMPARE(made(window), 1);
    window.show();
    QTRY_COMPARE(made(window), 4);
    QVERIFY(window.isVisible());
    // The key of a stage that is not there yet goes to it all the same.
    app::MainWindow other(workspace);
    other.show();
    other.show_stage(other.stage_count() - 1);
    QCOMPARE(other.stage_at(other.current_stage())->key(), QString("log"));
    QVERIFY(other.stage_at(other.current_stage())->centre()->isVisible());
    workspace.turn_over();
  }

  void it_works_small_large_and_dark() {
    Window w;
    w.window->set_theme(app::ThemeChoice::dark);
    for (const QSize& size : {QSize(1024, 700), QSize(1280, 800), QSize(2560, 1440)}) {
      w.window->resize(size);
      QTest::qWait(20);
      QVERIFY2(w.window->width() <= size.width() && w.window->height() <= size.height(),
               qPrintable(QString("%1x%2").arg(w.window->width()).arg(w.window->height())));
      for (int i = 0; i < w.window->stage_count(); ++i) {
        w.window->show_stage(i);
        QImage image(w.window->size(), QImage::Format_RGB32);
        w.window->render(&image);
        QVERIFY(image.pixelColor(3, image.height() - 3).lightness() < 90);
      }
    }
    w.window->set_theme(app::ThemeChoice::light);
    QVERIFY(app::current_theme().bench.lightness() > 180);
  }

  void theme_colours_can_be_read() {
    const auto luminance = [](const QColor& c) {
      const auto part = [](double v) { return v <= 0.03928 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4); };
      return 0.2126 * part(c.redF()) + 0.7152 * part(c.greenF()) + 0.0722 * part(c.blueF());
    };
    const auto contrast = [&](const QColor& a, const QColor& b) {
      const double x = luminance(a) + 0.05;
      const double y = luminance(b) + 0.05;
      return std::max(x, y) / std::min(x, y);
    };
    for (const auto choice : {app::ThemeChoice::light, app::ThemeChoice::dark}) {
      const app::Theme t = app::make_theme(choice);
      for (const QColor& ground : {t.bench, t.panel, t.field}) {
        for (const QColor& text : {t.ink, t.soft_ink, t.caution})
          QVERIFY2(contrast(ground, text) >= 4.5, qPrintable(ground.name() + text.name()));
      }
      QVERIFY(contrast(t.accent, t.field) >= 4.5);
    }
  }

  void the_printer_gets_the_same_pages_at_true_scale() {
    Window w;
    const QString file = w.dir.path() + "/print.pdf";
    QPrinter printer(QPrinter::HighResolution);
    printer.setOutputFormat(QPrinter::PdfFormat);
    printer.setOutputFileName(file);
    printer.setPageSize(QPageSize(QPageSize::A4));
    Page page;
    page.line({10, 50}, {110, 50}, "#000000", 1);
    page.text({10, 60}, "hundred millimetres", 4);
    app::print_pages(printer, {page, page});
    QVERIFY(QFileInfo(file).size() > 500);
    QImage image(2100, 2970, QImage::Format_RGB32);
    image.fill(Qt::white);
    QPainter p(&image);
    p.scale(10, 10);
    app::paint_page(p, page);
    p.end();
    int black = 0;
    for (int x = 0; x < image.width(); ++x) black += image.pixelColor(x, 500).lightness() < 128;
    QVERIFY2(near(black, 1000, 2), qPrintable(QString::number(black)));
  }

  void exports_say_what_went_wrong() {
    Window w;
    QCOMPARE(app::export_project(*w.workspace, w.dir.path() + "/grid.svg"), QString());
    QCOMPARE(app::export_project(*w.workspace, w.dir.path() + "/session.ics"), QString());
    QVERIFY(app::export_project(*w.workspace, w.dir.path() + "/grid.xyz").contains(".pdf"));
    QVERIFY(app::export_project(*w.workspace, "/no/such/grid.pdf").contains("folder does not exist"));
  }

  void a_large_grid_does_not_break_the_window() {
    Window w;
    w.go_to("divide");
    w.set_parts(256);
    w.wait_for_comparison();
    QCOMPARE(w.project().grid.parts, 256);
    QCOMPARE(w.window->strip()->moves()->rowCount(), static_cast<int>(w.project().programme.moves.size()));
    w.go_to("fold");
    w.press("begin");
    for (int i = 0; i < 10; ++i) w.key(Qt::Key_Space);
    QCOMPARE(w.fold()->session().next_move(), 10);
  }
};

UC_TEST(ShellTest)
#include "shell_test.moc"
