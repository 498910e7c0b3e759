// A module of its own, loaded when first needed: see docs/decisions.md. It uses only header parts
// of the core.
#include "io/formats/formats.h"

#include "colour/srgb_curve.h"

#include <OpenImageIO/filesystem.h>
#include <OpenImageIO/imageio.h>

#include <cerrno>
#include <cmath>
#include <system_error>

#include <fcntl.h>
#include <sys/mman.h>
#include <sys/stat.h>
#include <unistd.h>

namespace buttonhole
{

namespace
{

/// OpenImageIO numbers orientations as EXIF does.
void readAttributes(const OIIO::ImageSpec &spec, Decoded &out)
{
    out.orientation = spec.get_int_attribute("Orientation", 1);
    const bool isMetric = spec.get_string_attribute("ResolutionUnit") == "cm";
    out.dpi = double(spec.get_float_attribute("XResolution")) * (isMetric ? 2.54 : 1);
    if (const auto *icc = spec.find_attribute("ICCProfile")) {
        const auto *bytes = static_cast<const uint8_t *>(icc->data());
        out.icc.assign(bytes, bytes + icc->datasize());
    }
}

template <class T>
Result<Image<T>> readPixels(OIIO::ImageInput &input, int channels, OIIO::TypeDesc type,
                            const std::string &path, const Run &run)
{
    const OIIO::ImageSpec spec = input.spec();
    Image<T> image(spec.width, spec.height, channels);
    bool stopped = false;
    struct Watch {
        const Run &run;
        bool &stopped;
    } watch{run, stopped};
    // OpenImageIO's callback returns true to stop.
    const auto callback = [](void *data, float done) {
        auto &w = *static_cast<Watch *>(data);
        w.run.report(done);
        w.stopped = w.run.stopped();
        return w.stopped;
    };
    const bool ok = input.read_image(0, 0, 0, channels, type, image.row(0), OIIO::AutoStride,
                                     OIIO::AutoStride, OIIO::AutoStride, callback, &watch);
    if (stopped)
        return Error{ErrorKind::Cancelled, path, {}};
    if (!ok)
        return Error{ErrorKind::Damaged, path, input.geterror()};
    return image;
}

/// CIE L*a*b* as TIFF stores it (TIFF 6.0, section 23; ICC.1:2010, annex A) brought to what Decoded
/// holds: CIELAB has signed a* and b*, ICCLAB shifted ones, at 16 bits with L* 100 at 0xFF00.
template <class T>
Image<uint16_t> labCodes(const Image<T> &stored, bool isIcc)
{
    constexpr bool kIs8 = sizeof(T) == 1;
    Image<uint16_t> out(stored.width(), stored.height(), 3);
    const auto code = [](double value, double most) {
        return uint16_t(std::clamp(value / most, 0.0, 1.0) * 65535 + 0.5);
    };
    for (size_t i = 0; i < stored.count(); ++i) {
        const T v = stored.row(0)[i];
        const bool isL = i % 3 == 0;
        double value; // L* 0..100; a* and b* plus 128, 0..255
        if (isIcc)
            value = kIs8 ? (isL ? v / 2.55 : v) : (isL ? v / 652.8 : v / 256.0);
        else if (isL)
            value = kIs8 ? v / 2.55 : v / 655.35;
        else
            value = (kIs8 ? int8_t(v) : int16_t(v) / 256.0) + 128;
        out.row(0)[i] = code(value, isL ? 100 : 255);
    }
    return out;
}

template <class T>
Result<Image<uint16_t>> readLab(OIIO::ImageInput &input, OIIO::TypeDesc type, bool isIcc,
                                const std::string &path, const Run &run)
{
    const auto stored = readPixels<T>(input, 3, type, path, run);
    if (!stored)
        return stored.error();
    return labCodes(*stored, isIcc);
}

/// Pages, frames or exposures beyond the first; what a camera raw or HEIF keeps besides is no page.
int furtherPictures(OIIO::ImageInput &input, const OIIO::ImageSpec &first, const Run &run)
{
    const std::string format = input.format_name();
    if (format != "tiff" && format != "gif" && format != "webp")
        return 0;
    constexpr int kMost = 100; // to go on to the next one may mean decoding this one
    int count = 0;
    for (int i = 1; i < kMost && !run.stopped(); ++i) {
        const OIIO::ImageSpec spec = input.spec_dimensions(i);
        if (spec.undefined())
            break;
        count += spec.width * 2 >= first.width; // smaller ones are for the eye only
    }
    return count;
}

uint16_t encodeSrgb(float linear)
{
    const float x = linear > 0 ? std::min(linear, 1.0F) : 0.0F; // NaN becomes 0
    return uint16_t(srgbCode(x) * 65535.0F + 0.5F);
}

/// Float pictures are stored as 16 bits: linear ones through the sRGB curve, those with a profile
/// as they are. What lies outside 0..1 is cut, and said so.
Result<Image<uint16_t>> readFloat(OIIO::ImageInput &input, int channels, const std::string &path,
                                  const Run &run, Decoded &out)
{
    auto image = readPixels<float>(input, channels, OIIO::TypeDesc::FLOAT, path, run);
    if (!image)
        return image.error();
    Image<uint16_t> codes(image->width(), image->height(), channels);
    const bool isLinear = out.icc.empty();
    const int alpha = channels % 2 == 0 ? channels - 1 : -1;
    size_t outside = 0;
    for (size_t i = 0; i < image->count(); ++i) {
        const float v = image->row(0)[i];
        outside += v > 1.0F || v < 0.0F;
        const bool plain = !isLinear || int(i % size_t(channels)) == alpha;
        codes.row(0)[i] =
            plain ? uint16_t((v > 0 ? std::min(v, 1.0F) : 0.0F) * 65535.0F + 0.5F) : encodeSrgb(v);
    }
    if (isLinear)
        out.notes.emplace_back("It has no colour profile; its values were taken as linear light.");
    if (outside > 0)
        out.notes.emplace_back("Values beyond black or white were cut: " + std::to_string(outside) +
                               " of " + std::to_string(image->count()) + ".");
    return codes;
}

/// LibRaw's way with highlights of which the sensor lost a channel: what the others hold goes on,
/// without colour. White is the brightest channel's then, not the darkest one's.
constexpr int kBlend = 2;

/// How much darker that makes a raw photo, stops: from the factors of its white balance.
float headroomOf(const OIIO::ImageSpec &spec)
{
    const auto *factors =
        spec.find_attribute("raw:cam_mul", OIIO::TypeDesc(OIIO::TypeDesc::FLOAT, 4));
    if (!factors)
        return 0;
    const auto *by = static_cast<const float *>(factors->data());
    const auto [least, most] = std::minmax({by[0], by[1], by[2]});
    constexpr float kMost = 4; // stops; more is no camera's
    return least > 0 ? std::min(std::log2(most / least), kMost) : 0.0F;
}

Result<Decoded> decode(const std::string &path, const Run &run)
{
    OIIO::ImageSpec hints;
    hints["oiio:UnassociatedAlpha"] = 1;
    hints["oiio:RawColor"] = 1; // CMYK stays CMYK: the profile converts it better
    hints["raw:ColorSpace"] = "sRGB";
    hints["raw:HighlightMode"] = kBlend;
    hints["raw:balance_clamped"] = 0;
    auto input = OIIO::ImageInput::open(path, &hints);
    if (!input)
        return Error{ErrorKind::NotAPhoto, path, OIIO::geterror()};
    const OIIO::ImageSpec spec = input->spec();
    if (spec.width < 1 || spec.height < 1 || spec.width > kMaxSide || spec.height > kMaxSide ||
        size_t(spec.width) * size_t(spec.height) > kMaxPixels)
        return Error{ErrorKind::TooLarge, path,
                     std::to_string(spec.width) + " x " + std::to_string(spec.height)};

    Decoded out;
    readAttributes(spec, out);
    out.format = input->format_name();
    for (char &c : out.format)
        c = char(std::toupper(static_cast<unsigned char>(c)));
    if (out.format == "RAW")
        out.headroomEv = headroomOf(spec);
    const std::string mode = spec.get_string_attribute("tiff:ColorSpace");
    constexpr int kCieLab = 8; // TIFF's PhotometricInterpretation
    constexpr int kIccLab = 9;
    const int photometric = spec.get_int_attribute("tiff:PhotometricInterpretation", 0);
    const bool isLab = spec.nchannels >= 3 && !spec.format.is_floating_point() &&
                       (photometric == kCieLab || photometric == kIccLab);
    const bool isCmyk = spec.nchannels >= 4 && (mode == "CMYK" || mode == "color separated");
    const int channels = isCmyk ? 4 : std::min(spec.nchannels, 4);
    constexpr Decoded::Channels kKinds[] = {Decoded::Channels::Grey, Decoded::Channels::GreyAlpha,
                                            Decoded::Channels::Rgb, Decoded::Channels::RgbAlpha};
    out.channels = isCmyk ? Decoded::Channels::Cmyk : kKinds[channels - 1];
    out.sourceBits = spec.get_int_attribute("oiio:BitsPerSample", int(spec.format.size()) * 8);

    if (isLab) {
        const bool isIcc = photometric == kIccLab;
        auto image = spec.format.size() > 1
                         ? readLab<uint16_t>(*input, OIIO::TypeDesc::UINT16, isIcc, path, run)
                         : readLab<uint8_t>(*input, OIIO::TypeDesc::UINT8, isIcc, path, run);
        if (!image)
            return image.error();
        out.channels = Decoded::Channels::Lab;
        out.pixels = std::move(*image);
    } else if (spec.format.is_floating_point()) {
        auto image = readFloat(*input, channels, path, run, out);
        if (!image)
            return image.error();
        out.pixels = std::move(*image);
    } else if (spec.format.size() > 1 || out.sourceBits > 8) {
        auto image = readPixels<uint16_t>(*input, channels, OIIO::TypeDesc::UINT16, path, run);
        if (!image)
            return image.error();
        out.pixels = std::move(*image);
    } else {
        auto image = readPixels<uint8_t>(*input, channels, OIIO::TypeDesc::UINT8, path, run);
        if (!image)
            return image.error();
        out.pixels = std::move(*image);
    }
    if (const int more = furtherPictures(*input, spec, run); more > 0)
        out.notes.emplace_back("The file holds " + std::to_string(more + 1) +
                               " pictures; this is the first.");
    return out;
}

/// Writes at a place until all is written. False, and errno set: it could not.
bool writeAllAt(int fd, const void *data, size_t size, int64_t place)
{
    const auto *from = static_cast<const char *>(data);
    while (size > 0) {
        const ssize_t done = ::pwrite(fd, from, size, off_t(place));
        if (done < 0 && errno == EINTR)
            continue;
        if (done <= 0) {
            errno = done < 0 ? errno : ENOSPC;
            return false;
        }
        from += done;
        place += done;
        size -= size_t(done);
    }
    return true;
}

Error writeError(int code, const std::string &path)
{
    const bool isFull = code == ENOSPC || code == EDQUOT;
    return {isFull ? ErrorKind::DiskFull : ErrorKind::Io, path,
            std::generic_category().message(code)};
}

/// A file that remembers whether all that was written to it arrived: what writes through it need
/// not say so, and mostly does not when it closes.
class CheckedFile final : public OIIO::Filesystem::IOProxy
{
public:
    explicit CheckedFile(const std::string &path)
        : IOProxy(path, Write),
          m_fd(::open(path.c_str(), O_RDWR | O_CREAT | O_TRUNC | O_CLOEXEC, 0666)),
          m_errno(m_fd < 0 ? errno : 0)
    {
    }
    ~CheckedFile() override { close(); }

    const char *proxytype() const override { return "checked"; }
    void close() override
    {
        if (m_fd >= 0 && ::close(m_fd) != 0 && m_errno == 0)
            m_errno = errno;
        m_fd = -1;
    }
    bool opened() const override { return m_fd >= 0; }
    int64_t tell() override { return m_pos; }
    bool seek(int64_t offset) override
    {
        m_pos = offset;
        return true;
    }
    size_t read(void *to, size_t size) override
    {
        const size_t got = pread(to, size, m_pos);
        m_pos += int64_t(got);
        return got;
    }
    size_t pread(void *to, size_t size, int64_t offset) override
    {
        ssize_t got = 0;
        do
            got = ::pread(m_fd, to, size, off_t(offset));
        while (got < 0 && errno == EINTR);
        if (got < 0 && m_errno == 0) // what it wrote before is read again, and built upon
            m_errno = errno;
        return got < 0 ? 0 : size_t(got);
    }
    size_t write(const void *from, size_t size) override
    {
        const size_t done = pwrite(from, size, m_pos);
        m_pos += int64_t(done);
        return done;
    }
    size_t pwrite(const void *from, size_t size, int64_t offset) override
    {
        if (m_errno == 0 && !writeAllAt(m_fd, from, size, offset))
            m_errno = errno;
        return m_errno == 0 ? size : 0;
    }
    size_t size() const override
    {
        struct stat info {
        };
        return ::fstat(m_fd, &info) == 0 ? size_t(info.st_size) : 0;
    }
    void flush() const override {}
    /// Of the first write that failed; 0: none did.
    int problem() const { return m_errno; }

private:
    int m_fd;
    int m_errno;
};

class TiffWriter final : public PictureWriter
{
public:
    TiffWriter(std::unique_ptr<CheckedFile> file, std::unique_ptr<OIIO::ImageOutput> output,
               const PictureSpec &spec, std::string path)
        : m_file(std::move(file)), m_output(std::move(output)), m_spec(spec),
          m_path(std::move(path))
    {
    }
    Result<void> writeRows(const void *rows, int count) override
    {
        const auto type = m_spec.bits == 16 ? OIIO::TypeDesc::UINT16 : OIIO::TypeDesc::UINT8;
        if (!m_output->write_scanlines(m_row, m_row + count, 0, type, rows))
            return failure();
        m_row += count;
        return {};
    }
    Result<void> finish() override
    {
        const bool isClosed = m_output->close();
        m_file->close();
        if (!isClosed || m_file->problem() != 0)
            return failure();
        return {};
    }

private:
    Error failure() const
    {
        if (m_file->problem() != 0)
            return writeError(m_file->problem(), m_path);
        return {ErrorKind::Io, m_path, m_output->geterror()};
    }
    std::unique_ptr<CheckedFile> m_file; ///< outlives the output
    std::unique_ptr<OIIO::ImageOutput> m_output;
    PictureSpec m_spec;
    std::string m_path;
    int m_row = 0;
};

Result<std::unique_ptr<PictureWriter>> makeTiffWriter(const std::string &path,
                                                      const PictureSpec &spec)
{
    auto output = OIIO::ImageOutput::create("tiff");
    if (!output)
        return Error{ErrorKind::Io, path, OIIO::geterror()};
    auto file = std::make_unique<CheckedFile>(path);
    if (file->problem() != 0)
        return writeError(file->problem(), path);
    OIIO::ImageSpec image(spec.width, spec.height, spec.channels,
                          spec.bits == 16 ? OIIO::TypeDesc::UINT16 : OIIO::TypeDesc::UINT8);
    if (spec.channels == 4) {
        image.alpha_channel = 3;
        image["oiio:UnassociatedAlpha"] = 1;
    }
    image["compression"] = "zip";
    image["tiff:zipquality"] = 4;
    image["tiff:RowsPerStrip"] = 64;
    if (spec.dpi > 0) {
        image["XResolution"] = float(spec.dpi);
        image["YResolution"] = float(spec.dpi);
        image["ResolutionUnit"] = "in";
    }
    if (!spec.icc.empty())
        image.attribute("ICCProfile", OIIO::TypeDesc(OIIO::TypeDesc::UINT8, int(spec.icc.size())),
                        spec.icc.data());
    if (!output->set_ioproxy(file.get()) || !output->open(path, image))
        return file->problem() != 0 ? writeError(file->problem(), path)
                                    : Error{ErrorKind::Io, path, output->geterror()};
    return std::unique_ptr<PictureWriter>(
        std::make_unique<TiffWriter>(std::move(file), std::move(output), spec, path));
}

/// For codecs that take a picture at once.
class WholeWriter final : public PictureWriter
{
public:
    WholeWriter(std::unique_ptr<OIIO::ImageOutput> output, const OIIO::ImageSpec &spec,
                std::string path)
        : m_output(std::move(output)), m_spec(spec), m_path(std::move(path))
    {
        m_pixels.reserve(size_t(m_spec.image_bytes()) + kReadBeyond);
    }
    Result<void> writeRows(const void *rows, int count) override
    {
        const auto *from = static_cast<const uint8_t *>(rows);
        m_pixels.insert(m_pixels.end(), from,
                        from + size_t(count) * size_t(m_spec.scanline_bytes()));
        return {};
    }
    Result<void> finish() override
    {
        // OpenImageIO 2.4 copies AVIF's rows by the length of libheif's, which is longer: it reads
        // past the last one.
        m_pixels.resize(m_pixels.size() + kReadBeyond);
        // The codecs write by names, and not all say whether it arrived: so into memory first.
        const Memory memory;
        const bool isWritten = memory.fd >= 0 && m_output->open(memory.path(), m_spec) &&
                               m_output->write_image(OIIO::TypeDesc::UINT8, m_pixels.data()) &&
                               m_output->close();
        if (!isWritten)
            return Error{ErrorKind::Io, m_path, m_output->geterror()};
        return memory.copyTo(m_path);
    }

private:
    /// A nameless file in memory, open.
    struct Memory {
        Memory() : fd(::memfd_create("buttonhole-picture", MFD_CLOEXEC)) {}
        ~Memory()
        {
            if (fd >= 0)
                ::close(fd);
        }
        Memory(const Memory &) = delete;
        Memory &operator=(const Memory &) = delete;
        std::string path() const { return "/proc/self/fd/" + std::to_string(fd); }
        Result<void> copyTo(const std::string &to) const
        {
            CheckedFile file(to);
            std::vector<char> piece(1 << 20);
            for (off_t at = 0;;) {
                const ssize_t got = ::pread(fd, piece.data(), piece.size(), at);
                if (got < 0)
                    return writeError(errno, to);
                if (got == 0)
                    break;
                file.write(piece.data(), size_t(got));
                at += got;
            }
            file.close();
            return file.problem() == 0 ? Result<void>() : writeError(file.problem(), to);
        }
        int fd;
    };

    static constexpr size_t kReadBeyond = 4096;
    std::unique_ptr<OIIO::ImageOutput> m_output;
    OIIO::ImageSpec m_spec;
    std::string m_path;
    std::vector<uint8_t> m_pixels;
};

Result<std::unique_ptr<PictureWriter>> makeLossyWriter(const std::string &path,
                                                       const PictureSpec &spec, const char *format)
{
    const std::string name = format;
    auto output = OIIO::ImageOutput::create(name == "avif" ? "heif" : name);
    if (!output)
        return Error{ErrorKind::Io, path, OIIO::geterror()};
    OIIO::ImageSpec image(spec.width, spec.height, spec.channels, OIIO::TypeDesc::UINT8);
    if (spec.channels == 4) {
        image.alpha_channel = 3;
        image["oiio:UnassociatedAlpha"] = 1;
    }
    image["compression"] = name + ":" + std::to_string(spec.quality);
    image["oiio:ColorSpace"] = "sRGB";
    return std::unique_ptr<PictureWriter>(
        std::make_unique<WholeWriter>(std::move(output), image, path));
}

} // namespace

} // namespace buttonhole

extern "C" const buttonhole::FormatsApi *buttonholeFormats()
{
    static const buttonhole::FormatsApi api{buttonhole::decode, buttonhole::makeLossyWriter,
                                            buttonhole::makeTiffWriter};
    return &api;
}
