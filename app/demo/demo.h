// The demo: the observatory's project, shelf and log, and the pictures made from them.
#pragma once

#include <QString>

namespace uc::app {

class MainWindow;
class Workspace;

/// Fills a data folder with the demo project, shelf and log where they are missing. Returns a sentence on failure.
QString prepare_demo(const QString& folder);
/// One PNG of 1280x800 per main view.
QString write_pictures(MainWindow& window, Workspace& workspace, const QString& folder);

} // namespace uc::app
