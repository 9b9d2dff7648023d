// Pre-crease programmes, planned one after another off the interface thread and kept for a while: the one a project
// asks for, and those it is compared with.
#pragma once

#include "project/project.h"

#include <QFutureWatcher>
#include <QObject>

#include <memory>
#include <optional>
#include <vector>

namespace uc::app {

/// All that a pre-crease programme follows from.
struct CreaseWish {
  std::string sheet; // code
  std::optional<TruenessMeasure> trueness;
  PatternDesign pattern;
  HandProfile hand;
  PrecreaseSpec spec;
  bool operator==(const CreaseWish&) const = default;
};

/// A plan, or why there is none.
struct CreasePlan {
  std::shared_ptr<const Precrease> plan;
  std::string why_not;
};

class CreasePlanner : public QObject {
  Q_OBJECT
public:
  explicit CreasePlanner(QObject* parent = nullptr);
  ~CreasePlanner() override;

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
  void finished();

  std::vector<std::pair<CreaseWish, CreasePlan>> kept_; // the latest last
  std::vector<CreaseWish> queue_;                       // the next first
  std::shared_ptr<const DrawnPattern> drawn_;
  std::optional<CreaseWish> running_;
  std::shared_ptr<Progress> progress_;
  bool given_up_ = false; // what is running is no longer wanted
  bool stopped_ = false;
  QFutureWatcher<CreasePlan> work_;
};

} // namespace uc::app
