// Files for scoring plotters: written for a plan, and read back, from whatever program they come, by a stand-in for the
// machine that follows them and tells what it would score. Two languages: HPGL (PU PD PA PR AA AR CI SP IN DF VS FS NR,
// 40 units a mm) and G-code (ISO 6983: G0 to G3, G20, G21, G90, G91, M0 to M5, M30; the tool is down at Z <= 0).
#pragma once

#include "device/scoring.h"

#include <string>
#include <vector>

namespace uc {

/// The bytes of FILE.hpgl or .gcode. The second side follows after a stop (NR, M0) at which the sheet is turned over
/// left to right.
Result<std::string> plotter_bytes(const ScorePlan& plan, const ScoreSettings& settings, const std::string& file_name,
                                  const std::string& title);

/// What a file makes the machine do.
struct PlotterTrace {
  struct Stroke {
    Segment at; // as the machine sees it, mm
    ScoredSide side = ScoredSide::face;
    int line = 0; // of the file
  };
  std::vector<Stroke> strokes;
  std::vector<Segment> lifted; // as the machine sees them
  double travel_mm = 0;
  double scored_mm = 0;
  double minutes = 0;
  std::vector<std::string> unknown; // commands that were passed over: "line 7: XX"
};

constexpr std::size_t largest_plotter_file = std::size_t{64} << 20;
constexpr std::size_t most_traced_strokes = 2'000'000;
constexpr std::size_t most_unknown = 20;

/// Reads by the ending of the name. Stops turn the sheet over. Errors begin with "line N: ".
Result<PlotterTrace> parse_plotter(const std::string& text, const std::string& file_name);

/// Strokes that leave a sheet whose box is at the origin.
std::vector<PlotterTrace::Stroke> leaving(const PlotterTrace& trace, const Polygon& sheet);
/// The sheet as an SVG, face up: what is scored from the face as valleys, from the underside as mountains, what leaves
/// the sheet in the colour of faults, the lifted tool's way dotted.
std::string trace_svg(const PlotterTrace& trace, const Polygon& sheet, const std::string& title);

} // namespace uc
