// scan: measures creases in a picture of a sheet on its print-out, prints such print-outs, and makes such pictures.
#include "command.h"
#include "pattern_file.h"

#include "base/clean_text.h"
#include "base/expression.h"
#include "base/text.h"
#include "device/scan_maker.h"
#include "device/scan_reader.h"
#include "io/grey_png.h"
#include "io/pdf.h"
#include "io/scan_page.h"

#include <fmt/format.h>

#include <charconv>
#include <cmath>
#include <memory>

namespace uc::cli {
namespace {

using Json = nlohmann::json;

struct ScanOptions {
  std::string file, sheet, parts, axis = "x", pattern, make, truth, output, measured;
  std::string dpi = "300", sigma = "0.25", skew = "0", perspective = "0", noise = "1", light = "0", seed = "1";
  bool marks = false, json = false;
};

std::uint64_t seed_of(const std::string& text) {
  std::uint64_t seed = 0;
  const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), seed);
  if (error != std::errc{} || end != text.data() + text.size())
    throw CallError{fmt::format("--seed: \"{}\" is not a whole number from 0 on", text)};
  return seed;
}

struct Wanted {
  Sheet sheet;
  int parts = 0; // of a grid; 0: a pattern
  std::vector<ScanLine> lines;
};

Wanted wanted(const ScanOptions& o) {
  if (o.sheet.empty()) throw CallError{"--sheet: say which sheet was folded, as --sheet square:150mm"};
  Wanted out{sheet_option(o.sheet), 0, {}};
  if (o.parts.empty() == o.pattern.empty())
    throw CallError{"--parts: say how many parts the sheet has, or which --pattern it carries; one of both"};
  if (!o.pattern.empty()) {
    PatternSource source;
    source.file = o.pattern;
    const CreasePattern pattern = read_pattern(source).pattern;
    out.lines = scan_lines(pattern, out.sheet.outline());
    const Box box = bounding_box(out.sheet.outline());
    for (const Point& p : pattern.vertices) {
      if ((p - box.low).minCoeff() < -0.5 || (box.high - p).minCoeff() < -0.5)
        throw CallError{
            fmt::format("--pattern {}: it does not lie on this sheet; name the sheet it was drawn for", o.pattern)};
    }
    if (out.lines.empty())
      throw CallError{
          fmt::format("--pattern {}: it has no line of at least {:g} mm to look for", o.pattern, least_scanned_mm)};
    return out;
  }
  out.parts = whole_option("--parts", o.parts, least_parts, greatest_parts);
  const auto axis = named<GridAxis>(o.axis);
  if (!axis || (*axis != GridAxis::x && *axis != GridAxis::y && *axis != GridAxis::both))
    throw CallError{fmt::format("--axis: \"{}\" cannot be scanned; type x, y or both", o.axis)};
  if (!out.sheet.has_right_corners())
    throw CallError{"--parts: only sheets with four right corners are scanned as a grid; name a --pattern"};
  out.lines = scan_lines({out.sheet.width(), out.sheet.height()}, out.parts, *axis);
  return out;
}

int print_marks(const ScanOptions& o) {
  if (!lower_case(o.output).ends_with(".pdf")) throw CallError{"-o: name the print-out to write, FILE.pdf"};
  const Sheet sheet = sheet_option(o.sheet.empty() ? "square:150mm" : o.sheet);
  const ScanFrame frame = scan_frame(sheet.outline());
  if (frame.page.maxCoeff() > 5000) throw CallError{"--sheet: a print-out for this sheet is larger than five metres"};
  const auto bytes = pdf_of({scan_page(frame)}, "Print-out to scan a sheet on", {font_folder()});
  if (!bytes) throw CallError{"-o: " + bytes.error()};
  write_output("-o", o.output, *bytes);
  if (o.json)
    print_json({{"file", o.output}, {"page_mm", {frame.page.x(), frame.page.y()}}});
  else
    out() << fmt::format("{} written: a page of {:.0f} x {:.0f} mm; print it at true size\n", o.output, frame.page.x(),
                         frame.page.y());
  return done;
}

int make(const ScanOptions& o) {
  if (!lower_case(o.make).ends_with(".png")) throw CallError{"--make: name the picture to draw, FILE.png"};
  if (!o.truth.empty() && !lower_case(o.truth).ends_with(".json")) throw CallError{"--truth: name a FILE.json"};
  refuse_to_replace("--make", o.make, {o.pattern});
  refuse_to_replace("--truth", o.truth, {o.pattern});
  const Wanted w = wanted(o);
  ScanMaking making;
  making.dpi = number_option("--dpi", o.dpi, 50, 2400);
  making.skew_deg = number_option("--skew", o.skew, -180, 180);
  making.perspective_pct = number_option("--perspective", o.perspective, 0, 50);
  making.noise_pct = number_option("--noise", o.noise, 0, 50);
  making.light_pct = number_option("--light", o.light, 0, 95);
  making.seed = seed_of(o.seed);
  const double sigma = length_option("--sigma", o.sigma, 0, 100);
  const auto folded =
      w.parts > 0 ? folded_grid(w.lines, w.parts, sigma, making.seed) : with_errors(w.lines, sigma, making.seed);
  Result<GreyImage> image = Error{""};
  with_progress("Drawing the scan", [&](Progress& p) { image = made_scan(w.sheet.outline(), folded, making, &p); });
  if (!image) throw CallError{"--make: " + image.error()};
  const auto bytes = grey_png(*image);
  if (!bytes) throw CallError{"--make: " + bytes.error()};
  Json lines = Json::array();
  for (const ScanLine& l : folded)
    lines.push_back({{"axis", l.axis}, {"line", l.line}, {"position_mm", l.position_mm}});
  write_output("--make", o.make, *bytes);
  if (!o.truth.empty()) write_output("--truth", o.truth, Json{{"lines", lines}}.dump(1) + "\n");
  if (o.json)
    print_json({{"file", o.make}, {"pixels", {image->width, image->height}}, {"lines", lines.size()}});
  else
    out() << fmt::format("{} written: {} x {} pixels, {} creases\n", o.make, image->width, image->height, lines.size());
  return done;
}

/// One run a direction, as `judge` and `hand` read them. Doubtful lines are left to the hand.
std::string measured_text(const ScanOptions& o, const Wanted& w, const ScanReading& reading) {
  Json runs = Json::array();
  for (const std::string axis : {"x", "y"}) {
    Json lines = Json::array();
    double squares = 0;
    for (const ReadLine& l : reading.lines) {
      if (l.line.axis != axis || l.doubtful) continue;
      lines.push_back({l.line.line, l.position_mm});
      squares += l.sigma_mm * l.sigma_mm;
    }
    if (lines.empty()) continue;
    const double ruler = std::sqrt(squares / static_cast<double>(lines.size()));
    runs.push_back({{"sheet", o.sheet}, {"parts", w.parts}, {"axis", axis}, {"ruler_mm", ruler}, {"lines", lines}});
  }
  return Json{{"format", "under-crease/measured"}, {"version", 1}, {"runs", runs}}.dump(1) + "\n";
}

int read(const ScanOptions& o) {
  const Wanted w = wanted(o);
  if (!o.measured.empty()) {
    if (w.parts == 0) throw CallError{"--measured: is written for grids; name --parts"};
    refuse_to_replace("--measured", o.measured, {o.file});
  }
  const auto image = parse_grey_png(read_input("", o.file, largest_picture_file));
  if (!image) throw CallError{fmt::format("{}: {}", shown_text(o.file), image.error())};
  Result<ScanReading> reading = Error{""};
  with_progress("Measuring", [&](Progress& p) { reading = read_scan(*image, w.sheet.outline(), w.lines, &p); });
  if (!reading) return refused(fmt::format("{}: {}.", shown_text(o.file), reading.error()), o.json);
  if (!o.measured.empty()) write_output("--measured", o.measured, measured_text(o, w, *reading));
  const auto doubtful = std::count_if(reading->lines.begin(), reading->lines.end(), [](auto& l) { return l.doubtful; });
  if (o.json) {
    Json lines = Json::array();
    for (const ReadLine& l : reading->lines) {
      Json line = {
          {"axis", l.line.axis}, {"line", l.line.line}, {"position_mm", l.position_mm}, {"sigma_mm", l.sigma_mm}};
      if (l.doubtful) line["doubtful"] = true;
      lines.push_back(line);
    }
    Json missing = Json::array();
    for (const ScanLine& l : reading->missing) missing.push_back({{"axis", l.axis}, {"line", l.line}});
    print_json({{"lines", lines},
                {"missing", missing},
                {"sheet_mm", {reading->sheet_mm.x(), reading->sheet_mm.y()}},
                {"marks_rms_mm", reading->marks_rms_mm},
                {"dpi", reading->dpi}});
    return done;
  }
  out() << fmt::format("{:.0f} dots an inch; the marks fit to {:.3f} mm; the sheet is {:.2f} x {:.2f} mm\n",
                       reading->dpi, reading->marks_rms_mm, reading->sheet_mm.x(), reading->sheet_mm.y());
  for (const ReadLine& l : reading->lines)
    out() << fmt::format("  {:>6} {:3}  {:8.2f} mm ± {:.3f}{}\n", l.line.axis, l.line.line, l.position_mm, l.sigma_mm,
                         l.doubtful ? "  doubtful: measure it by hand" : "");
  for (const ScanLine& l : reading->missing)
    out() << fmt::format("  {:>6} {:3}  is not seen near {:.1f} mm: measure it by hand\n", l.axis, l.line,
                         l.position_mm);
  out() << fmt::format("{} of {} creases measured{}\n", reading->lines.size(), w.lines.size(),
                       doubtful ? fmt::format(", {} of them doubtful", doubtful) : "");
  return done;
}

int run(const ScanOptions& o, const CLI::App& command) {
  const int ways = (o.file.empty() ? 0 : 1) + (o.marks ? 1 : 0) + (o.make.empty() ? 0 : 1);
  if (ways != 1) throw CallError{"FILE: name a scan to read, or --make one, or print its --marks; one of these"};
  refuse_misplaced(command, {"--dpi", "--sigma", "--skew", "--perspective", "--noise", "--light", "--seed", "--truth"},
                   !o.make.empty(), "belongs to --make");
  refuse_misplaced(command, {"--output"}, o.marks, "belongs to --marks");
  refuse_misplaced(command, {"--measured"}, !o.file.empty(), "belongs to reading a scan");
  refuse_misplaced(command, {"--parts", "--pattern", "--axis"}, !o.marks, "a print-out is the same for any creases");
  if (o.marks) return print_marks(o);
  return o.make.empty() ? read(o) : make(o);
}

} // namespace

void add_scan(CLI::App& app, Action& action) {
  auto o = std::make_shared<ScanOptions>();
  auto* c = app.add_subcommand("scan", "Measure the creases of a sheet in a scan or photo of it");
  c->add_option("FILE", o->file, "A scan or photo of the sheet on its print-out, .png");
  c->add_option("--sheet", o->sheet, "The sheet: square:150mm, 210x297mm, a4, ngon:6:100mm");
  c->add_option("--parts", o->parts, "It is divided into so many parts");
  c->add_option("--axis", o->axis, "x (upright lines), y or both")->capture_default_str();
  c->add_option("--pattern", o->pattern, "It carries this pattern's creases (.json, .svg or .dxf)");
  c->add_option("--measured", o->measured, "Write what was measured to this file, for judge and hand");
  c->add_flag("--marks", o->marks, "Print the page that the sheet is laid on: -o FILE.pdf");
  c->add_option("-o,--output", o->output, "FILE.pdf for --marks");
  c->add_option("--make", o->make, "Draw such a scan, FILE.png, of a sheet folded by a hand that errs");
  c->add_option("--truth", o->truth, "With --make: where the creases truly lie, FILE.json");
  c->add_option("--dpi", o->dpi, "With --make: dots an inch")->capture_default_str();
  c->add_option("--sigma", o->sigma, "With --make: error of the hand, mm")->capture_default_str();
  c->add_option("--skew", o->skew, "With --make: turned by degrees")->capture_default_str();
  c->add_option("--perspective", o->perspective, "With --make: the far side is shorter by percent")
      ->capture_default_str();
  c->add_option("--noise", o->noise, "With --make: noise of a pixel, percent of white")->capture_default_str();
  c->add_option("--light", o->light, "With --make: the light falls off by percent")->capture_default_str();
  c->add_option("--seed", o->seed, "With --make: another number, another sheet")->capture_default_str();
  c->add_flag("--json", o->json, "One JSON document");
  c->footer("Example: under-crease-cli scan --marks --sheet square:150mm -o page.pdf\n"
            "         under-crease-cli scan scanned.png --sheet square:150mm --parts 8 --axis both");
  c->callback([&action, o, c] { action = [o, c] { return run(*o, *c); }; });
}

} // namespace uc::cli
