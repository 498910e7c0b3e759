#include "io/photo_levels.h"

#include "base/each_cpu.h"
#include "colour/oklab.h"
#include "io/decoded.h"
#include "raster/parallel_tiles.h"

#include <cmath>
#include <condition_variable>
#include <mutex>
#include <optional>
#include <thread>

namespace buttonhole
{

namespace
{

BUTTONHOLE_EACH_CPU
void meanRow(const float *top, const float *bottom, int n, float *__restrict to)
{
    for (int i = 0; i < n; ++i)
        to[i] = 0.25F * (top[2 * i] + top[2 * i + 1] + bottom[2 * i] + bottom[2 * i + 1]);
}

/// One row of the next level from two rows (the same row twice at an odd bottom edge).
template <class T>
void reduceRow(const SourceColour &colour, const T *top, const T *bottom, int sourceWidth, T *out,
               int width)
{
    constexpr int kOut = kRowRun / 2;
    float plane[6][kRowRun + 16];
    float sums[3][kRowRun + 16];
    uint16_t codes[kRowRun + 64];
    for (int x0 = 0; x0 < width; x0 += kOut) {
        const int n = std::min(kOut, width - x0);
        const int sources = std::min(2 * n, sourceWidth - 2 * x0);
        decodeRow(colour, top + size_t(6) * size_t(x0), sources, plane[0], plane[1], plane[2]);
        decodeRow(colour, bottom + size_t(6) * size_t(x0), sources, plane[3], plane[4], plane[5]);
        for (int c = 0; c < 3; ++c) {
            if (sources < 2 * n) {
                plane[c][sources] = plane[c][sources - 1];
                plane[c + 3][sources] = plane[c + 3][sources - 1];
            }
            meanRow(plane[c], plane[c + 3], n, sums[c]);
            encodeRow(colour.profile, size_t(c), int(sizeof(T)) * 8, sums[c], n, codes);
            for (int i = 0; i < n; ++i)
                out[size_t(x0 + i) * 3 + size_t(c)] = T(codes[i]);
        }
    }
}

template <class T>
Image<T> reduced(const SourceColour &colour, const Image<T> &from)
{
    Image<T> out(sizeAtLevel(from.width(), 1), sizeAtLevel(from.height(), 1), 3);
    parallelRows(out.height(), 16, [&](int y0, int y1) {
        for (int y = y0; y < y1; ++y)
            reduceRow(colour, from.row(2 * y), from.row(std::min(2 * y + 1, from.height() - 1)),
                      from.width(), out.row(y), out.width());
    });
    return out;
}

/// How many levels below the photo itself.
int reducedCount(int width, int height)
{
    int count = 0;
    for (int side = std::max(width, height); side > 256 && count < kMaxLevel; side = (side + 1) / 2)
        ++count;
    return count;
}

/// Makes the levels of a photo behind its decoder, on a thread of its own.
class LevelsFollower final : public RowFollower
{
public:
    explicit LevelsFollower(const PhotoLevels::LevelsNeeded &needed) : m_needed(needed) {}
    ~LevelsFollower() override { end(); }

    void begin(const Image<uint8_t> &image, const std::vector<uint8_t> &icc) override
    {
        auto profile = icc.empty() ? Profile::srgb() : Profile::fromIcc(icc, {});
        if (!profile) // it will be converted: nothing to do with these codes
            return;
        if (m_needed && !m_needed(image.width(), image.height()))
            return;
        m_colour.emplace(*profile, 8);
        m_image = &image;
        m_codes = image.row(0);
        const int count = reducedCount(image.width(), image.height());
        for (int n = 1; n <= count; ++n)
            m_levels.emplace_back(sizeAtLevel(image.width(), n), sizeAtLevel(image.height(), n), 3);
        m_thread = std::jthread([this] { work(); });
    }

    void rows(int done) override
    {
        {
            const std::scoped_lock lock(m_mutex);
            m_done = done;
        }
        m_wake.notify_one();
    }

    void end() override
    {
        {
            const std::scoped_lock lock(m_mutex);
            m_ended = true;
        }
        m_wake.notify_one();
        if (m_thread.joinable())
            m_thread.join();
        m_image = nullptr;
    }

    /// The levels, if it is really this photo's codes that they were made from.
    std::optional<std::vector<PhotoPixels>> take(const Photo &photo)
    {
        const auto *image = std::get_if<Image<uint8_t>>(&photo.pixels);
        if (!image || !m_colour || image->row(0) != m_codes || m_reached != photo.height ||
            !photo.profile.isSameSpaceAs(m_colour->profile))
            return std::nullopt;
        std::vector<PhotoPixels> out;
        for (auto &level : m_levels)
            out.emplace_back(std::move(level));
        return out;
    }

private:
    void work()
    {
        std::vector<int> reached(m_levels.size(), 0);
        for (;;) {
            {
                std::unique_lock lock(m_mutex);
                m_wake.wait(lock, [this] { return m_done > m_reached || m_ended; });
                if (m_done == m_reached)
                    return;
                m_reached = m_done;
            }
            int above = m_reached;
            const Image<uint8_t> *from = m_image;
            for (size_t n = 0; n < m_levels.size(); ++n) {
                Image<uint8_t> &to = m_levels[n];
                const int end = above == from->height() ? to.height() : above / 2;
                for (int y = reached[n]; y < end; ++y)
                    reduceRow(*m_colour, from->row(2 * y),
                              from->row(std::min(2 * y + 1, from->height() - 1)), from->width(),
                              to.row(y), to.width());
                reached[n] = above = end;
                from = &to;
            }
        }
    }

    const PhotoLevels::LevelsNeeded &m_needed;
    const Image<uint8_t> *m_image = nullptr;
    const uint8_t *m_codes = nullptr;
    std::optional<SourceColour> m_colour;
    std::vector<Image<uint8_t>> m_levels;
    int m_reached = 0; ///< rows of the photo that the levels hold; the worker's until end()

    std::mutex m_mutex; ///< guards the two below
    int m_done = 0;
    bool m_ended = false;
    std::condition_variable m_wake;
    std::jthread m_thread;
};

} // namespace

PhotoLevels::PhotoLevels(std::shared_ptr<const Photo> photo)
    : m_photo(std::move(photo)), m_colour(m_photo->profile, m_photo->bitDepth())
{
}

std::shared_ptr<const PhotoLevels> PhotoLevels::makeFlat(std::shared_ptr<const Photo> photo)
{
    return std::shared_ptr<const PhotoLevels>(new PhotoLevels(std::move(photo)));
}

Result<std::shared_ptr<const PhotoLevels>> PhotoLevels::make(std::shared_ptr<const Photo> photo,
                                                             const Run &run)
{
    std::shared_ptr<PhotoLevels> levels(new PhotoLevels(std::move(photo)));
    const int count = reducedCount(levels->m_photo->width, levels->m_photo->height);
    for (int level = 0; level < count; ++level) {
        if (run.stopped())
            return Error{ErrorKind::Cancelled, levels->m_photo->path, {}};
        levels->m_reduced.push_back(std::visit(
            [&](const auto &image) -> PhotoPixels { return reduced(levels->m_colour, image); },
            levels->level(level)));
    }
    return std::shared_ptr<const PhotoLevels>(std::move(levels));
}

Result<std::shared_ptr<const PhotoLevels>>
PhotoLevels::load(const std::string &path, const Run &run, const LevelsNeeded &needed)
{
    LevelsFollower follower(needed);
    Run decoding = run;
    decoding.progress = [&run](float f) { run.report(f * 0.8F); };
    auto loaded = loadPhoto(path, decoding, &follower);
    if (!loaded)
        return loaded.error();
    auto photo = std::make_shared<const Photo>(std::move(*loaded));
    auto ready = follower.take(*photo);
    if (!ready)
        return !needed || needed(photo->width, photo->height) ? make(std::move(photo), run)
                                                              : makeFlat(std::move(photo));
    std::shared_ptr<PhotoLevels> levels(new PhotoLevels(std::move(photo)));
    levels->m_reduced = std::move(*ready);
    return std::shared_ptr<const PhotoLevels>(std::move(levels));
}

int PhotoLevels::levelWithin(int longEdge) const
{
    int level = 0;
    while (level + 1 < count() && std::max(rectOf(level).x1, rectOf(level).y1) > longEdge)
        ++level;
    return level;
}

size_t PhotoLevels::bytes() const
{
    size_t sum = 0;
    for (int n = 0; n < count(); ++n)
        sum += std::visit([](const auto &image) { return image.bytes(); }, level(n));
    return sum;
}

namespace
{

Oklab oklabAt(const PhotoLevels &levels, int level, int x, int y)
{
    float r = 0;
    float g = 0;
    float b = 0;
    std::visit(
        [&](const auto &image) { decodeRow(levels.colour(), image.pixel(x, y), 1, &r, &g, &b); },
        levels.level(level));
    return toOklab(levels.photo().profile.toXyz() * Vector3{r, g, b});
}

} // namespace

PixelReading readPixel(const PhotoLevels &levels, int x, int y)
{
    const Oklab lab = oklabAt(levels, 0, x, y);
    return {lab.L, chroma(lab), hueDeg(lab)};
}

double findRarestHueDeg(const PhotoLevels &levels)
{
    constexpr int kBins = 72;
    constexpr int kWindow = 8;                         // bins: 40 degrees
    const int level = std::max(0, levels.count() - 2); // about 500 px
    const Rect area = levels.rectOf(level);
    double bins[kBins] = {};
    for (int y = 0; y < area.y1; y += 2)
        for (int x = 0; x < area.x1; x += 2) {
            const Oklab lab = oklabAt(levels, level, x, y);
            const double c = chroma(lab);
            if (c > 0.02)
                bins[int(hueDeg(lab) / 360.0 * kBins) % kBins] += c;
        }
    int best = 0;
    double least = INFINITY;
    for (int start = 0; start < kBins; ++start) {
        double sum = 0;
        for (int i = 0; i < kWindow; ++i)
            sum += bins[(start + i) % kBins];
        if (sum < least) {
            least = sum;
            best = start;
        }
    }
    return std::fmod((best + kWindow / 2.0) * 360.0 / kBins, 360.0);
}

} // namespace buttonhole
