#include "base/document.h"

#include "base/atomic_file.h"
#include "base/file_name.h"

#include <QCryptographicHash>
#include <QFile>

namespace uc::app {

/// One edit of the project with the numbers of the states before and after it.
class ProjectEdit : public QUndoCommand {
public:
  struct State {
    Project project;
    int revision;
    bool in_step;
  };
  ProjectEdit(Document& document, const QString& label, State before, State after, int merge)
      : QUndoCommand(label), document_(document), before_(std::move(before)), after_(std::move(after)), merge_(merge) {}
  void undo() override { document_.assign(before_.project, before_.revision, before_.in_step); }
  void redo() override { document_.assign(after_.project, after_.revision, after_.in_step); }
  [[nodiscard]] int id() const override { return merge_; }
  bool mergeWith(const QUndoCommand* other) override {
    after_ = static_cast<const ProjectEdit*>(other)->after_;
    return true;
  }

private:
  Document& document_;
  State before_;
  State after_;
  int merge_;
};

/// Another project in place of this one: recovered, or read again from its file.
class ProjectSwitch : public QUndoCommand {
public:
  struct State {
    Project project;
    int revision;
    bool in_step;
    Origin from;
  };
  ProjectSwitch(Document& document, const QString& label, State before, State after, bool keep_aside)
      : QUndoCommand(label), document_(document), before_(std::move(before)), after_(std::move(after)),
        keep_aside_(keep_aside) {}
  void undo() override {
    // What was recovered must not be lost by taking it back and closing the window.
    if (keep_aside_) aside_ = document_.recovery_.lay_aside(Recovery::with_origin(after_.project, after_.from));
    become(before_);
  }
  void redo() override {
    become(after_);
    if (!aside_.isEmpty()) document_.recovery_.go_on_in(aside_, document_.text_to_keep());
    aside_.clear();
  }

private:
  void become(const State& state) {
    document_.set_origin(state.from);
    document_.assign(state.project, state.revision, state.in_step);
    emit document_.replaced();
  }
  Document& document_;
  State before_;
  State after_;
  bool keep_aside_;
  QString aside_;
};

namespace {

/// A copy is written at most this long after the first change that is not in one.
constexpr int autosave_ms = 600;

QByteArray digest_of(const std::string& bytes) {
  return QCryptographicHash::hash(QByteArray::fromStdString(bytes), QCryptographicHash::Sha256);
}

class Deed : public QUndoCommand {
public:
  Deed(const QString& label, std::function<void()> again, std::function<void()> back)
      : QUndoCommand(label), again_(std::move(again)), back_(std::move(back)) {}
  void undo() override { back_(); }
  void redo() override { again_(); }

private:
  std::function<void()> again_;
  std::function<void()> back_;
};

} // namespace

Document::Document(const QString& recovery_folder, QObject* parent) : QObject(parent), recovery_(recovery_folder) {
  autosave_timer_.setSingleShot(true);
  autosave_timer_.setInterval(autosave_ms);
  connect(&autosave_timer_, &QTimer::timeout, this, [this] {
    if (const QString why = autosave(); !why.isEmpty()) emit autosave_failed(why);
  });
  connect(&planner_, &CreasePlanner::planned, this, [this] {
    if (in_step_ || planning()) {
      emit plans_changed();
      return;
    }
    take_plan();
    schedule_autosave();
    emit changed();
  });
  connect(&planner_, &CreasePlanner::ended, this, &Document::plans_changed);
  project_.stock = generic_stocks()[1];
  project_.sheet_name = "square:240mm";
  if (auto division = division_of(project_)) division_ = *division;
  project_.programme = planned_programme(project_, division_);
  pattern_ = std::make_shared<const DrawnPattern>(drawn_pattern(project_.pattern, project_.sheet.outline()));
}

QString Document::change(const QString& label, const std::function<void(Project&)>& edit, int merge) {
  Project after = project_;
  edit(after);
  const bool replan = planned_sheet(after).code() != planned_sheet(project_).code() || !(after.grid == project_.grid) ||
                      !(after.hand == project_.hand);
  const bool rewritten = after.references != project_.references || after.grid_follows != project_.grid_follows ||
                         after.pre_crease != project_.pre_crease || after.steps != project_.steps ||
                         (!after.steps.empty() && after.sheet.code() != project_.sheet.code()) ||
                         (after.pre_crease && after.pattern != project_.pattern);
  std::optional<Division> division;
  if (replan) {
    auto made = division_of(after);
    if (!made) return QString::fromStdString(made.error());
    division = std::move(made).value();
  }
  bool in_step = in_step_;
  if (replan || rewritten) {
    // Creases that are not planned yet follow when they are; see `take_plan`.
    const bool creases = after.pre_crease && !after.pattern.empty() && after.steps.empty();
    const CreasePlan* plan = creases ? planner_.known(wish_for(after, *after.pre_crease)) : nullptr;
    in_step = plan || !creases;
    if (in_step)
      after.programme = planned_programme(after, division ? *division : division_, plan ? plan->plan.get() : nullptr);
  }
  undo_.push(new ProjectEdit(*this, label, {project_, revision_, in_step_},
                             {std::move(after), ++last_revision_, in_step}, merge));
  return {};
}

CreaseWish Document::wish_for(const Project& project, const PrecreaseSpec& spec) {
  return {project.sheet.code(), project.trueness, project.pattern, project.hand, spec};
}

bool Document::planning() const {
  return project_.steps.empty() && project_.pre_crease && !project_.pattern.empty() &&
         !planner_.known(wish_for(project_, *project_.pre_crease));
}

const CreasePlan* Document::plan_of(const PrecreaseSpec& spec) const {
  return planner_.known(wish_for(project_, spec));
}

std::shared_ptr<const Precrease> Document::creases() const {
  const CreasePlan* known = project_.pre_crease ? plan_of(*project_.pre_crease) : nullptr;
  return known ? known->plan : nullptr;
}

void Document::compare_schools(std::optional<bool> both_ways) {
  if (compared_ == both_ways) return;
  compared_ = both_ways;
  plan_creases();
}

void Document::plan_creases() {
  std::vector<CreaseWish> wishes;
  if (!project_.pattern.empty()) {
    if (project_.pre_crease) wishes.push_back(wish_for(project_, *project_.pre_crease));
    for (const CreaseSchool school : all_schools) {
      if (compared_) wishes.push_back(wish_for(project_, {school, *compared_}));
    }
  }
  planner_.want(std::move(wishes), pattern_);
}

void Document::take_plan() {
  project_.programme = planned_programme(project_, division_, creases().get());
  in_step_ = true;
}

void Document::remember(const QString& label, std::function<void()> again, std::function<void()> back) {
  undo_.push(new Deed(label, std::move(again), std::move(back)));
}

void Document::set_revisions(int now, int saved) {
  revision_ = now;
  saved_revision_ = saved;
  emit modified_changed();
}

void Document::assign(const Project& project, int revision, bool in_step) {
  const bool replan = planned_sheet(project).code() != planned_sheet(project_).code() ||
                      !(project.grid == project_.grid) || !(project.hand == project_.hand) || division_.plans.empty();
  const bool redraw = !pattern_ || project.sheet.code() != project_.sheet.code() || project.pattern != project_.pattern;
  project_ = project;
  if (redraw)
    pattern_ = std::make_shared<const DrawnPattern>(drawn_pattern(project_.pattern, project_.sheet.outline()));
  if (replan) {
    if (auto division = division_of(project_)) division_ = std::move(division).value();
  }
  in_step_ = in_step;
  if (!in_step_ && !planning()) take_plan();
  schedule_autosave();
  set_revisions(revision, saved_revision_);
  plan_creases();
  emit changed();
}

/// The first change that is not saved starts the clock; later ones do not set it back.
void Document::schedule_autosave() {
  if (!autosave_timer_.isActive()) autosave_timer_.start();
}

void Document::set_origin(const Origin& from) {
  path_ = from.path;
  file_digest_ = from.digest;
  file_.reset();
  emit path_changed();
}

void Document::know_file(const std::string& bytes) {
  file_ = file_stamp(bytes_of(path_));
  file_digest_ = digest_of(bytes);
}

void Document::reset(const Project& project, const QString& path) {
  recovery_.drop_own();
  undo_.clear();
  set_origin({path, {}});
  assign(project, ++last_revision_, true);
  set_revisions(revision_, revision_);
  autosave_timer_.stop();
  emit replaced();
}

QString Document::open(const QString& path) {
  const auto text = read_file(bytes_of(path));
  if (!text) return QString::fromStdString(text.error());
  const auto project = project_from_text(*text, bytes_of(path));
  if (!project) return QString::fromStdString(project.error());
  reset(*project, path);
  know_file(*text);
  return {};
}

std::string Document::text_to_store(Project project) const {
  // A file without a programme has it planned when it is read.
  if (!in_step_) project.programme = {};
  return project_text(project);
}

QString Document::stored(const QString& path, bool only_new) {
  const std::string text = text_to_store(project_);
  const auto ok = only_new ? write_new(bytes_of(path), text) : write_atomically(bytes_of(path), text);
  if (!ok) return QString::fromStdString(ok.error());
  autosave_timer_.stop();
  recovery_.drop_own();
  path_ = path;
  know_file(text);
  set_revisions(revision_, revision_);
  emit path_changed();
  return {};
}

QString Document::save(const QString& path) { return stored(path, false); }
QString Document::save_beside(const QString& path) { return stored(path, true); }

Document::FileChange Document::file_change() const {
  if (path_.isEmpty() || file_digest_.isEmpty()) return FileChange::none;
  const auto now = file_stamp(bytes_of(path_));
  if (!now) return FileChange::removed;
  if (file_ && *now == *file_) return FileChange::none;
  // Touched or copied back: what counts is what is in it.
  const auto bytes = read_file(bytes_of(path_));
  if (!bytes || digest_of(*bytes) != file_digest_) return FileChange::changed;
  file_ = now;
  return FileChange::none;
}

void Document::keep_mine() { file_digest_.clear(); }

QString Document::take_theirs() {
  const auto text = read_file(bytes_of(path_));
  if (!text) return QString::fromStdString(text.error());
  const auto project = project_from_text(*text, bytes_of(path_));
  if (!project) return QString::fromStdString(project.error());
  undo_.push(new ProjectSwitch(*this, tr("Take the file as it is now"), {project_, revision_, in_step_, origin()},
                               {*project, ++last_revision_, true, {path_, digest_of(*text)}}, false));
  know_file(*text);
  set_revisions(revision_, revision_);
  return {};
}

std::string Document::text_to_keep() const {
  Project copy = project_;
  if (!in_step_) copy.programme = {};
  return Recovery::with_origin(std::move(copy), origin());
}

QString Document::autosave() {
  autosave_timer_.stop();
  return recovery_.keep(text_to_keep());
}

QString Document::recover(const QString& recovery_file) {
  HeldFile::Outcome outcome{};
  const HeldFile mine = HeldFile::take(bytes_of(recovery_file), false, outcome);
  if (outcome == HeldFile::Outcome::taken) return tr("Another window has taken it over.");
  Origin from;
  const auto project = Recovery::read(recovery_file, from);
  if (!project) return QString::fromStdString(project.error());
  undo_.push(new ProjectSwitch(*this, tr("Restore unsaved work"), {project_, revision_, in_step_, origin()},
                               {*project, ++last_revision_, true, from}, true));
  set_revisions(revision_, -1);
  autosave_timer_.stop();
  if (const QString wrong = recovery_.go_on_in(recovery_file, text_to_keep()); !wrong.isEmpty())
    return tr("Your work is back, but it could not be saved aside; save it now. %1").arg(wrong);
  return {};
}

} // namespace uc::app
