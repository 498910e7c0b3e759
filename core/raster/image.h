#pragma once

#include "base/rect.h"
#include "raster/room.h"

#include <cstdint>
#include <cstring>
#include <memory>

namespace buttonhole
{

/// Rows of interleaved channels without padding; the stride is width * channels elements.
/// Moves freely, copies only by clone(). Fresh pixels are not initialised.
template <class T>
class Image
{
public:
    Image() = default;
    Image(int width, int height, int channels)
        : m_width(width), m_height(height), m_channels(channels),
          m_pixels(roomFor<T>(size_t(width) * size_t(height) * size_t(channels)))
    {
    }

    int width() const { return m_width; }
    int height() const { return m_height; }
    int channels() const { return m_channels; }
    Rect rect() const { return {0, 0, m_width, m_height}; }
    bool isEmpty() const { return m_pixels == nullptr; }
    size_t stride() const { return size_t(m_width) * size_t(m_channels); }
    size_t count() const { return stride() * size_t(m_height); }
    size_t bytes() const { return count() * sizeof(T); }
    T *row(int y) { return m_pixels.get() + stride() * size_t(y); }
    const T *row(int y) const { return m_pixels.get() + stride() * size_t(y); }
    T *pixel(int x, int y) { return row(y) + size_t(x) * size_t(m_channels); }
    const T *pixel(int x, int y) const { return row(y) + size_t(x) * size_t(m_channels); }

    Image clone() const
    {
        Image copy(m_width, m_height, m_channels);
        std::memcpy(copy.row(0), row(0), bytes());
        return copy;
    }

private:
    int m_width = 0;
    int m_height = 0;
    int m_channels = 0;
    Room<T> m_pixels;
};

} // namespace buttonhole
