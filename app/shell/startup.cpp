#include "shell/startup.h"

#include <QSettings>

#include <chrono>
#include <cstdlib>
#include <thread>

namespace uc::app {

void greet(MainWindow& window, const Workspace& workspace, const QString& trouble) {
  window.offer_recovery();
  window.notify(workspace.folder_sentence(), {}, "folder");
  window.notify(trouble, {}, "demo");
}

void end_soon(int code) {
  constexpr std::chrono::milliseconds patience{550};
  QSettings().sync();
  std::thread([code, patience] {
    std::this_thread::sleep_for(patience);
    std::_Exit(code);
  }).detach();
}

} // namespace uc::app
