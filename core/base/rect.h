#pragma once

#include <algorithm>
#include <cstddef>

namespace buttonhole
{

/// The upright photo's own pixels: masks, marks, steps and light live there until it is complete.
/// Plain buffers count theirs in it, too.
struct PhotoSpace {
};
/// Pixels of the picture that leaves: see geometry/picture_map.h.
struct PictureSpace {
};

/// Half-open pixel rectangle [x0, x1) x [y0, y1). Those of two spaces do not mix.
template <class Space>
struct RectIn {
    int x0 = 0;
    int y0 = 0;
    int x1 = 0;
    int y1 = 0;

    int width() const { return x1 - x0; }
    int height() const { return y1 - y0; }
    bool isEmpty() const { return x1 <= x0 || y1 <= y0; }
    size_t area() const { return isEmpty() ? 0 : size_t(width()) * size_t(height()); }
    friend bool operator==(const RectIn &, const RectIn &) = default;
};

using Rect = RectIn<PhotoSpace>;
using PictureRect = RectIn<PictureSpace>;

template <class Space>
RectIn<Space> intersected(const RectIn<Space> &a, const RectIn<Space> &b)
{
    const RectIn<Space> r{std::max(a.x0, b.x0), std::max(a.y0, b.y0), std::min(a.x1, b.x1),
                          std::min(a.y1, b.y1)};
    return r.isEmpty() ? RectIn<Space>{} : r;
}

/// The smallest rectangle that holds both; an empty one adds nothing.
template <class Space>
RectIn<Space> united(const RectIn<Space> &a, const RectIn<Space> &b)
{
    if (a.isEmpty())
        return b;
    if (b.isEmpty())
        return a;
    return {std::min(a.x0, b.x0), std::min(a.y0, b.y0), std::max(a.x1, b.x1), std::max(a.y1, b.y1)};
}

/// How much two are the same: intersection over union, 0..1.
template <class Space>
double likeness(const RectIn<Space> &a, const RectIn<Space> &b)
{
    const auto both = double(intersected(a, b).area());
    return both / std::max(1.0, double(a.area()) + double(b.area()) - both);
}

/// Deepest level of any pyramid: one mask tile is one pixel there.
inline constexpr int kMaxLevel = 8;

/// The rectangle at pyramid level `level` (half the size each) that covers `r` of level 0.
template <class Space>
RectIn<Space> atLevel(const RectIn<Space> &r, int level)
{
    const int up = (1 << level) - 1;
    return {r.x0 >> level, r.y0 >> level, (r.x1 + up) >> level, (r.y1 + up) >> level};
}

/// Pixels along a side of pyramid level `level`; never less than 1.
inline int sizeAtLevel(int size, int level)
{
    return std::max(1, (size + (1 << level) - 1) >> level);
}

} // namespace buttonhole
