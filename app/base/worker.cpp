#include "base/worker.h"

#include <condition_variable>
#include <mutex>
#include <utility>

#include <sys/resource.h>
#include <unistd.h>

namespace uc::app {
namespace {

/// On Linux each thread has a nice value, and those it starts have its own; the interface keeps nine tenths of a core
/// that it shares with one of these.
constexpr int nice_of_workers = 10;

/// Closed while a test holds the workers.
struct Gate {
  std::mutex mutex;
  std::condition_variable opened;
  int closed = 0; // by so many
};

Gate& gate() {
  static Gate one;
  return one;
}

void pass_gate() {
  std::unique_lock lock(gate().mutex);
  gate().opened.wait(lock, [] { return gate().closed == 0; });
}

} // namespace

std::thread begin_aside(std::function<void()> work) {
  return std::thread([work = std::move(work)] {
    (void)setpriority(PRIO_PROCESS, static_cast<id_t>(gettid()), nice_of_workers);
    pass_gate();
    work();
  });
}

WorkersHeld::WorkersHeld() {
  const std::lock_guard lock(gate().mutex);
  ++gate().closed;
}

void WorkersHeld::release() {
  if (!std::exchange(held_, false)) return;
  const std::lock_guard lock(gate().mutex);
  --gate().closed;
  gate().opened.notify_all();
}

} // namespace uc::app
