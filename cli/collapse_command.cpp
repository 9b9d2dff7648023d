// collapse: a pattern closing in space, at a given percentage, by stages or all at once.
#include "pattern_file.h"
#include "space_output.h"

#include "base/expression.h"
#include "collapse/closing_plan.h"
#include "collapse/finer.h"
#include "collapse/pushing.h"
#include "collapse/settling.h"
#include "io/formats.h"
#include "io/stages_json.h"
#include "io/strain_tint.h"
#include "pattern/pattern_figure.h"
#include "programme/line_look.h"

#include <fmt/format.h>

#include <chrono>
#include <memory>

namespace uc::cli {
namespace {

using Json = nlohmann::json;

struct CollapseOptions {
  PatternSource source;
  std::string percent = "100", stages, order, groups = "4", film = "0", push, out;
  bool json = false;
  bool other_way = false, apart = false, let_go = false;
  std::string finer = "0", stock = "Copy paper";
  std::vector<std::string> clips;
  StillOptions still;
  bool strain = false;
};

std::vector<DriveStage> stages_of(const std::string& file) {
  const std::string text = read_input("--stages", file);
  const auto stages = parse_stages(text);
  if (!stages) throw CallError{fmt::format("--stages: {}: {}", file, stages.error())};
  return *stages;
}

/// The call as it reads: checked, with the pattern and how it is to be closed.
struct Called {
  double part = 1;
  HealedPattern pattern; // as read
  FinerPattern fine;     // as it is closed
  FoldMesh mesh;
  ClosingWish wish;
};

/// Whether creases are driven in the order of hands without being asked for: where the layers are kept apart, which
/// seldom come past each other otherwise, and where the piece does not lie flat in the end.
bool by_hand(const CollapseOptions& o, const HandClosing& closing) {
  return !closing.full_deg.empty() || (o.apart && !closing.goals.empty());
}

ClosingWish wish_of(const CollapseOptions& o, const FinerPattern& fine, const FoldMesh& mesh,
                    const HandClosing& closing) {
  ClosingPlan plan;
  plan.other_way = o.other_way;
  plan.apart = o.apart;
  for (const std::string& text : o.clips) {
    const auto clip = parse_clip(text);
    if (!clip) throw CallError{fmt::format("--clip {}: {}", text, clip.error())};
    plan.clips.push_back(*clip);
  }
  if (!o.order.empty()) {
    const auto order = named<CollapseOrder>(o.order);
    if (!order)
      throw CallError{
          fmt::format("--order {}: type family, all-at-once, outside-in, inside-out or one-side-first", o.order)};
    if (order == CollapseOrder::family && closing.empty())
      throw CallError{"--order family: this file does not say how hands close it; write it by pattern FAMILY -o "
                      "FILE.json, or name another order"};
    plan.order = *order;
    plan.groups = whole_option("--groups", o.groups, 1, 64);
  }
  if (const auto ok = check_plan(mesh, plan); !ok) throw CallError{"--clip: " + ok.error()};
  ClosingWish wish = wish_for(mesh, plan);
  if (o.order.empty() && !by_hand(o, closing)) wish.stages.clear();
  if (o.stages.empty()) return wish;
  wish.stages = stages_on(fine, stages_of(o.stages)); // of the pattern as it was read
  return wish;
}

Called called(const CollapseOptions& o, const CLI::App& c) {
  const auto percent = parse_number(o.percent);
  if (!percent || !(*percent >= 0 && *percent <= 100))
    throw CallError{fmt::format("--percent {}: type 0 to 100, from flat to closed", o.percent)};
  if (!o.stages.empty() && !o.order.empty()) throw CallError{"--stages and --order: give one of them"};
  check_space(c, o.out, o.still);
  const bool picture = static_cast<bool>(format_for(FileUse::write_still, o.out));
  const auto format = format_for(FileUse::write_space, o.out);
  const bool film = format && *format == FileFormat::glb;
  refuse_misplaced(c, {"--strain"}, picture || film, "belongs to a picture or a .glb; end -o in .png or .glb");
  refuse_misplaced(c, {"--film"}, film, "the pictures go into a .glb; end -o so");
  refuse_misplaced(c, {"--groups"}, !o.order.empty(), "belongs to --order; name one");
  refuse_misplaced(c, {"--stock"}, o.let_go, "belongs to --let-go");
  if (!o.out.empty()) refuse_to_replace("-o", o.out, {o.source.file});
  Called out;
  out.part = *percent / 100;
  HandClosing closing;
  out.pattern = read_pattern(o.source, nullptr, &closing);
  if (!o.stages.empty()) closing = {}; // in a stages file 100 percent are 180 degrees
  auto coarse = fold_mesh(out.pattern, closing.full_deg, closing.goals);
  if (!coarse) throw CallError{fmt::format("{}: {}", o.source.file, coarse.error())};
  if (!o.stages.empty())
    if (const auto ok = check_stages(*coarse, stages_of(o.stages)); !ok)
      throw CallError{fmt::format("--stages: {}: {}", o.stages, ok.error())};
  auto fine = finer(out.pattern, closing.full_deg, whole_option("--finer", o.finer, 0, most_finer), closing.goals);
  if (!fine) throw CallError{fmt::format("{}: {}", o.source.file, fine.error())};
  out.fine = std::move(fine).value();
  auto mesh = fold_mesh(out.fine.pattern, out.fine.full_deg, out.fine.goals);
  if (!mesh) throw CallError{fmt::format("{}: {}", o.source.file, mesh.error())};
  out.mesh = std::move(mesh).value();
  out.wish = wish_of(o, out.fine, out.mesh, closing);
  return out;
}

/// "240,0" or "240,0:-60": the corner, and how far in mm.
PushWish push_option(const std::string& text) {
  const auto colon = text.find(':');
  const std::string place = text.substr(0, colon);
  const auto comma = place.find(',');
  const CallError wrong{
      fmt::format("--push {}: type x,y of a corner in mm, and after a colon how far, as 240,0:-60", text)};
  if (comma == std::string::npos) throw wrong;
  const auto x = parse_number(place.substr(0, comma));
  const auto y = parse_number(place.substr(comma + 1));
  if (!x || !y) throw wrong;
  PushWish out{{*x, *y}, std::nullopt};
  if (colon == std::string::npos) return out;
  const auto by = parse_number(text.substr(colon + 1));
  if (!by || std::abs(*by) > greatest_length_mm) throw wrong;
  out.by_mm = *by;
  return out;
}

/// The creases of a picture, as the bench shows them.
std::vector<StillLine> lines_of(const Called& call) {
  std::vector<StillLine> out;
  for (std::size_t e = 0; e < call.fine.parts_of.size(); ++e)
    for (const int part : call.fine.parts_of[e]) {
      const PatternEdge& edge = call.fine.pattern.pattern.edges[static_cast<std::size_t>(part)];
      out.push_back({edge.from, edge.to, look_of(style_of(edge.kind)).colour});
    }
  return out;
}

/// One entry per edge as read: of one that was divided the mean angle and the worst strain.
Json edges_json(const Called& call, const CollapseState& state) {
  Json out = Json::array();
  for (std::size_t e = 0; e < call.fine.parts_of.size(); ++e) {
    const PatternEdge& edge = call.pattern.pattern.edges[e];
    const auto& parts = call.fine.parts_of[e];
    double angle = 0;
    double strain = 0;
    for (const int part : parts) {
      const auto i = static_cast<std::size_t>(part);
      angle += state.angle_deg[i] / static_cast<double>(parts.size());
      if (std::abs(state.strain[i]) > std::abs(strain)) strain = state.strain[i];
    }
    const auto first = static_cast<std::size_t>(parts.front());
    const auto& target = state.target_deg[first];
    out.push_back({{"i", edge.from},
                   {"j", edge.to},
                   {"target_deg", call.mesh.hinge_of[first] < 0 ? Json(0.0)
                                  : target                      ? Json(*target)
                                                                : Json()},
                   {"angle_deg", angle},
                   {"strain", strain}});
  }
  return out;
}

int run(const CollapseOptions& o, const CLI::App& c) {
  const Called call = called(o, c);
  const Stock stock = stock_option(o.stock);
  const auto began = std::chrono::steady_clock::now();
  Closing closing(call.mesh, call.wish);
  std::vector<std::vector<Point3>> film;
  const int pictures = whole_option("--film", o.film, 0, 200);
  std::optional<CollapseState> rested;
  std::optional<Pushed> over;
  const auto wish = o.push.empty() ? std::optional<PushWish>() : push_option(o.push);
  with_progress("closing", [&](Progress& progress) {
    closing.tell(&progress);
    std::vector<double> parts = even_parts(pictures, call.part);
    parts.push_back(call.part);
    // Which way closes without layers passing is known only at the end of it.
    if (o.apart && call.part < 1) closing.go_to(1, &progress);
    auto states = states_at(closing, parts, &progress);
    film.reserve(states.size());
    for (std::size_t i = 0; i + 1 < states.size(); ++i) film.push_back(std::move(states[i].vertices));
    if (wish && !progress.stopped()) {
      auto made = pushed(call.mesh, closing.state(), closing.stiffness(), *wish, &progress);
      if (!made && !progress.stopped()) throw CallError{fmt::format("--push {}: {}", o.push, made.error())};
      if (made) rested = made->after, over = std::move(made).value();
    }
    if (o.let_go) rested = let_go(call.mesh, rested ? *rested : closing.state(), stock, &progress);
  });
  const CollapseState state = rested ? *rested : closing.state();
  const double seconds = std::chrono::duration<double>(std::chrono::steady_clock::now() - began).count();
  if (!o.out.empty()) {
    SpatialModel model = model_of(call.mesh, state.vertices, title_of(o.source), Stock{}.face, Stock{}.underside);
    model.film = std::move(film);
    if (o.strain) {
      model.colours.assign(strain_colours.begin(), strain_colours.end());
      model.colour_of = strain_tints(call.mesh, state.vertices);
      model.underside.clear();
    }
    StillOptions still = o.still;
    if (o.strain) still.ambient = 0.85; // the tint is to be seen, not the relief
    write_output("-o", o.out, space_file(o.out, model, still, 0, lines_of(call)));
  }
  if (!o.json) {
    out() << fmt::format(
        "{} at {} %: peak strain {:.4f} %, creases {:.2f}° from their targets (rms){}{}.\n", title_of(o.source),
        o.percent, 100 * state.max_strain, state.rms_error_deg,
        state.max_bend_deg > 1 ? fmt::format("; facets bend by up to {:.1f}°", state.max_bend_deg) : "",
        state.passed_through > 0 ? fmt::format("; {} corners and edges go through a layer", state.passed_through) : "");
    if (closing.layers_pass())
      out() << "Layers do not all find their way round each other: in places they are let through.\n";
    if (over)
      out() << (over->gone_over
                    ? fmt::format("Pushed over: it rests in another shape, {:.1f} mm away (rms).\n", over->moved_mm)
                    : "It springs back to the shape it had.\n");
    return done;
  }
  Json vertices = Json::array();
  for (std::size_t v = 0; v < call.pattern.pattern.vertices.size(); ++v)
    vertices.push_back({state.vertices[v].x(), state.vertices[v].y(), state.vertices[v].z()});
  Json json = {{"vertices", vertices},
               {"edges", edges_json(call, state)},
               {"max_strain", state.max_strain},
               {"rms_angle_error_deg", state.rms_error_deg},
               {"max_bend_deg", state.max_bend_deg},
               {"passed_through", o.apart ? Json(state.passed_through) : Json(nullptr)},
               {"layers_pass", o.apart ? Json(closing.layers_pass()) : Json(nullptr)},
               {"steps", closing.steps()},
               {"seconds", seconds}};
  if (over) {
    const Point& corner = call.mesh.flat[static_cast<std::size_t>(over->corner)];
    json["pushed"] = {{"corner_mm", {corner.x(), corner.y()}},
                      {"gone_over", over->gone_over},
                      {"moved_mm", over->moved_mm},
                      {"energy_before", over->energy_before},
                      {"energy_after", over->energy_after}};
  }
  print_json(json);
  return done;
}

} // namespace

void add_collapse(CLI::App& app, Action& action) {
  auto o = std::make_shared<CollapseOptions>();
  auto* c = app.add_subcommand("collapse", "Close a pattern in space and tell the strain in the paper");
  add_source(*c, o->source);
  c->add_option("--percent", o->percent, "From flat, 0, to closed, 100")->capture_default_str();
  c->add_option("--stages", o->stages, "Stages by which creases are driven, a .json file");
  c->add_option("--order", o->order, "family, all-at-once, outside-in, inside-out or one-side-first");
  c->add_option("--groups", o->groups, "Stages of --order")->capture_default_str();
  c->add_flag("--other-way", o->other_way, "Where there are two ways to go, as for a saddle, the other one");
  c->add_flag("--apart", o->apart, "Layers push each other apart where they would pass through each other");
  c->add_option("--clip", o->clips, "Holds creases near a place for a while: x,y,radius:from-to; may be repeated");
  c->add_option("--finer", o->finer, "Divide every facet into four so often, 0 to 2, so that it can curve")
      ->capture_default_str();
  c->add_option("--push", o->push, "Push a corner over, x,y or x,y:MM; the middle and the corner across are held");
  c->add_flag("--let-go", o->let_go, "Then let go of it: creases spring back, the sheet sags and stands on the table");
  c->add_option("--stock", o->stock, "Paper by name, for --let-go")->capture_default_str();
  c->add_option("--film", o->film, "Pictures from flat to there in a .glb")->capture_default_str();
  c->add_option("-o,--output", o->out, "FILE " + space_endings());
  add_still(*c, o->still, true);
  c->add_flag("--strain", o->strain, "Of a .png or .glb: tinted by the strain in the paper");
  c->add_flag("--json", o->json, "One JSON document");
  c->footer("Example: under-crease-cli collapse saddle.json --percent 60 -o saddle.glb");
  c->callback([&action, o, c] { action = [o, c] { return run(*o, *c); }; });
}

} // namespace uc::cli
