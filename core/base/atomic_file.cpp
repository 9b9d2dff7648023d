#include "base/atomic_file.h"

#include <fmt/format.h>

#include <cerrno>
#include <cstring>
#include <fcntl.h>
#include <filesystem>
#include <fstream>
#include <sys/stat.h>
#include <unistd.h>

namespace uc {
namespace {

Error failed(const std::string& path, int code) {
  switch (code) {
  case ENOSPC:
  case EDQUOT:
    return Error{fmt::format("{}: the disk is full; free some space or save elsewhere. Nothing was lost.", path)};
  case EACCES:
  case EPERM:
  case EROFS:
    return Error{fmt::format("{}: this place cannot be written to; save under another name or folder.", path)};
  case ENOENT:
    return Error{fmt::format("{}: the folder does not exist; make it or choose another.", path)};
  default:
    return Error{fmt::format("{}: writing failed ({}); save elsewhere.", path, std::strerror(code))};
  }
}

bool write_all(int fd, std::string_view bytes) {
  while (!bytes.empty()) {
    const ssize_t n = ::write(fd, bytes.data(), bytes.size());
    if (n < 0 && errno == EINTR) continue;
    if (n < 0) return false;
    bytes.remove_prefix(static_cast<std::size_t>(n));
  }
  return true;
}

} // namespace

Status write_atomically(const std::string& path, std::string_view bytes) {
  struct stat existing {};
  mode_t mode = 0644;
  if (::stat(path.c_str(), &existing) == 0) {
    if (S_ISDIR(existing.st_mode)) return Error{fmt::format("{}: this is a folder; give a file name.", path)};
    // A device or pipe has no name to replace: write straight to it.
    if (!S_ISREG(existing.st_mode)) {
      const int fd = ::open(path.c_str(), O_WRONLY);
      if (fd < 0) return failed(path, errno);
      const bool ok = write_all(fd, bytes);
      const int code = errno;
      ::close(fd);
      if (!ok) return failed(path, code);
      return Done{};
    }
    if (::faccessat(AT_FDCWD, path.c_str(), W_OK, AT_EACCESS) != 0) return failed(path, errno);
    mode = existing.st_mode & 0777;
  }
  std::string temporary = path + ".XXXXXX";
  const int fd = ::mkstemp(temporary.data());
  if (fd < 0) return failed(path, errno);
  const bool written = write_all(fd, bytes) && ::fchmod(fd, mode) == 0 && ::fsync(fd) == 0;
  int code = errno;
  const bool closed = ::close(fd) == 0;
  if (written && !closed) code = errno;
  if (!written || !closed || ::rename(temporary.c_str(), path.c_str()) != 0) {
    if (written && closed) code = errno;
    ::unlink(temporary.c_str());
    return failed(path, code);
  }
  return Done{};
}

Result<std::string> read_file(const std::string& path, std::size_t limit) {
  std::error_code ec;
  const auto status = std::filesystem::status(path, ec);
  if (ec || !std::filesystem::exists(status)) {
    return Error{fmt::format("{}: there is no such file; check the name and folder.", path)};
  }
  if (std::filesystem::is_directory(status)) return Error{fmt::format("{}: this is a folder; give a file.", path)};
  std::ifstream in(path, std::ios::binary);
  if (!in) return Error{fmt::format("{}: the file cannot be read; check its permissions.", path)};
  std::string bytes;
  char buffer[1 << 16];
  while (in.read(buffer, sizeof buffer), in.gcount() > 0) {
    bytes.append(buffer, static_cast<std::size_t>(in.gcount()));
    if (bytes.size() > limit) {
      return Error{fmt::format("{}: the file is larger than {} MB and is not read; check that it is the right one.",
                               path, limit >> 20)};
    }
  }
  return bytes;
}

} // namespace uc
