#include "base/file_stamp.h"

#include <sys/stat.h>

namespace uc {

std::optional<FileStamp> file_stamp(const std::string& path) {
  struct stat there {};
  if (::stat(path.c_str(), &there) != 0) return std::nullopt;
  return FileStamp{there.st_dev, there.st_ino, there.st_size,
                   std::int64_t{there.st_mtim.tv_sec} * 1'000'000'000 + there.st_mtim.tv_nsec};
}

bool same_file(const std::string& a, const std::string& b) {
  const auto first = file_stamp(a);
  const auto second = file_stamp(b);
  return first && second && first->same_file(*second);
}

} // namespace uc
