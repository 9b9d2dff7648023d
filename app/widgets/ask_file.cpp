#include "widgets/ask_file.h"

#include "base/file_name.h"
#include "base/file_stamp.h"

#include <QCoreApplication>
#include <QFileDialog>
#include <QFileInfo>
#include <QMessageBox>
#include <QPushButton>
#include <QRegularExpression>

namespace uc::app {
namespace {

QString say(const char* text) { return QCoreApplication::translate("AskFile", text); }

} // namespace

QString filters_for(FileUse use, bool together) {
  QStringList filters;
  QStringList stars;
  QStringList titles;
  for (const FormatEntry& entry : formats_for(use)) {
    const QString title = QCoreApplication::translate("formats", entry.title);
    stars << QStringLiteral("*") + entry.ending;
    titles << title;
    filters << QStringLiteral("%1 (%2)").arg(title, stars.back());
  }
  if (!together) return filters.join(QStringLiteral(";;"));
  return QStringLiteral("%1 (%2)").arg(titles.join(QStringLiteral(", ")), stars.join(' '));
}

QStringList endings_of(const QString& filters) {
  QStringList all;
  static const QRegularExpression pattern("\\*\\.(\\w+)");
  for (auto m = pattern.globalMatch(filters); m.hasNext();) all << m.next().captured(1);
  return all;
}

QString with_ending(const QString& name, const QString& filters, const QString& chosen_filter) {
  for (const QString& ending : endings_of(filters)) {
    if (name.endsWith("." + ending, Qt::CaseInsensitive)) return name;
  }
  const QStringList chosen = endings_of(chosen_filter.isEmpty() ? filters : chosen_filter);
  return chosen.isEmpty() ? name : name + "." + chosen.first();
}

bool may_write(QWidget* parent, const QString& path) {
  if (!file_stamp(bytes_of(path))) return true;
  QMessageBox box(QMessageBox::Question, say("Replace a file"),
                  say("%1 is there already. Replace it?").arg(shown_name(path)), QMessageBox::Cancel, parent);
  QPushButton* replace = box.addButton(say("&Replace it"), QMessageBox::AcceptRole);
  replace->setObjectName("replace-file");
  box.setDefaultButton(QMessageBox::Cancel);
  box.exec();
  return box.clickedButton() == replace;
}

QString ask_where_to_write(QWidget* parent, const QString& title, const QString& proposal, const QString& filters) {
  QString name = proposal;
  while (true) {
    QFileDialog dialog(parent, title, QFileInfo(name).absolutePath(), filters);
    dialog.setAcceptMode(QFileDialog::AcceptSave);
    dialog.setFileMode(QFileDialog::AnyFile);
    // The question is asked here, of the name with its ending.
    dialog.setOption(QFileDialog::DontConfirmOverwrite);
    dialog.selectFile(QFileInfo(name).fileName());
    if (dialog.exec() != QDialog::Accepted || dialog.selectedFiles().isEmpty()) return {};
    name = with_ending(dialog.selectedFiles().first(), filters, dialog.selectedNameFilter());
    if (may_write(parent, name)) return name;
  }
}

} // namespace uc::app
