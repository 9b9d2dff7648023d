#include "stages/log/log_charts.h"

#include "base/theme.h"

#include <QLineSeries>
#include <QLogValueAxis>
#include <QScatterSeries>
#include <QValueAxis>

#include <algorithm>
#include <cmath>

namespace uc::app {
namespace {

QChart* dressed(QChartView& view, const QString& title) {
  const Theme& t = current_theme();
  auto* chart = new QChart;
  chart->setBackgroundVisible(false);
  chart->setMargins({2, 2, 2, 2});
  chart->legend()->hide();
  chart->setTitle(title);
  chart->setTitleFont(text_font(9, QFont::DemiBold));
  chart->setTitleBrush(t.soft_ink);
  QChart* old = view.chart();
  view.setChart(chart);
  delete old;
  view.setBackgroundBrush(Qt::NoBrush);
  view.setStyleSheet("background: transparent;");
  return chart;
}

void dress_axis(QChart* chart, QAbstractAxis* a, Qt::Alignment where, const QString& title) {
  const Theme& t = current_theme();
  a->setTitleText(title);
  a->setTitleFont(text_font(8));
  a->setTitleBrush(t.soft_ink);
  a->setLabelsFont(mono_font(7));
  a->setLabelsColor(t.soft_ink);
  a->setGridLineColor(t.panel_edge);
  a->setLinePenColor(t.soft_ink);
  chart->addAxis(a, where);
}

QValueAxis* axis(QChart* chart, Qt::Alignment where, double top, const QString& title, const char* format) {
  auto* a = new QValueAxis;
  a->setRange(0, top);
  a->setTickCount(5);
  a->setLabelFormat(format);
  a->applyNiceNumbers();
  dress_axis(chart, a, where, title);
  return a;
}

QScatterSeries* dots(const QColor& colour, QScatterSeries::MarkerShape shape) {
  auto* s = new QScatterSeries;
  s->setMarkerShape(shape);
  s->setMarkerSize(9);
  s->setColor(colour);
  s->setBorderColor(current_theme().bench);
  return s;
}

void attach(QChart* chart, QAbstractSeries* series, QAbstractAxis* x, QAbstractAxis* y) {
  chart->addSeries(series);
  series->attachAxis(x);
  series->attachAxis(y);
}

QLineSeries* line(const QColor& colour, Qt::PenStyle style) {
  auto* s = new QLineSeries;
  s->setPen(QPen(colour, 1.4, style));
  return s;
}

} // namespace

void draw_error_chart(QChartView& view, const std::vector<RunSummary>& runs, double mm_per_unit, const QString& unit) {
  const Theme& t = current_theme();
  QChart* chart = dressed(view, QChartView::tr("MEASURED AND PLANNED"));
  auto* points = dots(t.accent, QScatterSeries::MarkerShapeRotatedRectangle);
  double low = 0.1;
  double high = 1;
  for (const RunSummary& r : runs) {
    if (!r.measured_rms_mm || r.planned_sigma_mm <= 0 || *r.measured_rms_mm <= 0) continue;
    points->append(r.planned_sigma_mm / mm_per_unit, *r.measured_rms_mm / mm_per_unit);
    for (const double v : {r.planned_sigma_mm, *r.measured_rms_mm}) low = std::min(low, v), high = std::max(high, v);
  }
  // Plans range from tenths of a millimetre to useless: both axes are logarithmic, in whole decades.
  low = std::pow(10, std::floor(std::log10(low / mm_per_unit)));
  high = std::pow(10, std::ceil(std::log10(high / mm_per_unit)));
  const auto axis_of = [&](Qt::Alignment where, const QString& title) {
    auto* a = new QLogValueAxis;
    a->setBase(10);
    a->setRange(low, high);
    a->setMinorTickCount(8);
    a->setMinorGridLineVisible(false);
    a->setLabelFormat("%g");
    dress_axis(chart, a, where, title);
    return a;
  };
  auto* x = axis_of(Qt::AlignBottom, QChartView::tr("planned, %1").arg(unit));
  auto* y = axis_of(Qt::AlignLeft, QChartView::tr("measured, %1").arg(unit));
  auto* equal = line(t.soft_ink, Qt::DashLine);
  equal->append(low, low);
  equal->append(high, high);
  attach(chart, equal, x, y);
  attach(chart, points, x, y);
}

void draw_time_chart(QChartView& view, const std::vector<RunSummary>& runs) {
  const Theme& t = current_theme();
  QChart* chart = dressed(view, QChartView::tr("MINUTES PER RUN"));
  std::vector<const RunSummary*> order;
  for (const RunSummary& r : runs) {
    if (r.status == RunStatus::finished) order.push_back(&r);
  }
  std::sort(order.begin(), order.end(),
            [](const RunSummary* a, const RunSummary* b) { return a->started < b->started; });
  if (order.size() > 400) order.erase(order.begin(), order.end() - 400);
  auto* worked = line(t.accent, Qt::SolidLine);
  auto* planned = line(t.soft_ink, Qt::DashLine);
  auto* marks = dots(t.accent, QScatterSeries::MarkerShapeCircle);
  double top = 5;
  for (std::size_t i = 0; i < order.size(); ++i) {
    const double n = static_cast<double>(i + 1);
    worked->append(n, order[i]->minutes);
    marks->append(n, order[i]->minutes);
    planned->append(n, order[i]->planned_minutes);
    top = std::max({top, 1.1 * order[i]->minutes, 1.1 * order[i]->planned_minutes});
  }
  QValueAxis* x = axis(chart, Qt::AlignBottom, static_cast<double>(order.size()) + 1,
                       QChartView::tr("run; planned dashed"), "%.0f");
  QValueAxis* y = axis(chart, Qt::AlignLeft, top, QChartView::tr("minutes"), "%.0f");
  attach(chart, planned, x, y);
  attach(chart, worked, x, y);
  if (order.size() <= 60)
    attach(chart, marks, x, y);
  else
    delete marks;
}

} // namespace uc::app
