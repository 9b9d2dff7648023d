#include "widgets/page_view.h"

#include "base/page_painter.h"
#include "base/theme.h"

#include <QPainter>

#include <algorithm>

namespace uc::app {
namespace {

constexpr QSizeF page_rims(32, 32);
const QColor page_paper("#FCFAF5"); // pages have dark ink in both themes

} // namespace

PageView::PageView(QWidget* parent) : BenchView(parent) { setMinimumSize(160, 160); }

void PageView::show_page(std::optional<Page> page, const QString& otherwise) {
  const bool other_size = !page || !page_ || page->width_mm != page_->width_mm || page->height_mm != page_->height_mm;
  page_ = std::move(page);
  otherwise_ = otherwise;
  QStringList words;
  if (page_)
    for (const auto& item : page_->items)
      if (const auto* text = std::get_if<PageText>(&item)) words << QString::fromStdString(text->text);
  setAccessibleDescription(page_ ? words.join(' ') : otherwise_);
  if (other_size) {
    take_room();
    zoom_fit();
  }
  update();
}

QTransform PageView::transform() const {
  if (!page_) return {};
  const Point size{page_->width_mm, page_->height_mm};
  return fitted(size / 2, size, page_rims, false);
}

void PageView::take_room() {
  const double scale = page_ ? (width() - page_rims.width()) / page_->width_mm : 0;
  setMinimumHeight(std::max(160, static_cast<int>(page_ ? scale * page_->height_mm + page_rims.height() : 0)));
}

void PageView::resizeEvent(QResizeEvent* event) {
  BenchView::resizeEvent(event);
  take_room();
}

void PageView::paintEvent(QPaintEvent* /*event*/) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  if (!page_) {
    p.setPen(palette().color(QPalette::PlaceholderText));
    p.drawText(rect(), Qt::AlignCenter | Qt::TextWordWrap, otherwise_);
    return;
  }
  p.save();
  // Pages count downwards from their top.
  p.setTransform(QTransform(1, 0, 0, -1, 0, page_->height_mm) * transform(), true);
  p.fillRect(QRectF(0, 0, page_->width_mm, page_->height_mm), page_paper);
  paint_page(p, *page_);
  p.restore();
  draw_focus_ring(p);
}

} // namespace uc::app
