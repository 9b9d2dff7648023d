// What the Prove stage says: its verdict, what is broken and what would mend it, and the lines of the ledger.
#include "stages/prove/prove_stage.h"

namespace uc::app {
namespace {

QString number(double value, int digits) { return QString::fromStdString(format_number(value, digits)); }

} // namespace

QString ProveStage::sentence(const LocalViolation& v) const {
  const QString where = workspace_.length(v.at.x()) + ", " + workspace_.length(v.at.y());
  switch (v.rule) {
  case LocalRule::even_degree:
    return tr("At %1 an odd number of creases, %2, meet.").arg(where).arg(v.edges.size());
  case LocalRule::kawasaki:
    return tr("At %1 the angles do not close: they are %2° off (Kawasaki-Justin).").arg(where, number(v.defect_deg, 3));
  case LocalRule::maekawa:
    return tr("At %1 mountains and valleys do not differ by two (Maekawa-Justin).").arg(where);
  case LocalRule::big_little_big:
    return tr("At %1 the creases round a small angle have the wrong directions (big-little-big).").arg(where);
  case LocalRule::dangling:
    return tr("At %1 a crease ends inside the paper.").arg(where);
  case LocalRule::crossing:
    return tr("At %1 two edges cross without a vertex.").arg(where);
  }
  return where;
}

QString ProveStage::sentence(const VertexRepair& r) const {
  QString text;
  switch (r.kind) {
  case VertexRepair::Kind::redirect:
    text =
        tr("Turn edge %1 into a %2.")
            .arg(r.edge)
            .arg(tr(name_of(turned_over(found_.proof->pattern.edges[static_cast<std::size_t>(r.edge)].kind)).c_str()));
    break;
  case VertexRepair::Kind::swing:
    text = tr("Swing edge %1 by %2°; its end moves %3.")
               .arg(r.edge)
               .arg(number(r.degrees, 3), workspace_.length(r.shift_mm));
    break;
  case VertexRepair::Kind::move:
    text = tr("Move the vertex by %1.").arg(workspace_.length(r.shift_mm));
    break;
  case VertexRepair::Kind::add:
    text = tr("Add a crease at %1°.").arg(number(r.degrees, 2));
    break;
  case VertexRepair::Kind::leave_out:
    text = tr("Leave out edge %1.").arg(r.edge);
    break;
  case VertexRepair::Kind::join:
    text = tr("Make a vertex where they cross.");
    break;
  }
  if (r.left_over == 0) return text + " " + tr("Then nothing is broken.");
  return text + " " +
         (r.left_over == 1 ? tr("One thing stays broken.") : tr("%1 things stay broken.").arg(r.left_over));
}

namespace {

struct CreaseCount {
  int folded = 0;
  int undirected = 0; // of them
};

CreaseCount creases_of(const CreasePattern& pattern) {
  CreaseCount n;
  for (const PatternEdge& e : pattern.edges) {
    n.folded += folds(e.kind);
    n.undirected += e.kind == EdgeKind::undirected;
  }
  return n;
}

} // namespace

QString ProveStage::verdict() const {
  if (in_space()) return space_verdict();
  if (!found_.proof) return found_.error.empty() ? tr("Proving ...") : "▲! " + QString::fromStdString(found_.error);
  const auto n = found_.proof->violations.size();
  if (n == 1) return tr("▲! One vertex cannot fold.");
  if (n > 1) return tr("▲! %1 rules are broken at its vertices.").arg(n);
  switch (found_.proof->status) {
  case LayerStatus::found: {
    // Bare paper lies flat, and creases without a direction say only that some folding exists: neither is this pattern
    // folding flat.
    const CreaseCount creases = creases_of(found_.proof->pattern);
    if (creases.folded == 0) return tr("There is nothing to fold yet: the pattern has no creases.");
    if (creases.undirected > 0)
      return tr("✓ It can fold flat once every crease has a direction; %1 have none yet.").arg(creases.undirected);
    return tr("✓ It folds flat: every vertex closes, and the layers have an order.");
  }
  case LayerStatus::impossible:
    return tr("▲! Every vertex closes, but the layers cannot be ordered.");
  default:
    if (found_.proof->memory_needed > 0)
      return tr("▲! Not tried: the layers would take about %1 GB of memory, more than half of what is free. Close "
                "other "
                "programs, or prove a part of the pattern.")
          .arg(static_cast<double>(found_.proof->memory_needed) / 1e9, 0, 'f', 1);
    return tr("▲! No answer: the search was stopped or took more than two minutes.");
  }
}

bool ProveStage::in_space() const { return found_.proof && found_.drawn && !found_.drawn->lies_flat; }

QString ProveStage::space_verdict() const {
  if (found_.drawn->usual_part == 0) return tr("✓ It is creased and lies open; nothing of it closes.");
  if (!found_.space) return found_.error.empty() ? tr("Proving ...") : "▲! " + QString::fromStdString(found_.error);
  const SpaceProof& s = *found_.space;
  const QString strain = s.peak_strain < 1e-4 ? tr("less than 0.01 %") : tr("%1 %").arg(100 * s.peak_strain, 0, 'f', 2);
  if (s.passed_through > 0)
    return tr("▲! Paper goes through paper on the way closed, at %1 corners and edges.").arg(s.passed_through);
  if (!s.can_be_made())
    return tr("▲! On the way closed the paper stretches by %1, more than it takes: it will fight back.").arg(strain);
  if (s.to_part < 1)
    return tr("✓ It stands half open in space: closed to %1 % the paper stretches by %2 at most.")
        .arg(std::lround(100 * s.to_part))
        .arg(strain);
  return s.closing == s.vertices
             ? tr("✓ It closes in space: every vertex closes, and on the way the paper stretches by %1 at most.")
                   .arg(strain)
             : tr("✓ It closes in space with facets that bend: on the way the paper stretches by %1 at most.")
                   .arg(strain);
}

void ProveStage::write_space(Ledger& ledger) {
  ledger.section(tr("In space"));
  ledger.note(
      tr("This piece does not lie flat in the end, so it is not asked to fold flat; Collapse shows it closing."));
  if (!found_.space) return;
  const SpaceProof& s = *found_.space;
  if (s.to_part == 1)
    ledger.line(tr("vertices that close"), tr("%1 of %2").arg(s.closing).arg(s.vertices),
                s.closing == s.vertices
                    ? tr("Their facets meet flat when every crease stands at its angle.")
                    : tr("Where facets are to stay flat, the worst would gape by %1°: they bend instead.")
                          .arg(number(s.gap_deg, 1)));
  ledger.line(tr("closed to"), tr("%1 %").arg(std::lround(100 * s.to_part)), tr("As far as hands leave it."));
  ledger.line(tr("peak strain"), tr("%1 %").arg(number(100 * s.peak_strain, 2)),
              tr("In the paper on the way; beyond %1 % it fights back.").arg(number(100 * SpaceProof::most_strain, 1)));
  ledger.line(tr("facets bend by"), tr("%1°").arg(number(s.bend_deg, 1)));
  ledger.line(tr("creases off target"), tr("%1°").arg(number(s.off_deg, 1)), tr("Root mean square, in the end."));
  if (s.passed_through == 0) ledger.good(tr("No layer passes through another."));
}

QString ProveStage::fact() const {
  if (!seen_ || !current()) return tr("not yet");
  if (!found_.proof) return tr("no paper");
  if (in_space())
    return found_.drawn->usual_part == 0 ? tr("lies open")
           : !found_.space               ? tr("undecided")
           : found_.space->can_be_made() ? tr("closes in space")
                                         : tr("fights back");
  const auto n = found_.proof->violations.size();
  if (n > 0) return n == 1 ? tr("1 broken") : tr("%1 broken").arg(n);
  const CreaseCount creases = creases_of(found_.proof->pattern);
  if (creases.folded == 0) return tr("no creases");
  if (creases.undirected > 0 && found_.proof->status == LayerStatus::found) return tr("can fold flat");
  return found_.proof->status == LayerStatus::found        ? tr("folds flat")
         : found_.proof->status == LayerStatus::impossible ? tr("layers clash")
                                                           : tr("undecided");
}

void ProveStage::write_ledger(Ledger& ledger) {
  ledger.begin(tr("The proof"));
  if (!current() || !found_.proof) {
    ledger.note(found_.error.empty() ? tr("The proof runs as soon as something is drawn.")
                                     : QString::fromStdString(found_.error));
    ledger.finish();
    return;
  }
  const PatternProof& proof = *found_.proof;
  if (in_space()) {
    write_space(ledger);
    precreasing_->write_ledger(ledger);
    ledger.finish();
    return;
  }
  ledger.section(tr("Vertices"));
  int inside = 0;
  for (const char c : proof.graph->interior) inside += c;
  ledger.line(tr("inside the paper"), QString::number(inside), tr("Those on raw edges and cuts are free to fold."));
  if (proof.violations.empty())
    ledger.good(tr("Each of them folds flat on its own."));
  else
    ledger.caution(proof.violations.size() == 1 ? tr("1 rule is broken.")
                                                : tr("%1 rules are broken.").arg(proof.violations.size()));
  ledger.line(tr("faces"), QString::number(proof.graph->faces.size()));
  if (proof.overlap && proof.status == LayerStatus::found) {
    const Project& p = workspace_.document.project();
    const Point size = folded_size(*proof.form);
    ledger.section(tr("Folded"));
    ledger.line(tr("size"), workspace_.length(size.x()) + " x " + workspace_.length(size.y()));
    ledger.line(tr("layers at most"), QString::number(proof.overlap->layers_max));
    ledger.line(tr("thickest place"), workspace_.error(proof.overlap->layers_max * p.stock.caliper_mm),
                tr("%1 layers of %2, pressed without air.")
                    .arg(proof.overlap->layers_max)
                    .arg(workspace_.length(p.stock.caliper_mm)));
    if (layers_here_ > 0)
      ledger.line(tr("under the pointer"), layers_here_ == 1 ? tr("1 layer") : tr("%1 layers").arg(layers_here_),
                  tr("%1 thick.").arg(workspace_.error(layers_here_ * p.stock.caliper_mm)));
    double sum = 0;
    double area = 0;
    for (const FoldedCell& c : proof.overlap->cells) {
      if (c.faces.empty()) continue;
      area += c.area;
      sum += c.area * static_cast<double>(c.faces.size());
    }
    if (area > 0)
      ledger.line(tr("layers on average"), number(sum / area, 1),
                  tr("Area of the sheet over the area it covers folded."));
    if (!found_.states.empty())
      ledger.line(tr("ways to fold it"), QString::fromStdString(found_.states),
                  tr("With one face held, over all directions left open."));
  }
  if (proof.status == LayerStatus::impossible)
    ledger.caution(tr("%1 faces clash, hatched on the pattern. Without any one of them the others can be ordered.")
                       .arg(proof.clash.size()));
  int open = 0;
  for (const PatternEdge& e : proof.pattern.edges) open += e.kind == EdgeKind::undirected;
  if (open > 0)
    ledger.note(open == 1 ? tr("1 crease has no direction yet; Find directions gives it one.")
                          : tr("%1 creases have no direction yet; Find directions gives them one.").arg(open));
  if (!said_.isEmpty()) ledger.caution(said_);
  QStringList changes;
  if (change_.added > 0) changes << tr("%1 new").arg(change_.added);
  if (change_.gone > 0) changes << tr("%1 gone").arg(change_.gone);
  if (change_.turned > 0) changes << tr("%1 turned").arg(change_.turned);
  if (!changes.isEmpty())
    ledger.line(
        tr("changed"), changes.join(", "),
        proof.simple
            ? tr("Edges since the proof before. The order of the layers follows from %1 simple folds.")
                  .arg(proof.simple->folds)
            : tr("Edges since the proof before. Of %1 parts that layers are searched in, %2 were known already.")
                  .arg(proof.order.components)
                  .arg(proof.order.reused));
  precreasing_->write_ledger(ledger);
  ledger.finish();
}

QList<QPair<QString, QString>> ProveStage::keys() const {
  return {{tr("U"), tr("shows pattern and folded form from the other side")},
          {tr("Ctrl+Return"), tr("sends the pre-creasing to the programme")},
          {tr("Down, Up"), tr("on the folded form: go through its layers, topmost first")},
          {tr("+ - 0"), tr("on the folded form: zoom it")}};
}

} // namespace uc::app
