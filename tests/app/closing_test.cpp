// Collapse and the gallery of families in the running window.
#include "runner.h"
#include "window.h"

#include "io/project_file.h"
#include "pattern/family.h"
#include "programme/figure.h"
#include "programme/presence.h"
#include "programme/text.h"
#include "stages/collapse/collapse_stage.h"
#include "stages/pattern/family_gallery.h"

#include <QCheckBox>
#include <QComboBox>
#include <QListWidget>
#include <QSlider>
#include <QSpinBox>
#include <QUndoStack>
#include <QtTest>

#include <cmath>

using namespace uc;
using namespace uc::app;
using uc::testing::Window;

class ClosingTest : public QObject {
  Q_OBJECT

  static app::CollapseStage* stage(Window& w) { return static_cast<app::CollapseStage*>(w.window->stage("collapse")); }
  static void draw(Window& w, const char* family, ParameterValues values = {}) {
    w.workspace->document.change("family", [&](Project& p) { p.pattern = family_design(family, std::move(values)); });
    QTRY_VERIFY(!w.workspace->document.drawing());
  }
  static void wait(Window& w) { QTRY_VERIFY_WITH_TIMEOUT(!stage(w)->busy(), 150000); }

private slots:
  void a_sheet_closes_and_says_what_it_costs() {
    Window w;
    w.go_to("collapse");
    QVERIFY(w.ledger().contains("closes here"));
    draw(w, "chevron", {{"count", 4}});
    wait(w);
    app::CollapseStage* s = stage(w);
    QVERIFY(s->frames().whole() && s->frames().error.empty());
    auto* scrubber = w.find<QSlider>("scrubber");
    scrubber->setValue(0);
    QVERIFY(w.ledger().contains("0 %"));
    scrubber->setFocus();
    QTest::keyClick(scrubber, Qt::Key_End);
    QCOMPARE(scrubber->value(), 100);
    QCOMPARE(s->fact(), QString("100 %"));
    const CollapseState& closed = s->frames().states.back();
    QVERIFY(closed.rms_error_deg < 1 && closed.max_strain < 0.01);
    QVERIFY(w.ledger().contains("peak strain") && w.ledger().contains("size in space"));
    QVERIFY2(s->bench()->trouble().isEmpty(), qPrintable(s->bench()->trouble()));
    // The picture shows paper on the bench, and another from behind.
    scrubber->setValue(40);
    const QImage front = s->bench()->still({300, 300});
    int paper = 0;
    for (int x = 0; x < 300; ++x)
      for (int y = 0; y < 300; ++y) paper += qAlpha(front.pixel(x, y)) > 200;
    QVERIFY2(paper > 5000 && paper < 80000, qPrintable(QString::number(paper)));
    QTest::keyClick(s->bench(), Qt::Key_Right);
    QVERIFY(s->bench()->still({300, 300}) != front);
  }

  void the_sheet_is_seen_while_it_closes() {
    Window w;
    w.go_to("collapse");
    app::CollapseStage* s = stage(w);
    QVERIFY(!s->closing_at());
    w.workspace->document.change("family", [](Project& p) {
      p.pattern = family_design("chevron", {{"count", 16}});
      p.closing.apart = false;
    });
    QTRY_VERIFY_WITH_TIMEOUT(s->closing_at().has_value(), 30000);
    const double first = *s->closing_at();
    const QImage early = s->bench()->still({200, 200});
    QVERIFY(s->busy() && !s->state()); // shown, but not to be saved yet
    QVERIFY(!s->save(QDir::tempPath() + "/too-early.obj").isEmpty());
    QTRY_VERIFY_WITH_TIMEOUT(!s->closing_at() || *s->closing_at() > first, 30000);
    wait(w);
    QVERIFY(!s->closing_at() && s->frames().whole());
    QVERIFY(s->bench()->still({200, 200}) != early);
    // What was on its way for another sheet is not shown for this one.
    w.workspace->document.change("family", [](Project& p) { p.pattern = family_design("chevron", {{"count", 20}}); });
    QTRY_VERIFY_WITH_TIMEOUT(s->closing_at().has_value() || s->state(), 30000);
    w.workspace->document.change("family", [](Project& p) { p.pattern = family_design("map", {{"count", 4}}); });
    QVERIFY(!s->closing_at());
    wait(w);
    QVERIFY(s->state() && s->frames().whole());
  }

  void another_order_is_a_change_of_the_project() {
    Window w;
    w.go_to("collapse");
    draw(w, "map", {{"count", 4}});
    w.workspace->document.change("layers", [](Project& p) { p.closing.apart = false; });
    wait(w);
    auto* order = w.find<QComboBox>("collapse-order");
    order->setCurrentIndex(2);
    emit order->activated(2);
    QVERIFY(w.project().closing.order == CollapseOrder::outside_in);
    wait(w);
    QVERIFY(stage(w)->frames().plan.order == CollapseOrder::outside_in);
    w.workspace->document.undo_stack().undo();
    QVERIFY(w.project().closing.order == CollapseOrder::family && order->currentIndex() == 0);
    wait(w);
    w.find<QPushButton>("compare-orders")->click();
    wait(w);
    const std::size_t offered = stage(w)->costs().size();
    QVERIFY2(offered > 3 && offered <= 11, qPrintable(QString::number(offered))); // a map has stages of its own
    auto* plot = w.find<WayPlot>("order-costs");
    QCOMPARE(plot->count(), static_cast<int>(offered));
    for (std::size_t i = 1; i < offered; ++i)
      QVERIFY(stage(w)->costs()[i - 1].peak_strain <= stage(w)->costs()[i].peak_strain);
    plot->choose(3);
    const ClosingPlan chosen = stage(w)->costs()[3].plan;
    QVERIFY(w.project().closing.order == chosen.order && w.project().closing.groups == chosen.groups);
  }

  /// Orders by which a sheet locks are not offered, and whoever takes one is told.
  void an_order_that_locks_is_told() {
    Window w;
    w.go_to("collapse");
    draw(w, "twist-tiling", {{"edges", 4}});
    w.workspace->document.change("order", [](Project& p) {
      p.closing.order = CollapseOrder::outside_in;
      p.closing.apart = false;
    });
    wait(w);
    QVERIFY(stage(w)->frames().states.back().rms_error_deg > 60);
    QVERIFY2(w.ledger().contains("does not close"), qPrintable(w.ledger()));
    w.find<QPushButton>("compare-orders")->click();
    wait(w);
    QVERIFY(!stage(w)->costs().empty() && stage(w)->costs().size() < 10);
    for (const OrderCost& cost : stage(w)->costs()) QVERIFY(cost.rms_error_deg < 10);
    QVERIFY(w.ledger().contains(QString("not offered: %1").arg(11 - stage(w)->costs().size())) ||
            w.ledger().contains(QString("not offered: %1").arg(10 - stage(w)->costs().size())));
  }

  /// A family's pattern that was written and is read again closes to its own angles.
  void a_pattern_file_brings_its_closing() {
    Window w;
    draw(w, "tray");
    const auto drawn = w.workspace->document.pattern();
    QTemporaryDir dir;
    const QString file = dir.filePath("tray.json");
    w.go_to("pattern");
    QVERIFY(w.pattern()->write_file_named(file).isEmpty());
    QVERIFY(w.pattern()->read_file_named(file).isEmpty());
    QVERIFY(!w.project().pattern.family && w.project().pattern.base_full_deg.size() == drawn->full_deg.size());
    QTRY_VERIFY(!w.workspace->document.drawing());
    QVERIFY(!w.workspace->document.pattern()->lies_flat);
    w.go_to("collapse");
    wait(w);
    QVERIFY(stage(w)->frames().states.back().rms_error_deg < 0.1);
    w.workspace->document.undo_stack().undo();
    QVERIFY(w.project().pattern.family && w.project().pattern.base_full_deg.empty());
  }

  void stages_are_folded_as_moves() {
    Window w;
    w.go_to("collapse");
    draw(w, "map", {{"count", 2}});
    wait(w);
    w.workspace->document.change("order", [](Project& p) {
      p.closing.order = CollapseOrder::outside_in;
      p.closing.groups = 2;
      p.stock.memory = CreaseMemory::weak;
      p.stock.damp_shaping = true;
    });
    wait(w);
    QVERIFY2(w.ledger().contains("keeps its shape"), qPrintable(w.ledger()));
    const std::size_t grid = w.project().programme.moves.size();
    auto* school = w.find<QComboBox>("collapse-school");
    school->setCurrentIndex(static_cast<int>(CreaseSchool::scored));
    emit school->activated(school->currentIndex());
    QVERIFY(w.find<QPushButton>("collapse-fold")->text().endsWith("this"));
    w.press("collapse-fold");
    QCOMPARE(w.stage(), QString("fold"));
    QTRY_VERIFY(!w.workspace->document.planning());
    QVERIFY(w.project().folded == FoldedWork::closed && w.project().pre_crease.school == CreaseSchool::scored);
    const Programme& p = w.project().programme;
    QVERIFY(p.space && p.count<Collapse>() >= 1);
    const auto stages = static_cast<std::size_t>(p.count<Collapse>());
    std::size_t before = 0; // the pattern's own creases
    while (!p.moves[before].is<Collapse>()) ++before;
    QVERIFY(p.moves[before - 1].is(CreaseWay::score) || p.moves[before - 1].is(CreaseWay::both_ways));
    QVERIFY(absences(p).empty());
    QCOMPARE(p.moves.size(), before + stages + 3); // damp, clip, wait
    QCOMPARE(p.space->states.size(), stages + 1);
    // The file keeps them, drawings and words with them.
    const QString path = w.dir.filePath("closing.undercrease");
    QCOMPARE(w.workspace->document.save(path), QString());
    const auto read = load_project(path.toStdString());
    QVERIFY(read && read->programme.space);
    const int last = static_cast<int>(before + stages) - 1;
    QCOMPARE(move_text(read->programme, static_cast<std::size_t>(last)), move_text(p, static_cast<std::size_t>(last)));
    const Figure figure = move_figure(read->programme, last);
    QVERIFY(!figure.to_scale);
    QCOMPARE(figure.patches.size(), p.space->faces.size());
    w.fold()->move_chosen(last);
    QVERIFY2(w.fold()->sentence().contains("until it looks like this"), qPrintable(w.fold()->sentence()));
    w.workspace->document.undo_stack().undo();
    w.workspace->document.undo_stack().undo();
    QTRY_VERIFY(!w.workspace->document.planning());
    QCOMPARE(w.project().programme.moves.size(), grid);
  }

  void what_is_on_the_screen_is_folded() {
    Window w;
    w.go_to("collapse");
    draw(w, "concentric-pleats", {{"rings", 2}});
    wait(w);
    w.find<QSlider>("scrubber")->setValue(40);
    auto* fold = w.find<QPushButton>("collapse-fold");
    QVERIFY2(fold->text().contains("40 % closed"), qPrintable(fold->text()));
    w.press("collapse-fold");
    QTRY_VERIFY_WITH_TIMEOUT(!w.workspace->document.planning(), 60000);
    const auto last_percent = [&] {
      double out = 0;
      for (const Move& m : w.project().programme.moves)
        if (const auto* c = std::get_if<uc::Collapse>(&m.effect)) out = std::max(out, c->to_percent);
      return out;
    };
    QCOMPARE(last_percent(), 40.0);
    w.go_to("collapse");
    QVERIFY(fold->text().contains("out of the"));
    w.find<QSlider>("scrubber")->setValue(70); // another state than the one that is folded
    QVERIFY2(fold->text().contains("70 % closed"), qPrintable(fold->text()));
    w.press("collapse-fold");
    QTRY_VERIFY_WITH_TIMEOUT(!w.workspace->document.planning(), 60000);
    QCOMPARE(last_percent(), 70.0);
    // Left out of the moves, the creases are still folded.
    w.go_to("collapse");
    w.press("collapse-fold");
    QTRY_VERIFY_WITH_TIMEOUT(!w.workspace->document.planning(), 60000);
    QVERIFY(w.project().folded == FoldedWork::creases && last_percent() == 0 && !w.project().programme.empty());
  }

  void what_is_shown_is_saved() {
    Window w;
    w.go_to("collapse");
    draw(w, "concentric-pleats", {{"rings", 4}});
    wait(w);
    for (const char* name : {"saddle.glb", "saddle.obj", "saddle.stl", "saddle.png"}) {
      QCOMPARE(stage(w)->save(w.dir.filePath(name)), QString());
      QVERIFY(QFileInfo(w.dir.filePath(name)).size() > 500);
    }
    QVERIFY(stage(w)->save(w.dir.filePath("saddle.ply")).contains(".glb"));
    QVERIFY(stage(w)->save(w.dir.filePath("none/saddle.obj")).size() > 10);
    const QImage picture(w.dir.filePath("saddle.png"));
    QVERIFY(picture.size() == QSize(2400, 2400) && qAlpha(picture.pixel(5, 5)) == 0);
    for (const auto shown :
         {app::CollapseStage::Shown::strain, app::CollapseStage::Shown::lamp, app::CollapseStage::Shown::paper}) {
      stage(w)->set_shown(shown);
      QVERIFY(!stage(w)->bench()->snapshot().isNull());
    }
  }

  void a_saddle_is_pushed_through() {
    Window w;
    w.go_to("collapse");
    w.workspace->document.change("layers", [](Project& p) { p.closing.apart = false; });
    draw(w, "concentric-pleats", {{"rings", 4}});
    wait(w);
    const auto before = stage(w)->frames().states[30].vertices;
    auto* other = w.find<QCheckBox>("collapse-other-way");
    other->click();
    QVERIFY(w.project().closing.other_way);
    wait(w);
    const auto after = stage(w)->frames().states[30].vertices;
    double apart = 0;
    for (std::size_t v = 0; v < before.size(); ++v) apart = std::max(apart, (before[v] - after[v]).norm());
    QVERIFY2(apart > 5, qPrintable(QString::number(apart)));
    w.workspace->document.undo_stack().undo();
    QVERIFY(!other->isChecked());
    wait(w);
    stage(w)->set_shown(app::CollapseStage::Shown::lamp);
    QVERIFY(w.find<QPushButton>("lamp-sweep")->isVisible());
    QCOMPARE(stage(w)->save_sweep(w.dir.filePath("sweep.png")), QString());
    const QImage sweep(w.dir.filePath("sweep.png"));
    QCOMPARE(sweep.size(), QSize(2400, 1800));
    // The lamp stands elsewhere in each: no two pictures are alike.
    QVERIFY(sweep.copy(0, 60, 600, 540) != sweep.copy(600, 60, 600, 540));
    QVERIFY(!stage(w)->save_sweep(w.dir.filePath("none/sweep.png")).isEmpty());
  }

  void a_corner_is_pushed_over() {
    Window w;
    w.go_to("collapse");
    w.workspace->document.change("layers", [](Project& p) { p.closing.apart = false; });
    draw(w, "concentric-pleats", {{"rings", 8}});
    wait(w);
    auto* corner = w.find<QComboBox>("push-corner");
    QCOMPARE(corner->count(), 4);
    corner->setCurrentIndex(2);
    const auto before = stage(w)->state()->vertices;
    auto* push = w.find<QPushButton>("push");
    push->click();
    wait(w);
    QVERIFY(stage(w)->pushed_over() && stage(w)->pushed_over()->gone_over);
    QVERIFY2(w.ledger().contains("rests in another shape"), qPrintable(w.ledger()));
    QVERIFY(stage(w)->state()->vertices != before);
    // And back, from where it is.
    push->click();
    wait(w);
    double apart = 0;
    const auto& now = stage(w)->state()->vertices;
    for (std::size_t i = 0; i < now.size(); ++i)
      apart = std::max(apart, std::abs((now[i] - now[0]).norm() - (before[i] - before[0]).norm()));
    QVERIFY2(apart < 3, qPrintable(QString::number(apart)));
    // Whoever moves on while it is pushed gives it up, and nothing is waited for any more.
    push->click();
    QTRY_VERIFY(w.find<QPushButton>("cancel-collapse")->isVisible() || !stage(w)->busy());
    stage(w)->set_percent(40);
    QVERIFY(!w.find<QPushButton>("cancel-collapse")->isVisible());
    wait(w);
    QVERIFY(!stage(w)->pushed_over() && !w.find<QPushButton>("cancel-collapse")->isVisible());
    // Another part of the way has not been pushed; nor has the flat sheet anything to push.
    stage(w)->set_percent(20);
    QVERIFY(!stage(w)->pushed_over());
    stage(w)->set_percent(0);
    push->click();
    wait(w);
    QVERIFY(!stage(w)->pushed_over());
  }

  /// The picture of a spot lamp: bright in the middle of its cone, dark beyond; the painter shows the same.
  void a_spot_lights_what_is_in_its_cone() {
    Window w;
    w.go_to("collapse");
    draw(w, "chevron", {{"count", 4}});
    wait(w);
    stage(w)->set_percent(4); // nearly flat
    stage(w)->set_shown(app::CollapseStage::Shown::lamp);
    w.find<QSlider>("lamp-height")->setValue(90);
    auto* spread = w.find<QSlider>("lamp-spread");
    QVERIFY(spread->isVisible());
    const auto light = [&](double part) { // of the paper, at a part of the way from the middle to the right
      const QImage seen = stage(w)->bench()->still({400, 400});
      double sum = 0;
      for (int dy = -6; dy <= 6; ++dy) sum += qGray(seen.pixel(200 + static_cast<int>(part * 200), 200 + dy));
      return sum / 13;
    };
    const double far_middle = light(0);
    const double far_side = light(0.5);
    QVERIFY2(std::abs(far_middle - far_side) < 0.1 * far_middle, "light from far away is even");
    spread->setValue(15);
    QVERIFY2(light(0) > 0.8 * far_middle, qPrintable(QString::number(light(0))));
    QVERIFY2(light(0.5) < 0.6 * far_side, qPrintable(QString::number(light(0.5))));
    QCOMPARE(stage(w)->bench()->lamp().spread_deg, 15.0);
  }

  void what_cannot_close_says_why() {
    Window w;
    w.go_to("collapse");
    w.workspace->document.change("hole", [](Project& p) {
      p.pattern = {};
      p.pattern.rules = {"line 0,4 along 1,0 cut"};
    });
    QTRY_VERIFY(!w.workspace->document.drawing());
    wait(w);
    QVERIFY2(w.ledger().contains("cut"), qPrintable(w.ledger()));
    QVERIFY(stage(w)->save(w.dir.filePath("x.obj")).contains("nothing to save"));
    draw(w, "map");
    wait(w);
    QVERIFY(stage(w)->frames().whole());
  }

  void the_gallery_draws_every_family() {
    Window w;
    w.go_to("pattern");
    auto* waiting = new QTimer(w.window.get());
    connect(waiting, &QTimer::timeout, waiting, [waiting] {
      auto* gallery = qobject_cast<FamilyGallery*>(QApplication::activeModalWidget());
      if (!gallery || !gallery->complete()) return;
      waiting->stop();
      auto* list = gallery->findChild<QListWidget*>("families");
      QCOMPARE(list->count(), static_cast<int>(pattern_families().size()));
      for (int i = 0; i < list->count(); ++i) {
        const QImage image = list->item(i)->icon().pixmap(236, 116).toImage();
        int drawn = 0;
        int beside = 0; // what it folds or closes to
        for (int x = 0; x < image.width(); ++x)
          for (int y = 0; y < image.height(); ++y) {
            const bool paper = qAlpha(image.pixel(x, y)) > 100;
            drawn += paper;
            beside += paper && x > image.width() / 2;
          }
        QVERIFY2(drawn > 500, qPrintable(list->item(i)->text()));
        QVERIFY2(beside > 150, qPrintable(list->item(i)->text()));
        if (list->item(i)->data(Qt::UserRole).toString() == "wrap") list->setCurrentRow(i);
      }
      gallery->accept();
    });
    waiting->start(50);
    w.find<QPushButton>("browse-families")->click();
    QVERIFY(w.project().pattern.family && w.project().pattern.family->name == "wrap");
    QTRY_VERIFY(!w.workspace->document.drawing());
    QVERIFY2(w.ledger().contains("packed") && w.ledger().contains("turns while it opens"), qPrintable(w.ledger()));
    w.find<QPushButton>("into-rules")->click();
    QVERIFY(!w.project().pattern.family && w.project().pattern.base);
  }

  void stages_move_on_the_time_line_and_clips_hold() {
    Window w;
    w.go_to("collapse");
    draw(w, "chevron", {{"count", 4}});
    w.workspace->document.change("", [](Project& p) {
      p.closing.order = CollapseOrder::one_side_first;
      p.closing.groups = 3;
      p.closing.apart = false; // it is the time line that is looked at
    });
    wait(w);
    StageTimeline* line = stage(w)->timeline();
    QVERIFY(line->isVisible());
    QCOMPARE(line->rows(), 3);
    // By keyboard: the second stage begins later; undo takes it back.
    line->setFocus();
    QTest::keyClick(line, Qt::Key_Down);
    QTest::keyClick(line, Qt::Key_Right);
    QCOMPARE(w.project().closing.spans.size(), std::size_t{3});
    const double moved = w.project().closing.spans[1].from;
    QVERIFY(std::abs(moved - (0.25 + 0.02)) < 0.011);
    w.key(Qt::Key_Z, Qt::ControlModifier);
    QVERIFY(w.project().closing.spans.empty());
    // By mouse: the end of the first bar.
    wait(w);
    const QRectF bar = line->bar(0);
    QTest::mousePress(line, Qt::LeftButton, {}, QPointF(bar.right(), bar.center().y()).toPoint());
    const QPointF to(bar.right() + 0.1 * bar.width(), bar.center().y());
    QMouseEvent drag(QEvent::MouseMove, to, line->mapToGlobal(to), Qt::NoButton, Qt::LeftButton, Qt::NoModifier);
    QApplication::sendEvent(line, &drag);
    QTest::mouseRelease(line, Qt::LeftButton, {}, to.toPoint());
    QVERIFY(w.project().closing.spans[0].to > 0.5);
    wait(w);
    // A clip that holds nothing is refused, one that does is listed, on the time line and in the file.
    w.type("clip", "4000,120,10:30-80");
    QVERIFY(w.project().closing.clips.empty());
    w.type("clip", "120,120,60:30-80");
    QCOMPARE(w.project().closing.clips.size(), std::size_t{1});
    wait(w);
    QCOMPARE(line->rows(), 4);
    const auto again = project_from_text(project_text(w.project()), "test");
    QVERIFY(again && again->closing == w.project().closing);
    w.find<QListWidget>("clips")->setCurrentRow(0);
    w.press("remove-clip");
    QVERIFY(w.project().closing.clips.empty());
    // Another order has other stages.
    emit w.find<QComboBox>("collapse-order")->activated(1);
    QVERIFY(w.project().closing.spans.empty());
  }

  void what_is_let_go_opens_and_comes_back() {
    Window w;
    w.go_to("collapse");
    draw(w, "map");
    wait(w);
    stage(w)->set_percent(50);
    const double closed = std::abs(stage(w)->state()->angle_deg[stage(w)->state()->angle_deg.size() / 2]);
    auto* box = w.find<QCheckBox>("let-go");
    box->setChecked(true);
    wait(w);
    QVERIFY(w.ledger().contains("Let go of"));
    double before = 0;
    double after = 0;
    const auto& way = stage(w)->frames().states[25];
    for (std::size_t e = 0; e < way.angle_deg.size(); ++e) {
      before += std::abs(way.angle_deg[e]);
      after += std::abs(stage(w)->state()->angle_deg[e]);
    }
    QVERIFY2(after < before && after > 0.3 * before,
             qPrintable(QString("%1 of %2, %3").arg(after).arg(before).arg(closed)));
    stage(w)->set_percent(60); // hands hold it again
    QVERIFY(!box->isChecked() && !w.ledger().contains("Let go of"));
    w.find<QCheckBox>("collapse-apart")->click();
    QVERIFY(!w.project().closing.apart);
    wait(w);
    QVERIFY(w.ledger().contains("not kept apart"));
    // Facets divided: four times as many.
    const std::size_t triangles = stage(w)->frames().mesh->triangles.size();
    w.find<QSpinBox>("collapse-finer")->setValue(1);
    wait(w);
    QCOMPARE(stage(w)->frames().mesh->triangles.size(), 4 * triangles);
  }
};

UC_TEST(ClosingTest)
#include "closing_test.moc"
