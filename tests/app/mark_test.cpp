// The Mark stage worked as a folder would: a target typed or picked, a way chosen, sent, folded; polygons, proportions,
// own recipes; and divisions that start from a reference.
#include "window.h"

#include "project/piece.h"
#include "reference/search.h"
#include "runner.h"
#include "stages/mark/mark_pick.h"
#include "support.h"

#include <QCheckBox>
#include <QComboBox>
#include <QListWidget>
#include <QPlainTextEdit>
#include <QTableWidget>

using namespace uc;
using uc::app::known_marks;
using uc::app::picked_target;
using uc::app::snapped;
using uc::app::Wish;
using uc::testing::Window;

namespace {

void wait_for(const Window& w) {
  QTest::qWait(20);
  QTRY_VERIFY_WITH_TIMEOUT(!w.mark()->busy(), 60000);
  QTest::qWait(20);
}

QString error_of(const Window& w, const char* field) {
  return static_cast<app::Field*>(w.find<QWidget>(field)->parentWidget())->error();
}

} // namespace

class MarkTest : public QObject {
  Q_OBJECT

private slots:
  void a_mark_is_found_chosen_and_sent() {
    Window w;
    w.go_to("mark");
    wait_for(w);
    QVERIFY(w.mark()->plot()->count() > 1);
    w.type("target", "bottom:1/7");
    wait_for(w);
    QVERIFY(w.ledger().contains("Expected miss"));
    // A weakest move is named, or it is said that none stands out; never both.
    QVERIFY(w.ledger().contains("WEAKEST MOVE") != w.ledger().contains("No move stands out"));
    QVERIFY(w.mark()->findings().target->fraction > 0.142);
    // The plot is walked with the arrow keys; a way set beside the chosen one changes the bench, not the choice.
    app::WayPlot* plot = w.mark()->plot();
    plot->setFocus();
    QTest::keyClick(plot, Qt::Key_2);
    QCOMPARE(w.mark()->chosen(), 1);
    QCOMPARE(w.mark()->bench()->shown(), 1);
    plot->compare(0);
    QCOMPARE(w.mark()->chosen(), 1);
    QCOMPARE(w.mark()->bench()->shown(), 2);
    QCOMPARE(w.mark()->views().size(), std::size_t{2});
    QVERIFY(w.mark()->bench()->paper(1)->isVisible());
    // Move by move, both at once.
    w.mark()->bench()->show_move(0);
    for (int i = 0; i < 2; ++i) {
      const int at = w.mark()->plot()->compared()[static_cast<std::size_t>(i)];
      const Programme& programme = w.mark()->findings().list[static_cast<std::size_t>(at)].programme;
      QCOMPARE(w.mark()->bench()->sentence(i).toStdString(), move_text(programme, 0, w.workspace->text_style()));
      QCOMPARE(w.mark()->bench()->paper(i)->figure().lines.size(), move_figure(programme, 0).lines.size());
    }
    w.mark()->bench()->show_move(-1);
    w.key(Qt::Key_U);
    QVERIFY(w.mark()->bench()->paper(0)->from_behind() && w.mark()->bench()->paper(1)->from_behind());
    w.key(Qt::Key_U);

    const auto moves = w.project().programme.moves.size();
    const auto& way = w.mark()->findings().list[1];
    const auto more = way.programme.moves.size();
    QTest::mouseClick(w.find<QPushButton>("send"), Qt::LeftButton);
    QCOMPARE(w.project().references.size(), std::size_t{1});
    QCOMPARE(w.project().programme.moves.size(), moves + more);
    QCOMPARE(w.find<QListWidget>("planned")->item(0)->text(), QString("bottom:1/7"));
    QVERIFY(w.window->notice().contains("before the grid"));
    w.key(Qt::Key_Z, Qt::ControlModifier);
    QVERIFY(w.project().references.empty());
    QCOMPARE(w.project().programme.moves.size(), moves);
    w.key(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
    QCOMPARE(w.project().references.size(), std::size_t{1});
    QTest::mouseClick(w.find<QCheckBox>("grid-follows"), Qt::LeftButton);
    QCOMPARE(w.project().programme.moves.size(), more);

    // It is saved, read again and folded to the end.
    const QString path = w.dir.path() + "/seventh.undercrease";
    QVERIFY(w.window->save_project_as(path));
    w.reopen();
    QVERIFY(w.window->open_project(path));
    QCOMPARE(w.project().programme.moves.size(), more);
    w.go_to("fold");
    QVERIFY(w.fold()->sentence().contains("Bring") || w.fold()->sentence().contains("Crease through"));
    for (std::size_t i = 0; i <= more; ++i) w.key(Qt::Key_Space); // the first begins the run
    QVERIFY2(w.fold()->session().all_done(),
             qPrintable(w.window->notice() + QString::number(w.fold()->session().next_move())));

    w.press("finish");
    QVERIFY(w.log()->runs().run(0)->title.find("bottom:1/7 on") == 0);

    w.go_to("mark");
    w.find<QListWidget>("planned")->setCurrentRow(0);
    w.press("remove-planned");
    QVERIFY(w.project().references.empty());
    QVERIFY(w.project().folded == FoldedWork::grid);
  }

  void a_click_on_the_paper_is_a_target() {
    Window w;
    w.go_to("mark");
    wait_for(w);
    auto* paper = w.mark()->paper();
    QTest::mouseClick(paper, Qt::LeftButton, {}, paper->place({60, 1}).toPoint());
    QVERIFY2(w.find<QLineEdit>("target")->text().startsWith("1/4 of the bottom edge"),
             qPrintable(w.find<QLineEdit>("target")->text()));
    wait_for(w);
    QTest::mouseClick(paper, Qt::LeftButton, {}, paper->place({100, 140}).toPoint());
    wait_for(w);
    QVERIFY(w.mark()->findings().target->kind == Target::Kind::point);
    const Point at = w.mark()->findings().target->point;
    QVERIFY((at - Point{100, 140}).norm() < 2);
    // Seen from the underside the same place of the sheet is picked.
    w.key(Qt::Key_U);
    QTest::mouseClick(paper, Qt::LeftButton, {}, paper->place({100, 140}).toPoint());
    wait_for(w);
    QVERIFY((w.mark()->findings().target->point - Point{100, 140}).norm() < 2);
  }

  void two_clicks_ask_for_the_line_through_both() {
    Window w;
    w.go_to("mark");
    wait_for(w);
    auto* paper = w.mark()->paper();
    auto* target = w.find<QLineEdit>("target");
    const QString before = target->text();
    const auto click = [&](const Point& at, Qt::KeyboardModifiers keys = {}) {
      QTest::mouseClick(paper, Qt::LeftButton, keys, paper->place(at).toPoint());
      wait_for(w);
    };
    click({0.3, 0.4}); // a corner asks for nothing, yet a line may begin there
    QCOMPARE(target->text(), before);
    QVERIFY(w.window->notice().contains("corner"));
    click({239.8, 120}, Qt::ShiftModifier);
    QVERIFY2(target->text().startsWith("line 0,0 2"), qPrintable(target->text()));
    QVERIFY(w.mark()->findings().target->kind == Target::Kind::line);
    // The line goes on from the same place until another is picked.
    click({0, 240}, Qt::ShiftModifier);
    QCOMPARE(target->text(), QString("line 0,0 0,240"));
    QVERIFY(error_of(w, "target").contains("is an edge"));
    click({240, 240}, Qt::ShiftModifier);
    QCOMPARE(target->text(), QString("diagonal"));
    QVERIFY(w.mark()->findings().list.front().exact());
    click({0, 0}, Qt::ShiftModifier);
    QVERIFY(w.window->notice().contains("are one"));
  }

  void what_a_click_means() {
    Project p;
    p.sheet = Sheet::square(Millimetres{240});
    const double reach = 4;
    QCOMPARE(picked_target(p, {60, 1}, reach), QString("1/4 of the bottom edge"));
    QCOMPARE(picked_target(p, {239, 60}, reach), QString("1/4 of the right edge"));
    QCOMPARE(picked_target(p, {100.04, 140.06}, reach), QString("100,140.1"));
    QCOMPARE(picked_target(p, {1, 1}, reach), QString());
    QCOMPARE(picked_target(p, {500, 20}, reach), QString());
    QCOMPARE(picked_target(p, {61.53, 2}, 0.5 * reach), QString("61.5 mm from the left"));
    QCOMPARE(picked_target(p, {1, 22.2}, reach), QString("22.2 mm from the bottom"));
    QCOMPARE(picked_target(p, {121, 118}, reach), QString("middle"));
    QCOMPARE(picked_target(p, {238, 239}, reach, Point{0, 0}), QString("diagonal"));
    QCOMPARE(picked_target(p, {1, 239}, reach, Point{240, 0}), QString("falling diagonal"));
    QCOMPARE(picked_target(p, {2, 1}, reach, Point{0, 0}), QString());
    p.unit = LengthUnit::inch;
    QCOMPARE(picked_target(p, {127, 63.5}, reach), QString("5,2.5"));
    QCOMPARE(picked_target(p, {64, 1}, 1), QString("2.52 in from the left"));
    // What is said is read back as a place within reach, in each unit and on each edge.
    for (const LengthUnit unit : {LengthUnit::mm, LengthUnit::cm, LengthUnit::inch}) {
      p.unit = unit;
      for (int i = 0; i < 200; ++i) {
        const double along = 6 + 228.0 * i / 199;
        const Point at = std::array<Point, 4>{{{along, 1}, {239, along}, {along, 238.5}, {0.5, along}}}[i % 4];
        const std::string said = picked_target(p, at, reach).toStdString();
        const auto read = parse_target(p.sheet.outline(), said, unit);
        QVERIFY2(read && (read->point - at).norm() < reach, said.c_str());
      }
    }
    p.unit = LengthUnit::mm;
    // A reference in the programme ends in a mark that can be pointed at, to the last digit.
    std::string text;
    const auto target = mark_on_edge(p.sheet.outline(), 0, 0.5);
    const SheetIndex index = SheetIndex::build(p.sheet.outline(), {40, 400, 400, 40000}).value();
    SearchOptions options;
    options.max_creases = 2;
    const Route route = find_routes(index, p.sheet.outline(), *target, options)->front();
    p.references.push_back({"half", "bottom:1/2", recipe_text(route.construction, {route.result}), false});
    QCOMPARE(known_marks(p).size(), std::size_t{5});
    QVERIFY(known_marks(p).back().isApprox(Point{120, 0}, 1e-9));
    QCOMPARE(snapped(p, {121, 2}, reach), known_marks(p).back());
    QCOMPARE(snapped(p, {130, 2}, reach), (Point{130, 2}));
    QCOMPARE(picked_target(p, {1, 239}, reach, snapped(p, {121, 2}, reach)), QString("line 120,0 0,240"));
  }

  void what_is_wrong_stands_beside_the_field_data() {
    QTest::addColumn<QString>("target");
    QTest::addColumn<QString>("says");
    QTest::newRow("off") << QString("300,20") << QString("lies off the sheet");
    QTest::newRow("edge") << QString("roof:1/3") << QString("is not an edge");
    QTest::newRow("words") << QString("somewhere") << QString("is not a target");
    QTest::newRow("point twice") << QString("line 5,5 5,5") << QString("two different points");
    QTest::newRow("corner") << QString("0,0") << QString("is a corner");
  }
  void what_is_wrong_stands_beside_the_field() {
    QFETCH(QString, target);
    QFETCH(QString, says);
    Window w;
    w.go_to("mark");
    wait_for(w);
    w.type("target", target);
    wait_for(w);
    QVERIFY2(error_of(w, "target").contains(says), qPrintable(error_of(w, "target")));
    (void)w.window->ledger();
    QVERIFY(!w.window->findChild<QPushButton*>("send"));
    w.type("target", "left:1/4");
    wait_for(w);
    QVERIFY(error_of(w, "target").isEmpty());
    QVERIFY(w.find<QPushButton>("send"));
  }

  void lines_angles_and_old_creases() {
    Window w;
    w.go_to("mark");
    for (const char* target : {"line 0,0 240,120", "angle 22.5", "angle 60 at bl", "1/3 of 0,120 240,120"}) {
      w.mark()->set_target(target);
      wait_for(w);
      QVERIFY2(w.mark()->plot()->count() > 0, target);
      QVERIFY2(std::any_of(w.mark()->findings().list.begin(), w.mark()->findings().list.end(),
                           [](const auto& f) { return f.exact(); }),
               target);
    }
    w.find<QSpinBox>("creases")->setValue(1);
    w.mark()->set_target("angle 45");
    wait_for(w);
    QVERIFY(w.mark()->plot()->chosen() >= 0);
    for (int i = 0; i < w.mark()->plot()->count(); ++i)
      QCOMPARE(w.mark()->plot()->admitted(i), w.mark()->findings().list[static_cast<std::size_t>(i)].creases() <= 1);
  }

  void the_plot_is_narrowed_at_once() {
    Window w;
    w.go_to("mark");
    w.mark()->set_target("bottom:0.29");
    wait_for(w);
    app::WayPlot* plot = w.mark()->plot();
    const auto& list = w.mark()->findings().list;
    const auto at = [&](int i) -> const app::Finding& { return list[static_cast<std::size_t>(i)]; };
    const double hand = w.project().hand.sigma_mm;
    // The first way is on the best frontier, and so are the ones that are picked by one figure.
    const auto on_frontier = [&] {
      return std::find(plot->frontier().begin(), plot->frontier().end(), plot->chosen()) != plot->frontier().end();
    };
    QVERIFY(on_frontier());
    w.press("fewest-creases");
    const int fewest = at(plot->chosen()).creases();
    QVERIFY(on_frontier());
    w.press("least-miss");
    QVERIFY(on_frontier() && plot->chosen() == plot->frontier().back());
    for (int i = 0; i < plot->count(); ++i) {
      QVERIFY(at(i).creases() >= fewest && at(i).miss_mm(hand) >= at(plot->chosen()).miss_mm(hand) - 1e-9);
      QVERIFY(at(i).creases() <= 4);
    }
    w.press("least-scar");
    for (int i = 0; i < plot->count(); ++i) QVERIFY(at(i).scar_mm() >= at(plot->chosen()).scar_mm() - 1e-6);
    w.find<QSpinBox>("creases")->setValue(2);
    QVERIFY(!w.mark()->busy()); // at once, without another search
    for (int i = 0; i < plot->count(); ++i) QCOMPARE(plot->admitted(i), at(i).creases() <= 2);
    auto* exact = w.find<QCheckBox>("exact-only");
    w.find<QSpinBox>("creases")->setValue(4);
    exact->setChecked(true);
    for (int i = 0; i < plot->count(); ++i) QCOMPARE(plot->admitted(i), at(i).exact());
    exact->setChecked(false);
    auto* effort = w.find<QComboBox>("effort");
    effort->setCurrentIndex(1);
    emit effort->activated(1);
    QVERIFY(plot->count() > 1 && plot->chosen() >= 0);
    w.type("areas", "40,40,200,200");
    wait_for(w);
    for (const auto& f : w.mark()->findings().list) QVERIFY(f.route->clean_mm < 1e-6);
    w.type("areas", "40,40");
    QVERIFY(!error_of(w, "areas").isEmpty());
  }
  void a_new_project_begins_with_a_recipe_that_works() {
    Window w;
    w.go_to("mark");
    w.mark()->set_wish(Wish::recipe);
    w.find<QPlainTextEdit>("recipe")->setPlainText("nonsense");
    w.mark()->begin_anew();
    w.go_to("divide");
    w.go_to("mark");
    w.mark()->set_wish(Wish::recipe);
    w.mark()->set_target("left:1/3");
    wait_for(w);
    QVERIFY2(error_of(w, "recipe").isEmpty() && w.mark()->plot()->count() == 1, qPrintable(error_of(w, "recipe")));
    QVERIFY(w.mark()->findings().list[0].exact());
  }

  void a_polygon_is_cut_not_gridded() {
    Window w;
    w.go_to("mark");
    w.mark()->set_wish(Wish::polygon);
    w.mark()->set_sides(6);
    wait_for(w);
    QVERIFY(w.mark()->plot()->count() >= 2);
    QVERIFY(w.ledger().contains("THE LARGEST"));
    QVERIFY(w.ledger().contains("Cut on a mat"));
    const QString sheet = QString::fromStdString(w.project().sheet.code());
    w.press("send");
    QCOMPARE(w.project().programme.count<Cut>(), 1);
    QVERIFY2(w.window->notice().contains("planned on the piece"), qPrintable(w.window->notice()));
    // The paper of the next wish is the hexagon, and the grid is folded on it.
    QVERIFY(w.project().folded == FoldedWork::grid && QString::fromStdString(w.project().sheet.code()) == sheet);
    QVERIFY(QString::fromStdString(worked_sheet(w.project()).code()).startsWith("ngon:6:"));
    wait_for(w);
    QCOMPARE(w.mark()->paper()->figure().outline.size(), std::size_t{6});
    w.go_to("divide");
    // Drawn on the whole sheet, with the cut.
    QCOMPARE(w.workspace->document.division().layout.area.size(), std::size_t{6});
    const auto& lines = w.divide()->paper()->figure().lines;
    QCOMPARE(std::count_if(lines.begin(), lines.end(), [](const FigureLine& l) { return l.style == LineStyle::cut; }),
             6);
    w.go_to("mark");
    w.key(Qt::Key_Z, Qt::ControlModifier);
    QVERIFY(w.project().references.empty() && worked_sheet(w.project()).code() == w.project().sheet.code());
    w.mark()->set_sides(9);
    wait_for(w);
    QVERIFY(w.mark()->findings().list.size() >= 2);
    QVERIFY(w.window->ribbon()->panel(2)->fact().contains("9 sides"));
  }

  void a_proportion_and_strips() {
    Window w;
    w.go_to("mark");
    w.mark()->set_wish(Wish::proportion);
    wait_for(w);
    QVERIFY2(w.ledger().contains("169.7 mm"), qPrintable(w.ledger()));
    w.type("strips", "50");
    QVERIFY2(w.ledger().contains("4 strips, 240 mm long"), qPrintable(w.ledger()));
    w.type("strips", "500");
    QVERIFY(error_of(w, "strips").contains("wider than the sheet"));
    w.type("ratio", "1");
    wait_for(w);
    QVERIFY(error_of(w, "ratio").contains("has this ratio already"));
    w.type("ratio", "golden");
    wait_for(w);
    w.press("send");
    QCOMPARE(w.project().references.size(), std::size_t{1});
    QVERIFY(w.project().references[0].title.find("1.618") != std::string::npos);
    QCOMPARE(w.project().programme.count<Cut>(), 1);
    // The grid is folded on the piece, and so is what is marked next.
    QVERIFY(w.project().folded == FoldedWork::grid);
    const Sheet piece = worked_sheet(w.project());
    QVERIFY(testing::near(piece.width() * piece.height(), 240 * 240 / 1.618034, 240 * 0.5));
    w.mark()->set_wish(Wish::reference);
    w.mark()->set_target("half");
    wait_for(w);
    QVERIFY(w.mark()->findings().list.front().exact());
    w.press("send");
    QCOMPARE(w.project().references.size(), std::size_t{2});
    const Programme& all = w.project().programme;
    const std::size_t cut = static_cast<std::size_t>(
        std::find_if(all.moves.begin(), all.moves.end(), [](const Move& m) { return m.is<Cut>(); }) -
        all.moves.begin());
    const Polygon outline = outline_before(all, cut + 1);
    const Box box = bounding_box(outline);
    for (std::size_t i = cut + 1; i < all.moves.size(); ++i) {
      for (const Segment& s : all.moves[i].creases().spans) {
        for (const Point& p : {s.from, s.to})
          QVERIFY((p.array() >= box.low.array() - 0.5).all() && (p.array() <= box.high.array() + 0.5).all());
      }
    }
  }

  void an_own_recipe_is_judged_as_it_is_typed() {
    Window w;
    w.go_to("mark");
    w.mark()->set_wish(Wish::recipe);
    w.mark()->set_target("left:1/3");
    wait_for(w);
    QCOMPARE(w.mark()->plot()->count(), 1);
    QVERIFY(w.mark()->findings().list[0].exact());
    auto* recipe = w.find<QPlainTextEdit>("recipe");
    recipe->setPlainText("c1 = O3 left right\nc2 = O9 left right");
    wait_for(w);
    QVERIFY(error_of(w, "recipe").contains("Line 2"));
    recipe->setPlainText("c1 = O3 left right");
    w.mark()->set_target("");
    wait_for(w);
    QCOMPARE(w.mark()->plot()->count(), 1);
    recipe->setPlainText("c1 = O3 left right\np1 = cross c1 top\nc2 = O1 bl p1\nresult bl br p1");
    wait_for(w);
    QVERIFY(w.mark()->findings().list[0].polygon);
    w.press("send");
    QVERIFY(w.project().references[0].cut);
  }

  void learning_a_sheet_can_be_cancelled() {
    Window w;
    w.type("sheet-size", "201x137mm");
    w.go_to("mark");
    QTRY_VERIFY_WITH_TIMEOUT(w.mark()->busy(), 2000);
    QTRY_VERIFY_WITH_TIMEOUT(w.find<QPushButton>("cancel-search")->isVisible() || !w.mark()->busy(), 20000);
    if (w.mark()->busy()) w.press("cancel-search");
    wait_for(w);
    QVERIFY(error_of(w, "target").contains("Stopped") || w.mark()->plot()->count() > 0);
    w.type("target", "bottom:1/4");
    wait_for(w);
    QVERIFY(w.mark()->plot()->count() > 0);
  }

  void a_division_starts_from_a_reference() {
    Window w;
    w.go_to("divide");
    w.set_parts(7);
    w.wait_for_comparison();
    auto* table = w.find<QTableWidget>("methods");
    QVERIFY2(table->rowCount() == 5 + 6, qPrintable(QString::number(table->rowCount())));
    QVERIFY(table->item(4, 0)->text().contains("round"));
    QCOMPARE(table->item(5, 0)->text(), QString("Diagonals first"));
    table->selectRow(5);
    QVERIFY(w.project().grid.start && w.project().grid.start->kind == StartKind::diagonals);
    QVERIFY(w.ledger().contains("Start: line 4 of 7"));
    w.wait_for_comparison();
    QCOMPARE(table->currentRow(), 5);
    QVERIFY(move_text(w.project().programme, 0).find("Bring the right edge") == 0);
    // Another sheet keeps the start where its recipe fits.
    w.key(Qt::Key_1);
    w.type("sheet-size", "201x137mm");
    QVERIFY(w.workspace->document.division().start_fits);
    w.go_to("divide");
    w.wait_for_comparison();
    table->selectRow(0);
    QVERIFY(!w.project().grid.start);
    w.key(Qt::Key_Z, Qt::ControlModifier);
    QVERIFY(w.project().grid.start.has_value());
    w.set_parts(8);
    w.wait_for_comparison();
    QCOMPARE(table->rowCount(), 5);
  }
};

UC_TEST(MarkTest)
#include "mark_test.moc"
