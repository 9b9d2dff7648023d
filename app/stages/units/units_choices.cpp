// The fields of the Units stage: the solid, the unit and its sheet, colours, and until when.
#include "stages/units/units_stage.h"

#include "base/expression.h"
#include "base/index.h"
#include "solid/named.h"
#include "unit/own_family.h"
#include "unit/unit_plan.h"
#include "widgets/spatial_saving.h"

#include <QCheckBox>
#include <QComboBox>
#include <QCompleter>
#include <QDateEdit>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QSignalBlocker>
#include <QSpinBox>

#include <algorithm>

namespace uc::app {
namespace {

enum Merge { merge_colours = 0x5543, merge_evenings };

} // namespace

void UnitsStage::build_choices() {
  solid_ = new QComboBox;
  solid_->setObjectName("units-solid");
  solid_->setEditable(true);
  solid_->setInsertPolicy(QComboBox::NoInsert);
  solid_->lineEdit()->setAccessibleName(tr("The solid, typed"));
  for (const std::string& name : named_solids()) solid_->addItem(QString::fromStdString(name));
  for (const char* made : {"prism:7", "antiprism:5", "geodesic:3,0", "kis(dodecahedron,0.3)", "ambo(icosahedron)"})
    solid_->addItem(made);
  solid_->completer()->setFilterMode(Qt::MatchContains);
  solid_->setToolTip(tr("A name, or one made of another: dual(...), ambo(...), truncate(...), expand(...), snub(...), "
                        "kis(..., height)."));
  const auto take_solid = [this] {
    edit(tr("Choose the solid"), [this](UnitJob& j) { j.solid = solid_->currentText().trimmed().toStdString(); });
  };
  connect(solid_, &QComboBox::activated, this, take_solid);
  connect(solid_->lineEdit(), &QLineEdit::editingFinished, this, take_solid);
  choices_->add(solid_field_ = new Field(tr("The s&olid"), solid_));
  family_ = new QComboBox;
  family_->setObjectName("units-family");
  connect(family_, &QComboBox::activated, this, [this](int i) {
    const auto all = all_unit_families(workspace_.document.project().units.own);
    if (i < 0 || static_cast<std::size_t>(i) >= all.size()) return;
    edit(tr("Choose the unit"), [&](UnitJob& j) { choose_family(j, *all[static_cast<std::size_t>(i)]); });
  });
  choices_->add(family_field_ = new Field(tr("The &unit"), family_));
  auto* own = new QWidget;
  auto* own_row = new QHBoxLayout(own);
  own_row->setContentsMargins(0, 0, 0, 0);
  own_row->setSpacing(4);
  auto* describe = new QPushButton(tr("Your o&wn ..."));
  describe->setObjectName("units-own");
  describe->setToolTip(tr("Describe a unit of your own, or change the one that is chosen."));
  connect(describe, &QPushButton::clicked, this, &UnitsStage::describe_own);
  remove_own_ = new QPushButton(tr("&Remove it"));
  remove_own_->setObjectName("units-own-remove");
  connect(remove_own_, &QPushButton::clicked, this, &UnitsStage::remove_own);
  own_row->addWidget(describe);
  own_row->addWidget(remove_own_);
  choices_->add(own);
  const auto line = [this](const char* name, const QString& label, const QString& tip, QLineEdit*& edit,
                           Field*& field) {
    edit = new QLineEdit;
    edit->setObjectName(name);
    edit->setToolTip(tip);
    choices_->add(field = new Field(label, edit));
  };
  line("units-sheet", tr("S&heet of one unit"), tr("75mm is a square; 75x106mm; strips: strip:297x20mm."), sheet_,
       sheet_field_);
  connect(sheet_, &QLineEdit::editingFinished, this, [this] {
    const std::string text = sheet_->text().trimmed().toStdString();
    const UnitJob& job = workspace_.document.project().units;
    if (job.finished_mm > 0 && !sheet_->isModified()) return;
    const auto sheet = unit_sheet(job.family, text, job.own);
    sheet_field_->set_error(sheet ? QString() : QString::fromStdString(sheet.error()));
    if (sheet) edit(tr("Change the sheet of a unit"), [&](UnitJob& j) { j.sheet = text, j.finished_mm = 0; });
  });
  line("units-finished", tr("Finished, &across"),
       tr("The outside diameter, tips included; the sheet is worked back. Leave it empty to let the sheet decide."),
       finished_, finished_field_);
  connect(finished_, &QLineEdit::editingFinished, this, [this] {
    const QString text = finished_->text().trimmed();
    if (!finished_->isModified()) return;
    const auto mm = parse_length(text.toStdString(), workspace_.document.project().unit);
    const bool fine = text.isEmpty() || (mm && mm->value >= 5 && mm->value <= 10'000);
    finished_field_->set_error(fine ? QString() : mm ? tr("Type 5 mm to 10 m.") : QString::fromStdString(mm.error()));
    if (fine) edit(tr("Change the finished size"), [&](UnitJob& j) { j.finished_mm = text.isEmpty() ? 0 : mm->value; });
  });
  line("units-from", tr("Cut fro&m larger sheets"), tr("Such as a4; leave it empty where each unit has its own sheet."),
       from_, from_field_);
  connect(from_, &QLineEdit::editingFinished, this, [this] {
    const std::string text = from_->text().trimmed().toStdString();
    const auto sheet = text.empty() ? Result<Sheet>(Sheet()) : parse_sheet(text);
    from_field_->set_error(sheet ? QString() : QString::fromStdString(sheet.error()));
    if (sheet) edit(tr("Change the sheets to cut from"), [&](UnitJob& j) { j.from = text; });
  });
  grain_ = new QCheckBox(tr("&Grain runs one way"));
  grain_->setObjectName("units-grain");
  connect(grain_, &QCheckBox::clicked, this,
          [this](bool on) { edit(tr("Change the grain"), [on](UnitJob& j) { j.keep_grain = on; }); });
  choices_->add(grain_);
}

void UnitsStage::build_colours() {
  choices_->add_section(tr("COLOURS"));
  colours_ = new QSpinBox;
  colours_->setObjectName("units-colours");
  colours_->setRange(1, 24);
  connect(colours_, &QSpinBox::valueChanged, this, [this](int n) {
    edit(
        tr("Change the number of colours"), [n](UnitJob& j) { j.colours = n; }, merge_colours);
  });
  choices_->add(new Field(tr("&Colours, no two alike at a joint"), colours_));
  symmetry_ = new QComboBox;
  symmetry_->setObjectName("units-symmetry");
  symmetry_->addItem(tr("as they come"), -1);
  for (const int order : {2, 3, 4, 5, 6}) symmetry_->addItem(tr("every 1/%1 turn about an axis").arg(order), order);
  symmetry_->addItem(tr("every turn of the solid"), 0);
  symmetry_->setToolTip(tr("A turn takes all units of one colour to those of one colour."));
  connect(symmetry_, &QComboBox::activated, this, [this] {
    const int order = symmetry_->currentData().toInt();
    edit(tr("Change the symmetry of the colours"),
         [order](UnitJob& j) { j.symmetry = order < 0 ? std::nullopt : std::optional<int>(order); });
  });
  choices_->add(new Field(tr("They &repeat"), symmetry_));
  bands_ = new QCheckBox(tr("In closed &bands"));
  bands_->setObjectName("units-bands");
  bands_->setToolTip(tr("Edges that follow each other straight on have one colour."));
  connect(bands_, &QCheckBox::clicked, this,
          [this](bool on) { edit(tr("Change the bands"), [on](UnitJob& j) { j.bands = on; }); });
  choices_->add(bands_);
  auto* other = new QPushButton(tr("Show a&nother answer"));
  other->setObjectName("units-another");
  connect(other, &QPushButton::clicked, this, [this] {
    edit(tr("Take another colouring"), [](UnitJob& j) {
      j.variant = (j.variant + 1) % 1000;
      j.by_hand.clear();
    });
  });
  choices_->add(other);
  papers_ = new QListWidget;
  papers_->setObjectName("units-papers");
  papers_->setAccessibleName(tr("Papers; the chosen one is put on units clicked on the flat map"));
  papers_->setToolTip(tr("Press Enter to choose its colour, F2 to name it. A click on the flat map gives a unit the "
                         "paper that is chosen here."));
  papers_->setEditTriggers(QAbstractItemView::EditKeyPressed | QAbstractItemView::SelectedClicked);
  papers_->setMaximumHeight(120);
  connect(papers_, &QListWidget::itemChanged, this, [this](QListWidgetItem* i) { rename_paper(papers_->row(i)); });
  connect(papers_, &QListWidget::itemActivated, this, [this](QListWidgetItem* i) { colour_paper(papers_->row(i)); });
  choices_->add(papers_);
  auto* put = new QPushButton(tr("&Put it on the unit shown next"));
  put->setObjectName("units-put");
  put->setToolTip(tr("The paper chosen in the list, on the unit that is joined next on the slider."));
  connect(put, &QPushButton::clicked, this, [this] {
    if (!current() || !answer_.plan || answer_.plan->assembly.empty()) return;
    const auto& order = answer_.plan->assembly;
    paper_on(order[std::min(at(joined_->value()), order.size() - 1)].add);
  });
  choices_->add(put);
  auto* shelf = new QPushButton(tr("Take papers from the shel&f"));
  shelf->setObjectName("units-shelf");
  connect(shelf, &QPushButton::clicked, this, &UnitsStage::papers_from_shelf);
  choices_->add(shelf);
}

void UnitsStage::build_outlook() {
  choices_->add_section(tr("WHEN"));
  evenings_ = new QSpinBox;
  evenings_->setObjectName("units-evenings");
  evenings_->setRange(1, 366);
  evenings_->setToolTip(tr("How the work is shared out; the calendar gets as many entries."));
  connect(evenings_, &QSpinBox::valueChanged, this, [this](int n) {
    edit(
        tr("Change the evenings"), [n](UnitJob& j) { j.evenings = n; }, merge_evenings);
  });
  choices_->add(new Field(tr("&Evenings until it is needed"), evenings_));
  minutes_ = new QSpinBox;
  minutes_->setObjectName("units-minutes");
  minutes_->setRange(1, 1440);
  minutes_->setSuffix(tr(" min"));
  minutes_->setKeyboardTracking(false);
  minutes_->setToolTip(tr("So much time on each: the number of evenings follows from the time it all takes."));
  connect(minutes_, &QSpinBox::valueChanged, this, [this](int minutes) {
    if (!current() || !answer_.plan) return;
    const WorkSeconds work = work_seconds(*answer_.plan);
    evenings_->setValue(static_cast<int>(std::ceil((work.folding + work.rest) / 60 / minutes)));
  });
  choices_->add(new Field(tr("&Minutes an evening"), minutes_));
  until_ = new QDateEdit;
  until_->setObjectName("units-until");
  until_->setDisplayFormat("yyyy-MM-dd");
  until_->setCalendarPopup(true);
  until_->setToolTip(tr("The last evening, when today is the first."));
  connect(until_, &QDateEdit::dateChanged, this, [this](const QDate& last) {
    const auto days = static_cast<int>(QDate::currentDate().daysTo(last)) + 1;
    evenings_->setValue(std::clamp(days, evenings_->minimum(), evenings_->maximum()));
  });
  choices_->add(new Field(tr("The &last of them"), until_));
  save_ = new QPushButton(tr("Sa&ve ..."));
  save_->setObjectName("units-save");
  save_->setToolTip(tr("The solid in its colours (.obj, .stl, .glb) or a picture with a clear ground (.png)."));
  connect(save_, &QPushButton::clicked, this, [this] {
    const QString path = ask_where_to_save_space(choices_, tr("Save the solid"));
    if (path.isEmpty()) return;
    workspace_.say_written(path, save(path));
  });
  choices_->add(save_);
  choices_->finish();
}

void UnitsStage::load_fields() {
  const UnitJob& job = workspace_.document.project().units;
  const QSignalBlocker quiet[] = {QSignalBlocker(solid_),    QSignalBlocker(family_), QSignalBlocker(colours_),
                                  QSignalBlocker(symmetry_), QSignalBlocker(bands_),  QSignalBlocker(grain_),
                                  QSignalBlocker(evenings_), QSignalBlocker(until_)};
  if (!solid_->lineEdit()->isModified() || !solid_->hasFocus()) solid_->setEditText(QString::fromStdString(job.solid));
  fill_families();
  family_->setCurrentIndex(family_->findData(QString::fromStdString(job.family)));
  remove_own_->setEnabled(
      std::any_of(job.own.begin(), job.own.end(), [&](const OwnFamily& f) { return f.name == job.family; }));
  colours_->setValue(job.colours);
  symmetry_->setCurrentIndex(std::max(0, symmetry_->findData(job.symmetry ? *job.symmetry : -1)));
  symmetry_->setEnabled(job.colours > 1);
  bands_->setChecked(job.bands);
  bands_->setEnabled(job.colours > 1);
  grain_->setChecked(job.keep_grain);
  grain_->setEnabled(!job.from.empty());
  evenings_->setValue(job.evenings);
  const QDate today = QDate::currentDate();
  until_->setDateRange(today, today.addDays(evenings_->maximum() - 1));
  until_->setDate(today.addDays(job.evenings - 1));
  const auto put = [](QLineEdit* line, const QString& text) { show_text(*line, text); };
  put(from_, QString::fromStdString(job.from));
  put(finished_, job.finished_mm > 0 ? workspace_.length(job.finished_mm) : QString());
  QString sheet = QString::fromStdString(job.sheet);
  if (job.finished_mm > 0)
    sheet = current() && answer_.plan ? QString("%1x%2mm")
                                            .arg(answer_.plan->sheet.width_mm, 0, 'f', 2)
                                            .arg(answer_.plan->sheet.height_mm, 0, 'f', 2)
                                      : QString();
  put(sheet_, sheet);
}

} // namespace uc::app
