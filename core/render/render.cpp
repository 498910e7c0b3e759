#include "render/render.h"

#include "raster/parallel_tiles.h"
#include "render/cached_source.h"
#include "render/grey_stage.h"
#include "render/light_chain.h"
#include "render/mapped_source.h"
#include "render/mask_stage.h"
#include "render/rows.h"
#include "render/target_rows.h"

#include <algorithm>
#include <functional>
#include <mutex>

namespace buttonhole
{

namespace
{

/// All that rows of one tile go by.
struct TileJob {
    Rect area;
    int level = 0;
    std::vector<uint16_t> mask;
    std::vector<uint16_t> owners;
    KeptTiles kept;
    std::optional<LightTile> prepared;
    CachedTile grey;
};

/// The rectangle of an area that a keep owns; empty: nothing.
Rect ownedPart(const std::vector<uint16_t> &owners, uint16_t mark, const Rect &area)
{
    Rect out;
    const uint16_t *row = owners.data();
    for (int y = area.y0; y < area.y1; ++y, row += area.width()) {
        const uint16_t *end = row + area.width();
        const uint16_t *first = std::find(row, end, mark);
        if (first == end)
            continue;
        const uint16_t *last = end - 1;
        while (*last != mark)
            --last;
        out = united(out, {area.x0 + int(first - row), y, area.x0 + int(last - row) + 1, y + 1});
    }
    return out;
}

/// All that stays the same over one call.
class Painter
{
public:
    Painter(const PhotoLevels &levels, const Take &take, const ViewKind &kind,
            const OutputColour &output, int bits, const RenderOptions &options);

    /// A part of what is rendered, as the map has it: tiles of the photo's grid where it is exact,
    /// of the picture's where it is not.
    Result<void> paintAll(int level, const RenderTarget &target, const PictureRect &whole) const;

    /// Light of grey and keeps over a part of a tile.
    Result<void> readPicture(int level, const Rect &area, LightTile &out, const Run &run) const;
    /// The id of that light.
    uint64_t pictureLight() const;
    /// The same of codes of what is seen, as values 0..1.
    Result<void> readCodes(int level, const Rect &area, LightTile &out, const Run &run) const;

private:
    Result<void> paint(int level, const Rect &area, const RenderTarget &target,
                       const PictureRect &whole) const;
    Result<void> paintLevelled(int level, const Rect &area, const RenderTarget &target,
                               const PictureRect &whole) const;
    using TakeRow = std::function<void(int y, const RowBuffer &row)>;
    Result<void> paintRows(int level, const Rect &area, const TakeRow &take, const Run &run) const;
    Result<void> encodeRows(const LightTile &light, const TakeRow &take) const;
    Result<TileJob> begin(int level, const Rect &area, const Run &run) const;
    Result<void> addKept(TileJob &job, const Run &run) const;
    RowJob rowOf(const TileJob &job, int y) const;
    CachedTile greyTile(const TileJob &job) const;
    void takeFinished(const LightTile &before, const LightTile &after, const RowJob &job,
                      RowBuffer &buffer) const;

    const PhotoLevels &m_levels;
    const Take &m_take;
    const PictureMap m_map;
    const ViewKind &m_kind;
    const OutputColour &m_output;
    const int m_bits;
    StageCache *m_cache;
    Run m_run;
    SourceRef m_prepared; ///< null: the photo as it is
    std::shared_ptr<const GreyMixer> m_mixer;
    std::unique_ptr<const Rows> m_rows;
    std::vector<SourceRef> m_kept; ///< by keep; null: light as it was
    SourceRef m_picture;           ///< light of grey and keeps; null: nothing comes after
    SourceRef m_finished;          ///< of an exact map
    SourceRef m_levelled; ///< of one that is not: light of the result, codes of other views
};

/// What a painter makes, as a source for what comes after: light of the output's profile, or codes.
class PainterSource final : public Source
{
public:
    /// Fills a part of a tile of the photo's grid.
    using ReadPart = Result<void> (Painter::*)(int level, const Rect &area, LightTile &out,
                                               const Run &run) const;
    PainterSource(const Painter &painter, ReadPart part, const PhotoLevels &levels,
                  const OutputColour &output)
        : m_painter(painter), m_part(part), m_levels(levels), m_output(output)
    {
    }
    uint64_t content() const override { return m_painter.pictureLight(); }
    Rect rectOf(int level) const override { return m_levels.rectOf(level); }
    int levelCount() const override { return m_levels.count(); }
    const LightSpace &space() const override { return m_output; }
    Result<void> fill(int level, LightTile &out, const Run &run) const override
    {
        const Rect &area = out.area();
        for (int ty = area.y0 / kTileSize; ty <= (area.y1 - 1) / kTileSize; ++ty)
            for (int tx = area.x0 / kTileSize; tx <= (area.x1 - 1) / kTileSize; ++tx) {
                const Rect part = intersected(area, tileRect(tx, ty, rectOf(level)));
                if (auto done = (m_painter.*m_part)(level, part, out, run); !done)
                    return done;
            }
        return {};
    }

private:
    const Painter &m_painter;
    ReadPart m_part;
    const PhotoLevels &m_levels;
    const OutputColour &m_output;
};

Painter::Painter(const PhotoLevels &levels, const Take &take, const ViewKind &kind,
                 const OutputColour &output, int bits, const RenderOptions &options)
    : m_levels(levels), m_take(take), m_map(pictureOf(levels, take)), m_kind(kind),
      m_output(output), m_bits(bits), m_cache(options.cache), m_run(options.run),
      m_kept(take.keeps.size())
{
    const bool isAskedAround =
        std::any_of(take.keeps.begin(), take.keeps.end(),
                    [](const Keep &keep) { return keep.on && keep.spillShare() > 0; });
    SourceRef prepared = preparedSource(levels, take, options.passesOnce ? nullptr : m_cache);
    if (options.passesOnce && isAskedAround)
        prepared = cached(prepared, m_cache);
    if (isPrepared(take))
        m_prepared = prepared;
    const GreyMix mix = kind.showsResult && take.greyOn ? take.grey : GreyMix();
    m_mixer = options.isDraft ? draftGreyMixer(levels, mix, m_prepared.get())
                              : findGreyMixer(levels, mix, m_prepared.get());
    m_rows = makeRows(levels, take, *m_mixer, output, bits, options.tintHueDeg);
    if (kind.showsColour)
        for (size_t k = 0; k < m_kept.size(); ++k)
            if (const Keep &keep = take.keeps[k]; keep.on)
                if (auto source = keptSource(prepared, levels, take, keep, m_cache);
                    source != prepared)
                    m_kept[k] = std::move(source);
    const auto sourceOf = [&](PainterSource::ReadPart part) {
        return std::make_shared<const PainterSource>(*this, part, levels, output);
    };
    const bool isLevelled = !m_map.isExact();
    const bool isLight = kind.showsResult && !kind.mark;
    if (kind.showsResult && (isFinished(take) || (isLevelled && isLight)))
        m_picture = cached(sourceOf(&Painter::readPicture), m_cache,
                           isLevelled ? ReadAgain::OfCoarser : ReadAgain::Always);
    const SourceRef toned =
        m_picture ? tonedSource(m_picture, levels, take, isLevelled, m_cache) : nullptr;
    if (!isLevelled) {
        m_finished =
            toned ? finishedSource(toned, levels, m_map, take, options.pxPerDelivered, m_cache)
                  : nullptr;
        return;
    }
    constexpr float kNoMask = 0;
    m_finished = isLight ? nullptr : toned; // marks are made before the photo is levelled
    m_levelled = isLight
                     ? finishedSource(toned, levels, m_map, take, options.pxPerDelivered, m_cache)
                     : inPicture(sourceOf(&Painter::readCodes), m_map,
                                 kind.view == View::Mask ? kNoMask : 1); // never cached
}

uint64_t Painter::pictureLight() const
{
    const uint64_t light = m_prepared ? m_prepared->content() : m_levels.content();
    return joinedContent(joinedContent(joinedContent(light, pictureContent(m_take)),
                                       joinedContent(m_mixer->greyContent(), m_output.content)),
                         uint64_t(m_bits));
}

Result<TileJob> Painter::begin(int level, const Rect &area, const Run &run) const
{
    TileJob job;
    job.area = area;
    job.level = level;
    if (run.stopped())
        return Error{ErrorKind::Cancelled, m_levels.photo().path, {}};
    if (m_prepared && m_kind.view != View::Original) {
        job.prepared.emplace(area);
        if (auto done = m_prepared->read(level, *job.prepared, run); !done)
            return done.error();
    }
    if (m_kind.goesByMask) {
        const bool hasKept = std::any_of(m_kept.begin(), m_kept.end(),
                                         [](const SourceRef &source) { return bool(source); });
        job.mask.resize(area.area() + kPaddedRow - kRowRun); // vectors are read past the end
        job.owners.resize(hasKept ? area.area() : 0);
        combinedMask(m_levels, m_take, level, area, job.mask.data(),
                     hasKept ? job.owners.data() : nullptr, m_cache);
        if (auto done = addKept(job, run); !done)
            return done.error();
    }
    if (m_cache && m_bits == 8 && m_take.greyOn && m_kind.showsResult)
        job.grey = greyTile(job);
    return job;
}

Result<void> Painter::addKept(TileJob &job, const Run &run) const
{
    if (job.owners.empty())
        return {};
    job.kept.resize(m_kept.size());
    for (size_t k = 0; k < m_kept.size(); ++k) {
        if (!m_kept[k])
            continue;
        const Rect owned = ownedPart(job.owners, uint16_t(k + 1), job.area);
        if (owned.isEmpty())
            continue;
        // What looks around is read by the tile: sums over a part are rounded otherwise.
        job.kept[k].emplace(m_take.keeps[k].spillShare() > 0 ? job.area : owned);
        if (auto done = m_kept[k]->read(job.level, *job.kept[k], run); !done)
            return done;
    }
    return {};
}

RowJob Painter::rowOf(const TileJob &job, int y) const
{
    const size_t at = size_t(y - job.area.y0) * size_t(job.area.width());
    RowJob row;
    std::visit([&](const auto &pixels) { row.codes = pixels.pixel(job.area.x0, y); },
               m_levels.level(job.level));
    row.prepared = job.prepared ? &*job.prepared : nullptr;
    row.roots = job.grey.row(y, job.area);
    row.mask = job.mask.empty() ? nullptr : job.mask.data() + at;
    row.owners = job.owners.empty() ? nullptr : job.owners.data() + at;
    row.kept = &job.kept;
    row.place = {job.area.x0, y, job.level};
    row.n = job.area.width();
    return row;
}

CachedTile Painter::greyTile(const TileJob &job) const
{
    const Rect picture = m_levels.rectOf(job.level);
    const uint64_t light = m_prepared ? m_prepared->content() : m_levels.content();
    return cachedTile(*m_cache, TileKind::Grey, joinedContent(light, m_mixer->greyContent()),
                      job.level, job.area, picture, isWholeTile(job.area, picture),
                      [&](const Rect &tile, uint16_t *out) {
                          RowBuffer buffer;
                          for (int y = tile.y0; y < tile.y1; ++y, out += tile.width()) {
                              m_rows->greyRoots(rowOf(job, y), buffer);
                              std::copy_n(buffer.roots, tile.width(), out);
                          }
                      });
}

Result<void> Painter::readPicture(int level, const Rect &area, LightTile &out, const Run &run) const
{
    const auto job = begin(level, area, run);
    if (!job)
        return job.error();
    const bool isGrey = m_take.greyOn && !m_mixer->isTinted() &&
                        std::all_of(job->mask.begin(), job->mask.begin() + ptrdiff_t(area.area()),
                                    [](uint16_t share) { return share == 0; });
    if (isGrey && area == out.area())
        out.setNeutral();
    RowBuffer row;
    for (int y = area.y0; y < area.y1; ++y) {
        m_rows->resultLightRow(rowOf(*job, y), row);
        const float *const light[] = {row.r, row.g, row.b};
        for (int c = 0; c < out.planes(); ++c)
            std::copy_n(light[c], area.width(), out.at(c, area.x0, y));
    }
    return {};
}

/// Codes of what local tones and the finish changed; what they left alone keeps its own.
void Painter::takeFinished(const LightTile &before, const LightTile &after, const RowJob &job,
                           RowBuffer &buffer) const
{
    RowBuffer changed;
    const auto [x, y, level] = job.place;
    m_rows->encode(after, x, y, job.n, changed);
    uint16_t isChanged[kRowRun];
    const auto row = [x, y](const LightTile &tile, int channel) { return tile.at(channel, x, y); };
    differRow(row(before, 0), row(after, 0), row(before, 1), row(after, 1), row(before, 2),
              row(after, 2), job.n, isChanged);
    for (int c = 0; c < 3; ++c)
        chooseRow(isChanged, changed.out[c], job.n, buffer.out[c]);
}

Result<void> Painter::encodeRows(const LightTile &light, const TakeRow &take) const
{
    const Rect &area = light.area();
    RowBuffer buffer;
    for (int y = area.y0; y < area.y1; ++y) {
        m_rows->encode(light, area.x0, y, area.width(), buffer);
        take(y, buffer);
    }
    return {};
}

/// Rows of a tile lie pages apart: the processor does not foresee the next one by itself.
void prefetch(const PhotoLevels &levels, int level, const Rect &area, int y)
{
    if (y >= area.y1)
        return;
    constexpr size_t kCacheLine = 64;
    std::visit(
        [&]<class T>(const Image<T> &pixels) {
            const auto *from = reinterpret_cast<const char *>(pixels.pixel(area.x0, y));
            const size_t bytes = size_t(area.width()) * 3 * sizeof(T);
            for (size_t i = 0; i < bytes; i += kCacheLine)
                __builtin_prefetch(from + i);
        },
        levels.level(level));
}

/// Rows of codes of one tile of the photo's grid, or of a part of one.
Result<void> Painter::paintRows(int level, const Rect &area, const TakeRow &take,
                                const Run &run) const
{
    std::optional<LightTile> before;
    std::optional<LightTile> after;
    if (m_finished) {
        after.emplace(area);
        if (auto done = m_finished->readPlanes(level, *after, run); !done)
            return done;
        // What is neutral has no codes but those of its light, whether it was changed or not.
        if (after->isNeutral() && !m_kind.mark)
            return encodeRows(*after, take);
        before.emplace(area);
        if (auto done = m_picture->readPlanes(level, *before, run); !done)
            return done;
    }
    const auto job = begin(level, area, run);
    if (!job)
        return job.error();
    RowBuffer buffer;
    for (int y = area.y0; y < area.y1; ++y) {
        prefetch(m_levels, level, area, y + 2);
        const RowJob row = rowOf(*job, y);
        m_kind.paint(*m_rows, row, buffer);
        if (after)
            takeFinished(*before, *after, row, buffer);
        if (m_kind.mark)
            m_kind.mark(*m_rows, row, buffer);
        take(y, buffer);
    }
    return {};
}

Result<void> Painter::paint(int level, const Rect &area, const RenderTarget &target,
                            const PictureRect &whole) const
{
    const auto [stepX, stepY] = m_map.stepAlongRow();
    const auto bytes = ptrdiff_t(bytesPerPixel(target.layout));
    const ptrdiff_t step = stepX * bytes + stepY * ptrdiff_t(target.strideBytes);
    return paintRows(
        level, area,
        [&](int y, const RowBuffer &buffer) {
            const auto [toX, toY] = m_map.pixelAt(area.x0, y, level);
            storeRow(buffer, area.width(), target.layout,
                     static_cast<uint8_t *>(target.pixels) +
                         (toY - whole.y0) * ptrdiff_t(target.strideBytes) +
                         (toX - whole.x0) * bytes,
                     step);
        },
        m_run);
}

Result<void> Painter::readCodes(int level, const Rect &area, LightTile &out, const Run &run) const
{
    const float scale = 1.0F / float((1 << m_bits) - 1);
    const auto take = [&](int y, const RowBuffer &buffer) {
        for (int c = 0; c < 3; ++c)
            for (int i = 0; i < area.width(); ++i)
                out.at(c, area.x0, y)[i] = float(buffer.out[c][i]) * scale;
    };
    return paintRows(level, area, take, run);
}

Result<void> Painter::paintLevelled(int level, const Rect &area, const RenderTarget &target,
                                    const PictureRect &whole) const
{
    LightTile light(area);
    if (auto done = m_levelled->readPlanes(level, light, m_run); !done)
        return done;
    const bool isLight = m_kind.showsResult && !m_kind.mark;
    const auto top = float((1 << m_bits) - 1);
    const auto bytes = ptrdiff_t(bytesPerPixel(target.layout));
    RowBuffer buffer;
    for (int y = area.y0; y < area.y1; ++y) {
        const int n = area.width();
        if (isLight) {
            m_rows->encode(light, area.x0, y, n, buffer);
        } else {
            for (int c = 0; c < 3; ++c)
                for (int i = 0; i < n; ++i)
                    buffer.out[c][i] =
                        uint16_t(std::clamp(light.row(c, y)[i], 0.0F, 1.0F) * top + 0.5F);
        }
        storeRow(buffer, n, target.layout,
                 static_cast<uint8_t *>(target.pixels) +
                     (y - whole.y0) * ptrdiff_t(target.strideBytes) + (area.x0 - whole.x0) * bytes,
                 bytes);
    }
    return {};
}

Result<void> Painter::paintAll(int level, const RenderTarget &target,
                               const PictureRect &whole) const
{
    std::mutex mutex;
    Result<void> outcome; // guarded by it: of the first tile that failed
    // Tiles are those of the space in which pixels are made.
    const Rect area =
        m_levelled ? Rect{whole.x0, whole.y0, whole.x1, whole.y1} : m_map.toPhoto(whole, level);
    parallelTiles(area, [&](const Rect &tile) {
        auto done = m_levelled ? paintLevelled(level, tile, target, whole)
                               : paint(level, tile, target, whole);
        if (done)
            return;
        const std::scoped_lock lock(mutex);
        if (outcome)
            outcome = std::move(done);
    });
    return outcome;
}

} // namespace

Result<void> renderPicture(const PhotoLevels &levels, const Take &take, View view, int level,
                           const PictureRect &area, const OutputColour &output,
                           const RenderTarget &target, const RenderOptions &options)
{
    if (view == View::Pinned && options.pinned) {
        Take pinned = options.pinned.take ? *options.pinned.take : take;
        if (options.pinned.take)
            pinned.geometry = take.geometry;
        else
            pinned.grey = *options.pinned.grey;
        return renderPicture(levels, pinned, View::Result, level, area, output, target, options);
    }
    const int bits = target.layout == RenderTarget::Layout::Rgb16 ? 16 : 8;
    const Painter painter(levels, take, kindOf(view), output, bits, options);
    return painter.paintAll(level, target, area);
}

bool isExactAtOnce(const PhotoLevels &levels, const Take &take)
{
    const SourceRef prepared = isPrepared(take) ? preparedSource(levels, take, nullptr) : nullptr;
    return isGreyReady(levels, take.grey, prepared.get());
}

} // namespace buttonhole
