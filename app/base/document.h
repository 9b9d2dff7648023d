// The project being worked on: every change is undoable, saved aside a moment later, and keeps plan and programme in
// step with sheet, grid and hand.
#pragma once

#include "base/crease_planner.h"
#include "base/file_stamp.h"
#include "base/recovery.h"

#include <QObject>
#include <QTimer>
#include <QUndoStack>

#include <functional>
#include <memory>

namespace uc::app {

class Document : public QObject {
  Q_OBJECT
public:
  explicit Document(const QString& recovery_folder, QObject* parent = nullptr);

  [[nodiscard]] const Project& project() const { return project_; }
  /// The division last planned; that of the project unless `dividing`.
  [[nodiscard]] const Division& division() const { return *division_.second; }
  [[nodiscard]] bool dividing() const { return !(division_.first == division_key(project_)); }
  /// What was last drawn; what the project's pattern draws on its sheet unless `drawing`.
  [[nodiscard]] std::shared_ptr<const DrawnPattern> pattern() const { return pattern_.second; }
  [[nodiscard]] bool drawing() const { return !(pattern_.first == drawn_key(project_)); }
  /// The pre-crease programme the project asks for; null when it asks for none, when there is none, while it is
  /// planned.
  [[nodiscard]] std::shared_ptr<const Precrease> creases() const;
  /// The moves the project asks for are not planned yet; its programme is still that of an earlier state.
  [[nodiscard]] bool planning() const { return !in_step_; }
  /// Also plans every school, worked both ways or not, to be compared; nothing but the project's own when empty.
  void compare_schools(std::optional<bool> both_ways);
  /// The plan of one school for the pattern and hand as they are; null while it is not planned.
  [[nodiscard]] const CreasePlan* plan_of(const PrecreaseSpec& spec) const;
  /// How long a change waits for what follows from it, so that nothing flickers; what takes longer comes later.
  void set_patience(int milliseconds) { patience_ms_ = milliseconds; }
  /// Plans the creases the project asks for and those it is compared with.
  void plan_creases();
  /// Somebody has cancelled the planning of the moves; they stay unplanned until `plan_again` or the next edit.
  [[nodiscard]] bool planning_stopped() const { return !in_step_ && (stopped_ || planner_.stopped()); }
  void plan_again();
  [[nodiscard]] CreasePlanner& planner() { return planner_; }
  [[nodiscard]] QString path() const { return path_; }
  [[nodiscard]] bool is_modified() const { return revision_ != saved_revision_; }
  QUndoStack& undo_stack() { return undo_; }
  /// Puts a deed that lies outside the project, such as an edit of the shelf, on the same undo stack. It does not make
  /// the project count as changed.
  void remember(const QString& label, std::function<void()> again, std::function<void()> back);

  /// Applies an edit as one undo step. Returns an empty text, or the sentence to show beside the field when the edit
  /// makes no valid project; then nothing has changed. Edits with the same `merge` key in a row become one step.
  QString change(const QString& label, const std::function<void(Project&)>& edit, int merge = -1);

  /// Replaces the project without an undo step, as on opening. What was saved aside of the old one goes.
  void reset(const Project& project, const QString& path);
  QString open(const QString& path);
  QString save(const QString& path);
  /// Writes a copy where no file is yet, and goes on with it.
  QString save_beside(const QString& path);

  /// What others have done to the file since it was read or saved.
  enum class FileChange { none, changed, removed };
  [[nodiscard]] FileChange file_change() const;
  /// Takes over what is in the file now, as a step that can be undone.
  QString take_theirs();
  /// Lets the next save replace what others have written.
  void keep_mine();

  /// Work that was not saved when a program last ended, newest first.
  [[nodiscard]] std::vector<Recoverable> recoverable() const { return recovery_.list(); }
  /// Goes on with it, as a step that can be undone. The copy goes when its successor is safely on the disk.
  QString recover(const QString& recovery_file);
  QString discard_recovery(const QString& recovery_file) { return recovery_.discard(recovery_file); }
  /// Writes the recovery copy now.
  QString autosave();

signals:
  void changed();
  /// Moves that were put into another order by hand are planned anew after this edit.
  void order_dropped();
  /// What was asked for is not among the moves, for this reason.
  void something_left_out(const QString& why);
  /// Another project is about to be worked on.
  void replacing();
  /// Another project is worked on, or the file's state: nothing said of the old one holds.
  void replaced();
  /// A plan to compare with is known, or planning has ended.
  void plans_changed();
  /// Division, drawing or moves take longer than an edit waits for; ended also when it was stopped.
  void planning_began(std::shared_ptr<uc::Progress> progress);
  void planning_ended();
  void path_changed();
  /// The project is in its file, under `path()`.
  void saved();
  void modified_changed();
  void autosave_failed(const QString& why);

private:
  friend class ProjectEdit;
  friend class ProjectSwitch;
  /// What is known of the moves of a state of the project.
  struct Moves {
    bool in_step = true;  // they are those of sheet, grid, pattern and hand
    bool by_hand = false; // their order is the folder's own
  };
  /// What has been worked out off the interface thread, each part with its key.
  struct Answers {
    std::pair<DivisionKey, std::shared_ptr<const Division>> division;
    std::pair<DrawnKey, std::shared_ptr<const DrawnPattern>> pattern;
    std::optional<std::pair<MovesKey, PlannedMoves>> moves;
    bool stopped = false; // by whoever watched the progress
  };
  /// What has to be worked out of a state, with what is known of it.
  struct Question {
    std::pair<DivisionKey, std::shared_ptr<const Division>> division;
    std::pair<DrawnKey, std::shared_ptr<const DrawnPattern>> pattern;
    Project project;
    std::shared_ptr<const Precrease> creases;
    bool moves = false;
  };
  static Answers worked_out(const Question& asked, Progress& progress);
  [[nodiscard]] std::optional<Question> question();
  void assign(const Project& project, int revision, Moves moves);
  void settle();
  void take(Answers answers);
  [[nodiscard]] const CreasePlan* creases_plan() const;
  [[nodiscard]] std::string text_to_store(Project project) const;
  [[nodiscard]] std::string text_to_keep() const;
  void set_revisions(int now, int saved);
  void set_origin(const Origin& from);
  [[nodiscard]] Origin origin() const { return {path_, file_digest_}; }
  QString stored(const QString& path, bool only_new);
  void know_file(const std::string& bytes);
  void schedule_autosave();

  Project project_;
  std::pair<DivisionKey, std::shared_ptr<const Division>> division_;
  std::pair<DrawnKey, std::shared_ptr<const DrawnPattern>> pattern_;
  std::vector<Answers> kept_; // of states left a moment ago, the latest last
  CreasePlanner planner_;
  std::optional<bool> compared_; // both ways or not
  bool in_step_ = true;
  bool by_hand_ = false;
  int patience_ms_ = 50;
  bool stopped_ = false;
  bool settling_ = false; // whoever has changed the project tells so
  QString path_;
  Recovery recovery_;
  mutable std::optional<FileStamp> file_; // as it was read or saved
  QByteArray file_digest_;
  QUndoStack undo_;
  int revision_ = 0; // of the project as it stands; each edit makes a new one
  int last_revision_ = 0;
  int saved_revision_ = 0;
  QTimer autosave_timer_;
  Background<Answers> work_; // the last member: it goes first
};

} // namespace uc::app
