#include "shell/workspace.h"

#include <QCoreApplication>
#include <QDir>

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
  auto stocks = load_shelf((folder_ + "/shelf.json").toStdString());
  if (stocks)
    shelf = *stocks;
  else
    shelf = generic_stocks(), shelf_error_ = QString::fromStdString(stocks.error());
  open_log();
}

void Workspace::open_log() {
  auto log = RunLog::open(log_path().toStdString());
  log_error_ = log ? QString() : QString::fromStdString(log.error());
  log_.reset();
  if (log) log_.emplace(std::move(log).value());
  emit log_changed();
}

QString Workspace::set_log_aside() {
  log_.reset();
  const auto name = RunLog::set_aside(log_path().toStdString());
  open_log();
  return QString::fromStdString(name ? *name : name.error());
}

QString Workspace::write_shelf(const std::vector<Stock>& stocks) {
  const auto ok = save_shelf(stocks, (folder_ + "/shelf.json").toStdString());
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

} // namespace uc::app
