// A page of a PDF as dots, to measure what was printed.
#pragma once

#include <QProcess>
#include <QTemporaryDir>

#include <algorithm>
#include <fstream>
#include <string>

namespace uc::testing {

constexpr int dots_per_mm = 10;

struct Raster {
  int width = 0;
  int height = 0;
  std::string grey; // one byte a dot, from the top left

  [[nodiscard]] bool dark(int x, int y) const {
    return static_cast<unsigned char>(
               grey[static_cast<std::size_t>(y) * static_cast<std::size_t>(width) + static_cast<std::size_t>(x)]) < 128;
  }
  /// Dots of the longest level dark line between two rows.
  [[nodiscard]] int longest_level_line(int top, int bottom) const {
    int longest = 0;
    for (int y = std::max(0, top); y < std::min(height, bottom); ++y) {
      for (int x = 0, run = 0; x < width; ++x) {
        run = dark(x, y) ? run + 1 : 0;
        longest = std::max(longest, run);
      }
    }
    return longest;
  }
};

/// The first page.
inline Raster raster_of(const std::string& pdf) {
  const QTemporaryDir dir;
  {
    std::ofstream out(dir.filePath("p.pdf").toStdString(), std::ios::binary);
    out << pdf;
  }
  QProcess tool;
  tool.start("pdftoppm", {"-r", "254", "-gray", "-singlefile", dir.filePath("p.pdf"), dir.filePath("p")});
  tool.waitForFinished(30000);
  Raster r;
  std::ifstream in(dir.filePath("p.pgm").toStdString(), std::ios::binary);
  std::string magic;
  int white = 0;
  in >> magic >> r.width >> r.height >> white;
  in.get();
  r.grey.resize(static_cast<std::size_t>(r.width) * static_cast<std::size_t>(r.height));
  in.read(r.grey.data(), static_cast<std::streamsize>(r.grey.size()));
  return r;
}

} // namespace uc::testing
