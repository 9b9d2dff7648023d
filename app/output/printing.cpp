#include "output/printing.h"

#include "base/atomic_file.h"
#include "base/file_name.h"
#include "base/theme.h"
#include "io/exports.h"

#include <QApplication>
#include <QDateTime>
#include <QMessageBox>
#include <QPageLayout>
#include <QPainter>
#include <QPainterPath>
#include <QPrintDialog>
#include <QPrintPreviewDialog>
#include <QPrinter>

#include <cmath>
#include <functional>

namespace uc::app {
namespace {

ExportOptions options_of(const Workspace& workspace, const PaperSize& paper) {
  ExportOptions o;
  o.fonts.folder = load_fonts().toStdString();
  o.text = workspace.text_style();
  o.paper = paper;
  // The next full hour: a calendar file needs a beginning, which the folder moves in the calendar.
  const QDateTime now = QDateTime::currentDateTime().addSecs(3600);
  o.session_start = QDateTime(now.date(), QTime(now.time().hour(), 0)).toString(Qt::ISODate).toStdString();
  return o;
}

void paint(QPainter& p, const PagePath& path) {
  if (path.points.empty()) return;
  const auto q = [](const Point& v) { return QPointF(v.x(), v.y()); };
  QPainterPath shape(q(path.points[0]));
  if (path.curve && path.points.size() == 3) {
    shape.quadTo(q(path.points[1]), q(path.points[2]));
  } else {
    for (std::size_t i = 1; i < path.points.size(); ++i) shape.lineTo(q(path.points[i]));
  }
  if (path.closed) shape.closeSubpath();
  p.setOpacity(path.opacity);
  p.setBrush(path.fill.empty() ? QBrush(Qt::NoBrush) : QBrush(QColor(QString::fromStdString(path.fill))));
  QPen pen(Qt::NoPen);
  if (!path.stroke.empty()) {
    pen = QPen(QColor(QString::fromStdString(path.stroke)), path.width_mm, Qt::SolidLine, Qt::FlatCap);
    QList<qreal> dash;
    for (const double d : path.dash_mm) dash << d / path.width_mm;
    if (!dash.isEmpty()) pen.setDashPattern(dash);
  }
  p.setPen(pen);
  p.drawPath(shape);
  p.setOpacity(1);
}

void paint(QPainter& p, const PageText& text) {
  // Fonts are set in whole pixels of a finer space, so that sizes in mm come out exactly on every device.
  constexpr double finer = 100;
  QFont font(text.mono ? "JetBrains Mono" : "Inter");
  font.setPixelSize(std::max(1, static_cast<int>(std::lround(text.size_mm * finer))));
  if (text.bold) font.setWeight(QFont::DemiBold);
  const QString words = QString::fromStdString(text.text);
  QPainterPath glyphs;
  double x = 0;
  if (text.align != Align::left)
    x = -QFontMetricsF(font).horizontalAdvance(words) * (text.align == Align::centre ? 0.5 : 1);
  glyphs.addText(x, 0, font, words);
  p.save();
  p.translate(text.at.x(), text.at.y());
  p.scale(1 / finer, 1 / finer);
  p.fillPath(glyphs, QColor(QString::fromStdString(text.colour)));
  p.restore();
}

PaperSize paper_of(const QPrinter& printer) {
  const QSizeF size = printer.pageLayout().fullRect(QPageLayout::Millimeter).size();
  return {"", size.width(), size.height()};
}

} // namespace

void paint_page(QPainter& painter, const Page& page) {
  painter.setRenderHint(QPainter::Antialiasing);
  for (const auto& item : page.items) {
    if (const auto* path = std::get_if<PagePath>(&item)) paint(painter, *path);
    if (const auto* text = std::get_if<PageText>(&item)) paint(painter, *text);
  }
}

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
  preview.resize(980, 720);
  preview.exec();
}

/// Why the programme cannot be put on paper yet; empty when it can. What Cancel has stopped is planned again.
QString why_not_yet(Workspace& workspace) {
  if (!workspace.document.planning()) return {};
  if (workspace.document.planner().stopped()) workspace.document.plan_creases();
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
