// A picture in shades of grey, as a scanner or camera gives it: rows from the top, 0 black to 255 white.
#pragma once

#include "geometry/plane.h"

#include <cmath>
#include <cstddef>
#include <cstdint>
#include <vector>

namespace uc {

struct GreyImage {
  int width = 0;
  int height = 0;
  std::vector<std::uint8_t> pixels;

  [[nodiscard]] std::uint8_t at(int x, int y) const {
    return pixels[static_cast<std::size_t>(y) * static_cast<std::size_t>(width) + static_cast<std::size_t>(x)];
  }
  /// Between the middles of four pixels; NaN outside the picture. Pixel (0, 0) has its middle at (0.5, 0.5).
  [[nodiscard]] float sample(double x, double y) const {
    const double u = x - 0.5;
    const double v = y - 0.5;
    if (!(u >= 0 && v >= 0 && u < width - 1 && v < height - 1)) return NAN;
    const int i = static_cast<int>(u);
    const int j = static_cast<int>(v);
    const auto a = static_cast<float>(u - i);
    const auto b = static_cast<float>(v - j);
    const std::uint8_t* p = pixels.data() + static_cast<std::size_t>(j) * static_cast<std::size_t>(width) + i;
    return (1 - b) * ((1 - a) * p[0] + a * p[1]) + b * ((1 - a) * p[width] + a * p[width + 1]);
  }
};

/// Pictures of more pixels are not read.
constexpr std::size_t most_pixels = 100'000'000;

} // namespace uc
