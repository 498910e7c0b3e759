#include "mask/brush_step.h"
#include "mask/stroke.h"

#include "mask/dab_rows.h"
#include "registry.h"
#include "samples.h"

#include <cmath>

using namespace buttonhole;
using test::makeStroke;
using test::pixelsOf;

namespace
{

BrushPlanes painted(int width, int height, const std::vector<Stroke> &strokes)
{
    std::vector<std::shared_ptr<const Stroke>> shared;
    for (const Stroke &stroke : strokes)
        shared.push_back(std::make_shared<const Stroke>(stroke));
    BrushPlanes planes(width, height);
    replayStrokes(shared, planes);
    return planes;
}

Tip tipOf(float size, float softness, float flow = 1, float opacity = 1)
{
    return {size, softness, flow, opacity, PressureSteers::Nothing};
}

} // namespace

class TstStroke : public QObject
{
    Q_OBJECT
private Q_SLOTS:
    void oneHardPixelIsExactlyOnePixel()
    {
        const auto planes = painted(64, 48, {makeStroke(tipOf(1, 0), {{20.9F, 10.1F}})});
        for (int y = 0; y < 48; ++y)
            for (int x = 0; x < 64; ++x)
                QCOMPARE(planes.lo.at(x, y), uint16_t(x == 20 && y == 10 ? 65535 : 0));
    }

    void onePixelLineHasNoGaps()
    {
        const auto planes =
            painted(64, 48, {makeStroke(tipOf(1, 0), {{5.5F, 5.5F}, {50.5F, 31.5F}})});
        for (int x = 5; x <= 50; ++x) {
            int column = 0;
            for (int y = 0; y < 48; ++y)
                column += planes.lo.at(x, y) == 65535 ? 1 : 0;
            QVERIFY(column >= 1 && column <= 2);
        }
    }

    void aHardDabIsTheDisk()
    {
        const auto planes = painted(300, 300, {makeStroke(tipOf(101, 0), {{150, 150}})});
        for (int y = 0; y < 300; ++y)
            for (int x = 0; x < 300; ++x) {
                const double d = std::hypot(x + 0.5 - 150, y + 0.5 - 150);
                if (d < 49.9)
                    QCOMPARE(planes.lo.at(x, y), uint16_t(65535));
                if (d > 51.1)
                    QCOMPARE(planes.lo.at(x, y), uint16_t(0));
            }
    }

    void aSoftDabFallsOffEvenlyAndSymmetrically()
    {
        const auto planes = painted(300, 300, {makeStroke(tipOf(200, 1), {{150, 150}})});
        uint16_t before = 65535;
        for (int x = 150; x < 260; ++x) {
            const uint16_t now = planes.lo.at(x, 150);
            QVERIFY(now <= before);
            QVERIFY(before - now < 1500);
            before = now;
            QCOMPARE(now, planes.lo.at(299 - x, 150));
            QCOMPARE(now, planes.lo.at(150, x));
        }
        QCOMPARE(before, uint16_t(0));
        // Half-way out, smoothstep gives one half.
        QVERIFY(std::abs(planes.lo.at(199, 149) - 32768) < 700);
    }

    void strokesNeverPassTheirOpacity()
    {
        const Stroke half =
            makeStroke(tipOf(60, 0.3F, 0.8F, 0.5F), {{30, 60}, {200, 60}, {60, 70}, {180, 50}});
        const auto once = painted(256, 128, {half});
        const auto twice = painted(256, 128, {half, half});
        const auto pixels = pixelsOf(once.lo);
        QCOMPARE(int(*std::max_element(pixels.begin(), pixels.end())), 32768);
        QVERIFY(samePixels(once.lo, twice.lo));
    }

    void takingBackUndoesPainting()
    {
        const Stroke add = makeStroke(tipOf(80, 0), {{60, 60}, {180, 60}});
        Stroke back = add;
        back.takesBack = true;
        const auto planes = painted(256, 128, {add, back});
        QCOMPARE(planes.lo.at(120, 60), uint16_t(0));
        QCOMPARE(planes.hi.at(120, 60), uint16_t(0));
        const auto again = painted(256, 128, {add, back, add});
        QCOMPARE(again.lo.at(120, 60), uint16_t(65535));
        QCOMPARE(again.hi.at(120, 60), uint16_t(65535));
    }

    /// What the canvas showed while painting is what a file's strokes paint again.
    void replayIsTheSamePaintingAsLive()
    {
        BrushPlanes live(700, 500);
        Tip tip = tipOf(90, 0.6F, 0.7F, 0.9F);
        tip.pressure = PressureSteers::Size;
        Stroke start;
        start.tip = tip;
        StrokePainter painter(live, start);
        std::vector<Stroke> pieces;
        for (int i = 0; i < 60; ++i) {
            const float t = float(i) / 10;
            (void)painter.addPoint(
                {100 + 90 * t, 250 + 170 * std::sin(t), 0.5F + 0.5F * std::cos(t)});
            if (i == 20 || i == 41)
                pieces.push_back(painter.cut());
        }
        (void)painter.finish();
        pieces.push_back(painter.stroke());
        const auto again = painted(700, 500, pieces);
        QVERIFY(samePixels(live.lo, again.lo));
        QVERIFY(samePixels(live.hi, again.hi));
        QVERIFY(pieces[1].continues && pieces[2].continues && !pieces[0].continues);
    }

    void aHeldTipStopsAtEdgesAndPaintsTheSameFromAFile()
    {
        // A red field with a soft border to grey at x = 200, all of it grainy.
        const auto levels = test::levelsOf(400, 300, [](int x, int y) {
            const int grain = (x * 5 + y * 11) % 7 - 3;
            return x < 200 ? std::array{180 + grain, 40 + grain, 40 + grain}
                           : std::array{110 + grain, 112 + grain, 110 + grain};
        });
        Stroke stroke = makeStroke(tipOf(120, 0), {{160, 80}, {165, 220}});
        stroke.tip.edgeHold = 0.5F;
        const auto paintOn = [&](const PhotoLevels *photo) {
            BrushPlanes planes(400, 300);
            replayStrokes({std::make_shared<const Stroke>(stroke)}, planes, photo);
            return planes;
        };
        const BrushPlanes held = paintOn(levels.get());
        QCOMPARE(held.lo.at(160, 150), uint16_t(65535));
        QVERIFY(held.lo.at(195, 150) > 60000);
        QVERIFY(held.lo.at(205, 150) < 5000);
        QCOMPARE(paintOn(nullptr).lo.at(205, 150), uint16_t(65535));
        // Without its planes the step paints itself when it is looked at.
        const BrushStep step({std::make_shared<const Stroke>(stroke)}, held);
        const auto read = std::dynamic_pointer_cast<const BrushStep>(test::again(step));
        QVERIFY(read && read->planes().lo.isEmpty() && read->needsLevels());
        QCOMPARE(read->strokes()[0]->tip.edgeHold, 0.5F);
        const Rect all{0, 0, 400, 300};
        std::vector<uint16_t> lo(all.area());
        std::vector<uint16_t> hi(all.area());
        QVERIFY(read->coverage(*levels, 0, all, lo.data(), hi.data()) == StepShape::Effect::Raises);
        QCOMPARE(lo, pixelsOf(held.lo));
    }

    /// What the tip's middle went over belongs, whatever its colour, and what a stroke has seen on
    /// either side of an edge it still knows where the edge fades away.
    void aHeldStrokeLearnsOnItsWay()
    {
        // A thing left of x = 200, red above y = 150 and white below; its edge against the grey
        // ground blurs towards the bottom.
        const auto levels = test::levelsOf(400, 600, [](int x, int y) {
            const int grain = (x * 5 + y * 11) % 7 - 3;
            const double blur = y < 400 ? 1 : 60;
            const double share = std::clamp((200 - x) / blur + 0.5, 0.0, 1.0);
            const auto mixed = [&](int own, int ground) {
                return int(std::lround(ground + share * (own - ground))) + grain;
            };
            return y < 150 ? std::array{mixed(180, 110), mixed(40, 112), mixed(40, 110)}
                           : std::array{mixed(235, 110), mixed(232, 112), mixed(225, 110)};
        });
        Stroke whole = makeStroke(tipOf(120, 0), {{165, 90}, {165, 210}, {165, 540}});
        whole.tip.edgeHold = 0.5F;
        BrushPlanes along(400, 600);
        replayStrokes({std::make_shared<const Stroke>(whole)}, along, levels.get());
        for (const int y : {100, 145, 155, 250, 350}) { // both colours, up to the edge
            QVERIFY2(along.lo.at(190, y) > 60000, qPrintable(QString::number(y)));
            QVERIFY2(along.lo.at(212, y) < 5000, qPrintable(QString::number(y)));
        }
        // In the blur, too.
        QVERIFY(along.lo.at(170, 540) > 60000);
        QVERIFY2(along.lo.at(222, 540) < 5000, qPrintable(QString::number(along.lo.at(222, 540))));
        // With a piece cut off on the way the pixels are the same.
        BrushPlanes planes(400, 600);
        StrokePainter painter(planes, Stroke{whole.tip, false, false, 0, false, {}}, levels.get());
        for (const StrokePoint &point : whole.points)
            (void)painter.addPoint(point);
        std::vector<std::shared_ptr<const Stroke>> pieces{
            std::make_shared<const Stroke>(painter.cut())};
        (void)painter.addPoint({165, 560, 1});
        (void)painter.finish();
        pieces.push_back(std::make_shared<const Stroke>(painter.stroke()));
        BrushPlanes again(400, 600);
        replayStrokes(pieces, again, levels.get());
        planes.lo.compact(planes.lo.rect());
        QVERIFY(samePixels(planes.lo, again.lo));
    }

    /// What comes on top behind the tip is what was missing: nothing is laid twice, and nothing
    /// that was seen goes again.
    void aHeldStrokeOnlyGainsAndNeverPassesAPlainOne()
    {
        const auto levels = test::levelsOf(400, 300, [](int x, int y) {
            const int grain = (x * 5 + y * 11) % 7 - 3;
            if (x >= 200)
                return std::array{80 + grain, 90 + grain, 85 + grain};
            return y / 12 % 2 == 0 ? std::array{180 + grain, 40 + grain, 40 + grain}
                                   : std::array{90 + grain, 15 + grain, 12 + grain};
        });
        Stroke stroke = makeStroke(tipOf(80, 0.5F), {{180, 78}, {181, 92}});
        stroke.tip.flow = 0.3F;
        const BrushPlanes plain = painted(400, 300, {stroke});
        stroke.tip.edgeHold = 0.5F;
        BrushPlanes held(400, 300);
        Stroke start = stroke;
        start.points.clear();
        StrokePainter painter(held, start, levels.get());
        for (const StrokePoint &point : stroke.points)
            (void)painter.addPoint(point);
        const std::vector<uint16_t> live = pixelsOf(held.lo);
        (void)painter.finish();
        const std::vector<uint16_t> after = pixelsOf(held.lo);
        const std::vector<uint16_t> most = pixelsOf(plain.lo);
        double gained = 0;
        for (size_t i = 0; i < live.size(); ++i) {
            QVERIFY(after[i] >= live[i]);
            QVERIFY(int(after[i]) <= int(most[i]) + 40); // rounding of some dabs
            gained += (after[i] - live[i]) / 65535.0;
        }
        QVERIFY2(gained > 100, qPrintable(QString::number(gained)));
    }

    void aStrokeReachesItsEndButACutPieceDoesNot()
    {
        Stroke stroke = makeStroke(tipOf(200, 0), {{150, 150}, {309, 150}});
        QCOMPARE(painted(500, 300, {stroke}).lo.at(407, 150), uint16_t(65535));
        stroke.isCut = true; // its last dab stands at 300
        QCOMPARE(painted(500, 300, {stroke}).lo.at(407, 150), uint16_t(0));
    }

    void touchedHoldsAllThatChanged()
    {
        BrushPlanes planes(600, 400);
        Stroke start;
        start.tip = tipOf(70, 0.5F);
        StrokePainter painter(planes, start);
        auto before = pixelsOf(planes.lo);
        for (const StrokePoint point : {StrokePoint{50, 50, 1}, {300, 120, 1}, {310, 390, 1}}) {
            const Rect touched = painter.addPoint(point);
            const auto now = pixelsOf(planes.lo);
            for (int y = 0; y < 400; ++y)
                for (int x = 0; x < 600; ++x) {
                    const size_t i = size_t(y) * 600 + size_t(x);
                    const bool inside =
                        x >= touched.x0 && x < touched.x1 && y >= touched.y0 && y < touched.y1;
                    QVERIFY(inside || now[i] == before[i]);
                }
            before = now;
        }
    }

    void paintingOutsideThePhotoIsHarmless()
    {
        const auto planes =
            painted(100, 80, {makeStroke(tipOf(40, 0.2F), {{-500, 40}, {-10, 40}, {900, 40}})});
        QCOMPARE(planes.lo.at(0, 40), uint16_t(65535));
        QCOMPARE(planes.lo.at(99, 40), uint16_t(65535));
        QCOMPARE(planes.lo.at(50, 5), uint16_t(0));
    }

    void aStraightStrokeHasAnEvenEdge()
    {
        const auto planes =
            painted(1200, 500, {makeStroke(tipOf(400, 0), {{220, 250}, {980, 250}})});
        // Scallops between dabs stay under a third of a pixel: the row just inside the rim is full.
        for (int x = 260; x < 940; ++x) {
            QCOMPARE(planes.lo.at(x, 51), uint16_t(65535));
            QCOMPARE(planes.lo.at(x, 48), uint16_t(0));
        }
    }

    void pressureSteersSizeFlowOrSoftness()
    {
        Tip size = tipOf(100, 0);
        size.pressure = PressureSteers::Size;
        const auto small = painted(200, 200, {makeStroke(size, {{100, 100, 0.5F}})});
        QCOMPARE(small.lo.at(100, 80), uint16_t(65535));
        QCOMPARE(small.lo.at(100, 60), uint16_t(0));
        Tip flow = tipOf(100, 0);
        flow.pressure = PressureSteers::Flow;
        const auto pale = painted(200, 200, {makeStroke(flow, {{100, 100, 0.5F}})});
        QVERIFY(std::abs(pale.lo.at(100, 60) - 32768) < 200);
        Tip soft = tipOf(100, 0);
        soft.pressure = PressureSteers::Softness;
        const auto light = painted(200, 200, {makeStroke(soft, {{100, 100, 0.1F}})});
        QVERIFY(light.lo.at(100, 60) > 0 && light.lo.at(100, 60) < 12000);
        QVERIFY(light.lo.at(100, 99) > 65000);
        const auto firm = painted(200, 200, {makeStroke(soft, {{100, 100, 1}})});
        QCOMPARE(firm.lo.at(100, 60), uint16_t(65535));
    }

    void dabRowsAgreeWithThePlainFormula()
    {
        DabRow dab;
        dab.firstDx = -20.3F;
        dab.dySquared = 9;
        dab.outer = 18;
        dab.perPx = 1 / 12.0F;
        dab.flow = 0.37F;
        for (int n : {1, 3, 7, 8, 15, 41}) {
            std::vector<uint16_t> build(64, 1000);
            layDabRow(dab, build.data(), n);
            for (int i = 0; i < 64; ++i) {
                const double d = std::hypot(double(dab.firstDx) + i, 3.0);
                const double t = std::clamp((18.0 - d) / 12.0, 0.0, 1.0);
                const double s = 3 * t * t - 2 * t * t * t;
                const double expected =
                    i < n ? 1000 + (65535.0 - 1000) * double(dab.flow) * s : 1000;
                QVERIFY(std::abs(build[size_t(i)] - expected) <= 1.0);
            }
        }
    }

    void positionsAreQuantised()
    {
        const StrokePoint p = quantised({1.03F, 2.97F, 1.7F});
        QCOMPARE(p, (StrokePoint{1.0F, 3.0F, 1.0F}));
        QCOMPARE(quantised(p), p);
    }
};

BUTTONHOLE_TEST(TstStroke)

#include "tst_stroke.moc"
