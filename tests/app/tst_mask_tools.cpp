#include "check/check_column.h"
#include "keeps_fixture.h"
#include "mask/colour_window.h"
#include "mask/fade_step.h"
#include "mask/match_step.h"
#include "mask/outline_step.h"
#include "mask/tone_window.h"
#include "registry.h"

#include <QComboBox>
#include <QToolButton>

#include <cmath>

using namespace buttonhole;

/// Tools that shape a mask, by mouse and keys.
class TstMaskTools : public test::KeepsFixture
{
    Q_OBJECT

private Q_SLOTS:
    void init() { openWashingLine(); }
    void cleanup() { m_driver.reset(); }

    void aColourWindowIsPickedOffThePicture()
    {
        const QPointF cloth = clothPlace();
        QCOMPARE(colour(cloth.x(), cloth.y()), 0);
        m_driver->key(Qt::Key_5);
        QCOMPARE(m_driver->window().toolbox().current().kind(), std::string("colour-window"));
        click(cloth.x(), cloth.y());
        QCOMPARE(take().keeps[0].steps.size(), size_t(1));
        QVERIFY(colour(cloth.x(), cloth.y()) > 40);
        const float width = shape<ColourWindowStep>().window().range.hueWidthDeg;
        // A second pick goes into the same step; one with Ctrl leaves its colour out.
        click(20, 20);
        QCOMPARE(take().keeps[0].steps.size(), size_t(1));
        QVERIFY(shape<ColourWindowStep>().window().range.hueWidthDeg >= width);
        click(cloth.x(), cloth.y(), Qt::ControlModifier);
        QCOMPARE(shape<ColourWindowStep>().window().excluded.size(), size_t(1));
        QCOMPARE(colour(cloth.x(), cloth.y()), 0);
        m_driver->key(Qt::Key_Z, Qt::ControlModifier);
        QVERIFY(colour(cloth.x(), cloth.y()) > 40);
        // Its numbers stay changeable.
        slider("Least chroma")->setFocus();
        QTest::keyClick(slider("Least chroma"), Qt::Key_End);
        QCOMPARE(shape<ColourWindowStep>().window().range.chroma.least, 0.4F);
        QCOMPARE(colour(cloth.x(), cloth.y()), 0);
    }

    void anAreaGivesItsSpread()
    {
        const QPointF cloth = clothPlace();
        m_driver->key(Qt::Key_5);
        m_driver->paint({cloth - QPointF(40, 40), cloth, cloth + QPointF(40, 40)});
        QVERIFY(colour(cloth.x(), cloth.y()) > 40);
        QVERIFY(shape<ColourWindowStep>().window().followsShading);
    }

    void matchReachesFurtherByDragging()
    {
        const QPointF cloth = clothPlace();
        m_driver->key(Qt::Key_4);
        click(cloth.x(), cloth.y());
        const float first = shape<MatchStep>().match().reach;
        QVERIFY(colour(cloth.x(), cloth.y()) > 40);
        m_driver->key(Qt::Key_Z, Qt::ControlModifier);
        m_driver->paint({cloth, cloth + QPointF(150, 0), cloth + QPointF(300, 0)});
        QVERIFY(shape<MatchStep>().match().reach > 1.5F * first);
        QCOMPARE(take().keeps[0].steps.size(), size_t(1));
        // Esc in the middle of it leaves nothing.
        const QPoint at = m_driver->at(cloth.x(), cloth.y());
        QTest::mousePress(&m_driver->canvas(), Qt::LeftButton, Qt::ControlModifier, at);
        QCOMPARE(shape<MatchStep>().match().clicks.size(), size_t(2));
        QTest::keyClick(&m_driver->canvas(), Qt::Key_Escape);
        QTest::mouseRelease(&m_driver->canvas(), Qt::LeftButton, {}, at);
        QCOMPARE(shape<MatchStep>().match().clicks.size(), size_t(1));
        // A click with Ctrl leaves a colour out of the same step.
        click(900, 60, Qt::ControlModifier);
        QCOMPARE(take().keeps[0].steps.size(), size_t(1));
        QVERIFY(shape<MatchStep>().match().clicks.back().isLeft);
    }

    void aToneWindowTakesLightParts()
    {
        m_driver->key(Qt::Key_6);
        click(900, 60); // the sky
        const SoftRange tones = shape<ToneWindowStep>().lightness();
        QVERIFY(tones.least > 0.3F && tones.most > tones.least);
        slider("Darkest")->setFocus();
        QTest::keyClick(slider("Darkest"), Qt::Key_Home);
        QCOMPARE(shape<ToneWindowStep>().lightness().least, 0.0F);
    }

    void aFadesHandlesMove()
    {
        m_driver->key(Qt::Key_7);
        m_driver->paint({{400, 300}, {600, 300}, {900, 300}});
        const Fade first = shape<FadeStep>().fade();
        QVERIFY(std::abs(first.from.x - 400) < 4 && std::abs(first.to.x - 900) < 4);
        m_driver->paint({{first.to.x, first.to.y}, {1100, 350}, {1300, 400}});
        QCOMPARE(take().keeps[0].steps.size(), size_t(1));
        QVERIFY(std::abs(shape<FadeStep>().fade().to.x - 1300) < 4);
        QCOMPARE(shape<FadeStep>().fade().from, first.from);
        // Elsewhere a new one begins.
        m_driver->paint({{200, 900}, {300, 900}, {500, 900}});
        QCOMPARE(take().keeps[0].steps.size(), size_t(2));
    }

    void aColourWindowIsMadeAndDraggedInTheColourField()
    {
        auto &field = m_driver->window().checkColumn().colourField();
        QVERIFY(QTest::qWaitFor([&] { return field.hasField(); }, 5000));
        const QPointF cloth = clothPlace();
        const PixelReading magenta =
            readPixel(*m_driver->session().levels(), int(cloth.x()), int(cloth.y()));
        const auto drag = [&](const QPointF &from, const QPointF &to) {
            QTest::mousePress(&field, Qt::LeftButton, {}, from.toPoint());
            QMouseEvent move(QEvent::MouseMove, to, field.mapToGlobal(to), Qt::NoButton,
                             Qt::LeftButton, Qt::NoModifier);
            QCoreApplication::sendEvent(&field, &move);
            QTest::mouseRelease(&field, Qt::LeftButton, {}, to.toPoint());
        };
        // A drag across its hues keeps the cloth, as one entry to undo.
        drag(field.placeOf(magenta.hueDeg - 20, 0.5), field.placeOf(magenta.hueDeg + 20, 0.5));
        const auto window = [&] { return shape<ColourWindowStep>().window(); };
        QVERIFY(std::abs(window().range.hueWidthDeg - 40) < 5);
        QVERIFY(std::abs(window().range.hueDeg - float(magenta.hueDeg)) < 5);
        QVERIFY(colour(cloth.x(), cloth.y()) > 40);
        QCOMPARE(take().keeps[0].steps.size(), size_t(1));
        // Its middle moves it away and back, a side changes the width, the bar the chroma.
        drag(field.placeOf(magenta.hueDeg, 0.5), field.placeOf(magenta.hueDeg - 120, 0.5));
        QCOMPARE(colour(cloth.x(), cloth.y()), 0);
        m_driver->key(Qt::Key_Z, Qt::ControlModifier);
        QVERIFY(colour(cloth.x(), cloth.y()) > 40);
        const double right =
            std::fmod(double(window().range.hueDeg + window().range.hueWidthDeg / 2), 360);
        drag(field.placeOf(right, 0.5), field.placeOf(right + 10, 0.5));
        QVERIFY(std::abs(window().range.hueWidthDeg - 50) < 6);
        drag(field.placeOfChroma(0.04), field.placeOfChroma(0.4));
        QVERIFY(window().range.chroma.least > 0.38F);
        QCOMPARE(colour(cloth.x(), cloth.y()), 0);
    }

    void anOutlineIsClickedDrawnAndReshaped()
    {
        const QPointF cloth = clothPlace();
        const auto corner = [&](double x, double y) { click(cloth.x() + x, cloth.y() + y); };
        m_driver->key(Qt::Key_3);
        corner(-100, -100);
        corner(100, -100);
        corner(100, 100);
        corner(-100, 100);
        QCOMPARE(take().keeps[0].steps.size(), size_t(0)); // not closed yet
        corner(-100, -100);
        QCOMPARE(shape<OutlineStep>().outlines()[0].size(), size_t(4));
        QVERIFY(colour(cloth.x(), cloth.y()) > 40);
        QCOMPARE(colour(cloth.x() + 130, cloth.y()), 0);
        // A corner is moved, a point put onto the line, and taken out again with Ctrl.
        m_driver->paint(
            {cloth + QPointF(100, 100), cloth + QPointF(150, 150), cloth + QPointF(200, 200)});
        QVERIFY(colour(cloth.x() + 120, cloth.y() + 120) > 40);
        corner(0, -100);
        QCOMPARE(shape<OutlineStep>().outlines()[0].size(), size_t(5));
        click(cloth.x(), cloth.y() - 100, Qt::ControlModifier);
        QCOMPARE(shape<OutlineStep>().outlines()[0].size(), size_t(4));
        // With Shift a corner is pulled into a curve, and clicked it is one again.
        const double above = cloth.y() - 145;
        QCOMPARE(colour(cloth.x(), above), 0);
        const QPointF first = cloth - QPointF(100, 100);
        m_driver->paint({first, first + QPointF(80, -80), first + QPointF(150, -150)},
                        Qt::ShiftModifier);
        QVERIFY(shape<OutlineStep>().outlines()[0][0].out.x > 100);
        QVERIFY(colour(cloth.x(), above) > 40);
        click(first.x(), first.y(), Qt::ShiftModifier);
        QCOMPARE(shape<OutlineStep>().outlines()[0][0].out, PhotoPoint{});
        QCOMPARE(colour(cloth.x(), above), 0);
        // A second line inside it is a hole, closed by Return.
        corner(-40, -40);
        corner(40, -40);
        corner(0, 40);
        QTest::keyClick(&m_driver->canvas(), Qt::Key_Return);
        QCOMPARE(shape<OutlineStep>().outlines().size(), size_t(2));
        QCOMPARE(colour(cloth.x(), cloth.y() - 10), 0);
        // Esc drops what is not closed; freehand closes by itself.
        corner(-300, 0);
        QTest::keyClick(&m_driver->canvas(), Qt::Key_Escape);
        m_driver->window().toolbox().the<app::OutlineTool>().setWay(
            app::OutlineTool::Way::Freehand);
        QList<QPointF> round;
        for (int i = 0; i <= 24; ++i)
            round.append(QPointF(500 + 150 * std::cos(i * 0.26), 300 + 150 * std::sin(i * 0.26)));
        m_driver->paint(round);
        QCOMPARE(shape<OutlineStep>().outlines().size(), size_t(3));
        QVERIFY(shape<OutlineStep>().outlines()[2].size() < 25);
        // A point that is pulled becomes smooth.
        m_driver->window().toolbox().the<app::OutlineTool>().setWay(app::OutlineTool::Way::Points);
        m_driver->session().select(keepLine(0));
        m_driver->paint({{1500, 900}, {1560, 900}, {1600, 900}});
        corner(500, 500);
        corner(300, 520);
        QTest::keyClick(&m_driver->canvas(), Qt::Key_Return);
        QVERIFY(shape<OutlineStep>().outlines()[0][0].out.x > 60);
    }

    void anOutlineHugsEdgesBetweenClicks()
    {
        auto &outline = m_driver->window().toolbox().the<app::OutlineTool>();
        m_driver->key(Qt::Key_3);
        for (auto *button : m_driver->window().findChildren<QToolButton *>())
            if (button->text() == QStringLiteral("hug edges"))
                button->click();
        QVERIFY(outline.way() == app::OutlineTool::Way::Hugging);
        // The corners of the magenta cloth; its sides bend between them.
        for (const QPointF &corner :
             {QPointF(622, 372), QPointF(1308, 370), QPointF(1215, 1300), QPointF(725, 1310)}) {
            click(corner.x(), corner.y());
            QVERIFY(QTest::qWaitFor([&] { return outline.isHugging(); }, 5000));
        }
        QTest::keyClick(&m_driver->canvas(), Qt::Key_Return);
        const Outline &line = shape<OutlineStep>().outlines()[0];
        QVERIFY(line.size() > 12);
        // A straight line from corner to corner would pass outside of this bend.
        const QImage matte(test::demo("washing-line.magenta-cloth.matte.png"));
        const auto mask = test::maskOf(take().keeps[0], {0, 800, 1000, 801});
        int edge = 0;
        while (qGray(matte.pixel(edge, 800)) < 128)
            ++edge;
        int found = 0;
        while (mask[size_t(found)] < 32768)
            ++found;
        QVERIFY2(std::abs(found - edge) <= 6,
                 qPrintable(QStringLiteral("%1 is not %2").arg(found).arg(edge)));
    }

    /// Closed at once, while the edges round its last point are still being looked at.
    void aLookThatComesAfterTheLineIsClosedDoesNotCount()
    {
        auto &outline = m_driver->window().toolbox().the<app::OutlineTool>();
        m_driver->key(Qt::Key_3);
        outline.setWay(app::OutlineTool::Way::Hugging);
        for (const QPointF &corner : {QPointF(622, 372), QPointF(1308, 370), QPointF(1215, 1300)})
            click(corner.x(), corner.y());
        QTest::keyClick(&m_driver->canvas(), Qt::Key_Return);
        QCOMPARE(shape<OutlineStep>().outlines().size(), size_t(1));
        QTRY_VERIFY(m_driver->window().jobs().isIdle());
        QVERIFY(!outline.isHugging());
    }

    void aBrushPaintsOnTopOfAWindow()
    {
        const QPointF cloth = clothPlace();
        m_driver->key(Qt::Key_5);
        click(cloth.x(), cloth.y());
        m_driver->key(Qt::Key_1);
        m_driver->key(Qt::Key_S);
        m_driver->window().brush().setTip({80, 0, 1, 1, PressureSteers::Nothing});
        m_driver->paint({cloth, cloth + QPointF(1, 1)});
        QCOMPARE(take().keeps[0].steps.size(), size_t(2));
        QCOMPARE(take().keeps[0].steps[1].shape->kind(), std::string("brush"));
        QCOMPARE(colour(cloth.x(), cloth.y()), 0);
        // Selecting the window takes its tool up again.
        m_driver->session().select(stepLine(0, 0));
        QCOMPARE(m_driver->window().toolbox().current().kind(), std::string("colour-window"));
    }

    void aBrushActsInsideAStepAndSpecksAreDropped()
    {
        const QPointF cloth = clothPlace();
        m_driver->key(Qt::Key_5);
        click(cloth.x(), cloth.y());
        m_driver->key(Qt::Key_1);
        m_driver->window().brush().setTip({60, 0, 1, 1, PressureSteers::Nothing});
        // Grass and sky hold no cloth: painted there, the brush brings colour until it is held.
        const QPointF grass(200, 1450);
        m_driver->paint({grass, grass + QPointF(1, 1)});
        QCOMPARE(take().keeps[0].steps.size(), size_t(2));
        m_driver->session().select(stepLine(0, 1));
        QVERIFY(colour(grass.x(), grass.y()) > 8);
        auto *acts = m_driver->window().findChild<QComboBox *>(QStringLiteral("limit"));
        QVERIFY(acts && acts->isVisible());
        QCOMPARE(acts->count(), 3);
        acts->setFocus();
        QTest::keyClick(acts, Qt::Key_End);
        QCOMPARE(step().insideOf, take().keeps[0].steps[0].id);
        QVERIFY(colour(grass.x(), grass.y()) <= 2);
        QVERIFY(colour(cloth.x(), cloth.y()) > 20);
        m_driver->key(Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(step().insideOf, Step::kAnywhere);
        QVERIFY(colour(grass.x(), grass.y()) > 8);
        // A dab of 60 px is a speck to who drops all up to 200.
        m_driver->session().select(keepLine(0));
        slider("Drop specks")->setFocus();
        QTest::keyClick(slider("Drop specks"), Qt::Key_End);
        QCOMPARE(take().keeps[0].specksPx, 200.0F);
        QVERIFY(colour(grass.x(), grass.y()) <= 2);
        QVERIFY(colour(cloth.x(), cloth.y()) > 20);
    }
};

BUTTONHOLE_TEST(TstMaskTools)

#include "tst_mask_tools.moc"
