#include "stages/mark/route_card.h"

#include "base/theme.h"

#include <QButtonGroup>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QPainter>

#include <algorithm>

namespace uc::app {

RouteCard::RouteCard(Face face, const QColor& paper, QWidget* parent)
    : QAbstractButton(parent), face_(std::move(face)), paper_(paper) {
  setCheckable(true);
  setAutoExclusive(true);
  setFixedSize(sizeHint());
  setCursor(Qt::PointingHandCursor);
  setAccessibleName(QStringList{face_.title, face_.exactness, face_.hand}.join(", "));
  setToolTip(face_.group);
}

void RouteCard::draw_figure(QPainter& p, const QRectF& room) const {
  const Box box = bounding_box(face_.figure.outline);
  const double scale =
      std::min(room.width() / std::max(1e-9, box.size().x()), room.height() / std::max(1e-9, box.size().y()));
  QTransform t;
  t.translate(room.center().x(), room.center().y());
  t.scale(scale, -scale);
  t.translate(-box.centre().x(), -box.centre().y());
  const auto at = [&](const Point& point) { return t.map(QPointF(point.x(), point.y())); };
  const auto shape = [&](const Polygon& polygon) {
    QPolygonF out;
    for (const Point& point : polygon) out << at(point);
    return out;
  };
  const Theme on_paper = make_theme(ThemeChoice::light);
  p.setPen(QPen(on_paper.ink, 1));
  if (face_.cut.empty()) {
    p.setBrush(paper_);
    p.drawPolygon(shape(face_.figure.outline));
  } else {
    p.setBrush(paper_.lighter(118));
    p.setPen(QPen(on_paper.unfolded, 1));
    p.drawPolygon(shape(face_.figure.outline));
    p.setBrush(paper_);
    p.setPen(QPen(on_paper.ink, 1.2));
    p.drawPolygon(shape(face_.cut));
  }
  for (const FigureLine& l : face_.figure.lines) {
    if (l.style == LineStyle::cut) continue;
    QPen pen = pen_for(l.style, on_paper);
    pen.setWidthF(l.style == LineStyle::pinch ? 2.2 : 1.1);
    pen.setStyle(Qt::SolidLine);
    p.setPen(pen);
    QLineF line(at(l.segment.from), at(l.segment.to));
    // A pinch to scale would hardly be seen on a drawing this small.
    if (l.style == LineStyle::pinch && line.length() < 9 && line.length() > 0) {
      const QPointF middle = line.center();
      line.setLength(9);
      line.translate(middle - line.center());
    }
    p.drawLine(line);
  }
  p.setBrush(on_paper.caution);
  p.setPen(QPen(QColor(252, 250, 245), 1));
  for (const Point& dot : face_.figure.dots) p.drawEllipse(at(dot), 3.4, 3.4);
}

void RouteCard::paintEvent(QPaintEvent*) {
  const Theme& theme = current_theme();
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const QRectF body(4, 20, width() - 8, height() - 26);
  p.setFont(text_font(8, QFont::DemiBold));
  p.setPen(theme.soft_ink);
  const auto fitting = [&](const QString& text, double room) {
    return p.fontMetrics().elidedText(text, Qt::ElideRight, static_cast<int>(room));
  };
  p.drawText(QRectF(6, 2, width() - 12, 16), Qt::AlignVCenter, fitting(face_.group, width() - 12));
  // The card that is chosen lies higher than the others.
  const QRectF card = isChecked() ? body.translated(0, -2) : body;
  p.setPen(Qt::NoPen);
  p.setBrush(QColor(20, 16, 8, isChecked() ? 60 : 26));
  p.drawRoundedRect(card.translated(0, isChecked() ? 4 : 2), 4, 4);
  p.setBrush(theme.field);
  p.setPen(QPen(isChecked() ? theme.accent : theme.panel_edge, isChecked() ? 2 : 1));
  p.drawRoundedRect(card, 4, 4);
  draw_figure(p, card.adjusted(10, 8, -10, -58));
  const double x = card.left() + 10;
  const double w = card.width() - 16;
  p.setPen(theme.ink);
  p.setFont(text_font(9, QFont::DemiBold));
  p.drawText(QRectF(x, card.bottom() - 54, w, 16), Qt::AlignVCenter, fitting(face_.title, w));
  p.setFont(text_font(9));
  p.setPen(face_.exact ? theme.good : theme.ink);
  p.drawText(QRectF(x, card.bottom() - 37, w, 16), Qt::AlignVCenter,
             face_.exact ? QStringLiteral("✓ ") + face_.exactness : face_.exactness);
  p.setPen(theme.ink);
  p.drawText(QRectF(x, card.bottom() - 20, w, 16), Qt::AlignVCenter, fitting(face_.hand, w));
  if (hasFocus()) {
    p.setPen(QPen(theme.accent, 1, Qt::DotLine));
    p.setBrush(Qt::NoBrush);
    p.drawRoundedRect(card.adjusted(3, 3, -3, -3), 3, 3);
  }
}

CardRow::CardRow(QWidget* parent) : QScrollArea(parent), content_(new QWidget) {
  setFrameShape(QFrame::NoFrame);
  setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  setWidgetResizable(true);
  setFixedHeight(196);
  setAccessibleName(tr("The ways that were found"));
  setObjectName("cards");
  setFocusPolicy(Qt::NoFocus);
  new QHBoxLayout(content_);
  content_->layout()->setContentsMargins(8, 2, 8, 2);
  content_->layout()->setSpacing(6);
  content_->layout()->setAlignment(Qt::AlignLeft | Qt::AlignTop);
  setWidget(content_);
}

void CardRow::show_cards(std::vector<RouteCard::Face> faces, const QColor& paper, int current) {
  for (RouteCard* card : cards_) {
    card->hide();
    card->deleteLater();
    content_->layout()->removeWidget(card);
  }
  cards_.clear();
  for (RouteCard::Face& face : faces) {
    auto* card = new RouteCard(std::move(face), paper, content_);
    const int index = static_cast<int>(cards_.size());
    card->setObjectName(QStringLiteral("card-%1").arg(index));
    card->installEventFilter(this);
    connect(card, &QAbstractButton::clicked, this, [this, index] { choose(index); });
    content_->layout()->addWidget(card);
    cards_.push_back(card);
  }
  if (current >= 0 && current < count()) card(current)->setChecked(true);
  horizontalScrollBar();
}

void CardRow::choose(int i) {
  if (i < 0 || i >= count()) return;
  card(i)->setChecked(true);
  ensureWidgetVisible(card(i), 12, 0);
  emit chosen(i);
}

bool CardRow::eventFilter(QObject* watched, QEvent* event) {
  if (event->type() == QEvent::KeyPress) {
    const int key = static_cast<QKeyEvent*>(event)->key();
    const int step = key == Qt::Key_Right ? 1 : key == Qt::Key_Left ? -1 : 0;
    const auto at = std::find(cards_.begin(), cards_.end(), watched);
    const int next = static_cast<int>(at - cards_.begin()) + step;
    if (step != 0 && at != cards_.end() && next >= 0 && next < count()) {
      card(next)->setFocus();
      choose(next);
      return true;
    }
  }
  return QScrollArea::eventFilter(watched, event);
}

} // namespace uc::app
