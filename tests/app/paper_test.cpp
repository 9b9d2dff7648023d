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
using uc::app::RouteCard;
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

RouteCard::Face face(const QString& title, const QString& group = {}) {
  RouteCard::Face f;
  f.title = title;
  f.group = group;
  f.exactness = "exact";
  f.hand = "hand 0.30 mm";
  f.exact = true;
  f.figure = crease_figure(programme_with_marks());
  return f;
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
    paper.set_look(mirrored, quarters);
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
    for (int y = 60; y < drawn.height(); ++y) { // below the note that says how much it is enlarged
      for (int x = 0; x < drawn.width(); ++x) {
        if (drawn.pixel(x, y) == bare.pixel(x, y)) continue;
        left = std::min(left, x), right = std::max(right, x);
        top = std::min(top, y), bottom = std::max(bottom, y);
      }
    }
    QVERIFY2(right - left > 4 * (bottom - top), "wide along the error's long axis");
  }

  void names_do_not_cover_one_another() {
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
    const Figure::Label name = f.labels.back();
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

  void cards_are_chosen_by_mouse_and_keys() {
    app::CardRow row;
    row.resize(600, 196);
    row.show();
    QVERIFY(QTest::qWaitForWindowExposed(&row));
    QApplication::setActiveWindow(&row);
    row.show_cards({face("2 creases", "halving"), face("3 creases"), face("4 creases", "other")}, QColor("#F3C98B"), 0);
    QCOMPARE(row.count(), 3);
    QVERIFY(row.card(0)->isChecked());
    QSignalSpy chosen(&row, &app::CardRow::chosen);
    QTest::mouseClick(row.card(2), Qt::LeftButton);
    QCOMPARE(chosen.takeFirst()[0].toInt(), 2);
    QVERIFY(row.card(2)->isChecked() && !row.card(0)->isChecked());
    row.card(2)->setFocus();
    QTest::keyClick(row.card(2), Qt::Key_Right); // there is none further
    QCOMPARE(chosen.size(), 0);
    QTest::keyClick(row.card(2), Qt::Key_Left);
    QCOMPARE(chosen.takeFirst()[0].toInt(), 1);
    QVERIFY(row.card(1)->accessibleName().contains("3 creases"));
    QVERIFY(row.card(1)->accessibleName().contains("hand 0.30 mm"));
    row.show_cards({}, QColor("#F3C98B"), -1);
    QCOMPARE(row.count(), 0);
    row.choose(0); // nothing to choose
    QCOMPARE(chosen.size(), 0);
  }

  void cards_are_drawn_in_both_themes() {
    RouteCard card(face("3 creases, 2 pinched", "halving"), QColor("#F3C98B"), nullptr);
    card.resize(card.sizeHint());
    QImage pictures[2];
    for (const bool dark : {false, true}) {
      app::apply_theme(app::make_theme(dark ? app::ThemeChoice::dark : app::ThemeChoice::light));
      pictures[dark] = card.grab().toImage();
      QVERIFY(pixels_of(pictures[dark], QColor("#F3C98B"), 12) > 2000); // the paper keeps its colour
    }
    QVERIFY(pictures[0] != pictures[1]);
    app::apply_theme(app::make_theme(app::ThemeChoice::light));
    RouteCard::Face cut = face("14 creases");
    cut.cut = {{60, 60}, {180, 60}, {120, 180}};
    RouteCard piece(cut, QColor("#F3C98B"), nullptr);
    piece.resize(piece.sizeHint());
    QVERIFY(piece.grab().toImage() != pictures[0]);
  }
};

UC_TEST(PaperTest)
#include "paper_test.moc"
