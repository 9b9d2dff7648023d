// What commands share in reading options and in waiting for long work.
#include "command.h"

#include "base/expression.h"
#include "base/quantity.h"

#include <fmt/format.h>

#include <charconv>
#include <chrono>
#include <cstdlib>
#include <future>
#include <iostream>

#include <unistd.h>

namespace uc::cli {

double length_option(const std::string& name, const std::string& text) {
  const auto length = parse_length(text);
  if (!length) throw CallError{fmt::format("{}: {}", name, length.error())};
  return length->value;
}

double length_option(const std::string& name, const std::string& text, double least_mm, double greatest_mm) {
  const double mm = length_option(name, text);
  if (mm >= least_mm && mm <= greatest_mm) return mm;
  throw CallError{fmt::format("{} {}: type a length from {} mm to {} m", name, text, format_number(least_mm, 3),
                              format_number(greatest_mm / 1000, 3))};
}

void refuse_misplaced(const CLI::App& command, const std::vector<std::string>& options, bool in_place,
                      const std::string& why) {
  if (in_place) return;
  for (const std::string& name : options) {
    const CLI::Option* option = command.get_option_no_throw(name);
    if (option && !option->empty())
      throw CallError{
          fmt::format("{}: {}", option->get_type_size() == 0 ? name : name + " " + option->results().front(), why)};
  }
}

double number_option(const std::string& name, const std::string& text, double least, double greatest) {
  const auto value = parse_number(text);
  if (!value) throw CallError{fmt::format("{}: \"{}\" is not a number", name, text)};
  if (!(*value >= least && *value <= greatest))
    throw CallError{fmt::format("{}: {} is out of range; type {:g} to {:g}", name, text, least, greatest)};
  return *value;
}
int whole_option(const std::string& name, const std::string& text, int least, int greatest) {
  int value = 0;
  const auto [end, code] = std::from_chars(text.data(), text.data() + text.size(), value);
  if (code != std::errc() || end != text.data() + text.size()) {
    throw CallError{
        fmt::format("{}: \"{}\" is not a whole number; type a count from {} to {}", name, text, least, greatest)};
  }
  if (value < least || value > greatest)
    throw CallError{fmt::format("{}: {} cannot be used; type a count from {} to {}", name, value, least, greatest)};
  return value;
}

Stock stock_option(const std::string& text) {
  std::string names;
  for (const Stock& s : generic_stocks()) {
    if (s.name == text) return s;
    names += (names.empty() ? "" : ", ") + s.name;
  }
  throw CallError{fmt::format("--stock {}: there are {}", text, names)};
}

Sheet sheet_option(const std::string& text) {
  const auto sheet = parse_sheet(text);
  if (!sheet) throw CallError{"--sheet: " + sheet.error()};
  return *sheet;
}

namespace {

using Clock = std::chrono::steady_clock;

/// When the program began, as far as --seconds is concerned.
const Clock::time_point began = Clock::now();

/// Waits for work, showing how far it is. False when it has not ended by `end`.
bool waited_for(std::future<std::string>& work, const std::string& what, const Progress& progress,
                Clock::time_point end) {
  const bool shown = isatty(STDERR_FILENO) != 0;
  std::size_t printed = 0; // columns
  bool ended = false;
  while (!ended && Clock::now() < end) {
    const auto step = std::min<Clock::duration>(std::chrono::milliseconds(100), end - Clock::now());
    ended = work.wait_for(std::max<Clock::duration>(step, Clock::duration::zero())) == std::future_status::ready;
    if (!shown || ended) continue;
    const std::string pass = progress.pass() > 1 ? fmt::format(", attempt {}", progress.pass()) : std::string();
    const std::string line = fmt::format("{}{} {:3.0f} %", what, pass, 100 * progress.fraction());
    printed = std::max(printed, line.size());
    std::cerr << "\r" << line << std::flush;
  }
  if (printed > 0) std::cerr << "\r" << std::string(printed, ' ') << "\r" << std::flush;
  return ended;
}

} // namespace

void with_progress(const std::string& what, const std::function<void(Progress&)>& work) {
  Progress progress;
  auto ended = std::async(std::launch::async, [&] { return said_beside([&] { work(progress); }); });
  waited_for(ended, what, progress, Clock::time_point::max());
  err() << ended.get();
}

void within(double seconds, const std::string& what, const std::function<void(Progress&)>& work,
            const std::function<int()>& late) {
  Progress progress;
  const auto after = [](double s) {
    return began + std::chrono::duration_cast<Clock::duration>(std::chrono::duration<double>(s));
  };
  progress.end_by(after(seconds));
  const auto end = after(seconds + 0.1);
  auto ended = std::async(std::launch::async, [&] { return said_beside([&] { work(progress); }); });
  if (!waited_for(ended, what, progress, end)) std::_Exit(delivered(late()));
  try {
    err() << ended.get();
  } catch (const OutOfTime&) {
    std::_Exit(delivered(late()));
  }
}

} // namespace uc::cli
