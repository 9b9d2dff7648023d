#include "collapse/stages.h"

#include "base/index.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <map>

namespace uc {

std::vector<DriveStage> family_stages(const FoldMesh& mesh) {
  std::vector<DriveStage> out;
  for (const FoldMesh::Hinge& h : mesh.hinges) {
    if (h.kind != EdgeKind::mountain && h.kind != EdgeKind::valley) continue;
    for (const CreaseGoal& goal : h.goals) {
      if (at(goal.stage) > out.size()) out.resize(at(goal.stage));
      DriveStage& s = out[at(goal.stage - 1)];
      s.creases.push_back(h.edge);
      s.shares.push_back(h.full_deg > 0 ? goal.deg / h.full_deg : 1);
    }
  }
  std::erase_if(out, [](const DriveStage& s) { return s.creases.empty(); });
  for (std::size_t i = 0; i < out.size(); ++i) {
    out[i].from = static_cast<double>(i) / static_cast<double>(out.size());
    out[i].to = static_cast<double>(i + 1) / static_cast<double>(out.size());
  }
  return out;
}

std::vector<DriveStage> stages_by_angle(const FoldMesh& mesh) {
  std::vector<DriveStage> own = family_stages(mesh);
  if (own.empty()) own = stages_in_order(mesh, CollapseOrder::all_at_once, 1);
  std::vector<DriveStage> out;
  for (const DriveStage& s : own) {
    std::map<double, DriveStage> by_percent;
    for (std::size_t i = 0; i < s.creases.size(); ++i) {
      const double full = mesh.hinges[at(mesh.hinge_of[at(s.creases[i])])].full_deg;
      const double percent = (s.shares.empty() ? 1 : s.shares[i]) * full / 1.8;
      by_percent.try_emplace(percent, DriveStage{{}, s.from, s.to, percent, {}})
          .first->second.creases.push_back(s.creases[i]);
    }
    for (auto& [percent, stage] : by_percent) out.push_back(std::move(stage));
  }
  return out;
}

std::vector<DriveStage> stages_in_order(const FoldMesh& mesh, CollapseOrder order, int groups) {
  if (order == CollapseOrder::family) {
    if (auto own = family_stages(mesh); !own.empty()) return own;
    order = CollapseOrder::all_at_once;
  }
  const Box box = bounding_box(mesh.flat);
  std::vector<std::pair<double, CreaseId>> ranked;
  for (const auto& h : mesh.hinges) {
    if (h.kind != EdgeKind::mountain && h.kind != EdgeKind::valley) continue; // others move freely
    const Point middle = (mesh.flat[at(h.a)] + mesh.flat[at(h.b)]) / 2;
    const double radius = (middle - box.centre()).cwiseQuotient(box.size()).cwiseAbs().maxCoeff();
    const double rank = order == CollapseOrder::outside_in       ? -radius
                        : order == CollapseOrder::inside_out     ? radius
                        : order == CollapseOrder::one_side_first ? middle.x() / box.size().x()
                                                                 : 0;
    ranked.emplace_back(rank, h.edge);
  }
  if (ranked.empty()) return {};
  std::sort(ranked.begin(), ranked.end());
  if (order == CollapseOrder::all_at_once) groups = 1;
  groups = std::clamp(groups, 1, static_cast<int>(ranked.size()));
  const double low = ranked.front().first;
  const double high = ranked.back().first;
  std::vector<DriveStage> out(at(groups));
  for (const auto& [rank, edge] : ranked) {
    const double part = high > low ? (rank - low) / (high - low) : 0;
    out[at(std::min(groups - 1, static_cast<int>(part * groups)))].creases.push_back(edge);
  }
  std::erase_if(out, [](const DriveStage& s) { return s.creases.empty(); });
  // Each begins when the one before it is half done.
  const double length = 2.0 / (static_cast<double>(out.size()) + 1);
  for (std::size_t i = 0; i < out.size(); ++i) {
    out[i].from = static_cast<double>(i) * length / 2;
    out[i].to = std::min(1.0, out[i].from + length);
  }
  return out;
}

Status check_stages(const FoldMesh& mesh, const std::vector<DriveStage>& stages) {
  for (std::size_t i = 0; i < stages.size(); ++i) {
    const DriveStage& s = stages[i];
    const auto wrong = [&](const std::string& what) { return Error{fmt::format("stage {}: {}", i + 1, what)}; };
    if (!(s.from >= 0 && s.to <= 1 && s.from < s.to)) return wrong("from must be less than to, both from 0 to 1");
    if (!(s.percent >= 0 && s.percent <= 100)) return wrong("percent is 0 to 100");
    if (s.creases.empty()) return wrong("it names no creases");
    for (auto it = s.creases.begin(); it != s.creases.end(); ++it) {
      const int e = *it;
      if (std::find(s.creases.begin(), it, e) != it) return wrong(fmt::format("it names edge {} twice", e));
      if (e < 0 || e >= static_cast<int>(mesh.hinge_of.size()) || mesh.hinge_of[at(e)] < 0)
        return wrong(fmt::format("edge {} is not a crease", e));
      const EdgeKind kind = mesh.hinges[at(mesh.hinge_of[at(e)])].kind;
      if (kind != EdgeKind::mountain && kind != EdgeKind::valley)
        return wrong(fmt::format("edge {} is neither mountain nor valley", e));
      for (std::size_t k = 0; k < i; ++k) {
        const auto& other = stages[k];
        if (std::find(other.creases.begin(), other.creases.end(), e) != other.creases.end() && other.from < s.to &&
            s.from < other.to)
          return wrong(fmt::format("edge {} is driven by stage {} at the same time", e, k + 1));
      }
    }
  }
  return Done{};
}

namespace {

/// Parts of the full angle, per hinge.
std::vector<double> closed_at(const FoldMesh& mesh, const std::vector<DriveStage>& stages, double part) {
  std::vector<double> closed(mesh.hinges.size(), stages.empty() ? part : 0);
  std::vector<const DriveStage*> order;
  order.reserve(stages.size());
  for (const DriveStage& s : stages) order.push_back(&s);
  std::stable_sort(order.begin(), order.end(), [](const auto* a, const auto* b) { return a->from < b->from; });
  for (const DriveStage* s : order) {
    if (part <= s->from) continue;
    const double t = std::min(1.0, (part - s->from) / (s->to - s->from));
    for (std::size_t i = 0; i < s->creases.size(); ++i) {
      double& c = closed[at(mesh.hinge_of[at(s->creases[i])])];
      const double goal = s->percent / 100 * (s->shares.empty() ? 1 : s->shares[i]);
      c += t * (goal - c); // from where the stage before left it
    }
  }
  return closed;
}

} // namespace

std::vector<std::optional<double>> targets_at(const FoldMesh& mesh, const std::vector<DriveStage>& stages, double part,
                                              const std::vector<Clip>& clips) {
  std::vector<double> closed = closed_at(mesh, stages, part);
  for (const Clip& clip : clips) {
    if (!clip.holds(part)) continue;
    const std::vector<double> then = closed_at(mesh, stages, clip.from);
    for (const int e : clip.creases) closed[at(mesh.hinge_of[at(e)])] = then[at(mesh.hinge_of[at(e)])];
  }
  std::vector<std::optional<double>> out(mesh.hinges.size());
  for (std::size_t h = 0; h < out.size(); ++h) {
    const EdgeKind kind = mesh.hinges[h].kind;
    if (kind == EdgeKind::undirected) continue;
    const double full = mesh.hinges[h].full_deg;
    out[h] = kind == EdgeKind::valley     ? full * closed[h]
             : kind == EdgeKind::mountain ? -full * closed[h]
             : full != 180                ? full * part // a bend, not a crease; valley positive
                                          : 0;
  }
  return out;
}

} // namespace uc
