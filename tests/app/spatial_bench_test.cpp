// A sheet in space on the bench, drawn into the window and into a picture: both ways show the same, follow what changes
// and leave the window in peace while nothing does.
#include "window.h"

#include "runner.h"
#include "support.h"

#include "widgets/spatial_bench.h"
#include "widgets/spatial_canvas.h"
#include "widgets/spatial_renderer.h"

#include <QLabel>

using namespace uc;
using app::SpatialBench;
using app::SpatialScene;

namespace {

/// A roof: two sheets of four triangles that meet at a ridge, with the ridge as a line.
SpatialScene roof() {
  SpatialScene scene;
  scene.vertices = {{-60, -60, 0}, {60, -60, 0}, {60, 0, 40}, {-60, 0, 40}, {60, 60, 0}, {-60, 60, 0}};
  const auto add = [&](std::array<int, 3> corners) {
    scene.triangles.push_back({corners, QColor("#2F6F8F"), QColor("#F0E0C0")});
  };
  add({0, 1, 2});
  add({0, 2, 3});
  add({3, 2, 4});
  add({3, 4, 5});
  scene.lines.push_back({2, 3, QColor("#101010")});
  return scene;
}

/// The share of pixels whose colours differ by more than a little.
double unlike(const QImage& a, const QImage& b) {
  if (a.size() != b.size()) return 1;
  int count = 0;
  for (int y = 0; y < a.height(); ++y) {
    for (int x = 0; x < a.width(); ++x) {
      const QColor p = a.pixelColor(x, y);
      const QColor q = b.pixelColor(x, y);
      count += std::abs(p.red() - q.red()) + std::abs(p.green() - q.green()) + std::abs(p.blue() - q.blue()) > 48;
    }
  }
  return static_cast<double>(count) / (a.width() * a.height());
}

struct Shown {
  QWidget window;
  SpatialBench* bench = new SpatialBench(&window);

  explicit Shown(bool in_window = false) {
    if (in_window) bench->draw_in_window(true);
    window.resize(640, 480);
    bench->setGeometry(0, 0, 560, 480);
    auto* beside = new QLabel("beside", &window);
    beside->setGeometry(565, 10, 70, 20);
    bench->show_scene(roof(), 160, "nothing here");
    window.show();
  }
  QImage picture() { return bench->snapshot().scaled(bench->size(), Qt::IgnoreAspectRatio, Qt::SmoothTransformation); }
  /// The sheet and what is written over it.
  [[nodiscard]] QImage in_window() const { return bench->grab().toImage().convertToFormat(QImage::Format_ARGB32); }
};

} // namespace

class SpatialBenchTest : public QObject {
  Q_OBJECT

private slots:
  void initTestCase() {
    app::load_fonts();
    app::apply_theme(app::make_theme(app::ThemeChoice::light));
  }

  void the_processor_draws_into_a_picture() {
    Shown s;
    QVERIFY(QTest::qWaitForWindowExposed(&s.window));
    QVERIFY2(s.bench->trouble().isEmpty(), qPrintable(s.bench->trouble()));
    QCOMPARE(s.bench->canvas() != nullptr, app::graphics_card_draws());
    if (qEnvironmentVariable("LIBGL_ALWAYS_SOFTWARE") == "1") QVERIFY(!app::graphics_card_draws());
  }

  void pictures_come_from_a_thread_and_the_newest_is_shown() {
    Shown s;
    s.bench->draw_in_window(false);
    QVERIFY(QTest::qWaitForWindowExposed(&s.window));
    QTRY_VERIFY(s.bench->up_to_date());
    const QImage first = s.in_window();
    QVERIFY(unlike(first, s.picture().convertToFormat(first.format())) < 0.02);
    // Of many turns in one go the last is shown in the end; what is there meanwhile is the picture before.
    for (int i = 0; i < 30; ++i) s.bench->spin(3, 0);
    QVERIFY(!s.bench->up_to_date());
    QVERIFY(unlike(first, s.in_window()) < 0.001);
    QTRY_VERIFY(s.bench->up_to_date());
    QTRY_VERIFY(unlike(s.in_window(), s.picture()) < 0.02);
    QVERIFY(unlike(first, s.in_window()) > 0.05);
    // Copies wait for theirs; a scene that goes while it is drawn does no harm.
    s.bench->spin(40, 0);
    QVERIFY(unlike(s.bench->still({300, 300}), first.scaled(300, 300)) > 0.05);
    s.bench->spin(5, 0);
    s.bench->repaint();
    s.bench->show_scene({}, 160, "nothing here");
    QVERIFY(s.bench->up_to_date());
    s.bench->show_scene(roof(), 160, {});
    s.bench->repaint();
    delete s.bench; // while a picture is drawn
    s.bench = nullptr;
    QTest::qWait(50);
  }

  void both_ways_show_the_same_data() {
    QTest::addColumn<bool>("shadows");
    QTest::addColumn<double>("spread");
    QTest::addColumn<bool>("behind");
    QTest::addColumn<double>("turn");
    QTest::newRow("plain") << false << 0.0 << false << 0.0;
    QTest::newRow("shadows") << true << 0.0 << false << 35.0;
    QTest::newRow("spot") << true << 50.0 << false << -70.0;
    QTest::newRow("from behind") << false << 0.0 << true << 10.0;
  }
  void both_ways_show_the_same() {
    QFETCH(bool, shadows);
    QFETCH(double, spread);
    QFETCH(bool, behind);
    QFETCH(double, turn);
    Shown s;
    QVERIFY(QTest::qWaitForWindowExposed(&s.window));
    s.bench->draw_in_window(true);
    Lamp lamp;
    lamp.height_deg = 25;
    lamp.shadows = shadows;
    lamp.spread_deg = spread;
    s.bench->set_lamp(lamp);
    s.bench->turn(behind, 0);
    s.bench->spin(turn, 0);
    QTRY_VERIFY(s.bench->canvas()->frames_drawn() > 0);
    QVERIFY2(s.bench->canvas()->trouble().isEmpty(), qPrintable(s.bench->canvas()->trouble()));
    const QImage a = s.in_window();
    const QImage b = s.picture();
    // What is written stands in the corner of both.
    const QRect corner(16, 12, 200, 20);
    QVERIFY(unlike(a.copy(corner), QImage(a.copy(QRect(16, 440, 200, 20)))) > 0.02);
    QVERIFY(unlike(a.copy(corner), b.copy(corner)) < 0.25); // one is drawn at twice the size
    QVERIFY2(unlike(a, b) < 0.02, qPrintable(QString::number(unlike(a, b))));
    // The roof is in both: a bare bench is unlike.
    s.bench->show_scene({}, 160, {});
    QVERIFY(unlike(a, s.picture()) > 0.1);
  }

  void the_window_follows_and_then_rests() {
    Shown s;
    QVERIFY(QTest::qWaitForWindowExposed(&s.window));
    s.bench->draw_in_window(true);
    QTRY_VERIFY(s.bench->canvas()->frames_drawn() > 0);
    QVERIFY(s.window.isVisible());
    const QImage before = s.in_window();
    QTest::qWait(400);
    const int rested = s.bench->canvas()->frames_drawn();
    QTest::qWait(400);
    QCOMPARE(s.bench->canvas()->frames_drawn(), rested);
    QTest::keyClick(s.bench, Qt::Key_Left);
    QTRY_VERIFY(s.bench->canvas()->frames_drawn() > rested);
    QVERIFY(unlike(before, s.in_window()) > 0.01);
    QTest::mousePress(s.bench, Qt::LeftButton, {}, {100, 100});
    const QImage still = s.in_window();
    QTest::mouseMove(s.bench, {200, 100});
    QTest::mouseRelease(s.bench, Qt::LeftButton, {}, {200, 100});
    QTRY_VERIFY(unlike(still, s.in_window()) > 0.01);
  }

  void a_window_that_begins_so_is_not_made_anew() {
    Shown s(true);
    const WId window = s.window.winId();
    QVERIFY(QTest::qWaitForWindowExposed(&s.window));
    QTRY_VERIFY(s.bench->canvas()->frames_drawn() > 0);
    s.bench->show_scene({}, 160, {});
    s.bench->show_scene(roof(), 160, {});
    QCOMPARE(s.window.winId(), window); // which would flicker
  }

  void a_bench_without_a_scene_shows_its_sentence() {
    Shown s;
    QVERIFY(QTest::qWaitForWindowExposed(&s.window));
    s.bench->draw_in_window(true);
    QTRY_VERIFY(s.bench->canvas()->frames_drawn() > 0);
    s.bench->show_scene({}, 160, "nothing here");
    QVERIFY(!s.bench->canvas()->isVisible());
    s.bench->show_scene(roof(), 160, {});
    QVERIFY(s.bench->canvas()->isVisible());
    s.bench->draw_in_window(false);
    QVERIFY(!s.bench->canvas());
    QVERIFY(!s.picture().isNull());
    s.window.resize(700, 500);
    s.bench->setGeometry(0, 0, 600, 500);
    s.bench->draw_in_window(true);
    QCOMPARE(s.bench->canvas()->size(), s.bench->size());
  }

  void the_bench_may_move_to_another_window() {
    Shown s;
    QVERIFY(QTest::qWaitForWindowExposed(&s.window));
    s.bench->draw_in_window(true);
    QTRY_VERIFY(s.bench->canvas()->frames_drawn() > 0);
    const QImage before = s.in_window();
    QWidget other;
    other.resize(640, 480);
    other.show();
    QVERIFY(QTest::qWaitForWindowExposed(&other));
    s.bench->setParent(&other);
    s.bench->show();
    const int drawn = s.bench->canvas()->frames_drawn();
    QTRY_VERIFY(s.bench->canvas()->frames_drawn() > drawn);
    QVERIFY(unlike(before, s.in_window()) < 0.02);
  }
};

UC_TEST(SpatialBenchTest)
#include "spatial_bench_test.moc"
