// Patterns through SVG, DXF and PDF: exact round trips, foreign drawings with mappings, readers that are not ours, and
// damaged files.
#include "base/atomic_file.h"
#include "form/proof.h"
#include "io/pattern_dxf.h"
#include "io/pattern_file.h"
#include "io/pattern_json.h"
#include "io/pattern_svg.h"
#include "pattern/design.h"
#include "patterns.h"
#include "raster.h"
#include "runner.h"
#include "support.h"

#include <QProcess>
#include <QTemporaryDir>
#include <QtTest>

#include <filesystem>
#include <fstream>
#include <random>
#include <set>
#include <sstream>
#include <tuple>

using namespace uc;
using uc::testing::chevron_pattern;
using Json = nlohmann::json;

namespace {

using Drawn = std::multiset<std::tuple<double, double, double, double, int>>;

Drawn drawn(const CreasePattern& p) {
  Drawn out;
  for (std::size_t i = 0; i < p.edges.size(); ++i) {
    Segment s = p.segment(CreaseId(i));
    if (std::tie(s.to.x(), s.to.y()) < std::tie(s.from.x(), s.from.y())) std::swap(s.from, s.to);
    out.insert({s.from.x(), s.from.y(), s.to.x(), s.to.y(), static_cast<int>(p.edges[i].kind)});
  }
  return out;
}

CreasePattern odd_numbers() {
  CreasePattern p = chevron_pattern(7, 5, 53.7);
  for (Point& v : p.vertices) v = Point{v.x() / 3 - 17.3, v.y() / 7 + 0.1};
  p.edges[9].kind = EdgeKind::undirected;
  p.edges[11].kind = EdgeKind::unfolded;
  p.edges[13].kind = EdgeKind::cut;
  return p;
}

QByteArray output_of(const QString& program, const QStringList& args) {
  QProcess run;
  run.start(program, args);
  run.waitForFinished(60000);
  if (run.exitCode() != 0) qWarning("%s", run.readAllStandardError().constData());
  return run.readAllStandardOutput();
}

} // namespace

class PatternIoTest : public QObject {
  Q_OBJECT

private slots:
  void round_trips_are_exact_data() {
    QTest::addColumn<int>("format");
    QTest::newRow("json") << static_cast<int>(PatternFormat::json);
    QTest::newRow("svg") << static_cast<int>(PatternFormat::svg);
    QTest::newRow("dxf") << static_cast<int>(PatternFormat::dxf);
  }
  void round_trips_are_exact() {
    QFETCH(int, format);
    const auto f = static_cast<PatternFormat>(format);
    const CreasePattern p = odd_numbers();
    const auto bytes = pattern_bytes(p, f, "crater & rim", {}, {});
    QVERIFY(bytes);
    const auto back = parse_pattern(*bytes, f, {});
    QVERIFY(back);
    QVERIFY(back->healed.repair.empty());
    QVERIFY(back->left_out.empty());
    QVERIFY(drawn(back->healed.pattern) == drawn(p));
    // Written again it is the same, byte for byte.
    QVERIFY(*pattern_bytes(back->healed.pattern, f, "crater & rim", {}, {}) ==
            *pattern_bytes(parse_pattern(*bytes, f, {})->healed.pattern, f, "crater & rim", {}, {}));
  }

  void another_program_reads_our_dxf() {
    QTemporaryDir dir;
    const CreasePattern p = odd_numbers();
    const std::string file = dir.filePath("p.dxf").toStdString();
    QVERIFY(write_atomically(file, pattern_dxf(p)));
    const QByteArray out = output_of(
        "/usr/bin/python3", {"-c",
                             "import ezdxf,sys,json\n"
                             "d=ezdxf.readfile(sys.argv[1])\n"
                             "a=d.audit()\n"
                             "print(json.dumps({'errors':len(a.errors),'lines':[[e.dxf.layer]+list(e.dxf.start)[:2]"
                             "+list(e.dxf.end)[:2] for e in d.modelspace().query('LINE')]}))",
                             QString::fromStdString(file)});
    const Json j = testing::parsed(out.toStdString());
    QVERIFY2(j.is_object(), out.constData());
    QCOMPARE(j["errors"].get<int>(), 0);
    QCOMPARE(j["lines"].size(), p.edges.size());
    for (std::size_t i = 0; i < p.edges.size(); ++i) {
      const Json& l = j["lines"][i];
      QCOMPARE(l[0].get<std::string>(), std::string(name_of(p.edges[i].kind)));
      QCOMPARE(l[1].get<double>(), p.segment(CreaseId(i)).from.x());
      QCOMPARE(l[4].get<double>(), p.segment(CreaseId(i)).to.y());
    }
  }

  void we_read_dxf_of_another_program() {
    QTemporaryDir dir;
    const QString file = dir.filePath("theirs.dxf");
    output_of("/usr/bin/python3",
              {"-c",
               "import ezdxf,sys\n"
               "d=ezdxf.new('R2010')\n"
               "d.units=1\n" // inches
               "m=d.modelspace()\n"
               "m.add_lwpolyline([(0,0),(4,0),(4,4),(0,4)],close=True,dxfattribs={'layer':'Rand'})\n"
               "m.add_line((0,0),(4,4),dxfattribs={'color':1})\n"
               "m.add_line((0,4),(4,0),dxfattribs={'color':5})\n"
               "m.add_circle((2,2),1)\n"
               "d.saveas(sys.argv[1])",
               file});
    const auto text = read_file(file.toStdString());
    QVERIFY(text);
    const auto unmapped = parse_pattern(*text, PatternFormat::dxf, {});
    QVERIFY(!unmapped);
    QVERIFY2(QString::fromStdString(unmapped.error()).contains("layer:Rand=mountain"), unmapped.error().c_str());
    KindMapping mapping;
    for (const char* rule : {"layer:Rand=raw", "colour:1=mountain", "colour:5=valley"})
      mapping.push_back(*parse_kind_rule(rule));
    const auto p = parse_pattern(*text, PatternFormat::dxf, mapping);
    QVERIFY2(p.ok(), p.ok() ? "" : p.error().c_str());
    QCOMPARE(p->left_out.at("CIRCLE"), 1);
    QCOMPARE(p->healed.repair.split_crossings, 1);
    QCOMPARE(p->healed.pattern.edges.size(), std::size_t{8});
    const Box box = bounding_box(p->healed.pattern.vertices);
    QVERIFY((box.size() - Point{101.6, 101.6}).norm() < 1e-9);
  }

  void foreign_svg_is_read_through_its_transforms() {
    const std::string svg = *read_file(std::string(UC_TEST_DATA "/foreign.svg"));
    KindMapping mapping;
    for (const char* rule : {"colour:#000000=raw", "colour:#ff0000=mountain", "dash:4 2=valley"})
      mapping.push_back(*parse_kind_rule(rule));
    const auto p = parse_pattern(svg, PatternFormat::svg, mapping);
    QVERIFY2(p.ok(), p.ok() ? "" : p.error().c_str());
    QCOMPARE(p->left_out.at("text"), 1);
    QCOMPARE(p->left_out.at("curve"), 1);
    const CreasePattern& c = p->healed.pattern;
    const Box box = bounding_box(c.vertices);
    QVERIFY(box.low.norm() < 1e-9 && (box.high - Point{100, 50}).norm() < 1e-9);
    double mountain = 0;
    double valley = 0;
    for (std::size_t i = 0; i < c.edges.size(); ++i) {
      const Segment s = c.segment(CreaseId(i));
      if (c.edges[i].kind == EdgeKind::mountain) {
        mountain += s.length();
        QVERIFY(std::abs(s.from.x() - 50) < 1e-9 && std::abs(s.to.x() - 50) < 1e-9);
      }
      if (c.edges[i].kind == EdgeKind::valley) valley += s.length();
    }
    QVERIFY(std::abs(mountain - 50) < 1e-9 && std::abs(valley - 100) < 1e-9);
  }

  void mappings_are_offered_and_told_apart() {
    const auto work = parse_svg_lines("<svg><line x2='9' stroke='red'/><line y2='9' stroke='red'/>"
                                      "<line x2='3' class='guide mountain'/><line y2='5' class='guide'/></svg>");
    QVERIFY(work);
    const auto unknown = unknown_lines(*work, {});
    QCOMPARE(unknown.size(), std::size_t{2});
    QCOMPARE(unknown[0].count, 2);
    QCOMPARE(kind_rule_text(unknown[0].rule), std::string("colour:red=skip"));
    const auto rule = parse_kind_rule("colour:red=skip");
    QVERIFY(rule && !rule->kind);
    QVERIFY(signature(*work) == "class:guide class:mountain colour:red");
    for (const char* bad : {"", "colour", "colour=red", "size:3=raw", "colour:red=ridge"})
      QVERIFY(!parse_kind_rule(bad));
  }

  void the_printed_bar_measures_100_mm() {
    const auto pdf = pattern_bytes(chevron_pattern(6, 6), PatternFormat::pdf, "panel", {}, {});
    QVERIFY(pdf);
    const testing::Raster page = testing::raster_of(*pdf);
    QVERIFY(page.width > 0);
    // The bar stands in the lowest 20 mm.
    QVERIFY(std::abs(page.longest_level_line(page.height - 200, page.height) - 1000) <= 6);
  }

  /// What the fuzzers begin with, and what they once found: read or refused with one sentence, never worse.
  void the_corpus_is_read_or_refused() {
    const std::string folder = std::string(UC_TEST_DATA "/corpus/");
    const std::pair<const char*, PatternFormat> formats[] = {
        {"json", PatternFormat::json}, {"svg", PatternFormat::svg}, {"dxf", PatternFormat::dxf}};
    int read = 0;
    int refused = 0;
    for (const auto& [name, format] : formats) {
      for (const auto& entry : std::filesystem::directory_iterator(folder + name)) {
        const auto text = read_file(entry.path().string());
        QVERIFY(text);
        const auto pattern = parse_pattern(*text, format, {});
        if (!pattern) {
          ++refused;
          QVERIFY2(pattern.error().starts_with("line ") && pattern.error().find('\n') == std::string::npos,
                   entry.path().c_str());
          continue;
        }
        ++read;
        const auto proof = proved(pattern->healed, {.layers = false});
        if (proof) QCOMPARE(proof->graph->interior.size() >= pattern->healed.pattern.vertices.size(), true);
      }
    }
    QVERIFY(read >= 4 && refused >= 30);
    for (const auto& entry : std::filesystem::directory_iterator(folder + "rules")) {
      PatternDesign d;
      std::istringstream lines(read_file(entry.path().string()).value());
      for (std::string line; std::getline(lines, line);) d.rules.push_back(line);
      const auto drawn = drawn_pattern(d, {{0, 0}, {240, 0}, {240, 240}, {0, 240}});
      QVERIFY(drawn.ids.size() == drawn.healed.pattern.edges.size());
      QVERIFY(drawn.wrong.size() <= d.rules.size());
    }
  }

  void damaged_drawings_data() {
    QTest::addColumn<QString>("text");
    QTest::addColumn<QString>("says");
    QTest::addColumn<bool>("svg");
    const Json list = testing::cases("bad_drawings.json");
    for (const Json& j : list)
      QTest::newRow(j["name"].get<std::string>().c_str())
          << QString::fromStdString(j["text"].get<std::string>())
          << QString::fromStdString(j["says"].get<std::string>()) << (j["format"] == "svg");
  }
  void damaged_drawings() {
    QFETCH(QString, text);
    QFETCH(QString, says);
    QFETCH(bool, svg);
    const auto p = parse_pattern(text.toStdString(), svg ? PatternFormat::svg : PatternFormat::dxf, {});
    QVERIFY(!p);
    QVERIFY2(QString::fromStdString(p.error()).contains(says), p.error().c_str());
  }

  void hostile_drawings_end_quickly() {
    std::string nested = "<svg>";
    for (int i = 0; i < 100000; ++i) nested += "<g>";
    QVERIFY(!parse_pattern(nested, PatternFormat::svg, {}));
    std::string closed = nested;
    for (int i = 0; i < 100000; ++i) closed += "</g>";
    const auto deep = parse_pattern(closed + "</svg>", PatternFormat::svg, {});
    QVERIFY(!deep);
    QVERIFY(QString::fromStdString(deep.error()).contains("200 deep"));
    std::string bomb = "<!DOCTYPE svg [<!ENTITY a \"aaaaaaaaaa\">";
    for (char c = 'b'; c <= 'z'; ++c) {
      bomb += std::string("<!ENTITY ") + c + " \"";
      for (int i = 0; i < 10; ++i) bomb += std::string("&") + static_cast<char>(c - 1) + ";";
      bomb += "\">";
    }
    QVERIFY(!parse_pattern(bomb + "]><svg><title>&z;</title></svg>", PatternFormat::svg, {}));
  }

  void cut_and_garbled_files_never_crash() {
    std::mt19937 random(9);
    for (const PatternFormat f : {PatternFormat::json, PatternFormat::svg, PatternFormat::dxf}) {
      const std::string good = *pattern_bytes(chevron_pattern(2, 2), f, "p", {}, {});
      for (int round = 0; round < 400; ++round) {
        std::string bad = good;
        for (int k = 0; k < 1 + round % 4; ++k) {
          const std::size_t where = random() % bad.size();
          if (random() % 3 == 0)
            bad.resize(where + 1);
          else
            bad[where] = static_cast<char>(random() % 256);
        }
        const auto p = parse_pattern(bad, f, {});
        if (!p)
          QVERIFY(p.error().starts_with("line "));
        else
          QVERIFY(!p->healed.pattern.vertices.empty());
      }
    }
  }
};

UC_TEST(PatternIoTest)
#include "pattern_io_test.moc"
