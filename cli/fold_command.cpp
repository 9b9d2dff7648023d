// fold: the folded form of a pattern as a drawing or as data.
#include "pattern_file.h"

#include "base/atomic_file.h"
#include "base/quantity.h"
#include "io/folded.h"

#include <fmt/format.h>

#include <filesystem>
#include <iostream>
#include <memory>

namespace uc::cli {
namespace {

struct Options {
  PatternSource source;
  std::string out, seconds = "60";
  bool behind = false;
  bool json = false;
};

int run(const Options& o) {
  const bool known = o.out.ends_with(".svg") || o.out.ends_with(".json") || o.out.ends_with(".pdf");
  if (!known) throw CallError{fmt::format("-o {}: the folded form is written to .svg, .pdf or .json files", o.out)};
  const HealedPattern pattern = read_pattern(o.source);
  const double seconds = seconds_option(o.seconds);
  Result<PatternProof> proof = Error{""};
  with_progress("Ordering the layers", [&](Progress& p) { proof = proved(pattern, {true, seconds, &p}); });
  if (!proof) throw CallError{fmt::format("{}: {}", o.source.file, proof.error())};
  if (!proof->folds_flat()) {
    std::string why = "No answer within the time; allow more seconds.";
    if (!proof->violations.empty())
      why = sentence(proof->violations.front());
    else if (proof->status == LayerStatus::impossible)
      why = fmt::format("The layers cannot be ordered: faces {} clash.", fmt::join(proof->clash, ", "));
    std::cerr << "under-crease-cli: " << why << "\n";
    if (o.json) print_json({{"status", name_of(proof->status)}, {"layers_max", nullptr}, {"folded_mm", nullptr}});
    return answer_is_no;
  }
  FoldedSvgOptions options;
  options.from_behind = o.behind;
  const std::string title = std::filesystem::path(o.source.file).stem().string();
  const auto bytes = folded_bytes(*proof, o.out, title, options, {font_folder()}, {});
  if (!bytes) throw CallError{"-o: " + bytes.error()};
  if (const auto ok = write_atomically(o.out, *bytes); !ok) throw CallError{"-o: " + ok.error()};
  const Point size = proof->form->box.size();
  if (o.json)
    print_json({{"status", name_of(proof->status)},
                {"layers_max", proof->overlap->layers_max},
                {"folded_mm", {size.x(), size.y()}}});
  else
    std::cout << fmt::format("{} x {} mm folded, {} layers at most.\n", format_number(size.x(), 2),
                             format_number(size.y(), 2), proof->overlap->layers_max);
  return done;
}

} // namespace

void add_fold(CLI::App& app, Action& action) {
  auto o = std::make_shared<Options>();
  auto* c = app.add_subcommand("fold", "Write the folded form of a crease pattern");
  add_source(*c, o->source);
  c->add_option("-o,--output", o->out, "FILE.svg, .pdf or .json")->required();
  c->add_flag("--behind", o->behind, "Draw it from behind (SVG, PDF)");
  c->add_option("--seconds", o->seconds, "Time for the layers")->capture_default_str();
  c->add_flag("--json", o->json, "One JSON document");
  c->footer("Example: under-crease-cli fold panel.json -o folded.svg");
  c->callback([&action, o] { action = [o] { return run(*o); }; });
}

} // namespace uc::cli
