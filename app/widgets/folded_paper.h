// The folded form on the bench: opaque, see-through, or with its layers fanned apart so that their order can be read.
// The face under the pointer lights up, here and wherever the signal is listened to.
#pragma once

#include "base/quantity.h"
#include "pattern/folded_view.h"

#include <QColor>
#include <QTransform>
#include <QWidget>

namespace uc::app {

class FoldedPaper : public QWidget {
  Q_OBJECT
public:
  enum class Look { opaque, see_through, spread };
  explicit FoldedPaper(QWidget* parent = nullptr);

  /// What is shown; nothing with a null proof, and the sentence instead.
  void show_proof(std::shared_ptr<const PatternProof> proof, const QString& otherwise);
  void set_look(Look look);
  void set_from_behind(bool behind);
  void set_paper(const QColor& face, const QColor& underside);
  void set_unit(LengthUnit unit);
  /// A face to light up, -1 for none.
  void light(int face);
  [[nodiscard]] bool has_form() const { return proof_ != nullptr; }
  [[nodiscard]] int lit() const { return lit_; }
  [[nodiscard]] Look look() const { return look_; }
  [[nodiscard]] bool from_behind() const { return behind_; }
  /// The topmost face under a device position, -1 for none.
  [[nodiscard]] int face_at(const QPointF& at) const;
  /// The number of layers there.
  [[nodiscard]] int layers_at(const QPointF& at) const;
  [[nodiscard]] QPointF place(const Point& p) const;

signals:
  void hovered(int face, int layers);

protected:
  void paintEvent(QPaintEvent* event) override;
  void mouseMoveEvent(QMouseEvent* event) override;
  void leaveEvent(QEvent* event) override;
  void wheelEvent(QWheelEvent* event) override;
  void mousePressEvent(QMouseEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  bool event(QEvent* event) override;

private:
  void zoom(double factor, const QPointF& at);
  void step(int by);
  void prepare();
  [[nodiscard]] QTransform transform() const;
  [[nodiscard]] Point fanned(int level) const;
  void draw_opaque(QPainter& p, const QTransform& t) const;
  void draw_see_through(QPainter& p, const QTransform& t) const;
  void draw_spread(QPainter& p, const QTransform& t) const;
  void draw_thickest(QPainter& p, const QTransform& t) const;
  void draw_lit(QPainter& p, const QTransform& t) const;
  void draw_notes(QPainter& p, const QTransform& t) const;
  [[nodiscard]] QColor colour_of(bool coloured) const { return coloured ? face_ : underside_; }

  std::shared_ptr<const PatternProof> proof_;
  QString otherwise_;
  FoldedView view_;
  std::vector<LayeredFace> layers_;
  int levels_ = 1;
  Look look_ = Look::opaque;
  bool behind_ = false;
  QColor face_{"#F3C98B"};
  QColor underside_{"#FCFAF5"};
  LengthUnit unit_ = LengthUnit::mm;
  int lit_ = -1;
  double zoom_ = 1;
  QPointF pan_;
  QPointF drag_from_;
};

} // namespace uc::app
