// A sheet in space drawn with OpenGL into a picture, which needs no window.
#pragma once

#include "widgets/spatial_scene.h"

#include <QImage>

#include <memory>

class QOffscreenSurface;

namespace uc::app {

/// Whether there is a graphics card that OpenGL uses; asked once. Where there is none, the processor draws or nothing
/// does.
bool graphics_card_draws();

/// Lives and draws in the thread that makes it. The surface has to be made in the interface's and to outlive it.
class SpatialRenderer {
public:
  explicit SpatialRenderer(QOffscreenSurface& surface);
  ~SpatialRenderer();
  SpatialRenderer(const SpatialRenderer&) = delete;
  SpatialRenderer& operator=(const SpatialRenderer&) = delete;

  /// Why there is no context; empty when there is one.
  [[nodiscard]] QString trouble() const;
  /// Transparent where there is no paper. Null when something failed.
  /// `smooth` edges take twice as long: they can wait until nothing moves.
  [[nodiscard]] QImage render(const SpatialScene& scene, const SpatialView& view, const Lamp& lamp, const QSize& pixels,
                              bool smooth = true);

private:
  struct Device;
  std::unique_ptr<Device> device_;
};

} // namespace uc::app
