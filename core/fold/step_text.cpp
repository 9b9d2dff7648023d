#include "fold/step_text.h"

#include "base/index.h"
#include "programme/naming.h"
#include "reference/construction.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <optional>

namespace uc {
namespace {

/// What a move is told from: the paper before it, where corners and edges may lie elsewhere than their names say.
struct Told {
  const FoldSequence& sequence;
  const StepState& before;
  const TextStyle& style;

  [[nodiscard]] std::string name(const std::string& name) const;

private:
  [[nodiscard]] const Polygon& sheet() const { return sequence.file.sheet.outline(); }
  [[nodiscard]] double near() const { return 2 * snap_tolerance(before.form->pattern); }
  /// Where a place of the bare sheet is seen, from the middle of the sheet as it was laid down.
  [[nodiscard]] std::optional<Point> seen(const Point& on_sheet) const {
    const auto faces = faces_at(*before.form, on_sheet);
    if (faces.empty()) return std::nullopt;
    const Isometry view = seen_by_folder(before);
    return Point(view * (before.form->form.place[at(faces.front())] * on_sheet) - view * centre());
  }
  [[nodiscard]] Point centre() const { return bounding_box(sheet()).centre(); }
  /// The corner or edge of the sheet as it was laid down that this one is now seen at; none when it lies elsewhere or
  /// another lies with it.
  [[nodiscard]] std::optional<std::size_t> seen_at(std::size_t i, bool corner) const {
    const auto ends = [&](std::size_t k) {
      const Point& p = sheet()[k];
      const Point& q = sheet()[(k + 1) % sheet().size()];
      return corner ? std::vector<Point>{p} : std::vector<Point>{p, (p + q) / 2, q};
    };
    const auto lies_at = [&](std::size_t what, const std::vector<Point>& where) {
      for (const Point& p : ends(what)) {
        const auto q = seen(p);
        if (!q || std::none_of(where.begin(), where.end(), [&](const Point& r) { return (*q - r).norm() < near(); }))
          return false;
      }
      return true;
    };
    std::optional<std::size_t> home;
    for (std::size_t k = 0; k < sheet().size(); ++k) {
      std::vector<Point> where = ends(k);
      for (Point& p : where) p -= centre();
      if (!lies_at(i, where)) continue;
      home = k;
      for (std::size_t other = 0; other < sheet().size(); ++other) {
        if (other != i && lies_at(other, where)) return std::nullopt;
      }
    }
    return home;
  }
};

std::string Told::name(const std::string& name) const {
  static constexpr std::array<std::pair<const char*, const char*>, 8> known = {{{"bl", "the bottom left corner"},
                                                                                {"br", "the bottom right corner"},
                                                                                {"tr", "the top right corner"},
                                                                                {"tl", "the top left corner"},
                                                                                {"bottom", "the bottom edge"},
                                                                                {"right", "the right edge"},
                                                                                {"top", "the top edge"},
                                                                                {"left", "the left edge"}}};
  const auto phrase_of = [&](const std::string& id) {
    const auto entry = std::find_if(known.begin(), known.end(), [&](const auto& e) { return e.first == id; });
    return entry == known.end() ? nullptr : entry->second;
  };
  for (std::size_t i = 0; i < sheet().size(); ++i) {
    const auto id = [&](std::size_t k, bool corner) {
      return corner ? corner_id(sheet(), static_cast<int>(k)) : edge_id(sheet(), static_cast<int>(k));
    };
    const bool corner = id(i, true) == name;
    if (!corner && id(i, false) != name) continue;
    const bool has_phrase = phrase_of(name) != nullptr;
    if (const auto home = has_phrase ? seen_at(i, corner) : std::nullopt)
      return say(style, phrase_of(id(*home, corner)));
    if (has_phrase)
      return say(style, corner ? "the corner marked {name}" : "the edge marked {name}",
                 {{"name", name_in_text(style, name)}});
    return say(style, corner ? "corner {name}" : "edge {name}", {{"name", name_in_text(style, name)}});
  }
  return say(style, sequence.points.count(name) ? "mark {name}" : "crease {name}",
             {{"name", name_in_text(style, name)}});
}

std::string layers_phrase(const Told& t, const StepLine& step, const StepState& state) {
  if (!step.flap.empty()) return say(t.style, "the flap with {point}", {{"point", t.name(step.flap)}});
  if (step.layers == 1) return say(t.style, "the top layer only");
  if (step.layers > 1) return say(t.style, "the top {count} layers", {{"count", std::to_string(step.layers)}});
  if (state.layers <= 1) return say(t.style, "the paper");
  if (state.layers == 2) return say(t.style, "both layers");
  return say(t.style, "all {count} layers", {{"count", std::to_string(state.layers)}});
}

std::string brought(const Told& t, const StepAlignment& a) {
  const auto name = [&](const std::string& n) { return t.name(n); };
  std::string text = say(t.style, "{moved} onto {target}", {{"moved", name(a.moved)}, {"target", name(a.target)}});
  if (!a.second_moved.empty())
    text += say(t.style, " and {moved} onto {target}",
                {{"moved", name(a.second_moved)}, {"target", name(a.second_target)}});
  if (!a.through.empty())
    text += say(t.style, ", with the crease through {point}", {{"point", name(a.through[0])}});
  else if (!a.square_to.empty())
    text += say(t.style, ", with the crease square to {line}", {{"line", name(a.square_to)}});
  return text;
}

std::string line_phrase(const Told& t, const StepAlignment& a) {
  const auto name = [&](const std::string& n) { return t.name(n); };
  if (a.form == StepAlignment::Form::along) return name(a.along);
  if (a.through.size() == 2)
    return say(t.style, "the line through {p} and {q}", {{"p", name(a.through[0])}, {"q", name(a.through[1])}});
  return say(t.style, "the line through {p}, square to {line}",
             {{"p", name(a.through[0])}, {"line", name(a.square_to)}});
}

/// A simple fold: a sentence for what is brought somewhere, and one for a line.
std::string fold_text(const Told& t, const StepLine& step, const StepState& state, const char* brings,
                      const char* on_line) {
  const bool onto = step.alignment.form == StepAlignment::Form::onto;
  return say(t.style, onto ? brings : on_line,
             {{"how", onto ? brought(t, step.alignment) : line_phrase(t, step.alignment)},
              {"layers", layers_phrase(t, step, state)},
              {"kept", step.flap.empty() ? std::string() : t.name(step.flap)},
              {"where", step.at.empty() ? say(t.style, "at both ends")
                                        : say(t.style, "at {line}", {{"line", t.name(step.at)}})}});
}

/// Where a named fold is made: on a line, or so that its tip comes somewhere.
std::string where_phrase(const Told& t, const StepAlignment& a) {
  if (a.form == StepAlignment::Form::onto)
    return say(t.style, ", so that {how}",
               {{"how", say(t.style, "{moved} comes onto {target}",
                            {{"moved", t.name(a.moved)}, {"target", t.name(a.target)}})}});
  return say(t.style, " on {line}", {{"line", line_phrase(t, a)}});
}

std::string collapse_text(const Told& t, const StepLine& step) {
  const auto listed = [&](FoldWay way) {
    std::string names;
    for (const StepCrease& crease : step.creases) {
      if (crease.way != way) continue;
      std::string name = t.name(crease.name);
      if (!crease.from.empty())
        name = say(t.style, "{crease} from {from} to {to}",
                   {{"crease", name}, {"from", t.name(crease.from)}, {"to", t.name(crease.to)}});
      names += (names.empty() ? "" : ", ") + name;
    }
    return names;
  };
  const std::string valleys = listed(FoldWay::valley);
  const std::string mountains = listed(FoldWay::mountain);
  const std::string either = listed(FoldWay::either);
  std::string how;
  if (!valleys.empty()) how += say(t.style, "{creases} forward", {{"creases", valleys}});
  if (!mountains.empty()) how += (how.empty() ? "" : "; ") + say(t.style, "{creases} behind", {{"creases", mountains}});
  if (!either.empty()) how += (how.empty() ? "" : "; ") + either;
  return say(t.style, "Fold all of these creases at once and press flat: {how}.", {{"how", how}});
}

std::string unfold_text(const Told& t, const StepLine& step) {
  if (step.names.empty()) return say(t.style, "Unfold the whole sheet.");
  std::string names;
  for (const std::string& n : step.names) names += (names.empty() ? "" : ", ") + t.name(n);
  return say(t.style, "Unfold {names}.", {{"names", names}});
}

/// What the hands do.
std::string move_text(const Told& t, const StepLine& step, const StepState& state) {
  const std::string tip = step.flap.empty() ? std::string() : t.name(step.flap);
  switch (step.kind) {
  case StepVerb::valley:
    return fold_text(t, step, state, "Bring {how}. Fold {layers}.", "Fold {layers} forward on {how}.");
  case StepVerb::mountain:
    return fold_text(t, step, state, "Bring {how} behind. Fold {layers}.", "Fold {layers} behind on {how}.");
  case StepVerb::crease:
    return fold_text(t, step, state, "Bring {how}. Crease {layers}. Unfold.", "Crease {layers} on {how}. Unfold.");
  case StepVerb::pinch:
    return fold_text(t, step, state, "Bring {how}. Pinch {layers} {where}. Unfold.",
                     "Pinch {layers} on {how} {where}. Unfold.");
  case StepVerb::reverse:
    return say(t.style,
               step.outside
                   ? "Reverse fold {tip} outside{where}: spread the layers, turn the tip round them and press flat."
                   : "Reverse fold {tip} inside{where}: spread the layers, push the tip in between them and "
                     "press flat.",
               {{"tip", tip}, {"where", where_phrase(t, step.alignment)}});
  case StepVerb::sink:
    return say(
        t.style,
        "Sink {tip}{where}: open the paper round it, push it in so that its folds change from mountain to valley "
        "and from valley to mountain, and press flat.",
        {{"tip", tip}, {"where", where_phrase(t, step.alignment)}});
  case StepVerb::squash:
    return say(
        t.style,
        "Squash the flap with {tip}: stand it up, open its layers and press it flat, so that its folded edge lies "
        "along {line}.",
        {{"tip", tip}, {"line", line_phrase(t, step.alignment)}});
  case StepVerb::petal:
    return say(t.style,
               "Petal fold {tip}: lift it as far as it goes, bring both of its sides to the middle and press flat.",
               {{"tip", tip}});
  case StepVerb::rabbit:
    return say(t.style,
               step.names.empty()
                   ? "Fold a rabbit ear of {tip}: bring both of its sides onto {line} at once, lay the ear "
                     "down and press flat."
                   : "Fold a rabbit ear of {tip}: bring both of its sides onto {line} at once, lay the ear "
                     "towards {end} and press flat.",
               {{"tip", tip},
                {"line", line_phrase(t, step.alignment)},
                {"end", step.names.empty() ? std::string() : t.name(step.names[0])}});
  case StepVerb::pleat:
    return say(t.style, "Pleat the paper: fold the side with {point} over on {first} and its end back on {second}.",
               {{"point", t.name(step.moving)}, {"first", t.name(step.names[0])}, {"second", t.name(step.names[1])}});
  case StepVerb::crimp:
    return say(t.style,
               step.outside
                   ? "Crimp {tip}: spread its layers, turn it outside on {first} and back on {second}, and press "
                     "flat."
                   : "Crimp {tip}: spread its layers, push it in on {first} and out again on {second}, and press "
                     "flat.",
               {{"tip", tip}, {"first", t.name(step.names[0])}, {"second", t.name(step.names[1])}});
  case StepVerb::collapse:
    return collapse_text(t, step);
  case StepVerb::cut:
    return fold_text(t, step, state, "Bring {how} and cut {layers} along the fold; keep the side with {kept}.",
                     "Cut {layers} on {how}; keep the side with {kept}.");
  case StepVerb::tuck:
    return say(t.style, "Tuck the flap of {crease} under that of {other}.",
               {{"crease", t.name(step.names[0])}, {"other", t.name(step.names[1])}});
  case StepVerb::unfold:
    return unfold_text(t, step);
  case StepVerb::over:
    return say(t.style, "Turn the paper over.");
  case StepVerb::turn:
    return say(t.style,
               step.degrees < 0 ? "Turn the paper by {degrees}°, clockwise."
                                : "Turn the paper by {degrees}°, counter-clockwise.",
               {{"degrees", format_number(std::abs(step.degrees), 3)}});
  case StepVerb::repeat:
  case StepVerb::cross:
  case StepVerb::say:
    break;
  }
  return {};
}

} // namespace

std::string state_text(const FoldSequence& sequence, std::size_t index, const TextStyle& style) {
  const StepState& state = sequence.states.at(index);
  const Told t{sequence, sequence.states.at(index == 0 ? 0 : index - 1), style};
  const std::string text = state.step < 0 ? say(style, "Lay the sheet down with its face up.")
                                          : move_text(t, sequence.steps[at(state.step)], state);
  return state.remark.empty() ? text : text + " " + state.remark;
}

Caution state_caution(const FoldSequence& sequence, std::size_t index) {
  const StepState& state = sequence.states.at(index);
  return state.step >= 0 && sequence.steps[at(state.step)].kind == StepVerb::cut ? Caution::blade : Caution::none;
}

} // namespace uc
