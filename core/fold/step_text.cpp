#include "fold/step_text.h"

#include "programme/naming.h"
#include "reference/construction.h"

#include <fmt/format.h>

#include <array>
#include <cmath>

namespace uc {
namespace {

std::string layers_phrase(const StepLine& step, const StepState& state, const FoldSequence& sequence,
                          const TextStyle& style) {
  if (!step.flap.empty())
    return say(style, "the flap with {point}", {{"point", thing_name(sequence, step.flap, style)}});
  if (step.layers == 1) return say(style, "the top layer only");
  if (step.layers > 1) return say(style, "the top {count} layers", {{"count", std::to_string(step.layers)}});
  if (state.layers <= 1) return say(style, "the paper");
  if (state.layers == 2) return say(style, "both layers");
  return say(style, "all {count} layers", {{"count", std::to_string(state.layers)}});
}

std::string brought(const FoldSequence& sequence, const StepAlignment& a, const TextStyle& style) {
  const auto name = [&](const std::string& n) { return thing_name(sequence, n, style); };
  std::string text = say(style, "{moved} onto {target}", {{"moved", name(a.moved)}, {"target", name(a.target)}});
  if (!a.second_moved.empty())
    text +=
        say(style, " and {moved} onto {target}", {{"moved", name(a.second_moved)}, {"target", name(a.second_target)}});
  if (!a.through.empty())
    text += say(style, ", with the crease through {point}", {{"point", name(a.through[0])}});
  else if (!a.square_to.empty())
    text += say(style, ", with the crease square to {line}", {{"line", name(a.square_to)}});
  return text;
}

std::string line_phrase(const FoldSequence& sequence, const StepAlignment& a, const TextStyle& style) {
  const auto name = [&](const std::string& n) { return thing_name(sequence, n, style); };
  if (a.form == StepAlignment::Form::along) return name(a.along);
  if (a.through.size() == 2)
    return say(style, "the line through {p} and {q}", {{"p", name(a.through[0])}, {"q", name(a.through[1])}});
  return say(style, "the line through {p}, square to {line}", {{"p", name(a.through[0])}, {"line", name(a.square_to)}});
}

std::string fold_text(const FoldSequence& sequence, const StepLine& step, const StepState& state,
                      const TextStyle& style) {
  const std::string layers = layers_phrase(step, state, sequence, style);
  const StepAlignment& a = step.alignment;
  const bool onto = a.form == StepAlignment::Form::onto;
  const std::string how = onto ? brought(sequence, a, style) : line_phrase(sequence, a, style);
  const std::string where = step.at.empty() ? say(style, "at both ends")
                                            : say(style, "at {line}", {{"line", thing_name(sequence, step.at, style)}});
  switch (step.kind) {
  case StepVerb::valley:
    return say(style, onto ? "Bring {how}. Fold {layers}." : "Fold {layers} forward on {how}.",
               {{"how", how}, {"layers", layers}});
  case StepVerb::mountain:
    return say(style, onto ? "Bring {how} behind. Fold {layers}." : "Fold {layers} behind on {how}.",
               {{"how", how}, {"layers", layers}});
  case StepVerb::crease:
    return say(style, onto ? "Bring {how}. Crease {layers}. Unfold." : "Crease {layers} on {how}. Unfold.",
               {{"how", how}, {"layers", layers}});
  case StepVerb::pinch:
    return say(style,
               onto ? "Bring {how}. Pinch {layers} {where}. Unfold." : "Pinch {layers} on {how} {where}. Unfold.",
               {{"how", how}, {"layers", layers}, {"where", where}});
  default:
    return {};
  }
}

} // namespace

std::string thing_name(const FoldSequence& sequence, const std::string& name, const TextStyle& style) {
  static constexpr std::array<std::pair<const char*, const char*>, 8> known = {{{"bl", "the bottom left corner"},
                                                                                {"br", "the bottom right corner"},
                                                                                {"tr", "the top right corner"},
                                                                                {"tl", "the top left corner"},
                                                                                {"bottom", "the bottom edge"},
                                                                                {"right", "the right edge"},
                                                                                {"top", "the top edge"},
                                                                                {"left", "the left edge"}}};
  const Polygon& sheet = sequence.file.sheet.outline();
  for (int i = 0; i < static_cast<int>(sheet.size()); ++i) {
    if (corner_id(sheet, i) != name && edge_id(sheet, i) != name) continue;
    for (const auto& [id, phrase] : known) {
      if (id == name) return say(style, phrase);
    }
    return say(style, corner_id(sheet, i) == name ? "corner {name}" : "edge {name}",
               {{"name", name_in_text(style, name)}});
  }
  return say(style, sequence.points.count(name) ? "mark {name}" : "crease {name}",
             {{"name", name_in_text(style, name)}});
}

std::string state_text(const FoldSequence& sequence, std::size_t index, const TextStyle& style) {
  const StepState& state = sequence.states.at(index);
  std::string text;
  if (state.step < 0) {
    text = say(style, "Lay the sheet down with its face up.");
  } else {
    const StepLine& step = sequence.file.lines[static_cast<std::size_t>(state.step)];
    switch (step.kind) {
    case StepVerb::over:
      text = say(style, "Turn the paper over.");
      break;
    case StepVerb::turn:
      text = say(style,
                 step.degrees < 0 ? "Turn the paper by {degrees}°, clockwise."
                                  : "Turn the paper by {degrees}°, counter-clockwise.",
                 {{"degrees", format_number(std::abs(step.degrees), 3)}});
      break;
    case StepVerb::tuck:
      text = say(style, "Tuck the flap of {crease} under that of {other}.",
                 {{"crease", thing_name(sequence, step.names[0], style)},
                  {"other", thing_name(sequence, step.names[1], style)}});
      break;
    case StepVerb::unfold: {
      std::string names;
      for (const std::string& n : step.names) names += (names.empty() ? "" : ", ") + thing_name(sequence, n, style);
      text = step.names.empty() ? say(style, "Unfold the whole sheet.")
                                : say(style, "Unfold {names}.", {{"names", names}});
      break;
    }
    default:
      text = fold_text(sequence, step, state, style);
    }
  }
  return state.remark.empty() ? text : text + " " + state.remark;
}

} // namespace uc
