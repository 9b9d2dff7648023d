#include "widgets/way_plot.h"

#include "base/frontier.h"
#include "base/theme.h"

#include <QAccessible>
#include <QHelpEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QToolTip>

#include <algorithm>
#include <cmath>
#include <numeric>

namespace uc::app {
namespace {

constexpr double least_matters = 1e-3; // what is drawn lowest: nobody folds more exactly
constexpr double least_radius = 4;
constexpr double most_radius = 9;
constexpr double pointer_reach = 14;
constexpr double apart = 10; // pixels between points that would hide each other
constexpr int most_steps_aside = 16;

std::size_t index(int i) { return static_cast<std::size_t>(i); }
double log_of(double matters) { return std::log10(std::max(least_matters, matters)); }

} // namespace

WayPlot::WayPlot(QWidget* parent) : QWidget(parent) {
  setObjectName("ways");
  setFocusPolicy(Qt::StrongFocus);
  setMouseTracking(true);
  setMinimumSize(260, 150);
  setAccessibleName(tr("The ways, effort against what they miss by"));
}

void WayPlot::set_axes(const QString& effort, std::function<QString(double)> effort_text, const QString& matters,
                       std::function<QString(double)> matters_text) {
  effort_name_ = effort;
  matters_name_ = matters;
  effort_text_ = std::move(effort_text);
  matters_text_ = std::move(matters_text);
  update();
}

void WayPlot::show_ways(std::vector<PlottedWay> ways) {
  ways_ = std::move(ways);
  admitted_.assign(ways_.size(), 1);
  beside_.clear();
  chosen_ = ways_.empty() ? -1 : 0;
  typed_.clear();
  settle();
  say();
  emit compared_changed();
}

void WayPlot::admit(std::vector<char> admitted) {
  admitted_ = std::move(admitted);
  admitted_.resize(ways_.size(), 1);
  std::erase_if(beside_, [this](int way) { return !this->admitted(way); });
  settle();
  if (chosen_ < 0 || !this->admitted(chosen_)) {
    const auto first = std::find(admitted_.begin(), admitted_.end(), 1);
    chosen_ = -1;
    if (first != admitted_.end()) return choose(static_cast<int>(first - admitted_.begin()));
    emit chosen_changed(-1);
  }
  emit compared_changed();
}

bool WayPlot::admitted(int way) const { return way >= 0 && way < count() && admitted_[index(way)] != 0; }

/// The frontier and the axes follow from the ways.
void WayPlot::settle() {
  std::vector<std::array<double, 2>> figures;
  std::vector<int> of;
  effort_ = {1e300, -1e300};
  matters_ = {1e300, -1e300};
  for (int i = 0; i < count(); ++i) {
    const PlottedWay& way = ways_[index(i)];
    effort_ = {std::min(effort_.low, way.effort), std::max(effort_.high, way.effort)};
    matters_ = {std::min(matters_.low, log_of(way.matters)), std::max(matters_.high, log_of(way.matters))};
    if (!admitted(i)) continue;
    figures.push_back({way.effort, way.matters});
    of.push_back(i);
  }
  frontier_.clear();
  for (const std::size_t k : frontier_of(figures)) frontier_.push_back(of[k]);
  if (ways_.empty()) effort_ = {0, 1}, matters_ = {-1, 1};
  const double room = std::max(0.6, 0.08 * (effort_.high - effort_.low));
  effort_ = {effort_.low - room, effort_.high + room};
  matters_ = {matters_.low - 0.12, std::max(matters_.high + 0.12, matters_.low + 0.7)};
  update();
}

QRectF WayPlot::area() const { return QRectF(rect()).adjusted(78, 10, -18, -38); }

std::vector<QPointF> WayPlot::places() const {
  const QRectF box = area();
  std::vector<QPointF> all(ways_.size());
  std::vector<int> order(ways_.size());
  std::iota(order.begin(), order.end(), 0);
  // Those that matter most stand where they belong.
  const auto key = [this](int i) { return std::pair(ways_[index(i)].effort, ways_[index(i)].matters); };
  std::stable_sort(order.begin(), order.end(), [&](int a, int b) { return key(a) < key(b); });
  for (std::size_t k = 0; k < order.size(); ++k) {
    const PlottedWay& w = ways_[index(order[k])];
    const QPointF at(box.left() + (w.effort - effort_.low) / (effort_.high - effort_.low) * box.width(),
                     box.bottom() - (log_of(w.matters) - matters_.low) / (matters_.high - matters_.low) * box.height());
    QPointF here = at;
    const auto taken = [&](const QPointF& p) {
      for (std::size_t j = k; j-- > 0 && j + 24 > k;) {
        const QPointF d = all[index(order[j])] - p;
        if (std::hypot(d.x(), d.y()) < apart) return true;
      }
      return false;
    };
    for (int step = 1; step <= most_steps_aside && taken(here); ++step) {
      const int places_aside = (step + 1) / 2; // to the right, to the left, further to the right ...
      here = at + QPointF((step % 2 == 1 ? apart : -apart) * places_aside, 0);
    }
    all[index(order[k])] = here;
  }
  return all;
}

QPointF WayPlot::place_of(int way) const { return places()[index(way)]; }

int WayPlot::way_at(const QPointF& at) const {
  int best = -1;
  double reach = pointer_reach;
  const auto stands = places();
  for (int i = 0; i < count(); ++i) {
    if (!admitted(i)) continue;
    const QPointF d = stands[index(i)] - at;
    if (std::hypot(d.x(), d.y()) < reach) reach = std::hypot(d.x(), d.y()), best = i;
  }
  return best;
}

std::vector<int> WayPlot::compared() const {
  std::vector<int> all;
  if (chosen_ >= 0) all.push_back(chosen_);
  for (const int way : beside_) {
    if (way != chosen_ && static_cast<int>(all.size()) < most_compared) all.push_back(way);
  }
  return all;
}

void WayPlot::choose(int way) {
  if (!admitted(way)) return;
  chosen_ = way;
  std::erase(beside_, way);
  say();
  update();
  emit chosen_changed(way);
  emit compared_changed();
}

void WayPlot::compare(int way) {
  if (!admitted(way) || way == chosen_) return;
  const auto at = std::find(beside_.begin(), beside_.end(), way);
  if (at != beside_.end())
    beside_.erase(at);
  else
    beside_.push_back(way);
  if (static_cast<int>(beside_.size()) >= most_compared) beside_.erase(beside_.begin()); // the one longest there
  update();
  emit compared_changed();
}

/// What is chosen, for whoever cannot see the plot.
void WayPlot::say() {
  if (chosen_ < 0) return;
  const bool best = std::find(frontier_.begin(), frontier_.end(), chosen_) != frontier_.end();
  QStringList frontier;
  for (const int way : frontier_) frontier.append(tr("%1: %2").arg(way + 1).arg(ways_[index(way)].words));
  setAccessibleDescription(
      tr("Way %1 of %2: %3%4. The best frontier: %5.")
          .arg(chosen_ + 1)
          .arg(count())
          .arg(ways_[index(chosen_)].words, best ? tr(", on the best frontier") : QString(), frontier.join("; ")));
  QAccessibleEvent changed(this, QAccessible::DescriptionChanged);
  QAccessible::updateAccessibility(&changed);
}

/// Left and right go through all ways by effort, up and down along the frontier.
void WayPlot::step(int by, bool along_frontier) {
  std::vector<int> order;
  if (along_frontier) {
    order = frontier_;
  } else {
    for (int i = 0; i < count(); ++i) {
      if (admitted(i)) order.push_back(i);
    }
    std::stable_sort(order.begin(), order.end(), [this](int a, int b) {
      return std::pair(ways_[index(a)].effort, ways_[index(a)].matters) <
             std::pair(ways_[index(b)].effort, ways_[index(b)].matters);
    });
  }
  if (order.empty()) return;
  auto at = std::find(order.begin(), order.end(), chosen_);
  if (at == order.end()) return choose(order.front());
  const auto next = std::clamp<std::ptrdiff_t>(at - order.begin() + by, 0, std::ssize(order) - 1);
  choose(order[static_cast<std::size_t>(next)]);
}

/// The number of a way, a digit at a time.
void WayPlot::type(const QString& digits) {
  typed_ += digits;
  if (typed_.toInt() < 1 || typed_.toInt() > count()) typed_ = digits;
  if (typed_.toInt() >= 1) choose(typed_.toInt() - 1);
}

void WayPlot::keyPressEvent(QKeyEvent* event) {
  const QString text = event->text();
  if (text.size() == 1 && text[0].isDigit() && event->modifiers() == Qt::NoModifier) return type(text);
  typed_.clear();
  switch (event->key()) {
  case Qt::Key_Left:
    return step(-1, false);
  case Qt::Key_Right:
    return step(1, false);
  case Qt::Key_Up: // less effort misses by more
    return step(-1, true);
  case Qt::Key_Down:
    return step(1, true);
  case Qt::Key_Home:
    return frontier_.empty() ? void() : choose(frontier_.front());
  case Qt::Key_End:
    return frontier_.empty() ? void() : choose(frontier_.back());
  case Qt::Key_C: {
    // The chosen way stays beside the next one that is chosen.
    if (chosen_ >= 0 && std::find(beside_.begin(), beside_.end(), chosen_) == beside_.end()) {
      beside_.push_back(chosen_);
      if (static_cast<int>(beside_.size()) > most_compared - 1) beside_.erase(beside_.begin());
      emit compared_changed();
    }
    return update();
  }
  case Qt::Key_Escape:
    beside_.clear();
    emit compared_changed();
    return update();
  default:
    QWidget::keyPressEvent(event);
  }
}

void WayPlot::mousePressEvent(QMouseEvent* event) {
  const int way = way_at(event->position());
  if (way < 0) return;
  typed_.clear();
  if (event->modifiers().testFlag(Qt::ControlModifier) || event->modifiers().testFlag(Qt::ShiftModifier))
    compare(way);
  else
    choose(way);
}

void WayPlot::focusInEvent(QFocusEvent* event) {
  QWidget::focusInEvent(event);
  update();
}
void WayPlot::focusOutEvent(QFocusEvent* event) {
  typed_.clear();
  QWidget::focusOutEvent(event);
  update();
}

bool WayPlot::event(QEvent* event) {
  if (event->type() == QEvent::ToolTip) {
    auto* help = static_cast<QHelpEvent*>(event);
    const int way = way_at(help->pos());
    if (way < 0)
      QToolTip::hideText();
    else
      QToolTip::showText(help->globalPos(), tr("%1: %2").arg(way + 1).arg(ways_[index(way)].words), this);
    return true;
  }
  // While this has the focus, digits and C mean its ways.
  if (event->type() == QEvent::ShortcutOverride) {
    const auto* key = static_cast<QKeyEvent*>(event);
    const bool digit = key->key() >= Qt::Key_0 && key->key() <= Qt::Key_9;
    if (key->modifiers() == Qt::NoModifier && (digit || key->key() == Qt::Key_C)) event->accept();
  }
  return QWidget::event(event);
}

void WayPlot::draw_axes(QPainter& p) const {
  const Theme& theme = current_theme();
  const QRectF box = area();
  p.setFont(mono_font(8));
  // Up: 1, 2, 5 of every power of ten.
  for (int power = static_cast<int>(std::floor(matters_.low)); power <= static_cast<int>(matters_.high); ++power) {
    for (const double digit : {1.0, 2.0, 5.0}) {
      const double value = digit * std::pow(10, power);
      const double at = std::log10(value);
      if (at < matters_.low || at > matters_.high) continue;
      const double y = box.bottom() - (at - matters_.low) / (matters_.high - matters_.low) * box.height();
      p.setPen(QPen(theme.panel_edge, digit == 1 ? 1 : 0.6));
      p.drawLine(QPointF(box.left(), y), QPointF(box.right(), y));
      p.setPen(theme.soft_ink);
      if (matters_text_)
        p.drawText(QRectF(0, y - 8, box.left() - 8, 16), Qt::AlignRight | Qt::AlignVCenter, matters_text_(value));
    }
  }
  const double span = effort_.high - effort_.low;
  double step = 1; // 1, 2, 5, 10 ...
  for (int i = 0; span / step > 10; ++i) step *= i % 3 == 1 ? 2.5 : 2;
  for (double value = std::ceil(effort_.low / step) * step; value <= effort_.high; value += step) {
    if (value < 0) continue;
    const double x = box.left() + (value - effort_.low) / span * box.width();
    p.setPen(QPen(theme.panel_edge, 0.6));
    p.drawLine(QPointF(x, box.top()), QPointF(x, box.bottom()));
    p.setPen(theme.soft_ink);
    if (effort_text_) p.drawText(QRectF(x - 30, box.bottom() + 4, 60, 14), Qt::AlignCenter, effort_text_(value));
  }
  p.setFont(text_font(8.5, QFont::DemiBold));
  p.setPen(theme.soft_ink);
  p.drawText(QRectF(box.left(), box.bottom() + 19, box.width(), 16), Qt::AlignCenter, effort_name_);
  p.save();
  p.translate(11, box.center().y());
  p.rotate(-90);
  p.drawText(QRectF(-box.height() / 2 - 20, -8, box.height() + 40, 16), Qt::AlignCenter, matters_name_);
  p.restore();
}

/// What can be had for how much: a step down wherever more effort pays.
void WayPlot::draw_frontier(QPainter& p) const {
  if (frontier_.empty()) return;
  const QRectF box = area();
  const auto stands = places();
  QPainterPath path(QPointF(stands[index(frontier_.front())].x(), box.top()));
  for (std::size_t i = 0; i < frontier_.size(); ++i) {
    const QPointF here = stands[index(frontier_[i])];
    path.lineTo(here);
    path.lineTo(i + 1 < frontier_.size() ? stands[index(frontier_[i + 1])].x() : box.right(), here.y());
  }
  QPen pen(current_theme().accent, 1.6);
  pen.setJoinStyle(Qt::RoundJoin);
  p.setPen(pen);
  p.setBrush(Qt::NoBrush);
  p.drawPath(path);
}

void WayPlot::draw_ways(QPainter& p) const {
  const Theme& theme = current_theme();
  const auto beside = compared();
  const auto stands = places();
  double middle = 0; // of what is picked: names above it go up, those below it down
  for (const int i : beside) middle += stands[index(i)].y() / static_cast<double>(beside.size());
  for (int pass = 0; pass < 2; ++pass) { // what is chosen lies on top
    for (int i = 0; i < count(); ++i) {
      const auto rank = std::find(beside.begin(), beside.end(), i);
      const bool picked = rank != beside.end();
      if (picked != (pass == 1)) continue;
      const PlottedWay& way = ways_[index(i)];
      const QPointF at = stands[index(i)];
      const double r = least_radius + (most_radius - least_radius) * std::clamp(way.weight, 0.0, 1.0);
      const bool best = std::find(frontier_.begin(), frontier_.end(), i) != frontier_.end();
      QColor fill = !admitted(i) ? theme.panel_edge : best || picked ? theme.accent : theme.soft_ink;
      if (!best && !picked) fill.setAlpha(admitted(i) ? 120 : 70);
      p.setPen(QPen(theme.bench, 1));
      p.setBrush(fill);
      if (way.exact) // a square on its corner: its geometry is exact
        p.drawPolygon(QPolygonF{at + QPointF(0, -r * 1.25), at + QPointF(r * 1.25, 0), at + QPointF(0, r * 1.25),
                                at + QPointF(-r * 1.25, 0)});
      else
        p.drawEllipse(at, r, r);
      if (!picked) continue;
      p.setBrush(Qt::NoBrush);
      p.setPen(QPen(theme.ink, i == chosen_ ? 2.2 : 1.2, i == chosen_ ? Qt::SolidLine : Qt::DotLine));
      p.drawEllipse(at, r + 5, r + 5);
      p.setFont(text_font(8.5, QFont::DemiBold));
      p.setPen(theme.ink);
      const bool left = at.x() > area().center().x();
      const QString name = tr("%1: %2").arg(i + 1).arg(way.words);
      const double wide = p.fontMetrics().horizontalAdvance(name) + 10;
      const double up = at.y() <= middle + 0.5 ? -22 : 4;
      const QRectF words(left ? at.x() - r - 12 - wide : at.x() + r + 12, at.y() + up, wide, 18);
      QColor slip = theme.field;
      slip.setAlpha(225);
      p.setPen(Qt::NoPen);
      p.setBrush(slip);
      p.drawRoundedRect(words, 4, 4);
      p.setPen(theme.ink);
      p.drawText(words, Qt::AlignCenter, name);
    }
  }
}

void WayPlot::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.fillRect(rect(), current_theme().bench);
  draw_axes(p);
  draw_frontier(p);
  draw_ways(p);
  if (!hasFocus()) return;
  p.setPen(QPen(current_theme().accent, 1, Qt::DotLine));
  p.setBrush(Qt::NoBrush);
  p.drawRect(rect().adjusted(2, 2, -3, -3));
}

} // namespace uc::app
