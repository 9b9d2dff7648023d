#include "shell/pleat_ribbon.h"

#include "base/theme.h"

#include <QLinearGradient>
#include <QPainter>

namespace uc::app {

PleatPanel::PleatPanel(int index, const QString& verb, QWidget* parent) : QAbstractButton(parent), index_(index) {
  setText(verb);
  setCheckable(true);
  setFocusPolicy(Qt::TabFocus);
  setCursor(Qt::PointingHandCursor);
  set_fact({});
}

void PleatPanel::set_fact(const QString& fact) {
  fact_ = fact;
  setAccessibleName(tr("%1, stage %2").arg(text()).arg(index_ + 1));
  setAccessibleDescription(fact);
  setToolTip(tr("%1 (%2): %3").arg(text()).arg((index_ + 1) % 10).arg(fact));
  update();
}

void PleatPanel::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const Theme& t = current_theme();
  const bool flat = isChecked();
  const bool lit = index_ % 2 == 0;
  const double w = width();
  const double h = height();
  // Folded panels are seen at a slant: their far edge lies higher or lower by turns.
  const double slant = flat ? 0 : 9;
  const QPolygonF panel = lit ? QPolygonF{{0, slant}, {w, 0}, {w, h - slant}, {0, h}}
                              : QPolygonF{{0, 0}, {w, slant}, {w, h}, {0, h - slant}};
  const QPolygonF shape = flat ? QPolygonF{{0, 0}, {w, 0}, {w, h}, {0, h}} : panel;
  QLinearGradient light(0, 0, w, 0);
  const QColor base = flat ? t.field : lit ? t.panel : t.panel_edge;
  light.setColorAt(0, lit || flat ? base : base.darker(106));
  light.setColorAt(1, lit || flat ? base.lighter(102) : base.lighter(105));
  p.setPen(QPen(t.dark ? QColor(0, 0, 0, 120) : QColor(38, 36, 31, 70), 1));
  p.setBrush(light);
  p.drawPolygon(shape);
  if (flat) {
    p.setPen(Qt::NoPen);
    p.setBrush(t.accent);
    p.drawRect(QRectF(0, h - 4, w, 4));
  }
  if (hasFocus()) {
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(t.accent, 2));
    p.drawRect(QRectF(3, 3, w - 6, h - 8));
  }
  p.setPen(t.ink);
  p.setFont(text_font(flat ? 13 : 11, QFont::DemiBold));
  p.drawText(QRectF(18, 9, w - 30, 22), Qt::AlignVCenter | Qt::AlignLeft, text());
  p.setFont(text_font(9.5));
  p.setPen(flat ? t.ink : t.soft_ink);
  const QString fact = p.fontMetrics().elidedText(fact_, Qt::ElideRight, static_cast<int>(w) - 30);
  p.drawText(QRectF(18, 30, w - 30, 18), Qt::AlignVCenter | Qt::AlignLeft, fact);
}

PleatRibbon::PleatRibbon(QWidget* parent) : QWidget(parent) {
  setFixedHeight(62);
  setAccessibleName(tr("Stages"));
}

void PleatRibbon::add_stage(const QString& verb) {
  const int index = static_cast<int>(panels_.size());
  auto* panel = new PleatPanel(index, verb, this);
  connect(panel, &QAbstractButton::clicked, this, [this, index] { emit chosen(index); });
  panels_.push_back(panel);
  panel->show();
  place_panels();
}

void PleatRibbon::set_fact(int stage, const QString& fact) { panel(stage)->set_fact(fact); }

void PleatRibbon::set_current(int stage) {
  for (std::size_t i = 0; i < panels_.size(); ++i) panels_[i]->setChecked(static_cast<int>(i) == stage);
}

void PleatRibbon::resizeEvent(QResizeEvent*) { place_panels(); }

void PleatRibbon::place_panels() {
  if (panels_.empty()) return;
  // The same places and widths whichever is current.
  const double share = static_cast<double>(width()) / static_cast<double>(panels_.size());
  for (std::size_t i = 0; i < panels_.size(); ++i) {
    const int left = static_cast<int>(share * static_cast<double>(i));
    panels_[i]->setGeometry(left, 2, static_cast<int>(share * static_cast<double>(i + 1)) - left, height() - 4);
  }
}

} // namespace uc::app
