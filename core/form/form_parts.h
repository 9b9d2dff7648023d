// What of a piece of folded paper follows from the places of its faces and from their order. For those who make forms:
// a form is handed on only when all of its parts agree.
#pragma once

#include "form/piece_form.h"

namespace uc {

/// Corners are taken for joined when they lie closer than this, in mm.
double closeness(const PieceForm& form);

/// The vertices, the box and how far joined faces lie apart, from the places of the faces.
void lay_out(PieceForm& form);

/// Mountains and valleys, from which of two folded faces lies above.
void name_folds(PieceForm& form);

/// What lies over what, as far as places tell, with every fold between faces that were turned differently; the creases
/// between others are open. Fails where the folded outlines cannot be told apart.
Status measure(PieceForm& form);

/// Faces for which the order of the form breaks one of the conditions; empty when it is sound.
std::vector<FaceId> broken_by(const LayerConstraints& constraints, const PieceForm& form);

/// Numbers of faces as a sentence has them.
std::string listed(const std::vector<FaceId>& faces);

} // namespace uc
