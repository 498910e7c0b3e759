#include "job/print.h"

#include "io/file.h"
#include "registry.h"
#include "sample_files.h"
#include "samples.h"

#include <QFile>
#include <QRegularExpression>
#include <QTemporaryDir>

#include <cmath>

using namespace buttonhole;

class TstPrint : public QObject
{
    Q_OBJECT
    QTemporaryDir m_folder;

    std::string at(const char *name) const
    {
        return m_folder.filePath(QLatin1String(name)).toStdString();
    }
    std::string photo(const char *name, int width, int height) const
    {
        test::writeJpeg(QString::fromStdString(at(name)), test::makePicture<uint8_t>(width, height),
                        95, {});
        return at(name);
    }
    static bool isNear(double is, double should) { return std::abs(is - should) < 1e-6; }
    static int countIn(const QByteArray &text, const char *pattern)
    {
        auto found =
            QRegularExpression(QLatin1String(pattern)).globalMatch(QString::fromLatin1(text));
        int out = 0;
        for (; found.hasNext(); found.next())
            ++out;
        return out;
    }

private Q_SLOTS:
    void picturesLieInTheMiddleOfTheirCells()
    {
        PrintPage page; // A4 with margins of 12 mm
        PrintPlace place = placeOn(page, 0, 3000, 2000);
        QVERIFY(isNear(place.width, 186) && isNear(place.height, 124));
        QVERIFY(isNear(place.x, 12) && isNear(place.y, (297 - 124) / 2.0));
        page.longEdgeMm = 90;
        place = placeOn(page, 0, 2000, 3000);
        QVERIFY(isNear(place.height, 90) && isNear(place.width, 60));
        QVERIFY(isNear(place.x, 75));

        page = {};
        page.columns = 2;
        page.rows = 3;
        page.gapMm = 6;
        const double cell = (297 - 24 - 12) / 3.0;
        place = placeOn(page, 9, 1000, 1000); // the fourth of the second page
        QCOMPARE(place.page, size_t(1));
        QVERIFY(isNear(place.x + place.width / 2, 12 + 90 + 6 + 45));
        QVERIFY(isNear(place.y + place.height / 2, 12 + cell + 6 + cell / 2));
        QVERIFY(isNear(place.width, cell));
    }

    void whatDoesNotFitIsSaid()
    {
        QVERIFY(checkPage({}));
        const auto refuses = [](auto change) {
            PrintPage page;
            change(page);
            const auto fine = checkPage(page);
            return !fine && fine.error().kind == ErrorKind::InvalidArgument;
        };
        QVERIFY(refuses([](PrintPage &page) { page.marginMm = 104; }));
        QVERIFY(refuses([](PrintPage &page) { page.marginMm = std::nan(""); }));
        QVERIFY(refuses([](PrintPage &page) { page.columns = 0; }));
        QVERIFY(refuses([](PrintPage &page) { page.rows = 20, page.gapMm = 14; }));
        QVERIFY(refuses([](PrintPage &page) { page.dpi = 0; }));
        QVERIFY(refuses([](PrintPage &page) { page.widthMm = -1; }));
    }

    void aPdfHoldsThePicturesAsTheyWereRendered()
    {
        const std::vector<std::string> inputs = {photo("a.jpg", 900, 600), photo("b.jpg", 600, 900),
                                                 photo("c.jpg", 640, 640)};
        PrintPage page;
        page.columns = 2;
        page.dpi = 150;
        const std::string path = at("three.pdf");
        std::vector<std::vector<uint8_t>> jpegs;
        const auto next = [&](size_t i, const Run &run) {
            auto out = fileForPrint(inputs[i], {}, page, i, run);
            if (out)
                jpegs.push_back(out->jpeg);
            return out;
        };
        const auto printed = printPdf(inputs.size(), next, page, path);
        QVERIFY2(printed, printed ? "" : sentence(printed.error()).c_str());
        QCOMPARE(printed->pages, size_t(2));
        QVERIFY(std::abs(printed->leastDpi - 150) < 2);
        QFile file(QString::fromStdString(path));
        QVERIFY(file.open(QIODevice::ReadOnly));
        const QByteArray pdf = file.readAll();
        QVERIFY(pdf.startsWith("%PDF-1."));
        QCOMPARE(countIn(pdf, "/Type /Page\\b(?!s)"), 2);
        QCOMPARE(countIn(pdf, "/Filter /DCTDecode"), 3);
        // A4 in points.
        QCOMPARE(countIn(pdf, "/MediaBox \\[ ?0 0 595\\.2\\d* 841\\.8\\d* ?\\]"), 2);
        for (const auto &jpeg : jpegs)
            QVERIFY(pdf.contains(
                QByteArray(reinterpret_cast<const char *>(jpeg.data()), qsizetype(jpeg.size()))));
    }

    void nothingIsEnlargedAndTheRestIsSaid()
    {
        auto small = loadPhoto(photo("small.jpg", 300, 200));
        const auto levels = PhotoLevels::make(std::make_shared<const Photo>(std::move(*small)));
        const auto picture = pictureForPrint(**levels, makeTake(), {}, 0);
        QVERIFY(picture);
        QCOMPARE(picture->pxWide, 300);
        QVERIFY(std::abs(picture->dpi() - 300 / (186 / 25.4)) < 0.1);
    }

    void aPictureThatFailsLeavesTheOldFile()
    {
        const QByteArray before = "before";
        QVERIFY(writeBytesAtomically(at("old.pdf"), before.data(), size_t(before.size())));
        const PrintPage page;
        const auto next = [&](size_t i, const Run &run) {
            return fileForPrint(at("nowhere.jpg"), {}, page, i, run);
        };
        const auto printed = printPdf(1, next, page, at("old.pdf"));
        QVERIFY(!printed);
        QCOMPARE(printed.error().kind, ErrorKind::NotFound);
        QCOMPARE(fileSize(at("old.pdf")).value(), uint64_t(before.size()));
    }
};

BUTTONHOLE_TEST(TstPrint)

#include "tst_print.moc"
