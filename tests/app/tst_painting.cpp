#include "commands/step_words.h"
#include "mask/brush_step.h"
#include "ticket/ticket.h"
#include "window/main_window.h"

#include "registry.h"
#include "window_driver.h"

#include <QAction>
#include <QPointingDevice>
#include <QTabletEvent>
#include <QTemporaryDir>

using namespace buttonhole;
using namespace buttonhole::test;

/// Painting in the real window with mouse, pen and keys.
class TstPainting : public QObject
{
    Q_OBJECT
    std::unique_ptr<QTemporaryDir> m_folder;
    std::unique_ptr<WindowDriver> m_driver;

    const Keep &keep() { return m_driver->session().take()->keeps[0]; }
    uint16_t maskAt(int x, int y) { return maskOf(keep(), {x, y, x + 1, y + 1})[0]; }
    size_t steps() { return keep().steps.size(); }
    void setTip(float size, float softness = 0, float opacity = 1)
    {
        m_driver->window().brush().setTip({size, softness, 1, opacity, PressureSteers::Size});
    }

    void sendMouse(QEvent::Type type, const QPointF &photo, Qt::MouseButton button,
                   Qt::MouseButtons buttons, Qt::KeyboardModifiers modifiers = Qt::NoModifier)
    {
        const QPointF at = m_driver->at(photo.x(), photo.y());
        QMouseEvent event(type, at, m_driver->canvas().mapToGlobal(at), button, buttons, modifiers);
        QCoreApplication::sendEvent(&m_driver->canvas(), &event);
    }

    void sendPen(QEvent::Type type, const QPointF &photo, double pressure)
    {
        static const QPointingDevice pen(
            QStringLiteral("pen"), 77, QInputDevice::DeviceType::Stylus,
            QPointingDevice::PointerType::Pen,
            QInputDevice::Capability::Position | QInputDevice::Capability::Pressure, 1, 1);
        const QPointF at = m_driver->at(photo.x(), photo.y());
        QTabletEvent event(type, &pen, at, m_driver->canvas().mapToGlobal(at), pressure, 0, 0, 0, 0,
                           0, Qt::NoModifier, Qt::LeftButton,
                           type == QEvent::TabletRelease ? Qt::NoButton : Qt::LeftButton);
        QCoreApplication::sendEvent(&m_driver->canvas(), &event);
    }

private Q_SLOTS:
    void init()
    {
        m_folder = std::make_unique<QTemporaryDir>();
        m_driver = std::make_unique<WindowDriver>(m_folder->path());
        QVERIFY(m_driver->open(demo("spools.jpg")));
        setTip(120);
    }
    void cleanup() { m_driver.reset(); }

    void startsGreyWithOneSentence()
    {
        QVERIFY(colourfulness(m_driver->colourAt(1325, 830)) <= 2);
        QCOMPARE(m_driver->canvas().hint(),
                 QStringLiteral(
                     "Paint over what should stay in colour, or press 8 to look for subjects."));
        QCOMPARE(m_driver->session().take()->keeps.size(), size_t(1));
        QVERIFY(!m_driver->session().isUnsaved());
    }

    void colourAppearsWhilePainting()
    {
        const QImage before = m_driver->canvas().grab().toImage();
        sendMouse(QEvent::MouseButtonPress, {1325, 830}, Qt::LeftButton, Qt::LeftButton);
        // Before the button is up, in the same event: the brush never waits for a render.
        const QImage during = m_driver->canvas().grab().toImage();
        QVERIFY(colourfulness(during.pixelColor(m_driver->at(1325, 830))) > 60);
        // What was said of an empty keep would cover what is painted.
        QVERIFY(!m_driver->canvas().hint().isEmpty());
        const QPoint on(during.width() / 2, during.height() - 40);
        QVERIFY(before.pixelColor(on) != during.pixelColor(on));
        sendMouse(QEvent::MouseMove, {1325, 880}, Qt::NoButton, Qt::LeftButton);
        sendMouse(QEvent::MouseButtonRelease, {1325, 880}, Qt::LeftButton, Qt::NoButton);
        QVERIFY(colourfulness(m_driver->colourAt(1325, 870)) > 60);
        QVERIFY(colourfulness(m_driver->colourAt(300, 300)) <= 2);
        QVERIFY(m_driver->canvas().hint().isEmpty());
        QVERIFY(m_driver->session().isUnsaved());
    }

    void paintingIsExactToThePixelAtAnyZoom()
    {
        setTip(1);
        for (const double zoom : {0.25, 1.0, 3.0, 16.0}) {
            m_driver->canvas().restoreView(zoom, {1300, 800});
            const QPointF photo =
                m_driver->canvas().transform().toPhoto(m_driver->at(1310.5, 790.5));
            m_driver->paint({{1310.5, 790.5}});
            QCOMPARE(maskAt(int(std::floor(photo.x())), int(std::floor(photo.y()))),
                     uint16_t(65535));
            m_driver->window().session().undo();
        }
        const auto all = maskOf(keep(), m_driver->session().levels()->photo().rect());
        QCOMPARE(std::count_if(all.begin(), all.end(), [](uint16_t m) { return m > 0; }), 0);
    }

    void controlTakesBackAndSubtractIsAStep()
    {
        m_driver->paint({{1325, 770}, {1325, 890}});
        m_driver->paint({{1325, 830}}, Qt::ControlModifier);
        QCOMPARE(steps(), size_t(1));
        QCOMPARE(maskAt(1325, 830), uint16_t(0));
        QCOMPARE(maskAt(1325, 740), uint16_t(65535));
        m_driver->window().session().undo();
        m_driver->key(Qt::Key_S);
        m_driver->paint({{1325, 830}});
        QCOMPARE(steps(), size_t(2));
        QCOMPARE(keep().steps[1].sign, Sign::Subtract);
        QCOMPARE(maskAt(1325, 830), uint16_t(0));
        m_driver->key(Qt::Key_A);
        m_driver->paint({{1325, 830}});
        QCOMPARE(maskAt(1325, 830), uint16_t(65535));
    }

    void shiftDrawsAStraightStroke()
    {
        setTip(20);
        m_driver->paint({{600, 500}});
        m_driver->paint({{1000, 700}}, Qt::ShiftModifier);
        for (int i = 0; i <= 10; ++i)
            QCOMPARE(maskAt(600 + 40 * i, 500 + 20 * i), uint16_t(65535));
        QCOMPARE(maskAt(800, 560), uint16_t(0));
    }

    void partialOpacityLeavesPartialColour()
    {
        setTip(120, 0, 0.5F);
        m_driver->paint({{1325, 830}, {1325, 850}, {1325, 830}});
        QCOMPARE(maskAt(1325, 830), uint16_t(32768));
        const int half = colourfulness(m_driver->colourAt(1325, 830));
        setTip(120);
        m_driver->paint({{1325, 830}});
        QVERIFY(half > 20 && half < colourfulness(m_driver->colourAt(1325, 830)));
    }

    void onlyInsideKeepsTheOverlap()
    {
        m_driver->paint({{1325, 830}});
        m_driver->key(Qt::Key_D);
        setTip(40);
        m_driver->paint({{1325, 830}});
        QCOMPARE(maskAt(1325, 830), uint16_t(65535));
        QCOMPARE(maskAt(1325, 870), uint16_t(0));
        QVERIFY(colourfulness(m_driver->colourAt(1325, 875)) <= 2);
    }

    void aPenSteersTheSize()
    {
        sendPen(QEvent::TabletPress, {1325, 830}, 0.5);
        sendPen(QEvent::TabletRelease, {1325, 830}, 0);
        QCOMPARE(maskAt(1325, 850), uint16_t(65535));
        QCOMPARE(maskAt(1325, 875), uint16_t(0));
        QCOMPARE(m_driver->session().history().entries().size(), size_t(2));
    }

    void aLongStrokeIsTakenBackInPieces()
    {
        app::BrushTool &brush = m_driver->window().brush();
        setTip(60);
        brush.press({{400, 800, 1}, false, false, 0});
        for (int i = 1; i <= 50; ++i)
            brush.move({{float(400 + i * 20), 800, 1}, false, false, i * 100});
        brush.release();
        const auto &history = m_driver->session().history();
        QCOMPARE(history.entries().size(), size_t(4)); // opened, two pieces of 2 s, the rest
        QCOMPARE(steps(), size_t(1));
        QCOMPARE(app::summaryOf(*keep().steps[0].shape), QStringLiteral("1 stroke"));
        m_driver->key(Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(maskAt(1390, 800), uint16_t(0));
        QCOMPARE(maskAt(1000, 800), uint16_t(65535));
        m_driver->key(Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(maskAt(1000, 800), uint16_t(0));
        QCOMPARE(maskAt(500, 800), uint16_t(65535));
        m_driver->key(Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
        QCOMPARE(maskAt(1000, 800), uint16_t(65535));
        m_driver->session().jumpTo(0);
        QVERIFY(keep().steps.empty());
        QVERIFY(colourfulness(m_driver->colourAt(500, 800)) <= 2);
    }

    void escapeOrUndoDropTheUnfinishedStroke_data()
    {
        QTest::addColumn<QKeyCombination>("key");
        QTest::newRow("Esc") << QKeyCombination(Qt::Key_Escape);
        QTest::newRow("Ctrl+Z") << (Qt::Key_Z | Qt::CTRL);
    }
    void escapeOrUndoDropTheUnfinishedStroke()
    {
        QFETCH(QKeyCombination, key);
        m_driver->paint({{700, 830}});
        sendMouse(QEvent::MouseButtonPress, {1325, 830}, Qt::LeftButton, Qt::LeftButton);
        m_driver->key(key.key(), key.keyboardModifiers());
        sendMouse(QEvent::MouseMove, {1325, 900}, Qt::NoButton, Qt::LeftButton);
        sendMouse(QEvent::MouseButtonRelease, {1325, 900}, Qt::LeftButton, Qt::NoButton);
        QCOMPARE(maskAt(1325, 830), uint16_t(0));
        QCOMPARE(maskAt(700, 830), uint16_t(65535));
        QCOMPARE(m_driver->session().history().entries().size(), size_t(2));
        QVERIFY(colourfulness(m_driver->colourAt(1325, 830)) <= 2);
    }

    void keysDoNotDisturbAStroke()
    {
        sendMouse(QEvent::MouseButtonPress, {1325, 830}, Qt::LeftButton, Qt::LeftButton);
        m_driver->key(Qt::Key_K, Qt::ControlModifier); // would make a new keep
        sendMouse(QEvent::MouseButtonRelease, {1325, 830}, Qt::LeftButton, Qt::NoButton);
        QCOMPARE(m_driver->session().take()->keeps.size(), size_t(1));
        QCOMPARE(maskAt(1325, 830), uint16_t(65535));
        m_driver->key(Qt::Key_K, Qt::ControlModifier);
        QCOMPARE(m_driver->session().take()->keeps.size(), size_t(2));
    }

    void theSelectedKeepIsPainted()
    {
        m_driver->key(Qt::Key_K, Qt::ControlModifier);
        m_driver->paint({{700, 500}});
        QVERIFY(m_driver->session().take()->keeps[0].steps.empty());
        QCOMPARE(m_driver->session().take()->keeps[1].steps.size(), size_t(1));
        m_driver->session().select({app::TicketLine::Kind::Keep, keep().id});
        m_driver->paint({{1325, 830}});
        QCOMPARE(steps(), size_t(1));
    }

    void tipKeys()
    {
        const float size = m_driver->window().brush().tip().sizePx;
        m_driver->key(Qt::Key_W);
        QVERIFY(m_driver->window().brush().tip().sizePx > size);
        m_driver->key(Qt::Key_Q);
        QCOMPARE(m_driver->window().brush().tip().sizePx, size);
        m_driver->key(Qt::Key_Q, Qt::ShiftModifier);
        QVERIFY(m_driver->window().brush().tip().softness > 0.05F);
        m_driver->key(Qt::Key_W, Qt::ShiftModifier);
        QVERIFY(m_driver->window().brush().tip().softness < 0.01F);
    }

    void heldToEdgesTheTipKeepsToWhatItsMiddleLiesOn()
    {
        // The spool is 120 px from here to its right edge; the wall behind it is grey.
        setTip(300);
        m_driver->key(Qt::Key_E);
        QVERIFY(m_driver->window().brush().tip().edgeHold > 0);
        m_driver->paint({{1325, 830}, {1327, 832}});
        QCOMPARE(maskAt(1325, 830), uint16_t(65535));
        QVERIFY(maskAt(1360, 830) > 60000);
        QVERIFY(maskAt(1440, 830) < 3000); // under the tip, but of the wall
        // Taking back holds in the same way: from the shelf it leaves the spool alone.
        m_driver->paint({{1325, 1000}, {1327, 1000}}, Qt::ControlModifier);
        QVERIFY(maskAt(1325, 910) > 60000);
        m_driver->key(Qt::Key_E);
        QCOMPARE(m_driver->window().brush().tip().edgeHold, 0.0F);
        m_driver->paint({{1325, 830}, {1327, 832}});
        QCOMPARE(maskAt(1440, 830), uint16_t(65535));
    }

    /// What is added behind a held tip, and when the button is let go, is what the strokes say when
    /// they are painted anew, as the command line does; one undo takes all of it away.
    void aHeldStrokeIsWhatItsPointsSay()
    {
        setTip(100);
        m_driver->key(Qt::Key_E);
        m_driver->paint({{1290, 740}, {1360, 740}, {1380, 800}, {1380, 900}, {1300, 915}});
        const auto *brush = dynamic_cast<const BrushStep *>(keep().steps[0].shape.get());
        QVERIFY(brush);
        const PhotoLevels &levels = *m_driver->session().levels();
        BrushPlanes anew(levels.photo().width, levels.photo().height);
        replayStrokes(brush->strokes(), anew, &levels);
        int kept = 0;
        int differing = 0;
        for (int y = 640; y < 1000; ++y)
            for (int x = 1150; x < 1500; ++x) {
                kept += anew.lo.at(x, y) > 0 ? 1 : 0;
                differing += anew.lo.at(x, y) != brush->planes().lo.at(x, y) ? 1 : 0;
            }
        QVERIFY(kept > 10000);
        QCOMPARE(differing, 0);
        m_driver->window().session().undo();
        QVERIFY(m_driver->session().take()->keeps[0].steps.empty());
    }

    void aSteadyLineIsSmootherAndEndsAtThePointer()
    {
        setTip(20);
        for (QAction *action : m_driver->window().findChildren<QAction *>())
            if (action->text().startsWith(QStringLiteral("Very steady")))
                action->trigger();
        QList<QPointF> zigzag;
        for (int i = 0; i <= 40; ++i)
            zigzag.append(QPointF(600 + i * 20, 700 + (i % 2 == 0 ? 40 : -40)));
        m_driver->paint(zigzag);
        QVERIFY(maskAt(1399, 739) > 60000);
        const Rect rows{900, 640, 1100, 800};
        const auto mask = maskOf(keep(), rows);
        int top = 800;
        for (size_t i = 0; i < mask.size(); ++i)
            if (mask[i] > 32768)
                top = std::min(top, 640 + int(i) / rows.width());
        QVERIFY2(top > 670, qPrintable(QString::number(top))); // the hand reached 660 - 10
    }

    void theTipsOutlineHasItsTrueSize()
    {
        m_driver->canvas().restoreView(1, {1300, 800});
        m_driver->settle();
        m_driver->hover(1300, 800);
        const QImage with = m_driver->canvas().grab().toImage();
        QEvent leave(QEvent::Leave);
        QCoreApplication::sendEvent(&m_driver->canvas(), &leave);
        const QImage without = m_driver->canvas().grab().toImage();
        QRect changed;
        for (int y = 0; y < with.height(); ++y)
            for (int x = 0; x < with.width(); ++x)
                if (with.pixel(x, y) != without.pixel(x, y))
                    changed |= QRect(x, y, 1, 1);
        QVERIFY(std::abs(changed.width() - 122) <= 3);
        QVERIFY(std::abs(changed.height() - 122) <= 3);
        QVERIFY((changed.center() - m_driver->at(1300, 800)).manhattanLength() <= 2);
    }
};

BUTTONHOLE_TEST(TstPainting)

#include "tst_painting.moc"
