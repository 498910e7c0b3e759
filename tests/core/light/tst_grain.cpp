#include "export/export.h"
#include "io/photo_levels.h"
#include "light/grain.h"
#include "light/tone_colours.h"
#include "light/vignette.h"
#include "render/light_chain.h"
#include "render/render.h"

#include "registry.h"
#include "samples.h"

#include <opencv2/core.hpp>

#include <QTemporaryDir>

#include <cmath>

using namespace buttonhole;

/// Grain by its statistics, colours by tone, and what the finish spares.
class TstGrain : public QObject
{
    Q_OBJECT

    static cv::Mat1f fieldOf(double periodPx, const Rect &area)
    {
        const Image<float> field = GrainField(periodPx, 1, 5).over(area);
        cv::Mat1f out(field.height(), field.width());
        for (int y = 0; y < out.rows; ++y)
            std::copy_n(field.row(y), out.cols, out.ptr<float>(y));
        return out;
    }
    static cv::Mat1f powerOf(const cv::Mat1f &field)
    {
        cv::Mat spectrum;
        cv::dft(field, spectrum, cv::DFT_COMPLEX_OUTPUT);
        cv::Mat parts[2];
        cv::split(spectrum, parts);
        return parts[0].mul(parts[0]) + parts[1].mul(parts[1]);
    }

    static Take withFinish(const AdjustmentRef &line)
    {
        Take take = makeTake();
        take.keeps.clear();
        return line ? withFinished(std::move(take), line) : take;
    }
    static cv::Mat3w rendered(const PhotoLevels &levels, const Take &take, const PictureRect &area,
                              int level = 0, StageCache *cache = nullptr)
    {
        cv::Mat3w out(area.height(), area.width());
        RenderOptions options;
        options.cache = cache;
        if (!renderPicture(
                levels, take, View::Result, level, area, OutputColour(levels.photo().profile),
                {RenderTarget::Layout::Rgb16, out.data, size_t(area.width()) * 6}, options))
            qFatal("it cannot be rendered");
        return out;
    }
    /// Mean and deviation of L* of sRGB greys.
    static std::pair<double, double> lightness(const cv::Mat &codes)
    {
        double sum = 0;
        double squares = 0;
        for (int y = 0; y < codes.rows; ++y)
            for (int x = 0; x < codes.cols; ++x) {
                const double code = codes.depth() == CV_8U ? codes.at<cv::Vec3b>(y, x)[1] / 255.0
                                                           : codes.at<cv::Vec3w>(y, x)[1] / 65535.0;
                const double light =
                    code <= 0.04045 ? code / 12.92 : std::pow((code + 0.055) / 1.055, 2.4);
                const double L = light > 0.008856 ? 116 * std::cbrt(light) - 16 : 903.3 * light;
                sum += L;
                squares += L * L;
            }
        const double n = double(codes.total());
        return {sum / n, std::sqrt(std::max(0.0, squares / n - sum / n * sum / n))};
    }
    static std::shared_ptr<const PhotoLevels> ground(int width, int height, int code)
    {
        return test::levelsOf(width, height, [code](int, int) {
            return std::array{code, code, code};
        });
    }

private Q_SLOTS:
    void itsSpectrumPeaksAtItsSize_data()
    {
        QTest::addColumn<double>("period");
        for (const double period : {5.0, 8.0, 16.0})
            QTest::addRow("%g px", period) << period;
    }
    void itsSpectrumPeaksAtItsSize()
    {
        QFETCH(double, period);
        constexpr int kSide = 512;
        const cv::Mat1f field = fieldOf(period, {300, -70, 300 + kSide, -70 + kSide});
        cv::Scalar mean;
        cv::Scalar deviation;
        cv::meanStdDev(field, mean, deviation);
        QVERIFY(std::abs(mean[0]) < 0.02);
        QVERIFY2(std::abs(deviation[0] - 1) < 0.03, qPrintable(QString::number(deviation[0])));
        const cv::Mat1f power = powerOf(field);
        std::vector<double> sums(kSide / 2, 0.0);
        std::vector<int> counts(kSide / 2, 0);
        for (int v = -kSide / 2; v < kSide / 2; ++v)
            for (int u = -kSide / 2; u < kSide / 2; ++u) {
                const auto ring = size_t(std::lround(std::hypot(u, v)));
                if (ring >= sums.size())
                    continue;
                sums[ring] += double(power((v + kSide) % kSide, (u + kSide) % kSide));
                ++counts[ring];
            }
        // The middle of what lies above 0.9 of the most, rings smoothed: noise has no sharp peak.
        std::vector<double> rings;
        for (size_t i = 6; i + 6 < sums.size(); ++i) {
            double sum = 0;
            int count = 0;
            for (size_t k = i - 5; k <= i + 5; ++k) {
                sum += sums[k];
                count += counts[k];
            }
            rings.push_back(sum / count);
        }
        const double most = *std::max_element(rings.begin(), rings.end());
        double at = 0;
        double weight = 0;
        for (size_t i = 0; i < rings.size(); ++i)
            if (rings[i] > 0.9 * most) {
                at += double(i + 6) * rings[i];
                weight += rings[i];
            }
        const double found = kSide / (at / weight);
        QVERIFY2(std::abs(found / period - 1) < 0.1, qPrintable(QString::number(found)));
    }

    void itNeverRepeats()
    {
        constexpr int kLength = 8192;
        constexpr int kRows = 8;
        const cv::Mat1f field = fieldOf(4, {0, 0, kLength, kRows});
        cv::Mat spectrum;
        cv::dft(field, spectrum, cv::DFT_ROWS | cv::DFT_COMPLEX_OUTPUT);
        cv::mulSpectrums(spectrum, spectrum, spectrum, cv::DFT_ROWS, true);
        cv::Mat1f alike;
        cv::dft(spectrum, alike, cv::DFT_INVERSE | cv::DFT_ROWS | cv::DFT_REAL_OUTPUT);
        cv::Mat1f sum;
        cv::reduce(alike, sum, 0, cv::REDUCE_SUM);
        for (int lag = 40; lag <= kLength / 2; ++lag)
            QVERIFY2(std::abs(sum(0, lag) / sum(0, 0)) < 0.06, qPrintable(QString::number(lag)));
    }

    void itLooksTheSameAtEverySize()
    {
        const QTemporaryDir folder;
        const auto levels = ground(1600, 1200, 120);
        const double was = lightness(rendered(*levels, withFinish(nullptr), {0, 0, 64, 64})).first;
        Grain grain;
        grain.amount = 0.6F;
        grain.sizePermille = 3; // 4.8 px
        grain.roughness = 0.4F;
        const Take take = withFinish(std::make_shared<const NumberAdjustment<Grain>>(grain));
        double first = 0;
        for (const int longEdge : {0, 1100, 500}) {
            const std::string path =
                folder.filePath(QStringLiteral("%1.png").arg(longEdge)).toStdString();
            ExportSettings settings;
            settings.format = ExportSettings::Format::Png;
            settings.bits = 16;
            settings.longEdgePx = longEdge;
            QVERIFY(exportPicture(*levels, take, settings, path));
            const auto made = PhotoLevels::load(path, {});
            QVERIFY(made);
            Take plain = makeTake();
            plain.greyOn = false;
            plain.keeps.clear();
            const Rect all = (*made)->rectOf(0);
            const auto [mean, deviation] =
                lightness(rendered(**made, plain, {0, 0, all.x1, all.y1}));
            QVERIFY2(std::abs(mean - was) < 0.2, qPrintable(QStringLiteral("%1: %2 beside %3, %4")
                                                                .arg(longEdge)
                                                                .arg(mean)
                                                                .arg(was)
                                                                .arg(deviation)));
            QVERIFY(deviation > 3);
            if (first == 0)
                first = deviation;
            QVERIFY2(
                std::abs(deviation / first - 1) < 0.1,
                qPrintable(QStringLiteral("%1: %2, %3").arg(longEdge).arg(deviation).arg(first)));
        }
    }

    void blackAndWhiteStay()
    {
        Grain grain;
        grain.amount = 1;
        const Take take = withFinish(std::make_shared<const NumberAdjustment<Grain>>(grain));
        for (const int code : {0, 255}) {
            const auto levels = ground(64, 64, code);
            const auto [mean, deviation] = lightness(rendered(*levels, take, {0, 0, 64, 64}));
            QVERIFY(std::abs(mean - (code == 0 ? 0 : 100)) < 0.05);
            QVERIFY(deviation < 0.1);
        }
    }

    void aNegativeTurnsLightnessOver()
    {
        ToneColours values;
        values.negative = 1;
        const Take take = withFinish(std::make_shared<const NumberAdjustment<ToneColours>>(values));
        const auto levels = ground(64, 64, 60);
        const double was = lightness(rendered(*levels, withFinish(nullptr), {0, 0, 8, 8})).first;
        const double is = lightness(rendered(*levels, take, {0, 0, 8, 8})).first;
        // OKLab L of a neutral is (L* + 16) / 116.
        QVERIFY(std::abs((was + 16) / 116 + (is + 16) / 116 - 1) < 1e-3);
    }

    void tonesGetTheirColours()
    {
        ToneColours values;
        values.strength = 1;
        values.lightsHueDeg = 110; // yellow
        values.lightsColour = 1;
        values.shadowsColour = values.middleColour = 0;
        const Take take = withFinish(std::make_shared<const NumberAdjustment<ToneColours>>(values));
        const auto colourOf = [&](int code) {
            const auto made = rendered(*ground(32, 32, code), take, {0, 0, 8, 8})(4, 4);
            return std::array{int(made[0]), int(made[1]), int(made[2])};
        };
        const auto light = colourOf(205);
        QVERIFY(light[0] - light[2] > 15000);
        const auto dark = colourOf(20);
        QVERIFY(std::abs(dark[0] - dark[2]) < 300);
    }

    void whatIsKeptIsSpared()
    {
        const auto levels = test::levelsOf(300, 300, [](int x, int y) {
            return std::array{200 - x / 4, 90, 40 + y / 3};
        });
        Take take = test::makePaintedTake(
            300, 300, {test::makeStroke(Tip{60, 0, 1}, {{150, 150}, {152, 150}})});
        const PictureRect all{0, 0, 300, 300};
        const cv::Mat3w before = rendered(*levels, take, all);
        ToneColours colours;
        colours.strength = 1;
        Grain grain;
        grain.amount = 1;
        grain.spareKept = 1;
        Vignette vignette;
        vignette.amount = -1;
        vignette.midpoint = 0;
        vignette.spareKept = 1;
        take = withFinished(take, std::make_shared<const NumberAdjustment<ToneColours>>(colours));
        take = withFinished(take, std::make_shared<const NumberAdjustment<Vignette>>(vignette));
        take = withFinished(take, std::make_shared<const NumberAdjustment<Grain>>(grain));
        const cv::Mat3w after = rendered(*levels, take, all);
        for (int y = 145; y < 156; ++y)
            for (int x = 145; x < 156; ++x)
                QCOMPARE(after(y, x), before(y, x));
        QVERIFY(after(20, 20) != before(20, 20));

        // Cropped, turned and levelled: still on the same thing.
        take.geometry.crop = {40, 60, 280, 290};
        take.geometry.quarterTurns = 1;
        Take plain = take;
        plain.finish.clear();
        const PictureRect whole = pictureOf(*levels, take).rect(0);
        const auto at = pictureOf(*levels, take).pixelAt(150, 150, 0);
        const auto turned = rendered(*levels, take, whole);
        const auto turnedPlain = rendered(*levels, plain, whole);
        const int px = at[0] - whole.x0;
        const int py = at[1] - whole.y0;
        QCOMPARE(turned(py, px), turnedPlain(py, px));
        QVERIFY(turned(3, 3) != turnedPlain(3, 3));
    }

    void partsAndCachesAreTheSameBytes()
    {
        const auto levels = test::levelsOf(700, 420, [](int x, int y) {
            return std::array{40 + x / 4, 60 + y / 3, (x * 7 + y * 13) % 200};
        });
        Take take = test::makePaintedTake(700, 420,
                                          {test::makeStroke(Tip{90, 0.5}, {{90, 90}, {500, 300}})});
        take = withFinished(take, std::make_shared<const NumberAdjustment<ToneColours>>(
                                      ToneColours{.strength = 0.7F, .negative = 0.2F}));
        take = withFinished(take, std::make_shared<const NumberAdjustment<Vignette>>(
                                      Vignette{.amount = -0.6F, .spareKept = 0.5F}));
        take = withFinished(take, std::make_shared<const NumberAdjustment<Grain>>(
                                      Grain{.amount = 0.7F, .roughness = 0.5F, .spareKept = 0.6F}));
        for (const double angle : {0.0, 3.0}) {
            take.geometry.straightening.angleDeg = float(angle);
            const PictureRect whole = pictureOf(*levels, take).rect(0);
            const cv::Mat3w all = rendered(*levels, take, whole);
            StageCache cache;
            for (int turn = 0; turn < 2; ++turn)
                for (const PictureRect &part :
                     {PictureRect{whole.x0 + 3, whole.y0 + 250, whole.x0 + 400, whole.y0 + 262},
                      PictureRect{whole.x0 + 250, whole.y0 + 7, whole.x0 + 261, whole.y0 + 300}}) {
                    const cv::Mat3w piece =
                        rendered(*levels, take, part, 0, turn ? &cache : nullptr);
                    const cv::Mat3w same = all(cv::Rect(part.x0 - whole.x0, part.y0 - whole.y0,
                                                        part.width(), part.height()));
                    QVERIFY2(cv::norm(piece, same, cv::NORM_INF) == 0,
                             qPrintable(QStringLiteral("%1 deg, %2").arg(angle).arg(turn)));
                }
        }
    }
};

BUTTONHOLE_TEST(TstGrain)
#include "tst_grain.moc"
