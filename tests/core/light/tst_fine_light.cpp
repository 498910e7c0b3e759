#include "document/set_param.h"
#include "light/fine_light.h"
#include "light/guided_mean.h"
#include "render/light_chain.h"

#include "registry.h"
#include "samples.h"

#include <opencv2/imgproc.hpp>

#include <random>

using namespace buttonhole;

namespace
{

/// Its light, read in one piece or in tiles of that side.
cv::Mat3f lightOf(const Source &source, int level = 0, int tile = 1 << 20)
{
    const Rect all = source.rectOf(level);
    cv::Mat3f out(all.height(), all.width());
    for (int y = 0; y < all.y1; y += tile)
        for (int x = 0; x < all.x1; x += tile) {
            LightTile part(intersected(Rect{x, y, x + tile, y + tile}, all));
            if (!source.read(level, part, {}))
                return {};
            const Rect &area = part.area();
            for (int v = area.y0; v < area.y1; ++v)
                for (int u = area.x0; u < area.x1; ++u)
                    out(v, u) = {*part.at(0, u, v), *part.at(1, u, v), *part.at(2, u, v)};
        }
    return out;
}

template <class Values>
SourceRef changed(const PhotoLevels &levels, const Values &values)
{
    return NumberAdjustment<Values>(values).over(std::make_shared<const PhotoSource>(levels));
}

/// Standard deviation of a channel in a part.
double spread(const cv::Mat3f &light, const cv::Rect &part, int channel)
{
    cv::Scalar mean;
    cv::Scalar deviation;
    cv::meanStdDev(light(part), mean, deviation);
    return deviation[channel];
}

} // namespace

class TstFineLight : public QObject
{
    Q_OBJECT

    /// Left dark, right light, noise of a few codes over both; each channel its own.
    std::shared_ptr<const PhotoLevels> m_noisy = [] {
        auto random = std::make_shared<std::mt19937>(11);
        return test::levelsOf(400, 300, [random](int x, int) {
            std::normal_distribution<double> noise(0, 6);
            std::array<int, 3> out{};
            for (int &each : out)
                each = std::clamp(int(std::lround((x < 200 ? 90 : 170) + noise(*random))), 0, 255);
            return out;
        });
    }();

private Q_SLOTS:
    /// Against OpenCV's filters, inside.
    void meansAreGaussian()
    {
        Plane plane(60, 40, 1);
        std::mt19937 random(5);
        for (size_t i = 0; i < plane.count(); ++i)
            plane.row(0)[i] = float(random() % 1000) / 1000;
        const auto seen = [](Plane &p) { return cv::Mat1f(p.height(), p.width(), p.row(0)); };
        const GuidedMean mean(1.7);
        const int r = mean.radius();
        cv::Mat1f expected;
        cv::GaussianBlur(seen(plane), expected, {2 * r + 1, 2 * r + 1}, 1.7);
        const cv::Rect inside(r, r, 60 - 2 * r, 40 - 2 * r);
        Plane made = mean.mean(plane);
        QVERIFY(cv::norm(seen(made)(inside), expected(inside), cv::NORM_INF) < 1e-5);
        std::fill_n(plane.row(0), plane.count(), 0.25F);
        made = mean.mean(plane);
        QVERIFY(cv::norm(seen(made), seen(plane), cv::NORM_INF) < 1e-6); // at the border, too
    }

    void tilesMakeNoDifference()
    {
        const auto sharp = changed(*m_noisy, Sharpness{1.5F, 1.3F});
        const auto smooth = changed(*m_noisy, Noise{0.6F, 0.8F});
        for (const SourceRef &source : {sharp, smooth})
            for (const int level : {0, 1}) {
                const cv::Mat3f whole = lightOf(*source, level);
                for (const int side : {64, 97})
                    QVERIFY(cv::norm(whole, lightOf(*source, level, side), cv::NORM_INF) == 0);
            }
    }

    void nothingIsNothing()
    {
        const cv::Mat3f plain = lightOf(PhotoSource(*m_noisy));
        QVERIFY(cv::norm(plain, lightOf(*changed(*m_noisy, Sharpness{0, 3})), cv::NORM_INF) == 0);
        QVERIFY(cv::norm(plain, lightOf(*changed(*m_noisy, Noise{})), cv::NORM_INF) == 0);
    }

    /// Grain goes, the edge stays where and as steep as it is.
    void noiseGoesAndTheEdgeStays()
    {
        const cv::Mat3f before = lightOf(PhotoSource(*m_noisy));
        const cv::Mat3f after = lightOf(*changed(*m_noisy, Noise{1, 1}));
        const cv::Rect flat(20, 20, 150, 260);
        for (int c = 0; c < 3; ++c)
            QVERIFY(spread(after, flat, c) < spread(before, flat, c) / 3);
        cv::Mat1f rows;
        cv::Mat1f channel;
        cv::extractChannel(after, channel, 1);
        cv::reduce(channel, rows, 0, cv::REDUCE_AVG);
        const float step = rows(0, 230) - rows(0, 170);
        QVERIFY(rows(0, 201) - rows(0, 198) > 0.85F * step);
    }

    /// A blurred edge gets steeper, and a sharp one no rim of more than a fifth of its step.
    void edgesGetSteeperWithoutRims()
    {
        const auto blurred = test::levelsOf(200, 60, [](int x, int) {
            const int v = int(std::lround(80 + 100 / (1 + std::exp(-(x - 100) / 1.5))));
            return std::array{v, v, v};
        });
        const cv::Mat3f before = lightOf(PhotoSource(*blurred));
        const cv::Mat3f after = lightOf(*changed(*blurred, Sharpness{1, 2}));
        const auto slope = [](const cv::Mat3f &m) { return m(30, 102)[1] - m(30, 98)[1]; };
        QVERIFY(slope(after) > 1.1F * slope(before));
        const float step = before(30, 180)[1] - before(30, 20)[1];
        double least = 0;
        double most = 0;
        cv::minMaxLoc(after.reshape(1), &least, &most);
        QVERIFY(most < double(before(30, 180)[1] + 0.2F * step));
        QVERIFY(least > double(before(30, 20)[1] - 0.2F * step));
    }

    /// Noise first, light next, sharpness last, whatever was set first.
    void linesStandInTheOrderOfTheirWork()
    {
        Take take = makeTake();
        for (const char *each : {"prepare.sharpness.amount=1", "prepare.noise.colour=0.5",
                                 "prepare.light.contrast=0.1"})
            take = withParam(std::move(take), each).value();
        QCOMPARE(take.prepare.size(), size_t(3));
        QCOMPARE(take.prepare[0].adjustment->kind(), Noise::kKind);
        QCOMPARE(take.prepare[1].adjustment->kind(), std::string_view("light"));
        QCOMPARE(take.prepare[2].adjustment->kind(), Sharpness::kKind);
    }
};

BUTTONHOLE_TEST(TstFineLight)
#include "tst_fine_light.moc"
