#include "widgets/ledger.h"

#include "base/theme.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QScrollBar>
#include <QSet>
#include <QVBoxLayout>

namespace uc::app {

Ledger::Ledger(QWidget* parent) : QScrollArea(parent) {
  setObjectName("ledger");
  setWidgetResizable(true);
  setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  setFixedWidth(270);
  setAccessibleName(tr("Ledger"));
}

void Ledger::begin(const QString& title) {
  scrolled_ = title == title_ ? verticalScrollBar()->value() : 0;
  title_ = title;
  if (foot_) {
    foot_->hide();
    foot_->deleteLater(); // one of its buttons may have been pressed
  }
  foot_ = new QWidget(this);
  foot_->setObjectName("ledger-foot");
  foot_->setAttribute(Qt::WA_StyledBackground);
  auto* buttons = new QVBoxLayout(foot_);
  buttons->setContentsMargins(16, 8, 12, 12);
  buttons->setSpacing(8);
  content_ = new QWidget;
  layout_ = new QVBoxLayout(content_);
  layout_->setContentsMargins(16, 12, 12, 12);
  layout_->setSpacing(4);
  text(title, "title");
}

QLabel* Ledger::text(const QString& words, const char* role) {
  auto* label = new QLabel(words, content_);
  label->setProperty("role", QString::fromLatin1(role));
  label->setWordWrap(true);
  layout_->addWidget(label);
  return label;
}

void Ledger::section(const QString& title) { text(title, "section"); }
void Ledger::note(const QString& sentence) { text(sentence, "hint"); }

void Ledger::line(const QString& quantity, const QString& value, const QString& sum) {
  auto* row = new QWidget(content_);
  auto* box = new QHBoxLayout(row);
  box->setContentsMargins(0, 1, 0, 1);
  auto* result = new QLabel(value, row);
  result->setFont(text_font(10, QFont::DemiBold));
  result->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
  result->setWordWrap(value.size() > 18);
  if (sum.isEmpty()) {
    auto* name = new QLabel(quantity, row);
    name->setWordWrap(true);
    box->addWidget(name, 1);
    box->addWidget(result, value.size() > 18 ? 1 : 0);
    layout_->addWidget(row);
    return;
  }
  auto* why = new QLabel(sum, content_);
  why->setFont(mono_font(8));
  why->setProperty("role", "hint");
  why->setWordWrap(true);
  why->setVisible(unfolded_.contains(quantity));
  auto* open = new QPushButton(quantity, row);
  open->setProperty("role", "quiet");
  open->setStyleSheet("padding: 0px 2px 0px 0px; text-decoration: underline;");
  open->setToolTip(tr("Show the sum this comes from"));
  open->setAccessibleName(tr("%1: %2").arg(quantity, value));
  connect(open, &QPushButton::clicked, this, [this, why, quantity] {
    why->setVisible(!why->isVisible());
    if (why->isVisible())
      unfolded_.insert(quantity);
    else
      unfolded_.remove(quantity);
  });
  box->addWidget(open, 0);
  box->addStretch(1);
  box->addWidget(result);
  layout_->addWidget(row);
  layout_->addWidget(why);
}

void Ledger::caution(const QString& sentence) {
  auto* label = text(QStringLiteral("▲! ") + sentence, "error");
  label->setAccessibleName(tr("Caution: %1").arg(sentence));
}

void Ledger::good(const QString& sentence) {
  auto* label = text(QStringLiteral("✓ ") + sentence, "hint");
  label->setStyleSheet(QStringLiteral("color: %1;").arg(current_theme().good.name()));
}

void Ledger::widget(QWidget* widget) { foot_->layout()->addWidget(widget); }

void Ledger::finish() {
  layout_->addStretch(1);
  setWidget(content_);
  foot_->setVisible(foot_->layout()->count() > 0);
  place_foot();
  verticalScrollBar()->setValue(scrolled_);
}

void Ledger::place_foot() {
  const int height = foot_ && foot_->layout()->count() > 0 ? foot_->sizeHint().height() : 0;
  setViewportMargins(0, 0, 0, height);
  if (height > 0) foot_->setGeometry(0, this->height() - height, width(), height);
}

void Ledger::resizeEvent(QResizeEvent* event) {
  QScrollArea::resizeEvent(event);
  place_foot();
}

QString Ledger::plain_text() const {
  QStringList words;
  for (const QWidget* shown : {QScrollArea::widget(), foot_}) {
    if (!shown) continue;
    for (const QLabel* label : shown->findChildren<QLabel*>()) words << label->text();
    for (const QPushButton* button : shown->findChildren<QPushButton*>()) words << button->text();
  }
  return words.join('\n');
}

} // namespace uc::app
