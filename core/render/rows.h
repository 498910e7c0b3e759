#pragma once

#include "colour/pixel_rows.h"
#include "document/take.h"
#include "light/source.h"
#include "render/cached_tile.h"
#include "tone/grey_mixer.h"

#include <optional>

namespace buttonhole
{

inline constexpr int kPaddedRow = kRowRun + 64; // room for one SIMD vector past the end

/// A run of pixels on its way to codes: its light, then its codes.
struct RowBuffer {
    alignas(64) float r[kPaddedRow];
    alignas(64) float g[kPaddedRow];
    alignas(64) float b[kPaddedRow];
    alignas(64) float y[kPaddedRow];
    alignas(64) uint16_t roots[kPaddedRow];
    alignas(64) uint16_t out[3][kPaddedRow];
};

/// Light of what keeps own where it is not the photo's: by keep, over the part that it owns.
using KeptTiles = std::vector<std::optional<LightTile>>;

/// A run of pixels of one tile to be made into codes. @see Rows
struct RowJob {
    const void *codes = nullptr;         ///< the photo's own, n x 3
    const LightTile *prepared = nullptr; ///< null: light is as the codes have it
    const uint16_t *roots = nullptr;     ///< the grey's, where they are known
    const uint16_t *mask = nullptr;      ///< share of colour; null: the view does not go by it
    const uint16_t *owners = nullptr;    ///< see combinedMask(); null: no keep changes its colour
    const KeptTiles *kept = nullptr;
    RowPlace place;
    int n = 0;
};

/// Makes rows of codes of what all rows of a render share. Any thread.
class Rows
{
public:
    virtual ~Rows() = default;

    /// The photo as it was taken: its own codes, where the output's profile is the photo's.
    virtual void photoRow(const RowJob &job, RowBuffer &buffer) const = 0;
    /// Light of the photo's profile, prepared; where keeps own it, theirs.
    virtual void lightRow(const RowJob &job, bool ofKeeps, RowBuffer &buffer) const = 0;
    /// Grey and keeps as codes.
    virtual void resultRow(const RowJob &job, RowBuffer &buffer) const = 0;
    /// The same as linear light of the output's profile.
    virtual void resultLightRow(const RowJob &job, RowBuffer &buffer) const = 0;
    /// The grey's roots.
    virtual void greyRoots(const RowJob &job, RowBuffer &buffer) const = 0;

    /// lightRow() in the output's profile.
    void outputLightRow(const RowJob &job, bool ofKeeps, RowBuffer &buffer) const;
    /// Linear light of the output's profile to codes.
    void encode(RowBuffer &buffer, int n) const;
    /// The same of a run of a tile.
    void encode(const LightTile &light, int x, int y, int n, RowBuffer &buffer) const;

    int bits() const { return m_bits; }
    const OutputColour &output() const { return m_output; }
    const SourceColour &colour() const { return m_colour; }
    const std::array<float, 3> &tint() const { return m_tint; } ///< linear, of the output

protected:
    Rows(const SourceColour &colour, const OutputColour &output, int bits, double tintHueDeg);
    bool isSameSpace() const { return m_isSameSpace; }

private:
    const SourceColour &m_colour;
    const OutputColour &m_output;
    int m_bits;
    bool m_isSameSpace;
    std::array<float, 9> m_toOutput{};
    std::array<float, 3> m_tint{};
};

/// For photos of 8 or 16 bits; all that it is given outlives it.
/// @param bits of the output: 8 or 16
std::unique_ptr<const Rows> makeRows(const PhotoLevels &levels, const Take &take,
                                     const GreyMixer &mixer, const OutputColour &output, int bits,
                                     double tintHueDeg);

} // namespace buttonhole
