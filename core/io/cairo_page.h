// Pages drawn with Cairo, whatever they end on: a PDF, or a picture.
#pragma once

#include "io/page.h"

#include <cairo.h>

#include <array>
#include <string>

namespace uc {

/// The bundled faces, from their folder; where they are not there, those of the system.
class PageFaces {
public:
  explicit PageFaces(const std::string& folder);
  ~PageFaces();
  PageFaces(const PageFaces&) = delete;
  PageFaces& operator=(const PageFaces&) = delete;
  void select(cairo_t* cr, bool bold, bool mono) const;

private:
  std::array<cairo_font_face_t*, 3> cairo_{};
};

/// In mm, as `cr` is scaled.
void draw_page(cairo_t* cr, const Page& page, const PageFaces& faces);

/// For the streams of Cairo: the closure is a std::string.
cairo_status_t append_bytes(void* closure, const unsigned char* data, unsigned int length);

} // namespace uc
