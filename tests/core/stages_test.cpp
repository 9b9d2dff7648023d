// Stages and clips as targets over time: what begins flat ends closed, nothing jumps, what is held stays, and what
// contradicts itself is refused with its place.
#include "runner.h"

#include "collapse/stages.h"
#include "paper/sheet.h"
#include "pattern/family.h"

#include <QtTest>

#include <cmath>
#include <set>

using namespace uc;

namespace {

FoldMesh staged_mesh(const std::string& family, ParameterValues values = {}) {
  const auto design = family_design(family, std::move(values));
  const DrawnPattern d = drawn_pattern(design, Sheet().outline());
  auto mesh = fold_mesh(d.healed, d.full_deg, d.goals);
  if (!mesh) qFatal("%s: %s", family.c_str(), mesh.error().c_str());
  return std::move(mesh).value();
}

bool is_driven(EdgeKind kind) { return kind == EdgeKind::mountain || kind == EdgeKind::valley; }

/// The greatest difference between the targets of two moments.
double apart(const std::vector<std::optional<double>>& a, const std::vector<std::optional<double>>& b) {
  double most = 0;
  for (std::size_t h = 0; h < a.size(); ++h) {
    if (a[h].has_value() != b[h].has_value()) return 1e300;
    if (a[h]) most = std::max(most, std::abs(*a[h] - *b[h]));
  }
  return most;
}

/// Edges of the pattern that are driven, ascending.
std::vector<CreaseId> driven_edges(const FoldMesh& mesh) {
  std::vector<CreaseId> out;
  for (CreaseId e(0); at(e) < mesh.hinge_of.size(); ++e)
    if (mesh.hinge_of[static_cast<std::size_t>(e)] >= 0 &&
        is_driven(mesh.hinges[static_cast<std::size_t>(mesh.hinge_of[static_cast<std::size_t>(e)])].kind))
      out.push_back(e);
  return out;
}

DriveStage drive(std::vector<CreaseId> creases, double from, double to, double percent = 100) {
  DriveStage out;
  out.creases = std::move(creases);
  out.from = from;
  out.to = to;
  out.percent = percent;
  return out;
}

QString refusal(const FoldMesh& mesh, const std::vector<DriveStage>& stages) {
  const Status status = check_stages(mesh, stages);
  return status ? QString() : QString::fromStdString(status.error());
}

} // namespace

class StagesTest : public QObject {
  Q_OBJECT
private slots:
  void every_order_goes_from_flat_to_closed_data() {
    QTest::addColumn<QString>("family");
    for (const char* name : {"chevron", "carton", "map", "square-twists", "twisted-star", "card-sleeve", "tray", "net"})
      QTest::newRow(name) << QString(name);
  }
  void every_order_goes_from_flat_to_closed() {
    QFETCH(QString, family);
    const FoldMesh mesh = staged_mesh(family.toStdString());
    for (const auto& order : enum_words<CollapseOrder>) {
      for (const int groups : {1, 2, 5, 40}) {
        const auto stages = stages_in_order(mesh, order.value, groups);
        QVERIFY2(check_stages(mesh, stages), order.text);
        const auto flat = targets_at(mesh, stages, 0);
        const auto closed = targets_at(mesh, stages, 1);
        for (std::size_t h = 0; h < mesh.hinges.size(); ++h) {
          const auto& hinge = mesh.hinges[h];
          if (hinge.kind == EdgeKind::undirected) {
            QVERIFY(!flat[h] && !closed[h]);
            continue;
          }
          QVERIFY(flat[h] && closed[h] && std::abs(*flat[h]) < 1e-9);
          if (is_driven(hinge.kind))
            QVERIFY2(std::abs(*closed[h] - (hinge.kind == EdgeKind::valley ? 1 : -1) * hinge.full_deg) < 1e-6,
                     qPrintable(QString("%1, hinge %2: %3").arg(order.text).arg(h).arg(*closed[h])));
        }
        // Nothing jumps: a hundredth of the way moves no crease by more than its stage allows.
        double shortest = 1;
        for (const DriveStage& s : stages) shortest = std::min(shortest, s.to - s.from);
        auto last = flat;
        for (int i = 1; i <= 100; ++i) {
          const auto now = targets_at(mesh, stages, i / 100.0);
          QVERIFY(apart(last, now) <= 360 * 0.01 / shortest + 1e-9);
          last = now;
        }
      }
    }
  }

  void groups_share_out_all_creases_once() {
    const FoldMesh mesh = staged_mesh("chevron", {{"count", 8}});
    const std::vector<CreaseId> all = driven_edges(mesh);
    for (const auto order : {CollapseOrder::outside_in, CollapseOrder::inside_out, CollapseOrder::one_side_first}) {
      for (const int groups : {1, 3, 7}) {
        const auto stages = stages_in_order(mesh, order, groups);
        QVERIFY(static_cast<int>(stages.size()) <= groups);
        std::set<CreaseId> seen;
        for (const DriveStage& s : stages)
          for (const CreaseId e : s.creases) QVERIFY(seen.insert(e).second);
        QCOMPARE(std::vector<CreaseId>(seen.begin(), seen.end()), all);
        QCOMPARE(stages.front().from, 0.0);
        QVERIFY(std::abs(stages.back().to - 1) < 1e-12);
        for (std::size_t i = 0; i + 1 < stages.size(); ++i) QVERIFY(stages[i + 1].from < stages[i].to); // by half
      }
    }
    // The outer ones are the inner ones of the other order.
    const auto in = stages_in_order(mesh, CollapseOrder::outside_in, 2);
    const auto out = stages_in_order(mesh, CollapseOrder::inside_out, 2);
    const auto set_of = [](const DriveStage& s) { return std::set<int>(s.creases.begin(), s.creases.end()); };
    QVERIFY(set_of(in.front()) != set_of(out.front()));
  }

  void a_familys_stages_are_the_same_by_angle() {
    for (const char* name : {"carton", "map", "twisted-star", "card-sleeve", "chevron", "tray", "prism"}) {
      const FoldMesh mesh = staged_mesh(name);
      const auto by_family = family_stages(mesh);
      const auto by_angle = stages_by_angle(mesh);
      QVERIFY(check_stages(mesh, by_angle));
      if (by_family.empty()) continue;
      bool square = true; // as a stages file says it, every crease closes at 180
      for (const auto& h : mesh.hinges) square = square && (!is_driven(h.kind) || h.full_deg == 180);
      if (!square) continue;
      for (int i = 0; i <= 50; ++i)
        QVERIFY2(apart(targets_at(mesh, by_family, i / 50.0), targets_at(mesh, by_angle, i / 50.0)) < 1e-6, name);
    }
  }

  void clips_hold_what_they_were_put_on() {
    const FoldMesh mesh = staged_mesh("chevron", {{"count", 8}});
    const std::vector<CreaseId> all = driven_edges(mesh);
    const std::vector<CreaseId> some(all.begin(), all.begin() + 5);
    const std::vector<Clip> clips{{some, 0.3, 0.7}};
    const auto when_put_on = targets_at(mesh, {}, 0.3);
    for (int i = 0; i <= 100; ++i) {
      const double part = i / 100.0;
      const auto bare = targets_at(mesh, {}, part);
      const auto held = targets_at(mesh, {}, part, clips);
      for (const CreaseId e : all) {
        const auto h = static_cast<std::size_t>(mesh.hinge_of[static_cast<std::size_t>(e)]);
        const bool under = std::find(some.begin(), some.end(), e) != some.end() && part >= 0.3 && part < 0.7;
        QVERIFY(std::abs(*held[h] - *(under ? when_put_on : bare)[h]) < 1e-9);
      }
    }
    QVERIFY(Clip({some, 0.5, 1}).holds(1)); // to the end
    QVERIFY(!Clip({some, 0.5, 0.9}).holds(0.9));
    QVERIFY(!Clip({some, 0.5, 1}).holds(0.49));
  }

  void contradictions_are_refused_with_their_stage() {
    const FoldMesh mesh = staged_mesh("chevron", {{"count", 4}});
    const std::vector<CreaseId> all = driven_edges(mesh);
    const CreaseId a = all[0];
    const CreaseId b = all[1];
    CreaseId raw(0);
    while (mesh.hinge_of[static_cast<std::size_t>(raw)] >= 0) ++raw;
    const CreaseId none(mesh.hinge_of.size());
    QCOMPARE(refusal(mesh, {}), QString());
    QCOMPARE(refusal(mesh, {drive({a}, 0, 0.5), drive({a}, 0.5, 1), drive({b}, 0, 1)}), QString()); // one after another
    const auto says = [&](const std::vector<DriveStage>& stages, const QString& wanted) {
      const QString got = refusal(mesh, stages);
      return got.contains(wanted) ? QString() : got + " for " + wanted;
    };
    QCOMPARE(says({drive({a}, 0.5, 0.5)}, "stage 1: from must be less than to"), QString());
    QCOMPARE(says({drive({a}, 0, 1), drive({b}, 0.9, 0.1)}, "stage 2: from must"), QString());
    QCOMPARE(says({drive({a}, -0.1, 1)}, "both from 0 to 1"), QString());
    QCOMPARE(says({drive({a}, 0, std::nan(""))}, "stage 1: from must"), QString());
    QCOMPARE(says({drive({a}, 0, 1, 101)}, "percent is 0 to 100"), QString());
    QCOMPARE(says({drive({a}, 0, 1, std::nan(""))}, "percent is 0 to 100"), QString());
    QCOMPARE(says({drive({}, 0, 1)}, "it names no creases"), QString());
    QCOMPARE(says({drive({none}, 0, 1)}, QString("edge %1 is not a crease").arg(none)), QString());
    QCOMPARE(says({drive({CreaseId()}, 0, 1)}, "edge -1 is not a crease"), QString());
    QCOMPARE(says({drive({raw}, 0, 1)}, QString("edge %1 is not a crease").arg(raw)), QString());
    QCOMPARE(says({drive({a, b, a}, 0, 1)}, QString("stage 1: it names edge %1 twice").arg(a)), QString());
    QCOMPARE(says({drive({b}, 0, 1), drive({a}, 0, 0.6), drive({a}, 0.5, 1)},
                  QString("stage 3: edge %1 is driven by stage 2").arg(a)),
             QString());
  }
};

UC_TEST(StagesTest)
#include "stages_test.moc"
