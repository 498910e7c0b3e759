#include "segment/edge_snap.h"

#include "segment/look_frame.h"

#include "registry.h"
#include "samples.h"

#include <opencv2/imgproc.hpp>

#include <cmath>

using namespace buttonhole;

namespace
{

constexpr int kPhotoSide = 640;
constexpr double kBallMiddle = 320.5;
constexpr double kBallRadius = 150;

double shareAt(int x, int y, double blur)
{
    const double out = std::hypot(x + 0.5 - kBallMiddle, y + 0.5 - kBallMiddle) - kBallRadius;
    return 0.5 * std::erfc(out / (std::sqrt(2.0) * blur));
}

/// A blue disc on sand, its edge blurred by a standard deviation.
std::shared_ptr<const PhotoLevels> photoOf(double blur)
{
    return test::levelsOf(kPhotoSide, kPhotoSide, [blur](int x, int y) {
        const double a = shareAt(x, y, blur);
        const auto mix = [a](int own, int ground) { return int(own * a + ground * (1 - a)); };
        const int grain = (x * 5 + y * 11) % 5 - 2;
        return std::array{mix(50, 190) + grain, mix(80, 170) + grain, mix(180, 130) + grain};
    });
}

/// Labels of the disc at an eighth of the size, too large by some px of the photo.
Labelled coarse(double offPx)
{
    Labelled out{{0, 0, kPhotoSide, kPhotoSide},
                 cv::Mat1b(cv::Mat1b::zeros(kPhotoSide / 8, kPhotoSide / 8))};
    const double middle = kBallMiddle / 8;
    for (int y = 0; y < out.labels.rows; ++y)
        for (int x = 0; x < out.labels.cols; ++x)
            if (std::hypot(x + 0.5 - middle, y + 0.5 - middle) < (kBallRadius + offPx) / 8)
                out.labels(y, x) = 255;
    return out;
}

/// What a first cut would have learnt.
ColourEvidence evidenceOf(const PhotoLevels &levels)
{
    ColourEvidence out;
    const cv::Mat3f lab = readFrame(levels, levels.photo().rect(), kPhotoSide / 8).lab;
    const cv::Mat1b inside = coarse(0).labels;
    for (int y = 0; y < lab.rows; ++y)
        for (int x = 0; x < lab.cols; ++x)
            (inside(y, x) ? out.inside : out.outside).add(ColourDensity::binOf(lab(y, x)));
    out.inside.finish();
    out.outside.finish();
    return out;
}

double meanError(const MaskPlane &plane, double blur)
{
    const auto pixels = test::pixelsOf(plane);
    double sum = 0;
    int count = 0;
    for (int y = 0; y < kPhotoSide; ++y)
        for (int x = 0; x < kPhotoSide; ++x) {
            const double out =
                std::hypot(x + 0.5 - kBallMiddle, y + 0.5 - kBallMiddle) - kBallRadius;
            if (std::abs(out) > 10)
                continue;
            const double is = pixels[size_t(y) * kPhotoSide + size_t(x)] / 65535.0;
            sum += std::abs(is - shareAt(x, y, blur));
            ++count;
        }
    return sum / count;
}

} // namespace

/// From coarse labels to the photo's own pixels.
class TstEdgeSnap : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void theEdgeIsFoundToThePixel_data()
    {
        QTest::addColumn<double>("blur");
        QTest::addColumn<double>("off"); // less than a px of the labels
        QTest::addColumn<double>("most");
        QTest::newRow("sharp") << 0.3 << 0.0 << 0.025;
        QTest::newRow("sharp, labels too large") << 0.3 << 6.0 << 0.025;
        QTest::newRow("sharp, labels too small") << 0.3 << -6.0 << 0.025;
        QTest::newRow("soft") << 1.5 << 0.0 << 0.03; // mixed within 1 px only
    }
    void theEdgeIsFoundToThePixel()
    {
        QFETCH(double, blur);
        QFETCH(double, off);
        QFETCH(double, most);
        const auto levels = photoOf(blur);
        const auto plane = snapEdge(*levels, coarse(off), evidenceOf(*levels), 0, {});
        QVERIFY(plane);
        QVERIFY2(meanError(*plane, blur) < most,
                 qPrintable(QString::number(meanError(*plane, blur))));
        QCOMPARE(plane->at(320, 320), uint16_t(65535));
        QCOMPARE(plane->at(20, 20), uint16_t(0));
    }

    /// Sooner, in stairs of 2^finest px.
    void coarserIsTheSameInStairs()
    {
        const auto levels = photoOf(0.3);
        const auto plane = snapEdge(*levels, coarse(0), evidenceOf(*levels), 2, {});
        QVERIFY(plane);
        QVERIFY(meanError(*plane, 0.3) < 0.12);
        for (int y = 0; y < kPhotoSide; y += 4)
            for (int x = 0; x < kPhotoSide; x += 4)
                QCOMPARE(plane->at(x + 3, y + 3), plane->at(x, y));
    }

    /// Of a part of the photo, nothing beyond it is said.
    void onlyTheAreaIsAnswered()
    {
        const auto levels = photoOf(0.3);
        const Rect area{160, 80, 480, 320};
        const Labelled part{area, coarse(0).over(area, {40, 30})};
        const auto plane = snapEdge(*levels, part, evidenceOf(*levels), 0, {});
        QVERIFY(plane);
        QCOMPARE(plane->at(320, 200), uint16_t(65535));
        QCOMPARE(plane->at(320, 400), uint16_t(0)); // of the disc, but below the area
        QCOMPARE(plane->at(320, 100), uint16_t(0));
    }

    void itCanBeStopped()
    {
        const auto levels = photoOf(0.3);
        std::stop_source stop;
        stop.request_stop();
        QCOMPARE(snapEdge(*levels, coarse(0), evidenceOf(*levels), 0, {stop.get_token(), {}})
                     .error()
                     .kind,
                 ErrorKind::Cancelled);
    }
};

BUTTONHOLE_TEST(TstEdgeSnap)

#include "tst_edge_snap.moc"
