#include "fold/simple_fold.h"

#include "base/index.h"

#include <fmt/format.h>

#include <algorithm>
#include <optional>

namespace uc {
namespace {

/// The extremes of a signed distance over a face, a cell or an edge.
struct Reach {
  double least = 1e300;
  double most = -1e300;
  void add(double d) {
    least = std::min(least, d);
    most = std::max(most, d);
  }
};

class Mover {
public:
  Mover(const PieceForm& form, const SimpleFold& fold)
      : form_(form), fold_(fold), near_(2 * snap_tolerance(form.pattern)), moves_(form.graph.faces.size(), 0) {}

  Result<std::vector<FaceId>> take() {
    if (const auto ok = begin(); !ok) return Error{ok.error()};
    tie();
    std::vector<FaceId> faces;
    for (std::size_t f = 0; f < moves_.size(); ++f) {
      if (moves_[f]) faces.emplace_back(f);
    }
    if (faces.empty()) return Error{"no paper lies on the side that should move"};
    if (const auto ok = not_held(); !ok) return Error{ok.error()};
    return faces;
  }

  std::vector<FaceId> tied(const std::vector<FaceId>& from) {
    for (const FaceId f : from) moves_[at(f)] = static_cast<char>(has_moving_part(f));
    tie();
    std::vector<FaceId> faces;
    for (std::size_t f = 0; f < moves_.size(); ++f) {
      if (moves_[f]) faces.emplace_back(f);
    }
    return faces;
  }

  /// The stack over a cell as the fold meets it: first what lies where the moved paper goes.
  [[nodiscard]] std::vector<FaceId> stack(const FoldedCell& cell) const {
    std::vector<FaceId> faces = form_.layers_of(cell);
    if (!fold_.on_top) std::reverse(faces.begin(), faces.end());
    return faces;
  }
  [[nodiscard]] Reach reach(const FoldedCell& cell) const {
    Reach r;
    for (const VertexId v : cell.cycle) r.add(distance(form_.overlap.vertices[at(v)]));
    return r;
  }
  /// Whether the crease bounds or crosses a cell on the side that moves.
  [[nodiscard]] bool creased(const FoldedCell& cell) const {
    const Reach r = reach(cell);
    if (cell.sliver || r.most < near_ || r.least > near_) return false;
    Polygon outline;
    for (const VertexId v : cell.cycle) outline.push_back(form_.overlap.vertices[at(v)]);
    double along = 0;
    for (const Segment& s : clip(fold_.line, outline, near_)) along += s.length();
    return along > near_;
  }

private:
  [[nodiscard]] double distance(const Point& p) const { return fold_.side * fold_.line.distance(p); }
  [[nodiscard]] bool has_moving_part(FaceId face) const {
    Reach r;
    for (const int v : form_.graph.faces[at(face)].cycle) r.add(distance(form_.form.vertices[at(v)]));
    return r.most > near_;
  }

  Status begin() {
    const int faces = static_cast<int>(moves_.size());
    switch (fold_.layers.kind) {
    case FoldLayers::Kind::all:
      for (FaceId f(0); f < faces; ++f) moves_[at(f)] = static_cast<char>(has_moving_part(f));
      break;
    case FoldLayers::Kind::top: {
      bool deep_enough = false;
      for (const FoldedCell& cell : form_.overlap.cells) {
        if (!creased(cell)) continue;
        const auto layers = stack(cell);
        deep_enough = deep_enough || static_cast<int>(layers.size()) >= fold_.layers.count;
        for (std::size_t i = 0; i < layers.size() && i < at(fold_.layers.count); ++i) moves_[at(layers[i])] = 1;
      }
      if (!deep_enough)
        return Error{fmt::format("{} are not there: fewer lie on this line",
                                 fold_.layers.count == 1 ? "1 layer" : fmt::format("{} layers", fold_.layers.count))};
      break;
    }
    case FoldLayers::Kind::flap:
      for (const int f : faces_at(form_, fold_.layers.flap)) {
        if (distance(form_.form.place[at(f)] * fold_.layers.flap) > near_) moves_[at(f)] = 1;
      }
      if (std::find(moves_.begin(), moves_.end(), 1) == moves_.end())
        return Error{"the point of the flap does not lie on the side that moves"};
      break;
    }
    return Done{};
  }

  /// Whatever is joined to paper that moves, off the crease, moves as well.
  void tie() {
    for (bool more = true; more;) {
      more = false;
      for (std::size_t e = 0; e < form_.pattern.edges.size(); ++e) {
        const auto [f, g] = form_.graph.sides[e];
        if (!joins(form_.pattern.edges[e].kind) || f < 0 || g < 0 || moves_[at(f)] == moves_[at(g)]) continue;
        Reach r;
        r.add(distance(form_.form.vertices[at(form_.pattern.edges[e].from)]));
        r.add(distance(form_.form.vertices[at(form_.pattern.edges[e].to)]));
        if (r.most < near_) continue;
        moves_[at(f)] = moves_[at(g)] = 1;
        more = true;
      }
    }
  }

  Status not_held() const {
    for (const FoldedCell& cell : form_.overlap.cells) {
      if (cell.sliver || reach(cell).most < near_) continue;
      const auto layers = stack(cell);
      std::size_t moving = 0;
      while (moving < layers.size() && moves_[at(layers[moving])]) ++moving;
      for (std::size_t i = moving; i < layers.size(); ++i) {
        if (!moves_[at(layers[i])]) continue;
        return Error{fmt::format("other paper lies on what should move (face {} on face {})",
                                 static_cast<int>(layers[moving]), static_cast<int>(layers[i]))};
      }
      if (fold_.layers.kind == FoldLayers::Kind::top && creased(cell) && moving > at(fold_.layers.count))
        return Error{fmt::format(
            "the paper would tear: the top {} joined to what lies below; fold {} layers here",
            fold_.layers.count == 1 ? "layer is" : fmt::format("{} layers are", fold_.layers.count), moving)};
    }
    return Done{};
  }

  const PieceForm& form_;
  const SimpleFold& fold_;
  double near_;
  std::vector<char> moves_;
};

} // namespace

namespace {

/// The line as its crease came to lie: vertices that were there already may have drawn it in by a hair.
Line as_creased(const PieceForm& form, const Line& line, const std::vector<char>& moves) {
  const Point d = line.direction();
  std::optional<Point> first;
  std::optional<Point> last;
  for (std::size_t e = 0; e < form.pattern.edges.size(); ++e) {
    const auto [f, g] = form.graph.sides[e];
    if (!joins(form.pattern.edges[e].kind) || f < 0 || g < 0 || moves[at(f)] == moves[at(g)]) continue;
    for (const VertexId v : {form.pattern.edges[e].from, form.pattern.edges[e].to}) {
      const Point& p = form.form.vertices[at(v)];
      if (!first || d.dot(p) < d.dot(*first)) first = p;
      if (!last || d.dot(p) > d.dot(*last)) last = p;
    }
  }
  return first && (*last - *first).norm() > 1e-3 ? Line::through(*first, *last) : line;
}

} // namespace

Result<std::vector<FaceId>> moving_faces(const PieceForm& form, const SimpleFold& fold) {
  return Mover(form, fold).take();
}

std::vector<FaceId> tied_faces(const PieceForm& form, const Line& line, double side, const std::vector<FaceId>& from) {
  SimpleFold fold;
  fold.line = line;
  fold.side = side;
  return Mover(form, fold).tied(from);
}

std::vector<std::pair<FaceId, Segment>> creased_pieces(const PieceForm& form, const Line& line,
                                                       const std::vector<FaceId>& faces) {
  std::vector<std::pair<FaceId, Segment>> pieces;
  const double near = 2 * snap_tolerance(form.pattern);
  for (const FaceId f : faces) {
    const Line on_sheet = form.form.place[at(f)].inverse() * line;
    for (const Segment& s : clip(on_sheet, outline_of(form.pattern, form.graph.faces[at(f)]))) {
      if (s.length() > near) pieces.emplace_back(f, s);
    }
  }
  return pieces;
}

Result<PieceForm> folded_over(const PieceForm& creased, const SimpleFold& fold, const std::vector<char>& moving) {
  std::vector<char> moves(moving.size(), 0);
  for (std::size_t f = 0; f < moving.size(); ++f) {
    if (!moving[f]) continue;
    double furthest = 0;
    for (const VertexId v : creased.graph.faces[f].cycle) {
      const double d = fold.side * fold.line.distance(creased.form.vertices[at(v)]);
      if (std::abs(d) > std::abs(furthest)) furthest = d;
    }
    moves[f] = static_cast<char>(furthest > 0);
  }
  return refolded(creased, moves, Isometry::reflection_in(as_creased(creased, fold.line, moves)), fold.on_top);
}

int layers_creased(const PieceForm& form, const SimpleFold& fold, const std::vector<FaceId>& faces) {
  const Mover mover(form, fold);
  int most = 0;
  for (const FoldedCell& cell : form.overlap.cells) {
    if (!mover.creased(cell)) continue;
    most = std::max(most, static_cast<int>(std::count_if(cell.faces.begin(), cell.faces.end(), [&](FaceId f) {
                      return std::find(faces.begin(), faces.end(), f) != faces.end();
                    })));
  }
  return most;
}

} // namespace uc
