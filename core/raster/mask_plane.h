#pragma once

#include "base/rect.h"
#include "raster/parallel_tiles.h"
#include "raster/swap_file.h"

#include <atomic>
#include <cstdint>
#include <memory>
#include <mutex>
#include <vector>

namespace buttonhole
{

/// The pixels of one mask tile, kTileSize x kTileSize, shared between takes and undo entries.
/// May be packed (LZ4) or moved to a file while nobody looks at it; pixels() brings it back.
/// Whatever reads pixels throws SwapLost where the file does not give them back. Thread-safe.
class TileBlock
{
public:
    using Pixels = std::shared_ptr<uint16_t[]>;
    static constexpr size_t kCount = size_t(kTileSize) * kTileSize;
    static constexpr size_t kBytes = kCount * sizeof(uint16_t);

    explicit TileBlock(uint16_t fill);
    explicit TileBlock(const uint16_t *from);

    std::shared_ptr<const uint16_t[]> pixels() const;
    /// The same, but a packed tile stays packed: for one look, as when saving.
    std::shared_ptr<const uint16_t[]> peek() const;
    /// For the only owner, before it shares the block.
    uint16_t *mutablePixels();
    /// True while somebody still reads pixels that pixels() handed out.
    bool isBeingRead() const;
    ~TileBlock();
    TileBlock(const TileBlock &) = delete;
    TileBlock &operator=(const TileBlock &) = delete;

    /// @param keepsSmall true: levels 2 and up stay at hand, a twelfth of the pixels
    void pack(bool keepsSmall = false) const;
    /// Nobody has asked for pixels during the last `moves` calls of noteMove().
    bool isCold(uint32_t moves) const;
    /// The clock of isCold(): what the user does, not seconds, makes tiles cold.
    static void noteMove();
    /// Moves the pixels to a file; pixels() brings them back. False if the disk is full.
    /// @param keepsSmall as for pack()
    bool swapOut(const std::shared_ptr<SwapFile> &file, bool keepsSmall = false) const;
    bool isPacked() const; ///< or swapped out
    bool isSwapped() const;
    size_t bytes() const; ///< of memory

    /// The tile at pyramid levels 1 or 2 to 8: side kTileSize >> level, rows without gaps. Made
    /// when first asked for, kept until the pixels change.
    class Reduced
    {
    public:
        /// @param width,height pixels of the tile that lie in the photo
        /// @param first        1 or 2: level 1 alone is three quarters of the memory
        Reduced(const uint16_t *pixels, int width, int height, int first);
        int first() const { return m_first; }
        const uint16_t *level(int n) const { return m_values.data() + start(n); }
        size_t bytes() const { return m_values.size() * sizeof(uint16_t); }

    private:
        size_t start(int level) const;
        int m_first;
        std::vector<uint16_t> m_values;
    };
    std::shared_ptr<const Reduced> reduced(int width, int height, int level) const;

private:
    Pixels unpacked() const;
    Pixels decoded() const; ///< of a packed or swapped out tile, which stays so
    void noteUse() const;
    void dropReduced(bool keepsSmall) const;
    /// Gives the memory back; assigning {} would only empty the vector.
    void dropPacked() const { std::vector<char>().swap(m_packed); }
    mutable std::atomic<uint32_t> m_used;
    mutable std::mutex m_mutex; ///< guards all below: packing happens while others may read
    mutable Pixels m_raw;
    mutable std::vector<char> m_packed;
    mutable std::shared_ptr<const Reduced> m_reduced;
    mutable std::shared_ptr<SwapFile> m_file;
    mutable uint64_t m_fileOffset = 0;
    mutable size_t m_fileBytes = 0; ///< kCount * 2: not packed
    mutable uint64_t m_fileDigest = 0;
};

/// A photo-sized raster of coverage, uint16 0..65535, in copy-on-write tiles.
/// Copying a plane copies pointers; a tile of one value takes no memory. uint16, since 8 bits band
/// in long soft edges at 16-bit export while float would double the memory and show no more.
class MaskPlane
{
public:
    MaskPlane() = default;
    MaskPlane(int width, int height, uint16_t fill = 0);

    int width() const { return m_width; }
    int height() const { return m_height; }
    Rect rect() const { return {0, 0, m_width, m_height}; }
    int columns() const { return m_columns; }
    int rows() const { return m_rows; }
    bool isEmpty() const { return m_tiles.empty(); }

    /// Pixels of tile (tx, ty) for writing; unshares it first. Row stride is kTileSize.
    uint16_t *writable(int tx, int ty);
    /// Puts `area` (inside rect()) from `from`, `stride` elements a row.
    void write(const Rect &area, const uint16_t *from, size_t stride);
    /// Turns tiles touching `area` that hold one value back into memory-free ones.
    void compact(const Rect &area);

    /// Copies `area` (inside rect()) to `out`, `stride` elements a row.
    void read(const Rect &area, uint16_t *out, size_t stride) const;
    /// The same for one look: tiles that are packed stay packed.
    void readOnce(const Rect &area, uint16_t *out, size_t stride) const;
    /// Copies `area` of pyramid level `level` (mean over 2^level squares, 0 = read()). Reduced
    /// tiles are kept with their blocks, so that reading again costs a copy.
    void readReduced(int level, const Rect &area, uint16_t *out, size_t stride) const;
    uint16_t at(int x, int y) const;
    /// True, and `value` set, where all tiles touching `area` are the same memory-free value.
    bool isUniform(const Rect &area, uint16_t &value) const;
    /// The smallest tile-aligned rectangle (clipped to the photo) outside which all is `value`.
    Rect boundsOfOtherThan(uint16_t value) const;

    /// The blocks in use, for counting and packing memory.
    void visitBlocks(const std::function<void(const std::shared_ptr<TileBlock> &)> &visit) const;
    friend bool samePixels(const MaskPlane &a, const MaskPlane &b);

private:
    template <class F>
    void copyTiles(const Rect &area, uint16_t *out, size_t stride, const F &pixelsOf) const;
    struct Tile {
        std::shared_ptr<TileBlock> block; ///< null: all pixels are `value`
        uint16_t value = 0;
    };
    const Tile &tile(int tx, int ty) const
    {
        return m_tiles[size_t(ty) * size_t(m_columns) + size_t(tx)];
    }

    int m_width = 0;
    int m_height = 0;
    int m_columns = 0;
    int m_rows = 0;
    std::vector<Tile> m_tiles;
};

bool samePixels(const MaskPlane &a, const MaskPlane &b);

} // namespace buttonhole
