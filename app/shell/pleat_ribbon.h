// The stage switcher: an accordion strip seen from above, neighbouring panels lit and shaded in turn, the current one
// lying flat and wider. Each panel shows a verb and one live fact.
#pragma once

#include <QAbstractButton>
#include <QWidget>

#include <vector>

namespace uc::app {

class PleatPanel : public QAbstractButton {
  Q_OBJECT
public:
  PleatPanel(int index, const QString& verb, QWidget* parent);
  void set_fact(const QString& fact);
  [[nodiscard]] QString fact() const { return fact_; }

protected:
  void paintEvent(QPaintEvent* event) override;
  [[nodiscard]] QSize sizeHint() const override { return {150, 58}; }

private:
  int index_;
  QString fact_;
};

class PleatRibbon : public QWidget {
  Q_OBJECT
public:
  explicit PleatRibbon(QWidget* parent = nullptr);
  void add_stage(const QString& verb);
  void set_fact(int stage, const QString& fact);
  void set_current(int stage);
  [[nodiscard]] PleatPanel* panel(int stage) const { return panels_[static_cast<std::size_t>(stage)]; }

signals:
  void chosen(int stage);

protected:
  void resizeEvent(QResizeEvent* event) override;

private:
  void place_panels();
  std::vector<PleatPanel*> panels_;
};

} // namespace uc::app
