#include "grey_samples.h"
#include "registry.h"
#include "render/grey_stage.h"
#include "render/grey_statistics.h"
#include "tone/tone_curve.h"

using namespace buttonhole;
using namespace buttonhole::test;

class TstDetailPlane : public QObject
{
    Q_OBJECT
private Q_SLOTS:
    void localContrastHasNoHalos()
    {
        // A texture on either side of a hard edge.
        const auto picture = paint(800, 400, [](int x, int y) {
            const int wave = ((x / 6 + y / 6) % 2 == 0 ? 1500 : -1500);
            const auto code = uint16_t((x < 400 ? 14000 : 50000) + wave);
            return std::array<uint16_t, 3>{code, code, code};
        });
        const auto levels = PhotoLevels::make(photoOf(picture.clone())).value();
        const auto plain = render(*levels, {});
        const auto at = [](const std::vector<uint16_t> &codes, int x, int y) {
            return int(codes[size_t(y * 800 + x) * 3]);
        };
        const auto wave = [&](const std::vector<uint16_t> &codes) {
            return at(codes, 203, 203) - at(codes, 209, 203);
        };
        for (const bool fine : {false, true}) {
            GreyMix mix;
            (fine ? mix.tone.fine : mix.tone.local) = 80;
            const auto more = render(*levels, mix);
            QVERIFY(std::abs(wave(more)) > 1.3 * std::abs(wave(plain)));
            (fine ? mix.tone.fine : mix.tone.local) = -80;
            const auto less = render(*levels, mix);
            QVERIFY(std::abs(wave(less)) < 0.7 * std::abs(wave(plain)));
            // Means near the edge and far from it: no bright or dark rim.
            const auto mean = [&](const std::vector<uint16_t> &codes, int x0, int x1) {
                double sum = 0;
                for (int y = 100; y < 300; ++y)
                    for (int x = x0; x < x1; ++x)
                        sum += at(codes, x, y);
                return sum / (200.0 * (x1 - x0));
            };
            for (const auto &codes : {more, less}) {
                QVERIFY(std::abs(mean(codes, 376, 400) - mean(codes, 100, 124)) < 900);
                QVERIFY(std::abs(mean(codes, 400, 424) - mean(codes, 676, 700)) < 900);
            }
        }
    }

    void localContrastIsTheSameInTilesAndStrips()
    {
        const auto levels = PhotoLevels::make(test::makePhoto(700, 500)).value();
        GreyMix mix;
        mix.tone.local = 50;
        mix.tone.fine = -30;
        Take take;
        take.grey = mix;
        const auto whole = render(*levels, mix);
        const Rect part{130, 70, 600, 411};
        std::vector<uint16_t> codes(part.area() * 3);
        QVERIFY(renderPicture(
            *levels, take, View::Result, 0, test::asPicture(part), OutputColour(Profile::srgb()),
            {RenderTarget::Layout::Rgb16, codes.data(), size_t(part.width()) * 6}));
        for (int y = part.y0; y < part.y1; ++y)
            QVERIFY(std::equal(codes.begin() + ptrdiff_t(y - part.y0) * part.width() * 3,
                               codes.begin() + ptrdiff_t(y - part.y0 + 1) * part.width() * 3,
                               whole.begin() + (ptrdiff_t(y) * 700 + part.x0) * 3));
    }

    void aDraftNeverWaitsAndIsNotTakenForTheRealOne()
    {
        const auto levels = PhotoLevels::make(test::makePhoto(700, 500)).value();
        GreyMix mix;
        mix.tone.local = 60;
        QVERIFY(!isGreyReady(*levels, mix));
        const auto bare = draftGreyMixer(*levels, mix); // there is nothing to measure against yet
        QVERIFY(bare->greyContent() != mix.greyContent());
        const auto exact = findGreyMixer(*levels, mix);
        QVERIFY(isGreyReady(*levels, mix));
        QCOMPARE(draftGreyMixer(*levels, mix), exact);
        // Another hue: measured against the grey before, close to what it will be.
        mix.hue = {{60, 30, 60}};
        QVERIFY(!isGreyReady(*levels, mix));
        const auto draft = draftGreyMixer(*levels, mix);
        const auto settled = findGreyMixer(*levels, mix);
        QVERIFY(draft != settled);
        QCOMPARE(settled->greyContent(), mix.greyContent());
        const auto &image = std::get<Image<uint8_t>>(levels->photo().pixels);
        float a[kRowRun + 64];
        float b[kRowRun + 64];
        draft->greyRow(image.pixel(100, 200), 256, {100, 200, 0}, a);
        settled->greyRow(image.pixel(100, 200), 256, {100, 200, 0}, b);
        double off = 0;
        for (int i = 0; i < 256; ++i)
            off += std::abs(std::cbrt(a[i]) - std::cbrt(b[i])) / 256;
        QVERIFY2(off < 0.03, qPrintable(QString::number(off)));
    }
};

BUTTONHOLE_TEST(TstDetailPlane)

#include "tst_detail_plane.moc"
