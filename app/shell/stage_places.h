// The places of work in the window, in order of work. Each is made when it is first looked at or asked for, so that the
// window is there sooner; the others follow one by one as soon as nothing else is to be done.
#pragma once

#include "stages/stage.h"

#include <QTimer>

#include <functional>
#include <vector>

class QStackedWidget;

namespace uc::app {

class StagePlaces : public QObject {
  Q_OBJECT
public:
  StagePlaces(Workspace& workspace, QStackedWidget* choices, QStackedWidget* centre, QObject* parent);

  [[nodiscard]] int count() const { return static_cast<int>(places_.size()); }
  /// -1 when there is none of that key.
  [[nodiscard]] int index_of(const QString& key) const;
  [[nodiscard]] QString verb(int index) const { return place(index).verb; }
  /// Makes it when it is not there yet.
  Stage* at(int index);
  [[nodiscard]] bool is_made(int index) const { return place(index).stage != nullptr; }
  /// Those that are there; what is made later starts from the project as it is then.
  [[nodiscard]] std::vector<Stage*> made() const;
  void show(int index);
  void make_rest_when_idle();

signals:
  void came(int index);

private:
  struct Place {
    QString key;
    QString verb;
    std::function<Stage*()> make;
    Stage* stage = nullptr;
  };
  [[nodiscard]] const Place& place(int index) const { return places_[static_cast<std::size_t>(index)]; }
  template <class Kind> void add();
  void make_next();

  Workspace& workspace_;
  QStackedWidget* choices_;
  QStackedWidget* centre_;
  std::vector<Place> places_;
  QTimer rest_;
};

} // namespace uc::app
