// Crease patterns for tests and benchmarks, made from a few numbers.
#pragma once

#include "form/crease_pattern.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <numbers>
#include <string>
#include <vector>

namespace uc::testing {

/// columns x rows squares of 10 mm; `kind(i, j, vertical)` for the crease that starts at grid point i, j.
inline CreasePattern map_pattern(
    int columns, int rows,
    const std::function<EdgeKind(int, int, bool)>& kind = [](int, int, bool) { return EdgeKind::undirected; }) {
  CreasePattern p;
  const auto id = [&](int i, int j) { return j * (columns + 1) + i; };
  for (int j = 0; j <= rows; ++j) {
    for (int i = 0; i <= columns; ++i) p.vertices.emplace_back(10.0 * i, 10.0 * j);
  }
  for (int j = 0; j <= rows; ++j) {
    for (int i = 0; i <= columns; ++i) {
      if (i < columns)
        p.edges.push_back({id(i, j), id(i + 1, j), j == 0 || j == rows ? EdgeKind::raw : kind(i, j, false)});
      if (j < rows)
        p.edges.push_back({id(i, j), id(i, j + 1), i == 0 || i == columns ? EdgeKind::raw : kind(i, j, true)});
    }
  }
  return p;
}

/// A strip 10 mm wide with undirected creases across it.
inline CreasePattern strip_pattern(double length, const std::vector<double>& creases) {
  CreasePattern p;
  std::vector<double> at{0};
  at.insert(at.end(), creases.begin(), creases.end());
  at.push_back(length);
  for (const double x : at) p.vertices.insert(p.vertices.end(), {{x, 0}, {x, 10}});
  for (int i = 0; i < static_cast<int>(at.size()); ++i) {
    const bool end = i == 0 || i + 1 == static_cast<int>(at.size());
    p.edges.push_back({2 * i, 2 * i + 1, end ? EdgeKind::raw : EdgeKind::undirected});
    if (i == 0) continue;
    p.edges.push_back({2 * i - 2, 2 * i, EdgeKind::raw});
    p.edges.push_back({2 * i - 1, 2 * i + 1, EdgeKind::raw});
  }
  return p;
}

/// Columns of parallelograms leaning up and down in turn, with the angle of the small sectors.
inline CreasePattern chevron_pattern(int columns, int rows, double degrees = 60, bool directed = true) {
  const auto kind = [&](int i, int j, bool vertical) {
    if (!directed) return EdgeKind::undirected;
    const bool mountain = vertical ? (i + j) % 2 == 0 : j % 2 != 0;
    return mountain ? EdgeKind::mountain : EdgeKind::valley;
  };
  CreasePattern p = map_pattern(columns, rows, kind);
  const double lift = 10 / std::tan(degrees * std::numbers::pi / 180);
  for (std::size_t v = 0; v < p.vertices.size(); ++v) {
    if (v % static_cast<std::size_t>(columns + 1) % 2) p.vertices[v].y() += lift;
  }
  return p;
}

/// One vertex in a square of 100 mm, with creases to its edges; kinds by letter M, V, U; sectors follow their crease.
inline CreasePattern vertex_pattern(const std::vector<double>& sectors, const std::string& kinds) {
  CreasePattern p;
  p.vertices.emplace_back(0, 0);
  double turn = 11.3;                      // so that no crease runs to a corner
  std::vector<std::pair<double, int>> rim; // by direction: creases' ends and corners
  const auto put = [&](double degrees) {
    const double r = degrees * std::numbers::pi / 180;
    const Point d{std::cos(r), std::sin(r)};
    rim.emplace_back(std::fmod(degrees, 360), static_cast<int>(p.vertices.size()));
    p.vertices.push_back(50 / d.cwiseAbs().maxCoeff() * d);
  };
  for (std::size_t i = 0; i < sectors.size(); ++i) {
    put(turn);
    turn += sectors[i];
    const char c = kinds[i];
    p.edges.push_back({0, static_cast<int>(i) + 1,
                       c == 'M'   ? EdgeKind::mountain
                       : c == 'V' ? EdgeKind::valley
                                  : EdgeKind::undirected});
  }
  for (const double corner : {45.0, 135.0, 225.0, 315.0}) put(corner);
  std::sort(rim.begin(), rim.end());
  for (std::size_t i = 0; i < rim.size(); ++i)
    p.edges.push_back({rim[i].second, rim[(i + 1) % rim.size()].second, EdgeKind::raw});
  return p;
}

/// Square twists n by n, tiles of 20 mm shrunk and turned about their centres, cut off by a square sheet.
inline CreasePattern twist_pattern(int n, double shrunk = 0.5, double degrees = 30) {
  const double side = 20;
  const double r = degrees * std::numbers::pi / 180;
  CreasePattern p;
  const auto corner = [&](int i, int j, int dx, int dy) {
    const Point centre{side * (i + 0.5), side * (j + 0.5)};
    const Point arm = shrunk * side / 2 * Point{2 * dx - 1, 2 * dy - 1};
    return Point{centre.x() + arm.x() * std::cos(r) - arm.y() * std::sin(r),
                 centre.y() + arm.x() * std::sin(r) + arm.y() * std::cos(r)};
  };
  const double low = 0;
  const double high = side * n;
  const auto add = [&](Point a, Point b) {
    // Liang and Barsky 1984.
    double t0 = 0;
    double t1 = 1;
    const Point d = b - a;
    for (int axis = 0; axis < 2; ++axis) {
      for (const bool upper : {false, true}) {
        const double slope = upper ? d[axis] : -d[axis];
        const double room = upper ? high - a[axis] : a[axis] - low;
        if (std::abs(slope) < 1e-12) {
          if (room < 0) return;
        } else if (slope > 0) {
          t1 = std::min(t1, room / slope);
        } else {
          t0 = std::max(t0, room / slope);
        }
      }
    }
    if (t1 - t0 < 1e-9) return;
    const int v = static_cast<int>(p.vertices.size());
    p.vertices.push_back(a + t0 * d);
    p.vertices.push_back(a + t1 * d);
    p.edges.push_back({v, v + 1, EdgeKind::undirected});
  };
  for (int i = -1; i <= n; ++i) {
    for (int j = -1; j <= n; ++j) {
      add(corner(i, j, 0, 0), corner(i, j, 1, 0));
      add(corner(i, j, 1, 0), corner(i, j, 1, 1));
      add(corner(i, j, 1, 1), corner(i, j, 0, 1));
      add(corner(i, j, 0, 1), corner(i, j, 0, 0));
      add(corner(i, j, 1, 0), corner(i + 1, j, 0, 0));
      add(corner(i, j, 1, 1), corner(i + 1, j, 0, 1));
      add(corner(i, j, 0, 1), corner(i, j + 1, 0, 0));
      add(corner(i, j, 1, 1), corner(i, j + 1, 1, 0));
    }
  }
  const int v = static_cast<int>(p.vertices.size());
  for (const Point& c : {Point{low, low}, Point{high, low}, Point{high, high}, Point{low, high}})
    p.vertices.push_back(c);
  for (int k = 0; k < 4; ++k) p.edges.push_back({v + k, v + (k + 1) % 4, EdgeKind::raw});
  return healed(p).pattern;
}

} // namespace uc::testing
