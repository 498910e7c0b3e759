#include "render/kept_colour.h"

#include "colour/oklab.h"

#include <algorithm>

namespace buttonhole
{

namespace
{
constexpr int kPadded = 64; // one pixel, and room for a SIMD vector
} // namespace

std::optional<std::array<uint8_t, 3>> findKeptColour(const PhotoLevels &levels, const Keep &keep)
{
    const int level = std::min(levels.count() - 1, 4);
    const Rect area = levels.rectOf(level);
    std::vector<uint16_t> mask(area.area());
    keepMask(levels, keep, level, area, mask.data());
    Vector3 sum{};
    double weights = 0;
    const Matrix3 &toXyz = levels.photo().profile.toXyz();
    std::visit(
        [&](const auto &image) {
            for (int y = 0; y < area.y1; ++y)
                for (int x = 0; x < area.x1; ++x) {
                    const uint16_t m = mask[size_t(y) * size_t(area.x1) + size_t(x)];
                    if (m == 0)
                        continue;
                    float rgb[3];
                    decodeRow(levels.colour(), image.pixel(x, y), 1, rgb, rgb + 1, rgb + 2);
                    const Vector3 xyz = toXyz * Vector3{rgb[0], rgb[1], rgb[2]};
                    const double weight = m / 65535.0 * (0.005 + chroma(toOklab(xyz)));
                    for (size_t c = 0; c < 3; ++c)
                        sum[c] += weight * xyz[c];
                    weights += weight;
                }
        },
        levels.level(level));
    if (weights <= 0)
        return std::nullopt;
    for (double &value : sum)
        value /= weights;
    if (!keep.look.isOff()) {
        const Vector3 own = inverse(toXyz) * sum;
        float rgb[3][kPadded] = {{float(own[0])}, {float(own[1])}, {float(own[2])}};
        ColourLookRow(keep.look, levels.colour()).apply(1, rgb[0], rgb[1], rgb[2]);
        sum = toXyz * Vector3{rgb[0][0], rgb[1][0], rgb[2][0]};
    }
    const Profile &srgb = Profile::srgb();
    const Vector3 mean = inverse(srgb.toXyz()) * sum;
    std::array<uint8_t, 3> out{};
    for (size_t c = 0; c < 3; ++c) {
        const float padded[64] = {float(mean[c])}; // room for a SIMD vector
        uint16_t codes[64];
        encodeRow(srgb, c, 8, padded, 1, codes);
        out[c] = uint8_t(codes[0]);
    }
    return out;
}

} // namespace buttonhole
