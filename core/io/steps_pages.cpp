#include "io/steps_pages.h"

#include "fold/step_figure.h"
#include "fold/step_text.h"
#include "fold/steps_format.h"
#include "io/figure_drawing.h"
#include "io/formats.h"
#include "io/steps_json.h"
#include "io/svg.h"
#include "programme/naming.h"

#include <fmt/format.h>

#include <algorithm>

namespace uc {
namespace {

std::string title_of(const FoldSequence& sequence) {
  return sequence.file.title.empty() ? std::string("Steps") : sequence.file.title;
}

} // namespace

HandoutMoves step_moves(const FoldSequence& sequence, const TextStyle& usual) {
  TextStyle style = usual;
  style.names_told_apart = true;
  const Point size = bounding_box(sequence.file.sheet.outline()).size();
  std::string facts = say(style, "Sheet {width} x {height}. Moves: {moves}.",
                          {{"width", format_length(Millimetres{size.x()}, style.unit)},
                           {"height", format_length(Millimetres{size.y()}, style.unit)},
                           {"moves", std::to_string(sequence.states.size() - 1)}});
  return {sequence.states.size(),
          [&sequence, style](std::size_t i) {
            if (i + 1 == sequence.states.size()) {
              const Point size = folded_size(sequence.states.back().form->form);
              return HandoutMove{state_figure(sequence, i),
                                 say(style, "Finished: {width} × {height}.",
                                     {{"width", format_length(Millimetres{size.x()}, style.unit)},
                                      {"height", format_length(Millimetres{size.y()}, style.unit)}}),
                                 {},
                                 {}};
            }
            return HandoutMove{step_figure(sequence, i + 1),
                               state_text(sequence, i + 1, style),
                               {},
                               caution_text(state_caution(sequence, i + 1), style)};
          },
          std::move(facts),
          {{LineStyle::valley, say(style, "valley")},
           {LineStyle::mountain, say(style, "mountain")},
           {LineStyle::pinch, say(style, "pinch")}}};
}

Page steps_page(const FoldSequence& sequence, const TextStyle& style, const PageFonts& fonts, std::size_t columns,
                double words_mm) {
  const TextMeasure measure(fonts);
  constexpr double cell_w = 70;
  constexpr double figure_h = 52;
  constexpr double margin = 10;
  const HandoutMoves moves = step_moves(sequence, style);
  Page page;
  page.width_mm = 2 * margin + cell_w * static_cast<double>(std::min(columns, moves.count));
  page.text({margin, margin + 5}, title_of(sequence), 5, true);
  double top = margin + 10;
  double deepest = 0; // of the row
  for (std::size_t i = 0; i < moves.count; ++i) {
    const Point corner{margin + cell_w * static_cast<double>(i % columns), top};
    const HandoutMove move = moves.move(i);
    page.text(corner + Point{0, 5}, std::to_string(i + 1), 4.5, true);
    draw_figure(page, move.figure, {corner + Point{6, 6}, {cell_w - 12, figure_h}});
    double y = figure_h + 9 + words_mm;
    for (const std::string& line : measure.wrapped(
             plain_text(move.caution.empty() ? move.text : move.text + " " + move.caution), cell_w - 8, words_mm)) {
      page.text({corner.x(), top + y}, line, words_mm);
      y += 1.4 * words_mm;
    }
    deepest = std::max(deepest, y);
    if (i % columns + 1 < columns && i + 1 < moves.count) continue;
    top += deepest + 4;
    deepest = 0;
  }
  page.height_mm = top + margin;
  return page;
}

std::string steps_svg(const FoldSequence& sequence, const TextStyle& style, const PageFonts& fonts) {
  return page_svg(steps_page(sequence, style, fonts));
}

Result<std::string> steps_bytes(const FoldSequence& sequence, std::string_view source, const std::string& file_name,
                                double sigma_mm, const PageFonts& fonts, const PrintOptions& print) {
  const auto format = format_for(FileUse::write_steps, file_name);
  if (!format) return Error{format.error()};
  const std::string title = title_of(sequence);
  const std::string subtitle = sequence.file.sheet.code();
  const HandoutMoves moves = step_moves(sequence, print.text);
  PrintOptions printed = print;
  printed.fonts = fonts;
  return by_format<FileUse::write_steps, Result<std::string>>(
      *format, on<FileFormat::steps>([&] { return formatted_steps(source); }),
      on<FileFormat::json>([&] { return steps_json(sequence, sigma_mm).dump(1) + "\n"; }),
      on<FileFormat::svg>([&] { return steps_svg(sequence, print.text, fonts); }),
      on<FileFormat::html>([&] { return handout_html(moves, title, subtitle); }),
      on<FileFormat::pdf>([&] { return pdf_of(handout_pages(moves, title, subtitle, printed), title, fonts); }));
}

} // namespace uc
