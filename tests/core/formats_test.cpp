// Every ending that is offered is written, read back where it can be, and asked for in the same words everywhere.
#include "runner.h"
#include "support.h"

#include "collapse/closing.h"
#include "fold/sequence.h"
#include "io/exports.h"
#include "io/folded.h"
#include "io/formats.h"
#include "io/pattern_file.h"
#include "io/solid_files.h"
#include "io/steps_pages.h"
#include "pattern/family.h"

#include <set>

using namespace uc;

namespace {

const PageFonts fonts{std::string(UC_SOURCE_DIR "/data/fonts")};

/// How a file of a format begins.
const char* beginning_of(FileFormat format) {
  switch (format) {
  case FileFormat::project:
  case FileFormat::json:
    return "{";
  case FileFormat::svg:
    return "<";
  case FileFormat::dxf:
    return "0\n";
  case FileFormat::pdf:
    return "%PDF-";
  case FileFormat::html:
    return "<!";
  case FileFormat::ics:
    return "BEGIN:VCALENDAR";
  case FileFormat::glb:
    return "glTF";
  case FileFormat::obj:
    return "#";
  case FileFormat::stl:
    return "mm";
  case FileFormat::png:
    return "\x89PNG";
  case FileFormat::hpgl:
    return "IN;";
  case FileFormat::gcode:
    return "(";
  case FileFormat::csv:
  case FileFormat::steps:
    return "";
  }
  return "?";
}

void check(const FormatEntry& entry, const Result<std::string>& bytes) {
  QVERIFY2(bytes.ok(), bytes ? "" : bytes.error().c_str());
  const std::string begins = beginning_of(entry.format);
  const std::size_t from = bytes->find_first_not_of(" \n");
  QVERIFY2(bytes->size() > 40 && bytes->compare(from, begins.size(), begins) == 0,
           (std::string(entry.ending) + ": " + bytes->substr(0, 40)).c_str());
}

} // namespace

class FormatsTest : public QObject {
  Q_OBJECT
private slots:
  void names_stand_for_formats() {
    for (const FileUse use : all_file_uses) {
      std::set<std::string> seen;
      QVERIFY(!formats_for(use).empty());
      for (const FormatEntry& entry : formats_for(use)) {
        QVERIFY(seen.insert(entry.ending).second);
        QCOMPARE(format_for(use, std::string("a.b") + entry.ending).value(), entry.format);
        const std::string capital = QString(entry.ending).toUpper().toStdString();
        QCOMPARE(format_for(use, "x" + capital).value(), entry.format);
        QVERIFY(endings_for(use).find(entry.ending) != std::string::npos);
      }
      for (const char* name : {"a", "a.", "a.docx", ".json.zip", "", "a.svgz"}) {
        const auto refused = format_for(use, name);
        QVERIFY2(!refused, name);
        QVERIFY(refused.error().find(endings_for(use)) != std::string::npos);
      }
    }
    QCOMPARE(endings_for(FileUse::read_pattern), std::string(".json, .svg or .dxf"));
    QVERIFY(format_for(FileUse::write_runs, "a\x1b[31m.x").error().find('\x1b') == std::string::npos);
  }

  void every_ending_of_a_pattern_is_written_and_read() {
    const CreasePattern pattern =
        drawn_pattern(family_design("chevron", {{"count", 6}}), Sheet::square(Millimetres{120}).outline())
            .healed.pattern;
    for (const FormatEntry& entry : formats_for(FileUse::write_pattern)) {
      const auto format = pattern_format(std::string("p") + entry.ending, true);
      QVERIFY(format);
      const auto bytes = pattern_bytes(pattern, *format, "p", fonts, {});
      check(entry, bytes);
      const auto reading = pattern_format(std::string("p") + entry.ending, false);
      if (!reading) continue; // .pdf
      const auto back = parse_pattern(*bytes, *reading, {});
      QVERIFY2(back.ok(), entry.ending);
      QCOMPARE(back->healed.pattern.edges.size(), pattern.edges.size());
    }
    const auto proof = proved(healed(pattern));
    QVERIFY(proof && proof->folds_flat());
    for (const FormatEntry& entry : formats_for(FileUse::write_folded))
      check(entry, folded_bytes(*proof, std::string("f") + entry.ending, "f", {}, fonts, {}));
  }

  void every_ending_of_a_sheet_in_space_is_written() {
    const auto drawn = drawn_pattern(family_design("map"), Sheet().outline());
    const FoldMesh mesh = fold_mesh(drawn.healed).value();
    Closing closing(mesh);
    QVERIFY(closing.go_to(0.3));
    const auto vertices = closing.state().vertices;
    for (const FormatEntry& entry : formats_for(FileUse::write_space))
      check(entry, solid_file(std::string("s") + entry.ending,
                              model_of(mesh, vertices, "s", Stock{}.face, Stock{}.underside)));
  }

  void every_ending_of_a_project_and_of_steps_is_written() {
    Project project;
    project.stock = generic_stocks().front();
    project.sheet_name = "square:240mm";
    project.programme = planned_programme(project, *division_of(project));
    ExportOptions options;
    options.fonts = fonts;
    options.session_start = "2026-03-01T18:00:00";
    for (const FormatEntry& entry : formats_for(FileUse::write_project))
      check(entry, export_bytes(project, std::string("p") + entry.ending, options));
    const auto folded = fold_sequence(parse_steps("sheet square:90mm\nvalley left onto right\n").value());
    for (const FormatEntry& entry : formats_for(FileUse::write_steps))
      check(entry, steps_bytes(folded.made, "sheet square:90mm\nvalley left onto right\n",
                               std::string("s") + entry.ending, 0.25, fonts, {}));
  }
};

UC_TEST(FormatsTest)
#include "formats_test.moc"
