// Pictures of a sheet in space, drawn by a thread of its own: where the processor stands in for a graphics card, a
// frame may take longer than the window can wait, the first one above all.
#pragma once

#include "widgets/spatial_scene.h"

#include <QImage>
#include <QObject>

#include <memory>
#include <mutex>
#include <optional>

namespace uc::app {

/// What a picture shows. The scene is shared, never changed.
struct SpatialPicture {
  std::shared_ptr<const SpatialScene> scene;
  SpatialView view;
  Lamp lamp;
  QSize pixels;
  bool smooth = true;

  friend bool operator==(const SpatialPicture& a, const SpatialPicture& b);
};

class SpatialPictures : public QObject {
  Q_OBJECT
public:
  explicit SpatialPictures(QObject* parent = nullptr);
  /// Waits for the picture that is being drawn.
  ~SpatialPictures() override;

  /// Draws in the background. What was asked before and is not begun is left out; `drawn` is told after each.
  void ask(SpatialPicture wanted);
  /// The last picture drawn and what it shows; null pictures where nothing can be drawn.
  [[nodiscard]] const QImage& last() const { return last_; }
  [[nodiscard]] const SpatialPicture& shown() const { return shown_; }
  /// Draws now and waits. Null when something failed.
  [[nodiscard]] QImage now(const SpatialPicture& wanted);
  /// Why there is no OpenGL; empty when there is.
  [[nodiscard]] QString trouble();

signals:
  void drawn();

private:
  class Painter;
  void begin_next();
  void take();

  std::mutex handing_over_;
  QImage done_; // handed over by the painter
  std::optional<SpatialPicture> drawing_;
  std::optional<SpatialPicture> next_;
  QImage last_;
  SpatialPicture shown_;
  std::unique_ptr<Painter> painter_; // the last: it ends before what it fills
};

} // namespace uc::app
