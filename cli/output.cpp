// What leaves the program: standard output and error in one piece, files, and the end on Ctrl+C.
#include "command.h"

#include "base/atomic_file.h"
#include "base/clean_text.h"
#include "base/file_stamp.h"

#include <fmt/format.h>

#include <cerrno>
#include <chrono>
#include <csignal>
#include <cstdlib>
#include <cstring>
#include <future>
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

/// The files this call reads.
std::vector<std::string>& inputs() {
  static std::vector<std::string> all;
  return all;
}

/// And those it has written.
std::vector<std::string>& outputs() {
  static std::vector<std::string> all;
  return all;
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

int refused(const std::string& reason, bool json) {
  err() << "under-crease-cli: " << reason << "\n";
  if (json) print_json({{"refused", {{"reason", reason}}}});
  return answer_is_no;
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

int timed(double seconds, bool json, const Action& command) {
  Kept own;
  auto ended = std::async(std::launch::async, [&] {
    beside = &own;
    struct Back {
      ~Back() { beside = nullptr; }
    } back;
    return command();
  });
  const auto patience = std::chrono::duration<double>(seconds);
  if (ended.wait_for(patience) != std::future_status::ready)
    std::_Exit(delivered(
        refused(fmt::format("No answer within {:g} s; allow more --seconds, or ask for less.", seconds), json)));
  const int exit = ended.get();
  kept().out << own.out.str();
  kept().err << own.err.str();
  kept().json = own.json;
  return exit;
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

std::string read_input(const std::string& option, const std::string& file, std::size_t limit) {
  auto text = read_stream(file, limit);
  if (!text) throw CallError{option.empty() ? text.error() : option + ": " + text.error()};
  is_input(file);
  return std::move(text).value();
}

void is_input(const std::string& file) {
  if (file != "-" && !file.empty()) inputs().push_back(file);
}

void is_rewritten(const std::string& file) { std::erase(inputs(), file); }

void refuse_to_replace(const std::string& option, const std::string& file, const std::vector<std::string>& more) {
  for (const std::string& input : more) is_input(input);
  for (const std::string& input : inputs()) {
    if (same_file(file, input))
      throw CallError{
          fmt::format("{} {}: this is the file that is read, and it would be lost; give another name", option, file)};
  }
}

void write_output(const std::string& option, const std::string& file, const std::string& bytes) {
  refuse_to_replace(option, file, {});
  const Undisturbed whole;
  for (const std::string& written : outputs()) {
    if (same_file(file, written))
      throw CallError{fmt::format("{} {}: another output of this call is there already; give two names", option, file)};
  }
  if (const auto ok = write_atomically(file, bytes); !ok) throw CallError{fmt::format("{} {}", option, ok.error())};
  outputs().push_back(file);
}

} // namespace uc::cli
