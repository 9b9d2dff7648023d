#include "collapse/closing.h"

#include "base/index.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <utility>

namespace uc {
namespace {

constexpr double steps_of_the_whole = 50;
constexpr double still = 1e-7;  // in edges: at rest
constexpr double nearly = 1e-5; // between layers that push, where what touches goes on changing a little
constexpr double outset = 2 / steps_of_the_whole;
constexpr double still_at_the_outset = 1e-4;
constexpr double still_while_pressed = 1e-3;
/// By how easily facets bend: as good as rigid, twenty times as stiff as a crease of their length, and as soft as that;
/// then creases driven harder, for sheets that have to be coaxed over a ridge on the way, where the paper stretches.
/// The last are for layers pushed as hard as paper: which of them stretches it least differs from sheet to sheet.
constexpr std::array<FoldStiffness, 15> levels = {{{},
                                                   {1e-5, 2e-4},
                                                   {1e-5, 1e-5},
                                                   {1e-4, 1e-4},
                                                   {3e-4, 3e-4},
                                                   {1e-3, 1e-3},
                                                   {1e-4, 1e-4, true},
                                                   {2e-4, 7e-4, true},
                                                   {2e-4, 5e-4, true},
                                                   {2e-4, 1e-3, true},
                                                   {3e-4, 3e-4, true},
                                                   {3e-4, 1e-4, true},
                                                   {5e-5, 1e-5, true},
                                                   {1.5e-3, 1e-3, true},
                                                   {3e-3, 2e-3, true}}};
constexpr std::size_t gentle_levels = 3;
constexpr std::size_t hard_levels = 6;
constexpr double closed_deg = 3;                                    // rms over the creases
constexpr double clip_stiffness = 100;                              // over that of a crease
constexpr std::array<double, 4> press_factors = {10, 30, 100, 300}; // over the stiffness of a crease
constexpr int reopening_steps = 20;
constexpr double most_pressed = 0.95;      // of the creases
constexpr double most_press_strain = 0.01; // where single places are pressed
constexpr double most_strain = 0.015;      // on the way, else driving harder tells nothing
constexpr double little_strain = 0.01;     // where no other way is looked for
constexpr double most_firm_strain = 0.1;   // more than paper gives
constexpr double turned_deg = 2;           // the wrong way
constexpr double nearly_there_deg = 10;    // where a hand lets go
constexpr double turn_factor = 3;
constexpr double most_turned = 300; // over the stiffness of a crease
constexpr int most_turns = 6;

} // namespace

Closing::Closing(const FoldMesh& mesh, ClosingWish wish)
    : mesh_(mesh), wish_(std::move(wish)), solver_(mesh, levels.front()) {
  begin();
}

FoldStiffness Closing::stiffness() const { return levels.at(level_); }

void Closing::begin() {
  turned_.assign(mesh_.hinges.size(), 1);
  if (wish_.apart) solver_.push_apart(0, contact_);
}

std::vector<std::optional<double>> Closing::targets(double part) const {
  return targets_at(mesh_, wish_.stages, part, wish_.clips);
}

/// Clips that hold make their creases stiff, others leave them alone.
void Closing::clip(double part) {
  for (const bool holds : {false, true})
    for (const Clip& clip : wish_.clips)
      for (const int e : clip.creases)
        if (clip.holds(part) == holds) solver_.stiffen(mesh_.hinge_of[at(e)], holds ? clip_stiffness : 1);
}

void Closing::begin_again(std::size_t level) {
  if (told_ && part_ > 0) told_->begin_pass();
  steps_ += solver_.steps();
  factors_ += solver_.factors();
  level_ = level;
  solver_ = FoldSolver(mesh_, levels[level]);
  begin();
  part_ = 0;
  peak_ = 0;
  passed_ = false;
}

/// A sheet that is quite flat may stand still between two ways to go, as on a ridge: a saddle a thousandth of its size
/// high sends it the same way every time.
void Closing::lean() {
  const Box box = bounding_box(mesh_.flat);
  const double height = (wish_.other_way ? -1e-3 : 1e-3) * box.size().norm();
  std::vector<Eigen::Vector3d> leaning;
  leaning.reserve(mesh_.flat.size());
  for (const Point& p : mesh_.flat) {
    const Point at = 2 * (p - box.centre()) / box.size().maxCoeff();
    leaning.emplace_back(p.x(), p.y(), height * (at.x() * at.y() + 0.3 * (at.x() * at.x() - at.y() * at.y())));
  }
  solver_.set_vertices(leaning);
}

/// The same places, to the last digit, wherever the way was begun or looked at.
double Closing::next_step() const { return (std::floor(part_ * steps_of_the_whole + 1e-9) + 1) / steps_of_the_whole; }

/// Whether creases have just left their flat state: which way each place goes is decided there.
bool Closing::setting_out(double part) const {
  const auto just_after = [&](double from) { return part > from && part <= from + outset + 1e-9; };
  return std::any_of(wish_.stages.begin(), wish_.stages.end(),
                     [&](const DriveStage& s) { return just_after(s.from); }) ||
         (wish_.stages.empty() && just_after(0));
}

bool Closing::drive_to(double part, const Progress* progress) {
  if (part_ == 0 && part > 0) lean();
  while (part_ < part) {
    const double next = std::min(part, next_step());
    solver_.drive(targets(next));
    clip(next);
    const bool last = next >= part;
    // On the way it is enough to come near, unless layers push; at the end the sheet has to be at rest.
    if (pushing() || last)
      solver_.rest(pushing() ? nearly : still, 400, progress);
    else if (setting_out(next))
      solver_.rest(still_at_the_outset, 400, progress);
    else
      solver_.come_near(progress);
    if (wish_.apart && contact_ == LayerContact::firm && wish_.clips.empty()) turn_back(next, progress);
    if (progress && progress->stopped()) return false;
    part_ = next;
    if (told_) told_->set(part_);
    peak_ = std::max(peak_, solver_.max_strain());
    passed_ = passed_ || solver_.passed_through() > 0;
  }
  return true;
}

/// Creases that have gone the wrong way a hand turns back, harder until they give, and lets go of them when they are
/// nearly there: what lies upon a crease would keep it so for good.
void Closing::turn_back(double part, const Progress* progress) {
  const auto targets = this->targets(part);
  for (int turn = 0; turn < most_turns; ++turn) {
    bool changed = false;
    for (std::size_t h = 0; h < mesh_.hinges.size(); ++h) {
      if (!folds(mesh_.hinges[h].kind) || !targets[h]) continue;
      const double angle = solver_.angle_deg(static_cast<int>(h));
      const bool wrong = angle * *targets[h] < 0 && std::abs(angle) > turned_deg;
      const bool there = !wrong && std::abs(angle - *targets[h]) < nearly_there_deg;
      const double before = turned_[h];
      if (wrong && turned_[h] < most_turned) turned_[h] *= turn_factor;
      if (there) turned_[h] = std::max(1.0, turned_[h] / turn_factor);
      if (turned_[h] == before) continue;
      solver_.stiffen(static_cast<int>(h), turned_[h]);
      changed = true;
    }
    if (!changed) break;
    solver_.rest(nearly, 400, progress);
    if (progress && progress->stopped()) return;
  }
  if (part == 1) let_go(progress);
}

void Closing::let_go(const Progress* progress) {
  for (std::size_t h = 0; h < turned_.size(); ++h)
    if (std::exchange(turned_[h], 1) != 1) solver_.stiffen(static_cast<int>(h), 1);
  solver_.rest(nearly, 400, progress);
}

bool Closing::stuck() const {
  double wanted = 0;
  double reached = 0;
  const auto targets = this->targets(part_);
  for (std::size_t h = 0; h < mesh_.hinges.size(); ++h) {
    if (!folds(mesh_.hinges[h].kind) || !targets[h]) continue;
    wanted += std::abs(*targets[h]);
    reached += std::min(std::abs(*targets[h]), std::abs(solver_.angle_deg(static_cast<int>(h))));
  }
  // Facets that may not bend leave the creases half-way, or stretch the paper.
  return reached < 0.5 * wanted || solver_.max_strain() > (pushing() && part_ < 1 ? 0.01 : 2e-3);
}

/// With facets as stiff as they may be. Between layers that push, it is seen at each step whether they may: to go all
/// the way first would take long, and lead elsewhere than looking at states on the way.
bool Closing::drive_gently(double part, const Progress* progress) {
  do {
    const double next = pushing() ? std::min(part, next_step()) : part;
    if (!drive_to(next, progress)) return false;
    while (level_ + 1 < gentle_levels && part > 0 && stuck()) {
      begin_again(level_ + 1);
      if (!drive_to(next, progress)) return false;
    }
  } while (part_ < part);
  return true;
}

/// Harder and harder; true when it has closed without too much strain on the way.
bool Closing::drive_hard(double part, const Progress* progress) {
  for (std::size_t harder = gentle_levels; harder < hard_levels; ++harder) {
    begin_again(harder);
    const bool closes = pushing() ? drive_cleanly(part, most_strain, progress) : drive_to(part, progress) && closed();
    if (closes && peak_ < most_strain) return true;
    if (progress && progress->stopped()) return false;
    if (peak_ > most_strain) break;
  }
  return false;
}

/// Gives up as soon as the paper stretches more than that, or layers pass.
bool Closing::drive_cleanly(double part, double strain, const Progress* progress) {
  while (part_ < part)
    if (!drive_to(std::min(part, next_step()), progress) || passed_ || peak_ >= strain) return false;
  return clean();
}

/// The first of the ways that hardly stretches the paper, or else that which stretches it least.
bool Closing::drive_firmly(double part, const Progress* progress) {
  std::optional<std::size_t> best;
  double least = most_firm_strain;
  for (std::size_t firm = hard_levels; firm < levels.size(); ++firm) {
    begin_again(LayerContact::firm, firm);
    if (drive_cleanly(part, least, progress)) {
      best = firm;
      least = peak_;
      if (least < little_strain) return true;
    }
    if (progress && progress->stopped()) return false;
  }
  if (!best) return false;
  begin_again(LayerContact::firm, *best);
  return drive_to(part, progress);
}

std::vector<int> Closing::standing_off() const {
  std::vector<int> out;
  const auto targets = this->targets(part_);
  for (std::size_t h = 0; h < mesh_.hinges.size(); ++h) {
    if (!folds(mesh_.hinges[h].kind) || !targets[h]) continue;
    const int hinge = static_cast<int>(h);
    if (std::abs(solver_.angle_deg(hinge) - *targets[h]) > closed_deg) out.push_back(hinge);
  }
  return out;
}

/// Where all but a few places have closed, a hand presses these until they snap over, and lets go: harder each time.
bool Closing::press_places(bool reopen, const Progress* progress) {
  for (const double harder : press_factors) {
    if (!press_once(harder, reopen, progress)) return false;
    if (closed() && peak_ < most_press_strain && solver_.passed_through() == 0) return true;
    if (peak_ > most_press_strain) break;
  }
  return false;
}

/// What has gone the wrong way has to be opened first and closed again; that is tried when pressing alone does not
/// help.
bool Closing::press(const Progress* progress) {
  const double part = part_;
  std::size_t driven = 0;
  for (const auto& h : mesh_.hinges) driven += h.kind == EdgeKind::mountain || h.kind == EdgeKind::valley;
  // What stands off nearly everywhere has not closed at all, and what a clip holds is meant to stand off.
  const auto off = static_cast<double>(standing_off().size());
  if (!wish_.clips.empty() || off > most_pressed * static_cast<double>(driven)) return false;
  for (const bool reopen : {false, true}) {
    if (reopen) {
      begin_again(level_);
      if (!drive_to(part, progress)) return false;
    }
    if (press_places(reopen, progress)) {
      reopened_ = reopen;
      return true;
    }
    if (progress && progress->stopped()) return false;
  }
  return false;
}

/// False when it was stopped.
bool Closing::press_once(double harder, bool reopen, const Progress* progress) {
  const std::vector<int> pressed = standing_off();
  const auto aims = targets(part_);
  for (const int h : pressed) solver_.stiffen(h, harder);
  for (int i = reopen ? 0 : reopening_steps; i <= reopening_steps; ++i) {
    auto now = aims;
    for (const int h : pressed) *now[at(h)] *= static_cast<double>(i) / reopening_steps;
    solver_.drive(now);
    solver_.rest(still_while_pressed, i == reopening_steps ? 200 : 30, progress);
    peak_ = std::max(peak_, solver_.max_strain());
    passed_ = passed_ || solver_.passed_through() > 0;
    if (progress && progress->stopped()) return false;
  }
  for (const int h : pressed) solver_.stiffen(h, 1);
  clip(part_);
  solver_.rest(pushing() ? nearly : still, 400, progress);
  return !(progress && progress->stopped());
}

/// Both ways of helping.
bool Closing::coax(const Progress* progress) {
  const double part = part_;
  if (press(progress)) return true;
  return !(progress && progress->stopped()) && drive_hard(part, progress);
}

bool Closing::go_to(double part, const Progress* progress) {
  if (part < part_) begin_again(level_);
  if (!drive_gently(part, progress)) return false;
  if (part < 1 || clean()) return true;
  if (coaxed_to_ == level()) {
    if (reopened_) press_places(*reopened_, progress); // as it was found to help
    return !(progress && progress->stopped());
  }
  const bool going_on = close_somehow(part, progress);
  coaxed_to_ = level();
  return going_on;
}

/// What does not close gently may do when it is pressed or driven harder; if nothing helps, the gentlest way is told,
/// of layers that are kept apart the gentlest on which none passes.
bool Closing::close_somehow(double part, const Progress* progress) {
  reopened_.reset();
  const std::size_t gentle = level_;
  const bool leaked = pushing() && closed();
  if (pushing() ? close_apart(part, progress) : coax(progress)) return true;
  if (progress && progress->stopped()) return false;
  if (wish_.apart && !leaked) {
    begin_again(LayerContact::firm, gentle);
    if (!drive_to(part, progress)) return false;
    if (!passed_) return true;
  }
  begin_again(LayerContact::soft, gentle);
  return drive_to(part, progress);
}

bool Closing::try_gently(LayerContact contact, double part, const Progress* progress) {
  begin_again(contact, 0);
  while (part_ < part)
    if (!drive_gently(std::min(part, next_step()), progress) || passed_) return false;
  return clean();
}

/// Layers that are kept apart: first what stretches the paper least, then what takes longer, and at last what lets them
/// through, unless they have come closed with a few things through.
bool Closing::close_apart(double part, const Progress* progress) {
  const bool leaked = closed();
  const std::size_t gentle = level_;
  if (!leaked && drive_hard(part, progress)) return true;
  for (const LayerContact contact : {LayerContact::sliding, LayerContact::firm}) {
    if (progress && progress->stopped()) return false;
    if (try_gently(contact, part, progress)) return true;
  }
  if (drive_firmly(part, progress)) return true;
  if (leaked || (progress && progress->stopped())) return false;
  begin_again(LayerContact::soft, gentle);
  if (drive_to(part, progress) && press(progress)) return true;
  if (progress && progress->stopped()) return false;
  begin_again(LayerContact::counted, 0);
  if (drive_gently(part, progress) && closed()) return true;
  return !(progress && progress->stopped()) && coax(progress);
}

bool Closing::closed() const {
  double squares = 0;
  int driven = 0;
  const auto targets = this->targets(part_);
  for (std::size_t h = 0; h < mesh_.hinges.size(); ++h) {
    if (!folds(mesh_.hinges[h].kind) || !targets[h]) continue;
    const double off = solver_.angle_deg(static_cast<int>(h)) - *targets[h];
    squares += off * off;
    ++driven;
  }
  return squares <= driven * closed_deg * closed_deg;
}

CollapseState Closing::state() const { return state_of(solver_, mesh_, targets(part_), part_); }

CollapseState state_of(const FoldSolver& solver, const FoldMesh& mesh,
                       const std::vector<std::optional<double>>& targets, double part) {
  CollapseState out;
  out.part = part;
  out.vertices = solver.vertices();
  double squares = 0;
  int driven = 0;
  for (std::size_t e = 0; e < mesh.hinge_of.size(); ++e) {
    const int h = mesh.hinge_of[e];
    out.strain.push_back(solver.strain(static_cast<int>(e)));
    out.angle_deg.push_back(h < 0 ? 0 : solver.angle_deg(h));
    out.target_deg.push_back(h < 0 ? std::nullopt : targets[at(h)]);
    if (h < 0 || !targets[at(h)]) continue;
    const EdgeKind kind = mesh.hinges[at(h)].kind;
    if (kind != EdgeKind::mountain && kind != EdgeKind::valley) continue;
    const double off = out.angle_deg.back() - *targets[at(h)];
    squares += off * off;
    ++driven;
  }
  out.passed_through = solver.passed_through();
  out.rms_error_deg = driven ? std::sqrt(squares / driven) : 0;
  for (int b = 0; b < static_cast<int>(mesh.bars.size()); ++b) {
    if (std::abs(solver.strain(b)) <= out.max_strain) continue;
    out.max_strain = std::abs(solver.strain(b));
    out.strained_bar = b;
  }
  for (std::size_t h = 0; h < mesh.hinges.size(); ++h)
    if (!folds(mesh.hinges[h].kind))
      out.max_bend_deg = std::max(out.max_bend_deg, std::abs(solver.angle_deg(static_cast<int>(h))));
  return out;
}

std::vector<CollapseState> states_at(Closing& closing, const std::vector<double>& parts, const Progress* progress,
                                     const std::function<void(const std::vector<CollapseState>&)>& done) {
  std::vector<CollapseState> out;
  std::size_t level = closing.level();
  while (out.size() < parts.size()) {
    if (!closing.go_to(parts[out.size()], progress)) break;
    if (closing.level() != level) {
      level = closing.level();
      out.clear();
      continue;
    }
    out.push_back(closing.state());
    if (done) done(out);
  }
  return out;
}

std::vector<double> even_parts(int count, double last) {
  std::vector<double> out;
  out.reserve(at(count));
  for (int i = 0; i < count; ++i) out.push_back(last * i / count);
  return out;
}

} // namespace uc
