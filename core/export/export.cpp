#include "export/export.h"

#include "export/open_raster.h"
#include "export/picture_order.h"
#include "export/signed_mount.h"
#include "export/strips.h"
#include "export/thumbnail.h"
#include "io/file.h"
#include "io/formats/formats.h"
#include "io/jpeg.h"
#include "io/picture_end.h"
#include "io/png.h"

#include <fcntl.h>
#include <sys/mman.h>
#include <sys/stat.h>
#include <unistd.h>

namespace buttonhole
{

namespace
{

constexpr int kThumbnailPx = 256;

Result<std::unique_ptr<PictureWriter>> makeWriter(const ExportSettings &settings,
                                                  const PictureSpec &spec, int descriptor,
                                                  const std::string &file,
                                                  const std::string &subject)
{
    switch (settings.format) {
    case ExportSettings::Format::Jpeg:
        return makeJpegWriter(descriptor, spec, subject);
    case ExportSettings::Format::Png:
        return makePngWriter(descriptor, spec, subject);
    case ExportSettings::Format::Tiff:
    case ExportSettings::Format::WebP:
    case ExportSettings::Format::Avif:
    case ExportSettings::Format::OpenRaster:
        break;
    }
    const auto formats = loadFormats();
    if (!formats)
        return formats.error();
    if (settings.format == ExportSettings::Format::Tiff)
        return (*formats)->makeTiffWriter(file, spec);
    const bool isWebP = settings.format == ExportSettings::Format::WebP;
    return (*formats)->makeLossyWriter(file, spec, isWebP ? "webp" : "avif");
}

Take unsignedTake(Take take)
{
    std::erase_if(take.finish, [](const AdjustmentLine &line) {
        return line.adjustment->kind() == Signature::kKind;
    });
    return take;
}

Result<void> encodeTo(int descriptor, const std::string &file, const PictureOrder &order)
{
    if (order.settings.format == PictureFormat::OpenRaster)
        return writeOpenRaster(order, file);
    const auto [width, height] = order.size();
    const auto mount =
        signedMount(order.levels, order.take, width, height, order.output, order.run);
    if (!mount)
        return mount.error();
    const PictureSpec spec = specOf(order, *mount);
    auto writer = makeWriter(order.settings, spec, descriptor, file, order.subject);
    if (!writer)
        return writer.error();
    return renderThrough(**writer, spec, *mount, order);
}

Take takeThatLeaves(const Take &take, const ExportSettings &settings)
{
    Take out = settings.signs ? take : unsignedTake(take);
    if (settings.format == PictureFormat::OpenRaster) // layers are for working on
        out.geometry.deliverWidth = out.geometry.deliverHeight = 0;
    return out;
}

Result<ExportedPicture> measureOnDisk(const PhotoLevels &levels, const Take &take,
                                      const ExportSettings &settings, const Run &run)
{
    const TemporaryFolder folder;
    if (folder.path().empty())
        return systemError("export");
    return exportPicture(levels, take, settings,
                         folder.path() + "/all" + endingFor(settings.format), run);
}

} // namespace

Result<ExportedPicture> exportPicture(const PhotoLevels &levels, const Take &take,
                                      const ExportSettings &settings, const OutputPath &output,
                                      const Run &run)
{
    const std::string &path = output.path;
    if (const auto fine = checkSettings(settings, path); !fine)
        return fine.error();
    const auto format = formatFromPath(path);
    if (!format || *format != settings.format)
        return Error{ErrorKind::InvalidArgument, path,
                     "its name must end as its format asks for: " + endingFor(settings.format)};
    if (const auto fine = checkIsNotPhoto(path, levels.photo().path); !fine)
        return fine.error();
    if (const auto fine = checkEdges(hasSoftEdges(take)); !fine)
        return fine.error();

    const Take leaving = takeThatLeaves(take, settings);
    PictureOrder order = orderOf(levels, leaving, settings, path, run);
    const Mount mount = order.mount();
    const int width = mount.width();
    const int height = mount.height();
    Metadata::WriteOptions carried{settings.stripLocation, settings.carried, settings.copyright,
                                   settings.description};
    carried.width = width;
    carried.height = height;
    const auto written = writeAtomically(output, [&](const std::string &temporary) -> Result<void> {
        Thumbnail thumbnail(order.picture.width(), order.picture.height(), kThumbnailPx,
                            order.output.profile);
        const bool hasMetadata =
            factsOf(settings.format).holdsMetadata && levels.photo().metadata.hasToWrite(carried);
        order.thumbnail = hasMetadata ? &thumbnail : nullptr;
        {
            const OpenFile file(::open(temporary.c_str(), O_WRONLY | O_CLOEXEC));
            if (file.fd < 0)
                return systemError(path);
            if (auto encoded = encodeTo(file.fd, temporary, order); !encoded)
                return encoded;
        }
        if (hasMetadata) {
            carried.thumbnailJpeg = thumbnail.jpeg();
            if (auto added = levels.photo().metadata.writeTo(temporary, carried); !added)
                return added;
        }
        return checkPictureEnd(temporary);
    });
    if (!written)
        return written.error();
    const auto bytes = fileSize(path);
    return ExportedPicture{width, height, bytes ? *bytes : 0};
}

Result<ExportedPicture> measureExport(const PhotoLevels &levels, const Take &take,
                                      const ExportSettings &settings, const Run &run)
{
    if (const auto fine = checkSettings(settings, "export"); !fine)
        return fine.error();
    if (const auto fine = checkEdges(hasSoftEdges(take)); !fine)
        return fine.error();
    if (factsOf(settings.format).hasLayers) // is gathered from files on a disk
        return measureOnDisk(levels, take, settings, run);
    const OpenFile file(::memfd_create("buttonhole-export", MFD_CLOEXEC));
    if (file.fd < 0)
        return systemError("export");
    const std::string place = "/proc/self/fd/" + std::to_string(file.fd);
    const Take leaving = takeThatLeaves(take, settings);
    const PictureOrder order = orderOf(levels, leaving, settings, "export", run);
    if (const auto encoded = encodeTo(file.fd, place, order); !encoded)
        return encoded.error();
    struct stat info {
    };
    ::fstat(file.fd, &info);
    const Mount mount = order.mount();
    return ExportedPicture{mount.width(), mount.height(), uint64_t(info.st_size)};
}

} // namespace buttonhole
