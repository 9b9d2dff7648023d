// A hand-out on paper, to be read with the sheet between hand and page: six moves a page, each a drawing with its
// sentence below, or twelve small ones; above the first what is needed, and what the lines mean.
#include "io/figure_drawing.h"
#include "io/handout.h"
#include "programme/line_look.h"
#include "programme/naming.h"

#include <fmt/format.h>

#include <algorithm>

namespace uc {
namespace {

constexpr double point_mm = 25.4 / 72;
constexpr double title_mm = 14; // of a page, for its title
constexpr double line_step = 1.4;

struct Layout {
  int columns = 2;
  int rows = 3;
  double words_mm = 14 * point_mm;
  double check_mm = 11 * point_mm;
  double number_mm = 7;
  double pixel = 0.26;  // of drawings, in which names are 15 high
  double figure = 0.52; // of a cell's height
};

Layout layout_of(const PrintOptions& o) {
  Layout out;
  if (o.small) out = {3, 4, 2.9, 2.4, 4.5, 0.17, 0.56};
  // Paper of other sizes takes as many as fit as large.
  const double width = 95.0 * 2 / out.columns;
  const double height = 82.0 * 3 / out.rows;
  out.columns = std::max(1, static_cast<int>((o.paper.width_mm - 2 * o.margin_mm) / width + 1e-9));
  out.rows = std::max(1, static_cast<int>((o.paper.height_mm - 2 * o.margin_mm - title_mm) / height + 1e-9));
  return out;
}

/// What is needed, and the lines with what they mean; gives the height it took.
double draw_facts(Page& page, const HandoutMoves& moves, const PrintOptions& o, const TextMeasure& measure) {
  const double width = page.width_mm - 2 * o.margin_mm;
  const double top = o.margin_mm + title_mm;
  constexpr double size = 3.4;
  double y = top;
  for (const std::string& line : measure.wrapped(moves.facts, width, size)) {
    page.text({o.margin_mm, y}, line, size);
    y += size * line_step;
  }
  double x = o.margin_mm;
  for (const auto& [style, meaning] : moves.legend) {
    constexpr double sample = 12;
    const double all = sample + 2 + measure.width_mm(meaning, 3) + 6;
    if (x + all > page.width_mm - o.margin_mm && x > o.margin_mm) x = o.margin_mm, y += 5;
    draw_line(page, {{x, y - 1}, {x + sample, y - 1}}, style);
    page.text({x + sample + 2, y}, meaning, 3);
    x += all;
  }
  if (!moves.legend.empty()) y += 5;
  return y - top;
}

void draw_cell(Page& page, const HandoutMove& move, std::size_t number, const FigureRoom& cell, const Layout& layout,
               const TextMeasure& measure, const TextStyle& style) {
  const double figure_height = layout.figure * cell.size.y();
  const double beside = 1.6 * layout.number_mm; // the number stands there
  draw_figure(page, move.figure, {cell.at + Point{beside, 0}, {cell.size.x() - 2 * beside, figure_height}},
              FigureDetail::full, {}, layout.pixel);
  page.text({cell.at.x(), cell.at.y() + layout.number_mm}, std::to_string(number), layout.number_mm, true);
  std::vector<std::pair<std::string, double>> paragraphs{{plain_text(move.text), layout.words_mm},
                                                         {plain_text(move.check), layout.check_mm}};
  if (!move.caution.empty())
    paragraphs.emplace_back(say(style, "Caution: {what}", {{"what", move.caution}}), layout.check_mm);
  const double width = cell.size.x() - 6;
  const double room = cell.size.y() - figure_height - 6;
  // Long instructions are set smaller, so that they end before the next move.
  double scale = 1;
  const auto height = [&] {
    double sum = 0;
    for (const auto& [words, size] : paragraphs)
      sum += static_cast<double>(measure.wrapped(words, width, scale * size).size()) * scale * size * line_step;
    return sum;
  };
  while (height() > room && scale > 0.4) scale *= 0.95;
  double y = cell.at.y() + figure_height + 2 + scale * layout.words_mm;
  for (const auto& [words, size] : paragraphs) {
    for (const std::string& line : measure.wrapped(words, width, scale * size)) {
      page.text({cell.at.x(), y}, line, scale * size);
      y += scale * size * line_step;
    }
  }
}

} // namespace

std::size_t handout_page_count(std::size_t moves, const PrintOptions& options) {
  const Layout layout = layout_of(options);
  const auto per_page = static_cast<std::size_t>(layout.rows) * static_cast<std::size_t>(layout.columns);
  return std::max<std::size_t>(1, (moves + per_page - 1) / per_page);
}

std::vector<Page> handout_pages(const HandoutMoves& moves, const std::string& title, const std::string& subtitle,
                                const PrintOptions& o) {
  const Layout layout = layout_of(o);
  const std::size_t per_page = static_cast<std::size_t>(layout.rows) * static_cast<std::size_t>(layout.columns);
  const std::size_t count = handout_page_count(moves.count, o);
  const TextMeasure measure(o.fonts);
  std::vector<Page> pages;
  for (std::size_t n = 0; n < count; ++n) {
    Page page;
    page.width_mm = o.paper.width_mm;
    page.height_mm = o.paper.height_mm;
    page_head(page, o, title, fmt::format("{} / {}", n + 1, count));
    page.text({o.margin_mm, o.margin_mm + 9}, subtitle, 3.0);
    const double top = o.margin_mm + title_mm + (n == 0 ? draw_facts(page, moves, o, measure) : 0);
    const Point cell{(o.paper.width_mm - 2 * o.margin_mm) / layout.columns,
                     (o.paper.height_mm - o.margin_mm - top) / layout.rows};
    for (std::size_t i = n * per_page; i < std::min(moves.count, (n + 1) * per_page); ++i) {
      const auto slot = static_cast<int>(i - n * per_page);
      const int row = slot / layout.columns;
      const Point at{o.margin_mm + slot % layout.columns * cell.x(), top + row * cell.y()};
      draw_cell(page, moves.move(i), i + 1, {at, cell}, layout, measure, o.text);
    }
    pages.push_back(std::move(page));
  }
  return pages;
}

} // namespace uc
