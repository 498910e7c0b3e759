#pragma once

#include <vector>

namespace buttonhole
{

/// What a stroke has learnt of the colours that belong to what it paints, and of those that do not:
/// two coarse histograms over OKLab, each sample spread a little to its neighbours.
class HeldColours
{
public:
    static int binOf(float L, float a, float b); ///< OKLab
    void add(int bin, bool belongs, float weight = 1);
    /// Enough was seen of both to tell one from the other.
    bool knowsBoth() const;
    /// Log-odds that a colour belongs; 0 for colours never seen.
    float logit(int bin) const;

private:
    struct Histogram {
        std::vector<float> bins; ///< empty: nothing was added
        float sum = 0;
    };
    Histogram m_own;
    Histogram m_other;
};

} // namespace buttonhole
