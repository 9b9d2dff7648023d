#include "stages/pattern/family_gallery.h"

#include "collapse/closing.h"
#include "collapse/held_flat.h"
#include "paper/sheet.h"
#include "paper/stock.h"
#include "pattern/family.h"
#include "pattern/folded_view.h"
#include "pattern/pattern_figure.h"
#include "programme/line_look.h"
#include "widgets/dialog_size.h"
#include "widgets/folded_scene.h"

#include <QDialogButtonBox>
#include <QListWidget>
#include <QPainter>
#include <QPushButton>
#include <QVBoxLayout>

#include <algorithm>

namespace uc::app {
namespace {

constexpr int picture_width = 236;
constexpr int picture_height = 116;

/// Few cells, so that a small drawing shows them.
ParameterValues sample_values(const PatternFamily& family) {
  ParameterValues values = normal_choice(family).values;
  for (const auto& [name, most] :
       {std::pair{"count", 12.0}, {"columns", 6.0}, {"rows", 6.0}, {"across", 3.0}, {"edges", 4.0}}) {
    const Parameter* p = family.parameter(name);
    if (p && p->type != ParameterType::mm) values[name] = std::clamp(most, p->least, p->normal);
  }
  if (family.name == "relief") values["radius"] = 5, values["outlines"] = 1;
  if (family.name == "square-wrap") values["rows"] = 1, values["hub"] = 2;
  return values;
}

/// Fits a box of the core, y up, into a rectangle of the picture.
QTransform fitted(const Box& box, const QRectF& room) {
  const Point size = box.size().cwiseMax(1e-9);
  const double scale = std::min(room.width() / size.x(), room.height() / size.y());
  QTransform t;
  t.translate(room.center().x(), room.center().y());
  t.scale(scale, -scale);
  t.translate(-box.centre().x(), -box.centre().y());
  return t;
}

QPolygonF mapped(const Polygon& outline, const QTransform& t) {
  QPolygonF out;
  for (const Point& p : outline) out << t.map(QPointF(p.x(), p.y()));
  return out;
}

void draw_pattern(QPainter& p, const CreasePattern& pattern, const QRectF& room) {
  const Figure figure = pattern_figure(pattern);
  const QTransform t = fitted(bounding_box(pattern.vertices), room);
  p.setPen(Qt::NoPen);
  p.setBrush(QColor(QString::fromStdString(Stock{}.underside)));
  if (!figure.outline.empty()) p.drawPolygon(mapped(figure.outline, t));
  for (const FigureLine& line : figure.lines) {
    p.setPen(QPen(QColor(look_of(line.style).colour), 0.6 * look_of(line.style).width)); // too small for dashes
    p.drawLine(t.map(QPointF(line.segment.from.x(), line.segment.from.y())),
               t.map(QPointF(line.segment.to.x(), line.segment.to.y())));
  }
}

void draw_folded(QPainter& p, const PatternProof& proof, const QRectF& room) {
  const FoldedView view = folded_view(proof, false);
  const QTransform t = fitted(view.box, room);
  p.setPen(Qt::NoPen);
  for (const FoldedPatch& patch : view.patches) {
    p.setBrush(QColor(QString::fromStdString(patch.coloured ? Stock{}.face : Stock{}.underside)));
    p.drawPolygon(mapped(patch.outline, t));
  }
  p.setPen(QPen(QColor(paper_ink), 0.7));
  for (const FoldedEdge& e : view.edges)
    p.drawLine(t.map(QPointF(e.segment.from.x(), e.segment.from.y())),
               t.map(QPointF(e.segment.to.x(), e.segment.to.y())));
}

/// What never closes is shown half-way.
double part_shown(const PatternFamily& family) {
  return family.name == "relief" || family.name == "concentric-pleats" ? 0.5 : 1;
}

/// As it stands on the table, seen from above and from one side.
void draw_closed(QPainter& p, const DrawnPattern& drawn, double part, const QRectF& room, const Progress& progress) {
  const auto mesh = fold_mesh(drawn.healed, drawn.full_deg, drawn.goals);
  if (!mesh) return;
  Closing closing(*mesh, {family_stages(*mesh), {}, false, false});
  if (!closing.go_to(part, &progress)) return;
  std::vector<Eigen::Vector3d> vertices = closing.state().vertices;
  lay_on_table(*mesh, drawn.held, vertices);
  SpatialScene scene = scene_of(*mesh, vertices, QColor(QString::fromStdString(Stock{}.face)),
                                QColor(QString::fromStdString(Stock{}.underside)));
  for (const PatternEdge& e : drawn.healed.pattern.edges)
    if (e.kind != EdgeKind::unfolded) scene.lines.push_back({e.from, e.to, QColor(paper_ink)});
  QMatrix4x4 spun;
  spun.rotate(-50, 1, 0, 0);
  spun.rotate(-25, 0, 0, 1);
  std::vector<Point> seen;
  for (const QVector3D& v : scene.vertices) {
    const QVector3D s = spun.map(v);
    seen.emplace_back(s.x(), s.y());
  }
  const QTransform flat = fitted(bounding_box(seen), room);
  SpatialView view;
  view.eye = spun.inverted().mapVector(QVector3D(0, 0, 1)).normalized();
  view.to_device =
      QMatrix4x4(static_cast<float>(flat.m11()), 0, 0, static_cast<float>(flat.dx()), 0, static_cast<float>(flat.m22()),
                 0, static_cast<float>(flat.dy()), 0, 0, 1, 0, 0, 0, 0, 1) *
      spun;
  Lamp lamp;
  lamp.ambient = 0.6; // so small, it has to be bright
  paint_scene(p, scene, view, lamp);
}

/// `closed` with what a family that stands in space closes to; that takes longer, so it comes later.
QImage picture_of(const PatternFamily& family, bool closed, double ratio, Progress& progress) {
  QImage image(QSize(picture_width, picture_height) * ratio, QImage::Format_ARGB32_Premultiplied);
  image.setDevicePixelRatio(ratio);
  image.fill(Qt::transparent);
  QPainter p(&image);
  p.setRenderHint(QPainter::Antialiasing);
  const DrawnPattern drawn = drawn_pattern(family_design(family.name, sample_values(family)), Sheet().outline());
  const CreasePattern& pattern = drawn.healed.pattern;
  const QRectF half(4, 4, picture_width / 2.0 - 10, picture_height - 8);
  if (family.group == FamilyGroup::grid) {
    draw_pattern(p, pattern, QRectF(4, 4, picture_width - 8, picture_height - 8));
    return image;
  }
  draw_pattern(p, pattern, half);
  const QRectF beside = half.translated(picture_width / 2.0 + 2, 0);
  if (!family.flat_foldable) {
    if (closed) draw_closed(p, drawn, part_shown(family), beside, progress);
    return image;
  }
  ProofOptions options;
  options.seconds = 2;
  options.progress = &progress;
  const auto proof = proved(drawn.healed, options);
  if (proof && proof->folds_flat()) draw_folded(p, *proof, beside);
  return image;
}

QIcon empty_picture(double ratio) {
  QPixmap blank(QSize(picture_width, picture_height) * ratio);
  blank.setDevicePixelRatio(ratio);
  blank.fill(Qt::transparent);
  return blank;
}

} // namespace

FamilyGallery::FamilyGallery(const QString& chosen, QWidget* parent)
    : QDialog(parent), list_(new QListWidget), drawing_([this](Picture made) {
        if (auto* item = list_->item(made.family); item && !made.image.isNull())
          item->setIcon(QPixmap::fromImage(made.image));
        draw_next();
      }) {
  setWindowTitle(tr("Families of patterns"));
  open_at_most(*this, {1080, 640});
  list_->setObjectName("families");
  list_->setAccessibleName(tr("Families of patterns"));
  list_->setViewMode(QListView::IconMode);
  list_->setIconSize({picture_width, picture_height});
  list_->setGridSize({picture_width + 20, picture_height + 52});
  list_->setResizeMode(QListView::Adjust);
  list_->setMovement(QListView::Static);
  list_->setWordWrap(true);
  for (const PatternFamily& f : pattern_families()) {
    auto* item = new QListWidgetItem(
        empty_picture(devicePixelRatioF()),
        tr("%1\n%2%3")
            .arg(tr(f.title.c_str()), tr(name_of(f.group).c_str()), f.flat_foldable ? tr(", folds flat") : QString()));
    item->setData(Qt::UserRole, QString::fromStdString(f.name));
    list_->addItem(item);
    if (chosen == QString::fromStdString(f.name)) list_->setCurrentItem(item);
  }
  if (list_->currentRow() < 0) list_->setCurrentRow(0);
  auto* buttons = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel);
  buttons->button(QDialogButtonBox::Ok)->setText(tr("&Draw this family"));
  for (QAbstractButton* b : buttons->buttons()) b->setIcon({});
  connect(buttons, &QDialogButtonBox::accepted, this, &QDialog::accept);
  connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
  connect(list_, &QListWidget::itemActivated, this, &QDialog::accept);
  auto* box = new QVBoxLayout(this);
  box->addWidget(list_);
  box->addWidget(buttons);
  draw_next();
}

QString FamilyGallery::chosen() const { return list_->currentItem()->data(Qt::UserRole).toString(); }

bool FamilyGallery::complete() const { return next_ > 2 * list_->count(); }

void FamilyGallery::draw_next() {
  const int count = list_->count();
  const auto in_space = [&](int i) {
    const PatternFamily& f = pattern_families()[static_cast<std::size_t>(i)];
    return !f.flat_foldable && f.group != FamilyGroup::grid;
  };
  int next = next_++;
  while (next >= count && next < 2 * count && !in_space(next - count)) next = next_++; // the second time round
  if (next >= 2 * count) return;
  drawing_.begin([family = next % count, closed = next >= count, ratio = devicePixelRatioF()](Progress& progress) {
    return Picture{family, picture_of(pattern_families()[static_cast<std::size_t>(family)], closed, ratio, progress)};
  });
}

} // namespace uc::app
