#include "base/parallel.h"

#include <algorithm>
#include <exception>
#include <mutex>
#include <thread>
#include <vector>

namespace uc {

void parallel_for(std::size_t count, const std::function<void(std::size_t)>& body, const Progress* progress) {
  std::atomic<std::size_t> next{0};
  std::exception_ptr thrown;
  std::mutex guard;
  const auto work = [&] {
    try {
      for (std::size_t i = next++; i < count; i = next++) {
        if (progress && progress->stopped()) return;
        body(i);
      }
    } catch (...) {
      const std::lock_guard lock(guard);
      if (!thrown) thrown = std::current_exception();
      next = count;
    }
  };
  const std::size_t threads = std::min<std::size_t>(count, std::max(1u, std::thread::hardware_concurrency()));
  {
    std::vector<std::jthread> others;
    for (std::size_t i = 1; i < threads; ++i) others.emplace_back(work);
    work();
  }
  if (thrown) std::rethrow_exception(thrown);
}

} // namespace uc
