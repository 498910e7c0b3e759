#include "io/photo.h"

#include "io/file.h"
#include "registry.h"
#include "sample_files.h"
#include "samples.h"

#include <QFile>
#include <QProcess>
#include <QTemporaryDir>

using namespace buttonhole;

/// Pictures that can be read, but not as they say, or not to their end.
class TstOddPhotos : public QObject
{
    Q_OBJECT
    QTemporaryDir m_folder;

    QString at(const char *name) const { return m_folder.filePath(QString::fromLatin1(name)); }
    static bool notes(const Photo &photo, const char *words)
    {
        return std::any_of(photo.notes.begin(), photo.notes.end(), [&](const std::string &note) {
            return note.find(words) != std::string::npos;
        });
    }
    /// A command that makes a file in the folder.
    void make(const char *program, const QStringList &arguments) const
    {
        QProcess process;
        process.setWorkingDirectory(m_folder.path());
        process.start(QString::fromLatin1(program), arguments);
        QVERIFY(process.waitForFinished());
        QVERIFY2(process.exitCode() == 0, process.readAllStandardError().constData());
    }

private Q_SLOTS:
    void labIsConverted_data()
    {
        QTest::addColumn<int>("bits");
        QTest::newRow("8 bits") << 8;
        QTest::newRow("16 bits") << 16;
    }
    void labIsConverted()
    {
        QFETCH(int, bits);
        test::writeLabTiff(at("lab.tif"), 40, 30, 53.2, 78, 66, bits);
        const auto photo = loadPhoto(at("lab.tif").toStdString());
        QVERIFY2(photo, photo ? "" : sentence(photo.error()).c_str());
        // Bright red: CIE L*a*b* 54, 81, 70 (D50) is sRGB's (255, 0, 0).
        QVERIFY(test::codeAt(*photo, 20, 15, 0) > 62000);
        QVERIFY(test::codeAt(*photo, 20, 15, 1) < 8000);
        QVERIFY(test::codeAt(*photo, 20, 15, 2) < 8000);
        QVERIFY(notes(*photo, "L*a*b*"));
    }

    void webpStandsUpright()
    {
        test::writeByLibrary(at("turned.webp"), test::makePicture<uint16_t>(60, 40),
                             test::Type::U8);
        test::addMetadata(at("turned.webp"), 6);
        const auto photo = loadPhoto(at("turned.webp").toStdString());
        QVERIFY(photo);
        QCOMPARE(photo->width, 40);
        QCOMPARE(photo->height, 60);
    }

    void gifSaysOnlyWhatIsSo()
    {
        make("convert", {"-size", "40x30", "gradient:red-blue", "plain.gif"});
        make("convert", {"-size", "40x30", "xc:none", "-fill", "red", "-draw", "circle 20,15 20,5",
                         "clear.gif"});
        make("convert", {"-size", "40x30", "xc:red", "xc:green", "xc:blue", "frames.gif"});
        const auto plain = loadPhoto(at("plain.gif").toStdString());
        QVERIFY(plain);
        QVERIFY(!notes(*plain, "ransparent"));
        const auto clear = loadPhoto(at("clear.gif").toStdString());
        QVERIFY(clear);
        QVERIFY(notes(*clear, "ransparent"));
        const auto frames = loadPhoto(at("frames.gif").toStdString());
        QVERIFY(frames);
        QVERIFY(notes(*frames, "3 pictures"));
        QVERIFY(!notes(*plain, "pictures"));
    }

    void furtherPagesAreMentioned()
    {
        test::writePagesTiff(at("pages.tif"), 4);
        test::writePagesTiff(at("page.tif"), 1);
        QVERIFY(notes(*loadPhoto(at("pages.tif").toStdString()), "4 pictures"));
        QVERIFY(loadPhoto(at("page.tif").toStdString())->notes.empty());
    }

    void aJpegIsOpenedAsFarAsItGoes_data()
    {
        QTest::addColumn<bool>("progressive");
        QTest::addColumn<double>("share");
        QTest::addColumn<bool>("opens");
        QTest::newRow("all but a percent") << false << 0.99 << true;
        QTest::newRow("three quarters") << false << 0.75 << true;
        QTest::newRow("a quarter") << false << 0.25 << false;
        QTest::newRow("progressive, all but a percent") << true << 0.99 << true;
        QTest::newRow("progressive, half") << true << 0.5 << true;
        QTest::newRow("progressive, its start") << true << 0.02 << false;
    }
    void aJpegIsOpenedAsFarAsItGoes()
    {
        QFETCH(bool, progressive);
        QFETCH(double, share);
        QFETCH(bool, opens);
        QFile::copy(test::demo("loom.jpg"), at("whole.jpg"));
        if (progressive)
            make("convert", {"whole.jpg", "-interlace", "JPEG", "whole.jpg"});
        const auto whole = loadPhoto(at("whole.jpg").toStdString());
        const auto bytes = test::bytesOf(at("whole.jpg"));
        test::writeFile(at("cut.jpg"), bytes.data(), size_t(double(bytes.size()) * share));
        const auto cut = loadPhoto(at("cut.jpg").toStdString());
        QVERIFY(QFile::remove(at("whole.jpg")));
        QCOMPARE(cut.has_value(), opens);
        if (!opens) {
            QCOMPARE(cut.error().kind, ErrorKind::Damaged);
            return;
        }
        QVERIFY(notes(*cut, "ends early"));
        QCOMPARE(cut->height, whole->height);
        if (!progressive) // what is there is as it was
            for (int y = 0; y < whole->height / 2; y += 7)
                QCOMPARE(test::codeAt(*cut, 500, y, 1), test::codeAt(*whole, 500, y, 1));
    }

    void theDigestIsOfWhatWasRead()
    {
        const auto photo = loadPhoto(test::demo("loom.jpg").toStdString());
        QCOMPARE(QString::fromStdString(photo->sha256),
                 QString::fromStdString(*sha256OfFile(test::demo("loom.jpg").toStdString())));
        QVERIFY(photo->stamp == stampOf(test::demo("loom.jpg").toStdString()));
    }
};

BUTTONHOLE_TEST(TstOddPhotos)

#include "tst_odd_photos.moc"
