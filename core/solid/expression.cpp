#include "solid/expression.h"

#include "base/clean_text.h"
#include "base/expression.h"
#include "solid/equal_edges.h"
#include "solid/named.h"
#include "solid/operators.h"

#include <fmt/format.h>

#include <algorithm>
#include <iterator>
#include <optional>

namespace uc {
namespace {

/// What can be typed round a solid, and how many times as many edges it makes.
struct Operator {
  std::string_view name;
  std::size_t times;
  Result<Polyhedron> (*make)(const Polyhedron&, const Progress*);
  bool plane = true; // its faces have to be
};
using MadeSolid = Result<Polyhedron>;
constexpr Operator operators[] = {
    {"dual", 1, [](const Polyhedron& p, const Progress*) -> MadeSolid { return dual(p); }},
    {"kis", 3, [](const Polyhedron& p, const Progress* progress) -> MadeSolid { return kis(p, progress); }},
    {"ambo", 2, [](const Polyhedron& p, const Progress* progress) -> MadeSolid { return ambo(p, progress); }},
    {"truncate", 3, [](const Polyhedron& p, const Progress* progress) -> MadeSolid { return truncate(p, progress); }},
    {"expand", 4, [](const Polyhedron& p, const Progress* progress) -> MadeSolid { return expand(p, progress); }},
    {"snub", 5, [](const Polyhedron& p, const Progress* progress) -> MadeSolid { return snub(p, progress); }},
    {"equal", 1, with_equal_edges, false}};

struct Applied {
  const Operator* op;
  std::optional<double> height; // of kis
  std::size_t ends = 0;         // in the text
};
/// A named solid with the operators round it, the innermost first.
struct Term {
  Polyhedron solid;
  std::vector<Applied> applied;
  std::size_t edges = 0; // of the whole
};

class Reader {
public:
  explicit Reader(std::string_view text) : text_(text) {}

  Result<Polyhedron> all(const Progress* progress) {
    auto read = term(0);
    if (!read) return Error{read.error()};
    if (at_ != text_.size()) return wrong("nothing should follow the solid");
    Term whole = std::move(read).value();
    Polyhedron made = std::move(whole.solid);
    for (const Applied& a : whole.applied) {
      auto next = a.height ? Result<Polyhedron>(kis(made, *a.height)) : a.op->make(made, progress);
      if (progress && progress->stopped()) return Error{"it was stopped before the solid was found"};
      at_ = a.ends;
      if (!next) return wrong(fmt::format("{}: {}", a.op->name, next.error()));
      made = with_edge(std::move(next).value(), 1);
      if (a.op->plane && planarity_error(made) > solid_plane_tolerance)
        return wrong(fmt::format("{} gives faces that are not plane here", a.op->name));
    }
    return made;
  }

private:
  [[nodiscard]] Error wrong(const std::string& what) const {
    return Error{fmt::format("\"{}\" at character {}: {}", clipped(shown_text(text_), 60), at_ + 1, what)};
  }
  std::string_view word() {
    const std::size_t from = at_;
    while (at_ < text_.size() && (std::isalpha(static_cast<unsigned char>(text_[at_])) || text_[at_] == '-')) ++at_;
    return text_.substr(from, at_ - from);
  }
  bool take(char c) {
    while (at_ < text_.size() && text_[at_] == ' ') ++at_;
    if (at_ == text_.size() || text_[at_] != c) return false;
    ++at_;
    while (at_ < text_.size() && text_[at_] == ' ') ++at_;
    return true;
  }
  [[nodiscard]] std::string_view number() {
    const std::size_t from = at_;
    while (at_ < text_.size() && std::string_view("0123456789.eE+-").find(text_[at_]) != std::string_view::npos) ++at_;
    return text_.substr(from, at_ - from);
  }

  Result<Term> named(std::string_view name) {
    std::vector<int> numbers;
    if (take(':')) {
      do {
        const auto value = parse_number(number());
        if (!value || *value != static_cast<int>(*value)) return wrong("type a whole number, as in prism:7");
        numbers.push_back(static_cast<int>(*value));
        // A comma goes on with numbers only; in kis(prism:7,0.3) a height follows.
      } while (name == "geodesic" && numbers.size() < 2 && take(','));
    }
    auto made = named_solid(name, numbers);
    if (!made) return Error{made.error()};
    Term out;
    out.edges = made->edges().size();
    out.solid = std::move(made).value();
    return out;
  }

  /// Nothing is worked out while it is read: what would be too large is refused before that.
  Result<Term> term(int depth) {
    if (depth > 12) return wrong("operators may stand in each other twelve deep");
    const std::string_view name = word();
    if (name.empty()) return wrong("type the name of a solid, as cube, prism:7 or dual(cube)");
    const auto* op =
        std::find_if(std::begin(operators), std::end(operators), [&](const Operator& o) { return o.name == name; });
    if (op == std::end(operators)) return named(name);
    if (!take('(')) return wrong(fmt::format("{} needs a solid in brackets, as {}(cube)", name, name));
    auto out = term(depth + 1);
    if (!out) return out;
    Applied applied{op, std::nullopt, 0};
    if (name == "kis" && take(',')) {
      const auto value = parse_number(number());
      if (!value || !(*value >= -1 && *value <= 10))
        return wrong("type the height of kis in base edges, -1 to 10, as kis(cube,0.3)");
      applied.height = *value;
    }
    if (!take(')')) return wrong(fmt::format("close the bracket of {}", name));
    applied.ends = at_;
    Term grown = std::move(out).value();
    if (grown.edges * 5 > most_solid_edges)
      return wrong(fmt::format("{} of a solid with {} edges is too large; {} edges are the most", name, grown.edges,
                               most_solid_edges));
    grown.edges *= op->times;
    grown.applied.push_back(applied);
    return grown;
  }

  std::string_view text_;
  std::size_t at_ = 0;
};

} // namespace

std::vector<std::string> solid_operators() {
  std::vector<std::string> all;
  for (const Operator& o : operators) all.emplace_back(o.name);
  return all;
}

Result<Polyhedron> parse_solid(std::string_view text, const Progress* progress) {
  if (text.size() > 400) return Error{"the name of a solid is up to 400 characters long"};
  return Reader(text).all(progress);
}

} // namespace uc
