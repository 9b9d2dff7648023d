// No background work begins while this lives and is not released: a test can stop what has been asked for before it
// could end, however quick the machine.
#pragma once

#include <QSemaphore>
#include <QThreadPool>

#include <memory>
#include <utility>

namespace uc::testing {

class PoolHeld {
public:
  PoolHeld() : threads_(QThreadPool::globalInstance()->maxThreadCount()) {
    for (int i = 0; i < threads_; ++i)
      QThreadPool::globalInstance()->start([go = go_, held = held_] {
        held->release();
        go->acquire();
      });
    held_->acquire(threads_); // all are here, with nothing else before them
  }
  ~PoolHeld() { release(); }
  PoolHeld(const PoolHeld&) = delete;
  PoolHeld& operator=(const PoolHeld&) = delete;
  void release() { go_->release(std::exchange(threads_, 0)); }

private:
  int threads_;
  std::shared_ptr<QSemaphore> go_ = std::make_shared<QSemaphore>();
  std::shared_ptr<QSemaphore> held_ = std::make_shared<QSemaphore>();
};

} // namespace uc::testing
