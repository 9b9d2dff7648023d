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

std::string obj_file(const SpatialSheet& s) {
  std::string out = fmt::format("# {}, mm\n", shown_text(s.title));
  for (const auto& v : s.vertices) out += fmt::format("v {:.9g} {:.9g} {:.9g}\n", v.x(), v.y(), v.z());
  for (const auto& t : s.mesh.triangles) out += fmt::format("f {} {} {}\n", t[0] + 1, t[1] + 1, t[2] + 1);
  return out;
}

std::string stl_file(const SpatialSheet& s) {
  std::string out = "mm ";
  out.resize(80, ' ');
  put(out, static_cast<std::uint32_t>(s.mesh.triangles.size()));
  for (const auto& t : s.mesh.triangles) {
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

std::string glb_file(const SpatialSheet& s) {
  // Corners are not shared between triangles, so that facets stay flat when they are lit.
  std::string data;
  const std::uint32_t corners = static_cast<std::uint32_t>(3 * s.mesh.triangles.size());
  Eigen::Vector3f low = Eigen::Vector3f::Constant(1e30F);
  Eigen::Vector3f high = -low;
  std::string normals;
  for (const bool back : {false, true}) {
    for (const auto& t : s.mesh.triangles) {
      Eigen::Vector3f p[3];
      for (std::size_t i = 0; i < 3; ++i) {
        const Eigen::Vector3d& v = s.vertices[at(t[back ? 2 - i : i])];
        p[i] = Eigen::Vector3d(v.x(), v.z(), -v.y()).cast<float>() / 1000; // y up, metres
        low = low.cwiseMin(p[i]);
        high = high.cwiseMax(p[i]);
      }
      const Eigen::Vector3f n = (p[1] - p[0]).cross(p[2] - p[0]).normalized();
      for (const auto& v : p) {
        for (int i = 0; i < 3; ++i) put(data, v[i]);
        for (int i = 0; i < 3; ++i) put(normals, n[i]);
      }
    }
  }
  const std::uint32_t half = corners * 12;
  data += normals;
  using Json = nlohmann::json;
  Json views = Json::array();
  Json accessors = Json::array();
  for (std::uint32_t i = 0; i < 4; ++i) {
    views.push_back({{"buffer", 0}, {"byteOffset", i * half}, {"byteLength", half}, {"target", 34962}});
    accessors.push_back({{"bufferView", i}, {"componentType", 5126}, {"count", corners}, {"type", "VEC3"}});
    if (i < 2) {
      accessors[i]["min"] = {low.x(), low.y(), low.z()};
      accessors[i]["max"] = {high.x(), high.y(), high.z()};
    }
  }
  const auto paper = [&](const char* name, const std::string& colour) {
    return Json{{"name", name},
                {"pbrMetallicRoughness",
                 {{"baseColorFactor", linear(colour)}, {"metallicFactor", 0.0}, {"roughnessFactor", 1.0}}}};
  };
  const Json document{{"asset", {{"version", "2.0"}, {"generator", "Under Crease"}}},
                      {"scene", 0},
                      {"scenes", {{{"nodes", {0}}}}},
                      {"nodes", {{{"mesh", 0}, {"name", shown_text(s.title)}}}},
                      {"materials", {paper("face", s.face_colour), paper("underside", s.underside_colour)}},
                      {"meshes",
                       {{{"primitives",
                          {{{"attributes", {{"POSITION", 0}, {"NORMAL", 2}}}, {"material", 0}},
                           {{"attributes", {{"POSITION", 1}, {"NORMAL", 3}}}, {"material", 1}}}}}}},
                      {"buffers", {{{"byteLength", data.size()}}}},
                      {"bufferViews", views},
                      {"accessors", accessors}};
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

Result<std::string> solid_file(std::string_view file_name, const SpatialSheet& sheet) {
  const auto format = format_for(FileUse::write_space, file_name);
  if (!format) return Error{format.error()};
  if (*format == FileFormat::obj) return obj_file(sheet);
  if (*format == FileFormat::stl) return stl_file(sheet);
  return glb_file(sheet);
}

} // namespace uc
