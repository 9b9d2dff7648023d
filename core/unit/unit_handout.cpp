#include "unit/unit_handout.h"

#include "base/index.h"
#include "fold/step_figure.h"
#include "fold/step_text.h"
#include "programme/unit_figure.h"
#include "unit/tried_joint.h"
#include "unit/unit_steps.h"

#include <algorithm>
#include <cmath>
#include <string_view>

namespace uc {
namespace {

Polygon rectangle(const Point& at, const Point& size) {
  return {at, {at.x() + size.x(), at.y()}, at + size, {at.x(), at.y() + size.y()}};
}

std::string size_text(const Point& size, const TextStyle& style) {
  return say(style, "{width} x {height}",
             {{"width", format_length(Millimetres{size.x()}, style.unit)},
              {"height", format_length(Millimetres{size.y()}, style.unit)}});
}

Point middle_of(const Polygon& polygon) {
  Point out = Point::Zero();
  for (const Point& p : polygon) out += p / static_cast<double>(polygon.size());
  return out;
}

/// The folded unit with its own tab, the mouth of its pocket, and where the next unit's tab comes to lie.
UnitDrawing joint_drawing(const FoldSequence& unit, const TriedJoint& joint, const TextStyle& style) {
  UnitDrawing out;
  Figure& figure = out.figure;
  figure = state_figure(unit, unit.states.size() - 1);
  const auto seen = [&](const Polygon& polygon) {
    Polygon lies;
    for (const Point& p : polygon) lies.push_back(figure.view * p);
    return lies;
  };
  figure.flap = seen(joint.lies_on);
  for (const Segment& s : joint.mouth) figure.lines.push_back({figure.view * s, LineStyle::target});
  const Polygon tab = seen(joint.own_tab);
  for (std::size_t i = 0; i < tab.size(); ++i)
    figure.lines.push_back({{tab[i], tab[(i + 1) % tab.size()]}, LineStyle::moving});
  const Point mouth = (figure.flap[0] + figure.flap[1]) / 2; // the edge it enters by
  const Point inside = middle_of(figure.flap);
  const Point outside = mouth + 0.9 * (mouth - inside);
  const Point across{(inside - outside).y(), -(inside - outside).x()};
  figure.arrows.push_back({outside, (inside + outside) / 2 + 0.2 * across, inside, ArrowWay::over});
  figure.labels.push_back({inside, say(style, "pocket"), true});
  figure.labels.push_back({middle_of(tab), say(style, "tab"), true});
  out.text = say(style,
                 "A joint: the tab of the next unit goes in at the heavy line, {depth} deep, until it lies where the "
                 "dotted outline is.",
                 {{"depth", format_length(Millimetres{joint.depth_mm}, style.unit)}});
  out.check = say(style, "{share} % of the tab then lies between paper, and friction holds it.",
                  {{"share", format_number(100 * joint.held_mm2 / joint.tab_mm2, 0)}});
  return out;
}

/// " a is amber, b is river.": for prints without colour.
std::string letters_text(const std::vector<UnitMap::Colour>& palette, const TextStyle& style) {
  if (palette.size() < 2) return {};
  std::string list;
  for (std::size_t c = 0; c < palette.size(); ++c)
    list +=
        (list.empty() ? "" : ", ") + say(style, "{letter} is {colour}",
                                         {{"letter", colour_letter(static_cast<int>(c))}, {"colour", palette[c].name}});
  return " " + list + ".";
}

} // namespace

Figure cut_figure(const UnitPlan& plan, const std::vector<UnitMap::Colour>& palette) {
  Figure figure;
  figure.to_scale = false;
  const Point sheet = plan.cutting.sheet_mm;
  const double gap = 0.08 * std::max(sheet.x(), sheet.y());
  const Point step = sheet + Point{gap, gap};
  const int across =
      std::max(1, static_cast<int>(std::ceil(std::sqrt(1.6 * plan.cutting.sheets * step.y() / step.x()))));
  const auto corner = [&](int s) {
    const int row = s / across + 1;
    return Point{(s % across) * step.x(), -row * step.y()};
  };
  std::vector<Point> all;
  for (int s = 0; s < plan.cutting.sheets; ++s) {
    FigurePatch patch;
    patch.outline = rectangle(corner(s), sheet);
    patch.coloured = false;
    patch.sides.assign(4, LineStyle::raw_edge);
    all.insert(all.end(), patch.outline.begin(), patch.outline.end());
    figure.patches.push_back(std::move(patch));
    for (const Segment& line : plan.cutting.lines[at(s)])
      figure.lines.push_back({{line.from + corner(s), line.to + corner(s)}, LineStyle::cut});
  }
  const bool numbered = plan.cutting.pieces.size() <= 120;
  for (const UnitCut& c : plan.cutting.pieces) {
    FigurePatch patch;
    patch.outline = rectangle(corner(c.sheet) + c.at_mm, c.size_mm);
    patch.colour = palette[at(plan.colours.colour[at(c.unit)])].css;
    patch.sides.assign(4, LineStyle::unfolded);
    figure.patches.push_back(std::move(patch));
    if (numbered)
      figure.labels.push_back({corner(c.sheet) + c.at_mm + c.size_mm / 2, std::to_string(c.unit + 1), true, true});
  }
  if (all.empty()) all.emplace_back(0, 0);
  const Box box = bounding_box(all);
  figure.outline = rectangle(box.low, box.size());
  return figure;
}

std::optional<Figure> unit_template(const UnitPlan& plan) {
  if (!plan.family->cut_out) return std::nullopt;
  const UnitCutOut unit = plan.family->cut_out(plan.sheet);
  Figure figure;
  figure.outline = rectangle({0, 0}, unit_piece(plan));
  for (std::size_t i = 0; i < unit.outline.size(); ++i)
    figure.lines.push_back({{unit.outline[i], unit.outline[(i + 1) % unit.outline.size()]}, LineStyle::cut});
  for (const Segment& s : unit.creases) figure.lines.push_back({s, LineStyle::mountain});
  return figure;
}

std::string papers_text(const UnitPlan& plan, const std::vector<UnitMap::Colour>& palette, const TextStyle& style) {
  std::vector<int> count(palette.size(), 0);
  for (const int c : plan.cutting.colours) ++count[at(c)];
  if (palette.size() == 1) return say(style, "{count} sheets", {{"count", std::to_string(plan.cutting.sheets)}});
  std::string out;
  for (std::size_t c = 0; c < palette.size(); ++c)
    out += (out.empty() ? "" : ", ") +
           say(style, "{count} of {colour}", {{"count", std::to_string(count[c])}, {"colour", palette[c].name}});
  return out;
}

std::string pieces_text(const UnitPlan& plan, const TextStyle& style) {
  struct Kind {
    const char* what;
    Point size;
    int count;
  };
  std::vector<Kind> kinds;
  for (const Unit& u : plan.graph.units) {
    const char* what = u.kind == Unit::Kind::clip          ? "{count} of {size} for the clips"
                       : plan.family->strips               ? "{count} of {size} for the faces"
                       : plan.family->units_per_sheet == 2 ? "{count} of {size}, halves of a sheet"
                                                           : "{count} of {size}";
    const Point size{u.width_mm, u.height_mm};
    const auto same = std::find_if(kinds.begin(), kinds.end(), [&](const Kind& k) {
      return std::string_view(k.what) == what && (k.size - size).norm() < 1e-6;
    });
    if (same == kinds.end())
      kinds.push_back({what, size, 1});
    else
      ++same->count;
  }
  std::string list;
  for (const Kind& k : kinds)
    list += (list.empty() ? "" : ", ") +
            say(style, k.what, {{"count", std::to_string(k.count)}, {"size", size_text(k.size, style)}});
  return say(style, "There are {count} pieces: {list}.",
             {{"count", std::to_string(plan.graph.units.size())}, {"list", list}});
}

std::vector<UnitDrawing> unit_preparation(const UnitPlan& plan, const Programme& programme, const TextStyle& style) {
  std::vector<UnitDrawing> out;
  const auto& palette = programme.units->colours;
  std::string papers =
      say(style, "Take sheets of {size}: {papers}.",
          {{"size", size_text(plan.cutting.sheet_mm, style)}, {"papers", papers_text(plan, palette, style)}});
  if (plan.cutting.cuts > 0) papers += " " + say(style, "Cut them as drawn, along rows first.");
  out.push_back({cut_figure(plan, palette), papers, pieces_text(plan, style),
                 plan.cutting.cuts > 0 ? caution_text(Caution::blade, style) : ""});
  UnitDrawing unit;
  unit.figure.outline = rectangle({0, 0}, unit_piece(plan));
  if (const auto cut = unit_template(plan)) unit.figure = *cut;
  unit.text = say(style, "Fold each unit alike.");
  for (const std::string& sentence : plan.family->how) unit.text += " " + style.translate(sentence.c_str());
  for (const std::string& ridge : ridge_texts(plan.ridges, style)) unit.text += " " + ridge;
  unit.check = plan.family->handed ? say(style, "All units have the same hand; a mirror image does not join.")
                                   : say(style, "All units are alike.");
  for (const std::string& warning : plan.warnings) unit.check += " " + style.translate(warning.c_str());
  if (plan.family->cut_out) unit.caution = caution_text(Caution::blade, style);
  if (plan.hold == Hold::glue) unit.caution += (unit.caution.empty() ? "" : " ") + caution_text(Caution::glue, style);
  out.push_back(std::move(unit));
  if (const auto folded = folded_unit(*plan.family, unit_piece(plan)))
    for (std::size_t i = 1; i < folded->made.states.size(); ++i)
      out.push_back({step_figure(folded->made, i), state_text(folded->made, i, style), "", ""});
  if (const auto joints = tried_joints(*plan.family, unit_piece(plan)); joints && plan.hold == Hold::pocket)
    if (const auto folded = folded_unit(*plan.family, unit_piece(plan)); folded && !joints->empty())
      out.push_back(joint_drawing(folded->made, joints->front(), style));
  out.push_back({move_figure(programme, static_cast<int>(programme.moves.size())),
                 say(style, "The colours, with the number of each unit.") + letters_text(palette, style), "", ""});
  return out;
}

} // namespace uc
