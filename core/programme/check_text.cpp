#include "programme/told.h"

#include "programme/space_figure.h"
#include "programme/unit_figure.h"

#include <cmath>

namespace uc {

bool only_pinched(const Told& t, ElementId id) {
  const auto it = t.index.makings.find(id);
  if (it == t.index.makings.end()) return false;
  const auto after = std::lower_bound(it->second.begin(), it->second.end(), t.here);
  return after != it->second.begin() && t.programme.moves[*(after - 1)].creases().extent == Extent::pinch;
}

std::optional<ElementId> guide_of(const Move& move) {
  for (std::size_t i = 1; i < std::min(move.aligned.moving.size(), move.aligned.onto.size()); ++i)
    if (move.aligned.moving[i] == move.aligned.onto[i]) return move.aligned.moving[i];
  const bool led = move.is(CreaseWay::through) || move.is(CreaseWay::guess);
  return led && move.aligned.through.size() == 1 ? std::optional(move.aligned.through[0]) : std::nullopt;
}

namespace {

/// What must lie on what after an alignment, which is seen before the paper is unfolded.
std::string alignment_check(const Told& t, const std::string& usual) {
  const Aligned& aligned = t.move().aligned;
  const Element* moving = aligned.moving.empty() ? nullptr : t.find(aligned.moving.front());
  const Element* onto = aligned.onto.empty() ? nullptr : t.find(aligned.onto.front());
  const auto is_point = [](const Element* e) { return e && (e->role == Role::point || e->role == Role::corner); };
  const char* check = "Before you unfold, both lines should meet along their whole length; up to {usual} is normal for "
                      "your hand.";
  if (guide_of(t.move()))
    check =
        "Before you unfold, the point should lie on its line, and the line it came along on itself; up to {usual} is "
        "normal for your hand.";
  else if (aligned.moving.size() > 1)
    check = "Before you unfold, both should meet what they are brought to; up to {usual} is normal for your hand.";
  else if (moving && onto && moving->id == onto->id)
    check = "Before you unfold, it should lie on itself on both sides of the crease; up to {usual} is normal for your "
            "hand.";
  else if (is_point(moving) && is_point(onto))
    check = "Before you unfold, one point should lie on the other; up to {usual} is normal for your hand.";
  else if (is_point(moving))
    check = "Before you unfold, the point should lie on the line; up to {usual} is normal for your hand.";
  else if (onto && only_pinched(t, onto->id))
    check = "Before you unfold, it should lie on the mark; up to {usual} is normal for your hand.";
  return say(t.style, check, {{"usual", usual}});
}

std::string crease_check(const Told& t) {
  const std::string usual = format_error(Millimetres{1.645 * t.move().hand_sigma_mm}, t.style.unit);
  switch (t.made_by().way) {
  case CreaseWay::align:
    return alignment_check(t, usual);
  case CreaseWay::between:
    return say(t.style, "The crease should run through both; up to {usual} is normal for your hand.",
               {{"usual", usual}});
  case CreaseWay::through:
  case CreaseWay::crease_on:
    return say(t.style,
               "The fold should lie on the old crease along its whole length; up to {usual} is normal for your hand.",
               {{"usual", usual}});
  case CreaseWay::score:
    return say(t.style, "The groove shows as a fine line; press, do not cut.");
  case CreaseWay::mark:
    if (!t.move().aligned.moving.empty())
      return say(t.style, "Make the marks right at the edge, so that they are seen from both sides.");
    return say(t.style, "Mark both ends; a fine pencil, upright, is exact enough.");
  case CreaseWay::guess:
    return say(t.style, "A guess is enough here; the next folds correct it.");
  case CreaseWay::both_ways:
    return say(t.style, "The crease should swing freely to both sides.");
  }
  return {};
}

bool sides_are_equal(const Cut& cut) {
  return std::all_of(cut.along.begin(), cut.along.end(), [&](const Segment& s) {
    return std::abs(s.length() - cut.along.front().length()) < 1e-6 * cut.along.front().length();
  });
}

} // namespace

std::string check_of(const Told& t) {
  using std::string;
  return by_effect(
      t.move(), [&](const MakeCreases&) { return crease_check(t); },
      [&](const Handle& how) {
        return how.way == HandleWay::turn_over
                   ? say(t.style, "The other side is up now; left and right have changed places.")
                   : say(t.style, "The sheet lies as drawn.");
      },
      [&](const Cut& e) {
        return say(t.style, !keeps_outline(e)    ? "Each cut should run along its line from end to end."
                            : sides_are_equal(e) ? "All sides should be equal."
                                                 : "The edges should run along the lines drawn.");
      },
      [&](const Work& work) {
        if (work.way == WorkWay::form) return say(t.style, "Its pleats should lie flat without a force.");
        return work.way != WorkWay::check || t.move().aligned.moving.empty()
                   ? string()
                   : say(t.style, "Measure it if you like; the log compares.");
      },
      [](const Refold&) { return string(); },
      [&](const Collapse& e) { return collapse_check(t.programme, e, t.style); },
      [&](const FoldUnit& e) { return fold_unit_check(t.programme, e, t.style); },
      [&](const Join& e) { return join_check(t.programme, e, t.style); });
}

} // namespace uc
