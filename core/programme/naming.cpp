#include "programme/naming.h"

#include <algorithm>
#include <unordered_map>
#include <unordered_set>

namespace uc {
namespace {

constexpr char begins = '\x02';
constexpr char ends = '\x03';

/// Every element in the order in which moves come to speak of it.
std::vector<ElementId> in_order(const Programme& programme) {
  std::vector<ElementId> out;
  std::unordered_set<ElementId> seen;
  const auto see = [&](const std::vector<ElementId>& ids) {
    for (const ElementId id : ids)
      if (seen.insert(id).second) out.push_back(id);
  };
  for (const Move& move : programme.moves) {
    for (const auto* ids : {&move.aligned.moving, &move.aligned.onto, &move.aligned.through, &move.creases().ends})
      see(*ids);
    if (const auto& made = move.creases().makes) see({*made});
  }
  for (const Element& e : programme.elements) see({e.id});
  return out;
}

} // namespace

std::string capital_letter(int index) {
  const std::string letter(1, static_cast<char>('A' + index % 26));
  return index < 26 ? letter : letter + std::to_string(index / 26 + 1);
}

Programme lettered(Programme programme) {
  if (programme.folding) return programme;
  std::unordered_map<ElementId, Element*> elements;
  for (Element& e : programme.elements) elements.try_emplace(e.id, &e);
  int creases = 0;
  int points = 0;
  int edges = 0;
  for (const ElementId id : in_order(programme)) {
    const auto it = elements.find(id);
    if (it == elements.end() || it->second->label.empty()) continue;
    Element& e = *it->second;
    switch (e.role) {
    case Role::crease:
      e.label = std::to_string(++creases);
      break;
    case Role::point:
    case Role::corner:
      e.label = capital_letter(points++);
      break;
    case Role::raw_edge:
      e.label = capital_letter(edges++);
      e.label.front() = static_cast<char>(e.label.front() - 'A' + 'a');
      break;
    }
  }
  return programme;
}

std::string name_in_text(const TextStyle& style, const std::string& name) {
  return style.names_told_apart ? begins + name + ends : name;
}

std::vector<TextPart> text_parts(const std::string& sentence) {
  std::vector<TextPart> out;
  std::size_t from = 0;
  while (from < sentence.size()) {
    const std::size_t name = sentence.find(begins, from);
    const std::size_t end = name == std::string::npos ? name : sentence.find(ends, name);
    if (end == std::string::npos) break;
    if (name > from) out.push_back({sentence.substr(from, name - from), false});
    out.push_back({sentence.substr(name + 1, end - name - 1), true});
    from = end + 1;
  }
  if (from < sentence.size()) out.push_back({sentence.substr(from), false});
  return out;
}

std::vector<std::string> names_in(const std::string& sentence) {
  std::vector<std::string> out;
  for (const TextPart& part : text_parts(sentence))
    if (part.name && std::find(out.begin(), out.end(), part.text) == out.end()) out.push_back(part.text);
  return out;
}

std::string plain_text(const std::string& sentence) {
  std::string out;
  for (const TextPart& part : text_parts(sentence)) out += part.text;
  return out;
}

} // namespace uc
