// A small drawing of the sheet as it lies, with the edge the ruler starts from and the way it is read.
#pragma once

#include "programme/programme.h"

#include <QWidget>

namespace uc::app {

class RulerGuide : public QWidget {
  Q_OBJECT
public:
  explicit RulerGuide(QWidget* parent = nullptr);
  /// The outline and both ends of the direction in sheet coordinates, and how the folder sees them. `name` is what lies
  /// at the start, in words.
  void show_start(const Polygon& outline, const std::vector<Segment>& start, const std::vector<Segment>& end,
                  const Isometry& view, const QString& name);
  /// Where the start and the other end are drawn, in pixels, for tests.
  [[nodiscard]] QPointF start_at() const;
  [[nodiscard]] QPointF end_at() const;

protected:
  void paintEvent(QPaintEvent* event) override;

private:
  [[nodiscard]] QPointF place(const Point& sheet) const;
  Polygon outline_;
  std::vector<Segment> start_, end_;
  Isometry view_;
  QString name_;
};

} // namespace uc::app
