#include "widgets/waiting_strip.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QProgressBar>
#include <QPushButton>

namespace uc::app {

WaitingStrip::WaitingStrip(const QString& what, const QString& cancel_name)
    : what_(what), said_(new QLabel(what)), bar_(new QProgressBar) {
  setAttribute(Qt::WA_StyledBackground); // it may lie over what it waits for
  setProperty("role", "waiting");
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(16, 4, 16, 4);
  said_->setWordWrap(true); // a narrow column takes two lines
  row->addWidget(said_, 1);
  bar_->setAccessibleName(tr("Progress"));
  row->addWidget(bar_, 1);
  auto* stop = new QPushButton(tr("Cancel"));
  stop->setObjectName(cancel_name);
  connect(stop, &QPushButton::clicked, this, &WaitingStrip::cancel);
  row->addWidget(stop);
  look_.setInterval(100);
  connect(&look_, &QTimer::timeout, this, [this] {
    said_->setText(progress_->pass() > 1 ? tr("%1, attempt %2").arg(what_).arg(progress_->pass()) : what_);
    const int percent = static_cast<int>(100 * progress_->fraction());
    bar_->setRange(0, percent > 0 ? 100 : 0); // without a figure the bar only shows that work goes on
    bar_->setValue(percent);
    if (since_.elapsed() > 400) show();
  });
  hide();
}

std::shared_ptr<Progress> WaitingStrip::begin() {
  watch(std::make_shared<Progress>());
  return progress_;
}

void WaitingStrip::watch(std::shared_ptr<Progress> progress) {
  progress_ = std::move(progress);
  since_.start();
  look_.start();
}

void WaitingStrip::end() {
  look_.stop();
  hide();
}

void WaitingStrip::cancel() {
  if (progress_) progress_->cancel();
}

} // namespace uc::app
