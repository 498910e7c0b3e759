#include "light/coarse_plane.h"
#include "light/guided_mean.h"
#include "raster/row_sums.h"

#include "registry.h"

#include <cmath>

using namespace buttonhole;

/// Sums, means and enlarged planes against plain loops.
class TstMeans : public QObject
{
    Q_OBJECT

    static Plane noise(int width, int height)
    {
        Plane out(width, height, 1);
        for (size_t i = 0; i < out.count(); ++i)
            out.row(0)[i] = float((i * 2654435761U) % 1000) / 1000;
        return out;
    }

private Q_SLOTS:
    void sumsAreThoseOfPlainLoops()
    {
        const std::vector<float> weights = {0.4F, 0.2F, 0.1F, 0.05F};
        const int r = 3;
        for (const int width : {1, 3, 4, 7, 8, 15, 16, 17, 31, 40, 63, 64, 65, 100}) {
            const Plane in = noise(width + 2 * r, 20);
            Plane along(width, 20, 1);
            RingSums sums(weights, width);
            std::vector<float> got(size_t(width), 0.0F);
            for (int y = 0; y < in.height(); ++y) {
                for (int x = 0; x < width; ++x) {
                    const float *at = in.row(y) + x + r;
                    float sum = weights[0] * at[0];
                    for (int k = 1; k <= r; ++k)
                        sum += weights[size_t(k)] * (at[-k] + at[k]);
                    along.row(y)[x] = sum;
                }
                const float *pushed = sums.push(in.row(y));
                QVERIFY(std::equal(pushed, pushed + width, along.row(y)));
                if (y < 2 * r)
                    continue;
                sums.sum(got.data());
                for (int x = 0; x < width; ++x) {
                    float sum = weights[0] * along.row(y - r)[x];
                    for (int k = 1; k <= r; ++k)
                        sum += weights[size_t(k)] *
                               (along.row(y - r - k)[x] + along.row(y - r + k)[x]);
                    QCOMPARE(got[size_t(x)], sum);
                }
            }
        }
    }

    /// Also where all of a plane lies near its border.
    void meansOfBothKindsAgree()
    {
        using Divided = GuidedMean::Divided;
        for (const auto &[width, height] : {std::pair(50, 40), {9, 30}, {30, 3}, {1, 1}}) {
            const Plane in = noise(width, height);
            const auto before = GuidedMean(1.6, Divided::Beforehand).lines(in, 0.004F);
            const auto after = GuidedMean(1.6, Divided::Afterwards).lines(in, 0.004F);
            for (size_t i = 0; i < in.count(); ++i) {
                QVERIFY(std::abs(before.slope.row(0)[i] - after.slope.row(0)[i]) < 1e-4F);
                QVERIFY(std::abs(before.offset.row(0)[i] - after.offset.row(0)[i]) < 1e-4F);
            }
        }
    }

    /// Of ground with an edge of 0.4 and some grain: at most some percent of the edge, in few
    /// pixels.
    void everyOtherPixelSaysAsMuch()
    {
        for (const auto &[width, height] : {std::pair(81, 60), {64, 51}}) {
            const Plane grain = noise(width, height);
            Plane in(width, height, 1);
            for (int y = 0; y < height; ++y)
                for (int x = 0; x < width; ++x)
                    in.row(y)[x] = (x + y < 70 ? 0.3F : 0.7F) + 0.002F * float(y) +
                                   0.03F * (grain.row(y)[x] - 0.5F);
            const GuidedMean mean(1.6, GuidedMean::Divided::Beforehand);
            const auto all = mean.lines(in, 0.004F);
            const PlaneRows rows{in.row(0), size_t(width), width, height};
            const auto some = mean.everyOther(rows, 0.004F);
            QCOMPARE(some.slope.width(), (width + 1) / 2);
            FilledRows slope(some.slope, 0, 0, {0, 0, width, height});
            FilledRows offset(some.offset, 0, 0, {0, 0, width, height});
            double worst = 0;
            double sum = 0;
            for (int y = 0; y < height; ++y) {
                const float *a = slope.row(y);
                const float *b = offset.row(y);
                for (int x = 0; x < width; ++x) {
                    const float own = in.row(y)[x];
                    const float expected = all.slope.row(y)[x] * own + all.offset.row(y)[x];
                    const double off = double(std::abs(a[x] * own + b[x] - expected));
                    worst = std::max(worst, off);
                    sum += off;
                }
            }
            QVERIFY2(worst < 0.03, std::to_string(worst).c_str());
            QVERIFY2(sum / (width * height) < 0.001, std::to_string(sum).c_str());
        }
    }

    void whatIsEnlargedLiesBetweenMiddles()
    {
        for (const int step : {2, 4, 8, 16, 32}) {
            const Plane coarse = noise(7, 6);
            const Rect area{64, 32, 64 + 7 * step, 32 + 6 * step};
            for (const Rect &part :
                 {area, Rect{65 + step, 33 + step, 62 + 5 * step, 33 + 4 * step}}) {
                EnlargedRows rows(coarse, area, part, step);
                for (int y = part.y0; y < part.y1; ++y) {
                    const float *row = rows.row(y);
                    for (int x = part.x0; x < part.x1; ++x) {
                        const double u = (x - area.x0 + 0.5) / step - 0.5;
                        const double v = (y - area.y0 + 0.5) / step - 0.5;
                        const auto value = [&](int i, int j) {
                            return double(coarse.row(std::clamp(j, 0, 5))[std::clamp(i, 0, 6)]);
                        };
                        const int i = int(std::floor(u));
                        const int j = int(std::floor(v));
                        const double above = std::lerp(value(i, j), value(i + 1, j), u - i);
                        const double below = std::lerp(value(i, j + 1), value(i + 1, j + 1), u - i);
                        QVERIFY(std::abs(double(row[x - part.x0]) -
                                         std::lerp(above, below, v - j)) < 1e-6);
                    }
                }
            }
        }
    }
};

BUTTONHOLE_TEST(TstMeans)
#include "tst_means.moc"
