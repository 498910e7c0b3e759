#include "mask/window_rows.h"

#include "mask/match_step.h"
#include "registry.h"

#include <cmath>
#include <limits>
#include <random>

using namespace buttonhole;

namespace
{

constexpr int kMany = 251; // no multiple of any vector
constexpr size_t kPadded = 320;

/// Rows of colours of all hues, neutrals among them; the padding holds what memory may hold.
struct Rows {
    alignas(64) float L[kPadded];
    alignas(64) float a[kPadded];
    alignas(64) float b[kPadded];
    alignas(64) float out[kPadded];

    Rows()
    {
        std::mt19937 random(5);
        std::uniform_real_distribution<float> lightness(0, 1);
        std::uniform_real_distribution<float> chroma(-0.3F, 0.3F);
        for (size_t i = 0; i < kPadded; ++i) {
            const bool isPadding = i >= size_t(kMany);
            L[i] = isPadding ? std::numeric_limits<float>::quiet_NaN() : lightness(random);
            a[i] = isPadding ? std::numeric_limits<float>::infinity() : chroma(random);
            b[i] = isPadding ? std::numeric_limits<float>::quiet_NaN() : chroma(random);
            out[i] = -7;
        }
        a[3] = b[3] = 0;
        a[4] = -0.2F;
        b[4] = 0;
        a[5] = 0;
        b[5] = -0.2F;
    }
};

double hueTurn(double a, double b)
{
    const double part = b / std::max(std::abs(a) + std::abs(b), 1e-12);
    return a < 0 ? 2 - part : part < 0 ? part + 4 : part;
}

} // namespace

/// The SIMD rows against their definition in plain arithmetic.
class TstWindowRows : public QObject
{
    Q_OBJECT
private Q_SLOTS:
    void softRanges_data()
    {
        QTest::addColumn<double>("least");
        QTest::addColumn<double>("most");
        QTest::addColumn<double>("soft");
        QTest::newRow("soft") << 0.3 << 0.6 << 0.1;
        QTest::newRow("hard") << 0.3 << 0.6 << 0.0;
        QTest::newRow("one value") << 0.5 << 0.5 << 0.3;
        QTest::newRow("all") << 0.0 << 1.0 << 0.05;
    }
    void softRanges()
    {
        QFETCH(double, least);
        QFETCH(double, most);
        QFETCH(double, soft);
        Rows rows;
        const SoftRange range{float(least), float(most), float(soft)};
        softRow(range, rows.L, kMany, rows.out);
        for (size_t i = 0; i < size_t(kMany); ++i)
            QVERIFY(std::abs(rows.out[i] - range.at(rows.L[i])) < 1e-5F);
    }

    void windowsByHueAndChroma_data()
    {
        QTest::addColumn<bool>("follows");
        QTest::addColumn<bool>("excludes");
        QTest::newRow("plain") << false << false;
        QTest::newRow("follows shading") << true << false;
        QTest::newRow("with a colour left out") << false << true;
        QTest::newRow("both") << true << true;
    }
    void windowsByHueAndChroma()
    {
        QFETCH(bool, follows);
        QFETCH(bool, excludes);
        const SoftRange chroma{0.05F, 0.2F, 0.03F};
        const SoftRange lightness{0.3F, 0.8F, 0.1F};
        std::vector<float> half(size_t(kWindowHueSteps) + 2);
        std::vector<float> other(half.size());
        for (size_t i = 0; i < half.size(); ++i) {
            half[i] =
                float(0.5 + 0.5 * std::sin(double(i) * 2 * 3.14159265358979 / kWindowHueSteps));
            other[i] = 1 - half[i];
        }
        const RangeRow range{&chroma, &lightness, half.data()};
        const RangeRow excluded{&chroma, &lightness, other.data()};
        Rows rows;
        windowRow(range, follows, &excluded, excludes ? 1 : 0, rows.L, rows.a, rows.b, kMany,
                  rows.out);
        const auto tableAt = [](const std::vector<float> &table, double at) {
            const auto below = size_t(at);
            return table[below] + (at - double(below)) * (table[below + 1] - table[below]);
        };
        for (size_t i = 0; i < size_t(kMany); ++i) {
            const double at = hueTurn(rows.a[i], rows.b[i]) * kWindowHueSteps / 4;
            const float c = std::hypot(rows.a[i], rows.b[i]);
            const float seen = follows ? c * 0.55F / std::max(rows.L[i], 0.12F) : c;
            double want = tableAt(half, at) * chroma.at(seen);
            if (!follows)
                want *= lightness.at(rows.L[i]);
            if (excludes)
                want *= 1 - tableAt(other, at) * chroma.at(c) * lightness.at(rows.L[i]);
            QVERIFY2(std::abs(rows.out[i] - want) < 2e-4,
                     qPrintable(QStringLiteral("%1: %2 for %3").arg(i).arg(rows.out[i]).arg(want)));
        }
    }

    void matchesGoByTheNearestClick()
    {
        const std::vector<float> colours{0.5F, 0.1F, 0.1F, 0.2F, -0.2F, 0.05F};
        Rows rows;
        nearestRow(colours.data(), 2, 0.5F, rows.L, rows.a, rows.b, kMany, rows.out);
        Rows left;
        nearestRow(colours.data(), 0, 0.5F, left.L, left.a, left.b, kMany, left.out);
        const auto distance = [&](size_t i, const float *c) {
            return std::hypot((rows.L[i] - c[0]) * 0.5F, rows.a[i] - c[1], rows.b[i] - c[2]);
        };
        for (size_t i = 0; i < size_t(kMany); ++i) {
            const float want = std::min(distance(i, colours.data()), distance(i, &colours[3]));
            QVERIFY(std::abs(rows.out[i] - want) < 1e-5F);
            QCOMPARE(left.out[i], 2.0F); // without a click all is far
        }
        float near[kPadded];
        float away[kPadded];
        float side[kPadded];
        std::fill_n(near, kPadded, 0.1F);
        for (size_t i = 0; i < kPadded; ++i)
            away[i] = 0.05F + 0.001F * float(i);
        sideRow(0.3F, near, away, kMany, side);
        QVERIFY(std::abs(side[50] - 0.5F) < 1e-5F);
        for (size_t i = 1; i < size_t(kMany); ++i)
            QVERIFY(side[i] >= side[i - 1]);
        QVERIFY(side[0] < 0.1F && side[250] > 0.9F);
    }

    void maskValuesAreRoundedAndNoneMoreIsWritten()
    {
        float share[kPadded];
        for (size_t i = 0; i < kPadded; ++i)
            share[i] = float(i) / 250;
        for (const int n : {1, 7, 16, 33, 251}) {
            std::vector<uint16_t> out(kPadded, 4711);
            maskRow(share, n, out.data());
            for (size_t i = 0; i < out.size(); ++i)
                QCOMPARE(int(out[i]), i < size_t(n) ? int(share[i] * 65535.0F + 0.5F) : 4711);
        }
    }
};

BUTTONHOLE_TEST(TstWindowRows)

#include "tst_window_rows.moc"
