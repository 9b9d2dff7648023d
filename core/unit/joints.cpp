#include "unit/joints.h"

#include "base/index.h"

#include <algorithm>
#include <map>

namespace uc {
UnitGraph unit_graph(const Polyhedron& solid, const UnitFamily& family, const UnitSheet& sheet) {
  UnitGraph out;
  const auto edges = solid.edges();
  const auto beside = faces_beside(solid);
  const auto edge_at = [&](int a, int b) {
    const std::array<int, 2> key{std::min(a, b), std::max(a, b)};
    return static_cast<int>(std::lower_bound(edges.begin(), edges.end(), key) - edges.begin());
  };
  const auto around = rings_of(solid);
  std::map<std::array<int, 2>, int> tabs;
  const auto join = [&](int a, int b) { out.joints.push_back({std::min(a, b), std::max(a, b)}); };
  const int face_count = static_cast<int>(solid.faces.size());
  const double w = sheet.width_mm;
  const double h = family.units_per_sheet == 2 ? sheet.height_mm / 2 : sheet.height_mm;
  if (family.stands_for == StandsFor::edge) {
    for (std::size_t e = 0; e < edges.size(); ++e)
      out.units.push_back({Unit::Kind::edge, static_cast<int>(e), edges[e], w, h});
    for (int v = 0; v < static_cast<int>(around.size()); ++v) {
      UnitRing ring;
      for (const int n : around[at(v)]) ring.units.push_back(edge_at(v, n));
      out.rings.push_back(std::move(ring));
    }
    for (const auto& f : solid.faces) {
      UnitRing ring;
      for (std::size_t i = 0; i < f.size(); ++i) ring.units.push_back(edge_at(f[i], f[(i + 1) % f.size()]));
      for (std::size_t i = 0; i < ring.units.size(); ++i) {
        const int from = ring.units[i];
        const int to = ring.units[(i + 1) % ring.units.size()];
        join(from, to);
        tabs[{std::min(from, to), std::max(from, to)}] = from; // counter-clockwise round each face
      }
      out.rings.push_back(std::move(ring));
    }
  } else if (family.stands_for == StandsFor::face) {
    const double width = std::min(w, sheet.height_mm);
    for (int f = 0; f < face_count; ++f) {
      const double sides = static_cast<double>(solid.faces[at(f)].size());
      out.units.push_back({Unit::Kind::face, f, {}, family.strips ? 2 * sides * width : w, family.strips ? width : h});
    }
    if (family.strips) {
      for (std::size_t e = 0; e < edges.size(); ++e) {
        const int clip = static_cast<int>(out.units.size());
        out.units.push_back({Unit::Kind::clip, static_cast<int>(e), edges[e], 4 * width, width});
        for (const int f : beside[e]) join(f, clip);
      }
    } else {
      for (const auto& [left, right] : beside) join(left, right);
    }
    for (int v = 0; v < static_cast<int>(around.size()); ++v) {
      UnitRing ring;
      for (const int n : around[at(v)]) {
        const int e = edge_at(v, n);
        if (family.strips) ring.units.push_back(face_count + e);
        ring.units.push_back(beside[at(e)][v < n ? 0 : 1]); // the face to the left of the way out, before the next edge
      }
      out.rings.push_back(std::move(ring));
    }
  } else {
    for (int v = 0; v < static_cast<int>(solid.vertices.size()); ++v)
      out.units.push_back({Unit::Kind::vertex, v, {}, w, h});
    for (const auto& [a, b] : edges) join(a, b);
    for (const auto& f : solid.faces) out.rings.push_back({f});
  }
  std::sort(out.joints.begin(), out.joints.end());
  out.joints.erase(std::unique(out.joints.begin(), out.joints.end()), out.joints.end());
  if (!tabs.empty())
    for (const auto& joint : out.joints) out.tab_from.push_back(tabs.at(joint));
  return out;
}

} // namespace uc
