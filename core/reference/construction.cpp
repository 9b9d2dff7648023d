#include "reference/construction.h"

#include <Eigen/LU>
#include <fmt/format.h>

#include <algorithm>
#include <charconv>
#include <cmath>

namespace uc {
namespace {

bool is_rectangle(const Polygon& sheet) {
  if (sheet.size() != 4) return false;
  const Box box = bounding_box(sheet);
  return (sheet[0] - box.low).norm() < 1e-9 * box.size().norm() &&
         (sheet[2] - box.high).norm() < 1e-9 * box.size().norm();
}

using Kind = ConstructionItem::Kind;

std::string numbered(char letter, int number) {
  char text[16] = {letter};
  const auto end = std::to_chars(text + 1, text + sizeof text, number).ptr;
  return {text, end};
}

} // namespace

std::string corner_id(const Polygon& sheet, int index) {
  static constexpr const char* names[] = {"bl", "br", "tr", "tl"};
  return is_rectangle(sheet) ? names[index] : fmt::format("v{}", index + 1);
}
std::string edge_id(const Polygon& sheet, int index) {
  static constexpr const char* names[] = {"bottom", "right", "top", "left"};
  return is_rectangle(sheet) ? names[index] : fmt::format("e{}", index + 1);
}

bool is_box(const Polygon& sheet) { return is_rectangle(sheet); }

Construction::Construction(Polygon sheet) : sheet_(std::move(sheet)) {
  const int n = corners();
  for (int i = 0; i < n; ++i) {
    ConstructionItem item;
    item.kind = Kind::corner;
    item.id = corner_id(sheet_, i);
    item.point = sheet_[static_cast<std::size_t>(i)];
    items_.push_back(std::move(item));
  }
  for (int i = 0; i < n; ++i) {
    ConstructionItem item;
    item.kind = Kind::edge;
    item.id = edge_id(sheet_, i);
    const Point& p = sheet_[static_cast<std::size_t>(i)];
    const Point& q = sheet_[static_cast<std::size_t>((i + 1) % n)];
    item.line = Line::through(p, q);
    item.chord = {p, q};
    items_.push_back(std::move(item));
  }
}

int Construction::find(const std::string& id) const {
  const auto at = std::find_if(items_.begin(), items_.end(), [&](const auto& item) { return item.id == id; });
  return at == items_.end() ? -1 : static_cast<int>(at - items_.begin());
}

int Construction::creases() const { return creases_; }

void Construction::add(ConstructionItem item) {
  if (item.kind == Kind::crease) item.id = numbered('c', ++creases_);
  if (item.kind == Kind::crossing) item.id = numbered('p', ++points_);
  if (item.kind == Kind::mark) item.id = fmt::format("m{}", items_.size() - 2 * sheet_.size() + 1);
  items_.push_back(std::move(item));
}

AlignmentInputs Construction::inputs_of(const ConstructionItem& item) const {
  AlignmentInputs in;
  for (std::size_t i = 0; i < 2; ++i) {
    if (item.points[i] >= 0) in.points[i] = (*this)[item.points[i]].point;
    if (item.lines[i] >= 0) in.lines[i] = (*this)[item.lines[i]].line;
  }
  return in;
}

std::vector<Segment> Construction::others(const ConstructionItem& item) const {
  std::vector<Segment> out;
  if (item.landing) return out;
  const AlignmentInputs in = inputs_of(item);
  const double extent = bounding_box(sheet_).size().norm();
  for (const Line& crease : creases_of(item.op, in)) {
    const double off = std::max(std::abs(crease.distance(item.chord.from)), std::abs(crease.distance(item.chord.to)));
    if (off < 1e-7 * extent || !contact(item.op, in, crease, sheet_, 1e-9 * extent)) continue;
    if (const auto on_sheet = chord(crease, sheet_)) out.push_back(*on_sheet);
  }
  return out;
}

Result<int> Construction::fold(Alignment op, const std::array<int, 2>& points, const std::array<int, 2>& lines,
                               const std::optional<Line>& wanted) {
  ConstructionItem item;
  item.kind = Kind::crease;
  item.op = op;
  for (int i = 0; i < point_inputs(op); ++i)
    item.points[static_cast<std::size_t>(i)] = points[static_cast<std::size_t>(i)];
  for (int i = 0; i < line_inputs(op); ++i)
    item.lines[static_cast<std::size_t>(i)] = lines[static_cast<std::size_t>(i)];
  const AlignmentInputs in = inputs_of(item);
  const double extent = bounding_box(sheet_).size().norm();
  double least = 1e300;
  bool found = false;
  for (const Line& crease : creases_of(op, in)) {
    double off = 0;
    if (wanted) {
      const double sign = crease.normal.dot(wanted->normal) < 0 ? -1 : 1;
      off = (sign * crease.normal - wanted->normal).norm() * extent + std::abs(sign * crease.c - wanted->c);
    }
    if (off >= least) continue;
    const auto seen = contact(op, in, crease, sheet_, 1e-9 * extent);
    if (!seen) continue;
    least = off;
    item.line = crease;
    item.contact = *seen;
    found = true;
    if (!wanted) break;
  }
  if (!found)
    return Error{fmt::format("No fold of this kind ({}) fits on the paper; choose other marks or lines.", name_of(op))};
  item.chord = chord(item.line, sheet_, 1e-9 * extent).value_or(Segment{});
  add(std::move(item));
  return size() - 1;
}

Result<int> Construction::cross(int line, int other) {
  const auto at = (*this)[line].line.crossing((*this)[other].line);
  if (!at) return Error{"These two lines do not cross; choose lines at an angle."};
  ConstructionItem item;
  item.kind = Kind::crossing;
  item.lines = {line, other};
  item.point = *at;
  add(std::move(item));
  return size() - 1;
}

Result<int> Construction::land(int line, int fold) {
  if ((*this)[fold].kind != Kind::crease) return Error{"The sheet can be folded on a crease only; name one."};
  const double extent = bounding_box(sheet_).size().norm();
  ConstructionItem item;
  item.kind = Kind::crease;
  item.landing = true;
  item.lines = {line, fold};
  item.line = (*this)[line].line.mirrored_in((*this)[fold].line);
  const auto seen = chord(item.line, sheet_, 1e-9 * extent);
  if (!seen || seen->length() < 1e-6 * extent) return Error{"It lands off the paper; choose another line or crease."};
  item.chord = *seen;
  item.contact = {seen->from, seen->to, 0};
  add(std::move(item));
  return size() - 1;
}

int Construction::mark(int edge, const Point& at, double sigma_mm) {
  ConstructionItem item;
  item.kind = Kind::mark;
  item.lines = {edge, -1};
  item.point = at;
  item.sigma_mm = sigma_mm;
  add(std::move(item));
  return size() - 1;
}

int Construction::given_line(const Segment& span) {
  ConstructionItem item;
  item.kind = Kind::edge;
  item.id = fmt::format("g{}", items_.size() - 2 * sheet_.size() + 1);
  item.line = Line::through(span.from, span.to);
  item.chord = span;
  items_.push_back(std::move(item));
  return size() - 1;
}

int Construction::same_line(const Line& line, double tolerance) const {
  for (int i = 0; i < size(); ++i) {
    if (!(*this)[i].is_line()) continue;
    const Line& have = (*this)[i].line;
    const double sign = have.normal.dot(line.normal) < 0 ? -1 : 1;
    if ((sign * have.normal - line.normal).norm() < tolerance && std::abs(sign * have.c - line.c) < tolerance * 1000)
      return i;
  }
  return -1;
}

int Construction::same_point(const Point& point, double tolerance) const {
  for (int i = 0; i < size(); ++i) {
    if (!(*this)[i].is_line() && ((*this)[i].point - point).norm() < tolerance * 1000) return i;
  }
  return -1;
}

std::vector<char> Construction::needed_for(const std::vector<int>& wanted) const {
  std::vector<char> needed(items_.size(), 0);
  for (const int w : wanted) needed[static_cast<std::size_t>(w)] = 1;
  for (int i = size() - 1; i >= 0; --i) {
    if (!needed[static_cast<std::size_t>(i)]) continue;
    for (const auto& ids : {(*this)[i].points, (*this)[i].lines}) {
      for (const int id : ids) {
        if (id >= 0) needed[static_cast<std::size_t>(id)] = 1;
      }
    }
  }
  return needed;
}

Construction Construction::reduced_to(std::vector<int>& wanted) const {
  const std::vector<char> needed = needed_for(wanted);
  Construction out(sheet_);
  std::vector<int> at(items_.size(), -1);
  for (int i = 0; i < 2 * corners(); ++i) at[static_cast<std::size_t>(i)] = i;
  for (int i = 2 * corners(); i < size(); ++i) {
    if (!needed[static_cast<std::size_t>(i)]) continue;
    ConstructionItem item = (*this)[i];
    for (auto* ids : {&item.points, &item.lines}) {
      for (int& id : *ids) {
        if (id >= 0) id = at[static_cast<std::size_t>(id)];
      }
    }
    out.add(std::move(item));
    at[static_cast<std::size_t>(i)] = out.size() - 1;
  }
  for (int& w : wanted) w = at[static_cast<std::size_t>(w)];
  return out;
}

ConstructionErrors::ConstructionErrors(const Construction& construction, double sigma_mm) {
  const auto& items = construction.items();
  own_.reserve(items.size());
  for (const ConstructionItem& item : items) {
    const int own = item.kind == Kind::crease ? 2 : item.kind == Kind::mark ? 1 : 0;
    own_.emplace_back(static_cast<int>(errors_), own);
    errors_ += own;
  }
  rows_ = Eigen::Matrix2Xd::Zero(2, static_cast<Eigen::Index>(items.size()) * errors_);
  // What is given on the sheet has no error to pass on.
  const auto passed_on = [&](auto&& row, const auto& derivative, int from) {
    const auto kind = construction[from].kind;
    if (kind != Kind::corner && kind != Kind::edge) row.noalias() += derivative * of(from);
  };
  for (std::size_t i = 0; i < items.size(); ++i) {
    const ConstructionItem& item = items[i];
    auto row = rows_.middleCols(static_cast<Eigen::Index>(i) * errors_, errors_);
    if (item.kind == Kind::mark) {
      row.col(own_[i].first) = item.sigma_mm * construction[item.lines[0]].line.direction();
    } else if (item.kind == Kind::crossing) {
      const auto d =
          crossing_sensitivity(construction[item.lines[0]].line, construction[item.lines[1]].line, item.point);
      if (!d) {
        determined_ = false;
        continue;
      }
      passed_on(row, d->leftCols<2>(), item.lines[0]);
      passed_on(row, d->rightCols<2>(), item.lines[1]);
    } else if (item.landing) {
      const Line& l = construction[item.lines[0]].line;
      const Line& m = construction[item.lines[1]].line;
      const auto d = landing_sensitivity(l, m);
      passed_on(row, d.leftCols<2>(), item.lines[0]);
      passed_on(row, d.rightCols<2>(), item.lines[1]);
      row.middleCols<2>(own_[i].first) += sigma_mm * by_two_ends(item.line, item.contact.first, item.contact.second);
    } else if (item.kind == Kind::crease) {
      const auto d = sensitivity(item.op, construction.inputs_of(item), item.line, item.contact);
      if (!d) {
        determined_ = false;
        continue;
      }
      for (Eigen::Index k = 0; k < 2; ++k) {
        const int point = item.points[static_cast<std::size_t>(k)];
        const int line = item.lines[static_cast<std::size_t>(k)];
        if (point >= 0) passed_on(row, d->inputs.middleCols<2>(2 * k), point);
        if (line >= 0) passed_on(row, d->inputs.middleCols<2>(4 + 2 * k), line);
      }
      row.middleCols<2>(own_[i].first) += sigma_mm * d->own;
    }
  }
}

Eigen::Matrix2d ConstructionErrors::covariance(int item) const { return of(item) * of(item).transpose(); }

double ConstructionErrors::sigma_of_point(int item) const { return of(item).norm(); }

Eigen::MatrixXd ConstructionErrors::distances(int item, const Line& line, const std::vector<Point>& at) const {
  const auto rows = of(item);
  Eigen::MatrixXd out(static_cast<Eigen::Index>(at.size()), rows.cols());
  for (std::size_t i = 0; i < at.size(); ++i)
    out.row(static_cast<Eigen::Index>(i)) = quarter_turned(line.normal).dot(at[i]) * rows.row(0) - rows.row(1);
  return out;
}

std::vector<double> ConstructionErrors::shares(const Eigen::MatrixXd& rows) const {
  std::vector<double> out(own_.size(), 0);
  const double all = rows.squaredNorm();
  for (std::size_t i = 0; i < out.size(); ++i) {
    if (own_[i].second > 0 && all > 0) out[i] = rows.middleCols(own_[i].first, own_[i].second).squaredNorm() / all;
  }
  return out;
}

std::optional<std::vector<ConstructionItem>> sampled(const Construction& construction, double sigma_mm,
                                                     std::mt19937_64& random) {
  std::normal_distribution<double> unit(0, 1);
  std::vector<ConstructionItem> items = construction.items();
  const auto at = [&](int i) -> const ConstructionItem& { return items[static_cast<std::size_t>(i)]; };
  for (ConstructionItem& item : items) {
    if (item.kind == Kind::mark) {
      item.point += item.sigma_mm * unit(random) * at(item.lines[0]).line.direction();
    } else if (item.kind == Kind::crossing) {
      const auto p = at(item.lines[0]).line.crossing(at(item.lines[1]).line);
      if (!p) return std::nullopt;
      item.point = *p;
    } else if (item.landing) {
      const Line ideal = at(item.lines[0]).line.mirrored_in(at(item.lines[1]).line);
      const auto shifted = [&](const Point& p) {
        return Point(p - (ideal.distance(p) - sigma_mm * unit(random)) * ideal.normal);
      };
      const Point first = shifted(item.contact.first);
      item.line = Line::through(first, shifted(item.contact.second));
    } else if (item.kind == Kind::crease) {
      AlignmentInputs in;
      for (std::size_t k = 0; k < 2; ++k) {
        if (item.points[k] >= 0) in.points[k] = at(item.points[k]).point;
        if (item.lines[k] >= 0) in.lines[k] = at(item.lines[k]).line;
      }
      const double first = sigma_mm * unit(random);
      const double second = sigma_mm * unit(random);
      const auto crease = fold_with_errors(item.op, in, item.line, item.contact, {first, second});
      if (!crease) return std::nullopt;
      item.line = *crease;
    }
  }
  return items;
}

} // namespace uc
