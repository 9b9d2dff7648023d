#include "base/crease_planner.h"

#include <algorithm>

namespace uc::app {
namespace {

constexpr std::size_t most_kept = 12;

CreasePlan planned_for(const CreaseWish& wish, const DrawnPattern& drawn, Progress& progress) {
  auto plan = answer(wish, drawn, &progress);
  if (!plan) return {nullptr, plan.error()};
  return {std::make_shared<const Precrease>(std::move(plan).value()), {}};
}

} // namespace

CreasePlanner::CreasePlanner(QObject* parent)
    : QObject(parent), work_([this](CreasePlan plan) { finished(std::move(plan)); },
                             [this] { // what was running is no longer wanted
                               running_.reset();
                               next();
                             }) {}

const CreasePlan* CreasePlanner::known(const CreaseWish& wish) const {
  const auto at = std::find_if(kept_.begin(), kept_.end(), [&](const auto& k) { return k.first == wish; });
  return at == kept_.end() ? nullptr : &at->second;
}

void CreasePlanner::want(std::vector<CreaseWish> wishes, std::shared_ptr<const DrawnPattern> drawn) {
  drawn_ = std::move(drawn);
  stopped_ = false;
  const bool goes_on =
      running_ && !progress_->cancelled() && std::find(wishes.begin(), wishes.end(), *running_) != wishes.end();
  if (goes_on)
    std::erase(wishes, *running_);
  else
    work_.give_up();
  queue_ = std::move(wishes);
  if (!running_) next();
}

void CreasePlanner::next() {
  // The project's own wish may also be among those it is compared with.
  std::erase_if(queue_, [&](const CreaseWish& w) { return known(w) != nullptr; });
  if (queue_.empty()) {
    emit ended();
    return;
  }
  running_ = queue_.front();
  queue_.erase(queue_.begin());
  progress_ = std::make_shared<Progress>();
  work_.begin([wish = *running_, drawn = drawn_](Progress& progress) { return planned_for(wish, *drawn, progress); },
              progress_);
  emit began(progress_);
}

void CreasePlanner::finished(CreasePlan plan) {
  const CreaseWish wish = std::move(*running_);
  running_.reset();
  if (progress_->cancelled()) {
    // Stopped by the folder: what else was wanted is not begun either.
    stopped_ = true;
    queue_.clear();
  } else {
    kept_.emplace_back(wish, std::move(plan));
    if (kept_.size() > most_kept) kept_.erase(kept_.begin());
    emit planned();
  }
  // What is told of a plan may have started the next one.
  if (!running_) next();
}

} // namespace uc::app
