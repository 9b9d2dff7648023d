#include "base/theme.h"

#include "programme/line_look.h"

#include <QApplication>
#include <QDir>
#include <QFontDatabase>
#include <QPalette>

#include <algorithm>

namespace uc::app {
namespace {

Theme& active() {
  static Theme theme;
  return theme;
}

QColor mix(const QColor& a, const QColor& b, double t) {
  return QColor::fromRgbF(static_cast<float>(a.redF() + (b.redF() - a.redF()) * t),
                          static_cast<float>(a.greenF() + (b.greenF() - a.greenF()) * t),
                          static_cast<float>(a.blueF() + (b.blueF() - a.blueF()) * t));
}

QString style_sheet(const Theme& t) {
  QString css = QStringLiteral(R"(
QWidget { color: @ink; font-family: "Inter"; font-size: 10pt; }
QMainWindow, QDialog { background: @bench; }
QMenuBar { background: @bench; } QMenuBar::item { padding: 4px 10px; background: transparent; }
QMenuBar::item:selected, QMenu::item:selected { background: @accent; color: @field; }
QMenu { background: @panel; border: 1px solid @edge; padding: 4px; } QMenu::item { padding: 5px 24px; }
QMenu::item:disabled { color: @soft; } QMenu::separator { height: 1px; background: @edge; margin: 4px 8px; }
#choices, #ledger, #ledger-foot { background: @panel; } #ledger-foot { border-left: 1px solid @edge; border-top: 1px solid @edge; }
#choices { border-right: 1px solid @edge; } #ledger { border-left: 1px solid @edge; }
QScrollArea, QScrollArea > QWidget > QWidget { background: transparent; border: none; }
QLabel { background: transparent; } [role="waiting"] { background: @bench; }
QLabel[role="title"] { font-size: 12pt; font-weight: 600; }
QLabel[role="section"] { color: @soft; font-size: 9pt; font-weight: 600; padding: 6px 0 0 0; qproperty-indent: 0; }
QLabel[role="hint"] { color: @soft; font-size: 9pt; }
QLabel[role="good"] { color: @good; } QLabel[role="caution"] { color: @caution; }
QLabel[role="error"] { color: @caution; font-size: 9pt; }
QLineEdit, QSpinBox, QDoubleSpinBox, QComboBox, QPlainTextEdit {
  background: @field; border: 1px solid @edge; border-radius: 4px; padding: 4px 6px; min-height: 18px;
  selection-background-color: @accent; selection-color: @field; }
QLineEdit:focus, QSpinBox:focus, QDoubleSpinBox:focus, QComboBox:focus, QPlainTextEdit:focus { border: 2px solid @accent; padding: 3px 5px; }
QLineEdit[wrong="true"], QSpinBox[wrong="true"] { border: 2px solid @caution; padding: 3px 5px; }
QComboBox QAbstractItemView { background: @field; border: 1px solid @edge; selection-background-color: @accent; selection-color: @field; }
QComboBox::drop-down { border: none; width: 20px; }
QComboBox::down-arrow { image: url(@icons/down-@mode.svg); width: 10px; height: 10px; }
QPushButton { background: @field; border: 1px solid @edge; border-radius: 4px; padding: 6px 12px; }
QPushButton:hover { border-color: @accent; } QPushButton:focus { border: 2px solid @accent; padding: 5px 11px; }
QPushButton:pressed { background: @edge; } QPushButton:disabled { color: @soft; background: transparent; }
QPushButton[role="go"] { background: @accent; color: @field; border-color: @accent; font-weight: 600; }
QPushButton[role="go"]:focus { border: 2px solid @ink; }
QPushButton[role="go"]:disabled { background: @edge; color: @soft; border-color: @edge; }
QPushButton[role="quiet"] { background: transparent; border: 1px solid transparent; padding: 4px 6px; text-align: left; }
QPushButton[role="quiet"]:hover { border-color: @edge; } QPushButton[role="quiet"]:focus { border: 1px solid @accent; }
QSpinBox::up-button, QSpinBox::down-button { border: none; background: transparent; width: 22px; }
QSpinBox::up-arrow { image: url(@icons/up-@mode.svg); width: 9px; height: 9px; } QSpinBox::down-arrow { image: url(@icons/down-@mode.svg); width: 9px; height: 9px; }
QCheckBox::indicator { width: 14px; height: 14px; border: 1px solid @soft; border-radius: 3px; background: @field; }
QCheckBox::indicator:checked { background: @accent; border-color: @accent; image: url(@icons/tick-@mode.svg); }
QCheckBox, QRadioButton { spacing: 8px; padding: 2px 0; background: transparent; }
QCheckBox:focus, QRadioButton:focus { color: @accent; }
QTableView { background: @field; alternate-background-color: @panel; border: 1px solid @edge; gridline-color: transparent;
  selection-background-color: @accent; selection-color: @field; }
QHeaderView { background: @panel; } QHeaderView::section { background: @panel; border: none; border-bottom: 1px solid @edge; padding: 5px 8px; font-weight: 600; font-size: 9pt; }
QTableCornerButton::section { background: @panel; border: none; }
QListView { background: transparent; border: none; }
QToolTip { background: @ink; color: @bench; border: none; padding: 6px; }
QScrollBar:vertical { background: transparent; width: 10px; } QScrollBar:horizontal { background: transparent; height: 10px; }
QScrollBar::handle { background: @edge; border-radius: 4px; min-width: 24px; min-height: 24px; margin: 2px; }
QScrollBar::add-line, QScrollBar::sub-line, QScrollBar::add-page, QScrollBar::sub-page { background: none; border: none; width: 0; height: 0; }
QSplitter::handle { background: transparent; }
#notices { background: @bench; border-top: 1px solid @edge; }
#notices[asks="true"], #notice-panel { background: @ink; } #notices[asks="true"] QLabel, #notice-panel QLabel { color: @bench; }
#notices QPushButton, #notice-panel QPushButton { background: transparent; color: @bench; border-color: @bench; padding: 4px 10px; }
#notices QPushButton:focus, #notice-panel QPushButton:focus { border: 2px solid @bench; padding: 3px 9px; }
QProgressBar { background: @field; border: 1px solid @edge; border-radius: 4px; text-align: center; } QProgressBar::chunk { background: @accent; }
)");
  const std::pair<const char*, QString> values[] = {{"@bench", t.bench.name()},
                                                    {"@panel", t.panel.name()},
                                                    {"@edge", t.panel_edge.name()},
                                                    {"@ink", t.ink.name()},
                                                    {"@soft", t.soft_ink.name()},
                                                    {"@field", t.field.name()},
                                                    {"@accent", t.accent.name()},
                                                    {"@caution", t.caution.name()},
                                                    {"@good", t.good.name()},
                                                    {"@icons", data_folder() + "/icons"},
                                                    {"@mode", t.dark ? "dark" : "light"}};
  for (const auto& [key, value] : values) css.replace(QLatin1String(key), value);
  return css;
}

} // namespace

QString data_folder() {
  const QString installed = QStringLiteral(UC_INSTALLED_DATA_DIR);
  return QDir(installed).exists() ? installed : QStringLiteral(UC_DATA_DIR);
}

QString load_fonts() {
  const QString folder = data_folder() + "/fonts";
  static const bool once = [&] {
    for (const QString& file : QDir(folder).entryList({"*.otf", "*.ttf"})) {
      QFontDatabase::addApplicationFont(folder + "/" + file);
    }
    return true;
  }();
  Q_UNUSED(once)
  return folder;
}

Theme make_theme(ThemeChoice choice) {
  static const bool desktop_is_dark = QApplication::palette().color(QPalette::Window).lightness() < 110;
  Theme t;
  t.dark = choice == ThemeChoice::dark || (choice == ThemeChoice::desktop && desktop_is_dark);
  if (t.dark) {
    t.bench = "#23252A", t.panel = "#2B2E34", t.panel_edge = "#44474E", t.ink = "#ECE8DF", t.soft_ink = "#B3AEA3";
    t.field = "#1D1F23", t.accent = "#5FC7AE", t.caution = "#FF8A80", t.good = "#7CCB8F";
  } else {
    t.bench = "#E7E2D8", t.panel = "#F1EDE4", t.panel_edge = "#CFC8B8", t.ink = "#26241F", t.soft_ink = "#615C51";
    t.field = "#FCFAF5", t.accent = "#14735F", t.caution = "#B3261E", t.good = "#2E6E3E";
  }
  const auto line = [&](LineStyle style) { return QColor(t.dark ? look_of(style).on_dark : look_of(style).colour); };
  t.mountain = line(LineStyle::mountain), t.valley = line(LineStyle::valley), t.pinch = line(LineStyle::pinch);
  t.undirected = line(LineStyle::undirected), t.unfolded = line(LineStyle::unfolded);
  return t;
}

void apply_theme(const Theme& theme) {
  active() = theme;
  QPalette p;
  p.setColor(QPalette::Window, theme.bench);
  p.setColor(QPalette::WindowText, theme.ink);
  p.setColor(QPalette::Base, theme.field);
  p.setColor(QPalette::AlternateBase, theme.panel);
  p.setColor(QPalette::Text, theme.ink);
  p.setColor(QPalette::Button, theme.panel);
  p.setColor(QPalette::ButtonText, theme.ink);
  p.setColor(QPalette::Highlight, theme.accent);
  p.setColor(QPalette::HighlightedText, theme.field);
  p.setColor(QPalette::PlaceholderText, theme.soft_ink);
  p.setColor(QPalette::ToolTipBase, theme.ink);
  p.setColor(QPalette::ToolTipText, theme.bench);
  QApplication::setPalette(p);
  QApplication::setFont(text_font(10));
  qApp->setStyleSheet(style_sheet(theme));
}

const Theme& current_theme() { return active(); }

QFont text_font(double points, int weight) {
  QFont f("Inter");
  f.setPointSizeF(points);
  f.setWeight(static_cast<QFont::Weight>(weight));
  return f;
}

QFont mono_font(double points) {
  QFont f("JetBrains Mono");
  f.setPointSizeF(points);
  return f;
}

QPen pen_for(LineStyle style, double scale) {
  // Drawn on paper, whose colours do not change with the theme.
  const LineLook& look = look_of(style);
  QPen pen(QColor(look.colour), look.width * scale);
  pen.setCapStyle(Qt::FlatCap);
  if (!look.dash.empty()) pen.setDashPattern(QList<qreal>(look.dash.begin(), look.dash.end()));
  return pen;
}

QColor error_colour(double sigma, double hand_sigma, const Theme&) {
  const QColor low("#14735F");
  const QColor middle("#C47A00");
  const QColor high("#B3261E");
  const double r = hand_sigma > 0 ? sigma / hand_sigma : 1;
  if (r <= 1) return low;
  if (r <= 2) return mix(low, middle, r - 1);
  return mix(middle, high, std::min(1.0, (r - 2) / 2));
}

} // namespace uc::app
