#include "construction_json.h"

#include "programme/text.h"

#include <algorithm>

namespace uc::cli {

using Json = nlohmann::json;

Json line_json(const Line& line) { return {line.normal.x(), line.normal.y(), line.c}; }
Json point_json(const Point& point) { return {point.x(), point.y()}; }

Json steps_json(const Construction& c, const std::vector<CreaseNeed>& needs, const Programme& programme) {
  Json steps = Json::array();
  TextStyle style;
  style.as_it_lies = false;
  const ProgrammeTeller teller(programme, style);
  for (int i = 2 * c.corners(); i < c.size(); ++i) {
    const ConstructionItem& item = c[i];
    Json step = {{"id", item.id}};
    const auto ids = [&](const std::array<int, 2>& from) {
      Json list = Json::array();
      for (const int k : from) {
        if (k >= 0) list.push_back(c[k].id);
      }
      return list;
    };
    if (item.kind == ConstructionItem::Kind::crossing) {
      step.update({{"op", "cross"}, {"lines", ids(item.lines)}, {"point", point_json(item.point)}});
    } else if (item.kind == ConstructionItem::Kind::crease) {
      const auto need = std::find_if(needs.begin(), needs.end(), [&](const CreaseNeed& n) { return n.item == i; });
      const Extent extent = need == needs.end() ? Extent::full : need->extent;
      const auto move = move_making(programme, i);
      step.update({{"op", item.landing ? "landing" : name_of(item.op)},
                   {"points", ids(item.points)},
                   {"lines", ids(item.lines)},
                   {"line", line_json(item.line)},
                   {"extent", name_of(extent)},
                   {"text", move ? teller.text(*move) : std::string{}}});
      if (extent != Extent::full) {
        const Segment& s = need->span;
        step["span"] = {s.from.x(), s.from.y(), s.to.x(), s.to.y()};
      }
    } else {
      continue;
    }
    steps.push_back(std::move(step));
  }
  return steps;
}

} // namespace uc::cli
