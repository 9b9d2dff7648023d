// Unsaved work, kept aside while the program runs and found again when it ended before its time. Each copy has a random
// name and is held by a lock on the file itself, so that a copy nobody holds is one that is to be recovered.
#pragma once

#include "base/held_file.h"
#include "io/project_file.h"

#include <QDateTime>
#include <QString>

#include <vector>

namespace uc::app {

/// Where a project belongs, and what was in that file when it was last read or saved.
struct Origin {
  QString path;      // empty for a project that never had a file
  QByteArray digest; // of the file's bytes; empty when not known
};

struct Recoverable {
  QString file;
  QString title; // of the project
  QString path;  // where it had been saved or read; empty for one that never was
  QDateTime at;
  QString wrong; // why it cannot be read, when it cannot
};

class Recovery {
public:
  explicit Recovery(QString folder);

  /// Copies that no living program holds, newest first, the damaged ones among them.
  [[nodiscard]] std::vector<Recoverable> list() const;
  /// Reads a copy and where it belongs.
  static Result<Project> read(const QString& file, Origin& from);

  /// Writes this program's own copy. Returns a sentence when that fails; then the copy before stands.
  QString keep(const std::string& project_text_with_origin);
  /// Writes it in place of a copy that was recovered, and from now on there; what was kept before goes when it is
  /// safe. At no moment do two copies stand for one work.
  QString go_on_in(const QString& recovered, const std::string& project_text_with_origin);
  /// The project's text with where it belongs, as it is kept.
  static std::string with_origin(Project project, const Origin& from);
  /// What is kept is saved elsewhere, or no longer wanted.
  void drop_own();
  /// Writes a copy that nobody holds; returns its name, empty when it could not be written.
  QString lay_aside(const std::string& project_text_with_origin);
  /// Removes a copy that nobody holds.
  QString discard(const QString& file) const;
  [[nodiscard]] QString own_file() const { return own_; }

private:
  [[nodiscard]] QString new_name() const;
  QString folder_;
  QString own_;
  HeldFile held_;
};

} // namespace uc::app
