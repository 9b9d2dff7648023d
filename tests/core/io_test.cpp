// Files: projects and their versions, damage and disks, SVG, PDF at true scale, tables, calendar and hand-out.
#include "runner.h"
#include "support.h"

#include "io/exports.h"
#include "io/svg.h"
#include "io/tables.h"
#include "io/unknown_fields.h"
#include "pattern/family.h"

#include <QProcess>
#include <QRegularExpression>
#include <QTemporaryDir>

#include <csignal>
#include <filesystem>
#include <fstream>
#include <random>
#include <sys/resource.h>
#include <sys/stat.h>

using namespace uc;
using uc::testing::near;

namespace {

Project sample() {
  Project p;
  p.title = "Crater <panel> & \"lamp\"";
  p.sheet = parse_sheet("square:240mm").value();
  p.sheet_name = "square:24cm";
  p.stock = generic_stocks()[1];
  p.trueness = TruenessMeasure{240, 240.3, 239.8, 239.9, 339.7, 339.1};
  p.hand.sigma_mm = 0.31;
  p.unit = LengthUnit::inch;
  p.grid.parts = 9;
  p.grid.axis = GridAxis::both;
  p.grid.direction = DirectionRule::alternating;
  p.grid.left_out = {2, 3};
  p.grid.keep_clean = {{{60, 60}, {90, 90}}};
  p.grid.start = StartMark{3, 0.2};
  p.note = "line one\nline two";
  p.programme = division_of(p)->programme;
  return p;
}

} // namespace

class IoTest : public QObject {
  Q_OBJECT
  QTemporaryDir dir_;
  [[nodiscard]] std::string path(const std::string& name) const { return dir_.path().toStdString() + "/" + name; }

  /// Every line and word of the drawings of a hand-out lies within its frame, the words by a generous guess.
  static void nothing_of_it_is_cut_off(const QString& html) {
    static const QRegularExpression drawing("<svg[^>]*viewBox=\"0 0 ([\\d.]+) ([\\d.]+)\"(.*?)</svg>",
                                            QRegularExpression::DotMatchesEverythingOption);
    static const QRegularExpression points(" d=\"([^\"]*)\"");
    static const QRegularExpression word(
        "<text x=\"([^\"]*)\" y=\"([^\"]*)\" font-size=\"([^\"]*)\"[^>]*?(middle|end)?\"?>([^<]*)<");
    static const QRegularExpression number("-?\\d+(\\.\\d+)?");
    for (auto d = drawing.globalMatch(html); d.hasNext();) {
      const auto svg = d.next();
      const std::array<double, 2> frame = {svg.captured(1).toDouble(), svg.captured(2).toDouble()};
      for (auto p = points.globalMatch(svg.captured(3)); p.hasNext();) {
        std::size_t i = 0;
        for (auto n = number.globalMatch(p.next().captured(1)); n.hasNext(); ++i) {
          const double v = n.next().captured().toDouble();
          QVERIFY2(v >= 0 && v <= frame[i % 2], qPrintable(svg.captured().left(2000)));
        }
        QVERIFY(i >= 4 && i % 2 == 0);
      }
      for (auto t = word.globalMatch(svg.captured(3)); t.hasNext();) {
        const auto text = t.next();
        const double wide = 0.62 * text.captured(3).toDouble() * static_cast<double>(text.captured(5).size());
        const double at = text.captured(1).toDouble();
        const double left = text.captured(4) == "middle" ? at - wide / 2 : text.captured(4) == "end" ? at - wide : at;
        QVERIFY2(left >= 0 && left + wide <= frame[0], qPrintable(text.captured()));
        QVERIFY2(text.captured(2).toDouble() <= frame[1], qPrintable(text.captured()));
      }
    }
  }

private slots:
  void a_project_survives_the_round_trip() {
    const Project p = sample();
    QVERIFY(save_project(p, path("a.undercrease")).ok());
    const auto q = load_project(path("a.undercrease"));
    QVERIFY2(q.ok(), q ? "" : q.error().c_str());
    QCOMPARE(q->title, p.title);
    QCOMPARE(q->sheet.code(), p.sheet.code());
    QVERIFY(q->grid == p.grid && q->hand == p.hand && q->stock == p.stock && q->trueness == p.trueness);
    QVERIFY(json_of(q->programme) == json_of(p.programme));
    QCOMPARE(project_text(*q), project_text(p));
    QCOMPARE(q->note, p.note);
    QCOMPARE(q->unit, LengthUnit::inch);
  }

  void unknown_fields_survive() {
    Json j = testing::parsed(project_text(sample()));
    j["from_the_future"] = {{"deep", {1, 2, 3}}};
    j["hand"]["pressure"] = "light";
    j["sheet"]["grain"] = "short";
    const auto p = project_from_text(j.dump(), "x");
    QVERIFY(p.ok());
    Project q = *p;
    q.grid.parts = 10;
    q.grid.start.reset();
    const Json again = testing::parsed(project_text(q));
    QVERIFY(again["from_the_future"] == j["from_the_future"]);
    QVERIFY(again["hand"]["pressure"] == Json("light"));
    QVERIFY(again["sheet"]["grain"] == Json("short"));
    QVERIFY(again["grid"]["parts"] == Json(10));
    QVERIFY(again["grid"]["start"].is_null());
  }

  void version_2_is_brought_forward() {
    const std::string file = std::string(UC_TEST_DATA "/project-v2.undercrease");
    Json old = testing::parsed(read_file(file).value());
    QVERIFY(old["version"] == Json(2));
    // Ids were numbers then; everything else stays as it stood.
    const auto worded = [](Json& value) {
      if (value.is_number()) value = text_of(*element_id_of_number(value.get<int>()));
      if (value.is_array()) {
        for (Json& id : value) id = text_of(*element_id_of_number(id.get<int>()));
      }
    };
    for (Json& e : old["programme"]["elements"]) {
      for (const char* key : {"id", "made_of"}) {
        if (e.contains(key)) worded(e[key]);
      }
    }
    for (Json& m : old["programme"]["moves"]) {
      for (const char* key : {"moving", "onto", "through", "makes", "ends"}) {
        if (m.contains(key)) worded(m[key]);
      }
      // The times of a repeat were said with each move.
      if (m.contains("repeat")) m["repeat"] = {{"of", 0}, {"time", m["repeat"]}};
      m.erase("repeats");
    }
    const auto p = load_project(file);
    QVERIFY2(p.ok(), p ? "" : p.error().c_str());
    Json again = testing::parsed(project_text(*p));
    QVERIFY(again["version"] == Json(project_version));
    for (const auto& [key, value] : old.items()) {
      if (key == "version" || key == "grid_follows" || key == "pre_crease") continue; // said otherwise now
      if (!value.is_object()) {
        QVERIFY2(again[key] == value, key.c_str());
        continue;
      }
      for (auto it = value.begin(); it != value.end(); ++it)
        QVERIFY2(again.at(key).at(it.key()) == it.value(), (key + "." + it.key()).c_str());
    }
    QCOMPARE(again["programme"]["moves"].size(), old["programme"]["moves"].size());
    QVERIFY(!again.contains("steps"));
  }

  void version_1_is_brought_forward() {
    const auto p = load_project(std::string(UC_TEST_DATA "/project-v1.undercrease"));
    QVERIFY2(p.ok(), p ? "" : p.error().c_str());
    QCOMPARE(p->grid.parts, 16);
    QCOMPARE(p->grid.axis, GridAxis::x);
    QCOMPARE(p->grid.method, Method::neighbours);
    QVERIFY(near(p->hand.sigma_mm, 0.3, 1e-12));
    QCOMPARE(p->sheet.code(), std::string("210x297mm"));
    QVERIFY(!p->programme.empty());
    const Json again = testing::parsed(project_text(*p));
    QVERIFY(again["version"] == Json(project_version));
    QVERIFY(!again.contains("parts") && !again.contains("sigma_mm"));
    QVERIFY(again["keepsake"] == Json("stays"));
  }

  void version_2_as_first_shipped_still_loads() {
    const auto p = load_project(std::string(UC_SOURCE_DIR "/data/demo/open-night.undercrease"));
    QVERIFY2(p.ok(), p ? "" : p.error().c_str());
    QCOMPARE(p->grid.parts, 12);
    QVERIFY(load_shelf(std::string(UC_SOURCE_DIR "/data/demo/shelf.json"))->size() >= 8);
  }

  void bad_files_get_one_sentence_data() {
    QTest::addColumn<QByteArray>("text");
    QTest::addColumn<QString>("says");
    const QByteArray good = QByteArray::fromStdString(project_text(sample()));
    QTest::newRow("empty") << QByteArray() << "complete JSON";
    QTest::newRow("truncated") << good.left(good.size() / 2) << "cut short";
    QTest::newRow("newer") << QByteArray(good).replace("\"version\": 4", "\"version\": 99") << "newer Under Crease";
    QTest::newRow("other format") << QByteArray("{\"format\":\"x\"}") << "not an Under Crease project";
    QTest::newRow("array") << QByteArray("[1,2]") << "not an Under Crease project";
    QTest::newRow("no version") << QByteArray("{\"format\":\"under-crease/project\"}") << "version: a whole number";
    QTest::newRow("parts 257") << QByteArray(good).replace("\"parts\": 9,", "\"parts\": 257,") << "2 to 256";
    QTest::newRow("parts text") << QByteArray(good).replace("\"parts\": 9,", "\"parts\": \"many\",")
                                << "grid.parts: a whole number must stand here, not \"many\"";
    QTest::newRow("bad sheet") << QByteArray(good).replace("square:240mm", "square:-1mm") << "at least 1 mm";
    QTest::newRow("deep") << QByteArray(200000, '[') << "nests too deeply";
    QTest::newRow("binary") << QByteArray("\x00\xff\xfe\x01", 4) << "complete JSON";
  }
  void bad_files_get_one_sentence() {
    QFETCH(QByteArray, text);
    QFETCH(QString, says);
    const auto p = project_from_text(text.toStdString(), "job.undercrease");
    QVERIFY(!p);
    QVERIFY2(QString::fromStdString(p.error()).contains(says), p.error().c_str());
    QVERIFY(QString::fromStdString(p.error()).startsWith("job.undercrease"));
    QVERIFY(!QString::fromStdString(p.error()).contains('\n'));
  }

  void random_damage_never_crashes() {
    const std::string good = project_text(sample());
    std::mt19937 random(99);
    int loaded = 0;
    for (int i = 0; i < 400; ++i) {
      std::string text = good;
      for (int k = 0; k < 1 + i % 5; ++k) text[random() % text.size()] = static_cast<char>(random() % 256);
      if (i % 7 == 0) text.resize(random() % text.size());
      const auto p = project_from_text(text, "x");
      loaded += p.ok();
      QVERIFY(p.ok() || !p.error().empty());
    }
    QVERIFY(loaded < 400);
  }

  void places_that_cannot_be_written_say_so() {
    const Project p = sample();
    const auto nowhere = save_project(p, path("no/such/a.undercrease"));
    QVERIFY(!nowhere);
    QVERIFY(nowhere.error().find("folder does not exist") != std::string::npos);
    const auto full = write_atomically("/dev/full", "text");
    QVERIFY(!full);
    QVERIFY2(full.error().find("disk is full") != std::string::npos, full.error().c_str());
    QVERIFY(!write_atomically(path(""), "text"));
    QVERIFY(!read_file(path("vanished.undercrease")));
    QVERIFY(!read_file(path("")));
    { std::ofstream(path("big")) << std::string(2000, 'x'); }
    QVERIFY(!read_file(path("big"), 1000));
  }

  void a_failed_save_leaves_the_old_file_whole() {
    // A file-size limit stands in for a disk that fills up in the middle of writing.
    const std::string file = path("kept.txt");
    QVERIFY(write_atomically(file, "old").ok());
    ::signal(SIGXFSZ, SIG_IGN);
    rlimit before{};
    ::getrlimit(RLIMIT_FSIZE, &before);
    rlimit small = before;
    small.rlim_cur = 1000;
    ::setrlimit(RLIMIT_FSIZE, &small);
    const auto wrong = write_atomically(file, std::string(100000, 'n'));
    ::setrlimit(RLIMIT_FSIZE, &before);
    QVERIFY(!wrong);
    QCOMPARE(read_file(file).value(), std::string("old"));
    int left = 0;
    for (const auto& entry : std::filesystem::directory_iterator(dir_.path().toStdString()))
      left += entry.path().string().find("kept.txt.") != std::string::npos;
    QCOMPARE(left, 0);
  }

  void the_shelf_is_kept() {
    std::vector<Stock> shelf = generic_stocks();
    shelf[0].sheets = 77;
    QVERIFY(save_shelf(shelf, path("shelf.json")).ok());
    QVERIFY(load_shelf(path("shelf.json")).value() == shelf);
    QVERIFY(load_shelf(path("none.json")).value() == generic_stocks());
    { std::ofstream(path("bad.json")) << "{\"format\":\"under-crease/shelf\",\"stocks\":[{\"name\":\"\"}]}"; }
    QVERIFY(!load_shelf(path("bad.json")));
  }

  void svg_carries_the_kind_of_every_line() {
    Project p = sample();
    p.grid.left_out.clear();
    p.grid.keep_clean.clear();
    p.programme = division_of(p)->programme;
    const QString svg = QString::fromStdString(grid_svg(p.programme, p.title));
    QCOMPARE(svg.count("class=\"raw\""), 4);
    QCOMPARE(svg.count("class=\"valley\"") + svg.count("class=\"mountain\""), 14);
    QCOMPARE(svg.count("class=\"undirected\""), 2); // the mark that was there before, in both directions
    QCOMPARE(svg.count("class=\"mountain\""), 8);
    QVERIFY(svg.contains("width=\"240mm\"") && svg.contains("&lt;panel&gt;"));
    QVERIFY(svg.contains("x1=\"80\"") || svg.contains("x2=\"80\""));
  }

  void the_pdf_is_at_true_scale() {
    // Rasterised by another program at 254 dpi, 10 pixels are 1 mm: the check bar must be 1000 pixels long.
    ExportOptions options;
    options.fonts.folder = std::string(UC_SOURCE_DIR "/data/fonts");
    options.part = ExportPart::template_only;
    const Project p = sample();
    const auto pdf = export_bytes(p, "grid.pdf", options);
    QVERIFY(pdf.ok());
    QVERIFY(write_atomically(path("grid.pdf"), *pdf).ok());
    QProcess info;
    info.start("pdfinfo", {QString::fromStdString(path("grid.pdf"))});
    QVERIFY(info.waitForFinished());
    const QString about = info.readAllStandardOutput();
    QVERIFY2(about.contains("Pages:           2"), qPrintable(about)); // 240 mm wide on 190 mm: two tiles
    QVERIFY(about.contains("595.276 x 841.89") || about.contains("A4"));
    QProcess raster;
    raster.start("pdftoppm", {"-r", "254", "-gray", "-f", "1", "-l", "1", QString::fromStdString(path("grid.pdf")),
                              QString::fromStdString(path("grid"))});
    QVERIFY(raster.waitForFinished());
    std::string file;
    for (const auto& entry : std::filesystem::directory_iterator(dir_.path().toStdString())) {
      if (entry.path().extension() == ".pgm") file = entry.path().string();
    }
    QVERIFY(!file.empty());
    std::ifstream in(file, std::ios::binary);
    std::string magic;
    int w = 0, h = 0, top = 0;
    in >> magic >> w >> h >> top;
    in.get();
    std::vector<unsigned char> pixels(static_cast<std::size_t>(w) * static_cast<std::size_t>(h));
    in.read(reinterpret_cast<char*>(pixels.data()), static_cast<std::streamsize>(pixels.size()));
    QVERIFY(near(w, 2100, 1) && near(h, 2970, 1));
    const auto longest_run = [&](int y) {
      int run = 0, best = 0;
      for (int x = 0; x < w; ++x) {
        run = pixels[static_cast<std::size_t>(y) * static_cast<std::size_t>(w) + static_cast<std::size_t>(x)] < 128
                  ? run + 1
                  : 0;
        best = std::max(best, run);
      }
      return best;
    };
    int bar = 0;
    for (int y = h - 160; y < h - 120; ++y) bar = std::max(bar, longest_run(y));
    QVERIFY2(near(bar, 1000, 6), qPrintable(QString::number(bar)));
    int edge = 0; // the raw edge across the whole tile
    for (int y = 150; y < 250; ++y) edge = std::max(edge, longest_run(y));
    QVERIFY2(near(edge, 1900, 6), qPrintable(QString::number(edge)));
  }

  void tiles_cover_the_sheet_and_share_their_crosses() {
    Project p = sample();
    p.sheet = parse_sheet("square:600mm").value();
    p.grid = GridSpec{};
    p.programme = division_of(p)->programme;
    PrintOptions print;
    const auto pages = template_pages(p.programme, "big", print);
    QCOMPARE(pages.size(), std::size_t{4 * 3});
    for (const Page& page : pages) {
      for (const auto& item : page.items) {
        if (const auto* path = std::get_if<PagePath>(&item)) {
          for (const Point& v : path->points) QVERIFY(v.x() >= 5.9 && v.x() <= 204.1 && v.y() >= 5.9 && v.y() <= 297);
        }
      }
    }
    print.paper = {"A3", 297, 420};
    QCOMPARE(template_pages(p.programme, "big", print).size(), std::size_t{3 * 2});
    p.sheet = parse_sheet("square:100mm").value();
    p.programme = division_of(p)->programme;
    QCOMPARE(template_pages(p.programme, "small", print).size(), std::size_t{1});
  }

  void the_hand_out_has_every_move() {
    const Project p = sample();
    ExportOptions options;
    options.fonts.folder = std::string(UC_SOURCE_DIR "/data/fonts");
    options.part = ExportPart::handout_only;
    QVERIFY(write_atomically(path("hand.pdf"), *export_bytes(p, "hand.pdf", options)).ok());
    QProcess text;
    text.start("pdftotext", {QString::fromStdString(path("hand.pdf")), "-"});
    QVERIFY(text.waitForFinished());
    QString words = text.readAllStandardOutput();
    words.replace(QRegularExpression("\\s+"), " ");
    QVERIFY2(words.contains("Bring the"), qPrintable(words.left(300)));
    const QString html = QString::fromStdString(*export_bytes(p, "hand.html", options));
    QCOMPARE(html.count("<li class=\"move\">"), qsizetype(p.programme.moves.size()));
    QCOMPARE(html.count("<svg"), qsizetype(p.programme.moves.size()));
    QVERIFY(html.contains("Crater &lt;panel&gt;") && !html.contains("<panel>"));
    nothing_of_it_is_cut_off(html);
  }

  void no_drawing_of_a_hand_out_is_cut_off() {
    for (const char* sheet : {"strip:300x20mm", "strip:20x300mm", "ngon:3:100mm", "ngon:6:80mm", "a4", "square:90mm"}) {
      Project p;
      p.sheet = parse_sheet(sheet).value();
      p.grid.parts = 6;
      p.grid.axis = p.sheet.has_right_corners() ? GridAxis::both : GridAxis::equilateral;
      p.programme = planned_programme(p, division_of(p).value());
      QVERIFY(!p.programme.moves.empty());
      nothing_of_it_is_cut_off(QString::fromStdString(*export_bytes(p, "hand.html", {})));
    }
  }

  void plans_are_made_for_the_size_that_was_measured() {
    Project p;
    p.sheet = parse_sheet("square:240mm").value();
    p.trueness = TruenessMeasure{242.4, 242.4, 242.4, 242.4, 242.4 * std::sqrt(2), 242.4 * std::sqrt(2)};
    p.grid.parts = 5;
    p.references = {{"one third", "bottom:1/3", "c1 = O2 bl br"}};
    const auto division = division_of(p);
    QVERIFY(near(division->layout.families[0].extent_mm, 242.4, 1e-9));
    QVERIFY(near(bounding_box(planned_programme(p, *division).sheet).size().y(), 242.4, 1e-9));

    p.references.clear();
    p.pattern.count = 4;
    p.pattern.rules = {"line 0,1 along 1,0 mountain"};
    p.folded = FoldedWork::creases;
    const DrawnPattern drawn = drawn_pattern(p.pattern, p.sheet.outline());
    const auto creases = creases_of(p, drawn);
    QVERIFY2(creases.ok(), creases ? "" : creases.error().c_str());
    QVERIFY(near(bounding_box(creases->programme.sheet).size().x(), 242.4, 1e-9));
    QCOMPARE(creases->wanted.size(), std::size_t{1});
    QVERIFY(near(creases->wanted[0].line.distance(Point(0, 242.4 / 4)), 0, 1e-9));

    // A programme that was saved for the typed size is planned again; one for the measured size stays as it is.
    p.folded = FoldedWork::grid;
    p.programme = planned_programme(p, divide(p.sheet, p.grid, p.hand).value());
    const auto again = project_from_text(project_text(p), "old");
    QVERIFY(near(bounding_box(again->programme.sheet).size().x(), 242.4, 1e-9));
    Project turned = *again;
    std::swap(turned.programme.moves[0], turned.programme.moves[1]);
    const auto kept = project_from_text(project_text(turned), "kept");
    QVERIFY(json_of(kept->programme) == json_of(turned.programme));

    // Figures of quite another sheet, figures that make no sheet, and sheets without right corners, are planned as
    // typed.
    p.trueness = TruenessMeasure{300, 300, 300, 300, 300 * std::sqrt(2), 300 * std::sqrt(2)};
    QCOMPARE(planned_sheet(p).code(), std::string("square:240mm"));
    p.trueness->rising = 900;
    QCOMPARE(planned_sheet(p).code(), std::string("square:240mm"));
    p.sheet = parse_sheet("ngon:6:100mm").value();
    QCOMPARE(planned_sheet(p).code(), std::string("ngon:6:100mm"));
  }

  void tables_and_calendar() {
    const Project p = sample();
    const std::string csv = *export_bytes(p, "grid.csv", {});
    QCOMPARE(std::count(csv.begin(), csv.end(), '\n') > 2 * 7, true);
    QVERIFY(csv.find("x,3,9,80,") != std::string::npos);
    ExportOptions options;
    QVERIFY(!export_bytes(p, "s.ics", options));
    options.session_start = "2026-11-28T18:00:00";
    const auto ics = export_bytes(p, "s.ics", options);
    QVERIFY(ics.ok());
    QVERIFY(ics->find("BEGIN:VEVENT") != std::string::npos &&
            ics->find("DTSTART:20261128T180000") != std::string::npos);
    QVERIFY(ics->find("DURATION:PT") != std::string::npos);
    options.session_start = "tomorrow";
    QVERIFY(!export_bytes(p, "s.ics", options));
    const auto odd = export_bytes(p, "s.docx", options);
    QVERIFY(!odd && odd.error().find(".pdf") != std::string::npos);
    RunSummary run;
    run.title = "=SUM(A1)";
    run.note = "said \"so\",\nthen left";
    const std::string log = log_csv({run});
    QVERIFY(log.find("'=SUM(A1)") != std::string::npos &&
            log.find("\"said \"\"so\"\",\nthen left\"") != std::string::npos);
  }

  void what_nobody_asked_for_is_told_and_put_back() {
    const Json read = Json::parse(R"({"a": 1, "future": [1, 2], "b": {"x": 1, "y": 2},
      "gone": {"kept": true}, "list": [{"id": 1, "extra": true}, {"id": 2}],
      "own": [{"name": "one", "hue": "red"}, {"name": "two", "hue": "blue"}]})");
    SeenKeys seen;
    const JsonReader r(read, "", &seen);
    (void)r.at("a").number(0, 9);
    (void)r.at("b").at("x").number(0, 9);
    (void)r.at("gone").find("nothing");
    for (const JsonReader& item : r.at("list").list()) (void)item.at("id").index();
    for (const JsonReader& item : r.at("own").list()) (void)item.at("name").text();
    const Json unknown = unseen(read, seen);
    QCOMPARE(unknown, Json::parse(R"({"future": [1, 2], "": {"b": {"y": 2}, "gone": {"kept": true},
      "list": [{"extra": true}, null], "own": [{"name": "one", "hue": "red"}, {"name": "two", "hue": "blue"}]}})"));
    // What is written anew stays as it is; items go by their names, or by their places where their number is the same.
    Json now = Json::parse(R"({"a": 7, "b": {"x": 3}, "gone": null, "list": [{"id": 4}, {"id": 5}],
      "own": [{"name": "two"}, {"name": "three"}]})");
    put_back(now, unknown);
    QCOMPARE(now, Json::parse(R"({"a": 7, "b": {"x": 3, "y": 2}, "future": [1, 2], "gone": null,
      "list": [{"id": 4, "extra": true}, {"id": 5}], "own": [{"name": "two", "hue": "blue"}, {"name": "three"}]})"));
    Json shorter = Json::parse(R"({"list": [{"id": 4}]})");
    put_back(shorter, unknown);
    QVERIFY(!shorter["list"][0].contains("extra"));
  }

  void a_start_of_another_kind_is_that_kind_after_saving() {
    Project folded = sample();
    folded.grid.start =
        StartMark{1, 0.3, StartKind::corner_fold, {"c1 = bl onto tr\nresult c1", "c1 = br onto tl\nresult c1"}};
    const Project read = project_from_text(project_text(folded), "x").value();
    QCOMPARE(read.grid.start->recipes.size(), std::size_t{2});
    for (const StartMark& other : {StartMark{1, 0.1, StartKind::given, {}}, StartMark{2, 0.15, StartKind::ruler, {}}}) {
      Project now = read;
      now.grid.start = other;
      now.programme = {};
      const Project again = project_from_text(project_text(now), "x").value();
      QVERIFY(again.grid == now.grid);
    }
  }

  void unknown_fields_are_kept_where_they_stand() {
    Project p = sample();
    p.pattern = family_design("chevron", {{"count", 6}});
    p.units.evenings = 3;
    Json j = testing::parsed(project_text(p));
    j["pattern"]["mood"] = "calm";
    j["pattern"]["family"]["tempo"] = 3;
    j["units"]["glue"] = {{"kind", "rice"}};
    j["collapse"]["music"] = true;
    const Project read = project_from_text(j.dump(), "x").value();
    const Json again = testing::parsed(project_text(read));
    QCOMPARE(again["pattern"]["mood"], Json("calm"));
    QCOMPARE(again["pattern"]["family"]["tempo"], Json(3));
    QCOMPARE(again["units"]["glue"], j["units"]["glue"]);
    QCOMPARE(again["collapse"]["music"], Json(true));
    // Another pattern brings nothing of the old one back.
    Project plain = read;
    plain.pattern = {};
    plain.pattern.rules = {"line 0,4 along 1,0 valley"};
    plain.units = {};
    const Json other = testing::parsed(project_text(plain));
    QVERIFY(!other["pattern"].contains("family") && other["pattern"]["mood"] == Json("calm"));
    QCOMPARE(project_from_text(other.dump(), "x").value().pattern.rules, plain.pattern.rules);
  }
};

UC_TEST(IoTest)
#include "io_test.moc"
