// Pattern and Prove in the real window: rules typed, changed, undone and redrawn; files read with a mapping; proofs,
// repairs, directions, and the face under the pointer lit in both drawings.
#include "window.h"

#include "shell/notice_list.h"

#include "pattern/family.h"
#include "pattern/sizing.h"

#include "base/atomic_file.h"
#include "io/pattern_json.h"
#include "output/printing.h"
#include "patterns.h"
#include "runner.h"
#include "stages/pattern/kind_dialog.h"
#include "stages/pattern/value_trials.h"
#include "support.h"

#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QListWidget>
#include <QSlider>
#include <QTableWidget>
#include <QtTest>

using namespace uc;
using namespace uc::app;
using uc::testing::Window;

namespace {

void choose(QComboBox* box, int index) {
  box->setCurrentIndex(index);
  emit box->activated(index);
}

int creases(const Window& w, EdgeKind kind) {
  int n = 0;
  for (const auto& e : w.workspace->document.pattern()->healed.pattern.edges) n += e.kind == kind;
  return n;
}

void prove(const Window& w) {
  w.go_to("prove");
  QTRY_VERIFY_WITH_TIMEOUT(!w.prove()->busy() && w.prove()->findings().proof != nullptr, 20000);
}

} // namespace

/// Its place in the list of what draws; the first are rules of one's own.
static int family_row(std::string_view name) {
  return static_cast<int>(find_pattern_family(name) - pattern_families().data()) + 1;
}

class PatternStagesTest : public QObject {
  Q_OBJECT

private slots:
  void rules_are_typed_changed_and_undone() {
    Window w;
    w.go_to("pattern");
    QVERIFY(w.ledger().contains("Nothing is drawn yet"));
    w.type("rule", "line 0,4 along 1,0 mountain");
    w.type("rule", "copy 0,4 times 2 alternating");
    QCOMPARE(creases(w, EdgeKind::mountain), 2);
    QCOMPARE(creases(w, EdgeKind::valley), 1);
    QVERIFY(w.find<QLineEdit>("rule")->text().isEmpty());
    w.type("rule", "copy 0,4");
    QCOMPARE(w.project().pattern.rules.size(), std::size_t{2});
    auto* rules = w.find<QListWidget>("rules");
    rules->setCurrentRow(0);
    w.find<QLineEdit>("rule")->setText("line 0,4 along 1,0 valley");
    w.press("change-rule");
    QCOMPARE(creases(w, EdgeKind::valley), 2);
    w.find<QSpinBox>("pattern-count")->setValue(32);
    QCOMPARE(w.project().pattern.count, 32);
    // The grid became finer: everything moved with it.
    double lowest = 1e9;
    for (std::size_t e = 0; e < w.workspace->document.pattern()->healed.pattern.edges.size(); ++e) {
      const auto& p = w.workspace->document.pattern()->healed.pattern;
      if (p.edges[e].kind == EdgeKind::valley) lowest = std::min(lowest, p.segment(CreaseId(e)).from.y());
    }
    QVERIFY(testing::near(lowest, 30, 1e-9));
    w.key(Qt::Key_Z, Qt::ControlModifier);
    QCOMPARE(w.project().pattern.count, 16);
    w.key(Qt::Key_Z, Qt::ControlModifier);
    QCOMPARE(creases(w, EdgeKind::valley), 1);
    rules = w.find<QListWidget>("rules");
    rules->setCurrentRow(1);
    w.press("rule-up");
    QVERIFY(w.ledger().contains("Rule 1:")); // nothing to copy yet
    w.press("remove-rule");
    QCOMPARE(w.project().pattern.rules.size(), std::size_t{1});
  }

  void creases_are_drawn_by_clicking() {
    Window w;
    w.go_to("pattern");
    auto* click = w.find<QComboBox>("click");
    choose(click, 1);
    PaperView* paper = w.pattern()->paper();
    const auto at = [&](double x, double y) { return paper->place({x, y}).toPoint(); };
    QTest::mouseClick(paper, Qt::LeftButton, Qt::NoModifier, at(61, 58));
    QTest::mouseClick(paper, Qt::LeftButton, Qt::NoModifier, at(181, 122));
    QCOMPARE(w.project().pattern.rules, std::vector<std::string>{"crease 4,4 12,8 mountain"});
    choose(click, 4);
    QTest::mouseClick(paper, Qt::LeftButton, Qt::NoModifier, at(120, 92));
    QCOMPARE(creases(w, EdgeKind::valley), 1);
    choose(click, 5);
    QTest::mouseClick(paper, Qt::LeftButton, Qt::NoModifier, at(120, 92));
    QCOMPARE(creases(w, EdgeKind::valley) + creases(w, EdgeKind::mountain), 0);
    QCOMPARE(w.project().pattern.rules.size(), std::size_t{3});
  }

  void families_fold_flat_data() {
    QTest::addColumn<int>("family");
    for (const PatternFamily& f : pattern_families())
      if (f.flat_foldable) QTest::addRow("%s", f.name.c_str()) << family_row(f.name);
  }
  void families_fold_flat() {
    QFETCH(int, family);
    Window w;
    w.go_to("pattern");
    choose(w.find<QComboBox>("family"), family);
    QVERIFY(w.workspace->document.pattern()->wrong.empty());
    QCOMPARE(creases(w, EdgeKind::undirected), 0);
    prove(w);
    QVERIFY(w.find<QLabel>("verdict")->text().contains("It folds flat"));
    QCOMPARE(w.prove()->fact(), QString("folds flat"));
  }

  void values_are_slid_dragged_and_worked_back() {
    Window w;
    w.go_to("pattern");
    choose(w.find<QComboBox>("family"), family_row("wrap"));
    const auto value = [&](const char* name) { return w.project().pattern.family->values.at(name); };
    const double before = value("hub");
    auto* slide = w.find<QSlider>("slide-hub");
    slide->setValue(slide->value() + 20);
    QVERIFY(value("hub") > before);
    QCOMPARE(w.find<QLineEdit>("parameter-hub")->text().toDouble(), value("hub"));
    // The handle follows the pointer, and the value the handle.
    PaperView* paper = w.pattern()->paper();
    QTRY_VERIFY(!paper->handles().empty());
    const double slid = value("hub");
    const QPointF from = paper->handle_place(0);
    const Point along = paper->handles().front().along;
    const QPointF to = from + QPointF(along.x(), -along.y()) / std::hypot(along.x(), along.y()) * 15;
    QTest::mousePress(paper, Qt::LeftButton, {}, from.toPoint());
    QMouseEvent drag(QEvent::MouseMove, to, paper->mapToGlobal(to), Qt::NoButton, Qt::LeftButton, Qt::NoModifier);
    QApplication::sendEvent(paper, &drag);
    QTest::mouseRelease(paper, Qt::LeftButton, {}, to.toPoint());
    QVERIFY2(value("hub") > slid, qPrintable(QString("%1 after %2").arg(value("hub")).arg(slid)));
    // The wanted size gives the sheet; one step of undo takes it back.
    const std::string sheet = w.project().sheet.code();
    w.type("wanted-size", "80mm");
    QTRY_VERIFY(w.project().sheet.code() != sheet);
    QVERIFY(std::abs(w.workspace->document.pattern()->figures.packed_mm->at(0) - 80) < 1e-4);
    QVERIFY(w.ledger().contains("sheet on the shelf"));
    w.key(Qt::Key_Z, Qt::ControlModifier);
    QCOMPARE(w.project().sheet.code(), sheet);
    w.type("wanted-size", "-3mm");
    QCOMPARE(w.project().sheet.code(), sheet);
    // What only the collapse knows is worked out meanwhile, told as a size and worked back from.
    choose(w.find<QComboBox>("family"), family_row("concentric-pleats"));
    QTRY_VERIFY_WITH_TIMEOUT(w.find<QLineEdit>("wanted-size")->placeholderText().startsWith("now"), 20000);
    QVERIFY(w.ledger().contains("finished"));
    w.type("wanted-size", "90mm");
    QTRY_VERIFY_WITH_TIMEOUT(w.project().sheet.code() != sheet, 20000);
    QVERIFY(w.project().sheet.width() < 240);
    w.key(Qt::Key_Z, Qt::ControlModifier);
    // A box by its inside.
    choose(w.find<QComboBox>("family"), family_row("tray"));
    w.type("wanted-inside", "91 x 72 x 31");
    QTRY_VERIFY(std::abs(w.workspace->document.pattern()->figures.inside_mm->at(1) - 72) < 1e-6);
    // What brings its own sheet leaves the project's alone.
    QCOMPARE(w.project().sheet.code(), sheet);
    w.type("wanted-size", "150mm");
    QTRY_VERIFY(std::abs(finished_box(*w.workspace->document.pattern())->x() - 150) < 1e-6);
    QCOMPARE(w.project().sheet.code(), sheet);
    w.key(Qt::Key_Z, Qt::ControlModifier);
    w.type("wanted-inside", "91 x 72");
    QVERIFY(std::abs(w.workspace->document.pattern()->figures.inside_mm->at(1) - 72) < 1e-6);
  }

  void what_a_value_changes_is_tried_compared_and_taken() {
    Window w;
    w.go_to("pattern");
    choose(w.find<QComboBox>("pattern-shown"), 1);
    ValueTrials* trials = w.pattern()->trials();
    QVERIFY(w.find<QLabel>("trial-wrong")->text().contains("Choose one on the left"));
    choose(w.find<QComboBox>("family"), family_row("chevron"));
    QTRY_VERIFY_WITH_TIMEOUT(!trials->busy() && trials->plot()->sweep().now >= 0, 20000);
    SweepPlot* plot = trials->plot();
    QCOMPARE(plot->sweep().values[static_cast<std::size_t>(plot->sweep().now)], 12.0);
    QVERIFY(plot->sweep().bands.size() >= 3);
    // Picked by the keyboard, said to those who cannot see it, drawn beside what there is, and taken with Enter.
    QTest::keyClick(plot, Qt::Key_Right);
    QTest::keyClick(plot, Qt::Key_Right);
    QCOMPARE(plot->picked(), plot->sweep().now + 2);
    const double picked = plot->sweep().values[static_cast<std::size_t>(plot->picked())];
    QVERIFY(plot->accessibleDescription().contains(QString::number(picked)));
    QTRY_VERIFY(!trials->busy());
    auto* beside = static_cast<PaperView*>(trials->views()[1]);
    QVERIFY(beside->figure().lines.size() > w.pattern()->paper()->figure().lines.size() / 2);
    trials->keep();
    QTest::keyClick(plot, Qt::Key_Left);
    QTest::keyClick(plot, Qt::Key_Right);
    QTest::keyClick(plot, Qt::Key_Return);
    QCOMPARE(w.project().pattern.family->values.at("count"), picked);
    // What was kept comes back as it was.
    choose(w.find<QComboBox>("trial-against"), 1);
    w.press("take-value");
    QCOMPARE(w.project().pattern.family->values.at("count"), 12.0);
    w.key(Qt::Key_Z, Qt::ControlModifier);
    QCOMPARE(w.project().pattern.family->values.at("count"), picked);
  }

  void parameters_stay_live() {
    Window w;
    w.go_to("pattern");
    choose(w.find<QComboBox>("family"), family_row("chevron"));
    auto* count = w.find<QSpinBox>("parameter-count");
    QCOMPARE(count->value(), 12);
    QVERIFY(!w.find<QListWidget>("rules")->isVisible() && w.find<QPushButton>("into-rules")->isVisible());
    // The same pattern as the command line's, and none broken after a change.
    count->setValue(24);
    QCOMPARE(w.project().pattern, family_design("chevron", {{"count", 24}}));
    prove(w);
    QVERIFY(w.prove()->findings().proof->violations.empty());
    const auto again = project_from_text(project_text(w.project()), "test");
    QVERIFY(again && again->pattern == w.project().pattern);
    w.go_to("pattern");
    w.key(Qt::Key_Z, Qt::ControlModifier);
    QCOMPARE(w.project().pattern, family_design("chevron", {{"count", 12}}));
    QCOMPARE(count->value(), 12);
    // On paper nothing is drawn by hand until the family has become rules, which changes no crease.
    const int mountains = creases(w, EdgeKind::mountain);
    choose(w.find<QComboBox>("click"), 4);
    auto* paper = w.pattern()->paper();
    QTest::mouseClick(paper, Qt::LeftButton, Qt::NoModifier, paper->place({120, 92}).toPoint());
    QVERIFY(w.project().pattern.family.has_value());
    w.press("into-rules");
    QVERIFY(!w.project().pattern.family && w.project().pattern.rules.size() == 5);
    QCOMPARE(creases(w, EdgeKind::mountain), mountains);
    QVERIFY(w.find<QListWidget>("rules")->isVisible() && !w.find<QSpinBox>("parameter-count")->isVisible());
    w.key(Qt::Key_Z, Qt::ControlModifier);
    QVERIFY(w.project().pattern.family.has_value());
  }

  void creases_without_directions_get_them() {
    Window w;
    w.go_to("pattern");
    w.find<QSpinBox>("pattern-count")->setValue(4);
    for (const char* rule : {"line 0,1 along 1,0", "copy 0,1 times 2", "line 1,0 along 0,1", "copy 1,0 times 2 of 3"})
      w.type("rule", rule);
    prove(w);
    // "It folds flat" is said of a pattern whose creases all have directions, and of no other.
    QVERIFY(w.find<QLabel>("verdict")->text().contains("It can fold flat"));
    QCOMPARE(w.prove()->fact(), QString("can fold flat"));
    QVERIFY(w.prove()->folded()->has_form());
    const int open = creases(w, EdgeKind::undirected);
    w.prove()->find_directions();
    QTRY_VERIFY_WITH_TIMEOUT(!w.prove()->busy(), 20000);
    QTRY_COMPARE_WITH_TIMEOUT(creases(w, EdgeKind::undirected), 0, 20000);
    QTRY_VERIFY_WITH_TIMEOUT(!w.prove()->busy() && w.prove()->fact() == "folds flat", 20000);
    // Directions are one undo step and come back from the file.
    const auto again = project_from_text(project_text(w.project()), "test");
    QVERIFY(again);
    QVERIFY(again->pattern == w.project().pattern);
    w.key(Qt::Key_Z, Qt::ControlModifier);
    QCOMPARE(creases(w, EdgeKind::undirected), open);
  }

  void a_broken_vertex_is_named_and_mended() {
    Window w;
    w.go_to("pattern");
    w.type("rule", "line 0,8 along 1,0 valley");
    w.type("rule", "line 8,0 along 0,1 valley");
    prove(w);
    QCOMPARE(w.prove()->fact(), QString("1 broken"));
    auto* violations = w.find<QListWidget>("violations");
    QCOMPARE(violations->count(), 1);
    QVERIFY(violations->item(0)->text().contains("Maekawa"));
    QVERIFY(!w.prove()->folded()->has_form());
    auto* repairs = w.find<QListWidget>("repairs");
    QVERIFY(repairs->count() >= 4);
    QVERIFY(repairs->item(0)->text().contains("Then nothing is broken"));
    w.press("mend");
    QTRY_VERIFY_WITH_TIMEOUT(!w.prove()->busy() && w.prove()->fact() == "folds flat", 20000);
    QCOMPARE(w.project().pattern.rules.size(), std::size_t{3});
    w.press("count");
    QTRY_VERIFY_WITH_TIMEOUT(!w.prove()->busy() && w.ledger().contains("ways to fold it"), 20000);
  }

  void clashing_layers_are_shown() {
    Window w;
    QTemporaryDir dir;
    const QString file = dir.filePath("six.json");
    QVERIFY(write_atomically(file.toStdString(),
                             pattern_json(testing::vertex_pattern({90, 80, 50, 45, 40, 55}, "VMMMVM"))));
    w.go_to("pattern");
    QVERIFY(w.pattern()->read_file_named(file).isEmpty());
    prove(w);
    QCOMPARE(w.prove()->fact(), QString("layers clash"));
    QVERIFY(w.ledger().contains("clash"));
    w.press("directions");
    QTRY_VERIFY_WITH_TIMEOUT(!w.prove()->busy() && w.ledger().contains("do not go together"), 20000);
  }

  void the_same_face_lights_up_in_both() {
    Window w;
    w.go_to("pattern");
    choose(w.find<QComboBox>("family"), family_row("chevron"));
    prove(w);
    FoldedPaper* folded = w.prove()->folded();
    for (const auto look : {FoldedPaper::Look::opaque, FoldedPaper::Look::see_through, FoldedPaper::Look::spread}) {
      w.prove()->set_look(look);
      QVERIFY(!folded->grab().isNull());
    }
    w.prove()->set_look(FoldedPaper::Look::opaque);
    PaperView* paper = w.prove()->paper();
    const QPoint where = paper->place({30, 41}).toPoint();
    testing::hover(paper, where);
    QVERIFY(folded->lit() >= 0);
    const QPointF centre = folded->place(w.prove()->findings().proof->form->box.centre());
    const int top = folded->face_at(centre);
    QVERIFY(top >= 0);
    QVERIFY(folded->layers_at(centre) > 1);
    // By keys: the layers one by one, from the topmost.
    folded->setFocus();
    testing::hover(folded, QPoint(1, 1));
    QTest::keyClick(folded, Qt::Key_Down);
    const int first = folded->lit();
    QVERIFY(first >= 0);
    QTest::keyClick(folded, Qt::Key_Down);
    QVERIFY(folded->lit() >= 0 && folded->lit() != first);
    QTest::keyClick(folded, Qt::Key_Up);
    QCOMPARE(folded->lit(), first);
    const auto corner = [&] { return folded->place(w.prove()->findings().proof->form->box.low); };
    const QPointF before = corner();
    QTest::keyClick(folded, Qt::Key_Plus);
    QVERIFY(corner().x() < before.x() && corner().y() > before.y());
    QTest::keyClick(folded, Qt::Key_Home);
    QCOMPARE(corner(), before);
    QTemporaryDir dir;
    for (const char* name : {"folded.svg", "folded.pdf", "folded.json"}) {
      QCOMPARE(w.prove()->save_folded(dir.filePath(name)), QString());
      QVERIFY(QFile(dir.filePath(name)).size() > 500);
    }
    QVERIFY(w.prove()->save_folded(dir.filePath("folded.png")).contains(".pdf"));
    w.key(Qt::Key_U);
    QVERIFY(folded->from_behind());
    QVERIFY(folded->face_at(folded->place(w.prove()->findings().proof->form->box.centre())) >= 0);
  }

  void views_turn_together_and_zoom_where_the_focus_is() {
    Window w;
    w.go_to("pattern");
    choose(w.find<QComboBox>("family"), family_row("chevron"));
    prove(w);
    PaperView* paper = w.prove()->paper();
    FoldedPaper* folded = w.prove()->folded();
    QVERIFY((w.prove()->views() == std::vector<BenchView*>{paper, folded}));
    folded->setFocus();
    QTest::keyClick(folded, Qt::Key_Plus);
    QVERIFY(testing::near(folded->zoom_factor(), 1.25, 1e-9) && testing::near(paper->zoom_factor(), 1, 1e-9));
    paper->setFocus();
    QTest::keyClick(paper, Qt::Key_Minus);
    QVERIFY(testing::near(folded->zoom_factor(), 1.25, 1e-9) && testing::near(paper->zoom_factor(), 0.8, 1e-9));
    QVERIFY(paper->snapshot().size() == paper->size() * 2 && folded->snapshot().size() == folded->size() * 2);
    const Box box = w.prove()->findings().proof->form->box;
    for (BenchView* view : w.prove()->views()) {
      const QPointF low = view->place(box.low);
      const QPointF high = view->place(box.high);
      w.key(Qt::Key_BracketLeft);
      const QPointF turned = view->place(box.high) - view->place(box.low);
      // Up on the screen is less; a quarter turn to the left takes right to up. Each may be fitted to a new scale.
      const QPointF wanted((high - low).y(), -(high - low).x());
      const double scale = std::hypot(turned.x(), turned.y()) / std::hypot(wanted.x(), wanted.y());
      QVERIFY2((turned - scale * wanted).manhattanLength() < 1e-6, view->metaObject()->className());
      w.key(Qt::Key_BracketRight);
      QVERIFY((view->place(box.high) - high).manhattanLength() < 1e-6);
    }
    w.key(Qt::Key_U);
    QVERIFY(folded->from_behind() && paper->from_behind());
  }

  void foreign_drawings_ask_once_what_they_mean() {
    QTemporaryDir dir;
    const QString settings = dir.path();
    Window w;
    const QString file = dir.filePath("foreign.svg");
    QVERIFY(QFile::copy(QString(UC_TEST_DATA) + "/foreign.svg", file));
    w.go_to("pattern");
    int asked = 0;
    const auto answer = [&] {
      QTimer::singleShot(50, this, [&] {
        auto* dialog = qobject_cast<KindDialog*>(QApplication::activeModalWidget());
        if (!dialog) return;
        ++asked;
        // In order of their numbers: the frame, then the folds.
        dialog->findChild<QComboBox*>("kind-0")->setCurrentIndex(4);
        dialog->findChild<QComboBox*>("kind-1")->setCurrentIndex(1);
        dialog->findChild<QComboBox*>("kind-2")->setCurrentIndex(2);
        dialog->accept();
      });
    };
    answer();
    QCOMPARE(w.pattern()->read_file_named(file), QString());
    QCOMPARE(asked, 1);
    QCOMPARE(creases(w, EdgeKind::mountain), 2);
    QCOMPARE(creases(w, EdgeKind::valley), 2);
    w.key(Qt::Key_Z, Qt::ControlModifier);
    QCOMPARE(creases(w, EdgeKind::mountain), 0);
    answer();
    QCOMPARE(w.pattern()->read_file_named(file), QString());
    QTest::qWait(80);
    QCOMPARE(asked, 1); // remembered
    QCOMPARE(creases(w, EdgeKind::mountain), 2);
    for (const char* name : {"out.json", "out.svg", "out.dxf", "out.pdf"}) {
      QCOMPARE(w.pattern()->write_file_named(dir.filePath(name)), QString());
      QVERIFY(QFile::exists(dir.filePath(name)));
    }
    QVERIFY(w.pattern()->read_file_named(dir.filePath("none.svg")).contains("none.svg"));
    QVERIFY(w.pattern()->write_file_named(dir.filePath("out.png")).contains(".json"));
  }

  void a_pattern_that_is_read_becomes_the_sheet() {
    Window w;
    QTemporaryDir dir;
    const QString file = dir.filePath("map.json");
    CreasePattern map = testing::map_pattern(2, 3);
    for (Point& v : map.vertices) v += Point{7, -3};
    const Point size = bounding_box(map.vertices).size();
    QVERIFY(write_atomically(file.toStdString(), pattern_json(map)));
    w.workspace->document.change("found", [](Project& p) {
      p.pattern.rules = {"line 0,4 along 1,0"};
      p.pattern.directions = {{{0.5, 4}, EdgeKind::valley}};
    });
    const std::string before = w.project().sheet.code();
    QVERIFY(w.pattern()->read_file_named(file).isEmpty());
    QVERIFY(testing::near(w.project().sheet.width(), size.x(), 1e-6));
    QVERIFY(testing::near(w.project().sheet.height(), size.y(), 1e-6));
    QVERIFY(w.project().pattern.directions.empty()); // they belonged to other creases
    QVERIFY(testing::near(bounding_box(w.project().pattern.base->vertices).low.norm(), 0, 1e-9));
    w.workspace->document.undo_stack().undo();
    QCOMPARE(w.project().sheet.code(), before);
    QCOMPARE(w.project().pattern.directions.size(), std::size_t{1});
    // What is no rectangle leaves the sheet alone, and says so.
    const CreasePattern triangle{{{0, 0}, {100, 0}, {0, 80}},
                                 {{0, 1, EdgeKind::raw}, {1, 2, EdgeKind::raw}, {2, 0, EdgeKind::raw}}};
    QVERIFY(write_atomically(file.toStdString(), pattern_json(triangle)));
    QVERIFY(w.pattern()->read_file_named(file).isEmpty());
    QCOMPARE(w.project().sheet.code(), before);
    QVERIFY(w.window->notices()->sentences().join(' ').contains("keeps its own outline"));
  }

  void a_count_that_takes_too_long_is_cancelled() {
    Window w;
    QTemporaryDir dir;
    const QString file = dir.filePath("map.json");
    QVERIFY(write_atomically(file.toStdString(), pattern_json(testing::map_pattern(7, 7))));
    w.go_to("pattern");
    QVERIFY(w.pattern()->read_file_named(file).isEmpty());
    prove(w);
    QCOMPARE(w.prove()->fact(), QString("can fold flat"));
    auto* cancel = w.find<QPushButton>("cancel-proof");
    QVERIFY(!cancel->isVisible());
    w.press("count");
    QTRY_VERIFY_WITH_TIMEOUT(cancel->isVisible(), 20000); // the window stays alive meanwhile
    QVERIFY(w.prove()->busy());
    cancel->click();
    QTRY_VERIFY_WITH_TIMEOUT(!w.prove()->busy(), 20000);
    QTRY_VERIFY(!cancel->isVisible());
    QVERIFY(!w.ledger().contains("ways to fold it"));
    QCOMPARE(w.prove()->fact(), QString("can fold flat"));
  }

  void creases_are_sent_to_the_programme_and_folded() {
    Window w;
    w.go_to("pattern");
    choose(w.find<QComboBox>("family"), family_row("square-twists"));
    prove(w);
    auto* pre = w.prove()->precreasing();
    QTRY_VERIFY_WITH_TIMEOUT(!pre->busy() && pre->plan(), 20000);
    QTRY_VERIFY(w.ledger().contains("spare creases"));
    QVERIFY(w.find<QComboBox>("school")->isVisible());
    const std::size_t grid_moves = w.project().programme.moves.size();
    for (const int school : {0, 3, 1, 2}) {
      choose(w.find<QComboBox>("school"), school);
      w.press("send-creases");
      QCOMPARE(static_cast<int>(w.project().pre_crease.school), school);
      QCOMPARE(w.project().programme.moves.size(), pre->plan()->programme.moves.size());
      QVERIFY(w.ledger().contains("It is in the programme"));
    }
    w.key(Qt::Key_Z, Qt::ControlModifier);
    QCOMPARE(w.project().pre_crease.school, CreaseSchool::needed);
    // Another count draws another pattern, and the programme follows it.
    const std::size_t before = w.project().programme.moves.size();
    w.go_to("pattern");
    w.find<QSpinBox>("parameter-count")->setValue(24);
    QVERIFY(w.workspace->document.planning());
    QTRY_VERIFY_WITH_TIMEOUT(!w.workspace->document.planning(), 20000);
    QVERIFY(w.project().programme.moves.size() != before);
    // Going back finds the plan that was made before.
    w.key(Qt::Key_Z, Qt::ControlModifier);
    QVERIFY(!w.workspace->document.planning());
    QCOMPARE(w.project().programme.moves.size(), before);
    w.key(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
    QVERIFY(!w.workspace->document.planning());
    QVERIFY(w.project().programme.moves.size() != before);
    w.go_to("divide");
    QVERIFY(w.ledger().contains("does not fold this grid"));
    w.go_to("fold");
    for (int i = 0; i < 13; ++i) w.key(Qt::Key_Space); // the first begins the run
    QCOMPARE(w.fold()->session().next_move(), 12);
    // What was made of the grid can be measured like a division.
    w.press("measure");
    QVERIFY(w.find<QTableWidget>("measure-table")->rowCount() > 2);
    w.press("measure-back");
    w.go_to("prove");
    QTRY_VERIFY_WITH_TIMEOUT(!w.prove()->busy() && !pre->busy() && pre->plan(), 20000);
    QTRY_VERIFY(w.ledger().contains("It is in the programme"));
    w.press("take-out");
    QVERIFY(w.project().folded == FoldedWork::grid);
    QCOMPARE(w.project().programme.moves.size(), grid_moves);
    w.find<QCheckBox>("show-creased")->setChecked(true);
    QVERIFY(pre->shown_on_paper());
  }

  void pre_creasing_is_kept_in_the_project() {
    Window w;
    QTemporaryDir dir;
    w.go_to("pattern");
    choose(w.find<QComboBox>("family"), family_row("chevron"));
    w.workspace->document.change("x", [](Project& p) {
      p.folded = FoldedWork::creases;
      p.pre_crease = {CreaseSchool::scored, true};
    });
    QCOMPARE(w.workspace->document.save(dir.filePath("early.undercrease")), QString());
    QTRY_VERIFY_WITH_TIMEOUT(!w.workspace->document.planning(), 20000);
    const auto moves = w.project().programme.moves.size();
    QCOMPARE(w.workspace->document.save(dir.filePath("p.undercrease")), QString());
    // A file written while the creases were being planned has them planned when it is read.
    const auto early = load_project(dir.filePath("early.undercrease").toStdString());
    QVERIFY(early);
    QCOMPARE(early->programme.moves.size(), moves);
    Window other;
    QCOMPARE(other.workspace->document.open(dir.filePath("p.undercrease")), QString());
    QVERIFY(other.project().pre_crease == w.project().pre_crease);
    QCOMPARE(other.project().programme.moves.size(), moves);
    other.go_to("fold");
    QVERIFY(!other.fold()->paper()->figure().lines.empty());
  }

  void planning_creases_can_be_stopped() {
    Window w;
    w.workspace->document.change("large", [](Project& p) {
      p.pattern = resolved(family_design("square-twists", {{"count", 12}}), Sheet().outline()).value().design;
      p.pattern.count = 96; // three figures of lines, so that planning takes a while
      p.folded = FoldedWork::creases;
      p.pre_crease = {CreaseSchool::everything, false};
    });
    Document& document = w.workspace->document;
    QVERIFY(document.planning() && document.planner().busy());
    const auto moves = w.project().programme.moves.size();
    w.go_to("fold");
    w.key(Qt::Key_Space);
    QVERIFY(!w.fold()->session().active()); // not with the moves of another programme
    const QString file = w.dir.filePath("not-yet.pdf");
    QVERIFY(export_project(*w.workspace, file).contains("still being planned")); // nor are they printed
    QVERIFY(!QFile::exists(file));
    auto* cancel = w.find<QPushButton>("cancel-planning");
    cancel->click();
    QTRY_VERIFY_WITH_TIMEOUT(!document.planner().busy(), 20000);
    QVERIFY(document.planner().stopped() && document.planning());
    QCOMPARE(w.project().programme.moves.size(), moves);
    document.plan_creases();
    QVERIFY(document.planner().busy());
    // A change gives up what is planned and begins with what is wanted now.
    document.change("small", [](Project& p) { p.pattern = family_design("square-twists", {{"count", 12}}); });
    QTRY_VERIFY_WITH_TIMEOUT(!document.planning(), 20000);
    QVERIFY(document.creases() != nullptr);
    QCOMPARE(w.project().programme.moves.size(), document.creases()->programme.moves.size());
    QCOMPARE(export_project(*w.workspace, file), QString());
    QVERIFY(QFile::exists(file));
    w.key(Qt::Key_Space);
    QVERIFY(w.fold()->session().active());
  }
};

UC_TEST(PatternStagesTest)
#include "pattern_test.moc"
