// Which windows have a project open: each holds a small file in the data folder while it does, so that two windows on
// one project know of each other, whatever becomes of either.
#pragma once

#include "base/held_file.h"

#include <QObject>
#include <QTimer>

namespace uc::app {

class ProjectPresence : public QObject {
  Q_OBJECT
public:
  explicit ProjectPresence(const QString& data_folder, QObject* parent = nullptr);

  /// The project this window works on; empty for one without a file.
  void set_project(const QString& path);
  /// Other windows that have it open now.
  [[nodiscard]] int others() const { return others_; }
  /// Looks now; otherwise every second.
  void look();

signals:
  void others_changed(int others);

private:
  QString folder_;
  QString key_;
  QString own_;
  HeldFile held_;
  int others_ = 0;
  QTimer timer_;
};

} // namespace uc::app
