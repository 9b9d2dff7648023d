#include "widgets/field.h"

#include <QFocusEvent>
#include <QLabel>
#include <QLineEdit>
#include <QStyle>
#include <QTimer>
#include <QVBoxLayout>

namespace uc::app {

Field::Field(const QString& label, QWidget* editor, QWidget* parent) : QWidget(parent), editor_(editor) {
  auto* box = new QVBoxLayout(this);
  box->setContentsMargins(0, 0, 0, 4);
  box->setSpacing(3);
  auto* name = new QLabel(label, this);
  name->setBuddy(editor);
  QString plain = label;
  if (editor->accessibleName().isEmpty()) editor->setAccessibleName(plain.remove('&'));
  error_ = new QLabel(this);
  error_->setProperty("role", "error");
  error_->setWordWrap(true);
  error_->hide();
  box->addWidget(name);
  box->addWidget(editor);
  if (qobject_cast<QLineEdit*>(editor)) editor->installEventFilter(this);
  box->addWidget(error_);
}

void Field::set_error(const QString& sentence) {
  error_->setText(sentence.isEmpty() ? QString() : QStringLiteral("▲! ") + sentence);
  error_->setVisible(!sentence.isEmpty());
  editor_->setProperty("wrong", !sentence.isEmpty());
  editor_->setAccessibleDescription(sentence);
  editor_->style()->unpolish(editor_);
  editor_->style()->polish(editor_);
}

bool Field::eventFilter(QObject* watched, QEvent* event) {
  if (watched != editor_ || event->type() != QEvent::FocusOut) return QWidget::eventFilter(watched, event);
  const auto reason = static_cast<QFocusEvent*>(event)->reason();
  if (reason != Qt::TabFocusReason && reason != Qt::BacktabFocusReason) return false;
  // Whether the text is refused is known when the line itself has seen that it was left.
  QTimer::singleShot(0, this, [this] {
    auto* line = static_cast<QLineEdit*>(editor_);
    if (!is_refused(*line) || line->text() == kept_) return kept_.clear();
    kept_ = line->text();
    line->setFocus(Qt::OtherFocusReason);
  });
  return false;
}

QString Field::error() const { return error_->text(); }

bool is_refused(const QWidget& editor) {
  const QWidget* around = editor.parentWidget(); // several lines may share a field
  return editor.property("wrong").toBool() || (around && around->property("wrong").toBool());
}

void show_text(QLineEdit& line, const QString& text) {
  if (is_refused(line) || (line.hasFocus() && line.isModified() && line.property("typing").toBool())) return;
  if (line.text() != text) line.setText(text);
  line.setModified(false);
}

ChoicesColumn::ChoicesColumn(const QString& title) {
  setObjectName("choices");
  setWidgetResizable(true);
  setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  setFixedWidth(256);
  setAccessibleName(title);
  auto* content = new QWidget;
  layout_ = new QVBoxLayout(content);
  layout_->setContentsMargins(16, 12, 14, 12);
  layout_->setSpacing(4);
  auto* head = new QLabel(title, content);
  head->setProperty("role", "title");
  layout_->addWidget(head);
  setWidget(content);
}

void ChoicesColumn::add(QWidget* widget) { layout_->addWidget(widget); }

QWidget* ChoicesColumn::add_section(const QString& title) {
  auto* label = new QLabel(title);
  label->setProperty("role", "section");
  layout_->addWidget(label);
  return label;
}

void ChoicesColumn::add_hint(const QString& text) {
  auto* label = new QLabel(text);
  label->setProperty("role", "hint");
  label->setWordWrap(true);
  layout_->addWidget(label);
}

void ChoicesColumn::finish() { layout_->addStretch(1); }

} // namespace uc::app
