// The expected error of every line as a row of stems, one group per direction, coloured as the lines on the paper.
#pragma once

#include "divide/division.h"

#include <QWidget>

#include <functional>

namespace uc::app {

class ErrorPlot : public QWidget {
  Q_OBJECT
public:
  explicit ErrorPlot(QWidget* parent = nullptr);
  void show_division(const Division& division, std::function<QString(double)> error_text);
  /// Nothing is known yet.
  void clear();

protected:
  void paintEvent(QPaintEvent* event) override;
  bool event(QEvent* event) override;

private:
  struct Stem {
    QString name;
    double sigma_mm;
  };
  [[nodiscard]] QRectF field() const;
  [[nodiscard]] double top_value() const;
  std::vector<std::vector<Stem>> groups_;
  double worst_ = 0;
  double mean_ = 0;
  double hand_ = 0.25;
  std::function<QString(double)> error_text_;
};

} // namespace uc::app
