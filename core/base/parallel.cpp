#include "base/parallel.h"

#include <tbb/parallel_for.h>

namespace uc {

void parallel_for(std::size_t count, const std::function<void(std::size_t)>& body, const Progress* progress) {
  // The library's own hand-overs are not seen by the thread sanitizer; these two say the same in its terms.
  std::atomic<bool> begun{true};
  std::atomic<std::size_t> done{0};
  tbb::parallel_for(
      std::size_t{0}, count, std::size_t{1},
      [&](std::size_t i) {
        if (!begun.load(std::memory_order_acquire) || (progress && progress->stopped())) return;
        body(i);
        done.fetch_add(1, std::memory_order_release);
      },
      tbb::simple_partitioner());
  (void)done.load(std::memory_order_acquire);
}

} // namespace uc
