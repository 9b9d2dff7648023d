// One way to a mark as a card: a small drawing of the finished marks and what it costs. Cards stand in a row; one is
// up.
#pragma once

#include "programme/figure.h"

#include <QAbstractButton>
#include <QScrollArea>

#include <vector>

namespace uc::app {

class RouteCard : public QAbstractButton {
  Q_OBJECT
public:
  struct Face {
    QString group;     // written above the first of a group
    QString title;     // "3 creases, 2 pinches"
    QString exactness; // "exact" or "0.02 mm off"
    QString hand;      // "hand 0.31 mm"
    bool exact = false;
    Figure figure;
    Polygon cut; // the piece that remains, empty when nothing is cut
  };
  RouteCard(Face face, const QColor& paper, QWidget* parent);
  [[nodiscard]] const Face& face() const { return face_; }
  [[nodiscard]] QSize sizeHint() const override { return {172, 176}; }

protected:
  void paintEvent(QPaintEvent* event) override;

private:
  void draw_figure(QPainter& p, const QRectF& room) const;
  Face face_;
  QColor paper_;
};

class CardRow : public QScrollArea {
  Q_OBJECT
public:
  explicit CardRow(QWidget* parent = nullptr);
  void show_cards(std::vector<RouteCard::Face> faces, const QColor& paper, int current);
  [[nodiscard]] int count() const { return static_cast<int>(cards_.size()); }
  [[nodiscard]] RouteCard* card(int i) const { return cards_[static_cast<std::size_t>(i)]; }
  void choose(int i);

signals:
  void chosen(int card);

protected:
  bool eventFilter(QObject* watched, QEvent* event) override;

private:
  QWidget* content_;
  std::vector<RouteCard*> cards_;
};

} // namespace uc::app
