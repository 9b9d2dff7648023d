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
  [[nodiscard]] bool busy() const { return working_.busy() || closing_.busy(); }
  /// The box about the finished piece, the longest side first; worked out off the interface thread.
  [[nodiscard]] std::optional<Eigen::Vector3d> finished_size() const;
  /// Whether no formula gave it.
  [[nodiscard]] bool by_collapse() const;

signals:
  /// The finished size is known now.
  void measured();
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
  void measure();

  Workspace& workspace_;
  QLineEdit* finished_;
  Field* finished_field_;
  QLineEdit* inside_;
  Field* inside_field_;
  struct Closed {
    std::shared_ptr<const DrawnPattern> of;
    std::optional<Eigen::Vector3d> size;
    bool by_collapse = false;
  };
  Closed closed_;
  std::shared_ptr<const DrawnPattern> closing_of_;
  // The last members: they go first.
  Background<Closed> closing_;
  Background<Answer> working_;
};

} // namespace uc::app
