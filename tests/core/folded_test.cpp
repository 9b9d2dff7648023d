// The folded form: closed forms of sizes, areas that must add up, both sides, levels, the file, and directions that
// survive a change of rules.
#include "base/index.h"
#include "io/folded.h"
#include "io/project_file.h"
#include "pattern/family.h"
#include "pattern/folded_view.h"
#include "pattern/pattern_figure.h"
#include "patterns.h"
#include "raster.h"
#include "runner.h"
#include "support.h"

#include <Eigen/LU>
#include <QtTest>

#include <numbers>
#include <numeric>

using namespace uc;
using uc::testing::chevron_pattern;
using uc::testing::map_pattern;
using uc::testing::twist_pattern;

namespace {

PatternProof proof_of(const CreasePattern& p) {
  auto proof = proved(healed(p));
  if (!proof || !proof->folds_flat()) qFatal("this was to fold flat");
  return std::move(proof).value();
}

double area_of(const CreasePattern& p) {
  const PatternGraph g = graph_of(p);
  double sum = 0;
  for (const GraphFace& f : g.faces) sum += signed_area(outline_of(p, f));
  return sum;
}

} // namespace

class FoldedTest : public QObject {
  Q_OBJECT

private slots:
  void maps_fold_to_one_cell() {
    for (const auto& [c, r] : {std::pair{2, 2}, {3, 2}, {4, 1}, {3, 3}}) {
      const PatternProof proof = proof_of(map_pattern(c, r));
      QVERIFY((proof.form->box.size() - Point{10, 10}).norm() < 1e-9);
      QCOMPARE(proof.overlap->layers_max, c * r);
      QCOMPARE(static_cast<int>(faces_at(proof, proof.form->box.centre()).size()), c * r);
      QVERIFY(faces_at(proof, {500, 500}).empty());
    }
  }

  void chevrons_fold_to_their_closed_form() {
    // Two rows further the folded column has moved by 2 h sin(lean) along the crease, whose lean is 90 - the small
    // angle.
    for (const double deg : {45.0, 60.0, 75.0}) {
      const double lean = (90 - deg) * std::numbers::pi / 180;
      const double w = 10;
      const double h = 10;
      const PatternProof two = proof_of(chevron_pattern(2, 2, deg));
      const PatternProof more = proof_of(chevron_pattern(2, 8, deg));
      const Point grown = more.form->box.size() - two.form->box.size();
      // Once the stack is longer than it is broad each pair of rows adds its share along both axes.
      const Point step = 2 * h * std::sin(lean) * Point{std::cos(lean), std::sin(lean)};
      QVERIFY2((grown - 3 * step).norm() < 1e-6,
               qPrintable(QString("%1: %2 %3").arg(deg).arg(grown.x()).arg(grown.y())));
      QVERIFY(two.form->box.size().x() >= w - 1e-9);
    }
  }

  void layers_times_area_is_the_sheet() {
    for (const CreasePattern& p :
         {chevron_pattern(6, 4), twist_pattern(3), twist_pattern(2, 0.55, 40), map_pattern(4, 3)}) {
      const PatternProof proof = proof_of(p);
      double covered = 0;
      for (const FoldedCell& c : proof.overlap->cells) covered += c.area * static_cast<double>(c.faces.size());
      QVERIFY(testing::near(covered, area_of(proof.pattern), 1e-6 * area_of(proof.pattern)));
    }
  }

  void places_are_isometries_that_agree_at_creases() {
    const PatternProof proof = proof_of(twist_pattern(3));
    const FoldedForm& form = *proof.form;
    QVERIFY(form.place[0].linear.isIdentity() && form.place[0].shift.isZero());
    QVERIFY(form.closure_mm < 1e-9);
    for (std::size_t f = 0; f < form.place.size(); ++f) {
      const Eigen::Matrix2d& m = form.place[f].linear;
      QVERIFY((m * m.transpose() - Eigen::Matrix2d::Identity()).norm() < 1e-12);
      QCOMPARE(m.determinant() < 0, form.flipped[f] != 0);
      for (const VertexId v : proof.graph->faces[f].cycle)
        QVERIFY((form.place[f] * proof.pattern.vertices[at(v)] - form.vertices[at(v)]).norm() < 1e-9);
    }
  }

  void both_sides_show_the_same_outline() {
    const PatternProof proof = proof_of(chevron_pattern(5, 4));
    const FoldedView front = folded_view(proof, false);
    const FoldedView behind = folded_view(proof, true);
    QCOMPARE(front.patches.size(), behind.patches.size());
    double a = 0;
    double b = 0;
    for (const FoldedPatch& p : front.patches) a += signed_area(p.outline);
    for (const FoldedPatch& p : behind.patches) b += signed_area(p.outline);
    QVERIFY(a > 0);
    QVERIFY(testing::near(a, b, 1e-6));
    for (const FoldedPatch& p : behind.patches) {
      // What is on top from behind is the lowest from the front.
      Point middle =
          std::accumulate(p.outline.begin(), p.outline.end(), Point(0, 0)) / static_cast<double>(p.outline.size());
      middle.x() = front.box.low.x() + front.box.high.x() - middle.x();
      const auto layers = faces_at(proof, middle);
      if (!layers.empty()) QCOMPARE(layers.back(), p.face);
    }
  }

  void levels_follow_the_order() {
    for (const bool behind : {false, true}) {
      const PatternProof proof = proof_of(map_pattern(3, 3));
      const auto faces = layered_faces(proof, behind);
      QCOMPARE(faces.size(), proof.graph->faces.size());
      for (std::size_t i = 0; i < faces.size(); ++i) {
        QCOMPARE(faces[i].level, static_cast<int>(i)); // all nine lie on each other
        for (std::size_t k = 0; k < i; ++k) QCOMPARE(proof.above(faces[i].face, faces[k].face), !behind);
      }
    }
  }

  void the_file_holds_every_overlap_once() {
    const PatternProof proof = proof_of(twist_pattern(2));
    const Json j = testing::parsed(folded_json(proof));
    QCOMPARE(j["faces"].size(), proof.graph->faces.size());
    QCOMPARE(j["above"].size(), proof.constraints->pairs.size() - 1);
    QCOMPARE(j["layers_max"].get<int>(), proof.overlap->layers_max);
    for (const Json& a : j["above"]) QVERIFY(proof.above(FaceId(a[0].get<int>()), FaceId(a[1].get<int>())));
    const std::string svg = folded_svg(proof, "rim & crater");
    QVERIFY(svg.find("rim &amp; crater") != std::string::npos);
    std::size_t patches = 0;
    for (std::size_t i = svg.find("<path"); i != std::string::npos; i = svg.find("<path", i + 1)) ++patches;
    QCOMPARE(patches, folded_view(proof, false).patches.size());
    QVERIFY(folded_svg(proof, "", {.from_behind = true}) != folded_svg(proof, ""));
  }

  void the_folded_form_prints_at_true_scale() {
    // A map of 4 x 3 squares of 70 mm folds to one of them.
    CreasePattern p = map_pattern(4, 3);
    for (Point& v : p.vertices) v *= 7;
    const PatternProof proof = proof_of(p);
    for (const bool behind : {false, true}) {
      FoldedSvgOptions options;
      options.from_behind = behind;
      const auto pdf = folded_bytes(proof, "map.pdf", "map", options, {}, {});
      QVERIFY(pdf);
      const uc::testing::Raster page = uc::testing::raster_of(*pdf);
      QVERIFY(std::abs(page.longest_level_line(0, page.height / 2) - 700) <= 8);
    }
    QVERIFY(!folded_bytes(proof, "map.png", "map", {}, {}, {}));
    QVERIFY(*folded_bytes(proof, "map.json", "map", {}, {}, {}) == folded_json(proof));
  }

  void a_hole_that_does_not_close_is_impossible() {
    // Four creases run from a square hole to the edges; two of them turned a little no longer close round it.
    CreasePattern p;
    for (const Point& v : {Point{0, 0}, {100, 0}, {100, 100}, {0, 100}, {40, 40}, {60, 40}, {60, 60}, {40, 60}})
      p.vertices.push_back(v);
    for (int i = 0; i < 4; ++i) {
      p.edges.push_back({i, (i + 1) % 4, EdgeKind::raw});
      p.edges.push_back({4 + i, 4 + (i + 1) % 4, EdgeKind::raw});
      p.edges.push_back({i, 4 + i, EdgeKind::undirected});
    }
    const auto closed = proved(healed(p));
    QVERIFY(closed);
    QVERIFY(closed->locally_flat());
    QCOMPARE(closed->status, LayerStatus::found);
    p.vertices[6] = {62, 57};
    const auto open = proved(healed(p));
    QVERIFY(open && open->locally_flat());
    QCOMPARE(open->status, LayerStatus::impossible);
    QCOMPARE(open->clash.size(), std::size_t{4});
  }

  void figures_turn_over() {
    const CreasePattern p = chevron_pattern(3, 3);
    const Figure face = pattern_figure(p);
    const Figure under = pattern_figure(p, true);
    QCOMPARE(face.lines.size(), p.edges.size());
    for (std::size_t i = 0; i < p.edges.size(); ++i) {
      QCOMPARE(face.lines[i].element, static_cast<int>(i) + 1);
      if (p.edges[i].kind == EdgeKind::mountain) QCOMPARE(under.lines[i].style, LineStyle::valley);
      QVERIFY(testing::near(face.lines[i].segment.length(), under.lines[i].segment.length(), 1e-9));
    }
    QVERIFY(signed_area(under.outline) > 0);
    QVERIFY(testing::near(signed_area(under.outline), signed_area(face.outline), 1e-9));
  }

  void found_directions_outlive_other_rules() {
    const Polygon sheet{Point{0, 0}, Point{180, 0}, Point{180, 180}, Point{0, 180}};
    PatternDesign design;
    design.count = 4;
    design.rules = {"line 0,1 along 1,0", "copy 0,1 times 2", "line 1,0 along 0,1", "copy 1,0 times 2 of 3"};
    const DrawnPattern drawn = drawn_pattern(design, sheet);
    const auto d = directed(drawn.healed);
    QVERIFY(d && d->pattern);
    design.directions = found_directions(design, sheet, drawn.healed.pattern, *d->pattern);
    QCOMPARE(design.directions.size(), std::size_t{24});
    const auto count = [&](EdgeKind kind) {
      const DrawnPattern now = drawn_pattern(design, sheet);
      return std::count_if(now.healed.pattern.edges.begin(), now.healed.pattern.edges.end(),
                           [&](const PatternEdge& e) { return e.kind == kind; });
    };
    QCOMPARE(count(EdgeKind::undirected), 0);
    design.rules.push_back("remove 1,0.5");
    QCOMPARE(count(EdgeKind::undirected), 0);
    QCOMPARE(count(EdgeKind::mountain) + count(EdgeKind::valley), 23);
    Project project;
    project.stock = generic_stocks().front();
    project.sheet_name = "square:180mm";
    project.pattern = design;
    project.pattern.base = std::make_shared<const CreasePattern>(drawn.healed.pattern);
    const auto back = project_from_text(project_text(project), "test");
    QVERIFY(back);
    QVERIFY(back->pattern.rules == design.rules && back->pattern.directions == design.directions);
    QVERIFY(back->pattern.base && back->pattern.base->vertices == drawn.healed.pattern.vertices);
  }
};

UC_TEST(FoldedTest)
#include "folded_test.moc"
