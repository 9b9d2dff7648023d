#include "stages/log/log_stage.h"

#include "base/file_name.h"
#include "base/theme.h"

#include <algorithm>
#include <tuple>

namespace uc::app {
namespace {

enum Column { date, title, paper, work, way, minutes, planned, measured, faults, columns };

} // namespace

void RunModel::show_runs(std::vector<RunSummary> runs) {
  beginResetModel();
  runs_ = std::move(runs);
  endResetModel();
  sort(column_, order_);
}

const RunSummary* RunModel::run(int row) const {
  return row >= 0 && row < static_cast<int>(runs_.size()) ? &runs_[static_cast<std::size_t>(row)] : nullptr;
}

int RunModel::row_of(std::int64_t id) const {
  const auto it = std::find_if(runs_.begin(), runs_.end(), [id](const RunSummary& r) { return r.id == id; });
  return it == runs_.end() ? -1 : static_cast<int>(it - runs_.begin());
}

QString work_words(const RunSummary& run) {
  if (run.kind == "division") return RunModel::tr("%1 parts").arg(run.size);
  if (run.kind == "pre-crease")
    return run.size > 1 ? RunModel::tr("Pattern, %1 cells").arg(run.size) : RunModel::tr("Pattern");
  if (run.kind == "references") return RunModel::tr("Marks, %1 moves").arg(run.size);
  if (run.kind == "steps") return RunModel::tr("Steps, %1 moves").arg(run.size);
  if (run.kind == "units") return RunModel::tr("%1 units").arg(run.size);
  return shown(run.kind);
}

int RunModel::rowCount(const QModelIndex& parent) const {
  return parent.isValid() ? 0 : static_cast<int>(runs_.size());
}
int RunModel::columnCount(const QModelIndex&) const { return columns; }

QVariant RunModel::data(const QModelIndex& index, int role) const {
  const RunSummary* r = run(index.row());
  if (!r) return {};
  if (role == Qt::TextAlignmentRole) {
    return int(index.column() > way ? Qt::AlignRight | Qt::AlignVCenter : Qt::AlignLeft | Qt::AlignVCenter);
  }
  if (role == Qt::ToolTipRole && !r->note.empty()) return shown(r->note);
  if (role == Qt::ForegroundRole && r->status == RunStatus::abandoned) return current_theme().soft_ink;
  if (role != Qt::DisplayRole) return {};
  switch (index.column()) {
  case date:
    return QString::fromStdString(r->started.substr(0, 10));
  case title: {
    const QString name = shown(r->title);
    if (r->status == RunStatus::abandoned) return tr("%1 (given up)").arg(name);
    if (r->status == RunStatus::waiting) return tr("%1 (waiting)").arg(name);
    return r->status == RunStatus::active ? tr("%1 (under way)").arg(name) : name;
  }
  case paper:
    return shown(r->stock);
  case work:
    return work_words(*r);
  case way:
    return shown(r->way);
  case minutes:
    return QString::number(r->minutes, 'f', 1);
  case planned:
    return workspace_.error(r->planned_sigma_mm);
  case measured:
    return r->measured_rms_mm ? workspace_.error(*r->measured_rms_mm) : QStringLiteral("–");
  case faults:
    return r->faults;
  default:
    return {};
  }
}

QVariant RunModel::headerData(int section, Qt::Orientation orientation, int role) const {
  if (orientation != Qt::Horizontal || role != Qt::DisplayRole) return {};
  const QString names[] = {tr("Date"),    tr("Run"),     tr("Paper"),    tr("Work"),  tr("Way"),
                           tr("Minutes"), tr("Planned"), tr("Measured"), tr("Faults")};
  return names[section];
}

void RunModel::sort(int column, Qt::SortOrder order) {
  column_ = column;
  order_ = order;
  const auto less = [column](const RunSummary& a, const RunSummary& b) {
    switch (column) {
    case title:
      return a.title < b.title;
    case paper:
      return a.stock < b.stock;
    case work:
      return std::tie(a.kind, a.size) < std::tie(b.kind, b.size);
    case way:
      return a.way < b.way;
    case minutes:
      return a.minutes < b.minutes;
    case planned:
      return a.planned_sigma_mm < b.planned_sigma_mm;
    case measured:
      return a.measured_rms_mm.value_or(1e9) < b.measured_rms_mm.value_or(1e9);
    case faults:
      return a.faults < b.faults;
    default:
      return a.started < b.started;
    }
  };
  emit layoutAboutToBeChanged();
  std::stable_sort(runs_.begin(), runs_.end(), [&](const RunSummary& a, const RunSummary& b) {
    return order == Qt::AscendingOrder ? less(a, b) : less(b, a);
  });
  emit layoutChanged();
}

} // namespace uc::app
