// Printing, print preview and export: the core's pages drawn by Qt or written by the core.
#pragma once

#include "base/workspace.h"
#include "io/page.h"
#include "programme/figure.h"

class QPrinter;
class QWidget;

namespace uc::app {

/// The setting: twelve moves a page of a hand-out in place of six.
constexpr const char* small_handouts = "small_handouts";

void print_pages(QPrinter& printer, const std::vector<Page>& pages);

void show_print_preview(Workspace& workspace, QWidget* parent);
/// A drawing at true scale, tiled over as many pages as it takes.
void show_print_preview(Workspace& workspace, const Figure& figure, const QString& title, QWidget* parent);
/// Writes what a scoring plotter needs for the project; what went wrong, or nothing.
QString score_project(Workspace& workspace, const QString& path);
void print_project(Workspace& workspace, QWidget* parent);
/// Writes the project to a file by its ending; returns the sentence to show when that fails.
QString export_project(Workspace& workspace, const QString& path);

} // namespace uc::app
