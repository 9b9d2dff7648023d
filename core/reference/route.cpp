#include "reference/route.h"

#include <fmt/format.h>

#include <algorithm>
#include <numbers>
#include <tuple>

namespace uc {
namespace {

using Kind = ConstructionItem::Kind;

double size_of(const Polygon& sheet) { return bounding_box(sheet).size().maxCoeff(); }

/// Angle between two lines, 0 to 90 degrees.
double angle_between(const Line& l, const Line& m) {
  const double s = std::abs(l.normal.x() * m.normal.y() - l.normal.y() * m.normal.x());
  return std::asin(std::min(1.0, s)) * 180 / std::numbers::pi;
}

double turn_of(const Line& line) {
  double degrees = std::atan2(line.direction().y(), line.direction().x()) * 180 / std::numbers::pi;
  if (degrees < 0) degrees += 180;
  return degrees >= 180 ? degrees - 180 : degrees;
}

/// Length of what brings the fold about: the overlap of two lines, the way a point travels, the lever of a square.
double length_of_alignment(const Construction& c, const ConstructionItem& crease) {
  if (crease.landing) return (crease.contact.second - crease.contact.first).norm();
  switch (crease.op) {
  case Alignment::O1:
  case Alignment::O3:
    return (crease.contact.second - crease.contact.first).norm();
  case Alignment::O2:
    return (c[crease.points[1]].point - c[crease.points[0]].point).norm();
  case Alignment::O4:
  case Alignment::O7:
    return 2 * crease.contact.lever;
  case Alignment::O5:
    return 2 * std::abs(crease.line.distance(c[crease.points[0]].point));
  case Alignment::O6:
    return 2 * std::min(std::abs(crease.line.distance(c[crease.points[0]].point)),
                        std::abs(crease.line.distance(c[crease.points[1]].point)));
  }
  return 0;
}

/// The rows whose squares make up the error of the result.
Eigen::MatrixXd rows_of(const Route& route, const ConstructionErrors& errors) {
  const ConstructionItem& item = route.construction[route.result];
  if (!item.is_line()) return errors.of(route.result);
  if (route.target.kind == Target::Kind::angle)
    return errors.of(route.result).row(0) * size_of(route.construction.sheet());
  const auto both = errors.distances(route.result, item.line, {route.target.ends.from, route.target.ends.to});
  return both.row(0).norm() >= both.row(1).norm() ? both.row(0) : both.row(1);
}

void find_weakest(Route& route, const ConstructionErrors& errors) {
  const Construction& c = route.construction;
  const auto rows = rows_of(route, errors);
  const auto shares = errors.shares(rows);
  for (int i = 0; i < c.size(); ++i) {
    if (shares[static_cast<std::size_t>(i)] > route.weakest_share)
      route.weakest = i, route.weakest_share = shares[static_cast<std::size_t>(i)];
  }
  if (route.weakest < 0) return;
  const ConstructionItem& weak = c[route.weakest];
  const double size = size_of(c.sheet());
  if (weak.kind == Kind::crease && length_of_alignment(c, weak) < 0.3 * size) {
    route.weakness = Weakness::short_alignment;
    return;
  }
  for (const ConstructionItem& item : c.items()) {
    if (item.kind != Kind::crossing || angle_between(c[item.lines[0]].line, c[item.lines[1]].line) >= 35) continue;
    if (item.lines[0] == route.weakest || item.lines[1] == route.weakest || &item == &c[route.result]) {
      route.weakness = Weakness::shallow_crossing;
      return;
    }
  }
  if (rows.norm() > 1.6 * errors.of(route.weakest).norm() && route.weakest != route.result)
    route.weakness = Weakness::far_reach;
}

} // namespace

const CreaseNeed* Route::need(int item) const {
  const auto at = std::find_if(needs.begin(), needs.end(), [&](const CreaseNeed& n) { return n.item == item; });
  return at == needs.end() ? nullptr : &*at;
}

std::vector<CreaseNeed> needs_of(const Construction& c, const std::vector<int>& results,
                                 const ConstructionErrors& errors) {
  struct Use {
    int line;
    double at;   // along the crease
    double half; // the length to each side that serves
    bool operator<(const Use& o) const { return std::tie(line, at, half) < std::tie(o.line, o.at, o.half); }
  };
  std::vector<Use> uses;
  std::vector<char> whole(static_cast<std::size_t>(c.size()), 0);
  const auto use_all = [&](int line) { whole[static_cast<std::size_t>(line)] = 1; };
  const auto place = [&](int line, const Point& p, double sigma) {
    if (c[line].kind != Kind::crease) return;
    // A pinch serves when what crosses it hits it almost surely.
    const double half = std::max(0.01 * size_of(c.sheet()), 1.0 + 3 * sigma);
    uses.push_back({line, c[line].line.direction().dot(p), half});
  };
  for (const int r : results) {
    if (c[r].kind == Kind::crease) use_all(r);
  }
  for (int i = 0; i < c.size(); ++i) {
    const ConstructionItem& item = c[i];
    if (item.kind == Kind::crossing) {
      for (const int line : item.lines) place(line, item.point, errors.of(i).norm());
    }
    if (item.kind != Kind::crease) continue;
    if (item.landing) {
      for (const int line : item.lines) use_all(line);
      continue;
    }
    const bool along = item.op == Alignment::O3 || item.op == Alignment::O4;
    if (along || item.op == Alignment::O7) {
      for (const int line : item.lines) {
        if (line >= 0 && (along || line == item.lines[1])) use_all(line);
      }
    }
    // A point that lands on a crease needs no more of it than the place where it lands.
    if (item.op == Alignment::O5 || item.op == Alignment::O6 || item.op == Alignment::O7) {
      for (std::size_t k = 0; k < 2; ++k) {
        const bool lands = item.points[k] >= 0 && item.lines[k] >= 0 && !(k == 1 && item.op == Alignment::O5);
        if (!lands) continue;
        place(item.lines[k], item.line.mirrored(c[item.points[k]].point), errors.of(i).row(1).norm());
      }
    }
  }
  std::sort(uses.begin(), uses.end());
  std::vector<CreaseNeed> needs;
  needs.reserve(static_cast<std::size_t>(c.creases()));
  for (int i = 0; i < c.size(); ++i) {
    const ConstructionItem& item = c[i];
    if (item.kind != Kind::crease) continue;
    CreaseNeed need{i, Extent::full, item.chord};
    auto use = std::lower_bound(uses.begin(), uses.end(), Use{i, -1e300, 0});
    if (!whole[static_cast<std::size_t>(i)] && use != uses.end() && use->line == i) {
      const Point d = item.line.direction();
      const double a = std::min(d.dot(item.chord.from), d.dot(item.chord.to));
      const double b = std::max(d.dot(item.chord.from), d.dot(item.chord.to));
      double low = 1e300;
      double high = -1e300;
      bool apart = false;
      for (; use != uses.end() && use->line == i; ++use) {
        if (high > low && use->at - use->half > high) apart = true;
        low = std::min(low, use->at - use->half);
        high = std::max(high, use->at + use->half);
      }
      low = std::max(low, a);
      high = std::min(high, b);
      if (high - low < 0.9 * (b - a)) {
        need.extent = apart ? Extent::between : Extent::pinch;
        const Point base = item.line.normal * item.line.c;
        need.span = {base + low * d, base + high * d};
      }
    }
    needs.push_back(need);
  }
  return needs;
}

double error_of(const Construction& c, int result, const Target& target) {
  const ConstructionItem& item = c[result];
  switch (target.kind) {
  case Target::Kind::mark:
  case Target::Kind::point:
    return (item.point - target.point).norm();
  case Target::Kind::line:
    return std::max(std::abs(item.line.distance(target.ends.from)), std::abs(item.line.distance(target.ends.to)));
  case Target::Kind::angle: {
    double off = std::abs(turn_of(item.line) - target.degrees);
    off = std::min(off, 180 - off);
    return size_of(c.sheet()) * std::tan(std::min(off, 89.9999) * std::numbers::pi / 180);
  }
  }
  return 0;
}

std::optional<RouteDraft> drafted(Construction construction, int result, const Target& target, double sigma_mm) {
  RouteDraft draft{{}, ConstructionErrors(construction, sigma_mm)};
  if (!draft.errors.determined()) return std::nullopt;
  Route& route = draft.route;
  route.target = target;
  route.construction = std::move(construction);
  route.result = result;
  route.error_mm = error_of(route.construction, route.result, target);
  route.exact = route.error_mm <= exact_share * size_of(route.construction.sheet());
  route.sigma_mm = rows_of(route, draft.errors).norm();
  route.creases = route.construction.creases();
  return draft;
}

void finish(RouteDraft& draft, const std::vector<Box>& keep_clean) {
  Route& route = draft.route;
  const Construction& c = route.construction;
  if (!c[route.result].is_line()) route.covariance = draft.errors.covariance(route.result);
  route.needs = needs_of(c, {route.result}, draft.errors);
  for (const CreaseNeed& need : route.needs) {
    route.pinches += need.extent == Extent::pinch;
    route.scar_mm += need.span.length();
    for (const Box& box : keep_clean) {
      double outside_mm = 0;
      for (const Segment& s : outside(need.span, box)) outside_mm += s.length();
      route.clean_mm += std::max(0.0, need.span.length() - outside_mm);
    }
  }
  find_weakest(route, draft.errors);
}

std::optional<Route> judged(const Construction& construction, int result, const Target& target,
                            const JudgeOptions& options) {
  std::vector<int> wanted{result};
  auto draft = drafted(construction.reduced_to(wanted), wanted[0], target, options.sigma_mm);
  if (!draft) return std::nullopt;
  finish(*draft, options.keep_clean);
  return std::move(draft->route);
}

std::string weakness_text(const Route& route) {
  if (route.weakest < 0) return {};
  const Construction& c = route.construction;
  switch (route.weakness) {
  case Weakness::short_alignment:
    return fmt::format("only {} mm come together there", format_number(length_of_alignment(c, c[route.weakest]), 1));
  case Weakness::shallow_crossing:
    for (const ConstructionItem& item : c.items()) {
      if (item.kind != Kind::crossing) continue;
      const double angle = angle_between(c[item.lines[0]].line, c[item.lines[1]].line);
      if (angle < 35 && (item.lines[0] == route.weakest || item.lines[1] == route.weakest || &item == &c[route.result]))
        return fmt::format("lines cross at {}° only", format_number(angle, 0));
    }
    return {};
  case Weakness::far_reach:
    return "later folds carry its error further out";
  case Weakness::none:
    break;
  }
  return {};
}

int made_again(Construction& c, const Route& route, int carrier) {
  const Construction& from = route.construction;
  std::vector<int> map(static_cast<std::size_t>(from.size()), -1);
  for (int i = 0; i < from.size(); ++i) {
    const ConstructionItem& item = from[i];
    const auto mapped = [&](const std::array<int, 2>& ids) {
      std::array<int, 2> out{-1, -1};
      for (std::size_t k = 0; k < 2; ++k) {
        if (ids[k] >= 0) out[k] = map[static_cast<std::size_t>(ids[k])];
      }
      return out;
    };
    int& here = map[static_cast<std::size_t>(i)];
    if (i < 2 * from.corners()) {
      here = i;
    } else if (item.kind == ConstructionItem::Kind::edge) {
      here = carrier;
    } else if (item.kind == ConstructionItem::Kind::crease) {
      here = c.same_line(item.line);
      if (here < 0) {
        const auto made = c.fold(item.op, mapped(item.points), mapped(item.lines), item.line);
        here = made ? *made : -1;
      }
    } else {
      const auto lines = mapped(item.lines);
      const auto made = c.cross(lines[0], lines[1]);
      here = made ? *made : -1;
    }
    if (here < 0) return -1;
  }
  return map[static_cast<std::size_t>(route.result)];
}

} // namespace uc
