#include "collapse/closing.h"

#include "base/index.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace uc {
namespace {

constexpr double step_of_the_whole = 0.02;
constexpr double still_mm = 1e-7; // per mm of the mean edge
/// By how easily facets bend: as good as rigid, twenty times as stiff as a crease of their length, and as soft as that.
constexpr std::array<FoldStiffness, 3> levels = {{{1e-5, 3e-2}, {1e-5, 2e-4}, {1e-5, 1e-5}}};

double mean_edge(const FoldMesh& mesh) {
  double sum = 0;
  for (const auto& b : mesh.bars) sum += b.rest_mm;
  return sum / static_cast<double>(mesh.bars.size());
}

} // namespace

Closing::Closing(const FoldMesh& mesh, std::vector<DriveStage> stages, FacetBending bending)
    : mesh_(mesh), stages_(std::move(stages)), bending_(bending), level_(bending == FacetBending::soft ? 1 : 0),
      solver_(mesh, levels[level_]) {}

void Closing::begin_again(std::size_t level) {
  steps_ += solver_.steps();
  level_ = level;
  solver_ = FoldSolver(mesh_, levels[level]);
  part_ = 0;
}

bool Closing::drive_to(double part, const Progress* progress) {
  const double still = still_mm * mean_edge(mesh_);
  while (part_ < part) {
    const double next = std::min(part, part_ + step_of_the_whole);
    solver_.drive(targets_at(mesh_, stages_, next));
    const bool last = next >= part;
    // On the way it is enough to come near; at the end the sheet has to be at rest.
    solver_.rest(last ? still : 1e-3 * mean_edge(mesh_), last ? 400 : 12, progress);
    if (progress && progress->late()) return false;
    part_ = next;
  }
  return true;
}

bool Closing::stuck() const {
  double wanted = 0;
  double reached = 0;
  const auto targets = targets_at(mesh_, stages_, part_);
  for (std::size_t h = 0; h < mesh_.hinges.size(); ++h) {
    if (!folds(mesh_.hinges[h].kind) || !targets[h]) continue;
    wanted += std::abs(*targets[h]);
    reached += std::min(std::abs(*targets[h]), std::abs(solver_.angle_deg(static_cast<int>(h))));
  }
  return reached < 0.5 * wanted;
}

bool Closing::go_to(double part, const Progress* progress) {
  if (part < part_) begin_again(level_);
  if (!drive_to(part, progress)) return false;
  while (bending_ == FacetBending::as_needed && level_ + 1 < levels.size() && part > 0 && stuck()) {
    begin_again(level_ + 1);
    if (!drive_to(part, progress)) return false;
  }
  return true;
}

CollapseState Closing::state() const {
  CollapseState out;
  out.part = part_;
  out.vertices = solver_.vertices();
  const auto targets = targets_at(mesh_, stages_, part_);
  double squares = 0;
  int driven = 0;
  for (std::size_t e = 0; e < mesh_.hinge_of.size(); ++e) {
    const int h = mesh_.hinge_of[e];
    out.strain.push_back(solver_.strain(static_cast<int>(e)));
    out.angle_deg.push_back(h < 0 ? 0 : solver_.angle_deg(h));
    out.target_deg.push_back(h < 0 ? std::nullopt : targets[at(h)]);
    if (h < 0 || !targets[at(h)]) continue;
    const EdgeKind kind = mesh_.hinges[at(h)].kind;
    if (kind != EdgeKind::mountain && kind != EdgeKind::valley) continue;
    const double off = out.angle_deg.back() - *targets[at(h)];
    squares += off * off;
    ++driven;
  }
  out.rms_error_deg = driven ? std::sqrt(squares / driven) : 0;
  for (int b = 0; b < static_cast<int>(mesh_.bars.size()); ++b) {
    if (std::abs(solver_.strain(b)) <= out.max_strain) continue;
    out.max_strain = std::abs(solver_.strain(b));
    out.strained_bar = b;
  }
  for (std::size_t h = 0; h < mesh_.hinges.size(); ++h)
    if (!folds(mesh_.hinges[h].kind))
      out.max_bend_deg = std::max(out.max_bend_deg, std::abs(solver_.angle_deg(static_cast<int>(h))));
  return out;
}

} // namespace uc
