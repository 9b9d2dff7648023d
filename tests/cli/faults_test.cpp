// Every system call of every write failed in turn: the old file is whole each time, or the new one is, nothing is left
// beside it, and the program says which.
#include "caller.h"
#include "runner.h"

#include <QDir>
#include <QFile>

using namespace uc;
using uc::testing::Outcome;

class FaultsTest : public QObject {
  Q_OBJECT
  QTemporaryDir dir_;

  struct Struck {
    Outcome outcome;
    bool struck = false;
  };
  [[nodiscard]] Struck call_with(const QStringList& args, int nth, const QString& what) const {
    const QString log = dir_.path() + "/struck";
    QFile::remove(log);
    QProcess p;
    QProcessEnvironment env = QProcessEnvironment::systemEnvironment();
    env.insert("LD_PRELOAD", QStringLiteral(UC_FAULTS));
    env.insert("UC_FAULT", QStringLiteral("%1:%2").arg(nth).arg(what));
    env.insert("UC_FAULT_LOG", log);
    env.insert("XDG_DATA_HOME", dir_.path());
    p.setProcessEnvironment(env);
    p.start(QStringLiteral(UC_CLI), args);
    p.waitForFinished(60000);
    return {{p.exitCode(), p.readAllStandardOutput(), p.readAllStandardError()}, QFile::exists(log)};
  }
  static QByteArray bytes(const QString& file) {
    QFile f(file);
    return f.open(QIODevice::ReadOnly) ? f.readAll() : QByteArray();
  }

private slots:
  void every_call_of_a_write_fails_in_turn_data() {
    QTest::addColumn<QStringList>("args");
    QTest::addColumn<QString>("name");
    const QString demo = QStringLiteral(UC_SOURCE_DIR) + "/data/demo/open-night.undercrease";
    for (const char* ending : {"svg", "csv", "html", "pdf"})
      QTest::addRow("export %s", ending) << QStringList{"export", demo, "-o"} << QStringLiteral("out.%1").arg(ending);
    QTest::newRow("pattern") << QStringList{"pattern", "map", "-o"} << "map.json";
  }
  void every_call_of_a_write_fails_in_turn() {
    QFETCH(QStringList, args);
    QFETCH(QString, name);
    const QString folder = dir_.path() + "/out";
    QDir(folder).removeRecursively();
    QVERIFY(QDir().mkpath(folder));
    const QString file = folder + "/" + name;
    args << file;
    QCOMPARE(call_with(args, 0, "EIO").outcome.exit, 0);
    const QByteArray whole = bytes(file);
    QVERIFY(whole.size() > 100);
    const QByteArray old = "what was there before";
    int faults = 0;
    for (const char* what : {"ENOSPC", "EIO", "EINTR", "short"}) {
      for (int nth = 1;; ++nth) {
        QFile f(file);
        QVERIFY(f.open(QIODevice::WriteOnly | QIODevice::Truncate));
        f.write(old);
        f.close();
        const Struck s = call_with(args, nth, what);
        if (!s.struck) {
          QVERIFY(nth > 3); // making, writing, flushing, naming at least
          break;
        }
        ++faults;
        const QByteArray now = bytes(file);
        const QByteArray told = s.outcome.err;
        QVERIFY2(s.outcome.exit == 0 ? now == whole : now == old || now == whole, what);
        QVERIFY2(s.outcome.exit == 0 || (s.outcome.exit == 2 && told.count('\n') == 1), told.constData());
        // Interrupted calls are made again, and what was written in part is written on.
        if (QByteArray(what) == "EINTR" || QByteArray(what) == "short") QCOMPARE(s.outcome.exit, 0);
        QCOMPARE(QDir(folder).entryList(QDir::Files | QDir::Hidden).size(), 1);
      }
    }
    QVERIFY(faults >= 12);
    qInfo("%d faults", faults);
  }
};

UC_TEST(FaultsTest)
#include "faults_test.moc"
