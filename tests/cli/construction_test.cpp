// reference and polygon from outside: every document is folded again from nothing but its own words.
#include "alignments.h"
#include "caller.h"

#include "reference/polygon.h"
#include "runner.h"

#include <QFile>

#include <map>
#include <numbers>

using namespace uc;
using uc::testing::misfit;
using uc::testing::near;
using uc::testing::only_finite;
using uc::testing::Outcome;

namespace {

struct Replayed {
  std::map<std::string, Point> points;
  std::map<std::string, Line> lines;
  std::map<std::string, Json> creases;
  int made = 0;
  int pinches = 0;
};

Line line_of(const Json& j) { return {Point{j[0].get<double>(), j[1].get<double>()}, j[2].get<double>()}; }

/// Checks each step against what its inputs are in this document.
void replay(const Json& steps, double w, double h, Replayed& r) {
  r.points = {{"bl", {0, 0}}, {"br", {w, 0}}, {"tr", {w, h}}, {"tl", {0, h}}};
  r.lines = {
      {"bottom", {Point{0, 1}, 0}}, {"right", {Point{1, 0}, w}}, {"top", {Point{0, 1}, h}}, {"left", {Point{1, 0}, 0}}};
  const double size = std::hypot(w, h);
  for (const Json& s : steps) {
    const std::string id = s["id"];
    QVERIFY2(!r.points.count(id) && !r.lines.count(id), id.c_str());
    if (s["op"] == Json("cross")) {
      const Point p{s["point"][0].get<double>(), s["point"][1].get<double>()};
      for (const Json& l : s["lines"]) {
        QVERIFY2(r.lines.count(l), "a crossing of lines that are there");
        QVERIFY(std::abs(r.lines[l].distance(p)) < 1e-7 * size);
        const Json crease = r.creases.count(l) ? r.creases[l] : Json();
        if (crease.is_null() || crease["extent"] == Json("full")) continue;
        const Json& span = crease["span"];
        const Point a{span[0].get<double>(), span[1].get<double>()};
        const Point b{span[2].get<double>(), span[3].get<double>()};
        const double at = (p - a).dot(b - a) / (b - a).squaredNorm();
        QVERIFY2(at > -1e-9 && at < 1 + 1e-9, "the span holds the crossing");
      }
      r.points[id] = p;
      continue;
    }
    const auto op = named<Alignment>(s["op"].get<std::string>());
    QVERIFY(op.has_value());
    AlignmentInputs in;
    QCOMPARE(s["points"].size(), static_cast<std::size_t>(point_inputs(*op)));
    QCOMPARE(s["lines"].size(), static_cast<std::size_t>(line_inputs(*op)));
    for (std::size_t i = 0; i < s["points"].size(); ++i) {
      QVERIFY(r.points.count(s["points"][i]));
      in.points[i] = r.points[s["points"][i]];
    }
    for (std::size_t i = 0; i < s["lines"].size(); ++i) {
      QVERIFY(r.lines.count(s["lines"][i]));
      in.lines[i] = r.lines[s["lines"][i]];
    }
    const Line line = line_of(s["line"]);
    QVERIFY(near(line.normal.norm(), 1, 1e-12));
    QVERIFY2(misfit(*op, in, line) < 1e-7 * size, s.dump().c_str());
    QVERIFY(!s["text"].get<std::string>().empty());
    const std::string extent = s["extent"];
    QVERIFY(extent == "full" || extent == "pinch" || extent == "between");
    QCOMPARE(s.contains("span"), extent != "full");
    r.pinches += extent == "pinch";
    r.lines[id] = line;
    r.creases[id] = s;
    ++r.made;
  }
}

double error_of_line(const Line& line, const Segment& ends) {
  return std::max(std::abs(line.distance(ends.from)), std::abs(line.distance(ends.to)));
}

} // namespace

class ConstructionTest : public QObject {
  Q_OBJECT
  const testing::Caller call;

private slots:
  void references_data() { testing::add_rows(testing::cases("cli_references.json")); }
  void references() {
    const Json c = testing::row();
    QStringList args{"reference"};
    for (const Json& a : c["args"]) args << QString::fromStdString(a);
    args << "--json";
    const Outcome o = call(args);
    QVERIFY2(o.exit == 0, o.err.constData());
    QVERIFY(o.err.isEmpty());
    const Json j = testing::parsed(o.out.toStdString());
    only_finite(j);
    QVERIFY(!j["routes"].empty());
    double last = 0;
    for (const Json& route : j["routes"]) {
      Replayed r;
      replay(route["steps"], c["sheet"][0], c["sheet"][1], r);
      QVERIFY(route["creases"] == Json(r.made));
      QVERIFY(route["pinches"] == Json(r.pinches));
      QVERIFY(r.made <= c.value("max", 4));
      const double error = route["error_mm"];
      const double total = std::hypot(error, route["sigma_mm"].get<double>());
      QVERIFY(total >= last * (1 - 1e-9));
      last = total;
      if (c.contains("point")) {
        const Point p{route["result"]["point"][0].get<double>(), route["result"]["point"][1].get<double>()};
        QVERIFY(near((p - Point{c["point"][0].get<double>(), c["point"][1].get<double>()}).norm(), error, 1e-9));
        QVERIFY(std::any_of(r.points.begin(), r.points.end(), [&](auto& known) { return known.second == p; }));
      } else if (c.contains("ends")) {
        const Json& e = c["ends"];
        const Segment ends{{e[0].get<double>(), e[1].get<double>()}, {e[2].get<double>(), e[3].get<double>()}};
        QVERIFY(near(error_of_line(line_of(route["result"]["line"]), ends), error, 1e-9));
      } else {
        const Point d = line_of(route["result"]["line"]).direction();
        double turn = std::abs(std::atan2(d.y(), d.x()) * 180 / std::numbers::pi - c["degrees"].get<double>());
        turn = std::min(std::fmod(turn, 180), 180 - std::fmod(turn, 180));
        const double longer = std::max(c["sheet"][0].get<double>(), c["sheet"][1].get<double>());
        QVERIFY(near(longer * std::tan(turn * std::numbers::pi / 180), error, 1e-7));
      }
      for (const Json& box : c.value("clean", Json::array())) {
        const Box area{{box[0].get<double>(), box[1].get<double>()}, {box[2].get<double>(), box[3].get<double>()}};
        for (const Json& s : route["steps"]) {
          if (!s.contains("line")) continue;
          Segment span;
          if (s.contains("span"))
            span = {{s["span"][0].get<double>(), s["span"][1].get<double>()},
                    {s["span"][2].get<double>(), s["span"][3].get<double>()}};
          else
            span = chord(line_of(s["line"]), Sheet::rectangle(Millimetres{c["sheet"][0].get<double>()},
                                                              Millimetres{c["sheet"][1].get<double>()})
                                                 .outline())
                       .value();
          double kept = 0;
          for (const Segment& part : outside(span, area)) kept += part.length();
          QVERIFY(near(kept, span.length(), 1e-6));
        }
      }
    }
    QCOMPARE(call(args).out, o.out); // from the cache as from scratch
  }

  void polygons_data() {
    QTest::addColumn<QString>("sheet");
    QTest::addColumn<double>("w");
    QTest::addColumn<double>("h");
    QTest::addColumn<int>("sides");
    for (const int n : {3, 5, 6, 7, 8, 9, 10, 12})
      QTest::newRow(qPrintable(QString("square %1").arg(n))) << QString("square:240mm") << 240.0 << 240.0 << n;
    QTest::newRow("a4 5") << QString("a4") << 210.0 << 297.0 << 5;
  }
  void polygons() {
    QFETCH(QString, sheet);
    QFETCH(double, w);
    QFETCH(double, h);
    QFETCH(int, sides);
    const QStringList args{"polygon", "--sheet", sheet, "--sides", QString::number(sides), "--json"};
    const Outcome o = call(args);
    QVERIFY2(o.exit == 0, o.err.constData());
    const Json j = testing::parsed(o.out.toStdString());
    only_finite(j);
    QVERIFY(near(j["sheet_mm"][0], w, 1e-9) && near(j["sheet_mm"][1], h, 1e-9));
    QVERIFY(!j["methods"].empty());
    for (const Json& m : j["methods"]) {
      Replayed r;
      replay(m["steps"], w, h, r);
      QVERIFY(m["creases"] == Json(r.made));
      QCOMPARE(m["vertices"].size(), static_cast<std::size_t>(sides));
      std::vector<Point> p;
      for (const Json& v : m["vertices"]) {
        p.emplace_back(v[0].get<double>(), v[1].get<double>());
        QVERIFY2(std::any_of(r.points.begin(), r.points.end(),
                             [&](auto& known) { return (known.second - p.back()).norm() < 1e-9; }),
                 "a vertex is a corner or a crossing");
      }
      double least = 1e9;
      double most = 0;
      for (std::size_t i = 0; i < p.size(); ++i) {
        const double side = (p[(i + 1) % p.size()] - p[i]).norm();
        least = std::min(least, side);
        most = std::max(most, side);
      }
      QVERIFY(near(m["side_min_mm"], least, 1e-9) && near(m["side_max_mm"], most, 1e-9));
      QCOMPARE(m["exact"].get<bool>(), most - least < 1e-6 && m["angle_error_deg"].get<double>() < 1e-6);
      QVERIFY(least <= j["largest"]["side_mm"].get<double>() * (1 + 1e-9));
    }
    QCOMPARE(call(args).out, o.out);
  }

  void nothing_found_is_no() {
    const Outcome o = call({"reference", "--sheet", "square:240mm", "--mark", "bottom:0.37", "--max-creases", "1",
                            "--keep-clean", "2,2,238,238", "--json"});
    QCOMPARE(o.exit, 1);
    QCOMPARE(o.err.count('\n'), 1);
    QVERIFY(testing::parsed(o.out.toStdString())["routes"].empty());
  }

  void own_recipes_are_judged() {
    const QString file = call.home() + "/recipe.txt";
    const auto write = [&](const char* text) {
      QFile f(file);
      QVERIFY(f.open(QIODevice::WriteOnly));
      f.write(text);
    };
    write("c1 = O3 left right\np1 = cross c1 top\nc2 = O2 br p1\np2 = cross c2 right\n");
    Outcome o = call({"reference", "--sheet", "square:240mm", "--mark", "right:5/8", "--recipe", file, "--json"});
    QVERIFY2(o.exit == 0, o.err.constData());
    const Json j = testing::parsed(o.out.toStdString());
    QCOMPARE(j["routes"].size(), std::size_t{1});
    QVERIFY(near(j["routes"][0]["error_mm"], 0, 1e-9));
    o = call({"reference", "--sheet", "square:240mm", "--angle", "30", "--recipe", file});
    QCOMPARE(o.exit, 2); // a mark is no angle
    write("result bl br tr tl\nc1 = O3 left right\n");
    o = call({"polygon", "--sheet", "square:240mm", "--sides", "4", "--recipe", file, "--json"});
    QVERIFY2(o.exit == 0, o.err.constData());
    QVERIFY(testing::parsed(o.out.toStdString())["methods"][0]["exact"].get<bool>());
    write("c1 = O8 left right\n");
    o = call({"polygon", "--sheet", "square:240mm", "--sides", "4", "--recipe", file});
    QCOMPARE(o.exit, 2);
    QVERIFY(o.err.contains("Line 1"));
  }

  void proportions() {
    Outcome o = call({"proportion", "--sheet", "square:240mm", "--ratio", "sqrt2", "--json"});
    QVERIFY2(o.exit == 0, o.err.constData());
    Json j = testing::parsed(o.out.toStdString());
    for (const Json& way : j["ways"]) {
      Replayed r;
      replay(way["steps"], 240, 240, r);
      QVERIFY(near(way["piece_mm"][0].get<double>() / way["piece_mm"][1].get<double>(), std::numbers::sqrt2, 1e-9));
    }
    o = call({"proportion", "--sheet", "a4", "--strips", "40", "--json"});
    j = testing::parsed(o.out.toStdString());
    QCOMPARE(j["ways"].size(), std::size_t{2});
    for (const Json& way : j["ways"]) {
      const double n = way["count"].get<double>();
      const double area = way["piece_mm"][0].get<double>() * way["piece_mm"][1].get<double>();
      QVERIFY(near(way["kept"].get<double>(), n * area / (210 * 297), 1e-9) && way["steps"].empty());
    }
    QVERIFY(call({"proportion", "--sheet", "a4", "--strips", "40"}).out.contains("5 strips of 297 x 40 mm"));
    QCOMPARE(call({"proportion", "--sheet", "square:240mm", "--ratio", "1"}).exit, 1);
    // A4 has this ratio to 0.02 mm: that is said, and no cut of a hair is offered.
    o = call({"proportion", "--sheet", "a4", "--ratio", "sqrt2"});
    QVERIFY(o.exit == 1 && o.err.contains("has this ratio already, to 0.015 mm"));
    // Nothing that is another ratio is offered, and the first way is never worse in all that counts.
    for (const char* ratio : {"golden", "3/2", "1.7", "2"}) {
      o = call({"proportion", "--sheet", "a4", "--ratio", ratio, "--top", "10", "--json"});
      QVERIFY2(o.exit == 0, o.err.constData());
      const Json ways = testing::parsed(o.out.toStdString())["ways"];
      const auto total = [](const Json& w) {
        return std::hypot(w["error_mm"].get<double>(), w["sigma_mm"].get<double>());
      };
      for (const Json& way : ways) {
        QVERIFY(way["error_mm"].get<double>() <= 2.97);
        QVERIFY(total(ways[0]) <= total(way) + 1e-9 || ways[0]["creases"] < way["creases"]);
        Replayed r;
        replay(way["steps"], 210, 297, r);
      }
      qInfo("a4 to %s: %.2f mm with %d creases first, of %zu", ratio, total(ways[0]), ways[0]["creases"].get<int>(),
            ways.size());
    }
    QCOMPARE(call({"proportion", "--sheet", "square:240mm"}).exit, 2);
  }

  void plain_output_reads_like_instructions() {
    Outcome o = call({"reference", "--sheet", "square:240mm", "--mark", "bottom:1/4"});
    QVERIFY2(o.out.contains("Bring the right edge to the left edge"), o.out.constData());
    QVERIFY(o.out.contains("exact by its geometry"));
    o = call({"polygon", "--sheet", "square:240mm", "--sides", "3"});
    QVERIFY(o.out.contains("The largest has sides of 248.466 mm, turned by 15°."));
    QVERIFY(o.out.contains("Cut on a mat"));
  }

  void polygons_are_sorted_by_their_shape() {
    for (const char* sides : {"5", "6", "7"}) {
      const Outcome o = call({"polygon", "--sheet", "square:240mm", "--sides", sides, "--json"});
      QVERIFY2(o.exit == 0, o.err.constData());
      double last = 0;
      const Json told = testing::parsed(o.out.toStdString());
      for (const Json& m : told["methods"]) {
        const double shape = m["shape_mm"].get<double>();
        QVERIFY(shape >= last && shape > 0 && shape <= m["side_min_mm"].get<double>() / 4);
        last = shape;
      }
    }
    const Outcome o = call({"polygon", "--sheet", "square:40mm", "--sides", "24"});
    QVERIFY2(o.exit == 1 ? o.err.contains("template") : o.exit == 0, o.err.constData());
  }
};

UC_TEST(ConstructionTest)
#include "construction_test.moc"
