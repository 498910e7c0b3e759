#include "colour/pixel_rows.h"

#include "colour/oklab.h"
#include "registry.h"
#include "samples.h"

#include <cmath>
#include <limits>

using namespace buttonhole;

class TstPixelRows : public QObject
{
    Q_OBJECT
    static constexpr int kPadded = kRowRun + 64;

private Q_SLOTS:
    /// The SIMD blend against the same sum in double precision.
    void blendAgreesWithDoublePrecision()
    {
        for (const Profile &profile : {Profile::srgb(), test::wideProfile()}) {
            const SourceColour source(profile, 8);
            const OutputColour output(profile);
            float r[kPadded] = {};
            float g[kPadded] = {};
            float b[kPadded] = {};
            float y[kPadded] = {};
            uint16_t mask[kPadded] = {};
            double worst = 0;
            for (int round = 0; round < 40; ++round) {
                float in[3][kRowRun];
                for (int i = 0; i < kRowRun; ++i) {
                    const int n = round * kRowRun + i;
                    in[0][i] = r[i] = float(n % 17) / 16.0F;
                    in[1][i] = g[i] = float(n % 23) / 22.0F;
                    in[2][i] = b[i] = float(n % 29) / 28.0F;
                    y[i] = float(n % 31) / 30.0F;
                    mask[i] = uint16_t(n * 977);
                }
                blendRow(source.toLms.data(), output.fromLms.data(), y, mask, kRowRun, r, g, b);
                for (int i = 0; i < kRowRun; ++i) {
                    const Oklab lab =
                        toOklab(profile.toXyz() * Vector3{in[0][i], in[1][i], in[2][i]});
                    const double m = mask[i] / 65535.0;
                    const double grey = std::cbrt(double(y[i]));
                    const Vector3 expected =
                        inverse(profile.toXyz()) *
                        toXyz({grey + m * (lab.L - grey), m * lab.a, m * lab.b});
                    worst = std::max({worst, std::abs(expected[0] - double(r[i])),
                                      std::abs(expected[1] - double(g[i])),
                                      std::abs(expected[2] - double(b[i]))});
                }
            }
            qInfo("largest difference %.2e", worst);
            // A wide profile's inverse matrix enlarges differences; half a 16-bit step is 7.6e-6.
            QVERIFY(worst < 7.6e-6);
        }
    }

    void blendKeepsNeutralsNeutral()
    {
        const SourceColour source(Profile::srgb(), 8);
        const OutputColour output(Profile::srgb());
        float r[kPadded];
        float g[kPadded];
        float b[kPadded];
        float y[kPadded];
        uint16_t mask[kPadded];
        for (int i = 0; i < kPadded; ++i) {
            r[i] = g[i] = b[i] = y[i] = float(i % 256) / 255.0F;
            mask[i] = uint16_t(i * 3001);
        }
        blendRow(source.toLms.data(), output.fromLms.data(), y, mask, kRowRun, r, g, b);
        for (int i = 0; i < kRowRun; ++i) {
            QVERIFY(std::abs(r[i] - y[i]) < 3e-6F);
            QVERIFY(std::abs(g[i] - y[i]) < 3e-6F);
            QVERIFY(std::abs(b[i] - y[i]) < 3e-6F);
        }
    }

    void encodeRoundsToTheNearestCode_data()
    {
        QTest::addColumn<int>("bits");
        QTest::addColumn<double>("within");
        QTest::newRow("16 bits") << 16 << 0.53;
        QTest::newRow("8 bits") << 8 << 0.51;
    }
    void encodeRoundsToTheNearestCode()
    {
        QFETCH(int, bits);
        QFETCH(double, within);
        const double top = bits == 8 ? 255.0 : 65535.0;
        float linear[kPadded] = {};
        uint16_t codes[kPadded] = {};
        double worst = 0;
        for (int start = 0; start < 60000; start += kRowRun) {
            for (int i = 0; i < kRowRun; ++i)
                linear[i] = std::min(1.0F, float(start + i) / 60000.0F);
            encodeRow(Profile::srgb(), 0, bits, linear, kRowRun, codes);
            for (int i = 0; i < kRowRun; ++i) {
                const double x = double(linear[i]);
                const double exact =
                    top * (x <= 0.0031308 ? 12.92 * x : 1.055 * std::pow(x, 1 / 2.4) - 0.055);
                worst = std::max(worst, std::abs(exact - codes[i]));
            }
        }
        qInfo("largest difference %.3f codes", worst);
        QVERIFY(worst < within);
    }

    void encodeCutsWhatIsOutside()
    {
        float linear[kPadded] = {};
        const float infinity = std::numeric_limits<float>::infinity();
        const float cases[] = {-1.0F, 2.0F, NAN, infinity, -infinity, 0.0F, 1.0F, -0.0F};
        std::copy(std::begin(cases), std::end(cases), linear);
        uint16_t codes[kPadded] = {};
        encodeRow(Profile::srgb(), 0, 8, linear, 8, codes);
        const uint16_t expected[] = {0, 255, 0, 255, 0, 0, 255, 0};
        for (int i = 0; i < 8; ++i)
            QCOMPARE(codes[i], expected[i]);
    }

    void everyCodeComesBackThroughDecodeAndEncode()
    {
        const SourceColour source(Profile::srgb(), 16);
        float planes[3][kPadded] = {};
        uint16_t codes[kPadded] = {};
        for (int start = 0; start + kRowRun <= 65536; start += kRowRun) {
            uint16_t rgb[3 * kRowRun];
            for (int i = 0; i < 3 * kRowRun; ++i)
                rgb[i] = uint16_t(start + i / 3);
            decodeRow(source, rgb, kRowRun, planes[0], planes[1], planes[2]);
            for (size_t c = 0; c < 3; ++c) {
                encodeRow(Profile::srgb(), c, 16, planes[c], kRowRun, codes);
                for (int i = 0; i < kRowRun; ++i)
                    QCOMPARE(codes[i], rgb[3 * i]);
            }
        }
    }

    void luminanceIsTheWeightedSumOfLinearLight()
    {
        const SourceColour source(Profile::srgb(), 8);
        const uint8_t rgb[] = {255, 0, 0, 0, 255, 0, 0, 0, 255, 188, 188, 188};
        float y[kPadded] = {};
        luminanceRow(source, rgb, 4, y);
        QVERIFY(std::abs(y[0] - 0.2126F) < 6e-4F);
        QVERIFY(std::abs(y[1] - 0.7152F) < 6e-4F);
        QVERIFY(std::abs(y[2] - 0.0722F) < 6e-4F);
        QVERIFY(std::abs(y[3] - source.toLinear[0][188]) < 1e-6F);
    }

    void interleavedRowsAreRgbPixels()
    {
        uint16_t rows[3][kRowRun];
        for (int i = 0; i < kRowRun; ++i)
            for (int c = 0; c < 3; ++c)
                rows[c][i] = uint16_t((i * 7 + c * 31) % 256);
        for (const int n : {1, 15, 64, 200, kRowRun}) {
            std::vector<uint8_t> eight(size_t(n) * 3 + 1, 99);
            std::vector<uint16_t> sixteen(size_t(n) * 3 + 1, 999);
            interleaveRow(rows[0], rows[1], rows[2], n, eight.data());
            interleaveRow(rows[0], rows[1], rows[2], n, sixteen.data());
            for (int i = 0; i < 3 * n; ++i) {
                QCOMPARE(uint16_t(eight[size_t(i)]), rows[i % 3][i / 3]);
                QCOMPARE(sixteen[size_t(i)], rows[i % 3][i / 3]);
            }
            QCOMPARE(eight.back(), uint8_t(99)); // nothing past the end
            QCOMPARE(sixteen.back(), uint16_t(999));
        }
    }

    void matrixRowIsTheMatrix()
    {
        const float m[9] = {1, 2, 3, 0.5F, 0, -1, 0, 4, 0};
        float r[kPadded] = {1, 0};
        float g[kPadded] = {10, 1};
        float b[kPadded] = {100, 2};
        matrixRow(m, 2, r, g, b);
        QCOMPARE(r[0], 321.0F);
        QCOMPARE(g[0], -99.5F);
        QCOMPARE(b[0], 40.0F);
        QCOMPARE(r[1], 8.0F);
    }
};

BUTTONHOLE_TEST(TstPixelRows)

#include "tst_pixel_rows.moc"
