#include "shell/document.h"

#include "base/atomic_file.h"

#include <QCoreApplication>
#include <QCryptographicHash>
#include <QDir>
#include <QFileInfo>

#include <signal.h>

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

namespace {

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

Document::Document(const QString& recovery_folder, QObject* parent)
    : QObject(parent), recovery_folder_(recovery_folder) {
  QDir().mkpath(recovery_folder_);
  autosave_timer_.setSingleShot(true);
  autosave_timer_.setInterval(800);
  connect(&autosave_timer_, &QTimer::timeout, this, [this] {
    if (const QString why = autosave(); !why.isEmpty()) emit autosave_failed(why);
  });
  connect(&planner_, &CreasePlanner::planned, this, [this] {
    if (in_step_ || planning()) {
      emit plans_changed();
      return;
    }
    take_plan();
    autosave_timer_.start();
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
  const bool replan =
      after.sheet.code() != project_.sheet.code() || !(after.grid == project_.grid) || !(after.hand == project_.hand);
  const bool rewritten = after.references != project_.references || after.grid_follows != project_.grid_follows ||
                         after.pre_crease != project_.pre_crease ||
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
    const bool creases = after.pre_crease && !after.pattern.empty();
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
  return {project.sheet.code(), project.pattern, project.hand, spec};
}

bool Document::planning() const {
  return project_.pre_crease && !project_.pattern.empty() && !planner_.known(wish_for(project_, *project_.pre_crease));
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
  const bool replan = project.sheet.code() != project_.sheet.code() || !(project.grid == project_.grid) ||
                      !(project.hand == project_.hand) || division_.plans.empty();
  const bool redraw = !pattern_ || project.sheet.code() != project_.sheet.code() || project.pattern != project_.pattern;
  project_ = project;
  if (redraw)
    pattern_ = std::make_shared<const DrawnPattern>(drawn_pattern(project_.pattern, project_.sheet.outline()));
  if (replan) {
    if (auto division = division_of(project_)) division_ = std::move(division).value();
  }
  in_step_ = in_step;
  if (!in_step_ && !planning()) take_plan();
  autosave_timer_.start();
  set_revisions(revision, saved_revision_);
  plan_creases();
  emit changed();
}

void Document::reset(const Project& project, const QString& path) {
  if (!own_recovery_.isEmpty()) QFile::remove(own_recovery_);
  path_ = path;
  undo_.clear();
  assign(project, ++last_revision_, true);
  set_revisions(revision_, revision_);
  autosave_timer_.stop();
  emit path_changed();
}

QString Document::open(const QString& path) {
  const auto project = load_project(path.toStdString());
  if (!project) return QString::fromStdString(project.error());
  reset(*project, path);
  return {};
}

std::string Document::text_to_store(Project project) const {
  // A file without a programme has it planned when it is read.
  if (!in_step_) project.programme = {};
  return project_text(project);
}

QString Document::save(const QString& path) {
  const auto ok = write_atomically(path.toStdString(), text_to_store(project_));
  if (!ok) return QString::fromStdString(ok.error());
  autosave_timer_.stop();
  if (!own_recovery_.isEmpty()) QFile::remove(own_recovery_);
  path_ = path;
  set_revisions(revision_, revision_);
  emit path_changed();
  return {};
}

QString Document::recovery_file() const {
  const QByteArray key = QCryptographicHash::hash(path_.toUtf8(), QCryptographicHash::Sha1).toHex().left(10);
  return QStringLiteral("%1/%2-%3.undercrease")
      .arg(recovery_folder_, QString::fromLatin1(key))
      .arg(QCoreApplication::applicationPid());
}

QString Document::autosave() {
  own_recovery_ = recovery_file();
  Project copy = project_;
  copy.unknown["recovered_from"] = path_.toStdString();
  const auto ok = write_atomically(own_recovery_.toStdString(), text_to_store(std::move(copy)));
  return ok ? QString() : QString::fromStdString(ok.error());
}

QStringList Document::recoverable() const {
  QStringList found;
  for (const QFileInfo& file : QDir(recovery_folder_).entryInfoList({"*.undercrease"}, QDir::Files, QDir::Time)) {
    const qint64 pid = file.completeBaseName().section('-', 1).toLongLong();
    const bool alive = pid > 0 && ::kill(static_cast<pid_t>(pid), 0) == 0;
    if (!alive) found << file.absoluteFilePath();
  }
  return found;
}

QString Document::recover(const QString& recovery_file) {
  auto project = load_project(recovery_file.toStdString());
  if (!project) return QString::fromStdString(project.error());
  Project p = std::move(project).value();
  const QString from = QString::fromStdString(p.unknown.value("recovered_from", ""));
  p.unknown.erase("recovered_from");
  path_ = from;
  undo_.clear();
  assign(p, ++last_revision_, true);
  set_revisions(revision_, -1);
  autosave();
  QFile::remove(recovery_file);
  emit path_changed();
  return {};
}

void Document::discard_recovery(const QString& recovery_file) { QFile::remove(recovery_file); }

} // namespace uc::app
