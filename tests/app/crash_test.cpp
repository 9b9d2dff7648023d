// Kills a working program at random moments, 200 or UC_KILLS of them, over edits, saves, runs and recovery, and makes
// its system calls of writing fail one after another: whatever it had acknowledged must be found again.
#include "runner.h"
#include "support.h"

#include "record/run_log.h"

#include <QDir>
#include <QFile>
#include <QProcess>
#include <QTemporaryDir>

#include <chrono>
#include <map>
#include <random>
#include <set>
#include <thread>

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
    const int kills = qEnvironmentVariableIntValue("UC_KILLS") > 0 ? qEnvironmentVariableIntValue("UC_KILLS") : 200;
    int kept = 0; // the count of the project as it was last acknowledged
    int recovered = 0;
    for (int kill = 0; kill < kills; ++kill) {
      QProcess worker;
      worker.start(QStringLiteral(UC_RUN_WORKER), {folder});
      QVERIFY(worker.waitForStarted());
      // It is struck some time after so many lines: how many it has written then does not depend on the machine.
      const auto lines = static_cast<qsizetype>(6 + random() % 12);
      QByteArray output;
      while (output.count('\n') < lines) {
        QVERIFY2(worker.waitForReadyRead(20000), worker.readAllStandardError().constData());
        output += worker.readAllStandardOutput();
      }
      std::this_thread::sleep_for(std::chrono::microseconds(random() % 3000));
      ::kill(static_cast<pid_t>(worker.processId()), SIGKILL);
      QVERIFY(worker.waitForFinished());
      QCOMPARE(worker.exitStatus(), QProcess::CrashExit);
      output += worker.readAllStandardOutput();
      for (const QByteArray& line : output.split('\n')) {
        const auto words = line.split(' ');
        if (words.size() < 2) continue;
        ++acknowledged;
        const std::int64_t id = words[1].toLongLong();
        if (words[0] == "run") wanted[id];
        if (words[0] == "end") ended.insert(id);
        if (words[0] == "recovered") {
          ++recovered;
          QVERIFY2(kept == 0 || id == kept || id == kept % 9 + 2,
                   qPrintable(QString("recovered %1 of %2").arg(id).arg(kept)));
        }
        if (words[0] == "parts" || words[0] == "saved" || words[0] == "recovered") kept = words[1].toInt();
        if (words.size() == 3) wanted[id].insert({words[0].toStdString(), words[2].toInt()});
      }
      auto opened = RunLog::open((folder + "/log.sqlite").toStdString());
      QVERIFY2(opened.ok(), opened ? "" : opened.error().c_str());
      // Runs of earlier kills are checked again at the end; here only the latest, to keep the test quick.
      for (auto run = wanted.rbegin(); run != wanted.rend() && std::distance(wanted.rbegin(), run) < 3; ++run)
        check(*opened, run->first, run->second);
      if (kept == 0) continue;
      // In a copy or in the file: what was acknowledged, or the edit after it.
      QStringList places{folder + "/job.undercrease"};
      for (const QString& file : QDir(folder + "/recovery").entryList({"*.undercrease"}))
        places << folder + "/recovery/" + file;
      bool found = false;
      for (const QString& place : places) {
        if (!QFile::exists(place)) continue;
        const int parts = load_project_parts(place);
        found = found || parts == kept || parts == kept % 9 + 2;
      }
      QVERIFY2(found, qPrintable(QString("count %1").arg(kept)));
    }
    const auto log = RunLog::open((folder + "/log.sqlite").toStdString());
    for (const auto& [id, events] : wanted) check(*log, id, events);
    for (const std::int64_t id : ended) QCOMPARE(log->load(id)->summary.status, RunStatus::finished);
    QVERIFY2(acknowledged >= 5 * kills, qPrintable(QString::number(acknowledged)));
    QVERIFY2(recovered > kills / 20, qPrintable(QString::number(recovered)));
    qInfo("%d acknowledged entries in %zu runs survived %d kills, %d recoveries among them", acknowledged,
          wanted.size(), kills, recovered);
  }

  void a_system_call_that_fails_loses_nothing() {
    QTemporaryDir dir;
    const bool all = qEnvironmentVariableIntValue("UC_KILLS") > 0; // else every seventeenth call
    const auto worked = [&](const QString& folder, const QString& fault, QByteArray& output) {
      QProcess worker;
      QProcessEnvironment env = QProcessEnvironment::systemEnvironment();
      if (!fault.isEmpty()) {
        env.insert("LD_PRELOAD", QStringLiteral(UC_FAULTS));
        env.insert("UC_FAULT", fault);
        env.insert("UC_FAULT_LOG", folder + ".struck");
      }
      worker.setProcessEnvironment(env);
      worker.start(QStringLiteral(UC_RUN_WORKER), {folder, "limited"});
      worker.waitForFinished(60000);
      output = worker.readAllStandardOutput();
      return worker.exitStatus() == QProcess::NormalExit ? worker.exitCode() : -1;
    };
    int faults = 0;
    int refused = 0;
    int number = 0;
    for (const char* what : {"ENOSPC", "EIO", "EINTR", "short"}) {
      for (int nth = 1;; nth += all ? 1 : 17) {
        const QString folder = QStringLiteral("%1/%2").arg(dir.path()).arg(++number);
        QByteArray before;
        QCOMPARE(worked(folder, {}, before), 0); // what was there before the fault
        QByteArray after;
        const int exit = worked(folder, QStringLiteral("%1:%2").arg(nth).arg(what), after);
        if (!QFile::exists(folder + ".struck")) {
          QVERIFY(nth > 10);
          break;
        }
        ++faults;
        refused += exit != 0;
        QVERIFY2(exit >= 0, "the program died");
        std::map<std::int64_t, std::multiset<std::pair<std::string, int>>> wanted;
        int saved = 0;
        for (const QByteArray& line : (before + after).split('\n')) {
          const auto words = line.split(' ');
          if (words.size() == 3) wanted[words[1].toLongLong()].insert({words[0].toStdString(), words[2].toInt()});
          if (words[0] == "saved") saved = words[1].toInt();
        }
        auto log = RunLog::open((folder + "/log.sqlite").toStdString());
        QVERIFY2(log.ok(), log ? "" : log.error().c_str());
        for (const auto& [id, events] : wanted) check(*log, id, events);
        const int kept = load_project_parts(folder + "/job.undercrease");
        QVERIFY2(kept == saved || kept == saved % 9 + 2, qPrintable(QString("%1 for %2").arg(kept).arg(saved)));
        // It goes on afterwards, with the same folder.
        QByteArray again;
        const int next = worked(folder, {}, again);
        QVERIFY2(next == 0, qPrintable(QString("%1 %2: %3").arg(what).arg(nth).arg(next)));
        QDir(folder).removeRecursively();
        QFile::remove(folder + ".struck");
      }
    }
    qInfo("%d faults in writes of log, recovery and project, %d of them refused a deed; nothing lost", faults, refused);
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

UC_TEST(CrashTest)
#include "crash_test.moc"
