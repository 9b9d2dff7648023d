// Nothing changes by passing over it, nothing moves under the pointer, and what is shown in several places is one
// thing.
#include "runner.h"
#include "window.h"

#include "pattern/family.h"
#include "widgets/dialog_size.h"
#include "widgets/parameter_panel.h"

#include <QComboBox>
#include <QDialog>
#include <QLabel>
#include <QPushButton>
#include <QScrollBar>
#include <QSet>
#include <QSlider>
#include <QTabBar>
#include <QWheelEvent>

using namespace uc;
using namespace uc::app;
using uc::testing::Window;

class QuietTest : public QObject {
  Q_OBJECT

  /// As it comes from the mouse, to whatever lies there.
  static void wheel(QWidget* over, int notches) {
    const QPointF at = over->rect().center();
    QWheelEvent event(at, over->mapToGlobal(at), {}, {0, 120 * notches}, Qt::NoButton, Qt::NoModifier,
                      Qt::NoScrollPhase, false);
    QSpontaneKeyEvent::setSpontaneous(&event); // else it goes no further than to this widget
    QApplication::instance()->notify(over, &event);
  }
  /// What every control of the window stands at.
  static QStringList values(const Window& w) {
    QStringList out;
    for (int i = 0; i < w.window->stage_count(); ++i) {
      QWidget* choices = w.window->stage_at(i)->choices();
      for (const auto* box : choices->findChildren<QComboBox*>()) out << box->objectName() + box->currentText();
      for (const auto* box : choices->findChildren<QAbstractSpinBox*>()) out << box->objectName() + box->text();
      for (const auto* bar : choices->findChildren<QSlider*>())
        out << bar->objectName() + QString::number(bar->value());
      for (const auto* bar : choices->findChildren<QTabBar*>())
        out << bar->objectName() + QString::number(bar->currentIndex());
    }
    return out;
  }
  /// Where every button and tab bar that can be seen stands in the window.
  static QMap<QString, QRect> places(const Window& w) {
    QMap<QString, QRect> out;
    for (auto* button : w.window->findChildren<QAbstractButton*>()) {
      if (!button->isVisible() || button->objectName().isEmpty() || button->objectName().startsWith("qt_")) continue;
      out[button->objectName()] = {button->mapTo(w.window.get(), QPoint()), button->size()};
    }
    for (auto* bar : w.window->findChildren<QTabBar*>())
      if (bar->isVisible()) out["tabs" + bar->objectName()] = {bar->mapTo(w.window.get(), QPoint()), bar->size()};
    return out;
  }

private slots:
  void the_wheel_over_a_control_scrolls_its_panel_and_changes_nothing() {
    Window w;
    w.window->resize(1024, 700);
    w.workspace->document.change("family", [](Project& p) { p.pattern = family_design("hexagonal-wrap"); });
    if (w.project().pattern.empty())
      w.workspace->document.change("family", [](Project& p) { p.pattern = family_design("square-twists"); });
    int controls = 0;
    for (int i = 0; i < w.window->stage_count(); ++i) {
      w.window->show_stage(i);
      QCoreApplication::processEvents();
      Stage* stage = w.window->stage_at(i);
      auto* column = qobject_cast<QScrollArea*>(stage->choices());
      const Json project = json_of(w.project().programme);
      for (QWidget* control : stage->choices()->findChildren<QWidget*>()) {
        const bool wheeled = qobject_cast<QComboBox*>(control) || qobject_cast<QAbstractSpinBox*>(control) ||
                             qobject_cast<QTabBar*>(control) || qobject_cast<QSlider*>(control);
        if (!wheeled || !control->isVisible() || control->hasFocus()) continue;
        ++controls;
        column->ensureWidgetVisible(control);
        QCoreApplication::processEvents();
        const int from = column->verticalScrollBar()->value();
        const bool down = from < column->verticalScrollBar()->maximum();
        const QStringList before = values(w); // now: a plan that is done meanwhile may show its figures
        wheel(control, down ? -1 : 1);
        QVERIFY2(!control->hasFocus(), qPrintable(control->objectName()));
        if (column->verticalScrollBar()->maximum() > 0)
          QVERIFY2(column->verticalScrollBar()->value() != from, qPrintable(control->objectName()));
        QVERIFY2(values(w) == before, qPrintable(stage->key() + ": " + control->objectName()));
      }
    }
    QVERIFY2(controls > 25, qPrintable(QString::number(controls)));
    // With the focus a number may be wheeled; what is chosen from a list may not.
    w.go_to("divide");
    auto* parts = w.find<QSpinBox>("parts");
    const int count = parts->value();
    parts->setFocus();
    wheel(parts, 1);
    QCOMPARE(parts->value(), count + 1);
    auto* axis = w.find<QComboBox>("axis");
    const int chosen = axis->currentIndex();
    axis->setFocus();
    wheel(axis, -1);
    QCOMPARE(axis->currentIndex(), chosen);
  }

  void a_refused_entry_keeps_the_focus_and_the_text() {
    Window w;
    auto* size = w.find<QLineEdit>("sheet-size");
    w.type("sheet-size", "240q");
    QCOMPARE(w.stage(), QString("sheet"));
    QVERIFY(size->hasFocus() && size->text() == "240q");
    // The correction is text, not the keys of stages.
    QTest::keyClick(size, Qt::Key_Backspace);
    QTest::keyClicks(size, "5");
    QCOMPARE(w.stage(), QString("sheet"));
    QCOMPARE(size->text(), QString("2405"));
    w.type("sheet-size", "240q");
    // Whatever else changes leaves it alone, until another project comes.
    w.workspace->document.change("note", [](Project& p) { p.note = "x"; });
    QCOMPARE(size->text(), QString("240q"));
    QTest::keyClick(QApplication::focusWidget(), Qt::Key_2);
    QCOMPARE(w.stage(), QString("sheet")); // it has the focus: a digit is text
    // Tab stays too, once: whoever wants to go on all the same does.
    size->selectAll();
    QTest::keyClicks(size, "240x");
    QTest::keyClick(size, Qt::Key_Tab);
    QTRY_VERIFY(size->hasFocus() && size->text() == "240x");
    QTest::keyClick(size, Qt::Key_Tab);
    QTest::qWait(20);
    QVERIFY(!size->hasFocus() && size->text() == "240x");
    w.type("sheet-size", "square:20cm");
    QVERIFY(!size->hasFocus());
    QCOMPARE(w.project().sheet.code(), std::string("square:200mm"));
    QCOMPARE(size->text(), QString::fromStdString(w.project().sheet_name));
    w.type("sheet-size", "nonsense");
    w.workspace->document.reset(w.project(), {});
    QCOMPARE(size->text(), QString::fromStdString(w.project().sheet_name));
    // What is being typed is not written over by work that ends meanwhile.
    w.go_to("divide");
    auto* left_out = w.find<QLineEdit>("left-out");
    left_out->setFocus();
    QTest::keyClicks(left_out, "3, 5");
    w.workspace->document.change("hand", [](Project& p) { p.hand.sigma_mm = 0.3; });
    QCOMPARE(left_out->text(), QString("3, 5"));
    QTest::keyClick(left_out, Qt::Key_Return);
    QCOMPARE(w.project().grid.left_out, (std::vector<int>{3, 5}));
  }

  void buttons_and_tabs_stay_where_they_are() {
    Window w;
    QMap<QString, QRect> ribbon;
    for (int i = 0; i < w.window->stage_count(); ++i) {
      w.window->show_stage(i);
      for (int k = 0; k < w.window->stage_count(); ++k) {
        const QRect place = w.window->ribbon()->panel(k)->geometry();
        if (i == 0) ribbon[QString::number(k)] = place;
        QCOMPARE(place, ribbon[QString::number(k)]);
      }
    }
    const auto same = [&](const QString& what, const std::function<void()>& change) {
      (void)w.ledger();
      QCoreApplication::processEvents();
      const auto before = places(w);
      change();
      (void)w.ledger();
      QCoreApplication::processEvents();
      const auto after = places(w);
      for (auto at = before.begin(); at != before.end(); ++at) {
        if (!after.contains(at.key())) continue; // what cannot be done is not offered
        QVERIFY2(after[at.key()] == at.value(), qPrintable(what + ": " + at.key()));
      }
    };
    w.go_to("divide");
    same("parts", [&] { w.set_parts(37); });
    same("axis", [&] { emit w.find<QComboBox>("axis")->activated(2); });
    w.go_to("pattern");
    w.workspace->document.change("family", [](Project& p) { p.pattern = family_design("square-twists"); });
    same("count", [&] { w.find<QSpinBox>("parameter-count")->setValue(24); });
    w.go_to("mark");
    same("target", [&] { w.type("target", "bottom:2/7"); });
    w.go_to("fold");
    same("another move", [&] { w.key(Qt::Key_PageDown); });
  }

  void strip_drawing_and_text_show_one_move() {
    Window w;
    w.workspace->document.change("grid", [](Project& p) {
      p.grid.parts = 8;
      p.grid.axis = GridAxis::x;
      p.hand.either_side = true;
    });
    QTRY_VERIFY(!w.workspace->document.planning());
    w.go_to("fold");
    auto* strip = w.window->strip();
    const auto shown = [&] {
      const int row = strip->currentIndex().row();
      const Programme& p = w.project().programme;
      const ProgrammeTeller teller(p, w.workspace->text_style());
      return row >= 0 && w.fold()->sentence().toStdString() == teller.text(static_cast<std::size_t>(row)) ? row : -1;
    };
    QCOMPARE(shown(), 0);
    QTest::mouseClick(strip->viewport(), Qt::LeftButton, {}, strip->visualRect(strip->moves()->index(2)).center());
    QCOMPARE(shown(), 2);
    // A click in the strip does not take the keys of the stages away, nor Space.
    QTest::keyClick(strip, Qt::Key_Right);
    QCOMPARE(shown(), 3);
    QTest::keyClick(strip, Qt::Key_Home);
    QCOMPARE(shown(), 0);
    // A press that is let go of elsewhere chooses nothing.
    QTest::mousePress(strip->viewport(), Qt::LeftButton, {}, strip->visualRect(strip->moves()->index(1)).center());
    QTest::mouseRelease(strip->viewport(), Qt::LeftButton, {}, QPoint(strip->viewport()->width() - 4, 8));
    QCOMPARE(shown(), 0);
    int from = -1;
    for (int i = 0; from < 0 && i + 1 < static_cast<int>(w.project().programme.moves.size()); ++i)
      if (may_reorder(w.project().programme, i, i + 1)) from = i;
    QVERIFY(from >= 0);
    QTest::mouseClick(strip->viewport(), Qt::LeftButton, {}, strip->visualRect(strip->moves()->index(from)).center());
    QTest::keyClick(strip, Qt::Key_Right, Qt::ControlModifier);
    QCOMPARE(shown(), from + 1);
    strip->setFocus();
    QTest::keyClick(strip, Qt::Key_2);
    QCOMPARE(w.stage(), QString("divide"));
    // From another stage the move that was clicked is the one that comes up.
    QTest::mouseClick(strip->viewport(), Qt::LeftButton, {}, strip->visualRect(strip->moves()->index(1)).center());
    QCOMPARE(w.stage(), QString("fold"));
    QCOMPARE(shown(), 1);
    w.key(Qt::Key_Space); // a run begins with its first move
    QVERIFY(w.fold()->session().active());
    QCOMPARE(strip->currentIndex().row(), 0);
    QTest::mouseClick(strip->viewport(), Qt::LeftButton, {}, strip->visualRect(strip->moves()->index(3)).center());
    QCOMPARE(strip->currentIndex().row(), 0);
  }

  void a_second_notice_hides_no_buttons_and_all_are_whole() {
    Window w;
    for (const QSize size : {QSize(1024, 700), QSize(1280, 800)}) {
      w.window->resize(size);
      QCoreApplication::processEvents();
      NoticeList* list = w.window->notices();
      bool done = false;
      w.window->notify("A first one that asks.", {{"Do this", [&] { done = true; }}}, "first");
      QVERIFY(!list->is_open());
      w.window->notify("A second one.", {}, "second");
      QVERIFY(list->is_open());
      QPushButton* asked = nullptr;
      for (auto* button : w.window->findChild<QFrame*>("notice-panel")->findChildren<QPushButton*>())
        if (button->text() == "Do this") asked = button;
      QVERIFY(asked && asked->isVisible());
      QCoreApplication::processEvents();
      QVERIFY(w.window->rect().contains(QRect(asked->mapTo(w.window.get(), QPoint()), asked->size())));
      QTest::mouseClick(asked, Qt::LeftButton);
      QVERIFY(done && !list->is_open());
      w.window->notify({}, {}, "second");
      // One that does not fit into the bar is shown whole above it.
      QString sentence = "It begins here,";
      while (sentence.size() < 420) sentence += " and goes on and on and on";
      w.window->notify(sentence + ".", {{"Yes", [] {}}, {"No", [] {}}}, "long");
      QCoreApplication::processEvents();
      QVERIFY(list->is_open());
      QLabel* whole = nullptr;
      for (auto* label : w.window->findChild<QFrame*>("notice-panel")->findChildren<QLabel*>())
        if (label->text() == sentence + ".") whole = label;
      QVERIFY(whole && whole->height() >= whole->heightForWidth(whole->width()));
      w.window->notify({}, {}, "long");
      QVERIFY(!list->is_open());
    }
  }

  void the_window_fits_the_screen_and_comes_back_as_it_was() {
    Window w;
    QVERIFY(w.window->width() <= w.window->screen()->availableSize().width());
    w.window->resize(1111, 777);
    w.workspace->document.save(w.dir.filePath("a.undercrease"));
    QVERIFY(w.window->close());
    w.reopen();
    QCOMPARE(w.window->size(), QSize(1111, 777));
    QSettings().setValue("window/size", QSize(9000, 8000)); // of a larger screen
    w.reopen();
    QVERIFY(w.window->width() <= w.window->screen()->availableSize().width());
    QVERIFY(w.window->height() <= w.window->screen()->availableSize().height());
  }

  void a_dialog_fits_the_screen() {
    QDialog dialog;
    open_at_most(dialog, {300, 200});
    QCOMPARE(dialog.size(), QSize(300, 200));
    open_at_most(dialog, {9000, 200});
    QVERIFY(dialog.width() < dialog.screen()->availableSize().width() && dialog.height() == 200);
  }

  void the_drawing_of_a_move_keeps_its_room() {
    Window w;
    QVERIFY(w.window->open_project(UC_SOURCE_DIR "/data/demo/open-night.undercrease"));
    QTRY_VERIFY(!w.workspace->document.planning());
    w.go_to("fold");
    const auto& moves = w.fold()->session().programme().moves;
    QVERIFY(moves.size() > 20);
    for (const auto& [size, share] : {std::pair{QSize(1280, 800), 0.5}, {QSize(1024, 700), 0.4}}) {
      w.window->resize(size);
      QSet<QString> told;
      for (int k = 0; k < static_cast<int>(moves.size()); ++k) {
        w.fold()->move_chosen(k);
        if (told.contains(w.fold()->sentence())) continue;
        told.insert(w.fold()->sentence());
        QCoreApplication::processEvents();
        QVERIFY2(w.fold()->paper()->height() >= static_cast<int>(share * w.fold()->centre()->height()),
                 qPrintable(w.fold()->sentence()));
        for (const char* name : {"sentence", "check"}) {
          const auto* label = w.find<QLabel>(name);
          QVERIFY2(!label->isVisible() || label->height() >= label->heightForWidth(label->width()),
                   qPrintable(QString("%1 of %2: %3")
                                  .arg(label->height())
                                  .arg(label->heightForWidth(label->width()))
                                  .arg(label->text())));
        }
        QVERIFY(w.find<QLabel>("sentence")->fontInfo().pointSizeF() >= 11);
      }
    }
  }

  void every_stage_has_a_key_and_home_fits() {
    Window w;
    for (int i = 0; i < w.window->stage_count(); ++i) {
      w.key(static_cast<Qt::Key>(Qt::Key_0 + (i + 1) % 10));
      QCOMPARE(w.window->current_stage(), i);
    }
    // From each stage to each other, whatever has the focus there and with something in every list.
    w.key(Qt::Key_8);
    for (int k = 0; k < 3; ++k) w.key(Qt::Key_Space);
    w.press_and_confirm("finish", "confirm-end");
    for (int from = 0; from < w.window->stage_count(); ++from)
      for (int to = 0; to < w.window->stage_count(); ++to) {
        w.window->show_stage(w.window->stage_at(from)->key());
        QApplication::setActiveWindow(w.window.get()); // the question was the last to be active
        QWidget* focus = QApplication::focusWidget();
        QTest::keyClick(focus ? focus : w.window.get(), static_cast<Qt::Key>(Qt::Key_0 + (to + 1) % 10));
        QVERIFY2(w.window->current_stage() == to, qPrintable(w.window->stage_at(from)->key()));
      }
    w.go_to("divide");
    BenchView* view = w.window->stage("divide")->view();
    const QImage fitted = view->snapshot();
    w.key(Qt::Key_Plus);
    w.key(Qt::Key_Plus);
    QVERIFY(view->snapshot() != fitted);
    w.key(Qt::Key_Home);
    QCOMPARE(view->snapshot(), fitted);
  }

  void a_list_that_drops_down_shows_up_to_ten_entries() {
    Window w;
    w.window->resize(1024, 700);
    int lists = 0;
    for (int i = 0; i < w.window->stage_count(); ++i) {
      w.window->show_stage(i);
      for (auto* box : w.window->stage_at(i)->choices()->findChildren<QComboBox*>()) {
        if (!box->isVisible() || box->count() == 0) continue;
        box->showPopup();
        QCoreApplication::processEvents();
        QAbstractItemView* view = box->view();
        const int last = std::min(10, box->count()) - 1;
        const QRect first = view->visualRect(box->model()->index(0, 0));
        const QRect end = view->visualRect(box->model()->index(last, 0));
        if (box->currentIndex() <= last)
          QVERIFY2(first.top() >= 0 && end.bottom() <= view->viewport()->rect().bottom() + 1,
                   qPrintable(QString("%1 %2 of %3 in %4 px")
                                  .arg(box->objectName())
                                  .arg(last + 1)
                                  .arg(box->count())
                                  .arg(view->viewport()->height())));
        box->hidePopup();
        ++lists;
      }
    }
    QVERIFY(lists > 8);
  }
};

UC_TEST(QuietTest)
#include "quiet_test.moc"
