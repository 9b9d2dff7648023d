// The values of json_codec.h read back, strictly.
#include "io/json_codec.h"
#include "io/json_reader.h"
#include "io/space_json.h"
#include "io/units_json.h"

#include "divide/starts.h"
#include "fold/step_programme.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <limits>
#include <map>
#include <set>

namespace uc {
namespace {

constexpr double most_seconds = 86'400; // of one move
constexpr double day_minutes = 60.0 * 24 * 366;

double length(const JsonReader& r) { return r.number(-most_file_mm, most_file_mm); }

Segment segment_from(const JsonReader& r) {
  const auto v = r.list(4, 4);
  return {{length(v[0]), length(v[1])}, {length(v[2]), length(v[3])}};
}

std::vector<Segment> segments_from(const std::vector<JsonReader>& list) {
  std::vector<Segment> all;
  all.reserve(list.size());
  for (const JsonReader& s : list) all.push_back(segment_from(s));
  return all;
}

GridStep step_from(const JsonReader& r, int parts) {
  GridStep step;
  step.kind = r.at("kind").word<StepKind>();
  step.a = static_cast<int>(r.at("a").whole(0, parts));
  step.b = static_cast<int>(r.at("b").whole(0, parts));
  step.makes = static_cast<int>(r.at("makes").whole(0, parts));
  step.pinch = r.flag("pinch", false);
  return step;
}

/// An id as it is written; in earlier versions ids were numbers.
ElementId id_from(const JsonReader& r) {
  const auto id = r.json().is_string() ? element_id(r.text())
                                       : element_id_of_number(r.whole(0, std::numeric_limits<std::int32_t>::max()));
  if (!id) r.fail("is not the id of an element; ids read like grid.0.3");
  return *id;
}

std::vector<ElementId> ids(const JsonReader& r, const char* key) {
  std::vector<ElementId> all;
  for (const JsonReader& i : r.list_at(key)) all.push_back(id_from(i));
  return all;
}

Element element_from(const JsonReader& e) {
  Element element;
  element.id = id_from(e.at("id"));
  element.role = e.word("role", Role::crease);
  element.place = e.text("place", "");
  element.label = e.text("label", "");
  element.made_of = ids(e, "made_of");
  element.family = e.text("family", "");
  element.parts = e.whole("parts", 0, 1 << 20, 1);
  element.index = e.whole("index", -(1 << 20), 1 << 20, 0);
  element.parts = std::max(1, element.parts);
  element.spans = segments_from(e.list_at("spans"));
  if (const auto sigma = e.find("sigma_mm")) element.sigma_mm = sigma->number(0, most_file_mm);
  element.existing = e.flag("existing", false);
  element.by_direction = e.flag("by_direction", false);
  return element;
}

MakeCreases creases_from(const JsonReader& m, MakeCreases c) {
  if (const auto makes = m.find("makes")) c.makes = id_from(*makes);
  c.spans = segments_from(m.list_at("spans"));
  c.extent = m.word("extent", c.extent);
  c.fold = m.word("fold", Fold::undirected);
  c.layers = m.whole("layers", 1, 10'000, 1);
  c.replaces = m.flag("replaces", false);
  c.ends = ids(m, "ends");
  c.settles = m.flag("settles", false);
  return c;
}

Effect effect_from(const JsonReader& m) {
  const std::string word = m.at("kind").text();
  const auto effect = effect_named(word);
  if (!effect) m.at("kind").fail(fmt::format("\"{}\" is not a kind of move", word));
  Move move;
  move.effect = *effect;
  return by_effect(
      move, [&](const MakeCreases& e) -> Effect { return creases_from(m, e); },
      [&](const Refold& e) -> Effect {
        return Refold{e.way, creases_from(m, e.creases)};
      },
      [&](const Collapse&) -> Effect { return collapse_from(m); },
      [&](const FoldUnit&) -> Effect { return FoldUnit{UnitId(m.at("unit").index())}; },
      [&](const Join&) -> Effect { return join_from(m); },
      [&](const Handle& e) -> Effect {
        return Handle{e.way, m.number("degrees", -360, 360, 0)};
      },
      [&](const Cut&) -> Effect { return Cut{segments_from(m.list_at("spans"))}; },
      [&](const Work& e) -> Effect {
        Work work{e.way, m.number("wait_minutes", 0, day_minutes, 0)};
        if (const auto place = m.find("place_mm")) {
          const auto xy = place->list(2, 2);
          work.place_mm = {xy[0].number(-most_file_mm, most_file_mm), xy[1].number(-most_file_mm, most_file_mm)};
        }
        if (m.find("state")) work.state = m.whole("state", 0, 1000, 0);
        return work;
      });
}

/// Which time of which repeat; in earlier versions a move said both, "direction 2 of 3", by itself.
std::optional<RepeatPlace> repeat_from(const JsonReader& m, std::vector<Repeat>& repeats) {
  const auto place = m.find("repeat");
  if (!place) return std::nullopt;
  if (place->json().is_number()) {
    const int times = m.whole("repeats", 0, 1'000'000, 0);
    const int time = place->whole(0, 1'000'000);
    if (times < 1 || time < 1) return std::nullopt;
    if (repeats.empty()) repeats.push_back({RepeatWay::directions, times});
    if (time > repeats.front().times) place->fail("is more than the times it is done");
    return RepeatPlace{0, time};
  }
  const int of = place->at("of").whole(0, 1'000'000);
  if (static_cast<std::size_t>(of) >= repeats.size()) place->at("of").fail("is not one of the repeats");
  return RepeatPlace{of, static_cast<int>(place->at("time").whole(1, repeats[static_cast<std::size_t>(of)].times))};
}

Move move_from(const JsonReader& m, std::vector<Repeat>& repeats) {
  Move move;
  move.effect = effect_from(m);
  move.seconds = m.number("seconds", 0, most_seconds, 0);
  move.aligned = {ids(m, "moving"), ids(m, "onto"), ids(m, "through")};
  move.aligned.others = segments_from(m.list_at("others"));
  // Files of before said only that there are some.
  if (m.flag("choice", false)) move.aligned.others.push_back({});
  move.caution = m.word("caution", Caution::none);
  move.sigma_mm = m.number("sigma_mm", 0, most_file_mm, 0);
  move.hand_sigma_mm = m.number("hand_sigma_mm", 0, most_file_mm, 0);
  move.repeat = repeat_from(m, repeats);
  return move;
}

/// A move that aligns must say what with what, unless its steps file does, and what it names must be there.
void check_references(const JsonReader& at, const Move& move, const std::set<ElementId>& known, bool has_steps) {
  const auto check = [&](const char* key, const std::vector<ElementId>& list, bool none) {
    for (const ElementId id : list) {
      if (!(none && !id) && !known.contains(id))
        at.at(key).fail(fmt::format("element {} does not exist in this programme", text_of(id)));
    }
  };
  const auto& [moving, onto, through, others] = move.aligned;
  const MakeCreases& made = move.creases();
  check("moving", moving, false);
  check("onto", onto, false);
  check("through", through, false);
  check("ends", made.ends, true);
  if (made.makes && !known.contains(*made.makes))
    at.at("makes").fail(fmt::format("element {} does not exist in this programme", text_of(*made.makes)));
  if (has_steps) return;
  if (move.is<Refold>()) at.fail("paper that stays folded needs the steps it is folded by");
  const bool aligns = move.is(CreaseWay::align);
  if (aligns && through.empty() && (moving.empty() || onto.empty()))
    at.fail("nothing is aligned; a fold names what is brought onto what");
  if (move.is(CreaseWay::through) && onto.empty()) at.fail("a crease names the line it is folded on");
  if (move.is(CreaseWay::between) && through.empty()) at.fail("a crease between marks names the marks it goes through");
  if (aligns && moving.size() != onto.size()) at.fail("moving and onto must be equally long");
}

} // namespace

Stock stock_from(const JsonReader& r) {
  Stock s;
  s.name = r.at("name").text();
  s.caliper_mm = r.number("caliper_mm", 0, 100, s.caliper_mm);
  s.grammage = r.number("grammage", 0, 100'000, s.grammage);
  s.stiffness = r.word("stiffness", Stiffness::medium);
  s.memory = r.word("memory", CreaseMemory::fair);
  s.damp_shaping = r.flag("damp_shaping", false);
  s.largest_mm = r.number("largest_mm", 0, most_file_mm, 0);
  s.sheets = r.whole("sheets", 0, 1'000'000'000, 0);
  s.face = r.text("face", s.face);
  s.underside = r.text("underside", s.underside);
  s.note = r.text("note", "");
  s.width_mm = r.number("width_mm", 0, most_file_mm, 0);
  s.height_mm = r.number("height_mm", 0, most_file_mm, 0);
  return s;
}

TruenessMeasure trueness_from(const JsonReader& r) {
  const auto side = [&](const char* key) { return r.at(key).number(0, 2 * most_file_mm); };
  return {side("bottom"), side("right"), side("top"), side("left"), side("rising"), side("falling")};
}

HandProfile hand_from(const JsonReader& r) {
  HandProfile h;
  h.sigma_mm = r.number("sigma_mm", 0, 1000, h.sigma_mm);
  h.sigma_se_mm = r.number("sigma_se_mm", 0, 1000, h.sigma_se_mm);
  h.guess_sigma_mm = r.number("guess_sigma_mm", 0, 10'000, h.guess_sigma_mm);
  h.creep = r.number("creep", 0, 5, h.creep);
  h.measured_runs = r.whole("measured_runs", 0, 1'000'000'000, h.measured_runs);
  h.fold_seconds = r.number("fold_seconds", 0, 3600, h.fold_seconds);
  h.pinch_seconds = r.number("pinch_seconds", 0, 3600, h.pinch_seconds);
  h.turn_seconds = r.number("turn_seconds", 0, 3600, h.turn_seconds);
  h.rotate_seconds = r.number("rotate_seconds", 0, 3600, h.rotate_seconds);
  h.either_side = r.flag("either_side", h.either_side);
  return h;
}

GridSpec grid_spec_from(const JsonReader& r) {
  GridSpec s;
  s.parts = r.whole("parts", least_parts, greatest_parts, s.parts);
  s.axis = r.word("axis", GridAxis::both);
  s.method = r.word("method", Method::best);
  s.direction = r.word("direction", DirectionRule::valley);
  s.extent = r.word("extent", ExtentRule::full);
  s.inset = r.whole("inset", 0, greatest_parts, s.inset);
  for (const JsonReader& b : r.list_at("keep_clean")) {
    const auto v = b.list(4, 4);
    s.keep_clean.push_back({{length(v[0]), length(v[1])}, {length(v[2]), length(v[3])}});
  }
  for (const JsonReader& line : r.list_at("left_out")) s.left_out.push_back(static_cast<int>(line.whole(0, s.parts)));
  s.pinches_allowed = r.flag("pinches_allowed", true);
  if (const auto start = r.find("start")) {
    s.start =
        StartMark{static_cast<int>(start->at("line").whole(0, s.parts)), start->at("sigma_mm").number(0, most_file_mm),
                  start->word("kind", StartKind::given), start->texts("recipes")};
  }
  return s;
}

Programme programme_from(const JsonReader& r) {
  Programme p;
  for (const JsonReader& v : r.at("sheet").list()) {
    const auto xy = v.list(2, 2);
    p.sheet.push_back({length(xy[0]), length(xy[1])});
  }
  std::set<ElementId> known;
  const auto elements = r.at("elements").list();
  p.elements.reserve(elements.size());
  for (const JsonReader& e : elements) {
    p.elements.push_back(element_from(e));
    if (!known.insert(p.elements.back().id).second)
      e.at("id").fail(fmt::format("element {} is there already", text_of(p.elements.back().id)));
  }
  for (std::size_t i = 0; i < elements.size(); ++i) {
    for (const ElementId id : p.elements[i].made_of) {
      if (!known.contains(id))
        elements[i].at("made_of").fail(fmt::format("element {} does not exist in this programme", text_of(id)));
    }
  }
  if (const auto space = r.find("space")) p.space = std::make_shared<const SpaceStates>(space_states_from(*space));
  if (const auto units = r.find("units")) p.units = std::make_shared<const UnitMap>(unit_map_from(*units));
  for (const JsonReader& repeat : r.list_at("repeats"))
    p.repeats.push_back({repeat.at("way").word<RepeatWay>(), static_cast<int>(repeat.at("times").whole(1, 1'000'000))});
  const auto moves = r.at("moves").list();
  p.moves.reserve(moves.size());
  for (const JsonReader& m : moves) {
    p.moves.push_back(move_from(m, p.repeats));
    check_references(m, p.moves.back(), known, r.find("steps").has_value());
    check_units(m, p.moves.back(), p.units.get());
    check_space(m, p.moves.back(), p.space.get());
  }
  if (const auto steps = r.find("steps")) {
    auto folding = folding_from(steps->text(), p);
    if (!folding) steps->fail(folding.error());
    p.folding = std::move(folding).value();
  }
  return p;
}

RunDetail run_detail_from(const JsonReader& r) {
  RunDetail run;
  RunSummary& s = run.summary;
  s.title = r.at("title").text();
  s.sheet = r.text("sheet", "");
  s.stock = r.text("stock", "");
  if (r.find("axis")) { // as earlier versions wrote it: the grid that was folded
    const std::string axis = r.text("axis", "");
    const std::string method = r.text("method", "");
    s.kind = axis == "pattern" ? "pre-crease" : "division";
    s.way = axis == "pattern" ? method : axis + ", " + method;
    s.size = r.whole("parts", 0, 1 << 20, 0);
  } else {
    s.kind = r.text("kind", "");
    s.way = r.text("way", "");
    s.size = r.whole("size", 0, 1 << 24, 0);
  }
  s.started = r.text("started", "");
  s.ended = r.text("ended", "");
  s.status = r.word("status", RunStatus::finished);
  s.moves_planned = r.whole("moves_planned", 0, 1 << 24, 0);
  s.planned_minutes = r.number("planned_minutes", 0, 1e9, 0);
  s.planned_sigma_mm = r.number("planned_sigma_mm", 0, most_file_mm, 0);
  s.planned_worst_mm = r.number("planned_worst_mm", 0, most_file_mm, 0);
  s.note = r.text("note", "");
  for (const JsonReader& e : r.list_at("events")) {
    run.events.push_back({e.word("kind", EventKind::done), e.whole("move", 0, 1 << 24, 0),
                          e.number("seconds", 0, 1e9, 0), e.text("text", ""), e.text("at", "")});
  }
  for (const JsonReader& m : r.list_at("measured")) {
    run.measured.push_back({m.at("family").text(), static_cast<int>(m.at("line").whole(0, 1 << 20)),
                            length(m.at("position_mm")), m.number("expected_mm", -most_file_mm, most_file_mm, 0),
                            m.number("plan_sigma_mm", 0, most_file_mm, 0),
                            m.number("ruler_sigma_mm", 0, most_file_mm, 0.15)});
  }
  run.photos = r.texts("photos");
  return run;
}

std::vector<StoredPlan> plans_from(const JsonReader& r) {
  std::vector<StoredPlan> all;
  for (const JsonReader& p : r.list()) {
    StoredPlan plan;
    plan.family = p.at("family").text();
    plan.extent_mm = p.at("extent_mm").number(0, 2 * most_file_mm);
    plan.task.parts = static_cast<int>(p.at("parts").whole(least_parts, greatest_parts));
    plan.task.sigma_mm = p.at("sigma_mm").number(0, most_file_mm);
    plan.task.guess_sigma_mm = p.at("guess_sigma_mm").number(0, most_file_mm);
    if (const auto start = p.find("start"))
      plan.task.start = StartMark{static_cast<int>(start->at("line").whole(0, plan.task.parts)),
                                  start->at("sigma_mm").number(0, most_file_mm),
                                  StartKind::given,
                                  {}};
    for (const JsonReader& step : p.at("steps").list()) plan.steps.push_back(step_from(step, plan.task.parts));
    all.push_back(std::move(plan));
  }
  return all;
}

Result<std::vector<StoredPlan>> stored_plans(const RunDetail& run) {
  const auto json = parse_json(run.plans_json, fmt::format("The plan of run {}", run.summary.id));
  if (!json) return Error{json.error()};
  try {
    return plans_from(JsonReader(*json, "plans"));
  } catch (const FieldError& e) {
    return Error{fmt::format("The plan of run {} cannot be read ({}).", run.summary.id, e.what())};
  }
}

std::vector<std::optional<int>> moves_of_steps(const StoredPlan& plan, std::size_t family, const Programme& programme) {
  const auto line_made_by = [](const Move& m) -> std::optional<ElementId> {
    const auto* crease = std::get_if<MakeCreases>(&m.effect);
    if (!crease || crease->way == CreaseWay::both_ways || crease->way == CreaseWay::score) return std::nullopt;
    return crease->makes;
  };
  std::map<ElementId, std::vector<int>> making; // moves that make an element, in order
  for (std::size_t i = 0; i < programme.moves.size(); ++i) {
    if (const auto line = line_made_by(programme.moves[i])) making[*line].push_back(static_cast<int>(i));
  }
  std::map<int, std::size_t> made; // how often a line was made by the steps before
  std::vector<std::optional<int>> out;
  for (const GridStep& step : plan.steps) {
    const auto& moves = making[line_element_id(family, step.makes)];
    const std::size_t n = made[step.makes]++;
    out.push_back(n < moves.size() ? std::optional(moves[n]) : std::nullopt);
  }
  return out;
}

std::vector<GridStep> steps_done(const StoredPlan& plan, std::size_t family, const Programme& programme,
                                 const RunProgress& progress) {
  const auto moves = moves_of_steps(plan, family, programme);
  std::vector<std::size_t> done;
  for (std::size_t i = 0; i < plan.steps.size(); ++i) {
    const bool skipped =
        moves[i] && std::find(progress.skipped.begin(), progress.skipped.end(), *moves[i]) != progress.skipped.end();
    if (moves[i] && *moves[i] < progress.next_move && !skipped) done.push_back(i);
  }
  std::vector<std::size_t> kept;
  return possible_steps(plan.task, plan.steps, done, kept);
}

Result<std::vector<MeasuredFamily>> measured_families(const RunDetail& run) {
  const auto plans = stored_plans(run);
  if (!plans) return Error{plans.error()};
  // A run without events was entered whole: all of it was done.
  std::optional<Programme> programme;
  if (!run.events.empty() && !run.programme_json.empty()) {
    auto read = parse_programme(run.programme_json, fmt::format("Run {}", run.summary.id));
    if (!read) return Error{read.error()};
    programme = std::move(read).value();
  }
  std::vector<MeasuredFamily> families;
  for (std::size_t f = 0; f < plans->size(); ++f) {
    const StoredPlan& plan = (*plans)[f];
    MeasuredFamily family;
    family.task = plan.task;
    family.steps = plan.steps;
    if (programme)
      family.steps =
          steps_done(plan, f, *programme, progress_of(run.events, static_cast<int>(programme->moves.size())));
    const LineErrors errors = replay(family.task, family.steps);
    for (const MeasuredLine& m : run.measured) {
      if (m.family != plan.family || m.line <= 0 || m.line >= plan.task.parts || !errors.known(m.line)) continue;
      family.lines.push_back(m.line);
      family.deviation_mm.push_back(m.position_mm - m.expected_mm);
      family.ruler_sigma_mm = m.ruler_sigma_mm;
    }
    if (!family.lines.empty()) families.push_back(std::move(family));
  }
  return families;
}

std::vector<TimedMove> timed_moves(const RunDetail& run) {
  const auto programme = parse_programme(run.programme_json, fmt::format("Run {}", run.summary.id));
  if (!programme) return {};
  const RunProgress progress = progress_of(run.events, static_cast<int>(programme->moves.size()));
  std::vector<TimedMove> out;
  for (int i = 0; i < progress.next_move; ++i) {
    const auto at = static_cast<std::size_t>(i);
    const auto* crease = std::get_if<MakeCreases>(&programme->moves[at].effect);
    const bool skipped = std::find(progress.skipped.begin(), progress.skipped.end(), i) != progress.skipped.end();
    if (!crease || crease->way != CreaseWay::align || skipped || at >= progress.move_seconds.size()) continue;
    out.push_back({crease->extent == Extent::pinch, progress.move_seconds[at]});
  }
  return out;
}

namespace {

/// How deep the brackets of a JSON text nest. Asking the parser for it would make reading quadratic.
int depth_of(const std::string& text) {
  int depth = 0;
  int deepest = 0;
  bool in_string = false;
  for (std::size_t i = 0; i < text.size(); ++i) {
    const char c = text[i];
    if (in_string) {
      if (c == '\\')
        ++i;
      else if (c == '"')
        in_string = false;
    } else if (c == '"') {
      in_string = true;
    } else if (c == '[' || c == '{') {
      deepest = std::max(deepest, ++depth);
    } else if (c == ']' || c == '}') {
      --depth;
    }
  }
  return deepest;
}

} // namespace

Result<Json> parse_json(const std::string& text, const std::string& source) {
  constexpr int deepest = 100; // nothing of ours nests deeper; a hostile file would exhaust the stack later
  if (depth_of(text) > deepest)
    return Error{fmt::format("{}:1: the file nests too deeply; it is not one of ours.", source)};
  try {
    return Json::parse(text);
  } catch (const Json::parse_error& e) {
    const auto end = text.begin() + static_cast<std::ptrdiff_t>(std::min(e.byte, text.size()));
    const auto line = 1 + std::count(text.begin(), end, '\n');
    return Error{fmt::format("{}:{}: this is not complete JSON; the file is damaged or cut short.", source, line)};
  } catch (const Json::exception& e) {
    return Error{fmt::format("{}:1: a value in it cannot be read ({}); the file is damaged.", source, e.what())};
  }
}

Result<Programme> parse_programme(const std::string& text, const std::string& source) {
  const auto json = parse_json(text, source);
  if (!json) return Error{json.error()};
  try {
    return programme_from(JsonReader(*json));
  } catch (const FieldError& e) {
    return Error{fmt::format("{}: the programme in it cannot be read ({}).", source, e.what())};
  }
}

} // namespace uc
