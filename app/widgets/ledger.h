// The arithmetic beside the drawing: quantities with units, the sum each comes from on demand, and cautions with their
// own sign. What can be done stands at its foot, where it keeps its place however many lines there are.
#pragma once

#include <QScrollArea>
#include <QSet>

class QVBoxLayout;
class QLabel;

namespace uc::app {

class Ledger : public QScrollArea {
  Q_OBJECT
public:
  explicit Ledger(QWidget* parent = nullptr);

  /// Begins a new content; ends with finish(). Lines that were unfolded stay unfolded.
  void begin(const QString& title);
  void section(const QString& title);
  void line(const QString& quantity, const QString& value, const QString& sum = {});
  void caution(const QString& sentence);
  void good(const QString& sentence);
  void note(const QString& sentence);
  /// Adds a button or the like to the foot.
  void widget(QWidget* widget);
  void finish();

  /// All that is written, for tests and for the screen reader.
  [[nodiscard]] QString plain_text() const;

protected:
  void resizeEvent(QResizeEvent* event) override;

private:
  QLabel* text(const QString& words, const char* role);
  void place_foot();
  QWidget* content_ = nullptr;
  QVBoxLayout* layout_ = nullptr;
  QWidget* foot_ = nullptr;
  QString title_;
  int scrolled_ = 0; // kept while the same is written again
  QSet<QString> unfolded_;
};

} // namespace uc::app
