// The stages of a collapse on a time line: a bar for each, from when to when it runs, clips as hatched bars below, and
// the strain in the paper on the way. Bars are dragged or moved by keys.
#pragma once

#include "collapse/closing_plan.h"

#include <QWidget>

#include <optional>
#include <vector>

namespace uc::app {

/// A strain as it is told; what no paper would notice is not told in digits.
QString strain_text(double strain);

class StageTimeline : public QWidget {
  Q_OBJECT
public:
  explicit StageTimeline(QWidget* parent = nullptr);
  /// `strain` is the greatest at even parts of the way.
  void show_plan(std::vector<StageSpan> stages, std::vector<ClipPlace> clips, std::vector<double> strain);
  void set_now(double part);
  [[nodiscard]] int rows() const { return static_cast<int>(stages_.size() + clips_.size()); }
  [[nodiscard]] int chosen() const { return chosen_; }
  [[nodiscard]] QRectF bar(int row) const;
  /// Peak strain while a stage runs.
  [[nodiscard]] double peak_in(const StageSpan& span) const;
  [[nodiscard]] QSize sizeHint() const override;

signals:
  void stages_changed(const std::vector<uc::StageSpan>& stages);
  void clips_changed(const std::vector<uc::ClipPlace>& clips);

protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void focusInEvent(QFocusEvent*) override { update(); }
  void focusOutEvent(QFocusEvent*) override { update(); }

private:
  enum class Hold { none, begin, whole, end };
  [[nodiscard]] QRectF area() const;
  [[nodiscard]] std::pair<double, double> span(int row) const;
  [[nodiscard]] QString name(int row) const;
  [[nodiscard]] Hold hold_at(int row, double x) const;
  void move_bar(int row, double from, double to);
  void choose(int row);
  void tell();
  void draw_strain(QPainter& p) const;
  void draw_row(QPainter& p, int row) const;

  std::vector<StageSpan> stages_;
  std::vector<ClipPlace> clips_;
  std::vector<double> strain_;
  double now_ = 0;
  int chosen_ = 0;
  Hold hold_ = Hold::none;
  double grabbed_ = 0; // part of the whole under the pointer when the bar was taken
  std::pair<double, double> before_;
};

} // namespace uc::app
