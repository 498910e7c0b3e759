#include "colour/colour_look.h"
#include "colour/pixel_rows.h"
#include "document/look_starts.h"
#include "render/glow.h"
#include "render/light_chain.h"
#include "render/render.h"

#include "registry.h"
#include "samples.h"

#include <cmath>

using namespace buttonhole;

/// Starts of what is kept, colours matched, hues pulled in, and the glow.
class TstLookStarts : public QObject
{
    Q_OBJECT

    static constexpr int kSide = 240;

    /// A reddish square of two hues in the middle of a dark grey ground.
    static std::shared_ptr<const PhotoLevels> photo()
    {
        return test::levelsOf(kSide, kSide, [](int x, int y) {
            const bool isIn = x >= 80 && x < 160 && y >= 80 && y < 160;
            if (!isIn)
                return std::array{40, 40, 40};
            return x < 140 ? std::array{190, 80, 60} : std::array{180, 150, 60};
        });
    }
    static Take kept()
    {
        Take take = test::makePaintedTake(
            kSide, kSide, {test::makeStroke(Tip{70, 0, 1}, {{115, 120}, {125, 120}})});
        return take;
    }
    static std::vector<uint16_t> render(const PhotoLevels &levels, const Take &take,
                                        StageCache *cache = nullptr)
    {
        std::vector<uint16_t> out(size_t(kSide) * kSide * 3);
        RenderOptions options;
        options.cache = cache;
        if (!renderPicture(levels, take, View::Result, 0, {0, 0, kSide, kSide},
                           OutputColour(levels.photo().profile),
                           {RenderTarget::Layout::Rgb16, out.data(), size_t(kSide) * 6}, options))
            qFatal("it cannot be rendered");
        return out;
    }
    static const uint16_t *at(const std::vector<uint16_t> &codes, int x, int y)
    {
        return codes.data() + (size_t(y) * kSide + size_t(x)) * 3;
    }
    static Oklab labOf(const uint16_t *rgb)
    {
        return oklabOfSrgb(rgb[0] / 65535.0, rgb[1] / 65535.0, rgb[2] / 65535.0);
    }

private Q_SLOTS:
    void aMatchedColourIsTheOneWanted_data()
    {
        QTest::addColumn<double>("red");
        QTest::addColumn<double>("green");
        QTest::addColumn<double>("blue");
        QTest::addRow("green") << 0.35 << 0.5 << 0.3;
        QTest::addRow("blue") << 0.3 << 0.35 << 0.55;
        QTest::addRow("grey") << 0.5 << 0.5 << 0.5;
    }
    void aMatchedColourIsTheOneWanted()
    {
        QFETCH(double, red);
        QFETCH(double, green);
        QFETCH(double, blue);
        const Oklab wanted = oklabOfSrgb(red, green, blue);
        const Oklab mean = oklabOfSrgb(0.6, 0.4, 0.35);
        const LightSpace space(Profile::srgb());
        float rgb[3][kRowRun] = {};
        const double codes[] = {0.6, 0.4, 0.35};
        for (size_t c = 0; c < 3; ++c)
            rgb[c][0] = float(std::pow((codes[c] + 0.055) / 1.055, 2.4));
        ColourLookRow(matchedLook(mean, wanted), space).apply(1, rgb[0], rgb[1], rgb[2]);
        labRow(space.toLms.data(), 1, rgb[0], rgb[1], rgb[2]);
        QVERIFY(std::abs(double(rgb[0][0]) - wanted.L) < 0.01);
        QVERIFY(std::abs(double(rgb[1][0]) - wanted.a) < 0.01);
        QVERIFY(std::abs(double(rgb[2][0]) - wanted.b) < 0.01);
    }

    void aNeutralThingGetsAColour()
    {
        const ColourLook look = matchedLook(oklabOfSrgb(0.5, 0.5, 0.5), oklabOfSrgb(0.6, 0.4, 0.4));
        QVERIFY(look.tint > 0.2F);
    }

    void strayHuesArePulledIn()
    {
        const auto levels = photo();
        const Take take = kept();
        const auto before = render(*levels, take);
        auto evened = withLookStart(take, *levels, take.keeps[0].id, "evened");
        QVERIFY(evened);
        const ColourLook &look = evened->keeps[0].look;
        const auto after = render(*levels, *evened);
        const auto away = [&](const std::vector<uint16_t> &codes, int x) {
            return std::abs(
                std::remainder(hueDeg(labOf(at(codes, x, 120))) - double(look.strayHueDeg), 360));
        };
        QVERIFY(away(before, 144) > 30);
        QVERIFY(away(after, 144) < 17);
        QVERIFY(std::abs(chroma(labOf(at(after, 144, 120))) - chroma(labOf(at(before, 144, 120)))) <
                0.02);
        QVERIFY(std::abs(labOf(at(after, 144, 120)).L - labOf(at(before, 144, 120)).L) < 0.01);
    }

    void startsGoByWhatIsKept()
    {
        const auto levels = photo();
        Take take = kept();
        const uint64_t id = take.keeps[0].id;
        const auto mean = meanColour(*levels, take.keeps[0]);
        QVERIFY(mean && chroma(*mean) > 0.05);
        const auto tinted = withLookStart(take, *levels, id, "handTinted");
        QVERIFY(tinted);
        QVERIFY(std::abs(double(tinted->keeps[0].look.tintHueDeg) - hueDeg(*mean)) < 0.1);
        QVERIFY(withLookStart(*tinted, *levels, id, "plain")->keeps[0].look == ColourLook());
        QVERIFY(!withLookStart(take, *levels, id, "nowhere"));
        take.keeps[0].steps.clear();
        QVERIFY(!withLookStart(take, *levels, id, "muted")); // it keeps nothing
    }

    void aGlowLiesBehindWhatGlows()
    {
        const auto levels = photo();
        Take take = kept();
        const auto before = render(*levels, take);
        take.keeps[0].glow.strength = 1;
        take.keeps[0].glow.sizePx = 12;
        const auto after = render(*levels, take);
        QVERIFY(std::equal(at(after, 120, 120), at(after, 120, 120) + 3, at(before, 120, 120)));
        const uint16_t *near = at(after, 72, 120);
        QVERIFY(near[0] > at(before, 72, 120)[0] + 2000);
        QVERIFY(near[0] > near[2] + 1000); // of its own colour
        QCOMPARE(at(after, 5, 5)[1], at(before, 5, 5)[1]);
        // Of a colour of its own, and never lighter than where light is added.
        take.keeps[0].glow.ownColour = 0;
        take.keeps[0].glow.hueDeg = 260;
        const auto blue = render(*levels, take);
        QVERIFY(at(blue, 72, 120)[2] > at(blue, 72, 120)[0] + 1000);
        take.keeps[0].glow.lightens = 1;
        const auto lightened = render(*levels, take);
        QVERIFY(at(lightened, 72, 120)[2] < at(blue, 72, 120)[2]);
        QVERIFY(at(lightened, 72, 120)[2] >= at(before, 72, 120)[2]);
        // The same with a cache; and what a stroke changes is told.
        StageCache cache;
        QVERIFY(render(*levels, take, &cache) == lightened);
        QVERIFY(render(*levels, take, &cache) == lightened);
        const Rect reached =
            reachedBy(take, take.keeps[0], {100, 100, 101, 101}, levels->rectOf(0));
        QVERIFY(reached.x0 <= 100 - 24 && reached.x1 >= 100 + 24);
    }
};

BUTTONHOLE_TEST(TstLookStarts)
#include "tst_look_starts.moc"
