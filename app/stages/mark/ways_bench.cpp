#include "stages/mark/ways_bench.h"

#include <QGridLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QSignalBlocker>
#include <QSlider>

#include <algorithm>

namespace uc::app {

WaysBench::WaysBench(QWidget* parent) : QWidget(parent), steps_(new QSlider(Qt::Horizontal)), step_text_(new QLabel) {
  auto* grid = new QGridLayout(this);
  grid->setContentsMargins(0, 0, 0, 0);
  grid->setSpacing(0);
  for (int i = 0; i < most; ++i) {
    const auto k = static_cast<std::size_t>(i);
    captions_[k] = new QLabel;
    captions_[k]->setAlignment(Qt::AlignCenter);
    captions_[k]->setProperty("role", "section");
    papers_[k] = new PaperView;
    sentences_[k] = new QLabel;
    sentences_[k]->setWordWrap(true);
    sentences_[k]->setAlignment(Qt::AlignHCenter | Qt::AlignTop);
    sentences_[k]->setContentsMargins(16, 0, 16, 2);
    sentences_[k]->setObjectName(QStringLiteral("way-sentence-%1").arg(i));
    grid->addWidget(captions_[k], 0, i);
    grid->addWidget(papers_[k], 1, i);
    grid->addWidget(sentences_[k], 2, i);
  }
  grid->setRowStretch(1, 1);
  auto* bar = new QWidget;
  auto* row = new QHBoxLayout(bar);
  row->setContentsMargins(16, 2, 16, 2);
  steps_->setObjectName("way-step");
  steps_->setAccessibleName(tr("Show the moves one by one"));
  steps_->setToolTip(tr("Show the moves one by one; at the right end stands the finished work"));
  steps_->setPageStep(1);
  step_text_->setMinimumWidth(110);
  row->addWidget(step_text_);
  row->addWidget(steps_, 1);
  grid->addWidget(bar, 3, 0, 1, most);
  connect(steps_, &QSlider::valueChanged, this, &WaysBench::draw);
  show_ways({}, {});
}

void WaysBench::show_ways(std::vector<Shown> shown, const TextStyle& style) {
  shown_ = std::move(shown);
  style_ = style;
  std::size_t longest = 0;
  for (const Shown& way : shown_) longest = std::max(longest, way.programme.moves.size());
  {
    const QSignalBlocker quiet(steps_);
    steps_->setRange(0, static_cast<int>(longest));
    steps_->setValue(static_cast<int>(longest));
  }
  draw();
}

std::vector<BenchView*> WaysBench::views() const {
  std::vector<BenchView*> all{papers_[0]};
  for (std::size_t i = 1; i < shown_.size(); ++i) all.push_back(papers_[i]);
  return all;
}

int WaysBench::move() const { return steps_->value() == steps_->maximum() ? -1 : steps_->value(); }

void WaysBench::show_move(int move) { steps_->setValue(move < 0 ? steps_->maximum() : move); }

QString WaysBench::sentence(int i) const { return sentences_[static_cast<std::size_t>(i)]->text(); }

void WaysBench::draw() {
  const int at = move();
  steps_->parentWidget()->setVisible(steps_->maximum() > 0);
  step_text_->setText(at < 0 ? tr("Finished") : tr("Move %1 of %2").arg(at + 1).arg(steps_->maximum()));
  for (std::size_t i = 0; i < papers_.size(); ++i) {
    const bool there = i < shown_.size();
    papers_[i]->setVisible(there || i == 0);
    static_cast<QGridLayout*>(layout())->setColumnStretch(static_cast<int>(i), there || i == 0 ? 1 : 0);
    captions_[i]->setVisible(there && shown_.size() > 1);
    sentences_[i]->setVisible(there && at >= 0);
    if (!there) continue;
    const Shown& way = shown_[i];
    captions_[i]->setText(way.caption);
    const bool done = at < 0 || at >= static_cast<int>(way.programme.moves.size());
    papers_[i]->show_figure(done ? way.finished : move_figure(way.programme, at));
    papers_[i]->set_marks(done ? way.marks : std::vector<PaperMark>{});
    sentences_[i]->setText(
        done ? tr("Finished.")
             : QString::fromStdString(ProgrammeTeller(way.programme, style_).text(static_cast<std::size_t>(at))));
  }
}

} // namespace uc::app
