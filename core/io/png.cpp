#include "io/png.h"

#include "io/file.h"

#include <csetjmp>
#include <cstring>

#include <png.h>

namespace buttonhole
{

namespace
{

/// libpng, like libjpeg, must not be returned to after an error: see io/jpeg.cpp.
struct Failure {
    jmp_buf back;
    char message[200] = {};
};

[[noreturn]] void onFatal(png_structp png, png_const_charp message)
{
    auto *failure = static_cast<Failure *>(png_get_error_ptr(png));
    std::strncpy(failure->message, message, sizeof failure->message - 1);
    longjmp(failure->back, 1);
}

void onWarning(png_structp, png_const_charp) {}

struct Reader {
    Failure failure;
    png_structp png = nullptr;
    png_infop info = nullptr;
    const std::vector<uint8_t> &bytes;
    size_t at = 0;

    explicit Reader(const std::vector<uint8_t> &from) : bytes(from)
    {
        png = png_create_read_struct(PNG_LIBPNG_VER_STRING, &failure, onFatal, onWarning);
        info = png_create_info_struct(png);
    }
    ~Reader() { png_destroy_read_struct(&png, &info, nullptr); }
    Reader(const Reader &) = delete;
    Reader &operator=(const Reader &) = delete;

    bool readHeader()
    {
        if (setjmp(failure.back))
            return false;
        png_set_user_limits(png, 1'000'000, 1'000'000); // checkSize() words the refusal
        png_set_read_fn(png, this, [](png_structp p, png_bytep to, size_t count) {
            auto *self = static_cast<Reader *>(png_get_io_ptr(p));
            if (self->bytes.size() - self->at < count)
                png_error(p, "it is cut off");
            std::memcpy(to, self->bytes.data() + self->at, count);
            self->at += count;
        });
        png_read_info(png, info);
        return true;
    }
    int expand()
    {
        if (setjmp(failure.back))
            return 0;
        png_set_expand(png);
        png_set_swap(png); // PNG is big-endian
        const int passes = png_set_interlace_handling(png);
        png_read_update_info(png, info);
        return passes;
    }
    bool readRow(uint8_t *row)
    {
        if (setjmp(failure.back))
            return false;
        png_read_row(png, row, nullptr);
        return true;
    }
    bool finish()
    {
        if (setjmp(failure.back))
            return false;
        png_read_end(png, nullptr);
        return true;
    }
};

template <class T>
Result<Image<T>> readPixels(Reader &reader, int channels, int passes, const std::string &subject,
                            const Run &run)
{
    Image<T> image(int(png_get_image_width(reader.png, reader.info)),
                   int(png_get_image_height(reader.png, reader.info)), channels);
    for (int pass = 0; pass < passes; ++pass) {
        for (int y = 0; y < image.height(); ++y) {
            if (!reader.readRow(reinterpret_cast<uint8_t *>(image.row(y))))
                return Error{ErrorKind::Damaged, subject, reader.failure.message};
            if (y % 64 == 0) {
                if (run.stopped())
                    return Error{ErrorKind::Cancelled, subject, {}};
                run.report((float(pass) + float(y) / float(image.height())) / float(passes));
            }
        }
    }
    return image;
}

} // namespace

Result<std::pair<int64_t, int64_t>> pngSize(const std::vector<uint8_t> &bytes,
                                            const std::string &subject)
{
    Reader reader(bytes);
    if (!reader.readHeader())
        return Error{ErrorKind::Damaged, subject, reader.failure.message};
    return std::pair<int64_t, int64_t>(png_get_image_width(reader.png, reader.info),
                                       png_get_image_height(reader.png, reader.info));
}

Result<Decoded> decodePng(const std::vector<uint8_t> &bytes, const std::string &subject,
                          const Run &run)
{
    Reader reader(bytes);
    const auto damaged = [&] { return Error{ErrorKind::Damaged, subject, reader.failure.message}; };
    if (!reader.readHeader())
        return damaged();
    if (const auto fits = checkSize(png_get_image_width(reader.png, reader.info),
                                    png_get_image_height(reader.png, reader.info), subject);
        !fits)
        return fits.error();

    Decoded out;
    out.format = "PNG";
    out.sourceBits = png_get_bit_depth(reader.png, reader.info);
    out.dpi = png_get_x_pixels_per_meter(reader.png, reader.info) * 0.0254;
    png_charp name = nullptr;
    png_bytep icc = nullptr;
    png_uint_32 iccSize = 0;
    int compression = 0;
    if (png_get_iCCP(reader.png, reader.info, &name, &compression, &icc, &iccSize))
        out.icc.assign(icc, icc + iccSize);

    const int passes = reader.expand();
    if (passes == 0)
        return damaged();
    const int channels = png_get_channels(reader.png, reader.info);
    if (png_get_bit_depth(reader.png, reader.info) == 16) {
        auto image = readPixels<uint16_t>(reader, channels, passes, subject, run);
        if (!image)
            return image.error();
        out.pixels = std::move(*image);
    } else {
        auto image = readPixels<uint8_t>(reader, channels, passes, subject, run);
        if (!image)
            return image.error();
        out.pixels = std::move(*image);
    }
    if (!reader.finish())
        return damaged();
    constexpr Decoded::Channels kKinds[] = {Decoded::Channels::Grey, Decoded::Channels::GreyAlpha,
                                            Decoded::Channels::Rgb, Decoded::Channels::RgbAlpha};
    out.channels = kKinds[channels - 1];
    return out;
}

namespace
{

class PngWriter final : public PictureWriter
{
public:
    PngWriter(int descriptor, std::vector<uint8_t> *memory, const PictureSpec &spec,
              std::string subject)
        : m_descriptor(descriptor), m_memory(memory), m_spec(spec), m_subject(std::move(subject))
    {
        m_png = png_create_write_struct(PNG_LIBPNG_VER_STRING, &m_failure, onFatal, onWarning);
        m_info = png_create_info_struct(m_png);
        // The photo's profile goes out as it came in, also one that libpng knows to be flawed.
        png_set_option(m_png, PNG_SKIP_sRGB_CHECK_PROFILE, PNG_OPTION_ON);
        png_set_benign_errors(m_png, 1);
    }
    ~PngWriter() override { png_destroy_write_struct(&m_png, &m_info); }
    PngWriter(const PngWriter &) = delete;
    PngWriter &operator=(const PngWriter &) = delete;

    Result<void> begin(int level)
    {
        if (setjmp(m_failure.back))
            return failure();
        png_set_write_fn(
            m_png, this,
            [](png_structp p, png_bytep data, size_t count) {
                static_cast<PngWriter *>(png_get_io_ptr(p))->write(data, count);
            },
            [](png_structp) {});
        png_set_IHDR(m_png, m_info, png_uint_32(m_spec.width), png_uint_32(m_spec.height),
                     m_spec.bits,
                     m_spec.channels == 1   ? PNG_COLOR_TYPE_GRAY
                     : m_spec.channels == 4 ? PNG_COLOR_TYPE_RGB_ALPHA
                                            : PNG_COLOR_TYPE_RGB,
                     PNG_INTERLACE_NONE, PNG_COMPRESSION_TYPE_DEFAULT, PNG_FILTER_TYPE_DEFAULT);
        png_set_compression_level(m_png, level);
        png_set_compression_buffer_size(m_png, 256 * 1024);
        if (const auto perMetre = png_uint_32(m_spec.dpi / 0.0254 + 0.5); perMetre > 0)
            png_set_pHYs(m_png, m_info, perMetre, perMetre, PNG_RESOLUTION_METER);
        if (!m_spec.icc.empty())
            png_set_iCCP(m_png, m_info, "photo", PNG_COMPRESSION_TYPE_BASE, m_spec.icc.data(),
                         png_uint_32(m_spec.icc.size()));
        png_write_info(m_png, m_info);
        if (m_spec.bits == 16)
            png_set_swap(m_png);
        return m_written;
    }
    Result<void> writeRows(const void *rows, int count) override
    {
        if (setjmp(m_failure.back))
            return failure();
        const auto *at = static_cast<const uint8_t *>(rows);
        for (int i = 0; i < count; ++i) {
            png_write_row(m_png, at);
            at += size_t(m_spec.width) * size_t(m_spec.channels) * size_t(m_spec.bits / 8);
        }
        return m_written;
    }
    Result<void> finish() override
    {
        if (setjmp(m_failure.back))
            return failure();
        png_write_end(m_png, nullptr);
        return m_written;
    }

private:
    Error failure() const { return {ErrorKind::Io, m_subject, m_failure.message}; }
    void write(const uint8_t *data, size_t count)
    {
        if (m_memory)
            m_memory->insert(m_memory->end(), data, data + count);
        else if (m_written)
            m_written = writeAll(m_descriptor, data, count, m_subject);
    }

    int m_descriptor;
    std::vector<uint8_t> *m_memory;
    PictureSpec m_spec;
    std::string m_subject;
    Result<void> m_written;
    Failure m_failure;
    png_structp m_png = nullptr;
    png_infop m_info = nullptr;
};

} // namespace

Result<std::unique_ptr<PictureWriter>> makePngWriter(int descriptor, const PictureSpec &spec,
                                                     const std::string &subject)
{
    auto writer = std::make_unique<PngWriter>(descriptor, nullptr, spec, subject);
    // Level 4: within 3 % of the size of level 6 on photographs at well under half the time.
    if (const auto begun = writer->begin(4); !begun)
        return begun.error();
    return std::unique_ptr<PictureWriter>(std::move(writer));
}

Result<std::vector<uint8_t>> encodeGreyPng(const Image<uint16_t> &picture)
{
    PictureSpec spec;
    spec.width = picture.width();
    spec.height = picture.height();
    spec.channels = 1;
    spec.bits = 16;
    std::vector<uint8_t> bytes;
    PngWriter writer(-1, &bytes, spec, "mask");
    if (const auto begun = writer.begin(1); !begun)
        return begun.error();
    if (const auto written = writer.writeRows(picture.row(0), picture.height()); !written)
        return written.error();
    if (const auto finished = writer.finish(); !finished)
        return finished.error();
    return bytes;
}

} // namespace buttonhole
