#include "shell/notice_list.h"

#include <QEvent>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QStyle>
#include <QVBoxLayout>

#include <algorithm>

namespace uc::app {
namespace {

constexpr int bar_height = 40;

void clear(QLayout* layout) {
  while (QLayoutItem* item = layout->takeAt(0)) {
    if (item->widget()) item->widget()->hide(), item->widget()->deleteLater();
    delete item;
  }
}

} // namespace

NoticeList::NoticeList(QWidget* body) : QWidget(body) {
  setObjectName("notices");
  setAttribute(Qt::WA_StyledBackground);
  setFixedHeight(bar_height);
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(16, 0, 12, 0);
  row->setSpacing(8);
  text_ = new QLabel(this);
  text_->setWordWrap(true);
  text_->setTextFormat(Qt::PlainText);
  text_->setObjectName("newest-notice");
  row->addWidget(text_, 1);
  buttons_ = new QHBoxLayout;
  row->addLayout(buttons_);
  count_ = new QPushButton(this);
  count_->setObjectName("all-notices");
  count_->setToolTip(tr("Show or hide all notices"));
  connect(count_, &QPushButton::clicked, this, [this] {
    dismissed_ = is_open();
    set_open(!is_open());
  });
  row->addWidget(count_);

  panel_ = new QFrame(body);
  panel_->setObjectName("notice-panel");
  panel_->setAttribute(Qt::WA_StyledBackground);
  auto* box = new QVBoxLayout(panel_);
  box->setContentsMargins(0, 0, 0, 0);
  scroll_ = new QScrollArea(panel_);
  scroll_->setWidgetResizable(true);
  scroll_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  scroll_->setAccessibleName(tr("All notices"));
  auto* content = new QWidget;
  rows_ = new QVBoxLayout(content);
  rows_->setContentsMargins(16, 8, 12, 8);
  rows_->setSpacing(4);
  scroll_->setWidget(content);
  box->addWidget(scroll_);
  panel_->hide();
  body->installEventFilter(this);
  refresh();
}

void NoticeList::add(const QString& sentence, const QList<NoticeAction>& actions, const QString& key) {
  if (sentence.isEmpty()) return remove(key);
  const QString own = key.isEmpty() ? sentence : key;
  std::erase_if(notices_, [&](const Notice& n) { return n.key == own; });
  notices_.push_back({own, sentence, actions});
  dismissed_ = false;
  refresh();
}

void NoticeList::remove(const QString& key) {
  if (std::erase_if(notices_, [&](const Notice& n) { return n.key == key; }) > 0) refresh();
}

void NoticeList::leave_passing() {
  if (std::erase_if(notices_, [](const Notice& n) { return n.actions.isEmpty(); }) > 0) refresh();
}

void NoticeList::set_rest(const QString& text) {
  rest_ = text;
  if (notices_.empty()) refresh();
}

QStringList NoticeList::sentences() const {
  QStringList all;
  for (auto n = notices_.rbegin(); n != notices_.rend(); ++n) all << n->sentence;
  return all;
}

void NoticeList::fill(QHBoxLayout* row, const Notice& notice, QWidget* parent) {
  for (const NoticeAction& action : notice.actions) {
    auto* button = new QPushButton(action.label, parent);
    // Copies: the action may change the list, and with it this button.
    connect(button, &QPushButton::clicked, this, [this, key = notice.key, act = action.act] {
      remove(key);
      act();
    });
    row->addWidget(button);
    button->show();
  }
  auto* close = new QPushButton(tr("Close"), parent);
  close->setAccessibleName(tr("Close the notice: %1").arg(notice.sentence));
  connect(close, &QPushButton::clicked, this, [this, key = notice.key] { remove(key); });
  row->addWidget(close);
  close->show();
}

void NoticeList::refresh() {
  clear(buttons_);
  clear(rows_);
  newest_ = nullptr;
  setProperty("asks", !notices_.empty());
  style()->unpolish(this);
  style()->polish(this);
  if (notices_.empty()) {
    text_->setText(rest_);
    text_->setProperty("role", "hint");
    count_->hide();
    panel_->hide();
  } else {
    const Notice& newest = notices_.back();
    text_->setProperty("role", "");
    text_->setText(newest.sentence);
    text_->setToolTip(newest.sentence);
    fill(buttons_, newest, this);
    count_->setText(notices_.size() == 1 ? tr("1 notice") : tr("%1 notices").arg(notices_.size()));
    for (auto n = notices_.rbegin(); n != notices_.rend(); ++n) {
      auto* line = new QWidget;
      auto* row = new QHBoxLayout(line);
      row->setContentsMargins(0, 2, 0, 2);
      auto* words = new QLabel(n->sentence, line);
      words->setWordWrap(true);
      words->setTextFormat(Qt::PlainText);
      row->addWidget(words, 1);
      fill(row, *n, line);
      rows_->addWidget(line);
      line->show(); // at once, where the list is open
      if (n == notices_.rbegin()) newest_ = line;
    }
    rows_->addStretch(1);
  }
  setAccessibleName(text_->text());
  text_->style()->unpolish(text_);
  text_->style()->polish(text_);
  open_if_needed();
}

/// Whether the newest notice can be read whole in the bar.
bool NoticeList::fits() const {
  layout()->activate();
  const QRect room(0, 0, std::max(1, text_->width()), bar_height);
  return text_->fontMetrics().boundingRect(room, Qt::TextWordWrap, text_->text()).height() <= bar_height - 2;
}

void NoticeList::open_if_needed() {
  if (notices_.empty()) return panel_->hide();
  const bool hides =
      std::any_of(notices_.begin(), notices_.end() - 1, [](const Notice& n) { return !n.actions.isEmpty(); });
  const bool whole = fits();
  count_->setVisible(notices_.size() > 1 || !whole);
  newest_->setVisible(!whole || notices_.size() == 1); // else the bar shows it
  if ((hides || !whole) && !dismissed_)
    panel_->show();
  else if (notices_.size() == 1 && whole)
    panel_->hide();
  place_panel();
}

void NoticeList::set_open(bool open) {
  panel_->setVisible(open && !notices_.empty());
  place_panel();
}

void NoticeList::place_panel() {
  QWidget* body = parentWidget();
  rows_->activate();
  const int height = std::min(body->height() / 2, rows_->totalHeightForWidth(body->width()) + 2);
  panel_->setGeometry(0, y() - height, body->width(), height);
  panel_->raise();
}

void NoticeList::resizeEvent(QResizeEvent* event) {
  QWidget::resizeEvent(event);
  open_if_needed();
}

bool NoticeList::eventFilter(QObject* watched, QEvent* event) {
  if (watched == parentWidget() && (event->type() == QEvent::Resize || event->type() == QEvent::LayoutRequest))
    place_panel();
  return QWidget::eventFilter(watched, event);
}

} // namespace uc::app
