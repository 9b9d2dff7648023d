#include "reference/route_maker.h"

namespace uc {

Frame::Frame(const Polygon& sheet) : low(bounding_box(sheet).low), size(bounding_box(sheet).size().maxCoeff()) {}

/// One construction in the making.
class RouteMaker::Build {
public:
  Build(const RouteMaker& maker) : maker_(maker) {
    c_.reserve(maker.bare_.size() + 16);
    c_ = maker.bare_;
    lines_.reserve(8);
  }

  int line(std::uint32_t id) {
    if (id == Candidate::carrier) return maker_.carrier_;
    const auto edges = static_cast<std::uint32_t>(c_.corners());
    if (id < edges) return c_.edge(static_cast<int>(id));
    for (const auto& [line, item] : lines_) {
      if (line == id) return item;
    }
    const IndexLine& l = maker_.index_.lines()[id];
    std::array<int, 2> points{-1, -1};
    std::array<int, 2> lines{-1, -1};
    for (std::size_t i = 0; i < 2; ++i) {
      if (l.points[i] != no_entry) {
        const auto& made = maker_.index_.points()[l.points[i]].lines;
        points[i] = made[0] == no_entry ? c_.corner(static_cast<int>(l.points[i])) : point({made[0], made[1]});
      }
      if (l.lines[i] != no_entry) lines[i] = line(l.lines[i]);
      if ((l.points[i] != no_entry && points[i] < 0) || (l.lines[i] != no_entry && lines[i] < 0)) return -1;
    }
    const int item = fold(static_cast<Alignment>(l.op), points, lines, maker_.frame_.out(l.line));
    lines_.emplace_back(id, item);
    return item;
  }

  int point(const PointRef& ref) {
    if (ref.is_corner()) return c_.corner(static_cast<int>(ref.a));
    const int a = line(ref.a);
    const int b = line(ref.b);
    return a < 0 || b < 0 ? -1 : cross(a, b);
  }

  int fold(Alignment op, const std::array<int, 2>& points, const std::array<int, 2>& lines,
           const std::optional<Line>& wanted) {
    auto made = c_.fold(op, points, lines, wanted);
    return made ? *made : -1;
  }
  int cross(int a, int b) {
    for (int i = 2 * c_.corners(); i < c_.size(); ++i) {
      const ConstructionItem& item = c_[i];
      if (item.kind != ConstructionItem::Kind::crossing) continue;
      if ((item.lines[0] == a && item.lines[1] == b) || (item.lines[0] == b && item.lines[1] == a)) return i;
    }
    auto made = c_.cross(a, b);
    return made ? *made : -1;
  }

  /// The item that answers the target, -1 when something does not fit.
  int result(const Candidate& k) {
    using Kind = Candidate::Kind;
    switch (k.kind) {
    case Kind::crossing:
      return point(k.first);
    case Kind::line:
      return line(k.line);
    case Kind::halved:
    case Kind::squared: {
      const int onto = line(k.line);
      const int p = point(k.first);
      if (onto < 0 || p < 0) return -1;
      int crease = -1;
      if (k.kind == Kind::squared) {
        crease = fold(Alignment::O4, {p, -1}, {onto, -1}, std::nullopt);
      } else {
        const int q = point(k.second);
        if (q >= 0) crease = fold(Alignment::O2, {q, p}, {-1, -1}, std::nullopt);
      }
      return crease < 0 ? -1 : cross(onto, crease);
    }
    case Kind::through:
    case Kind::brought: {
      const int p = point(k.first);
      const int q = point(k.second);
      if (p < 0 || q < 0) return -1;
      return fold(k.kind == Kind::through ? Alignment::O1 : Alignment::O2, {p, q}, {-1, -1}, std::nullopt);
    }
    }
    return -1;
  }

  Construction& construction() { return c_; }

private:
  const RouteMaker& maker_;
  Construction c_;
  std::vector<std::pair<std::uint32_t, int>> lines_; // of the index, and the items they have become
};

namespace {

std::string_view idea_of(const Candidate& candidate, const Route& route) {
  switch (candidate.kind) {
  case Candidate::Kind::halved:
    return "halving";
  case Candidate::Kind::squared:
    return "square to the edge";
  case Candidate::Kind::through:
    return "through two marks";
  case Candidate::Kind::brought:
    return "mark to mark";
  default:
    break;
  }
  static constexpr const char* names[] = {"",
                                          "through two marks",
                                          "mark to mark",
                                          "line to line",
                                          "square to a line",
                                          "mark onto a line",
                                          "two marks onto two lines",
                                          "mark onto a line, squared"};
  for (int i = route.construction.size() - 1; i >= 0; --i) {
    const ConstructionItem& item = route.construction[i];
    if (item.kind == ConstructionItem::Kind::crease) return names[static_cast<int>(item.op)];
  }
  return {};
}

} // namespace

RouteMaker::RouteMaker(const SheetIndex& index, const Polygon& sheet, const Target& target)
    : index_(index), target_(target), frame_(sheet), bare_(sheet) {
  if (target.carrier) carrier_ = bare_.given_line(*target.carrier);
}

bool RouteMaker::on_sheet(const Point& p) const {
  const Polygon& sheet = bare_.sheet();
  for (std::size_t i = 0; i < sheet.size(); ++i) {
    const Point side = sheet[(i + 1) % sheet.size()] - sheet[i];
    const Point to = p - sheet[i];
    if (side.x() * to.y() - side.y() * to.x() < -1e-9 * frame_.size * side.norm()) return false;
  }
  return true;
}

std::optional<RouteDraft> RouteMaker::draft(const Candidate& candidate, double sigma_mm) const {
  Build build(*this);
  const int result = build.result(candidate);
  if (result < 0) return std::nullopt;
  Construction& c = build.construction();
  if (!c[result].is_line()) {
    if (!on_sheet(c[result].point)) return std::nullopt;
    if (c.same_point(c[result].point) < c.corners()) return std::nullopt; // a corner needs no fold
  }
  auto draft = drafted(std::move(c), result, target_, sigma_mm);
  if (draft) draft->route.idea = idea_of(candidate, draft->route);
  return draft;
}

} // namespace uc
