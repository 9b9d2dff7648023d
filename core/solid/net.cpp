#include "solid/net.h"

#include "base/index.h"

#include <algorithm>
#include <cmath>
#include <deque>

namespace uc {
namespace {

/// Whether two convex polygons share more than their rims (separating axes).
bool overlap(const Polygon& a, const Polygon& b, double tolerance) {
  for (const auto* p : {&a, &b}) {
    for (std::size_t i = 0; i < p->size(); ++i) {
      const Point side = (*p)[(i + 1) % p->size()] - (*p)[i];
      const Point out = Point{side.y(), -side.x()}.normalized();
      const auto [low_a, high_a] = support(a, out);
      const auto [low_b, high_b] = support(b, out);
      if (std::min(high_a, high_b) - std::max(low_a, low_b) < tolerance) return false;
    }
  }
  return true;
}

struct Laid {
  std::vector<Polygon> faces;
  std::vector<std::array<VertexId, 2>> tree; // edges that fold
};

/// A face in the plane with the edge `from` - `to` of it between two given points.
Polygon laid(const Polyhedron& s, FaceId face, VertexId from, VertexId to, const Point& p, const Point& q) {
  const Point3& origin = s.vertices[at(from)];
  const Point3 x = (s.vertices[at(to)] - origin).normalized();
  const Point3 y = s.normal_of(face).cross(x);
  const Point along = (q - p).normalized();
  const Point up{-along.y(), along.x()};
  Polygon out;
  for (const VertexId v : s.faces[at(face)]) {
    const Point3 d = s.vertices[at(v)] - origin;
    out.push_back(p + d.dot(x) * along + d.dot(y) * up);
  }
  return out;
}

std::size_t place_in(const std::vector<VertexId>& face, VertexId vertex) {
  return static_cast<std::size_t>(std::find(face.begin(), face.end(), vertex) - face.begin());
}

/// Breadth first from a face; empty faces when it overlaps itself.
Laid laid_from(const Polyhedron& s, FaceId root, const std::vector<std::array<VertexId, 2>>& edges,
               const std::vector<std::array<FaceId, 2>>& beside, double tolerance) {
  Laid out;
  out.faces.resize(s.faces.size());
  const auto& first = s.faces[at(root)];
  const double length = (s.vertices[at(first[1])] - s.vertices[at(first[0])]).norm();
  out.faces[at(root)] = laid(s, root, first[0], first[1], {0, 0}, {length, 0});
  std::deque<FaceId> open{root};
  std::vector<FaceId> done{root};
  while (!open.empty()) {
    const FaceId f = open.front();
    open.pop_front();
    const auto& face = s.faces[at(f)];
    for (std::size_t i = 0; i < face.size(); ++i) {
      const VertexId a = face[i];
      const VertexId b = face[(i + 1) % face.size()];
      const std::array<VertexId, 2> key{std::min(a, b), std::max(a, b)};
      const auto e = static_cast<std::size_t>(std::lower_bound(edges.begin(), edges.end(), key) - edges.begin());
      const FaceId g = beside[e][0] == f ? beside[e][1] : beside[e][0];
      if (!out.faces[at(g)].empty()) continue;
      Polygon placed = laid(s, g, b, a, out.faces[at(f)][(i + 1) % face.size()], out.faces[at(f)][i]);
      if (std::any_of(done.begin(), done.end(), [&](FaceId d) { return overlap(placed, out.faces[at(d)], tolerance); }))
        continue; // another neighbour may have room for it
      out.faces[at(g)] = std::move(placed);
      out.tree.push_back(key);
      open.push_back(g);
      done.push_back(g);
    }
  }
  if (done.size() != s.faces.size()) out.faces.clear();
  return out;
}

Polygon tab_on(const Point& from, const Point& to, double width) {
  const Point along = (to - from).normalized();
  const Point out{along.y(), -along.x()};
  const double w = std::min(width, 0.3 * (to - from).norm());
  return {from, from + w * (along + out), to + w * (out - along), to};
}

} // namespace

Result<Net> net_of(const Polyhedron& solid, double tab) {
  const auto edges = solid.edges();
  const auto beside = faces_beside(solid);
  const auto dihedral = dihedral_degrees(solid);
  const double tolerance = 1e-7 * shortest_edge(solid);
  Laid best;
  for (FaceId root(0); at(root) < solid.faces.size() && best.faces.empty(); ++root)
    best = laid_from(solid, root, edges, beside, tolerance);
  if (best.faces.empty()) return Error{"no net without overlaps was found; make it of two halves"};
  Net out;
  out.faces = best.faces;
  std::vector<std::array<VertexId, 2>> tree = best.tree;
  std::sort(tree.begin(), tree.end());
  for (std::size_t e = 0; e < edges.size(); ++e) {
    const auto side = [&](int which) { // from and to as the face runs
      const FaceId f = beside[e][at(which)];
      const auto& face = solid.faces[at(f)];
      const VertexId first = which == 0 ? edges[e][0] : edges[e][1];
      const VertexId second = which == 0 ? edges[e][1] : edges[e][0];
      return Segment{out.faces[at(f)][place_in(face, first)], out.faces[at(f)][place_in(face, second)]};
    };
    if (std::binary_search(tree.begin(), tree.end(), edges[e])) {
      out.folds.push_back(side(0));
      out.fold_deg.push_back(180 - dihedral[e]);
      continue;
    }
    int tabbed = -1;
    for (int which = 0; which < 2 && tabbed < 0; ++which) {
      Polygon tried = tab_on(side(which).from, side(which).to, tab);
      // Counter-clockwise for the test: the tab lies to the right of the edge.
      Polygon turned(tried.rbegin(), tried.rend());
      if (signed_area(turned) < 0) std::reverse(turned.begin(), turned.end());
      const auto hits = [&](const Polygon& other) { return overlap(turned, other, tolerance); };
      const auto hits_tab = [&](Polygon other) {
        if (signed_area(other) < 0) std::reverse(other.begin(), other.end());
        return overlap(turned, other, tolerance);
      };
      if (std::any_of(out.faces.begin(), out.faces.end(), hits) ||
          std::any_of(out.tabs.begin(), out.tabs.end(), hits_tab))
        continue;
      tabbed = which;
      out.tabbed.push_back(side(which));
      out.tabbed_deg.push_back(180 - dihedral[e]);
      out.tabs.push_back(std::move(tried));
    }
    if (tabbed < 0) ++out.without_tab;
    for (int which = 0; which < 2; ++which)
      if (which != tabbed) out.seams.push_back(side(which));
  }
  return out;
}

} // namespace uc
