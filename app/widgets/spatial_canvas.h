// The part of the window in which a graphics card draws a sheet in space. The pointer and the keys go to the bench it
// lies on.
#pragma once

#include "widgets/spatial_drawing.h"

#include <QOpenGLWidget>

#include <functional>

namespace uc::app {

class SpatialCanvas : public QOpenGLWidget {
  Q_OBJECT
public:
  struct Frame {
    const SpatialScene& scene;
    SpatialView view; // in device pixels
    Lamp lamp;
    QColor ground;
  };
  /// `frame` is asked for what is to be drawn.
  SpatialCanvas(QWidget* bench, std::function<Frame()> frame);
  ~SpatialCanvas() override;

  /// Why nothing can be drawn; empty while it can.
  [[nodiscard]] QString trouble() const { return trouble_; }
  [[nodiscard]] int frames_drawn() const { return frames_drawn_; }

signals:
  /// There is no context after all, or it was lost for good.
  void failed();

protected:
  void initializeGL() override;
  void paintGL() override;

private:
  void give_back();

  std::function<Frame()> frame_;
  SpatialDrawing drawing_;
  QString trouble_;
  int frames_drawn_ = 0;
};

} // namespace uc::app
