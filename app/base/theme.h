// The face of the application: colours of both themes, fonts, and the style sheet made from them.
#pragma once

#include "programme/figure.h"

#include <QColor>
#include <QFont>
#include <QPen>
#include <QString>

namespace uc::app {

enum class ThemeChoice { desktop, light, dark };

struct Theme {
  bool dark = false;
  QColor bench, panel, panel_edge, ink, soft_ink, field, accent;
  QColor mountain, valley, pinch, undirected, unfolded, caution, good;
};

/// Loads the bundled fonts once; returns the folder they were found in.
QString load_fonts();
QString data_folder();

Theme make_theme(ThemeChoice choice);
void apply_theme(const Theme& theme);
/// The theme last applied; drawing code asks for it in paint events.
const Theme& current_theme();

QFont text_font(double points, int weight = QFont::Normal);
QFont mono_font(double points);
QPen pen_for(LineStyle style, double scale = 1);

/// Expected error to colour: pine up to s, ochre at 2 s, caution from 4 s.
QColor error_colour(double sigma_mm, double hand_sigma_mm, const Theme& theme);

} // namespace uc::app
