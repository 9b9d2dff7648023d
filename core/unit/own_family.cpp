#include "unit/own_family.h"

#include "base/index.h"
#include "base/quantity.h"

#include <fmt/format.h>
#include <fmt/ranges.h>

#include <algorithm>
#include <cmath>

namespace uc {
namespace {

/// Those of `there` that are not in `taken`, which takes all when it is empty.
std::vector<int> not_taken(const std::vector<int>& there, const std::vector<int>& taken) {
  std::vector<int> out;
  for (const int n : there)
    if (!taken.empty() && std::find(taken.begin(), taken.end(), n) == taken.end()) out.push_back(n);
  return out;
}

UnitFit fit_own(const OwnFamily& family, const Polyhedron& solid) {
  UnitFit out;
  if (!equal_edges(solid)) {
    out.refusal = "its edges must all be equally long";
    return out;
  }
  if (const auto faces = not_taken(face_sizes(solid), family.faces); !faces.empty()) {
    out.refusal = fmt::format("it has faces of {} sides, and this unit takes {}", fmt::join(faces, ", "),
                              fmt::join(family.faces, ", "));
    return out;
  }
  if (const auto corners = not_taken(valences(solid), family.valences); !corners.empty()) {
    out.refusal = fmt::format("{} edges meet at a corner, and this unit takes {}", fmt::join(corners, ", "),
                              fmt::join(family.valences, ", "));
    return out;
  }
  std::vector<double> told;
  for (const double angle : dihedral_degrees(solid)) {
    const double miss = std::max({0.0, family.least_dihedral_deg - angle, angle - family.most_dihedral_deg});
    if (miss < 0.01) continue;
    out.worst_miss_deg = std::max(out.worst_miss_deg, miss);
    if (std::any_of(told.begin(), told.end(), [&](double t) { return std::abs(t - angle) < 0.01; })) continue;
    told.push_back(angle);
    out.warnings.push_back(
        fmt::format("an edge of {:.2f} degrees misses what the unit takes by {:.2f} degrees", angle, miss));
  }
  return out;
}

Status numbers_in(const std::vector<int>& all, int least, int most, const char* what) {
  for (const int n : all)
    if (n < least || n > most) return Error{fmt::format("{} of {} cannot be; type {} to {}.", what, n, least, most)};
  return Done{};
}

} // namespace

Result<OwnFamily> checked(OwnFamily f) {
  const auto within = [](double v, double least, double most) { return v >= least && v <= most; };
  const auto plain = [](char c) { return (c >= 'a' && c <= 'z') || (c >= '0' && c <= '9') || c == '-'; };
  if (f.name.empty() || f.name.size() > 40 || !std::all_of(f.name.begin(), f.name.end(), plain))
    return Error{"The name of a unit is made of small letters, digits and hyphens, such as my-edge-unit."};
  if (find_unit_family(f.name))
    return Error{fmt::format("{} is the name of a unit that ships; choose another.", f.name)};
  if (f.title.empty()) f.title = f.name;
  if (f.title.size() > 80) return Error{"The title is longer than 80 letters; shorten it."};
  if (!within(f.ratio, 0.1, 20)) return Error{"The piece's height over its width is 0.1 to 20."};
  if (!within(f.edge_share, 0.02, 20)) return Error{"The edge over the width of the piece is 0.02 to 20."};
  if (const auto ok = numbers_in(f.faces, 3, 100, "Faces"); !ok) return Error{ok.error()};
  if (const auto ok = numbers_in(f.valences, 3, 100, "Corners"); !ok) return Error{ok.error()};
  if (!(within(f.least_dihedral_deg, 0, 360) && within(f.most_dihedral_deg, f.least_dihedral_deg, 360)))
    return Error{"The angles between faces run from the lesser to the greater, 0 to 360 degrees."};
  if (!within(f.folds, 1, 200)) return Error{"A unit takes 1 to 200 creases."};
  if (!within(f.joint_layers, 1, 40)) return Error{"A joint has 1 to 40 layers."};
  if (!within(f.thickest_mm, 0.01, 3)) return Error{"The thickest paper is 0.01 to 3 mm."};
  if (!within(f.least_edge_mm, 1, 1000)) return Error{"The shortest edge is 1 to 1000 mm."};
  if (f.how.size() > 60) return Error{"A unit is told in at most 60 steps."};
  for (auto* list : {&f.faces, &f.valences}) {
    std::sort(list->begin(), list->end());
    list->erase(std::unique(list->begin(), list->end()), list->end());
  }
  return f;
}

UnitFamily as_unit_family(const OwnFamily& own) {
  UnitFamily f{own.name, own.title, own.stands_for,
               fmt::format("As it was described: an edge is {} of the width of a piece of 1:{}.",
                           format_number(own.edge_share, 4), format_number(own.ratio, 4))};
  f.ratio = own.ratio;
  f.handed = own.handed;
  f.folds = own.folds;
  f.joint_layers = own.joint_layers;
  f.glued = own.glued;
  f.told = !own.glued;
  f.how = own.how;
  f.thickest_mm = own.thickest_mm;
  f.least_edge_mm = own.least_edge_mm;
  f.fit = [own](const Polyhedron& solid, const UnitSheet&) { return fit_own(own, solid); };
  f.edge_mm = [share = own.edge_share](const UnitSheet& sheet) { return share * sheet.width_mm; };
  return f;
}

std::shared_ptr<const UnitFamily> unit_family(std::string_view name, const std::vector<OwnFamily>& own) {
  for (const OwnFamily& f : own)
    if (f.name == name) return std::make_shared<const UnitFamily>(as_unit_family(f));
  const UnitFamily* shipped = find_unit_family(name);
  return {std::shared_ptr<const UnitFamily>(), shipped}; // the list outlives everything
}

std::vector<std::shared_ptr<const UnitFamily>> all_unit_families(const std::vector<OwnFamily>& own) {
  std::vector<std::shared_ptr<const UnitFamily>> out;
  for (const UnitFamily& f : unit_families()) out.emplace_back(std::shared_ptr<const UnitFamily>(), &f);
  for (const OwnFamily& f : own) out.push_back(std::make_shared<const UnitFamily>(as_unit_family(f)));
  return out;
}

} // namespace uc
