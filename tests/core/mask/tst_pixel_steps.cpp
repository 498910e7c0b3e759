#include "mask/colour_window.h"
#include "mask/fade_step.h"
#include "mask/match_step.h"
#include "mask/tone_window.h"

#include "colour/oklab.h"
#include "registry.h"
#include "samples.h"

#include <nlohmann/json.hpp>

#include <functional>

using namespace buttonhole;
using nlohmann::json;

namespace
{

using test::again;
using test::levelsOf;

/// Two teal squares, the right one in the shade; a red one under each; grey around.
std::array<int, 3> squares(int x, int y)
{
    const int column = x / 100;
    const bool inside = x % 100 >= 20 && x % 100 < 80 && y % 100 >= 20 && y % 100 < 80;
    if (!inside)
        return {120, 120, 118};
    if (y < 100)
        return column == 0 ? std::array{20, 150, 150} : std::array{8, 75, 76};
    return column == 0 ? std::array{190, 40, 30} : std::array{95, 18, 14};
}

std::vector<uint16_t> coverageOf(const StepShape &shape, const PhotoLevels &levels, int level = 0)
{
    const Rect all = levels.rectOf(level);
    std::vector<uint16_t> lo(all.area());
    std::vector<uint16_t> hi(all.area());
    shape.coverage(levels, level, all, lo.data(), hi.data());
    return lo;
}

/// What joins a place in a mask, found pixel by pixel, and two pixels round about.
std::vector<bool> joinedBy(const std::vector<uint16_t> &plain, int width, int height,
                           const PhotoPoint &place)
{
    std::vector<bool> joined(plain.size());
    std::vector<bool> wide(plain.size());
    std::vector<std::pair<int, int>> front{{int(place.x), int(place.y)}};
    while (!front.empty()) {
        const auto [x, y] = front.back();
        front.pop_back();
        const size_t i = size_t(y) * size_t(width) + size_t(x);
        if (plain[i] < 65535 / 4 || joined[i])
            continue;
        joined[i] = true;
        for (int ny = std::max(y - 2, 0); ny <= std::min(y + 2, height - 1); ++ny)
            for (int nx = std::max(x - 2, 0); nx <= std::min(x + 2, width - 1); ++nx) {
                wide[size_t(ny) * size_t(width) + size_t(nx)] = true;
                if (std::abs(nx - x) <= 1 && std::abs(ny - y) <= 1)
                    front.emplace_back(nx, ny);
            }
    }
    return wide;
}

int at(const std::vector<uint16_t> &mask, int x, int y)
{
    return mask[size_t(y) * 200 + size_t(x)];
}

} // namespace

class TstPixelSteps : public QObject
{
    Q_OBJECT

    std::shared_ptr<const PhotoLevels> m_levels = levelsOf(200, 200, squares);

    ColourWindow tealWindow() const
    {
        ColourWindow window;
        window.range = rangeAround(measureSpread(*m_levels, {45, 45, 56, 56}));
        return window;
    }

private Q_SLOTS:
    void aWindowFollowsShadingUnlessToldNotTo()
    {
        ColourWindow window = tealWindow();
        auto mask = coverageOf(ColourWindowStep(window), *m_levels);
        QCOMPARE(at(mask, 50, 50), 65535);
        QCOMPARE(at(mask, 150, 50), 65535); // the same in the shade
        QCOMPARE(at(mask, 50, 150), 0);
        QCOMPARE(at(mask, 5, 5), 0);
        window.followsShading = false;
        mask = coverageOf(ColourWindowStep(window), *m_levels);
        QCOMPARE(at(mask, 50, 50), 65535);
        QCOMPARE(at(mask, 150, 50), 0);
    }

    void aWindowStaysWithItsPlaces()
    {
        ColourWindow window = tealWindow();
        window.places = {{50, 50}};
        QVERIFY(!ColourWindowStep(window).needsLevels());
        window.isConnected = true;
        const ColourWindowStep step(window);
        QVERIFY(step.needsLevels());
        const auto mask = coverageOf(step, *m_levels);
        QCOMPARE(at(mask, 50, 50), 65535);
        QCOMPARE(at(mask, 150, 50), 0);
        window.places = {{5, 5}}; // nothing alike there
        const auto none = coverageOf(ColourWindowStep(window), *m_levels);
        QCOMPARE(int(*std::max_element(none.begin(), none.end())), 0);
    }

    void picksWidenAndExclude()
    {
        ColourWindow window = tealWindow();
        const ColourRange first = window.range;
        window.range = widened(first, measureSpread(*m_levels, {45, 145, 56, 156}));
        auto mask = coverageOf(ColourWindowStep(window), *m_levels);
        QCOMPARE(at(mask, 50, 50), 65535);
        QCOMPARE(at(mask, 50, 150), 65535); // red has joined
        window.excluded = {rangeAround(measureSpread(*m_levels, {145, 145, 156, 156}))};
        mask = coverageOf(ColourWindowStep(window), *m_levels);
        QCOMPARE(at(mask, 150, 150), 0); // dark red goes, the lit one stays
        QVERIFY(at(mask, 50, 150) > 60000);
        QCOMPARE(at(mask, 50, 50), 65535);
    }

    /// A click on a thread means the thread, not what lies beside it.
    void aClickMeansWhatLooksLikeItsPixel()
    {
        const auto threads = levelsOf(60, 60, [](int x, int y) {
            const int grain = (x * 7 + y * 13) % 9 - 4;
            return x % 10 < 3 ? std::array{30 + grain, 50 + grain, 150 + grain}
                              : std::array{120 + grain, 80 + grain, 50 + grain};
        });
        const ColourRange clicked = rangeAround(spreadAt(*threads, {31.5F, 30.5F}));
        const ColourRange alone = rangeAround(measureSpread(*threads, {30, 27, 33, 34}));
        QVERIFY(std::abs(clicked.hueDeg - alone.hueDeg) < 5);
        QVERIFY(std::abs(clicked.hueWidthDeg - alone.hueWidthDeg) < 5);
        QVERIFY(clicked.lightness.most < alone.lightness.most + 0.02F);
        const ColourRange square = rangeAround(measureSpread(*threads, {28, 27, 35, 34}));
        QVERIFY(square.hueWidthDeg > clicked.hueWidthDeg + 90);
        const ColourRange corner = rangeAround(spreadAt(*threads, {0, 59.9F}));
        QVERIFY(std::abs(corner.hueDeg - alone.hueDeg) < 5);
    }

    /// The table over the turn against the angle itself.
    void everyHueIsHit()
    {
        for (int deg = 0; deg < 360; deg += 7) {
            const double angle = deg * 3.14159265358979 / 180;
            const Vector3 rgb = inverse(Profile::srgb().toXyz()) *
                                toXyz({0.6, 0.06 * std::cos(angle), 0.06 * std::sin(angle)});
            std::array<int, 3> codes{};
            for (size_t c = 0; c < 3; ++c) {
                const float padded[64] = {float(rgb[c])};
                uint16_t code[64];
                encodeRow(Profile::srgb(), c, 8, padded, 1, code);
                codes[c] = code[0];
            }
            const auto levels = levelsOf(8, 8, [&](int, int) { return codes; });
            ColourWindow window;
            window.range.hueSoftDeg = 0;
            window.range.hueWidthDeg = 12;
            window.range.hueDeg = float(deg);
            QCOMPARE(int(coverageOf(ColourWindowStep(window), *levels)[0]), 65535);
            window.range.hueDeg = float((deg + 12) % 360);
            QCOMPARE(int(coverageOf(ColourWindowStep(window), *levels)[0]), 0);
            window.range.hueDeg = float((deg + 348) % 360);
            QCOMPARE(int(coverageOf(ColourWindowStep(window), *levels)[0]), 0);
        }
    }

    void matchGathersClicks()
    {
        Match match;
        const PhotoPoint lit{50, 50};
        match.clicks = {{lit, sampleColour(*m_levels, lit, 5)}};
        auto mask = coverageOf(MatchStep(match), *m_levels);
        QCOMPARE(at(mask, 50, 50), 65535);
        QCOMPARE(at(mask, 150, 50), 0);
        const PhotoPoint shaded{150, 50};
        match.clicks.push_back({shaded, sampleColour(*m_levels, shaded, 31)});
        mask = coverageOf(MatchStep(match), *m_levels);
        QCOMPARE(at(mask, 150, 50), 65535);
        match.reach = 0.5F;
        QCOMPARE(at(coverageOf(MatchStep(match), *m_levels), 50, 150), 65535);
        const PhotoPoint red{50, 150};
        match.clicks.push_back({red, sampleColour(*m_levels, red, 5), true});
        mask = coverageOf(MatchStep(match), *m_levels);
        QCOMPARE(at(mask, 50, 150), 0); // more like what is left out
        QCOMPARE(at(mask, 50, 50), 65535);
        match.clicks.pop_back();
        match.reach = 0.9F; // everything is alike
        match.isConnected = false;
        mask = coverageOf(MatchStep(match), *m_levels);
        QCOMPARE(int(*std::min_element(mask.begin(), mask.end())), 65535);
        QCOMPARE(MatchStep(match).facts(), (StepFacts{{"clicks", 2}, {"connected", 0}}));
    }

    /// A reach that changes goes on from what was found for another: wider, narrower, wider again.
    void matchJoinsByWayOfOthers_data()
    {
        QTest::addColumn<float>("soft");
        QTest::addColumn<bool>("leaves");
        QTest::newRow("hard") << 0.0F << false;
        QTest::newRow("soft") << 0.7F << false;
        QTest::newRow("something left out") << 0.4F << true;
    }
    void matchJoinsByWayOfOthers()
    {
        QFETCH(float, soft);
        QFETCH(bool, leaves);
        // Waves of several lengths and some grain: arms and islands at every reach.
        const auto levels = levelsOf(301, 233, [](int x, int y) {
            const double wave = std::sin(x / 17.0) + std::sin(y / 11.0) + std::sin((x + y) / 5.0);
            const int grain = (x * 7919 + y * 104729 + x * y * 31) % 23;
            const int v = int(128 + 30 * wave) + grain;
            return std::array{v, 128 + (v - 128) / 3, 140 - grain};
        });
        Match match;
        match.soft = soft;
        const PhotoPoint place{150.5F, 120.5F};
        match.clicks = {{place, sampleColour(*levels, place, 5)}};
        if (leaves)
            match.clicks.push_back({{10, 10}, {0.8F, 0.05F, -0.02F}, true});
        size_t most = 0;
        for (const float reach : {0.1F, 0.14F, 0.03F, 0.2F, 0.07F, 0.12F}) {
            match.reach = reach;
            match.isConnected = false;
            const auto plain = coverageOf(MatchStep(match), *levels);
            match.isConnected = true;
            const auto mask = coverageOf(MatchStep(match), *levels);
            const auto joined = joinedBy(plain, 301, 233, place);
            size_t wrong = 0;
            size_t islands = 0;
            for (size_t i = 0; i < mask.size(); ++i) {
                wrong += mask[i] != (joined[i] ? plain[i] : 0) ? 1 : 0;
                islands += plain[i] > 0 && !joined[i] ? 1 : 0;
            }
            QVERIFY2(wrong <= 5, qPrintable(QString::number(wrong))); // reach counts in 1/32765
            most = std::max(most, islands);
        }
        QVERIFY(most > 500);
    }

    /// What was joined for other clicks, or another softness, is not gone on from.
    void whatJoinsIsOfItsOwnClicks()
    {
        const auto gradient = [](int x, int y) { return std::array{x, 255 - x, (x + y) / 2}; };
        const auto levels = levelsOf(256, 200, gradient);
        const auto matchAt = [&](std::vector<PhotoPoint> places, float reach, float soft) {
            Match match;
            match.reach = reach;
            match.soft = soft;
            for (const PhotoPoint &place : places)
                match.clicks.push_back({place, sampleColour(*levels, place, 1)});
            return match;
        };
        const PhotoPoint left{60, 100};
        const PhotoPoint right{200, 100};
        const std::vector<Match> matches = {
            matchAt({left}, 0.1F, 0.2F),  matchAt({right}, 0.1F, 0.2F),
            matchAt({right}, 0.1F, 0.9F), matchAt({left, right}, 0.1F, 0.9F),
            matchAt({left}, 0.05F, 0.2F), matchAt({left}, 0.1F, 0.2F)};
        for (const Match &match : matches) {
            const auto mask = coverageOf(MatchStep(match), *levels);
            QCOMPARE(mask, coverageOf(MatchStep(match), *levelsOf(256, 200, gradient)));
            for (const Match::Click &click : match.clicks)
                QCOMPARE(int(mask[size_t(click.at.y) * 256 + size_t(click.at.x)]), 65535);
            QCOMPARE(int(mask[100 * 256 + 130]), 0); // between the two
        }
        // A place in the middle of nothing like it joins nothing.
        Match lost = matches[0];
        lost.clicks[0].at = {250, 10};
        const auto none = coverageOf(MatchStep(lost), *levels);
        QCOMPARE(int(*std::max_element(none.begin(), none.end())), 0);
    }

    void toneWindowIsByLightness()
    {
        const auto ramp = levelsOf(256, 4, [](int x, int) { return std::array{x, x, x}; });
        const auto mask = coverageOf(ToneWindowStep({0.5F, 1, 0.1F}), *ramp);
        QCOMPARE(int(mask[0]), 0);
        QCOMPARE(int(mask[255]), 65535);
        QVERIFY(std::is_sorted(mask.begin(), mask.begin() + 256));
        const auto soft = std::count_if(mask.begin(), mask.begin() + 256,
                                        [](uint16_t v) { return v > 0 && v < 65535; });
        QVERIFY(soft > 15 && soft < 35); // a tenth of the lightness
    }

    void fadesRunFromHandleToHandle()
    {
        const auto levels = levelsOf(200, 200, [](int, int) { return std::array{9, 9, 9}; });
        Fade fade{false, {50, 100}, {150, 100}, 1, 1};
        auto mask = coverageOf(FadeStep(fade), *levels);
        QCOMPARE(at(mask, 20, 30), 65535);
        QCOMPARE(at(mask, 180, 30), 0);
        QVERIFY(std::abs(at(mask, 99, 10) + at(mask, 100, 10) - 65535) < 3);
        fade.feather = 0.2F;
        mask = coverageOf(FadeStep(fade), *levels);
        QCOMPARE(at(mask, 128, 10), 65535);
        QVERIFY(at(mask, 140, 10) < 40000 && at(mask, 140, 10) > 25000);
        const Fade round{true, {100, 100}, {180, 100}, 0.5F, 0.1F};
        mask = coverageOf(FadeStep(round), *levels);
        QCOMPARE(at(mask, 165, 100), 65535);
        QCOMPARE(at(mask, 100, 130), 65535);
        QCOMPARE(at(mask, 100, 145), 0);
        // Smaller levels show the same.
        const auto half = coverageOf(FadeStep(fade), *levels, 1);
        QVERIFY(std::abs(half[5 * 100 + 70] -
                         at(mask = coverageOf(FadeStep(fade), *levels), 140, 10)) < 3500);
    }

    void everyKindComesBackFromJson()
    {
        ColourWindow window = tealWindow();
        window.followsShading = false;
        window.excluded = {ColourRange()};
        window.places = {{3, 4}};
        const auto colour = again(ColourWindowStep(window));
        QVERIFY(colour);
        QCOMPARE(static_cast<const ColourWindowStep &>(*colour).window(), window);
        Match match;
        match.clicks = {{{1.5F, 2.5F}, {0.5F, 0.1F, -0.1F}, true}};
        match.reach = 0.2F;
        match.isConnected = false;
        QCOMPARE(static_cast<const MatchStep &>(*again(MatchStep(match))).match(), match);
        const Fade fade{true, {1, 2}, {3, 4}, 0.5F, 0.25F};
        QCOMPARE(static_cast<const FadeStep &>(*again(FadeStep(fade))).fade(), fade);
        const SoftRange tones{0.25F, 0.5F, 0.125F};
        const auto tone = again(ToneWindowStep(tones, {{7, 8}}));
        QCOMPARE(static_cast<const ToneWindowStep &>(*tone).lightness(), tones);
        QCOMPARE(static_cast<const ToneWindowStep &>(*tone).places().size(), size_t(1));
    }

    void brokenJsonIsRefused_data()
    {
        QTest::addColumn<QByteArray>("text");
        QTest::newRow("hue") << QByteArray(R"({"kind":"colour-window","range":{"hueDeg":400}})");
        QTest::newRow("number") << QByteArray(R"({"kind":"tone-window","least":"x"})");
        QTest::newRow("place") << QByteArray(R"({"kind":"tone-window","places":[[1]]})");
        QTest::newRow("far") << QByteArray(R"({"kind":"fade","from":[0,1e9],"to":[1,1]})");
        QTest::newRow("shape") << QByteArray(R"({"kind":"fade","shape":"square"})");
        QTest::newRow("lab") << QByteArray(
            R"({"kind":"match","clicks":[{"at":[1,1],"oklab":[1]}]})");
    }
    void brokenJsonIsRefused()
    {
        QFETCH(QByteArray, text);
        struct NoReader final : MaskReader {
            Result<MaskPlane> get(const json &) override { return Error{}; }
        } reader;
        const auto read = stepFromJson(json::parse(text.toStdString()), reader);
        QVERIFY(!read);
        QCOMPARE(read.error().kind, ErrorKind::InvalidArgument);
    }
};

BUTTONHOLE_TEST(TstPixelSteps)

#include "tst_pixel_steps.moc"
