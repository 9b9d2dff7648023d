// under-crease-cli: the core for scripts. Commands register themselves here; each lives in a file of its own.
#include "command.h"

#include <cstdlib>
#include <filesystem>
#include <iostream>

namespace uc::cli {

void print_json(const nlohmann::json& document) { std::cout << document.dump(1) << "\n"; }

std::string default_log_path() {
  namespace fs = std::filesystem;
  const char* xdg = std::getenv("XDG_DATA_HOME");
  const char* home = std::getenv("HOME");
  const fs::path data = xdg && *xdg ? fs::path(xdg) : fs::path(home ? home : ".") / ".local/share";
  const fs::path folder = data / "under-crease";
  std::error_code ec;
  fs::create_directories(folder, ec);
  return (folder / "log.sqlite").string();
}

std::string font_folder() {
  const std::string installed = std::string(UC_INSTALLED_DATA_DIR) + "/fonts";
  return std::filesystem::exists(installed) ? installed : std::string(UC_DATA_DIR) + "/fonts";
}

namespace {

/// One line, whatever the parser says.
std::string one_line(std::string text) {
  for (char& c : text) {
    if (c == '\n' || c == '\r') c = ' ';
  }
  while (!text.empty() && text.back() == ' ') text.pop_back();
  return text;
}

int run(int argc, char** argv) {
  CLI::App app{"Under Crease for scripts: plans, proofs, files and the log of paper folded by measure."};
  app.set_version_flag("--version", std::string("under-crease-cli ") + UC_VERSION);
  app.require_subcommand(1);
  Action action;
  add_assign(app, action);
  add_check(app, action);
  add_count(app, action);
  add_divide(app, action);
  add_export(app, action);
  add_fold(app, action);
  add_log(app, action);
  add_pattern(app, action);
  add_polygon(app, action);
  add_precrease(app, action);
  add_proportion(app, action);
  add_reference(app, action);
  try {
    app.parse(argc, argv);
    return action();
  } catch (const CLI::CallForHelp& e) {
    return app.exit(e);
  } catch (const CLI::CallForAllHelp& e) {
    return app.exit(e);
  } catch (const CLI::CallForVersion& e) {
    return app.exit(e);
  } catch (const CLI::ParseError& e) {
    std::cerr << "under-crease-cli: " << one_line(e.what()) << "; see under-crease-cli --help\n";
    return call_is_wrong;
  } catch (const CallError& e) {
    std::cerr << "under-crease-cli: " << one_line(e.message) << "\n";
    return call_is_wrong;
  }
}

} // namespace
} // namespace uc::cli

int main(int argc, char** argv) {
  try {
    return uc::cli::run(argc, argv);
  } catch (const std::exception& e) {
    std::cerr << "under-crease-cli: unexpected: " << uc::cli::one_line(e.what()) << "\n";
    return uc::cli::call_is_wrong;
  }
}
