#include "geometry/lapack.h"

extern "C" void openblas_set_num_threads(int count);

namespace uc {

void one_thread_each() {
  static const bool told = (openblas_set_num_threads(1), true);
  static_cast<void>(told);
}

} // namespace uc
