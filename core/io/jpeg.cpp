#include "io/jpeg.h"

#include "io/file.h"

#include <algorithm>
#include <csetjmp>
#include <cstdio>

#include <jpeglib.h>

#include <jerror.h>

namespace buttonhole
{

namespace
{

/// libjpeg reports a fatal error by a call that must not return; we jump back to the setjmp of the
/// function that called it. No object with a destructor lives between the two.
struct ErrorManager {
    jpeg_error_mgr base;
    jmp_buf back;
    char message[JMSG_LENGTH_MAX];
    bool cutOff;
};

[[noreturn]] void onFatal(j_common_ptr info)
{
    auto *manager = reinterpret_cast<ErrorManager *>(info->err);
    manager->base.format_message(info, manager->message);
    longjmp(manager->back, 1);
}

void onMessage(j_common_ptr info, int level)
{
    auto *manager = reinterpret_cast<ErrorManager *>(info->err);
    if (level < 0) {
        ++manager->base.num_warnings;
        if (info->err->msg_code == JWRN_JPEG_EOF)
            manager->cutOff = true;
    }
}

void setUp(ErrorManager &manager)
{
    jpeg_std_error(&manager.base);
    manager.base.error_exit = onFatal;
    manager.base.emit_message = onMessage;
    manager.base.output_message = [](j_common_ptr) {};
    manager.message[0] = 0;
    manager.cutOff = false;
}

struct Decompress {
    jpeg_decompress_struct info{};
    ErrorManager errors{};

    Decompress()
    {
        info.err = &errors.base;
        setUp(errors);
    }
    ~Decompress() { jpeg_destroy_decompress(&info); }
    Decompress(const Decompress &) = delete;
    Decompress &operator=(const Decompress &) = delete;

    bool readHeader(const std::vector<uint8_t> &bytes)
    {
        if (setjmp(errors.back))
            return false;
        jpeg_create_decompress(&info);
        jpeg_mem_src(&info, bytes.data(), bytes.size());
        jpeg_save_markers(&info, JPEG_APP0 + 2, 0xFFFF);
        jpeg_read_header(&info, TRUE);
        return true;
    }
    /// @param longEdge 0, or what the decoded picture's long edge should have at least
    bool start(int longEdge)
    {
        if (setjmp(errors.back))
            return false;
        const unsigned edge = std::max(info.image_width, info.image_height);
        while (longEdge > 0 && info.scale_denom < 8 &&
               edge / (2 * info.scale_denom) >= unsigned(longEdge))
            info.scale_denom *= 2;
        if (info.jpeg_color_space == JCS_CMYK || info.jpeg_color_space == JCS_YCCK)
            info.out_color_space = JCS_CMYK;
        else if (info.num_components != 1)
            info.out_color_space = JCS_RGB;
        jpeg_start_decompress(&info);
        return true;
    }
    bool readRow(uint8_t *row)
    {
        if (setjmp(errors.back))
            return false;
        jpeg_read_scanlines(&info, &row, 1);
        return true;
    }
    bool readProfile(std::vector<uint8_t> &icc)
    {
        JOCTET *data = nullptr;
        unsigned size = 0;
        if (setjmp(errors.back))
            return false;
        if (jpeg_read_icc_profile(&info, &data, &size)) {
            icc.assign(data, data + size);
            std::free(data);
        }
        return true;
    }
};

} // namespace

namespace
{

/// Whatever way decoding ends, the follower lets go of the image first.
class Following
{
public:
    Following(RowFollower *follower, const Image<uint8_t> &image, const std::vector<uint8_t> &icc)
        : m_follower(image.channels() == 3 ? follower : nullptr)
    {
        if (m_follower)
            m_follower->begin(image, icc);
    }
    ~Following() { end(); }
    Following(const Following &) = delete;
    Following &operator=(const Following &) = delete;
    void rows(int done)
    {
        if (m_follower)
            m_follower->rows(done);
    }
    void end()
    {
        if (m_follower)
            m_follower->end();
        m_follower = nullptr;
    }

private:
    RowFollower *m_follower;
};

} // namespace

Result<Decoded> decodeJpeg(const std::vector<uint8_t> &bytes, const std::string &subject,
                           const Run &run, RowFollower *follower, int longEdge)
{
    Decompress jpeg;
    const auto damaged = [&] { return Error{ErrorKind::Damaged, subject, jpeg.errors.message}; };
    Decoded out;
    if (!jpeg.readHeader(bytes) || !jpeg.readProfile(out.icc))
        return damaged();
    if (const auto fits = checkSize(jpeg.info.image_width, jpeg.info.image_height, subject); !fits)
        return fits.error();
    if (!jpeg.start(longEdge))
        return damaged();

    const int width = int(jpeg.info.output_width);
    const int height = int(jpeg.info.output_height);
    const int channels = jpeg.info.output_components;
    Image<uint8_t> image(width, height, channels);
    const bool isProgressive = jpeg_has_multiple_scans(&jpeg.info) != FALSE;
    if (isProgressive && jpeg.errors.cutOff && jpeg.info.input_scan_number < 2)
        return Error{ErrorKind::Damaged, subject, "it ends before the first look at it is whole"};
    int whole = height; // rows that the file holds
    Following following(follower, image, out.icc);
    for (int y = 0; y < height; ++y) {
        if (!jpeg.readRow(image.row(y)))
            return damaged();
        if (jpeg.errors.cutOff && !isProgressive && whole == height) {
            whole = y;
            if (whole < height / 2)
                return Error{ErrorKind::Damaged, subject,
                             "it ends after " + std::to_string(y) + " of " +
                                 std::to_string(height) + " rows"};
        }
        if (y % 64 == 0) {
            if (run.stopped())
                return Error{ErrorKind::Cancelled, subject, {}};
            run.report(float(y) / float(height));
            following.rows(y);
        }
    }
    following.rows(height);
    following.end();
    if (jpeg.errors.cutOff)
        out.notes.emplace_back(isProgressive
                                   ? "The file ends early: its finest details are missing. Copy it "
                                     "again from where it came, if you can."
                                   : "The file ends early: of " + std::to_string(height) +
                                         " rows the last " + std::to_string(height - whole) +
                                         " are missing. Copy it again from where it came, if you "
                                         "can.");
    else if (jpeg.errors.base.num_warnings > 0)
        out.notes.emplace_back("The file has small faults; a few pixels may be wrong.");
    if (channels == 4 && jpeg.info.saw_Adobe_marker) // written inverted by custom
        for (size_t i = 0; i < image.count(); ++i)
            image.row(0)[i] = uint8_t(255 - image.row(0)[i]);
    out.channels = channels == 1   ? Decoded::Channels::Grey
                   : channels == 4 ? Decoded::Channels::Cmyk
                                   : Decoded::Channels::Rgb;
    out.pixels = std::move(image);
    out.format = "JPEG";
    if (jpeg.info.saw_JFIF_marker && jpeg.info.density_unit > 0) // 1: inches, 2: centimetres
        out.dpi = jpeg.info.X_density * (jpeg.info.density_unit == 2 ? 2.54 : 1);
    out.fullWidth = int(jpeg.info.image_width);
    out.fullHeight = int(jpeg.info.image_height);
    return out;
}

namespace
{

class JpegWriter final : public PictureWriter
{
public:
    JpegWriter(int descriptor, std::vector<uint8_t> *memory, const PictureSpec &spec,
               std::string subject)
        : m_descriptor(descriptor), m_memory(memory), m_spec(spec), m_subject(std::move(subject)),
          m_buffer(256 * 1024)
    {
        m_info.err = &m_errors.base;
        m_info.client_data = this;
        setUp(m_errors);
    }
    ~JpegWriter() override { jpeg_destroy_compress(&m_info); }
    JpegWriter(const JpegWriter &) = delete;
    JpegWriter &operator=(const JpegWriter &) = delete;

    Result<void> begin()
    {
        if (setjmp(m_errors.back))
            return failure();
        jpeg_create_compress(&m_info);
        m_destination.init_destination = [](j_compress_ptr info) { self(info).resetBuffer(); };
        m_destination.empty_output_buffer = [](j_compress_ptr info) -> boolean {
            self(info).flush(self(info).m_buffer.size());
            return TRUE;
        };
        m_destination.term_destination = [](j_compress_ptr info) {
            self(info).flush(self(info).m_buffer.size() - info->dest->free_in_buffer);
        };
        m_info.dest = &m_destination;
        m_info.image_width = JDIMENSION(m_spec.width);
        m_info.image_height = JDIMENSION(m_spec.height);
        m_info.input_components = m_spec.channels;
        m_info.in_color_space = m_spec.channels == 1 ? JCS_GRAYSCALE : JCS_RGB;
        jpeg_set_defaults(&m_info);
        jpeg_set_quality(&m_info, m_spec.quality, TRUE);
        if (m_spec.dpi > 0) {
            m_info.density_unit = 1; // inches
            m_info.X_density = m_info.Y_density = UINT16(m_spec.dpi + 0.5);
        }
        for (int c = 0; c < m_info.num_components; ++c) {
            m_info.comp_info[c].h_samp_factor = 1;
            m_info.comp_info[c].v_samp_factor = 1;
        }
        m_info.optimize_coding = int64_t(m_spec.width) * m_spec.height < 1'000'000 ? TRUE : FALSE;
        jpeg_start_compress(&m_info, TRUE);
        if (!m_spec.icc.empty())
            jpeg_write_icc_profile(&m_info, m_spec.icc.data(), unsigned(m_spec.icc.size()));
        return {};
    }
    Result<void> writeRows(const void *rows, int count) override
    {
        if (setjmp(m_errors.back))
            return failure();
        const auto *at = static_cast<const uint8_t *>(rows);
        for (int i = 0; i < count; ++i) {
            auto *row = const_cast<uint8_t *>(at); // libjpeg only reads it
            jpeg_write_scanlines(&m_info, &row, 1);
            at += size_t(m_spec.width) * size_t(m_spec.channels);
        }
        return m_written;
    }
    Result<void> finish() override
    {
        if (setjmp(m_errors.back))
            return failure();
        jpeg_finish_compress(&m_info);
        return m_written;
    }

private:
    static JpegWriter &self(j_compress_ptr info)
    {
        return *static_cast<JpegWriter *>(info->client_data);
    }
    Error failure() const { return {ErrorKind::Io, m_subject, m_errors.message}; }
    void resetBuffer()
    {
        m_destination.next_output_byte = m_buffer.data();
        m_destination.free_in_buffer = m_buffer.size();
    }
    void flush(size_t size)
    {
        if (m_memory)
            m_memory->insert(m_memory->end(), m_buffer.data(), m_buffer.data() + size);
        else if (m_written) // after the first failure nothing more is tried
            m_written = writeAll(m_descriptor, m_buffer.data(), size, m_subject);
        resetBuffer();
    }

    int m_descriptor;
    std::vector<uint8_t> *m_memory;
    PictureSpec m_spec;
    std::string m_subject;
    std::vector<uint8_t> m_buffer;
    Result<void> m_written;
    jpeg_compress_struct m_info{};
    jpeg_destination_mgr m_destination{};
    ErrorManager m_errors{};
};

} // namespace

Result<std::unique_ptr<PictureWriter>> makeJpegWriter(int descriptor, const PictureSpec &spec,
                                                      const std::string &subject)
{
    auto writer = std::make_unique<JpegWriter>(descriptor, nullptr, spec, subject);
    if (const auto begun = writer->begin(); !begun)
        return begun.error();
    return std::unique_ptr<PictureWriter>(std::move(writer));
}

Result<std::vector<uint8_t>> encodeJpeg(const Image<uint8_t> &picture, const PictureSpec &spec)
{
    std::vector<uint8_t> bytes;
    JpegWriter writer(-1, &bytes, spec, "JPEG");
    if (const auto begun = writer.begin(); !begun)
        return begun.error();
    if (const auto written = writer.writeRows(picture.row(0), picture.height()); !written)
        return written.error();
    if (const auto finished = writer.finish(); !finished)
        return finished.error();
    return bytes;
}

} // namespace buttonhole
