// What every view on the bench can do, whether it shows the sheet, a folded form or a solid: zoom to the pointer, pan,
// fit, be turned over and rotated, be copied as a picture. The window's keys and menus know only this.
#pragma once

#include "base/quantity.h"
#include "geometry/plane.h"

#include <QColor>
#include <QTransform>
#include <QWidget>

namespace uc::app {

/// Pixels of a copied picture to one of a plain screen.
constexpr double snapshot_ratio = 2;

class BenchView : public QWidget {
  Q_OBJECT
public:
  explicit BenchView(QWidget* parent = nullptr);

  void set_paper(const QColor& face, const QColor& underside);
  void set_unit(LengthUnit unit);
  /// How the folder has turned the view by hand, on top of how the work lies.
  void turn(bool from_behind, int quarter_turns);
  [[nodiscard]] bool from_behind() const { return from_behind_; }

  void zoom(double factor, const QPointF& about);
  void zoom_in() { zoom(1.25, rect().center()); }
  void zoom_out() { zoom(0.8, rect().center()); }
  void zoom_fit();
  [[nodiscard]] double zoom_factor() const { return zoom_; }
  /// Device position of a point of what is shown.
  [[nodiscard]] QPointF place(const Point& p) const;
  /// What the view shows, at twice the pixels of a plain screen.
  [[nodiscard]] virtual QImage snapshot();

protected:
  /// From what is shown, in mm with y up, to the device.
  [[nodiscard]] virtual QTransform transform() const = 0;
  /// Told after turn().
  virtual void turned() {}
  /// Told while the view is panned or zoomed.
  virtual void moving() {}
  /// A click that was no drag.
  virtual void clicked(const QPointF&) {}
  /// The pointer moves with no button held.
  virtual void hovered_at(const QPointF&) {}

  /// Lays `size` mm about `centre` into the widget, less the room its rims need, panned, zoomed and rotated.
  [[nodiscard]] QTransform fitted(const Point& centre, const Point& size, const QSizeF& rims, bool mirrored) const;
  [[nodiscard]] double fitted_scale(Point size, const QSizeF& rims) const;
  void draw_focus_ring(QPainter& p) const;

  void focusInEvent(QFocusEvent* event) override;
  void wheelEvent(QWheelEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;

  QColor face_{"#F3C98B"};
  QColor underside_{"#FCFAF5"};
  LengthUnit unit_ = LengthUnit::mm;
  bool from_behind_ = false;
  int quarters_ = 0;
  QPointF off_middle_; // where what is shown stands when nothing is panned, from the middle of the widget

private:
  double zoom_ = 1;
  QPointF pan_;
  QPointF drag_from_;
  bool dragging_ = false;
  bool moved_ = false;
  bool focus_ring_ = false;
};

} // namespace uc::app
