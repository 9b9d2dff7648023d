#include "fold/step_errors.h"

#include "base/index.h"

#include <Eigen/Eigenvalues>

#include <algorithm>
#include <cmath>
#include <numeric>

namespace uc {
namespace {

class Replay {
public:
  Replay(const FoldSequence& sequence, const std::vector<double>& errors)
      : sequence_(sequence), sheet_(sequence.file.sheet.outline()), errors_(errors) {}

  std::optional<std::vector<Line>> lines() {
    for (std::size_t k = 0; k < sequence_.folds.size(); ++k) {
      const auto l = aligned(sequence_.folds[k]);
      if (!l) return std::nullopt;
      const Line erring = off(*l, sequence_.folds[k], errors_[2 * k], errors_[2 * k + 1]);
      for (; made_.size() < sequence_.lines.size();) {
        const PaperLine& p = sequence_.lines[made_.size()];
        if (p.fold != static_cast<int>(k)) break;
        made_.push_back(place(p.folded_at).inverse() * erring);
      }
    }
    return std::move(made_);
  }

private:
  [[nodiscard]] Isometry place(const std::vector<int>& folded_at) const {
    Isometry all;
    for (const int l : folded_at) all = all * Isometry::reflection_in(made_[at(l)]);
    return all;
  }
  [[nodiscard]] Line line(int index) const {
    if (index >= 0) return made_[at(index)];
    const auto i = at(-1 - index);
    return Line::through(sheet_[i], sheet_[(i + 1) % sheet_.size()]);
  }
  [[nodiscard]] std::optional<Line> aligned(const FoldRecord& fold) const {
    AlignmentInputs in;
    std::size_t points = 0;
    std::size_t lines = 0;
    for (const AlignedThing& t : fold.things) {
      const Isometry lies = place(t.folded_at);
      switch (t.kind) {
      case AlignedThing::Kind::corner:
        in.points[points++] = lies * sheet_[at(t.index)];
        break;
      case AlignedThing::Kind::crossing: {
        const auto p = line(t.lines[0]).crossing(line(t.lines[1]));
        if (!p) return std::nullopt;
        in.points[points++] = lies * *p;
        break;
      }
      case AlignedThing::Kind::edge:
        in.lines[lines++] = lies * line(-1 - t.index);
        break;
      case AlignedThing::Kind::crease:
        in.lines[lines++] = lies * line(t.index);
        break;
      }
    }
    if (fold.along) return in.lines[0];
    const auto miss = [&](const Line& l) {
      return std::max(std::abs(l.distance(fold.aligned.from)), std::abs(l.distance(fold.aligned.to)));
    };
    const Creases all = creases_of(fold.op, in);
    if (all.empty()) return std::nullopt;
    return *std::min_element(all.begin(), all.end(), [&](const Line& a, const Line& b) { return miss(a) < miss(b); });
  }
  /// The line with its ends off by these amounts.
  static Line off(Line l, const FoldRecord& fold, double first, double second) {
    if (fold.along || (first == 0 && second == 0)) return l;
    if (l.normal.dot(fold.line.normal) < 0) l = {-l.normal, -l.c};
    const auto end = [&](const Point& p, double error) { return Point(p + (error - l.distance(p)) * l.normal); };
    return Line::through(end(fold.aligned.from, first), end(fold.aligned.to, second));
  }

  const FoldSequence& sequence_;
  const Polygon& sheet_;
  const std::vector<double>& errors_;
  std::vector<Line> made_;
};

/// Two lines that fix each vertex; none for corners of the sheet.
std::vector<std::optional<std::array<int, 2>>> vertex_lines(const FoldSequence& sequence, const PieceForm& form) {
  const Polygon& sheet = sequence.file.sheet.outline();
  std::vector<std::vector<std::pair<int, Point>>> meeting(form.pattern.vertices.size());
  const double near = 2 * snap_tolerance(form.pattern);
  for (std::size_t e = 0; e < form.pattern.edges.size(); ++e) {
    const Segment s = form.pattern.segment(CreaseId(e));
    int line = form.line_of[e];
    for (std::size_t i = 0; line < 0 && i < sheet.size(); ++i) {
      const Line side = Line::through(sheet[i], sheet[(i + 1) % sheet.size()]);
      if (std::abs(side.distance(s.from)) < near && std::abs(side.distance(s.to)) < near) {
        line = -1 - static_cast<int>(i);
        break;
      }
    }
    const Point d = (s.to - s.from).normalized();
    for (const int v : {form.pattern.edges[e].from, form.pattern.edges[e].to}) meeting[at(v)].emplace_back(line, d);
  }
  std::vector<std::optional<std::array<int, 2>>> out(meeting.size());
  for (std::size_t v = 0; v < meeting.size(); ++v) {
    const Point& p = form.pattern.vertices[v];
    if (std::any_of(sheet.begin(), sheet.end(), [&](const Point& c) { return (c - p).norm() < near; })) continue;
    double best = 0;
    for (const auto& [a, da] : meeting[v]) {
      for (const auto& [b, db] : meeting[v]) {
        const double sine = std::abs(da.x() * db.y() - da.y() * db.x());
        if (a != b && sine > best + 1e-9) best = sine, out[v] = std::array{a, b};
      }
    }
  }
  return out;
}

std::vector<Point> vertices_on(const FoldSequence& sequence, const PieceForm& form,
                               const std::vector<std::optional<std::array<int, 2>>>& fixed_by,
                               const std::vector<Line>& lines) {
  const Polygon& sheet = sequence.file.sheet.outline();
  const auto line = [&](int i) {
    if (i >= 0) return lines[at(i)];
    return Line::through(sheet[at(-1 - i)], sheet[at(-i) % sheet.size()]);
  };
  std::vector<Point> out = form.pattern.vertices;
  for (std::size_t v = 0; v < out.size(); ++v) {
    if (!fixed_by[v]) continue;
    if (const auto p = line((*fixed_by[v])[0]).crossing(line((*fixed_by[v])[1]))) out[v] = *p;
  }
  return out;
}

/// Vertices that lie on each other in the folded state, two by two; of each heap every one with the first.
std::vector<std::array<VertexId, 2>> meeting_vertices(const PieceForm& form) {
  std::vector<std::size_t> order(form.form.vertices.size());
  std::iota(order.begin(), order.end(), std::size_t{0});
  const auto at_vertex = [&](std::size_t v) -> const Point& { return form.form.vertices[v]; };
  const double near = 4 * snap_tolerance(form.pattern);
  std::vector<char> taken(order.size(), 0);
  std::vector<std::array<VertexId, 2>> pairs;
  for (std::size_t v = 0; v < order.size(); ++v) {
    if (taken[v]) continue;
    for (std::size_t w = v + 1; w < order.size(); ++w) {
      if (taken[w] || (at_vertex(v) - at_vertex(w)).norm() > near) continue;
      taken[w] = 1;
      pairs.push_back({VertexId(v), VertexId(w)});
    }
  }
  return pairs;
}

/// Where these vertices of the bare sheet lie once it is folded along these lines.
std::vector<Point> folded_up(const PieceForm& form, const FoldPaths& paths, const std::vector<Point>& sheet,
                             const std::vector<Line>& lines) {
  std::vector<Point> out(sheet.size(), Point::Zero());
  for (std::size_t f = 0; f < form.graph.faces.size(); ++f) {
    Isometry place;
    for (const int l : paths.to(FaceId(f))) place = place * Isometry::reflection_in(lines[at(l)]);
    for (const VertexId v : form.graph.faces[f].cycle) out[at(v)] = place * sheet[at(v)];
  }
  return out;
}

double widest(const Eigen::Matrix2d& covariance) {
  const double most =
      Eigen::SelfAdjointEigenSolver<Eigen::Matrix2d>(covariance, Eigen::EigenvaluesOnly).eigenvalues()[1];
  return std::sqrt(std::max(0.0, most));
}

} // namespace

std::vector<Point> folded_vertices(const FoldSequence& sequence, const std::vector<Line>& lines) {
  const PieceForm& form = *sequence.states.back().form;
  return folded_up(form, FoldPaths(form), vertices_on(sequence, form, vertex_lines(sequence, form), lines), lines);
}

std::optional<std::vector<Line>> paper_lines(const FoldSequence& sequence, const std::vector<double>& errors) {
  return Replay(sequence, errors).lines();
}

SequenceErrors sequence_errors(const FoldSequence& sequence, double sigma_mm, double creep_per_layer_mm) {
  constexpr double step_mm = 1e-3;
  const PieceForm& form = *sequence.states.back().form;
  const auto fixed_by = vertex_lines(sequence, form);
  const auto pairs = meeting_vertices(form);
  const FoldPaths paths(form);
  SequenceErrors out;
  out.covariance.assign(form.pattern.vertices.size(), Eigen::Matrix2d::Zero());
  std::vector<Eigen::Matrix2d> gap(pairs.size(), Eigen::Matrix2d::Zero());
  std::vector<double> errors(2 * sequence.folds.size(), 0);
  // How far each vertex moves per mm of one error, on the bare sheet and folded; empty when an alignment gets lost.
  struct Slopes {
    std::vector<Point> sheet, folded;
  };
  const auto slopes = [&](double& error) -> Slopes {
    error = step_mm;
    const auto more = paper_lines(sequence, errors);
    error = -step_mm;
    const auto less = paper_lines(sequence, errors);
    error = 0;
    if (!more || !less) return {};
    Slopes high{vertices_on(sequence, form, fixed_by, *more), {}};
    Slopes low{vertices_on(sequence, form, fixed_by, *less), {}};
    high.folded = folded_up(form, paths, high.sheet, *more);
    low.folded = folded_up(form, paths, low.sheet, *less);
    for (std::size_t v = 0; v < high.sheet.size(); ++v) {
      high.sheet[v] = (high.sheet[v] - low.sheet[v]) / (2 * step_mm);
      high.folded[v] = (high.folded[v] - low.folded[v]) / (2 * step_mm);
    }
    return high;
  };
  std::vector<std::vector<double>> variance; // per fold and vertex
  for (std::size_t k = 0; k < sequence.folds.size(); ++k) {
    variance.emplace_back(out.covariance.size(), 0.0);
    const Slopes first = slopes(errors[2 * k]);
    const Slopes second = slopes(errors[2 * k + 1]);
    if (first.sheet.empty() || second.sheet.empty()) {
      out.determined = false;
      continue;
    }
    const double creep = creep_per_layer_mm * std::max(0, sequence.folds[k].layers - 1);
    const auto add = [&](const Point& a, const Point& b, Eigen::Matrix2d& covariance) {
      double all = 0;
      for (const Point& slope : {Point(sigma_mm * a), Point(sigma_mm * b), Point(creep * (a + b))}) {
        covariance += slope * slope.transpose();
        all += slope.squaredNorm();
      }
      return all;
    };
    for (std::size_t v = 0; v < out.covariance.size(); ++v)
      variance.back()[v] = add(first.sheet[v], second.sheet[v], out.covariance[v]);
    for (std::size_t p = 0; p < pairs.size(); ++p) {
      const auto apart = [&](const Slopes& s) { return Point(s.folded[at(pairs[p][0])] - s.folded[at(pairs[p][1])]); };
      add(apart(first), apart(second), gap[p]);
    }
  }
  std::size_t worst = 0;
  for (std::size_t v = 0; v < out.covariance.size(); ++v) {
    out.vertex_sigma_mm.push_back(widest(out.covariance[v]));
    if (out.vertex_sigma_mm[v] <= out.worst_sigma_mm) continue;
    out.worst_sigma_mm = out.vertex_sigma_mm[v];
    worst = v;
  }
  const double all = out.covariance.empty() ? 0 : out.covariance[worst].trace();
  for (const auto& of_fold : variance) out.share.push_back(all > 0 ? of_fold[worst] / all : 0);
  for (std::size_t p = 0; p < pairs.size(); ++p) out.gaps.push_back({pairs[p][0], pairs[p][1], widest(gap[p])});
  std::stable_sort(out.gaps.begin(), out.gaps.end(),
                   [](const FoldedGap& a, const FoldedGap& b) { return a.sigma_mm > b.sigma_mm; });
  return out;
}

std::optional<std::vector<Point>> sampled_vertices(const FoldSequence& sequence, double sigma_mm,
                                                   std::mt19937_64& random, double creep_per_layer_mm) {
  std::normal_distribution<double> unit(0, 1);
  std::vector<double> errors;
  for (const FoldRecord& fold : sequence.folds) {
    const double creep = creep_per_layer_mm * std::max(0, fold.layers - 1) * unit(random);
    for (int end = 0; end < 2; ++end) errors.push_back(sigma_mm * unit(random) + creep);
  }
  const auto lines = paper_lines(sequence, errors);
  if (!lines) return std::nullopt;
  const PieceForm& form = *sequence.states.back().form;
  return vertices_on(sequence, form, vertex_lines(sequence, form), *lines);
}

} // namespace uc
