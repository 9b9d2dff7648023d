// The families of units: how each would do for the solid, which is chosen, and those the folder describes.
#include "stages/units/units_stage.h"

#include "stages/units/own_unit_dialog.h"

#include <QComboBox>
#include <QLabel>
#include <QSignalBlocker>

#include <algorithm>

namespace uc::app {

void UnitsStage::show_ways() {
  const QSignalBlocker quiet(plot_);
  std::vector<PlottedWay> ways;
  int now = -1;
  for (const FamilyWay& w : answer_.ways) {
    if (w.family->name == answer_.key.job.family) now = static_cast<int>(ways.size());
    ways.push_back({w.paper_cm2, w.gape.together_mm, 0.4, w.gape.misfit_mm < 1e-6,
                    tr("%1: %2 cm² of paper, the last ring gapes %3")
                        .arg(translated(w.family->title))
                        .arg(w.paper_cm2, 0, 'f', 0)
                        .arg(workspace_.error(w.gape.together_mm))});
  }
  plot_->show_ways(std::move(ways));
  if (now >= 0) plot_->choose(now);
  QString text;
  for (const auto& [family, why] : answer_.refused) text += tr("%1.").arg(QString::fromStdString(why)) + "\n";
  refused_->setText(text.trimmed());
}

void UnitsStage::take_family(int way) {
  if (way < 0 || way >= static_cast<int>(answer_.ways.size())) return;
  const UnitFamily& family = *answer_.ways[static_cast<std::size_t>(way)].family;
  edit(tr("Choose the unit"), [&](UnitJob& j) { choose_family(j, family); });
}

/// Strips are as long as they come; a sheet of the other kind would be refused.
void UnitsStage::choose_family(UnitJob& job, const UnitFamily& family) const {
  const auto before = unit_family(job.family, job.own);
  if (!before || before->strips != family.strips || !unit_sheet(family, job.sheet))
    job.sheet = family.strips ? "strip:297x20mm" : "75mm";
  job.family = family.name;
}

void UnitsStage::fill_families() {
  const UnitJob& job = workspace_.document.project().units;
  if (family_->count() > 0 && listed_own_ == job.own) return;
  listed_own_ = job.own;
  family_->clear();
  for (const auto& f : all_unit_families(job.own))
    family_->addItem(translated(f->title), QString::fromStdString(f->name));
}

void UnitsStage::describe_own() {
  const UnitJob& job = workspace_.document.project().units;
  const auto now =
      std::find_if(job.own.begin(), job.own.end(), [&](const OwnFamily& f) { return f.name == job.family; });
  OwnUnitDialog dialog(now == job.own.end() ? OwnFamily{} : *now, choices_->window());
  if (dialog.exec() != QDialog::Accepted) return;
  const auto family = dialog.described();
  if (!family) return;
  const bool known =
      std::any_of(job.own.begin(), job.own.end(), [&](const OwnFamily& f) { return f.name == family->name; });
  if (!known && job.own.size() >= most_own_families)
    return workspace_.say(
        tr("This project describes %1 units, which is all it can; remove one first.").arg(job.own.size()));
  edit(tr("Describe a unit"), [&](UnitJob& j) {
    const auto same =
        std::find_if(j.own.begin(), j.own.end(), [&](const OwnFamily& f) { return f.name == family->name; });
    if (same != j.own.end())
      *same = *family;
    else
      j.own.push_back(*family);
    choose_family(j, as_unit_family(*family));
  });
}

void UnitsStage::remove_own() {
  edit(tr("Remove a unit"), [](UnitJob& j) {
    std::erase_if(j.own, [&](const OwnFamily& f) { return f.name == j.family; });
    if (unit_family(j.family, j.own)) return;
    j.family = UnitJob{}.family;
    j.sheet = UnitJob{}.sheet;
  });
}

} // namespace uc::app
