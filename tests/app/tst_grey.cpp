#include "grey/grey_details.h"
#include "grey/hue_curve_editor.h"
#include "grey/looks_gallery.h"
#include "grey/tone_graph.h"
#include "ticket/ticket.h"
#include "tools/tray.h"
#include "window/main_window.h"

#include "registry.h"
#include "tone/toning_curve.h"
#include "window_driver.h"

#include <QAbstractScrollArea>
#include <QCheckBox>
#include <QComboBox>
#include <QTemporaryDir>
#include <QToolButton>

using namespace buttonhole;
using namespace buttonhole::test;

/// The Grey line as a user works with it: every control by mouse or keyboard, and its undo.
class TstGrey : public QObject
{
    Q_OBJECT
    std::unique_ptr<QTemporaryDir> m_folder;
    std::unique_ptr<WindowDriver> m_driver;

    const GreyMix &mix() const { return m_driver->session().take()->grey; }
    template <class T>
    T &child() const
    {
        return *m_driver->window().findChild<T *>();
    }
    app::GreyDetails &details() const { return child<app::GreyDetails>(); }
    template <class T>
    T *named(const QString &accessibleName) const
    {
        for (T *widget : details().findChildren<T *>())
            if (widget->accessibleName() == accessibleName)
                return widget;
        return nullptr;
    }
    QToolButton *button(const QString &text) const
    {
        for (QToolButton *each : details().findChildren<QToolButton *>())
            if (each->text() == text)
                return each;
        return nullptr;
    }
    size_t undoSteps() const { return m_driver->session().history().index(); }
    QImage picture()
    {
        m_driver->settle();
        QEvent leave(QEvent::Leave);
        QCoreApplication::sendEvent(&m_driver->canvas(), &leave);
        return m_driver->canvas().grab().toImage();
    }
    /// A well coloured place of the photo with this hue.
    QPointF placeOf(double hueDeg) const
    {
        const PhotoLevels &levels = *m_driver->session().levels();
        for (int y = 200; y < levels.photo().height - 200; y += 10)
            for (int x = 100; x < levels.photo().width - 100; x += 10)
                if (const auto reading = readPixel(levels, x, y);
                    reading.chroma > 0.1 && std::abs(reading.hueDeg - hueDeg) < 6)
                    return {double(x), double(y)};
        return {};
    }
    void dragOnPicture(const QPointF &photo, int up, bool releases = true)
    {
        app::Canvas &canvas = m_driver->canvas();
        const QPoint from = m_driver->at(photo.x(), photo.y());
        QTest::mouseMove(&canvas, from);
        QTest::mousePress(&canvas, Qt::LeftButton, {}, from);
        for (int i = 1; i <= 6; ++i) {
            const QPointF to(from.x(), from.y() - up * i / 6.0);
            QMouseEvent move(QEvent::MouseMove, to, canvas.mapToGlobal(to), Qt::NoButton,
                             Qt::LeftButton, Qt::NoModifier);
            QCoreApplication::sendEvent(&canvas, &move);
        }
        if (releases)
            QTest::mouseRelease(&canvas, Qt::LeftButton, {}, from - QPoint(0, up));
    }

private Q_SLOTS:
    void init()
    {
        m_folder = std::make_unique<QTemporaryDir>();
        m_driver = std::make_unique<WindowDriver>(m_folder->path());
        QVERIFY(m_driver->open(demo("spools.jpg")));
        m_driver->session().select({app::TicketLine::Kind::Grey});
    }
    void cleanup()
    {
        m_driver.reset();
        m_folder.reset();
    }

    void draggingOnThePictureSteersAHue()
    {
        const QPointF yellow = placeOf(100);
        QVERIFY(!yellow.isNull());
        const int before = m_driver->colourAt(yellow.x(), yellow.y()).lightness();
        const size_t steps = undoSteps();
        dragOnPicture(yellow, 80, false);
        QCOMPARE(mix().hue.size(), size_t(1)); // live, and the curve shows the same point
        details().showPage(1);
        QCOMPARE(child<app::HueCurveEditor>().points(), mix().hue);
        QVERIFY(std::abs(mix().hue[0].hueDeg - 100) < 10);
        QCOMPARE(mix().hue[0].value, 50.0F);
        QCOMPARE(undoSteps(), steps); // not yet settled
        QTest::mouseRelease(&m_driver->canvas(), Qt::LeftButton, {},
                            m_driver->at(yellow.x(), yellow.y()) - QPoint(0, 80));
        QCOMPARE(undoSteps(), steps + 1);
        QVERIFY(m_driver->colourAt(yellow.x(), yellow.y()).lightness() > before + 10);
        // The same hue again takes the same point; down lowers it.
        dragOnPicture(yellow, -160);
        QCOMPARE(mix().hue.size(), size_t(1));
        QCOMPARE(mix().hue[0].value, -50.0F);
        QVERIFY(m_driver->colourAt(yellow.x(), yellow.y()).lightness() < before - 5);
        // Esc drops a drag, undo takes back one after the other.
        dragOnPicture(yellow, 50, false);
        m_driver->key(Qt::Key_Escape);
        QCOMPARE(mix().hue[0].value, -50.0F);
        QTest::mouseRelease(&m_driver->canvas(), Qt::LeftButton);
        m_driver->key(Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(mix().hue[0].value, 50.0F);
        m_driver->key(Qt::Key_Z, Qt::ControlModifier);
        QVERIFY(mix().hue.empty());
        QCOMPARE(m_driver->colourAt(yellow.x(), yellow.y()).lightness(), before);
        // No stroke was painted by all this.
        QVERIFY(m_driver->session().take()->keeps[0].steps.empty());
    }

    void aLookIsPreviewedAndRestored()
    {
        auto &looks = child<app::LooksGallery>();
        QVERIFY(QTest::qWaitFor([&] { return looks.hasPictures(); }, 90000));
        const QImage before = picture();
        const size_t steps = undoSteps();
        QTest::mouseMove(&looks, looks.cell(4).center());
        QCOMPARE(looks.pointedAt(), 4);
        const QImage previewed = picture();
        QVERIFY(previewed != before);
        QCOMPARE(undoSteps(), steps);
        QEvent leave(QEvent::Leave);
        QCoreApplication::sendEvent(&looks, &leave);
        QCOMPARE(picture(), before);
        QVERIFY(mix() == GreyMix());
        // A click takes it; undo brings back what was.
        QTest::mouseClick(&looks, Qt::LeftButton, {}, looks.cell(4).center());
        QCOMPARE(mix().look, buttonhole::looks()[3].name);
        QCOMPARE(undoSteps(), steps + 1);
        QCoreApplication::sendEvent(&looks, &leave);
        QCOMPARE(picture(), previewed);
        auto *strength = named<app::Slider>(QStringLiteral("Strength of the mix"));
        strength->setFocus();
        QTest::keyClick(strength, Qt::Key_Left);
        QVERIFY(mix().strength < 1);
        QVERIFY(picture() != previewed);
        m_driver->session().undo();
        m_driver->session().undo();
        QCOMPARE(picture(), before);
        // By keyboard.
        looks.setFocus();
        QTest::keyClick(&looks, Qt::Key_Right);
        QTest::keyClick(&looks, Qt::Key_Right);
        QTest::keyClick(&looks, Qt::Key_Down);
        QCOMPARE(looks.pointedAt(), 4);
        QTest::keyClick(&looks, Qt::Key_Escape);
        QVERIFY(mix() == GreyMix());
        QTest::keyClick(&looks, Qt::Key_Right);
        QTest::keyClick(&looks, Qt::Key_Return);
        QVERIFY(undoSteps() == steps + 1);
    }

    void theCurveIsEditedByMouse()
    {
        details().showPage(1);
        auto &editor = child<app::HueCurveEditor>();
        const size_t steps = undoSteps();
        const auto press = [&](double hue, double value) {
            QTest::mousePress(&editor, Qt::LeftButton, {}, editor.at(hue, value).toPoint());
        };
        const auto move = [&](double hue, double value) {
            const QPointF to = editor.at(hue, value).toPoint();
            QMouseEvent event(QEvent::MouseMove, to, editor.mapToGlobal(to), Qt::NoButton,
                              Qt::LeftButton, Qt::NoModifier);
            QCoreApplication::sendEvent(&editor, &event);
        };
        press(100, 40);
        move(120, -60);
        QTest::mouseRelease(&editor, Qt::LeftButton);
        QCOMPARE(mix().hue.size(), size_t(1));
        QVERIFY(std::abs(mix().hue[0].hueDeg - 120) < 2);
        QVERIFY(std::abs(mix().hue[0].value + 60) < 3);
        QCOMPARE(undoSteps(), steps + 1); // one drag, one undo
        press(200, 0);
        QTest::mouseRelease(&editor, Qt::LeftButton);
        QCOMPARE(mix().hue.size(), size_t(2));
        QTest::mouseDClick(&editor, Qt::LeftButton, {},
                           editor.at(mix().hue[0].hueDeg, mix().hue[0].value).toPoint());
        QTest::mouseRelease(&editor, Qt::LeftButton);
        QCOMPARE(mix().hue.size(), size_t(1));
        QVERIFY(std::abs(mix().hue[0].hueDeg - 200) < 2);
        m_driver->session().undo();
        QCOMPARE(mix().hue.size(), size_t(2));
        m_driver->session().undo();
        m_driver->session().undo();
        QVERIFY(mix().hue.empty());
    }

    void theCurveIsEditedByKeyboard()
    {
        details().showPage(1);
        auto &editor = child<app::HueCurveEditor>();
        QVERIFY(QTest::qWaitFor([&] { return m_driver->window().jobs().isIdle(); }, 90000));
        editor.setFocus();
        QTest::keyClick(&editor, Qt::Key_Insert);
        QTest::keyClick(&editor, Qt::Key_Insert);
        QCOMPARE(mix().hue.size(), size_t(2));
        editor.choose(0);
        const HuePoint first = mix().hue[0];
        QTest::keyClick(&editor, Qt::Key_Up);
        QCOMPARE(mix().hue[0].value, first.value + 5);
        QTest::keyClick(&editor, Qt::Key_Down, Qt::ShiftModifier);
        QCOMPARE(mix().hue[0].value, first.value + 4);
        QTest::keyClick(&editor, Qt::Key_Right, Qt::ControlModifier);
        QCOMPARE(mix().hue[0].hueDeg, first.hueDeg + 5);
        QTest::keyClick(&editor, Qt::Key_Plus);
        QVERIFY(mix().hue[0].widthDeg > first.widthDeg);
        QTest::keyClick(&editor, Qt::Key_Right);
        QCOMPARE(editor.chosen(), 1);
        QTest::keyClick(&editor, Qt::Key_Delete);
        QCOMPARE(mix().hue.size(), size_t(1));
        m_driver->session().undo();
        QCOMPARE(mix().hue.size(), size_t(2));
    }

    void toneHandlesAndCurve()
    {
        details().showPage(2);
        auto &graph = child<app::ToneGraph>();
        const auto drag = [&](const QPointF &from, const QPointF &to) {
            QTest::mousePress(&graph, Qt::LeftButton, {}, from.toPoint());
            QMouseEvent event(QEvent::MouseMove, to, graph.mapToGlobal(to), Qt::NoButton,
                              Qt::LeftButton, Qt::NoModifier);
            QCoreApplication::sendEvent(&graph, &event);
            QTest::mouseRelease(&graph, Qt::LeftButton);
        };
        const QImage before = picture();
        drag(graph.handleAt(0), graph.at(0.2, 0));
        QVERIFY(std::abs(mix().tone.black - 0.2F) < 0.01F);
        drag(graph.handleAt(2), graph.at(0.8, 0));
        QVERIFY(std::abs(mix().tone.white - 0.8F) < 0.01F);
        drag(graph.handleAt(1), graph.at(0.4, 0));
        QVERIFY(std::abs(mix().tone.middle - 1 / 3.0F) < 0.02F);
        drag(graph.at(0.5, 0.9), graph.at(0.5, 0.7));
        QCOMPARE(mix().tone.curve.size(), size_t(3)); // with its two ends
        QVERIFY(std::abs(mix().tone.curve[1].y - 0.7F) < 0.02F);
        QVERIFY(picture() != before);
        // The view of clipped tones marks what became black.
        m_driver->key(Qt::Key_H);
        const QImage marked = picture();
        int blue = 0;
        for (int y = 0; y < marked.height(); y += 5)
            for (int x = 0; x < marked.width(); x += 5)
                blue += marked.pixelColor(x, y) == QColor(0, 85, 255) ? 1 : 0;
        QVERIFY(blue > 20);
        m_driver->key(Qt::Key_R);
        for (int i = 0; i < 4; ++i)
            m_driver->session().undo();
        QVERIFY(mix() == GreyMix());
        QCOMPARE(picture(), before);
        // Keys: the middle handle, then a point of the curve.
        graph.setFocus();
        QTest::keyClick(&graph, Qt::Key_Right);
        QTest::keyClick(&graph, Qt::Key_Up);
        QVERIFY(mix().tone != Tone());
        QTest::keyClick(&graph, Qt::Key_Insert);
        QCOMPARE(mix().tone.curve.size(), size_t(3));
        QTest::keyClick(&graph, Qt::Key_Delete);
        QVERIFY(mix().tone.curve.empty());
    }

    void basesGlassesAndSwitches()
    {
        details().showPage(1);
        const QImage before = picture();
        auto *base = named<QComboBox>(QStringLiteral("Base of the grey"));
        base->setFocus();
        for (int i = 0; i < 4; ++i)
            QTest::keyClick(base, Qt::Key_Down);
        QCOMPARE(mix().base, GreyMix::Base::Blend);
        auto *red = named<app::Slider>(QStringLiteral("Red"));
        QVERIFY(red->isVisible());
        QTest::keyClick(red, Qt::Key_Right);
        QVERIFY(mix().blend[0] > 0.3F);
        auto *glass = named<QComboBox>(QStringLiteral("Glass before the lens"));
        QTest::keyClick(glass, Qt::Key_Down);
        QCOMPARE(mix().glass, Glass::Yellow);
        QVERIFY(picture() != before);
        QVERIFY(child<app::Ticket>().rows()[1]->content().info == QStringLiteral("own mix"));
    }

    void toningIsJudgedByItselfWhileItsHueIsDragged()
    {
        details().showPage(3);
        QTest::mouseClick(button(QStringLiteral("Sepia")), Qt::LeftButton);
        QVERIFY(mix().toning == readyTones()[1].toning);
        QVERIFY(button(QStringLiteral("Sepia"))->isChecked());
        QTest::mouseClick(button(QStringLiteral("None")), Qt::LeftButton);
        QVERIFY(mix().toning.isOff());
        const size_t steps = undoSteps();
        auto *hue = named<app::Slider>(QStringLiteral("Highlights: hue"));
        const QPoint from(hue->width() / 3, hue->height() - 7);
        QTest::mousePress(hue, Qt::LeftButton, {}, from);
        const QPointF to(hue->width() * 2.0 / 3, from.y());
        QMouseEvent move(QEvent::MouseMove, to, hue->mapToGlobal(to), Qt::NoButton, Qt::LeftButton,
                         Qt::NoModifier);
        QCoreApplication::sendEvent(hue, &move);
        QVERIFY(mix().toning.highlightSaturation >= 60); // shown, not settled
        QCOMPARE(undoSteps(), steps);
        QTest::mouseRelease(hue, Qt::LeftButton, {}, to.toPoint());
        QCOMPARE(mix().toning.highlightSaturation, 0.0F);
        QVERIFY(std::abs(mix().toning.highlightHueDeg - 240) < 12);
        QCOMPARE(undoSteps(), steps + 1);
    }

    void autoIsOneUndoAndThePinStandsBesideIt()
    {
        QTest::mouseClick(button(QStringLiteral("Compare")), Qt::LeftButton);
        QVERIFY(m_driver->canvas().seen().split);
        const QImage same = picture();
        const size_t steps = undoSteps();
        QTest::mouseClick(button(QStringLiteral("Auto")), Qt::LeftButton);
        QVERIFY(QTest::qWaitFor([&] { return undoSteps() == steps + 1; }, 30000));
        QVERIFY(!mix().hue.empty());
        const QImage now = picture();
        // Left of the line the pinned grey stays, right of it the new one is.
        const int middle = now.width() / 2;
        QCOMPARE(now.copy(0, 60, middle - 80, now.height() - 120),
                 same.copy(0, 60, middle - 80, now.height() - 120));
        QVERIFY(now.copy(middle + 80, 60, 300, 300) != same.copy(middle + 80, 60, 300, 300));
        QTest::mouseClick(button(QStringLiteral("Comparing")), Qt::LeftButton);
        QVERIFY(!m_driver->canvas().seen().split);
        m_driver->session().undo();
        QVERIFY(mix() == GreyMix());
    }

    void everyControlHasANameAndTakesTheKeyboard()
    {
        for (int page = 0; page < 4; ++page) {
            details().showPage(page);
            for (QWidget *widget : details().findChildren<QWidget *>()) {
                if (!widget->isVisible() || widget->focusPolicy() == Qt::NoFocus ||
                    qobject_cast<QAbstractScrollArea *>(widget))
                    continue;
                const auto *asButton = qobject_cast<QAbstractButton *>(widget);
                QVERIFY2(!widget->accessibleName().isEmpty() ||
                             (asButton && !asButton->text().isEmpty()),
                         widget->metaObject()->className());
                QVERIFY2(widget->focusPolicy() & Qt::TabFocus, widget->metaObject()->className());
                QVERIFY2(!widget->toolTip().isEmpty(), widget->metaObject()->className());
                // Nothing is wider than its column.
                QVERIFY(widget->mapTo(&details(), QPoint(widget->width(), 0)).x() <=
                        details().width());
            }
        }
    }
};

BUTTONHOLE_TEST(TstGrey)

#include "tst_grey.moc"
