// A file that this process holds by a lock on it. The system gives the lock up when the process ends, however it ends,
// so nothing has to be guessed from process numbers.
#pragma once

#include "base/result.h"

#include <string>
#include <string_view>

namespace uc {

class HeldFile {
public:
  HeldFile() = default;
  ~HeldFile();
  HeldFile(HeldFile&& other) noexcept;
  HeldFile& operator=(HeldFile&& other) noexcept;
  HeldFile(const HeldFile&) = delete;
  HeldFile& operator=(const HeldFile&) = delete;

  enum class Outcome { held, taken, impossible }; // impossible: the folder is read-only or full, or there is no file
  /// Takes hold of a file, made empty when it is not there and `make` is set. `outcome` tells why it could not.
  static HeldFile take(const std::string& path, bool make, Outcome& outcome);
  /// Replaces a file as write_atomically does, and holds the new one; from the moment it has its name nobody else can.
  static Result<HeldFile> written(const std::string& path, std::string_view bytes);

  explicit operator bool() const { return fd_ >= 0; }
  void release();

private:
  explicit HeldFile(int fd) : fd_(fd) {}
  int fd_ = -1;
};

} // namespace uc
