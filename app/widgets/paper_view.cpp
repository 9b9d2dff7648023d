#include "widgets/paper_view.h"

#include "base/page_painter.h"
#include "io/figure_drawing.h"
#include "widgets/scale_bar.h"

#include <QHelpEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QToolTip>
#include <QWheelEvent>

#include <cmath>
#include <map>

namespace uc::app {
namespace {

constexpr std::size_t most_lines_drawn_live = 5000;
constexpr double legend_room = 120;    // beside the paper, with the figures below the bar
constexpr QSizeF ruler_rims(120, 104); // for rulers, names and the scale bar
constexpr QSizeF snug_rims(104, 74);   // in a low view, where the paper needs the room
constexpr QSizeF bare_rims(24, 20);
constexpr int low_view = 340;

QPointF q(const Point& p) { return {p.x(), p.y()}; }

QPolygonF polygon_of(const Polygon& points, const QTransform& t) {
  QPolygonF out;
  for (const Point& p : points) out << t.map(q(p));
  return out;
}

LineStyle swapped(LineStyle style) {
  if (style == LineStyle::mountain) return LineStyle::valley;
  if (style == LineStyle::valley) return LineStyle::mountain;
  return style;
}

double distance(const QPointF& p, const QLineF& l) {
  const QPointF d = l.p2() - l.p1();
  const double n = QPointF::dotProduct(d, d);
  const double t = n > 0 ? std::clamp(QPointF::dotProduct(p - l.p1(), d) / n, 0.0, 1.0) : 0;
  const QPointF e = p - (l.p1() + t * d);
  return std::hypot(e.x(), e.y());
}

} // namespace

PaperView::PaperView(QWidget* parent) : BenchView(parent) {
  setMinimumSize(200, 160);
  off_middle_ = {8, -12}; // rulers stand on the left and below
  setAccessibleName(tr("The paper"));
  still_.setSingleShot(true);
  still_.setInterval(120);
  connect(&still_, &QTimer::timeout, this, [this] { update(); });
}

void PaperView::show_figure(Figure figure) {
  kept_valid_ = false;
  figure_ = std::move(figure);
  setAccessibleDescription(underside_up() ? tr("Underside up") : tr("Face up"));
  update();
}
void PaperView::set_tints(QHash<int, QColor> tints) {
  kept_valid_ = false;
  tints_ = std::move(tints);
  update();
}
void PaperView::set_clean_areas(std::vector<Box> areas) {
  clean_ = std::move(areas);
  update();
}
void PaperView::set_ghost(Polygon ghost) {
  kept_valid_ = false;
  ghost_ = std::move(ghost);
  update();
}
void PaperView::set_marks(std::vector<PaperMark> marks) {
  marks_ = std::move(marks);
  update();
}
void PaperView::set_laid_over(std::vector<Segment> lines) {
  laid_over_ = std::move(lines);
  update();
}
void PaperView::set_lit(std::vector<Polygon> faces, bool warning) {
  if (faces.empty() && lit_.empty()) return;
  lit_ = std::move(faces);
  lit_warns_ = warning;
  update();
}
void PaperView::turned() {
  kept_valid_ = false;
  setAccessibleDescription(underside_up() ? tr("Underside up") : tr("Face up"));
}
void PaperView::set_legend(const QString& low, const QString& high, bool shown) {
  legend_low_ = low;
  legend_high_ = high;
  legend_ = shown;
  update();
}

Box PaperView::extent() const { return figure_.patches.empty() ? bounding_box(figure_.outline) : figure_.bounds(); }

QSizeF PaperView::rims() const {
  QSizeF rims = bare_ ? bare_rims : height() < low_view ? snug_rims : ruler_rims;
  if (legend_) rims.setWidth(std::max(rims.width(), 2 * legend_room)); // the paper stands in the middle
  return rims;
}

double PaperView::pixels_per_mm() const { return fitted_scale(extent().size(), rims()); }

QTransform PaperView::transform() const {
  const Box box = extent();
  return fitted(box.centre(), box.size(), rims(), from_behind_);
}

/// The core's way from figures to pages, on the bench: a unit of the page is a pixel.
FigurePlacing PaperView::placing(const QTransform& t) const {
  const QRectF box = polygon_of(figure_.outline, t).boundingRect();
  FigurePlacing placing;
  placing.place = [t](const Point& p) -> Point {
    const QPointF at = t.map(q(p));
    return {at.x(), at.y()};
  };
  placing.pixel = 1;
  placing.reach = std::min(box.width(), box.height()) * 0.22;
  placing.paper = {face_.name().toStdString(), underside_.name().toStdString()};
  if (from_behind_) std::swap(placing.paper.face, placing.paper.underside); // of the figure as it is, seen from behind
  return placing;
}

void PaperView::draw_paper(QPainter& p, const QTransform& t) const {
  if (!figure_.patches.empty()) {
    p.setPen(QPen(QColor(20, 16, 8, current_theme().dark ? 90 : 40), 7, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
    p.setBrush(Qt::NoBrush);
    for (const FigurePatch& patch : figure_.patches) p.drawPolygon(polygon_of(patch.outline, t).translated(1.0, 2.5));
    Page page;
    uc::draw_paper(page, figure_, placing(t));
    return paint_page(p, page);
  }
  const QPolygonF outline = polygon_of(figure_.outline, t);
  p.setPen(Qt::NoPen);
  if (outline.size() > 64) { // a soft rim round so many corners takes longer than all creases
    p.setBrush(QColor(20, 16, 8, current_theme().dark ? 90 : 50));
    p.drawPolygon(outline.translated(2.0, 4.0));
  }
  for (int i = 6; i >= 1 && outline.size() <= 64; i -= 2) {
    QColor shade(20, 16, 8, current_theme().dark ? 46 : 22);
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(shade, i * 2.2, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
    p.drawPolygon(outline.translated(1.0, 2.5));
  }
  p.setPen(Qt::NoPen);
  p.setBrush(underside_up() ? underside_ : face_);
  p.drawPolygon(outline);
  for (const Box& box : clean_) {
    QPolygonF area;
    for (const Point& c : {box.low, Point{box.high.x(), box.low.y()}, box.high, Point{box.low.x(), box.high.y()}}) {
      area << t.map(q(figure_.view * c));
    }
    p.setPen(QPen(current_theme().dark ? QColor("#7CCB8F") : current_theme().good, 1, Qt::DotLine));
    p.setBrush(QBrush(QColor(46, 110, 62, 60), Qt::FDiagPattern));
    p.drawPolygon(area);
  }
}

void PaperView::draw_lit(QPainter& p, const QTransform& t) const {
  for (const Polygon& face : lit_) {
    Polygon seen;
    for (const Point& c : face) seen.push_back(figure_.view * c);
    p.setPen(Qt::NoPen);
    p.setBrush(lit_warns_ ? QBrush(QColor(179, 38, 30, 110), Qt::BDiagPattern) : QBrush(QColor(20, 115, 95, 70)));
    p.drawPolygon(polygon_of(seen, t));
  }
}

void PaperView::moving() {
  if (figure_.lines.size() > most_lines_drawn_live) still_.start();
}

void PaperView::draw_kept_lines(QPainter& p, const QTransform& t) {
  const double ratio = devicePixelRatioF();
  const bool fits = kept_valid_ && kept_.size() == size() * ratio;
  if (!fits || (kept_at_ != t && !still_.isActive())) {
    kept_ = QPixmap(size() * ratio);
    kept_.setDevicePixelRatio(ratio);
    kept_.fill(Qt::transparent);
    QPainter on_picture(&kept_);
    draw_lines(on_picture, t);
    kept_at_ = t;
    kept_valid_ = true;
  }
  p.save();
  if (kept_at_ != t) p.setTransform(kept_at_.inverted() * t, true);
  p.drawPixmap(0, 0, kept_);
  p.restore();
}

void PaperView::draw_lines(QPainter& p, const QTransform& t) const {
  // Lines of one look go to the painter in one call; a grid of 256 by 256 has two or three looks.
  struct Look {
    LineStyle style;
    QRgb tint;
    [[nodiscard]] int rank() const {
      return style == LineStyle::unfolded ? -1 : static_cast<int>(style);
    } // hairs lie below
    bool operator<(const Look& o) const { return std::pair(rank(), tint) < std::pair(o.rank(), o.tint); }
  };
  std::map<Look, QList<QLineF>> batches;
  for (const FigureLine& l : figure_.lines) {
    const LineStyle style = from_behind_ ? swapped(l.style) : l.style;
    const auto tint = tints_.constFind(l.element);
    const QRgb colour = tint == tints_.constEnd() ? 0u : tint->rgb();
    QLineF line(t.map(q(l.segment.from)), t.map(q(l.segment.to)));
    if (style == LineStyle::pinch) {
      const Segment seen = seen_pinch({{line.x1(), line.y1()}, {line.x2(), line.y2()}}, 10);
      line = QLineF(q(seen.from), q(seen.to));
    }
    batches[{style, colour}].append(line);
  }
  double pixels = 0;
  std::size_t creases = 0;
  for (const auto& [look, lines] : batches) {
    if (look.style == LineStyle::unfolded) continue;
    creases += static_cast<std::size_t>(lines.size());
    for (const QLineF& l : lines) pixels += l.length();
  }
  const QRectF sheet = polygon_of(figure_.outline, t).boundingRect();
  const double mean = pixels / std::max<double>(1, static_cast<double>(creases));
  const double apart = sheet.width() * sheet.height() / std::max(1.0, pixels);
  // Dashes tell mountain from valley before colour does; they shrink with the lines and go where they would run
  // together.
  const double scale = std::clamp(mean / 50, 0.5, 1.0);
  const bool dense = mean < 14 || apart < 6;
  p.setRenderHint(QPainter::Antialiasing, creases <= 1500 && apart >= 4);
  for (const auto& [look, lines] : batches) {
    QPen pen = pen_for(look.style, scale);
    if (look.tint != 0) pen.setColor(QColor::fromRgb(look.tint));
    if (dense && look.style != LineStyle::moving && look.style != LineStyle::target && look.style != LineStyle::fresh) {
      pen = QPen(pen.color(), figure_.lines.size() > 300 ? 0 : 0.8); // dashes would run into one another
    }
    p.setPen(pen);
    p.drawLines(lines);
    if (look.style == LineStyle::pinch && lines.size() <= 60) {
      p.setPen(QPen(pen.color(), 1.2));
      for (const QLineF& l : lines) {
        const QLineF n = l.normalVector().unitVector();
        const QPointF d(n.dx() * 3, n.dy() * 3);
        p.drawLine(l.p1() - d, l.p1() + d);
        p.drawLine(l.p2() - d, l.p2() + d);
      }
    }
  }
  p.setRenderHint(QPainter::Antialiasing, true);
  p.setPen(pen_for(LineStyle::raw_edge));
  p.setBrush(Qt::NoBrush);
  if (figure_.patches.empty()) p.drawPolygon(polygon_of(figure_.outline, t));
  if (!ghost_.empty()) {
    QPen pen(make_theme(ThemeChoice::light).caution, 1.6, Qt::DashLine);
    if (current_theme().dark) pen.setColor(current_theme().caution);
    p.setPen(pen);
    Polygon seen;
    for (const Point& g : ghost_) seen.push_back(figure_.view * g);
    p.drawPolygon(polygon_of(seen, t));
  }
}

/// A small number on a light round, readable on any colour.
void PaperView::draw_number(QPainter& p, const QPointF& at, const QString& text) const {
  p.save();
  p.setFont(text_font(8));
  QRectF slip(0, 0, QFontMetricsF(p.font()).horizontalAdvance(text) + 6, 14);
  slip.moveCenter(at);
  p.setPen(Qt::NoPen);
  p.setBrush(QColor(252, 250, 245, 215));
  p.drawRoundedRect(slip, 7, 7);
  p.setPen(QColor("#26241F"));
  p.drawText(slip, Qt::AlignCenter, text);
  p.restore();
}

void PaperView::draw_labels(QPainter& p, const QTransform& t) const {
  p.setFont(text_font(11, QFont::DemiBold));
  const QRectF sheet = polygon_of(figure_.outline, t).boundingRect().adjusted(8, 8, -8, -8);
  const QPointF middle = sheet.center();
  std::vector<QRectF> taken;
  for (const Figure::Label& label : figure_.labels) {
    const QString text = QString::fromStdString(label.text);
    const QPointF at = t.map(q(label.at));
    if (label.centred) {
      draw_number(p, at, text);
      continue;
    }
    // On a slip of the paper's colour: just inside the edge, or beside a point where no other name stands.
    QRectF slip(0, 0, QFontMetricsF(p.font()).horizontalAdvance(text) + 10, 20);
    QLineF away(at, at + QPointF(1, 0));
    if (label.at_point)
      away.setP2(at + QPointF(at.x() < middle.x() ? 1 : -1, at.y() < middle.y() ? 1 : -1));
    else if (std::abs(at.x() - middle.x()) < std::abs(at.y() - middle.y()))
      away.setP2({at.x(), middle.y()});
    else
      away.setP2({middle.x(), at.y()});
    const double first = away.angle();
    for (int i = 0; i < 16; ++i) {
      const int eighths = label.at_point ? (i % 8 + 1) / 2 : 0;
      // A line's name moves on along it, a point's goes round it.
      away.setLength(label.at_point ? 20 + (i >= 8 ? 16 : 0) : 24 + 11 * i);
      away.setAngle(first + (i % 2 ? eighths : -eighths) * 45.0);
      slip.moveCenter(away.p2());
      if (sheet.contains(slip.center()) &&
          std::none_of(taken.begin(), taken.end(), [&](const QRectF& r) { return r.intersects(slip); }))
        break;
      if (i < 15) continue;
      away.setLength(label.at_point ? 20 : 24);
      away.setAngle(first);
      slip.moveCenter(away.p2());
    }
    taken.push_back(slip);
    p.setPen(Qt::NoPen);
    p.setBrush(QColor(252, 250, 245, 225));
    p.drawRoundedRect(slip, 4, 4);
    p.setPen(QColor("#26241F"));
    p.drawText(slip, Qt::AlignCenter, text);
  }
}

void PaperView::draw_move(QPainter& p, const QTransform& t) const {
  Page page;
  draw_flap(page, figure_, placing(t));
  uc::draw_move(page, figure_, placing(t));
  paint_page(p, page);
}

void PaperView::draw_rulers(QPainter& p, const QTransform& t) const {
  const QRectF box = polygon_of(figure_.outline, t).boundingRect();
  const double scale = pixels_per_mm();
  const double step = tick_step(7 / scale, unit_);
  const double label_step = tick_step(46 / scale, unit_);
  const Theme& theme = current_theme();
  p.setFont(mono_font(7.5));
  const auto label = [&](double mm) {
    return QString::fromStdString(format_number(mm / mm_per(unit_), unit_ == LengthUnit::mm ? 1 : 2));
  };
  const auto run = [&](double length_px, const std::function<void(double, bool, const QString&)>& tick) {
    const double mm = length_px / scale;
    const int count = static_cast<int>(mm / step + 1e-6);
    const int every = std::max(1, static_cast<int>(std::lround(label_step / step)));
    for (int i = 0; i <= count && i < 4000; ++i) {
      tick(i * step * scale, i % every == 0, label(i * step));
    }
  };
  p.setPen(QPen(theme.soft_ink, 1));
  run(box.width(), [&](double at, bool major, const QString& text) {
    const double x = box.left() + at;
    if (x < 0 || x > width()) return;
    const double y = box.bottom() + 8;
    p.drawLine(QPointF(x, y), QPointF(x, y + (major ? 7 : 4)));
    if (major) p.drawText(QRectF(x - 30, y + 8, 60, 14), Qt::AlignHCenter | Qt::AlignTop, text);
  });
  run(box.height(), [&](double at, bool major, const QString& text) {
    const double y = box.bottom() - at;
    if (y < 0 || y > height()) return;
    const double x = box.left() - 8;
    p.drawLine(QPointF(x, y), QPointF(x - (major ? 7 : 4), y));
    if (major) p.drawText(QRectF(x - 52, y - 8, 42, 16), Qt::AlignRight | Qt::AlignVCenter, text);
  });
  // In a low view the rulers come down to where it stands.
  if (height() >= low_view || box.right() < width() - 120.0)
    draw_scale_bar(p, {width() - 16.0, height() - 14.0}, scale, unit_);
}

void PaperView::draw_corner_note(QPainter& p) const {
  const Theme& theme = current_theme();
  const QRectF tag(12, 10, 22, 22);
  p.setPen(QPen(theme.ink, 1.2));
  p.setBrush(underside_up() ? underside_ : face_);
  p.drawRect(tag);
  p.setBrush(underside_up() ? face_ : underside_);
  p.drawPolygon(QPolygonF{tag.topRight(), tag.topRight() + QPointF(0, 11), tag.topRight() - QPointF(11, 0)});
  p.setFont(text_font(9, QFont::DemiBold));
  p.setPen(theme.ink);
  p.drawText(QRectF(40, 10, 200, 22), Qt::AlignVCenter, underside_up() ? tr("Underside up") : tr("Face up"));
}

void PaperView::draw_legend(QPainter& p) const {
  if (!legend_) return;
  const Theme& theme = current_theme();
  // One line where there is room for it beside the paper, else the figures below the bar.
  const bool narrow = polygon_of(figure_.outline, transform()).boundingRect().right() > width() - 284;
  const QRectF bar = narrow ? QRectF(width() - 112, 16, 96, 8) : QRectF(width() - 196, 16, 96, 8);
  QLinearGradient ramp(bar.topLeft(), bar.topRight());
  for (int i = 0; i <= 6; ++i) ramp.setColorAt(i / 6.0, error_colour(1 + i / 2.0, 1, theme));
  p.fillRect(bar, ramp);
  p.setFont(text_font(8));
  p.setPen(theme.soft_ink);
  if (narrow) {
    const QRectF below(bar.left(), bar.bottom() + 2, bar.width(), 16);
    p.drawText(below, Qt::AlignLeft | Qt::AlignVCenter, legend_low_);
    p.drawText(below, Qt::AlignRight | Qt::AlignVCenter, legend_high_);
    return;
  }
  p.drawText(QRectF(bar.left() - 76, 12, 70, 16), Qt::AlignRight | Qt::AlignVCenter, legend_low_);
  p.drawText(QRectF(bar.right() + 6, 12, 96, 16), Qt::AlignLeft | Qt::AlignVCenter, legend_high_);
}

void PaperView::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.fillRect(rect(), current_theme().bench);
  if (figure_.outline.empty()) return;
  p.setRenderHint(QPainter::Antialiasing);
  const QTransform t = transform();
  draw_paper(p, t);
  draw_lit(p, t);
  if (figure_.lines.size() > most_lines_drawn_live)
    draw_kept_lines(p, t);
  else
    draw_lines(p, t);
  draw_move(p, t);
  draw_marks(p, t);
  draw_handles(p, t);
  draw_labels(p, t);
  if (figure_.to_scale && !bare_) {
    draw_rulers(p, t);
    draw_corner_note(p);
  }
  draw_legend(p);
  draw_focus_ring(p);
}

void PaperView::hovered_at(const QPointF& at) {
  emit paper_hovered(on_sheet(at));
  setCursor(element_at(at) != 0 ? Qt::PointingHandCursor : Qt::OpenHandCursor);
}

void PaperView::clicked(const QPointF& at) {
  emit paper_clicked(on_sheet(at), 10 / pixels_per_mm());
  if (const int element = element_at(at)) emit element_clicked(element);
}

Point PaperView::on_sheet(const QPointF& at) const {
  const QPointF p = transform().inverted().map(at);
  const Eigen::Matrix2d turn = figure_.view.linear.transpose();
  return turn * (Point{p.x(), p.y()} - figure_.view.shift);
}

int PaperView::element_at(const QPointF& at, double reach) const {
  const QTransform t = transform();
  int best = 0;
  for (const FigureLine& l : figure_.lines) {
    if (l.element == 0) continue;
    const double d = distance(at, {t.map(q(l.segment.from)), t.map(q(l.segment.to))});
    if (d < reach) reach = d, best = l.element;
  }
  return best;
}

bool PaperView::event(QEvent* event) {
  if (event->type() == QEvent::ToolTip && describer_) {
    auto* help = static_cast<QHelpEvent*>(event);
    const int handle = handle_at(help->pos());
    const int element = element_at(help->pos());
    const QString text = handle >= 0 ? tr("Drag: %1").arg(handles_[static_cast<std::size_t>(handle)].name)
                         : element   ? describer_(element)
                                     : QString();
    if (text.isEmpty())
      QToolTip::hideText();
    else
      QToolTip::showText(help->globalPos(), text, this);
    return true;
  }
  return BenchView::event(event);
}

} // namespace uc::app
