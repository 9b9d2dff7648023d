// Moves that are made again elsewhere: the symmetries of the sheet that carry them there, and the names as they are
// there.
#pragma once

#include "fold/sequence.h"

namespace uc {

/// The isometries that bring the sheet onto itself, the turns first by growing angle, then the mirrors.
std::vector<Isometry> symmetries_of(const Polygon& sheet);

/// The names of a move carried elsewhere. `made` has the names that were made again there, by their old ones; the name
/// of a thing that has no counterpart under `by` is an error.
class CarriedNames {
public:
  CarriedNames(const FoldSequence& sequence, const PieceForm& form, const Isometry& by,
               const std::map<std::string, std::string>& made)
      : sequence_(sequence), form_(form), by_(by), made_(made) {}

  /// The move with all of its names carried; what it makes is named anew when it had a name.
  [[nodiscard]] Result<StepLine> carried(const StepLine& step) const;

private:
  [[nodiscard]] Result<std::string> name(const std::string& name) const;
  [[nodiscard]] Result<std::string> crease(const std::string& name, int crease) const;

  const FoldSequence& sequence_;
  const PieceForm& form_;
  Isometry by_;
  const std::map<std::string, std::string>& made_;
};

/// The first point or line that moves name; what `repeat ... at` carries onto the thing it names.
std::string first_name(const std::vector<StepLine>& moves);
/// Where a corner, the middle of an edge or a named point lies on the bare sheet; nothing for creases.
std::optional<Point> sheet_point(const FoldSequence& sequence, const std::string& name);

} // namespace uc
