// A move while it is told, with what has been collected of the programme around it: what the writers of its sentence
// and of its check both ask.
#pragma once

#include "programme/element_name.h"
#include "programme/text.h"

#include <algorithm>
#include <tuple>

namespace uc {

struct Told {
  const Programme& programme;
  const ProgrammeTeller::Index& index;
  const TextStyle& style;
  std::size_t here;
  std::vector<ElementId>* said = nullptr; // learns of what is called by a letter or a number

  [[nodiscard]] const Move& move() const { return programme.moves[here]; }
  [[nodiscard]] const Element* find(ElementId id) const {
    const auto it = index.elements.find(id);
    return it == index.elements.end() ? nullptr : &programme.elements[it->second];
  }
  [[nodiscard]] const MakeCreases& made_by() const { return move().creases(); }
  [[nodiscard]] const Element* made() const { return made_by().makes ? find(*made_by().makes) : nullptr; }
  /// How the sheet lies when the move is begun.
  [[nodiscard]] SheetState state() const {
    SheetState state;
    if (style.as_it_lies) std::tie(state.underside_up, state.turned_deg) = index.lies[here];
    return state;
  }
  void tell(const Element& element) const {
    if (said && !element.label.empty() && std::find(said->begin(), said->end(), element.id) == said->end())
      said->push_back(element.id);
  }
  [[nodiscard]] std::string name(const Element& element) const {
    tell(element);
    return element_name(element, style, state());
  }
};

/// Whether an element is only pinched when the move comes to use it.
bool only_pinched(const Told& t, ElementId id);
/// The line that comes onto itself while a corner is led along it.
std::optional<ElementId> guide_of(const Move& move);
/// What to look at when the move is done; empty where there is nothing.
std::string check_of(const Told& t);

} // namespace uc
