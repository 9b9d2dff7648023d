// Whatever is typed or stored, readers answer with a value or a sentence; they never crash, hang or let a bad value in.
#include "runner.h"
#include "support.h"

#include "base/expression.h"
#include "divide/typed.h"
#include "io/json_reader.h"
#include "io/project_file.h"
#include "paper/trueness.h"
#include "reference/proportion.h"
#include "reference/recipe.h"
#include "reference/target.h"

#include <functional>
#include <random>

using namespace uc;

namespace {

std::string garbage(std::mt19937& random, const std::string& alphabet, std::size_t longest) {
  std::string text;
  const std::size_t length = random() % longest;
  for (std::size_t i = 0; i < length; ++i) text += alphabet[random() % alphabet.size()];
  return text;
}

} // namespace

class FuzzTest : public QObject {
  Q_OBJECT
private slots:
  void lengths() {
    std::mt19937 random(1);
    int good = 0;
    for (int i = 0; i < 60000; ++i) {
      const std::string text = garbage(random, "0123456789./+-*() mcinsqrt\"eax", 14);
      const auto length = parse_length(text);
      if (length) {
        ++good;
        QVERIFY2(std::isfinite(length->value), text.c_str());
      } else {
        QVERIFY(!length.error().empty() && length.error().find('\n') == std::string::npos);
      }
      const auto number = parse_number(text);
      QVERIFY(!number || std::isfinite(*number));
    }
    QVERIFY(good > 1000);
  }

  void targets() {
    std::mt19937 random(11);
    const Polygon sheets[] = {Sheet::square(Millimetres{240}).outline(), Sheet::regular(5, Millimetres{90}).outline()};
    const char* heads[] = {"bottom:", "left:", "line ", "angle ", "1/3 of ", "e2:", ""};
    int good = 0;
    for (int i = 0; i < 40000; ++i) {
      const Polygon& sheet = sheets[random() % 2];
      std::string text = heads[random() % 7];
      if (random() % 2) text += "0." + garbage(random, "0123456789", 5);
      text += garbage(random, "0123456789/.,,  at bl-nx", random() % 2 ? 16 : 3);
      const auto target = parse_target(sheet, text);
      if (!target) {
        QVERIFY(!target.error().empty() && target.error().find('\n') == std::string::npos);
        continue;
      }
      ++good;
      QVERIFY(target->point.allFinite() && target->ends.from.allFinite() && target->ends.to.allFinite());
      QVERIFY2(std::isfinite(target->degrees) && target->degrees >= 0 && target->degrees < 180, text.c_str());
      if (target->kind == Target::Kind::point) {
        const Box box = bounding_box(sheet);
        QVERIFY((target->point - box.low).minCoeff() > -1e-6 && (box.high - target->point).minCoeff() > -1e-6);
      }
    }
    QVERIFY(good > 500);
  }

  void recipes() {
    std::mt19937 random(12);
    const Polygon sheet = Sheet::square(Millimetres{240}).outline();
    const char* ops[] = {"O1", "O2", "O3", "O4", "O5", "O6", "O7", "O5/2", "O6/3", "cross", "landing", "O9"};
    const char* words[] = {"bl", "br", "tr", "tl", "bottom", "right", "top", "left", "c1", "c2", "c3", "p1", "p2"};
    int good = 0;
    for (int i = 0; i < 6000; ++i) {
      std::string text;
      const int rows = 1 + static_cast<int>(random() % 5);
      for (int k = 0; k < rows; ++k) {
        const auto which = random() % 12;
        const char* op = ops[which];
        text += (which == 9 ? "p" : "c") + std::to_string(k + 1) + " = " + op;
        // Mostly what the alignment takes: marks, then lines.
        const auto alignment = named<Alignment>(std::string(op).substr(0, 2));
        const int marks = alignment ? point_inputs(*alignment) : 0;
        const int lines = alignment ? line_inputs(*alignment) : 2;
        for (int n = 0; n < marks + lines; ++n) {
          const std::size_t from = n < marks ? 0 : 4;
          text += std::string(" ") + words[random() % 8 ? from + random() % 4 : random() % 13];
        }
        if (random() % 12 == 0) text += " left";
        text += "\n";
      }
      const auto recipe = parse_recipe(sheet, text);
      if (!recipe) {
        QVERIFY2(recipe.error().rfind("Line ", 0) == 0 && recipe.error().find('\n') == std::string::npos, text.c_str());
        continue;
      }
      ++good;
      QVERIFY(!recipe->results.empty());
      for (const ConstructionItem& item : recipe->construction.items()) {
        if (item.is_line())
          QVERIFY2(std::abs(item.line.normal.norm() - 1) < 1e-9 && std::isfinite(item.line.c), text.c_str());
        else
          QVERIFY2(item.point.allFinite(), text.c_str());
      }
      // What was made is written and read as the same.
      const auto again = parse_recipe(sheet, recipe_text(recipe->construction, recipe->results));
      QVERIFY2(again, text.c_str());
      QCOMPARE(again->construction.creases(), recipe->construction.creases());
    }
    QVERIFY2(good > 30, qPrintable(QString::number(good)));
  }

  void ratios() {
    std::mt19937 random(13);
    for (int i = 0; i < 20000; ++i) {
      const auto ratio = parse_ratio(garbage(random, "0123456789./+-*()sqrt2golden", 10));
      QVERIFY(!ratio || (*ratio >= 1 && *ratio <= 40));
    }
    QVERIFY(parse_ratio("golden") && parse_ratio("sqrt2") && parse_ratio("sqrt(2)"));
  }

  void sheets() {
    std::mt19937 random(2);
    int good = 0;
    const char* heads[] = {"square:", "strip:", "ngon:", "", "rect:", "a"};
    for (int i = 0; i < 30000; ++i) {
      const std::string text = heads[random() % 6] + garbage(random, "0123456789x:mc./ in", 12);
      const auto sheet = parse_sheet(text);
      if (!sheet) {
        QVERIFY(!sheet.error().empty());
        continue;
      }
      ++good;
      QVERIFY2(sheet->width() >= 1 - 1e-9, text.c_str());
      QVERIFY(signed_area(sheet->outline()) > 0);
      QVERIFY(parse_sheet(sheet->code()).ok());
    }
    QVERIFY(good > 500);
  }

  void lists_marks_and_areas() {
    std::mt19937 random(3);
    for (int i = 0; i < 30000; ++i) {
      const std::string text = garbage(random, "0123456789,-/: ;mc", 12);
      const auto lines = parse_line_list(text, 12);
      if (lines) {
        for (const int k : *lines) QVERIFY(k >= 1 && k <= 11);
        QVERIFY(parse_line_list(format_line_list(*lines), 12).value() == *lines);
      }
      const auto mark = parse_start_mark(text, 12);
      if (mark) QVERIFY(mark->line >= 1 && mark->line <= 11 && mark->sigma_mm >= 0);
      const auto areas = parse_areas(text);
      if (areas) {
        for (const Box& b : *areas) QVERIFY(b.size().x() > 0 && b.size().y() > 0);
      }
    }
  }

  void trueness_figures() {
    std::mt19937 random(4);
    std::uniform_real_distribution<double> u(0.5, 500);
    int good = 0;
    for (int i = 0; i < 4000; ++i) {
      const double a = u(random);
      const auto around = [&] { return i % 2 == 0 ? u(random) : a * (1 + 0.01 * (u(random) / 250 - 1)); };
      const TruenessMeasure m{a, around(), around(), around(), around() * 1.414, around() * 1.414};
      const auto fit = fit_trueness(m);
      if (!fit) {
        QVERIFY(!fit.error().empty());
        continue;
      }
      ++good;
      for (const Point& p : fit->corners) QVERIFY(std::isfinite(p.x()) && std::isfinite(p.y()));
      QVERIFY(std::isfinite(fit->out_of_square_deg) && fit->residual_mm >= 0);
    }
    QVERIFY(good > 100);
  }

  void project_values_of_every_wrong_type() {
    const Json good =
        testing::parsed(read_file(std::string(UC_SOURCE_DIR "/data/demo/open-night.undercrease")).value());
    const Json wrongs[] = {
        nullptr, true, -1, 1e300, "text", Json::array(), Json::object(), Json::array({1, "x", nullptr})};
    int loaded = 0;
    int refused = 0;
    const std::function<void(const Json::json_pointer&)> visit = [&](const Json::json_pointer& at) {
      for (const Json& wrong : wrongs) {
        Json bad = good;
        bad[at] = wrong;
        const auto p = project_from_text(bad.dump(), "job");
        if (p) {
          ++loaded;
          QVERIFY(project_from_text(project_text(*p), "again").ok());
        } else {
          ++refused;
          QVERIFY(!p.error().empty() && p.error().find('\n') == std::string::npos);
        }
      }
      if (good[at].is_structured()) {
        for (const auto& [key, value] : good[at].items()) {
          visit(good[at].is_array() ? at / std::stoul(key) : at / key);
        }
      }
    };
    for (const auto& [key, value] : good.items()) visit(Json::json_pointer("/" + key));
    QVERIFY(loaded > 20 && refused > 100);
  }

  void runs_of_every_wrong_type() {
    const Json good = {{"title", "x"},
                       {"measured", {{{"family", "x"}, {"line", 1}, {"position_mm", 2.0}, {"expected_mm", 2.0}}}},
                       {"events", {{{"kind", "done"}, {"move", 1}}}}};
    QCOMPARE(run_detail_from(JsonReader(good)).events.size(), std::size_t{1});
    for (const char* path : {"/title", "/measured/0/line", "/measured/0/position_mm", "/events/0/move"}) {
      Json bad = good;
      bad[Json::json_pointer(path)] = Json::array();
      QVERIFY_THROWS_EXCEPTION(FieldError, run_detail_from(JsonReader(bad)));
    }
    RunDetail broken;
    broken.plans_json = "{";
    QVERIFY(!measured_families(broken));
    broken.plans_json = "[]";
    QVERIFY(measured_families(broken)->empty());
  }
};

UC_TEST(FuzzTest)
#include "fuzz_test.moc"
