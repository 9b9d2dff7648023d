#include "form/simple_folding.h"

#include "base/index.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>

namespace uc {
namespace {

/// Lines by number, lines that are rounded apart by the same.
class LineNumbers {
public:
  explicit LineNumbers(double tolerance) : tolerance_(tolerance) {}
  int operator()(const Line& line) {
    const std::array<long, 3> key{std::lround(line.normal.x() * per_unit), std::lround(line.normal.y() * per_unit),
                                  std::lround(line.c / tolerance_)};
    if (const auto found = numbers_.find(key); found != numbers_.end()) return found->second;
    for (int step = 0; step < 27; ++step) {
      const auto near = numbers_.find({key[0] + step % 3 - 1, key[1] + step / 3 % 3 - 1, key[2] + step / 9 - 1});
      if (near != numbers_.end()) return near->second;
    }
    const int number = static_cast<int>(lines_.size());
    lines_.push_back(line);
    numbers_.emplace(key, number);
    return number;
  }
  [[nodiscard]] std::size_t size() const { return lines_.size(); }
  [[nodiscard]] const Line& operator[](int number) const { return lines_[at(number)]; }

private:
  static constexpr double per_unit = 1e6; // of normals
  double tolerance_;
  std::vector<Line> lines_;
  std::map<std::array<long, 3>, int> numbers_;
};

/// Paper on its way from bare to folded flat. Face 0 never moves.
class Folder {
public:
  Folder(const CreasePattern& pattern, const PatternGraph& graph, const FoldedForm& form, const Progress* progress)
      : pattern_(pattern), graph_(graph), form_(form), progress_(progress),
        size_(bounding_box(pattern.vertices).size().norm()), tolerance_(std::max(1e-7 * size_, 4 * form.closure_mm)),
        lines_(16 * tolerance_) {
    flipped_.assign(graph.faces.size(), 0);
    order_.resize(graph.faces.size());
    for (std::size_t f = 0; f < order_.size(); ++f) order_[f] = FaceId(f);
    around_.resize(pattern.vertices.size());
    for (std::size_t f = 0; f < graph.faces.size(); ++f) {
      first_.push_back(points_.size());
      for (const auto* cycle : cycles(graph.faces[f])) {
        for (const VertexId v : *cycle) {
          points_.push_back(pattern.vertices[at(v)]);
          around_[at(v)].emplace_back(f);
        }
      }
    }
    first_.push_back(points_.size());
    for (std::size_t e = 0; e < pattern.edges.size(); ++e) {
      const auto [f, g] = graph.sides[e];
      if (f >= 0 && g >= 0 && f != g && joins(pattern.edges[e].kind)) flat_.emplace_back(e);
      const Segment s = pattern.segment(CreaseId(e));
      line_of_.push_back(lines_(Line::through(s.from, s.to).in_one_sense()));
    }
  }

  std::optional<SimpleFolding> folded() {
    SimpleFolding out;
    while (std::any_of(flat_.begin(), flat_.end(), [&](CreaseId e) { return folds(pattern_.edges[at(e)].kind); })) {
      if (!fold_once()) return std::nullopt;
      ++out.folds;
    }
    if (!as_expected()) return std::nullopt;
    out.height.resize(order_.size());
    for (std::size_t i = 0; i < order_.size(); ++i) out.height[at(order_[i])] = static_cast<int>(i);
    return out;
  }

private:
  /// The corners of a face, holes in it included.
  static std::vector<const std::vector<VertexId>*> cycles(const GraphFace& face) {
    std::vector<const std::vector<VertexId>*> out{&face.cycle};
    for (const auto& hole : face.holes) out.push_back(&hole);
    return out;
  }

  /// +1 or -1 for a face on one side of the line, 0 for one that it cuts.
  [[nodiscard]] int side(FaceId face, const Line& line) const {
    double low = 0;
    double high = 0;
    for (std::size_t p = first_[at(face)]; p < first_[at(face) + 1]; ++p) {
      const double d = line.distance(points_[p]);
      low = std::min(low, d);
      high = std::max(high, d);
    }
    if (low >= -tolerance_) return high > tolerance_ ? 1 : 0;
    return high <= tolerance_ ? -1 : 0;
  }

  struct Candidate {
    CreaseId crease;
    Line line;
    double length = 0;
  };
  /// The lines on which paper is to be folded and lies flat, the preferred first.
  [[nodiscard]] std::vector<Candidate> candidates() const {
    std::vector<Candidate> on(lines_.size());
    for (const CreaseId e : flat_) {
      if (!folds(pattern_.edges[at(e)].kind)) continue;
      Candidate& c = on[at(line_of_[at(e)])];
      if (c.length == 0) c.crease = e, c.line = lines_[line_of_[at(e)]];
      c.length += pattern_.segment(e).length();
    }
    std::erase_if(on, [](const Candidate& c) { return c.length == 0; });
    const auto turned = [&](const Candidate& c) { return std::abs(c.line.direction().dot(last_)) > 1e-6; };
    std::stable_sort(on.begin(), on.end(), [&](const Candidate& a, const Candidate& b) {
      if (turned(a) != turned(b)) return turned(b);
      return a.length > b.length + tolerance_;
    });
    return on;
  }

  /// Lines with creases that have to be folded in opposite senses as they lie now. Where such creases lie on each other
  /// they do so for ever, and no fold through all layers can be made there.
  [[nodiscard]] int mixed_lines() const {
    std::vector<char> senses(lines_.size(), 0);
    for (const CreaseId e : flat_) {
      const EdgeKind kind = pattern_.edges[at(e)].kind;
      if (kind == EdgeKind::mountain || kind == EdgeKind::valley) senses[at(line_of_[at(e)])] |= rises(e) ? 1 : 2;
    }
    return static_cast<int>(std::count(senses.begin(), senses.end(), 3));
  }
  /// Whether a crease that is to be folded lies on paper that has none there: no fold through all layers can be made
  /// there any more. In large patterns, where looking would take longer than the folds, it is not asked.
  [[nodiscard]] bool crease_on_blank_paper() const {
    constexpr std::size_t most_pairs = 4'000'000;
    const std::size_t faces = graph_.faces.size();
    if (flat_.size() * faces > most_pairs) return false;
    std::vector<Box> boxes;
    for (std::size_t f = 0; f < faces; ++f) boxes.push_back(bounding_box(corners(FaceId(f))));
    for (const CreaseId e : flat_) {
      if (!folds(pattern_.edges[at(e)].kind)) continue;
      const Point p = middle(e);
      for (std::size_t f = 0; f < faces; ++f) {
        const Box& box = boxes[f];
        if (p.x() > box.low.x() && p.x() < box.high.x() && p.y() > box.low.y() && p.y() < box.high.y() &&
            inside(p, FaceId(f)))
          return true;
      }
    }
    return false;
  }
  [[nodiscard]] std::vector<Point> corners(FaceId f) const {
    const auto first = points_.begin() + static_cast<std::ptrdiff_t>(first_[at(f)]);
    return {first, first + static_cast<std::ptrdiff_t>(graph_.faces[at(f)].cycle.size())};
  }
  /// The middle of a crease as it lies.
  [[nodiscard]] Point middle(CreaseId e) const {
    const FaceId f = graph_.sides[at(e)][0];
    const auto& cycle = graph_.faces[at(f)].cycle;
    const PatternEdge& edge = pattern_.edges[at(e)];
    for (std::size_t i = 0; i < cycle.size(); ++i) {
      const std::size_t k = (i + 1) % cycle.size();
      if ((cycle[i] == edge.from && cycle[k] == edge.to) || (cycle[i] == edge.to && cycle[k] == edge.from))
        return Segment{points_[first_[at(f)] + i], points_[first_[at(f)] + k]}.middle();
    }
    return points_[first_[at(f)]]; // round a hole: on the face's own rim, inside none
  }
  /// Within a face and off its rim.
  [[nodiscard]] bool inside(const Point& p, FaceId f) const {
    const std::vector<Point> outline = corners(f);
    bool in = false;
    for (std::size_t i = 0; i < outline.size(); ++i) {
      const Point& a = outline[i];
      const Point& b = outline[(i + 1) % outline.size()];
      const double t = std::clamp((p - a).dot(b - a) / (b - a).squaredNorm(), 0.0, 1.0);
      if ((a + t * (b - a) - p).norm() < 16 * tolerance_) return false;
      if ((a.y() > p.y()) != (b.y() > p.y()) && p.x() < a.x() + (p.y() - a.y()) / (b.y() - a.y()) * (b.x() - a.x()))
        in = !in;
    }
    return in;
  }

  /// Whether folding this crease, as it lies, brings one of its faces above the other.
  [[nodiscard]] bool rises(CreaseId e) const {
    return (pattern_.edges[at(e)].kind == EdgeKind::valley) != (flipped_[at(graph_.sides[at(e)][0])] != 0);
  }

  bool fold_once() {
    const int mixed = mixed_lines();
    std::vector<Candidate> doubtful;
    for (const Candidate& c : candidates()) {
      if (work_ > most_work || (progress_ && progress_->stopped())) return false;
      const auto fold = fold_along(c);
      if (!fold) continue;
      const Kept before = kept();
      turn_over(*fold, c.line);
      if (mixed_lines() <= mixed && !crease_on_blank_paper()) return true;
      doubtful.push_back(c);
      put_back(before);
    }
    if (doubtful.empty()) return false;
    turn_over(*fold_along(doubtful.front()), doubtful.front().line);
    return true;
  }

  /// What a fold changes.
  struct Kept {
    std::vector<Point> points;
    std::vector<char> flipped;
    std::vector<FaceId> order;
    std::vector<CreaseId> flat;
    std::vector<int> line_of;
    Point last;
  };
  [[nodiscard]] Kept kept() const { return {points_, flipped_, order_, flat_, line_of_, last_}; }
  void put_back(const Kept& k) {
    points_ = k.points;
    flipped_ = k.flipped;
    order_ = k.order;
    flat_ = k.flat;
    line_of_ = k.line_of;
    last_ = k.last;
  }

  struct Fold {
    std::vector<char> moves; // per face
    bool on_top = false;
  };
  /// Nullopt when the layers that lie there cannot all be folded in one.
  std::optional<Fold> fold_along(const Candidate& c) {
    // Where a line ends inside the paper, a face beside its end is cut by it: most lines are given up here.
    for (const VertexId v : {pattern_.edges[at(c.crease)].from, pattern_.edges[at(c.crease)].to}) {
      for (const FaceId f : around_[at(v)]) {
        if (++work_; side(f, c.line) == 0) return std::nullopt;
      }
    }
    const int stays = side(FaceId(0), c.line);
    std::vector<char> moves(order_.size());
    for (std::size_t f = 0; f < moves.size(); ++f) {
      ++work_;
      const int lies = side(FaceId(f), c.line);
      if (lies == 0) return std::nullopt;
      moves[f] = static_cast<char>(lies != stays);
    }
    bool over = true; // the moving part can come to lie on top
    bool under = true;
    for (const CreaseId e : flat_) {
      const auto [f, g] = graph_.sides[at(e)];
      if (moves[at(f)] == moves[at(g)]) continue;
      const EdgeKind kind = pattern_.edges[at(e)].kind;
      if (!folds(kind)) return std::nullopt;
      if (kind != EdgeKind::undirected) (rises(e) ? under : over) = false;
    }
    if (!over && !under) return std::nullopt;
    return Fold{std::move(moves), over};
  }

  void turn_over(const Fold& fold, const Line& line) {
    const auto moves = [&](FaceId f) { return fold.moves[at(f)] != 0; };
    std::erase_if(flat_, [&](CreaseId e) { return moves(graph_.sides[at(e)][0]) != moves(graph_.sides[at(e)][1]); });
    std::vector<int> mirrored(lines_.size(), -1);
    for (const CreaseId e : flat_) {
      if (!moves(graph_.sides[at(e)][0])) continue;
      int& of = line_of_[at(e)];
      int& now = mirrored[at(of)];
      if (now < 0) now = lines_(lines_[of].mirrored_in(line).in_one_sense());
      of = now;
    }
    const auto staying = std::stable_partition(order_.begin(), order_.end(), [&](FaceId f) { return !moves(f); });
    for (auto f = staying; f != order_.end(); ++f) {
      flipped_[at(*f)] = static_cast<char>(flipped_[at(*f)] == 0);
      for (std::size_t p = first_[at(*f)]; p < first_[at(*f) + 1]; ++p) points_[p] = line.mirrored(points_[p]);
    }
    std::reverse(staying, order_.end());
    if (!fold.on_top) std::rotate(order_.begin(), staying, order_.end());
    last_ = line.normal;
  }

  /// Whether all faces have come where the pattern says.
  [[nodiscard]] bool as_expected() const {
    for (std::size_t f = 0; f < graph_.faces.size(); ++f) {
      std::size_t p = first_[f];
      for (const auto* cycle : cycles(graph_.faces[f])) {
        for (const VertexId v : *cycle) {
          const Point expected = form_.place[f] * pattern_.vertices[at(v)];
          if ((expected - points_[p++]).norm() > 10 * tolerance_) return false;
        }
      }
    }
    return true;
  }

  static constexpr long most_work = 200'000'000; // faces looked at: a second or two

  const CreasePattern& pattern_;
  const PatternGraph& graph_;
  const FoldedForm& form_;
  const Progress* progress_;
  double size_;
  double tolerance_;
  std::vector<Point> points_;               // corners of all faces as they lie now
  std::vector<std::size_t> first_;          // per face: the first of its corners
  std::vector<char> flipped_;               // per face
  std::vector<FaceId> order_;               // lowest first
  std::vector<CreaseId> flat_;              // creases that are not folded yet
  LineNumbers lines_;                       // met so far
  std::vector<int> line_of_;                // per edge: its line as it lies, while it is flat
  std::vector<std::vector<FaceId>> around_; // per vertex
  Point last_ = Point::Zero();              // square to the last fold: hands go on with the lines beside it
  long work_ = 0;
};

} // namespace

std::optional<SimpleFolding> simple_folding(const CreasePattern& pattern, const PatternGraph& graph,
                                            const FoldedForm& form, const Progress* progress) {
  return Folder(pattern, graph, form, progress).folded();
}

} // namespace uc
