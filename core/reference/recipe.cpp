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
    if (words[2] == "cross") {
      if (words.size() != 5) return Error{"a crossing takes two lines; type p1 = cross c1 left"};
      const auto l = item(words[3], true);
      if (!l) return l;
      const auto m = item(words[4], true);
      if (!m) return m;
      return c.cross(*l, *m);
    }
    if (words[2] == "landing") {
      if (words.size() != 5)
        return Error{"a landing takes a line and a crease to fold on; type c2 = landing bottom c1"};
      const auto l = item(words[3], true);
      if (!l) return l;
      const auto m = item(words[4], true);
      if (!m) return m;
      return c.land(*l, *m);
    }
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
    if (!op) return Error{fmt::format("\"{}\" is no alignment; type O1 to O7, landing or cross", kind)};
    const int count = point_inputs(*op) + line_inputs(*op);
    if (static_cast<int>(words.size()) != 3 + count)
      return Error{fmt::format("{} takes {} marks and {} lines, in this order", name_of(*op), point_inputs(*op),
                               line_inputs(*op))};
    std::array<int, 2> points{-1, -1};
    std::array<int, 2> lines{-1, -1};
    std::size_t at = 3;
    for (int i = 0; i < point_inputs(*op); ++i, ++at) {
      const auto p = item(words[at], false);
      if (!p) return p;
      points[static_cast<std::size_t>(i)] = *p;
    }
    for (int i = 0; i < line_inputs(*op); ++i, ++at) {
      const auto l = item(words[at], true);
      if (!l) return l;
      lines[static_cast<std::size_t>(i)] = *l;
    }
    return fold(*op, points, lines, which);
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
      return Error{fmt::format("only {} such crease{} on the paper; type /1{}", fitting.size(),
                               fitting.size() == 1 ? " fits" : "s fit", fitting.size() == 2 ? " or /2" : "")};
    return c.fold(op, points, lines, fitting[which - 1]);
  }
};

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
    for (std::string word; cut >> word;) words.push_back(word);
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
    if (words.size() < 4 || words[1] != "=") return wrong("a step reads c1 = O3 bottom top, or p1 = cross c1 left");
    if (reader.names.count(words[0])) return wrong(fmt::format("\"{}\" exists already; take a new name", words[0]));
    const auto made = reader.make(words);
    if (!made) return wrong(made.error());
    reader.names[words[0]] = *made;
    last = *made;
  }
  if (last < 0) return Error{"Line 1: the recipe makes nothing; type a step such as c1 = O3 bottom top."};
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
      out += fmt::format("{} = landing {} {}\n", item.id, c[item.lines[0]].id, c[item.lines[1]].id);
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
    out += fmt::format("{} = {}", item.id, name_of(item.op));
    if (fitting > 1) out += fmt::format("/{}", which);
    for (const auto* ids : {&item.points, &item.lines}) {
      for (const int id : *ids) {
        if (id >= 0) out += " " + c[id].id;
      }
    }
    out += "\n";
  }
  out += "result";
  for (const int r : results) out += " " + c[r].id;
  return out + "\n";
}

} // namespace uc
