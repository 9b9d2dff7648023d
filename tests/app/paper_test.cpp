// The paper and the cards: what is clicked is what is meant, however the sheet is turned; what is marked is drawn.
#include "window.h"

#include "runner.h"
#include "support.h"

#include "reference/construction_programme.h"
#include "reference/recipe.h"

#include <QSignalSpy>

using namespace uc;
using uc::app::PaperMark;
using uc::app::PaperView;
using uc::testing::near;

namespace {

Programme programme_with_marks() {
  auto recipe = parse_recipe(Sheet::square(Millimetres{240}).outline(),
                             "c1 = O3 left right\np1 = cross c1 top\nc2 = O2 br p1\np2 = cross c2 right\nresult p2\n");
  const Construction& c = recipe->construction;
  return programme_of(c, needs_of(c, recipe->results, ConstructionErrors(c, 0.25)), recipe->results, HandProfile{});
}

int pixels_of(const QImage& image, const QColor& colour, int reach) {
  int count = 0;
  for (int y = 0; y < image.height(); ++y) {
    for (int x = 0; x < image.width(); ++x) {
      const QColor c = image.pixelColor(x, y);
      count += std::abs(c.red() - colour.red()) < reach && std::abs(c.green() - colour.green()) < reach &&
               std::abs(c.blue() - colour.blue()) < reach;
    }
  }
  return count;
}

app::PlottedWay way(double creases, double miss_mm, bool exact = false) {
  return {creases, miss_mm, 0.5, exact, QString("%1 creases, %2 mm").arg(creases).arg(miss_mm)};
}

} // namespace

class PaperTest : public QObject {
  Q_OBJECT

private slots:
  void initTestCase() {
    app::load_fonts();
    app::apply_theme(app::make_theme(app::ThemeChoice::light));
  }

  void clicks_mean_places_of_the_sheet_data() {
    QTest::addColumn<bool>("mirrored");
    QTest::addColumn<int>("quarters");
    QTest::addColumn<double>("zoom");
    for (const bool mirrored : {false, true}) {
      for (int quarters = 0; quarters < 4; ++quarters) {
        for (const double zoom : {1.0, 2.5})
          QTest::newRow(qPrintable(QString("%1 %2 %3").arg(mirrored).arg(quarters).arg(zoom)))
              << mirrored << quarters << zoom;
      }
    }
  }
  void clicks_mean_places_of_the_sheet() {
    QFETCH(bool, mirrored);
    QFETCH(int, quarters);
    QFETCH(double, zoom);
    PaperView paper;
    paper.resize(700, 500);
    paper.show_figure(crease_figure(programme_with_marks()));
    paper.turn(mirrored, quarters);
    if (zoom != 1) paper.zoom(zoom, QPointF(350, 250));
    QSignalSpy clicks(&paper, &PaperView::paper_clicked);
    for (const Point& wanted : {Point{120, 120}, Point{100, 140}, Point{130, 90}}) {
      QTest::mouseClick(&paper, Qt::LeftButton, {}, paper.place(wanted).toPoint());
      QCOMPARE(clicks.size(), 1);
      const auto at = clicks.takeFirst();
      const Point got = at[0].value<Point>();
      QVERIFY2((got - wanted).norm() < 1.5, qPrintable(QString("%1 %2").arg(got.x()).arg(got.y())));
      QVERIFY(at[1].toDouble() > 0);
    }
  }

  void a_drag_is_no_click() {
    PaperView paper;
    paper.resize(700, 500);
    paper.show_figure(crease_figure(programme_with_marks()));
    QSignalSpy clicks(&paper, &PaperView::paper_clicked);
    QTest::mousePress(&paper, Qt::LeftButton, {}, QPoint(300, 200));
    QTest::mouseMove(&paper, QPoint(340, 240));
    QTest::mouseRelease(&paper, Qt::LeftButton, {}, QPoint(340, 240));
    QCOMPARE(clicks.size(), 0);
  }

  void the_underside_of_a_figure_is_picked_where_it_lies() {
    PaperView paper;
    paper.resize(700, 500);
    paper.show_figure(crease_figure(programme_with_marks(), true)); // the figure itself is turned over
    QSignalSpy clicks(&paper, &PaperView::paper_clicked);
    const Figure& f = paper.figure();
    QTest::mouseClick(&paper, Qt::LeftButton, {}, paper.place(f.view * Point{60, 200}).toPoint());
    QVERIFY((clicks.takeFirst()[0].value<Point>() - Point{60, 200}).norm() < 1.5);
  }

  void targets_ellipses_and_second_ways_are_drawn() {
    PaperView paper;
    paper.resize(700, 500);
    paper.show_figure(crease_figure(programme_with_marks()));
    const QImage bare = paper.snapshot();
    paper.set_marks({{{120, 120}, true, Eigen::Matrix2d::Zero()}});
    const QImage wanted = paper.snapshot();
    QVERIFY(wanted != bare);
    const QColor caution = app::make_theme(app::ThemeChoice::light).caution;
    QVERIFY(pixels_of(wanted, caution, 30) > pixels_of(bare, caution, 30) + 40);
    Eigen::Matrix2d spread;
    spread << 0.09, 0, 0, 0.01;
    paper.set_marks({{{120, 120}, false, spread}});
    QVERIFY(paper.snapshot() != bare);
    paper.set_marks({});
    QVERIFY(paper.snapshot() == bare);
    paper.set_laid_over({{{0, 30}, {240, 60}}});
    const QImage over = paper.snapshot();
    QVERIFY(pixels_of(over, QColor("#1F5FA8"), 30) > 100);
  }

  void the_ellipse_lies_as_the_error_does() {
    PaperView paper;
    paper.resize(700, 500);
    paper.show_figure(crease_figure(programme_with_marks()));
    const QImage bare = paper.snapshot();
    Eigen::Matrix2d level;
    level << 0.09, 0, 0, 0.0004;
    paper.set_marks({{{120, 120}, false, level}});
    const QImage drawn = paper.snapshot();
    int left = drawn.width();
    int right = 0;
    int top = drawn.height();
    int bottom = 0;
    for (int y = 200; y < drawn.height(); ++y) { // below the note that says how much it is enlarged
      for (int x = 0; x < drawn.width(); ++x) {
        if (drawn.pixel(x, y) == bare.pixel(x, y)) continue;
        left = std::min(left, x), right = std::max(right, x);
        top = std::min(top, y), bottom = std::max(bottom, y);
      }
    }
    QVERIFY2(right - left > 4 * (bottom - top), // wide along the error's long axis
             qPrintable(QString("%1 to %2, %3 to %4").arg(left).arg(right).arg(top).arg(bottom)));
  }

  void names_do_not_cover_one_another_data() {
    QTest::addColumn<bool>("at_point");
    QTest::newRow("of points") << true;
    QTest::newRow("of lines") << false;
  }
  void names_do_not_cover_one_another() {
    QFETCH(bool, at_point);
    PaperView paper;
    paper.resize(700, 500);
    Figure f = labelled_figure(programme_with_marks());
    const auto drawn = [&] {
      paper.show_figure(f);
      return paper.snapshot();
    };
    // What a further name changes in the picture is where it stands.
    const auto changed = [](const QImage& a, const QImage& b) {
      QRect where;
      for (int y = 0; y < a.height(); ++y) {
        for (int x = 0; x < a.width(); ++x) {
          if (a.pixel(x, y) != b.pixel(x, y)) where |= QRect(x, y, 1, 1);
        }
      }
      return where;
    };
    Figure::Label name = f.labels.back();
    name.at_point = at_point;
    name.centred = false;
    const QImage without = [&] {
      f.labels.pop_back();
      return drawn();
    }();
    f.labels.push_back(name);
    const QImage one = drawn();
    f.labels.push_back(name); // the same name at the same place goes beside it
    const QImage two = drawn();
    const QRect first = changed(without, one);
    const QRect second = changed(one, two);
    QVERIFY(!first.isEmpty() && !second.isEmpty());
    QVERIFY2(!first.intersects(second),
             qPrintable(QString("%1,%2 and %3,%4").arg(first.x()).arg(first.y()).arg(second.x()).arg(second.y())));
  }

  void ways_are_chosen_by_mouse_keys_and_numbers() {
    app::WayPlot plot;
    plot.resize(640, 212);
    plot.show();
    QVERIFY(QTest::qWaitForWindowExposed(&plot));
    QApplication::setActiveWindow(&plot);
    QSignalSpy chosen(&plot, &app::WayPlot::chosen_changed);
    plot.show_ways({way(3, 0.3), way(1, 2.5), way(2, 0.8), way(3, 0.9), way(4, 0.3, true), way(5, 0.2)});
    QCOMPARE(plot.count(), 6);
    QCOMPARE(plot.chosen(), 0);
    QCOMPARE(plot.frontier(), (std::vector<int>{1, 2, 0, 5})); // 3 and 4 are beaten
    QTest::mouseClick(&plot, Qt::LeftButton, {}, plot.place_of(2).toPoint());
    QCOMPARE(chosen.takeFirst()[0].toInt(), 2);
    // More effort lies further right, a larger miss higher up.
    QVERIFY(plot.place_of(1).x() < plot.place_of(2).x() && plot.place_of(1).y() < plot.place_of(2).y());
    plot.setFocus();
    QTest::keyClick(&plot, Qt::Key_Right);
    QCOMPARE(plot.chosen(), 0);
    QTest::keyClick(&plot, Qt::Key_Right); // of one effort, what misses by less comes first
    QCOMPARE(plot.chosen(), 3);
    QTest::keyClick(&plot, Qt::Key_Home);
    QCOMPARE(plot.chosen(), 1);
    QTest::keyClick(&plot, Qt::Key_Down);
    QCOMPARE(plot.chosen(), 2);
    QTest::keyClick(&plot, Qt::Key_Down);
    QCOMPARE(plot.chosen(), 0);
    QTest::keyClick(&plot, Qt::Key_End);
    QTest::keyClick(&plot, Qt::Key_Right); // there is none further
    QCOMPARE(plot.chosen(), 5);
    QTest::keyClick(&plot, Qt::Key_4);
    QCOMPARE(plot.chosen(), 3);
    QTest::keyClick(&plot, Qt::Key_9); // there are not so many
    QCOMPARE(plot.chosen(), 3);
    // Whoever cannot see it hears the way and the whole frontier.
    QTest::keyClick(&plot, Qt::Key_3);
    const QString said = plot.accessibleDescription();
    QVERIFY2(said.startsWith("Way 3 of 6: 2 creases, 0.8 mm, on the best frontier.") && said.contains("2: 1 creases") &&
                 said.contains("6: 5 creases, 0.2 mm"),
             qPrintable(said));
    plot.show_ways({});
    QVERIFY(plot.chosen() == -1 && plot.frontier().empty() && plot.way_at({100, 100}) == -1);
    plot.choose(0); // nothing to choose
    QCOMPARE(plot.chosen(), -1);
    QVERIFY(!plot.grab().isNull());
  }
  void up_to_three_ways_are_compared() {
    app::WayPlot plot;
    plot.resize(640, 212);
    plot.show_ways({way(1, 2), way(2, 1), way(3, 0.5), way(4, 0.2)});
    QCOMPARE(plot.compared(), (std::vector<int>{0}));
    const auto click = [&](int i) {
      QTest::mouseClick(&plot, Qt::LeftButton, Qt::ControlModifier, plot.place_of(i).toPoint());
    };
    click(1);
    click(2);
    QCOMPARE(plot.compared(), (std::vector<int>{0, 1, 2}));
    click(3); // a fourth takes the place of the one that is there longest
    QCOMPARE(plot.compared(), (std::vector<int>{0, 2, 3}));
    click(2);
    QCOMPARE(plot.compared(), (std::vector<int>{0, 3}));
    plot.choose(3);
    QCOMPARE(plot.compared(), (std::vector<int>{3}));
    QTest::keyClick(&plot, Qt::Key_C); // kept beside the next
    QTest::keyClick(&plot, Qt::Key_Left);
    QCOMPARE(plot.compared(), (std::vector<int>{2, 3}));
    QTest::keyClick(&plot, Qt::Key_Escape);
    QCOMPARE(plot.compared(), (std::vector<int>{2}));
  }
  void what_is_not_admitted_is_not_chosen() {
    app::WayPlot plot;
    plot.resize(640, 212);
    plot.show_ways({way(1, 2), way(2, 1), way(3, 1.5), way(4, 0.2)});
    plot.choose(3);
    plot.compare(1);
    plot.admit({1, 0, 1, 0});
    QCOMPARE(plot.chosen(), 0);
    QCOMPARE(plot.compared(), (std::vector<int>{0}));
    QCOMPARE(plot.frontier(), (std::vector<int>{0, 2}));
    QCOMPARE(plot.way_at(plot.place_of(3)), -1);
    plot.choose(1);
    QCOMPARE(plot.chosen(), 0);
    QSignalSpy chosen(&plot, &app::WayPlot::chosen_changed);
    plot.admit({0, 0, 0, 0});
    QCOMPARE(plot.chosen(), -1);
    QCOMPARE(chosen.takeLast()[0].toInt(), -1);
    plot.admit({1, 1, 1, 1});
    QCOMPARE(plot.chosen(), 0);
  }
  void the_plot_is_drawn_in_both_themes_and_points_do_not_hide_each_other() {
    app::WayPlot plot;
    plot.resize(640, 212);
    plot.show_ways({way(2, 1), way(2, 1), way(2, 1, true), way(5, 0.01)});
    QVERIFY((plot.place_of(0) - plot.place_of(1)).manhattanLength() > 6);
    for (int i = 0; i < 3; ++i) QCOMPARE(plot.way_at(plot.place_of(i)), i);
    QImage pictures[2];
    for (const bool dark : {false, true}) {
      app::apply_theme(app::make_theme(dark ? app::ThemeChoice::dark : app::ThemeChoice::light));
      pictures[dark] = plot.grab().toImage();
      QVERIFY(pixels_of(pictures[dark], app::current_theme().accent, 12) > 60); // frontier and points
    }
    QVERIFY(pictures[0] != pictures[1]);
    app::apply_theme(app::make_theme(app::ThemeChoice::light));
  }
};

UC_TEST(PaperTest)
#include "paper_test.moc"
