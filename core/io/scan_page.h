// The print-out that a sheet is laid on to be scanned, as a page at true scale.
#pragma once

#include "device/scan_frame.h"
#include "io/page.h"

namespace uc {

/// Marks, band and a bar of 50 mm to check the printer by.
Page scan_page(const ScanFrame& frame);

} // namespace uc
