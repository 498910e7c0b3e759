#include "export/mounted_writer.h"

#include <algorithm>

namespace buttonhole
{

namespace
{

template <class T>
class MountedWriter final : public PictureWriter
{
public:
    MountedWriter(const Mount &mount, const PictureSpec &spec, PictureWriter &to)
        : m_mount(mount), m_to(to), m_channels(spec.channels), m_pixels(size_t(mount.width())),
          m_row(size_t(mount.width()) * size_t(spec.channels))
    {
    }

    Result<void> writeRows(const void *rows, int count) override
    {
        const int ofPicture = m_mount.width() - m_mount.left() - m_mount.right();
        while (m_y < m_mount.top())
            if (auto done = writeRow(nullptr); !done)
                return done;
        const auto *at = static_cast<const T *>(rows);
        for (int i = 0; i < count; ++i, at += 3 * ptrdiff_t(ofPicture))
            if (auto done = writeRow(at); !done)
                return done;
        return {};
    }
    Result<void> finish() override
    {
        while (m_y < m_mount.height())
            if (auto done = writeRow(nullptr); !done)
                return done;
        return m_to.finish();
    }

private:
    static constexpr float kMost = sizeof(T) == 1 ? 255 : 65535;

    /// @param picture its row, if it has one there
    Result<void> writeRow(const T *picture)
    {
        const auto [from, to] = m_mount.plainPart(m_y, 1);
        const int plainFrom = from < to ? int(from) + 1 : m_mount.width();
        const int plainTo = from < to ? int(to) : m_mount.width();
        const bool isLikeOthers = from < to && !m_mount.signsRow(m_y, 1);
        const bool isKnown = isLikeOthers && m_wasLikeOthers;
        draw(picture, 0, plainFrom, isKnown);
        copy(picture, plainFrom, plainTo);
        draw(picture, plainTo, m_mount.width(), isKnown);
        m_wasLikeOthers = isLikeOthers;
        ++m_y;
        return m_to.writeRows(m_row.data(), 1);
    }

    const T *pixelOf(const T *picture, int x) const
    {
        const bool isInside =
            picture && x >= m_mount.left() && x < m_mount.width() - m_mount.right();
        return isInside ? picture + 3 * ptrdiff_t(x - m_mount.left()) : nullptr;
    }

    void copy(const T *picture, int x0, int x1)
    {
        const T *own = pixelOf(picture, x0);
        if (x0 >= x1 || !own)
            return;
        T *out = m_row.data() + ptrdiff_t(x0) * m_channels;
        if (m_channels == 3) {
            std::copy_n(own, 3 * ptrdiff_t(x1 - x0), out);
            return;
        }
        for (int x = x0; x < x1; ++x, own += 3, out += 4) {
            std::copy_n(own, 3, out);
            out[3] = T(kMost);
        }
    }

    /// @param isKnown m_pixels hold what the mount has there
    void draw(const T *picture, int x0, int x1, bool isKnown)
    {
        if (x0 >= x1)
            return;
        if (!isKnown)
            m_mount.row(x0, m_y, 1, x1 - x0, m_pixels.data() + x0);
        for (int x = x0; x < x1; ++x) {
            const MountPixel &pixel = m_pixels[size_t(x)];
            const T *own = pixelOf(picture, x);
            T *out = m_row.data() + ptrdiff_t(x) * m_channels;
            if (own && pixel.keep == 1) {
                std::copy_n(own, 3, out);
            } else {
                for (int c = 0; c < 3; ++c) {
                    const float code =
                        (own ? pixel.keep * float(own[c]) / kMost : 0) + pixel.add[c];
                    const float seen = m_channels == 4 ? code / std::max(pixel.alpha, 1e-6F)
                                                       : code + 1 - pixel.alpha;
                    out[c] = T(std::clamp(seen, 0.0F, 1.0F) * kMost + 0.5F);
                }
            }
            if (m_channels == 4)
                out[3] = T(std::clamp(pixel.alpha, 0.0F, 1.0F) * kMost + 0.5F);
        }
    }

    const Mount &m_mount;
    PictureWriter &m_to;
    const int m_channels;
    std::vector<MountPixel> m_pixels;
    std::vector<T> m_row;
    int m_y = 0;
    bool m_wasLikeOthers = false;
};

} // namespace

std::unique_ptr<PictureWriter> makeMountedWriter(const Mount &mount, const PictureSpec &spec,
                                                 PictureWriter &to)
{
    if (spec.bits == 8)
        return std::make_unique<MountedWriter<uint8_t>>(mount, spec, to);
    return std::make_unique<MountedWriter<uint16_t>>(mount, spec, to);
}

} // namespace buttonhole
