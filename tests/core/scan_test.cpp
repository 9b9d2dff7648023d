// Scans: sheets folded by a hand that errs are drawn as a scanner sees them and measured again; the creases' true
// places are known. Drawing and reading share the form of a crease and of the print-out, and nothing else.
#include "runner.h"

#include "device/scan_maker.h"
#include "device/scan_reader.h"
#include "io/grey_png.h"
#include "io/scan_page.h"
#include "pattern/family.h"

#include <algorithm>
#include <cmath>
#include <map>

using namespace uc;

namespace {

struct Tally {
  int lines = 0;
  int near = 0; // within 0.1 mm
  int covered = 0;
  int doubtful = 0;
  int missing = 0;
  int unmarked = 0; // off by over 0.3 mm without a word
  double worst = 0;
};

void compare(const ScanReading& reading, const std::vector<ScanLine>& truth, Tally& tally) {
  std::map<std::pair<std::string, int>, double> at;
  for (const ScanLine& l : truth) at[{l.axis, l.line}] = l.position_mm;
  for (const ReadLine& l : reading.lines) {
    const double off = std::abs(l.position_mm - at.at({l.line.axis, l.line.line}));
    ++tally.lines;
    tally.near += off <= 0.1;
    tally.covered += off <= 1.96 * l.sigma_mm;
    tally.doubtful += l.doubtful;
    tally.unmarked += off > 0.3 && !l.doubtful;
    tally.worst = std::max(tally.worst, off);
  }
  tally.missing += static_cast<int>(reading.missing.size());
}

GreyImage turned_round(const GreyImage& image) {
  GreyImage out = image;
  std::reverse(out.pixels.begin(), out.pixels.end());
  return out;
}

} // namespace

class ScanTest : public QObject {
  Q_OBJECT

  Sheet sheet_ = Sheet::square(Millimetres{80});
  Polygon outline_ = sheet_.outline();
  std::vector<ScanLine> grid_ = scan_lines({80, 80}, 8, GridAxis::both);

  GreyImage scan(const ScanMaking& making, std::vector<ScanLine>* truth = nullptr) {
    const auto folded = folded_grid(grid_, 8, 0.25, making.seed);
    if (truth) *truth = folded;
    return made_scan(outline_, folded, making).value();
  }

private slots:
  void lines_are_measured_and_their_error_is_known_data() {
    QTest::addColumn<double>("perspective");
    QTest::addColumn<double>("within"); // mm
    QTest::newRow("scanner") << 0.0 << 0.1;
    QTest::newRow("photo") << 8.0 << 0.2;
  }
  void lines_are_measured_and_their_error_is_known() {
    QFETCH(double, perspective);
    QFETCH(double, within);
    Tally tally;
#ifdef UC_SANITIZED
    constexpr std::uint64_t scans = 2;
#else
    constexpr std::uint64_t scans = 10;
#endif
    for (std::uint64_t seed = 1; seed <= scans; ++seed) {
      ScanMaking making;
      making.skew_deg = 2;
      making.light_pct = 30;
      making.perspective_pct = perspective;
      making.seed = seed;
      std::vector<ScanLine> truth;
      const GreyImage image = scan(making, &truth);
      const auto reading = read_scan(image, outline_, grid_);
      QVERIFY2(reading.ok(), reading ? "" : reading.error().c_str());
      compare(*reading, truth, tally);
      QVERIFY(std::abs(reading->sheet_mm.x() - 80) < 0.05 && std::abs(reading->sheet_mm.y() - 80) < 0.05);
    }
    qInfo("%d lines: %.1f %% within 0.1 mm (bound 95), worst %.3f mm, stated error covers %.1f %% (bound 93 to 97), %d "
          "doubtful, %d missing",
          tally.lines, 100.0 * tally.near / tally.lines, tally.worst, 100.0 * tally.covered / tally.lines,
          tally.doubtful, tally.missing);
    QVERIFY(tally.near >= 0.95 * tally.lines && tally.worst <= within);
    QCOMPARE(tally.unmarked, 0);
    QVERIFY(tally.missing + tally.doubtful <= 2);
    // 140 lines: the share has a standard error of 1.8 %, 28 lines one of 4 %.
    QVERIFY(tally.covered >= (scans > 2 ? 0.89 : 0.8) * tally.lines);
    QVERIFY(scans == 2 || tally.covered <= 0.995 * tally.lines);
  }

  void a_picture_may_lie_any_way_round() {
    ScanMaking making;
    making.skew_deg = 4;
    std::vector<ScanLine> truth;
    const GreyImage image = scan(making, &truth);
    const auto upright = read_scan(image, outline_, grid_);
    const auto upside_down = read_scan(turned_round(image), outline_, grid_);
    QVERIFY(upright.ok() && upside_down.ok());
    Tally tally;
    compare(*upside_down, truth, tally);
    QCOMPARE(tally.near, static_cast<int>(truth.size()));
  }

  void lines_of_a_pattern_are_found() {
    const CreasePattern pattern = drawn_pattern(family_design("triangle-row", {}), sheet_.outline()).healed.pattern;
    const auto lines = scan_lines(pattern, outline_);
    QVERIFY(lines.size() > 4);
    const auto folded = with_errors(lines, 0.2, 5);
    ScanMaking making;
    const auto image = made_scan(outline_, folded, making);
    const auto reading = read_scan(*image, outline_, lines);
    QVERIFY2(reading.ok(), reading ? "" : reading.error().c_str());
    Tally tally;
    compare(*reading, folded, tally);
    QVERIFY(tally.lines >= static_cast<int>(0.9 * static_cast<double>(lines.size())));
    QVERIFY(tally.near >= 0.9 * tally.lines);
    QCOMPARE(tally.unmarked, 0);
  }

  void crowded_lines_are_left_to_the_hand() {
    const Polygon small = Sheet::square(Millimetres{60}).outline();
    const auto lines = scan_lines({60, 60}, 64, GridAxis::x); // a line a millimetre, a hand of a quarter
    Tally tally;
    const auto folded = folded_grid(lines, 64, 0.25, 3);
    const auto image = made_scan(small, folded, {});
    const auto reading = read_scan(*image, small, lines);
    QVERIFY2(reading.ok(), reading ? "" : reading.error().c_str());
    compare(*reading, folded, tally);
    QCOMPARE(tally.unmarked, 0);
    QVERIFY(tally.doubtful > 0);
  }

  void what_cannot_be_measured_is_said() {
    ScanMaking making;
    making.texture_pct = 0;
    const GreyImage good = scan(making);
    const auto says = [&](const Result<ScanReading>& r, const char* words) {
      return !r && r.error().find(words) != std::string::npos;
    };
    GreyImage bare = good;
    std::fill(bare.pixels.begin(), bare.pixels.end(), std::uint8_t{200});
    QVERIFY(says(read_scan(bare, outline_, grid_), "0 of the eight ring marks are seen"));
    // A corner cut off.
    GreyImage cut = good;
    for (int y = 0; y < cut.height / 4; ++y) {
      for (int x = 0; x < cut.width / 4; ++x)
        cut.pixels[static_cast<std::size_t>(y) * static_cast<std::size_t>(cut.width) + static_cast<std::size_t>(x)] =
            220;
    }
    QVERIFY(!read_scan(cut, outline_, grid_));
    const auto other = Sheet::rectangle(Millimetres{80}, Millimetres{120}).outline();
    QVERIFY(says(read_scan(good, other, scan_lines({80, 120}, 8, GridAxis::both)), "--sheet"));
    const auto larger = Sheet::square(Millimetres{95}).outline();
    QVERIFY(says(read_scan(good, larger, scan_lines({95, 95}, 8, GridAxis::both)), "--sheet"));
    making.blur_mm = 1;
    QVERIFY(says(read_scan(scan(making), outline_, grid_), "sharper"));
    making.blur_mm = 0.7;
    QVERIFY(!read_scan(scan(making), outline_, grid_));
    making.blur_mm = 0.05;
    making.dpi = 90;
    QVERIFY(says(read_scan(scan(making), outline_, grid_), "dots an inch"));
    // A print-out without a sheet, and a sheet without creases.
    making.dpi = 200;
    making.paper = 0.5;
    QVERIFY(!read_scan(made_scan(outline_, {}, making).value(), outline_, grid_));
    making.paper = 0.86;
    making.noise_pct = 0;
    QVERIFY(says(read_scan(made_scan(outline_, {}, making).value(), outline_, grid_), "No crease is seen"));
    making.dpi = 2400;
    const auto huge = Sheet::square(Millimetres{1000}).outline();
    QVERIFY(!made_scan(huge, {}, making));
  }

  void pictures_come_back_from_png() {
    const GreyImage image = scan({});
    const auto bytes = grey_png(image);
    QVERIFY(bytes.ok());
    const auto again = parse_grey_png(*bytes);
    QVERIFY(again.ok());
    QVERIFY(again->width == image.width && again->height == image.height && again->pixels == image.pixels);
    QVERIFY(!parse_grey_png("not a picture at all, only some words"));
    QVERIFY(!parse_grey_png(bytes->substr(0, bytes->size() / 2)));
    std::string huge = *bytes;
    huge[16] = huge[20] = 0x7f;
    QVERIFY(parse_grey_png(huge).error().find("too many") != std::string::npos);
  }

  void the_print_out_is_the_frame() {
    // Marks at true size where the frame has them, and the band about the sheet's edge.
    const ScanFrame frame = scan_frame(outline_);
    const Page page = scan_page(frame);
    QVERIFY(std::abs(page.width_mm - frame.page.x()) < 1e-9 && std::abs(page.height_mm - frame.page.y()) < 1e-9);
    int rings = 0;
    for (const auto& item : page.items) {
      const auto* path = std::get_if<PagePath>(&item);
      if (!path || !path->closed) continue;
      const Box box = bounding_box(path->points);
      if (std::abs(box.size().x() - 2 * mark_ring_mm) > 0.01) continue;
      const Point up{box.centre().x(), page.height_mm - box.centre().y()};
      rings +=
          std::any_of(frame.marks.begin(), frame.marks.end(), [&](const Point& m) { return (m - up).norm() < 0.01; });
    }
    QCOMPARE(rings, 8);
  }
};

UC_TEST(ScanTest)
#include "scan_test.moc"
