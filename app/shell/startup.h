// What a starting window must tell first: trouble with the demo, the state of the data folder, work to recover.
#pragma once

#include "shell/main_window.h"

namespace uc::app {

/// Each gets a notice of its own. Recovery is offered in every window: a copy that another one holds is not listed.
void greet(MainWindow& window, const Workspace& workspace, const QString& trouble);

/// Ends long work that is still going on in the background and waits for it; what has not ended within half a second
/// is left, and the process ends with `code` all the same.
[[noreturn]] void leave(int code);

} // namespace uc::app
