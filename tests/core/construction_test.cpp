// Targets as typed, what is creased of each line, and how constructions are told as moves.
#include "alignments.h"
#include "runner.h"
#include "support.h"

#include "programme/figure.h"
#include "programme/naming.h"
#include "programme/text.h"
#include "reference/construction_programme.h"
#include "reference/recipe.h"
#include "reference/search.h"

#include <numbers>
#include <random>

using namespace uc;
using uc::testing::gap;
using uc::testing::near;

namespace {

Polygon sheet_of(const std::string& code) { return parse_sheet(code)->outline(); }

Recipe typed(const std::string& code, const std::string& text) {
  auto recipe = parse_recipe(sheet_of(code), text);
  if (!recipe) qFatal("%s", recipe.error().c_str());
  return std::move(recipe).value();
}

struct Told {
  Programme programme;
  std::vector<std::string> sentences;
  explicit Told(const std::string& recipe, const std::string& code = "square:240mm") {
    Recipe r = typed(code, recipe);
    const Construction c = r.construction.reduced_to(r.results);
    programme = programme_of(c, needs_of(c, r.results, ConstructionErrors(c, 0.25)), r.results, HandProfile{});
    const ProgrammeTeller teller(programme);
    for (std::size_t i = 0; i < programme.moves.size(); ++i) sentences.push_back(teller.text(i));
  }
};

} // namespace

class ConstructionTest : public QObject {
  Q_OBJECT

private slots:
  void targets_are_read_data() { testing::add_rows(testing::cases("targets.json")); }
  void targets_are_read() {
    const Json c = testing::row();
    const Polygon sheet = sheet_of(c.value("sheet", "square:240mm"));
    const LengthUnit unit = named<LengthUnit>(c.value("unit", "mm")).value();
    const auto target = parse_target(sheet, c["text"].get<std::string>(), unit);
    if (c.contains("says")) {
      QVERIFY2(!target, "this should not be understood");
      QVERIFY2(target.error().find(c["says"].get<std::string>()) != std::string::npos, target.error().c_str());
      return;
    }
    QVERIFY2(target, target ? "" : target.error().c_str());
    if (c.contains("point")) {
      QVERIFY(near(target->point.x(), c["point"][0], 1e-9) && near(target->point.y(), c["point"][1], 1e-9));
    }
    if (c.contains("line")) {
      const Json& l = c["line"];
      const Line wanted =
          Line::through({l[0].get<double>(), l[1].get<double>()}, {l[2].get<double>(), l[3].get<double>()});
      QVERIFY(std::abs(wanted.distance(target->ends.from)) < 1e-9 && std::abs(wanted.distance(target->ends.to)) < 1e-9);
      for (const Point& end : {target->ends.from, target->ends.to}) {
        double off = 1e9;
        for (std::size_t i = 0; i < sheet.size(); ++i)
          off = std::min(off, std::abs(Line::through(sheet[i], sheet[(i + 1) % sheet.size()]).distance(end)));
        QVERIFY2(off < 1e-6, "a line ends on the edges of the sheet");
      }
    }
    if (c.contains("degrees")) QVERIFY(near(target->degrees, c["degrees"], 1e-12));
    // What is written about it is read back as the same.
    const auto again = parse_target(sheet, describe(*target, sheet, unit), unit);
    QVERIFY2(again, describe(*target, sheet, unit).c_str());
    QVERIFY(again->kind == target->kind);
    QVERIFY((again->point - target->point).norm() < 0.02);
    QVERIFY((again->ends.from - target->ends.from).norm() < 0.02);
  }

  void edges_are_measured_from_the_left_or_lower_end() {
    for (const char* code : {"square:240mm", "210x297mm", "ngon:3:100mm", "ngon:5:80mm", "ngon:6:60mm"}) {
      const Polygon sheet = sheet_of(code);
      for (int e = 0; e < static_cast<int>(sheet.size()); ++e) {
        const Segment s = edge_in_reading_order(sheet, e);
        const bool level = std::abs(s.from.y() - s.to.y()) < 1e-9;
        QVERIFY(level ? s.from.x() < s.to.x() : s.from.y() < s.to.y() || s.from.x() < s.to.x());
        QCOMPARE(edge_named(sheet, edge_id(sheet, e)), e);
      }
      QCOMPARE(edge_named(sheet, "elsewhere"), -1);
    }
  }

  void what_only_crosses_is_pinched() {
    Recipe r = typed("square:240mm", "c1 = O3 left right\np1 = cross c1 top\nc2 = O1 bl p1\np2 = cross c2 left\n"
                                     "c3 = O3 bottom top\np3 = cross c2 c3\nresult p3\n");
    const Construction c = r.construction.reduced_to(r.results);
    const ConstructionErrors errors(c, 0.25);
    const auto needs = needs_of(c, r.results, errors);
    QCOMPARE(needs.size(), std::size_t{3});    // what the result does not need is gone
    QVERIFY(needs[0].extent == Extent::pinch); // only its crossing with the top edge is used
    QVERIFY(needs[0].span.length() < 12);
    QVERIFY((needs[0].span.middle() - Point{120, 240}).norm() < 6);
    for (const CreaseNeed& need : needs) {
      const Segment whole = c[need.item].chord;
      for (const Point& end : {need.span.from, need.span.to}) {
        const double at = (end - whole.from).dot(whole.to - whole.from) / (whole.to - whole.from).squaredNorm();
        QVERIFY(at > -1e-9 && at < 1 + 1e-9);
        QVERIFY(std::abs(c[need.item].line.distance(end)) < 1e-9);
      }
    }
  }

  void a_crease_that_is_aligned_again_is_whole() {
    Recipe r = typed("square:240mm", "c1 = O3 left right\nc2 = O3 left c1\nresult c2\n");
    const auto needs = needs_of(r.construction, r.results, ConstructionErrors(r.construction, 0.25));
    QVERIFY(needs[0].extent == Extent::full && needs[1].extent == Extent::full);
    QVERIFY(near(needs[0].span.length(), 240, 1e-9));
  }

  void two_crossings_far_apart_leave_a_crease_between() {
    Recipe r = typed("square:240mm", "c1 = O1 bl tr\nc2 = O3 left right\nc3 = O3 left c2\np1 = cross c1 c3\n"
                                     "c4 = O3 right c2\np2 = cross c1 c4\nc5 = O2 p1 p2\nresult c5\n");
    const auto needs = needs_of(r.construction, r.results, ConstructionErrors(r.construction, 0.25));
    QVERIFY(needs[0].extent == Extent::between);
    QVERIFY(near(needs[0].span.length(), 120 * std::numbers::sqrt2, 12));
  }

  void a_pinch_is_as_long_as_the_hand_is_unsteady() {
    Recipe r = typed("square:240mm", "c1 = O3 left right\np1 = cross c1 top\nresult p1\n");
    const auto steady = needs_of(r.construction, r.results, ConstructionErrors(r.construction, 0.1));
    const auto unsteady = needs_of(r.construction, r.results, ConstructionErrors(r.construction, 2));
    QVERIFY(unsteady[0].span.length() > steady[0].span.length());
    QVERIFY(unsteady[0].span.length() > 3 * 2); // three standard errors of what has to hit it
  }

  void marks_from_outside_bring_their_own_error() {
    Construction c(sheet_of("square:240mm"));
    const int mark = c.mark(c.edge(0), {80, 0}, 0.3);
    QVERIFY(near(ConstructionErrors(c, 0.25).sigma_of_point(mark), 0.3, 1e-12));
    const int crease = c.fold(Alignment::O2, {c.corner(0), mark}, {-1, -1}).value();
    const int middle = c.cross(crease, c.edge(0)).value();
    // Half the mark's error, and the fold's own.
    QVERIFY(near(std::pow(ConstructionErrors(c, 0.25).sigma_of_point(middle), 2), 0.3 * 0.3 / 4 + 0.0625, 1e-9));
    const int old = c.given_line({{0, 60}, {240, 60}});
    QVERIFY(near(ConstructionErrors(c, 0.25).of(old).norm(), 0, 1e-15));
    QCOMPARE(c.same_line(Line::through({240, 60}, {0, 60})), old);
    QCOMPARE(c.find("bl"), 0);
    QCOMPARE(c.find("nowhere"), -1);
  }

  void choices_are_counted() {
    Recipe r = typed("square:240mm", "c1 = O3 left right\nc2 = O1 bl tr\nc3 = O3 c1 c2\nc4 = O5 br bl c1\nresult c4\n");
    const Construction& c = r.construction;
    QCOMPARE(c.others(c[c.find("c1")]).size(), std::size_t{0});
    QCOMPARE(c.others(c[c.find("c3")]).size(), std::size_t{1});
    // It halves the angle of the two lines the other way: square to the one that was made.
    const Segment other = c.others(c[c.find("c3")]).front();
    QVERIFY(near(c[c.find("c3")].line.direction().dot((other.to - other.from).normalized()), 0, 1e-9));
    QCOMPARE(c.others(c[c.find("c4")]).size(), std::size_t{0}); // the corner would come onto the crease below the sheet
  }

  void every_alignment_has_its_sentence_data() { testing::add_rows(testing::cases("alignment_sentences.json")); }
  void every_alignment_has_its_sentence() {
    const Json c = testing::row();
    const Told told(c["recipe"].get<std::string>());
    const auto& wanted = c["sentences"];
    QCOMPARE(told.sentences.size(), wanted.size());
    for (std::size_t i = 0; i < wanted.size(); ++i)
      QVERIFY2(told.sentences[i] == wanted[i].get<std::string>(), told.sentences[i].c_str());
  }

  void creases_and_marks_are_named_in_drawings() {
    const Told told("c1 = O3 left right\np1 = cross c1 top\nc2 = O2 br p1\np2 = cross c2 right\nresult p2\n");
    const Figure all = labelled_figure(told.programme);
    QCOMPARE(all.labels.size(), std::size_t{4}); // creases 1 and 2, marks A and B
    QCOMPARE(all.dots.size(), std::size_t{2});
    const Figure move = move_figure(told.programme, 1);
    QCOMPARE(move.arrows.size(), std::size_t{1});
    QVERIFY((move.arrows[0].from - Point{240, 0}).norm() < 1e-9);
    QVERIFY((move.arrows[0].to - Point{120, 240}).norm() < 1e-9);
    QVERIFY(!move.flap.empty());
    QVERIFY(move_figure(told.programme, 2).arrows.empty()); // the last only shows the mark
    QCOMPARE(ProgrammeTeller(told.programme).short_text(1), std::string("crease 2"));
    QCOMPARE(ProgrammeTeller(told.programme).short_text(2), std::string("mark B"));
  }

  void two_points_at_once_have_two_arrows() {
    const Told told("c1 = O3 bottom top\nc2 = O3 bottom c1\np1 = cross c1 left\nc3 = O5/1 tl bl c1\nc4 = O6 bl p1 c2 "
                    "c3\nresult c4\n");
    QCOMPARE(move_figure(told.programme, 3).arrows.size(), std::size_t{2});
    const Told square("c1 = O1 bl tr\nc2 = O4 br c1\nresult c2\n");
    const Figure onto_itself = move_figure(square.programme, 1);
    QCOMPARE(onto_itself.arrows.size(), std::size_t{1});
    QVERIFY((onto_itself.arrows[0].from - onto_itself.arrows[0].to).norm() > 50);
  }

  void moves_keep_their_order_where_marks_need_it() {
    const Told told(
        "c1 = O3 left right\np1 = cross c1 top\nc2 = O2 br p1\nc3 = O3 bottom top\np2 = cross c2 c3\nresult p2\n");
    QCOMPARE(told.programme.moves.size(), std::size_t{4});
    QVERIFY(!may_reorder(told.programme, 1, 0)); // crease 2 needs the mark on crease 1
    QVERIFY(may_reorder(told.programme, 2, 0));  // crease 3 needs neither
    QVERIFY(!may_reorder(told.programme, 3, 0)); // nothing before it, everything for it
    const Programme other = reordered(told.programme, 2, 0);
    QVERIFY(move_text(other, 0).find("Bring the top edge") == 0 ||
            move_text(other, 0).find("Bring the bottom edge") == 0);
  }

  void labels_survive_the_file() {
    const Told told("c1 = O3 left right\np1 = cross c1 top\nc2 = O5 br bl c1\np2 = cross c2 right\nresult p2\n");
    const auto again = parse_programme(json_of(told.programme).dump(), "test");
    QVERIFY(again);
    QVERIFY(json_of(*again) == json_of(told.programme));
    for (std::size_t i = 0; i < told.sentences.size(); ++i) QCOMPARE(move_text(*again, i), told.sentences[i]);
  }

  void other_sheets_name_edges_and_corners_by_letter() {
    const Told told("c1 = O2 v1 v2\nc2 = O3 e1 e3\nresult c2\n", "ngon:6:80mm");
    QVERIFY2(told.sentences[0].find("edge a to edge b") != std::string::npos, told.sentences[0].c_str());
    const Told corner("c1 = O2 v1 v3\nresult c1\n", "ngon:6:80mm");
    QVERIFY(corner.sentences[0].find("corner A to corner B") != std::string::npos);
  }

  void mark_labels_run_on() {
    QCOMPARE(capital_letter(0), std::string("A"));
    QCOMPARE(capital_letter(25), std::string("Z"));
    QCOMPARE(capital_letter(26), std::string("A2"));
  }

  void weakest_moves_say_why() {
    std::mt19937_64 random(8);
    const auto index = [] {
      IndexLimits limits;
      limits.third = 300;
      limits.all = 30000;
      return std::move(SheetIndex::build(sheet_of("square:240mm"), limits)).value();
    }();
    int reasons = 0;
    for (int i = 0; i < 12; ++i) {
      std::uniform_real_distribution<double> u(0.05, 0.95);
      const auto routes =
          find_routes(index, sheet_of("square:240mm"), *mark_on_edge(sheet_of("square:240mm"), i % 4, u(random)), {});
      for (const Route& r : *routes) {
        QVERIFY(r.weakest >= 0 && r.weakest < r.construction.size());
        const std::string why = weakness_text(r);
        QCOMPARE(why.empty(), r.weakness == Weakness::none);
        reasons += !why.empty();
      }
    }
    QVERIFY(reasons > 0);
  }
};

UC_TEST(ConstructionTest)
#include "construction_test.moc"
