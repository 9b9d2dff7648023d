// Units in the running window: planned, coloured by hand, cut, folded and joined as a run, saved, undone.
#include "runner.h"
#include "window.h"

#include "programme/unit_figure.h"
#include "record/run_log.h"
#include "stages/units/own_unit_dialog.h"
#include "stages/units/units_stage.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDateEdit>
#include <QLineEdit>
#include <QListWidget>
#include <QSlider>
#include <QStackedWidget>
#include <QUndoStack>
#include <QtTest>

using namespace uc;
using namespace uc::app;
using uc::testing::Window;

class UnitsTest : public QObject {
  Q_OBJECT

  static UnitsStage* stage(Window& w) { return static_cast<UnitsStage*>(w.window->stage("units")); }
  static void wait(Window& w) { QTRY_VERIFY_WITH_TIMEOUT(!stage(w)->busy(), 60000); }
  static void choose(Window& w, const char* box, const QString& text) {
    auto* combo = w.find<QComboBox>(box);
    const int i = combo->findText(text);
    QVERIFY2(i >= 0, qPrintable(text));
    combo->setCurrentIndex(i);
    emit combo->activated(i);
    wait(w);
  }

private slots:
  void a_solid_is_planned_and_undone() {
    Window w;
    w.go_to("units");
    wait(w);
    QCOMPARE(stage(w)->fact(), QString("30 pieces"));
    QVERIFY(w.ledger().contains("12, 30, 20"));
    choose(w, "units-solid", "octahedron");
    QCOMPARE(w.project().units.solid, std::string("octahedron"));
    QCOMPARE(stage(w)->fact(), QString("12 pieces"));
    w.type("units-sheet", "90mm");
    wait(w);
    QCOMPARE(stage(w)->answer().plan->edge_mm, 45.0);
    w.type("units-finished", "20 cm");
    wait(w);
    QVERIFY(std::abs(stage(w)->answer().plan->diameter_mm - 200) < 1e-9);
    w.type("units-sheet", "90");
    wait(w);
    QCOMPARE(w.project().units.finished_mm, 0.0);
    QCOMPARE(stage(w)->answer().plan->edge_mm, 45.0);
    w.find<QSpinBox>("units-evenings")->setValue(5);
    wait(w);
    QVERIFY(w.ledger().contains("an evening"));
    // The evenings follow from the minutes, and the minutes from the evenings; as many as are needed and no more.
    auto* minutes = w.find<QSpinBox>("units-minutes");
    const int of_five = minutes->value();
    minutes->setValue(20);
    const int evenings = w.project().units.evenings;
    QVERIFY2(evenings > 1 && std::abs(20.0 * evenings - 5.0 * of_five) < 20 + 5,
             qPrintable(QString("%1 %2").arg(evenings).arg(of_five)));
    QCOMPARE(w.find<QDateEdit>("units-until")->date(), QDate::currentDate().addDays(evenings - 1));
    while (w.workspace->document.undo_stack().canUndo()) w.workspace->document.undo_stack().undo();
    wait(w);
    QVERIFY(w.project().units == UnitJob{});
    QCOMPARE(stage(w)->fact(), QString("30 pieces"));
  }

  void a_unit_is_described_and_used() {
    Window w;
    w.go_to("units");
    wait(w);
    OwnUnitDialog form({});
    QVERIFY(!form.described()); // it has no name
    const auto type = [&](const char* name, const char* text) {
      auto* line = form.findChild<QLineEdit*>(name);
      QVERIFY2(line, name);
      line->setText(text);
    };
    type("own-name", "my-edge");
    type("own-edge", "0.4");
    type("own-angles", "100 - 140");
    type("own-faces", "3, x");
    QVERIFY(form.described().error().find("whole number") != std::string::npos);
    type("own-faces", "3");
    const auto family = form.described();
    QVERIFY2(family, family ? "" : family.error().c_str());
    QCOMPARE(family->most_dihedral_deg, 140.0);
    type("own-angles", "100° to 141 deg");
    QVERIFY(form.described() && form.described()->most_dihedral_deg == 141);
    w.workspace->document.change("Describe a unit", [&](Project& p) {
      p.units.own = {*family};
      p.units.family = "my-edge";
    });
    wait(w);
    QVERIFY(w.find<QComboBox>("units-family")->findData("my-edge") >= 0);
    QCOMPARE(stage(w)->fact(), QString("30 pieces"));
    QVERIFY(std::abs(stage(w)->answer().plan->edge_mm - 0.4 * 75) < 1e-9);
    // It stands among the others for the same solid, and can be removed; undo brings it back.
    const auto& ways = stage(w)->answer().ways;
    QVERIFY(std::any_of(ways.begin(), ways.end(), [](const FamilyWay& f) { return f.family->name == "my-edge"; }));
    w.press("units-own-remove");
    wait(w);
    QVERIFY(w.project().units.own.empty() && w.project().units.family == UnitJob{}.family);
    w.workspace->document.undo_stack().undo();
    QCOMPARE(w.project().units.own.size(), std::size_t{1});
    wait(w);
  }

  void what_cannot_be_says_why() {
    Window w;
    w.go_to("units");
    choose(w, "units-solid", "dodecahedron");
    QVERIFY2(w.ledger().contains("5 x 90 degrees are more than 360"), qPrintable(w.ledger()));
    QCOMPARE(stage(w)->fact(), QString("not so"));
    QVERIFY(!w.find<QPushButton>("units-fold")->isEnabled());
    QVERIFY(stage(w)->save(w.dir.filePath("x.obj")).contains("nothing to save"));
    auto* solid = w.find<QComboBox>("units-solid");
    solid->setEditText("kis(dodecahedron");
    emit solid->lineEdit()->editingFinished();
    wait(w);
    QVERIFY2(w.ledger().contains("kis"), qPrintable(w.ledger()));
    solid->setEditText("icosahedron");
    emit solid->lineEdit()->editingFinished();
    wait(w);
    w.find<QSpinBox>("units-colours")->setValue(2);
    wait(w);
    QVERIFY2(w.ledger().contains("3 are the fewest"), qPrintable(w.ledger()));
    w.find<QSpinBox>("units-colours")->setValue(3);
    const UnitJob before = w.project().units;
    w.type("units-sheet", "75x100mm");
    QVERIFY(w.project().units == before);
    w.type("units-finished", "200 km");
    QVERIFY(w.project().units == before);
    // A last evening gives the number of them, and the other way round.
    const QDate today = QDate::currentDate();
    w.find<QDateEdit>("units-until")->setDate(today.addDays(6));
    QCOMPARE(w.project().units.evenings, 7);
    w.find<QSpinBox>("units-evenings")->setValue(5);
    QCOMPARE(w.find<QDateEdit>("units-until")->date(), today.addDays(4));
    w.find<QSpinBox>("units-evenings")->setValue(3); // what was refused stays until it is mended
    QCOMPARE(w.find<QLineEdit>("units-sheet")->text(), QString("75x100mm"));
    w.type("units-sheet", "square:80mm");
    QCOMPARE(w.project().units.sheet, std::string("square:80mm"));
  }

  void colours_are_put_by_hand() {
    Window w;
    w.go_to("units");
    wait(w);
    stage(w)->set_shown(UnitsStage::Shown::map);
    auto* papers = w.find<QListWidget>("units-papers");
    QCOMPARE(papers->count(), 3);
    papers->setCurrentRow(2);
    const auto before = stage(w)->answer().plan->colours.colour;
    std::size_t unit = 0;
    while (before[unit] == 2) ++unit;
    // The middle of its place on the map is clicked.
    Point middle = Point::Zero();
    stage(w)->set_joined(static_cast<int>(before.size()));
    for (const auto& l : stage(w)->map()->figure().labels)
      if (l.text == std::to_string(unit + 1) + colour_letter(before[unit])) middle = l.at;
    const QPointF at = stage(w)->map()->place(middle);
    QTest::mouseClick(stage(w)->map(), Qt::LeftButton, {}, at.toPoint());
    wait(w);
    QCOMPARE(stage(w)->answer().plan->colours.colour[unit], 2);
    QVERIFY2(w.ledger().contains("one colour on both sides"), qPrintable(w.ledger()));
    // The same without a mouse: the paper goes on the unit that is joined next.
    const int next = stage(w)->answer().plan->assembly[3].add;
    stage(w)->set_joined(3);
    papers->setCurrentRow((stage(w)->answer().plan->colours.colour[static_cast<std::size_t>(next)] + 1) % 3);
    w.find<QPushButton>("units-put")->click();
    wait(w);
    QCOMPARE(stage(w)->answer().plan->colours.colour[static_cast<std::size_t>(next)], papers->currentRow());
    papers->item(2)->setText("dusk");
    QCOMPARE(w.project().units.palette[2].name, std::string("dusk"));
    QVERIFY(w.ledger().contains("dusk"));
    w.find<QPushButton>("units-another")->click();
    wait(w);
    QVERIFY(w.project().units.by_hand.empty());
    QVERIFY(stage(w)->answer().plan->alike.empty());
    w.find<QPushButton>("units-shelf")->click();
    QVERIFY(!w.project().units.palette.empty());
  }

  void every_view_is_drawn_and_saved() {
    Window w;
    w.go_to("units");
    choose(w, "units-family", "Strips with clips");
    choose(w, "units-solid", "cube");
    QCOMPARE(w.project().units.sheet, std::string("strip:297x20mm"));
    for (const auto shown : {UnitsStage::Shown::cuts, UnitsStage::Shown::map, UnitsStage::Shown::solid}) {
      stage(w)->set_shown(shown);
      auto* view = stage(w)->views().front();
      const QImage all = view->snapshot();
      stage(w)->set_joined(4);
      QVERIFY(shown == UnitsStage::Shown::cuts || view->snapshot() != all);
      stage(w)->set_joined(18);
    }
    // One unit, step by step, from the ledger; the picture says its words to those who cannot see it.
    w.press("units-steps");
    QCOMPARE(stage(w)->views().front(), stage(w)->unit());
    QVERIFY(stage(w)->unit()->page());
    QVERIFY(stage(w)->unit()->accessibleDescription().contains("Bring the"));
    stage(w)->set_shown(UnitsStage::Shown::families);
    QVERIFY(stage(w)->plot()->count() >= 2);
    for (const char* name : {"cube.obj", "cube.stl", "cube.glb", "cube.png"}) {
      QCOMPARE(stage(w)->save(w.dir.filePath(name)), QString());
      QVERIFY(QFileInfo(w.dir.filePath(name)).size() > 500);
    }
    QVERIFY(stage(w)->save(w.dir.filePath("cube.txt")).contains(".obj"));
    w.type("units-from", "a4");
    wait(w);
    QVERIFY(stage(w)->answer().plan->cutting.sheets >= stage(w)->answer().plan->cutting.bound);
    QVERIFY(w.ledger().contains("left over"));
  }

  void units_are_folded_joined_and_learned_from() {
    Window w;
    w.go_to("units");
    choose(w, "units-solid", "tetrahedron");
    w.press("units-fold");
    QCOMPARE(w.stage(), QString("fold"));
    QTRY_VERIFY(!w.workspace->document.planning());
    QCOMPARE(w.project().programme.moves.size(), std::size_t{12});
    QVERIFY(w.fold()->sentence().contains("Fold unit 1"));
    QVERIFY(w.ledger().contains("How a unit is folded"));
    w.key(Qt::Key_Space);
    QVERIFY(w.fold()->session().active());
    const auto next = [&] {
      QTest::qWait(5); // units that take no time teach nothing
      w.key(Qt::Key_Space);
    };
    for (int i = 0; i < 6; ++i) next();
    QVERIFY2(w.fold()->sentence().contains("Lay unit"), qPrintable(w.fold()->sentence()));
    const Figure joining = w.fold()->paper()->figure();
    QVERIFY(!joining.to_scale && joining.patches.size() == 1);
    // Interrupted here, and gone on with.
    w.reopen();
    w.go_to("fold");
    QTRY_VERIFY(w.fold()->session().active());
    QCOMPARE(w.fold()->session().next_move(), 6);
    for (int i = 0; i < 12 && !w.fold()->session().all_done(); ++i) next();
    QVERIFY2(w.fold()->session().all_done(), qPrintable(QString::number(w.fold()->session().next_move())));
    QCOMPARE(w.fold()->session().end(RunStatus::finished), QString());
    const auto runs = w.workspace->log()->list();
    QVERIFY(runs && !runs->empty());
    QCOMPARE(runs->front().kind, std::string("units"));
    QCOMPARE(runs->front().size, 6);
    w.go_to("units");
    wait(w);
    QVERIFY2(w.ledger().contains("units you have folded"), qPrintable(w.ledger()));
  }

  void the_sheet_has_its_own_moves_again() {
    Window w;
    w.go_to("units");
    wait(w);
    const std::size_t own = w.project().programme.moves.size();
    w.press("units-fold");
    QTRY_VERIFY(!w.workspace->document.planning());
    QCOMPARE(w.project().programme.moves.size(), std::size_t{60});
    w.go_to("units");
    w.press("units-fold");
    QTRY_VERIFY(!w.workspace->document.planning());
    QCOMPARE(w.project().programme.moves.size(), own);
    QVERIFY(!w.project().programme.units);
  }
};

UC_TEST(UnitsTest)
#include "units_test.moc"
