#include "fold/steps_format.h"

#include "base/text.h"

#include <fmt/format.h>

#include <algorithm>

#include <cctype>

namespace uc {
namespace {

/// One line without its remark, spaced; what stands in quotes is left as it is.
std::string spaced(std::string_view line) {
  std::string out;
  bool gap = false;
  for (std::size_t i = 0; i < line.size();) {
    const char c = line[i];
    if (std::isspace(static_cast<unsigned char>(c))) {
      gap = true;
      ++i;
      continue;
    }
    std::size_t end = i + 1;
    if (c == '"') {
      end = line.find('"', i + 1);
      end = end == std::string_view::npos ? line.size() : end + 1;
    } else if (c != ',' && c != '=') {
      while (end < line.size() && !std::isspace(static_cast<unsigned char>(line[end])) && line[end] != ',' &&
             line[end] != '=' && line[end] != '"')
        ++end;
    }
    const bool apart = gap || c == '=' || (!out.empty() && (out.back() == ',' || out.back() == '='));
    if (!out.empty() && apart && c != ',') out += ' ';
    out += line.substr(i, end - i);
    gap = false;
    i = end;
  }
  return out;
}

/// Where the remark of a line begins; a hash in quotes begins none.
std::size_t remark_in(std::string_view line) {
  bool quoted = false;
  for (std::size_t i = 0; i < line.size(); ++i) {
    if (line[i] == '"') quoted = !quoted;
    if (line[i] == '#' && !quoted) return i;
  }
  return line.size();
}

} // namespace

const std::vector<GrammarLine>& step_grammar() {
  static const std::vector<GrammarLine> lines = {
      {StepVerb::valley, "valley A onto B",
       "brings A over onto B and leaves it there; also along c1, through p q, "
       "through p square to c1, p onto c1 through q; then layers 2, flap p, moving p, way 2"},
      {StepVerb::mountain, "mountain A onto B", "the same behind"},
      {StepVerb::crease, "c5 = crease A onto B", "the same, and unfolds; the crease is called c5"},
      {StepVerb::pinch, "pinch A onto B at left", "only a short crease, at the left edge"},
      {StepVerb::reverse, "reverse tr along c3 outside",
       "turns the tip tr inside out between its layers, or outside round them"},
      {StepVerb::sink, "sink p onto q", "pushes the closed corner p in"},
      {StepVerb::squash, "squash br along c4", "opens the flap with br and presses its folded edge onto c4"},
      {StepVerb::petal, "petal tl", "lifts the layer at the tip tl and brings both its sides to the middle"},
      {StepVerb::rabbit, "rabbit br along c5 to tr", "brings both sides beside br onto c5 and lays the ear towards tr"},
      {StepVerb::pleat, "pleat c7 c8 moving br", "folds the side with br over on c7 and its end back on c8"},
      {StepVerb::crimp, "crimp tr along c3 c4",
       "pushes the tip tr in on c3 and out again on c4; outside: round its layers"},
      {StepVerb::collapse, "collapse valley c1 c2 mountain c3 from p to q hold bl",
       "folds all of these creases at once"},
      {StepVerb::cut, "cut along c3 keep bl", "cuts through all layers and keeps the piece with bl"},
      {StepVerb::repeat, "repeat 4-7 at tr, tl", "makes the moves of these lines again there; also mirrored, behind"},
      {StepVerb::cross, "p = cross c1 c2", "calls the place where two lines cross p"},
      {StepVerb::tuck, "tuck c2 under c1", "puts the flap of one fold under that of another"},
      {StepVerb::unfold, "unfold c2", "opens a fold again; unfold all opens everything"},
      {StepVerb::over, "over", "turns the paper over"},
      {StepVerb::turn, "turn 90", "turns the paper by degrees, against the clock"},
      {StepVerb::say, "say \"Let it stand up.\"", "words for the drawing"},
  };
  return lines;
}

std::string formatted_steps(std::string_view text) {
  std::string out;
  for (std::size_t from = 0; from < text.size();) {
    std::size_t to = text.find('\n', from);
    if (to == std::string_view::npos) to = text.size();
    std::string_view line = text.substr(from, to - from);
    from = to + 1;
    if (!line.empty() && line.back() == '\r') line.remove_suffix(1);
    const std::size_t remark = remark_in(line);
    std::string words = spaced(line.substr(0, remark));
    const std::string_view beside = trimmed(line.substr(remark));
    if (!words.empty() && !beside.empty()) words += "  ";
    out += words + std::string(beside) + "\n";
  }
  return out;
}

std::string with_values(std::string_view text, const StepValues& values) {
  std::string out;
  for (std::size_t from = 0; from < text.size();) {
    const std::size_t to = std::min(text.find('\n', from), text.size());
    std::string_view line = text.substr(from, to - from);
    from = to + 1;
    const std::size_t equals = line.find('=');
    const auto value = line.starts_with("let ") && equals != std::string_view::npos
                           ? values.find(std::string(trimmed(line.substr(4, equals - 4))))
                           : values.end();
    if (value == values.end()) {
      out += std::string(line) + "\n";
      continue;
    }
    const std::string_view remark = trimmed(line.substr(remark_in(line)));
    out += fmt::format("{} {}{}{}\n", line.substr(0, equals + 1), value->second, remark.empty() ? "" : "  ", remark);
  }
  return out;
}

} // namespace uc
