// A sleeve for cards: the long sides of a rectangle are folded in as hems, then its lower edge is folded up as a
// pocket; with two pockets the upper edge comes down too and the sleeve closes at its middle like a book. The folds
// across go through the hems, where they are seen from the other side. Inside: card and clearance.
#include "pattern/crease_lines.h"
#include "pattern/families/all.h"

#include <array>

namespace uc {
namespace {

struct Card {
  const char* name;
  double width_mm;
  double height_mm;
};
/// ISO/IEC 7810 for the first; ISO 216 for A7; the rest are sizes in common use.
constexpr std::array<Card, 5> cards = {{{"id-card", 85.6, 53.98},
                                        {"visiting-card", 85, 55},
                                        {"a7", 105, 74},
                                        {"banknote", 140, 77},
                                        {"wide-banknote", 160, 82}}};

Result<FamilyDrawing> draw_sleeve(const ParameterValues& values, const Polygon& /*sheet*/) {
  const auto which = static_cast<std::size_t>(values.at("card"));
  const Card card = which < cards.size() ? cards[which] : Card{"own", values.at("width"), values.at("height")};
  const double clear = values.at("clearance");
  const double hem = values.at("hem");
  const int pockets = static_cast<int>(values.at("pockets"));
  const double w = card.width_mm + clear;
  const double h = card.height_mm + clear;
  const double pocket = h * values.at("depth");
  const double width = w + 2 * hem;
  const double height = pockets * (h + pocket);
  CreaseLines lines(Polygon{{0, 0}, {width, 0}, {width, height}, {0, height}});
  lines.stage(1);
  lines.add({hem, 0}, {hem, height}, EdgeKind::valley);
  lines.add({width - hem, 0}, {width - hem, height}, EdgeKind::valley);
  const auto across = [&](double y) {
    lines.add({0, y}, {hem, y}, EdgeKind::mountain);
    lines.add({hem, y}, {width - hem, y}, EdgeKind::valley);
    lines.add({width - hem, y}, {width, y}, EdgeKind::mountain);
  };
  lines.stage(2);
  across(pocket);
  if (pockets == 2) {
    across(height - pocket);
    lines.stage(3);
    across(height / 2);
  }
  const double back = pockets == 2 ? height / 2 : height;
  FamilyDrawing out{
      lines.design(), {}, {{"back", {{hem, pocket}, {width - hem, pocket}, {width - hem, back}, {hem, back}}}}};
  out.figures.inside_mm = {{w, h, clear}};
  out.figures.pleat_mm = hem;
  out.figures.more = {{"pocket_mm", pocket}, {"card_width_mm", card.width_mm}, {"card_height_mm", card.height_mm}};
  return out;
}

/// Width and height of the pocket, and how thick a packet it takes.
ParameterValues sleeve_for(ParameterValues values, const std::array<double, 3>& inside) {
  values["card"] = static_cast<double>(cards.size());
  values["clearance"] = inside[2];
  values["width"] = inside[0] - inside[2];
  values["height"] = inside[1] - inside[2];
  return values;
}

} // namespace

PatternFamily card_sleeve_family() {
  std::vector<std::string> names;
  names.reserve(cards.size() + 1);
  for (const Card& c : cards) names.emplace_back(c.name);
  names.emplace_back("own");
  return {"card-sleeve",
          "Card sleeve",
          FamilyGroup::box,
          true,
          {{"card", "Card", ParameterType::choice, 0, static_cast<double>(cards.size()), 0,
            "What it holds; own: of the width and height below.", names},
           {"clearance", "Clearance", ParameterType::mm, 0.5, 20, 2, "Added to the card's width and height."},
           {"hem", "Hem", ParameterType::mm, 5, 40, 15, "Folded in at both sides; they keep the pocket closed."},
           {"pockets", "Pockets", ParameterType::integer, 1, 2, 1, "Two close like a book."},
           {"depth", "Depth of a pocket", ParameterType::number, 0.3, 0.95, 0.7, "As a part of the card's height."},
           {"width", "Own width", ParameterType::mm, 20, 500, 100, "Of a card of its own size."},
           {"height", "Own height", ParameterType::mm, 20, 500, 70, "Of a card of its own size."}},
          draw_sleeve,
          true,
          sleeve_for};
}

} // namespace uc
