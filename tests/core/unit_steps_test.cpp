// Units folded step by step, and the papers they are folded from.
#include "fold/sequence.h"
#include "io/exports.h"
#include "io/steps_json.h"
#include "io/steps_library.h"
#include "io/unit_page.h"
#include "project/project.h"
#include "unit/paper_colours.h"
#include "unit/unit_handout.h"
#include "unit/unit_programme.h"
#include "unit/unit_steps.h"

#include "fold_checker.h"
#include "runner.h"
#include "support.h"

#include <QtTest>

#include <cmath>
#include <numbers>
#include <set>

using namespace uc;

namespace {

/// Where a point of the bare sheet lies after the last move.
Point lying(const FoldSequence& s, const Point& p) {
  const PieceForm& form = *s.states.back().form;
  for (std::size_t v = 0; v < form.pattern.vertices.size(); ++v)
    if ((form.pattern.vertices[v] - p).norm() < 1e-4) return form.form.vertices[v];
  return Point::Constant(std::nan(""));
}

Result<UnitPlan> plan_of(const char* family, const char* solid, UnitSheet sheet) {
  UnitWish wish;
  wish.family = family;
  wish.solid = solid;
  wish.sheet = sheet;
  wish.colours = 4;
  return unit_plan(wish);
}

} // namespace

class UnitStepsTest : public QObject {
  Q_OBJECT

private slots:
  /// The ridge, tip to tip or the diagonal a family promises for its sheet is what its own steps fold.
  void the_steps_fold_the_edge_that_is_promised() {
    const double s = 93;
    for (const char* name : {"parallelogram", "half-square-star"}) {
      const UnitFamily& family = *find_unit_family(name);
      const UnitSheet sheet{s, s};
      const Point piece = family.units_per_sheet == 2 ? Point{s, s / 2} : Point{s, s};
      const auto folded = folded_unit(family, piece);
      QVERIFY(folded && !folded->refused);
      const FoldSequence& made = folded->made;
      const bool whole = family.units_per_sheet != 2;
      // The ridge runs between these two, the tips lie at the others.
      const Point from = lying(made, whole ? made.points.at("q1") : Point{0, s / 2});
      const Point to = lying(made, whole ? made.points.at("q2") : Point{s, 0});
      QVERIFY2(std::abs((from - to).norm() - family.edge_mm(sheet)) < 1e-9, name);
      const Point tip = lying(made, whole ? made.points.at("p1") : Point{0, 0});
      // Between ridge and tip lies a right isosceles triangle, hypotenuse as long as the ridge.
      QVERIFY2(std::abs((tip - from).norm() - (from - to).norm()) < 1e-9 ||
                   std::abs((tip - to).norm() - (from - to).norm()) < 1e-9,
               name);
    }
    const UnitFamily& zigzag = *find_unit_family("zigzag-strip");
    const auto strip = folded_unit(zigzag, {s, s});
    QVERIFY(strip && !strip->refused);
    const Point size = strip->made.states.back().form->form.box.size();
    QVERIFY(std::abs(size.minCoeff() - s / 4) < 1e-9 && std::abs(size.maxCoeff() - s) < 1e-9);
    QVERIFY(std::abs(std::sqrt(2.0) * size.minCoeff() - zigzag.edge_mm({s, s})) < 1e-9);
    const Point ridge =
        lying(strip->made, strip->made.points.at("c1")) - lying(strip->made, strip->made.points.at("c2"));
    QVERIFY(std::abs(ridge.norm() - zigzag.edge_mm({s, s})) < 1e-9);
    QCOMPARE(steps_json(strip->made, 0.25)["states"].back()["layers_max"].get<int>(), 4);
    const UnitFamily& rhomb = *find_unit_family("rhombic");
    const Point piece{60, 60 * std::sqrt(2.0)};
    const auto folded = folded_unit(rhomb, piece);
    QVERIFY(folded && !folded->refused);
    // A sheet is typed with so many digits only.
    const auto mark = [&](const char* name) { return lying(folded->made, folded->made.points.at(name)); };
    QVERIFY(std::abs((mark("low") - mark("west")).norm() - rhomb.edge_mm({piece.x(), piece.y()})) < 1e-4);
    const Point a = mark("west") - mark("high");
    const Point b = mark("east") - mark("high");
    const double angle = std::acos(a.dot(b) / a.norm() / b.norm()) * 180 / std::numbers::pi;
    QVERIFY2(std::abs(angle - 70.528779365509) < 1e-4, qPrintable(QString::number(angle, 'g', 12)));
  }

  void every_state_is_folded_without_tearing() {
    int told = 0;
    for (const UnitFamily& family : unit_families()) {
      QVERIFY2(!family.how.empty(), family.name.c_str());
      if (family.steps.empty()) continue;
      ++told;
      for (const double side : {40.0, 75.0, 211.0}) {
        const Point piece{side, side * (family.strips ? 0.25 : family.units_per_sheet == 2 ? 0.5 : family.ratio)};
        const auto folded = folded_unit(family, piece);
        QVERIFY2(folded && !folded->refused, family.name.c_str());
        const Json told_steps = steps_json(folded->made, 0.25);
        for (const Json& state : told_steps["states"]) {
          const std::string wrong = testing::FoldChecker(state).wrong(piece.x() * piece.y());
          QVERIFY2(wrong.empty(), (family.name + ": " + wrong).c_str());
        }
      }
    }
    QCOMPARE(told, 6); // triangles and pentagons are cut out by a template
  }

  void the_library_has_them() {
    const auto all = step_library(std::string(UC_SOURCE_DIR "/data/steps"));
    QVERIFY2(all, all ? "" : all.error().c_str());
    std::set<std::string> names;
    for (const LibrarySteps& s : *all) {
      names.insert(s.name);
      QVERIFY(parse_steps(s.text)->lines.size() == s.file.lines.size());
    }
    QCOMPARE(names.size(), all->size());
    QVERIFY(names.contains("unit-parallelogram") && names.contains("unit-strip-and-clip") &&
            names.contains("kite-base"));
  }

  void the_hand_out_draws_each_step() {
    for (const auto& [family, solid, steps] :
         {std::tuple{"parallelogram", "octahedron", 16}, std::tuple{"pentagon-tabs", "dodecahedron", 0}}) {
      const auto plan = plan_of(family, solid, {75, 75});
      QVERIFY2(plan, plan ? "" : plan.error().c_str());
      const Programme programme = unit_programme(*plan, {}, HandProfile{});
      const auto drawings = unit_preparation(*plan, programme, {});
      // What locks has its joint drawn, with the tab it comes from and the pocket it goes to.
      QCOMPARE(static_cast<int>(drawings.size()), 3 + steps + (plan->hold == Hold::pocket ? 1 : 0));
      if (plan->hold == Hold::pocket) {
        const UnitDrawing& joint = drawings[drawings.size() - 2];
        QVERIFY(joint.text.find("goes in at the heavy line") != std::string::npos);
        QVERIFY(joint.figure.flap.size() >= 3 && joint.figure.labels.size() == 2 && joint.figure.arrows.size() == 1);
      }
      for (std::size_t i = 2; i + 1 < drawings.size(); ++i)
        QVERIFY(!drawings[i].text.empty() &&
                (!drawings[i].figure.patches.empty() || !drawings[i].figure.outline.empty()));
      const Page page = unit_page(*plan, {}, {std::string(UC_SOURCE_DIR "/data/fonts")});
      QVERIFY(page.items.size() > 5 && page.height_mm > 20);
      for (const auto& item : page.items)
        if (const auto* text = std::get_if<PageText>(&item))
          QVERIFY(text->at.x() >= 0 && text->at.x() <= page.width_mm && text->at.y() >= 0 &&
                  text->at.y() <= page.height_mm);
    }
  }

  /// What is cut out has a template at true scale: a regular face of the plan's edge with a tab on each side, as large
  /// as its square holds it.
  void faces_with_tabs_have_a_template() {
    for (const auto& [family, solid, n] :
         {std::tuple{"triangle-tabs", "icosahedron", 3}, std::tuple{"pentagon-tabs", "dodecahedron", 5}}) {
      const auto plan = plan_of(family, solid, {90, 90});
      QVERIFY(plan);
      const auto figure = unit_template(*plan);
      QVERIFY(figure);
      Polygon outline;
      int creases = 0;
      for (const FigureLine& l : figure->lines) {
        if (l.style == LineStyle::cut) {
          outline.push_back(l.segment.from);
          continue;
        }
        ++creases;
        QVERIFY(std::abs(l.segment.length() - plan->edge_mm) < 1e-9);
      }
      QCOMPARE(creases, n);
      QCOMPARE(static_cast<int>(outline.size()), 3 * n);
      const Box box = bounding_box(outline);
      QVERIFY(box.low.minCoeff() > -1e-9 && box.high.maxCoeff() < 90 + 1e-9);
      QVERIFY(std::abs(box.size().maxCoeff() - 90) < 1e-9); // no larger one would fit in this turn
      // A tab is a trapezoid from the edge to half of it, a quarter deep.
      const double edge = plan->edge_mm;
      const double face = n * edge * edge / 4 / std::tan(3.14159265358979323846 / n);
      QVERIFY(std::abs(signed_area(outline) - face - n * 0.1875 * edge * edge) < 1e-6);
      const Programme programme = unit_programme(*plan, {}, HandProfile{});
      ExportOptions options;
      options.fonts.folder = std::string(UC_SOURCE_DIR "/data/fonts");
      const auto pdf = units_bytes(*plan, programme, "lamp", "lamp.pdf", options);
      QVERIFY(pdf && pdf->size() > 1000);
      QVERIFY(unit_preparation(*plan, programme, {})[1].caution.find("Cut on a mat") != std::string::npos);
    }
  }

  void papers_that_look_alike_are_found() {
    // Black and white are as far apart as can be, for all eyes; a red and a green of one brightness are not.
    for (const Sight sight : {Sight::full, Sight::protan, Sight::deutan})
      QVERIFY(std::abs(colours_apart("#000000", "#FFFFFF", sight) - 100) < 0.1);
    QVERIFY(colours_apart("#C04040", "#40802B", Sight::full) > 60);
    QVERIFY(colours_apart("#C04040", "#5A7A2B", Sight::deutan) < colours_apart("#C04040", "#5A7A2B", Sight::full) / 3);
    QCOMPARE(colours_apart("#C04040", "rust", Sight::full), 0.0);
    const std::vector<UnitMap::Colour> papers = {{"rust", "#A05A2B"}, {"night", "#1F3A6E"}, {"rust again", "#A25C2D"}};
    const auto alike = look_alike(papers);
    QCOMPARE(alike.size(), std::size_t{1});
    QVERIFY(alike[0].first == 0 && alike[0].second == 2 && alike[0].apart < 5);
    std::vector<UnitMap::Colour> first(usual_palette().begin(), usual_palette().begin() + 8);
    QVERIFY(look_alike(first).empty());
    const auto best = told_apart_best(papers, 2);
    QCOMPARE(best.size(), std::size_t{2});
    QVERIFY(best[0].name == "rust" && best[1].name == "night");
    QCOMPARE(told_apart_best(papers, 9).size(), std::size_t{3});
  }
};

UC_TEST(UnitStepsTest)
#include "unit_steps_test.moc"
