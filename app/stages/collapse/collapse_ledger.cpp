// The arithmetic of a collapse: the state that is shown, the whole way, and what helps the paper to keep its shape.
#include "stages/collapse/collapse_stage.h"

#include "collapse/closed_size.h"
#include "collapse/closing_programme.h"
#include "collapse/settling.h"

#include <algorithm>

namespace uc::app {

void CollapseStage::write_ledger(Ledger& ledger) {
  ledger.begin(tr("The collapse"));
  if (const CollapseState* s = state()) {
    write_now(ledger, *s);
    write_way(ledger);
    write_setting(ledger);
  } else {
    ledger.note(!frames_.error.empty() && current() ? tr("%1.").arg(QString::fromStdString(frames_.error))
                                                    : tr("The pattern closes here as soon as it is worked out."));
  }
  ledger.finish();
}

void CollapseStage::write_now(Ledger& ledger, const CollapseState& state) {
  const CollapseState* s = &state;
  const auto length = [this](double mm) { return workspace_.length(mm); };
  ledger.section(tr("Now"));
  ledger.line(tr("closed"), tr("%1 %").arg(100 * s->part, 0, 'f', 0),
              tr("Each crease is driven to this part of its full angle."));
  constexpr std::size_t looked_at = 100; // facets: it is told anew while the slider moves
  const Eigen::Vector3d size = least_box(s->vertices, *frames_.mesh, looked_at);
  const auto whole = [&](double mm) { return length(mm).replace(' ', QChar::Nbsp); };
  ledger.line(tr("size in space"), tr("%1 x %2 x %3").arg(whole(size.x()), whole(size.y()), whole(size.z())),
              tr("The least box about it, the longest side first."));
  const auto& bar = frames_.mesh->bars[static_cast<std::size_t>(s->strained_bar)];
  const Point at =
      (frames_.mesh->flat[static_cast<std::size_t>(bar.a)] + frames_.mesh->flat[static_cast<std::size_t>(bar.b)]) / 2;
  ledger.line(
      tr("peak strain"), strain_text(s->max_strain),
      tr("Where the paper is stretched or squeezed most: at %1 from the left and %2 from the bottom of the flat sheet.")
          .arg(length(at.x()), length(at.y())));
  ledger.line(tr("creases off target"), tr("%1°").arg(s->rms_error_deg, 0, 'f', 1),
              tr("Root mean square over mountains and valleys: what the paper withstands."));
  if (s->max_bend_deg > 0.5)
    ledger.line(tr("facets bend by"), tr("%1°").arg(s->max_bend_deg, 0, 'f', 1),
                tr("Facets that cannot stay flat on the way."));
  if (s->passed_through > 0)
    ledger.caution(tr("Paper goes through paper here (%1 corners and edges): on this way it would tear. Another order "
                      "or more stages may go round it.")
                       .arg(s->passed_through));
  if (!frames_.plan.apart) ledger.note(tr("Layers may pass through each other: they are not kept apart."));
  if (const Pushed* over = pushed_over()) {
    if (over->gone_over)
      ledger.note(tr("Pushed over: it rests in another shape, on average %1 away, with %2 times the energy. Push the "
                     "corner again and it comes back.")
                      .arg(length(over->moved_mm))
                      .arg(over->energy_after / std::max(1e-300, over->energy_before), 0, 'f', 2));
    else
      ledger.note(tr("Pushed and let go: it springs back to the shape it had."));
  }
  if (rested())
    ledger.note(tr("Let go of: creases keep %1 % of their angle, by a rule of the house for this stock, not measured.")
                    .arg(100 * kept_angle(workspace_.document.project().stock), 0, 'f', 0));
}

void CollapseStage::write_way(Ledger& ledger) {
  double peak = 0;
  double peak_at = 0;
  for (const CollapseState& each : frames_.states) {
    if (each.max_strain <= peak) continue;
    peak = each.max_strain;
    peak_at = each.part;
  }
  ledger.section(tr("On the whole way"));
  ledger.line(tr("peak strain"), strain_text(peak), tr("At %1 %.").arg(100 * peak_at, 0, 'f', 0));
  if (frames_.layers_pass) {
    const auto passes = [](const CollapseState& each) { return each.passed_through > 0; };
    const auto first = std::find_if(frames_.states.begin(), frames_.states.end(), passes);
    const auto last = std::find_if(frames_.states.rbegin(), frames_.states.rend(), passes);
    if (first != frames_.states.end())
      ledger.line(tr("layers pass"),
                  tr("%1 to %2 %").arg(100 * first->part, 0, 'f', 0).arg(100 * last->part, 0, 'f', 0));
    ledger.note(
        tr("Layers do not all find their way round each other: in places they are let through. In the hand they "
           "are led round."));
  }
  if (frames_.facets_bend) ledger.note(tr("With flat facets this sheet does not close; they bend where they must."));
  if (peak > 0.01)
    ledger.caution(tr("More than 1 % of strain: the paper fights back there. Another order, more stages or divided "
                      "facets may help."));
  constexpr double locked_deg = 60;
  if (frames_.whole() && counts_groups(frames_.plan.order) && frames_.states.back().rms_error_deg > locked_deg)
    ledger.caution(
        tr("By this order creases end %1° from where they should be: the sheet does not close. Choose As the "
           "family is closed by hand or All at once, or compare the orders.")
            .arg(frames_.states.back().rms_error_deg, 0, 'f', 0));
  if (!frames_.whole()) ledger.note(tr("The work was stopped; the rest of the way is missing."));
  if (!costs_.empty() && locking_orders_ > 0)
    ledger.note(tr("Orders that do not close this sheet, and are not offered: %1.").arg(locking_orders_));
  if (!costs_.empty()) {
    const auto now = std::find_if(costs_.begin(), costs_.end(),
                                  [&](const OrderCost& c) { return same_stages(*frames_.mesh, c.plan, frames_.plan); });
    if (now != costs_.end() && now->peak_strain > 1.05 * costs_.front().peak_strain)
      ledger.note(tr("%1 (stages: %2) strains the paper least: %3 in place of %4.")
                      .arg(order_words(costs_.front().plan.order))
                      .arg(costs_.front().plan.groups)
                      .arg(strain_text(costs_.front().peak_strain), strain_text(now->peak_strain)));
  }
}

void CollapseStage::write_setting(Ledger& ledger) {
  const auto setting = setting_moves(workspace_.document.project().stock);
  if (!setting.empty()) {
    ledger.section(tr("So that it keeps its shape"));
    Programme last;
    last.moves = setting;
    const ProgrammeTeller teller(last, workspace_.text_style());
    for (std::size_t i = 0; i < setting.size(); ++i) {
      ledger.note(QString::fromStdString(teller.text(i)));
      if (setting[i].caution != Caution::none)
        ledger.caution(QString::fromStdString(caution_text(setting[i].caution, workspace_.text_style())));
    }
    ledger.note(tr("A rule of the house for this stock; the moves end with it."));
  }
  if (const Stock& stock = workspace_.document.project().stock;
      stock.stiffness == Stiffness::crisp || stock.stiffness == Stiffness::stiff)
    ledger.note(tr("Stiff paper: work the creases both ways before you close them (Prove, school of the creases)."));
}

} // namespace uc::app
