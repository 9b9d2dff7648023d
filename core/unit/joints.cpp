#include "unit/joints.h"

#include "base/index.h"

#include <algorithm>
#include <map>

namespace uc {
UnitGraph unit_graph(const Polyhedron& solid, const UnitFamily& family, const UnitSheet& sheet) {
  UnitGraph out;
  const auto edges = solid.edges();
  const auto beside = faces_beside(solid);
  const auto edge_at = [&](VertexId a, VertexId b) {
    const std::array<VertexId, 2> key{std::min(a, b), std::max(a, b)};
    return std::lower_bound(edges.begin(), edges.end(), key) - edges.begin();
  };
  const auto around = rings_of(solid);
  std::map<std::array<UnitId, 2>, UnitId> tabs;
  const auto join = [&](UnitId a, UnitId b) { out.joints.push_back({std::min(a, b), std::max(a, b)}); };
  const auto unit_of = [](int what_it_stands_for) { return UnitId(what_it_stands_for); };
  const int face_count = static_cast<int>(solid.faces.size());
  const double w = sheet.width_mm;
  const double h = family.units_per_sheet == 2 ? sheet.height_mm / 2 : sheet.height_mm;
  if (family.stands_for == StandsFor::edge) {
    for (std::size_t e = 0; e < edges.size(); ++e)
      out.units.push_back({Unit::Kind::edge, static_cast<int>(e), edges[e], w, h});
    for (VertexId v(0); at(v) < around.size(); ++v) {
      UnitRing ring;
      for (const VertexId n : around[at(v)]) ring.units.emplace_back(edge_at(v, n));
      out.rings.push_back(std::move(ring));
    }
    for (const auto& f : solid.faces) {
      UnitRing ring;
      for (std::size_t i = 0; i < f.size(); ++i) ring.units.emplace_back(edge_at(f[i], f[(i + 1) % f.size()]));
      for (std::size_t i = 0; i < ring.units.size(); ++i) {
        const UnitId from = ring.units[i];
        const UnitId to = ring.units[(i + 1) % ring.units.size()];
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
        const UnitId clip(out.units.size());
        out.units.push_back({Unit::Kind::clip, static_cast<int>(e), edges[e], 4 * width, width});
        for (const FaceId f : beside[e]) join(unit_of(f), clip);
      }
    } else {
      for (const auto& [left, right] : beside) join(unit_of(left), unit_of(right));
    }
    for (VertexId v(0); at(v) < around.size(); ++v) {
      UnitRing ring;
      for (const VertexId n : around[at(v)]) {
        const auto e = static_cast<std::size_t>(edge_at(v, n));
        if (family.strips) ring.units.emplace_back(at(face_count) + e);
        ring.units.push_back(
            unit_of(beside[e][v < n ? 0 : 1])); // the face to the left of the way out, before the next edge
      }
      out.rings.push_back(std::move(ring));
    }
  } else {
    for (VertexId v(0); at(v) < solid.vertices.size(); ++v) out.units.push_back({Unit::Kind::vertex, v, {}, w, h});
    for (const auto& [a, b] : edges) join(unit_of(a), unit_of(b));
    for (const auto& f : solid.faces) out.rings.push_back({ids_of<UnitId>(numbers_of(f))});
  }
  std::sort(out.joints.begin(), out.joints.end());
  out.joints.erase(std::unique(out.joints.begin(), out.joints.end()), out.joints.end());
  if (!tabs.empty())
    for (const auto& joint : out.joints) out.tab_from.push_back(tabs.at(joint));
  return out;
}

} // namespace uc
