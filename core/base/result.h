// Errors are values here: a function that may fail for a reason the folder can mend returns a Result.
// The message is one sentence that says what is wrong, where, and what to do instead.
#pragma once

#include <stdexcept>
#include <string>
#include <utility>
#include <variant>

namespace uc {

struct Error {
  std::string message;
};

template <class T> class [[nodiscard]] Result {
public:
  Result(T value) : state_(std::move(value)) {}
  Result(Error error) : state_(std::move(error)) {}

  [[nodiscard]] bool ok() const { return std::holds_alternative<T>(state_); }
  explicit operator bool() const { return ok(); }

  /// The value; asking a failed result for it is a bug and throws.
  [[nodiscard]] const T& value() const& { return require(), std::get<T>(state_); }
  [[nodiscard]] T&& value() && { return require(), std::get<T>(std::move(state_)); }
  const T& operator*() const& { return value(); }
  T&& operator*() && { return std::move(*this).value(); }
  const T* operator->() const { return &value(); }

  [[nodiscard]] const std::string& error() const { return std::get<Error>(state_).message; }

private:
  void require() const {
    if (!ok()) throw std::logic_error("value of a failed result: " + error());
  }
  std::variant<T, Error> state_;
};

struct Done {};
using Status = Result<Done>;

} // namespace uc
