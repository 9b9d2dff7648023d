// Calls under-crease-cli as a script would, with a data folder of its own.
#pragma once

#include "support.h"

#include <QProcess>
#include <QTemporaryDir>

namespace uc::testing {

struct Outcome {
  int exit;
  QByteArray out;
  QByteArray err;
};

class Caller {
public:
  explicit Caller(QString folder = {}) : folder_(std::move(folder)) {}
  [[nodiscard]] Outcome operator()(const QStringList& args) const {
    QProcess p;
    QProcessEnvironment env = QProcessEnvironment::systemEnvironment();
    env.insert("XDG_DATA_HOME", home_.path());
    env.insert("XDG_CACHE_HOME", cache());
    p.setProcessEnvironment(env);
    if (!folder_.isEmpty()) p.setWorkingDirectory(folder_);
    p.start(QStringLiteral(UC_CLI), args);
    p.waitForFinished(120000);
    return {p.exitCode(), p.readAllStandardOutput(), p.readAllStandardError()};
  }
  [[nodiscard]] QString home() const { return home_.path(); }

private:
  QTemporaryDir home_;
  QString folder_;
};

inline void only_finite(const Json& j) {
  if (j.is_number_float()) QVERIFY(std::isfinite(j.get<double>()));
  if (j.is_structured()) {
    for (const Json& child : j) only_finite(child);
  }
}

} // namespace uc::testing
