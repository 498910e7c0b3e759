#include "colour/colour_look.h"

#include "colour/oklab.h"
#include "colour/pixel_rows.h"
#include "registry.h"

using namespace buttonhole;

namespace
{

constexpr int kSize = kRowRun + 64;

struct Row {
    alignas(64) float r[kSize] = {};
    alignas(64) float g[kSize] = {};
    alignas(64) float b[kSize] = {};

    Oklab lab(int i) const { return toOklab(Profile::srgb().toXyz() * Vector3{r[i], g[i], b[i]}); }
};

/// A ramp of every lightness, red to teal, muted enough to leave room.
Row makeRow()
{
    Row row;
    for (int i = 0; i < kRowRun; ++i) {
        const float t = float(i) / (kRowRun - 1);
        row.r[i] = t * 0.5F;
        row.g[i] = t * 0.35F;
        row.b[i] = (1 - t) * 0.25F + t * 0.3F;
    }
    return row;
}

Row looked(const ColourLook &look, Row row = makeRow())
{
    static const SourceColour colour(Profile::srgb(), 8);
    ColourLookRow(look, colour).apply(kRowRun, row.r, row.g, row.b);
    return row;
}

double turn(double a, double b)
{
    return std::remainder(a - b, 360.0);
}

} // namespace

class TstColourLook : public QObject
{
    Q_OBJECT
private Q_SLOTS:
    void offIsThePhoto()
    {
        const Row before = makeRow();
        const Row after = looked({});
        for (int i = 0; i < kRowRun; ++i) {
            QVERIFY(std::abs(after.r[i] - before.r[i]) < 1e-4F);
            QVERIFY(std::abs(after.b[i] - before.b[i]) < 1e-4F);
        }
        QVERIFY(ColourLook().isOff());
    }

    void hueTurnsAndNothingElse()
    {
        const Row before = makeRow();
        const Row after = looked({30});
        for (int i = 20; i < kRowRun; i += 9) {
            QVERIFY(std::abs(turn(hueDeg(after.lab(i)), hueDeg(before.lab(i)) + 30)) < 0.5);
            QVERIFY(std::abs(after.lab(i).L - before.lab(i).L) < 0.002);
            QVERIFY(std::abs(chroma(after.lab(i)) - chroma(before.lab(i))) < 0.002);
        }
    }

    void saturationScalesChroma()
    {
        const Row before = makeRow();
        for (const float factor : {0.0F, 0.5F, 1.4F}) {
            const Row after = looked({0, factor});
            for (int i = 60; i < kRowRun; i += 9)
                QVERIFY(std::abs(chroma(after.lab(i)) - factor * chroma(before.lab(i))) < 0.003);
        }
    }

    void lightnessKeepsBlackAndWhite()
    {
        Row row;
        row.r[1] = row.g[1] = row.b[1] = 1;
        row.r[2] = row.g[2] = row.b[2] = 0.125F; // L = 0.5
        const Row lighter = looked({0, 1, 1}, row);
        QVERIFY(std::abs(lighter.lab(0).L) < 1e-3);
        QVERIFY(std::abs(lighter.lab(1).L - 1) < 1e-3);
        QVERIFY(std::abs(lighter.lab(2).L - std::sqrt(0.5)) < 2e-3);
        QVERIFY(std::abs(looked({0, 1, -1}, row).lab(2).L - 0.25) < 2e-3);
    }

    void aTintColoursNeutrals()
    {
        Row row;
        for (int i = 0; i < kRowRun; ++i)
            row.r[i] = row.g[i] = row.b[i] = float(i) / (kRowRun - 1);
        const Row after = looked({0, 1, 0, 0, 200, 1}, row);
        QVERIFY(chroma(after.lab(40)) > 0.07);
        QVERIFY(std::abs(turn(hueDeg(after.lab(40)), 200)) < 1);
        QVERIFY(chroma(after.lab(0)) < 1e-3);
        QVERIFY(looked({0, 1, 0, 1}, row).lab(60).b > 0.03);   // amber
        QVERIFY(looked({0, 1, 0, -1}, row).lab(60).b < -0.03); // blue
    }

    /// What a look makes too strong for the profile loses chroma; hue and lightness stay.
    void nothingLeavesTheGamut()
    {
        Row row;
        for (int i = 0; i < kRowRun; ++i) {
            row.r[i] = float(i % 16) / 15;
            row.g[i] = float(i / 16) / 15;
            row.b[i] = float((i * 7) % 11) / 10;
        }
        const Row strong = looked({120, 2}, row);
        for (int i = 0; i < kRowRun; ++i) {
            for (const float v : {strong.r[i], strong.g[i], strong.b[i]})
                QVERIFY(v > -2e-4F && v < 1 + 2e-4F);
            QVERIFY(std::abs(strong.lab(i).L - row.lab(i).L) < 0.003);
            if (chroma(strong.lab(i)) > 0.02)
                QVERIFY(std::abs(turn(hueDeg(strong.lab(i)), hueDeg(row.lab(i)) + 120)) < 1);
        }
    }
};

BUTTONHOLE_TEST(TstColourLook)

#include "tst_colour_look.moc"
