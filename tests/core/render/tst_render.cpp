#include "mask/colour_window.h"
#include "mask/picture_step.h"
#include "render/colour_field.h"
#include "render/kept_colour.h"
#include "render/mask_stage.h"
#include "render/render.h"

#include "colour/oklab.h"
#include "registry.h"
#include "samples.h"

#include <cmath>

using namespace buttonhole;

namespace
{

struct Picture {
    int width;
    std::vector<uint16_t> codes;
    uint16_t at(int x, int y, int c) const
    {
        return codes[(size_t(y) * size_t(width) + size_t(x)) * 3 + size_t(c)];
    }
};

Picture render16(const PhotoLevels &levels, const Take &take, View view, const Rect &area,
                 int level = 0, const Profile &profile = Profile::srgb())
{
    Picture out{area.width(), std::vector<uint16_t>(area.area() * 3)};
    RenderOptions options;
    options.tintHueDeg = 200;
    const auto done = renderPicture(
        levels, take, view, level, test::asPicture(area), OutputColour(profile),
        {RenderTarget::Layout::Rgb16, out.codes.data(), size_t(area.width()) * 6}, options);
    return done ? out : Picture();
}

Take softTake(int width, int height)
{
    return test::makePaintedTake(width, height,
                                 {test::makeStroke({200, 1, 1, 0.9F, PressureSteers::Nothing},
                                                   {{float(width) * 0.3F, float(height) / 2},
                                                    {float(width) * 0.7F, float(height) / 2}})});
}

} // namespace

class TstRender : public QObject
{
    Q_OBJECT
private Q_SLOTS:
    void withoutAKeepAllIsTheGreyOfItsLuminance()
    {
        for (const int bits : {8, 16}) {
            const auto photo = test::makePhoto(300, 200, bits);
            const auto levels = PhotoLevels::makeFlat(photo);
            const Picture got = render16(*levels, makeTake(), View::Result, photo->rect());
            const auto &linear = photo->profile.toLinear(0);
            const Matrix3 &toXyz = photo->profile.toXyz();
            for (int y = 0; y < 200; y += 7)
                for (int x = 0; x < 300; ++x) {
                    QCOMPARE(got.at(x, y, 0), got.at(x, y, 1));
                    QCOMPARE(got.at(x, y, 0), got.at(x, y, 2));
                    double luminance = 0;
                    for (size_t c = 0; c < 3; ++c)
                        luminance +=
                            toXyz[1][c] * double(linear[test::codeAt(*photo, x, y, int(c))]);
                    const double back = double(linear[got.at(x, y, 0)]);
                    // Half a code of sRGB at its steepest is 1.9e-5 of linear light.
                    QVERIFY(std::abs(back - luminance) < 2.2e-5);
                }
        }
    }

    void neutralsKeepTheirCodes()
    {
        auto photo = std::make_shared<Photo>();
        Image<uint16_t> ramp(65536 / 64, 64, 3);
        for (size_t i = 0; i < 65536; ++i)
            for (size_t c = 0; c < 3; ++c)
                ramp.row(0)[i * 3 + c] = uint16_t(i);
        photo->width = ramp.width();
        photo->height = ramp.height();
        photo->pixels = std::move(ramp);
        const auto levels = PhotoLevels::makeFlat(photo);
        const Picture got = render16(*levels, makeTake(), View::Result, photo->rect());
        for (size_t i = 0; i < 65536; ++i)
            QCOMPARE(got.codes[i * 3], uint16_t(i));
    }

    void fullyKeptPixelsAreThePhotosOwn()
    {
        for (const int bits : {8, 16}) {
            const auto photo = test::makePhoto(300, 200, bits);
            const auto levels = PhotoLevels::makeFlat(photo);
            Take take = makeTake();
            take.keeps[0].invert = true; // everything
            const Picture got = render16(*levels, take, View::Result, photo->rect());
            for (int y = 0; y < 200; ++y)
                for (int x = 0; x < 300; ++x)
                    for (int c = 0; c < 3; ++c)
                        QCOMPARE(got.at(x, y, c), test::codeAt(*photo, x, y, c));
            take.greyOn = false;
            take.keeps[0].invert = false;
            QCOMPARE(render16(*levels, take, View::Result, photo->rect()).codes, got.codes);
        }
    }

    void tilesJoinedAreTheWhole_data()
    {
        QTest::addColumn<int>("view");
        QTest::newRow("result") << int(View::Result);
        QTest::newRow("original") << int(View::Original);
        QTest::newRow("mask") << int(View::Mask);
        QTest::newRow("tinted") << int(View::Tinted);
        QTest::newRow("cut-out") << int(View::CutOut);
        QTest::newRow("colour map") << int(View::ColourMap);
    }
    void tilesJoinedAreTheWhole()
    {
        QFETCH(int, view);
        const auto photo = test::makePhoto(613, 431);
        const auto levels = PhotoLevels::makeFlat(photo);
        const Take take = softTake(613, 431);
        const Picture whole =
            render16(*levels, take, View(view), photo->rect(), 0, test::wideProfile());
        for (const Rect area : {Rect{0, 0, 100, 431}, Rect{100, 0, 101, 431}, Rect{101, 0, 613, 17},
                                Rect{101, 17, 613, 300}, Rect{101, 300, 613, 431}}) {
            const Picture part = render16(*levels, take, View(view), area, 0, test::wideProfile());
            for (int y = area.y0; y < area.y1; ++y)
                for (int x = area.x0; x < area.x1; ++x)
                    for (int c = 0; c < 3; ++c)
                        QCOMPARE(part.at(x - area.x0, y - area.y0, c), whole.at(x, y, c));
        }
    }

    void partlyKeptPixelsBlendInOklab()
    {
        const auto photo = test::makePhoto(400, 300, 16);
        const auto levels = PhotoLevels::makeFlat(photo);
        const Take take = softTake(400, 300);
        const auto mask = test::maskOf(take.keeps[0], photo->rect());
        const Picture got = render16(*levels, take, View::Result, photo->rect());
        const Matrix3 &toXyz = photo->profile.toXyz();
        const auto &linear = photo->profile.toLinear(0);
        const auto light = [&](uint16_t code) { return double(linear[code]); };
        int partly = 0;
        for (int y = 0; y < 300; y += 5)
            for (int x = 0; x < 400; ++x) {
                const double m = mask[size_t(y) * 400 + size_t(x)] / 65535.0;
                partly += m > 0 && m < 1 ? 1 : 0;
                const Vector3 rgb{light(test::codeAt(*photo, x, y, 0)),
                                  light(test::codeAt(*photo, x, y, 1)),
                                  light(test::codeAt(*photo, x, y, 2))};
                const Oklab lab = toOklab(toXyz * rgb);
                const double grey = std::cbrt((toXyz * rgb)[1]);
                const Vector3 expected =
                    inverse(toXyz) *
                    buttonhole::toXyz({grey + m * (lab.L - grey), m * lab.a, m * lab.b});
                for (size_t c = 0; c < 3; ++c) {
                    const double cut = std::clamp(expected[c], 0.0, 1.0);
                    const double error =
                        std::abs(std::sqrt(light(got.at(x, y, int(c)))) - std::sqrt(cut));
                    QVERIFY2(error < 1e-3, qPrintable(QString::number(error)));
                }
            }
        QVERIFY(partly > 1000);
    }

    void theMaskViewIsTheMask()
    {
        const auto photo = test::makePhoto(400, 300);
        const auto levels = PhotoLevels::makeFlat(photo);
        const Take take = softTake(400, 300);
        const auto mask = test::maskOf(take.keeps[0], photo->rect());
        const Picture got = render16(*levels, take, View::Mask, photo->rect());
        for (size_t i = 0; i < mask.size(); ++i)
            QCOMPARE(got.codes[3 * i], mask[i]);
    }

    void layoutsHoldTheSamePixels()
    {
        const auto photo = test::makePhoto(90, 60);
        const auto levels = PhotoLevels::makeFlat(photo);
        const Take take = softTake(90, 60);
        const OutputColour output(Profile::srgb());
        std::vector<uint8_t> rgb(90 * 60 * 3);
        std::vector<uint32_t> bgrx(90 * 60);
        QVERIFY(renderPicture(*levels, take, View::Result, 0, test::asPicture(photo->rect()),
                              output, {RenderTarget::Layout::Rgb8, rgb.data(), 90 * 3}));
        QVERIFY(renderPicture(*levels, take, View::Result, 0, test::asPicture(photo->rect()),
                              output, {RenderTarget::Layout::Bgrx8, bgrx.data(), 90 * 4}));
        for (size_t i = 0; i < bgrx.size(); ++i)
            QCOMPARE(bgrx[i], 0xFF000000U | uint32_t(rgb[3 * i]) << 16 |
                                  uint32_t(rgb[3 * i + 1]) << 8 | rgb[3 * i + 2]);
    }

    void tintedAndCutOutTellTheMask()
    {
        const auto photo = test::makePhoto(400, 300);
        const auto levels = PhotoLevels::makeFlat(photo);
        const Take take = softTake(400, 300);
        const Picture original = render16(*levels, take, View::Original, photo->rect());
        const Picture tinted = render16(*levels, take, View::Tinted, photo->rect());
        const Picture cut = render16(*levels, take, View::CutOut, photo->rect());
        // Outside the mask: the photo as it is, or the board without it.
        QVERIFY(std::abs(tinted.at(2, 2, 0) - original.at(2, 2, 0)) <= 1);
        QCOMPARE(cut.at(2, 2, 0), cut.at(2, 2, 1));
        int change = 0;
        for (int x = 120; x < 280; ++x)
            for (int c = 0; c < 3; ++c)
                change += std::abs(tinted.at(x, 150, c) - original.at(x, 150, c));
        QVERIFY(change / 160 > 6000);
        QVERIFY(std::abs(cut.at(200, 150, 1) - original.at(200, 150, 1)) < 8000);
    }

    void theColourMapIsHotterWhereThereIsMoreColour()
    {
        const auto levels = test::levelsOf(40, 2, [](int x, int) {
            return x < 10   ? std::array{128, 128, 128}
                   : x < 20 ? std::array{150, 120, 120}
                   : x < 30 ? std::array{190, 90, 90}
                            : std::array{250, 10, 10};
        });
        const Picture map = render16(*levels, makeTake(), View::ColourMap, {0, 0, 40, 2});
        const auto heat = [&](int x) {
            return map.at(x, 1, 0) + map.at(x, 1, 1) + map.at(x, 1, 2);
        };
        QVERIFY(heat(5) < 3 * 10000); // a neutral is dark, though it is not dark in the photo
        QVERIFY(heat(5) < heat(15) && heat(15) < heat(25) && heat(25) < heat(35));
    }

    void theColourFieldCountsHuesAndWhatIsKept()
    {
        const auto levels = test::levelsOf(200, 100, [](int x, int) {
            return x < 100   ? std::array{200, 40, 40}
                   : x < 150 ? std::array{40, 60, 190}
                             : std::array{120, 120, 120};
        });
        Take take = makeTake();
        ColourWindow red;
        red.range.hueDeg = 27;
        take = withNewStep(std::move(take), take.keeps[0].id, Sign::Add,
                           std::make_shared<ColourWindowStep>(red));
        const ColourField field = measureColourField(*levels, take);
        float reds = 0;
        float blues = 0;
        for (int tone = 0; tone < ColourField::kTones; ++tone)
            for (int hue = 0; hue < ColourField::kHues; ++hue) {
                const ColourField::Cell &cell = field.at(hue, tone);
                (hue < 30 ? reds : blues) += cell.share;
                if (cell.share > 0) {
                    QCOMPARE(cell.kept, hue < 30 ? 1.0F : 0.0F);
                    QVERIFY(cell.chroma > 0.1F);
                }
            }
        QVERIFY(std::abs(reds - 0.5F) < 0.01F); // the grey quarter has no hue
        QVERIFY(std::abs(blues - 0.25F) < 0.01F);
    }

    /// Greys that end black or white are marked blue and red; what is kept is left alone.
    void clippedTonesAreMarked()
    {
        auto photo = std::make_shared<Photo>();
        photo->width = 300;
        photo->height = 3;
        Image<uint8_t> ramp(300, 3, 3);
        for (int y = 0; y < 3; ++y)
            for (int x = 0; x < 300; ++x)
                std::fill_n(ramp.pixel(x, y), 3, uint8_t(std::min(x, 255)));
        photo->pixels = std::move(ramp);
        const auto levels = PhotoLevels::makeFlat(photo);
        const Take take = makeTake();
        const Picture marked = render16(*levels, take, View::Clipped, photo->rect());
        const Picture plain = render16(*levels, take, View::Result, photo->rect());
        QVERIFY(marked.at(0, 1, 2) > 60000 && marked.at(0, 1, 0) == 0);        // blue
        QVERIFY(marked.at(290, 1, 0) > 60000 && marked.at(290, 1, 2) < 10000); // red
        for (int x = 3; x < 253; ++x)
            for (int c = 0; c < 3; ++c)
                QCOMPARE(marked.at(x, 1, c), plain.at(x, 1, c));
        Take all = take;
        all.keeps[0].invert = true;
        QCOMPARE(render16(*levels, all, View::Clipped, photo->rect()).codes,
                 render16(*levels, all, View::Result, photo->rect()).codes);
    }

    /// A look changes what its keep owns and nothing else, in tiles as in the whole.
    void looksChangeWhatTheyOwn()
    {
        const auto photo = test::makePhoto(400, 300);
        const auto levels = PhotoLevels::makeFlat(photo);
        Take take = softTake(400, 300);
        const Picture plain = render16(*levels, take, View::Result, photo->rect());
        take.keeps[0].look.hueShiftDeg = 90;
        const auto mask = test::maskOf(take.keeps[0], photo->rect());
        for (const bool greyOn : {true, false}) {
            take.greyOn = greyOn;
            const Picture looked = render16(*levels, take, View::Result, photo->rect());
            const Picture right = render16(*levels, take, View::Result, {200, 0, 400, 300});
            int changed = 0;
            for (int y = 0; y < 300; y += 3)
                for (int x = 0; x < 400; ++x) {
                    const uint16_t m = mask[size_t(y) * 400 + size_t(x)];
                    for (int c = 0; c < 3; ++c) {
                        if (m == 0)
                            QCOMPARE(looked.at(x, y, c),
                                     greyOn ? plain.at(x, y, c) : test::codeAt(*photo, x, y, c));
                        if (x >= 200)
                            QCOMPARE(right.at(x - 200, y, c), looked.at(x, y, c));
                        changed += m > 32768 && looked.at(x, y, c) != plain.at(x, y, c);
                    }
                }
            QVERIFY(changed > 1000);
        }
        take.keeps[0].on = false;
        take.greyOn = false;
        QCOMPARE(render16(*levels, take, View::Result, photo->rect()).at(200, 150, 0),
                 test::codeAt(*photo, 200, 150, 0));
    }

    void laterKeepsJoinByTheGreater()
    {
        const auto levels = PhotoLevels::makeFlat(test::makePhoto(400, 300));
        Take take = softTake(400, 300);
        Keep second = take.keeps[0];
        second.id = 77;
        second.strength = 0.5F;
        take.keeps.push_back(second);
        const Rect all{0, 0, 400, 300};
        std::vector<uint16_t> both(all.area());
        combinedMask(*levels, take, 0, all, both.data());
        QCOMPARE(both, test::maskOf(take.keeps[0], all));
        take.keeps[0].on = false;
        combinedMask(*levels, take, 0, all, both.data());
        QCOMPARE(both, test::maskOf(take.keeps[1], all));
        take.keeps[1].on = false;
        combinedMask(*levels, take, 0, all, both.data());
        QCOMPARE(*std::max_element(both.begin(), both.end()), uint16_t(0));
    }

    void aSinglePixelRenders()
    {
        const auto photo = test::makePhoto(1, 1);
        const auto levels = PhotoLevels::make(photo);
        QVERIFY(levels);
        QCOMPARE((*levels)->count(), 1);
        const Picture got = render16(**levels, makeTake(), View::Result, photo->rect());
        QCOMPARE(got.at(0, 0, 0), got.at(0, 0, 2));
    }

    /// In a blurred edge over another colour, a share of the subject's own colour stays, not of the
    /// mixture; away from the edge nothing changes; and parts are the whole.
    void spiltColourIsTakenOut()
    {
        constexpr int kSide = 300;
        const auto share = [](int x) { return std::clamp((157.5 - x) / 14, 0.0, 1.0); };
        const auto levels = test::levelsOf(kSide, kSide, [&](int x, int) {
            const double a = share(x);
            const auto mixed = [&](int in, int out) {
                const double v =
                    a * std::pow(in / 255.0, 2.2) + (1 - a) * std::pow(out / 255.0, 2.2);
                return int(std::lround(std::pow(v, 1 / 2.2) * 255));
            };
            return std::array{mixed(10, 220), mixed(140, 120), mixed(130, 30)};
        });
        MaskPlane plane(kSide, kSide);
        for (int ty = 0; ty * kTileSize < kSide; ++ty)
            for (int tx = 0; tx * kTileSize < kSide; ++tx) {
                uint16_t *to = plane.writable(tx, ty);
                for (size_t i = 0; i < size_t(kTileSize) * kTileSize; ++i)
                    to[i] = uint16_t(share(tx * kTileSize + int(i % kTileSize)) * 65535);
            }
        Take take = makeTake();
        take = withNewStep(std::move(take), take.keeps[0].id, Sign::Add,
                           std::make_shared<PictureStep>(std::move(plane)));
        const auto labAt = [](const Picture &picture, int x) {
            Vector3 rgb;
            for (int c = 0; c < 3; ++c) {
                const double v = picture.at(x, 100, c) / 65535.0;
                rgb[size_t(c)] = v <= 0.04045 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4);
            }
            return toOklab(Profile::srgb().toXyz() * rgb);
        };
        const Rect all{0, 0, kSide, kSide};
        const Picture plain = render16(*levels, take, View::Result, all);
        take.keeps[0].spill = 1;
        const Picture clean = render16(*levels, take, View::Result, all);
        const Oklab own = labAt(clean, 100);
        const auto error = [&](const Picture &picture) {
            double sum = 0;
            for (int x = 150; x < 158; ++x) {
                const Oklab lab = labAt(picture, x);
                sum += std::hypot(lab.a - share(x) * own.a, lab.b - share(x) * own.b);
            }
            return sum;
        };
        QVERIFY2(error(clean) < 0.5 * error(plain),
                 qPrintable(QStringLiteral("%1 of %2").arg(error(clean)).arg(error(plain))));
        for (const int x : {20, 100, 140, 200, 280})
            for (int c = 0; c < 3; ++c)
                QCOMPARE(clean.at(x, 100, c), plain.at(x, 100, c));
        for (const Rect &part : {Rect{0, 0, 153, 300}, Rect{153, 90, 300, 180}}) {
            const Picture some = render16(*levels, take, View::Result, part);
            for (int x = part.x0; x < part.x1; ++x)
                QVERIFY(std::abs(int(some.at(x - part.x0, 10, 0)) -
                                 int(clean.at(x, part.y0 + 10, 0))) <= 2);
        }
    }

    void markedSpillTakesTheColourRoundAbout()
    {
        // A blue cloth, all of it kept, a yellow cast on a part of it.
        constexpr int kSide = 300;
        const auto isCast = [](int x, int y) { return x >= 150 && x < 190 && y >= 100 && y < 140; };
        const auto levels = test::levelsOf(kSide, kSide, [&](int x, int y) {
            return isCast(x, y) ? std::array{120, 120, 110} : std::array{60, 80, 170 + y % 3};
        });
        Take take = test::makePaintedTake(
            kSide, kSide, {test::makeStroke({80, 0, 1, 1, PressureSteers::Nothing}, {{170, 120}})});
        take.keeps[0].steps[0].sign = Sign::Spill;
        take.keeps[0].invert = true;
        take.keeps[0].steps[0].on = false;
        const Rect all{0, 0, kSide, kSide};
        const Picture plain = render16(*levels, take, View::Result, all);
        take.keeps[0].steps[0].on = true;
        const Picture marked = render16(*levels, take, View::Result, all);
        const auto blueness = [](const Picture &picture, int x, int y) {
            return int(picture.at(x, y, 2)) - int(picture.at(x, y, 0));
        };
        QVERIFY(blueness(plain, 170, 120) < 0);
        QVERIFY2(blueness(marked, 170, 120) > 15000,
                 qPrintable(QString::number(blueness(marked, 170, 120))));
        for (const int x : {20, 110, 230})
            for (int c = 0; c < 3; ++c)
                QCOMPARE(marked.at(x, 120, c), plain.at(x, 120, c));
        take.keeps[0].spill = 0.5F; // is for what is marked as well
        const Picture half = render16(*levels, take, View::Result, all);
        QVERIFY(blueness(half, 170, 120) > blueness(plain, 170, 120) + 3000);
        QVERIFY(blueness(half, 170, 120) < blueness(marked, 170, 120) - 3000);
        // Parts are the whole.
        const Rect part{140, 90, 200, 150};
        const Picture some = render16(*levels, take, View::Result, part);
        for (int y = part.y0; y < part.y1; ++y)
            for (int x = part.x0; x < part.x1; ++x)
                QVERIFY(std::abs(int(some.at(x - part.x0, y - part.y0, 2)) -
                                 int(half.at(x, y, 2))) <= 2);
    }

    void keptColourIsThatOfTheMask()
    {
        auto photo = std::make_shared<Photo>();
        photo->width = 64;
        photo->height = 64;
        Image<uint8_t> image(64, 64, 3);
        for (int y = 0; y < 64; ++y)
            for (int x = 0; x < 64; ++x) {
                const uint8_t red[3] = {200, 40, 30};
                const uint8_t grey[3] = {90, 90, 90};
                std::copy_n(x < 32 ? red : grey, 3, image.pixel(x, y));
            }
        photo->pixels = std::move(image);
        const auto levels = PhotoLevels::makeFlat(photo);
        Take take = makeTake();
        QVERIFY(!findKeptColour(*levels, take.keeps[0]));
        take.keeps[0].invert = true;
        const auto colour = findKeptColour(*levels, take.keeps[0]);
        QVERIFY(colour);
        QVERIFY((*colour)[0] > 180 && (*colour)[1] < 60);
    }
};

BUTTONHOLE_TEST(TstRender)

#include "tst_render.moc"
