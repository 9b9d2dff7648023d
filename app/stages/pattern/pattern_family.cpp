// The family that draws: chosen, its values changed by field, slider, handle or from the wanted size.
#include "stages/pattern/pattern_stage.h"

#include "project/piece.h"
#include "stages/pattern/family_gallery.h"
#include "stages/pattern/size_wish.h"

#include <QComboBox>
#include <QPushButton>
#include <QSignalBlocker>

#include <cmath>

namespace uc::app {

void PatternStage::choose_family(int index) {
  const auto& family = workspace_.document.project().pattern.family;
  if (index == 0) {
    if (family) turn_into_rules();
    return;
  }
  const PatternFamily& chosen = pattern_families()[static_cast<std::size_t>(index) - 1];
  if (family && family->name == chosen.name) return;
  // What was drawn by hand comes back with Undo.
  change(tr("Choose a family"),
         [&](PatternDesign& d) { d = family_design(chosen.name, normal_choice(chosen).values); });
}

void PatternStage::browse_families() {
  const auto& family = workspace_.document.project().pattern.family;
  FamilyGallery gallery(family ? QString::fromStdString(family->name) : QString(), choices_->window());
  if (gallery.exec() != QDialog::Accepted) return;
  const auto& all = pattern_families();
  const PatternFamily* chosen = find_pattern_family(gallery.chosen().toStdString());
  if (chosen) choose_family(static_cast<int>(chosen - all.data()) + 1);
}

void PatternStage::set_parameter(const QString& name, double value) {
  // Steps of one parameter are one step of undo; another parameter begins another.
  const int merge = 0x5046'0000 | static_cast<int>(qHash(name) & 0xFFFF);
  const QString wrong = workspace_.document.change(
      tr("Change %1").arg(name),
      [&](Project& p) {
        if (!p.pattern.family) return;
        p.pattern.family->values[name.toStdString()] = value;
        p.pattern.directions.clear(); // they were found for other creases
      },
      merge);
  if (!wrong.isEmpty()) workspace_.say(wrong);
}

void PatternStage::take_settings(const SizedFamily& settings) {
  const QString wrong = workspace_.document.change(tr("Change the settings"), [&](Project& p) {
    p.pattern.family = settings.choice;
    p.pattern.directions.clear();
    if (settings.sheet.code() == drawn_sheet(p).code() || settings.sheet.code() == p.sheet.code()) return;
    p.sheet = settings.sheet;
    p.sheet_name = settings.sheet.code();
    p.trueness.reset(); // it was measured of another sheet
  });
  if (!wrong.isEmpty()) workspace_.say(wrong);
}

void PatternStage::find_handles() {
  const Project& p = workspace_.document.project();
  const auto choice = p.pattern.family ? completed(*p.pattern.family) : Result<FamilyChoice>(Error{""});
  if (!choice || workspace_.document.drawing()) return show_handles({});
  finding_handles_.begin([now = SizedFamily{*choice, drawn_sheet(p)},
                          drawn = workspace_.document.pattern()](Progress&) { return handles_of(now, *drawn); });
}

void PatternStage::show_handles(std::vector<FamilyHandle> found) {
  handles_ = std::move(found);
  std::vector<PaperHandle> shown;
  const auto& family = workspace_.document.project().pattern.family;
  const PatternFamily* all = family ? find_pattern_family(family->name) : nullptr;
  for (const FamilyHandle& h : handles_) {
    const Parameter* parameter = all ? all->parameter(h.parameter) : nullptr;
    if (parameter) shown.push_back({h.at, h.per_unit, tr(parameter->title.c_str())});
  }
  if (shown.size() != handles_.size()) shown.clear(), handles_.clear();
  paper_->set_handles(std::move(shown));
}

/// Follows the pointer to first order: the drawing that comes brings the handle's own place.
void PatternStage::drag_handle(int handle, const Point& at) {
  if (handle < 0 || static_cast<std::size_t>(handle) >= handles_.size()) return;
  FamilyHandle& held = handles_[static_cast<std::size_t>(handle)];
  const double value = held.value_at(at);
  if (std::abs(value - held.value) < 1e-12) return;
  held.at += (value - held.value) * held.per_unit;
  held.value = value;
  set_parameter(QString::fromStdString(held.parameter), value);
}

void PatternStage::turn_into_rules() {
  const Project& p = workspace_.document.project();
  const auto made = resolved(p.pattern, drawn_sheet(p).outline());
  if (!made) return workspace_.say(QString::fromStdString(made.error()));
  change(tr("Turn the family into rules"), [&](PatternDesign& d) { d = made->design; });
}

void PatternStage::load_family() {
  const Project& p = workspace_.document.project();
  const PatternFamily* family = p.pattern.family ? find_pattern_family(p.pattern.family->name) : nullptr;
  const QSignalBlocker quiet(family_);
  family_->setCurrentIndex(family ? static_cast<int>(family - pattern_families().data()) + 1 : 0);
  for (QWidget* w : std::initializer_list<QWidget*>{parameters_, wish_, into_rules_}) w->setVisible(family);
  by_rule_->setVisible(!family);
  if (family)
    parameters_->show_values(QString::fromStdString(family->name), family->parameters, p.pattern.family->values);
}

} // namespace uc::app
