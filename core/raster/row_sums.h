#pragma once

#include <cstddef>
#include <vector>

namespace buttonhole
{

/// `to` becomes the middle row by the first weight, and pairs on both sides of it by the others, in
/// this order, whatever n is.
/// @param weights of the middle and of `count` pairs
/// @param before,after `count` rows each, the nearest first
void sumPairs(const float *weights, size_t count, const float *middle, const float *const *before,
              const float *const *after, int n, float *to);
/// The same of values beside the middle in its own row.
void sumAlong(const float *weights, size_t count, const float *middle, int n, float *to);

/// Symmetric weights along rows and columns, of rows that come one after the other: what is in hand
/// stays in a processor's nearest caches.
class RingSums
{
public:
    /// @param weights of the middle first; they outlive it
    /// @param width of what comes out
    RingSums(const std::vector<float> &weights, int width);

    /// The next row: as many more on each side as there are weights beside the middle.
    /// @return its sums, to be changed before they are used
    float *push(const float *values);
    /// Of the row whose last neighbour was pushed last; all of them were.
    void sum(float *to);

private:
    int radius() const { return int(m_weights.size()) - 1; }

    const std::vector<float> &m_weights;
    int m_width;
    int m_next = 0; ///< of the ring's rows, where the next one goes
    std::vector<float> m_ring;
    std::vector<float *> m_rows; ///< the ring twice over, so that neighbours follow each other
    std::vector<const float *> m_before;
    std::vector<const float *> m_after;
};

} // namespace buttonhole
