#include "space_output.h"

#include "base/expression.h"
#include "io/formats.h"

#include <fmt/format.h>

#include <cmath>

namespace uc::cli {
namespace {

constexpr int narrowest = 64;
constexpr int widest = 4096;

/// So many numbers, at least `least` of them, with commas between.
std::vector<double> numbers(const std::string& text, std::size_t least, std::size_t most, const CallError& wrong) {
  std::vector<double> out;
  std::size_t from = 0;
  for (;;) {
    const std::size_t comma = text.find(',', from);
    const auto value = parse_number(text.substr(from, comma - from));
    if (!value || !std::isfinite(*value)) throw wrong;
    out.push_back(*value);
    if (comma == std::string::npos) break;
    from = comma + 1;
  }
  if (out.size() < least || out.size() > most) throw wrong;
  return out;
}

StillWish wish_for(const StillOptions& o) {
  StillWish out;
  const CallError no_view{
      fmt::format("--view {}: type the turn and the tilt in degrees, as -25,-50; 0,0 looks straight down", o.view)};
  const auto view = numbers(o.view, 2, 2, no_view);
  out.turn_deg = view[0];
  out.tilt_deg = view[1];
  out.from_behind = o.behind;
  out.lamp.ambient = o.ambient;
  out.lamp_at_eye = o.lamp.empty() && !o.sweep;
  if (!o.lamp.empty()) {
    const CallError no_lamp{fmt::format(
        "--lamp {}: type where it stands and how high in degrees, as 120,35, and after another comma a spot's spread, "
        "5 to 120",
        o.lamp)};
    const auto lamp = numbers(o.lamp, 2, 3, no_lamp);
    if (std::abs(lamp[1]) > 90 || (lamp.size() > 2 && (lamp[2] < 5 || lamp[2] > 120))) throw no_lamp;
    out.lamp = {lamp[0], lamp[1], 0.35, true, lamp.size() > 2 ? lamp[2] : 0};
  }
  const int pixels = whole_option("--pixels", o.pixels, narrowest, widest);
  out.pixels = o.sweep ? pixels / sweep_across : pixels;
  return out;
}

} // namespace

void add_still(CLI::App& command, StillOptions& options, bool sweep) {
  command.add_option("--view", options.view, "Of a .png: turn and tilt in degrees; 0,0 looks straight down")
      ->capture_default_str();
  command.add_option("--pixels", options.pixels, "Of a .png: its width")->capture_default_str();
  command.add_flag("--behind", options.behind, "Of a .png: seen from behind");
  command.add_option("--lamp", options.lamp, "Of a .png: azimuth,height[,spread] in degrees, with shadows");
  if (sweep) command.add_flag("--sweep", options.sweep, "Of a .png: twelve pictures, the lamp once round");
}

std::string space_endings() {
  std::string out;
  for (const FormatEntry& f : formats_for(FileUse::write_space)) out += std::string(f.ending) + ", ";
  out.resize(out.size() - 2);
  return out + " or " + endings_for(FileUse::write_still);
}

void check_space(const CLI::App& command, const std::string& file, const StillOptions& options) {
  const bool picture = static_cast<bool>(format_for(FileUse::write_still, file));
  if (!file.empty() && !picture && !format_for(FileUse::write_space, file))
    throw CallError{fmt::format("-o {}: end the name in {}", file, space_endings())};
  refuse_misplaced(command, {"--view", "--pixels", "--behind", "--lamp", "--sweep"}, picture,
                   "belongs to a picture; end -o in .png");
  wish_for(options);
}

std::string space_file(const std::string& file, const SpatialModel& model, const StillOptions& options, double size_mm,
                       std::vector<StillLine> lines) {
  if (!format_for(FileUse::write_still, file)) {
    auto bytes = solid_file(file, model);
    if (!bytes) throw CallError{"-o " + bytes.error()};
    return std::move(bytes).value();
  }
  StillWish wish = wish_for(options);
  wish.size_mm = size_mm;
  if (options.lamp.empty() && !options.sweep) wish.lines = std::move(lines);
  auto bytes = options.sweep ? lamp_sweep_png(model, wish, {font_folder()}) : still_png(model, wish);
  if (!bytes) throw CallError{fmt::format("-o {}: {}", file, bytes.error())};
  return std::move(bytes).value();
}

} // namespace uc::cli
