// Bad input of every kind, as a table: one line on standard error that names place and value, the right exit code,
// nothing half written. Also what happens when output cannot be written, and when the user stops the program.
#include "caller.h"

#include "patterns.h"

#include "io/pattern_json.h"
#include "io/project_file.h"
#include "runner.h"

#include <QDir>
#include <QElapsedTimer>
#include <QFile>

#include <csignal>
#include <cstdio>
#include <sys/wait.h>
#include <unistd.h>

using namespace uc;
using uc::testing::Outcome;

class AttacksTest : public QObject {
  Q_OBJECT
  QTemporaryDir dir_;
  [[nodiscard]] std::string path(const std::string& name) const { return dir_.path().toStdString() + "/" + name; }
  static void one_clean_line(const QByteArray& err) {
    QCOMPARE(err.count('\n'), 1);
    for (const char c : err.chopped(1)) QVERIFY(static_cast<unsigned char>(c) >= 0x20 && c != 0x7F);
  }

private slots:
  void attacks_data() { testing::add_rows(testing::cases("attacks.json")); }
  void attacks() {
    const Json c = testing::row();
    const testing::Caller call(dir_.path());
    for (const QString& name : QDir(dir_.path()).entryList(QDir::Files)) QFile::remove(dir_.path() + "/" + name);
    if (c.contains("file")) {
      const std::string text =
          c["text"] == "MAP" ? pattern_json(testing::map_pattern(2, 2)) : c["text"].get<std::string>();
      QVERIFY(write_atomically(path(c["file"]), text).ok());
      if (c.contains("link")) QVERIFY(::symlink(c["file"].get<std::string>().c_str(), path(c["link"]).c_str()) == 0);
    }
    if (c.contains("project")) {
      Json demo = testing::parsed(*read_file(std::string(UC_SOURCE_DIR "/data/demo/open-night.undercrease")));
      Project whole = *project_from_text(demo.dump(), "demo");
      demo = testing::parsed(project_text(whole));
      for (const auto& [key, value] : c["project"].items()) demo[Json::json_pointer(key)] = value;
      QVERIFY(write_atomically(path("p.undercrease"), demo.dump()).ok());
    }
    if (c.contains("project_sheet")) {
      Project p;
      p.sheet = *parse_sheet(c["project_sheet"].get<std::string>());
      p.stock = generic_stocks()[0];
      p.programme = planned_programme(p, *division_of(p));
      QVERIFY(save_project(p, path("big.undercrease")).ok());
    }
    QStringList args;
    for (const Json& a : c["args"]) args << QString::fromStdString(a.get<std::string>());
    QElapsedTimer timer;
    timer.start();
    const Outcome o = call(args);
    QCOMPARE(o.exit, c["exit"].get<int>());
    if (c["exit"] == 2) {
      one_clean_line(o.err);
      QVERIFY(o.out.isEmpty());
    }
    if (c.contains("says"))
      QVERIFY2(QString::fromUtf8(o.err).contains(QString::fromStdString(c["says"].get<std::string>())),
               o.err.constData());
    if (c.contains("out")) QVERIFY2(o.out.contains(c["out"].get<std::string>().c_str()), o.out.constData());
    QVERIFY(!QFile::exists(dir_.path() + "/x.svg") && !QFile::exists(dir_.path() + "/x.pdf"));
  }

  void output_that_cannot_be_written_is_an_error_of_every_command_data() {
    QTest::addColumn<QStringList>("args");
    const QString demo = QStringLiteral(UC_SOURCE_DIR) + "/data/demo/open-night.undercrease";
    const QString map = dir_.path() + "/map.json";
    QVERIFY(write_atomically(map.toStdString(), pattern_json(testing::map_pattern(2, 2))).ok());
    QTest::newRow("divide") << QStringList{"divide", "--sheet", "a4", "--parts", "8"};
    QTest::newRow("divide json") << QStringList{"divide", "--sheet", "a4", "--parts", "8", "--json"};
    QTest::newRow("pattern list") << QStringList{"pattern", "--list", "--json"};
    QTest::newRow("check") << QStringList{"check", map, "--json"};
    QTest::newRow("count") << QStringList{"count", map};
    QTest::newRow("pre-crease") << QStringList{"pre-crease", map};
    QTest::newRow("polygon help") << QStringList{"polygon", "--help"};
    QTest::newRow("version") << QStringList{"--version"};
    QTest::newRow("log") << QStringList{"log", "list"};
    QTest::newRow("export") << QStringList{"export", demo, "-o", dir_.path() + "/y.csv"};
  }
  void output_that_cannot_be_written_is_an_error_of_every_command() {
    QFETCH(QStringList, args);
    QProcess p;
    p.setStandardOutputFile("/dev/full");
    p.start(QStringLiteral(UC_CLI), args);
    QVERIFY(p.waitForFinished(60000));
    QCOMPARE(p.exitCode(), 2);
    const QByteArray err = p.readAllStandardError();
    one_clean_line(err);
    QVERIFY2(err.contains("standard output") && err.contains("No space left"), err.constData());
    // A reader that has gone.
    int ends[2];
    QCOMPARE(::pipe(ends), 0);
    ::close(ends[0]);
    const pid_t child = ::fork();
    if (child == 0) {
      std::vector<std::string> words{UC_CLI};
      for (const QString& a : args) words.push_back(a.toStdString());
      std::vector<char*> argv;
      for (std::string& w : words) argv.push_back(w.data());
      argv.push_back(nullptr);
      ::dup2(ends[1], STDOUT_FILENO);
      if (!::freopen("/dev/null", "w", stderr)) ::_exit(99);
      ::execv(argv[0], argv.data());
      ::_exit(99);
    }
    ::close(ends[1]);
    int status = 0;
    QCOMPARE(::waitpid(child, &status, 0), child);
    QVERIFY(WIFEXITED(status));
    QCOMPARE(WEXITSTATUS(status), 2);
  }

  void long_values_are_shortened() {
    const testing::Caller call(dir_.path());
    const QString value(5000, 'z');
    for (const QStringList& args : {QStringList{"divide", "--sheet", "a4", "--parts", value},
                                    {"divide", "--sheet", value, "--parts", "8"},
                                    {"check", value + ".json"},
                                    {"divide", "--sheet", "a4", "--parts", "8", "--" + value},
                                    {"pattern", value, "-o", "x.json"},
                                    {value}}) {
      const Outcome o = call(args);
      QCOMPARE(o.exit, 2);
      one_clean_line(o.err);
      QVERIFY2(o.err.size() <= 640 && o.err.contains("zzz") && !o.err.contains(QByteArray(301, 'z')),
               o.err.constData());
    }
  }

  void stopping_says_so_at_once_and_leaves_nothing_half_done() {
    const std::string big = path("big.json");
    QVERIFY(write_atomically(big, pattern_json(testing::chevron_pattern(90, 90, 60))).ok());
    for (const QStringList& args : {QStringList{"check", "big.json", "--json"},
                                    {"count", "big.json", "--json"},
                                    {"check", "-", "--format", "json", "--json"}}) {
      QProcess p;
      p.setWorkingDirectory(dir_.path());
      p.start(QStringLiteral(UC_CLI), args);
      QVERIFY(p.waitForStarted());
      QTest::qWait(350);
      if (p.state() != QProcess::Running) continue; // a quicker machine than any known
      ::kill(static_cast<pid_t>(p.processId()), SIGINT);
      QVERIFY(p.waitForFinished(3000));
      QCOMPARE(p.exitStatus(), QProcess::NormalExit);
      QCOMPARE(p.exitCode(), 130);
      QVERIFY(p.readAllStandardOutput().isEmpty());
      const QByteArray err = p.readAllStandardError();
      one_clean_line(err);
      QVERIFY2(err.contains("stopped by you"), err.constData());
    }
  }

  void time_and_memory_are_kept_to() {
    const testing::Caller call(dir_.path());
    QVERIFY(write_atomically(path("big.json"), pattern_json(testing::chevron_pattern(90, 90, 60))).ok());
    const Outcome late = call({"check", "big.json", "--seconds", "0.1", "--json"});
    QCOMPARE(late.exit, 1);
    QVERIFY(testing::parsed(late.out.toStdString())["layers"]["status"] == "out-of-time");
    const Outcome small = call({"check", "big.json", "--memory", "5MB", "--json"});
    QCOMPARE(small.exit, 1);
    const Json j = testing::parsed(small.out.toStdString());
    QVERIFY(j["layers"]["status"] == "not-tried");
    QVERIFY(j["locally_flat_foldable"] == true && j["faces"].get<int>() == 8100);
    const Outcome told = call({"fold", "big.json", "-o", "f.svg", "--memory", "5MB"});
    QCOMPARE(told.exit, 1);
    QVERIFY2(told.err.contains("GB of memory"), told.err.constData());
  }

  void patterns_come_from_pipes() {
    const QByteArray map = QByteArray::fromStdString(pattern_json(testing::map_pattern(2, 2)));
    QProcess p;
    p.start(QStringLiteral(UC_CLI), {"count", "-", "--format", "json", "--json"});
    QVERIFY(p.waitForStarted());
    p.write(map);
    p.closeWriteChannel();
    QVERIFY(p.waitForFinished(20000));
    QCOMPARE(testing::parsed(p.readAllStandardOutput().toStdString())["states"].get<std::string>(), std::string("8"));
  }

  void names_that_are_not_text_are_written_and_read() {
    const testing::Caller call(dir_.path());
    const std::string name = path("gitter-\xe4.json");
    QVERIFY(write_atomically(name, pattern_json(testing::map_pattern(2, 2))).ok());
    QProcess p;
    p.start("/bin/sh", {"-c", "exec \"$0\" check \"$1\"/gitter-*.json --json", QStringLiteral(UC_CLI), dir_.path()});
    QVERIFY(p.waitForFinished(20000));
    QVERIFY2(p.exitCode() == 0, p.readAllStandardError().constData());
  }
};

UC_TEST(AttacksTest)
#include "attacks_test.moc"
