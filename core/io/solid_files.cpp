#include "io/solid_files.h"

#include "base/clean_text.h"
#include "base/index.h"
#include "io/formats.h"

#include <Eigen/Geometry>
#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include <bit>
#include <cstdint>
#include <cstring>

namespace uc {
namespace {

static_assert(std::endian::native == std::endian::little, "STL and glTF are little-endian");

template <class T> void put(std::string& out, const T& value) {
  char bytes[sizeof(T)];
  std::memcpy(bytes, &value, sizeof(T));
  out.append(bytes, sizeof(T));
}

std::string obj_file(const SpatialModel& s) {
  std::string out = fmt::format("# {}, mm\n", shown_text(s.title));
  for (const auto& v : s.vertices) out += fmt::format("v {:.9g} {:.9g} {:.9g}\n", v.x(), v.y(), v.z());
  for (const auto& t : s.triangles) out += fmt::format("f {} {} {}\n", t[0] + 1, t[1] + 1, t[2] + 1);
  return out;
}

std::string stl_file(const SpatialModel& s) {
  std::string out = "mm ";
  out.resize(80, ' ');
  put(out, static_cast<std::uint32_t>(s.triangles.size()));
  for (const auto& t : s.triangles) {
    const Eigen::Vector3d& a = s.vertices[at(t[0])];
    const Eigen::Vector3d& b = s.vertices[at(t[1])];
    const Eigen::Vector3d& c = s.vertices[at(t[2])];
    const Eigen::Vector3f normal = (b - a).cross(c - a).normalized().cast<float>();
    for (const Eigen::Vector3f& v :
         {normal, Eigen::Vector3f(a.cast<float>()), Eigen::Vector3f(b.cast<float>()), Eigen::Vector3f(c.cast<float>())})
      for (int i = 0; i < 3; ++i) put(out, v[i]);
    put(out, std::uint16_t{0});
  }
  return out;
}

/// #RRGGBB as linear red, green, blue (IEC 61966-2-1).
nlohmann::json linear(const std::string& colour) {
  nlohmann::json out = nlohmann::json::array();
  for (std::size_t i = 0; i < 3; ++i) {
    const double v = std::stoi(colour.substr(1 + 2 * i, 2), nullptr, 16) / 255.0;
    out.push_back(v <= 0.04045 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4));
  }
  out.push_back(1.0);
  return out;
}

/// The corners of one primitive, their normals, and how far they reach.
struct Primitive {
  std::string places;
  std::string normals;
  std::uint32_t corners = 0;
  Eigen::Vector3f low = Eigen::Vector3f::Constant(1e30F);
  Eigen::Vector3f high = Eigen::Vector3f::Constant(-1e30F);

  std::vector<std::string> moved; // per picture of the film, how far each corner stands off

  static Eigen::Vector3f metres(const Point3& v) {
    return Eigen::Vector3d(v.x(), v.z(), -v.y()).cast<float>() / 1000; // y up
  }
  /// Corners are not shared between triangles, so that facets stay flat when they are lit.
  void add(const SpatialModel& s, const std::array<int, 3>& t, bool back) {
    Eigen::Vector3f p[3];
    moved.resize(s.film.size());
    for (std::size_t i = 0; i < 3; ++i) {
      const int v = t[back ? 2 - i : i];
      p[i] = metres(s.vertices[at(v)]);
      for (std::size_t f = 0; f < s.film.size(); ++f) {
        const Eigen::Vector3f off = metres(s.film[f][at(v)]) - p[i];
        for (int k = 0; k < 3; ++k) put(moved[f], off[k]);
      }
      low = low.cwiseMin(p[i]);
      high = high.cwiseMax(p[i]);
    }
    const Eigen::Vector3f n = (p[1] - p[0]).cross(p[2] - p[0]).normalized();
    for (const auto& v : p) {
      for (int i = 0; i < 3; ++i) put(places, v[i]);
      for (int i = 0; i < 3; ++i) put(normals, n[i]);
    }
    corners += 3;
  }
};

/// The parts of a glTF file that grow while it is made.
struct GltfParts {
  std::string data;
  nlohmann::json views = nlohmann::json::array();
  nlohmann::json accessors = nlohmann::json::array();

  std::size_t add(const std::string& bytes, std::size_t count, const char* type, bool of_vertices) {
    views.push_back({{"buffer", 0}, {"byteOffset", data.size()}, {"byteLength", bytes.size()}});
    if (of_vertices) views.back()["target"] = 34962;
    accessors.push_back({{"bufferView", views.size() - 1}, {"componentType", 5126}, {"count", count}, {"type", type}});
    data += bytes;
    return accessors.size() - 1;
  }
  void bound(std::size_t accessor, const Eigen::Vector3f& low, const Eigen::Vector3f& high) {
    accessors[accessor]["min"] = {low.x(), low.y(), low.z()};
    accessors[accessor]["max"] = {high.x(), high.y(), high.z()};
  }
};

/// How far apart places in bytes reach.
void bound_places(GltfParts& parts, std::size_t accessor, const std::string& bytes) {
  Eigen::Vector3f low = Eigen::Vector3f::Constant(1e30F);
  Eigen::Vector3f high = -low;
  for (std::size_t i = 0; i + 12 <= bytes.size(); i += 12) {
    Eigen::Vector3f p;
    std::memcpy(p.data(), bytes.data() + i, 12);
    low = low.cwiseMin(p);
    high = high.cwiseMax(p);
  }
  parts.bound(accessor, low, high);
}

/// One picture after another has all the weight, and the last none: then the model stands as it is.
nlohmann::json film_of(GltfParts& parts, const SpatialModel& s) {
  std::string times;
  std::string weights;
  const std::size_t n = s.film.size();
  for (std::size_t k = 0; k <= n; ++k) {
    put(times, static_cast<float>(s.film_seconds * static_cast<double>(k) / static_cast<double>(n)));
    for (std::size_t f = 0; f < n; ++f) put(weights, f == k ? 1.0F : 0.0F);
  }
  const std::size_t input = parts.add(times, n + 1, "SCALAR", false);
  parts.accessors[input]["min"] = {0.0};
  parts.accessors[input]["max"] = {s.film_seconds};
  const std::size_t output = parts.add(weights, n * (n + 1), "SCALAR", false);
  return {{{"name", "collapse"},
           {"samplers", {{{"input", input}, {"output", output}, {"interpolation", "LINEAR"}}}},
           {"channels", {{{"sampler", 0}, {"target", {{"node", 0}, {"path", "weights"}}}}}}}};
}

std::string glb_file(const SpatialModel& s) {
  using Json = nlohmann::json;
  std::vector<Primitive> primitives(s.colours.size() + (s.underside.empty() ? 0 : 1));
  for (std::size_t t = 0; t < s.triangles.size(); ++t) {
    primitives[s.colour_of.empty() ? 0 : at(s.colour_of[t])].add(s, s.triangles[t], false);
    if (!s.underside.empty()) primitives.back().add(s, s.triangles[t], true);
  }
  GltfParts parts;
  Json materials = Json::array();
  Json drawn = Json::array();
  for (std::size_t i = 0; i < primitives.size(); ++i) {
    const Primitive& p = primitives[i];
    if (p.corners == 0) continue;
    const std::size_t places = parts.add(p.places, p.corners, "VEC3", true);
    parts.bound(places, p.low, p.high);
    const std::size_t normals = parts.add(p.normals, p.corners, "VEC3", true);
    const bool back = i == s.colours.size();
    materials.push_back({{"name", back                    ? "underside"
                                  : s.colours.size() == 1 ? "face"
                                                          : fmt::format("paper {}", i + 1)},
                         {"pbrMetallicRoughness",
                          {{"baseColorFactor", linear(back ? s.underside : s.colours[i])},
                           {"metallicFactor", 0.0},
                           {"roughnessFactor", 1.0}}}});
    drawn.push_back({{"attributes", {{"POSITION", places}, {"NORMAL", normals}}}, {"material", materials.size() - 1}});
    for (const std::string& bytes : p.moved) {
      const std::size_t target = parts.add(bytes, p.corners, "VEC3", true);
      bound_places(parts, target, bytes);
      drawn.back()["targets"].push_back({{"POSITION", target}});
    }
  }
  Json mesh{{"primitives", drawn}};
  if (!s.film.empty()) mesh["weights"] = std::vector<double>(s.film.size(), 0.0);
  const Json film = s.film.empty() ? Json() : film_of(parts, s);
  Json document{{"asset", {{"version", "2.0"}, {"generator", "Under Crease"}}},
                {"scene", 0},
                {"scenes", {{{"nodes", {0}}}}},
                {"nodes", {{{"mesh", 0}, {"name", shown_text(s.title)}}}},
                {"materials", materials},
                {"meshes", {mesh}},
                {"buffers", {{{"byteLength", parts.data.size()}}}},
                {"bufferViews", parts.views},
                {"accessors", parts.accessors}};
  if (!s.film.empty()) document["animations"] = film;
  const std::string& data = parts.data;
  std::string text = document.dump();
  while (text.size() % 4 != 0) text += ' ';
  std::string out;
  put(out, std::uint32_t{0x46546C67}); // glTF
  put(out, std::uint32_t{2});
  put(out, static_cast<std::uint32_t>(12 + 8 + text.size() + 8 + data.size()));
  put(out, static_cast<std::uint32_t>(text.size()));
  put(out, std::uint32_t{0x4E4F534A}); // JSON
  out += text;
  put(out, static_cast<std::uint32_t>(data.size()));
  put(out, std::uint32_t{0x004E4942}); // BIN
  out += data;
  return out;
}

} // namespace

SpatialModel model_of(const FoldMesh& mesh, std::vector<Point3> vertices, std::string title, std::string face_colour,
                      std::string underside_colour) {
  SpatialModel out;
  out.title = std::move(title);
  out.vertices = std::move(vertices);
  for (const auto& t : mesh.triangles) out.triangles.push_back({t[0], t[1], t[2]});
  out.colours = {std::move(face_colour)};
  out.underside = std::move(underside_colour);
  return out;
}

SpatialModel model_of(const UnitPlan& plan, std::string title, const std::vector<UnitMap::Colour>& palette) {
  UnitShape shape = unit_shape(plan);
  SpatialModel out;
  out.title = std::move(title);
  out.vertices = std::move(shape.vertices);
  for (const UnitShape::Facet& f : shape.facets) {
    out.triangles.push_back(f.corners);
    out.colour_of.push_back(plan.colours.colour[at(f.unit)]);
  }
  for (const UnitMap::Colour& c : palette) out.colours.push_back(c.css);
  return out;
}

SpatialModel model_of(const Polyhedron& solid, std::string title) {
  SpatialModel out;
  out.title = std::move(title);
  out.vertices = solid.vertices;
  out.colours = {"#F3C98B"};
  for (const auto& face : solid.faces)
    for (std::size_t i = 1; i + 1 < face.size(); ++i) out.triangles.push_back({face[0], face[i], face[i + 1]});
  return out;
}

Result<std::string> solid_file(std::string_view file_name, const SpatialModel& sheet) {
  const auto format = format_for(FileUse::write_space, file_name);
  if (!format) return Error{format.error()};
  return by_format<FileUse::write_space, Result<std::string>>(
      *format, on<FileFormat::obj>([&] { return obj_file(sheet); }),
      on<FileFormat::stl>([&] { return stl_file(sheet); }), on<FileFormat::glb>([&] { return glb_file(sheet); }));
}

} // namespace uc
