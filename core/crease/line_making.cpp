#include "crease/line_making.h"

#include "crease/line_fold.h"
#include "divide/starts.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>
#include <numeric>
#include <set>

namespace uc {
namespace {

/// Least parts so that fraction·parts is whole, 0 when that takes too many.
int parts_for(double fraction, double tolerance) {
  for (int parts = 1; parts <= greatest_parts; ++parts) {
    if (std::abs(fraction * parts - std::round(fraction * parts)) < tolerance * parts) return parts;
  }
  return 0;
}

std::string family_name(const Point& normal) {
  if (std::abs(normal.y()) < 1e-6) return "x";
  if (std::abs(normal.x()) < 1e-6) return "y";
  const Point along{-normal.y(), normal.x()};
  double degrees = std::atan2(along.y(), along.x()) * 180 / std::numbers::pi;
  if (degrees < 0) degrees += 180;
  return format_number(degrees, 0);
}

/// Pairs of opposite, parallel raw edges that hold the whole sheet between them.
std::vector<GraduatedFamily> families_of(const Construction& c, double tolerance) {
  std::vector<GraduatedFamily> out;
  const int n = c.corners();
  for (int i = 0; i < n; ++i) {
    for (int j = i + 1; j < n; ++j) {
      const Line l = c[c.edge(i)].line.in_one_sense();
      const Line m = c[c.edge(j)].line.in_one_sense();
      if ((l.normal - m.normal).norm() * (c[c.edge(i)].chord.length() + c[c.edge(j)].chord.length()) > 2 * tolerance)
        continue;
      GraduatedFamily f;
      f.name = family_name(l.normal);
      f.normal = l.normal;
      f.low = std::min(l.c, m.c);
      f.extent_mm = std::abs(l.c - m.c);
      f.low_edge = l.c < m.c ? c.edge(i) : c.edge(j);
      f.high_edge = l.c < m.c ? c.edge(j) : c.edge(i);
      out.push_back(f);
    }
  }
  std::stable_sort(out.begin(), out.end(), [](const auto& a, const auto& b) { return a.name == "x" && b.name != "x"; });
  return out;
}

/// In units of the hand's error: lines further off are better measured, or folded with the help of more lines.
constexpr double hard = 2.5;

class Maker {
public:
  Maker(const std::vector<CarrierLine>& wanted, const Polygon& sheet, const HandProfile& hand,
        const LineMakingOptions& options)
      : wanted_(wanted), hand_(hand), options_(options), extent_(bounding_box(sheet).size().norm()),
        tolerance_(4e-6 * extent_) {
    out_.construction = Construction(sheet);
    out_.families = families_of(out_.construction, tolerance_);
  }

  /// `marks` are places on raw edges that should be had as ends of division lines, for lines nothing else makes.
  void run(const std::vector<Point>& marks) {
    made_.assign(wanted_.size(), 0);
    for (std::size_t f = 0; f < out_.families.size(); ++f) divide_family(f, marks);
    fold_the_rest();
    finish();
  }

  /// Where the lines meet the raw edges that were hard to make: those measured, or more than twice the hand's error
  /// off.
  [[nodiscard]] std::vector<Point> hard_ends() const {
    std::vector<Point> ends;
    for (std::size_t i = 0; i < out_.lines.size(); ++i) {
      const LineInMaking& line = out_.lines[i];
      if (line.carrier < 0 || line.family >= 0) continue;
      if (!line.measured && out_.sigma_mm[i] < 2 * hand_.sigma_mm) continue;
      const Segment& chord = out_.construction[line.items.back()].chord;
      ends.push_back(chord.from);
      ends.push_back(chord.to);
    }
    return ends;
  }
  [[nodiscard]] int measured() const {
    return static_cast<int>(
        std::count_if(out_.lines.begin(), out_.lines.end(), [](const LineInMaking& l) { return l.measured; }));
  }
  LineMaking take() { return std::move(out_); }
  [[nodiscard]] const LineMaking& so_far() const { return out_; }

private:
  [[nodiscard]] std::optional<double> fraction_in(const GraduatedFamily& f, const Line& line) const {
    const Line same = line.in_one_sense();
    if ((same.normal - f.normal).norm() * extent_ > tolerance_) return std::nullopt;
    return (same.c - f.low) / f.extent_mm;
  }

  /// The fraction at which a place on an edge that crosses the family lies.
  [[nodiscard]] std::optional<double> fraction_at(const GraduatedFamily& f, const Point& p) const {
    const Construction& c = out_.construction;
    for (int e = 0; e < c.corners(); ++e) {
      const Line& edge = c[c.edge(e)].line;
      const double across = std::abs(edge.normal.x() * f.normal.y() - edge.normal.y() * f.normal.x());
      if (across > 0.3 && std::abs(edge.distance(p)) < tolerance_) return (f.normal.dot(p) - f.low) / f.extent_mm;
    }
    return std::nullopt;
  }

  void divide_family(std::size_t number, const std::vector<Point>& marks) {
    GraduatedFamily& f = out_.families[number];
    const double slack = tolerance_ / f.extent_mm;
    std::vector<std::pair<double, int>> fractions; // and the carrier, -1 for marks
    for (std::size_t i = 0; i < wanted_.size(); ++i) {
      const auto at = fraction_in(f, wanted_[i].line);
      if (at && *at > slack && *at < 1 - slack) fractions.emplace_back(*at, static_cast<int>(i));
    }
    // Lines of one grid agree on a count; those that would make it too fine are folded otherwise.
    int parts = 1;
    for (const auto& [at, carrier] : fractions) {
      const int own = parts_for(at, slack);
      if (own > 0 && std::lcm(parts, own) <= greatest_parts) parts = std::lcm(parts, own);
    }
    if (options_.whole_grid && options_.grid_parts > 0 && options_.grid_parts % parts == 0) parts = options_.grid_parts;
    for (const Point& p : marks) {
      const auto at = fraction_at(f, p);
      if (!at || *at < slack || *at > 1 - slack) continue;
      const int own = parts_for(*at, slack);
      if (own == 0 || own > 64 || std::lcm(parts, own) > greatest_parts) continue;
      parts = std::lcm(parts, own);
      fractions.emplace_back(*at, -1);
    }
    f.parts = parts;
    if (parts < 2) return;
    std::map<int, int> carrier_of;
    for (const auto& [at, carrier] : fractions) {
      const int k = static_cast<int>(std::lround(at * parts));
      if (std::abs(at * parts - k) < slack * parts) {
        const auto [it, fresh] = carrier_of.emplace(k, carrier);
        if (!fresh && carrier >= 0) it->second = carrier;
      }
    }
    DivideTask task;
    task.parts = parts;
    task.sigma_mm = hand_.sigma_mm;
    task.guess_sigma_mm = hand_.guess_sigma_mm;
    for (int k = 1; k < parts; ++k) {
      if (!options_.whole_grid && !carrier_of.contains(k)) task.left_out.push_back(k);
    }
    if (static_cast<int>(task.left_out.size()) == parts - 1) return;
    f.plan = plan_division(task, Method::best, hand_);
    fold_division(number, f.plan, carrier_of);
  }

  void fold_division(std::size_t number, const GridPlan& plan, const std::map<int, int>& carrier_of) {
    const GraduatedFamily& f = out_.families[number];
    Construction& c = out_.construction;
    const int parts = f.parts;
    const auto line = [&](int k) { return Line::with_normal(f.normal, f.low + f.extent_mm * k / parts); };
    std::map<int, std::size_t> entry; // index -> line in making
    const auto item = [&](int k) {
      if (k == 0) return f.low_edge;
      if (k == parts) return f.high_edge;
      const auto at = entry.find(k);
      return at == entry.end() ? -1 : out_.lines[at->second].items.back();
    };
    for (const GridStep& step : plan.steps) {
      int made = -1;
      const bool guess = step.kind == StepKind::guess;
      if (guess) {
        // The fold through the marks errs as well; together they are as far off as a guess.
        const double marks = std::pow(hand_.guess_sigma_mm, 2) - std::pow(hand_.sigma_mm, 2);
        made = through_marks(line(step.makes), std::sqrt(std::max(0.0, marks)));
      } else {
        const int a = item(step.a);
        const int b = item(step.b);
        if (a < 0 || b < 0) continue;
        const auto folded =
            step.kind == StepKind::bring ? c.fold(Alignment::O3, {-1, -1}, {a, b}, line(step.makes)) : c.land(b, a);
        if (folded) made = *folded;
      }
      if (made < 0) continue;
      auto [at, fresh] = entry.emplace(step.makes, out_.lines.size());
      if (fresh) {
        LineInMaking making;
        making.family = static_cast<int>(number);
        making.index = step.makes;
        making.guessed = guess;
        const auto carrier = carrier_of.find(step.makes);
        if (carrier != carrier_of.end() && carrier->second >= 0) {
          making.carrier = carrier->second;
          made_[static_cast<std::size_t>(making.carrier)] = 1;
        }
        out_.lines.push_back(making);
      }
      out_.lines[at->second].items.push_back(made);
    }
  }

  /// A crease through a mark at either end of the line, each with this error along its edge.
  int through_marks(const Line& line, double mark_sigma_mm) {
    Construction& c = out_.construction;
    const auto whole = chord(line, c.sheet(), 1e-9 * extent_);
    if (!whole) return -1;
    std::array<int, 2> ends{-1, -1};
    for (std::size_t k = 0; k < 2; ++k) {
      const Point p = k == 0 ? whole->from : whole->to;
      for (int i = 0; i < c.corners(); ++i) {
        if ((c[c.corner(i)].point - p).norm() < tolerance_) ends[k] = c.corner(i);
      }
      for (int e = 0; e < c.corners() && ends[k] < 0; ++e) {
        if (std::abs(c[c.edge(e)].line.distance(p)) < tolerance_) ends[k] = c.mark(c.edge(e), p, mark_sigma_mm);
      }
    }
    const auto made = c.fold(Alignment::O1, ends, {-1, -1}, line);
    return made ? *made : -1;
  }

  [[nodiscard]] Segment wanted_span(std::size_t i) const {
    return {wanted_[i].at(wanted_[i].low()), wanted_[i].at(wanted_[i].high())};
  }

  [[nodiscard]] std::vector<int> present() const {
    std::vector<int> items;
    items.reserve(out_.lines.size() + out_.construction.sheet().size());
    for (int e = 0; e < out_.construction.corners(); ++e) items.push_back(out_.construction.edge(e));
    for (const LineInMaking& line : out_.lines) items.push_back(line.items.back());
    return items;
  }

  int item_of(const SeenPlace& place) {
    if (place.corner >= 0) return out_.construction.corner(place.corner);
    const std::array<int, 2> lines{std::min(place.lines[0], place.lines[1]), std::max(place.lines[0], place.lines[1])};
    const auto at = crossings_.find(lines);
    if (at != crossings_.end()) return at->second;
    const auto made = out_.construction.cross(lines[0], lines[1]);
    return crossings_[lines] = made ? *made : -1;
  }

  bool make(std::size_t i, const LineFold& fold) {
    std::array<int, 2> points{-1, -1};
    for (std::size_t k = 0; k < fold.points.size(); ++k) {
      points[k] = item_of(fold.points[k]);
      if (points[k] < 0) return false;
    }
    const auto made = fold.landing ? out_.construction.land(fold.lines[0], fold.lines[1])
                                   : out_.construction.fold(fold.op, points, fold.lines, wanted_[i].line);
    if (!made) return false;
    const Line& line = out_.construction[*made].line;
    for (const Point& end : {wanted_span(i).from, wanted_span(i).to}) {
      if (std::abs(line.distance(end)) > 4 * tolerance_) return false;
    }
    LineInMaking making;
    making.carrier = static_cast<int>(i);
    making.items = {*made};
    out_.lines.push_back(making);
    made_[i] = 1;
    return true;
  }

  /// Lines are made in the order of their errors; each round those that are within a tenth of the best one.
  void fold_the_rest() {
    for (;;) {
      std::vector<std::size_t> open;
      for (std::size_t i = 0; i < wanted_.size(); ++i) {
        if (!made_[i]) open.push_back(i);
      }
      if (open.empty()) return;
      if (options_.progress) {
        if (options_.progress->cancelled()) return;
        options_.progress->set(1 - static_cast<double>(open.size()) / static_cast<double>(wanted_.size()));
      }
      const LineFoldFinder finder(out_.construction, present(), hand_.sigma_mm, tolerance_);
      std::vector<std::optional<LineFold>> folds;
      double least = 1e300;
      for (const std::size_t i : open) {
        const auto whole = chord(wanted_[i].line, out_.construction.sheet(), 1e-9 * extent_);
        folds.push_back(finder.best(wanted_[i].line, options_.whole_grid && whole ? *whole : wanted_span(i)));
        if (folds.back()) least = std::min(least, folds.back()->sigma_mm);
      }
      // What folds leave further off than a ruler does is measured.
      bool any = false;
      for (std::size_t k = 0; k < open.size() && least < hard * hand_.sigma_mm; ++k) {
        if (folds[k] && folds[k]->sigma_mm <= 1.1 * least) any = make(open[k], *folds[k]) || any;
      }
      if (!any) measure(open);
    }
  }

  /// The longest of the open lines is marked with a ruler.
  void measure(const std::vector<std::size_t>& open) {
    std::size_t longest = open.front();
    double most = -1;
    for (const std::size_t i : open) {
      const auto whole = chord(wanted_[i].line, out_.construction.sheet(), 1e-9 * extent_);
      if (whole && whole->length() > most + tolerance_) most = whole->length(), longest = i;
    }
    made_[longest] = 1;
    const int item = through_marks(wanted_[longest].line, ruler_sigma_mm);
    if (item < 0) return; // along a raw edge, or outside: there is nothing to crease
    LineInMaking making;
    making.carrier = static_cast<int>(longest);
    making.measured = true;
    making.items = {item};
    out_.lines.push_back(making);
  }

  /// Drops lines that nothing uses and judges the others.
  void finish() {
    std::vector<int> finals;
    for (const LineInMaking& line : out_.lines) {
      const bool kept = line.carrier >= 0 || (options_.whole_grid && line.family >= 0);
      if (kept) finals.push_back(line.items.back());
    }
    const std::vector<char> needed = out_.construction.needed_for(finals);
    std::vector<int> all;
    std::vector<LineInMaking> lines;
    for (LineInMaking& line : out_.lines) {
      std::erase_if(line.items, [&](int item) { return !needed[static_cast<std::size_t>(item)]; });
      if (line.items.empty()) continue;
      all.insert(all.end(), line.items.begin(), line.items.end());
      lines.push_back(std::move(line));
    }
    out_.construction = out_.construction.reduced_to(all);
    auto next = all.begin();
    for (LineInMaking& line : lines) {
      for (int& item : line.items) item = *next++;
    }
    out_.lines = std::move(lines);
    const ConstructionErrors errors(out_.construction, hand_.sigma_mm);
    for (const LineInMaking& line : out_.lines) {
      const ConstructionItem& item = out_.construction[line.items.back()];
      const Segment span = line.carrier >= 0 ? wanted_span(static_cast<std::size_t>(line.carrier)) : item.chord;
      const double sigma =
          errors.distances(line.items.back(), item.line, {span.from, span.to}).rowwise().norm().maxCoeff();
      out_.sigma_mm.push_back(sigma);
      if (line.carrier >= 0) out_.worst_sigma_mm = std::max(out_.worst_sigma_mm, sigma);
    }
  }

  const std::vector<CarrierLine>& wanted_;
  const HandProfile& hand_;
  LineMakingOptions options_;
  double extent_;
  double tolerance_;
  LineMaking out_;
  std::vector<char> made_;
  std::map<std::array<int, 2>, int> crossings_;
};

} // namespace

LineMaking made_by_folding(const std::vector<CarrierLine>& wanted, const Polygon& sheet, const HandProfile& hand,
                           const LineMakingOptions& options) {
  Maker plain(wanted, sheet, hand, options);
  plain.run({});
  const std::vector<Point> ends = plain.hard_ends();
  if (ends.empty() || (options.progress && options.progress->cancelled())) return plain.take();
  Maker helped(wanted, sheet, hand, options);
  helped.run(ends);
  // A few more pinches are worth a line without a ruler.
  const int saved = plain.measured() - helped.measured();
  const int more = helped.so_far().construction.creases() - plain.so_far().construction.creases();
  const bool better =
      saved != 0 ? more < 4 * saved : helped.so_far().worst_sigma_mm < 0.97 * plain.so_far().worst_sigma_mm;
  return better ? helped.take() : plain.take();
}

LineMaking made_by_scoring(const std::vector<CarrierLine>& wanted, const Polygon& sheet) {
  LineMaking out;
  out.construction = Construction(sheet);
  Construction& c = out.construction;
  const double extent = bounding_box(sheet).size().norm();
  std::map<std::pair<long long, long long>, int> marks; // one mark serves all lines that end there
  const auto end_at = [&](const Point& p) {
    for (int i = 0; i < c.corners(); ++i) {
      if ((c[c.corner(i)].point - p).norm() < 1e-5 * extent) return c.corner(i);
    }
    const auto key = std::pair(std::llround(p.x() / (1e-5 * extent)), std::llround(p.y() / (1e-5 * extent)));
    for (const long long dx : {-1, 0, 1}) {
      for (const long long dy : {-1, 0, 1}) {
        const auto at = marks.find({key.first + dx, key.second + dy});
        if (at != marks.end()) return at->second;
      }
    }
    for (int e = 0; e < c.corners(); ++e) {
      if (std::abs(c[c.edge(e)].line.distance(p)) < 1e-5 * extent)
        return marks[key] = c.mark(c.edge(e), p, ruler_sigma_mm);
    }
    return -1;
  };
  for (std::size_t i = 0; i < wanted.size(); ++i) {
    const auto whole = chord(wanted[i].line, sheet, 1e-9 * extent);
    if (!whole) continue;
    const int from = end_at(whole->from);
    const int to = end_at(whole->to);
    if (from < 0 || to < 0) continue;
    const auto made = c.fold(Alignment::O1, {from, to}, {-1, -1}, wanted[i].line);
    if (!made) continue;
    LineInMaking making;
    making.carrier = static_cast<int>(i);
    making.measured = true;
    making.items = {*made};
    out.lines.push_back(making);
  }
  const ConstructionErrors errors(c, score_sigma_mm);
  for (const LineInMaking& line : out.lines) {
    const CarrierLine& w = wanted[static_cast<std::size_t>(line.carrier)];
    const auto ends = errors.distances(line.items.back(), c[line.items.back()].line, {w.at(w.low()), w.at(w.high())});
    out.sigma_mm.push_back(ends.rowwise().norm().maxCoeff());
    out.worst_sigma_mm = std::max(out.worst_sigma_mm, out.sigma_mm.back());
  }
  return out;
}

} // namespace uc
