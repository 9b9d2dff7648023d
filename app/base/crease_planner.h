// Pre-crease programmes, planned one after another off the interface thread and kept for a while: the one a project
// asks for, and those it is compared with.
#pragma once

#include "base/background.h"
#include "project/parts.h"

#include <QObject>

#include <memory>
#include <optional>
#include <vector>

namespace uc::app {

using CreaseWish = CreasesKey;

/// A plan, or why there is none.
struct CreasePlan {
  std::shared_ptr<const Precrease> plan;
  std::string why_not;
};

class CreasePlanner : public QObject {
  Q_OBJECT
public:
  explicit CreasePlanner(QObject* parent = nullptr);

  /// Null while it is not planned.
  [[nodiscard]] const CreasePlan* known(const CreaseWish& wish) const;
  /// Plans these, in this order, all for one drawn pattern; what was wanted before and is not among them is given up.
  void want(std::vector<CreaseWish> wishes, std::shared_ptr<const DrawnPattern> drawn);
  [[nodiscard]] bool busy() const { return running_.has_value() || !queue_.empty(); }
  /// Somebody has cancelled the progress; nothing goes on until something is wanted again.
  [[nodiscard]] bool stopped() const { return stopped_; }

signals:
  void began(std::shared_ptr<uc::Progress> progress);
  /// Nothing more is wanted.
  void ended();
  /// One more plan is known.
  void planned();

private:
  void next();
  void finished(CreasePlan plan);

  std::vector<std::pair<CreaseWish, CreasePlan>> kept_; // the latest last
  std::vector<CreaseWish> queue_;                       // the next first
  std::shared_ptr<const DrawnPattern> drawn_;
  std::optional<CreaseWish> running_;
  std::shared_ptr<Progress> progress_;
  bool stopped_ = false;
  Background<CreasePlan> work_;
};

} // namespace uc::app
