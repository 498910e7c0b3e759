#pragma once

#include "segment/colour_bins.h"

namespace buttonhole
{

/// What a stroke has learnt of the colours of what it paints: those that its trail passed over,
/// against all that it has seen under its tip. Nothing is ever taken for certain to be outside, so
/// that a mistake cannot confirm itself.
///
/// Method: learning from positive and unlabelled samples (C. Elkan, K. Noto, "Learning classifiers
/// from only positive and unlabeled data", KDD 2008), with coarse histograms.
class HeldColours
{
public:
    void see(int bin, float weight) { m_seen.add(bin, weight); } ///< a pixel under the tip
    void pass(int bin) { m_passed.add(bin); }                    ///< one under the trail
    /// What another look has learnt, so much of it.
    void add(const HeldColours &other, float share);
    /// Log-odds that a colour belongs.
    float logit(int bin) const;

private:
    ColourBins m_seen;
    ColourBins m_passed;
};

} // namespace buttonhole
