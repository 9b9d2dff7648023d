#include "base/held_file.h"

#include "base/atomic_file.h"

#include <cerrno>
#include <fcntl.h>
#include <sys/file.h>
#include <sys/stat.h>
#include <unistd.h>
#include <utility>

namespace uc {

HeldFile::~HeldFile() { release(); }
HeldFile::HeldFile(HeldFile&& other) noexcept : fd_(std::exchange(other.fd_, -1)) {}
HeldFile& HeldFile::operator=(HeldFile&& other) noexcept {
  if (this != &other) {
    release();
    fd_ = std::exchange(other.fd_, -1);
  }
  return *this;
}

void HeldFile::release() {
  if (fd_ >= 0) ::close(std::exchange(fd_, -1));
}

HeldFile HeldFile::take(const std::string& path, bool make, Outcome& outcome) {
  outcome = Outcome::impossible;
  const int flags = (make ? O_RDWR | O_CREAT : O_RDONLY) | O_CLOEXEC | O_NONBLOCK | O_NOFOLLOW;
  HeldFile file(::open(path.c_str(), flags, 0600));
  struct stat there {};
  if (!file || ::fstat(file.fd_, &there) != 0 || !S_ISREG(there.st_mode)) return {};
  if (::flock(file.fd_, LOCK_EX | LOCK_NB) != 0) {
    if (errno == EWOULDBLOCK) outcome = Outcome::taken;
    return {};
  }
  // Between opening and locking the file may have been replaced by its holder.
  struct stat now {};
  if (::stat(path.c_str(), &now) != 0 || now.st_ino != there.st_ino || now.st_dev != there.st_dev) {
    outcome = Outcome::taken;
    return {};
  }
  outcome = Outcome::held;
  return file;
}

Result<HeldFile> HeldFile::written(const std::string& path, std::string_view bytes) {
  int fd = -1;
  if (const auto ok = write_atomically(path, bytes, &fd); !ok) return Error{ok.error()};
  return HeldFile(fd);
}

} // namespace uc
