#include "collapse/closing_programme.h"

#include "base/index.h"
#include "collapse/closing.h"
#include "collapse/finer.h"
#include "collapse/held_flat.h"

#include <algorithm>
#include <map>
#include <set>

namespace uc {
namespace {

constexpr double seconds_for_a_crease = 4; // a planning figure of the house, not measured
constexpr double seconds_for_a_clip = 20;
constexpr double damp_minutes = 2;
constexpr double dry_minutes = 120;
constexpr double clip_minutes = 30;

/// The faces again from their triangles: what bounds one of them alone.
std::vector<SpaceStates::Face> faces_of(const FoldMesh& mesh, const DrawnPattern& drawn) {
  const CreasePattern& pattern = drawn.healed.pattern;
  const std::vector<char> held_triangle = held_triangles(mesh, drawn.held);
  std::set<int> held;
  std::map<std::pair<int, int>, int> edge_at;
  for (int e = 0; e < static_cast<int>(pattern.edges.size()); ++e) {
    const PatternEdge& edge = pattern.edges[at(e)];
    edge_at[{std::min(edge.from, edge.to), std::max(edge.from, edge.to)}] = e;
  }
  std::map<int, std::map<int, int>> next; // per face, from each corner on its rim
  for (std::size_t t = 0; t < mesh.triangles.size(); ++t) {
    if (held_triangle[t] != 0) held.insert(mesh.face_of[t]);
    for (std::size_t i = 0; i < 3; ++i) {
      const int a = mesh.triangles[t][i];
      const int b = mesh.triangles[t][(i + 1) % 3];
      if (edge_at.contains({std::min(a, b), std::max(a, b)})) next[mesh.face_of[t]][a] = b;
    }
  }
  std::vector<SpaceStates::Face> out;
  for (const auto& [face, after] : next) {
    SpaceStates::Face f;
    f.held = held.contains(face);
    int v = after.begin()->first;
    for (std::size_t i = 0; i < after.size(); ++i) {
      const auto it = after.find(v);
      if (it == after.end()) break;
      const int e = edge_at.at({std::min(v, it->second), std::max(v, it->second)});
      f.cycle.emplace_back(v);
      f.edges.emplace_back(e);
      f.sides.push_back(pattern.edges[at(e)].kind);
      v = it->second;
    }
    out.push_back(std::move(f));
  }
  return out;
}

/// A stage that ends, or a clip that is put on or taken off.
struct Event {
  double part = 0;
  const DriveStage* stage = nullptr;
  const ClipPlace* clip = nullptr;
  WorkWay way = WorkWay::clip;
};

/// In the order they happen; a clip that stays on to the end is taken off by whoever has looked at the piece.
std::vector<Event> events_of(const std::vector<DriveStage>& stages, const ClosingPlan& plan) {
  std::vector<Event> out;
  out.reserve(stages.size() + 2 * plan.clips.size());
  for (const DriveStage& s : stages) out.push_back({s.to, &s, nullptr, WorkWay::clip});
  for (const ClipPlace& c : plan.clips) {
    out.push_back({c.from, nullptr, &c, WorkWay::clip});
    if (c.to < 1) out.push_back({c.to, nullptr, &c, WorkWay::unclip});
  }
  // At one moment a stage ends first, then clips go on and come off.
  std::stable_sort(out.begin(), out.end(), [](const Event& a, const Event& b) {
    return std::pair(a.part, a.stage == nullptr) < std::pair(b.part, b.stage == nullptr);
  });
  return out;
}

Move work(WorkWay way, double minutes, Caution caution) {
  Move move;
  move.effect = Work{way, minutes};
  move.seconds = 60 * std::max(1.0, minutes);
  move.caution = caution;
  return move;
}

} // namespace

std::vector<Move> setting_moves(const Stock& stock) {
  const bool springs = stock.memory == CreaseMemory::weak;
  const bool stiff = stock.stiffness == Stiffness::crisp || stock.stiffness == Stiffness::stiff;
  if (stock.damp_shaping && (springs || stiff))
    return {work(WorkWay::damp, damp_minutes, Caution::damp), work(WorkWay::clip, 1, Caution::small_parts),
            work(WorkWay::wait, dry_minutes, Caution::none)};
  if (springs || stiff)
    return {work(WorkWay::clip, 1, Caution::small_parts), work(WorkWay::wait, clip_minutes, Caution::none)};
  return {};
}

Result<Programme> closing_programme(const DrawnPattern& pattern, const ClosingPlan& plan, const Stock& stock,
                                    Progress* progress) {
  auto mesh = fold_mesh(pattern.healed, pattern.full_deg, pattern.goals);
  if (!mesh) return Error{mesh.error()};
  if (const auto ok = check_plan(*mesh, plan); !ok) return Error{ok.error()};
  const auto stages = stages_of(*mesh, plan);
  if (stages.empty()) return Error{"no crease is a mountain or a valley; direct them first"};
  auto space = std::make_shared<SpaceStates>();
  space->faces = faces_of(*mesh, pattern);
  const std::vector<Event> events = events_of(stages, plan);
  std::vector<double> parts{0};
  parts.reserve(events.size() + 1);
  for (const Event& e : events) {
    if (e.part > parts.back()) parts.push_back(e.part);
  }
  // Facets may be divided so that they curve; what is drawn are the corners of the pattern itself.
  const auto fine = finer(pattern.healed, pattern.full_deg, plan.finer, pattern.goals);
  const auto fine_mesh =
      fine ? fold_mesh(fine->pattern, fine->full_deg, fine->goals) : Result<FoldMesh>(Error{fine.error()});
  if (!fine_mesh) return Error{fine_mesh.error()};
  ClosingWish wish = wish_for(*fine_mesh, plan);
  wish.stages = stages_on(*fine, stages);
  Closing closing(*fine_mesh, std::move(wish));
  closing.tell(progress);
  const auto states = states_at(closing, parts, progress);
  if (states.size() < parts.size()) return Error{"the collapse was stopped"};
  space->states.reserve(states.size());
  for (const CollapseState& state : states) {
    space->states.emplace_back(state.vertices.begin(),
                               state.vertices.begin() + static_cast<std::ptrdiff_t>(mesh->flat.size()));
    lay_on_table(*mesh, pattern.held, space->states.back());
  }
  if (!pattern.held.empty()) space->held = pattern.held.front().what;
  Programme out;
  double before = 0;
  int stage = 0;
  std::size_t state = 0;
  for (const Event& e : events) {
    while (state + 1 < parts.size() && parts[state] < e.part) ++state;
    Move move;
    if (e.stage) {
      Collapse collapse{100 * before,
                        100 * e.part,
                        ++stage,
                        static_cast<int>(stages.size()),
                        e.stage->creases,
                        static_cast<int>(state),
                        states[state].max_strain};
      before = e.part;
      move.seconds = seconds_for_a_crease * static_cast<double>(collapse.creases.size());
      move.effect = std::move(collapse);
    } else {
      move = work(e.way, 0, e.way == WorkWay::clip ? Caution::small_parts : Caution::none);
      std::get<Work>(move.effect).place_mm = {e.clip->x_mm, e.clip->y_mm};
      move.seconds = seconds_for_a_clip;
    }
    out.moves.push_back(std::move(move));
  }
  for (Move& move : setting_moves(stock)) out.moves.push_back(std::move(move));
  out.space = std::move(space);
  return out;
}

} // namespace uc
