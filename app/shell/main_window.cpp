#include "shell/main_window.h"

#include "base/atomic_file.h"
#include "base/file_name.h"
#include "base/file_stamp.h"
#include "fold/steps_file.h"
#include "output/printing.h"
#include "programme/folding.h"
#include "stages/fold/fold_stage.h"
#include "widgets/field.h"
#include "widgets/paper_view.h"
#include "widgets/wheel_guard.h"

#include <QAbstractItemView>
#include <QApplication>
#include <QClipboard>
#include <QCloseEvent>
#include <QFileDialog>
#include <QFileInfo>
#include <QLabel>
#include <QLineEdit>
#include <QMenuBar>
#include <QMessageBox>
#include <QMimeData>
#include <QPushButton>
#include <QSettings>
#include <QStackedWidget>
#include <QVBoxLayout>

namespace uc::app {

MainWindow::MainWindow(Workspace& workspace) : workspace_(workspace), presence_(workspace.folder()) {
  setAcceptDrops(true);
  QApplication::instance()->installEventFilter(new WheelGuard(this)); // before any control is polished
  auto* body = new QWidget(this);
  auto* column = new QVBoxLayout(body);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(0);
  ribbon_ = new PleatRibbon(body);
  column->addWidget(ribbon_);

  auto* middle = new QHBoxLayout;
  middle->setSpacing(0);
  choices_ = new QStackedWidget(body);
  choices_->setFixedWidth(256);
  centre_ = new QStackedWidget(body);
  ledger_ = new Ledger(body);
  middle->addWidget(choices_);
  middle->addWidget(centre_, 1);
  middle->addWidget(ledger_);
  column->addLayout(middle, 1);
  strip_ = new ProgrammeStrip(workspace_, body);
  column->addWidget(strip_);
  notices_ = new NoticeList(body);
  column->addWidget(notices_);
  setCentralWidget(body);
  connect(&workspace_, &Workspace::log_failed, this, &MainWindow::tell_of_log);

  stages_ = new StagePlaces(workspace_, choices_, centre_, this);
  for (int i = 0; i < stage_count(); ++i) ribbon_->add_stage(stages_->verb(i));
  connect(stages_, &StagePlaces::came, this, [this](int index) {
    Stage* stage = stages_->at(index);
    connect(stage, &Stage::stale, this, &MainWindow::refresh);
    turn_views(*stage);
    ribbon_->set_fact(index, stage->fact());
    if (stage->key() == "log") (void)this->stage("fold"); // which goes on with the runs that are taken up there
  });
  make_menus();

  connect(ribbon_, &PleatRibbon::chosen, this, qOverload<int>(&MainWindow::show_stage));
  connect(strip_, &ProgrammeStrip::move_chosen, this, [this](int move) {
    if (stage_at(current_)->key() != "fold") show_stage("fold");
    stage("fold")->move_chosen(move);
  });
  connect(strip_, &ProgrammeStrip::move_moved, this, [this](int to) { stage("fold")->move_chosen(to); });
  connect(&workspace_, &Workspace::stage_wanted, this, qOverload<const QString&>(&MainWindow::show_stage));
  connect(&workspace_, &Workspace::said, this, [this](const QString& text) { notify(text); });
  connect(&workspace_, &Workspace::asked, this, &MainWindow::notify);
  QApplication::instance()->installEventFilter(this);
  connect(&workspace_, &Workspace::current_move_changed, strip_, &ProgrammeStrip::set_current_move);
  connect(&workspace_.document, &Document::changed, this, &MainWindow::refresh);
  connect(&workspace_.document, &Document::changed, this, &MainWindow::tell_what_is_left_out);
  ledger_due_.setSingleShot(true);
  ledger_due_.setInterval(0);
  connect(&ledger_due_, &QTimer::timeout, this, &MainWindow::write_ledger);
  connect(&workspace_.document, &Document::path_changed, this, [this] {
    update_title();
    presence_.set_project(workspace_.document.path());
  });
  connect(&presence_, &ProjectPresence::others_changed, this, [this](int others) {
    if (others > 0)
      notify(tr("This project is open in another window as well. Whoever saves last is asked before anything of the "
                "other is replaced."),
             {}, "presence");
    else
      notices_->remove("presence");
  });
  connect(&workspace_.document, &Document::replacing, this, [this] {
    // What was refused belongs to the project that goes.
    for (Field* field : choices_->findChildren<Field*>()) field->set_error({});
  });
  connect(&workspace_.document, &Document::replaced, this, [this] {
    notices_->remove("file");
    workspace_.reset_view();
    for (Stage* s : stages_->made()) s->begin_anew();
    strip_->scrollToTop();
  });
  connect(&workspace_.document, &Document::modified_changed, this, &MainWindow::update_title);
  connect(&workspace_.document, &Document::order_dropped, this, [this] {
    notify(tr("The moves were planned anew; the order you had given them is gone. Undo brings it back."));
  });
  connect(&workspace_.document, &Document::something_left_out, this,
          [this](const QString& why) { notify(tr("The programme lacks what was asked for. %1").arg(shown(why))); });
  connect(&workspace_.document, &Document::autosave_failed, this, [this](const QString& why) {
    notify(tr("Your work could not be saved aside. %1").arg(why),
           {{tr("Try again"),
             [this] {
               if (const QString wrong = workspace_.document.autosave(); !wrong.isEmpty())
                 notify(tr("Your work could not be saved aside. %1").arg(wrong), {}, "autosave");
             }}},
           "autosave");
  });
  connect(&workspace_, &Workspace::view_changed, this, [this] {
    for (const Stage* s : stages_->made()) turn_views(*s);
  });
  show_stage(0);
  update_title();
  setMinimumSize(1000, 660);
  take_size();
  presence_.set_project(workspace_.document.path());
  if (!workspace_.log()) tell_of_log();
  if (!workspace_.shelf_error().isEmpty())
    notify(tr("%1 The shelf shows the stocks that ship with the program.").arg(workspace_.shelf_error()), {}, "shelf");
}

void MainWindow::tell_of_log() {
  QList<NoticeAction> actions{{tr("Try again"), [this] {
                                 workspace_.open_log();
                                 if (workspace_.log()) notify(tr("The log is open."));
                               }}};
  const LogTrouble trouble = workspace_.log_trouble();
  if (may_set_aside(trouble)) {
    actions.prepend({tr("Set the log aside"), [this] {
                       QString wrong;
                       const QString name = workspace_.set_log_aside(wrong);
                       notify(wrong.isEmpty()
                                  ? tr("A new log has been begun. The old one is kept as %1.").arg(shown_name(name))
                                  : wrong);
                     }});
  }
  if (trouble == LogTrouble::missing) {
    actions.prepend({tr("Begin a new log"), [this] {
                       workspace_.open_log(true);
                       if (workspace_.log()) notify(tr("A new log has been begun."));
                     }});
  }
  notify(workspace_.log_error(), actions, "log");
}

Stage* MainWindow::stage(const QString& key) const {
  const int index = stages_->index_of(key);
  return index < 0 ? nullptr : stages_->at(index);
}

void MainWindow::turn_views(const Stage& stage) const {
  for (BenchView* view : stage.views()) view->turn(workspace_.underside(), workspace_.quarter_turns());
}

void MainWindow::show_stage(int index) {
  if (index < 0 || index >= stage_count()) return;
  if (index != current_) notices_->leave_passing(); // said where it mattered
  current_ = index;
  ribbon_->set_current(index);
  stages_->show(index);
  if (BenchView* view = stage_at(index)->view()) view->setFocus();
  stage_at(index)->entered();
  refresh();
}

void MainWindow::show_stage(const QString& key) { show_stage(stages_->index_of(key)); }

/// What of the project is not in the programme: steps that cannot be made, items that do not fit on the sheet. They
/// stay, and are named.
void MainWindow::tell_what_is_left_out() {
  const auto& folding = workspace_.document.project().programme.folding;
  const QString refusal = folding ? shown(folding->refusal()) : QString();
  if (refusal != refusal_)
    notify(refusal.isEmpty() ? QString() : tr("The steps are folded as far as they go. %1").arg(refusal), {}, "steps");
  refusal_ = refusal;
  QStringList titles;
  for (const std::string& title : left_out_references(workspace_.document.project())) titles << shown(title);
  if (titles == left_out_) return;
  left_out_ = titles;
  notify(titles.isEmpty() ? QString()
                          : tr("The programme leaves out what cannot be made on this sheet: %1. It stays in Mark and "
                               "comes back with a sheet on which it can.")
                                .arg(titles.join(tr(", "))),
         {}, "left-out");
}

void MainWindow::refresh() {
  for (int i = 0; i < stage_count(); ++i) {
    if (stages_->is_made(i)) ribbon_->set_fact(i, stage_at(i)->fact());
  }
  ledger_due_.start();
  update_title();
}

Ledger* MainWindow::ledger() {
  if (ledger_due_.isActive()) write_ledger();
  return ledger_;
}

void MainWindow::write_ledger() {
  ledger_due_.stop();
  stage_at(current_)->write_ledger(*ledger_);
}

void MainWindow::update_title() {
  const Document& d = workspace_.document;
  const QString name = !d.project().title.empty() ? QString::fromStdString(d.project().title)
                       : d.path().isEmpty()       ? tr("New project")
                                                  : QFileInfo(shown_name(d.path())).completeBaseName();
  notices_->set_rest(d.is_modified()      ? tr("Changes since the last save are kept aside.")
                     : d.path().isEmpty() ? tr("A new project, nothing to save yet.")
                                          : tr("Saved as %1").arg(shown_name(d.path())));
  setWindowTitle(tr("%1%2 - Under Crease").arg(shown(name), d.is_modified() ? QStringLiteral(" *") : QString()));
}

QString MainWindow::notice() const { return notices_->sentences().value(0); }

void MainWindow::notify(const QString& sentence, const QList<NoticeAction>& actions, const QString& key) {
  notices_->add(sentence, actions, key);
}

void MainWindow::restore(const Recoverable& found) {
  if (!may_discard()) return offer_recovery();
  const QString wrong = workspace_.document.recover(found.file);
  if (!wrong.isEmpty()) offer_recovery(); // the copy is still there
  notify(wrong.isEmpty() ? tr("Your work is back. Save it to keep it.") : wrong);
}

void MainWindow::offer_recovery() {
  for (const Recoverable& found : workspace_.document.recoverable()) {
    const QString name = found.title.isEmpty() ? tr("A project without a title") : shown(found.title);
    const QString where = found.path.isEmpty() ? tr("never saved to a file") : shown_name(found.path);
    const QString when = found.at.toString("yyyy-MM-dd hh:mm");
    const NoticeAction discard{tr("Discard it"), [this, found] {
                                 const QString wrong = workspace_.document.discard_recovery(found.file);
                                 if (!wrong.isEmpty()) notify(wrong);
                               }};
    if (found.wrong.isEmpty())
      notify(tr("%1 (%2) was not saved when the program ended; last changed %3.").arg(name, where, when),
             {{tr("Restore it"), [this, found] { restore(found); }}, discard}, found.file);
    else
      notify(tr("A copy of unsaved work from %1 cannot be read; it is kept. %2").arg(when, shown(found.wrong)),
             {discard}, found.file);
  }
}

bool MainWindow::open_project(const QString& path) {
  if (path.endsWith(QStringLiteral(".steps"))) return open_steps(path);
  const QString wrong = workspace_.document.open(path);
  notify(wrong, {}, "read"); // an earlier error goes
  if (!wrong.isEmpty()) return false;
  remember_recent(path);
  return true;
}

bool MainWindow::open_steps(const QString& path) {
  const auto text = read_file(bytes_of(path));
  if (!text) {
    notify(shown(text.error()), {}, "read");
    return false;
  }
  return begin_steps(*text, path);
}

bool MainWindow::begin_steps(const std::string& text, const QString& name) {
  const auto file = parse_steps(text);
  if (!file) {
    notify(tr("%1: %2").arg(shown_name(name), shown(file.error())), {}, "read");
    return false;
  }
  notices_->remove("read");
  Project p;
  p.stock = workspace_.document.project().stock;
  p.hand = workspace_.document.project().hand;
  p.unit = workspace_.document.project().unit;
  workspace_.document.reset(p, {});
  show_stage(QStringLiteral("fold")); // before anything is said that belongs there
  workspace_.document.change(tr("Read the steps"), [&](Project& now) {
    now.title = file->title.empty() ? QFileInfo(name).completeBaseName().toStdString() : file->title;
    now.sheet = file->sheet;
    now.sheet_name = file->sheet.code();
    now.steps = text;
    now.folded = FoldedWork::steps;
  });
  return true;
}

bool MainWindow::settle_file_change() {
  using Change = Document::FileChange;
  const Change change = workspace_.document.file_change();
  if (change == Change::none) return true;
  const QString name = shown_name(workspace_.document.path());
  QMessageBox box(QMessageBox::Warning, tr("The file is another"),
                  change == Change::removed
                      ? tr("%1 was removed by another program since you opened it.").arg(name)
                      : tr("%1 was changed by another program since you opened or saved it.").arg(name),
                  QMessageBox::Cancel, this);
  QPushButton* mine = box.addButton(tr("&Keep mine"), QMessageBox::AcceptRole);
  mine->setObjectName("keep-mine");
  QPushButton* theirs = nullptr;
  if (change == Change::changed) {
    theirs = box.addButton(tr("&Take theirs"), QMessageBox::DestructiveRole);
    theirs->setObjectName("take-theirs");
  }
  QPushButton* beside = box.addButton(tr("Save &beside"), QMessageBox::ActionRole);
  beside->setObjectName("save-beside");
  box.setDefaultButton(beside);
  box.exec();
  if (box.clickedButton() == mine) {
    workspace_.document.keep_mine();
    return true;
  }
  if (theirs && box.clickedButton() == theirs) {
    const QString wrong = workspace_.document.take_theirs();
    notify(wrong.isEmpty() ? tr("The file's own state is here now; undo brings yours back.") : wrong);
  } else if (box.clickedButton() == beside) {
    const QFileInfo file(workspace_.document.path());
    for (int n = 2; n < 1000; ++n) {
      const QString path = QStringLiteral("%1/%2-%3.undercrease").arg(file.path(), file.completeBaseName()).arg(n);
      if (file_stamp(bytes_of(path))) continue;
      const QString wrong = workspace_.document.save_beside(path);
      notify(wrong.isEmpty() ? tr("Saved beside it, as %1.").arg(shown_name(path)) : wrong);
      if (wrong.isEmpty()) remember_recent(path);
      break;
    }
  }
  return false;
}

void MainWindow::look_at_file() {
  const auto change = workspace_.document.file_change();
  if (change == Document::FileChange::none) {
    notices_->remove("file");
    return;
  }
  QList<NoticeAction> actions;
  if (change == Document::FileChange::changed) {
    actions << NoticeAction{tr("Take theirs"), [this] {
                              const QString wrong = workspace_.document.take_theirs();
                              if (!wrong.isEmpty()) notify(wrong);
                            }};
  }
  actions << NoticeAction{tr("Keep mine"), [this] { workspace_.document.keep_mine(); }};
  notify(change == Document::FileChange::removed
             ? tr("The file of this project was removed by another program; saving writes it again.")
             : tr("The file of this project was changed by another program."),
         actions, "file");
}

bool MainWindow::save_project_as(const QString& path) {
  const bool own =
      same_file(bytes_of(path), bytes_of(workspace_.document.path())) || path == workspace_.document.path();
  if (own && !settle_file_change()) return !workspace_.document.is_modified();
  const QString wrong = workspace_.document.save(path);
  if (!wrong.isEmpty()) {
    notify(wrong);
    return false;
  }
  remember_recent(path);
  update_title();
  workspace_.say_written(path, {});
  return true;
}

bool MainWindow::may_discard() {
  if (!workspace_.document.is_modified()) return true;
  const auto answer = QMessageBox::question(this, tr("Unsaved work"), tr("Save the changes to this project first?"),
                                            QMessageBox::Save | QMessageBox::Discard | QMessageBox::Cancel);
  if (answer == QMessageBox::Cancel) return false;
  return answer == QMessageBox::Discard || choose_save(false);
}

bool MainWindow::may_leave() { return may_discard() && may_leave_run(Leaving::project); }

bool MainWindow::may_leave_run(Leaving leaving) {
  if (!stages_->is_made(stages_->index_of("fold"))) return true;
  RunSession& run = static_cast<FoldStage*>(stage("fold"))->session();
  if (!run.active() || run.looking_on()) return true;
  const bool quit = leaving == Leaving::quit;
  QMessageBox box(QMessageBox::Question, tr("A run is under way"),
                  (quit ? tr("\"%1\" is being folded: %2 of %3 moves are done. The run stays in the log and waits; the "
                             "window takes it up again when it opens.")
                        : tr("\"%1\" is being folded: %2 of %3 moves are done. The run waits in the log; it comes back "
                             "when you open its project, or go on folding it there."))
                      .arg(shown(run.detail().summary.title))
                      .arg(run.next_move())
                      .arg(run.programme().moves.size()),
                  QMessageBox::Cancel, this);
  QPushButton* leave = box.addButton(tr("&Leave it waiting"), QMessageBox::AcceptRole);
  leave->setObjectName("leave-run");
  box.setDefaultButton(leave);
  box.exec();
  if (box.clickedButton() != leave) return false;
  if (quit) return true; // it is still the one under way
  const QString wrong = run.put_aside();
  if (!wrong.isEmpty()) notify(wrong);
  return wrong.isEmpty();
}

/// As it was left, else the size it is made for; never larger than the screen.
void MainWindow::take_size() {
  const QSize room = screen()->availableSize();
  const QSize kept = QSettings().value("window/size").toSize();
  resize((kept.isValid() ? kept : QSize(1280, 800)).boundedTo(room).expandedTo(minimumSize()));
  if (QSettings().value("window/maximised", false).toBool()) setWindowState(windowState() | Qt::WindowMaximized);
}

void MainWindow::keep_size() const {
  QSettings settings;
  settings.setValue("window/maximised", isMaximized());
  settings.setValue("window/size", isMaximized() ? normalGeometry().size() : size());
}

void MainWindow::showEvent(QShowEvent* event) {
  if (ledger_due_.isActive()) write_ledger();
  QMainWindow::showEvent(event);
  stages_->make_rest_when_idle();
}

void MainWindow::closeEvent(QCloseEvent* event) {
  if (!may_leave_run(Leaving::quit) || !may_discard()) {
    event->ignore();
    return;
  }
  keep_size();
  workspace_.document.reset(workspace_.document.project(), workspace_.document.path());
  event->accept();
}

void MainWindow::changeEvent(QEvent* event) {
  if (event->type() == QEvent::ActivationChange && isActiveWindow() && notices_) look_at_file();
  QMainWindow::changeEvent(event);
}

bool MainWindow::eventFilter(QObject* watched, QEvent* event) {
  // Single keys belong to a table that has the focus and can be typed into: a figure typed there is a figure, not the
  // key of a stage.
  const auto* table = qobject_cast<QAbstractItemView*>(watched);
  // Home is the first line of a list, and fits the sheet elsewhere.
  if (event->type() == QEvent::ShortcutOverride && table && static_cast<QKeyEvent*>(event)->key() == Qt::Key_Home) {
    event->accept();
    return true;
  }
  if (event->type() == QEvent::ShortcutOverride && table &&
      table->editTriggers().testFlag(QAbstractItemView::AnyKeyPressed)) {
    const auto* key = static_cast<QKeyEvent*>(event);
    const bool plain = (key->modifiers() & ~(Qt::ShiftModifier | Qt::KeypadModifier)) == Qt::NoModifier;
    if (plain && key->key() > Qt::Key_Space && key->key() <= Qt::Key_AsciiTilde) {
      event->accept();
      return true;
    }
  }
  return QMainWindow::eventFilter(watched, event);
}

void MainWindow::dragEnterEvent(QDragEnterEvent* event) {
  if (event->mimeData()->hasUrls()) event->acceptProposedAction();
}

void MainWindow::dropEvent(QDropEvent* event) {
  const auto urls = event->mimeData()->urls();
  if (!urls.isEmpty() && may_leave()) open_project(urls.first().toLocalFile());
}

} // namespace uc::app
