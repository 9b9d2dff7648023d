#include "io/handout.h"

#include "io/figure_drawing.h"
#include "io/svg.h"
#include "io/svg_writer.h"
#include "programme/line_look.h"
#include "programme/naming.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace uc {
namespace {

constexpr const char* ink = paper_ink;
/// A small cross that continues over the seam of two tiles.
void registration(Page& page, const Point& at) {
  page.line(at - Point{4, 0}, at + Point{4, 0}, ink, 0.15);
  page.line(at - Point{0, 4}, at + Point{0, 4}, ink, 0.15);
  PagePath ring;
  for (int i = 0; i < 24; ++i) {
    const double a = i * 2 * std::numbers::pi / 24;
    ring.points.push_back(at + 2 * Point{std::cos(a), std::sin(a)});
  }
  ring.closed = true;
  ring.stroke = ink;
  ring.width_mm = 0.15;
  page.items.emplace_back(std::move(ring));
}

void check_bar(Page& page, const Point& at) {
  page.line(at, at + Point{100, 0}, ink, 0.4);
  for (int i = 0; i <= 10; ++i) {
    page.line(at + Point{i * 10.0, 0}, at + Point{i * 10.0, i % 5 == 0 ? -3.0 : -1.8}, ink, 0.25);
  }
}

} // namespace

void page_head(Page& page, const PrintOptions& o, const std::string& title, const std::string& right) {
  page.text({o.margin_mm, o.margin_mm + 4}, title, 4.2, true);
  page.text({page.width_mm - o.margin_mm, o.margin_mm + 4}, right, 3.0, false, Align::right);
}

namespace {

/// How a template is cut into tiles.
struct Tiling {
  static constexpr double overlap = 10;
  static constexpr double header = 9;
  static constexpr double footer = 12;
  double width = 0;
  double height = 0;
  int columns = 1;
  int rows = 1;
};

Tiling tiling_of(const Figure& figure, const PrintOptions& o) {
  Tiling t;
  t.width = o.paper.width_mm - 2 * o.margin_mm;
  t.height = o.paper.height_mm - 2 * o.margin_mm - Tiling::header - Tiling::footer;
  const auto tiles = [](double length, double tile) {
    return length <= tile ? 1
                          : static_cast<int>(std::ceil((length - Tiling::overlap) / (tile - Tiling::overlap) - 1e-9));
  };
  const Point size = figure.bounds().size();
  t.columns = tiles(size.x(), t.width);
  t.rows = tiles(size.y(), t.height);
  return t;
}

} // namespace

std::size_t template_page_count(const Figure& figure, const PrintOptions& options) {
  const Tiling t = tiling_of(figure, options);
  return static_cast<std::size_t>(t.columns) * static_cast<std::size_t>(t.rows);
}

std::vector<Page> template_pages(const Programme& programme, const std::string& title, const PrintOptions& o) {
  return template_pages(crease_figure(programme), title, o);
}

std::vector<Page> template_pages(const Figure& figure, const std::string& title, const PrintOptions& o) {
  const Box box = figure.bounds();
  constexpr double overlap = Tiling::overlap;
  constexpr double header = Tiling::header;
  const auto [tile_w, tile_h, columns, rows] = tiling_of(figure, o);
  const auto say = [&](const char* phrase) { return o.text.translate(phrase); };

  std::vector<Page> pages;
  for (int row = 0; row < rows; ++row) {
    for (int column = 0; column < columns; ++column) {
      Page page;
      page.width_mm = o.paper.width_mm;
      page.height_mm = o.paper.height_mm;
      page_head(page, o, title,
                fmt::format("{}{} / {}{}", static_cast<char>('A' + row % 26), column + 1,
                            static_cast<char>('A' + (rows - 1) % 26), columns));
      const Point corner{o.margin_mm, o.margin_mm + header};
      const double x0 = box.low.x() + column * (tile_w - overlap);
      const double y0 = box.high.y() - row * (tile_h - overlap);
      const auto place = [&](const Point& p) { return Point{corner.x() + p.x() - x0, corner.y() + y0 - p.y()}; };
      const Box window{corner, corner + Point{tile_w, tile_h}};
      const Polygon frame = {
          window.low, {window.high.x(), window.low.y()}, window.high, {window.low.x(), window.high.y()}};
      const auto add = [&](const Segment& s, LineStyle style) {
        const Segment on_page{place(s.from), place(s.to)};
        if (on_page.length() < 1e-9) return;
        for (const Segment& inside : clip(Line::through(on_page.from, on_page.to), frame)) {
          // The line's part in the window, cut down to the segment itself.
          const Point d = (on_page.to - on_page.from).normalized();
          const double end = on_page.length();
          double a = d.dot(inside.from - on_page.from);
          double b = d.dot(inside.to - on_page.from);
          if (a > b) std::swap(a, b);
          a = std::max(a, 0.0);
          b = std::min(b, end);
          if (b - a < 1e-6) continue;
          draw_line(page, {on_page.from + d * a, on_page.from + d * b}, style);
        }
      };
      for (const FigureLine& l : figure.lines) add(l.segment, l.style);
      for (std::size_t i = 0; i < figure.outline.size(); ++i) {
        add({figure.outline[i], figure.outline[(i + 1) % figure.outline.size()]}, LineStyle::raw_edge);
      }
      // Crosses in the middle of the overlap, at the same place of the sheet on both tiles.
      const auto seam = [&](double x, double y) {
        const Point at = place({x, y});
        if ((at.array() >= window.low.array() - 1e-9).all() && (at.array() <= window.high.array() + 1e-9).all()) {
          registration(page, at);
        }
      };
      for (int c = 1; c < columns; ++c) {
        const double x = box.low.x() + c * (tile_w - overlap) + overlap / 2;
        for (int r = 0; r < rows; ++r) {
          const double top = box.high.y() - r * (tile_h - overlap);
          seam(x, top - 0.25 * tile_h);
          seam(x, top - 0.75 * tile_h);
        }
      }
      for (int r = 1; r < rows; ++r) {
        const double y = box.high.y() - r * (tile_h - overlap) - overlap / 2;
        for (int c = 0; c < columns; ++c) {
          const double left = box.low.x() + c * (tile_w - overlap);
          seam(left + 0.25 * tile_w, y);
          seam(left + 0.75 * tile_w, y);
        }
      }
      const double bar_y = o.paper.height_mm - o.margin_mm - 4;
      check_bar(page, {o.margin_mm, bar_y});
      page.text({o.margin_mm + 103, bar_y},
                say("This bar must measure 100 mm: print at 100 %, without fitting to the page."), 2.5);
      pages.push_back(std::move(page));
    }
  }
  return pages;
}

namespace {

/// "Sheet 240 mm x 240 mm, face up. Moves: 36, about 25 minutes. You need: a ruler."
std::string facts_of(const Programme& programme, const TextStyle& style) {
  const Point size = bounding_box(programme.sheet).size();
  const auto length = [&](double mm) { return format_length(Millimetres{mm}, style.unit); };
  std::string out = say(style, "Sheet {width} x {height}, face up. Moves: {moves}, about {minutes} minutes.",
                        {{"width", length(size.x())},
                         {"height", length(size.y())},
                         {"moves", std::to_string(programme.moves.size())},
                         {"minutes", format_number(std::max(1.0, std::round(programme.planned_seconds() / 60)), 0)}});
  const auto any = [&](auto... ways) { return ((programme.count(ways) > 0) || ...); };
  std::string tools;
  const auto need = [&](bool needed, const char* what) {
    if (needed) tools += (tools.empty() ? "" : ", ") + say(style, what);
  };
  const bool cuts = programme.count<Cut>() > 0;
  need(any(CreaseWay::mark, CreaseWay::score) || cuts, "a ruler");
  need(any(CreaseWay::mark), "a fine pencil");
  need(any(CreaseWay::score), "a blunt point");
  need(cuts, "a sharp blade and a mat");
  need(any(WorkWay::clip), "clips");
  need(any(WorkWay::damp), "a mister");
  const bool glued = std::any_of(programme.moves.begin(), programme.moves.end(),
                                 [](const Move& m) { return m.caution == Caution::glue; });
  need(glued || any(WorkWay::glue), "glue");
  return tools.empty() ? out : out + " " + say(style, "You need: {tools}.", {{"tools", tools}});
}

std::vector<std::pair<LineStyle, std::string>> legend_of(const Programme& programme, const TextStyle& style) {
  std::vector<std::pair<LineStyle, std::string>> out;
  const auto add = [&](bool there, LineStyle line, const char* meaning) {
    if (there) out.emplace_back(line, say(style, meaning));
  };
  const auto creased = [&](const auto& wanted) {
    return std::any_of(programme.moves.begin(), programme.moves.end(),
                       [&](const Move& m) { return m.creases().makes && wanted(m.creases()); });
  };
  add(creased([](const MakeCreases&) { return true; }), LineStyle::fresh, "crease it now");
  const bool aligned = std::any_of(programme.moves.begin(), programme.moves.end(),
                                   [](const Move& m) { return m.is<MakeCreases>() && !m.aligned.moving.empty(); });
  add(aligned, LineStyle::moving, "what you bring");
  add(aligned, LineStyle::target, "where it goes");
  add(creased([](const MakeCreases& c) { return c.fold == Fold::valley; }), LineStyle::valley, "valley");
  add(creased([](const MakeCreases& c) { return c.fold == Fold::mountain; }) ||
          programme.count(HandleWay::turn_over) > 0,
      LineStyle::mountain, "mountain");
  add(creased([](const MakeCreases& c) { return c.extent == Extent::pinch; }), LineStyle::pinch, "pinch");
  add(programme.count<Cut>() > 0, LineStyle::cut, "cut");
  return out;
}

} // namespace

HandoutMoves handout_moves(const Programme& programme, const TextStyle& style) {
  TextStyle telling = style;
  telling.names_told_apart = true;
  const auto teller = std::make_shared<const ProgrammeTeller>(programme, telling);
  return {programme.moves.size(),
          [&programme, teller, style](std::size_t i) {
            const Caution caution = programme.moves[i].caution;
            return HandoutMove{move_figure(programme, static_cast<int>(i)), teller->text(i), teller->check(i),
                               caution == Caution::none ? std::string() : caution_text(caution, style)};
          },
          facts_of(programme, style), legend_of(programme, style)};
}

std::vector<Page> handout_pages(const Programme& programme, const std::string& title, const std::string& subtitle,
                                const PrintOptions& o) {
  return handout_pages(handout_moves(programme, o.text), title, subtitle, o);
}

std::string handout_html(const Programme& programme, const std::string& title, const std::string& subtitle,
                         const TextStyle& style) {
  return handout_html(handout_moves(programme, style), title, subtitle);
}

namespace {

/// Names stand out, as they do in the drawing.
std::string sentence_html(const std::string& sentence) {
  std::string html;
  for (const TextPart& part : text_parts(sentence))
    html += part.name ? "<span class=\"name\">" + xml_escaped(part.text) + "</span>" : xml_escaped(part.text);
  return html;
}

} // namespace

std::string handout_html(const HandoutMoves& moves, const std::string& title, const std::string& subtitle) {
  std::string html = fmt::format(
      "<!doctype html>\n<html lang=\"en\"><head><meta charset=\"utf-8\"><title>{0}</title>\n"
      "<style>body{{font:16px/1.5 Inter,sans-serif;color:#26241F;background:#FBF8F1;max-width:60rem;margin:2rem auto;"
      "padding:0 1rem}}ol{{list-style:none;padding:0}}li{{display:flex;gap:1.5rem;border-top:1px solid #CFC8B8;"
      "padding:1rem "
      "0;break-inside:avoid}}svg{{width:14rem;height:auto;flex:none;overflow:visible}}h2{{margin:0}}.check{{color:#"
      "5d594f}}"
      ".caution{{color:#B3261E}}.name{{font-weight:600}}</style></head>\n<body><h1>{0}</h1><p>{1}</p><p>{2}</p><ol>\n",
      xml_escaped(title), xml_escaped(subtitle), xml_escaped(moves.facts));
  for (std::size_t i = 0; i < moves.count; ++i) {
    const HandoutMove move = moves.move(i);
    Page drawing;
    drawing.width_mm = 70;
    drawing.height_mm = 60;
    draw_figure(drawing, move.figure, {{5, 5}, {60, 50}});
    html += fmt::format("<li class=\"move\">{}<div><h2>{}</h2><p class=\"sentence\">{}</p>", page_svg(drawing), i + 1,
                        sentence_html(move.text));
    if (!move.check.empty()) html += fmt::format("<p class=\"check\">{}</p>", xml_escaped(plain_text(move.check)));
    if (!move.caution.empty()) html += fmt::format("<p class=\"caution\">⚠ {}</p>", xml_escaped(move.caution));
    html += "</div></li>\n";
  }
  return html + "</ol></body></html>\n";
}

} // namespace uc
