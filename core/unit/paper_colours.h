// Which papers can be told apart, also by those who see fewer colours: reds and greens meet for some eyes.
#pragma once

#include "programme/unit_map.h"

#include <vector>

namespace uc {

/// With all cones, or without those for long or for middle wavelengths.
enum class Sight { full, protan, deutan };

/// How far apart two papers (#RRGGBB) look: a distance in CIELAB 1976, after Vienot, Brettel and Mollon 1999. 0 where
/// one of them is not a colour.
double colours_apart(const std::string& css, const std::string& other, Sight sight);

/// Papers nearer than this are taken for each other at arm's length. A rule of the house.
constexpr double told_apart = 25;

struct LikePapers {
  int first = 0;
  int second = 0;
  Sight sight = Sight::full; // for whom they are nearest
  double apart = 0;
};
/// The pairs that are nearer than `told_apart` for some eyes, the nearest first.
std::vector<LikePapers> look_alike(const std::vector<UnitMap::Colour>& papers);

/// Up to so many of them, in an order in which each is as far as can be from those before it, for all eyes; the first
/// stays the first.
std::vector<UnitMap::Colour> told_apart_best(const std::vector<UnitMap::Colour>& papers, int wanted);

} // namespace uc
