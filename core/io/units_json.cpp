#include "io/units_json.h"

#include <algorithm>
#include <cctype>

namespace uc {
namespace {

bool is_css_colour(const std::string& s) {
  return s.size() == 7 && s[0] == '#' &&
         std::all_of(s.begin() + 1, s.end(), [](unsigned char c) { return std::isxdigit(c) != 0; });
}

constexpr int most_units = 5000;
constexpr int most_colours = 24;

Json colours_json(const std::vector<UnitMap::Colour>& colours) {
  Json list = Json::array();
  for (const UnitMap::Colour& c : colours) list.push_back({{"name", c.name}, {"css", c.css}});
  return list;
}

std::vector<UnitMap::Colour> colours_from(const JsonReader& list) {
  std::vector<UnitMap::Colour> out;
  for (const JsonReader& c : list.list(0, most_colours)) {
    out.push_back({c.at("name").text(), c.at("css").text()});
    if (!is_css_colour(out.back().css)) c.at("css").fail("must be a colour such as #2E6E3E");
  }
  return out;
}

} // namespace

Json json_of(const UnitMap& map) {
  Json places = Json::array();
  for (const UnitMap::Place& u : map.units) {
    Json outline = Json::array();
    for (const Point& v : u.outline) outline.push_back({v.x(), v.y()});
    places.push_back({{"colour", u.colour}, {"outline", outline}});
  }
  return {{"handed", map.handed}, {"rings", map.rings}, {"colours", colours_json(map.colours)}, {"places", places}};
}

UnitMap unit_map_from(const JsonReader& r) {
  UnitMap map;
  map.handed = r.flag("handed", false);
  map.rings = r.whole("rings", 0, 1'000'000, 0);
  map.colours = colours_from(r.at("colours"));
  for (const JsonReader& p : r.at("places").list(1, most_units)) {
    UnitMap::Place place;
    place.colour = static_cast<int>(p.at("colour").whole(0, static_cast<int>(map.colours.size()) - 1));
    for (const JsonReader& v : p.at("outline").list(3, 1000)) {
      const auto xy = v.list(2, 2);
      place.outline.push_back({xy[0].number(-most_file_mm, most_file_mm), xy[1].number(-most_file_mm, most_file_mm)});
    }
    map.units.push_back(std::move(place));
  }
  return map;
}

Join join_from(const JsonReader& m) {
  Join join;
  join.unit = UnitId(m.whole("unit", 0, most_units, 0));
  for (const JsonReader& p : m.list_at("to"))
    join.to.push_back({UnitId(p.at("unit").index()), p.word("tab", TabWay::any)});
  for (const JsonReader& n : m.list_at("closes")) join.closes.push_back(static_cast<int>(n.whole(1, most_units)));
  join.rings_closed = m.whole("rings_closed", 0, 1'000'000, 0);
  join.glued = m.flag("glued", false);
  return join;
}

void check_units(const JsonReader& at, const Move& move, const UnitMap* map) {
  const auto check = [&](const JsonReader& where, int unit) {
    if (unit >= static_cast<int>(map->units.size()))
      where.fail(fmt::format("{}: there are {} units, numbered from 0", unit, map->units.size()));
  };
  const auto* fold = std::get_if<FoldUnit>(&move.effect);
  const auto* join = std::get_if<Join>(&move.effect);
  if (fold && !map) at.fail("a unit is folded, and the programme has no units");
  if (fold) check(at.at("unit"), fold->unit);
  if (!join || !map) return; // earlier versions had joins without units
  check(at, join->unit);
  for (const Join::Partner& p : join->to) check(at.at("to"), p.unit);
}

std::vector<double> unit_times(const RunDetail& run) {
  std::vector<double> out;
  const auto programme = parse_programme(run.programme_json, "log");
  if (!programme || !programme->units) return out;
  std::vector<double> worked(programme->moves.size(), 0);
  for (const RunEvent& e : run.events) {
    if (e.move < 0 || static_cast<std::size_t>(e.move) >= worked.size() || e.kind == EventKind::idle) continue;
    worked[static_cast<std::size_t>(e.move)] += e.seconds;
    if (e.kind == EventKind::done && programme->moves[static_cast<std::size_t>(e.move)].is<FoldUnit>())
      out.push_back(worked[static_cast<std::size_t>(e.move)]);
  }
  return out;
}

Json json_of(const OwnFamily& f) {
  return {{"name", f.name},
          {"title", f.title},
          {"stands_for", name_of(f.stands_for)},
          {"ratio", f.ratio},
          {"edge_share", f.edge_share},
          {"faces", f.faces},
          {"valences", f.valences},
          {"dihedral_deg", {f.least_dihedral_deg, f.most_dihedral_deg}},
          {"handed", f.handed},
          {"glued", f.glued},
          {"folds", f.folds},
          {"joint_layers", f.joint_layers},
          {"thickest_mm", f.thickest_mm},
          {"least_edge_mm", f.least_edge_mm},
          {"how", f.how}};
}

OwnFamily own_family_from(const JsonReader& r) {
  OwnFamily f;
  f.name = r.at("name").text();
  f.title = r.text("title", f.name);
  f.stands_for = r.word("stands_for", f.stands_for);
  f.ratio = r.number("ratio", 0.1, 20, f.ratio);
  f.edge_share = r.number("edge_share", 0.02, 20, f.edge_share);
  for (const JsonReader& n : r.list_at("faces")) f.faces.push_back(static_cast<int>(n.whole(3, 100)));
  for (const JsonReader& n : r.list_at("valences")) f.valences.push_back(static_cast<int>(n.whole(3, 100)));
  if (const auto angles = r.find("dihedral_deg")) {
    const auto pair = angles->list(2, 2);
    f.least_dihedral_deg = pair[0].number(0, 360);
    f.most_dihedral_deg = pair[1].number(0, 360);
  }
  f.handed = r.flag("handed", false);
  f.glued = r.flag("glued", false);
  f.folds = r.whole("folds", 1, 200, f.folds);
  f.joint_layers = r.whole("joint_layers", 1, 40, f.joint_layers);
  f.thickest_mm = r.number("thickest_mm", 0.01, 3, f.thickest_mm);
  f.least_edge_mm = r.number("least_edge_mm", 1, 1000, f.least_edge_mm);
  for (const JsonReader& step : r.list_at("how")) f.how.push_back(step.text());
  auto ok = checked(std::move(f));
  if (!ok) r.fail(ok.error());
  return std::move(ok).value();
}

Result<OwnFamily> parse_own_family(const std::string& text) {
  const auto json = parse_json(text, "the unit");
  if (!json) return Error{json.error()};
  try {
    return own_family_from(JsonReader(*json));
  } catch (const FieldError& e) {
    return Error{e.what()};
  }
}

Json json_of(const UnitJob& job) {
  Json j = {{"solid", job.solid},     {"family", job.family},  {"sheet", job.sheet}, {"finished_mm", job.finished_mm},
            {"colours", job.colours}, {"variant", job.variant}};
  if (job.symmetry) j["symmetry"] = *job.symmetry;
  if (job.bands) j["bands"] = true;
  if (job.evenings > 1) j["evenings"] = job.evenings;
  if (!job.from.empty()) j["from"] = job.from;
  if (job.margin_mm > 0) j["margin_mm"] = job.margin_mm;
  if (job.keep_grain) j["keep_grain"] = true;
  if (!job.palette.empty()) j["palette"] = colours_json(job.palette);
  if (!job.by_hand.empty()) j["by_hand"] = job.by_hand;
  for (const OwnFamily& family : job.own) j["own"].push_back(json_of(family));
  return j;
}

UnitJob unit_job_from(const JsonReader& r) {
  UnitJob job;
  job.solid = r.text("solid", job.solid);
  job.family = r.text("family", job.family);
  job.sheet = r.text("sheet", job.sheet);
  job.finished_mm = r.number("finished_mm", 0, most_file_mm, 0);
  job.colours = r.whole("colours", 1, most_colours, job.colours);
  if (const auto symmetry = r.find("symmetry")) job.symmetry = static_cast<int>(symmetry->whole(0, 1000));
  job.bands = r.flag("bands", false);
  job.evenings = r.whole("evenings", 1, 366, 1);
  job.from = r.text("from", "");
  job.margin_mm = r.number("margin_mm", 0, 1000, 0);
  job.keep_grain = r.flag("keep_grain", false);
  job.variant = r.whole("variant", 0, 999, 0);
  if (const auto palette = r.find("palette")) job.palette = colours_from(*palette);
  for (const JsonReader& c : r.list_at("by_hand"))
    job.by_hand.push_back(static_cast<int>(c.whole(-1, most_colours - 1)));
  for (const JsonReader& f : r.list_at("own")) {
    if (job.own.size() == most_own_families) f.fail(fmt::format("at most {} units are described", most_own_families));
    job.own.push_back(own_family_from(f));
  }
  return job;
}

} // namespace uc
