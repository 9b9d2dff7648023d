#include "unit/cutting.h"

#include "base/index.h"
#include "base/quantity.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numeric>

namespace uc {
namespace {

constexpr double tolerance = 1e-9;

int fits(double room, double size) { return std::max(0, static_cast<int>(std::floor(room / size + 1e-9))); }

std::vector<std::vector<UnitId>> by_colour(const UnitGraph& graph, const std::vector<int>& colour) {
  std::vector<std::vector<UnitId>> out;
  for (UnitId u(0); at(u) < graph.units.size(); ++u) {
    if (at(colour[at(u)]) >= out.size()) out.resize(at(colour[at(u)]) + 1);
    out[at(colour[at(u)])].push_back(u);
  }
  return out;
}

int rounded_up(std::size_t count, int each) { return (static_cast<int>(count) + each - 1) / each; }

/// Fewer strips of this length cannot hold pieces of these lengths, longest first: those longer than half a strip have
/// one each, and what is left of these holds only so much of those that are not short (L2 of Martello and Toth 1990).
int strips_bound(const std::vector<double>& lengths, double strip) {
  int best = 0;
  for (const double small : lengths) {
    if (small > strip / 2 + tolerance) continue;
    int alone = 0;   // beside which no piece of at least `small` fits
    int beside = 0;  // longer than half
    double room = 0; // beside those
    double middling = 0;
    for (const double l : lengths) {
      if (l > strip - small + tolerance)
        ++alone;
      else if (l > strip / 2 + tolerance)
        ++beside, room += strip - l;
      else if (l >= small - tolerance)
        middling += l;
    }
    const double more = std::max(0.0, std::ceil((middling - room) / strip - tolerance));
    best = std::max(best, alone + beside + static_cast<int>(more));
  }
  const auto halves =
      std::count_if(lengths.begin(), lengths.end(), [&](double l) { return l > strip / 2 + tolerance; });
  return std::max(best, static_cast<int>(halves));
}

/// Of the lines of a full sheet those that part one of its pieces from something, cross cuts no longer than they must.
std::vector<Segment> needed(const std::vector<Segment>& lines, const std::vector<UnitCut>& pieces, int sheet) {
  std::vector<Segment> out;
  for (const Segment& line : lines) {
    const int along = std::abs(line.to.x() - line.from.x()) > tolerance ? 0 : 1;
    const int across = 1 - along;
    const double low = std::min(line.from[along], line.to[along]);
    const double high = std::max(line.from[along], line.to[along]);
    double first = high;
    double last = low;
    for (const UnitCut& c : pieces) {
      if (c.sheet != sheet) continue;
      const Point far = c.at_mm + c.size_mm;
      const bool beside =
          std::abs(c.at_mm[across] - line.from[across]) < 1e-6 || std::abs(far[across] - line.from[across]) < 1e-6;
      if (!beside || far[along] <= low + tolerance || c.at_mm[along] >= high - tolerance) continue;
      first = std::min(first, std::max(low, c.at_mm[along]));
      last = std::max(last, std::min(high, far[along]));
    }
    if (last <= first) continue;
    Segment cut = line;
    if (along == 1) { // rows are cut off whole
      cut.from[along] = first;
      cut.to[along] = last;
    }
    out.push_back(cut);
  }
  return out;
}

/// A sheet that holds more pieces than anybody cuts is not laid out whole.
constexpr double most_laid_out = 20'000;

/// The corner of a very large sheet that holds so many pieces in plain rows; else the whole sheet.
Point region_for(std::size_t most, const Point& piece, const Point& sheet, double margin) {
  const Point room = sheet - Point(2 * margin, 2 * margin);
  const int across = fits(room.x(), piece.x());
  const int up = fits(room.y(), piece.y());
  if (static_cast<double>(across) * up <= most_laid_out) return sheet;
  const int wanted = static_cast<int>(most);
  const int columns = std::min(across, wanted);
  const int rows = (wanted + columns - 1) / columns;
  if (rows > up) return sheet;
  return {std::min(sheet.x(), 2 * margin + columns * piece.x() * (1 + tolerance)),
          std::min(sheet.y(), 2 * margin + rows * piece.y() * (1 + tolerance))};
}

} // namespace

Result<CutList> cut_from_sheets(const UnitGraph& graph, const std::vector<int>& colour, const Point& sheet,
                                double margin, bool may_turn) {
  CutList out;
  out.sheet_mm = sheet;
  if (graph.units.empty()) return out;
  const Point piece{graph.units[0].width_mm, graph.units[0].height_mm};
  std::size_t most = 0;
  for (const auto& units : by_colour(graph, colour)) most = std::max(most, units.size());
  const Point region = region_for(most, piece, sheet, margin);
  PieceLayout layout = best_layout(piece, region, margin, may_turn);
  // It is cut off the rest of the sheet first.
  if (region.y() < sheet.y()) layout.lines.push_back({{0, region.y()}, {sheet.x(), region.y()}});
  if (region.x() < sheet.x()) layout.lines.push_back({{region.x(), 0}, {region.x(), region.y()}});
  const int per_sheet = static_cast<int>(layout.at_mm.size());
  if (per_sheet == 0)
    return Error{fmt::format("a piece of {} x {} mm does not fit on a sheet of {} x {} mm; take larger sheets, or "
                             "smaller units",
                             format_number(piece.x(), 1), format_number(piece.y(), 1), format_number(sheet.x(), 1),
                             format_number(sheet.y(), 1))};
  for (const auto& units : by_colour(graph, colour)) {
    out.bound += rounded_up(units.size(), most_on_sheet(piece, region, margin, may_turn));
    for (std::size_t i = 0; i < units.size(); ++i) {
      const std::size_t place = i % at(per_sheet);
      if (place == 0) {
        ++out.sheets;
        out.colours.push_back(colour[at(units[i])]);
      }
      const Point size = layout.turned[place] ? Point{piece.y(), piece.x()} : piece;
      out.pieces.push_back({out.sheets - 1, units[i], layout.at_mm[place], size});
    }
  }
  for (int s = 0; s < out.sheets; ++s) {
    out.lines.push_back(needed(layout.lines, out.pieces, s));
    out.cuts += static_cast<int>(out.lines.back().size());
  }
  return out;
}

Result<CutList> cut_from_strips(const UnitGraph& graph, const std::vector<int>& colour, const Point& sheet,
                                double margin) {
  CutList out;
  out.sheet_mm = {std::max(sheet.x(), sheet.y()), std::min(sheet.x(), sheet.y())}; // strips run along the longer side
  if (graph.units.empty()) return out;
  const double width = graph.units[0].height_mm;
  const double length = out.sheet_mm.x() - 2 * margin;
  const int per_sheet = fits(out.sheet_mm.y() - 2 * margin, width);
  const auto piece = [&](UnitId u) { return graph.units[at(u)].width_mm; };
  if (per_sheet == 0)
    return Error{fmt::format("strips of {} mm are wider than the sheet, {} mm; take larger sheets",
                             format_number(width, 2), format_number(out.sheet_mm.y(), 2))};
  for (auto units : by_colour(graph, colour)) {
    if (units.empty()) continue;
    std::stable_sort(units.begin(), units.end(), [&](UnitId a, UnitId b) { return piece(a) > piece(b); });
    if (piece(units[0]) > length + tolerance)
      return Error{fmt::format("the longest piece is {} mm and the strip {} mm; take longer strips, or narrower ones",
                               format_number(piece(units[0]), 2), format_number(length, 2))};
    std::vector<double> used;
    const int first = out.sheets;
    for (const UnitId u : units) {
      std::size_t best = used.size();
      for (std::size_t s = 0; s < used.size(); ++s)
        if (used[s] + piece(u) <= length + tolerance && (best == used.size() || used[s] > used[best])) best = s;
      if (best == used.size()) used.push_back(0);
      const int on = first + static_cast<int>(best) / per_sheet;
      const double low = margin + static_cast<double>(static_cast<int>(best) % per_sheet) * width;
      out.pieces.push_back({on, u, {margin + used[best], low}, {piece(u), width}});
      used[best] += piece(u);
    }
    out.sheets += (static_cast<int>(used.size()) + per_sheet - 1) / per_sheet;
    std::vector<double> lengths;
    lengths.reserve(units.size());
    for (const UnitId u : units) lengths.push_back(piece(u));
    out.bound += rounded_up(at(strips_bound(lengths, length)), per_sheet);
    out.colours.resize(at(out.sheets), colour[at(units[0])]);
    out.lines.resize(at(out.sheets));
    for (std::size_t s = 0; s < used.size(); ++s) { // strips off the sheet first
      const double top = margin + static_cast<double>(static_cast<int>(s) % per_sheet + 1) * width;
      if (top < out.sheet_mm.y() - tolerance)
        out.lines[at(first + static_cast<int>(s) / per_sheet)].push_back({{0, top}, {out.sheet_mm.x(), top}});
    }
  }
  std::stable_sort(out.pieces.begin(), out.pieces.end(),
                   [](const UnitCut& a, const UnitCut& b) { return a.sheet < b.sheet; });
  for (const UnitCut& c : out.pieces) { // what ends with the strip needs no cut
    const double right = c.at_mm.x() + c.size_mm.x();
    if (right < out.sheet_mm.x() - tolerance)
      out.lines[at(c.sheet)].push_back({{right, c.at_mm.y()}, {right, c.at_mm.y() + width}});
  }
  for (const auto& lines : out.lines) out.cuts += static_cast<int>(lines.size());
  return out;
}

} // namespace uc
