#pragma once

#include "raster/image.h"

#include <vector>

namespace buttonhole
{

/// How far local contrast looks.
enum class Reach {
    Local, ///< radius 2 % of the long edge
    Fine,  ///< radius 0.25 % of the long edge
};

/// What local contrast is measured against: an edge-preserving mean of the whole grey picture,
/// mean = a * t + b, with a and b kept small and read in between bilinearly. Since it is applied to
/// the full grey, edges stay where they are at any size.
/// Source: K. He and J. Sun, "Fast guided filter", arXiv:1505.00996 (2015), guided by itself.
class DetailPlane
{
public:
    /// @param lightness cube root of linear grey of the whole picture, one channel, reduced
    /// @param fullWidth,fullHeight of the photo, px
    DetailPlane(Reach reach, const Image<float> &lightness, int fullWidth, int fullHeight);

    /// a and b of n pixels of a row at a pyramid level.
    void readRow(int x, int y, int level, int n, float *a, float *b) const;

    /// Long edge, px, of the largest picture it need be made from: more does not show.
    static int longEdge(Reach reach) { return reach == Reach::Local ? 1024 : 2048; }

private:
    int m_width;
    int m_height;
    double m_fullWidth;
    double m_fullHeight;
    std::vector<float> m_a;
    std::vector<float> m_b;
};

} // namespace buttonhole
