// Where a file is to be written: the name with its ending is what is shown, asked about and written, and nothing that
// is there already is replaced unasked.
#pragma once

#include "io/formats.h"

#include <QString>
#include <QStringList>

class QWidget;

namespace uc::app {

/// A dialog's filters for the formats of one use: one each, or all in one, as for opening.
QString filters_for(FileUse use, bool together = false);
/// The endings of a file dialog's filters in order: "Table (*.csv);;JSON (*.json)" gives csv, json.
QStringList endings_of(const QString& filters);

/// The name as it is written: unless it has one of the endings it gets the one of the filter chosen.
QString with_ending(const QString& name, const QString& filters, const QString& chosen_filter);

/// Asks where to write; empty when the folder thinks better of it.
QString ask_where_to_write(QWidget* parent, const QString& title, const QString& proposal, const QString& filters);

/// Whether a file may be written: nothing is there, or the folder says it may be replaced.
bool may_write(QWidget* parent, const QString& path);

} // namespace uc::app
