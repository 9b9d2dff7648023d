#include "io/plotter_file.h"

#include "base/clean_text.h"
#include "io/formats.h"
#include "io/svg_writer.h"

#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <cmath>
#include <numbers>
#include <optional>

namespace uc {
namespace {

constexpr double hpgl_units = 40; // a mm
constexpr double clear_mm = 5;    // over the sheet when lifted
constexpr double drop_mm_s = 10;
constexpr double farthest_place_mm = 100'000;

std::string hpgl_bytes(const ScorePlan& plan, const ScoreSettings& settings) {
  const auto at = [](const Point& p) {
    return fmt::format("{},{}", std::lround(hpgl_units * p.x()), std::lround(hpgl_units * p.y()));
  };
  std::string out = "IN;\n";
  for (std::size_t i = 0; i < plan.passes.size(); ++i) {
    if (i > 0 || plan.passes[i].side == ScoredSide::underside) out += "NR;\n";
    out += fmt::format("SP{};\nVS{:g};\nFS{:g};\n", plan.passes[i].side == ScoredSide::face ? 1 : 2,
                       settings.feed_mm_s / 10, settings.pressure_g);
    for (const Segment& s : plan.passes[i].strokes) out += fmt::format("PU{};\nPD{};\n", at(s.from), at(s.to));
    out += "PU0,0;\nSP0;\n";
  }
  return out;
}

std::string gcode_bytes(const ScorePlan& plan, const ScoreSettings& settings, const std::string& title) {
  std::string shown = shown_text(title);
  std::replace_if(
      shown.begin(), shown.end(), [](char c) { return c == '(' || c == ')' || c == '\n'; }, '_');
  const auto at = [](const Point& p) { return fmt::format("X{:.3f} Y{:.3f}", p.x() + 0.0, p.y() + 0.0); };
  std::string out =
      fmt::format("({})\n(set the pressure to {:g} g)\nG21\nG90\nG0 Z{:g}\n", shown, settings.pressure_g, clear_mm);
  for (std::size_t i = 0; i < plan.passes.size(); ++i) {
    const bool face = plan.passes[i].side == ScoredSide::face;
    if (i > 0 || !face) out += "M0 (turn the sheet over, left to right)\n";
    out += face ? "(face up)\n" : "(underside up)\n";
    for (const Segment& s : plan.passes[i].strokes)
      out += fmt::format("G0 {}\nG1 Z0 F{:g}\nG1 {} F{:g}\nG0 Z{:g}\n", at(s.from), 60 * drop_mm_s, at(s.to),
                         60 * settings.feed_mm_s, clear_mm);
    out += "G0 X0 Y0\n";
  }
  return out + "M2\n";
}

/// The machine: where its tool is, whether it is down, which side is up.
class Machine {
public:
  explicit Machine(PlotterTrace& trace) : trace_(trace) {}

  Status go(const Point& to, int line) {
    if (!(to.cwiseAbs().maxCoeff() <= farthest_place_mm))
      return Error{fmt::format("line {}: this place lies more than 100 m away; mend its coordinates", line)};
    const double length = (to - at_).norm();
    if (length > 1e-6) { // less is rounding, as at the end of an arc
      if (trace_.strokes.size() + trace_.lifted.size() >= most_traced_strokes)
        return Error{
            fmt::format("line {}: there are more than {} strokes; follow a smaller file", line, most_traced_strokes)};
      if (down_) {
        trace_.strokes.push_back({{at_, to}, side_, line});
        trace_.scored_mm += length;
        seconds_ += length / feed_;
      } else {
        trace_.lifted.push_back({at_, to});
        trace_.travel_mm += length;
        seconds_ += length / lifted_mm_s;
      }
    }
    at_ = to;
    return Done{};
  }
  void lower(bool down) {
    if (down != down_) seconds_ += lift_seconds;
    down_ = down;
  }
  void turn_over() {
    side_ = side_ == ScoredSide::face ? ScoredSide::underside : ScoredSide::face;
    seconds_ += turn_over_seconds;
  }
  void feed(double mm_s) {
    if (mm_s > 0 && std::isfinite(mm_s)) feed_ = mm_s;
  }
  void pass_over(const std::string& what, int line) {
    if (trace_.unknown.size() < most_unknown)
      trace_.unknown.push_back(fmt::format("line {}: {}", line, shown_text(what)));
  }
  /// Counter-clockwise by `degrees` about a centre, in straight pieces of five degrees.
  Status arc(const Point& centre, double degrees, int line) {
    if (!(std::abs(degrees) <= 3600)) return Error{fmt::format("line {}: this arc has no angle; mend it", line)};
    const Point from = at_;
    const int pieces = std::max(1, static_cast<int>(std::ceil(std::abs(degrees) / 5)));
    for (int i = 1; i <= pieces; ++i) {
      const double radians = degrees / 180 * std::numbers::pi * i / pieces;
      if (const auto ok = go(centre + Isometry::rotation_about(Point::Zero(), radians) * Point(from - centre), line);
          !ok)
        return ok;
    }
    return Done{};
  }
  [[nodiscard]] const Point& at() const { return at_; }
  [[nodiscard]] bool is_down() const { return down_; }
  void end() { trace_.minutes = seconds_ / 60; }

private:
  PlotterTrace& trace_;
  Point at_ = Point::Zero();
  bool down_ = false;
  ScoredSide side_ = ScoredSide::face;
  double feed_ = ScoreSettings{}.feed_mm_s;
  double seconds_ = 0;
};

/// A number at `at`, which is moved on; nothing where there is none.
std::optional<double> number(const std::string& text, std::size_t& at) {
  if (at < text.size() && text[at] == '+') ++at;
  double value = 0;
  const auto [end, error] =
      std::from_chars(text.data() + at, text.data() + text.size(), value, std::chars_format::fixed);
  if (error != std::errc{}) return std::nullopt;
  at = static_cast<std::size_t>(end - text.data());
  return value;
}

/// HPGL: two letters, then numbers, up to a semicolon or the next letters.
class Hpgl {
public:
  Hpgl(const std::string& text, PlotterTrace& trace) : text_(text), machine_(trace) {}

  Status follow() {
    while (skip_to_letter()) {
      const int line = line_;
      std::string name(1, static_cast<char>(std::toupper(text_[at_++])));
      if (at_ < text_.size() && std::isalpha(static_cast<unsigned char>(text_[at_])))
        name += static_cast<char>(std::toupper(text_[at_++]));
      if (const auto ok = command(name, line); !ok) return ok;
    }
    machine_.end();
    return Done{};
  }

private:
  bool skip_to_letter() {
    for (; at_ < text_.size(); ++at_) {
      if (text_[at_] == '\n') ++line_;
      if (std::isalpha(static_cast<unsigned char>(text_[at_]))) return true;
    }
    return false;
  }

  std::vector<double> numbers() {
    std::vector<double> all;
    for (; at_ < text_.size() && text_[at_] != ';';) {
      const char c = text_[at_];
      if (std::isalpha(static_cast<unsigned char>(c))) break;
      if (const auto value = number(text_, at_)) {
        all.push_back(*value);
      } else {
        if (c == '\n') ++line_;
        ++at_;
      }
    }
    return all;
  }

  Status through(const std::vector<double>& values, int line) {
    if (values.size() % 2 != 0)
      return Error{
          fmt::format("line {}: places are pairs of numbers, and here are {}; mend the file", line, values.size())};
    for (std::size_t i = 0; i < values.size(); i += 2) {
      const Point p = Point{values[i], values[i + 1]} / hpgl_units;
      if (const auto ok = machine_.go(relative_ ? Point(machine_.at() + p) : p, line); !ok) return ok;
    }
    return Done{};
  }

  Status command(const std::string& name, int line) {
    if (name == "LB") { // a label goes on to the end-of-text character
      machine_.pass_over(name, line);
      for (; at_ < text_.size() && text_[at_] != '\x03'; ++at_) line_ += text_[at_] == '\n';
      return Done{};
    }
    const std::vector<double> values = numbers();
    if (name == "PU" || name == "PD") {
      machine_.lower(name == "PD");
      return through(values, line);
    }
    if (name == "PA" || name == "PR") {
      relative_ = name == "PR";
      return through(values, line);
    }
    if (name == "AA" || name == "AR") {
      if (values.size() < 3)
        return Error{fmt::format("line {}: {} needs a centre and an angle; mend the file", line, name)};
      const Point p = Point{values[0], values[1]} / hpgl_units;
      return machine_.arc(name == "AR" ? Point(machine_.at() + p) : p, values[2], line);
    }
    if (name == "CI") {
      if (values.empty()) return Error{fmt::format("line {}: CI needs a radius; mend the file", line)};
      const Point centre = machine_.at();
      machine_.lower(false);
      if (const auto ok = machine_.go(centre + Point{values[0] / hpgl_units, 0}, line); !ok) return ok;
      machine_.lower(true);
      if (const auto ok = machine_.arc(centre, 360, line); !ok) return ok;
      machine_.lower(false);
      return machine_.go(centre, line);
    }
    if (name == "VS") {
      if (!values.empty()) machine_.feed(10 * values[0]);
    } else if (name == "NR") {
      machine_.lower(false);
      machine_.turn_over();
    } else if (name == "IN" || name == "DF") {
      machine_.lower(false);
      relative_ = false;
    } else if (name == "SP") {
      machine_.lower(false);
    } else if (name != "FS" && name != "LT" && name != "PT") {
      machine_.pass_over(name, line);
    }
    return Done{};
  }

  const std::string& text_;
  Machine machine_;
  std::size_t at_ = 0;
  int line_ = 1;
  bool relative_ = false;
};

/// G-code: letters with numbers, line by line; the mode of movement stays until another is named.
class Gcode {
public:
  Gcode(const std::string& text, PlotterTrace& trace) : text_(text), machine_(trace) {}

  Status follow() {
    for (std::size_t begin = 0; begin < text_.size() && !ended_;) {
      const std::size_t end = std::min(text_.find('\n', begin), text_.size());
      ++line_;
      if (const auto ok = block(text_.substr(begin, end - begin)); !ok) return ok;
      begin = end + 1;
    }
    machine_.end();
    return Done{};
  }

private:
  struct Word {
    char letter;
    double value;
  };

  Status words_of(const std::string& line, std::vector<Word>& words) const {
    for (std::size_t i = 0; i < line.size();) {
      const char c = static_cast<char>(std::toupper(line[i]));
      if (c == ';' || c == '%') break;
      if (c == '(') {
        i = std::min(line.find(')', i), line.size() - 1) + 1;
      } else if (std::isspace(static_cast<unsigned char>(c)) || c == '/') {
        ++i;
      } else if (std::isalpha(static_cast<unsigned char>(c))) {
        ++i;
        while (i < line.size() && line[i] == ' ') ++i;
        const auto value = number(line, i);
        if (!value) return Error{fmt::format("line {}: {} has no number behind it; mend the file", line_, c)};
        words.push_back({c, *value});
      } else {
        return Error{
            fmt::format("line {}: {} means nothing here; mend the file", line_, shown_text(std::string(1, c)))};
      }
    }
    return Done{};
  }

  Status block(const std::string& text) {
    std::vector<Word> words;
    if (const auto ok = words_of(text, words); !ok) return ok;
    std::optional<double> x, y, z, i, j, r;
    for (const Word& w : words) {
      const double mm = w.value * scale_;
      switch (w.letter) {
      case 'G':
        way(w.value);
        break;
      case 'M':
        other(w.value);
        break;
      case 'F':
        machine_.feed(mm / 60);
        break;
      case 'X':
        x = mm;
        break;
      case 'Y':
        y = mm;
        break;
      case 'Z':
        z = mm;
        break;
      case 'I':
        i = mm;
        break;
      case 'J':
        j = mm;
        break;
      case 'R':
        r = mm;
        break;
      case 'N':
      case 'S':
      case 'T':
      case 'P':
      case 'O':
        break;
      default:
        machine_.pass_over(std::string(1, w.letter), line_);
      }
    }
    if (z) {
      height_ = relative_ ? height_ + *z : *z;
      machine_.lower(height_ <= 0);
    }
    if (!x && !y && !i && !j) return Done{};
    const Point base = relative_ ? machine_.at() : Point::Zero();
    const Point to{x ? base.x() + *x : machine_.at().x(), y ? base.y() + *y : machine_.at().y()};
    if (way_ <= 1) return machine_.go(to, line_);
    return bow(to, i, j, r);
  }

  Status bow(const Point& to, std::optional<double> i, std::optional<double> j, std::optional<double> r) {
    const Point from = machine_.at();
    Point centre = from + Point{i.value_or(0), j.value_or(0)};
    if (r) {
      // The centre lies off the middle of the chord: to the left of the way for the shorter arc against the clock.
      const Point half = (to - from) / 2;
      const double rise = std::sqrt(std::max(0.0, *r * *r - half.squaredNorm()));
      const double sign = (way_ == 3) == (*r > 0) ? 1 : -1;
      if (half.norm() > 0) centre = from + half + sign * rise * Point(-half.y(), half.x()).normalized();
    }
    const Point a = from - centre;
    const Point b = to - centre;
    if (!(a.norm() > 0)) return Error{fmt::format("line {}: this arc has no centre; mend its I and J", line_)};
    double degrees = std::atan2(a.x() * b.y() - a.y() * b.x(), a.dot(b)) * 180 / std::numbers::pi;
    if (way_ == 3 && degrees <= 1e-9) degrees += 360;
    if (way_ == 2 && degrees >= -1e-9) degrees -= 360;
    if (const auto ok = machine_.arc(centre, degrees, line_); !ok) return ok;
    return machine_.go(to, line_);
  }

  void way(double code) {
    if (code == 0 || code == 1 || code == 2 || code == 3)
      way_ = static_cast<int>(code);
    else if (code == 20)
      scale_ = 25.4;
    else if (code == 21)
      scale_ = 1;
    else if (code == 90)
      relative_ = false;
    else if (code == 91)
      relative_ = true;
    else if (code != 4 && code != 17 && code != 40 && code != 49 && code != 54 && code != 80 && code != 94)
      machine_.pass_over(fmt::format("G{:g}", code), line_);
  }

  void other(double code) {
    if (code == 0 || code == 1) {
      machine_.lower(false);
      machine_.turn_over();
      height_ = clear_mm;
    } else if (code == 2 || code == 30) {
      ended_ = true;
    } else if (code == 3 || code == 4 || code == 5) {
      machine_.lower(code != 5);
    } else {
      machine_.pass_over(fmt::format("M{:g}", code), line_);
    }
  }

  const std::string& text_;
  Machine machine_;
  int line_ = 0;
  int way_ = 0;
  double scale_ = 1;
  double height_ = clear_mm;
  bool relative_ = false;
  bool ended_ = false;
};

} // namespace

Result<std::string> plotter_bytes(const ScorePlan& plan, const ScoreSettings& settings, const std::string& file_name,
                                  const std::string& title) {
  const auto format = format_for(FileUse::write_scoring, file_name);
  if (!format) return Error{format.error()};
  return by_format<FileUse::write_scoring, std::string>(
      *format, on<FileFormat::hpgl>([&] { return hpgl_bytes(plan, settings); }),
      on<FileFormat::gcode>([&] { return gcode_bytes(plan, settings, title); }));
}

Result<PlotterTrace> parse_plotter(const std::string& text, const std::string& file_name) {
  const auto format = format_for(FileUse::write_scoring, file_name);
  if (!format) return Error{format.error()};
  PlotterTrace trace;
  const Status followed = by_format<FileUse::write_scoring, Status>(
      *format, on<FileFormat::hpgl>([&] { return Hpgl(text, trace).follow(); }),
      on<FileFormat::gcode>([&] { return Gcode(text, trace).follow(); }));
  if (!followed) return Error{followed.error()};
  return trace;
}

std::vector<PlotterTrace::Stroke> leaving(const PlotterTrace& trace, const Polygon& sheet) {
  const double width = bounding_box(sheet).size().x();
  std::vector<PlotterTrace::Stroke> out;
  for (const auto& s : trace.strokes) {
    if (leaves_sheet(on_face(s.at, s.side, width), sheet)) out.push_back(s);
  }
  return out;
}

std::string trace_svg(const PlotterTrace& trace, const Polygon& sheet, const std::string& title) {
  const double width = bounding_box(sheet).size().x();
  Polygon all = sheet;
  for (const auto& s : trace.strokes) {
    const Segment at = on_face(s.at, s.side, width);
    all.insert(all.end(), {at.from, at.to});
  }
  const Box box = bounding_box(all);
  const Point margin{5, 5};
  SvgWriter svg({box.low.x() - margin.x(), -box.high.y() - margin.y()}, box.size() + 2 * margin);
  svg.title(title);
  svg.line_styles();
  const auto down = [](const Point& p) { return Point{p.x(), -p.y()}; };
  for (const Segment& s : trace.lifted) {
    auto line = svg.line(down(s.from), down(s.to), "lifted", 3);
    set(line, "stroke", "#9a9a94");
    set(line, "stroke-width", 0.15);
    set(line, "stroke-dasharray", "0.3 1.2");
  }
  for (std::size_t i = 0; i < sheet.size(); ++i)
    svg.line(down(sheet[i]), down(sheet[(i + 1) % sheet.size()]), "raw", 3);
  for (const auto& s : trace.strokes) {
    const Segment at = on_face(s.at, s.side, width);
    const bool off = leaves_sheet(at, sheet);
    auto line = svg.line(down(at.from), down(at.to),
                         off                          ? "off"
                         : s.side == ScoredSide::face ? "valley"
                                                      : "mountain",
                         3);
    if (!off) continue;
    set(line, "stroke", "#b3261e");
    set(line, "stroke-width", 0.8);
  }
  return svg.document();
}

} // namespace uc
