// What the names of a steps file stand for: corners, edges, creases and crossings of the paper, wherever they lie now.
#pragma once

#include "base/result.h"
#include "fold/fold_record.h"
#include "form/piece_form.h"

#include <map>
#include <optional>
#include <string>
#include <vector>

namespace uc {

struct FoldSequence;

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

/// The folded creases between the first face and each other: mirroring in them one after another brings it to its
/// place.
class FoldPaths {
public:
  explicit FoldPaths(const PieceForm& form);
  [[nodiscard]] std::vector<int> to(FaceId face) const;

private:
  std::vector<int> from_; // per face: the one before it on the way from the first; -1 for that, -2 where no way leads
  std::vector<int> by_;   // the paper line that is folded between the two; -1 for an open crease
};
/// The way to one face.
inline std::vector<int> folds_to(const PieceForm& form, FaceId face) { return FoldPaths(form).to(face); }

class StepNames {
public:
  explicit StepNames(FoldSequence& sequence) : sequence_(sequence) {}

  [[nodiscard]] bool known(const std::string& name) const;
  [[nodiscard]] std::string unknown(const std::string& name) const;
  /// Fails for unknown names and, unless `bent` is allowed, for lines that are bent now.
  [[nodiscard]] Result<SeenThing> seen(const std::string& name, const PieceForm& form, bool bent = false) const;
  [[nodiscard]] std::optional<int> crease_named(const std::string& name) const;

  /// The crease a paper line is a piece of.
  [[nodiscard]] int crease_of(int line) const;
  /// The paper line an edge of the pattern lies on, -1 - i for edge i of the sheet.
  [[nodiscard]] int line_number(const PieceForm& form, CreaseId edge) const;
  /// The edge or crease there, in the layer of this face.
  [[nodiscard]] AlignedThing thing_of(const PieceForm& form, CreaseId edge, FaceId face) const;

  /// The name a crease gets: the one given, else the next of c1, c2, ...; empty when it is taken.
  std::string name_crease(const std::string& wanted, int crease);
  /// The first name it has.
  [[nodiscard]] std::string name_of_crease(int crease) const;
  void add_pinch(int line, const Segment& mark) { pinches_.push_back({line, mark}); }

  struct Pinch {
    int line = 0;
    Segment mark;
  };
  struct Crossing {
    Point on_sheet = Point::Zero();
    std::array<int, 2> lines{};
  };
  /// Where two lines cross on the paper, in the layer nearest to the folder. The error goes on from "a and b".
  [[nodiscard]] Result<Crossing> crossing(const SeenThing& a, const SeenThing& b, const PieceForm& form,
                                          bool from_behind) const;
  bool name_point(const std::string& name, const Crossing& crossing);
  /// The first of name2, name3, ... that nothing has.
  [[nodiscard]] std::string free_name(const std::string& name) const;

  /// What it knows beside the sequence, to be restored with it.
  struct Kept;
  [[nodiscard]] Kept kept() const;
  void restore(Kept kept);

private:
  [[nodiscard]] std::vector<SeenThing::Piece> pieces_of(const std::string& name, const PieceForm& form) const;

  FoldSequence& sequence_;
  std::vector<Pinch> pinches_;
  int made_ = 0;
};

struct StepNames::Kept {
  std::vector<Pinch> pinches;
  int made = 0;
};

} // namespace uc
