#include "io/project_file.h"

#include "base/atomic_file.h"
#include "fold/steps_file.h"
#include "io/json_reader.h"
#include "io/pattern_json.h"
#include "io/stages_json.h"
#include "io/units_json.h"
#include "io/unknown_fields.h"
#include "pattern/family.h"

#include <fmt/format.h>

#include <algorithm>
#include <cstdint>
#include <filesystem>

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

/// Up to version 3 flags in four places said what is folded.
Json from_version_3(Json doc) {
  const auto flag = [&](const char* part, const char* name, bool usual) {
    const Json* at = part ? (doc.contains(part) ? &doc[part] : nullptr) : &doc;
    if (!at || !at->is_object() || !at->contains(name) || !(*at)[name].is_boolean()) return usual;
    return (*at)[name].get<bool>();
  };
  const bool creases = doc.contains("pre_crease") && doc["pre_crease"].is_object();
  doc["folded"] = name_of(flag("units", "folded", false)                      ? FoldedWork::units
                          : doc.contains("steps") && doc["steps"].is_string() ? FoldedWork::steps
                          : flag("collapse", "folded", false)                 ? FoldedWork::closed
                          : creases                                           ? FoldedWork::creases
                          : flag(nullptr, "grid_follows", true)               ? FoldedWork::grid
                                                                              : FoldedWork::references);
  if (!creases) doc.erase("pre_crease");
  doc.erase("grid_follows");
  for (const char* part : {"units", "collapse"})
    if (doc.contains(part) && doc[part].is_object()) doc[part].erase("folded");
  return doc;
}

Json references_json(const std::vector<PlannedReference>& references) {
  Json list = Json::array();
  for (const PlannedReference& r : references) {
    list.push_back({{"title", r.title}, {"target", r.target}, {"recipe", r.recipe}, {"cut", r.cut}});
    if (r.of_piece) list.back()["of_piece"] = true;
  }
  return list;
}

std::vector<PlannedReference> references_from(const JsonReader& list) {
  std::vector<PlannedReference> references;
  for (const JsonReader& r : list.list())
    references.push_back({r.text("title", ""), r.text("target", ""), r.at("recipe").text(), r.flag("cut", false),
                          r.flag("of_piece", false)});
  return references;
}

Json family_json(const FamilyChoice& choice) {
  Json parameters = Json::object();
  const PatternFamily* family = find_pattern_family(choice.name);
  for (const auto& [name, value] : choice.values) {
    const Parameter* p = family ? family->parameter(name) : nullptr;
    if (p && p->type == ParameterType::choice)
      parameters[name] = parameter_text(*p, value);
    else
      parameters[name] = value;
  }
  return {{"name", choice.name}, {"parameters", parameters}};
}

FamilyChoice family_from(const JsonReader& r) {
  FamilyChoice choice{r.at("name").text(), {}};
  const PatternFamily* family = find_pattern_family(choice.name);
  if (!family) r.at("name").fail(no_such_family(choice.name).message);
  if (const auto parameters = r.find("parameters")) {
    for (const auto& [name, value] : parameters->json().items()) {
      const JsonReader at = parameters->at(name.c_str());
      const Parameter* p = family->parameter(name);
      if (!p) at.fail(fmt::format("{} has no such parameter", family->name));
      const auto read = value.is_string() ? parse_parameter(*p, at.text()) : Result<double>(at.number(-1e9, 1e9));
      if (!read) at.fail(read.error());
      if (const auto ok = check_parameter(*p, *read); !ok) at.fail(ok.error());
      choice.values[name] = *read;
    }
  }
  return std::move(completed(std::move(choice))).value();
}

Json design_json(const PatternDesign& d) {
  Json j = {{"grid", name_of(d.grid)}, {"count", d.count}, {"rules", d.rules}, {"base", nullptr}};
  Json directions = Json::array();
  for (const FoundDirection& f : d.directions) directions.push_back({f.at.x(), f.at.y(), name_of(f.kind)});
  j["directions"] = directions;
  if (d.base) j["base"] = Json::parse(pattern_json(*d.base));
  if (!d.base_full_deg.empty()) j["base_full_deg"] = d.base_full_deg;
  if (!d.base_goals.empty()) j["base_goals"] = json_of(d.base_goals);
  if (d.family) j["family"] = family_json(*d.family);
  return j;
}

PatternDesign design_from(const JsonReader& r) {
  PatternDesign d;
  d.grid = r.word("grid", PatternGrid::square);
  d.count = r.whole("count", 1, most_grid_count, d.count);
  d.rules = r.texts("rules");
  for (const JsonReader& f : r.list_at("directions")) {
    const auto v = f.list(3, 3);
    const auto place = [&](std::size_t i) { return v[i].number(-most_file_mm, most_file_mm); };
    d.directions.push_back({{place(0), place(1)}, v[2].word<EdgeKind>()});
  }
  if (const auto family = r.find("family")) d.family = family_from(*family);
  if (const auto base = r.find("base")) {
    auto pattern = parse_pattern_json(base->json().dump());
    // Lines of a text made here say nothing to anybody.
    if (!pattern) base->fail(pattern.error().substr(pattern.error().find(": ") + 2));
    d.base = std::make_shared<const CreasePattern>(std::move(pattern).value());
    for (const JsonReader& deg : r.list_at("base_full_deg")) d.base_full_deg.push_back(deg.number(-180, 180));
    if (!d.base_full_deg.empty() && d.base_full_deg.size() != d.base->edges.size())
      r.at("base_full_deg")
          .fail(fmt::format("has {} entries; the base has {} edges", d.base_full_deg.size(), d.base->edges.size()));
    d.base_goals = goals_from(r.list_at("base_goals"));
    if (!d.base_goals.empty() && d.base_goals.size() != d.base->edges.size())
      r.at("base_goals")
          .fail(fmt::format("has {} entries; the base has {} edges", d.base_goals.size(), d.base->edges.size()));
  }
  return d;
}

Project project_from(const JsonReader& r, WithoutMoves without) {
  Project p;
  p.title = r.text("title", "");
  const JsonReader sheet = r.at("sheet");
  const std::string code = sheet.at("code").text();
  p.sheet_name = sheet.text("name", code);
  auto parsed = parse_sheet(code);
  if (!parsed) sheet.at("code").fail(parsed.error());
  p.sheet = std::move(parsed).value();
  const auto stock = r.find("stock");
  p.stock = stock ? stock_from(*stock) : generic_stocks().front();
  if (const auto t = r.find("trueness")) p.trueness = trueness_from(*t);
  if (const auto hand = r.find("hand")) p.hand = hand_from(*hand);
  p.unit = r.word("unit", LengthUnit::mm);
  if (const auto list = r.find("references")) p.references = references_from(*list);
  p.folded = r.word("folded", FoldedWork::grid);
  if (const auto grid = r.find("grid")) p.grid = grid_spec_from(*grid);
  if (const auto pattern = r.find("pattern")) p.pattern = design_from(*pattern);
  if (const auto pre = r.find("pre_crease"))
    p.pre_crease = {pre->word("school", CreaseSchool::usual), pre->flag("both_ways", false)};
  if (const auto closing = r.find("collapse")) p.closing = closing_from(*closing);
  if (const auto ok = check_spec(p.grid, p.hand); !ok) r.at("grid").fail(ok.error());
  if (const auto units = r.find("units")) p.units = unit_job_from(*units);
  if (const auto steps = r.find("steps")) {
    p.steps = steps->text();
    if (const auto read = parse_steps(p.steps); !read) steps->fail(read.error());
  }
  // To fold steps takes seconds, and nobody can have put them into another order.
  const auto programme = r.find("programme");
  if (programme && !(without == WithoutMoves::leave && programme->find("steps")))
    p.programme = programme_from(*programme);
  p.note = r.text("note", "");
  return p;
}

} // namespace

Result<Json> migrated(Json document, const std::string& source) {
  if (!document.is_object() || document.value("format", Json()) != format_name) {
    return Error{
        fmt::format("{}:1: this is not an Under Crease project; choose a file ending in .undercrease.", source)};
  }
  const bool whole = document.contains("version") && document["version"].is_number_unsigned();
  const std::uint64_t version = whole ? document["version"].get<std::uint64_t>() : 0;
  if (version > project_version) {
    return Error{fmt::format("{}:1: the project was saved by a newer Under Crease (file version {}, this program reads "
                             "up to {}); update the program to open it.",
                             source, version, project_version)};
  }
  if (version < 1)
    return Error{fmt::format("{}:1: version: a whole number from 1 must stand here; the file is damaged.", source)};
  if (version == 1) document = from_version_1(std::move(document));
  // Version 2 lacks nothing but steps, which it did not know.
  if (version <= 3) document = from_version_3(std::move(document));
  document["version"] = project_version;
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
            {"folded", name_of(p.folded)},
            {"grid", json_of(p.grid)},
            {"pattern", design_json(p.pattern)},
            {"pre_crease", {{"school", name_of(p.pre_crease.school)}, {"both_ways", p.pre_crease.both_ways}}},
            {"collapse", json_of(p.closing)},
            {"programme", json_of(p.programme)},
            {"note", p.note}};
  if (!p.steps.empty()) j["steps"] = p.steps;
  if (!(p.units == UnitJob{})) j["units"] = json_of(p.units);
  put_back(j, p.unknown);
  return j.dump(1, ' ', false, Json::error_handler_t::replace) + "\n";
}

Result<Project> project_from_text(const std::string& text, const std::string& source, WithoutMoves without) {
  auto parsed = parse_json(text, source);
  if (!parsed) return Error{parsed.error()};
  const auto doc = migrated(std::move(parsed).value(), source);
  if (!doc) return Error{doc.error()};
  try {
    SeenKeys seen;
    Project p = project_from(JsonReader(*doc, "", &seen), without);
    p.unknown = unseen(*doc, seen);
    if (!p.unknown.is_object()) p.unknown = Json::object();
    for (const char* known : {"format", "version", "programme"}) p.unknown.erase(known);
    if (const auto inside = p.unknown.find(inside_key); inside != p.unknown.end()) {
      inside->erase("programme");
      // The base of a pattern is read as a file of its own.
      if (inside->contains("pattern") && (*inside)["pattern"].contains(inside_key))
        (*inside)["pattern"][inside_key].erase("base");
    }
    // Earlier versions planned for the typed size of a measured sheet.
    const double typed = p.sheet.width();
    const bool measured = std::abs(planned_sheet(p).width() - typed) > 1e-6 * typed;
    if (p.programme.empty() ||
        (measured && std::abs(bounding_box(p.programme.sheet).size().x() - typed) < 1e-6 * typed)) {
      p.programme = {};
      if (without == WithoutMoves::leave) return p;
      if (auto division = division_of(p)) p.programme = planned_programme(p, *division);
    }
    return p;
  } catch (const FieldError& e) {
    return Error{fmt::format("{}: {}; mend it there or use an earlier copy.", source, e.what())};
  }
}

Status save_project(const Project& project, const std::string& path) {
  return write_atomically(path, project_text(project));
}

Result<Project> load_project(const std::string& path, WithoutMoves without) {
  const auto text = read_file(path);
  if (!text) return Error{text.error()};
  return project_from_text(*text, path, without);
}

Result<std::vector<Stock>> load_shelf(const std::string& path) {
  if (!std::filesystem::exists(path)) return generic_stocks();
  const auto text = read_file(path);
  if (!text) return Error{text.error()};
  auto j = parse_json(*text, path);
  if (!j) return Error{j.error()};
  if (!j->is_object() || j->value("format", Json()) != shelf_format)
    return Error{fmt::format("{}:1: this is not a shelf file.", path)};
  try {
    std::vector<Stock> shelf;
    for (const JsonReader& s : JsonReader(*j).at("stocks").list()) {
      auto stock = checked(stock_from(s));
      if (!stock) s.fail(stock.error());
      shelf.push_back(*stock);
    }
    return shelf;
  } catch (const FieldError& e) {
    return Error{fmt::format("{}: {}; mend it there or remove the file.", path, e.what())};
  }
}

Status save_shelf(const std::vector<Stock>& shelf, const std::string& path) {
  Json stocks = Json::array();
  for (const Stock& s : shelf) stocks.push_back(json_of(s));
  return write_atomically(path, Json{{"format", shelf_format}, {"version", 1}, {"stocks", stocks}}.dump(1) + "\n");
}

} // namespace uc
