#include "io/lab_row.h"
#include "io/photo_levels.h"

#include "registry.h"
#include "sample_files.h"
#include "samples.h"

#include <QTemporaryDir>

#include <cmath>

using namespace buttonhole;

class TstPhotoLevels : public QObject
{
    Q_OBJECT
private Q_SLOTS:
    void everyLevelHalvesDownToAThumbnail()
    {
        const auto levels = PhotoLevels::make(test::makePhoto(1101, 767));
        QVERIFY(levels);
        QCOMPARE((*levels)->count(), 4); // 1101, 551, 276, 138
        for (int n = 1; n < 4; ++n) {
            const auto &image = std::get<Image<uint8_t>>((*levels)->level(n));
            QCOMPARE(image.width(), sizeAtLevel(1101, n));
            QCOMPARE(image.height(), sizeAtLevel(767, n));
        }
    }

    /// Made while the photo is decoded or after it, or not at all.
    void onlyWhatIsNeededIsMade()
    {
        const std::string photo = test::demo("spools.jpg").toStdString();
        const auto all = PhotoLevels::load(photo);
        const auto asked = PhotoLevels::load(
            photo, {}, [](int width, int height) { return width > height && height > 256; });
        const auto none = PhotoLevels::load(photo, {}, [](int, int) { return false; });
        QVERIFY(all && asked && none);
        QVERIFY((*all)->count() > 2);
        QCOMPARE((*asked)->count(), (*all)->count());
        QCOMPARE((*none)->count(), 1);
        for (int n = 0; n < (*all)->count(); ++n) {
            const auto &one = std::get<Image<uint8_t>>((*all)->level(n));
            const auto &other = std::get<Image<uint8_t>>((*asked)->level(n));
            QVERIFY(std::memcmp(one.row(0), other.row(0), one.bytes()) == 0);
        }
    }

    void reducedPixelsAreMeansOfLight_data()
    {
        QTest::addColumn<int>("bits");
        QTest::newRow("8 bits") << 8;
        QTest::newRow("16 bits") << 16;
    }
    void reducedPixelsAreMeansOfLight()
    {
        QFETCH(int, bits);
        const auto photo = test::makePhoto(601, 401, bits);
        const auto levels = PhotoLevels::make(photo);
        const auto &linear = photo->profile.toLinear(0);
        Photo half;
        half.pixels = std::visit([](const auto &image) -> PhotoPixels { return image.clone(); },
                                 (*levels)->level(1));
        const double step = bits == 8 ? 1.0 / 255 : 1.0 / 65535;
        for (int y = 0; y < 201; y += 3)
            for (int x = 0; x < 301; ++x)
                for (int c = 0; c < 3; ++c) {
                    double sum = 0;
                    for (int i = 0; i < 4; ++i) // the last column and row stand for two
                        sum += double(linear[test::codeAt(*photo, std::min(2 * x + i % 2, 600),
                                                          std::min(2 * y + i / 2, 400), c)]);
                    const double expected = sum / 4;
                    const double code = test::codeAt(half, x, y, c) / 65535.0;
                    const double exact = expected <= 0.0031308
                                             ? 12.92 * expected
                                             : 1.055 * std::pow(expected, 1 / 2.4) - 0.055;
                    QVERIFY(std::abs(code - exact) <= 0.56 * step);
                }
    }

    /// Made behind the decoder or after it, levels are the same.
    void loadingMakesTheSameLevels_data()
    {
        QTest::addColumn<QString>("photo");
        QTest::newRow("upright") << test::demo("spools.jpg");
        QTest::newRow("turned") << test::demo("button-jar.jpg");
        QTest::newRow("odd sides") << QString();
    }
    void loadingMakesTheSameLevels()
    {
        QFETCH(QString, photo);
        const QTemporaryDir folder;
        if (photo.isEmpty()) {
            photo = folder.filePath(QStringLiteral("odd.jpg"));
            test::writeJpeg(photo, test::makePicture<uint8_t>(1101, 767));
        }
        const auto loaded = PhotoLevels::load(photo.toStdString());
        QVERIFY(loaded);
        const std::shared_ptr<const Photo> same(*loaded, &(*loaded)->photo());
        const auto made = PhotoLevels::make(same);
        QCOMPARE((*loaded)->count(), (*made)->count());
        QVERIFY((*loaded)->count() > 2);
        for (int n = 0; n < (*made)->count(); ++n) {
            const auto &a = std::get<Image<uint8_t>>((*loaded)->level(n));
            const auto &b = std::get<Image<uint8_t>>((*made)->level(n));
            QVERIFY(a.rect() == b.rect());
            QVERIFY(std::equal(a.row(0), a.row(0) + a.count(), b.row(0)));
        }
    }

    void loadingStopsAndFailsCleanly()
    {
        const QTemporaryDir folder;
        const QString cut = folder.filePath(QStringLiteral("cut.jpg"));
        auto bytes = test::bytesOf(test::demo("spools.jpg"));
        bytes.resize(bytes.size() / 4);
        test::writeFile(cut, bytes.data(), bytes.size());
        QCOMPARE(PhotoLevels::load(cut.toStdString()).error().kind, ErrorKind::Damaged);
        std::stop_source stop;
        Run run{stop.get_token(), [&](float f) {
                    if (f > 0.2F)
                        stop.request_stop();
                }};
        QCOMPARE(PhotoLevels::load(test::demo("spools.jpg").toStdString(), run).error().kind,
                 ErrorKind::Cancelled);
    }

    void rarestHueIsFarFromWhatIsThere()
    {
        auto photo = std::make_shared<Photo>();
        photo->width = photo->height = 300;
        Image<uint8_t> image(300, 300, 3);
        for (int y = 0; y < 300; ++y)
            for (int x = 0; x < 300; ++x) {
                const uint8_t colours[4][3] = {
                    {200, 40, 40}, {190, 150, 30}, {60, 180, 60}, {40, 60, 200}};
                std::copy_n(colours[x / 75], 3, image.pixel(x, y));
            }
        photo->pixels = std::move(image);
        const auto levels = PhotoLevels::make(photo);
        const double hue = findRarestHueDeg(**levels);
        for (int i = 0; i < 4; ++i) {
            const double there = readPixel(**levels, i * 75 + 30, 20).hueDeg;
            const double apart = std::abs(std::remainder(hue - there, 360.0));
            QVERIFY2(apart > 19, qPrintable(QString::number(there)));
        }
    }

    void readingOfAPixel()
    {
        const auto levels = PhotoLevels::makeFlat(test::makePhoto(200, 100));
        const PixelReading neutral = readPixel(*levels, 199, 99); // the white end of the ramp
        QVERIFY(neutral.chroma < 1e-3);
        QVERIFY(std::abs(neutral.lightness - 1) < 1e-3);
    }

    /// Each thread keeps the tile that it read last: other places, levels and photos must not see
    /// it.
    void tilesOfLabAreWhatRunsRead()
    {
        const auto one = *PhotoLevels::make(test::makePhoto(700, 500));
        const auto deep = *PhotoLevels::make(test::makePhoto(700, 500, 16));
        const struct {
            const PhotoLevels *levels;
            int level;
            Rect area;
        } looks[] = {{one.get(), 0, {0, 0, 256, 256}},     {one.get(), 0, {0, 0, 256, 256}},
                     {one.get(), 0, {256, 0, 512, 256}},   {one.get(), 1, {0, 0, 256, 250}},
                     {deep.get(), 1, {0, 0, 256, 250}},    {deep.get(), 0, {444, 244, 700, 500}},
                     {one.get(), 0, {444, 244, 700, 500}}, {one.get(), 0, {699, 499, 700, 500}}};
        for (const auto &look : looks) {
            const LabTile &tile = LabTile::of(*look.levels, look.level, look.area);
            LabRow run;
            for (int y = 0; y < look.area.height(); y += 7) {
                run.read(*look.levels, look.level, look.area.x0, look.area.y0 + y,
                         look.area.width());
                for (int x = 0; x < look.area.width(); ++x) {
                    QCOMPARE(tile.L(y)[x], run.L[x]);
                    QCOMPARE(tile.a(y)[x], run.a[x]);
                    QCOMPARE(tile.b(y)[x], run.b[x]);
                }
            }
        }
    }

    void canBeStopped()
    {
        std::stop_source stop;
        stop.request_stop();
        Run run;
        run.stop = stop.get_token();
        QCOMPARE(PhotoLevels::make(test::makePhoto(900, 600), run).error().kind,
                 ErrorKind::Cancelled);
    }
};

BUTTONHOLE_TEST(TstPhotoLevels)

#include "tst_photo_levels.moc"
