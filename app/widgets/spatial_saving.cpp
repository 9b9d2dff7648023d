#include "widgets/spatial_saving.h"

#include "base/atomic_file.h"
#include "widgets/ask_file.h"

#include <QBuffer>

namespace uc::app {
namespace {

constexpr QSize still_size(2400, 2400);

QString written(const QString& path, const std::string& bytes) {
  const auto done = write_atomically(path.toStdString(), bytes);
  return done ? QString() : QString::fromStdString(done.error());
}

} // namespace

QString ask_where_to_save_space(QWidget* parent, const QString& title) {
  return ask_where_to_write(parent, title, {},
                            filters_for(FileUse::write_space) + ";;" + filters_for(FileUse::write_still));
}

QString save_picture(const QString& path, const QImage& picture) {
  QByteArray data;
  QBuffer buffer(&data);
  buffer.open(QIODevice::WriteOnly);
  if (!picture.save(&buffer, "PNG")) return QObject::tr("The picture could not be made.");
  return written(path, data.toStdString());
}

QString save_space(const QString& path, SpatialBench& bench, const std::function<SpatialModel()>& model) {
  if (format_for(FileUse::write_still, path.toStdString())) return save_picture(path, bench.still(still_size));
  const auto bytes = solid_file(path.toStdString(), model());
  return bytes ? written(path, *bytes) : QString::fromStdString(bytes.error());
}

} // namespace uc::app
