// What a starting window must tell first: trouble with the demo, the state of the data folder, work to recover.
#pragma once

#include "shell/main_window.h"

namespace uc::app {

/// Each gets a notice of its own. Recovery is offered in every window: a copy that another one holds is not listed.
void greet(MainWindow& window, const Workspace& workspace, const QString& trouble);

/// Called when the last window has closed: the process ends with `code` within a second, whatever long work in the
/// background has not heard of it yet. That work holds nothing that could be lost.
void end_soon(int code);

} // namespace uc::app
