#include "base/project_presence.h"

#include "base/file_name.h"
#include "base/file_stamp.h"

#include <QCryptographicHash>
#include <QDir>
#include <QRandomGenerator>

namespace uc::app {

ProjectPresence::ProjectPresence(const QString& data_folder, QObject* parent)
    : QObject(parent), folder_(data_folder + "/open") {
  connect(&timer_, &QTimer::timeout, this, &ProjectPresence::look);
  timer_.start(1000);
}

void ProjectPresence::set_project(const QString& path) {
  if (!own_.isEmpty()) QFile::remove(own_);
  own_.clear();
  key_.clear();
  held_.release();
  if (!path.isEmpty()) {
    // Two names of one file are one project; the folder of a file that is replaced whole stays the same.
    const QString canonical = QFileInfo(path).canonicalFilePath();
    const std::string name = canonical.isEmpty() ? bytes_of(path) : bytes_of(canonical);
    key_ = QCryptographicHash::hash(QByteArray::fromStdString(name), QCryptographicHash::Sha1).toHex();
    QDir().mkpath(folder_);
    own_ = QStringLiteral("%1/%2-%3")
               .arg(folder_, key_)
               .arg(QRandomGenerator::system()->generate(), 8, 16, QLatin1Char('0'));
    HeldFile::Outcome outcome{};
    held_ = HeldFile::take(bytes_of(own_), true, outcome);
  }
  look();
}

void ProjectPresence::look() {
  int found = 0;
  if (!key_.isEmpty()) {
    for (const QString& name : QDir(folder_).entryList({key_ + "-*"}, QDir::Files)) {
      const QString file = folder_ + "/" + name;
      if (file == own_) continue;
      HeldFile::Outcome outcome{};
      const HeldFile left = HeldFile::take(bytes_of(file), false, outcome);
      if (outcome == HeldFile::Outcome::taken) ++found;
      if (outcome == HeldFile::Outcome::held) QFile::remove(file); // its window ended before its time
    }
  }
  if (found == others_) return;
  others_ = found;
  emit others_changed(found);
}

} // namespace uc::app
