#include "document/finish_starts.h"
#include "document/tone_starts.h"
#include "light/grain.h"
#include "light/local_effects.h"
#include "light/photo_light.h"
#include "light/vignette.h"
#include "mask/outline_step.h"
#include "render/cached_source.h"
#include "render/render.h"

#include "registry.h"
#include "samples.h"

#include <cmath>

using namespace buttonhole;

/// Light without colour goes through all adjustments in one plane, and comes out as in three.
class TstNeutralLight : public QObject
{
    Q_OBJECT

    static constexpr int kWidth = 600;
    static constexpr int kHeight = 400;

    /// Greys of a slanting ground with grain, and an edge; in one plane or in three.
    class Greys final : public Source
    {
    public:
        /// @param neutralTo tiles left of it, px of a level, are of one plane
        explicit Greys(int neutralTo) : m_neutralTo(neutralTo) {}
        uint64_t content() const override { return uint64_t(m_neutralTo) + 1; }
        Rect rectOf(int level) const override { return {0, 0, kWidth >> level, kHeight >> level}; }
        const LightSpace &space() const override { return m_space; }
        int levelCount() const override { return 3; }

    private:
        Result<void> fill(int level, LightTile &out, const Run &) const override
        {
            const Rect area = out.area();
            if (area.x1 <= m_neutralTo)
                out.setNeutral();
            for (int y = area.y0; y < area.y1; ++y)
                for (int x = area.x0; x < area.x1; ++x)
                    for (int c = 0; c < out.planes(); ++c)
                        *out.at(c, x, y) = valueAt(x << level, y << level);
            return {};
        }
        static float valueAt(int x, int y)
        {
            const int grain = int((uint32_t(x) * 73856093u ^ uint32_t(y) * 19349663u) % 41) - 20;
            const int v = (x < kWidth / 2 ? 10 : 220) + y / 4 + grain;
            return float(std::max(v, 0)) / 255; // black and more than white are among them
        }
        int m_neutralTo;
        LightSpace m_space{Profile::srgb()};
    };

    static SourceRef greys(int neutralTo) { return std::make_shared<const Greys>(neutralTo); }
    static LightTile read(const Source &source, int level, const Rect &area, bool isPlanes = false)
    {
        LightTile out(area);
        const auto done =
            isPlanes ? source.readPlanes(level, out, {}) : source.read(level, out, {});
        if (!done)
            qFatal("it cannot be read");
        return out;
    }
    static bool areSame(const LightTile &a, const LightTile &b)
    {
        const Rect &area = a.area();
        for (int y = area.y0; y < area.y1; ++y)
            for (int x = area.x0; x < area.x1; ++x)
                if (!a.isSameAt(b, x, y))
                    return false;
        return a.area() == b.area();
    }
    /// Every kind of adjustment, each with one of its numbers moved, and with all.
    static std::vector<AdjustmentRef> adjustments()
    {
        std::vector<AdjustmentRef> out;
        for (const AdjustmentKind *kind : adjustmentKinds().all()) {
            AdjustmentRef all = kind->initial;
            for (size_t i = 0; i < kind->numbers.size(); ++i) {
                const AnyParam &number = kind->numbers[i];
                const float value = number.least + 0.7F * (number.most - number.least);
                all = all->withNumber(i, value);
                out.push_back(kind->initial->withNumber(i, value));
            }
            out.push_back(all);
        }
        return out;
    }

    std::shared_ptr<const PhotoLevels> m_levels = test::levelsOf(kWidth, kHeight, [](int x, int y) {
        return std::array{60 + x / 5, 200 - y / 3, (x * 7 + y * 3) % 200};
    });
    /// Grey, and a keep that lies in one tile.
    static Take withKeep()
    {
        Take take = makeTake();
        Outline line;
        for (const auto &[x, y] : {std::pair(300, 40), {420, 40}, {420, 160}, {300, 160}})
            line.push_back({{float(x), float(y)}, {}, {}});
        return withNewStep(take, take.keeps[0].id, Sign::Add,
                           std::make_shared<OutlineStep>(std::vector<Outline>{line}));
    }
    template <class Values>
    static AdjustmentRef of(const Values &values)
    {
        return std::make_shared<const NumberAdjustment<Values>>(values);
    }
    Take finished(Take take) const
    {
        const AdjustmentRef effects[] = {of(PhotoLight{.exposureEv = 0.3F, .contrast = 0.2F}),
                                         of(Texture{.fine = 0.5F, .coarse = 0.4F}),
                                         of(Fog{.amount = 0.3F})};
        for (const AdjustmentRef &effect : effects) {
            take = withToneStart(std::move(take), *m_levels, "everything", nullptr).value();
            take.tones.back().effects = {effect};
        }
        take = withFinished(std::move(take), of(Vignette{.amount = -0.4F}));
        return withFinished(std::move(take), of(Grain{.amount = 0.3F}));
    }
    std::vector<uint16_t> rendered(const Take &take, const Rect &area, StageCache *cache) const
    {
        std::vector<uint16_t> out(area.area() * 3);
        RenderOptions options;
        options.cache = cache;
        if (!renderPicture(*m_levels, take, View::Result, 0, test::asPicture(area),
                           OutputColour(Profile::srgb()),
                           {RenderTarget::Layout::Rgb16, out.data(), size_t(area.width()) * 6},
                           options))
            qFatal("it cannot be rendered");
        return out;
    }

private Q_SLOTS:
    void tilesOfOnePlaneAreReadAsThree()
    {
        LightTile tile(Rect{10, 20, 40, 30});
        QVERIFY(!tile.isNeutral());
        tile.setNeutral();
        for (int y = 20; y < 30; ++y)
            for (int x = 10; x < 40; ++x)
                *tile.at(0, x, y) = float(x * 100 + y);
        QCOMPARE(*tile.at(2, 33, 25), 3325.0F);
        LightTile part(Rect{20, 22, 30, 28});
        part.becomePartOf(tile);
        QVERIFY(part.isNeutral());
        QCOMPARE(*part.at(1, 21, 23), 2123.0F);
        tile.spread();
        QCOMPARE(tile.planes(), 3);
        *tile.at(1, 33, 25) = 0;
        QCOMPARE(*tile.at(0, 33, 25), 3325.0F);
        QCOMPARE(*tile.at(2, 39, 29), 3929.0F);
        LightTile small(Rect{10, 20, 40, 30}, 1); // room for one plane only
        small.copyFrom(tile);
        small.spread();
        QVERIFY(areSame(read(*greys(0), 0, {0, 0, 5, 5}), read(*greys(kWidth), 0, {0, 0, 5, 5})));
        QCOMPARE(*small.at(2, 39, 29), 3929.0F);
    }

    void everyAdjustmentMakesTheSameOfIt()
    {
        int neutral = 0;
        for (const AdjustmentRef &adjustment : adjustments())
            for (const int level : {0, 1}) {
                const SourceRef one = adjustment->over(greys(kWidth));
                const SourceRef three = adjustment->over(greys(0));
                for (const Rect &area : {Rect{0, 0, 110, 70}, Rect{131, 17, 290, 47}}) {
                    const LightTile expected = read(*three, level, area);
                    QVERIFY2(areSame(read(*one, level, area), expected),
                             std::string(adjustment->kind()).c_str());
                    const LightTile planes = read(*one, level, area, true);
                    QVERIFY(areSame(planes, expected)); // whatever channel is read
                    neutral += planes.isNeutral();
                }
            }
        QVERIFY(neutral > 40); // most of them know
    }

    void whatTouchesColourComesOutTheSame()
    {
        for (const AdjustmentRef &adjustment : adjustments()) {
            StageCache cache;
            const SourceRef mixed = adjustment->over(cached(greys(256), &cache));
            const SourceRef three = adjustment->over(greys(0));
            const Rect area{226, 100, 290, 150};
            QVERIFY(areSame(read(*mixed, 0, area), read(*three, 0, area)));
        }
    }

    void neutralLabIsExact()
    {
        constexpr int kPadded = kRowRun + 64;
        const LightSpace space(test::wideProfile());
        float one[kPadded] = {};
        float rgb[3][kPadded] = {};
        double worst = 0;
        for (int round = 0; round < 200; ++round) {
            float was[kRowRun];
            for (int i = 0; i < kRowRun; ++i) {
                const float value = float(round * kRowRun + i) / 25600;
                was[i] = one[i] = value * value * value; // -> 0 .. 8
                for (float *channel : {rgb[0], rgb[1], rgb[2]})
                    channel[i] = one[i];
            }
            neutralLabRow(kRowRun, one);
            exactLabRow(space.toLms.data(), kRowRun, rgb[0], rgb[1], rgb[2]);
            for (int i = 0; i < kRowRun; ++i) {
                QCOMPARE(rgb[0][i], one[i]);
                QVERIFY(rgb[1][i] == 0 && rgb[2][i] == 0);
                const double exact = std::cbrt(double(was[i]));
                worst = std::max(worst, std::abs(double(one[i]) - exact));
                QVERIFY(was[i] != 0 || one[i] == 0);
                QVERIFY(was[i] != 1 || one[i] == 1);
            }
            linearOfNeutralLabRow(kRowRun, one);
            linearOfExactLabRow(space.fromLms.data(), kRowRun, rgb[0], rgb[1], rgb[2]);
            for (int i = 0; i < kRowRun; ++i)
                QVERIFY(rgb[0][i] == one[i] && rgb[1][i] == one[i] && rgb[2][i] == one[i]);
        }
        QVERIFY2(worst < 1e-6, std::to_string(worst).c_str());
    }

    /// A keep makes its tile one of three planes; the grey beside it must not show that.
    void greysBesideColourStayAsTheyWere()
    {
        const Take kept = finished(withKeep());
        Take none = kept;
        none.keeps.clear();
        const Rect all{0, 0, kWidth, kHeight};
        StageCache many;
        StageCache once(size_t(8) << 20, StageCache::Use::OnePass);
        const auto expected = rendered(none, all, nullptr);
        for (StageCache *cache : {static_cast<StageCache *>(nullptr), &many, &once}) {
            const auto got = rendered(kept, all, cache);
            QVERIFY(rendered(none, all, cache) == expected);
            const Rect near =
                widenedBy({300, 40, 420, 160}, Texture{.fine = 1, .coarse = 1}.reachPx(), 0, all);
            int coloured = 0;
            for (int y = 0; y < kHeight; ++y)
                for (int x = 0; x < kWidth; ++x) {
                    const size_t at = (size_t(y) * kWidth + size_t(x)) * 3;
                    const bool isSame = std::equal(&got[at], &got[at] + 3, &expected[at]);
                    const bool isNear = x >= near.x0 && x < near.x1 && y < near.y1;
                    QVERIFY(isSame || isNear);
                    coloured += got[at] != got[at + 1];
                    QVERIFY(expected[at] == expected[at + 1] && expected[at] == expected[at + 2]);
                }
            QVERIFY(coloured > 10000);
            for (const Rect &part : {Rect{180, 90, 400, 300}, Rect{256, 0, 300, 20}}) {
                const auto some = rendered(kept, part, cache);
                for (int y = part.y0; y < part.y1; ++y)
                    QVERIFY(std::equal(some.begin() + ptrdiff_t(y - part.y0) * part.width() * 3,
                                       some.begin() + ptrdiff_t(y - part.y0 + 1) * part.width() * 3,
                                       got.begin() + (ptrdiff_t(y) * kWidth + part.x0) * 3));
            }
        }
    }
};

BUTTONHOLE_TEST(TstNeutralLight)
#include "tst_neutral_light.moc"
