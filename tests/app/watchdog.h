// How long the window takes for one event, as whoever sits before it would feel: the application of the window tests
// times each event that comes from outside or from a timer.
#pragma once

#include <QApplication>
#include <QElapsedTimer>
#include <QEvent>
#include <QThread>

#include <string>

namespace uc::testing {

class WatchedApplication : public QApplication {
public:
  using QApplication::QApplication;

  /// Forgets what was measured; counts from now on.
  static void begin() { longest_ms() = 0, events() = 0, where().clear(); }
  static double& longest_ms() {
    static double ms = 0;
    return ms;
  }
  /// What it was: the kind of the event and who got it.
  static std::string& where() {
    static std::string text;
    return text;
  }
  static int& events() {
    static int count = 0;
    return count;
  }

  bool notify(QObject* receiver, QEvent* event) override {
    // Threads that work have events too, which nobody waits for.
    if (QThread::currentThread() != thread() || depth_ > 0) return QApplication::notify(receiver, event);
    ++depth_;
    // Both may be gone afterwards.
    const int type = event->type();
    const std::string who =
        std::string(receiver->metaObject()->className()) + " " + receiver->objectName().toStdString();
    QElapsedTimer timer;
    timer.start();
    const bool done = QApplication::notify(receiver, event);
    const double ms = static_cast<double>(timer.nsecsElapsed()) / 1e6;
    --depth_;
    ++events();
    if (ms > longest_ms()) {
      longest_ms() = ms;
      where() = "event " + std::to_string(type) + " of " + who;
    }
    return done;
  }

private:
  int depth_ = 0;
};

} // namespace uc::testing
