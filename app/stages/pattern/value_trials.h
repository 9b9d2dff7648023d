// What a value changes: one parameter of the family tried over its range as a plot, the pattern as it is beside the one
// picked on the plot or settings that were kept, and the figures of both.
#pragma once

#include "base/background.h"
#include "base/workspace.h"
#include "pattern/sweep.h"
#include "widgets/paper_view.h"
#include "widgets/sweep_plot.h"
#include "widgets/waiting_strip.h"

#include <QTimer>

class QComboBox;
class QLabel;
class QPushButton;

namespace uc::app {

class ValueTrials : public QWidget {
  Q_OBJECT
public:
  explicit ValueTrials(Workspace& workspace, QWidget* parent = nullptr);
  /// Looks at the project anew; tries values only while the page is seen.
  void load();
  [[nodiscard]] SweepPlot* plot() const { return plot_; }
  [[nodiscard]] std::vector<BenchView*> views() const { return {now_, beside_}; }
  [[nodiscard]] bool busy() const { return trying_.busy() || drawing_.busy() || delay_.isActive(); }
  /// Keeps the settings there are now, to be compared with others.
  void keep();

signals:
  void value_taken(const QString& parameter, double value);
  void settings_taken(const uc::SizedFamily& settings);

protected:
  void showEvent(QShowEvent* event) override;

private:
  struct Trial {
    SizedFamily of;
    std::string parameter;
    Result<std::vector<TriedValue>> values = Error{""};
  };
  struct Beside {
    SizedFamily settings;
    DrawnPattern drawn;
    TriedValue figures;
  };
  QWidget* paper_column(PaperView* paper, QLabel*& caption, const QString& name);
  [[nodiscard]] std::optional<SizedFamily> settings() const;
  [[nodiscard]] std::string parameter() const;
  void fill_parameters(const PatternFamily& family);
  void begin();
  void show_trial(Trial trial);
  [[nodiscard]] Sweep sweep_of(const Trial& trial) const;
  void draw_beside();
  void show_beside(Beside beside);
  void show_now();
  void take();
  [[nodiscard]] QString caption_of(const TriedValue& figures) const;
  void show_on(PaperView* paper, const DrawnPattern& drawn);

  Workspace& workspace_;
  QComboBox* parameter_;
  QPushButton* keep_;
  QPushButton* take_;
  QComboBox* against_;
  SweepPlot* plot_;
  QLabel* wrong_;
  WaitingStrip* waiting_;
  PaperView* now_;
  PaperView* beside_;
  QLabel* now_text_ = nullptr;
  QLabel* beside_text_ = nullptr;
  std::string family_; // whose parameters are listed
  std::optional<Trial> trial_;
  std::optional<SizedFamily> kept_;
  std::optional<SizedFamily> shown_beside_;
  QTimer delay_;
  Background<Trial> trying_; // last: they go first
  Background<Beside> drawing_;
};

} // namespace uc::app
