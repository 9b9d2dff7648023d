// steps: folds a steps file, or a sequence of the library, and tells every state.
#include "command.h"

#include "base/atomic_file.h"
#include "fold/sequence.h"
#include "fold/step_errors.h"
#include "fold/step_programme.h"
#include "fold/step_text.h"
#include "fold/steps_format.h"
#include "io/formats.h"
#include "io/steps_json.h"
#include "io/steps_library.h"
#include "io/steps_pages.h"
#include "precision/hand_profile.h"

#include <fmt/format.h>

#include <algorithm>
#include <filesystem>
#include <memory>
#include <string>
#include <vector>

namespace uc::cli {
namespace {

struct StepsOptions {
  std::string source, compare, sheet, state, sigma = "0.25", caliper = "0", output, format;
  std::vector<std::string> set;
  bool list = false;
  bool grammar = false;
  bool json = false;
};

int list(const StepsOptions& o) {
  const auto all = step_library(steps_folder());
  if (!all) throw CallError{all.error()};
  if (o.json) {
    Json sequences = Json::array();
    for (const LibrarySteps& s : *all) {
      Json parameters = Json::array();
      for (const StepParameter& p : s.file.parameters)
        parameters.push_back({{"name", p.name}, {"type", "number"}, {"default", p.value}});
      sequences.push_back({{"name", s.name},
                           {"title", s.file.title},
                           {"sheet", s.file.sheet.code()},
                           {"moves", s.moves},
                           {"parameters", parameters}});
    }
    print_json({{"sequences", sequences}});
    return done;
  }
  for (const LibrarySteps& s : *all)
    out() << fmt::format("{:<22} {} ({}, {} moves)\n", s.name, s.file.title, s.file.sheet.code(), s.moves);
  return done;
}

int grammar(const StepsOptions& o) {
  if (o.json) {
    Json lines = Json::array();
    for (const GrammarLine& line : step_grammar())
      lines.push_back({{"verb", name_of(line.verb)}, {"typed", line.typed}, {"does", line.does}});
    print_json({{"grammar", lines}});
    return done;
  }
  for (const GrammarLine& line : step_grammar()) out() << fmt::format("{:<40} {}\n", line.typed, line.does);
  return done;
}

/// The text of a file, of standard input, or of a sequence of the library.
std::string text_of(const StepsOptions& o, const std::string& file) {
  if (o.source == "-" && o.format != "steps") throw CallError{"-: say what is read, with --format steps"};
  if (!o.format.empty() && o.format != "steps")
    throw CallError{fmt::format("--format {}: moves are read from steps files; type steps", o.format)};
  if (file != "-" && !std::filesystem::exists(file) && is_library_name(file)) {
    const auto all = step_library(steps_folder());
    if (!all) throw CallError{all.error()};
    for (const LibrarySteps& s : *all) {
      if (s.name == file) return s.text;
    }
    throw CallError{fmt::format("{}: there is no such file, and no sequence of this name in the library; see steps "
                                "--list",
                                file)};
  }
  return read_input("", file, largest_steps_file);
}

StepValues values_of(const StepsOptions& o) {
  StepValues values;
  for (const std::string& typed : o.set) {
    const std::size_t equals = typed.find('=');
    if (equals == std::string::npos) throw CallError{fmt::format("--set {}: type a name, = and a number", typed)};
    const auto value = number_from(std::string_view(typed).substr(equals + 1), {});
    if (!value) throw CallError{fmt::format("--set {}: {}", typed, value.error())};
    if (!values.emplace(typed.substr(0, equals), *value).second)
      throw CallError{fmt::format("--set {}: {} is set twice", typed, typed.substr(0, equals))};
  }
  return values;
}

void refuse_unknown(const StepsOptions& o, const StepsFile& file) {
  std::string names;
  for (const StepParameter& p : file.parameters) names += (names.empty() ? "" : ", ") + p.name;
  for (const std::string& typed : o.set) {
    const std::string name = typed.substr(0, typed.find('='));
    if (std::none_of(file.parameters.begin(), file.parameters.end(),
                     [&](const StepParameter& p) { return p.name == name; }))
      throw CallError{fmt::format("--set {}: this sequence has no such parameter; it has {}", typed,
                                  names.empty() ? "none" : names)};
  }
}

/// What one way to fold a thing costs.
Json cost_of(const StepsOptions& o, const std::string& name, const std::optional<Sheet>& sheet, double sigma,
             double caliper) {
  auto file = parse_steps(text_of(o, name), sheet);
  if (!file) throw CallError{fmt::format("{}:{}", name, file.error().substr(file.error().find(' ') + 1))};
  FoldedSequence folded = fold_sequence(std::move(file).value());
  if (folded.refused) throw CallError{fmt::format("{}:{}: {}", name, folded.refused->line, folded.refused->reason)};
  const FoldSequence& made = folded.made;
  HandProfile hand;
  hand.sigma_mm = sigma;
  int layers = 1;
  for (const StepState& s : made.states) layers = std::max(layers, s.form->overlap.layers_max);
  const Point size = folded_size(made.states.back().form->form);
  Json cost{{"name", name},
            {"moves", made.states.size() - 1},
            {"folds", made.folds.size()},
            {"layers_max", layers},
            {"size_mm", {size.x(), size.y()}}};
  const SequenceErrors errors = sequence_errors(made, sigma, creep_mm(hand, 2, caliper));
  cost["worst_sigma_mm"] = errors.determined ? Json(errors.worst_sigma_mm) : Json();
  cost["worst_gap_mm"] = errors.determined ? Json(errors.gaps.empty() ? 0 : errors.gaps.front().sigma_mm) : Json();
  double seconds = 0;
  for (const Move& move : programme_of(std::move(folded), hand, {}, caliper).moves) seconds += move.seconds;
  cost["minutes"] = seconds / 60;
  return cost;
}

int compare(const StepsOptions& o, double sigma, double caliper) {
  std::optional<Sheet> sheet;
  if (!o.sheet.empty()) sheet = sheet_option(o.sheet);
  if (!o.set.empty() || !o.output.empty() || !o.state.empty())
    throw CallError{"--compare takes two sequences as they are; leave out --set, --state and -o"};
  Json ways = Json::array();
  for (const std::string& name : {o.source, o.compare}) ways.push_back(cost_of(o, name, sheet, sigma, caliper));
  if (o.json) {
    print_json({{"ways", ways}});
    return done;
  }
  const auto mm = [](const Json& value) {
    return value.is_null() ? std::string("not told") : format_number(value.get<double>(), 2) + " mm";
  };
  for (const Json& way : ways)
    out() << fmt::format("{}: {} moves, {} min, at most {} layers, worst crossing {}, what should meet misses by {}\n",
                         way["name"].get<std::string>(), way["moves"].get<int>(),
                         format_number(way["minutes"].get<double>(), 1), way["layers_max"].get<int>(),
                         mm(way["worst_sigma_mm"]), mm(way["worst_gap_mm"]));
  return done;
}

int run(const StepsOptions& o) {
  if (o.list) return list(o);
  if (o.grammar) return grammar(o);
  if (o.source.empty()) throw CallError{"name a steps file or a sequence of the library; see steps --list"};
  const double sigma = length_option("--sigma", o.sigma);
  const double caliper = o.caliper == "0" ? 0 : length_option("--caliper", o.caliper, 0, 50);
  if (!o.compare.empty()) return compare(o, sigma, caliper);
  const double creep = creep_mm(HandProfile{}, 2, caliper);
  if (!o.output.empty()) refuse_to_replace("-o", o.output, {o.source});
  std::optional<Sheet> sheet;
  if (!o.sheet.empty()) sheet = sheet_option(o.sheet);
  const StepValues values = values_of(o);
  std::string text = text_of(o, o.source);
  auto file = parse_steps(text, sheet, values);
  if (!file) // begins with "line N: "
    throw CallError{fmt::format("{}:{}", o.source, file.error().substr(file.error().find(' ') + 1))};
  refuse_unknown(o, *file);
  FoldedSequence folded;
  with_progress("Folding", [&](Progress&) { folded = fold_sequence(std::move(file).value()); });
  const FoldSequence& made = folded.made;
  if (folded.refused && folded.refused->unknown_name)
    throw CallError{fmt::format("{}:{}: {}", o.source, folded.refused->line, folded.refused->reason)};
  std::optional<int> state;
  if (!o.state.empty()) state = whole_option("--state", o.state, 0, static_cast<int>(made.states.size()) - 1);
  Json json = steps_json(made, sigma, state, creep);
  if (folded.refused) {
    err() << fmt::format("under-crease-cli: {}:{}: {}\n", o.source, folded.refused->line, folded.refused->reason);
    json["refused"] = {{"line", folded.refused->line}, {"reason", folded.refused->reason}};
    if (o.json) print_json(json);
    return answer_is_no;
  }
  if (!o.output.empty()) {
    text = with_values(text, values);
    if (sheet) text = with_sheet(text, *sheet);
    const auto bytes = steps_bytes(made, text, o.output, sigma, {font_folder()}, {});
    if (!bytes) throw CallError{"-o " + bytes.error()};
    write_output("-o", o.output, *bytes);
  }
  if (o.json) {
    print_json(json);
    return done;
  }
  if (!made.file.title.empty()) out() << made.file.title << "\n";
  for (std::size_t i = 0; i < made.states.size(); ++i) {
    if (state && *state != static_cast<int>(i)) continue;
    const Point size = folded_size(made.states[i].form->form);
    out() << fmt::format("{:4}. {} ({} x {} mm, {})\n", i, state_text(made, i), format_number(size.x(), 1),
                         format_number(size.y(), 1),
                         made.states[i].form->overlap.layers_max == 1
                             ? "1 layer"
                             : fmt::format("{} layers", made.states[i].form->overlap.layers_max));
    if (const Caution caution = state_caution(made, i); caution != Caution::none)
      out() << "      Caution: " << caution_text(caution) << "\n";
  }
  const SequenceErrors errors = sequence_errors(made, sigma, creep);
  if (errors.determined)
    out() << fmt::format("Expected error {} mm at the worst crossing\n", format_number(errors.worst_sigma_mm, 2));
  if (errors.determined && !errors.gaps.empty())
    out() << fmt::format("What should meet is expected to miss by {} mm at most\n",
                         format_number(errors.gaps.front().sigma_mm, 2));
  if (const auto costly = std::max_element(errors.share.begin(), errors.share.end());
      errors.determined && costly != errors.share.end() && *costly > 0.5)
    out() << fmt::format("Most of the error, {} %, comes from {}\n", format_number(100 * *costly, 0),
                         made.folds[static_cast<std::size_t>(costly - errors.share.begin())].name);
  if (!errors.determined)
    out() << "No expected error can be told: one alignment only just touches what it is brought to\n";
  return done;
}

} // namespace

void add_steps(CLI::App& app, Action& action) {
  auto o = std::make_shared<StepsOptions>();
  auto* c = app.add_subcommand("steps", "Fold a steps file: every state, proved, with its layers");
  c->add_option("source", o->source, "A steps file, - for standard input, or a name of the library");
  c->add_flag("--list", o->list, "What the library holds");
  c->add_option("--compare", o->compare, "A second way to the same thing: moves, minutes, layers, errors");
  c->add_flag("--grammar", o->grammar, "What a line of a steps file may say");
  c->add_option("--sheet", o->sheet, "Another sheet than the file's");
  c->add_option("--set", o->set, "name=value, for sequences with parameters");
  c->add_option("--state", o->state, "Only this state; 0 is the bare sheet");
  c->add_option("--sigma", o->sigma, "The hand's error at the end of a fold, in mm")->capture_default_str();
  c->add_option("--caliper", o->caliper, "The paper's thickness in mm, for the creep of folds through layers")
      ->capture_default_str();
  c->add_option("--format", o->format, "steps, when reading from standard input");
  c->add_option("-o,--output", o->output, "FILE " + endings_for(FileUse::write_steps));
  c->add_flag("--json", o->json, "One JSON document");
  c->footer("Example: under-crease-cli steps blintz-base --json");
  c->callback([&action, o] { action = [o] { return run(*o); }; });
}

} // namespace uc::cli
