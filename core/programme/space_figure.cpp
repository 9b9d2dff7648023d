#include "programme/space_figure.h"

#include "geometry/least_box.h"

#include <Eigen/Geometry>

#include <algorithm>
#include <cmath>
#include <numbers>
#include <set>

namespace uc {
namespace {

/// The state in space after this move; null while the sheet lies flat.
const std::vector<Eigen::Vector3d>* state_at(const Programme& programme, int index) {
  const int last = std::min(index, static_cast<int>(programme.moves.size()) - 1);
  for (int i = last; i >= 0; --i) {
    const auto state = space_state_after(programme.moves[static_cast<std::size_t>(i)]);
    if (!state) continue;
    if (!programme.space || *state >= static_cast<int>(programme.space->states.size())) return nullptr;
    return &programme.space->states[static_cast<std::size_t>(*state)];
  }
  return nullptr;
}

LineStyle style_of_side(EdgeKind kind) {
  switch (kind) {
  case EdgeKind::mountain:
    return LineStyle::mountain;
  case EdgeKind::valley:
    return LineStyle::valley;
  case EdgeKind::raw:
  case EdgeKind::cut:
    return LineStyle::raw_edge;
  case EdgeKind::undirected:
    return LineStyle::undirected;
  case EdgeKind::unfolded:
    break;
  }
  return LineStyle::unfolded;
}

/// How often each is among the creases a collapse drives.
std::pair<int, int> mountains_and_valleys(const Programme& programme, const Collapse& collapse) {
  const std::set<int> driven(collapse.creases.begin(), collapse.creases.end());
  std::set<int> mountains;
  std::set<int> valleys;
  for (const auto& face : programme.space->faces)
    for (std::size_t i = 0; i < face.edges.size(); ++i) {
      if (!driven.contains(face.edges[i])) continue;
      if (face.sides[i] == EdgeKind::mountain) mountains.insert(face.edges[i]);
      if (face.sides[i] == EdgeKind::valley) valleys.insert(face.edges[i]);
    }
  return {static_cast<int>(mountains.size()), static_cast<int>(valleys.size())};
}

std::string hands_at(const SpaceStates& space, const Collapse& collapse, const TextStyle& style) {
  std::string out;
  for (const std::string& sentence : hand_sentences(space, collapse))
    out += (out.empty() ? "" : " ") + style.translate(sentence.c_str());
  return out;
}

} // namespace

std::vector<std::string> hand_sentences(const SpaceStates& space, const Collapse& collapse) {
  const auto count = static_cast<int>(space.hands.size());
  if (count == 0 || collapse.stage < 1) return {};
  const int first = std::min(collapse.stage, count);
  const int last = collapse.stage < collapse.stages ? first : count;
  return {space.hands.begin() + first - 1, space.hands.begin() + last};
}

std::optional<int> space_state_after(const Move& move) {
  if (const auto* collapse = std::get_if<Collapse>(&move.effect)) return collapse->state;
  if (const auto* work = std::get_if<Work>(&move.effect)) return work->state;
  return std::nullopt;
}

bool shows_space(const Programme& programme, int index) {
  return programme.space && index >= 0 && state_at(programme, index);
}

Figure space_figure(const Programme& programme, int index) {
  Figure figure;
  figure.to_scale = false;
  const auto& vertices = *state_at(programme, index);
  std::set<int> driven; // by this move
  if (index < static_cast<int>(programme.moves.size()))
    if (const auto* c = std::get_if<Collapse>(&programme.moves[static_cast<std::size_t>(index)].effect))
      driven.insert(c->creases.begin(), c->creases.end());
  constexpr double degrees = std::numbers::pi / 180;
  const Eigen::Matrix3d view = (Eigen::AngleAxisd(-50 * degrees, Eigen::Vector3d::UnitX()) *
                                Eigen::AngleAxisd(-25 * degrees, Eigen::Vector3d::UnitZ()))
                                   .toRotationMatrix();
  std::vector<Eigen::Vector3d> seen;
  seen.reserve(vertices.size());
  for (const auto& v : vertices) seen.push_back(view * v);
  std::vector<std::pair<double, const SpaceStates::Face*>> order;
  for (const auto& face : programme.space->faces) {
    double depth = 0;
    for (const VertexId v : face.cycle)
      depth += seen[static_cast<std::size_t>(v)].z() / static_cast<double>(face.cycle.size());
    order.emplace_back(depth, &face);
  }
  std::stable_sort(order.begin(), order.end(), [](const auto& a, const auto& b) { return a.first < b.first; });
  std::vector<Point> all;
  for (const auto& [depth, face] : order) {
    FigurePatch patch;
    for (std::size_t i = 0; i < face->cycle.size(); ++i) {
      const auto& p = seen[static_cast<std::size_t>(face->cycle[i])];
      patch.outline.emplace_back(p.x(), p.y());
      patch.sides.push_back(driven.contains(face->edges[i]) ? LineStyle::fresh : style_of_side(face->sides[i]));
    }
    if (face->held) {
      Point middle = Point::Zero();
      for (const Point& p : patch.outline) middle += p / static_cast<double>(patch.outline.size());
      figure.dots.push_back(middle);
    }
    patch.coloured = signed_area(patch.outline) > 0;
    all.insert(all.end(), patch.outline.begin(), patch.outline.end());
    figure.patches.push_back(std::move(patch));
  }
  const Box box = bounding_box(all);
  figure.outline = {box.low, {box.high.x(), box.low.y()}, box.high, {box.low.x(), box.high.y()}};
  return figure;
}

std::string collapse_text(const Programme& programme, const Collapse& collapse, const TextStyle& style) {
  if (!programme.space) return say(style, "Collapse along the creases.");
  const auto [mountains, valleys] = mountains_and_valleys(programme, collapse);
  const std::string& part = programme.space->held;
  const std::string held = part.empty() ? ""
                                        : " " + say(style, "Keep the {part}, marked with a dot, flat meanwhile.",
                                                    {{"part", style.translate(part.c_str())}});
  const std::string hands = hands_at(*programme.space, collapse, style);
  const bool several = collapse.stages > 1;
  const char* phrase =
      hands.empty()
          ? (several ? "Stage {stage} of {stages}: close the creases drawn heavy, {mountains} mountains and "
                       "{valleys} valleys, little by little and all together, until it looks like this."
                     : "Close all creases, {mountains} mountains and {valleys} valleys, little by little and "
                       "all together, until it looks like this.")
          : (several ? "Stage {stage} of {stages}, the creases drawn heavy: {hands} Go on until it looks like "
                       "this, with {mountains} mountains and {valleys} valleys."
                     : "{hands} Go on until it looks like this, with {mountains} mountains and {valleys} "
                       "valleys.");
  return say(style, phrase,
             {{"stage", std::to_string(collapse.stage)},
              {"stages", std::to_string(collapse.stages)},
              {"hands", hands},
              {"mountains", std::to_string(mountains)},
              {"valleys", std::to_string(valleys)}}) +
         held;
}

std::string collapse_check(const Programme& programme, const Collapse& collapse, const TextStyle& style) {
  if (!programme.space || collapse.state >= static_cast<int>(programme.space->states.size())) return {};
  const auto* vertices = &programme.space->states[static_cast<std::size_t>(collapse.state)];
  if (vertices->empty()) return {};
  std::vector<Eigen::Vector3d> normals;
  for (const SpaceStates::Face& face : programme.space->faces) {
    const auto corner = [&](std::size_t i) { return (*vertices)[static_cast<std::size_t>(face.cycle[i])]; };
    if (face.cycle.size() > 2) normals.emplace_back((corner(1) - corner(0)).cross(corner(2) - corner(0)));
  }
  const Eigen::Vector3d box = least_box(*vertices, normals);
  const auto length = [&](double mm) { return format_length(Millimetres{mm}, style.unit); };
  const std::string size = say(style, "It just fits into a box of {width} x {depth} x {height}.",
                               {{"width", length(box.x())}, {"depth", length(box.y())}, {"height", length(box.z())}});
  if (collapse.strain < 0.005) return size;
  return size + " " +
         say(style, "The paper is stretched by up to {strain} % here: go gently.",
             {{"strain", format_number(100 * collapse.strain, 1)}});
}

} // namespace uc
