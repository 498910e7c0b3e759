#include "io/photo.h"

#include "io/jpeg.h"
#include "io/png.h"
#include "registry.h"
#include "sample_files.h"
#include "samples.h"

#include <QFile>
#include <QTemporaryDir>

#include <cmath>

using namespace buttonhole;
using test::codeAt;

class TstPhoto : public QObject
{
    Q_OBJECT
    QTemporaryDir m_folder;

    QString at(const QString &name) const { return m_folder.filePath(name); }
    static Result<Photo> load(const QString &path) { return loadPhoto(path.toStdString()); }

    struct Difference {
        int worst = 0;
        double mean = 0;
    };
    /// Of two pictures, as 16-bit codes.
    static Difference difference(const Photo &photo, const Image<uint16_t> &expected)
    {
        Difference out;
        for (int y = 0; y < photo.height; ++y)
            for (int x = 0; x < photo.width; ++x)
                for (int c = 0; c < 3; ++c) {
                    const int off = std::abs(codeAt(photo, x, y, c) - int(expected.pixel(x, y)[c]));
                    out.worst = std::max(out.worst, off);
                    out.mean += off / (3.0 * photo.width * photo.height);
                }
        return out;
    }

private Q_SLOTS:
    void readsFormats_data()
    {
        QTest::addColumn<QString>("name");
        QTest::addColumn<int>("type");
        QTest::addColumn<int>("bits");
        QTest::addColumn<int>("worst");
        QTest::addColumn<int>("mean");
        using test::Type;
        QTest::newRow("PNG 8") << "a.png" << int(Type::U8) << 8 << 130 << 130;
        QTest::newRow("PNG 16") << "b.png" << int(Type::U16) << 16 << 0 << 0;
        QTest::newRow("TIFF 8") << "a.tif" << int(Type::U8) << 8 << 130 << 130;
        QTest::newRow("TIFF 16") << "b.tiff" << int(Type::U16) << 16 << 0 << 0;
        QTest::newRow("WebP") << "a.webp" << int(Type::U8) << 8 << 14000 << 1200;
        QTest::newRow("HEIF") << "a.heic" << int(Type::U8) << 8 << 14000 << 1200;
        QTest::newRow("AVIF") << "a.avif" << int(Type::U8) << 8 << 14000 << 1200;
        QTest::newRow("JPEG") << "a.jpg" << int(Type::U8) << 8 << 14000 << 1200;
    }
    void readsFormats()
    {
        QFETCH(QString, name);
        QFETCH(int, type);
        QFETCH(int, bits);
        QFETCH(int, worst);
        QFETCH(int, mean);
        const auto picture = test::makePicture<uint16_t>(96, 64);
        test::writeByLibrary(at(name), picture, test::Type(type));
        const auto photo = load(at(name));
        QVERIFY2(photo, photo ? "" : sentence(photo.error()).c_str());
        QCOMPARE(photo->width, 96);
        QCOMPARE(photo->height, 64);
        QCOMPARE(photo->sourceBits, bits);
        QCOMPARE(photo->bitDepth(), bits);
        const Difference off = difference(*photo, picture);
        QVERIFY2(off.worst <= worst && off.mean <= mean,
                 qPrintable(QStringLiteral("worst %1, mean %2").arg(off.worst).arg(off.mean)));
    }

    void floatTiffIsLinearLightAndSaysWhatItCut()
    {
        Image<uint16_t> picture(4, 1, 3);
        const uint16_t values[4] = {0, 11796, 32768, 65535}; // 11796 / 65535 = 18 %
        for (int x = 0; x < 4; ++x)
            for (int c = 0; c < 3; ++c)
                picture.pixel(x, 0)[c] = values[x];
        test::writeByLibrary(at(QStringLiteral("f.tif")), picture, test::Type::Float);
        const auto photo = load(at(QStringLiteral("f.tif")));
        QVERIFY(photo);
        QCOMPARE(photo->sourceBits, 32);
        QCOMPARE(photo->bitDepth(), 16);
        QVERIFY(std::abs(codeAt(*photo, 1, 0, 0) - 30228) < 20); // sRGB of 18 % is 0.4614
        QCOMPARE(codeAt(*photo, 3, 0, 2), uint16_t(65535));
        QVERIFY(!photo->notes.empty());
    }

    void greyBecomesEqualChannels_data()
    {
        QTest::addColumn<QString>("name");
        QTest::addColumn<int>("type");
        QTest::newRow("8 bits") << "g8.png" << int(test::Type::U8);
        QTest::newRow("16 bits") << "g16.png" << int(test::Type::U16);
        QTest::newRow("TIFF 16 bits") << "g16.tif" << int(test::Type::U16);
        QTest::newRow("JPEG") << "g.jpg" << int(test::Type::U8);
    }
    void greyBecomesEqualChannels()
    {
        QFETCH(QString, name);
        QFETCH(int, type);
        const auto picture = test::makePicture<uint16_t>(40, 30, 1);
        test::writeByLibrary(at(name), picture, test::Type(type));
        const auto photo = load(at(name));
        QVERIFY(photo);
        for (int x = 0; x < 40; ++x) {
            QCOMPARE(codeAt(*photo, x, 20, 0), codeAt(*photo, x, 20, 1));
            QCOMPARE(codeAt(*photo, x, 20, 0), codeAt(*photo, x, 20, 2));
            QVERIFY(std::abs(codeAt(*photo, x, 20, 0) - int(picture.pixel(x, 20)[0])) < 4000);
        }
    }

    void aPaletteWithAlphaIsLaidOnWhite()
    {
        test::writePalettePng(at(QStringLiteral("p.png")), 8, 2);
        const auto photo = load(at(QStringLiteral("p.png")));
        QVERIFY(photo);
        QCOMPARE(codeAt(*photo, 0, 0, 0), uint16_t(200 * 257));
        QCOMPARE(codeAt(*photo, 5, 1, 1), uint16_t(200 * 257));
        QVERIFY(std::abs(codeAt(*photo, 3, 0, 0) / 257 - 127) <= 1); // half of black on white
        QVERIFY(!photo->notes.empty());
    }

    void cmykIsConverted()
    {
        Image<uint8_t> cmyk(16, 16, 4);
        for (int y = 0; y < 16; ++y)
            for (int x = 0; x < 16; ++x) {
                const uint8_t ink[4] = {0, 255, 255, 0}; // magenta and yellow: red
                std::copy_n(ink, 4, cmyk.pixel(x, y));
            }
        test::writeJpeg(at(QStringLiteral("cmyk.jpg")), cmyk, 100);
        const auto photo = load(at(QStringLiteral("cmyk.jpg")));
        QVERIFY(photo);
        QVERIFY(codeAt(*photo, 8, 8, 0) > 60000);
        QVERIFY(codeAt(*photo, 8, 8, 1) < 4000);
        QVERIFY(!photo->notes.empty());
    }

    void cameraRawIsDevelopedUpright()
    {
        test::writeDng(at(QStringLiteral("mill.dng")), 128, 96, 1);
        const auto plain = load(at(QStringLiteral("mill.dng")));
        QVERIFY2(plain, plain ? "" : sentence(plain.error()).c_str());
        QCOMPARE(plain->bitDepth(), 16);
        // The left half is the warm one, the right neutral.
        const int w = plain->width;
        const int h = plain->height;
        QVERIFY(codeAt(*plain, w / 4, h / 2, 0) > codeAt(*plain, w / 4, h / 2, 2) + 8000);
        const int spread =
            std::abs(codeAt(*plain, 3 * w / 4, h / 2, 0) - codeAt(*plain, 3 * w / 4, h / 2, 2));
        QVERIFY2(spread < 3000, qPrintable(QString::number(spread)));

        test::writeDng(at(QStringLiteral("turned.dng")), 128, 96, 6);
        const auto turned = load(at(QStringLiteral("turned.dng")));
        QVERIFY(turned);
        QCOMPARE(turned->width, h);
        QCOMPARE(turned->height, w);
        // Turned clockwise, left becomes top.
        QVERIFY(codeAt(*turned, h / 2, w / 4, 0) > codeAt(*turned, h / 2, w / 4, 2) + 8000);
    }

    /// Every EXIF orientation against the table of EXIF 2.32, tag 0x0112: where the stored top-left
    /// and top-right pixels must stand when shown.
    void orientationsStandUpright_data()
    {
        QTest::addColumn<int>("orientation");
        QTest::addColumn<QPoint>("topLeft");
        QTest::addColumn<QPoint>("topRight");
        QTest::newRow("1") << 1 << QPoint(0, 0) << QPoint(2, 0);
        QTest::newRow("2 mirrored") << 2 << QPoint(2, 0) << QPoint(0, 0);
        QTest::newRow("3 half turn") << 3 << QPoint(2, 1) << QPoint(0, 1);
        QTest::newRow("4 flipped") << 4 << QPoint(0, 1) << QPoint(2, 1);
        QTest::newRow("5 transposed") << 5 << QPoint(0, 0) << QPoint(0, 2);
        QTest::newRow("6 turn right") << 6 << QPoint(1, 0) << QPoint(1, 2);
        QTest::newRow("7 transversed") << 7 << QPoint(1, 2) << QPoint(1, 0);
        QTest::newRow("8 turn left") << 8 << QPoint(0, 2) << QPoint(0, 0);
    }
    void orientationsStandUpright()
    {
        QFETCH(int, orientation);
        QFETCH(QPoint, topLeft);
        QFETCH(QPoint, topRight);
        Image<uint8_t> image(3, 2, 1);
        for (int i = 0; i < 6; ++i)
            image.row(0)[i] = uint8_t(10 + i);
        const auto turned = oriented(std::move(image), orientation);
        QCOMPARE(turned.width(), orientation >= 5 ? 2 : 3);
        QCOMPARE(int(*turned.pixel(topLeft.x(), topLeft.y())), 10);
        QCOMPARE(int(*turned.pixel(topRight.x(), topRight.y())), 12);
    }

    void exifOrientationIsApplied()
    {
        Image<uint8_t> picture(32, 16, 3);
        std::fill_n(picture.row(0), picture.count(), uint8_t(0));
        for (int y = 0; y < 16; ++y)
            for (int x = 0; x < 16; ++x)
                picture.pixel(x, y)[0] = 255; // red left half
        test::writeJpeg(at(QStringLiteral("o.jpg")), picture);
        test::addMetadata(at(QStringLiteral("o.jpg")), 6);
        const auto photo = load(at(QStringLiteral("o.jpg")));
        QVERIFY(photo);
        QCOMPARE(photo->width, 16);
        QCOMPARE(photo->height, 32);
        QVERIFY(codeAt(*photo, 8, 4, 0) > 60000);
        QVERIFY(codeAt(*photo, 8, 28, 0) < 4000);
        // The demo photo that is stored turned has an upright matte.
        const auto jar = load(test::demo("button-jar.jpg"));
        QVERIFY(jar->height > jar->width);
    }

    void aGlanceIsTheSamePictureReduced()
    {
        const auto picture = test::makePicture<uint8_t>(800, 400);
        const QString file = at(QStringLiteral("glance.jpg"));
        test::writeJpeg(file, picture, 95, test::wideProfile().icc());
        test::addMetadata(file, 6);
        const auto whole = load(file);
        const auto glance = loadGlance(file.toStdString(), 190);
        QVERIFY(glance);
        QCOMPARE(glance->fullWidth, whole->width);
        QCOMPARE(glance->fullHeight, whole->height);
        QCOMPARE(glance->photo.width, 100); // upright, 1/4: 1/8 would have less than 190
        QCOMPARE(glance->photo.height, 200);
        QVERIFY(glance->photo.profile.isSameSpaceAs(whole->profile));
        for (int y = 8; y < 200; y += 16)
            for (int x = 8; x < 100; x += 16)
                for (int c = 0; c < 3; ++c) {
                    int mean = 0;
                    for (int i = 0; i < 16; ++i)
                        mean += codeAt(*whole, 4 * x + i % 4, 4 * y + i / 4, c) / 16;
                    QVERIFY(std::abs(mean - codeAt(glance->photo, x, y, c)) < 1500);
                }
        // Small ones are not reduced; other formats and broken files say so.
        QCOMPARE(loadGlance(file.toStdString(), 900)->photo.height, 800);
        const QString other = at(QStringLiteral("glance.png"));
        test::writeByLibrary(other, test::makePicture<uint16_t>(16, 16), test::Type::U8);
        QCOMPARE(loadGlance(other.toStdString(), 100).error().kind, ErrorKind::NotAPhoto);
        const auto bytes = test::bytesOf(file);
        test::writeFile(file, bytes.data(), 300);
        QVERIFY(!loadGlance(file.toStdString(), 100));
    }

    void embeddedProfileIsKept()
    {
        const auto picture = test::makePicture<uint8_t>(16, 16);
        test::writeJpeg(at(QStringLiteral("wide.jpg")), picture, 95, test::wideProfile().icc());
        const auto photo = load(at(QStringLiteral("wide.jpg")));
        QVERIFY(photo->hasOwnProfile);
        QVERIFY(photo->profile.isSameSpaceAs(test::wideProfile()));
        QCOMPARE(photo->profile.icc(), test::wideProfile().icc());

        test::writeJpeg(at(QStringLiteral("bad.jpg")), picture, 95,
                        std::vector<uint8_t>(200, uint8_t(7)));
        const auto bad = load(at(QStringLiteral("bad.jpg")));
        QVERIFY(bad);
        QVERIFY(!bad->hasOwnProfile);
        QVERIFY(!bad->notes.empty());
    }

    void badFilesAreWorded_data()
    {
        QTest::addColumn<QString>("name");
        QTest::addColumn<QByteArray>("bytes");
        QTest::addColumn<int>("kind");
        const auto jpeg = test::bytesOf(test::demo("loom.jpg"));
        const QByteArray whole(reinterpret_cast<const char *>(jpeg.data()), qsizetype(jpeg.size()));
        Image<uint16_t> grey = test::makePicture<uint16_t>(64, 64, 1);
        const auto png = encodeGreyPng(grey);
        const QByteArray wholePng(reinterpret_cast<const char *>(png->data()),
                                  qsizetype(png->size()));
        const int damaged = int(ErrorKind::Damaged);
        const int foreign = int(ErrorKind::NotAPhoto);
        QTest::newRow("empty") << "e.jpg" << QByteArray() << damaged;
        QTest::newRow("text") << "t.jpg" << QByteArray("Open day at the mill\n") << foreign;
        QTest::newRow("text without ending") << "t" << QByteArray("Open day") << foreign;
        QTest::newRow("JPEG, only its start") << "s.jpg" << whole.left(3) << damaged;
        QTest::newRow("JPEG, cut in the header") << "h.jpg" << whole.left(300) << damaged;
        QTest::newRow("JPEG, cut in the middle")
            << "m.jpg" << whole.left(whole.size() / 4) << damaged;
        QTest::newRow("PNG, cut") << "c.png" << wholePng.left(wholePng.size() / 2) << damaged;
        QTest::newRow("PNG, flipped bits")
            << "f.png" << QByteArray(wholePng).replace(200, 8, "mill-day") << damaged;
        QTest::newRow("TIFF, only its start")
            << "x.tif" << QByteArray("II*\0\x08\0\0\0", 8) << foreign;
    }
    void badFilesAreWorded()
    {
        QFETCH(QString, name);
        QFETCH(QByteArray, bytes);
        QFETCH(int, kind);
        test::writeFile(at(name), bytes.constData(), size_t(bytes.size()));
        const auto photo = load(at(name));
        QVERIFY(!photo);
        QCOMPARE(QString::fromStdString(kindName(photo.error().kind)),
                 QString::fromStdString(kindName(ErrorKind(kind))));
        QVERIFY(QString::fromStdString(sentence(photo.error())).contains(name));
    }

    void missingAndForbiddenFiles()
    {
        QCOMPARE(load(at(QStringLiteral("nowhere.jpg"))).error().kind, ErrorKind::NotFound);
        QCOMPARE(load(m_folder.path()).error().kind, ErrorKind::NotAPhoto);
    }

    void extremeSizes()
    {
        test::writeBlackPng(at(QStringLiteral("one.png")), 1, 1);
        const auto one = load(at(QStringLiteral("one.png")));
        QVERIFY(one);
        QCOMPARE(one->width, 1);
        test::writeBlackPng(at(QStringLiteral("wide.png")), 70000, 2);
        QCOMPARE(load(at(QStringLiteral("wide.png"))).error().kind, ErrorKind::TooLarge);
        test::writeBlackPng(at(QStringLiteral("much.png")), 30000, 20000);
        QCOMPARE(load(at(QStringLiteral("much.png"))).error().kind, ErrorKind::TooLarge);
    }

    void twentyThousandSquaredOpens()
    {
#if defined(__SANITIZE_ADDRESS__)
        QSKIP("known: 400 megapixels take too long under the sanitizer; the plain run has them");
#endif
        test::writeBlackPng(at(QStringLiteral("large.png")), 20000, 20000);
        const auto large = load(at(QStringLiteral("large.png")));
        QVERIFY2(large, large ? "" : sentence(large.error()).c_str());
        QCOMPARE(large->width, 20000);
        QCOMPARE(codeAt(*large, 19999, 19999, 2), uint16_t(0));
    }

    void canBeStopped()
    {
        std::stop_source stop;
        stop.request_stop();
        Run run;
        run.stop = stop.get_token();
        const auto photo = loadPhoto(test::demo("loom.jpg").toStdString(), run);
        QVERIFY(!photo);
        QCOMPARE(photo.error().kind, ErrorKind::Cancelled);
    }

    void progressReachesTheEnd()
    {
        float last = 0;
        Run run;
        run.progress = [&](float f) { last = std::max(last, f); };
        QVERIFY(loadPhoto(test::demo("loom.jpg").toStdString(), run));
        QVERIFY(last > 0.9F);
    }
};

BUTTONHOLE_TEST(TstPhoto)

#include "tst_photo.moc"
