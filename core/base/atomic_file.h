// Files are replaced whole or not at all: written beside their place, flushed to the disk, then renamed over it.
#pragma once

#include "base/result.h"

#include <string>
#include <string_view>

namespace uc {

/// Fails with one sentence naming the file and the remedy (no space, read-only, folder gone).
Status write_atomically(const std::string& path, std::string_view bytes);

/// Reads a regular file of at most `limit` bytes.
Result<std::string> read_file(const std::string& path, std::size_t limit = 64u << 20);

} // namespace uc
