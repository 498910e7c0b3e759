#include "export/open_raster.h"

#include "document/zip.h"
#include "export/signed_mount.h"
#include "export/small_picture.h"
#include "export/strips.h"
#include "io/file.h"
#include "io/png.h"
#include "render/light_chain.h"
#include "render/render.h"

#include <algorithm>
#include <cmath>
#include <sstream>
#include <tuple>

#include <fcntl.h>

namespace buttonhole
{

namespace
{

/// A file without a name beside another, gone with its last user.
class Unnamed
{
public:
    static Result<Unnamed> beside(const std::string &file)
    {
        std::string name = file + "-XXXXXX";
        const int fd = ::mkostemp(name.data(), O_CLOEXEC);
        if (fd < 0)
            return systemError(file);
        ::unlink(name.c_str());
        return Unnamed(fd);
    }
    int fd() const { return m_file->fd; }
    std::string path() const { return "/proc/self/fd/" + std::to_string(fd()); }

private:
    explicit Unnamed(int fd) : m_file(std::make_shared<const OpenFile>(fd)) {}
    std::shared_ptr<const OpenFile> m_file;
};

/// A layer on its way into a file of its own.
struct LayerFile {
    Unnamed file;
    std::unique_ptr<PictureWriter> writer;

    static Result<std::vector<LayerFile>> of(const std::vector<PictureSpec> &specs,
                                             const PictureOrder &order, const std::string &beside)
    {
        std::vector<LayerFile> out;
        for (const PictureSpec &spec : specs) {
            auto file = Unnamed::beside(beside);
            if (!file)
                return file.error();
            auto writer = makePngWriter(file->fd(), spec, order.subject);
            if (!writer)
                return writer.error();
            out.push_back({std::move(*file), std::move(*writer)});
        }
        return out;
    }
};

/// What a layer over `under` must hold for both to come to `whole`, by straight alpha: the mask,
/// but more where no colour would reach that far.
template <class T>
void liftRow(const T *whole, const T *under, const T *mask, int n, T *rgba)
{
    constexpr float kMost = sizeof(T) == 1 ? 255 : 65535;
    for (int i = 0; i < n; ++i, whole += 3, under += 3, rgba += 4) {
        float needed = 0;
        for (int c = 0; c < 3; ++c) {
            const float way = float(whole[c]) - float(under[c]);
            const float room = way > 0 ? kMost - float(under[c]) : float(under[c]);
            needed = way == 0 ? needed : std::max(needed, std::abs(way) / room);
        }
        const T share = mask[3 * i];
        rgba[3] = share == 0 ? T(0) : std::max(share, T(std::ceil(needed * kMost)));
        const float alpha = float(rgba[3]) / kMost;
        for (int c = 0; c < 3; ++c) {
            const float lifted =
                share == 0 ? 0.0F : (float(whole[c]) - (1 - alpha) * float(under[c])) / alpha;
            rgba[c] = T(std::lround(std::clamp(lifted, 0.0F, kMost)));
        }
    }
}

/// The picture before local tones and the finish, in layers; and as a whole, row by row, for what
/// comes over it.
struct Base {
    Take whole;
    Take grey;
    bool hasColour = false;

    explicit Base(const Take &take) : whole(take)
    {
        whole.tones.clear();
        whole.finish.clear();
        for (Keep &keep : whole.keeps) {
            keep.glow = {};
            hasColour = hasColour || (keep.on && take.greyOn);
        }
        grey = whole;
        for (Keep &keep : grey.keeps)
            keep.on = keep.on && !take.greyOn;
    }
};

template <class T>
class LayerPainter
{
public:
    LayerPainter(const PictureOrder &order, const Base &base)
        : m_order(order), m_base(base), m_width(order.picture.width()),
          m_cache(kStageBytes, StageCache::Use::OnePass), m_options(order.renderOptions(&m_cache))
    {
    }

    /// @param colour null where there is none. @param rows takes the whole's rows
    Result<void> paint(PictureWriter &grey, PictureWriter *colour, int rowsFile)
    {
        const PictureRect &picture = m_order.picture;
        const size_t perRow = size_t(m_width) * 3;
        std::vector<T> strips[3];
        std::vector<T> lifted(size_t(m_width) * 4);
        for (auto &strip : strips)
            strip.resize(perRow * kStripRows);
        for (int y = picture.y0; y < picture.y1; y = stripEnd(y, picture)) {
            const int rows = stripEnd(y, picture) - y;
            const PictureRect part{picture.x0, y, picture.x1, y + rows};
            if (auto done = render(m_base.grey, View::Result, part, strips[0]); !done)
                return done;
            if (auto done = grey.writeRows(strips[0].data(), rows); !done)
                return done;
            const std::vector<T> &whole = colour ? strips[1] : strips[0];
            if (colour) {
                if (auto done = render(m_base.whole, View::Result, part, strips[1]); !done)
                    return done;
                if (auto done = render(m_base.whole, View::Mask, part, strips[2]); !done)
                    return done;
                for (int i = 0; i < rows; ++i) {
                    const size_t at = size_t(i) * perRow;
                    liftRow(strips[1].data() + at, strips[0].data() + at, strips[2].data() + at,
                            m_width, lifted.data());
                    if (auto done = colour->writeRows(lifted.data(), 1); !done)
                        return done;
                }
            }
            if (auto done = writeAll(rowsFile, whole.data(), perRow * size_t(rows) * sizeof(T),
                                     m_order.subject);
                !done)
                return done;
            m_order.run.report(0.5F * float(y - picture.y0) / float(picture.height()));
        }
        if (auto done = colour ? colour->finish() : Result<void>{}; !done)
            return done;
        return grey.finish();
    }

private:
    Result<void> render(const Take &take, View view, const PictureRect &part, std::vector<T> &to)
    {
        const RenderTarget target{sizeof(T) == 1 ? RenderTarget::Layout::Rgb8
                                                 : RenderTarget::Layout::Rgb16,
                                  to.data(), size_t(m_width) * 3 * sizeof(T)};
        const auto done =
            renderPicture(m_order.levels, take, view, 0, part, m_order.output, target, m_options);
        return done ? done : Error{done.error().kind, m_order.subject, done.error().detail};
    }

    const PictureOrder &m_order;
    const Base &m_base;
    int m_width;
    StageCache m_cache;
    RenderOptions m_options;
};

/// Takes the rows of all that leaves: writes them as they are, and what of them is not in the
/// layers below as one more.
template <class T>
class OverWriter final : public PictureWriter
{
public:
    /// @param below rows of the picture, px inside of what leaves by the mount
    OverWriter(PictureWriter &whole, PictureWriter &over, const Unnamed &below, const Mount &mount,
               int channels, const std::string &subject)
        : m_whole(whole), m_over(over), m_below(below), m_mount(mount), m_channels(channels),
          m_subject(subject), m_width(mount.width() - mount.left() - mount.right()),
          m_row(size_t(m_width) * 3), m_rgba(size_t(mount.width()) * 4)
    {
    }
    Result<void> writeRows(const void *rows, int count) override
    {
        const auto *at = static_cast<const T *>(rows);
        for (int i = 0; i < count; ++i, at += ptrdiff_t(m_mount.width()) * m_channels)
            if (auto done = writeRow(at); !done)
                return done;
        return m_whole.writeRows(rows, count);
    }
    Result<void> finish() override
    {
        if (auto done = m_over.finish(); !done)
            return done;
        return m_whole.finish();
    }

private:
    Result<void> writeRow(const T *row)
    {
        const int y = m_y++ - m_mount.top();
        const int height = m_mount.height() - m_mount.top() - m_mount.bottom();
        const bool isInside = y >= 0 && y < height;
        const size_t bytes = m_row.size() * sizeof(T);
        if (isInside &&
            ::pread(m_below.fd(), m_row.data(), bytes, off_t(bytes) * y) != ssize_t(bytes))
            return systemError(m_subject);
        for (int x = 0; x < m_mount.width(); ++x) {
            const T *from = row + ptrdiff_t(x) * m_channels;
            T *to = m_rgba.data() + size_t(x) * 4;
            std::copy_n(from, 3, to);
            to[3] = m_channels == 4 ? from[3] : T(-1);
            const int inside = x - m_mount.left();
            if (isInside && inside >= 0 && inside < m_width && to[3] == T(-1) &&
                std::equal(from, from + 3, m_row.data() + size_t(inside) * 3))
                std::fill_n(to, 4, T(0));
        }
        return m_over.writeRows(m_rgba.data(), 1);
    }

    PictureWriter &m_whole;
    PictureWriter &m_over;
    const Unnamed &m_below;
    const Mount &m_mount;
    int m_channels;
    const std::string &m_subject;
    int m_width;
    int m_y = 0;
    std::vector<T> m_row;
    std::vector<T> m_rgba;
};

struct Layer {
    const char *name;
    const char *entry;
    const LayerFile *file;
    int x = 0;
    int y = 0;
};

std::string stackOf(const std::vector<Layer> &layers, const Mount &mount, double dpi)
{
    std::ostringstream out;
    out.imbue(std::locale::classic());
    out << "<?xml version='1.0' encoding='UTF-8'?>\n<image version=\"0.0.5\" w=\"" << mount.width()
        << "\" h=\"" << mount.height() << '"';
    if (dpi > 0)
        out << " xres=\"" << std::lround(dpi) << "\" yres=\"" << std::lround(dpi) << '"';
    out << ">\n <stack>\n";
    for (const Layer &layer : layers)
        out << "  <layer name=\"" << layer.name << "\" src=\"" << layer.entry << "\" x=\""
            << layer.x << "\" y=\"" << layer.y
            << "\" opacity=\"1.0\" visibility=\"visible\" composite-op=\"svg:src-over\"/>\n";
    out << " </stack>\n</image>\n";
    return out.str();
}

Result<std::vector<uint8_t>> smallPng(const PictureOrder &order, const std::string &beside)
{
    constexpr int kSmallPx = 256;
    const auto picture = renderSmall(order.levels, order.take, kSmallPx);
    if (!picture)
        return picture.error();
    PictureSpec spec;
    spec.width = picture->width();
    spec.height = picture->height();
    const auto layers = LayerFile::of({spec}, order, beside);
    if (!layers)
        return layers.error();
    const auto &[file, writer] = layers->front();
    if (auto done = writer->writeRows(picture->row(0), picture->height()); !done)
        return done.error();
    if (auto done = writer->finish(); !done)
        return done.error();
    return readFile(file.path());
}

/// Of grey, colour, what is over them, and the whole.
std::vector<PictureSpec> layerSpecs(const PictureSpec &whole, const PictureRect &picture)
{
    PictureSpec over = whole;
    over.channels = 4;
    PictureSpec colour = over;
    colour.width = picture.width();
    colour.height = picture.height();
    PictureSpec grey = colour;
    grey.channels = 3;
    return {grey, colour, over, whole};
}

template <class T>
Result<void> writeLayers(const PictureOrder &order, const std::string &file)
{
    const Base base(order.take);
    const auto mount = signedMount(order.levels, order.take, order.picture.width(),
                                   order.picture.height(), order.output, order.run);
    if (!mount)
        return mount.error();
    const bool hasOver = isFinished(order.take) || !mount->isPlain();
    const PictureSpec spec = specOf(order, *mount);
    const auto files = LayerFile::of(layerSpecs(spec, order.picture), order, file);
    if (!files)
        return files.error();
    const auto &[grey, colour, over, whole] =
        std::tie((*files)[0], (*files)[1], (*files)[2], (*files)[3]);
    const auto below = Unnamed::beside(file);
    if (!below)
        return below.error();
    LayerPainter<T> painter(order, base);
    if (auto done = painter.paint(*grey.writer, base.hasColour ? colour.writer.get() : nullptr,
                                  below->fd());
        !done)
        return done;
    PictureOrder second = order;
    second.run.progress = [&order](float part) { order.run.report(0.5F + 0.5F * part); };
    OverWriter<T> writer(*whole.writer, *over.writer, *below, *mount, spec.channels, order.subject);
    if (auto done = renderThrough(writer, spec, *mount, second); !done)
        return done;
    const auto small = smallPng(order, file);
    if (!small)
        return small.error();

    std::vector<Layer> layers;
    if (hasOver)
        layers.push_back({"Finish", "data/finish.png", &over});
    if (base.hasColour)
        layers.push_back({"Colour", "data/colour.png", &colour, mount->left(), mount->top()});
    layers.push_back({order.take.greyOn ? "Grey" : "Photo", "data/grey.png", &grey, mount->left(),
                      mount->top()});
    ZipWriter zip;
    const std::string kind = "image/openraster";
    zip.add("mimetype", {kind.begin(), kind.end()}, ZipWriter::Compression::Store);
    zip.add("stack.xml", stackOf(layers, *mount, order.levels.photo().dpi));
    for (const Layer &layer : layers)
        zip.addFile(layer.entry, layer.file->file.path());
    zip.addFile("mergedimage.png", whole.file.path());
    zip.add("Thumbnails/thumbnail.png", *small, ZipWriter::Compression::Store);
    return zip.writeTo(file);
}

} // namespace

Result<void> writeOpenRaster(const PictureOrder &order, const std::string &file)
{
    return order.settings.bits == 16 ? writeLayers<uint16_t>(order, file)
                                     : writeLayers<uint8_t>(order, file);
}

} // namespace buttonhole
