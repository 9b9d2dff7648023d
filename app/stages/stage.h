// A stage is one place of work in the window. It brings three things: choices (left), the paper (centre), and lines for
// the ledger (right). Stages know the workspace, never each other.
#pragma once

#include "base/workspace.h"
#include "widgets/bench_view.h"
#include "widgets/field.h"
#include "widgets/ledger.h"

namespace uc::app {

class Stage : public QObject {
  Q_OBJECT
public:
  explicit Stage(Workspace& workspace, QObject* parent = nullptr) : QObject(parent), workspace_(workspace) {}

  [[nodiscard]] virtual QString key() const = 0;  // "sheet", "divide", ...
  [[nodiscard]] virtual QString verb() const = 0; // on the ribbon
  [[nodiscard]] virtual QString fact() const = 0; // under it
  [[nodiscard]] virtual QWidget* choices() = 0;
  [[nodiscard]] virtual QWidget* centre() = 0;
  virtual void write_ledger(Ledger& ledger) = 0;
  /// What this stage shows on the bench, the paper first: turned over and rotated together.
  [[nodiscard]] virtual std::vector<BenchView*> views() const { return {}; }
  /// The one that keys and menus mean: where the focus is, else the first; null when there is none.
  [[nodiscard]] BenchView* view() const {
    const auto all = views();
    for (BenchView* v : all) {
      if (v->hasFocus()) return v;
    }
    return all.empty() ? nullptr : all.front();
  }
  /// Another project is worked on: what was said of the old one goes.
  virtual void begin_anew() {}
  /// Called when the stage comes up.
  virtual void entered() {}
  /// A move was chosen in the strip.
  virtual void move_chosen(int) {}
  /// Key bindings of this stage for F1: pairs of key and meaning.
  [[nodiscard]] virtual QList<QPair<QString, QString>> keys() const { return {}; }

signals:
  /// Fact or ledger are out of date.
  void stale();

protected:
  Workspace& workspace_;
};

} // namespace uc::app
