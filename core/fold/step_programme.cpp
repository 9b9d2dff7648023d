#include "fold/step_programme.h"

#include "base/index.h"
#include "fold/step_errors.h"
#include "fold/step_figure.h"
#include "fold/step_text.h"
#include "reference/construction.h"

#include <fmt/format.h>

#include <algorithm>

namespace uc {
namespace {

class SequenceFolding : public Folding {
public:
  SequenceFolding(FoldedSequence folded, double sigma_mm, std::string source)
      : sequence_(std::move(folded.made)), refusal_(folded.refused ? folded.refused->sentence() : std::string()),
        sigma_mm_(sigma_mm), source_(std::move(source)) {}

  [[nodiscard]] std::size_t moves() const override { return sequence_.states.size() - 1; }
  [[nodiscard]] const PieceForm& form_before(std::size_t move) const override {
    return *sequence_.states.at(std::min(move, moves())).form;
  }
  [[nodiscard]] Figure figure(std::size_t move) const override {
    return move < moves() ? step_figure(sequence_, move + 1) : state_figure(sequence_, moves());
  }
  [[nodiscard]] std::string text(std::size_t move, const TextStyle& style) const override {
    return state_text(sequence_, move + 1, style);
  }
  [[nodiscard]] std::string check(std::size_t move, const TextStyle& style) const override {
    const StepState& state = sequence_.states.at(move + 1);
    const StepLine& step = sequence_.steps[at(state.step)];
    if (state.fold < 0 || step.alignment.moved.empty()) return {};
    // Nineteen of twenty folds: 1.645 standard errors to either side.
    return say(style,
               "What is brought over should lie on its mark along its whole length; up to {usual} is normal for "
               "your hand.",
               {{"usual", format_error(Millimetres{1.645 * sigma_mm_}, style.unit)}});
  }
  [[nodiscard]] std::string short_text(std::size_t move, const TextStyle& style) const override {
    const StepState& state = sequence_.states.at(move + 1);
    const StepLine& step = sequence_.steps[at(state.step)];
    switch (step.kind) {
    case StepVerb::over:
      return say(style, "turn over");
    case StepVerb::turn:
      return say(style, "rotate");
    case StepVerb::tuck:
      return say(style, "tuck");
    case StepVerb::unfold:
      return say(style, "unfold");
    case StepVerb::mountain:
      return say(style, "fold behind");
    case StepVerb::valley:
      return say(style, "fold");
    case StepVerb::reverse:
      return say(style, "reverse");
    case StepVerb::sink:
      return say(style, "sink");
    case StepVerb::squash:
      return say(style, "squash");
    case StepVerb::petal:
      return say(style, "petal");
    case StepVerb::rabbit:
      return say(style, "rabbit ear");
    case StepVerb::pleat:
      return say(style, "pleat");
    case StepVerb::crimp:
      return say(style, "crimp");
    case StepVerb::collapse:
      return say(style, "collapse");
    case StepVerb::cut:
      return say(style, "cut");
    case StepVerb::crease:
    case StepVerb::pinch:
    case StepVerb::repeat:
    case StepVerb::cross:
    case StepVerb::say:
      break;
    }
    return state.fold >= 0 ? sequence_.folds[at(state.fold)].name : std::string();
  }
  [[nodiscard]] const std::string& refusal() const override { return refusal_; }
  [[nodiscard]] const std::string& source() const override { return source_; }

private:
  FoldSequence sequence_;
  std::string refusal_;
  double sigma_mm_;
  std::string source_;
};

/// What a line of the steps file does to the paper; `crease` is what its fold creases.
Effect effect_of(const StepLine& step, MakeCreases crease) {
  switch (step.kind) {
  case StepVerb::valley:
  case StepVerb::mountain:
    crease.fold = step.kind == StepVerb::valley ? Fold::valley : Fold::mountain;
    return Refold{RefoldWay::fold, std::move(crease)};
  case StepVerb::reverse:
  case StepVerb::sink:
  case StepVerb::squash:
  case StepVerb::petal:
  case StepVerb::rabbit:
  case StepVerb::pleat:
  case StepVerb::crimp:
  case StepVerb::collapse:
    return Refold{RefoldWay::fold, std::move(crease)};
  case StepVerb::crease:
    return crease;
  case StepVerb::pinch:
    crease.extent = Extent::pinch;
    return crease;
  case StepVerb::tuck:
    return Refold{RefoldWay::tuck, {}};
  case StepVerb::unfold:
    return Refold{RefoldWay::unfold, {}};
  case StepVerb::over:
    return Handle{HandleWay::turn_over, 0};
  case StepVerb::turn:
    return Handle{HandleWay::rotate, step.degrees};
  case StepVerb::cut:
    return Cut{crease.spans};
  case StepVerb::repeat:
  case StepVerb::cross:
  case StepVerb::say:
    break;
  }
  return Work{WorkWay::check, 0};
}

double seconds_of(StepVerb verb, const HandProfile& hand) {
  if (verb == StepVerb::pinch) return hand.pinch_seconds;
  if (verb == StepVerb::over) return hand.turn_seconds;
  if (verb == StepVerb::turn) return hand.rotate_seconds;
  // A named fold takes as long as the simple folds that it is put together from.
  if (verb == StepVerb::reverse || verb == StepVerb::squash || verb == StepVerb::pleat) return 2 * hand.fold_seconds;
  if (verb == StepVerb::rabbit || verb == StepVerb::petal || verb == StepVerb::collapse) return 3 * hand.fold_seconds;
  return verb == StepVerb::sink || verb == StepVerb::crimp ? 4 * hand.fold_seconds : hand.fold_seconds;
}

} // namespace

Programme programme_of(FoldedSequence folded, const HandProfile& hand, std::string source, double caliper_mm) {
  const FoldSequence& sequence = folded.made;
  Programme out;
  out.sheet = sequence.file.sheet.outline();
  const SequenceErrors errors = sequence_errors(sequence, hand.sigma_mm, creep_mm(hand, 2, caliper_mm));
  const PieceForm& last = *sequence.states.back().form;
  for (std::size_t k = 0; k < sequence.folds.size(); ++k) {
    Element crease;
    crease.id = {ElementSource::steps, 0, static_cast<int>(k)};
    crease.label = sequence.folds[k].name;
    double worst = hand.sigma_mm;
    for (std::size_t e = 0; e < last.pattern.edges.size(); ++e) {
      const int line = last.line_of[e];
      if (line < 0 || sequence.lines[at(line)].fold != static_cast<int>(k)) continue;
      crease.spans.push_back(last.pattern.segment(CreaseId(e)));
      for (const int v : {last.pattern.edges[e].from, last.pattern.edges[e].to})
        worst = std::max(worst, errors.vertex_sigma_mm[at(v)]);
    }
    crease.sigma_mm = worst;
    out.elements.push_back(std::move(crease));
  }
  for (std::size_t i = 1; i < sequence.states.size(); ++i) {
    const StepState& state = sequence.states[i];
    const StepLine& step = sequence.steps[at(state.step)];
    Move move;
    move.seconds = seconds_of(step.kind, hand);
    move.caution = state_caution(sequence, i);
    MakeCreases made;
    made.layers = std::max(1, state.layers);
    if (state.fold >= 0) {
      const Element& crease = out.elements[at(state.fold)];
      made.makes = crease.id;
      made.spans = crease.spans;
      move.hand_sigma_mm = std::hypot(hand.sigma_mm, creep_mm(hand, made.layers, caliper_mm));
      move.sigma_mm = crease.sigma_mm.value_or(hand.sigma_mm);
    }
    move.effect = effect_of(step, std::move(made));
    out.moves.push_back(std::move(move));
  }
  out.folding = std::make_shared<const SequenceFolding>(std::move(folded), hand.sigma_mm, std::move(source));
  return out;
}

Result<FoldedSequence> folded_steps(const std::string& source) {
  auto file = parse_steps(source);
  if (!file) return Error{file.error()};
  return fold_sequence(std::move(file).value());
}

Result<std::shared_ptr<const Folding>> folding_from(const std::string& source, const Programme& stored) {
  auto folded = folded_steps(source);
  if (!folded) return Error{folded.error()};
  const FoldSequence& sequence = folded->made;
  if (sequence.states.size() != stored.moves.size() + 1)
    return Error{
        fmt::format("the steps fold {} moves, and {} are stored", sequence.states.size() - 1, stored.moves.size())};
  double sigma = 0;
  for (const Move& m : stored.moves) sigma = std::max(sigma, m.hand_sigma_mm);
  return std::shared_ptr<const Folding>(std::make_shared<const SequenceFolding>(*folded, sigma, source));
}

std::string with_sheet(const std::string& source, const Sheet& sheet) {
  // A line that gives this very sheet stays as it is typed, with the names of its numbers.
  if (const auto file = parse_steps(source); file && file->sheet.code() == sheet.code()) return source;
  const std::string line = "sheet " + sheet.code();
  std::size_t from = source.starts_with("sheet ") ? 0 : source.find("\nsheet ");
  if (from == std::string::npos) return line + "\n" + source;
  if (source[from] == '\n') ++from;
  const std::size_t to = std::min(source.find_first_of("\r\n", from), source.size());
  const std::size_t remark = std::min(source.find('#', from), to);
  return source.substr(0, from) + line + (remark < to ? " " : "") + source.substr(remark, to - remark) +
         source.substr(to);
}

} // namespace uc
