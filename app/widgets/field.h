// What the choices of a stage are made of: titled fields that can say what is wrong with them, in a column.
#pragma once

#include <QScrollArea>
#include <QWidget>

class QLabel;
class QLineEdit;
class QVBoxLayout;

namespace uc::app {

/// A titled field of a choices column: label, editor, and room for the sentence that says what is wrong with it. Tab
/// does not leave a line whose text is refused, but for a second time.
class Field : public QWidget {
  Q_OBJECT
public:
  Field(const QString& label, QWidget* editor, QWidget* parent = nullptr);
  void set_error(const QString& sentence);
  [[nodiscard]] QString error() const;

protected:
  bool eventFilter(QObject* watched, QEvent* event) override;

private:
  QWidget* editor_;
  QLabel* error_;
  QString kept_; // the refused text that Tab was held at once
};

/// Puts the text that counts into a line, unless somebody is typing there or what they typed was refused: that stays
/// until it is mended.
void show_text(QLineEdit& line, const QString& text);
/// Whether what stands there was refused.
[[nodiscard]] bool is_refused(const QWidget& editor);

/// The column that choices() returns: scrollable, of fixed width.
class ChoicesColumn : public QScrollArea {
  Q_OBJECT
public:
  explicit ChoicesColumn(const QString& title);
  void add(QWidget* widget);
  QWidget* add_section(const QString& title);
  void add_hint(const QString& text);
  void finish();

private:
  QVBoxLayout* layout_;
};

} // namespace uc::app
