// A stage is one place of work in the window. It brings three things: choices (left), the paper (centre), and lines for
// the ledger (right). Stages know the workspace, never each other.
#pragma once

#include "base/workspace.h"
#include "widgets/ledger.h"

#include <QWidget>

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
  /// The paper of this stage, for zoom, copy and turn over; null when it has none.
  [[nodiscard]] virtual class PaperView* paper() { return nullptr; }
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

/// A titled field of a choices column: label, editor, and room for the sentence that says what is wrong with it.
class Field : public QWidget {
  Q_OBJECT
public:
  Field(const QString& label, QWidget* editor, QWidget* parent = nullptr);
  void set_error(const QString& sentence);
  [[nodiscard]] QString error() const;

private:
  QWidget* editor_;
  class QLabel* error_;
};

/// The column that choices() returns: scrollable, of fixed width.
class ChoicesColumn : public QScrollArea {
  Q_OBJECT
public:
  explicit ChoicesColumn(const QString& title);
  void add(QWidget* widget);
  QWidget* add_section(const QString& title);
  void add_hint(const QString& text);
  void finish();

private:
  class QVBoxLayout* layout_;
};

} // namespace uc::app
