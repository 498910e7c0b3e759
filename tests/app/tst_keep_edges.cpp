#include "canvas/stitch.h"
#include "check/pick_glass.h"
#include "keeps_fixture.h"
#include "registry.h"

#include <QCheckBox>

#include <cmath>

using namespace buttonhole;

/// A keep's edge: found in the photo, fuzz, spill, and how it is shown.
class TstKeepEdges : public test::KeepsFixture
{
    Q_OBJECT

private Q_SLOTS:
    void init() { openWashingLine(); }
    void cleanup() { m_driver.reset(); }

    /// While painting, the soft edge waits; afterwards the picture is as if rendered anew.
    void aSoftEdgeFollowsTheStroke()
    {
        m_driver->canvas().restoreView(1, {720, 700});
        m_driver->session().edit(QStringLiteral("soft"),
                                 withKeep(take(), take().keeps[0].id, [](Keep &k) {
                                     k.softEdgePx = 12;
                                     k.spill = 1;
                                 }));
        m_driver->settle();
        m_driver->window().brush().setTip({60, 0, 1, 1, PressureSteers::Nothing});
        // Along the cloth's left edge, then on the grass beside it.
        m_driver->paint({{700, 560}, {700, 600}});
        m_driver->settle();
        m_driver->paint({{640, 740}, {620, 760}, {640, 780}});
        m_driver->settle();
        QVERIFY(colour(712, 580) > 20);
        const QImage painted = m_driver->canvas().grab().toImage();
        const auto withStrength = [&](float strength) {
            m_driver->session().edit(
                QStringLiteral("strength"),
                withKeep(take(), take().keeps[0].id, [&](Keep &k) { k.strength = strength; }));
            m_driver->settle();
            return m_driver->canvas().grab().toImage();
        };
        QVERIFY(withStrength(0.5F) != painted);
        QCOMPARE(withStrength(1), painted);
    }

    /// With the pointer at the bench the glass shows the edge that its sliders change.
    void theGlassRestsAtTheEdge()
    {
        m_driver->window().brush().setTip({60, 0, 1, 1, PressureSteers::Nothing});
        m_driver->paint({{700, 560}, {700, 640}});
        m_driver->settle();
        auto *glass = m_driver->window().findChild<app::PickGlass *>();
        QVERIFY(glass);
        QEvent leave(QEvent::Leave);
        QCoreApplication::sendEvent(&m_driver->canvas(), &leave);
        const auto hasEdge = [&] { // grey and colour within it
            const QImage seen = glass->picture();
            int grey = 0;
            int coloured = 0;
            for (int y = 0; y < seen.height(); ++y)
                for (int x = 0; x < seen.width(); ++x)
                    (test::colourfulness(seen.pixelColor(x, y)) == 0 ? grey : coloured) += 1;
            return grey > 200 && coloured > 200;
        };
        QVERIFY(m_driver->canvas().edge());
        QVERIFY(hasEdge());
        Take next = take();
        next.keeps[0].growPx = 100; // the edge goes far, and the glass with it
        m_driver->session().edit(QStringLiteral("Grow"), next);
        m_driver->settle();
        QTRY_VERIFY(QLineF({700, 640}, *m_driver->canvas().edge()).length() > 100);
        QVERIFY(hasEdge());
    }

    /// The stitch reads masks that the canvas has: never those of before a change.
    void theStitchIsOfTheMaskAsItIs()
    {
        m_driver->canvas().restoreView(1, {720, 700});
        m_driver->window().brush().setTip({60, 0, 1, 1, PressureSteers::Nothing});
        m_driver->paint({{700, 560}, {700, 600}});
        const PhotoLevels &levels = *m_driver->session().levels();
        StageCache used;
        const auto stitch = [&](const Keep &k, StageCache &cache) {
            return app::drawStitch(levels, k, m_driver->canvas().transform(),
                                   m_driver->canvas().size(), 1, {720, 580}, cache)
                .image;
        };
        Keep changed = take().keeps[0];
        changed.softEdgePx = 12;
        const QImage before = stitch(changed, used);
        QVERIFY(!before.isNull());
        QCOMPARE(stitch(changed, used), before);
        changed.growPx = 5;
        StageCache fresh;
        const QImage after = stitch(changed, used);
        QVERIFY(after != before);
        QCOMPARE(after, stitch(changed, fresh));
        changed.strength = 0.3F; // a pale keep has the same edge
        QCOMPARE(stitch(changed, used), after);
    }

    /// Hair is marked with G: there, and only there, the soft edge reaches farther; erasing the
    /// mark with Ctrl, and undo, bring the edge back.
    void fuzzIsBrushedAlongTheEdge()
    {
        m_driver->canvas().restoreView(1, {720, 700});
        m_driver->window().brush().setTip({100, 0, 1, 1, PressureSteers::Nothing});
        m_driver->paint({{730, 520}, {730, 700}, {730, 900}}); // goes over the cloth's left edge
        m_driver->settle();
        const Rect marked{640, 640, 800, 760};
        const Rect beyond{640, 500, 800, 570};
        const auto maskIn = [&](const Rect &area) {
            const PhotoLevels &levels = *m_driver->session().levels();
            std::vector<uint16_t> mask(area.area());
            keepMask(levels, take().keeps[0], 0, area, mask.data());
            return mask;
        };
        m_driver->session().edit(
            QStringLiteral("soft"),
            withKeep(take(), take().keeps[0].id, [](Keep &k) { k.softEdgePx = 2; }));
        // A longer reach looks farther round about: sums of fractions round otherwise.
        const auto isLike = [](const std::vector<uint16_t> &one, const std::vector<uint16_t> &two) {
            return std::equal(one.begin(), one.end(), two.begin(), [](uint16_t a, uint16_t b) {
                return std::abs(int(a) - int(b)) < 64;
            });
        };
        const auto narrow = maskIn(marked);
        const auto narrowBeyond = maskIn(beyond);
        m_driver->key(Qt::Key_G);
        m_driver->window().brush().setTip({60, 0, 1, 1, PressureSteers::Nothing});
        m_driver->paint({{690, 700}, {691, 701}});
        m_driver->settle();
        QCOMPARE(take().keeps[0].steps.size(), size_t(2));
        QVERIFY(take().keeps[0].hasFuzz());
        QVERIFY(!isLike(maskIn(marked), narrow));
        QVERIFY(isLike(maskIn(beyond), narrowBeyond));
        m_driver->paint({{690, 700}, {691, 701}}, Qt::ControlModifier);
        m_driver->settle();
        QCOMPARE(take().keeps[0].steps.size(), size_t(2)); // taken out of the same step
        QVERIFY(isLike(maskIn(marked), narrow));
        m_driver->key(Qt::Key_Z, Qt::ControlModifier);
        QVERIFY(!isLike(maskIn(marked), narrow));
        m_driver->key(Qt::Key_Z, Qt::ControlModifier);
        QVERIFY(!take().keeps[0].hasFuzz());
        QVERIFY(isLike(maskIn(marked), narrow));
    }

    /// Spilt colour is marked with T: the stroke is seen while it is drawn, then does its work.
    void spilledColourIsBrushedAway()
    {
        m_driver->canvas().restoreView(1, {720, 700});
        m_driver->session().edit(QStringLiteral("all"), withKeep(take(), take().keeps[0].id,
                                                                 [](Keep &k) { k.invert = true; }));
        m_driver->settle();
        m_driver->window().brush().setTip({40, 0, 1, 1, PressureSteers::Nothing});
        m_driver->key(Qt::Key_T);
        // Grass round about, and the cloth's red edge on it.
        const QPointF edge(708, 700);
        const QColor before = m_driver->colourAt(edge.x(), edge.y());
        QTest::mousePress(&m_driver->canvas(), Qt::LeftButton, {},
                          m_driver->at(edge.x(), edge.y()));
        const QColor drawn = m_driver->colourAt(edge.x(), edge.y());
        QVERIFY(drawn.lightness() > before.lightness() + 20);
        QTest::mouseRelease(&m_driver->canvas(), Qt::LeftButton, {},
                            m_driver->at(edge.x(), edge.y()));
        m_driver->settle();
        QVERIFY(take().keeps[0].hasMarks(Sign::Spill));
        const QColor after = m_driver->colourAt(edge.x(), edge.y());
        QVERIFY2(after.hsvHue() != before.hsvHue() &&
                     std::abs(after.lightness() - before.lightness()) < 12,
                 qPrintable(before.name() + after.name()));
        m_driver->key(Qt::Key_Z, Qt::ControlModifier);
        m_driver->settle();
        QCOMPARE(m_driver->colourAt(edge.x(), edge.y()), before);
    }

    void theSoftEdgeIsFoundBySharpness()
    {
        m_driver->window().brush().setTip({200, 0, 1, 1, PressureSteers::Nothing});
        const QPointF cloth = clothPlace();
        m_driver->paint({cloth, cloth + QPointF(1, 1)});
        m_driver->session().select(keepLine(0));
        QCheckBox *found = nullptr;
        for (QCheckBox *box : m_driver->window().findChildren<QCheckBox *>())
            if (box->text() == QStringLiteral("Soft edge from the photo's own blur"))
                found = box;
        QVERIFY(found && found->isVisible() && !found->isChecked());
        QTest::mouseClick(found, Qt::LeftButton, {}, {8, found->height() / 2});
        QVERIFY(take().keeps[0].softEdgeFound);
        QVERIFY(found->isChecked() && !slider("Soft edge")->isEnabled());
        m_driver->key(Qt::Key_Z, Qt::ControlModifier);
        QVERIFY(!take().keeps[0].softEdgeFound && slider("Soft edge")->isEnabled());
    }
};

BUTTONHOLE_TEST(TstKeepEdges)

#include "tst_keep_edges.moc"
