#include "io/json_codec.h"

#include "io/space_json.h"
#include "io/units_json.h"

#include "divide/starts.h"
#include "programme/folding.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace uc {
namespace {

/// JSON has no number for "none": null stands for it.
Json number(double v) { return std::isfinite(v) ? Json(v) : Json(nullptr); }

Json json_of(const Segment& s) { return {s.from.x(), s.from.y(), s.to.x(), s.to.y()}; }

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
          {"note", s.note},
          {"width_mm", s.width_mm},
          {"height_mm", s.height_mm}};
}

Json json_of(const TruenessMeasure& m) {
  return {{"bottom", m.bottom}, {"right", m.right},   {"top", m.top},
          {"left", m.left},     {"rising", m.rising}, {"falling", m.falling}};
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

std::vector<std::string> texts_of(const std::vector<ElementId>& ids) {
  std::vector<std::string> texts;
  texts.reserve(ids.size());
  for (const ElementId id : ids) texts.push_back(text_of(id));
  return texts;
}

namespace {

void write_creases(const MakeCreases& c, Json& j) {
  if (c.makes) j["makes"] = text_of(*c.makes);
  if (!c.spans.empty()) j["spans"] = json_of(c.spans);
  if (c.extent != Extent::full) j["extent"] = name_of(c.extent);
  if (c.fold != Fold::undirected) j["fold"] = name_of(c.fold);
  if (c.layers != 1) j["layers"] = c.layers;
  if (c.replaces) j["replaces"] = true;
  if (!c.ends.empty()) j["ends"] = texts_of(c.ends);
  if (c.settles) j["settles"] = true;
}

/// What a move does, beside its kind.
void write_effect(const Move& move, Json& j) {
  by_effect(
      move, [&](const MakeCreases& e) { write_creases(e, j); }, [&](const Refold& e) { write_creases(e.creases, j); },
      [&](const Collapse& e) {
        j["from_percent"] = e.from_percent;
        j["to_percent"] = e.to_percent;
        if (e.creases.empty()) return;
        j["stage"] = e.stage;
        j["stages"] = e.stages;
        j["creases"] = e.creases;
        j["state"] = e.state;
        j["strain"] = e.strain;
      },
      [&](const FoldUnit& e) { j["unit"] = e.unit; },
      [&](const Join& e) {
        j["unit"] = e.unit;
        for (const Join::Partner& p : e.to) j["to"].push_back({{"unit", p.unit}, {"tab", name_of(p.tab)}});
        if (!e.closes.empty()) j["closes"] = e.closes;
        j["rings_closed"] = e.rings_closed;
        if (e.glued) j["glued"] = true;
      },
      [&](const Handle& e) {
        if (e.degrees != 0) j["degrees"] = e.degrees;
      },
      [&](const Cut& e) { j["spans"] = json_of(e.along); },
      [&](const Work& e) {
        if (e.minutes != 0) j["wait_minutes"] = e.minutes;
        if (e.place_mm) j["place_mm"] = *e.place_mm;
        if (e.state) j["state"] = *e.state;
      });
}

} // namespace

Json json_of(const Programme& p) {
  Json sheet = Json::array();
  for (const Point& v : p.sheet) sheet.push_back({v.x(), v.y()});
  Json elements = Json::array();
  for (const Element& e : p.elements) {
    Json j = {{"id", text_of(e.id)}, {"role", name_of(e.role)}, {"place", e.place},         {"family", e.family},
              {"index", e.index},    {"parts", e.parts},        {"spans", json_of(e.spans)}};
    if (!e.label.empty()) j["label"] = e.label;
    if (!e.made_of.empty()) j["made_of"] = texts_of(e.made_of);
    if (e.sigma_mm) j["sigma_mm"] = *e.sigma_mm;
    if (e.existing) j["existing"] = true;
    if (e.by_direction) j["by_direction"] = true;
    elements.push_back(std::move(j));
  }
  Json moves = Json::array();
  for (const Move& m : p.moves) {
    Json j = {{"kind", kind_name(m)}, {"seconds", m.seconds}};
    if (!m.aligned.moving.empty()) j["moving"] = texts_of(m.aligned.moving);
    if (!m.aligned.through.empty()) j["through"] = texts_of(m.aligned.through);
    if (!m.aligned.onto.empty()) j["onto"] = texts_of(m.aligned.onto);
    if (!m.aligned.others.empty()) j["others"] = json_of(m.aligned.others);
    write_effect(m, j);
    if (m.caution != Caution::none) j["caution"] = name_of(m.caution);
    if (m.sigma_mm != 0) j["sigma_mm"] = number(m.sigma_mm);
    if (m.hand_sigma_mm != 0) j["hand_sigma_mm"] = m.hand_sigma_mm;
    if (m.repeat) j["repeat"] = {{"of", m.repeat->repeat}, {"time", m.repeat->time}};
    moves.push_back(std::move(j));
  }
  Json j = {{"sheet", sheet}, {"elements", elements}, {"moves", moves}};
  for (const Repeat& r : p.repeats) j["repeats"].push_back({{"way", name_of(r.way)}, {"times", r.times}});
  if (p.folding) j["steps"] = p.folding->source();
  if (p.space) j["space"] = json_of(*p.space);
  if (p.units) j["units"] = json_of(*p.units);
  return j;
}

Json json_of(const RunSummary& s) {
  return {{"id", s.id},
          {"title", s.title},
          {"sheet", s.sheet},
          {"stock", s.stock},
          {"kind", s.kind},
          {"way", s.way},
          {"size", s.size},
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

} // namespace uc
