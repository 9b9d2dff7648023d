// A choice among ways, drawn: what each costs against what matters. The best frontier is a line; a way is chosen by the
// mouse, by arrow keys along the plot, or by typing its number, and up to three are set side by side.
#pragma once

#include <QWidget>

#include <functional>
#include <vector>

namespace uc::app {

/// One way as the plot shows it.
struct PlottedWay {
  double effort = 0;  // across: creases, minutes, layers
  double matters = 0; // up, less is better: expected miss, strain, waste; drawn by its logarithm
  double weight = 0;  // 0 to 1, the size of its point
  bool exact = false;
  QString words; // what it is called and costs, for whoever cannot see the plot
};

class WayPlot : public QWidget {
  Q_OBJECT
public:
  static constexpr int most_compared = 3;

  explicit WayPlot(QWidget* parent = nullptr);
  /// What stands at the axes, and how a value of each is written.
  void set_axes(const QString& effort, std::function<QString(double)> effort_text, const QString& matters,
                std::function<QString(double)> matters_text);
  /// Shows these ways; the ones that are not `admitted` are drawn faint and cannot be chosen.
  void show_ways(std::vector<PlottedWay> ways);
  void admit(std::vector<char> admitted);
  void choose(int way);
  /// Sets a way beside the chosen one, or takes it away again.
  void compare(int way);
  [[nodiscard]] int count() const { return static_cast<int>(ways_.size()); }
  [[nodiscard]] int chosen() const { return chosen_; }
  /// The chosen way first.
  [[nodiscard]] std::vector<int> compared() const;
  /// Ways of the best frontier among those that are admitted, by effort.
  [[nodiscard]] const std::vector<int>& frontier() const { return frontier_; }
  [[nodiscard]] bool admitted(int way) const;
  [[nodiscard]] QPointF place_of(int way) const;
  /// The way whose point is nearest, -1 when none is within reach.
  [[nodiscard]] int way_at(const QPointF& at) const;
  [[nodiscard]] QSize sizeHint() const override { return {640, 210}; }

signals:
  void chosen_changed(int way);
  void compared_changed();

protected:
  void paintEvent(QPaintEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  void focusInEvent(QFocusEvent* event) override;
  void focusOutEvent(QFocusEvent* event) override;
  bool event(QEvent* event) override;

private:
  struct Axis {
    double low = 0;
    double high = 1;
  };
  [[nodiscard]] QRectF area() const;
  void settle();
  /// Where every point stands: at its effort, or a little beside it where others stand already.
  [[nodiscard]] std::vector<QPointF> places() const;
  void step(int by, bool along_frontier);
  void type(const QString& digits);
  void say();
  void draw_axes(QPainter& p) const;
  void draw_frontier(QPainter& p) const;
  void draw_ways(QPainter& p) const;

  std::vector<PlottedWay> ways_;
  std::vector<char> admitted_;
  std::vector<int> frontier_;
  std::vector<int> beside_;
  int chosen_ = -1;
  Axis effort_;
  Axis matters_; // logarithms to base 10
  QString effort_name_;
  QString matters_name_;
  std::function<QString(double)> effort_text_;
  std::function<QString(double)> matters_text_;
  QString typed_;
};

} // namespace uc::app
