#include "controls/slider.h"
#include "light/photo_light.h"
#include "ticket/ticket.h"

#include "prepare_fixture.h"
#include "registry.h"

#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QLineEdit>
#include <QSpinBox>

using namespace buttonhole;
using test::WindowDriver;

/// The Prepare line: light and crop, by mouse and keys.
class TstPrepare : public test::PrepareFixture
{
    Q_OBJECT

    Rect crop() { return m_driver->session().work().take().geometry.crop; }
    QString summary()
    {
        for (auto *row : m_driver->window().findChildren<app::TicketRow *>())
            if (row->content().line.kind == app::TicketLine::Kind::Prepare)
                return row->content().info;
        return {};
    }

private Q_SLOTS:
    void init()
    {
        m_driver = std::make_unique<WindowDriver>(m_folder.path());
        QVERIFY(m_driver->open(test::demo("mill-pond.jpg")));
    }
    void cleanup() { m_driver.reset(); }

    void aSliderOfLightChangesWhatIsSeen()
    {
        openPage(QStringLiteral("Light"));
        QCOMPARE(summary(), QStringLiteral("as taken"));
        const QColor before = m_driver->colourAt(1200, 200);
        auto &exposure = child<app::Slider>("light.exposureEv");
        exposure.setFocus();
        for (int i = 0; i < 10; ++i)
            QTest::keyClick(&exposure, Qt::Key_Right);
        m_driver->settle();
        const Take &take = m_driver->session().work().take();
        QCOMPARE(take.prepare.size(), size_t(1));
        QVERIFY(take.prepare[0].adjustment->number(0) > 0);
        QVERIFY(m_driver->colourAt(1200, 200).lightness() > before.lightness() + 2);
        QVERIFY2(summary().startsWith(QLatin1Char('+')) && summary().endsWith(QStringLiteral("EV")),
                 qPrintable(summary()));
        m_driver->session().endMerge();
        for (auto *row : m_driver->window().findChildren<app::TicketRow *>())
            if (row->content().line.kind == app::TicketLine::Kind::Prepare)
                QTest::mouseClick(row->findChild<QCheckBox *>(), Qt::LeftButton);
        m_driver->settle();
        QVERIFY(!m_driver->session().work().take().prepare[0].on);
        QCOMPARE(m_driver->colourAt(1200, 200), before);
        for (int i = 0; i < 12 && !m_driver->session().work().take().prepare.empty(); ++i)
            m_driver->session().undo();
        QVERIFY(m_driver->session().work().take().prepare.empty());
        QCOMPARE(summary(), QStringLiteral("as taken"));
    }

    void whereSharpnessActsIsSeenWhileItIsDragged()
    {
        openPage(QStringLiteral("Light"));
        auto &amount = child<app::Slider>("sharpness.amount");
        const auto &canvas = m_driver->canvas();
        QTest::mousePress(&amount, Qt::LeftButton, {}, {20, amount.height() - 8});
        QTest::mouseMove(&amount, {amount.width() / 2, amount.height() - 8});
        m_driver->settle();
        // The wall of bricks has edges; the dark glass of its window has none.
        const QColor glass = m_driver->colourAt(185, 100);
        QVERIFY(glass.lightness() < 25);
        int most = 0;
        for (int x = 300; x < 900; x += 7)
            most = std::max(most, m_driver->colourAt(x, 700).lightness());
        QVERIFY(most > 60);
        QTest::mouseRelease(&amount, Qt::LeftButton, {}, {amount.width() / 2, amount.height() - 8});
        m_driver->settle();
        QVERIFY(canvas.isSharp());
        int least = 255;
        for (int x = 300; x < 900; x += 7)
            least = std::min(least, m_driver->colourAt(x, 700).lightness());
        QVERIFY(least > 20); // the photo again
        QVERIFY(!m_driver->session().work().take().prepare.empty());
    }

    void aDeliveredSizeIsSetAndExported()
    {
        openPage(QStringLiteral("Crop"));
        auto &width = child<QSpinBox>("deliverWidth");
        width.setValue(1200);
        const Geometry &geometry = m_driver->session().work().take().geometry;
        QCOMPARE(geometry.deliverWidth, 1200);
        QCOMPARE(geometry.deliverHeight, 800);
        auto &height = child<QSpinBox>("deliverHeight");
        height.setValue(1200);
        QVERIFY(std::abs(crop().width() - crop().height()) <= 1); // the crop follows
        QVERIFY(child<QLabel>("enlarged").isHidden());
        width.setValue(3000);
        height.setValue(3000);
        QVERIFY(child<QLabel>("enlarged")
                    .text()
                    .contains(QLocale().toString(3000.0 / crop().width(), 'f', 1)));
        QVERIFY(!child<QLabel>("enlarged").isHidden());
        width.setValue(600);
        height.setValue(600);
        const QString file = m_folder.filePath(QStringLiteral("square.jpg"));
        QVERIFY(m_driver->exportTo(file));
        QCOMPARE(QImage(file).size(), QSize(600, 600));
        width.setValue(0);
        QCOMPARE(m_driver->session().work().take().geometry.deliverHeight, 0);
    }

    void autoLightSetsSlidersAndSaysSo()
    {
        openPage(QStringLiteral("Light"));
        press("autoLight");
        auto &done = child<QLabel>("autoDone");
        QTRY_VERIFY(!done.text().isEmpty());
        const Take &take = m_driver->session().work().take();
        QVERIFY(!take.prepare.empty());
        QCOMPARE(child<app::Slider>("light.exposureEv").amount(),
                 double(take.prepare[0].adjustment->number(0)));
        m_driver->session().undo();
        QVERIFY(m_driver->session().work().take().prepare.empty());
    }

    /// The photo is in colour while something is picked, and grey again after.
    void somethingNeutralIsPickedOnThePhoto()
    {
        openPage(QStringLiteral("Light"));
        const QPointF stone(2000, 1000);
        QVERIFY(test::colourfulness(m_driver->colourAt(stone.x(), stone.y())) < 3);
        press("pickNeutral");
        m_driver->settle();
        const int before = test::colourfulness(m_driver->colourAt(stone.x(), stone.y()));
        QVERIFY(before > 15);
        QTest::mouseClick(&m_driver->canvas(), Qt::LeftButton, {},
                          m_driver->at(stone.x(), stone.y()));
        QVERIFY(!child<QToolButton>("pickNeutral").isChecked());
        QVERIFY(m_driver->session().work().take().prepare.size() == 1);
        auto &inColour = child<QCheckBox>("inColour");
        QTest::mouseClick(&inColour, Qt::LeftButton);
        m_driver->settle();
        QVERIFY(test::colourfulness(m_driver->colourAt(stone.x(), stone.y())) < before / 4);
        QTest::mouseClick(&inColour, Qt::LeftButton);
        press("pickNeutral");
        QTest::keyClick(&m_driver->canvas(), Qt::Key_Escape);
        QVERIFY(!child<QToolButton>("pickNeutral").isChecked());
        QCOMPARE(m_driver->session().work().take().keeps[0].steps.size(), size_t(0));
    }

    void aCropIsDrawnMovedAndClosed()
    {
        openPage(QStringLiteral("Crop"));
        drag(m_driver->at(2, 2), m_driver->at(600, 400));
        QVERIFY2(std::abs(crop().x0 - 600) < 8 && std::abs(crop().y0 - 400) < 8,
                 qPrintable(QStringLiteral("%1 %2").arg(crop().x0).arg(crop().y0)));
        const Rect drawn = crop();
        QCOMPARE(child<QSpinBox>("cropWidth").value(), drawn.width());
        drag(m_driver->at(1500, 1000), m_driver->at(1300, 1000));
        QCOMPARE(crop().width(), drawn.width());
        QVERIFY(std::abs(drawn.x0 - crop().x0 - 200) < 8 && crop().y0 == drawn.y0);
        const Rect moved = crop();
        QTest::keyClick(&m_driver->canvas(), Qt::Key_Left);
        QTest::keyClick(&m_driver->canvas(), Qt::Key_Up, Qt::ShiftModifier);
        QCOMPARE(crop(), (Rect{moved.x0 - 1, moved.y0 - 10, moved.x1 - 1, moved.y1 - 10}));
        QCOMPARE(m_driver->canvas().transform().picture().cropRect().width(), 2400); // all is seen
        drag(m_driver->at(1300, 1000), m_driver->at(1350, 1050), false);
        QTest::keyClick(&m_driver->canvas(), Qt::Key_Escape);
        QTest::mouseRelease(&m_driver->canvas(), Qt::LeftButton);
        QCOMPARE(crop().x0, moved.x0 - 1);
        QVERIFY(summary().startsWith(QStringLiteral("crop ")));
        QTest::keyClick(&m_driver->canvas(), Qt::Key_Return);
        m_driver->settle();
        QCOMPARE(m_driver->canvas().transform().picture().cropRect(), crop());
        QVERIFY(m_driver->session().line().kind == app::TicketLine::Kind::Keep);
        m_driver->session().undo();
        m_driver->session().undo();
        m_driver->session().undo();
        QCOMPARE(crop(), Rect());
    }

    /// Whichever way it lies, the ratio holds and the crop stays in the photo.
    void ratiosHoldOnATurnedPicture()
    {
        openPage(QStringLiteral("Crop"));
        press("turnRight");
        m_driver->settle();
        auto &ratio = child<QComboBox>("ratio");
        ratio.setCurrentIndex(ratio.findText(QStringLiteral("4:3")));
        Q_EMIT ratio.activated(ratio.currentIndex());
        const auto size = [this] {
            const PictureRect picture = m_driver->session().picture().rect();
            return std::pair(picture.width(), picture.height());
        };
        QVERIFY(std::abs(double(size().first) / size().second - 3.0 / 4) < 0.002);
        const auto [width, height] = size();
        QTest::keyClick(&m_driver->canvas(), Qt::Key_X);
        QVERIFY(std::abs(double(size().first) / size().second - 4.0 / 3) < 0.002);
        const QRectF box =
            m_driver->canvas().transform().boxOf(m_driver->session().picture().rect());
        drag(box.bottomRight().toPoint(), (box.bottomRight() - QPointF(90, 20)).toPoint());
        QVERIFY(std::abs(double(size().first) / size().second - 4.0 / 3) < 0.004);
        QVERIFY(size().first < height);
        auto &field = child<QSpinBox>("cropWidth");
        field.setValue(800);
        QCOMPARE(size(), std::pair(800, 600));
        field.setValue(9000);
        QVERIFY(field.value() <= 1600);
        const auto type = [&](const char *text) {
            ratio.lineEdit()->selectAll();
            QTest::keyClicks(ratio.lineEdit(), QLatin1String(text));
            QTest::keyClick(ratio.lineEdit(), Qt::Key_Return);
        };
        type("7:3");
        QVERIFY(std::abs(double(size().first) / size().second - 7.0 / 3) < 0.01);
        const auto before = size();
        type("7:0");
        QCOMPARE(ratio.currentIndex(), 0);
        QCOMPARE(size(), before);
        press("wholePhoto");
        QCOMPARE(crop(), Rect());
        QVERIFY(width > 0);
    }

    /// Pointing shows a suggested crop, leaving takes it back, a click takes it.
    void suggestedCropsAreShownAndTaken()
    {
        openPage(QStringLiteral("Crop"));
        press("suggestCrops");
        const auto ideas = [this] {
            return m_driver->window().findChildren<QToolButton *>(QStringLiteral("cropIdea"));
        };
        QTRY_VERIFY_WITH_TIMEOUT(ideas().size() >= 3, 60000);
        QEvent enter(QEvent::Enter);
        QEvent leave(QEvent::Leave);
        const auto shown = [this] { return m_driver->session().take()->geometry.crop; };
        QCoreApplication::sendEvent(ideas()[0], &enter);
        const Rect first = shown();
        QVERIFY(!first.isEmpty());
        QCOMPARE(crop(), Rect());
        QCoreApplication::sendEvent(ideas()[0], &leave);
        QCOMPARE(shown(), Rect());
        QCoreApplication::sendEvent(ideas()[1], &enter);
        QVERIFY(!(shown() == first));
        QTest::mouseClick(ideas()[1], Qt::LeftButton);
        QVERIFY(!crop().isEmpty());
        const Rect taken = crop();
        QCoreApplication::sendEvent(ideas()[1], &leave);
        QCOMPARE(crop(), taken);
        m_driver->session().undo();
        QCOMPARE(crop(), Rect());
    }

    /// Pixels that are drawn say where the crop is: dimmed outside, as they are inside.
    void whatIsCroppedAwayIsDimmed()
    {
        openPage(QStringLiteral("Crop"));
        const QColor before = m_driver->colourAt(300, 300);
        const QColor inside = m_driver->colourAt(1500, 900);
        drag(m_driver->at(2, 800), m_driver->at(800, 800));
        m_driver->settle();
        const QColor after = m_driver->colourAt(300, 300);
        const int surround = m_driver->canvas().grab().toImage().pixelColor(3, 3).lightness();
        QVERIFY(std::abs(after.lightness() - surround) <
                std::abs(before.lightness() - surround) / 2 + 4);
        QCOMPARE(m_driver->colourAt(1500, 900), inside);
    }

    void mirroringIsOfWhatIsSeen()
    {
        openPage(QStringLiteral("Crop"));
        press("turnRight");
        const PictureMap before = m_driver->session().picture();
        press("mirror");
        const PictureMap after = m_driver->session().picture();
        const PicturePoint from = before.toPicture(100, 200);
        const PicturePoint to = after.toPicture(100, 200);
        QCOMPARE(to.y - after.rect().y0, from.y - before.rect().y0);
        QCOMPARE(to.x - after.rect().x0, before.rect().x1 - from.x);
    }
};

BUTTONHOLE_TEST(TstPrepare)
#include "tst_prepare.moc"
