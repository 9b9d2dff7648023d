#include "stages/prove/precrease_choice.h"

#include <QCheckBox>
#include <QPushButton>
#include <QSignalBlocker>

namespace uc::app {

namespace {

QString short_title(CreaseSchool school) {
  return school == CreaseSchool::everything ? PrecreaseChoice::tr("everything")
         : school == CreaseSchool::needed   ? PrecreaseChoice::tr("needed only")
         : school == CreaseSchool::scored   ? PrecreaseChoice::tr("scored")
         : school == CreaseSchool::usual    ? PrecreaseChoice::tr("few moves")
                                            : PrecreaseChoice::tr("as you go");
}

} // namespace

PrecreaseChoice::PrecreaseChoice(Workspace& workspace, ChoicesColumn& choices, QObject* parent)
    : QObject(parent), workspace_(workspace), school_(new SchoolBox),
      both_ways_(new QCheckBox(tr("Work creases &both ways"))), show_(new QCheckBox(tr("Show what is &creased"))) {
  widgets_.push_back(choices.add_section(tr("PRE-CREASE")));
  school_->setObjectName("school");
  auto* field = new Field(tr("&How"), school_);
  both_ways_->setObjectName("crease-both-ways");
  both_ways_->setToolTip(tr("Each crease is folded to both sides, so that the collapse may choose; takes longer."));
  show_->setObjectName("show-creased");
  for (QWidget* w : std::initializer_list<QWidget*>{field, both_ways_, show_}) {
    choices.add(w);
    widgets_.push_back(w);
  }
  connect(school_, &QComboBox::activated, this, &PrecreaseChoice::changed);
  connect(both_ways_, &QCheckBox::toggled, this, [this] {
    offer(offered_);
    emit changed();
  });
  connect(show_, &QCheckBox::toggled, this, &PrecreaseChoice::changed);
  connect(&workspace_.document, &Document::changed, this, &PrecreaseChoice::load);
  connect(&workspace_.document, &Document::plans_changed, this, [this] {
    if (offered_) emit changed();
  });
  load();
}

PrecreaseSpec PrecreaseChoice::spec() const { return {school_->school(), both_ways_->isChecked()}; }

void PrecreaseChoice::load() {
  const PrecreaseSpec& chosen = workspace_.document.project().pre_crease;
  if (chosen == loaded_) return; // what is only looked at stays
  loaded_ = chosen;
  const QSignalBlocker quiet(both_ways_);
  school_->show_school(chosen.school);
  both_ways_->setChecked(chosen.both_ways);
  offer(offered_);
}

void PrecreaseChoice::offer(bool offered) {
  offered_ = offered;
  for (QWidget* w : widgets_) w->setVisible(offered);
  workspace_.document.compare_schools(offered ? std::optional(both_ways_->isChecked()) : std::nullopt);
}

std::shared_ptr<const Precrease> PrecreaseChoice::plan() const {
  const CreasePlan* known = workspace_.document.plan_of(spec());
  return known ? known->plan : nullptr;
}

bool PrecreaseChoice::shown_on_paper() const { return offered_ && show_->isChecked() && plan(); }

void PrecreaseChoice::write_ledger(Ledger& ledger) {
  if (!offered_) return;
  const CreasePlan* known = workspace_.document.plan_of(spec());
  ledger.section(
      tr("Pre-crease, %1").arg(short_title(known && known->plan ? known->plan->spec.school : spec().school)));
  if (!known && workspace_.document.planner().stopped()) {
    ledger.note(tr("Planning was stopped."));
    auto* again = new QPushButton(tr("Plan again"));
    again->setObjectName("plan-again");
    connect(again, &QPushButton::clicked, &workspace_.document, &Document::plan_creases);
    ledger.widget(again);
    return;
  }
  if (!known) {
    ledger.note(tr("Planning ..."));
    return;
  }
  const auto chosen = known->plan;
  if (!chosen) {
    ledger.caution(QString::fromStdString(known->why_not));
    return;
  }
  write_costs(ledger, *chosen);
  const Project& project = workspace_.document.project();
  if (project.pre_crease == spec() && folds_creases(folded_work(project))) {
    ledger.good(tr("It is in the programme; Fold begins with it."));
    auto* out = new QPushButton(tr("Take it out"));
    out->setObjectName("take-out");
    connect(out, &QPushButton::clicked, this, &PrecreaseChoice::take_out);
    ledger.widget(out);
  } else {
    auto* go = new QPushButton(tr("Send it to the programme"));
    go->setProperty("role", "go");
    go->setObjectName("send-creases");
    go->setShortcut(QKeySequence(Qt::CTRL | Qt::Key_Return));
    go->setToolTip(tr("Ctrl+Return"));
    connect(go, &QPushButton::clicked, this, &PrecreaseChoice::send);
    ledger.widget(go);
  }
  ledger.section(tr("The other ways"));
  for (const CreaseSchool school : all_schools) {
    const CreasePlan* of_school = workspace_.document.plan_of({school, both_ways_->isChecked()});
    if (school == chosen->spec.school || !of_school || !of_school->plan) continue;
    const auto& other = of_school->plan;
    ledger.line(short_title(school),
                tr("%1 moves, %2 min").arg(other->programme.moves.size()).arg(other->minutes, 0, 'f', 0),
                tr("At worst %1 off; %2 creased where the pattern has no crease.")
                    .arg(workspace_.error(other->worst_sigma_mm), workspace_.length(other->scar_mm)));
  }
}

void PrecreaseChoice::write_costs(Ledger& ledger, const Precrease& p) const {
  ledger.line(tr("moves"), QString::number(p.programme.moves.size()),
              p.turn_overs == 0 ? tr("The sheet is never turned over, and rotated %1 times.").arg(p.rotations)
              : p.turn_overs == 1
                  ? tr("The sheet is turned over once, and rotated %1 times.").arg(p.rotations)
                  : tr("The sheet is turned over %1 times, and rotated %2 times.").arg(p.turn_overs).arg(p.rotations));
  ledger.line(tr("time"), tr("%1 min").arg(p.minutes, 0, 'f', 0),
              p.worked_again == 0 ? tr("No crease is folded twice.")
                                  : tr("%1 creases are folded a second time, from the underside.").arg(p.worked_again));
  ledger.line(
      tr("worst line"), tr("± %1").arg(workspace_.error(p.worst_sigma_mm)),
      tr("Expected error at the worse end of its creases; %1 on average.").arg(workspace_.error(p.mean_sigma_mm)));
  ledger.line(tr("spare creases"), workspace_.length(p.scar_mm),
              tr("Length creased where the pattern has no crease, of %1 in all.").arg(workspace_.length(p.crease_mm)));
  if (p.measured > 0 && p.spec.school != CreaseSchool::scored)
    ledger.note(p.measured == 1
                    ? tr("1 line is marked with a ruler; no fold makes it exactly enough.")
                    : tr("%1 lines are marked with a ruler; no fold makes them exactly enough.").arg(p.measured));
  if (p.spec.school == CreaseSchool::scored)
    ledger.note(tr("Press with a blunt point along a metal ruler; scoring does not cut the paper."));
}

void PrecreaseChoice::send() {
  const PrecreaseSpec wanted = spec();
  const FoldedWork before = folded_work(workspace_.document.project());
  const QString wrong = workspace_.document.change(tr("Pre-crease the pattern"), [&](Project& p) {
    if (!folds_creases(p.folded)) p.folded = FoldedWork::creases;
    p.pre_crease = wanted;
  });
  if (!wrong.isEmpty()) {
    workspace_.say(wrong);
    return;
  }
  workspace_.say(tr("The programme now folds the pattern's creases in place of the grid.") + in_place_of(before));
}

void PrecreaseChoice::take_out() {
  workspace_.document.change(tr("Fold the grid again"), [](Project& p) { p.folded = FoldedWork::grid; });
}

} // namespace uc::app
