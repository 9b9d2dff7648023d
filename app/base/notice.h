// One thing a notice offers to do.
#pragma once

#include <QString>

#include <functional>

namespace uc::app {

struct NoticeAction {
  QString label;
  std::function<void()> act;
};

} // namespace uc::app
