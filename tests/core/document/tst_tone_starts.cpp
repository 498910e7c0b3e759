#include "document/take_json.h"
#include "document/tone_starts.h"
#include "light/photo_light.h"
#include "mask/outline_step.h"
#include "render/render.h"

#include "registry.h"
#include "samples.h"

#include <nlohmann/json.hpp>

using namespace buttonhole;

/// Ways in which local tones begin, and what they do to the picture.
class TstToneStarts : public QObject
{
    Q_OBJECT

    std::shared_ptr<const PhotoLevels> m_levels = test::levelsOf(400, 300, [](int x, int y) {
        return std::array{90 + x / 8, 120, 90 + y / 8};
    });
    Take m_take;

    int codeAt(const Take &take, int x, int y) const
    {
        std::array<uint16_t, 3> out{};
        const auto done = renderPicture(*m_levels, take, View::Result, 0, {x, y, x + 1, y + 1},
                                        OutputColour(Profile::srgb()),
                                        {RenderTarget::Layout::Rgb16, out.data(), 6});
        return done ? int(out[1]) : -1;
    }
    Take with(const char *start)
    {
        const auto made = withToneStart(m_take, *m_levels, start, &m_take.keeps[0]);
        if (!made)
            qFatal("%s", made.error().detail.c_str());
        return *made;
    }

private Q_SLOTS:
    void init()
    {
        m_take = makeTake();
        Outline line;
        for (const auto &[x, y] : {std::pair(150, 100), {250, 100}, {250, 200}, {150, 200}})
            line.push_back({{float(x), float(y)}, {}, {}});
        m_take = withNewStep(m_take, m_take.keeps[0].id, Sign::Add,
                             std::make_shared<OutlineStep>(std::vector<Outline>{line}));
    }

    void theyChangeWhereTheySay()
    {
        const int inside = codeAt(m_take, 200, 150);
        const int outside = codeAt(m_take, 20, 20);
        const Take settled = with("settle");
        QCOMPARE(codeAt(settled, 200, 150), inside);
        QVERIFY(codeAt(settled, 20, 20) < outside - 2000);
        const Take spot = with("spotlight");
        QCOMPARE(spot.tones.size(), size_t(2));
        QVERIFY(codeAt(spot, 200, 150) > inside + 1000);
        QVERIFY(codeAt(spot, 20, 20) < outside - 3000);
        for (const char *start : {"empty", "everything", "inside", "outside"}) {
            const Take take = with(start); // nothing is set yet
            QCOMPARE(codeAt(take, 200, 150), inside);
            QCOMPARE(codeAt(take, 20, 20), outside);
            QCOMPARE(take.tones[0].effects.size(), size_t(6));
        }
    }

    void whatIsGreyOrKeptIsLeftAlone()
    {
        const int inside = codeAt(m_take, 200, 150);
        const int outside = codeAt(m_take, 20, 20);
        Take take = with("everything");
        PhotoLight light;
        light.exposureEv = -1;
        take = withTone(std::move(take), take.tones[0].id, [&](LocalTone &tone) {
            tone.effects = {std::make_shared<const NumberAdjustment<PhotoLight>>(light)};
            tone.actsOn = ActsOn::Grey;
        });
        QCOMPARE(codeAt(take, 200, 150), inside);
        QVERIFY(codeAt(take, 20, 20) < outside - 5000);
        take = withTone(std::move(take), take.tones[0].id,
                        [](LocalTone &tone) { tone.actsOn = ActsOn::Kept; });
        QVERIFY(codeAt(take, 200, 150) < inside - 5000);
        QCOMPARE(codeAt(take, 20, 20), outside);
        // As text it comes back the same; other words are refused.
        std::vector<std::string> notes;
        nlohmann::json text = takeToJson(take, nullptr);
        QCOMPARE(text["readableFrom"].get<int>(), 10);
        const auto again = takeFromText(text.dump(), 400, 300, "take", notes);
        QVERIFY(again && again->tones[0].actsOn == ActsOn::Kept);
        text["tones"][0]["actsOn"] = "sky";
        QVERIFY(!takeFromText(text.dump(), 400, 300, "take", notes));
    }

    void masksAreCopiesOfTheKeeps()
    {
        const Take in = with("inside");
        const Take out = with("outside");
        QVERIFY(!in.tones[0].invert && out.tones[0].invert);
        QVERIFY(in.tones[0].steps[0].id != m_take.keeps[0].steps[0].id);
        QVERIFY(in.tones[0].steps[0].shape == m_take.keeps[0].steps[0].shape);
        QVERIFY(with("everything").tones[0].invert && with("everything").tones[0].steps.empty());
    }

    void namesAreFree()
    {
        Take twice = with("bite");
        uint64_t last = 0;
        const auto more = withToneStart(twice, *m_levels, "bite", nullptr, &last);
        QVERIFY(more);
        QCOMPARE(more->tones[0].name, std::string("Bite"));
        QCOMPARE(more->tones[1].name, std::string("Bite 2"));
        QCOMPARE(more->tones[1].id, last);
        QVERIFY(!withToneStart(m_take, *m_levels, "inside", nullptr));
        QVERIFY(!withToneStart(m_take, *m_levels, "glitter", nullptr));
    }

    void tonesAreCopiedAndMoved()
    {
        Take take = with("spotlight");
        const uint64_t first = take.tones[0].id;
        uint64_t copy = 0;
        take = withCopyOfTone(std::move(take), first, &copy);
        QCOMPARE(take.tones.size(), size_t(3));
        QCOMPARE(take.tones[1].id, copy);
        QCOMPARE(take.tones[1].name, std::string("Spotlight 2"));
        take = withToneAt(std::move(take), first, 9);
        QCOMPARE(take.tones[2].id, first);
        take = withToneAt(std::move(take), 12345, 0);
        QCOMPARE(take.tones.size(), size_t(3));
    }
};

BUTTONHOLE_TEST(TstToneStarts)

#include "tst_tone_starts.moc"
