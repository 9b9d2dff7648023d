// Fields for a table of parameters: what a family of patterns can be asked for becomes spin boxes, typed lengths and
// lists, each with its range and its reason, and a slider to feel one's way with.
#pragma once

#include "pattern/parameter.h"

#include <QWidget>

#include <map>

class QSlider;
class QVBoxLayout;

namespace uc::app {

class Field;

class ParameterPanel : public QWidget {
  Q_OBJECT
public:
  explicit ParameterPanel(QWidget* parent = nullptr);
  /// Makes the fields anew where the table is another one, and shows the values.
  void show_values(const QString& key, const std::vector<Parameter>& table, const ParameterValues& values);

signals:
  /// A value within its range was chosen or typed.
  void value_changed(const QString& name, double value);

private:
  void build(const std::vector<Parameter>& table);
  QWidget* editor_of(const Parameter& parameter);
  QSlider* slider_of(const Parameter& parameter);
  void show_on_slider(const Parameter& parameter, double value);

  struct Row {
    QWidget* editor = nullptr;
    Field* field = nullptr;
    QSlider* slider = nullptr; // none for choices
    double low = 0;            // of the slider: a part of the range about the value, where the range is wide
    double high = 1;
  };
  QString key_;
  std::vector<Parameter> table_;
  ParameterValues values_;
  std::map<std::string, Row> rows_;
  QVBoxLayout* layout_;
};

} // namespace uc::app
