// hand and judge, called as a script does, on runs that were folded by a simulated hand.
#include "caller.h"
#include "folding_hand.h"
#include "runner.h"

#include "io/json_codec.h"
#include "record/run_log.h"

#include <QFile>

using namespace uc;
using uc::testing::Caller;
using uc::testing::folded_by;
using uc::testing::Outcome;

namespace {

Json run_json(const MeasuredFamily& m, double extent_mm) {
  Json lines = Json::array();
  for (std::size_t i = 0; i < m.lines.size(); ++i)
    lines.push_back({m.lines[i], extent_mm * m.lines[i] / m.task.parts + m.deviation_mm[i]});
  return {{"sheet", "square:240mm"}, {"parts", m.task.parts}, {"axis", "x"},
          {"method", "best"},        {"ruler_mm", 0.15},      {"lines", lines}};
}

} // namespace

class MeasureContractTest : public QObject {
  Q_OBJECT
  QTemporaryDir dir_;
  Caller call_{dir_.path()};
  QString write(const char* name, const Json& runs) {
    const QString path = dir_.filePath(name);
    QFile file(path);
    file.open(QIODevice::WriteOnly);
    file.write(
        QByteArray::fromStdString(Json{{"format", "under-crease/measured"}, {"version", 1}, {"runs", runs}}.dump()));
    return path;
  }
  Json answered(const QStringList& args, int exit = 0) {
    const Outcome o = call_(args);
    if (o.exit != exit) qWarning("%s", o.err.constData());
    if (o.exit != exit) return {};
    Json j = testing::parsed(o.out.toStdString());
    testing::only_finite(j);
    return j;
  }

private slots:
  void the_hand_is_found_from_a_file() {
    std::mt19937 random(9);
    Json runs = Json::array();
    for (int i = 0; i < 30; ++i) {
      MeasuredFamily m = folded_by({}, 8, random);
      if (i == 7) m.deviation_mm[2] += 5;
      runs.push_back(run_json(m, 240));
    }
    const QString file = write("hand.json", runs);
    const Json j = answered({"hand", file, "--json"});
    QVERIFY(std::abs(j.at("sigma_mm").get<double>() - 0.25) < 3 * j.at("standard_error_mm").get<double>());
    QCOMPARE(j.at("runs"), Json(30));
    QCOMPARE(j.at("lines"), Json(210));
    bool named = false;
    for (const Json& left : j.at("left_out"))
      named = named || (left.at("run") == 7 && left.at("line") == 3 && left.at("z") > 3.5);
    QVERIFY(named);
    for (const char* key : {"bias_mm", "bias_error_mm", "ruler_mm"}) QVERIFY(j.at(key).is_number());
    QCOMPARE(j.at("seconds").at("fold"), Json(25.0));
    QVERIFY(call_({"hand", file}).out.contains("left out: line 3 of run 8"));
    // Two runs of two lines tell nothing: exit 1 with the reason.
    const Json less = answered(
        {"hand",
         write("less.json",
               Json::array({{{"sheet", "a4"}, {"parts", 3}, {"lines", Json::array({{1, 70.0}, {2, 140.0}})}}})),
         "--json"},
        1);
    QVERIFY(less.at("refused").at("reason").get<std::string>().find("Too few lines") != std::string::npos);
  }

  void a_run_is_judged_and_the_slip_named() {
    std::mt19937 random(12);
    const auto plan = folded_by({}, 8, random).steps;
    std::size_t half = 0;
    while (plan[half].makes != 4) ++half;
    const MeasuredFamily m = folded_by({}, 8, random, Method::best, {}, testing::Slip{half, 2.5});
    const Json j = answered({"judge", write("judge.json", Json::array({run_json(m, 240)})), "--json"});
    QCOMPARE(j.at("lines").size(), std::size_t{7});
    QCOMPARE(j.at("again"), Json(true));
    QCOMPARE(j.at("cause").at("kind"), Json("fold"));
    // The move's number is that of the step in `divide --json`.
    const Json divided = answered({"divide", "--sheet", "square:240mm", "--parts", "8", "--json"});
    const int n = j.at("cause").at("move").get<int>();
    QCOMPARE(divided.at("steps").at(static_cast<std::size_t>(n - 1)).at("makes"), Json(4));
    QVERIFY(j.at("cause").at("share") > 0.5 && std::abs(j.at("cause").at("shift_mm").get<double>()) > 1);
    QCOMPARE(j.at("refold")[0].at("line"), Json(4));
    QCOMPARE(j.at("refold")[0].at("from"), Json::array({0, 8}));
    for (const Json& line : j.at("lines")) {
      const double off = line.at("off_mm");
      const double limit = line.at("limit_mm");
      QCOMPARE(line.at("verdict") == "normal", std::abs(off) <= limit);
      QVERIFY(std::abs(line.at("planned_mm").get<double>() - 30.0 * line.at("line").get<int>()) < 1e-9);
    }
    // A hand that errs more finds the same sheet normal.
    const Json loose = answered({"judge", dir_.filePath("judge.json"), "--sigma", "2", "--json"});
    QVERIFY(loose.at("again") == false && loose.at("cause").is_null() && loose.at("refold").empty());
    QVERIFY(call_({"judge", dir_.filePath("judge.json")}).out.contains("fold line 4 again: bring line 0 onto line 8"));
  }

  void only_what_was_done_counts() {
    // After the first of the moves only the half line is there; with all but that move skipped nothing is.
    const Json one = {{"sheet", "square:240mm"}, {"parts", 8}, {"done", 1}, {"lines", Json::array({{4, 120.1}})}};
    const Json j = answered({"judge", write("one.json", Json::array({one})), "--json"});
    QCOMPARE(j.at("lines").size(), std::size_t{1});
    Json skipped = one;
    skipped["skipped"] = Json::array({1});
    const Outcome o = call_({"judge", write("skipped.json", Json::array({skipped})), "--json"});
    QCOMPARE(o.exit, 2);
    QVERIFY2(o.err.contains("line 4 is measured, but none of the moves"), o.err.constData());
    QCOMPARE(o.err.count('\n'), 1);
  }

  void the_hand_is_found_from_the_log() {
    const auto division = divide(parse_sheet("square:240mm").value(), GridSpec{}, HandProfile{});
    const QString path = dir_.filePath("log.sqlite");
    {
      RunLog log = std::move(RunLog::open(path.toStdString())).value();
      std::mt19937 random(4);
      for (int i = 0; i < 12; ++i) {
        RunDetail run;
        run.summary.title = "Panel";
        run.programme_json = json_of(division->programme).dump();
        run.plans_json = plans_json(*division).dump();
        const auto id = *log.begin(run);
        const int moves = static_cast<int>(division->programme.moves.size());
        for (int k = 0; k < moves; ++k)
          QVERIFY(log.add_event(id, {EventKind::done, k, 40, "", "2026-10-01T18:00:00Z"}).ok());
        std::vector<MeasuredLine> lines;
        const auto plans = *stored_plans(run);
        for (const StoredPlan& plan : plans) {
          testing::SimulatedHand hand;
          hand.sigma_mm = 0.5;
          const MeasuredFamily m = folded_by(hand, 8, random);
          for (std::size_t l = 0; l < m.lines.size(); ++l)
            lines.push_back(
                {plan.family, m.lines[l], 30.0 * m.lines[l] + m.deviation_mm[l], 30.0 * m.lines[l], 0.3, 0.15});
        }
        QVERIFY(log.set_measured(id, lines).ok());
        QVERIFY(log.end(id, RunStatus::finished, "2026-10-01T18:20:00Z").ok());
      }
    }
    const Json j = answered({"hand", "--log", path, "--json"});
    QVERIFY2(std::abs(j.at("sigma_mm").get<double>() - 0.5) < 0.12, j.dump().c_str());
    // Every move took 40 s: the pace goes there from the 25 s that are assumed.
    QVERIFY(j.at("seconds").at("fold") > 35.0 && j.at("seconds").at("fold") < 40.0);
  }

  void wrong_calls_are_told_in_one_line() {
    const QString bad = write("bad.json", Json::array({{{"sheet", "square:240mm"}, {"parts", 8}}}));
    for (const QStringList& args :
         {QStringList{"hand"}, QStringList{"judge"}, QStringList{"hand", bad}, QStringList{"judge", bad},
          QStringList{"hand", "--log", "nowhere.sqlite"}, QStringList{"judge", "nowhere.json"},
          QStringList{"judge", bad, "--sigma", "-1"}, QStringList{"hand", bad, "--log", bad}}) {
      const Outcome o = call_(args);
      QVERIFY2(o.exit == 2 && o.err.count('\n') == 1 && o.out.isEmpty(), qPrintable(args.join(' ') + o.err));
    }
    QCOMPARE(call_({"judge", write("none.json", Json::array())}).exit, 1);
    const Json edges = {{"sheet", "a4"}, {"parts", 8}, {"lines", Json::array({{0, 0.1}, {8, 210.0}})}};
    QCOMPARE(call_({"judge", write("edges.json", Json::array({edges}))}).exit, 1);
  }
};

UC_TEST(MeasureContractTest)
#include "measure_contract_test.moc"
