// Every enum that stands in files has one table of words: each word once, each enumerator once, read back strictly.
#include "runner.h"

#include "align/alignment.h"
#include "collapse/stages.h"
#include "crease/precrease.h"
#include "divide/grid.h"
#include "divide/plan.h"
#include "fold/steps_file.h"
#include "form/crease_pattern.h"
#include "form/direction_wish.h"
#include "form/layer_proof.h"
#include "form/local_proof.h"
#include "io/exports.h"
#include "paper/stock.h"
#include "pattern/family.h"
#include "pattern/parameter.h"
#include "pattern/rule.h"
#include "programme/element_id.h"
#include "programme/move.h"
#include "programme/programme.h"
#include "record/run.h"
#include "unit/unit_family.h"

#include <QtTest>

#include <cctype>
#include <set>

using namespace uc;

namespace {

/// Empty when the table is sound; else what is wrong with it.
template <typename E> QString wrong_with(const char* which) {
  const auto fault = [&](const std::string& what) {
    return QString("%1: %2").arg(which, QString::fromStdString(what));
  };
  std::set<std::string> words;
  std::set<int> values;
  for (const auto& word : enum_words<E>) {
    const std::string text = word.text;
    if (!words.insert(text).second) return fault("twice " + text);
    if (!values.insert(static_cast<int>(word.value)).second) return fault("two words for one, " + text);
    if (text.empty() || text.front() == ' ' || text.back() == ' ') return fault("blanks round " + text);
    if (name_of(word.value) != text) return fault("written otherwise: " + text);
    if (named<E>(text) != word.value) return fault("not read back: " + text);
    std::string changed = text;
    changed.front() = static_cast<char>(std::isupper(static_cast<unsigned char>(changed.front()))
                                            ? std::tolower(static_cast<unsigned char>(changed.front()))
                                            : std::toupper(static_cast<unsigned char>(changed.front())));
    if (changed != text && named<E>(changed)) return fault("read in another case: " + changed);
    for (const std::string& near : {text + " ", " " + text, text + "s", text.substr(0, text.size() - 1)})
      if (named<E>(near) && !words.count(near) && named<E>(near) == word.value) return fault("read loosely: " + near);
    if (listed_words<E>().find(text) == std::string::npos) return fault("not listed: " + text);
  }
  if (words.empty()) return fault("no words");
  if (named<E>("")) return fault("nothing is read as something");
  return {};
}

} // namespace

class NamesTest : public QObject {
  Q_OBJECT
private slots:
  void every_table_is_sound() {
#define UC_SOUND(E) QCOMPARE(wrong_with<E>(#E), QString())
    UC_SOUND(Alignment);
    UC_SOUND(CollapseOrder);
    UC_SOUND(CreaseSchool);
    UC_SOUND(DirectionRule);
    UC_SOUND(DirectionWish);
    UC_SOUND(EdgeKind);
    UC_SOUND(ElementSource);
    UC_SOUND(EventKind);
    UC_SOUND(ExportPart);
    UC_SOUND(Extent);
    UC_SOUND(ExtentRule);
    UC_SOUND(FamilyGroup);
    UC_SOUND(GridAxis);
    UC_SOUND(LayerStatus);
    UC_SOUND(LengthUnit);
    UC_SOUND(LocalRule);
    UC_SOUND(Method);
    UC_SOUND(ParameterType);
    UC_SOUND(PatternGrid);
    UC_SOUND(Role);
    UC_SOUND(StandsFor);
    UC_SOUND(StepKind);
    UC_SOUND(StepVerb);
    UC_SOUND(Stiffness);
    UC_SOUND(CreaseMemory);
    UC_SOUND(CreaseWay);
    UC_SOUND(RefoldWay);
    UC_SOUND(HandleWay);
    UC_SOUND(WorkWay);
    UC_SOUND(Fold);
    UC_SOUND(Caution);
    UC_SOUND(TabWay);
    UC_SOUND(RepeatWay);
    UC_SOUND(StartKind);
#undef UC_SOUND
  }

  void lists_read_like_sentences() {
    QCOMPARE(listed_words<EdgeKind>(), std::string("raw, mountain, valley, undirected, unfolded or cut"));
    QCOMPARE(listed_words<StandsFor>(), std::string("edge, face, vertex or corner"));
  }

  void what_the_log_cannot_read_has_a_word_for_reports_alone() {
    QCOMPARE(name_of(RunStatus::unreadable), std::string("unreadable"));
    QVERIFY(!named<RunStatus>("unreadable"));
    for (const auto& word : enum_words<RunStatus>) QCOMPARE(name_of(word.value), std::string(word.text));
  }

  void ids_are_written_and_read_back() {
    std::set<ElementId> seen;
    for (const auto& source : enum_words<ElementSource>) {
      if (source.value == ElementSource::none) continue;
      for (const int plan : {0, 1, 7, 500, 2'000'000'000}) {
        for (const int item : {0, 3, 499, 500, 2'147'483'647}) {
          const ElementId id{source.value, plan, item};
          const auto back = element_id(text_of(id));
          QVERIFY2(back == id, text_of(id).c_str());
          QVERIFY(id && seen.insert(id).second);
          QCOMPARE(std::hash<ElementId>()(id), std::hash<ElementId>()(*back));
        }
      }
    }
    QCOMPARE(text_of({}), std::string("none"));
    QVERIFY(!ElementId{});
    for (const char* bad :
         {"", "grid", "grid.0", "grid.0.", "grid..3", "grid.0.3.1", "grid.-1.3", "Grid.0.3", "grid.0.x",
          "grid.0.99999999999", "mesh.0.1", " grid.0.3", "grid.0.3 ", "grid. 0.3", "grid.0.+3"})
      QVERIFY2(!element_id(bad), bad);
  }
};

UC_TEST(NamesTest)
#include "names_test.moc"
