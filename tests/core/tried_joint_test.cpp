// Joints tried on folded units: against units whose mouths are plain to see, and against a search of its own that
// follows straight lines into the paper.
#include "runner.h"
#include "support.h"

#include "unit/tried_joint.h"
#include "unit/unit_plan.h"
#include "unit/unit_steps.h"

#include <algorithm>
#include <cmath>
#include <set>

using namespace uc;

namespace {

FoldSequence followed(const std::string& steps) {
  auto file = parse_steps(steps);
  if (!file) qFatal("%s", file.error().c_str());
  auto made = fold_sequence(std::move(file).value());
  if (made.refused) qFatal("%s", made.refused->sentence().c_str());
  return std::move(made.made);
}

Point folded_place(const FoldSequence& unit, const std::string& name) {
  const PieceForm& form = *unit.states.back().form;
  const Polygon sheet = unit.file.sheet.outline();
  const Point p = unit.points.contains(name) ? unit.points.at(name)
                  : name == "bl"             ? sheet[0]
                  : name == "br"             ? sheet[1]
                  : name == "tr"             ? sheet[2]
                                             : sheet[3];
  return form.form.place[static_cast<std::size_t>(faces_at(form, p).front())] * p;
}

/// Follows straight lines from the entrance into the tab's place and keeps all levels, counted from the top, at which a
/// sheet could be there: what lies over a point, and which faces a fold joins there, is found by looking at each face.
class Needle {
public:
  explicit Needle(const FoldSequence& unit) : form_(*unit.states.back().form) {}

  /// The part of the polygon that may lie between layers.
  double held(const Polygon& place) const {
    const Point along = place[1] - place[0];
    Point inward = Point(-along.y(), along.x()).normalized();
    Point middle = Point::Zero();
    for (const Point& p : place) middle += p / static_cast<double>(place.size());
    if ((middle - place[0]).dot(inward) < 0) inward = -inward;
    double far = 0;
    for (const Point& p : place) far = std::max(far, (p - place[0]).dot(inward));
    int inside = 0;
    int held = 0;
    constexpr int lines = 41;
    const double step = far / 160.3;
    for (int i = 0; i < lines; ++i) {
      const Point start = place[0] + (i + 0.47) / lines * along;
      Point at = start - 0.31 * step * inward;
      const int outside = static_cast<int>(stack(at).size());
      std::set<int> levels{0, outside};
      for (Point next = start + 0.53 * step * inward; (next - start).dot(inward) < far; next += step * inward) {
        levels = through(at, next, levels);
        at = next;
        if (!inside_of(place, at)) continue;
        ++inside;
        const int count = static_cast<int>(stack(at).size());
        held += std::any_of(levels.begin(), levels.end(), [&](int l) { return l > 0 && l < count; });
      }
    }
    return static_cast<double>(held) / inside;
  }

private:
  static bool inside_of(const Polygon& polygon, const Point& p) {
    bool in = false;
    for (std::size_t i = 0, j = polygon.size() - 1; i < polygon.size(); j = i++)
      if ((polygon[i].y() > p.y()) != (polygon[j].y() > p.y()) &&
          p.x() < (polygon[j].x() - polygon[i].x()) * (p.y() - polygon[i].y()) / (polygon[j].y() - polygon[i].y()) +
                      polygon[i].x())
        in = !in;
    return in;
  }
  Polygon outline(FaceId f) const {
    Polygon out;
    for (const VertexId v : form_.graph.faces[static_cast<std::size_t>(f)].cycle)
      out.push_back(form_.form.vertices[static_cast<std::size_t>(v)]);
    return out;
  }
  std::vector<FaceId> stack(const Point& p) const {
    std::vector<FaceId> over;
    for (std::size_t f = 0; f < form_.graph.faces.size(); ++f)
      if (inside_of(outline(FaceId(f)), p)) over.emplace_back(f);
    std::sort(over.begin(), over.end(), [&](FaceId a, FaceId b) { return a != b && form_.above(a, b); });
    return over;
  }
  std::set<int> through(const Point& a, const Point& b, const std::set<int>& levels) const {
    const auto before = stack(a);
    const auto after = stack(b);
    const auto place = [](const std::vector<FaceId>& all, FaceId f) {
      return std::find(all.begin(), all.end(), f) - all.begin();
    };
    std::set<int> out;
    for (const int from : levels)
      for (int to = 0; to <= static_cast<int>(after.size()); ++to) {
        bool fits = true;
        for (const FaceId f : before)
          if (const auto there = place(after, f); there < static_cast<long>(after.size()))
            fits &= (place(before, f) < from) == (there < to);
        for (std::size_t e = 0; e < form_.pattern.edges.size() && fits; ++e) {
          const auto [f, g] = form_.graph.sides[e];
          if (f < 0 || g < 0 || !joins(form_.pattern.edges[e].kind)) continue;
          const bool f0 = place(before, f) < static_cast<long>(before.size());
          const bool g0 = place(before, g) < static_cast<long>(before.size());
          const bool f1 = place(after, f) < static_cast<long>(after.size());
          const bool g1 = place(after, g) < static_cast<long>(after.size());
          if (!crossed(e, a, b)) continue;
          if (f0 && g0 && !f1 && !g1) fits = (place(before, f) < from) == (place(before, g) < from);
          if (!f0 && !g0 && f1 && g1) fits = (place(after, f) < to) == (place(after, g) < to);
          if (f0 && !g0 && !f1 && g1) fits = (place(before, f) < from) == (place(after, g) < to);
          if (!f0 && g0 && f1 && !g1) fits = (place(before, g) < from) == (place(after, f) < to);
        }
        if (fits) out.insert(to);
      }
    return out;
  }
  bool crossed(std::size_t e, const Point& a, const Point& b) const {
    const Point p = form_.form.vertices[static_cast<std::size_t>(form_.pattern.edges[e].from)];
    const Point q = form_.form.vertices[static_cast<std::size_t>(form_.pattern.edges[e].to)];
    const auto side = [](const Point& u, const Point& v, const Point& w) {
      return (v - u).x() * (w - u).y() - (v - u).y() * (w - u).x();
    };
    return side(p, q, a) * side(p, q, b) < 0 && side(a, b, p) * side(a, b, q) < 0;
  }
  const PieceForm& form_;
};

} // namespace

class TriedJointTest : public QObject {
  Q_OBJECT
private slots:
  void a_sheet_folded_in_half_is_open_on_three_sides() {
    const FoldSequence half =
        followed("sheet 40x20mm\nm = valley left onto right\nb = cross m bottom\nt = cross m top\n");
    const auto tried = [&](std::vector<std::string> by) { return tried_joint(half, {by, by}); };
    const auto open = tried({"br", "tr", "t", "b"});
    QVERIFY2(open, open ? "" : open.error().c_str());
    QCOMPARE(open->held_mm2, 400.0);
    QCOMPARE(open->depth_mm, 20.0);
    QVERIFY(open->holds());
    const auto side = tried({"b", "br", "tr", "t"});
    QVERIFY(side && side->held_mm2 == 400.0 && side->depth_mm == 20.0);
    const auto closed = tried({"t", "b", "br", "tr"}); // by the fold
    QVERIFY(closed && closed->held_mm2 == 0 && !closed->holds() && closed->mouth.empty());
  }

  void a_tab_stops_at_the_fold_across_its_way() {
    // A strip pleated at a third: the mouth beside the pleat is as deep as the pleat.
    const FoldSequence strip = followed("sheet 60x20mm\nv = valley left onto right\nx = valley right onto v layers 1\n"
                                        "a = cross v bottom\nb = cross v top\nc = cross x bottom\nd = cross x top\n");
    const auto in = tried_joint(strip, {{"c", "d", "b", "a"}, {"c", "d", "b", "a"}});
    QVERIFY2(in, in ? "" : in.error().c_str());
    // From the crease on the tab goes under both layers of the flap, which the crease joins, as far as the first fold.
    QVERIFY(std::abs(in->held_mm2 - 15 * 20) < 1e-6 && std::abs(in->tab_mm2 - 15 * 20) < 1e-6);
    QVERIFY(std::abs(in->depth_mm - 15) < 1e-6);
    QVERIFY(std::abs(Needle(strip).held({folded_place(strip, "c"), folded_place(strip, "d"), folded_place(strip, "b"),
                                         folded_place(strip, "a")}) -
                     1) < 0.02);
    // From the fold on it goes under the flap alone, and the crease ends its way.
    const auto back = tried_joint(strip, {{"a", "b", "d", "c"}, {"a", "b", "d", "c"}});
    QVERIFY(back && std::abs(back->held_mm2 - 15 * 20) < 1e-6 && std::abs(back->depth_mm - 15) < 1e-6);
  }

  void what_does_not_fit_is_refused() {
    const FoldSequence half =
        followed("sheet 40x20mm\nm = valley left onto right\nb = cross m bottom\nt = cross m top\n");
    QVERIFY(tried_joint(half, {{"br", "tr", "nowhere"}, {"br", "tr", "t"}}).error().find("nowhere") == 0);
    QVERIFY(tried_joint(half, {{"br", "tr", "t"}, {"tr", "br", "b"}}).error().find("wrong side") != std::string::npos);
    QVERIFY(tried_joint(half, {{"br", "tr"}, {"br", "tr"}}).error().find("corners") != std::string::npos);
  }

  void what_families_claim_is_what_their_units_do_data() {
    QTest::addColumn<QString>("name");
    for (const UnitFamily& f : unit_families())
      if (!f.joints.empty()) QTest::newRow(f.name.c_str()) << QString::fromStdString(f.name);
  }
  void what_families_claim_is_what_their_units_do() {
    QFETCH(QString, name);
    const UnitFamily* family = find_unit_family(name.toStdString());
    for (const double width : {80.0, 113.0}) {
      const auto tried = tried_joints(*family, {width, width * family->ratio});
      QVERIFY2(tried, tried ? "" : tried.error().c_str());
      const auto unit = folded_unit(*family, {width, width * family->ratio});
      const Needle needle(unit->made);
      for (std::size_t j = 0; j < tried->size(); ++j) {
        const TriedJoint& t = (*tried)[j];
        QVERIFY2(t.holds(), qPrintable(QString("joint %1: %2 of %3 mm2").arg(j).arg(t.held_mm2).arg(t.tab_mm2)));
        QVERIFY(t.depth_mm > 0.1 * width && !t.mouth.empty());
        Polygon place;
        for (const std::string& corner : family->joints[j].facet) place.push_back(folded_place(unit->made, corner));
        const double share = needle.held(place);
        QVERIFY2(std::abs(share - t.held_mm2 / t.tab_mm2) < 0.03,
                 qPrintable(QString("%1 %2").arg(share).arg(t.held_mm2 / t.tab_mm2)));
      }
    }
    QVERIFY(hold_of(*family) == Hold::pocket);
  }

  void a_strip_rolled_shut_has_one_mouth_for_two_tabs() {
    UnitFamily rolled = *find_unit_family("zigzag-strip");
    const std::string pleated =
        "valley along low moving bl\nmountain along middle moving p\nvalley along high moving tl\n";
    const auto place = rolled.steps.find(pleated);
    QVERIFY(place != std::string::npos);
    rolled.steps.replace(place, pleated.size(),
                         "valley along low moving bl\nvalley along high moving tl\nvalley along middle moving p\n");
    QVERIFY(hold_of(rolled) == Hold::glue);
  }

  /// Of a unit that somebody describes nothing is known but what he says.
  void a_unit_of_ones_own_is_believed() {
    OwnFamily own;
    own.name = "mine";
    const auto family = unit_family("mine", {own});
    QVERIFY(family && hold_of(*family) == Hold::told);
    own.glued = true;
    QVERIFY(hold_of(*unit_family("mine", {own})) == Hold::glue);
  }

  void the_others_are_glued_or_wrapped() {
    for (const UnitFamily& f : unit_families())
      if (f.joints.empty()) QVERIFY2(hold_of(f) == (f.wraps ? Hold::wrap : Hold::glue), f.name.c_str());
  }
};

UC_TEST(TriedJointTest)
#include "tried_joint_test.moc"
