#pragma once

#include "base/run.h"
#include "io/photo_levels.h"
#include "raster/light_tile.h"

namespace buttonhole
{

/// Linear light of a picture at every level: the photo's, or what was made of another source's. A
/// read depends on nothing but its arguments and may come from any thread; what a pixel becomes
/// does not hang on the area, nor on its planes.
class Source
{
public:
    virtual ~Source() = default;
    Source() = default;
    Source(const Source &) = delete;
    Source &operator=(const Source &) = delete;

    /// Equal for equal light.
    virtual uint64_t content() const = 0;
    /// All pixels of a level.
    virtual Rect rectOf(int level) const = 0;
    virtual const LightSpace &space() const = 0;
    /// Levels that can be read, the full one counted.
    virtual int levelCount() const = 0;
    /// Fills the tile, in three planes; its area lies inside rectOf(level).
    /// Errors: Cancelled, and what a source of its own may fail by; the tile is open then.
    Result<void> read(int level, LightTile &out, const Run &run) const
    {
        auto done = readPlanes(level, out, run);
        if (done)
            out.spread();
        return done;
    }
    /// The same, in one plane where that is all it takes and the source knows.
    Result<void> readPlanes(int level, LightTile &out, const Run &run) const
    {
        out.setArea(out.area());
        return fill(level, out, run);
    }

protected:
    /// A tile of three planes that are open; may make it neutral.
    virtual Result<void> fill(int level, LightTile &out, const Run &run) const = 0;
};

using SourceRef = std::shared_ptr<const Source>;

/// The photo as it was taken. It outlives the source.
class PhotoSource final : public Source
{
public:
    explicit PhotoSource(const PhotoLevels &levels) : m_levels(levels) {}
    uint64_t content() const override { return m_levels.content(); }
    Rect rectOf(int level) const override { return m_levels.rectOf(level); }
    const LightSpace &space() const override { return m_levels.colour(); }
    int levelCount() const override { return m_levels.count(); }

private:
    Result<void> fill(int level, LightTile &out, const Run &run) const override;
    const PhotoLevels &m_levels;
};

/// A source that changes another's light: same picture, same space.
class ChangedSource : public Source
{
public:
    explicit ChangedSource(SourceRef in) : m_in(std::move(in)) {}
    Rect rectOf(int level) const override { return m_in->rectOf(level); }
    const LightSpace &space() const override { return m_in->space(); }
    int levelCount() const override { return m_in->levelCount(); }

protected:
    const Source &in() const { return *m_in; }

private:
    SourceRef m_in;
};

/// `area` and so many px of the photo round it, inside a level.
Rect widenedBy(const Rect &area, int reachPx, int level, const Rect &picture);

} // namespace buttonhole
