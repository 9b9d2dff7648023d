#include "device/caliper.h"

#include "base/clean_text.h"
#include "base/expression.h"
#include "base/quantity.h"

#include <fmt/format.h>

#include <cmath>
#include <cstdlib>
#include <cstring>
#include <fcntl.h>
#include <termios.h>
#include <unistd.h>
#include <utility>

namespace uc {

Result<double> caliper_reading(std::string_view line) {
  std::string text(line);
  while (!text.empty() && std::isspace(static_cast<unsigned char>(text.back()))) text.pop_back();
  while (!text.empty() && (std::isspace(static_cast<unsigned char>(text.front())) || text.front() == '+'))
    text.erase(text.begin());
  const auto read = parse_length(text);
  if (!read)
    return Error{
        fmt::format("The caliper sent \"{}\", which is not a length; measure again.", clipped(shown_text(line), 40))};
  if (!(std::abs(read->value) <= greatest_reading_mm))
    return Error{
        fmt::format("The caliper sent {} mm, more than a metre; measure again.", format_number(read->value, 2))};
  return read->value;
}

std::string caliper_line(double mm) { return fmt::format("{:.2f} mm", std::round(100 * mm) / 100 + 0.0); }

Result<CaliperLine> CaliperLine::open() {
  CaliperLine line;
  line.device_ = posix_openpt(O_RDWR | O_NOCTTY | O_NONBLOCK | O_CLOEXEC);
  if (line.device_ < 0 || grantpt(line.device_) != 0 || unlockpt(line.device_) != 0)
    return Error{fmt::format("No pseudo-terminal can be opened: {}.", std::strerror(errno))};
  char name[64] = {};
  if (ptsname_r(line.device_, name, sizeof name) != 0)
    return Error{fmt::format("The pseudo-terminal has no name: {}.", std::strerror(errno))};
  line.name_ = name;
  line.terminal_ = ::open(name, O_RDWR | O_NOCTTY | O_CLOEXEC);
  if (line.terminal_ < 0) return Error{fmt::format("{} cannot be opened: {}.", name, std::strerror(errno))};
  termios how{};
  if (tcgetattr(line.terminal_, &how) == 0) {
    cfmakeraw(&how);
    tcsetattr(line.terminal_, TCSANOW, &how);
  }
  return line;
}

CaliperLine::CaliperLine(CaliperLine&& other) noexcept
    : device_(std::exchange(other.device_, -1)), terminal_(std::exchange(other.terminal_, -1)),
      name_(std::move(other.name_)) {}

CaliperLine::~CaliperLine() {
  if (terminal_ >= 0) close(terminal_);
  if (device_ >= 0) close(device_);
}

bool CaliperLine::send(double mm) const {
  const std::string bytes = caliper_line(mm) + "\r\n";
  return write(device_, bytes.data(), bytes.size()) == static_cast<ssize_t>(bytes.size());
}

} // namespace uc
