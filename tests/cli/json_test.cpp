// Whatever is asked with --json: exactly one document on standard output, read here by another reader than the core's,
// every number finite; a "no" has one that says the reason. And no output of a call ever replaces one of its inputs.
#include "caller.h"

#include "patterns.h"

#include "io/pattern_json.h"
#include "record/run_log.h"
#include "runner.h"

#include <QFile>
#include <QJsonDocument>
#include <QJsonObject>
#include <QRegularExpression>
#include <QSet>

#include <unistd.h>

using namespace uc;
using uc::testing::Outcome;

class JsonTest : public QObject {
  Q_OBJECT
  QTemporaryDir dir_;
  [[nodiscard]] std::string path(const std::string& name) const { return dir_.path().toStdString() + "/" + name; }

  static CreasePattern map() {
    return testing::map_pattern(
        2, 2, [](int, int j, bool upright) { return upright && j > 0 ? EdgeKind::mountain : EdgeKind::valley; });
  }
  void write(const std::string& name, const std::string& bytes) const {
    QVERIFY(write_atomically(path(name), bytes).ok());
  }
  /// A log with one run, whose note is no text.
  void make_log() const {
    RunLog log = std::move(RunLog::open(path("log.sqlite"))).value();
    RunDetail run;
    run.summary.title = "Crater panel";
    run.summary.sheet = "square:240mm";
    run.summary.status = RunStatus::finished;
    run.summary.note = "damp \xff\xfe paper";
    QVERIFY(log.add_whole(run).ok());
  }

private slots:
  void initTestCase() {
    write("map.json", pattern_json(map()));
    CreasePattern plain = testing::map_pattern(2, 2);
    for (PatternEdge& e : plain.edges)
      if (e.kind != EdgeKind::raw) e.kind = EdgeKind::undirected;
    write("plain.json", pattern_json(plain));
    // A vertex with three creases, and one that passes every local rule and cannot fold (domain.md 5).
    write("odd.json", R"({"format": "under-crease/pattern", "version": 1,
      "vertices": [[0,0],[100,0],[100,100],[0,100],[50,50]],
      "edges": [[0,1,"raw"],[1,2,"raw"],[2,3,"raw"],[3,0,"raw"],[4,0,"valley"],[4,1,"valley"],[4,2,"mountain"]]})");
    std::string vertices = "[0,0]";
    std::string edges;
    const double sectors[] = {90, 80, 50, 45, 40, 55};
    const char* kinds[] = {"valley", "mountain", "mountain", "mountain", "valley", "mountain"};
    double angle = 0;
    for (int i = 0; i < 6; ++i) {
      vertices += ",[" + std::to_string(100 * std::cos(angle)) + "," + std::to_string(100 * std::sin(angle)) + "]";
      edges += std::string(i ? "," : "") + "[0," + std::to_string(i + 1) + ",\"" + kinds[i] + "\"],[" +
               std::to_string(i + 1) + "," + std::to_string((i + 1) % 6 + 1) + ",\"raw\"]";
      angle += sectors[i] * 3.14159265358979323846 / 180;
    }
    write("clash.json", R"({"format": "under-crease/pattern", "version": 1, "vertices": [)" + vertices +
                            R"(], "edges": [)" + edges + "]}");
    write("torn.steps", "sheet square:90mm\nvalley left onto right\nvalley br onto tr layers 1\n");
    make_log();
  }

  void every_answer_is_one_document_data() {
    QTest::addColumn<QStringList>("args");
    QTest::addColumn<QString>("exits");
    for (const Json& c : testing::cases("json_calls.json")) {
      QStringList args;
      for (const Json& a : c["args"]) {
        QString word = QString::fromStdString(a.get<std::string>());
        if (word == "DEMO") word = QStringLiteral(UC_SOURCE_DIR) + "/data/demo/open-night.undercrease";
        if (word == "MEASURED") word = QStringLiteral(UC_SOURCE_DIR) + "/docs/guide/patterns/measured.json";
        if (word == "LOG") word = dir_.path() + "/log.sqlite";
        args << word;
      }
      QString exits;
      for (const Json& e : c["exit"].is_array() ? c["exit"] : Json::array({c["exit"]}))
        exits += QString::number(e.get<int>());
      QTest::newRow(qPrintable(args.join(' '))) << args << exits;
    }
  }
  void every_answer_is_one_document() {
    QFETCH(QStringList, args);
    QFETCH(QString, exits);
    const Outcome o = testing::Caller(dir_.path())(args + QStringList{"--json"});
    QVERIFY2(exits.contains(QString::number(o.exit)), o.err.constData());
    if (o.exit == 2) {
      QVERIFY(o.out.isEmpty());
      return;
    }
    QJsonParseError error{};
    const QJsonDocument document = QJsonDocument::fromJson(o.out, &error);
    QVERIFY2(error.error == QJsonParseError::NoError && document.isObject(),
             qPrintable(error.errorString() + " in " + QString::fromUtf8(o.out.left(300))));
    static const QRegularExpression endless("[:\\[,]\\s*-?(nan|inf|NaN|Infinity|null\\.)|[0-9]e[+]?[0-9]{3}");
    QVERIFY2(!QString::fromUtf8(o.out).contains(endless), "a number that is not finite");
    if (o.exit == 1) QVERIFY(!document.object().isEmpty());
  }

  void every_command_is_among_them() {
    QSet<QString> tried;
    for (const Json& c : testing::cases("json_calls.json"))
      tried << QString::fromStdString(c["args"][0].get<std::string>());
    const QString help = QString::fromUtf8(testing::Caller(dir_.path())({"--help"}).out);
    static const QRegularExpression command("^  ([a-z][a-z-]+) ", QRegularExpression::MultilineOption);
    int commands = 0;
    for (auto m = command.globalMatch(help.mid(help.indexOf("ubcommands"))); m.hasNext(); ++commands) {
      const QString name = m.next().captured(1);
      QVERIFY2(tried.contains(name), qPrintable(name));
    }
    QVERIFY(commands >= 16);
  }

  void a_log_with_bytes_that_are_no_text_is_exported_with_a_word() {
    const testing::Caller call(dir_.path());
    for (const char* name : {"told.json", "told.csv"}) {
      const Outcome o = call({"log", "export", "--log", "log.sqlite", "-o", name});
      QCOMPARE(o.exit, 0);
      QVERIFY2(o.err.count('\n') == 1 && o.err.contains("not text"), o.err.constData());
      QFile file(dir_.path() + "/" + name);
      QVERIFY(file.open(QIODevice::ReadOnly));
      QVERIFY(QString::fromUtf8(file.readAll()).contains(QString("damp %1%1 paper").arg(QChar(0xFFFD))));
    }
  }

  void no_output_replaces_an_input_data() {
    QTest::addColumn<QStringList>("args"); // IN is read, OUT is another name of it
    QTest::addColumn<std::string>("bytes");
    const std::string map = pattern_json(JsonTest::map());
    const std::string stages = R"({"stages":[{"creases":[3],"from":0,"to":1}]})";
    QTest::newRow("steps") << QStringList{"steps", "IN.steps", "-o", "OUT.json"}
                           << std::string("sheet square:100mm\nvalley bl onto tr\n");
    QTest::newRow("fold") << QStringList{"fold", "IN.json", "-o", "OUT.svg"} << map;
    QTest::newRow("collapse") << QStringList{"collapse", "IN.json", "--percent", "5", "-o", "OUT.obj"} << map;
    QTest::newRow("stages") << QStringList{"collapse", "map.json", "--percent", "5",
                                           "--stages", "IN.json",  "-o",        "OUT.obj"}
                            << stages;
    QTest::newRow("pre-crease") << QStringList{"pre-crease", "IN.json", "-o", "OUT.html"} << map;
    QTest::newRow("another format") << QStringList{"pattern", "--from", "IN.json", "-o", "OUT.svg"} << map;
    QTest::newRow("rules") << QStringList{"pattern", "--rules", "IN.txt", "--sheet", "square:100mm", "-o", "OUT.json"}
                           << std::string("line 0,4 along 1,0 valley\n");
    QTest::newRow("own unit")
        << QStringList{"units", "--solid", "cube", "--family", "mine", "--own", "IN.json", "-o", "OUT.obj"}
        << std::string(R"({"name": "mine", "stands_for": "edge", "edge_share": 0.5, "how": ["Fold it."]})");
    QTest::newRow("project") << QStringList{"export", "IN.undercrease", "-o", "OUT.csv"}
                             << *read_file(std::string(UC_SOURCE_DIR "/data/demo/open-night.undercrease"));
    QTest::newRow("log") << QStringList{"log", "export", "--log", "IN.sqlite", "-o", "OUT.json"}
                         << *read_file(path("log.sqlite"));
  }
  void no_output_replaces_an_input() {
    QFETCH(QStringList, args);
    QFETCH(std::string, bytes);
    const testing::Caller call(dir_.path());
    for (const bool hard : {false, true}) {
      QString in;
      QString out;
      for (const QString& word : args) {
        if (word.startsWith("IN.")) in = word;
        if (word.startsWith("OUT.")) out = word;
      }
      write(in.toStdString(), bytes);
      const std::string target = path(in.toStdString());
      const std::string link = path(out.toStdString());
      ::unlink(link.c_str());
      QCOMPARE(hard ? ::link(target.c_str(), link.c_str()) : ::symlink(target.c_str(), link.c_str()), 0);
      const Outcome o = call(args);
      QVERIFY2(o.exit == 2 && o.err.count('\n') == 1, o.err.constData());
      QVERIFY2(o.err.contains("would be lost"), o.err.constData());
      QCOMPARE(*read_file(target), bytes);
    }
  }

  void two_outputs_of_a_call_are_two_files() {
    const testing::Caller call(dir_.path());
    QCOMPARE(::symlink(path("both.json").c_str(), path("alias.json").c_str()), 0);
    const Outcome o = call({"pattern", "chevron", "-o", "both.json", "--stages", "alias.json"});
    QVERIFY2(o.exit == 2 && o.err.contains("two names"), o.err.constData());
    QVERIFY(parse_pattern_json(*read_file(path("both.json"))).ok());
  }

  void pipes_are_read_like_files() {
    QProcess p;
    p.setWorkingDirectory(dir_.path());
    p.start("bash",
            {"-c", QStringLiteral(UC_CLI) + " steps <(printf 'sheet square:100mm\\nvalley bl onto tr\\n') --json && " +
                       QStringLiteral(UC_CLI) +
                       " pattern --rules <(printf 'line 0,4 along 1,0 valley\\n') --sheet square:100mm --json"});
    QVERIFY(p.waitForFinished(60000));
    QVERIFY2(p.exitCode() == 0, p.readAllStandardError().constData());
    // A name of any bytes.
    const QByteArray name = dir_.path().toLocal8Bit() + "/m\xe9lange \xff.json";
    QVERIFY(write_atomically(name.toStdString(), pattern_json(testing::map_pattern(2, 2))).ok());
    const std::string call = std::string(UC_CLI) + " check '" + name.toStdString() + "' --json > '" + path("out") + "'";
    QCOMPARE(std::system(call.c_str()), 0);
    QVERIFY(!QJsonDocument::fromJson(QByteArray::fromStdString(*read_file(path("out")))).isNull());
  }
};

UC_TEST(JsonTest)
#include "json_test.moc"
