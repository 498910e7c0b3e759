#pragma once

#include <vector>

namespace buttonhole
{

/// What a stroke has learnt of the colours of what it paints: those that its trail passed over,
/// against all that it has seen under its tip. Nothing is ever taken for certain to be outside, so
/// that a mistake cannot confirm itself. The same colour in more or less light counts as one.
///
/// Method: learning from positive and unlabelled samples (C. Elkan, K. Noto, "Learning classifiers
/// from only positive and unlabeled data", KDD 2008), with coarse histograms.
class HeldColours
{
public:
    static int binOf(float L, float a, float b); ///< OKLab
    HeldColours();
    /// A look begins: those before it count less.
    void fade();
    void see(int bin);  ///< a pixel under the tip
    void pass(int bin); ///< of those, one under the trail
    /// Log-odds that a colour belongs.
    float logit(int bin) const;

private:
    struct Histogram {
        std::vector<float> bins;
        float sum = 0;
        void add(int bin);
        float share(int bin) const;
    };
    Histogram m_seen;
    Histogram m_passed;
};

} // namespace buttonhole
