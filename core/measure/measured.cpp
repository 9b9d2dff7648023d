#include "measure/measured.h"

namespace uc {
namespace {

/// The crease lies back towards the edge that moves when that stops short of where it should come.
double short_way(const GridStep& step) {
  const int moving = step.kind == StepKind::bring ? step.a : step.b;
  const int lands = step.kind == StepKind::bring ? step.b : step.makes;
  return moving < lands ? -1 : 1;
}

} // namespace

ErrorRows error_rows(const MeasuredFamily& m) {
  const LineErrors errors = replay(m.task, m.steps);
  ErrorRows out;
  if (m.task.start) out.sources.push_back({ErrorSource::Kind::start, 0, m.task.start->sigma_mm, 0});
  for (std::size_t i = 0; i < m.steps.size(); ++i) {
    if (m.steps[i].kind == StepKind::guess)
      out.sources.push_back({ErrorSource::Kind::guess, i, m.task.guess_sigma_mm, 0});
    else
      out.sources.push_back({ErrorSource::Kind::fold, i, 0, short_way(m.steps[i])});
  }
  out.rows.resize(static_cast<Eigen::Index>(m.lines.size()), errors.error_count());
  for (std::size_t i = 0; i < m.lines.size(); ++i)
    out.rows.row(static_cast<Eigen::Index>(i)) = errors.coefficients(m.lines[i]).transpose();
  return out;
}

std::vector<GridStep> possible_steps(const DivideTask& task, const std::vector<GridStep>& steps,
                                     const std::vector<std::size_t>& done, std::vector<std::size_t>& kept) {
  std::vector<char> there(static_cast<std::size_t>(task.parts) + 1, 0);
  there.front() = there.back() = 1;
  if (task.start) there[static_cast<std::size_t>(task.start->line)] = 1;
  std::vector<GridStep> out;
  kept.clear();
  for (const std::size_t i : done) {
    const GridStep& step = steps[i];
    if (step.kind != StepKind::guess &&
        !(there[static_cast<std::size_t>(step.a)] && there[static_cast<std::size_t>(step.b)]))
      continue;
    there[static_cast<std::size_t>(step.makes)] = 1;
    out.push_back(step);
    kept.push_back(i);
  }
  return out;
}

} // namespace uc
