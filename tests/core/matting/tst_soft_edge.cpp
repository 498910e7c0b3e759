#include "matting/side_colours.h"
#include "matting/soft_edge.h"
#include "nets/nets.h"
#include "raster/parallel_tiles.h"
#include "segment/colour_bins.h"

#include "registry.h"

#include <opencv2/dnn.hpp>
#include <opencv2/imgproc.hpp>

#include <QTemporaryDir>

#include <algorithm>
#include <cmath>

using namespace buttonhole;

namespace
{

constexpr int kSide = 480;
constexpr int kMid = kSide / 2;
const cv::Vec3f kOwn(0.6F, 0.14F, 0.06F);
const cv::Vec3f kGround(0.45F, -0.05F, -0.04F);

float grainAt(int x, int y)
{
    return 0.002F * float((x * 7 + y * 13) % 5 - 2);
}

/// Where a line that leans a little crosses a row.
double edgeAt(int y)
{
    return kMid + 0.1 * (y - kMid);
}

/// The share of the thing left of that line, blurred by a standard deviation.
float shareAt(int x, int y, double blur)
{
    const double from = x + 0.5 - edgeAt(y);
    return float(0.5 * std::erfc(from / (std::sqrt(2.0) * std::max(blur, 0.1))));
}

constexpr float kWrongBy = 6;

struct Scene {
    cv::Mat3f lab = cv::Mat3f(kSide, kSide);
    cv::Mat1f share = cv::Mat1f(kSide, kSide);
    cv::Mat1f hard = cv::Mat1f(kSide, kSide);
    cv::Mat1f away; ///< px from the hard edge
};

Scene makeScene(double blur)
{
    Scene out;
    for (int y = 0; y < kSide; ++y)
        for (int x = 0; x < kSide; ++x) {
            const float a = out.share(y, x) = shareAt(x, y, blur);
            out.hard(y, x) = a > 0.5F ? 1 : 0;
            out.lab(y, x) = kGround + a * (kOwn - kGround) + cv::Vec3f(grainAt(x, y), 0, 0);
        }
    cv::Mat1f in;
    cv::Mat1f outside;
    cv::distanceTransform(out.hard > 0.5F, in, cv::DIST_L2, cv::DIST_MASK_5);
    cv::distanceTransform(out.hard <= 0.5F, outside, cv::DIST_L2, cv::DIST_MASK_5);
    out.away = in + outside;
    return out;
}

/// Threads of 4 px that lean a little, under a mask that is 3 px too wide to either side.
Scene makeThreads()
{
    Scene out;
    for (int y = 0; y < kSide; ++y)
        for (int x = 0; x < kSide; ++x) {
            const int at = (x + y / 7) % 40;
            out.share(y, x) = at >= 18 && at < 22 ? 1 : 0;
            out.hard(y, x) = at >= 15 && at < 25 ? 1 : 0;
            out.lab(y, x) = (out.share(y, x) > 0 ? kOwn : kGround) + cv::Vec3f(grainAt(x, y), 0, 0);
        }
    return out;
}

/// Noise of about -1 to 1, smooth over so many px.
cv::Mat1f cloud(cv::RNG &random, double sigma)
{
    cv::Mat1f out(kSide, kSide);
    random.fill(out, cv::RNG::UNIFORM, -1, 1);
    cv::GaussianBlur(out, out, {0, 0}, sigma);
    double most = 0;
    cv::minMaxLoc(cv::abs(out), nullptr, &most);
    return out / most;
}

/// Thick and thin things in colours of their own everywhere: what a pixel comes to depends on which
/// samples it finds.
Scene makeThicket()
{
    Scene out;
    cv::RNG random(5);
    out.hard = cv::Mat1f(cloud(random, 5) > 0.1F) / 255;
    cv::GaussianBlur(out.hard, out.share, {0, 0}, 1.5);
    const cv::Mat1f shade = cloud(random, 6);
    const cv::Mat1f hue = cloud(random, 6);
    for (int y = 0; y < kSide; ++y)
        for (int x = 0; x < kSide; ++x)
            out.lab(y, x) = kGround + out.share(y, x) * (kOwn - kGround) +
                            0.08F * cv::Vec3f(shade(y, x), hue(y, x), 0);
    return out;
}

double meanError(const cv::Mat1f &mask, const Scene &scene)
{
    double sum = 0;
    int count = 0;
    for (int y = 20; y < kSide - 20; ++y)
        for (int x = 20; x < kSide - 20; ++x)
            if (scene.away(y, x) < 10) {
                sum += std::abs(mask(y, x) - scene.share(y, x));
                ++count;
            }
    return sum / count;
}

constexpr int kNetPlanes = 20;
constexpr int kNetSide = 96;

/// Waves, to ask the edge net something.
std::vector<float> netInput(int which)
{
    std::vector<float> planes(size_t(kNetPlanes) * kNetSide * kNetSide);
    for (size_t i = 0; i < planes.size(); ++i)
        planes[i] = float(std::sin(0.01 * (which + 1) * double(i % 4801)));
    return planes;
}

} // namespace

class TstSoftEdge : public QObject
{
    Q_OBJECT
private Q_SLOTS:
    void bySharpnessCrispStaysCrispAndBlurIsFollowed_data()
    {
        QTest::addColumn<double>("blur");
        QTest::newRow("crisp") << 0.3;
        QTest::newRow("a pixel") << 1.0;
        QTest::newRow("soft") << 2.5;
        QTest::newRow("out of focus") << 4.0;
    }
    void bySharpnessCrispStaysCrispAndBlurIsFollowed()
    {
        QFETCH(double, blur);
        const Scene scene = makeScene(blur);
        const cv::Mat1f soft = softenEdge(scene.lab, scene.hard, {{0, true, false}, {}, {}, {}});
        const double before = meanError(scene.hard, scene);
        const double after = meanError(soft, scene);
        QVERIFY2(after <= std::max(0.6 * before, 0.012),
                 qPrintable(QStringLiteral("%1 -> %2").arg(before).arg(after)));
        QCOMPARE(soft(kMid, kMid - 100), 1.0F);
        QCOMPARE(soft(kMid, kMid + 100), 0.0F);
    }

    /// What is marked as wide is sought farther, and only there.
    void wideReachesFartherWhereItIsMarked()
    {
        const Scene scene = makeScene(0.3);
        cv::Mat1f off; // the mask lies 9 px too far out
        cv::dilate(scene.hard, off, cv::getStructuringElement(cv::MORPH_RECT, {19, 1}));
        cv::Mat1b wide = cv::Mat1b::zeros(kSide, kSide);
        wide.rowRange(kMid, kSide) = 255;
        const cv::Mat1f soft = softenEdge(scene.lab, off, {{3, false, true}, wide, {}, {}});
        const int row = kMid + 80;
        const auto edge = int(edgeAt(row));
        QVERIFY2(soft(row, edge + 4) < 0.2F, qPrintable(QString::number(soft(row, edge + 4))));
        QVERIFY(soft(row, edge - 4) > 0.8F);
        QCOMPARE(soft(kMid - 80, int(edgeAt(kMid - 80)) + 2), 1.0F); // as it was masked
    }

    /// A thread beside the thing that the mask has lost is found beyond the band, less and less so.
    void whatTheMaskHasLostIsFoundBesideTheBand()
    {
        constexpr float kPx = 4;
        constexpr int kThread = kMid + 5;
        cv::Mat3f lab(kSide, kSide);
        cv::Mat1f mask(kSide, kSide);
        for (int y = 0; y < kSide; ++y)
            for (int x = 0; x < kSide; ++x) {
                const bool isOwn = x < kMid || x == kThread || x == kThread + 1 || x == kThread + 7;
                lab(y, x) = (isOwn ? kOwn : kGround) + cv::Vec3f(grainAt(x, y), 0, 0);
                mask(y, x) = x < kMid ? 1 : 0;
            }
        const cv::Mat1f soft = softenEdge(lab, mask, {{kPx, false, false}, {}, {}, {}});
        const auto meanAt = [&](int x) { return cv::mean(soft.col(x).rowRange(40, 440))[0]; };
        QVERIFY2(meanAt(kThread) > 0.3, qPrintable(QString::number(meanAt(kThread))));
        QVERIFY(meanAt(kThread + 1) < meanAt(kThread));
        QVERIFY2(meanAt(kThread - 3) < 0.2, qPrintable(QString::number(meanAt(kThread - 3))));
        QCOMPARE(meanAt(kThread + 7), 0.0); // too far
        QCOMPARE(meanAt(kMid - 12), 1.0);
    }

    void threadsThinnerThanTheBandAreFound()
    {
        const Scene scene = makeThreads();
        const cv::Mat1f soft = softenEdge(scene.lab, scene.hard, {{6, false, false}, {}, {}, {}});
        const cv::Rect inner(40, 40, kSide - 80, kSide - 80);
        const double before = cv::mean(cv::abs(scene.hard - scene.share)(inner))[0];
        const double after = cv::mean(cv::abs(soft - scene.share)(inner))[0];
        QVERIFY2(after < 0.3 * before, qPrintable(QString::number(after / before)));
    }

    /// A round thing is dark at its rim, as black ground mixed in would make it: its edge is sharp.
    void aDarkRimIsNoMixture()
    {
        Scene scene = makeScene(0.5);
        for (int y = 0; y < kSide; ++y)
            for (int x = 0; x < kSide; ++x) {
                const auto deep = float(edgeAt(y) - x);
                const float lit = std::clamp(0.45F + deep / 16, 0.45F, 1.0F);
                scene.lab(y, x) = scene.share(y, x) * lit * kOwn + cv::Vec3f(grainAt(x, y), 0, 0);
            }
        const cv::Mat1f soft = softenEdge(scene.lab, scene.hard, {{8, false, false}, {}, {}, {}});
        double rim = 0;
        for (int y = kMid - 40; y < kMid + 40; ++y)
            rim += soft(y, int(edgeAt(y)) - 2) / 80;
        QVERIFY2(rim > 0.7, qPrintable(QString::number(rim)));
    }

    /// A colour that is the thing's here and the ground's elsewhere says something only near by.
    void coloursTellTheSideNearBy()
    {
        cv::Mat3f lab(kSide, kSide);
        cv::Mat1f depth(kSide, kSide);
        for (int y = 0; y < kSide; ++y)
            for (int x = 0; x < kSide; ++x) {
                const bool isOwn = (x < kMid) == (y < kMid); // below the middle it is the other way
                lab(y, x) = isOwn ? kOwn : kGround;
                depth(y, x) = float(kMid - x) - 0.5F; // the thing is left
            }
        lab(20, kMid + 1) = 0.85F * kOwn; // wrong in the mask, and in shade
        const cv::Mat1f share = SideColours(tablesOf(lab, depth, {7, 11}, kWrongBy))
                                    .insideShares(lab, {7, 11, kSide, kSide})[0];
        QVERIFY(share(20, kMid - 3) > 0.95F);
        QVERIFY(share(20, kMid + 2) < 0.05F);
        QVERIFY(share(20, kMid + 1) > 0.95F);
        QVERIFY(share(kSide - 20, kMid - 3) > 0.95F); // the other colour
        QVERIFY(share(kSide - 20, kMid + 2) < 0.05F);
        QVERIFY(std::abs(share(kMid, kMid + 2) - 0.5F) < 0.2F); // both are seen
        const int far = SideTable::kBlock * 3 / 2 + SideTable::margin(kWrongBy);
        QCOMPARE(share(20, kMid + far), 0.5F); // there is no edge
    }

    /// With smooth evidence colours beside those that were seen say something, too.
    void coloursAlmostAlikeSaySomethingToo()
    {
        cv::Mat3f lab(kSide, kSide);
        cv::Mat1f depth(kSide, kSide);
        for (int y = 0; y < kSide; ++y)
            for (int x = 0; x < kSide; ++x) {
                lab(y, x) = x < kMid ? kOwn : kGround;
                depth(y, x) = float(kMid - x) - 0.5F;
            }
        constexpr int kNear = kMid + 30;
        const cv::Vec3f beside(0.6F, 0.14F, 0.08F);
        QCOMPARE(ColourBins::binOf(beside[0], beside[1], beside[2]),
                 ColourBins::binOf(kOwn[0], kOwn[1], kOwn[2]) + 1);
        lab(20, kNear) = beside;
        const SideShares shares =
            SideColours(tablesOf(lab, depth, {}, kWrongBy)).insideShares(lab, {0, 0, kSide, kSide});
        for (size_t i = 0; i < shares.size(); ++i) {
            QVERIFY(shares[i](20, kMid - 3) > 0.95F);
            QVERIFY(shares[i](20, kMid + 2) < 0.05F);
            if (kSideEvidence[i].isSmooth)
                QVERIFY(shares[i](20, kNear) > 0.95F);
            else
                QCOMPARE(shares[i](20, kNear), 0.5F);
        }
    }

    /// Two fifths of what the mask says near the edge are wrong; the colours say which.
    void coloursAreSortedUnderAWrongMask()
    {
        constexpr int kOff = 6;
        cv::Mat3f lab(kSide, kSide);
        cv::Mat1f mask(kSide, kSide);
        for (int y = 0; y < kSide; ++y)
            for (int x = 0; x < kSide; ++x) {
                const int edge = kMid + (y / 20 % 2 == 0 ? kOff : -kOff);
                lab(y, x) = (x < kMid ? kOwn : kGround) + cv::Vec3f(grainAt(x, y), 0, 0);
                mask(y, x) = x < edge ? 1 : 0;
            }
        const cv::Mat1f depth = depthIn(mask);
        SideColours sides(tablesOf(lab, depth, {}, kWrongBy));
        const cv::Mat1f shares = sides.insideShares(lab, {{}, mask.size()})[0];
        for (int y = 60; y < kSide - 60; ++y)
            for (int x = kMid - kOff; x < kMid + kOff; ++x) {
                const float share = shares(y, x);
                QVERIFY2(x < kMid ? share > 0.9F : share < 0.1F,
                         qPrintable(QStringLiteral("%1 at %2, %3").arg(share).arg(x).arg(y)));
            }
    }

    /// A table is made once for its mask and block, until there are too many.
    void tablesAreKept()
    {
        const SideTables tables;
        int made = 0;
        const auto find = [&](uint64_t mask, const cv::Point &block) {
            return tables.find(mask, block, [&] {
                ++made;
                SideTable table;
                table.sorted[0] = {{made, 1, 0}};
                return table;
            });
        };
        for (int again = 0; again < 2; ++again) {
            QCOMPARE(find(1, {2, 3})->sorted[0][0].bin, 1);
            QCOMPARE(find(1, {3, 2})->sorted[0][0].bin, 2);
            QCOMPARE(find(2, {2, 3})->sorted[0][0].bin, 3);
        }
        for (int i = 0; i < int(SideTables::kMost); ++i)
            find(3, {i, 0});
        const int before = made;
        find(1, {2, 3});
        QCOMPARE(made, before + 1);
    }

    /// A part, made with its margin, is the whole's.
    void partsAreTheWhole_data()
    {
        QTest::addColumn<bool>("isFound");
        QTest::addColumn<float>("px");
        QTest::addColumn<int>("scene");
        QTest::newRow("by px") << false << 3.0F << 0;
        QTest::newRow("reduced first") << false << 12.0F << 0;
        QTest::newRow("by sharpness") << true << 0.0F << 0;
        QTest::newRow("threads") << false << 6.0F << 1;
        QTest::newRow("thicket, by px") << false << 3.0F << 2;
        QTest::newRow("thicket, reduced first") << false << 12.0F << 2;
        QTest::newRow("thicket, by sharpness") << true << 0.0F << 2;
    }
    void partsAreTheWhole()
    {
        QFETCH(bool, isFound);
        QFETCH(float, px);
        QFETCH(int, scene);
        const Scene all = scene == 0 ? makeScene(1.5) : scene == 1 ? makeThreads() : makeThicket();
        const EdgeBand band{px, isFound, false};
        const SideTableSource tables = tablesOf(all.lab, depthIn(all.hard), {}, wrongByPx(band));
        const cv::Mat1f whole = softenEdge(all.lab, all.hard, {band, {}, {}, {}});
        const int margin = softEdgeMargin(band);
        const cv::Rect wanted(kMid - 10, kMid - 20, 24, 30);
        QVERIFY(2 * margin + wanted.height < kSide); // so that it is a part
        const cv::Rect part = cv::Rect(wanted.x - margin, wanted.y - margin,
                                       wanted.width + 2 * margin, wanted.height + 2 * margin) &
                              cv::Rect(0, 0, kSide, kSide);
        const cv::Mat1f own = softenEdge(all.lab(part).clone(), all.hard(part).clone(),
                                         {band, {}, part.tl(), wanted - part.tl(), tables});
        for (int y = 0; y < wanted.height; ++y)
            for (int x = 0; x < wanted.width; ++x) {
                const cv::Point p(x + wanted.x, y + wanted.y);
                QVERIFY2(std::abs(own(p - part.tl()) - whole(p)) < 0.002F,
                         qPrintable(QStringLiteral("%1 at %2, %3")
                                        .arg(own(p - part.tl()) - whole(p))
                                        .arg(p.x)
                                        .arg(p.y)));
            }
    }

    /// Marks ask the net anew, but only for what they cover.
    void marksChangeNothingBesideThem()
    {
        const Scene scene = makeThicket();
        cv::Mat1b marks = cv::Mat1b::zeros(kSide, kSide);
        const cv::Rect marked(kMid - 20, kMid - 20, 30, 30); // a part of several squares
        marks(marked) = 255;
        const cv::Mat1f plain = softenEdge(scene.lab, scene.hard, {{4, false, false}, {}, {}, {}});
        const cv::Mat1f wide = softenEdge(scene.lab, scene.hard, {{4, false, true}, marks, {}, {}});
        cv::Mat1b changed = wide != plain;
        QVERIFY(cv::countNonZero(changed(marked)) > 50);
        changed(marked) = 0;
        QCOMPARE(cv::countNonZero(changed), 0);
    }

    void anEdgeIsFoundAsFarAwayAsTheBandSays_data()
    {
        QTest::addColumn<float>("px");
        QTest::addColumn<int>("off");
        QTest::newRow("near") << 4.0F << 3;
        QTest::newRow("as far as the net goes") << 12.0F << 10;
        QTest::newRow("from half the size") << 20.0F << 17;
        QTest::newRow("from a quarter") << 40.0F << 33;
    }
    void anEdgeIsFoundAsFarAwayAsTheBandSays()
    {
        QFETCH(float, px);
        QFETCH(int, off);
        const Scene scene = makeScene(0.8);
        cv::Mat1f mask(kSide, kSide); // too far to the right above, too far to the left below
        for (int y = 0; y < kSide; ++y)
            for (int x = 0; x < kSide; ++x)
                mask(y, x) = x < edgeAt(y) + (y / 60 % 2 == 0 ? off : -off) ? 1 : 0;
        const cv::Mat1f soft = softenEdge(scene.lab, mask, {{px, false, false}, {}, {}, {}});
        const double before = meanError(mask, scene);
        const double after = meanError(soft, scene);
        QVERIFY2(after < 0.3 * before,
                 qPrintable(QStringLiteral("%1 -> %2").arg(before).arg(after)));
    }

    /// The net answers several threads at once, each as if it were alone.
    void threadsGetTheSameAnswer()
    {
        const auto nets = loadNets();
        const auto model = findModel(kEdgeModel);
        QVERIFY(nets && model);
        const auto ask = [&](int which) {
            return (*nets)->coverage(*model, netInput(which), kNetPlanes, kNetSide).value();
        };
        std::vector<std::vector<float>> together(6);
        parallelFor(int(together.size()), [&](int i) { together[size_t(i)] = ask(i); });
        for (size_t i = 0; i < together.size(); ++i)
            QCOMPARE(together[i], ask(int(i)));
        QVERIFY(together[0] != together[1]);
    }

    /// Put together from its weights it is the net that the file holds, as OpenCV works it out.
    void theNetIsTheOneInTheFile()
    {
        const auto nets = loadNets();
        const auto model = findModel(kEdgeModel);
        QVERIFY(nets && model);
        std::vector<float> input = netInput(2);
        const auto answer = (*nets)->coverage(*model, input, kNetPlanes, kNetSide).value();
        cv::dnn::Net net = cv::dnn::readNetFromONNX(*model);
        const int sizes[] = {1, kNetPlanes, kNetSide, kNetSide};
        net.setInput(cv::Mat(4, sizes, CV_32F, input.data()), "input");
        const cv::Mat expected = net.forward("coverage");
        QCOMPARE(expected.total(), answer.size());
        const auto *values = expected.ptr<float>();
        for (size_t i = 0; i < answer.size(); ++i)
            QVERIFY(std::abs(answer[i] - values[i]) < 1e-5F);
        const auto [least, most] = std::minmax_element(answer.begin(), answer.end());
        QVERIFY(*most - *least > 0.3F); // it says something
        input.pop_back();
        QCOMPARE((*nets)->coverage(*model, input, kNetPlanes, kNetSide).error().kind,
                 ErrorKind::Damaged);
        QCOMPARE((*nets)->coverage(*model, input, kNetPlanes - 1, kNetSide).error().kind,
                 ErrorKind::Damaged);
    }

    /// What is asked again is what it was, also when much else was asked in between.
    void anAnswerStaysTheSame()
    {
        const Scene scene = makeThicket();
        const SoftEdge edge{{6, false, false}, {}, {}, {0, 0, 128, 128}};
        const cv::Mat1f first = softenEdge(scene.lab, scene.hard, edge);
        QVERIFY(cv::countNonZero(first != scene.hard) > 100);
        QCOMPARE(cv::countNonZero(softenEdge(scene.lab, scene.hard, edge) != first), 0);
        cv::Mat1f changed = scene.hard.clone();
        changed(cv::Rect(0, 0, 40, 40)) = 1 - changed(cv::Rect(0, 0, 40, 40));
        QVERIFY(cv::countNonZero(softenEdge(scene.lab, changed, edge) != first) > 100);
        QCOMPARE(cv::countNonZero(softenEdge(scene.lab, scene.hard, edge) != first), 0);
    }

    void aDamagedNetIsToldFromAWholeOne()
    {
        const QTemporaryDir folder;
        QFile model(folder.filePath(QStringLiteral("edge.onnx")));
        QVERIFY(
            QFile::copy(QStringLiteral(BUTTONHOLE_SOURCE "/models/edge.onnx"), model.fileName()));
        model.setPermissions(QFile::ReadOwner | QFile::WriteOwner);
        QVERIFY(model.resize(model.size() - 1));
        qputenv("BUTTONHOLE_MODELS", folder.path().toUtf8());
        const auto ready = softEdgesReady();
        qunsetenv("BUTTONHOLE_MODELS");
        QVERIFY(!ready);
        QCOMPARE(ready.error().kind, ErrorKind::Damaged);
    }

    /// Without the net the mask stays as it is, and what is missing is said.
    void withoutTheNetTheMaskStays()
    {
        QVERIFY(softEdgesReady());
        const Scene scene = makeScene(2);
        const QTemporaryDir none;
        qputenv("BUTTONHOLE_MODELS", none.path().toUtf8());
        const auto ready = softEdgesReady();
        const cv::Mat1f soft = softenEdge(scene.lab, scene.hard, {{6, false, false}, {}, {}, {}});
        qunsetenv("BUTTONHOLE_MODELS");
        QVERIFY(!ready);
        QCOMPARE(ready.error().kind, ErrorKind::NotFound);
        QVERIFY(sentence(ready.error()).find("edge.onnx") != std::string::npos);
        QCOMPARE(cv::countNonZero(soft != scene.hard), 0);
    }

    void aMaskWithoutAnEdgeStaysAsItIs()
    {
        const Scene scene = makeScene(1);
        for (const float all : {0.0F, 1.0F}) {
            const cv::Mat1f mask(kSide, kSide, all);
            const cv::Mat1f soft = softenEdge(scene.lab, mask, {{6, false, false}, {}, {}, {}});
            QCOMPARE(cv::countNonZero(soft != mask), 0);
        }
    }
};

BUTTONHOLE_TEST(TstSoftEdge)

#include "tst_soft_edge.moc"
