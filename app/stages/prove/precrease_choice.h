// Pre-creasing, chosen in the Prove stage: which school, what each costs, and the way into the programme.
#pragma once

#include "crease/precrease.h"
#include "stages/stage.h"
#include "widgets/school_box.h"

#include <memory>

class QCheckBox;

namespace uc::app {

class PrecreaseChoice : public QObject {
  Q_OBJECT
public:
  PrecreaseChoice(Workspace& workspace, ChoicesColumn& choices, QObject* parent);

  /// Whether the folder is to be offered this; plans are made when it is.
  void offer(bool offered);
  [[nodiscard]] bool busy() const { return offered_ && workspace_.document.planner().busy(); }
  /// The plan of the school that is chosen; null while there is none.
  [[nodiscard]] std::shared_ptr<const Precrease> plan() const;
  /// The plan's creases are wanted on the paper in place of the pattern's.
  [[nodiscard]] bool shown_on_paper() const;
  void write_ledger(Ledger& ledger);

public slots:
  void send();
  void take_out();

signals:
  void changed();

private:
  [[nodiscard]] PrecreaseSpec spec() const;
  void load();
  void write_costs(Ledger& ledger, const Precrease& plan) const;

  Workspace& workspace_;
  std::vector<QWidget*> widgets_;
  SchoolBox* school_;
  QCheckBox* both_ways_;
  QCheckBox* show_;
  PrecreaseSpec loaded_;
  bool offered_ = false;
};

} // namespace uc::app
