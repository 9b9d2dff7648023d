#include "io/tables.h"

#include "base/clean_text.h"
#include "programme/text.h"

#include <fmt/format.h>
#include <libical/ical.h>

#include <cmath>
#include <memory>
#include <string_view>

namespace uc {
namespace {

/// A cell of a table (RFC 4180). A spreadsheet would run what begins like a formula, so a quote goes before it; control
/// characters are made visible.
std::string quoted(const std::string& field) {
  std::string safe = shown_text(field, true);
  const auto first = safe.find_first_not_of(" \t\n");
  if (first != std::string::npos && std::string_view("=+-@|%").find(safe[first]) != std::string_view::npos)
    safe.insert(0, 1, '\'');
  if (safe.find_first_of(",;\"\r\n\t'") == std::string::npos) return safe;
  std::string out = "\"";
  for (const char c : safe) {
    if (c == '"') out += '"';
    out += c;
  }
  return out + "\"";
}

std::string cell_of(double v, int digits = 4) { return std::isfinite(v) ? format_number(v, digits) : ""; }

} // namespace

std::string grid_csv(const Division& d) {
  std::string csv = "family,line,parts,position_mm,sigma_mm,fold,x1_mm,y1_mm,x2_mm,y2_mm\r\n";
  for (std::size_t f = 0; f < d.plans.size(); ++f) {
    const Family& family = d.layout.families[f];
    for (int k = 0; k <= d.spec.parts; ++k) {
      const bool edge = k == 0 || k == d.spec.parts;
      const std::string position = cell_of(family.extent_mm * k / d.spec.parts);
      const std::string sigma = cell_of(d.plans[f].line_sigma_mm[static_cast<std::size_t>(k)]);
      const auto direction = d.plans[f].task.directions[static_cast<std::size_t>(k)];
      const char* fold = edge ? "raw" : direction == Fold::mountain ? "mountain" : "valley";
      for (const Segment& s : crease_spans(d.layout, family, k, d.spec)) {
        csv += fmt::format("{},{},{},{},{},{},{},{},{},{}\r\n", quoted(family.name), k, d.spec.parts, position, sigma,
                           fold, cell_of(s.from.x()), cell_of(s.from.y()), cell_of(s.to.x()), cell_of(s.to.y()));
      }
    }
  }
  return csv;
}

std::string references_csv(const Programme& programme) {
  std::string csv = "name,kind,sigma_mm,x1_mm,y1_mm,x2_mm,y2_mm\r\n";
  for (const Element& e : programme.elements) {
    const std::string name =
        e.label.empty() && e.by_direction ? fmt::format("{} {}/{}", e.family, e.index, e.parts) : e.label;
    if (name.empty() || (e.role != Role::crease && e.role != Role::point)) continue;
    for (const Segment& s : e.spans) {
      csv += fmt::format("{},{},{},{},{},{},{}\r\n", quoted(name), e.role == Role::point ? "mark" : "crease",
                         cell_of(e.sigma_mm.value_or(0)), cell_of(s.from.x()), cell_of(s.from.y()), cell_of(s.to.x()),
                         cell_of(s.to.y()));
    }
  }
  return csv;
}

std::string units_csv(const UnitPlan& plan, const std::vector<UnitMap::Colour>& palette) {
  std::vector<std::size_t> joined(plan.graph.units.size(), 0);
  for (std::size_t i = 0; i < plan.assembly.size(); ++i) joined[static_cast<std::size_t>(plan.assembly[i].add)] = i + 1;
  std::string csv = "unit,stands_for,colour,sheet,x_mm,y_mm,width_mm,height_mm,joined_as\r\n";
  for (const UnitCut& c : plan.cutting.pieces) {
    const auto u = static_cast<std::size_t>(c.unit);
    const Unit& unit = plan.graph.units[u];
    std::string place = fmt::format("{}", unit.index + 1);
    const char* kind = unit.kind == Unit::Kind::face ? "face" : unit.kind == Unit::Kind::vertex ? "corner" : "edge";
    if (unit.kind == Unit::Kind::edge || unit.kind == Unit::Kind::clip)
      place = fmt::format("{} to {}", unit.vertices[0] + 1, unit.vertices[1] + 1);
    const auto colour = static_cast<std::size_t>(plan.colours.colour[u]);
    csv += fmt::format("{},{}{} {},{},{},{},{},{},{},{}\r\n", u + 1, unit.kind == Unit::Kind::clip ? "clip at " : "",
                       kind, place, quoted(palette[colour].name), c.sheet + 1, cell_of(c.at_mm.x()),
                       cell_of(c.at_mm.y()), cell_of(c.size_mm.x()), cell_of(c.size_mm.y()), joined[u]);
  }
  return csv;
}

std::string log_csv(const std::vector<RunSummary>& runs) {
  std::string csv =
      "id,title,sheet,stock,kind,way,size,started,ended,status,moves_planned,moves_done,"
      "planned_minutes,minutes,planned_sigma_mm,planned_worst_mm,measured_rms_mm,measured_worst_mm,faults,"
      "note\r\n";
  for (const RunSummary& r : runs) {
    csv += fmt::format("{},{},{},{},{},{},{},{},{},{},{},{},{},{},{},{},{},{},{},{}\r\n", r.id, quoted(r.title),
                       quoted(r.sheet), quoted(r.stock), quoted(r.kind), quoted(r.way), r.size, quoted(r.started),
                       quoted(r.ended), name_of(r.status), r.moves_planned, r.moves_done, cell_of(r.planned_minutes, 2),
                       cell_of(r.minutes, 2), cell_of(r.planned_sigma_mm), cell_of(r.planned_worst_mm),
                       r.measured_rms_mm ? cell_of(*r.measured_rms_mm) : "",
                       r.measured_worst_mm ? cell_of(*r.measured_worst_mm) : "", r.faults, quoted(r.note));
  }
  return csv;
}

std::vector<std::size_t> shared_out(const Programme& programme, int sessions) {
  std::vector<std::size_t> ends;
  double seconds = 0;
  for (std::size_t i = 0; i < programme.moves.size() && static_cast<int>(ends.size()) + 1 < sessions; ++i) {
    seconds += programme.moves[i].seconds;
    const double share = programme.planned_seconds() * static_cast<double>(ends.size() + 1) / sessions;
    if (seconds >= share - 1e-9) ends.push_back(i + 1);
  }
  ends.push_back(programme.moves.size());
  return ends;
}

Result<std::string> session_ics(const Programme& programme, const std::string& title, const std::string& start,
                                int sessions) {
  std::string compact;
  for (const char c : start) {
    if (c != '-' && c != ':') compact += c;
  }
  icaltimetype begin = icaltime_from_string(compact.c_str());
  if (icaltime_is_null_time(begin) || !icaltime_is_valid_time(begin) || compact.size() != 15) {
    return Error{fmt::format("\"{}\" is not a date and time; type one such as 2026-11-28T18:00:00.", start)};
  }
  const std::unique_ptr<icalcomponent, decltype(&icalcomponent_free)> calendar(
      icalcomponent_vanew(ICAL_VCALENDAR_COMPONENT, icalproperty_new_version("2.0"),
                          icalproperty_new_prodid("-//Under Crease//EN"), nullptr),
      &icalcomponent_free);
  const ProgrammeTeller teller(programme);
  std::size_t from = 0;
  int day = 0;
  const auto ends = shared_out(programme, sessions);
  for (const std::size_t end : ends) {
    std::string steps;
    double seconds = 0;
    for (std::size_t i = from; i < end; ++i) {
      steps += fmt::format("{}. {}\n", i + 1, teller.text(i));
      seconds += programme.moves[i].seconds;
    }
    from = end;
    const int minutes = std::max(1, static_cast<int>(std::ceil(seconds / 60)));
    const std::string name = ends.size() == 1 ? title : fmt::format("{} ({} of {})", title, day + 1, ends.size());
    const std::string uid = ends.size() == 1 ? compact : fmt::format("{}-{}", compact, day + 1);
    icalcomponent_add_component(
        calendar.get(),
        icalcomponent_vanew(
            ICAL_VEVENT_COMPONENT, icalproperty_new_uid((uid + "@under-crease").c_str()),
            icalproperty_new_dtstamp(icaltime_from_string((compact + "Z").c_str())), icalproperty_new_dtstart(begin),
            icalproperty_new_duration(icaldurationtype_from_int(minutes * 60)), icalproperty_new_summary(name.c_str()),
            icalproperty_new_description(steps.c_str()), nullptr));
    icaltime_adjust(&begin, 1, 0, 0, 0);
    ++day;
  }
  char* text = icalcomponent_as_ical_string_r(calendar.get());
  std::string ics = text;
  icalmemory_free_buffer(text);
  return ics;
}

} // namespace uc
