#include "base/memory.h"

#include <algorithm>
#include <fstream>
#include <limits>
#include <string>

namespace uc {
namespace {

constexpr std::size_t none = std::numeric_limits<std::size_t>::max();

/// The number a file of the kernel begins with; `none` for "max" and where there is no such file.
std::size_t number_in(const char* path) {
  std::ifstream in(path);
  std::size_t value = none;
  return in >> value ? value : none;
}

std::size_t available() {
  std::ifstream in("/proc/meminfo");
  for (std::string key, unit; in >> key;) {
    std::size_t kilobytes = 0;
    if (!(in >> kilobytes)) break;
    std::getline(in, unit);
    if (key == "MemAvailable:") return kilobytes * 1024;
  }
  return std::size_t{1} << 30; // unknown: what any machine has
}

} // namespace

std::size_t free_memory() {
  std::size_t bytes = available();
  const std::size_t limit = number_in("/sys/fs/cgroup/memory.max");
  const std::size_t used = number_in("/sys/fs/cgroup/memory.current");
  if (limit != none && used != none) bytes = std::min(bytes, limit > used ? limit - used : 0);
  return bytes;
}

} // namespace uc
