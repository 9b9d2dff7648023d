// Lengths, sheets and lists as folders type them.
#include "runner.h"
#include "support.h"

#include "base/expression.h"
#include "divide/typed.h"
#include "paper/sheet.h"

using namespace uc;
using uc::testing::near;

class TextInputTest : public QObject {
  Q_OBJECT
private slots:
  void lengths_data() { testing::add_rows(testing::cases("lengths.json")); }
  void lengths() {
    const Json c = testing::row();
    const auto length = parse_length(c["text"].get<std::string>(), named<LengthUnit>(c.value("unit", "mm")).value());
    if (c.contains("error")) {
      QVERIFY(!length);
      QVERIFY2(length.error().find(c["error"]) != std::string::npos, length.error().c_str());
      QVERIFY(length.error().find('\n') == std::string::npos);
      return;
    }
    QVERIFY2(length.ok(), length ? "" : length.error().c_str());
    QVERIFY(near(length->value, c["mm"], 1e-9));
  }

  void angles() {
    for (const char* text : {"57", "57°", "57 deg", "57degrees", " 57 degree ", "114°/2", "(28.5+28.5) deg"}) {
      const auto a = parse_degrees(text);
      QVERIFY2(a && std::abs(*a - 57) < 1e-12, text);
    }
    for (const char* text : {"", "°", "57 mm", "57 dog", "57°°", "deg 57 rad"}) {
      const auto a = parse_degrees(text);
      QVERIFY2(!a && a.error().find(text) != std::string::npos, text);
    }
  }

  void sheets_data() { testing::add_rows(testing::cases("sheets.json")); }
  void sheets() {
    const Json c = testing::row();
    const auto sheet = parse_sheet(c["text"].get<std::string>());
    if (c.contains("error")) {
      QVERIFY(!sheet);
      QVERIFY2(sheet.error().find(c["error"]) != std::string::npos, sheet.error().c_str());
      return;
    }
    QVERIFY2(sheet.ok(), sheet ? "" : sheet.error().c_str());
    QVERIFY(near(sheet->width(), c["width"], 1e-6));
    QVERIFY(near(sheet->height(), c["height"], 1e-6));
    QCOMPARE(sheet->outline().size(), c["corners"].get<std::size_t>());
    QCOMPARE(sheet->code(), c["code"].get<std::string>());
    const auto again = parse_sheet(sheet->code());
    QVERIFY(again.ok());
    QVERIFY(near(again->width(), sheet->width(), 1e-6) && again->shape() == sheet->shape());
    QVERIFY(signed_area(sheet->outline()) > 0);
  }

  void lengths_are_written_as_folders_read_them() {
    QCOMPARE(format_length(Millimetres{240}, LengthUnit::mm), std::string("240 mm"));
    QCOMPARE(format_length(Millimetres{12.34}, LengthUnit::cm), std::string("1.23 cm"));
    QCOMPARE(format_length(Millimetres{190.5}, LengthUnit::inch), std::string("7 1/2 in"));
    QCOMPARE(format_length(Millimetres{25.4 / 32}, LengthUnit::inch), std::string("1/32 in"));
    QCOMPARE(format_length(Millimetres{-25.4 * 1.25}, LengthUnit::inch), std::string("-1 1/4 in"));
    QCOMPARE(format_length(Millimetres{0}, LengthUnit::inch), std::string("0 in"));
    QCOMPARE(format_error(Millimetres{0.288}, LengthUnit::mm), std::string("0.29 mm"));
    QCOMPARE(format_error(Millimetres{12.71}, LengthUnit::mm), std::string("12.7 mm"));
    QCOMPARE(format_error(Millimetres{0.288}, LengthUnit::inch), std::string("0.011 in"));
    QCOMPARE(format_error(Millimetres{3e-7}, LengthUnit::mm), std::string("under 0.0001 mm"));
    QCOMPARE(format_error(Millimetres{2e-15}, LengthUnit::mm), std::string("0 mm"));
    QCOMPARE(format_number(-0.0000001, 3), std::string("0"));
  }

  void any_length_survives_being_written_in_inches() {
    for (int i = 0; i < 500; ++i) {
      const double mm = i * 1.37;
      const auto back = parse_length(format_length(Millimetres{mm}, LengthUnit::inch), LengthUnit::mm);
      QVERIFY(back.ok());
      QVERIFY(near(back->value, mm, 25.4 / 64 + 1e-9));
    }
  }

  void line_lists() {
    QCOMPARE(parse_line_list("3, 5-8", 12).value(), (std::vector<int>{3, 5, 6, 7, 8}));
    QCOMPARE(parse_line_list("8,3,3", 12).value(), (std::vector<int>{3, 8}));
    QVERIFY(parse_line_list("  ", 12).value().empty());
    QCOMPARE(format_line_list({1, 2, 3, 7}), std::string("1-3, 7"));
    for (const char* wrong : {"0", "12", "5-3", "a", "1,,2", "1-2-3"}) {
      const auto lines = parse_line_list(wrong, 12);
      QVERIFY2(!lines, wrong);
      QVERIFY(lines.error().find("line") != std::string::npos || lines.error().find("Line") != std::string::npos);
    }
  }

  void start_marks() {
    const StartMark mark = parse_start_mark("1/3:0.1", 12).value();
    QCOMPARE(mark.line, 4);
    QVERIFY(near(mark.sigma_mm, 0.1, 1e-12));
    QVERIFY(near(parse_start_mark(" 3/7 : 0.01 in", 7).value().sigma_mm, 0.254, 1e-12));
    for (const char* wrong : {"1/3", "1/5:0.1", "0/3:0.1", "3/3:0.1", "1/3:-1", "1/3:x", "x/3:0.1", "1/3:0.1:2"}) {
      QVERIFY2(!parse_start_mark(wrong, 12), wrong);
    }
  }

  void areas() {
    const auto areas = parse_areas("60,60,180,180; 1cm,0,2cm,5", LengthUnit::mm).value();
    QCOMPARE(areas.size(), std::size_t{2});
    QVERIFY(near(areas[1].low.x(), 10, 1e-12) && near(areas[1].high.y(), 5, 1e-12));
    QCOMPARE(parse_areas(format_areas(areas)).value().size(), std::size_t{2});
    QVERIFY(!parse_areas("1,2,3"));
    QVERIFY(!parse_areas("5,0,5,10"));
    QVERIFY(!parse_areas("a,0,5,10"));
  }
};

UC_TEST(TextInputTest)
#include "text_input_test.moc"
