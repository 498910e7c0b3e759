#include "export/export.h"

#include "document/zip.h"
#include "io/file.h"
#include "light/frame.h"
#include "light/number_adjustment.h"
#include "light/vignette.h"
#include "registry.h"
#include "sample_files.h"
#include "samples.h"

#include <QTemporaryDir>
#include <QXmlStreamReader>

#include <OpenImageIO/imageio.h>
#include <opencv2/core.hpp>

#include <cmath>

using namespace buttonhole;

namespace
{

/// What another program makes of an OpenRaster file: its layers laid over each other, 0..1.
struct Stacked {
    QStringList names; ///< of layers, the uppermost first
    cv::Mat4d picture; ///< straight alpha
    cv::Mat4d merged;  ///< what the file says it comes to
};

/// A PNG's values 0..1, straight alpha; opaque where it has none.
cv::Mat4d readPng(const std::string &path)
{
    const OIIO::ImageSpec asIs = [] {
        OIIO::ImageSpec out;
        out["oiio:UnassociatedAlpha"] = 1;
        return out;
    }();
    const auto in = OIIO::ImageInput::open(path, &asIs);
    if (!in)
        return {};
    const OIIO::ImageSpec &spec = in->spec();
    const auto channels = size_t(spec.nchannels);
    std::vector<double> values(spec.image_pixels() * channels);
    if (!in->read_image(0, 0, 0, spec.nchannels, OIIO::TypeDesc::DOUBLE, values.data()))
        return {};
    cv::Mat4d out(spec.height, spec.width, cv::Vec4d(0, 0, 0, 1));
    const double *from = values.data();
    for (cv::Vec4d &pixel : out)
        for (size_t c = 0; c < channels; ++c)
            pixel[int(c)] = *from++;
    return out;
}

cv::Mat4d pngOf(const ZipReader &zip, const QString &entry)
{
    const auto bytes = zip.read(entry.toStdString(), size_t(64) << 20);
    QTemporaryDir folder;
    const std::string path = folder.filePath(QStringLiteral("entry.png")).toStdString();
    return bytes && writeBytesAtomically(path, bytes->data(), bytes->size()) ? readPng(path)
                                                                             : cv::Mat4d();
}

void layOver(cv::Mat4d &below, const cv::Mat4d &layer, int left, int top)
{
    for (int y = 0; y < layer.rows; ++y)
        for (int x = 0; x < layer.cols; ++x) {
            const cv::Vec4d over = layer(y, x);
            cv::Vec4d &to = below(y + top, x + left);
            const double alpha = over[3] + to[3] * (1 - over[3]);
            for (int c = 0; c < 3 && alpha > 0; ++c)
                to[c] = (over[c] * over[3] + to[c] * to[3] * (1 - over[3])) / alpha;
            to[3] = alpha;
        }
}

Stacked stacked(const QString &path)
{
    Stacked out;
    const auto zip = ZipReader::open(path.toStdString());
    if (!zip)
        return out;
    struct Layer {
        cv::Mat4d picture;
        int x;
        int y;
    };
    QList<Layer> layers;
    const auto stack = zip->read("stack.xml", size_t(1) << 20);
    QXmlStreamReader xml(
        QByteArray(reinterpret_cast<const char *>(stack->data()), qsizetype(stack->size())));
    while (!xml.atEnd()) {
        if (xml.readNext() != QXmlStreamReader::StartElement)
            continue;
        const QXmlStreamAttributes facts = xml.attributes();
        const auto number = [&](const char *name) {
            return facts.value(QLatin1String(name)).toInt();
        };
        if (xml.name() == QLatin1String("image"))
            out.picture = cv::Mat4d(number("h"), number("w"), cv::Vec4d(0, 0, 0, 0));
        if (xml.name() != QLatin1String("layer"))
            continue;
        out.names += facts.value(QLatin1String("name")).toString();
        layers.prepend(
            {pngOf(*zip, facts.value(QLatin1String("src")).toString()), number("x"), number("y")});
    }
    for (const Layer &layer : layers)
        layOver(out.picture, layer.picture, layer.x, layer.y);
    out.merged = pngOf(*zip, QStringLiteral("mergedimage.png"));
    return out;
}

/// The most that any value of the layers differs from the merged picture.
double mostApart(const Stacked &file)
{
    double most = 0;
    for (int y = 0; y < file.picture.rows; ++y)
        for (int x = 0; x < file.picture.cols; ++x) {
            const cv::Vec4d is = file.picture(y, x);
            const cv::Vec4d should = file.merged(y, x);
            for (int c = 0; c < 4; ++c) // colours do not show where there is no alpha
                most = std::max(most, std::abs(is[c] - should[c]) * (c < 3 ? should[3] : 1));
        }
    return most;
}

} // namespace

class TstOpenRaster : public QObject
{
    Q_OBJECT
    QTemporaryDir m_folder;

    QString at(const char *name) const { return m_folder.filePath(QLatin1String(name)); }
    std::shared_ptr<const PhotoLevels> sample() const
    {
        test::writeJpeg(at("from.jpg"), test::makePicture<uint8_t>(480, 320), 95,
                        test::wideProfile().icc());
        auto photo = loadPhoto(at("from.jpg").toStdString());
        return PhotoLevels::make(std::make_shared<const Photo>(std::move(*photo))).value();
    }
    static Take softTake()
    {
        return test::makePaintedTake(
            480, 320,
            {test::makeStroke({200, 0.1F, 1, 0.7F, PressureSteers::Nothing}, {{240, 160}})});
    }
    void write(const Take &take, int bits, const QString &path) const
    {
        ExportSettings settings;
        settings.format = PictureFormat::OpenRaster;
        settings.bits = bits;
        const auto done = exportPicture(*sample(), take, settings, path.toStdString());
        QVERIFY2(done, done ? "" : sentence(done.error()).c_str());
        QCOMPARE(done->bytes, uint64_t(QFile(path).size()));
    }
    /// The merged picture is the one that leaves in any other format.
    void compareWithPng(const Take &take, int bits, const cv::Mat4d &merged) const
    {
        ExportSettings settings;
        settings.format = PictureFormat::Png;
        settings.space = ExportSettings::Space::Srgb;
        settings.bits = bits;
        QVERIFY(exportPicture(*sample(), take, settings, at("same.png").toStdString()));
        const cv::Mat4d png = readPng(at("same.png").toStdString());
        QCOMPARE(png.size(), merged.size());
        QCOMPARE(cv::norm(png, merged, cv::NORM_INF), 0.0);
    }

private Q_SLOTS:
    void layersComeToThePicture_data()
    {
        QTest::addColumn<int>("bits");
        QTest::newRow("8 bits") << 8;
        QTest::newRow("16 bits") << 16;
    }
    void layersComeToThePicture()
    {
        QFETCH(int, bits);
        const QString path = at("soft.ora");
        write(softTake(), bits, path);
        const Stacked file = stacked(path);
        QCOMPARE(file.names, QStringList({QStringLiteral("Colour"), QStringLiteral("Grey")}));
        QCOMPARE(file.merged.size(), cv::Size(480, 320));
        compareWithPng(softTake(), bits, file.merged);
        const double apart = mostApart(file); // a layer's colour is rounded
        QVERIFY2(apart <= 1.01 / 255, qPrintable(QString::number(apart * 255)));
    }

    void whatIsFinishedLiesOverIt()
    {
        Take take = softTake();
        Vignette vignette;
        vignette.amount = -0.5F;
        Frame frame;
        frame.width = 0.1F;
        frame.opacity = 0.5F;
        take.finish = {{1, true, std::make_shared<NumberAdjustment<Vignette>>(vignette)},
                       {2, true, std::make_shared<NumberAdjustment<Frame>>(frame)}};
        const QString path = at("finished.ora");
        write(take, 8, path);
        const Stacked file = stacked(path);
        QCOMPARE(file.names.size(), 3);
        QCOMPARE(file.merged.size(), cv::Size(480 + 64, 320 + 64));
        QVERIFY(mostApart(file) <= 1.01 / 255);
        compareWithPng(take, 8, file.merged);
    }

    void itTellsWhatItIs()
    {
        const QString path = at("kind.ora");
        write(softTake(), 8, path);
        const auto bytes = readStart(path.toStdString(), 64);
        // The first entry is not packed, so that any program sees what the file is.
        constexpr const char *kKind = "mimetypeimage/openraster";
        QVERIFY(std::equal(kKind, kKind + 24, bytes->begin() + 30));
        const auto zip = ZipReader::open(path.toStdString());
        QVERIFY(zip);
        const cv::Mat4d small = pngOf(*zip, QStringLiteral("Thumbnails/thumbnail.png"));
        QCOMPARE(std::max(small.cols, small.rows), 256);
        // Nothing else is left in the folder.
        QCOMPARE(QDir(m_folder.path()).entryList({QStringLiteral("*-??????")}, QDir::Files).size(),
                 0);
    }

    void itIsMeasured()
    {
        ExportSettings settings;
        settings.format = PictureFormat::OpenRaster;
        const auto measured = measureExport(*sample(), softTake(), settings);
        QVERIFY(measured);
        write(softTake(), 8, at("whole.ora"));
        QCOMPARE(measured->bytes, uint64_t(QFile(at("whole.ora")).size()));
    }
};

BUTTONHOLE_TEST(TstOpenRaster)

#include "tst_open_raster.moc"
