#include "stages/units/own_unit_dialog.h"

#include "base/expression.h"
#include "widgets/dialog_size.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDialogButtonBox>
#include <QFormLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QRegularExpression>
#include <QSpinBox>
#include <QVBoxLayout>

namespace uc::app {
namespace {

QString shown_number(double v) { return QString::fromStdString(format_number(v, 4)); }

QString shown_list(const std::vector<int>& all) {
  QStringList words;
  for (const int n : all) words << QString::number(n);
  return words.join(", ");
}

/// Whole numbers with commas between them; none for all.
Result<std::vector<int>> listed(const QString& text, const QString& what) {
  std::vector<int> out;
  for (const QString& word : text.split(QRegularExpression("[ ,]+"), Qt::SkipEmptyParts)) {
    bool ok = false;
    out.push_back(word.toInt(&ok));
    if (!ok)
      return Error{QObject::tr("%1: \"%2\" is not a whole number; type 3, 5, or nothing for all.")
                       .arg(what, word)
                       .toStdString()};
  }
  return out;
}

Result<double> number_in(const QLineEdit* line, const QString& what) {
  const auto number = parse_number(line->text().trimmed().toStdString());
  if (!number) return Error{QObject::tr("%1: \"%2\" is not a number.").arg(what, line->text()).toStdString()};
  return *number;
}

} // namespace

OwnUnitDialog::OwnUnitDialog(const OwnFamily& family, QWidget* parent) : QDialog(parent) {
  setWindowTitle(tr("A unit of your own"));
  setObjectName("own-unit");
  name_ = line("own-name", QString::fromStdString(family.name));
  name_->setPlaceholderText("my-edge-unit");
  title_ = line("own-title", QString::fromStdString(family.title));
  stands_for_ = new QComboBox;
  stands_for_->setObjectName("own-stands-for");
  stands_for_->addItems({tr("an edge of the solid"), tr("a face"), tr("a corner, one each"), tr("a corner of a box")});
  stands_for_->setCurrentIndex(static_cast<int>(family.stands_for));
  ratio_ = line("own-ratio", shown_number(family.ratio));
  edge_ = line("own-edge", shown_number(family.edge_share));
  faces_ = line("own-faces", shown_list(family.faces));
  faces_->setPlaceholderText(tr("all"));
  corners_ = line("own-corners", shown_list(family.valences));
  corners_->setPlaceholderText(tr("all"));
  angles_ = line("own-angles",
                 tr("%1 to %2").arg(shown_number(family.least_dihedral_deg), shown_number(family.most_dihedral_deg)));
  folds_ = new QSpinBox;
  folds_->setObjectName("own-folds");
  folds_->setRange(1, 200);
  folds_->setValue(family.folds);
  layers_ = new QSpinBox;
  layers_->setObjectName("own-layers");
  layers_->setRange(1, 40);
  layers_->setValue(family.joint_layers);
  thickest_ = line("own-thickest", shown_number(family.thickest_mm));
  least_edge_ = line("own-least-edge", shown_number(family.least_edge_mm));
  handed_ = new QCheckBox(tr("&Left and right pieces do not join"));
  handed_->setChecked(family.handed);
  glued_ = new QCheckBox(tr("&Glue holds it; else the paper's own lock"));
  glued_->setChecked(family.glued);
  how_ = new QPlainTextEdit;
  how_->setObjectName("own-how");
  how_->setMaximumHeight(96);
  how_->setTabChangesFocus(true);
  QStringList steps;
  for (const std::string& step : family.how) steps << QString::fromStdString(step);
  how_->setPlainText(steps.join('\n'));
  wrong_ = new QLabel;
  wrong_->setObjectName("own-wrong");
  wrong_->setProperty("role", "error");
  wrong_->setWordWrap(true);

  auto* form = new QFormLayout;
  form->addRow(tr("&Name, as typed"), name_);
  form->addRow(tr("&Title, as shown"), title_);
  form->addRow(tr("It &stands for"), stands_for_);
  form->addRow(tr("Piece: &height over width"), ratio_);
  form->addRow(tr("&Edge of the solid over the piece's width"), edge_);
  form->addRow(tr("&Faces it takes, in sides"), faces_);
  form->addRow(tr("&Corners it takes, in edges"), corners_);
  form->addRow(tr("&Angles between faces, degrees"), angles_);
  form->addRow(tr("C&reases of one unit"), folds_);
  form->addRow(tr("La&yers at a joint"), layers_);
  form->addRow(tr("Thic&kest paper, mm"), thickest_);
  form->addRow(tr("Sh&ortest edge, mm"), least_edge_);
  form->addRow(handed_);
  form->addRow(glued_);
  form->addRow(tr("How it is fol&ded, a step a line"), how_);
  auto* buttons = new QDialogButtonBox(QDialogButtonBox::Save | QDialogButtonBox::Cancel);
  for (QAbstractButton* b : buttons->buttons()) b->setIcon({});
  connect(buttons, &QDialogButtonBox::accepted, this, &OwnUnitDialog::try_to_accept);
  connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
  auto* box = new QVBoxLayout(this);
  box->addLayout(form);
  box->addWidget(wrong_);
  box->addWidget(buttons);
  open_at_most(*this, {520, 620});
}

QLineEdit* OwnUnitDialog::line(const char* name, const QString& text) {
  auto* made = new QLineEdit(text);
  made->setObjectName(name);
  return made;
}

Result<OwnFamily> OwnUnitDialog::described() const {
  OwnFamily f;
  f.name = name_->text().trimmed().toStdString();
  f.title = title_->text().trimmed().toStdString();
  f.stands_for = static_cast<StandsFor>(stands_for_->currentIndex());
  for (const auto& [text, what, value] : {std::tuple{ratio_, tr("Height over width"), &f.ratio},
                                          {edge_, tr("Edge over width"), &f.edge_share},
                                          {thickest_, tr("Thickest paper"), &f.thickest_mm},
                                          {least_edge_, tr("Shortest edge"), &f.least_edge_mm}}) {
    const auto number = number_in(text, what);
    if (!number) return Error{number.error()};
    *value = *number;
  }
  for (const auto& [text, what, value] :
       {std::tuple{faces_, tr("Faces"), &f.faces}, {corners_, tr("Corners"), &f.valences}}) {
    auto list = listed(text->text(), what);
    if (!list) return Error{list.error()};
    *value = std::move(list).value();
  }
  const QStringList angles = angles_->text().split(QRegularExpression("\\s*(to|-)\\s*"), Qt::SkipEmptyParts);
  const auto from = parse_degrees(angles.value(0).trimmed().toStdString());
  const auto to = parse_degrees(angles.value(1).trimmed().toStdString());
  if (angles.size() != 2 || !from || !to) return Error{tr("Type the angles as 100 to 140.").toStdString()};
  f.least_dihedral_deg = *from;
  f.most_dihedral_deg = *to;
  f.folds = folds_->value();
  f.joint_layers = layers_->value();
  f.handed = handed_->isChecked();
  f.glued = glued_->isChecked();
  for (const QString& step : how_->toPlainText().split('\n', Qt::SkipEmptyParts))
    if (!step.trimmed().isEmpty()) f.how.push_back(step.trimmed().toStdString());
  return checked(std::move(f));
}

void OwnUnitDialog::try_to_accept() {
  const auto family = described();
  wrong_->setText(family ? QString() : QString::fromStdString(family.error()));
  if (family) accept();
}

} // namespace uc::app
