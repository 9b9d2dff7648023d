// A regular polygon from its centre: the lines through the centre at multiples of 180°/n, completed by bisecting, and
// the vertices, each the mirror image of one that is known.
#pragma once

#include "reference/construction.h"

#include <map>

namespace uc {

class Rosette {
public:
  /// Whether vertices may be marked where an edge or a crease lands while the sheet is folded on a line of the rosette.
  /// It errs less than a crease square to that line, for nothing has to be aligned again.
  enum class Marking { creases, landings };

  /// `axis` is the line of index 0, through the centre and vertex 0; line j is turned by j·180°/n from it, vertex k by
  /// k·360°/n, counter-clockwise. Items of `construction`, which is added to.
  Rosette(Construction& construction, int sides, int centre, int axis, int vertex0);

  /// A line through the centre that is there already.
  void know_line(int index, int item) { lines_[wrapped(index)] = item; }
  void know_vertex(int index, int item) { vertices_[wrapped(index)] = item; }

  /// All vertices in order. A vertex is also taken from two lines that cross within `tolerance_mm` of its place; with 0
  /// it never is. Fails when a fold does not fit on the paper.
  Result<std::vector<int>> complete(double tolerance_mm, Marking marking);

private:
  [[nodiscard]] int wrapped(int index) const { return ((index % sides_) + sides_) % sides_; }
  [[nodiscard]] Line line_at(int index) const;
  [[nodiscard]] Point vertex_at(int index) const;
  /// The item of a line, made when missing; -1 when it cannot be.
  int line(int index);
  /// Pairs of lines that cross there at a good angle.
  [[nodiscard]] std::vector<std::pair<int, int>> crossing_lines(const Point& at, double tolerance_mm) const;
  int vertex(int index, double tolerance_mm);

  Construction& c_;
  int sides_;
  int centre_;
  std::map<int, int> lines_;
  std::map<int, int> vertices_;
  Marking marking_ = Marking::creases;
};

} // namespace uc
