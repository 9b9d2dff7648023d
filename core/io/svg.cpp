#include "io/svg.h"

#include "base/clean_text.h"
#include "base/quantity.h"

#include <fmt/format.h>

namespace uc {
namespace {

std::string num(double v) { return format_number(v, 4); }

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

} // namespace

std::string xml_escaped(const std::string& text) {
  std::string out;
  for (const char c : shown_text(text, true)) {
    switch (c) {
    case '&':
      out += "&amp;";
      break;
    case '<':
      out += "&lt;";
      break;
    case '>':
      out += "&gt;";
      break;
    case '"':
      out += "&quot;";
      break;
    default:
      out += c;
    }
  }
  return out;
}

std::string grid_svg(const Programme& programme, const std::string& title) {
  const Box box = bounding_box(programme.sheet);
  const double w = box.size().x();
  const double h = box.size().y();
  const auto x = [&](const Point& p) { return num(p.x() - box.low.x()); };
  const auto y = [&](const Point& p) { return num(box.high.y() - p.y()); };
  std::string svg = fmt::format(
      "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n"
      "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"{0}mm\" height=\"{1}mm\" viewBox=\"0 0 {0} {1}\">\n"
      "<title>{2}</title>\n"
      "<style>line{{fill:none;stroke-width:.25}}.raw{{stroke:#26241F;stroke-width:.5}}"
      ".mountain{{stroke:#7B3F91;stroke-dasharray:5 1.2 .6 1.2 .6 1.2}}.valley{{stroke:#14735F;stroke-dasharray:2.4 "
      "1.4}}"
      ".undirected{{stroke:#7D786C}}.unfolded{{stroke:#CFC8B8}}.cut{{stroke:#26241F;stroke-dasharray:3 2}}</style>\n",
      num(w), num(h), xml_escaped(title));
  const auto line = [&](const Segment& s, const char* kind) {
    svg += fmt::format("<line class=\"{}\" x1=\"{}\" y1=\"{}\" x2=\"{}\" y2=\"{}\"/>\n", kind, x(s.from), y(s.from),
                       x(s.to), y(s.to));
  };
  for (std::size_t i = 0; i < programme.sheet.size(); ++i) {
    line({programme.sheet[i], programme.sheet[(i + 1) % programme.sheet.size()]}, "raw");
  }
  for (const FigureLine& l : crease_figure(programme).lines) {
    const char* kind = l.style == LineStyle::cut        ? "cut"
                       : l.style == LineStyle::mountain ? "mountain"
                       : l.style == LineStyle::valley   ? "valley"
                       : l.style == LineStyle::pinch    ? "unfolded"
                                                        : "undirected";
    line(l.segment, kind);
  }
  return svg + "</svg>\n";
}

std::string page_svg(const Page& page) {
  std::string svg = fmt::format("<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"{0}mm\" height=\"{1}mm\" "
                                "viewBox=\"0 0 {0} {1}\" role=\"img\">\n",
                                num(page.width_mm), num(page.height_mm));
  for (const auto& item : page.items) {
    if (const auto* path = std::get_if<PagePath>(&item)) {
      std::string dash;
      for (const double d : path->dash_mm) dash += (dash.empty() ? "" : " ") + num(d);
      svg += fmt::format("<path d=\"{}\" fill=\"{}\" stroke=\"{}\" stroke-width=\"{}\"{}{}/>\n", path_data(*path),
                         path->fill.empty() ? "none" : path->fill, path->stroke.empty() ? "none" : path->stroke,
                         num(path->width_mm), dash.empty() ? "" : fmt::format(" stroke-dasharray=\"{}\"", dash),
                         path->opacity < 1 ? fmt::format(" opacity=\"{}\"", num(path->opacity)) : "");
    } else if (const auto* text = std::get_if<PageText>(&item)) {
      svg += fmt::format("<text x=\"{}\" y=\"{}\" font-size=\"{}\" fill=\"{}\"{}{}>{}</text>\n", num(text->at.x()),
                         num(text->at.y()), num(text->size_mm), text->colour, text->bold ? " font-weight=\"600\"" : "",
                         text->align == Align::centre  ? " text-anchor=\"middle\""
                         : text->align == Align::right ? " text-anchor=\"end\""
                                                       : "",
                         xml_escaped(text->text));
    }
  }
  return svg + "</svg>";
}

} // namespace uc
