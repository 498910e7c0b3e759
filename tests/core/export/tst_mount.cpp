#include "document/finish_starts.h"
#include "export/export.h"
#include "export/mount.h"
#include "io/file.h"
#include "io/formats/formats.h"
#include "io/jpeg.h"
#include "io/png.h"
#include "light/frame.h"

#include "registry.h"
#include "samples.h"

#include <QTemporaryDir>

using namespace buttonhole;

/// Frames: their room, their pixels, what is transparent.
class TstMount : public QObject
{
    Q_OBJECT

    const QTemporaryDir m_folder;
    static constexpr int kWidth = 300;
    static constexpr int kHeight = 200;

    static std::shared_ptr<const PhotoLevels> levels()
    {
        return test::levelsOf(kWidth, kHeight, [](int x, int y) {
            return std::array{60 + x / 2, 120, 40 + y / 2};
        });
    }
    static Take framed(const Frame &frame)
    {
        Take take = makeTake();
        take.greyOn = false;
        take.keeps.clear();
        return withFinished(std::move(take),
                            std::make_shared<const NumberAdjustment<Frame>>(frame));
    }
    /// A file's pixels, 8 bits; alpha 255 where it has none.
    struct Pixels {
        int width = 0;
        int height = 0;
        bool hasAlpha = false;
        std::vector<std::array<int, 4>> values;

        const std::array<int, 4> &at(int x, int y) const
        {
            return values[size_t(y) * size_t(width) + size_t(x)];
        }
    };
    static Pixels pixelsOf(const Decoded &decoded)
    {
        return std::visit(
            [](const auto &image) {
                Pixels out{image.width(), image.height(), image.channels() == 4, {}};
                const int scale = sizeof(*image.row(0)) == 1 ? 1 : 257;
                for (int y = 0; y < out.height; ++y)
                    for (int x = 0; x < out.width; ++x) {
                        const auto *p = image.pixel(x, y);
                        out.values.push_back({p[0] / scale, p[1] / scale, p[2] / scale,
                                              out.hasAlpha ? p[3] / scale : 255});
                    }
                return out;
            },
            decoded.pixels);
    }
    Pixels exported(const Take &take, const char *name, int longEdge = 0, int bits = 8)
    {
        const std::string path = m_folder.filePath(QString::fromLatin1(name)).toStdString();
        ExportSettings settings;
        settings.format = *formatFromPath(path);
        settings.longEdgePx = longEdge;
        settings.bits = bits;
        const auto made = exportPicture(*levels(), take, settings, path);
        if (!made)
            qFatal("it cannot be exported");
        const auto bytes = test::bytesOf(QString::fromStdString(path));
        auto decoded = settings.format == ExportSettings::Format::Png ? decodePng(bytes, path, {})
                       : settings.format == ExportSettings::Format::Jpeg
                           ? decodeJpeg(bytes, path, {})
                           : (*loadFormats())->decode(path, {});
        if (!decoded)
            qFatal("it cannot be read");
        const Pixels out = pixelsOf(*decoded);
        if (out.width != made->width || out.height != made->height)
            qFatal("another size is told");
        return out;
    }
    static constexpr std::array<int, 4> kWhite{255, 255, 255, 255};
    static constexpr std::array<int, 4> kBlack{0, 0, 0, 255};

private Q_SLOTS:
    void nothingIsLaidRoundWithoutOne()
    {
        Take take = makeTake();
        const OutputColour output(Profile::srgb());
        QVERIFY(Mount(take, kWidth, kHeight, output).isPlain());
        take = framed(Frame{.width = 0.1F});
        QVERIFY(!Mount(take, kWidth, kHeight, output).isPlain());
        take.finish[0].on = false;
        QVERIFY(Mount(take, kWidth, kHeight, output).isPlain());
    }

    void aBorderLiesOutside()
    {
        const Pixels own = exported(framed({}), "own.png");
        QCOMPARE(own.width, kWidth);
        const Pixels made =
            exported(framed(Frame{.width = 0.1F, .moreBelow = 0.05F}), "border.png");
        QCOMPARE(made.width, kWidth + 40);
        QCOMPARE(made.height, kHeight + 50);
        QVERIFY(!made.hasAlpha);
        QVERIFY(made.at(5, 5) == kWhite && made.at(19, 100) == kWhite);
        QVERIFY(made.at(100, kHeight + 20) == kWhite);
        for (int y = 0; y < kHeight; ++y)
            for (int x = 0; x < kWidth; ++x)
                QVERIFY(made.at(x + 20, y + 20) == own.at(x, y));
    }

    /// A row is the same whether it is asked for as a whole or pixel by pixel.
    void rowsAreThoseOfTheirPixels()
    {
        const OutputColour output(Profile::srgb());
        for (const Frame &frame :
             {Frame{.width = 0.1F}, Frame{.width = 0.1F, .corners = 0.05F, .shadow = 0.6F},
              Frame{.width = 0.08F, .over = 1, .lineWidth = 0.01F, .shadow = -0.5F}}) {
            const Mount mount(framed(frame), kWidth, kHeight, output);
            for (const double step : {1.0, 2.0})
                for (double y = 0; y + step <= mount.height(); y += step) {
                    const int n = int(mount.width() / step);
                    std::vector<MountPixel> whole(static_cast<size_t>(n));
                    mount.row(0, y, step, n, whole.data());
                    for (int i = 0; i < n; ++i) {
                        MountPixel one;
                        mount.row(i * step, y, step, 1, &one);
                        QVERIFY(one.keep == whole[size_t(i)].keep &&
                                one.alpha == whole[size_t(i)].alpha &&
                                std::equal(one.add, one.add + 3, whole[size_t(i)].add));
                    }
                }
        }
    }

    void oneOverThePictureTakesNoRoom()
    {
        Frame frame{.width = 0.1F, .over = 1, .lightness = 0};
        const Pixels own = exported(framed({}), "own.png");
        const Pixels made = exported(framed(frame), "over.png");
        QCOMPARE(made.width, kWidth);
        QVERIFY(made.at(10, 10) == kBlack && made.at(40, 40) == own.at(40, 40));
        frame.opacity = 0.5F;
        const Pixels half = exported(framed(frame), "half.png");
        QVERIFY(std::abs(half.at(10, 100)[1] * 2 - own.at(10, 100)[1]) <= 1);
    }

    void cornersAreCutOff()
    {
        const Take take = framed(Frame{.corners = 0.2F});
        const auto isCut = [](const Pixels &made) {
            // A circle of 40 px: at 45 degrees it is 40 (1 - 1 / sqrt 2) = 11.7 px in.
            return made.hasAlpha && made.at(0, 0)[3] == 0 && made.at(10, 10)[3] == 0 &&
                   made.at(13, 13)[3] == 255 && made.at(150, 100)[3] == 255;
        };
        QVERIFY(isCut(exported(take, "corners.png")));
        QVERIFY(isCut(exported(take, "corners16.png", 0, 16)));
        QVERIFY(isCut(exported(take, "corners.tif")));
        QVERIFY(exported(take, "corners.jpg").at(0, 0)[1] > 250); // which has no alpha
    }

    void aLineAndAShadowLieWhereTheyShould()
    {
        Frame frame{.width = 0.2F, .lineWidth = 0.02F, .lineGap = 0.05F, .lineLightness = 0};
        const Pixels lined = exported(framed(frame), "line.png");
        QVERIFY(lined.at(40 - 12, 120) == kBlack); // 10 to 14 px out
        QVERIFY(lined.at(40 - 5, 120) == kWhite && lined.at(40 - 18, 120) == kWhite);
        frame.lineWidth = 0;
        frame.shadow = 1;
        frame.shadowSize = 0.05F;
        const Pixels shaded = exported(framed(frame), "shadow.png");
        QVERIFY(shaded.at(38, 120)[1] < 100);
        QVERIFY(shaded.at(30, 120)[1] < 220);
        QVERIFY(shaded.at(2, 120)[1] > 250);
    }

    void theLongEdgeIsOfAllThatLeaves()
    {
        for (const int longEdge : {250, 199, 120}) {
            const Pixels made =
                exported(framed(Frame{.width = 0.1F, .corners = 0.1F}), "small.png", longEdge);
            QVERIFY(std::abs(made.width - longEdge) <= 1);
        }
    }

    void anyScaleIsTheSameDrawing()
    {
        const OutputColour output(Profile::srgb());
        const Take take = framed(Frame{.width = 0.1F, .corners = 0.3F, .lineWidth = 0.01F});
        const Mount mount(take, 1200, 800, output);
        std::vector<MountPixel> fine(400);
        std::vector<MountPixel> coarse(100);
        mount.row(0, 100, 1, 400, fine.data());
        mount.row(0, 98.5, 4, 100, coarse.data());
        for (size_t i = 0; i < coarse.size(); ++i) {
            float sum = 0;
            for (size_t k = 0; k < 4; ++k)
                sum += fine[4 * i + k].keep / 4;
            QVERIFY(std::abs(sum - coarse[i].keep) < 0.3F);
        }
        // What is said to be the picture's alone is.
        const auto [from, to] = mount.plainPart(400, 1);
        QVERIFY(to - from > 600);
        std::vector<MountPixel> inside(size_t(to - from));
        mount.row(from, 400, 1, int(inside.size()), inside.data());
        for (const MountPixel &pixel : inside)
            QVERIFY(pixel.keep == 1 && pixel.add[0] == 0 && pixel.alpha == 1);
    }

    void startsOfTheFinish()
    {
        Take take = makeTake();
        for (const FinishStart &start : finishStarts()) {
            uint64_t id = 0;
            auto made = withFinishStart(take, start.id, &id);
            QVERIFY(made && id != 0);
            take = std::move(*made);
        }
        QCOMPARE(take.finish.size(), size_t(5)); // one of a kind
        const auto vignette = take.finish[0].adjustment;
        QVERIFY(withFinishStart(take, "vignette")->finish[0].adjustment == vignette);
        QVERIFY(!withFinishStart(take, "nowhere"));
    }
};

BUTTONHOLE_TEST(TstMount)
#include "tst_mount.moc"
