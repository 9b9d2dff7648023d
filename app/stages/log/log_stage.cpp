#include "stages/log/log_stage.h"

#include "base/file_name.h"
#include "widgets/ask_file.h"

#include "base/atomic_file.h"
#include "io/json_codec.h"
#include "io/runs_file.h"
#include "stages/log/log_charts.h"

#include <QChartView>
#include <QComboBox>
#include <QFileDialog>
#include <QHeaderView>
#include <QLabel>
#include <QLineEdit>
#include <QListView>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QSignalBlocker>
#include <QTableView>
#include <QVBoxLayout>

#include <algorithm>

namespace uc::app {

LogStage::LogStage(Workspace& workspace, QObject* parent)
    : Stage(workspace, parent), model_(workspace), choices_(new ChoicesColumn(tr("The log"))), centre_(new QWidget) {
  build_choices();
  build_centre();
  connect(&workspace_, &Workspace::log_changed, this, [this] {
    if (centre_->isVisible())
      reload();
    else if (workspace_.log()) {
      if (const auto runs = workspace_.log()->list()) total_ = static_cast<int>(runs->size());
      emit stale();
    }
  });
  connect(&workspace_, &Workspace::run_chosen, this, &LogStage::choose);
  reload();
}

void LogStage::choose(std::int64_t run) {
  if (model_.row_of(run) < 0) { // what is searched for hides it
    search_->clear();
    status_->setCurrentIndex(0);
    reload();
  }
  const int row = model_.row_of(run);
  if (row < 0) return;
  table_->selectionModel()->setCurrentIndex(model_.index(row, 0),
                                            QItemSelectionModel::ClearAndSelect | QItemSelectionModel::Rows);
  table_->scrollTo(model_.index(row, 0));
}

void LogStage::build_choices() {
  search_ = new QLineEdit;
  search_->setObjectName("search");
  search_->setPlaceholderText(tr("title, paper, way, note"));
  connect(search_, &QLineEdit::textChanged, this, &LogStage::reload);
  choices_->add(new Field(tr("&Search"), search_));
  status_ = new QComboBox;
  status_->addItems({tr("All runs"), tr("Finished"), tr("Abandoned"), tr("Under way"), tr("Waiting")});
  connect(status_, &QComboBox::activated, this, &LogStage::reload);
  choices_->add(new Field(tr("S&how"), status_));
  choices_->add_section(tr("THE RUN CHOSEN"));
  title_ = new QLineEdit;
  title_->setObjectName("run-title");
  title_field_ = new Field(tr("&Title"), title_);
  choices_->add(title_field_);
  paper_ = new QLineEdit;
  paper_->setObjectName("run-paper");
  choices_->add(new Field(tr("P&aper"), paper_));
  ended_ = new QComboBox;
  ended_->setObjectName("run-ended");
  ended_->addItems({tr("Finished"), tr("Abandoned"), tr("Under way"), tr("Waiting")});
  choices_->add(new Field(tr("&Ended as"), ended_));
  for (QLineEdit* edit : {title_, paper_})
    connect(edit, &QLineEdit::editingFinished, this, &LogStage::store_correction);
  connect(ended_, &QComboBox::activated, this, &LogStage::store_correction);
  note_ = new QPlainTextEdit;
  note_->setMaximumHeight(84);
  note_->setStyleSheet("min-height: 56px;"); // the theme has one for all fields, which a plain height cannot beat
  note_->setTabChangesFocus(true);
  note_field_ = new Field(tr("&Note"), note_);
  choices_->add(note_field_);
  const auto button = [this](const QString& text, const char* name, auto action) {
    auto* b = new QPushButton(text);
    b->setObjectName(QString::fromLatin1(name));
    connect(b, &QPushButton::clicked, this, action);
    choices_->add(b);
    return b;
  };
  take_up_ = button(tr("Go on f&olding it"), "take-up", [this] {
    const auto ids = selected();
    if (!ids.empty()) workspace_.want_run(ids.front());
  });
  take_up_->setToolTip(tr("A run that waits is folded on in Fold."));
  button(tr("&Keep the note"), "keep-note", &LogStage::store_note);
  button(tr("Attach a &photo..."), "photo", &LogStage::add_photo);
  button(tr("&Remove the run"), "remove-run", &LogStage::remove_run);
  choices_->add_section(tr("YOUR HAND"));
  button(tr("&Fit from measured runs"), "fit", [this] {
    const QString wrong = fit();
    if (!wrong.isEmpty()) fit_text_->setText(QStringLiteral("▲! ") + wrong);
  });
  fit_text_ = new QLabel;
  fit_text_->setWordWrap(true);
  fit_text_->setProperty("role", "hint");
  fit_text_->setObjectName("fit-text");
  choices_->add(fit_text_);
  button(tr("&Use it in the plan"), "use-fit", [this] {
    const QString wrong = use_fit();
    if (!wrong.isEmpty()) workspace_.say(wrong);
  });
  choices_->add_section(tr("TAKE IT ELSEWHERE"));
  button(tr("&Export as CSV or JSON..."), "export", [this] {
    const QString path =
        ask_where_to_write(choices_, tr("Export the runs shown"), {}, filters_for(FileUse::write_runs));
    if (path.isEmpty()) return;
    workspace_.say_written(path, export_to(path));
  });
  choices_->finish();
}

void LogStage::build_centre() {
  auto* column = new QVBoxLayout(centre_);
  column->setContentsMargins(14, 12, 14, 10);
  column->setSpacing(8);
  table_ = new QTableView;
  table_->setModel(&model_);
  table_->setObjectName("runs");
  table_->setSelectionBehavior(QAbstractItemView::SelectRows);
  table_->setSelectionMode(QAbstractItemView::ExtendedSelection);
  table_->setAlternatingRowColors(true);
  table_->setEditTriggers(QAbstractItemView::NoEditTriggers); // so that digits stay the keys of stages
  table_->setShowGrid(false);
  table_->verticalHeader()->hide();
  table_->verticalHeader()->setDefaultSectionSize(27);
  table_->horizontalHeader()->setStretchLastSection(false);
  table_->horizontalHeader()->setHighlightSections(false);
  table_->setAccessibleName(tr("Runs"));
  table_->setSortingEnabled(true);
  table_->sortByColumn(0, Qt::DescendingOrder);
  connect(table_->selectionModel(), &QItemSelectionModel::selectionChanged, this, &LogStage::show_run);
  empty_ = new QLabel(tr(
      "No run is logged yet. Plan a grid in Divide, press Begin folding in Fold, and finish it: it will stand here."));
  empty_->setWordWrap(true);
  empty_->setAlignment(Qt::AlignCenter);
  column->addWidget(empty_, 3);
  column->addWidget(table_, 3);
  auto* charts = new QHBoxLayout;
  error_chart_ = new QChartView;
  time_chart_ = new QChartView;
  for (QChartView* view : {error_chart_, time_chart_}) {
    view->setRenderHint(QPainter::Antialiasing);
    view->setFrameShape(QFrame::NoFrame);
    view->setMinimumHeight(180);
    charts->addWidget(view);
  }
  error_chart_->setAccessibleName(tr("Measured error against planned error"));
  time_chart_->setAccessibleName(tr("Minutes per run"));
  column->addLayout(charts, 2);
}

void LogStage::entered() {
  reload();
  table_->setFocus();
}

void LogStage::reload() {
  if (!workspace_.log()) {
    model_.show_runs({});
    empty_->setText(workspace_.log_error());
    empty_->show();
    table_->hide();
    emit stale();
    return;
  }
  RunQuery query;
  query.text = search_->text().trimmed().toStdString();
  if (status_->currentIndex() == 1) query.status = RunStatus::finished;
  if (status_->currentIndex() == 2) query.status = RunStatus::abandoned;
  if (status_->currentIndex() == 3) query.status = RunStatus::active;
  if (status_->currentIndex() == 4) query.status = RunStatus::waiting;
  const auto keep = selected();
  auto runs = workspace_.log()->list(query);
  if (!runs) {
    workspace_.say(QString::fromStdString(runs.error()));
    return;
  }
  const bool all = query.text.empty() && !query.status;
  if (all) total_ = static_cast<int>(runs->size());
  model_.show_runs(std::move(runs).value());
  const bool none = model_.rowCount() == 0;
  empty_->setText(all ? tr("No run is logged yet. Plan a grid in Divide, press Begin folding in Fold, and finish it: "
                           "it will stand here.")
                      : tr("No run matches. Search for fewer words, or show all runs."));
  empty_->setVisible(none);
  table_->setVisible(!none);
  const int row = keep.empty() ? 0 : std::max(0, model_.row_of(keep.front()));
  if (!none) { // selectRow() would heed keys held down at this moment
    table_->selectionModel()->setCurrentIndex(model_.index(row, 0),
                                              QItemSelectionModel::ClearAndSelect | QItemSelectionModel::Rows);
  }
  for (int c = 0; c < model_.columnCount(); ++c) {
    static constexpr int widths[] = {84, 150, 76, 62, 84, 66, 66, 76, 54};
    table_->setColumnWidth(c, widths[c]);
  }
  table_->horizontalHeader()->setSectionResizeMode(1, QHeaderView::Stretch);
  draw_charts();
  show_run();
}

void LogStage::draw_charts() {
  for (QChartView* view : {error_chart_, time_chart_}) view->setVisible(!model_.runs().empty());
  draw_error_chart(*error_chart_, model_.runs(), mm_per(workspace_.document.project().unit),
                   QString::fromStdString(symbol(workspace_.document.project().unit)));
  draw_time_chart(*time_chart_, model_.runs());
}

std::vector<std::int64_t> LogStage::selected() const {
  std::vector<std::int64_t> ids;
  for (const QModelIndex& index : table_->selectionModel()->selectedRows()) {
    if (const RunSummary* run = model_.run(index.row())) ids.push_back(run->id);
  }
  return ids;
}

QString LogStage::fact() const { return total_ == 1 ? tr("1 run") : tr("%1 runs").arg(total_); }

/// The fields of the chosen run, and all that is told of it.
void LogStage::show_run() {
  const auto ids = selected();
  const auto run =
      ids.empty() || !workspace_.log() ? Result<RunDetail>(Error{""}) : workspace_.log()->load(ids.front());
  take_up_->setEnabled(run && run->summary.status == RunStatus::waiting);
  if (run) {
    show_correction(run->summary);
    // What is being typed stays until another run is chosen or the stored note changes.
    const std::pair stored{run->summary.id, run->summary.note};
    if (stored != shown_note_) {
      shown_note_ = stored;
      note_->setPlainText(QString::fromStdString(run->summary.note));
    }
  }
  emit stale();
}

void LogStage::write_ledger(Ledger& ledger) {
  const auto ids = selected();
  if (ids.empty() || !workspace_.log()) {
    ledger.begin(tr("No run chosen"));
    ledger.note(tr("Choose a run to see its sums. Choose two with Ctrl to compare them."));
    ledger.finish();
    return;
  }
  const auto first = workspace_.log()->load(ids.front());
  if (!first) {
    ledger.begin(tr("The log"));
    ledger.caution(QString::fromStdString(first.error()));
    ledger.finish();
    return;
  }
  if (ids.size() == 2) {
    if (const auto second = workspace_.log()->load(ids[1])) {
      write_comparison(ledger, *first, *second);
      return;
    }
  }
  write_run(ledger, *first);
}

namespace {

QString minutes_text(double minutes) { return LogStage::tr("%1 min").arg(minutes, 0, 'f', 1); }

/// In the list of how a run ended.
int row_of(RunStatus status) {
  switch (status) {
  case RunStatus::finished:
    return 0;
  case RunStatus::abandoned:
    return 1;
  case RunStatus::active:
    return 2;
  case RunStatus::waiting:
    return 3;
  case RunStatus::unreadable:
    break;
  }
  return -1;
}

} // namespace

void LogStage::write_run(Ledger& ledger, const RunDetail& run) {
  const RunSummary& s = run.summary;
  ledger.begin(shown(s.title));
  ledger.line(tr("Sheet"), QString::fromStdString(s.sheet));
  ledger.line(tr("Paper"), shown(s.stock));
  ledger.line(tr("Work"), work_words(s));
  if (!s.way.empty()) ledger.line(tr("Way"), shown(s.way));
  ledger.line(tr("Moves"), tr("%1 of %2").arg(s.moves_done).arg(s.moves_planned));
  ledger.section(tr("TIME"));
  ledger.line(tr("Worked"), minutes_text(s.minutes));
  ledger.line(tr("Planned"), minutes_text(s.planned_minutes));
  const RunProgress progress = progress_of(run.events, s.moves_planned);
  const auto slowest = std::max_element(progress.move_seconds.begin(), progress.move_seconds.end());
  if (slowest != progress.move_seconds.end() && *slowest > 0) {
    ledger.line(tr("Slowest move"),
                tr("no. %1, %2 s").arg(slowest - progress.move_seconds.begin() + 1).arg(*slowest, 0, 'f', 0));
  }
  ledger.section(tr("ERROR"));
  ledger.line(tr("Planned, mean"), workspace_.error(s.planned_sigma_mm));
  if (s.measured_rms_mm) {
    ledger.line(tr("Measured, rms"), workspace_.error(*s.measured_rms_mm),
                tr("over %1 creases").arg(run.measured.size()));
    ledger.line(tr("Measured, worst"), workspace_.error(*s.measured_worst_mm));
    if (*s.measured_rms_mm <= 1.5 * s.planned_sigma_mm)
      ledger.good(tr("As exact as planned."));
    else
      ledger.caution(tr("Less exact than planned: see which line was worst, and fit your hand."));
  } else {
    ledger.note(tr("Nothing was measured in this run."));
  }
  bool heading = false;
  for (const RunEvent& e : run.events) {
    if (e.kind != EventKind::fault && e.kind != EventKind::note && e.kind != EventKind::skipped) continue;
    if (!heading) ledger.section(tr("FAULTS AND NOTES"));
    heading = true;
    const QString text = tr("Move %1: %2").arg(e.move + 1).arg(QString::fromStdString(e.text));
    if (e.kind == EventKind::fault)
      ledger.caution(text);
    else
      ledger.note(e.kind == EventKind::skipped ? tr("%1 (skipped)").arg(text) : text);
  }
  if (!run.photos.empty()) {
    ledger.section(tr("PHOTOS"));
    for (const std::string& photo : run.photos) ledger.note(QString::fromStdString(photo));
  }
  ledger.finish();
}

void LogStage::write_comparison(Ledger& ledger, const RunDetail& a, const RunDetail& b) {
  ledger.begin(tr("Two runs compared"));
  ledger.note(
      QStringLiteral("A  %1, %2").arg(shown(a.summary.title), QString::fromStdString(a.summary.started.substr(0, 10))));
  ledger.note(
      QStringLiteral("B  %1, %2").arg(shown(b.summary.title), QString::fromStdString(b.summary.started.substr(0, 10))));
  const auto both = [](const QString& x, const QString& y) { return QStringLiteral("%1 | %2").arg(x, y); };
  ledger.line(tr("Work"), both(work_words(a.summary), work_words(b.summary)));
  ledger.line(tr("Way"), both(shown(a.summary.way), shown(b.summary.way)));
  ledger.line(tr("Worked"), both(minutes_text(a.summary.minutes), minutes_text(b.summary.minutes)));
  const auto per_move = [](const RunSummary& s) {
    return s.moves_done > 0 ? tr("%1 s").arg(s.minutes * 60 / s.moves_done, 0, 'f', 0) : QStringLiteral("-");
  };
  ledger.line(tr("Per move"), both(per_move(a.summary), per_move(b.summary)));
  ledger.line(tr("Planned error"),
              both(workspace_.error(a.summary.planned_sigma_mm), workspace_.error(b.summary.planned_sigma_mm)));
  const auto rms = [this](const RunSummary& s) {
    return s.measured_rms_mm ? workspace_.error(*s.measured_rms_mm) : QStringLiteral("-");
  };
  ledger.line(tr("Measured error"), both(rms(a.summary), rms(b.summary)));
  ledger.line(tr("Faults"), both(QString::number(a.summary.faults), QString::number(b.summary.faults)));
  if (a.summary.measured_rms_mm && b.summary.measured_rms_mm) {
    const bool first = *a.summary.measured_rms_mm < *b.summary.measured_rms_mm;
    ledger.good(tr("%1 was the more exact, by %2.")
                    .arg(first ? QStringLiteral("A") : QStringLiteral("B"),
                         workspace_.error(std::abs(*a.summary.measured_rms_mm - *b.summary.measured_rms_mm))));
  }
  ledger.finish();
}

void LogStage::show_correction(const RunSummary& run) {
  const RunCorrection stored{run.title, run.stock, run.status};
  for (QWidget* w : {static_cast<QWidget*>(title_), static_cast<QWidget*>(paper_)}) w->setEnabled(true);
  const bool ended = run.status == RunStatus::finished || run.status == RunStatus::abandoned;
  ended_->setEnabled(ended);
  // What goes on is not ended by being told so here.
  auto* ways = qobject_cast<QListView*>(ended_->view());
  for (const int row : {2, 3}) ways->setRowHidden(row, ended);
  if (shown_id_ == run.id && shown_ == stored) return;
  shown_id_ = run.id;
  shown_ = stored;
  title_->setText(shown(run.title));
  paper_->setText(shown(run.stock));
  ended_->setCurrentIndex(row_of(run.status));
  title_field_->set_error({});
}

void LogStage::store_correction() {
  if (shown_id_ == 0 || !workspace_.log()) return;
  RunCorrection now = shown_;
  // Only what was typed over changes: what is shown may be cleaner than what is kept.
  if (title_->isModified()) now.title = title_->text().trimmed().toStdString();
  if (paper_->isModified()) now.stock = paper_->text().trimmed().toStdString();
  if (ended_->isEnabled() && ended_->currentIndex() < 2)
    now.status = ended_->currentIndex() == 1 ? RunStatus::abandoned : RunStatus::finished;
  if (now.title.empty()) return title_field_->set_error(tr("Give the run a title."));
  if (now == shown_) return;
  const auto keep = [this, id = shown_id_](const RunCorrection& c) {
    return in_log([&](RunLog& log) { return log.correct(id, c); });
  };
  title_field_->set_error(workspace_.do_undoably(
      tr("Correct a run"), [keep, now] { return keep(now); }, [keep, before = shown_] { return keep(before); }));
}

void LogStage::remove_run() {
  const auto ids = selected();
  if (ids.empty() || !workspace_.log()) return title_field_->set_error(tr("Choose a run first."));
  const auto run = workspace_.log()->load(ids.front());
  if (!run) return workspace_.say(QString::fromStdString(run.error()));
  if (run->summary.status == RunStatus::active)
    return workspace_.say(tr("This run is under way; finish or abandon it in Fold first."));
  const QString wrong = workspace_.do_undoably(
      tr("Remove a run"), [this, id = run->summary.id] { return in_log([&](RunLog& log) { return log.remove(id); }); },
      [this, whole = *run] { return in_log([&](RunLog& log) { return log.restore(whole); }); });
  workspace_.say(wrong.isEmpty() ? tr("%1 is removed; undo puts it back.").arg(shown(run->summary.title)) : wrong);
}

void LogStage::store_note() {
  const auto ids = selected();
  if (ids.empty() || !workspace_.log()) return note_field_->set_error(tr("Choose a run first."));
  const std::int64_t id = ids.front();
  const auto run = workspace_.log()->load(id);
  if (!run) return note_field_->set_error(QString::fromStdString(run.error()));
  const auto keep = [this, id](const std::string& note) {
    return in_log([&](RunLog& log) { return log.set_note(id, note); });
  };
  note_field_->set_error(workspace_.do_undoably(
      tr("Note on a run"), [keep, now = note_->toPlainText().toStdString()] { return keep(now); },
      [keep, before = run->summary.note] { return keep(before); }));
  table_->setFocus();
}

void LogStage::add_photo() {
  const auto ids = selected();
  if (ids.empty() || !workspace_.log()) return note_field_->set_error(tr("Choose a run first."));
  const QString path =
      QFileDialog::getOpenFileName(choices_, tr("Attach a photo"), {}, tr("Pictures (*.jpg *.jpeg *.png *.webp)"));
  if (path.isEmpty()) return;
  const QString wrong = attach(ids.front(), path);
  if (!wrong.isEmpty()) workspace_.say(wrong);
}

QString LogStage::attach(std::int64_t id, const QString& path) {
  const std::string file = bytes_of(path);
  return workspace_.do_undoably(
      tr("Attach a photo"), [=, this] { return in_log([&](RunLog& log) { return log.add_photo(id, file); }); },
      [=, this] { return in_log([&](RunLog& log) { return log.remove_photo(id, file); }); });
}

QString LogStage::in_log(const std::function<Status(RunLog&)>& deed) {
  if (!workspace_.log()) return workspace_.log_error();
  const auto ok = deed(*workspace_.log());
  if (!ok) workspace_.heed_log();
  reload();
  return ok ? QString() : QString::fromStdString(ok.error());
}

QString LogStage::export_to(const QString& path) {
  if (!workspace_.log()) return workspace_.log_error();
  const auto format = format_for(FileUse::write_runs, bytes_of(path));
  if (!format) return QString::fromStdString(format.error());
  const auto file = runs_file(workspace_.log(), model_.runs(), *format);
  if (!file) return QString::fromStdString(file.error());
  const auto ok = write_atomically(bytes_of(path), file->bytes);
  if (ok && file->mended) workspace_.say(translated(mended_runs_sentence));
  return ok ? QString() : QString::fromStdString(ok.error());
}

QString LogStage::fit() {
  fitted_.reset();
  if (!workspace_.log()) return workspace_.log_error();
  std::vector<std::int64_t> ids = selected();
  if (ids.size() < 2) {
    ids.clear();
    for (const RunSummary& r : model_.runs()) {
      if (r.measured_rms_mm) ids.push_back(r.id);
    }
  }
  std::vector<MeasuredFamily> families;
  fitted_runs_ = 0;
  for (const std::int64_t id : ids) {
    const auto run = workspace_.log()->load(id);
    if (!run || run->measured.empty()) continue;
    const auto used = measured_families(*run);
    if (!used) return QString::fromStdString(used.error());
    families.insert(families.end(), used->begin(), used->end());
    if (!used->empty()) ++fitted_runs_;
  }
  const auto fitted = fit_hand(families);
  if (!fitted) return QString::fromStdString(fitted.error());
  fitted_ = *fitted;
  QStringList told{tr("One crease errs by %1 ± %2, from %3 creases in %4 runs. The plan uses %5.")
                       .arg(workspace_.error(fitted_->sigma_mm), workspace_.error(fitted_->standard_error_mm))
                       .arg(fitted_->lines)
                       .arg(fitted_runs_)
                       .arg(workspace_.error(workspace_.document.project().hand.sigma_mm))};
  if (std::abs(fitted_->bias_mm) > 2 * fitted_->bias_error_mm)
    told << (fitted_->bias_mm > 0 ? tr("Your creases lie %1 ± %2 short, towards the edge that was moved.")
                                  : tr("Your creases lie %1 ± %2 too far from the edge that was moved."))
                .arg(workspace_.error(std::abs(fitted_->bias_mm)), workspace_.error(fitted_->bias_error_mm));
  if (fitted_->ruler_learnt)
    told << tr("Lines read twice tell that a reading errs by %1.").arg(workspace_.error(fitted_->ruler_mm));
  if (!fitted_->left_out.empty())
    told << tr("%n line(s) left out as slips.", nullptr, static_cast<int>(fitted_->left_out.size()));
  fit_text_->setText(told.join(' '));
  return {};
}

QString LogStage::use_fit() {
  if (!fitted_) return tr("Fit your hand from measured runs first.");
  return workspace_.document.change(tr("Use the fitted hand"), [this](Project& p) {
    p.hand.sigma_mm = fitted_->sigma_mm;
    p.hand.sigma_se_mm = fitted_->standard_error_mm;
    p.hand.measured_runs = fitted_runs_;
  });
}

QList<QPair<QString, QString>> LogStage::keys() const {
  return {{tr("Alt+S"), tr("search")},
          {tr("Ctrl+click"), tr("choose a second run to compare")},
          {tr("Alt+F"), tr("fit your hand")}};
}

} // namespace uc::app
