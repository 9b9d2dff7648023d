// References and polygons leave the program like grids do: template, hand-out, drawing, calendar.
#include "project/expected_miss.h"
#include "reference/proportion.h"
#include "reference/search.h"
#include "reference/target.h"
#include "runner.h"
#include "support.h"

#include "io/exports.h"
#include "io/project_file.h"
#include "programme/text.h"
#include "project/piece.h"
#include "reference/polygon.h"
#include "reference/recipe.h"

using namespace uc;
using uc::testing::near;

namespace {

Project polygon_project(int sides) {
  Project p;
  p.stock = generic_stocks().front();
  p.sheet = Sheet::square(Millimetres{240});
  p.sheet_name = "square:240mm";
  const auto methods = *polygon_methods(p.sheet.outline(), sides, 0.25, nullptr);
  p.references = {{"Lamp ring", "", recipe_text(methods.front().construction, methods.front().vertices), true}};
  p.folded = FoldedWork::references;
  p.programme = planned_programme(p, *division_of(p));
  return p;
}

ExportOptions options() {
  ExportOptions o;
  o.session_start = "2026-11-28T18:00:00";
  return o;
}

} // namespace

class ReferenceExportTest : public QObject {
  Q_OBJECT

private slots:
  void the_drawing_has_the_cut_at_true_scale() {
    for (const int sides : {3, 5, 6, 8}) {
      const Project p = polygon_project(sides);
      const auto svg = export_bytes(p, "ring.svg", options());
      QVERIFY2(svg, svg ? "" : svg.error().c_str());
      const QString text = QString::fromStdString(*svg);
      QVERIFY(text.contains("width=\"240mm\"") || text.contains("mm\""));
      const auto cuts = text.count("class=\"cut\"") + text.count("\"cut\"");
      QVERIFY2(cuts >= 1, qPrintable(text.left(400)));
    }
  }

  void the_hand_out_tells_every_move() {
    const Project p = polygon_project(5);
    const auto html = export_bytes(p, "ring.html", options());
    QVERIFY(html);
    const QString text = QString::fromStdString(*html).remove(QRegularExpression("</?span[^>]*>"));
    for (std::size_t i = 0; i < p.programme.moves.size(); ++i) {
      const QString sentence = QString::fromStdString(move_text(p.programme, i)).section('.', 0, 0).toHtmlEscaped();
      QVERIFY2(text.contains(sentence), qPrintable(sentence));
    }
    QVERIFY(text.contains("Cut on a mat"));
    QVERIFY(text.contains("Lamp ring"));
    QVERIFY(!text.contains("8 parts"));
  }

  /// In print each way has the figure it was chosen by: of polygons their shape, of marks and lines what they miss by,
  /// of cuts to a ratio their worse end.
  void print_tells_the_one_figure() {
    Project p = polygon_project(5);
    const auto methods = *polygon_methods(p.sheet.outline(), 5, 0.25, nullptr);
    QVERIFY(std::abs(*expected_miss_mm(p, 0) - methods.front().shape_mm) < 1e-9);
    QVERIFY(export_bytes(p, "ring.html", options())->find("expected miss 0.40 mm") != std::string::npos);
    const Polygon sheet = p.sheet.outline();
    const SheetIndex index = SheetIndex::build(sheet, {40, 400, 400, 40000}).value();
    SearchOptions search;
    for (const char* text : {"bottom:1/7", "100,70", "line 0,30 240,110"}) {
      const Target target = parse_target(sheet, text).value();
      const auto routes = find_routes(index, sheet, target, search);
      QVERIFY2(routes, text);
      const Route& route = routes->front();
      p.references = {{text, describe(target, sheet), recipe_text(route.construction, {route.result}), false, true}};
      const auto miss = expected_miss_mm(p, 0);
      QVERIFY2(miss && std::abs(*miss - route.total_mm()) < 0.02 + 0.02 * route.total_mm(),
               qPrintable(QString("%1: %2 %3").arg(text).arg(miss.value_or(-1)).arg(route.total_mm())));
    }
    const auto trims = trims_to(index, sheet, 1.3, search);
    QVERIFY(trims.ok());
    std::vector<int> corners;
    const Construction cut = with_corners(trims->front(), corners);
    p.references = {{"Cut", "1:1.3", recipe_text(cut, corners), true, true}};
    QVERIFY2(expected_miss_mm(p, 0) && std::abs(*expected_miss_mm(p, 0) - trims->front().total_mm()) < 0.05,
             qPrintable(QString("%1 %2").arg(expected_miss_mm(p, 0).value_or(-1)).arg(trims->front().total_mm())));
    QVERIFY(!expected_miss_mm(p, 7));
    p.references = {{"Mine", "", recipe_text(cut, {corners[1]}), false, true}};
    QVERIFY(!expected_miss_mm(p, 0)); // it does not say what was asked for
  }

  void the_template_is_written_twice_alike() {
    const Project p = polygon_project(6);
    const auto pdf = export_bytes(p, "ring.pdf", options());
    QVERIFY2(pdf, pdf ? "" : pdf.error().c_str());
    QVERIFY(pdf->rfind("%PDF", 0) == 0);
    QVERIFY(*pdf == *export_bytes(p, "ring.pdf", options()));
    const auto csv = export_bytes(p, "ring.csv", options());
    QVERIFY(csv && csv->rfind("name,kind,sigma_mm", 0) == 0);
    QCOMPARE(QString::fromStdString(*csv).count(",crease,"), p.programme.count(CreaseWay::align) +
                                                                 p.programme.count(CreaseWay::between) +
                                                                 p.programme.count(CreaseWay::through));
    const auto ics = export_bytes(p, "ring.ics", options());
    QVERIFY(ics && ics->find("BEGIN:VEVENT") != std::string::npos);
  }

  void a_project_with_references_is_read_again_whole() {
    Project p = polygon_project(8);
    p.references.push_back({"One third", "bottom:1/3", "c1 = O3 left right\nresult c1\n", false});
    p.folded = FoldedWork::grid;
    p.programme = planned_programme(p, *division_of(p));
    const auto again = project_from_text(project_text(p), "test");
    QVERIFY2(again, again ? "" : again.error().c_str());
    QVERIFY(again->references == p.references && again->folded == FoldedWork::grid);
    QVERIFY(json_of(again->programme) == json_of(p.programme));
    // Without a programme in the file it is planned anew, references and all.
    Json j = testing::parsed(project_text(p));
    j.erase("programme");
    const auto planned = project_from_text(j.dump(), "test");
    QVERIFY(json_of(planned->programme) == json_of(p.programme));
    // A reference without its recipe is damage, and is said so.
    j["references"][0].erase("recipe");
    const auto broken = project_from_text(j.dump(), "test");
    QVERIFY(!broken);
    QVERIFY(broken.error().find("references[0].recipe: is missing") != std::string::npos);
  }

  void starts_of_divisions_are_kept_in_the_file() {
    Project p;
    p.stock = generic_stocks().front();
    p.grid.parts = 7;
    p.grid.axis = GridAxis::both;
    p.grid.start =
        StartMark{4, 0.4, StartKind::diagonals, {"c1 = O3 left right\nresult c1\n", "c1 = O3 bottom top\nresult c1\n"}};
    const auto again = project_from_text(project_text(p), "test");
    QVERIFY2(again, again ? "" : again.error().c_str());
    QVERIFY(again->grid == p.grid);
  }

  /// What is cut changes the paper for all that follows.
  void plans_go_on_on_the_piece() {
    Project p;
    p.sheet = parse_sheet("a4").value();
    p.grid.parts = 4;
    p.grid.pinches_allowed = false;
    // A square folded off: the left edge onto the bottom one, and the cut at its end.
    PlannedReference square{"Square", "",
                            "c1 = crease left onto bottom\np1 = cross c1 right\n"
                            "c2 = crease through p1 square to right\np2 = cross c2 left\n"
                            "result bl br p1 p2\n",
                            true, true};
    p.references = {square};
    QCOMPARE(worked_sheet(p).code(), std::string("210x210mm"));
    QCOMPARE(worked_sheet(p).outline().size(), std::size_t{4});
    QCOMPARE(drawn_sheet(p).code(), std::string("210x210mm"));
    PlannedReference third{"third", "left:1/3", "c1 = crease bottom onto top\nresult c1\n", false, true};
    p.references.push_back(third);
    const auto division = division_of(p);
    QVERIFY(division.ok());
    const Programme all = planned_moves(p, *division, nullptr).programme;
    bool cut = false;
    double highest = 0;
    int creases = 0;
    for (const Move& m : all.moves) {
      cut = cut || m.is<Cut>();
      if (!cut) continue;
      for (const Segment& s : m.creases().spans) {
        highest = std::max({highest, s.from.y(), s.to.y()});
        ++creases;
        QVERIFY(s.from.x() <= 210 + 1e-9 && s.to.x() <= 210 + 1e-9);
      }
    }
    QVERIFY(creases >= 7 && near(highest, 210, 1e-9)); // the grid's three and three, and the reference
    // The middle of the piece, not of the sheet.
    const auto level = std::count_if(all.moves.begin(), all.moves.end(), [](const Move& m) {
      return !m.creases().spans.empty() && std::abs(m.creases().spans.front().from.y() - 105) < 1e-9 &&
             std::abs(m.creases().spans.front().to.y() - 105) < 1e-9;
    });
    QVERIFY(level >= 2);
    // References of earlier versions were made on the whole sheet, and stay there.
    p.references[1].of_piece = false;
    const Programme old = planned_moves(p, *division_of(p), nullptr).programme;
    const bool whole = std::any_of(old.moves.begin(), old.moves.end(), [](const Move& m) {
      return !m.creases().spans.empty() && std::abs(m.creases().spans.front().from.y() - 148.5) < 1e-9;
    });
    QVERIFY(whole);
    p.references[1].of_piece = true;
    p.programme = all;
    const auto again = project_from_text(project_text(p), "x");
    QVERIFY2(again, again ? "" : again.error().c_str());
    QVERIFY(again->references == p.references);
  }
  void a_polygon_that_is_cut_is_the_paper_wherever_it_lies() {
    for (const int sides : {5, 6, 8}) {
      Project p;
      p.sheet = Sheet::square(Millimetres{240});
      const auto methods = polygon_methods(p.sheet.outline(), sides, 0.25, nullptr);
      for (const PolygonMethod& m : *methods) {
        p.references = {{"polygon", "", recipe_text(m.construction, m.vertices), true, true}};
        const Piece piece = piece_of(p);
        QVERIFY2(!piece.whole && piece.sheet.sides() == sides, m.name.c_str());
        // Its corners are where the vertices are, as near as the recipe is regular.
        const Polygon outline = m.outline();
        for (const Point& corner : piece.sheet.outline()) {
          double nearest = 1e9;
          for (const Point& v : outline) nearest = std::min(nearest, (piece.place * corner - v).norm());
          QVERIFY2(nearest < (m.exact ? 1e-6 : 2.5), m.name.c_str());
        }
        p.grid.axis = GridAxis::x;
        p.grid.parts = 6;
        const auto division = division_of(p);
        QVERIFY2(division, division ? "" : division.error().c_str());
        const Programme all = planned_moves(p, *division, nullptr).programme;
        bool cut = false;
        for (const Move& move : all.moves) {
          cut = cut || move.is<Cut>();
          if (!cut) continue;
          for (const Segment& s : move.creases().spans) {
            const Point middle = s.middle();
            const Point own = piece.place.inverse() * middle;
            const Box box = bounding_box(piece.sheet.outline());
            QVERIFY((own.array() > box.low.array() - 1e-6).all() && (own.array() < box.high.array() + 1e-6).all());
          }
        }
        QVERIFY(cut);
      }
    }
  }
};

UC_TEST(ReferenceExportTest)
#include "reference_export_test.moc"
