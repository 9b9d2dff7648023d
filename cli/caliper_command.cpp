// caliper: a stand-in for a caliper on a serial line.
#include "command.h"

#include "base/expression.h"
#include "device/caliper.h"

#include <fmt/format.h>

#include <chrono>
#include <cmath>
#include <cstdio>
#include <memory>
#include <random>
#include <sstream>
#include <thread>

namespace uc::cli {
namespace {

struct CaliperOptions {
  bool simulate = false, json = false;
  std::string sigma = "0.02", values = "30,60,90,120,150,180,210", readings = "0", every = "1", seed = "1",
              seconds = "0";
};

int run(const CaliperOptions& o) {
  if (!o.simulate)
    throw CallError{"--simulate: is what this command does; a real caliper is read in Measure now, in the window"};
  const double sigma = length_option("--sigma", o.sigma, 0, 10);
  std::vector<double> values;
  std::istringstream list(o.values);
  for (std::string one; std::getline(list, one, ',');)
    values.push_back(length_option("--values", one, 0, greatest_reading_mm));
  if (values.empty()) throw CallError{"--values: name at least one length, as 30,60,90"};
  const int readings = whole_option("--readings", o.readings, 0, 1'000'000);
  const double every = number_option("--every", o.every, 0.001, 3600);
  const double seconds = number_option("--seconds", o.seconds, 0, 1e9);
  std::mt19937_64 random(static_cast<std::uint64_t>(whole_option("--seed", o.seed, 0, 1'000'000'000)));
  std::normal_distribution<double> off(0, sigma);
  const auto line = CaliperLine::open();
  if (!line) return refused(line.error(), o.json);
  if (o.json)
    print_json({{"port", line->name()}});
  else
    out() << line->name() << "\n";
  // Whoever reads the line has to know its name first.
  const int told = delivered(done);
  if (told != done) return told;
  const auto begun = std::chrono::steady_clock::now();
  const std::chrono::duration<double> most(seconds);
  for (int i = 0; readings == 0 || i < readings; ++i) {
    if (seconds > 0 && std::chrono::steady_clock::now() - begun >= most) break;
    line->send(std::abs(values[static_cast<std::size_t>(i) % values.size()] + off(random)));
    std::this_thread::sleep_for(std::chrono::duration<double>(every));
  }
  return done;
}

} // namespace

void add_caliper(CLI::App& app, Action& action) {
  auto o = std::make_shared<CaliperOptions>();
  auto* c = app.add_subcommand("caliper", "A stand-in for a caliper on a serial line");
  c->add_flag("--simulate", o->simulate, "Open a pseudo-terminal, print its name, send a reading a line");
  c->add_option("--sigma", o->sigma, "Error of a reading, mm")->capture_default_str();
  c->add_option("--values", o->values, "True lengths in mm, sent one after the other and then again")
      ->capture_default_str();
  c->add_option("--readings", o->readings, "How many to send; 0: until stopped by Ctrl+C")->capture_default_str();
  c->add_option("--every", o->every, "Seconds between readings")->capture_default_str();
  c->add_option("--seconds", o->seconds, "End after so many seconds; 0: do not")->capture_default_str();
  c->add_option("--seed", o->seed, "Another number, other errors")->capture_default_str();
  c->add_flag("--json", o->json, "One JSON document");
  c->footer("Example: under-crease-cli caliper --simulate --values 30,60,90 --readings 3");
  c->callback([&action, o] { action = [o] { return run(*o); }; });
}

} // namespace uc::cli
