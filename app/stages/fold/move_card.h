// One move at arm's length: its drawing above, its sentence, what to check and the large buttons below. The drawing
// never gives way to the words: it keeps half of the height (two fifths of a low window), and the type is set as large
// as what is left allows.
#pragma once

#include <QWidget>

class QLabel;
class QPushButton;

namespace uc::app {

struct MoveWords {
  QString number;
  QString sentence;
  QString check;
  QString caution;
};

class MoveCard : public QWidget {
  Q_OBJECT
public:
  explicit MoveCard(QWidget* drawing);

  void say(const MoveWords& words);
  [[nodiscard]] QString sentence() const;
  [[nodiscard]] QPushButton* next() { return next_; }
  [[nodiscard]] QPushButton* back() { return back_; }

protected:
  void resizeEvent(QResizeEvent* event) override;

private:
  /// The largest type with which the words leave the drawing its room.
  void fit();

  QWidget* drawing_;
  QWidget* words_;
  QLabel* number_;
  QLabel* sentence_;
  QLabel* check_;
  QLabel* caution_;
  QPushButton* next_;
  QPushButton* back_;
  int points_ = 0; // of the sentence
};

} // namespace uc::app
