// Threads for work off the interface thread. Each piece of work has one of its own, so that none waits for another to
// end, nor the interface for any of them (Qt paints with the threads of its own pool), and each gives way to the
// interface where there are fewer cores than threads.
#pragma once

#include <functional>
#include <thread>

namespace uc::app {

/// Begins the work at once in a thread that gives way to others. Whoever asked joins it.
[[nodiscard]] std::thread begin_aside(std::function<void()> work);

/// For tests: while one of these lives and is not released, threads stand still before their work.
class WorkersHeld {
public:
  WorkersHeld();
  ~WorkersHeld() { release(); }
  WorkersHeld(const WorkersHeld&) = delete;
  WorkersHeld& operator=(const WorkersHeld&) = delete;
  void release();

private:
  bool held_ = true;
};

} // namespace uc::app
