#include "crease/precrease_elements.h"

#include "divide/division.h"

namespace uc {

using Kind = ConstructionItem::Kind;

PrecreaseElements::PrecreaseElements(const LineMaking& making, const std::vector<LineExtent>& extents,
                                     const ConstructionErrors& errors)
    : m_(making), c_(making.construction), extents_(extents), errors_(errors), line_of_(c_.items().size(), -1),
      version_(c_.items().size(), 0) {
  for (std::size_t i = 0; i < m_.lines.size(); ++i) {
    for (std::size_t k = 0; k < m_.lines[i].items.size(); ++k) {
      const auto item = static_cast<std::size_t>(m_.lines[i].items[k]);
      line_of_[item] = static_cast<int>(i);
      version_[item] = static_cast<int>(k);
    }
  }
  name_sheet();
  name_lines();
}

ElementId PrecreaseElements::line_id(int line) const {
  const LineInMaking& l = m_.lines[static_cast<std::size_t>(line)];
  return l.family >= 0 ? line_element_id(static_cast<std::size_t>(l.family), l.index)
                       : ElementId{ElementSource::pattern, 1, line};
}

ElementId PrecreaseElements::id_of_line_item(int item) const {
  return c_[item].kind == Kind::edge ? sheet_id(item) : line_id(line_of(item));
}

void PrecreaseElements::name_sheet() {
  static constexpr const char* edges[] = {"bottom", "right", "top", "left"};
  static constexpr const char* corners[] = {"lower-left", "lower-right", "upper-right", "upper-left"};
  const bool box = edge_id(c_.sheet(), 0) == "bottom";
  for (int i = 0; i < 2 * c_.corners(); ++i) {
    Element e;
    const bool corner = i < c_.corners();
    const int at = corner ? i : i - c_.corners();
    e.id = sheet_id(i);
    e.role = corner ? Role::corner : Role::raw_edge;
    if (box)
      e.place = corner ? corners[at] : edges[at];
    else
      e.label = std::to_string(at + 1);
    e.spans = {corner ? Segment{c_[i].point, c_[i].point} : c_[i].chord};
    e.sigma_mm = 0;
    elements_.push_back(std::move(e));
  }
}

void PrecreaseElements::name_lines() {
  int number = 0;
  for (std::size_t i = 0; i < m_.lines.size(); ++i) {
    const LineInMaking& made = m_.lines[i];
    Element e;
    e.id = line_id(static_cast<int>(i));
    e.role = Role::crease;
    if (made.family >= 0) {
      const GraduatedFamily& f = m_.families[static_cast<std::size_t>(made.family)];
      e.family = f.name;
      e.index = made.index;
      e.parts = f.parts;
      e.by_direction = true;
    } else {
      e.label = std::to_string(++number);
    }
    e.spans = segments(made.items.back(), extent(made.items.back()));
    e.sigma_mm = m_.sigma_mm[i];
    elements_.push_back(std::move(e));
  }
}

std::vector<Segment> PrecreaseElements::segments(int item, const Intervals& intervals) const {
  const Line& line = c_[m_.lines[static_cast<std::size_t>(line_of(item))].items.back()].line;
  const Point base = line.normal * line.c;
  std::vector<Segment> out;
  out.reserve(intervals.size());
  for (const auto& [low, high] : intervals)
    out.push_back({base + low * line.direction(), base + high * line.direction()});
  return out;
}

const Intervals& PrecreaseElements::extent(int item) const {
  return extents_[static_cast<std::size_t>(line_of(item))].items[static_cast<std::size_t>(version_of(item))];
}

ElementId PrecreaseElements::named_mark(int item) {
  if (item < c_.corners()) return sheet_id(item);
  const ElementId id{ElementSource::pattern, 2, item};
  if (!marks_.insert(item).second) return id;
  Element e;
  e.id = id;
  e.role = Role::point;
  const int count = static_cast<int>(marks_.size()) - 1;
  e.label = std::string(1, static_cast<char>('A' + count % 26)) + (count < 26 ? "" : std::to_string(count / 26 + 1));
  e.spans = {{c_[item].point, c_[item].point}};
  e.sigma_mm = errors_.sigma_of_point(item);
  if (c_[item].kind == Kind::crossing)
    e.made_of = {id_of_line_item(c_[item].lines[0]), id_of_line_item(c_[item].lines[1])};
  elements_.push_back(std::move(e));
  return id;
}

} // namespace uc
