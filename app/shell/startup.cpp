#include "shell/startup.h"

#include <QCoreApplication>
#include <QDir>

namespace uc::app {
namespace {

QString lock_name(const QString& folder) {
  QDir().mkpath(folder);
  return folder + "/instance.lock";
}

} // namespace

DataFolderLock::DataFolderLock(const QString& folder) : lock_(lock_name(folder)), alone_(lock_.tryLock(0)) {}

void greet(MainWindow& window, const DataFolderLock& lock, const QString& trouble) {
  if (!trouble.isEmpty())
    window.notify(trouble);
  else if (!lock.is_alone())
    window.notify(QCoreApplication::translate(
        "main", "Another Under Crease is open. Both write to the same log; save projects under different names."));
  if (lock.is_alone()) window.offer_recovery();
}

} // namespace uc::app
