#include "collapse/closing_plan.h"

#include "collapse/closing.h"

#include "base/expression.h"
#include "base/index.h"
#include "base/quantity.h"

#include <fmt/format.h>

namespace uc {
namespace {

Clip clip_of(const FoldMesh& mesh, const ClipPlace& place) {
  Clip out{{}, place.from, place.to};
  const Point centre{place.x_mm, place.y_mm};
  for (const FoldMesh::Hinge& h : mesh.hinges) {
    if (h.kind != EdgeKind::mountain && h.kind != EdgeKind::valley) continue;
    const Point a = mesh.flat[at(h.a)];
    const Point d = mesh.flat[at(h.b)] - a;
    const double t = std::clamp((centre - a).dot(d) / d.squaredNorm(), 0.0, 1.0);
    if ((a + t * d - centre).norm() <= place.radius_mm) out.creases.push_back(h.edge);
  }
  return out;
}

} // namespace

Result<ClipPlace> parse_clip(std::string_view text) {
  const Error wrong{"type x,y,radius in mm and from-to in percent, such as 60,40,15:30-80"};
  const auto colon = text.find(':');
  if (colon == std::string_view::npos) return wrong;
  std::vector<double> figures;
  const auto read = [&](std::string_view part, char between) {
    for (std::size_t from = 0; from <= part.size();) {
      const auto to = std::min(part.find(between, from), part.size());
      const auto number = parse_number(part.substr(from, to - from));
      if (!number) return false;
      figures.push_back(*number);
      from = to + 1;
    }
    return true;
  };
  if (!read(text.substr(0, colon), ',') || figures.size() != 3) return wrong;
  if (!read(text.substr(colon + 1), '-') || figures.size() != 5) return wrong;
  const ClipPlace clip{figures[0], figures[1], figures[2], figures[3] / 100, figures[4] / 100};
  if (!(clip.radius_mm > 0)) return Error{"the radius must be more than 0 mm"};
  if (!(clip.from >= 0 && clip.to <= 1 && clip.from < clip.to))
    return Error{"it must be put on before it is taken off, both from 0 to 100 %"};
  return clip;
}

std::string clip_text(const ClipPlace& clip) {
  const auto figure = [](double v) { return format_number(v, 2); };
  return fmt::format("{},{},{}:{}-{}", figure(clip.x_mm), figure(clip.y_mm), figure(clip.radius_mm),
                     figure(100 * clip.from), figure(100 * clip.to));
}

ClosingPlan way_of(ClosingPlan plan) {
  plan.held.reset();
  plan.end.reset();
  return plan;
}

bool same_stages(const FoldMesh& mesh, const ClosingPlan& a, const ClosingPlan& b) {
  const auto used = [&](const ClosingPlan& plan) {
    return plan.order == CollapseOrder::family && family_stages(mesh).empty() ? CollapseOrder::all_at_once : plan.order;
  };
  return used(a) == used(b) && (!counts_groups(a.order) || a.groups == b.groups);
}

std::vector<DriveStage> stages_of(const FoldMesh& mesh, const ClosingPlan& plan) {
  auto stages = stages_in_order(mesh, plan.order, plan.groups);
  if (plan.spans.size() != stages.size()) return stages;
  for (std::size_t i = 0; i < stages.size(); ++i) {
    stages[i].from = plan.spans[i].from;
    stages[i].to = plan.spans[i].to;
    stages[i].percent = plan.spans[i].percent;
  }
  return stages;
}

ClosingWish wish_for(const FoldMesh& mesh, const ClosingPlan& plan) {
  ClosingWish out{stages_of(mesh, plan), {}, plan.other_way, plan.apart};
  for (const ClipPlace& place : plan.clips) out.clips.push_back(clip_of(mesh, place));
  return out;
}

Status check_plan(const FoldMesh& mesh, const ClosingPlan& plan) {
  for (std::size_t i = 0; i < plan.spans.size(); ++i) {
    const StageSpan& s = plan.spans[i];
    if (!(s.from >= 0 && s.to <= 1 && s.from < s.to))
      return Error{fmt::format("stage {}: it must begin before it ends, both from 0 to 100 %", i + 1)};
  }
  for (std::size_t i = 0; i < plan.clips.size(); ++i) {
    const ClipPlace& c = plan.clips[i];
    if (!(c.from >= 0 && c.to <= 1 && c.from < c.to))
      return Error{fmt::format("clip {}: it must be put on before it is taken off, both from 0 to 100 %", i + 1)};
    if (clip_of(mesh, c).creases.empty())
      return Error{fmt::format("clip {}: no crease lies within {} mm of {}, {} mm; move it or make it larger", i + 1,
                               format_number(c.radius_mm, 1), format_number(c.x_mm, 1), format_number(c.y_mm, 1))};
  }
  return Done{};
}

} // namespace uc
