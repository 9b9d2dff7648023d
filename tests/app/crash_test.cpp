// Kills a working program at 200 random moments: whatever it had acknowledged must be found again.
#include "support.h"

#include "record/run_log.h"

#include <QDir>
#include <QElapsedTimer>
#include <QProcess>
#include <QTemporaryDir>

#include <map>
#include <random>
#include <set>

#include <csignal>

using namespace uc;

class CrashTest : public QObject {
  Q_OBJECT
private slots:
  void nothing_acknowledged_is_lost() {
    QTemporaryDir dir;
    const QString folder = dir.path() + "/data";
    std::mt19937 random(2026);
    std::map<std::int64_t, std::multiset<std::pair<std::string, int>>> wanted;
    std::set<std::int64_t> ended;
    int acknowledged = 0;
    for (int kill = 0; kill < 200; ++kill) {
      QProcess worker;
      worker.start(QStringLiteral(UC_RUN_WORKER), {folder});
      QVERIFY(worker.waitForStarted());
      QVERIFY2(worker.waitForReadyRead(20000), worker.readAllStandardError().constData());
      QTest::qSleep(static_cast<int>(random() % 25));
      ::kill(static_cast<pid_t>(worker.processId()), SIGKILL);
      QVERIFY(worker.waitForFinished());
      QCOMPARE(worker.exitStatus(), QProcess::CrashExit);
      int parts = 0;
      const QByteArray output = worker.readAllStandardOutput();
      for (const QByteArray& line : output.split('\n')) {
        const auto words = line.split(' ');
        if (words.size() < 2) continue;
        ++acknowledged;
        const std::int64_t id = words[1].toLongLong();
        if (words[0] == "run") wanted[id];
        if (words[0] == "end") ended.insert(id);
        if (words[0] == "parts") parts = words[1].toInt();
        if (words.size() == 3) wanted[id].insert({words[0].toStdString(), words[2].toInt()});
      }
      auto opened = RunLog::open((folder + "/log.sqlite").toStdString());
      QVERIFY2(opened.ok(), opened ? "" : opened.error().c_str());
      // Runs of earlier kills are checked again at the end; here only the latest, to keep the test quick.
      for (auto run = wanted.rbegin(); run != wanted.rend() && std::distance(wanted.rbegin(), run) < 3; ++run)
        check(*opened, run->first, run->second);
      if (parts > 0) {
        bool found = false;
        for (const QString& file : QDir(folder + "/recovery").entryList({"*.undercrease"})) {
          const auto project = load_project_parts(folder + "/recovery/" + file);
          found = found || project == parts || project == parts % 9 + 2;
        }
        QVERIFY2(found, qPrintable(QString("autosaved count %1").arg(parts)));
      }
      for (const QString& file : QDir(folder + "/recovery").entryList({"*.undercrease"}))
        QFile::remove(folder + "/recovery/" + file);
    }
    const auto log = RunLog::open((folder + "/log.sqlite").toStdString());
    for (const auto& [id, events] : wanted) check(*log, id, events);
    for (const std::int64_t id : ended) QCOMPARE(log->load(id)->summary.status, RunStatus::finished);
    QVERIFY2(acknowledged > 1000, qPrintable(QString::number(acknowledged)));
    qInfo("%d acknowledged entries in %zu runs survived 200 kills", acknowledged, wanted.size());
  }

private:
  static int load_project_parts(const QString& path) {
    const auto text = read_file(path.toStdString());
    const auto json = text ? parse_json(*text, "recovery") : Result<Json>(Error{"unreadable"});
    return json ? (*json)["grid"]["parts"].get<int>() : -1;
  }

  static void check(const RunLog& log, std::int64_t id, const std::multiset<std::pair<std::string, int>>& events) {
    const auto run = log.load(id);
    QVERIFY2(run.ok(), qPrintable(QString("run %1").arg(id)));
    std::multiset<std::pair<std::string, int>> stored;
    for (const RunEvent& e : run->events) stored.insert({name_of(e.kind), e.move});
    for (const auto& e : events)
      QVERIFY2(stored.count(e) >= events.count(e),
               qPrintable(QString("run %1 %2 %3").arg(id).arg(QString::fromStdString(e.first)).arg(e.second)));
  }
};

QTEST_GUILESS_MAIN(CrashTest)
#include "crash_test.moc"
