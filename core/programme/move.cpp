#include "programme/move.h"

namespace uc {

const MakeCreases& Move::creases() const {
  static const MakeCreases none;
  if (const auto* made = std::get_if<MakeCreases>(&effect)) return *made;
  if (const auto* folded = std::get_if<Refold>(&effect)) return folded->creases;
  return none;
}

double Move::turn_deg() const {
  const auto* how = std::get_if<Handle>(&effect);
  return how ? how->degrees : 0;
}

namespace {

template <typename E, typename Way> bool has_way(const Effect& effect, Way way) {
  const auto* e = std::get_if<E>(&effect);
  return e && e->way == way;
}

} // namespace

bool Move::is(CreaseWay way) const { return has_way<MakeCreases>(effect, way); }
bool Move::is(RefoldWay way) const { return has_way<Refold>(effect, way); }
bool Move::is(HandleWay way) const { return has_way<Handle>(effect, way); }
bool Move::is(WorkWay way) const { return has_way<Work>(effect, way); }

Move Move::turning_over(double seconds) {
  Move move;
  move.effect = Handle{HandleWay::turn_over, 0};
  move.seconds = seconds;
  return move;
}

Move Move::rotating(double degrees, double seconds) {
  Move move;
  move.effect = Handle{HandleWay::rotate, degrees};
  move.seconds = seconds;
  return move;
}

Move Move::cutting(const Polygon& outline, double seconds) {
  Move move;
  Cut cut;
  for (std::size_t i = 0; i < outline.size(); ++i) cut.along.push_back({outline[i], outline[(i + 1) % outline.size()]});
  move.effect = std::move(cut);
  move.caution = Caution::blade;
  move.seconds = seconds;
  return move;
}

bool keeps_outline(const Cut& cut) {
  return cut.along.size() >= 3 && (cut.along.back().to - cut.along.front().from).norm() < 1e-6;
}

std::string kind_name(const Move& move) {
  return by_effect(
      move,
      [](const MakeCreases& e) -> std::string {
        return e.way == CreaseWay::align && e.extent == Extent::pinch ? "pinch" : name_of(e.way);
      },
      [](const Refold& e) -> std::string { return name_of(e.way); },
      [](const Collapse&) -> std::string { return "collapse"; },
      [](const FoldUnit&) -> std::string { return "fold-unit"; }, [](const Join&) -> std::string { return "join"; },
      [](const Handle& e) -> std::string { return name_of(e.way); }, [](const Cut&) -> std::string { return "cut"; },
      [](const Work& e) -> std::string { return name_of(e.way); });
}

std::optional<Effect> effect_named(const std::string& word) {
  if (word == "collapse") return Collapse{};
  if (word == "fold-unit") return FoldUnit{};
  if (word == "join") return Join{};
  if (word == "cut") return Cut{};
  if (word == "pinch") {
    MakeCreases pinch;
    pinch.extent = Extent::pinch;
    return pinch;
  }
  if (const auto way = named<CreaseWay>(word)) {
    MakeCreases creases;
    creases.way = *way;
    return creases;
  }
  if (const auto way = named<RefoldWay>(word)) return Refold{*way, {}};
  if (const auto way = named<HandleWay>(word)) return Handle{*way, 0};
  if (const auto way = named<WorkWay>(word)) return Work{*way, 0};
  return std::nullopt;
}

} // namespace uc
