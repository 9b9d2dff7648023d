// What a stage shows while work goes on off the interface thread: what it is, how far it has come, and Cancel. It comes
// up only when the work takes longer than a moment.
#pragma once

#include "base/parallel.h"

#include <QElapsedTimer>
#include <QTimer>
#include <QWidget>

#include <memory>

class QLabel;
class QProgressBar;

namespace uc::app {

class WaitingStrip : public QWidget {
  Q_OBJECT
public:
  /// `cancel_name` is the object name of the button.
  WaitingStrip(const QString& what, const QString& cancel_name);
  ~WaitingStrip() override { cancel(); }

  /// A new piece of work; its progress is to be given to the worker.
  std::shared_ptr<Progress> begin();
  /// Shows work that others have begun.
  void watch(std::shared_ptr<Progress> progress);
  void end();
  void cancel();
  [[nodiscard]] bool cancelled() const { return progress_ && progress_->cancelled(); }

private:
  QString what_;
  QLabel* said_;
  QProgressBar* bar_;
  QTimer look_;
  QElapsedTimer since_;
  std::shared_ptr<Progress> progress_;
};

} // namespace uc::app
