#include "io/project.h"

#include "base/atomic_file.h"
#include "io/pattern_json.h"
#include "reference/construction_programme.h"
#include "reference/recipe.h"

#include <fmt/format.h>

#include <algorithm>
#include <filesystem>
#include <stdexcept>

namespace uc {
namespace {

constexpr const char* format_name = "under-crease/project";
constexpr const char* shelf_format = "under-crease/shelf";

/// Version 1 kept the division flat and the hand's error beside it.
Json from_version_1(Json doc) {
  Json hand = Json::object();
  if (doc.contains("sigma_mm")) hand["sigma_mm"] = doc["sigma_mm"];
  if (doc.contains("guess_sigma_mm")) hand["guess_sigma_mm"] = doc["guess_sigma_mm"];
  doc.erase("sigma_mm");
  doc.erase("guess_sigma_mm");
  doc["hand"] = hand;
  Json grid = Json::object();
  for (const char* key : {"parts", "axis", "method"}) {
    if (doc.contains(key)) grid[key] = doc[key];
    doc.erase(key);
  }
  doc["grid"] = grid;
  if (doc.contains("sheet") && doc["sheet"].is_string())
    doc["sheet"] = {{"code", doc["sheet"]}, {"name", doc["sheet"]}};
  doc["version"] = 2;
  return doc;
}

Json references_json(const std::vector<PlannedReference>& references) {
  Json list = Json::array();
  for (const PlannedReference& r : references)
    list.push_back({{"title", r.title}, {"target", r.target}, {"recipe", r.recipe}, {"cut", r.cut}});
  return list;
}

std::vector<PlannedReference> references_from(const Json& list) {
  std::vector<PlannedReference> references;
  for (const Json& r : list) {
    references.push_back(
        {r.value("title", ""), r.value("target", ""), r.at("recipe").get<std::string>(), r.value("cut", false)});
  }
  return references;
}

Json design_json(const PatternDesign& d) {
  Json j = {{"grid", name_of(d.grid)}, {"count", d.count}, {"rules", d.rules}, {"base", nullptr}};
  Json directions = Json::array();
  for (const FoundDirection& f : d.directions) directions.push_back({f.at.x(), f.at.y(), name_of(f.kind)});
  j["directions"] = directions;
  if (d.base) j["base"] = Json::parse(pattern_json(*d.base));
  return j;
}

PatternDesign design_from(const Json& j) {
  PatternDesign d;
  d.grid = pattern_grid(j.value("grid", "square")).value_or(PatternGrid::square);
  d.count = std::clamp(j.value("count", 16), 1, most_grid_count);
  d.rules = j.value("rules", std::vector<std::string>{});
  for (const Json& f : j.value("directions", Json::array())) {
    const auto kind = edge_kind(f.at(2).get<std::string>());
    if (kind) d.directions.push_back({{f.at(0).get<double>(), f.at(1).get<double>()}, *kind});
  }
  if (j.contains("base") && !j["base"].is_null()) {
    auto base = parse_pattern_json(j["base"].dump());
    if (!base) throw std::runtime_error(base.error());
    d.base = std::make_shared<const CreasePattern>(std::move(base).value());
  }
  return d;
}

} // namespace

Result<Json> migrated(Json document, const std::string& source) {
  if (!document.is_object() || document.value("format", "") != format_name) {
    return Error{fmt::format("{}:1: this is no Under Crease project; choose a file ending in .undercrease.", source)};
  }
  const int version =
      document.contains("version") && document["version"].is_number_integer() ? document["version"].get<int>() : 0;
  if (version > project_version) {
    return Error{fmt::format("{}:1: the project was saved by a newer Under Crease (file version {}, this program reads "
                             "up to {}); update the program to open it.",
                             source, version, project_version)};
  }
  if (version < 1) return Error{fmt::format("{}:1: the file version is missing; the file is damaged.", source)};
  if (version == 1) document = from_version_1(std::move(document));
  return document;
}

std::string project_text(const Project& p) {
  Json j = {{"format", format_name},
            {"version", project_version},
            {"title", p.title},
            {"sheet", {{"code", p.sheet.code()}, {"name", p.sheet_name}}},
            {"stock", json_of(p.stock)},
            {"trueness", p.trueness ? json_of(*p.trueness) : Json(nullptr)},
            {"hand", json_of(p.hand)},
            {"unit", symbol(p.unit)},
            {"references", references_json(p.references)},
            {"grid_follows", p.grid_follows},
            {"grid", json_of(p.grid)},
            {"pattern", design_json(p.pattern)},
            {"pre_crease", p.pre_crease
                               ? Json{{"school", name_of(p.pre_crease->school)}, {"both_ways", p.pre_crease->both_ways}}
                               : Json(nullptr)},
            {"programme", json_of(p.programme)},
            {"note", p.note}};
  // Moves carry only what applies to them: merging would bring back what was dropped, so the programme is replaced.
  Json base = p.unknown;
  if (base.is_object())
    base.erase("programme"), base.erase("references"), base.erase("pattern"), base.erase("pre_crease");
  return merged(base, j).dump(1, ' ', false, Json::error_handler_t::replace) + "\n";
}

Result<Project> project_from_text(const std::string& text, const std::string& source) {
  auto parsed = parse_json(text, source);
  if (!parsed) return Error{parsed.error()};
  try {
    const auto doc = migrated(std::move(parsed).value(), source);
    if (!doc) return Error{doc.error()};
    const Json& j = *doc;
    Project p;
    p.unknown = j;
    p.title = j.value("title", "");
    const std::string code = j.at("sheet").at("code").get<std::string>();
    p.sheet_name = j.at("sheet").value("name", code);
    const auto sheet = parse_sheet(code);
    if (!sheet) return Error{fmt::format("{}: {}", source, sheet.error())};
    p.sheet = *sheet;
    if (j.contains("stock"))
      p.stock = stock_from(j["stock"]);
    else
      p.stock = generic_stocks().front();
    if (j.contains("trueness") && !j["trueness"].is_null()) p.trueness = trueness_from(j["trueness"]);
    if (j.contains("hand")) p.hand = hand_from(j["hand"]);
    p.unit = length_unit_named(j.value("unit", "mm"));
    if (j.contains("references")) p.references = references_from(j["references"]);
    p.grid_follows = j.value("grid_follows", true);
    if (j.contains("grid")) p.grid = grid_spec_from(j["grid"]);
    if (j.contains("pattern") && j["pattern"].is_object()) p.pattern = design_from(j["pattern"]);
    if (j.contains("pre_crease") && j["pre_crease"].is_object()) {
      const Json& pre = j["pre_crease"];
      p.pre_crease = PrecreaseSpec{crease_school_named(pre.value("school", "")).value_or(CreaseSchool::needed),
                                   pre.value("both_ways", false)};
    }
    if (const auto ok = check_spec(p.grid, p.hand); !ok) return Error{fmt::format("{}: {}", source, ok.error())};
    if (j.contains("programme") && j["programme"].is_object()) p.programme = programme_from(j["programme"]);
    p.note = j.value("note", "");
    if (p.programme.empty()) {
      if (auto division = division_of(p)) p.programme = planned_programme(p, *division);
    }
    return p;
  } catch (const std::exception& e) {
    return Error{fmt::format("{}: a part of the project cannot be read ({}); the file is damaged.", source, e.what())};
  }
}

Status save_project(const Project& project, const std::string& path) {
  return write_atomically(path, project_text(project));
}

Result<Project> load_project(const std::string& path) {
  const auto text = read_file(path);
  if (!text) return Error{text.error()};
  return project_from_text(*text, path);
}

Result<Division> division_of(const Project& project) { return divide(project.sheet, project.grid, project.hand); }

Result<Precrease> precrease_of(const Project& project, const DrawnPattern& drawn, Progress* progress) {
  if (!project.pre_crease) return Error{"The project folds its grid, not its pattern."};
  if (!drawn.healed.crossings.empty()) return Error{"Creases cross without a vertex; mend them first."};
  return precrease(drawn.healed.pattern, project.hand, *project.pre_crease,
                   project.pattern.grid == PatternGrid::square ? project.pattern.count : 0, progress);
}

Programme planned_programme(const Project& project, const Division& division) {
  if (!project.pre_crease || project.pattern.empty()) return planned_programme(project, division, nullptr);
  const auto plan = precrease_of(project, drawn_pattern(project.pattern, project.sheet.outline()));
  return planned_programme(project, division, plan ? &*plan : nullptr);
}

Programme planned_programme(const Project& project, const Division& division, const Precrease* creases) {
  const Programme& grid = creases ? creases->programme : division.programme;
  if (project.references.empty()) return grid;
  Programme all;
  all.sheet = project.sheet.outline();
  for (std::size_t i = 0; i < project.references.size(); ++i) {
    const PlannedReference& r = project.references[i];
    const auto recipe = parse_recipe(all.sheet, r.recipe);
    if (!recipe) continue;
    std::vector<int> results = recipe->results;
    const Construction c = recipe->construction.reduced_to(results);
    const ConstructionErrors errors(c, project.hand.sigma_mm);
    if (!errors.determined()) continue;
    Programme one = programme_of(c, needs_of(c, results, errors), results, project.hand, static_cast<int>(i));
    if (r.cut) add_cut(one, c, results, errors);
    all.elements.insert(all.elements.end(), one.elements.begin(), one.elements.end());
    all.moves.insert(all.moves.end(), one.moves.begin(), one.moves.end());
  }
  if (!project.grid_follows && !creases) return all;
  all.elements.insert(all.elements.end(), grid.elements.begin(), grid.elements.end());
  all.moves.insert(all.moves.end(), grid.moves.begin(), grid.moves.end());
  return all;
}

Result<std::vector<Stock>> load_shelf(const std::string& path) {
  if (!std::filesystem::exists(path)) return generic_stocks();
  const auto text = read_file(path);
  if (!text) return Error{text.error()};
  auto j = parse_json(*text, path);
  if (!j) return Error{j.error()};
  try {
    if (j->value("format", "") != shelf_format) return Error{fmt::format("{}:1: this is no shelf file.", path)};
    std::vector<Stock> shelf;
    for (const Json& s : j->at("stocks")) {
      auto stock = checked(stock_from(s));
      if (!stock) return Error{fmt::format("{}: {}", path, stock.error())};
      shelf.push_back(*stock);
    }
    return shelf;
  } catch (const std::exception& e) {
    return Error{fmt::format("{}: the shelf cannot be read ({}); the file is damaged.", path, e.what())};
  }
}

Status save_shelf(const std::vector<Stock>& shelf, const std::string& path) {
  Json stocks = Json::array();
  for (const Stock& s : shelf) stocks.push_back(json_of(s));
  return write_atomically(path, Json{{"format", shelf_format}, {"version", 1}, {"stocks", stocks}}.dump(1) + "\n");
}

} // namespace uc
