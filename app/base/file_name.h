// Names of files as the window keeps them. The file system has bytes, which need not be UTF-8; a byte that belongs to
// no character stands in the QString as a lone surrogate, so that a name read is the name written.
#pragma once

#include <QString>

#include <string>

namespace uc::app {

std::string bytes_of(const QString& name);
QString name_of_bytes(const std::string& bytes);
/// The name as it may be shown, without control characters.
QString shown_name(const QString& name);
/// Text from a file as it may be shown: on one line, without control characters.
QString shown(const QString& text);
QString shown(const std::string& text);

} // namespace uc::app
