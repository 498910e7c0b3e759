#include "raster/mask_plane.h"

#include "raster/tile_pool.h"

#include <lz4.h>
#include <xxhash.h>

#include <algorithm>
#include <cassert>
#include <cstring>

namespace buttonhole
{

namespace
{
std::atomic<uint32_t> lastMove = 0;
} // namespace

void TileBlock::noteMove()
{
    ++lastMove;
}

void TileBlock::noteUse() const
{
    m_used.store(lastMove.load(std::memory_order_relaxed), std::memory_order_relaxed);
}

bool TileBlock::isCold(uint32_t moves) const
{
    return lastMove - m_used > moves;
}

TileBlock::TileBlock(uint16_t fill) : m_used(lastMove.load()), m_raw(takeTilePixels())
{
    std::fill_n(m_raw.get(), kCount, fill);
}

TileBlock::TileBlock(const uint16_t *from) : m_used(lastMove.load()), m_raw(takeTilePixels())
{
    std::memcpy(m_raw.get(), from, kCount * sizeof(uint16_t));
}

TileBlock::~TileBlock()
{
    if (m_file)
        m_file->release(m_fileOffset, m_fileBytes);
}

TileBlock::Pixels TileBlock::decoded() const
{
    auto raw = takeTilePixels();
    char *to = reinterpret_cast<char *>(raw.get());
    if (!m_file) {
        LZ4_decompress_safe(m_packed.data(), to, int(m_packed.size()), int(kBytes));
        return raw;
    }
    std::vector<char> stored(m_fileBytes);
    // A disk need not give back what it took: nothing may go on with other pixels, least of all a
    // save over the last good file.
    if (!m_file->read(m_fileOffset, stored.data(), stored.size()) ||
        XXH3_64bits(stored.data(), stored.size()) != m_fileDigest)
        throw SwapLost();
    if (m_fileBytes == kBytes)
        std::memcpy(to, stored.data(), kBytes);
    else
        LZ4_decompress_safe(stored.data(), to, int(stored.size()), int(kBytes));
    return raw;
}

TileBlock::Pixels TileBlock::unpacked() const
{
    if (m_raw)
        return m_raw;
    m_raw = decoded();
    if (m_file)
        m_file->release(m_fileOffset, m_fileBytes);
    m_file.reset();
    dropPacked();
    return m_raw;
}

std::shared_ptr<const uint16_t[]> TileBlock::peek() const
{
    const std::scoped_lock lock(m_mutex);
    return m_raw ? m_raw : decoded();
}

std::shared_ptr<const uint16_t[]> TileBlock::pixels() const
{
    noteUse();
    const std::scoped_lock lock(m_mutex);
    return unpacked();
}

uint16_t *TileBlock::mutablePixels()
{
    noteUse();
    const std::scoped_lock lock(m_mutex);
    m_reduced.reset();
    return unpacked().get();
}

std::shared_ptr<const TileBlock::Reduced> TileBlock::reduced(int width, int height, int level) const
{
    const std::scoped_lock lock(m_mutex);
    if (m_reduced && m_reduced->first() <= level)
        return m_reduced;
    // A packed tile stays packed, or one look at the whole photo would unpack every step's tiles.
    const bool wasPacked = m_raw == nullptr;
    const Pixels raw = wasPacked ? decoded() : m_raw;
    auto made = std::make_shared<const Reduced>(raw.get(), width, height, std::min(level, 2));
    if (!wasPacked)
        noteUse();
    if (!wasPacked || (made->first() >= 2 && !m_file)) // what was moved to the file stays there
        m_reduced = made;
    return made;
}

size_t TileBlock::Reduced::start(int level) const
{
    size_t at = 0;
    for (int n = m_first; n < level; ++n)
        at += size_t(kTileSize >> n) * size_t(kTileSize >> n);
    return at;
}

TileBlock::Reduced::Reduced(const uint16_t *pixels, int width, int height, int first)
    : m_first(first), m_values(start(kMaxLevel + 1))
{
    // Exact sums go from level to level; 65536 x 65535 just fits in 32 bits.
    constexpr int kHalf = kTileSize / 2;
    std::vector<uint32_t> sums(size_t(kHalf) * kHalf);
    uint32_t column[kTileSize + 1] = {};
    int w = width;
    int h = height;
    for (int n = 1; n <= kMaxLevel; ++n) {
        const int nextW = (w + 1) / 2;
        const int nextH = (h + 1) / 2;
        const bool isKept = n >= m_first;
        uint16_t *out = m_values.data() + start(n);
        const int side = kTileSize >> n;
        for (int y = 0; y < nextH; ++y) {
            const bool isPair = 2 * y + 1 < h;
            if (n == 1) {
                const uint16_t *top = pixels + size_t(2 * y) * kTileSize;
                const uint16_t *bottom = isPair ? top + kTileSize : nullptr;
                for (int x = 0; x < w; ++x)
                    column[x] = top[x] + (bottom ? uint32_t(bottom[x]) : 0U);
            } else {
                const uint32_t *top = sums.data() + size_t(2 * y) * kHalf;
                for (int x = 0; x < w; ++x)
                    column[x] = top[x] + (isPair ? top[x + kHalf] : 0U);
            }
            column[w] = 0;
            uint32_t *sum = sums.data() + size_t(y) * kHalf;
            // Squares that the photo's border cuts hold fewer pixels.
            const uint32_t rows = uint32_t(std::min(height, (y + 1) << n) - (y << n));
            const int whole = width >> n;
            for (int x = 0; x < nextW; ++x)
                sum[x] = column[2 * x] + column[2 * x + 1];
            if (!isKept)
                continue;
            if (rows == 1U << n)
                for (int x = 0; x < whole; ++x)
                    out[y * side + x] = uint16_t((sum[x] + (1U << (2 * n - 1))) >> (2 * n));
            for (int x = rows == 1U << n ? whole : 0; x < nextW; ++x) {
                const uint32_t count = rows * uint32_t(std::min(width, (x + 1) << n) - (x << n));
                out[y * side + x] = uint16_t((sum[x] + count / 2) / count);
            }
        }
        w = nextW;
        h = nextH;
    }
}

bool TileBlock::isBeingRead() const
{
    const std::scoped_lock lock(m_mutex);
    return m_raw && m_raw.use_count() > 1;
}

namespace
{

/// Empty where packing would not make it smaller.
std::vector<char> packed(const uint16_t *pixels, int size)
{
    std::vector<char> room(size_t(LZ4_compressBound(size)));
    const int used = LZ4_compress_default(reinterpret_cast<const char *>(pixels), room.data(), size,
                                          int(room.size()));
    if (used <= 0 || used >= size)
        return {};
    return {room.begin(), room.begin() + used};
}

} // namespace

void TileBlock::dropReduced(bool keepsSmall) const
{
    if (!keepsSmall || (m_reduced && m_reduced->first() < 2))
        m_reduced.reset();
}

void TileBlock::pack(bool keepsSmall) const
{
    const std::scoped_lock lock(m_mutex);
    dropReduced(keepsSmall);
    if (!m_raw || m_raw.use_count() > 1)
        return;
    m_packed = packed(m_raw.get(), int(kBytes));
    if (!m_packed.empty())
        m_raw.reset();
}

bool TileBlock::swapOut(const std::shared_ptr<SwapFile> &file, bool keepsSmall) const
{
    const std::scoped_lock lock(m_mutex);
    dropReduced(keepsSmall);
    if (m_file || (m_raw && m_raw.use_count() > 1))
        return true;
    if (m_raw)
        m_packed = packed(m_raw.get(), int(kBytes));
    const bool isPacked = !m_packed.empty();
    const size_t size = isPacked ? m_packed.size() : kBytes;
    const void *stored = isPacked ? static_cast<const void *>(m_packed.data()) : m_raw.get();
    const auto offset = file->write(stored, size);
    if (!offset) {
        if (m_raw)
            dropPacked();
        return false;
    }
    m_file = file;
    m_fileOffset = *offset;
    m_fileBytes = size;
    m_fileDigest = XXH3_64bits(stored, size);
    dropPacked();
    m_raw.reset();
    return true;
}

bool TileBlock::isPacked() const
{
    const std::scoped_lock lock(m_mutex);
    return m_raw == nullptr;
}

bool TileBlock::isSwapped() const
{
    const std::scoped_lock lock(m_mutex);
    return m_file != nullptr;
}

size_t TileBlock::bytes() const
{
    const std::scoped_lock lock(m_mutex);
    return (m_raw ? kBytes : 0) + m_packed.capacity() + (m_reduced ? m_reduced->bytes() : 0);
}

MaskPlane::MaskPlane(int width, int height, uint16_t fill)
    : m_width(width), m_height(height), m_columns((width + kTileSize - 1) / kTileSize),
      m_rows((height + kTileSize - 1) / kTileSize),
      m_tiles(size_t(m_columns) * size_t(m_rows), Tile{nullptr, fill})
{
}

uint16_t *MaskPlane::writable(int tx, int ty)
{
    Tile &t = m_tiles[size_t(ty) * size_t(m_columns) + size_t(tx)];
    if (!t.block)
        t.block = std::make_shared<TileBlock>(t.value);
    else if (t.block.use_count() > 1 || t.block->isBeingRead())
        t.block = std::make_shared<TileBlock>(t.block->pixels().get());
    return t.block->mutablePixels();
}

void MaskPlane::write(const Rect &area, const uint16_t *from, size_t stride)
{
    for (int ty = area.y0 / kTileSize; ty * kTileSize < area.y1; ++ty)
        for (int tx = area.x0 / kTileSize; tx * kTileSize < area.x1; ++tx) {
            const Rect part = intersected(
                area, {tx * kTileSize, ty * kTileSize, (tx + 1) * kTileSize, (ty + 1) * kTileSize});
            uint16_t *pixels = writable(tx, ty);
            for (int y = part.y0; y < part.y1; ++y)
                std::copy_n(from + size_t(y - area.y0) * stride + (part.x0 - area.x0), part.width(),
                            pixels + size_t(y - ty * kTileSize) * kTileSize +
                                (part.x0 - tx * kTileSize));
        }
}

void MaskPlane::compact(const Rect &area)
{
    const Rect r = intersected(area, rect());
    if (r.isEmpty())
        return;
    for (int ty = r.y0 / kTileSize; ty <= (r.y1 - 1) / kTileSize; ++ty) {
        for (int tx = r.x0 / kTileSize; tx <= (r.x1 - 1) / kTileSize; ++tx) {
            Tile &t = m_tiles[size_t(ty) * size_t(m_columns) + size_t(tx)];
            if (!t.block)
                continue;
            const auto pixels = t.block->pixels();
            const uint16_t first = pixels[0];
            const int w = std::min(kTileSize, m_width - tx * kTileSize);
            const int h = std::min(kTileSize, m_height - ty * kTileSize);
            bool constant = true;
            for (int y = 0; y < h && constant; ++y) {
                const uint16_t *row = pixels.get() + size_t(y) * kTileSize;
                constant = std::all_of(row, row + w, [&](uint16_t v) { return v == first; });
            }
            if (constant)
                t = Tile{nullptr, first};
        }
    }
}

void MaskPlane::read(const Rect &area, uint16_t *out, size_t stride) const
{
    copyTiles(area, out, stride, [](const TileBlock &block) { return block.pixels(); });
}

void MaskPlane::readOnce(const Rect &area, uint16_t *out, size_t stride) const
{
    copyTiles(area, out, stride, [](const TileBlock &block) { return block.peek(); });
}

template <class F>
void MaskPlane::copyTiles(const Rect &area, uint16_t *out, size_t stride, const F &pixelsOf) const
{
    assert(intersected(area, rect()) == area);
    for (int y = area.y0; y < area.y1;) {
        const int ty = y / kTileSize;
        const int yEnd = std::min(area.y1, (ty + 1) * kTileSize);
        for (int x = area.x0; x < area.x1;) {
            const int tx = x / kTileSize;
            const int xEnd = std::min(area.x1, (tx + 1) * kTileSize);
            const Tile &t = tile(tx, ty);
            const auto pixels = t.block ? pixelsOf(*t.block) : nullptr;
            for (int row = y; row < yEnd; ++row) {
                uint16_t *to = out + size_t(row - area.y0) * stride + (x - area.x0);
                if (pixels)
                    std::copy_n(pixels.get() + size_t(row - ty * kTileSize) * kTileSize +
                                    (x - tx * kTileSize),
                                xEnd - x, to);
                else
                    std::fill_n(to, xEnd - x, t.value);
            }
            x = xEnd;
        }
        y = yEnd;
    }
}

void MaskPlane::readReduced(int level, const Rect &area, uint16_t *out, size_t stride) const
{
    if (level == 0) {
        read(area, out, stride);
        return;
    }
    assert(level <= kMaxLevel);
    const int step = kTileSize >> level; // one tile's side at this level
    for (int ty = area.y0 / step; ty * step < area.y1; ++ty) {
        for (int tx = area.x0 / step; tx * step < area.x1; ++tx) {
            const Rect part =
                intersected(area, {tx * step, ty * step, (tx + 1) * step, (ty + 1) * step});
            uint16_t *to = out + size_t(part.y0 - area.y0) * stride + (part.x0 - area.x0);
            const Tile &t = tile(tx, ty);
            if (!t.block) {
                for (int y = 0; y < part.height(); ++y)
                    std::fill_n(to + size_t(y) * stride, part.width(), t.value);
                continue;
            }
            const auto reduced =
                t.block->reduced(std::min(kTileSize, m_width - tx * kTileSize),
                                 std::min(kTileSize, m_height - ty * kTileSize), level);
            const uint16_t *from = reduced->level(level) +
                                   size_t(part.y0 - ty * step) * size_t(step) +
                                   (part.x0 - tx * step);
            for (int y = 0; y < part.height(); ++y)
                std::copy_n(from + size_t(y) * size_t(step), part.width(), to + size_t(y) * stride);
        }
    }
}

uint16_t MaskPlane::at(int x, int y) const
{
    uint16_t value = 0;
    read({x, y, x + 1, y + 1}, &value, 1);
    return value;
}

bool MaskPlane::isUniform(const Rect &area, uint16_t &value) const
{
    const Rect r = intersected(area, rect());
    if (r.isEmpty())
        return false;
    value = tile(r.x0 / kTileSize, r.y0 / kTileSize).value;
    for (int ty = r.y0 / kTileSize; ty <= (r.y1 - 1) / kTileSize; ++ty) {
        for (int tx = r.x0 / kTileSize; tx <= (r.x1 - 1) / kTileSize; ++tx) {
            const Tile &t = tile(tx, ty);
            if (t.block || t.value != value)
                return false;
        }
    }
    return true;
}

Rect MaskPlane::boundsOfOtherThan(uint16_t value) const
{
    Rect bounds;
    for (int ty = 0; ty < m_rows; ++ty) {
        for (int tx = 0; tx < m_columns; ++tx) {
            const Tile &t = tile(tx, ty);
            if (t.block || t.value != value)
                bounds = united(bounds, {tx * kTileSize, ty * kTileSize, (tx + 1) * kTileSize,
                                         (ty + 1) * kTileSize});
        }
    }
    return intersected(bounds, rect());
}

void MaskPlane::visitBlocks(
    const std::function<void(const std::shared_ptr<TileBlock> &)> &visit) const
{
    for (const Tile &t : m_tiles)
        if (t.block)
            visit(t.block);
}

bool samePixels(const MaskPlane &a, const MaskPlane &b)
{
    if (a.m_width != b.m_width || a.m_height != b.m_height)
        return false;
    std::vector<uint16_t> rowA(size_t(a.m_width));
    std::vector<uint16_t> rowB(size_t(a.m_width));
    for (int y = 0; y < a.m_height; ++y) {
        a.read({0, y, a.m_width, y + 1}, rowA.data(), rowA.size());
        b.read({0, y, a.m_width, y + 1}, rowB.data(), rowB.size());
        if (rowA != rowB)
            return false;
    }
    return true;
}

} // namespace buttonhole
