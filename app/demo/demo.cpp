#include "demo/demo.h"

#include "base/atomic_file.h"
#include "io/json_reader.h"
#include "io/project_file.h"
#include "pattern/family.h"
#include "record/run_log.h"
#include "shell/main_window.h"
#include "stages/collapse/collapse_stage.h"
#include "stages/divide/divide_stage.h"
#include "stages/fold/fold_stage.h"
#include "stages/mark/mark_stage.h"
#include "stages/pattern/family_gallery.h"
#include "stages/pattern/pattern_stage.h"
#include "stages/pattern/value_trials.h"
#include "stages/prove/prove_stage.h"
#include "stages/units/units_stage.h"
#include "widgets/spatial_bench.h"

#include <QApplication>
#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QTableWidget>
#include <QThread>

namespace uc::app {
namespace {

/// Log entries name their grid; plan and programme are computed as the application would have done.
Result<RunDetail> completed(const Json& entry) {
  RunDetail run = run_detail_from(JsonReader(entry));
  const auto sheet = parse_sheet(run.summary.sheet);
  if (!sheet) return Error{sheet.error()};
  GridSpec spec;
  const JsonReader grid(entry);
  spec.parts = run.summary.size;
  spec.axis = grid.at("axis").word<GridAxis>();
  spec.method = grid.at("method").word<Method>();
  const auto division = divide(*sheet, spec, HandProfile{});
  if (!division) return Error{division.error()};
  run.programme_json = json_of(division->programme).dump();
  run.plans_json = plans_json(*division).dump();
  run.summary.moves_planned = static_cast<int>(division->programme.moves.size());
  run.summary.planned_minutes = division->minutes;
  run.summary.planned_sigma_mm = division->mean_sigma_mm;
  run.summary.planned_worst_mm = division->worst_sigma_mm;
  const double pace = entry.value("pace", 1.0);
  const int done = entry.value("moves_done", run.summary.moves_planned);
  std::vector<RunEvent> events;
  for (int i = 0; i < std::min(done, run.summary.moves_planned); ++i) {
    for (const RunEvent& e : run.events) {
      if (e.move == i) events.push_back(e);
    }
    events.push_back({EventKind::done, i, division->programme.moves[static_cast<std::size_t>(i)].seconds * pace, "",
                      run.summary.started});
  }
  run.events = std::move(events);
  for (MeasuredLine& m : run.measured) {
    for (std::size_t f = 0; f < division->plans.size(); ++f) {
      if (division->layout.families[f].name != m.family) continue;
      m.expected_mm = division->layout.families[f].extent_mm * m.line / spec.parts;
      m.position_mm += m.expected_mm; // the data hold the deviation
      m.plan_sigma_mm = division->plans[f].line_sigma_mm[static_cast<std::size_t>(m.line)];
    }
  }
  return run;
}

} // namespace

QString prepare_demo(const QString& folder) {
  QDir().mkpath(folder);
  const QString source = data_folder() + "/demo";
  for (const char* name : {"open-night.undercrease", "shelf.json"}) {
    const QString target = folder + "/" + name;
    if (QFile::exists(target)) continue;
    if (!QFile::copy(source + "/" + name, target))
      return QObject::tr("The demo could not be copied to %1; check that the folder is yours.").arg(folder);
    QFile::setPermissions(target, QFile::ReadOwner | QFile::WriteOwner | QFile::ReadGroup | QFile::ReadOther);
  }
  const std::string log_path = (folder + "/log.sqlite").toStdString();
  if (QFileInfo::exists(folder + "/log.sqlite") || QFileInfo(folder + "/log.sqlite").isSymLink()) return {};
  auto opened = RunLog::open(log_path);
  if (!opened) return QString::fromStdString(opened.error());
  RunLog log = std::move(opened).value();
  const std::string entries = (source + "/log.json").toStdString();
  const auto text = read_file(entries);
  if (!text) return QString::fromStdString(text.error());
  const auto json = parse_json(*text, entries);
  if (!json) return QString::fromStdString(json.error());
  for (const Json& entry : json->at("runs")) {
    const auto run = completed(entry);
    if (!run) return QString::fromStdString(run.error());
    if (const auto id = log.add_whole(*run); !id) return QString::fromStdString(id.error());
  }
  return {};
}

QString write_pictures(MainWindow& window, Workspace& workspace, const QString& folder) {
  QDir().mkpath(folder);
  window.setWindowState(Qt::WindowNoState);
  window.resize(1280, 800);
  window.show();
  const auto settle = [&](int rounds) {
    for (int i = 0; i < rounds; ++i) {
      QApplication::processEvents(QEventLoop::AllEvents, 30);
      QThread::msleep(10);
    }
  };
  const auto shoot = [&](const QString& name) {
    settle(15);
    for (const auto* bench : window.findChildren<SpatialBench*>())
      while (bench->isVisible() && !bench->up_to_date()) settle(1);
    const QPixmap shot = window.grab();
    return shot.toImage().scaled(1280, 800).save(folder + "/" + name + ".png")
               ? QString()
               : QObject::tr("%1/%2.png cannot be written.").arg(folder, name);
  };
  QStringList wrong;
  window.show_stage("sheet");
  wrong << shoot("sheet");
  window.show_stage("divide");
  auto* divide_stage = static_cast<DivideStage*>(window.stage("divide"));
  while (divide_stage->busy()) settle(1);
  wrong << shoot("divide");
  auto* mark = static_cast<MarkStage*>(window.stage("mark"));
  const auto found = [&] {
    do settle(8);
    while (mark->busy());
  };
  window.show_stage("mark");
  mark->set_target("bottom:1/7");
  found();
  // The best way and, beside it, one that is exact by its geometry.
  const auto& ways = mark->findings().list;
  const auto exact = std::find_if(ways.begin(), ways.end(), [](const Finding& f) { return f.exact(); });
  if (exact != ways.end()) mark->plot()->compare(static_cast<int>(exact - ways.begin()));
  mark->bench()->show_move(2);
  settle(2);
  wrong << shoot("mark");
  mark->set_wish(Wish::polygon);
  mark->set_sides(5);
  found();
  wrong << shoot("polygon");
  window.show_stage("pattern");
  workspace.document.change("", [](Project& p) { p.pattern = family_design("square-twists", {{"count", 18}}); });
  window.show_stage("prove");
  auto* prove = static_cast<ProveStage*>(window.stage("prove"));
  const auto proved = [&] {
    do settle(8);
    while (prove->busy());
  };
  proved();
  prove->set_look(FoldedPaper::Look::see_through);
  wrong << shoot("prove");
  window.show_stage("pattern");
  workspace.document.change("", [](Project& p) { p.pattern = family_design("wrap"); });
  wrong << shoot("pattern");
  auto* pattern = static_cast<PatternStage*>(window.stage("pattern"));
  workspace.document.change("", [](Project& p) { p.pattern = family_design("chevron"); });
  pattern->show_trials(true);
  const auto tried = [&] {
    do settle(8);
    while (pattern->trials()->busy());
  };
  tried();
  pattern->trials()->plot()->pick(pattern->trials()->plot()->sweep().now + 5);
  tried();
  wrong << shoot("values");
  pattern->show_trials(false);
  workspace.document.change("", [](Project& p) {
    p.pattern = family_design("concentric-pleats", {{"rings", 16}, {"diagonals", 1}});
  });
  auto* collapse = static_cast<CollapseStage*>(window.stage("collapse"));
  const auto closed = [&] {
    do settle(8);
    while (collapse->busy());
  };
  window.show_stage("collapse");
  closed();
  collapse->set_percent(70);
  collapse->set_shown(CollapseStage::Shown::strain);
  collapse->compare_orders();
  closed();
  wrong << shoot("collapse");
  workspace.document.change("", [](Project& p) { p.pattern = family_design("chevron"); });
  closed();
  collapse->set_percent(40);
  collapse->set_shown(CollapseStage::Shown::lamp);
  wrong << shoot("lamp");
  workspace.document.change("", [](Project& p) { p.pattern = family_design("wrap"); });
  window.show_stage("pattern");
  FamilyGallery gallery("wrap", &window);
  gallery.resize(1280, 800);
  gallery.show();
  do settle(8);
  while (!gallery.complete());
  if (!gallery.grab().toImage().scaled(1280, 800).save(folder + "/families.png"))
    wrong << QObject::tr("%1/%2.png cannot be written.").arg(folder, "families");
  gallery.hide();
  window.show_stage("log");
  wrong << shoot("log");
  auto* fold = static_cast<FoldStage*>(window.stage("fold"));
  window.show_stage("fold");
  wrong << fold->session().start();
  for (int i = 0; i < 19; ++i) wrong << fold->session().done();
  wrong << shoot("fold");
  const int all = static_cast<int>(fold->session().programme().moves.size());
  for (int i = fold->session().next_move(); i < all; ++i) wrong << fold->session().done();
  fold->choices()->findChild<QWidget*>("measure")->setFocus();
  QMetaObject::invokeMethod(fold->choices()->findChild<QObject*>("measure"), "click");
  QTableWidget* table = fold->measure_panel()->table();
  const double part =
      workspace.document.division().layout.families[0].extent_mm / workspace.document.project().grid.parts;
  const std::pair<int, double> readings[] = {{0, 0.2}, {3, -0.3}, {5, 1.3}, {7, 0.1}, {10, -0.2}};
  for (const auto& [row, off] : readings) table->item(row, 2)->setText(QString::number((row + 1) * part + off, 'f', 1));
  wrong << shoot("measure");
  wrong << fold->session().end(RunStatus::abandoned);
  window.show_stage("divide");
  window.notify(QObject::tr("Crater panel (never saved to a file) was not saved when the program ended; last changed "
                            "2026-11-07 21:40."),
                {{QObject::tr("Restore it"), [] {}}, {QObject::tr("Discard it"), [] {}}}, "picture-1");
  window.notify(QObject::tr("The file of this project was changed by another program."),
                {{QObject::tr("Take theirs"), [] {}}, {QObject::tr("Keep mine"), [] {}}}, "picture-2");
  window.notify(QObject::tr("The drawing is on the clipboard."), {}, "picture-3");
  window.notices()->set_open(true);
  wrong << shoot("notices");
  for (const char* key : {"picture-1", "picture-2", "picture-3"}) window.notices()->remove(key);
  apply_theme(make_theme(ThemeChoice::dark));
  workspace.document.change("", [](Project& p) {
    p.sheet = parse_sheet("ngon:6:120mm").value();
    p.sheet_name = "ngon:6:120mm";
    p.trueness.reset();
    p.grid.axis = GridAxis::equilateral;
    p.grid.direction = DirectionRule::alternating;
    p.grid.method = Method::neighbours;
  });
  window.show_stage("divide");
  while (divide_stage->busy()) settle(1);
  wrong << shoot("divide-dark");
  apply_theme(make_theme(ThemeChoice::light));
  window.open_steps(data_folder() + "/steps/bird-base.steps");
  wrong << fold->session().start();
  for (int i = 0; i < 6; ++i) wrong << fold->session().done();
  wrong << shoot("steps");
  wrong << fold->session().end(RunStatus::abandoned);
  workspace.document.change("", [](Project& p) {
    p.steps.clear();
    p.folded = FoldedWork::grid;
    p.units = {};
    p.units.solid = "truncated-icosahedron";
    p.units.family = "zigzag-strip";
    p.units.finished_mm = 180;
    p.units.evenings = 4;
  });
  window.show_stage("units");
  auto* units = static_cast<UnitsStage*>(window.stage("units"));
  do settle(8);
  while (units->busy());
  units->set_joined(57);
  wrong << shoot("units");
  units->set_shown(UnitsStage::Shown::map);
  wrong << shoot("units-map");
  wrong.removeAll(QString());
  return wrong.join('\n');
}

} // namespace uc::app
