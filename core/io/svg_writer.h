// SVG documents as trees, written by pugixml. One user unit is one mm; lines carry the kind of crease as their class,
// and the styles of the classes come from the table of line looks.
#pragma once

#include "geometry/polygon.h"

#include <pugixml.hpp>

#include <string>

namespace uc {

class SvgWriter {
public:
  /// The view box begins at `low`; y runs down.
  SvgWriter(const Point& low, const Point& size_mm);

  void title(const std::string& words);
  /// Rules for the classes raw, mountain, valley, undirected, unfolded and cut.
  void line_styles();
  pugi::xml_node root() { return svg_; }
  pugi::xml_node add(const char* element) { return svg_.append_child(element); }
  /// `digits` after the point, or as many as it takes to read the very same numbers again.
  pugi::xml_node line(const Point& from, const Point& to, const char* kind, int digits = -1);

  /// A file of its own, or an element for another document.
  [[nodiscard]] std::string document() const;
  [[nodiscard]] std::string element() const;

private:
  pugi::xml_document doc_;
  pugi::xml_node svg_;
};

/// Sets an attribute; of texts, what is not for a reader's eyes is taken out.
void set(pugi::xml_node node, const char* attribute, const std::string& value);
void set(pugi::xml_node node, const char* attribute, double value, int digits = -1);
std::string xml_escaped(const std::string& text);

} // namespace uc
