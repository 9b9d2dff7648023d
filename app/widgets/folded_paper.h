// The folded form on the bench: opaque, see-through, or with its layers fanned apart so that their order can be read.
// The face under the pointer lights up, here and wherever the signal is listened to.
#pragma once

#include "pattern/folded_view.h"
#include "widgets/bench_view.h"

namespace uc::app {

class FoldedPaper : public BenchView {
  Q_OBJECT
public:
  enum class Look { opaque, see_through, spread };
  explicit FoldedPaper(QWidget* parent = nullptr);

  /// What is shown; nothing with a null proof, and the sentence instead.
  void show_proof(std::shared_ptr<const PatternProof> proof, const QString& otherwise);
  void set_look(Look look);
  /// A face to light up, -1 for none.
  void light(int face);
  [[nodiscard]] bool has_form() const { return proof_ != nullptr; }
  [[nodiscard]] int lit() const { return lit_; }
  [[nodiscard]] Look look() const { return look_; }
  /// The topmost face under a device position, -1 for none.
  [[nodiscard]] int face_at(const QPointF& at) const;
  /// The number of layers there.
  [[nodiscard]] int layers_at(const QPointF& at) const;

signals:
  void hovered(int face, int layers);

protected:
  void paintEvent(QPaintEvent* event) override;
  void leaveEvent(QEvent* event) override;
  void keyPressEvent(QKeyEvent* event) override;
  [[nodiscard]] QTransform transform() const override;
  void turned() override { prepare(); }
  void hovered_at(const QPointF& at) override;

private:
  void step(int by);
  void prepare();
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
  int lit_ = -1;
};

} // namespace uc::app
