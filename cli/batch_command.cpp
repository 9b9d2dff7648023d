// batch: how long the copies that are left take, and on which evenings they are made.
#include "command.h"

#include "base/expression.h"
#include "record/batch.h"

#include <fmt/format.h>

#include <cmath>
#include <ctime>
#include <memory>
#include <sstream>

namespace uc::cli {
namespace {

using Json = nlohmann::json;

struct BatchOptions {
  std::string copies, minutes, evening, by, from;
  bool json = false;
};

double number_of(const std::string& option, const std::string& text) {
  const auto value = parse_number(text);
  if (!value)
    throw CallError{fmt::format("{}: \"{}\" is not a number of minutes; type such as 31 or 27.5", option, text)};
  return *value;
}

std::vector<double> minutes_of(const std::string& text) {
  std::vector<double> all;
  std::istringstream list(text);
  for (std::string one; std::getline(list, one, ',');) all.push_back(number_of("--minutes", one));
  return all;
}

std::chrono::year_month_day date_of(const std::string& option, const std::string& text) {
  const auto date = parse_date(text);
  if (!date)
    throw CallError{fmt::format("{}: \"{}\" is not a date; type YYYY-MM-DD, such as 2026-12-24", option, text)};
  return *date;
}

std::chrono::year_month_day today() {
  const std::time_t now = std::time(nullptr);
  std::tm local{};
  localtime_r(&now, &local);
  return {std::chrono::year(local.tm_year + 1900), std::chrono::month(static_cast<unsigned>(local.tm_mon + 1)),
          std::chrono::day(static_cast<unsigned>(local.tm_mday))};
}

std::string hours(double minutes) {
  const long all = std::lround(minutes);
  return fmt::format("{} h {:02} min", all / 60, all % 60);
}

int run(const BatchOptions& o) {
  const int copies = whole_option("--copies", o.copies, 1, most_copies);
  const auto done_in = minutes_of(o.minutes);
  const auto cast = forecast(copies, done_in);
  if (!cast) throw CallError{"--minutes: " + cast.error()};
  const auto from = o.from.empty() ? today() : date_of("--from", o.from);
  std::optional<std::chrono::year_month_day> by;
  if (!o.by.empty()) by = date_of("--by", o.by);
  double evening = 0;
  if (!o.evening.empty()) {
    evening = number_of("--evening", o.evening);
    if (!(evening >= 1 && evening <= 24 * 60))
      throw CallError{fmt::format("--evening: {:g} minutes are no evening; type 1 to 1440", evening)};
  } else if (by) {
    const auto least = minutes_by(cast->copy_min, from, *by);
    if (!least) return refused(least.error(), o.json);
    evening = *least;
  }
  std::vector<Evening> evenings;
  if (evening > 0) {
    const auto planned = evenings_at(cast->copy_min, evening, from);
    if (!planned) return refused(planned.error(), o.json);
    evenings = *planned;
  }
  const bool late = by && !evenings.empty() && std::chrono::sys_days(evenings.back().date) > std::chrono::sys_days(*by);
  if (o.json) {
    Json list = Json::array();
    for (const Evening& e : evenings)
      list.push_back({{"date", date_text(e.date)}, {"copies", e.copies}, {"minutes", e.minutes}});
    Json j = {{"curve",
               {{"first_min", cast->curve.first_min},
                {"exponent", cast->curve.exponent},
                {"exponent_error", cast->curve.exponent_error}}},
              {"left_min", {{"median", cast->left.median}, {"low", cast->left.low}, {"high", cast->left.high}}},
              {"evenings", list},
              {"ready", evenings.empty() ? Json() : Json(date_text(evenings.back().date))}};
    if (evening > 0) j["evening_min"] = evening;
    if (late)
      j["refused"] = {{"reason", fmt::format("At {:g} minutes an evening it is not ready by {}.", evening, o.by)}};
    print_json(j);
  } else {
    out() << fmt::format(
        "{} of {} copies are made; the first took about {:.1f} min, each doubling makes a copy {:.0f} % "
        "shorter\n",
        done_in.size(), copies, cast->curve.first_min, 100 * (1 - std::pow(2, -cast->curve.exponent)));
    out() << fmt::format("left: {} ({} to {} in 90 of 100 cases)\n", hours(cast->left.median), hours(cast->left.low),
                         hours(cast->left.high));
    for (const Evening& e : evenings)
      out() << fmt::format("  {}  {:3} copies  {:4.0f} min\n", date_text(e.date), e.copies, e.minutes);
    if (!evenings.empty()) out() << fmt::format("ready on {}\n", date_text(evenings.back().date));
  }
  if (!late) return done;
  err() << fmt::format("under-crease-cli: At {:g} minutes an evening it is not ready by {}.\n", evening, o.by);
  return answer_is_no;
}

} // namespace

void add_batch(CLI::App& app, Action& action) {
  auto o = std::make_shared<BatchOptions>();
  auto* c = app.add_subcommand("batch", "How long many copies of one thing take, and on which evenings");
  c->add_option("--copies", o->copies, "How many in all, those that are made included")->required();
  c->add_option("--minutes", o->minutes, "Minutes of each copy that is made, in order: 31,27.5,26")->required();
  c->add_option("--evening", o->evening, "Minutes an evening");
  c->add_option("--by", o->by,
                "YYYY-MM-DD when all shall be ready; without --evening it says how long evenings must be");
  c->add_option("--from", o->from, "YYYY-MM-DD of the first evening (today)");
  c->add_flag("--json", o->json, "One JSON document");
  c->footer("Example: under-crease-cli batch --copies 30 --minutes 31,27.5,26 --evening 120 --from 2026-12-03");
  c->callback([&action, o] { action = [o] { return run(*o); }; });
}

} // namespace uc::cli
