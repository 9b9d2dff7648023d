// A construction: what is on the sheet from the start (corners, edges, marks), then creases and crossings, each made
// from earlier ones. Every route, polygon recipe and division start is one, so all are judged, drawn and priced alike.
#pragma once

#include "align/alignment.h"
#include "align/sensitivity.h"
#include "base/result.h"

#include <array>
#include <random>
#include <string>
#include <vector>

namespace uc {

struct ConstructionItem {
  enum class Kind { corner, edge, mark, crease, crossing };
  Kind kind = Kind::corner;
  std::string id; // bl, bottom, c1, p1 ...
  Alignment op = Alignment::O1;
  bool landing = false; // a crease, yet by no alignment: where lines[0] lands when the sheet is folded on lines[1]
  std::array<int, 2> points{-1, -1}; // items it is made from, in the order of AlignmentInputs
  std::array<int, 2> lines{-1, -1};  // of a crossing: both lines; of a mark: the edge it lies on
  Line line;                         // of edges and creases
  Point point = Point::Zero();       // of corners, marks and crossings
  Segment chord;                     // the line on the sheet
  Contact contact;                   // of a crease
  double sigma_mm = 0;               // of a mark: its own standard error along its edge
  [[nodiscard]] bool is_line() const { return kind == Kind::edge || kind == Kind::crease; }
};

class Construction {
public:
  Construction() = default;
  /// Corners are items 0 to n-1, edges n to 2n-1, edge i from corner i to corner i+1. The sheet is convex,
  /// counter-clockwise, in mm.
  explicit Construction(Polygon sheet);

  [[nodiscard]] const Polygon& sheet() const { return sheet_; }
  [[nodiscard]] const std::vector<ConstructionItem>& items() const { return items_; }
  [[nodiscard]] const ConstructionItem& operator[](int item) const { return items_[static_cast<std::size_t>(item)]; }
  [[nodiscard]] int corners() const { return static_cast<int>(sheet_.size()); }
  [[nodiscard]] int corner(int i) const { return i; }
  [[nodiscard]] int edge(int i) const { return corners() + i; }
  /// The item with this id, -1 when there is none.
  [[nodiscard]] int find(const std::string& id) const;
  [[nodiscard]] int creases() const;
  [[nodiscard]] int size() const { return static_cast<int>(items_.size()); }

  /// Folds; of several creases that fit, the one nearest to `wanted` is made, or the first when none is named. Fails
  /// when none fits or the paper does not show the alignment.
  Result<int> fold(Alignment op, const std::array<int, 2>& points, const std::array<int, 2>& lines,
                   const std::optional<Line>& wanted = std::nullopt);
  Result<int> cross(int line, int other);
  /// The crease along which `line` lands while the sheet is folded on `fold`, a crease that is there.
  Result<int> land(int line, int fold);
  /// A mark on an edge that comes from outside: a ruler, a template, a guess by eye.
  int mark(int edge, const Point& at, double sigma_mm);
  /// A line that is on the sheet already and counts as exact, such as an old crease.
  int given_line(const Segment& span);
  /// The same crease or crossing under an existing item, when it is there already; -1 else.
  [[nodiscard]] int same_line(const Line& line, double tolerance = 1e-7) const;
  [[nodiscard]] int same_point(const Point& point, double tolerance = 1e-7) const;

  /// Further creases that this alignment allows on the paper.
  [[nodiscard]] std::vector<Segment> others(const ConstructionItem& item) const;
  [[nodiscard]] AlignmentInputs inputs_of(const ConstructionItem& item) const;
  /// Items that `item` needs, itself included, as flags per item.
  [[nodiscard]] std::vector<char> needed_for(const std::vector<int>& wanted) const;
  /// Only what `wanted` needs, renumbered; `wanted` is changed to the new numbers.
  [[nodiscard]] Construction reduced_to(std::vector<int>& wanted) const;
  /// Makes room for this many items in all.
  void reserve(int items) { items_.reserve(static_cast<std::size_t>(items)); }

private:
  void add(ConstructionItem item);
  Polygon sheet_;
  std::vector<ConstructionItem> items_;
  int creases_ = 0;
  int points_ = 0;
};

/// First-order errors of every item over the independent errors of all folds and marks, each of variance 1; a fold adds
/// two. Rows: x and y of points, turn and offset of lines.
class ConstructionErrors {
public:
  ConstructionErrors(const Construction& construction, double sigma_mm);

  /// Two rows, one column per error.
  [[nodiscard]] auto of(int item) const { return rows_.middleCols(item * errors_, errors_); }
  [[nodiscard]] Eigen::Matrix2d covariance(int item) const;
  /// Root of the mean squared distance of a point from where it should be, mm.
  [[nodiscard]] double sigma_of_point(int item) const;
  /// Errors of a line's distance from fixed points, one row per point.
  [[nodiscard]] Eigen::MatrixXd distances(int item, const Line& line, const std::vector<Point>& at) const;
  /// Share of the variance of these rows that each item itself brings in, per item; sums to 1.
  [[nodiscard]] std::vector<double> shares(const Eigen::MatrixXd& rows) const;
  /// False when some alignment does not fix its crease to first order.
  [[nodiscard]] bool determined() const { return determined_; }

private:
  Eigen::Matrix2Xd rows_; // item after item
  Eigen::Index errors_ = 0;
  std::vector<std::pair<int, int>> own_; // per item: the first error it adds, and how many
  bool determined_ = true;
};

/// One run of the same construction by a hand that errs; empty when the errors made an alignment impossible.
std::optional<std::vector<ConstructionItem>> sampled(const Construction& construction, double sigma_mm,
                                                     std::mt19937_64& random);

/// Names of the given items: bl br tr tl and bottom right top left on a rectangle, v1.. and e1.. on other sheets.
std::string corner_id(const Polygon& sheet, int index);
std::string edge_id(const Polygon& sheet, int index);
/// Whether its edges are called bottom, right, top and left.
bool is_box(const Polygon& sheet);

} // namespace uc
