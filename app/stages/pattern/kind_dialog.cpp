#include "stages/pattern/kind_dialog.h"
#include "widgets/dialog_size.h"

#include <QComboBox>
#include <QCryptographicHash>
#include <QDialogButtonBox>
#include <QGridLayout>
#include <QLabel>
#include <QScrollArea>
#include <QSettings>
#include <QVBoxLayout>

namespace uc::app {
namespace {

QString settings_key(const LineWork& work) {
  const QByteArray marks = QByteArray::fromStdString(signature(work));
  return "kinds/" + QCryptographicHash::hash(marks, QCryptographicHash::Sha256).toHex().left(24);
}

QString mark_text(const KindRule& rule) {
  const QString value = QString::fromStdString(rule.value);
  switch (rule.by) {
  case KindRule::By::css_class:
    return KindDialog::tr("class %1").arg(value);
  case KindRule::By::layer:
    return KindDialog::tr("layer %1").arg(value);
  case KindRule::By::colour:
    return KindDialog::tr("colour %1").arg(value);
  case KindRule::By::dash:
    return KindDialog::tr("dashes %1").arg(value);
  }
  return value;
}

} // namespace

KindDialog::KindDialog(const LineWork& work, QWidget* parent) : QDialog(parent) {
  setWindowTitle(tr("What do these lines mean?"));
  auto* all = new QVBoxLayout(this);
  auto* head =
      new QLabel(tr("The drawing does not say which of its lines are creases. Choose for each sort of line; the "
                    "answer is kept for drawings of the same origin."));
  head->setWordWrap(true);
  all->addWidget(head);
  auto* content = new QWidget;
  auto* grid = new QGridLayout(content);
  const auto unknown = unknown_lines(work, {});
  for (std::size_t i = 0; i < unknown.size(); ++i) {
    const auto& u = unknown[i];
    auto* kind = new QComboBox;
    kind->addItem(tr("Leave out"));
    for (const EdgeKind k :
         {EdgeKind::mountain, EdgeKind::valley, EdgeKind::undirected, EdgeKind::raw, EdgeKind::unfolded, EdgeKind::cut})
      kind->addItem(tr(name_of(k).c_str()), static_cast<int>(k));
    kind->setCurrentIndex(3);
    kind->setObjectName(QString("kind-%1").arg(i));
    auto* swatch = new QLabel;
    if (u.rule.by == KindRule::By::colour && QColor::isValidColor(QString::fromStdString(u.rule.value)))
      swatch->setStyleSheet(
          QString("background:%1;min-width:28px;max-height:4px").arg(QString::fromStdString(u.rule.value)));
    auto* name = new QLabel(u.count == 1 ? tr("%1: 1 line").arg(mark_text(u.rule))
                                         : tr("%1: %2 lines").arg(mark_text(u.rule)).arg(u.count));
    name->setBuddy(kind);
    kind->setAccessibleName(name->text());
    const int row = static_cast<int>(i);
    grid->addWidget(swatch, row, 0);
    grid->addWidget(name, row, 1);
    grid->addWidget(kind, row, 2);
    rows_.emplace_back(u.rule, kind);
  }
  auto* scroll = new QScrollArea;
  scroll->setWidgetResizable(true);
  scroll->setWidget(content);
  all->addWidget(scroll, 1);
  auto* buttons = new QDialogButtonBox(QDialogButtonBox::Ok | QDialogButtonBox::Cancel);
  connect(buttons, &QDialogButtonBox::accepted, this, &QDialog::accept);
  connect(buttons, &QDialogButtonBox::rejected, this, &QDialog::reject);
  all->addWidget(buttons);
  open_at_most(*this, {460, 320});
}

KindMapping KindDialog::mapping() const {
  KindMapping out;
  for (const auto& [rule, box] : rows_) {
    KindRule r = rule;
    if (const QVariant kind = box->currentData(); kind.isValid()) r.kind = static_cast<EdgeKind>(kind.toInt());
    out.push_back(r);
  }
  return out;
}

std::optional<KindMapping> chosen_mapping(const LineWork& work, QWidget* parent) {
  if (unknown_lines(work, {}).empty()) return KindMapping{};
  QSettings settings;
  KindMapping kept;
  for (const QString& text : settings.value(settings_key(work)).toStringList()) {
    if (auto rule = parse_kind_rule(text.toStdString())) kept.push_back(*rule);
  }
  if (!kept.empty() && unknown_lines(work, kept).empty()) return kept;
  KindDialog dialog(work, parent);
  if (dialog.exec() != QDialog::Accepted) return std::nullopt;
  const KindMapping mapping = dialog.mapping();
  QStringList texts;
  for (const KindRule& r : mapping) texts << QString::fromStdString(kind_rule_text(r));
  settings.setValue(settings_key(work), texts);
  return mapping;
}

} // namespace uc::app
