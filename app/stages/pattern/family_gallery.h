// The families as small true drawings: each pattern with its normal parameters, in few cells, beside what it folds to.
#pragma once

#include "base/background.h"

#include <QDialog>
#include <QImage>

class QListWidget;

namespace uc::app {

class FamilyGallery : public QDialog {
  Q_OBJECT
public:
  explicit FamilyGallery(const QString& chosen, QWidget* parent = nullptr);
  /// The name of the family that was chosen.
  [[nodiscard]] QString chosen() const;
  /// Whether every drawing is made.
  [[nodiscard]] bool complete() const;

private:
  struct Picture {
    int family = 0;
    QImage image;
  };
  void draw_next();

  QListWidget* list_;
  int next_ = 0;
  Background<Picture> drawing_;
};

} // namespace uc::app
