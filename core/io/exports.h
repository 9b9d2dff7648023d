// Every file a project can be written to, chosen by the ending of the name; application and command line both call
// this.
#pragma once

#include "base/names.h"

#include "io/handout.h"
#include "io/pdf.h"
#include "io/project_file.h"

namespace uc {

enum class ExportPart { both, template_only, handout_only };
template <>
inline constexpr auto enum_words<ExportPart> = std::to_array<Word<ExportPart>>({{ExportPart::both, "both"},
                                                                                {ExportPart::template_only, "template"},
                                                                                {ExportPart::handout_only, "handout"}});
Result<PaperSize> paper_named(const std::string& name);

/// A PDF of more pages is made only when that many are asked for.
constexpr std::size_t usual_pages = 200;

/// A hand-out for the browser draws every move with all creases before it; of more moves than this it is refused.
constexpr std::size_t most_drawn_moves = 3000;

struct ExportOptions {
  PageFonts fonts;
  PaperSize paper{"A4", 210, 297};
  ExportPart part = ExportPart::both;
  TextStyle text;
  std::string session_start;            // ISO 8601; needed for .ics
  int sessions = 1;                     // .ics: evenings the work is spread over
  std::size_t most_pages = usual_pages; // a PDF of more is refused
  bool small = false;                   // hand-outs of twelve moves a page in place of six
};

/// How many pages `export_pages` makes, told without making them.
std::size_t export_page_count(const Project& project, const ExportOptions& options);
/// The pages a PDF or a printer gets.
std::vector<Page> export_pages(const Project& project, const ExportOptions& options);
/// The bytes of FILE.pdf, .svg, .csv, .ics or .html.
Result<std::string> export_bytes(const Project& project, const std::string& file_name, const ExportOptions& options);

/// The hand-out of units: papers, cuts, one unit, the colours, then each joint; the folding of each unit, which is told
/// once, has no page of its own. Without a plan, the joints alone. `programme` must outlive it.
HandoutMoves units_handout(const UnitPlan* plan, const Programme& programme, const TextStyle& style);
/// The bytes of a hand-out of units, FILE.pdf or .html.
Result<std::string> units_bytes(const UnitPlan& plan, const Programme& programme, const std::string& title,
                                const std::string& file_name, const ExportOptions& options);

/// One line under the title: sheet, count, method, expected error.
std::string project_subtitle(const Project& project, const TextStyle& style);

} // namespace uc
