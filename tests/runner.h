// The tests of a layer are one program: each file adds its own here, and the first argument says which one runs.
#pragma once

#include <QObject>

#include <string>
#include <vector>

namespace uc::testing {

struct TestFile {
  std::string name; // of the file, without its ending
  QObject* (*make)();
};
std::vector<TestFile>& test_files();

struct AddedTest {
  AddedTest(std::string file, QObject* (*make)());
};

} // namespace uc::testing

#define UC_TEST(Class)                                                                                                 \
  static const uc::testing::AddedTest added_##Class(__FILE__, []() -> QObject* { return new Class; });
