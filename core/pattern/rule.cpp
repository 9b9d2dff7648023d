#include "pattern/rule.h"

#include "base/expression.h"
#include "base/quantity.h"
#include "pattern/relief_pleats.h"

#include <Eigen/LU>
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <sstream>

namespace uc {
namespace {

using RuleKind = PatternRule::Kind;
constexpr std::pair<const char*, RuleKind> rule_names[] = {
    {"crease", RuleKind::crease}, {"run", RuleKind::run},       {"line", RuleKind::line},
    {"ray", RuleKind::ray},       {"mirror", RuleKind::mirror}, {"turn", RuleKind::turn},
    {"copy", RuleKind::copy},     {"tile", RuleKind::tile},     {"reflect", RuleKind::reflect},
    {"relief", RuleKind::relief}, {"direct", RuleKind::direct}, {"remove", RuleKind::remove}};

/// Words one after the other, with the sentences for what is missing.
class Words {
public:
  explicit Words(const std::string& text) {
    std::istringstream in(text);
    for (std::string w; in >> w;) words_.push_back(w);
  }
  [[nodiscard]] bool done() const { return at_ == words_.size(); }
  [[nodiscard]] std::string peek() const { return done() ? std::string() : words_[at_]; }
  std::string take() { return done() ? std::string() : words_[at_++]; }
  bool take_if(const std::string& word) {
    if (peek() != word) return false;
    ++at_;
    return true;
  }
  bool point(Point& out) {
    const std::string word = peek();
    const auto comma = word.find(',');
    if (comma == std::string::npos) return false;
    const auto i = parse_number(word.substr(0, comma));
    const auto j = parse_number(word.substr(comma + 1));
    if (!i || !j || std::abs(*i) > 1e4 || std::abs(*j) > 1e4) return false;
    out = {*i, *j};
    ++at_;
    return true;
  }
  bool whole(int& out, int least, int greatest) {
    const auto n = parse_number(peek());
    if (!n || *n != std::floor(*n) || *n < least || *n > greatest) return false;
    out = static_cast<int>(*n);
    ++at_;
    return true;
  }

private:
  std::vector<std::string> words_;
  std::size_t at_ = 0;
};

std::string point_text(const Point& p) {
  return fmt::format("{},{}", format_number(p.x(), 6), format_number(p.y(), 6));
}

/// Each takes its part of the text; a text is what is missing.
std::string points(Words& w, PatternRule& r, std::size_t wanted, const char* example) {
  for (std::size_t i = 0; i < wanted; ++i) {
    Point p;
    if (!w.point(p)) return fmt::format("write grid points as i,j, for example \"{}\"", example);
    r.points.push_back(p);
  }
  return {};
}

std::string shape(Words& w, PatternRule& r) {
  switch (r.kind) {
  case RuleKind::crease:
    return points(w, r, 2, "crease 0,0 8,8 mountain");
  case RuleKind::run: {
    if (auto wrong = points(w, r, 1, "run 0,4 step 1,0 repeat 16 valley"); !wrong.empty()) return wrong;
    while (w.take_if("step")) {
      Point p;
      if (!w.point(p) || p.norm() == 0) return "write each step as i,j, not 0,0, for example \"step 1,0\"";
      r.points.push_back(p);
    }
    if (r.points.size() < 2) return "say how the run goes on, for example \"step 1,0\"";
    if (w.take_if("repeat") && !w.whole(r.repeat, 1, most_rule_repeats))
      return fmt::format("after repeat write a whole number from 1 to {}", most_rule_repeats);
    return {};
  }
  case RuleKind::line:
  case RuleKind::ray: {
    if (auto wrong = points(w, r, 1, "line 0,2 along 1,0 mountain"); !wrong.empty()) return wrong;
    Point d;
    if (!w.take_if("along") || !w.point(d) || d.norm() == 0) return "say which way it goes, for example \"along 1,0\"";
    r.points.push_back(d);
    return {};
  }
  case RuleKind::mirror: {
    if (auto wrong = points(w, r, 2, "mirror 8,0 8,16"); !wrong.empty()) return wrong;
    return r.points[0] == r.points[1] ? "the two points of a mirror line must differ" : "";
  }
  case RuleKind::turn:
    if (auto wrong = points(w, r, 1, "turn 8,8 into 4"); !wrong.empty()) return wrong;
    if (!w.take_if("into") || !w.whole(r.repeat, 2, 64)) return "say into how many copies, 2 to 64, as \"into 4\"";
    return {};
  case RuleKind::copy:
    if (auto wrong = points(w, r, 1, "copy 2,0 times 7"); !wrong.empty()) return wrong;
    if (!w.take_if("times") || !w.whole(r.repeat, 1, most_rule_repeats))
      return fmt::format("say how many copies, 1 to {}, as \"times 7\"", most_rule_repeats);
    return {};
  case RuleKind::tile: {
    if (auto wrong = points(w, r, 2, "tile 4,0 0,4"); !wrong.empty()) return wrong;
    const Point& a = r.points[0];
    const Point& b = r.points[1];
    return std::abs(a.x() * b.y() - a.y() * b.x()) < 1e-9 ? "the two steps of a tiling must go different ways" : "";
  }
  case RuleKind::reflect: {
    for (Point p; w.point(p);) r.points.push_back(p);
    return r.points.size() < 3 ? "write at least three corners of the outline, for example \"reflect 4,4 12,4 8,12\""
                               : "";
  }
  case RuleKind::relief: {
    for (Point p; w.point(p);) r.points.push_back(p);
    if (r.points.size() < 3) return "write three corners of the outline or more, as \"relief 16,8 8,16 4,12 12,4\"";
    if (w.take_if("nested") && !w.whole(r.repeat, 1, most_nested_outlines))
      return fmt::format("after nested write a whole number from 1 to {}", most_nested_outlines);
    if (w.take_if("step") && !w.whole(r.apart, 1, most_grid_count))
      return fmt::format("after step write a whole number from 1 to {}", most_grid_count);
    r.grid = w.take_if("grid");
    return {};
  }
  case RuleKind::direct:
  case RuleKind::remove:
    return points(w, r, 1, "remove 3,5");
  }
  return {};
}

bool has_edge(RuleKind k) {
  return k == RuleKind::crease || k == RuleKind::run || k == RuleKind::line || k == RuleKind::ray ||
         k == RuleKind::direct;
}
bool copies(RuleKind k) {
  return k == RuleKind::mirror || k == RuleKind::turn || k == RuleKind::copy || k == RuleKind::tile;
}
bool has_range(RuleKind k) { return copies(k) || k == RuleKind::reflect; }
bool can_alternate(RuleKind k) { return copies(k) || k == RuleKind::run || k == RuleKind::reflect; }

} // namespace

Point GridFrame::index(const Point& mm) const { return step.inverse() * (mm - origin); }

Point GridFrame::nearest(const Point& mm) const {
  const Point ij = index(mm);
  Point best = ij.array().round();
  // In a skewed grid the rounded point need not be the nearest.
  const Point base = ij.array().floor();
  for (int i = 0; i <= 1; ++i) {
    for (int j = 0; j <= 1; ++j) {
      const Point p = base + Point{i, j};
      if ((at(p) - mm).norm() < (at(best) - mm).norm() - 1e-12) best = p;
    }
  }
  return best;
}

GridFrame grid_frame(PatternGrid grid, int count, const Polygon& sheet) {
  const Box box = bounding_box(sheet);
  const double cell = box.size().x() / count;
  GridFrame f;
  f.origin = box.low;
  switch (grid) {
  case PatternGrid::square:
    f.step << cell, 0, 0, cell;
    break;
  case PatternGrid::diagonal:
    f.step << cell, -cell, cell, cell;
    break;
  case PatternGrid::equilateral:
    f.step << cell, cell / 2, 0, cell * std::sqrt(3.0) / 2;
    break;
  }
  return f;
}

std::vector<Segment> grid_lines(PatternGrid grid, int count, const Polygon& sheet) {
  const GridFrame f = grid_frame(grid, count, sheet);
  std::vector<Point> directions = {{1, 0}, {0, 1}};
  if (grid == PatternGrid::equilateral) directions.emplace_back(-1, 1);
  std::vector<Segment> out;
  for (const Point& d : directions) {
    const Line base = Line::through(f.at({0, 0}), f.at(d));
    // Neighbouring lines of a family are a whole step apart.
    const Point across = d.y() == 0 ? Point{0, 1} : Point{1, 0};
    const double apart = std::abs(base.normal.dot(f.step * across));
    const auto [low, high] = support(sheet, base.normal);
    const int first = static_cast<int>(std::ceil((low - base.c) / apart - 1e-9));
    const int last = static_cast<int>(std::floor((high - base.c) / apart + 1e-9));
    for (int k = first; k <= last; ++k) {
      for (const Segment& s : clip({base.normal, base.c + k * apart}, sheet)) out.push_back(s);
    }
  }
  return out;
}

Result<PatternRule> parse_rule(const std::string& text) {
  Words w(text);
  const std::string name = w.take();
  const auto* const found =
      std::find_if(std::begin(rule_names), std::end(rule_names), [&](const auto& n) { return name == n.first; });
  if (found == std::end(rule_names)) {
    std::string all;
    for (const auto& [n, k] : rule_names) all += std::string(all.empty() ? "" : ", ") + n;
    return Error{fmt::format("\"{}\" is not a rule; begin with one of {}.", name, all)};
  }
  PatternRule r;
  r.kind = found->second;
  if (const std::string wrong = shape(w, r); !wrong.empty()) return Error{fmt::format("{}: {}.", name, wrong)};
  while (!w.done()) {
    const std::string word = w.take();
    if (word == "alternating" && can_alternate(r.kind)) {
      r.alternating = true;
    } else if (word == "of" && has_range(r.kind)) {
      const std::string range = w.take();
      const auto dash = range.find('-');
      const auto a = parse_number(range.substr(0, dash));
      const auto b = dash == std::string::npos ? a : parse_number(range.substr(dash + 1));
      if (!a || !b || *a < 1 || *b < *a || *b > 1e6 || *a != std::floor(*a) || *b != std::floor(*b))
        return Error{fmt::format("{}: after of write the numbers of rules, as \"of 2\" or \"of 2-4\".", name)};
      r.first = static_cast<int>(*a);
      r.last = static_cast<int>(*b);
    } else if (const auto kind = named<EdgeKind>(word); kind && has_edge(r.kind) && *kind != EdgeKind::raw) {
      r.edge = kind;
    } else {
      return Error{
          fmt::format("{}: \"{}\" does not belong here; {}.", name, word,
                      has_edge(r.kind) ? "end with mountain, valley, undirected, unfolded or cut" : "take it out")};
    }
  }
  if (r.kind == RuleKind::direct && !r.edge) return Error{"direct: say the direction, as \"direct 3,5 valley\"."};
  return r;
}

std::string rule_text(const PatternRule& r) {
  std::string out;
  for (const auto& [n, k] : rule_names) {
    if (k == r.kind) out = n;
  }
  for (std::size_t i = 0; i < r.points.size(); ++i) {
    if (i > 0 && r.kind == RuleKind::run) out += " step";
    if (i > 0 && (r.kind == RuleKind::line || r.kind == RuleKind::ray)) out += " along";
    out += " " + point_text(r.points[i]);
  }
  if (r.kind == RuleKind::run) out += fmt::format(" repeat {}", r.repeat);
  if (r.kind == RuleKind::turn) out += fmt::format(" into {}", r.repeat);
  if (r.kind == RuleKind::copy) out += fmt::format(" times {}", r.repeat);
  if (r.kind == RuleKind::relief) {
    if (r.repeat > 1) out += fmt::format(" nested {} step {}", r.repeat, r.apart);
    if (r.grid) out += " grid";
  }
  if (r.edge) out += std::string(" ") + name_of(*r.edge);
  if (r.alternating) out += " alternating";
  if (r.first > 0)
    out += r.first == r.last ? fmt::format(" of {}", r.first) : fmt::format(" of {}-{}", r.first, r.last);
  return out;
}

} // namespace uc
