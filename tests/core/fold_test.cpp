// Folds that stay folded: steps files carried out, every state checked by a second opinion, refusals with their line,
// errors against closed forms and against folding in numbers.
#include "runner.h"
#include "support.h"

#include "folded_steps.h"

#include "fold/step_errors.h"
#include "fold/step_programme.h"
#include "fold/step_text.h"
#include "io/steps_json.h"
#include "io/steps_library.h"
#include "programme/figure.h"

#include <random>

using namespace uc;
using uc::testing::all_wrong;
using uc::testing::FoldChecker;
using uc::testing::folded;
using uc::testing::near;

namespace {

/// Lines of a steps file made at random; most of them cannot be folded.
class RandomSteps {
public:
  explicit RandomSteps(unsigned seed) : random_(seed) {}

  std::string sheet() {
    static const std::vector<std::string> sheets = {"square:150mm", "150x100mm",   "strip:200x40mm",
                                                    "a5",           "ngon:6:70mm", "ngon:3:120mm"};
    const std::size_t i = random_() % sheets.size();
    corners_ = i == 4 ? 6 : i == 5 ? 3 : 4;
    return "sheet " + sheets[i] + "\n";
  }
  std::string line(int creases) {
    static const std::vector<std::string> verbs = {"valley", "valley", "mountain", "crease"};
    if (random_() % 12 == 0) return "over";
    if (creases > 0 && random_() % 10 == 0) return "unfold c" + std::to_string(1 + random_() % creases);
    std::string text = verbs[random_() % verbs.size()] + " ";
    switch (random_() % 5) {
    case 0:
      text += point() + " onto " + point();
      break;
    case 1:
      text += side(creases) + " onto " + side(creases);
      break;
    case 2:
      text += point() + " onto " + side(creases) + " through " + point() + " way " + std::to_string(1 + random_() % 2);
      break;
    case 3:
      text += "through " + point() + " square to " + side(creases);
      break;
    default:
      text += "through " + point() + " " + point() + " moving " + point();
    }
    if (random_() % 3 == 0)
      text += " layers " + std::to_string(1 + random_() % 3);
    else if (random_() % 4 == 0)
      text += " flap " + point();
    return text;
  }

private:
  std::string point() {
    static const std::array<const char*, 4> names = {"bl", "br", "tr", "tl"};
    const auto i = random_() % static_cast<unsigned>(corners_);
    return corners_ == 4 ? names[i] : "v" + std::to_string(i + 1);
  }
  std::string side(int creases) {
    static const std::array<const char*, 4> names = {"bottom", "right", "top", "left"};
    if (creases > 0 && random_() % 2) return "c" + std::to_string(1 + random_() % creases);
    const auto i = random_() % static_cast<unsigned>(corners_);
    return corners_ == 4 ? names[i] : "e" + std::to_string(i + 1);
  }
  std::mt19937 random_;
  int corners_ = 4;
};

} // namespace

class FoldTest : public QObject {
  Q_OBJECT

private slots:
  void sequences_reach_their_states_data() { testing::add_rows(testing::cases("steps.json")["reached"]); }
  void sequences_reach_their_states() {
    const Json c = testing::row();
    std::string text;
    for (const Json& line : c["lines"]) text += line.get<std::string>() + "\n";
    const FoldedSequence all = folded(text);
    QVERIFY2(!all.refused, all.refused ? all.refused->sentence().c_str() : "");
    const Json last = steps_json(all.made, 0.25)["states"].back();
    QCOMPARE(static_cast<int>(all.made.states.size()), c["states"].get<int>());
    QCOMPARE(last["layers_max"].get<int>(), c["layers_max"].get<int>());
    for (int i = 0; i < 2; ++i) QVERIFY(near(last["size_mm"][i], c["size_mm"][i], 1e-6));
    QCOMPARE(last["faces"].size(), c["faces"].get<std::size_t>());
    std::map<std::string, int> kinds;
    for (const Json& e : last["edges"]) ++kinds[e[2].get<std::string>()];
    for (const auto& [kind, count] : c["edges"].items()) QCOMPARE(kinds[kind], count.get<int>());
    if (c.contains("underside_up")) QCOMPARE(last["underside_up"].get<bool>(), c["underside_up"].get<bool>());
    const std::string wrong = all_wrong(all.made);
    QVERIFY2(wrong.empty(), wrong.c_str());
    const Json points = c.value("points", Json::object());
    for (const auto& [name, p] : points.items()) {
      QVERIFY(near(all.made.points.at(name).x(), p[0], 1e-9));
      QVERIFY(near(all.made.points.at(name).y(), p[1], 1e-9));
    }
    for (std::size_t i = 0; i < all.made.states.size(); ++i) QVERIFY(!state_text(all.made, i).empty());
  }

  void what_cannot_be_folded_is_refused_data() { testing::add_rows(testing::cases("steps.json")["refused"]); }
  void what_cannot_be_folded_is_refused() {
    const Json c = testing::row();
    std::string text;
    for (const Json& line : c["lines"]) text += line.get<std::string>() + "\n";
    const auto file = parse_steps(text);
    std::string told;
    if (!file) {
      told = file.error();
      QVERIFY(!c["paper"].get<bool>());
    } else {
      const FoldedSequence all = fold_sequence(*file);
      QVERIFY(all.refused.has_value());
      told = all.refused->sentence();
      QCOMPARE(!all.refused->unknown_name, c["paper"].get<bool>());
      const std::string wrong = all_wrong(all.made); // what was folded before it stands
      QVERIFY2(wrong.empty(), wrong.c_str());
    }
    QVERIFY2(told.find("line " + c["line"].dump() + ": ") == 0, told.c_str());
    QVERIFY2(told.find(c["says"].get<std::string>()) != std::string::npos, told.c_str());
  }

  /// UC_FOLDS of them for the long run.
  void random_sequences_are_sound() {
    const int wanted = qEnvironmentVariableIntValue("UC_FOLDS") > 0 ? qEnvironmentVariableIntValue("UC_FOLDS") : 400;
    int folds = 0;
    int refused = 0;
    int most_faces = 0;
    for (int n = 0; n < wanted; ++n) {
      RandomSteps steps(static_cast<unsigned>(n));
      std::string text = steps.sheet();
      FoldedSequence last = folded(text);
      for (int tries = 0; tries < 14 && last.made.states.size() < 7; ++tries) {
        const std::string more = text + steps.line(static_cast<int>(last.made.folds.size())) + "\n";
        FoldedSequence next = folded(more);
        if (next.refused) {
          ++refused;
          QVERIFY(!next.refused->reason.empty());
          continue;
        }
        text = more;
        last = std::move(next);
      }
      folds += static_cast<int>(last.made.states.size()) - 1;
      most_faces = std::max(most_faces, static_cast<int>(last.made.states.back().form->graph.faces.size()));
      const std::string wrong = all_wrong(last.made);
      QVERIFY2(wrong.empty(), (text + wrong).c_str());
      for (const StepState& s : last.made.states) QVERIFY(broken_layers(*s.form).empty());
    }
    QVERIFY2(folds > 3 * wanted, qPrintable(QString::number(folds)));
    qInfo("%d moves in %d sequences, %d refused; up to %d faces", folds, wanted, refused, most_faces);
  }

  void the_second_opinion_finds_faults() {
    const FoldedSequence all = folded("sheet square:100mm\nvalley left onto right\nvalley bottom onto top\n");
    const double area = 100 * 100;
    const Json good = steps_json(all.made, 0.25)["states"].back();
    QCOMPARE(FoldChecker(good).wrong(area), std::string());
    for (std::size_t i = 0; i < good["above"].size(); ++i) {
      Json bad = good;
      std::swap(bad["above"][i][0], bad["above"][i][1]);
      QVERIFY(!FoldChecker(bad).wrong(area).empty());
    }
    Json torn = good;
    torn["faces"][2]["isometry"][4] = torn["faces"][2]["isometry"][4].get<double>() + 0.01;
    QVERIFY(!FoldChecker(torn).wrong(area).empty());
    Json named = good;
    for (Json& e : named["edges"]) {
      if (e[2] == "valley") e[2] = "mountain";
    }
    QVERIFY(!FoldChecker(named).wrong(area).empty());
  }

  void folding_and_unfolding_leaves_the_sheet() {
    const FoldedSequence all =
        folded("sheet square:120mm\nvalley left onto right\nmountain bottom onto top\nvalley c1 onto right\n"
               "unfold all\n");
    QVERIFY2(!all.refused, all.refused ? all.refused->sentence().c_str() : "");
    const PieceForm& open = *all.made.states.back().form;
    QCOMPARE(open.overlap.layers_max, 1);
    for (std::size_t v = 0; v < open.pattern.vertices.size(); ++v) {
      const Point moved = open.form.place[0].inverse() * open.form.vertices[v];
      QVERIFY(near((moved - open.pattern.vertices[v]).norm(), 0, 1e-9));
    }
  }

  /// Halving as in a division: the errors of the model's own facts, in s², at the ends of the creases.
  void errors_are_those_of_a_division() {
    const auto errors = [](const std::string& text) {
      const FoldedSequence all = folded(text);
      return std::pow(sequence_errors(all.made, 1).worst_sigma_mm, 2);
    };
    const std::string halved = "sheet square:240mm\nhalf = crease left onto right\n";
    QVERIFY(near(errors(halved), 1, 1e-6));
    QVERIFY(near(errors(halved + "quarter = crease left onto half\n"), 1.25, 1e-6));
    QVERIFY(near(errors(halved + "quarter = crease left onto half\ncrease left onto quarter\n"), 1.3125, 1e-6));
    QVERIFY(near(errors(halved + "quarter = crease left onto half\ncrease quarter onto half\n"), 1.8125, 1e-6));
    // The left edge lands off by twice the first error, so the second crease is off by 3/2 of it below, by 1/2 above.
    QVERIFY(near(errors("sheet square:240mm\nvalley left onto right\nvalley left onto c1\n"), 3.25, 1e-6));
  }

  /// The second fold goes through two layers, the third through four: creep (k - 1)·t·c, mirrored from layer to layer.
  void creep_moves_creases_through_layers() {
    const auto worst = [](const std::string& text, double sigma, double creep) {
      return sequence_errors(folded(text).made, sigma, creep).worst_sigma_mm;
    };
    const std::string halved = "sheet square:240mm\nvalley left onto right\n";
    QVERIFY(near(worst(halved, 0, 0.05), 0, 1e-9)); // one layer
    QVERIFY(near(worst(halved + "valley left onto c1\n", 0, 0.05), 0.05, 1e-9));
    QVERIFY(near(
        worst("sheet square:240mm\nvalley left onto right\nvalley bottom onto top\ncrease left onto c1\n", 0, 0.05),
        std::sqrt(3 * 3) * 0.05, 1e-9));
    HandProfile hand;
    const std::string source = halved + "valley left onto c1\n";
    const Programme thin = programme_of(folded(source), hand, source, 0);
    const Programme thick = programme_of(folded(source), hand, source, 0.4);
    QCOMPARE(thick.moves[0].hand_sigma_mm, thin.moves[0].hand_sigma_mm);
    QVERIFY(near(thick.moves[1].hand_sigma_mm, std::hypot(hand.sigma_mm, 0.2), 1e-12));
    QVERIFY(thick.moves[1].sigma_mm > thin.moves[1].sigma_mm);
  }

  void errors_agree_with_folding_in_numbers() {
    for (const char* text :
         {"sheet square:150mm\nvalley bl onto tr\nvalley br onto tl\ncrease tr onto br\n",
          "sheet square:150mm\nmiddle = crease br onto tl\nvalley bottom onto middle\nvalley left onto middle\nunfold "
          "all\n",
          "sheet a5\nc1 = crease bottom onto top\nc2 = crease left onto right\np = cross c1 c2\nvalley bl onto p\n"
          "crease br onto p\n"}) {
      const FoldedSequence all = folded(text);
      QVERIFY2(!all.refused, all.refused ? all.refused->sentence().c_str() : "");
      constexpr double sigma = 0.05;
      constexpr double creep = 0.04;
      const SequenceErrors told = sequence_errors(all.made, sigma, creep);
      const auto& nominal = all.made.states.back().form->pattern.vertices;
      std::vector<Eigen::Matrix2d> seen(nominal.size(), Eigen::Matrix2d::Zero());
      std::mt19937_64 random(7);
      constexpr int runs = 6000;
      for (int n = 0; n < runs; ++n) {
        const auto sample = sampled_vertices(all.made, sigma, random, creep);
        QVERIFY(sample.has_value());
        for (std::size_t v = 0; v < nominal.size(); ++v) {
          const Point d = (*sample)[v] - nominal[v];
          seen[v] += d * d.transpose() / runs;
        }
      }
      for (std::size_t v = 0; v < nominal.size(); ++v) {
        const double expected = std::sqrt(told.covariance[v].trace());
        QVERIFY(near(std::sqrt(seen[v].trace()), expected, 0.05 * expected + 1e-9));
      }
    }
  }

  void a_programme_keeps_its_folds() {
    const std::string source = "sheet square:100mm\nm = crease left onto right\nvalley left onto m\nover\nunfold all\n";
    FoldedSequence all = folded(source);
    HandProfile hand;
    hand.sigma_mm = 0.3;
    const Programme made = programme_of(std::move(all), hand, source);
    QCOMPARE(made.moves.size(), std::size_t{4});
    QVERIFY(made.moves[1].is(RefoldWay::fold));
    QVERIFY(made.moves[3].is(RefoldWay::unfold));
    QVERIFY(near(made.moves[1].sigma_mm, 0.3 * std::sqrt(1.25), 1e-6));
    QVERIFY(!may_reorder(made, 0, 1));
    const auto again = parse_programme(json_of(made).dump(), "test");
    QVERIFY2(again.ok(), again ? "" : again.error().c_str());
    QVERIFY(json_of(*again) == json_of(made));
    for (std::size_t i = 0; i < made.moves.size(); ++i) {
      QCOMPARE(ProgrammeTeller(*again).text(i), ProgrammeTeller(made).text(i));
      QCOMPARE(ProgrammeTeller(*again).check(i), ProgrammeTeller(made).check(i));
      const Figure figure = move_figure(*again, static_cast<int>(i));
      QCOMPARE(figure.patches.size(), made.folding->form_before(i == 2 ? 3 : i).graph.faces.size());
      double area = 0;
      for (const FigurePatch& patch : figure.patches) {
        area += signed_area(patch.outline);
        QCOMPARE(patch.sides.size(), patch.outline.size());
      }
      QVERIFY(near(area, 100 * 100, 1e-6));
    }
    QVERIFY(move_text(made, 1).find("Unfold") == std::string::npos);
    // Moves and steps that do not belong together are not taken for one another.
    Json other = json_of(made);
    other["steps"] = "sheet square:100mm\nover\n";
    QVERIFY(!parse_programme(other.dump(), "test"));
    other["steps"] = "nonsense";
    QVERIFY(!parse_programme(other.dump(), "test"));
    QCOMPARE(with_sheet("# title\nsheet a4\nover\n", Sheet::square(Millimetres{50})),
             std::string("# title\nsheet square:50mm\nover\n"));
    // A remark stays, and so does a line that gives this very sheet by the name of a number.
    QCOMPARE(with_sheet("sheet a4 # as it comes\nover\n", Sheet::square(Millimetres{50})),
             std::string("sheet square:50mm # as it comes\nover\n"));
    const std::string named = "let side = 50mm\nsheet square:side # any\nover\n";
    QCOMPARE(with_sheet(named, Sheet::square(Millimetres{50})), named);
    QCOMPARE(with_sheet(named, Sheet::square(Millimetres{60})),
             std::string("let side = 50mm\nsheet square:60mm # any\nover\n"));
  }

  void the_library_can_be_folded() {
    const auto all = step_library(std::string(UC_SOURCE_DIR "/data/steps"));
    QVERIFY2(all.ok(), all ? "" : all.error().c_str());
    QVERIFY(all->size() >= 6);
    for (const LibrarySteps& s : *all) {
      QVERIFY2(!s.file.title.empty() && is_library_name(s.name), s.name.c_str());
      const FoldedSequence made = fold_sequence(s.file);
      QVERIFY2(!made.refused, made.refused ? (s.name + made.refused->sentence()).c_str() : "");
      QCOMPARE(static_cast<int>(made.made.states.size()), s.moves + 1);
      const std::string wrong = all_wrong(made.made);
      QVERIFY2(wrong.empty(), (s.name + ": " + wrong).c_str());
    }
  }
};

UC_TEST(FoldTest)
#include "fold_test.moc"
