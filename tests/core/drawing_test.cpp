// From figures to pages: the table of line looks, the drawing of every kind of move, SVG as a tree, words measured in
// the fonts they are printed in.
#include "runner.h"
#include "support.h"

#include "divide/division.h"
#include "io/figure_drawing.h"
#include "io/handout.h"
#include "io/pdf.h"
#include "io/svg.h"
#include "io/svg_writer.h"
#include "programme/line_look.h"

#include <pugixml.hpp>

#include <QProcess>
#include <QRegularExpression>
#include <QTemporaryDir>

#include <map>
#include <random>
#include <set>

using namespace uc;
using uc::testing::near;

namespace {

constexpr LineStyle all_styles[] = {LineStyle::raw_edge, LineStyle::mountain, LineStyle::valley, LineStyle::undirected,
                                    LineStyle::pinch,    LineStyle::unfolded, LineStyle::cut,    LineStyle::moving,
                                    LineStyle::target,   LineStyle::fresh};

PageFonts bundled() { return {std::string(UC_SOURCE_DIR "/data/fonts")}; }

/// Everything of a page that has points.
std::vector<PagePath> paths(const Page& page) {
  std::vector<PagePath> all;
  for (const auto& item : page.items) {
    if (const auto* path = std::get_if<PagePath>(&item)) all.push_back(*path);
  }
  return all;
}

/// Brightness as the eye weighs it (relative luminance, sRGB), 0 to 1.
double luminance(const std::string& colour) {
  const auto linear = [&](std::size_t at) {
    const double v = std::stoi(colour.substr(at, 2), nullptr, 16) / 255.0;
    return v <= 0.04045 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4);
  };
  return 0.2126 * linear(1) + 0.7152 * linear(3) + 0.0722 * linear(5);
}
double contrast(const char* a, const char* b) {
  const double first = luminance(a);
  const double second = luminance(b);
  return (std::max(first, second) + 0.05) / (std::min(first, second) + 0.05);
}

/// The form of an arrow: how its shaft is dashed and its heads are filled.
std::string form_of(ArrowWay way) {
  Figure figure;
  figure.outline = {{0, 0}, {100, 0}, {100, 100}, {0, 100}};
  figure.arrows = {{{10, 50}, {50, 80}, {90, 50}, way}};
  Page page;
  draw_move(page, figure, {[](const Point& p) -> Point { return {p.x(), -p.y()}; }, 0.2, 10, {}});
  std::string form;
  for (const PagePath& path : paths(page)) {
    form += path.curve ? 'c' : path.closed ? 't' : 'b';
    form += path.fill.empty() ? '-' : path.fill == paper_ink ? 'f' : 'h';
    form += path.dash_mm.empty() ? "|" : "d|";
  }
  return form;
}

} // namespace

class DrawingTest : public QObject {
  Q_OBJECT
private slots:
  void every_style_has_its_look() {
    for (const LineStyle style : all_styles) {
      const LineLook& look = look_of(style);
      QVERIFY(look.style == style && look.width > 0 && look.dash.size() % 2 == 0);
      for (const std::string colour : {look.colour, look.on_dark})
        QVERIFY(colour.size() == 7 && colour[0] == '#' &&
                colour.find_first_not_of("0123456789ABCDEF", 1) == std::string::npos);
    }
    // Mountain and valley by their dashes first: a valley has even ones, a mountain a long one and two dots.
    const LineLook& mountain = look_of(LineStyle::mountain);
    const LineLook& valley = look_of(LineStyle::valley);
    QVERIFY(mountain.dash.size() == 6 && valley.dash.size() == 2);
    QVERIFY(mountain.dash[0] > 3 * mountain.dash[2] && mountain.dash[2] == mountain.dash[4]);
    // What must be read stands out from the paper, and on the dark bench (3 : 1, the usual least for graphics).
    for (const LineStyle style : {LineStyle::raw_edge, LineStyle::mountain, LineStyle::valley, LineStyle::cut})
      QVERIFY(contrast(look_of(style).colour, "#F3C98B") >= 3 && contrast(look_of(style).on_dark, "#23252A") >= 3);
  }

  void arrows_have_one_form_each() {
    std::set<std::string> forms;
    for (const ArrowWay way : {ArrowWay::over, ArrowWay::behind, ArrowWay::over_and_back, ArrowWay::open})
      forms.insert(form_of(way));
    QCOMPARE(forms.size(), std::size_t{4});
    QCOMPARE(form_of(ArrowWay::over), std::string("c-|c-|t-|tf|"));                // halo and shaft, halo and head
    QCOMPARE(form_of(ArrowWay::over_and_back), std::string("c-|c-|t-|tf|t-|tf|")); // a head at both ends
    QCOMPARE(form_of(ArrowWay::behind), std::string("c-|c-d|t-|th|"));             // dashed, hollow
    QCOMPARE(form_of(ArrowWay::open), std::string("c-|c-|b-|b-|"));                // two barbs
  }
  void arrows_end_where_they_point_to() {
    std::mt19937 random(5);
    std::uniform_real_distribution<double> at(0, 100);
    for (int round = 0; round < 50; ++round) {
      Figure figure;
      figure.outline = {{0, 0}, {100, 0}, {100, 100}, {0, 100}};
      const Point from{at(random), at(random)};
      const Point to{at(random), at(random)};
      figure.arrows = {{from, (from + to) / 2 + Point{3, 7}, to, ArrowWay::over}};
      Page page;
      const auto place = [](const Point& p) -> Point { return {2 * p.x() + 5, 300 - 2 * p.y()}; };
      draw_move(page, figure, {place, 0.2, 10, {}});
      const auto all = paths(page);
      QCOMPARE(all.size(), std::size_t{4});
      // Shaft and head each stand on a lighter line of the same course that is wider than they are.
      QVERIFY(all[0].points == all[1].points && all[0].width_mm > all[1].width_mm && all[0].stroke == paper_slip);
      QVERIFY(all[2].points == all[3].points && all[2].width_mm > 0 && all[2].stroke == paper_slip);
      QVERIFY((all[1].points.back() - place(to)).norm() < 1e-9 && (all[1].points[0] - place(from)).norm() < 1e-9);
      QVERIFY((all[3].points[1] - place(to)).norm() < 1e-9); // the tip
      for (const Point& p : all[3].points) QVERIFY((p - place(to)).norm() <= 6 * 2.4 * 0.2 * 1.01);
      // On a flat sheet it bows upwards, clear of the hand.
      QVERIFY(all[1].points[1].y() <= (all[1].points[0].y() + all[1].points[2].y()) / 2 + 1e-9);
    }
  }

  void whole_figures_stay_in_their_room() {
    GridSpec spec;
    spec.parts = 5;
    for (const char* sheet : {"square:240mm", "a4", "strip:300x40mm", "ngon:5:90mm"}) {
      const auto d = divide(parse_sheet(sheet).value(), spec, HandProfile{});
      QVERIFY(d.ok());
      for (std::size_t i = 0; i < d->programme.moves.size(); ++i) {
        const Figure figure = move_figure(d->programme, static_cast<int>(i));
        Page page;
        draw_figure(page, figure, {{20, 30}, {60, 50}});
        QVERIFY(!paths(page).empty());
        for (const PagePath& path : paths(page)) {
          if (path.curve || path.stroke == paper_slip) continue; // arrows may bow out of the sheet
          for (const Point& p : path.points) QVERIFY(p.x() > 18 && p.x() < 82 && p.y() > 28 && p.y() < 82);
        }
        // A small drawing has neither names nor arrows, but for those that turn the sheet.
        Page small;
        draw_figure(small, figure, {{0, 0}, {30, 30}}, FigureDetail::small);
        for (const auto& item : small.items) QVERIFY(!std::holds_alternative<PageText>(item));
        const auto drawn = paths(small);
        const bool curved = std::any_of(drawn.begin(), drawn.end(), [](const PagePath& p) { return p.curve; });
        QCOMPARE(curved, figure.turns_over);
      }
    }
  }
  void a_pinch_is_long_enough_to_be_seen() {
    const Segment pinch{{10, 10}, {11, 10}};
    const Segment seen = seen_pinch(pinch, 8);
    QVERIFY(near(seen.length(), 8, 1e-12) && (seen.middle() - pinch.middle()).norm() < 1e-12);
    QVERIFY(seen_pinch(pinch, 0.5) == pinch);
    const Segment nothing{{3, 4}, {3, 4}};
    QVERIFY(seen_pinch(nothing, 8) == nothing);
  }

  void svg_is_a_tree_with_the_table_s_styles() {
    GridSpec spec;
    spec.parts = 6;
    spec.direction = DirectionRule::alternating;
    const auto d = divide(parse_sheet("square:240mm").value(), spec, HandProfile{});
    const std::string svg = grid_svg(d->programme, "a < b & \"c\" \x1b[31m");
    pugi::xml_document doc;
    QVERIFY(doc.load_string(svg.c_str()));
    const pugi::xml_node root = doc.child("svg");
    QCOMPARE(std::string(root.attribute("width").value()), std::string("240mm"));
    const std::string title = root.child("title").text().get();
    QVERIFY2(title.starts_with("a < b & \"c\"") && title.find('\x1b') == std::string::npos, title.c_str());
    const std::string css = root.child("style").text().get();
    for (const LineStyle style : {LineStyle::raw_edge, LineStyle::mountain, LineStyle::valley, LineStyle::cut}) {
      const std::string rule = std::string(".") + look_of(style).kind + "{stroke:" + look_of(style).colour;
      QVERIFY2(css.find(rule) != std::string::npos, rule.c_str());
    }
    std::map<std::string, int> kinds;
    for (const pugi::xml_node line : root.children("line")) ++kinds[line.attribute("class").value()];
    QCOMPARE(kinds["raw"], 4);
    QVERIFY(kinds["mountain"] > 0 && kinds["valley"] > 0);
  }

  void words_are_as_wide_as_they_are_printed() {
    const TextMeasure measure(bundled());
    QTemporaryDir dir;
    const QString file = dir.filePath("words.pdf");
    for (const char* words : {"Bring the right edge to the crease at 3/8.", "illicit", "WWWWWWMMMM", "0123456789",
                              "In 12 of 345 sheets 6789 creases lie at 0."}) {
      Page page;
      page.text({20, 40}, words, 6);
      const auto pdf = pdf_of({page}, "words", bundled());
      QVERIFY(pdf.ok() && write_atomically(file.toStdString(), *pdf).ok());
      QProcess reader;
      reader.start("pdftotext", {"-bbox", file, "-"});
      QVERIFY(reader.waitForFinished(20000));
      const QString text = QString::fromUtf8(reader.readAllStandardOutput());
      double low = 1e9;
      double high = -1e9;
      static const QRegularExpression box("<word xMin=\"([0-9.]+)\" yMin=\"[0-9.]+\" xMax=\"([0-9.]+)\"");
      auto at = box.globalMatch(text);
      while (at.hasNext()) {
        const auto match = at.next();
        low = std::min(low, match.captured(1).toDouble());
        high = std::max(high, match.captured(2).toDouble());
      }
      const double printed = (high - low) * 25.4 / 72;
      QVERIFY2(near(measure.width_mm(words, 6), printed, 0.01 * printed, words), qPrintable(text.right(600)));
      QVERIFY(near(measure.width_mm(words, 3), measure.width_mm(words, 6) / 2, 0.01 * printed));
    }
    QVERIFY(measure.width_mm("mountain", 3, true) > measure.width_mm("mountain", 3));
  }
  void wrapped_words_fit_and_are_all_there() {
    const TextMeasure measure(bundled());
    std::mt19937 random(11);
    for (int round = 0; round < 60; ++round) {
      std::string words;
      std::string letters;
      for (int w = 0; w < 1 + static_cast<int>(random() % 20); ++w) {
        if (w > 0) words += ' ';
        for (int c = 0; c < 1 + static_cast<int>(random() % 12); ++c)
          words += static_cast<char>(random() % 9 == 0 ? 'W' : 'a' + random() % 26);
      }
      const double width = 8 + static_cast<double>(random() % 60);
      const auto lines = measure.wrapped(words, width, 3);
      QVERIFY(!lines.empty());
      for (const std::string& line : lines) {
        QVERIFY2(measure.width_mm(line, 3) <= width + 0.05, line.c_str());
        letters += line;
      }
      const auto without_spaces = [](std::string text) {
        std::erase(text, ' ');
        return text;
      };
      QCOMPARE(without_spaces(letters), without_spaces(words));
    }
    QVERIFY(measure.wrapped("", 20, 3).empty());
    QVERIFY(measure.wrapped("Bring the left edge to the right edge.", 200, 3).size() == 1);
    const auto lines = measure.wrapped("one two three four five six seven eight", 20, 3);
    QVERIFY(lines.size() >= 3 && lines.size() <= 5);
    // Whatever bytes a file held, nothing breaks.
    QVERIFY(!measure.wrapped("\xff\xfe broken \xc3", 20, 3).empty());
  }
  void long_words_of_a_hand_out_stay_in_their_column() {
    GridSpec spec;
    spec.parts = 7;
    const auto d = divide(parse_sheet("a4").value(), spec, HandProfile{});
    PrintOptions options;
    options.fonts = bundled();
    const TextMeasure measure(options.fonts);
    for (const Page& page : handout_pages(d->programme, "t", "s", options)) {
      for (const auto& item : page.items) {
        const auto* text = std::get_if<PageText>(&item);
        if (!text || text->align != Align::left || text->bold) continue;
        QVERIFY2(text->at.x() + measure.width_mm(text->text, text->size_mm) <= page.width_mm - 5, text->text.c_str());
      }
    }
  }
};

UC_TEST(DrawingTest)
#include "drawing_test.moc"
