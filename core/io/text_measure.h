// How wide words are when they are set in the fonts that ship with the program.
#pragma once

#include "io/page.h"

#include <memory>
#include <string>
#include <vector>

namespace uc {

struct PageFonts {
  std::string folder; // where the bundled fonts lie; the system's sans and monospace fonts serve when they are missing
};

class TextMeasure {
public:
  explicit TextMeasure(const PageFonts& fonts);
  ~TextMeasure();
  TextMeasure(const TextMeasure&) = delete;
  TextMeasure& operator=(const TextMeasure&) = delete;

  [[nodiscard]] double width_mm(const std::string& words, double size_mm, bool bold = false) const;
  /// Broken into lines of at most this width; a word that is wider is broken too.
  [[nodiscard]] std::vector<std::string> wrapped(const std::string& words, double width_mm, double size_mm) const;

private:
  struct Fonts;
  std::unique_ptr<Fonts> fonts_;
};

} // namespace uc
