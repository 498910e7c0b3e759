#include "clean/fill_hole.h"
#include "io/photo_with_light.h"
#include "light/source.h"

#include "registry.h"
#include "samples.h"

#include <cmath>
#include <stop_token>

using namespace buttonhole;

/// Holes filled from what is round about.
class TstFillHole : public QObject
{
    Q_OBJECT

    static std::vector<uint8_t> disc(const Rect &area)
    {
        std::vector<uint8_t> out;
        for (int y = 0; y < area.height(); ++y)
            for (int x = 0; x < area.width(); ++x) {
                const double u = (x + 0.5) * 2 / area.width() - 1;
                const double v = (y + 0.5) * 2 / area.height() - 1;
                out.push_back(u * u + v * v < 1 ? 1 : 0);
            }
        return out;
    }
    /// The mean difference of roots of light to what was there, 0..1.
    static double error(const PhotoLevels &levels, const LightTile &got,
                        const std::vector<uint8_t> &hole)
    {
        const Rect &area = got.area();
        LightTile was(area);
        if (!PhotoSource(levels).read(0, was, {}))
            return 1;
        double sum = 0;
        double n = 0;
        for (int y = area.y0; y < area.y1; ++y)
            for (int x = area.x0; x < area.x1; ++x)
                if (hole[size_t(y - area.y0) * size_t(area.width()) + size_t(x - area.x0)]) {
                    sum += std::abs(std::sqrt(double(*got.at(1, x, y))) -
                                    std::sqrt(double(*was.at(1, x, y))));
                    n += 1;
                }
        return sum / n;
    }

private Q_SLOTS:
    void stripesAndEdgesGoOn()
    {
        const auto stripes = test::levelsOf(420, 300, [](int x, int y) {
            const int v = (x + y / 5) / 11 % 2 == 0 ? 40 : 200;
            return std::array{v, v, 255 - v};
        });
        const Rect area{170, 100, 250, 190};
        const auto hole = disc(area);
        const auto filled = fillHole(*stripes, area, hole);
        QVERIFY(filled);
        const double stripesOff = error(*stripes, *filled, hole);
        QVERIFY2(stripesOff < 0.03, qPrintable(QString::number(stripesOff)));
        const auto edge = test::levelsOf(420, 300, [](int, int y) {
            const int v = y < 150 ? 60 : 180;
            return std::array{v, v, v};
        });
        const auto over = fillHole(*edge, area, hole);
        QVERIFY(over);
        QVERIFY(error(*edge, *over, hole) < 0.01);
    }

    void demoPhotosAreFilledWell_data()
    {
        QTest::addColumn<QString>("name");
        QTest::addColumn<int>("x");
        QTest::addColumn<int>("y");
        QTest::addColumn<double>("most");
        QTest::newRow("striped cloth") << QStringLiteral("washing-line") << 2030 << 600 << 0.05;
        QTest::newRow("sky") << QStringLiteral("washing-line") << 900 << 60 << 0.01;
        QTest::newRow("shelf's edge") << QStringLiteral("spools") << 900 << 560 << 0.05;
    }

    void demoPhotosAreFilledWell()
    {
        QFETCH(const QString, name);
        QFETCH(const int, x);
        QFETCH(const int, y);
        QFETCH(const double, most);
        const auto levels = PhotoLevels::load(BUTTONHOLE_DEMO "/" + name.toStdString() + ".jpg");
        QVERIFY(levels);
        const Rect area{x, y, x + 150, y + 180};
        const auto hole = disc(area);
        const auto filled = fillHole(**levels, area, hole);
        QVERIFY(filled);
        const double off = error(**levels, *filled, hole);
        QVERIFY2(off < most, qPrintable(QString::number(off)));
        // Codes beside the hole stay as they are, bit for bit.
        const auto photo = withLight((*levels)->photo(), *filled, hole);
        int changed = 0;
        int beside = 0;
        for (int j = area.y0 - 5; j < area.y1 + 5; ++j)
            for (int i = area.x0 - 5; i < area.x1 + 5; ++i) {
                const bool isIn = i >= area.x0 && j >= area.y0 && i < area.x1 && j < area.y1 &&
                                  hole[size_t((j - area.y0) * area.width() + i - area.x0)];
                const bool isSame =
                    test::codeAt(*photo, i, j, 1) == test::codeAt((*levels)->photo(), i, j, 1);
                changed += isIn && !isSame ? 1 : 0;
                beside += !isIn && !isSame ? 1 : 0;
            }
        QCOMPARE(beside, 0);
        QVERIFY(changed > 100);
    }

    void anotherTryIsAnotherAnswerAndTheSameIsTheSame()
    {
        const auto levels = PhotoLevels::load(BUTTONHOLE_DEMO "/washing-line.jpg");
        QVERIFY(levels);
        const Rect area{300, 1250, 440, 1380};
        const auto hole = disc(area);
        const auto make = [&](uint32_t attempt) {
            return fillHole(**levels, area, hole, {attempt, {}});
        };
        const auto a = make(0);
        const auto b = make(0);
        const auto c = make(1);
        QVERIFY(a && b && c);
        int differ = 0;
        for (int y = area.y0; y < area.y1; ++y)
            for (int x = area.x0; x < area.x1; ++x) {
                QVERIFY(a->isSameAt(*b, x, y));
                differ += a->isSameAt(*c, x, y) ? 0 : 1;
            }
        QVERIFY(differ > 1000);
    }

    void aSourceLimitsWhatIsUsed()
    {
        // Left grey, right red; the hole in the grey, to be filled from the red alone.
        const auto levels = test::levelsOf(400, 200, [](int x, int) {
            return x < 200 ? std::array{120, 120, 120} : std::array{200, 20, 20};
        });
        const Rect area{80, 80, 120, 120};
        const auto hole = disc(area);
        const auto filled = fillHole(*levels, area, hole, {0, {230, 20, 390, 180}});
        QVERIFY(filled);
        QVERIFY(*filled->at(0, 100, 100) > 3 * *filled->at(1, 100, 100));
    }

    void whatCannotBeFilledIsSaidAndStopStops()
    {
        const auto levels = test::levelsOf(60, 40, [](int, int) { return std::array{9, 99, 199}; });
        const std::vector<uint8_t> all(60 * 40, 1);
        const auto none = fillHole(*levels, {0, 0, 60, 40}, all);
        QVERIFY(!none);
        QCOMPARE(none.error().kind, ErrorKind::InvalidArgument);
        const auto big = test::levelsOf(900, 700, [](int x, int y) {
            return std::array{x % 200, y % 200, (x + y) % 200};
        });
        const Rect area{200, 200, 500, 500};
        std::stop_source stop;
        stop.request_stop();
        Run run;
        run.stop = stop.get_token();
        const auto stopped = fillHole(*big, area, disc(area), {}, run);
        QVERIFY(!stopped);
        QCOMPARE(stopped.error().kind, ErrorKind::Cancelled);
        // At the photo's corner there is room on two sides only.
        const Rect corner{0, 0, 90, 90};
        QVERIFY(fillHole(*big, corner, std::vector<uint8_t>(90 * 90, 1)));
    }
};

BUTTONHOLE_TEST(TstFillHole)

#include "tst_fill_hole.moc"
