// The sheet before anything is folded: its shape in mm, origin bottom left, x right, y up, face side up.
#pragma once

#include "base/quantity.h"
#include "base/result.h"
#include "geometry/polygon.h"

#include <string>
#include <string_view>
#include <vector>

namespace uc {

enum class SheetShape { square, rectangle, strip, regular_polygon };

class Sheet {
public:
  Sheet() : Sheet(square(Millimetres{240})) {}
  static Sheet square(Millimetres side);
  static Sheet rectangle(Millimetres width, Millimetres height);
  static Sheet strip(Millimetres length, Millimetres width);
  /// Sides from 3 to 24, one edge along the bottom.
  static Sheet regular(int sides, Millimetres edge);

  /// The same shape, every length multiplied.
  [[nodiscard]] Sheet scaled(double factor) const;

  [[nodiscard]] SheetShape shape() const { return shape_; }
  [[nodiscard]] const Polygon& outline() const { return outline_; }
  [[nodiscard]] double width() const { return width_; }
  [[nodiscard]] double height() const { return height_; }
  [[nodiscard]] int sides() const { return static_cast<int>(outline_.size()); }
  [[nodiscard]] bool has_right_corners() const { return shape_ != SheetShape::regular_polygon || sides() == 4; }
  /// The text that parse_sheet reads back, such as "square:240mm".
  [[nodiscard]] std::string code() const;

private:
  Sheet(SheetShape shape, Polygon outline);
  SheetShape shape_;
  Polygon outline_;
  double width_ = 0;
  double height_ = 0;
};

/// Reads "square:240mm", "210x297mm", "a4", "a4/2" (the half sheet), "b5", "letter", "strip:300x40mm",
/// "ngon:6:100mm". Lengths from 1 mm to 100 m; the error names the part that is wrong.
Result<Sheet> parse_sheet(std::string_view text, LengthUnit plain_unit = LengthUnit::mm);

struct NamedSize {
  std::string name;
  double width_mm;
  double height_mm;
};
/// Sizes known by name: the A and B series of ISO 216 and the usual US sizes, portrait.
const std::vector<NamedSize>& named_sizes();

constexpr double least_length_mm = 1;
constexpr double greatest_length_mm = 100'000;
/// Checks a length against the range above; the message names `what`.
Result<Millimetres> checked_length(Millimetres length, std::string_view what);

} // namespace uc
