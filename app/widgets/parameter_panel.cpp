#include "widgets/parameter_panel.h"

#include "widgets/field.h"

#include <QComboBox>
#include <QLineEdit>
#include <QSignalBlocker>
#include <QSpinBox>
#include <QVBoxLayout>

namespace uc::app {

ParameterPanel::ParameterPanel(QWidget* parent) : QWidget(parent), layout_(new QVBoxLayout(this)) {
  layout_->setContentsMargins(0, 0, 0, 0);
  layout_->setSpacing(4);
}

QWidget* ParameterPanel::editor_of(const Parameter& parameter) {
  const QString name = QString::fromStdString(parameter.name);
  if (parameter.type == ParameterType::integer) {
    auto* box = new QSpinBox;
    box->setRange(static_cast<int>(parameter.least), static_cast<int>(parameter.most));
    connect(box, &QSpinBox::valueChanged, this, [this, name](int value) { emit value_changed(name, value); });
    return box;
  }
  if (parameter.type == ParameterType::choice) {
    auto* list = new QComboBox;
    for (const std::string& choice : parameter.choices) list->addItem(tr(choice.c_str()));
    connect(list, &QComboBox::activated, this, [this, name](int value) { emit value_changed(name, value); });
    return list;
  }
  auto* line = new QLineEdit;
  connect(line, &QLineEdit::editingFinished, this, [this, name, line, parameter] {
    const auto value = parse_parameter(parameter, line->text().toStdString());
    rows_.at(parameter.name).field->set_error(value ? QString() : QString::fromStdString(value.error()));
    if (value) emit value_changed(name, *value);
  });
  return line;
}

void ParameterPanel::build(const std::vector<Parameter>& table) {
  rows_.clear();
  while (QLayoutItem* item = layout_->takeAt(0)) {
    item->widget()->hide(); // it goes when the event that changes the table is done
    item->widget()->deleteLater();
    delete item;
  }
  table_ = table;
  for (const Parameter& parameter : table) {
    QWidget* editor = editor_of(parameter);
    editor->setObjectName("parameter-" + QString::fromStdString(parameter.name));
    editor->setToolTip(tr(parameter.why.c_str()));
    auto* field = new Field(tr(parameter.title.c_str()), editor);
    layout_->addWidget(field);
    rows_[parameter.name] = {editor, field};
  }
}

void ParameterPanel::show_values(const QString& key, const std::vector<Parameter>& table,
                                 const ParameterValues& values) {
  if (key != key_) build(table);
  key_ = key;
  for (const Parameter& parameter : table_) {
    const auto given = values.find(parameter.name);
    const double value = given == values.end() ? parameter.normal : given->second;
    const Row& row = rows_.at(parameter.name);
    const QSignalBlocker quiet(row.editor);
    if (auto* box = qobject_cast<QSpinBox*>(row.editor)) box->setValue(static_cast<int>(value));
    if (auto* list = qobject_cast<QComboBox*>(row.editor)) list->setCurrentIndex(static_cast<int>(value));
    if (auto* line = qobject_cast<QLineEdit*>(row.editor); line && !line->hasFocus())
      line->setText(QString::fromStdString(parameter_text(parameter, value)));
  }
}

} // namespace uc::app
