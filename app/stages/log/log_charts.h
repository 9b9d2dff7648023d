// The two charts of the log: measured against planned error, and minutes per run.
#pragma once

#include "record/run.h"

#include <QChartView>

namespace uc::app {

void draw_error_chart(QChartView& view, const std::vector<RunSummary>& runs, double mm_per_unit, const QString& unit);
void draw_time_chart(QChartView& view, const std::vector<RunSummary>& runs);

} // namespace uc::app
