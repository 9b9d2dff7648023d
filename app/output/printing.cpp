#include "output/printing.h"

#include "base/atomic_file.h"
#include "base/file_name.h"
#include "base/page_painter.h"
#include "base/theme.h"
#include "io/exports.h"
#include "io/plotter_file.h"
#include "project/score_work.h"
#include "widgets/dialog_size.h"

#include <QApplication>
#include <QDateTime>
#include <QMessageBox>
#include <QPageLayout>
#include <QPainter>
#include <QPrintDialog>
#include <QPrintPreviewDialog>
#include <QPrinter>
#include <QSettings>

#include <cmath>
#include <functional>

namespace uc::app {
namespace {

ExportOptions options_of(const Workspace& workspace, const PaperSize& paper) {
  ExportOptions o;
  o.fonts.folder = load_fonts().toStdString();
  o.text = workspace.text_style();
  o.paper = paper;
  o.small = QSettings().value(small_handouts).toBool();
  // The next full hour: a calendar file needs a beginning, which the folder moves in the calendar.
  const QDateTime now = QDateTime::currentDateTime().addSecs(3600);
  o.session_start = QDateTime(now.date(), QTime(now.time().hour(), 0)).toString(Qt::ISODate).toStdString();
  return o;
}

PaperSize paper_of(const QPrinter& printer) {
  const QSizeF size = printer.pageLayout().fullRect(QPageLayout::Millimeter).size();
  return {"", size.width(), size.height()};
}

} // namespace

void print_pages(QPrinter& printer, const std::vector<Page>& pages) {
  printer.setFullPage(true);
  QPainter painter(&printer);
  const double per_mm = printer.resolution() / 25.4;
  for (std::size_t i = 0; i < pages.size(); ++i) {
    if (i > 0) printer.newPage();
    painter.resetTransform();
    painter.scale(per_mm, per_mm);
    paint_page(painter, pages[i]);
  }
}

namespace {

void preview_pages(QWidget* parent, const std::function<std::vector<Page>(const QPrinter&)>& pages) {
  QPrinter printer(QPrinter::HighResolution);
  QPrintPreviewDialog preview(&printer, parent);
  preview.setWindowTitle(QObject::tr("Print preview"));
  QObject::connect(&preview, &QPrintPreviewDialog::paintRequested, &preview,
                   [&pages](QPrinter* p) { print_pages(*p, pages(*p)); });
  open_at_most(preview, {980, 720});
  preview.exec();
}

/// Why the programme cannot be put on paper yet; empty when it can. What Cancel has stopped is planned again.
QString why_not_yet(Workspace& workspace) {
  if (!workspace.document.planning()) return {};
  if (workspace.document.planning_stopped()) workspace.document.plan_again();
  return QObject::tr("The moves are still being planned; try again in a moment.");
}

} // namespace

void show_print_preview(Workspace& workspace, QWidget* parent) {
  if (const QString wait = why_not_yet(workspace); !wait.isEmpty()) return workspace.say(wait);
  preview_pages(parent, [&](const QPrinter& p) {
    return export_pages(workspace.document.project(), options_of(workspace, paper_of(p)));
  });
}

void show_print_preview(Workspace& workspace, const Figure& figure, const QString& title, QWidget* parent) {
  preview_pages(parent, [&](const QPrinter& p) {
    PrintOptions options;
    options.fonts.folder = load_fonts().toStdString();
    options.paper = paper_of(p);
    options.text = workspace.text_style();
    return template_pages(figure, title.toStdString(), options);
  });
}

void print_project(Workspace& workspace, QWidget* parent) {
  if (const QString wait = why_not_yet(workspace); !wait.isEmpty()) return workspace.say(wait);
  QPrinter printer(QPrinter::HighResolution);
  QPrintDialog dialog(&printer, parent);
  if (dialog.exec() != QDialog::Accepted) return;
  print_pages(printer, export_pages(workspace.document.project(), options_of(workspace, paper_of(printer))));
}

QString score_project(Workspace& workspace, const QString& path) {
  if (const QString wait = why_not_yet(workspace); !wait.isEmpty()) return wait;
  const Project& project = workspace.document.project();
  const auto work = score_work(project);
  if (!work) return QString::fromStdString(work.error());
  const ScoreSettings settings;
  const auto plan = score_plan(work->pattern, work->sheet, settings);
  if (!plan) return QString::fromStdString(plan.error());
  const auto bytes = plotter_bytes(*plan, settings, bytes_of(path), project.title);
  if (!bytes) return QString::fromStdString(bytes.error());
  const auto written = write_atomically(bytes_of(path), *bytes);
  if (!written) return QString::fromStdString(written.error());
  workspace.say(
      QObject::tr("%n strokes, about %1 minutes. The second side follows after a stop to turn the sheet over. "
                  "Scoring tools cut: hold to what the maker of the machine says.",
                  nullptr, static_cast<int>(plan->strokes()))
          .arg(plan->minutes, 0, 'f', 1));
  return {};
}

QString export_project(Workspace& workspace, const QString& path) {
  if (const QString wait = why_not_yet(workspace); !wait.isEmpty()) return wait;
  ExportOptions options = options_of(workspace, paper_sizes()[0]);
  const std::size_t pages = export_page_count(workspace.document.project(), options);
  if (path.endsWith(".pdf", Qt::CaseInsensitive) && pages > options.most_pages) {
    const auto answer = QMessageBox::question(QApplication::activeWindow(), QObject::tr("Many pages"),
                                              QObject::tr("This makes a PDF of %1 pages. Write them all?").arg(pages),
                                              QMessageBox::Yes | QMessageBox::Cancel);
    if (answer != QMessageBox::Yes) return QObject::tr("Nothing was written.");
    options.most_pages = pages;
  }
  const auto bytes = export_bytes(workspace.document.project(), bytes_of(path), options);
  if (!bytes) return QString::fromStdString(bytes.error());
  const auto ok = write_atomically(bytes_of(path), *bytes);
  return ok ? QString() : QString::fromStdString(ok.error());
}

} // namespace uc::app
