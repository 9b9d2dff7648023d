// A main window on a data folder of its own, shown under the test's display, with helpers to work it as a person would.
#pragma once

#include "support.h"

#include "shell/main_window.h"
#include "stages/divide/divide_stage.h"
#include "stages/fold/fold_stage.h"
#include "stages/log/log_stage.h"
#include "stages/mark/mark_stage.h"
#include "stages/pattern/pattern_stage.h"
#include "stages/prove/prove_stage.h"
#include "widgets/paper_view.h"

#include <QApplication>
#include <QDir>
#include <QFile>
#include <QLineEdit>
#include <QMessageBox>
#include <QMouseEvent>
#include <QPushButton>
#include <QSettings>
#include <QSpinBox>
#include <QTemporaryDir>
#include <QTest>
#include <QTimer>

#include <memory>

namespace uc::testing {

/// Moves the pointer over a widget without the display's own pointer, which other programs may move as well.
inline void hover(QWidget* widget, const QPoint& at) {
  QMouseEvent move(QEvent::MouseMove, at, widget->mapToGlobal(at), Qt::NoButton, Qt::NoButton, Qt::NoModifier);
  QApplication::sendEvent(widget, &move);
}

/// Presses the named button of the next question, however long it takes to come up; its Cancel when no name is given.
inline void answer_next(const char* name = nullptr) {
  auto* waiting = new QTimer(QApplication::instance());
  QObject::connect(waiting, &QTimer::timeout, waiting, [waiting, name] {
    auto* box = qobject_cast<QMessageBox*>(QApplication::activeModalWidget());
    if (!box) return;
    auto* choice = name ? box->findChild<QPushButton*>(name) : box->button(QMessageBox::Cancel);
    if (!choice) qFatal("no answer %s to \"%s\"", name ? name : "Cancel", qPrintable(box->text()));
    waiting->deleteLater();
    waiting->stop();
    choice->click();
  });
  waiting->start(50);
}

class Window {
public:
  Window() {
    qputenv("XDG_CACHE_HOME", cache().toUtf8());
    QSettings::setPath(QSettings::NativeFormat, QSettings::UserScope, dir.path() + "/settings");
    app::load_fonts();
    app::apply_theme(app::make_theme(app::ThemeChoice::light));
    reopen();
  }
  /// Ends the window and its workspace and begins anew on the same folder, as after closing the program.
  void reopen() {
    window.reset();
    workspace.reset();
    workspace = std::make_unique<app::Workspace>(dir.path() + "/data");
    workspace->document.set_patience(60'000); // tests look at once at what follows from an edit
    window = std::make_unique<app::MainWindow>(*workspace);
    window->show();
    (void)QTest::qWaitForWindowExposed(window.get());
    // No window manager runs under the test's display, so nobody else would make the window active.
    QApplication::setActiveWindow(window.get());
    // The stages that are not seen come while nothing else is done; here nobody waits for that.
    for (int i = 0; i < window->stage_count(); ++i) (void)window->stage_at(i);
    QApplication::processEvents();
  }
  /// Ends the program before its time: what it had kept aside stays, held by nobody.
  void crash() {
    const QString folder = dir.path() + "/data/recovery/";
    QList<QPair<QString, QByteArray>> copies;
    for (const QString& name : QDir(folder).entryList({"*.undercrease"})) {
      QFile file(folder + name);
      if (file.open(QIODevice::ReadOnly)) copies << qMakePair(folder + name, file.readAll());
    }
    window.reset();
    workspace.reset();
    for (const auto& [name, bytes] : copies) {
      QFile file(name);
      if (file.open(QIODevice::WriteOnly)) file.write(bytes);
    }
    reopen();
  }
  ~Window() {
    window.reset();
    workspace.reset();
  }

  [[nodiscard]] const Project& project() const { return workspace->document.project(); }
  [[nodiscard]] app::FoldStage* fold() const { return static_cast<app::FoldStage*>(window->stage("fold")); }
  [[nodiscard]] app::DivideStage* divide() const { return static_cast<app::DivideStage*>(window->stage("divide")); }
  [[nodiscard]] app::MarkStage* mark() const { return static_cast<app::MarkStage*>(window->stage("mark")); }
  [[nodiscard]] app::PatternStage* pattern() const { return static_cast<app::PatternStage*>(window->stage("pattern")); }
  [[nodiscard]] app::ProveStage* prove() const { return static_cast<app::ProveStage*>(window->stage("prove")); }
  [[nodiscard]] app::LogStage* log() const { return static_cast<app::LogStage*>(window->stage("log")); }
  [[nodiscard]] QString ledger() const { return window->ledger()->plain_text(); }

  template <class T> [[nodiscard]] T* find(const char* name) const {
    (void)window->ledger(); // what it holds is made when it is written
    T* found = window->findChild<T*>(name);
    if (!found) qFatal("no %s in the window", name);
    return found;
  }
  void key(Qt::Key k, Qt::KeyboardModifiers m = Qt::NoModifier) const {
    QApplication::setActiveWindow(window.get()); // a dialog may have been the last to be active
    QTest::keyClick(window.get(), k, m);
  }
  void press(const char* button) const { QTest::mouseClick(find<QPushButton>(button), Qt::LeftButton); }
  /// Presses a button and then the one of the question that follows.
  void press_and_confirm(const char* button, const char* answer) const {
    answer_next(answer);
    press(button);
  }
  /// Types into a field in place of what stands there and leaves it.
  void type(const char* field, const QString& text) const {
    auto* edit = find<QLineEdit>(field);
    edit->setFocus();
    edit->selectAll();
    QTest::keyClicks(edit, text);
    QTest::keyClick(edit, Qt::Key_Return);
    QCoreApplication::processEvents(); // the keyboard goes back to the paper after the field has been heeded
  }
  /// Presses the number key of a stage.
  void go_to(const QString& stage) const {
    for (int i = 0; i < window->stage_count(); ++i) {
      if (window->stage_at(i)->key() == stage) return key(static_cast<Qt::Key>(Qt::Key_0 + (i + 1) % 10));
    }
    qFatal("no stage %s", qPrintable(stage));
  }
  [[nodiscard]] QString stage() const { return window->stage_at(window->current_stage())->key(); }
  /// The sheet as this stage shows it.
  [[nodiscard]] app::PaperView* paper_of(const QString& key) const {
    return qobject_cast<app::PaperView*>(window->stage(key)->views().front());
  }
  void set_parts(int n) const { find<QSpinBox>("parts")->setValue(n); }
  void wait_for_comparison() const {
    QTRY_VERIFY_WITH_TIMEOUT(!divide()->busy(), 20000);
    QTest::qWait(5);
  }

  QTemporaryDir dir;
  std::unique_ptr<app::Workspace> workspace;
  std::unique_ptr<app::MainWindow> window;
};

} // namespace uc::testing
