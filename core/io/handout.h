// What leaves the program on paper: the grid as a true-scale template, tiled where it is larger than the page, and the
// programme as a hand-out with a drawing for every move.
#pragma once

#include "io/page.h"
#include "io/text_measure.h"
#include "programme/figure.h"
#include "programme/text.h"

namespace uc {

struct PrintOptions {
  PaperSize paper{"A4", 210, 297};
  double margin_mm = 10;
  TextStyle text;
  PageFonts fonts;    // that words are measured in
  bool small = false; // hand-outs: twelve moves a page in place of six
};

/// The title on top of a page, and what stands across from it.
void page_head(Page& page, const PrintOptions& options, const std::string& title, const std::string& right);

/// How many pages the template and the hand-out take, told without making them.
std::size_t template_page_count(const Figure& figure, const PrintOptions& options);
std::size_t handout_page_count(std::size_t moves, const PrintOptions& options);

/// Pages at true scale: overlapping tiles with registration marks, a 100 mm check bar on the first page that has room,
/// and a map of the tiles when there are several.
std::vector<Page> template_pages(const Programme& programme, const std::string& title, const PrintOptions& options);
std::vector<Page> template_pages(const Figure& figure, const std::string& title, const PrintOptions& options);
/// One numbered drawing of a hand-out with its words; names in them may be told apart (see naming.h).
struct HandoutMove {
  Figure figure;
  std::string text, check, caution;
};
/// Asked for by index, so that a long hand-out need not lie in memory.
struct HandoutMoves {
  std::size_t count = 0;
  std::function<HandoutMove(std::size_t)> move;
  std::string facts = {};                                     // what it takes, above the first
  std::vector<std::pair<LineStyle, std::string>> legend = {}; // what the lines of the drawings mean
};
HandoutMoves handout_moves(const Programme& programme, const TextStyle& style);
std::vector<Page> handout_pages(const HandoutMoves& moves, const std::string& title, const std::string& subtitle,
                                const PrintOptions& options);
std::string handout_html(const HandoutMoves& moves, const std::string& title, const std::string& subtitle);

std::vector<Page> handout_pages(const Programme& programme, const std::string& title, const std::string& subtitle,
                                const PrintOptions& options);
/// The hand-out as one HTML document with inline drawings.
std::string handout_html(const Programme& programme, const std::string& title, const std::string& subtitle,
                         const TextStyle& style);

} // namespace uc
