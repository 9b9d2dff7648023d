#include "collapse/closing_programme.h"

#include "base/index.h"
#include "collapse/closing.h"
#include "collapse/finer.h"
#include "collapse/held_flat.h"
#include "collapse/pushing.h"
#include "collapse/settling.h"
#include "pattern/hand_words.h"
#include "programme/space_figure.h"

#include <algorithm>
#include <map>
#include <set>

namespace uc {
namespace {

constexpr double seconds_for_a_crease = 4; // a planning figure of the house, not measured
constexpr double seconds_for_a_clip = 20;
constexpr double seconds_for_a_push = 15;
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

/// In the order they happen, up to a part of the way; a clip that stays on to the end is taken off by whoever has
/// looked at the piece.
std::vector<Event> events_of(const std::vector<DriveStage>& stages, const ClosingPlan& plan, double end) {
  std::vector<Event> out;
  out.reserve(stages.size() + 2 * plan.clips.size());
  for (const DriveStage& s : stages)
    if (s.from < end) out.push_back({std::min(s.to, end), &s, nullptr, WorkWay::clip});
  for (const ClipPlace& c : plan.clips) {
    if (c.from < end) out.push_back({c.from, nullptr, &c, WorkWay::clip});
    if (c.to < end) out.push_back({c.to, nullptr, &c, WorkWay::unclip});
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

/// What hands do to the sheet where its stages end: a move and the state after it, each.
Result<std::vector<std::pair<Move, CollapseState>>> handled_in_the_end(const FoldMesh& mesh, const HeldState& end,
                                                                       CollapseState state,
                                                                       const FoldStiffness& stiffness,
                                                                       const Stock& stock, Progress* progress) {
  std::vector<std::pair<Move, CollapseState>> out;
  for (const auto& [x, y] : end.pushed_mm) {
    auto over = pushed(mesh, state, stiffness, {{x, y}, {}}, progress);
    if (!over) return Error{"To push the corner over, " + over.error() + "."};
    state = over->after;
    Move move = work(WorkWay::push, 0, Caution::none);
    std::get<Work>(move.effect).place_mm = {x, y};
    move.seconds = seconds_for_a_push;
    out.emplace_back(std::move(move), state);
  }
  if (!end.let_go) return out;
  auto rested = let_go(mesh, state, stock, progress);
  if (!rested) return Error{"the collapse was stopped"};
  Move move = work(WorkWay::let_go, 0, Caution::none);
  move.seconds = 2;
  out.emplace_back(std::move(move), std::move(*rested));
  return out;
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
  // Told as the family is closed; another order is the folder's own.
  if (plan.order == CollapseOrder::family || plan.order == CollapseOrder::all_at_once) space->hands = pattern.hands;
  space->on_sheet = pattern.healed.pattern.vertices;
  const HeldState end = plan.end.value_or(HeldState{pattern.usual_part, {}, false});
  const std::vector<Event> events = events_of(stages, plan, end.part);
  if (events.empty())
    return Error{plan.end ? "the sheet lies flat in the state that is to be folded; close it a little first"
                          : "a grid is creased and lies open; nothing of it is closed"};
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
  auto in_the_end = handled_in_the_end(*fine_mesh, end, states.back(), closing.stiffness(), stock, progress);
  if (!in_the_end) return Error{in_the_end.error()};
  const auto keep = [&](const CollapseState& state) {
    space->states.emplace_back(state.vertices.begin(),
                               state.vertices.begin() + static_cast<std::ptrdiff_t>(mesh->flat.size()));
    lay_on_table(*mesh, pattern.held, space->states.back());
  };
  for (const CollapseState& state : states) keep(state);
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
                        static_cast<int>(std::count_if(events.begin(), events.end(),
                                                       [](const Event& other) { return other.stage != nullptr; })),
                        e.stage->creases,
                        static_cast<int>(state),
                        states[state].max_strain};
      before = e.part;
      move.seconds = seconds_for_a_crease * static_cast<double>(collapse.creases.size());
      const auto sentences = hand_sentences(*space, collapse);
      if (std::any_of(sentences.begin(), sentences.end(), speaks_of_glue)) move.caution = Caution::glue;
      move.effect = std::move(collapse);
    } else {
      move = work(e.way, 0, e.way == WorkWay::clip ? Caution::small_parts : Caution::none);
      std::get<Work>(move.effect).place_mm = {e.clip->x_mm, e.clip->y_mm};
      move.seconds = seconds_for_a_clip;
    }
    out.moves.push_back(std::move(move));
  }
  for (auto& [move, after] : std::move(in_the_end).value()) {
    std::get<Work>(move.effect).state = static_cast<int>(space->states.size());
    keep(after);
    out.moves.push_back(std::move(move));
  }
  for (Move& move : setting_moves(stock)) out.moves.push_back(std::move(move));
  out.space = std::move(space);
  return out;
}

} // namespace uc
