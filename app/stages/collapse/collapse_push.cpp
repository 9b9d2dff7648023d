// Pushing a corner of the sheet over, and what becomes of it: a saddle goes through to its other shape.
#include "stages/collapse/collapse_stage.h"

#include <QCheckBox>
#include <QComboBox>
#include <QPushButton>
#include <QSignalBlocker>

#include "collapse/settling.h"

#include <QSlider>

#include <algorithm>
#include <cmath>
#include <utility>

namespace uc::app {
namespace {

constexpr std::size_t most_corners = 24;

/// Corners of the sheet, as places on it: where its raw edge turns.
std::vector<Point> corners_of(const CreasePattern& pattern) {
  std::vector<std::vector<Point>> along(pattern.vertices.size());
  for (const PatternEdge& e : pattern.edges) {
    if (e.kind != EdgeKind::raw) continue;
    const Point d =
        (pattern.vertices[static_cast<std::size_t>(e.to)] - pattern.vertices[static_cast<std::size_t>(e.from)])
            .normalized();
    along[static_cast<std::size_t>(e.from)].push_back(d);
    along[static_cast<std::size_t>(e.to)].push_back(-d);
  }
  std::vector<Point> out;
  for (std::size_t v = 0; v < along.size() && out.size() < most_corners; ++v)
    if (along[v].size() == 2 && along[v][0].dot(along[v][1]) > -1 + 1e-6) out.push_back(pattern.vertices[v]);
  return out;
}

} // namespace

void CollapseStage::build_push() {
  choices_->add_section(tr("PUSH A CORNER"));
  corner_ = new QComboBox;
  corner_->setObjectName("push-corner");
  corner_field_ = new Field(tr("Cor&ner, from the left and below"), corner_);
  choices_->add(corner_field_);
  push_ = new QPushButton(tr("Push it o&ver"));
  push_->setObjectName("push");
  push_->setToolTip(tr("The middle and the corner across are held, the corner is pushed to the other side, then all "
                       "hands let go. A pleated saddle goes over: its other legs stand up."));
  connect(push_, &QPushButton::clicked, this, &CollapseStage::push_corner);
  choices_->add(push_);
}

void CollapseStage::list_corners() {
  push_->setEnabled(before_let_go() && corner_->count() > 0 && !push_frames_.isActive());
  if (!frames_.drawn) return;
  const auto corners = corners_of(frames_.drawn->healed.pattern);
  QStringList names;
  for (const Point& c : corners) names << tr("%1, %2").arg(workspace_.length(c.x()), workspace_.length(c.y()));
  bool same = corner_->count() == names.size();
  for (int i = 0; same && i < names.size(); ++i) same = corner_->itemText(i) == names[i];
  if (same) return;
  const QSignalBlocker quiet(corner_);
  corner_->clear();
  for (int i = 0; i < names.size(); ++i) {
    const Point& c = corners[static_cast<std::size_t>(i)];
    corner_->addItem(names[i], QPointF(c.x(), c.y()));
  }
  push_->setEnabled(before_let_go() && corner_->count() > 0);
}

void CollapseStage::push_corner() {
  if (!before_let_go() || corner_->currentIndex() < 0 || pushing_.busy()) return;
  if (pushes_ >= most_pushes)
    return corner_field_->set_error(tr("It was pushed often enough; begin from another place."));
  corner_field_->set_error({});
  const QPointF at = corner_->currentData().toPointF();
  asked_ = {at.x(), at.y()};
  begin_push({at.x(), at.y()});
}

void CollapseStage::begin_push(const Point& at_mm) {
  const Pushed* over = pushed_over();
  pushing_.begin(
      [mesh = frames_.mesh, state = over ? over->after : *on_the_way(), stiffness = frames_.stiffness,
       wish = PushWish{at_mm, {}}](Progress& progress) {
        PushedOver out{mesh, state.part, {}, {}};
        auto made = pushed(*mesh, state, stiffness, wish, &progress);
        if (made)
          out.pushed = std::move(made).value();
        else if (!progress.stopped())
          out.error = made.error();
        return out;
      },
      waiting_->begin());
}

void CollapseStage::pushed_has_come(PushedOver pushed) {
  waiting_->end();
  const auto asked = std::exchange(asked_, std::nullopt);
  const CollapseState* on_way = on_the_way();
  if (!on_way || pushed.mesh != frames_.mesh || pushed.part != on_way->part) return; // of another state
  if (!pushed.pushed) {
    if (!pushed.error.empty())
      corner_field_->set_error(tr("To push it over, %1.").arg(QString::fromStdString(pushed.error)));
    // What the project holds is only what can be made.
    if (!asked) hold(tr("Leave out a push"), [this](HeldState& held) { held.pushed_mm.resize(pushes_); });
    return;
  }
  pushed_ = std::move(pushed);
  ++pushes_;
  push_frame_ = 0;
  push_frames_.start();
  if (asked)
    hold(tr("Push a corner over"), [&](HeldState& held) {
      held.pushed_mm.push_back(*asked);
      held.let_go = false; // it was of another shape
    });
  follow_held();
  show_state();
}

/// Changes the state that is held, the one that is shown.
void CollapseStage::hold(const QString& label, const std::function<void(HeldState&)>& edit) {
  change_plan(label, [&](ClosingPlan& plan) {
    HeldState held = plan.held.value_or(HeldState{});
    held.part = scrubber_->value() / 100.0;
    edit(held);
    plan.held = held.let_go || !held.pushed_mm.empty() ? std::optional(held) : std::nullopt;
  });
}

void CollapseStage::let_go_of_it(bool on) {
  hold(on ? tr("Let go of it") : tr("Hold it again"), [on](HeldState& held) { held.let_go = on; });
}

void CollapseStage::drop_held() {
  if (pushing_.busy() || resting_.busy()) waiting_->end();
  pushing_.give_up();
  resting_.give_up();
  push_frames_.stop();
  pushed_ = {};
  pushes_ = 0;
  asked_.reset();
  rested_ = {};
}

/// Brings about what the project holds, one thing after another: each comes back here when it is done.
void CollapseStage::follow_held() {
  const auto& held = workspace_.document.project().closing.held;
  const QSignalBlocker quiet(let_go_);
  let_go_->setChecked(held && held->let_go);
  if (!held) {
    if (!asked_) drop_held();
    return;
  }
  if (!current() || frames_.states.empty() || pushing_.busy()) return;
  const QSignalBlocker still(scrubber_);
  scrubber_->setValue(std::min(reached(), static_cast<int>(std::lround(100 * held->part))));
  if (pushes_ > held->pushed_mm.size() || (pushes_ > 0 && !pushed_over())) drop_held();
  if (pushes_ < held->pushed_mm.size()) {
    const auto [x, y] = held->pushed_mm[pushes_];
    return begin_push({x, y});
  }
  if (!held->let_go && resting_.busy()) {
    resting_.give_up();
    waiting_->end();
  }
  if (!held->let_go || rested() || resting_.busy()) return;
  const Pushed* over = pushed_over();
  resting_.begin(
      [mesh = frames_.mesh, state = over ? over->after : *on_the_way(), pushes = pushes_,
       stock = workspace_.document.project().stock](Progress& progress) {
        return LetGo{mesh, state.part, pushes, let_go(*mesh, state, stock, &progress)};
      },
      waiting_->begin());
}

const Pushed* CollapseStage::pushed_over() const {
  const CollapseState* on_way = on_the_way();
  const bool of_this = on_way && pushed_.pushed && pushed_.mesh == frames_.mesh && pushed_.part == on_way->part;
  return of_this ? &*pushed_.pushed : nullptr;
}

} // namespace uc::app
