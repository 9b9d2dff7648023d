// What the units' stage says beside the drawing.
#include "stages/units/units_stage.h"

#include "base/file_name.h"

#include "base/index.h"
#include "io/units_json.h"
#include "programme/unit_figure.h"
#include "unit/paper_colours.h"
#include "unit/unit_handout.h"
#include "unit/unit_programme.h"

#include <QPushButton>
#include <QSlider>

#include <cmath>
#include <map>

namespace uc::app {
namespace {

QString clock_of(double seconds) {
  const int minutes = static_cast<int>(std::lround(seconds / 60));
  return minutes < 60 ? QObject::tr("%1 min").arg(minutes)
                      : QObject::tr("%1 h %2 min").arg(minutes / 60).arg(minutes % 60, 2, 10, QChar('0'));
}

} // namespace

void UnitsStage::write_ledger(Ledger& ledger) {
  ledger.begin(tr("The units"));
  minutes_->setEnabled(current() && answer_.plan);
  if (!current() || !answer_.plan) {
    if (current() && !answer_.error.empty())
      ledger.caution(tr("%1.").arg(shown(answer_.error)));
    else
      ledger.note(tr("They are planned as soon as a solid and a unit are chosen."));
    ledger.finish();
    return;
  }
  const UnitPlan& plan = *answer_.plan;
  for (const std::string& w : plan.warnings) ledger.caution(tr("%1.").arg(shown(w)));
  if (joined_->value() < static_cast<int>(plan.graph.units.size())) write_joining(ledger, plan);
  write_solid(ledger, plan);
  write_papers(ledger, plan);
  write_time(ledger, plan);
  write_gape(ledger, plan);
  ledger.section(tr("How a unit is folded"));
  if (!plan.family->steps.empty() && pages_->currentWidget() != unit_page_) {
    auto* steps = new QPushButton(tr("Show it step by step"));
    steps->setObjectName("units-steps");
    connect(steps, &QPushButton::clicked, this, [this] { set_shown(Shown::unit); });
    ledger.widget(steps);
  }
  for (const std::string& sentence : plan.family->how) ledger.note(translated(sentence));
  ledger.finish();
}

void UnitsStage::write_joining(Ledger& ledger, const UnitPlan& plan) {
  const Programme& joints = moves();
  const std::size_t units = plan.graph.units.size();
  const std::size_t move = joints.moves.size() - units + at(joined_->value());
  const ProgrammeTeller teller(joints, workspace_.text_style());
  ledger.section(tr("Next: joint %1 of %2").arg(joined_->value() + 1).arg(units));
  ledger.note(shown(teller.text(move)));
  if (const std::string check = teller.check(move); !check.empty()) ledger.good(shown(check));
}

void UnitsStage::write_solid(Ledger& ledger, const UnitPlan& plan) {
  const auto length = [this](double mm) { return workspace_.length(mm); };
  const Polyhedron& solid = plan.solid;
  const int v = static_cast<int>(solid.vertices.size());
  const int e = static_cast<int>(solid.edges().size());
  const int f = static_cast<int>(solid.faces.size());
  ledger.section(tr("The solid"));
  ledger.line(tr("across, tips included"), length(plan.diameter_mm), translated(plan.family->mathematics));
  ledger.line(tr("edge"), length(plan.edge_mm));
  ledger.line(tr("corners, edges, faces"), QString("%1, %2, %3").arg(v).arg(e).arg(f),
              tr("%1 - %2 + %3 = %4 (Euler).").arg(v).arg(e).arg(f).arg(v - e + f));
  ledger.line(tr("units"), QString::number(plan.graph.units.size()),
              plan.family->stands_for == StandsFor::edge     ? tr("One for each edge.")
              : plan.family->stands_for == StandsFor::vertex ? tr("One for each corner.")
              : plan.family->strips                          ? tr("One for each face, and a clip for each edge.")
              : plan.family->stands_for == StandsFor::corner ? tr("One for each corner.")
                                                             : tr("One for each face."));
  ledger.line(tr("joints"), QString::number(plan.graph.joints.size()));
  if (plan.bend)
    ledger.line(
        tr("joints give by"), tr("%1° at worst").arg(plan.bend->worst_deg, 0, 'f', 1),
        tr("%1° on average, compared with a flat unit: paper has to bend so far.").arg(plan.bend->mean_deg, 0, 'f', 1));
  ledger.line(tr("rings that close"), QString::number(plan.graph.rings.size()), tr("Round the corners and the faces."));
  switch (plan.hold) {
  case Hold::pocket:
    ledger.note(tr("Tabs and pockets hold it, without glue."));
    break;
  case Hold::wrap:
    ledger.note(tr("Clips go round what they join and are folded back; a drop of glue holds their ends for good."));
    break;
  case Hold::told:
    ledger.note(tr("You say that its tabs and pockets hold it; of units of your own no joint is tried."));
    break;
  case Hold::glue:
    ledger.note(tr("Glue holds it: the folded units have no pocket where their tabs come to lie. %1")
                    .arg(shown(caution_text(Caution::glue))));
    break;
  }
  for (const std::string& ridge : ridge_texts(plan.ridges, workspace_.text_style()))
    ledger.note(QString::fromStdString(ridge));
  if (plan.family->handed)
    ledger.note(tr("Fold all units with the same hand: a mirror image has its pockets on the wrong side."));
}

void UnitsStage::write_papers(Ledger& ledger, const UnitPlan& plan) {
  const auto length = [this](double mm) { return workspace_.length(mm); };
  ledger.section(tr("Papers"));
  const Point size = plan.cutting.sheet_mm;
  ledger.line(tr("sheets"), tr("%1 of %2 x %3").arg(plan.cutting.sheets).arg(length(size.x())).arg(length(size.y())),
              tr("At least %1 by their area.").arg(plan.cutting.bound));
  ledger.line(tr("cuts"), QString::number(plan.cutting.cuts),
              tr("Straight, from edge to edge; rows of one sheet are laid on one another for the cross cuts."));
  double area = 0;
  for (const Unit& u : plan.graph.units) area += u.width_mm * u.height_mm;
  const double all = plan.cutting.sheets * size.x() * size.y();
  if (plan.cutting.cuts > 0)
    ledger.line(tr("left over"), tr("%1 %").arg(100 * (1 - area / all), 0, 'f', 1), tr("Of the sheets' area."));
  const auto papers = palette();
  std::map<int, int> sheets;
  std::map<int, int> units;
  for (const int c : plan.cutting.colours) ++sheets[c];
  for (const int c : plan.colours.colour) ++units[c];
  for (const auto& [c, count] : units) {
    const std::string& name = papers[at(c)].name;
    const Stock* stock = nullptr;
    for (const Stock& s : workspace_.shelf)
      if (s.name == name) stock = &s;
    ledger.line(shown(name), tr("sheets: %1").arg(sheets[c]),
                tr("For units: %1.").arg(count) +
                    (stock ? " " + tr("%1 sheets of it are on the shelf.").arg(stock->sheets) : QString()));
    if (stock && stock->sheets < sheets[c])
      ledger.caution(
          tr("%1: %2 sheets are on the shelf and %3 are needed.").arg(shown(name)).arg(stock->sheets).arg(sheets[c]));
  }
  if (const auto alike = look_alike(papers); !alike.empty()) { // the nearest pair; the next when that is mended
    const LikePapers& pair = alike.front();
    const QString both = tr("%1 and %2").arg(shown(papers[at(pair.first)].name), shown(papers[at(pair.second)].name));
    ledger.caution(
        pair.sight == Sight::full
            ? tr("%1 look alike; take another paper for one of them.").arg(both)
            : tr("%1 look alike to people who cannot tell red from green; take another paper for one of them.")
                  .arg(both));
  }
  if (answer_.fewest_colours > 0)
    ledger.line(tr("fewest colours"), QString::number(answer_.fewest_colours),
                tr("With fewer, units alike meet at some joint: proved."));
  if (plan.cutting.cuts > 0) ledger.caution(shown(caution_text(Caution::blade)));
}

const std::optional<Learning>& UnitsStage::learning() {
  const std::string& family = workspace_.document.project().units.family;
  if (learned_for_ == family) return learned_;
  learned_for_ = family;
  learned_.reset();
  RunLog* log = workspace_.log();
  const auto runs = log ? log->list() : Result<std::vector<RunSummary>>(Error{""});
  if (!runs) return learned_;
  for (const RunSummary& r : *runs) { // the latest first
    if (learned_ || r.kind != "units" || r.way != family) continue;
    if (const auto detail = log->load(r.id)) learned_ = learned(unit_times(*detail));
  }
  return learned_;
}

UnitsStage::WorkSeconds UnitsStage::work_seconds(const UnitPlan& plan) {
  WorkSeconds out;
  for (const Move& m : moves().moves) (m.is<FoldUnit>() ? out.folding : out.rest) += m.seconds;
  if (const auto& curve = learning())
    out.folding = curve->total(curve->units, static_cast<int>(plan.graph.units.size())).seconds;
  return out;
}

void UnitsStage::write_time(Ledger& ledger, const UnitPlan& plan) {
  const Project& p = workspace_.document.project();
  const auto [folding, rest] = work_seconds(plan);
  const int units = static_cast<int>(plan.graph.units.size());
  if (!minutes_->hasFocus()) {
    const QSignalBlocker quiet(minutes_);
    minutes_->setValue(static_cast<int>(std::ceil((folding + rest) / 60 / p.units.evenings)));
  }
  ledger.section(tr("Time"));
  const auto& curve = learning();
  if (curve) {
    const auto sum = curve->total(curve->units, units);
    ledger.line(tr("folding"), tr("%1, give or take %2").arg(clock_of(sum.seconds), clock_of(1.645 * sum.deviation)),
                tr("From %1 units you have folded: the first took %2, and each doubling made you %3 % faster "
                   "(Wright 1936).")
                    .arg(curve->units)
                    .arg(clock_of(curve->first_seconds))
                    .arg(100 * (1 - std::pow(2, -curve->rate)), 0, 'f', 0));
  } else {
    ledger.line(tr("folding"), clock_of(folding),
                tr("%1 creases a unit at %2 seconds each. Your own pace is learned from the first run.")
                    .arg(plan.family->folds)
                    .arg(p.hand.fold_seconds, 0, 'f', 0));
  }
  ledger.line(tr("cutting and joining"), clock_of(rest));
  ledger.line(tr("an evening"),
              tr("%1 units, %2")
                  .arg(static_cast<int>(std::ceil(static_cast<double>(units) / p.units.evenings)))
                  .arg(clock_of((folding + rest) / p.units.evenings)),
              tr("Evenings: %1. Export to .ics puts them into a calendar.").arg(p.units.evenings));
}

void UnitsStage::write_gape(Ledger& ledger, const UnitPlan& plan) {
  const Project& p = workspace_.document.project();
  const Gape gape = gape_of(plan, p.hand, p.stock.caliper_mm);
  ledger.section(tr("The last ring"));
  ledger.line(tr("gapes by"), workspace_.error(gape.together_mm),
              tr("Edges differ by %1 (a fold at each end); %2 of them in a ring by %3. The unit's geometry adds %4.")
                  .arg(workspace_.error(gape.edge_sd_mm))
                  .arg(gape.ring)
                  .arg(workspace_.error(gape.hand_mm), workspace_.error(gape.misfit_mm)));
  ledger.line(tr("paper at a joint"), workspace_.error(gape.layers_mm),
              tr("%1 layers of %2.").arg(plan.family->joint_layers).arg(workspace_.error(p.stock.caliper_mm)));
  if (gape.together_mm > plan.edge_mm / 10)
    ledger.caution(tr("That is more than a tenth of an edge: the last units will have to be forced."));
}

} // namespace uc::app
