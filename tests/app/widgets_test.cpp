// The parts of the window on their own: ledger, ribbon, plot, document, menus, dialogs, clipboard, print preview.
#include "runner.h"
#include "support.h"

#include "window.h"

#include "stages/divide/error_plot.h"
#include "widgets/ask_file.h"
#include "widgets/field.h"
#include "widgets/parameter_panel.h"

#include <QCheckBox>
#include <QClipboard>
#include <QComboBox>
#include <QDialog>
#include <QDropEvent>
#include <QHelpEvent>
#include <QLabel>
#include <QMenuBar>
#include <QMessageBox>
#include <QMimeData>
#include <QPrintPreviewDialog>
#include <QSignalSpy>
#include <QTableWidget>
#include <QTimer>
#include <QToolTip>

#include <SQLiteCpp/SQLiteCpp.h>

using namespace uc;
using uc::testing::near;
using uc::testing::Window;

namespace {

/// Does something with the next dialog that opens, then closes it.
void with_next_dialog(const std::function<void(QDialog*)>& act) {
  auto* timer = new QTimer;
  QObject::connect(timer, &QTimer::timeout, timer, [timer, act] {
    if (auto* dialog = qobject_cast<QDialog*>(QApplication::activeModalWidget())) {
      timer->deleteLater();
      act(dialog);
      dialog->close();
    }
  });
  timer->start(20);
}

QAction* action(const Window& w, const QString& text) {
  for (QAction* a : w.window->findChildren<QAction*>()) {
    QString plain = a->text();
    if (plain.remove('&').startsWith(text)) return a;
  }
  return nullptr;
}

int dark_pixels(const QImage& image, const QRect& where) {
  int n = 0;
  for (int y = where.top(); y < where.bottom(); ++y) {
    for (int x = where.left(); x < where.right(); ++x) n += image.pixelColor(x, y).saturation() > 90;
  }
  return n;
}

} // namespace

class WidgetsTest : public QObject {
  Q_OBJECT

private slots:
  void a_ledger_line_unfolds_its_sum_and_stays_unfolded() {
    app::Ledger ledger;
    ledger.resize(270, 400);
    const auto fill = [&] {
      ledger.begin("Sums");
      ledger.line("Diagonal", "339.4 mm", "√(width² + height²)");
      ledger.line("Width", "240 mm");
      ledger.caution("Too narrow.");
      ledger.good("Fine.");
      ledger.finish();
    };
    fill();
    ledger.show();
    const auto sum = [&]() -> QLabel* {
      for (QLabel* l : ledger.findChildren<QLabel*>()) {
        if (l->text().startsWith("√")) return l;
      }
      return nullptr;
    };
    QVERIFY(sum() && !sum()->isVisible());
    QTest::mouseClick(ledger.findChild<QPushButton*>(), Qt::LeftButton);
    QVERIFY(sum()->isVisible());
    fill();
    QApplication::processEvents();
    QVERIFY(sum()->isVisible());
    QTest::keyClick(ledger.findChild<QPushButton*>(), Qt::Key_Space);
    QVERIFY(!sum()->isVisible());
    QVERIFY(ledger.plain_text().contains("240 mm"));
    QVERIFY(ledger.plain_text().contains(QStringLiteral("▲! Too narrow."))); // a sign, not colour alone
  }

  void the_ribbon_lays_its_panels_out_in_order() {
    app::PleatRibbon ribbon;
    ribbon.resize(1000, 62);
    for (const char* verb : {"Sheet", "Divide", "Fold"}) ribbon.add_stage(verb);
    ribbon.set_current(1);
    ribbon.show();
    QSignalSpy chosen(&ribbon, &app::PleatRibbon::chosen);
    QTest::mouseClick(ribbon.panel(2), Qt::LeftButton);
    QCOMPARE(chosen.takeFirst().at(0).toInt(), 2);
    QVERIFY(ribbon.panel(0)->geometry().right() < ribbon.panel(1)->geometry().center().x());
    // All alike, whichever is current.
    QVERIFY(std::abs(ribbon.panel(1)->width() - ribbon.panel(0)->width()) <= 1);
    QVERIFY(ribbon.panel(1)->isChecked() && !ribbon.panel(0)->isChecked());
    ribbon.set_fact(1, "24 parts");
    QCOMPARE(ribbon.panel(1)->accessibleDescription(), QString("24 parts"));
  }

  void the_plot_is_as_high_as_the_errors() {
    GridSpec spec;
    spec.parts = 8;
    spec.axis = GridAxis::x;
    app::ErrorPlot plot;
    plot.resize(400, 200);
    const auto area = [&](Method method) {
      spec.method = method;
      const auto d = divide(Sheet{}, spec, HandProfile{});
      plot.show_division(*d, [](double mm) { return QString::number(mm, 'f', 2); });
      QImage image(plot.size(), QImage::Format_RGB32);
      plot.render(&image);
      return dark_pixels(image, {60, 24, 320, 150});
    };
    // Stems fill the field when all lines are alike; stepping off leaves most of it empty below its worst line.
    QVERIFY2(area(Method::edges) > 1.2 * area(Method::stepping),
             qPrintable(QString("%1 %2").arg(area(Method::edges)).arg(area(Method::stepping))));
    QVERIFY(plot.accessibleDescription().contains("worst"));
    QHelpEvent help(QEvent::ToolTip, QPoint(200, 100), plot.mapToGlobal(QPoint(200, 100)));
    QApplication::sendEvent(&plot, &help);
    QVERIFY2(QToolTip::text().contains("expected error"), qPrintable(QToolTip::text()));
  }

  void hovering_a_crease_tells_all_about_it() {
    Window w;
    w.set_parts(8);
    w.go_to("divide");
    app::PaperView* paper = w.divide()->paper();
    const QPoint at = paper->place({90, 37}).toPoint();
    QHelpEvent help(QEvent::ToolTip, at, paper->mapToGlobal(at));
    QApplication::sendEvent(paper, &help);
    for (const char* part : {"Line 3 of 8", "90 mm", "0.29 mm", "240 mm", "made by move"})
      QVERIFY2(QToolTip::text().contains(part), qPrintable(QToolTip::text()));
  }

  void edits_of_one_field_in_a_row_are_one_step() {
    Window w;
    for (int n = 9; n < 20; ++n) w.set_parts(n);
    QCOMPARE(w.workspace->document.undo_stack().count(), 1);
    w.key(Qt::Key_Z, Qt::ControlModifier);
    QCOMPARE(w.project().grid.parts, 8);
    QVERIFY(!w.workspace->document.change("wrong", [](Project& p) { p.grid.parts = 1; }).isEmpty());
    QCOMPARE(w.project().grid.parts, 8);
  }

  void plan_and_programme_follow_every_edit() {
    Window w;
    app::Document& d = w.workspace->document;
    d.change("a", [](Project& p) { p.grid.parts = 5, p.grid.axis = GridAxis::diagonal; });
    QCOMPARE(d.division().plans.size(), std::size_t{2});
    QVERIFY(json_of(d.project().programme) == json_of(d.division().programme));
    d.undo_stack().undo();
    QCOMPARE(d.division().spec.parts, 8);
    QVERIFY(json_of(d.project().programme) == json_of(d.division().programme));
    d.change("b", [](Project& p) { p.title = "Only a title"; });
    QCOMPARE(d.division().spec.parts, 8);
  }

  void saving_ends_the_need_for_recovery() {
    Window w;
    w.set_parts(11);
    QCOMPARE(w.workspace->document.autosave(), QString());
    const QDir folder(w.dir.path() + "/data/recovery");
    QCOMPARE(folder.entryList({"*.undercrease"}).size(), 1);
    QVERIFY(w.window->save_project_as(w.dir.path() + "/kept.undercrease"));
    QCOMPARE(folder.entryList({"*.undercrease"}).size(), 0);
    QTest::qWait(1300); // longer than copies are put off
    QCOMPARE(folder.entryList({"*.undercrease"}).size(), 0);
    w.set_parts(13);
    QTRY_COMPARE_WITH_TIMEOUT(folder.entryList({"*.undercrease"}).size(), 1, 3000);
  }

  void closing_asks_before_work_is_thrown_away() {
    Window w;
    w.set_parts(7);
    with_next_dialog([](QDialog* d) {
      QTest::mouseClick(static_cast<QMessageBox*>(d)->button(QMessageBox::Cancel), Qt::LeftButton);
    });
    QVERIFY(!w.window->close());
    QVERIFY(w.window->isVisible());
    with_next_dialog([](QDialog* d) {
      QTest::mouseClick(static_cast<QMessageBox*>(d)->button(QMessageBox::Discard), Qt::LeftButton);
    });
    QVERIFY(w.window->close());
  }

  void a_dropped_file_is_opened() {
    Window w;
    Project p = w.project();
    p.title = "Dropped";
    const QString file = w.dir.path() + "/dropped.undercrease";
    QVERIFY(save_project(p, file.toStdString()).ok());
    QMimeData data;
    data.setUrls({QUrl::fromLocalFile(file)});
    QDragEnterEvent enter(QPoint(50, 50), Qt::CopyAction, &data, Qt::LeftButton, {});
    QApplication::sendEvent(w.window.get(), &enter);
    QVERIFY(enter.isAccepted());
    QDropEvent drop(QPointF(50, 50), Qt::CopyAction, &data, Qt::LeftButton, {});
    QApplication::sendEvent(w.window.get(), &drop);
    QCOMPARE(w.project().title, std::string("Dropped"));
    QVERIFY(w.window->windowTitle().startsWith("Dropped"));
  }

  void recent_projects_are_offered() {
    Window w;
    QVERIFY(w.window->save_project_as(w.dir.path() + "/first.undercrease"));
    QVERIFY(w.window->save_project_as(w.dir.path() + "/second.undercrease"));
    const QStringList recent = QSettings().value("recent").toStringList();
    QVERIFY(recent.size() >= 2 && recent[0].endsWith("second.undercrease") && recent[1].endsWith("first.undercrease"));
  }

  void the_drawing_is_copied() {
    Window w;
    w.go_to("divide");
    QApplication::clipboard()->clear();
    w.key(Qt::Key_C, Qt::ControlModifier | Qt::ShiftModifier);
    const QImage image = QApplication::clipboard()->image();
    QVERIFY(image.width() == 2 * w.divide()->paper()->width());
    const QPointF inside = w.divide()->paper()->place({97, 113});
    QCOMPARE(image.pixelColor((2 * inside).toPoint()), QColor(QString::fromStdString(w.project().stock.face)));
  }

  void keys_are_listed_for_each_stage() {
    Window w;
    for (int i = 0; i < w.window->stage_count(); ++i) {
      w.window->show_stage(i);
      QString text;
      with_next_dialog([&](QDialog* d) { text = static_cast<QMessageBox*>(d)->text(); });
      w.key(Qt::Key_F1);
      QVERIFY2(text.contains("turn the sheet over") && text.contains("Ctrl+S"), qPrintable(text));
    }
  }

  void the_print_preview_opens_with_pages() {
    Window w;
    bool opened = false;
    with_next_dialog([&](QDialog* d) { opened = qobject_cast<QPrintPreviewDialog*>(d) != nullptr; });
    w.key(Qt::Key_P, Qt::ControlModifier | Qt::ShiftModifier);
    QVERIFY(opened);
  }

  void units_and_theme_are_in_the_menus() {
    Window w;
    QAction* inches = action(w, "Inches");
    QVERIFY(inches);
    inches->trigger();
    QCOMPARE(w.project().unit, LengthUnit::inch);
    QAction* dark = action(w, "Dark");
    QVERIFY(dark);
    dark->trigger();
    QVERIFY(app::current_theme().dark);
    action(w, "Light")->trigger();
    QVERIFY(!app::current_theme().dark);
    w.set_parts(9);
    with_next_dialog([](QDialog* d) {
      QTest::mouseClick(static_cast<QMessageBox*>(d)->button(QMessageBox::Discard), Qt::LeftButton);
    });
    action(w, "New project")->trigger();
    QCOMPARE(w.project().grid.parts, 8);
  }

  void an_empty_log_says_what_to_do_first() {
    Window w;
    w.go_to("log");
    bool told = false;
    for (const QLabel* l : w.window->findChildren<QLabel*>())
      told = told || (l->isVisible() && l->text().contains("No run is logged yet"));
    QVERIFY(told);
    w.press("fit");
    QVERIFY(w.find<QLabel>("fit-text")->text().contains("Too few lines"));
  }

  void a_locked_log_says_so_and_loses_nothing() {
    Window w;
    QCOMPARE(w.fold()->session().start(), QString());
    QCOMPARE(w.fold()->session().done(), QString());
    {
      SQLite::Database other(w.workspace->log_path().toStdString(), SQLite::OPEN_READWRITE);
      SQLite::Transaction lock(other, SQLite::TransactionBehavior::EXCLUSIVE);
      const QString wrong = w.fold()->session().done();
      QVERIFY2(wrong.contains("in use by another program"), qPrintable(wrong));
      QCOMPARE(w.fold()->session().next_move(), 1);
    }
    QCOMPARE(w.fold()->session().done(), QString());
    QCOMPARE(w.fold()->session().next_move(), 2);
  }

  void measuring_refuses_what_cannot_be() {
    Window w;
    w.set_parts(4);
    w.go_to("fold");
    w.key(Qt::Key_Space);
    w.press("measure");
    QVERIFY(w.fold()->measure_panel()->verdict().contains("No crease has been made yet"));
    w.press("measure-back");
    w.key(Qt::Key_Space);
    w.press("measure");
    auto* table = w.find<QTableWidget>("measure-table");
    QCOMPARE(table->rowCount(), 1);
    table->item(0, 2)->setText("ten");
    QVERIFY(w.fold()->measure_panel()->verdict().contains("not understood"));
    table->item(0, 2)->setText("10");
    QVERIFY(w.fold()->measure_panel()->verdict().contains("more than a whole part"));
    table->item(0, 2)->setText("120.1");
    QVERIFY(w.fold()->measure_panel()->verdict().contains("line 2 is the worst"));
    QCOMPARE(w.fold()->session().detail().measured.size(), std::size_t{1});
    table->item(0, 2)->setText("");
    QCOMPARE(w.fold()->session().detail().measured.size(), std::size_t{0});
  }

  void folding_from_either_side_spares_half_turns() {
    Window w;
    w.go_to("divide");
    w.set_parts(12);
    const int before = w.workspace->document.division().rotations;
    auto* either = w.find<QCheckBox>("either-side");
    QTest::mouseClick(either, Qt::LeftButton, {}, {8, either->height() / 2});
    QVERIFY(w.project().hand.either_side);
    QVERIFY(w.workspace->document.division().rotations < before);
    QCOMPARE(w.project().programme.count(HandleWay::rotate), w.workspace->document.division().rotations);
    w.key(Qt::Key_Z, Qt::ControlModifier);
    QVERIFY(!either->isChecked());
    QCOMPARE(w.workspace->document.division().rotations, before);
  }

  void a_missing_reference_is_named_in_the_ledger() {
    Window w;
    w.go_to("divide");
    w.workspace->document.change("x", [](Project& p) {
      p.grid.left_out = {4};
      p.grid.pinches_allowed = false;
    });
    QVERIFY2(w.ledger().contains("has no reference: it is made from line 4"), qPrintable(w.ledger()));
    w.workspace->document.change("x", [](Project& p) {
      p.grid = GridSpec{};
      p.grid.axis = GridAxis::equilateral;
    });
    QVERIFY(w.ledger().contains("Cut the largest hexagon first") && w.ledger().contains("maker's instructions"));
  }

  void a_panel_is_made_from_its_table() {
    const std::vector<Parameter> table = {
        {"count", "Cells across", ParameterType::integer, 2, 96, 12, "How many.", {}},
        {"height", "Height", ParameterType::mm, 5, 500, 20, "How high it stands.", {}},
        {"lean", "Lean", ParameterType::degrees, 10, 80, 60, "How far it leans.", {}},
        {"centre", "Centre", ParameterType::choice, 0, 1, 0, "What lies inside.", {"open", "closed"}}};
    app::ParameterPanel panel;
    QList<QPair<QString, double>> told;
    connect(&panel, &app::ParameterPanel::value_changed, this, [&](const QString& name, double value) {
      told.append({name, value});
    });
    panel.show_values("box", table, {{"count", 16}});
    auto* count = panel.findChild<QSpinBox*>("parameter-count");
    auto* height = panel.findChild<QLineEdit*>("parameter-height");
    auto* centre = panel.findChild<QComboBox*>("parameter-centre");
    QVERIFY(count && height && centre && panel.findChild<QLineEdit*>("parameter-lean"));
    QVERIFY(told.isEmpty()); // showing is no choice
    QCOMPARE(count->value(), 16);
    QCOMPARE(count->minimum(), 2);
    QCOMPARE(count->maximum(), 96);
    QCOMPARE(height->text(), QString("20"));
    QCOMPARE(centre->count(), 2);
    QCOMPARE(count->toolTip(), QString("How many."));
    QVERIFY(!count->accessibleName().isEmpty());
    count->setValue(24);
    height->setText("2.5cm");
    emit height->editingFinished();
    centre->setCurrentIndex(1);
    emit centre->activated(1);
    QCOMPARE(told, (QList<QPair<QString, double>>{{"count", 24}, {"height", 25}, {"centre", 1}}));
    // What cannot be used is said beside the field and told to nobody.
    auto* field = qobject_cast<app::Field*>(height->parentWidget());
    QVERIFY(field && field->error().isEmpty());
    for (const char* wrong : {"", "tall", "4", "900", "-20"}) {
      height->setText(wrong);
      emit height->editingFinished();
      QVERIFY2(field->error().contains("type 5 to 500 mm"), qPrintable(field->error()));
    }
    QCOMPARE(told.size(), 3);
    height->setText("30");
    emit height->editingFinished();
    QVERIFY(field->error().isEmpty());
    QCOMPARE(told.size(), 4);
    // Another table makes other fields; the same one keeps them.
    panel.show_values("box", table, {{"count", 8}});
    QCOMPARE(panel.findChild<QSpinBox*>("parameter-count"), count);
    QCOMPARE(count->value(), 8);
    panel.show_values("other", {table[3]}, {{"centre", 1}});
    QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
    QVERIFY(!panel.findChild<QSpinBox*>("parameter-count"));
    QCOMPARE(panel.findChild<QComboBox*>("parameter-centre")->currentIndex(), 1);
  }

  void dialogs_offer_every_format() {
    for (const FileUse use : all_file_uses) {
      const QString filters = app::filters_for(use);
      QCOMPARE(filters.count(";;") + 1, static_cast<int>(formats_for(use).size()));
      const QStringList endings = app::endings_of(filters);
      for (const FormatEntry& entry : formats_for(use)) {
        QVERIFY(endings.contains(QString(entry.ending).mid(1)));
        QVERIFY(app::filters_for(use, true).contains(QString("*") + entry.ending));
      }
      // A name without an ending gets the one of the filter chosen.
      const QString last = filters.split(";;").last();
      QVERIFY(app::with_ending("/tmp/a", filters, last).endsWith(formats_for(use).back().ending));
    }
    QCOMPARE(app::filters_for(FileUse::read_pattern, true), QString("Pattern, SVG, DXF (*.json *.svg *.dxf)"));
  }
};

UC_TEST(WidgetsTest)
#include "widgets_test.moc"
