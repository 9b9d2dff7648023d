// How the sheet lies before the folder: which way it is turned so that each fold brings paper over from where the hand
// is used to.
#pragma once

#include "precision/hand_profile.h"
#include "programme/move.h"

#include <optional>

namespace uc {

class Holding {
public:
  explicit Holding(const HandProfile& hand) : hand_(hand) {}

  /// Takes the sheet up so that paper is brought over along `way`, a direction on the face. Returns the rotation that
  /// takes, none for the sheet as it lies; the first time it is taken up as it suits.
  std::optional<Move> take(const Point& way, bool underside);
  /// Whether that needs a rotation.
  [[nodiscard]] bool needs_turn(const Point& way) const;
  /// Whether the sheet lies so that paper comes over along this way or against it.
  [[nodiscard]] bool lies_along(const Point& way) const;

private:
  [[nodiscard]] double degrees_to(const Point& way) const;
  const HandProfile& hand_;
  std::optional<Point> way_;
};

} // namespace uc
