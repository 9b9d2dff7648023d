// Files written whole or not at all, held by locks, read only where they are files; text that is shown and not obeyed.
#include "runner.h"
#include "support.h"

#include "base/clean_text.h"
#include "base/file_stamp.h"
#include "base/held_file.h"
#include "form/crease_pattern.h"
#include "io/exports.h"
#include "io/json_reader.h"
#include "reference/sheet_index.h"

#include <QTemporaryDir>

#include <chrono>
#include <filesystem>
#include <fstream>
#include <thread>

#include <fcntl.h>
#include <sys/stat.h>
#include <sys/wait.h>
#include <unistd.h>

using namespace uc;
namespace fs = std::filesystem;

class FilesTest : public QObject {
  Q_OBJECT
  QTemporaryDir dir_;
  [[nodiscard]] std::string path(const std::string& name) const { return dir_.path().toStdString() + "/" + name; }
  static std::string content(const std::string& file) {
    std::ifstream in(file, std::ios::binary);
    return {std::istreambuf_iterator<char>(in), {}};
  }
  static mode_t mode(const std::string& file) {
    struct stat s {};
    return ::stat(file.c_str(), &s) == 0 ? s.st_mode & 07777U : 0;
  }
  [[nodiscard]] std::size_t entries() const {
    return static_cast<std::size_t>(std::distance(fs::directory_iterator(dir_.path().toStdString()), {}));
  }

private slots:
  void cleanup() {
    for (const auto& e : fs::directory_iterator(dir_.path().toStdString())) fs::remove_all(e.path());
  }

  void a_write_goes_through_links_to_their_target() {
    QVERIFY(write_atomically(path("target"), "old").ok());
    fs::create_symlink("target", path("near"));
    fs::create_symlink(path("near"), path("far"));
    QVERIFY(write_atomically(path("far"), "new").ok());
    QCOMPARE(content(path("target")), std::string("new"));
    QVERIFY(fs::is_symlink(path("far")) && fs::is_symlink(path("near")));
    fs::create_symlink("not-there-yet", path("dangling"));
    QVERIFY(write_atomically(path("dangling"), "made").ok());
    QVERIFY(fs::is_symlink(path("dangling")));
    QCOMPARE(content(path("not-there-yet")), std::string("made"));
    fs::create_symlink("round", path("around"));
    fs::create_symlink("around", path("round"));
    const auto circle = write_atomically(path("round"), "x");
    QVERIFY(!circle);
    QVERIFY2(circle.error().find("circle") != std::string::npos, circle.error().c_str());
  }

  void modes_are_kept_and_new_files_take_the_umask() {
    for (const mode_t m : {0600U, 0644U, 0755U, 0660U}) {
      QVERIFY(write_atomically(path("kept"), "a").ok());
      QCOMPARE(::chmod(path("kept").c_str(), m), 0);
      QVERIFY(write_atomically(path("kept"), "b").ok());
      QCOMPARE(mode(path("kept")), m);
    }
    for (const mode_t mask : {022U, 077U, 002U}) {
      const mode_t before = ::umask(mask);
      const std::string file = path("new-" + std::to_string(mask));
      QVERIFY(write_atomically(file, "a").ok());
      ::umask(before);
      QCOMPARE(mode(file), 0666U & ~mask);
    }
  }

  void names_up_to_the_limit_and_names_that_are_not_text() {
    const std::string longest(255, 'n');
    QVERIFY(write_atomically(path(longest), "long").ok());
    QVERIFY(write_atomically(path(longest), "longer").ok());
    QCOMPARE(*read_file(path(longest)), std::string("longer"));
    const auto too_long = write_atomically(path(longest + "n"), "x");
    QVERIFY(!too_long);
    QVERIFY2(too_long.error().find("too long") != std::string::npos, too_long.error().c_str());
    const std::string bytes = path("caf\xe9-\xff.undercrease");
    QVERIFY(write_atomically(bytes, "x").ok());
    QCOMPARE(*read_file(bytes), std::string("x"));
    QCOMPARE(entries(), std::size_t{2}); // and nothing beside them
  }

  void a_new_file_replaces_nothing() {
    QVERIFY(write_new(path("a"), "first").ok());
    const auto again = write_new(path("a"), "second");
    QVERIFY(!again);
    QVERIFY(again.error().find("already") != std::string::npos);
    QCOMPARE(content(path("a")), std::string("first"));
    fs::create_symlink("a", path("link"));
    QVERIFY(!write_new(path("link"), "third"));
    QCOMPARE(entries(), std::size_t{2});
  }

  void pipes_and_devices_are_refused_without_waiting() {
    QCOMPARE(::mkfifo(path("pipe").c_str(), 0600), 0);
    const auto start = std::chrono::steady_clock::now();
    for (const std::string& name : {path("pipe"), std::string("/dev/zero"), std::string("/dev/stdin"), path("")}) {
      const auto read = read_file(name);
      QVERIFY2(!read, name.c_str());
    }
    QVERIFY(read_file(path("pipe")).error().find("only files are opened") != std::string::npos);
    const auto written = write_atomically(path("pipe"), "x");
    QVERIFY(!written);
    QVERIFY2(written.error().find("nobody reads") != std::string::npos, written.error().c_str());
    QVERIFY(std::chrono::steady_clock::now() - start < std::chrono::seconds(5));
    // With a reader a pipe is written to, and a stream is read from it.
    std::thread writer([&] { (void)write_atomically(path("pipe"), std::string(300000, 'p')); });
    std::this_thread::sleep_for(std::chrono::milliseconds(50));
    writer.join(); // nobody was reading yet
    std::thread feeder([&] {
      std::ofstream out(path("pipe"), std::ios::binary);
      out << std::string(300000, 'q');
    });
    const auto stream = read_stream(path("pipe"), 1 << 20);
    feeder.join();
    QCOMPARE(stream->size(), std::size_t{300000});
  }

  void one_file_under_two_names_is_one_file() {
    QVERIFY(write_atomically(path("a"), "x").ok());
    fs::create_symlink("a", path("s"));
    fs::create_hard_link(path("a"), path("h"));
    QVERIFY(same_file(path("a"), path("s")) && same_file(path("h"), path("s")));
    QVERIFY(!same_file(path("a"), path("nothing")) && !same_file(path("nothing"), path("nothing")));
    const auto before = file_stamp(path("a"));
    QVERIFY(write_atomically(path("a"), "y").ok());
    QVERIFY(!(file_stamp(path("a")) == before));
    QVERIFY(!same_file(path("a"), path("h"))); // replaced, not written into
  }

  void a_lock_on_the_file_itself_tells_who_holds_it() {
    auto held = HeldFile::written(path("copy"), "one");
    QVERIFY(held.ok());
    HeldFile mine = std::move(held).value();
    HeldFile::Outcome outcome{};
    QVERIFY(!HeldFile::take(path("copy"), false, outcome));
    QCOMPARE(outcome, HeldFile::Outcome::taken);
    // Replacing it keeps it held without a gap: the new file is locked before it has its name.
    auto next = HeldFile::written(path("copy"), "two");
    QVERIFY(next.ok());
    mine = std::move(next).value();
    QVERIFY(!HeldFile::take(path("copy"), false, outcome));
    QCOMPARE(content(path("copy")), std::string("two"));
    // A process that is killed holds nothing any more, whatever its number.
    const pid_t child = ::fork();
    if (child == 0) {
      HeldFile::Outcome o{};
      const HeldFile its = HeldFile::take(path("other"), true, o);
      ::raise(SIGKILL);
    }
    int status = 0;
    QCOMPARE(::waitpid(child, &status, 0), child);
    QVERIFY(HeldFile::take(path("other"), false, outcome));
    mine.release();
    QVERIFY(HeldFile::take(path("copy"), false, outcome));
    QVERIFY(!HeldFile::take("/no/such/folder/x", true, outcome));
    QCOMPARE(outcome, HeldFile::Outcome::impossible);
  }

  void shown_text_obeys_nothing_data() { testing::add_rows(testing::cases("shown_text.json")); }
  void shown_text_obeys_nothing() {
    const Json c = testing::row();
    std::string bytes;
    for (const Json& b : c["bytes"]) bytes += static_cast<char>(b.get<int>());
    QCOMPARE(shown_text(bytes), c["shown"].get<std::string>());
    // What is shown is shown again unchanged, and holds no control byte.
    QCOMPARE(shown_text(shown_text(bytes)), shown_text(bytes));
    for (const char ch : shown_text(bytes)) QVERIFY(static_cast<unsigned char>(ch) >= 0x20 && ch != 0x7F);
  }

  void random_bytes_never_reach_the_terminal() {
    std::uint64_t state = 2026;
    for (int round = 0; round < 20000; ++round) {
      std::string bytes;
      for (int i = 0; i < 12; ++i) {
        state = state * 6364136223846793005ULL + 1442695040888963407ULL;
        bytes += static_cast<char>(state >> 56);
      }
      const std::string shown = shown_text(bytes);
      for (const char ch : shown) QVERIFY(static_cast<unsigned char>(ch) >= 0x20 && ch != 0x7F);
      QVERIFY(QString::fromStdString(shown).toStdString() == shown); // it is UTF-8
      QVERIFY(clipped(shown, 16).size() <= 16);
      const Json document = {{"text", shown_text(bytes, true)}};
      QVERIFY(testing::parsed(shown_json(document.dump())) == document);
    }
  }

  void the_cache_lets_the_oldest_go_first() {
    const auto age = [&](const std::string& name, int hours) {
      fs::last_write_time(path(name), fs::file_time_type::clock::now() - std::chrono::hours(hours));
    };
    for (int i = 1; i <= 5; ++i) {
      const std::string name = "marks-" + std::to_string(i) + ".index";
      QVERIFY(write_atomically(path(name), std::string(1000, 'm')).ok());
      age(name, 10 * i);
    }
    for (const char* name : {"notes.txt", ".uc-abandoned", ".uc-under-way"})
      QVERIFY(write_atomically(path(name), std::string(9000, 'n')).ok());
    age(".uc-abandoned", 3);
    prune_cache(dir_.path().toStdString(), 3000);
    for (int i = 1; i <= 5; ++i) QCOMPARE(fs::exists(path("marks-" + std::to_string(i) + ".index")), i <= 3);
    QVERIFY(fs::exists(path("notes.txt")) && fs::exists(path(".uc-under-way")) && !fs::exists(path(".uc-abandoned")));
    prune_cache(dir_.path().toStdString(), 0);
    QCOMPARE(entries(), std::size_t{2});
    prune_cache(path("no such folder"), 0);
  }

  void a_long_programme_asks_before_it_becomes_thousands_of_pages() {
    Project p;
    p.sheet = *parse_sheet("square:20m");
    p.stock = generic_stocks()[0];
    p.programme = planned_programme(p, *division_of(p));
    ExportOptions options;
    options.fonts.folder = std::string(UC_SOURCE_DIR "/data/fonts");
    const std::size_t pages = export_page_count(p, options);
    QVERIFY(pages > usual_pages);
    const auto refused = export_bytes(p, "x.pdf", options);
    QVERIFY(!refused);
    QVERIFY2(refused.error().find("--pages " + std::to_string(pages)) != std::string::npos, refused.error().c_str());
    // What is told without making the pages is what is made.
    for (const char* sheet : {"square:240mm", "a4", "strip:900x40mm", "square:1m"}) {
      p.sheet = *parse_sheet(sheet);
      p.programme = planned_programme(p, *division_of(p));
      for (const ExportPart part : {ExportPart::both, ExportPart::template_only, ExportPart::handout_only}) {
        options.part = part;
        QCOMPARE(export_page_count(p, options), export_pages(p, options).size());
      }
    }
    p.programme.moves.resize(most_drawn_moves + 1);
    QVERIFY(!export_bytes(p, "x.html", options));
  }

  void json_is_read_strictly_with_the_path_of_the_key() {
    const Json doc = testing::parsed(R"({"a":{"n":[1,2.5,"x",-1,1e300]},"w":"blue","big":18446744073709551615})");
    const JsonReader r(doc);
    const auto n = r.at("a").at("n").list();
    QCOMPARE(n[0].whole(0, 9), std::int64_t{1});
    const auto says = [](auto&& read, const char* what) {
      try {
        read();
      } catch (const FieldError& e) {
        QVERIFY2(std::string(e.what()).find(what) != std::string::npos, e.what());
        return;
      }
      QFAIL(what);
    };
    says([&] { (void)n[1].whole(0, 9); }, "a.n[1]: a whole number must stand here, not 2.5");
    says([&] { (void)n[2].number(0, 9); }, "a.n[2]: a number must stand here, not \"x\"");
    says([&] { (void)n[3].whole(0, 9); }, "a.n[3]: -1 cannot be used; it must be 0 to 9");
    says([&] { (void)n[4].number(0, 9); }, "a.n[4]: 1e+300 cannot be used");
    says([&] { (void)r.whole("big", 0, 9, 0); }, "big: 18446744073709551615 cannot be used");
    says([&] { (void)r.at("missing"); }, "missing: is missing");
    says([&] { (void)r.at("w").word<EdgeKind>(); }, "w: \"blue\" is not a word that is known here");
    says([&] { (void)r.at("a").at("n").list(2, 2); }, "has 5 entries; it must have 2");
    QCOMPARE(r.whole("absent", 0, 9, 7), 7);
  }
};

UC_TEST(FilesTest)
#include "files_test.moc"
