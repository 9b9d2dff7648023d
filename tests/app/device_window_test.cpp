// Devices in the window: a scan read into Measure now, a file for a plotter.
#include "runner.h"

#include "window.h"

#include "base/atomic_file.h"
#include "device/scan_maker.h"
#include "io/grey_png.h"
#include "io/plotter_file.h"
#include "output/printing.h"

#include <QPushButton>
#include <QTableWidget>

using namespace uc;
using uc::testing::Window;

class DeviceWindowTest : public QObject {
  Q_OBJECT
  QTemporaryDir dir_;

private slots:
  void a_scan_fills_in_what_it_shows() {
    Window w;
    w.type("sheet-size", "square:80mm");
    w.set_parts(4);
    w.go_to("fold");
    w.press("begin");
    const int moves = static_cast<int>(w.project().programme.moves.size());
    for (int i = 0; i < moves; ++i) w.key(Qt::Key_Space);
    w.press("measure");
    auto* table = w.find<QTableWidget>("measure-table");
    QVERIFY(table->rowCount() >= 3);
    auto* panel = w.fold()->measure_panel();
    const auto folded = folded_grid(scan_lines({80, 80}, 4, GridAxis::both), 4, 0.2, 4);
    const auto image = made_scan(w.project().sheet.outline(), folded, {});
    const std::string file = dir_.filePath("scan.png").toStdString();
    QVERIFY(write_atomically(file, *grey_png(*image)).ok());
    panel->read_scan_file(QString::fromStdString(file));
    QVERIFY(!w.find<QPushButton>("measure-scan")->isEnabled());
    QTRY_VERIFY_WITH_TIMEOUT(!panel->reading_scan(), 60000);
    QVERIFY2(panel->verdict().startsWith("All "), qPrintable(panel->verdict()));
    for (int row = 0; row < 3; ++row) {
      const double mm = table->item(row, 2)->text().toDouble();
      QVERIFY2(std::abs(mm - folded[static_cast<std::size_t>(row)].position_mm) < 0.05,
               qPrintable(table->item(row, 2)->text()));
      QVERIFY(!table->item(row, 5)->text().isEmpty());
    }
    QCOMPARE(static_cast<int>(w.fold()->session().detail().measured.size()), table->rowCount());
    // Something else than a scan leaves what was measured, and says why.
    const QString before = table->item(0, 2)->text();
    const std::string words = dir_.filePath("words.png").toStdString();
    QVERIFY(write_atomically(words, "these are only words, not a picture at all").ok());
    panel->read_scan_file(QString::fromStdString(words));
    QTRY_VERIFY_WITH_TIMEOUT(!panel->reading_scan(), 60000);
    QVERIFY(panel->verdict().contains("not a PNG picture"));
    QCOMPARE(table->item(0, 2)->text(), before);
    QVERIFY(w.find<QPushButton>("measure-scan")->isEnabled());
  }

  void a_grid_goes_to_the_plotter() {
    Window w;
    w.type("sheet-size", "square:100mm");
    w.set_parts(4);
    const QString file = dir_.filePath("grid.hpgl");
    QCOMPARE(app::score_project(*w.workspace, file), QString());
    const auto trace = parse_plotter(*read_file(file.toStdString()), "grid.hpgl");
    QVERIFY(trace.ok());
    QVERIFY(trace->strokes.size() >= 3);
    QVERIFY(leaving(*trace, w.project().sheet.outline()).empty());
    QVERIFY(!app::score_project(*w.workspace, dir_.filePath("grid.xyz")).isEmpty());
  }
};

UC_TEST(DeviceWindowTest)
#include "device_window_test.moc"
