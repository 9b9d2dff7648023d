#include "stages/pattern/value_trials.h"

#include "base/index.h"
#include "paper/stock.h"
#include "pattern/pattern_figure.h"
#include "project/piece.h"

#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <QSignalBlocker>
#include <QVBoxLayout>

#include <algorithm>

namespace uc::app {
namespace {

constexpr int settle_ms = 120;

enum Against { picked_value, kept_settings };

bool same(const SizedFamily& a, const SizedFamily& b) {
  return a.choice == b.choice && a.sheet.code() == b.sheet.code();
}

} // namespace

ValueTrials::ValueTrials(Workspace& workspace, QWidget* parent)
    : QWidget(parent), workspace_(workspace), parameter_(new QComboBox),
      keep_(new QPushButton(tr("&Keep these settings"))), take_(new QPushButton(tr("&Use what is picked"))),
      against_(new QComboBox), plot_(new SweepPlot), wrong_(new QLabel),
      waiting_(new WaitingStrip(tr("Trying the values"), "cancel-trials")), now_(new PaperView), beside_(new PaperView),
      trying_([this](Trial t) { show_trial(std::move(t)); }, [this] { waiting_->end(); }),
      drawing_([this](Beside b) { show_beside(std::move(b)); }) {
  parameter_->setObjectName("tried-parameter");
  parameter_->setAccessibleName(tr("The value that is tried"));
  connect(parameter_, &QComboBox::activated, this, &ValueTrials::begin);
  against_->setObjectName("trial-against");
  against_->setAccessibleName(tr("What stands beside"));
  against_->addItem(tr("Beside: the value picked on the plot"));
  against_->addItem(tr("Beside: the settings kept"));
  connect(against_, &QComboBox::activated, this, &ValueTrials::draw_beside);
  keep_->setObjectName("keep-settings");
  keep_->setToolTip(tr("They stay beside whatever you change now."));
  connect(keep_, &QPushButton::clicked, this, &ValueTrials::keep);
  take_->setObjectName("take-value");
  connect(take_, &QPushButton::clicked, this, &ValueTrials::take);
  connect(plot_, &SweepPlot::picked_changed, this, [this] {
    against_->setCurrentIndex(picked_value);
    draw_beside();
  });
  connect(plot_, &SweepPlot::taken, this, &ValueTrials::take);
  wrong_->setWordWrap(true);
  wrong_->setProperty("role", "error");
  wrong_->setObjectName("trial-wrong");

  auto* head = new QHBoxLayout;
  head->addWidget(new QLabel(tr("Try")));
  head->addWidget(parameter_);
  head->addStretch(1);
  head->addWidget(keep_);
  auto* papers = new QHBoxLayout;
  papers->setSpacing(8);
  papers->addWidget(paper_column(now_, now_text_, tr("As it is now")), 1);
  papers->addWidget(paper_column(beside_, beside_text_, tr("Beside it")), 1);
  auto* foot = new QHBoxLayout;
  foot->addWidget(against_);
  foot->addStretch(1);
  foot->addWidget(take_);
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(16, 12, 16, 4);
  column->setSpacing(6);
  column->addLayout(head);
  column->addWidget(plot_, 5);
  column->addWidget(wrong_);
  column->addWidget(waiting_);
  column->addLayout(papers, 4);
  column->addLayout(foot);
  delay_.setSingleShot(true);
  delay_.setInterval(settle_ms);
  connect(&delay_, &QTimer::timeout, this, &ValueTrials::begin);
}

QWidget* ValueTrials::paper_column(PaperView* paper, QLabel*& caption, const QString& name) {
  auto* column = new QWidget;
  auto* box = new QVBoxLayout(column);
  box->setContentsMargins(0, 0, 0, 0);
  box->setSpacing(2);
  caption = new QLabel(name);
  caption->setWordWrap(true);
  paper->setAccessibleName(name);
  paper->set_bare(true);
  paper->setMinimumSize(120, 84);
  box->addWidget(caption);
  box->addWidget(paper, 1);
  return column;
}

std::optional<SizedFamily> ValueTrials::settings() const {
  const Project& p = workspace_.document.project();
  if (!p.pattern.family) return std::nullopt;
  const auto choice = completed(*p.pattern.family);
  if (!choice) return std::nullopt;
  return SizedFamily{*choice, drawn_sheet(p)};
}

std::string ValueTrials::parameter() const { return parameter_->currentData().toString().toStdString(); }

void ValueTrials::fill_parameters(const PatternFamily& family) {
  if (family.name == family_) return;
  family_ = family.name;
  const QSignalBlocker quiet(parameter_);
  parameter_->clear();
  for (const Parameter& p : family.parameters)
    if (p.type != ParameterType::choice) parameter_->addItem(tr(p.title.c_str()), QString::fromStdString(p.name));
}

void ValueTrials::showEvent(QShowEvent*) { load(); }

void ValueTrials::load() {
  const auto now = settings();
  for (QWidget* w : std::initializer_list<QWidget*>{parameter_, keep_, take_}) w->setEnabled(now.has_value());
  if (!now) {
    family_.clear();
    parameter_->clear();
    trial_.reset();
    shown_beside_.reset();
    plot_->show_sweep({});
    wrong_->setText(tr("Values are tried of families. Choose one on the left."));
    return;
  }
  fill_parameters(*find_pattern_family(now->choice.name));
  if (trial_ && trial_->of.choice.name != now->choice.name) { // its values are not this family's
    trial_.reset();
    plot_->show_sweep({});
  }
  show_now();
  if (isVisible() && (!trial_ || !same(trial_->of, *now) || trial_->parameter != parameter())) delay_.start();
  draw_beside();
}

void ValueTrials::begin() {
  const auto now = settings();
  if (!now || parameter().empty()) return;
  wrong_->setText({});
  trying_.begin(
      [of = *now, name = parameter()](Progress& progress) {
        return Trial{of, name, tried(of, name, &progress)};
      },
      waiting_->begin());
}

void ValueTrials::show_trial(Trial trial) {
  waiting_->end();
  trial_ = std::move(trial);
  if (!trial_->values) {
    wrong_->setText(tr("The values were not tried: %1").arg(QString::fromStdString(trial_->values.error())));
    return plot_->show_sweep({});
  }
  plot_->show_sweep(sweep_of(*trial_));
  const int none = static_cast<int>(std::count_if(trial_->values->begin(), trial_->values->end(),
                                                  [](const TriedValue& v) { return !v.refused.empty(); }));
  wrong_->setText(none == 0 ? QString()
                            : tr("Crosses mark values at which nothing can be drawn; pick one to see why."));
}

Sweep ValueTrials::sweep_of(const Trial& trial) const {
  const Project& project = workspace_.document.project();
  const Parameter* varied = find_pattern_family(trial.of.choice.name)->parameter(trial.parameter);
  Sweep sweep;
  sweep.axis = tr(varied->title.c_str());
  sweep.whole = varied->type == ParameterType::integer;
  sweep.text = [this, p = *varied](double v) {
    if (p.type == ParameterType::mm) return workspace_.length(v);
    return QString::fromStdString(format_number(v, p.type == ParameterType::integer ? 0 : 3)) +
           (p.type == ParameterType::degrees ? QStringLiteral("°") : QString());
  };
  const auto mm = [this](double v) { return workspace_.length(v); };
  const double current = trial.of.choice.values.at(trial.parameter);
  SweepBand finished{tr("finished, longer side"), mm, {}, {}, {}};
  SweepBand sheet{tr("sheet it needs"), mm, {}, {}, {}};
  const Point at_hand = bounding_box(trial.of.sheet.outline()).size();
  const PleatAdvice advice = pleat_advice(1e9, project.stock, 0);
  SweepBand pleat{tr("narrowest pleat"), mm, {}, advice.least_pleat_mm, advice.at_all_mm};
  SweepBand layers{tr("layers, at most"),
                   [this](double n) {
                     return tr("%1, %2")
                         .arg(n, 0, 'f', 0)
                         .arg(workspace_.length(n * workspace_.document.project().stock.caliper_mm));
                   },
                   {},
                   {},
                   {}};
  for (const TriedValue& v : *trial.values) {
    sweep.values.push_back(v.value);
    sweep.refused.push_back(QString::fromStdString(v.refused));
    if (std::abs(v.value - current) < 1e-9) sweep.now = static_cast<int>(sweep.values.size()) - 1;
    const bool drawn = v.refused.empty();
    const auto known = [&](double figure, bool is) {
      return is && drawn ? std::optional<double>(figure) : std::nullopt;
    };
    finished.figures.push_back(v.finished_mm ? known(v.finished_mm->maxCoeff(), true) : std::nullopt);
    sheet.figures.push_back(known(v.sheet_mm.maxCoeff(), v.sheet_mm.maxCoeff() > 0));
    pleat.figures.push_back(known(v.pleat_mm, v.pleat_mm > 0));
    layers.figures.push_back(known(v.layers, v.layers > 0));
  }
  const auto any = [](const SweepBand& band) {
    return std::any_of(band.figures.begin(), band.figures.end(), [](const auto& f) { return f.has_value(); });
  };
  const bool sheet_varies = std::any_of(sheet.figures.begin(), sheet.figures.end(),
                                        [&](const auto& f) { return f && std::abs(*f - at_hand.maxCoeff()) > 1e-6; });
  if (any(finished)) sweep.bands.push_back(std::move(finished));
  if (sheet_varies) sweep.bands.push_back(std::move(sheet));
  if (any(pleat)) sweep.bands.push_back(std::move(pleat));
  if (any(layers)) sweep.bands.push_back(std::move(layers));
  return sweep;
}

void ValueTrials::show_on(PaperView* paper, const DrawnPattern& drawn) {
  const Project& p = workspace_.document.project();
  Figure figure = pattern_figure(drawn.healed.pattern);
  if (figure.outline.empty()) figure.outline = drawn_sheet(p).outline();
  paper->set_unit(p.unit);
  paper->set_paper(QColor(QString::fromStdString(p.stock.face)), QColor(QString::fromStdString(p.stock.underside)));
  paper->show_figure(std::move(figure));
}

QString ValueTrials::caption_of(const TriedValue& f) const {
  const auto mm = [this](double v) { return workspace_.length(v); };
  if (!f.refused.empty()) return QString::fromStdString(f.refused);
  QStringList words;
  if (f.finished_mm) words << tr("finished %1 x %2").arg(mm(f.finished_mm->x()), mm(f.finished_mm->y()));
  words << tr("pleat %1").arg(mm(f.pleat_mm));
  if (f.layers > 0) words << tr("%1 layers").arg(f.layers);
  words << tr("%1 creases").arg(f.creases);
  return words.join(QStringLiteral(" · "));
}

void ValueTrials::show_now() {
  show_on(now_, *workspace_.document.pattern());
  QString text = tr("<b>Now</b>");
  const auto now = settings();
  if (trial_ && trial_->values && now && same(trial_->of, *now) && plot_->sweep().now >= 0)
    text += "<br>" + caption_of((*trial_->values)[at(plot_->sweep().now)]);
  now_text_->setText(text);
}

void ValueTrials::draw_beside() {
  const auto now = settings();
  const bool kept = against_->currentIndex() == kept_settings;
  take_->setText(kept ? tr("&Use the kept settings") : tr("&Use what is picked"));
  std::optional<SizedFamily> wanted;
  if (kept) {
    wanted = kept_;
  } else if (now && trial_ && trial_->values && plot_->picked() >= 0) {
    wanted = trial_->of;
    wanted->choice.values[trial_->parameter] = plot_->sweep().values[at(plot_->picked())];
  }
  take_->setEnabled(now && wanted && !same(*wanted, *now));
  show_now();
  if (!wanted) {
    drawing_.give_up();
    shown_beside_.reset();
    beside_->show_figure({});
    beside_text_->setText(kept ? tr("Nothing is kept yet. Keep these settings, then change some.") : QString());
    return;
  }
  if (shown_beside_ && same(*shown_beside_, *wanted)) return drawing_.give_up();
  drawing_.begin([of = *wanted](Progress& progress) {
    DrawnPattern drawn = drawn_pattern(of);
    const TriedValue figures = figures_of(of, drawn, &progress);
    return Beside{of, std::move(drawn), figures};
  });
}

void ValueTrials::show_beside(Beside beside) {
  shown_beside_ = beside.settings;
  if (beside.figures.refused.empty())
    show_on(beside_, beside.drawn);
  else
    beside_->show_figure({});
  const PatternFamily* family = find_pattern_family(beside.settings.choice.name);
  QString title = tr("<b>%1</b>").arg(tr(family->title.c_str()));
  if (against_->currentIndex() == picked_value && trial_) {
    const Parameter* varied = family->parameter(trial_->parameter);
    const auto value = beside.settings.choice.values.find(trial_->parameter);
    if (varied && value != beside.settings.choice.values.end() && plot_->sweep().text)
      title = tr("<b>%1 %2</b>").arg(tr(varied->title.c_str()), plot_->sweep().text(value->second));
  }
  beside_text_->setText(title + "<br>" + caption_of(beside.figures));
}

void ValueTrials::keep() {
  kept_ = settings();
  against_->setCurrentIndex(kept_settings);
  draw_beside();
}

void ValueTrials::take() {
  if (against_->currentIndex() == kept_settings) {
    if (kept_) emit settings_taken(*kept_);
    return;
  }
  if (!trial_ || !trial_->values || plot_->picked() < 0) return;
  emit value_taken(QString::fromStdString(trial_->parameter), plot_->sweep().values[at(plot_->picked())]);
}

} // namespace uc::app
