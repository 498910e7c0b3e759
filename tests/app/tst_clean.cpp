#include "controls/slider.h"
#include "light/lens.h"
#include "ticket/ticket.h"

#include "prepare_fixture.h"
#include "registry.h"

#include <QLabel>
#include <QLineEdit>
#include <QListWidget>

#include <cmath>

using namespace buttonhole;
using test::WindowDriver;

/// Spots mended and a lens taken back, by mouse and keys.
class TstClean : public test::PrepareFixture
{
    Q_OBJECT

    const std::vector<SpotMend> &mends() { return mendsOf(m_driver->session().work().take()); }

    /// A demo photo with dust in its sky.
    QString dusty()
    {
        QImage photo(test::demo("washing-line.jpg"));
        for (const QPoint &at : {QPoint(700, 120), QPoint(1300, 90), QPoint(1900, 140)})
            for (int y = -20; y <= 20; ++y)
                for (int x = -20; x <= 20; ++x) {
                    const double r = std::hypot(x, y) / 9;
                    const double keeps = 1 - 0.1 / (1 + std::exp((r - 1) / 0.12));
                    const QColor c = photo.pixelColor(at.x() + x, at.y() + y);
                    photo.setPixelColor(at.x() + x, at.y() + y,
                                        QColor(int(c.red() * keeps), int(c.green() * keeps),
                                               int(c.blue() * keeps)));
                }
        const QString path = m_folder.filePath(QStringLiteral("dusty.png"));
        return photo.save(path) ? path : QString();
    }

private Q_SLOTS:
    void init()
    {
        m_driver = std::make_unique<WindowDriver>(m_folder.path());
        QVERIFY(m_driver->open(dusty()));
    }
    void cleanup() { m_driver.reset(); }

    void spotsAreFoundListedAndTakenBack()
    {
        openPage(QStringLiteral("Clean"));
        const QColor spot = m_driver->colourAt(1300, 90);
        press("findSpots");
        QTRY_VERIFY_WITH_TIMEOUT(mends().size() >= 3, 30000);
        auto &list = child<QListWidget>("mendList");
        QCOMPARE(list.count(), int(mends().size()));
        m_driver->session().select({app::TicketLine::Kind::Grey}); // no rings over it
        m_driver->settle();
        QVERIFY(m_driver->colourAt(1300, 90).lightness() > spot.lightness());
        openPage(QStringLiteral("Clean"));
        list.item(0)->setCheckState(Qt::Unchecked);
        QVERIFY(!mends()[0].on);
        press("spotNext");
        QCOMPARE(list.currentRow(), 0);
        QVERIFY(std::abs(m_driver->canvas().transform().scale() - 1) < 1e-9);
        QTest::keyClick(&m_driver->canvas(), Qt::Key_Delete);
        QCOMPARE(list.count(), int(mends().size()));
        const size_t left = mends().size();
        press("spotsNone");
        QVERIFY(mends().empty());
        m_driver->session().undo();
        QCOMPARE(mends().size(), left);
        const QString file = m_folder.filePath(QStringLiteral("mended.buttonhole"));
        QVERIFY(m_driver->save(file));
        QVERIFY(m_driver->open(file));
        QCOMPARE(mends().size(), left);
    }

    void aClickMendsAndADragMovesTheSource()
    {
        openPage(QStringLiteral("Clean"));
        auto &canvas = m_driver->canvas();
        QTest::mouseClick(&canvas, Qt::LeftButton, {}, m_driver->at(1300, 90));
        QCOMPARE(mends().size(), size_t(1));
        QVERIFY(std::abs(double(mends()[0].spot.x) - 1300) < 4);
        const SpotSource before = mends()[0].from;
        const QPoint from = m_driver->at(1300, 90);
        QTest::mousePress(&canvas, Qt::LeftButton, {}, from);
        QTest::mouseMove(&canvas, m_driver->at(1400, 150));
        QTest::mouseMove(&canvas, m_driver->at(1500, 190));
        QTest::keyClick(&canvas, Qt::Key_Escape);
        QTest::mouseRelease(&canvas, Qt::LeftButton, {}, m_driver->at(1500, 190));
        QCOMPARE(mends()[0].from.dx, before.dx);
        QTest::mousePress(&canvas, Qt::LeftButton, {}, from);
        QTest::mouseMove(&canvas, m_driver->at(1400, 150));
        QTest::mouseMove(&canvas, m_driver->at(1500, 190));
        QTest::mouseRelease(&canvas, Qt::LeftButton, {}, m_driver->at(1500, 190));
        QCOMPARE(mends().size(), size_t(1));
        QVERIFY(std::abs(mends()[0].from.dx - 200) < 5 && std::abs(mends()[0].from.dy - 100) < 5);
        m_driver->session().undo();
        m_driver->session().undo();
        QVERIFY(mends().empty());
        QCOMPARE(m_driver->session().work().take().keeps[0].steps.size(), size_t(0));
    }

    void aLensIsTakenBackByNameOrByHand()
    {
        openPage(QStringLiteral("Lens"));
        press("lensByPhoto"); // it does not say
        QTRY_VERIFY_WITH_TIMEOUT(
            child<QLabel>("lensUsed").text().contains(QStringLiteral("by hand")), 20000);
        QVERIFY(m_driver->session().work().take().prepare.empty());
        auto &name = child<QLineEdit>("lensName");
        name.setFocus();
        QTest::keyClicks(&name, QStringLiteral("50mm"));
        QTest::keyClick(&name, Qt::Key_Return);
        QTRY_VERIFY_WITH_TIMEOUT(!m_driver->session().work().take().prepare.empty(), 20000);
        QVERIFY(child<QLabel>("lensUsed").text().contains(QStringLiteral("50mm")));
        press("lensNone");
        QVERIFY(m_driver->session().work().take().prepare.empty());
        auto &barrel = child<app::Slider>("lens.barrel");
        barrel.setFocus();
        for (int i = 0; i < 30; ++i)
            QTest::keyClick(&barrel, Qt::Key_Right);
        m_driver->settle();
        QVERIFY(!m_driver->session().picture().isExact());
        const PictureMap &picture = m_driver->session().picture();
        QVERIFY(picture.toPhoto(PicturePoint{2390, 800})[0] < 2385);
    }
};

BUTTONHOLE_TEST(TstClean)
#include "tst_clean.moc"
