#include "io/grey_png.h"

#include <cairo.h>
#include <fmt/format.h>

#include <algorithm>
#include <cstring>
#include <memory>

namespace uc {
namespace {

using GreySurface = std::unique_ptr<cairo_surface_t, decltype(&cairo_surface_destroy)>;

struct ByteReader {
  const std::string& bytes;
  std::size_t at = 0;
};

cairo_status_t next_bytes(void* from, unsigned char* to, unsigned int count) {
  auto& reader = *static_cast<ByteReader*>(from);
  if (reader.bytes.size() - reader.at < count) return CAIRO_STATUS_READ_ERROR;
  std::memcpy(to, reader.bytes.data() + reader.at, count);
  reader.at += count;
  return CAIRO_STATUS_SUCCESS;
}

cairo_status_t more_bytes(void* to, const unsigned char* bytes, unsigned int count) {
  static_cast<std::string*>(to)->append(reinterpret_cast<const char*>(bytes), count);
  return CAIRO_STATUS_SUCCESS;
}

/// The four bytes at `at`, the highest first.
std::size_t big_endian(const std::string& bytes, std::size_t at) {
  std::size_t value = 0;
  for (std::size_t i = at; i < at + 4; ++i) value = value << 8 | static_cast<unsigned char>(bytes[i]);
  return value;
}

} // namespace

Result<GreyImage> parse_grey_png(const std::string& bytes) {
  constexpr std::size_t header = 26;
  if (bytes.size() < header || bytes.compare(0, 8, "\x89PNG\r\n\x1a\n") != 0)
    return Error{"this is not a PNG picture; save the scan as PNG"};
  const std::size_t width = big_endian(bytes, 16);
  const std::size_t height = big_endian(bytes, 20);
  if (width == 0 || height == 0 || width > 32'000 || height > 32'000 || width * height > most_pixels)
    return Error{fmt::format("{} x {} pixels are too many; scan at fewer dots an inch, such as 300", width, height)};
  ByteReader reader{bytes};
  const GreySurface surface(cairo_image_surface_create_from_png_stream(next_bytes, &reader), cairo_surface_destroy);
  if (cairo_surface_status(surface.get()) != CAIRO_STATUS_SUCCESS)
    return Error{"the picture is damaged; save or scan it again"};
  const cairo_format_t format = cairo_image_surface_get_format(surface.get());
  if (format != CAIRO_FORMAT_ARGB32 && format != CAIRO_FORMAT_RGB24)
    return Error{"this kind of PNG is not read; save the scan with 8 bits a colour"};
  cairo_surface_flush(surface.get());
  GreyImage out;
  out.width = cairo_image_surface_get_width(surface.get());
  out.height = cairo_image_surface_get_height(surface.get());
  out.pixels.resize(static_cast<std::size_t>(out.width) * static_cast<std::size_t>(out.height));
  const unsigned char* data = cairo_image_surface_get_data(surface.get());
  const auto stride = static_cast<std::size_t>(cairo_image_surface_get_stride(surface.get()));
  std::uint8_t* to = out.pixels.data();
  for (int y = 0; y < out.height; ++y) {
    for (int x = 0; x < out.width; ++x) {
      std::uint32_t pixel = 0;
      std::memcpy(&pixel, data + static_cast<std::size_t>(y) * stride + 4 * static_cast<std::size_t>(x), 4);
      // What is clear counts as white paper behind it; colours are stored as they weigh.
      const std::uint32_t clear = format == CAIRO_FORMAT_ARGB32 ? 255 - (pixel >> 24) : 0;
      const std::uint32_t light =
          (299 * (pixel >> 16 & 255) + 587 * (pixel >> 8 & 255) + 114 * (pixel & 255) + 500) / 1000 + clear;
      *to++ = static_cast<std::uint8_t>(std::min<std::uint32_t>(255, light));
    }
  }
  return out;
}

Result<std::string> grey_png(const GreyImage& image) {
  const GreySurface surface(cairo_image_surface_create(CAIRO_FORMAT_RGB24, image.width, image.height),
                            cairo_surface_destroy);
  if (cairo_surface_status(surface.get()) != CAIRO_STATUS_SUCCESS) return Error{"There is no memory for this picture."};
  unsigned char* data = cairo_image_surface_get_data(surface.get());
  const auto stride = static_cast<std::size_t>(cairo_image_surface_get_stride(surface.get()));
  for (int y = 0; y < image.height; ++y) {
    for (int x = 0; x < image.width; ++x) {
      const std::uint32_t v = image.at(x, y);
      const std::uint32_t pixel = v << 16 | v << 8 | v;
      std::memcpy(data + static_cast<std::size_t>(y) * stride + 4 * static_cast<std::size_t>(x), &pixel, 4);
    }
  }
  cairo_surface_mark_dirty(surface.get());
  std::string bytes;
  if (cairo_surface_write_to_png_stream(surface.get(), more_bytes, &bytes) != CAIRO_STATUS_SUCCESS)
    return Error{"The picture could not be written."};
  return bytes;
}

} // namespace uc
