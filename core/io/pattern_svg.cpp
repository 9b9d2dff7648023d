#include "io/pattern_svg.h"

#include "base/clean_text.h"
#include "base/text.h"
#include "io/pattern_json.h"
#include "io/svg_writer.h"

#include <fmt/format.h>
#include <pugixml.hpp>

#include <algorithm>
#include <charconv>
#include <cmath>
#include <cstring>
#include <optional>
#include <string_view>

namespace uc {
namespace {

constexpr int deepest = 200;
constexpr std::size_t most_svg_lines = 2'000'000;

/// x' = a x + c y + e, y' = b x + d y + f.
struct Matrix {
  double a = 1, b = 0, c = 0, d = 1, e = 0, f = 0;
  Point operator*(const Point& p) const { return {a * p.x() + c * p.y() + e, b * p.x() + d * p.y() + f}; }
  Matrix operator*(const Matrix& m) const {
    return {a * m.a + c * m.b, b * m.a + d * m.b,     a * m.c + c * m.d,
            b * m.c + d * m.d, a * m.e + c * m.f + e, b * m.e + d * m.f + f};
  }
};

/// Numbers of an SVG list, one after the other.
class Numbers {
public:
  explicit Numbers(const char* text) : at_(text), end_(text + std::strlen(text)) {}
  bool next(double& value) {
    skip();
    const char* from = at_ < end_ && *at_ == '+' ? at_ + 1 : at_;
    const auto [stop, error] = std::from_chars(from, end_, value);
    if (error != std::errc() || stop == from || !std::isfinite(value)) return false;
    at_ = stop;
    return true;
  }
  /// A letter that stands next, or 0.
  char letter() {
    skip();
    return at_ < end_ && std::isalpha(static_cast<unsigned char>(*at_)) ? *at_++ : '\0';
  }
  bool done() {
    skip();
    return at_ == end_;
  }

private:
  void skip() {
    while (at_ < end_ && (std::isspace(static_cast<unsigned char>(*at_)) || *at_ == ',')) ++at_;
  }
  const char* at_;
  const char* end_;
};

struct Measure {
  double value = 0;
  std::string_view unit; // what follows the number
};
std::optional<Measure> measure(std::string_view text) {
  text = trimmed(text);
  if (text.starts_with('+')) text.remove_prefix(1);
  Measure m;
  const auto [stop, error] = std::from_chars(text.data(), text.data() + text.size(), m.value);
  if (error != std::errc() || !std::isfinite(m.value)) return std::nullopt;
  m.unit = trimmed(text.substr(static_cast<std::size_t>(stop - text.data())));
  return m;
}

/// mm of a unit as CSS counts them; none for what is no unit of length.
std::optional<double> mm_of(std::string_view unit) {
  static constexpr std::pair<std::string_view, double> units[] = {
      {"", 25.4 / 96}, {"px", 25.4 / 96}, {"mm", 1}, {"cm", 10}, {"in", 25.4}, {"pt", 25.4 / 72}, {"pc", 25.4 / 6}};
  for (const auto& [name, mm] : units) {
    if (unit == name) return mm;
  }
  return std::nullopt;
}

/// A coordinate in the drawing's own units; with a unit of length it is turned into them. All of the text counts.
std::optional<double> coordinate(const char* text) {
  const auto m = measure(text);
  const auto mm = m ? mm_of(m->unit) : std::nullopt;
  if (!mm) return std::nullopt;
  return m->unit.empty() ? m->value : m->value * *mm * 96 / 25.4;
}

/// The size of a page in mm; none when it is left open, as by a percentage or "auto".
Result<std::optional<double>> page_mm(const char* name, const char* text) {
  const std::string_view all = trimmed(text);
  if (all.empty() || all == "auto") return std::optional<double>{};
  const auto m = measure(all);
  if (m && m->unit == "%") return std::optional<double>{};
  const auto mm = m ? mm_of(m->unit) : std::nullopt;
  if (!mm)
    return Error{
        fmt::format("line 1: {} \"{}\" is not a length; write it as 210mm", name, clipped(shown_text(all), 60))};
  return std::optional<double>{m->value * *mm};
}

bool read_transform(const char* text, Matrix& out) {
  std::string rest = text;
  std::size_t at = 0;
  while (true) {
    at = rest.find_first_not_of(" ,\t\r\n", at);
    if (at == std::string::npos) return true;
    const auto open = rest.find('(', at);
    const auto close = rest.find(')', at);
    if (open == std::string::npos || close == std::string::npos || close < open) return false;
    std::string name = rest.substr(at, open - at);
    name.erase(name.find_last_not_of(' ') + 1);
    std::vector<double> v;
    const std::string inside = rest.substr(open + 1, close - open - 1);
    Numbers numbers(inside.c_str());
    for (double x = 0; v.size() < 7 && numbers.next(x);) v.push_back(x);
    if (!numbers.done()) return false;
    const auto n = v.size();
    constexpr double rad = 3.14159265358979323846 / 180;
    if (name == "matrix" && n == 6)
      out = out * Matrix{v[0], v[1], v[2], v[3], v[4], v[5]};
    else if (name == "translate" && (n == 1 || n == 2))
      out = out * Matrix{1, 0, 0, 1, v[0], n == 2 ? v[1] : 0};
    else if (name == "scale" && (n == 1 || n == 2))
      out = out * Matrix{v[0], 0, 0, n == 2 ? v[1] : v[0], 0, 0};
    else if (name == "rotate" && (n == 1 || n == 3)) {
      const Matrix turn{std::cos(v[0] * rad), std::sin(v[0] * rad), -std::sin(v[0] * rad), std::cos(v[0] * rad), 0, 0};
      if (n == 1)
        out = out * turn;
      else
        out = out * Matrix{1, 0, 0, 1, v[1], v[2]} * turn * Matrix{1, 0, 0, 1, -v[1], -v[2]};
    } else if (name == "skewX" && n == 1)
      out = out * Matrix{1, 0, std::tan(v[0] * rad), 1, 0, 0};
    else if (name == "skewY" && n == 1)
      out = out * Matrix{1, std::tan(v[0] * rad), 0, 1, 0, 0};
    else
      return false;
    at = close + 1;
  }
}

struct Look {
  std::vector<std::string> classes;
  std::string layer, colour, dash;
  std::string visibility, width, opacity; // of the line; a child may have its own
};

/// A property from the style attribute, else from the attribute of its name.
std::string property(const pugi::xml_node& node, const std::string& name) {
  const std::string style = node.attribute("style").value();
  for (std::size_t at = 0; at < style.size();) {
    const std::size_t end = std::min(style.find(';', at), style.size());
    const std::string part = style.substr(at, end - at);
    const std::size_t colon = part.find(':');
    if (colon != std::string::npos) {
      const auto trimmed = [](std::string s) {
        s.erase(0, s.find_first_not_of(" \t\r\n"));
        s.erase(s.find_last_not_of(" \t\r\n") + 1);
        return s;
      };
      if (trimmed(part.substr(0, colon)) == name) return trimmed(part.substr(colon + 1));
    }
    at = end + 1;
  }
  return node.attribute(name.c_str()).value();
}

class SvgReader {
public:
  SvgReader(const std::string& text, LineWork& out) : text_(text), out_(out) {}

  Status read(const pugi::xml_node& node, const Matrix& outer, const Look& inherited, int depth) {
    if (depth > deepest) return wrong(node, "groups lie more than 200 deep; ungroup some");
    Matrix matrix = outer;
    if (const auto t = node.attribute("transform"); t && !read_transform(t.value(), matrix))
      return wrong(node, "this transform cannot be read; apply it in the drawing program");
    Look look = inherited;
    const std::string name = local(node);
    if (const std::string c = node.attribute("class").value(); !c.empty()) {
      look.classes.clear();
      for (std::size_t at = 0; (at = c.find_first_not_of(" \t\r\n", at)) != std::string::npos;) {
        const std::size_t end = std::min(c.find_first_of(" \t\r\n", at), c.size());
        look.classes.push_back(c.substr(at, end - at));
        at = end;
      }
    }
    if (name == "g") {
      if (const auto id = node.attribute("id")) look.layer = id.value();
      for (const auto& a : node.attributes()) {
        if (std::string(a.name()).ends_with(":label")) look.layer = a.value();
      }
    }
    if (const std::string s = property(node, "stroke"); !s.empty()) look.colour = s;
    if (const std::string s = property(node, "stroke-dasharray"); !s.empty()) look.dash = s == "none" ? "solid" : s;
    if (const std::string s = property(node, "visibility"); !s.empty()) look.visibility = s;
    if (const std::string s = property(node, "stroke-width"); !s.empty()) look.width = s;
    if (const std::string s = property(node, "stroke-opacity"); !s.empty()) look.opacity = s;
    if (property(node, "display") == "none" || zero(property(node, "opacity"))) { // with all that is in it
      ++out_.left_out["invisible " + name];
      return Done{};
    }
    if (name == "svg" || name == "g" || name == "a" || name == "switch") {
      for (const auto& child : node.children()) {
        if (child.type() != pugi::node_element) continue;
        if (const auto ok = read(child, matrix, look, depth + 1); !ok) return ok;
      }
      return Done{};
    }
    const bool drawn = name == "line" || name == "polyline" || name == "polygon" || name == "path";
    if ((drawn || name == "rect") && unseen(look, drawn)) {
      ++out_.left_out["invisible " + name];
      return Done{};
    }
    if (name == "line") return line(node, matrix, look);
    if (name == "polyline" || name == "polygon") return points(node, matrix, look, name == "polygon");
    if (name == "rect") return rect(node, matrix, look);
    if (name == "path") return path(node, matrix, look);
    static const char* const silent[] = {"title", "desc", "metadata", "style", "defs", "namedview", "script"};
    if (std::none_of(std::begin(silent), std::end(silent), [&](const char* s) { return name == s; }))
      ++out_.left_out[name];
    return Done{};
  }

private:
  static bool zero(const std::string& text) {
    const auto m = measure(text);
    return m && m->value == 0;
  }
  /// Nothing of a line is seen: hidden, or of no colour, opacity or width. What is drawn by class alone may have its
  /// look elsewhere; a rectangle without colour is told as the ground it is.
  static bool unseen(const Look& look, bool by_colour) {
    const bool hidden = look.visibility == "hidden" || look.visibility == "collapse";
    return hidden || zero(look.width) || zero(look.opacity) || (by_colour && look.colour == "none");
  }
  static std::string local(const pugi::xml_node& node) {
    const std::string name = node.name();
    const auto colon = name.find(':');
    return colon == std::string::npos ? name : name.substr(colon + 1);
  }
  long line_of(const pugi::xml_node& node) {
    // Nodes come in the order of the text, so counting goes on from where it stood.
    const auto offset = static_cast<std::size_t>(std::max<std::ptrdiff_t>(0, node.offset_debug()));
    if (offset < counted_to_) {
      counted_to_ = 0;
      lines_ = 1;
    }
    lines_ += std::count(text_.begin() + static_cast<std::ptrdiff_t>(counted_to_),
                         text_.begin() + static_cast<std::ptrdiff_t>(std::min(offset, text_.size())), '\n');
    counted_to_ = std::min(offset, text_.size());
    return lines_;
  }
  Status wrong(const pugi::xml_node& node, const std::string& what) {
    return Error{fmt::format("line {}: {}", line_of(node), what)};
  }

  Status add(const pugi::xml_node& node, const Matrix& m, const Look& look, const Point& from, const Point& to) {
    const Segment s{m * from, m * to};
    const double most = std::max(s.from.cwiseAbs().maxCoeff(), s.to.cwiseAbs().maxCoeff());
    if (!(most < 1e9)) return wrong(node, "this line lies too far away; coordinates are at most 100 m");
    if (out_.lines.size() >= most_svg_lines) return wrong(node, "more than two million lines; split the drawing");
    out_.lines.push_back(
        {s, look.classes, look.layer, look.colour, look.dash.empty() ? "solid" : look.dash, line_of(node)});
    return Done{};
  }

  Status line(const pugi::xml_node& node, const Matrix& m, const Look& look) {
    double v[4] = {0, 0, 0, 0};
    const char* const names[] = {"x1", "y1", "x2", "y2"};
    for (int i = 0; i < 4; ++i) {
      const auto a = node.attribute(names[i]);
      if (!a) continue;
      const auto value = coordinate(a.value());
      if (!value)
        return wrong(node,
                     fmt::format("{} of this line is not a number: \"{}\"; write one, in the drawing's units or as "
                                 "12.5mm",
                                 names[i], clipped(shown_text(a.value()), 60)));
      v[i] = *value;
    }
    return add(node, m, look, {v[0], v[1]}, {v[2], v[3]});
  }

  Status points(const pugi::xml_node& node, const Matrix& m, const Look& look, bool close) {
    std::vector<Point> all;
    Numbers numbers(node.attribute("points").value());
    for (double x = 0, y = 0; !numbers.done();) {
      if (!numbers.next(x) || !numbers.next(y))
        return wrong(node, "the list of points is damaged; write pairs of numbers");
      all.emplace_back(x, y);
    }
    return chain(node, m, look, all, close);
  }

  Status rect(const pugi::xml_node& node, const Matrix& m, const Look& look) {
    double v[4] = {0, 0, 0, 0};
    const char* const names[] = {"x", "y", "width", "height"};
    for (int i = 0; i < 4; ++i) {
      const auto a = node.attribute(names[i]);
      if (!a) continue;
      if (trimmed(a.value()).ends_with('%')) return Done{}; // a background
      const auto value = coordinate(a.value());
      if (!value)
        return wrong(node, fmt::format("{} of this rectangle is not a number: \"{}\"; write one", names[i],
                                       clipped(shown_text(a.value()), 60)));
      v[i] = *value;
    }
    const Point p{v[0], v[1]};
    // A rectangle without a stroke is a coloured ground.
    if (look.colour.empty() || look.colour == "none") {
      ++out_.left_out["filled rect"];
      return Done{};
    }
    return chain(node, m, look, {p, p + Point{v[2], 0}, p + Point{v[2], v[3]}, p + Point{0, v[3]}}, true);
  }

  Status chain(const pugi::xml_node& node, const Matrix& m, const Look& look, const std::vector<Point>& all,
               bool close) {
    for (std::size_t i = 0; i + 1 < all.size(); ++i) {
      if (const auto ok = add(node, m, look, all[i], all[i + 1]); !ok) return ok;
    }
    if (close && all.size() > 2) return add(node, m, look, all.back(), all.front());
    return Done{};
  }

  Status path(const pugi::xml_node& node, const Matrix& m, const Look& look) {
    Numbers d(node.attribute("d").value());
    Point at = Point::Zero();
    Point start = Point::Zero();
    char command = '\0';
    while (!d.done()) {
      if (const char c = d.letter()) command = c;
      const bool relative = std::islower(static_cast<unsigned char>(command)) != 0;
      const Point base = relative ? at : Point{0, 0};
      Point to = at;
      bool good = true;
      bool drawn = true;
      double skip = 0;
      const auto pass = [&](int n) {
        for (int i = 0; i < n; ++i) good = good && d.next(skip);
      };
      switch (std::toupper(static_cast<unsigned char>(command))) {
      case 'M':
      case 'L':
        good = d.next(to.x()) && d.next(to.y());
        to += base;
        if (std::toupper(command) == 'M') {
          drawn = false;
          start = to;
          command = relative ? 'l' : 'L';
        }
        break;
      case 'H':
        good = d.next(to.x());
        to.x() += base.x();
        break;
      case 'V':
        good = d.next(to.y());
        to.y() += base.y();
        break;
      case 'Z':
        to = start;
        drawn = (at - start).norm() > 0;
        break;
      case 'C':
      case 'S':
      case 'Q':
      case 'T':
      case 'A':
        pass(std::toupper(command) == 'C'   ? 4
             : std::toupper(command) == 'A' ? 5
             : std::toupper(command) == 'T' ? 0
                                            : 2);
        good = good && d.next(to.x()) && d.next(to.y());
        to += base;
        drawn = false;
        ++out_.left_out["curve"];
        break;
      default:
        good = false;
      }
      if (!good) return wrong(node, "this path is damaged; draw it again with straight lines");
      if (drawn) {
        if (const auto ok = add(node, m, look, at, to); !ok) return ok;
      }
      at = to;
      if (std::toupper(command) == 'Z' && !d.done()) {
        const char next = d.letter();
        if (!next) return wrong(node, "this path is damaged; draw it again with straight lines");
        command = next;
        // The letter is used up here, so its numbers follow directly.
        if (std::toupper(command) == 'M') {
          const Point from = std::islower(static_cast<unsigned char>(command)) ? at : Point{0, 0};
          if (!d.next(to.x()) || !d.next(to.y()))
            return wrong(node, "this path is damaged; draw it again with straight lines");
          at = start = from + to;
          command = std::islower(static_cast<unsigned char>(command)) ? 'l' : 'L';
        }
      }
    }
    return Done{};
  }

  const std::string& text_;
  LineWork& out_;
  std::size_t counted_to_ = 0;
  long lines_ = 1;
};

} // namespace

std::string pattern_svg(const CreasePattern& pattern, const std::string& title) {
  const Box box = pattern.vertices.empty() ? Box{} : bounding_box(pattern.vertices);
  const Point size = box.size().cwiseMax(1e-3);
  SvgWriter svg({box.low.x(), -box.high.y()}, size);
  set(svg.root(), "data-format", std::string("under-crease/pattern"));
  svg.title(title);
  svg.line_styles();
  const auto down = [](const Point& p) { return Point{p.x(), -p.y()}; };
  for (std::size_t i = 0; i < pattern.edges.size(); ++i) {
    const Segment s = pattern.segment(CreaseId(i));
    svg.line(down(s.from), down(s.to), name_of(pattern.edges[i].kind).c_str());
  }
  return svg.document();
}

Result<LineWork> parse_svg_lines(const std::string& text) {
  pugi::xml_document doc;
  const auto parsed = doc.load_buffer(text.data(), text.size(), pugi::parse_default, pugi::encoding_utf8);
  if (!parsed) {
    const auto end = text.begin() + std::min<std::ptrdiff_t>(parsed.offset, static_cast<std::ptrdiff_t>(text.size()));
    return Error{fmt::format("line {}: this is not valid XML; save the drawing again as plain SVG",
                             1 + std::count(text.begin(), end, '\n'))};
  }
  const pugi::xml_node root = doc.document_element();
  if (!std::string(root.name()).ends_with("svg"))
    return Error{"line 1: this is not an SVG drawing; its first element must be svg"};
  LineWork out;
  SvgReader reader(text, out);
  const bool ours = std::string(root.attribute("data-format").value()) == "under-crease/pattern";
  double box[4] = {0, 0, 0, 0};
  bool has_box = false;
  if (const auto a = root.attribute("viewBox")) {
    Numbers n(a.value());
    has_box = n.next(box[0]) && n.next(box[1]) && n.next(box[2]) && n.next(box[3]) && n.done();
    if (!has_box) return Error{"line 1: viewBox must be four numbers; mend the page size"};
    has_box = box[2] > 0 && box[3] > 0;
  }
  const auto read_width = page_mm("width", root.attribute("width").value());
  if (!read_width) return Error{read_width.error()};
  const auto read_height = page_mm("height", root.attribute("height").value());
  if (!read_height) return Error{read_height.error()};
  const std::optional<double> width = *read_width;
  const std::optional<double> height = *read_height;
  double unit = 25.4 / 96;
  if (ours)
    unit = 1;
  else if (has_box && width && height)
    unit = std::min(*width / box[2], *height / box[3]);
  else if (has_box && width)
    unit = *width / box[2];
  if (!(unit > 1e-9 && unit < 1e9))
    return Error{"line 1: width, height and viewBox do not go together; mend the page size"};
  if (const auto ok = reader.read(root, {}, {}, 0); !ok) return Error{ok.error()};
  double bottom = 0;
  if (!ours) {
    bottom = has_box ? box[1] + box[3] : 0;
    if (!has_box && height) bottom = *height / unit;
  }
  for (DrawnLine& l : out.lines) {
    for (Point* p : {&l.segment.from, &l.segment.to}) {
      const Point mm = ours ? Point{p->x(), -p->y()} : Point{unit * (p->x() - box[0]), unit * (bottom - p->y())};
      *p = mm;
      if (!(p->cwiseAbs().maxCoeff() <= most_pattern_mm))
        return Error{fmt::format("line {}: this line lies too far away; coordinates are at most 100 m", l.line)};
    }
  }
  return out;
}

} // namespace uc
