#include "raster/light_tile.h"
#include "raster/tile_pool.h"
#include "render/cached_tile.h"
#include "render/render.h"

#include "registry.h"
#include "samples.h"

using namespace buttonhole;

class TstStageCache : public QObject
{
    Q_OBJECT

    static constexpr size_t kCount = size_t(kTileSize) * kTileSize;

    static TileValues tile(uint16_t value)
    {
        auto values = takeTilePixels();
        std::fill_n(values.get(), kCount, value);
        return values;
    }
    static std::vector<uint8_t> render(const PhotoLevels &levels, const Take &take,
                                       const Rect &area, int level, StageCache *cache)
    {
        static const OutputColour output(Profile::srgb());
        std::vector<uint8_t> out(area.area() * 3);
        RenderOptions options;
        options.cache = cache;
        const auto done = renderPicture(
            levels, take, View::Result, level, test::asPicture(area), output,
            {RenderTarget::Layout::Rgb8, out.data(), size_t(area.width()) * 3}, options);
        return done ? out : std::vector<uint8_t>();
    }
    static Take softTake()
    {
        Take take =
            test::makePaintedTake(700, 500,
                                  {test::makeStroke({300, 1, 1, 0.9F, PressureSteers::Nothing},
                                                    {{200, 250}, {500, 250}})});
        Keep second = take.keeps[0];
        second.id = 99;
        second.invert = true;
        second.strength = 0.2F;
        take.keeps.push_back(second);
        return take;
    }

private Q_SLOTS:
    void theLeastRecentlyUsedGo()
    {
        StageCache cache(300'000); // two tiles of 131072 bytes
        const StageCache::Key a{1, 0, 0, 0};
        const StageCache::Key b{1, 0, 1, 0};
        const StageCache::Key c{2, 0, 0, 0};
        (void)putTile(cache, a, tile(1), kCount);
        (void)putTile(cache, b, tile(2), kCount);
        QVERIFY(cache.find<uint16_t[]>(a)); // now b is the older
        (void)putTile(cache, c, tile(3), kCount);
        QVERIFY(cache.find<uint16_t[]>(a) && cache.find<uint16_t[]>(c) &&
                !cache.find<uint16_t[]>(b));
        QCOMPARE(cache.find<uint16_t[]>(c)[0], uint16_t(3));
        QCOMPARE(cache.bytes(), size_t(262'144));
        cache.setBudget(150'000);
        QVERIFY(cache.find<uint16_t[]>(c) && !cache.find<uint16_t[]>(a));
        QVERIFY(!cache.find<LightTile>(c)); // of another type
        cache.clear();
        QCOMPARE(cache.bytes(), size_t(0));
        QVERIFY(!cache.find<uint16_t[]>(c));
    }

    void flatTilesTakeHardlyAnyRoom()
    {
        StageCache cache(300'000);
        for (int i = 0; i < 400; ++i) {
            const StageCache::Key key{2, 0, i, 0};
            const auto kept = putTile(cache, key, tile(i % 2 ? 65535 : 0), kCount);
            QCOMPARE(kept[0], uint16_t(i % 2 ? 65535 : 0));
        }
        for (int i = 0; i < 400; ++i) {
            const auto found = cache.find<uint16_t[]>({2, 0, i, 0});
            QVERIFY(found);
            QCOMPARE(found[kCount - 1], uint16_t(i % 2 ? 65535 : 0));
        }
        QVERIFY(cache.bytes() < 131'072);
    }

    void pixelsAreTheSameWithAndWithout()
    {
        const auto levels = PhotoLevels::make(test::makePhoto(700, 500)).value();
        StageCache cache;
        Take take = softTake();
        for (int round = 0; round < 3; ++round) {
            for (int level = 0; level < 2; ++level) {
                const Rect all = levels->rectOf(level);
                QCOMPARE(render(*levels, take, all, level, &cache),
                         render(*levels, take, all, level, nullptr));
                const Rect part{30, 40, all.x1 - 50, all.y1 - 3}; // parts of tiles too
                QCOMPARE(render(*levels, take, part, level, &cache),
                         render(*levels, take, part, level, nullptr));
            }
            take.keeps[0].strength = 0.7F - 0.3F * float(round);
        }
    }

    void onlyWhatAChangeTouchesIsMadeAgain()
    {
        const auto levels = PhotoLevels::makeFlat(test::makePhoto(700, 500));
        const Rect all = levels->photo().rect();
        StageCache cache;
        Take take = softTake();
        (void)render(*levels, take, all, 0, &cache);
        const size_t bytes = cache.bytes();
        QVERIFY(bytes >= size_t(3) * 700 * 500 * 2); // the grey and two masks
        take.keeps[0].strength = 0.5F;
        (void)render(*levels, take, all, 0, &cache);
        QCOMPARE(cache.bytes(), bytes); // strength comes after what is kept
        take.keeps[0].invert = true;
        (void)render(*levels, take, all, 0, &cache);
        QCOMPARE(cache.bytes(), bytes); // by now the same mask as the second keep's
        take.keeps[0].steps[0].shape = softTake().keeps[0].steps[0].shape; // painted anew
        (void)render(*levels, take, all, 0, &cache);
        QCOMPARE(cache.bytes(), bytes + 6 * TileBlock::kBytes); // 3 x 2 tiles
    }

    void anotherPhotoIsAnotherContent()
    {
        const auto one = PhotoLevels::makeFlat(test::makePhoto(300, 300));
        auto darker = std::make_shared<Photo>();
        darker->width = darker->height = 300;
        darker->pixels = Image<uint8_t>(300, 300, 3);
        const auto two = PhotoLevels::makeFlat(darker);
        StageCache cache;
        const Rect all{0, 0, 300, 300};
        (void)render(*one, makeTake(), all, 0, &cache);
        QCOMPARE(render(*two, makeTake(), all, 0, &cache),
                 render(*two, makeTake(), all, 0, nullptr));
    }
};

BUTTONHOLE_TEST(TstStageCache)

#include "tst_stage_cache.moc"
