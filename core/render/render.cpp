#include "render/render.h"

#include "colour/oklab.h"
#include "raster/parallel_tiles.h"
#include "render/cached_tile.h"
#include "render/grey_stage.h"
#include "render/mask_stage.h"
#include "render/row_colour.h"

#include <algorithm>
#include <cmath>

namespace buttonhole
{

namespace
{

constexpr int kPadded = kRowRun + 64; // room for one SIMD vector past the end

/// One run of pixels on its way from codes to codes.
struct Run256 {
    alignas(64) float r[kPadded];
    alignas(64) float g[kPadded];
    alignas(64) float b[kPadded];
    alignas(64) float y[kPadded];
    alignas(64) uint16_t roots[kPadded];
    alignas(64) uint16_t mask[kPadded];
    alignas(64) uint16_t out[3][kPadded];
};

/// All that stays the same over one call.
template <class T>
struct Pass {
    const PhotoLevels &levels;
    const Take &take;
    View view;
    int level;
    const OutputColour &output;
    const RenderTarget &target;
    const GreyMixer &mixer;
    TintedBlend tinted;
    bool sameSpace;
    int bits; ///< of the output codes
    std::array<float, 9> toOutput{};
    std::array<float, 3> tint{}; ///< linear RGB of the output
    StageCache *cache;
    const KeepLooks &looks;

    void encode(Run256 &run, int n) const
    {
        encodeRow(output.profile, 0, bits, run.r, n, run.out[0]);
        encodeRow(output.profile, 1, bits, run.g, n, run.out[1]);
        encodeRow(output.profile, 2, bits, run.b, n, run.out[2]);
    }

    uint16_t ownCode(T code) const
    {
        if constexpr (sizeof(T) == 1)
            return bits > 8 ? uint16_t(code * 257) : code;
        else
            return bits > 8 ? code : uint16_t((uint32_t(code) * 255U + 32767U) / 65535U);
    }

    /// The photo's own colours, and the looks of those that own them.
    void colourRow(const T *rgb, const RowColour &own, Run256 &run, int n) const
    {
        if (sameSpace) {
            for (int i = 0; i < n; ++i)
                for (int c = 0; c < 3; ++c)
                    run.out[c][i] = ownCode(rgb[3 * i + c]);
        } else {
            linearRow(rgb, RowColour(), run, n);
            encode(run, n);
        }
        const auto isOwn = [&](int i) {
            return (own.owners && looks.has(own.owners[i])) ||
                   (own.spill && own.spill->isPulled(own.row, i));
        };
        int first = 0;
        while (first < n && !isOwn(first))
            ++first;
        if (first == n)
            return;
        Run256 owned;
        linearRow(rgb, own, owned, n);
        encode(owned, n);
        takeWhere(owned, run, n, isOwn);
    }

    bool hasLooks(const RowColour &own, int n) const
    {
        return own.owners &&
               std::any_of(own.owners, own.owners + n, [&](uint16_t o) { return looks.has(o); });
    }

    /// Linear RGB of the photo's profile, looks applied.
    void lightRow(const T *rgb, const RowColour &own, Run256 &run, int n) const
    {
        decodeRow(levels.colour(), rgb, n, run.r, run.g, run.b);
        if (own.spill) {
            labRow(levels.colour().toLms.data(), n, run.r, run.g, run.b);
            own.spill->apply(own.row, n, run.g, run.b);
            linearOfLabRow(levels.colour().fromLms.data(), n, run.r, run.g, run.b);
        }
        if (!hasLooks(own, n))
            return;
        for (size_t k = 0; k < looks.rows.size(); ++k) {
            const auto owns = [&](int i) { return own.owners[i] == k + 1; };
            int i = 0;
            while (i < n && !owns(i))
                ++i;
            if (i == n || !looks.rows[k])
                continue;
            Run256 looked;
            std::copy_n(run.r, n, looked.r);
            std::copy_n(run.g, n, looked.g);
            std::copy_n(run.b, n, looked.b);
            looks.rows[k]->apply(n, looked.r, looked.g, looked.b);
            for (; i < n; ++i)
                if (owns(i)) {
                    run.r[i] = looked.r[i];
                    run.g[i] = looked.g[i];
                    run.b[i] = looked.b[i];
                }
        }
    }

    /// The same of the output's profile.
    void linearRow(const T *rgb, const RowColour &own, Run256 &run, int n) const
    {
        lightRow(rgb, own, run, n);
        if (!sameSpace)
            matrixRow(toOutput.data(), n, run.r, run.g, run.b);
    }

    /// With Grey off: the photo, and over it what looks change.
    void ungreyedRow(const T *rgb, const RowColour &own, Run256 &run, int n) const
    {
        colourRow(rgb, RowColour(), run, n);
        if (!hasLooks(own, n))
            return;
        Run256 mixed;
        Run256 plain;
        linearRow(rgb, own, mixed, n);
        linearRow(rgb, RowColour(), plain, n);
        for (int i = 0; i < n; ++i) {
            const float share = float(run.mask[i]) / 65535.0F;
            mixed.r[i] = plain.r[i] + share * (mixed.r[i] - plain.r[i]);
            mixed.g[i] = plain.g[i] + share * (mixed.g[i] - plain.g[i]);
            mixed.b[i] = plain.b[i] + share * (mixed.b[i] - plain.b[i]);
        }
        encode(mixed, n);
        takeWhere(mixed, run, n, [&](int i) { return looks.has(own.owners[i]); });
    }

    /// The grey of a run as linear light, at 8 bits by way of its roots: what is cached is then
    /// what would be computed.
    /// @param roots this row's if they are known already, else null
    void greyRow(const T *rgb, const uint16_t *roots, const RunPlace &place, Run256 &run,
                 int n) const
    {
        if (!roots)
            mixer.greyRow(rgb, n, place, run.y);
        if (bits != 8)
            return;
        if (roots)
            std::copy_n(roots, n, run.roots);
        else
            rootRow(run.y, n, run.roots);
        linearOfRoots(run.roots, n, run.y);
    }

    void encodeGrey(Run256 &run, int n) const
    {
        for (size_t c = 0; c < 3; ++c) {
            if (c > 0 && output.curvesAreEqual)
                std::copy_n(run.out[0], n, run.out[c]);
            else if (bits == 8)
                encodeRoots(output.profile, c, run.roots, n, run.out[c]);
            else
                encodeRow(output.profile, c, bits, run.y, n, run.out[c]);
        }
    }

    void resultRow(const T *rgb, const uint16_t *roots, const RowColour &own, const RunPlace &place,
                   Run256 &run, int n) const
    {
        if (!take.greyOn)
            return ungreyedRow(rgb, own, run, n);
        uint16_t least = 65535;
        uint16_t most = 0;
        for (int i = 0; i < n; ++i) { // unlike std::minmax_element, this becomes SIMD
            least = std::min(least, run.mask[i]);
            most = std::max(most, run.mask[i]);
        }
        if (least == 65535 && !tonesKeeps())
            return colourRow(rgb, own, run, n);
        greyRow(rgb, roots, place, run, n);
        if (mixer.isTinted())
            tintedRowOfGrey(rgb, own, run, n);
        else
            encodeGrey(run, n);
        if (most == 0)
            return;
        // Only pixels that are partly coloured take the blend's codes: each pixel then comes out
        // the same whatever its neighbours in the run are.
        if (!mixer.isTinted()) {
            Run256 mixed;
            lightRow(rgb, own, mixed, n);
            blendRow(levels.colour().toLms.data(), output.fromLms.data(), run.y, run.mask, n,
                     mixed.r, mixed.g, mixed.b);
            encode(mixed, n);
            takeWhere(mixed, run, n,
                      [&](int i) { return run.mask[i] != 0 && run.mask[i] != 65535; });
        }
        if (most == 65535 && !tonesKeeps()) {
            Run256 full;
            colourRow(rgb, own, full, n);
            takeWhere(full, run, n, [&](int i) { return run.mask[i] == 65535; });
        }
    }

    template <class Where>
    static void takeWhere(const Run256 &from, Run256 &run, int n, const Where &where)
    {
        for (int i = 0; i < n; ++i)
            if (where(i))
                for (int c = 0; c < 3; ++c)
                    run.out[c][i] = from.out[c][i];
    }

    bool tonesKeeps() const { return take.grey.toning.overKeeps && mixer.isTinted(); }

    /// Toning and colour left, and the blend with what is kept, in one.
    void tintedRowOfGrey(const T *rgb, const RowColour &own, Run256 &run, int n) const
    {
        lightRow(rgb, own, run, n);
        tintedBlendRow(tinted, run.y, run.mask, n, run.r, run.g, run.b);
        encode(run, n);
    }

    /// Only what is not kept in colour: a kept black is as the photographer took it.
    void markClipped(Run256 &run, int n) const
    {
        const auto top = uint16_t(bits > 8 ? 65535 : 255);
        for (int i = 0; i < n; ++i) {
            const auto is = [&](uint16_t code) {
                return run.out[0][i] == code && run.out[1][i] == code && run.out[2][i] == code;
            };
            if (run.mask[i] == 65535)
                continue;
            if (is(0)) {
                run.out[1][i] = top / 3;
                run.out[2][i] = top;
            } else if (is(top)) {
                run.out[1][i] = top / 5;
                run.out[2][i] = top / 10;
            }
        }
    }

    void maskRow(Run256 &run, int n) const
    {
        for (int i = 0; i < n; ++i) {
            const uint32_t m = run.mask[i];
            const auto code = uint16_t(bits > 8 ? m : (m * 255 + 32767) / 65535);
            run.out[0][i] = run.out[1][i] = run.out[2][i] = code;
        }
    }

    /// A basket weave: threads run across in one cell and down in the next, so that the tint can be
    /// told from any colour of the photo by its pattern too.
    static float weave(int x, int y)
    {
        constexpr int kCell = 8;
        constexpr int kThread = 4;
        const bool across = ((x / kCell + y / kCell) & 1) != 0;
        return (across ? y : x) % kThread < 2 ? 0.78F : 0.42F;
    }

    void tintedRow(const T *rgb, Run256 &run, int n, int x0, int y) const
    {
        linearRow(rgb, RowColour(), run, n);
        for (int i = 0; i < n; ++i) {
            const float a = float(run.mask[i]) / 65535.0F * weave(x0 + i, y);
            run.r[i] += (tint[0] - run.r[i]) * a;
            run.g[i] += (tint[1] - run.g[i]) * a;
            run.b[i] += (tint[2] - run.b[i]) * a;
        }
        encode(run, n);
    }

    void cutOutRow(const T *rgb, const RowColour &own, Run256 &run, int n, int x0, int y) const
    {
        constexpr int kCell = 12;
        linearRow(rgb, own, run, n);
        for (int i = 0; i < n; ++i) {
            const float m = float(run.mask[i]) / 65535.0F;
            const float under = (((x0 + i) / kCell + y / kCell) & 1) != 0 ? 0.60F : 0.42F;
            run.r[i] = under + (run.r[i] - under) * m;
            run.g[i] = under + (run.g[i] - under) * m;
            run.b[i] = under + (run.b[i] - under) * m;
        }
        encode(run, n);
    }

    /// OKLab chroma up to 0.25 as heat: from dark felt over marigold to white.
    void heatRow(const T *rgb, Run256 &run, int n) const
    {
        constexpr float kMostChroma = 0.25F;
        constexpr float kStops[][3] = {{0.012F, 0.013F, 0.014F},
                                       {0.10F, 0.035F, 0.012F},
                                       {0.55F, 0.17F, 0.012F},
                                       {0.90F, 0.48F, 0.10F},
                                       {1.0F, 0.93F, 0.75F}}; // linear
        constexpr int kPieces = int(std::size(kStops)) - 1;
        decodeRow(levels.colour(), rgb, n, run.r, run.g, run.b);
        labRow(levels.colour().toLms.data(), n, run.r, run.g, run.b);
        for (int i = 0; i < n; ++i) {
            const float chroma = std::hypot(run.g[i], run.b[i]);
            const float at = std::min(chroma / kMostChroma, 1.0F) * kPieces;
            const int piece = std::min(int(at), kPieces - 1);
            const float part = at - float(piece);
            const auto mixed = [&](int c) {
                return kStops[piece][c] + (kStops[piece + 1][c] - kStops[piece][c]) * part;
            };
            run.r[i] = mixed(0);
            run.g[i] = mixed(1);
            run.b[i] = mixed(2);
        }
        encode(run, n);
    }

    void store(const Run256 &run, int n, uint8_t *to) const
    {
        switch (target.layout) {
        case RenderTarget::Layout::Rgb8:
            interleaveRow(run.out[0], run.out[1], run.out[2], n, to);
            break;
        case RenderTarget::Layout::Rgb16:
            interleaveRow(run.out[0], run.out[1], run.out[2], n, reinterpret_cast<uint16_t *>(to));
            break;
        case RenderTarget::Layout::Bgrx8:
            for (int i = 0; i < n; ++i)
                reinterpret_cast<uint32_t *>(to)[i] = 0xFF000000U | uint32_t(run.out[0][i]) << 16 |
                                                      uint32_t(run.out[1][i]) << 8 |
                                                      uint32_t(run.out[2][i]);
            break;
        }
    }

    /// The grey's roots.
    CachedTile greyTile(const Image<T> &source, const Rect &area) const
    {
        return cachedTile(*cache, StageCache::Stage::Grey,
                          joinedContent(levels.content(), mixer.greyContent()), level, area,
                          levels.rectOf(level), isWholeTile(area, levels.rectOf(level)),
                          [&](const Rect &tile, uint16_t *out) {
                              Run256 run;
                              for (int y = tile.y0; y < tile.y1; ++y) {
                                  mixer.greyRow(source.pixel(tile.x0, y), tile.width(),
                                                {tile.x0, y, level}, run.y);
                                  rootRow(run.y, tile.width(), run.roots);
                                  std::copy_n(run.roots, tile.width(),
                                              out + size_t(y - tile.y0) * size_t(tile.width()));
                              }
                          });
    }

    /// Rows of a tile lie pages apart: the processor does not foresee the next one by itself.
    static void prefetch(const void *from, size_t bytes)
    {
        constexpr size_t kCacheLine = 64;
        for (size_t i = 0; i < bytes; i += kCacheLine)
            __builtin_prefetch(static_cast<const char *>(from) + i);
    }

    void tile(const Image<T> &source, const Rect &whole, const Rect &area) const
    {
        const bool usesMask = view != View::Original && view != View::ColourMap;
        std::vector<uint16_t> mask(usesMask ? area.area() : 0);
        const bool usesLooks = looks.any && usesMask && view != View::Mask && view != View::Tinted;
        const bool usesSpill = usesMask && view != View::Mask && view != View::Tinted &&
                               take.greyOn && Spill::isAsked(take);
        std::vector<uint16_t> ownersOfAll(usesLooks || usesSpill ? area.area() : 0);
        if (usesMask)
            combinedMask(levels, take, level, area, mask.data(),
                         ownersOfAll.empty() ? nullptr : ownersOfAll.data(), cache);
        std::optional<Spill> spill;
        if (usesSpill)
            spill.emplace(levels, take, level, area, mask.data(), ownersOfAll.data(), cache);
        const bool usesGrey =
            cache && bits == 8 && take.greyOn && (view == View::Result || view == View::Clipped);
        const CachedTile grey = usesGrey ? greyTile(source, area) : CachedTile();
        const size_t pixelBytes = target.layout == RenderTarget::Layout::Rgb8    ? 3
                                  : target.layout == RenderTarget::Layout::Rgb16 ? 6
                                                                                 : 4;
        const int n = area.width();
        Run256 run;
        for (int y = area.y0; y < area.y1; ++y) {
            const T *rgb = source.pixel(area.x0, y);
            if (y + 2 < area.y1)
                prefetch(source.pixel(area.x0, y + 2), size_t(n) * 3 * sizeof(T));
            if (usesMask)
                std::copy_n(mask.data() + size_t(y - area.y0) * n, n, run.mask);
            const RowColour own{usesLooks ? ownersOfAll.data() + size_t(y - area.y0) * n : nullptr,
                                spill && !spill->isNowhere() ? &*spill : nullptr, y - area.y0};
            switch (view) {
            case View::Result:
                resultRow(rgb, grey.row(y, area), own, {area.x0, y, level}, run, n);
                break;
            case View::Clipped:
                resultRow(rgb, grey.row(y, area), own, {area.x0, y, level}, run, n);
                markClipped(run, n);
                break;
            case View::Pinned: // became Result
            case View::Original:
                colourRow(rgb, RowColour(), run, n);
                break;
            case View::Mask:
                maskRow(run, n);
                break;
            case View::Tinted:
                tintedRow(rgb, run, n, area.x0, y);
                break;
            case View::ColourMap:
                heatRow(rgb, run, n);
                break;
            case View::CutOut:
                cutOutRow(rgb, own, run, n, area.x0, y);
                break;
            }
            store(run, n,
                  static_cast<uint8_t *>(target.pixels) +
                      size_t(y - whole.y0) * target.strideBytes +
                      size_t(area.x0 - whole.x0) * pixelBytes);
        }
    }
};

std::array<float, 3> tintOf(double hueDeg, const OutputColour &output)
{
    const double angle = hueDeg * 3.14159265358979323846 / 180.0;
    const Vector3 rgb = inverse(output.profile.toXyz()) *
                        toXyz({0.70, 0.19 * std::cos(angle), 0.19 * std::sin(angle)});
    return {float(std::clamp(rgb[0], 0.0, 1.0)), float(std::clamp(rgb[1], 0.0, 1.0)),
            float(std::clamp(rgb[2], 0.0, 1.0))};
}

} // namespace

void renderPicture(const PhotoLevels &levels, const Take &take, View view, int level,
                   const Rect &area, const OutputColour &output, const RenderTarget &target,
                   const RenderOptions &options)
{
    if (view == View::Pinned) {
        Take pinned = take;
        if (options.pinned)
            pinned.grey = *options.pinned;
        renderPicture(levels, pinned, View::Result, level, area, output, target, options);
        return;
    }
    const bool sameSpace = levels.photo().profile.isSameSpaceAs(output.profile);
    const int bits = target.layout == RenderTarget::Layout::Rgb16 ? 16 : 8;
    std::array<float, 9> toOutput{};
    if (!sameSpace) {
        const Matrix3 m = withWhite(
            inverse(output.profile.toXyz()) * levels.photo().profile.toXyz(), {1, 1, 1}, {1, 1, 1});
        for (size_t i = 0; i < 9; ++i)
            toOutput[i] = float(m[i / 3][i % 3]);
    }
    std::visit(
        [&]<class T>(const Image<T> &source) {
            const bool needsGrey = (view == View::Result || view == View::Clipped) && take.greyOn;
            const GreyMix mix = needsGrey ? take.grey : GreyMix();
            const auto mixer =
                options.isDraft ? draftGreyMixer(levels, mix) : findGreyMixer(levels, mix);
            const KeepLooks looks(take, levels.colour());
            const TintedBlend tinted = mixer->tintedBlend(output);
            const Pass<T> pass{levels,        take,   view,     level,
                               output,        target, *mixer,   tinted,
                               sameSpace,     bits,   toOutput, tintOf(options.tintHueDeg, output),
                               options.cache, looks};
            parallelTiles(area, [&](const Rect &tile) { pass.tile(source, area, tile); });
        },
        levels.level(level));
}

} // namespace buttonhole
