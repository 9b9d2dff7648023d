// Preloaded into a program under test: makes the n-th system call of writing fail. UC_FAULT="n:what" with what one of
// ENOSPC, EIO, EINTR, short; UC_FAULT_LOG names a file that is made when the fault has struck.
#include <atomic>
#include <cerrno>
#include <cstdarg>
#include <cstdio>
#include <cstdlib>
#include <cstring>

#include <dlfcn.h>
#include <fcntl.h>
#include <sys/stat.h>
#include <sys/types.h>
#include <unistd.h>

namespace {

std::atomic<long> calls{0};

template <class F> F next(const char* name) { return reinterpret_cast<F>(::dlsym(RTLD_NEXT, name)); }

enum class Fault { none, error, cut };

/// Whether this call is the one that fails; sets errno.
Fault strikes() {
  static const char* const wish = std::getenv("UC_FAULT");
  if (!wish) return Fault::none;
  static const long nth = std::atol(wish);
  static const char* const what = std::strchr(wish, ':');
  if (++calls != nth || !what) return Fault::none;
  if (const char* log = std::getenv("UC_FAULT_LOG")) {
    const int fd = next<int (*)(const char*, int, ...)>("open")(log, O_CREAT | O_WRONLY, 0600);
    if (fd >= 0) next<int (*)(int)>("close")(fd);
  }
  if (std::strcmp(what, ":short") == 0) return Fault::cut;
  errno = std::strcmp(what, ":ENOSPC") == 0 ? ENOSPC : std::strcmp(what, ":EINTR") == 0 ? EINTR : EIO;
  return Fault::error;
}

/// Event loops write to descriptors of their own; only files count.
bool is_file(int fd) {
  struct stat s {};
  return fd > 2 && ::fstat(fd, &s) == 0 && S_ISREG(s.st_mode);
}

ssize_t struck_write(int fd, const void* bytes, size_t size, off64_t at) {
  static const auto real = next<ssize_t (*)(int, const void*, size_t, off64_t)>("pwrite64");
  const Fault fault = is_file(fd) ? strikes() : Fault::none;
  if (fault == Fault::error) return -1;
  return real(fd, bytes, fault == Fault::cut && size > 1 ? size / 2 : size, at);
}

} // namespace

extern "C" {

// SQLite writes with these.
ssize_t pwrite(int fd, const void* bytes, size_t size, off_t at) { return struck_write(fd, bytes, size, at); }
ssize_t pwrite64(int fd, const void* bytes, size_t size, off64_t at) { return struck_write(fd, bytes, size, at); }

int fdatasync(int fd) {
  if (is_file(fd) && strikes() == Fault::error) return -1;
  return next<int (*)(int)>("fdatasync")(fd);
}

int ftruncate64(int fd, off64_t size) {
  if (is_file(fd) && strikes() == Fault::error) return -1;
  return next<int (*)(int, off64_t)>("ftruncate64")(fd, size);
}

int openat(int folder, const char* path, int flags, ...) {
  mode_t mode = 0;
  if (flags & O_CREAT) {
    va_list rest;
    va_start(rest, flags);
    mode = va_arg(rest, mode_t);
    va_end(rest);
    if (strikes() == Fault::error) return -1;
  }
  return next<int (*)(int, const char*, int, ...)>("openat")(folder, path, flags, mode);
}

ssize_t write(int fd, const void* bytes, size_t size) {
  const auto real = next<ssize_t (*)(int, const void*, size_t)>("write");
  if (!is_file(fd)) return real(fd, bytes, size);
  const Fault fault = strikes();
  if (fault == Fault::error) return -1;
  return real(fd, bytes, fault == Fault::cut && size > 1 ? size / 2 : size);
}

int fsync(int fd) {
  if (strikes() == Fault::error) return -1;
  return next<int (*)(int)>("fsync")(fd);
}

int fchmod(int fd, mode_t mode) {
  if (strikes() == Fault::error) return -1;
  return next<int (*)(int, mode_t)>("fchmod")(fd, mode);
}

int renameat(int from_folder, const char* from, int to_folder, const char* to) {
  if (strikes() == Fault::error) return -1;
  return next<int (*)(int, const char*, int, const char*)>("renameat")(from_folder, from, to_folder, to);
}

} // extern "C"
