#include "document/take.h"
#include "render/render.h"
#include "subject/level_angle.h"

#include "registry.h"
#include "samples.h"

using namespace buttonhole;

/// Photos set level by their straight edges.
class TstLevelAngle : public QObject
{
    Q_OBJECT

    /// The photo turned by an angle, as a photo of its own.
    static std::shared_ptr<const PhotoLevels> turned(const PhotoLevels &levels, float deg)
    {
        Take take = makeTake();
        take.greyOn = false;
        take.keeps.clear();
        take.geometry.straightening.angleDeg = deg;
        const PictureRect area = pictureOf(levels, take).rect();
        auto photo = std::make_shared<Photo>();
        photo->width = area.width();
        photo->height = area.height();
        Image<uint8_t> pixels(area.width(), area.height(), 3);
        const auto done =
            renderPicture(levels, take, View::Result, 0, area, OutputColour(Profile::srgb()),
                          {RenderTarget::Layout::Rgb8, pixels.row(0), pixels.stride()});
        photo->pixels = std::move(pixels);
        const auto made = PhotoLevels::make(photo);
        return done && made ? *made : nullptr;
    }

private Q_SLOTS:
    void plantedAnglesAreFound_data()
    {
        QTest::addColumn<QString>("name");
        QTest::addColumn<bool>("hasLines");
        for (const char *name : {"spools", "washing-line", "mill-pond", "wool-basket"})
            QTest::newRow(name) << QString::fromLatin1(name) << true;
        QTest::newRow("loom") << QStringLiteral("loom") << false; // threads run aslant
    }

    void plantedAnglesAreFound()
    {
        QFETCH(const QString, name);
        QFETCH(const bool, hasLines);
        const auto levels = PhotoLevels::load(BUTTONHOLE_DEMO "/" + name.toStdString() + ".jpg");
        QVERIFY(levels);
        const auto asItIs = findLevelAngle(**levels);
        QCOMPARE(asItIs.has_value(), hasLines);
        if (!hasLines)
            return;
        for (const float planted : {-8.0F, 1.5F, 5.0F}) {
            const auto found = findLevelAngle(*turned(**levels, planted));
            QVERIFY2(found, qPrintable(QString::number(double(planted))));
            const float off = *found + planted - *asItIs;
            QVERIFY2(std::abs(off) <= 0.2F,
                     qPrintable(QStringLiteral("%1: %2").arg(double(planted)).arg(double(off))));
        }
    }

    void whatHasNoLinesHasNoAngle()
    {
        const auto noise = test::levelsOf(600, 400, [](int x, int y) {
            const int v = (x * 7919 + y * 104729 + (x * y) % 251 * 31) % 200;
            return std::array{v, v, v};
        });
        QVERIFY(!findLevelAngle(*noise));
        const auto plain = test::levelsOf(40, 30, [](int, int) { return std::array{90, 90, 90}; });
        QVERIFY(!findLevelAngle(*plain));
    }
};

BUTTONHOLE_TEST(TstLevelAngle)

#include "tst_level_angle.moc"
