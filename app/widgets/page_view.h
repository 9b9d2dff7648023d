// A page of the core on the bench: to look at, zoom and copy. It is as wide as its room, and scrolled where it is
// longer.
#pragma once

#include "io/page.h"
#include "widgets/bench_view.h"

#include <optional>

namespace uc::app {

class PageView : public BenchView {
  Q_OBJECT
public:
  explicit PageView(QWidget* parent = nullptr);
  /// `otherwise` is said where there is none.
  void show_page(std::optional<Page> page, const QString& otherwise = {});
  [[nodiscard]] const std::optional<Page>& page() const { return page_; }

protected:
  [[nodiscard]] QTransform transform() const override;
  void paintEvent(QPaintEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;

private:
  void take_room();
  std::optional<Page> page_;
  QString otherwise_;
};

} // namespace uc::app
