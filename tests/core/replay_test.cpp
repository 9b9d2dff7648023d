// Programmes followed by their sentences alone: every fold is fixed by what its sentence brings together, among what is
// on the paper then.
#include "runner.h"
#include "support.h"

#include "crease/precrease.h"
#include "divide/division.h"
#include "pattern/family.h"
#include "programme/replay.h"
#include "programme/text.h"
#include "reference/construction_programme.h"
#include "reference/polygon.h"
#include "reference/search.h"

#include <map>
#include <random>

using namespace uc;

class ReplayTest : public QObject {
  Q_OBJECT

  std::map<std::string, int> doubts_;
  int moves_ = 0;
  std::map<std::string, std::string> example_;

  void follow(const Programme& p, const std::string& what) {
    for (const Doubtful& d : doubtful_folds(p)) {
      const std::string kind = name_of(d.doubt);
      if (doubts_[kind]++ % 100 == 0)
        example_[kind] += "\n  " + what + " " + std::to_string(d.move + 1) + ": " + move_text(p, d.move);
    }
    for (const Move& m : p.moves) moves_ += m.is<MakeCreases>();
  }
  void say() {
    qInfo("%d folds", moves_);
    for (const auto& [kind, n] : doubts_) qInfo("%s: %d %s", kind.c_str(), n, example_[kind].c_str());
  }

private slots:
  void init() {
    doubts_.clear();
    example_.clear();
    moves_ = 0;
  }

  void grids() {
    for (const char* sheet : {"square:240mm", "210x297mm", "ngon:5:120mm", "ngon:6:120mm", "ngon:3:200mm"})
      for (const GridAxis axis : {GridAxis::x, GridAxis::both, GridAxis::diagonal, GridAxis::equilateral})
        for (const int parts : {2, 3, 5, 6, 7, 8, 12, 16, 49, 64})
          for (const Method method :
               {Method::best, Method::edges, Method::neighbours, Method::stepping, Method::iterated}) {
            // Led off the paper, or with no guide that can be folded: only squares are promised.
            if (axis == GridAxis::diagonal && std::string(sheet) != "square:240mm") continue;
            GridSpec spec;
            spec.axis = axis;
            spec.parts = parts;
            spec.method = method;
            const auto division = divide(parse_sheet(sheet).value(), spec, {});
            if (division)
              follow(division->programme,
                     std::string(sheet) + " " + name_of(axis) + " " + std::to_string(parts) + " " + name_of(method));
          }
    say();
    QVERIFY(moves_ > 20000 && doubts_.empty());
  }

  void references() {
    for (const char* sheet : {"square:240mm", "210x297mm"}) {
      const Polygon outline = parse_sheet(sheet)->outline();
      IndexLimits limits;
      limits.third = 400;
      limits.all = 40000;
      const auto index = SheetIndex::build(outline, limits);
      QVERIFY(index.ok());
      std::mt19937 random(3);
      std::uniform_real_distribution<double> part(0.05, 0.95);
      for (int k = 0; k < 40; ++k) {
        const Point at{part(random) * 210, part(random) * 240};
        const auto target = k % 2 == 0 ? wanted_point(outline, at) : mark_on_edge(outline, k % 4, part(random));
        const auto routes = find_routes(*index, outline, *target, {});
        if (routes)
          for (const Route& r : *routes) follow(programme_of(r, {}), std::string(sheet) + " reference");
      }
    }
    say();
    QVERIFY(moves_ > 300 && doubts_.empty());
  }

  void patterns() {
    int n = 0;
    for (const PatternFamily& f : pattern_families())
      for (const CreaseSchool school : {CreaseSchool::everything, CreaseSchool::needed, CreaseSchool::scored}) {
        if (testing::sanitized && n++ % 9 != 0) continue;
        const Polygon sheet{{0, 0}, {240, 0}, {240, 240}, {0, 240}};
        const DrawnPattern drawn = drawn_pattern(family_design(f.name, {}), sheet);
        const auto plan = precrease(drawn.healed.pattern, {}, {school, false}, drawn.design.count);
        if (plan) follow(plan->programme, f.name + " " + name_of(school));
      }
    say();
    QVERIFY(moves_ > (testing::sanitized ? 100 : 2000) && doubts_.empty());
  }

  /// What is planned wrongly is found: a corner brought to a line without its guide, a line to a crossing one, a mark
  /// moved.
  void doubts_are_found() {
    GridSpec spec;
    spec.axis = GridAxis::diagonal;
    spec.parts = 8;
    Programme p = divide(parse_sheet("square:240mm").value(), spec, {})->programme;
    QVERIFY(doubtful_folds(p).empty());
    std::size_t led = 0;
    while (p.moves[led].aligned.moving.size() < 2) ++led;
    Programme alone = p;
    alone.moves[led].aligned.moving.resize(1);
    alone.moves[led].aligned.onto.resize(1);
    auto found = doubtful_folds(alone);
    QVERIFY(found.size() == 1 && found[0].move == led && found[0].doubt == Doubt::any_crease);
    Programme moved = p;
    for (Segment& s : std::get<MakeCreases>(moved.moves[led].effect).spans)
      s = {s.from + Point{5, 0}, s.to + Point{5, 0}};
    found = doubtful_folds(moved);
    QVERIFY(!found.empty() && found[0].move == led && found[0].doubt == Doubt::no_such_crease);
    // One side onto the next: two creases halve their angles, one of them off the paper; onto a crease through the
    // middle there are two.
    spec.axis = GridAxis::x;
    spec.parts = 2;
    Programme halves = divide(parse_sheet("square:240mm").value(), spec, {})->programme;
    Move cross = halves.moves[0];
    Element middle = *halves.find(cross.aligned.moving[0]);
    middle.id = {ElementSource::pattern, 0, 1};
    middle.role = Role::crease;
    middle.existing = true;
    middle.spans = {{{0, 120}, {240, 120}}};
    halves.elements.push_back(middle);
    cross.aligned = {{*halves.moves[0].creases().makes}, {middle.id}, {}, {}};
    auto& made = std::get<MakeCreases>(cross.effect);
    made.makes = ElementId{ElementSource::pattern, 0, 2};
    made.spans = {{{0, 0}, {240, 240}}};
    halves.moves.push_back(cross);
    found = doubtful_folds(halves);
    QVERIFY(found.size() == 1 && found[0].doubt == Doubt::other_creases && found[0].others.size() == 1);
    halves.moves.back().aligned.others = {{{0, 240}, {240, 0}}}; // "The crease rises to the right."
    QVERIFY(doubtful_folds(halves).empty());
  }

  void polygons() {
    for (const char* sheet : {"square:240mm", "210x297mm", "ngon:6:120mm"})
      for (int n = 3; n <= 24; ++n) {
        const auto methods = polygon_methods(parse_sheet(sheet)->outline(), n, 0.25, nullptr);
        if (!methods) continue;
        for (const PolygonMethod& m : *methods) follow(programme_of(m, {}), std::string(sheet) + " " + m.name);
      }
    say();
    QVERIFY(moves_ > 2500 && doubts_.empty());
    QVERIFY(moves_ > 2500 && doubts_.empty());
  }
};

UC_TEST(ReplayTest)
#include "replay_test.moc"
