#include "stages/collapse/stage_timeline.h"

#include "base/theme.h"

#include <QAccessible>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>

#include <algorithm>
#include <cmath>

namespace uc::app {
namespace {

constexpr double row_height = 20;
constexpr double strain_height = 34;
constexpr double name_width = 104;
constexpr double figure_width = 84;
constexpr double shortest = 0.02; // of the whole
constexpr double key_step = 0.02;
constexpr double grip = 7; // pixels at a bar's end

std::size_t index(int i) { return static_cast<std::size_t>(i); }

QColor faint_of(QColor colour, int alpha) {
  colour.setAlpha(alpha);
  return colour;
}

} // namespace

QString strain_text(double strain) {
  return strain < 1e-5 ? QObject::tr("< 0.001 %") : QObject::tr("%1 %").arg(100 * strain, 0, 'g', 2);
}

StageTimeline::StageTimeline(QWidget* parent) : QWidget(parent) {
  setObjectName("stage-timeline");
  setFocusPolicy(Qt::StrongFocus);
  setMouseTracking(true);
  setAccessibleName(tr("When each stage runs"));
  setToolTip(tr("Drag a bar or its ends. By keyboard: up and down choose, left and right move the bar, with Shift its "
                "end, with Ctrl its beginning."));
}

void StageTimeline::show_plan(std::vector<StageSpan> stages, std::vector<ClipPlace> clips, std::vector<double> strain) {
  stages_ = std::move(stages);
  clips_ = std::move(clips);
  strain_ = std::move(strain);
  chosen_ = std::clamp(chosen_, 0, std::max(0, rows() - 1));
  updateGeometry();
  update();
}

void StageTimeline::set_now(double part) {
  now_ = part;
  update();
}

QSize StageTimeline::sizeHint() const {
  return {640, static_cast<int>(strain_height + row_height * std::max(1, rows()) + 20)};
}

QRectF StageTimeline::area() const { return QRectF(rect()).adjusted(name_width, 4, -figure_width, -4); }

std::pair<double, double> StageTimeline::span(int row) const {
  if (index(row) < stages_.size()) return {stages_[index(row)].from, stages_[index(row)].to};
  const ClipPlace& clip = clips_[index(row) - stages_.size()];
  return {clip.from, clip.to};
}

QString StageTimeline::name(int row) const {
  const auto stages = static_cast<int>(stages_.size());
  return row < stages ? tr("Stage %1").arg(row + 1) : tr("Clip %1").arg(row - stages + 1);
}

QRectF StageTimeline::bar(int row) const {
  const QRectF box = area();
  const auto [from, to] = span(row);
  return {box.left() + from * box.width(), box.top() + strain_height + row * row_height + 3, (to - from) * box.width(),
          row_height - 6};
}

double StageTimeline::peak_in(const StageSpan& span) const {
  double peak = 0;
  const double last = std::max<double>(1, static_cast<double>(strain_.size()) - 1);
  for (std::size_t i = 0; i < strain_.size(); ++i) {
    const double part = static_cast<double>(i) / last;
    if (part >= span.from && part <= span.to) peak = std::max(peak, strain_[i]);
  }
  return peak;
}

StageTimeline::Hold StageTimeline::hold_at(int row, double x) const {
  const QRectF b = bar(row);
  if (x < b.left() - grip || x > b.right() + grip) return Hold::none;
  if (std::abs(x - b.right()) < grip) return Hold::end;
  if (std::abs(x - b.left()) < grip) return Hold::begin;
  return Hold::whole;
}

void StageTimeline::move_bar(int row, double from, double to) {
  from = std::clamp(std::round(from * 100) / 100, 0.0, 1 - shortest);
  to = std::clamp(std::round(to * 100) / 100, from + shortest, 1.0);
  if (index(row) < stages_.size()) {
    stages_[index(row)].from = from;
    stages_[index(row)].to = to;
  } else {
    clips_[index(row) - stages_.size()].from = from;
    clips_[index(row) - stages_.size()].to = to;
  }
  update();
}

void StageTimeline::tell() {
  if (index(chosen_) < stages_.size())
    emit stages_changed(stages_);
  else
    emit clips_changed(clips_);
}

void StageTimeline::choose(int row) {
  chosen_ = std::clamp(row, 0, std::max(0, rows() - 1));
  if (rows() > 0) {
    const auto [from, to] = span(chosen_);
    setAccessibleDescription(
        tr("%1 runs from %2 to %3 %").arg(name(chosen_)).arg(100 * from, 0, 'f', 0).arg(100 * to, 0, 'f', 0));
    QAccessibleEvent event(this, QAccessible::DescriptionChanged);
    QAccessible::updateAccessibility(&event);
  }
  update();
}

void StageTimeline::draw_strain(QPainter& p) const {
  const Theme& theme = current_theme();
  const QRectF box(area().left(), area().top(), area().width(), strain_height - 6);
  p.setFont(text_font(8.5));
  p.setPen(theme.soft_ink);
  p.drawText(QRectF(4, box.top(), name_width - 12, box.height()), Qt::AlignRight | Qt::AlignVCenter, tr("strain"));
  const double most = strain_.empty() ? 0 : *std::max_element(strain_.begin(), strain_.end());
  if (most <= 0) return;
  QPainterPath line;
  const double last = std::max<double>(1, static_cast<double>(strain_.size()) - 1);
  for (std::size_t i = 0; i < strain_.size(); ++i) {
    const QPointF at(box.left() + static_cast<double>(i) / last * box.width(),
                     box.bottom() - strain_[i] / most * box.height());
    i == 0 ? line.moveTo(at) : line.lineTo(at);
  }
  QPainterPath under = line;
  under.lineTo(box.bottomRight());
  under.lineTo(box.bottomLeft());
  p.fillPath(under, faint_of(theme.caution, 28));
  p.setPen(QPen(theme.caution, 1.4));
  p.setBrush(Qt::NoBrush);
  p.drawPath(line);
  p.setFont(mono_font(8));
  p.drawText(QRectF(box.right() + 6, box.top(), figure_width - 8, box.height()), Qt::AlignLeft | Qt::AlignTop,
             strain_text(most));
}

void StageTimeline::draw_row(QPainter& p, int row) const {
  const Theme& theme = current_theme();
  const QRectF b = bar(row);
  const bool stage = index(row) < stages_.size();
  const bool lit = row == chosen_ && hasFocus();
  p.setFont(text_font(9, lit ? QFont::DemiBold : QFont::Normal));
  p.setPen(theme.ink);
  p.drawText(QRectF(4, b.top() - 3, name_width - 12, row_height), Qt::AlignRight | Qt::AlignVCenter, name(row));
  p.setPen(Qt::NoPen);
  p.setBrush(faint_of(theme.ink, 10));
  p.drawRect(QRectF(area().left(), b.top(), area().width(), b.height()));
  p.setPen(QPen(lit ? theme.ink : theme.valley, lit ? 2 : 1));
  p.setBrush(stage ? QBrush(faint_of(theme.valley, 120)) : QBrush(theme.pinch, Qt::BDiagPattern));
  p.drawRoundedRect(b, 3, 3);
  p.setFont(mono_font(8));
  p.setPen(theme.soft_ink);
  const auto [from, to] = span(row);
  const QString figure = stage && !strain_.empty() ? strain_text(peak_in(stages_[index(row)]))
                                                   : tr("%1–%2 %").arg(100 * from, 0, 'f', 0).arg(100 * to, 0, 'f', 0);
  p.drawText(QRectF(area().right() + 6, b.top() - 3, figure_width - 8, row_height), Qt::AlignLeft | Qt::AlignVCenter,
             figure);
}

void StageTimeline::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.fillRect(rect(), current_theme().bench);
  if (rows() == 0) return;
  draw_strain(p);
  for (int row = 0; row < rows(); ++row) draw_row(p, row);
  const double x = area().left() + now_ * area().width();
  p.setPen(QPen(current_theme().ink, 1.2));
  p.drawLine(QPointF(x, area().top()), QPointF(x, area().top() + strain_height + rows() * row_height));
  if (!hasFocus()) return;
  p.setPen(QPen(current_theme().accent, 2));
  p.setBrush(Qt::NoBrush);
  p.drawRect(rect().adjusted(1, 1, -1, -1));
}

void StageTimeline::mousePressEvent(QMouseEvent* event) {
  setFocus();
  const int row = static_cast<int>((event->position().y() - area().top() - strain_height) / row_height);
  if (event->button() != Qt::LeftButton || row < 0 || row >= rows()) return;
  choose(row);
  hold_ = hold_at(row, event->position().x());
  grabbed_ = (event->position().x() - area().left()) / area().width();
  before_ = span(row);
}

void StageTimeline::mouseMoveEvent(QMouseEvent* event) {
  if (hold_ == Hold::none) {
    const int row = static_cast<int>((event->position().y() - area().top() - strain_height) / row_height);
    const Hold hold = row >= 0 && row < rows() ? hold_at(row, event->position().x()) : Hold::none;
    setCursor(hold == Hold::none ? Qt::ArrowCursor : hold == Hold::whole ? Qt::OpenHandCursor : Qt::SizeHorCursor);
    return;
  }
  double by = (event->position().x() - area().left()) / area().width() - grabbed_;
  auto [from, to] = before_;
  if (hold_ == Hold::whole) by = std::clamp(by, -from, 1 - to);
  if (hold_ != Hold::end) from += by;
  if (hold_ != Hold::begin) to += by;
  if (hold_ == Hold::begin) from = std::min(from, to - shortest);
  move_bar(chosen_, from, to);
}

void StageTimeline::mouseReleaseEvent(QMouseEvent*) {
  const bool moved = hold_ != Hold::none && span(chosen_) != before_;
  hold_ = Hold::none;
  if (moved) tell();
}

void StageTimeline::keyPressEvent(QKeyEvent* event) {
  if (rows() == 0) return QWidget::keyPressEvent(event);
  const double by = event->key() == Qt::Key_Left ? -key_step : event->key() == Qt::Key_Right ? key_step : 0;
  if (event->key() == Qt::Key_Up) return choose(chosen_ - 1);
  if (event->key() == Qt::Key_Down) return choose(chosen_ + 1);
  if (by == 0) return QWidget::keyPressEvent(event);
  auto [from, to] = span(chosen_);
  const bool end_only = event->modifiers().testFlag(Qt::ShiftModifier);
  const bool begin_only = event->modifiers().testFlag(Qt::ControlModifier);
  const double step = end_only || begin_only ? by : std::clamp(by, -from, 1 - to);
  if (!end_only) from = std::min(from + step, begin_only ? to - shortest : 1.0);
  if (!begin_only) to += step;
  move_bar(chosen_, from, to);
  choose(chosen_);
  tell();
}

} // namespace uc::app
