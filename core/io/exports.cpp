#include "io/exports.h"

#include "base/text.h"
#include "io/figure_drawing.h"
#include "io/formats.h"
#include "io/svg.h"
#include "io/tables.h"
#include "programme/figure.h"
#include "project/expected_miss.h"
#include "unit/unit_handout.h"

#include <fmt/format.h>

#include <algorithm>

namespace uc {
namespace {

std::string title_of(const Project& project) { return project.title.empty() ? "Untitled" : project.title; }

std::optional<UnitPlan> plan_of(const Project& project) {
  const auto wish = wish_of(project.units, project.stock);
  auto plan = wish ? unit_plan(*wish) : Result<UnitPlan>(Error{wish.error()});
  return plan ? std::optional(std::move(plan).value()) : std::nullopt;
}

/// The hand-out of a programme.
HandoutMoves handout_of(const Project& project, const TextStyle& style) {
  if (!project.programme.units) return handout_moves(project.programme, style);
  const auto plan = plan_of(project);
  return units_handout(plan ? &*plan : nullptr, project.programme, style);
}

/// The template of one unit at true scale, where units are cut out; none else.
std::vector<Page> unit_templates(const std::optional<UnitPlan>& plan, const std::string& title,
                                 const PrintOptions& print) {
  const auto figure = plan ? unit_template(*plan) : std::nullopt;
  return figure ? template_pages(*figure, title, print) : std::vector<Page>{};
}

std::vector<Page> joined(std::vector<Page> pages, std::vector<Page> more) {
  pages.insert(pages.end(), std::make_move_iterator(more.begin()), std::make_move_iterator(more.end()));
  return pages;
}

} // namespace

HandoutMoves units_handout(const UnitPlan* plan, const Programme& programme, const TextStyle& style) {
  auto first = std::make_shared<std::vector<HandoutMove>>();
  TextStyle telling = style;
  telling.names_told_apart = true;
  if (plan)
    for (UnitDrawing& d : unit_preparation(*plan, programme, telling))
      first->push_back({std::move(d.figure), std::move(d.text), std::move(d.check), std::move(d.caution)});
  auto joins = std::make_shared<std::vector<std::size_t>>();
  for (std::size_t i = 0; i < programme.moves.size(); ++i)
    if (programme.moves[i].is<Join>()) joins->push_back(i);
  return {first->size() + joins->size(), [first, joins, move = handout_moves(programme, style).move](std::size_t i) {
            return i < first->size() ? (*first)[i] : move((*joins)[i - first->size()]);
          }};
}

Result<std::string> units_bytes(const UnitPlan& plan, const Programme& programme, const std::string& title,
                                const std::string& file_name, const ExportOptions& options) {
  const auto format = format_for(FileUse::write_units, file_name);
  if (!format) return Error{format.error()};
  const HandoutMoves moves = units_handout(&plan, programme, options.text);
  const std::string subtitle = fmt::format("{} · {} units", plan.family->name, plan.graph.units.size());
  return by_format<FileUse::write_units, Result<std::string>>(
      *format, on<FileFormat::html>([&]() -> Result<std::string> { return handout_html(moves, title, subtitle); }),
      on<FileFormat::pdf>([&]() -> Result<std::string> {
        PrintOptions print;
        print.paper = options.paper;
        print.small = options.small;
        print.text = options.text;
        print.fonts = options.fonts;
        if (const std::size_t pages = handout_page_count(moves.count, print); pages > options.most_pages)
          return Error{fmt::format("{}: this makes {} pages, more than {}; write .html instead", file_name, pages,
                                   options.most_pages)};
        return pdf_of(joined(unit_templates(plan, title, print), handout_pages(moves, title, subtitle, print)), title,
                      options.fonts);
      }));
}

Result<PaperSize> paper_named(const std::string& name) {
  for (const PaperSize& size : paper_sizes()) {
    if (lower_case(size.name) == lower_case(name)) return size;
  }
  return Error{fmt::format("--paper: \"{}\" is not a paper of a printer here; type A4, A3 or Letter", name)};
}

namespace {

/// What is folded before all else, each with the one figure by which it is judged.
std::string references_told(const Project& project, const TextStyle& style) {
  std::string out;
  for (std::size_t i = 0; i < project.references.size(); ++i) {
    out += (out.empty() ? "" : ", ") + project.references[i].title;
    if (const auto miss = expected_miss_mm(project, i))
      out += fmt::format(" ({} {})", style.translate("expected miss"), format_error(Millimetres{*miss}, style.unit));
  }
  return out;
}

} // namespace

std::string project_subtitle(const Project& project, const TextStyle& style) {
  if (project.programme.units)
    return fmt::format("{} · {} · {} units", project.units.solid, project.units.family,
                       project.programme.units->units.size());
  const FoldedWork work = folded_work(project);
  if (work == FoldedWork::steps)
    return fmt::format("{} · {} moves · s = {}", project.sheet_name, project.programme.moves.size(),
                       format_error(Millimetres{project.hand.sigma_mm}, style.unit));
  const std::string first = project.references.empty() ? "" : references_told(project, style) + " · ";
  if (folds_creases(work)) {
    return fmt::format("{} · {}pattern pre-creased, {} · s = {}", project.sheet_name, first,
                       name_of(project.pre_crease.school),
                       format_error(Millimetres{project.hand.sigma_mm}, style.unit));
  }
  if (work == FoldedWork::references) {
    return fmt::format("{} · {} · s = {}", project.sheet_name, references_told(project, style),
                       format_error(Millimetres{project.hand.sigma_mm}, style.unit));
  }
  return fmt::format("{} · {}{} parts, {} · {} · s = {}", project.sheet_name, first, project.grid.parts,
                     name_of(project.grid.axis), name_of(project.grid.method),
                     format_error(Millimetres{project.hand.sigma_mm}, style.unit));
}

std::size_t export_page_count(const Project& project, const ExportOptions& options) {
  PrintOptions print;
  print.paper = options.paper;
  print.small = options.small;
  std::size_t pages = 0;
  if (project.programme.units) {
    const auto plan = plan_of(project);
    const auto figure = plan ? unit_template(*plan) : std::nullopt;
    const std::size_t templates =
        figure && options.part != ExportPart::handout_only ? template_page_count(*figure, print) : 0;
    if (templates > 0 && options.part == ExportPart::template_only) return templates;
    return templates +
           handout_page_count(units_handout(plan ? &*plan : nullptr, project.programme, options.text).count, print);
  }
  if (options.part != ExportPart::handout_only) pages += template_page_count(crease_figure(project.programme), print);
  if (options.part != ExportPart::template_only) pages += handout_page_count(project.programme.moves.size(), print);
  return pages;
}

std::vector<Page> export_pages(const Project& project, const ExportOptions& options) {
  PrintOptions print;
  print.paper = options.paper;
  print.small = options.small;
  print.text = options.text;
  print.fonts = options.fonts;
  if (project.programme.units) {
    const auto plan = plan_of(project);
    auto templates =
        options.part == ExportPart::handout_only ? std::vector<Page>{} : unit_templates(plan, title_of(project), print);
    // Most units are folded from the whole piece, and need no template.
    if (options.part == ExportPart::template_only && !templates.empty()) return templates;
    return joined(std::move(templates),
                  handout_pages(units_handout(plan ? &*plan : nullptr, project.programme, options.text),
                                title_of(project), project_subtitle(project, options.text), print));
  }
  std::vector<Page> pages;
  if (options.part != ExportPart::handout_only) pages = template_pages(project.programme, title_of(project), print);
  if (options.part != ExportPart::template_only) {
    auto more = handout_pages(project.programme, title_of(project), project_subtitle(project, options.text), print);
    pages.insert(pages.end(), more.begin(), more.end());
  }
  return pages;
}

namespace {

Result<std::string> project_pdf(const Project& project, const std::string& file_name, const ExportOptions& options) {
  const std::size_t pages = export_page_count(project, options);
  if (pages > options.most_pages)
    return Error{fmt::format("{}: this makes {} pages, more than {}; give --pages {} if you want them all, or choose a "
                             "part or a larger paper.",
                             file_name, pages, options.most_pages, pages)};
  return pdf_of(export_pages(project, options), title_of(project), options.fonts);
}

std::string project_svg(const Project& project) {
  if (!project.programme.units) return grid_svg(project.programme, title_of(project));
  Page page;
  page.width_mm = page.height_mm = 200;
  draw_figure(page, move_figure(project.programme, static_cast<int>(project.programme.moves.size())),
              {{5, 5}, {190, 190}});
  return page_svg(page);
}

Result<std::string> project_html(const Project& project, const std::string& file_name, const ExportOptions& options) {
  if (project.programme.moves.size() > most_drawn_moves)
    return Error{
        fmt::format("{}: {} moves are more than the {} a page in a browser can show drawn; write .csv or .ics, "
                    "or a .pdf with --pages.",
                    file_name, project.programme.moves.size(), most_drawn_moves)};
  return handout_html(handout_of(project, options.text), title_of(project), project_subtitle(project, options.text));
}

Result<std::string> project_csv(const Project& project) {
  if (project.programme.units) {
    const auto wish = wish_of(project.units, project.stock);
    const auto plan = wish ? unit_plan(*wish) : Result<UnitPlan>(Error{wish.error()});
    if (!plan) return Error{plan.error()};
    return units_csv(*plan, project.programme.units->colours);
  }
  if (folded_work(project) != FoldedWork::grid) return references_csv(project.programme);
  auto division = division_of(project);
  if (!division) return Error{division.error()};
  return grid_csv(*division);
}

Result<std::string> project_ics(const Project& project, const ExportOptions& options) {
  if (options.session_start.empty())
    return Error{"A calendar file needs the time the session begins; give --start such as 2026-11-28T18:00:00."};
  return session_ics(
      project.programme, title_of(project), options.session_start,
      std::max(options.sessions, folded_work(project) == FoldedWork::units ? project.units.evenings : 1));
}

} // namespace

Result<std::string> export_bytes(const Project& project, const std::string& file_name, const ExportOptions& options) {
  const auto format = format_for(FileUse::write_project, file_name);
  if (!format) return Error{format.error()};
  return by_format<FileUse::write_project, Result<std::string>>(
      *format, on<FileFormat::pdf>([&] { return project_pdf(project, file_name, options); }),
      on<FileFormat::svg>([&] { return project_svg(project); }),
      on<FileFormat::csv>([&] { return project_csv(project); }),
      on<FileFormat::html>([&] { return project_html(project, file_name, options); }),
      on<FileFormat::ics>([&] { return project_ics(project, options); }));
}

} // namespace uc
