// Logs under attack: reading writes nothing, what is not ours stays as it is, and what happens to the file while it is
// open is noticed before anything more counts.
#include "runner.h"
#include "support.h"

#include "io/json_codec.h"
#include "io/json_reader.h"
#include "record/run_log.h"

#include <SQLiteCpp/SQLiteCpp.h>

#include <QTemporaryDir>

#include <algorithm>
#include <filesystem>
#include <fstream>
#include <map>
#include <random>

#include <unistd.h>

using namespace uc;
namespace fs = std::filesystem;

namespace {

RunDetail sample(const std::string& title) {
  RunDetail run;
  run.summary.title = title;
  run.summary.sheet = "square:240mm";
  run.summary.stock = "Copy paper";
  run.summary.size = 8;
  run.summary.started = "2026-10-03T18:00:00Z";
  run.summary.status = RunStatus::finished;
  run.summary.moves_planned = 4;
  run.programme_json = "{}";
  run.plans_json = "[]";
  run.events = {{EventKind::done, 0, 30, "", "2026-10-03T18:01:00Z"},
                {EventKind::note, 1, 0, "a note", "2026-10-03T18:02:00Z"},
                {EventKind::fault, 1, 0, "slipped", "2026-10-03T18:03:00Z"},
                {EventKind::done, 1, 20, "", "2026-10-03T18:04:00Z"}};
  run.measured = {{"x", 4, 120.2, 120, 0.25, 0.15}};
  run.photos = {"/photos/a.jpg"};
  return run;
}

} // namespace

class LogFileTest : public QObject {
  Q_OBJECT
  QTemporaryDir dir_;
  [[nodiscard]] std::string folder() const { return dir_.path().toStdString(); }
  [[nodiscard]] std::string log() const { return folder() + "/log.sqlite"; }
  /// Names, sizes, times and bytes of everything in the folder.
  [[nodiscard]] std::map<std::string, std::pair<std::int64_t, std::string>> everything() const {
    std::map<std::string, std::pair<std::int64_t, std::string>> all;
    for (const auto& e : fs::directory_iterator(folder())) {
      if (e.is_directory()) {
        all[e.path().filename().string()] = {0, "folder"};
        continue;
      }
      std::ifstream in(e.path(), std::ios::binary);
      all[e.path().filename().string()] = {file_stamp(e.path().string())->changed_ns,
                                           {std::istreambuf_iterator<char>(in), {}}};
    }
    return all;
  }
  void make() const {
    RunLog l = std::move(RunLog::open(log())).value();
    QVERIFY(l.add_whole(sample("Crater panel")).ok());
  }
  void in_sql(const char* sql) const {
    SQLite::Database db(log(), SQLite::OPEN_READWRITE);
    db.exec(sql);
  }

private slots:
  void init() {
    for (const auto& e : fs::directory_iterator(folder())) fs::remove_all(e.path());
  }

  void reading_writes_nothing() {
    make();
    const auto before = everything();
    QCOMPARE(before.size(), std::size_t{1});
    {
      const auto l = RunLog::open_to_read(log());
      QVERIFY(l.ok());
      QCOMPARE(l->list()->size(), std::size_t{1});
      QVERIFY(l->load(1).ok());
    }
    QVERIFY(everything() == before);
  }

  void reading_beside_a_window_that_writes_writes_nothing_and_sees_what_is_there() {
    RunLog writer = std::move(RunLog::open(log())).value();
    QVERIFY(writer.add_whole(sample("Crater panel")).ok());
    QVERIFY(writer.add_whole(sample("Moon lamp")).ok());
    const auto before = everything();
    QVERIFY(before.contains("log.sqlite-wal"));
    const auto reader = RunLog::open_to_read(log());
    QVERIFY2(reader.ok(), reader ? "" : reader.error().c_str());
    QCOMPARE(reader->list()->size(), std::size_t{2});
    QVERIFY(everything() == before);
    QVERIFY(writer.set_note(1, "still writing").ok());
  }

  void a_log_on_a_read_only_disk_is_read() {
    make();
    const uid_t self = ::geteuid();
    fs::permissions(log(), fs::perms::owner_read | fs::perms::group_read | fs::perms::others_read);
    fs::permissions(folder(), fs::perms::owner_read | fs::perms::owner_exec | fs::perms::others_read |
                                  fs::perms::others_exec | fs::perms::group_read | fs::perms::group_exec);
    if (self == 0) QCOMPARE(::seteuid(65534), 0); // whatever is read-only is not so for the superuser
    const auto l = RunLog::open_to_read(log());
    const std::size_t runs = l ? l->list()->size() : 0;
    LogFailure failure;
    const auto writing = RunLog::open(log(), &failure);
    if (self == 0) QCOMPARE(::seteuid(self), 0);
    fs::permissions(folder(), fs::perms::owner_all);
    QCOMPARE(runs, std::size_t{1});
    QVERIFY(!writing);
    QCOMPARE(failure.trouble, LogTrouble::unwritable);
    QVERIFY2(failure.message.find("read-only") != std::string::npos, failure.message.c_str());
  }

  void what_is_no_log_stays_as_it_is_data() {
    QTest::addColumn<QString>("attack");
    QTest::addColumn<int>("trouble");
    const std::pair<const char*, LogTrouble> attacks[] = {{"empty", LogTrouble::empty},
                                                          {"text", LogTrouble::damaged},
                                                          {"half", LogTrouble::damaged},
                                                          {"another program's", LogTrouble::foreign},
                                                          {"another application id", LogTrouble::foreign},
                                                          {"emptied", LogTrouble::empty},
                                                          {"a table gone", LogTrouble::damaged},
                                                          {"newer", LogTrouble::newer},
                                                          {"old and newer", LogTrouble::newer},
                                                          {"no tables at all", LogTrouble::empty},
                                                          {"folder", LogTrouble::foreign}};
    for (const auto& [name, trouble] : attacks) QTest::newRow(name) << QString(name) << static_cast<int>(trouble);
  }
  void what_is_no_log_stays_as_it_is() {
    QFETCH(QString, attack);
    QFETCH(int, trouble);
    if (attack == "empty") {
      std::ofstream{log()};
    } else if (attack == "text") {
      std::ofstream(log()) << std::string(5000, '#');
    } else if (attack == "folder") {
      fs::create_directory(log());
    } else if (attack == "another program's" || attack == "no tables at all") {
      SQLite::Database db(log(), SQLite::OPEN_READWRITE | SQLite::OPEN_CREATE);
      db.exec("CREATE TABLE shopping(item TEXT)");
      if (attack == "no tables at all") db.exec("DROP TABLE shopping");
    } else {
      make();
      if (attack == "half") fs::resize_file(log(), 50);
      if (attack == "another application id") in_sql("PRAGMA application_id=7");
      if (attack == "emptied")
        in_sql(
            "PRAGMA foreign_keys=OFF; DROP TABLE events; DROP TABLE measured; DROP TABLE photos; DROP TABLE payloads; "
            "DROP TABLE runs");
      if (attack == "a table gone") in_sql("DROP TABLE events");
      if (attack == "newer") in_sql("PRAGMA user_version=99");
      if (attack == "old and newer") in_sql("PRAGMA application_id=0; PRAGMA user_version=99");
    }
    const auto before = everything();
    for (const bool write : {false, true}) {
      LogFailure failure;
      const auto l = write ? RunLog::open(log(), &failure) : RunLog::open_to_read(log(), &failure);
      QVERIFY(!l);
      QCOMPARE(static_cast<int>(failure.trouble), trouble);
      QVERIFY(failure.message.find('\n') == std::string::npos && failure.message.find(log()) == 0);
    }
    QVERIFY(everything() == before);
    const auto t = static_cast<LogTrouble>(trouble);
    QCOMPARE(may_set_aside(t), t != LogTrouble::newer);
  }

  /// The first version named grids: axis, method and parts. It is read where it may not be written, and brought up to
  /// this version when it is opened to be written, with everything that was in it.
  void a_log_of_version_1_keeps_everything() {
    const auto copy = [&] {
      fs::copy_file(std::string(UC_SOURCE_DIR "/tests/data/log-v1.sqlite"), log(),
                    fs::copy_options::overwrite_existing);
    };
    const auto holds = [](const RunLog& opened) {
      RunQuery oldest;
      oldest.order = RunOrder::newest;
      const auto runs = opened.list(oldest);
      if (!runs || runs->size() != 3) return std::string("runs");
      struct Row {
        const char* title;
        const char* kind;
        const char* way;
        int size, moves, faults;
        std::size_t events, measured;
      };
      for (const Row& row : {Row{"Crater panel, first try", "division", "both, neighbours", 16, 33, 2, 35, 10},
                             {"Crater panel", "division", "both, edges", 16, 37, 0, 38, 10},
                             {"Badge sleeve strip", "pre-crease", "needed", 12, 25, 0, 26, 5}}) {
        const auto at =
            std::find_if(runs->begin(), runs->end(), [&](const RunSummary& r) { return r.title == row.title; });
        if (at == runs->end() || at->kind != row.kind || at->way != row.way || at->size != row.size ||
            at->moves_done != row.moves || at->faults != row.faults)
          return std::string(row.title);
        const auto run = opened.load(at->id);
        if (!run || run->events.size() != row.events || run->measured.size() != row.measured ||
            run->programme_json.empty())
          return std::string("parts of ") + row.title;
        if (const auto families = measured_families(*run); !families || families->empty())
          return std::string("plans of ") + row.title;
      }
      for (const char* word : {"pre-crease", "neighbours", "16"}) {
        RunQuery query;
        query.text = word;
        const auto found = opened.list(query);
        if (!found || found->empty()) return std::string("search for ") + word;
      }
      return std::string();
    };
    copy();
    const auto before = everything();
    {
      const auto opened = RunLog::open_to_read(log());
      QVERIFY2(opened.ok(), opened ? "" : opened.error().c_str());
      QCOMPARE(holds(*opened), std::string());
    }
    QVERIFY(everything() == before);       // reading never writes
    for (int time = 0; time < 2; ++time) { // brought up once, then as any other
      const auto opened = RunLog::open(log());
      QVERIFY2(opened.ok(), opened ? "" : opened.error().c_str());
      QCOMPARE(holds(*opened), std::string());
    }
    SQLite::Database db(log(), SQLite::OPEN_READONLY);
    QCOMPARE(db.execAndGet("PRAGMA user_version").getInt(), log_schema_version);
    QCOMPARE(db.execAndGet("PRAGMA integrity_check").getString(), std::string("ok"));
    // A run that is exported by the first version is read the same way.
    const auto entry = testing::parsed(R"({"title":"t","axis":"x","method":"edges","parts":9})");
    const RunDetail read = run_detail_from(JsonReader(entry));
    QVERIFY(read.summary.kind == "division" && read.summary.way == "x, edges" && read.summary.size == 9);
  }

  void logs_of_earlier_versions_are_recognised_by_their_tables() {
    make();
    in_sql("PRAGMA application_id=0; PRAGMA user_version=1");
    QCOMPARE(RunLog::open_to_read(log())->list()->size(), std::size_t{1});
    {
      const auto l = RunLog::open(log());
      QVERIFY(l.ok());
    }
    SQLite::Database db(log());
    QCOMPARE(db.execAndGet("PRAGMA application_id").getInt(), log_application_id);
  }

  void a_log_of_version_2_learns_of_projects() {
    make();
    in_sql("DROP TABLE places; PRAGMA user_version=2");
    {
      const auto l = RunLog::open_to_read(log());
      QVERIFY(l.ok() && l->load(1).ok() && l->load(1)->project.empty());
    }
    auto l = RunLog::open(log());
    QVERIFY(l.ok());
    QVERIFY(std::move(l).value().set_project(1, "/home/fold/a.undercrease").ok());
    QCOMPARE(RunLog::open(log())->load(1)->project, std::string("/home/fold/a.undercrease"));
  }

  void random_damage_is_refused_or_read_but_never_written_over() {
    make();
    std::string good;
    {
      std::ifstream in(log(), std::ios::binary);
      good.assign(std::istreambuf_iterator<char>(in), {});
    }
    std::mt19937 random(27);
    int refused = 0;
    for (int round = 0; round < 300; ++round) {
      std::string bad = good;
      const int flips = 1 + static_cast<int>(random() % 40);
      for (int i = 0; i < flips; ++i) bad[random() % bad.size()] = static_cast<char>(random());
      if (round % 5 == 0) bad.resize(random() % bad.size());
      for (const char* suffix : {"-wal", "-shm"}) fs::remove(log() + suffix);
      { std::ofstream(log(), std::ios::binary) << bad; }
      const auto before = everything();
      const auto l = RunLog::open_to_read(log());
      bool read = l.ok() && l->list().ok();
      if (read) (void)l->load(1); // a run or a sentence
      refused += !read;
      QVERIFY(everything() == before);
    }
    QVERIFY2(refused > 30, std::to_string(refused).c_str());
  }

  void a_log_removed_or_replaced_while_open_is_noticed_before_a_move_counts() {
    for (const bool replaced : {false, true}) {
      init();
      make();
      RunLog l = std::move(RunLog::open(log())).value();
      QVERIFY(l.add_event(1, {EventKind::done, 2, 1, "", ""}).ok());
      fs::rename(log(), folder() + "/taken-away");
      if (replaced) fs::copy_file(folder() + "/taken-away", log());
      const auto after = l.add_event(1, {EventKind::done, 3, 1, "", ""});
      QVERIFY(!after);
      QVERIFY2(after.error().find(replaced ? "replaced" : "removed") != std::string::npos, after.error().c_str());
      QCOMPARE(l.failure().trouble, LogTrouble::missing);
    }
  }

  void unknown_words_are_said_and_never_taken_for_others() {
    make();
    in_sql("UPDATE events SET kind='danced' WHERE id=2");
    {
      const auto l = RunLog::open_to_read(log());
      const auto run = l->load(1);
      QVERIFY(!run);
      QVERIFY2(run.error().find("event 2") != std::string::npos && run.error().find("danced") != std::string::npos,
               run.error().c_str());
      QCOMPARE(l->list()->size(), std::size_t{1}); // the list is not hidden by it
    }
    in_sql("UPDATE events SET kind='note' WHERE id=2; UPDATE runs SET status='lost'");
    const auto l = RunLog::open_to_read(log());
    QCOMPARE(l->list()->front().status, RunStatus::unreadable);
    QVERIFY(!l->load(1));
    QVERIFY(!l->active_run()->has_value());
  }

  void a_run_that_was_removed_comes_back_as_it_was() {
    make();
    RunLog l = std::move(RunLog::open(log())).value();
    QVERIFY(l.add_whole(sample("Moon lamp")).ok());
    QVERIFY(l.correct(1, {"Crater panel, second try", "Foil", RunStatus::abandoned}).ok());
    const Json before = json_of(*l.load(1));
    QCOMPARE(before["title"].get<std::string>(), std::string("Crater panel, second try"));
    QVERIFY(before["status"] == "abandoned" && before["moves_done"] == 2 && before["faults"] == 1);
    const RunDetail whole = *l.load(1);
    QVERIFY(l.remove(1).ok());
    QCOMPARE(l.list()->size(), std::size_t{1});
    QVERIFY(l.restore(whole).ok());
    QVERIFY(json_of(*l.load(1)) == before);
    QVERIFY(!l.restore(whole)); // its number is taken
    QVERIFY(!l.correct(99, {"x", "y", RunStatus::finished}));
  }
};

UC_TEST(LogFileTest)
#include "log_file_test.moc"
