#include "base/crease_planner.h"

#include <QtConcurrent>

#include <algorithm>

namespace uc::app {
namespace {

constexpr std::size_t most_kept = 12;

CreasePlan planned_for(const CreaseWish& wish, const DrawnPattern& drawn, Progress& progress) {
  Project project;
  if (auto sheet = parse_sheet(wish.sheet)) project.sheet = std::move(sheet).value();
  project.trueness = wish.trueness;
  project.pattern = wish.pattern;
  project.hand = wish.hand;
  project.pre_crease = wish.spec;
  auto plan = precrease_of(project, drawn, &progress);
  if (!plan) return {nullptr, plan.error()};
  return {std::make_shared<const Precrease>(std::move(plan).value()), {}};
}

} // namespace

CreasePlanner::CreasePlanner(QObject* parent) : QObject(parent) {
  connect(&work_, &QFutureWatcherBase::finished, this, &CreasePlanner::finished);
}

CreasePlanner::~CreasePlanner() {
  if (progress_) progress_->cancel();
  work_.waitForFinished();
}

const CreasePlan* CreasePlanner::known(const CreaseWish& wish) const {
  const auto at = std::find_if(kept_.begin(), kept_.end(), [&](const auto& k) { return k.first == wish; });
  return at == kept_.end() ? nullptr : &at->second;
}

void CreasePlanner::want(std::vector<CreaseWish> wishes, std::shared_ptr<const DrawnPattern> drawn) {
  drawn_ = std::move(drawn);
  stopped_ = false;
  given_up_ =
      running_ && (progress_->cancelled() || std::find(wishes.begin(), wishes.end(), *running_) == wishes.end());
  if (given_up_) progress_->cancel();
  std::erase_if(wishes, [&](const CreaseWish& w) { return running_ && !given_up_ && w == *running_; });
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
  work_.setFuture(QtConcurrent::run(
      [wish = *running_, drawn = drawn_, progress = progress_] { return planned_for(wish, *drawn, *progress); }));
  emit began(progress_);
}

void CreasePlanner::finished() {
  const CreaseWish wish = std::move(*running_);
  running_.reset();
  if (progress_->cancelled()) {
    // Stopped by the folder: what else was wanted is not begun either.
    stopped_ = !given_up_;
    if (stopped_) queue_.clear();
  } else {
    kept_.emplace_back(wish, work_.result());
    if (kept_.size() > most_kept) kept_.erase(kept_.begin());
    emit planned();
  }
  // What is told of a plan may have started the next one.
  if (!running_) next();
}

} // namespace uc::app
