// What tests share: reading case files, and comparisons that say what they compared.
#pragma once

#include "base/atomic_file.h"
#include "io/json_codec.h"

#include <QTemporaryDir>
#include <QTest>

#include <cmath>
#include <stdexcept>
#include <string>

namespace uc::testing {

/// Sanitized builds are some ten times slower; what repeats one check over many cases runs there on few of them.
#ifdef UC_SANITIZED
constexpr bool sanitized = true;
#else
constexpr bool sanitized = false;
#endif

/// A folder for what may be worked out once for all tests: that of the run, emptied when it begins, else one of this
/// program.
inline QString cache() {
  static const QTemporaryDir own;
  return qEnvironmentVariable("UC_TEST_CACHE", own.path());
}

/// A document; throws where the text is none. Read by the core: a program that reads is built for seconds longer.
inline Json parsed(const std::string& text) {
  auto json = parse_json(text, "text");
  if (!json) throw std::runtime_error(json.error());
  return std::move(*json);
}

inline Json cases(const std::string& file) {
  const auto text = read_file(std::string(UC_TEST_DATA "/") + file);
  if (!text) qFatal("%s", text.error().c_str());
  const auto json = parse_json(*text, file);
  if (!json) qFatal("%s", json.error().c_str());
  return *json;
}

inline bool near(double a, double b, double tolerance, const char* what = "") {
  if (std::abs(a - b) <= tolerance) return true;
  qWarning("%s: %.12g is not %.12g within %g", what, a, b, tolerance);
  return false;
}

/// Runs body once per case as a named row: rows come from add_rows in the _data slot.
inline void add_rows(const Json& list) {
  QTest::addColumn<QString>("json");
  int n = 0;
  for (const Json& c : list) {
    const std::string name = c.value("name", c.value("text", "case")) + " #" + std::to_string(++n);
    QTest::newRow(name.c_str()) << QString::fromStdString(c.dump());
  }
}
inline Json row() {
  QFETCH(QString, json);
  return parsed(json.toStdString());
}

} // namespace uc::testing
