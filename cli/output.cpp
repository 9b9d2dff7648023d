// What leaves the program: standard output and error in one piece, files, and the end on Ctrl+C.
#include "command.h"

#include "base/atomic_file.h"
#include "base/clean_text.h"
#include "base/file_stamp.h"

#include <fmt/format.h>

#include <cerrno>
#include <csignal>
#include <cstring>
#include <sstream>
#include <unistd.h>

namespace uc::cli {
namespace {

/// Everything of one call. The program is one call, so there is one of these, and one for the work beside it.
struct Kept {
  std::ostringstream out, err;
  std::string json;
};
thread_local Kept* beside = nullptr;
Kept& kept() {
  static Kept all;
  return beside ? *beside : all;
}

volatile std::sig_atomic_t interrupted = 0;
volatile std::sig_atomic_t undisturbed = 0;

/// May be called from a signal handler.
void end_stopped() {
  static const char text[] = "\runder-crease-cli: stopped by you; nothing more was written.\n";
  const char* from = isatty(STDERR_FILENO) ? text : text + 1;
  if (::write(STDERR_FILENO, from, std::strlen(from)) < 0) errno = 0;
  ::_exit(stopped_by_user);
}

bool write_all(int fd, std::string_view bytes) {
  while (!bytes.empty()) {
    const ssize_t n = ::write(fd, bytes.data(), bytes.size());
    if (n < 0 && errno == EINTR) continue;
    if (n <= 0) return false;
    bytes.remove_prefix(static_cast<std::size_t>(n));
  }
  return true;
}

} // namespace

std::ostream& out() { return kept().out; }
std::ostream& err() { return kept().err; }

void print_json(const nlohmann::json& document) {
  kept().json = shown_json(document.dump(1, ' ', false, nlohmann::json::error_handler_t::replace)) + "\n";
}

void forget_output() {
  kept().err.str({});
  kept().out.str({});
  kept().json.clear();
}

std::string said_beside(const std::function<void()>& work) {
  Kept own;
  beside = &own;
  struct Back {
    ~Back() { beside = nullptr; }
  } back;
  work();
  return own.err.str();
}

int delivered(int exit) {
  const Undisturbed all;
  const std::string complaint = shown_text(kept().err.str(), true);
  const std::string text = shown_text(kept().out.str(), true) + kept().json;
  kept() = {};
  if (!complaint.empty() && !write_all(STDERR_FILENO, complaint)) errno = 0; // nobody is left to be told
  if (text.empty() || write_all(STDOUT_FILENO, text)) return exit;
  const std::string why =
      fmt::format("under-crease-cli: standard output: writing failed ({}); send it to another place.\n",
                  errno == EPIPE ? "its reader has gone" : std::strerror(errno));
  if (!write_all(STDERR_FILENO, why)) errno = 0;
  return call_is_wrong;
}

void end_on_interrupt() {
  // A closed pipe is an error of the write, not the end of the program.
  std::signal(SIGPIPE, SIG_IGN);
  struct sigaction action {};
  action.sa_handler = [](int) {
    interrupted = 1;
    if (undisturbed == 0) end_stopped();
  };
  ::sigaction(SIGINT, &action, nullptr);
}

Undisturbed::Undisturbed() { undisturbed = undisturbed + 1; }
Undisturbed::~Undisturbed() {
  undisturbed = undisturbed - 1;
  if (undisturbed == 0 && interrupted) end_stopped();
}

void refuse_to_replace(const std::string& option, const std::string& file, const std::vector<std::string>& sources) {
  for (const std::string& source : sources) {
    if (same_file(file, source))
      throw CallError{
          fmt::format("{} {}: this is the file that is read, and it would be lost; give another name", option, file)};
  }
}

void write_output(const std::string& option, const std::string& file, const std::string& bytes,
                  const std::vector<std::string>& sources) {
  refuse_to_replace(option, file, sources);
  const Undisturbed whole;
  if (const auto ok = write_atomically(file, bytes); !ok) throw CallError{fmt::format("{} {}", option, ok.error())};
}

} // namespace uc::cli
