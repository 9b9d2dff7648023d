// One value varied: what becomes of several figures, each in a band of its own above one axis. The value there is now
// and one that is picked stand as upright lines; what the paper cannot take is hatched.
#pragma once

#include <QWidget>

#include <functional>
#include <optional>
#include <vector>

namespace uc::app {

struct SweepBand {
  QString name;
  std::function<QString(double)> text;        // of a figure
  std::vector<std::optional<double>> figures; // per value; none where it is not known
  std::optional<double> clean;                // below it the figure needs care
  std::optional<double> least;                // below it nothing can be folded
};

struct Sweep {
  QString axis;
  std::vector<double> values; // ascending
  std::function<QString(double)> text;
  bool whole = false; // nothing lies between two values
  int now = -1;       // place in `values` of the one there is
  std::vector<SweepBand> bands;
  std::vector<QString> refused; // per value; empty where it can be drawn
};

class SweepPlot : public QWidget {
  Q_OBJECT
public:
  explicit SweepPlot(QWidget* parent = nullptr);
  void show_sweep(Sweep sweep);
  [[nodiscard]] const Sweep& sweep() const { return sweep_; }
  /// Place in the values of the picked one, -1 for none.
  [[nodiscard]] int picked() const { return picked_; }
  void pick(int place);
  [[nodiscard]] double across(int place) const;
  [[nodiscard]] QSize sizeHint() const override { return {640, 280}; }

signals:
  void picked_changed(int place);
  /// The picked value is wanted: Enter, or a double click.
  void taken(int place);

protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseDoubleClickEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void focusInEvent(QFocusEvent* event) override;
  void focusOutEvent(QFocusEvent* event) override;

private:
  [[nodiscard]] QRectF area() const;
  [[nodiscard]] double x_of(double value) const;
  [[nodiscard]] std::vector<double> ticks() const;
  [[nodiscard]] int place_at(double x) const;
  void say();
  void draw_band(QPainter& p, const SweepBand& band, const QRectF& room) const;
  void draw_limits(QPainter& p, const SweepBand& band, const QRectF& room,
                   const std::function<double(double)>& y) const;
  void draw_axis(QPainter& p) const;
  void draw_standing(QPainter& p) const;

  Sweep sweep_;
  int picked_ = -1;
};

} // namespace uc::app
