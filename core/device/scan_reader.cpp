#include "device/scan_reader.h"

#include "device/scan_sheet.h"

#include <Eigen/Dense>
#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <limits>
#include <map>

namespace uc {
namespace {

constexpr int most_stretches = 24;
constexpr double least_stretch_mm = 3;
constexpr double off_ends_mm = 1.5;    // nothing is read so near to the ends of a crease
constexpr double most_search_mm = 2.2; // to each side
constexpr double least_search_mm = 0.9;
constexpr double most_turn_mm = 1.6; // between both ends of a line
constexpr double hough_mm = 0.06;
constexpr double clear_signal = 5; // below this a trace is noise, in its standard deviations
constexpr double sure_signal = 8;  // below this it is doubtful
constexpr double sure_margin = 4;  // by which the chosen traces must be likelier than others
// What the form of a crease and the pixels leave uncertain, from made scans.
constexpr double of_form_mm = 0.004;
constexpr double of_pixel = 0.035;
// Creases that are so close to each other may be taken for one another, or for one.
constexpr double crowded_mm = 1.5;
constexpr double crowded_margin = 30;
constexpr double apart_mm = 0.55;
// A sheet of another size than it should be was cut badly, up to here.
constexpr double most_miscut_mm = 1.5;
constexpr double most_miscut = 0.01;
constexpr double worst_sigma_mm = 0.12;
constexpr double worst_scatter_mm = 0.2;

/// A short part of a crease: brightness across it, averaged along it.
struct Stretch {
  double t = 0; // its middle along the line, mm
  std::vector<double> profile;
  std::vector<double> place;  // mean offset of what makes each of its values; NaN where it lies between others
  std::vector<double> signal; // how much darker (or brighter) it is than both its sides
};

/// A place where a line may run: offsets across at its first and last stretch.
struct Trace {
  double first = 0;
  double last = 0;
  double signal = 0;
  bool dark = true;
  [[nodiscard]] double middle() const { return (first + last) / 2; }
};

struct Search {
  const ScanLine* line = nullptr;
  Point from, along, across; // on the page, mm
  double reach = 0;
  double step = 0;
  double gap = 1e9; // to the nearest neighbour beside it
  std::vector<Stretch> stretches;
  std::vector<Trace> traces; // the strongest first

  [[nodiscard]] double way(const Stretch& s) const {
    const double span = stretches.back().t - stretches.front().t;
    return span > 0 ? (s.t - stretches.front().t) / span : 0;
  }
};

/// What all creases of one paper in one picture have in common: how wide their nick is. How sharply the shade of one
/// slope of the roof goes over into the other's cannot be told from the creases (it looks like a shift of the nick); it
/// is the picture's own blur.
struct CreaseForm {
  double nick_mm = 0.12;
  double ridge_mm = 0.05;
};

/// The shade of a roof whose slopes die away, sign(x) exp(-|x| / roof_mm), spread by a normal curve.
double roof_shade(double x, double spread) {
  constexpr double roof_mm = 0.5;
  const double part = spread / roof_mm;
  const auto half = [&](double t) {
    return std::exp(part * part / 2 - t / roof_mm) * std::erfc((part - t / spread) / std::sqrt(2.0)) / 2;
  };
  return half(x) - half(-x);
}

class Reader {
public:
  Reader(const GreyImage& image, const SeenPage& page, const SeenSheet& sheet, bool box)
      : image_(image), page_(page), sheet_(sheet), box_(box) {}

  [[nodiscard]] Search looked_at(const ScanLine& line, double gap) const {
    Search s;
    s.line = &line;
    s.gap = gap;
    s.from = sheet_.to_page * line.at.from;
    s.along = (sheet_.to_page * line.at.to - s.from).normalized();
    s.across = {-s.along.y(), s.along.x()};
    s.reach = std::clamp(0.75 * gap, least_search_mm, most_search_mm);
    const double pixel = 25.4 / page_.dpi;
    s.step = std::max(0.03, 0.45 * pixel);
    double length = 0;
    for (const Segment& piece : line.pieces) length += std::max(0.0, piece.length() - 2 * off_ends_mm);
    const double wanted = std::max(least_stretch_mm, length / most_stretches);
    for (const Segment& piece : line.pieces) {
      const double a = s.along.dot(sheet_.to_page * piece.from - s.from);
      const double b = s.along.dot(sheet_.to_page * piece.to - s.from);
      const double low = std::min(a, b) + off_ends_mm;
      const double high = std::max(a, b) - off_ends_mm;
      const int count = static_cast<int>(std::lround((high - low) / wanted));
      for (int i = 0; i < count; ++i)
        add_stretch(s, low + (high - low) * i / count, low + (high - low) * (i + 1) / count);
    }
    std::sort(s.stretches.begin(), s.stretches.end(), [](const Stretch& p, const Stretch& q) { return p.t < q.t; });
    find_traces(s);
    return s;
  }

  /// The line through the middles of all stretches near a trace, for creases of this form; adds what is left over of
  /// each stretch.
  [[nodiscard]] std::optional<StraightFit> measured(const Search& s, const Trace& trace, const CreaseForm& form,
                                                    double* left_over = nullptr) const {
    std::vector<double> t;
    std::vector<double> off;
    double squares = 0;
    for (const Stretch& stretch : s.stretches) {
      const double near = trace.first + (trace.last - trace.first) * s.way(stretch);
      if (const auto middle = middle_of(s, stretch, near, form, squares))
        t.push_back(stretch.t), off.push_back(*middle);
    }
    if (left_over && !t.empty()) *left_over += squares / static_cast<double>(t.size());
    if (2 * t.size() < s.stretches.size()) return std::nullopt;
    return straight_fit(t, off, 0.002);
  }

  /// Position of a measured line and its variance.
  [[nodiscard]] std::pair<double, double> position(const Search& s, const StraightFit& fit) const {
    const auto on_page = [&](double t) { return Point(s.from + t * s.along + fit.at(t) * s.across); };
    const double span = s.line->at.length();
    const Line crease = Line::through(on_page(0), on_page(span));
    const std::string& axis = s.line->axis;
    if (box_ && (axis == "x" || axis == "y")) {
      // Along the bottom edge from the left one, or along the left edge from the bottom one.
      const SeenEdge& ruler = sheet_.edges[axis == "x" ? 0 : 3];
      const SeenEdge& zero = sheet_.edges[axis == "x" ? 3 : 0];
      const auto at = crease.crossing(ruler.line());
      const auto origin = zero.line().crossing(ruler.line());
      if (!at || !origin) return {0, 1e9};
      const double zero_t = zero.along.dot(*origin - zero.from);
      const double t = s.along.dot(*at - s.from);
      return {(*at - *origin).norm(),
              fit.variance_at(t) + zero.off.variance_at(zero_t) + page_variance(*at, *origin, s.across)};
    }
    const Isometry back = sheet_.to_page.inverse();
    const Segment found{back * on_page(0), back * on_page(span)};
    const Point middle = on_page(span / 2);
    const Point origin = sheet_.to_page * Point(0, 0);
    double edges = 0;
    for (const SeenEdge& e : sheet_.edges) edges = std::max(edges, e.off.variance_at(0));
    return {position_of(axis, found), fit.variance_at(axis == "x" || axis == "y" ? 0 : span / 2) + edges +
                                          page_variance(middle, origin, s.across)};
  }

private:
  void add_stretch(Search& s, double low, double high) const {
    Stretch out;
    out.t = (low + high) / 2;
    const int count = static_cast<int>(2 * s.reach / s.step) + 1;
    gather(s, low, high, count, out);
    if (out.profile.empty()) return;
    const int in = std::max(1, static_cast<int>(std::lround(0.12 / s.step)));
    const int near = std::max(in + 1, static_cast<int>(std::lround(0.2 / s.step)));
    const int far = std::max(near + 1, static_cast<int>(std::lround(std::min(0.45, 0.45 * s.gap) / s.step)));
    out.signal.assign(out.profile.size(), 0);
    for (int i = far; i + far < count; ++i) {
      const auto mean = [&](int from, int to) {
        double sum = 0;
        for (std::ptrdiff_t k = from; k <= to; ++k) sum += out.profile[static_cast<std::size_t>(i + k)];
        return sum / (to - from + 1);
      };
      out.signal[static_cast<std::size_t>(i)] = mean(-in, in) - (mean(near, far) + mean(-far, -near)) / 2;
    }
    s.stretches.push_back(std::move(out));
  }

  /// The pixels of a stretch, each where its own middle lies: values between pixels would bend the profile.
  void gather(const Search& s, double low, double high, int count, Stretch& out) const {
    const Point middle = s.from + (low + high) / 2 * s.along;
    const Point seen = page_.to_image(middle);
    // So short a stretch is seen evenly.
    const Eigen::Matrix2d back = page_.to_image.derivative(middle).inverse();
    Polygon corners;
    for (const double t : {low, high}) {
      for (const double u : {-s.reach, s.reach}) corners.push_back(page_.to_image(s.from + t * s.along + u * s.across));
    }
    const Box box = bounding_box(corners);
    if (box.low.minCoeff() < 0 || box.high.x() > image_.width - 1 || box.high.y() > image_.height - 1) return;
    std::vector<double> weight(static_cast<std::size_t>(count), 0);
    out.profile.assign(weight.size(), 0);
    out.place.assign(weight.size(), 0);
    for (int y = static_cast<int>(box.low.y()); y <= static_cast<int>(box.high.y()); ++y) {
      for (int x = static_cast<int>(box.low.x()); x <= static_cast<int>(box.high.x()); ++x) {
        const Point off = back * (Point(x + 0.5, y + 0.5) - seen);
        if (std::abs(s.along.dot(off)) > (high - low) / 2) continue;
        const double u = s.across.dot(off);
        const double at = (u + s.reach) / s.step + 0.5;
        if (!(at >= 0 && at < count)) continue;
        const auto bin = static_cast<std::size_t>(at);
        weight[bin] += 1;
        out.profile[bin] += image_.at(x, y);
        out.place[bin] += u;
      }
    }
    std::ptrdiff_t last = -1; // with pixels in it
    for (std::ptrdiff_t i = 0; i < count; ++i) {
      const auto k = static_cast<std::size_t>(i);
      if (weight[k] == 0) {
        out.place[k] = NAN;
        continue;
      }
      out.profile[k] /= weight[k];
      out.place[k] /= weight[k];
      // Empty places between, as in pictures that lie quite straight.
      for (std::ptrdiff_t j = last + 1; j < i; ++j) {
        const double part = last < 0 ? 1 : static_cast<double>(j - last) / static_cast<double>(i - last);
        const double before = last < 0 ? out.profile[k] : out.profile[static_cast<std::size_t>(last)];
        out.profile[static_cast<std::size_t>(j)] = before + part * (out.profile[k] - before);
      }
      last = i;
    }
    if (last < 0) out.profile.clear();
    for (std::ptrdiff_t j = last + 1; j < count && last >= 0; ++j)
      out.profile[static_cast<std::size_t>(j)] = out.profile[static_cast<std::size_t>(last)];
  }

  /// Straight traces along which the signal adds up (Hough 1962).
  static void find_traces(Search& s) {
    if (s.stretches.size() < 4) return;
    std::vector<double> sizes;
    for (const Stretch& stretch : s.stretches) {
      for (const double v : stretch.signal) sizes.push_back(std::abs(v));
    }
    std::nth_element(sizes.begin(), sizes.begin() + static_cast<std::ptrdiff_t>(sizes.size() / 2), sizes.end());
    const double noise = std::max(0.02, 1.4826 * sizes[sizes.size() / 2]);
    // One stretch over something black must not outweigh the rest.
    std::vector<double> peaks;
    for (const Stretch& stretch : s.stretches) {
      double high = 0;
      for (const double v : stretch.signal) high = std::max(high, std::abs(v));
      peaks.push_back(high);
    }
    std::nth_element(peaks.begin(), peaks.begin() + static_cast<std::ptrdiff_t>(peaks.size() / 2), peaks.end());
    const double most = 1.5 * peaks[peaks.size() / 2];
    const double scale = noise * std::sqrt(static_cast<double>(s.stretches.size()));
    std::vector<Trace> all;
    const double turn = std::min(most_turn_mm, s.reach);
    for (double middle = -s.reach; middle <= s.reach; middle += hough_mm) {
      Trace best;
      for (double half = -turn / 2; half <= turn / 2 + 1e-9; half += hough_mm / 2) {
        double sum = 0;
        for (const Stretch& stretch : s.stretches) {
          const double u = middle + half * (2 * s.way(stretch) - 1);
          const auto i = static_cast<std::ptrdiff_t>(std::lround((u + s.reach) / s.step));
          if (i >= 0 && i < static_cast<std::ptrdiff_t>(stretch.signal.size()))
            sum += std::clamp(stretch.signal[static_cast<std::size_t>(i)], -most, most);
        }
        if (std::abs(sum) / scale > best.signal) best = {middle - half, middle + half, std::abs(sum) / scale, sum < 0};
      }
      if (best.signal > clear_signal) all.push_back(best);
    }
    std::sort(all.begin(), all.end(), [](const Trace& a, const Trace& b) { return a.signal > b.signal; });
    for (const Trace& t : all) {
      const bool near = std::any_of(s.traces.begin(), s.traces.end(), [&](const Trace& o) {
        return std::abs(o.middle() - t.middle()) < std::min(0.5, 0.5 * s.gap) || std::abs(o.first - t.first) < 0.12 ||
               std::abs(o.last - t.last) < 0.12 ||
               // The signal swings to the other side beside a crease.
               (o.dark != t.dark && std::abs(o.middle() - t.middle()) < 0.9);
      });
      if (!near && t.signal > all.front().signal / 4) s.traces.push_back(t);
      if (s.traces.size() == 5) break;
    }
  }

  /// Where the nick of a crease lies in one stretch: a dark or bright line of this width, the two slopes of the roof
  /// beside it, on paper whose brightness runs evenly. Adds what is left over.
  [[nodiscard]] std::optional<double> middle_of(const Search& s, const Stretch& stretch, double near,
                                                const CreaseForm& form, double& squares) const {
    const double window = std::min(0.6, std::max(0.3, 0.45 * s.gap));
    const auto low = static_cast<std::ptrdiff_t>(std::ceil((near - window + s.reach) / s.step));
    const auto high = static_cast<std::ptrdiff_t>(std::floor((near + window + s.reach) / s.step));
    if (low < 0 || high >= static_cast<std::ptrdiff_t>(stretch.profile.size()) || high - low < 7) return std::nullopt;
    Eigen::VectorXd y(high - low + 1);
    Eigen::VectorXd u(high - low + 1);
    Eigen::Index n = 0;
    for (auto i = static_cast<std::size_t>(low); i <= static_cast<std::size_t>(high); ++i) {
      if (std::isnan(stretch.place[i])) continue;
      y(n) = stretch.profile[i];
      u(n++) = stretch.place[i] - near;
    }
    if (n < 7) return std::nullopt;
    y.conservativeResize(n);
    const auto left_over = [&](double centre) {
      Eigen::Matrix<double, Eigen::Dynamic, 4> m(n, 4);
      for (Eigen::Index i = 0; i < n; ++i) {
        const double x = u(i) - centre;
        m.row(i) << std::exp(-x * x / (2 * form.nick_mm * form.nick_mm)), roof_shade(x, form.ridge_mm), 1, x;
      }
      const Eigen::Matrix4d normal = m.transpose() * m;
      const Eigen::Vector4d right = m.transpose() * y;
      return y.squaredNorm() - right.dot(normal.ldlt().solve(right));
    };
    constexpr double step = 0.03;
    constexpr int reach = 7;
    std::array<double, 2 * reach + 1> rest{};
    for (std::size_t i = 0; i < rest.size(); ++i) rest[i] = left_over(step * (static_cast<double>(i) - reach));
    const auto best = std::min_element(rest.begin(), rest.end()) - rest.begin();
    if (best == 0 || best == 2 * reach) return std::nullopt;
    // Then finer, until what is left over bends as a parabola does.
    double centre = step * static_cast<double>(best - reach);
    for (double fine = step / 2; fine > 0.003; fine /= 2) {
      const double before = left_over(centre - fine);
      const double at = left_over(centre);
      const double after = left_over(centre + fine);
      const double bend = before - 2 * at + after;
      if (bend > 0) centre += fine * std::clamp((before - after) / (2 * bend), -1.0, 1.0);
    }
    squares += left_over(centre);
    return near + centre;
  }

  /// Of the way between two places of the page, seen along a direction, as the marks leave it open.
  [[nodiscard]] double page_variance(const Point& a, const Point& b, const Point& direction) const {
    const auto by_entries = [&](const Point& p) {
      return Eigen::Matrix<double, 2, 8>(page_.to_image.derivative(p).inverse() * page_.to_image.by_entries(p));
    };
    const Eigen::Matrix<double, 1, 8> g = direction.transpose() * (by_entries(a) - by_entries(b));
    return (g * page_.to_image.covariance() * g.transpose())(0, 0);
  }

  const GreyImage& image_;
  const SeenPage& page_;
  const SeenSheet& sheet_;
  bool box_;
};

constexpr double never = 1e12;

/// Which trace each line of one direction is, so that neighbours agree: the likeliest row of traces (Viterbi 1967), and
/// by how much any other choice for a line is less likely.
class Assignment {
public:
  explicit Assignment(const std::vector<Search*>& lines) : lines_(lines) {
    const std::size_t n = lines.size();
    forward_.resize(n);
    backward_.resize(n);
    for (std::size_t k = 0; k < n; ++k) pass(k, k > 0 ? &forward_[k - 1] : nullptr, k > 0 ? k - 1 : k, forward_[k]);
    for (std::size_t k = n; k-- > 0;)
      pass(k, k + 1 < n ? &backward_[k + 1] : nullptr, k + 1 < n ? k + 1 : k, backward_[k]);
  }

  struct Choice {
    int trace = -1; // -1: none
    double margin = 0;
  };
  [[nodiscard]] Choice choice(std::size_t k) const {
    double best = never;
    double second = never;
    Choice out;
    for (std::size_t i = 0; i < forward_[k].size(); ++i) {
      const double cost = forward_[k][i] + backward_[k][i] - own(k, i);
      if (cost < best) {
        second = best;
        best = cost;
        out.trace = i + 1 == forward_[k].size() ? -1 : static_cast<int>(i);
      } else {
        second = std::min(second, cost);
      }
    }
    out.margin = second - best;
    return out;
  }

private:
  static constexpr double missed = 14; // costs of a line that is not seen
  [[nodiscard]] bool is_none(std::size_t k, std::size_t i) const { return i == lines_[k]->traces.size(); }

  [[nodiscard]] double own(std::size_t k, std::size_t i) const {
    if (is_none(k, i)) return missed;
    const Trace& t = lines_[k]->traces[i];
    constexpr double usual_mm = 0.6;
    return std::pow(t.middle() / usual_mm, 2) / 2 + 12 * (1 - t.signal / lines_[k]->traces.front().signal);
  }

  [[nodiscard]] double between(std::size_t k, std::size_t i, std::size_t other, std::size_t j) const {
    if (k == other || is_none(k, i) || is_none(other, j)) return 0;
    // Across points to the smaller place for upright lines; only differences count.
    const double here = lines_[k]->traces[i].middle();
    const double there = lines_[other]->traces[j].middle();
    const double gap = std::abs(lines_[k]->line->position_mm - lines_[other]->line->position_mm);
    const double sign = (lines_[k]->line->position_mm > lines_[other]->line->position_mm ? 1 : -1) *
                        (counts_to_the_right(lines_[k]->line->axis) ? -1 : 1);
    if (gap + sign * (here - there) < std::min(0.3, 0.3 * gap)) return never / 1e3;
    constexpr double usual_mm = 0.5;
    return std::pow((here - there) / usual_mm, 2) / 2;
  }

  void pass(std::size_t k, const std::vector<double>* before, std::size_t other, std::vector<double>& out) const {
    out.assign(lines_[k]->traces.size() + 1, 0);
    for (std::size_t i = 0; i < out.size(); ++i) {
      double least = before ? never : 0;
      for (std::size_t j = 0; before && j < before->size(); ++j)
        least = std::min(least, (*before)[j] + between(k, i, other, j));
      out[i] = least + own(k, i);
    }
  }

  const std::vector<Search*>& lines_;
  std::vector<std::vector<double>> forward_;
  std::vector<std::vector<double>> backward_;
};

/// The form that describes the creases of a sheet best, from a few of them.
CreaseForm common_form(const Reader& reader, const std::vector<Search>& searches,
                       const std::vector<Assignment::Choice>& chosen, double ridge_mm) {
  constexpr std::size_t tried = 8;
  std::vector<CreaseForm> forms;
  for (double nick = 0.05; nick < 0.35; nick *= 1.15) forms.push_back({nick, ridge_mm});
  std::vector<double> left(forms.size(), 0);
  const std::size_t every = std::max<std::size_t>(1, searches.size() / tried);
  parallel_for(forms.size(), [&](std::size_t f) {
    for (std::size_t i = 0; i < searches.size(); i += every) {
      if (chosen[i].trace < 0) continue;
      const Trace& trace = searches[i].traces[static_cast<std::size_t>(chosen[i].trace)];
      (void)reader.measured(searches[i], trace, forms[f], &left[f]);
    }
  });
  return forms[static_cast<std::size_t>(std::min_element(left.begin(), left.end()) - left.begin())];
}

bool is_box_at_origin(const Polygon& sheet) {
  if (sheet.size() != 4) return false;
  const Box box = bounding_box(sheet);
  return (sheet[0] - box.low).norm() < 1e-6 && (sheet[2] - box.high).norm() < 1e-6 &&
         std::abs(sheet[1].y() - box.low.y()) < 1e-6 && std::abs(sheet[3].x() - box.low.x()) < 1e-6;
}

Point found_size(const SeenSheet& sheet) {
  // Between the middles of opposite edges, along their normals.
  const auto middle = [&](std::size_t i) {
    const SeenEdge& e = sheet.edges[i];
    const double half = (sheet.edges[(i + 1) % 4].from - e.from).norm() / 2;
    return Point(e.from + half * e.along + e.off.at(half) * e.outward);
  };
  return {(middle(1) - middle(3)).norm(), (middle(2) - middle(0)).norm()};
}

} // namespace

Result<ScanReading> read_scan(const GreyImage& image, const Polygon& outline, const std::vector<ScanLine>& lines,
                              Progress* progress) {
  const ScanFrame frame = scan_frame(outline);
  const auto page = seen_page(image, frame);
  if (!page) return Error{page.error()};
  const auto sheet = seen_sheet(image, frame, *page);
  if (!sheet) return Error{sheet.error()};
  const bool box = is_box_at_origin(frame.sheet);
  const Reader reader(image, *page, *sheet, box);
  ScanReading out;
  out.marks_rms_mm = page->marks_rms_mm;
  out.dpi = page->dpi;
  out.sheet_mm = box ? found_size(*sheet) : bounding_box(outline).size();
  const Point said = bounding_box(outline).size();
  const Point differs = (out.sheet_mm - said).cwiseAbs();
  for (const int i : {0, 1}) {
    if (differs[i] > std::max(most_miscut_mm, most_miscut * said[i]))
      return Error{
          fmt::format("The sheet in the picture measures {:.1f} x {:.1f} mm on this print-out, not {:.1f} x {:.1f}; "
                      "say with --sheet which one it is, and use the print-out made for it",
                      out.sheet_mm.x(), out.sheet_mm.y(), said.x(), said.y())};
  }

  std::map<std::string, std::vector<std::size_t>> by_axis;
  for (std::size_t i = 0; i < lines.size(); ++i) by_axis[lines[i].axis].push_back(i);
  std::vector<double> gap(lines.size(), 1e9);
  for (auto& [axis, some] : by_axis) {
    std::sort(some.begin(), some.end(),
              [&](std::size_t a, std::size_t b) { return lines[a].position_mm < lines[b].position_mm; });
    for (std::size_t i = 0; i + 1 < some.size(); ++i) {
      const double d = lines[some[i + 1]].position_mm - lines[some[i]].position_mm;
      // Two creases on one line, as of a mountain and a valley in turn, are no neighbours.
      if (d < 0.05) continue;
      gap[some[i]] = std::min(gap[some[i]], d);
      gap[some[i + 1]] = std::min(gap[some[i + 1]], d);
    }
  }
  std::vector<Search> searches(lines.size());
  parallel_for(
      lines.size(), [&](std::size_t i) { searches[i] = reader.looked_at(lines[i], gap[i]); }, progress);
  if (progress && progress->stopped()) return Error{"Stopped."};
  if (progress) progress->set(0.6);
  std::vector<Assignment::Choice> chosen(lines.size());
  for (const auto& [axis, some] : by_axis) {
    std::vector<Search*> row;
    for (const std::size_t i : some) row.push_back(&searches[i]);
    const Assignment assignment(row);
    for (std::size_t k = 0; k < some.size(); ++k) chosen[some[k]] = assignment.choice(k);
  }
  const CreaseForm form = common_form(reader, searches, chosen, std::max(0.015, sheet->blur_mm));
  std::vector<std::optional<ReadLine>> read(lines.size());
  parallel_for(
      lines.size(),
      [&](std::size_t i) {
        const Search& s = searches[i];
        if (chosen[i].trace < 0) return;
        const Trace& trace = s.traces[static_cast<std::size_t>(chosen[i].trace)];
        const auto fit = reader.measured(s, trace, form);
        if (!fit) return;
        const auto [at, variance] = reader.position(s, *fit);
        ReadLine line{lines[i], at,
                      std::sqrt(variance + of_form_mm * of_form_mm + std::pow(of_pixel * 25.4 / page->dpi, 2)), false};
        line.doubtful = trace.signal < sure_signal ||
                        chosen[i].margin < (gap[i] < crowded_mm ? crowded_margin : sure_margin) ||
                        line.sigma_mm > worst_sigma_mm || fit->scatter > worst_scatter_mm;
        read[i] = line;
      },
      progress);
  if (progress && progress->stopped()) return Error{"Stopped."};
  for (const auto& [axis, some] : by_axis) {
    // Two that come close to each other anywhere: by their traces, at both ends.
    for (std::size_t k = 0; k + 1 < some.size(); ++k) {
      const std::size_t a = some[k];
      const std::size_t b = some[k + 1];
      if (!read[a] || !read[b] || lines[b].position_mm - lines[a].position_mm < 0.05) continue;
      const Trace& s = searches[a].traces[static_cast<std::size_t>(chosen[a].trace)];
      const Trace& t = searches[b].traces[static_cast<std::size_t>(chosen[b].trace)];
      const double sign = counts_to_the_right(axis) ? -1 : 1;
      const double nominal = lines[b].position_mm - lines[a].position_mm;
      if (nominal + std::min(sign * (t.first - s.first), sign * (t.last - s.last)) < apart_mm)
        read[a]->doubtful = read[b]->doubtful = true;
    }
  }
  for (std::size_t i = 0; i < lines.size(); ++i) {
    if (read[i])
      out.lines.push_back(*read[i]);
    else
      out.missing.push_back(lines[i]);
  }
  if (out.lines.empty())
    return Error{"No crease is seen where one should be; light the sheet from the side, or scan the other face"};
  return out;
}

} // namespace uc
