#include "stages/fold/move_card.h"

#include <QBoxLayout>
#include <QLabel>
#include <QPushButton>

#include <algorithm>
#include <array>

namespace uc::app {
namespace {

constexpr int between = 4;                                    // one text and the next
constexpr int low_window = 520;                               // of this many pixels or fewer
constexpr std::array sentence_points{20, 18, 16, 14, 12, 11}; // 20 can be read across the table
constexpr std::array check_points{12, 12, 12, 11, 10, 9};

QLabel* wrapped() {
  auto* label = new QLabel;
  label->setWordWrap(true);
  return label;
}

} // namespace

MoveCard::MoveCard(QWidget* drawing)
    : drawing_(drawing), words_(new QWidget), number_(new QLabel), sentence_(wrapped()), check_(wrapped()),
      caution_(wrapped()), next_(new QPushButton(tr("Next"))), back_(new QPushButton(tr("Back"))) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(0, 0, 0, 0);
  column->setSpacing(0);
  column->addWidget(drawing_, 1);
  column->addWidget(words_);
  auto* row = new QHBoxLayout(words_);
  row->setContentsMargins(24, 8, 20, 14);
  row->setSpacing(18);
  auto* said = new QVBoxLayout;
  said->setSpacing(between);
  number_->setProperty("role", "section");
  sentence_->setObjectName("sentence");
  sentence_->setAlignment(Qt::AlignLeft | Qt::AlignVCenter);
  check_->setObjectName("check");
  caution_->setProperty("role", "error");
  said->addWidget(number_);
  said->addWidget(sentence_, 1);
  said->addWidget(check_);
  said->addWidget(caution_);
  row->addLayout(said, 1);
  auto* buttons = new QVBoxLayout;
  next_->setProperty("role", "go");
  next_->setObjectName("next");
  next_->setStyleSheet("font-size: 20pt;");
  next_->setToolTip(tr("Space or Page Down"));
  back_->setObjectName("back");
  back_->setToolTip(tr("Page Up"));
  buttons->addStretch(1);
  buttons->addWidget(next_);
  buttons->addWidget(back_);
  row->addLayout(buttons);
}

QString MoveCard::sentence() const { return sentence_->text(); }

void MoveCard::say(const MoveWords& words) {
  if (number_->text() == words.number && sentence_->text() == words.sentence && check_->text() == words.check &&
      caution_->text() == words.caution)
    return;
  number_->setText(words.number);
  sentence_->setText(words.sentence);
  check_->setText(words.check);
  caution_->setText(words.caution);
  check_->setVisible(!words.check.isEmpty());
  caution_->setVisible(!words.caution.isEmpty());
  fit();
}

void MoveCard::resizeEvent(QResizeEvent* event) {
  QWidget::resizeEvent(event);
  fit();
}

void MoveCard::fit() {
  const bool low = height() <= low_window;
  const int button = width() < 600 ? 120 : 150;
  next_->setFixedSize(button, low ? 76 : 92);
  back_->setFixedWidth(button);
  const QMargins rim = words_->layout()->contentsMargins();
  const int across = width() - rim.left() - rim.right() - words_->layout()->spacing() - button;
  if (across <= 0) return;
  const int room = static_cast<int>(height() * (low ? 0.6 : 0.5));
  const auto needed = [&](std::size_t k) {
    const auto high = [&](const QLabel* label, int points, int weight) {
      if (label->text().isEmpty()) return 0;
      QFont font = label->font();
      font.setPointSize(points);
      font.setWeight(static_cast<QFont::Weight>(weight));
      return QFontMetrics(font).boundingRect(0, 0, across, 10000, Qt::TextWordWrap, label->text()).height() + between +
             4;
    };
    return rim.top() + rim.bottom() + number_->sizeHint().height() + 2 * between +
           high(sentence_, sentence_points[k], QFont::Medium) + high(check_, check_points[k], QFont::Normal) +
           high(caution_, 10, QFont::Normal);
  };
  std::size_t k = 0;
  while (k + 1 < sentence_points.size() && needed(k) > room) ++k;
  if (points_ != sentence_points[k]) {
    points_ = sentence_points[k];
    sentence_->setStyleSheet(QStringLiteral("font-size: %1pt; font-weight: 500;").arg(points_));
    check_->setStyleSheet(QStringLiteral("font-size: %1pt;").arg(check_points[k]));
  }
  // The words stand in one place whatever they say, so that Next does not move under the pointer: as much as two lines
  // of the largest type need, more only where more is said.
  words_->setFixedHeight(std::clamp(needed(k), std::min(room, low ? 160 : 190), std::max(room, 1)));
}

} // namespace uc::app
