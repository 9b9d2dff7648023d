// Hand-outs in HTML: each move has one drawing and one sentence, and what the one calls by a letter or a number the
// other calls so too.
#include "caller.h"
#include "pattern/family.h"
#include "runner.h"

#include "base/atomic_file.h"

#include <QRegularExpression>
#include <QtTest>

#include <set>

using namespace uc;

class HandoutNamesTest : public QObject {
  Q_OBJECT

  testing::Caller call_;
  QTemporaryDir folder_;
  [[nodiscard]] QString path(const QString& name) const { return folder_.filePath(name); }

  /// What stands between the tags that a pattern captures, each once.
  static std::set<QString> all(const QString& text, const char* pattern) {
    std::set<QString> out;
    auto it = QRegularExpression(pattern).globalMatch(text);
    while (it.hasNext()) out.insert(it.next().captured(1));
    return out;
  }
  /// Names of a sentence, of its drawing; fails where they differ. Counts what it has seen.
  void look(const QStringList& call, int& moves, int& names) {
    const QString file = path("names.html");
    QFile::remove(file);
    const auto o = call_(call + QStringList{"-o", file});
    if (o.exit == 1) return; // nothing is planned
    QVERIFY2(o.exit == 0, (call.join(' ').toUtf8() + ": " + o.err).constData());
    const QString html = QString::fromStdString(*read_file(file.toStdString()));
    auto lines = QRegularExpression("<li class=\"move\">(.*?)</li>", QRegularExpression::DotMatchesEverythingOption)
                     .globalMatch(html);
    int here = 0;
    while (lines.hasNext()) {
      const QString move = lines.next().captured(1);
      ++here;
      QCOMPARE(move.count("<svg"), 1);
      QCOMPARE(move.count("<p class=\"sentence\">"), 1);
      const QString sentence = move.section("<p class=\"sentence\">", 1).section("</p>", 0, 0);
      const auto said = all(sentence, "<span class=\"name\">([^<]*)</span>");
      const auto drawn = all(move.section("<svg", 1).section("</svg>", 0, 0), "<text[^>]*class=\"name\"[^>]*>([^<]*)<");
      QVERIFY2(said == drawn, qPrintable(call.join(' ') + ": " + sentence + " / " +
                                         QStringList(drawn.begin(), drawn.end()).join(' ')));
      // Nothing is called by a letter or number that is not told apart.
      QString words = sentence;
      words.remove(QRegularExpression("<span class=\"name\">[^<]*</span>"));
      const auto bare = QRegularExpression("\\b(mark|crease|corner|edge) ([A-Z]\\d*|\\d+|[a-z]\\d*)\\b").match(words);
      QVERIFY2(!bare.hasMatch(), qPrintable(sentence));
      names += static_cast<int>(said.size());
    }
    QVERIFY2(here > 0, qPrintable(call.join(' ')));
    moves += here;
  }

private slots:
  void sentences_and_drawings_use_the_same_names_data() {
    QTest::addColumn<QList<QStringList>>("calls");
    QTest::addColumn<bool>("named");
    QList<QStringList> grids;
    for (const int parts : {2, 5, 7, 12, 32})
      for (const char* axis : {"x", "both", "diagonal", "equilateral"})
        grids.append({"divide", "--sheet", "square:240mm", "--parts", QString::number(parts), "--axis", axis});
    QTest::newRow("grids") << grids << false;
    QList<QStringList> marks;
    for (const char* sheet : {"square:240mm", "a4", "ngon:5:120mm"})
      for (const char* at : {"0.3333333", "0.29", "0.618034"})
        marks.append({"reference", "--sheet", sheet, "--point",
                      QString("%1,%2").arg(200 * QString(at).toDouble()).arg(150 * QString(at).toDouble())});
    marks.append({"reference", "--sheet", "square:240mm", "--angle", "22.5"});
    marks.append({"reference", "--sheet", "square:240mm", "--line", "0,80,240,160"});
    QTest::newRow("references") << marks << true;
    QList<QStringList> polygons;
    for (int n = 3; n <= 12; ++n)
      polygons.append({"polygon", "--sheet", "square:200mm", "--sides", QString::number(n)});
    polygons.append({"polygon", "--sheet", "ngon:6:120mm", "--sides", "3"});
    QTest::newRow("polygons") << polygons << true;
    QList<QStringList> steps;
    const Json list = testing::parsed(call_({"steps", "--list", "--json"}).out.toStdString());
    for (const Json& s : list["sequences"])
      steps.append({"steps", QString::fromStdString(s["name"].get<std::string>())});
    QTest::newRow("steps") << steps << true;
    for (const char* school : {"everything", "needed", "scored"}) {
      QList<QStringList> creases;
      int i = 0;
      const int row = QString(school).size() % 3; // every third family: each school is planned to cost one
      for (const PatternFamily& f : pattern_families()) {
        const QString file = path(QString("p%1.json").arg(i++));
        if (i % 3 != row || (testing::sanitized && i % 4 != 0)) continue;
        if (call_({"pattern", QString::fromStdString(f.name), "-o", file}).exit != 0) continue;
        creases.append({"pre-crease", file, "--school", school});
      }
      QTest::newRow(school) << creases << true;
    }
    QList<QStringList> units;
    for (const char* family : {"parallelogram", "zigzag-strip", "triangle-tabs"})
      units.append({"units", "--solid", QString(family) == "zigzag-strip" ? "dodecahedron" : "icosahedron", "--family",
                    family, "--sheet", "square:75mm", "--colours", "3"});
    QTest::newRow("units") << units << true;
    QTest::newRow("project") << QList<QStringList>{{"export", UC_SOURCE_DIR "/data/demo/open-night.undercrease"}}
                             << false;
  }

  void sentences_and_drawings_use_the_same_names() {
    QFETCH(QList<QStringList>, calls);
    QFETCH(bool, named);
    int moves = 0;
    int names = 0;
    for (const QStringList& call : calls) {
      look(call, moves, names);
      if (QTest::currentTestFailed()) return;
    }
    qInfo("%d moves, %d names", moves, names);
    QVERIFY(moves >= calls.size() && (!named || names > calls.size()));
  }
};

UC_TEST(HandoutNamesTest)
#include "handout_names_test.moc"
