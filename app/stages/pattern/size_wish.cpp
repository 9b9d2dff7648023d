#include "stages/pattern/size_wish.h"

#include "base/expression.h"
#include "collapse/closed_size.h"
#include "project/piece.h"
#include "widgets/field.h"

#include <QLineEdit>
#include <QVBoxLayout>

#include <algorithm>

namespace uc::app {
namespace {

/// Three lengths with x between them.
Result<std::array<double, 3>> box_typed(const QString& text, LengthUnit unit) {
  const QStringList sides = text.split('x');
  const Error wrong{"Type width x depth x height, such as 80 x 60 x 25."};
  if (sides.size() != 3) return wrong;
  std::array<double, 3> box{};
  for (qsizetype i = 0; i < 3; ++i) {
    const auto length = parse_length(sides[i].trimmed().toStdString(), unit);
    if (!length) return Error{length.error()};
    if (!(length->value > 0)) return wrong;
    box.at(static_cast<std::size_t>(i)) = length->value;
  }
  return box;
}

} // namespace

SizeWish::SizeWish(Workspace& workspace, QWidget* parent)
    : QWidget(parent), workspace_(workspace), finished_(new QLineEdit), inside_(new QLineEdit),
      closing_([this](Closed c) {
        closed_ = std::move(c);
        closing_of_.reset();
        load();
        emit measured();
      }),
      working_([this](Answer a) { told(std::move(a)); }) {
  finished_->setObjectName("wanted-size");
  finished_field_ = new Field(tr("Finished si&ze wanted"), finished_);
  finished_->setToolTip(tr("The longer side of the finished piece, of a wrap its packed width. The sheet, or the "
                           "lengths that make it, are worked back from it."));
  inside_->setObjectName("wanted-inside");
  inside_field_ = new Field(tr("&Inside wanted"), inside_);
  inside_->setToolTip(tr("Width x depth x height that must fit in."));
  auto* box = new QVBoxLayout(this);
  box->setContentsMargins(0, 0, 0, 0);
  box->setSpacing(4);
  box->addWidget(finished_field_);
  box->addWidget(inside_field_);
  connect(finished_, &QLineEdit::returnPressed, this, &SizeWish::finish_typed);
  connect(inside_, &QLineEdit::returnPressed, this, &SizeWish::inside_typed);
}

void SizeWish::load() {
  const auto drawn = workspace_.document.pattern();
  const auto& inside = drawn->figures.inside_mm;
  inside_field_->setVisible(inside.has_value());
  const auto mm = [this](double v) { return workspace_.length(v); };
  if (inside) inside_->setPlaceholderText(tr("%1 x %2 x %3").arg(mm((*inside)[0]), mm((*inside)[1]), mm((*inside)[2])));
  measure();
  const auto finished = finished_size();
  const double now = finished ? finished->x() : 0;
  finished_->setPlaceholderText(now > 0 ? tr("now %1; Enter works back").arg(mm(now))
                                        : tr("type it; Enter works back"));
}

void SizeWish::measure() {
  const auto drawn = workspace_.document.pattern();
  const auto& choice = workspace_.document.project().pattern.family;
  const bool wanted = choice && drawn->wrong.empty() && !drawn->healed.pattern.edges.empty();
  if (!wanted || closed_.of == drawn) {
    closing_of_.reset();
    return closing_.give_up();
  }
  if (closing_of_ == drawn) return;
  closing_of_ = drawn;
  closing_.begin([drawn](Progress& progress) {
    FinishedMeasure measured(&progress);
    const auto size = measured(*drawn);
    return Closed{drawn, size, measured.by_collapse()};
  });
}

std::optional<Eigen::Vector3d> SizeWish::finished_size() const {
  return closed_.of == workspace_.document.pattern() ? closed_.size : std::nullopt;
}
bool SizeWish::by_collapse() const { return finished_size() && closed_.by_collapse; }

void SizeWish::finish_typed() {
  const auto length = parse_length(finished_->text().toStdString(), workspace_.document.project().unit);
  if (!length || !(length->value > 0)) {
    finished_field_->set_error(length ? tr("Type a length above 0.") : QString::fromStdString(length.error()));
    return;
  }
  begin(finished_field_, [mm = length->value](const SizedFamily& now) {
    FinishedMeasure size_of;
    return sized_to_finish(now, mm, [&](const DrawnPattern& drawn) { return size_of(drawn); });
  });
}

void SizeWish::inside_typed() {
  const auto box = box_typed(inside_->text(), workspace_.document.project().unit);
  if (!box) return inside_field_->set_error(QString::fromStdString(box.error()));
  begin(inside_field_, [wanted = *box](const SizedFamily& now) { return sized_to_hold(now, wanted); });
}

void SizeWish::begin(Field* field, Work work) {
  field->set_error({});
  const Project& p = workspace_.document.project();
  if (!p.pattern.family) return;
  const PatternFamily* family = find_pattern_family(p.pattern.family->name);
  if (family && !family->own_sheet && !piece_of(p).whole)
    return field->set_error(tr("The piece is cut from a larger sheet; change the cut in Mark, or the sheet."));
  const auto choice = completed(*p.pattern.family);
  if (!choice) return field->set_error(QString::fromStdString(choice.error()));
  working_.begin([now = SizedFamily{*choice, p.sheet}, field, work = std::move(work)](Progress&) {
    return Answer{field, work(now)};
  });
}

void SizeWish::told(Answer answer) {
  if (!answer.settings) {
    QString said = QString::fromStdString(answer.settings.error());
    if (!said.isEmpty()) said[0] = said[0].toUpper();
    if (!said.endsWith('.')) said += '.';
    return answer.field->set_error(said);
  }
  for (QLineEdit* line : {finished_, inside_}) line->clear();
  emit worked_back(*answer.settings);
}

} // namespace uc::app
