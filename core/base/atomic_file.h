// Files are replaced whole or not at all: written beside their place, flushed to the disk, then renamed over it. Names
// are bytes, as the file system has them; they need not be UTF-8.
#pragma once

#include "base/result.h"

#include <string>
#include <string_view>

namespace uc {

/// Replaces the file, or the one a symbolic link leads to. An existing file keeps its mode and, where the system lets
/// us, its owner; a new one gets what the umask leaves of rw-rw-rw-. A device or a pipe is written to as it is. Fails
/// with one sentence naming the file and the remedy (no space, read-only, folder gone); then what was there is whole.
/// `locked`, when given, gets a descriptor of the new file, locked (flock) before it has its name.
Status write_atomically(const std::string& path, std::string_view bytes, int* locked = nullptr);

/// The same, but only where no file is yet. Fails, leaving what is there, when there is one.
Status write_new(const std::string& path, std::string_view bytes);

/// Reads a regular file of at most `limit` bytes; folders, pipes and devices are refused at once, without waiting.
Result<std::string> read_file(const std::string& path, std::size_t limit = 64u << 20);

/// Reads a pipe, a device or a regular file to its end, waiting for it; `-` stands for standard input.
Result<std::string> read_stream(const std::string& path, std::size_t limit);

} // namespace uc
