// Calipers that send what they read as text, one reading a line, and a stand-in for one behind a pseudo-terminal: what
// reads it cannot tell it from a real one on a serial line.
#pragma once

#include "base/result.h"

#include <string>
#include <string_view>

namespace uc {

/// Reads a line such as "59.87", "+59.87 mm" or "2.3571 in"; mm. Fails, saying why, for anything else: half a line, two
/// numbers, more than a metre.
Result<double> caliper_reading(std::string_view line);
constexpr double greatest_reading_mm = 1000;

/// The line a caliper with a hundredth of a mm on its display sends, without its end.
std::string caliper_line(double mm);

/// A pseudo-terminal as calipers use a line: raw, 8 bits, nothing echoed.
class CaliperLine {
public:
  static Result<CaliperLine> open();
  ~CaliperLine();
  CaliperLine(CaliperLine&& other) noexcept;
  CaliperLine& operator=(CaliperLine&&) = delete;
  CaliperLine(const CaliperLine&) = delete;
  CaliperLine& operator=(const CaliperLine&) = delete;

  /// What a reader opens, such as /dev/pts/3.
  [[nodiscard]] const std::string& name() const { return name_; }
  /// Sends a reading. Where nobody reads and the line is full, the reading is dropped, as on a serial line: false.
  bool send(double mm) const;

private:
  CaliperLine() = default;
  int device_ = -1;
  int terminal_ = -1; // kept open, so that readers may come and go
  std::string name_;
};

} // namespace uc
