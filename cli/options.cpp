// What commands share in reading options and in waiting for long work.
#include "command.h"

#include "base/expression.h"

#include <fmt/format.h>

#include <charconv>
#include <chrono>
#include <csignal>
#include <future>
#include <iostream>

#include <unistd.h>

namespace uc::cli {

double length_option(const std::string& name, const std::string& text) {
  const auto length = parse_length(text);
  if (!length) throw CallError{fmt::format("{}: {}", name, length.error())};
  return length->value;
}

int whole_option(const std::string& name, const std::string& text, int least, int greatest) {
  int value = 0;
  const auto [end, code] = std::from_chars(text.data(), text.data() + text.size(), value);
  if (code != std::errc() || end != text.data() + text.size()) {
    throw CallError{
        fmt::format("{}: \"{}\" is no whole number; type a count from {} to {}", name, text, least, greatest)};
  }
  if (value < least || value > greatest)
    throw CallError{fmt::format("{}: {} cannot be used; type a count from {} to {}", name, value, least, greatest)};
  return value;
}

Sheet sheet_option(const std::string& text) {
  const auto sheet = parse_sheet(text);
  if (!sheet) throw CallError{"--sheet: " + sheet.error()};
  return *sheet;
}

namespace {
volatile std::sig_atomic_t interrupted = 0;
} // namespace

void with_progress(const std::string& what, const std::function<void(Progress&)>& work) {
  interrupted = 0;
  const auto before = std::signal(SIGINT, [](int) { interrupted = 1; });
  const bool shown = isatty(STDERR_FILENO) != 0;
  Progress progress;
  auto done = std::async(std::launch::async, [&] { work(progress); });
  bool printed = false;
  while (done.wait_for(std::chrono::milliseconds(100)) != std::future_status::ready) {
    if (interrupted) progress.cancel();
    if (shown) std::cerr << fmt::format("\r{} {:3.0f} %", what, 100 * progress.fraction()) << std::flush;
    printed = shown;
  }
  if (printed) std::cerr << "\r" << std::string(what.size() + 8, ' ') << "\r" << std::flush;
  std::signal(SIGINT, before);
  done.get();
}

} // namespace uc::cli
