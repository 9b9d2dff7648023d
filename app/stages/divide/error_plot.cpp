#include "stages/divide/error_plot.h"

#include "base/theme.h"
#include "base/workspace.h"

#include <QHelpEvent>
#include <QPainter>
#include <QToolTip>

#include <cmath>

namespace uc::app {

ErrorPlot::ErrorPlot(QWidget* parent) : QWidget(parent) {
  setMinimumSize(180, 120);
  setObjectName("error-plot");
  setAccessibleName(tr("Expected error of every line"));
}

void ErrorPlot::show_division(const Division& d, std::function<QString(double)> error_text) {
  groups_.clear();
  error_text_ = std::move(error_text);
  worst_ = d.worst_sigma_mm;
  mean_ = d.mean_sigma_mm;
  hand_ = d.hand.sigma_mm;
  for (std::size_t f = 0; f < d.plans.size(); ++f) {
    std::vector<Stem> stems;
    for (int k = 1; k < d.spec.parts; ++k) {
      const double sigma = d.plans[f].line_sigma_mm[static_cast<std::size_t>(k)];
      if (!std::isfinite(sigma)) continue;
      stems.push_back(
          {tr("line %1 of %2, direction %3").arg(k).arg(d.spec.parts).arg(direction_sign(d.layout.families[f].name)),
           sigma});
    }
    groups_.push_back(std::move(stems));
  }
  setAccessibleDescription(tr("worst %1, mean %2").arg(error_text_(worst_), error_text_(mean_)));
  update();
}

void ErrorPlot::clear() {
  groups_.clear();
  error_text_ = nullptr;
  setAccessibleDescription({});
  update();
}

QRectF ErrorPlot::field() const { return QRectF(rect()).adjusted(58, 24, -12, -20); }
double ErrorPlot::top_value() const { return std::max(worst_, 1.5 * hand_) * 1.08; }

void ErrorPlot::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  const Theme& t = current_theme();
  const QRectF box = field();
  p.setFont(text_font(9, QFont::DemiBold));
  p.setPen(t.soft_ink);
  p.drawText(QRectF(8, 2, width() - 16, 18), Qt::AlignLeft | Qt::AlignVCenter, tr("EXPECTED ERROR PER LINE"));
  if (!error_text_) return;
  p.setFont(mono_font(7.5));
  const double top = top_value();
  const auto y_of = [&](double v) { return box.bottom() - box.height() * v / top; };
  for (const double v : {hand_, worst_}) {
    p.setPen(QPen(t.panel_edge, 1, Qt::DotLine));
    p.drawLine(QPointF(box.left(), y_of(v)), QPointF(box.right(), y_of(v)));
  }
  p.setPen(t.soft_ink);
  const bool apart = std::abs(y_of(worst_) - y_of(hand_)) > 14;
  p.drawText(QRectF(0, y_of(worst_) - 8, box.left() - 6, 16), Qt::AlignRight | Qt::AlignVCenter, error_text_(worst_));
  if (apart)
    p.drawText(QRectF(0, y_of(hand_) - 8, box.left() - 6, 16), Qt::AlignRight | Qt::AlignVCenter, QStringLiteral("s"));
  p.drawText(QRectF(0, box.bottom() - 8, box.left() - 6, 16), Qt::AlignRight | Qt::AlignVCenter, QStringLiteral("0"));
  p.setPen(QPen(t.ink, 1));
  p.drawLine(box.bottomLeft(), box.bottomRight());
  std::size_t total = 0;
  for (const auto& g : groups_) total += g.size() + 1;
  if (total < 2) return;
  const double step = box.width() / static_cast<double>(total);
  double x = box.left() + step / 2;
  for (std::size_t f = 0; f < groups_.size(); ++f) {
    const double begin = x;
    for (const Stem& s : groups_[f]) {
      QColor colour = error_colour(s.sigma_mm, hand_, t);
      if (t.dark) colour = colour.lighter(140);
      p.setPen(QPen(colour, std::clamp(step * 0.55, 0.8, 9.0), Qt::SolidLine, Qt::FlatCap));
      p.drawLine(QPointF(x + step / 2, box.bottom()), QPointF(x + step / 2, y_of(s.sigma_mm)));
      x += step;
    }
    p.setPen(t.soft_ink);
    const QString name = groups_.size() > 2   ? tr("%1 of %2").arg(f + 1).arg(groups_.size())
                         : groups_.size() > 1 ? tr("direction %1 of %2").arg(f + 1).arg(groups_.size())
                                              : tr("lines in order");
    p.drawText(QRectF(begin, box.bottom() + 3, std::max(x - begin, 80.0), 14), Qt::AlignHCenter, name);
    x += step;
  }
}

bool ErrorPlot::event(QEvent* event) {
  if (event->type() != QEvent::ToolTip || !error_text_) return QWidget::event(event);
  auto* help = static_cast<QHelpEvent*>(event);
  std::size_t total = 0;
  for (const auto& g : groups_) total += g.size() + 1;
  const QRectF box = field();
  auto slot = static_cast<long>((help->pos().x() - box.left() - box.width() / static_cast<double>(total) / 2) /
                                (box.width() / static_cast<double>(std::max<std::size_t>(1, total))));
  for (const auto& g : groups_) {
    if (slot >= 0 && slot < static_cast<long>(g.size())) {
      const Stem& s = g[static_cast<std::size_t>(slot)];
      QToolTip::showText(help->globalPos(), tr("%1: expected error %2").arg(s.name, error_text_(s.sigma_mm)), this);
      return true;
    }
    slot -= static_cast<long>(g.size()) + 1;
  }
  QToolTip::hideText();
  return true;
}

} // namespace uc::app
