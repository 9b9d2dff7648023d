// Folds that have names, and what is repeated or cut: the library against closed forms on three sheets, random
// sequences judged by a second opinion, repeats against the same moves written out, errors against folding in numbers.
#include "runner.h"
#include "support.h"

#include "folded_steps.h"

#include "fold/step_errors.h"
#include "fold/step_programme.h"
#include "fold/step_text.h"
#include "fold/steps_format.h"
#include "io/steps_library.h"
#include "io/steps_pages.h"

#include <Eigen/Eigenvalues>

#include <random>

using namespace uc;
using uc::testing::all_wrong;
using uc::testing::area_by_rim;
using uc::testing::folded;
using uc::testing::near;

namespace {

/// Named folds tried at random on a base; most cannot be made.
class RandomNamed {
public:
  explicit RandomNamed(unsigned seed) : random_(seed) {}

  std::string base() {
    const std::string grid = "sheet square:150mm\nu = crease left onto right\nl = crease bottom onto top\n"
                             "r = crease br onto tl\nf = crease bl onto tr\no = cross u l\nn = cross u top\n"
                             "w = cross l left\ns = cross u bottom\ne = cross l right\n";
    static const std::vector<std::string> folds = {
        "collapse valley u l mountain r\n", "collapse valley r f mountain l\n",     "valley bl onto tr\n",
        "valley bottom onto top\n",         "valley bl onto o\nvalley tr onto o\n", ""};
    return grid + folds[random_() % folds.size()];
  }
  std::string line(int creases) {
    switch (random_() % 12) {
    case 0:
    case 1:
      return "reverse " + point() + " onto " + point();
    case 2:
      return "reverse " + point() + " through " + point() + " " + point() + (random_() % 2 ? " outside" : "");
    case 3:
      return "reverse " + point() + " along " + crease(creases) + (random_() % 3 ? "" : " outside");
    case 4:
      return "sink o onto " + point();
    case 5:
    case 6:
      return "squash " + point() + " along " + crease(creases);
    case 7:
    case 8:
      return "petal " + corner();
    case 9:
      return "rabbit " + corner() + " along " + crease(creases);
    case 10:
      return random_() % 2 ? "over" : "valley " + point() + " onto " + point() + " layers 1";
    default:
      return "unfold " + crease(creases);
    }
  }

private:
  std::string point() {
    static const std::array<const char*, 9> names = {"bl", "br", "tr", "tl", "n", "w", "s", "e", "o"};
    return names[random_() % names.size()];
  }
  std::string corner() {
    static const std::array<const char*, 4> names = {"bl", "br", "tr", "tl"};
    return names[random_() % names.size()];
  }
  std::string crease(int creases) {
    static const std::array<const char*, 4> names = {"u", "l", "r", "f"};
    if (creases > 4 && random_() % 3 == 0)
      return "c" + std::to_string(5 + random_() % static_cast<unsigned>(creases - 4));
    return names[random_() % names.size()];
  }
  std::mt19937 random_;
};

} // namespace

class NamedFoldsTest : public QObject {
  Q_OBJECT

private slots:
  void the_library_has_its_sizes_data() { testing::add_rows(testing::cases("library_sizes.json")); }
  void the_library_has_its_sizes() {
    const Json c = testing::row();
    const auto text = read_file(std::string(UC_SOURCE_DIR "/data/steps/") + c["name"].get<std::string>() + ".steps");
    QVERIFY(text.ok());
    for (const double side : {75.0, 150.0, 240.0}) {
      const auto file = parse_steps(*text, parse_sheet(fmt::format("square:{}mm", side)).value());
      QVERIFY2(file.ok(), file ? "" : file.error().c_str());
      const FoldedSequence all = fold_sequence(*file);
      QVERIFY2(!all.refused, all.refused ? all.refused->sentence().c_str() : "");
      const Json json = steps_json(all.made, 0.25);
      const Json last = json["states"].back();
      QCOMPARE(last["layers_max"].get<int>(), c["layers"].get<int>());
      for (int i = 0; i < 2; ++i) QVERIFY(near(last["size_mm"][i], side * c["size"][i].get<double>(), 1e-6));
      if (c.contains("area")) QVERIFY(near(area_by_rim(last), side * side * c["area"].get<double>(), 1e-6));
      for (const Json& part : c.value("at_bottom", Json::array())) {
        const auto there = [&](const Json& v) {
          return std::abs(v[1].get<double>()) < 1e-6 && near(v[0], side * part.get<double>(), 1e-6);
        };
        QVERIFY(std::any_of(last["vertices"].begin(), last["vertices"].end(), there));
      }
      const std::string wrong = all_wrong(all.made);
      QVERIFY2(wrong.empty(), wrong.c_str());
      QVERIFY(json["worst_sigma_mm"].get<double>() > 0.2);
    }
  }

  /// UC_FOLDS of them for the long run.
  void random_named_folds_are_sound() {
    const int wanted = qEnvironmentVariableIntValue("UC_FOLDS") > 0 ? qEnvironmentVariableIntValue("UC_FOLDS") : 150;
    std::map<StepVerb, int> made;
    int refused = 0;
    for (int n = 0; n < wanted; ++n) {
      RandomNamed steps(static_cast<unsigned>(n));
      std::string text = steps.base();
      FoldedSequence last = folded(text);
      QVERIFY(!last.refused);
      const std::size_t from = last.made.states.size();
      for (int tries = 0; tries < 30 && last.made.states.size() < from + 4; ++tries) {
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
      for (std::size_t i = from; i < last.made.states.size(); ++i) {
        ++made[last.made.steps[static_cast<std::size_t>(last.made.states[i].step)].kind];
        QVERIFY2(!state_text(last.made, i).empty(), text.c_str());
      }
      const std::string wrong = all_wrong(last.made);
      QVERIFY2(wrong.empty(), (text + wrong).c_str());
      for (const StepState& s : last.made.states) QVERIFY(broken_layers(*s.form).empty());
    }
    std::string told;
    for (const auto& [verb, count] : made) told += fmt::format("{} {}, ", count, name_of(verb));
    for (const StepVerb verb : {StepVerb::reverse, StepVerb::sink, StepVerb::squash, StepVerb::petal, StepVerb::rabbit})
      QVERIFY2(made[verb] > 0, told.c_str());
    qInfo("%sin %d sequences; %d refused", told.c_str(), wanted, refused);
  }

  /// What should meet once it is folded, against 6000 sampled runs: within 5 % of the widest gap.
  void gaps_agree_with_folding_in_numbers_data() {
    QTest::addColumn<QString>("file");
    for (const char* file : {"fish-base", "bird-base", "blintz-base", "house"}) QTest::newRow(file) << file;
  }
  void gaps_agree_with_folding_in_numbers() {
    QFETCH(QString, file);
    const auto text = read_file(UC_SOURCE_DIR "/data/steps/" + file.toStdString() + ".steps");
    const FoldedSequence all = folded(*text);
    constexpr double sigma = 0.02;
    const SequenceErrors errors = sequence_errors(all.made, sigma);
    QVERIFY(!errors.gaps.empty());
    const FoldedGap& gap = errors.gaps.front();
    Eigen::Matrix2d sum = Eigen::Matrix2d::Zero();
    std::mt19937_64 random(5);
    std::normal_distribution<double> unit(0, 1);
    constexpr int runs = 6000;
    for (int n = 0; n < runs; ++n) {
      std::vector<double> off;
      for (std::size_t k = 0; k < 2 * all.made.folds.size(); ++k) off.push_back(sigma * unit(random));
      const auto lines = paper_lines(all.made, off);
      QVERIFY(lines.has_value());
      const auto lies = folded_vertices(all.made, *lines);
      const Point d = lies[static_cast<std::size_t>(gap.first)] - lies[static_cast<std::size_t>(gap.second)];
      sum += d * d.transpose() / runs;
    }
    const double sampled =
        std::sqrt(Eigen::SelfAdjointEigenSolver<Eigen::Matrix2d>(sum, Eigen::EigenvaluesOnly).eigenvalues()[1]);
    QVERIFY2(std::abs(sampled - gap.sigma_mm) < 0.05 * gap.sigma_mm,
             qPrintable(QString("%1 told, %2 sampled").arg(gap.sigma_mm).arg(sampled)));
    double shares = 0;
    for (const double share : errors.share) shares += share;
    QVERIFY(near(shares, 1, 1e-9));
  }

  /// A fold in half and its edges: the corner is brought onto its mark, so it misses by what the hand errs there.
  void a_half_fold_misses_by_its_own_error() {
    const FoldedSequence all = folded("sheet square:100mm\nvalley left onto right\n");
    const SequenceErrors errors = sequence_errors(all.made, 0.25);
    QCOMPARE(errors.gaps.size(), std::size_t{2});
    // Across, the corner errs by twice the error of its end of the crease; along, by the difference of both ends, for
    // the crease is twice as long as the corner is far from it. Their variances 4 and 2 and covariance 2 have the
    // largest eigenvalue 3 + sqrt 5.
    for (const FoldedGap& gap : errors.gaps) QVERIFY(near(gap.sigma_mm, 0.25 * std::sqrt(3 + std::sqrt(5.0)), 1e-6));
  }

  void a_repeat_is_what_its_moves_written_out_are_data() {
    QTest::addColumn<QString>("repeated");
    QTest::addColumn<QString>("written");
    const QString square = "sheet square:120mm\nr = crease br onto tl\nf = crease bl onto tr\no = cross r f\n";
    QTest::newRow("corners") << square + "valley bl onto o\nrepeat 5 at br, tr, tl\n"
                             << square + "valley bl onto o\nvalley br onto o\nvalley tr onto o\nvalley tl onto o\n";
    QTest::newRow("edges, with a name") << square + "u = crease left onto right\nc = crease left onto u\n"
                                                    "repeat 5-6 at bottom\n"
                                        << square + "u = crease left onto right\nc = crease left onto u\n"
                                                    "l = crease bottom onto top\nd = crease bottom onto l\n";
    QTest::newRow("mirrored") << square + "rabbit br along r to tr\nrepeat 5 mirrored\n"
                              << square + "rabbit br along r to tr\nrabbit tl along r to tr\n";
    QTest::newRow("behind")
        << square + "valley tl onto br\nvalley tl onto o layers 1\nrepeat 6 behind at br\n"
        << square + "valley tl onto br\nvalley tl onto o layers 1\nover\nvalley br onto o layers 1\nover\n";
    QTest::newRow("hexagon")
        << "sheet ngon:6:60mm\ncrease v1 onto v4\ncrease v2 onto v5\nq = cross c1 c2\nvalley v1 onto q\n"
           "repeat 5 at v2, v3, v4, v5, v6\n"
        << "sheet ngon:6:60mm\ncrease v1 onto v4\ncrease v2 onto v5\nq = cross c1 c2\nvalley v1 onto q\n"
           "valley v2 onto q\nvalley v3 onto q\nvalley v4 onto q\nvalley v5 onto q\nvalley v6 onto q\n";
  }
  void a_repeat_is_what_its_moves_written_out_are() {
    QFETCH(QString, repeated);
    QFETCH(QString, written);
    const FoldedSequence a = folded(repeated.toStdString());
    const FoldedSequence b = folded(written.toStdString());
    QVERIFY2(!a.refused, a.refused ? a.refused->sentence().c_str() : "");
    QVERIFY2(!b.refused, b.refused ? b.refused->sentence().c_str() : "");
    const Json one = steps_json(a.made, 0.25)["states"];
    const Json other = steps_json(b.made, 0.25)["states"];
    QCOMPARE(one.size(), other.size());
    for (std::size_t i = 0; i < one.size(); ++i) {
      QVERIFY(one[i]["above"] == other[i]["above"]);
      QVERIFY(one[i]["edges"] == other[i]["edges"]);
      QCOMPARE(one[i]["vertices"].size(), other[i]["vertices"].size());
      for (std::size_t v = 0; v < one[i]["vertices"].size(); ++v) {
        for (std::size_t k = 0; k < 2; ++k)
          QVERIFY(near(one[i]["vertices"][v][k], other[i]["vertices"][v][k].get<double>(), 1e-9));
      }
    }
    QCOMPARE(a.made.states.back().line, static_cast<int>(repeated.count('\n')));
  }

  void repeats_that_fail_leave_what_was_before() {
    const std::string text = "sheet square:100mm\nh = crease left onto right\np = cross h bottom\n"
                             "r = crease br onto tl\nf = crease bl onto tr\no = cross r f\n"
                             "valley bl onto o\ncrease p onto tr\nrepeat 7-8 at tl\n";
    const FoldedSequence all = folded(text);
    QVERIFY(all.refused);
    QCOMPARE(all.refused->line, 9);
    QVERIFY2(all.refused->reason.find("p has no counterpart there") != std::string::npos, all.refused->reason.c_str());
    QCOMPARE(all.made.states.back().line, 8);
    QCOMPARE(all.made.folds.size(), std::size_t{5});
    const std::string wrong = all_wrong(all.made);
    QVERIFY2(wrong.empty(), wrong.c_str());
  }

  void errors_of_named_folds_agree_with_folding_in_numbers_data() {
    QTest::addColumn<QString>("file");
    for (const char* file : {"fish-base", "bird-base", "waterbomb-base", "hexagon-cut"}) QTest::newRow(file) << file;
  }
  /// First order against 6000 runs, each with an error at both ends of every fold: within 5 %.
  void errors_of_named_folds_agree_with_folding_in_numbers() {
    QFETCH(QString, file);
    const auto text = read_file(UC_SOURCE_DIR "/data/steps/" + file.toStdString() + ".steps");
    const FoldedSequence all = folded(*text);
    QVERIFY(!all.refused);
    constexpr double sigma = 0.02; // small: what is compared is the first order
    const SequenceErrors errors = sequence_errors(all.made, sigma);
    QVERIFY(errors.determined);
    const auto& exact = all.made.states.back().form->pattern.vertices;
    std::vector<Eigen::Matrix2d> sum(exact.size(), Eigen::Matrix2d::Zero());
    std::mt19937_64 random(11);
    constexpr int runs = 6000;
    for (int n = 0; n < runs; ++n) {
      const auto sample = sampled_vertices(all.made, sigma, random);
      QVERIFY(sample.has_value());
      for (std::size_t v = 0; v < exact.size(); ++v) {
        const Point d = (*sample)[v] - exact[v];
        sum[v] += d * d.transpose() / runs;
      }
    }
    for (std::size_t v = 0; v < exact.size(); ++v) {
      const double sampled = std::sqrt(sum[v].trace());
      const double told = std::sqrt(errors.covariance[v].trace());
      QVERIFY2(std::abs(sampled - told) < 0.05 * told + 1e-9,
               qPrintable(QString("vertex %1: %2 told, %3 sampled").arg(v).arg(told).arg(sampled)));
    }
  }

  void the_grammar_has_every_move_and_can_be_read() {
    std::vector<StepVerb> told;
    const std::string before = "sheet square:100mm\n" + std::string("over\nover\nover\nover\nover\nover\nover\n");
    for (const GrammarLine& line : step_grammar()) {
      told.push_back(line.verb);
      const auto file = parse_steps(before + line.typed + "\n");
      QVERIFY2(file.ok(), file ? "" : file.error().c_str());
      QCOMPARE(file->lines.back().kind, line.verb);
      QVERIFY(std::string(line.does).size() > 10);
    }
    for (const auto& word : enum_words<StepVerb>)
      QVERIFY2(std::count(told.begin(), told.end(), word.value) == 1, word.text);
  }

  /// Written evenly a file folds as it did, and written again it stays as it is, whatever spaces it had.
  void a_file_can_be_written_evenly() {
    const auto all = step_library(std::string(UC_SOURCE_DIR "/data/steps"));
    std::mt19937 random(3);
    for (const LibrarySteps& s : *all) {
      const std::string even = formatted_steps(s.text);
      QCOMPARE(formatted_steps(even), even);
      std::string loose;
      bool quoted = false;
      bool remark = false;
      bool start = true;
      for (const char c : s.text) {
        if (c == '"') quoted = !quoted;
        if (c == '#') remark = true;
        loose += c;
        if (c == ' ' && !quoted && !remark && !start && random() % 2) loose += random() % 2 ? "  " : "\t";
        if (c == ' ') start = false; // after the first word: `sheet` and `let` stand with one space
        if (c == '\n') quoted = remark = false, start = true;
      }
      QCOMPARE(formatted_steps(loose), even);
      const auto read = parse_steps(even);
      QVERIFY2(read.ok(), read ? "" : read.error().c_str());
      QCOMPARE(read->lines.size(), s.file.lines.size());
      QVERIFY(steps_json(fold_sequence(*read).made, 0.25) == steps_json(fold_sequence(s.file).made, 0.25));
    }
    QCOMPARE(formatted_steps("p=cross a,b # where\r\n  say  \"a  # b\"\n"),
             std::string("p = cross a, b  # where\nsay \"a  # b\"\n"));
    QCOMPARE(with_values("let n = 3 # many\nlet m=4\n", {{"n", 7}}), std::string("let n = 7  # many\nlet m=4\n"));
  }

  void a_cut_says_how_to_handle_the_blade() {
    const FoldedSequence all = folded("sheet square:150mm\nc = crease left onto right\ncut along c keep br\n");
    QVERIFY(state_caution(all.made, 1) == Caution::none && state_caution(all.made, 2) == Caution::blade);
    const Programme programme = programme_of(all, HandProfile{}, {});
    QVERIFY(programme.moves[0].caution == Caution::none && programme.moves[1].caution == Caution::blade);
    for (const char* ending : {"a.html", "a.svg", "a.json"}) {
      const auto bytes = steps_bytes(all.made, {}, ending, 0.25, {std::string(UC_SOURCE_DIR "/data/fonts")}, {});
      QVERIFY2(bytes.ok(), bytes ? "" : bytes.error().c_str());
      QVERIFY2(bytes->find("fingers") != std::string::npos || bytes->find("blade") != std::string::npos, ending);
    }
  }

  void a_fold_says_what_hands_do() {
    const FoldedSequence all = folded("sheet square:150mm\nd = valley bl onto tr\nreverse br onto tr\n");
    const std::string text = state_text(all.made, 2);
    QVERIFY2(text.find("Reverse fold") == 0 && text.find("push the tip in between") != std::string::npos, text.c_str());
  }
};

UC_TEST(NamedFoldsTest)
#include "named_folds_test.moc"
