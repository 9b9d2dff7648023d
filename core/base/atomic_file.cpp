#include "base/atomic_file.h"

#include <algorithm>
#include <cerrno>
#include <climits>
#include <cstring>
#include <fcntl.h>
#include <fmt/format.h>
#include <random>
#include <sys/file.h>
#include <sys/stat.h>
#include <unistd.h>
#include <utility>

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
  case ENOTDIR:
    return Error{fmt::format("{}: the folder does not exist; make it or choose another.", path)};
  case EEXIST:
    return Error{fmt::format("{}: there is a file of this name already; choose another name.", path)};
  case ENAMETOOLONG:
    return Error{fmt::format("{}: the name is too long for this disk; choose a shorter one.", path)};
  case ELOOP:
    return Error{fmt::format("{}: its symbolic links lead round in a circle; choose another name.", path)};
  case ENXIO:
    return Error{fmt::format("{}: nobody reads from this pipe; start its reader first.", path)};
  case EPIPE:
    return Error{fmt::format("{}: its reader has gone; start it again.", path)};
  default:
    return Error{fmt::format("{}: writing failed ({}); save elsewhere.", path, std::strerror(code))};
  }
}

/// A file descriptor that closes itself.
class Handle {
public:
  explicit Handle(int fd) : fd_(fd) {}
  ~Handle() {
    if (fd_ >= 0) ::close(fd_);
  }
  Handle(const Handle&) = delete;
  Handle& operator=(const Handle&) = delete;
  [[nodiscard]] int get() const { return fd_; }
  explicit operator bool() const { return fd_ >= 0; }
  /// Closes now and tells whether that went well. Linux lets go of the number even when interrupted.
  /// Hands the descriptor over.
  int give() { return std::exchange(fd_, -1); }
  bool close() { return ::close(std::exchange(fd_, -1)) == 0 || errno == EINTR; }

private:
  int fd_;
};

/// Calls again what a signal has interrupted.
template <class Call> auto unbroken(Call&& call) -> decltype(call()) {
  while (true) {
    const auto result = call();
    if (result >= 0 || errno != EINTR) return result;
  }
}

bool write_all(int fd, std::string_view bytes) {
  while (!bytes.empty()) {
    const ssize_t n = unbroken([&] { return ::write(fd, bytes.data(), bytes.size()); });
    if (n < 0) return false;
    bytes.remove_prefix(static_cast<std::size_t>(n));
  }
  return true;
}

struct Place {
  std::string folder;
  std::string name;
};

Place place_of(const std::string& path) {
  const auto slash = path.rfind('/');
  if (slash == std::string::npos) return {".", path};
  return {slash == 0 ? "/" : path.substr(0, slash), path.substr(slash + 1)};
}

/// The file that symbolic links lead to, whether it exists or not; empty with errno set when they go in a circle.
std::string target_of(std::string path) {
  for (int links = 0; links < 40; ++links) {
    char buffer[PATH_MAX];
    const ssize_t n = ::readlink(path.c_str(), buffer, sizeof buffer);
    if (n < 0) return path; // no link, or the failure shows where the file is opened
    const std::string next(buffer, static_cast<std::size_t>(n));
    const Place place = place_of(path);
    path = next.starts_with('/') ? next : place.folder + "/" + next;
  }
  errno = ELOOP;
  return {};
}

/// A device or pipe has no name to replace: it is written to straight. One without a reader is not waited for.
Status write_straight(const std::string& path, std::string_view bytes) {
  Handle file(unbroken([&] { return ::open(path.c_str(), O_WRONLY | O_NONBLOCK | O_CLOEXEC | O_NOCTTY); }));
  if (!file) return failed(path, errno);
  const int flags = ::fcntl(file.get(), F_GETFL);
  if (flags >= 0) ::fcntl(file.get(), F_SETFL, flags & ~O_NONBLOCK);
  if (!write_all(file.get(), bytes) || !file.close()) return failed(path, errno);
  return Done{};
}

std::string random_name() {
  static constexpr std::string_view letters = "abcdefghijklmnopqrstuvwxyz0123456789";
  std::random_device device;
  std::string name = ".uc-";
  for (int i = 0; i < 12; ++i) name += letters[device() % letters.size()];
  return name;
}

/// Makes a file of a random name in a folder; the name is short, whatever that of the file to be replaced.
int open_beside(int folder, std::string& name) {
  for (int attempt = 0; attempt < 100; ++attempt) {
    name = random_name();
    const int fd = unbroken(
        [&] { return ::openat(folder, name.c_str(), O_WRONLY | O_CREAT | O_EXCL | O_CLOEXEC | O_NOFOLLOW, 0666); });
    if (fd >= 0 || errno != EEXIST) return fd;
  }
  return -1;
}

enum class If { any, absent };

Status replace(const std::string& path, std::string_view bytes, If allowed, int* locked) {
  const std::string target = target_of(path);
  if (target.empty()) return failed(path, errno);
  const Place place = place_of(target);
  if (place.name.size() > NAME_MAX) return failed(path, ENAMETOOLONG);
  struct stat there {};
  const bool exists = ::stat(target.c_str(), &there) == 0;
  if (!exists && errno != ENOENT) return failed(path, errno);
  if (exists) {
    if (S_ISDIR(there.st_mode)) return Error{fmt::format("{}: this is a folder; give a file name.", path)};
    if (allowed == If::absent) return failed(path, EEXIST);
    if (!S_ISREG(there.st_mode)) return write_straight(target, bytes);
    if (::faccessat(AT_FDCWD, target.c_str(), W_OK, AT_EACCESS) != 0) return failed(path, errno);
  }
  if (place.name.empty()) return Error{fmt::format("{}: this is a folder; give a file name.", path)};
  const Handle folder(unbroken([&] { return ::open(place.folder.c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC); }));
  if (!folder) return failed(path, errno);
  std::string temporary;
  Handle file(open_beside(folder.get(), temporary));
  if (!file) return failed(path, errno);
  const auto gave_up = [&](int code) {
    ::unlinkat(folder.get(), temporary.c_str(), 0);
    return failed(path, code);
  };
  if (exists) {
    // Giving a file away is for the superuser; where it fails the file is the writer's own, as any new one.
    const bool same = ::geteuid() == there.st_uid && ::getegid() == there.st_gid;
    if (!same && ::fchown(file.get(), there.st_uid, there.st_gid) != 0) errno = 0;
    if (unbroken([&] { return ::fchmod(file.get(), there.st_mode & 07777); }) != 0) return gave_up(errno);
  }
  if (!write_all(file.get(), bytes)) return gave_up(errno);
  if (unbroken([&] { return ::fsync(file.get()); }) != 0) return gave_up(errno);
  if (locked && ::flock(file.get(), LOCK_EX | LOCK_NB) != 0) return gave_up(errno);
  if (!locked && !file.close()) return gave_up(errno);
  if (allowed == If::absent) {
    if (::linkat(folder.get(), temporary.c_str(), folder.get(), place.name.c_str(), 0) != 0) return gave_up(errno);
    ::unlinkat(folder.get(), temporary.c_str(), 0);
  } else if (unbroken([&] { return ::renameat(folder.get(), temporary.c_str(), folder.get(), place.name.c_str()); }) !=
             0) {
    return gave_up(errno);
  }
  if (locked) *locked = file.give();
  // The new name must be on the disk before anyone counts on it. Some file systems cannot flush a folder; the file
  // itself is whole all the same.
  if (unbroken([&] { return ::fsync(folder.get()); }) != 0 && errno == EIO) return failed(path, errno);
  return Done{};
}

Result<std::string> read_all(const std::string& path, int fd, std::size_t limit, std::size_t expected = 0) {
  std::string bytes;
  bytes.reserve(std::min(expected, limit));
  std::string buffer(1 << 16, '\0');
  while (true) {
    const ssize_t n = unbroken([&] { return ::read(fd, buffer.data(), buffer.size()); });
    if (n < 0) return Error{fmt::format("{}: reading failed ({}); check the disk.", path, std::strerror(errno))};
    if (n == 0) return bytes;
    bytes.append(buffer, 0, static_cast<std::size_t>(n));
    if (bytes.size() > limit) {
      return Error{fmt::format("{}: the file is larger than {} MB and is not read; check that it is the right one.",
                               path, limit >> 20)};
    }
  }
}

Error unreadable(const std::string& path, int code) {
  if (code == ENOENT || code == ENOTDIR)
    return Error{fmt::format("{}: there is no such file; check the name and folder.", path)};
  if (code == ENAMETOOLONG) return Error{fmt::format("{}: the name is too long for this disk; check it.", path)};
  return Error{fmt::format("{}: the file cannot be read; check its permissions.", path)};
}

} // namespace

Status write_atomically(const std::string& path, std::string_view bytes, int* locked) {
  return replace(path, bytes, If::any, locked);
}

Status write_new(const std::string& path, std::string_view bytes) { return replace(path, bytes, If::absent, nullptr); }

Result<std::string> read_file(const std::string& path, std::size_t limit) {
  // Looked at before it is opened: opening alone may already disturb a device.
  struct stat there {};
  if (::stat(path.c_str(), &there) != 0) return unreadable(path, errno);
  if (S_ISDIR(there.st_mode)) return Error{fmt::format("{}: this is a folder; give a file.", path)};
  const Error special{fmt::format("{}: this is a pipe or a device; only files are opened. Copy it to a file.", path)};
  if (!S_ISREG(there.st_mode)) return special;
  const Handle file(unbroken([&] { return ::open(path.c_str(), O_RDONLY | O_NONBLOCK | O_CLOEXEC | O_NOCTTY); }));
  if (!file) return unreadable(path, errno);
  if (::fstat(file.get(), &there) != 0 || !S_ISREG(there.st_mode)) return special;
  return read_all(path, file.get(), limit, static_cast<std::size_t>(there.st_size));
}

Result<std::string> read_stream(const std::string& path, std::size_t limit) {
  if (path == "-") return read_all("standard input", STDIN_FILENO, limit);
  struct stat there {};
  if (::stat(path.c_str(), &there) != 0) return unreadable(path, errno);
  if (S_ISDIR(there.st_mode)) return Error{fmt::format("{}: this is a folder; give a file.", path)};
  const Handle file(unbroken([&] { return ::open(path.c_str(), O_RDONLY | O_CLOEXEC | O_NOCTTY); }));
  if (!file) return unreadable(path, errno);
  return read_all(path, file.get(), limit);
}

} // namespace uc
