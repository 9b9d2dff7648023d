// The command steps as scripts see it: fields, states, files, and every state of the library under a second opinion.
#include "caller.h"
#include "fold_checker.h"
#include "folded_steps.h"
#include "runner.h"

#include <QFile>

#include <algorithm>
#include <array>
#include <cmath>

using namespace uc;
using uc::testing::area_by_rim;
using uc::testing::Caller;
using uc::testing::FoldChecker;

class StepsContractTest : public QObject {
  Q_OBJECT
  Caller call_;
  [[nodiscard]] QString path(const QString& name) const { return call_.home() + "/" + name; }
  static Json json(const testing::Outcome& o) { return testing::parsed(o.out.toStdString()); }
  QString written(const char* text) const {
    const bool ok = write_atomically(path("a.steps").toStdString(), text).ok();
    return ok ? path("a.steps") : QString();
  }

private slots:
  /// Folds through two layers creep by the caliper times a half; one layer does not.
  void thick_paper_creeps() {
    const auto worst = [&](const char* text, const QStringList& more) {
      return json(call_(QStringList{"steps", written(text), "--json"} + more))["worst_sigma_mm"].get<double>();
    };
    const char* once = "sheet 120x90mm\nvalley left onto right\n";
    const char* twice = "sheet 120x90mm\nvalley left onto right\nvalley bottom onto top\n";
    QCOMPARE(worst(once, {"--caliper", "0.4"}), worst(once, {}));
    const double thin = worst(twice, {});
    const double thick = worst(twice, {"--caliper", "0.4"});
    QVERIFY2(std::abs(thick - std::hypot(thin, 0.2)) < 1e-3, qPrintable(QString("%1 %2").arg(thin).arg(thick)));
    QVERIFY(worst(twice, {"--caliper", "0.8mm"}) > thick);
    const auto o = call_({"steps", written(once), "--caliper", "thick"});
    QVERIFY(o.exit == 2 && o.err.contains("--caliper") && o.err.count('\n') == 1);
  }

  void a_sequence_is_re_dimensioned() {
    const QString roll = written("let long = 200\nlet layers_moved = 2\nsheet strip:longx30mm\n"
                                 "valley left onto right\nvalley bottom onto top layers layers_moved\n");
    const auto width = [&](const QStringList& set) {
      QStringList args = {"steps", roll, "--json", "--state", "1"};
      for (const QString& s : set) args << "--set" << s;
      const auto o = call_(args);
      return o.exit == 0 ? json(o)["states"][0]["size_mm"][0].get<double>() : -o.exit;
    };
    QCOMPARE(width({}), 100.0);
    QCOMPARE(width({"long=30cm"}), 150.0);
    QCOMPARE(width({"long=sqrt(2)*100", "layers_moved=4/2"}), 50 * std::sqrt(2.0));
    for (const auto& [set, says] : std::vector<std::pair<QString, QByteArray>>{
             {"wide=3", "this sequence has no such parameter; it has long, layers_moved"},
             {"long", "type a name, = and a number"},
             {"long=many", "\"many\" is not a number"},
             {"layers_moved=0", "type 1 to 1000"},
             {"long=-5", "a.steps:3: "}}) {
      const auto o = call_({"steps", roll, "--set", set});
      QVERIFY2(o.exit == 2 && o.err.contains(says) && o.err.count('\n') == 1 && o.out.isEmpty(), o.err.constData());
    }
    const auto twice = call_({"steps", roll, "--set", "long=1", "--set", "long=2"});
    QVERIFY(twice.exit == 2 && twice.err.contains("set twice"));
    const auto none = call_({"steps", "halves", "--set", "n=3"});
    QVERIFY(none.exit == 2 && none.err.contains("it has none"));
    const Json listed = json(call_({"steps", "--list", "--json"}));
    for (const Json& s : listed["sequences"]) {
      if (s["name"] != "strip-roll") continue;
      QVERIFY(s["parameters"] == testing::parsed(R"([{"name":"length","type":"number","default":240.0},
                                                 {"name":"width","type":"number","default":20.0}])"));
      QVERIFY(json(call_({"steps", "strip-roll", "--set", "length=32cm", "--json"}))["sheet_mm"] ==
              Json({320.0, 20.0}));
    }
  }

  void two_ways_are_compared() {
    const Json ways = json(call_({"steps", "bird-base", "--compare", "fish-base", "--json"}))["ways"];
    QCOMPARE(ways.size(), std::size_t{2});
    const std::array<const char*, 2> names = {"bird-base", "fish-base"};
    for (std::size_t i = 0; i < 2; ++i) {
      const Json alone = json(call_({"steps", names[i], "--json"}));
      QVERIFY(ways[i]["name"] == names[i]);
      QVERIFY(ways[i]["moves"].get<std::size_t>() + 1 == alone["states"].size());
      QVERIFY(ways[i]["worst_sigma_mm"] == alone["worst_sigma_mm"] && ways[i]["worst_gap_mm"] == alone["worst_gap_mm"]);
      QVERIFY(ways[i]["size_mm"] == alone["states"].back()["size_mm"]);
      QVERIFY(ways[i]["minutes"].get<double>() > 1);
    }
    const auto none = call_({"steps", "bird-base", "--compare", "no-such-base"});
    QVERIFY2(none.exit == 2 && none.err.contains("no-such-base"), none.err.constData());
    QVERIFY(call_({"steps", "bird-base", "--compare", "fish-base", "--state", "1"}).exit == 2);
  }

  void a_file_is_written_evenly() {
    const QString file = written("# A strip\nlet  n=3 # parts\nsheet 90x30mm\nvalley   left onto right # over\n");
    const QString even = path("even.steps");
    QCOMPARE(call_({"steps", file, "--set", "n=5", "--sheet", "120x40mm", "-o", even}).exit, 0);
    const auto text = read_file(even.toStdString());
    QCOMPARE(*text, std::string("# A strip\nlet n = 5  # parts\nsheet 120x40mm\nvalley left onto right  # over\n"));
    const QString again = path("again.steps");
    QCOMPARE(call_({"steps", even, "-o", again}).exit, 0);
    QCOMPARE(*read_file(again.toStdString()), *text);
    QVERIFY(call_({"steps", file, "-o", file}).exit == 2); // what is read is not replaced
  }

  void the_grammar_is_told() {
    const Json lines = json(call_({"steps", "--grammar", "--json"}))["grammar"];
    QVERIFY(lines.size() >= 18);
    QVERIFY(call_({"steps", "--grammar"}).out.contains("reverse tr along c3"));
  }

  void the_library_is_listed_and_folds() {
    const Json list = json(call_({"steps", "--list", "--json"}))["sequences"];
    QVERIFY(list.size() >= 6);
    for (const Json& s : list) {
      const auto o = call_({"steps", QString::fromStdString(s["name"]), "--json"});
      QVERIFY2(o.exit == 0 && o.err.isEmpty(), o.err.constData());
      const Json j = json(o);
      QCOMPARE(j["states"].size(), s["moves"].get<std::size_t>() + 1);
      QVERIFY(s["parameters"].is_array() && !s["title"].get<std::string>().empty());
      const double area = j["sheet_mm"][0].get<double>() * j["sheet_mm"][1].get<double>();
      for (std::size_t n = 0; n < j["states"].size(); ++n) {
        const Json& state = j["states"][n];
        QCOMPARE(state["n"].get<std::size_t>(), n);
        const bool cut =
            std::any_of(state["edges"].begin(), state["edges"].end(), [](const Json& e) { return e[2] == "cut"; });
        QCOMPARE(FoldChecker(state).wrong(cut ? area_by_rim(state) : area), std::string());
        for (const char* key : {"line", "text", "layers_max", "size_mm", "underside_up"}) QVERIFY(state.contains(key));
      }
      // The hexagon's creases cross a line of the construction at 30 degrees: there their errors count twice.
      QVERIFY(j["worst_sigma_mm"].get<double>() < (s["name"] == "hexagon-cut" ? 2 : 1));
    }
  }

  void a_state_is_as_the_contract_says() {
    const QString file =
        written("sheet 120x90mm\n\nc2 = valley bottom onto top\nover\np1 = pinch left onto right at top\n"
                "x = cross p1 c2\n");
    const auto o = call_({"steps", file, "--json", "--sigma", "0.5"});
    QVERIFY2(o.exit == 0, o.err.constData());
    const Json j = json(o);
    QVERIFY(j["sheet_mm"] == Json({120.0, 90.0}));
    QCOMPARE(j["states"].size(), std::size_t{4});
    const Json& bare = j["states"][0];
    QVERIFY(bare["faces"].size() == 1 && bare["above"].empty() && bare["layers_max"] == 1);
    const Json& folded = j["states"][1];
    QCOMPARE(folded["line"].get<int>(), 3); // lines of the file count, empty ones too
    QCOMPARE(folded["above"].size(), std::size_t{1});
    QVERIFY(folded["size_mm"] == Json({120.0, 45.0}));
    QVERIFY(folded["faces"][0]["isometry"] == Json({1.0, 0.0, 0.0, 1.0, 0.0, 0.0}));
    // The valley laid the coloured sides together: seen from face 0, the other face is above it.
    QVERIFY(folded["above"][0] == Json({1, 0}));
    QVERIFY(!folded["underside_up"].get<bool>() && j["states"][2]["underside_up"].get<bool>());
    QVERIFY(!folded.contains("marks"));
    QCOMPARE(j["states"][3]["marks"].size(), std::size_t{2}); // through both layers
    QCOMPARE(j["states"][3]["faces"].size(), std::size_t{2}); // a pinch bounds no face
    QVERIFY(j["points"]["x"] == Json({60.0, 45.0}));
    const Json one = json(call_({"steps", file, "--json", "--state", "2"}));
    QVERIFY(one["states"].size() == 1 && one["states"][0] == j["states"][2]);
    const Json larger = json(call_({"steps", file, "--sheet", "240x180mm", "--json"}));
    QVERIFY(larger["states"][1]["size_mm"] == Json({240.0, 90.0}));
  }

  void what_is_refused_keeps_the_states_before_it() {
    const auto o =
        call_({"steps", written("sheet a6\nvalley left onto right\nvalley br onto tr layers 1\nover\n"), "--json"});
    QCOMPARE(o.exit, 1);
    QCOMPARE(o.err.count('\n'), 1);
    const Json j = json(o);
    QCOMPARE(j["states"].size(), std::size_t{2});
    QCOMPARE(j["refused"]["line"].get<int>(), 3);
  }

  void the_finished_size_is_that_of_the_packet() {
    const QString file = path("blintz.html");
    QCOMPARE(call_({"steps", "blintz-base", "-o", file}).exit, 0);
    QFile f(file);
    QVERIFY(f.open(QIODevice::ReadOnly));
    // A square on its corner: 150 / sqrt(2), not its level box.
    const QByteArray html = f.readAll();
    QVERIFY2(html.contains("Finished: 106.1 mm × 106.1 mm."), html.right(400).constData());
  }

  void files_of_every_ending() {
    for (const char* ending : {"pdf", "html", "svg", "json"}) {
      const QString file = path(QStringLiteral("kite.%1").arg(ending));
      const auto o = call_({"steps", "kite-base", "-o", file});
      QVERIFY2(o.exit == 0, o.err.constData());
      QFile f(file);
      QVERIFY(f.open(QIODevice::ReadOnly));
      const QByteArray bytes = f.readAll();
      QVERIFY(bytes.size() > 1000);
      if (QByteArray(ending) == "html")
        QCOMPARE(bytes.count("<svg"), qsizetype{4}); // three moves and the finished kite
      if (QByteArray(ending) == "svg") QVERIFY(bytes.contains("Finished: ") && bytes.contains("Kite base"));
      if (QByteArray(ending) == "json")
        QVERIFY(testing::parsed(bytes.toStdString()) == json(call_({"steps", "kite-base", "--json"})));
    }
  }
};

UC_TEST(StepsContractTest)
#include "steps_contract_test.moc"
