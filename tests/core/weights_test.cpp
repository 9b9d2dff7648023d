// What the folder weighs: ranks, areas to keep clean, limits; on random targets, with properties that must hold.
#include "runner.h"
#include "support.h"

#include "reference/search.h"

#include <random>

using namespace uc;
using uc::testing::near;

namespace {

const Polygon& sheet() {
  static const Polygon outline = Sheet::rectangle(Millimetres{297}, Millimetres{210}).outline();
  return outline;
}
const SheetIndex& index() {
  static const SheetIndex built = [] {
    IndexLimits limits;
    limits.third = 1500;
    limits.all = 120000;
    return std::move(SheetIndex::build(sheet(), limits)).value();
  }();
  return built;
}

Target random_target(std::mt19937_64& random, int i) {
  std::uniform_real_distribution<double> u(0.04, 0.96);
  const Point p{297 * u(random), 210 * u(random)};
  const Point q{297 * u(random), 210 * u(random)};
  switch (i % 4) {
  case 0:
    return *mark_on_edge(sheet(), i / 4 % 4, u(random));
  case 1:
    return *wanted_point(sheet(), p);
  case 2:
    return *wanted_line(sheet(), p, q);
  default:
    return *wanted_angle(180 * u(random));
  }
}

std::vector<Route> found(const Target& target, const SearchOptions& options) {
  auto routes = find_routes(index(), sheet(), target, options);
  return routes ? std::move(routes).value() : std::vector<Route>{};
}

} // namespace

class WeightsTest : public QObject {
  Q_OBJECT

private slots:
  void more_creases_never_make_it_worse() {
    std::mt19937_64 random(1);
    for (int i = 0; i < 16; ++i) {
      const Target target = random_target(random, i);
      double last = 1e9;
      for (int creases = 1; creases <= 5; ++creases) {
        SearchOptions options;
        options.max_creases = creases;
        const auto routes = found(target, options);
        double least = 1e9;
        for (const Route& r : routes) {
          QVERIFY(r.creases <= creases);
          least = std::min(least, r.error_mm);
        }
        QVERIFY2(least <= last * (1 + 1e-6) + 1e-9,
                 qPrintable(QString("%1: %2 after %3").arg(creases).arg(least).arg(last)));
        last = least;
      }
    }
  }

  void something_is_always_had() {
    std::mt19937_64 random(2);
    for (int i = 0; i < 40; ++i) {
      const Target target = random_target(random, i);
      SearchOptions options;
      options.max_creases = 2;
      QVERIFY2(!found(target, options).empty(), describe(target, sheet()).c_str());
    }
  }

  void ranks_follow_the_weights() {
    std::mt19937_64 random(3);
    for (int i = 0; i < 8; ++i) {
      const Target target = random_target(random, i);
      for (const RouteWeights weights :
           {RouteWeights{}, RouteWeights{0.05, 0, 0}, RouteWeights{0, 0.001, 0}, RouteWeights{0.02, 0, 0.05}}) {
        SearchOptions options;
        options.weights = weights;
        options.top = 12;
        const auto routes = found(target, options);
        for (std::size_t k = 1; k < routes.size(); ++k) {
          const double before = rank_of(routes[k - 1], weights);
          const double after = rank_of(routes[k], weights);
          QVERIFY(before <= after + 1e-8 * (std::abs(before) + std::abs(after)));
        }
        for (const Route& r : routes) {
          double scar = 0;
          for (const CreaseNeed& need : r.needs) scar += need.span.length();
          QVERIFY(near(r.scar_mm, scar, 1e-9));
          QVERIFY(near(rank_of(r, weights),
                       std::hypot(r.error_mm, r.sigma_mm) + weights.effort_mm * r.creases + weights.scar * scar -
                           (r.exact ? weights.exact_mm : 0),
                       1e-9));
        }
      }
    }
  }

  void an_exact_route_comes_first_when_it_is_hardly_worse() {
    SearchOptions options;
    options.weights.exact_mm = 10;
    const auto routes = found(*mark_on_edge(sheet(), 0, 1.0 / 4), options);
    QVERIFY(routes.front().exact);
  }

  void the_hand_scales_what_it_adds() {
    std::mt19937_64 random(4);
    for (int i = 0; i < 6; ++i) {
      const Target target = random_target(random, 4 * i);
      SearchOptions options;
      options.top = 40;
      const auto coarse = found(target, options);
      options.sigma_mm = 0.125;
      const auto fine = found(target, options);
      int common = 0;
      for (const Route& a : coarse) {
        for (const Route& b : fine) {
          if (a.creases != b.creases || std::abs(a.error_mm - b.error_mm) > 1e-9) continue;
          if (std::abs(a.sigma_mm - 2 * b.sigma_mm) < 1e-9) ++common;
        }
      }
      QVERIFY(common > 0);
    }
  }

  void areas_are_free_of_creases_whatever_they_are() {
    std::mt19937_64 random(5);
    std::uniform_real_distribution<double> u(0, 1);
    int kept = 0;
    for (int i = 0; i < 24; ++i) {
      SearchOptions options;
      const Point low{200 * u(random), 130 * u(random)};
      options.keep_clean = {{low, low + Point{20 + 60 * u(random), 20 + 50 * u(random)}}};
      const Target target = random_target(random, i);
      const auto routes = find_routes(index(), sheet(), target, options);
      if (!routes) {
        QVERIFY(!routes.error().empty());
        continue;
      }
      ++kept;
      for (const Route& r : *routes) {
        double inside = 0;
        for (const CreaseNeed& need : r.needs) {
          inside += need.span.length();
          for (const Segment& s : outside(need.span, options.keep_clean[0])) inside -= s.length();
        }
        QVERIFY2(inside < 1e-6, qPrintable(QString::number(inside)));
      }
    }
    QVERIFY(kept > 8);
  }

  void angles_are_measured_as_the_contract_says() {
    for (const double degrees : {0.0, 12.5, 45.0, 90.0, 133.0, 179.5}) {
      SearchOptions options;
      options.max_creases = 3;
      for (const Route& r : found(*wanted_angle(degrees), options)) {
        const Point d = r.construction[r.result].line.direction();
        double turn = std::fmod(std::abs(std::atan2(d.y(), d.x()) * 180 / 3.14159265358979323846 - degrees), 180);
        turn = std::min(turn, 180 - turn);
        QVERIFY(near(r.error_mm, 297 * std::tan(turn * 3.14159265358979323846 / 180), 1e-7 + 1e-9 * r.error_mm));
      }
    }
  }
};

UC_TEST(WeightsTest)
#include "weights_test.moc"
