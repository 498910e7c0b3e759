#include "canvas/stitch.h"
#include "check/check_column.h"
#include "mask/colour_window.h"
#include "mask/fade_step.h"
#include "mask/match_step.h"
#include "mask/outline_step.h"
#include "mask/tone_window.h"
#include "registry.h"
#include "ticket/ticket.h"
#include "tools/tray.h"
#include "window_driver.h"

#include "controls/slider.h"

#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QMenu>
#include <QProcess>
#include <QTemporaryDir>
#include <QToolButton>

using namespace buttonhole;
using test::WindowDriver;

class TstKeeps : public QObject
{
    Q_OBJECT

    QTemporaryDir m_folder;
    std::unique_ptr<WindowDriver> m_driver;

    const Take &take() const { return *m_driver->session().take(); }
    const Step &step() const { return *m_driver->session().step(); }

    void click(double x, double y, Qt::KeyboardModifiers modifiers = Qt::NoModifier)
    {
        QTest::mouseMove(&m_driver->canvas(), m_driver->at(x, y));
        QTest::mouseClick(&m_driver->canvas(), Qt::LeftButton, modifiers, m_driver->at(x, y));
    }
    template <class Shape>
    const Shape &shape() const
    {
        const auto *found = dynamic_cast<const Shape *>(step().shape.get());
        if (!found)
            qFatal("another kind is selected");
        return *found;
    }
    app::Slider *slider(const char *name) const
    {
        for (auto *each : m_driver->window().findChildren<app::Slider *>())
            if (each->accessibleName() == QLatin1String(name) && each->isVisible())
                return each;
        qFatal("no slider %s", name);
    }
    app::TicketRow *row(const app::TicketLine &line) const
    {
        for (app::TicketRow *each : m_driver->window().ticket().rows())
            if (each->content().line == line)
                return each;
        return nullptr;
    }
    /// How much colour is at a place: 0 for grey.
    int colour(double x, double y)
    {
        m_driver->settle();
        return test::colourfulness(m_driver->colourAt(x, y));
    }
    app::TicketLine stepLine(size_t keep, size_t index) const
    {
        return {app::TicketLine::Kind::Step, take().keeps[keep].id,
                take().keeps[keep].steps[index].id};
    }
    app::TicketLine keepLine(size_t keep) const
    {
        return {app::TicketLine::Kind::Keep, take().keeps[keep].id};
    }

private Q_SLOTS:
    void init()
    {
        QDir(m_folder.path()).removeRecursively();
        QDir().mkpath(m_folder.path());
        m_driver = std::make_unique<WindowDriver>(m_folder.path());
        QVERIFY(m_driver->open(test::demo("washing-line.jpg")));
        m_driver->settle();
    }
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

    void aKeepsPictureShowsOnlyWhatItKeeps()
    {
        const QPointF cloth = clothPlace();
        const auto picture = [&]() -> const QLabel * {
            for (const auto *each : m_driver->window().findChildren<QLabel *>())
                if (each->accessibleName() == QStringLiteral("Picture of the keep"))
                    return each;
            return nullptr;
        };
        QVERIFY(picture() && !picture()->isVisible());
        m_driver->key(Qt::Key_5);
        click(cloth.x(), cloth.y());
        m_driver->session().select(keepLine(0));
        QVERIFY(QTest::qWaitFor([&] { return picture()->isVisible(); }, 5000));
        const QImage shown = picture()->pixmap().toImage();
        const auto at = [&](double x, double y) {
            return test::colourfulness(
                shown.pixelColor(int(x / 2400 * shown.width()), int(y / 1600 * shown.height())));
        };
        QVERIFY(at(cloth.x(), cloth.y()) > 60);
        QVERIFY(at(1650, 750) <= 4); // the blue cloth is not of this keep
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
        m_driver->window().toolbox().outline().setWay(app::OutlineTool::Way::Freehand);
        QList<QPointF> round;
        for (int i = 0; i <= 24; ++i)
            round.append(QPointF(500 + 150 * std::cos(i * 0.26), 300 + 150 * std::sin(i * 0.26)));
        m_driver->paint(round);
        QCOMPARE(shape<OutlineStep>().outlines().size(), size_t(3));
        QVERIFY(shape<OutlineStep>().outlines()[2].size() < 25);
        // A point that is pulled becomes smooth.
        m_driver->window().toolbox().outline().setWay(app::OutlineTool::Way::Points);
        m_driver->session().select(keepLine(0));
        m_driver->paint({{1500, 900}, {1560, 900}, {1600, 900}});
        corner(500, 500);
        corner(300, 520);
        QTest::keyClick(&m_driver->canvas(), Qt::Key_Return);
        QVERIFY(shape<OutlineStep>().outlines()[0][0].out.x > 60);
    }

    void anOutlineHugsEdgesBetweenClicks()
    {
        auto &outline = m_driver->window().toolbox().outline();
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
            QTest::qWait(300);
            m_driver->settle();
            return m_driver->canvas().grab().toImage();
        };
        QVERIFY(withStrength(0.5F) != painted);
        const QImage anew = withStrength(1);
        int differing = 0;
        for (int y = 0; y < anew.height(); ++y)
            for (int x = 0; x < anew.width(); ++x)
                differing += painted.pixel(x, y) != anew.pixel(x, y) ? 1 : 0;
        QCOMPARE(differing, 0);
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
                                   m_driver->canvas().size(), 1, cache);
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
            if (box->text() == QStringLiteral("Soft edge by sharpness"))
                found = box;
        QVERIFY(found && found->isVisible() && !found->isChecked());
        QTest::mouseClick(found, Qt::LeftButton, {}, {8, found->height() / 2});
        QVERIFY(take().keeps[0].softEdgeFound);
        QVERIFY(found->isChecked() && !slider("Soft edge")->isEnabled());
        m_driver->key(Qt::Key_Z, Qt::ControlModifier);
        QVERIFY(!take().keeps[0].softEdgeFound && slider("Soft edge")->isEnabled());
    }

    void aKeepGrowsFeathersAndLooks()
    {
        m_driver->window().brush().setTip({200, 0, 1, 1, PressureSteers::Nothing});
        const QPointF cloth = clothPlace();
        m_driver->paint({cloth, cloth + QPointF(1, 1)});
        m_driver->session().select(keepLine(0));
        const QPointF beside = cloth + QPointF(125, 0);
        QCOMPARE(colour(beside.x(), beside.y()), 0);
        m_driver->session().edit(QStringLiteral("grow"), withKeep(take(), take().keeps[0].id,
                                                                  [](Keep &k) { k.growPx = 50; }));
        QVERIFY(colour(beside.x(), beside.y()) > 30);
        QVERIFY(std::abs(slider("Grow")->amount() - 50) < 0.1);
        slider("Saturation")->setFocus();
        QTest::keyClick(slider("Saturation"), Qt::Key_Home);
        QCOMPARE(take().keeps[0].look.saturation, 0.0F);
        QVERIFY(colour(cloth.x(), cloth.y()) <= 2);
        // A stroke near its edge shows through growing, too.
        m_driver->key(Qt::Key_Z, Qt::ControlModifier);
        m_driver->window().brush().setTip({40, 0, 1, 1, PressureSteers::Nothing});
        const QPointF far = cloth + QPointF(0, -260);
        m_driver->paint({far, far + QPointF(1, 0)});
        QVERIFY(colour(far.x(), far.y() + 60) > 5);
    }

    void linesAreDuplicatedMovedCopiedAndDeleted()
    {
        const QPointF cloth = clothPlace();
        m_driver->key(Qt::Key_5);
        click(cloth.x(), cloth.y());
        m_driver->key(Qt::Key_D, Qt::ControlModifier);
        QCOMPARE(take().keeps[0].steps.size(), size_t(2));
        const uint64_t second = take().keeps[0].steps[1].id;
        QCOMPARE(step().id, second);
        m_driver->key(Qt::Key_Up, Qt::AltModifier | Qt::ShiftModifier);
        QCOMPARE(take().keeps[0].steps[0].id, second);
        // A copy in a keep of its own.
        m_driver->window().actions()["copy-step"]->trigger();
        auto *menu = m_driver->window().findChild<QMenu *>(QStringLiteral("copyStep"));
        QVERIFY(menu);
        menu->actions().last()->trigger();
        menu->close();
        QCOMPARE(take().keeps.size(), size_t(2));
        QCOMPARE(take().keeps[1].steps.size(), size_t(1));
        m_driver->session().select(keepLine(1));
        m_driver->key(Qt::Key_Up, Qt::AltModifier | Qt::ShiftModifier);
        QCOMPARE(take().keeps[0].steps.size(), size_t(1));
        m_driver->key(Qt::Key_Delete);
        QCOMPARE(take().keeps.size(), size_t(1));
        QCOMPARE(take().keeps[0].steps.size(), size_t(2));
        m_driver->key(Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(take().keeps.size(), size_t(2));
    }

    void aKeepIsClearedInOneMoveAndComesBackInOne()
    {
        const QPointF cloth = clothPlace();
        m_driver->key(Qt::Key_5);
        click(cloth.x(), cloth.y());
        m_driver->key(Qt::Key_D, Qt::ControlModifier);
        m_driver->session().select(keepLine(0));
        m_driver->key(Qt::Key_K, Qt::ControlModifier | Qt::ShiftModifier); // everything but this
        const Keep before = take().keeps[0];
        QVERIFY(before.invert);
        m_driver->settle();
        m_driver->key(Qt::Key_Backspace, Qt::ControlModifier);
        QVERIFY(take().keeps[0].steps.empty());
        QCOMPARE(take().keeps[0].id, before.id);
        m_driver->settle();
        QVERIFY(colour(cloth.x(), cloth.y()) < 5);
        m_driver->settle();
        QVERIFY(colour(50, 50) < 5); // grey all over, not all in colour
        m_driver->key(Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(take().keeps[0].steps.size(), before.steps.size());
        QVERIFY(take().keeps[0].invert);
        m_driver->settle();
        QVERIFY(colour(cloth.x(), cloth.y()) < 5);
        QVERIFY(colour(50, 50) > 5);
    }

    void aStepIsTurnedIntoEverythingButIt()
    {
        const QPointF cloth = clothPlace();
        m_driver->key(Qt::Key_5);
        click(cloth.x(), cloth.y());
        m_driver->settle();
        QVERIFY(colour(cloth.x(), cloth.y()) > 60);
        m_driver->key(Qt::Key_K, Qt::ControlModifier | Qt::ShiftModifier);
        QVERIFY(step().invert && !take().keeps[0].invert);
        m_driver->settle();
        QVERIFY(colour(cloth.x(), cloth.y()) < 5);
        QVERIFY(colour(1650, 750) > 60); // the blue cloth
        auto &window = m_driver->window();
        QCOMPARE(row(stepLine(0, 0))->content().name, QStringLiteral("All but colour window"));
        // Painting the cloth is another step: a stroke into this one would take away.
        m_driver->key(Qt::Key_1);
        m_driver->paint({cloth, cloth + QPointF(5, 0)});
        m_driver->settle();
        QCOMPARE(take().keeps[0].steps.size(), size_t(2));
        QVERIFY(colour(cloth.x(), cloth.y()) > 60);
        m_driver->session().select(stepLine(0, 0));
        for (auto *box : window.findChildren<QCheckBox *>())
            if (box->isVisible() && box->text() == QStringLiteral("Everything but this"))
                QTest::mouseClick(box, Qt::LeftButton, {}, QPoint(8, box->height() / 2));
        QVERIFY(!take().keeps[0].steps[0].invert);
        m_driver->key(Qt::Key_Z, Qt::ControlModifier);
        QVERIFY(take().keeps[0].steps[0].invert);
    }

    void theTicketsMenuActsOnTheLineUnderThePointer()
    {
        const QPointF cloth = clothPlace();
        m_driver->key(Qt::Key_5);
        click(cloth.x(), cloth.y());
        m_driver->key(Qt::Key_K, Qt::ControlModifier);
        const auto menuOf = [&](app::TicketRow *row) -> QMenu * {
            const QPoint at = row->rect().center();
            QContextMenuEvent event(QContextMenuEvent::Mouse, at, row->mapToGlobal(at));
            QCoreApplication::sendEvent(row, &event);
            return m_driver->window().findChild<QMenu *>(QStringLiteral("lineMenu"));
        };
        QVERIFY(!menuOf(row({app::TicketLine::Kind::Grey})));
        QMenu *menu = menuOf(row(stepLine(0, 0)));
        QVERIFY(menu);
        QVERIFY(m_driver->session().line() == stepLine(0, 0));
        menu->actions().first()->trigger(); // a second one
        menu->close();
        QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
        QCOMPARE(take().keeps[0].steps.size(), size_t(2));
        menu = menuOf(row(keepLine(1)));
        QVERIFY(menu);
        menu->actions().last()->trigger();
        menu->close();
        QCOMPARE(take().keeps.size(), size_t(1));
    }

    void stepsAreDraggedInTheTicket()
    {
        const QPointF cloth = clothPlace();
        m_driver->key(Qt::Key_5);
        click(cloth.x(), cloth.y());
        m_driver->key(Qt::Key_D, Qt::ControlModifier);
        m_driver->key(Qt::Key_K, Qt::ControlModifier);
        QCOMPARE(take().keeps.size(), size_t(2));
        const app::TicketLine dragged = stepLine(0, 0);
        app::TicketRow *from = row(dragged);
        const QPoint target =
            from->mapFrom(&m_driver->window().ticket(), row(keepLine(1))->geometry().center()) +
            QPoint(0, 12);
        QTest::mousePress(from, Qt::LeftButton, {}, from->rect().center());
        QTest::mouseMove(from, from->rect().center() + QPoint(0, 20));
        QTest::mouseMove(from, target);
        QTest::mouseRelease(from, Qt::LeftButton, {}, target);
        QCOMPARE(take().keeps[0].steps.size(), size_t(1));
        QCOMPARE(take().keeps[1].steps.size(), size_t(1));
        QCOMPARE(take().keeps[1].steps[0].id, dragged.stepId);
    }

    void everyStepIsSavedAndRendersInTheCommandLine()
    {
        const QPointF cloth = clothPlace();
        m_driver->key(Qt::Key_5);
        click(cloth.x(), cloth.y());
        m_driver->key(Qt::Key_7);
        m_driver->key(Qt::Key_D);
        m_driver->paint({{cloth.x(), 100}, {cloth.x(), 600}, {cloth.x(), 1100}});
        m_driver->session().edit(QStringLiteral("feather"),
                                 withKeep(take(), take().keeps[0].id, [](Keep &k) {
                                     k.featherPx = 12;
                                     k.look.hueShiftDeg = 40;
                                 }));
        const QString file = m_folder.filePath(QStringLiteral("line.buttonhole"));
        const QString picture = m_folder.filePath(QStringLiteral("window.png"));
        const QString other = m_folder.filePath(QStringLiteral("cli.png"));
        QVERIFY(m_driver->save(file));
        ExportSettings settings;
        settings.format = ExportSettings::Format::Png;
        QVERIFY(m_driver->exportTo(picture, settings));
        QProcess cli;
        cli.start(QStringLiteral(BUTTONHOLE_CLI),
                  {QStringLiteral("render"), file, QStringLiteral("-o"), other});
        QVERIFY(cli.waitForFinished());
        QCOMPARE(cli.exitCode(), 0);
        const QImage a(picture);
        QVERIFY(!a.isNull());
        QCOMPARE(a, QImage(other));
        QVERIFY(m_driver->open(file));
        QCOMPARE(take().keeps[0].steps.size(), size_t(2));
        QCOMPARE(take().keeps[0].featherPx, 12.0F);
    }

private:
    /// The middle of the magenta cloth, by its matte.
    static QPointF clothPlace()
    {
        const QImage matte(test::demo("washing-line.magenta-cloth.matte.png"));
        double x = 0;
        double y = 0;
        double n = 0;
        for (int row = 0; row < matte.height(); row += 4)
            for (int column = 0; column < matte.width(); column += 4)
                if (qGray(matte.pixel(column, row)) > 200) {
                    x += column;
                    y += row;
                    ++n;
                }
        return {x / n, y / n};
    }
};

BUTTONHOLE_TEST(TstKeeps)

#include "tst_keeps.moc"
