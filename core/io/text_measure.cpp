#include "io/text_measure.h"

#include <fontconfig/fontconfig.h>
#include <pango/pangocairo.h>
#include <pango/pangofc-fontmap.h>

#include <cmath>

namespace uc {
namespace {

// Sizes are set in units so fine that hinting to whole pixels does not count.
constexpr double pixels_per_mm = 64;

int pango_units(double mm) { return static_cast<int>(std::lround(mm * pixels_per_mm * PANGO_SCALE)); }

} // namespace

struct TextMeasure::Fonts {
  struct Unref {
    void operator()(void* object) const { g_object_unref(object); }
  };
  template <typename T> using Owned = std::unique_ptr<T, Unref>;
  // Order matters: the map goes before the configuration it reads.
  struct Destroy {
    void operator()(FcConfig* config) const { FcConfigDestroy(config); }
  };
  std::unique_ptr<FcConfig, Destroy> config;
  Owned<PangoFontMap> map;
  Owned<PangoContext> context;

  [[nodiscard]] Owned<PangoLayout> layout(const std::string& words, double size_mm, bool bold) const {
    Owned<PangoLayout> layout(pango_layout_new(context.get()));
    PangoFontDescription* font = pango_font_description_new();
    pango_font_description_set_family(font, "Inter, sans-serif");
    pango_font_description_set_weight(font, bold ? PANGO_WEIGHT_SEMIBOLD : PANGO_WEIGHT_NORMAL);
    pango_font_description_set_absolute_size(font, pango_units(size_mm));
    pango_layout_set_font_description(layout.get(), font);
    pango_font_description_free(font);
    pango_layout_set_text(layout.get(), words.c_str(), static_cast<int>(words.size()));
    return layout;
  }
};

TextMeasure::TextMeasure(const PageFonts& fonts) : fonts_(std::make_unique<Fonts>()) {
  fonts_->config.reset(FcInitLoadConfigAndFonts());
  if (!fonts.folder.empty())
    FcConfigAppFontAddDir(fonts_->config.get(), reinterpret_cast<const FcChar8*>(fonts.folder.c_str()));
  fonts_->map.reset(pango_cairo_font_map_new_for_font_type(CAIRO_FONT_TYPE_FT));
  pango_fc_font_map_set_config(PANGO_FC_FONT_MAP(fonts_->map.get()), fonts_->config.get());
  fonts_->context.reset(pango_font_map_create_context(fonts_->map.get()));
}

TextMeasure::~TextMeasure() = default;

double TextMeasure::width_mm(const std::string& words, double size_mm, bool bold) const {
  int width = 0;
  pango_layout_get_size(fonts_->layout(words, size_mm, bold).get(), &width, nullptr);
  return width / (pixels_per_mm * PANGO_SCALE);
}

std::vector<std::string> TextMeasure::wrapped(const std::string& words, double width_mm, double size_mm) const {
  const auto layout = fonts_->layout(words, size_mm, false);
  pango_layout_set_width(layout.get(), pango_units(width_mm));
  pango_layout_set_wrap(layout.get(), PANGO_WRAP_WORD_CHAR);
  const std::string text = pango_layout_get_text(layout.get()); // what was no UTF-8 is replaced in it
  std::vector<std::string> lines;
  for (GSList* at = pango_layout_get_lines_readonly(layout.get()); at; at = at->next) {
    const auto* line = static_cast<const PangoLayoutLine*>(at->data);
    std::string part = text.substr(static_cast<std::size_t>(line->start_index), static_cast<std::size_t>(line->length));
    while (!part.empty() && part.back() == ' ') part.pop_back();
    lines.push_back(std::move(part));
  }
  if (lines.size() == 1 && lines.front().empty()) lines.clear();
  return lines;
}

} // namespace uc
