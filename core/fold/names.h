// What the names of a steps file stand for: corners, edges, creases and crossings of the paper, wherever they lie now.
#pragma once

#include "base/result.h"
#include "form/piece_form.h"

#include <map>
#include <optional>
#include <string>
#include <vector>

namespace uc {

struct FoldSequence;

/// A point or line that was aligned, as it can be found again when creases lie a little off: a corner or edge of the
/// sheet, a crossing of two lines, a crease, each in a layer.
struct AlignedThing {
  enum class Kind { corner, edge, crossing, crease };
  Kind kind = Kind::corner;
  int index = 0;              // corner or edge of the sheet; paper line of a crease
  std::array<int, 2> lines{}; // crossing: two paper lines, -1 - i for edge i of the sheet
  std::vector<int> folded_at; // the layer it lay in: paper lines to be mirrored in, from the first face
};

/// A named thing as it lies now.
struct SeenThing {
  bool is_line = false;
  Point at = Point::Zero();       // a point
  Point on_sheet = Point::Zero(); // the same on the bare sheet
  Line line;                      // a line
  std::vector<Segment> pieces;    // of it, as they lie
  AlignedThing thing;

  struct Piece {
    int line = 0; // paper line, -1 - i for edge i of the sheet
    Segment on_sheet;
    std::vector<FaceId> faces; // beside it
  };
  std::vector<Piece> on_paper;
};

/// The folded creases between the first face and this one: mirroring in them one after another brings it to its place.
std::vector<int> folds_to(const PieceForm& form, FaceId face);

class StepNames {
public:
  explicit StepNames(FoldSequence& sequence) : sequence_(sequence) {}

  [[nodiscard]] bool known(const std::string& name) const;
  [[nodiscard]] std::string unknown(const std::string& name) const;
  /// Fails for unknown names and, unless `bent` is allowed, for lines that are bent now.
  [[nodiscard]] Result<SeenThing> seen(const std::string& name, const PieceForm& form, bool bent = false) const;
  [[nodiscard]] std::optional<int> crease_named(const std::string& name) const;

  /// The name a crease gets: the one given, else the next of c1, c2, ...; empty when it is taken.
  std::string name_crease(const std::string& wanted, int crease);
  void add_pinch(int line, const Segment& mark) { pinches_.push_back({line, mark}); }

  struct Crossing {
    Point on_sheet = Point::Zero();
    std::array<int, 2> lines{};
  };
  /// Where two lines cross on the paper, in the layer nearest to the folder. The error goes on from "a and b".
  [[nodiscard]] Result<Crossing> crossing(const SeenThing& a, const SeenThing& b, const PieceForm& form,
                                          bool from_behind) const;
  bool name_point(const std::string& name, const Crossing& crossing);

private:
  struct Pinch {
    int line = 0;
    Segment mark;
  };
  [[nodiscard]] std::vector<SeenThing::Piece> pieces_of(const std::string& name, const PieceForm& form) const;

  FoldSequence& sequence_;
  std::vector<Pinch> pinches_;
  int made_ = 0;
};

} // namespace uc
