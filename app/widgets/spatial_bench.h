// A sheet in space on the bench: spun by dragging or with the arrow keys, zoomed, turned over, lit. A graphics card
// draws it into the window; where the processor has to stand in for one, a thread draws pictures with OpenGL, which
// leaves the rest of the window as quick as it is; without OpenGL the painter draws.
#pragma once

#include "widgets/bench_view.h"
#include "widgets/spatial_pictures.h"

#include <QTimer>

#include <functional>
#include <memory>

namespace uc::app {

class SpatialCanvas;

class SpatialBench : public BenchView {
  Q_OBJECT
public:
  explicit SpatialBench(QWidget* parent = nullptr);

  /// The sentence stands there instead when the scene is empty. `size_mm` is that of the flat sheet, which fits the
  /// view.
  void show_scene(SpatialScene scene, double size_mm, const QString& otherwise);
  void set_lamp(const Lamp& lamp);
  [[nodiscard]] const Lamp& lamp() const { return lamp_; }
  /// The lamp goes with the eye, over its left shoulder: nothing that is looked at lies in the dark.
  void set_lamp_at_eye(bool on) { lamp_at_eye_ = on; }
  void set_legend(const QStringList& lines);
  /// What stands in the corner in place of which side of a sheet is seen.
  void set_note(std::function<QString()> note) { note_ = std::move(note); }
  /// Turns what lies in a direction from the middle towards the eye.
  void look_along(const QVector3D& direction);
  void spin(double turn_deg, double tilt_deg);
  /// A picture with a transparent ground.
  [[nodiscard]] QImage still(const QSize& pixels);
  [[nodiscard]] bool draws_scene() const { return !scene_->triangles.empty(); }
  /// Whether what the bench shows is what it should show: pictures come a moment later.
  [[nodiscard]] bool up_to_date() const;
  /// Why OpenGL is not used; empty when it is.
  [[nodiscard]] QString trouble();
  /// Whether the sheet is drawn straight into the window: at first where there is a graphics card. Changing it when the
  /// window is shown makes the window anew.
  void draw_in_window(bool on);
  [[nodiscard]] QImage snapshot() override;
  [[nodiscard]] SpatialCanvas* canvas() const { return canvas_; }

protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;
  void moving() override { move_on(); }
  [[nodiscard]] QTransform transform() const override;

private:
  [[nodiscard]] SpatialView view_for(const QTransform& flat, double ratio) const;
  std::shared_ptr<const SpatialScene> scene_ = std::make_shared<SpatialScene>();
  double size_mm_ = 240;
  QVector3D middle_;
  QString otherwise_;
  QStringList legend_;
  std::function<QString()> note_;
  Lamp lamp_;
  bool lamp_at_eye_ = false;
  [[nodiscard]] Lamp lamp_for(const SpatialView& view) const;
  double turn_deg_ = -25;
  double tilt_deg_ = -50;
  QPointF spun_from_;
  bool spinning_ = false;
  QTimer at_rest_; // runs while something moves
  void move_on();
  [[nodiscard]] SpatialPictures& pictures();
  [[nodiscard]] SpatialPicture picture() const;
  [[nodiscard]] double pixel_ratio() const { return for_snapshot_ ? snapshot_ratio : devicePixelRatioF(); }
  void draw_scene(QPainter& p);
  void draw_words(QPainter& p) const;
  void show_canvas();
  SpatialPictures* pictures_ = nullptr; // made when the first sheet is drawn
  SpatialCanvas* canvas_ = nullptr;
  QWidget* over_ = nullptr;   // the canvas
  bool for_snapshot_ = false; // which has more pixels than the canvas
};

} // namespace uc::app
