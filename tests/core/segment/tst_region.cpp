#include "mask/region_step.h"
#include "segment/mark_stamp.h"
#include "segment/region_look.h"
#include "segment/region_solver.h"

#include "registry.h"
#include "samples.h"

#include <nlohmann/json.hpp>

#include <cmath>

using namespace buttonhole;

namespace
{

constexpr int kWidth = 900;
constexpr int kHeight = 600;

/// A red disc of 120 px and a red square on a grey, uneven ground; a blue bar joins them.
std::array<int, 3> things(int x, int y)
{
    const int grain = (x * 7 + y * 13) % 9 - 4;
    if (std::hypot(x - 250.5, y - 300.5) < 120 ||
        (std::abs(x - 650) < 100 && std::abs(y - 300) < 100))
        return {170 + grain, 40 + grain, 50 + grain};
    if (std::abs(y - 300) < 12 && x > 300 && x < 700)
        return {40 + grain, 60 + grain, 170 + grain};
    return {120 + grain + y / 20, 118 + grain + y / 20, 112 + grain};
}

RegionMark mark(float x, float y, bool isLeave = false)
{
    return {{{x, y}}, 5, isLeave};
}

MaskPlane solve(const PhotoLevels &levels, const RegionAsk &ask)
{
    auto plane = RegionSolver().solve(levels, ask);
    return plane ? std::move(*plane) : MaskPlane();
}

/// Intersection over union with the disc.
double likeDisc(const MaskPlane &plane)
{
    double both = 0;
    double either = 0;
    const auto pixels = test::pixelsOf(plane);
    for (int y = 0; y < kHeight; ++y)
        for (int x = 0; x < kWidth; ++x) {
            const double m = pixels[size_t(y) * kWidth + size_t(x)] / 65535.0;
            const double t = std::hypot(x - 250.5, y - 300.5) < 120 ? 1 : 0;
            both += std::min(m, t);
            either += std::max(m, t);
        }
    return both / either;
}

/// Pixels that are not as the last mark on them says; where there is none, `elsewhere` is expected.
/// What lies on a mark's very rim may be either.
int wronglyMarked(const MaskPlane &plane, const std::vector<RegionMark> &marks,
                  std::optional<uint16_t> elsewhere)
{
    const Rect all = plane.rect();
    cv::Mat1b said(all.height(), all.width(), uint8_t(0)); // 1 keep, 2 leave, 3 either
    for (const RegionMark &each : marks)
        for (size_t i = 0; i < each.points.size(); ++i) {
            const auto pixel = [&](size_t k) {
                return cv::Point2d(std::floor(double(each.points[k].x)),
                                   std::floor(double(each.points[k].y)));
            };
            const cv::Point2d a = pixel(i == 0 ? 0 : i - 1);
            const cv::Point2d along = pixel(i) - a;
            for (int y = 0; y < all.y1; ++y)
                for (int x = 0; x < all.x1; ++x) {
                    const cv::Point2d to = cv::Point2d(x, y) - a;
                    const double length = along.dot(along);
                    const double t = length > 0 ? std::clamp(to.dot(along) / length, 0.0, 1.0) : 0;
                    const double inside = sureRadius(each) - cv::norm(to - t * along);
                    if (std::abs(inside) < 1e-6)
                        said(y, x) = 3;
                    else if (inside > 0)
                        said(y, x) = each.isLeave ? 2 : 1;
                }
        }
    int wrong = 0;
    for (int y = 0; y < all.y1; ++y)
        for (int x = 0; x < all.x1; ++x)
            wrong += said(y, x) == 1   ? plane.at(x, y) != 65535
                     : said(y, x) == 2 ? plane.at(x, y) != 0
                     : said(y, x) == 3 ? false
                                       : elsewhere && plane.at(x, y) != *elsewhere;
    return wrong;
}

} // namespace

class TstRegion : public QObject
{
    Q_OBJECT

    std::shared_ptr<const PhotoLevels> m_levels;

private Q_SLOTS:
    void initTestCase() { m_levels = test::levelsOf(kWidth, kHeight, things); }

    void aClickGrowsToTheThingsEdge()
    {
        const MaskPlane plane = solve(*m_levels, {{mark(230, 280)}, {}, 0});
        QVERIFY2(likeDisc(plane) > 0.97, qPrintable(QString::number(likeDisc(plane))));
        // Its like elsewhere stays out: it is not joined.
        QCOMPARE(plane.at(650, 300), uint16_t(0));
        QCOMPARE(plane.at(250, 300), uint16_t(65535));
    }

    void aBoxAloneFindsWhatIsInIt()
    {
        const MaskPlane plane = solve(*m_levels, {{}, Rect{110, 160, 395, 440}, 0});
        QVERIFY2(likeDisc(plane) > 0.93, qPrintable(QString::number(likeDisc(plane))));
    }

    void furtherMarksAddAndTakeAway()
    {
        RegionAsk ask{{mark(230, 280), mark(650, 300)}, {}, 0};
        MaskPlane plane = solve(*m_levels, ask);
        QCOMPARE(plane.at(650, 350), uint16_t(65535));
        QCOMPARE(plane.at(200, 300), uint16_t(65535)); // what was found stays
        ask.marks.push_back(mark(690, 250, true));
        plane = solve(*m_levels, ask);
        QCOMPARE(plane.at(690, 250), uint16_t(0)); // a mark holds, whatever it lies on
        QCOMPARE(plane.at(650, 300), uint16_t(65535));
        QCOMPARE(plane.at(200, 300), uint16_t(65535));
    }

    /// The mask at every marked pixel is as the last mark there says, however many there are.
    void marksHoldToThePixel()
    {
        constexpr int kWide = 70;
        constexpr int kHigh = 45;
        cv::RNG random(11);
        const auto randomMarks = [&] {
            std::vector<RegionMark> marks(size_t(random.uniform(1, 6)));
            for (RegionMark &each : marks) {
                each.radiusPx = float(random.uniform(0.5, 7.0));
                each.isLeave = &each != &marks.front() && random.uniform(0, 2) == 1;
                each.points = {{float(random.uniform(0, kWide)), float(random.uniform(0, kHigh))}};
                for (int i = random.uniform(0, 3); i > 0; --i)
                    each.points.push_back({float(random.uniform(-5.0, kWide + 5.0)),
                                           float(random.uniform(-5.0, kHigh + 5.0))});
            }
            return marks;
        };
        for (int sequence = 0; sequence < 1000; ++sequence) {
            const std::vector<RegionMark> marks = randomMarks();
            const uint16_t untouched = 12345;
            MaskPlane plane(kWide, kHigh, untouched);
            stampMarks(plane, marks);
            QCOMPARE(wronglyMarked(plane, marks, untouched), 0);
        }
        const auto photo = test::levelsOf(kWide, kHigh, [](int x, int y) {
            return std::array<int, 3>{(x / 10 % 2) * 120 + 60, y * 4, 80};
        });
        for (int sequence = 0; sequence < 25; ++sequence) {
            RegionAsk ask{randomMarks(), {}, 0};
            ask.marks.front().points = {{30, 20}};
            QCOMPARE(wronglyMarked(solve(*photo, ask), ask.marks, std::nullopt), 0);
        }
    }

    /// Mending in one place must not move the edge in another.
    void aSmallFurtherMarkLeavesTheRestToThePixel()
    {
        // A blot of another colour, not joined to the disc.
        const auto levels = test::levelsOf(kWidth, kHeight, [](int x, int y) {
            return std::hypot(x - 250.5, y - 420.5) < 16 ? std::array{60, 150, 60} : things(x, y);
        });
        const RegionAsk one{{mark(230, 280)}, {}, 0};
        RegionAsk two = one;
        two.marks.push_back(mark(250, 428));
        const MaskPlane before = solve(*levels, one);
        const MaskPlane after = solve(*levels, two);
        QCOMPARE(after.at(250, 430), uint16_t(65535));
        const auto was = test::pixelsOf(before);
        const auto is = test::pixelsOf(after);
        int moved = 0;
        for (int y = 0; y < 370; ++y)
            for (int x = 0; x < kWidth; ++x) {
                const size_t i = size_t(y) * kWidth + size_t(x);
                moved += was[i] != is[i];
            }
        QCOMPARE(moved, 0);
    }

    void addingToWhatABoxHoldsDropsNothing()
    {
        RegionAsk ask{{}, Rect{110, 160, 395, 440}, 0};
        ask.marks.push_back(mark(650, 300)); // the square, far from the disc
        const MaskPlane plane = solve(*m_levels, ask);
        QCOMPARE(plane.at(650, 300), uint16_t(65535));
        QCOMPARE(plane.at(250, 300), uint16_t(65535));
    }

    /// A further mark is looked at closely where it lies: a thread of 6 px is taken to its ends.
    void aFurtherMarkTakesAThinThingWhole()
    {
        const auto onThread = [](int x, int y) {
            return std::abs(x - 500 - 20 * std::sin(y / 60.0)) < 3 && y > 380 && y < 580;
        };
        const auto levels = test::levelsOf(kWidth, kHeight, [&](int x, int y) {
            return onThread(x, y) ? std::array{60, 150, 60} : things(x, y);
        });
        const RegionAsk one{{mark(230, 280)}, {}, 0};
        RegionAsk two = one;
        two.marks.push_back({{{float(500 + 20 * std::sin(480 / 60.0)) + 0.5F, 480.5F}}, 2, false});
        const auto was = test::pixelsOf(solve(*levels, one));
        const auto is = test::pixelsOf(solve(*levels, two));
        int thread = 0;
        int taken = 0;
        int tooMuch = 0;
        for (int y = 0; y < kHeight; ++y)
            for (int x = 0; x < kWidth; ++x) {
                const size_t i = size_t(y) * kWidth + size_t(x);
                const bool isNew = is[i] > 32767 && was[i] < 32767;
                thread += onThread(x, y);
                taken += onThread(x, y) && isNew;
                tooMuch += !onThread(x, y) && isNew;
            }
        QVERIFY2(taken > 0.95 * thread, qPrintable(QString("%1 of %2").arg(taken).arg(thread)));
        QVERIFY2(tooMuch < 0.1 * thread, qPrintable(QString::number(tooMuch)));
    }

    /// Growing alone stops on the way along a thin thing; its colours go on.
    void aClickFollowsWhatLooksAlikeToItsEnd()
    {
        const auto onTail = [](int x, int y) {
            return x > 250 && x < 860 && std::abs(y - 300 - 40 * std::sin((x - 250) / 60.0)) < 6;
        };
        const auto levels = test::levelsOf(kWidth, kHeight, [&](int x, int y) {
            const std::array<int, 3> ground = things(x, 20);
            return onTail(x, y) || std::hypot(x - 250.5, y - 300.5) < 120 ? things(250, 300)
                                                                          : ground;
        });
        const MaskPlane plane = solve(*levels, {{mark(230, 280)}, {}, 0});
        int tail = 0;
        int taken = 0;
        for (int y = 0; y < kHeight; ++y)
            for (int x = 400; x < kWidth; ++x) {
                tail += onTail(x, y);
                taken += onTail(x, y) && plane.at(x, y) > 32767;
            }
        QVERIFY2(taken > 0.9 * tail, qPrintable(QString("%1 of %2").arg(taken).arg(tail)));
        QCOMPARE(plane.at(600, 20), uint16_t(0));
    }

    /// What lies under it is more than a further mark may change: it stands for itself.
    void aMarkOnTheGroundTakesItselfOnly()
    {
        const auto levels = test::levelsOf(kWidth, kHeight, [](int x, int y) {
            const bool isDot = std::hypot(x - 250.5, y - 300.5) < 20;
            return isDot ? std::array{170, 40, 50} : std::array{118, 118, 118};
        });
        const MaskPlane plane = solve(*levels, {{mark(250, 300), mark(750, 100)}, {}, 0});
        QCOMPARE(plane.at(750, 100), uint16_t(65535));
        QCOMPARE(plane.at(250, 310), uint16_t(65535));
        QCOMPARE(plane.at(500, 300), uint16_t(0));
        QCOMPARE(plane.at(750, 500), uint16_t(0));
    }

    /// A thing's rim lies in the dark, beside a dark wall that nothing tells it apart from.
    void aMarkOnARimDoesNotTakeTheWallBesideIt()
    {
        const auto levels = test::levelsOf(kWidth, kHeight, [](int x, int y) {
            const double away = std::hypot(x - 250.5, y - 300.5);
            const bool isRim = away > 108 && away < 120 && x < 200;
            const bool isWall = away >= 120 && x < 200;
            return isRim || isWall ? std::array{30, 24, 26} : things(x, y);
        });
        RegionAsk ask{{mark(230, 280)}, {}, 0};
        QVERIFY(likeDisc(solve(*levels, ask)) > 0.9);
        ask.marks.push_back(mark(137, 300));
        const MaskPlane plane = solve(*levels, ask);
        QCOMPARE(plane.at(137, 300), uint16_t(65535));
        QVERIFY2(likeDisc(plane) > 0.9, qPrintable(QString::number(likeDisc(plane))));
    }

    /// A stroke round a thing crosses what has the thing's colour: the thing itself stays.
    void aLeaveStrokeOutsideTakesNothingOfTheMiddle()
    {
        const auto levels = test::levelsOf(kWidth, kHeight, [](int x, int y) {
            const double angle = std::atan2(y - 300.5, x - 250.5);
            const double away = std::hypot(x - 250.5, y - 300.5);
            const bool isPatch = away > 119 && away < 150 && std::fmod(angle + 7, 0.5) < 0.2;
            return isPatch ? things(250, 300) : things(x, y);
        });
        RegionAsk ask{{}, Rect{80, 130, 420, 470}, 0};
        RegionMark round{{}, 3, true};
        for (int i = 0; i <= 40; ++i)
            round.points.push_back({float(250.5 + 132 * std::cos(i * 0.157)),
                                    float(300.5 + 132 * std::sin(i * 0.157))});
        ask.marks.push_back(round);
        const MaskPlane plane = solve(*levels, ask);
        QVERIFY2(likeDisc(plane) > 0.9, qPrintable(QString::number(likeDisc(plane))));
        QCOMPARE(plane.at(250, 300), uint16_t(65535));
        QCOMPARE(plane.at(382, 300), uint16_t(0)); // under the stroke
    }

    /// A stroke beside a thing says where its edge is not: it has nothing to take.
    void aLeaveStrokeFarFromTheEdgeChangesNothing()
    {
        RegionAsk ask{{mark(250, 300)}, {}, 0};
        const auto before = test::pixelsOf(solve(*m_levels, ask));
        RegionMark beside{{}, 3, true};
        for (int i = 0; i <= 20; ++i)
            beside.points.push_back({float(250.5 + 170 * std::cos(1 + i * 0.1)),
                                     float(300.5 + 170 * std::sin(1 + i * 0.1))});
        ask.marks.push_back(beside);
        QVERIFY(test::pixelsOf(solve(*m_levels, ask)) == before);
    }

    /// A stroke along what was found opens what is close by, and nothing nearer to a keep mark.
    void aLeaveStrokeOpensWhatIsCloseBy()
    {
        RegionMark along{{{400, 100}, {400, 500}}, 1, true};
        const RegionAsk ask{{mark(200, 300), mark(393, 300), along}, {}, 0};
        RegionLook look = lookAt(*m_levels, ask, m_levels->photo().rect(), kWidth); // 1 px is 1 px
        look.found = cv::Mat1b::zeros(look.keep.size());
        look.found(cv::Rect(100, 150, 299, 300)) = 255; // up to the stroke
        measureNearness(look, 0, true);
        QCOMPARE(int(look.closed(200, 397)), 0);
        QCOMPARE(int(look.closed(200, 390)), 255);
        QCOMPARE(int(look.closed(300, 397)), 255); // a keep mark's edge is as near
        QCOMPARE(int(look.closed(100, 397)), 255); // nothing was found there
    }

    void growingStopsShortOfMarksThatSayOtherwise()
    {
        // The square is left out first, then the disc's other half is clicked.
        const RegionAsk ask{{mark(230, 280), mark(650, 300, true), mark(300, 350)}, {}, 0};
        const MaskPlane plane = solve(*m_levels, ask);
        QCOMPARE(plane.at(650, 300), uint16_t(0));
        QCOMPARE(plane.at(650, 380), uint16_t(0));
        QCOMPARE(plane.at(300, 350), uint16_t(65535));
    }

    void whatWasSolvedBeforeDoesNotChangeTheAnswer()
    {
        RegionSolver kept;
        const RegionAsk one{{mark(230, 280)}, {}, 0};
        const RegionAsk two{{mark(230, 280), mark(690, 250, true)}, {}, 0};
        QVERIFY(kept.solve(*m_levels, one));
        const auto later = kept.solve(*m_levels, two);
        QVERIFY(later);
        QVERIFY(samePixels(*later, solve(*m_levels, two)));
        const auto back = kept.solve(*m_levels, one);
        QVERIFY(samePixels(*back, solve(*m_levels, one)));
        // Another photo is another matter.
        const auto other = test::levelsOf(300, 200, [](int x, int) {
            return x < 150 ? std::array{200, 30, 30} : std::array{30, 30, 200};
        });
        const auto half = kept.solve(*other, {{mark(60, 100)}, {}, 0});
        QCOMPARE(half->width(), 300);
        QCOMPARE(half->at(30, 20), uint16_t(65535));
        QCOMPARE(half->at(250, 20), uint16_t(0));
    }

    void coarserIsTheSameThing()
    {
        const auto coarse = RegionSolver().solve(*m_levels, {{mark(230, 280)}, {}, 0}, {}, 1);
        QVERIFY(likeDisc(*coarse) > 0.95);
    }

    void strangeAsksAreAnswered()
    {
        QCOMPARE(RegionSolver().solve(*m_levels, {}).error().kind, ErrorKind::InvalidArgument);
        QCOMPARE(RegionSolver().solve(*m_levels, {{mark(5, 5, true)}, {}, 0}).error().kind,
                 ErrorKind::InvalidArgument);
        std::stop_source stop;
        stop.request_stop();
        QCOMPARE(RegionSolver()
                     .solve(*m_levels, {{mark(230, 280)}, {}, 0}, {stop.get_token(), {}})
                     .error()
                     .kind,
                 ErrorKind::Cancelled);
        // Far outside, all of the photo, and a photo of one pixel.
        QCOMPARE(RegionSolver().solve(*m_levels, {{mark(-5000, 90000)}, {}, 0}).error().kind,
                 ErrorKind::InvalidArgument);
        QVERIFY(RegionSolver().solve(*m_levels, {{}, Rect{0, 0, kWidth, kHeight}, 0}));
        QVERIFY(
            RegionSolver().solve(*m_levels, {{mark(230, 280), mark(-5000, 9e4F, true)}, {}, 0}));
        const auto tiny = test::levelsOf(1, 1, [](int, int) { return std::array{9, 9, 9}; });
        QVERIFY(RegionSolver().solve(*tiny, {{mark(0.5F, 0.5F)}, {}, 0}));
        QVERIFY(RegionSolver().solve(*tiny, {{mark(0.5F, 0.5F), mark(0, 0, true)}, {}, 0}));
    }

    void aStepKeepsItsMarksAndGrowsAgainWithoutItsMask()
    {
        const RegionAsk ask{{mark(230, 280), mark(690, 250, true)}, Rect{20, 20, 600, 590}, -0.5F};
        const RegionStep step(ask, solve(*m_levels, ask));
        QCOMPARE(step.facts(), (StepFacts{{"box", 1}, {"marks", 2}}));
        const auto read = std::dynamic_pointer_cast<const RegionStep>(test::again(step));
        QVERIFY(read);
        QVERIFY(read->ask() == ask);
        QVERIFY(read->plane().isEmpty() && read->needsLevels());
        const Rect area{100, 200, 400, 400};
        std::vector<uint16_t> own(area.area());
        std::vector<uint16_t> grown(area.area());
        QVERIFY(step.coverage(*m_levels, 0, area, own.data(), nullptr) ==
                StepShape::Effect::Raises);
        QVERIFY(read->coverage(*m_levels, 0, area, grown.data(), nullptr) ==
                StepShape::Effect::Raises);
        QCOMPARE(grown, own);
        QVERIFY(step.coverage(*m_levels, 1, {400, 0, 450, 40}, own.data(), nullptr) ==
                StepShape::Effect::None);
    }

    void wrongJsonIsRefused_data()
    {
        QTest::addColumn<QByteArray>("text");
        QTest::newRow("nothing kept") << QByteArray(R"({"kind":"region","marks":[]})");
        QTest::newRow("no points") << QByteArray(R"({"kind":"region","marks":[{"points":[]}]})");
        QTest::newRow("half a box") << QByteArray(R"({"kind":"region","box":[1,2,3]})");
        QTest::newRow("far box") << QByteArray(R"({"kind":"region","box":[0,0,1e300,5]})");
        QTest::newRow("reach") << QByteArray(
            R"({"kind":"region","reach":7,"marks":[{"points":[[1,2]]}]})");
        QTest::newRow("radius") << QByteArray(
            R"({"kind":"region","marks":[{"points":[[1,2]],"radiusPx":-4}]})");
    }
    void wrongJsonIsRefused()
    {
        QFETCH(const QByteArray, text);
        struct NoReader final : MaskReader {
            Result<MaskPlane> get(const nlohmann::json &) override { return MaskPlane(); }
        } reader;
        QCOMPARE(stepFromJson(nlohmann::json::parse(text.toStdString()), reader).error().kind,
                 ErrorKind::InvalidArgument);
    }
};

BUTTONHOLE_TEST(TstRegion)

#include "tst_region.moc"
