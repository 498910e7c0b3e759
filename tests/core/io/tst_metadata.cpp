#include "io/metadata.h"

#include "registry.h"
#include "sample_files.h"
#include "samples.h"

#include <exiv2/exiv2.hpp>

#include <QTemporaryDir>

using namespace buttonhole;

class TstMetadata : public QObject
{
    Q_OBJECT
    QTemporaryDir m_folder;

    std::string sample(const QString &name, int orientation = 6) const
    {
        const QString path = m_folder.filePath(name);
        test::writeJpeg(path, test::makePicture<uint8_t>(20, 10));
        if (orientation > 0)
            test::addMetadata(path, orientation);
        return path.toStdString();
    }

private Q_SLOTS:
    void readsWhatTheFileSays()
    {
        const Metadata metadata = Metadata::fromFile(sample(QStringLiteral("a.jpg")));
        QVERIFY(!metadata.isEmpty());
        QVERIFY(metadata.hasLocation());
        QCOMPARE(metadata.orientation(), 6);
        QStringList summary;
        for (const auto &[name, value] : metadata.summary())
            summary.append(QString::fromStdString(name + "=" + value));
        QVERIFY(summary.contains(QStringLiteral("make=Fernhollow")));
        QVERIFY(summary.contains(QStringLiteral("exposure=1/125 s")));
        QCOMPARE(Metadata::fromBytes(test::bytesOf(m_folder.filePath(QStringLiteral("a.jpg"))))
                     .orientation(),
                 6);
    }

    void aFileWithoutMetadataIsFine()
    {
        const Metadata none = Metadata::fromFile(sample(QStringLiteral("none.jpg"), 0));
        QVERIFY(none.isEmpty());
        QVERIFY(!none.hasLocation());
        QCOMPARE(none.orientation(), 1);
        QVERIFY(Metadata::fromFile("/nowhere.jpg").isEmpty());
        QVERIFY(Metadata::fromBytes({1, 2, 3}).isEmpty());
        // An orientation outside 1..8 counts as upright.
        QCOMPARE(Metadata::fromFile(sample(QStringLiteral("odd.jpg"), 23)).orientation(), 1);
    }

    void carriesOver_data()
    {
        QTest::addColumn<bool>("strips");
        QTest::newRow("all") << false;
        QTest::newRow("without the place") << true;
    }
    void carriesOver()
    {
        QFETCH(bool, strips);
        const Metadata metadata = Metadata::fromFile(sample(QStringLiteral("from.jpg")));
        const std::string target = sample(QStringLiteral("to.jpg"), 0);
        Metadata::WriteOptions options;
        options.stripLocation = strips;
        options.width = 20;
        options.height = 10;
        options.thumbnailJpeg = test::bytesOf(m_folder.filePath(QStringLiteral("to.jpg")));
        QVERIFY(metadata.writeTo(target, options));

        const auto image = Exiv2::ImageFactory::open(target);
        image->readMetadata();
        Exiv2::ExifData &exif = image->exifData();
        QCOMPARE(exif["Exif.Image.Orientation"].toLong(), 1L);
        QCOMPARE(exif["Exif.Photo.PixelXDimension"].toLong(), 20L);
        QCOMPARE(exif["Exif.Image.Artist"].toString(), std::string("Mill visitor"));
        QCOMPARE(size_t(Exiv2::ExifThumbC(exif).copy().size_), options.thumbnailJpeg.size());
        QVERIFY(image->xmpData().findKey(Exiv2::XmpKey("Xmp.dc.title")) != image->xmpData().end());
        QVERIFY(image->iptcData().findKey(Exiv2::IptcKey("Iptc.Application2.Keywords")) !=
                image->iptcData().end());
        const Metadata written = Metadata::fromFile(target);
        QCOMPARE(written.hasLocation(), !strips);
    }

    void writingToNowhereIsAnError()
    {
        const Metadata metadata = Metadata::fromFile(sample(QStringLiteral("b.jpg")));
        QVERIFY(!metadata.writeTo("/nowhere/at/all.jpg", {}));
    }
};

BUTTONHOLE_TEST(TstMetadata)

#include "tst_metadata.moc"
