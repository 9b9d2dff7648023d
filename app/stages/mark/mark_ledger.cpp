// What the Mark stage writes in the ledger about the way that is chosen.
#include "stages/mark/mark_stage.h"

#include "base/expression.h"
#include "project/piece.h"

#include <QComboBox>
#include <QLineEdit>
#include <QPushButton>

#include <numbers>

namespace uc::app {

void MarkStage::write_ledger(Ledger& ledger) {
  ledger.begin(tr("This way"));
  if (static_cast<Wish>(wish_->currentIndex()) == Wish::proportion) write_strips(ledger);
  const Finding* f = current();
  if (!f) {
    ledger.note(busy() ? tr("Searching.") : tr("Type what you want on the left, or click the paper."));
    ledger.finish();
    return;
  }
  if (f->route) write_route(ledger, *f->route);
  if (f->polygon) write_polygon(ledger, *f->polygon);
  if (f->trim) write_trim(ledger, *f->trim);
  if (f->bare) {
    ledger.line(tr("Creases"), QString::number(f->creases()));
    ledger.line(tr("Expected miss"), workspace_.error(f->sigma_mm(workspace_.document.project().hand.sigma_mm)),
                tr("of the hand"));
    ledger.note(tr("Type a target above to see how far off this recipe lands."));
  }
  auto* go = new QPushButton(tr("Send it to the programme"));
  go->setProperty("role", "go");
  go->setObjectName("send");
  go->setShortcut(QKeySequence(Qt::CTRL | Qt::Key_Return));
  go->setToolTip(tr("Ctrl+Return"));
  connect(go, &QPushButton::clicked, this, &MarkStage::send);
  ledger.widget(go);
  ledger.finish();
}

void MarkStage::write_route(Ledger& ledger, const Route& r) const {
  ledger.line(
      tr("Expected miss"), workspace_.error(r.total_mm()),
      tr("√(geometry² + hand²): %1 by its geometry, if nobody erred, and %2 by the hand, with every fold off by "
         "s = %3 at each of the two things it brings together")
          .arg(r.exact ? tr("nothing") : workspace_.error(r.error_mm), workspace_.error(r.sigma_mm),
               workspace_.error(workspace_.document.project().hand.sigma_mm)));
  if (r.exact) ledger.good(tr("Exact by its geometry"));
  ledger.section(tr("WORK"));
  ledger.line(tr("Creases"), QString::number(r.creases));
  ledger.line(tr("of them pinches"), QString::number(r.pinches));
  ledger.line(tr("Scar on the paper"), workspace_.length(r.scar_mm), tr("length of all that is creased"));
  const std::string why = weakness_text(r);
  if (r.weakest >= 0 && why.empty()) ledger.note(tr("No move stands out; work evenly."));
  if (r.weakest >= 0 && !why.empty()) {
    ledger.section(tr("WEAKEST MOVE"));
    const ConstructionItem& weak = r.construction[r.weakest];
    int number = 0;
    for (int i = 0; i <= r.weakest; ++i) number += r.construction[i].kind == ConstructionItem::Kind::crease;
    ledger.line(weak.kind == ConstructionItem::Kind::crease ? tr("Crease %1").arg(number) : tr("A mark"),
                tr("%1 %").arg(100 * r.weakest_share, 0, 'f', 0), tr("its share of the variance of the result"));
    ledger.note(tr("Take your time there: %1.").arg(QString::fromStdString(why)));
  }
  if (r.clean_mm > 1e-6)
    ledger.caution(tr("%1 of crease lies in an area to keep clean.").arg(workspace_.length(r.clean_mm)));
}

void MarkStage::write_polygon(Ledger& ledger, const PolygonMethod& m) const {
  const int n = static_cast<int>(m.vertices.size());
  if (m.exact) {
    ledger.line(tr("Side"), workspace_.length(m.side_min_mm));
    ledger.good(tr("Exact by its geometry"));
  } else {
    ledger.line(tr("Sides"), tr("%1 to %2").arg(workspace_.length(m.side_min_mm), workspace_.length(m.side_max_mm)));
    ledger.line(tr("They differ by"), tr("%1 %").arg(100 * (m.side_max_mm / m.side_min_mm - 1), 0, 'g', 2));
    ledger.line(tr("Angles are off by"), tr("%1°").arg(m.angle_error_deg, 0, 'g', 3),
                tr("largest deviation from %1°").arg(interior_angle(n), 0, 'f', 3));
  }
  ledger.line(
      tr("Off a regular one by"), workspace_.error(m.shape_mm),
      tr("root mean square distance of the vertices from the nearest regular polygon, geometry and hand together; "
         "where it lies, how it is turned and its size do not count"));
  ledger.section(tr("WORK"));
  ledger.line(tr("Creases"), QString::number(m.creases));
  ledger.line(tr("Cut off"), tr("%1 %").arg(100 * m.leftover, 0, 'f', 1), tr("share of the sheet outside the polygon"));
  ledger.section(tr("THE LARGEST"));
  ledger.line(tr("Side"), workspace_.length(found_.largest.side_mm),
              tr("the largest regular polygon this sheet holds"));
  ledger.line(tr("Turned by"), tr("%1°").arg(found_.largest.turn_deg, 0, 'f', 2),
              tr("least angle between a side and an edge of the sheet"));
  if (!m.largest && m.side_min_mm > 0)
    ledger.line(tr("This one has"), tr("%1 %").arg(100 * m.side_min_mm / found_.largest.side_mm, 0, 'f', 1),
                tr("of the largest side"));
  ledger.caution(QString::fromStdString(caution_text(Caution::blade, workspace_.text_style())));
  ledger.note(tr("Once it is in the programme, File, Print gives its template at true scale."));
}

void MarkStage::write_trim(Ledger& ledger, const Trim& t) const {
  const Point size = bounding_box(t.piece()).size();
  ledger.line(tr("The piece"), tr("%1 × %2").arg(workspace_.length(size.x()), workspace_.length(size.y())));
  ledger.line(tr("It is"), tr("%1 %").arg(100 * t.share, 0, 'f', 1), tr("of the sheet"));
  ledger.line(tr("The cut is off by"), workspace_.error(t.total_mm()),
              t.exact ? tr("standard error of the hand at its worse end; its geometry is exact")
                      : tr("at its worse end: %1 by its geometry and %2 by the hand")
                            .arg(workspace_.error(t.error_mm), workspace_.error(t.sigma_mm)));
  ledger.line(tr("Creases"), QString::number(t.construction.creases()));
  ledger.caution(QString::fromStdString(caution_text(Caution::blade, workspace_.text_style())));
}

void MarkStage::write_strips(Ledger& ledger) const {
  const Project& p = workspace_.document.project();
  if (strips_->text().trimmed().isEmpty()) {
    strips_field_->set_error({});
    return;
  }
  const auto width = parse_length(strips_->text().toStdString(), p.unit);
  const auto ways =
      width ? strips_of(worked_sheet(p).outline(), width->value) : Result<std::vector<Strips>>(Error{width.error()});
  strips_field_->set_error(ways ? QString() : QString::fromStdString(ways.error()));
  if (!ways) return;
  ledger.section(tr("STRIPS OF %1").arg(workspace_.length(width->value)));
  for (const Strips& s : *ways) {
    ledger.line((s.count == 1 ? tr("1 strip, %1 long") : tr("%1 strips, %2 long").arg(s.count))
                    .arg(workspace_.length(s.length_mm)),
                tr("%1 left over").arg(workspace_.length(s.offcut_mm)));
  }
  ledger.section(tr("THE CUT"));
}

} // namespace uc::app
