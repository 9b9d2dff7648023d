#include "io/space_json.h"

#include "programme/space_figure.h"

#include <cmath>

namespace uc {
namespace {

constexpr int most_vertices = 200'000;

/// A micrometre is enough for a drawing, and keeps files small.
double rounded(double mm) { return std::round(mm * 1000) / 1000; }

} // namespace

Json json_of(const SpaceStates& states) {
  Json j = {{"faces", Json::array()}, {"states", Json::array()}};
  for (const SpaceStates::Face& f : states.faces) {
    Json sides = Json::array();
    for (const EdgeKind k : f.sides) sides.push_back(name_of(k));
    Json face = {{"cycle", f.cycle}, {"edges", f.edges}, {"sides", std::move(sides)}};
    if (f.held) face["held"] = true;
    j["faces"].push_back(std::move(face));
  }
  if (!states.held.empty()) j["held"] = states.held;
  if (!states.hands.empty()) j["hands"] = states.hands;
  for (const Point& p : states.on_sheet) j["on_sheet"].push_back({rounded(p.x()), rounded(p.y())});
  for (const auto& state : states.states) {
    Json list = Json::array();
    for (const auto& v : state) list.push_back({rounded(v.x()), rounded(v.y()), rounded(v.z())});
    j["states"].push_back(std::move(list));
  }
  return j;
}

SpaceStates space_states_from(const JsonReader& r) {
  SpaceStates out;
  for (const JsonReader& s : r.at("states").list(1, 100)) {
    std::vector<Eigen::Vector3d> state;
    for (const JsonReader& v : s.list(1, most_vertices)) {
      const auto xyz = v.list(3, 3);
      const auto mm = [&](std::size_t i) { return xyz[i].number(-most_file_mm, most_file_mm); };
      state.emplace_back(mm(0), mm(1), mm(2));
    }
    if (!out.states.empty() && state.size() != out.states.front().size()) s.fail("all states have the same vertices");
    out.states.push_back(std::move(state));
  }
  out.held = r.text("held", {});
  for (const JsonReader& sentence : r.list_at("hands")) out.hands.push_back(sentence.text());
  for (const JsonReader& p : r.list_at("on_sheet")) {
    const auto xy = p.list(2, 2);
    out.on_sheet.emplace_back(xy[0].number(-most_file_mm, most_file_mm), xy[1].number(-most_file_mm, most_file_mm));
  }
  if (!out.on_sheet.empty() && out.on_sheet.size() != out.states.front().size())
    r.at("on_sheet").fail("has as many places as a state has vertices");
  const int vertices = static_cast<int>(out.states.front().size());
  for (const JsonReader& f : r.at("faces").list()) {
    SpaceStates::Face face;
    for (const JsonReader& v : f.at("cycle").list(3)) face.cycle.emplace_back(v.whole(0, vertices - 1));
    for (const JsonReader& e : f.at("edges").list(face.cycle.size(), face.cycle.size()))
      face.edges.emplace_back(e.index());
    for (const JsonReader& k : f.at("sides").list(face.cycle.size(), face.cycle.size()))
      face.sides.push_back(k.word<EdgeKind>());
    face.held = f.flag("held", false);
    out.faces.push_back(std::move(face));
  }
  return out;
}

Collapse collapse_from(const JsonReader& m) {
  Collapse out;
  out.from_percent = m.number("from_percent", 0, 100, 0);
  out.to_percent = m.number("to_percent", 0, 100, 100);
  out.stage = m.whole("stage", 1, 1000, 1);
  out.stages = m.whole("stages", 1, 1000, 1);
  for (const JsonReader& c : m.list_at("creases")) out.creases.emplace_back(c.index());
  out.state = m.whole("state", 0, 1000, 0);
  out.strain = m.number("strain", 0, 1000, 0);
  return out;
}

void check_space(const JsonReader& at, const Move& move, const SpaceStates* states) {
  const std::optional<int> state = space_state_after(move);
  if (state && states && *state >= static_cast<int>(states->states.size()))
    at.at("state").fail(fmt::format("{}: there are {} states, numbered from 0", *state, states->states.size()));
}

} // namespace uc
