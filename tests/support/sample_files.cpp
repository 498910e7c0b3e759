#include "sample_files.h"

#include <OpenImageIO/imageio.h>

#include <exiv2/exiv2.hpp>

#include <QFile>
#include <QTest>

#include <cstdio>

#include <jpeglib.h>
#include <png.h>

namespace buttonhole::test
{

namespace
{

void require(bool fine, const QString &what)
{
    if (!fine)
        QTest::qFail(qPrintable(QStringLiteral("cannot make the sample ") + what), __FILE__,
                     __LINE__);
}

} // namespace

void writeFile(const QString &path, const void *data, size_t size)
{
    QFile file(path);
    require(file.open(QIODevice::WriteOnly) &&
                file.write(static_cast<const char *>(data), qint64(size)) == qint64(size),
            path);
}

QString writeJpeg(const QString &path, const Image<uint8_t> &picture, int quality,
                  const std::vector<uint8_t> &icc)
{
    jpeg_compress_struct info{};
    jpeg_error_mgr errors{};
    info.err = jpeg_std_error(&errors);
    jpeg_create_compress(&info);
    std::FILE *file = std::fopen(qPrintable(path), "wb");
    require(file != nullptr, path);
    jpeg_stdio_dest(&info, file);
    info.image_width = JDIMENSION(picture.width());
    info.image_height = JDIMENSION(picture.height());
    info.input_components = picture.channels();
    info.in_color_space = picture.channels() == 1   ? JCS_GRAYSCALE
                          : picture.channels() == 4 ? JCS_CMYK
                                                    : JCS_RGB;
    jpeg_set_defaults(&info);
    jpeg_set_quality(&info, quality, TRUE);
    for (int c = 0; c < info.num_components; ++c)
        info.comp_info[c].h_samp_factor = info.comp_info[c].v_samp_factor = 1;
    if (picture.channels() == 4)
        info.write_Adobe_marker = TRUE;
    jpeg_start_compress(&info, TRUE);
    if (!icc.empty())
        jpeg_write_icc_profile(&info, icc.data(), unsigned(icc.size()));
    std::vector<uint8_t> row(picture.stride());
    for (int y = 0; y < picture.height(); ++y) {
        for (size_t i = 0; i < row.size(); ++i)
            row[i] = picture.channels() == 4 ? uint8_t(255 - picture.row(y)[i]) : picture.row(y)[i];
        uint8_t *rows = row.data();
        jpeg_write_scanlines(&info, &rows, 1);
    }
    jpeg_finish_compress(&info);
    jpeg_destroy_compress(&info);
    std::fclose(file);
    return path;
}

namespace
{

/// Streams rows of one-byte pixels into a PNG of a colour type.
template <class SetUp, class Row>
void writePng(const QString &path, int width, int height, int colourType, const SetUp &setUp,
              const Row &row)
{
    std::FILE *file = std::fopen(qPrintable(path), "wb");
    require(file != nullptr, path);
    png_structp png = png_create_write_struct(PNG_LIBPNG_VER_STRING, nullptr, nullptr, nullptr);
    png_infop info = png_create_info_struct(png);
    png_init_io(png, file);
    png_set_user_limits(png, 1000000, 1000000);
    png_set_compression_level(png, 1);
    png_set_IHDR(png, info, png_uint_32(width), png_uint_32(height), 8, colourType,
                 PNG_INTERLACE_NONE, PNG_COMPRESSION_TYPE_DEFAULT, PNG_FILTER_TYPE_DEFAULT);
    setUp(png, info);
    png_write_info(png, info);
    std::vector<uint8_t> pixels(static_cast<size_t>(width));
    for (int y = 0; y < height; ++y) {
        row(y, pixels);
        png_write_row(png, pixels.data());
    }
    png_write_end(png, info);
    png_destroy_write_struct(&png, &info);
    std::fclose(file);
}

} // namespace

QString writePalettePng(const QString &path, int width, int height)
{
    writePng(
        path, width, height, PNG_COLOR_TYPE_PALETTE,
        [](png_structp png, png_infop info) {
            const png_color colours[4] = {{200, 30, 30}, {30, 200, 30}, {30, 30, 200}, {0, 0, 0}};
            const png_byte alpha[4] = {255, 255, 255, 128};
            png_set_PLTE(png, info, colours, 4);
            png_set_tRNS(png, info, alpha, 4, nullptr);
        },
        [](int, std::vector<uint8_t> &row) {
            for (size_t x = 0; x < row.size(); ++x)
                row[x] = uint8_t(x % 4);
        });
    return path;
}

QString writeBlackPng(const QString &path, int width, int height)
{
    writePng(
        path, width, height, PNG_COLOR_TYPE_GRAY, [](png_structp, png_infop) {},
        [](int, std::vector<uint8_t> &) {});
    return path;
}

QString writeByLibrary(const QString &path, const Image<uint16_t> &picture, Type type)
{
    const auto output = OIIO::ImageOutput::create(path.toStdString());
    require(output != nullptr, path);
    const OIIO::TypeDesc types[] = {OIIO::TypeDesc::UINT8, OIIO::TypeDesc::UINT16,
                                    OIIO::TypeDesc::FLOAT};
    OIIO::ImageSpec spec(picture.width(), picture.height(), picture.channels(),
                         types[size_t(type)]);
    spec["CompressionQuality"] = 100;
    spec["compression"] = path.endsWith(QLatin1String(".webp")) ? "webp:100" : "zip";
    require(output->open(path.toStdString(), spec) &&
                output->write_image(OIIO::TypeDesc::UINT16, picture.row(0)) && output->close(),
            path);
    return path;
}

namespace
{

/// Entries of a TIFF directory, written little-endian.
class TiffBuilder
{
public:
    void add(uint16_t tag, uint16_t type, const std::vector<uint32_t> &values)
    {
        m_entries.push_back({tag, type, uint32_t(values.size()), {}});
        for (const uint32_t v : values)
            put(m_entries.back().bytes, v, type == 3 ? 2 : type == 1 || type == 2 ? 1 : 4);
        if (type == 5 || type == 10) // rationals: pairs
            m_entries.back().count /= 2;
    }
    /// The file: header, directory, values, then `pixels`, to which StripOffsets is set.
    std::vector<uint8_t> build(const std::vector<uint8_t> &pixels)
    {
        std::vector<uint8_t> out{'I', 'I', 42, 0, 8, 0, 0, 0};
        uint32_t at = 8 + 2 + uint32_t(m_entries.size()) * 12 + 4;
        std::vector<uint8_t> values;
        uint32_t total = at;
        for (const Entry &e : m_entries)
            total += e.bytes.size() > 4 ? uint32_t(e.bytes.size()) : 0;
        put(out, uint32_t(m_entries.size()), 2);
        for (Entry &e : m_entries) {
            if (e.tag == 273) {
                e.bytes.clear();
                put(e.bytes, total, 4);
            }
            put(out, e.tag, 2);
            put(out, e.type, 2);
            put(out, e.count, 4);
            if (e.bytes.size() > 4) {
                put(out, at, 4);
                at += uint32_t(e.bytes.size());
                values.insert(values.end(), e.bytes.begin(), e.bytes.end());
            } else {
                e.bytes.resize(4);
                out.insert(out.end(), e.bytes.begin(), e.bytes.end());
            }
        }
        put(out, 0, 4);
        out.insert(out.end(), values.begin(), values.end());
        out.insert(out.end(), pixels.begin(), pixels.end());
        return out;
    }

private:
    struct Entry {
        uint16_t tag;
        uint16_t type;
        uint32_t count;
        std::vector<uint8_t> bytes;
    };
    static void put(std::vector<uint8_t> &to, uint32_t value, int bytes)
    {
        for (int i = 0; i < bytes; ++i)
            to.push_back(uint8_t(value >> (8 * i)));
    }
    std::vector<Entry> m_entries;
};

} // namespace

QString writeDng(const QString &path, int width, int height, int orientation)
{
    std::vector<uint8_t> pixels;
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < width; ++x) {
            const bool isLeft = x < width / 2;
            const bool isRed = y % 2 == 0 && x % 2 == 0;
            const bool isBlue = y % 2 == 1 && x % 2 == 1;
            const uint16_t v = !isLeft ? 20000 : isRed ? 40000 : isBlue ? 6000 : 12000;
            pixels.push_back(uint8_t(v & 255));
            pixels.push_back(uint8_t(v >> 8));
        }
    TiffBuilder tiff;
    tiff.add(254, 4, {0});
    tiff.add(256, 4, {uint32_t(width)});
    tiff.add(257, 4, {uint32_t(height)});
    tiff.add(258, 3, {16});
    tiff.add(259, 3, {1});
    tiff.add(262, 3, {32803});
    tiff.add(271, 2, {'F', 'e', 'r', 'n', 0});
    tiff.add(272, 2, {'M', 'i', 'l', 'l', 0});
    tiff.add(273, 4, {0});
    tiff.add(274, 3, {uint32_t(orientation)});
    tiff.add(277, 3, {1});
    tiff.add(278, 4, {uint32_t(height)});
    tiff.add(279, 4, {uint32_t(pixels.size())});
    tiff.add(284, 3, {1});
    tiff.add(33421, 3, {2, 2});
    tiff.add(33422, 1, {0, 1, 1, 2});
    tiff.add(50706, 1, {1, 4, 0, 0});
    tiff.add(50708, 2, {'F', 'e', 'r', 'n', ' ', 'M', 'i', 'l', 'l', 0});
    tiff.add(50714, 3, {0});
    tiff.add(50717, 4, {65535});
    // XYZ to the camera: the inverse of sRGB's matrix (IEC 61966-2-1), times 10000.
    const auto s = [](int v) { return uint32_t(v); };
    tiff.add(50721, 10,
             {s(32405), 10000, s(-15371), 10000, s(-4985), 10000, s(-9693), 10000, s(18760), 10000,
              s(416), 10000, s(556), 10000, s(-2040), 10000, s(10572), 10000});
    tiff.add(50728, 5, {1, 1, 1, 1, 1, 1});
    tiff.add(50778, 3, {21});
    const auto bytes = tiff.build(pixels);
    writeFile(path, bytes.data(), bytes.size());
    return path;
}

QString writeLabTiff(const QString &path, int width, int height, double L, double a, double b,
                     int bits)
{
    std::vector<uint8_t> pixels;
    const auto put = [&](int v) {
        pixels.push_back(uint8_t(v & 255));
        if (bits == 16)
            pixels.push_back(uint8_t((v >> 8) & 255));
    };
    const double perUnit = bits == 16 ? 256 : 1;
    for (int i = 0; i < width * height; ++i) {
        put(int(std::lround(L / 100 * (bits == 16 ? 65535 : 255))));
        put(int(std::lround(a * perUnit)));
        put(int(std::lround(b * perUnit)));
    }
    TiffBuilder tiff;
    const auto depth = uint32_t(bits);
    tiff.add(256, 4, {uint32_t(width)});
    tiff.add(257, 4, {uint32_t(height)});
    tiff.add(258, 3, {depth, depth, depth});
    tiff.add(259, 3, {1});
    tiff.add(262, 3, {8});
    tiff.add(273, 4, {0});
    tiff.add(277, 3, {3});
    tiff.add(278, 4, {uint32_t(height)});
    tiff.add(279, 4, {uint32_t(pixels.size())});
    tiff.add(284, 3, {1});
    const auto bytes = tiff.build(pixels);
    writeFile(path, bytes.data(), bytes.size());
    return path;
}

QString writePagesTiff(const QString &path, int pages)
{
    const auto output = OIIO::ImageOutput::create("tiff");
    const std::vector<OIIO::ImageSpec> specs(size_t(pages),
                                             OIIO::ImageSpec(64, 48, 3, OIIO::TypeDesc::UINT8));
    const std::vector<uint8_t> grey(64 * 48 * 3, 120);
    for (int i = 0; i < pages; ++i) {
        output->open(path.toStdString(), specs[size_t(i)],
                     i == 0 ? OIIO::ImageOutput::Create : OIIO::ImageOutput::AppendSubimage);
        output->write_image(OIIO::TypeDesc::UINT8, grey.data());
    }
    output->close();
    return path;
}

void addMetadata(const QString &path, int orientation)
{
    try {
        const auto image = Exiv2::ImageFactory::open(path.toStdString());
        image->readMetadata();
        Exiv2::ExifData &exif = image->exifData();
        exif["Exif.Image.Orientation"] = uint16_t(orientation);
        exif["Exif.Image.Make"] = "Fernhollow";
        exif["Exif.Image.Artist"] = "Mill visitor";
        exif["Exif.Photo.ExposureTime"] = Exiv2::URational(1, 125);
        exif["Exif.GPSInfo.GPSLatitudeRef"] = "N";
        exif["Exif.GPSInfo.GPSLatitude"] = "51/1 30/1 0/1";
        image->xmpData()["Xmp.dc.title"] = "lang=x-default Open day";
        image->xmpData()["Xmp.photoshop.City"] = "Fernhollow";
        image->iptcData()["Iptc.Application2.Keywords"] = "mill";
        image->iptcData()["Iptc.Application2.City"] = "Fernhollow";
        image->writeMetadata();
    } catch (const Exiv2::AnyError &problem) {
        require(false, path + QLatin1String(problem.what()));
    }
}

} // namespace buttonhole::test
