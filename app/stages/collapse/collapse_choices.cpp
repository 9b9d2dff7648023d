// The choices of Collapse: order and stages, clips, and what is shown.
#include "stages/collapse/collapse_stage.h"

#include "base/theme.h"
#include "widgets/ask_file.h"
#include "widgets/spatial_saving.h"

#include <QCheckBox>
#include <QComboBox>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QSlider>
#include <QSpinBox>

namespace uc::app {

QString order_words(CollapseOrder order) {
  switch (order) {
  case CollapseOrder::family:
    return QObject::tr("As the family is closed by hand");
  case CollapseOrder::all_at_once:
    return QObject::tr("All at once");
  case CollapseOrder::outside_in:
    return QObject::tr("Outside in");
  case CollapseOrder::inside_out:
    return QObject::tr("Inside out");
  case CollapseOrder::one_side_first:
    break;
  }
  return QObject::tr("One side first");
}

void CollapseStage::change_plan(const QString& label, const std::function<void(ClosingPlan&)>& edit, int merge) {
  const QString wrong = workspace_.document.change(
      label, [&](Project& p) { edit(p.closing); }, merge);
  if (!wrong.isEmpty()) workspace_.say(wrong);
}

void CollapseStage::build_choices() {
  build_order();
  build_clips();
  build_push();
  build_looks();
  choices_->finish();
}

void CollapseStage::build_order() {
  order_ = new QComboBox;
  order_->setObjectName("collapse-order");
  for (const auto& [order, name] : enum_words<CollapseOrder>) order_->addItem(order_words(order));
  connect(order_, &QComboBox::activated, this, [this](int i) {
    change_plan(tr("Choose the order of the collapse"), [i](ClosingPlan& plan) {
      plan.order = static_cast<CollapseOrder>(i);
      plan.spans.clear(); // they were of other stages
    });
  });
  choices_->add(new Field(tr("&Order of the creases"), order_));
  groups_ = new QSpinBox;
  groups_->setObjectName("collapse-groups");
  groups_->setRange(1, most_closing_groups);
  connect(groups_, &QSpinBox::valueChanged, this, [this](int n) {
    change_plan(
        tr("Change the stages of the collapse"),
        [n](ClosingPlan& plan) {
          plan.groups = n;
          plan.spans.clear();
        },
        0x434C);
  });
  groups_field_ = new Field(tr("In so many s&tages"), groups_);
  choices_->add(groups_field_);
  other_way_ = new QCheckBox(tr("The other corners &up"));
  other_way_->setObjectName("collapse-other-way");
  other_way_->setToolTip(tr("Where a sheet can go two ways, such as a pleated saddle, it goes the other one."));
  connect(other_way_, &QCheckBox::clicked, this, [this](bool on) {
    change_plan(tr("Push the sheet through"), [on](ClosingPlan& plan) { plan.other_way = on; });
  });
  choices_->add(other_way_);
  school_ = new SchoolBox;
  school_->setObjectName("collapse-school");
  school_->setToolTip(
      tr("Before the sheet is closed its creases are put on it, in this way; Prove says what each costs."));
  connect(school_, &QComboBox::activated, this, [this] {
    workspace_.document.change(tr("Choose how the creases are put on"),
                               [school = school_->school()](Project& p) { p.pre_crease.school = school; });
  });
  choices_->add(new Field(tr("Crea&ses are put on the paper"), school_));
  apart_ = new QCheckBox(tr("&Keep layers apart"));
  apart_->setObjectName("collapse-apart");
  apart_->setToolTip(
      tr("Layers that would pass through each other are pushed apart. It takes two to seventy times as long."));
  connect(apart_, &QCheckBox::clicked, this, [this](bool on) {
    change_plan(on ? tr("Keep layers apart") : tr("Let layers pass"), [on](ClosingPlan& plan) { plan.apart = on; });
  });
  choices_->add(apart_);
  finer_ = new QSpinBox;
  finer_->setObjectName("collapse-finer");
  finer_->setRange(0, most_finer);
  finer_->setSpecialValueText(tr("not divided"));
  finer_->setToolTip(
      tr("Every facet is divided into four so often, so that it can curve. Each time takes four to eight "
         "times as long."));
  connect(finer_, &QSpinBox::valueChanged, this, [this](int n) {
    change_plan(
        tr("Divide the facets"), [n](ClosingPlan& plan) { plan.finer = n; }, 0x434D);
  });
  choices_->add(new Field(tr("&Divide the facets"), finer_));
  auto* compare = new QPushButton(tr("&Compare orders"));
  compare->setObjectName("compare-orders");
  compare->setToolTip(
      tr("Closes the sheet by each order in turn, letting layers pass, and tells the peak strain of each."));
  connect(compare, &QPushButton::clicked, this, &CollapseStage::compare_orders);
  choices_->add(compare);
}

void CollapseStage::build_clips() {
  choices_->add_section(tr("CLIPS"));
  clips_ = new QListWidget;
  clips_->setObjectName("clips");
  clips_->setAccessibleName(tr("Clips that hold a part of the sheet"));
  clips_->setFont(mono_font(8.5));
  clips_->setMaximumHeight(64);
  connect(clips_, &QListWidget::currentRowChanged, this,
          [this](int row) { remove_clip_->setEnabled(row >= 0 && row < clips_->count()); });
  choices_->add(clips_);
  clip_ = new QLineEdit;
  clip_->setObjectName("clip");
  clip_->setFont(mono_font(8.5));
  clip_->setPlaceholderText("60,40,15:30-80");
  clip_->setToolTip(tr("Where it holds and how far round it, in mm on the flat sheet; then from when to when, in "
                       "percent. Enter puts it on."));
  connect(clip_, &QLineEdit::returnPressed, this, &CollapseStage::add_clip);
  clip_field_ = new Field(tr("C&lip at x,y,radius:from-to"), clip_);
  choices_->add(clip_field_);
  remove_clip_ = new QPushButton(tr("Take this cl&ip away"));
  remove_clip_->setObjectName("remove-clip");
  remove_clip_->setEnabled(false);
  connect(remove_clip_, &QPushButton::clicked, this, &CollapseStage::remove_clip);
  choices_->add(remove_clip_);
}

void CollapseStage::add_clip() {
  const auto clip = parse_clip(clip_->text().toStdString());
  if (!clip) return clip_field_->set_error(tr("To put a clip on, %1.").arg(QString::fromStdString(clip.error())));
  if (frames_.mesh) {
    ClosingPlan alone;
    alone.clips = {*clip};
    if (const auto ok = check_plan(*frames_.mesh, alone); !ok)
      return clip_field_->set_error(QString::fromStdString(ok.error()));
  }
  if (workspace_.document.project().closing.clips.size() >= static_cast<std::size_t>(most_clips))
    return clip_field_->set_error(tr("There are %1 clips already; take one away first.").arg(most_clips));
  clip_field_->set_error({});
  clip_->clear();
  change_plan(tr("Put a clip on"), [&](ClosingPlan& plan) { plan.clips.push_back(*clip); });
}

void CollapseStage::remove_clip() {
  const int row = clips_->currentRow();
  if (row < 0) return;
  change_plan(tr("Take a clip away"), [row](ClosingPlan& plan) {
    if (static_cast<std::size_t>(row) < plan.clips.size()) plan.clips.erase(plan.clips.begin() + row);
  });
}

void CollapseStage::build_looks() {
  choices_->add_section(tr("WHAT IS SHOWN"));
  shown_ = new QComboBox;
  shown_->setObjectName("collapse-shown");
  shown_->addItems({tr("Paper and creases"), tr("Strain in the paper"), tr("Under a lamp")});
  connect(shown_, &QComboBox::activated, this, [this](int i) { set_shown(static_cast<Shown>(i)); });
  choices_->add(new Field(tr("&Show"), shown_));
  let_go_ = new QCheckBox(tr("Let &go of it"));
  let_go_->setObjectName("let-go");
  let_go_->setToolTip(tr("Creases spring back as this paper does, the sheet sags under its weight and stands on the "
                         "table. How far creases spring back is a rule of the house, not measured."));
  connect(let_go_, &QCheckBox::toggled, this, &CollapseStage::let_go_of_it);
  choices_->add(let_go_);
  const auto slider = [this](const char* name, int least, int most, int value) {
    auto* s = new QSlider(Qt::Horizontal);
    s->setObjectName(name);
    s->setRange(least, most);
    s->setValue(value);
    connect(s, &QSlider::valueChanged, this, [this] { show_state(); });
    return s;
  };
  azimuth_ = slider("lamp-azimuth", 0, 359, 120);
  height_ = slider("lamp-height", 3, 90, 35);
  spread_ = slider("lamp-spread", 10, 121, 121); // the last of them: from far away
  spread_->setToolTip(
      tr("How wide the cone of a spot lamp is, from 10 to 120 degrees. At the right end the light comes "
         "from far away, all in one direction."));
  for (auto* field : {new Field(tr("Lamp stands &round"), azimuth_), new Field(tr("Lamp stands &high"), height_),
                      new Field(tr("Light &spreads"), spread_)}) {
    choices_->add(field);
    lamp_fields_.push_back(field);
    field->hide();
  }
  sweep_ = new QPushButton(tr("Save a s&weep of the lamp ..."));
  sweep_->setObjectName("lamp-sweep");
  sweep_->setToolTip(tr("Twelve pictures in one, the lamp once round the sheet."));
  connect(sweep_, &QPushButton::clicked, this, [this] {
    const QString path =
        ask_where_to_write(choices_, tr("Save a sweep of the lamp"), {}, filters_for(FileUse::write_still));
    if (path.isEmpty()) return;
    workspace_.say_written(path, save_sweep(path));
  });
  choices_->add(sweep_);
  lamp_fields_.push_back(sweep_);
  sweep_->hide();
  save_ = new QPushButton(tr("Sa&ve ..."));
  save_->setObjectName("save-collapse");
  save_->setToolTip(tr("The sheet as it stands: a model (.obj, .stl, .glb) or a picture with a clear ground (.png)."));
  connect(save_, &QPushButton::clicked, this, [this] {
    const QString path = ask_where_to_save_space(choices_, tr("Save the sheet in space"));
    if (path.isEmpty()) return;
    workspace_.say_written(path, save(path));
  });
  choices_->add(save_);
}

} // namespace uc::app
