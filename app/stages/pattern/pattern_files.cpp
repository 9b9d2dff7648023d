// Pattern files: read in place of the sheet, written as they are drawn.
#include "stages/pattern/pattern_stage.h"

#include "base/atomic_file.h"
#include "base/file_name.h"
#include "io/pattern_file.h"
#include "stages/pattern/kind_dialog.h"
#include "widgets/ask_file.h"

#include <QFileDialog>
#include <QFileInfo>
#include <QPushButton>
#include <QVBoxLayout>

#include <algorithm>

namespace uc::app {
namespace {

/// The sheet a pattern is drawn on, when its edge is an upright rectangle: its raw edges then lie on the four sides of
/// its box and are as long together.
std::optional<Sheet> rectangle_of(const CreasePattern& pattern) {
  if (pattern.vertices.empty()) return std::nullopt;
  const Box box = bounding_box(pattern.vertices);
  const Point size = box.size();
  const double near = snap_tolerance(pattern);
  double length = 0;
  for (std::size_t e = 0; e < pattern.edges.size(); ++e) {
    if (pattern.edges[e].kind != EdgeKind::raw) continue;
    const Segment s = pattern.segment(CreaseId(e));
    const auto on = [&](int axis, double at) {
      return std::abs(s.from[axis] - at) < near && std::abs(s.to[axis] - at) < near;
    };
    if (!on(0, box.low.x()) && !on(0, box.high.x()) && !on(1, box.low.y()) && !on(1, box.high.y())) return std::nullopt;
    length += s.length();
  }
  if (std::abs(length - 2 * (size.x() + size.y())) > 10 * near) return std::nullopt;
  if (!checked_length(Millimetres{size.x()}, "") || !checked_length(Millimetres{size.y()}, "")) return std::nullopt;
  if (std::abs(size.x() - size.y()) < near) return Sheet::square(Millimetres{size.x()});
  return Sheet::rectangle(Millimetres{size.x()}, Millimetres{size.y()});
}

} // namespace

QString PatternStage::read_file_named(const QString& path) {
  const std::string file = bytes_of(path);
  const auto format = pattern_format(file, false);
  if (!format) return QString::fromStdString(format.error());
  const auto text = read_file(file, largest_pattern_file);
  if (!text) return QString::fromStdString(text.error());
  KindMapping mapping;
  if (*format != PatternFormat::json) {
    const auto work = parse_line_work(*text, *format);
    if (!work) return path + ", " + QString::fromStdString(work.error());
    const auto chosen = chosen_mapping(*work, choices_->window());
    if (!chosen) return {};
    mapping = *chosen;
  }
  auto pattern = parse_pattern(*text, *format, mapping);
  if (!pattern) return path + ", " + QString::fromStdString(pattern.error());
  CreasePattern read = pattern->healed.pattern;
  const auto sheet = rectangle_of(read);
  if (sheet) {
    const Point corner = bounding_box(read.vertices).low;
    for (Point& v : read.vertices) v -= corner;
  }
  const auto base = std::make_shared<const CreasePattern>(std::move(read));
  const HandClosing& closing = pattern->closing;
  const QString wrong = workspace_.document.change(tr("Read a crease pattern"), [&](Project& p) {
    p.pattern.family.reset();
    p.pattern.base = base;
    p.pattern.base_full_deg = closing.full_deg;
    p.pattern.base_goals = closing.goals;
    p.pattern.rules.clear();
    p.pattern.directions.clear(); // they were found for other creases
    if (!sheet || sheet->code() == p.sheet.code()) return;
    p.sheet = *sheet;
    p.sheet_name = sheet->code();
    p.trueness.reset();
  });
  QStringList said;
  if (!sheet) said << tr("The pattern keeps its own outline; the sheet stays as it is, for grids and references.");
  for (const std::string& s : pattern->healed.repair.sentences()) said << QString::fromStdString(s);
  if (!pattern->left_out.empty()) said << QString::fromStdString(left_out_sentence(pattern->left_out));
  if (!said.isEmpty()) workspace_.say(said.join(' '));
  return wrong;
}

QString PatternStage::write_file_named(const QString& path) {
  const std::string file = bytes_of(path);
  const auto format = pattern_format(file, true);
  if (!format) return QString::fromStdString(format.error());
  if (workspace_.document.drawing()) return tr("The pattern is still being drawn; try again in a moment.");
  const auto drawn = workspace_.document.pattern();
  const auto bytes = pattern_bytes(drawn->healed.pattern, *format, QFileInfo(path).completeBaseName().toStdString(),
                                   {(data_folder() + "/fonts").toStdString()}, {}, {drawn->full_deg, drawn->goals});
  if (!bytes) return QString::fromStdString(bytes.error());
  const auto ok = write_atomically(file, *bytes);
  return ok ? QString() : QString::fromStdString(ok.error());
}

void PatternStage::build_files() {
  choices_->add_section(tr("FILES"));
  auto* files = new QWidget;
  auto* file_row = new QHBoxLayout(files);
  file_row->setContentsMargins(0, 0, 0, 0);
  file_row->setSpacing(4);
  auto* read = new QPushButton(tr("R&ead ..."));
  read->setObjectName("read-pattern");
  connect(read, &QPushButton::clicked, this, [this] {
    const QString path = QFileDialog::getOpenFileName(choices_, tr("Read a crease pattern"), {},
                                                      filters_for(FileUse::read_pattern, true));
    if (path.isEmpty()) return;
    workspace_.ask(read_file_named(path), {}, "read"); // an earlier error goes
  });
  auto* write = new QPushButton(tr("&Write ..."));
  write->setObjectName("write-pattern");
  connect(write, &QPushButton::clicked, this, [this] {
    const QString path =
        ask_where_to_write(choices_, tr("Write the crease pattern"), {}, filters_for(FileUse::write_pattern));
    if (path.isEmpty()) return;
    workspace_.say_written(path, write_file_named(path));
  });
  file_row->addWidget(read);
  file_row->addWidget(write);
  choices_->add(files);
}

} // namespace uc::app
