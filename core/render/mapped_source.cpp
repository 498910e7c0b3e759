#include "render/mapped_source.h"

#include "colour/pixel_rows.h"
#include "raster/cubic_rows.h"

#include <cmath>
#include <cstring>

namespace buttonhole
{

namespace
{

/// A source counts its pixels in whatever space it is.
Rect counted(const PictureRect &r)
{
    return {r.x0, r.y0, r.x1, r.y1};
}

PictureRect asPicture(const Rect &r)
{
    return {r.x0, r.y0, r.x1, r.y1};
}

/// By an exact map, or back by it.
class MovedSource final : public Source
{
public:
    enum class Way { ToPicture, ToPhoto };
    MovedSource(SourceRef in, const PictureMap &map, Way way)
        : m_in(std::move(in)), m_map(map), m_way(way)
    {
    }
    uint64_t content() const override { return joinedContent(m_in->content(), m_map.content()); }
    const LightSpace &space() const override { return m_in->space(); }
    int levelCount() const override { return m_in->levelCount(); }
    Rect rectOf(int level) const override
    {
        if (m_way == Way::ToPhoto)
            return m_map.cropRect(level);
        return counted(m_map.rect(level));
    }
    Result<void> fill(int level, LightTile &out, const Run &run) const override
    {
        const bool toPicture = m_way == Way::ToPicture;
        const Rect area = out.area();
        LightTile from(toPicture ? m_map.toPhoto(asPicture(area), level)
                                 : counted(m_map.toPicture(area, level)));
        if (auto done = m_in->readPlanes(level, from, run); !done)
            return done;
        out.setArea(area, from.planes());
        const LightTile &photo = toPicture ? from : out;
        const Rect rows = photo.area();
        for (int y = rows.y0; y < rows.y1; ++y)
            for (int x = rows.x0; x < rows.x1; ++x) {
                const auto [u, v] = m_map.pixelAt(x, y, level);
                for (int c = 0; c < out.planes(); ++c)
                    if (toPicture)
                        *out.at(c, u, v) = *from.at(c, x, y);
                    else
                        *out.at(c, x, y) = *from.at(c, u, v);
            }
        return {};
    }

private:
    SourceRef m_in;
    PictureMap m_map;
    Way m_way;
};

/// By a map that is not exact.
class WarpedSource final : public Source
{
public:
    WarpedSource(SourceRef in, const PictureMap &map, float outside)
        : m_in(std::move(in)), m_map(map), m_outside(outside)
    {
    }
    uint64_t content() const override
    {
        return joinedContent(joinedContent(m_in->content(), m_map.content()), {m_outside});
    }
    const LightSpace &space() const override { return m_in->space(); }
    int levelCount() const override { return m_in->levelCount(); }
    Rect rectOf(int level) const override { return counted(m_map.rect(level)); }
    Result<void> fill(int level, LightTile &out, const Run &run) const override
    {
        const Rect &area = out.area();
        LightTile photo(m_map.toPhoto(asPicture(area), level));
        const Rect &from = photo.area();
        if (!from.isEmpty())
            if (auto done = m_in->readPlanes(level, photo, run); !done)
                return done;
        SampledPlanes planes{
            {}, 3, photo.row(0, from.y0 + 1) - photo.row(0, from.y0), from.width(), from.height()};
        for (int c = 0; c < 3; ++c)
            planes.plane[c] = photo.row(c, from.y0);
        if (photo.isNeutral() || isGrey(photo)) {
            planes.count = 1;
            out.setNeutral();
        }
        Places places;
        for (int y = area.y0; y < area.y1; ++y)
            for (int x = area.x0; x < area.x1; x += kRowRun) {
                const int n = std::min(kRowRun, area.x1 - x);
                float *const to[3] = {out.at(0, x, y), out.at(1, x, y), out.at(2, x, y)};
                if (from.isEmpty()) {
                    for (float *row : to)
                        std::fill_n(row, n, m_outside);
                    continue;
                }
                findPlaces(level, x, y, n, from, places);
                sampleCubic(planes, places.x, places.y, n, to);
                for (int c = 0; c < planes.count && places.isNearBorder; ++c)
                    fadeOut(places, n, to[c]);
            }
        return {};
    }

private:
    /// So far apart on the picture's grid are places that are calculated; the map is as good as
    /// straight in between (less than 0.001 px for any lens).
    static constexpr int kNodePx = 8;
    struct Places {
        float x[kRowRun + kNodePx];
        float y[kRowRun + kNodePx];
        float inside[kRowRun + kNodePx]; ///< px from the photo's border, of the level
        bool isNearBorder = false;
    };
    struct Node {
        double x;
        double y;
        double inside;
    };
    /// All three planes have the same bits: most of a picture is grey.
    static bool isGrey(const LightTile &tile)
    {
        const Rect &area = tile.area();
        const size_t bytes = size_t(area.width()) * sizeof(float);
        for (int y = area.y0; y < area.y1; ++y)
            if (std::memcmp(tile.row(0, y), tile.row(1, y), bytes) != 0 ||
                std::memcmp(tile.row(0, y), tile.row(2, y), bytes) != 0)
                return false;
        return true;
    }
    void findPlaces(int level, int x, int y, int n, const Rect &from, Places &out) const
    {
        const double scale = 1 << level;
        const Rect all = m_in->rectOf(level);
        const auto nodeAt = [&](int nx) {
            const auto at = m_map.toPhoto(PicturePoint{(nx + 0.5) * scale, (y + 0.5) * scale});
            const double px = at[0] / scale;
            const double py = at[1] / scale;
            return Node{px, py, std::min(std::min(px, all.x1 - px), std::min(py, all.y1 - py))};
        };
        const double left = from.x0 + 0.5;
        const double top = from.y0 + 0.5;
        out.isNearBorder = false;
        const int first = x - (x % kNodePx + kNodePx) % kNodePx;
        Node node = nodeAt(first);
        for (int nx = first; nx < x + n; nx += kNodePx) {
            const Node next = nodeAt(nx + kNodePx);
            const double dx = (next.x - node.x) / kNodePx;
            const double dy = (next.y - node.y) / kNodePx;
            const double din = (next.inside - node.inside) / kNodePx;
            for (int i = std::max(0, x - nx); i < std::min(kNodePx, x + n - nx); ++i) {
                const int at = nx + i - x;
                out.x[at] = float(onGrid(node.x + i * dx) - left);
                out.y[at] = float(onGrid(node.y + i * dy) - top);
                out.inside[at] = float(node.inside + i * din);
            }
            out.isNearBorder = out.isNearBorder || std::min(node.inside, next.inside) < 1 + kNodePx;
            node = next;
        }
    }

    /// The photo's border covers a pixel as far as it lies inside.
    void fadeOut(const Places &places, int n, float *to) const
    {
        for (int i = 0; i < n; ++i) {
            const float share = std::clamp(places.inside[i] + 0.5F, 0.0F, 1.0F);
            if (share < 1) // otherwise rounding would tell who asked for neighbours near the border
                to[i] = m_outside + share * (to[i] - m_outside);
        }
    }

    SourceRef m_in;
    PictureMap m_map;
    float m_outside;
};

} // namespace

SourceRef inPicture(SourceRef photo, const PictureMap &map, float outside)
{
    if (!map.isExact())
        return std::make_shared<const WarpedSource>(std::move(photo), map, outside);
    return std::make_shared<const MovedSource>(std::move(photo), map, MovedSource::Way::ToPicture);
}

SourceRef inPhoto(SourceRef picture, const PictureMap &map)
{
    return std::make_shared<const MovedSource>(std::move(picture), map, MovedSource::Way::ToPhoto);
}

} // namespace buttonhole
