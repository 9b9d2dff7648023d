#include "measure/hand_fit.h"

#include "geometry/least_squares.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>

namespace uc {
namespace {

constexpr double usual_bias_mm = 0.5; // standard error of what is known of a hand's bias beforehand
constexpr double least_fit_mm = 0.005;
constexpr double greatest_fit_mm = 20;

/// One run in coordinates in which its free directions are gone and the rest is independent: the covariance there is
/// diag(s² spread + 1).
struct Whitened {
  Eigen::MatrixXd there; // from deviations to these coordinates
  Eigen::VectorXd spread;
  Eigen::VectorXd deviation;
  Eigen::VectorXd bias; // what a millimetre of stopping short does
};

struct Run {
  std::size_t index = 0;
  const MeasuredFamily* measured = nullptr;
  ErrorRows errors;
  Eigen::MatrixXd folds; // covariance per s²
  Eigen::MatrixXd fixed;
  Eigen::VectorXd deviation;
  std::vector<Eigen::VectorXd> shifts; // slips taken out
  Whitened white;
};

/// All columns span what is left of the whole space beside the given ones.
Eigen::MatrixXd complement(const Eigen::MatrixXd& columns) {
  const Eigen::Index n = columns.rows();
  const Eigen::Index left = std::max<Eigen::Index>(0, n - columns.cols());
  if (left == 0) return Eigen::MatrixXd(n, 0);
  const Eigen::MatrixXd base = orthonormal_base(columns);
  return eigensystem(base * base.transpose()).vectors.leftCols(left);
}

/// Columns that add nothing to those before them are dropped: two lines cannot tell zero from scale.
Eigen::MatrixXd independent(const Eigen::MatrixXd& columns) {
  Eigen::MatrixXd kept(columns.rows(), 0);
  for (Eigen::Index i = 0; i < columns.cols() && kept.cols() < columns.rows(); ++i) {
    const Eigen::VectorXd column = columns.col(i);
    Eigen::VectorXd rest = column;
    if (kept.cols() > 0) {
      const Eigen::MatrixXd base = orthonormal_base(kept);
      rest -= base * (base.transpose() * column);
    }
    if (rest.norm() < 1e-7 * column.norm() || column.norm() == 0) continue;
    kept.conservativeResize(Eigen::NoChange, kept.cols() + 1);
    kept.rightCols(1) = column;
  }
  return kept;
}

void whiten(Run& run, double ruler_mm) {
  const Eigen::Index n = run.deviation.size();
  Eigen::MatrixXd fixed = run.fixed;
  fixed.diagonal().array() += ruler_mm * ruler_mm;
  const Eigen::MatrixXd lower = covariance_root(fixed);
  const auto solve = lower.triangularView<Eigen::Lower>();
  Eigen::MatrixXd free(n, 2 + static_cast<Eigen::Index>(run.shifts.size()));
  for (Eigen::Index i = 0; i < n; ++i) {
    free(i, 0) = 1;
    free(i, 1) = static_cast<double>(run.measured->lines[static_cast<std::size_t>(i)]) / run.measured->task.parts;
  }
  for (std::size_t k = 0; k < run.shifts.size(); ++k) free.col(2 + static_cast<Eigen::Index>(k)) = run.shifts[k];
  const Eigen::MatrixXd beside = complement(independent(solve.solve(free)));
  const Eigen::MatrixXd inverse = solve.solve(Eigen::MatrixXd::Identity(n, n));
  const Eigen::MatrixXd to_rest = beside.transpose() * inverse;
  const Eigensystem own = eigensystem(to_rest * run.folds * to_rest.transpose());
  Whitened& w = run.white;
  w.there = own.vectors.transpose() * to_rest;
  w.spread = own.values.cwiseMax(0);
  w.deviation = w.there * run.deviation;
  Eigen::VectorXd way(static_cast<Eigen::Index>(run.errors.sources.size()));
  for (Eigen::Index j = 0; j < way.size(); ++j) way[j] = run.errors.sources[static_cast<std::size_t>(j)].short_way;
  w.bias = w.there * (run.errors.rows * way);
}

Run run_of(const MeasuredFamily& m, std::size_t index) {
  Run run;
  run.index = index;
  run.measured = &m;
  run.errors = error_rows(m);
  const auto count = static_cast<Eigen::Index>(run.errors.sources.size());
  Eigen::VectorXd own(count);
  Eigen::VectorXd other(count);
  for (Eigen::Index j = 0; j < count; ++j) {
    const ErrorSource& source = run.errors.sources[static_cast<std::size_t>(j)];
    own[j] = source.kind == ErrorSource::Kind::fold ? 1 : 0;
    other[j] = source.sigma_mm * source.sigma_mm;
  }
  run.folds = run.errors.rows * own.asDiagonal() * run.errors.rows.transpose();
  run.fixed = run.errors.rows * other.asDiagonal() * run.errors.rows.transpose();
  run.deviation = Eigen::Map<const Eigen::VectorXd>(m.deviation_mm.data(), static_cast<Eigen::Index>(m.lines.size()));
  return run;
}

/// What the bias of the hand has to be at this s, over all runs.
struct Bias {
  double information = 0;
  double mm = 0;
};
Bias bias_at(const std::vector<Run>& runs, double s) {
  Bias b;
  double sum = 0;
  for (const Run& run : runs) {
    const Eigen::ArrayXd weight = 1 / (s * s * run.white.spread.array() + 1);
    b.information += (run.white.bias.array().square() * weight).sum();
    sum += (run.white.bias.array() * run.white.deviation.array() * weight).sum();
  }
  b.information += 1 / (usual_bias_mm * usual_bias_mm);
  b.mm = sum / b.information;
  return b;
}

double log_likelihood(const std::vector<Run>& runs, double s) {
  double sum = 0;
  for (const Run& run : runs) {
    const Eigen::ArrayXd variance = s * s * run.white.spread.array() + 1;
    sum -= 0.5 * (variance.log() + run.white.deviation.array().square() / variance).sum();
  }
  const Bias b = bias_at(runs, s);
  return sum + 0.5 * (b.mm * b.mm * b.information - std::log(b.information));
}

/// The likelihood has one maximum in log s for all practical data; a coarse scan guards against a flat start.
double most_likely(const std::vector<Run>& runs) {
  double best = least_fit_mm;
  for (double s = least_fit_mm; s < greatest_fit_mm; s *= 1.15) {
    if (log_likelihood(runs, s) > log_likelihood(runs, best)) best = s;
  }
  double low = best / 1.2;
  double high = best * 1.2;
  const double ratio = 1 / std::numbers::phi;
  for (int i = 0; i < 60; ++i) {
    const double c = high - (high - low) * ratio;
    const double d = low + (high - low) * ratio;
    if (log_likelihood(runs, c) > log_likelihood(runs, d))
      high = d;
    else
      low = c;
  }
  return (low + high) / 2;
}

struct Slip {
  Run* run = nullptr;
  Eigen::VectorXd shift;
  int line = 0;
  double z = 0;
};

/// How many standard errors a run is off along `shift`, everything else given; 0 where that cannot be seen.
double slip_z(const Run& run, const Eigen::VectorXd& shift, double s, double bias) {
  const Whitened& w = run.white;
  const Eigen::ArrayXd weight = 1 / (s * s * w.spread.array() + 1);
  const Eigen::ArrayXd seen = (w.there * shift).array();
  const double information = (seen.square() * weight).sum();
  if (information < 1e-9) return 0;
  return (seen * (w.deviation - bias * w.bias).array() * weight).sum() / std::sqrt(information);
}

/// The line or fold that fits the hand worst, given everything else.
Slip worst_slip(std::vector<Run>& runs, double s) {
  const double bias = bias_at(runs, s).mm;
  Slip worst;
  for (Run& run : runs) {
    const auto ask = [&](const Eigen::VectorXd& shift, int line) {
      const double z = slip_z(run, shift, s, bias);
      if (std::abs(z) > std::abs(worst.z)) worst = {&run, shift, line, z};
    };
    for (Eigen::Index j = 0; j < run.errors.rows.cols(); ++j) {
      const ErrorSource& source = run.errors.sources[static_cast<std::size_t>(j)];
      if (source.kind == ErrorSource::Kind::fold) ask(run.errors.rows.col(j), run.measured->steps[source.step].makes);
    }
    for (Eigen::Index i = 0; i < run.deviation.size(); ++i)
      ask(Eigen::VectorXd::Unit(run.deviation.size(), i), run.measured->lines[static_cast<std::size_t>(i)]);
  }
  return worst;
}

/// From lines that were read more than once: the error of one reading, pooled.
struct Repeats {
  double square = 0;
  int count = 0;
};
Repeats repeats_in(const std::vector<MeasuredFamily>& measured) {
  Repeats all;
  for (const MeasuredFamily& m : measured) {
    std::map<int, std::vector<double>> readings;
    for (std::size_t i = 0; i < m.lines.size(); ++i) readings[m.lines[i]].push_back(m.deviation_mm[i]);
    for (const auto& [line, at] : readings) {
      double mean = 0;
      for (const double v : at) mean += v / static_cast<double>(at.size());
      for (const double v : at) all.square += (v - mean) * (v - mean);
      all.count += static_cast<int>(at.size()) - 1;
    }
  }
  return all;
}

double expected_error(const std::vector<Run>& runs, double s) {
  double information = 0; // of s²
  for (const Run& run : runs)
    information += 0.5 * (run.white.spread.array() / (s * s * run.white.spread.array() + 1)).square().sum();
  return 1 / (2 * s * std::sqrt(information));
}

} // namespace

Result<HandFit> fit_hand(const std::vector<MeasuredFamily>& measured) {
  HandFit fit;
  const Repeats repeats = repeats_in(measured);
  fit.ruler_learnt = repeats.count >= least_repeats && repeats.square > 0;
  if (fit.ruler_learnt) fit.ruler_mm = std::max(least_sigma_mm, std::sqrt(repeats.square / repeats.count));
  std::vector<Run> runs;
  double rulers = 0;
  Eigen::Index told = 0; // independent differences that speak of the hand
  for (std::size_t i = 0; i < measured.size(); ++i) {
    if (measured[i].lines.empty()) continue;
    Run run = run_of(measured[i], i);
    whiten(run, fit.ruler_learnt ? fit.ruler_mm : measured[i].ruler_sigma_mm);
    const Eigen::Index tells = (run.white.spread.array() > 1e-9).count();
    if (tells == 0) continue;
    told += tells;
    fit.lines += static_cast<int>(measured[i].lines.size());
    rulers += measured[i].ruler_sigma_mm;
    runs.push_back(std::move(run));
  }
  fit.runs = static_cast<int>(runs.size());
  if (told < 2)
    return Error{"Too few lines are measured to judge the hand: where the ruler's zero lay and how long the sheet is "
                 "takes two of each run; measure four lines or more of a grid."};
  if (!fit.ruler_learnt) fit.ruler_mm = rulers / fit.runs;
  fit.sigma_mm = most_likely(runs);
  // Some slips are common, many are no slips: then the hand is like that.
  const int most = std::max(1, fit.lines / 8);
  while (static_cast<int>(fit.left_out.size()) < most) {
    const Slip slip = worst_slip(runs, fit.sigma_mm);
    if (!slip.run) break;
    // It is judged by the hand that all others tell, which it cannot make look worse than it is.
    Run& run = *slip.run;
    const Run before = run;
    run.shifts.push_back(slip.shift);
    whiten(run, fit.ruler_learnt ? fit.ruler_mm : run.measured->ruler_sigma_mm);
    const double without = most_likely(runs);
    const double z = slip_z(before, slip.shift, without, bias_at(runs, without).mm);
    if (std::abs(z) <= left_out_z) {
      run = before;
      break;
    }
    fit.left_out.push_back({run.index, slip.line, z});
    fit.sigma_mm = without;
  }
  if (fit.sigma_mm < 1.2 * least_fit_mm)
    return Error{
        "The measured lines are too close to perfect for the ruler used; measure more lines or a finer scale."};
  if (fit.sigma_mm > 0.8 * greatest_fit_mm)
    return Error{"The measured lines are centimetres off their places; check which lines were measured, and from which "
                 "edge."};
  fit.standard_error_mm = expected_error(runs, fit.sigma_mm);
  // What is unbiased is s²; its root is a little small.
  const double relative = fit.standard_error_mm / fit.sigma_mm;
  fit.sigma_mm *= 1 + std::min(0.05, relative * relative / 2);
  const Bias bias = bias_at(runs, fit.sigma_mm);
  fit.bias_mm = bias.mm;
  fit.bias_error_mm = 1 / std::sqrt(bias.information);
  return fit;
}

} // namespace uc
