// Which file a name stands for and in what state: how a change by others is noticed, and how two names are found to
// mean one file.
#pragma once

#include <cstdint>
#include <optional>
#include <string>

namespace uc {

struct FileStamp {
  std::uint64_t device = 0, inode = 0;
  std::int64_t size = 0;
  std::int64_t changed_ns = 0; // modification time
  bool operator==(const FileStamp&) const = default;
  [[nodiscard]] bool same_file(const FileStamp& other) const { return device == other.device && inode == other.inode; }
};

/// The state of what a name leads to now, links followed; none when there is nothing.
std::optional<FileStamp> file_stamp(const std::string& path);

/// Whether both names lead to one file that exists.
bool same_file(const std::string& a, const std::string& b);

} // namespace uc
