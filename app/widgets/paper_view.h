// The paper on the bench: draws a figure to scale with its side up, rulers and scale bar; zooms, pans, turns over and
// tells what lies under the pointer. Every stage shows its work in one of these.
#pragma once

#include "base/theme.h"
#include "programme/figure.h"
#include "widgets/bench_view.h"

#include <QColor>
#include <QHash>
#include <QPixmap>
#include <QTimer>
#include <QTransform>
#include <QWidget>

#include <functional>

namespace uc {
struct FigurePlacing;
}

namespace uc::app {

/// A place marked on the paper: what is wanted, or what a route makes with its error as an ellipse.
struct PaperMark {
  Point at = Point::Zero();
  bool wanted = false;
  Eigen::Matrix2d covariance = Eigen::Matrix2d::Zero(); // mm²; zero for none
};

/// A place that can be dragged, and the way it moves.
struct PaperHandle {
  Point at = Point::Zero();
  Point along = Point::Zero();
  QString name;
};

class PaperView : public BenchView {
  Q_OBJECT
public:
  explicit PaperView(QWidget* parent = nullptr);

  void show_figure(Figure figure);
  [[nodiscard]] const Figure& figure() const { return figure_; }
  /// Colours per element that replace those of the line styles.
  void set_tints(QHash<int, QColor> tints);
  /// Areas drawn hatched, in sheet coordinates.
  void set_clean_areas(std::vector<Box> areas);
  /// A second outline drawn over the sheet, such as its exaggerated true shape.
  void set_ghost(Polygon ghost);
  /// Marks in sheet coordinates; error ellipses are drawn enlarged, and say how much.
  void set_marks(std::vector<PaperMark> marks);
  /// Lines of something else laid over the paper, in sheet coordinates.
  void set_laid_over(std::vector<Segment> lines);
  /// Places that can be dragged, in sheet coordinates.
  void set_handles(std::vector<PaperHandle> handles);
  [[nodiscard]] const std::vector<PaperHandle>& handles() const { return handles_; }
  /// Device position of a handle.
  [[nodiscard]] QPointF handle_place(int handle) const;
  /// Faces lit up, in sheet coordinates: quietly, or as a warning.
  void set_lit(std::vector<Polygon> faces, bool warning = false);
  /// Text for an element under the pointer; none when empty.
  void set_describer(std::function<QString(int)> describer) { describer_ = std::move(describer); }
  /// Without rulers and notes, and as large as there is room: for small pictures beside each other.
  void set_bare(bool bare) { bare_ = bare; }
  void set_legend(const QString& low, const QString& high, bool shown);

  /// Element of the crease nearest to a device position, 0 when none is within `reach` pixels.
  [[nodiscard]] int element_at(const QPointF& at, double reach = 6) const;
  [[nodiscard]] bool underside_up() const { return figure_.underside_up != from_behind_; }

signals:
  void element_clicked(int element);
  /// A click that was no drag, in sheet coordinates, with the length of ten pixels there.
  void paper_clicked(const uc::Point& at, double reach_mm);
  /// Where the pointer is over the paper, in sheet coordinates.
  void paper_hovered(const uc::Point& at);
  /// A handle is dragged to a place in sheet coordinates.
  void handle_moved(int handle, const uc::Point& at);
  void handle_let_go(int handle);

protected:
  void paintEvent(QPaintEvent* event) override;
  bool event(QEvent* event) override;
  [[nodiscard]] QTransform transform() const override;
  void turned() override;
  void moving() override;
  void clicked(const QPointF& at) override;
  void hovered_at(const QPointF& at) override;
  void mousePressEvent(QMouseEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void mouseReleaseEvent(QMouseEvent* event) override;

private:
  [[nodiscard]] double pixels_per_mm() const;
  [[nodiscard]] FigurePlacing placing(const QTransform& t) const;
  [[nodiscard]] Point on_sheet(const QPointF& at) const;
  [[nodiscard]] Box extent() const;
  [[nodiscard]] QSizeF rims() const;
  void draw_paper(QPainter& p, const QTransform& t) const;
  void draw_lit(QPainter& p, const QTransform& t) const;
  void draw_lines(QPainter& p, const QTransform& t) const;
  /// Many lines are drawn once and moved as a picture while the view is being panned or zoomed.
  void draw_kept_lines(QPainter& p, const QTransform& t);
  void draw_move(QPainter& p, const QTransform& t) const;
  void draw_number(QPainter& p, const QPointF& at, const QString& text) const;
  void draw_labels(QPainter& p, const QTransform& t) const;
  void draw_marks(QPainter& p, const QTransform& t) const;
  void draw_handles(QPainter& p, const QTransform& t) const;
  [[nodiscard]] int handle_at(const QPointF& at) const;
  void draw_rulers(QPainter& p, const QTransform& t) const;
  void draw_corner_note(QPainter& p) const;
  void draw_legend(QPainter& p) const;

  Figure figure_;
  QHash<int, QColor> tints_;
  std::vector<Box> clean_;
  Polygon ghost_;
  std::vector<PaperMark> marks_;
  std::vector<Segment> laid_over_;
  std::vector<PaperHandle> handles_;
  int held_ = -1; // the handle that is dragged
  int near_ = -1; // the one under the pointer
  std::vector<Polygon> lit_;
  bool lit_warns_ = false;
  bool bare_ = false;
  std::function<QString(int)> describer_;
  QString legend_low_;
  QString legend_high_;
  bool legend_ = false;
  QPixmap kept_;
  QTransform kept_at_;
  bool kept_valid_ = false;
  QTimer still_; // runs while the view moves
};

} // namespace uc::app
