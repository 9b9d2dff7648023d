#include "io/stages_json.h"

#include "io/json_codec.h"
#include "io/json_reader.h"

#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace uc {

Result<std::vector<DriveStage>> parse_stages(const std::string& text) {
  const auto json = parse_json(text, "the stages file");
  if (!json) return Error{json.error()};
  try {
    std::vector<DriveStage> out;
    for (const JsonReader& stage : JsonReader(*json).at("stages").list(1, 1000)) {
      DriveStage s;
      for (const JsonReader& e : stage.at("creases").list(1)) s.creases.emplace_back(e.whole(0, 1 << 30));
      s.from = stage.at("from").number(0, 1);
      s.to = stage.at("to").number(0, 1);
      if (const auto percent = stage.find("percent")) s.percent = percent->number(0, 100);
      out.push_back(std::move(s));
    }
    return out;
  } catch (const FieldError& e) {
    return Error{e.what()};
  }
}

std::string stages_json(const std::vector<DriveStage>& stages) {
  nlohmann::json all = nlohmann::json::array();
  for (const DriveStage& s : stages)
    all.push_back({{"creases", s.creases}, {"from", s.from}, {"to", s.to}, {"percent", s.percent}});
  return nlohmann::json{{"stages", all}}.dump(1) + "\n";
}

namespace {

nlohmann::json held_json(const HeldState& held) {
  return {{"part", held.part}, {"pushed_mm", held.pushed_mm}, {"let_go", held.let_go}};
}

HeldState held_from(const JsonReader& r) {
  HeldState state;
  state.part = r.at("part").number(0, 1);
  state.let_go = r.flag("let_go", false);
  if (const auto pushed = r.find("pushed_mm")) {
    for (const JsonReader& place : pushed->list(0, most_pushes)) {
      const auto xy = place.list(2, 2);
      state.pushed_mm.emplace_back(xy[0].number(-100'000, 100'000), xy[1].number(-100'000, 100'000));
    }
  }
  return state;
}

} // namespace

std::vector<CreaseGoals> goals_from(const std::vector<JsonReader>& edges) {
  std::vector<CreaseGoals> out;
  for (const JsonReader& edge : edges) {
    CreaseGoals goals;
    for (const JsonReader& goal : edge.list(0, most_hand_stages)) {
      const auto pair = goal.list(2, 2);
      goals.push_back({static_cast<int>(pair[0].whole(1, most_hand_stages)), pair[1].number(0, 180)});
    }
    out.push_back(std::move(goals));
  }
  return out;
}

nlohmann::json json_of(const ClosingPlan& plan) {
  nlohmann::json spans = nlohmann::json::array();
  for (const StageSpan& s : plan.spans) spans.push_back({{"from", s.from}, {"to", s.to}, {"percent", s.percent}});
  nlohmann::json clips = nlohmann::json::array();
  for (const ClipPlace& c : plan.clips)
    clips.push_back({{"at_mm", {c.x_mm, c.y_mm}}, {"radius_mm", c.radius_mm}, {"from", c.from}, {"to", c.to}});
  nlohmann::json out = {{"order", name_of(plan.order)},
                        {"groups", plan.groups},
                        {"other_way", plan.other_way},
                        {"apart", plan.apart},
                        {"finer", plan.finer},
                        {"spans", spans},
                        {"clips", clips}};
  if (plan.held) out["held"] = held_json(*plan.held);
  if (plan.end) out["end"] = held_json(*plan.end);
  return out;
}

ClosingPlan closing_from(const JsonReader& r) {
  ClosingPlan plan;
  plan.order = r.word("order", plan.order);
  plan.groups = r.whole("groups", 1, most_closing_groups, plan.groups);
  plan.other_way = r.flag("other_way", false);
  plan.apart = r.flag("apart", plan.apart);
  plan.finer = r.whole("finer", 0, most_finer, 0);
  if (const auto spans = r.find("spans")) {
    for (const JsonReader& s : spans->list(0, most_closing_groups)) {
      const StageSpan span{s.at("from").number(0, 1), s.at("to").number(0, 1), s.number("percent", 0, 100, 100)};
      if (!(span.from < span.to)) s.fail("a stage begins before it ends");
      plan.spans.push_back(span);
    }
  }
  if (const auto clips = r.find("clips")) {
    for (const JsonReader& c : clips->list(0, most_clips)) {
      const auto place = c.at("at_mm").list(2, 2);
      const ClipPlace clip{place[0].number(-100'000, 100'000), place[1].number(-100'000, 100'000),
                           c.number("radius_mm", 0, 100'000, ClipPlace{}.radius_mm), c.number("from", 0, 1, 0.5),
                           c.number("to", 0, 1, 1)};
      if (!(clip.from < clip.to)) c.fail("a clip is put on before it is taken off");
      plan.clips.push_back(clip);
    }
  }
  if (const auto held = r.find("held")) plan.held = held_from(*held);
  if (const auto end = r.find("end")) plan.end = held_from(*end);
  return plan;
}

} // namespace uc
