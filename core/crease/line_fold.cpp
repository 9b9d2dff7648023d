#include "crease/line_fold.h"

#include <algorithm>
#include <cmath>

namespace uc {
namespace {

constexpr std::size_t most_ways = 6;   // of two lines crossing at one place
constexpr std::size_t most_places = 4; // from either end of a line
constexpr std::size_t most_pairs = 5;  // of lines brought together that are worked out exactly

/// Two marks nearer to each other, or lines that meet along less, guide no fold; as a share of the sheet's diagonal.
constexpr double least_reach = 0.04;

/// A fold through two marks or of a line onto a line is easier than the others, which must be this much better.
double ease(const LineFold& fold) {
  return !fold.landing && (fold.op == Alignment::O1 || fold.op == Alignment::O3) ? 1 : 0.95;
}

long long key_of(long long turn, long long offset) { return turn * 4'000'003LL + offset; }

} // namespace

LineFoldFinder::LineFoldFinder(const Construction& construction, std::vector<int> present, double sigma_mm,
                               double tolerance)
    : c_(construction), present_(std::move(present)), sigma_(sigma_mm), tolerance_(tolerance),
      extent_(bounding_box(construction.sheet()).size().norm()), errors_(construction, sigma_mm) {
  for (const int item : present_) {
    const Line line = c_[item].line.in_one_sense();
    const double turn = std::atan2(line.normal.y(), line.normal.x()) * extent_ / (8 * tolerance_);
    by_place_.emplace(key_of(std::llround(turn), std::llround(line.c / (8 * tolerance_))), item);
  }
}

int LineFoldFinder::line_at(const Line& wanted) const {
  const Line line = wanted.in_one_sense();
  const double turn = std::atan2(line.normal.y(), line.normal.x()) * extent_ / (8 * tolerance_);
  const double offset = line.c / (8 * tolerance_);
  // Of what is as near as asked for below, the cells are at most a quarter and a half of a cell away.
  for (long long a = std::llround(turn - 0.3); a <= std::llround(turn + 0.3); ++a) {
    for (long long b = std::llround(offset - 0.6); b <= std::llround(offset + 0.6); ++b) {
      const auto [from, to] = by_place_.equal_range(key_of(a, b));
      for (auto it = from; it != to; ++it) {
        const Line have = c_[it->second].line.in_one_sense();
        if ((have.normal - line.normal).norm() * extent_ < 2 * tolerance_ && std::abs(have.c - line.c) < 4 * tolerance_)
          return it->second;
      }
    }
  }
  return -1;
}

LineFoldFinder::Rows LineFoldFinder::rows_of(const SeenPlace& place) const {
  if (place.corner >= 0) return Rows::Zero(2, errors_.of(0).cols());
  const auto d = crossing_sensitivity(c_[place.lines[0]].line, c_[place.lines[1]].line, place.at);
  return d->leftCols<2>() * errors_.of(place.lines[0]) + d->rightCols<2>() * errors_.of(place.lines[1]);
}

std::vector<LineFoldFinder::Place> LineFoldFinder::places_on(const Line& target, const Segment& chord) const {
  const Point along = target.direction();
  const double low = std::min(along.dot(chord.from), along.dot(chord.to)) - tolerance_;
  const double high = std::max(along.dot(chord.from), along.dot(chord.to)) + tolerance_;
  std::vector<std::pair<double, int>> crossings;
  for (const int item : present_) {
    const Line& line = c_[item].line;
    const double across = std::abs(line.normal.x() * target.normal.y() - line.normal.y() * target.normal.x());
    if (across < 0.05) continue; // shallower than 3 degrees nobody sees where they cross
    const auto p = target.crossing(line);
    const double t = along.dot(*p);
    if (t >= low && t <= high) crossings.emplace_back(t, item);
  }
  std::sort(crossings.begin(), crossings.end());
  std::vector<Place> places;
  for (std::size_t i = 0; i < crossings.size();) {
    std::size_t end = i + 1;
    while (end < crossings.size() && crossings[end].first - crossings[end - 1].first < tolerance_) ++end;
    Place place;
    place.along = crossings[i].first;
    const Point at = target.normal * target.c + place.along * along;
    for (int corner = 0; corner < c_.corners(); ++corner) {
      if ((c_.sheet()[static_cast<std::size_t>(corner)] - at).norm() < 2 * tolerance_)
        place.ways = {{c_.sheet()[static_cast<std::size_t>(corner)], corner, {-1, -1}}};
    }
    for (std::size_t a = i; a < end && place.ways.size() < most_ways; ++a) {
      for (std::size_t b = a + 1; b < end && place.ways.size() < most_ways; ++b) {
        const Line& l = c_[crossings[a].second].line;
        const Line& m = c_[crossings[b].second].line;
        if (std::abs(l.normal.x() * m.normal.y() - l.normal.y() * m.normal.x()) < 0.2) continue;
        if (const auto p = l.crossing(m)) place.ways.push_back({*p, -1, {crossings[a].second, crossings[b].second}});
      }
    }
    if (!place.ways.empty()) places.push_back(std::move(place));
    i = end;
  }
  return places;
}

void LineFoldFinder::settle(Place& place, const Line& target) const {
  if (place.variance >= 0) return;
  place.variance = 1e300;
  for (const SeenPlace& way : place.ways) {
    const double v = (target.normal.transpose() * rows_of(way)).squaredNorm();
    if (v < place.variance) place.variance = v, place.best = way;
  }
}

std::optional<SeenPlace> LineFoldFinder::place_at(const Point& p) const {
  for (int corner = 0; corner < c_.corners(); ++corner) {
    if ((c_.sheet()[static_cast<std::size_t>(corner)] - p).norm() < 2 * tolerance_)
      return SeenPlace{c_.sheet()[static_cast<std::size_t>(corner)], corner, {-1, -1}};
  }
  for (int edge = 0; edge < c_.corners(); ++edge) {
    const auto [low, high] = support(c_.sheet(), c_[c_.edge(edge)].line.normal);
    const double at = c_[c_.edge(edge)].line.normal.dot(p);
    if (at < low - tolerance_ || at > high + tolerance_) return std::nullopt;
  }
  std::optional<SeenPlace> best;
  double least = 1e300;
  std::vector<int> through;
  for (const int item : present_) {
    if (std::abs(c_[item].line.distance(p)) < tolerance_) through.push_back(item);
  }
  for (std::size_t a = 0; a < std::min<std::size_t>(through.size(), 4); ++a) {
    for (std::size_t b = a + 1; b < std::min<std::size_t>(through.size(), 4); ++b) {
      const Line& l = c_[through[a]].line;
      const Line& m = c_[through[b]].line;
      if (std::abs(l.normal.x() * m.normal.y() - l.normal.y() * m.normal.x()) < 0.2) continue;
      const auto at = l.crossing(m);
      if (!at) continue;
      const SeenPlace place{*at, -1, {through[a], through[b]}};
      const double v = rows_of(place).squaredNorm();
      if (v < least) least = v, best = place;
    }
  }
  return best;
}

AlignmentInputs LineFoldFinder::inputs_of(const LineFold& fold) const {
  AlignmentInputs in;
  for (std::size_t i = 0; i < fold.points.size(); ++i) in.points[i] = fold.points[i].at;
  for (std::size_t i = 0; i < 2; ++i) {
    if (fold.lines[i] >= 0) in.lines[i] = c_[fold.lines[i]].line;
  }
  return in;
}

void LineFoldFinder::consider(LineFold fold, const Line& target, const Segment& wanted,
                              std::optional<LineFold>& best) const {
  const AlignmentInputs in = inputs_of(fold);
  const auto seen = contact(fold.op, in, target, c_.sheet(), 1e-7 * extent_);
  if (!seen) return;
  const auto d = sensitivity(fold.op, in, target, *seen);
  if (!d) return;
  Rows rows = Rows::Zero(2, errors_.of(0).cols());
  for (std::size_t k = 0; k < fold.points.size(); ++k)
    rows += d->inputs.middleCols<2>(2 * static_cast<Eigen::Index>(k)) * rows_of(fold.points[k]);
  for (std::size_t k = 0; k < 2; ++k) {
    if (fold.lines[k] >= 0)
      rows += d->inputs.middleCols<2>(4 + 2 * static_cast<Eigen::Index>(k)) * errors_.of(fold.lines[k]);
  }
  fold.sigma_mm = worst_of(rows, sigma_ * d->own, target, wanted);
  keep_better(std::move(fold), best);
}

/// Standard error at the worse end of what is wanted.
double LineFoldFinder::worst_of(const Rows& rows, const Eigen::Matrix2d& own, const Line& target,
                                const Segment& wanted) const {
  double worst = 0;
  for (const Point& end : {wanted.from, wanted.to}) {
    const Eigen::RowVector2d at{quarter_turned(target.normal).dot(end), -1};
    worst = std::max(worst, (at * rows).squaredNorm() + (at * own).squaredNorm());
  }
  return std::sqrt(worst);
}

void LineFoldFinder::keep_better(LineFold fold, std::optional<LineFold>& best) {
  if (!best || fold.sigma_mm / ease(fold) < best->sigma_mm / ease(*best) * (1 - 1e-9)) best = std::move(fold);
}

void LineFoldFinder::try_landings(const Line& target, const Segment& chord, const Segment& wanted,
                                  std::optional<LineFold>& best) const {
  for (const int axis : present_) {
    if (c_[axis].kind != ConstructionItem::Kind::crease) continue;
    const Line& m = c_[axis].line;
    const int moved = line_at(target.mirrored_in(m));
    if (moved < 0 || moved == axis) continue;
    const Line& l = c_[moved].line;
    // The sense in which the moved line lands decides the signs of its derivatives.
    const Line landed = l.mirrored_in(m);
    // What lands must cover what is wanted nearly, or the crease is guessed beyond it.
    const Isometry over = Isometry::reflection_in(m);
    const Point along = target.direction();
    double low = 1e300;
    double high = -1e300;
    for (const Point& end : {c_[moved].chord.from, c_[moved].chord.to}) {
      low = std::min(low, along.dot(over * end));
      high = std::max(high, along.dot(over * end));
    }
    low = std::max(low, std::min(along.dot(chord.from), along.dot(chord.to)));
    high = std::min(high, std::max(along.dot(chord.from), along.dot(chord.to)));
    if (high - low < least_reach * extent_) continue;
    const auto d = landing_sensitivity(l, m);
    const Rows rows = d.leftCols<2>() * errors_.of(moved) + d.rightCols<2>() * errors_.of(axis);
    LineFold fold;
    fold.landing = true;
    fold.lines = {moved, axis};
    fold.sigma_mm = worst_of(rows, sigma_ * by_two_ends(landed, chord.from, chord.to), landed, wanted);
    keep_better(std::move(fold), best);
  }
}

void LineFoldFinder::try_two_points(std::vector<Place>& places, const Line& target, const Segment& wanted,
                                    std::optional<LineFold>& best) const {
  const Point along = target.direction();
  const double a = along.dot(wanted.from);
  const double b = along.dot(wanted.to);
  // Candidates: from both ends of the sheet inward, and those next to the ends of what is wanted.
  std::vector<std::size_t> chosen;
  const auto choose = [&](std::size_t i) {
    if (std::find(chosen.begin(), chosen.end(), i) == chosen.end()) chosen.push_back(i);
  };
  for (std::size_t i = 0; i < std::min(most_places, places.size()); ++i) choose(i), choose(places.size() - 1 - i);
  for (const double end : {a, b}) {
    const auto nearest = std::min_element(places.begin(), places.end(), [&](const Place& p, const Place& q) {
      return std::abs(p.along - end) < std::abs(q.along - end);
    });
    if (nearest != places.end()) choose(static_cast<std::size_t>(nearest - places.begin()));
  }
  for (const std::size_t i : chosen) settle(places[i], target);
  std::vector<std::pair<double, std::array<std::size_t, 2>>> pairs;
  for (const std::size_t i : chosen) {
    for (const std::size_t j : chosen) {
      const double reach = places[j].along - places[i].along;
      if (reach < least_reach * extent_) continue;
      double worst = 0;
      for (const double end : {a, b}) {
        const double u = (end - places[i].along) / reach;
        worst = std::max(worst, (1 - u) * (1 - u) * (places[i].variance + sigma_ * sigma_) +
                                    u * u * (places[j].variance + sigma_ * sigma_));
      }
      pairs.push_back({worst, {i, j}});
    }
  }
  std::sort(pairs.begin(), pairs.end());
  for (std::size_t i = 0; i < std::min(most_pairs, pairs.size()); ++i) {
    const auto& [p, q] = pairs[i].second;
    consider({Alignment::O1, {places[p].best, places[q].best}, {-1, -1}, 0}, target, wanted, best);
  }
}

void LineFoldFinder::try_lines(const Line& target, const Segment& wanted, std::optional<LineFold>& best) const {
  std::vector<std::pair<double, std::array<int, 2>>> pairs;
  for (const int item : present_) {
    const Line& line = c_[item].line;
    const int image = line_at(line.mirrored_in(target));
    if (image <= item) continue;
    const AlignmentInputs in{{Point::Zero(), Point::Zero()}, {line, c_[image].line}};
    const auto seen = contact(Alignment::O3, in, target, c_.sheet(), 1e-7 * extent_);
    if (!seen) continue;
    const double length = (seen->second - seen->first).norm();
    if (length < least_reach * extent_) continue;
    const double parents = errors_.of(item).row(1).squaredNorm() + errors_.of(image).row(1).squaredNorm();
    pairs.push_back({(sigma_ * sigma_ + parents / 4) * std::pow(wanted.length() / length, 2), {item, image}});
  }
  std::sort(pairs.begin(), pairs.end());
  for (std::size_t i = 0; i < std::min(most_pairs, pairs.size()); ++i)
    consider({Alignment::O3, {}, pairs[i].second, 0}, target, wanted, best);
}

void LineFoldFinder::try_square(const std::vector<Place>& places, const Line& target, const Segment& wanted,
                                std::optional<LineFold>& best) const {
  std::vector<const Place*> good;
  for (const Place& p : places) {
    if (p.variance >= 0) good.push_back(&p);
  }
  std::sort(good.begin(), good.end(), [](const Place* a, const Place* b) { return a->variance < b->variance; });
  int tried = 0;
  for (const int item : present_) {
    if (std::abs(c_[item].line.normal.dot(target.normal)) * extent_ > tolerance_) continue;
    for (std::size_t i = 0; i < std::min<std::size_t>(2, good.size()); ++i)
      consider({Alignment::O4, {good[i]->best}, {item, -1}, 0}, target, wanted, best);
    if (++tried == 6) break;
  }
}

void LineFoldFinder::try_corners(const std::vector<Place>& places, const Line& target, const Segment& wanted,
                                 std::optional<LineFold>& best) const {
  for (int corner = 0; corner < c_.corners(); ++corner) {
    const Point& p = c_.sheet()[static_cast<std::size_t>(corner)];
    if (std::abs(target.distance(p)) < 1e-3 * extent_) continue;
    const SeenPlace from{p, corner, {-1, -1}};
    const Point image = p - 2 * target.distance(p) * target.normal;
    if (const auto onto = place_at(image)) consider({Alignment::O2, {from, *onto}, {-1, -1}, 0}, target, wanted, best);
    int tried = 0;
    for (const int item : present_) {
      if (std::abs(c_[item].line.distance(image)) > tolerance_) continue;
      for (const Place& q : places) {
        if (q.variance >= 0) consider({Alignment::O5, {from, q.best}, {item, -1}, 0}, target, wanted, best);
      }
      if (++tried == 3) break;
    }
  }
}

std::optional<LineFold> LineFoldFinder::best(const Line& target, const Segment& wanted) const {
  std::optional<LineFold> found;
  const auto whole = chord(target, c_.sheet(), 1e-9 * extent_);
  if (!whole) return found;
  std::vector<Place> places = places_on(target, *whole);
  try_two_points(places, target, wanted, found);
  try_lines(target, wanted, found);
  try_landings(target, *whole, wanted, found);
  try_square(places, target, wanted, found);
  try_corners(places, target, wanted, found);
  return found;
}

} // namespace uc
