#include "io/figure_drawing.h"

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
    const Point from = placing.place(arrow.from);
    const Point to = placing.place(arrow.to);
    Point control = placing.place(arrow.control);
    // On a flat sheet it bows upwards, clear of the hand.
    if (figure.patches.empty() && control.y() > (from.y() + to.y()) / 2) control = from + to - control;
    draw_arrow(page, placing, {from, control, to}, true, arrow.way, 2.4);
  }
  draw_turn(page, figure, placing);
}

void draw_figure(Page& page, const Figure& figure, const FigureRoom& room, FigureDetail detail,
                 const PaperColours& paper, double pixel) {
  const Box box = figure.bounds();
  const Point whole = box.size().cwiseMax(1e-6);
  const double scale = std::min(room.size.x() / whole.x(), room.size.y() / whole.y()) * 0.96;
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
  for (const Figure::Label& label : figure.labels)
    page.text(placing.place(label.at) + (label.centred    ? Point{0, 3}
                                         : label.at_point ? Point{0, -8}
                                                          : Point{0, 15}) *
                                            pixel,
              label.text, (label.centred ? 8 : 12) * pixel, false, Align::centre);
  draw_move(page, figure, placing);
}

} // namespace uc
