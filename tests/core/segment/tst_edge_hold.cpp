#include "segment/edge_hold.h"

#include "registry.h"
#include "samples.h"

using namespace buttonhole;

namespace
{

constexpr int kPhotoWidth = 600;
constexpr int kPhotoHeight = 400;

/// Green left of x = 300, orange right of it.
std::array<int, 3> halves(int x, int y)
{
    const int grain = (x * 7 + y * 13) % 9 - 4;
    return x < 300 ? std::array{60 + grain, 140 + grain, 80 + grain}
                   : std::array{200 + grain, 120 + grain, 40 + grain};
}

/// Left of x = 300 a lit and shaded green, in stripes that differ more than its dark ones do from
/// the dull ground right of it.
std::array<int, 3> stripes(int x, int y)
{
    const int grain = (x * 7 + y * 13) % 5 - 2;
    if (x >= 300)
        return {40 + grain, 52 + grain, 26 + grain};
    return y / 14 % 2 == 0 ? std::array{20 + grain, 110 + grain, 40 + grain}
                           : std::array{4 + grain, 38 + grain, 12 + grain};
}

int shareAt(const HeldTip &tip, int x, int y)
{
    return tip.share.row(y - tip.area.y0)[x - tip.area.x0];
}

/// What a look says in the end, with what it said at once.
HeldTip joined(HeldTip atOnce, const HeldTip &later)
{
    for (int y = 0; y < atOnce.share.height(); ++y)
        for (int x = 0; x < atOnce.share.width(); ++x)
            atOnce.share.row(y)[x] = uint8_t(atOnce.share.row(y)[x] + later.share.row(y)[x]);
    return atOnce;
}

/// Of a stroke that is one place.
HeldTip settled(const PhotoLevels &levels, PhotoPoint at, float radius, float strictness)
{
    HeldStroke stroke(levels, radius, strictness);
    stroke.moveTo(at);
    HeldTip atOnce = stroke.look();
    return joined(std::move(atOnce), stroke.settle());
}

/// Mean share, 0..1, of the columns of a tip's answer.
double meanOf(const HeldTip &tip, int x0, int x1, int y0, int y1)
{
    double sum = 0;
    for (int y = y0; y < y1; ++y)
        for (int x = x0; x < x1; ++x)
            sum += shareAt(tip, x, y) / 255.0;
    return sum / ((x1 - x0) * (y1 - y0));
}

} // namespace

/// What belongs under a tip that holds to edges.
class TstEdgeHold : public QObject
{
    Q_OBJECT
    std::shared_ptr<const PhotoLevels> m_levels = test::levelsOf(kPhotoWidth, kPhotoHeight, halves);

    HeldTip look(PhotoPoint at, float radius, float strictness = 0.5F) const
    {
        return settled(*m_levels, at, radius, strictness);
    }

private Q_SLOTS:
    void aTipAcrossAnEdgeStopsAtIt()
    {
        const HeldTip tip = look({280, 200}, 50);
        QVERIFY(meanOf(tip, 240, 298, 190, 210) > 0.98);
        QVERIFY(meanOf(tip, 302, 325, 190, 210) < 0.02);
        const HeldTip other = look({320, 200}, 50);
        QVERIFY(meanOf(other, 302, 360, 190, 210) > 0.98);
        QVERIFY(meanOf(other, 275, 298, 190, 210) < 0.02);
    }

    void whereNothingStandsOutAllBelongs()
    {
        const HeldTip tip = look({120, 200}, 40);
        QVERIFY(meanOf(tip, 90, 150, 170, 230) > 0.98);
    }

    /// The answer reaches a little farther than the tip, and not out of the photo.
    void theAnswersAreaIsTheTips()
    {
        const HeldTip tip = look({300, 200}, 50);
        QCOMPARE(tip.share.width(), tip.area.width());
        QCOMPARE(tip.share.height(), tip.area.height());
        QVERIFY(tip.area.x0 <= 250 && tip.area.x1 >= 350);
        QVERIFY(tip.area.x0 >= 300 - 50 * HeldStroke::kReach - 2 &&
                tip.area.x1 <= 300 + 50 * HeldStroke::kReach + 2);
        const HeldTip corner = look({3, 3}, 60);
        QVERIFY(corner.area.x0 >= 0 && corner.area.y0 >= 0);
        const HeldTip beyond = look({float(kPhotoWidth) - 1, float(kPhotoHeight) - 1}, 60);
        QVERIFY(beyond.area.x1 <= kPhotoWidth && beyond.area.y1 <= kPhotoHeight);
    }

    /// A stroke keeps to the side of all of its trail.
    void theWholeTrailBelongs()
    {
        HeldStroke stroke(*m_levels, 40, 0.5F);
        stroke.moveTo({285, 200});
        (void)stroke.look();
        (void)stroke.settle();
        stroke.moveTo({285, 220});
        stroke.moveTo({285, 240});
        HeldTip atOnce = stroke.look();
        const HeldTip tip = joined(std::move(atOnce), stroke.settle());
        for (const int y : {205, 220, 240})
            QCOMPARE(shareAt(tip, 285, y), 255);
        QVERIFY(meanOf(tip, 302, 320, 230, 250) < 0.02);
    }

    /// The trail passes both the lit and the shaded, and never the ground: it is told from both,
    /// though their own edge is the harder one. At the first look only what is lit has been passed:
    /// what comes next says the rest of it.
    void coloursPassedAreToldFromOthers()
    {
        const auto levels = test::levelsOf(kPhotoWidth, kPhotoHeight, stripes);
        HeldStroke stroke(*levels, 50, 0.5F);
        std::vector<HeldTip> tips;
        for (int y = 100; y <= 300; y += 15) {
            stroke.moveTo({275, float(y)});
            tips.push_back(stroke.look());
        }
        for (size_t i = 0; i < tips.size(); ++i) {
            const int y = 100 + 15 * int(i);
            const HeldTip tip = joined(std::move(tips[i]), stroke.settle());
            QVERIFY(meanOf(tip, 303, 320, y - 20, y + 20) < 0.02);
            QVERIFY2(meanOf(tip, 230, 297, y - 20, y + 20) > 0.98,
                     qPrintable(QString::number(meanOf(tip, 230, 297, y - 20, y + 20))));
        }
    }

    /// What a look says later comes on top of what it said at once, never twice.
    void whatIsSaidLaterIsWhatWasMissing()
    {
        const auto levels = test::levelsOf(kPhotoWidth, kPhotoHeight, stripes);
        HeldStroke stroke(*levels, 50, 0.5F);
        stroke.moveTo({275, 105});
        const HeldTip atOnce = stroke.look();
        stroke.moveTo({275, 119}); // over what is in shade
        (void)stroke.look();
        const HeldTip later = stroke.settle();
        QCOMPARE(later.area, atOnce.area);
        double more = 0;
        for (int y = 0; y < later.share.height(); ++y)
            for (int x = 0; x < later.share.width(); ++x) {
                more += later.share.row(y)[x] / 255.0;
                QVERIFY(int(later.share.row(y)[x]) + int(atOnce.share.row(y)[x]) <= 255);
            }
        QVERIFY2(more > 100, qPrintable(QString::number(more)));
    }

    /// Stricter takes no more, and less strict no less.
    void strictnessDecidesWhatIsInDoubt()
    {
        const auto levels = test::levelsOf(kPhotoWidth, kPhotoHeight, [](int x, int y) {
            const int step = x / 15; // from green to ochre, without an edge
            return std::array{60 + 4 * step, 140 - step + (x + y) % 3, 80 - step};
        });
        std::vector<double> shares;
        for (const float strictness : {0.1F, 0.5F, 0.9F})
            shares.push_back(
                meanOf(settled(*levels, {300, 200}, 100, strictness), 205, 395, 190, 210));
        QVERIFY(shares[0] > shares[1] + 0.02);
        QVERIFY(shares[1] >= shares[2]);
    }
};

BUTTONHOLE_TEST(TstEdgeHold)

#include "tst_edge_hold.moc"
