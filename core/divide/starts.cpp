#include "divide/starts.h"

#include "divide/steps.h"
#include "reference/construction_programme.h"
#include "reference/recipe.h"
#include "reference/search.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <numeric>

namespace uc {
namespace {

bool is_level(const Family& family) { return family.name == "y"; }

/// Recipes are written for upright lines; for level ones the sheet is mirrored in its rising diagonal.
std::string turned(const std::string& recipe, bool level) {
  if (!level) return recipe;
  static const std::map<std::string, std::string> other = {{"left", "bottom"}, {"bottom", "left"}, {"right", "top"},
                                                           {"top", "right"},   {"br", "tl"},       {"tl", "br"}};
  std::string out;
  std::string word;
  for (const char c : recipe + "\n") {
    if (std::isalnum(static_cast<unsigned char>(c))) {
      word += c;
      continue;
    }
    const auto at = other.find(word);
    out += at == other.end() ? word : at->second;
    word.clear();
    out += c;
  }
  out.pop_back();
  return out;
}

/// Steps that mark j/2^bits of the width by halving from the last bit up; the last crease is named "c<bits>".
std::string halvings(long j, int bits) {
  std::string text;
  for (int i = 0; i < bits; ++i) {
    const bool upper = (j >> i) & 1;
    text += i == 0 ? "c1 = O3 right left\n" : fmt::format("c{} = O3 {} c{}\n", i + 1, upper ? "right" : "left", i);
  }
  return text;
}

struct Draft {
  int line = 0; // of the odd grid
  std::string recipe;
  double total_mm = 0;
};

/// The rising diagonal crossed by the line from the other corner to a mark at a fraction with a power of two below.
Draft by_diagonals(int n) {
  int k = 1;
  int bits = 0;
  while (2 * k < n) k *= 2, ++bits;
  int j = 2 * k - n; // the mark is at j/k of the top edge
  int b = bits;
  while (b > 0 && j % 2 == 0) j /= 2, --b;
  return {k, halvings(j, b) + fmt::format("p1 = cross c{} top\nd1 = O1 bl tr\nd2 = O1 br p1\np2 = cross d1 d2\n"
                                          "u = O4 p2 bottom\nresult u\n",
                                          b)};
}

/// A corner brought to a mark on the far side: where its folded side leaves the paper again lies at
/// (2^m - j)/(2^m + j), the triangles being right-angled with whole sides.
std::vector<Draft> by_corner_fold(int n) {
  int power = 1;
  int bits = 0;
  while (2 * power < n) power *= 2, ++bits;
  int j = power - (n - power); // the mark, from the left end of the top edge, in parts of `power`
  int b = bits;
  while (b > 0 && j % 2 == 0) j /= 2, --b;
  const std::string mark =
      turned(halvings(j, b) +
                 fmt::format("p1 = cross c{} top\nf1 = O2 br p1\nf2 = landing bottom f1\np2 = cross f2 left\n", b),
             true); // folded like this the mark is on the left edge, for a level line
  const int k = 2 * power - n;
  // Through the mark, or with the far corner brought to it, which turns the crease less.
  return {{k, mark + "u = O4 p2 bottom\nresult u\n"}, {(k + n) / 2, mark + "u = O2 br p2\nresult u\n"}};
}

Draft by_binary(int n, double extent_mm, double wanted_mm) {
  Draft best;
  for (int bits = 2; bits <= 8; ++bits) {
    double least = 1e300;
    for (int k = 1; k < n; ++k) {
      const double scaled = std::ldexp(static_cast<double>(k) / n, bits);
      const long j = std::lround(scaled);
      if (j % 2 == 0) continue; // fewer bits give the same
      const double off = std::abs(std::ldexp(static_cast<double>(j), -bits) - static_cast<double>(k) / n) * extent_mm;
      if (off >= least) continue;
      least = off;
      best = {k, halvings(j, bits) + fmt::format("result c{}\n", bits)};
    }
    if (least <= wanted_mm) break;
  }
  return best;
}

/// Distance of a folded start from its line, and its error by the hand, at the worse end.
struct Judged {
  double residual_mm = 0;
  double sigma_mm = 0;
  [[nodiscard]] double total() const { return std::hypot(residual_mm, sigma_mm); }
};

std::optional<Judged> judged_start(const Construction& c, int item, const Line& wanted, double sigma_mm) {
  const ConstructionErrors errors(c, sigma_mm);
  if (!errors.determined() || !c[item].is_line()) return std::nullopt;
  const Segment chord = c[item].chord;
  const Eigen::MatrixXd rows = errors.distances(item, c[item].line, {chord.from, chord.to});
  return Judged{std::max(std::abs(wanted.distance(chord.from)), std::abs(wanted.distance(chord.to))),
                rows.rowwise().norm().maxCoeff()};
}

std::optional<Judged> judged_recipe(const Polygon& sheet, const std::string& text, const Line& wanted,
                                    double sigma_mm) {
  auto recipe = parse_recipe(sheet, text);
  if (!recipe) return std::nullopt;
  std::vector<int> results{recipe->results.front()};
  const Construction c = recipe->construction.reduced_to(results);
  return judged_start(c, results[0], wanted, sigma_mm);
}

/// The best searched lines: as a line, as a mark with a crease square to the edge through it, or with the corner
/// brought to the mark.
std::vector<Draft> by_search(const Polygon& sheet, const Family& family, int odd, const HandProfile& hand,
                             const SheetIndex& index) {
  std::vector<Draft> best; // one per line
  SearchOptions options;
  options.sigma_mm = hand.sigma_mm;
  options.top = 10;
  const int edge = is_level(family) ? 3 : 0;
  const auto offer = [&](Construction c, int item, int line) {
    const auto judged = judged_start(c, item, line_at(family, line, odd), hand.sigma_mm);
    if (!judged) return;
    const auto there = std::find_if(best.begin(), best.end(), [&](const Draft& d) { return d.line == line; });
    if (there == best.end())
      best.push_back({line, recipe_text(c, {item}), judged->total()});
    else if (judged->total() < there->total_mm)
      *there = {line, recipe_text(c, {item}), judged->total()};
  };
  const Draft known = by_diagonals(odd);
  if (auto recipe = parse_recipe(sheet, turned(known.recipe, is_level(family))))
    offer(recipe->construction, recipe->results[0], known.line);
  for (int line = 1; line < odd && line <= 12; ++line) {
    const auto target = mark_on_edge(sheet, edge, static_cast<double>(line) / odd);
    const auto marks = target ? find_routes(index, sheet, *target, options) : Error{""};
    if (marks) {
      for (const Route& r : *marks) {
        Construction c = r.construction;
        const auto crease = c.fold(Alignment::O4, {r.result, -1}, {c.edge(edge), -1});
        if (crease) offer(c, *crease, line);
        Construction halved = r.construction;
        const bool from_low = line % 2 == 0;
        const int far = from_low ? halved.corner(0) : halved.corner(is_level(family) ? 3 : 1);
        const auto between = halved.fold(Alignment::O2, {far, r.result}, {-1, -1});
        if (between) offer(halved, *between, from_low ? line / 2 : (line + odd) / 2);
      }
    }
    const auto spans = clip(line_at(family, line, odd), sheet);
    const auto as_line = spans.empty() ? Result<Target>(Error{""}) : wanted_line(sheet, spans[0].from, spans[0].to);
    const auto lines = as_line ? find_routes(index, sheet, *as_line, options) : Error{""};
    if (lines) {
      for (const Route& r : *lines) offer(r.construction, r.result, line);
    }
  }
  return best;
}

} // namespace

Result<StartMark> start_of(const Sheet& sheet, const GridSpec& spec, const HandProfile& hand, StartKind kind,
                           const SheetIndex* index) {
  const int odd = odd_part(spec.parts);
  if (odd == 1) return Error{"This count is had by halving alone; it needs no start."};
  GridSpec bare = spec;
  bare.start.reset();
  if (const auto ok = check_spec(bare, hand); !ok) return Error{ok.error()};
  const GridLayout layout = lay_out(sheet, bare);
  const int unit = spec.parts / odd;
  StartMark start;
  start.kind = kind;
  if (kind == StartKind::ruler || kind == StartKind::printed) {
    start.line = unit;
    start.sigma_mm = kind == StartKind::ruler ? ruler_sigma_mm : printed_sigma_mm;
    return start;
  }
  if (!sheet.has_right_corners() || spec.axis == GridAxis::diagonal || spec.axis == GridAxis::equilateral)
    return Error{"Only grids along the sides of a rectangle start from a folded line; choose a ruler or a template."};
  if (kind == StartKind::corner_fold && std::abs(sheet.width() - sheet.height()) > 1e-9 * sheet.width())
    return Error{"The corner-to-mark fold needs a square; choose another start."};
  if (kind == StartKind::route && !index) return Error{"Searching for a start needs the marks of this sheet first."};
  for (const Family& family : layout.families) {
    std::vector<Draft> drafts;
    if (kind == StartKind::diagonals) drafts = {by_diagonals(odd)};
    if (kind == StartKind::corner_fold) drafts = by_corner_fold(odd);
    if (kind == StartKind::binary) drafts = {by_binary(odd, family.extent_mm, hand.sigma_mm / 2)};
    for (Draft& draft : drafts) draft.recipe = turned(draft.recipe, is_level(family));
    if (kind == StartKind::route) drafts = by_search(sheet.outline(), family, odd, hand, *index);
    const Draft* best = nullptr;
    double least = 1e300;
    for (const Draft& draft : drafts) {
      // Both directions start from the same line of the grid.
      if (start.line != 0 && start.line != draft.line * unit) continue;
      const auto judged = judged_recipe(sheet.outline(), draft.recipe, line_at(family, draft.line, odd), hand.sigma_mm);
      if (judged && judged->total() < least) best = &draft, least = judged->total();
    }
    if (!best) return Error{"This start does not fit on the sheet; choose another."};
    start.line = best->line * unit;
    start.recipes.push_back(best->recipe);
  }
  GridSpec with = spec;
  with.start = start;
  const auto revised = revised_start(sheet, with, hand);
  if (!revised) return Error{"This start does not fit on the sheet; choose another."};
  return *revised;
}

std::optional<StartMark> revised_start(const Sheet& sheet, const GridSpec& spec, const HandProfile& hand) {
  if (!spec.start) return std::nullopt;
  StartMark start = *spec.start;
  if (start.recipes.empty()) return start;
  GridSpec bare = spec;
  bare.start.reset();
  const GridLayout layout = lay_out(sheet, bare);
  if (start.recipes.size() != layout.families.size()) return std::nullopt;
  start.sigma_mm = 0;
  for (std::size_t f = 0; f < layout.families.size(); ++f) {
    const Family& family = layout.families[f];
    const auto judged =
        judged_recipe(sheet.outline(), start.recipes[f], line_at(family, start.line, spec.parts), hand.sigma_mm);
    // A recipe for another sheet lands elsewhere: then it is no start for this line.
    if (!judged || judged->residual_mm > 0.25 * family.extent_mm / spec.parts) return std::nullopt;
    start.sigma_mm = std::max(start.sigma_mm, judged->total());
  }
  return start;
}

std::vector<StartedDivision> compare_starts(const Sheet& sheet, const GridSpec& spec, const HandProfile& hand,
                                            const SheetIndex* index) {
  std::vector<StartedDivision> all;
  for (const StartKind kind : all_starts) {
    const auto start = start_of(sheet, spec, hand, kind, index);
    if (!start) continue;
    GridSpec with = spec;
    with.start = *start;
    with.method = Method::best;
    auto division = divide(sheet, with, hand);
    if (division) all.push_back({kind, std::move(division).value()});
  }
  return all;
}

void put_start_first(Division& division, const Sheet& sheet) {
  const auto& start = division.spec.start;
  if (!start || start->kind == StartKind::given) return;
  std::vector<Move> first;
  for (std::size_t f = 0; f < division.layout.families.size(); ++f) {
    const Family& family = division.layout.families[f];
    const ElementId line_id = line_element_id(f, start->line);
    Element* line = nullptr;
    for (Element& e : division.programme.elements) {
      if (e.id == line_id) line = &e;
    }
    if (!line) continue;
    line->existing = false;
    const std::vector<Segment> line_spans = line->spans; // more elements are added below
    // A start that is made again more exactly later must not leave a crease beside the good one.
    const auto again =
        std::find_if(division.programme.moves.begin(), division.programme.moves.end(),
                     [&](const Move& m) { return m.creases().makes == line_id && !m.is(CreaseWay::both_ways); });
    const bool remade = again != division.programme.moves.end();
    if (remade) std::get<MakeCreases>(again->effect).replaces = true;
    if (start->recipes.empty()) {
      Move mark;
      MakeCreases made;
      made.way = CreaseWay::mark;
      made.makes = line_id;
      made.extent = Extent::pinch;
      made.spans = pinch_spans(division.layout, family, start->line, division.spec);
      mark.effect = std::move(made);
      mark.hand_sigma_mm = start->sigma_mm;
      mark.sigma_mm = start->sigma_mm;
      mark.seconds = 20;
      first.push_back(std::move(mark));
      continue;
    }
    const auto recipe = parse_recipe(sheet.outline(), start->recipes[f]);
    if (!recipe) continue;
    std::vector<int> results{recipe->results.front()};
    const Construction c = recipe->construction.reduced_to(results);
    const ConstructionErrors errors(c, division.hand.sigma_mm);
    const ElementId plan{ElementSource::start, static_cast<int>(f), 0};
    const Programme made = programme_of(c, needs_of(c, results, errors), results, division.hand, plan);
    for (const Element& e : made.elements) {
      if (e.id != item_id(plan, results[0])) division.programme.elements.push_back(e);
    }
    for (Move move : made.moves) {
      // The last crease is the line of the grid itself.
      auto* crease = std::get_if<MakeCreases>(&move.effect);
      if (crease && crease->makes == item_id(plan, results[0])) {
        crease->makes = line_id;
        crease->extent = remade ? Extent::pinch : Extent::full;
        crease->spans = remade ? pinch_spans(division.layout, family, start->line, division.spec) : line_spans;
        if (crease->spans.empty()) crease->spans = {c[results[0]].chord};
      }
      first.push_back(std::move(move));
    }
    division.start_creases += c.creases();
  }
  auto& moves = division.programme.moves;
  const auto at = moves.begin() + (division.layout.cut_first ? 1 : 0);
  division.start_moves = static_cast<int>(first.size());
  moves.insert(at, first.begin(), first.end());
}

int rounds_of(const GridPlan& plan) {
  int most = 0;
  for (const GridStep& guess : plan.steps) {
    if (guess.kind != StepKind::guess) continue;
    const auto again = std::count_if(plan.steps.begin(), plan.steps.end(), [&](const GridStep& s) {
      return s.kind != StepKind::guess && s.makes == guess.makes;
    });
    most = std::max(most, static_cast<int>(again));
  }
  return most;
}

} // namespace uc
