// Pages to PDF, at true scale, with the bundled fonts embedded.
#pragma once

#include "base/result.h"
#include "io/page.h"
#include "io/text_measure.h"

namespace uc {

/// The PDF's bytes. `title` goes into the document's information.
Result<std::string> pdf_of(const std::vector<Page>& pages, const std::string& title, const PageFonts& fonts);

} // namespace uc
