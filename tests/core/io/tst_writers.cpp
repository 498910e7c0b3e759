#include "io/jpeg.h"
#include "io/photo.h"
#include "io/png.h"

#include "registry.h"
#include "samples.h"

#include <fcntl.h>
#include <unistd.h>

using namespace buttonhole;

/// The streaming writers, read back by the readers.
class TstWriters : public QObject
{
    Q_OBJECT
private Q_SLOTS:
    void jpegComesBackCloseAtFullChroma()
    {
        const auto picture = test::makePicture<uint8_t>(64, 48);
        PictureSpec spec;
        spec.width = 64;
        spec.height = 48;
        spec.quality = 98;
        const auto bytes = encodeJpeg(picture, spec);
        QVERIFY(bytes);
        const auto back = decodeJpeg(*bytes, "memory", {});
        QVERIFY(back);
        const auto &image = std::get<Image<uint8_t>>(back->pixels);
        double sum = 0;
        for (size_t i = 0; i < image.count(); ++i)
            sum += std::abs(int(image.row(0)[i]) - int(picture.row(0)[i]));
        QVERIFY(sum / double(image.count()) < 2.0);
    }

    void greyPngIsExact()
    {
        const auto picture = test::makePicture<uint16_t>(77, 31, 1);
        const auto bytes = encodeGreyPng(picture);
        QVERIFY(bytes);
        const auto back = decodePng(*bytes, "memory", {});
        QVERIFY(back);
        const auto &image = std::get<Image<uint16_t>>(back->pixels);
        QVERIFY(std::equal(image.row(0), image.row(0) + image.count(), picture.row(0)));
    }

    void writeErrorsComeBack_data()
    {
        QTest::addColumn<bool>("jpeg");
        QTest::newRow("JPEG") << true;
        QTest::newRow("PNG") << false;
    }
    void writeErrorsComeBack()
    {
        QFETCH(bool, jpeg);
        const int full = ::open("/dev/full", O_WRONLY);
        QVERIFY(full >= 0);
        const auto picture = test::makePicture<uint8_t>(800, 800);
        PictureSpec spec;
        spec.width = 800;
        spec.height = 800;
        auto writer = jpeg ? makeJpegWriter(full, spec, "out") : makePngWriter(full, spec, "out");
        Result<void> done;
        if (!writer)
            done = writer.error(); // not even the header fits
        else if (done = (*writer)->writeRows(picture.row(0), 800); done)
            done = (*writer)->finish();
        ::close(full);
        QVERIFY(!done);
        QCOMPARE(done.error().kind, ErrorKind::DiskFull);
    }
};

BUTTONHOLE_TEST(TstWriters)

#include "tst_writers.moc"
