// What every command of under-crease-cli shares: how it is registered and how it reports.
#pragma once

#include "base/parallel.h"
#include "paper/sheet.h"

#include <CLI/CLI.hpp>
#include <nlohmann/json.hpp>

#include <functional>
#include <string>

namespace uc::cli {

/// Exit codes of the contract.
enum Exit { done = 0, answer_is_no = 1, call_is_wrong = 2 };

/// Thrown inside a command to end it with exit 2 and one line on standard error.
struct CallError {
  std::string message;
};

using Action = std::function<int()>;

/// Prints one JSON document.
void print_json(const nlohmann::json& document);

/// Where the log lies: $XDG_DATA_HOME/under-crease/log.sqlite, made when missing.
std::string default_log_path();
/// The folder of the bundled fonts.
std::string font_folder();

/// Values of options; a CallError names the option.
double length_option(const std::string& name, const std::string& text);
int whole_option(const std::string& name, const std::string& text, int least, int greatest);
Sheet sheet_option(const std::string& text);

/// Shows the progress of `work` on standard error when that is a terminal, and cancels it on Ctrl+C.
void with_progress(const std::string& what, const std::function<void(Progress&)>& work);

void add_assign(CLI::App& app, Action& action);
void add_check(CLI::App& app, Action& action);
void add_count(CLI::App& app, Action& action);
void add_divide(CLI::App& app, Action& action);
void add_export(CLI::App& app, Action& action);
void add_fold(CLI::App& app, Action& action);
void add_log(CLI::App& app, Action& action);
void add_pattern(CLI::App& app, Action& action);
void add_polygon(CLI::App& app, Action& action);
void add_precrease(CLI::App& app, Action& action);
void add_proportion(CLI::App& app, Action& action);
void add_reference(CLI::App& app, Action& action);

} // namespace uc::cli
