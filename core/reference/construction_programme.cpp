#include "reference/construction_programme.h"

#include "programme/naming.h"

#include <algorithm>

namespace uc {
namespace {

using Kind = ConstructionItem::Kind;

class Teller {
public:
  Teller(const Construction& c, const std::vector<CreaseNeed>& needs, const std::vector<int>& results,
         const HandProfile& hand, ElementId plan)
      : c_(c), needs_(needs), results_(results), hand_(hand), plan_(plan), errors_(c, hand.sigma_mm) {}

  Programme run() {
    out_.sheet = c_.sheet();
    const auto labels = mark_labels();
    int creases = 0;
    for (int i = 0; i < c_.size(); ++i) {
      const ConstructionItem& item = c_[i];
      Element e;
      e.id = item_id(plan_, i);
      e.role = item.kind == Kind::corner   ? Role::corner
               : item.kind == Kind::edge   ? Role::raw_edge
               : item.kind == Kind::crease ? Role::crease
                                           : Role::point;
      e.spans = {item.is_line() ? item.chord : Segment{item.point, item.point}};
      e.existing = item.id.front() == 'g' && item.kind == Kind::edge;
      if (item.kind == Kind::corner || (item.kind == Kind::edge && !e.existing)) {
        name_place(e, i);
        e.sigma_mm = 0;
      }
      if (e.existing) e.role = Role::crease, e.label = "G" + item.id.substr(1);
      if (item.kind == Kind::crease) {
        e.label = std::to_string(++creases);
        const Eigen::MatrixXd ends = errors_.distances(i, item.line, {item.chord.from, item.chord.to});
        e.sigma_mm = ends.rowwise().norm().maxCoeff();
      }
      if (item.kind == Kind::crossing || item.kind == Kind::mark) {
        e.label = labels[static_cast<std::size_t>(i)];
        if (e.label.empty()) continue;
        e.sigma_mm = errors_.sigma_of_point(i);
        if (item.kind == Kind::crossing) e.made_of = {item_id(plan_, item.lines[0]), item_id(plan_, item.lines[1])};
      }
      out_.elements.push_back(std::move(e));
      if (item.kind == Kind::crease) out_.moves.push_back(move_for(i));
    }
    for (const int result : results_) {
      if (c_[result].kind != Kind::crossing) continue;
      Move here;
      here.aligned.moving = {item_id(plan_, result)};
      here.sigma_mm = errors_.sigma_of_point(result);
      out_.moves.push_back(here);
    }
    return std::move(out_);
  }

private:
  void name_place(Element& e, int i) const {
    static constexpr const char* edges[] = {"bottom", "right", "top", "left"};
    static constexpr const char* corners[] = {"lower-left", "lower-right", "upper-right", "upper-left"};
    const bool corner = i < c_.corners();
    const int at = corner ? i : i - c_.corners();
    if (is_box(c_.sheet()))
      e.place = corner ? corners[at] : edges[at];
    else
      e.label = std::to_string(at + 1);
  }

  /// Letters for the marks that are named, in the order in which the moves name them.
  [[nodiscard]] std::vector<std::string> mark_labels() const {
    std::vector<std::string> labels(static_cast<std::size_t>(c_.size()));
    int count = 0;
    const auto name = [&](int p) {
      if (p < 0) return;
      const Kind kind = c_[p].kind;
      std::string& label = labels[static_cast<std::size_t>(p)];
      if (label.empty() && (kind == Kind::crossing || kind == Kind::mark)) label = capital_letter(count++);
    };
    for (const ConstructionItem& item : c_.items()) {
      if (item.kind != Kind::crease) continue;
      for (const int p : item.points) name(p);
    }
    for (const int r : results_) name(r);
    return labels;
  }

  [[nodiscard]] Move move_for(int i) const {
    const ConstructionItem& item = c_[i];
    const auto point = [&](std::size_t k) { return item_id(plan_, item.points[k]); };
    const auto line = [&](std::size_t k) { return item_id(plan_, item.lines[k]); };
    Move move;
    Aligned& aligned = move.aligned;
    if (item.landing) {
      aligned.moving = {line(0)};
      aligned.onto = {line(1)};
      return finished(std::move(move), CreaseWay::through, i);
    }
    switch (item.op) {
    case Alignment::O1:
      aligned.through = {point(0), point(1)};
      break;
    case Alignment::O2:
      aligned.moving = {point(0)};
      aligned.onto = {point(1)};
      break;
    case Alignment::O3:
      aligned.moving = {line(0)};
      aligned.onto = {line(1)};
      break;
    case Alignment::O4:
      aligned.moving = {line(0)};
      aligned.onto = {line(0)};
      aligned.through = {point(0)};
      break;
    case Alignment::O5:
      aligned.moving = {point(0)};
      aligned.onto = {line(0)};
      aligned.through = {point(1)};
      break;
    case Alignment::O6:
      aligned.moving = {point(0), point(1)};
      aligned.onto = {line(0), line(1)};
      break;
    case Alignment::O7:
      aligned.moving = {point(0), line(1)};
      aligned.onto = {line(0), line(1)};
      break;
    }
    return finished(std::move(move), item.op == Alignment::O1 ? CreaseWay::between : CreaseWay::align, i);
  }

  /// What all moves that crease have in common.
  [[nodiscard]] Move finished(Move move, CreaseWay way, int i) const {
    const ConstructionItem& item = c_[i];
    MakeCreases crease;
    crease.way = way;
    crease.makes = item_id(plan_, i);
    move.aligned.others = c_.others(item);
    const auto need = std::find_if(needs_.begin(), needs_.end(), [&](const CreaseNeed& n) { return n.item == i; });
    crease.extent = need == needs_.end() ? Extent::full : need->extent;
    crease.spans = {need == needs_.end() ? item.chord : need->span};
    crease.fold = Fold::valley;
    move.hand_sigma_mm = hand_.sigma_mm;
    move.sigma_mm = errors_.distances(i, item.line, {item.chord.from, item.chord.to}).rowwise().norm().maxCoeff();
    // Two things to bring together at once take their time.
    const double aligning = item.landing                                           ? 1.5
                            : item.op == Alignment::O6                             ? 2
                            : item.op == Alignment::O5 || item.op == Alignment::O7 ? 1.5
                                                                                   : 1;
    move.seconds = aligning * (crease.extent == Extent::pinch ? hand_.pinch_seconds : hand_.fold_seconds);
    move.effect = std::move(crease);
    return move;
  }

  const Construction& c_;
  const std::vector<CreaseNeed>& needs_;
  const std::vector<int>& results_;
  const HandProfile& hand_;
  ElementId plan_;
  ConstructionErrors errors_;
  Programme out_;
};

} // namespace

Programme programme_of(const Construction& construction, const std::vector<CreaseNeed>& needs,
                       const std::vector<int>& results, const HandProfile& hand, ElementId plan) {
  return lettered(Teller(construction, needs, results, hand, plan).run());
}

Programme programme_of(const Route& route, const HandProfile& hand, ElementId plan) {
  return programme_of(route.construction, route.needs, {route.result}, hand, plan);
}

void add_cut(Programme& programme, const Construction& c, const std::vector<int>& outline,
             const ConstructionErrors& errors) {
  std::erase_if(programme.moves, [](const Move& m) { return m.is(WorkWay::check); });
  Polygon kept;
  for (const int corner : outline) kept.push_back(c[corner].point);
  Move cut = Move::cutting(kept, 60 + 20.0 * static_cast<double>(outline.size()));
  for (const int corner : outline) cut.sigma_mm = std::max(cut.sigma_mm, errors.sigma_of_point(corner));
  programme.moves.push_back(std::move(cut));
}

std::optional<std::size_t> move_making(const Programme& programme, int item, ElementId plan) {
  for (std::size_t i = 0; i < programme.moves.size(); ++i) {
    if (programme.moves[i].creases().makes == item_id(plan, item)) return i;
  }
  return std::nullopt;
}

} // namespace uc
