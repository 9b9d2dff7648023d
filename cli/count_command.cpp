// count: in how many ways a pattern folds flat.
#include "pattern_file.h"

#include "pattern/layer_count.h"

#include <fmt/format.h>

#include <iostream>
#include <memory>

namespace uc::cli {
namespace {

struct Options {
  PatternSource source;
  std::string seconds = "600";
  bool json = false;
};

int run(const Options& o) {
  const HealedPattern pattern = read_pattern(o.source);
  const double seconds = seconds_option(o.seconds);
  Result<PatternProof> proof = Error{""};
  Result<std::string> states = std::string("0");
  with_progress("Counting", [&](Progress& p) {
    proof = proved(pattern, {true, seconds, &p});
    if (proof && proof->status == LayerStatus::found)
      states = counted_states(*proof->constraints, {seconds, &p, nullptr});
  });
  if (!proof) throw CallError{fmt::format("{}: {}", o.source.file, proof.error())};
  if (proof->status == LayerStatus::out_of_time) states = Error{"Counting took too long; allow more seconds."};
  if (!states) {
    std::cerr << "under-crease-cli: " << states.error() << "\n";
    if (o.json) print_json({{"states", nullptr}});
    return answer_is_no;
  }
  if (o.json)
    print_json({{"states", *states}});
  else
    std::cout << *states << "\n";
  return done;
}

} // namespace

void add_count(CLI::App& app, Action& action) {
  auto o = std::make_shared<Options>();
  auto* c = app.add_subcommand("count", "Count the flat-folded states of a crease pattern, face 0 held");
  add_source(*c, o->source);
  c->add_option("--seconds", o->seconds, "Time for the count")->capture_default_str();
  c->add_flag("--json", o->json, "One JSON document");
  c->footer("Example: under-crease-cli count map.json");
  c->callback([&action, o] { action = [o] { return run(*o); }; });
}

} // namespace uc::cli
