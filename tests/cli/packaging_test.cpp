// Installing beside another package manager: it is waited for with a line that says so, for a while; anything else that
// goes wrong ends at once. A script stands in for the package manager.
#include "runner.h"
#include "support.h"

#include <QFile>
#include <QProcess>

#include <sys/stat.h>

class PackagingTest : public QObject {
  Q_OBJECT
  QTemporaryDir dir_;

  /// Runs `apt_waiting` with a stand-in that fails so often, saying this, and then succeeds.
  [[nodiscard]] QProcess& run(int failures, const char* says, const char* patience) {
    const std::string stand_in = dir_.filePath("apt").toStdString();
    if (!uc::write_atomically(stand_in, "#!/bin/sh\necho x >>\"$0.calls\"\n"
                                        "[ $(wc -l <\"$0.calls\") -gt " +
                                            std::to_string(failures) + " ] && exit 0\necho '" + says +
                                            "' >&2\nexit 100\n"))
      qFatal("no stand-in");
    ::chmod(stand_in.c_str(), 0755);
    QFile::remove(dir_.filePath("apt.calls"));
    process_.start("bash", {"-c", QString("set -euo pipefail; . '%1/packaging/install-packages.sh'; UC_APT_PATIENCE=%2 "
                                          "apt_waiting '%3/apt'")
                                      .arg(UC_SOURCE_DIR, patience, dir_.path())});
    process_.waitForFinished(60000);
    return process_;
  }
  [[nodiscard]] int calls() const {
    QFile file(dir_.filePath("apt.calls"));
    return file.open(QIODevice::ReadOnly) ? static_cast<int>(file.readAll().count('\n')) : 0;
  }
  QProcess process_;

private slots:
  void another_package_manager_is_waited_for() {
    QProcess& p = run(2, "E: Could not get lock /var/lib/dpkg/lock-frontend.", "60");
    QCOMPARE(p.exitCode(), 0);
    QCOMPARE(calls(), 3);
    const QByteArray said = p.readAllStandardOutput();
    QVERIFY2(said.count('\n') == 1 && said.contains("waiting for it, up to 60 s"), said.constData());
    QVERIFY(p.readAllStandardError().isEmpty());
  }
  void not_for_ever() {
    QProcess& p = run(1000, "E: Unable to lock directory /var/lib/apt/lists/", "1");
    QCOMPARE(p.exitCode(), 100);
    QVERIFY(p.readAllStandardError().contains("still at work after 1 s"));
  }
  void what_else_goes_wrong_ends_at_once() {
    QProcess& p = run(1000, "E: Unable to locate package nothing", "60");
    QCOMPARE(p.exitCode(), 100);
    QCOMPARE(calls(), 1);
    QVERIFY(p.readAllStandardError().contains("Unable to locate package nothing"));
    QVERIFY(p.readAllStandardOutput().isEmpty());
  }
};

UC_TEST(PackagingTest)
#include "packaging_test.moc"
