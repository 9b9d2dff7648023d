// The ways that are compared, drawn large on the bench: up to three papers side by side, finished or move by move.
#pragma once

#include "programme/text.h"
#include "widgets/paper_view.h"

#include <QWidget>

#include <array>

class QLabel;
class QSlider;

namespace uc::app {

class WaysBench : public QWidget {
  Q_OBJECT
public:
  static constexpr int most = 3;

  struct Shown {
    Figure finished;
    std::vector<PaperMark> marks;
    Programme programme;
    QString caption;
  };

  explicit WaysBench(QWidget* parent = nullptr);
  void show_ways(std::vector<Shown> shown, const TextStyle& style);
  [[nodiscard]] PaperView* paper(int i = 0) const { return papers_[static_cast<std::size_t>(i)]; }
  [[nodiscard]] int shown() const { return static_cast<int>(shown_.size()); }
  [[nodiscard]] std::vector<BenchView*> views() const;
  /// The move that is shown, from 0; -1 for the finished work.
  [[nodiscard]] int move() const;
  void show_move(int move);
  [[nodiscard]] QString sentence(int i) const;

private:
  void draw();

  std::array<PaperView*, most> papers_{};
  std::array<QLabel*, most> captions_{};
  std::array<QLabel*, most> sentences_{};
  QSlider* steps_;
  QLabel* step_text_;
  std::vector<Shown> shown_;
  TextStyle style_;
};

} // namespace uc::app
