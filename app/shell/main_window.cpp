#include "shell/main_window.h"

#include "output/printing.h"
#include "paperview/paper_view.h"
#include "stages/divide/divide_stage.h"
#include "stages/fold/fold_stage.h"
#include "stages/log/log_stage.h"
#include "stages/mark/mark_stage.h"
#include "stages/pattern/pattern_stage.h"
#include "stages/prove/prove_stage.h"
#include "stages/sheet/sheet_stage.h"

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

MainWindow::MainWindow(Workspace& workspace) : workspace_(workspace) {
  setAcceptDrops(true);
  auto* body = new QWidget(this);
  auto* column = new QVBoxLayout(body);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(0);
  ribbon_ = new PleatRibbon(body);
  column->addWidget(ribbon_);

  notice_ = new QWidget(body);
  notice_->setObjectName("notice");
  notice_->setAttribute(Qt::WA_StyledBackground);
  auto* notice_box = new QHBoxLayout(notice_);
  notice_box->setContentsMargins(16, 6, 16, 6);
  notice_text_ = new QLabel(notice_);
  notice_text_->setWordWrap(true);
  notice_box->addWidget(notice_text_, 1);
  notice_buttons_ = new QHBoxLayout;
  notice_box->addLayout(notice_buttons_);
  notice_->hide();
  column->addWidget(notice_);

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
  setCentralWidget(body);

  add_stage(new SheetStage(workspace_, this));
  add_stage(new DivideStage(workspace_, this));
  add_stage(new MarkStage(workspace_, this));
  add_stage(new PatternStage(workspace_, this));
  add_stage(new ProveStage(workspace_, this));
  add_stage(new FoldStage(workspace_, this));
  add_stage(new LogStage(workspace_, this));
  make_menus();

  connect(ribbon_, &PleatRibbon::chosen, this, qOverload<int>(&MainWindow::show_stage));
  connect(strip_, &ProgrammeStrip::move_chosen, this, [this](int move) {
    const Stage* here = stages_[static_cast<std::size_t>(current_)];
    if (here->key() != "fold") show_stage("fold");
    stage("fold")->move_chosen(move);
  });
  connect(&workspace_, &Workspace::stage_wanted, this, qOverload<const QString&>(&MainWindow::show_stage));
  connect(&workspace_, &Workspace::said, this, [this](const QString& text) { notify(text); });
  connect(&workspace_, &Workspace::current_move_changed, strip_, &ProgrammeStrip::set_current_move);
  connect(&workspace_.document, &Document::changed, this, &MainWindow::refresh);
  connect(&workspace_.document, &Document::path_changed, this, &MainWindow::update_title);
  connect(&workspace_.document, &Document::modified_changed, this, &MainWindow::update_title);
  connect(&workspace_.document, &Document::autosave_failed, this,
          [this](const QString& why) { notify(tr("Your work could not be saved aside. %1").arg(why)); });
  connect(&workspace_, &Workspace::view_changed, this, [this] {
    for (Stage* s : stages_) {
      if (s->paper()) s->paper()->set_look(workspace_.underside(), workspace_.quarter_turns());
    }
  });
  show_stage(0);
  update_title();
  resize(1280, 800);
  setMinimumSize(1000, 660);
  if (!workspace_.log()) {
    notify(workspace_.log_error(), {{tr("Set the log aside"),
                                     [this] {
                                       const QString name = workspace_.set_log_aside();
                                       notify(tr("A new log has been begun. The old one is kept as %1.").arg(name));
                                     }},
                                    {tr("Try again"), [this] {
                                       workspace_.open_log();
                                       if (workspace_.log()) notify(tr("The log is open."));
                                     }}});
  } else if (!workspace_.shelf_error().isEmpty()) {
    notify(tr("%1 The shelf shows the stocks that ship with the program.").arg(workspace_.shelf_error()));
  }
}

void MainWindow::add_stage(Stage* stage) {
  stages_.push_back(stage);
  ribbon_->add_stage(stage->verb());
  choices_->addWidget(stage->choices());
  centre_->addWidget(stage->centre());
  connect(stage, &Stage::stale, this, &MainWindow::refresh);
  // Enter gives the keyboard back to the paper, where single keys work.
  for (QLineEdit* edit : stage->choices()->findChildren<QLineEdit*>()) {
    connect(edit, &QLineEdit::returnPressed, stage, [stage] {
      if (stage->paper()) stage->paper()->setFocus();
    });
  }
}

Stage* MainWindow::stage(const QString& key) const {
  for (Stage* s : stages_) {
    if (s->key() == key) return s;
  }
  return nullptr;
}

void MainWindow::show_stage(int index) {
  if (index < 0 || index >= stage_count()) return;
  if (index != current_ && !notice_asks_) notice_->hide(); // said where it mattered
  current_ = index;
  ribbon_->set_current(index);
  choices_->setCurrentIndex(index);
  centre_->setCurrentIndex(index);
  if (PaperView* paper = stages_[static_cast<std::size_t>(index)]->paper()) paper->setFocus();
  stages_[static_cast<std::size_t>(index)]->entered();
  refresh();
}

void MainWindow::show_stage(const QString& key) {
  for (int i = 0; i < stage_count(); ++i) {
    if (stages_[static_cast<std::size_t>(i)]->key() == key) show_stage(i);
  }
}

void MainWindow::refresh() {
  for (int i = 0; i < stage_count(); ++i) ribbon_->set_fact(i, stages_[static_cast<std::size_t>(i)]->fact());
  stages_[static_cast<std::size_t>(current_)]->write_ledger(*ledger_);
  update_title();
}

void MainWindow::update_title() {
  const Document& d = workspace_.document;
  const QString name = !d.project().title.empty() ? QString::fromStdString(d.project().title)
                       : d.path().isEmpty()       ? tr("New project")
                                                  : QFileInfo(d.path()).completeBaseName();
  setWindowTitle(tr("%1%2 - Under Crease").arg(name, d.is_modified() ? QStringLiteral(" *") : QString()));
}

QString MainWindow::notice() const { return notice_->isVisibleTo(this) ? notice_text_->text() : QString(); }

void MainWindow::notify(const QString& sentence, const QList<QPair<QString, std::function<void()>>>& buttons) {
  while (QLayoutItem* item = notice_buttons_->takeAt(0)) {
    if (item->widget()) item->widget()->deleteLater();
    delete item;
  }
  notice_asks_ = !buttons.isEmpty();
  notice_text_->setText(sentence);
  notice_->setAccessibleName(sentence);
  for (const auto& [label, action] : buttons) {
    auto* button = new QPushButton(label, notice_);
    connect(button, &QPushButton::clicked, this, [this, action = action] {
      notice_->hide();
      action();
    });
    notice_buttons_->addWidget(button);
  }
  auto* close = new QPushButton(tr("Close"), notice_);
  connect(close, &QPushButton::clicked, notice_, &QWidget::hide);
  notice_buttons_->addWidget(close);
  notice_->setVisible(!sentence.isEmpty());
}

void MainWindow::offer_recovery() {
  const QStringList found = workspace_.document.recoverable();
  if (found.isEmpty()) return;
  const QString& file = found.first();
  notify(
      tr("Work that was not saved was found from %1.").arg(QFileInfo(file).lastModified().toString("yyyy-MM-dd hh:mm")),
      {{tr("Restore it"),
        [this, file] {
          const QString wrong = workspace_.document.recover(file);
          notify(wrong.isEmpty() ? tr("Your work is back. Save it to keep it.") : wrong);
        }},
       {tr("Discard it"), [this, file] { workspace_.document.discard_recovery(file); }}});
}

bool MainWindow::open_project(const QString& path) {
  const QString wrong = workspace_.document.open(path);
  if (!wrong.isEmpty()) {
    notify(wrong);
    return false;
  }
  remember_recent(path);
  return true;
}

bool MainWindow::save_project_as(const QString& path) {
  const QString wrong = workspace_.document.save(path);
  if (!wrong.isEmpty()) {
    notify(wrong);
    return false;
  }
  remember_recent(path);
  update_title();
  return true;
}

bool MainWindow::may_discard() {
  if (!workspace_.document.is_modified()) return true;
  const auto answer = QMessageBox::question(this, tr("Unsaved work"), tr("Save the changes to this project first?"),
                                            QMessageBox::Save | QMessageBox::Discard | QMessageBox::Cancel);
  if (answer == QMessageBox::Cancel) return false;
  return answer == QMessageBox::Discard || choose_save(false);
}

void MainWindow::closeEvent(QCloseEvent* event) {
  if (!may_discard()) {
    event->ignore();
    return;
  }
  workspace_.document.reset(workspace_.document.project(), workspace_.document.path());
  event->accept();
}

void MainWindow::dragEnterEvent(QDragEnterEvent* event) {
  if (event->mimeData()->hasUrls()) event->acceptProposedAction();
}

void MainWindow::dropEvent(QDropEvent* event) {
  const auto urls = event->mimeData()->urls();
  if (!urls.isEmpty() && may_discard()) open_project(urls.first().toLocalFile());
}

} // namespace uc::app
