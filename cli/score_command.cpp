// score: a pattern or project as a file for a scoring plotter, and such a file followed by a stand-in for the machine.
#include "command.h"
#include "pattern_file.h"

#include "base/clean_text.h"
#include "base/expression.h"
#include "base/text.h"
#include "io/formats.h"
#include "io/plotter_file.h"
#include "io/project_file.h"
#include "project/score_work.h"

#include <fmt/format.h>

#include <memory>

namespace uc::cli {
namespace {

using Json = nlohmann::json;

struct ScoreOptions {
  PatternSource source;
  std::string output, feed, pressure, sheet, bed, simulate;
  bool json = false;
};

ScoreSettings settings_of(const ScoreOptions& o) {
  ScoreSettings settings;
  const auto checked_after = [&](const std::string& option) {
    if (const auto ok = check(settings); !ok) throw CallError{fmt::format("{}: {}", option, ok.error())};
  };
  if (!o.feed.empty()) {
    settings.feed_mm_s = number_option("--feed", o.feed, 0, 1e6);
    checked_after("--feed");
  }
  if (!o.pressure.empty()) {
    settings.pressure_g = number_option("--pressure", o.pressure, 0, 1e9);
    checked_after("--pressure");
  }
  if (!o.bed.empty()) {
    const auto bed = parse_sheet(o.bed);
    if (!bed) throw CallError{"--bed: " + bed.error()};
    settings.bed_mm = Point{bed->width(), bed->height()};
  }
  return settings;
}

Polygon at_origin(Polygon sheet) {
  const Point low = bounding_box(sheet).low;
  for (Point& p : sheet) p -= low;
  return sheet;
}

std::string duration(double minutes) { return fmt::format("{:.1f} min", minutes); }

int make(const ScoreOptions& o) {
  if (const auto format = format_for(FileUse::write_scoring, o.output); !format)
    throw CallError{"-o " + format.error()};
  refuse_to_replace("-o", o.output, {o.source.file});
  const ScoreSettings settings = settings_of(o);
  ScoreWork work;
  if (lower_case(o.source.file).ends_with(".undercrease")) {
    is_input(o.source.file);
    const auto project = load_project(o.source.file);
    if (!project) throw CallError{project.error()};
    const auto found = score_work(*project);
    if (!found) return refused(found.error(), o.json);
    work = *found;
  } else {
    work.pattern = read_pattern(o.source).pattern;
    work.sheet = scored_sheet(work.pattern);
  }
  if (!o.sheet.empty()) work.sheet = sheet_option(o.sheet).outline();
  int outside = 0;
  const auto plan = score_plan(work.pattern, work.sheet, settings, &outside);
  if (!plan) {
    if (!o.json) return refused(plan.error(), false);
    err() << "under-crease-cli: " << plan.error() << "\n";
    print_json({{"outside", outside}, {"refused", {{"reason", plan.error()}}}});
    return answer_is_no;
  }
  const auto bytes = plotter_bytes(*plan, settings, o.output, title_of(o.source));
  if (!bytes) throw CallError{"-o: " + bytes.error()};
  write_output("-o", o.output, *bytes);
  if (o.json) {
    Json passes = Json::array();
    for (const ScorePass& pass : plan->passes)
      passes.push_back({{"side", name_of(pass.side)}, {"strokes", pass.strokes.size()}});
    print_json({{"strokes", plan->strokes()},
                {"travel_mm", plan->travel_mm},
                {"scored_mm", plan->scored_mm},
                {"minutes", plan->minutes},
                {"outside", 0},
                {"passes", passes}});
    return done;
  }
  for (const ScorePass& pass : plan->passes)
    out() << fmt::format("{}: {} strokes{}\n", pass.side == ScoredSide::face ? "face up" : "underside up",
                         pass.strokes.size(),
                         pass.side == ScoredSide::face ? "" : ", after a stop to turn the sheet over left to right");
  out() << fmt::format("{:.0f} mm scored, {:.0f} mm with the tool lifted, about {}\n", plan->scored_mm, plan->travel_mm,
                       duration(plan->minutes));
  out() << "Blades and scoring tools cut: hold to what the maker of the machine says, and keep hands off the bed.\n";
  return done;
}

int simulate(const ScoreOptions& o) {
  if (o.sheet.empty()) throw CallError{"--simulate: say which sheet lies on the machine, as --sheet a4"};
  const Polygon sheet = at_origin(sheet_option(o.sheet).outline());
  if (!o.output.empty() && !lower_case(o.output).ends_with(".svg"))
    throw CallError{fmt::format("-o {}: end the name with .svg", shown_text(o.output))};
  if (const auto format = format_for(FileUse::write_scoring, o.simulate); !format)
    throw CallError{"--simulate " + format.error()};
  refuse_to_replace("-o", o.output, {o.simulate});
  const auto trace = parse_plotter(read_input("--simulate", o.simulate, largest_plotter_file), o.simulate);
  if (!trace) {
    const std::string& e = trace.error(); // begins with "line N: "
    throw CallError{fmt::format("{}:{}", shown_text(o.simulate), e.substr(e.find(' ') + 1))};
  }
  const auto off = leaving(*trace, sheet);
  if (!o.output.empty()) write_output("-o", o.output, trace_svg(*trace, sheet, "What is scored"));
  for (const std::string& what : trace->unknown)
    err() << fmt::format("under-crease-cli: {}, {}: not understood and passed over\n", shown_text(o.simulate), what);
  const auto shown = [](const Point& p) { return fmt::format("{:.2f}, {:.2f}", p.x(), p.y()); };
  if (o.json) {
    Json leaves = Json::array();
    for (const auto& s : off)
      leaves.push_back(
          {{"line", s.line}, {"from", {s.at.from.x(), s.at.from.y()}}, {"to", {s.at.to.x(), s.at.to.y()}}});
    print_json({{"strokes", trace->strokes.size()},
                {"travel_mm", trace->travel_mm},
                {"scored_mm", trace->scored_mm},
                {"minutes", trace->minutes},
                {"outside", off.size()},
                {"leaves", leaves},
                {"unknown", trace->unknown}});
  } else {
    out() << fmt::format("{} strokes, {:.0f} mm scored, {:.0f} mm with the tool lifted, about {}\n",
                         trace->strokes.size(), trace->scored_mm, trace->travel_mm, duration(trace->minutes));
    for (std::size_t i = 0; i < off.size() && i < most_unknown; ++i)
      out() << fmt::format("line {} leaves the sheet: from {} to {}\n", off[i].line, shown(off[i].at.from),
                           shown(off[i].at.to));
  }
  if (off.empty()) return done;
  err() << fmt::format("under-crease-cli: {} of {} strokes leave the sheet.\n", off.size(), trace->strokes.size());
  return answer_is_no;
}

int run(const ScoreOptions& o, const CLI::App& command) {
  if (!o.simulate.empty()) {
    if (!o.source.file.empty()) throw CallError{"--simulate: follows a plotter's file and takes no pattern beside it"};
    refuse_misplaced(command, {"--feed", "--pressure", "--bed", "--format", "--map"}, false,
                     "belongs to writing a file; leave it out with --simulate");
    return simulate(o);
  }
  if (o.source.file.empty()) throw CallError{"FILE: name a pattern or a project, or a plotter's file with --simulate"};
  if (o.output.empty()) throw CallError{"-o: name the file to write, " + endings_for(FileUse::write_scoring)};
  return make(o);
}

} // namespace

void add_score(CLI::App& app, Action& action) {
  auto o = std::make_shared<ScoreOptions>();
  auto* c = app.add_subcommand("score", "A file for a scoring plotter, or what such a file would score");
  add_source(*c, o->source);
  c->get_option("FILE")->required(false)->description(
      "A pattern (.json, .svg or .dxf; - for standard input) or a project (.undercrease)");
  c->add_option("-o,--output", o->output,
                "FILE " + endings_for(FileUse::write_scoring) + "; with --simulate FILE.svg, what is scored");
  c->add_option("--feed", o->feed, "mm a second while scoring (50)");
  c->add_option("--pressure", o->pressure, "grams on the tool, passed on to the machine (80)");
  c->add_option("--sheet", o->sheet, "The sheet on the machine (the pattern's own outline)");
  c->add_option("--bed", o->bed, "Width and depth the machine can reach, as 600x400mm (the sheet's)");
  c->add_option("--simulate", o->simulate, "Follow this plotter's file in place of writing one; needs --sheet");
  c->add_flag("--json", o->json, "One JSON document");
  c->footer("Example: under-crease-cli score chevron.json -o chevron.hpgl --feed 40\n"
            "         under-crease-cli score --simulate chevron.hpgl --sheet square:240mm -o seen.svg");
  c->callback([&action, o, c] { action = [o, c] { return run(*o, *c); }; });
}

} // namespace uc::cli
