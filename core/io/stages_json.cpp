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
      for (const JsonReader& e : stage.at("creases").list(1))
        s.creases.push_back(static_cast<int>(e.whole(0, 1 << 30)));
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

} // namespace uc
