#include "widgets/parameter_panel.h"

#include "widgets/field.h"

#include <QComboBox>
#include <QLineEdit>
#include <QSignalBlocker>
#include <QSlider>
#include <QSpinBox>
#include <QVBoxLayout>

#include <algorithm>
#include <cmath>

namespace uc::app {
namespace {

constexpr int slider_steps = 240;
constexpr double widest_span = 9;  // most over least, from which a slider shows a part of the range
constexpr double slider_reach = 3; // times the value, and its third

/// A number of a slider with three digits that a hand can mean.
double rounded(double value, double span) {
  const double digit = std::pow(10.0, std::floor(std::log10(span / slider_steps)));
  return std::round(value / digit) * digit;
}

} // namespace

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
  connect(line, &QLineEdit::textEdited, line, [line] { line->setProperty("typing", true); });
  connect(line, &QLineEdit::editingFinished, this, [this, name, line, parameter] {
    const auto value = parse_parameter(parameter, line->text().toStdString());
    rows_.at(parameter.name).field->set_error(value ? QString() : QString::fromStdString(value.error()));
    line->setProperty("typing", false);
    if (value) emit value_changed(name, *value);
  });
  return line;
}

QSlider* ParameterPanel::slider_of(const Parameter& parameter) {
  if (parameter.type == ParameterType::choice) return nullptr;
  auto* slider = new QSlider(Qt::Horizontal);
  slider->setObjectName("slide-" + QString::fromStdString(parameter.name));
  slider->setAccessibleName(tr(parameter.title.c_str()));
  slider->setToolTip(tr(parameter.why.c_str()));
  connect(slider, &QSlider::valueChanged, this, [this, slider, parameter](int step) {
    const Row& row = rows_.at(parameter.name);
    const double share = static_cast<double>(step) / slider->maximum();
    const double exact = row.low + share * (row.high - row.low);
    const double value =
        parameter.type == ParameterType::integer ? std::round(exact) : rounded(exact, row.high - row.low);
    row.field->set_error({});
    emit value_changed(QString::fromStdString(parameter.name), std::clamp(value, parameter.least, parameter.most));
  });
  // What it spans follows the value only when it is let go.
  connect(slider, &QSlider::sliderReleased, this, [this, parameter] {
    const auto given = values_.find(parameter.name);
    if (given != values_.end()) show_on_slider(parameter, given->second);
  });
  return slider;
}

void ParameterPanel::show_on_slider(const Parameter& parameter, double value) {
  Row& row = rows_.at(parameter.name);
  if (!row.slider) return;
  if (!row.slider->isSliderDown()) {
    row.low = parameter.least;
    row.high = parameter.most;
    if (parameter.most - parameter.least > slider_reach &&
        parameter.most > widest_span * std::max(parameter.least, 0.0) && value > 0) {
      row.low = std::max(row.low, value / slider_reach);
      row.high = std::min(row.high, value * slider_reach);
    }
    if (parameter.type == ParameterType::integer) {
      row.low = std::floor(row.low);
      row.high = std::max(std::ceil(row.high), row.low + 1);
      row.slider->setRange(0, static_cast<int>(row.high - row.low));
    } else {
      row.slider->setRange(0, slider_steps);
    }
  }
  row.slider->setValue(static_cast<int>(std::lround((value - row.low) / (row.high - row.low) * row.slider->maximum())));
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
    QSlider* slider = slider_of(parameter);
    if (slider) layout_->addWidget(slider);
    rows_[parameter.name] = {editor, field, slider, parameter.least, parameter.most};
  }
}

void ParameterPanel::show_values(const QString& key, const std::vector<Parameter>& table,
                                 const ParameterValues& values) {
  if (key != key_) build(table);
  key_ = key;
  values_ = values;
  for (const Parameter& parameter : table_) {
    const auto given = values.find(parameter.name);
    const double value = given == values.end() ? parameter.normal : given->second;
    const Row& row = rows_.at(parameter.name);
    const QSignalBlocker quiet(row.editor);
    const QSignalBlocker still(row.slider);
    show_on_slider(parameter, value);
    if (auto* box = qobject_cast<QSpinBox*>(row.editor)) box->setValue(static_cast<int>(value));
    if (auto* list = qobject_cast<QComboBox*>(row.editor)) list->setCurrentIndex(static_cast<int>(value));
    if (auto* line = qobject_cast<QLineEdit*>(row.editor))
      show_text(*line, QString::fromStdString(parameter_text(parameter, value)));
  }
}

} // namespace uc::app
