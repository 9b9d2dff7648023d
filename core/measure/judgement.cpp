#include "measure/judgement.h"

#include "geometry/least_squares.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <random>

namespace uc {
namespace {

constexpr double z_of_one = 1.959964; // 95 of 100 of one normal value
constexpr double share_named = 0.4;   // of what a line is off, for a cause to be told

constexpr double slip_chance = 0.01;
constexpr double slip_reaches = 8; // standard errors of the source, when it slips
constexpr double misread_mm = 1;   // when a ruler is misread

/// One source of all that moves what is read: those of the sheet, the ruler's zero, the sheet's size, each reading.
struct Column {
  Cause::Kind kind = Cause::Kind::fold;
  std::size_t step = 0;
  Eigen::VectorXd rows;
  double variance = 0;
  double slip_variance = 0; // in addition, when it slips; 0 for what does not

  /// Of the ruler's zero and the sheet's size.
  [[nodiscard]] bool of_place() const {
    return kind == Cause::Kind::sheet || (kind == Cause::Kind::ruler && slip_variance == 0);
  }
};

struct Model {
  std::vector<Column> columns;
  Eigen::VectorXd deviation;
  Eigen::MatrixXd covariance; // of the deviations
  Eigen::MatrixXd weight;     // its inverse
  double log_likelihood = 0;
};

/// What is assumed of zero and size.
struct Place {
  double zero_mm = zero_sigma_mm;
  double size_mm = size_sigma_mm;
};

Model model_of(const MeasuredFamily& m, const Place& place) {
  Model model;
  const auto n = static_cast<Eigen::Index>(m.lines.size());
  const ErrorRows errors = error_rows(m);
  for (std::size_t j = 0; j < errors.sources.size(); ++j) {
    const ErrorSource& s = errors.sources[j];
    const double own = s.kind == ErrorSource::Kind::fold ? m.task.sigma_mm : s.sigma_mm;
    const Cause::Kind kind = s.kind == ErrorSource::Kind::fold    ? Cause::Kind::fold
                             : s.kind == ErrorSource::Kind::guess ? Cause::Kind::guess
                                                                  : Cause::Kind::start;
    model.columns.push_back(
        {kind, s.step, errors.rows.col(static_cast<Eigen::Index>(j)), own * own, std::pow(slip_reaches * own, 2)});
  }
  Eigen::VectorXd along(n);
  for (Eigen::Index i = 0; i < n; ++i)
    along[i] = static_cast<double>(m.lines[static_cast<std::size_t>(i)]) / m.task.parts;
  model.columns.push_back({Cause::Kind::ruler, 0, Eigen::VectorXd::Ones(n), place.zero_mm * place.zero_mm, 0});
  model.columns.push_back({Cause::Kind::sheet, 0, along, place.size_mm * place.size_mm, 0});
  const double reading = m.ruler_sigma_mm * m.ruler_sigma_mm;
  for (Eigen::Index i = 0; i < n; ++i)
    model.columns.push_back({Cause::Kind::ruler, 0, Eigen::VectorXd::Unit(n, i), reading, misread_mm * misread_mm});
  model.deviation = Eigen::Map<const Eigen::VectorXd>(m.deviation_mm.data(), n);
  model.covariance = Eigen::MatrixXd::Zero(n, n);
  for (const Column& c : model.columns) model.covariance.selfadjointView<Eigen::Lower>().rankUpdate(c.rows, c.variance);
  model.covariance = Eigen::MatrixXd(model.covariance.selfadjointView<Eigen::Lower>());
  const Eigen::MatrixXd lower = covariance_root(model.covariance);
  model.log_likelihood =
      -lower.diagonal().array().log().sum() - 0.5 * model.deviation.dot(solve_cholesky(lower, model.deviation));
  model.weight.resize(n, n);
  for (Eigen::Index i = 0; i < n; ++i) model.weight.col(i) = solve_cholesky(lower, Eigen::VectorXd::Unit(n, i));
  return model;
}

/// The model in which zero, or size, is wrong altogether where that is the likelier.
Model likeliest(const MeasuredFamily& m, const Model& usual) {
  Model best = usual;
  double most = usual.log_likelihood;
  for (const Place& place : {Place{wrong_place_mm, size_sigma_mm}, Place{zero_sigma_mm, wrong_place_mm}}) {
    Model other = model_of(m, place);
    const double l = other.log_likelihood + std::log(slip_chance);
    if (l > most) most = l, best = std::move(other);
  }
  return best;
}

/// How far off each source was, by what was measured: the mean over "no slip" and "this one slipped"; and how likely
/// each slipped.
struct Posterior {
  Eigen::VectorXd mean; // mm, per column
  Eigen::VectorXd slipped;
};
Posterior posterior_of(const Model& m) {
  const auto count = static_cast<Eigen::Index>(m.columns.size());
  const Eigen::VectorXd seen = m.weight * m.deviation;
  Eigen::VectorXd pull(count); // of the measured, on a source
  Eigen::VectorXd known(count);
  Eigen::MatrixXd rows(m.deviation.size(), count);
  Eigen::VectorXd variance(count);
  for (Eigen::Index j = 0; j < count; ++j) {
    const Column& c = m.columns[static_cast<std::size_t>(j)];
    rows.col(j) = c.rows;
    variance[j] = c.variance;
    pull[j] = c.rows.dot(seen);
    known[j] = c.rows.dot(m.weight * c.rows);
  }
  const double odds = slip_chance / (1 - slip_chance);
  std::vector<double> log_odds{0};
  for (Eigen::Index j = 0; j < count; ++j) {
    const double t = m.columns[static_cast<std::size_t>(j)].slip_variance;
    const double grown = 1 + t * known[j];
    log_odds.push_back(t > 0 ? std::log(odds) - 0.5 * std::log(grown) + 0.5 * t * pull[j] * pull[j] / grown : -1e300);
  }
  const double most = *std::max_element(log_odds.begin(), log_odds.end());
  double sum = 0;
  for (const double l : log_odds) sum += std::exp(l - most);
  Eigen::VectorXd mean = variance.cwiseProduct(pull) * (std::exp(log_odds[0] - most) / sum);
  Eigen::VectorXd slipped(count);
  for (Eigen::Index j = 0; j < count; ++j) {
    const double chance = slipped[j] = std::exp(log_odds[static_cast<std::size_t>(j) + 1] - most) / sum;
    if (chance < 1e-6) continue;
    // With the slip's variance added along its rows the weight loses a rank-one part (Sherman and Morrison 1950).
    const double t = m.columns[static_cast<std::size_t>(j)].slip_variance;
    const double taken = t * pull[j] / (1 + t * known[j]);
    const Eigen::VectorXd other = pull - rows.transpose() * (m.weight * rows.col(j)) * taken;
    Eigen::VectorXd given = variance.cwiseProduct(other);
    given[j] += t * other[j];
    mean += chance * given;
  }
  return {mean, slipped};
}

/// What is left when what zero and size explain is taken out, and its covariance in a sheet without slips.
struct WithoutPlace {
  Eigen::Vector2d explained; // zero, size
  Eigen::VectorXd off;
  Eigen::MatrixXd covariance;
};

WithoutPlace without_place(const Model& m, const Posterior& known) {
  const auto n = m.deviation.size();
  Eigen::MatrixXd place(n, 2);
  Eigen::Vector2d variance;
  Eigen::Vector2d explained;
  for (std::size_t j = 0; j < m.columns.size(); ++j) {
    const Column& c = m.columns[j];
    if (!c.of_place()) continue;
    const int which = c.kind == Cause::Kind::sheet ? 1 : 0;
    place.col(which) = c.rows;
    variance[which] = c.variance;
    explained[which] = known.mean[static_cast<Eigen::Index>(j)];
  }
  const Eigen::MatrixXd gain = variance.asDiagonal() * place.transpose() * m.weight;
  const Eigen::MatrixXd left = Eigen::MatrixXd::Identity(n, n) - place * gain;
  return {explained, m.deviation - place * explained, left * m.covariance * left.transpose()};
}

/// The z that max |z| stays within in 96.5 of 100 samples with this covariance. What is taken out first is found in a
/// model with slips, so real sheets are beyond it a little more often: 4 to 5 of 100 in simulation.
double joint_limit(const Eigen::MatrixXd& covariance) {
  const Eigen::Index n = covariance.rows();
  const Eigen::VectorXd scale = covariance.diagonal().cwiseMax(1e-300).cwiseSqrt().cwiseInverse();
  Eigen::MatrixXd correlation = scale.asDiagonal() * covariance * scale.asDiagonal();
  const Eigen::MatrixXd factor = covariance_root(correlation).triangularView<Eigen::Lower>();
  const std::size_t samples = n <= 64 ? 20000 : 4000;
  std::mt19937 random(1905);
  std::normal_distribution<double> normal;
  std::vector<double> most(samples);
  Eigen::VectorXd u(n);
  for (double& z : most) {
    for (double& v : u) v = normal(random);
    z = (factor * u).cwiseAbs().maxCoeff();
  }
  const auto at = most.begin() + static_cast<std::ptrdiff_t>(0.965 * static_cast<double>(samples));
  std::nth_element(most.begin(), at, most.end());
  return *at;
}

/// `from_place` when it is zero and size that are to be explained as well. Unless the sheet is known to be `wrong`, a
/// cause is told only where it is more likely than not that it slipped.
std::optional<Cause> cause_of(const Model& m, const Posterior& known, Eigen::Index line, double off, bool from_place,
                              bool wrong) {
  Cause best;
  double chance = 0;
  std::map<Cause::Kind, double> whole; // the ruler's zero and its reading are one
  for (Eigen::Index j = 0; j < known.mean.size(); ++j) {
    const Column& c = m.columns[static_cast<std::size_t>(j)];
    if (c.of_place() && !from_place) continue;
    double mm = c.rows[line] * known.mean[j];
    if (c.kind == Cause::Kind::ruler) mm = whole[c.kind] += mm;
    if (mm * off > best.contribution_mm * off) best = {c.kind, c.step, mm, 0}, chance = known.slipped[j];
  }
  best.share = std::min(1.0, best.contribution_mm / off);
  return best.share >= share_named && (wrong || chance > 0.5) ? std::optional(best) : std::nullopt;
}

/// Each line that is off once, in the order in which it gains most: what it is made from should be good by then.
std::vector<Repair> repair_of(const MeasuredFamily& m, const Judgement& judged) {
  std::map<int, double> off{{0, 0}, {m.task.parts, 0}};
  std::map<int, double> limit;
  for (const LineVerdict& v : judged.lines) {
    if (v.line <= 0 || v.line >= m.task.parts) continue;
    off[v.line] = v.off_mm;
    if (v.verdict != Verdict::normal) limit[v.line] = v.limit_mm;
  }
  std::vector<Repair> out;
  const double s = m.task.sigma_mm;
  while (!limit.empty()) {
    std::optional<Repair> best;
    double gain = 0;
    for (const auto& [line, most] : limit) {
      for (const auto& [low, low_off] : off) {
        const auto high = off.find(2 * line - low);
        if (low >= line) break;
        if (high == off.end()) continue;
        const double mean = (low_off + high->second) / 2;
        const double then = std::hypot(mean, s);
        if (then >= 0.75 * std::abs(off[line])) continue;
        const double g = most / then;
        if (g > gain) gain = g, best = Repair{line, {low, 2 * line - low}, then};
      }
    }
    if (!best) break;
    off[best->line] = (off[best->from[0]] + off[best->from[1]]) / 2;
    limit.erase(best->line);
    out.push_back(*best);
  }
  return out;
}

} // namespace

Judgement judge(const MeasuredFamily& measured, double sigma_error_mm) {
  Judgement out;
  if (measured.lines.empty()) return out;
  const Model usual = model_of(measured, {});
  const Model model = likeliest(measured, usual);
  const Posterior known = posterior_of(model);
  const WithoutPlace at = without_place(model, known);
  out.zero_mm = at.explained[0];
  out.size_mm = at.explained[1];
  // An edge tells where the ruler lay; it is no crease that could be off.
  const auto judged = [&](int line) { return line > 0 && line < measured.task.parts; };
  std::vector<int> creases;
  for (std::size_t i = 0; i < measured.lines.size(); ++i)
    if (judged(measured.lines[i])) creases.push_back(static_cast<int>(i));
  out.joint_limit_z = creases.empty() ? z_of_one : joint_limit(at.covariance(creases, creases));
  const double wider = std::hypot(1, sigma_error_mm / measured.task.sigma_mm);
  for (std::size_t i = 0; i < measured.lines.size(); ++i) {
    const auto row = static_cast<Eigen::Index>(i);
    // Where a ruler is far better than the hand, rounding may leave nothing of what it tells.
    const double least = 1e-12 * model.covariance(row, row);
    const double error = wider * std::sqrt(std::max(at.covariance(row, row), least));
    LineVerdict v;
    v.line = measured.lines[i];
    v.deviation_mm = measured.deviation_mm[i];
    v.off_mm = at.off[row];
    v.limit_mm = z_of_one * error;
    v.z = judged(v.line) ? v.off_mm / error : 0;
    v.verdict = std::abs(v.z) > out.joint_limit_z ? Verdict::again
                : std::abs(v.z) > z_of_one        ? Verdict::odd
                                                  : Verdict::normal;
    out.again = out.again || v.verdict == Verdict::again;
    if (!judged(v.line)) {
      out.lines.push_back(v);
      continue;
    }
    if (out.worst < 0 || std::abs(v.z) > std::abs(out.lines[static_cast<std::size_t>(out.worst)].z))
      out.worst = static_cast<int>(i);
    out.lines.push_back(v);
  }
  if (out.worst < 0) return out;
  const LineVerdict& worst = out.lines[static_cast<std::size_t>(out.worst)];
  if (worst.verdict != Verdict::normal) {
    out.cause = cause_of(model, known, out.worst, worst.off_mm, false, out.again);
  } else {
    // All lines are where they should be to each other; zero or size may be far off all the same.
    Eigen::Index farthest = 0;
    const double z = (usual.deviation.array().abs() / usual.covariance.diagonal().array().sqrt()).maxCoeff(&farthest);
    if (z > out.joint_limit_z) out.cause = cause_of(model, known, farthest, model.deviation[farthest], true, true);
  }
  if (out.again) out.repair = repair_of(measured, out);
  return out;
}

} // namespace uc
