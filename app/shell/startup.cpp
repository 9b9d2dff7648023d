#include "shell/startup.h"

#include <QThreadPool>

#include <cstdlib>

namespace uc::app {

void greet(MainWindow& window, const Workspace& workspace, const QString& trouble) {
  window.offer_recovery();
  window.notify(workspace.folder_sentence(), {}, "folder");
  window.notify(trouble, {}, "demo");
}

void leave(int code) {
  constexpr int patience_ms = 500;
  QThreadPool::globalInstance()->clear();
  if (QThreadPool::globalInstance()->waitForDone(patience_ms)) std::exit(code);
  std::_Exit(code); // work that has not heard of it yet holds nothing that could be lost
}

} // namespace uc::app
