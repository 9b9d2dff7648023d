#include "unit/unit_shape.h"

#include "base/index.h"

namespace uc {
namespace {

constexpr double edge_band = 0.42; // of the way from an edge to the middle of its face
constexpr double clip_band = 0.3;
constexpr double clip_lift = 1.01; // so that clips show above the faces they hold

class ShapeMaker {
public:
  explicit ShapeMaker(const UnitPlan& plan) : plan_(plan), beside_(faces_beside(plan.solid)) {
    if (plan.family->tips) {
      Polyhedron unit = plan.solid;
      for (Point3& v : unit.vertices) v /= plan.edge_mm;
      for (const Point3& tip : plan.family->tips(unit)) tips_.push_back(plan.edge_mm * tip);
    }
  }

  UnitShape made() {
    for (UnitId u(0); at(u) < plan_.graph.units.size(); ++u) {
      unit_ = u;
      const Unit& unit = plan_.graph.units[at(u)];
      switch (unit.kind) {
      case Unit::Kind::edge:
        add_edge(unit);
        break;
      case Unit::Kind::clip:
        add_band(unit, clip_band, 0.25, clip_lift);
        break;
      case Unit::Kind::face:
        add_face(unit);
        break;
      case Unit::Kind::vertex:
        add_corner(unit);
        break;
      }
    }
    return std::move(shape_);
  }

private:
  [[nodiscard]] const Point3& place(VertexId v) const { return plan_.solid.vertices[at(v)]; }

  void add(const std::vector<Point3>& ring) {
    const int first = static_cast<int>(shape_.vertices.size());
    const int n = static_cast<int>(ring.size());
    shape_.vertices.insert(shape_.vertices.end(), ring.begin(), ring.end());
    for (int i = 1; i + 1 < n; ++i) shape_.facets.push_back({{first, first + i, first + i + 1}, unit_});
    for (int i = 0; i < n; ++i) shape_.rims.push_back({{first + i, first + (i + 1) % n}, unit_});
  }
  /// The corners of an edge as they run in one of its faces, counter-clockwise.
  [[nodiscard]] std::array<VertexId, 2> in_face(const Unit& unit, int side) const {
    return side == 0 ? unit.vertices : std::array{unit.vertices[1], unit.vertices[0]};
  }
  void add_edge(const Unit& unit) {
    if (tips_.empty()) return add_band(unit, edge_band, 0, 1);
    for (const int side : {0, 1}) {
      const FaceId face = beside_[at(unit.index)][at(side)];
      if (face < 0) continue;
      const auto [a, b] = in_face(unit, side);
      add({place(a), place(b), tips_[at(face)]});
    }
  }
  void add_band(const Unit& unit, double reach, double inset, double lift) {
    for (const int side : {0, 1}) {
      const FaceId face = beside_[at(unit.index)][at(side)];
      if (face < 0) continue;
      const auto [a, b] = in_face(unit, side);
      const Point3 centre = plan_.solid.centre_of(face);
      const Point3 from = place(a) + inset * (place(b) - place(a));
      const Point3 to = place(b) + inset * (place(a) - place(b));
      add({lift * from, lift * to, lift * (to + reach * (centre - to)), lift * (from + reach * (centre - from))});
    }
  }
  void add_face(const Unit& unit) {
    std::vector<Point3> ring;
    ring.reserve(plan_.solid.faces[at(unit.index)].size());
    for (const VertexId v : plan_.solid.faces[at(unit.index)]) ring.push_back(place(v));
    add(ring);
  }
  void add_corner(const Unit& unit) {
    for (FaceId f(0); at(f) < plan_.solid.faces.size(); ++f) {
      const auto& face = plan_.solid.faces[at(f)];
      for (std::size_t i = 0; i < face.size(); ++i) {
        if (face[i] != unit.index) continue;
        const Point3& here = place(face[i]);
        const Point3& next = place(face[(i + 1) % face.size()]);
        const Point3& before = place(face[(i + face.size() - 1) % face.size()]);
        add({here, (here + next) / 2, plan_.solid.centre_of(f), (here + before) / 2});
      }
    }
  }

  const UnitPlan& plan_;
  std::vector<std::array<FaceId, 2>> beside_;
  std::vector<Point3> tips_;
  UnitShape shape_;
  UnitId unit_;
};

} // namespace

UnitShape unit_shape(const UnitPlan& plan) { return ShapeMaker(plan).made(); }

Point3 unit_direction(const UnitPlan& plan, UnitId unit) {
  const Unit& u = plan.graph.units[at(unit)];
  switch (u.kind) {
  case Unit::Kind::face:
    return plan.solid.centre_of(FaceId(u.index));
  case Unit::Kind::vertex:
    return plan.solid.vertices[at(u.index)];
  case Unit::Kind::edge:
  case Unit::Kind::clip:
    break;
  }
  return (plan.solid.vertices[at(u.vertices[0])] + plan.solid.vertices[at(u.vertices[1])]) / 2;
}

} // namespace uc
