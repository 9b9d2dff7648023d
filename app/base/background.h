// Work off the interface thread: the one mechanism for it. A `Background` does one piece of work at a time, the latest
// that is wanted: a newer one gives up what is running, whose answer is then never told. Answers are told on the
// interface thread.
#pragma once

#include "base/parallel.h"
#include "base/worker.h"

#include <QElapsedTimer>
#include <QObject>

#include <algorithm>
#include <chrono>
#include <condition_variable>
#include <exception>
#include <functional>
#include <memory>
#include <mutex>
#include <optional>
#include <thread>

namespace uc::app {

template <class Answer> class Background {
public:
  using Work = std::function<Answer(Progress&)>;

  /// `told` gets each answer; `ended`, when given, is called when work ends that was given up and nothing follows it.
  explicit Background(std::function<void(Answer)> told, std::function<void()> ended = nullptr)
      : told_(std::move(told)), ended_(std::move(ended)) {}
  Background(const Background&) = delete;
  Background& operator=(const Background&) = delete;
  /// Stops the work and waits for it: it may look at what its owner holds.
  ~Background() {
    next_.reset();
    if (!job_) return;
    job_->progress->cancel();
    thread_.join();
  }

  void begin(Work work, std::shared_ptr<Progress> progress = std::make_shared<Progress>()) {
    if (job_) {
      give_up();
      next_ = Next{std::move(work), std::move(progress)};
      return;
    }
    start({std::move(work), std::move(progress)});
  }
  /// What is running, or about to, is no longer wanted.
  void give_up() {
    next_.reset();
    if (!job_) return;
    job_->wanted = false;
    job_->progress->cancel();
  }
  [[nodiscard]] bool busy() const { return job_ != nullptr; }
  /// Tells the answer here and now when it comes within so many milliseconds; true when nothing is running any more.
  bool wait(int milliseconds) {
    QElapsedTimer since;
    since.start();
    while (job_) {
      const auto job = job_;
      {
        std::unique_lock lock(job->mutex);
        const auto left = std::chrono::milliseconds(std::max<qint64>(0, milliseconds - since.elapsed()));
        if (!job->over.wait_for(lock, left, [&] { return job->done; })) return false;
      }
      finish(job);
    }
    return true;
  }

private:
  struct Next {
    Work work;
    std::shared_ptr<Progress> progress;
  };
  struct Job {
    std::shared_ptr<Progress> progress;
    bool wanted = true; // known to the interface thread only
    std::mutex mutex;
    std::condition_variable over;
    bool done = false;
    std::optional<Answer> answer;
    std::exception_ptr failure;
  };

  void start(Next next) {
    job_ = std::make_shared<Job>();
    job_->progress = std::move(next.progress);
    thread_ = begin_aside([this, job = job_, work = std::move(next.work)] {
      std::optional<Answer> answer;
      std::exception_ptr failure;
      try {
        answer = work(*job->progress);
      } catch (...) {
        failure = std::current_exception();
      }
      QMetaObject::invokeMethod(
          &context_, [this, job] { finish(job); }, Qt::QueuedConnection);
      const std::lock_guard lock(job->mutex);
      job->answer = std::move(answer);
      job->failure = failure;
      job->done = true;
      job->over.notify_all();
    });
  }
  void finish(const std::shared_ptr<Job>& job) {
    if (job != job_) return; // told already
    thread_.join();
    job_.reset();
    if (job->failure) std::rethrow_exception(job->failure);
    if (next_) {
      Next next = std::move(*next_);
      next_.reset();
      start(std::move(next));
    } else if (job->wanted) {
      told_(std::move(*job->answer));
    } else if (ended_) {
      ended_();
    }
  }

  std::function<void(Answer)> told_;
  std::function<void()> ended_;
  std::shared_ptr<Job> job_;
  std::optional<Next> next_;
  std::thread thread_;
  QObject context_; // answers come as its events, and go with it
};

} // namespace uc::app
