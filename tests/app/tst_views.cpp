#include "check/check_column.h"
#include "window/main_window.h"

#include "registry.h"
#include "window_driver.h"

#include <QListWidget>
#include <QTemporaryDir>
#include <QWheelEvent>

using namespace buttonhole;
using namespace buttonhole::test;

/// Looking: views, comparing, zoom, pan, the pick glass, the history list.
class TstViews : public QObject
{
    Q_OBJECT
    std::unique_ptr<QTemporaryDir> m_folder;
    std::unique_ptr<WindowDriver> m_driver;

    app::Canvas &canvas() { return m_driver->canvas(); }
    QPointF photoAt(const QPointF &widget) { return canvas().transform().toPhoto(widget); }
    void wheel(const QPointF &at, int steps)
    {
        QWheelEvent event(at, canvas().mapToGlobal(at), {}, {0, 120 * steps}, Qt::NoButton,
                          Qt::NoModifier, Qt::NoScrollPhase, false);
        QCoreApplication::sendEvent(&canvas(), &event);
    }
    void drag(const QPoint &from, const QPoint &to, Qt::MouseButton button)
    {
        QTest::mousePress(&canvas(), button, Qt::NoModifier, from);
        QMouseEvent move(QEvent::MouseMove, QPointF(to), canvas().mapToGlobal(QPointF(to)),
                         Qt::NoButton, button, Qt::NoModifier);
        QCoreApplication::sendEvent(&canvas(), &move);
        QTest::mouseRelease(&canvas(), button, Qt::NoModifier, to);
    }

private Q_SLOTS:
    void init()
    {
        m_folder = std::make_unique<QTemporaryDir>();
        m_driver = std::make_unique<WindowDriver>(m_folder->path());
        QVERIFY(m_driver->open(demo("spools.jpg")));
        m_driver->window().brush().setTip({150, 0, 1, 1, PressureSteers::Size});
        m_driver->paint({{1325, 800}, {1325, 860}});
        m_driver->window().actions()["stitch"]->trigger(); // pixels are compared below
        QVERIFY(!canvas().showsStitch());
    }
    void cleanup() { m_driver.reset(); }

    void theOriginalIsShownWhileCIsHeld()
    {
        QVERIFY(colourfulness(m_driver->colourAt(900, 900)) <= 2);
        QTest::keyPress(&canvas(), Qt::Key_C);
        QVERIFY(canvas().showsOriginal());
        const QColor wood = m_driver->colourAt(900, 900);
        QVERIFY(colourfulness(wood) > 10);
        QTest::keyRelease(&canvas(), Qt::Key_C);
        QVERIFY(!canvas().showsOriginal());
        QVERIFY(colourfulness(m_driver->colourAt(900, 900)) <= 2);
    }

    void maskViewsShowAllKeepsOrTheSelectedOne()
    {
        // The painted spool, and a second keep elsewhere.
        m_driver->key(Qt::Key_K, Qt::ControlModifier);
        m_driver->paint({{900, 900}, {920, 900}});
        m_driver->key(Qt::Key_V);
        m_driver->settle();
        QCOMPARE(m_driver->colourAt(1325, 830), QColor(Qt::white));
        QCOMPARE(m_driver->colourAt(900, 900), QColor(Qt::white));
        m_driver->key(Qt::Key_O);
        m_driver->settle();
        QCOMPARE(m_driver->colourAt(1325, 830), QColor(Qt::black));
        QCOMPARE(m_driver->colourAt(900, 900), QColor(Qt::white));
        const auto &keeps = m_driver->session().take()->keeps;
        m_driver->session().select({app::TicketLine::Kind::Keep, keeps[0].id});
        m_driver->settle();
        QCOMPARE(m_driver->colourAt(1325, 830), QColor(Qt::white));
        QCOMPARE(m_driver->colourAt(900, 900), QColor(Qt::black));
        m_driver->key(Qt::Key_R); // the result always has all of them
        m_driver->settle();
        QVERIFY(colourfulness(m_driver->colourAt(900, 900)) > 5);
        QVERIFY(colourfulness(m_driver->colourAt(1325, 830)) > 60);
    }

    void sideBySideShowsTheSamePartTwiceAndTakesStrokesInBoth()
    {
        const auto colourOn = [&](double x, double y, int shift) {
            const QPoint at = m_driver->at(x, y) + QPoint(shift, 0);
            return canvas().grab().toImage().pixelColor(at * canvas().devicePixelRatioF());
        };
        m_driver->key(Qt::Key_V, Qt::ShiftModifier);
        QVERIFY(canvas().seen().sideBySide);
        m_driver->settle();
        const int half = canvas().width() / 2;
        QVERIFY(m_driver->at(2390, 10).x() < half); // all of the photo fits into one half
        QVERIFY(colourfulness(colourOn(1325, 830, 0)) > 60);
        QVERIFY(colourfulness(colourOn(900, 900, 0)) <= 2);
        QVERIFY(colourfulness(colourOn(900, 900, half)) > 10);
        // A stroke over the original paints the same place.
        const QPoint at = m_driver->at(900, 900) + QPoint(half, 0);
        QTest::mousePress(&canvas(), Qt::LeftButton, {}, at);
        QTest::mouseMove(&canvas(), at + QPoint(4, 0));
        QTest::mouseRelease(&canvas(), Qt::LeftButton, {}, at + QPoint(4, 0));
        m_driver->settle();
        QVERIFY(maskOf(m_driver->session().take()->keeps[0], {900, 900, 901, 901})[0] > 60000);
        QVERIFY(colourfulness(colourOn(900, 900, 0)) > 5);
        // Panning moves both; Split takes its place.
        canvas().restoreView(1, {1325, 830});
        m_driver->settle();
        QCOMPARE(colourOn(1330, 830, 0), colourOn(1330, 830, half));
        m_driver->key(Qt::Key_C, Qt::ShiftModifier);
        QVERIFY(!canvas().seen().sideBySide && canvas().seen().split);
    }

    void theMaskViewsFollowEachOther()
    {
        m_driver->key(Qt::Key_V);
        QCOMPARE(canvas().seen().view, View::Mask);
        QCOMPARE(m_driver->colourAt(1325, 830), QColor(Qt::white));
        QCOMPARE(m_driver->colourAt(900, 900), QColor(Qt::black));
        m_driver->key(Qt::Key_V);
        QCOMPARE(canvas().seen().view, View::Tinted);
        QVERIFY(colourfulness(m_driver->colourAt(900, 900)) > 10); // the photo as it is
        m_driver->key(Qt::Key_V);
        QCOMPARE(canvas().seen().view, View::CutOut);
        const QColor board = m_driver->colourAt(900, 900);
        QVERIFY(colourfulness(board) <= 2);
        QVERIFY(colourfulness(m_driver->colourAt(1325, 830)) > 60);
        m_driver->key(Qt::Key_V);
        QCOMPARE(canvas().seen().view, View::ColourMap);
        const QColor red = m_driver->colourAt(1325, 830);
        QVERIFY(red.lightness() > m_driver->colourAt(2200, 1000).lightness() + 60);
        m_driver->key(Qt::Key_R);
        QCOMPARE(canvas().seen().view, View::Result);
    }

    void theSplitLineCanBeDragged()
    {
        m_driver->key(Qt::Key_C, Qt::ShiftModifier);
        QVERIFY(canvas().seen().split);
        QVERIFY(colourfulness(m_driver->colourAt(900, 900)) > 10); // left: original
        const QPoint line = m_driver->at(1200, 600);
        drag(line, m_driver->at(300, 600), Qt::LeftButton);
        QVERIFY(std::abs(canvas().seen().splitAt - 300.0 / 2400) < 0.01);
        QVERIFY(colourfulness(m_driver->colourAt(900, 900)) <= 2);
        QCOMPARE(m_driver->session().history().entries().size(), size_t(2)); // nothing painted
        m_driver->key(Qt::Key_C, Qt::ShiftModifier);
        QVERIFY(!canvas().seen().split);
    }

    void theStitchRunsAlongTheEdge()
    {
        canvas().restoreView(2, {1325, 830});
        m_driver->settle();
        const QImage plain = canvas().grab().toImage();
        m_driver->key(Qt::Key_X);
        QVERIFY(canvas().showsStitch());
        m_driver->settle();
        const QImage stitched = canvas().grab().toImage();
        int changed = 0;
        int far = 0;
        for (int y = 0; y < plain.height(); y += 1)
            for (int x = 0; x < plain.width(); ++x) {
                if (plain.pixel(x, y) == stitched.pixel(x, y))
                    continue;
                ++changed;
                // The mask is a disc of radius 75 swept from y 800 to 860.
                const QPointF p = photoAt({x + 0.5, y + 0.5});
                const double dy = p.y() < 800 ? p.y() - 800 : p.y() > 860 ? p.y() - 860 : 0;
                far += std::abs(std::hypot(p.x() - 1325, dy) - 75) > 6 ? 1 : 0;
            }
        QVERIFY(changed > 300);
        QCOMPARE(far, 0);
    }

    void theWheelZoomsAtThePointer()
    {
        const QPointF at(200, 300);
        const QPointF before = photoAt(at);
        const double scale = canvas().transform().scale();
        wheel(at, 3);
        QVERIFY(canvas().transform().scale() > 1.9 * scale);
        const QPointF after = photoAt(at);
        QVERIFY(std::hypot(after.x() - before.x(), after.y() - before.y()) < 1.0);
        m_driver->key(Qt::Key_0, Qt::ControlModifier);
        QVERIFY(std::abs(canvas().transform().scale() - scale) < 1e-6);
        m_driver->key(Qt::Key_1, Qt::ControlModifier);
        QVERIFY(std::abs(canvas().transform().scale() - 1) < 1e-6);
    }

    void spaceAndTheMiddleButtonMoveThePhoto()
    {
        canvas().restoreView(2, {900, 600});
        QPointF centre = photoAt({300, 300});
        drag({300, 300}, {360, 340}, Qt::MiddleButton);
        QCOMPARE(photoAt({360, 340}), centre);
        QTest::keyPress(&canvas(), Qt::Key_Space);
        centre = photoAt({300, 300});
        drag({300, 300}, {200, 280}, Qt::LeftButton);
        QTest::keyRelease(&canvas(), Qt::Key_Space);
        QCOMPARE(photoAt({200, 280}), centre);
        QCOMPARE(m_driver->session().history().entries().size(), size_t(2)); // nothing painted
    }

    void aDeepZoomShowsPhotoPixelsAsSquares()
    {
        canvas().restoreView(16, {1325, 830});
        m_driver->settle();
        const QImage picture = canvas().grab().toImage();
        const QPoint corner = m_driver->at(1330, 835);
        const QColor colour = picture.pixelColor(corner + QPoint(2, 2));
        for (int i = 3; i < 14; ++i)
            QCOMPARE(picture.pixelColor(corner + QPoint(i, 8)), colour);
    }

    void theGlassShowsPixelsUnderThePointer()
    {
        app::PickGlass &glass = m_driver->window().checkColumn().glass();
        m_driver->hover(1325.5, 830.5);
        for (const int zoom : {2, 4, 8}) {
            glass.setZoom(zoom);
            const QImage result = glass.picture();
            QVERIFY(std::abs(result.width() - glass.width() / zoom) <= 1);
            QVERIFY(colourfulness(result.pixelColor(result.rect().center())) > 60);
        }
        glass.setShowsMask(true);
        const QImage mask = glass.picture();
        QCOMPARE(mask.pixelColor(mask.rect().center()), QColor(Qt::white));
        m_driver->hover(900, 900);
        QCOMPARE(glass.picture().pixelColor(5, 5), QColor(Qt::black));
        m_driver->hover(-2000, -2000); // past the photo: nothing to show, no harm
        (void)glass.grab();
    }

    /// Pixels that depend on many round them are rendered in the background, and come.
    void theGlassFollowsWidelyGrownMasks()
    {
        app::PickGlass &glass = m_driver->window().checkColumn().glass();
        glass.setShowsMask(true);
        m_driver->hover(1450.5, 830.5); // outside what was painted
        const auto middle = [&] {
            const QImage seen = glass.grab().toImage();
            return seen.pixelColor(seen.rect().center() + QPoint(6, 0)).lightness();
        };
        QVERIFY(QTest::qWaitFor([&] { return middle() < 20; }, 5000));
        auto &session = m_driver->session();
        session.edit(QStringLiteral("Grow"), withKeep(*session.take(), session.take()->keeps[0].id,
                                                      [](Keep &keep) { keep.growPx = 200; }));
        QVERIFY(QTest::qWaitFor([&] { return middle() > 235; }, 5000));
        m_driver->hover(1326, 300); // farther than it grew
        QVERIFY(QTest::qWaitFor([&] { return middle() < 20; }, 5000));
        // Another photo is shown at once, and nothing holds the one before.
        const std::weak_ptr<const PhotoLevels> before = session.levels();
        QVERIFY(m_driver->save(m_folder->filePath(QStringLiteral("grown.buttonhole"))));
        QVERIFY(m_driver->open(test::demo("loom.jpg")));
        m_driver->settle();
        QVERIFY(QTest::qWaitFor([&] { return before.expired(); }, 10000));
    }

    void theHistoryListGoesToAnyState()
    {
        m_driver->paint({{900, 900}});
        auto *list = m_driver->window().checkColumn().findChild<QListWidget *>();
        QVERIFY(list);
        QCOMPARE(list->count(), 3);
        QTest::mouseClick(list->viewport(), Qt::LeftButton, Qt::NoModifier,
                          list->visualItemRect(list->item(1)).center());
        QCOMPARE(m_driver->session().history().index(), size_t(1));
        QVERIFY(colourfulness(m_driver->colourAt(900, 900)) <= 2);
        QVERIFY(colourfulness(m_driver->colourAt(1325, 830)) > 60);
        m_driver->key(Qt::Key_Y, Qt::ControlModifier);
        QVERIFY(colourfulness(m_driver->colourAt(900, 900)) > 10);
    }
};

BUTTONHOLE_TEST(TstViews)

#include "tst_views.moc"
