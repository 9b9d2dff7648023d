#include "io/folded.h"

#include "base/memory.h"
#include "io/formats.h"
#include "io/svg_writer.h"
#include "pattern/folded_view.h"
#include "programme/line_look.h"

#include <fmt/format.h>
#include <nlohmann/json.hpp>

namespace uc {

std::string folded_json(const PatternProof& proof) {
  using Json = nlohmann::json;
  Json vertices = Json::array();
  for (const Point& p : proof.pattern.vertices) vertices.push_back({p.x(), p.y()});
  Json faces = Json::array();
  for (std::size_t f = 0; f < proof.graph->faces.size(); ++f) {
    const Isometry& i = proof.form->place[f];
    faces.push_back(
        {{"vertices", proof.graph->faces[f].cycle},
         {"isometry", {i.linear(0, 0), i.linear(0, 1), i.linear(1, 0), i.linear(1, 1), i.shift.x(), i.shift.y()}}});
  }
  Json above = Json::array();
  for (const auto& [upper, lower] : proof.overlapping()) above.push_back({upper, lower});
  const Point size = folded_size(*proof.form);
  return Json{{"format", "under-crease/folded"},
              {"version", 1},
              {"vertices", vertices},
              {"faces", faces},
              {"above", above},
              {"layers_max", proof.overlap->layers_max},
              {"folded_mm", {size.x(), size.y()}}}
             .dump(1) +
         "\n";
}

std::string folded_svg(const PatternProof& proof, const std::string& title, const FoldedSvgOptions& options) {
  const FoldedView view = folded_view(proof, options.from_behind);
  constexpr double margin = 5;
  const Point size = view.box.size() + Point{2 * margin, 2 * margin};
  constexpr int digits = 9;
  const auto place = [&](const Point& p) {
    return Point{p.x() - view.box.low.x() + margin, view.box.high.y() - p.y() + margin};
  };
  SvgWriter svg({0, 0}, size);
  svg.title(title);
  for (const FoldedPatch& p : view.patches) {
    const std::string& colour = p.coloured ? options.face : options.underside;
    std::string path;
    for (std::size_t i = 0; i < p.outline.size(); ++i) {
      const Point at = place(p.outline[i]);
      path += fmt::format("{}{:.9g},{:.9g}", i == 0 ? "M" : " L", at.x(), at.y());
    }
    pugi::xml_node node = svg.add("path");
    set(node, "d", path + " Z");
    set(node, "fill", colour);
    set(node, "stroke", colour);
    set(node, "stroke-width", 0.05);
    set(node, "data-face", std::to_string(p.face));
  }
  for (const FoldedEdge& e : view.edges) {
    pugi::xml_node node = svg.line(place(e.segment.from), place(e.segment.to), e.raw ? "raw" : "folded", digits);
    set(node, "stroke", std::string(paper_ink));
    set(node, "stroke-width", e.raw ? 0.35 : 0.25);
    set(node, "stroke-linecap", std::string("round"));
  }
  return svg.document();
}

namespace {

/// The file names every two faces that overlap, which for thousands of layers are more than there is room for.
Result<std::string> json_that_fits(const PatternProof& proof) {
  const std::size_t needed = memory_needed(*proof.overlap, static_cast<int>(proof.graph->faces.size()));
  constexpr double gigabyte = 1e9;
  if (needed > free_memory() / 2)
    return Error{fmt::format("the order of so many layers takes about {:.1f} GB; write .svg or .pdf",
                             static_cast<double>(needed) / gigabyte)};
  return folded_json(proof);
}

} // namespace

Result<std::string> folded_bytes(const PatternProof& proof, const std::string& file_name, const std::string& title,
                                 const FoldedSvgOptions& options, const PageFonts& fonts, const PrintOptions& print) {
  const auto format = format_for(FileUse::write_folded, file_name);
  if (!format) return Error{format.error()};
  return by_format<FileUse::write_folded, Result<std::string>>(
      *format, on<FileFormat::json>([&] { return json_that_fits(proof); }),
      on<FileFormat::svg>([&] { return folded_svg(proof, title, options); }), on<FileFormat::pdf>([&] {
        const Figure figure = folded_figure(folded_view(proof, options.from_behind));
        return pdf_of(template_pages(figure, title, print), title, fonts);
      }));
}

} // namespace uc
