// What makes one polyhedron from another: dual, ambo, truncate, expand, snub and kis (Kepler 1619; the names after
// Conway and Hart). But for kis with a height, results are in canonical form: every edge touches the unit sphere, and
// the points where they do have the origin for their mean, which determines a polyhedron but for turning (Schramm
// 1992).
#pragma once

#include "base/parallel.h"
#include "solid/polyhedron.h"

namespace uc {

Polyhedron dual(const Polyhedron& p);
Polyhedron ambo(const Polyhedron& p, const Progress* progress = nullptr);
Polyhedron truncate(const Polyhedron& p, const Progress* progress = nullptr);
Polyhedron expand(const Polyhedron& p, const Progress* progress = nullptr);
Polyhedron snub(const Polyhedron& p, const Progress* progress = nullptr);
/// A pyramid on every face, its apex that many base edges (the mean of the face's) above the middle.
Polyhedron kis(const Polyhedron& p, double height);
/// A pyramid on every face, in canonical form.
Polyhedron kis(const Polyhedron& p, const Progress* progress = nullptr);

/// Fails when it does not come to rest within 1e-11.
Result<Polyhedron> canonical(Polyhedron p, const Progress* progress = nullptr);

} // namespace uc
