// check, count, assign and fold as scripts see them: fields, exit codes, one line on standard error.
#include "caller.h"
#include "io/pattern_json.h"
#include "patterns.h"
#include "runner.h"

#include <QtTest>

#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>
#include <set>

using namespace uc;
using uc::testing::Caller;

class PatternContractTest : public QObject {
  Q_OBJECT

  Caller call_;
  [[nodiscard]] QString path(const QString& name) const { return call_.home() + "/" + name; }
  QString written(const QString& name, const CreasePattern& p) const {
    const bool ok = write_atomically(path(name).toStdString(), pattern_json(p)).ok();
    return ok ? path(name) : QString();
  }
  static Json json(const testing::Outcome& o) {
    const Json j = testing::parsed(o.out.toStdString());
    testing::only_finite(j);
    return j;
  }

  /// The sides of the least rectangle about a folded form as it was written, by trying many directions and
  /// those of all edges.
  static std::array<double, 2> size_of(const Json& form) {
    std::vector<std::array<double, 2>> points, directions;
    for (const Json& f : form["faces"]) {
      const Json& m = f["isometry"];
      const std::size_t first = points.size();
      for (const Json& v : f["vertices"]) {
        const double x = form["vertices"][v.get<std::size_t>()][0];
        const double y = form["vertices"][v.get<std::size_t>()][1];
        points.push_back({m[0].get<double>() * x + m[1].get<double>() * y + m[4].get<double>(),
                          m[2].get<double>() * x + m[3].get<double>() * y + m[5].get<double>()});
      }
      for (std::size_t i = first; i < points.size(); ++i) {
        const auto& next = points[i + 1 < points.size() ? i + 1 : first];
        const double dx = next[0] - points[i][0];
        const double dy = next[1] - points[i][1];
        directions.push_back({dx / std::hypot(dx, dy), dy / std::hypot(dx, dy)});
      }
    }
    // A side of the hull along which no edge lies is met to a hundredth of a degree.
    for (int i = 0; i < 18000; ++i)
      directions.push_back({std::cos(i * 3.14159265358979 / 18000), std::sin(i * 3.14159265358979 / 18000)});
    std::array<double, 2> best{1e150, 1e150};
    for (const auto& d : directions) {
      double low[2] = {1e300, 1e300};
      double high[2] = {-1e300, -1e300};
      for (const auto& p : points) {
        const double along[2] = {p[0] * d[0] + p[1] * d[1], p[1] * d[0] - p[0] * d[1]};
        for (int i = 0; i < 2; ++i) {
          low[i] = std::min(low[i], along[i]);
          high[i] = std::max(high[i], along[i]);
        }
      }
      const double w = high[0] - low[0];
      const double h = high[1] - low[1];
      if (w * h < best[0] * best[1]) best = {std::max(w, h), std::min(w, h)};
    }
    return best;
  }

private slots:
  void check_proves_a_chevron() {
    const auto o = call_({"check", written("c.json", testing::chevron_pattern(4, 4)), "--json"});
    QCOMPARE(o.exit, 0);
    QVERIFY(o.err.isEmpty());
    const Json j = json(o);
    QCOMPARE(j["vertices"].get<int>(), 25);
    QCOMPARE(j["edges"].get<int>(), 40);
    QCOMPARE(j["faces"].get<int>(), 16);
    QVERIFY(j["violations"].empty());
    QVERIFY(j["locally_flat_foldable"].get<bool>());
    QVERIFY(j["layers"]["status"] == "found");
    QCOMPARE(j["layers"]["max"].get<int>(), 16);
    QVERIFY(j["layers"]["clash"].empty());
    const auto quick = call_({"check", path("c.json"), "--no-layers", "--json"});
    QCOMPARE(quick.exit, 0);
    QVERIFY(json(quick)["layers"]["status"] == "not-tried");
  }

  void check_says_no() {
    const auto local =
        call_({"check", written("l.json", testing::vertex_pattern({61, 80, 120, 99}, "MVMM")), "--json"});
    QCOMPARE(local.exit, 1);
    const Json v = json(local)["violations"];
    QCOMPARE(v.size(), std::size_t{1});
    QVERIFY(v[0]["rule"] == "kawasaki");
    QCOMPARE(v[0]["vertex"].get<int>(), 0);
    QVERIFY(std::abs(v[0]["defect_deg"].get<double>() - 2) < 1e-9);
    QVERIFY(json(local)["layers"]["status"] == "not-tried");
    const auto whole =
        call_({"check", written("w.json", testing::vertex_pattern({90, 80, 50, 45, 40, 55}, "VMMMVM")), "--json"});
    QCOMPARE(whole.exit, 1);
    QVERIFY(json(whole)["layers"]["status"] == "impossible");
    QVERIFY(json(whole)["layers"]["clash"].size() >= 3);
    CreasePattern crossed = testing::map_pattern(1, 1);
    crossed.edges.push_back({0, 3, EdgeKind::valley});
    crossed.edges.push_back({1, 2, EdgeKind::valley});
    const auto x = call_({"check", written("x.json", crossed), "--json"});
    QCOMPARE(x.exit, 1);
    QVERIFY(json(x)["violations"][0]["vertex"].is_null());
    QVERIFY(json(x)["violations"][0]["rule"] == "crossing");
    QCOMPARE(json(x)["violations"][0]["x"].get<double>(), 5.0);
  }

  void counts_are_decimal_strings() {
    const auto o = call_({"count", written("m.json", testing::map_pattern(3, 3)), "--json"});
    QCOMPARE(o.exit, 0);
    QVERIFY(json(o) == testing::parsed(R"({"states":"1368"})"));
    const auto none = call_({"count", written("n.json", testing::vertex_pattern({61, 80, 120, 99}, "UUUU")), "--json"});
    QCOMPARE(none.exit, 0);
    QVERIFY(json(none)["states"] == "0");
  }

  void assign_directs_and_fold_draws() {
    const QString in = written("u.json", testing::twist_pattern(2));
    QCOMPARE(call_({"assign", in, "-o", path("d.json")}).exit, 0);
    QCOMPARE(call_({"check", path("d.json")}).exit, 0);
    QCOMPARE(call_({"assign", in, "-o", path("d2.json")}).exit, 0);
    QVERIFY(*read_file(path("d.json").toStdString()) == *read_file(path("d2.json").toStdString()));
    QCOMPARE(call_({"fold", path("d.json"), "-o", path("f.json")}).exit, 0);
    const Json f = testing::parsed(*read_file(path("f.json").toStdString()));
    testing::only_finite(f);
    QVERIFY(f["format"] == "under-crease/folded");
    const auto pattern = parse_pattern_json(*read_file(path("d.json").toStdString()));
    QVERIFY(f["vertices"].size() == pattern->vertices.size());
    // Face 0 keeps its place; every isometry keeps lengths; shared vertices come together.
    QVERIFY(f["faces"][0]["isometry"] == testing::parsed("[1.0,0.0,0.0,1.0,0.0,0.0]"));
    std::map<int, Point> placed;
    for (const Json& face : f["faces"]) {
      const auto m = face["isometry"].get<std::vector<double>>();
      QVERIFY(std::abs(std::abs(m[0] * m[3] - m[1] * m[2]) - 1) < 1e-9);
      for (const int v : face["vertices"].get<std::vector<int>>()) {
        const Point p = pattern->vertices[static_cast<std::size_t>(v)];
        const Point q{m[0] * p.x() + m[1] * p.y() + m[4], m[2] * p.x() + m[3] * p.y() + m[5]};
        if (placed.contains(v)) QVERIFY((placed[v] - q).norm() < 1e-6);
        placed[v] = q;
      }
    }
    std::set<std::pair<int, int>> pairs;
    for (const Json& a : f["above"]) {
      const int u = a[0].get<int>();
      const int l = a[1].get<int>();
      QVERIFY(pairs.insert({std::min(u, l), std::max(u, l)}).second);
    }
    QCOMPARE(call_({"fold", path("d.json"), "-o", path("f.svg")}).exit, 0);
    QVERIFY(QString::fromStdString(*read_file(path("f.svg").toStdString())).contains("</svg>"));
    QCOMPARE(call_({"fold", path("w.json"), "-o", path("never.svg")}).exit, 1);
    QVERIFY(!QFile::exists(path("never.svg")));
    const auto stuck = call_({"assign", path("w.json"), "-o", path("never.json"), "--json"});
    QCOMPARE(stuck.exit, 1);
    QVERIFY(!json(stuck)["contradiction"].empty());
    QVERIFY(json(stuck)["contradiction_smallest"].get<bool>());
    const auto why = call_({"assign", path("w.json"), "-o", path("never.json")});
    QVERIFY(why.out.contains("no fewer contradict each other"));
    // At true scale, for the printer.
    QCOMPARE(call_({"fold", path("d.json"), "-o", path("f.pdf"), "--behind"}).exit, 0);
    QVERIFY(read_file(path("f.pdf").toStdString())->starts_with("%PDF"));
    QCOMPARE(call_({"fold", path("d.json"), "-o", path("f.png")}).exit, 2);
    // A wish is kept as far as it can be, and it is said that nothing keeps more.
    const auto wished = call_({"assign", written("m.json", testing::map_pattern(3, 2)), "-o", path("m2.json"),
                               "--prefer", "few-changes", "--json"});
    QCOMPARE(wished.exit, 0);
    QVERIFY(json(wished)["most_wishes"].get<bool>());
  }

  void drawings_are_read_and_written() {
    const QString json_file = written("c2.json", testing::chevron_pattern(3, 3));
    QCOMPARE(call_({"assign", json_file, "-o", path("c2.svg")}).exit, 0);
    QCOMPARE(call_({"assign", json_file, "-o", path("c2.dxf")}).exit, 0);
    QCOMPARE(call_({"assign", json_file, "-o", path("c2.pdf")}).exit, 0);
    for (const char* name : {"c2.svg", "c2.dxf"}) {
      const auto o = call_({"check", path(name), "--json"});
      QCOMPARE(o.exit, 0);
      QCOMPARE(json(o)["faces"].get<int>(), 9);
    }
  }

  void families_are_listed_and_fold_flat() {
    const auto list = call_({"pattern", "--list", "--json"});
    QCOMPARE(list.exit, 0);
    const Json families = json(list)["families"];
    QVERIFY(families.size() >= 4);
    for (const Json& f : families) {
      const QString name = QString::fromStdString(f["name"].get<std::string>());
      const bool sized = std::any_of(f["parameters"].begin(), f["parameters"].end(),
                                     [](const Json& p) { return p["name"] == "size"; });
      QStringList args{"pattern", name, "-o", path(name + ".json"), "--json"};
      if (sized)
        args << "--set"
             << "size=200mm";
      const auto o = call_(args);
      QVERIFY2(o.exit == 0, o.err.constData());
      const Json j = json(o);
      QVERIFY(j["creases"].get<int>() > 0 && j["sheet_mm"].size() == 2);
      QVERIFY2(!sized || std::max(j["sheet_mm"][0].get<double>(), j["sheet_mm"][1].get<double>()) > 199,
               qPrintable(name));
      if (f["group"] == "box" && !f["flat_foldable"].get<bool>())
        QVERIFY2(j["inside_mm"].size() == 3, qPrintable(name));
      if (f["group"] == "wrap") QVERIFY(j["packed_mm"].size() == 2 && j["turns"].get<double>() > 0);
      if (!f["flat_foldable"].get<bool>()) continue;
      QVERIFY2(j["finished_mm"].is_array(), qPrintable(name));
      QVERIFY2(j["layers_max"].get<int>() > 1, qPrintable(name));
      const auto checked = call_({"check", path(name + ".json"), "--json"});
      QCOMPARE(checked.exit, 0);
      const QString folded = path(name + "-folded.json");
      QCOMPARE(call_({"fold", path(name + ".json"), "-o", folded, "--json"}).exit, 0);
      const Json form = testing::parsed(*read_file(folded.toStdString()));
      const std::array<double, 2> size = size_of(form);
      for (const Json& told : {j["finished_mm"], json(checked)["layers"]["folded_mm"], form["folded_mm"]}) {
        for (std::size_t i = 0; i < 2; ++i)
          QVERIFY2(std::abs(told[i].get<double>() - size[i]) < 0.1,
                   qPrintable(name + QStringLiteral(": %1 for %2").arg(told[i].get<double>()).arg(size[i])));
      }
    }
  }

  void sizes_are_worked_back() {
    const auto figures = [&](const QStringList& args) {
      const auto o = call_(QStringList{"pattern"} + args + QStringList{"--json"});
      return o.exit == 0 ? json(o) : Json();
    };
    const auto near = [](const Json& v, double wanted) { return std::abs(v.get<double>() - wanted) < 1e-6; };
    QVERIFY(near(figures({"chevron", "--finished", "5cm"})["finished_mm"][0], 50));
    QVERIFY(near(figures({"wrap", "--finished", "80mm"})["packed_mm"][0], 80));
    const Json swept = figures({"chevron", "--try", "count", "--set", "count=10"});
    QVERIFY(swept["tried"].size() > 10);
    for (const Json& v : swept["tried"])
      if (v["refused"].is_null()) QVERIFY(near(v["pleat_mm"], 240 / v["value"].get<double>()));
    const Json cut = figures({"chevron", "--stock", "Kraft wrapping"})["cut_from"];
    QVERIFY(cut["pieces"] == 8 && near(cut["left_over"], 1 - 8 * 240.0 * 240 / 700'000));
    const Json tray = figures({"tray", "--inside", "90x70x30mm"});
    QVERIFY(near(tray["inside_mm"][1], 70) && near(tray["sheet_mm"][0], 150) && near(tray["sheet_mm"][1], 130));
    const Json blintz = figures({"blintz-tray", "--inside", "90x70x30mm"});
    QVERIFY(near(blintz["inside_mm"][0], 90) && near(blintz["sheet_mm"][0], 90 * 2 * std::sqrt(2.0)));
    const Json lid = figures({"box-lid", "--inside", "90x70x12mm"});
    QVERIFY(near(lid["inside_mm"][0], 90) && near(lid["inside_mm"][1], 70));
    const Json cone = figures({"accordion-strip", "--set", "part=10", "--set", "parts=24", "--set", "cone_parts=5"});
    QVERIFY(near(cone["closing_parts"], std::numbers::pi / std::atan(10 / 74.641016)));
    QVERIFY(cone["cone"]["half_angle_deg"].get<double>() < cone["cone"]["faceted_half_angle_deg"].get<double>());
    QVERIFY(figures({"triangle-sink", "--stock", "Tissue"})["thickness_mm"].get<double>() > 0);
    for (const auto& [args, says] : {std::pair{QStringList{"chevron", "--inside", "3x3x3"}, "has no inside"},
                                     {{"tray", "--inside", "9x9"}, "width x depth x height"},
                                     {{"chevron", "--try", "roof"}, "has no such parameter"},
                                     {{"tray", "--finished", "1", "--inside", "9x9x9"}, "one of them"},
                                     {{"square-wrap", "--set", "hub=32"}, "leave no room"},
                                     {{"box-lid", "--set", "clearance=0.05"}, "less than the paper"},
                                     {{"tray", "--set", "size=100"}, "has the parameters"},
                                     {{"map", "--stock", "gold"}, "there are"}}) {
      const auto o = call_(QStringList{"pattern"} + args + QStringList{"--json"});
      QCOMPARE(o.exit, 2);
      QVERIFY2(o.err.count('\n') == 1 && o.err.contains(says), o.err.constData());
      QVERIFY(o.out.isEmpty());
    }
  }

  void rules_and_conversions() {
    QVERIFY(write_atomically(path("r.txt").toStdString(),
                             "# pleats\nline 0,1 along 1,0 mountain\n\ncopy 0,1 times 2 alternating\n"));
    const auto o = call_(
        {"pattern", "--rules", path("r.txt"), "--sheet", "100x80mm", "--count", "10", "-o", path("r.svg"), "--json"});
    QCOMPARE(o.exit, 0);
    QCOMPARE(json(o)["creases"].get<int>(), 3);
    QCOMPARE(call_({"pattern", "--from", path("r.svg"), "-o", path("r.dxf")}).exit, 0);
    QCOMPARE(json(call_({"check", path("r.dxf"), "--json"}))["layers"]["max"].get<int>(), 4);
    QVERIFY(write_atomically(path("bad.txt").toStdString(), "line 0,1 along 1,0\nline 0,2\n"));
    const auto bad = call_({"pattern", "--rules", path("bad.txt"), "-o", path("never.svg")});
    QCOMPARE(bad.exit, 2);
    QVERIFY(bad.err.contains("bad.txt:2: line: say which way it goes"));
    for (const QStringList& args : {QStringList{"pattern"},
                                    {"pattern", "blob", "-o", "x.svg"},
                                    {"pattern", "map", "--set", "count=99", "-o", "x.svg"},
                                    {"pattern", "map"},
                                    {"pattern", "map", "--set", "colour=3", "-o", "x.svg"},
                                    {"pattern", "map", "--count", "8", "-o", "x.svg"},
                                    {"pattern", "map", "--sheet", "a4", "-o", "x.svg"},
                                    {"pattern", "--rules", path("r.txt"), "--set", "count=8", "-o", "x.svg"},
                                    {"pattern", "--rules", path("r.txt"), "--map", "colour:red=cut", "-o", "x.svg"}}) {
      const auto wrong = call_(args);
      QCOMPARE(wrong.exit, 2);
      QCOMPARE(wrong.err.count('\n'), 1);
    }
  }

  void pre_creasing_is_planned_and_printed() {
    QCOMPARE(call_({"pattern", "square-twists", "--set", "count=12", "-o", path("t.json")}).exit, 0);
    std::map<std::string, Json> by_school;
    for (const char* school : {"everything", "needed", "scored", "as-you-go"}) {
      const auto o = call_({"pre-crease", path("t.json"), "--school", school, "--grid", "12", "--json"});
      QCOMPARE(o.exit, 0);
      const Json j = json(o);
      QCOMPARE(j["schools"].size(), std::size_t{4}); // it has twists
      by_school[school] = j;
      std::size_t folds = 0;
      for (const Json& s : j["steps"]) {
        QVERIFY(!s["text"].get<std::string>().empty());
        folds += s.contains("spans") && s["kind"] != "work-both-ways";
      }
      for (const Json& costs : j["schools"]) {
        if (costs["school"] != school) continue;
        QCOMPARE(costs["moves"].get<std::size_t>(), j["steps"].size());
        QCOMPARE(costs["folds"].get<std::size_t>(), folds);
        QVERIFY(costs["turn_overs"].get<int>() <= 1 || costs["school"] == "as-you-go");
      }
    }
    // The costs of all three are the same whichever is asked for.
    QVERIFY(by_school["needed"]["schools"] == by_school["scored"]["schools"]);
    const Json& all = by_school["needed"]["schools"];
    QVERIFY(all[0]["scar_mm"] > all[1]["scar_mm"]);
    QVERIFY(all[2]["scar_mm"].get<double>() < 1e-3);
    const auto either = call_({"pre-crease", path("t.json"), "--grid", "12", "--either-side", "--json"});
    QCOMPARE(either.exit, 0);
    const Json fewer = json(either)["schools"];
    for (const std::size_t i : {std::size_t{0}, std::size_t{1}}) {
      QVERIFY(fewer[i]["rotations"].get<int>() < all[i]["rotations"].get<int>());
      QVERIFY(fewer[i]["folds"] == all[i]["folds"]);
    }
    QCOMPARE(call_({"pre-crease", path("t.json"), "-o", path("t.pdf")}).exit, 0);
    QCOMPARE(call_({"pre-crease", path("t.json"), "-o", path("t.html")}).exit, 0);
    QVERIFY(QFile(path("t.pdf")).size() > 1000 && QFile(path("t.html")).size() > 1000);
    for (const auto& [arguments, word] :
         std::vector<std::pair<QStringList, QString>>{{{path("t.json"), "--school", "some"}, "--school"},
                                                      {{path("t.json"), "--sigma", "x"}, "--sigma"},
                                                      {{path("t.json"), "--grid", "1000"}, "--grid"},
                                                      {{path("t.json"), "-o", path("t.png")}, ".pdf"},
                                                      {{path("none.json")}, "none.json"}}) {
      const auto o = call_(QStringList{"pre-crease"} + arguments);
      QCOMPARE(o.exit, 2);
      QVERIFY2(o.err.contains(word.toUtf8()) && o.err.count('\n') == 1, o.err.constData());
    }
  }

  void what_was_mended_is_said() {
    CreasePattern p = testing::map_pattern(2, 1);
    p.vertices.emplace_back(10, 0);
    p.edges.push_back({1, 6, EdgeKind::valley});
    const auto o = call_({"check", written("r.json", p), "--json"});
    QCOMPARE(o.exit, 0);
    QCOMPARE(json(o)["repairs"].size(), std::size_t{2});
    QCOMPARE(o.err.count('\n'), 2);
  }

  void wrong_calls_data() {
    QTest::addColumn<QStringList>("args");
    QTest::addColumn<QString>("says");
    QTest::newRow("no file") << QStringList{"check", "/nowhere/x.json"} << "/nowhere/x.json";
    QTest::newRow("ending") << QStringList{"check", "x.txt"} << "end in .json, .svg or .dxf";
    QTest::newRow("seconds") << QStringList{"check", "@bad.json", "--seconds", "-1"} << "--seconds -1";
    QTest::newRow("content") << QStringList{"count", "@bad.json"} << "bad.json:2: edge 0 names vertex 7";
    QTest::newRow("map") << QStringList{"check", "@bad.json", "--map", "blue"} << "--map: \"blue\" is not a mapping";
    QTest::newRow("output") << QStringList{"fold", "@bad.json", "-o", "x.png"} << "-o x.png";
    QTest::newRow("no output") << QStringList{"assign", "@bad.json"} << "--output";
  }
  void wrong_calls() {
    QFETCH(QStringList, args);
    QFETCH(QString, says);
    QVERIFY(write_atomically(
        path("bad.json").toStdString(),
        "{\"format\":\"under-crease/pattern\",\"version\":1,\"vertices\":[[0,0]],\n\"edges\":[[0,7,\"raw\"]]}"));
    if (args.contains("--seconds")) written("bad.json", testing::map_pattern(1, 1));
    for (QString& a : args) {
      if (a.startsWith('@')) a = path(a.mid(1));
    }
    const auto o = call_(args);
    QCOMPARE(o.exit, 2);
    QVERIFY(o.out.isEmpty());
    QCOMPARE(o.err.count('\n'), 1);
    QVERIFY2(o.err.contains(says.toUtf8()), o.err.constData());
  }
};

UC_TEST(PatternContractTest)
#include "pattern_contract_test.moc"
