#include "io/json_codec.h"

#include "divide/starts.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace uc {
namespace {

/// JSON has no number for "none": null stands for it.
Json number(double v) { return std::isfinite(v) ? Json(v) : Json(nullptr); }

Json json_of(const Segment& s) { return {s.from.x(), s.from.y(), s.to.x(), s.to.y()}; }

double finite(const Json& j) {
  const double v = j.get<double>();
  if (!std::isfinite(v)) throw std::out_of_range("a number is not finite");
  return v;
}

Segment segment_from(const Json& j) { return {{finite(j.at(0)), finite(j.at(1))}, {finite(j.at(2)), finite(j.at(3))}}; }

std::vector<Segment> segments_from(const Json& j) {
  std::vector<Segment> all;
  for (const Json& s : j) all.push_back(segment_from(s));
  return all;
}

Json json_of(const std::vector<Segment>& segments) {
  Json all = Json::array();
  for (const Segment& s : segments) all.push_back(json_of(s));
  return all;
}

Json json_of(const GridStep& step) {
  static constexpr const char* kinds[] = {"bring", "through", "guess"};
  return {{"kind", kinds[static_cast<int>(step.kind)]},
          {"a", step.a},
          {"b", step.b},
          {"makes", step.makes},
          {"pinch", step.pinch}};
}

GridStep step_from(const Json& j, int parts) {
  GridStep step;
  const auto kind = j.at("kind").get<std::string>();
  step.kind = kind == "through" ? StepKind::through : kind == "guess" ? StepKind::guess : StepKind::bring;
  step.a = j.at("a").get<int>();
  step.b = j.at("b").get<int>();
  step.makes = j.at("makes").get<int>();
  step.pinch = j.value("pinch", false);
  for (const int line : {step.a, step.b, step.makes}) {
    if (line < 0 || line > parts) throw std::out_of_range("a step names a line that does not exist");
  }
  return step;
}

} // namespace

Json json_of(const Stock& s) {
  return {{"name", s.name},
          {"caliper_mm", s.caliper_mm},
          {"grammage", s.grammage},
          {"stiffness", name_of(s.stiffness)},
          {"memory", name_of(s.memory)},
          {"damp_shaping", s.damp_shaping},
          {"largest_mm", s.largest_mm},
          {"sheets", s.sheets},
          {"face", s.face},
          {"underside", s.underside},
          {"note", s.note}};
}

Stock stock_from(const Json& j) {
  Stock s;
  s.name = j.at("name").get<std::string>();
  s.caliper_mm = j.value("caliper_mm", s.caliper_mm);
  s.grammage = j.value("grammage", s.grammage);
  s.stiffness = stiffness_named(j.value("stiffness", "medium"));
  s.memory = memory_named(j.value("memory", "fair"));
  s.damp_shaping = j.value("damp_shaping", false);
  s.largest_mm = j.value("largest_mm", 0.0);
  s.sheets = j.value("sheets", 0);
  s.face = j.value("face", s.face);
  s.underside = j.value("underside", s.underside);
  s.note = j.value("note", "");
  return s;
}

Json json_of(const TruenessMeasure& m) {
  return {{"bottom", m.bottom}, {"right", m.right},   {"top", m.top},
          {"left", m.left},     {"rising", m.rising}, {"falling", m.falling}};
}

TruenessMeasure trueness_from(const Json& j) {
  return {finite(j.at("bottom")), finite(j.at("right")),  finite(j.at("top")),
          finite(j.at("left")),   finite(j.at("rising")), finite(j.at("falling"))};
}

Json json_of(const HandProfile& h) {
  return {{"sigma_mm", h.sigma_mm},
          {"sigma_se_mm", h.sigma_se_mm},
          {"guess_sigma_mm", h.guess_sigma_mm},
          {"creep", h.creep},
          {"measured_runs", h.measured_runs},
          {"fold_seconds", h.fold_seconds},
          {"pinch_seconds", h.pinch_seconds},
          {"turn_seconds", h.turn_seconds},
          {"rotate_seconds", h.rotate_seconds},
          {"either_side", h.either_side}};
}

HandProfile hand_from(const Json& j) {
  HandProfile h;
  h.sigma_mm = j.value("sigma_mm", h.sigma_mm);
  h.sigma_se_mm = j.value("sigma_se_mm", h.sigma_se_mm);
  h.guess_sigma_mm = j.value("guess_sigma_mm", h.guess_sigma_mm);
  h.creep = j.value("creep", h.creep);
  h.measured_runs = j.value("measured_runs", h.measured_runs);
  h.fold_seconds = j.value("fold_seconds", h.fold_seconds);
  h.pinch_seconds = j.value("pinch_seconds", h.pinch_seconds);
  h.turn_seconds = j.value("turn_seconds", h.turn_seconds);
  h.rotate_seconds = j.value("rotate_seconds", h.rotate_seconds);
  h.either_side = j.value("either_side", h.either_side);
  return h;
}

Json json_of(const GridSpec& s) {
  Json clean = Json::array();
  for (const Box& b : s.keep_clean) clean.push_back({b.low.x(), b.low.y(), b.high.x(), b.high.y()});
  Json j = {{"parts", s.parts},
            {"axis", name_of(s.axis)},
            {"method", name_of(s.method)},
            {"direction", name_of(s.direction)},
            {"extent", name_of(s.extent)},
            {"inset", s.inset},
            {"keep_clean", clean},
            {"left_out", s.left_out},
            {"pinches_allowed", s.pinches_allowed},
            {"start", nullptr}};
  if (s.start) {
    j["start"] = {{"line", s.start->line}, {"sigma_mm", s.start->sigma_mm}};
    if (s.start->kind != StartKind::given) j["start"]["kind"] = name_of(s.start->kind);
    if (!s.start->recipes.empty()) j["start"]["recipes"] = s.start->recipes;
  }
  return j;
}

GridSpec grid_spec_from(const Json& j) {
  GridSpec s;
  s.parts = j.value("parts", s.parts);
  s.axis = grid_axis_named(j.value("axis", "both")).value_or(GridAxis::both);
  s.method = method_named(j.value("method", "best")).value_or(Method::best);
  s.direction = direction_rule_named(j.value("direction", "valley"));
  s.extent = extent_rule_named(j.value("extent", "full"));
  s.inset = j.value("inset", s.inset);
  for (const Json& b : j.value("keep_clean", Json::array())) {
    s.keep_clean.push_back({{finite(b.at(0)), finite(b.at(1))}, {finite(b.at(2)), finite(b.at(3))}});
  }
  s.left_out = j.value("left_out", std::vector<int>{});
  s.pinches_allowed = j.value("pinches_allowed", true);
  if (j.contains("start") && !j["start"].is_null()) {
    s.start = StartMark{j["start"].at("line").get<int>(), finite(j["start"].at("sigma_mm")),
                        start_kind_named(j["start"].value("kind", "given")).value_or(StartKind::given),
                        j["start"].value("recipes", std::vector<std::string>{})};
  }
  return s;
}

Json json_of(const Programme& p) {
  Json sheet = Json::array();
  for (const Point& v : p.sheet) sheet.push_back({v.x(), v.y()});
  Json elements = Json::array();
  for (const Element& e : p.elements) {
    Json j = {{"id", e.id},       {"role", name_of(e.role)}, {"place", e.place},         {"family", e.family},
              {"index", e.index}, {"parts", e.parts},        {"spans", json_of(e.spans)}};
    if (!e.label.empty()) j["label"] = e.label;
    if (!e.made_of.empty()) j["made_of"] = e.made_of;
    if (e.sigma_mm) j["sigma_mm"] = *e.sigma_mm;
    if (e.existing) j["existing"] = true;
    if (e.by_direction) j["by_direction"] = true;
    elements.push_back(std::move(j));
  }
  Json moves = Json::array();
  for (const Move& m : p.moves) {
    Json j = {{"kind", name_of(m.kind)}, {"seconds", m.seconds}};
    if (!m.moving.empty()) j["moving"] = m.moving;
    if (!m.through.empty()) j["through"] = m.through;
    if (!m.onto.empty()) j["onto"] = m.onto;
    if (m.makes) j["makes"] = *m.makes;
    if (!m.spans.empty()) j["spans"] = json_of(m.spans);
    if (m.extent != Extent::full) j["extent"] = name_of(m.extent);
    if (m.fold != Fold::undirected) j["fold"] = name_of(m.fold);
    if (m.layers != 1) j["layers"] = m.layers;
    if (m.degrees != 0) j["degrees"] = m.degrees;
    if (m.wait_minutes != 0) j["wait_minutes"] = m.wait_minutes;
    if (m.caution != Caution::none) j["caution"] = name_of(m.caution);
    if (m.sigma_mm != 0) j["sigma_mm"] = number(m.sigma_mm);
    if (m.hand_sigma_mm != 0) j["hand_sigma_mm"] = m.hand_sigma_mm;
    if (m.repeats > 0) j["repeat"] = m.repeat, j["repeats"] = m.repeats;
    if (m.choice) j["choice"] = true;
    if (m.replaces) j["replaces"] = true;
    if (!m.ends.empty()) j["ends"] = m.ends;
    if (m.settles) j["settles"] = true;
    moves.push_back(std::move(j));
  }
  return {{"sheet", sheet}, {"elements", elements}, {"moves", moves}};
}

Programme programme_from(const Json& j) {
  Programme p;
  for (const Json& v : j.at("sheet")) p.sheet.push_back({finite(v.at(0)), finite(v.at(1))});
  for (const Json& e : j.at("elements")) {
    Element element;
    element.id = e.at("id").get<int>();
    element.role = role_named(e.value("role", "crease"));
    element.place = e.value("place", "");
    element.label = e.value("label", "");
    element.made_of = e.value("made_of", std::vector<int>{});
    element.family = e.value("family", "");
    element.index = e.value("index", 0);
    element.parts = std::max(1, e.value("parts", 1));
    element.spans = segments_from(e.value("spans", Json::array()));
    if (e.contains("sigma_mm")) element.sigma_mm = finite(e["sigma_mm"]);
    element.existing = e.value("existing", false);
    element.by_direction = e.value("by_direction", false);
    p.elements.push_back(std::move(element));
  }
  for (const Json& m : j.at("moves")) {
    Move move;
    const auto kind = move_kind_named(m.at("kind").get<std::string>());
    if (!kind) throw std::out_of_range("a move is of an unknown kind");
    move.kind = *kind;
    move.seconds = m.value("seconds", 0.0);
    move.moving = m.value("moving", std::vector<int>{});
    move.through = m.value("through", std::vector<int>{});
    move.onto = m.value("onto", std::vector<int>{});
    if (m.contains("makes")) move.makes = m["makes"].get<int>();
    move.spans = segments_from(m.value("spans", Json::array()));
    move.extent = extent_named(m.value("extent", "full"));
    move.fold = fold_named(m.value("fold", "undirected"));
    move.layers = m.value("layers", 1);
    move.degrees = m.value("degrees", 0.0);
    move.wait_minutes = m.value("wait_minutes", 0.0);
    move.caution = caution_named(m.value("caution", "none"));
    if (m.contains("sigma_mm") && !m["sigma_mm"].is_null()) move.sigma_mm = finite(m["sigma_mm"]);
    move.hand_sigma_mm = m.value("hand_sigma_mm", 0.0);
    move.repeat = m.value("repeat", 0);
    move.repeats = m.value("repeats", 0);
    move.choice = m.value("choice", false);
    move.replaces = m.value("replaces", false);
    move.ends = m.value("ends", std::vector<int>{});
    move.settles = m.value("settles", false);
    p.moves.push_back(std::move(move));
  }
  return p;
}

Json json_of(const RunSummary& s) {
  return {{"id", s.id},
          {"title", s.title},
          {"sheet", s.sheet},
          {"stock", s.stock},
          {"axis", s.axis},
          {"method", s.method},
          {"parts", s.parts},
          {"started", s.started},
          {"ended", s.ended},
          {"status", name_of(s.status)},
          {"moves_planned", s.moves_planned},
          {"moves_done", s.moves_done},
          {"planned_minutes", s.planned_minutes},
          {"minutes", s.minutes},
          {"planned_sigma_mm", s.planned_sigma_mm},
          {"planned_worst_mm", s.planned_worst_mm},
          {"measured_rms_mm", s.measured_rms_mm ? Json(*s.measured_rms_mm) : Json(nullptr)},
          {"measured_worst_mm", s.measured_worst_mm ? Json(*s.measured_worst_mm) : Json(nullptr)},
          {"faults", s.faults},
          {"note", s.note}};
}

Json json_of(const RunDetail& run) {
  Json j = json_of(run.summary);
  j["events"] = Json::array();
  for (const RunEvent& e : run.events) {
    j["events"].push_back(
        {{"kind", name_of(e.kind)}, {"move", e.move}, {"seconds", e.seconds}, {"text", e.text}, {"at", e.at}});
  }
  j["measured"] = Json::array();
  for (const MeasuredLine& m : run.measured) {
    j["measured"].push_back({{"family", m.family},
                             {"line", m.line},
                             {"position_mm", m.position_mm},
                             {"expected_mm", m.expected_mm},
                             {"plan_sigma_mm", m.plan_sigma_mm},
                             {"ruler_sigma_mm", m.ruler_sigma_mm}});
  }
  j["photos"] = run.photos;
  return j;
}

RunDetail run_detail_from(const Json& j) {
  RunDetail run;
  RunSummary& s = run.summary;
  s.title = j.at("title").get<std::string>();
  s.sheet = j.value("sheet", "");
  s.stock = j.value("stock", "");
  s.axis = j.value("axis", "");
  s.method = j.value("method", "");
  s.parts = j.value("parts", 0);
  s.started = j.value("started", "");
  s.ended = j.value("ended", "");
  s.status = run_status_named(j.value("status", "finished"));
  s.moves_planned = j.value("moves_planned", 0);
  s.planned_minutes = j.value("planned_minutes", 0.0);
  s.planned_sigma_mm = j.value("planned_sigma_mm", 0.0);
  s.planned_worst_mm = j.value("planned_worst_mm", 0.0);
  s.note = j.value("note", "");
  for (const Json& e : j.value("events", Json::array())) {
    run.events.push_back({event_kind_named(e.value("kind", "done")), e.value("move", 0), e.value("seconds", 0.0),
                          e.value("text", ""), e.value("at", "")});
  }
  for (const Json& m : j.value("measured", Json::array())) {
    run.measured.push_back({m.at("family").get<std::string>(), m.at("line").get<int>(), finite(m.at("position_mm")),
                            finite(m.value("expected_mm", Json(0.0))), m.value("plan_sigma_mm", 0.0),
                            m.value("ruler_sigma_mm", 0.15)});
  }
  run.photos = j.value("photos", std::vector<std::string>{});
  return run;
}

namespace {

Json plan_json(const std::string& family, double extent_mm, const GridPlan& plan) {
  Json steps = Json::array();
  for (const GridStep& step : plan.steps) steps.push_back(json_of(step));
  Json j = {{"family", family},
            {"extent_mm", extent_mm},
            {"parts", plan.task.parts},
            {"sigma_mm", plan.task.sigma_mm},
            {"guess_sigma_mm", plan.task.guess_sigma_mm},
            {"steps", steps}};
  if (plan.task.start) j["start"] = {{"line", plan.task.start->line}, {"sigma_mm", plan.task.start->sigma_mm}};
  return j;
}

} // namespace

Json plans_json(const Division& division) {
  Json all = Json::array();
  for (std::size_t f = 0; f < division.plans.size(); ++f)
    all.push_back(
        plan_json(division.layout.families[f].name, division.layout.families[f].extent_mm, division.plans[f]));
  return all;
}

Json plans_json(const Precrease& precrease) {
  Json all = Json::array();
  for (const GraduatedFamily& f : precrease.making.families) all.push_back(plan_json(f.name, f.extent_mm, f.plan));
  return all;
}

std::vector<StoredPlan> plans_from(const Json& j) {
  std::vector<StoredPlan> all;
  for (const Json& p : j) {
    StoredPlan plan;
    plan.family = p.at("family").get<std::string>();
    plan.extent_mm = finite(p.at("extent_mm"));
    plan.task.parts = p.at("parts").get<int>();
    if (plan.task.parts < least_parts || plan.task.parts > greatest_parts) {
      throw std::out_of_range("a plan has an impossible count");
    }
    plan.task.sigma_mm = finite(p.at("sigma_mm"));
    plan.task.guess_sigma_mm = finite(p.at("guess_sigma_mm"));
    if (p.contains("start"))
      plan.task.start =
          StartMark{p["start"].at("line").get<int>(), finite(p["start"].at("sigma_mm")), StartKind::given, {}};
    for (const Json& step : p.at("steps")) plan.steps.push_back(step_from(step, plan.task.parts));
    all.push_back(std::move(plan));
  }
  return all;
}

Result<std::vector<MeasuredFamily>> measured_families(const RunDetail& run) {
  std::vector<MeasuredFamily> families;
  try {
    for (const StoredPlan& plan : plans_from(Json::parse(run.plans_json))) {
      MeasuredFamily family;
      family.task = plan.task;
      family.steps = plan.steps;
      for (const MeasuredLine& m : run.measured) {
        if (m.family != plan.family || m.line <= 0 || m.line >= plan.task.parts) continue;
        family.lines.push_back(m.line);
        family.deviation_mm.push_back(m.position_mm - m.expected_mm);
        family.ruler_sigma_mm = m.ruler_sigma_mm;
      }
      if (!family.lines.empty()) families.push_back(std::move(family));
    }
  } catch (const std::exception& e) {
    return Error{fmt::format("The plan of run {} cannot be read ({}).", run.summary.id, e.what())};
  }
  return families;
}

Result<Json> parse_json(const std::string& text, const std::string& source) {
  constexpr int deepest = 100; // nothing of ours nests deeper; a hostile file would exhaust the stack later
  bool too_deep = false;
  try {
    Json parsed = Json::parse(text, [&](int depth, Json::parse_event_t, Json&) {
      too_deep = too_deep || depth > deepest;
      return !too_deep;
    });
    if (too_deep) return Error{fmt::format("{}:1: the file nests too deeply; it is not one of ours.", source)};
    return parsed;
  } catch (const Json::parse_error& e) {
    if (too_deep) return Error{fmt::format("{}:1: the file nests too deeply; it is not one of ours.", source)};
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
    return programme_from(*json);
  } catch (const std::exception& e) {
    return Error{fmt::format("{}: the programme in it cannot be read ({}).", source, e.what())};
  }
}

Json merged(const Json& base, const Json& update) {
  if (base.is_object() && update.is_object()) {
    Json result = base;
    for (const auto& [key, value] : update.items()) {
      result[key] = base.contains(key) ? merged(base[key], value) : value;
    }
    return result;
  }
  if (base.is_array() && update.is_array() && base.size() == update.size()) {
    Json result = update;
    for (std::size_t i = 0; i < base.size(); ++i) {
      if (base[i].is_object() && update[i].is_object()) result[i] = merged(base[i], update[i]);
    }
    return result;
  }
  return update;
}

} // namespace uc
