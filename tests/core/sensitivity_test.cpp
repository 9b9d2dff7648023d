// How a fold passes errors on: the derivatives of all seven alignments against folding with things a little off, and
// the first order against what a hand that errs would crease.
#include "alignments.h"
#include "runner.h"

#include "align/sensitivity.h"

#include <QtTest>

#include <algorithm>
#include <cmath>
#include <random>

using namespace uc;

namespace {

const Polygon paper{{0, 0}, {1, 0}, {1, 1}, {0, 1}};
constexpr double h = 1e-6;

/// Turn of the normal and change of the offset from one line to another close by.
Eigen::Vector2d change(const Line& from, Line to) {
  if (to.normal.dot(from.normal) < 0) to = {-to.normal, -to.c};
  return {std::atan2(from.normal.x() * to.normal.y() - from.normal.y() * to.normal.x(), from.normal.dot(to.normal)),
          to.c - from.c};
}

Line turned(const Line& l, double radians, double further) {
  const double c = std::cos(radians);
  const double s = std::sin(radians);
  return {{c * l.normal.x() - s * l.normal.y(), s * l.normal.x() + c * l.normal.y()}, l.c + further};
}

/// Inputs with one of their eight numbers changed: P.x P.y Q.x Q.y, turn and offset of l and of m.
AlignmentInputs moved(AlignmentInputs in, int which, double by) {
  if (which < 4) {
    in.points[static_cast<std::size_t>(which / 2)][which % 2] += by;
  } else {
    Line& l = in.lines[static_cast<std::size_t>((which - 4) / 2)];
    l = which % 2 == 0 ? turned(l, by, 0) : turned(l, 0, by);
  }
  return in;
}

std::optional<Line> nearest(Alignment op, const AlignmentInputs& in, const Line& wanted) {
  std::optional<Line> best;
  double least = 1e300;
  for (const Line& l : creases_of(op, in)) {
    const double off = change(wanted, l).norm();
    if (off < least) least = off, best = l;
  }
  return best;
}

/// A crease that lies well on the paper and moves with its inputs, not against the end of a branch.
struct Case {
  AlignmentInputs in;
  Line crease;
  Contact contact;
  FoldSensitivity slopes;
};
std::optional<Case> any_case(Alignment op, std::mt19937& random) {
  std::uniform_real_distribution<double> any(0.05, 0.95);
  AlignmentInputs in;
  for (Point& p : in.points) p = {any(random), any(random)};
  for (Line& l : in.lines) l = Line::through({any(random), any(random)}, {any(random), any(random)});
  for (const Line& crease : creases_of(op, in)) {
    const auto touch = contact(op, in, crease, paper);
    if (!touch) continue;
    const auto slopes = sensitivity(op, in, crease, *touch);
    if (slopes && slopes->inputs.norm() < 20 && slopes->own.norm() < 20) return Case{in, crease, *touch, *slopes};
  }
  return std::nullopt;
}

} // namespace

class SensitivityTest : public QObject {
  Q_OBJECT
private slots:
  void alignments_data() {
    QTest::addColumn<int>("op");
    for (int op = 1; op <= 7; ++op) QTest::newRow(qPrintable(QString("O%1").arg(op))) << op;
  }
  void alignments() {
    QFETCH(int, op);
    const auto alignment = static_cast<Alignment>(op);
    std::mt19937 random(static_cast<unsigned>(op));
    int judged = 0;
    for (int tries = 0; tries < 4000 && judged < 60; ++tries) {
      const auto c = any_case(alignment, random);
      if (!c) continue;
      ++judged;
      for (int which = 0; which < 8; ++which) {
        const bool counts = which < 4 ? which / 2 < point_inputs(alignment) : (which - 4) / 2 < line_inputs(alignment);
        if (!counts) {
          QVERIFY(c->slopes.inputs.col(which).norm() == 0);
          continue;
        }
        const auto up = nearest(alignment, moved(c->in, which, h), c->crease);
        const auto down = nearest(alignment, moved(c->in, which, -h), c->crease);
        QVERIFY(up && down);
        const Eigen::Vector2d slope = (change(c->crease, *up) - change(c->crease, *down)) / (2 * h);
        const Eigen::Vector2d wanted = c->slopes.inputs.col(which);
        QVERIFY2((slope - wanted).norm() < 1e-4 * (1 + wanted.squaredNorm()),
                 qPrintable(QString("number %1: %2 %3 for %4 %5")
                                .arg(which)
                                .arg(wanted[0])
                                .arg(wanted[1])
                                .arg(slope[0])
                                .arg(slope[1])));
      }
      // The fold's own two errors.
      for (int e = 0; e < 2; ++e) {
        const Eigen::Vector2d errors = e == 0 ? Eigen::Vector2d(h, 0) : Eigen::Vector2d(0, h);
        const auto up = fold_with_errors(alignment, c->in, c->crease, c->contact, errors);
        const auto down = fold_with_errors(alignment, c->in, c->crease, c->contact, -errors);
        QVERIFY(up && down);
        const Eigen::Vector2d slope = (change(c->crease, *up) - change(c->crease, *down)) / (2 * h);
        const Eigen::Vector2d wanted = c->slopes.own.col(e); // either way: the error is as likely to either side
        QVERIFY2(
            std::min((slope - wanted).norm(), (slope + wanted).norm()) < 1e-4 * (1 + wanted.squaredNorm()),
            qPrintable(
                QString("error %1: %2 %3 for %4 %5").arg(e).arg(wanted[0]).arg(wanted[1]).arg(slope[0]).arg(slope[1])));
      }
      QVERIFY(testing::misfit(alignment, c->in, c->crease) < 1e-8);
    }
    QVERIFY2(judged >= 30, qPrintable(QString::number(judged)));
  }

  void crossings_and_landings() {
    std::mt19937 random(21);
    std::uniform_real_distribution<double> any(0, 1);
    for (int i = 0; i < 500; ++i) {
      const Line l = Line::through({any(random), any(random)}, {any(random), any(random)});
      const Line m = Line::through({any(random), any(random)}, {any(random), any(random)});
      if (std::abs(l.normal.x() * m.normal.y() - l.normal.y() * m.normal.x()) < 0.2) continue;
      const Point at = *l.crossing(m);
      const auto crossing = crossing_sensitivity(l, m, at);
      const auto landing = landing_sensitivity(l, m);
      QVERIFY(crossing);
      const Line lies = l.mirrored_in(m);
      for (int which = 0; which < 4; ++which) {
        const auto off = [&](const Line& line, int k, double by) {
          return which / 2 == k ? (which % 2 == 0 ? turned(line, by, 0) : turned(line, 0, by)) : line;
        };
        const Point up = *off(l, 0, h).crossing(off(m, 1, h));
        const Point down = *off(l, 0, -h).crossing(off(m, 1, -h));
        QVERIFY(((up - down) / (2 * h) - crossing->col(which)).norm() <
                1e-4 * (1 + crossing->col(which).squaredNorm()));
        const Eigen::Vector2d turn = (change(lies, off(l, 0, h).mirrored_in(off(m, 1, h))) -
                                      change(lies, off(l, 0, -h).mirrored_in(off(m, 1, -h)))) /
                                     (2 * h);
        QVERIFY((turn - landing.col(which)).norm() < 1e-5 * (1 + landing.col(which).squaredNorm()));
      }
    }
    QVERIFY(!crossing_sensitivity(Line{{1, 0}, 0.2}, Line{{1, 0}, 0.4}, {0, 0}));
  }

  void two_distances_fix_a_line() {
    std::mt19937 random(22);
    std::uniform_real_distribution<double> any(0, 1);
    for (int i = 0; i < 500; ++i) {
      const Line l = Line::through({any(random), any(random)}, {any(random), any(random)});
      const Point p = l.c * l.normal + any(random) * l.direction();
      const Point q = p + (0.2 + any(random)) * l.direction();
      const Eigen::Vector2d off(1e-6 * any(random), -1e-6 * any(random));
      const Eigen::Vector2d by = by_two_ends(l, p, q) * off;
      // The points lie so far from the line that was changed.
      const Line other = Line::through(p - off[0] * l.normal, q - off[1] * l.normal);
      QVERIFY((change(l, other) - by).norm() < 1e-10);
    }
  }
};

UC_TEST(SensitivityTest)
#include "sensitivity_test.moc"
