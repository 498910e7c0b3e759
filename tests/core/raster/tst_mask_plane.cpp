#include "raster/mask_plane.h"

#include "registry.h"
#include "samples.h"

#include <QFile>
#include <QTemporaryDir>

#include <atomic>

#include <unistd.h>

using namespace buttonhole;
using test::pixelsOf;

class TstMaskPlane : public QObject
{
    Q_OBJECT

    static MaskPlane noisy(int width, int height)
    {
        MaskPlane plane(width, height);
        uint32_t state = 7;
        for (int ty = 0; ty < plane.rows(); ++ty)
            for (int tx = 0; tx < plane.columns(); ++tx) {
                uint16_t *pixels = plane.writable(tx, ty);
                for (size_t i = 0; i < TileBlock::kCount; ++i) {
                    state = state * 1664525U + 1013904223U;
                    pixels[i] = uint16_t(state >> 16);
                }
            }
        return plane;
    }

private Q_SLOTS:
    /// A tile that does not come back from the disk is told, and never other pixels.
    void whatTheDiskLostIsNotMadeUp()
    {
        const QTemporaryDir folder;
        const auto file = SwapFile::create(folder.path().toStdString());
        QVERIFY(file);
        MaskPlane plane(300, 300);
        plane.writable(0, 0)[0] = 1234;
        plane.visitBlocks([&](const auto &block) { QVERIFY(block->swapOut(file)); });
        // The file is nameless: it is found by its descriptor.
        int emptied = 0;
        for (int fd = 3; fd < 256; ++fd) {
            const auto place = QFile::symLinkTarget(QStringLiteral("/proc/self/fd/%1").arg(fd));
            if (place.startsWith(folder.path()))
                emptied += ::ftruncate(fd, 0) == 0 ? 1 : 0;
        }
        QCOMPARE(emptied, 1);
        QVERIFY_EXCEPTION_THROWN((void)plane.at(0, 0), SwapLost);
        uint16_t value = 0;
        QVERIFY_EXCEPTION_THROWN(plane.readOnce({0, 0, 1, 1}, &value, 1), SwapLost);
        QVERIFY_EXCEPTION_THROWN(plane.readReduced(2, {0, 0, 1, 1}, &value, 1), SwapLost);
    }

    void aFreshPlaneTakesNoTiles()
    {
        const MaskPlane plane(1000, 700, 65535);
        int blocks = 0;
        plane.visitBlocks([&](const auto &) { ++blocks; });
        QCOMPARE(blocks, 0);
        QCOMPARE(plane.at(999, 699), uint16_t(65535));
        uint16_t value = 0;
        QVERIFY(plane.isUniform(plane.rect(), value));
        QCOMPARE(value, uint16_t(65535));
    }

    void writingTouchesOneCopyOnly()
    {
        MaskPlane one = noisy(600, 300);
        const auto before = pixelsOf(one);
        const MaskPlane kept = one;
        one.writable(1, 0)[0] ^= 1;
        QCOMPARE(pixelsOf(kept), before);
        QVERIFY(!samePixels(one, kept));
        // All tiles but the written one are still shared.
        int shared = 0;
        one.visitBlocks([&](const auto &block) { shared += block.use_count() > 1 ? 1 : 0; });
        QCOMPARE(shared, one.columns() * one.rows() - 1);
    }

    void aReaderKeepsItsPixels()
    {
        MaskPlane plane(256, 256, 9);
        (void)plane.writable(0, 0);
        std::shared_ptr<const uint16_t[]> held;
        plane.visitBlocks([&](const auto &block) { held = block->pixels(); });
        plane.writable(0, 0)[5] = 77;
        QCOMPARE(held[5], uint16_t(9));
        QCOMPARE(plane.at(5, 0), uint16_t(77));
    }

    void readReducedIsTheMeanOfSquares_data()
    {
        QTest::addColumn<int>("level");
        for (int level = 0; level <= kMaxLevel; ++level)
            QTest::addRow("level %d", level) << level;
    }
    void readReducedIsTheMeanOfSquares()
    {
        QFETCH(int, level);
        const MaskPlane plane = noisy(531, 389); // cut tiles at the right and bottom
        const Rect area{0, 0, sizeAtLevel(531, level), sizeAtLevel(389, level)};
        std::vector<uint16_t> got(area.area());
        plane.readReduced(level, area, got.data(), size_t(area.width()));
        const int side = 1 << level;
        for (int y = 0; y < area.y1; ++y)
            for (int x = 0; x < area.x1; ++x) {
                double sum = 0;
                int count = 0;
                for (int sy = y * side; sy < std::min(389, (y + 1) * side); ++sy)
                    for (int sx = x * side; sx < std::min(531, (x + 1) * side); ++sx, ++count)
                        sum += plane.at(sx, sy);
                const double mean = sum / count;
                const double error = std::abs(mean - got[size_t(y) * size_t(area.x1) + size_t(x)]);
                QVERIFY2(error <= 0.5, qPrintable(QString::number(error)));
            }
    }

    void partsReadLikeTheWhole()
    {
        const MaskPlane plane = noisy(531, 389);
        const auto whole = pixelsOf(plane);
        const Rect part{250, 130, 523, 300};
        std::vector<uint16_t> got(part.area());
        plane.read(part, got.data(), size_t(part.width()));
        for (int y = part.y0; y < part.y1; ++y)
            for (int x = part.x0; x < part.x1; ++x)
                QCOMPARE(got[size_t(y - part.y0) * size_t(part.width()) + size_t(x - part.x0)],
                         whole[size_t(y) * 531 + size_t(x)]);
    }

    void compactFreesConstantTilesOnly()
    {
        MaskPlane plane(700, 300);
        std::fill_n(plane.writable(0, 0), TileBlock::kCount, uint16_t(123));
        plane.writable(1, 0)[3] = 1;
        // Beyond the photo's border a tile may hold anything.
        uint16_t *cut = plane.writable(2, 0);
        std::fill_n(cut, TileBlock::kCount, uint16_t(5));
        for (int y = 0; y < kTileSize; ++y)
            cut[size_t(y) * kTileSize + 250] = 99;
        const auto before = pixelsOf(plane);
        plane.compact(plane.rect());
        QCOMPARE(pixelsOf(plane), before);
        int blocks = 0;
        plane.visitBlocks([&](const auto &) { ++blocks; });
        QCOMPARE(blocks, 1);
        QCOMPARE(plane.boundsOfOtherThan(0), (Rect{0, 0, 700, 256}));
        QCOMPARE(plane.boundsOfOtherThan(123), (Rect{0, 0, 700, 300}));
    }

    void packedTilesComeBackAsTheyWere()
    {
        MaskPlane plane(256, 256);
        uint16_t *pixels = plane.writable(0, 0);
        for (size_t i = 0; i < TileBlock::kCount; ++i)
            pixels[i] = uint16_t(i / 37);
        const auto before = pixelsOf(plane);
        plane.visitBlocks([](const auto &block) {
            block->pack();
            QVERIFY(block->isPacked());
            QVERIFY(block->bytes() < TileBlock::kCount);
        });
        std::vector<uint16_t> once(before.size());
        plane.readOnce(plane.rect(), once.data(), 256);
        QCOMPARE(once, before);
        plane.visitBlocks([](const auto &block) { QVERIFY(block->isPacked()); });
        QCOMPARE(pixelsOf(plane), before);
        plane.visitBlocks([](const auto &block) { QCOMPARE(block->bytes(), TileBlock::kBytes); });
    }

    void coldTilesKeepTheirSmallLevelsAtHand()
    {
        MaskPlane plane(256, 256);
        uint16_t *pixels = plane.writable(0, 0);
        for (size_t i = 0; i < TileBlock::kCount; ++i)
            pixels[i] = uint16_t(i / 37);
        const auto at = [&](int level) {
            std::vector<uint16_t> out(size_t(256 >> level) * size_t(256 >> level));
            plane.readReduced(level, {0, 0, 256 >> level, 256 >> level}, out.data(),
                              size_t(256 >> level));
            return out;
        };
        const auto half = at(1), quarter = at(2), eighth = at(3);
        plane.visitBlocks([&](const auto &block) {
            QVERIFY(!block->isCold(0));
            TileBlock::noteMove();
            QVERIFY(block->isCold(0));
            QVERIFY(!block->isCold(1));
            block->pack(); // drops level 1
        });
        QCOMPARE(at(2), quarter);
        plane.visitBlocks([&](const auto &block) { block->pack(true); });
        QCOMPARE(at(3), eighth);
        plane.visitBlocks(
            [](const auto &block) { QVERIFY(block->isPacked()); }); // nothing unpacked
        // Level 1 is made for the one look, and the tile stays as it was.
        QCOMPARE(at(1), half);
        QCOMPARE(at(2), quarter);
        plane.visitBlocks([](const auto &block) { QVERIFY(block->isPacked()); });
        QCOMPARE(plane.at(255, 255), uint16_t((TileBlock::kCount - 1) / 37));
        plane.visitBlocks([](const auto &block) {
            QVERIFY(!block->isPacked());
            QVERIFY(!block->isCold(0));
        });
    }

    void noiseThatDoesNotShrinkStaysRaw()
    {
        const MaskPlane plane = noisy(256, 256);
        plane.visitBlocks([](const auto &block) {
            block->pack();
            QVERIFY(!block->isPacked());
        });
    }

    void tilesCoverAnAreaOnce()
    {
        const Rect area{100, 20, 900, 533};
        std::vector<std::atomic<int>> seen(size_t(900) * 533);
        parallelTiles(area, [&](const Rect &tile) {
            for (int y = tile.y0; y < tile.y1; ++y)
                for (int x = tile.x0; x < tile.x1; ++x)
                    ++seen[size_t(y) * 900 + size_t(x)];
        });
        for (int y = 0; y < 533; ++y)
            for (int x = 0; x < 900; ++x)
                QCOMPARE(seen[size_t(y) * 900 + size_t(x)].load(),
                         x >= area.x0 && y >= area.y0 ? 1 : 0);
    }
};

BUTTONHOLE_TEST(TstMaskPlane)

#include "tst_mask_plane.moc"
