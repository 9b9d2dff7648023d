// under-crease-cli from outside: exit codes, one line of complaint, one JSON document, and answers that add up.
#include "caller.h"

#include "divide/division.h"
#include "record/run_log.h"
#include "runner.h"

#include <QDir>
#include <QFileInfo>

#include <map>

using namespace uc;
using uc::testing::near;
using uc::testing::only_finite;
using uc::testing::Outcome;

class ContractTest : public QObject {
  Q_OBJECT
  const testing::Caller call;
  const QString demo_ = QStringLiteral(UC_SOURCE_DIR) + "/data/demo/open-night.undercrease";

  [[nodiscard]] QStringList arguments(const Json& list) const {
    QStringList args;
    for (const Json& a : list) args << (a == Json("DEMO") ? demo_ : QString::fromStdString(a.get<std::string>()));
    return args;
  }

private slots:
  void divide_data() { testing::add_rows(testing::cases("cli_divide.json")); }
  void divide() {
    const Json c = testing::row();
    const Outcome o = call(QStringList{"divide"} + arguments(c["args"]) + QStringList{"--json"});
    QCOMPARE(o.exit, 0);
    QVERIFY(o.err.isEmpty());
    const Json j = testing::parsed(o.out.toStdString());
    only_finite(j);
    if (c["families"] == Json(1))
      QVERIFY(j["axis"] == c["axis"]);
    else
      QVERIFY(!j.contains("axis") && !j.contains("lines"));
    const double sigma = c.value("sigma", 0.25);
    const double guess = c.value("guess", 2.0);
    QVERIFY(near(j["sigma_mm"], sigma, 1e-12) && near(j["guess_sigma_mm"], guess, 1e-12));
    std::vector<Json> families;
    if (c["families"] == Json(1))
      families = {j};
    else
      for (const Json& f : j["families"]) families.push_back(f);
    QCOMPARE(families.size(), c["families"].get<std::size_t>());
    const int parts = j["parts"];
    int folds = 0;
    double worst = 0;
    for (std::size_t n = 0; n < families.size(); ++n) {
      const Json& f = families[n];
      const double extent = f["extent_mm"];
      QVERIFY(near(extent, c.contains("extents") ? c["extents"][n].get<double>() : c["extent"].get<double>(), 1e-6));
      QCOMPARE(f["lines"].size(), static_cast<std::size_t>(parts) + 1);
      // Replay the steps with coefficients kept here, independently of the planner.
      std::vector<std::vector<double>> lines(static_cast<std::size_t>(parts) + 1);
      std::vector<double> variances;
      std::vector<char> known(lines.size(), 0);
      known.front() = known.back() = 1;
      const auto fresh = [&](double variance) {
        variances.push_back(variance);
        std::vector<double> row(variances.size(), 0);
        row.back() = 1;
        return row;
      };
      if (c.contains("start")) {
        const auto mark = c["start"][0].get<std::size_t>();
        lines[mark] = fresh(std::pow(c["start"][1].get<double>(), 2));
        known[mark] = 1;
      }
      std::size_t count = 0;
      for (const Json& s : f["steps"]) {
        QVERIFY(s["n"] == Json(++count));
        QVERIFY(!s["text"].get<std::string>().empty());
        const auto a = s["a"].get<std::size_t>();
        const auto b = s["b"].get<std::size_t>();
        const auto makes = s["makes"].get<std::size_t>();
        if (s["kind"] == Json("guess")) {
          lines[makes] = fresh(guess * guess);
        } else {
          ++folds;
          QVERIFY(known[a] && known[b]);
          const bool bring = s["kind"] == Json("bring");
          QCOMPARE(makes, bring ? (a + b) / 2 : 2 * a - b);
          const double wa = bring ? 0.5 : 2;
          const double wb = bring ? 0.5 : -1;
          std::vector<double> row = fresh(sigma * sigma);
          for (std::size_t i = 0; i < lines[a].size(); ++i) row[i] += wa * lines[a][i];
          for (std::size_t i = 0; i < lines[b].size(); ++i) row[i] += wb * lines[b][i];
          lines[makes] = row;
        }
        known[makes] = 1;
      }
      for (int k = 0; k <= parts; ++k) {
        const Json& line = f["lines"][static_cast<std::size_t>(k)];
        QVERIFY(line["index"] == Json(k));
        QVERIFY(near(line["position_mm"], extent * k / parts, 1e-9 * extent));
        double v = 0;
        const auto& row = lines[static_cast<std::size_t>(k)];
        for (std::size_t i = 0; i < row.size(); ++i) v += row[i] * row[i] * variances[i];
        QVERIFY(near(line["sigma_mm"], std::sqrt(v), 1e-9 + 1e-9 * std::sqrt(v)));
        worst = std::max(worst, std::sqrt(v));
      }
    }
    QVERIFY(near(j["worst_sigma_mm"], worst, 1e-9 + 1e-9 * worst));
    QVERIFY(j["creases"] == Json(folds));
    if (c.contains("worst_variance")) QVERIFY(near(std::pow(worst / sigma, 2), c["worst_variance"], 1e-6));
    if (c.contains("creases")) QVERIFY(j["creases"] == c["creases"]);
    for (const char* key : {"turn_overs", "rotations"}) QVERIFY(j[key].is_number_integer());
    QVERIFY(j["minutes"].get<double>() > 0);
    QCOMPARE(call(QStringList{"divide"} + arguments(c["args"]) + QStringList{"--json"}).out, o.out);
  }

  void either_side_changes_nothing_but_the_rotations() {
    const QStringList args{"divide", "--sheet", "square:240mm", "--parts", "12", "--axis", "both", "--json"};
    const Json turned = testing::parsed(call(args).out.toStdString());
    const Json j = testing::parsed(call(args + QStringList{"--either-side"}).out.toStdString());
    QVERIFY(j["rotations"] == 1 && turned["rotations"].get<int>() > 1);
    for (const char* key : {"worst_sigma_mm", "creases", "turn_overs"}) QVERIFY(j[key] == turned[key]);
  }

  void divisions_start_from_folded_lines_data() {
    QTest::addColumn<QString>("kind");
    for (const char* kind : {"diagonals", "corner-fold", "binary", "route", "ruler", "printed"})
      QTest::newRow(kind) << QString(kind);
  }
  void divisions_start_from_folded_lines() {
    QFETCH(QString, kind);
    const QStringList args{"divide", "--sheet", "square:240mm", "--parts", "7", "--start", kind, "--json"};
    const Outcome o = call(args);
    QVERIFY2(o.exit == 0, o.err.constData());
    const Json j = testing::parsed(o.out.toStdString());
    only_finite(j);
    const auto line = j["start"]["line"].get<std::size_t>();
    const double start = j["start"]["sigma_mm"];
    QVERIFY(start > 0 && line >= 1 && line <= 6);
    QVERIFY(!j["start"]["moves"].empty());
    // The steps, replayed with the start's own variance, leave what the lines say.
    std::vector<std::map<int, double>> rows(8);
    std::vector<double> variances{start * start};
    std::vector<char> known(8, 0);
    known[0] = known[7] = known[line] = 1;
    rows[line] = {{0, 1}};
    for (const Json& s : j["steps"]) {
      const auto a = s["a"].get<std::size_t>();
      const auto b = s["b"].get<std::size_t>();
      const auto makes = s["makes"].get<std::size_t>();
      std::map<int, double> row;
      if (s["kind"] == Json("guess")) {
        variances.push_back(4);
      } else {
        QVERIFY(known[a] && known[b]);
        const bool bring = s["kind"] == Json("bring");
        for (const auto& [i, v] : rows[a]) row[i] += (bring ? 0.5 : 2) * v;
        for (const auto& [i, v] : rows[b]) row[i] += (bring ? 0.5 : -1) * v;
        variances.push_back(0.0625);
      }
      row[static_cast<int>(variances.size()) - 1] = 1;
      rows[makes] = row;
      known[makes] = 1;
    }
    for (std::size_t k = 1; k < 7; ++k) {
      double v = 0;
      for (const auto& [i, x] : rows[k]) v += x * x * variances[static_cast<std::size_t>(i)];
      QVERIFY(near(j["lines"][k]["sigma_mm"], std::sqrt(v), 1e-9));
    }
    QCOMPARE(call(args).out, o.out);
  }

  void bad_calls_data() {
    QTest::addColumn<QString>("json");
    int n = 0;
    for (const Json& c : testing::cases("cli_bad_calls.json"))
      QTest::newRow(("call " + std::to_string(++n) + " " + c["says"].get<std::string>()).c_str())
          << QString::fromStdString(c.dump());
  }
  void bad_calls() {
    const Json c = testing::row();
    const Outcome o = call(arguments(c["args"]));
    QCOMPARE(o.exit, 2);
    QVERIFY(o.out.isEmpty());
    QCOMPARE(o.err.count('\n'), 1);
    QVERIFY2(o.err.contains(QByteArray::fromStdString(c["says"])), o.err.constData());
  }

  void help_has_an_example() {
    for (const QStringList& command : {QStringList{"divide"},
                                       {"export"},
                                       {"log"},
                                       {"log", "list"},
                                       {"log", "show"},
                                       {"log", "export"},
                                       {"reference"},
                                       {"polygon"},
                                       {"proportion"}}) {
      const Outcome o = call(command + QStringList{"--help"});
      QCOMPARE(o.exit, 0);
      QVERIFY2(o.out.contains("Example: under-crease-cli"), qPrintable(command.join(' ')));
    }
    QCOMPARE(call({"--help"}).exit, 0);
    QVERIFY(call({"--version"}).out.contains("under-crease-cli"));
  }

  void plain_output_reads_like_instructions() {
    const Outcome o = call({"divide", "--sheet", "square:240mm", "--parts", "4"});
    QCOMPARE(o.exit, 0);
    QVERIFY(o.out.contains("1. Bring the left edge to the right edge."));
    QVERIFY(o.out.contains("3 creases"));
  }

  void exports_every_kind_of_file() {
    for (const char* ending : {"pdf", "svg", "csv", "html", "ics"}) {
      const QString file = call.home() + "/out." + ending;
      const Outcome o = call({"export", demo_, "-o", file, "--start", "2026-11-28T18:00:00", "--json"});
      QVERIFY2(o.exit == 0, o.err.constData());
      const Json j = testing::parsed(o.out.toStdString());
      QCOMPARE(j["bytes"].get<qint64>(), QFileInfo(file).size());
      const std::string first = read_file(file.toStdString()).value();
      QVERIFY(call({"export", demo_, "-o", file, "--start", "2026-11-28T18:00:00"}).exit == 0);
      QVERIFY2(read_file(file.toStdString()).value() == first, ending);
    }
  }

  void the_log_is_listed_shown_and_exported() {
    QCOMPARE(call({"log", "list"}).exit, 0);
    QVERIFY(!QFileInfo::exists(call.home() + "/under-crease")); // listing makes nothing
    {
      QVERIFY(QDir().mkpath(call.home() + "/under-crease"));
      RunLog log = std::move(RunLog::open((call.home() + "/under-crease/log.sqlite").toStdString())).value();
      RunDetail run;
      run.summary.title = "Crater panel";
      run.summary.sheet = "square:200mm";
      run.summary.size = 16;
      run.summary.started = "2026-09-02T18:10:00Z";
      run.summary.status = RunStatus::finished;
      run.events = {{EventKind::done, 0, 30, "", "2026-09-02T18:11:00Z"},
                    {EventKind::fault, 1, 0, "slipped", "2026-09-02T18:12:00Z"}};
      run.measured = {{"x", 8, 100.2, 100, 0.25, 0.15}};
      QVERIFY(log.add_whole(run).ok());
      run.summary.title = "Moon lamp";
      QVERIFY(log.add_whole(run).ok());
    }
    Json j = testing::parsed(call({"log", "list", "--json"}).out.toStdString());
    QCOMPARE(j["runs"].size(), std::size_t{2});
    j = testing::parsed(call({"log", "list", "--search", "crater", "--json"}).out.toStdString());
    QCOMPARE(j["runs"].size(), std::size_t{1});
    const std::string id = std::to_string(j["runs"][0]["id"].get<int>());
    j = testing::parsed(call({"log", "show", QString::fromStdString(id), "--json"}).out.toStdString());
    QCOMPARE(j["events"].size(), std::size_t{2});
    QVERIFY(near(j["measured"][0]["position_mm"], 100.2, 1e-9));
    QVERIFY(call({"log", "show", QString::fromStdString(id)}).out.contains("slipped"));
    const Outcome none = call({"log", "show", "999"});
    QCOMPARE(none.exit, 1);
    QVERIFY(none.err.contains("no run 999"));
    QCOMPARE(call({"log", "export", "-o", call.home() + "/runs.csv"}).exit, 0);
    QVERIFY(QByteArray(read_file((call.home() + "/runs.csv").toStdString()).value().c_str()).contains("Moon lamp"));
    QCOMPARE(call({"log", "export", "-o", call.home() + "/runs.json"}).exit, 0);
    QCOMPARE(testing::parsed(read_file((call.home() + "/runs.json").toStdString()).value())["runs"].size(),
             std::size_t{2});
  }
};

UC_TEST(ContractTest)
#include "contract_test.moc"
