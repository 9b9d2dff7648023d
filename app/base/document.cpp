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
    Document::Moves moves;
  };
  ProjectEdit(Document& document, const QString& label, State before, State after, int merge)
      : QUndoCommand(label), document_(document), before_(std::move(before)), after_(std::move(after)), merge_(merge) {}
  void undo() override { document_.assign(before_.project, before_.revision, before_.moves); }
  void redo() override { document_.assign(after_.project, after_.revision, after_.moves); }
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
    Document::Moves moves;
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
    emit document_.replacing();
    document_.set_origin(state.from);
    document_.assign(state.project, state.revision, state.moves);
    emit document_.replaced();
  }
  Document& document_;
  State before_;
  State after_;
  bool keep_aside_;
  QString aside_;
};

namespace {

constexpr std::size_t most_answers = 8;

bool same_order(const Programme& a, const Programme& b) {
  return std::equal(a.moves.begin(), a.moves.end(), b.moves.begin(), b.moves.end(), [](const Move& m, const Move& n) {
    return kind_name(m) == kind_name(n) && m.creases().makes == n.creases().makes;
  });
}

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

Document::Document(const QString& recovery_folder, QObject* parent)
    : QObject(parent), recovery_(recovery_folder),
      work_([this](Answers answers) { take(std::move(answers)); }, [this] { emit planning_ended(); }) {
  autosave_timer_.setSingleShot(true);
  autosave_timer_.setInterval(autosave_ms);
  connect(&autosave_timer_, &QTimer::timeout, this, [this] {
    if (const QString why = autosave(); !why.isEmpty()) emit autosave_failed(why);
  });
  connect(&planner_, &CreasePlanner::planned, this, [this] {
    emit plans_changed();
    const CreasePlan* plan = creases_plan();
    if (in_step_ || !plan) return;
    settle();
    emit changed();
  });
  connect(&planner_, &CreasePlanner::ended, this, &Document::plans_changed);
  project_.stock = generic_stocks()[1];
  project_.sheet_name = "square:240mm";
  in_step_ = false;
  // Here and now: the window has to have something to show, and this is quick.
  Progress progress;
  settling_ = true;
  if (const auto asked = question()) take(worked_out(*asked, progress));
  settling_ = false;
}

QString Document::change(const QString& label, const std::function<void(Project&)>& edit, int merge) {
  Project after = project_;
  edit(after);
  if (const auto ok = check(division_key(after)); !ok) return QString::fromStdString(ok.error());
  Moves moves{in_step_, by_hand_};
  if (!(moves_key(after) == moves_key(project_))) {
    if (by_hand_) emit order_dropped();
    moves = {false, false};
  } else if (!same_order(after.programme, project_.programme)) {
    moves.by_hand = true;
  }
  undo_.push(new ProjectEdit(*this, label, {project_, revision_, {in_step_, by_hand_}},
                             {std::move(after), ++last_revision_, moves}, merge));
  return {};
}

const CreasePlan* Document::plan_of(const PrecreaseSpec& spec) const {
  return planner_.known(creases_key(project_, spec));
}

const CreasePlan* Document::creases_plan() const {
  return folds_creases(folded_work(project_)) ? plan_of(project_.pre_crease) : nullptr;
}

std::shared_ptr<const Precrease> Document::creases() const {
  const CreasePlan* known = creases_plan();
  return known ? known->plan : nullptr;
}

void Document::compare_schools(std::optional<bool> both_ways) {
  if (compared_ == both_ways) return;
  compared_ = both_ways;
  plan_creases();
}

void Document::plan_creases() {
  if (drawing()) return; // they follow when it is drawn
  std::vector<CreaseWish> wishes;
  if (!project_.pattern.empty()) {
    if (folds_creases(folded_work(project_))) wishes.push_back(creases_key(project_, project_.pre_crease));
    if (compared_) wishes.push_back(creases_key(project_, {CreaseSchool::usual, *compared_}));
    for (const CreaseSchool school : all_schools) {
      if (compared_) wishes.push_back(creases_key(project_, {school, *compared_}));
    }
  }
  planner_.want(std::move(wishes), pattern_.second);
}

Document::Answers Document::worked_out(const Question& asked, Progress& progress) {
  Answers answers{asked.division, asked.pattern, std::nullopt, false};
  if (!answers.division.second) {
    auto made = answer(answers.division.first);
    answers.division.second = std::make_shared<const Division>(made ? std::move(made).value() : Division{});
  }
  if (!answers.pattern.second)
    answers.pattern.second = std::make_shared<const DrawnPattern>(answer(answers.pattern.first));
  if (!asked.moves) return answers;
  auto planned = planned_moves(asked.project, *answers.division.second, asked.creases.get(), &progress);
  // What was stopped half-way is no programme of this project.
  answers.stopped = progress.cancelled();
  if (!answers.stopped) answers.moves.emplace(moves_key(asked.project), std::move(planned));
  return answers;
}

/// What of the state as it is has to be worked out; none when all of it is known.
std::optional<Document::Question> Document::question() {
  Question asked{{division_key(project_), nullptr}, {drawn_key(project_), nullptr}, project_, nullptr, false};
  for (const Answers& known : kept_) {
    if (known.division.first == asked.division.first) division_ = known.division;
    if (known.pattern.first == asked.pattern.first) pattern_ = known.pattern;
  }
  if (division_.first == asked.division.first) asked.division.second = division_.second;
  if (pattern_.first == asked.pattern.first) asked.pattern.second = pattern_.second;
  const CreasePlan* plan = creases_plan();
  if (plan) asked.creases = plan->plan;
  asked.moves = !in_step_ && (plan || !folds_creases(folded_work(project_)));
  if (!asked.moves && asked.division.second && asked.pattern.second) return std::nullopt;
  return asked;
}

/// Has it worked out beside the window, and waits for it a moment.
void Document::settle() {
  stopped_ = false;
  auto asked = question();
  if (!asked) return work_.give_up();
  const auto progress = std::make_shared<Progress>();
  settling_ = true;
  work_.begin([asked = std::move(*asked)](Progress& stop) { return worked_out(asked, stop); }, progress);
  const bool ended = work_.wait(patience_ms_);
  settling_ = false;
  if (!ended) emit planning_began(progress);
}

void Document::plan_again() {
  plan_creases();
  settle();
  emit changed();
}

void Document::take(Answers answers) {
  if (!settling_) emit planning_ended();
  stopped_ = answers.stopped;
  if (answers.division.first == division_key(project_)) division_ = answers.division;
  const bool drawn_anew = answers.pattern.first == drawn_key(project_) && answers.pattern.second != pattern_.second;
  if (answers.pattern.first == drawn_key(project_)) pattern_ = answers.pattern;
  if (answers.moves && !in_step_ && answers.moves->first == moves_key(project_)) {
    project_.programme = std::move(answers.moves->second.programme);
    in_step_ = true;
    if (is_modified()) schedule_autosave();
    const CreasePlan* plan = creases_plan();
    auto& left_out = answers.moves->second.left_out;
    if (plan && !plan->plan) left_out.push_back(plan->why_not);
    if (!left_out.empty()) emit something_left_out(QString::fromStdString(left_out.front()));
  }
  answers.moves.reset();
  kept_.push_back(std::move(answers));
  if (kept_.size() > most_answers) kept_.erase(kept_.begin());
  if (settling_) return;
  if (drawn_anew) plan_creases();
  emit changed();
}

void Document::remember(const QString& label, std::function<void()> again, std::function<void()> back) {
  undo_.push(new Deed(label, std::move(again), std::move(back)));
}

void Document::set_revisions(int now, int saved) {
  revision_ = now;
  saved_revision_ = saved;
  emit modified_changed();
}

void Document::assign(const Project& project, int revision, Moves moves) {
  project_ = project;
  in_step_ = moves.in_step;
  by_hand_ = moves.by_hand;
  settle();
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
  emit replacing();
  recovery_.drop_own();
  undo_.clear();
  set_origin({path, {}});
  assign(project, ++last_revision_, {!project.programme.empty(), false});
  set_revisions(revision_, revision_);
  autosave_timer_.stop();
  emit replaced();
}

QString Document::open(const QString& path) {
  const auto text = read_file(bytes_of(path));
  if (!text) return QString::fromStdString(text.error());
  const auto project = project_from_text(*text, bytes_of(path), WithoutMoves::leave);
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
  emit saved();
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
  const auto project = project_from_text(*text, bytes_of(path_), WithoutMoves::leave);
  if (!project) return QString::fromStdString(project.error());
  undo_.push(new ProjectSwitch(
      *this, tr("Take the file as it is now"), {project_, revision_, {in_step_, by_hand_}, origin()},
      {*project, ++last_revision_, {!project->programme.empty(), false}, {path_, digest_of(*text)}}, false));
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
  undo_.push(new ProjectSwitch(*this, tr("Restore unsaved work"), {project_, revision_, {in_step_, by_hand_}, origin()},
                               {*project, ++last_revision_, {!project->programme.empty(), false}, from}, true));
  set_revisions(revision_, -1);
  autosave_timer_.stop();
  if (const QString wrong = recovery_.go_on_in(recovery_file, text_to_keep()); !wrong.isEmpty())
    return tr("Your work is back, but it could not be saved aside; save it now. %1").arg(wrong);
  return {};
}

} // namespace uc::app
