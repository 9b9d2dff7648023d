// What the program has to say, at the foot of the window: a bar of fixed height with the newest notice, and above it
// the list of all of them: on demand, and by itself where the newest hides buttons of an earlier one or does not fit
// into the bar. Nothing else in the window moves for a notice.
#pragma once

#include "base/notice.h"

#include <QFrame>
#include <QWidget>

#include <vector>

class QHBoxLayout;
class QLabel;
class QPushButton;
class QScrollArea;
class QVBoxLayout;

namespace uc::app {

class NoticeList : public QWidget {
  Q_OBJECT
public:
  /// `body` is the widget above which the list opens.
  explicit NoticeList(QWidget* body);

  /// Adds a notice. One of the same `key` is replaced in its place; without a key the sentence is its own. An empty
  /// sentence takes the notice of that key away. A notice with actions stays until one of them is done or it is closed.
  void add(const QString& sentence, const QList<NoticeAction>& actions = {}, const QString& key = {});
  void remove(const QString& key);
  /// Notices that ask nothing leave when the folder goes on elsewhere.
  void leave_passing();
  /// Shown in the bar while there are no notices.
  void set_rest(const QString& text);

  [[nodiscard]] QStringList sentences() const; // newest first
  [[nodiscard]] bool is_open() const { return panel_->isVisible(); }
  void set_open(bool open);

protected:
  void resizeEvent(QResizeEvent* event) override;
  bool eventFilter(QObject* watched, QEvent* event) override;

private:
  struct Notice {
    QString key, sentence;
    QList<NoticeAction> actions;
  };
  void refresh();
  void fill(QHBoxLayout* row, const Notice& notice, QWidget* parent);
  void place_panel();
  void open_if_needed();
  [[nodiscard]] bool fits() const;

  std::vector<Notice> notices_; // newest last
  QString rest_;
  bool dismissed_ = false; // the list was closed by hand
  QLabel* text_;
  QHBoxLayout* buttons_;
  QPushButton* count_;
  QFrame* panel_;
  QScrollArea* scroll_;
  QVBoxLayout* rows_;
  QWidget* newest_ = nullptr; // its row
};

} // namespace uc::app
