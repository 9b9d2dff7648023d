#include "shell/stage_places.h"

#include "stages/collapse/collapse_stage.h"
#include "stages/divide/divide_stage.h"
#include "stages/fold/fold_stage.h"
#include "stages/log/log_stage.h"
#include "stages/mark/mark_stage.h"
#include "stages/pattern/pattern_stage.h"
#include "stages/prove/prove_stage.h"
#include "stages/sheet/sheet_stage.h"
#include "stages/units/units_stage.h"

#include <QLineEdit>
#include <QStackedWidget>

namespace uc::app {
namespace {

void put_in_place(QStackedWidget* stack, int index, QWidget* widget) {
  const bool shown = stack->currentIndex() == index;
  QWidget* empty = stack->widget(index);
  stack->removeWidget(empty);
  delete empty;
  stack->insertWidget(index, widget);
  if (shown) stack->setCurrentIndex(index);
}

/// Enter gives the keyboard back to the paper, where single keys work, unless what was typed is refused: then the next
/// keys mend it.
void give_keyboard_back_on_enter(Stage* stage) {
  for (QLineEdit* edit : stage->choices()->findChildren<QLineEdit*>()) {
    QObject::connect(edit, &QLineEdit::textEdited, edit, [edit] { edit->setProperty("typing", true); });
    QObject::connect(edit, &QLineEdit::returnPressed, edit, [edit] { edit->setProperty("typing", false); });
    QObject::connect(
        edit, &QLineEdit::returnPressed, stage,
        [stage, edit] {
          BenchView* view = stage->view();
          if (view && edit->hasFocus() && !is_refused(*edit)) view->setFocus();
        },
        Qt::QueuedConnection);
  }
}

} // namespace

StagePlaces::StagePlaces(Workspace& workspace, QStackedWidget* choices, QStackedWidget* centre, QObject* parent)
    : QObject(parent), workspace_(workspace), choices_(choices), centre_(centre) {
  add<SheetStage>();
  add<DivideStage>();
  add<MarkStage>();
  add<PatternStage>();
  add<ProveStage>();
  add<CollapseStage>();
  add<UnitsStage>();
  add<FoldStage>();
  add<LogStage>();
  rest_.setInterval(0);
  connect(&rest_, &QTimer::timeout, this, &StagePlaces::make_next);
}

template <class Kind> void StagePlaces::add() {
  places_.push_back({Kind::key_of(), Kind::verb_of(), [this]() -> Stage* { return new Kind(workspace_, this); }});
  choices_->addWidget(new QWidget);
  centre_->addWidget(new QWidget);
}

int StagePlaces::index_of(const QString& key) const {
  for (int i = 0; i < count(); ++i) {
    if (place(i).key == key) return i;
  }
  return -1;
}

Stage* StagePlaces::at(int index) {
  Place& place = places_[static_cast<std::size_t>(index)];
  if (place.stage) return place.stage;
  place.stage = place.make();
  put_in_place(choices_, index, place.stage->choices());
  put_in_place(centre_, index, place.stage->centre());
  give_keyboard_back_on_enter(place.stage);
  emit came(index);
  return place.stage;
}

std::vector<Stage*> StagePlaces::made() const {
  std::vector<Stage*> out;
  for (const Place& p : places_) {
    if (p.stage) out.push_back(p.stage);
  }
  return out;
}

void StagePlaces::show(int index) {
  at(index);
  choices_->setCurrentIndex(index);
  centre_->setCurrentIndex(index);
}

void StagePlaces::make_rest_when_idle() { rest_.start(); }

void StagePlaces::make_next() {
  for (int i = 0; i < count(); ++i) {
    if (is_made(i)) continue;
    at(i);
    return;
  }
  rest_.stop();
}

} // namespace uc::app
