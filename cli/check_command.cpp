// check: whether every vertex of a pattern folds flat, and whether the layers of the whole can be ordered.
#include "pattern_file.h"

#include "base/quantity.h"

#include <fmt/format.h>

#include <memory>

namespace uc::cli {
namespace {

using Json = nlohmann::json;

struct CheckOptions {
  PatternSource source;
  ProofEffort effort;
  bool no_layers = false;
  bool json = false;
};

Json layers_json(const PatternProof& proof) {
  Json out{{"status", name_of(proof.status)}, {"max", nullptr}, {"folded_mm", nullptr}, {"clash", proof.clash}};
  if (proof.overlap) out["max"] = proof.overlap->layers_max;
  if (proof.form && proof.form->open_loop.empty()) {
    const Point size = folded_size(*proof.form);
    out["folded_mm"] = {size.x(), size.y()};
  }
  return out;
}

void print_for_people(const PatternProof& proof, bool tried) {
  for (const LocalViolation& v : proof.violations) out() << sentence(v) << "\n";
  if (!proof.violations.empty()) {
    out() << fmt::format("{} of the local rules broken; the layers were not tried.\n",
                         proof.violations.size() == 1 ? "One" : std::to_string(proof.violations.size()));
    return;
  }
  out() << "Every vertex folds flat on its own.\n";
  if (!tried) return;
  switch (proof.status) {
  case LayerStatus::found: {
    const Point size = folded_size(*proof.form);
    out() << fmt::format("The layers can be ordered: {} at most, {} x {} mm folded.\n", proof.overlap->layers_max,
                         format_number(size.x(), 2), format_number(size.y(), 2));
    break;
  }
  case LayerStatus::impossible:
    out() << fmt::format("The layers cannot be ordered: faces {} clash.\n", fmt::join(proof.clash, ", "));
    break;
  default:
    out() << no_order_sentence(proof) << "\n";
  }
}

/// The answer when not even the vertices were checked in time.
int late(const CheckOptions& o) {
  if (!o.json) out() << late_sentence << "\n";
  if (o.json)
    print_json(
        {{"vertices", nullptr},
         {"edges", nullptr},
         {"faces", nullptr},
         {"violations", Json::array()},
         {"locally_flat_foldable", nullptr},
         {"layers", {{"status", "out-of-time"}, {"max", nullptr}, {"folded_mm", nullptr}, {"clash", Json::array()}}},
         {"repairs", Json::array()}});
  return answer_is_no;
}

int run(const CheckOptions& o) {
  ProofOptions options;
  options.layers = !o.no_layers;
  options.seconds = seconds_option(o.effort.seconds);
  options.memory_bytes = memory_option(o.effort.memory);
  HealedPattern pattern;
  Result<PatternProof> proof = Error{""};
  within(
      options.seconds, "Ordering the layers",
      [&](Progress& p) {
        options.progress = &p;
        pattern = read_pattern(o.source, &p);
        proof = proved(pattern, options);
      },
      [&] { return late(o); });
  if (!proof) throw CallError{fmt::format("{}: {}", o.source.file, proof.error())};
  if (o.json) {
    print_json({{"vertices", proof->pattern.vertices.size()},
                {"edges", proof->pattern.edges.size()},
                {"faces", proof->graph->faces.size()},
                {"violations", violations_json(proof->violations)},
                {"locally_flat_foldable", proof->locally_flat()},
                {"layers", layers_json(*proof)},
                {"repairs", pattern.repair.sentences()}});
  } else {
    print_for_people(*proof, options.layers);
  }
  const bool good = proof->locally_flat() && (o.no_layers || proof->status == LayerStatus::found);
  return good ? done : answer_is_no;
}

} // namespace

void add_check(CLI::App& app, Action& action) {
  auto o = std::make_shared<CheckOptions>();
  auto* c = app.add_subcommand("check", "Prove a crease pattern: every vertex, then the order of all layers");
  add_source(*c, o->source);
  c->add_flag("--no-layers", o->no_layers, "Check the vertices only");
  add_effort(*c, o->effort, "reading included");
  c->add_flag("--json", o->json, "One JSON document");
  c->footer("Example: under-crease-cli check panel.json --seconds 10");
  c->callback([&action, o] { action = [o] { return run(*o); }; });
}

} // namespace uc::cli
