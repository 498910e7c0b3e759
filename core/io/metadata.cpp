#include "io/metadata.h"

#include "io/file.h"

#include <exiv2/exiv2.hpp>

#include <algorithm>
#include <cmath>
#include <mutex>

#include <fcntl.h>
#include <sys/mman.h>
#include <sys/stat.h>
#include <unistd.h>

namespace buttonhole
{

struct Metadata::Data {
    Exiv2::ExifData exif;
    Exiv2::XmpData xmp;
    Exiv2::IptcData iptc;
    std::vector<uint8_t> icc;
};

namespace
{

void setUpLibrary()
{
    static std::once_flag once;
    std::call_once(once, [] {
        Exiv2::XmpParser::initialize();
        Exiv2::enableBMFF(true);
        Exiv2::LogMsg::setLevel(Exiv2::LogMsg::mute);
    });
}

template <class Open, class Data>
void readInto(const Open &open, Data &data)
{
    setUpLibrary();
    try {
        const auto image = open();
        image->readMetadata();
        data.exif = image->exifData();
        data.xmp = image->xmpData();
        data.iptc = image->iptcData();
        if (image->iccProfileDefined()) {
            const Exiv2::DataBuf &icc = *image->iccProfile();
            data.icc.assign(icc.pData_, icc.pData_ + icc.size_);
        }
    } catch (const Exiv2::AnyError &) {
        // A photo whose metadata is broken is still a photo.
    }
}

/// Tags that say how the old file stored its pixels; wrong for the new one.
bool isAboutStorage(const Exiv2::Exifdatum &datum)
{
    const std::string group = datum.groupName();
    if (group == "Thumbnail" || group.rfind("SubImage", 0) == 0 || group == "MakerNote" ||
        group == "Iop")
        return group != "Iop";
    if (group != "Image")
        return false;
    constexpr uint16_t kStorage[] = {0x00fe, 0x0100, 0x0101, 0x0102, 0x0103, 0x0106, 0x0111, 0x0115,
                                     0x0116, 0x0117, 0x011c, 0x0122, 0x0123, 0x013d, 0x0140, 0x0142,
                                     0x0143, 0x0144, 0x0145, 0x014a, 0x014c, 0x0152, 0x0153, 0x015b,
                                     0x0200, 0x0201, 0x0202, 0x0211, 0x0212, 0x0213, 0x0214, 0x02bc,
                                     0x83bb, 0x8649, 0x8773, 0x935c};
    return std::find(std::begin(kStorage), std::end(kStorage), datum.tag()) != std::end(kStorage);
}

bool isLocation(const std::string &xmpKey)
{
    return xmpKey.rfind("Xmp.exif.GPS", 0) == 0 || xmpKey.rfind("Xmp.iptcExt.Location", 0) == 0 ||
           xmpKey == "Xmp.iptc.Location" || xmpKey == "Xmp.photoshop.City" ||
           xmpKey == "Xmp.photoshop.State" || xmpKey == "Xmp.photoshop.Country" ||
           xmpKey == "Xmp.iptc.CountryCode";
}

bool isLocation(const Exiv2::Iptcdatum &datum)
{
    const uint16_t tag = datum.tag(); // IIM 2:26, 2:27, 2:90, 2:92, 2:95, 2:100, 2:101
    return datum.record() == 2 && (tag == 26 || tag == 27 || tag == 90 || tag == 92 || tag == 95 ||
                                   tag == 100 || tag == 101);
}

template <class Container, class Test>
void eraseWhere(Container &container, const Test &test)
{
    for (auto it = container.begin(); it != container.end();)
        it = test(*it) ? container.erase(it) : std::next(it);
}

bool isCredit(const std::string &key)
{
    constexpr const char *kCredits[] = {"Exif.Image.Artist",
                                        "Exif.Image.Copyright",
                                        "Exif.Image.ImageDescription",
                                        "Xmp.dc.creator",
                                        "Xmp.dc.rights",
                                        "Xmp.dc.description",
                                        "Xmp.xmpRights.UsageTerms",
                                        "Iptc.Application2.Byline",
                                        "Iptc.Application2.Copyright",
                                        "Iptc.Application2.Caption"};
    return std::find(std::begin(kCredits), std::end(kCredits), key) != std::end(kCredits);
}

/// Leaves out what is not to go on.
template <class Data>
void keepCarried(Data &data, Metadata::Carried carried)
{
    if (carried == Metadata::Carried::Nothing)
        data.clear();
    else if (carried == Metadata::Carried::Credits)
        eraseWhere(data, [](const auto &datum) { return !isCredit(datum.key()); });
}

/// What the user says in the place of what the photo said.
void setCredits(Exiv2::ExifData &exif, Exiv2::XmpData &xmp, Exiv2::IptcData &iptc,
                const Metadata::WriteOptions &options)
{
    if (!options.copyright.empty()) {
        exif["Exif.Image.Copyright"] = options.copyright;
        xmp["Xmp.dc.rights"] = "lang=x-default " + options.copyright;
        iptc["Iptc.Application2.Copyright"] = options.copyright;
    }
    if (!options.description.empty()) {
        exif["Exif.Image.ImageDescription"] = options.description;
        xmp["Xmp.dc.description"] = "lang=x-default " + options.description;
        iptc["Iptc.Application2.Caption"] = options.description;
    }
}

Exiv2::ExifData carriedExif(const Exiv2::ExifData &from, const Metadata::WriteOptions &options)
{
    Exiv2::ExifData exif(from);
    Exiv2::ExifThumb(exif).erase();
    eraseWhere(exif, isAboutStorage);
    keepCarried(exif, options.carried);
    if (options.stripLocation)
        eraseWhere(exif, [](const Exiv2::Exifdatum &d) {
            return d.groupName() == "GPSInfo" || d.key() == "Exif.Image.GPSTag";
        });
    if (exif.empty() && options.thumbnailJpeg.empty())
        return exif;
    exif["Exif.Image.Orientation"] = uint16_t(1);
    exif["Exif.Photo.PixelXDimension"] = uint32_t(options.width);
    exif["Exif.Photo.PixelYDimension"] = uint32_t(options.height);
    if (!options.thumbnailJpeg.empty())
        Exiv2::ExifThumb(exif).setJpegThumbnail(options.thumbnailJpeg.data(),
                                                long(options.thumbnailJpeg.size()));
    return exif;
}

} // namespace

Metadata::Metadata() : m_data(std::make_shared<Data>()) {}

Metadata Metadata::fromBytes(const std::vector<uint8_t> &bytes)
{
    auto data = std::make_shared<Data>();
    readInto([&] { return Exiv2::ImageFactory::open(bytes.data(), long(bytes.size())); }, *data);
    Metadata out;
    out.m_data = std::move(data);
    return out;
}

Metadata Metadata::fromFile(const std::string &path)
{
    auto data = std::make_shared<Data>();
    readInto([&] { return Exiv2::ImageFactory::open(path); }, *data);
    Metadata out;
    out.m_data = std::move(data);
    return out;
}

bool Metadata::isEmpty() const
{
    return m_data->exif.empty() && m_data->xmp.empty() && m_data->iptc.empty();
}

bool Metadata::hasLocation() const
{
    return std::any_of(m_data->exif.begin(), m_data->exif.end(),
                       [](const auto &d) { return d.groupName() == "GPSInfo"; }) ||
           std::any_of(m_data->xmp.begin(), m_data->xmp.end(),
                       [](const auto &d) { return isLocation(d.key()); }) ||
           std::any_of(m_data->iptc.begin(), m_data->iptc.end(),
                       [](const auto &d) { return isLocation(d); });
}

int Metadata::orientation() const
{
    const auto it = m_data->exif.findKey(Exiv2::ExifKey("Exif.Image.Orientation"));
    const long value = it == m_data->exif.end() || it->count() == 0 ? 1 : it->toLong();
    return value >= 1 && value <= 8 ? int(value) : 1;
}

double Metadata::dpi() const
{
    const auto number = [&](const char *key) {
        const auto it = m_data->exif.findKey(Exiv2::ExifKey(key));
        return it == m_data->exif.end() || it->count() == 0 ? 0.0 : double(it->toFloat());
    };
    constexpr int kCentimetres = 3;
    const double perUnit = number("Exif.Image.XResolution");
    const bool isMetric = int(number("Exif.Image.ResolutionUnit")) == kCentimetres;
    const double dpi = isMetric ? perUnit * 2.54 : perUnit;
    return dpi >= 1 && dpi <= 65535 ? dpi : 0;
}

const std::vector<uint8_t> &Metadata::icc() const
{
    return m_data->icc;
}

TakenWith Metadata::takenWith() const
{
    const Exiv2::ExifData &exif = m_data->exif;
    const auto word = [&](Exiv2::ExifData::const_iterator it) {
        const std::string text = it == exif.end() ? "" : it->print(&exif);
        const size_t from = text.find_first_not_of(" \t");
        const size_t to = text.find_last_not_of(" \t");
        return from == std::string::npos ? "" : text.substr(from, to - from + 1);
    };
    const auto find = [&](const char *key) { return exif.findKey(Exiv2::ExifKey(key)); };
    const auto number = [&](const char *key) {
        const auto it = find(key);
        const double value = it == exif.end() || it->count() == 0 ? 0 : double(it->toFloat());
        return std::isfinite(value) && value > 0 ? value : 0;
    };
    TakenWith out{word(find("Exif.Image.Make")), word(find("Exif.Image.Model")),
                  word(find("Exif.Photo.LensModel")), number("Exif.Photo.FocalLength"),
                  number("Exif.Photo.FNumber")};
    if (out.lens.empty())
        out.lens = word(Exiv2::lensName(exif)); // makers' own tags
    return out;
}

std::vector<std::pair<std::string, std::string>> Metadata::summary() const
{
    constexpr std::pair<const char *, const char *> kKeys[] = {
        {"make", "Exif.Image.Make"},
        {"model", "Exif.Image.Model"},
        {"lens", "Exif.Photo.LensModel"},
        {"taken", "Exif.Photo.DateTimeOriginal"},
        {"exposure", "Exif.Photo.ExposureTime"},
        {"aperture", "Exif.Photo.FNumber"},
        {"iso", "Exif.Photo.ISOSpeedRatings"},
        {"focalLength", "Exif.Photo.FocalLength"},
        {"author", "Exif.Image.Artist"},
        {"copyright", "Exif.Image.Copyright"},
    };
    std::vector<std::pair<std::string, std::string>> out;
    for (const auto &[name, key] : kKeys) {
        const auto it = m_data->exif.findKey(Exiv2::ExifKey(key));
        if (it == m_data->exif.end())
            continue;
        std::string text = it->print(&m_data->exif);
        if (!text.empty())
            out.emplace_back(name, std::move(text));
    }
    return out;
}

bool Metadata::hasToWrite(const WriteOptions &options) const
{
    return !options.copyright.empty() || !options.description.empty() ||
           (!isEmpty() && options.carried != Carried::Nothing);
}

namespace
{

/// A file's bytes, mapped: they cost no memory beside the system's own copy. Exiv2 changes a TIFF
/// where it lies: what it changes is this process's own.
class Mapped
{
public:
    explicit Mapped(const std::string &path)
    {
        const int fd = ::open(path.c_str(), O_RDONLY | O_CLOEXEC);
        struct stat info {
        };
        if (fd >= 0 && ::fstat(fd, &info) == 0 && info.st_size > 0) {
            m_size = size_t(info.st_size);
            m_data = ::mmap(nullptr, m_size, PROT_READ | PROT_WRITE, MAP_PRIVATE, fd, 0);
        }
        if (fd >= 0)
            ::close(fd);
    }
    ~Mapped()
    {
        if (isThere())
            ::munmap(m_data, m_size);
    }
    Mapped(const Mapped &) = delete;
    Mapped &operator=(const Mapped &) = delete;
    bool isThere() const { return m_data != MAP_FAILED; }
    const Exiv2::byte *data() const { return static_cast<const Exiv2::byte *>(m_data); }
    size_t size() const { return m_size; }

private:
    void *m_data = MAP_FAILED;
    size_t m_size = 0;
};

/// Writes a picture that the library has changed in memory. Let to write to the file itself it
/// says nothing of a disk that is full.
Result<void> writeChanged(Exiv2::Image &image, const std::string &path)
{
    Exiv2::BasicIo &io = image.io();
    if (io.open() != 0)
        return Error{ErrorKind::Io, path, "its metadata cannot be written"};
    const size_t size = size_t(io.size());
    const Exiv2::byte *bytes = io.mmap();
    // Not emptied first: the bytes may lie in the mapped file itself.
    const int fd = ::open(path.c_str(), O_WRONLY | O_CLOEXEC);
    if (fd < 0)
        return systemError(path);
    auto written = writeAll(fd, bytes, size, path);
    if (written && ::ftruncate(fd, off_t(size)) != 0)
        written = systemError(path);
    if (::close(fd) != 0 && written)
        written = systemError(path);
    return written;
}

} // namespace

Result<void> Metadata::writeTo(const std::string &path, const WriteOptions &options) const
{
    if (!hasToWrite(options))
        return {};
    setUpLibrary();
    const Mapped file(path);
    if (!file.isThere())
        return systemError(path);
    try {
        const auto image = Exiv2::ImageFactory::open(file.data(), long(file.size()));
        image->readMetadata();
        WriteOptions carried = options;
        if (image->imageType() == Exiv2::ImageType::tiff)
            carried.thumbnailJpeg.clear();   // there it would be a second page, and a broken one
        if (options.carried != Carried::All) // it is the photo's look as well
            carried.thumbnailJpeg.clear();
        Exiv2::ExifData merged = carriedExif(m_data->exif, carried);
        for (const auto &own : image->exifData()) // the new file's storage tags (TIFF) stay
            if (isAboutStorage(own))
                merged.add(own);
        Exiv2::XmpData xmp(m_data->xmp);
        eraseWhere(xmp, [&](const Exiv2::Xmpdatum &d) {
            return (options.stripLocation && isLocation(d.key())) ||
                   d.key() == "Xmp.tiff.Orientation" || d.groupName() == "xmpMM";
        });
        Exiv2::IptcData iptc(m_data->iptc);
        if (options.stripLocation)
            eraseWhere(iptc, [](const Exiv2::Iptcdatum &d) { return isLocation(d); });
        keepCarried(xmp, options.carried);
        keepCarried(iptc, options.carried);
        setCredits(merged, xmp, iptc, options);
        image->setExifData(merged);
        image->setXmpData(xmp);
        image->setIptcData(iptc);
        image->writeMetadata();
        return writeChanged(*image, path);
    } catch (const Exiv2::AnyError &problem) {
        return Error{ErrorKind::Io, path, problem.what()};
    }
}

} // namespace buttonhole
