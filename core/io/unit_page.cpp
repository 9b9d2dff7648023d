#include "io/unit_page.h"

#include "io/steps_pages.h"
#include "io/text_measure.h"
#include "unit/unit_steps.h"

namespace uc {

Page unit_page(const UnitPlan& plan, const TextStyle& style, const PageFonts& fonts) {
  constexpr std::size_t columns = 4;
  constexpr double words_mm = 5; // to be read on a screen
  if (const auto folded = folded_unit(*plan.family, unit_piece(plan)))
    return steps_page(folded->made, style, fonts, columns, words_mm);
  constexpr double margin = 10;
  constexpr double width = 160;
  const TextMeasure measure(fonts);
  Page page;
  page.width_mm = width + 2 * margin;
  page.text({margin, margin + 5}, style.translate(plan.family->title.c_str()), 5, true);
  double y = margin + 18;
  int number = 0;
  for (const std::string& sentence : plan.family->how) {
    page.text({margin, y}, std::to_string(++number), 4.5, true);
    for (const std::string& line : measure.wrapped(style.translate(sentence.c_str()), width - 10, 4.5)) {
      page.text({margin + 10, y}, line, 4.5);
      y += 6.5;
    }
    y += 3;
  }
  page.height_mm = y + margin;
  return page;
}

} // namespace uc
