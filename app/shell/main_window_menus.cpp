// The menus of the main window: every action, its key and what it does.
#include "base/file_name.h"
#include "base/theme.h"
#include "io/steps_library.h"
#include "output/printing.h"
#include "shell/main_window.h"
#include "widgets/ask_file.h"
#include "widgets/paper_view.h"

#include <QActionGroup>
#include <QApplication>
#include <QClipboard>
#include <QFileDialog>
#include <QFileInfo>
#include <QLabel>
#include <QMenuBar>
#include <QMessageBox>
#include <QSettings>
#include <QVBoxLayout>

#include <filesystem>

namespace uc::app {

namespace {

QString title_of(FoldedWork work) {
  switch (work) {
  case FoldedWork::references:
    return QObject::tr("Nothing but what &Mark has sent");
  case FoldedWork::grid:
    return QObject::tr("The &grid of Divide");
  case FoldedWork::creases:
    return QObject::tr("The &creases of the pattern");
  case FoldedWork::closed:
    return QObject::tr("The pattern's creases, &then close it");
  case FoldedWork::steps:
    return QObject::tr("The &steps that were read");
  case FoldedWork::units:
    break;
  }
  return QObject::tr("The &units");
}

} // namespace

/// One choice of what the programme folds; what cannot be folded is grey.
void MainWindow::add_what_to_fold(QMenu& menu) {
  menu.setObjectName("what-to-fold");
  auto* group = new QActionGroup(&menu);
  for (const auto& [work, word] : enum_words<FoldedWork>) {
    QAction* action = menu.addAction(title_of(work));
    action->setObjectName("fold-" + QString::fromLatin1(word));
    action->setCheckable(true);
    group->addAction(action);
    connect(action, &QAction::triggered, this, [this, work = work] {
      const QString wrong =
          workspace_.document.change(tr("Choose what to fold"), [work](Project& p) { p.folded = work; });
      if (!wrong.isEmpty()) workspace_.say(wrong);
    });
    const auto follow = [this, action, work = work] {
      const Project& p = workspace_.document.project();
      action->setEnabled(can_fold(p, work));
      action->setChecked(folded_work(p) == work);
    };
    connect(&workspace_.document, &Document::changed, action, follow);
    follow();
  }
}

void MainWindow::make_menus() {
  make_file_menu();
  make_edit_menu();
  make_view_menu();
  make_help_menu();
}

void MainWindow::make_file_menu() {
  QMenu* file = menuBar()->addMenu(tr("&File"));
  file->addAction(tr("&New project"), QKeySequence::New, this, [this] {
    if (may_leave()) {
      Project fresh;
      fresh.stock = generic_stocks()[1];
      fresh.sheet_name = "square:240mm";
      workspace_.document.reset(fresh, {});
      show_stage(0);
    }
  });
  file->addAction(tr("&Open..."), QKeySequence::Open, this, [this] { choose_open(); });
  QMenu* recent = file->addMenu(tr("Open &recent"));
  connect(recent, &QMenu::aboutToShow, this, [this, recent] { fill_recent(recent); });
  QMenu* library = file->addMenu(tr("Fold from the &library"));
  connect(library, &QMenu::aboutToShow, this, [this, library] { fill_library(library); });
  QMenu* choice = file->addMenu(tr("&What to fold"));
  add_what_to_fold(*choice);
  file->addSeparator();
  file->addAction(tr("&Save"), QKeySequence::Save, this, [this] { choose_save(false); });
  file->addAction(tr("Save &as..."), QKeySequence::SaveAs, this, [this] { choose_save(true); });
  file->addSeparator();
  file->addAction(tr("Export to a file..."), QKeySequence(tr("Ctrl+E")), this, [this] { export_file(); });
  file->addAction(tr("Save for a scorin&g plotter..."), this, [this] { score_file(); });
  file->addAction(tr("Print pre&view..."), QKeySequence(tr("Ctrl+Shift+P")), this,
                  [this] { show_print_preview(workspace_, this); });
  file->addAction(tr("&Print..."), QKeySequence::Print, this, [this] { print_project(workspace_, this); });
  auto* small = file->addAction(tr("S&mall hand-outs, twelve moves a page"));
  small->setObjectName("small-handouts");
  small->setCheckable(true);
  small->setChecked(QSettings().value(small_handouts).toBool());
  connect(small, &QAction::toggled, this, [](bool on) { QSettings().setValue(small_handouts, on); });
  file->addSeparator();
  file->addAction(tr("&Quit"), QKeySequence::Quit, this, &QWidget::close);
}

void MainWindow::make_edit_menu() {
  QMenu* edit = menuBar()->addMenu(tr("&Edit"));
  QAction* undo = workspace_.document.undo_stack().createUndoAction(this, tr("&Undo"));
  undo->setShortcut(QKeySequence(tr("Ctrl+Z")));
  QAction* redo = workspace_.document.undo_stack().createRedoAction(this, tr("&Redo"));
  redo->setShortcut(QKeySequence(tr("Ctrl+Shift+Z")));
  edit->addActions({undo, redo});
  edit->addSeparator();
  edit->addAction(tr("&Copy the drawing"), QKeySequence(tr("Ctrl+Shift+C")), this, [this] {
    if (BenchView* shown = stage_at(current_)->view()) {
      QApplication::clipboard()->setImage(shown->snapshot());
      notify(tr("The drawing is on the clipboard."));
    }
  });
  QMenu* units = edit->addMenu(tr("U&nits"));
  auto* group = new QActionGroup(units);
  for (const auto& [label, unit] : {std::pair{tr("&Millimetres"), LengthUnit::mm},
                                    {tr("&Centimetres"), LengthUnit::cm},
                                    {tr("&Inches"), LengthUnit::inch}}) {
    QAction* action = units->addAction(label, this, [this, unit = unit] {
      workspace_.document.change(tr("Change units"), [unit](Project& p) { p.unit = unit; });
    });
    action->setCheckable(true);
    group->addAction(action);
    connect(units, &QMenu::aboutToShow, action,
            [this, action, unit = unit] { action->setChecked(workspace_.document.project().unit == unit); });
  }
}

void MainWindow::make_view_menu() {
  QMenu* view = menuBar()->addMenu(tr("&View"));
  for (int i = 0; i < stage_count(); ++i) {
    view->addAction(stages_->verb(i), QKeySequence(QString::number((i + 1) % 10)), this, [this, i] { show_stage(i); });
  }
  view->addSeparator();
  view->addAction(tr("Turn the sheet &over"), QKeySequence(tr("U")), this, [this] { workspace_.turn_over(); });
  view->addAction(tr("Rotate to the &left"), QKeySequence(tr("[")), this, [this] { workspace_.rotate_view(1); });
  view->addAction(tr("Rotate to the &right"), QKeySequence(tr("]")), this, [this] { workspace_.rotate_view(-1); });
  view->addSeparator();
  const auto shown = [this] { return stage_at(current_)->view(); };
  QAction* in = view->addAction(tr("Zoom &in"), this, [shown] {
    if (shown()) shown()->zoom_in();
  });
  in->setShortcuts({QKeySequence(tr("+")), QKeySequence(tr("="))});
  view->addAction(tr("Zoom o&ut"), QKeySequence(tr("-")), this, [shown] {
    if (shown()) shown()->zoom_out();
  });
  view->addAction(tr("&Fit the sheet"), QKeySequence(Qt::Key_Home), this, [shown] {
    if (shown()) shown()->zoom_fit();
  });
  view->addSeparator();
  QMenu* themes = view->addMenu(tr("&Theme"));
  auto* group = new QActionGroup(themes);
  for (const auto& [label, choice] : {std::pair{tr("As the &desktop"), ThemeChoice::desktop},
                                      {tr("&Light"), ThemeChoice::light},
                                      {tr("Dar&k"), ThemeChoice::dark}}) {
    QAction* action = themes->addAction(label, this, [this, choice = choice] { set_theme(choice); });
    action->setCheckable(true);
    action->setChecked(QSettings().value("theme", 0).toInt() == static_cast<int>(choice));
    group->addAction(action);
  }
}

void MainWindow::make_help_menu() {
  QMenu* help = menuBar()->addMenu(tr("&Help"));
  help->addAction(tr("&Keys of this stage"), QKeySequence(tr("F1")), this, [this] { show_keys(); });
  help->addAction(tr("&About Under Crease"), this, [this] {
    QMessageBox::about(
        this, tr("About Under Crease"),
        tr("<b>Under Crease %1</b><p>A workbench for people who fold paper by measure.</p>"
           "<p>Free software under the GNU General Public License, version 3 or later. The fonts Inter and "
           "JetBrains Mono are used under the SIL Open Font License.</p>")
            .arg(QApplication::applicationVersion()));
  });
}

void MainWindow::set_theme(ThemeChoice choice) {
  QSettings().setValue("theme", static_cast<int>(choice));
  apply_theme(make_theme(choice));
  refresh();
  for (QWidget* w : findChildren<QWidget*>()) w->update();
}

void MainWindow::show_keys() {
  QList<QPair<QString, QString>> keys = stage_at(current_)->keys();
  keys += {{stage_count() < 10 ? tr("1 to %1").arg(stage_count()) : tr("1 to 9, then 0"), tr("go to a stage")},
           {tr("U"), tr("turn the sheet over")},
           {tr("[ and ]"), tr("rotate the view a quarter turn")},
           {tr("+ and -"), tr("zoom in and out")},
           {tr("Home"), tr("fit the sheet")},
           {tr("Ctrl+Z, Ctrl+Shift+Z"), tr("undo, redo")},
           {tr("Ctrl+S"), tr("save")},
           {tr("Ctrl+E"), tr("export to a file")},
           {tr("Ctrl+Left, Ctrl+Right"), tr("move the chosen move in the strip")}};
  QString rows;
  for (const auto& [key, meaning] : keys) {
    rows += QStringLiteral("<tr><td style='padding:3px 18px 3px 0'><b>%1</b></td><td>%2</td></tr>")
                .arg(key.toHtmlEscaped(), meaning);
  }
  QMessageBox box(this);
  box.setWindowTitle(tr("Keys of the stage %1").arg(stage_at(current_)->verb()));
  box.setText(QStringLiteral("<table>%1</table>").arg(rows));
  box.exec();
}

void MainWindow::remember_recent(const QString& path) {
  // Kept as bytes: a name need not be text.
  QSettings settings;
  const QString absolute =
      QFileInfo(path).isAbsolute() ? path : name_of_bytes(std::filesystem::absolute(bytes_of(path)).string());
  QVariantList recent{QByteArray::fromStdString(bytes_of(absolute))};
  for (const QString& other : recent_projects()) {
    if (other != absolute && recent.size() < 8) recent << QByteArray::fromStdString(bytes_of(other));
  }
  settings.setValue("recent", recent);
}

QStringList MainWindow::recent_projects() {
  QStringList all;
  for (const QVariant& entry : QSettings().value("recent").toList())
    all << name_of_bytes(entry.toByteArray().toStdString());
  return all;
}

void MainWindow::fill_recent(QMenu* menu) {
  menu->clear();
  for (const QString& path : recent_projects()) {
    menu->addAction(QFileInfo(shown_name(path)).fileName(), this,
                    [this, path] {
                      if (may_leave()) open_project(path);
                    })
        ->setToolTip(shown_name(path));
  }
  if (menu->isEmpty()) menu->addAction(tr("Nothing yet"))->setEnabled(false);
}

void MainWindow::fill_library(QMenu* menu) {
  menu->clear();
  const std::string folder = bytes_of(data_folder() + "/steps");
  const auto all = step_library(folder);
  if (!all) {
    menu->addAction(shown(all.error()))->setEnabled(false);
    return;
  }
  for (const LibrarySteps& s : *all) {
    menu->addAction(tr("%1 (%n moves)", nullptr, s.moves).arg(shown(s.file.title)), this,
                    [this, text = s.text, name = QString::fromStdString(s.name)] {
                      if (may_leave()) begin_steps(text, name);
                    });
  }
}

void MainWindow::choose_open() {
  if (!may_leave()) return;
  const QString path = QFileDialog::getOpenFileName(this, tr("Open a project"), {}, filters_for(FileUse::open, true));
  if (!path.isEmpty()) open_project(path);
}

bool MainWindow::choose_save(bool always_ask) {
  QString path = workspace_.document.path();
  if (path.isEmpty() || always_ask)
    path = ask_where_to_write(this, tr("Save the project"), path, filters_for(FileUse::save));
  return !path.isEmpty() && save_project_as(path);
}

void MainWindow::score_file() {
  const QString path =
      ask_where_to_write(this, tr("Save for a scoring plotter"), {}, filters_for(FileUse::write_scoring));
  if (path.isEmpty()) return;
  workspace_.say_written(path, score_project(workspace_, path));
}

void MainWindow::export_file() {
  const QString path = ask_where_to_write(this, tr("Export to a file"), {}, filters_for(FileUse::write_project));
  if (path.isEmpty()) return;
  workspace_.say_written(path, export_project(workspace_, path));
}

} // namespace uc::app
