// Every option of every command, as its own help lists it, given values that nobody would type on purpose: each call
// ends within its time, with one clean sentence or with one document, and none says that it is done when it is not.
#include "caller.h"

#include "patterns.h"

#include "io/pattern_json.h"
#include "record/run_log.h"
#include "runner.h"

#include <QElapsedTimer>
#include <QJsonDocument>
#include <QRegularExpression>

using namespace uc;
using uc::testing::Outcome;

namespace {

struct Option {
  QString name;
  bool takes_value = false;
};

std::vector<Option> options_of(const QString& help) {
  std::vector<Option> out;
  const QRegularExpression line(R"(^  (-[^ ]+)( TEXT| INT| FLOAT| UINT)?)", QRegularExpression::MultilineOption);
  for (auto m = line.globalMatch(help); m.hasNext();) {
    const auto found = m.next();
    const QString name = found.captured(1).split(',').last();
    if (name != "--help" && name != "--version") out.push_back({name, !found.captured(2).isEmpty()});
  }
  return out;
}

const QList<QByteArray>& wild_values() {
  static const QList<QByteArray> values{"",           " ",
                                        "-1",         "0",
                                        "-0.0",       "1e300",
                                        "1e-300",     "nan",
                                        "-inf",       "999999999999999999999",
                                        "2147483648", "x",
                                        "1,2",        "1/0",
                                        "0x10",       "((((((((((1",
                                        "-40mm",      "--",
                                        "a=b",        "../../etc",
                                        "\xc3\x28",   "\xd9\xa3",
                                        "%s%n",       "100000:100000"};
  return values;
}

/// Nothing that a program says of itself to its makers.
bool raw(const QByteArray& text) {
  for (const char* word : {"terminate", "what()", "std::", "exception", "basic_string", "nlohmann", "[json", "Assert",
                           "vector::", "core dumped", "Sanitizer", "CLI::", "stoi", "stod"})
    if (text.contains(word)) return true;
  return false;
}

} // namespace

class WildTest : public QObject {
  Q_OBJECT
  QTemporaryDir dir_;
  [[nodiscard]] std::string path(const std::string& name) const { return dir_.path().toStdString() + "/" + name; }

  void make_inputs() const {
    const auto kind = [](int, int j, bool upright) { return upright && j > 0 ? EdgeKind::mountain : EdgeKind::valley; };
    QVERIFY(write_atomically(path("map.json"), pattern_json(testing::map_pattern(2, 2, kind))).ok());
    QVERIFY(write_atomically(path("plain.json"), pattern_json(testing::map_pattern(2, 2))).ok());
    RunLog log = std::move(RunLog::open(path("log.sqlite"))).value();
    RunDetail run;
    run.summary.title = "Crater panel";
    run.summary.status = RunStatus::finished;
    QVERIFY(log.add_whole(run).ok());
  }

  /// What is wrong with the answer to a call; empty when nothing is.
  static QString wrong(const Outcome& o, bool json, qint64 ms, qint64 allowed_ms) {
    if (ms > allowed_ms) return QStringLiteral("took %1 ms").arg(ms);
    if (o.exit != 0 && o.exit != 1 && o.exit != 2) return QStringLiteral("ends with %1").arg(o.exit);
    if (raw(o.out) || raw(o.err)) return QStringLiteral("raw text");
    if (o.exit == 2 && (!o.out.isEmpty() || o.err.count('\n') != 1)) return QStringLiteral("not one line");
    for (const char c : o.err) {
      if (static_cast<unsigned char>(c) < 0x20 && c != '\n') return QStringLiteral("a control character");
    }
    if (o.exit == 0 && !o.err.isEmpty() && o.err.contains("under-crease-cli: "))
      return QStringLiteral("an error, and 0");
    if (json && o.exit != 2) {
      QJsonParseError error;
      (void)QJsonDocument::fromJson(o.out, &error);
      if (error.error != QJsonParseError::NoError) return QStringLiteral("no document: ") + error.errorString();
    }
    return {};
  }

private slots:
  void initTestCase() { make_inputs(); }

  void options_survive_wild_values_data() {
    QTest::addColumn<QStringList>("call");
    int n = 0;
    for (const Json& c : testing::cases("wild_calls.json")) {
      QStringList call;
      for (const Json& a : c) {
        QString word = QString::fromStdString(a.get<std::string>());
        if (word == "DEMO") word = QStringLiteral(UC_SOURCE_DIR) + "/data/demo/open-night.undercrease";
        if (word == "MEASURED") word = QStringLiteral(UC_SOURCE_DIR) + "/docs/guide/patterns/measured.json";
        if (word == "LOG") word = "log.sqlite";
        call << word;
      }
      QTest::addRow("%d %s", n++, qPrintable(call.mid(0, 2).join(' '))) << call;
    }
  }
  void options_survive_wild_values() {
    QFETCH(QStringList, call);
    const testing::Caller cli(dir_.path());
    QStringList command{call.front()};
    if (command.front() == "log") command << call[1];
    const auto options = options_of(QString::fromUtf8(cli(command + QStringList{"--help"}).out));
    QVERIFY(options.size() > 2);
    QCOMPARE(cli(call).exit, 0); // as it stands it is done, so that a refusal is of the value
    const auto has = [&](const QString& name) {
      return std::any_of(options.begin(), options.end(), [&](const Option& o) { return o.name == name; });
    };
    // The usual test takes every fifth value, others for each option; the long attack all of them.
    const bool all = qEnvironmentVariableIsSet("UC_ATTACK");
    int calls = 0;
    std::map<int, int> ends; // calls by how they ended
    qint64 longest = 0;
    QStringList faults;
    for (std::size_t i = 0; i < options.size(); ++i) {
      if (!options[i].takes_value) continue;
      for (int v = all ? 0 : static_cast<int>(i) % 5; v < wild_values().size(); v += all ? 1 : 5) {
        QStringList args = call;
        const auto given = args.indexOf(options[i].name);
        if (given >= 0) args.erase(args.begin() + given, args.begin() + given + 2);
        args << options[i].name << QString::fromLocal8Bit(wild_values()[v]);
        const bool json = has("--json");
        if (json) args << "--json";
        constexpr int seconds = 3;
        if (has("--seconds") && options[i].name != "--seconds") args << "--seconds" << QString::number(seconds);
        QElapsedTimer timer;
        timer.start();
        const Outcome o = cli(args);
        ++calls;
        ++ends[o.exit];
        longest = std::max(longest, timer.elapsed());
        const QString fault = wrong(o, json, timer.elapsed(), (seconds + 2) * 1000);
        if (!fault.isEmpty())
          faults << args.join(' ') + ": " + fault + ": " + QString::fromUtf8(o.err.left(200) + o.out.left(100));
      }
    }
    qInfo("%d calls, %d done, %d answered no, %d refused, the longest %lld ms", calls, ends[0], ends[1], ends[2],
          static_cast<long long>(longest));
    QVERIFY2(faults.isEmpty(), qPrintable("\n" + faults.join("\n")));
  }
};

UC_TEST(WildTest)
#include "wild_test.moc"
