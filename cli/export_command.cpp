// export: a project's grid and programme as PDF, SVG, CSV, iCalendar or HTML, by the ending of the file.
#include "command.h"

#include "base/clean_text.h"
#include "io/exports.h"
#include "io/formats.h"
#include "project/parts.h"

#include <fmt/format.h>

#include <algorithm>
#include <memory>

namespace uc::cli {
namespace {

struct ExportArguments {
  std::string project, output, paper = "A4", what = "both", start, evenings = "1", pages = "200";
  bool json = false, small = false;
};

int run(const ExportArguments& o) {
  is_input(o.project);
  const auto project = load_project(o.project);
  if (!project) throw CallError{project.error()};
  if (folds_creases(folded_work(*project)) &&
      std::none_of(project->programme.elements.begin(), project->programme.elements.end(),
                   [](const Element& e) { return e.id.source == ElementSource::pattern; }))
    err() << "under-crease-cli: " << shown_text(o.project)
          << ": the pattern cannot be pre-creased and is left out. See pre-crease for the reason.\n";
  ExportOptions options;
  options.fonts.folder = font_folder();
  options.session_start = o.start;
  options.sessions = whole_option("--evenings", o.evenings, 1, 366);
  options.most_pages = static_cast<std::size_t>(whole_option("--pages", o.pages, 1, 1'000'000));
  const auto what = named<ExportPart>(o.what);
  if (!what) throw CallError{fmt::format("--what: \"{}\" is not a part; type template, handout or both", o.what)};
  options.part = *what;
  options.small = o.small;
  const auto paper = paper_named(o.paper);
  if (!paper) throw CallError{paper.error()};
  options.paper = *paper;
  const auto bytes = export_bytes(*project, o.output, options);
  if (!bytes) throw CallError{bytes.error()};
  write_output("-o", o.output, *bytes);
  if (o.json)
    print_json({{"file", o.output}, {"bytes", bytes->size()}});
  else
    out() << fmt::format("{} written ({} bytes)\n", o.output, bytes->size());
  return done;
}

} // namespace

void add_export(CLI::App& app, Action& action) {
  auto o = std::make_shared<ExportArguments>();
  CLI::App* c = app.add_subcommand("export", "Write a project's grid and programme to a file.");
  c->add_option("project", o->project, "A project file (.undercrease)")->required();
  c->add_option("-o,--output", o->output, "FILE " + endings_for(FileUse::write_project))->required();
  c->add_option("--paper", o->paper, "Paper in the printer: A4, A3 or Letter (A4)");
  c->add_option("--what", o->what, "PDF only: template, handout or both (both)");
  c->add_flag("--small", o->small, "PDF only: twelve moves a page of the hand-out in place of six");
  c->add_option("--evenings", o->evenings, "iCalendar only: sessions on so many days in a row")->capture_default_str();
  c->add_option("--start", o->start, "iCalendar only: when the session begins, such as 2026-11-28T18:00:00");
  c->add_option("--pages", o->pages, "PDF only: the most pages it may have")->capture_default_str();
  c->add_flag("--json", o->json, "Print one JSON document");
  c->footer("Example: under-crease-cli export open-night.undercrease -o grid.pdf --what template");
  c->callback([o, &action] { action = [o] { return run(*o); }; });
}

} // namespace uc::cli
