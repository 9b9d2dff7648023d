// solid: a polyhedron by name or by operators, with its edges and dihedral angles.
#include "command.h"
#include "space_output.h"

#include "solid/expression.h"
#include "solid/named.h"

#include <fmt/format.h>

#include <memory>

namespace uc::cli {
namespace {

using Json = nlohmann::json;

struct SolidOptions {
  std::string name, edge, out;
  StillOptions still;
  bool list = false;
  bool json = false;
};

int run(const SolidOptions& o, const CLI::App& c) {
  if (o.list) {
    std::vector<std::string> all = named_solids();
    all.insert(all.end(), numbered_solids().begin(), numbered_solids().end());
    if (o.json) {
      print_json({{"solids", all}, {"operators", solid_operators()}});
    } else {
      for (const std::string& name : all) out() << name << "\n";
      for (const std::string& name : solid_operators()) out() << name << "(SOLID)\n";
    }
    return done;
  }
  if (o.name.empty()) throw CallError{"solid: type a NAME, as icosahedron or kis(dodecahedron,0.3); --list names them"};
  check_space(c, o.out, o.still);
  auto made = parse_solid(o.name);
  if (!made) throw CallError{"solid: " + made.error()};
  Polyhedron p = std::move(made).value();
  if (!o.edge.empty()) {
    const double edge = length_option("--edge", o.edge, 0.001, 100'000);
    for (Point3& v : p.vertices) v *= edge;
  }
  if (!o.out.empty()) {
    write_output("-o", o.out, space_file(o.out, model_of(p, o.name), o.still, diameter(p)));
  }
  if (!o.json) {
    out() << fmt::format("{}: {} vertices, {} edges, {} faces; diameter {:.4f} mm\n", o.name, p.vertices.size(),
                         p.edges().size(), p.faces.size(), diameter(p));
    return done;
  }
  Json vertices = Json::array();
  for (const Point3& v : p.vertices) vertices.push_back({v.x(), v.y(), v.z()});
  print_json({{"vertices", vertices},
              {"faces", p.faces},
              {"edges", p.edges()},
              {"dihedral_deg", dihedral_degrees(p)},
              {"diameter_mm", diameter(p)}});
  return done;
}

} // namespace

void add_solid(CLI::App& app, Action& action) {
  auto o = std::make_shared<SolidOptions>();
  auto* c = app.add_subcommand("solid", "Give the corners, faces and angles of a solid");
  c->add_option("NAME", o->name, "A solid: cube, prism:7, geodesic:3,1, kis(dodecahedron,0.3)");
  c->add_flag("--list", o->list, "List the names");
  c->add_option("--edge", o->edge, "Length of the shortest edge (1 mm)");
  c->add_option("-o", o->out, "Write the solid: " + space_endings());
  add_still(*c, o->still, false);
  c->add_flag("--json", o->json, "One JSON document");
  c->footer("Example: under-crease-cli solid \"kis(dodecahedron,0.3)\" --edge 50mm --json");
  c->callback([&action, o, c] { action = [o, c] { return run(*o, *c); }; });
}

} // namespace uc::cli
