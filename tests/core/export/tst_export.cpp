#include "export/export.h"
#include "export/mask_export.h"

#include "export/area_reducer.h"
#include "io/file.h"
#include "registry.h"
#include "render/render.h"
#include "sample_files.h"
#include "samples.h"

#include <QDir>
#include <QFile>
#include <QTemporaryDir>

#include <cmath>
#include <sys/mount.h>

using namespace buttonhole;
using Format = ExportSettings::Format;

class TstExport : public QObject
{
    Q_OBJECT
    QTemporaryDir m_folder;

    QString at(const char *name) const { return m_folder.filePath(QLatin1String(name)); }

    static Take softTake(int width, int height)
    {
        return test::makePaintedTake(width, height,
                                     {test::makeStroke({150, 0.8F, 1, 1, PressureSteers::Nothing},
                                                       {{float(width) / 2, float(height) / 2}})});
    }

    /// A photo with metadata, opened from a file.
    std::shared_ptr<const PhotoLevels> openSample(const char *name = "from.jpg")
    {
        test::writeJpeg(at(name), test::makePicture<uint8_t>(480, 320), 95,
                        test::wideProfile().icc());
        test::addMetadata(at(name), 6);
        auto photo = loadPhoto(at(name).toStdString());
        return PhotoLevels::make(std::make_shared<const Photo>(std::move(*photo))).value();
    }

private Q_SLOTS:
    void losslessFormatsHoldTheRenderedPixels_data()
    {
        QTest::addColumn<QString>("name");
        QTest::addColumn<int>("bits");
        QTest::newRow("PNG 8") << "o8.png" << 8;
        QTest::newRow("PNG 16") << "o16.png" << 16;
        QTest::newRow("TIFF 8") << "o8.tif" << 8;
        QTest::newRow("TIFF 16") << "o16.tif" << 16;
    }
    void losslessFormatsHoldTheRenderedPixels()
    {
        QFETCH(QString, name);
        QFETCH(int, bits);
        const auto levels = openSample();
        const Take take = softTake(320, 480);
        ExportSettings settings;
        settings.format = *formatFromPath(name.toStdString());
        settings.bits = bits;
        const QString path = m_folder.filePath(name);
        const auto done = exportPicture(*levels, take, settings, path.toStdString());
        QVERIFY2(done, done ? "" : sentence(done.error()).c_str());
        QCOMPARE(done->width, 320); // upright
        QCOMPARE(done->bytes, uint64_t(QFile(path).size()));
        const auto back = loadPhoto(path.toStdString());
        QVERIFY2(back, back ? "" : sentence(back.error()).c_str());
        QCOMPARE(back->bitDepth(), bits);
        QVERIFY(back->profile.isSameSpaceAs(levels->photo().profile));
        QCOMPARE(back->metadata.orientation(), 1);
        std::vector<uint16_t> expected(size_t(320) * 480 * 3);
        std::vector<uint8_t> expected8(expected.size());
        const OutputColour output(levels->photo().profile);
        QVERIFY(renderPicture(*levels, take, View::Result, 0, pictureOf(*levels, take).rect(),
                              output, {RenderTarget::Layout::Rgb16, expected.data(), 320 * 6}));
        QVERIFY(renderPicture(*levels, take, View::Result, 0, pictureOf(*levels, take).rect(),
                              output, {RenderTarget::Layout::Rgb8, expected8.data(), 320 * 3}));
        for (int y = 0; y < 480; ++y)
            for (int x = 0; x < 320; ++x)
                for (int c = 0; c < 3; ++c) {
                    const size_t i = (size_t(y) * 320 + size_t(x)) * 3 + size_t(c);
                    QCOMPARE(test::codeAt(*back, x, y, c),
                             bits == 16 ? expected[i] : uint16_t(expected8[i] * 257));
                }
    }

    void jpegCarriesMetadataAndStripsThePlace()
    {
        const auto levels = openSample();
        ExportSettings settings;
        settings.space = ExportSettings::Space::Srgb;
        settings.stripLocation = true;
        QVERIFY(exportPicture(*levels, makeTake(), settings, at("out.jpg").toStdString()));
        const auto back = loadPhoto(at("out.jpg").toStdString());
        QCOMPARE(back->width, 320);
        QVERIFY(back->profile.isSameSpaceAs(Profile::srgb()));
        QVERIFY(!back->metadata.hasLocation());
        QVERIFY(!back->metadata.isEmpty());
        settings.stripLocation = false;
        QVERIFY(exportPicture(*levels, makeTake(), settings, at("out2.jpg").toStdString()));
        QVERIFY(loadPhoto(at("out2.jpg").toStdString())->metadata.hasLocation());
    }

    void theLongEdgeIsMetAndNeverEnlarged()
    {
        const auto levels = openSample();
        ExportSettings settings;
        settings.longEdgePx = 100;
        const auto small =
            exportPicture(*levels, makeTake(), settings, at("small.jpg").toStdString());
        QCOMPARE(small->height, 100);
        QCOMPARE(small->width, 67);
        QCOMPARE(loadPhoto(at("small.jpg").toStdString())->height, 100);
        settings.longEdgePx = 9000;
        QCOMPARE(exportPicture(*levels, makeTake(), settings, at("same.jpg").toStdString())->height,
                 480);
    }

    void theMeasuredSizeIsThatOfTheFile()
    {
        test::writeJpeg(at("plain.jpg"), test::makePicture<uint8_t>(480, 320));
        auto photo = loadPhoto(at("plain.jpg").toStdString());
        const auto levels =
            PhotoLevels::make(std::make_shared<const Photo>(std::move(*photo))).value();
        for (const Format format :
             {Format::Jpeg, Format::Png, Format::Tiff, Format::WebP, Format::Avif}) {
            ExportSettings settings;
            settings.format = format;
            const char *names[] = {"m.jpg", "m.png", "m.tif", "m.webp", "m.avif"};
            const auto guess = measureExport(*levels, makeTake(), settings);
            const auto real =
                exportPicture(*levels, makeTake(), settings, at(names[int(format)]).toStdString());
            QVERIFY(guess && real);
            QCOMPARE(guess->bytes, real->bytes); // no metadata in this photo
        }
    }

    void lossyFormatsComeBackClose_data()
    {
        QTest::addColumn<QString>("name");
        QTest::newRow("WebP") << "l.webp";
        QTest::newRow("AVIF") << "l.avif";
    }
    void lossyFormatsComeBackClose()
    {
        QFETCH(QString, name);
        const auto levels = test::levelsOf(200, 120, [](int x, int y) {
            return std::array{40 + x / 2, 90 + y / 2, 160 - x / 4};
        });
        Take take = makeTake();
        take.greyOn = false;
        ExportSettings settings;
        settings.format = *formatFromPath(name.toStdString());
        settings.quality = 95;
        settings.copyright = "Fernhollow Mill";
        const std::string path = m_folder.filePath(name).toStdString();
        QVERIFY(exportPicture(*levels, take, settings, path));
        const auto read = loadPhoto(path);
        QVERIFY(read);
        QCOMPARE(QSize(read->width, read->height), QSize(200, 120));
        for (const auto &[x, y] : {std::pair(10, 10), {100, 60}, {190, 110}}) {
            const int wanted[] = {40 + x / 2, 90 + y / 2, 160 - x / 4};
            for (int c = 0; c < 3; ++c)
                QVERIFY(std::abs(test::codeAt(*read, x, y, c) / 257 - wanted[c]) <= 4);
        }
        const auto facts = read->metadata.summary();
        const bool hasCopyright = std::any_of(facts.begin(), facts.end(), [](const auto &each) {
            return each.second == "Fernhollow Mill";
        });
        QCOMPARE(hasCopyright, settings.format == Format::WebP); // into AVIF nothing is written
    }

    void onlyCreditsGoOnWhereThatIsAskedFor()
    {
        const auto levels = openSample("credits.jpg");
        ExportSettings settings;
        settings.carried = Metadata::Carried::Credits;
        settings.description = "Open day";
        const std::string path = at("credits-out.jpg").toStdString();
        const auto wordsOf = [&] {
            QStringList out;
            for (const auto &[name, value] : Metadata::fromFile(path).summary())
                out += QString::fromStdString(name + "=" + value);
            return out;
        };
        QVERIFY(exportPicture(*levels, makeTake(), settings, path));
        QVERIFY(wordsOf().contains("author=Mill visitor"));
        QVERIFY(!wordsOf().contains("make=Fernhollow"));
        QVERIFY(!Metadata::fromFile(path).hasLocation());
        settings.carried = Metadata::Carried::Nothing;
        settings.description.clear();
        QVERIFY(exportPicture(*levels, makeTake(), settings, path));
        QVERIFY(Metadata::fromFile(path).isEmpty());
    }

    void sharpeningRaisesEdgesAndLeavesFlatPartsAlone()
    {
        const auto levels = test::levelsOf(64, 48, [](int x, int) {
            const int grey = x < 32 ? 100 : 140;
            return std::array{grey, grey, grey};
        });
        const auto rowOf = [&](float amount) {
            ExportSettings settings;
            settings.format = Format::Png;
            settings.sharpen = amount;
            const std::string path = at("sharp.png").toStdString();
            const auto done = exportPicture(*levels, makeTake(), settings, path);
            Q_ASSERT(done && done->height == 48);
            const auto photo = loadPhoto(path);
            std::vector<int> out;
            for (int x = 0; x < 64; ++x) {
                out.push_back(test::codeAt(*photo, x, 47, 0) / 257);
                Q_ASSERT(test::codeAt(*photo, x, 47, 0) == test::codeAt(*photo, x, 47, 2));
            }
            return out;
        };
        const auto plain = rowOf(0);
        const auto sharp = rowOf(0.5F);
        QCOMPARE(sharp[10], plain[10]);
        QCOMPARE(sharp[50], plain[50]);
        QVERIFY(sharp[31] < plain[31] - 3);
        QVERIFY(sharp[32] > plain[32] + 3);
    }

    void lowerQualityIsSmaller()
    {
        const auto levels = openSample();
        ExportSettings settings;
        settings.quality = 95;
        const auto fine = measureExport(*levels, makeTake(), settings);
        settings.quality = 40;
        const auto rough = measureExport(*levels, makeTake(), settings);
        QVERIFY(rough->bytes * 2 < fine->bytes);
    }

    void badSettingsAreRefused()
    {
        const auto levels = openSample();
        ExportSettings settings;
        settings.bits = 16;
        QCOMPARE(
            exportPicture(*levels, makeTake(), settings, at("x.jpg").toStdString()).error().kind,
            ErrorKind::InvalidArgument);
        settings = {};
        settings.quality = 0;
        QVERIFY(!exportPicture(*levels, makeTake(), settings, at("x.jpg").toStdString()));
        QVERIFY(!formatFromPath("mill.gif"));
        QCOMPARE(*formatFromPath("a/MILL.JPEG"), Format::Jpeg);
        QVERIFY(!QFile::exists(at("x.jpg")));
    }

    void theOpenedPhotoIsNeverWrittenTo()
    {
        const auto levels = openSample("own.jpg");
        const auto before = test::bytesOf(at("own.jpg"));
        QVERIFY(QFile::link(at("own.jpg"), at("alias.jpg")));
        for (const char *name : {"own.jpg", "alias.jpg"})
            QCOMPARE(exportPicture(*levels, makeTake(), {}, at(name).toStdString()).error().kind,
                     ErrorKind::InvalidArgument);
        QCOMPARE(
            exportMask(*levels, makeTake().keeps[0], 8, at("own.jpg").toStdString()).error().kind,
            ErrorKind::InvalidArgument);
        QCOMPARE(test::bytesOf(at("own.jpg")), before);
    }

    void aStoppedExportLeavesNothing()
    {
        const auto levels = openSample();
        std::stop_source stop;
        stop.request_stop();
        Run run;
        run.stop = stop.get_token();
        const auto stopped =
            exportPicture(*levels, makeTake(), {}, at("stopped.jpg").toStdString(), run);
        QCOMPARE(stopped.error().kind, ErrorKind::Cancelled);
        QVERIFY(QDir(m_folder.path()).entryList({QStringLiteral("stopped*")}).isEmpty());
    }

    void foldersThatAreNotThere()
    {
        const auto levels = openSample();
        QCOMPARE(
            exportPicture(*levels, makeTake(), {}, at("no/such/x.jpg").toStdString()).error().kind,
            ErrorKind::NotFound);
    }

    /// A file system of 16 KiB, so that every format runs out of room half-way.
    void aFullDiskIsSaidAndNothingIsLost_data()
    {
        QTest::addColumn<QString>("name");
        QTest::newRow("JPEG") << "o.jpg";
        QTest::newRow("PNG") << "o.png";
        QTest::newRow("TIFF") << "o.tif";
        QTest::newRow("WebP") << "o.webp";
        QTest::newRow("AVIF") << "o.avif";
        QTest::newRow("mask") << "mask";
    }
    void aFullDiskIsSaidAndNothingIsLost()
    {
        QFETCH(QString, name);
        const QString folder = at("full");
        QDir().mkpath(folder);
        if (::mount("tmpfs", folder.toLocal8Bit().constData(), "tmpfs", 0, "size=16k") != 0)
            QSKIP("known: mounting a file system needs root");
        const auto unmount =
            qScopeGuard([&] { ::umount2(folder.toLocal8Bit().constData(), MNT_DETACH); });
        const QString path = folder + QLatin1Char('/') + name;
        test::writeFile(path, "what was here", 13);
        test::writeJpeg(at("big.jpg"), test::makePicture<uint8_t>(900, 600));
        test::addMetadata(at("big.jpg"), 1);
        auto photo = loadPhoto(at("big.jpg").toStdString());
        const auto levels =
            PhotoLevels::make(std::make_shared<const Photo>(std::move(*photo))).value();
        Error error;
        if (name == QStringLiteral("mask")) {
            const auto done =
                exportMask(*levels, softTake(900, 600).keeps[0], 16, path.toStdString());
            QVERIFY(!done);
            error = done.error();
        } else {
            ExportSettings settings;
            settings.format = *formatFromPath(name.toStdString());
            const auto done = exportPicture(*levels, makeTake(), settings, path.toStdString());
            QVERIFY(!done);
            error = done.error();
        }
        QCOMPARE(QString::fromStdString(kindName(error.kind)), QStringLiteral("disk-full"));
        QCOMPARE(QString::fromStdString(error.subject), path);
        QCOMPARE(test::bytesOf(path).size(), size_t(13));
        QCOMPARE(QDir(folder).entryList(QDir::Files).size(), 1);
    }

    void masksComeOutAtBothDepths()
    {
        const Take take = softTake(320, 480);
        const auto levels = openSample();
        const auto expected = test::maskOf(take.keeps[0], {0, 0, 320, 480});
        for (const int bits : {8, 16}) {
            QVERIFY(exportMask(*levels, take.keeps[0], bits, at("m.png").toStdString()));
            const auto back = loadPhoto(at("m.png").toStdString());
            QCOMPARE(back->bitDepth(), bits);
            for (int y = 0; y < 480; y += 11)
                for (int x = 0; x < 320; ++x)
                    QVERIFY(std::abs(test::codeAt(*back, x, y, 1) -
                                     expected[size_t(y) * 320 + size_t(x)]) <=
                            (bits == 8 ? 129 : 0));
        }
        QVERIFY(!exportMask(*levels, take.keeps[0], 12, at("m.png").toStdString()));
    }

    void reductionIsTheMeanOfTheArea()
    {
        const auto picture = test::makePicture<uint16_t>(101, 67);
        AreaReducer reducer(101, 67, 37, 20, Profile::srgb());
        std::vector<std::vector<uint16_t>> rows;
        for (int y = 0; y < 67; ++y)
            reducer.addRow(picture.row(y),
                           [&](const uint16_t *row) { rows.emplace_back(row, row + 37 * 3); });
        QCOMPARE(rows.size(), size_t(20));
        const auto &linear = Profile::srgb().toLinear(0);
        const auto share = [](int i, double from, double to) {
            return std::max(0.0, std::min(i + 1.0, to) - std::max(double(i), from));
        };
        for (int oy = 0; oy < 20; ++oy)
            for (int ox = 0; ox < 37; ++ox) {
                const double x0 = ox * 101.0 / 37;
                const double y0 = oy * 67.0 / 20;
                double sum = 0;
                for (int y = 0; y < 67; ++y)
                    for (int x = 0; x < 101; ++x)
                        sum += share(x, x0, x0 + 101.0 / 37) * share(y, y0, y0 + 67.0 / 20) *
                               double(linear[picture.pixel(x, y)[1]]);
                const double expected = sum / (101.0 / 37 * 67.0 / 20);
                const double got = double(linear[rows[size_t(oy)][size_t(ox) * 3 + 1]]);
                QVERIFY(std::abs(got - expected) < 3e-5);
            }
    }
};

BUTTONHOLE_TEST(TstExport)

#include "tst_export.moc"
