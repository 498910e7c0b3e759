#include "grey_samples.h"
#include "registry.h"
#include "tone/lens_glass.h"

using namespace buttonhole;
using namespace buttonhole::test;

class TstLensGlass : public QObject
{
    Q_OBJECT
private Q_SLOTS:
    void glassesPassTheirOwnColour()
    {
        const Vector3 red = transmissionOfPrimaries(Glass::Red, 1);
        QVERIFY(red[0] > 4 * red[1] && red[0] > 10 * red[2]);
        const Vector3 green = transmissionOfPrimaries(Glass::Green, 1);
        QVERIFY(green[1] > 2 * green[0] && green[1] > 2 * green[2]);
        const Vector3 blue = transmissionOfPrimaries(Glass::Blue, 1);
        QVERIFY(blue[2] > 3 * blue[1] && blue[2] > 3 * blue[0]);
        const Vector3 yellow = transmissionOfPrimaries(Glass::Yellow, 1);
        const Vector3 orange = transmissionOfPrimaries(Glass::Orange, 1);
        QVERIFY(yellow[2] < 0.5 * yellow[1] && orange[1] < yellow[1] && orange[2] < yellow[2]);
        // Twice as thick passes the square, wavelength by wavelength.
        QVERIFY(std::abs(transmission(Glass::Green, 500, 2) -
                         std::pow(transmission(Glass::Green, 500, 1), 2)) < 1e-12);

        GreyMix mix;
        mix.glass = Glass::Red;
        const auto patches = [] {
            return paint(2, 1, [](int x, int) {
                return codesOf({0.5, x == 0 ? 0.12 : -0.03, x == 0 ? 0.06 : -0.18});
            });
        };
        const auto plain = render(patches(), {});
        const auto behind = render(patches(), mix);
        QVERIFY(behind[0] > plain[0] + 2000); // red
        QVERIFY(behind[3] < plain[3] - 8000); // blue
    }
};

BUTTONHOLE_TEST(TstLensGlass)

#include "tst_lens_glass.moc"
