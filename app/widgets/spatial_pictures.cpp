#include "widgets/spatial_pictures.h"

#include "widgets/spatial_drawing.h"
#include "widgets/spatial_renderer.h"

#include <QOffscreenSurface>
#include <QThread>

#include <utility>

namespace uc::app {

bool operator==(const SpatialPicture& a, const SpatialPicture& b) {
  return a.scene == b.scene && a.pixels == b.pixels && a.smooth == b.smooth && a.view.to_device == b.view.to_device &&
         a.view.middle == b.view.middle && a.view.reach_mm == b.view.reach_mm && a.lamp == b.lamp;
}

/// The renderer in its thread, made there with the first picture. The surface has to be made where the window is.
class SpatialPictures::Painter : public QObject {
public:
  Painter() {
    surface_.setFormat(spatial_format());
    surface_.create();
  }
  QImage draw(const SpatialPicture& p) { return renderer().render(*p.scene, p.view, p.lamp, p.pixels, p.smooth); }
  QString trouble() { return renderer().trouble(); }
  void put_away() { renderer_.reset(); }

private:
  SpatialRenderer& renderer() {
    if (!renderer_) renderer_ = std::make_unique<SpatialRenderer>(surface_);
    return *renderer_;
  }
  QOffscreenSurface surface_;
  std::unique_ptr<SpatialRenderer> renderer_;
};

SpatialPictures::SpatialPictures(QObject* parent) : QObject(parent), thread_(new QThread(this)), painter_(new Painter) {
  painter_->moveToThread(thread_);
  thread_->start();
}

SpatialPictures::~SpatialPictures() {
  QMetaObject::invokeMethod(
      painter_, [this] { painter_->put_away(); }, Qt::BlockingQueuedConnection);
  thread_->quit();
  thread_->wait();
  delete painter_;
}

void SpatialPictures::ask(SpatialPicture wanted) {
  next_.reset();
  if (!wanted.scene || wanted == (drawing_ ? *drawing_ : shown_)) return;
  next_ = std::move(wanted);
  if (!drawing_) begin_next();
}

void SpatialPictures::begin_next() {
  drawing_ = std::exchange(next_, std::nullopt);
  QMetaObject::invokeMethod(painter_, [this, wanted = *drawing_] {
    QImage image = painter_->draw(wanted);
    QMetaObject::invokeMethod(this, [this, image = std::move(image)] {
      last_ = image;
      shown_ = *std::exchange(drawing_, std::nullopt);
      if (next_) begin_next();
      emit drawn();
    });
  });
}

QImage SpatialPictures::now(const SpatialPicture& wanted) {
  if (wanted == shown_) return last_;
  QImage image;
  QMetaObject::invokeMethod(
      painter_, [&] { image = painter_->draw(wanted); }, Qt::BlockingQueuedConnection);
  return image;
}

QString SpatialPictures::trouble() {
  QString told;
  QMetaObject::invokeMethod(
      painter_, [&] { told = painter_->trouble(); }, Qt::BlockingQueuedConnection);
  return told;
}

} // namespace uc::app
