// A program that folds and edits as fast as it can, and says on standard output what has been acknowledged. The crash
// test kills it, or makes its writes fail.
#include "shell/startup.h"
#include "stages/fold/run_session.h"

#include <QCoreApplication>
#include <QTimer>

#include <atomic>
#include <memory>
#include <string>
#include <unistd.h>
#include <vector>

namespace {
void say(const std::string& line) {
  const std::string out = line + "\n";
  if (::write(1, out.data(), out.size()) < 0) _exit(3);
}
} // namespace

/// Asks to quit while four workers go on for good and never look whether they are wanted.
int quit_with_stubborn_workers(QCoreApplication& app) {
  using Work = uc::app::Background<int>;
  std::vector<std::unique_ptr<Work>> all;
  for (int i = 0; i < 4; ++i) {
    all.push_back(std::make_unique<Work>([](int) {}));
    all.back()->begin([](uc::Progress&) -> int {
      for (std::atomic<long> n = 0;; ++n) {
      }
    });
  }
  QTimer::singleShot(100, &app, [] {
    say("quitting");
    QCoreApplication::quit();
  });
  const int code = QCoreApplication::exec();
  uc::app::end_soon(code + 7);
  return code + 7; // waits for the workers on the way out, as the window does
}

int main(int argc, char** argv) {
  QCoreApplication app(argc, argv);
  using namespace uc;
  if (argc > 1 && std::string(argv[1]) == "--quit-with-stubborn-workers") return quit_with_stubborn_workers(app);
  uc::app::Workspace workspace(QString::fromLocal8Bit(argv[1]));
  workspace.document.set_patience(60'000);
  uc::app::RunSession session(workspace);
  if (!session.resume_stored().isEmpty()) return 4;
  while (session.reading()) QCoreApplication::processEvents(QEventLoop::WaitForMoreEvents);
  const QString file = QString::fromLocal8Bit(argv[1]) + "/job.undercrease";
  int parts = 2;
  int rounds = 0;
  const bool limited = argc > 2; // one run, one edit and one save
  // Work that an earlier process left behind is gone on with, as the window does.
  if (const auto found = workspace.document.recoverable(); !found.empty()) {
    if (!workspace.document.recover(found.front().file).isEmpty()) return 10;
    parts = workspace.document.project().grid.parts;
    say("recovered " + std::to_string(parts));
  }
  while (true) {
    if (!session.active()) {
      if (!session.start().isEmpty()) return 5;
      say("run " + std::to_string(session.id()));
    }
    const int move = session.next_move();
    if (session.all_done()) {
      const auto id = session.id();
      if (!session.end(RunStatus::finished).isEmpty()) return 6;
      say("end " + std::to_string(id));
      parts = parts % 9 + 2;
      workspace.document.change("count", [&](Project& p) { p.grid.parts = parts; });
      if (!workspace.document.autosave().isEmpty()) return 7;
      say("parts " + std::to_string(parts));
      if (++rounds % 3 == 0 || limited) {
        if (!workspace.document.save(file).isEmpty()) return 11;
        say("saved " + std::to_string(parts));
      }
      if (limited) return 0;
      continue;
    }
    if (move % 3 == 1) {
      if (!session.note(QString("note %1").arg(move)).isEmpty()) return 8;
      say("note " + std::to_string(session.id()) + " " + std::to_string(move));
    }
    if (!session.done().isEmpty()) return 9;
    say("done " + std::to_string(session.id()) + " " + std::to_string(move));
  }
}
