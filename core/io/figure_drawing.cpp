#include "io/figure_drawing.h"

#include "io/label_places.h"

#include "programme/line_look.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace uc {
namespace {

constexpr std::size_t most_lines_in_small = 70; // more creases than this run together in a small drawing
constexpr std::size_t most_pinches_with_ends = 60;
constexpr double least_pinch = 10; // pixels

std::vector<double> scaled(std::vector<double> dash, double by) {
  for (double& d : dash) d *= by;
  return dash;
}

void draw_line(Page& page, const FigurePlacing& placing, const Segment& on_page, LineStyle style, bool solid = false) {
  const LineLook& look = look_of(style);
  const double width = look.width * placing.pixel;
  page.line(on_page.from, on_page.to, look.colour, width, solid ? std::vector<double>{} : scaled(look.dash, width));
  std::get<PagePath>(page.items.back()).css_class = look.kind;
}

PagePath shape(const FigurePlacing& placing, const Polygon& polygon, const std::string& fill) {
  PagePath path;
  for (const Point& p : polygon) path.points.push_back(placing.place(p));
  path.closed = true;
  path.fill = fill;
  return path;
}

/// The head of an arrow that ends at `tip` coming from `back`.
void draw_head(Page& page, const FigurePlacing& placing, const Point& tip, const Point& back, ArrowWay way,
               double length) {
  const Point along = (back - tip).normalized();
  const Point across{-along.y(), along.x()};
  const double reach = length * placing.pixel;
  PagePath head;
  head.points = {tip + reach * (0.93 * along + 0.37 * across), tip, tip + reach * (0.93 * along - 0.37 * across)};
  PagePath halo = head; // where the arrow runs beyond the paper the ground may be as dark as its ink
  halo.closed = way != ArrowWay::open;
  halo.stroke = paper_slip;
  halo.width_mm = 0.25 * reach;
  halo.opacity = 0.75;
  page.items.emplace_back(std::move(halo));
  const bool filled = way == ArrowWay::over || way == ArrowWay::over_and_back;
  if (way != ArrowWay::open) { // an opening arrow has two barbs, the others a triangle
    head.closed = true;
    head.fill = filled ? paper_ink : paper_slip;
  }
  if (!filled) {
    head.stroke = paper_ink;
    head.width_mm = 2 * placing.pixel;
  }
  page.items.emplace_back(std::move(head));
}

void draw_arrow(Page& page, const FigurePlacing& placing, std::vector<Point> way, bool curve, ArrowWay kind,
                double width) {
  const Point tip = way.back();
  const Point before = way[way.size() - 2];
  const Point first = way.front();
  const Point second = way[1];
  PagePath halo;
  halo.points = way;
  halo.curve = curve;
  halo.stroke = paper_slip;
  halo.width_mm = 2.5 * width * placing.pixel;
  halo.opacity = 0.75;
  PagePath shaft;
  shaft.points = std::move(way);
  shaft.curve = curve;
  shaft.stroke = paper_ink;
  shaft.width_mm = width * placing.pixel;
  if (kind == ArrowWay::behind) shaft.dash_mm = {5 * placing.pixel, 3.5 * placing.pixel};
  page.items.emplace_back(std::move(halo));
  page.items.emplace_back(std::move(shaft));
  draw_head(page, placing, tip, before, kind, 6 * width);
  if (kind == ArrowWay::over_and_back) draw_head(page, placing, first, second, kind, 4.5 * width);
}

void draw_turn(Page& page, const Figure& figure, const FigurePlacing& placing) {
  const Point middle = placing.place(figure.bounds().centre());
  const double reach = placing.reach;
  if (figure.turns_over)
    draw_arrow(page, placing,
               {middle - Point{1.5 * reach, 0}, middle - Point{0, 1.3 * reach}, middle + Point{1.5 * reach, 0}}, true,
               ArrowWay::over, 3.2);
  if (figure.turn_deg == 0) return;
  std::vector<Point> arc;
  const double sense = figure.turn_deg > 0 ? 1 : -1;
  for (int i = 0; i <= 24; ++i) {
    const double angle = std::numbers::pi / 2 + sense * (i - 12) * std::numbers::pi / 15;
    arc.push_back(middle + reach * Point{std::cos(angle), -std::sin(angle)});
  }
  draw_arrow(page, placing, std::move(arc), false, ArrowWay::over, 3.2);
}

} // namespace

void draw_line(Page& page, const Segment& on_page, LineStyle style) {
  FigurePlacing on_paper;
  on_paper.pixel = page_mm_per_pixel;
  draw_line(page, on_paper, on_page, style);
}

Segment seen_pinch(const Segment& pinch, double least) {
  const double length = pinch.length();
  if (length <= 0 || length >= least) return pinch;
  const Point half = (pinch.to - pinch.from) / length * (least / 2);
  return {pinch.middle() - half, pinch.middle() + half};
}

void draw_paper(Page& page, const Figure& figure, const FigurePlacing& placing) {
  const PaperColours& paper = placing.paper;
  if (figure.patches.empty()) {
    PagePath sheet = shape(placing, figure.outline, figure.underside_up ? paper.underside : paper.face);
    sheet.stroke = paper_ink;
    sheet.width_mm = look_of(LineStyle::raw_edge).width * placing.pixel;
    page.items.emplace_back(std::move(sheet));
  }
  for (const FigurePatch& patch : figure.patches) {
    page.items.emplace_back(shape(placing, patch.outline,
                                  !patch.colour.empty() ? patch.colour
                                  : patch.coloured      ? paper.face
                                                        : paper.underside));
    for (std::size_t i = 0; i < patch.outline.size(); ++i)
      draw_line(page, placing,
                {placing.place(patch.outline[i]), placing.place(patch.outline[(i + 1) % patch.outline.size()])},
                patch.sides[i]);
  }
}

void draw_creases(Page& page, const Figure& figure, const FigurePlacing& placing, FigureDetail detail) {
  const auto pinches = static_cast<std::size_t>(std::count_if(
      figure.lines.begin(), figure.lines.end(), [](const FigureLine& l) { return l.style == LineStyle::pinch; }));
  const bool sparse = detail == FigureDetail::full || figure.lines.size() <= most_lines_in_small;
  for (const FigureLine& l : figure.lines) {
    const bool of_this_move = l.style == LineStyle::fresh || l.style == LineStyle::pinch || l.style == LineStyle::cut;
    if (!sparse && !of_this_move) continue;
    Segment seen{placing.place(l.segment.from), placing.place(l.segment.to)};
    if (l.style == LineStyle::pinch) seen = seen_pinch(seen, least_pinch * placing.pixel);
    draw_line(page, placing, seen, l.style, detail == FigureDetail::small && l.style != LineStyle::fresh);
    if (l.style != LineStyle::pinch || pinches > most_pinches_with_ends || seen.length() <= 0) continue;
    const Point d = (seen.to - seen.from).normalized() * (3 * placing.pixel);
    for (const Point& end : {seen.from, seen.to})
      page.line(end - Point{-d.y(), d.x()}, end + Point{-d.y(), d.x()}, look_of(l.style).colour, 1.2 * placing.pixel);
  }
}

void draw_flap(Page& page, const Figure& figure, const FigurePlacing& placing) {
  if (figure.flap.empty()) return;
  PagePath flap = shape(placing, figure.flap, figure.underside_up ? placing.paper.face : placing.paper.underside);
  flap.stroke = paper_ink;
  flap.width_mm = placing.pixel;
  flap.dash_mm = {2 * placing.pixel, 2 * placing.pixel};
  flap.opacity = 0.6;
  page.items.emplace_back(std::move(flap));
}

namespace {

/// On a flat sheet an arrow bows upwards, clear of the hand.
Point arrow_control(const Figure& figure, const FigureArrow& arrow, const FigurePlacing& placing) {
  const Point from = placing.place(arrow.from);
  const Point to = placing.place(arrow.to);
  const Point control = placing.place(arrow.control);
  return figure.patches.empty() && control.y() > (from.y() + to.y()) / 2 ? Point(from + to - control) : control;
}

} // namespace

void draw_move(Page& page, const Figure& figure, const FigurePlacing& placing) {
  for (const Point& dot : figure.dots) {
    PagePath ring;
    for (int i = 0; i < 24; ++i) {
      const double angle = i * std::numbers::pi / 12;
      ring.points.push_back(placing.place(dot) + 4.5 * placing.pixel * Point{std::cos(angle), std::sin(angle)});
    }
    ring.closed = true;
    ring.fill = paper_dot;
    ring.stroke = paper_ink;
    ring.width_mm = 2 * placing.pixel;
    page.items.emplace_back(std::move(ring));
  }
  for (const FigureArrow& arrow : figure.arrows) {
    draw_arrow(page, placing,
               {placing.place(arrow.from), arrow_control(figure, arrow, placing), placing.place(arrow.to)}, true,
               arrow.way, 2.4);
  }
  draw_turn(page, figure, placing);
}

namespace {

constexpr double label_size = 15; // pixels
constexpr double dot_radius = 5.5;

/// A quadratic curve in pieces.
void add_curve(std::vector<Segment>& to, const Point& from, const Point& control, const Point& end) {
  constexpr int pieces = 12;
  Point last = from;
  for (int i = 1; i <= pieces; ++i) {
    const double t = static_cast<double>(i) / pieces;
    const Point next = (1 - t) * (1 - t) * from + 2 * t * (1 - t) * control + t * t * end;
    to.push_back({last, next});
    last = next;
  }
}

LabelObstacles obstacles_of(const Figure& figure, const FigureRoom& room, const FigurePlacing& placing) {
  LabelObstacles out;
  out.room = {room.at, room.at + room.size};
  out.dot_radius = dot_radius * placing.pixel;
  for (const Point& dot : figure.dots) out.dots.push_back(placing.place(dot));
  for (const FigureLine& l : figure.lines)
    out.lines.push_back({placing.place(l.segment.from), placing.place(l.segment.to)});
  const auto rim = [&](const Polygon& outline) {
    for (std::size_t i = 0; i < outline.size(); ++i)
      out.lines.push_back({placing.place(outline[i]), placing.place(outline[(i + 1) % outline.size()])});
  };
  if (figure.patches.empty()) rim(figure.outline);
  for (const FigurePatch& patch : figure.patches) rim(patch.outline);
  rim(figure.flap);
  for (const FigureArrow& arrow : figure.arrows)
    add_curve(out.arrows, placing.place(arrow.from), arrow_control(figure, arrow, placing), placing.place(arrow.to));
  return out;
}

/// Names and fractions, on slips of paper where lines pass below them.
void draw_labels(Page& page, const Figure& figure, const FigureRoom& room, const FigurePlacing& placing) {
  const double size = label_size * placing.pixel;
  const double letter = 0.62 * size;
  std::vector<PlacedLabel> labels;
  for (const Figure::Label& label : figure.labels) {
    if (label.centred) {
      page.text(placing.place(label.at) + Point{0, 3} * placing.pixel, label.text, 8 * placing.pixel, false,
                Align::centre);
      continue;
    }
    labels.push_back({placing.place(label.at),
                      {letter * static_cast<double>(label.text.size()) + 0.2 * size, size},
                      Point{0, label.at_point ? -1.0 : 1.0}});
  }
  if (labels.empty()) return;
  const auto places = label_places(labels, obstacles_of(figure, room, placing));
  std::size_t next = 0;
  for (const Figure::Label& label : figure.labels) {
    if (label.centred) continue;
    const Point& at = places[next];
    const Point half = 0.5 * labels[next++].size;
    PagePath slip;
    slip.points = {at - half, at + Point{half.x(), -half.y()}, at + half, at + Point{-half.x(), half.y()}};
    slip.closed = true;
    slip.fill = paper_slip;
    slip.opacity = 0.7;
    page.items.emplace_back(std::move(slip));
    page.text(at + Point{0, 0.36 * size}, label.text, size, label.name, Align::centre);
    if (label.name) std::get<PageText>(page.items.back()).css_class = "name";
  }
}

} // namespace

void draw_figure(Page& page, const Figure& figure, const FigureRoom& room, FigureDetail detail,
                 const PaperColours& paper, double pixel) {
  const Box box = figure.bounds();
  const Point whole = box.size().cwiseMax(1e-6);
  // Names may stand beside it, whether it has any or not: drawings of one sheet are alike.
  const double beside = detail == FigureDetail::full ? 1.3 * label_size * pixel : 0;
  const Point inner = (room.size - Point{2 * beside, 2 * beside}).cwiseMax(room.size / 2);
  const double scale = std::min(inner.x() / whole.x(), inner.y() / whole.y()) * 0.98;
  const Point centre = box.centre();
  const Point middle = room.at + room.size / 2;
  const FigurePlacing placing{
      [=](const Point& p) -> Point {
        return {middle.x() + (p.x() - centre.x()) * scale, middle.y() - (p.y() - centre.y()) * scale};
      },
      pixel, 0.2 * room.size.minCoeff(), paper};
  draw_paper(page, figure, placing);
  draw_flap(page, figure, placing);
  if (detail == FigureDetail::small) {
    Figure small = figure;
    small.dots.clear();
    small.arrows.clear();
    draw_creases(page, small, placing, detail);
    return draw_move(page, small, placing);
  }
  draw_creases(page, figure, placing, detail);
  draw_move(page, figure, placing);
  draw_labels(page, figure, room, placing);
}

} // namespace uc
