// Long work: spread over the machine's cores, with progress and a way to stop it.
#pragma once

#include <atomic>
#include <chrono>
#include <cstddef>
#include <functional>

namespace uc {

/// Shared between the thread that works and the one that watches.
class Progress {
public:
  /// 0 to 1. Less than was told before is not taken: within a pass nothing runs back.
  void set(double fraction) {
    double told = fraction_.load(std::memory_order_relaxed);
    while (fraction > told && !fraction_.compare_exchange_weak(told, fraction, std::memory_order_relaxed)) {
    }
  }
  [[nodiscard]] double fraction() const { return fraction_.load(std::memory_order_relaxed); }
  /// The work begins again, since another way is tried.
  void begin_pass() {
    fraction_.store(0, std::memory_order_relaxed);
    pass_.fetch_add(1, std::memory_order_relaxed);
  }
  /// From 1 on.
  [[nodiscard]] int pass() const { return pass_.load(std::memory_order_relaxed); }
  void cancel() { cancelled_.store(true, std::memory_order_relaxed); }
  [[nodiscard]] bool cancelled() const { return cancelled_.load(std::memory_order_relaxed); }
  /// From this moment on the work counts as late.
  void end_by(std::chrono::steady_clock::time_point end) { end_.store(end.time_since_epoch().count()); }
  [[nodiscard]] bool late() const {
    const auto end = end_.load(std::memory_order_relaxed);
    return end != 0 && std::chrono::steady_clock::now().time_since_epoch().count() > end;
  }
  /// Cancelled or late: what long work asks every few milliseconds.
  [[nodiscard]] bool stopped() const { return cancelled() || late(); }

private:
  std::atomic<std::chrono::steady_clock::rep> end_{0};
  std::atomic<double> fraction_{0};
  std::atomic<int> pass_{1};
  std::atomic<bool> cancelled_{false};
};

/// Calls body(i) for i = 0 .. count-1 from several threads, each i once, in no fixed order; returns when all are done
/// or `progress` is cancelled. The first exception thrown by a body is thrown again here.
void parallel_for(std::size_t count, const std::function<void(std::size_t)>& body, const Progress* progress = nullptr);

} // namespace uc
