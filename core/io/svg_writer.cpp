#include "io/svg_writer.h"

#include "base/clean_text.h"
#include "base/quantity.h"
#include "programme/line_look.h"

#include <fmt/format.h>

#include <sstream>

namespace uc {
namespace {

std::string number(double value, int digits) {
  return digits < 0 ? fmt::format("{}", value) : format_number(value, digits);
}

} // namespace

void set(pugi::xml_node node, const char* attribute, const std::string& value) {
  node.append_attribute(attribute).set_value(shown_text(value, true).c_str());
}

void set(pugi::xml_node node, const char* attribute, double value, int digits) {
  node.append_attribute(attribute).set_value(number(value, digits).c_str());
}

SvgWriter::SvgWriter(const Point& low, const Point& size_mm) {
  svg_ = doc_.append_child("svg");
  set(svg_, "xmlns", std::string("http://www.w3.org/2000/svg"));
  set(svg_, "width", number(size_mm.x(), -1) + "mm");
  set(svg_, "height", number(size_mm.y(), -1) + "mm");
  set(svg_, "viewBox",
      fmt::format("{} {} {} {}", number(low.x(), -1), number(low.y(), -1), number(size_mm.x(), -1),
                  number(size_mm.y(), -1)));
}

void SvgWriter::title(const std::string& words) { add("title").text().set(shown_text(words, true).c_str()); }

void SvgWriter::line_styles() {
  std::string css = "line{fill:none}";
  for (const LineStyle style : {LineStyle::raw_edge, LineStyle::mountain, LineStyle::valley, LineStyle::undirected,
                                LineStyle::unfolded, LineStyle::cut}) {
    const LineLook& look = look_of(style);
    const double width = look.width * page_mm_per_pixel;
    css += fmt::format(".{}{{stroke:{};stroke-width:{}", look.kind, look.colour, format_number(width, 3));
    for (std::size_t i = 0; i < look.dash.size(); ++i)
      css += (i == 0 ? ";stroke-dasharray:" : " ") + format_number(look.dash[i] * width, 3);
    css += "}";
  }
  add("style").text().set(css.c_str());
}

pugi::xml_node SvgWriter::line(const Point& from, const Point& to, const char* kind, int digits) {
  pugi::xml_node line = add("line");
  set(line, "x1", from.x(), digits);
  set(line, "y1", from.y(), digits);
  set(line, "x2", to.x(), digits);
  set(line, "y2", to.y(), digits);
  line.append_attribute("class").set_value(kind);
  return line;
}

std::string SvgWriter::document() const {
  std::ostringstream out;
  doc_.save(out, "", pugi::format_indent, pugi::encoding_utf8);
  std::string text = out.str();
  const std::string head = "<?xml version=\"1.0\"?>";
  if (text.starts_with(head)) text.replace(0, head.size(), R"(<?xml version="1.0" encoding="UTF-8"?>)");
  return text;
}

std::string SvgWriter::element() const {
  std::ostringstream out;
  doc_.save(out, "", pugi::format_raw | pugi::format_no_declaration, pugi::encoding_utf8);
  return out.str();
}

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

} // namespace uc
