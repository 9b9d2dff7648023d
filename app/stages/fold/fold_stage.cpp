#include "stages/fold/fold_stage.h"

#include "base/file_name.h"
#include "programme/folding.h"
#include "unit/unit_family.h"

#include <QAction>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QMessageBox>
#include <QPushButton>
#include <QStyle>
#include <QVBoxLayout>

#include <algorithm>
#include <utility>

namespace uc::app {
namespace {

constexpr double idle_after_seconds = 180;

QString clock(double seconds) {
  const int s = static_cast<int>(seconds);
  if (s >= 3600)
    return QStringLiteral("%1:%2:%3")
        .arg(s / 3600)
        .arg(s / 60 % 60, 2, 10, QLatin1Char('0'))
        .arg(s % 60, 2, 10, QLatin1Char('0'));
  return QStringLiteral("%1:%2").arg(s / 60).arg(s % 60, 2, 10, QLatin1Char('0'));
}

} // namespace

FoldStage::FoldStage(Workspace& workspace, QObject* parent)
    : Stage(workspace, parent), session_(workspace), choices_(new ChoicesColumn(tr("At the table"))),
      pages_(new QStackedWidget), paper_(new PaperView) {
  build_choices();
  build_centre();
  connect(&session_, &RunSession::changed, this, &FoldStage::show_move);
  connect(&session_, &RunSession::changed, this, [this] {
    if (!session_.active()) workspace_.ask({}, {}, "resumed-run");
  });
  connect(&workspace_.document, &Document::changed, this, &FoldStage::show_move);
  connect(&second_, &QTimer::timeout, this, &FoldStage::tick);
  second_.start(1000);
  idle_.start();
  connect(&workspace_, &Workspace::log_changed, this, [this] {
    if (!workspace_.log()) return;
    if (session_.active())
      report(session_.keep_in_new_log());
    else
      resume();
  });
  connect(&workspace_.document, &Document::changed, this, &FoldStage::ask_about_plan);
  connect(&session_, &RunSession::found, this, &FoldStage::run_found);
  connect(&workspace_, &Workspace::run_wanted, this, [this](qint64 run) { fold_on(run); });
  // After everybody has heard of the other project.
  connect(
      &workspace_.document, &Document::replaced, this,
      [this] {
        if (pages_->window()->isVisible()) report(session_.take_up_of_project());
      },
      Qt::QueuedConnection);
  // After the window has been built, so that it can say so.
  QTimer::singleShot(0, this, [this] { resume(); });
  show_move();
}

void FoldStage::resume() {
  const QString wrong = session_.resume_stored();
  if (session_.blocked().isEmpty()) report(wrong);
}

void FoldStage::run_found(const QString& wrong) {
  if (!session_.blocked().isEmpty()) {
    workspace_.ask(session_.blocked(), {{tr("Close it as abandoned"), [this] { report(session_.close_unreadable()); }}},
                   "blocked-run");
    return;
  }
  if (!wrong.isEmpty()) return report(wrong);
  if (session_.looking_on()) return;
  workspace_.ask(tr("\"%1\" goes on where it was left, at move %2 of %3; the clock stands still until you go on.")
                     .arg(shown(session_.detail().summary.title))
                     .arg(std::min(session_.next_move() + 1, static_cast<int>(session_.programme().moves.size())))
                     .arg(session_.programme().moves.size()),
                 {}, "resumed-run");
}

void FoldStage::fold_on(qint64 run) {
  if (session_.active()) {
    workspace_.ask(tr("\"%1\" is being folded. Leave it waiting and go on with the other run?")
                       .arg(shown(session_.detail().summary.title)),
                   {{tr("Leave it waiting"),
                     [this, run] {
                       leave_waiting();
                       if (!session_.active()) fold_on(run);
                     }}},
                   "other-run");
    return;
  }
  const QString wrong = session_.take_up_waiting(run);
  report(wrong);
  if (wrong.isEmpty()) workspace_.show_stage("fold");
}

void FoldStage::leave_waiting() {
  touched();
  const QString title = shown(session_.detail().summary.title);
  const QString wrong = session_.put_aside();
  report(wrong.isEmpty()
             ? tr("\"%1\" waits: it comes back when you open its project, or go on folding it from Log.").arg(title)
             : wrong);
  if (wrong.isEmpty()) run_ended();
}

void FoldStage::ask_about_plan() {
  if (session_.looking_on() || !session_.plan_has_changed()) return withdraw_question();
  if (asked_about_plan_) return;
  asked_about_plan_ = true;
  workspace_.ask(tr("The plan has changed since this run began. The run goes on with the moves it began with."),
                 {{tr("Go on with them"), [] {}}, {tr("Leave it waiting"), [this] { leave_waiting(); }}},
                 "changed-plan");
}

void FoldStage::withdraw_question() {
  if (std::exchange(asked_about_plan_, false)) workspace_.ask({}, {}, "changed-plan");
}

void FoldStage::run_ended() {
  withdraw_question();
  preview_ = 0;
  show_move();
}

void FoldStage::begin_anew() {
  preview_ = 0;
  show_measure(false);
  words_->clear();
  words_field_->set_error({});
  show_move();
}

bool FoldStage::confirmed(RunStatus status) {
  const int count = static_cast<int>(session_.programme().moves.size());
  if (status == RunStatus::finished && session_.all_done()) return true;
  QMessageBox box(
      QMessageBox::Question, status == RunStatus::finished ? tr("Finish before the last move") : tr("Abandon the run"),
      status == RunStatus::finished
          ? tr("%1 of %2 moves are done. Log the run as finished with these?").arg(session_.next_move()).arg(count)
          : tr("%1 of %2 moves are done. Log the run as abandoned?").arg(session_.next_move()).arg(count),
      QMessageBox::Cancel, pages_->window());
  QPushButton* yes =
      box.addButton(status == RunStatus::finished ? tr("&Finish it") : tr("&Abandon it"), QMessageBox::AcceptRole);
  yes->setObjectName("confirm-end");
  box.setDefaultButton(QMessageBox::Cancel);
  box.exec();
  return box.clickedButton() == yes;
}

void FoldStage::end_run(RunStatus status) {
  touched();
  if (!session_.active() || !confirmed(status)) return;
  show_measure(false);
  const std::int64_t run = session_.id();
  const QString wrong = session_.end(status);
  report(wrong);
  if (wrong.isEmpty()) run_ended();
  if (wrong.isEmpty() && status == RunStatus::finished) {
    workspace_.show_stage("log");
    workspace_.choose_run(run);
  }
}

void FoldStage::build_choices() {
  timer_ = new QLabel;
  timer_->setFont(text_font(26, QFont::DemiBold));
  timer_->setStyleSheet("font-size: 26pt; font-weight: 600;");
  timer_->setAccessibleName(tr("Time worked"));
  choices_->add(timer_);
  move_timer_ = new QLabel;
  move_timer_->setProperty("role", "hint");
  choices_->add(move_timer_);
  const auto button = [this](const QString& text, const char* name, const char* role, auto action) {
    auto* b = new QPushButton(text);
    b->setObjectName(QString::fromLatin1(name));
    if (*role) b->setProperty("role", QString::fromLatin1(role));
    connect(b, &QPushButton::clicked, this, action);
    choices_->add(b);
    return b;
  };
  start_ = button(tr("&Begin folding"), "begin", "go", [this] {
    touched();
    report(session_.start());
  });
  pause_ = button(tr("&Pause"), "pause", "", [this] {
    touched();
    report(session_.paused() ? session_.take_up() : session_.pause());
  });
  measure_button_ = button(tr("&Measure now"), "measure", "", [this] { show_measure(pages_->currentIndex() == 0); });
  move_section_ = choices_->add_section(tr("THIS MOVE"));
  words_ = new QLineEdit;
  words_->setPlaceholderText(tr("What happened?"));
  words_->setObjectName("words");
  words_field_ = new Field(tr("&Words for a note, fault or skip"), words_);
  choices_->add(words_field_);
  const auto with_words = [this](const std::function<QString(const QString&)>& act) {
    touched();
    const QString text = words_->text().trimmed();
    if (text.isEmpty()) {
      words_field_->set_error(tr("Say in a word or two what happened, then press again."));
      words_->setFocus();
      return;
    }
    words_field_->set_error({});
    const QString wrong = act(text);
    if (wrong.isEmpty()) words_->clear();
    report(wrong);
  };
  note_ = button(tr("Keep as a n&ote"), "note", "",
                 [this, with_words] { with_words([this](const QString& t) { return session_.note(t); }); });
  fault_ = button(tr("Mark as a &fault"), "fault", "",
                  [this, with_words] { with_words([this](const QString& t) { return session_.fault(t); }); });
  skip_ = button(tr("&Skip this move"), "skip", "",
                 [this, with_words] { with_words([this](const QString& t) { return session_.skip(t); }); });
  run_section_ = choices_->add_section(tr("THE RUN"));
  wait_ = button(tr("Leave it &waiting"), "wait", "", [this] { leave_waiting(); });
  wait_->setToolTip(tr("Puts the run aside, so that another can be begun."));
  finish_ = button(tr("Finish and &log it"), "finish", "", [this] { end_run(RunStatus::finished); });
  abandon_ = button(tr("&Abandon the run"), "abandon", "", [this] { end_run(RunStatus::abandoned); });
  choices_->finish();
}

void FoldStage::build_centre() {
  auto* fold = new MoveCard(paper_);
  card_ = fold;
  next_ = fold->next();
  back_ = fold->back();
  connect(next_, &QPushButton::clicked, this, &FoldStage::go_on);
  connect(back_, &QPushButton::clicked, this, &FoldStage::back);
  pages_->addWidget(fold);
  measure_ = new MeasurePanel(workspace_, session_);
  connect(measure_, &MeasurePanel::closed, this, [this] { show_measure(false); });
  pages_->addWidget(measure_);

  const auto key = [&](const QList<QKeySequence>& keys, auto slot) {
    auto* action = new QAction(fold);
    action->setShortcuts(keys);
    action->setShortcutContext(Qt::WindowShortcut);
    connect(action, &QAction::triggered, this, slot);
    fold->addAction(action);
  };
  key({QKeySequence(Qt::Key_Space)}, &FoldStage::go_on);
  key({QKeySequence(Qt::Key_PageDown)}, &FoldStage::next);
  key({QKeySequence(Qt::Key_PageUp), QKeySequence(Qt::SHIFT | Qt::Key_Space)}, &FoldStage::back);
}

void FoldStage::report(const QString& wrong) {
  if (!wrong.isEmpty()) workspace_.say(wrong);
}

void FoldStage::go_on() {
  if (session_.active()) {
    next();
    return;
  }
  touched();
  if (!session_.programme().empty() || workspace_.document.planning()) report(session_.start());
}

void FoldStage::next() {
  touched();
  if (!session_.active()) {
    const int last = static_cast<int>(session_.programme().moves.size()) - 1;
    if (preview_ < last) ++preview_;
    show_move();
    return;
  }
  if (session_.paused())
    report(session_.take_up());
  else
    report(session_.done());
}

void FoldStage::back() {
  touched();
  if (session_.active()) {
    report(session_.back());
    return;
  }
  preview_ = std::max(0, preview_ - 1);
  show_move();
}

void FoldStage::move_chosen(int move) {
  if (session_.active()) {
    workspace_.say(tr("A run is under way: go on with Space, back with Page Up, so that the log stays true."));
    show_move();
    return;
  }
  preview_ = move;
  show_move();
}

void FoldStage::entered() { show_move(); }

void FoldStage::show_measure(bool on) {
  if (on) measure_->load();
  if (pages_->currentIndex() == (on ? 1 : 0)) return;
  pages_->setCurrentIndex(on ? 1 : 0);
  if (on) measure_->begin_typing();
  measure_button_->setText(on ? tr("Back to &moves") : tr("&Measure now"));
  emit stale();
}

QString FoldStage::sentence() const { return card_->sentence(); }

void FoldStage::show_move() {
  const Programme& programme = session_.programme();
  const int count = static_cast<int>(programme.moves.size());
  const bool active = session_.active();
  preview_ = std::clamp(preview_, 0, std::max(0, count - 1));
  const int at = active ? session_.next_move() : preview_;
  const Project& p = workspace_.document.project();
  paper_->set_unit(p.unit);
  paper_->set_paper(QColor(QString::fromStdString(p.stock.face)), QColor(QString::fromStdString(p.stock.underside)));
  paper_->set_clean_areas(p.grid.keep_clean);
  paper_->show_figure(move_figure(programme, at, session_.progress().skipped));
  const TextStyle style = workspace_.text_style();
  MoveWords words;
  if (count == 0) {
    words.sentence = workspace_.document.planning() ? tr("The moves are being planned.")
                                                    : tr("There is nothing to fold yet. Choose a count in Divide.");
  } else if (at >= count) {
    words.number = tr("ALL %1 MOVES DONE").arg(count);
    words.sentence = active ? tr("%1 is folded. Measure a few creases, then finish and log it.")
                                  .arg(shown(session_.detail().summary.title))
                            : tr("These are all the moves.");
  } else {
    const Move& move = programme.moves[static_cast<std::size_t>(at)];
    words.number = tr("MOVE %1 OF %2").arg(at + 1).arg(count);
    if (move.repeat) {
      const Repeat& repeat = programme.repeats[static_cast<std::size_t>(move.repeat->repeat)];
      const QString times =
          repeat.way == RepeatWay::directions ? tr("  ·  DIRECTION %1 OF %2") : tr("  ·  TIME %1 OF %2");
      words.number += times.arg(move.repeat->time).arg(repeat.times);
    }
    if (session_.looking_on()) words.number += tr("  ·  HELD BY ANOTHER WINDOW, LOOK ON");
    if (active && session_.paused()) words.number += tr("  ·  PAUSED");
    const ProgrammeTeller teller(programme, style);
    words.sentence = QString::fromStdString(teller.text(static_cast<std::size_t>(at)));
    const QString check = QString::fromStdString(teller.check(static_cast<std::size_t>(at)));
    if (!check.isEmpty()) words.check = tr("Check: %1").arg(check);
    const QString caution = QString::fromStdString(caution_text(move.caution, style));
    if (!caution.isEmpty()) words.caution = QStringLiteral("▲! ") + caution;
  }
  card_->say(words);
  next_->setText(!active ? tr("Begin") : session_.paused() ? tr("Go on") : tr("Next"));
  next_->setEnabled(active ? at < count && !session_.looking_on() : count > 0);
  back_->setEnabled(active ? at > 0 && !session_.looking_on() : preview_ > 0);
  start_->setVisible(!active);
  start_->setEnabled(count > 0);
  for (QPushButton* b : {pause_, skip_, fault_, note_, wait_, finish_, abandon_, measure_button_})
    b->setVisible(active && !session_.looking_on());
  for (QWidget* w : {static_cast<QWidget*>(words_field_), move_section_, run_section_})
    w->setVisible(active && !session_.looking_on());
  pause_->setText(session_.paused() ? tr("&Go on") : tr("&Pause"));
  skip_->setEnabled(active && at < count && !programme.folding); // what comes after rests on it
  if (!active) pages_->setCurrentIndex(0);
  finish_->setProperty("role", active && at >= count ? "go" : "");
  finish_->style()->unpolish(finish_);
  finish_->style()->polish(finish_);
  tick();
  emit workspace_.current_move_changed(std::min(at, count - 1));
  emit stale();
}

void FoldStage::tick() {
  if (session_.looking_on()) session_.look_again();
  if (session_.active() && !session_.paused() && idle_.elapsed() > 1000 * idle_after_seconds) {
    report(session_.declare_idle(static_cast<double>(idle_.elapsed()) / 1000));
    workspace_.say(tr("Nothing happened for three minutes: the clock has stopped, and that time is not counted."));
  }
  timer_->setText(clock(session_.worked_seconds()));
  if (!session_.active())
    move_timer_->setText(tr("planned %1").arg(clock(session_.programme().planned_seconds())));
  else if (session_.paused())
    move_timer_->setText(tr("paused"));
  else
    move_timer_->setText(tr("%1 on this move, %2 planned in all")
                             .arg(clock(session_.seconds_on_move()), clock(session_.programme().planned_seconds())));
}

QString FoldStage::fact() const {
  const int count = static_cast<int>(session_.programme().moves.size());
  if (!session_.active()) return tr("%1 moves").arg(count);
  return tr("%1 of %2").arg(session_.next_move()).arg(count);
}

/// The steps of one unit, as its family has them.
void FoldStage::write_unit(Ledger& ledger) const {
  const UnitJob& job = workspace_.document.project().units;
  const auto family = unit_family(job.family, job.own);
  if (!family) return;
  ledger.section(tr("How a unit is folded"));
  for (const std::string& sentence : family->how) ledger.note(translated(sentence));
  const auto& moves = session_.programme().moves;
  const bool glued = std::any_of(moves.begin(), moves.end(), [](const Move& m) { return m.caution == Caution::glue; });
  if (glued) ledger.caution(QString::fromStdString(caution_text(Caution::glue, workspace_.text_style())));
}

void FoldStage::write_layers(Ledger& ledger, const PieceForm& form) const {
  const Point size = folded_size(form.form);
  ledger.line(tr("It lies"), QStringLiteral("%1 × %2").arg(workspace_.length(size.x()), workspace_.length(size.y())),
              tr("least rectangle about the paper before this move"));
  const int layers = form.overlap.layers_max;
  ledger.line(tr("Layers"), QString::number(layers),
              tr("most over one place; %1 thick when pressed")
                  .arg(workspace_.error(layers * workspace_.document.project().stock.caliper_mm)));
}

void FoldStage::write_ledger(Ledger& ledger) {
  const Programme& programme = session_.programme();
  const int count = static_cast<int>(programme.moves.size());
  const int at = session_.active() ? session_.next_move() : preview_;
  ledger.begin(session_.active() ? tr("This run") : tr("The programme"));
  ledger.line(tr("Moves"), session_.active() ? tr("%1 of %2").arg(at).arg(count) : QString::number(count));
  double left = 0;
  for (int i = at; i < count; ++i) left += programme.moves[static_cast<std::size_t>(i)].seconds;
  ledger.line(tr("Planned time left"), clock(left), tr("sum of the planned times of the moves to come"));
  if (session_.active()) {
    double planned = 0;
    for (int i = 0; i < std::min(at, count); ++i) planned += programme.moves[static_cast<std::size_t>(i)].seconds;
    ledger.line(tr("Worked so far"), clock(session_.progress().worked_seconds),
                tr("planned for these moves: %1").arg(clock(planned)));
    ledger.line(tr("Skipped"), QString::number(session_.progress().skipped.size()));
    ledger.line(tr("Faults"), QString::number(session_.progress().faults));
  }
  if (programme.folding && !programme.folding->refusal().empty())
    ledger.caution(tr("The steps end early. %1").arg(shown(programme.folding->refusal())));
  if (at < count) {
    const Move& move = programme.moves[static_cast<std::size_t>(at)];
    ledger.section(tr("THIS MOVE"));
    if (const MakeCreases& made = move.creases(); made.makes) {
      const ProgrammeTeller teller(programme, workspace_.text_style());
      ledger.line(tr("Makes"), QString::fromStdString(teller.short_text(static_cast<std::size_t>(at))));
      ledger.line(tr("Expected error"), workspace_.error(move.sigma_mm),
                  tr("all folds before it included; this one adds %1").arg(workspace_.error(move.hand_sigma_mm)));
      if (made.layers > 1)
        ledger.line(tr("Goes through"), tr("%1 layers").arg(made.layers),
                    tr("the crease goes through all of them; their creep counts in its error"));
      double length = 0;
      for (const Segment& s : made.spans) length += s.length();
      ledger.line(tr("Crease length"), workspace_.length(length));
    }
    ledger.line(tr("Planned time"), tr("%1 s").arg(move.seconds));
    if (move.is<FoldUnit>()) write_unit(ledger);
    if (programme.folding) write_layers(ledger, programme.folding->form_before(static_cast<std::size_t>(at)));
    const SheetState state = state_after(programme, at);
    ledger.line(tr("Side up"), state.underside_up ? tr("underside") : tr("face"));
  }
  if (session_.active() && !session_.detail().measured.empty()) {
    if (const auto e = measured_error(session_.detail().measured)) {
      ledger.section(tr("MEASURED"));
      ledger.line(tr("Lines"), QString::number(session_.detail().measured.size()));
      ledger.line(tr("Error, rms"), workspace_.error(e->rms_mm), tr("root mean square of measured minus planned"));
      ledger.line(tr("Worst"), workspace_.error(e->worst_mm));
    }
  }
  if (!session_.active())
    ledger.note(tr("Press Space when the sheet lies before you as drawn. Until then look through the moves with Page "
                   "Down and Page Up."));
  ledger.finish();
}

QList<QPair<QString, QString>> FoldStage::keys() const {
  return {{tr("Space"), tr("begin, then next move")}, {tr("Page Down"), tr("next move; before the beginning, look on")},
          {tr("Page Up"), tr("one move back")},       {tr("Alt+B"), tr("begin folding")},
          {tr("Alt+P"), tr("pause or go on")},        {tr("Alt+M"), tr("measure now")}};
}

} // namespace uc::app
