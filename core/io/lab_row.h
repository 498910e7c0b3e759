#pragma once

#include "colour/pixel_rows.h"
#include "io/photo_levels.h"
#include "raster/parallel_tiles.h"

#include <memory>
#include <new>

namespace buttonhole
{

/// Linear RGB of a run of a level's pixels. @param r,g,b n values, padded for SIMD
inline void readLightRow(const PhotoLevels &levels, int level, int x, int y, int n, float *r,
                         float *g, float *b)
{
    std::visit(
        [&](const auto &image) { decodeRow(levels.colour(), image.pixel(x, y), n, r, g, b); },
        levels.level(level));
}

/// OKLab of a run of a level's pixels. @param L,a,b n values, padded for SIMD
inline void readLabRow(const PhotoLevels &levels, int level, int x, int y, int n, float *L,
                       float *a, float *b)
{
    readLightRow(levels, level, x, y, n, L, a, b);
    labRow(levels.colour().toLms.data(), n, L, a, b);
}

/// OKLab of a run of a level's pixels, in rows padded for SIMD.
struct LabRow {
    alignas(64) float L[kRowRun + 64];
    alignas(64) float a[kRowRun + 64];
    alignas(64) float b[kRowRun + 64];

    /// @param n at most kRowRun
    void read(const PhotoLevels &levels, int level, int x, int y, int n)
    {
        readLabRow(levels, level, x, y, n, L, a, b);
    }
};

/// OKLab of a part of a level, at most a tile large. The steps of a mask look at the same part one
/// after the other, so each thread keeps the last one that it read.
class LabTile
{
public:
    /// @param area inside the level, at most kTileSize in width and height
    static const LabTile &of(const PhotoLevels &levels, int level, const Rect &area)
    {
        thread_local LabTile last;
        if (last.m_photo != levels.content() || last.m_level != level || last.m_area != area)
            last.read(levels, level, area);
        return last;
    }

    const float *L(int row) const { return plane(0, row); }
    const float *a(int row) const { return plane(1, row); }
    const float *b(int row) const { return plane(2, row); }

private:
    static constexpr size_t kStride = kTileSize + 64; ///< padded for SIMD
    static constexpr size_t kPlane = kStride * kTileSize;
    static_assert(kTileSize <= kRowRun, "a tile's row is one run");

    const float *plane(size_t n, int row) const
    {
        return m_values.get() + n * kPlane + size_t(row) * kStride;
    }
    void read(const PhotoLevels &levels, int level, const Rect &area)
    {
        if (!m_values)
            m_values.reset(static_cast<float *>(
                ::operator new(3 * kPlane * sizeof(float), std::align_val_t(64))));
        for (int y = 0; y < area.height(); ++y) {
            float *row = m_values.get() + size_t(y) * kStride;
            readLabRow(levels, level, area.x0, area.y0 + y, area.width(), row, row + kPlane,
                       row + 2 * kPlane);
        }
        m_photo = levels.content();
        m_level = level;
        m_area = area;
    }

    struct Free {
        void operator()(float *p) const { ::operator delete(p, std::align_val_t(64)); }
    };
    std::unique_ptr<float, Free> m_values;
    uint64_t m_photo = 0;
    int m_level = -1;
    Rect m_area;
};

} // namespace buttonhole
