#include "crease/precrease.h"

#include "crease/cut_out.h"
#include "crease/precrease_moves.h"
#include "divide/starts.h"
#include "programme/naming.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numeric>

namespace uc {
namespace {

double overlap(const Intervals& a, const Intervals& b) {
  double sum = 0;
  for (const auto& [low, high] : a) {
    for (const auto& [from, to] : b) sum += std::max(0.0, std::min(high, to) - std::max(low, from));
  }
  return sum;
}

void add_up(Precrease& p, const std::vector<LineExtent>& extents) {
  int lines = 0;
  for (std::size_t i = 0; i < p.making.lines.size(); ++i) {
    const LineInMaking& line = p.making.lines[i];
    Intervals all;
    for (const Intervals& item : extents[i].items) all.insert(all.end(), item.begin(), item.end());
    all = joined(std::move(all));
    const double made = length_of(all);
    p.crease_mm += made;
    p.scar_mm += made - (line.carrier < 0 ? 0 : overlap(all, extents[i].wanted));
    p.measured += line.measured;
    if (line.carrier < 0) continue;
    p.mean_sigma_mm += p.making.sigma_mm[i];
    ++lines;
  }
  if (lines > 0) p.mean_sigma_mm /= lines;
  p.worst_sigma_mm = p.making.worst_sigma_mm;
  for (const Move& move : p.programme.moves) {
    const bool again = move.is(CreaseWay::both_ways);
    p.worked_again += again;
    p.folds += move.creases().makes.has_value() && !again;
    p.pinches += move.creases().makes.has_value() && move.creases().extent == Extent::pinch;
    p.turn_overs += move.is(HandleWay::turn_over);
    p.rotations += move.is(HandleWay::rotate);
  }
  p.minutes = p.programme.planned_seconds() / 60;
}

} // namespace

namespace {

Result<Precrease> usual_precrease(const CreasePattern& pattern, const HandProfile& hand, bool both_ways, int grid_parts,
                                  Progress* progress, const Polygon& on) {
  auto needed = precrease(pattern, hand, {CreaseSchool::needed, both_ways}, grid_parts, progress, on);
  if (!needed) return needed;
  auto scored = precrease(pattern, hand, {CreaseSchool::scored, both_ways}, grid_parts, progress, on);
  const bool fewer = scored && 3 * scored->programme.moves.size() < 2 * needed->programme.moves.size();
  return fewer ? std::move(scored) : std::move(needed);
}

} // namespace

Result<Precrease> precrease(const CreasePattern& pattern, const HandProfile& hand, const PrecreaseSpec& spec,
                            int grid_parts, Progress* progress, const Polygon& on) {
  if (spec.school == CreaseSchool::usual)
    return usual_precrease(pattern, hand, spec.both_ways, grid_parts, progress, on);
  if (const auto ok = checked(hand); !ok) return Error{ok.error()};
  auto cut = cut_out(pattern, on);
  if (!cut) return Error{cut.error()};
  const Polygon& sheet = cut->sheet;
  Precrease out;
  out.spec = spec;
  out.wanted = carrier_lines(pattern);
  if (out.wanted.empty()) return Error{"The pattern has no creases yet; draw some first."};
  if (out.wanted.size() > most_precrease_lines)
    return Error{fmt::format("The creases lie on {} different lines; pre-creasing is planned for up to {}.",
                             out.wanted.size(), most_precrease_lines)};
  if (spec.school == CreaseSchool::scored)
    out.making = made_by_scoring(out.wanted, sheet);
  else
    out.making =
        made_by_folding(out.wanted, sheet, hand, {spec.school == CreaseSchool::everything, grid_parts, progress});
  if (progress && progress->cancelled()) return Error{"Stopped."};
  AsYouGo turns;
  if (spec.school == CreaseSchool::as_you_go) {
    turns = as_you_go(pattern, out.making, out.wanted);
    if (turns.twists.empty())
      return Error{"Creasing as you go forms one twist after another, and this pattern has none; choose another way."};
  }
  const std::vector<LineExtent> extents = line_extents(out.making, out.wanted, spec.school, hand);
  out.programme = precrease_programme(out.making, out.wanted, extents, turns, spec, hand);
  for (const Move& move : cut->moves) out.programme.moves.push_back(move);
  out.programme = lettered(std::move(out.programme));
  add_up(out, extents);
  return out;
}

} // namespace uc
