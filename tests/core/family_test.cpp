// Families of patterns: what is promised of every one is asked of every one in the list, at the ends of its ranges and
// at random values between.
#include "runner.h"
#include "support.h"

#include "form/proof.h"
#include "io/project_file.h"
#include "pattern/family.h"

#include <random>
#include <set>

using namespace uc;

namespace {

/// Values from the whole range of each parameter, whole where they must be.
ParameterValues random_values(const PatternFamily& family, std::mt19937& random) {
  ParameterValues values;
  for (const Parameter& p : family.parameters) {
    const bool whole = p.type == ParameterType::integer || p.type == ParameterType::choice;
    // Large counts cost seconds in the proof and show nothing new.
    const double most = p.type == ParameterType::integer ? std::min(p.most, 24.0) : p.most;
    const double v = std::uniform_real_distribution<double>(p.least, most)(random);
    values[p.name] = whole ? std::round(v) : v;
  }
  return values;
}

Polygon square_sheet(double side) { return Sheet::square(Millimetres{side}).outline(); }

} // namespace

class FamilyTest : public QObject {
  Q_OBJECT
private slots:
  void every_family_data() {
    QTest::addColumn<QString>("name");
    for (const PatternFamily& f : pattern_families()) QTest::newRow(f.name.c_str()) << QString::fromStdString(f.name);
  }
  void every_family() {
    QFETCH(QString, name);
    const PatternFamily* family = find_pattern_family(name.toStdString());
    QVERIFY(family && !family->title.empty() && !family->parameters.empty());
    std::mt19937 random(11);
    std::vector<ParameterValues> all = {normal_choice(*family).values};
    for (int i = 0; i < 12; ++i) all.push_back(random_values(*family, random));
    ParameterValues least;
    for (const Parameter& p : family->parameters) least[p.name] = p.least;
    all.push_back(least);
    ParameterValues most;
    for (const Parameter& p : family->parameters) most[p.name] = p.most;
    QVERIFY(drawn_pattern(family_design(family->name, most), square_sheet(240)).wrong.empty());
    for (const ParameterValues& values : all) {
      QString what;
      for (const auto& [n, v] : values) what += QString("%1=%2 ").arg(QString::fromStdString(n)).arg(v);
      const DrawnPattern drawn = drawn_pattern(family_design(family->name, values), square_sheet(240));
      QVERIFY2(drawn.wrong.empty(), qPrintable(what));
      QVERIFY2(drawn.healed.crossings.empty(), qPrintable(what));
      const auto& edges = drawn.healed.pattern.edges;
      const auto is = [&](EdgeKind k) {
        return std::any_of(edges.begin(), edges.end(), [&](const PatternEdge& e) { return e.kind == k; });
      };
      QVERIFY2(!is(EdgeKind::undirected) && (is(EdgeKind::mountain) || is(EdgeKind::valley)), qPrintable(what));
      if (!family->flat_foldable) continue;
      const auto proof = proved(drawn.healed);
      QVERIFY2(proof && proof->folds_flat(), qPrintable(what));
      // The sheet need not be a square: what is drawn goes on to its edges.
      for (const char* code : {"200x310mm", "310x200mm"}) {
        const DrawnPattern other = drawn_pattern(family_design(family->name, values), parse_sheet(code)->outline());
        const Point size = bounding_box(parse_sheet(code)->outline()).size();
        if (2 * size.x() / other.design.count > size.y()) continue; // not two cells high: rules say what finds no room
        const auto folded = proved(other.healed);
        QVERIFY2(other.wrong.empty() && folded && folded->folds_flat(), qPrintable(what + code));
      }
    }
  }

  /// The same family on a sheet twice as large is the same drawing, twice as large.
  void every_family_grows_with_its_sheet() {
    for (const PatternFamily& f : pattern_families()) {
      const auto small = drawn_pattern(family_design(f.name), square_sheet(120)).healed.pattern;
      const auto large = drawn_pattern(family_design(f.name), square_sheet(240)).healed.pattern;
      QCOMPARE(small.vertices.size(), large.vertices.size());
      QCOMPARE(small.edges.size(), large.edges.size());
      for (std::size_t v = 0; v < small.vertices.size(); ++v)
        QVERIFY((2 * small.vertices[v] - large.vertices[v]).norm() < 1e-9);
      for (std::size_t e = 0; e < small.edges.size(); ++e) QVERIFY(small.edges[e].kind == large.edges[e].kind);
    }
  }

  void every_parameter_reads_what_it_writes_and_refuses_the_rest() {
    std::mt19937 random(5);
    for (const PatternFamily& f : pattern_families()) {
      std::set<std::string> names;
      for (const Parameter& p : f.parameters) {
        QVERIFY2(names.insert(p.name).second, p.name.c_str());
        QVERIFY(!p.title.empty() && p.why.ends_with('.'));
        QVERIFY(p.least <= p.normal && p.normal <= p.most);
        for (int i = 0; i < 50; ++i) {
          const double v = random_values(f, random).at(p.name);
          const auto back = parse_parameter(p, parameter_text(p, v));
          QVERIFY(back && std::abs(*back - v) < 1e-5);
        }
        for (const double off : {p.least - 1, p.most + 1, std::nan("")}) {
          QVERIFY(!check_parameter(p, off));
          QVERIFY(!completed({f.name, {{p.name, off}}}));
          const DrawnPattern drawn = drawn_pattern(family_design(f.name, {{p.name, off}}), square_sheet(240));
          QVERIFY(drawn.wrong.size() == 1 && drawn.wrong[0].rule == 0);
          QVERIFY(QString::fromStdString(drawn.wrong[0].sentence).contains(QString::fromStdString(p.name)));
        }
        QVERIFY(!parse_parameter(p, "") && !parse_parameter(p, "many") && !parse_parameter(p, "1e400"));
      }
    }
    const Parameter length{"height", "Height", ParameterType::mm, 5, 500, 20, "How high it stands.", {}};
    QCOMPARE(parse_parameter(length, "2.5cm").value(), 25.0);
    QVERIFY(!parse_parameter(length, "4"));
    const Parameter choice{"centre", "Centre", ParameterType::choice, 0, 1, 0, "What lies inside.", {"open", "closed"}};
    QCOMPARE(parse_parameter(choice, "closed").value(), 1.0);
    QCOMPARE(parameter_text(choice, 1), std::string("closed"));
    const auto refused = parse_parameter(choice, "ajar");
    QVERIFY(!refused && refused.error() == "centre: \"ajar\" cannot be used; type open or closed");
  }

  void a_family_becomes_rules_without_a_crease_changing() {
    for (const PatternFamily& f : pattern_families()) {
      const DrawnPattern live = drawn_pattern(family_design(f.name), square_sheet(240));
      QVERIFY(!live.design.family && !live.design.rules.empty());
      const DrawnPattern rules = drawn_pattern(live.design, square_sheet(240));
      const PatternChange change = change_between(live, rules);
      QVERIFY(change.added == 0 && change.gone == 0 && change.turned == 0);
    }
  }

  void projects_keep_their_family() {
    Project project;
    project.stock = generic_stocks().front();
    project.sheet_name = "square:240mm";
    project.pattern = family_design("square-twists", {{"count", 24}});
    const std::string text = project_text(project);
    const auto back = project_from_text(text, "test");
    QVERIFY(back && back->pattern == project.pattern);
    for (const auto& [from, to, says] : {std::tuple{"square-twists", "round-twists", "pattern.family.name"},
                                         std::tuple{"24.0", "2400", "pattern.family.parameters.count"},
                                         std::tuple{"24.0", "\"some\"", "pattern.family.parameters.count"}}) {
      std::string broken = text;
      const auto at = broken.find(from, broken.find("\"family\""));
      broken.replace(at, std::string(from).size(), to);
      const auto read = project_from_text(broken, "test");
      QVERIFY2(!read && QString::fromStdString(read.error()).contains(says), read ? "read" : read.error().c_str());
    }
  }
};

UC_TEST(FamilyTest)
#include "family_test.moc"
