// Sheet: what is folded. Size and shape, the stock it is made of, and how true it really is.
#pragma once

#include "stages/stage.h"
#include "widgets/paper_view.h"

class QLineEdit;
class QComboBox;
class QCheckBox;

namespace uc::app {

class SheetStage : public Stage {
  Q_OBJECT
public:
  explicit SheetStage(Workspace& workspace, QObject* parent = nullptr);
  static QString key_of() { return "sheet"; }
  static QString verb_of() { return tr("Sheet"); }
  [[nodiscard]] QString key() const override { return key_of(); }
  [[nodiscard]] QString verb() const override { return verb_of(); }
  [[nodiscard]] QString fact() const override;
  [[nodiscard]] QWidget* choices() override { return choices_; }
  [[nodiscard]] QWidget* centre() override { return paper_; }
  [[nodiscard]] PaperView* paper() const { return paper_; }
  [[nodiscard]] std::vector<BenchView*> views() const override { return {paper_}; }
  void write_ledger(Ledger& ledger) override;
  [[nodiscard]] QList<QPair<QString, QString>> keys() const override;

private:
  void build();
  void build_stock();
  void build_trueness();
  void sheet_typed();
  void trueness_typed();
  void load();
  void fill_stocks();
  void write_trueness(Ledger& ledger, const Project& project);

  ChoicesColumn* choices_;
  PaperView* paper_;
  QLineEdit* title_;
  QLineEdit* size_;
  Field* size_field_;
  QComboBox* known_;
  QComboBox* unit_;
  QComboBox* stock_;
  QCheckBox* measured_;
  QWidget* measures_;
  std::array<QLineEdit*, 6> measure_{};
  Field* measure_field_;
};

} // namespace uc::app
