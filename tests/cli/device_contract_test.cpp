// score, scan, practice and caliper, called as a script does.
#include "caller.h"
#include "runner.h"

#include "io/json_codec.h"

#include <QFile>

#include <cmath>
#include <fcntl.h>
#include <unistd.h>

using namespace uc;
using uc::testing::Caller;
using uc::testing::Outcome;

class DeviceContractTest : public QObject {
  Q_OBJECT
  QTemporaryDir dir_;
  Caller call_{dir_.path()};

  Json answered(const QStringList& args, int exit = 0) {
    const Outcome o = call_(args);
    if (o.exit != exit) qWarning("%d: %s", o.exit, o.err.constData());
    if (o.exit != exit) return {};
    Json j = testing::parsed(o.out.toStdString());
    testing::only_finite(j);
    return j;
  }
  static bool says(const Outcome& o, int exit, const char* words) {
    if (o.exit == exit && o.err.contains(words) && o.err.count('\n') == 1) return true;
    qWarning("%d: %s", o.exit, o.err.constData());
    return false;
  }

private slots:
  void a_pattern_is_scored_and_the_file_followed() {
    QCOMPARE(call_({"pattern", "chevron", "-o", "chevron.json"}).exit, 0);
    for (const char* file : {"c.hpgl", "c.gcode"}) {
      const Json plan = answered({"score", "chevron.json", "-o", file, "--feed", "40", "--pressure", "60", "--json"});
      QVERIFY(plan.at("strokes").get<int>() > 10 && plan.at("outside").get<int>() == 0);
      QVERIFY(plan.at("minutes").get<double>() > plan.at("scored_mm").get<double>() / 40 / 60);
      const Json seen = answered({"score", "--simulate", file, "--sheet", "square:240mm", "-o", "seen.svg", "--json"});
      QCOMPARE(seen.at("strokes").get<int>(), plan.at("strokes").get<int>());
      QVERIFY(std::abs(seen.at("scored_mm").get<double>() - plan.at("scored_mm").get<double>()) < 2);
      QVERIFY(std::abs(seen.at("travel_mm").get<double>() - plan.at("travel_mm").get<double>()) < 2);
      QVERIFY(seen.at("unknown").empty());
      const Json off = answered({"score", "--simulate", file, "--sheet", "square:100mm", "--json"}, 1);
      QVERIFY(off.at("outside").get<int>() > 0 && off.at("leaves").size() == off.at("outside").get<std::size_t>());
    }
    QVERIFY(QFile::exists(dir_.filePath("seen.svg")));
    const Json no = answered({"score", "chevron.json", "-o", "no.hpgl", "--sheet", "square:100mm", "--json"}, 1);
    QVERIFY(no.at("outside").get<int>() > 0);
    QVERIFY(!QFile::exists(dir_.filePath("no.hpgl")));
    QVERIFY(says(call_({"score", "chevron.json", "-o", "c.txt"}), 2, ".hpgl"));
    QVERIFY(says(call_({"score", "chevron.json", "-o", "c.hpgl", "--feed", "0"}), 2, "--feed"));
    QVERIFY(says(call_({"score", "--simulate", "c.hpgl"}), 2, "--sheet"));
    QVERIFY(says(call_({"score", "--simulate", "chevron.json", "--sheet", "a4"}), 2, ".gcode"));
  }

  void projects_are_scored() {
    const QString demo = QStringLiteral(UC_SOURCE_DIR "/data/demo/open-night.undercrease");
    if (!QFile::exists(demo)) QSKIP("no demo project");
    const Json plan = answered({"score", demo, "-o", "p.hpgl", "--json"});
    QVERIFY(plan.at("strokes").get<int>() > 0);
  }

  void the_loop_from_folding_to_the_hand_closes() {
    Json runs = Json::array();
    for (int seed = 1; seed <= 6; ++seed) {
      QCOMPARE(call_({"scan", "--make", "s.png", "--sheet", "square:120mm", "--parts", "8", "--axis", "both", "--sigma",
                      "0.3", "--skew", "1", "--seed", QString::number(seed), "--truth", "t.json"})
                   .exit,
               0);
      const Json read = answered({"scan", "s.png", "--sheet", "square:120mm", "--parts", "8", "--axis", "both",
                                  "--measured", "m.json", "--json"});
      QFile truth(dir_.filePath("t.json"));
      QVERIFY(truth.open(QIODevice::ReadOnly));
      const Json true_lines = testing::parsed(truth.readAll().toStdString()).at("lines");
      QCOMPARE(true_lines.size(), std::size_t{14});
      QVERIFY(read.at("lines").size() >= 13);
      for (const Json& l : read.at("lines")) {
        for (const Json& t : true_lines) {
          if (t.at("axis") == l.at("axis") && t.at("line") == l.at("line"))
            QVERIFY(std::abs(t.at("position_mm").get<double>() - l.at("position_mm").get<double>()) < 0.1);
        }
      }
      QVERIFY(std::abs(read.at("dpi").get<double>() - 300) < 1 && read.at("marks_rms_mm").get<double>() < 0.02);
      QVERIFY(answered({"judge", "m.json", "--sigma", "0.3", "--json"}).at("lines").size() >= 6);
      QFile measured(dir_.filePath("m.json"));
      QVERIFY(measured.open(QIODevice::ReadOnly));
      const Json document = testing::parsed(measured.readAll().toStdString());
      for (const Json& run : document.at("runs")) runs.push_back(run);
    }
    QFile all(dir_.filePath("all.json"));
    QVERIFY(all.open(QIODevice::WriteOnly));
    all.write(
        QByteArray::fromStdString(Json{{"format", "under-crease/measured"}, {"version", 1}, {"runs", runs}}.dump()));
    all.close();
    const Json hand = answered({"hand", "all.json", "--json"});
    QVERIFY(std::abs(hand.at("sigma_mm").get<double>() - 0.3) < 3 * hand.at("standard_error_mm").get<double>());
    QVERIFY(says(call_({"scan", "s.png", "--sheet", "square:150mm", "--parts", "8"}), 1, "--sheet"));
    QVERIFY(says(call_({"scan", "m.json", "--sheet", "square:150mm", "--parts", "8"}), 2, "not a PNG"));
    QVERIFY(says(call_({"scan", "s.png", "--sheet", "square:150mm"}), 2, "--parts"));
    QVERIFY(says(call_({"scan", "s.png", "--marks", "-o", "x.pdf"}), 2, "one of these"));
    QCOMPARE(call_({"scan", "--marks", "--sheet", "a5", "-o", "page.pdf"}).exit, 0);
    QFile page(dir_.filePath("page.pdf"));
    QVERIFY(page.open(QIODevice::ReadOnly) && page.read(5) == "%PDF-");
    // The same seed draws the same picture.
    const QStringList again{"scan",  "--make", "a.png",  "--sheet", "square:60mm", "--parts", "4",
                            "--dpi", "150",    "--seed", "3"};
    QCOMPARE(call_(again).exit, 0);
    QFile a(dir_.filePath("a.png"));
    QVERIFY(a.open(QIODevice::ReadOnly));
    const QByteArray first = a.readAll();
    a.close();
    QCOMPARE(call_(again).exit, 0);
    QVERIFY(a.open(QIODevice::ReadOnly) && a.readAll() == first);
  }

  void exercises_can_be_folded_and_have_what_is_measured() {
    const Json list = answered({"practice", "--list", "--json"}).at("exercises");
    QVERIFY(list.size() >= 11);
    for (const Json& e : list) {
      const QString name = QString::fromStdString(e.at("name").get<std::string>());
      const Json folded =
          answered({"steps", QStringLiteral(UC_SOURCE_DIR "/data/practice/") + name + ".steps", "--json"});
      const Json& last = folded.at("states").back();
      QCOMPARE(static_cast<int>(folded.at("states").size()) - 1, e.at("moves").get<int>());
      for (const Json& m : e.at("measures")) {
        // A vertex or the end of a mark lies so far from the left or lower edge or the corner, on the bare sheet.
        const double planned = m.at("planned_mm").get<double>();
        bool there = false;
        const auto ask = [&](double x, double y) {
          for (const double far : {x, y, std::hypot(x, y)}) there = there || std::abs(far - planned) < 1e-6;
        };
        for (const Json& v : last.at("vertices")) ask(v.at(0).get<double>(), v.at(1).get<double>());
        if (last.contains("marks")) {
          for (const Json& k : last.at("marks")) {
            ask(k.at(0).get<double>(), k.at(1).get<double>());
            ask(k.at(2).get<double>(), k.at(3).get<double>());
          }
        }
        QVERIFY2(there, qPrintable(name));
      }
    }
    const Json one = answered({"practice", "halve", "--measured", "37.7", "--json"});
    QVERIFY(std::abs(one.at("rms_mm").get<double>() - 0.2) < 1e-9);
    QVERIFY(says(call_({"practice", "halve", "--measured", "1,2"}), 2, "--measured"));
    QVERIFY(says(call_({"practice", "no-such"}), 2, "not an exercise"));
    QVERIFY(says(call_({"practice"}), 2, "--list"));
  }

  void a_caliper_sends_a_reading_a_line() {
    QProcess p;
    p.start(QStringLiteral(UC_CLI),
            {"caliper", "--simulate", "--values", "30,60.5", "--sigma", "0.01", "--every", "0.05", "--seconds", "20"});
    QVERIFY(p.waitForReadyRead(10000));
    const QByteArray name = p.readLine().trimmed();
    QVERIFY(name.startsWith("/dev/"));
    const int line = open(name.constData(), O_RDONLY | O_NOCTTY | O_NONBLOCK);
    QVERIFY(line >= 0);
    QByteArray got;
    for (int i = 0; i < 200 && got.count('\n') < 6; ++i) {
      char buffer[256];
      const ssize_t n = read(line, buffer, sizeof buffer);
      if (n > 0) got.append(buffer, n);
      QTest::qWait(20);
    }
    close(line);
    p.terminate();
    p.waitForFinished(5000);
    const QList<QByteArray> lines = got.split('\n');
    QVERIFY(lines.size() > 6);
    for (int i = 0; i < 6; ++i) {
      const QByteArray reading = lines[i].trimmed();
      QVERIFY2(reading.endsWith(" mm"), reading.constData());
      const double mm = reading.chopped(3).toDouble();
      QVERIFY2(std::abs(mm - (i % 2 == 0 ? 30 : 60.5)) < 0.06, reading.constData());
    }
    QVERIFY(says(call_({"caliper"}), 2, "--simulate"));
    QVERIFY(says(call_({"caliper", "--simulate", "--values", "x"}), 2, "--values"));
    QCOMPARE(call_({"caliper", "--simulate", "--readings", "2", "--every", "0.01"}).exit, 0);
  }
};

UC_TEST(DeviceContractTest)
#include "device_contract_test.moc"
