// Pictures of what stands in space, made without a graphics card: where paper is, how it is lit, what hides what.
#include "io/still.h"

#include "runner.h"

#include <QImage>
#include <QtTest>

#include <cmath>
#include <numbers>

using namespace uc;

namespace {

SpatialModel square(double half = 50, double z = 0) {
  SpatialModel out;
  out.vertices = {{-half, -half, z}, {half, -half, z}, {half, half, z}, {-half, half, z}};
  out.triangles = {{0, 1, 2}, {0, 2, 3}};
  out.colours = {"#C86432"};
  out.underside = "#3264C8";
  return out;
}

/// Straight from above, as bright as the paper is.
StillWish from_above(int pixels = 100) {
  StillWish out;
  out.pixels = pixels;
  out.size_mm = 200;
  out.turn_deg = out.tilt_deg = 0;
  out.lamp.ambient = 1;
  return out;
}

QImage drawn(const Result<std::string>& png) {
  if (!png) return {};
  return QImage::fromData(QByteArray::fromStdString(*png), "PNG");
}

} // namespace

class StillTest : public QObject {
  Q_OBJECT
private slots:
  void paper_lies_where_it_should_on_a_clear_ground() {
    // 250 mm go into the picture, so that the square is 40 of its 100 pixels wide.
    const QImage p = drawn(still_png(square(), from_above()));
    QCOMPARE(p.size(), QSize(100, 100));
    int covered = 0;
    for (int y = 0; y < 100; ++y)
      for (int x = 0; x < 100; ++x) covered += p.pixelColor(x, y).alpha() == 255;
    QCOMPARE(covered, 40 * 40);
    QCOMPARE(p.pixelColor(29, 50).alpha(), 0);
    QCOMPARE(p.pixelColor(30, 50), QColor("#C86432"));
    QCOMPARE(p.pixelColor(69, 69), QColor("#C86432"));
  }

  void the_other_side_is_seen_from_behind() {
    StillWish wish = from_above();
    wish.from_behind = true;
    QCOMPARE(drawn(still_png(square(), wish)).pixelColor(50, 50), QColor("#3264C8"));
    wish.from_behind = false;
    wish.tilt_deg = 180;
    QCOMPARE(drawn(still_png(square(), wish)).pixelColor(50, 50), QColor("#3264C8"));
  }

  /// Tilted by 60 degrees it is half as high; turned by 45, a diagonal wide.
  void it_is_turned_and_tilted() {
    const auto extent = [](const StillWish& wish) { return covered_box(drawn(still_png(square(), wish))); };
    StillWish wish = from_above(400);
    wish.tilt_deg = -60;
    QVERIFY(std::abs(extent(wish).height() - 80) <= 2);
    QVERIFY(std::abs(extent(wish).width() - 160) <= 2);
    wish.tilt_deg = 0;
    wish.turn_deg = 45;
    QVERIFY(std::abs(extent(wish).width() - 160 * std::numbers::sqrt2) <= 2);
  }

  /// Lambert's law: half the light at 60 degrees from the upright.
  void paper_is_lit_by_how_it_faces_the_lamp() {
    StillWish wish = from_above();
    wish.lamp.ambient = 0;
    for (const double height : {90.0, 60.0, 30.0, 10.0}) {
      wish.lamp.height_deg = height;
      const int red = drawn(still_png(square(), wish)).pixelColor(50, 50).red();
      QVERIFY2(std::abs(red - 200 * std::sin(height * std::numbers::pi / 180)) < 1.5, qPrintable(QString::number(red)));
    }
  }

  void nearer_paper_hides_what_lies_below_and_casts_a_shadow() {
    SpatialModel both = square();
    const SpatialModel small = square(10, 20);
    for (const Point3& v : small.vertices) both.vertices.push_back(v);
    for (const auto& t : small.triangles) both.triangles.push_back({t[0] + 4, t[1] + 4, t[2] + 4});
    both.colours = {"#FFFFFF", "#FF0000"};
    both.colour_of = {0, 0, 1, 1};
    StillWish wish = from_above(500);
    wish.lamp = {180, 45, 0.2, true, 0}; // from the left: the shadow lies 20 mm to the right
    const QImage p = drawn(still_png(both, wish));
    const auto at = [&](double x, double y) {
      return p.pixelColor(250 + static_cast<int>(2 * x), 250 - static_cast<int>(2 * y));
    };
    QVERIFY(at(0, 0).red() > 150 && at(0, 0).green() == 0);
    const int light = at(-30, 0).red();
    const int dark = at(20, 0).red();
    QVERIFY2(std::abs(light - 255 * (0.2 + 0.8 * std::sqrt(0.5))) < 3, qPrintable(QString::number(light)));
    QVERIFY2(std::abs(dark - 255 * 0.2) < 3, qPrintable(QString::number(dark)));
    QCOMPARE(at(20, 15).red(), light);
    QCOMPARE(at(35, 0).red(), light);
    // The higher the lamp, the nearer the shadow.
    wish.lamp.height_deg = 80;
    QVERIFY(drawn(still_png(both, wish)).pixelColor(290, 250).red() > light);
  }

  void a_spot_fades_by_the_square_and_ends_at_its_rim() {
    Lamp lamp;
    lamp.height_deg = 90;
    lamp.spread_deg = 40;
    const Lit lit{Point3::Zero(), 100}; // the lamp stands at 80
    QVERIFY(std::abs(light_at(lamp, lit, Point3::Zero()).second - 1) < 1e-12);
    QCOMPARE(light_at(lamp, lit, {60, 0, 0}).second, 0.0);
    // Twice as far away comes a quarter.
    QVERIFY(std::abs(light_at(lamp, lit, {0, 0, -80}).second - 0.25) < 1e-12);
    lamp.spread_deg = 0;
    QCOMPARE(light_at(lamp, lit, {60, 0, 0}).second, 1.0);
  }

  void lines_are_hidden_by_paper() {
    SpatialModel both = square();
    both.vertices.push_back({-80, 0, -10});
    both.vertices.push_back({80, 0, -10});
    StillWish wish = from_above();
    wish.lines = {{4, 5, "#000000"}};
    const QImage p = drawn(still_png(both, wish));
    QCOMPARE(p.pixelColor(50, 50), QColor("#C86432"));
    const bool there = p.pixelColor(24, 49).alpha() > 0 || p.pixelColor(24, 50).alpha() > 0;
    QVERIFY(there);
  }

  void a_sweep_holds_twelve_pictures_with_words() {
    StillWish wish = from_above(300);
    wish.lamp.height_deg = 30;
    SpatialModel ridge = square();
    ridge.vertices[0].z() = ridge.vertices[3].z() = 40;
    const QImage p = drawn(lamp_sweep_png(ridge, wish, {std::string(UC_SOURCE_DIR "/data/fonts")}));
    QCOMPARE(p.size(), QSize(300 * sweep_across, 300 * sweep_rows));
    QCOMPARE(p.pixelColor(1, 298), QColor(Qt::white));
    int dark = 0;
    for (int y = 0; y < 30; ++y)
      for (int x = 0; x < 300; ++x) dark += p.pixelColor(x, y).lightness() < 128;
    QVERIFY(dark > 50); // the words over the first
  }

  void what_cannot_be_drawn_says_why() {
    SpatialModel broken = square();
    broken.vertices[1].x() = std::nan("");
    QVERIFY(still_png(broken, from_above()).error().find("not a number") != std::string::npos);
    QVERIFY(still_png(square(), from_above(5)).error().find("16 to") != std::string::npos);
    QVERIFY(still_png({}, from_above()).error().find("nothing") != std::string::npos);
    // Triangles that have no area leave no trace.
    SpatialModel flat = square(0);
    QVERIFY(drawn(still_png(flat, from_above())).pixelColor(50, 50).alpha() == 0);
  }

private:
  static QRect covered_box(const QImage& p) {
    QRect out;
    for (int y = 0; y < p.height(); ++y)
      for (int x = 0; x < p.width(); ++x)
        if (p.pixelColor(x, y).alpha() > 127) out |= QRect(x, y, 1, 1);
    return out;
  }
};

UC_TEST(StillTest)
#include "still_test.moc"
