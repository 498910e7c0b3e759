#include "controls/slider.h"
#include "geometry/drawn_lines.h"
#include "mask/brush_step.h"
#include "tools/brush_tool.h"

#include "keeps_fixture.h"
#include "prepare_fixture.h"
#include "registry.h"

#include <QCheckBox>
#include <QLabel>
#include <QSpinBox>

#include <cmath>

using namespace buttonhole;
using test::WindowDriver;

/// The photo straightened by mouse and keys, and worked on as it then lies.
class TstStraighten : public test::PrepareFixture
{
    Q_OBJECT

    const Geometry &geometry() { return m_driver->session().work().take().geometry; }
    void set(const Straightening &by, const Rect &crop = {})
    {
        Take take = m_driver->session().work().take();
        take.geometry.straightening = by;
        take.geometry.crop = crop;
        m_driver->session().edit(QStringLiteral("test"), std::move(take));
        m_driver->settle();
    }

private Q_SLOTS:
    void init()
    {
        m_driver = std::make_unique<WindowDriver>(m_folder.path());
        QVERIFY(m_driver->open(test::demo("washing-line.jpg")));
    }
    void cleanup() { m_driver.reset(); }

    void aDrawnLineIsLevelAfter()
    {
        openPage(QStringLiteral("Crop"));
        press("drawLevel");
        drag(m_driver->at(400, 500), m_driver->at(2000, 620));
        m_driver->settle();
        const float angle = geometry().straightening.angleDeg;
        const double asked = -std::atan2(120, 1600) * 180 / M_PI;
        QVERIFY2(std::abs(double(angle) - asked) < 0.15, qPrintable(QString::number(angle)));
        QCOMPARE(geometry().crop, Rect()); // the largest that is filled
        const PictureRect picture = m_driver->session().picture().rect();
        QVERIFY(picture.width() < 2350 && picture.width() > 1900);
        const QPointF a = m_driver->canvas().transform().toWidget(QPointF(400, 500));
        const QPointF b = m_driver->canvas().transform().toWidget(QPointF(2000, 620));
        QVERIFY(std::abs(a.y() - b.y()) <= 1.5);
        QVERIFY(child<QLabel>("straightenSaid").isVisible());
        // Two uprights that lean: the tilt.
        drag(m_driver->at(700, 300), m_driver->at(600, 1400));
        m_driver->settle();
        drag(m_driver->at(1700, 300), m_driver->at(1800, 1400));
        m_driver->settle();
        QVERIFY(std::abs(geometry().straightening.verticalDeg) > 1);
        QTest::keyClick(&m_driver->canvas(), Qt::Key_Escape);
        QVERIFY(!child<QToolButton>("drawLevel").isChecked());
        for (int i = 0; i < 3; ++i)
            m_driver->session().undo();
        QVERIFY(geometry().isPlain());
    }

    void theAngleIsFoundOrItSaysSo()
    {
        openPage(QStringLiteral("Crop"));
        press("findLevel");
        QTRY_VERIFY_WITH_TIMEOUT(geometry().straightening.angleDeg != 0, 20000);
        QVERIFY(child<QLabel>("straightenSaid").text().contains(QStringLiteral("°")));
        m_driver->session().undo(); // nothing is to be saved then
        QVERIFY(m_driver->open(test::demo("loom.jpg")));
        openPage(QStringLiteral("Crop"));
        press("findLevel");
        QTRY_VERIFY_WITH_TIMEOUT(child<QLabel>("straightenSaid").isVisible(), 20000);
        QVERIFY(geometry().isPlain());
    }

    /// A slider there and back leaves the crop as it was; on the way it stays filled.
    void aCropStaysFilled()
    {
        const Rect crop{20, 15, 2300, 1550};
        set({}, crop);
        openPage(QStringLiteral("Crop"));
        auto &slider = child<app::Slider>("straighten.angleDeg");
        const auto at = [&](double share) {
            return QPoint(int(slider.width() * share), slider.height() - 8);
        };
        QTest::mousePress(&slider, Qt::LeftButton, {}, at(0.5));
        QTest::mouseMove(&slider, at(0.75));
        const Geometry turned = m_driver->session().take()->geometry;
        QVERIFY(turned.straightening.angleDeg > 1);
        QVERIFY(m_driver->session().picture().warp().isFilled(turned.crop));
        QVERIFY(!(turned.crop == crop));
        QTest::mouseMove(&slider, at(0.5));
        QTest::mouseRelease(&slider, Qt::LeftButton, {}, at(0.5));
        QCOMPARE(m_driver->session().take()->geometry.crop, crop);
        set({6, 0, 0});
        const Rect most = m_driver->session().picture().cropRect();
        const QRectF box =
            m_driver->canvas().transform().boxOf(m_driver->session().picture().rect());
        auto &canvas = m_driver->canvas();
        QTest::mousePress(&canvas, Qt::LeftButton, {}, box.topLeft().toPoint());
        QTest::mouseMove(&canvas, box.topLeft().toPoint() - QPoint(60, 60));
        QTest::mouseRelease(&canvas, Qt::LeftButton, {}, box.topLeft().toPoint() - QPoint(60, 60));
        QVERIFY(m_driver->session().picture().warp().isFilled(
            m_driver->session().picture().cropRect()));
        QTest::mouseClick(&child<QCheckBox>("whiteCorners"), Qt::LeftButton);
        press("wholePhoto");
        QCOMPARE(m_driver->session().picture().cropRect(),
                 m_driver->session().levels()->photo().rect());
        QTest::mouseClick(&child<QCheckBox>("whiteCorners"), Qt::LeftButton);
        QVERIFY(m_driver->session().picture().cropRect().width() <= most.width() + 2);
    }

    /// Levelled, turned or mirrored: paint lands under the pointer, and masks stay as they were.
    void paintLandsUnderThePointer()
    {
        m_driver->session().select(
            {app::TicketLine::Kind::Keep, m_driver->session().work().take().keeps[0].id});
        m_driver->key(Qt::Key_1);
        m_driver->window().brush().setTip({1, 0, 1, 1, PressureSteers::Nothing});
        Geometry way;
        way.straightening = {-7, 12, 5};
        way.isMirrored = true;
        way.quarterTurns = 1;
        Take take = m_driver->session().work().take();
        take.geometry = way;
        m_driver->session().edit(QStringLiteral("test"), std::move(take));
        m_driver->settle();
        for (const double zoom : {1.0, 3.0, 8.0}) {
            m_driver->canvas().restoreView(zoom, {1300, 800});
            const QPoint at = m_driver->at(1310.5, 790.5);
            const QPointF photo = m_driver->canvas().transform().toPhoto(at);
            QVERIFY((photo - QPointF(1310.5, 790.5)).manhattanLength() <= 1.5 / zoom + 0.5);
            m_driver->paint({{1310.5, 790.5}});
            const Keep &keep = m_driver->session().work().take().keeps[0];
            const auto mask = test::maskOf(keep, m_driver->session().levels()->photo().rect());
            const int width = m_driver->session().levels()->photo().width;
            QCOMPARE(mask[size_t(int(std::floor(photo.y())) * width + int(std::floor(photo.x())))],
                     uint16_t(65535));
            m_driver->session().undo();
        }
        m_driver->paint({{900, 700}, {1100, 760}});
        const auto masks = [this] {
            return test::maskOf(m_driver->session().work().take().keeps[0],
                                m_driver->session().levels()->photo().rect());
        };
        const auto before = masks();
        const QString file = m_folder.filePath(QStringLiteral("levelled.buttonhole"));
        set({0, 0, 0}, {500, 400, 1500, 1200});
        QVERIFY(masks() == before);
        set(way.straightening);
        QVERIFY(m_driver->save(file));
        QVERIFY(m_driver->open(file));
        QCOMPARE(geometry().straightening, way.straightening);
        QVERIFY(masks() == before);
    }
};

BUTTONHOLE_TEST(TstStraighten)
#include "tst_straighten.moc"
