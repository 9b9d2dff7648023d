#include "reference/recipe.h"

#include <fmt/format.h>

#include <map>
#include <sstream>

namespace uc {
namespace {

struct RecipeReader {
  explicit RecipeReader(const Polygon& sheet) : c(sheet) {
    for (int i = 0; i < c.size(); ++i) names[c[i].id] = i;
  }
  Construction c;
  std::map<std::string, int> names;

  [[nodiscard]] Result<int> item(const std::string& name, bool line) const {
    const auto at = names.find(name);
    if (at == names.end()) return Error{fmt::format("\"{}\" is not known yet; name something made above", name)};
    if (c[at->second].is_line() != line)
      return Error{
          fmt::format("\"{}\" is a {}, but a {} belongs here", name, line ? "mark" : "line", line ? "line" : "mark")};
    return at->second;
  }

  Result<int> make(const std::vector<std::string>& words) {
    if (words[2] == "crease") return crease({words.begin() + 3, words.end()});
    if (words[2] == "where") return where({words.begin() + 3, words.end()});
    if (words[2] == "cross") {
      if (words.size() != 5) return Error{"a crossing takes two lines; type p1 = cross c1 left"};
      return with_lines(words[3], words[4], [this](int l, int m) { return c.cross(l, m); });
    }
    if (words[2] == "landing") { // as it was written before
      if (words.size() != 5)
        return Error{"a landing takes a line and a crease to fold on; type c2 = where bottom lands, folding c1"};
      return with_lines(words[3], words[4], [this](int l, int m) { return c.land(l, m); });
    }
    return by_code(words);
  }

  template <typename Make> Result<int> with_lines(const std::string& first, const std::string& second, Make made) {
    const auto l = item(first, true);
    if (!l) return l;
    const auto m = item(second, true);
    if (!m) return m;
    return made(*l, *m);
  }

  /// "bottom lands, folding c2" is a line; "bottom lands on left, folding c2" the mark where it crosses the left edge.
  Result<int> where(const std::vector<std::string>& w) {
    const bool line = w.size() == 5 && w[1] == "lands" && w[2] == "," && w[3] == "folding";
    const bool mark = w.size() == 7 && w[1] == "lands" && w[2] == "on" && w[4] == "," && w[5] == "folding";
    if (!line && !mark) return Error{"type t = where bottom lands on left, folding c2"};
    const auto landed = with_lines(w[0], w.back(), [this](int l, int m) { return c.land(l, m); });
    if (!landed || line) return landed;
    const auto onto = item(w[3], true);
    if (!onto) return onto;
    return c.cross(*landed, *onto);
  }

  /// A fold in words, after "crease": left onto right · p1 onto l through p2 · p1 onto l, p2 onto m · p1 onto l square
  /// to m · through p1 p2 · through p1 square to l, each with "way 2" where several fit.
  Result<int> crease(std::vector<std::string> w) {
    std::size_t way = 1;
    if (w.size() >= 2 && w[w.size() - 2] == "way") {
      if (w.back() != "1" && w.back() != "2" && w.back() != "3")
        return Error{fmt::format("\"{}\" names no crease; type way 1, way 2 or way 3", w.back())};
      way = static_cast<std::size_t>(w.back()[0] - '0');
      w.resize(w.size() - 2);
    }
    const auto reads = [&](std::initializer_list<const char*> form) { // a dot stands for any name
      return w.size() == form.size() &&
             std::equal(w.begin(), w.end(), form.begin(),
                        [](const auto& word, const char* f) { return std::string_view(f) == "." || word == f; });
    };
    if (reads({"through", ".", "."})) return named_fold(Alignment::O1, {w[1], w[2]}, {}, way);
    if (reads({"through", ".", "square", "to", "."})) return named_fold(Alignment::O4, {w[1]}, {w[4]}, way);
    if (reads({".", "onto", ".", "through", "."})) return named_fold(Alignment::O5, {w[0], w[4]}, {w[2]}, way);
    if (reads({".", "onto", ".", ",", ".", "onto", "."}))
      return named_fold(Alignment::O6, {w[0], w[4]}, {w[2], w[6]}, way);
    if (reads({".", "onto", ".", "square", "to", "."})) return named_fold(Alignment::O7, {w[0]}, {w[2], w[5]}, way);
    if (!reads({".", "onto", "."}))
      return Error{"type what comes onto what, as crease left onto right, or crease bl onto top through br"};
    const auto moving = names.find(w[0]);
    const auto target = names.find(w[2]);
    if (moving != names.end() && target != names.end() && c[moving->second].is_line() != c[target->second].is_line())
      return Error{
          "a mark comes onto a line in many ways; say through which mark the crease goes, as crease bl onto top "
          "through br"};
    const bool lines = moving != names.end() && c[moving->second].is_line();
    return lines ? named_fold(Alignment::O3, {}, {w[0], w[2]}, way) : named_fold(Alignment::O2, {w[0], w[2]}, {}, way);
  }

  Result<int> named_fold(Alignment op, const std::vector<std::string>& points, const std::vector<std::string>& lines,
                         std::size_t which) {
    std::array<int, 2> marks{-1, -1};
    std::array<int, 2> edges{-1, -1};
    for (std::size_t i = 0; i < points.size(); ++i) {
      const auto p = item(points[i], false);
      if (!p) return p;
      marks[i] = *p;
    }
    for (std::size_t i = 0; i < lines.size(); ++i) {
      const auto l = item(lines[i], true);
      if (!l) return l;
      edges[i] = *l;
    }
    return fold(op, marks, edges, which);
  }

  /// As recipes were written before: O5/2 br p1 left, marks first, then lines.
  Result<int> by_code(const std::vector<std::string>& words) {
    std::string kind = words[2];
    std::size_t which = 1;
    if (const auto slash = kind.find('/'); slash != std::string::npos) {
      const std::string digits = kind.substr(slash + 1);
      if (digits != "1" && digits != "2" && digits != "3")
        return Error{fmt::format("\"{}\" names no crease; type /1, /2 or /3 after the alignment", digits)};
      which = static_cast<std::size_t>(digits[0] - '0');
      kind.resize(slash);
    }
    const auto op = named<Alignment>(kind);
    if (!op)
      return Error{
          fmt::format("\"{}\" is not an alignment; type crease, cross or where, as c1 = crease left onto right", kind)};
    const int count = point_inputs(*op) + line_inputs(*op);
    if (static_cast<int>(words.size()) != 3 + count)
      return Error{fmt::format("{} takes {} marks and {} lines, in this order", name_of(*op), point_inputs(*op),
                               line_inputs(*op))};
    const auto first_line = words.begin() + 3 + point_inputs(*op);
    return named_fold(*op, {words.begin() + 3, first_line}, {first_line, words.end()}, which);
  }

  Result<int> fold(Alignment op, const std::array<int, 2>& points, const std::array<int, 2>& lines, std::size_t which) {
    AlignmentInputs in;
    for (std::size_t i = 0; i < 2; ++i) {
      if (points[i] >= 0) in.points[i] = c[points[i]].point;
      if (lines[i] >= 0) in.lines[i] = c[lines[i]].line;
    }
    const double extent = bounding_box(c.sheet()).size().norm();
    std::vector<Line> fitting;
    for (const Line& crease : creases_of(op, in)) {
      if (contact(op, in, crease, c.sheet(), 1e-9 * extent)) fitting.push_back(crease);
    }
    if (fitting.empty()) return Error{"no such fold fits on the paper; choose other marks or lines"};
    if (which > fitting.size())
      return Error{fmt::format("only {} such crease{} on the paper; type way 1{}", fitting.size(),
                               fitting.size() == 1 ? " fits" : "s fit", fitting.size() == 2 ? " or way 2" : "")};
    return c.fold(op, points, lines, fitting[which - 1]);
  }
};

std::string fold_in_words(const Construction& c, const ConstructionItem& item) {
  const auto p = [&](std::size_t k) { return c[item.points[k]].id; };
  const auto l = [&](std::size_t k) { return c[item.lines[k]].id; };
  switch (item.op) {
  case Alignment::O1:
    return fmt::format("through {} {}", p(0), p(1));
  case Alignment::O2:
    return fmt::format("{} onto {}", p(0), p(1));
  case Alignment::O3:
    return fmt::format("{} onto {}", l(0), l(1));
  case Alignment::O4:
    return fmt::format("through {} square to {}", p(0), l(0));
  case Alignment::O5:
    return fmt::format("{} onto {} through {}", p(0), l(0), p(1));
  case Alignment::O6:
    return fmt::format("{} onto {}, {} onto {}", p(0), l(0), p(1), l(1));
  case Alignment::O7:
    return fmt::format("{} onto {} square to {}", p(0), l(0), l(1));
  }
  return {};
}

} // namespace

Result<Recipe> parse_recipe(const Polygon& sheet, std::string_view text) {
  RecipeReader reader(sheet);
  std::vector<int> results;
  std::istringstream in{std::string(text)};
  std::string row;
  int last = -1;
  for (int number = 1; std::getline(in, row); ++number) {
    std::istringstream cut(row);
    std::vector<std::string> words;
    for (std::string word; cut >> word;) {
      const bool comma = word.size() > 1 && word.back() == ',';
      if (comma) word.pop_back();
      words.push_back(word);
      if (comma) words.push_back(",");
    }
    if (words.empty()) continue;
    const auto wrong = [&](const std::string& what) { return Error{fmt::format("Line {}: {}.", number, what)}; };
    if (number > 400) return wrong("a recipe has at most 400 lines; leave out what is not needed");
    if (words[0] == "result") {
      if (words.size() < 2) return wrong("name what results, such as result p1");
      for (std::size_t i = 1; i < words.size(); ++i) {
        const auto at = reader.names.find(words[i]);
        if (at == reader.names.end()) return wrong(fmt::format("\"{}\" was not made above", words[i]));
        results.push_back(at->second);
      }
      continue;
    }
    if (words.size() < 4 || words[1] != "=")
      return wrong("a step reads c1 = crease bottom onto top, or p1 = cross c1 left");
    if (reader.names.count(words[0])) return wrong(fmt::format("\"{}\" exists already; take a new name", words[0]));
    const auto made = reader.make(words);
    if (!made) return wrong(made.error());
    reader.names[words[0]] = *made;
    last = *made;
  }
  if (last < 0) return Error{"Line 1: the recipe makes nothing; type a step such as c1 = crease bottom onto top."};
  if (results.empty()) results.push_back(last);
  return Recipe{std::move(reader.c), std::move(results)};
}

std::string recipe_text(const Construction& c, const std::vector<int>& results) {
  std::string out;
  for (int i = 2 * c.corners(); i < c.size(); ++i) {
    const ConstructionItem& item = c[i];
    if (item.kind == ConstructionItem::Kind::crossing) {
      out += fmt::format("{} = cross {} {}\n", item.id, c[item.lines[0]].id, c[item.lines[1]].id);
      continue;
    }
    if (item.kind != ConstructionItem::Kind::crease) continue;
    if (item.landing) {
      out += fmt::format("{} = where {} lands, folding {}\n", item.id, c[item.lines[0]].id, c[item.lines[1]].id);
      continue;
    }
    const AlignmentInputs in = c.inputs_of(item);
    const double extent = bounding_box(c.sheet()).size().norm();
    int which = 0;
    int fitting = 0;
    for (const Line& crease : creases_of(item.op, in)) {
      if (!contact(item.op, in, crease, c.sheet(), 1e-9 * extent)) continue;
      ++fitting;
      const double sense = crease.normal.dot(item.line.normal) < 0 ? -1 : 1;
      if ((sense * crease.normal - item.line.normal).norm() * extent + std::abs(sense * crease.c - item.line.c) <
          1e-7 * extent)
        which = fitting;
    }
    out += fmt::format("{} = crease {}", item.id, fold_in_words(c, item));
    if (fitting > 1) out += fmt::format(" way {}", which);
    out += "\n";
  }
  out += "result";
  for (const int r : results) out += " " + c[r].id;
  return out + "\n";
}

} // namespace uc
