// count: in how many ways a pattern folds flat.
#include "pattern_file.h"

#include "form/layer_count.h"

#include <fmt/format.h>

#include <memory>

namespace uc::cli {
namespace {

struct CountOptions {
  PatternSource source;
  ProofEffort effort{"600", ""};
  bool json = false;
};

int run(const CountOptions& o) {
  ProofOptions effort;
  effort.seconds = seconds_option(o.effort.seconds);
  effort.memory_bytes = memory_option(o.effort.memory);
  effort.simple_folds = false; // all orders count
  Result<PatternProof> proof = Error{""};
  Result<std::string> states = std::string("0");
  const auto no = [&](const std::string& why) {
    err() << "under-crease-cli: " << why << "\n";
    if (o.json) print_json({{"states", nullptr}});
    return static_cast<int>(answer_is_no);
  };
  within(
      effort.seconds, "Counting",
      [&](Progress& p) {
        effort.progress = &p;
        proof = proved(read_pattern(o.source, &p), effort);
        if (proof && proof->status == LayerStatus::found)
          states = counted_states(*proof->constraints, {effort.seconds, &p, nullptr});
      },
      [&] { return no(late_sentence); });
  if (!proof) throw CallError{fmt::format("{}: {}", o.source.file, proof.error())};
  if (proof->status == LayerStatus::out_of_time || proof->memory_needed) return no(no_order_sentence(*proof));
  if (!states) return no(states.error());
  if (o.json)
    print_json({{"states", *states}});
  else
    out() << *states << "\n";
  return done;
}

} // namespace

void add_count(CLI::App& app, Action& action) {
  auto o = std::make_shared<CountOptions>();
  auto* c = app.add_subcommand("count", "Count the flat-folded states of a crease pattern, face 0 held");
  add_source(*c, o->source);
  add_effort(*c, o->effort, "reading included");
  c->add_flag("--json", o->json, "One JSON document");
  c->footer("Example: under-crease-cli count map.json");
  c->callback([&action, o] { action = [o] { return run(*o); }; });
}

} // namespace uc::cli
