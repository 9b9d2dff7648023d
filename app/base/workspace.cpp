#include "base/workspace.h"

#include "base/file_name.h"

#include <QCoreApplication>
#include <QDir>
#include <QFileInfo>

namespace uc::app {

QString translated(std::string_view phrase) { return QCoreApplication::translate("Move", std::string(phrase).c_str()); }

QString direction_sign(const std::string& family) {
  if (family == "rising") return QStringLiteral("↗");
  if (family == "falling") return QStringLiteral("↘");
  if (!family.empty() && family[0] >= '0' && family[0] <= '9')
    return QString::fromStdString(family) + QStringLiteral("°");
  return QString::fromStdString(family);
}

Workspace::Workspace(const QString& folder, QObject* parent)
    : QObject(parent), document(folder + "/recovery"), indexes(default_cache_folder()), folder_(folder) {
  QDir().mkpath(folder_);
  HeldFile::Outcome outcome{};
  instance_ = HeldFile::take(bytes_of(folder_ + "/window.lock"), true, outcome);
  if (outcome == HeldFile::Outcome::taken) folder_state_ = Folder::shared;
  if (outcome == HeldFile::Outcome::impossible) folder_state_ = Folder::unwritable;
  auto stocks = load_shelf(bytes_of(folder_ + "/shelf.json"));
  if (stocks)
    shelf = *stocks;
  else
    shelf = generic_stocks(), shelf_error_ = QString::fromStdString(stocks.error());
  open_log();
}

QString Workspace::folder_sentence() const {
  switch (folder_state_) {
  case Folder::own:
    return {};
  case Folder::shared:
    return tr("Another Under Crease is open. Both write to the same log.");
  case Folder::unwritable:
    return cannot_write_sentence();
  }
  return {};
}

QString Workspace::cannot_write_sentence() const {
  return tr("The data folder %1 cannot be written to: it is read-only, full, or not yours. Nothing can be logged, and "
            "unsaved work cannot be saved aside, until it can.")
      .arg(shown_name(folder_));
}

void Workspace::open_log(bool begin) {
  if (log_trouble_ == LogTrouble::missing && !begin && !file_stamp(bytes_of(log_path()))) {
    emit log_failed();
    return;
  }
  LogFailure failure;
  auto log = RunLog::open(bytes_of(log_path()), &failure);
  // A log that opens but whose runs cannot be read is no use either.
  if (log) {
    if (const auto runs = log->list(); !runs) {
      failure = log->failure();
      log = Error{runs.error()};
    }
  }
  log_error_ = log ? QString() : QString::fromStdString(log.error());
  log_trouble_ = log ? LogTrouble::none : failure.trouble;
  log_.reset();
  if (log) log_.emplace(std::move(log).value());
  emit log_changed();
  if (!log_) emit log_failed();
}

void Workspace::heed_log() {
  if (!log_) return;
  const LogFailure failure = log_->failure();
  const bool gone = failure.trouble == LogTrouble::missing || may_set_aside(failure.trouble);
  if (!gone) return;
  log_error_ = QString::fromStdString(failure.message);
  log_trouble_ = failure.trouble;
  log_.reset();
  emit log_changed();
  emit log_failed();
}

QString Workspace::set_log_aside(QString& wrong) {
  if (!may_set_aside(log_trouble_)) {
    wrong = tr("The log is not set aside: it may still be of use. %1").arg(log_error_);
    return {};
  }
  log_.reset();
  const auto name = uc::set_log_aside(bytes_of(log_path()));
  if (!name) wrong = QString::fromStdString(name.error());
  open_log();
  return name ? name_of_bytes(*name) : QString();
}

void Workspace::show_run(std::shared_ptr<const Programme> run) {
  if (run_ == run) return;
  run_ = std::move(run);
  emit strip_changed();
}

QString Workspace::write_shelf(const std::vector<Stock>& stocks) {
  const auto ok = save_shelf(stocks, bytes_of(folder_ + "/shelf.json"));
  if (!ok) return QString::fromStdString(ok.error());
  shelf = stocks;
  emit shelf_changed();
  return {};
}

QString Workspace::store_shelf(const std::vector<Stock>& stocks) {
  const std::vector<Stock> before = shelf;
  if (stocks == before) return {};
  return do_undoably(
      tr("Edit the shelf"), [this, stocks] { return write_shelf(stocks); },
      [this, before] { return write_shelf(before); });
}

QString Workspace::do_undoably(const QString& label, const std::function<QString()>& deed,
                               const std::function<QString()>& opposite) {
  QString wrong = deed();
  if (!wrong.isEmpty()) return wrong;
  const auto said_if_wrong = [this](const std::function<QString()>& action) {
    if (const QString sentence = action(); !sentence.isEmpty()) say(sentence);
  };
  // The stack runs a deed as it takes it in; this one is done already.
  auto first = std::make_shared<bool>(true);
  document.remember(
      label,
      [=] {
        if (!std::exchange(*first, false)) said_if_wrong(deed);
      },
      [=] { said_if_wrong(opposite); });
  return {};
}

void Workspace::turn_over() {
  underside_ = !underside_;
  emit view_changed();
}

void Workspace::reset_view() {
  underside_ = false;
  quarter_turns_ = 0;
  emit view_changed();
}

void Workspace::rotate_view(int quarters) {
  quarter_turns_ = ((quarter_turns_ + quarters) % 4 + 4) % 4;
  emit view_changed();
}

TextStyle Workspace::text_style() const {
  TextStyle style;
  style.unit = document.project().unit;
  style.translate = [](const char* phrase) { return translated(phrase).toStdString(); };
  return style;
}

QString Workspace::length(double mm) const {
  return QString::fromStdString(format_length(Millimetres{mm}, document.project().unit));
}
QString Workspace::error(double mm) const {
  return QString::fromStdString(format_error(Millimetres{mm}, document.project().unit));
}

QString in_place_of(FoldedWork before) {
  if (before == FoldedWork::steps)
    return QObject::tr(" It is folded now in place of the steps; File, What to fold, brings them back.");
  if (before == FoldedWork::units) return QObject::tr(" It is folded now in place of the units; they stay in Units.");
  return {};
}

void Workspace::say_written(const QString& path, const QString& wrong) {
  say(wrong.isEmpty() ? tr("%1 is written.").arg(shown_name(QFileInfo(path).absoluteFilePath())) : wrong);
}

} // namespace uc::app
