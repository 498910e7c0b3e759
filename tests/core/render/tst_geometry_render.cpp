#include "document/set_param.h"
#include "export/export.h"
#include "export/small_picture.h"
#include "light/number_adjustment.h"
#include "render/light_chain.h"
#include "render/render.h"

#include "registry.h"
#include "samples.h"

#include <QTemporaryDir>

using namespace buttonhole;

namespace
{

/// Darkens by how far left in what is seen a pixel lies: whatever looks at the picture's frame.
struct LeftShade {
    float share = 0;
    static constexpr std::string_view kKind = "left-shade";
    static constexpr int kSince = 8;
    static std::span<const Param<LeftShade>> rows()
    {
        static constexpr Param<LeftShade> kRows[] = {
            {"share", [](LeftShade &s) -> float & { return s.share; }, 0, 1, kSince}};
        return kRows;
    }
    int reachPx() const { return 0; }
    LightChange change(const LightSpace &) const
    {
        return [most = share](const Source &in, int level, LightTile &out,
                              const Run &run) -> Result<void> {
            if (auto done = in.read(level, out, run); !done)
                return done;
            const Rect all = in.rectOf(level);
            const Rect &area = out.area();
            for (int y = area.y0; y < area.y1; ++y)
                for (int x = area.x0; x < area.x1; ++x)
                    for (int c = 0; c < 3; ++c)
                        *out.at(c, x, y) *= x < (all.x0 + all.x1) / 2 ? 1 - most : 1;
            return {};
        };
    }
};

} // namespace

/// Pictures cropped, mirrored and turned: the same pixels in other places.
class TstGeometryRender : public QObject
{
    Q_OBJECT

    static constexpr int kWidth = 611;
    static constexpr int kHeight = 437;
    std::shared_ptr<const PhotoLevels> m_levels;

    static Take painted()
    {
        const Tip tip{120, 1, 1, 1, PressureSteers::Nothing};
        return test::makePaintedTake(kWidth, kHeight,
                                     {test::makeStroke(tip, {{150, 100}, {400, 380}})});
    }

    template <class T>
    std::vector<T> render(const Take &take, int level, RenderTarget::Layout layout,
                          StageCache *cache = nullptr) const
    {
        const PictureRect area = pictureOf(*m_levels, take).rect(level);
        const size_t channels = layout == RenderTarget::Layout::Bgrx8 ? 1 : 3;
        std::vector<T> out(area.area() * channels);
        RenderOptions options;
        options.cache = cache;
        const auto done = renderPicture(
            *m_levels, take, View::Result, level, area, OutputColour(Profile::srgb()),
            {layout, out.data(), size_t(area.width()) * channels * sizeof(T)}, options);
        return done ? out : std::vector<T>();
    }

    /// Compares with the picture as it lies, pixel by pixel.
    template <class T>
    void compare(const Geometry &way, int level, RenderTarget::Layout layout) const
    {
        Take take = painted();
        const auto plain = render<T>(take, level, layout);
        take.geometry = way;
        const auto got = render<T>(take, level, layout);
        QVERIFY(!got.empty());
        const PictureMap map = pictureOf(*m_levels, take);
        const PictureRect picture = map.rect(level);
        const Rect photo = map.cropRect(level);
        QCOMPARE(picture.area(), photo.area());
        const auto channels = int(got.size() / picture.area());
        const int stride = m_levels->rectOf(level).width();
        int wrong = 0;
        for (int y = photo.y0; y < photo.y1; ++y)
            for (int x = photo.x0; x < photo.x1; ++x) {
                const auto [u, v] = map.pixelAt(x, y, level);
                const auto at = size_t((v - picture.y0) * picture.width() + u - picture.x0);
                for (int c = 0; c < channels; ++c)
                    wrong += got[at * size_t(channels) + size_t(c)] ==
                                     plain[size_t((y * stride + x) * channels + c)]
                                 ? 0
                                 : 1;
            }
        QCOMPARE(wrong, 0);
    }

private Q_SLOTS:
    void initTestCase()
    {
        adjustmentKinds().add(NumberAdjustment<LeftShade>::makeKind());
        auto levels = PhotoLevels::make(test::makePhoto(kWidth, kHeight));
        QVERIFY(levels);
        m_levels = *levels;
    }

    void pixelsAreTheSameInOtherPlaces()
    {
        for (const bool isMirrored : {false, true})
            for (int turns = 0; turns < 4; ++turns)
                for (const Rect &crop : {Rect(), Rect{33, 70, 401, 333}}) {
                    const Geometry way{crop, isMirrored, turns};
                    compare<uint8_t>(way, 0, RenderTarget::Layout::Rgb8);
                    compare<uint16_t>(way, 0, RenderTarget::Layout::Rgb16);
                    compare<uint32_t>(way, 0, RenderTarget::Layout::Bgrx8);
                    compare<uint32_t>(way, 1, RenderTarget::Layout::Bgrx8);
                    compare<uint8_t>(way, 2, RenderTarget::Layout::Rgb8);
                }
    }

    void theFinishGoesByThePicture()
    {
        Take take = painted();
        take.geometry = {{40, 20, 340, 220}, false, 1}; // turned: 200 wide, 300 high
        const auto before = render<uint16_t>(take, 0, RenderTarget::Layout::Rgb16);
        take.finish.push_back(
            {1, true, std::make_shared<const NumberAdjustment<LeftShade>>(LeftShade{1})});
        QCOMPARE(pictureOf(*m_levels, take).rect().width(), 200);
        StageCache cache(64 << 20);
        for (StageCache *with : {static_cast<StageCache *>(nullptr), &cache, &cache}) {
            const auto after = render<uint16_t>(take, 0, RenderTarget::Layout::Rgb16, with);
            int wrong = 0;
            for (size_t i = 0; i < after.size(); ++i)
                wrong += after[i] == (i / 3 % 200 < 100 ? 0 : before[i]) ? 0 : 1;
            QCOMPARE(wrong, 0);
        }
    }

    void whatLeavesHasTheSizeOfThePicture()
    {
        QTemporaryDir folder;
        Take take = painted();
        take.geometry = {{40, 20, 340, 220}, true, 3};
        ExportSettings settings;
        settings.format = ExportSettings::Format::Png;
        const std::string path = folder.filePath(QStringLiteral("out.png")).toStdString();
        const auto done = exportPicture(*m_levels, take, settings, path);
        QVERIFY(done);
        QCOMPARE((std::array{done->width, done->height}), (std::array{200, 300}));
        const auto read = PhotoLevels::load(path);
        QVERIFY(read);
        const auto expected = render<uint8_t>(take, 0, RenderTarget::Layout::Rgb8);
        int wrong = 0;
        for (int y = 0; y < 300; ++y)
            for (int x = 0; x < 200; ++x)
                wrong += test::codeAt((*read)->photo(), x, y, 1) ==
                                 expected[size_t((y * 200 + x) * 3 + 1)] * 257
                             ? 0
                             : 1;
        QCOMPARE(wrong, 0);
        settings.longEdgePx = 150;
        const auto smaller = exportPicture(*m_levels, take, settings, path);
        QVERIFY(smaller);
        QCOMPARE((std::array{smaller->width, smaller->height}), (std::array{100, 150}));
        const auto small = renderSmall(*m_levels, take, 60);
        QVERIFY(small);
        QCOMPARE((std::array{small->width(), small->height()}), (std::array{40, 60}));
    }
};

BUTTONHOLE_TEST(TstGeometryRender)

#include "tst_geometry_render.moc"
