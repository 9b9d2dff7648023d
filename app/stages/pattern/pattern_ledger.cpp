#include "stages/pattern/pattern_stage.h"

#include "form/folded_form.h"
#include "paper/shelf.h"
#include "pattern/family.h"
#include "project/piece.h"
#include "stages/pattern/size_wish.h"

#include <QPushButton>

#include <algorithm>

namespace uc::app {

void PatternStage::write_ledger(Ledger& ledger) {
  ledger.begin(tr("The pattern"));
  if (workspace_.document.drawing()) {
    ledger.note(tr("The pattern is being drawn; what you see is the one before."));
    ledger.finish();
    return;
  }
  const auto drawn = workspace_.document.pattern();
  const CreasePattern& p = drawn->healed.pattern;
  const Project& project = workspace_.document.project();
  int counts[6] = {};
  double lengths[6] = {};
  for (std::size_t e = 0; e < p.edges.size(); ++e) {
    ++counts[static_cast<int>(p.edges[e].kind)];
    lengths[static_cast<int>(p.edges[e].kind)] += p.segment(CreaseId(e)).length();
  }
  ledger.section(tr("Creases"));
  const int creases = counts[1] + counts[2] + counts[3];
  if (creases == 0) {
    ledger.note(tr("Nothing is drawn yet. Choose a family on the left, type a rule, or read a file."));
  } else {
    for (const EdgeKind k :
         {EdgeKind::mountain, EdgeKind::valley, EdgeKind::undirected, EdgeKind::unfolded, EdgeKind::cut}) {
      const int i = static_cast<int>(k);
      if (counts[i] == 0) continue;
      ledger.line(
          tr(name_of(k).c_str()), QString::number(counts[i]),
          tr("Together %1 long. A crease that others meet counts in pieces.").arg(workspace_.length(lengths[i])));
    }
    ledger.line(tr("vertices"), QString::number(p.vertices.size()));
  }
  write_figures(ledger, *drawn);
  if (project.pattern.base)
    ledger.note(tr("Rules lie over a pattern that was read from a file; its outline is the sheet."));
  for (const auto& w : drawn->wrong)
    ledger.caution(w.rule > 0 ? tr("Rule %1: %2").arg(w.rule).arg(QString::fromStdString(w.sentence))
                              : QString::fromStdString(w.sentence));
  if (creases > 0 && drawn->wrong.empty()) {
    ledger.section(tr("Next"));
    const PatternFamily* family = project.pattern.family ? find_pattern_family(project.pattern.family->name) : nullptr;
    const bool in_space = family && !family->flat_foldable && family->group != FamilyGroup::grid;
    ledger.note(counts[3] > 0 ? tr("Some creases have no direction yet. Prove finds directions that fold.")
                : in_space    ? tr("This closes in space and does not lie flat. Collapse shows how.")
                              : tr("Prove says whether this folds flat, before paper is touched."));
    auto* go = new QPushButton(in_space ? tr("Go to Collapse") : tr("Go to Prove"));
    go->setObjectName("go-prove");
    connect(go, &QPushButton::clicked, this,
            [this, in_space] { workspace_.show_stage(in_space ? "collapse" : "prove"); });
    ledger.widget(go);
  }
  ledger.finish();
}

/// What is known of the finished piece, and whether the stock can take it.
void PatternStage::write_figures(Ledger& ledger, const DrawnPattern& drawn) {
  const Project& project = workspace_.document.project();
  const auto mm = [this](double v) { return workspace_.length(v); };
  const Point sheet = bounding_box(drawn_sheet(project).outline()).size();
  const FamilyFigures& f = drawn.figures;
  const Point needed = bounding_box(drawn.healed.pattern.vertices).size();
  const PatternFamily* family = project.pattern.family ? find_pattern_family(project.pattern.family->name) : nullptr;
  double pleat = f.pleat_mm;
  if (pleat == 0) {
    pleat = sheet.x() / drawn.design.count;
    ledger.section(tr("Grid"));
    ledger.line(tr("one cell"), mm(pleat), tr("%1 across, in %2 cells.").arg(mm(sheet.x())).arg(drawn.design.count));
  }
  if (!family || !drawn.wrong.empty()) return;
  ledger.section(tr("Finished"));
  ledger.line(tr("sheet needed"), tr("%1 x %2").arg(mm(needed.x()), mm(needed.y())));
  if (family->own_sheet && (needed.x() > sheet.x() + 1e-6 || needed.y() > sheet.y() + 1e-6))
    ledger.caution(tr("This needs a sheet of %1 x %2; yours is %3 x %4. Choose a larger sheet, or smaller lengths.")
                       .arg(mm(needed.x()), mm(needed.y()), mm(sheet.x()), mm(sheet.y())));
  write_sheet(ledger, drawn);
  if (f.inside_mm)
    ledger.line(tr("inside"),
                tr("%1 x %2, %3 high").arg(mm((*f.inside_mm)[0]), mm((*f.inside_mm)[1]), mm((*f.inside_mm)[2])));
  if (f.packed_mm) {
    ledger.line(tr("packed"), tr("%1 across, %2 high").arg(mm((*f.packed_mm)[0]), mm((*f.packed_mm)[1])),
                tr("The hub and twice the layers round it, each as thick as the paper."));
    ledger.line(tr("turns while it opens"), QString::number(*f.turns, 'f', 2));
  }
  if (f.cone)
    ledger.line(tr("cone"), tr("%1 across, %2 high").arg(mm(2 * f.cone->base_radius_mm), mm(f.cone->height_mm)),
                tr("Half angle %1° as a smooth cone, %2° with flat facets.")
                    .arg(f.cone->half_angle_deg, 0, 'f', 2)
                    .arg(f.cone->faceted_half_angle_deg, 0, 'f', 2));
  for (const auto& [name, value] : f.more) {
    QString label = QString::fromStdString(name).replace('_', ' ');
    const bool is_length = label.endsWith(" mm");
    if (is_length) label.chop(3);
    ledger.line(label, is_length ? mm(value) : QString::number(value, 'g', 5));
  }
  if (const auto size = wish_->finished_size(); size && drawn.lies_flat) {
    ledger.line(tr("folded flat"), tr("%1 x %2").arg(mm(size->x()), mm(size->y())),
                drawn.usual_part < 1 ? tr("The least rectangle about the folded form. Hands leave it %1 % closed.")
                                           .arg(std::lround(100 * drawn.usual_part))
                                     : tr("The least rectangle about the folded form; Prove shows it."));
  } else if (size && !f.packed_mm) {
    QString how = wish_->by_collapse() ? tr("The least box about the sheet as the collapse closes it.")
                                       : tr("The least box about the finished piece.");
    if (drawn.usual_part == 0)
      how = tr("It is creased and lies open.");
    else if (drawn.usual_part < 1)
      how += tr(" Hands leave it %1 % closed.").arg(std::lround(100 * drawn.usual_part));
    ledger.line(tr("finished"), tr("%1 x %2 x %3").arg(mm(size->x()), mm(size->y()), mm(size->z())), how);
  }
  ledger.line(tr("narrowest pleat"), mm(pleat));
  const PleatAdvice advice = pleat_advice(pleat, project.stock, std::max(needed.x(), needed.y()));
  if (advice.level != AdviceLevel::fine)
    ledger.caution(
        tr("%1 folds cleanly from pleats of %2; these are %3. Take a larger sheet, fewer pleats, or thinner paper.")
            .arg(QString::fromStdString(project.stock.name), mm(advice.least_pleat_mm), mm(pleat)));
  write_closing(ledger, drawn);
}

/// How hands close it: in which stages, and what they keep flat meanwhile.
void PatternStage::write_closing(Ledger& ledger, const DrawnPattern& drawn) {
  const auto& edges = drawn.healed.pattern.edges;
  if (std::none_of(edges.begin(), edges.end(),
                   [](const PatternEdge& e) { return e.kind == EdgeKind::mountain || e.kind == EdgeKind::valley; }))
    return;
  int stages = 1;
  for (const CreaseGoals& goals : drawn.goals)
    if (!goals.empty()) stages = std::max(stages, goals.back().stage);
  ledger.section(tr("Closing it by hand"));
  ledger.line(tr("stages"), QString::number(stages),
              stages > 1 ? tr("One after another; Collapse shows each.") : tr("All creases move together."));
  ledger.line(tr("held flat"), drawn.held.empty() ? tr("nothing") : tr(drawn.held.front().what.c_str()),
              drawn.held.empty() ? tr("Every part turns while it closes.")
                                 : tr("It stays flat while the rest closes."));
}

/// Which sheet of the shelf the piece is cut from, and what is left over.
void PatternStage::write_sheet(Ledger& ledger, const DrawnPattern& drawn) {
  const Project& project = workspace_.document.project();
  const auto mm = [this](double v) { return workspace_.length(v); };
  const Point needed = bounding_box(drawn.healed.pattern.vertices).size();
  const auto sheet = nearest_sheet(workspace_.shelf, needed.x(), needed.y(), project.stock.name);
  if (!sheet) {
    const bool any =
        std::any_of(workspace_.shelf.begin(), workspace_.shelf.end(), [](const Stock& s) { return s.width_mm > 0; });
    if (any)
      ledger.caution(tr("No sheet on the shelf is large enough for %1 x %2.").arg(mm(needed.x()), mm(needed.y())));
    return;
  }
  const QString name = QString::fromStdString(sheet->stock.name);
  const QString size = tr("%1 x %2").arg(mm(sheet->stock.width_mm), mm(sheet->stock.height_mm));
  ledger.line(tr("sheet on the shelf"), size,
              (sheet->pieces == 1 ? tr("%1: one piece a sheet; %2 % of it is left over.")
                                  : tr("%1: %3 pieces a sheet; %2 % of it is left over."))
                  .arg(name)
                  .arg(100 * sheet->left_over, 0, 'f', 0)
                  .replace("%3", QString::number(sheet->pieces)));
  ledger.line(tr("left over"), tr("%1 %").arg(100 * sheet->left_over, 0, 'f', 0));
  if (sheet->stock.name != project.stock.name)
    ledger.note(tr("No sheet of %1 on the shelf is large enough; %2 is.")
                    .arg(QString::fromStdString(project.stock.name), name));
}

} // namespace uc::app
