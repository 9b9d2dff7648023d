// Creases planned in the background: once each, in order, given up when no longer wanted; and the strip and bar that
// say how far work has come and how large things are drawn.
#include "runner.h"
#include "support.h"

#include "base/crease_planner.h"
#include "pattern/family.h"
#include "widgets/scale_bar.h"
#include "widgets/waiting_strip.h"

#include <QProgressBar>
#include <QPushButton>
#include <QSignalSpy>

using namespace uc;
using namespace uc::app;
using uc::testing::near;

namespace {

struct Job {
  explicit Job(const char* name, int count = 12) : sheet(Sheet::square(Millimetres{240})) {
    pattern = resolved(family_design(name, {{"count", 12}}), Sheet().outline()).value().design;
    pattern.count = count;
    drawn = std::make_shared<const DrawnPattern>(drawn_pattern(pattern, sheet.outline()));
  }
  [[nodiscard]] CreaseWish wish(CreaseSchool school, bool both_ways = false) const {
    return {sheet.code(), 1, pattern, HandProfile{}, {school, both_ways}};
  }
  Sheet sheet;
  PatternDesign pattern;
  std::shared_ptr<const DrawnPattern> drawn;
};

} // namespace

class PlannerTest : public QObject {
  Q_OBJECT

private slots:
  void plans_are_made_once_and_in_order() {
    const Job job("square-twists");
    CreasePlanner planner;
    QSignalSpy began(&planner, &CreasePlanner::began);
    QSignalSpy ended(&planner, &CreasePlanner::ended);
    std::vector<int> known_then; // how many of the three were known after each plan
    const auto wishes = {job.wish(CreaseSchool::scored), job.wish(CreaseSchool::needed), job.wish(CreaseSchool::scored),
                         job.wish(CreaseSchool::everything)};
    connect(&planner, &CreasePlanner::planned, this, [&] {
      known_then.push_back((planner.known(job.wish(CreaseSchool::scored)) != nullptr) +
                           10 * (planner.known(job.wish(CreaseSchool::needed)) != nullptr) +
                           100 * (planner.known(job.wish(CreaseSchool::everything)) != nullptr));
    });
    planner.want(wishes, job.drawn);
    QVERIFY(planner.busy());
    QTRY_VERIFY_WITH_TIMEOUT(!planner.busy(), 20000);
    QCOMPARE(began.count(), 3);
    QVERIFY(ended.count() >= 1);
    QVERIFY(known_then == (std::vector<int>{1, 11, 111}));
    // The same as the core plans.
    Project project;
    project.pattern = job.pattern;
    project.pre_crease.school = CreaseSchool::needed;
    const auto plan = creases_of(project, *job.drawn);
    const CreasePlan* known = planner.known(job.wish(CreaseSchool::needed));
    QVERIFY(plan && known && known->plan && known->why_not.empty());
    QCOMPARE(known->plan->programme.moves.size(), plan->programme.moves.size());
    QCOMPARE(known->plan->worst_sigma_mm, plan->worst_sigma_mm);
    // What is known is not planned again; another hand, sheet or way is another wish.
    planner.want(wishes, job.drawn);
    QVERIFY(!planner.busy());
    QCOMPARE(began.count(), 3);
    CreaseWish other = job.wish(CreaseSchool::needed);
    other.hand.sigma_mm = 0.4;
    QVERIFY(!planner.known(other));
    QVERIFY(!planner.known(job.wish(CreaseSchool::needed, true)));
    other = job.wish(CreaseSchool::needed);
    other.sheet = "another";
    QVERIFY(!planner.known(other));
  }

  void what_is_no_longer_wanted_is_given_up() {
    const Job large("square-twists", 96);
    const Job small("chevron");
    CreasePlanner planner;
    app::WorkersHeld held;
    planner.want({large.wish(CreaseSchool::everything), large.wish(CreaseSchool::needed)}, large.drawn);
    planner.want({small.wish(CreaseSchool::needed)}, small.drawn);
    held.release();
    QTRY_VERIFY_WITH_TIMEOUT(!planner.busy(), 20000);
    QVERIFY(planner.known(small.wish(CreaseSchool::needed)));
    QVERIFY(!planner.known(large.wish(CreaseSchool::everything)));
    QVERIFY(!planner.stopped());
    // Wanted, given up and wanted again before the first could end: it is planned after all.
    const auto scored = small.wish(CreaseSchool::scored);
    planner.want({scored}, small.drawn);
    planner.want({}, small.drawn);
    planner.want({scored}, small.drawn);
    QTRY_VERIFY_WITH_TIMEOUT(!planner.busy(), 20000);
    QVERIFY(planner.known(scored) && planner.known(scored)->plan);
  }

  void cancel_stops_all_that_is_wanted() {
    const Job large("square-twists", 96);
    CreasePlanner planner;
    std::shared_ptr<Progress> progress;
    connect(&planner, &CreasePlanner::began, this, [&](const std::shared_ptr<Progress>& p) { progress = p; });
    app::WorkersHeld held;
    planner.want({large.wish(CreaseSchool::everything), large.wish(CreaseSchool::needed)}, large.drawn);
    QVERIFY(progress);
    progress->cancel();
    held.release();
    QTRY_VERIFY_WITH_TIMEOUT(!planner.busy(), 20000);
    QVERIFY(planner.stopped());
    QVERIFY(!planner.known(large.wish(CreaseSchool::everything)) && !planner.known(large.wish(CreaseSchool::needed)));
    planner.want({large.wish(CreaseSchool::scored)}, large.drawn);
    QVERIFY(!planner.stopped());
    QTRY_VERIFY_WITH_TIMEOUT(planner.known(large.wish(CreaseSchool::scored)), 20000);
  }

  void why_there_is_no_plan_is_kept() {
    Job bare("map");
    bare.pattern.rules.clear();
    bare.drawn = std::make_shared<const DrawnPattern>(drawn_pattern(bare.pattern, bare.sheet.outline()));
    CreasePlanner planner;
    const auto wish = bare.wish(CreaseSchool::needed);
    planner.want({wish}, bare.drawn);
    QTRY_VERIFY_WITH_TIMEOUT(planner.known(wish), 20000);
    QVERIFY(!planner.known(wish)->plan);
    QVERIFY(QString::fromStdString(planner.known(wish)->why_not).contains("no creases yet"));
  }

  void only_the_latest_plans_are_kept() {
    const Job job("map");
    CreasePlanner planner;
    std::vector<CreaseWish> wishes;
    for (int i = 0; i < 14; ++i) {
      wishes.push_back(job.wish(CreaseSchool::scored));
      wishes.back().hand.sigma_mm = 0.2 + 0.01 * i;
    }
    planner.want(wishes, job.drawn);
    QTRY_VERIFY_WITH_TIMEOUT(!planner.busy(), 20000);
    QVERIFY(!planner.known(wishes.front()));
    QVERIFY(planner.known(wishes.back()) && planner.known(wishes[2]));
  }

  void the_strip_comes_up_late_and_cancels() {
    QWidget window;
    WaitingStrip strip("Counting sheets", "cancel-counting");
    strip.setParent(&window);
    window.show();
    const auto progress = strip.begin();
    QVERIFY(!strip.isVisible()); // work that is done at once shows nothing
    QTRY_VERIFY_WITH_TIMEOUT(strip.isVisible(), 5000);
    auto* bar = strip.findChild<QProgressBar*>();
    QCOMPARE(bar->maximum(), 0); // no figure yet
    progress->set(0.42);
    QTRY_COMPARE(bar->value(), 42);
    QCOMPARE(bar->maximum(), 100);
    QVERIFY(!strip.cancelled());
    QTest::mouseClick(strip.findChild<QPushButton*>("cancel-counting"), Qt::LeftButton);
    QVERIFY(strip.cancelled() && progress->cancelled());
    strip.end();
    QVERIFY(!strip.isVisible());
    // Work that others have begun is watched and cancelled just so.
    const auto others = std::make_shared<Progress>();
    strip.watch(others);
    QVERIFY(!strip.cancelled());
    strip.cancel();
    QVERIFY(others->cancelled());
    const auto last = strip.begin();
    { const WaitingStrip gone("Gone", "gone"); }
    QVERIFY(!last->cancelled());
  }

  void a_strip_that_goes_cancels_its_work() {
    std::shared_ptr<Progress> progress;
    {
      WaitingStrip strip("Going", "cancel-going");
      progress = strip.begin();
    }
    QVERIFY(progress->cancelled());
  }

  void ticks_are_round_and_long_enough() {
    for (const LengthUnit unit : {LengthUnit::mm, LengthUnit::cm, LengthUnit::inch}) {
      double last = 0;
      for (double least = 0.03; least < 5000; least *= 1.07) {
        const double step = tick_step(least, unit);
        QVERIFY2(step >= least * (1 - 1e-12) || least < 0.1 * mm_per(unit), qPrintable(QString::number(least)));
        QVERIFY(step < 2.5001 * std::max(least, mm_per(unit) / 10)); // never much longer than asked for
        QVERIFY(step >= last);
        last = step;
        if (unit == LengthUnit::inch) {
          QVERIFY(near(std::exp2(std::round(std::log2(step / 25.4))), step / 25.4, 1e-9 * step));
        } else {
          const double digits = std::pow(10, std::floor(std::log10(step / mm_per(unit)) + 1e-9));
          const double lead = step / mm_per(unit) / digits;
          QVERIFY2(near(lead, 1, 1e-9) || near(lead, 2, 1e-9) || near(lead, 5, 1e-9),
                   qPrintable(QString::number(step)));
        }
      }
    }
  }

  void the_scale_bar_is_as_long_as_it_says() {
    for (const double scale : {0.4, 1.07, 3.0, 12.5}) {
      QImage image(400, 60, QImage::Format_RGB32);
      image.fill(Qt::white);
      QPainter painter(&image);
      draw_scale_bar(painter, {380, 50}, scale, LengthUnit::mm);
      painter.end();
      int left = 400;
      int right = -1;
      for (int x = 0; x < image.width(); ++x) {
        if (qGray(image.pixel(x, 50)) > 160 && qGray(image.pixel(x, 49)) > 160) continue;
        left = std::min(left, x);
        right = std::max(right, x);
      }
      const double mm = tick_step(60 / scale, LengthUnit::mm);
      QVERIFY2(std::abs(right - left - mm * scale) <= 3,
               qPrintable(QString("%1 %2").arg(right - left).arg(mm * scale)));
      QVERIFY(std::abs(right - 380) <= 2);
    }
  }
};

UC_TEST(PlannerTest)
#include "planner_test.moc"
