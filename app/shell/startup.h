// What a starting window must tell first: trouble with the demo, a second program on the same data, work to recover.
#pragma once

#include "shell/main_window.h"

#include <QLockFile>

namespace uc::app {

/// Held for as long as the program uses a data folder.
class DataFolderLock {
public:
  explicit DataFolderLock(const QString& folder);
  /// False when another program holds the same folder.
  [[nodiscard]] bool is_alone() const { return alone_; }

private:
  QLockFile lock_;
  bool alone_;
};

/// Shows the one notice that matters most. Recovery is offered only to a program that is alone, since the copies may
/// belong to the other.
void greet(MainWindow& window, const DataFolderLock& lock, const QString& trouble);

} // namespace uc::app
