// assign: directions for the creases that have none, so that the layers exist.
#include "pattern_file.h"

#include <fmt/format.h>

#include <memory>

namespace uc::cli {
namespace {

using Json = nlohmann::json;

struct AssignOptions {
  PatternSource source;
  std::string out, prefer = "any";
  ProofEffort effort;
  bool json = false;
};

std::string reason(const Directed& d) {
  if (!d.violations.empty()) return sentence(d.violations.front());
  if (d.no_symmetry) return "The creases have no mirror line for which the layers exist; prefer something else.";
  if (d.out_of_time) return late_sentence;
  if (d.memory_needed) return memory_sentence(d.memory_needed);
  if (!d.contradiction.empty())
    return fmt::format("The directions of edges {} do not go together{}; turn one of them or leave it open.",
                       fmt::join(d.contradiction, ", "),
                       d.contradiction_smallest ? ", and no fewer contradict each other" : "");
  return fmt::format("No directions give an order of layers: faces {} clash.", fmt::join(d.clash, ", "));
}

Json answer_json(const Directed& answer) {
  int mountains = 0;
  int valleys = 0;
  if (answer.pattern) {
    for (const PatternEdge& e : answer.pattern->edges) {
      mountains += e.kind == EdgeKind::mountain;
      valleys += e.kind == EdgeKind::valley;
    }
  }
  return {{"directed", answer.pattern.has_value()},
          {"mountains", mountains},
          {"valleys", valleys},
          {"violations", violations_json(answer.violations)},
          {"contradiction", answer.contradiction},
          {"contradiction_smallest", answer.contradiction_smallest},
          {"most_wishes", answer.most_wishes},
          {"clash", answer.clash}};
}

int late(const AssignOptions& o) {
  Directed nothing;
  nothing.out_of_time = true;
  if (o.json)
    print_json(answer_json(nothing));
  else
    out() << reason(nothing) << "\n";
  return answer_is_no;
}

int run(const AssignOptions& o) {
  const auto wish = named<DirectionWish>(o.prefer);
  if (!wish) throw CallError{fmt::format("--prefer {}: type any, alternating, few-changes or symmetric", o.prefer)};
  if (!same_format(o.source, o.out)) refuse_to_replace("-o", o.out, {o.source.file});
  ProofOptions effort;
  effort.seconds = seconds_option(o.effort.seconds);
  effort.memory_bytes = memory_option(o.effort.memory);
  Result<Directed> answer = Error{""};
  within(
      effort.seconds, "Finding directions",
      [&](Progress& p) {
        effort.progress = &p;
        answer = directed(read_pattern(o.source, &p), effort, *wish);
      },
      [&] { return late(o); });
  if (!answer) throw CallError{fmt::format("{}: {}", o.source.file, answer.error())};
  if (answer->pattern) write_pattern(*answer->pattern, o.out, o.source);
  if (o.json)
    print_json(answer_json(*answer));
  else if (!answer->pattern)
    out() << reason(*answer) << "\n";
  return answer->pattern ? done : answer_is_no;
}

} // namespace

void add_assign(CLI::App& app, Action& action) {
  auto o = std::make_shared<AssignOptions>();
  auto* c = app.add_subcommand("assign", "Direct the undirected creases so that the layers exist");
  add_source(*c, o->source);
  c->add_option("-o,--output", o->out, "Where the directed pattern goes")->required();
  c->add_option("--prefer", o->prefer, "any, alternating, few-changes or symmetric")->capture_default_str();
  add_effort(*c, o->effort, "reading included");
  c->add_flag("--json", o->json, "One JSON document");
  c->footer("Example: under-crease-cli assign panel.json -o directed.json");
  c->callback([&action, o] { action = [o] { return run(*o); }; });
}

} // namespace uc::cli
