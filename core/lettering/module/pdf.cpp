#include "lettering/pdf.h"

#include <cairo-pdf.h>

#include <cerrno>
#include <memory>
#include <string>
#include <system_error>

#include <fcntl.h>
#include <unistd.h>

namespace buttonhole
{

namespace
{

constexpr double kPointsPerMm = 72 / 25.4;

class CairoPdf final : public PdfWriter
{
public:
    explicit CairoPdf(std::string file)
        : m_file(std::move(file)),
          m_descriptor(::open(m_file.c_str(), O_WRONLY | O_CREAT | O_TRUNC | O_CLOEXEC, 0666)),
          m_surface(cairo_pdf_surface_create_for_stream(write, this, 1, 1)),
          m_cairo(cairo_create(m_surface))
    {
        if (m_descriptor < 0)
            m_errno = errno;
    }
    ~CairoPdf() override
    {
        cairo_destroy(m_cairo);
        cairo_surface_destroy(m_surface);
        if (m_descriptor >= 0)
            ::close(m_descriptor);
    }

    Result<void> addPage(double width, double height,
                         const std::vector<PdfPicture> &pictures) override
    {
        cairo_pdf_surface_set_size(m_surface, width * kPointsPerMm, height * kPointsPerMm);
        for (const PdfPicture &each : pictures)
            if (auto done = draw(each); !done)
                return done;
        cairo_show_page(m_cairo);
        return problemOf(cairo_status(m_cairo));
    }
    Result<void> finish() override
    {
        cairo_surface_finish(m_surface);
        return problemOf(cairo_surface_status(m_surface));
    }

private:
    /// Writing to a file by its name, cairo says nothing of a disk that is full.
    static cairo_status_t write(void *closure, const unsigned char *data, unsigned int length)
    {
        auto *self = static_cast<CairoPdf *>(closure);
        while (length > 0 && self->m_errno == 0) {
            const ssize_t done = ::write(self->m_descriptor, data, length);
            if (done < 0 && errno == EINTR)
                continue;
            if (done <= 0) {
                self->m_errno = done < 0 ? errno : ENOSPC;
                break;
            }
            data += done;
            length -= unsigned(done);
        }
        return self->m_errno == 0 ? CAIRO_STATUS_SUCCESS : CAIRO_STATUS_WRITE_ERROR;
    }

    Result<void> draw(const PdfPicture &picture)
    {
        // Its pixels are in the JPEG; cairo wants to know of what size they are.
        cairo_surface_t *source =
            cairo_image_surface_create(CAIRO_FORMAT_RGB24, picture.pxWide, picture.pxHigh);
        auto *bytes = new std::vector<uint8_t>(picture.jpeg);
        const cairo_status_t taken = cairo_surface_set_mime_data(
            source, CAIRO_MIME_TYPE_JPEG, bytes->data(), bytes->size(),
            [](void *held) { delete static_cast<std::vector<uint8_t> *>(held); }, bytes);
        if (taken != CAIRO_STATUS_SUCCESS) {
            delete bytes;
            cairo_surface_destroy(source);
            return problemOf(taken);
        }
        cairo_save(m_cairo);
        cairo_translate(m_cairo, picture.x * kPointsPerMm, picture.y * kPointsPerMm);
        cairo_scale(m_cairo, picture.width * kPointsPerMm / picture.pxWide,
                    picture.height * kPointsPerMm / picture.pxHigh);
        cairo_set_source_surface(m_cairo, source, 0, 0);
        cairo_paint(m_cairo);
        cairo_restore(m_cairo);
        cairo_surface_destroy(source);
        return problemOf(cairo_status(m_cairo));
    }

    Result<void> problemOf(cairo_status_t status) const
    {
        if (m_errno != 0) {
            const bool isFull = m_errno == ENOSPC || m_errno == EDQUOT;
            return Error{isFull ? ErrorKind::DiskFull : ErrorKind::Io, m_file,
                         std::generic_category().message(m_errno)};
        }
        if (status == CAIRO_STATUS_SUCCESS)
            return {};
        if (status == CAIRO_STATUS_NO_MEMORY)
            return Error{ErrorKind::OutOfMemory, m_file, {}};
        return Error{ErrorKind::Io, m_file, cairo_status_to_string(status)};
    }

    std::string m_file;
    int m_errno = 0; ///< of the first write that failed
    int m_descriptor;
    cairo_surface_t *m_surface;
    cairo_t *m_cairo;
};

} // namespace

Result<std::unique_ptr<PdfWriter>> makePdfWriter(const std::string &file)
{
    return std::unique_ptr<PdfWriter>(std::make_unique<CairoPdf>(file));
}

} // namespace buttonhole
