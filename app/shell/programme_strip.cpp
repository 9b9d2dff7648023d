#include "shell/programme_strip.h"

#include "base/page_painter.h"
#include "base/theme.h"
#include "io/figure_drawing.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QMimeData>
#include <QPainter>
#include <QPainterPath>
#include <QPushButton>
#include <QScrollBar>

#include <cmath>

namespace uc::app {
namespace {

constexpr int cell_w = 76;
constexpr int cell_h = 88;

void draw_thumbnail(QPainter& p, const QRectF& box, const Figure& figure, const Stock& stock) {
  constexpr double pixel = 0.5; // lines half as wide as on the bench
  Page page;
  draw_figure(page, figure, {{box.left(), box.top()}, {box.width(), box.height()}}, FigureDetail::small,
              {stock.face, stock.underside}, pixel);
  paint_page(p, page);
}

class StripDelegate : public QStyledItemDelegate {
public:
  StripDelegate(Workspace& workspace, QObject* parent) : QStyledItemDelegate(parent), workspace_(workspace) {}
  [[nodiscard]] QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex&) const override {
    return {cell_w, cell_h};
  }

  void paint(QPainter* p, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
    const Theme& t = current_theme();
    const bool current = option.state & QStyle::State_Selected;
    const QRectF cell = QRectF(option.rect).adjusted(3, current ? 1 : 6, -3, current ? -3 : -1);
    p->save();
    p->setRenderHint(QPainter::Antialiasing);
    if (current) {
      p->setPen(Qt::NoPen);
      p->setBrush(QColor(0, 0, 0, 28));
      p->drawRoundedRect(cell.translated(0, 2), 4, 4);
      p->setBrush(t.field);
      p->setPen(QPen(t.accent, 2));
      p->drawRoundedRect(cell, 4, 4);
    }
    const Figure figure = move_figure(workspace_.strip_programme(), index.row());
    draw_thumbnail(*p, cell.adjusted(8, 7, -8, -22), figure, workspace_.document.project().stock);
    p->setPen(current ? t.ink : t.soft_ink);
    p->setFont(text_font(8, current ? QFont::DemiBold : QFont::Normal));
    p->drawText(cell.adjusted(0, 0, 0, -3), Qt::AlignHCenter | Qt::AlignBottom,
                QStringLiteral("%1  %2").arg(index.row() + 1).arg(index.data(Qt::DisplayRole).toString()));
    p->restore();
  }

private:
  Workspace& workspace_;
};

} // namespace

ProgrammeModel::ProgrammeModel(Workspace& workspace, QObject* parent)
    : QAbstractListModel(parent), workspace_(workspace) {
  const auto anew = [this] {
    beginResetModel();
    teller_.reset();
    endResetModel();
  };
  connect(&workspace.document, &Document::changed, this, [this, anew] {
    teller_.reset(); // units may be others
    if (!workspace_.run_shown()) anew();
  });
  connect(&workspace, &Workspace::strip_changed, this, anew);
}

int ProgrammeModel::rowCount(const QModelIndex& parent) const {
  return parent.isValid() ? 0 : static_cast<int>(workspace_.strip_programme().moves.size());
}

QVariant ProgrammeModel::data(const QModelIndex& index, int role) const {
  const Programme& programme = workspace_.strip_programme();
  if (!index.isValid() || index.row() >= static_cast<int>(programme.moves.size())) return {};
  const bool whole = role == Qt::ToolTipRole || role == Qt::AccessibleTextRole;
  if (role != Qt::DisplayRole && !whole) return {};
  if (!teller_) teller_.emplace(programme, workspace_.text_style());
  const auto move = static_cast<std::size_t>(index.row());
  return QString::fromStdString(whole ? teller_->text(move) : teller_->short_text(move));
}

Qt::ItemFlags ProgrammeModel::flags(const QModelIndex& index) const {
  const Qt::ItemFlags base = QAbstractListModel::flags(index);
  return index.isValid() ? base | Qt::ItemIsDragEnabled : base | Qt::ItemIsDropEnabled;
}

QMimeData* ProgrammeModel::mimeData(const QModelIndexList& indexes) const {
  auto* data = new QMimeData;
  if (!indexes.isEmpty()) data->setData(mimeTypes().first(), QByteArray::number(indexes.first().row()));
  return data;
}

bool ProgrammeModel::dropMimeData(const QMimeData* data, Qt::DropAction, int row, int, const QModelIndex&) {
  const int from = data->data(mimeTypes().first()).toInt();
  const int slot = row < 0 ? rowCount() : row;
  reorder(from, slot > from ? slot - 1 : slot);
  return false; // the document has moved it; the view must not remove anything
}

bool ProgrammeModel::reorder(int from, int to) {
  if (workspace_.run_shown()) {
    workspace_.say(tr("These moves are being folded; finish or end the run to change their order."));
    return false;
  }
  const Programme& programme = workspace_.document.project().programme;
  if (!may_reorder(programme, from, to)) {
    if (from != to)
      workspace_.say(tr("Move %1 cannot go there: a move between needs it, or it needs one of them.").arg(from + 1));
    return false;
  }
  const Programme changed = reordered(programme, from, to);
  workspace_.document.change(tr("Reorder moves"), [&](Project& p) { p.programme = changed; });
  return true;
}

ProgrammeStrip::ProgrammeStrip(Workspace& workspace, QWidget* parent)
    : QListView(parent), workspace_(workspace), waiting_(new WaitingStrip(tr("Planning the moves"), "cancel-moves")),
      stopped_(new QWidget(this)), model_(workspace) {
  setModel(&model_);
  setItemDelegate(new StripDelegate(workspace, this));
  setFlow(QListView::LeftToRight);
  setWrapping(false);
  setFixedHeight(cell_h + 14);
  setHorizontalScrollMode(QAbstractItemView::ScrollPerPixel);
  setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  setUniformItemSizes(true);
  setDragDropMode(QAbstractItemView::InternalMove);
  setDefaultDropAction(Qt::MoveAction);
  setSelectionMode(QAbstractItemView::SingleSelection);
  setAccessibleName(tr("Programme: the moves in order"));
  connect(this, &QListView::clicked, this, [this](const QModelIndex& i) { emit move_chosen(i.row()); });
  waiting_->setParent(this);
  auto* row = new QHBoxLayout(stopped_);
  row->setContentsMargins(16, 4, 16, 4);
  row->addWidget(new QLabel(tr("The moves are not planned: you stopped it.")));
  auto* again = new QPushButton(tr("Plan the moves"));
  again->setObjectName("plan-again");
  connect(again, &QPushButton::clicked, this, [this] { workspace_.document.plan_again(); });
  row->addWidget(again);
  row->addStretch(1);
  stopped_->hide();
  Document& document = workspace_.document;
  connect(&document, &Document::planning_began, this, [this](const std::shared_ptr<Progress>& progress) {
    of_creases_ = false;
    waiting_->watch(progress);
  });
  connect(&document, &Document::planning_ended, this, [this] {
    waiting_->end();
    show_planning();
  });
  connect(&document.planner(), &CreasePlanner::began, this, [this](const std::shared_ptr<Progress>& progress) {
    if (!workspace_.document.planning()) return;
    of_creases_ = true;
    waiting_->watch(progress);
  });
  connect(&document, &Document::plans_changed, this, [this] {
    if (of_creases_ && !workspace_.document.planner().busy()) waiting_->end();
    show_planning();
  });
  connect(&document, &Document::changed, this, &ProgrammeStrip::show_planning);
  connect(this, &QListView::activated, this, [this](const QModelIndex& i) { emit move_chosen(i.row()); });
}

void ProgrammeStrip::show_planning() {
  if (!workspace_.document.planning()) waiting_->end();
  stopped_->setVisible(workspace_.document.planning_stopped() && !workspace_.run_shown());
}

void ProgrammeStrip::resizeEvent(QResizeEvent* event) {
  QListView::resizeEvent(event);
  for (QWidget* over : {static_cast<QWidget*>(waiting_), stopped_}) over->setGeometry(viewport()->geometry());
}

void ProgrammeStrip::set_current_move(int move) {
  current_ = move;
  const QModelIndex index = model_.index(move);
  if (!index.isValid()) {
    clearSelection();
    return;
  }
  setCurrentIndex(index);
  scrollTo(index, QAbstractItemView::PositionAtCenter);
}

void ProgrammeStrip::keyPressEvent(QKeyEvent* event) {
  if (event->modifiers() == Qt::ControlModifier && (event->key() == Qt::Key_Left || event->key() == Qt::Key_Right)) {
    const int from = currentIndex().row();
    const int to = from + (event->key() == Qt::Key_Left ? -1 : 1);
    if (model_.reorder(from, to)) emit move_moved(to);
    return;
  }
  // Nothing is looked for by typing, and Space goes on folding.
  if (!event->text().isEmpty() && event->text().front().isPrint()) {
    event->ignore();
    return;
  }
  QListView::keyPressEvent(event);
  if (currentIndex().isValid() && currentIndex().row() != current_) emit move_chosen(currentIndex().row());
}

// A press chooses a move that a release elsewhere, or a drag, does not mean to look at.
void ProgrammeStrip::mouseReleaseEvent(QMouseEvent* event) {
  QListView::mouseReleaseEvent(event);
  if (currentIndex().row() != current_) set_current_move(current_);
}

void ProgrammeStrip::startDrag(Qt::DropActions actions) {
  QListView::startDrag(actions);
  if (currentIndex().row() != current_) set_current_move(current_);
}

} // namespace uc::app
