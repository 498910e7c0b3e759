#include "segment/colour_density.h"
#include "segment/cut.h"
#include "segment/geodesic.h"
#include "segment/growth.h"
#include "segment/held_colours.h"

#include "registry.h"

#include <cmath>

using namespace buttonhole;

namespace
{

constexpr int kPatch = 160;
const cv::Vec3f kRed(0.55F, 0.15F, 0.08F);
const cv::Vec3f kGreen(0.55F, -0.1F, 0.08F);

/// A red disc of 40 px on green, a little grainy.
cv::Mat3f discPicture(float grain = 0.004F)
{
    cv::Mat3f out(kPatch, kPatch);
    for (int y = 0; y < kPatch; ++y)
        for (int x = 0; x < kPatch; ++x) {
            const float noise = grain * float((x * 7 + y * 13) % 5 - 2);
            out(y, x) = (std::hypot(x - 80, y - 80) < 40 ? kRed : kGreen) + cv::Vec3f(noise, 0, 0);
        }
    return out;
}

cv::Mat1f seedAt(int x, int y)
{
    cv::Mat1f out(kPatch, kPatch, 1e6F);
    out(y, x) = 0;
    return out;
}

double discLikeness(const cv::Mat1b &mask)
{
    double both = 0;
    double either = 0;
    for (int y = 0; y < kPatch; ++y)
        for (int x = 0; x < kPatch; ++x) {
            const bool in = std::hypot(x - 80, y - 80) < 40;
            const bool found = mask(y, x) != 0;
            both += in && found ? 1 : 0;
            either += in || found ? 1 : 0;
        }
    return both / either;
}

} // namespace

/// What regions are made of: ways over the picture, where growing rests, and the cut.
class TstGrowth : public QObject
{
    Q_OBJECT
private Q_SLOTS:
    void coloursPassedBelongAndOthersSeenDoNot()
    {
        HeldColours colours;
        const auto binOf = [](const cv::Vec3f &c) { return ColourBins::binOf(c[0], c[1], c[2]); };
        const cv::Vec3f blue(0.5F, -0.05F, -0.2F);
        const auto look = [&](const cv::Vec3f &passed, const cv::Vec3f &beside) {
            HeldColours own;
            for (int i = 0; i < 300; ++i) {
                own.see(binOf(i % 3 == 0 ? passed : beside), 1);
                if (i % 3 == 0)
                    own.pass(binOf(passed));
            }
            own.add(colours, 0.8F);
            colours = own;
        };
        look(kRed, kGreen);
        QVERIFY(colours.logit(binOf(kRed)) > 3);
        QVERIFY(colours.logit(binOf(kGreen)) < -3);
        QVERIFY(colours.logit(binOf(0.6F * kRed)) > 3); // the same in less light
        for (int i = 0; i < 50; ++i)
            look(blue, blue); // no green any more: what was learnt of it is forgotten
        QVERIFY(colours.logit(binOf(blue)) > 3);
        QVERIFY(colours.logit(binOf(kGreen)) > 3);
    }

    void waysCostTheEdgesThatTheyCross()
    {
        const cv::Mat1f cost = GeodesicSteps(discPicture(0), 0, 0).distance(seedAt(80, 80));
        QCOMPARE(cost(80, 80), 0.0F);
        QVERIFY(cost(80, 110) < 1e-4F); // inside nothing is crossed
        const float edge = float(cv::norm(kRed - kGreen));
        QVERIFY(std::abs(cost(80, 150) - edge) < 1e-3F);
        QVERIFY(std::abs(cost(5, 5) - edge) < 1e-3F);
    }

    void textureCostsNothingAndLengthALittle()
    {
        const cv::Mat3f grainy = discPicture();
        const float texture = textureUnder(grainy, cv::Mat1b(kPatch, kPatch, uint8_t(255)), 0.03F);
        QVERIFY(texture > 0.002F && texture < 0.03F);
        const cv::Mat1f dear = GeodesicSteps(grainy, 0, 0).distance(seedAt(80, 80));
        const cv::Mat1f cheap = GeodesicSteps(grainy, texture, 0).distance(seedAt(80, 80));
        QVERIFY(cheap(80, 110) < 0.5F * dear(80, 110));
        const cv::Mat1f far = GeodesicSteps(discPicture(0), 0, 0.01F).distance(seedAt(80, 80));
        QVERIFY(std::abs(far(80, 110) - 0.3F) < 0.02F);
        QVERIFY(far(80, 118) > far(80, 110));
    }

    void waysGoRoundObstacles()
    {
        cv::Mat3f picture(kPatch, kPatch, kGreen);
        picture.colRange(70, 80).rowRange(0, 150).setTo(kRed); // a wall with a gap below
        const cv::Mat1f cost = GeodesicSteps(picture, 0, 0.0001F).distance(seedAt(20, 20));
        QVERIFY(cost(20, 120) < 0.1F);                                 // round through the gap
        QVERIFY(cost(20, 75) > 0.9F * float(cv::norm(kRed - kGreen))); // onto the wall
    }

    void likenessIsTheLeastThatMustBePutUpWith()
    {
        // A thread of red runs from the left to a red field on the right, with a pale knot in it.
        cv::Mat3f lab(kPatch, kPatch, kGreen);
        lab(cv::Rect(0, 80, kPatch, 3)).setTo(cv::Scalar(kRed[0], kRed[1], kRed[2]));
        lab(cv::Rect(100, 40, 60, 80)).setTo(cv::Scalar(kRed[0], kRed[1], kRed[2]));
        const cv::Vec3f knot = kRed + cv::Vec3f(0.05F, 0, 0);
        lab(cv::Rect(60, 80, 4, 3)).setTo(cv::Scalar(knot[0], knot[1], knot[2]));
        cv::Mat1b seed(cv::Mat1b::zeros(lab.size()));
        seed(81, 5) = 255;
        const cv::Mat1f unlike = leastDifference(lab, kRed, seed);
        constexpr float kStep = 0.4F / 255;
        QVERIFY(unlike(81, 50) <= kStep); // however long the way
        QVERIFY(std::abs(unlike(81, 90) - 0.05F) <= kStep);
        QVERIFY(std::abs(unlike(60, 150) - 0.05F) <= kStep); // beyond the knot
        QVERIFY(std::abs(unlike(20, 20) - 0.25F) <= kStep);
    }

    void growingRestsAtTheThingsEdge()
    {
        const cv::Mat3f picture = discPicture();
        const cv::Mat1f cost = GeodesicSteps(picture, 0.005F, 0.0008F).distance(seedAt(70, 90));
        const Rest rest = restingCost(picture, cost, {}, {0.02F, 1, 0.6 * kPatch * kPatch});
        QVERIFY(rest.standsOut > 0.8);
        const cv::Mat1b grown(cost <= rest.cost);
        QVERIFY2(discLikeness(grown) > 0.97, qPrintable(QString::number(discLikeness(grown))));
        // What may not grow so large stays smaller.
        const Rest small = restingCost(picture, cost, {}, {0.001F, 1, 600});
        const cv::Mat1b least(cost <= small.cost);
        QVERIFY(cv::countNonZero(least) < 600);
        // What is settled neither counts nor changes.
        cv::Mat1b settled(cv::Mat1b::zeros(kPatch, kPatch));
        settled.rowRange(0, 80).setTo(255);
        const Rest half = restingCost(picture, cost, settled, {0.02F, 1, 0.6 * kPatch * kPatch});
        QVERIFY(half.cost < float(cv::norm(kRed - kGreen)));
    }

    void theCutFollowsContrastWhereEvidenceIsWeak()
    {
        const cv::Mat3f picture = discPicture();
        cv::Mat1f evidence(kPatch, kPatch, -0.02F);
        cv::Mat1b labels(cv::Mat1b::zeros(kPatch, kPatch));
        cv::Mat1b open(kPatch, kPatch, uint8_t(255));
        for (int y = 0; y < kPatch; ++y)
            for (int x = 0; x < kPatch; ++x) {
                const double away = std::hypot(x - 80, y - 80);
                if (away < 30) // sure well inside and well outside, open between
                    evidence(y, x) = 3;
                else if (away > 52)
                    evidence(y, x) = -3;
            }
        cutGraph(picture, evidence, labels, open, 3);
        QVERIFY2(discLikeness(labels) > 0.97, qPrintable(QString::number(discLikeness(labels))));
        // What is closed keeps its label.
        open.rowRange(0, 80).setTo(0);
        labels.setTo(0);
        cutGraph(picture, evidence, labels, open, 3);
        QCOMPARE(cv::countNonZero(labels.rowRange(0, 80)), 0);
        QVERIFY(labels(100, 80) == 255);
    }

    void densitiesTellColoursApart()
    {
        ColourDensity red;
        ColourDensity green;
        for (int i = 0; i < 50; ++i) {
            const cv::Vec3f noise(0.002F * float(i % 5), 0, 0);
            red.add(ColourDensity::binOf(kRed + noise));
            green.add(ColourDensity::binOf(kGreen + noise));
        }
        red.finish();
        green.finish();
        QVERIFY(shareOf(red, green, ColourDensity::binOf(kRed)) > 0.95F);
        QVERIFY(shareOf(red, green, ColourDensity::binOf(kGreen)) < 0.05F);
        QVERIFY(shareOf(red, green, ColourDensity::binOf(kRed + cv::Vec3f(0.02F, 0.01F, 0))) >
                0.7F);
        const int unseen = ColourDensity::binOf({0.95F, 0, -0.3F});
        QVERIFY(std::abs(shareOf(red, green, unseen) - 0.5F) < 0.05F);
    }
};

BUTTONHOLE_TEST(TstGrowth)

#include "tst_growth.moc"
