// The guide's figures are the program's own: every command in it is run, and each line printed below it must come out.
#include "caller.h"

#include "pattern/family.h"
#include "runner.h"

#include <QDir>

using namespace uc;

class GuideTest : public QObject {
  Q_OBJECT

private slots:
  void initTestCase() {
    QVERIFY(QFile::link(QStringLiteral(UC_SOURCE_DIR) + "/docs/guide/patterns", folder_.filePath("patterns")));
  }
  void commands_print_what_the_guide_says_data() {
    QTest::addColumn<QString>("command");
    QTest::addColumn<QStringList>("lines");
    const QDir guide(QStringLiteral(UC_SOURCE_DIR) + "/docs/guide");
    int commands = 0;
    for (const QString& name : guide.entryList({"*.md"})) {
      const auto text = read_file(guide.filePath(name).toStdString());
      QVERIFY(text);
      QString command;
      QStringList lines;
      const auto finish = [&] {
        if (!command.isEmpty()) QTest::newRow(qPrintable(name + ": " + command)) << command << lines, ++commands;
        command.clear();
        lines.clear();
      };
      for (const QString& line : QString::fromStdString(*text).split('\n')) {
        if (line.startsWith("```"))
          finish();
        else if (line.startsWith("$ under-crease-cli ")) {
          finish();
          command = line.mid(2);
        } else if (!command.isEmpty())
          lines << line;
      }
    }
    QVERIFY(commands >= 5);
  }
  void commands_print_what_the_guide_says() {
    QFETCH(QString, command);
    QFETCH(QStringList, lines);
    const testing::Outcome o = call_(command.split(' ').mid(1));
    QVERIFY2(o.exit <= 1 && o.err.isEmpty(), o.err.constData()); // 1: the answer is no
    const QStringList printed = QString::fromUtf8(o.out).split('\n');
    qsizetype from = 0;
    QVERIFY(!lines.isEmpty());
    for (const QString& line : lines) {
      const auto at = printed.indexOf(line, from);
      QVERIFY2(at >= 0, qPrintable("not printed: " + line + "\n" + QString::fromUtf8(o.out)));
      from = at + 1;
    }
  }

  /// The drawings beside the families are what the program draws now, and each stands in the guide.
  void every_family_is_drawn() {
    const QDir guide(QStringLiteral(UC_SOURCE_DIR) + "/docs/guide");
    const auto text = read_file(guide.filePath("pattern.md").toStdString());
    QVERIFY(text);
    for (const PatternFamily& family : pattern_families()) {
      const std::string drawing = "families/" + family.name + ".svg";
      QVERIFY2(text->find(drawing) != std::string::npos, family.name.c_str());
      const QString made = call_.home() + "/" + QString::fromStdString(family.name) + ".svg";
      QCOMPARE(call_({"pattern", QString::fromStdString(family.name), "-o", made}).exit, 0);
      const auto kept = read_file(guide.filePath(QString::fromStdString(drawing)).toStdString());
      const auto now = read_file(made.toStdString());
      QVERIFY2(kept && now && *kept == *now, family.name.c_str());
    }
  }

private:
  // A folder of its own, where what commands write comes and goes; the guide's patterns are in it.
  QTemporaryDir folder_;
  const testing::Caller call_{folder_.path()};
};

UC_TEST(GuideTest)
#include "guide_test.moc"
