#include "light/lens.h"
#include "render/light_chain.h"
#include "render/render.h"

#include "registry.h"
#include "samples.h"

#include <opencv2/imgproc.hpp>

#include <cmath>

using namespace buttonhole;

/// Pictures levelled: resampled once, in linear light.
class TstLevelledRender : public QObject
{
    Q_OBJECT

    std::shared_ptr<const PhotoLevels> m_levels;

    /// All of the photo in colour.
    static Take inColour(const Straightening &by, const LensProfile &lens = {})
    {
        Take take = makeTake();
        take.greyOn = false;
        take.keeps.clear();
        take.geometry.straightening = by;
        if (!lens.name.empty())
            take = withPrepared(std::move(take), std::make_shared<const Lens>(lens));
        return take;
    }

    std::vector<uint16_t> render(const Take &take, const PictureRect &area, int level = 0,
                                 StageCache *cache = nullptr, View view = View::Result) const
    {
        std::vector<uint16_t> out(area.area() * 3);
        RenderOptions options;
        options.cache = cache;
        const auto done = renderPicture(
            *m_levels, take, view, level, area, OutputColour(m_levels->photo().profile),
            {RenderTarget::Layout::Rgb16, out.data(), size_t(area.width()) * 6}, options);
        return done ? out : std::vector<uint16_t>();
    }

    /// The photo's linear light.
    cv::Mat3f light() const
    {
        const Rect all = m_levels->rectOf(0);
        LightTile tile(all);
        if (!PhotoSource(*m_levels).read(0, tile, {}))
            return {};
        cv::Mat3f out(all.height(), all.width());
        for (int y = 0; y < out.rows; ++y)
            for (int x = 0; x < out.cols; ++x)
                out(y, x) = {tile.row(0, y)[x], tile.row(1, y)[x], tile.row(2, y)[x]};
        return out;
    }

    /// The signal above the difference to a picture made otherwise, dB of 8-bit-like codes.
    double likenessTo(const cv::Mat3f &linear, const Take &take) const
    {
        const PictureRect area = pictureOf(*m_levels, take).rect();
        const auto got = render(take, area);
        if (got.empty())
            return 0;
        const auto encoded = [](float v) {
            const double x = std::clamp(double(v), 0.0, 1.0);
            return x <= 0.0031308 ? 12.92 * x : 1.055 * std::pow(x, 1 / 2.4) - 0.055;
        };
        double sum = 0;
        for (int y = 0; y < area.height(); ++y)
            for (int x = 0; x < area.width(); ++x)
                for (int c = 0; c < 3; ++c) {
                    const double there = encoded(linear(y + area.y0, x + area.x0)[c]);
                    const auto at = size_t((y * area.width() + x) * 3 + c);
                    const double d = double(got[at]) / 65535 - there;
                    sum += d * d;
                }
        return -10 * std::log10(sum / double(got.size()));
    }

private Q_SLOTS:
    void initTestCase()
    {
        const auto levels = PhotoLevels::load(BUTTONHOLE_DEMO "/washing-line.jpg");
        QVERIFY(levels);
        m_levels = *levels;
    }

    void isAsAnotherWarpHasIt()
    {
        const cv::Mat3f photo = light();
        const int width = photo.cols;
        const int height = photo.rows;
        for (const Straightening &by :
             {Straightening{3.7F, 0, 0}, Straightening{0, 11, 0}, Straightening{-2, 8, 6}}) {
            const Take take = inColour(by);
            const Warp warp(by, {}, width, height);
            // Four corners tell all of it: a homography.
            cv::Point2f from[4];
            cv::Point2f to[4];
            for (int i = 0; i < 4; ++i) {
                const double x = i % 2 == 0 ? 0 : width;
                const double y = i < 2 ? 0 : height;
                const auto [u, v] = warp.toLevelled(x, y);
                from[i] = {float(x - 0.5), float(y - 0.5)};
                to[i] = {float(u - 0.5), float(v - 0.5)};
            }
            cv::Mat3f expected;
            cv::warpPerspective(photo, expected, cv::getPerspectiveTransform(from, to),
                                photo.size(), cv::INTER_CUBIC, cv::BORDER_REPLICATE);
            const double likeness = likenessTo(expected, take);
            QVERIFY2(likeness >= 45, qPrintable(QString::number(likeness)));
        }
    }

    void takesOutTheLensInTheSameStep()
    {
        const cv::Mat3f photo = light();
        LensProfile lens;
        lens.name = "Made up";
        lens.distortion.by = {1.01F, 0, -0.05F, 0, 0.01F, 0, 0};
        const Take take = inColour({2, 0, 0}, lens);
        const double unit = std::hypot(photo.cols, photo.rows) / 2;
        const double a = 2 * M_PI / 180;
        cv::Mat1f mapX(photo.size());
        cv::Mat1f mapY(photo.size());
        for (int y = 0; y < photo.rows; ++y)
            for (int x = 0; x < photo.cols; ++x) {
                const double dx = (x + 0.5 - photo.cols / 2.0) / unit;
                const double dy = (y + 0.5 - photo.rows / 2.0) / unit;
                const double u = std::cos(a) * dx + std::sin(a) * dy;
                const double v = -std::sin(a) * dx + std::cos(a) * dy;
                const double r2 = u * u + v * v;
                const double by = (1.01 - 0.05 * r2 + 0.01 * r2 * r2) * unit;
                mapX(y, x) = float(u * by + photo.cols / 2.0 - 0.5);
                mapY(y, x) = float(v * by + photo.rows / 2.0 - 0.5);
            }
        cv::Mat3f expected;
        cv::remap(photo, expected, mapX, mapY, cv::INTER_CUBIC, cv::BORDER_REPLICATE);
        const double likeness = likenessTo(expected, take);
        QVERIFY2(likeness >= 45, qPrintable(QString::number(likeness)));
    }

    void partsJoinedAreTheWhole()
    {
        Take take =
            test::makePaintedTake(m_levels->photo().width, m_levels->photo().height,
                                  {test::makeStroke({300, 0.5F, 1, 1, PressureSteers::Nothing},
                                                    {{500, 500}, {900, 800}})});
        take.geometry = {{301, 203, 1100, 899}, true, 1, {-4, 6, 0}};
        StageCache cache(64 << 20);
        for (const View view : {View::Result, View::Mask, View::Tinted, View::Clipped})
            for (const int level : {0, 1}) {
                const PictureRect all = pictureOf(*m_levels, take).rect(level);
                const auto whole = render(take, all, level, nullptr, view);
                QVERIFY(!whole.empty());
                const PictureRect part{all.x0 + 37, all.y0 + 53, all.x0 + 200, all.y0 + 211};
                const auto some = render(take, part, level, &cache, view);
                int wrong = 0;
                for (int y = 0; y < part.height(); ++y)
                    for (int x = 0; x < part.width() * 3; ++x) {
                        const auto there = size_t((y + 53) * all.width() * 3 + x + 37 * 3);
                        wrong += some[size_t(y * part.width() * 3 + x)] == whole[there] ? 0 : 1;
                    }
                QCOMPARE(wrong, 0);
            }
    }

    void whatIsBesideThePhotoIsWhite()
    {
        Take take = inColour({10, 0, 0});
        take.geometry.crop = m_levels->photo().rect();
        const PictureRect corner{0, 0, 8, 8};
        for (const uint16_t code : render(take, corner))
            QCOMPARE(code, uint16_t(65535));
        for (const uint16_t code : render(take, corner, 0, nullptr, View::Mask))
            QCOMPARE(code, uint16_t(0));
        take.geometry.crop = {};
        const PictureRect all = pictureOf(*m_levels, take).rect();
        QVERIFY(all.width() < m_levels->photo().width);
    }

    void anAmountThatDoesNothingLeavesBytesAlone()
    {
        Take take = inColour({});
        const PictureRect area{0, 0, 300, 200};
        const auto before = render(take, area);
        take = withPrepared(std::move(take),
                            std::make_shared<const Lens>(LensProfile{"None", {}, {}, {}, {}}));
        QCOMPARE(take.prepare.size(), size_t(1));
        QVERIFY(!isPrepared(take));
        QCOMPARE(render(take, area), before);
    }

    void vignettingAndFringesAreTakenBack()
    {
        // A grey photo, darker to the corners and red drawn outwards, as a made-up lens would.
        LensProfile lens;
        lens.name = "Made up";
        lens.vignetting.by = {1, 0, -0.4F, 0, 0.05F, 0, 0};
        lens.red.by = {1, 0, 0.002F, 0, 0, 0, 0};
        constexpr int kWidth = 900;
        constexpr int kHeight = 600;
        const double unit = std::hypot(kWidth, kHeight) / 2;
        auto photo = std::make_shared<Photo>();
        photo->width = kWidth;
        photo->height = kHeight;
        photo->sourceBits = 16;
        const auto pattern = [](double x, double y) {
            return 0.35 + 0.15 * std::sin(x / 9) * std::cos(y / 7);
        };
        auto pixels = test::makePicture<uint16_t>(kWidth, kHeight);
        for (int y = 0; y < kHeight; ++y)
            for (int x = 0; x < kWidth; ++x) {
                const double u = (x + 0.5 - kWidth / 2.0) / unit;
                const double v = (y + 0.5 - kHeight / 2.0) / unit;
                const double r = std::hypot(u, v);
                double at = r; // of the true red that is seen here
                for (int i = 0; i < 6; ++i)
                    at = r / lens.red.at(at);
                const double back = r > 0 ? at / r : 1;
                const double shade = lens.vignetting.at(r);
                for (int c = 0; c < 3; ++c) {
                    const double k = (c == 0 ? back : 1) * unit;
                    const double linear =
                        shade * pattern(u * k + kWidth / 2.0, v * k + kHeight / 2.0);
                    const double code = 1.055 * std::pow(linear, 1 / 2.4) - 0.055;
                    pixels.pixel(x, y)[c] = uint16_t(std::lround(65535 * code));
                }
            }
        photo->pixels = std::move(pixels);
        const auto levels = PhotoLevels::make(photo);
        QVERIFY(levels);
        const Lens adjustment(lens);
        const SourceRef source = adjustment.over(std::make_shared<const PhotoSource>(**levels));
        LightTile out((*levels)->rectOf(0));
        QVERIFY(source->read(0, out, {}));
        double worst = 0;
        double worstFringe = 0;
        for (int y = 4; y < kHeight - 4; ++y)
            for (int x = 4; x < kWidth - 4; ++x) {
                const double expected = pattern(x + 0.5, y + 0.5);
                worst = std::max(worst, std::abs(double(out.row(1, y)[x]) - expected));
                worstFringe = std::max(
                    worstFringe, std::abs(double(out.row(0, y)[x]) - double(out.row(1, y)[x])));
            }
        QVERIFY2(worst < 0.001, qPrintable(QString::number(worst)));
        QVERIFY2(worstFringe < 0.004, qPrintable(QString::number(worstFringe)));
        // A part read by itself is the same.
        const Rect part{700, 20, 760, 90};
        LightTile some(part);
        QVERIFY(source->read(0, some, {}));
        int wrong = 0;
        for (int y = part.y0; y < part.y1; ++y)
            for (int x = part.x0; x < part.x1; ++x)
                wrong += some.isSameAt(out, x, y) ? 0 : 1;
        QCOMPARE(wrong, 0);
    }
};

BUTTONHOLE_TEST(TstLevelledRender)

#include "tst_levelled_render.moc"
