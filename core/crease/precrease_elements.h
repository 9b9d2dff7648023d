// What the moves of a pre-crease call the sheet's edges, the lines and the marks. Lines of a division have the ids of a
// division's lines, so that they are measured and judged like those.
#pragma once

#include "crease/precrease_moves.h"

#include <set>

namespace uc {

class PrecreaseElements {
public:
  /// All given must outlive it.
  PrecreaseElements(const LineMaking& making, const std::vector<LineExtent>& extents, const ConstructionErrors& errors);

  [[nodiscard]] int line_of(int item) const { return line_of_[static_cast<std::size_t>(item)]; }
  /// Which making of its line an item is, from 0.
  [[nodiscard]] int version_of(int item) const { return version_[static_cast<std::size_t>(item)]; }
  [[nodiscard]] ElementId line_id(int line) const;
  [[nodiscard]] static ElementId sheet_id(int item) { return {ElementSource::pattern, 0, item}; }
  [[nodiscard]] ElementId id_of_line_item(int item) const;
  /// A mark the moves name: given a letter when it is first needed.
  ElementId named_mark(int item);
  /// Intervals along the last making of an item's line, as segments.
  [[nodiscard]] std::vector<Segment> segments(int item, const Intervals& intervals) const;
  /// What of a line is creased by one of its items.
  [[nodiscard]] const Intervals& extent(int item) const;
  std::vector<Element> take() { return std::move(elements_); }

private:
  void name_sheet();
  void name_lines();

  const LineMaking& m_;
  const Construction& c_;
  const std::vector<LineExtent>& extents_;
  const ConstructionErrors& errors_;
  std::vector<int> line_of_; // per item
  std::vector<int> version_;
  std::set<int> marks_;
  std::vector<Element> elements_;
};

} // namespace uc
