#include "unit/paper_colours.h"

#include "base/index.h"

#include <Eigen/Core>

#include <algorithm>
#include <charconv>
#include <cmath>
#include <optional>

namespace uc {
namespace {

constexpr Sight all_sights[] = {Sight::full, Sight::protan, Sight::deutan};

/// Linear light, 0 to 1 (IEC 61966-2-1).
std::optional<Eigen::Vector3d> light_of(const std::string& css) {
  if (css.size() != 7 || css[0] != '#') return std::nullopt;
  Eigen::Vector3d out;
  for (int i = 0; i < 3; ++i) {
    const char* from = css.data() + 1 + 2 * i;
    int byte = 0;
    if (std::from_chars(from, from + 2, byte, 16).ptr != from + 2) return std::nullopt;
    const double v = byte / 255.0;
    out[i] = v <= 0.04045 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4);
  }
  return out;
}

Eigen::Vector3d as_seen(const Eigen::Vector3d& light, Sight sight) {
  Eigen::Matrix3d eyes = Eigen::Matrix3d::Identity();
  if (sight == Sight::protan) eyes << 0.11238, 0.88762, 0, 0.11238, 0.88762, 0, 0.00401, -0.00401, 1;
  if (sight == Sight::deutan) eyes << 0.29275, 0.70725, 0, 0.29275, 0.70725, 0, -0.02234, 0.02234, 1;
  return (eyes * light).cwiseMax(0);
}

Eigen::Vector3d lab_of(const Eigen::Vector3d& light) {
  Eigen::Matrix3d to_xyz;
  to_xyz << 0.4124564, 0.3575761, 0.1804375, 0.2126729, 0.7151522, 0.0721750, 0.0193339, 0.1191920, 0.9503041;
  const Eigen::Vector3d white{0.95047, 1, 1.08883};
  const Eigen::Vector3d f = (to_xyz * light).cwiseQuotient(white).unaryExpr([](double t) {
    return t > 216.0 / 24389 ? std::cbrt(t) : (24389.0 / 27 * t + 16) / 116;
  });
  return {116 * f.y() - 16, 500 * (f.x() - f.y()), 200 * (f.y() - f.z())};
}

/// For the eyes for which they are nearest.
std::pair<double, Sight> nearest(const UnitMap::Colour& a, const UnitMap::Colour& b) {
  std::pair<double, Sight> out{1e300, Sight::full};
  for (const Sight sight : all_sights) out = std::min(out, {colours_apart(a.css, b.css, sight), sight});
  return out;
}

} // namespace

double colours_apart(const std::string& css, const std::string& other, Sight sight) {
  const auto a = light_of(css);
  const auto b = light_of(other);
  if (!a || !b) return 0;
  return (lab_of(as_seen(*a, sight)) - lab_of(as_seen(*b, sight))).norm();
}

std::vector<LikePapers> look_alike(const std::vector<UnitMap::Colour>& papers) {
  std::vector<LikePapers> out;
  for (int k = 0; k < static_cast<int>(papers.size()); ++k) {
    for (int i = 0; i < k; ++i) {
      const auto [apart, sight] = nearest(papers[at(i)], papers[at(k)]);
      if (apart < told_apart) out.push_back({i, k, sight, apart});
    }
  }
  std::stable_sort(out.begin(), out.end(), [](const auto& a, const auto& b) { return a.apart < b.apart; });
  return out;
}

std::vector<UnitMap::Colour> told_apart_best(const std::vector<UnitMap::Colour>& papers, int wanted) {
  std::vector<UnitMap::Colour> left = papers;
  std::vector<UnitMap::Colour> out;
  while (!left.empty() && static_cast<int>(out.size()) < wanted) {
    const auto room = [&](const UnitMap::Colour& c) {
      double least = 1e300;
      for (const UnitMap::Colour& taken : out) least = std::min(least, nearest(c, taken).first);
      return least;
    };
    const auto best =
        std::max_element(left.begin(), left.end(), [&](const auto& a, const auto& b) { return room(a) < room(b); });
    out.push_back(*best);
    left.erase(best);
  }
  return out;
}

} // namespace uc
