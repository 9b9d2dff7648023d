#include "io/pattern_dxf.h"

#include "base/clean_text.h"
#include "base/text.h"
#include "io/pattern_json.h"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <cmath>
#include <cstdlib>
#include <set>
#include <string_view>

namespace uc {
namespace {

constexpr std::size_t most_dxf_lines = 2'000'000;

struct LayerLook {
  EdgeKind kind;
  int colour; // of the format's numbered colours
  const char* linetype;
};
constexpr LayerLook layers[] = {{EdgeKind::raw, 7, "CONTINUOUS"},      {EdgeKind::mountain, 200, "UC_MOUNTAIN"},
                                {EdgeKind::valley, 104, "UC_VALLEY"},  {EdgeKind::undirected, 8, "CONTINUOUS"},
                                {EdgeKind::unfolded, 9, "CONTINUOUS"}, {EdgeKind::cut, 7, "UC_CUT"}};

std::string linetype(const char* name, const std::vector<double>& dashes) {
  double total = 0;
  for (const double d : dashes) total += std::abs(d);
  std::string out =
      fmt::format("  0\nLTYPE\n  2\n{}\n 70\n0\n  3\n\n 72\n65\n 73\n{}\n 40\n{}\n", name, dashes.size(), total);
  for (const double d : dashes) out += fmt::format(" 49\n{}\n", d);
  return out;
}

struct Group {
  int code = 0;
  std::string value;
  long line = 0; // of the value
};

class Groups {
public:
  explicit Groups(const std::string& text) : text_(text) {}
  /// False at the end; an error in `wrong`.
  bool next(Group& g) {
    std::string code;
    if (!row(code)) return false;
    const std::size_t from = code.find_first_not_of(" \t");
    const char* begin = code.data() + std::min(from, code.size());
    const auto [stop, error] = std::from_chars(begin, code.data() + code.size(), g.code);
    if (error != std::errc() || std::string(stop).find_first_not_of(" \t") != std::string::npos) {
      wrong =
          fmt::format("line {}: a group code, a whole number, must stand here; save the drawing again as DXF", line_);
      return false;
    }
    if (!row(g.value)) {
      wrong = fmt::format("line {}: the file ends in the middle; save the drawing again as DXF", line_);
      return false;
    }
    g.line = line_;
    return true;
  }
  std::string wrong;

private:
  bool row(std::string& out) {
    if (at_ >= text_.size()) return false;
    const std::size_t end = std::min(text_.find('\n', at_), text_.size());
    out.assign(text_, at_, end - at_);
    if (!out.empty() && out.back() == '\r') out.pop_back();
    at_ = end + 1;
    ++line_;
    return true;
  }
  const std::string& text_;
  std::size_t at_ = 0;
  long line_ = 0;
};

std::optional<double> number(const std::string& text) {
  const std::size_t from = std::min(text.find_first_not_of(" \t+"), text.size());
  double value = 0;
  const auto [stop, error] = std::from_chars(text.data() + from, text.data() + text.size(), value);
  const bool whole =
      std::string_view(stop, static_cast<std::size_t>(text.data() + text.size() - stop)).find_first_not_of(" \t") ==
      std::string_view::npos;
  if (error != std::errc() || !whole || !std::isfinite(value)) return std::nullopt;
  return value;
}

/// One entity while it is being read.
struct Entity {
  std::string type, layer, colour, linetype;
  long line = 0;
  Point first = Point::Zero();
  Point second = Point::Zero();
  std::vector<Point> points;
  std::vector<char> bulged; // per point: an arc follows
  int flags = 0;
  bool invisible = false;
};

class DxfReader {
public:
  explicit DxfReader(LineWork& out) : out_(out) {}

  std::string finish(const Entity& e) {
    if (e.type.empty()) return {};
    if (e.invisible || hidden_.contains(e.layer)) {
      ++out_.left_out["invisible " + e.type];
      return {};
    }
    if (e.type == "LINE") return add(e, e.first, e.second);
    if (e.type == "LWPOLYLINE" || e.type == "POLYLINE") {
      const std::size_t n = e.points.size();
      for (std::size_t i = 0; i + 1 < n + (e.flags & 1 ? 1 : 0) && n > 1; ++i) {
        if (e.bulged[i]) {
          ++out_.left_out["arc"];
          continue;
        }
        if (auto wrong = add(e, e.points[i], e.points[(i + 1) % n]); !wrong.empty()) return wrong;
      }
      return {};
    }
    ++out_.left_out[e.type];
    return {};
  }

  /// A layer that is off or frozen: what lies on it is not seen.
  void hide(const std::string& layer) { hidden_.insert(layer); }

private:
  std::string add(const Entity& e, const Point& a, const Point& b) {
    if (out_.lines.size() >= most_dxf_lines)
      return fmt::format("line {}: more than two million lines; split the drawing", e.line);
    DrawnLine l;
    l.segment = {a, b};
    l.layer = e.layer;
    l.colour = e.colour;
    l.dash = e.linetype.empty() ? "bylayer" : e.linetype;
    l.line = e.line;
    out_.lines.push_back(std::move(l));
    return {};
  }
  LineWork& out_;
  std::set<std::string> hidden_;
};

} // namespace

std::string pattern_dxf(const CreasePattern& pattern) {
  std::string out = "  0\nSECTION\n  2\nHEADER\n  9\n$ACADVER\n  1\nAC1009\n  9\n$INSUNITS\n 70\n4\n  0\nENDSEC\n"
                    "  0\nSECTION\n  2\nTABLES\n  0\nTABLE\n  2\nLTYPE\n 70\n4\n";
  out += linetype("CONTINUOUS", {}) + linetype("UC_MOUNTAIN", {5, -1.2, 0.6, -1.2, 0.6, -1.2}) +
         linetype("UC_VALLEY", {2.4, -1.4}) + linetype("UC_CUT", {3, -2});
  out += fmt::format("  0\nENDTAB\n  0\nTABLE\n  2\nLAYER\n 70\n{}\n", std::size(layers));
  for (const LayerLook& l : layers)
    out += fmt::format("  0\nLAYER\n  2\n{}\n 70\n0\n 62\n{}\n  6\n{}\n", name_of(l.kind), l.colour, l.linetype);
  out += "  0\nENDTAB\n  0\nENDSEC\n  0\nSECTION\n  2\nENTITIES\n";
  for (std::size_t i = 0; i < pattern.edges.size(); ++i) {
    const Segment s = pattern.segment(CreaseId(i));
    out += fmt::format("  0\nLINE\n  8\n{}\n 10\n{}\n 20\n{}\n 30\n0\n 11\n{}\n 21\n{}\n 31\n0\n",
                       name_of(pattern.edges[i].kind), s.from.x(), s.from.y(), s.to.x(), s.to.y());
  }
  return out + "  0\nENDSEC\n  0\nEOF\n";
}

Result<LineWork> parse_dxf_lines(const std::string& text) {
  if (text.starts_with("AutoCAD Binary DXF"))
    return Error{"line 1: this is a binary DXF; save the drawing as ASCII DXF"};
  LineWork out;
  DxfReader reader(out);
  Groups groups(text);
  Group g;
  std::string section;
  std::string variable;
  Entity e;
  bool in_polyline = false; // between POLYLINE and SEQEND, where vertices are entities of their own
  bool ended = false;
  bool any_section = false;
  bool in_layer = false;
  std::string layer;
  double unit = 1;
  while (!ended && groups.next(g)) {
    if (g.code == 0) {
      const std::string type = std::string(trimmed(g.value));
      if (in_polyline && type == "VERTEX") {
        e.points.emplace_back(0, 0);
        e.bulged.push_back(0);
        continue;
      }
      in_polyline = false;
      if (auto wrong = reader.finish(e); !wrong.empty()) return Error{wrong};
      e = {};
      if (type == "EOF") {
        ended = true;
      } else if (type == "SECTION") {
        section = "?";
      } else if (type == "ENDSEC") {
        section.clear();
      } else if (section == "TABLES") {
        in_layer = type == "LAYER";
        layer.clear();
      } else if (section == "ENTITIES" && type != "SEQEND") {
        e.type = type;
        e.line = g.line;
        in_polyline = type == "POLYLINE";
      }
      continue;
    }
    if (section == "?" && g.code == 2) {
      section = std::string(trimmed(g.value));
      any_section = true;
      continue;
    }
    if (section == "HEADER") {
      if (g.code == 9) variable = std::string(trimmed(g.value));
      if (variable == "$INSUNITS" && g.code == 70) {
        const auto n = number(g.value);
        static constexpr std::pair<int, double> units[] = {{1, 25.4}, {2, 304.8}, {4, 1},
                                                           {5, 10},   {6, 1000},  {14, 100}};
        for (const auto& [code, mm] : units) {
          if (n && *n == code) unit = mm;
        }
      }
      continue;
    }
    if (section == "TABLES" && in_layer) {
      if (g.code == 2) layer = std::string(trimmed(g.value));
      const double n = g.code == 62 || g.code == 70 ? number(g.value).value_or(0) : 0;
      const bool off = g.code == 62 && n < 0;
      const bool frozen = g.code == 70 && (static_cast<int>(std::clamp(n, 0.0, 1e6)) & 1) != 0;
      if ((off || frozen) && !layer.empty()) reader.hide(layer);
      continue;
    }
    if (e.type.empty()) continue;
    const auto coordinate = [&](double& where) {
      const auto n = number(g.value);
      if (!n) return false;
      where = *n;
      return true;
    };
    bool good = true;
    switch (g.code) {
    case 8:
      if (e.points.empty() || !in_polyline) e.layer = std::string(trimmed(g.value));
      break;
    case 6:
      e.linetype = std::string(trimmed(g.value));
      break;
    case 62:
      if (e.points.empty() || !in_polyline) e.colour = std::string(trimmed(g.value));
      break;
    case 10:
      if (e.type == "LWPOLYLINE") {
        e.points.emplace_back(0, 0);
        e.bulged.push_back(0);
      }
      good = e.points.empty() ? coordinate(e.first.x()) : coordinate(e.points.back().x());
      break;
    case 20:
      good = e.points.empty() ? coordinate(e.first.y()) : coordinate(e.points.back().y());
      break;
    case 11:
      good = e.type != "LINE" || coordinate(e.second.x());
      break;
    case 21:
      good = e.type != "LINE" || coordinate(e.second.y());
      break;
    case 42:
      if (!e.points.empty()) e.bulged.back() = std::abs(number(g.value).value_or(0)) > 1e-12;
      break;
    case 60:
      e.invisible = number(g.value).value_or(0) == 1;
      break;
    case 70:
      if (e.points.empty() || e.type == "LWPOLYLINE")
        e.flags = static_cast<int>(std::clamp(number(g.value).value_or(0), 0.0, 1e6));
      break;
    default:
      break;
    }
    if (!good)
      return Error{fmt::format("line {}: a coordinate must stand here, not \"{}\"; save the drawing again as DXF",
                               g.line, clipped(shown_text(g.value), 60))};
  }
  if (!groups.wrong.empty()) return Error{groups.wrong};
  if (!any_section) return Error{"line 1: this is not a DXF drawing; it has no sections"};
  if (auto wrong = reader.finish(e); !wrong.empty()) return Error{wrong};
  for (DrawnLine& l : out.lines) {
    if (unit != 1) l.segment = {unit * l.segment.from, unit * l.segment.to};
    if (!(std::max(l.segment.from.cwiseAbs().maxCoeff(), l.segment.to.cwiseAbs().maxCoeff()) <= most_pattern_mm))
      return Error{fmt::format("line {}: this line lies too far away; coordinates are at most 100 m", l.line)};
  }
  return out;
}

} // namespace uc
