#include "io/pattern_file.h"

#include "io/formats.h"
#include "io/pattern_dxf.h"
#include "io/pattern_json.h"
#include "io/pattern_svg.h"
#include "pattern/pattern_figure.h"

#include <fmt/format.h>

#include <algorithm>

namespace uc {

Result<PatternFormat> pattern_format(const std::string& file_name, bool writing) {
  const auto format = format_for(writing ? FileUse::write_pattern : FileUse::read_pattern, file_name);
  if (!format) return Error{format.error()};
  const auto json = on<FileFormat::json>([] { return PatternFormat::json; });
  const auto svg = on<FileFormat::svg>([] { return PatternFormat::svg; });
  const auto dxf = on<FileFormat::dxf>([] { return PatternFormat::dxf; });
  if (!writing) return by_format<FileUse::read_pattern, PatternFormat>(*format, json, svg, dxf);
  return by_format<FileUse::write_pattern, PatternFormat>(*format, json, svg, dxf,
                                                          on<FileFormat::pdf>([] { return PatternFormat::pdf; }));
}

Result<LineWork> parse_line_work(const std::string& text, PatternFormat format) {
  return format == PatternFormat::dxf ? parse_dxf_lines(text) : parse_svg_lines(text);
}

namespace {

Result<ReadPattern> checked(ReadPattern read, const Progress* progress) {
  if (progress && progress->stopped()) return Error{"line 1: reading was stopped"};
  if (read.healed.too_many == 0) return read;
  return Error{fmt::format("line 1: its lines cross in more than {} places, which is the most that can be mended; "
                           "split the drawing",
                           most_crossings)};
}

} // namespace

Result<ReadPattern> parse_pattern(const std::string& text, PatternFormat format, const KindMapping& mapping,
                                  const Progress* progress) {
  ReadPattern out;
  if (format == PatternFormat::json) {
    auto pattern = parse_pattern_json(text);
    if (!pattern) return Error{pattern.error()};
    auto closing = parse_hand_closing(text, pattern->edges.size());
    if (!closing) return Error{closing.error()};
    std::vector<CreaseId> source;
    out.healed = healed(*pattern, {.limits = {most_crossings, progress}}, &source);
    for (const CreaseId e : source) {
      const auto i = static_cast<std::size_t>(e);
      if (!closing->full_deg.empty()) out.closing.full_deg.push_back(closing->full_deg[i]);
      if (!closing->goals.empty()) out.closing.goals.push_back(closing->goals[i]);
    }
    return checked(std::move(out), progress);
  }
  auto work = parse_line_work(text, format);
  if (!work) return Error{work.error()};
  auto pattern = mapped(*work, mapping);
  if (!pattern) return Error{pattern.error()};
  if (pattern->edges.empty()) return Error{"line 1: the drawing holds no straight lines; draw or export some"};
  out.left_out = work->left_out;
  // Every line brings its own two ends; that they meet is no repair.
  out.healed = healed(*pattern, {.tolerance_mm = 0, .split_crossings = true, .limits = {most_crossings, progress}});
  out.healed.repair.merged_vertices = 0;
  return checked(std::move(out), progress);
}

std::string left_out_sentence(const std::map<std::string, int>& left_out) {
  std::string out;
  for (const auto& [what, count] : left_out) out += fmt::format("{}{} x {}", out.empty() ? "" : ", ", count, what);
  return out.empty() ? out : "Left out, being no straight lines or not seen: " + out + ".";
}

Result<std::string> pattern_bytes(const CreasePattern& pattern, PatternFormat format, const std::string& title,
                                  const PageFonts& fonts, const PrintOptions& print, const HandClosing& closing) {
  switch (format) {
  case PatternFormat::json:
    return pattern_json(pattern, closing);
  case PatternFormat::svg:
    return pattern_svg(pattern, title);
  case PatternFormat::dxf:
    return pattern_dxf(pattern);
  case PatternFormat::pdf:
    break;
  }
  if (pattern.vertices.empty()) return Error{"There is nothing to print; draw a pattern first."};
  return pdf_of(template_pages(pattern_figure(pattern), title, print), title, fonts);
}

} // namespace uc
