// Pictures in shades of grey to and from PNG.
#pragma once

#include "base/result.h"
#include "device/grey_image.h"

#include <string>

namespace uc {

constexpr std::size_t largest_picture_file = std::size_t{512} << 20;

/// Colours become their lightness. The size is read before the picture is: one of more than `most_pixels` is refused.
Result<GreyImage> parse_grey_png(const std::string& bytes);
Result<std::string> grey_png(const GreyImage& image);

} // namespace uc
