#include "export/picture_order.h"

#include "export/area_reducer.h"
#include "export/cubic_enlarger.h"
#include "export/mounted_writer.h"
#include "export/sharpening_writer.h"
#include "export/strips.h"
#include "export/thumbnail.h"
#include "io/decoded.h"
#include "render/light_chain.h"
#include "render/render.h"

#include <algorithm>
#include <cmath>
#include <future>

namespace buttonhole
{

namespace
{

/// Of a take's picture: its own, or what was asked for.
std::pair<int, int> deliveredSize(const Take &take, const PictureRect &picture)
{
    const auto [width, height] = std::pair(take.geometry.deliverWidth, take.geometry.deliverHeight);
    return width > 0 && height > 0 ? std::pair(width, height)
                                   : std::pair(picture.width(), picture.height());
}

std::pair<int, int> framedSize(const Take &take, const std::pair<int, int> &picture)
{
    const Mount mount(take, picture.first, picture.second, OutputColour(Profile::srgb()));
    return {mount.width(), mount.height()};
}

/// Of the picture; what is laid round it counts for the long edge.
std::pair<int, int> pictureSize(const Take &take, const PictureRect &picture, int longEdgePx)
{
    const auto own = deliveredSize(take, picture);
    const auto framed = [&](const std::pair<int, int> &of) {
        const auto [width, height] = framedSize(take, of);
        return std::max(width, height);
    };
    const int whole = framed(own);
    if (longEdgePx <= 0 || longEdgePx >= whole)
        return own;
    const double share = double(std::max(own.first, own.second)) / whole;
    const int guess = int(std::lround(share * longEdgePx));
    for (const int more : {0, -1, 1, -2, 2}) // the frame is of whole px
        if (const auto made = outputSize(own, guess + more); framed(made) == longEdgePx)
            return made;
    int less = 0; // none is as long: the longest that is not longer
    while (guess - less > 1 && framed(outputSize(own, guess - less)) > longEdgePx)
        ++less;
    return outputSize(own, guess - less);
}

/// Renders strips and hands them to `consume` on another thread, one strip behind.
Result<void> renderStrips(const PictureOrder &order, int bits,
                          const std::function<Result<void>(const uint8_t *, int)> &consume)
{
    const auto &[levels, take, settings, subject, run, output, picture, thumbnail] = order;
    const size_t stride = size_t(picture.width()) * 3 * size_t(bits / 8);
    Room<uint8_t> strips[2];
    std::future<Result<void>> pending;
    int turn = 0;
    StageCache cache(kStageBytes, StageCache::Use::OnePass); // tiles of the last strip come again
    const RenderOptions options = order.renderOptions(looksAround(levels, take) ? &cache : nullptr);
    for (int y = picture.y0; y < picture.y1; y = stripEnd(y, picture)) {
        const int rows = stripEnd(y, picture) - y;
        Room<uint8_t> &strip = strips[turn];
        if (!strip)
            strip = roomFor<uint8_t>(stride * size_t(std::min(kStripRows, picture.height())));
        const RenderTarget target{bits == 16 ? RenderTarget::Layout::Rgb16
                                             : RenderTarget::Layout::Rgb8,
                                  strip.get(), stride};
        auto rendered =
            renderPicture(levels, take, View::Result, 0, {picture.x0, y, picture.x1, y + rows},
                          output, target, options);
        if (pending.valid())
            if (auto done = pending.get(); !done)
                return done;
        if (!rendered)
            return Error{rendered.error().kind, subject, rendered.error().detail};
        pending = std::async(std::launch::async, [&, gathers = order.thumbnail, rows] {
            if (gathers)
                gathers->addRows(strip.get(), rows, bits);
            return consume(strip.get(), rows);
        });
        turn = 1 - turn;
        run.report(float(y + rows - picture.y0) / float(picture.height()));
    }
    return pending.get();
}

/// Its own size goes straight to the writer; another one through a resizer at 16 bits.
Result<void> renderInto(PictureWriter &writer, const PictureOrder &order)
{
    const PictureRect &picture = order.picture;
    const int bits = order.settings.bits;
    const auto [width, height] = order.size();
    if (width == picture.width() && height == picture.height())
        return renderStrips(order, bits, [&](const uint8_t *rows, int count) {
            return writer.writeRows(rows, count);
        });

    std::vector<uint8_t> row8(size_t(width) * 3);
    Result<void> written;
    const auto emit = [&](const uint16_t *row) {
        if (!written)
            return;
        if (bits == 8)
            for (size_t i = 0; i < row8.size(); ++i)
                row8[i] = uint8_t((uint32_t(row[i]) * 255U + 32767U) / 65535U);
        written = writer.writeRows(bits == 8 ? static_cast<const void *>(row8.data()) : row, 1);
    };
    const auto through = [&](auto resizer) {
        return renderStrips(order, 16, [&](const uint8_t *rows, int count) {
            const auto *codes = reinterpret_cast<const uint16_t *>(rows);
            for (int y = 0; y < count; ++y)
                resizer.addRow(codes + size_t(y) * size_t(picture.width()) * 3, emit);
            return written;
        });
    };
    const Profile &profile = order.output.profile;
    const bool isSmaller = width <= picture.width() && height <= picture.height();
    return isSmaller
               ? through(AreaReducer(picture.width(), picture.height(), width, height, profile))
               : through(CubicEnlarger(picture.width(), picture.height(), width, height, profile));
}

} // namespace

std::pair<int, int> PictureOrder::size() const
{
    return pictureSize(take, picture, settings.longEdgePx);
}

RenderOptions PictureOrder::renderOptions(StageCache *cache) const
{
    RenderOptions out;
    out.cache = cache;
    out.passesOnce = true;
    out.pxPerDelivered = std::max(1.0, double(picture.width()) / size().first);
    out.run = run;
    return out;
}

PictureOrder orderOf(const PhotoLevels &levels, const Take &take, const ExportSettings &settings,
                     const std::string &subject, const Run &run)
{
    const bool isOwn =
        settings.space == ExportSettings::Space::Photo && !factsOf(settings.format).isSrgb;
    return {levels,
            take,
            settings,
            subject,
            run,
            OutputColour(isOwn ? levels.photo().profile : Profile::srgb()),
            pictureOf(levels, take).rect()};
}

Result<void> checkSettings(const ExportSettings &settings, const std::string &subject)
{
    const FormatFacts &facts = factsOf(settings.format);
    if (settings.quality < 1 || settings.quality > 100)
        return Error{ErrorKind::InvalidArgument, subject, "quality goes from 1 to 100"};
    if (settings.bits != 8 && settings.bits > facts.mostBits)
        return Error{ErrorKind::InvalidArgument, subject,
                     std::string(facts.name) + " holds 8 bits; choose PNG or TIFF for 16"};
    if (settings.bits != 8 && settings.bits != 16)
        return Error{ErrorKind::InvalidArgument, subject, "bits are 8 or 16"};
    if (!(settings.sharpen >= 0 && settings.sharpen <= 1))
        return Error{ErrorKind::InvalidArgument, subject, "sharpening goes from 0 to 1"};
    if (settings.longEdgePx < 0)
        return Error{ErrorKind::InvalidArgument, subject, "the long edge cannot be negative"};
    return {};
}

std::pair<int, int> exportedSize(const Take &take, const PictureRect &picture, int longEdgePx)
{
    return framedSize(take, pictureSize(take, picture, longEdgePx));
}

bool looksAround(const PhotoLevels &levels, const Take &take)
{
    return isFinished(take) || !pictureOf(levels, take).isExact() ||
           std::any_of(take.keeps.begin(), take.keeps.end(),
                       [](const Keep &keep) { return keep.hasMargin(); });
}

PictureSpec specOf(const PictureOrder &order, const Mount &mount)
{
    PictureSpec spec;
    spec.width = mount.width();
    spec.height = mount.height();
    spec.channels = mount.hasAlpha() && factsOf(order.settings.format).holdsAlpha ? 4 : 3;
    spec.bits = order.settings.bits;
    spec.quality = order.settings.quality;
    spec.dpi = order.levels.photo().dpi;
    spec.icc = order.output.profile.icc();
    return spec;
}

Result<void> renderThrough(PictureWriter &codec, const PictureSpec &spec, const Mount &mount,
                           const PictureOrder &order)
{
    // From last to first: codec, what lies over it, sharpness.
    PictureWriter *to = &codec;
    std::unique_ptr<PictureWriter> mounted;
    if (!mount.isPlain()) {
        mounted = makeMountedWriter(mount, spec, *to);
        to = mounted.get();
    }
    std::unique_ptr<PictureWriter> sharpening;
    if (const float amount = order.settings.sharpen; amount > 0) {
        sharpening = makeSharpeningWriter(*to, order.size().first, spec.bits, amount);
        to = sharpening.get();
    }
    if (auto rendered = renderInto(*to, order); !rendered)
        return rendered;
    return to->finish();
}

} // namespace buttonhole
