// collapse, solid and units as scripts see them: fields, exit codes, one line on standard error.
#include "caller.h"
#include "io/pattern_json.h"
#include "patterns.h"
#include "runner.h"

#include <QImage>
#include <QProcess>
#include <QRegularExpression>
#include <QtTest>

#include <cmath>
#include <cstring>
#include <set>

using namespace uc;
using uc::testing::Caller;

class SpaceContractTest : public QObject {
  Q_OBJECT

  Caller call_;
  [[nodiscard]] QString path(const QString& name) const { return call_.home() + "/" + name; }
  [[nodiscard]] QString written(const QString& name, const CreasePattern& p) const {
    return write_atomically(path(name).toStdString(), pattern_json(p)).ok() ? path(name) : QString();
  }
  [[nodiscard]] QString text(const QString& name, const std::string& bytes) const {
    return write_atomically(path(name).toStdString(), bytes).ok() ? path(name) : QString();
  }
  static Json json(const testing::Outcome& o) {
    const Json j = testing::parsed(o.out.toStdString());
    testing::only_finite(j);
    return j;
  }

private slots:
  void collapse_tells_every_edge() {
    const CreasePattern chevron = testing::chevron_pattern(4, 4);
    const QString file = written("c.json", chevron);
    const auto o = call_({"collapse", file, "--percent", "50", "--json"});
    QVERIFY2(o.exit == 0 && o.err.isEmpty(), o.err.constData());
    const Json j = json(o);
    QCOMPARE(j["vertices"].size(), chevron.vertices.size());
    QCOMPARE(j["edges"].size(), chevron.edges.size());
    double squares = 0;
    int driven = 0;
    for (std::size_t e = 0; e < chevron.edges.size(); ++e) {
      const Json& edge = j["edges"][e];
      QCOMPARE(edge["i"].get<int>(), chevron.edges[e].from);
      QCOMPARE(edge["j"].get<int>(), chevron.edges[e].to);
      // Strain, from the vertices that are told.
      const auto at = [&](int v, std::size_t k) { return j["vertices"][static_cast<std::size_t>(v)][k].get<double>(); };
      double squared = 0;
      for (std::size_t k = 0; k < 3; ++k)
        squared += std::pow(at(chevron.edges[e].from, k) - at(chevron.edges[e].to, k), 2);
      const double rest = chevron.segment(CreaseId(e)).length();
      QVERIFY(std::abs(std::sqrt(squared) / rest - 1 - edge["strain"].get<double>()) < 1e-9);
      if (!folds(chevron.edges[e].kind)) {
        QCOMPARE(edge["target_deg"].get<double>(), 0.0);
        continue;
      }
      const double target = chevron.edges[e].kind == EdgeKind::valley ? 90 : -90;
      QCOMPARE(edge["target_deg"].get<double>(), target);
      QVERIFY(edge["angle_deg"].get<double>() * target > 0);
      squares += std::pow(edge["angle_deg"].get<double>() - target, 2);
      ++driven;
    }
    QVERIFY(std::abs(std::sqrt(squares / driven) - j["rms_angle_error_deg"].get<double>()) < 1e-9);
    QVERIFY(j["max_strain"].get<double>() < 1e-3 && j["steps"].get<int>() > 0);
    const Json flat = json(call_({"collapse", file, "--percent", "0", "--json"}));
    QCOMPARE(flat["max_strain"].get<double>(), 0.0);
    QVERIFY(call_({"collapse", file, "--percent", "50", "--json"}).out.left(2000) == o.out.left(2000));
  }

  void collapse_goes_by_stages_and_writes_models() {
    const CreasePattern map = testing::chevron_pattern(2, 2);
    const QString file = written("m.json", map);
    int crease = 0;
    while (!folds(map.edges[static_cast<std::size_t>(crease)].kind)) ++crease;
    const QString stages = text("s.json", R"({"stages":[{"creases":[)" + std::to_string(crease) +
                                              R"(],"from":0,"to":0.5,"percent":40}]})");
    const Json j = json(call_({"collapse", file, "--stages", stages, "--percent", "100", "--json"}));
    QVERIFY(std::abs(std::abs(j["edges"][static_cast<std::size_t>(crease)]["target_deg"].get<double>()) - 72) < 1e-9);
    for (const char* name : {"m.obj", "m.stl", "m.glb"}) {
      QCOMPARE(call_({"collapse", file, "--percent", "30", "-o", path(name)}).exit, 0);
      QVERIFY(QFileInfo(path(name)).size() > 200);
    }
    for (const char* order : {"all-at-once", "outside-in", "inside-out", "one-side-first"})
      QCOMPARE(call_({"collapse", file, "--order", order, "--groups", "2", "--percent", "60"}).exit, 0);
    for (const auto& [args, says] :
         {std::pair{QStringList{"--percent", "101"}, "0 to 100"},
          {{"--order", "sideways"}, "outside-in"},
          {{"-o", path("m.ply")}, ".obj"},
          {{"--stages", path("none.json")}, "none.json"},
          {{"--stages", text("b1.json", "{}")}, "stages"},
          {{"--stages", text("b2.json", R"({"stages":[{"creases":[9999],"from":0,"to":1}]})")}, "not a crease"},
          {{"--stages", text("b3.json", R"({"stages":[{"creases":[1],"from":2,"to":1}]})")}, "from"}}) {
      const auto o = call_(QStringList{"collapse", file} + args);
      QVERIFY2(o.exit == 2 && o.err.count('\n') == 1 && o.err.contains(says), o.err.constData());
    }
  }

  void solid_gives_what_the_contract_says() {
    const Json j = json(call_({"solid", "icosahedron", "--edge", "10mm", "--json"}));
    QCOMPARE(j["vertices"].size(), std::size_t{12});
    QCOMPARE(j["faces"].size(), std::size_t{20});
    QCOMPARE(j["edges"].size(), std::size_t{30});
    for (const Json& d : j["dihedral_deg"]) QVERIFY(std::abs(d.get<double>() - 138.18968510422140) < 1e-9);
    QVERIFY(std::abs(j["diameter_mm"].get<double>() - 19.02113032590307) < 1e-9);
    const Json all = json(call_({"solid", "--list", "--json"}))["solids"];
    QVERIFY(all.size() >= 36);
    for (const Json& name : all)
      QCOMPARE(call_({"solid", QString::fromStdString(name.get<std::string>()), "--json"}).exit, 0);
    for (const auto& [name, says] : {std::pair{"blob", "not a solid"}, {"kis(cube,", "height"}, {"prism:1", "sides"}}) {
      const auto o = call_({"solid", name, "--json"});
      QVERIFY2(o.exit == 2 && o.err.count('\n') == 1 && o.err.contains(says) && o.out.isEmpty(), o.err.constData());
    }
    QCOMPARE(call_({"solid"}).exit, 2);
    QCOMPARE(call_({"solid", "cube", "--edge", "tall"}).exit, 2);
  }

  void models_films_and_calendars_are_written() {
    const QString file = written("f.json", testing::chevron_pattern(3, 3));
    const auto film = call_({"collapse", file, "--percent", "80", "--film", "6", "-o", path("f.glb")});
    QVERIFY2(film.exit == 0, film.err.constData());
    QFile glb(path("f.glb"));
    QVERIFY(glb.open(QIODevice::ReadOnly));
    const QByteArray bytes = glb.readAll();
    quint32 length = 0;
    std::memcpy(&length, bytes.constData() + 12, 4);
    const Json document = testing::parsed(bytes.mid(20, static_cast<int>(length)).toStdString());
    QCOMPARE(document["animations"].size(), std::size_t{1});
    for (const Json& primitive : document["meshes"][0]["primitives"])
      QCOMPARE(primitive["targets"].size(), std::size_t{6});
    const Json& sampler = document["animations"][0]["samplers"][0];
    QCOMPARE(document["accessors"][sampler["input"].get<std::size_t>()]["count"].get<int>(), 7);
    QCOMPARE(document["accessors"][sampler["output"].get<std::size_t>()]["count"].get<int>(), 42);
    QCOMPARE(call_({"collapse", file, "--film", "9999", "-o", path("g.glb")}).exit, 2);
    QCOMPARE(call_({"collapse", file, "--percent", "30", "--other-way", "--json"}).exit, 0);
    for (const char* name : {"s.obj", "s.stl", "s.glb"})
      QCOMPARE(call_({"solid", "snub-cube", "-o", path(name)}).exit, 0);
    QCOMPARE(QFileInfo(path("s.stl")).size(), qint64{84 + 50 * (32 + 6 * 2)});
    QCOMPARE(call_({"solid", "cube", "-o", path("s.svg")}).exit, 2);
    const QString lamp = text("lamp.undercrease", R"({"format":"under-crease/project","version":3,"title":"Moon lamp",
          "sheet":{"code":"square:75mm"},"units":{"folded":true,"solid":"cuboctahedron"}})");
    QCOMPARE(call_({"export", lamp, "-o", path("l.ics"), "--start", "2026-12-01T19:00:00", "--evenings", "4"}).exit, 0);
    QFile ics(path("l.ics"));
    QVERIFY(ics.open(QIODevice::ReadOnly));
    QCOMPARE(ics.readAll().count("BEGIN:VEVENT"), 4);
    QCOMPARE(call_({"export", lamp, "-o", path("l.ics"), "--start", "2026-12-01T19:00:00", "--evenings", "0"}).exit, 2);
    QCOMPARE(call_({"export", lamp, "-o", path("l.pdf")}).exit, 0);
    QCOMPARE(call_({"export", lamp, "-o", path("l.csv")}).exit, 0);
  }

  /// Models as programs of others read them: counts, one closed piece, the volume of a snub cube (7.8894774 edges
  /// cubed), animation and both colours.
  void others_read_the_models() {
    const auto told = [](const QString& program, const QStringList& args) {
      QProcess p;
      p.setProcessChannelMode(QProcess::MergedChannels);
      p.start(program, args);
      return p.waitForFinished(60'000) ? QString::fromUtf8(p.readAll()) : QString();
    };
    const auto figure = [](const QString& text, const QString& name) {
      const auto found = QRegularExpression(QRegularExpression::escape(name) + "\\s*[:=]\\s*(-?[0-9.]+)").match(text);
      return found.hasMatch() ? found.captured(1).toDouble() : std::nan("");
    };
    QCOMPARE(call_({"solid", "snub-cube", "-o", path("s.stl")}).exit, 0);
    const QString solid = told("admesh", {path("s.stl")});
    QVERIFY2(figure(solid, "Total disconnected facets") == 0 && figure(solid, "Number of parts") == 1,
             qPrintable(solid));
    QCOMPARE(figure(solid, "Number of facets"), 44.0);
    QVERIFY(std::abs(figure(solid, "Volume") - 7.8894774) < 1e-5);
    const CreasePattern chevron = testing::chevron_pattern(4, 4);
    const QString file = written("r.json", chevron);
    for (const char* name : {"r.stl", "r.obj"})
      QCOMPARE(call_({"collapse", file, "--percent", "40", "-o", path(name)}).exit, 0);
    for (const char* name : {"capital.GLB", "r.glb"})
      QCOMPARE(call_({"collapse", file, "--percent", "40", "--film", "4", "-o", path(name)}).exit, 0);
    const QString stl = told("admesh", {path("r.stl")});
    const QString obj = told("assimp", {"info", path("r.obj")});
    const QString glb = told("assimp", {"info", path("r.glb")});
    const double triangles = figure(obj, "Faces");
    QVERIFY2(triangles > 16 && figure(stl, "Number of facets") == triangles, qPrintable(obj));
    QCOMPARE(figure(obj, "Vertices"), static_cast<double>(chevron.vertices.size()));
    QCOMPARE(figure(stl, "Degenerate facets"), 0.0);
    QCOMPARE(figure(glb, "Faces"), 2 * triangles); // face and underside
    QCOMPARE(figure(glb, "Animations"), 1.0);
    QVERIFY(glb.contains("'face'") && glb.contains("'underside'"));
  }

  /// Three panels rolled up of which the last does not fit in: no order of the layers exists, and none is claimed.
  void what_cannot_close_without_passing_says_so() {
    CreasePattern p;
    for (const double x : {0.0, 31.0, 58.0, 90.0}) p.vertices.emplace_back(x, 0), p.vertices.emplace_back(x, 70);
    for (int i = 0; i < 4; ++i) p.edges.push_back({2 * i, 2 * i + 1, i % 3 == 0 ? EdgeKind::raw : EdgeKind::valley});
    for (int i = 0; i < 6; ++i) p.edges.push_back({i, i + 2, EdgeKind::raw});
    const QString file = written("rolled.json", p);
    QCOMPARE(call_({"check", file}).exit, 1);
    const auto told = call_({"collapse", file, "--percent", "100", "--apart"});
    QVERIFY2(told.exit == 0 && told.out.contains("they are let through"), told.out.constData());
    QVERIFY(json(call_({"collapse", file, "--percent", "100", "--apart", "--json"}))["layers_pass"] == true);
    QVERIFY(!call_({"collapse", file, "--percent", "40", "--apart"}).out.contains("let through"));
  }

  void collapse_holds_divides_and_lets_go() {
    const QString file = written("h.json", testing::chevron_pattern(4, 4));
    const Json plain = json(call_({"collapse", file, "--percent", "60", "--json"}));
    const Json fine = json(call_({"collapse", file, "--percent", "60", "--finer", "1", "--apart", "--json"}));
    QCOMPARE(fine["edges"].size(), plain["edges"].size());
    QCOMPARE(fine["vertices"].size(), plain["vertices"].size());
    QVERIFY(fine["passed_through"] == 0 && fine["layers_pass"] == false);
    QVERIFY(std::abs(fine["rms_angle_error_deg"].get<double>() - plain["rms_angle_error_deg"].get<double>()) < 15);
    const Json loose =
        json(call_({"collapse", file, "--percent", "60", "--let-go", "--stock", "Hand-made mulberry", "--json"}));
    double before = 0;
    double after = 0;
    for (std::size_t e = 0; e < plain["edges"].size(); ++e) {
      before += std::abs(plain["edges"][e]["angle_deg"].get<double>());
      after += std::abs(loose["edges"][e]["angle_deg"].get<double>());
    }
    QVERIFY2(after < before && after > 0.3 * before, qPrintable(QString("%1 %2").arg(before).arg(after)));
    QCOMPARE(call_({"collapse", file, "--clip", "50,50,40:20-60", "--percent", "50", "--json"}).exit, 0);
    for (const auto& [args, says] : {std::pair{QStringList{"--clip", "50,50"}, "such as 60,40,15:30-80"},
                                     {{"--clip", "5000,50,10:20-60"}, "no crease lies within"},
                                     {{"--finer", "9"}, "--finer"},
                                     {{"--let-go", "--stock", "gold"}, "--stock"}}) {
      const auto o = call_(QStringList{"collapse", file} + args);
      QVERIFY2(o.exit == 2 && o.err.contains(says) && o.err.count('\n') == 1, o.err.constData());
    }
  }

  /// A family writes how it is closed by hand; those stages close its pattern to its angles.
  void a_family_tells_its_stages() {
    const QString file = path("carton.json");
    const QString stages = path("carton-stages.json");
    const Json told = json(call_({"pattern", "carton", "--set", "top=open", "--set", "overlap=outside", "-o", file,
                                  "--stages", stages, "--json"}));
    QCOMPARE(told["held_flat"][0]["part"].get<std::string>(), std::string("first wall"));
    QCOMPARE(told["held_flat"][0]["outline"].size(), std::size_t{4});
    // Walls stand square to each other when the tube is wound, after two thirds; the floor is still open.
    const auto angles = [&](const char* percent) {
      const Json j = json(call_({"collapse", file, "--stages", stages, "--percent", percent, "--json"}));
      std::map<int, int> of;
      for (const Json& e : j["edges"]) ++of[static_cast<int>(std::lround(std::abs(e["angle_deg"].get<double>())))];
      return of;
    };
    auto tube = angles("66.667");
    QVERIFY(tube[90] == 8 && tube[180] == 0); // four walls and the ends below them
    auto closed = angles("100");
    QVERIFY2(closed[90] == 4 + 5 && closed[180] == 4 + 5,
             qPrintable(QString("%1 %2").arg(closed[90]).arg(closed[180])));
    for (const auto& [args, says] :
         {std::pair{QStringList{"pattern", "--from", file, "--stages", path("g.json")}, "name one"},
          {{"pattern", "carton", "-o", path("one.json"), "--stages", path("one.json")}, "give two names"},
          {{"collapse", written("plain.json", testing::chevron_pattern(2, 2)), "--order", "family"},
           "does not say how hands close it"}}) {
      const auto o = call_(args);
      QVERIFY2(o.exit == 2 && o.err.contains(says) && o.err.count('\n') == 1, o.err.constData());
    }
  }

  /// A family's file says how far each crease is folded: what stands in space closes from it without being told how,
  /// and what lies flat is driven evenly unless layers are kept apart.
  void a_file_closes_as_its_family() {
    const QString file = path("own.json");
    for (const char* family : {"square-wrap", "wrap", "blintz-tray", "four-part-box", "petal-bowl"}) {
      QCOMPARE(call_({"pattern", family, "-o", file}).exit, 0);
      const Json j = json(call_({"collapse", file, "--json"}));
      QVERIFY2(j["rms_angle_error_deg"] < 0.01 && j["max_strain"] < 1e-6, family);
      QCOMPARE(call_({"pattern", "--from", file, "-o", path("again.json")}).exit, 0);
      QCOMPARE(*read_file(path("again.json").toStdString()), *read_file(file.toStdString()));
    }
    QCOMPARE(call_({"pattern", "twist-tiling", "-o", file}).exit, 0);
    const Json half = json(call_({"collapse", file, "--percent", "50", "--json"}));
    for (const Json& e : half["edges"])
      if (e["target_deg"] != 0.0) QCOMPARE(std::abs(e["target_deg"].get<double>()), 90.0);
    for (const auto& [but, says] :
         {std::pair{"\"full_deg\":[90]", "full_deg: has 1 entries"}, {"\"goals\":7", "goals: a list"}}) {
      std::string text = pattern_json(testing::chevron_pattern(2, 2));
      text.replace(text.rfind('}'), 1, std::string(",\n") + but + "}");
      QVERIFY(write_atomically(file.toStdString(), text).ok());
      const auto o = call_({"collapse", file});
      const int line = static_cast<int>(std::count(text.begin(), text.end(), '\n')); // it ends in one
      QVERIFY2(o.exit == 2 && o.err.contains(says) && o.err.contains(QByteArray(":") + QByteArray::number(line)),
               o.err.constData());
    }
  }

  /// The cone of an accordion strip: its points come together, its end meets its beginning, and it has the angle of a
  /// pyramid with so many sides.
  void a_strip_closes_to_its_cone() {
    const QString file = path("cone.json");
    for (const int k : {3, 5, 8, 11}) {
      const Json told = json(call_({"pattern", "accordion-strip", "--set", "part=18", "--set", "height=70", "--set",
                                    QString("cone_parts=%1").arg(k), "-o", file, "--json"}));
      QVERIFY(std::abs(told["sheet_mm"][0].get<double>() - 18 * k) < 1e-9 && told["sheet_mm"][1] == 35.0);
      const auto flat = parse_pattern_json(*read_file(file.toStdString()));
      const Json j = json(call_({"collapse", file, "--json"}));
      QVERIFY(j["max_strain"] < 1e-9);
      const auto at = [&](double x, double y) {
        for (std::size_t i = 0; i < flat->vertices.size(); ++i)
          if ((flat->vertices[i] - Point{x, y}).norm() < 1e-6) {
            const Json& v = j["vertices"][i];
            return Point3{v[0].get<double>(), v[1].get<double>(), v[2].get<double>()};
          }
        qFatal("no vertex there");
        return Point3{};
      };
      const Point3 tip = at(9, 0);
      for (int i = 1; i < k; ++i) QVERIFY((at(18 * i + 9, 0) - tip).norm() < 1e-6);
      QVERIFY2((at(0, 35) - at(18 * k, 35)).norm() < 1e-6, qPrintable(QString::number(k)));
      Point3 middle = Point3::Zero();
      for (int i = 0; i < k; ++i) middle += at(18 * i, 35) / k;
      const double half = std::asin((at(0, 35) - middle).norm() / (at(0, 35) - tip).norm()) * 180 / 3.14159265358979;
      QVERIFY(std::abs(half - told["cone"]["faceted_half_angle_deg"].get<double>()) < 1e-6);
      const double corner = 2 * std::atan2(9, 35) * 180 / 3.14159265358979; // of a facet, at the tip
      QVERIFY(std::abs(told["gap_deg"].get<double>() - (360 - k * corner)) < 1e-9);
    }
    const auto o = call_({"pattern", "accordion-strip", "--set", "cone_parts=2", "-o", file});
    QVERIFY(o.exit == 2 && o.err.contains("three parts at least"));
  }

  /// What the window saves as a picture, the command does as well.
  void pictures_are_made() {
    const QString file = written("p.json", testing::chevron_pattern(4, 4));
    const QStringList call{"collapse", file, "--percent", "40", "--pixels", "300", "-o", path("p.png")};
    const auto made = [&](const QStringList& args) { return call_(args).exit == 0 ? QImage(path("p.png")) : QImage(); };
    // The paper of these is coloured, its underside and what does not stretch are all but white.
    const auto saturation = [&](const QStringList& args) {
      const QImage picture = made(call + args);
      double sum = 0;
      int covered = 0;
      for (int y = 0; y < picture.height(); ++y)
        for (int x = 0; x < picture.width(); ++x)
          if (picture.pixelColor(x, y).alpha() == 255) sum += picture.pixelColor(x, y).saturationF(), ++covered;
      return covered > 1000 ? sum / covered : -1;
    };
    const QImage plain = made(call);
    QCOMPARE(plain.size(), QSize(300, 300));
    QCOMPARE(plain.pixelColor(0, 0).alpha(), 0);
    QCOMPARE(plain.pixelColor(150, 150).alpha(), 255);
    QVERIFY(plain == made(call));
    QVERIFY(plain != made(call + QStringList{"--view", "30,-20"}));
    const double paper = saturation({});
    QVERIFY(saturation({"--behind"}) > 0 && saturation({"--behind"}) < 0.8 * paper);
    QVERIFY(saturation({"--strain"}) > 0 && saturation({"--strain"}) < 0.8 * paper);
    QCOMPARE(made(call + QStringList{"--lamp", "200,30,40", "--sweep"}).size(), QSize(300, 225));
    QVERIFY(
        !made({"units", "--solid", "tetrahedron", "--family", "parallelogram", "--pixels", "300", "-o", path("p.png")})
             .isNull());
    QCOMPARE(made({"solid", "cube", "--pixels", "300", "-o", path("p.png")}).pixelColor(150, 150).alpha(), 255);
    for (const QStringList& misplaced : {QStringList{"--lamp", "120,35", "-o", path("m.obj")},
                                         {"--view", "1,2"},
                                         {"--behind"},
                                         {"--film", "3", "-o", path("m.stl")},
                                         {"--strain", "-o", path("m.obj")},
                                         {"--groups", "3"},
                                         {"--stock", "Tissue"}}) {
      const auto o = call_(QStringList{"collapse", file} + misplaced);
      QVERIFY2(o.exit == 2 && o.err.count('\n') == 1 && o.err.contains(misplaced.front().toUtf8()), qPrintable(o.err));
    }
    for (const auto& [args, says] : {std::pair{QStringList{"--view", "1"}, "--view"},
                                     {{"--view", "1,2,3"}, "--view"},
                                     {{"--view", "inf,2"}, "--view"},
                                     {{"--pixels", "3"}, "--pixels"},
                                     {{"--lamp", "10"}, "--lamp"},
                                     {{"--lamp", "10,95"}, "--lamp"},
                                     {{"--lamp", "10,20,1"}, "--lamp"},
                                     {{"-o", path("p.obj"), "--sweep"}, "--sweep"},
                                     {{"-o", path("p.bmp")}, ".png"}}) {
      const auto o = call_(QStringList{"collapse", file} + (args.contains("-o") ? args : call.mid(2) + args));
      QVERIFY2(o.exit == 2 && o.err.contains(says) && o.err.count('\n') == 1, o.err.constData());
    }
  }

  void a_corner_is_pushed_over() {
    const QString file = path("saddle.json");
    QCOMPARE(call_({"pattern", "concentric-pleats", "--set", "rings=8", "-o", file}).exit, 0);
    const QStringList way{"collapse", file, "--percent", "60"};
    const Json over = json(call_(way + QStringList{"--push", "240,240", "--json"}))["pushed"];
    QVERIFY(over["gone_over"] == true && over["moved_mm"].get<double>() > 5);
    QVERIFY(std::hypot(over["corner_mm"][0].get<double>() - 240, over["corner_mm"][1].get<double>() - 240) < 1e-6);
    QVERIFY(std::abs(over["energy_after"].get<double>() / over["energy_before"].get<double>() - 1) < 0.01);
    QVERIFY(json(call_(way + QStringList{"--push", "240,240:-1", "--json"}))["pushed"]["gone_over"] == false);
    QVERIFY(call_(way + QStringList{"--push", "240,240"}).out.contains("rests in another shape"));
    QVERIFY(!json(call_(way + QStringList{"--json"})).contains("pushed"));
    for (const char* wrong : {"240", "a,b", "240,240:", "240,240:far", "1e999,0", "120,120"}) {
      const auto o = call_(way + QStringList{"--push", wrong});
      QVERIFY2(o.exit == 2 && o.err.contains("--push") && o.err.count('\n') == 1, o.err.constData());
    }
  }

  void units_of_ones_own_are_planned() {
    const QString own = text("own.json", R"({"name":"my-edge","stands_for":"edge","edge_share":0.4,"valences":[3,5]})");
    const QStringList base{"units", "--own", own, "--family", "my-edge", "--sheet", "square:50mm", "--json"};
    const Json j = json(call_(base + QStringList{"--solid", "icosahedron"}));
    QVERIFY(j["units"] == 30 && std::abs(j["edge_mm"].get<double>() - 20) < 1e-9);
    QCOMPARE(call_(base + QStringList{"--solid", "octahedron"}).exit, 1);
    const QString bad = text("bad.json", R"({"name":"my-edge","edge_share":-1})");
    const auto o = call_({"units", "--own", bad, "--family", "my-edge", "--solid", "cube"});
    QVERIFY2(o.exit == 2 && o.err.contains("edge_share") && o.err.count('\n') == 1, o.err.constData());
  }

  void units_take_what_the_window_asks_for() {
    const QStringList base{"units", "--solid", "octahedron", "--family", "parallelogram", "--colours", "3", "--json"};
    const Json plain = json(call_(base));
    const Json another = json(call_(base + QStringList{"--variant", "4"}));
    QCOMPARE(another["unit_list"].size(), plain["unit_list"].size());
    for (const Json& joint : another["joints"])
      QVERIFY(another["unit_list"][joint[0].get<std::size_t>()]["colour"] !=
              another["unit_list"][joint[1].get<std::size_t>()]["colour"]);
    QCOMPARE(call_(base + QStringList{"--variant", "4"}).out, call_(base + QStringList{"--variant", "4"}).out);
    const Json cut = json(call_(base + QStringList{"--from", "a3", "--margin", "5mm", "--keep-grain"}));
    QCOMPARE(cut["from_mm"][0].get<double>(), 297.0);
    QVERIFY(cut["sheets"].get<int>() < plain["sheets"].get<int>());
    for (const Json& piece : cut["cut_list"]) QVERIFY(piece["at_mm"][0].get<double>() >= 5);
    QCOMPARE(call_(base + QStringList{"--symmetry", "3"}).exit, 0);
    QCOMPARE(call_(base + QStringList{"-o", path("u.glb")}).exit, 0);
    for (const auto& [args, exit, says] : {std::tuple{QStringList{"--symmetry", "7"}, 1, "order 2, 3, 4"},
                                           {{"--symmetry", "none"}, 2, "--symmetry"},
                                           {{"--margin", "-3"}, 2, "--margin -3"},
                                           {{"--margin", "3"}, 2, "--from"},
                                           {{"--from", "ngon:6:50mm"}, 2, "rectangles"},
                                           {{"--from", "20mm"}, 1, "does not fit"},
                                           {{"-o", path("u.txt")}, 2, ".obj"}}) {
      const auto o = call_(base + args);
      QVERIFY2(o.exit == exit && o.err.count('\n') == 1 && o.err.contains(says), o.err.constData());
    }
  }

  void units_are_handed_out_held_and_made_of_equal_edges() {
    const QStringList octahedron{"units", "--solid", "octahedron", "--family"};
    for (const char* name : {"u.pdf", "u.html"}) {
      const auto o =
          call_(octahedron + QStringList{"half-square-star", "--sheet", "80mm", "--colours", "3", "-o", path(name)});
      QVERIFY2(o.exit == 0, o.err.constData());
      QVERIFY(QFileInfo(path(name)).size() > 2000);
    }
    const auto html = read_file(path("u.html").toStdString());
    for (const char* said : {"12 of 80 mm x 40 mm", "as a valley", "a is amber", "Glue"})
      QVERIFY2(html && html->find(said) != std::string::npos, said);
    QCOMPARE(call_(octahedron + QStringList{"parallelogram", "-o", path("u.docx")}).exit, 2);
    // Glued joints are listed; those of a family whose tabs hold are not.
    const Json glued = json(call_(octahedron + QStringList{"half-square-star", "--json"}));
    QVERIFY(glued["hold"] == "glue" && glued["glued"] == glued["joints"]);
    const Json held = json(call_(octahedron + QStringList{"parallelogram", "--json"}));
    QVERIFY(held["hold"] == "pocket" && held["glued"].empty() && !held.contains("bend_deg"));
    QCOMPARE(held["ridges"][0]["fold"].get<std::string>(), std::string("valley"));
    const Json ball =
        json(call_({"units", "--solid", "equal(dual(geodesic:2,0))", "--family", "zigzag-strip", "--json"}));
    QCOMPARE(ball["units"].get<int>(), 120);
    QVERIFY(ball["bend_deg"]["worst"].get<double>() >= ball["bend_deg"]["mean"].get<double>());
    const Json solid = json(call_({"solid", "equal(geodesic:2,1)", "--json"}));
    double least = 1e300;
    double most = 0;
    for (const Json& e : solid["edges"]) {
      const auto at = [&](int i) { return solid["vertices"][e[static_cast<std::size_t>(i)].get<std::size_t>()]; };
      double square = 0;
      for (std::size_t k = 0; k < 3; ++k) square += std::pow(at(0)[k].get<double>() - at(1)[k].get<double>(), 2);
      least = std::min(least, std::sqrt(square));
      most = std::max(most, std::sqrt(square));
    }
    QVERIFY(most < 1.001 * least);
    QCOMPARE(call_({"solid", "equal(cube)", "--json"}).exit, 2);
  }

  void what_closes_in_space_is_proved_and_measured() {
    const Json tray = json(call_({"pattern", "tray", "--set", "width=90", "--set", "depth=50", "--set", "height=20",
                                  "--prove", "--stock", "Copy paper", "--json"}));
    QVERIFY(tray["in_space"]["can_be_made"].get<bool>() && tray["in_space"]["closing"] == tray["in_space"]["vertices"]);
    QVERIFY(std::abs(tray["finished_mm"][0].get<double>() - 90) < 1e-6 &&
            std::abs(tray["finished_mm"][1].get<double>() - 50) < 1e-6);
    QVERIFY(std::abs(tray["finished_box_mm"][2].get<double>() - 20.1) < 1e-6); // and the paper
    QCOMPARE(call_({"pattern", "chevron", "--prove", "--json"}).exit, 2);
    const Json sleeve = json(call_({"pattern", "card-sleeve", "--inside", "100x70x2mm", "--json"}));
    QVERIFY(std::abs(sleeve["inside_mm"][0].get<double>() - 100) < 1e-9 &&
            std::abs(sleeve["inside_mm"][1].get<double>() - 70) < 1e-9);
  }

  void units_plan_what_the_contract_says() {
    const Json j = json(call_({"units", "--solid", "icosahedron", "--family", "parallelogram", "--sheet", "square:80mm",
                               "--colours", "3", "--json"}));
    QCOMPARE(j["units"].get<int>(), 30);
    QCOMPARE(j["sheets"].get<int>(), 30);
    QCOMPARE(j["edge_mm"].get<double>(), 40.0);
    QCOMPARE(j["joints"].size(), std::size_t{60});
    QCOMPARE(j["unit_list"].size(), std::size_t{30});
    QCOMPARE(j["cut_list"].size(), std::size_t{30});
    QCOMPARE(j["assembly"].size(), std::size_t{30});
    QCOMPARE(j["assembly"][29]["rings_closed"].get<int>(), 32);
    const Json solid = json(call_({"solid", "icosahedron", "--json"}));
    std::set<Json> edges(solid["edges"].begin(), solid["edges"].end());
    std::vector<int> share(3, 0);
    for (const Json& u : j["unit_list"]) {
      QVERIFY(edges.contains(u["edge"]));
      ++share[u["colour"].get<std::size_t>()];
    }
    QVERIFY(share == (std::vector<int>{10, 10, 10}));
    const Json strips =
        json(call_({"units", "--solid", "cube", "--family", "strip-and-clip", "--sheet", "strip:300x20mm", "--json"}));
    QCOMPARE(strips["units"].get<int>(), 18);
    QCOMPARE(strips["edge_mm"].get<double>(), 20.0);
    QVERIFY(strips["sheets"].get<int>() * 300 >= 8 * 12 * 20);
    const auto no = call_({"units", "--solid", "dodecahedron", "--family", "parallelogram", "--json"});
    QVERIFY(no.exit == 1 && no.err.count('\n') == 1 && no.err.contains("5 x 90"));
    const std::string reason = Json::parse(no.out.toStdString())["refused"]["reason"];
    QVERIFY(no.err.contains(QByteArray::fromStdString(reason)));
    const auto few = call_({"units", "--solid", "icosahedron", "--family", "parallelogram", "--colours", "2"});
    QVERIFY(few.exit == 1 && few.err.contains("3 are the fewest"));
    for (const auto& [args, says] :
         {std::pair{QStringList{"--solid", "cube"}, "--family"},
          {{"--solid", "cube", "--family", "blob"}, "there are"},
          {{"--solid", "blob", "--family", "rhombic"}, "--solid"},
          {{"--solid", "cube", "--family", "box-corner", "--sheet", "100x50mm"}, "square"},
          {{"--solid", "cube", "--family", "box-corner", "--sheet", "ngon:6:50mm"}, "square"},
          {{"--solid", "cube", "--family", "box-corner", "--colours", "0"}, "--colours"},
          {{"--solid", "cube", "--family", "box-corner", "--stock", "gold"}, "there are"},
          {{"--solid", "cube", "--family", "box-corner", "--sheet", "square:50mm", "--finished", "90"},
           "one of them"}}) {
      const auto o = call_(QStringList{"units"} + args);
      QVERIFY2(o.exit == 2 && o.err.count('\n') == 1 && o.err.contains(says), o.err.constData());
    }
    const Json list = json(call_({"units", "--list", "--json"}));
    QCOMPARE(list["families"].size(), std::size_t{8});
    QVERIFY(list["stocks"].size() > 3);
  }
};

UC_TEST(SpaceContractTest)
#include "space_contract_test.moc"
