// Nets with tabs of convex solids: the faces in one piece, folded back on every edge between two of them, and a tab on
// one side of each edge that is cut. The net is turned to where it is largest on the sheet; edges grow with it.
#include "pattern/families/all.h"
#include "solid/expression.h"
#include "solid/named.h"
#include "solid/net.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace uc {
namespace {

/// The turn, of 0 to 180 degrees, at which a figure is largest in a box, and its size there.
std::pair<Isometry, double> best_turn(const std::vector<Point>& points, const Point& room) {
  std::pair<Isometry, double> best{Isometry::identity(), 0};
  for (int i = 0; i < 360; ++i) {
    const Isometry turn = Isometry::rotation_about(Point::Zero(), i * std::numbers::pi / 360);
    std::vector<Point> turned;
    turned.reserve(points.size());
    for (const Point& p : points) turned.push_back(turn * p);
    const Point size = bounding_box(turned).size();
    const double scale = std::min(room.x() / size.x(), room.y() / size.y());
    if (scale > best.second * (1 + 1e-9)) best = {turn, scale};
  }
  return best;
}

Result<FamilyDrawing> net_on(const Polyhedron& solid, double tab, const Polygon& sheet) {
  const auto net = net_of(solid, tab);
  if (!net) return Error{net.error()};
  std::vector<Point> points;
  for (const Polygon& f : net->faces) points.insert(points.end(), f.begin(), f.end());
  for (const Polygon& t : net->tabs) points.insert(points.end(), t.begin(), t.end());
  const Box room = bounding_box(sheet);
  const auto [turn, scale] = best_turn(points, room.size());
  for (Point& p : points) p = turn * p;
  const Point shift = room.centre() - scale * bounding_box(points).centre();
  CreasePattern pattern;
  std::vector<double> full;
  std::vector<CreaseGoals> goals; // tabs first, then the faces
  const auto put = [&, turn = turn, scale = scale](const Point& from, const Point& to, EdgeKind kind,
                                                   double full_deg = 180, int stage = 0) {
    full.push_back(full_deg);
    goals.push_back(stage > 0 ? CreaseGoals{{stage, full_deg}} : CreaseGoals{});
    const int v = static_cast<int>(pattern.vertices.size());
    pattern.vertices.push_back(scale * (turn * from) + shift);
    pattern.vertices.push_back(scale * (turn * to) + shift);
    pattern.edges.push_back({v, v + 1, kind});
  };
  for (std::size_t i = 0; i < net->folds.size(); ++i)
    put(net->folds[i].from, net->folds[i].to, EdgeKind::mountain, net->fold_deg[i], 2);
  for (std::size_t i = 0; i < net->tabbed.size(); ++i)
    put(net->tabbed[i].from, net->tabbed[i].to, EdgeKind::mountain, net->tabbed_deg[i], 1);
  for (const Segment& s : net->seams) put(s.from, s.to, EdgeKind::raw);
  for (const Polygon& t : net->tabs)
    for (std::size_t i = 0; i + 1 < t.size(); ++i) put(t[i], t[i + 1], EdgeKind::raw);
  FamilyDrawing out;
  out.design.count = 1;
  out.design.base = std::make_shared<const CreasePattern>(std::move(pattern));
  out.design.base_full_deg = std::move(full);
  out.design.base_goals = std::move(goals);
  HeldFlat base{"base face", {}};
  const auto largest = std::max_element(net->faces.begin(), net->faces.end(), [](const Polygon& a, const Polygon& b) {
    return signed_area(a) < signed_area(b);
  });
  for (const Point& p : *largest) base.part.push_back(scale * (turn * p) + shift);
  out.held.push_back(std::move(base));
  const double across = scale * diameter(solid);
  out.figures.pleat_mm = scale * std::min(tab, 0.3 * shortest_edge(solid));
  out.figures.more = {{"edge_mm", scale * shortest_edge(solid)},
                      {"diameter_mm", across},
                      {"tabs", static_cast<double>(net->tabs.size())},
                      {"edges_without_tab", static_cast<double>(net->without_tab)}};
  return out;
}

std::vector<std::string> solids_with_nets() {
  // The Platonic and Archimedean ones; their duals have needles that leave no room for tabs.
  return {named_solids().begin(), named_solids().begin() + 18};
}

Result<FamilyDrawing> draw_net(const ParameterValues& values, const Polygon& sheet) {
  const auto solid = parse_solid(solids_with_nets()[static_cast<std::size_t>(values.at("solid"))]);
  if (!solid) return Error{solid.error()};
  return net_on(*solid, values.at("tab"), sheet);
}

Result<FamilyDrawing> draw_prism(const ParameterValues& values, const Polygon& sheet) {
  auto solid = parse_solid(fmt::format("prism:{}", static_cast<int>(values.at("sides"))));
  if (!solid) return Error{solid.error()};
  Polyhedron p = std::move(solid).value();
  for (Point3& v : p.vertices) v.z() *= values.at("height");
  return net_on(p, values.at("tab"), sheet);
}

/// Two pyramids on one polygon.
Result<FamilyDrawing> draw_dipyramid(const ParameterValues& values, const Polygon& sheet) {
  const int n = static_cast<int>(values.at("sides"));
  Polyhedron p;
  const double r = 0.5 / std::sin(std::numbers::pi / n);
  for (int i = 0; i < n; ++i) {
    const double angle = 2 * std::numbers::pi * i / n;
    p.vertices.emplace_back(r * std::cos(angle), r * std::sin(angle), 0);
    const VertexId here(i);
    const VertexId next((i + 1) % n);
    p.faces.push_back({here, next, VertexId(n)});
    p.faces.push_back({next, here, VertexId(n + 1)});
  }
  p.vertices.emplace_back(0, 0, values.at("height"));
  p.vertices.emplace_back(0, 0, -values.at("height"));
  return net_on(p, values.at("tab"), sheet);
}

Parameter tab() {
  return {"tab", "Tab", ParameterType::number, 0.05, 0.3, 0.2, "Its width over the length of an edge."};
}
Parameter sides(int least) {
  return {"sides", "Sides", ParameterType::integer, static_cast<double>(least), 12, 6, "Of the polygon it stands on."};
}

} // namespace

PatternFamily net_family() {
  const auto names = solids_with_nets();
  return {"net",
          "Net of a solid",
          FamilyGroup::solid,
          false,
          {{"solid", "Solid", ParameterType::choice, 0, static_cast<double>(names.size()) - 1, 4, "Which it closes to.",
            names},
           tab()},
          draw_net};
}

PatternFamily prism_family() {
  return {"prism",
          "Prism from one sheet",
          FamilyGroup::solid,
          false,
          {sides(3), {"height", "Height", ParameterType::number, 0.2, 5, 1.2, "Over the side of the polygon."}, tab()},
          draw_prism};
}

PatternFamily dipyramid_family() {
  return {"dipyramid",
          "Dipyramid from one sheet",
          FamilyGroup::solid,
          false,
          {sides(3), {"height", "Height", ParameterType::number, 0.4, 4, 1, "Of each half, over the side."}, tab()},
          draw_dipyramid};
}

} // namespace uc
