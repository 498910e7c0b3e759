#include "export/signed_mount.h"

#include "colour/oklab.h"
#include "colour/srgb_curve.h"
#include "light/signature.h"
#include "render/render.h"

#include <algorithm>
#include <cmath>

namespace buttonhole
{

namespace
{

constexpr int kLeastRows = 24; ///< of what is looked at, px

/// That part of the delivered picture, in px of the picture's level.
PictureRect atPicture(const PictureRect &part, const PictureRect &whole, const Mount &mount)
{
    const double across = double(whole.width()) / (mount.width() - mount.left() - mount.right());
    const double down = double(whole.height()) / (mount.height() - mount.top() - mount.bottom());
    const auto px = [](double at, int begin, int least, int most) {
        return std::clamp(begin + int(at), least, most);
    };
    PictureRect out;
    out.x0 = px(part.x0 * across, whole.x0, whole.x0, whole.x1 - 1);
    out.y0 = px(part.y0 * down, whole.y0, whole.y0, whole.y1 - 1);
    out.x1 = px(std::ceil(part.x1 * across), whole.x0, out.x0 + 1, whole.x1);
    out.y1 = px(std::ceil(part.y1 * down), whole.y0, out.y0 + 1, whole.y1);
    return out;
}

} // namespace

Result<float> groundUnder(const PhotoLevels &levels, const Take &take, const Mount &mount,
                          const Run &run)
{
    const PictureMap map = pictureOf(levels, take);
    int level = 0;
    PictureRect area = atPicture(mount.signedPart(), map.rect(), mount);
    while (level + 1 < levels.count() && area.height() >= 2 * kLeastRows)
        area = atPicture(mount.signedPart(), map.rect(++level), mount);
    const size_t perRow = size_t(area.width()) * 3;
    std::vector<uint8_t> codes(perRow * size_t(area.height()));
    RenderOptions options;
    options.run = run;
    const OutputColour output(Profile::srgb());
    if (auto done = renderPicture(levels, take, View::Result, level, area, output,
                                  {RenderTarget::Layout::Rgb8, codes.data(), perRow}, options);
        !done)
        return done.error();
    double sum = 0;
    for (size_t i = 0; i < codes.size(); i += 3) {
        const auto linear = [&](size_t c) { return srgbLinear(double(codes[i + c]) / 255); };
        sum += toOklab(Profile::srgb().toXyz() * Vector3{linear(0), linear(1), linear(2)}).L;
    }
    return float(sum / (double(codes.size()) / 3));
}

Result<Mount> signedMount(const PhotoLevels &levels, const Take &take, int width, int height,
                          const OutputColour &output, const Run &run)
{
    Mount out(take, width, height, output);
    if (!out.signature())
        return out;
    if (auto done = out.sign(); !done)
        return done.error();
    if (auto fine = out.stamp()->drawAt(1); !fine)
        return fine.error();
    if (!out.stamp()->goesByGround() || out.signedPart().isEmpty())
        return out;
    const auto ground = groundUnder(levels, take, out, run);
    if (!ground)
        return ground.error();
    out.setGround(*ground);
    return out;
}

bool looksAtGround(const Take &take)
{
    return std::any_of(take.finish.begin(), take.finish.end(), [](const AdjustmentLine &line) {
        const auto *signature = dynamic_cast<const Signature *>(line.adjustment.get());
        return line.on && signature && !signature->isOff() && signature->place().byGround >= 0.5F;
    });
}

} // namespace buttonhole
