// What stands in space is saved in two kinds of files, models and stills: asking where, and writing either.
#pragma once

#include "io/solid_files.h"
#include "widgets/spatial_bench.h"

namespace uc::app {

/// Asks where to write a model or a still; empty when the folder thinks better of it.
QString ask_where_to_save_space(QWidget* parent, const QString& title);

/// Writes a still of the bench or the model, by the ending of the name; the sentence says what is wrong.
QString save_space(const QString& path, SpatialBench& bench, const std::function<SpatialModel()>& model);
/// Writes a picture.
QString save_picture(const QString& path, const QImage& picture);

} // namespace uc::app
