#include "divide/hand_fit.h"

#include "geometry/least_squares.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace uc {
namespace {

/// Coefficients of the measured lines over all errors, and which of these errors are folds.
struct Design {
  Eigen::MatrixXd a;        // measured lines x errors
  Eigen::VectorXd variance; // of the errors, with s = 1 for folds
  std::vector<int> step;    // fold errors: index of the step, -1 for others
  Eigen::VectorXd deviation;
};

Design design_of(const MeasuredFamily& m) {
  DivideTask unit = m.task;
  unit.sigma_mm = 1;
  const LineErrors errors = replay(unit, m.steps);
  Design d;
  const auto rows = static_cast<Eigen::Index>(m.lines.size());
  d.a.resize(rows, errors.error_count());
  d.deviation.resize(rows);
  for (Eigen::Index i = 0; i < rows; ++i) {
    d.a.row(i) = errors.coefficients(m.lines[static_cast<std::size_t>(i)]).transpose();
    d.deviation[i] = m.deviation_mm[static_cast<std::size_t>(i)];
  }
  d.variance.resize(errors.error_count());
  for (int e = 0; e < errors.error_count(); ++e) d.variance[e] = errors.error_variance(e);
  if (m.task.start) d.step.push_back(-1);
  for (std::size_t i = 0; i < m.steps.size(); ++i) {
    d.step.push_back(m.steps[i].kind == StepKind::guess ? -1 : static_cast<int>(i));
  }
  return d;
}

struct Quadratic {
  Eigen::MatrixXd folds; // covariance per s²
  Eigen::MatrixXd fixed;
  Eigen::VectorXd deviation;
};

Quadratic quadratic_of(const MeasuredFamily& m) {
  const Design d = design_of(m);
  Eigen::VectorXd fold = d.variance;
  Eigen::VectorXd other = d.variance;
  for (Eigen::Index e = 0; e < d.variance.size(); ++e) {
    (d.step[static_cast<std::size_t>(e)] >= 0 ? other : fold)[e] = 0;
  }
  Quadratic q;
  q.folds = d.a * fold.asDiagonal() * d.a.transpose();
  q.fixed = d.a * other.asDiagonal() * d.a.transpose();
  q.fixed.diagonal().array() += m.ruler_sigma_mm * m.ruler_sigma_mm;
  q.deviation = d.deviation;
  return q;
}

double log_likelihood(const std::vector<Quadratic>& all, double s) {
  double sum = 0;
  for (const Quadratic& q : all) {
    const auto lower = cholesky(s * s * q.folds + q.fixed);
    if (!lower) return -1e300;
    sum -= lower->diagonal().array().log().sum() + 0.5 * q.deviation.dot(solve_cholesky(*lower, q.deviation));
  }
  return sum;
}

} // namespace

Result<HandFit> fit_hand(const std::vector<MeasuredFamily>& measured) {
  std::vector<Quadratic> all;
  HandFit fit;
  for (const MeasuredFamily& m : measured) {
    if (m.lines.empty()) continue;
    all.push_back(quadratic_of(m));
    ++fit.families;
    fit.measurements += static_cast<int>(m.lines.size());
  }
  if (fit.measurements < 2) {
    return Error{"Too few lines are measured to judge the hand; measure at least two creases of a folded grid."};
  }
  // The likelihood has one maximum in log s for all practical data; a coarse scan guards against a flat start.
  double best = 0.01;
  for (double s = 0.005; s < 20; s *= 1.15) {
    if (log_likelihood(all, s) > log_likelihood(all, best)) best = s;
  }
  double low = best / 1.2;
  double high = best * 1.2;
  const double ratio = 1 / std::numbers::phi;
  for (int i = 0; i < 80; ++i) {
    const double c = high - (high - low) * ratio;
    const double d = low + (high - low) * ratio;
    if (log_likelihood(all, c) > log_likelihood(all, d))
      high = d;
    else
      low = c;
  }
  fit.sigma_mm = (low + high) / 2;
  const double h = fit.sigma_mm * 1e-3;
  const double curvature = (log_likelihood(all, fit.sigma_mm + h) - 2 * log_likelihood(all, fit.sigma_mm) +
                            log_likelihood(all, fit.sigma_mm - h)) /
                           (h * h);
  if (!(curvature < 0) || fit.sigma_mm < 0.006) {
    return Error{
        "The measured lines are too close to perfect for the ruler used; measure more lines or a finer scale."};
  }
  fit.standard_error_mm = std::sqrt(-1 / curvature);
  return fit;
}

Diagnosis diagnose(const MeasuredFamily& m) {
  Diagnosis result;
  if (m.lines.empty()) return result;
  const double s = m.task.sigma_mm;
  const LineErrors errors = replay(m.task, m.steps);
  double worst = -1;
  const auto measured_at = [&](int line) -> std::optional<double> {
    if (line == 0 || line == m.task.parts) return 0;
    for (std::size_t i = 0; i < m.lines.size(); ++i) {
      if (m.lines[i] == line) return m.deviation_mm[i];
    }
    return std::nullopt;
  };
  for (std::size_t i = 0; i < m.lines.size(); ++i) {
    LineVerdict v;
    v.line = m.lines[i];
    v.deviation_mm = m.deviation_mm[i];
    v.tolerance_mm = 1.96 * std::sqrt(errors.variance(v.line) + m.ruler_sigma_mm * m.ruler_sigma_mm);
    v.within = std::abs(v.deviation_mm) <= v.tolerance_mm;
    v.after_refold_mm = std::abs(v.deviation_mm);
    for (int a = std::max(0, 2 * v.line - m.task.parts); a < v.line; ++a) {
      const auto low = measured_at(a);
      const auto high = measured_at(2 * v.line - a);
      if (!low || !high) continue;
      const double mean = (*low + *high) / 2;
      const double after = std::sqrt(mean * mean + s * s);
      if (after >= v.after_refold_mm) continue;
      v.after_refold_mm = after;
      v.refold_from = {a, 2 * v.line - a};
    }
    v.refold = !v.within && v.after_refold_mm < 0.75 * std::abs(v.deviation_mm);
    const double share = std::abs(v.deviation_mm) / v.tolerance_mm;
    if (share > worst) worst = share, result.worst = static_cast<int>(i);
    result.lines.push_back(v);
  }
  const Design d = design_of(m);
  Eigen::VectorXd prior = d.variance;
  for (Eigen::Index e = 0; e < prior.size(); ++e) {
    if (d.step[static_cast<std::size_t>(e)] >= 0) prior[e] = s * s;
  }
  Eigen::MatrixXd total = d.a * prior.asDiagonal() * d.a.transpose();
  total.diagonal().array() += m.ruler_sigma_mm * m.ruler_sigma_mm;
  const Eigen::VectorXd posterior = prior.asDiagonal() * d.a.transpose() * least_squares(total, d.deviation);
  for (Eigen::Index e = 0; e < posterior.size(); ++e) {
    const int step = d.step[static_cast<std::size_t>(e)];
    if (step >= 0) result.blame.push_back({static_cast<std::size_t>(step), posterior[e]});
  }
  const LineVerdict& worst_line = result.lines[static_cast<std::size_t>(result.worst)];
  if (!worst_line.within) {
    const Eigen::VectorXd share = d.a.row(result.worst).transpose().cwiseProduct(posterior);
    Eigen::Index most = 0;
    // Only what moved the line the way it lies can be its cause.
    (share * (worst_line.deviation_mm > 0 ? 1 : -1)).maxCoeff(&most);
    if (std::abs(share[most]) >= 0.5 * std::abs(worst_line.deviation_mm)) {
      const int place = static_cast<int>(most) - (m.task.start ? 1 : 0);
      Cause cause{Cause::Kind::start, 0, share[most]};
      if (place >= 0) {
        cause.step = static_cast<std::size_t>(place);
        cause.kind = m.steps[cause.step].kind == StepKind::guess ? Cause::Kind::guess : Cause::Kind::fold;
      }
      result.cause = cause;
    }
  }
  std::stable_sort(result.blame.begin(), result.blame.end(),
                   [](const Blame& p, const Blame& q) { return std::abs(p.error_mm) > std::abs(q.error_mm); });
  return result;
}

} // namespace uc
