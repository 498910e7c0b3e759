#pragma once

#include "base/result.h"
#include "colour/matrix.h"

#include <cstdint>
#include <memory>
#include <vector>

namespace buttonhole
{

/// An ICC profile of the matrix-and-curves sort, which is what cameras, screens and editors write
/// for RGB. Immutable; copies share.
///
/// Connecting space: CIE XYZ relative to D65, white = (0.95047, 1, 1.08883); the profile's D50
/// values are adapted by Bradford, then rows are scaled so that R = G = B is exactly neutral.
class Profile
{
public:
    /// sRGB, IEC 61966-2-1, with an ICC profile of its own made by LittleCMS.
    static const Profile &srgb();
    /// Errors: Damaged (not an ICC profile), InvalidArgument (not an RGB matrix profile: table
    /// based, CMYK, grey; convertToSrgb16() is for those).
    static Result<Profile> fromIcc(std::vector<uint8_t> icc, const std::string &subject);

    const std::vector<uint8_t> &icc() const { return m_data->icc; }
    const std::string &description() const { return m_data->description; }
    /// Linear RGB (0..1, open above and below) to XYZ D65.
    const Matrix3 &toXyz() const { return m_data->toXyz; }
    /// Curve of channel c (0..2): encoded 0..1 -> linear 0..1, as 65536 samples. Curves that are
    /// sRGB's but for an ICC profile's rounding are exactly sRGB's.
    const std::vector<float> &toLinear(size_t c) const { return m_data->toLinear[c]; }
    /// Inverse curve over the fourth root of the linear value, as kEncodeSteps + 1 samples:
    /// entry i = encoded value of (i / kEncodeSteps)^4. Over this root even pure powers start with
    /// slope 0, so that linear interpolation stays within 0.05 / 65535 down to black.
    const std::vector<float> &fromRoot(size_t c) const { return m_data->fromRoot[c]; }
    static constexpr int kEncodeSteps = 2048;
    /// The same for 8 bits: entry i = code of the linear value (i / 65535)^2, within 0.01 of exact
    /// rounding. One look-up, no interpolation: half the time.
    const std::vector<uint8_t> &from8BitRoot(size_t c) const { return m_data->from8BitRoot[c]; }

    /// Same colours for the same numbers (the profiles' bytes may differ).
    bool isSameSpaceAs(const Profile &other) const;

private:
    struct Data {
        std::vector<uint8_t> icc;
        std::string description;
        Matrix3 toXyz{};
        std::vector<float> toLinear[3];
        std::vector<float> fromRoot[3];
        std::vector<uint8_t> from8BitRoot[3];
    };
    std::shared_ptr<const Data> m_data;
};

/// Which channels an ICC profile's device side has, and its name.
struct IccSummary {
    enum class Space { Rgb, Grey, Cmyk, Other } space = Space::Other;
    std::string description;
};
Result<IccSummary> readIccSummary(const std::vector<uint8_t> &icc, const std::string &subject);

/// Converts interleaved pixels from any input profile to sRGB, 16 bits a channel, relative
/// colorimetric with black point compensation.
/// @param icc      profile of `pixels`: RGB, grey or CMYK
/// @param pixels   count x channels, uint16 0..65535 (CMYK: 0 = no ink)
/// @param out      count x 3, uint16 0..65535, sRGB
/// Errors: Damaged, InvalidArgument (channel count does not fit the profile).
Result<void> convertToSrgb16(const std::vector<uint8_t> &icc, const uint16_t *pixels, int channels,
                             size_t count, uint16_t *out, const std::string &subject);

/// The same of CIE L*a*b* (D50) at 16 bits: L* times 655.35, a* and b* plus 128 times 257.
Result<void> convertLabToSrgb16(const uint16_t *pixels, size_t count, uint16_t *out);

} // namespace buttonhole
