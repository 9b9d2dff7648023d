#include "base/recovery.h"

#include "base/atomic_file.h"
#include "base/file_name.h"

#include <QCoreApplication>
#include <QDir>
#include <QFileInfo>
#include <QRandomGenerator>

namespace uc::app {
namespace {

constexpr const char* origin_key = "recovered_from";
constexpr const char* digest_key = "recovered_digest";

QString say(const char* text) { return QCoreApplication::translate("Recovery", text); }

} // namespace

Recovery::Recovery(QString folder) : folder_(std::move(folder)) { QDir().mkpath(folder_); }

QString Recovery::new_name() const {
  const auto number = QRandomGenerator::system()->generate64();
  return QStringLiteral("%1/%2.undercrease").arg(folder_).arg(number, 16, 16, QLatin1Char('0'));
}

std::string Recovery::with_origin(Project project, const Origin& from) {
  // Bytes that are not text survive as the number of each.
  Json bytes = Json::array();
  for (const char c : bytes_of(from.path)) bytes.push_back(static_cast<unsigned char>(c));
  project.unknown[origin_key] = bytes;
  project.unknown[digest_key] = from.digest.toHex().toStdString();
  return project_text(project);
}

Result<Project> Recovery::read(const QString& file, Origin& from) {
  auto loaded = load_project(bytes_of(file), WithoutMoves::leave);
  if (!loaded) return loaded;
  Project project = std::move(loaded).value();
  const Json path = project.unknown.value(origin_key, Json());
  const Json digest = project.unknown.value(digest_key, Json());
  project.unknown.erase(origin_key);
  project.unknown.erase(digest_key);
  from = {};
  if (path.is_string()) from.path = QString::fromStdString(path.get<std::string>()); // of earlier versions
  if (path.is_array()) {
    std::string bytes;
    for (const Json& b : path) {
      if (b.is_number_unsigned() && b.get<std::uint64_t>() < 256) bytes += static_cast<char>(b.get<std::uint64_t>());
    }
    from.path = name_of_bytes(bytes);
  }
  if (digest.is_string()) from.digest = QByteArray::fromHex(QByteArray::fromStdString(digest.get<std::string>()));
  return project;
}

std::vector<Recoverable> Recovery::list() const {
  std::vector<Recoverable> all;
  for (const QFileInfo& info : QDir(folder_).entryInfoList({"*.undercrease"}, QDir::Files, QDir::Time)) {
    const QString file = info.absoluteFilePath();
    if (file == QFileInfo(own_).absoluteFilePath() && held_) continue;
    HeldFile::Outcome outcome{};
    if (HeldFile::take(bytes_of(file), false, outcome); outcome == HeldFile::Outcome::taken) continue;
    Recoverable r{file, {}, {}, info.lastModified(), {}};
    Origin from;
    const auto project = read(file, from);
    r.path = from.path;
    if (project)
      r.title = QString::fromStdString(project->title);
    else
      r.wrong = QString::fromStdString(project.error());
    all.push_back(std::move(r));
  }
  return all;
}

QString Recovery::keep(const std::string& text) {
  const QString name = own_.isEmpty() ? new_name() : own_;
  auto held = HeldFile::written(bytes_of(name), text);
  if (!held) return QString::fromStdString(held.error());
  own_ = name;
  held_ = std::move(held).value();
  return {};
}

QString Recovery::go_on_in(const QString& file, const std::string& text) {
  auto held = HeldFile::written(bytes_of(file), text);
  if (!held) return QString::fromStdString(held.error());
  if (!own_.isEmpty() && own_ != file) QFile::remove(own_);
  own_ = file;
  held_ = std::move(held).value();
  return {};
}

void Recovery::drop_own() {
  if (!own_.isEmpty()) QFile::remove(own_);
  held_.release();
  own_.clear();
}

QString Recovery::lay_aside(const std::string& text) {
  const QString name = new_name();
  return write_atomically(bytes_of(name), text) ? name : QString();
}

QString Recovery::discard(const QString& file) const {
  HeldFile::Outcome outcome{};
  const HeldFile mine = HeldFile::take(bytes_of(file), false, outcome);
  if (outcome == HeldFile::Outcome::taken) return say("Another window has taken it over.");
  if (QFile::remove(file) || !QFile::exists(file)) return {};
  return say("%1 cannot be removed; its folder is read-only.").arg(shown_name(file));
}

} // namespace uc::app
