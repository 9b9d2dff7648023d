// Units: a solid of many pieces folded alike: which family, how large, from which papers, in which colours, and in
// which order they are joined.
#pragma once

#include "base/background.h"
#include "stages/stage.h"
#include "stages/units/units_work.h"
#include "widgets/page_view.h"
#include "widgets/paper_view.h"
#include "widgets/spatial_bench.h"
#include "widgets/waiting_strip.h"
#include "widgets/way_plot.h"

#include <QPointer>
#include <QStackedWidget>
#include <QTimer>

class QCheckBox;
class QComboBox;
class QDateEdit;
class QLabel;
class QLineEdit;
class QListWidget;
class QPushButton;
class QScrollArea;
class QSlider;
class QSpinBox;

namespace uc::app {

class UnitsStage : public Stage {
  Q_OBJECT
public:
  enum class Shown { solid, map, cuts, unit, families };
  explicit UnitsStage(Workspace& workspace, QObject* parent = nullptr);
  static QString key_of() { return "units"; }
  static QString verb_of() { return tr("Units"); }
  [[nodiscard]] QString key() const override { return key_of(); }
  [[nodiscard]] QString verb() const override { return verb_of(); }
  [[nodiscard]] QString fact() const override;
  [[nodiscard]] QWidget* choices() override { return choices_; }
  [[nodiscard]] QWidget* centre() override { return centre_; }
  [[nodiscard]] std::vector<BenchView*> views() const override;
  void write_ledger(Ledger& ledger) override;
  void entered() override;
  void begin_anew() override;
  [[nodiscard]] QList<QPair<QString, QString>> keys() const override;

  [[nodiscard]] bool busy() const { return working_.busy() || delay_.isActive(); }
  [[nodiscard]] const UnitsAnswer& answer() const { return answer_; }
  [[nodiscard]] SpatialBench* bench() const { return bench_; }
  [[nodiscard]] PaperView* map() const { return map_; }
  [[nodiscard]] PageView* unit() const { return unit_; }
  [[nodiscard]] WayPlot* plot() const { return plot_; }
  void set_shown(Shown shown);
  /// Of the assembly: so many units are joined.
  void set_joined(int units);
  /// Writes the solid in its colours (.obj, .stl, .glb) or a picture with a clear ground; the sentence says what is
  /// wrong.
  QString save(const QString& path);

private:
  void build_choices();
  void build_colours();
  void build_outlook();
  void build_centre();
  QWidget* joining_row();
  void edit(const QString& label, const std::function<void(UnitJob&)>& change, int merge = -1);
  void load();
  void load_fields();
  void load_papers();
  void begin();
  void finished(UnitsAnswer answer);
  void show_state();
  void show_ways();
  void take_family(int way);
  void choose_family(UnitJob& job, const UnitFamily& family) const;
  void fill_families();
  void describe_own();
  void remove_own();
  void rename_paper(int row);
  void colour_paper(int row);
  void papers_from_shelf();
  void paint_unit(const Point& at);
  void look_at_next();
  void fold_this();
  void show_unit(bool there);
  [[nodiscard]] bool current() const;
  [[nodiscard]] std::vector<UnitMap::Colour> palette() const;
  [[nodiscard]] SpatialScene scene() const;
  [[nodiscard]] Figure map_figure();
  /// Cuts, units and joints in the papers chosen now.
  [[nodiscard]] const Programme& moves();
  void paper_on(int unit);
  void write_solid(Ledger& ledger, const UnitPlan& plan);
  void write_papers(Ledger& ledger, const UnitPlan& plan);
  /// What the whole work takes: folding the units, and cutting and joining.
  struct WorkSeconds {
    double folding = 0;
    double rest = 0;
  };
  [[nodiscard]] WorkSeconds work_seconds(const UnitPlan& plan);
  void write_time(Ledger& ledger, const UnitPlan& plan);
  void write_joining(Ledger& ledger, const UnitPlan& plan);
  void write_gape(Ledger& ledger, const UnitPlan& plan);
  [[nodiscard]] const std::optional<Learning>& learning();

  ChoicesColumn* choices_;
  QWidget* centre_;
  QStackedWidget* pages_;
  SpatialBench* bench_;
  PaperView* map_;
  PaperView* cuts_;
  PageView* unit_;
  QScrollArea* unit_page_ = nullptr;
  std::pair<std::string, Point> unit_shown_; // steps of this family, on a piece of this size
  WayPlot* plot_;
  QLabel* refused_;
  QPointer<WaitingStrip> waiting_;
  QComboBox* solid_;
  Field* solid_field_;
  QComboBox* family_;
  QPushButton* remove_own_;
  Field* family_field_;
  QLineEdit* sheet_;
  Field* sheet_field_;
  QLineEdit* finished_;
  Field* finished_field_;
  QLineEdit* from_;
  Field* from_field_;
  QCheckBox* grain_;
  QSpinBox* colours_;
  QComboBox* symmetry_;
  QCheckBox* bands_;
  QListWidget* papers_;
  QSpinBox* evenings_;
  QSpinBox* minutes_;
  QDateEdit* until_;
  QComboBox* shown_;
  QPushButton* fold_;
  QPushButton* save_;
  QSlider* joined_;
  QLabel* joined_text_;

  UnitsAnswer answer_;
  std::vector<OwnFamily> listed_own_; // in the list of families, after those that ship
  Programme moves_;                   // of the answer, with the papers as they were last asked for
  std::shared_ptr<const Programme> coloured_of_;
  std::string learned_for_; // the family whose pace is known; empty when the log has changed
  std::optional<Learning> learned_;
  QTimer delay_;
  bool seen_ = false;
  Background<UnitsAnswer> working_; // the last member: it goes first
};

} // namespace uc::app
