#include "io/photo.h"

#include "io/decoded.h"
#include "io/file.h"
#include "io/formats/formats.h"
#include "io/jpeg.h"
#include "io/png.h"
#include "raster/parallel_tiles.h"

#include <array>
#include <future>

namespace buttonhole
{

Result<void> checkSize(int64_t width, int64_t height, const std::string &subject)
{
    if (width < 1 || height < 1)
        return Error{ErrorKind::Damaged, subject, "it has no pixels"};
    if (width > kMaxSide || height > kMaxSide || size_t(width) * size_t(height) > kMaxPixels)
        return Error{ErrorKind::TooLarge, subject,
                     std::to_string(width) + " x " + std::to_string(height)};
    return {};
}

template <class T>
Image<T> oriented(Image<T> image, int orientation)
{
    if (orientation <= 1 || orientation > 8)
        return image;
    const int w = image.width();
    const int h = image.height();
    const bool swaps = orientation >= 5;
    const auto channels = size_t(image.channels());
    Image<T> out(swaps ? h : w, swaps ? w : h, image.channels());
    const auto *from = &image;
    // Source coordinates of output (x, y), from the table of EXIF 2.3, tag 0x0112.
    parallelTiles(out.rect(), [&, from](const Rect &tile) {
        for (int y = tile.y0; y < tile.y1; ++y) {
            for (int x = tile.x0; x < tile.x1; ++x) {
                int sx = swaps ? y : x;
                int sy = swaps ? x : y;
                if (orientation == 2 || orientation == 3 || orientation == 7 || orientation == 8)
                    sx = w - 1 - sx;
                if (orientation == 3 || orientation == 4 || orientation == 6 || orientation == 7)
                    sy = h - 1 - sy;
                std::copy_n(from->pixel(sx, sy), channels, out.pixel(x, y));
            }
        }
    });
    return out;
}

template Image<uint8_t> oriented(Image<uint8_t>, int);
template Image<uint16_t> oriented(Image<uint16_t>, int);

namespace
{

template <class T>
constexpr T kTop = T(-1);

/// Grey to RGB; transparency is laid on white (mixed as codes: only matters at soft borders).
template <class T>
Image<T> toRgb(const Image<T> &image, Decoded::Channels kind)
{
    const bool isGrey = kind == Decoded::Channels::Grey || kind == Decoded::Channels::GreyAlpha;
    const bool hasAlpha =
        kind == Decoded::Channels::GreyAlpha || kind == Decoded::Channels::RgbAlpha;
    Image<T> out(image.width(), image.height(), 3);
    parallelRows(image.height(), 64, [&](int y0, int y1) {
        for (int y = y0; y < y1; ++y) {
            for (int x = 0; x < image.width(); ++x) {
                const T *from = image.pixel(x, y);
                T *to = out.pixel(x, y);
                const uint64_t alpha = hasAlpha ? from[image.channels() - 1] : kTop<T>;
                for (int c = 0; c < 3; ++c) {
                    const uint64_t v = from[isGrey ? 0 : c];
                    to[c] = T((v * alpha + uint64_t(kTop<T>) * (kTop<T> - alpha) + kTop<T> / 2) /
                              kTop<T>);
                }
            }
        }
    });
    return out;
}

/// Is any pixel less than opaque? Alpha is the last channel.
template <class T>
bool isTransparent(const Image<T> &image)
{
    const size_t channels = size_t(image.channels());
    const T *pixels = image.row(0);
    for (size_t i = channels - 1; i < image.count(); i += channels)
        if (pixels[i] != kTop<T>)
            return true;
    return false;
}

/// 16-bit copy of `channels` first channels.
Image<uint16_t> to16(const PhotoPixels &pixels, int channels)
{
    return std::visit(
        [&](const auto &image) {
            Image<uint16_t> out(image.width(), image.height(), channels);
            const int factor = sizeof(image.row(0)[0]) == 1 ? 257 : 1;
            for (int y = 0; y < image.height(); ++y)
                for (int x = 0; x < image.width(); ++x)
                    for (int c = 0; c < channels; ++c)
                        out.pixel(x, y)[c] = uint16_t(image.pixel(x, y)[c] * factor);
            return out;
        },
        pixels);
}

/// CMYK without a profile, as light through three inks and black.
Image<uint16_t> plainCmykToRgb(const Image<uint16_t> &cmyk)
{
    Image<uint16_t> out(cmyk.width(), cmyk.height(), 3);
    for (int y = 0; y < cmyk.height(); ++y)
        for (int x = 0; x < cmyk.width(); ++x) {
            const uint16_t *from = cmyk.pixel(x, y);
            for (int c = 0; c < 3; ++c)
                out.pixel(x, y)[c] =
                    uint16_t(uint64_t(65535 - from[c]) * uint64_t(65535 - from[3]) / 65535);
        }
    return out;
}

bool startsAsJpeg(const std::vector<uint8_t> &b)
{
    return b.size() > 2 && b[0] == 0xFF && b[1] == 0xD8 && b[2] == 0xFF;
}

Result<Decoded> decode(const std::string &path, const Run &run, RowFollower *follower,
                       Metadata &metadata)
{
    const auto start = readStart(path, 16);
    if (!start)
        return start.error();
    const std::vector<uint8_t> &b = *start;
    const bool isJpeg = startsAsJpeg(b);
    const bool isPng = b.size() > 3 && b[0] == 0x89 && b[1] == 'P' && b[2] == 'N' && b[3] == 'G';
    if (isJpeg || isPng) {
        const auto bytes = readFile(path);
        if (!bytes)
            return bytes.error();
        metadata = Metadata::fromBytes(*bytes);
        const bool isUpright = metadata.orientation() <= 1;
        auto decoded = isJpeg ? decodeJpeg(*bytes, path, run, isUpright ? follower : nullptr)
                              : decodePng(*bytes, path, run);
        if (decoded)
            decoded->orientation = metadata.orientation();
        return decoded;
    }
    const auto formats = loadFormats();
    if (!formats)
        return formats.error();
    auto decoded = (*formats)->decode(path, run);
    if (decoded) {
        metadata = Metadata::fromFile(path);
        if (decoded->icc.empty())
            decoded->icc = metadata.icc();
        if (decoded->format == "WEBP") // OpenImageIO 2.4 leaves WebP's EXIF alone
            decoded->orientation = metadata.orientation();
    }
    return decoded;
}

/// Settles profile and channels: afterwards `photo` holds RGB in photo.profile.
Result<void> settleColour(Decoded &decoded, Photo &photo)
{
    using Channels = Decoded::Channels;
    const bool isCmyk = decoded.channels == Channels::Cmyk;
    const bool isGrey =
        decoded.channels == Channels::Grey || decoded.channels == Channels::GreyAlpha;
    const bool hasAlpha =
        decoded.channels == Channels::GreyAlpha || decoded.channels == Channels::RgbAlpha;

    if (!decoded.icc.empty() && !isCmyk && !isGrey && decoded.channels != Channels::Lab) {
        auto profile = Profile::fromIcc(decoded.icc, photo.path);
        if (profile) {
            photo.profile = *profile;
            photo.hasOwnProfile = true;
        } else if (profile.error().kind == ErrorKind::Damaged) {
            photo.notes.emplace_back("Its colour profile is broken; sRGB was taken instead.");
            decoded.icc.clear();
        }
    }
    if (hasAlpha &&
        std::visit([](const auto &image) { return isTransparent(image); }, decoded.pixels))
        photo.notes.emplace_back("Transparent parts were laid on white.");

    if (decoded.channels == Channels::Lab) {
        const auto *lab = std::get_if<Image<uint16_t>>(&decoded.pixels);
        Image<uint16_t> rgb(lab->width(), lab->height(), 3);
        if (auto done = convertLabToSrgb16(lab->row(0), lab->count() / 3, rgb.row(0)); !done)
            return done;
        photo.pixels = std::move(rgb);
        photo.notes.emplace_back("Its colours (CIE L*a*b*) were converted to sRGB at 16 bits.");
        return {};
    }
    const bool converts = !decoded.icc.empty() && !photo.hasOwnProfile;
    if (isCmyk || converts) {
        const int channels = isCmyk ? 4 : isGrey ? 1 : 3;
        const Image<uint16_t> from = hasAlpha ? to16(std::visit(
                                                         [&](const auto &image) -> PhotoPixels {
                                                             return toRgb(image, decoded.channels);
                                                         },
                                                         decoded.pixels),
                                                     channels)
                                              : to16(decoded.pixels, channels);
        Image<uint16_t> rgb(from.width(), from.height(), 3);
        const size_t count = size_t(from.width()) * size_t(from.height());
        if (!decoded.icc.empty() &&
            convertToSrgb16(decoded.icc, from.row(0), channels, count, rgb.row(0), photo.path)) {
            const auto summary = readIccSummary(decoded.icc, photo.path);
            photo.notes.emplace_back("Its colours (" + (summary ? summary->description : "") +
                                     ") were converted to sRGB at 16 bits.");
        } else if (isCmyk) {
            rgb = plainCmykToRgb(from);
            photo.notes.emplace_back("A CMYK picture without a usable profile: colours are "
                                     "approximate, converted to sRGB at 16 bits.");
        } else {
            photo.notes.emplace_back("Its colour profile does not fit; sRGB was taken instead.");
            photo.pixels = std::visit(
                [&](const auto &image) -> PhotoPixels { return toRgb(image, decoded.channels); },
                decoded.pixels);
            return {};
        }
        photo.pixels = std::move(rgb);
        return {};
    }
    photo.pixels =
        decoded.channels == Channels::Rgb
            ? std::move(decoded.pixels)
            : std::visit(
                  [&](const auto &image) -> PhotoPixels { return toRgb(image, decoded.channels); },
                  decoded.pixels);
    return {};
}

/// From the codec's pixels to an upright photo.
Result<void> settle(Decoded &decoded, Photo &photo, const Run &run)
{
    photo.format = decoded.format;
    photo.sourceBits = decoded.sourceBits;
    photo.headroomEv = decoded.headroomEv;
    const double told = photo.metadata.dpi();
    photo.dpi = told > 0 ? told : decoded.dpi;
    photo.notes = decoded.notes;
    if (const auto settled = settleColour(decoded, photo); !settled)
        return settled.error();
    if (run.stopped())
        return Error{ErrorKind::Cancelled, photo.path, {}};
    std::visit(
        [&](auto &image) {
            image = oriented(std::move(image), decoded.orientation);
            photo.width = image.width();
            photo.height = image.height();
        },
        photo.pixels);
    return {};
}

} // namespace

Result<Glance> loadGlance(const std::string &path, int longEdge, const Run &run)
{
    const auto bytes = readFile(path);
    if (!bytes)
        return bytes.error();
    if (!startsAsJpeg(*bytes))
        return Error{ErrorKind::NotAPhoto, path, "no quick picture of this format"};
    auto decoded = decodeJpeg(*bytes, path, run, nullptr, longEdge);
    if (!decoded)
        return decoded.error();
    Glance glance;
    glance.photo.path = path;
    glance.photo.metadata = Metadata::fromBytes(*bytes);
    decoded->orientation = glance.photo.metadata.orientation();
    if (const auto settled = settle(*decoded, glance.photo, run); !settled)
        return settled.error();
    glance.fullWidth = decoded->fullWidth;
    glance.fullHeight = decoded->fullHeight;
    if (decoded->orientation >= 5)
        std::swap(glance.fullWidth, glance.fullHeight);
    return glance;
}

Result<Photo> loadPhoto(const std::string &path, const Run &run, RowFollower *follower)
{
    Photo photo;
    photo.path = path;
    if (const auto size = fileSize(path))
        photo.fileBytes = *size;
    else
        return size.error();
    photo.stamp = stampOf(path);
    // The file is in the system's cache: to read it twice costs less than to wait for the digest.
    auto digest = std::async(std::launch::async, [&] { return sha256OfFile(path, run); });
    auto decoded = decode(path, run, follower, photo.metadata);
    auto sum = digest.get();
    if (!decoded)
        return decoded.error();
    if (!sum)
        return sum.error();
    photo.sha256 = std::move(*sum);
    if (stampOf(path) != photo.stamp)
        return Error{ErrorKind::Io, path, "it changed while it was being read"};
    if (const auto settled = settle(*decoded, photo, run); !settled)
        return settled.error();
    return photo;
}

} // namespace buttonhole
