#include "widgets/sweep_plot.h"

#include "base/index.h"
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

constexpr double between_bands = 12;
constexpr double text_height = 13;
constexpr double name_width = 96;
constexpr double label_room = 52; // pixels one value on the axis needs

QColor faint(QColor colour, int alpha) {
  colour.setAlpha(alpha);
  return colour;
}

/// Lowest and highest figure of a band, with its limits where they are near, and some air.
std::pair<double, double> extent_of(const SweepBand& band) {
  double low = 1e300;
  double high = -1e300;
  for (const auto& figure : band.figures) {
    if (!figure) continue;
    low = std::min(low, *figure);
    high = std::max(high, *figure);
  }
  if (low > high) return {0, 1};
  for (const auto& limit : {band.clean, band.least})
    if (limit && *limit > low - (high - low) && *limit < high + (high - low)) low = std::min(low, *limit);
  const double air = std::max(0.08 * (high - low), 0.02 * std::abs(high) + 1e-9);
  return {low - air, high + air};
}

std::vector<double> multiples(double low, double high, double step) {
  std::vector<double> out;
  for (double k = std::ceil(low / step - 1e-9); k * step <= high + 1e-9 * step; ++k) out.push_back(k * step);
  return out;
}

} // namespace

SweepPlot::SweepPlot(QWidget* parent) : QWidget(parent) {
  setObjectName("sweep");
  setFocusPolicy(Qt::StrongFocus);
  setMinimumSize(320, 170);
  setAccessibleName(tr("A value tried over its range"));
}

void SweepPlot::show_sweep(Sweep sweep) {
  sweep_ = std::move(sweep);
  picked_ = sweep_.now;
  say();
  update();
  emit picked_changed(picked_);
}

void SweepPlot::pick(int place) {
  if (sweep_.values.empty()) return;
  place = std::clamp(place, 0, static_cast<int>(sweep_.values.size()) - 1);
  if (place == picked_) return;
  picked_ = place;
  say();
  update();
  emit picked_changed(picked_);
}

/// What the picked value gives, for whoever cannot see the plot.
void SweepPlot::say() {
  if (picked_ < 0) {
    setAccessibleDescription(tr("Nothing is tried yet."));
    return;
  }
  QStringList words{tr("%1 %2").arg(sweep_.axis, sweep_.text(sweep_.values[at(picked_)]))};
  if (!sweep_.refused[at(picked_)].isEmpty()) words << sweep_.refused[at(picked_)];
  for (const SweepBand& band : sweep_.bands)
    if (const auto& figure = band.figures[at(picked_)]) words << tr("%1 %2").arg(band.name, band.text(*figure));
  setAccessibleDescription(words.join(", "));
  setToolTip(sweep_.refused[at(picked_)]);
  QAccessibleEvent event(this, QAccessible::DescriptionChanged);
  QAccessible::updateAccessibility(&event);
}

QRectF SweepPlot::area() const { return QRectF(rect()).adjusted(name_width, 14, -20, -42); }

double SweepPlot::across(int place) const { return x_of(sweep_.values[at(place)]); }

int SweepPlot::place_at(double x) const {
  int best = -1;
  for (int i = 0; i < static_cast<int>(sweep_.values.size()); ++i)
    if (best < 0 || std::abs(across(i) - x) < std::abs(across(best) - x)) best = i;
  return best;
}

void SweepPlot::draw_limits(QPainter& p, const SweepBand& band, const QRectF& room,
                            const std::function<double(double)>& y) const {
  const Theme& theme = current_theme();
  const auto below = [&](double limit, const QBrush& brush) {
    const double top = std::clamp(y(limit), room.top(), room.bottom());
    if (top > room.bottom() - 1) return;
    p.setPen(Qt::NoPen);
    p.setBrush(brush);
    p.drawRect(QRectF(QPointF(room.left(), top), room.bottomRight()));
    p.setPen(QPen(theme.caution, 1, Qt::DashLine));
    p.drawLine(QPointF(room.left(), top), QPointF(room.right(), top));
  };
  if (band.clean) below(*band.clean, faint(theme.caution, 18));
  if (band.least) below(*band.least, QBrush(faint(theme.caution, 90), Qt::BDiagPattern));
}

void SweepPlot::draw_band(QPainter& p, const SweepBand& band, const QRectF& room) const {
  const Theme& theme = current_theme();
  const auto [low, high] = extent_of(band);
  const auto y = [&, low = low, high = high](double v) {
    return room.bottom() - (v - low) / (high - low) * room.height();
  };
  p.setPen(Qt::NoPen);
  p.setBrush(faint(theme.ink, 8));
  p.drawRect(room);
  draw_limits(p, band, room, y);
  p.setFont(text_font(9, QFont::DemiBold));
  p.setPen(theme.ink);
  const double limit_room = band.clean ? text_height : 0;
  p.drawText(QRectF(0, room.top(), name_width - 12, room.height() - limit_room),
             Qt::AlignRight | Qt::AlignVCenter | Qt::TextWordWrap, band.name);
  if (band.clean) {
    p.setFont(text_font(8));
    p.setPen(theme.caution);
    p.drawText(QRectF(0, room.bottom() - limit_room, name_width - 12, limit_room), Qt::AlignRight | Qt::AlignVCenter,
               tr("▲! below %1").arg(band.text(*band.clean)));
  }
  QPainterPath line;
  bool broken = true;
  for (int i = 0; i < static_cast<int>(sweep_.values.size()); ++i) {
    const auto& figure = band.figures[at(i)];
    if (figure && broken)
      line.moveTo(across(i), y(*figure));
    else if (figure)
      line.lineTo(across(i), y(*figure));
    broken = !figure;
  }
  p.setPen(QPen(theme.valley, sweep_.whole ? 1 : 2));
  p.setBrush(Qt::NoBrush);
  p.drawPath(line);
  p.setPen(Qt::NoPen);
  p.setBrush(theme.valley);
  for (int i = 0; i < static_cast<int>(sweep_.values.size()) && sweep_.whole; ++i)
    if (const auto& figure = band.figures[at(i)]) p.drawEllipse(QPointF(across(i), y(*figure)), 3, 3);
  // The figures at the two standing lines, each beside its point.
  p.setFont(mono_font(8.5));
  for (const int place : {sweep_.now, picked_}) {
    if (place < 0 || !band.figures[at(place)]) continue;
    const QPointF here(across(place), y(*band.figures[at(place)]));
    const QColor colour = place == sweep_.now ? theme.ink : theme.mountain;
    p.setBrush(colour);
    p.setPen(Qt::NoPen);
    p.drawEllipse(here, 4.5, 4.5);
    const QString text = band.text(*band.figures[at(place)]);
    const double width = QFontMetricsF(p.font()).horizontalAdvance(text) + 8;
    // Away from the other line.
    const int other = place == picked_ ? sweep_.now : picked_;
    const bool left = other >= 0 && other != place && here.x() < across(other);
    QRectF slip(0, 0, width, 15);
    slip.moveCenter(here + QPointF((left ? -1 : 1) * (width / 2 + 7), 0));
    slip.moveLeft(std::clamp(slip.left(), room.left() + 1, room.right() - width - 1));
    slip.moveTop(std::clamp(slip.top(), room.top() + 1, room.bottom() - 16));
    p.setBrush(faint(theme.panel, 225));
    p.drawRoundedRect(slip, 3, 3);
    p.setPen(colour);
    p.drawText(slip, Qt::AlignCenter, text);
    if (sweep_.now == picked_) break;
  }
}

double SweepPlot::x_of(double value) const {
  const QRectF box = area();
  const double low = sweep_.values.front();
  const double high = sweep_.values.back();
  return box.left() + (high > low ? (value - low) / (high - low) : 0.5) * box.width();
}

/// Values that stand at the axis: those tried where nothing lies between them, else round ones.
std::vector<double> SweepPlot::ticks() const {
  if (sweep_.whole) return sweep_.values;
  const double low = sweep_.values.front();
  const double high = sweep_.values.back();
  if (!(high > low)) return {low};
  double step = std::pow(10.0, std::floor(std::log10(high - low)));
  for (const double finer : {0.1, 0.2, 0.5})
    if ((high - low) / (finer * step) * label_room < area().width()) return multiples(low, high, finer * step);
  return multiples(low, high, step);
}

void SweepPlot::draw_axis(QPainter& p) const {
  const Theme& theme = current_theme();
  const QRectF box = area();
  p.setPen(QPen(theme.soft_ink, 1));
  p.setFont(mono_font(8));
  double last = -1e9;
  for (const double value : ticks()) {
    const double x = x_of(value);
    const bool labelled = x - last >= label_room;
    p.drawLine(QPointF(x, box.bottom() + 3), QPointF(x, box.bottom() + (labelled ? 8 : 5)));
    if (!labelled) continue;
    p.drawText(QRectF(x - 40, box.bottom() + 9, 80, 13), Qt::AlignCenter, sweep_.text(value));
    last = x;
  }
  p.setPen(QPen(theme.caution, 1.4));
  for (int i = 0; i < static_cast<int>(sweep_.values.size()); ++i) { // where nothing can be drawn
    if (sweep_.refused[at(i)].isEmpty()) continue;
    const double x = across(i);
    p.drawLine(QPointF(x - 3, box.bottom() - 7), QPointF(x + 3, box.bottom() - 1));
    p.drawLine(QPointF(x - 3, box.bottom() - 1), QPointF(x + 3, box.bottom() - 7));
  }
  p.setFont(text_font(9));
  p.setPen(theme.ink);
  p.drawText(QRectF(box.left(), box.bottom() + 23, box.width(), 16), Qt::AlignCenter, sweep_.axis);
}

void SweepPlot::draw_standing(QPainter& p) const {
  const Theme& theme = current_theme();
  const QRectF box = area();
  const auto standing = [&](int place, const QColor& colour, Qt::PenStyle style) {
    if (place < 0) return;
    p.setPen(QPen(colour, 1.4, style));
    p.drawLine(QPointF(across(place), box.top() - 6), QPointF(across(place), box.bottom() + 2));
  };
  standing(sweep_.now, theme.ink, Qt::SolidLine);
  if (picked_ != sweep_.now) standing(picked_, theme.mountain, Qt::DashLine);
}

void SweepPlot::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.fillRect(rect(), current_theme().bench);
  if (sweep_.values.empty() || sweep_.bands.empty()) {
    p.setPen(current_theme().soft_ink);
    p.setFont(text_font(10));
    p.drawText(rect(), Qt::AlignCenter, tr("Choose a family and one of its values to try."));
    return;
  }
  const QRectF box = area();
  const auto count = static_cast<double>(sweep_.bands.size());
  const double height = (box.height() - between_bands * (count - 1)) / count;
  draw_standing(p);
  for (std::size_t i = 0; i < sweep_.bands.size(); ++i)
    draw_band(p, sweep_.bands[i],
              QRectF(box.left(), box.top() + static_cast<double>(i) * (height + between_bands), box.width(), height));
  draw_axis(p);
  if (!hasFocus()) return;
  p.setPen(QPen(current_theme().accent, 2));
  p.setBrush(Qt::NoBrush);
  p.drawRect(rect().adjusted(1, 1, -1, -1));
}

void SweepPlot::mousePressEvent(QMouseEvent* event) {
  setFocus();
  if (event->button() == Qt::LeftButton) pick(place_at(event->position().x()));
}

void SweepPlot::mouseMoveEvent(QMouseEvent* event) {
  if (event->buttons().testFlag(Qt::LeftButton)) pick(place_at(event->position().x()));
}

void SweepPlot::mouseDoubleClickEvent(QMouseEvent*) {
  if (picked_ >= 0) emit taken(picked_);
}

void SweepPlot::keyPressEvent(QKeyEvent* event) {
  switch (event->key()) {
  case Qt::Key_Left:
    return pick(picked_ - 1);
  case Qt::Key_Right:
    return pick(picked_ + 1);
  case Qt::Key_Home:
    return pick(0);
  case Qt::Key_End:
    return pick(static_cast<int>(sweep_.values.size()) - 1);
  case Qt::Key_Return:
  case Qt::Key_Enter:
    if (picked_ >= 0) emit taken(picked_);
    return;
  default:
    QWidget::keyPressEvent(event);
  }
}

void SweepPlot::focusInEvent(QFocusEvent*) { update(); }
void SweepPlot::focusOutEvent(QFocusEvent*) { update(); }

} // namespace uc::app
