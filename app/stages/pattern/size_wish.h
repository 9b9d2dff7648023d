// What the finished piece is to measure: typed, and worked back to the sheet or the lengths that make it.
#pragma once

#include "base/background.h"
#include "base/workspace.h"
#include "pattern/sizing.h"

#include <QWidget>

class QLineEdit;

namespace uc::app {

class Field;

class SizeWish : public QWidget {
  Q_OBJECT
public:
  explicit SizeWish(Workspace& workspace, QWidget* parent = nullptr);
  /// Shows the sizes there are now; the inside only of what has one.
  void load();
  [[nodiscard]] bool busy() const { return working_.busy(); }

signals:
  void worked_back(const uc::SizedFamily& settings);

private:
  struct Answer {
    Field* field = nullptr;
    Result<SizedFamily> settings = Error{""};
  };
  using Work = std::function<Result<SizedFamily>(const SizedFamily&)>;
  void finish_typed();
  void inside_typed();
  void begin(Field* field, Work work);
  void told(Answer answer);

  Workspace& workspace_;
  QLineEdit* finished_;
  Field* finished_field_;
  QLineEdit* inside_;
  Field* inside_field_;
  Background<Answer> working_; // the last member: it goes first
};

} // namespace uc::app
