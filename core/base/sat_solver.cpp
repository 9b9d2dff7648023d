#include "base/sat_solver.h"

#include <cadical.hpp>

#include <cstdlib>

namespace uc {

struct SatSolver::Inside : CaDiCaL::Terminator {
  CaDiCaL::Solver solver;
  const std::function<bool()>* stop = nullptr;
  bool terminate() override { return stop && (*stop)(); }
};

SatSolver::SatSolver() : inside_(std::make_unique<Inside>()) { inside_->solver.set("quiet", 1); }
SatSolver::~SatSolver() = default;

void SatSolver::seed(int number) { inside_->solver.set("seed", number); }
void SatSolver::add(int literal) { inside_->solver.add(literal); }
void SatSolver::prefer(int literal) { inside_->solver.phase(literal); }
void SatSolver::assume(int literal) { inside_->solver.assume(literal); }

std::optional<bool> SatSolver::solve(const std::function<bool()>& stop) {
  inside_->stop = &stop;
  inside_->solver.connect_terminator(inside_.get());
  const int answer = inside_->solver.solve();
  inside_->solver.disconnect_terminator();
  inside_->stop = nullptr;
  return answer == 0 ? std::nullopt : std::optional(answer == 10);
}

bool SatSolver::is_true(int variable) const { return inside_->solver.val(std::abs(variable)) > 0; }
bool SatSolver::needed(int assumption) const { return inside_->solver.failed(assumption); }

} // namespace uc
