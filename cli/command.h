// What every command of under-crease-cli shares: how it is registered and how it reports.
#pragma once

#include "base/parallel.h"
#include "paper/sheet.h"
#include "paper/stock.h"

#include <CLI/CLI.hpp>
#include <nlohmann/json.hpp>

#include <functional>
#include <ostream>
#include <string>
#include <vector>

namespace uc::cli {

/// Exit codes of the contract.
enum Exit { done = 0, answer_is_no = 1, call_is_wrong = 2, stopped_by_user = 130 };

/// Thrown inside a command to end it with exit 2 and one line on standard error.
struct CallError {
  std::string message;
};

/// What goes to standard output and standard error is kept here until the command is done: half a document is never
/// left. Control characters that came from files or names are made visible on the way out.
std::ostream& out();
std::ostream& err();
/// One JSON document.
void print_json(const nlohmann::json& document);
/// The answer is no: one line says why, and the document, where one is wanted, says it too. Returns the exit code.
int refused(const std::string& reason, bool json);
/// Drops what was to be printed, as before a complaint, which is one line and all there is.
void forget_output();
/// Writes what was kept. Where standard output cannot be written, one line says so and the exit code is 2.
int delivered(int exit);
/// Thrown by work that `within` is waiting for, when the time is up before there is anything to tell.
struct OutOfTime {};

/// Does work of another thread, whose notes must not meet those of a call that ends without it, and returns them.
std::string said_beside(const std::function<void()>& work);

/// Makes Ctrl+C end the command at once, with a sentence and exit 130, except while something is being written.
void end_on_interrupt();
/// While one of these lives, Ctrl+C is remembered and acted on when it ends.
class Undisturbed {
public:
  Undisturbed();
  ~Undisturbed();
  Undisturbed(const Undisturbed&) = delete;
  Undisturbed& operator=(const Undisturbed&) = delete;
};

/// The whole of a file, a pipe or, as "-", standard input; a CallError begins with `option` where there is one. What
/// was read may not be replaced by an output of the same call.
std::string read_input(const std::string& option, const std::string& file, std::size_t limit = 256'000'000);
/// Says that a file is read in another way than by `read_input`.
void is_input(const std::string& file);
/// Lets an output replace this input all the same, as a pattern that is directed where it stands.
void is_rewritten(const std::string& file);
/// Replaces the file of an option; a CallError names the option. Where it is the same file as an input, by whatever
/// name, nothing is written.
void write_output(const std::string& option, const std::string& file, const std::string& bytes);
/// The check of write_output, to be made before long work, with inputs that are to be read.
void refuse_to_replace(const std::string& option, const std::string& file, const std::vector<std::string>& inputs);

using Action = std::function<int()>;

/// Where the log lies: $XDG_DATA_HOME/under-crease/log.sqlite.
std::string default_log_path();
/// The folder of the bundled fonts.
std::string font_folder();
/// The folder of the sequences that ship.
std::string steps_folder();
/// The folder of the exercises that ship.
std::string practice_folder();

/// Values of options; a CallError names the option.
double length_option(const std::string& name, const std::string& text);
double length_option(const std::string& name, const std::string& text, double least_mm, double greatest_mm);
double number_option(const std::string& name, const std::string& text, double least, double greatest);
int whole_option(const std::string& name, const std::string& text, int least, int greatest);
Sheet sheet_option(const std::string& text);
/// Fails for options typed where they do not count: left out without a word, they would look as if they had been
/// heeded.
void refuse_misplaced(const CLI::App& command, const std::vector<std::string>& options, bool in_place,
                      const std::string& why);
/// One of the stocks that ship, by its name.
Stock stock_option(const std::string& text);

/// Shows the progress of `work` on standard error when that is a terminal, and cancels it on Ctrl+C.
void with_progress(const std::string& what, const std::function<void(Progress&)>& work);

/// The same for a whole command, reading included, that may take `seconds`. Work that has not ended a tenth of a second
/// later is left where it is: `late` says so, and the program ends with the exit code `late` returns.
void within(double seconds, const std::string& what, const std::function<void(Progress&)>& work,
            const std::function<int()>& late);

/// A whole command that may take `seconds`: when they are up, the answer is no, with the reason as for any other "no".
/// Returns the exit code.
int timed(double seconds, bool json, const Action& command);

void add_assign(CLI::App& app, Action& action);
void add_batch(CLI::App& app, Action& action);
void add_caliper(CLI::App& app, Action& action);
void add_check(CLI::App& app, Action& action);
void add_collapse(CLI::App& app, Action& action);
void add_count(CLI::App& app, Action& action);
void add_divide(CLI::App& app, Action& action);
void add_export(CLI::App& app, Action& action);
void add_fold(CLI::App& app, Action& action);
void add_hand(CLI::App& app, Action& action);
void add_judge(CLI::App& app, Action& action);
void add_log(CLI::App& app, Action& action);
void add_pattern(CLI::App& app, Action& action);
void add_polygon(CLI::App& app, Action& action);
void add_precrease(CLI::App& app, Action& action);
void add_proportion(CLI::App& app, Action& action);
void add_reference(CLI::App& app, Action& action);
void add_practice(CLI::App& app, Action& action);
void add_scan(CLI::App& app, Action& action);
void add_score(CLI::App& app, Action& action);
void add_solid(CLI::App& app, Action& action);
void add_steps(CLI::App& app, Action& action);
void add_units(CLI::App& app, Action& action);

} // namespace uc::cli
