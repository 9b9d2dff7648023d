// The guide's figures are the program's own: every command in it is run, and each line printed below it must come out.
#include "caller.h"
#include "runner.h"

#include <QDir>

using namespace uc;

class GuideTest : public QObject {
  Q_OBJECT

private slots:
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

private:
  const testing::Caller call_{QStringLiteral(UC_SOURCE_DIR) + "/docs/guide"};
};

UC_TEST(GuideTest)
#include "guide_test.moc"
