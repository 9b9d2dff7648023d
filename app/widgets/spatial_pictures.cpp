#include "widgets/spatial_pictures.h"

#include "widgets/spatial_drawing.h"
#include "widgets/spatial_renderer.h"

#include <QOffscreenSurface>

#include <condition_variable>
#include <deque>
#include <functional>
#include <future>
#include <thread>
#include <utility>

namespace uc::app {

bool operator==(const SpatialPicture& a, const SpatialPicture& b) {
  return a.scene == b.scene && a.pixels == b.pixels && a.smooth == b.smooth && a.view.to_device == b.view.to_device &&
         a.view.middle == b.view.middle && a.view.reach_mm == b.view.reach_mm && a.lamp == b.lamp;
}

/// A thread that does what it is given, one after the other, with a renderer made there with the first picture. The
/// surface has to be made where the window is.
class SpatialPictures::Painter {
public:
  using Work = std::function<void(SpatialRenderer&)>;

  Painter() {
    surface_.setFormat(spatial_format());
    surface_.create();
    thread_ = std::thread([this] { paint(); });
  }
  /// Waits for what is under way; what is not begun is left out.
  ~Painter() {
    {
      const std::lock_guard lock(mutex_);
      ended_ = true;
    }
    changed_.notify_all();
    thread_.join();
  }
  Painter(const Painter&) = delete;
  Painter& operator=(const Painter&) = delete;

  void begin(Work work) {
    {
      const std::lock_guard lock(mutex_);
      given_.push_back(std::move(work));
    }
    changed_.notify_all();
  }
  /// Waits for the answer.
  template <class Answer> Answer ask(const std::function<Answer(SpatialRenderer&)>& question) {
    std::promise<Answer> told;
    auto answer = told.get_future();
    begin([&](SpatialRenderer& r) { told.set_value(question(r)); });
    return answer.get();
  }

private:
  void paint() {
    std::unique_ptr<SpatialRenderer> renderer; // goes in the thread in which it came
    std::unique_lock lock(mutex_);
    while (true) {
      changed_.wait(lock, [&] { return ended_ || !given_.empty(); });
      if (ended_) return;
      const Work work = std::move(given_.front());
      given_.pop_front();
      lock.unlock();
      if (!renderer) renderer = std::make_unique<SpatialRenderer>(surface_);
      work(*renderer);
      lock.lock();
    }
  }

  QOffscreenSurface surface_;
  std::mutex mutex_;
  std::condition_variable changed_;
  std::deque<Work> given_;
  bool ended_ = false;
  std::thread thread_;
};

namespace {

QImage drawn_by(SpatialRenderer& renderer, const SpatialPicture& p) {
  return renderer.render(*p.scene, p.view, p.lamp, p.pixels, p.smooth);
}

} // namespace

SpatialPictures::SpatialPictures(QObject* parent) : QObject(parent), painter_(std::make_unique<Painter>()) {}

SpatialPictures::~SpatialPictures() = default;

void SpatialPictures::ask(SpatialPicture wanted) {
  next_.reset();
  if (!wanted.scene || wanted == (drawing_ ? *drawing_ : shown_)) return;
  next_ = std::move(wanted);
  if (!drawing_) begin_next();
}

void SpatialPictures::begin_next() {
  drawing_ = std::exchange(next_, std::nullopt);
  painter_->begin([this, wanted = *drawing_](SpatialRenderer& renderer) {
    QImage image = drawn_by(renderer, wanted);
    {
      const std::lock_guard lock(handing_over_);
      done_ = std::move(image);
    }
    QMetaObject::invokeMethod(this, &SpatialPictures::take, Qt::QueuedConnection);
  });
}

void SpatialPictures::take() {
  {
    const std::lock_guard lock(handing_over_);
    last_ = std::exchange(done_, QImage());
  }
  shown_ = *std::exchange(drawing_, std::nullopt);
  if (next_) begin_next();
  emit drawn();
}

QImage SpatialPictures::now(const SpatialPicture& wanted) {
  if (wanted == shown_) return last_;
  return painter_->ask<QImage>([&](SpatialRenderer& renderer) { return drawn_by(renderer, wanted); });
}

QString SpatialPictures::trouble() {
  return painter_->ask<QString>([](SpatialRenderer& renderer) { return renderer.trouble(); });
}

} // namespace uc::app
