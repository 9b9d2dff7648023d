// collapse: a pattern closing in space, at a given percentage, by stages or all at once.
#include "pattern_file.h"

#include "base/atomic_file.h"
#include "base/expression.h"
#include "collapse/closing.h"
#include "io/formats.h"
#include "io/solid_files.h"
#include "io/stages_json.h"

#include <fmt/format.h>

#include <chrono>
#include <memory>

namespace uc::cli {
namespace {

using Json = nlohmann::json;

struct CollapseOptions {
  PatternSource source;
  std::string percent = "100", stages, order, groups = "4", film = "0", out;
  bool json = false;
  bool other_way = false;
};

std::vector<DriveStage> stages_of(const std::string& file) {
  const auto text = read_file(file);
  if (!text) throw CallError{"--stages: " + text.error()};
  const auto stages = parse_stages(*text);
  if (!stages) throw CallError{fmt::format("--stages: {}: {}", file, stages.error())};
  return *stages;
}

Json edges_json(const FoldMesh& mesh, const CollapseState& state) {
  Json out = Json::array();
  for (std::size_t e = 0; e < state.angle_deg.size(); ++e) {
    const auto& target = state.target_deg[e];
    out.push_back({{"i", mesh.bars[e].a},
                   {"j", mesh.bars[e].b},
                   {"target_deg", mesh.hinge_of[e] < 0 ? Json(0.0)
                                  : target             ? Json(*target)
                                                       : Json()},
                   {"angle_deg", state.angle_deg[e]},
                   {"strain", state.strain[e]}});
  }
  return out;
}

int run(const CollapseOptions& o) {
  const auto percent = parse_number(o.percent);
  if (!percent || !(*percent >= 0 && *percent <= 100))
    throw CallError{fmt::format("--percent {}: type 0 to 100, from flat to closed", o.percent)};
  if (!o.stages.empty() && !o.order.empty()) throw CallError{"--stages and --order: give one of them"};
  if (!o.out.empty()) {
    if (const auto format = format_for(FileUse::write_space, o.out); !format) throw CallError{"-o " + format.error()};
    refuse_to_replace("-o", o.out, {o.source.file});
  }
  const HealedPattern pattern = read_pattern(o.source);
  const auto mesh = fold_mesh(pattern);
  if (!mesh) throw CallError{fmt::format("{}: {}", o.source.file, mesh.error())};
  std::vector<DriveStage> stages;
  if (!o.stages.empty()) stages = stages_of(o.stages);
  if (!o.order.empty()) {
    const auto order = named<CollapseOrder>(o.order);
    if (!order)
      throw CallError{fmt::format("--order {}: type all-at-once, outside-in, inside-out or one-side-first", o.order)};
    stages = stages_in_order(*mesh, *order, whole_option("--groups", o.groups, 1, 64));
  }
  if (const auto ok = check_stages(*mesh, stages); !ok)
    throw CallError{fmt::format("--stages: {}: {}", o.stages, ok.error())};
  const auto began = std::chrono::steady_clock::now();
  Closing closing(*mesh, stages, o.other_way);
  std::vector<std::vector<Point3>> film;
  const int pictures = whole_option("--film", o.film, 0, 200);
  with_progress("closing", [&](Progress& progress) {
    std::vector<double> parts = even_parts(pictures, *percent / 100);
    parts.push_back(*percent / 100);
    auto states = states_at(closing, parts, &progress);
    film.reserve(states.size());
    for (std::size_t i = 0; i + 1 < states.size(); ++i) film.push_back(std::move(states[i].vertices));
  });
  const CollapseState state = closing.state();
  const double seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - began).count();
  if (!o.out.empty()) {
    SpatialModel model = model_of(*mesh, state.vertices, title_of(o.source), Stock{}.face, Stock{}.underside);
    model.film = std::move(film);
    write_output("-o", o.out, solid_file(o.out, model).value(), {o.source.file});
  }
  if (!o.json) {
    out() << fmt::format("{} at {} %: peak strain {:.4f} %, creases {:.2f}° from their targets (rms){}.\n",
                         title_of(o.source), o.percent, 100 * state.max_strain, state.rms_error_deg,
                         state.max_bend_deg > 1 ? fmt::format("; facets bend by up to {:.1f}°", state.max_bend_deg)
                                                : "");
    return done;
  }
  Json vertices = Json::array();
  for (const auto& v : state.vertices) vertices.push_back({v.x(), v.y(), v.z()});
  print_json({{"vertices", vertices},
              {"edges", edges_json(*mesh, state)},
              {"max_strain", state.max_strain},
              {"rms_angle_error_deg", state.rms_error_deg},
              {"max_bend_deg", state.max_bend_deg},
              {"steps", closing.steps()},
              {"seconds", seconds}});
  return done;
}

} // namespace

void add_collapse(CLI::App& app, Action& action) {
  auto o = std::make_shared<CollapseOptions>();
  auto* c = app.add_subcommand("collapse", "Close a pattern in space and tell the strain in the paper");
  add_source(*c, o->source);
  c->add_option("--percent", o->percent, "From flat, 0, to closed, 100")->capture_default_str();
  c->add_option("--stages", o->stages, "Stages by which creases are driven, a .json file");
  c->add_option("--order", o->order, "all-at-once, outside-in, inside-out or one-side-first");
  c->add_option("--groups", o->groups, "Stages of --order")->capture_default_str();
  c->add_flag("--other-way", o->other_way, "Where there are two ways to go, as for a saddle, the other one");
  c->add_option("--film", o->film, "Pictures from flat to there in a .glb")->capture_default_str();
  c->add_option("-o,--output", o->out, "FILE " + endings_for(FileUse::write_space));
  c->add_flag("--json", o->json, "One JSON document");
  c->footer("Example: under-crease-cli collapse saddle.json --percent 60 -o saddle.glb");
  c->callback([&action, o] { action = [o] { return run(*o); }; });
}

} // namespace uc::cli
