// How wide words are, and how they are broken into lines, in the fonts that ship.
#include "runner.h"

#include "io/text_measure.h"

#include <QtTest>

#include <cmath>
#include <sstream>

using namespace uc;

namespace {

const std::string sentence =
    "Bring the bottom edge onto the crease at 3/8, crease, and turn the paper over before the next one.";

} // namespace

class TextMeasureTest : public QObject {
  Q_OBJECT
  const TextMeasure measure_{{std::string(UC_SOURCE_DIR "/data/fonts")}};

private slots:
  void widths_grow_with_size_and_words() {
    const double wide = measure_.width_mm(sentence, 3);
    QVERIFY(wide > 60 && wide < 240);
    for (const double size : {1.5, 6.0, 12.0})
      QVERIFY(std::abs(measure_.width_mm(sentence, size) - wide * size / 3) < 0.01 * wide * size / 3);
    QCOMPARE(measure_.width_mm("", 3), 0.0);
    QVERIFY(measure_.width_mm(sentence, 3, true) > wide);
    double last = 0;
    for (std::size_t n = 1; n <= sentence.size(); ++n) {
      const double now = measure_.width_mm(sentence.substr(0, n), 3);
      QVERIFY(now > last - 0.3); // pairs of letters may be set closer
      last = now;
    }
    // Figures stand under one another.
    for (char c = '0'; c <= '9'; ++c) QVERIFY(measure_.width_mm(std::string(3, c), 3) > 2);
  }

  void lines_keep_to_their_width_and_lose_nothing() {
    for (const double width : {22.0, 35.0, 60.0, 110.0, 500.0}) {
      const auto lines = measure_.wrapped(sentence, width, 3);
      QVERIFY(!lines.empty());
      std::string together;
      for (const std::string& line : lines) {
        QVERIFY2(measure_.width_mm(line, 3) <= width + 0.05, line.c_str());
        QVERIFY(line.front() != ' ' && line.back() != ' ');
        together += (together.empty() ? "" : " ") + line;
      }
      QCOMPARE(together, sentence);
      // No word that would have fitted stands on the next line.
      for (std::size_t i = 0; i + 1 < lines.size(); ++i) {
        std::string word;
        std::istringstream(lines[i + 1]) >> word;
        QVERIFY(measure_.width_mm(lines[i] + " " + word, 3) > width - 0.05);
      }
    }
    QCOMPARE(measure_.wrapped(sentence, 500, 3).size(), std::size_t{1});
    QVERIFY(measure_.wrapped("", 50, 3).empty());
  }

  void words_that_are_too_long_are_broken() {
    const std::string word(80, 'm');
    const auto lines = measure_.wrapped(word, 30, 3);
    QVERIFY(lines.size() > 3);
    std::string together;
    for (const std::string& line : lines) {
      QVERIFY(measure_.width_mm(line, 3) <= 30.05);
      together += line;
    }
    QCOMPARE(together, word);
  }

  void lines_that_are_given_are_kept() {
    const auto lines = measure_.wrapped("one\ntwo three", 200, 3);
    QCOMPARE(lines, (std::vector<std::string>{"one", "two three"}));
  }

  void what_is_not_text_does_no_harm() {
    for (const std::string& bytes : {std::string("\xff\xfe"), std::string("a\xc3"), std::string("\xe2\x82")})
      for (const std::string& line : measure_.wrapped(bytes, 30, 3)) QVERIFY(measure_.width_mm(line, 3) < 40);
  }
};

UC_TEST(TextMeasureTest)
#include "text_measure_test.moc"
