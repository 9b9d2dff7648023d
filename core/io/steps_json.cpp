#include "io/steps_json.h"

#include "base/index.h"
#include "fold/step_errors.h"
#include "fold/step_text.h"

namespace uc {
namespace {

Json pair(const Point& p) { return {p.x(), p.y()}; }

/// As it is written: seen from the coloured side of face 0, which keeps its place.
Json state_json(const FoldSequence& sequence, std::size_t index) {
  const StepState& state = sequence.states[index];
  const PieceForm& form = *state.form;
  Json vertices = Json::array();
  for (const Point& p : form.pattern.vertices) vertices.push_back(pair(p));
  Json edges = Json::array();
  for (const PatternEdge& e : form.pattern.edges)
    edges.push_back({e.from, e.to, e.kind == EdgeKind::unfolded ? "flat" : name_of(e.kind)});
  const Isometry back = form.form.place[0].inverse();
  Json faces = Json::array();
  for (std::size_t f = 0; f < form.graph.faces.size(); ++f) {
    const Isometry i = back * form.form.place[f];
    faces.push_back(
        {{"vertices", form.graph.faces[f].cycle},
         {"isometry", {i.linear(0, 0), i.linear(0, 1), i.linear(1, 0), i.linear(1, 1), i.shift.x(), i.shift.y()}}});
  }
  Json above = Json::array();
  for (std::size_t p = 1; p < form.pairs.size(); ++p) {
    const auto [f, g] = form.pairs[p];
    const bool first = (form.first_above[p] != 0) != (form.form.flipped[0] != 0);
    above.push_back(first ? Json{f, g} : Json{g, f});
  }
  Json out{{"n", index},
           {"line", state.line},
           {"text", state_text(sequence, index)},
           {"vertices", vertices},
           {"edges", edges},
           {"faces", faces},
           {"above", above},
           {"layers_max", form.overlap.layers_max},
           {"size_mm", pair(folded_size(form.form))},
           {"underside_up", state.underside_up}};
  if (const Caution caution = state_caution(sequence, index); caution != Caution::none)
    out["caution"] = caution_text(caution);
  if (!form.marks.empty()) {
    Json marks = Json::array();
    for (const Segment& s : form.marks) marks.push_back({s.from.x(), s.from.y(), s.to.x(), s.to.y()});
    out["marks"] = marks;
  }
  return out;
}

} // namespace

Json steps_json(const FoldSequence& sequence, double sigma_mm, std::optional<int> state, double creep_per_layer_mm) {
  Json states = Json::array();
  for (std::size_t i = 0; i < sequence.states.size(); ++i) {
    if (!state || *state == static_cast<int>(i)) states.push_back(state_json(sequence, i));
  }
  Json points = Json::object();
  for (const auto& [name, p] : sequence.points) points[name] = pair(p);
  const SequenceErrors errors = sequence_errors(sequence, sigma_mm, creep_per_layer_mm);
  return {{"sheet_mm", {sequence.file.sheet.width(), sequence.file.sheet.height()}},
          {"states", states},
          {"worst_sigma_mm", errors.determined ? Json(errors.worst_sigma_mm) : Json()},
          {"worst_gap_mm", errors.determined ? Json(errors.gaps.empty() ? 0 : errors.gaps.front().sigma_mm) : Json()},
          {"points", points}};
}

} // namespace uc
