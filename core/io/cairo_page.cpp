#include "io/cairo_page.h"

#include <cairo-ft.h>

#include <filesystem>
#include <memory>

namespace uc {
namespace {

struct Colour {
  double r = 0, g = 0, b = 0;
};
Colour colour_of(const std::string& hex) {
  if (hex.size() != 7) return {};
  const auto channel = [&](std::size_t at) { return std::stoi(hex.substr(at, 2), nullptr, 16) / 255.0; };
  return {channel(1), channel(3), channel(5)};
}

/// A face of FreeType and the library it needs. Cairo keeps faces in its caches after they are let go of, so each is
/// owned by the Cairo face made of it and ends with that.
struct OwnedFace {
  std::shared_ptr<FT_LibraryRec_> library;
  FT_Face face = nullptr;
  static void end(void* data) {
    auto* owned = static_cast<OwnedFace*>(data);
    FT_Done_Face(owned->face);
    delete owned;
  }
};

cairo_font_face_t* face_of_file(const std::shared_ptr<FT_LibraryRec_>& library, const std::string& path) {
  static const cairo_user_data_key_t key{};
  FT_Face face = nullptr;
  if (FT_New_Face(library.get(), path.c_str(), 0, &face) != 0) return nullptr;
  cairo_font_face_t* made = cairo_ft_font_face_create_for_ft_face(face, 0);
  auto owned = std::make_unique<OwnedFace>(OwnedFace{library, face});
  if (cairo_font_face_set_user_data(made, &key, owned.get(), OwnedFace::end) == CAIRO_STATUS_SUCCESS) {
    owned.release(); // NOLINT(bugprone-unused-return-value): Cairo has it now
    return made;
  }
  cairo_font_face_destroy(made);
  FT_Done_Face(face);
  return nullptr;
}

void draw(cairo_t* cr, const PagePath& path) {
  if (path.points.empty()) return;
  cairo_new_path(cr);
  cairo_move_to(cr, path.points[0].x(), path.points[0].y());
  if (path.curve && path.points.size() == 3) {
    const Point c1 = path.points[0] + 2.0 / 3 * (path.points[1] - path.points[0]);
    const Point c2 = path.points[2] + 2.0 / 3 * (path.points[1] - path.points[2]);
    cairo_curve_to(cr, c1.x(), c1.y(), c2.x(), c2.y(), path.points[2].x(), path.points[2].y());
  } else {
    for (const Point& p : path.points) cairo_line_to(cr, p.x(), p.y());
  }
  if (path.closed) cairo_close_path(cr);
  if (!path.fill.empty()) {
    const Colour c = colour_of(path.fill);
    cairo_set_source_rgba(cr, c.r, c.g, c.b, path.opacity);
    cairo_fill_preserve(cr);
  }
  if (!path.stroke.empty()) {
    const Colour c = colour_of(path.stroke);
    cairo_set_source_rgba(cr, c.r, c.g, c.b, path.opacity);
    cairo_set_line_width(cr, path.width_mm);
    cairo_set_dash(cr, path.dash_mm.data(), static_cast<int>(path.dash_mm.size()), 0);
    cairo_stroke_preserve(cr);
  }
  cairo_new_path(cr);
}

void draw(cairo_t* cr, const PageText& text, const PageFaces& faces) {
  faces.select(cr, text.bold, text.mono);
  cairo_set_font_size(cr, text.size_mm);
  const Colour c = colour_of(text.colour);
  cairo_set_source_rgb(cr, c.r, c.g, c.b);
  double x = text.at.x();
  if (text.align != Align::left) {
    cairo_text_extents_t extents;
    cairo_text_extents(cr, text.text.c_str(), &extents);
    x -= extents.x_advance * (text.align == Align::centre ? 0.5 : 1);
  }
  cairo_move_to(cr, x, text.at.y());
  cairo_show_text(cr, text.text.c_str());
}

} // namespace

PageFaces::PageFaces(const std::string& folder) {
  static constexpr std::array files = {"Inter-Regular.otf", "Inter-SemiBold.otf", "JetBrainsMono-Regular.ttf"};
  FT_Library opened = nullptr;
  if (FT_Init_FreeType(&opened) != 0) return;
  const std::shared_ptr<FT_LibraryRec_> library(opened, FT_Done_FreeType);
  for (std::size_t i = 0; i < files.size(); ++i)
    cairo_[i] = face_of_file(library, (std::filesystem::path(folder) / files[i]).string());
}

PageFaces::~PageFaces() {
  for (auto* face : cairo_) {
    if (face) cairo_font_face_destroy(face);
  }
}

void PageFaces::select(cairo_t* cr, bool bold, bool mono) const {
  const std::size_t i = mono ? 2 : bold ? 1 : 0;
  if (cairo_[i])
    cairo_set_font_face(cr, cairo_[i]);
  else
    cairo_select_font_face(cr, mono ? "monospace" : "sans-serif", CAIRO_FONT_SLANT_NORMAL,
                           bold ? CAIRO_FONT_WEIGHT_BOLD : CAIRO_FONT_WEIGHT_NORMAL);
}

void draw_page(cairo_t* cr, const Page& page, const PageFaces& faces) {
  for (const auto& item : page.items) {
    if (const auto* path = std::get_if<PagePath>(&item)) draw(cr, *path);
    if (const auto* text = std::get_if<PageText>(&item)) draw(cr, *text, faces);
  }
}

cairo_status_t append_bytes(void* closure, const unsigned char* data, unsigned int length) {
  static_cast<std::string*>(closure)->append(reinterpret_cast<const char*>(data), length);
  return CAIRO_STATUS_SUCCESS;
}

} // namespace uc
