#include "document/same_again.h"
#include "io/jpeg.h"
#include "io/png.h"
#include "mask/region_step.h"
#include "registry.h"
#include "samples.h"

#include <cmath>

using namespace buttonhole;

/// A subject kept on one photo, looked for on others of the scene: moved, in another light, gone.
class TstSameAgain : public QObject
{
    Q_OBJECT

    Image<uint8_t> m_scene;
    std::vector<uint8_t> m_matte;
    int m_matteWidth = 0;

    /// Another shot of the scene: a part of it, in light changed by a gamma.
    std::shared_ptr<const PhotoLevels> shot(const Rect &part, double gamma) const
    {
        std::array<int, 256> curve{};
        for (size_t i = 0; i < curve.size(); ++i)
            curve[i] = int(std::lround(255 * std::pow(double(i) / 255, gamma)));
        return test::levelsOf(part.width(), part.height(), [&](int x, int y) {
            const uint8_t *pixel = m_scene.pixel(x + part.x0, y + part.y0);
            return std::array{curve[pixel[0]], curve[pixel[1]], curve[pixel[2]]};
        });
    }
    /// Of the keep's mask and the boat's matte in that part.
    double iou(const PhotoLevels &levels, const Keep &keep, const Rect &part) const
    {
        const Rect all = levels.rectOf(0);
        std::vector<uint16_t> mask(all.area());
        fullMask(levels, keep, 0, all, mask.data());
        double both = 0;
        double either = 0;
        for (int y = 0; y < all.height(); ++y)
            for (int x = 0; x < all.width(); ++x) {
                const double own = mask[size_t(y * all.width() + x)] / 65535.0;
                const double covered =
                    m_matte[size_t((y + part.y0) * m_matteWidth + x + part.x0)] / 255.0;
                both += std::min(own, covered);
                either += std::max(own, covered);
            }
        return both / either;
    }

private Q_SLOTS:
    void initTestCase()
    {
        const auto photo = decodeJpeg(test::bytesOf(test::demo("mill-pond.jpg")), "mill-pond", {});
        QVERIFY(photo);
        m_scene = std::get<Image<uint8_t>>(photo->pixels).clone();
        const auto matte =
            decodePng(test::bytesOf(test::demo("mill-pond.boat.matte.png")), "matte", {});
        QVERIFY(matte);
        std::visit(
            [&](const auto &pixels) {
                m_matteWidth = pixels.width();
                for (int y = 0; y < pixels.height(); ++y)
                    for (int x = 0; x < pixels.width(); ++x)
                        m_matte.push_back(uint8_t(sizeof(*pixels.row(0)) == 1
                                                      ? *pixels.pixel(x, y)
                                                      : *pixels.pixel(x, y) >> 8));
            },
            matte->pixels);
    }

    void subjectsAreFoundAgain()
    {
        const Rect first{0, 0, m_scene.width(), m_scene.height()};
        const auto levels = shot(first, 1);
        Take take = makeTake();
        SubjectNote note;
        note.word = "boat"; // which the detector does not call it
        take = withNewStep(std::move(take), take.keeps[0].id, Sign::Add,
                           std::make_shared<RegionStep>(
                               RegionAsk{{}, Rect{130, 770, 1700, 1120}, 0}, MaskPlane(), note));
        QVERIFY(iou(*levels, take.keeps[0], first) > 0.95);
        const Preset preset = presetOf(take, {"keeps"}, "Boat", *levels);

        const auto again = [&](const Rect &part, double gamma, CarryReport &report) {
            const auto other = shot(part, gamma);
            const auto made = withPresetOn(makeTake(), preset, *other, false, report);
            Q_ASSERT(made);
            return iou(*other, made->keeps.at(0), part);
        };
        CarryReport moved;
        QVERIFY(again({160, 150, 2160, 1550}, 0.8, moved) > 0.9);
        QVERIFY(!moved.wantsALook());
        CarryReport gone;
        again({1050, 0, 2350, 700}, 1, gone);
        QVERIFY(gone.wantsALook());
    }
};

BUTTONHOLE_TEST(TstSameAgain)
#include "tst_same_again.moc"
