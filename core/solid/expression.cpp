#include "solid/expression.h"

#include "base/clean_text.h"
#include "base/expression.h"
#include "solid/named.h"
#include "solid/operators.h"

#include <fmt/format.h>

#include <algorithm>

namespace uc {
namespace {

class Reader {
public:
  explicit Reader(std::string_view text) : text_(text) {}

  Result<Polyhedron> all() {
    auto made = solid(0);
    if (made && at_ != text_.size()) return wrong("nothing should follow the solid");
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

  Result<Polyhedron> named(std::string_view name) {
    std::vector<int> numbers;
    if (take(':')) {
      do {
        const auto value = parse_number(number());
        if (!value || *value != static_cast<int>(*value)) return wrong("type a whole number, as in prism:7");
        numbers.push_back(static_cast<int>(*value));
        // A comma goes on with numbers only; in kis(prism:7,0.3) a height follows.
      } while (name == "geodesic" && numbers.size() < 2 && take(','));
    }
    return named_solid(name, numbers);
  }

  Result<Polyhedron> solid(int depth) {
    if (depth > 12) return wrong("operators may stand in each other twelve deep");
    const std::string_view name = word();
    if (name.empty()) return wrong("type the name of a solid, as cube, prism:7 or dual(cube)");
    const auto& operators = solid_operators();
    if (std::find(operators.begin(), operators.end(), name) == operators.end()) return named(name);
    if (!take('(')) return wrong(fmt::format("{} needs a solid in brackets, as {}(cube)", name, name));
    auto seed = solid(depth + 1);
    if (!seed) return seed;
    std::optional<double> height;
    if (name == "kis" && take(',')) {
      const auto value = parse_number(number());
      if (!value || !(*value >= -1 && *value <= 10))
        return wrong("type the height of kis in base edges, -1 to 10, as kis(cube,0.3)");
      height = *value;
    }
    if (!take(')')) return wrong(fmt::format("close the bracket of {}", name));
    if (seed->edges().size() * 5 > most_solid_edges)
      return wrong(fmt::format("{} of a solid with {} edges is too large; {} edges are the most", name,
                               seed->edges().size(), most_solid_edges));
    Polyhedron made = name == "dual"       ? dual(*seed)
                      : name == "ambo"     ? ambo(*seed)
                      : name == "truncate" ? truncate(*seed)
                      : name == "expand"   ? expand(*seed)
                      : name == "snub"     ? snub(*seed)
                      : height             ? kis(*seed, *height)
                                           : kis(*seed);
    made = with_edge(std::move(made), 1);
    if (planarity_error(made) > solid_plane_tolerance)
      return wrong(fmt::format("{} gives faces that are not plane here", name));
    return made;
  }

  std::string_view text_;
  std::size_t at_ = 0;
};

} // namespace

const std::vector<std::string>& solid_operators() {
  static const std::vector<std::string> all = {"dual", "kis", "ambo", "truncate", "expand", "snub"};
  return all;
}

Result<Polyhedron> parse_solid(std::string_view text) {
  if (text.size() > 400) return Error{"the name of a solid is up to 400 characters long"};
  return Reader(text).all();
}

} // namespace uc
