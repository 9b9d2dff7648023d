// under-crease-cli: the core for scripts. Commands register themselves here; each lives in a file of its own.
#include "command.h"
#include "pattern_file.h"

#include "base/clean_text.h"

#include <fmt/format.h>

#include <cstdlib>
#include <filesystem>
#include <functional>
#include <map>
#include <new>
#include <string_view>

namespace uc::cli {

std::string default_log_path() {
  namespace fs = std::filesystem;
  const char* xdg = std::getenv("XDG_DATA_HOME");
  const char* home = std::getenv("HOME");
  const fs::path data = xdg && *xdg ? fs::path(xdg) : fs::path(home ? home : ".") / ".local/share";
  return (data / "under-crease" / "log.sqlite").string();
}

std::string font_folder() {
  const std::string installed = std::string(UC_INSTALLED_DATA_DIR) + "/fonts";
  return std::filesystem::exists(installed) ? installed : std::string(UC_DATA_DIR) + "/fonts";
}

std::string practice_folder() {
  const std::string installed = std::string(UC_INSTALLED_DATA_DIR) + "/practice";
  return std::filesystem::exists(installed) ? installed : std::string(UC_DATA_DIR) + "/practice";
}

std::string steps_folder() {
  const std::string installed = std::string(UC_INSTALLED_DATA_DIR) + "/steps";
  return std::filesystem::exists(installed) ? installed : std::string(UC_DATA_DIR) + "/steps";
}

namespace {

/// A complaint on one line. Words of the call that are very long are shortened, and so is the whole.
std::string one_line(std::string text, int argc = 0, char** argv = nullptr) {
  constexpr std::size_t longest_word = 160;
  constexpr std::size_t longest_line = 600;
  for (int i = 1; i < argc; ++i) {
    for (const std::string_view word :
         {std::string_view(argv[i]), std::string_view(argv[i]).substr(std::string_view(argv[i]).find('=') + 1)}) {
      if (word.size() <= longest_word) continue;
      for (auto at = text.find(word); at != std::string::npos; at = text.find(word))
        text.replace(at, word.size(), clipped(word, longest_word));
    }
  }
  text = clipped(shown_text(text), longest_line);
  while (!text.empty() && text.back() == ' ') text.pop_back();
  return text;
}

/// What nobody waits longer for.
constexpr const char* usual_seconds = "600";

int complain(const std::string& line) {
  forget_output();
  err() << "under-crease-cli: " << line << "\n";
  return call_is_wrong;
}

/// Help and version go through the same door as everything else.
int told(const CLI::App& app, const CLI::Error& e) { return app.exit(e, out(), err()); }

int run(int argc, char** argv) {
  CLI::App app{"Under Crease for scripts: plans, proofs, files and the log of paper folded by measure."};
  app.set_version_flag("--version", std::string("under-crease-cli ") + UC_VERSION);
  app.require_subcommand(1);
  Action action;
  add_assign(app, action);
  add_batch(app, action);
  add_caliper(app, action);
  add_check(app, action);
  add_collapse(app, action);
  add_count(app, action);
  add_divide(app, action);
  add_export(app, action);
  add_fold(app, action);
  add_hand(app, action);
  add_judge(app, action);
  add_log(app, action);
  add_pattern(app, action);
  add_polygon(app, action);
  add_precrease(app, action);
  add_proportion(app, action);
  add_reference(app, action);
  add_practice(app, action);
  add_scan(app, action);
  add_score(app, action);
  add_solid(app, action);
  add_steps(app, action);
  add_units(app, action);
  std::map<const CLI::App*, std::string> limits;
  const std::function<void(CLI::App&)> limit = [&](CLI::App& command) {
    const auto inner = command.get_subcommands([](const CLI::App*) { return true; });
    for (CLI::App* c : inner) limit(*c);
    if (!inner.empty() || command.get_option_no_throw("--seconds")) return;
    command.add_option("--seconds", limits[&command] = usual_seconds, "Time it may take")->capture_default_str();
  };
  for (CLI::App* command : app.get_subcommands([](const CLI::App*) { return true; })) limit(*command);
  if (argc > 1 && argv[1][0] != '-' &&
      app.get_subcommands([&](const CLI::App* c) { return c->check_name(argv[1]); }).empty())
    return complain(one_line(fmt::format("\"{}\" is not a command; see under-crease-cli --help", argv[1]), argc, argv));
  try {
    app.parse(argc, argv);
    const CLI::App* called = &app;
    while (!called->get_subcommands().empty()) called = called->get_subcommands().front();
    const auto* json = called->get_option_no_throw("--json");
    const auto patience = limits.find(called);
    // A command that has a limit of its own keeps it itself.
    return patience == limits.end() ? action()
                                    : timed(seconds_option(patience->second), json && json->count() > 0, action);
  } catch (const CLI::CallForHelp& e) {
    return told(app, e);
  } catch (const CLI::CallForAllHelp& e) {
    return told(app, e);
  } catch (const CLI::CallForVersion& e) {
    return told(app, e);
  } catch (const CLI::ParseError& e) {
    return complain(one_line(e.what(), argc, argv) + "; see under-crease-cli --help");
  } catch (const CallError& e) {
    return complain(one_line(e.message, argc, argv));
  }
}

} // namespace
} // namespace uc::cli

int main(int argc, char** argv) {
  using namespace uc::cli;
  end_on_interrupt();
  try {
    return delivered(run(argc, argv));
  } catch (const std::bad_alloc&) {
    return delivered(complain("the memory is full; close other programs, or give a smaller pattern"));
  } catch (const std::exception& e) {
    return delivered(complain("unexpected: " + one_line(e.what())));
  }
}
