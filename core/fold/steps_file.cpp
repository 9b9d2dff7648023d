#include "fold/steps_file.h"

#include "base/clean_text.h"
#include "base/text.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cctype>
#include <cmath>

namespace uc {
namespace {

/// A mistake in the file; the line's number is put before it.
struct Wrong {
  std::string sentence;
};
template <class... Parts> [[noreturn]] void fail(fmt::format_string<Parts...> text, Parts&&... parts) {
  throw Wrong{fmt::format(text, std::forward<Parts>(parts)...)};
}

std::string short_of(std::string_view word) { return clipped(word, 60); }

constexpr std::string_view sum_signs = ":/*+()"; // of sheets and of sums; no name has them

bool word_sign(char c) { return std::isalnum(static_cast<unsigned char>(c)) || c == '_' || c == '-' || c == '.'; }

/// Words, and the signs = and , as words of their own; what stands in quotes is one word that begins with a quote.
std::vector<std::string> words_of(std::string_view line) {
  std::vector<std::string> words;
  for (std::size_t i = 0; i < line.size();) {
    const char c = line[i];
    if (c == '#') break;
    if (std::isspace(static_cast<unsigned char>(c))) {
      ++i;
    } else if (c == '"') {
      const std::size_t end = line.find('"', i + 1);
      if (end == std::string_view::npos) fail("the quotation mark is not closed; end the sentence with \"");
      words.emplace_back(line.substr(i, end - i));
      i = end + 1;
    } else if (c == '=' || c == ',') {
      words.emplace_back(1, c);
      ++i;
    } else {
      std::size_t end = i;
      while (end < line.size() && (word_sign(line[end]) || sum_signs.find(line[end]) != sum_signs.npos)) ++end;
      if (end == i) fail("\"{}\" means nothing here", short_of(line.substr(i, 8)));
      words.emplace_back(line.substr(i, end - i));
      i = end;
    }
  }
  return words;
}

bool is_name(const std::string& word) {
  return !word.empty() && std::isalpha(static_cast<unsigned char>(word[0])) &&
         std::all_of(word.begin(), word.end(), word_sign);
}

class LineReader {
public:
  LineReader(std::vector<std::string> words, const StepParameters& known) : words_(std::move(words)), known_(known) {}

  [[nodiscard]] bool done() const { return next_ == words_.size(); }
  [[nodiscard]] const std::string& peek() const {
    static const std::string none;
    return done() ? none : words_[next_];
  }
  bool take(const char* word) {
    if (peek() != word) return false;
    ++next_;
    return true;
  }
  std::string word(const char* what) {
    if (done()) fail("{} is missing at the end", what);
    return words_[next_++];
  }
  std::string name(const char* what) {
    const std::string w = word(what);
    if (!is_name(w)) fail("\"{}\" is not a name; type {}, such as bl, left, c1 or p1", short_of(w), what);
    return w;
  }
  int count(const char* what, int most) {
    const std::string w = word(what);
    const auto value = number_from(w, known_);
    if (!value || std::abs(*value - std::round(*value)) > 1e-9) fail("\"{}\" is not {}", short_of(w), what);
    if (*value < 0.5 || *value > most + 0.5) fail("{} {} cannot be used; type 1 to {}", what, short_of(w), most);
    return static_cast<int>(std::round(*value));
  }
  double degrees() {
    const std::string typed = word("an angle");
    const auto value = number_from(typed, known_);
    if (!value) fail("\"{}\" is not an angle; type one such as 90", short_of(typed));
    if (!std::isfinite(*value) || std::abs(*value) > 360) fail("turn by at most 360, not by {}", short_of(typed));
    return *value;
  }
  void end() const {
    if (!done()) fail("\"{}\" is not expected here", short_of(words_[next_]));
  }

private:
  std::vector<std::string> words_;
  const StepParameters& known_;
  std::size_t next_ = 0;
};

StepAlignment alignment_of(LineReader& line) {
  StepAlignment a;
  const auto through = [&](std::size_t most) {
    a.through.push_back(line.name("a point to fold through"));
    line.take("and");
    if (most > 1 && is_name(line.peek()) && line.peek() != "square" && line.peek() != "layers" &&
        line.peek() != "flap" && line.peek() != "moving" && line.peek() != "way" && line.peek() != "outside" &&
        line.peek() != "keep")
      a.through.push_back(line.name("a point to fold through"));
  };
  const auto square = [&] {
    if (!line.take("square")) return;
    line.take("to");
    a.square_to = line.name("the line to fold square to");
  };
  if (line.take("through")) {
    a.form = StepAlignment::Form::through;
    through(2);
    square();
    if ((a.through.size() == 2) == !a.square_to.empty())
      fail("a crease goes through two points, or through one and square to a line");
    return a;
  }
  if (line.take("along")) {
    a.form = StepAlignment::Form::along;
    a.along = line.name("the crease to fold along");
    return a;
  }
  a.moved = line.name("what to bring");
  if (!line.take("onto")) fail("\"onto\" is missing after \"{}\"", a.moved);
  a.target = line.name("what to bring it onto");
  if (line.take(",")) {
    a.second_moved = line.name("what else to bring");
    if (!line.take("onto")) fail("\"onto\" is missing after \"{}\"", a.second_moved);
    a.second_target = line.name("what to bring it onto");
  } else if (line.take("through")) {
    through(1);
  } else {
    square();
  }
  return a;
}

void read_fold(LineReader& line, StepLine& step) {
  step.alignment = alignment_of(line);
  while (!line.done()) {
    if (line.take("layers")) {
      if (line.take("all")) continue;
      step.layers = line.count("a count of layers", 1000);
    } else if (line.take("flap")) {
      step.flap = line.name("a point of the flap");
    } else if (line.take("moving")) {
      step.moving = line.name("a point of the side that moves");
    } else if (line.take("way")) {
      step.alignment.way = line.count("a way", 3);
    } else if (step.kind == StepVerb::pinch && line.take("at")) {
      step.at = line.name("an edge or a crease to pinch at");
    } else {
      line.end();
    }
  }
  if (step.layers && !step.flap.empty()) fail("layers and flap both say what moves; keep one of them");
}

/// The tip, then what the named fold is made along.
void read_named(LineReader& line, StepLine& step) {
  step.flap = line.name("the point at the tip of the flap");
  if (step.kind == StepVerb::petal) return;
  if (step.kind == StepVerb::squash || step.kind == StepVerb::rabbit) {
    if (line.peek() != "along") fail("say along which line; type {} {} along c1", name_of(step.kind), step.flap);
    line.take("along");
    step.alignment.form = StepAlignment::Form::along;
    step.alignment.along = line.name("the crease or edge to fold along");
    if (step.kind == StepVerb::rabbit && line.take("to")) step.names.push_back(line.name("the end the ear is laid to"));
    return;
  }
  if (line.take("onto")) {
    step.alignment.moved = step.flap;
    step.alignment.target = line.name("what to bring it onto");
    if (line.take("through")) step.alignment.through.push_back(line.name("a point to fold through"));
  } else {
    step.alignment = alignment_of(line);
  }
  while (!line.done()) {
    if (step.kind == StepVerb::reverse && line.take("outside"))
      step.outside = true;
    else if (line.take("way"))
      step.alignment.way = line.count("a way", 3);
    else
      line.end();
  }
}

void read_cut(LineReader& line, StepLine& step) {
  step.alignment = alignment_of(line);
  if (!line.take("keep")) fail("say which side stays; end the line with keep and a point of it, such as keep bl");
  step.flap = line.name("a point of what is kept");
}

void read_repeat(LineReader& line, StepLine& step) {
  const std::string lines = line.word("the lines to repeat, such as 4-7");
  const std::size_t dash = lines.find('-');
  const auto first = number_from(lines.substr(0, dash), {});
  const auto last = dash == std::string::npos ? first : number_from(lines.substr(dash + 1), {});
  if (!first || !last || *first != std::round(*first) || *last != std::round(*last))
    fail("\"{}\" names no lines; type the numbers of the first and the last, such as 4-7", short_of(lines));
  if (*first < 1 || *first > *last || *last >= step.number)
    fail("lines {} cannot be repeated; name lines that stand before this one, such as 4-7", short_of(lines));
  step.repeat.first = static_cast<int>(*first);
  step.repeat.last = static_cast<int>(*last);
  if (line.take("mirrored")) {
    step.repeat.way = CarryWay::mirrored;
    return;
  }
  step.repeat.way = line.take("behind") ? CarryWay::behind : CarryWay::at;
  if (step.repeat.way == CarryWay::behind && line.done()) return;
  if (!line.take("at")) fail("say where; type repeat {} at tr, or mirrored, or behind", lines);
  do {
    step.repeat.places.push_back(line.name("a place to repeat it at"));
  } while (line.take(",") || !line.done());
  if (step.repeat.way == CarryWay::behind && step.repeat.places.size() > 1) fail("behind takes one place at most");
}

/// To and fro on two old creases.
void read_two_creases(LineReader& line, StepLine& step) {
  if (step.kind == StepVerb::crimp) {
    step.flap = line.name("the point at the tip of the flap");
    if (!line.take("along")) fail("say along which creases; type crimp {} along c1 c2", step.flap);
  }
  for (int i = 0; i < 2; ++i) {
    step.names.push_back(line.name(i == 0 ? "the crease nearer to what stays" : "the crease nearer to the end"));
    line.take(",");
  }
  if (step.kind == StepVerb::crimp) {
    step.outside = line.take("outside");
    return;
  }
  if (!line.take("moving")) fail("say which side moves; type pleat {} {} moving br", step.names[0], step.names[1]);
  step.moving = line.name("a point of the side that moves");
}

void read_collapse(LineReader& line, StepLine& step) {
  FoldWay way = FoldWay::either;
  while (!line.done()) {
    if (line.take(",")) continue;
    if (line.take("valley")) {
      way = FoldWay::valley;
    } else if (line.take("mountain")) {
      way = FoldWay::mountain;
    } else if (line.take("hold")) {
      step.flap = line.name("a point of what stays");
    } else {
      StepCrease crease{line.name("a crease"), {}, {}, way};
      if (line.take("from")) {
        crease.from = line.name("a point on the crease");
        if (!line.take("to")) fail("say as far as where; type {} from {} to p1", crease.name, crease.from);
        crease.to = line.name("a point on the crease");
      }
      step.creases.push_back(std::move(crease));
    }
  }
  if (step.creases.empty()) fail("say which creases to fold, as collapse c1 c2 c3");
}

void read_step(LineReader& line, StepLine& step) {
  switch (step.kind) {
  case StepVerb::valley:
  case StepVerb::mountain:
  case StepVerb::crease:
  case StepVerb::pinch:
    return read_fold(line, step);
  case StepVerb::reverse:
  case StepVerb::sink:
  case StepVerb::squash:
  case StepVerb::petal:
  case StepVerb::rabbit:
    return read_named(line, step);
  case StepVerb::pleat:
  case StepVerb::crimp:
    return read_two_creases(line, step);
  case StepVerb::collapse:
    return read_collapse(line, step);
  case StepVerb::cut:
    return read_cut(line, step);
  case StepVerb::repeat:
    return read_repeat(line, step);
  case StepVerb::cross:
    step.names.push_back(line.name("a line"));
    line.take("and");
    step.names.push_back(line.name("a second line"));
    if (step.name.empty()) fail("a crossing needs a name; type p1 = cross {} {}", step.names[0], step.names[1]);
    return;
  case StepVerb::tuck:
    step.names.push_back(line.name("the crease of a flap"));
    if (!line.take("under")) fail("say what it goes under; type tuck {} under c1", step.names[0]);
    step.names.push_back(line.name("the crease of another flap"));
    return;
  case StepVerb::unfold:
    if (line.take("all")) return;
    while (!line.done()) {
      step.names.push_back(line.name("a crease"));
      line.take(",");
    }
    if (step.names.empty()) fail("say what to unfold: a crease, or all");
    return;
  case StepVerb::over:
    return;
  case StepVerb::turn:
    step.degrees = line.degrees();
    return;
  case StepVerb::say:
    step.remark = line.word("a sentence in quotation marks");
    if (step.remark.front() != '"') fail("put what to say in quotation marks");
    step.remark.erase(0, 1);
    return;
  }
}

std::string_view without_remark(std::string_view text) { return text.substr(0, text.find('#')); }

/// What follows "let ": a name, and what it stands for unless another value is given.
StepParameter read_parameter(std::string_view text, const StepParameters& known, const StepValues& values) {
  text = without_remark(text);
  const std::size_t equals = text.find('=');
  const std::string_view name = trimmed(text.substr(0, equals));
  StepParameter out{std::string(name), 0, 0};
  if (!can_name_parameter(out.name))
    fail("\"{}\" cannot be the name of a number; type letters and digits such as n or side", short_of(name));
  if (std::any_of(known.begin(), known.end(), [&](const StepParameter& p) { return p.name == name; }))
    fail("{} stands for a number already", name);
  if (equals == std::string_view::npos) fail("type let {} = and a number", name);
  const auto value = number_from(trimmed(text.substr(equals + 1)), known);
  if (!value) fail("{}", value.error());
  const auto given = values.find(out.name);
  out.value = given == values.end() ? *value : given->second;
  return out;
}

} // namespace

Result<StepsFile> parse_steps(std::string_view text, const std::optional<Sheet>& sheet, const StepValues& values) {
  StepsFile file;
  bool has_sheet = false;
  int number = 0;
  for (std::size_t from = 0; from < text.size();) {
    std::size_t to = text.find('\n', from);
    if (to == std::string_view::npos) to = text.size();
    std::string_view raw = text.substr(from, to - from);
    from = to + 1;
    ++number;
    if (!raw.empty() && raw.back() == '\r') raw.remove_suffix(1);
    try {
      if (raw.size() > 1000) fail("the line is longer than 1000 signs; break it up");
      if (raw.starts_with("# ") && file.title.empty() && file.lines.empty()) file.title = shown_text(raw.substr(2));
      if (raw.starts_with("sheet ")) {
        const auto parsed = parse_sheet(sheet_code_from(without_remark(raw.substr(6)), file.parameters));
        if (!parsed) fail("{}", parsed.error());
        if (has_sheet || !file.lines.empty()) fail("the sheet stands once, before the first move");
        file.sheet = *parsed;
        has_sheet = true;
        continue;
      }
      if (raw.starts_with("let ")) {
        if (file.parameters.size() == most_step_parameters)
          fail("there are more than {} numbers", most_step_parameters);
        file.parameters.push_back(read_parameter(raw.substr(4), file.parameters, values));
        file.parameters.back().line = number;
        continue;
      }
      LineReader line(words_of(raw), file.parameters);
      if (line.done()) continue;
      StepLine step;
      step.number = number;
      std::string first = line.word("a move");
      if (line.take("=")) {
        if (!is_name(first)) fail("\"{}\" is not a name; type one such as c1 or p1", short_of(first));
        step.name = first;
        first = line.word("a move");
      }
      const auto kind = named<StepVerb>(first);
      if (!kind) fail("\"{}\" is not a move; type let, {}", short_of(first), listed_words<StepVerb>());
      step.kind = *kind;
      const bool makes = *kind == StepVerb::valley || *kind == StepVerb::mountain || *kind == StepVerb::crease ||
                         *kind == StepVerb::pinch || *kind == StepVerb::cross || *kind == StepVerb::reverse ||
                         *kind == StepVerb::sink || *kind == StepVerb::squash || *kind == StepVerb::petal ||
                         *kind == StepVerb::rabbit || *kind == StepVerb::cut;
      if (!step.name.empty() && !makes) fail("{} makes nothing that could be called {}", first, step.name);
      read_step(line, step);
      line.end();
      file.lines.push_back(std::move(step));
      if (file.lines.size() > most_step_lines) fail("there are more than {} moves; split the file", most_step_lines);
    } catch (const Wrong& wrong) {
      return Error{fmt::format("line {}: {}", number, wrong.sentence)};
    }
  }
  if (sheet) file.sheet = *sheet;
  if (!has_sheet && !sheet) return Error{"line 1: the sheet is missing; begin with a line such as sheet square:150mm"};
  return file;
}

} // namespace uc
