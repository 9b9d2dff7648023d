#include "io/pdf.h"

#include "io/cairo_page.h"

#include <cairo-pdf.h>
#include <fmt/format.h>

namespace uc {
namespace {

constexpr double points_per_mm = 72.0 / 25.4;

} // namespace

Result<std::string> pdf_of(const std::vector<Page>& pages, const std::string& title, const PageFonts& fonts) {
  std::string bytes;
  const PageFaces faces(fonts.folder);
  cairo_surface_t* surface = cairo_pdf_surface_create_for_stream(append_bytes, &bytes, 595, 842);
  cairo_pdf_surface_set_metadata(surface, CAIRO_PDF_METADATA_TITLE, title.c_str());
  cairo_pdf_surface_set_metadata(surface, CAIRO_PDF_METADATA_CREATOR, "Under Crease");
  cairo_pdf_surface_set_metadata(surface, CAIRO_PDF_METADATA_CREATE_DATE, "2026-01-01T00:00:00Z");
  cairo_t* cr = cairo_create(surface);
  for (const Page& page : pages) {
    cairo_pdf_surface_set_size(surface, page.width_mm * points_per_mm, page.height_mm * points_per_mm);
    cairo_save(cr);
    cairo_scale(cr, points_per_mm, points_per_mm);
    draw_page(cr, page, faces);
    cairo_restore(cr);
    cairo_show_page(cr);
  }
  const cairo_status_t status = cairo_status(cr);
  cairo_destroy(cr);
  cairo_surface_finish(surface);
  cairo_surface_destroy(surface);
  if (status != CAIRO_STATUS_SUCCESS) {
    return Error{fmt::format("The PDF could not be made ({}).", cairo_status_to_string(status))};
  }
  return bytes;
}

} // namespace uc
