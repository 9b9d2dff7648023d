#include "align/alignment.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace uc {
namespace {

constexpr double tiny = 1e-12;

Point along(const Line& l) { return l.direction(); }

/// The crease that brings p onto q; empty when they are one point.
std::optional<Line> between(const Point& p, const Point& q) {
  const Point d = q - p;
  const double length = d.norm();
  if (length < 1e-10) return std::nullopt;
  const Point n = d / length;
  return Line{n, n.dot(p + q) / 2};
}

void add_between(Creases& out, const Point& p, const Point& q) {
  if (const auto crease = between(p, q)) out.add(*crease);
}

Creases line_to_line(const Line& l, const Line& m) {
  Creases out;
  const double turn = l.normal.x() * m.normal.y() - l.normal.y() * m.normal.x();
  if (std::abs(turn) < 1e-11) {
    const double sign = l.normal.dot(m.normal) > 0 ? 1 : -1;
    if (std::abs(l.c - sign * m.c) > 1e-10) out.add({l.normal, (l.c + sign * m.c) / 2});
    return out;
  }
  for (const double sign : {1.0, -1.0}) {
    const Point n = l.normal + sign * m.normal;
    const double length = n.norm();
    out.add({n / length, (l.c + sign * m.c) / length});
  }
  return out;
}

Creases point_to_line_through(const Point& p, const Point& q, const Line& l) {
  Creases out;
  const double radius2 = (p - q).squaredNorm();
  const double off = l.distance(q);
  const double half2 = radius2 - off * off;
  if (radius2 < 1e-20 || half2 < -tiny) return out;
  const Point foot = q - off * l.normal;
  const double half = std::sqrt(std::max(0.0, half2));
  add_between(out, p, foot - half * along(l));
  if (half > 1e-9) add_between(out, p, foot + half * along(l));
  return out;
}

Creases two_points_to_two_lines(const Point& p, const Point& q, const Line& l, const Line& m) {
  // P lands on l at foot + t·d. With v = P' - P, Q lands on m when
  // (m(Q))·v² - 2 ((Q-P)·v)(m·v) + v²(m·v) = 0, a cubic in t.
  Creases out;
  const Point d = along(l);
  const Point a = -l.distance(p) * l.normal;
  const double w = m.distance(q);
  const Point g = q - p;
  const double a2 = a.squaredNorm(); // a is square to d, so v² = a² + t²
  const double ma = m.normal.dot(a);
  const double md = m.normal.dot(d);
  const double ga = g.dot(a);
  const double gd = g.dot(d);
  const Roots roots =
      real_roots(md, w + ma - 2 * gd * md, a2 * md - 2 * (ga * md + gd * ma), w * a2 + a2 * ma - 2 * ga * ma);
  for (int i = 0; i < roots.count; ++i) {
    const Point v = a + roots.at[static_cast<std::size_t>(i)] * d;
    if (v.squaredNorm() < 1e-18) continue;
    add_between(out, p, p + v);
  }
  return out;
}

Creases point_to_line_square(const Point& p, const Line& l, const Line& m) {
  Creases out;
  const double slope = l.normal.dot(along(m));
  if (std::abs(slope) < 1e-10) return out;
  add_between(out, p, p - l.distance(p) / slope * along(m));
  return out;
}

/// The overlap on m of the reflected chord of l with the chord of m.
std::optional<Segment> overlap(const Line& crease, const Line& l, const Line& m, const Polygon& sheet,
                               double tolerance) {
  const auto from = chord(l, sheet, tolerance);
  const auto onto = chord(m, sheet, tolerance);
  if (!from || !onto) return std::nullopt;
  const Isometry fold = Isometry::reflection_in(crease);
  const Point d = (onto->to - onto->from).normalized();
  double a = d.dot(fold * from->from - onto->from);
  double b = d.dot(fold * from->to - onto->from);
  if (a > b) std::swap(a, b);
  a = std::max(a, 0.0);
  b = std::min(b, onto->length());
  if (b - a < tolerance) return std::nullopt;
  return Segment{onto->from + a * d, onto->from + b * d};
}

/// Where p lands, when that is on the paper.
std::optional<Point> landing(const Line& crease, const Point& p, const Polygon& sheet, double tolerance) {
  const double off = crease.distance(p);
  if (std::abs(off) < 1000 * tolerance) return std::nullopt; // it lies there already: nothing is brought
  const Point image = p - 2 * off * crease.normal;
  for (std::size_t i = 0; i < sheet.size(); ++i) {
    const Point side = sheet[(i + 1) % sheet.size()] - sheet[i];
    const Point to = image - sheet[i];
    if (side.x() * to.y() - side.y() * to.x() < -tolerance * side.norm()) return std::nullopt;
  }
  return image;
}

/// How far a line lies on itself, on each side of a crease square to it.
double lever_of(const Line& crease, const Line& l, const Polygon& sheet, double tolerance) {
  const auto seen = chord(l, sheet, tolerance);
  if (!seen) return 0;
  const double a = crease.distance(seen->from);
  const double b = crease.distance(seen->to);
  return a * b < 0 ? std::min(std::abs(a), std::abs(b)) : 0;
}

} // namespace

Roots real_roots(double a, double b, double c, double d) {
  Roots out;
  const double scale = std::max({std::abs(a), std::abs(b), std::abs(c), std::abs(d)});
  if (scale == 0) return out;
  const auto add = [&](double t) {
    // Two steps of Newton take away what the closed form has lost.
    for (int i = 0; i < 2; ++i) {
      const double slope = (3 * a * t + 2 * b) * t + c;
      if (std::abs(slope) < 1e-9 * scale) break;
      t -= (((a * t + b) * t + c) * t + d) / slope;
    }
    for (int i = 0; i < out.count; ++i) {
      if (std::abs(out.at[static_cast<std::size_t>(i)] - t) < 1e-9 * (1 + std::abs(t))) return;
    }
    out.at[static_cast<std::size_t>(out.count++)] = t;
  };
  if (std::abs(a) < tiny * scale) {
    if (std::abs(b) < tiny * scale) {
      if (std::abs(c) >= tiny * scale) add(-d / c);
    } else {
      const double disc = c * c - 4 * b * d;
      if (disc >= -1e-13 * scale * scale) {
        const double h = -(c + std::copysign(std::sqrt(std::max(0.0, disc)), c)) / 2;
        add(h / b);
        if (std::abs(h) > tiny * scale) add(d / h);
      }
    }
  } else {
    const double p = b / (3 * a);
    const double q = c / a - 3 * p * p; // of the depressed cubic s³ + q s + r, t = s - p
    const double r = 2 * p * p * p - p * c / a + d / a;
    const double disc = r * r / 4 + q * q * q / 27;
    if (disc > 1e-14 * (r * r / 4 + std::abs(q * q * q) / 27)) {
      const double h = std::cbrt(-r / 2 - std::copysign(std::sqrt(disc), r));
      add(h - (h == 0 ? 0 : q / (3 * h)) - p);
    } else {
      const double m = 2 * std::sqrt(std::max(0.0, -q / 3));
      const double angle = m == 0 ? 0 : std::acos(std::clamp(3 * r / (q * m), -1.0, 1.0)) / 3;
      for (int k = 0; k < 3; ++k) add(m * std::cos(angle - 2 * std::numbers::pi * k / 3) - p);
    }
  }
  for (const auto& [i, k] : {std::pair<std::size_t, std::size_t>{0, 1}, {1, 2}, {0, 1}}) {
    if (static_cast<int>(k) < out.count && out.at[k] < out.at[i]) std::swap(out.at[i], out.at[k]);
  }
  return out;
}

Creases creases_of(Alignment op, const AlignmentInputs& in) {
  const auto& [p, q] = in.points;
  const auto& [l, m] = in.lines;
  Creases out;
  switch (op) {
  case Alignment::O1:
    if ((q - p).norm() > 1e-10) out.add(Line::through(p, q));
    break;
  case Alignment::O2:
    add_between(out, p, q);
    break;
  case Alignment::O3:
    return line_to_line(l, m);
  case Alignment::O4:
    out.add({along(l), along(l).dot(p)});
    break;
  case Alignment::O5:
    return point_to_line_through(p, q, l);
  case Alignment::O6:
    return two_points_to_two_lines(p, q, l, m);
  case Alignment::O7:
    return point_to_line_square(p, l, m);
  }
  return out;
}

std::optional<Segment> chord(const Line& line, const Polygon& sheet, double tolerance) {
  // Clips the line's parameter against every side (Cyrus and Beck 1978).
  const Point base = line.normal * line.c;
  const Point d = line.direction();
  double enter = -1e300;
  double leave = 1e300;
  for (std::size_t i = 0; i < sheet.size(); ++i) {
    const Point& p = sheet[i];
    const Point& q = sheet[i + 1 == sheet.size() ? 0 : i + 1];
    const double sx = q.x() - p.x();
    const double sy = q.y() - p.y();
    const double inside = sx * (base.y() - p.y()) - sy * (base.x() - p.x()); // of the base point, times |side|
    const double rate = sx * d.y() - sy * d.x();
    if (std::abs(rate) < 1e-13 * (std::abs(sx) + std::abs(sy))) {
      if (inside < -tolerance * (std::abs(sx) + std::abs(sy))) return std::nullopt;
      continue;
    }
    const double at = -inside / rate;
    if (rate > 0)
      enter = std::max(enter, at);
    else
      leave = std::min(leave, at);
  }
  if (leave - enter <= tolerance) return std::nullopt;
  return Segment{base + enter * d, base + leave * d};
}

std::optional<Contact> contact(Alignment op, const AlignmentInputs& in, const Line& crease, const Polygon& sheet,
                               double tolerance) {
  if (!chord(crease, sheet, tolerance)) return std::nullopt;
  // A crease along an edge has paper on one side only.
  const auto [low, high] = support(sheet, crease.normal);
  if (crease.c - low < 1000 * tolerance || high - crease.c < 1000 * tolerance) return std::nullopt;
  const auto& [p, q] = in.points;
  const auto& [l, m] = in.lines;
  switch (op) {
  case Alignment::O1:
  case Alignment::O2:
    if ((q - p).norm() < 1000 * tolerance) return std::nullopt;
    return Contact{p, q, 0};
  case Alignment::O3: {
    const auto seen = overlap(crease, l, m, sheet, tolerance);
    if (!seen) return std::nullopt;
    return Contact{seen->from, seen->to, 0};
  }
  case Alignment::O4: {
    const double lever = lever_of(crease, l, sheet, tolerance);
    if (lever < tolerance) return std::nullopt;
    return Contact{p, p, lever};
  }
  case Alignment::O5: {
    const auto at = landing(crease, p, sheet, tolerance);
    if (!at) return std::nullopt;
    return Contact{*at, q, 0};
  }
  case Alignment::O6: {
    const auto at = landing(crease, p, sheet, tolerance);
    const auto also = landing(crease, q, sheet, tolerance);
    if (!at || !also) return std::nullopt;
    return Contact{*at, *also, 0};
  }
  case Alignment::O7: {
    const auto at = landing(crease, p, sheet, tolerance);
    const double lever = lever_of(crease, m, sheet, tolerance);
    if (!at || lever < tolerance) return std::nullopt;
    return Contact{*at, *at, lever};
  }
  }
  return std::nullopt;
}

} // namespace uc
