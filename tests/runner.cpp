#include "runner.h"

#ifdef UC_WINDOW
#include "app/watchdog.h"
#else
#include <QCoreApplication>
#endif
#include <QTest>

#include <cstdio>
#include <filesystem>
#include <memory>

namespace uc::testing {

std::vector<TestFile>& test_files() {
  static std::vector<TestFile> all;
  return all;
}

AddedTest::AddedTest(std::string file, QObject* (*make)()) {
  test_files().push_back({std::filesystem::path(std::move(file)).stem().string(), make});
}

} // namespace uc::testing

int main(int argc, char** argv) {
#ifdef UC_WINDOW
  const uc::testing::WatchedApplication app(argc, argv);
#else
  const QCoreApplication app(argc, argv);
#endif
  for (const auto& test : uc::testing::test_files()) {
    if (argc < 2 || test.name != argv[1]) continue;
    argv[1] = argv[0];
    return QTest::qExec(std::unique_ptr<QObject>(test.make()).get(), argc - 1, argv + 1);
  }
  std::fprintf(stderr, "usage: %s TEST [arguments of Qt Test]\nTEST is one of", argv[0]);
  for (const auto& test : uc::testing::test_files()) std::fprintf(stderr, " %s", test.name.c_str());
  std::fprintf(stderr, "\n");
  return 2;
}
