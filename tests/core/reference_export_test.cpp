// References and polygons leave the program like grids do: template, hand-out, drawing, calendar.
#include "runner.h"
#include "support.h"

#include "io/exports.h"
#include "programme/text.h"
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
  p.grid_follows = false;
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
    const QString text = QString::fromStdString(*html);
    for (std::size_t i = 0; i < p.programme.moves.size(); ++i) {
      const QString sentence = QString::fromStdString(move_text(p.programme, i)).section('.', 0, 0).toHtmlEscaped();
      QVERIFY2(text.contains(sentence), qPrintable(sentence));
    }
    QVERIFY(text.contains("Cut on a mat"));
    QVERIFY(text.contains("Lamp ring"));
    QVERIFY(!text.contains("8 parts"));
  }

  void the_template_is_written_twice_alike() {
    const Project p = polygon_project(6);
    const auto pdf = export_bytes(p, "ring.pdf", options());
    QVERIFY2(pdf, pdf ? "" : pdf.error().c_str());
    QVERIFY(pdf->rfind("%PDF", 0) == 0);
    QVERIFY(*pdf == *export_bytes(p, "ring.pdf", options()));
    const auto csv = export_bytes(p, "ring.csv", options());
    QVERIFY(csv && csv->rfind("name,kind,sigma_mm", 0) == 0);
    QCOMPARE(QString::fromStdString(*csv).count(",crease,"),
             p.programme.count(CreaseWay::align) + p.programme.count(CreaseWay::between));
    const auto ics = export_bytes(p, "ring.ics", options());
    QVERIFY(ics && ics->find("BEGIN:VEVENT") != std::string::npos);
  }

  void a_project_with_references_is_read_again_whole() {
    Project p = polygon_project(8);
    p.references.push_back({"One third", "bottom:1/3", "c1 = O3 left right\nresult c1\n", false});
    p.grid_follows = true;
    p.programme = planned_programme(p, *division_of(p));
    const auto again = project_from_text(project_text(p), "test");
    QVERIFY2(again, again ? "" : again.error().c_str());
    QVERIFY(again->references == p.references && again->grid_follows);
    QVERIFY(json_of(again->programme) == json_of(p.programme));
    // Without a programme in the file it is planned anew, references and all.
    Json j = Json::parse(project_text(p));
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
};

UC_TEST(ReferenceExportTest)
#include "reference_export_test.moc"
