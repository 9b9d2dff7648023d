// The paper as a move finds it: its named things, which line an alignment gives on it, and which side of that moves.
#pragma once

#include "fold/names.h"
#include "fold/steps_file.h"

#include <optional>
#include <vector>

namespace uc {

/// A move that cannot be made; thrown while a line of a steps file is carried out, never beyond.
struct NotMade {
  std::string reason;
  bool unknown_name = false; // the file is wrong, whatever the paper does
};

/// What an alignment gives on the paper.
struct AlignedFold {
  FoldRecord record;
  AlignmentInputs inputs;
  std::optional<SeenThing> moved, target, second_target;
  std::vector<Line> lines; // that fit, as the paper lies
};

class Scene {
public:
  Scene(const StepNames& names, const PieceForm& form, double sheet_diagonal, bool from_behind)
      : names_(names), form_(form), size_(sheet_diagonal), from_behind_(from_behind) {}

  [[nodiscard]] const PieceForm& form() const { return form_; }
  [[nodiscard]] bool from_behind() const { return from_behind_; }
  [[nodiscard]] const StepNames& names() const { return names_; }
  /// Points closer than this are one.
  [[nodiscard]] double near() const { return 1e-6 * size_; }

  /// These throw NotMade.
  [[nodiscard]] SeenThing seen(const std::string& name, bool bent = false) const;
  [[nodiscard]] SeenThing point(const std::string& name) const;
  [[nodiscard]] SeenThing line(const std::string& name, bool bent = false) const;
  [[nodiscard]] AlignedFold aligned(const StepAlignment& wish) const;
  /// The line that is folded, of those that fit.
  [[nodiscard]] Line folded_on(const AlignedFold& a, const StepAlignment& wish) const;
  /// The side that moves, as the sign of the line's distance.
  [[nodiscard]] double side_of(const AlignedFold& a, const StepLine& step, const Line& l) const;

  [[nodiscard]] bool lands_on(const Point& p, const SeenThing& line) const;
  [[nodiscard]] bool crosses_paper(const Line& l) const;

private:
  void set(AlignedFold& a, Alignment op, const std::vector<const SeenThing*>& points,
           const std::vector<const SeenThing*>& lines) const;
  [[nodiscard]] std::optional<double> fit(const AlignedFold& a, const Line& l) const;
  [[nodiscard]] Line chosen(const AlignedFold& a, const StepAlignment& wish) const;
  [[nodiscard]] Line settled(const Line& l) const;

  const StepNames& names_;
  const PieceForm& form_;
  double size_;
  bool from_behind_;
};

/// The part of a line that is creased, as the paper lies.
Segment creased_extent(const PieceForm& form, const Line& l, const std::vector<std::pair<FaceId, Segment>>& pieces);

} // namespace uc
