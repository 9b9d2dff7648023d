// fold: the folded form of a pattern as a drawing or as data.
#include "pattern_file.h"

#include "base/quantity.h"
#include "io/folded.h"
#include "io/formats.h"

#include <fmt/format.h>

#include <memory>

namespace uc::cli {
namespace {

struct FoldOptions {
  PatternSource source;
  std::string out;
  ProofEffort effort;
  bool behind = false;
  bool json = false;
};

int run(const FoldOptions& o) {
  if (const auto format = format_for(FileUse::write_folded, o.out); !format) throw CallError{"-o " + format.error()};
  // The folded form of a pattern is a file of another kind, whatever the ending.
  refuse_to_replace("-o", o.out, {o.source.file});
  ProofOptions effort;
  effort.seconds = seconds_option(o.effort.seconds);
  effort.memory_bytes = memory_option(o.effort.memory);
  Result<PatternProof> proof = Error{""};
  std::size_t pairs = 0; // bytes for all of them
  const auto no = [&](LayerStatus status, const std::string& why) {
    err() << "under-crease-cli: " << why << "\n";
    if (o.json) print_json({{"status", name_of(status)}, {"layers_max", nullptr}, {"folded_mm", nullptr}});
    return static_cast<int>(answer_is_no);
  };
  within(
      effort.seconds, "Ordering the layers",
      [&](Progress& p) {
        effort.progress = &p;
        proof = proved(read_pattern(o.source, &p), effort);
        // The file names every two faces that overlap.
        if (proof && proof->simple)
          pairs = memory_needed(*proof->overlap, static_cast<int>(proof->graph->faces.size()));
      },
      [&] { return no(LayerStatus::out_of_time, late_sentence); });
  if (!proof) throw CallError{fmt::format("{}: {}", o.source.file, proof.error())};
  if (pairs > effort.memory_bytes) return no(LayerStatus::not_tried, memory_sentence(pairs));
  if (!proof->folds_flat()) return no(proof->status, no_order_sentence(*proof));
  FoldedSvgOptions options;
  options.from_behind = o.behind;
  const std::string title = title_of(o.source);
  const auto bytes = folded_bytes(*proof, o.out, title, options, {font_folder()}, {});
  if (!bytes) throw CallError{"-o: " + bytes.error()};
  write_output("-o", o.out, *bytes);
  const Point size = folded_size(*proof->form);
  if (o.json)
    print_json({{"status", name_of(proof->status)},
                {"layers_max", proof->overlap->layers_max},
                {"folded_mm", {size.x(), size.y()}}});
  else
    cli::out() << fmt::format("{} x {} mm folded, {} layers at most.\n", format_number(size.x(), 2),
                              format_number(size.y(), 2), proof->overlap->layers_max);
  return done;
}

} // namespace

void add_fold(CLI::App& app, Action& action) {
  auto o = std::make_shared<FoldOptions>();
  auto* c = app.add_subcommand("fold", "Write the folded form of a crease pattern");
  add_source(*c, o->source);
  c->add_option("-o,--output", o->out, "FILE " + endings_for(FileUse::write_folded))->required();
  c->add_flag("--behind", o->behind, "Draw it from behind (SVG, PDF)");
  add_effort(*c, o->effort, "reading included");
  c->add_flag("--json", o->json, "One JSON document");
  c->footer("Example: under-crease-cli fold panel.json -o folded.svg");
  c->callback([&action, o] { action = [o] { return run(*o); }; });
}

} // namespace uc::cli
