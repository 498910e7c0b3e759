#include "document/set_param.h"
#include "document/take.h"
#include "render/render.h"

#include "dng.h"
#include "registry.h"
#include "samples.h"

#include <QFile>
#include <QTemporaryDir>

#include <cmath>

using namespace buttonhole;

/// Raw photos: the camera's white balance, 16 bits, and what is lighter than white.
class TstRaw : public QObject
{
    Q_OBJECT
    QTemporaryDir m_folder;

    std::string write(const std::vector<uint8_t> &bytes, const char *name = "photo.dng")
    {
        QFile file(m_folder.filePath(QLatin1String(name)));
        if (file.open(QIODevice::WriteOnly))
            file.write(reinterpret_cast<const char *>(bytes.data()), qint64(bytes.size()));
        return file.fileName().toStdString();
    }
    /// Four parts: a middle grey, a light one, one that is lighter than the sensor's green holds,
    /// and a leaf.
    std::string photo()
    {
        return write(test::makeDng(320, 240, {0.5, 1, 0.7}, [](int x, int y) {
            if (y < 120)
                return x < 160 ? std::array{0.18, 0.18, 0.18} : std::array{0.9, 0.9, 0.9};
            return x < 160 ? std::array{1.44, 1.44, 1.44} : std::array{0.05, 0.3, 0.08};
        }));
    }
    static std::array<int, 3> rendered(const PhotoLevels &levels, const Take &take, int x, int y)
    {
        std::array<uint16_t, 3> out{};
        const auto done = renderPicture(levels, take, View::Result, 0, {x, y, x + 1, y + 1},
                                        OutputColour(Profile::srgb()),
                                        {RenderTarget::Layout::Rgb16, out.data(), 6});
        return done ? std::array{int(out[0]), int(out[1]), int(out[2])} : std::array{-1, -1, -1};
    }
    static double code(double light)
    {
        return 65535 *
               (light <= 0.0031308 ? 12.92 * light : 1.055 * std::pow(light, 1 / 2.4) - 0.055);
    }

private Q_SLOTS:
    void itLooksAsTheCameraMeantIt()
    {
        const auto levels = PhotoLevels::load(photo());
        QVERIFY2(levels, levels ? "" : sentence(levels.error()).c_str());
        const Photo &photo = (*levels)->photo();
        QCOMPARE(photo.bitDepth(), 16);
        QVERIFY(std::abs(photo.headroomEv - 1) < 0.01F); // green is twice as strong as red
        Take take = makeWork(photo).take();
        take.greyOn = false;
        const auto grey = rendered(**levels, take, 80, 60);
        for (const int c : grey)
            QVERIFY2(std::abs(c - code(0.18)) < 300, qPrintable(QString::number(c)));
        for (const int c : rendered(**levels, take, 240, 60))
            QVERIFY(std::abs(c - code(0.9)) < 500);
        const auto leaf = rendered(**levels, take, 240, 180);
        QVERIFY(std::abs(leaf[1] - code(0.3)) < 900);
        QVERIFY(leaf[1] > 3 * leaf[0] / 2 && leaf[1] > 3 * leaf[2] / 2);
    }

    /// Too light for white: with the exposure taken down it is lighter than what was nearly white.
    void highlightsAreThere()
    {
        const auto levels = PhotoLevels::load(photo());
        QVERIFY(levels);
        Take take = makeWork((*levels)->photo()).take();
        take.greyOn = false;
        for (const int c : rendered(**levels, take, 80, 180))
            QCOMPARE(c, 65535);
        const auto darker = withParam(take, "prepare.light.exposureEv=0");
        QVERIFY(darker);
        const auto was = rendered(**levels, *darker, 80, 180);
        const auto light = rendered(**levels, *darker, 240, 60);
        QVERIFY(was[1] > light[1] + 3000 && was[1] < 65000);
        QVERIFY(std::abs(was[0] - was[2]) < 600); // and without colour
    }

    void otherPhotosHaveNoHeadroom()
    {
        const auto jpeg = loadPhoto(test::demo("loom.jpg").toStdString());
        QVERIFY(jpeg);
        QCOMPARE(jpeg->headroomEv, 0.0F);
        QVERIFY(makeWork(*jpeg).take().prepare.empty());
        // What was begun on a darker reading is taken along.
        const Work moved = withHeadroom(makeWork(), 1.5F);
        QCOMPARE(moved.take().prepare.size(), size_t(1));
        QVERIFY(withHeadroom(moved, -1.5F).take().prepare.empty());
    }

    void brokenOnesAreRefused()
    {
        QFile whole(QString::fromStdString(photo()));
        QVERIFY(whole.open(QIODevice::ReadOnly));
        const QByteArray bytes = whole.readAll();
        for (const int length : {9, 200, 600}) {
            const auto start = reinterpret_cast<const uint8_t *>(bytes.constData());
            const auto result = loadPhoto(write({start, start + length}, "cut.dng"));
            QVERIFY(!result);
            QVERIFY(!result.error().subject.empty());
        }
    }
};

BUTTONHOLE_TEST(TstRaw)

#include "tst_raw.moc"
