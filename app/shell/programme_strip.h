// The moves so far as small drawings, the current one raised. Click to go to a move; drag, or Ctrl+Left and Ctrl+Right,
// to reorder where the programme allows it. While they are planned it says how far that has come, with Cancel.
#pragma once

#include "base/workspace.h"
#include "programme/text.h"
#include "widgets/waiting_strip.h"

#include <QAbstractListModel>
#include <QListView>
#include <QStyledItemDelegate>

namespace uc::app {

class ProgrammeModel : public QAbstractListModel {
  Q_OBJECT
public:
  explicit ProgrammeModel(Workspace& workspace, QObject* parent = nullptr);
  [[nodiscard]] int rowCount(const QModelIndex& parent = {}) const override;
  [[nodiscard]] QVariant data(const QModelIndex& index, int role) const override;
  [[nodiscard]] Qt::ItemFlags flags(const QModelIndex& index) const override;
  [[nodiscard]] Qt::DropActions supportedDropActions() const override { return Qt::MoveAction; }
  [[nodiscard]] QStringList mimeTypes() const override { return {"application/x-under-crease-move"}; }
  [[nodiscard]] QMimeData* mimeData(const QModelIndexList& indexes) const override;
  bool dropMimeData(const QMimeData* data, Qt::DropAction action, int row, int column,
                    const QModelIndex& parent) override;
  /// Moves a move; says why when the programme does not allow it.
  bool reorder(int from, int to);

private:
  Workspace& workspace_;
  mutable std::optional<ProgrammeTeller> teller_; // of the programme shown, made when it is first asked
};

class ProgrammeStrip : public QListView {
  Q_OBJECT
public:
  explicit ProgrammeStrip(Workspace& workspace, QWidget* parent = nullptr);
  void set_current_move(int move);
  [[nodiscard]] ProgrammeModel* moves() { return &model_; }

signals:
  void move_chosen(int move);
  /// A move was given another place in the order, and is still the one looked at.
  void move_moved(int to);

protected:
  void mouseReleaseEvent(QMouseEvent* event) override;
  void startDrag(Qt::DropActions actions) override;
  void keyPressEvent(QKeyEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;

private:
  void show_planning();
  int current_ = -1; // the move that drawing and text show
  Workspace& workspace_;
  WaitingStrip* waiting_;
  bool of_creases_ = false; // what is waited for
  QWidget* stopped_;        // what is shown after Cancel
  ProgrammeModel model_;
};

} // namespace uc::app
