#include "reference/search.h"

#include "reference/look_up.h"

#include <fmt/format.h>

#include <algorithm>
#include <chrono>
#include <cmath>
#include <numeric>
#include <tuple>

namespace uc {
namespace {

using Clock = std::chrono::steady_clock;

double seconds_since(Clock::time_point start) { return std::chrono::duration<double>(Clock::now() - start).count(); }

constexpr double clean_enough_mm = 1e-6;

/// Makes candidates into routes.
class Judge {
public:
  Judge(const SheetIndex& index, const Polygon& sheet, const Target& target, const SearchOptions& options)
      : options_(options), index_(index), maker_(index, sheet, target), size_(bounding_box(sheet).size().maxCoeff()) {}

  void all_of(const Shortlist& list) {
    take(list.best(), unlimited);
    take(list.nearest(), unlimited);
    for (int creases = 1; creases <= options_.max_creases; ++creases) take(list.of(creases), unlimited);
  }

  /// The best, the nearest and the one of fewest creases by what the index says of them, nothing made yet; only for
  /// candidates that tell their own figures.
  [[nodiscard]] std::vector<Candidate> picked_from(const Shortlist& list) const {
    std::vector<Candidate> picked;
    std::vector<unsigned> folds;
    const auto pick = [&](const std::vector<Candidate>& candidates, std::size_t wanted) {
      for (const Candidate& c : candidates) {
        if (wanted == 0) break;
        if (contains(failed_, c)) continue;
        if (!contains(picked, c)) {
          const unsigned ops = folds_of(c);
          bool mirror_image = false;
          for (std::size_t i = 0; i < picked.size(); ++i)
            mirror_image = mirror_image || (folds[i] == ops && alike(picked[i], c));
          if (mirror_image) continue;
          picked.push_back(c);
          folds.push_back(ops);
        }
        --wanted;
      }
    };
    pick(list.best(), static_cast<std::size_t>(options_.top));
    pick(list.nearest(), 1);
    for (int creases = 1; creases <= options_.max_creases; ++creases) {
      const std::vector<Candidate> some = list.of(creases);
      pick(some, 1);
      if (!some.empty() && options_.weights.effort_mm == 0) break;
    }
    return picked;
  }

  /// False when one cannot be made after all; then others have to be picked.
  bool make(const std::vector<Candidate>& picked) {
    const std::size_t before = failed_.size();
    for (const Candidate& c : picked) {
      if (take({c}, 1) == 0) failed_.push_back(c);
    }
    return failed_.size() == before;
  }

  void best_of(const Shortlist& list) {
    take(list.best(), static_cast<std::size_t>(options_.top));
    take(list.nearest(), 1);
    for (int creases = 1; creases <= options_.max_creases; ++creases) {
      const bool some = take(list.of(creases), 1) > 0;
      if (some && options_.weights.effort_mm == 0) break;
    }
  }

  [[nodiscard]] std::size_t judged() const { return seen_.size(); }
  [[nodiscard]] std::size_t failed() const { return failed_.size(); }
  [[nodiscard]] std::vector<RouteDraft>& routes() { return routes_; }

private:
  static constexpr std::size_t unlimited = ~std::size_t{0};

  /// Goes through candidates in order until so many routes stand; those that stood before count too.
  std::size_t take(const std::vector<Candidate>& candidates, std::size_t wanted) {
    std::size_t good = 0;
    for (const Candidate& c : candidates) {
      if (good >= wanted) break;
      const auto before = std::find_if(seen_.begin(), seen_.end(), [&](const auto& s) { return same(s.first, c); });
      if (before != seen_.end()) {
        good += before->second;
        continue;
      }
      auto draft = maker_.draft(c, options_.sigma_mm);
      const bool fits = draft && draft->route.creases <= options_.max_creases;
      const bool fresh = fits && is_new(draft->route);
      seen_.emplace_back(c, fresh);
      good += fresh;
      if (fresh) routes_.push_back(*std::move(draft));
    }
    return good;
  }

  static bool same(const Candidate& a, const Candidate& b) {
    return a.kind == b.kind && a.line == b.line && a.extra == b.extra && a.first.packed() == b.first.packed() &&
           a.second.packed() == b.second.packed();
  }

  static bool contains(const std::vector<Candidate>& some, const Candidate& c) {
    return std::any_of(some.begin(), some.end(), [&](const Candidate& s) { return same(s, c); });
  }

  /// The same figures, as `is_new` compares them for routes.
  static bool alike(const Candidate& a, const Candidate& b) {
    return a.creases == b.creases && std::abs(std::sqrt(a.residual2) - std::sqrt(b.residual2)) < 1e-9 &&
           std::abs(a.variance - b.variance) < 1e-5 * (a.variance + b.variance);
  }

  /// How often each alignment is used, four bits each.
  [[nodiscard]] unsigned folds_of(const Candidate& c) const {
    std::array<std::uint32_t, 10> made{};
    std::size_t count = 0;
    const auto add = [&](std::uint32_t line) {
      if (line >= index_.lines().size() || std::find(made.begin(), made.begin() + count, line) != made.begin() + count)
        return;
      made[count++] = line;
    };
    for (const std::uint32_t line : {c.first.a, c.first.b, c.line}) {
      if (line >= index_.lines().size()) continue;
      for (const std::uint32_t before : index_.lines()[line].needs) add(before);
      add(line);
    }
    unsigned ops = 0;
    for (std::size_t i = 0; i < count; ++i) {
      if (const auto op = index_.lines()[made[i]].op; op > 0) ops += 1u << (4 * (op - 1u));
    }
    return ops;
  }

  /// Mirror images and other ways to the very same lines have the same figures.
  bool is_new(const Route& route) {
    unsigned ops = 0; // how often each alignment is used, four bits each
    for (const auto& item : route.construction.items()) {
      if (item.kind == ConstructionItem::Kind::crease) ops += 1u << (4 * (static_cast<unsigned>(item.op) - 1));
    }
    const auto rounded = [&](double mm) { return std::llround(mm / size_ * 1e9); };
    const Figures figures{rounded(route.error_mm), rounded(route.sigma_mm), route.creases, ops};
    if (std::find(alike_.begin(), alike_.end(), figures) != alike_.end()) return false;
    alike_.push_back(figures);
    return true;
  }

  using Figures = std::tuple<long long, long long, int, unsigned>;
  const SearchOptions& options_;
  const SheetIndex& index_;
  RouteMaker maker_;
  double size_;
  std::vector<std::pair<Candidate, bool>> seen_;
  std::vector<Candidate> failed_;
  std::vector<Figures> alike_;
  std::vector<RouteDraft> routes_;
};

bool inside(const Box& box, const Point& p) {
  return p.x() > box.low.x() && p.x() < box.high.x() && p.y() > box.low.y() && p.y() < box.high.y();
}

/// Which routes are shown, best first: the best by rank, the one of least error, one of fewest creases.
std::vector<std::size_t> ranked(const std::vector<RouteDraft>& routes, const SearchOptions& options) {
  std::vector<std::size_t> order(routes.size());
  std::iota(order.begin(), order.end(), std::size_t{0});
  std::vector<double> ranks;
  ranks.reserve(routes.size());
  for (const RouteDraft& r : routes) ranks.push_back(rank_of(r.route, options.weights));
  const auto before = [&](std::size_t a, std::size_t b) {
    if (std::abs(ranks[a] - ranks[b]) > 1e-9 * (std::abs(ranks[a]) + std::abs(ranks[b]))) return ranks[a] < ranks[b];
    return routes[a].route.creases < routes[b].route.creases;
  };
  std::stable_sort(order.begin(), order.end(), before);
  const auto keep = static_cast<std::size_t>(options.top);
  if (order.size() <= keep) return order;
  const auto least = std::min_element(order.begin(), order.end(), [&](std::size_t a, std::size_t b) {
    return routes[a].route.error_mm < routes[b].route.error_mm - 1e-12;
  });
  const auto fewest = std::min_element(order.begin(), order.end(), [&](std::size_t a, std::size_t b) {
    return routes[a].route.creases < routes[b].route.creases;
  });
  std::vector<std::size_t> extra;
  const auto beyond = [&](auto i) { return static_cast<std::size_t>(i - order.begin()) >= keep; };
  if (beyond(least)) extra.push_back(*least);
  if (beyond(fewest) && fewest != least) extra.push_back(*fewest);
  order.resize(keep);
  order.insert(order.end(), extra.begin(), extra.end());
  std::stable_sort(order.begin(), order.end(), before);
  return order;
}

} // namespace

double rank_of(const Route& route, const RouteWeights& weights) {
  return route.total_mm() + weights.effort_mm * route.creases + weights.scar * route.scar_mm -
         (route.exact ? weights.exact_mm : 0);
}

Status check_search(const Polygon& sheet, const Target& target, const SearchOptions& options) {
  if (options.max_creases < 1 || options.max_creases > most_route_creases)
    return Error{
        fmt::format("A limit of {} creases cannot be used; type 1 to {}.", options.max_creases, most_route_creases)};
  if (options.top < 1 || options.top > 100)
    return Error{fmt::format("{} routes cannot be listed; type 1 to 100.", options.top)};
  if (!(options.sigma_mm >= 0.001 && options.sigma_mm <= 100))
    return Error{"Your hand's error must be 0.001 to 100 mm."};
  if (target.kind == Target::Kind::mark || target.kind == Target::Kind::point) {
    for (const Point& corner : sheet) {
      if ((corner - target.point).norm() < 1e-9 * bounding_box(sheet).size().norm())
        return Error{"This point is a corner of the sheet; nothing has to be folded for it."};
    }
  }
  for (std::size_t i = 0; i < sheet.size() && target.kind == Target::Kind::line; ++i) {
    const Line edge = Line::through(sheet[i], sheet[(i + 1) % sheet.size()]);
    const double most = std::max(std::abs(edge.distance(target.ends.from)), std::abs(edge.distance(target.ends.to)));
    if (most < 1e-9 * bounding_box(sheet).size().norm())
      return Error{"This line is an edge of the sheet; nothing has to be folded for it."};
  }
  for (const Box& box : options.keep_clean) {
    const Box whole = bounding_box(sheet);
    if (box.low.x() <= whole.low.x() && box.low.y() <= whole.low.y() && box.high.x() >= whole.high.x() &&
        box.high.y() >= whole.high.y())
      return Error{"The area to keep clean covers the whole sheet; leave some of it free."};
    const bool point = target.kind == Target::Kind::mark || target.kind == Target::Kind::point;
    if (point && inside(box, target.point))
      return Error{"The mark lies inside an area to keep clean; move one of the two."};
    if (target.kind == Target::Kind::line) {
      double free_mm = 0;
      for (const Segment& s : outside(target.ends, box)) free_mm += s.length();
      if (free_mm < target.ends.length() - 1e-6)
        return Error{"The line runs through an area to keep clean; move one of the two."};
    }
  }
  return Done{};
}

Result<std::vector<Route>> find_routes(const SheetIndex& index, const Polygon& sheet, const Target& target,
                                       const SearchOptions& options, SearchFigures* figures) {
  if (const auto ok = check_search(sheet, target, options); !ok) return Error{ok.error()};
  const auto start = Clock::now();
  // Areas and scars are known only when a route is told in full.
  const bool full = !options.keep_clean.empty() || options.weights.scar != 0;
  const bool few = options.max_creases <= most_point_creases && !full;
  Shortlist list(options.top);
  const double combining = look_up(index, sheet, target, options, list);
  const double look_up_seconds = seconds_since(start) - combining;
  Judge judge(index, sheet, target, options);
  double picked_seconds = 0;
  if (few && list.knows_all()) {
    for (bool made = false; !made;) {
      const std::vector<Candidate> picked = judge.picked_from(list);
      picked_seconds = seconds_since(start);
      made = judge.make(picked);
    }
  } else {
    few ? judge.best_of(list) : judge.all_of(list);
  }
  std::vector<RouteDraft>& routes = judge.routes();
  if (routes.empty()) {
    return Error{fmt::format("Nothing comes near this with at most {} crease{}; allow more.", options.max_creases,
                             options.max_creases == 1 ? "" : "s")};
  }
  if (full) {
    for (RouteDraft& r : routes) finish(r, options.keep_clean);
    const auto least = std::min_element(routes.begin(), routes.end(), [](const RouteDraft& a, const RouteDraft& b) {
      return a.route.clean_mm < b.route.clean_mm;
    });
    if (least->route.clean_mm >= clean_enough_mm) {
      return Error{
          fmt::format("No route with at most {} creases leaves the areas clean; the cleanest puts {} mm of crease "
                      "in them. Allow more creases or make the areas smaller.",
                      options.max_creases, format_number(least->route.clean_mm, 1))};
    }
    std::erase_if(routes, [](const RouteDraft& r) { return r.route.clean_mm >= clean_enough_mm; });
  }
  const std::vector<std::size_t> shown = ranked(routes, options);
  if (picked_seconds == 0) picked_seconds = seconds_since(start);
  std::vector<Route> out;
  out.reserve(shown.size());
  for (const std::size_t i : shown) {
    if (!full) finish(routes[i], options.keep_clean);
    out.push_back(std::move(routes[i].route));
  }
  if (figures) *figures = {look_up_seconds, picked_seconds, seconds_since(start), judge.judged(), judge.failed()};
  return out;
}

} // namespace uc
