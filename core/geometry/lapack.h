// What is called of BLAS and LAPACK (OpenBLAS), whose kernels fit the machine they run on. The build for threads is
// linked, since that without them mixes up its buffers when two threads call it, and is told to use one each: work is
// shared out here, and sums keep their order.
#pragma once

extern "C" {
void dpotrf_(const char* half, const int* n, double* a, const int* stride, int* info);
void dpotrs_(const char* half, const int* n, const int* right_sides, const double* a, const int* stride, double* b,
             const int* b_stride, int* info);
void dtrsm_(const char* side, const char* half, const char* transposed, const char* unit, const int* m, const int* n,
            const double* alpha, const double* a, const int* a_stride, double* b, const int* b_stride);
void dsyrk_(const char* half, const char* transposed, const int* n, const int* k, const double* alpha, const double* a,
            const int* a_stride, const double* beta, double* c, const int* c_stride);
void dgelsy_(const int* m, const int* n, const int* right_sides, double* a, const int* a_stride, double* b,
             const int* b_stride, int* pivots, const double* least, int* rank, double* work, const int* room,
             int* info);
void dgeqrf_(const int* m, const int* n, double* a, const int* stride, double* tau, double* work, const int* room,
             int* info);
void dorgqr_(const int* m, const int* n, const int* k, double* a, const int* stride, const double* tau, double* work,
             const int* room, int* info);
void dsyevd_(const char* vectors, const char* half, const int* n, double* a, const int* stride, double* values,
             double* work, const int* room, int* whole_work, const int* whole_room, int* info);
}

namespace uc {

/// Before the first call.
void one_thread_each();

} // namespace uc
