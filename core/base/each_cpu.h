#pragma once

/// Before a function of plain loops: compiled for several generations of processors, of which the
/// one at hand is chosen when the program starts. What comes out is the same to the bit (no
/// contraction, cmake/flags.cmake). Loops that want more than the compiler sees go by Highway
/// (`*_rows.cpp`).
#if defined(__x86_64__) && defined(__GNUC__) && !defined(__clang__) &&                             \
    !defined(__SANITIZE_ADDRESS__) && !defined(__SANITIZE_THREAD__)
#define BUTTONHOLE_EACH_CPU                                                                        \
    __attribute__((target_clones("arch=x86-64-v4", "arch=x86-64-v3", "default")))
#else
#define BUTTONHOLE_EACH_CPU
#endif

/// What such a function calls, compiled with it.
#define BUTTONHOLE_INLINED __attribute__((always_inline)) inline
