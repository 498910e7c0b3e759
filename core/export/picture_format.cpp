#include "export/picture_format.h"

#include "io/file.h"

#include <iterator>

namespace buttonhole
{

const FormatFacts &factsOf(PictureFormat format)
{
    static constexpr FormatFacts kFacts[] = {
        {"JPEG", ".jpg", true, 8, false, false, true, false},
        {"PNG", ".png", false, 16, true, false, true, false},
        {"TIFF", ".tif", false, 16, true, false, true, false},
        {"WebP", ".webp", true, 8, true, true, true, false},
        {"AVIF", ".avif", true, 8, true, true, false, false},
        {"OpenRaster", ".ora", false, 16, true, true, false, true}};
    static_assert(std::size(kFacts) == kPictureFormats);
    return kFacts[size_t(format)];
}

std::string endingFor(PictureFormat format)
{
    return factsOf(format).ending;
}

std::string withEnding(const std::string &path, PictureFormat format)
{
    const auto now = formatFromPath(path);
    if (now && *now == format)
        return path;
    const size_t end = now ? path.size() - endingOf(path).size() : path.size();
    return path.substr(0, end) + endingFor(format);
}

Result<PictureFormat> formatFromPath(const std::string &path)
{
    const std::string extension = endingOf(path);
    if (extension == ".jpg" || extension == ".jpeg")
        return PictureFormat::Jpeg;
    if (extension == ".png")
        return PictureFormat::Png;
    if (extension == ".tif" || extension == ".tiff")
        return PictureFormat::Tiff;
    if (extension == ".webp")
        return PictureFormat::WebP;
    if (extension == ".avif")
        return PictureFormat::Avif;
    if (extension == ".ora")
        return PictureFormat::OpenRaster;
    return Error{ErrorKind::InvalidArgument, path,
                 "its name must end in .jpg, .png, .tif, .webp, .avif or .ora"};
}

} // namespace buttonhole
