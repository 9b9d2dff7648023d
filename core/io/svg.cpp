#include "io/svg.h"

#include "base/clean_text.h"
#include "base/quantity.h"
#include "io/svg_writer.h"
#include "programme/line_look.h"

#include <fmt/format.h>

namespace uc {
namespace {

constexpr int page_digits = 4;

std::string num(double v) { return format_number(v, page_digits); }

std::string path_data(const PagePath& path) {
  std::string d;
  if (path.curve && path.points.size() == 3) {
    return fmt::format("M{} {}Q{} {} {} {}", num(path.points[0].x()), num(path.points[0].y()), num(path.points[1].x()),
                       num(path.points[1].y()), num(path.points[2].x()), num(path.points[2].y()));
  }
  for (std::size_t i = 0; i < path.points.size(); ++i) {
    d += fmt::format("{}{} {}", i == 0 ? "M" : "L", num(path.points[i].x()), num(path.points[i].y()));
  }
  return path.closed ? d + "Z" : d;
}

void write(SvgWriter& svg, const PagePath& path) {
  pugi::xml_node node = svg.add("path");
  set(node, "d", path_data(path));
  set(node, "fill", path.fill.empty() ? "none" : path.fill);
  set(node, "stroke", path.stroke.empty() ? "none" : path.stroke);
  set(node, "stroke-width", path.width_mm, page_digits);
  std::string dash;
  for (const double d : path.dash_mm) dash += (dash.empty() ? "" : " ") + num(d);
  if (!dash.empty()) set(node, "stroke-dasharray", dash);
  if (path.opacity < 1) set(node, "opacity", path.opacity, page_digits);
  if (!path.css_class.empty()) set(node, "class", path.css_class);
}

void write(SvgWriter& svg, const PageText& text) {
  pugi::xml_node node = svg.add("text");
  set(node, "x", text.at.x(), page_digits);
  set(node, "y", text.at.y(), page_digits);
  set(node, "font-size", text.size_mm, page_digits);
  set(node, "fill", text.colour);
  if (!text.css_class.empty()) set(node, "class", text.css_class);
  if (text.bold) set(node, "font-weight", std::string("600"));
  if (text.align != Align::left) set(node, "text-anchor", text.align == Align::centre ? "middle" : "end");
  node.text().set(shown_text(text.text, true).c_str());
}

} // namespace

std::string grid_svg(const Programme& programme, const std::string& title) {
  const Box box = bounding_box(programme.sheet);
  SvgWriter svg({0, 0}, box.size());
  svg.title(title);
  svg.line_styles();
  const auto place = [&](const Point& p) { return Point{p.x() - box.low.x(), box.high.y() - p.y()}; };
  for (std::size_t i = 0; i < programme.sheet.size(); ++i) {
    svg.line(place(programme.sheet[i]), place(programme.sheet[(i + 1) % programme.sheet.size()]), "raw", page_digits);
  }
  for (const FigureLine& l : crease_figure(programme).lines)
    svg.line(place(l.segment.from), place(l.segment.to), look_of(l.style).kind, page_digits);
  return svg.document();
}

std::string page_svg(const Page& page) {
  SvgWriter svg({0, 0}, {page.width_mm, page.height_mm});
  set(svg.root(), "role", std::string("img"));
  set(svg.root(), "font-family", std::string("Inter, sans-serif"));
  for (const auto& item : page.items) {
    std::visit([&](const auto& drawn) { write(svg, drawn); }, item);
  }
  return svg.element();
}

} // namespace uc
